package instrument

import (
	"fmt"

	"innercompass/core/fluid"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// fluidLevel turns a stick reading into a quantity to add.
func fluidLevel() Definition {
	return Definition{
		ID: "fluid-level", Title: "Fluid level on the stick", Group: "fluid", Hand: []string{"dipstick"},
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
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.MarksApart) && unitsheet.Known(u.BetweenMarks) {
				d.fix(map[string]float64{"apart": u.MarksApart.SI, "between": u.BetweenMarks.SI})
				d.input("height").Window = &quantity.Window{Low: quantity.Quantity{Dimension: quantity.Length}, High: u.MarksApart}
			}
			if u != nil {
				d.Steps = u.Sheet.Fluid.Level.Steps
			}
			if u != nil && u.Sheet.Fluid.Capacity != "" {
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
		tell: func(v Values, o []Output, r *Result) {
			missing := o[0].Value
			say := func(x float64) string {
				return v.Say(x, quantity.Volume, "L") + " (" + quantity.Quantity{SI: x, Dimension: quantity.Volume}.Format("qt") + ", " + quantity.Quantity{SI: x, Dimension: quantity.Volume}.Format("pt") + ")"
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
			stick := Figure{Kind: "stick", Title: "The stick", Y: Axis{"height", quantity.Length, "mm"}, Words: "Lower and upper mark, and where the fluid stands.",
				Marks: []Mark{{0, 0, "lower mark"}, {0, v.N("apart"), "upper mark"}, {1, o[1].Value, "stands at " + v.SayOutput(o[1])}}}
			r.Figures = []Figure{stick}
			r.Stated = []Stated{stated("fluid-level", []string{"ok", "low", "over"}, l, v.SayOutput(o[1]))}
		},
	}
}
