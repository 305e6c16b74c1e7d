package instrument

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// linePressure holds the pressure of each range against its window and finds which circuit
// explains the pattern: the one that is fed in the low ranges and in no other.
func linePressure(u *unitsheet.Unit) Definition {
	g := gauges[quantity.Pressure]
	d := Definition{
		ID: "line-pressure", Title: "Line pressure by range, hot, at idle", Answers: "Is the pump weak, or does one circuit lose oil?",
		Source: "windows of the unit sheet; ISO 14253-1; circuits from the apply chart",
		Limits: "hot, at idle, gauge at the line tap; a leak smaller than the pump's reserve does not show",
		Gauge:  g.words, GaugeU: g.u,
	}
	for _, r := range u.Ranges {
		w := r.LineIdle
		d.Inputs = append(d.Inputs, Input{ID: r.ID, Label: r.ID, Dimension: quantity.Pressure, Unit: "psi", Optional: true, Window: &w, Feeds: r.Applied})
	}
	d.compute = func(v map[string]quantity.Quantity) (Result, error) {
		p := pattern{u: u, below: map[string]float64{}, above: map[string]float64{}}
		var out Result
		for _, r := range u.Ranges {
			q, ok := v[r.ID]
			if !ok {
				continue
			}
			c, err := measure.Compare(q.SI, g.u, r.LineIdle.Low.SI, r.LineIdle.High.SI)
			if err != nil || q.SI < 0 || q.SI > 1e7 {
				return Result{}, &InputError{r.ID, q.Format("psi"), "0 to 1450 psi"}
			}
			p.measured = append(p.measured, r)
			p.below[r.ID], p.above[r.ID] = c.Below, c.Above
			out.Points = append(out.Points, Point{r.ID, q, string(c.Verdict)})
		}
		if len(p.measured) < 3 {
			return Result{}, &InputError{d.Inputs[0].ID, fmt.Sprintf("%d ranges measured", len(p.measured)), "at least three ranges, so that circuits can be told apart"}
		}
		l := p.likelihoods()
		states := p.states()
		state := likeliest(states, l)
		out.Headline, out.Detail = p.words(state, l)
		out.Stated = []Stated{{Finding: "pressure-pattern", State: state, Likelihood: soften(l), Value: p.values(v)}}
		return out, nil
	}
	return d
}

type pattern struct {
	u            *unitsheet.Unit
	measured     []unitsheet.Range
	below, above map[string]float64
}

func (p pattern) states() []string {
	out := []string{"as-expected", "low-all", "high-all", "erratic"}
	for _, e := range p.u.Elements {
		if e.Kind != gearing.Freewheel {
			out = append(out, "low-"+e.ID)
		}
	}
	return out
}

// likelihoods is, for each state, the probability that exactly its ranges are low (or high). For a
// circuit, ranges that a strong pump may carry count half. Erratic stands in for every other
// pattern with one even share.
func (p pattern) likelihoods() map[string]float64 {
	fits := func(low func(unitsheet.Range) bool) float64 {
		l := 1.0
		for _, r := range p.measured {
			if low(r) {
				l *= p.below[r.ID]
			} else {
				l *= 1 - p.below[r.ID]
			}
		}
		return l
	}
	out := map[string]float64{
		"as-expected": fits(func(unitsheet.Range) bool { return false }) * p.noneHigh(),
		"low-all":     fits(func(unitsheet.Range) bool { return true }),
		"high-all":    1,
		"erratic":     math.Pow(0.5, float64(len(p.measured))),
	}
	for _, r := range p.measured {
		out["high-all"] *= p.above[r.ID]
	}
	for _, e := range p.u.Elements {
		if e.Kind == gearing.Freewheel {
			continue
		}
		fed := 0
		l := fits(func(r unitsheet.Range) bool {
			on := slices.Contains(r.Applied, e.ID)
			if on {
				fed++
			}
			return on
		})
		if fed == 0 || fed == len(p.measured) {
			l = 0 // never fed in what was measured, or not to be told from low everywhere
		}
		out["low-"+e.ID] = l
	}
	return out
}

func (p pattern) noneHigh() float64 {
	l := 1.0
	for _, r := range p.measured {
		l *= 1 - p.above[r.ID]
	}
	return l
}

func (p pattern) words(state string, l map[string]float64) (head, detail string) {
	var low []string
	for _, r := range p.measured {
		if p.below[r.ID] > 0.5 {
			low = append(low, r.ID)
		}
	}
	switch state {
	case "as-expected":
		return "As expected in every range measured.", "Pump, regulator and circuits hold at idle; a small leak may hide behind the pump's reserve."
	case "low-all":
		return "Low in every range.", "What all ranges share: level, filter, pump, regulator, throttle-valve adjustment."
	case "high-all":
		return "High in every range.", "Regulator or boost valve stuck, or throttle-valve cable too tight."
	case "erratic":
		return fmt.Sprintf("Low in %s: no single circuit explains it.", strings.Join(low, ", ")), "Repeat the ranges that disagree, hot, before building on it."
	}
	e, _ := p.u.Element(strings.TrimPrefix(state, "low-"))
	head = fmt.Sprintf("Low only where the %s is fed (%s).", e.Name, strings.Join(low, ", "))
	detail = "The pump and regulator hold everywhere else, so oil is lost in that circuit."
	for _, f := range p.u.Sheet.Feeds {
		if f.ID == e.Feed {
			detail += " It runs: " + route(f) + "."
		}
	}
	return head, detail
}

func (p pattern) values(v map[string]quantity.Quantity) string {
	var out []string
	for _, r := range p.measured {
		n, _ := v[r.ID].In("psi")
		out = append(out, fmt.Sprintf("%s %.0f", r.ID, n))
	}
	return strings.Join(out, " · ") + " psi"
}

// route is a feed's path in words, without taps and sensors.
func route(f unitsheet.FeedSheet) string {
	var names []string
	for _, s := range f.Path {
		if s.Kind != "tap" && s.Kind != "sensor" {
			names = append(names, s.Name)
		}
	}
	return strings.Join(names, " → ")
}
