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

// regulator balances the pressure regulator and draws line pressure against throttle, in health and with a fault.
func regulator() Definition {
	faults := []Option{{"none", "nothing"}, {"spring", "spring weaker or stiffer"}, {"bore", "bore of the boost valve worn"}, {"stuck-closed", "stuck where it keeps the oil"}, {"stuck-open", "stuck where it lets oil off"}, {"feed", "throttle pressure limited"}}
	return Definition{
		ID: "line-curve", Title: "Regulator balance and line pressure curve", Group: "hydraulics", Hand: []string{"pressure gauge", "spring scale"},
		Answers: "What line pressure should it make from idle to full throttle, and what does a spring, a worn bore or a stuck valve make of it?",
		Source:  "spool in static balance (Merritt, recalled from memory)", Limits: "no flow forces, no friction; pump has oil to spare; throttle pressure rises in a straight line",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{cautionPressure},
		Inputs: []Input{
			num("area", "Regulator spool, area", quantity.Area, "cm²", 0.1, 20).preset("2 cm²"),
			num("spring", "Spring at the working length", quantity.Force, "N", 1, 1000).preset("80 N").about(1),
			num("boost", "Boost valve, area that throttle pressure pushes on", quantity.Area, "cm²", 0, 20).preset("2 cm²"),
			num("reverse", "Area that line pressure adds in boosted ranges", quantity.Area, "cm²", 0, 10).preset("0.4 cm²"),
			num("closed", "Throttle pressure, closed", quantity.Pressure, "psi", 0, 300).preset("2 psi"),
			num("full", "Throttle pressure, full", quantity.Pressure, "psi", 0, 400).preset("85 psi"),
			num("throttle", "Throttle to look at", quantity.Ratio, "%", 0, 100).preset("0 %"),
			choice("boosted", "Range", Option{"no", "not boosted"}, Option{"yes", "boosted (reverse, manual low)"}).preset("no"),
			choice("fault", "What is wrong with it", faults...).preset("none"),
			num("share", "How much of it", quantity.Ratio, "%", -90, 90).preset("20 %").help("Spring: + weaker, − stiffer. Bore: share of the boost that leaks away. Feed: share of throttle pressure that is missing."),
			num("read", "Pressure read", quantity.Pressure, "psi", 0, 1000).optional().read(1),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u == nil || u.Regulator == nil {
				return nil
			}
			r := u.Regulator
			d.input("area").putSI(r.Area)
			d.input("spring").putSI(r.Spring)
			d.input("boost").putSI(r.Boost)
			d.input("reverse").putSI(r.Reverse)
			if u.Throttle != nil {
				d.input("closed").putSI(u.Throttle.Closed)
				d.input("full").putSI(u.Throttle.Full)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if v.N("reverse") >= v.N("area") {
				return nil, &InputError{"reverse", "as large as the spool itself: pressure would rise without end", "less than " + v.Say(v.N("area"), quantity.Area, "cm²")}
			}
			if v.N("full") < v.N("closed") {
				return nil, &InputError{"full", "less than closed", "throttle pressure that rises with the throttle"}
			}
			healthy, faulty := lineAt(v, v.N("throttle"), false), lineAt(v, v.N("throttle"), true)
			outs := []Output{out("line", "line pressure", faulty, quantity.Pressure, "psi"), out("healthy", "in health", healthy, quantity.Pressure, "psi"), out("idle", "at idle", lineAt(v, 0, true), quantity.Pressure, "psi"), out("full", "at full throttle", lineAt(v, 1, true), quantity.Pressure, "psi")}
			if v.Has("read") {
				outs = append(outs, out("off", "read less computed", v.N("read")-faulty, quantity.Pressure, "psi"))
			}
			return outs, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = fmt.Sprintf("%s at %s throttle.", v.SayOutput(o[0]), v.Say(v.N("throttle"), quantity.Ratio, "%"))
			if v.Chosen("fault") != "none" {
				r.Headline += fmt.Sprintf(" In health it would be %s.", v.Say(o[1].Value, quantity.Pressure, "psi"))
			}
			if v.Has("read") {
				switch off, most := o[4].Value, math.Max(2*o[4].U, 0.05*o[0].Value); {
				case off < -most:
					r.Detail = "Read lower than computed: spring weak, boost lost, or the pump has nothing to spare."
				case off > most:
					r.Detail = "Read higher than computed: throttle pressure too high, boost or regulator stuck, or another spring."
				default:
					r.Detail = "That is what was read."
				}
			}
			f := Figure{Kind: "curve", Title: "Line pressure against throttle", X: Axis{"throttle", quantity.Ratio, "%"}, Y: Axis{"line pressure", quantity.Pressure, "psi"}, Words: "Line pressure rises with throttle pressure on the boost valve."}
			healthy, faulty := Series{Name: "in health", Role: "other"}, Series{Name: "with the fault", Role: "main"}
			for i := range 21 {
				t := float64(i) / 20
				healthy.Points = append(healthy.Points, [2]float64{t, lineAt(v, t, false)})
				faulty.Points = append(faulty.Points, [2]float64{t, lineAt(v, t, true)})
			}
			if v.Chosen("fault") == "none" {
				healthy.Role = "main"
				f.Series = []Series{healthy}
			} else {
				f.Series = []Series{healthy, faulty}
			}
			f.Marks = []Mark{{v.N("throttle"), o[0].Value, "here"}}
			if v.Has("read") {
				f.Marks = append(f.Marks, Mark{v.N("throttle"), v.N("read"), "read"})
			}
			r.Figures = []Figure{f}
		},
	}
}

// lineAt is line pressure at a throttle, with or without the fault.
func lineAt(v Values, throttle float64, fault bool) float64 {
	r := hydraulics.Regulator{Area: v.N("area"), Spring: v.N("spring"), Boost: v.N("boost"), Reverse: v.N("reverse")}
	pt := hydraulics.Throttle{Closed: v.N("closed"), Full: v.N("full")}.Pressure(throttle)
	boosted := v.Chosen("boosted") == "yes"
	if fault {
		switch v.Chosen("fault") {
		case "spring":
			r.Spring *= 1 - v.N("share")
		case "bore":
			r.Boost *= 1 - math.Abs(v.N("share"))
		case "feed":
			pt *= 1 - math.Abs(v.N("share"))
		case "stuck-closed": // nothing is let off: what full throttle would ask for, always
			pt = v.N("full")
		case "stuck-open": // the spring's share alone is kept, whatever the throttle asks
			pt, boosted = 0, false
			r.Spring *= 1 - math.Abs(v.N("share"))
		}
	}
	return r.Line(pt, boosted)
}

// shiftPoints computes at what road speed a shift valve moves.
func shiftPoints() Definition {
	return Definition{
		ID: "shift-point", Title: "Shift point from governor, throttle pressure and spring", Group: "hydraulics", Hand: []string{"pressure gauge", "spring scale"},
		Answers: "At what road speed does this valve move, and what does another spring or a weak governor do to it?",
		Source:  "spool in static balance; governor Σ m·r·ω²/A (textbooks, recalled from memory)", Limits: "hydraulic control; no friction, no hysteresis",
		Inputs: []Input{
			num("governor-area", "Shift valve, area of governor pressure", quantity.Area, "cm²", 0.1, 20).preset("3 cm²"),
			num("throttle-area", "and of throttle pressure", quantity.Area, "cm²", 0, 20).preset("1 cm²"),
			num("spring", "Spring", quantity.Force, "N", 0, 500).preset("45 N").about(1),
			num("closed", "Throttle pressure, closed", quantity.Pressure, "psi", 0, 300).preset("2 psi"),
			num("full", "Throttle pressure, full", quantity.Pressure, "psi", 0, 400).preset("85 psi"),
			num("throttle", "Throttle to look at", quantity.Ratio, "%", 0, 100).preset("30 %"),
			num("valve", "Governor valve, area", quantity.Area, "cm²", 0.05, 20).preset("1 cm²"),
			list("masses", "Weights", quantity.Mass, "g", 0.5, 2000).preset("60 g; 10.5 g"),
			list("radii", "at these radii", quantity.Length, "mm", 2, 200).preset("23 mm; 23 mm"),
			list("limits", "stopped above these shaft speeds (0: never)", quantity.RotationalSpeed, "rpm", 0, 20000).preset("1000; 0 rpm"),
			num("per-km", "Turns of the governor shaft in a kilometre", quantity.Ratio, "", 50, 20000).preset("1760"),
			num("leak", "Governor pressure lost", quantity.Ratio, "%", 0, 95).preset("0 %"),
			num("read", "Shift read at", quantity.Speed, "km/h", 0, 400).optional().about(2),
		},
		parts: func(u *unitsheet.Unit) []Option {
			if u == nil {
				return nil
			}
			var out []Option
			for _, s := range u.Shifts {
				out = append(out, Option{s.Control, "into " + s.To})
			}
			return out
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u == nil || u.Governor == nil {
				return nil
			}
			for _, s := range u.Shifts {
				if s.Control != d.Part {
					continue
				}
				d.Title = "Shift point into " + s.To
				d.input("governor-area").putSI(s.Valve.GovernorArea)
				d.input("throttle-area").putSI(s.Valve.ThrottleArea)
				d.input("spring").putSI(s.Valve.Spring)
			}
			d.input("valve").putSI(u.Governor.Area)
			var masses, radii, limits []string
			for _, w := range u.Governor.Weights {
				masses = append(masses, fmt.Sprintf("%.4g", w.Mass*1e3))
				radii = append(radii, fmt.Sprintf("%.4g", w.Radius*1e3))
				limits = append(limits, fmt.Sprintf("%.5g", w.Limit*30/math.Pi))
			}
			d.input("masses").Default, d.input("radii").Default, d.input("limits").Default = strings.Join(masses, "; ")+" g", strings.Join(radii, "; ")+" mm", strings.Join(limits, "; ")+" rpm"
			d.input("per-km").putSI(math.Round(u.PerMetre * 1000 / (2 * math.Pi)))
			if u.Throttle != nil {
				d.input("closed").putSI(u.Throttle.Closed)
				d.input("full").putSI(u.Throttle.Full)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if len(v.List("masses")) == 0 || len(v.List("masses")) != len(v.List("radii")) || len(v.List("masses")) != len(v.List("limits")) {
				return nil, &InputError{"radii", fmt.Sprintf("%d weights, %d radii, %d limits", len(v.List("masses")), len(v.List("radii")), len(v.List("limits"))), "one radius and one limit for each weight"}
			}
			at, err := shiftAt(v, v.N("throttle"))
			if err != nil {
				return nil, err
			}
			outs := []Output{out("speed", "it moves at", at, quantity.Speed, "km/h"), out("governor", "governor pressure there", movesAt(v, v.N("throttle")), quantity.Pressure, "psi")}
			if v.Has("read") {
				outs = append(outs, out("off", "read over computed", v.N("read")/at, quantity.Ratio, "%"))
			}
			return outs, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = fmt.Sprintf("It moves at %s with %s throttle.", v.SayOutput(o[0]), v.Say(v.N("throttle"), quantity.Ratio, "%"))
			if v.Has("read") {
				switch off := o[2].Value; {
				case off > 1.12:
					r.Detail = "Read later: throttle pressure high, governor pressure low, or a stiffer spring."
				case off < 0.88:
					r.Detail = "Read earlier: throttle pressure low, or a weaker spring."
				default:
					r.Detail = "That is what was read."
				}
			}
			s := Series{Name: "it moves", Role: "main"}
			for i := range 21 {
				t := float64(i) / 20
				if at, err := shiftAt(v, t); err == nil {
					s.Points = append(s.Points, [2]float64{t, at})
				}
			}
			f := Figure{Kind: "curve", Title: "Shift speed against throttle", X: Axis{"throttle", quantity.Ratio, "%"}, Y: Axis{"road speed", quantity.Speed, "km/h"}, Words: "More throttle, later shift.", Series: []Series{s}, Marks: []Mark{{v.N("throttle"), o[0].Value, "here"}}}
			if v.Has("read") {
				f.Marks = append(f.Marks, Mark{v.N("throttle"), v.N("read"), "read"})
			}
			r.Figures = []Figure{f}
		},
	}
}

func movesAt(v Values, throttle float64) float64 {
	valve := hydraulics.ShiftValve{GovernorArea: v.N("governor-area"), ThrottleArea: v.N("throttle-area"), Spring: v.N("spring")}
	return valve.Moves(hydraulics.Throttle{Closed: v.N("closed"), Full: v.N("full")}.Pressure(throttle))
}

func shiftAt(v Values, throttle float64) (float64, error) {
	g := hydraulics.Governor{Area: v.N("valve") / (1 - v.N("leak"))}
	for i, m := range v.List("masses") {
		g.Weights = append(g.Weights, hydraulics.Weight{Mass: m, Radius: v.List("radii")[i], Limit: v.List("limits")[i]})
	}
	w, err := g.Speed(movesAt(v, throttle))
	if err != nil {
		return 0, impossible("masses", err)
	}
	return w / (2 * math.Pi) / v.N("per-km") * 1000, nil
}

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
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = fmt.Sprintf("%s at work, %s.", v.SayOutput(o[0]), v.SayOutput(o[1]))
			if o[2].Value > 9e8 {
				r.Detail = "The stress is more than spring wire bears for long: it sets."
			}
			r.Figures = []Figure{springLine(v, hydraulics.Line{Free: v.N("free"), Rate: o[1].Value}, o[3].Value, v.N("at"), nil)}
		},
	}
}

// springLine draws force over length.
func springLine(v Values, l hydraulics.Line, shortest, working float64, others []hydraulics.Match) Figure {
	f := Figure{Kind: "curve", Title: "Force over length", X: Axis{"length", quantity.Length, "mm"}, Y: Axis{"force", quantity.Force, "N"}, Words: "Force rises evenly as the spring is pressed.",
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
		tell: func(v Values, o []Output, r *Result) {
			l, err := weighed(v)
			if err != nil {
				return // impossible: computed before
			}
			r.Headline = fmt.Sprintf("%s at work, %s, %s free.", v.SayOutput(o[0]), v.Say(o[1].Value, quantity.SpringRate, "N/mm"), v.Say(o[2].Value, quantity.Length, "mm"))
			if len(o) > 3 {
				c, err := measure.Compare(o[3].Value, o[3].U, 0.95, 1.05) // within 5 %: common practice, no source
				if err == nil {
					l := map[string]float64{"right": c.Inside, "weak": c.Below, "other": c.Above}
					state := likeliest([]string{"right", "weak", "other"}, l)
					r.Detail = map[string]string{"right": "That is the load of the sheet.", "weak": "Weaker than the sheet: tired, or another spring.", "other": "Stiffer than the sheet: another spring, or a shim under it."}[state]
					r.Stated = []Stated{{Finding: "regulator-spring", State: state, Likelihood: soften(l), Value: v.SayOutput(o[0])}}
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
			r.Figures = []Figure{springLine(v, l, 0.9*math.Min(v.N("work"), math.Min(v.N("length1"), v.N("length2"))), v.N("work"), matches[:min(3, len(matches))])}
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

// spoolTravel compares how far a valve moves with how far it should.
func spoolTravel() Definition {
	return Definition{
		ID: "spool-travel", Title: "Travel of a valve", Group: "hydraulics", Hand: []string{"caliper", "depth gauge"},
		Answers: "Does the valve move its whole way, or is it held by a spring, dirt or a bound bore?",
		Source:  "bore less valve less solid spring; common practice, no source: travel of 1.5 to 3 mm where it should be free means a wrong spring",
		Limits:  "valve dry and clean, pushed by hand; bolts at their torque, since a tight bolt binds a bore",
		Gauge:   "depth gauge, 0.05 mm",
		Inputs: []Input{
			num("bore", "Depth of the bore to its stop", quantity.Length, "mm", 1, 300).preset("62.0 mm").read(0.05),
			num("valve", "Length of the valve", quantity.Length, "mm", 1, 300).preset("41.0 mm").read(0.05),
			num("wire", "Spring: wire", quantity.Length, "mm", 0, 10).preset("1.0 mm").read(0.01),
			num("coils", "Spring: coils in all", quantity.Ratio, "", 0, 100).preset("9").about(0.2),
			num("read", "Travel by hand", quantity.Length, "mm", 0, 200).read(0.1).like("10.5"),
			num("needed", "Travel that it needs", quantity.Length, "mm", 0, 200).preset("8 mm").help("From the ports: first edge to last edge."),
		},
		compute: func(v Values) ([]Output, error) {
			can := v.N("bore") - v.N("valve") - v.N("wire")*v.N("coils")
			if can < 0 {
				return nil, &InputError{"coils", "valve and pressed spring are longer than the bore", "a shorter valve, fewer coils or thinner wire"}
			}
			if v.N("read") > can+2e-3 {
				return nil, &InputError{"read", "more than bore, valve and spring allow (" + v.Say(can, quantity.Length, "mm") + ")", "travel up to that"}
			}
			return []Output{out("read", "travel", v.N("read"), quantity.Length, "mm"), out("can", "could move", can, quantity.Length, "mm"), out("missing", "missing", can-v.N("read"), quantity.Length, "mm")}, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			switch {
			case o[1].Value < v.N("needed"):
				r.Headline = "Wrong spring or valve: even free it could move only " + v.Say(o[1].Value, quantity.Length, "mm") + ", and " + v.Say(v.N("needed"), quantity.Length, "mm") + " are needed."
			case o[0].Value < v.N("needed"):
				r.Headline = "It hangs: " + v.SayOutput(o[0]) + " of " + v.Say(v.N("needed"), quantity.Length, "mm") + " needed. Dirt, a burr, or a bore bound by bolts."
			default:
				r.Headline = "It moves its whole way."
			}
			r.Figures = []Figure{{Kind: "bars", Title: "Travel", Y: Axis{"travel", quantity.Length, "mm"}, Words: "Travel by hand and travel possible, beside what is needed.",
				Bars: []Bar{{Label: "by hand", Value: o[0].Value, Need: v.N("needed"), Text: v.SayOutput(o[0]), Emphasised: true}, {Label: "could move", Value: o[1].Value, Need: v.N("needed"), Text: v.SayOutput(o[1])}}}}
		},
	}
}

// orifice is flow and pressure over a hole.
func orifice() Definition {
	return Definition{
		ID: "orifice", Title: "Orifice: flow and pressure", Group: "hydraulics", Hand: []string{"drill gauge", "pressure gauge"},
		Answers: "How much oil passes this hole, and what hole would pass how much?",
		Source:  "sharp edge, discharge coefficient 0.61 (Merritt, recalled from memory)", Limits: "short, sharp holes with hot oil; a long thin hole passes less",
		Inputs: []Input{
			num("diameter", "Diameter", quantity.Length, "mm", 0.1, 30).preset("1.5 mm").about(0.03),
			num("before", "Pressure before it", quantity.Pressure, "psi", 0, 600).preset("80 psi").read(1),
			num("after", "and after it", quantity.Pressure, "psi", 0, 600).preset("0 psi").read(1),
			num("density", "Oil density", quantity.Density, "kg/m³", 600, 1100).preset("820"),
			num("other", "Another diameter", quantity.Length, "mm", 0.1, 30).optional(),
			num("flow", "A flow that passes it", quantity.Flow, "L/min", 0.001, 200).optional().help("Gives the pressure that the hole takes from it."),
		},
		compute: func(v Values) ([]Output, error) {
			drop := v.N("before") - v.N("after")
			if drop <= 0 {
				return nil, &InputError{"after", "as high as before it: no oil flows", "less than before it"}
			}
			q := hydraulics.Orifice(v.N("diameter"), drop, v.N("density"))
			outs := []Output{out("flow", "flow", q, quantity.Flow, "L/min")}
			if v.Has("other") {
				outs = append(outs, out("other", "flow through the other", hydraulics.Orifice(v.N("other"), drop, v.N("density")), quantity.Flow, "L/min"))
			}
			if v.Has("flow") {
				outs = append(outs, out("lost", "pressure that the hole takes from the flow", hydraulics.OrificeDrop(v.N("diameter"), v.N("flow"), v.N("density")), quantity.Pressure, "psi"))
			}
			return outs, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = v.SayOutput(o[0]) + " passes."
			r.Detail = "Twice the diameter passes four times as much; twice the pressure, 1.4 times."
			s := Series{Name: "flow", Role: "main"}
			top := 1.5 * math.Max(v.N("diameter"), v.N("other"))
			for i := range 21 {
				d := top * float64(i) / 20
				s.Points = append(s.Points, [2]float64{d, hydraulics.Orifice(d, v.N("before")-v.N("after"), v.N("density"))})
			}
			r.Figures = []Figure{{Kind: "curve", Title: "Flow against diameter", X: Axis{"diameter", quantity.Length, "mm"}, Y: Axis{"flow", quantity.Flow, "L/min"}, Words: "Flow rises with the square of the diameter.", Series: []Series{s}, Marks: []Mark{{v.N("diameter"), o[0].Value, "this"}}}}
		},
	}
}

// boreLeak is what passes a valve in its bore.
func boreLeak() Definition {
	return Definition{
		ID: "bore-leak", Title: "Leak past a valve in its bore", Group: "hydraulics", Hand: []string{"bore gauge", "micrometer"},
		Answers: "How much oil does a worn bore lose, against the same bore when new?",
		Source:  "laminar flow in a narrow ring, π·D·h³·Δp/(12·ν·ρ·L)·(1 + 1.5·ε²) (Merritt, recalled from memory, checked against the profile of flow)",
		Limits:  "land longer than the gap is wide; the valve round and smooth; scores leak more", Gauge: "micrometer, 0.01 mm",
		Inputs: []Input{
			num("bore", "Bore", quantity.Length, "mm", 2, 80).preset("12.06 mm").read(0.005), num("valve", "Valve", quantity.Length, "mm", 2, 80).preset("12.00 mm").read(0.005),
			num("new", "Clearance when new, on the diameter", quantity.Length, "mm", 0.001, 1).preset("0.04 mm"), num("land", "Length of the land", quantity.Length, "mm", 0.5, 60).preset("8 mm"),
			num("drop", "Pressure across it", quantity.Pressure, "psi", 0, 600).preset("100 psi"), num("viscosity", "Viscosity", quantity.Viscosity, "mm²/s", 1, 5000).preset("10 mm²/s").about(1),
			num("density", "Oil density", quantity.Density, "kg/m³", 600, 1100).preset("820"),
			choice("lies", "The valve lies", Option{"side", "on one side"}, Option{"middle", "in the middle"}).preset("side"),
		},
		compute: func(v Values) ([]Output, error) {
			if v.N("bore") <= v.N("valve") {
				return nil, &InputError{"valve", "not smaller than its bore", "less than " + v.Say(v.N("bore"), quantity.Length, "mm")}
			}
			off := map[string]float64{"side": 1, "middle": 0}[v.Chosen("lies")]
			leak := func(clearance float64) float64 {
				return hydraulics.Gap(v.N("bore"), clearance/2, v.N("land"), v.N("drop"), v.N("viscosity"), v.N("density"), off)
			}
			now := leak(v.N("bore") - v.N("valve"))
			return []Output{out("leak", "leak", now, quantity.Flow, "L/min"), out("new", "when new", leak(v.N("new")), quantity.Flow, "L/min"), out("clearance", "clearance on the diameter", v.N("bore")-v.N("valve"), quantity.Length, "mm")}, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = v.SayOutput(o[0]) + " passes."
			if o[1].Value > 0 {
				r.Headline = fmt.Sprintf("%s passes, %.1f times as much as when new.", v.SayOutput(o[0]), o[0].Value/o[1].Value)
			}
			r.Detail = "The leak goes with the third power of the clearance and falls with viscosity: hot oil shows it."
			s := Series{Name: "leak", Role: "main"}
			top := 1.5 * math.Max(o[2].Value, v.N("new"))
			for i := range 21 {
				c := top * float64(i) / 20
				s.Points = append(s.Points, [2]float64{c, o[0].Value * math.Pow(c/o[2].Value, 3)})
			}
			r.Figures = []Figure{{Kind: "curve", Title: "Leak against clearance", X: Axis{"clearance", quantity.Length, "mm"}, Y: Axis{"leak", quantity.Flow, "L/min"}, Words: "Twice the clearance leaks eight times as much.", Series: []Series{s}, Marks: []Mark{{o[2].Value, o[0].Value, "now"}, {v.N("new"), o[1].Value, "new"}}}}
		},
	}
}

// leakDown reads how fast an air pressure falls.
func leakDown() Definition {
	return Definition{
		ID: "leak-down", Title: "Leak-down", Group: "hydraulics", Hand: []string{"pressure gauge", "stopwatch"},
		Answers: "How fast does a closed circuit lose its air, and how large is the leak?",
		Source:  "gas law at even temperature; decay in proportion to pressure", Limits: "valve closed tight, temperature settled; small leaks",
		Gauge: "pressure gauge, 0.05 bar", Cautions: []string{cautionAir},
		Inputs: []Input{
			num("volume", "Volume of circuit and hose", quantity.Volume, "cc", 1, 50000).preset("200 cc").about(20),
			num("from", "Pressure at first", quantity.Pressure, "bar", 0.1, 10).preset("3.0 bar").read(0.05),
			num("to", "and at last", quantity.Pressure, "bar", 0, 10).read(0.05).like("2.4"),
			num("time", "Time between", quantity.Time, "s", 1, 3600).preset("30 s").about(0.5),
			num("least", "Half must remain for", quantity.Time, "s", 1, 3600).preset("60 s").help("What sound circuits of this unit do."),
		},
		compute: func(v Values) ([]Output, error) {
			flow, half, err := hydraulics.LeakDown(v.N("volume"), v.N("from"), v.N("to"), v.N("time"))
			if err != nil {
				return nil, impossible("to", err)
			}
			return []Output{out("half", "half is lost after", half, quantity.Time, "s"), out("flow", "free air that leaks", flow, quantity.Flow, "L/min")}, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			good := o[0].Value >= v.N("least")
			r.Headline = map[bool]string{true: "It holds: half is lost after ", false: "It leaks: half is lost after "}[good] + v.SayOutput(o[0]) + "."
			s := Series{Name: "pressure", Role: "main"}
			if o[0].Value > 0 {
				for i := range 31 {
					t := 2 * v.N("time") * float64(i) / 30
					s.Points = append(s.Points, [2]float64{t, v.N("from") * math.Exp(-math.Ln2*t/o[0].Value)})
				}
			}
			r.Figures = []Figure{{Kind: "curve", Title: "Pressure while it leaks", X: Axis{"time", quantity.Time, "s"}, Y: Axis{"pressure", quantity.Pressure, "bar"}, Words: "Pressure falls by half in the same time again and again.", Series: []Series{s}, Marks: []Mark{{0, v.N("from"), "first"}, {v.N("time"), v.N("to"), "last"}}}}
		},
	}
}

// droop tells wear from a hole by pressure cold and hot.
func droop() Definition {
	return Definition{
		ID: "hot-cold", Title: "Pressure cold and hot", Group: "hydraulics", Hand: []string{"pressure gauge", "thermometer"},
		Answers: "Is the pressure lost through worn gaps, or through a hole or a missing seal?",
		Source:  "gap flow ∝ 1/viscosity, orifice flow does not depend on it (Merritt, recalled from memory)", Limits: "same engine speed and range, regulator closed: the pump gives all it has; below that the regulator hides the leak",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{cautionPressure},
		Inputs: []Input{
			num("cold", "Pressure cold", quantity.Pressure, "psi", 1, 500).read(1).like("60"),
			num("hot", "Pressure hot", quantity.Pressure, "psi", 0, 500).read(1).like("42"),
			num("cold-viscosity", "Viscosity cold", quantity.Viscosity, "mm²/s", 3, 5000).preset("80 mm²/s").about(8).help("Transmission fluid: some 80 mm²/s at 20 °C, 34 at 40 °C, 10 at 80 °C, 7 at 100 °C."),
			num("hot-viscosity", "Viscosity hot", quantity.Viscosity, "mm²/s", 1, 500).preset("10 mm²/s").about(1),
		},
		compute: func(v Values) ([]Output, error) {
			gaps, err := hydraulics.Droop(v.N("cold"), v.N("hot"), v.N("cold-viscosity"), v.N("hot-viscosity"))
			if err != nil {
				return nil, impossible("hot", err)
			}
			return []Output{out("gaps", "of the hot loss through gaps", gaps, quantity.Ratio, "%"), out("left", "pressure left hot", v.N("hot")/v.N("cold"), quantity.Ratio, "%")}, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			switch g := o[0].Value; {
			case g > 0.7:
				r.Headline = "Gaps: worn bores, bushings or pump clearances. Hot oil slips through, cold oil does not."
			case g < 0.3:
				r.Headline = "A hole: a missing or cut seal, an open passage, a cracked part. It leaks cold as well."
			default:
				r.Headline = "Some of both: wear, and a seal or passage."
			}
			r.Detail = fmt.Sprintf("%s of the pressure is left when hot.", v.Say(o[1].Value, quantity.Ratio, "%"))
			r.Figures = []Figure{{Kind: "bars", Title: "Where the oil goes when hot", Y: Axis{"share", quantity.Ratio, "%"}, Words: "Share through gaps and through holes.", Bars: []Bar{{Label: "gaps", Value: o[0].Value, Text: v.Say(o[0].Value, quantity.Ratio, "%"), Emphasised: true}, {Label: "holes", Value: 1 - o[0].Value, Text: v.Say(1-o[0].Value, quantity.Ratio, "%")}}}}
		},
	}
}

// coolerFlow reads the return of the cooler in a measured time.
func coolerFlow() Definition {
	return Definition{
		ID: "cooler-flow", Title: "Cooler flow and check valve", Group: "hydraulics", Hand: []string{"measuring jug", "stopwatch"},
		Answers: "Does enough oil come back from the cooler, and does its check valve move?",
		Source:  "volume over time; a quart in 20 s at idle is full on most (common practice, no source)", Limits: "fluid hot, engine at idle, selector in N, level watched: the jug takes it out of the unit",
		Gauge: "jug, 50 cc", Cautions: []string{cautionRunning, cautionPressure}, States: []string{"cooler-flow"},
		Inputs: []Input{
			num("volume", "Oil caught", quantity.Volume, "qt", 0, 20).read(0.05).like("1.1"),
			num("time", "in this time", quantity.Time, "s", 1, 600).preset("20 s").about(0.5),
			num("least", "Least flow that is good", quantity.Flow, "L/min", 0.1, 60).preset("2.4 L/min"),
			choice("valve", "Check valve pushed with a rod", Option{"moves", "moves and springs back"}, Option{"stuck", "does not move"}, Option{"none", "none, or not looked at"}).preset("none"),
			num("before", "Pressure before the cooler", quantity.Pressure, "psi", 0, 200).optional().read(1),
			num("after", "and after it", quantity.Pressure, "psi", 0, 200).optional().read(1),
		},
		compute: func(v Values) ([]Output, error) {
			if v.Has("after") != v.Has("before") || v.N("after") > v.N("before") {
				return nil, &InputError{"after", "the pressures before and after the cooler do not fit", "both, the one after it not above the one before"}
			}
			outs := []Output{out("flow", "flow", v.N("volume")/v.N("time"), quantity.Flow, "L/min").within(v.N("least"), 1e3*v.N("least"))}
			if v.Has("before") {
				outs = append(outs, out("drop", "pressure lost in the cooler", v.N("before")-v.N("after"), quantity.Pressure, "psi"))
			}
			return outs, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			l := map[string]float64{}
			c := o[0].likelihoods("full", "weak", "over")
			l["full"], l["weak"] = c["full"]+c["over"], c["weak"]
			state := likeliest([]string{"full", "weak"}, l)
			r.Headline = map[string]string{"full": "Full: ", "weak": "Weak: "}[state] + v.SayOutput(o[0]) + "."
			switch {
			case v.Chosen("valve") == "stuck":
				r.Detail = "A check valve that sticks stops lubrication and melts planetaries: free it or leave it out by the maker's procedure before the unit runs again."
			case state == "weak":
				r.Detail = "Blown through backwards, lines felt for dents, cooler and check valve before the pump is blamed."
			}
			if len(o) > 1 && o[1].Value > si(30, quantity.Pressure, "psi") {
				r.Detail = strings.TrimSpace(r.Detail + " The cooler takes much pressure: it is restricted.")
			}
			r.Stated = []Stated{{Finding: "cooler-flow", State: state, Likelihood: soften(l), Value: v.SayOutput(o[0])}}
			r.Figures = []Figure{{Kind: "bars", Title: "Flow", Y: Axis{"flow", quantity.Flow, "L/min"}, Words: "Flow beside the least that is good.", Bars: []Bar{{Label: "comes back", Value: o[0].Value, Need: v.N("least"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}

// modulator is the pressure that a vacuum unit asks for.
func modulator() Definition {
	return Definition{
		ID: "modulator", Title: "Vacuum modulator", Group: "hydraulics", Hand: []string{"vacuum gauge", "hand pump"},
		Answers: "What throttle pressure does it ask for at this vacuum, and what does a leaking hose make of it?",
		Source:  "spring against diaphragm, static balance", Limits: "single diaphragm; a split one lets fluid into the engine besides",
		Gauge: "vacuum gauge, 1 kPa",
		Inputs: []Input{
			num("vacuum", "Vacuum at the manifold", quantity.Pressure, "kPa", 0, 100).preset("60 kPa").read(1),
			num("lost", "Vacuum lost on the way", quantity.Ratio, "%", 0, 100).preset("0 %"),
			num("diaphragm", "Diaphragm, effective area", quantity.Area, "cm²", 1, 200).preset("20 cm²"),
			num("spring", "Spring", quantity.Force, "N", 1, 1000).preset("150 N").about(3),
			num("valve", "Valve, area", quantity.Area, "cm²", 0.05, 20).preset("2.5 cm²"),
			num("read", "Pressure read", quantity.Pressure, "psi", 0, 300).optional().read(1),
		},
		compute: func(v Values) ([]Output, error) {
			m := hydraulics.Modulator{Diaphragm: v.N("diaphragm"), Spring: v.N("spring"), Valve: v.N("valve")}
			at := v.N("vacuum") * (1 - v.N("lost"))
			return []Output{out("pressure", "throttle pressure", m.Pressure(at), quantity.Pressure, "psi"), out("closed", "with the engine's best vacuum of 70 kPa", m.Pressure(70e3), quantity.Pressure, "psi"), out("none", "with the hose off", m.Pressure(0), quantity.Pressure, "psi")}, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = "It asks for " + v.SayOutput(o[0]) + "."
			if v.Has("read") {
				switch off := v.N("read") - o[0].Value; {
				case off > math.Max(2*o[0].U, 0.1*o[0].Value):
					r.Detail = "Read higher: vacuum does not arrive, or the spring is stiffer; late and hard shifts follow."
				case off < -math.Max(2*o[0].U, 0.1*o[0].Value):
					r.Detail = "Read lower: the rod is short or the spring weak; early shifts and slip follow."
				default:
					r.Detail = "That is what was read."
				}
			}
			m := hydraulics.Modulator{Diaphragm: v.N("diaphragm"), Spring: v.N("spring"), Valve: v.N("valve")}
			s := Series{Name: "throttle pressure", Role: "main"}
			for i := range 21 {
				x := 100e3 * float64(i) / 20
				s.Points = append(s.Points, [2]float64{x, m.Pressure(x)})
			}
			r.Figures = []Figure{{Kind: "curve", Title: "Throttle pressure against vacuum", X: Axis{"vacuum", quantity.Pressure, "kPa"}, Y: Axis{"throttle pressure", quantity.Pressure, "psi"}, Words: "Less vacuum, more pressure.", Series: []Series{s}, Marks: []Mark{{v.N("vacuum") * (1 - v.N("lost")), o[0].Value, "here"}}}}
		},
	}
}
