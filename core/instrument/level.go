package instrument

import (
	"fmt"

	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// fluidLevel turns a stick reading into a quantity to add.
func fluidLevel() Definition {
	return Definition{
		ID: "fluid-level", Title: "Fluid level on the stick", Group: "fluid", Hand: []string{"dipstick"},
		Answers: "How far off is it, and how much is to be added?",
		Source:  "the unit's own level procedure; what is between the marks is in proportion", Limits: "fluid at its temperature, level ground, read twice",
		Gauge: "stick, read to 1 mm", Cautions: []string{cautionRunning}, States: []string{"fluid-level"},
		Inputs: []Input{
			num("height", "Height above the lower mark (below it: minus)", quantity.Length, "mm", -200, 200).about(1.5).like("-6"),
			num("apart", "Marks apart", quantity.Length, "mm", 1, 200).preset("14 mm"),
			num("between", "Oil between the marks", quantity.Volume, "pt", 0.05, 20).preset("1 pt"),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.MarksApart) && unitsheet.Known(u.BetweenMarks) {
				d.fix(map[string]float64{"apart": u.MarksApart.SI, "between": u.BetweenMarks.SI})
				d.input("height").Window = &quantity.Window{Low: quantity.Quantity{Dimension: quantity.Length}, High: u.MarksApart}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			apart := v.N("apart")
			return []Output{
				out("missing", "to the upper mark", (apart-v.N("height"))*v.N("between")/apart, quantity.Volume, "L"),
				out("height", "height above the lower mark", v.N("height"), quantity.Length, "mm").within(0, apart),
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
			r.Points = []Point{{"height", quantity.Quantity{SI: v.N("height"), Dimension: quantity.Length}, string(o[1].Verdict)}}
			l := o[1].likelihoods("ok", "low", "over")
			r.Stated = []Stated{stated("fluid-level", []string{"ok", "low", "over"}, l, v.SayOutput(o[1]))}
		},
	}
}
