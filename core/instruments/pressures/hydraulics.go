package pressures

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/hydraulics"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Regulator balances the pressure regulator and draws line pressure against throttle, in health and with a fault.
func Regulator() instrument.Definition {
	faults := []instrument.Option{{ID: "none", Title: "nothing"}, {ID: "spring", Title: "spring weaker or stiffer"}, {ID: "bore", Title: "bore of the boost valve worn"}, {ID: "stuck-closed", Title: "stuck where it keeps the oil"}, {ID: "stuck-open", Title: "stuck where it lets oil off"}, {ID: "feed", Title: "throttle pressure limited"}}
	return instrument.Definition{
		ID: "line-curve", Title: "Regulator balance and line pressure curve", Group: "hydraulics", Hand: []string{"pressure gauge", "spring scale"},
		Answers: "What line pressure should it make from idle to full throttle? What with another spring, a worn bore or a stuck valve?",
		Source:  "spool in static balance (Merritt, recalled from memory)", Limits: "no flow forces, no friction; pump has oil to spare; throttle pressure rises in a straight line",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{instrument.CautionPressure},
		Inputs: []instrument.Input{
			instrument.NumberIn("area", "Regulator spool, area", quantity.Area, "cm²", 0.1, 20).Preset("2 cm²"),
			instrument.NumberIn("spring", "Spring at the working length", quantity.Force, "N", 1, 1000).Preset("80 N").About(1).Takes("spring-weigh.force", "spring-wire.force"),
			instrument.NumberIn("boost", "Boost valve, area that throttle pressure pushes on", quantity.Area, "cm²", 0, 20).Preset("2 cm²"),
			instrument.NumberIn("reverse", "Area that line pressure adds in boosted ranges", quantity.Area, "cm²", 0, 10).Preset("0.4 cm²"),
			instrument.NumberIn("closed", "Throttle pressure, closed", quantity.Pressure, "psi", 0, 300).Preset("2 psi"),
			instrument.NumberIn("full", "Throttle pressure, full", quantity.Pressure, "psi", 0, 400).Preset("85 psi"),
			instrument.NumberIn("throttle", "Throttle to look at", quantity.Ratio, "%", 0, 100).Preset("0 %"),
			instrument.ChoiceIn("boosted", "Range", instrument.Option{ID: "no", Title: "not boosted"}, instrument.Option{ID: "yes", Title: "boosted (reverse, manual low)"}).Preset("no"),
			instrument.ChoiceIn("fault", "What is wrong with it", faults...).Preset("none"),
			instrument.NumberIn("share", "How much of it", quantity.Ratio, "%", -90, 90).Preset("20 %").Explained("Spring: + weaker, − stiffer. Bore: share of the boost that leaks away. Feed: share of throttle pressure that is missing."),
			instrument.NumberIn("relief", "Relief valve opens at, or the pump can make", quantity.Pressure, "psi", 20, 2000).Preset("320 psi"),
			instrument.NumberIn("read", "Pressure read", quantity.Pressure, "psi", 0, 1000).Maybe().ReadWithin(1).Takes("pressure-rise.idle"),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u == nil || u.Regulator == nil {
				return nil
			}
			r := u.Regulator
			d.In("area").PutSI(r.Area)
			d.In("spring").PutSI(r.Spring)
			d.In("boost").PutSI(r.Boost)
			d.In("reverse").PutSI(r.Reverse)
			if u.Throttle != nil {
				d.In("closed").PutSI(u.Throttle.Closed)
				d.In("full").PutSI(u.Throttle.Full)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if v.N("reverse") >= v.N("area") {
				return nil, &instrument.InputError{Input: "reverse", Reason: "as large as the spool itself: pressure would rise without end", Accepted: "less than " + v.Say(v.N("area"), quantity.Area, "cm²")}
			}
			if v.N("full") < v.N("closed") {
				return nil, &instrument.InputError{Input: "full", Reason: "less than closed", Accepted: "throttle pressure that rises with the throttle"}
			}
			healthy, faulty := lineAt(v, v.N("throttle"), false), lineAt(v, v.N("throttle"), true)
			outs := []instrument.Output{instrument.Out("line", "line pressure", faulty, quantity.Pressure, "psi"), instrument.Out("healthy", "in health", healthy, quantity.Pressure, "psi"), instrument.Out("idle", "at idle", lineAt(v, 0, true), quantity.Pressure, "psi"), instrument.Out("full", "at full throttle", lineAt(v, 1, true), quantity.Pressure, "psi")}
			if v.Has("read") {
				outs = append(outs, instrument.Out("off", "read less computed", v.N("read")-faulty, quantity.Pressure, "psi"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
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
			f := instrument.Chart{Kind: "curve", Title: "Line pressure against throttle", X: instrument.Axis{Label: "throttle", Dimension: quantity.Ratio, Unit: "%"}, Y: instrument.Axis{Label: "line pressure", Dimension: quantity.Pressure, Unit: "psi"}, Words: "Line pressure rises with throttle pressure on the boost valve."}
			healthy, faulty := instrument.Series{Name: "in health", Role: "other"}, instrument.Series{Name: "with the fault", Role: "main"}
			for i := range 21 {
				t := float64(i) / 20
				healthy.Points = append(healthy.Points, [2]float64{t, lineAt(v, t, false)})
				faulty.Points = append(faulty.Points, [2]float64{t, lineAt(v, t, true)})
			}
			if v.Chosen("fault") == "none" {
				healthy.Role = "main"
				f.Series = []instrument.Series{healthy}
			} else {
				f.Series = []instrument.Series{healthy, faulty}
			}
			f.Marks = []instrument.Mark{{X: v.N("throttle"), Y: o[0].Value, Label: "here"}}
			if v.Has("read") {
				f.Marks = append(f.Marks, instrument.Mark{X: v.N("throttle"), Y: v.N("read"), Label: "read"})
			}
			r.Figures = []instrument.Chart{f}
		},
	}
}

// lineAt is line pressure at a throttle, with or without the fault.
func lineAt(v instrument.Values, throttle float64, fault bool) float64 {
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
		case "stuck-closed": // nothing is let off: up to the relief valve, whatever is asked for
			return v.N("relief")
		case "stuck-open": // the spring's share alone is kept, whatever the throttle asks
			pt, boosted = 0, false
			r.Spring *= 1 - math.Abs(v.N("share"))
		}
	}
	return r.Line(pt, boosted)
}

// ShiftPoints computes at what road speed a shift valve moves.
func ShiftPoints() instrument.Definition {
	return instrument.Definition{
		ID: "shift-point", Title: "Shift point from governor, throttle pressure and spring", Group: "hydraulics", Hand: []string{"pressure gauge", "spring scale"},
		Answers: "At what road speed does this valve move, and what does another spring or a weak governor do to it?",
		Source:  "spool in static balance; governor Σ m·r·ω²/A (textbooks, recalled from memory)", Limits: "hydraulic control; no friction, no hysteresis",
		Inputs: slices.Concat([]instrument.Input{
			instrument.NumberIn("governor-area", "Shift valve, area of governor pressure", quantity.Area, "cm²", 0.1, 20).Preset("3 cm²"),
			instrument.NumberIn("throttle-area", "and of throttle pressure", quantity.Area, "cm²", 0, 20).Preset("1 cm²"),
			instrument.NumberIn("spring", "Spring", quantity.Force, "N", 0, 500).Preset("45 N").About(1).Takes("spring-weigh.force", "spring-wire.force"),
			instrument.NumberIn("closed", "Throttle pressure, closed", quantity.Pressure, "psi", 0, 300).Preset("2 psi"),
			instrument.NumberIn("full", "Throttle pressure, full", quantity.Pressure, "psi", 0, 400).Preset("85 psi"),
			instrument.NumberIn("throttle", "Throttle to look at", quantity.Ratio, "%", 0, 100).Preset("30 %"),
		}, governorInputs(), []instrument.Input{
			instrument.NumberIn("leak", "Governor pressure lost", quantity.Ratio, "%", 0, 95).Preset("0 %"),
			instrument.NumberIn("read", "Shift read at", quantity.Speed, "km/h", 0, 400).Maybe().About(2),
		}),
		PartsOn: func(u *unitsheet.Unit) []instrument.Option {
			if u == nil {
				return nil
			}
			var out []instrument.Option
			for _, s := range u.Shifts {
				out = append(out, instrument.Option{ID: s.Control, Title: "into " + s.To})
			}
			return out
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u == nil || u.Governor == nil {
				return nil
			}
			for _, s := range u.Shifts {
				if s.Control != d.Part {
					continue
				}
				d.Title = "Shift point into " + s.To
				d.In("governor-area").PutSI(s.Valve.GovernorArea)
				d.In("throttle-area").PutSI(s.Valve.ThrottleArea)
				d.In("spring").PutSI(s.Valve.Spring)
			}
			governorOf(d, u)
			if u.Throttle != nil {
				d.In("closed").PutSI(u.Throttle.Closed)
				d.In("full").PutSI(u.Throttle.Full)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			at, err := shiftAt(v, v.N("throttle"))
			if err != nil {
				return nil, err
			}
			outs := []instrument.Output{instrument.Out("speed", "it moves at", at, quantity.Speed, "km/h"), instrument.Out("governor", "governor pressure there", movesAt(v, v.N("throttle")), quantity.Pressure, "psi")}
			if v.Has("read") {
				outs = append(outs, instrument.Out("off", "read over computed", v.N("read")/at, quantity.Ratio, "%"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
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
			s := instrument.Series{Name: "it moves", Role: "main"}
			for i := range 21 {
				t := float64(i) / 20
				if at, err := shiftAt(v, t); err == nil {
					s.Points = append(s.Points, [2]float64{t, at})
				}
			}
			f := instrument.Chart{Kind: "curve", Title: "Shift speed against throttle", X: instrument.Axis{Label: "throttle", Dimension: quantity.Ratio, Unit: "%"}, Y: instrument.Axis{Label: "road speed", Dimension: quantity.Speed, Unit: "km/h"}, Words: "More throttle, later shift.", Series: []instrument.Series{s}, Marks: []instrument.Mark{{X: v.N("throttle"), Y: o[0].Value, Label: "here"}}}
			if v.Has("read") {
				f.Marks = append(f.Marks, instrument.Mark{X: v.N("throttle"), Y: v.N("read"), Label: "read"})
			}
			r.Figures = []instrument.Chart{f}
		},
	}
}

func movesAt(v instrument.Values, throttle float64) float64 {
	valve := hydraulics.ShiftValve{GovernorArea: v.N("governor-area"), ThrottleArea: v.N("throttle-area"), Spring: v.N("spring")}
	return valve.Moves(hydraulics.Throttle{Closed: v.N("closed"), Full: v.N("full")}.Pressure(throttle))
}

func shiftAt(v instrument.Values, throttle float64) (float64, error) {
	g, err := governorIn(v)
	if err != nil {
		return 0, err
	}
	g.Area /= 1 - v.N("leak") // what leaks away is missing in proportion, as on a larger area
	w, err := g.Speed(movesAt(v, throttle))
	if err != nil {
		return 0, instrument.Impossible("masses", err)
	}
	return w / (2 * math.Pi) / v.N("per-km") * 1000, nil
}

// SpoolTravel compares how far a valve moves with how far it should.
func SpoolTravel() instrument.Definition {
	return instrument.Definition{
		ID: "spool-travel", Title: "Travel of a valve", Group: "hydraulics", Hand: []string{"caliper", "depth gauge"},
		Answers: "Does the valve move its whole way, or is it held by a spring, dirt or a bound bore?",
		Source:  "bore less valve less solid spring; common practice, no source: travel of 1.5 to 3 mm where it should be free means a wrong spring",
		Limits:  "valve dry and clean, pushed by hand; bolts at their torque, since a tight bolt binds a bore",
		Gauge:   "depth gauge, 0.05 mm",
		Inputs: []instrument.Input{
			instrument.NumberIn("bore", "Depth of the bore to its stop", quantity.Length, "mm", 1, 300).Preset("62.0 mm").ReadWithin(0.05),
			instrument.NumberIn("valve", "Length of the valve", quantity.Length, "mm", 1, 300).Preset("41.0 mm").ReadWithin(0.05),
			instrument.NumberIn("wire", "Spring: wire", quantity.Length, "mm", 0, 10).Preset("1.0 mm").ReadWithin(0.01).Takes("spring-wire.wire"),
			instrument.NumberIn("coils", "Spring: coils in all", quantity.Ratio, "", 0, 100).Preset("9").About(0.2).Takes("spring-wire.total"),
			instrument.NumberIn("read", "Travel by hand", quantity.Length, "mm", 0, 200).ReadWithin(0.1).Like("10.5"),
			instrument.NumberIn("needed", "Travel that it needs", quantity.Length, "mm", 0, 200).Preset("8 mm").Explained("From the ports: first edge to last edge."),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			can := v.N("bore") - v.N("valve") - v.N("wire")*v.N("coils")
			if can < 0 {
				return nil, &instrument.InputError{Input: "coils", Reason: "valve and pressed spring are longer than the bore", Accepted: "a shorter valve, fewer coils or thinner wire"}
			}
			if v.N("read") > can+2e-3 {
				return nil, &instrument.InputError{Input: "read", Reason: "more than bore, valve and spring allow (" + v.Say(can, quantity.Length, "mm") + ")", Accepted: "travel up to that"}
			}
			return []instrument.Output{instrument.Out("read", "travel", v.N("read"), quantity.Length, "mm"), instrument.Out("can", "could move", can, quantity.Length, "mm"), instrument.Out("missing", "missing", can-v.N("read"), quantity.Length, "mm")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			switch {
			case o[1].Value < v.N("needed"):
				r.Headline = "Wrong spring or valve: even free it could move only " + v.Say(o[1].Value, quantity.Length, "mm") + ", and " + v.Say(v.N("needed"), quantity.Length, "mm") + " are needed."
			case o[0].Value < v.N("needed"):
				r.Headline = "It hangs: " + v.SayOutput(o[0]) + " of " + v.Say(v.N("needed"), quantity.Length, "mm") + " needed. Dirt, a burr, or a bore bound by bolts."
			default:
				r.Headline = "It moves its whole way."
			}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Travel", Y: instrument.Axis{Label: "travel", Dimension: quantity.Length, Unit: "mm"}, Words: "Travel by hand and travel possible, beside what is needed.",
				Bars: []instrument.Bar{{Label: "by hand", Value: o[0].Value, Need: v.N("needed"), Text: v.SayOutput(o[0]), Emphasised: true}, {Label: "could move", Value: o[1].Value, Need: v.N("needed"), Text: v.SayOutput(o[1])}}}}
		},
	}
}

// Modulator is the pressure that a vacuum unit asks for.
func Modulator() instrument.Definition {
	return instrument.Definition{
		ID: "modulator", Title: "Vacuum modulator", Group: "hydraulics", Hand: []string{"vacuum gauge", "hand pump"},
		Answers: "What throttle pressure does it ask for at this vacuum, and what does a leaking hose make of it?",
		Source:  "spring against diaphragm, static balance", Limits: "single diaphragm; a split one lets fluid into the engine besides",
		Gauge: "vacuum gauge, 1 kPa",
		Inputs: []instrument.Input{
			instrument.NumberIn("vacuum", "Vacuum at the manifold", quantity.Pressure, "kPa", 0, 100).Preset("60 kPa").ReadWithin(1).Takes("vacuum.modulator"),
			instrument.NumberIn("lost", "Vacuum lost on the way", quantity.Ratio, "%", 0, 100).Preset("0 %"),
			instrument.NumberIn("diaphragm", "Diaphragm, effective area", quantity.Area, "cm²", 1, 200).Preset("20 cm²"),
			instrument.NumberIn("spring", "Spring", quantity.Force, "N", 1, 1000).Preset("150 N").About(3),
			instrument.NumberIn("valve", "Valve, area", quantity.Area, "cm²", 0.05, 20).Preset("2.5 cm²"),
			instrument.NumberIn("read", "Pressure read", quantity.Pressure, "psi", 0, 300).Maybe().ReadWithin(1),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			m := hydraulics.Modulator{Diaphragm: v.N("diaphragm"), Spring: v.N("spring"), Valve: v.N("valve")}
			at := v.N("vacuum") * (1 - v.N("lost"))
			return []instrument.Output{instrument.Out("pressure", "throttle pressure", m.Pressure(at), quantity.Pressure, "psi"), instrument.Out("closed", "with the engine's best vacuum of 70 kPa", m.Pressure(70e3), quantity.Pressure, "psi"), instrument.Out("none", "with the hose off", m.Pressure(0), quantity.Pressure, "psi")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
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
			s := instrument.Series{Name: "throttle pressure", Role: "main"}
			for i := range 21 {
				x := 100e3 * float64(i) / 20
				s.Points = append(s.Points, [2]float64{x, m.Pressure(x)})
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Throttle pressure against vacuum", X: instrument.Axis{Label: "vacuum", Dimension: quantity.Pressure, Unit: "kPa"}, Y: instrument.Axis{Label: "throttle pressure", Dimension: quantity.Pressure, Unit: "psi"}, Words: "Less vacuum, more pressure.", Series: []instrument.Series{s}, Marks: []instrument.Mark{{X: v.N("vacuum") * (1 - v.N("lost")), Y: o[0].Value, Label: "here"}}}}
		},
	}
}
