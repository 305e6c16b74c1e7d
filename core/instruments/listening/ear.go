package listening

import (
	"fmt"

	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/core/vibration"
)

// counted is the finding that says what a noise or a shake keeps time with, and its states.
const counted = "shakes-per-turn"

var countedStates = []string{"none", "wheel", "wheel-three", "shaft", "shaft-twice", "engine", "engine-half", "firing", "pump", "mesh", "planets", "bearing", "axle", "belt", "rings"}

// Ear names the family of a noise or a shake from trials on the road, without a recording.
func Ear() instrument.Definition {
	var in []instrument.Input
	for _, t := range vibration.ByEar.Trials {
		in = append(in, instrument.ChoiceIn(t.ID, t.Title, instrument.Option{ID: "open", Title: "not tried"}, instrument.Option{ID: "yes", Title: "yes"}, instrument.Option{ID: "no", Title: "no"}).Preset("open").Explained(t.Caution))
	}
	return instrument.Definition{
		ID: "by-ear", Title: "Noise and shake by trials", Group: "vibration", Hand: []string{"ear", "scan tool"},
		Answers:  "Which family does it come from, and which trial on the road tells most in the least time?",
		Source:   "how often each family answers each trial is judgment; the order of trials is what they tell in a minute",
		Limits:   "by sound alone the family is named, rarely more; a recording names the part",
		Cautions: []string{instrument.CautionDrive, instrument.CautionRunning},
		Inputs:   in, States: []string{counted}, Jumps: true,
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			d.On = u
			return nil
		},
		Work: instrument.Works(func(v instrument.Values) (map[string]bool, []instrument.Output, error) {
			answers := map[string]bool{}
			for _, t := range vibration.ByEar.Trials {
				if c := v.Chosen(t.ID); c == "yes" || c == "no" {
					answers[t.ID] = c == "yes"
				}
			}
			p := vibration.ByEar.Answered(answers)
			best := first(p)
			return answers, []instrument.Output{instrument.Out("share", vibration.ByEar.Families[best].Name, p[best], quantity.Ratio, "%")}, nil
		}, tellEar),
	}
}

func first(p []float64) int {
	best := 0
	for i := range p {
		if p[i] > p[best] {
			best = i
		}
	}
	return best
}

// enough is the share from which a family is named (measured on cases drawn from the table: then it is right in three of four).
const enough = 0.75

func tellEar(v instrument.Values, answers map[string]bool, _ []instrument.Output, r *instrument.Result) {
	e := vibration.ByEar
	p := e.Answered(answers)
	best := first(p)
	var without []string
	if u := v.On; u != nil && u.Sheet.Converter == nil {
		without = append(without, "open")
	}
	switch {
	case len(answers) == 0:
		r.Headline = "Try the first: it costs nothing."
	case p[best] > enough:
		r.Headline = "Most likely: " + e.Families[best].Name + "."
	default:
		r.Headline = "Not clear yet: " + e.Families[best].Name + " leads."
	}
	if next := e.Next(answers, without...); len(next) > 0 {
		n := next[0]
		r.Detail = fmt.Sprintf("Next: “%s” (%.2g min, tells %.2f bits). %s", n.Title, n.Minutes, n.Bits, n.Caution)
	}
	bars := instrument.Chart{Kind: "bars", Title: "Families", Y: instrument.Axis{Label: "share", Dimension: quantity.Ratio, Unit: "%"}, Words: "Probability of each family."}
	for i, f := range e.Families {
		bars.Bars = append(bars.Bars, instrument.Bar{Label: f.Name, Value: p[i], Text: fmt.Sprintf("%.0f %%", 100*p[i]), Emphasised: i == best})
	}
	r.Figures = []instrument.Chart{bars}
	if p[best] < 2*e.Families[best].Prior && p[best] < enough {
		return // the answers hardly tell
	}
	l := map[string]float64{}
	for _, s := range countedStates {
		l[s] = 0.05
	}
	top := 0.0
	for i, f := range e.Families {
		top = max(top, p[i]/f.Prior)
	}
	for i, f := range e.Families {
		l[f.State] = max(l[f.State], p[i]/f.Prior/top)
	}
	r.Stated = append(r.Stated, instrument.Derive(counted, countedStates, l, fmt.Sprintf("%s, %.0f %%", e.Families[best].Name, 100*p[best])))
}
