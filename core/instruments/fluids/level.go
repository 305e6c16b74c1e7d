package fluids

import (
	"fmt"
	"math"

	"innercompass/core/fluid"
	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Level turns a stick reading into a quantity to add.
func Level() instrument.Definition {
	return instrument.Definition{
		ID: "fluid-level", Title: "Fluid level", Group: "fluid", Hand: []string{"dipstick"},
		Answers: "How far off is it, and how much is to be added?",
		Source:  "the unit's own level procedure; what is between the marks is in proportion; fluid grows by 0.077 % for each kelvin (recalled from memory)", Limits: "fluid at its temperature, level ground, read twice",
		Gauge: "stick, read to 1 mm", Cautions: []string{instrument.CautionRunning}, States: []string{"fluid-level"},
		Inputs: []instrument.Input{
			instrument.NumberIn("height", "Height above the lower mark (below it: minus)", quantity.Length, "mm", -200, 200).About(1.5).Like("-6"),
			instrument.NumberIn("apart", "Marks apart", quantity.Length, "mm", 1, 200).Preset("14 mm"),
			instrument.NumberIn("between", "Oil between the marks", quantity.Volume, "pt", 0.05, 20).Preset("1 pt"),
			instrument.NumberIn("temperature", "Fluid temperature when read", quantity.Temperature, "°C", -40, 160).Maybe().About(3).Explained("Left out: read as the procedure wants it."),
			instrument.NumberIn("right", "The marks are for", quantity.Temperature, "°C", -40, 160).Preset("80 °C"),
			instrument.NumberIn("whole", "Fluid in all", quantity.Volume, "L", 0.2, 60).Preset("9 L"),
		},
		PartsOn: func(u *unitsheet.Unit) []instrument.Option {
			if u != nil {
				return nil // its sheet says where
			}
			return []instrument.Option{{ID: "stick", Title: "on a stick"}, {ID: atPlug, Title: "at a plug"}}
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if d.Part == atPlug || u != nil && u.Sheet.Fluid.Level.At == atPlug {
				levelAtPlug(d)
			}
			if u == nil {
				return nil
			}
			level := u.Sheet.Fluid.Level
			d.Steps = level.Steps
			if level.Engine == "off" {
				d.Cautions = []string{instrument.CautionUnder}
			} else if level.At == atPlug {
				d.Cautions = []string{instrument.CautionRunning, instrument.CautionUnder}
			}
			if unitsheet.Known(u.MarksApart) && unitsheet.Known(u.BetweenMarks) {
				d.Fix(map[string]float64{"apart": u.MarksApart.SI, "between": u.BetweenMarks.SI})
				if level.At != atPlug {
					d.In("height").Window = &quantity.Window{Low: quantity.Quantity{Dimension: quantity.Length}, High: u.MarksApart}
				}
			}
			if u.Sheet.Fluid.Capacity != "" {
				d.In("whole").Default = u.Sheet.Fluid.Capacity
				if w := u.FluidTemp; unitsheet.Known(w.Low) {
					d.In("right").PutSI((w.Low.SI + w.High.SI) / 2)
				}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			apart, height := v.N("apart"), v.N("height")
			if v.Has("temperature") {
				// What the whole will have grown by when it is as warm as the marks want it rises on the stick.
				grown := fluid.VolumeAt(v.N("whole"), v.N("temperature"), v.N("right")) - v.N("whole")
				height += grown * apart / v.N("between")
			}
			return []instrument.Output{
				instrument.Out("missing", "to the upper mark", (apart-height)*v.N("between")/apart, quantity.Volume, "L"),
				instrument.Out("height", "height above the lower mark, warm", height, quantity.Length, "mm").Within(0, apart),
			}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			missing := o[0].Value
			say := func(x float64) string {
				return v.Say(x, quantity.Volume, "L") + " (" + v.Terms.Style.Format(quantity.Quantity{SI: x, Dimension: quantity.Volume}, "qt") + ", " + v.Terms.Style.Format(quantity.Quantity{SI: x, Dimension: quantity.Volume}, "pt") + ")"
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
			r.Points = []instrument.Point{{Input: "height", Value: quantity.Quantity{SI: v.N("height"), Dimension: quantity.Length}, Verdict: string(o[1].Verdict)}}
			l := o[1].Likelihoods("ok", "low", "over")
			stick := instrument.Chart{Kind: "stick", Title: "The stick", Y: instrument.Axis{Label: "height", Dimension: quantity.Length, Unit: "mm"}, Words: "Lower and upper mark, and where the fluid stands.",
				Marks: []instrument.Mark{{X: 0, Y: 0, Label: "lower mark"}, {X: 0, Y: v.N("apart"), Label: "upper mark"}, {X: 1, Y: o[1].Value, Label: "stands at " + v.SayOutput(o[1])}}}
			r.Figures = []instrument.Chart{stick}
			r.Stated = []instrument.DerivedReading{instrument.Derive("fluid-level", []string{"ok", "low", "over"}, l, v.SayOutput(o[1]))}
		},
	}
}

// atPlug is how a sheet says that the level is read at a plug.
const atPlug = "plug"

// levelAtPlug turns the instrument into the one for a unit without a stick: what comes out of the plug says how far off it
// is, more or less, and what ran out or went in until it just runs says it exactly.
func levelAtPlug(d *instrument.Definition) {
	d.Title, d.Hand, d.Gauge = "Fluid level at the plug", []string{"measuring jug", "thermometer"}, "jug, 20 cc"
	d.Cautions = []string{instrument.CautionUnder}
	d.Source = "the unit's own level procedure: right when it just runs; fluid grows by 0.077 % for each kelvin (recalled from memory); right within a twentieth of the fluid (common practice, no source)"
	d.Limits = "level ground, the fluid near the temperature that the procedure wants"
	d.Inputs = []instrument.Input{
		instrument.ChoiceIn("comes", "With the plug out", instrument.Option{ID: "thread", Title: "it just runs: a thread, or drop after drop"}, instrument.Option{ID: "stream", Title: "a stream"}, instrument.Option{ID: "nothing", Title: "nothing comes"}).Preset("thread"),
		instrument.NumberIn("amount", "Ran out until it was a thread, or went in until it was one", quantity.Volume, "L", 0, 60).Maybe().About(0.02).Explained("Catch and measure it: it is the answer."),
		instrument.NumberIn("below", "Or how far under the edge, felt with a bent wire", quantity.Length, "mm", 0, 200).Maybe().About(1.5),
		instrument.NumberIn("apart", "Height that is known", quantity.Length, "mm", 1, 200).Preset("10 mm").Explained("With the next: how much oil lies in a height near the edge."),
		instrument.NumberIn("between", "Oil in that height", quantity.Volume, "L", 0.05, 20).Preset("0.5 L"),
		instrument.NumberIn("temperature", "Fluid temperature when read", quantity.Temperature, "°C", -40, 160).Maybe().About(3).Explained("Left out: read as the procedure wants it."),
		instrument.NumberIn("right", "The level is for", quantity.Temperature, "°C", -40, 160).Preset("40 °C"),
		instrument.NumberIn("whole", "Fluid in all", quantity.Volume, "L", 0.2, 60).Preset("6 L"),
	}
	d.Check = func(v instrument.Values) error {
		switch {
		case v.Has("below") && v.Chosen("comes") != "nothing":
			return &instrument.InputError{Input: "below", Reason: "oil comes, so it does not lie under the edge", Accepted: "nothing, or that nothing comes"}
		case v.Has("below") && v.Has("amount"):
			return &instrument.InputError{Input: "below", Reason: "the amount says it already", Accepted: "one of the two"}
		case v.Has("amount") && v.N("amount") > 0 && v.Chosen("comes") == "thread":
			return &instrument.InputError{Input: "amount", Reason: "a thread is the right level: nothing ran out and nothing went in", Accepted: "nothing, or that a stream or nothing comes"}
		}
		return nil
	}
	d.Compute = func(v instrument.Values) ([]instrument.Output, error) {
		over, known := atEdge(v)
		if !known {
			return nil, nil
		}
		if v.Has("temperature") {
			over += fluid.VolumeAt(v.N("whole"), v.N("temperature"), v.N("right")) - v.N("whole")
		}
		slack := v.N("whole") / 20
		return []instrument.Output{instrument.Out("over", "over the edge (minus: under it), at its temperature", over, quantity.Volume, "L").Within(-slack, slack)}, nil
	}
	d.Interpret = func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
		say := func(x float64) string {
			q := quantity.Quantity{SI: x, Dimension: quantity.Volume}
			return v.Say(x, quantity.Volume, "L") + " (" + v.Terms.Style.Format(q, "qt") + ", " + v.Terms.Style.Format(q, "pt") + ")"
		}
		if len(o) == 0 {
			r.Headline = "Low: fill until it just runs, and note how much went in."
			l := map[string]float64{"ok": 0.05, "low": 0.94, "over": 0.01}
			if v.Chosen("comes") == "stream" {
				r.Headline = "Over: let it run until it is a thread, and catch it."
				l = map[string]float64{"ok": 0.25, "low": 0.01, "over": 0.74} // a warm fluid runs too
			}
			r.Stated = []instrument.DerivedReading{instrument.Derive("fluid-level", []string{"ok", "low", "over"}, l, "seen at the plug")}
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
		l := o[0].Likelihoods("ok", "low", "over")
		r.Stated = []instrument.DerivedReading{instrument.Derive("fluid-level", []string{"ok", "low", "over"}, l, v.SayOutput(o[0]))}
		height := o[0].Value * v.N("apart") / v.N("between")
		slack := o[0].Window.High.SI * v.N("apart") / v.N("between")
		r.Figures = []instrument.Chart{{Kind: "plug", Title: "At the plug", Y: instrument.Axis{Label: "height", Dimension: quantity.Length, Unit: "mm"}, Words: "Where the fluid stands beside the lower edge of the plug's hole, at its temperature.",
			Marks: []instrument.Mark{{X: 0, Y: 0, Label: "edge of the plug"}, {X: 0, Y: slack, Label: ""}, {X: 1, Y: height, Label: "stands at " + v.Say(height, quantity.Length, "mm")}}}}
	}
}

// atEdge is the volume over the edge of the plug as it was read; known is false when only its direction is.
func atEdge(v instrument.Values) (over float64, known bool) {
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
