package instrument

import (
	"fmt"
	"math"

	"innercompass/core/fluid"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// fluidLevel turns a stick reading into a quantity to add.
func fluidLevel() Definition {
	return Definition{
		ID: "fluid-level", Title: "Fluid level", Group: "fluid", Hand: []string{"dipstick"},
		Answers: "How far off is it, and how much is to be added?",
		Source:  "the unit's own level procedure; what is between the marks is in proportion; fluid grows by 0.077 % for each kelvin (recalled from memory)", Limits: "fluid at its temperature, level ground, read twice",
		Gauge: "stick, read to 1 mm", Cautions: []string{cautionRunning}, States: []string{"fluid-level"},
		Inputs: []Input{
			num("height", "Height above the lower mark (below it: minus)", quantity.Length, "mm", -200, 200).about(1.5).like("-6"),
			num("apart", "Marks apart", quantity.Length, "mm", 1, 200).preset("14 mm"),
			num("between", "Oil between the marks", quantity.Volume, "pt", 0.05, 20).preset("1 pt"),
			num("temperature", "Fluid temperature when read", quantity.Temperature, "°C", -40, 160).optional().about(3).help("Left out: read as the procedure wants it."),
			num("right", "The marks are for", quantity.Temperature, "°C", -40, 160).preset("80 °C"),
			num("whole", "Fluid in all", quantity.Volume, "L", 0.2, 60).preset("9 L"),
		},
		parts: func(u *unitsheet.Unit) []Option {
			if u != nil {
				return nil // its sheet says where
			}
			return []Option{{"stick", "on a stick"}, {atPlug, "at a plug"}}
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if d.Part == atPlug || u != nil && u.Sheet.Fluid.Level.At == atPlug {
				levelAtPlug(d)
			}
			if u == nil {
				return nil
			}
			level := u.Sheet.Fluid.Level
			d.Steps = level.Steps
			if level.Engine == "off" {
				d.Cautions = []string{cautionUnder}
			} else if level.At == atPlug {
				d.Cautions = []string{cautionRunning, cautionUnder}
			}
			if unitsheet.Known(u.MarksApart) && unitsheet.Known(u.BetweenMarks) {
				d.fix(map[string]float64{"apart": u.MarksApart.SI, "between": u.BetweenMarks.SI})
				if level.At != atPlug {
					d.input("height").Window = &quantity.Window{Low: quantity.Quantity{Dimension: quantity.Length}, High: u.MarksApart}
				}
			}
			if u.Sheet.Fluid.Capacity != "" {
				d.input("whole").Default = u.Sheet.Fluid.Capacity
				if w := u.FluidTemp; unitsheet.Known(w.Low) {
					d.input("right").putSI((w.Low.SI + w.High.SI) / 2)
				}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			apart, height := v.N("apart"), v.N("height")
			if v.Has("temperature") {
				// What the whole will have grown by when it is as warm as the marks want it rises on the stick.
				grown := fluid.VolumeAt(v.N("whole"), v.N("temperature"), v.N("right")) - v.N("whole")
				height += grown * apart / v.N("between")
			}
			return []Output{
				out("missing", "to the upper mark", (apart-height)*v.N("between")/apart, quantity.Volume, "L"),
				out("height", "height above the lower mark, warm", height, quantity.Length, "mm").within(0, apart),
			}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			missing := o[0].Value
			say := func(x float64) string {
				return v.Say(x, quantity.Volume, "L") + " (" + v.terms.Style.Format(quantity.Quantity{SI: x, Dimension: quantity.Volume}, "qt") + ", " + v.terms.Style.Format(quantity.Quantity{SI: x, Dimension: quantity.Volume}, "pt") + ")"
			}
			r.Headline = "The level is between the marks."
			switch o[1].Verdict {
			case measure.Above:
				r.Headline = "Overfilled by " + say(-missing) + "."
			case measure.Below:
				r.Headline = "Low: add " + say(missing) + " for the upper mark."
			case measure.CannotTell:
				r.Headline = "At a mark: read it again to be sure."
			}
			r.Detail = fmt.Sprintf("The marks are %s apart and span %s.", v.Say(v.N("apart"), quantity.Length, "mm"), say(v.N("between")))
			if v.Has("temperature") {
				r.Detail += fmt.Sprintf(" Read at %s, it stands at %s when warm.", v.Say(v.N("temperature"), quantity.Temperature, "°C"), v.SayOutput(o[1]))
			}
			r.Points = []Point{{"height", quantity.Quantity{SI: v.N("height"), Dimension: quantity.Length}, string(o[1].Verdict)}}
			l := o[1].likelihoods("ok", "low", "over")
			stick := Chart{Kind: "stick", Title: "The stick", Y: Axis{"height", quantity.Length, "mm"}, Words: "Lower and upper mark, and where the fluid stands.",
				Marks: []Mark{{0, 0, "lower mark"}, {0, v.N("apart"), "upper mark"}, {1, o[1].Value, "stands at " + v.SayOutput(o[1])}}}
			r.Figures = []Chart{stick}
			r.Stated = []DerivedReading{stated("fluid-level", []string{"ok", "low", "over"}, l, v.SayOutput(o[1]))}
		},
	}
}

// atPlug is how a sheet says that the level is read at a plug.
const atPlug = "plug"

// levelAtPlug turns the instrument into the one for a unit without a stick: what comes out of the plug says how far off it
// is, more or less, and what ran out or went in until it just runs says it exactly.
func levelAtPlug(d *Definition) {
	d.Title, d.Hand, d.Gauge = "Fluid level at the plug", []string{"measuring jug", "thermometer"}, "jug, 20 cc"
	d.Cautions = []string{cautionUnder}
	d.Source = "the unit's own level procedure: right when it just runs; fluid grows by 0.077 % for each kelvin (recalled from memory); right within a twentieth of the fluid (common practice, no source)"
	d.Limits = "level ground, the fluid near the temperature that the procedure wants"
	d.Inputs = []Input{
		choice("comes", "With the plug out", Option{"thread", "it just runs: a thread, or drop after drop"}, Option{"stream", "a stream"}, Option{"nothing", "nothing comes"}).preset("thread"),
		num("amount", "Ran out until it was a thread, or went in until it was one", quantity.Volume, "L", 0, 60).optional().about(0.02).help("Catch and measure it: it is the answer."),
		num("below", "Or how far under the edge, felt with a bent wire", quantity.Length, "mm", 0, 200).optional().about(1.5),
		num("apart", "Height that is known", quantity.Length, "mm", 1, 200).preset("10 mm").help("With the next: how much oil lies in a height near the edge."),
		num("between", "Oil in that height", quantity.Volume, "L", 0.05, 20).preset("0.5 L"),
		num("temperature", "Fluid temperature when read", quantity.Temperature, "°C", -40, 160).optional().about(3).help("Left out: read as the procedure wants it."),
		num("right", "The level is for", quantity.Temperature, "°C", -40, 160).preset("40 °C"),
		num("whole", "Fluid in all", quantity.Volume, "L", 0.2, 60).preset("6 L"),
	}
	d.check = func(v Values) error {
		switch {
		case v.Has("below") && v.Chosen("comes") != "nothing":
			return &InputError{"below", "oil comes, so it does not lie under the edge", "nothing, or that nothing comes"}
		case v.Has("below") && v.Has("amount"):
			return &InputError{"below", "the amount says it already", "one of the two"}
		case v.Has("amount") && v.N("amount") > 0 && v.Chosen("comes") == "thread":
			return &InputError{"amount", "a thread is the right level: nothing ran out and nothing went in", "nothing, or that a stream or nothing comes"}
		}
		return nil
	}
	d.compute = func(v Values) ([]Output, error) {
		over, known := atEdge(v)
		if !known {
			return nil, nil
		}
		if v.Has("temperature") {
			over += fluid.VolumeAt(v.N("whole"), v.N("temperature"), v.N("right")) - v.N("whole")
		}
		slack := v.N("whole") / 20
		return []Output{out("over", "over the edge (minus: under it), at its temperature", over, quantity.Volume, "L").within(-slack, slack)}, nil
	}
	d.interpret = func(v Values, o []Output, r *Result) {
		say := func(x float64) string {
			q := quantity.Quantity{SI: x, Dimension: quantity.Volume}
			return v.Say(x, quantity.Volume, "L") + " (" + v.terms.Style.Format(q, "qt") + ", " + v.terms.Style.Format(q, "pt") + ")"
		}
		if len(o) == 0 {
			r.Headline = "Low: fill until it just runs, and note how much went in."
			l := map[string]float64{"ok": 0.05, "low": 0.94, "over": 0.01}
			if v.Chosen("comes") == "stream" {
				r.Headline = "Over: let it run until it is a thread, and catch it."
				l = map[string]float64{"ok": 0.25, "low": 0.01, "over": 0.74} // a warm fluid runs too
			}
			r.Stated = []DerivedReading{stated("fluid-level", []string{"ok", "low", "over"}, l, "seen at the plug")}
			return
		}
		switch over := o[0]; over.Verdict {
		case measure.Above:
			r.Headline = "Overfilled by " + say(over.Value) + "."
		case measure.Below:
			r.Headline = "Low: add " + say(-over.Value) + "."
		case measure.CannotTell:
			r.Headline = "Near the limit of what is right: bring it to its temperature and read it again."
		default:
			r.Headline = "The level is right."
		}
		if v.Has("temperature") {
			grown := fluid.VolumeAt(v.N("whole"), v.N("temperature"), v.N("right")) - v.N("whole")
			word := "grow"
			if grown < 0 {
				word = "shrink"
			}
			r.Detail = fmt.Sprintf("Read at %s, it will %s by %s to %s.", v.Say(v.N("temperature"), quantity.Temperature, "°C"), word, v.Say(math.Abs(grown), quantity.Volume, "L"), v.Say(v.N("right"), quantity.Temperature, "°C"))
		}
		l := o[0].likelihoods("ok", "low", "over")
		r.Stated = []DerivedReading{stated("fluid-level", []string{"ok", "low", "over"}, l, v.SayOutput(o[0]))}
		height := o[0].Value * v.N("apart") / v.N("between")
		slack := o[0].Window.High.SI * v.N("apart") / v.N("between")
		r.Figures = []Chart{{Kind: "plug", Title: "At the plug", Y: Axis{"height", quantity.Length, "mm"}, Words: "Where the fluid stands beside the lower edge of the plug's hole, at its temperature.",
			Marks: []Mark{{0, 0, "edge of the plug"}, {0, slack, ""}, {1, height, "stands at " + v.Say(height, quantity.Length, "mm")}}}}
	}
}

// atEdge is the volume over the edge of the plug as it was read; known is false when only its direction is.
func atEdge(v Values) (over float64, known bool) {
	switch v.Chosen("comes") {
	case "stream":
		return v.N("amount"), v.Has("amount")
	case "nothing":
		if v.Has("below") {
			return -v.N("below") * v.N("between") / v.N("apart"), true
		}
		return -v.N("amount"), v.Has("amount")
	}
	return 0, true
}
