package pressures

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/hydraulics"
	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// SpringWire is rate, load and stress of a spring by its shape.
func SpringWire() instrument.Definition {
	return instrument.Definition{
		ID: "spring-wire", Title: "Spring from its wire", Group: "hydraulics", Hand: []string{"spring", "caliper", "micrometer"},
		Answers: "What rate and load has this spring, from wire, diameter and coils?",
		Source:  "Shigley, helical compression springs, Wahl factor (recalled from memory; a published example is checked)", Limits: "round wire, small pitch; steel unless another modulus is typed",
		Gauge: "micrometer, 0.01 mm", Cautions: []string{instrument.CautionSpring},
		Inputs: []instrument.Input{
			instrument.NumberIn("wire", "Wire", quantity.Length, "mm", 0.1, 20).Preset("1.00 mm").ReadWithin(0.01),
			instrument.NumberIn("outside", "Outside diameter", quantity.Length, "mm", 1, 200).Preset("12.0 mm").ReadWithin(0.05),
			instrument.NumberIn("total", "Coils in all", quantity.Ratio, "", 2, 100).Preset("10").About(0.1),
			instrument.ChoiceIn("ends", "Ends", instrument.Option{ID: "ground", Title: "squared and ground"}, instrument.Option{ID: "squared", Title: "squared"}, instrument.Option{ID: "plain", Title: "plain"}).Preset("ground"),
			instrument.NumberIn("free", "Free length", quantity.Length, "mm", 2, 500).Preset("40 mm").ReadWithin(0.1),
			instrument.NumberIn("at", "Length at work", quantity.Length, "mm", 1, 500).Preset("28 mm").ReadWithin(0.1),
			instrument.NumberIn("modulus", "Shear modulus", quantity.Pressure, "MPa", 1000, 120000).Preset("81700 MPa").Explained("81,700 MPa for spring wire of steel, about 69,000 for stainless."),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			dead := map[string]float64{"ground": 2, "squared": 2, "plain": 0}[v.Chosen("ends")]
			w := hydraulics.Wire{Diameter: v.N("wire"), Outside: v.N("outside"), Active: v.N("total") - dead, Total: v.N("total"), Shear: v.N("modulus")}
			rate, err := w.Rate()
			if err != nil {
				return nil, instrument.Impossible("outside", err)
			}
			solid := w.Solid()
			if v.Chosen("ends") != "ground" {
				solid += w.Diameter
			}
			switch {
			case v.N("free") <= solid:
				return nil, &instrument.InputError{Input: "free", Reason: "no longer than its coils on top of each other (" + v.Say(solid, quantity.Length, "mm") + ")", Accepted: "a longer free length, or fewer coils"}
			case v.N("at") < solid:
				return nil, &instrument.InputError{Input: "at", Reason: "shorter than its coils on top of each other (" + v.Say(solid, quantity.Length, "mm") + ")", Accepted: "a longer working length"}
			case v.N("at") > v.N("free"):
				return nil, &instrument.InputError{Input: "at", Reason: "longer than the spring is free", Accepted: "up to " + v.Say(v.N("free"), quantity.Length, "mm")}
			}
			force := rate * (v.N("free") - v.N("at"))
			return []instrument.Output{instrument.Out("force", "load at work", force, quantity.Force, "N"), instrument.Out("rate", "rate", rate, quantity.SpringRate, "N/mm"), instrument.Out("stress", "stress in the wire", w.Stress(force), quantity.Pressure, "MPa"),
				instrument.Out("solid", "coils on top of each other at", solid, quantity.Length, "mm"), instrument.Out("most", "load there", rate*(v.N("free")-solid), quantity.Force, "N")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("%s at work, %s.", v.SayOutput(o[0]), v.SayOutput(o[1]))
			if o[2].Value > 9e8 {
				r.Detail = "The stress is more than spring wire bears for long: it sets."
			}
			r.Figures = []instrument.Chart{springLine(v, hydraulics.Line{Free: v.N("free"), Rate: o[1].Value}, o[3].Value, v.N("at"), nil)}
		},
	}
}

// springLine draws force over length.
func springLine(v instrument.Values, l hydraulics.Line, shortest, working float64, others []hydraulics.Match) instrument.Chart {
	f := instrument.Chart{Kind: "curve", Title: "Force over length", X: instrument.Axis{Label: "length", Dimension: quantity.Length, Unit: "mm"}, Y: instrument.Axis{Label: "force", Dimension: quantity.Force, Unit: "N"}, Words: "Force rises evenly as the spring is pressed.",
		Series: []instrument.Series{{Name: "this spring", Role: "main", Points: [][2]float64{{shortest, l.Force(shortest)}, {l.Free, 0}}}}, Marks: []instrument.Mark{{X: working, Y: l.Force(working), Label: "at work"}}}
	for _, m := range others {
		f.Series = append(f.Series, instrument.Series{Name: m.Name, Role: "other", Points: [][2]float64{{shortest, m.Line.Force(shortest)}, {m.Line.Free, 0}}})
	}
	return f
}

// SpringWeigh draws a spring's line from two weighings and matches it against springs on hand.
func SpringWeigh() instrument.Definition {
	return instrument.Definition{
		ID: "spring-weigh", Title: "Spring weighed and matched", Group: "hydraulics", Hand: []string{"spring", "spring scale", "caliper"},
		Answers: "Which spring is this, is it still right, and which of those on hand can take its place?",
		Source:  "Hooke's law; a replacement must match in load and sit on its seat (common practice, no source)", Limits: "both weighings between free and solid; the same scale for all",
		Gauge: "scale, 0.1 N", Cautions: []string{instrument.CautionSpring}, States: []string{"regulator-spring"},
		Inputs: []instrument.Input{
			instrument.NumberIn("length1", "First length", quantity.Length, "mm", 1, 500).Preset("35 mm").ReadWithin(0.1),
			instrument.NumberIn("force1", "Force there", quantity.Force, "N", 0, 5000).Preset("20 N").ReadWithin(0.2),
			instrument.NumberIn("length2", "Second length", quantity.Length, "mm", 1, 500).Preset("28 mm").ReadWithin(0.1),
			instrument.NumberIn("force2", "Force there", quantity.Force, "N", 0, 5000).Preset("48 N").ReadWithin(0.2),
			instrument.NumberIn("work", "Length at work", quantity.Length, "mm", 1, 500).Preset("28 mm"),
			instrument.NumberIn("wanted", "Force that the sheet wants there", quantity.Force, "N", 0, 5000).Maybe(),
			instrument.ListIn("hand-free", "Springs on hand: free lengths", quantity.Length, "mm", 1, 500).Maybe(),
			instrument.ListIn("hand-rate", "and their rates", quantity.SpringRate, "N/mm", 0.01, 1000).Maybe(),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && u.Regulator != nil {
				d.In("wanted").PutSI(u.Regulator.Spring)
			}
			return nil
		},
		Work: instrument.Works(func(v instrument.Values) (hydraulics.Line, []instrument.Output, error) {
			l, err := weighed(v)
			if err != nil {
				return l, nil, err
			}
			outs := []instrument.Output{instrument.Out("force", "force at work", l.Force(v.N("work")), quantity.Force, "N"), instrument.Out("rate", "rate", l.Rate, quantity.SpringRate, "N/mm"), instrument.Out("free", "free length", l.Free, quantity.Length, "mm")}
			if v.N("wanted") > 0 {
				outs = append(outs, instrument.Out("off", "of the force wanted", outs[0].Value/v.N("wanted"), quantity.Ratio, "%"))
			}
			return l, outs, nil
		}, func(v instrument.Values, l hydraulics.Line, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("%s at work, %s, %s free.", v.SayOutput(o[0]), v.Say(o[1].Value, quantity.SpringRate, "N/mm"), v.Say(o[2].Value, quantity.Length, "mm"))
			if len(o) > 3 {
				c, err := measure.Compare(o[3].Value, o[3].U, 0.95, 1.05) // within 5 %: common practice, no source
				if err == nil {
					l := map[string]float64{"right": c.Inside, "weak": c.Below, "other": c.Above}
					r.Stated = []instrument.DerivedReading{instrument.Derive("regulator-spring", []string{"right", "weak", "other"}, l, v.SayOutput(o[0]))}
					r.Detail = map[string]string{"right": "That is the load of the sheet.", "weak": "Weaker than the sheet: tired, or another spring.", "other": "Stiffer than the sheet: another spring, or a shim under it."}[r.Stated[0].State]
				}
			}
			want := l
			if v.N("wanted") > 0 {
				want = hydraulics.Line{Free: v.N("work") + v.N("wanted")/l.Rate, Rate: l.Rate}
			}
			var matches []hydraulics.Match
			if frees, rates := v.List("hand-free"), v.List("hand-rate"); len(frees) > 0 {
				var stock []hydraulics.Candidate
				for i := range frees {
					stock = append(stock, hydraulics.Candidate{Name: fmt.Sprintf("spring %d", i+1), Line: hydraulics.Line{Free: frees[i], Rate: rates[i]}})
				}
				matches, _ = hydraulics.Matches(want, v.N("work"), stock) // an impossible one has no matches
				if len(matches) > 0 {
					best := matches[0]
					r.Detail = strings.TrimSpace(r.Detail + fmt.Sprintf(" Nearest on hand: %s (%s free, %s) with %s, %+.1f %%.", best.Name, v.Say(best.Line.Free, quantity.Length, "mm"), v.Say(best.Line.Rate, quantity.SpringRate, "N/mm"), v.Say(best.Force, quantity.Force, "N"), 100*best.Off))
				}
			}
			r.Figures = []instrument.Chart{springLine(v, l, 0.9*math.Min(v.N("work"), math.Min(v.N("length1"), v.N("length2"))), v.N("work"), matches[:min(3, len(matches))])}
		}),
	}
}

func weighed(v instrument.Values) (hydraulics.Line, error) {
	if len(v.List("hand-free")) != len(v.List("hand-rate")) {
		return hydraulics.Line{}, &instrument.InputError{Input: "hand-rate", Reason: fmt.Sprintf("%d rates for %d springs", len(v.List("hand-rate")), len(v.List("hand-free"))), Accepted: "one rate for each free length"}
	}
	l, err := hydraulics.Weigh(v.N("length1"), v.N("force1"), v.N("length2"), v.N("force2"))
	if err != nil {
		return l, instrument.Impossible("force2", err)
	}
	if v.N("work") >= l.Free {
		return l, &instrument.InputError{Input: "work", Reason: "the spring does not press at this length: free it is " + v.Say(l.Free, quantity.Length, "mm"), Accepted: "a shorter length"}
	}
	return l, nil
}
