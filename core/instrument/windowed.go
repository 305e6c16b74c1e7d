package instrument

import (
	"fmt"

	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// gauges are the usual gauge for each dimension with its standard uncertainty (SI), from its
// resolution as a rectangular distribution (JCGM 100, 4.3.7) and its maker's tolerance;
// common practice, no source.
var gauges = map[quantity.Dimension]struct {
	words string
	u     float64
}{
	quantity.Length:   {"feeler or dial gauge, 0.01 mm", measure.Standard(0.01e-3, 0.015e-3)},
	quantity.Pressure: {"pressure gauge, 1 psi", measure.Standard(6894.76, 6894.76)},
	quantity.Torque:   {"torque wrench, 2 %", 0.5},
}

// window holds one measured value against a limit of the sheet.
func window(limit string, u *unitsheet.Unit) (Definition, error) {
	w, ok := u.Limits[limit]
	if !ok {
		return Definition{}, fmt.Errorf("instrument: unit %s has no limit %q", u.Sheet.ID, limit)
	}
	name, unit := limit, quantity.UnitsOf(w.Low.Dimension)[0].Symbol
	for _, l := range u.Sheet.Limits {
		if l.ID == limit {
			name = l.Name
		}
	}
	g := gauges[w.Low.Dimension]
	d := Definition{
		ID: "window:" + limit, Title: name, Answers: "Is it inside its window, and can this gauge tell?",
		Source: "ISO 14253-1 guard bands; JCGM 100 for the gauge", Limits: "one value; repeat it when it lies near a limit",
		Gauge: g.words, GaugeU: g.u,
		Inputs: []Input{{ID: "value", Label: name, Dimension: w.Low.Dimension, Unit: unit, Window: &w}},
	}
	d.compute = func(v map[string]quantity.Quantity) (Result, error) {
		c, err := measure.Compare(v["value"].SI, g.u, w.Low.SI, w.High.SI)
		if err != nil {
			return Result{}, &InputError{"value", err.Error(), "a finite number"}
		}
		l := map[string]float64{"ok": c.Inside, "below": c.Below, "above": c.Above}
		return Result{
			Headline: verdictWords(name, c),
			Detail:   fmt.Sprintf("Window %s; %.0f %% of the way from its low end to its high end.", w.Format(unit), 100*c.Position),
			Points:   []Point{{"value", v["value"], string(c.Verdict)}},
			Stated: []Stated{{Finding: limit, Likelihood: soften(l), Value: v["value"].Format(unit),
				State: likeliest([]string{"ok", "below", "above"}, l)}},
		}, nil
	}
	return d, nil
}

func verdictWords(name string, c measure.Comparison) string {
	switch c.Verdict {
	case measure.Conforms:
		return name + " is inside its window."
	case measure.Below:
		return name + " is below its window."
	case measure.Above:
		return name + " is above its window."
	}
	return name + " is too near a limit for this gauge to tell."
}

// fluidLevel turns a stick reading into a quantity to add.
func fluidLevel(u *unitsheet.Unit) Definition {
	perMetre := u.BetweenMarks.SI / u.MarksApart.SI
	const reading = 1.5e-3 // standard uncertainty of a stick, m: it is wiped, dipped and read twice
	d := Definition{
		ID: "fluid-level", Title: "Fluid level on the stick", Answers: "How far off is it, and how much is to be added?",
		Source: "the unit's own level procedure", Limits: "fluid at its temperature, level ground, read twice",
		Gauge: "stick, read to 1 mm", GaugeU: reading,
		Inputs: []Input{{ID: "height", Label: "Height above the lower mark (below it: minus)", Dimension: quantity.Length, Unit: "mm",
			Window: &quantity.Window{Low: quantity.Quantity{Dimension: quantity.Length}, High: u.MarksApart}}},
	}
	d.compute = func(v map[string]quantity.Quantity) (Result, error) {
		h := v["height"].SI
		if h < -0.2 || h > 0.2 {
			return Result{}, &InputError{"height", v["height"].Format("mm") + " is off any stick", "−200 to 200 mm"}
		}
		c, err := measure.Compare(h, reading, 0, u.MarksApart.SI)
		if err != nil {
			return Result{}, &InputError{"height", err.Error(), "a finite number"}
		}
		missing := quantity.Quantity{SI: (u.MarksApart.SI - h) * perMetre, Dimension: quantity.Volume}
		l := map[string]float64{"ok": c.Inside, "low": c.Below, "over": c.Above}
		head := "The level is between the marks."
		switch {
		case c.Verdict == measure.Above:
			head = fmt.Sprintf("Overfilled by %s (%s).", neg(missing).Format("L"), neg(missing).Format("qt"))
		case c.Verdict == measure.Below:
			head = fmt.Sprintf("Low: add %s (%s, %s) for the upper mark.", missing.Format("L"), missing.Format("qt"), missing.Format("pt"))
		case c.Verdict == measure.CannotTell:
			head = "At a mark: read it again to be sure."
		}
		return Result{
			Headline: head,
			Detail:   fmt.Sprintf("The marks are %s apart and span %s (%s).", u.MarksApart.Format("mm"), u.BetweenMarks.Format("L"), u.BetweenMarks.Format("pt")),
			Outputs:  []Output{{"to the upper mark", missing, "L"}},
			Points:   []Point{{"height", v["height"], string(c.Verdict)}},
			Stated:   []Stated{{Finding: "fluid-level", Likelihood: soften(l), Value: v["height"].Format("mm"), State: likeliest([]string{"ok", "low", "over"}, l)}},
		}, nil
	}
	return d
}

func neg(q quantity.Quantity) quantity.Quantity {
	q.SI = -q.SI
	return q
}

// stallSpeed reads a stall test against the unit.
func stallSpeed(u *unitsheet.Unit) Definition {
	const uncertainty = 3.0 // rad/s, about 30 rpm: a needle that moves
	d := Definition{
		ID: "stall-speed", Title: "Stall speed", Answers: "Does the engine stall where converter and clutches should hold it?",
		Source: "common practice, no source: about a third low = stator freewheel; a little low = engine; high = an element slips",
		Limits: "warm engine in good tune, 5 s at most; altitude and heat lower it",
		Gauge:  "tachometer, 10 rpm", GaugeU: uncertainty,
		Inputs: []Input{{ID: "speed", Label: "Engine speed at stall", Dimension: quantity.RotationalSpeed, Unit: "rpm", Window: &u.Stall}},
	}
	mid := (u.Stall.Low.SI + u.Stall.High.SI) / 2
	d.compute = func(v map[string]quantity.Quantity) (Result, error) {
		n := v["speed"].SI
		if n < 0 || n > 1000 {
			return Result{}, &InputError{"speed", v["speed"].Format("rpm"), "0 to 9500 rpm"}
		}
		third, err := measure.Compare(n, uncertainty, 0.78*mid, u.Stall.High.SI)
		if err != nil {
			return Result{}, &InputError{"speed", err.Error(), "a finite number"}
		}
		c, err := measure.Compare(n, uncertainty, u.Stall.Low.SI, u.Stall.High.SI)
		if err != nil {
			return Result{}, &InputError{"speed", err.Error(), "a finite number"}
		}
		l := map[string]float64{"normal": c.Inside, "high": c.Above, "much-low": third.Below, "low": math0(c.Below - third.Below)}
		state := likeliest([]string{"normal", "high", "low", "much-low"}, l)
		words := map[string]string{
			"normal": "Stall speed is in its window: converter, engine and the elements of this range hold.", "high": "High: an element of this range slips.",
			"low": "A little low: look at the engine first.", "much-low": "About a third low: the stator freewheel slips.",
		}
		return Result{
			Headline: words[state],
			Detail:   fmt.Sprintf("Expected %s; read %.0f %% of the middle.", u.Stall.Format("rpm"), 100*n/mid),
			Points:   []Point{{"speed", v["speed"], string(c.Verdict)}},
			Stated:   []Stated{{Finding: "stall-speed", State: state, Likelihood: soften(l), Value: v["speed"].Format("rpm")}},
		}, nil
	}
	return d
}

func math0(v float64) float64 { return max(0, v) }
