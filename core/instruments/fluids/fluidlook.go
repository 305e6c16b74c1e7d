package fluids

import (
	"fmt"
	"strconv"
	"strings"

	"innercompass/core/fluid"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// unseen is the choice that says nothing.
const unseen = "unseen"

// Look grades a drop of fluid by eye, nose and finger, beside drawings.
func Look() instrument.Definition {
	var inputs []instrument.Input
	for _, m := range fluid.LookMarks {
		options := []instrument.Option{{ID: unseen, Title: "not looked at"}}
		for i, g := range m.Grades {
			options = append(options, instrument.Option{ID: fmt.Sprint(i), Title: g})
		}
		inputs = append(inputs, instrument.ChoiceIn("look-"+m.ID, m.Title, options...).Preset(unseen).ShownAs(instrument.Grades, m.ID))
	}
	return instrument.Definition{
		ID: "fluid-look", Title: "Look, smell and feel of the fluid", Group: "fluid", Hand: []string{"eye", "paper"},
		Answers: "What do color, smell, foam and a drop on paper say, and what is to be done?",
		Source:  "what each cause does to a fluid, several at once (noisy maximum): shares are common practice, no source", Limits: "a warm drop on white paper in daylight, fresh fluid of the right kind beside it; dyes differ: grade the darkening, not the dye",
		Cautions: []string{cautionDrop, instrument.CautionWaste}, States: []string{"fluid-look", "paper-spot", "fluid-feel", "fluid-colour", "water-test"}, Inputs: inputs, Jumps: true,
		Work: instrument.Works(func(v instrument.Values) (*looked, []instrument.Output, error) {
			seen := gradesOf(v)
			if len(seen) == 0 {
				return nil, nil, nil
			}
			suspects, sound, err := fluid.JudgeLook(seen)
			if err != nil {
				return nil, nil, instrument.Impossible("look-dark", err)
			}
			return &looked{seen, suspects, sound}, []instrument.Output{instrument.Out("first", suspects[0].Title, suspects[0].Share, quantity.Ratio, "%"), instrument.Out("sound", "sound fluid", sound, quantity.Ratio, "%")}, nil
		}, func(v instrument.Values, x *looked, _ []instrument.Output, r *instrument.Result) {
			if x == nil {
				r.Headline = "Grade what you see, smell and feel; what is not there says as much."
				return
			}
			var all []pointer
			for _, s := range x.suspects {
				all = append(all, pointer{s.Title, s.Action, s.Share})
			}
			var bars instrument.Chart
			r.Headline, r.Detail, bars = pointTo(all, x.sound, "Nothing wrong with what was looked at.")
			r.Figures = []instrument.Chart{bars}
			r.Stated = lookStated(x.seen)
		}),
	}
}

// looked is what was graded, with what it points to.
type looked struct {
	seen     map[string]int
	suspects []fluid.LookSuspect
	sound    float64
}

// pointer is a source that something points to, with its probability and what to do about it.
type pointer struct {
	title, action string
	share         float64
}

// pointTo says what is behind something, likeliest first: nothing, one source or two; and draws the shares. sound is the
// probability of none, with the words for it.
func pointTo(all []pointer, sound float64, none string) (headline, detail string, bars instrument.Chart) {
	first, second := all[0], all[1]
	switch {
	case sound > first.share:
		headline = none
	case second.share > 0.5:
		headline = fmt.Sprintf("It points to more than one: %s, and %s.", first.title, second.title)
		detail = first.action + " " + second.action
	default:
		headline, detail = "It points to: "+first.title+".", first.action
	}
	bars = instrument.Chart{Kind: "bars", Title: "What it points to", Y: instrument.Axis{Label: "share", Dimension: quantity.Ratio, Unit: "%"}, Words: "Probability of each source."}
	for i, s := range all[:6] {
		bars.Bars = append(bars.Bars, instrument.Bar{Label: s.title, Value: s.share, Text: fmt.Sprintf("%.0f %%", 100*s.share), Emphasised: i == 0 && sound <= s.share})
	}
	return headline, detail, bars
}

func gradesOf(v instrument.Values) map[string]int {
	out := map[string]int{}
	for _, m := range fluid.LookMarks {
		if grade, err := strconv.Atoi(v.Chosen("look-" + m.ID)); err == nil { // what was not looked at is no number
			out[m.ID] = grade
		}
	}
	return out
}

// lookStated turns grades into the findings of the trade; a grade between two words counts for both.
func lookStated(seen map[string]int) []instrument.DerivedReading {
	var out []instrument.DerivedReading
	add := func(finding string, states []string, weights ...float64) {
		l, sum := map[string]float64{}, 0.0
		for _, w := range weights {
			sum += w
		}
		for i, s := range states {
			l[s] = weights[i] / sum
		}
		out = append(out, instrument.Derive(finding, states, l, "graded beside fresh fluid"))
	}
	dark, sawDark := seen["dark"]
	milky, sawMilky := seen["milky"]
	foam, burnt := seen["foam"], seen["burnt"]
	if sawDark || sawMilky || foam > 0 || burnt > 0 {
		darkness := []float64{0, 0.4, 1, 1}[dark]
		smell := []float64{0, 0.4, 1}[burnt]
		add("fluid-look", []string{"clear", "dark", "burnt", "milky", "foam"},
			(1-darkness)*(1-smell)*(1-min(1, float64(milky)))+0.01, 2*darkness*(1-0.8*smell)+0.01, 4*smell+0.01, []float64{0, 2, 12}[milky]+0.01, []float64{0, 0.5, 6}[foam]+0.01)
	}
	_, sawCore := seen["core"]
	_, sawRing := seen["ring"]
	if sawCore || sawRing {
		core, ring := float64(seen["core"]), float64(seen["ring"])
		add("paper-spot", []string{"wide", "core", "ring"}, (1-core)*(1-ring)+0.01, core+0.01, 2*ring+0.01)
	}
	_, sawFeel := seen["feel"]
	_, sawSticky := seen["sticky"]
	if sawFeel || sawSticky {
		gritty, sticky := float64(seen["feel"]), float64(seen["sticky"])
		add("fluid-feel", []string{"smooth", "gritty", "sticky"}, (1-gritty)*(1-sticky)+0.01, gritty+0.01, sticky+0.01)
	}
	_, sawKind := seen["kind"]
	_, smelled := seen["gear-oil"]
	if sawKind || smelled {
		other := max(float64(seen["kind"]), float64(seen["gear-oil"]))
		add("fluid-colour", []string{"same", "other"}, 1-other+0.01, other+0.01)
	}
	if plate, ok := seen["plate"]; ok {
		add("water-test", []string{"quiet", "crackles"}, 1-float64(plate)+0.01, float64(plate)+0.01)
	}
	return out
}

// Trend puts samples of one filling on a line.
func Trend() instrument.Definition {
	var measures []instrument.Option
	for _, m := range fluid.Measures {
		measures = append(measures, instrument.Option{ID: m.ID, Title: measureTitle(m)})
	}
	return instrument.Definition{
		ID: "fluid-trend", Title: "Trend of a laboratory's value", Group: "fluid", Hand: []string{"paper"},
		Answers: "Does it rise faster than it should, and how far until it is high?",
		Source:  "straight line by least squares; limits as in the report; a laboratory repeats within a tenth (common practice, no source)", Limits: "samples of one filling, taken warm from the same place; a change of fluid begins a new line",
		Inputs: []instrument.Input{
			instrument.ChoiceIn("measure", "Value", measures...).Preset("iron"),
			instrument.ListIn("distances", "Distance on the fluid at each sample", quantity.Distance, "km", 0, 1e6).Like("10000; 20000; 30000 km"),
			instrument.ListIn("values", "Value at each", quantity.Ratio, "", 0, 1e6).Like("35; 62; 110"),
			instrument.NumberIn("next", "Next sample at", quantity.Distance, "km", 0, 1e6).Maybe(),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil {
				d.Measures = u.Measures
			}
			return nil
		},
		Jumps: true, // the uncertainty of the samples is carried by the line itself
		Work: instrument.Works(func(v instrument.Values) (trend, []instrument.Output, error) {
			t, m, err := trendOf(v)
			if err != nil {
				return trend{}, nil, err
			}
			usual := m.Rate / 1e6
			outs := []instrument.Output{instrument.Out("rate", strings.TrimSpace(m.Unit+" more in 1,000 km"), t.Rate*1e6, quantity.Ratio, "")}
			if usual > 0 {
				outs = append(outs, instrument.Out("times", "times as fast as is usual", t.Rate/usual, quantity.Ratio, ""))
			}
			if far := t.Reaches(m); far < 5e9 {
				outs = append(outs, instrument.Out("high", "high from", far, quantity.Distance, "km"))
			}
			if v.Has("next") {
				outs = append(outs, instrument.Out("expected", "expected at the next sample", max(0, t.At(v.N("next"))), quantity.Ratio, ""))
			}
			return trend{t, m}, outs, nil
		}, func(v instrument.Values, x trend, o []instrument.Output, r *instrument.Result) {
			t, m := x.line, x.of
			usual := m.Rate / 1e6
			switch {
			case t.Rate-2*t.U > usual:
				r.Headline = strings.ToUpper(m.Title[:1]) + m.Title[1:] + " rises faster than is usual."
				if usual > 0 {
					r.Headline = fmt.Sprintf("%s rises %s times as fast as is usual.", strings.ToUpper(m.Title[:1])+m.Title[1:], v.Num(t.Rate/usual, 1))
				}
			case t.Rate+2*t.U < usual:
				r.Headline = "It rises slower than is usual."
			default:
				r.Headline = "Within what a laboratory repeats: the rise cannot be told from the usual one. Another sample tells more."
			}
			r.Detail = fmt.Sprintf("%s ± %s %s in %s km; usual are %s.", v.Sig(t.Rate*1e6, 3), v.Sig(2*t.U*1e6, 2), m.Unit, v.Num(1000, 0), v.Sig(m.Rate, 2))
			if far := t.Reaches(m); far <= t.Last {
				r.Detail += " It is high already: act on the report now."
			} else if far < 5e9 {
				r.Detail += " At this rate it is high from " + v.Say(far, quantity.Distance, "km") + " on."
			}
			d, values := v.List("distances"), v.List("values")
			end := 1.3 * t.Last
			if v.Has("next") {
				end = max(end, v.N("next"))
			}
			var limit, high [][2]float64
			for i := range 21 {
				x := end * float64(i) / 20
				l, h := m.Limit(x)
				limit, high = append(limit, [2]float64{x, l}), append(high, [2]float64{x, h})
			}
			fig := instrument.Chart{Kind: "curve", Title: "Value over distance", X: instrument.Axis{Label: "distance on the fluid", Dimension: quantity.Distance, Unit: "km"}, Y: instrument.Axis{Label: measureTitle(m), Dimension: quantity.Ratio, Unit: ""}, Words: "The line through the samples, beside what is usual at most and what is high.",
				Series: []instrument.Series{{Name: "this unit", Role: "main", Points: [][2]float64{{d[0], t.At(d[0])}, {end, t.At(end)}}}, {Name: "usual at most", Role: "other", Points: limit}, {Name: "high", Role: "limit", Points: high}}}
			for i := range d {
				fig.Marks = append(fig.Marks, instrument.Mark{X: d[i], Y: values[i], Label: v.Sig(values[i], 4)})
			}
			r.Figures = []instrument.Chart{fig}
		}),
	}
}

// measureTitle is a line of a report with its unit.
func measureTitle(m fluid.Measure) string { return strings.TrimSuffix(m.Title+", "+m.Unit, ", ") }

func trendOf(v instrument.Values) (fluid.Trend, fluid.Measure, error) {
	var m fluid.Measure
	measures := v.Measures
	if measures == nil {
		measures = fluid.Measures
	}
	for _, x := range measures {
		if x.ID == v.Chosen("measure") {
			m = x
		}
	}
	t, err := fluid.TrendOf(v.List("distances"), v.List("values"))
	if err != nil {
		return t, m, instrument.Impossible("distances", err)
	}
	return t, m, nil
}

// cautionDrop stands before anything is smelled, rubbed or dropped on a hot plate.
const cautionDrop = "Hot fluid burns and irritates: a drop on a stick, gloves, nose not over the filler. A hot plate spits water: eyes protected."

// trend is the line through some samples, and what they measured.
type trend struct {
	line fluid.Trend
	of   fluid.Measure
}
