package fluids

import (
	"fmt"
	"math"

	"innercompass/core/fluid"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Report reads what a laboratory found in a sample.
func Report() instrument.Definition {
	var inputs []instrument.Input
	for _, m := range fluid.Measures {
		inputs = append(inputs, instrument.NumberIn(m.ID, measureTitle(m), quantity.Ratio, "", 0, 1e6).Maybe())
	}
	inputs = append(inputs,
		instrument.ChoiceIn("glycol", "Glycol", instrument.Option{ID: "unknown", Title: "not tested"}, instrument.Option{ID: "no", Title: "none"}, instrument.Option{ID: "yes", Title: "found"}).Preset("unknown"),
		instrument.NumberIn("v100", "Viscosity at 100 °C", quantity.Viscosity, "mm²/s", 0.5, 500).Maybe(), instrument.NumberIn("new", "and of the new fluid", quantity.Viscosity, "mm²/s", 0.5, 500).Preset("7.2 mm²/s"),
		instrument.NumberIn("distance", "Distance on this fluid", quantity.Distance, "km", 0, 1e6).Preset("40000 km"))
	return instrument.Definition{
		ID: "fluid-report", Title: "Laboratory report of the fluid", Group: "fluid", Hand: []string{"paper"},
		Answers: "What do metals, water and viscosity of this sample say, for the distance on it?",
		Source:  "limits grow with the distance; patterns of what raises what, several sources at once (noisy maximum): limits and shares are common practice, no source", Limits: "warm sample from the running unit, clean bottle; a laboratory's own limits go first; two samples of one unit say more than any limit",
		Cautions: []string{instrument.CautionUnder, instrument.CautionWaste}, States: []string{"glycol-test", "water-test"}, Inputs: inputs, Jumps: true,
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil {
				d.Measures = u.Measures
			}
			return nil
		},
		Work: instrument.Works(func(v instrument.Values) (*reported, []instrument.Output, error) {
			report, lines := reportOf(v)
			if lines == 0 {
				return nil, nil, nil
			}
			suspects, sound, err := report.Judge()
			if err != nil {
				return nil, nil, instrument.Impossible("iron", err)
			}
			return &reported{report, suspects, sound}, []instrument.Output{instrument.Out("first", suspects[0].Title, suspects[0].Share, quantity.Ratio, "%"), instrument.Out("sound", "nothing wrong", sound, quantity.Ratio, "%")}, nil
		}, func(v instrument.Values, x *reported, _ []instrument.Output, r *instrument.Result) {
			if x == nil {
				r.Headline = "Type what the report holds; what it does not hold stays empty."
				return
			}
			var all []pointer
			for _, s := range x.suspects {
				all = append(all, pointer{s.Title, s.Action, s.Share})
			}
			var bars instrument.Chart
			r.Headline, r.Detail, bars = pointTo(all, x.sound, "Nothing out of the usual for this distance.")
			limits := instrument.Chart{Kind: "bars", Title: "Values beside what is usual at this distance", Y: instrument.Axis{Label: "of what is usual", Dimension: quantity.Ratio, Unit: "%"}, Words: "Each value as a part of what is usual at most; high is from two and a half times that."}
			for _, l := range x.report.Lines() {
				limits.Bars = append(limits.Bars, instrument.Bar{Label: l.Title, Value: math.Min(4, l.Value/l.Limit), Need: 1, Text: fmt.Sprintf("%s %s, usual up to %s: %s", v.Sig(l.Value, 3), l.Unit, v.Sig(l.Limit, 2), []string{"usual", "raised", "high"}[l.Level]), Emphasised: l.Level > 0})
			}
			r.Figures = []instrument.Chart{limits, bars}
			if g := x.report.Glycol; g != "" {
				l := map[string]float64{"clear": 0, "glycol": 0}
				l[map[string]string{"yes": "glycol", "no": "clear"}[g]] = 1
				r.Stated = append(r.Stated, instrument.Derive("glycol-test", []string{"clear", "glycol"}, l, "laboratory"))
			}
			if v.Has("water") {
				// A hot plate crackles from about a tenth of a per cent (common practice, no source).
				wet := 1 / (1 + math.Exp(-(v.N("water")-0.1)/0.02))
				r.Stated = append(r.Stated, instrument.Derive("water-test", []string{"quiet", "crackles"}, map[string]float64{"quiet": 1 - wet, "crackles": wet}, v.Sig(v.N("water"), 2)+" % water, laboratory"))
			}
		}),
	}
}

// reportOf reads the report, with the number of things that it holds.
func reportOf(v instrument.Values) (fluid.Report, int) {
	out := fluid.Report{Values: map[string]float64{}, Distance: v.N("distance"), Viscosity: v.N("v100"), NewViscosity: v.N("new"), Measures: v.Measures}
	for _, m := range fluid.Measures {
		if v.Has(m.ID) {
			out.Values[m.ID] = v.N(m.ID)
		}
	}
	if g := v.Chosen("glycol"); g != "unknown" {
		out.Glycol = g
	}
	lines := len(out.Values)
	if out.Glycol != "" {
		lines++
	}
	if v.Has("v100") {
		lines++
	}
	return out, lines
}

// reported is a report with what it points to.
type reported struct {
	report   fluid.Report
	suspects []fluid.ReportSuspect
	sound    float64
}
