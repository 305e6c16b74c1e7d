package instrument

import (
	"fmt"
	"math"

	"innercompass/core/converter"
	"innercompass/core/friction"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// stallSpeed reads a stall test against the unit's window.
func stallSpeed() Definition {
	return Definition{
		ID: "stall-speed", Title: "Stall speed, read", Group: "converter", Hand: []string{"tachometer"},
		Answers: "Does the engine stall where converter and clutches should hold it?",
		Source:  "common practice, no source: about a third low = stator freewheel; a little low = engine; high = an element slips",
		Limits:  "warm engine in good tune, 5 s at most; height and heat lower it: see the predicted stall speed",
		Gauge:   "tachometer, 10 rpm", Cautions: []string{cautionStall}, States: []string{"stall-speed"},
		Inputs: []Input{
			num("speed", "Engine speed at stall", quantity.RotationalSpeed, "rpm", 0, 9500).read(30).like("2050"),
			num("low", "Window, low end", quantity.RotationalSpeed, "rpm", 300, 6000).preset("1950"),
			num("high", "Window, high end", quantity.RotationalSpeed, "rpm", 300, 6000).preset("2150"),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.Stall.Low) {
				w := u.Stall
				d.input("speed").Window = &w
				d.fix(map[string]float64{"low": w.Low.SI, "high": w.High.SI})
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			low, high := v.N("low"), v.N("high")
			if err := ordered(v, "low", "high"); err != nil {
				return nil, err
			}
			n := v.N("speed")
			return []Output{
				out("speed", "stall speed", n, quantity.RotationalSpeed, "rpm").within(low, high),
				out("of-middle", "of the middle of the window", n/((low+high)/2), quantity.Ratio, "%"),
			}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			mid := (v.N("low") + v.N("high")) / 2
			third, err := measure.Compare(o[0].Value, o[0].U, 0.78*mid, v.N("high"))
			if err != nil {
				return // impossible: the same values were compared before
			}
			c := o[0].likelihoods("normal", "below", "high")
			l := map[string]float64{"normal": c["normal"], "high": c["high"], "much-low": third.Below, "low": max(0, c["below"]-third.Below)}
			r.Stated = []DerivedReading{stated("stall-speed", []string{"normal", "high", "low", "much-low"}, l, v.SayOutput(o[0]))}
			r.Headline = map[string]string{
				"normal": "Stall speed is in its window: converter, engine and the elements of this range hold.", "high": "High: an element of this range slips.",
				"low": "A little low: look at the engine first.", "much-low": "About a third low: the stator freewheel slips.",
			}[r.Stated[0].State]
			r.Detail = fmt.Sprintf("Expected %s to %s.", v.Say(v.N("low"), quantity.RotationalSpeed, "rpm"), v.Say(v.N("high"), quantity.RotationalSpeed, "rpm"))
			r.Points = []Point{{"speed", quantity.Quantity{SI: o[0].Value, Dimension: quantity.RotationalSpeed}, string(o[0].Verdict)}}
		},
	}
}

// stallPredicted computes where engine and converter meet in the air of the place.
func stallPredicted() Definition {
	return Definition{
		ID: "stall-predicted", Title: "Stall speed, predicted", Group: "converter", Hand: []string{"paper"},
		Answers: "Where should it stall with this engine, this converter and this air?",
		Source:  "SAE J643 (K = N/√T); air by ISO 2533 and the gas law (recalled from memory, checked against the balance)",
		Limits:  "engine without charger; full-throttle torque; oil at temperature",
		Inputs: []Input{
			num("k", "K of the converter at stall", quantity.KFactor, "rpm/√(N·m)", 20, 600).preset("125").about(2).help("Stall speed over the root of the torque there. Not known? Type stall speed and torque from the sheet below instead.").optional(),
			num("stall", "Stall speed of the sheet", quantity.RotationalSpeed, "rpm", 300, 6000).optional().help("With the engine's torque this gives K."),
			list("speeds", "Engine speeds", quantity.RotationalSpeed, "rpm", 100, 9500).preset("1000; 2000; 3000; 4000 rpm"),
			list("torques", "Full-throttle torque at each", quantity.Torque, "N·m", 1, 5000).preset("220; 270; 280; 265 N·m"),
			num("height", "Height above the sea", quantity.Distance, "km", -0.5, 6).preset("0").help("In km or mi."),
			num("air", "Temperature of the air taken in", quantity.Temperature, "°C", -50, 80).preset("25 °C").about(3),
			num("read", "Stall speed read", quantity.RotationalSpeed, "rpm", 0, 9500).read(30).optional().from("stall-speed.speed"),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.Stall.Low) && unitsheet.Known(u.MaxTorque) {
				d.input("k").Default = ""
				d.input("stall").putSI((u.Stall.Low.SI + u.Stall.High.SI) / 2)
				d.input("speeds").Default, d.input("torques").Default = u.Stall.Low.Format("rpm"), u.MaxTorque.Format("N·m")
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			speeds, torques := v.List("speeds"), v.List("torques")
			if len(speeds) != len(torques) {
				return nil, &InputError{"torques", fmt.Sprintf("%d torques for %d speeds", len(torques), len(speeds)), "one torque for each speed"}
			}
			var points []converter.CurvePoint
			for i := range speeds {
				points = append(points, converter.CurvePoint{Speed: speeds[i], Torque: torques[i]})
			}
			engine, err := converter.NewCurve(points)
			if err != nil {
				return nil, impossible("speeds", err)
			}
			k := v.N("k")
			switch {
			case v.Has("k"):
			case v.Has("stall"):
				k = converter.Factor(v.N("stall"), engine.At(v.N("stall")))
			default:
				return nil, &InputError{"k", "neither K nor the stall speed of the sheet is known", "one of the two"}
			}
			factor := converter.AirFactor(converter.AirPressure(v.N("height")), v.N("air"))
			here := make(converter.Curve, len(engine))
			for i, p := range engine {
				here[i] = converter.CurvePoint{Speed: p.Speed, Torque: p.Torque * factor}
			}
			speed, torque, err := converter.Stall(here, k)
			if err != nil {
				return nil, impossible("k", err)
			}
			outs := []Output{out("stall", "stall speed here", speed, quantity.RotationalSpeed, "rpm"), out("torque", "engine torque there", torque, quantity.Torque, "N·m"),
				out("air", "torque left in this air", factor, quantity.Ratio, "%"), out("k", "K", k, quantity.KFactor, "rpm/√(N·m)")}
			if v.Has("read") {
				outs = append(outs, out("off", "read over predicted", v.N("read")/speed, quantity.Ratio, "%"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = "It should stall at " + v.SayOutput(o[0]) + "."
			if v.Has("read") {
				switch off := v.N("read") / o[0].Value; {
				case off < 0.78:
					r.Headline += " Read about a third lower: the stator freewheel slips, or the engine is very weak."
				case off < 0.93:
					r.Headline += " Read lower: look at the engine first."
				case off > 1.07:
					r.Headline += " Read higher: an element of this range slips."
				default:
					r.Headline += " That is what was read."
				}
			}
			r.Figures = []Chart{stallFigure(v, o)}
		},
	}
}

// stallFigure crosses the engine's torque with what the impeller takes.
func stallFigure(v Values, o []Output) Chart {
	k, factor := o[3].Value, o[2].Value
	f := Chart{Kind: "curve", Title: "Where engine and impeller meet", X: Axis{"engine speed", quantity.RotationalSpeed, "rpm"}, Y: Axis{"torque", quantity.Torque, "N·m"},
		Words: "Engine torque and the torque that the impeller takes cross at the stall speed."}
	var engine converter.Curve
	for i, s := range v.List("speeds") {
		engine = append(engine, converter.CurvePoint{Speed: s, Torque: v.List("torques")[i] * factor})
	}
	engine, err := converter.NewCurve(engine)
	if err != nil {
		return f
	}
	a, b := Series{Name: "engine here", Role: "main"}, Series{Name: "impeller takes", Role: "other"}
	top := 1.25 * o[0].Value
	for i := range 41 {
		n := top * float64(i) / 40
		a.Points = append(a.Points, [2]float64{n, engine.At(n)})
		b.Points = append(b.Points, [2]float64{n, n * n / (k * k)})
	}
	f.Series, f.Marks = []Series{a, b}, []Mark{{o[0].Value, o[1].Value, "stall"}}
	return f
}

// converterWork is power, efficiency and heat at one point of work.
func converterWork() Definition {
	return Definition{
		ID: "converter-heat", Title: "Converter at work: ratio, efficiency, heat", Group: "converter", Hand: []string{"tachometer", "scan tool"},
		Answers: "How much of the power becomes heat, and how long may that last?",
		Source:  "SAE J643 definitions; heat capacity of oil and steel (recalled from memory)",
		Limits:  "steady; no heat leaves meanwhile, so the time is the least", Cautions: []string{cautionStall},
		Inputs: []Input{
			num("engine", "Engine speed", quantity.RotationalSpeed, "rpm", 300, 9000).preset("2100").read(20).from("stall-speed.speed"),
			num("torque", "Engine torque", quantity.Torque, "N·m", 1, 5000).preset("260 N·m").about(13).from("stall-predicted.torque"),
			num("turbine", "Turbine speed", quantity.RotationalSpeed, "rpm", 0, 9000).preset("0").read(10).standing().help("0 at stall."),
			num("ratio", "Torque ratio there", quantity.Ratio, "", 1, 4).preset("2").about(0.05).help("About 2 at stall in most, 1 from the coupling point on."),
			num("oil", "Oil that takes the heat", quantity.Volume, "L", 0.1, 60).preset("6 L"),
			num("steel", "Steel that takes it", quantity.Mass, "kg", 0, 200).preset("10 kg"),
			num("from", "Fluid now", quantity.Temperature, "°C", -40, 200).preset("80 °C"),
			num("to", "Highest that is allowed", quantity.Temperature, "°C", 0, 250).preset("130 °C"),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u != nil && u.Sheet.Converter != nil {
				d.input("engine").putSI((u.Stall.Low.SI + u.Stall.High.SI) / 2)
				d.input("torque").put(u.MaxTorque)
				if u.Sheet.Converter.TorqueRatio > 0 {
					d.input("ratio").putSI(u.Sheet.Converter.TorqueRatio)
				}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if v.N("turbine") > v.N("engine") {
				return nil, &InputError{"turbine", "faster than the engine: the vehicle drives the engine", "a turbine speed up to the engine speed"}
			}
			if v.N("to") <= v.N("from") {
				return nil, &InputError{"to", "not above the temperature now", "a higher temperature"}
			}
			p, err := converter.Work(v.N("engine"), v.N("torque"), v.N("turbine"), v.N("torque")*v.N("ratio"))
			if err != nil {
				return nil, &InputError{"ratio", "more power would come out than goes in", "a torque ratio that falls towards 1 as the turbine catches up"}
			}
			rate, err := converter.HeatRate(p.Heat, v.N("oil"), v.N("steel"))
			if err != nil {
				return nil, impossible("oil", err)
			}
			seconds := math.Inf(1)
			if rate > 0 {
				seconds = (v.N("to") - v.N("from")) / rate
			}
			outs := []Output{out("heat", "heat", p.Heat, quantity.Power, "kW"), out("speed-ratio", "speed ratio", p.SpeedRatio, quantity.Ratio, ""),
				out("efficiency", "efficiency", p.Efficiency, quantity.Ratio, "%"), out("rise", "rise in one second", rate, quantity.Rise, "°C")}
			if seconds < 1e5 {
				outs = append(outs, out("seconds", "time until the highest temperature", seconds, quantity.Time, "s"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = fmt.Sprintf("%s of heat, %s of what goes in.", v.SayOutput(o[0]), v.Say(1-o[2].Value, quantity.Ratio, "%"))
			if len(o) > 4 {
				r.Detail = fmt.Sprintf("The highest temperature is reached after %s. A stall test lasts 5 s at most, whatever this says.", v.SayOutput(o[4]))
			}
			f := Chart{Kind: "curve", Title: "Temperature while it lasts", X: Axis{"time", quantity.Time, "s"}, Y: Axis{"fluid", quantity.Temperature, "°C"}, Words: "The temperature rises evenly."}
			span := 10.0
			if len(o) > 4 {
				span = math.Min(60, math.Max(5, 1.2*o[4].Value))
			}
			f.Series = []Series{{"fluid", "main", [][2]float64{{0, v.N("from")}, {span, v.N("from") + span*o[3].Value}}}, {"highest", "limit", [][2]float64{{0, v.N("to")}, {span, v.N("to")}}}}
			r.Figures = []Chart{f}
		},
	}
}

// Yes and no, and when nobody looked.
var yesNo = []Option{{"yes", "yes"}, {"no", "no"}, {"unknown", "not looked at"}}

// pumpTurning joins what free looks say of whether the pump turns.
func pumpTurning() Definition {
	// How often each look is so with the pump turning and with it standing still (common practice, no source).
	looks := []struct {
		id, label         string
		turning, standing float64
	}{
		{"falls", "Level falls when the engine starts", 0.93, 0.04},
		{"port", "Oil comes out of the port with force, engine running", 0.97, 0.03},
		{"high", "Level far above the marks with the engine off", 0.25, 0.9},
		{"whine", "A whine that follows engine speed", 0.15, 0.02},
	}
	var inputs []Input
	for _, l := range looks {
		inputs = append(inputs, choice(l.id, l.label, yesNo...).preset("unknown"))
	}
	return Definition{
		ID: "pump-turning", Title: "Is the pump turning?", Group: "converter", Hand: []string{"dipstick", "eye"},
		Answers: "Engine runs, no drive in any range: is the pump driven at all?",
		Source:  "common practice, no source; Bayes' theorem with even odds beforehand", Limits: "a unit whose hub or shaft drives the pump; engine off long enough to drain back",
		Cautions: []string{cautionRunning, cautionPressure}, Inputs: inputs, States: []string{"port-flow"},
		compute: func(v Values) ([]Output, error) {
			odds := 1.0
			for _, l := range looks {
				switch v.Chosen(l.id) {
				case "yes":
					odds *= l.turning / l.standing
				case "no":
					odds *= (1 - l.turning) / (1 - l.standing)
				}
			}
			return []Output{out("turning", "the pump turns", odds/(1+odds), quantity.Ratio, "%")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			switch p := o[0].Value; {
			case p > 0.9:
				r.Headline = "The pump turns. No drive has another reason: level, pressure, what the range needs."
			case p < 0.1:
				r.Headline = "The pump does not turn: hub, pump drive or flexplate. The clutches usually survive this: they drop out at once."
			default:
				r.Headline = "Not clear yet: look at the level with the engine off and on, then at the port."
			}
			if seen, ok := map[string]string{"yes": "force", "no": "none"}[v.Chosen("port")]; ok {
				l := map[string]float64{"force": 0, "none": 0}
				l[seen] = 1
				r.Stated = []DerivedReading{stated("port-flow", []string{"force", "none"}, l, "seen at the port")}
			}
			bars := Chart{Kind: "bars", Title: "What each look says", Words: "How often each answer is met with the pump turning and with it standing.", Y: Axis{"", quantity.Ratio, "%"}}
			for _, l := range looks {
				a, b := l.turning, l.standing
				if v.Chosen(l.id) == "no" {
					a, b = 1-a, 1-b
				}
				if v.Chosen(l.id) != "unknown" {
					bars.Bars = append(bars.Bars, Bar{Label: l.label + ": " + v.Chosen(l.id), Value: a / (a + b), Text: fmt.Sprintf("%.0f : %.0f for turning", 100*a, 100*b)})
				}
			}
			r.Figures = []Chart{bars}
		},
	}
}

// lockupSlip reads the slip of the converter clutch.
func lockupSlip() Definition {
	return Definition{
		ID: "lockup-slip", Title: "Slip of the converter clutch", Group: "converter", Hand: []string{"scan tool", "tachometer"},
		Answers: "Does the clutch in the converter hold when it should?",
		Source:  "common practice, no source: under about 50 rpm is acceptable where it should hold; electronic control may hold a slip on purpose",
		Limits:  "lock-up commanded, steady throttle, fluid hot",
		Gauge:   "scan tool, 10 rpm", Cautions: []string{"A second person drives or reads, never both: clear road, the law's limits."}, States: []string{"tcc-slip"},
		Inputs: []Input{
			num("engine", "Engine speed", quantity.RotationalSpeed, "rpm", 300, 9000).read(5).like("1850"),
			num("turbine", "Turbine (input shaft) speed", quantity.RotationalSpeed, "rpm", 0, 9000).read(5).like("1830"),
			num("allowed", "Slip that is allowed", quantity.RotationalSpeed, "rpm", 0, 500).preset("50 rpm"),
			num("torque", "Engine torque", quantity.Torque, "N·m", 0, 5000).optional().help("For the heat."),
		},
		compute: func(v Values) ([]Output, error) {
			slip := v.N("engine") - v.N("turbine")
			if slip < -si(100, quantity.RotationalSpeed, "rpm") {
				return nil, &InputError{"turbine", "much faster than the engine: the vehicle drives it", "values read under load"}
			}
			outs := []Output{out("slip", "slip", slip, quantity.RotationalSpeed, "rpm").within(-v.N("allowed"), v.N("allowed"))}
			if v.Has("torque") {
				outs = append(outs, out("heat", "heat in the clutch", math.Abs(slip)*v.N("torque"), quantity.Power, "kW"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			switch o[0].Verdict {
			case measure.Conforms:
				r.Headline = "It holds: " + v.SayOutput(o[0]) + " of slip."
			case measure.Above:
				r.Headline = "It slips by " + v.SayOutput(o[0]) + ": worn lining first, then its hub seal, then the valve that feeds it."
			default:
				r.Headline = "Near the limit: " + v.SayOutput(o[0]) + ". Read it again under steady load."
			}
			// One reading cannot tell a steady slip from one that surges; a surge is rarer.
			c := o[0].likelihoods("small", "under", "over")
			l := map[string]float64{"small": c["small"] + c["under"], "steady": 0.7 * c["over"], "surging": 0.3 * c["over"]}
			r.Stated = []DerivedReading{stated("tcc-slip", []string{"small", "steady"}, l, v.SayOutput(o[0]))}
		},
	}
}

// lockupCapacity is what the converter clutch holds.
func lockupCapacity() Definition {
	return Definition{
		ID: "lockup-capacity", Title: "Capacity of the converter clutch", Group: "converter", Hand: []string{"caliper", "pressure gauge"},
		Answers: "With what force is the plate pressed, and what torque does it hold?",
		Source:  "uniform wear, as for plates (textbooks of machine elements)", Limits: "pressure difference across the plate, not line pressure; lining worn in; no heat",
		Inputs: []Input{
			num("apply", "Pressure on the apply side", quantity.Pressure, "psi", 0, 400).preset("95 psi").read(1),
			num("release", "Pressure on the release side", quantity.Pressure, "psi", 0, 400).preset("8 psi").read(1),
			num("plate", "Plate, outer diameter of what the pressure pushes on", quantity.Length, "mm", 50, 500).preset("250 mm").about(0.5),
			num("hub", "and inner diameter", quantity.Length, "mm", 0, 300).preset("60 mm").about(0.5),
			num("outer", "Lining, outer diameter", quantity.Length, "mm", 50, 500).preset("248 mm").about(0.5),
			num("inner", "Lining, inner diameter", quantity.Length, "mm", 30, 490).preset("218 mm").about(0.5),
			count("faces", "Faces that rub", 1, 6).preset("1"),
			num("friction", "Friction coefficient", quantity.Ratio, "", 0.02, 0.5).preset("0.12").about(0.01),
			num("torque", "Torque that it must hold", quantity.Torque, "N·m", 0, 5000).preset("250 N·m"),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.MaxTorque) {
				d.input("torque").put(u.MaxTorque)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if err := lining(v); err != nil {
				return nil, err
			}
			if v.N("hub") >= v.N("plate") {
				return nil, &InputError{"hub", "the hub is not smaller than the plate", "a diameter under that of the plate"}
			}
			if v.N("release") >= v.N("apply") {
				return nil, &InputError{"release", "the release side has as much pressure as the apply side: nothing is pressed", "less than the apply side"}
			}
			area := math.Pi / 4 * (v.N("plate")*v.N("plate") - v.N("hub")*v.N("hub"))
			p := v.N("apply") - v.N("release")
			c := friction.Plates{Faces: v.Count("faces"), Outer: v.N("outer") / 2, Inner: v.N("inner") / 2, Mu: v.N("friction"), Piston: area}
			outs := []Output{out("capacity", "torque that it holds", c.Capacity(p), quantity.Torque, "N·m"), out("force", "force on the plate", p*area, quantity.Force, "kN")}
			if v.N("torque") > 0 {
				outs = append(outs, out("safety", "of what it must hold", c.Capacity(p)/v.N("torque"), quantity.Ratio, ""))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = fmt.Sprintf("It holds %s, pressed with %s.", v.SayOutput(o[0]), v.Say(o[1].Value, quantity.Force, "kN"))
			if len(o) > 2 {
				r.Detail = map[bool]string{true: "That is enough for the torque asked of it.", false: "That is less than the torque asked of it: it slips."}[o[2].Value >= 1]
			}
			r.Figures = []Chart{{Kind: "bars", Title: "Held and asked", Y: Axis{"torque", quantity.Torque, "N·m"}, Words: "Torque held beside the torque asked.",
				Bars: []Bar{{Label: "holds", Value: o[0].Value, Need: v.N("torque"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}
