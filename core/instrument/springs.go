package instrument

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/hydraulics"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// springWire is rate, load and stress of a spring by its shape.
func springWire() Definition {
	return Definition{
		ID: "spring-wire", Title: "Spring from its wire", Group: "hydraulics", Hand: []string{"spring", "caliper", "micrometer"},
		Answers: "What rate and load has this spring, from wire, diameter and coils?",
		Source:  "Shigley, helical compression springs, Wahl factor (recalled from memory; a published example is checked)", Limits: "round wire, small pitch; steel unless another modulus is typed",
		Gauge: "micrometer, 0.01 mm", Cautions: []string{cautionSpring},
		Inputs: []Input{
			num("wire", "Wire", quantity.Length, "mm", 0.1, 20).preset("1.00 mm").read(0.01),
			num("outside", "Outside diameter", quantity.Length, "mm", 1, 200).preset("12.0 mm").read(0.05),
			num("total", "Coils in all", quantity.Ratio, "", 2, 100).preset("10").about(0.1),
			choice("ends", "Ends", Option{"ground", "squared and ground"}, Option{"squared", "squared"}, Option{"plain", "plain"}).preset("ground"),
			num("free", "Free length", quantity.Length, "mm", 2, 500).preset("40 mm").read(0.1),
			num("at", "Length at work", quantity.Length, "mm", 1, 500).preset("28 mm").read(0.1),
			num("modulus", "Shear modulus", quantity.Pressure, "MPa", 1000, 120000).preset("81700 MPa").help("81,700 MPa for spring wire of steel, about 69,000 for stainless."),
		},
		compute: func(v Values) ([]Output, error) {
			dead := map[string]float64{"ground": 2, "squared": 2, "plain": 0}[v.Chosen("ends")]
			w := hydraulics.Wire{Diameter: v.N("wire"), Outside: v.N("outside"), Active: v.N("total") - dead, Total: v.N("total"), Shear: v.N("modulus")}
			rate, err := w.Rate()
			if err != nil {
				return nil, impossible("outside", err)
			}
			solid := w.Solid()
			if v.Chosen("ends") != "ground" {
				solid += w.Diameter
			}
			switch {
			case v.N("free") <= solid:
				return nil, &InputError{"free", "no longer than its coils on top of each other (" + v.Say(solid, quantity.Length, "mm") + ")", "a longer free length, or fewer coils"}
			case v.N("at") < solid:
				return nil, &InputError{"at", "shorter than its coils on top of each other (" + v.Say(solid, quantity.Length, "mm") + ")", "a longer working length"}
			case v.N("at") > v.N("free"):
				return nil, &InputError{"at", "longer than the spring is free", "up to " + v.Say(v.N("free"), quantity.Length, "mm")}
			}
			force := rate * (v.N("free") - v.N("at"))
			return []Output{out("force", "load at work", force, quantity.Force, "N"), out("rate", "rate", rate, quantity.SpringRate, "N/mm"), out("stress", "stress in the wire", w.Stress(force), quantity.Pressure, "MPa"),
				out("solid", "coils on top of each other at", solid, quantity.Length, "mm"), out("most", "load there", rate*(v.N("free")-solid), quantity.Force, "N")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = fmt.Sprintf("%s at work, %s.", v.SayOutput(o[0]), v.SayOutput(o[1]))
			if o[2].Value > 9e8 {
				r.Detail = "The stress is more than spring wire bears for long: it sets."
			}
			r.Figures = []Chart{springLine(v, hydraulics.Line{Free: v.N("free"), Rate: o[1].Value}, o[3].Value, v.N("at"), nil)}
		},
	}
}

// springLine draws force over length.
func springLine(v Values, l hydraulics.Line, shortest, working float64, others []hydraulics.Match) Chart {
	f := Chart{Kind: "curve", Title: "Force over length", X: Axis{"length", quantity.Length, "mm"}, Y: Axis{"force", quantity.Force, "N"}, Words: "Force rises evenly as the spring is pressed.",
		Series: []Series{{"this spring", "main", [][2]float64{{shortest, l.Force(shortest)}, {l.Free, 0}}}}, Marks: []Mark{{working, l.Force(working), "at work"}}}
	for _, m := range others {
		f.Series = append(f.Series, Series{m.Name, "other", [][2]float64{{shortest, m.Line.Force(shortest)}, {m.Line.Free, 0}}})
	}
	return f
}

// springWeigh draws a spring's line from two weighings and matches it against springs on hand.
func springWeigh() Definition {
	return Definition{
		ID: "spring-weigh", Title: "Spring weighed and matched", Group: "hydraulics", Hand: []string{"spring", "spring scale", "caliper"},
		Answers: "Which spring is this, is it still right, and which of those on hand can take its place?",
		Source:  "Hooke's law; a replacement must match in load and sit on its seat (common practice, no source)", Limits: "both weighings between free and solid; the same scale for all",
		Gauge: "scale, 0.1 N", Cautions: []string{cautionSpring}, States: []string{"regulator-spring"},
		Inputs: []Input{
			num("length1", "First length", quantity.Length, "mm", 1, 500).preset("35 mm").read(0.1),
			num("force1", "Force there", quantity.Force, "N", 0, 5000).preset("20 N").read(0.2),
			num("length2", "Second length", quantity.Length, "mm", 1, 500).preset("28 mm").read(0.1),
			num("force2", "Force there", quantity.Force, "N", 0, 5000).preset("48 N").read(0.2),
			num("work", "Length at work", quantity.Length, "mm", 1, 500).preset("28 mm"),
			num("wanted", "Force that the sheet wants there", quantity.Force, "N", 0, 5000).optional(),
			list("hand-free", "Springs on hand: free lengths", quantity.Length, "mm", 1, 500).optional(),
			list("hand-rate", "and their rates", quantity.SpringRate, "N/mm", 0.01, 1000).optional(),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u != nil && u.Regulator != nil {
				d.input("wanted").putSI(u.Regulator.Spring)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			l, err := weighed(v)
			if err != nil {
				return nil, err
			}
			outs := []Output{out("force", "force at work", l.Force(v.N("work")), quantity.Force, "N"), out("rate", "rate", l.Rate, quantity.SpringRate, "N/mm"), out("free", "free length", l.Free, quantity.Length, "mm")}
			if v.N("wanted") > 0 {
				outs = append(outs, out("off", "of the force wanted", outs[0].Value/v.N("wanted"), quantity.Ratio, "%"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			l, err := weighed(v)
			if err != nil {
				return // impossible: computed before
			}
			r.Headline = fmt.Sprintf("%s at work, %s, %s free.", v.SayOutput(o[0]), v.Say(o[1].Value, quantity.SpringRate, "N/mm"), v.Say(o[2].Value, quantity.Length, "mm"))
			if len(o) > 3 {
				c, err := measure.Compare(o[3].Value, o[3].U, 0.95, 1.05) // within 5 %: common practice, no source
				if err == nil {
					l := map[string]float64{"right": c.Inside, "weak": c.Below, "other": c.Above}
					r.Stated = []DerivedReading{stated("regulator-spring", []string{"right", "weak", "other"}, l, v.SayOutput(o[0]))}
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
				if matches, err = hydraulics.Matches(want, v.N("work"), stock); err == nil && len(matches) > 0 {
					best := matches[0]
					r.Detail = strings.TrimSpace(r.Detail + fmt.Sprintf(" Nearest on hand: %s (%s free, %s) with %s, %+.1f %%.", best.Name, v.Say(best.Line.Free, quantity.Length, "mm"), v.Say(best.Line.Rate, quantity.SpringRate, "N/mm"), v.Say(best.Force, quantity.Force, "N"), 100*best.Off))
				}
			}
			r.Figures = []Chart{springLine(v, l, 0.9*math.Min(v.N("work"), math.Min(v.N("length1"), v.N("length2"))), v.N("work"), matches[:min(3, len(matches))])}
		},
	}
}

func weighed(v Values) (hydraulics.Line, error) {
	if len(v.List("hand-free")) != len(v.List("hand-rate")) {
		return hydraulics.Line{}, &InputError{"hand-rate", fmt.Sprintf("%d rates for %d springs", len(v.List("hand-rate")), len(v.List("hand-free"))), "one rate for each free length"}
	}
	l, err := hydraulics.Weigh(v.N("length1"), v.N("force1"), v.N("length2"), v.N("force2"))
	if err != nil {
		return l, impossible("force2", err)
	}
	if v.N("work") >= l.Free {
		return l, &InputError{"work", "the spring does not press at this length: free it is " + v.Say(l.Free, quantity.Length, "mm"), "a shorter length"}
	}
	return l, nil
}
