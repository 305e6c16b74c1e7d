package instrument

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/hydraulics"
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
			num("spring", "Spring at the working length", quantity.Force, "N", 1, 1000).preset("80 N").about(1).from("spring-weigh.force", "spring-wire.force"),
			num("boost", "Boost valve, area that throttle pressure pushes on", quantity.Area, "cm²", 0, 20).preset("2 cm²"),
			num("reverse", "Area that line pressure adds in boosted ranges", quantity.Area, "cm²", 0, 10).preset("0.4 cm²"),
			num("closed", "Throttle pressure, closed", quantity.Pressure, "psi", 0, 300).preset("2 psi"),
			num("full", "Throttle pressure, full", quantity.Pressure, "psi", 0, 400).preset("85 psi"),
			num("throttle", "Throttle to look at", quantity.Ratio, "%", 0, 100).preset("0 %"),
			choice("boosted", "Range", Option{"no", "not boosted"}, Option{"yes", "boosted (reverse, manual low)"}).preset("no"),
			choice("fault", "What is wrong with it", faults...).preset("none"),
			num("share", "How much of it", quantity.Ratio, "%", -90, 90).preset("20 %").help("Spring: + weaker, − stiffer. Bore: share of the boost that leaks away. Feed: share of throttle pressure that is missing."),
			num("read", "Pressure read", quantity.Pressure, "psi", 0, 1000).optional().read(1).from("pressure-rise.idle"),
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
		interpret: func(v Values, o []Output, r *Result) {
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
			f := Chart{Kind: "curve", Title: "Line pressure against throttle", X: Axis{"throttle", quantity.Ratio, "%"}, Y: Axis{"line pressure", quantity.Pressure, "psi"}, Words: "Line pressure rises with throttle pressure on the boost valve."}
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
			r.Figures = []Chart{f}
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
		Inputs: slices.Concat([]Input{
			num("governor-area", "Shift valve, area of governor pressure", quantity.Area, "cm²", 0.1, 20).preset("3 cm²"),
			num("throttle-area", "and of throttle pressure", quantity.Area, "cm²", 0, 20).preset("1 cm²"),
			num("spring", "Spring", quantity.Force, "N", 0, 500).preset("45 N").about(1).from("spring-weigh.force", "spring-wire.force"),
			num("closed", "Throttle pressure, closed", quantity.Pressure, "psi", 0, 300).preset("2 psi"),
			num("full", "Throttle pressure, full", quantity.Pressure, "psi", 0, 400).preset("85 psi"),
			num("throttle", "Throttle to look at", quantity.Ratio, "%", 0, 100).preset("30 %"),
		}, governorInputs(), []Input{
			num("leak", "Governor pressure lost", quantity.Ratio, "%", 0, 95).preset("0 %"),
			num("read", "Shift read at", quantity.Speed, "km/h", 0, 400).optional().about(2),
		}),
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
			d.governorOf(u)
			if u.Throttle != nil {
				d.input("closed").putSI(u.Throttle.Closed)
				d.input("full").putSI(u.Throttle.Full)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
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
		interpret: func(v Values, o []Output, r *Result) {
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
			f := Chart{Kind: "curve", Title: "Shift speed against throttle", X: Axis{"throttle", quantity.Ratio, "%"}, Y: Axis{"road speed", quantity.Speed, "km/h"}, Words: "More throttle, later shift.", Series: []Series{s}, Marks: []Mark{{v.N("throttle"), o[0].Value, "here"}}}
			if v.Has("read") {
				f.Marks = append(f.Marks, Mark{v.N("throttle"), v.N("read"), "read"})
			}
			r.Figures = []Chart{f}
		},
	}
}

func movesAt(v Values, throttle float64) float64 {
	valve := hydraulics.ShiftValve{GovernorArea: v.N("governor-area"), ThrottleArea: v.N("throttle-area"), Spring: v.N("spring")}
	return valve.Moves(hydraulics.Throttle{Closed: v.N("closed"), Full: v.N("full")}.Pressure(throttle))
}

func shiftAt(v Values, throttle float64) (float64, error) {
	g, err := governorIn(v)
	if err != nil {
		return 0, err
	}
	g.Area /= 1 - v.N("leak") // what leaks away is missing in proportion, as on a larger area
	w, err := g.Speed(movesAt(v, throttle))
	if err != nil {
		return 0, impossible("masses", err)
	}
	return w / (2 * math.Pi) / v.N("per-km") * 1000, nil
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
			num("wire", "Spring: wire", quantity.Length, "mm", 0, 10).preset("1.0 mm").read(0.01).from("spring-wire.wire"),
			num("coils", "Spring: coils in all", quantity.Ratio, "", 0, 100).preset("9").about(0.2).from("spring-wire.total"),
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
		interpret: func(v Values, o []Output, r *Result) {
			switch {
			case o[1].Value < v.N("needed"):
				r.Headline = "Wrong spring or valve: even free it could move only " + v.Say(o[1].Value, quantity.Length, "mm") + ", and " + v.Say(v.N("needed"), quantity.Length, "mm") + " are needed."
			case o[0].Value < v.N("needed"):
				r.Headline = "It hangs: " + v.SayOutput(o[0]) + " of " + v.Say(v.N("needed"), quantity.Length, "mm") + " needed. Dirt, a burr, or a bore bound by bolts."
			default:
				r.Headline = "It moves its whole way."
			}
			r.Figures = []Chart{{Kind: "bars", Title: "Travel", Y: Axis{"travel", quantity.Length, "mm"}, Words: "Travel by hand and travel possible, beside what is needed.",
				Bars: []Bar{{Label: "by hand", Value: o[0].Value, Need: v.N("needed"), Text: v.SayOutput(o[0]), Emphasised: true}, {Label: "could move", Value: o[1].Value, Need: v.N("needed"), Text: v.SayOutput(o[1])}}}}
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
			num("vacuum", "Vacuum at the manifold", quantity.Pressure, "kPa", 0, 100).preset("60 kPa").read(1).from("vacuum.modulator"),
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
		interpret: func(v Values, o []Output, r *Result) {
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
			r.Figures = []Chart{{Kind: "curve", Title: "Throttle pressure against vacuum", X: Axis{"vacuum", quantity.Pressure, "kPa"}, Y: Axis{"throttle pressure", quantity.Pressure, "psi"}, Words: "Less vacuum, more pressure.", Series: []Series{s}, Marks: []Mark{{v.N("vacuum") * (1 - v.N("lost")), o[0].Value, "here"}}}}
		},
	}
}
