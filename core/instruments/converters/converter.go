package converters

import (
	"fmt"
	"math"

	"innercompass/core/converter"
	"innercompass/core/friction"
	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// StallSpeed reads a stall test against the unit's window.
func StallSpeed() instrument.Definition {
	return instrument.Definition{
		ID: "stall-speed", Title: "Stall speed, read", Group: "converter", Hand: []string{"tachometer"},
		Answers: "Does the engine stall where converter and clutches should hold it?",
		Source:  "common practice, no source: about a third low = stator one-way clutch; a little low = engine; high = an element slips",
		Limits:  "warm engine in good tune, 5 s at most; height and heat lower it: see the predicted stall speed",
		Gauge:   "tachometer, 10 rpm", Cautions: []string{instrument.CautionStall}, States: []string{"stall-speed"},
		Inputs: []instrument.Input{
			instrument.NumberIn("speed", "Engine speed at stall", quantity.RotationalSpeed, "rpm", 0, 9500).ReadWithin(30).Like("2050"),
			instrument.NumberIn("low", "Window, low end", quantity.RotationalSpeed, "rpm", 300, 6000).Preset("1950"),
			instrument.NumberIn("high", "Window, high end", quantity.RotationalSpeed, "rpm", 300, 6000).Preset("2150"),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.Stall.Low) {
				w := u.Stall
				d.In("speed").Window = &w
				d.Fix(map[string]float64{"low": w.Low.SI, "high": w.High.SI})
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			low, high := v.N("low"), v.N("high")
			if err := instrument.Ordered(v, "low", "high"); err != nil {
				return nil, err
			}
			n := v.N("speed")
			return []instrument.Output{
				instrument.Out("speed", "stall speed", n, quantity.RotationalSpeed, "rpm").Within(low, high),
				instrument.Out("of-middle", "of the middle of the window", n/((low+high)/2), quantity.Ratio, "%"),
			}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			mid := (v.N("low") + v.N("high")) / 2
			third, err := measure.Compare(o[0].Value, o[0].U, 0.78*mid, v.N("high"))
			if err != nil {
				return // impossible: the same values were compared before
			}
			c := o[0].Likelihoods("normal", "below", "high")
			l := map[string]float64{"normal": c["normal"], "high": c["high"], "much-low": third.Below, "low": max(0, c["below"]-third.Below)}
			r.Stated = []instrument.DerivedReading{instrument.Derive("stall-speed", []string{"normal", "high", "low", "much-low"}, l, v.SayOutput(o[0]))}
			r.Headline = map[string]string{
				"normal": "Stall speed is in its window: converter, engine and the elements of this range hold.", "high": "High: an element of this range slips.",
				"low": "A little low: look at the engine first.", "much-low": "About a third low: the stator one-way clutch slips.",
			}[r.Stated[0].State]
			r.Detail = fmt.Sprintf("Expected %s to %s.", v.Say(v.N("low"), quantity.RotationalSpeed, "rpm"), v.Say(v.N("high"), quantity.RotationalSpeed, "rpm"))
			r.Points = []instrument.Point{{Input: "speed", Value: quantity.Quantity{SI: o[0].Value, Dimension: quantity.RotationalSpeed}, Verdict: string(o[0].Verdict)}}
		},
	}
}

// StallPredicted computes where engine and converter meet in the air of the place.
func StallPredicted() instrument.Definition {
	return instrument.Definition{
		ID: "stall-predicted", Title: "Stall speed, predicted", Group: "converter", Hand: []string{"paper"},
		Answers: "Where should it stall with this engine, this converter and this air?",
		Source:  "SAE J643 (K = N/√T); air by ISO 2533 and the gas law (recalled from memory, checked against the balance)",
		Limits:  "engine without charger; full-throttle torque; oil at temperature",
		Inputs: []instrument.Input{
			instrument.NumberIn("k", "K of the converter at stall", quantity.KFactor, "rpm/√(N·m)", 20, 600).Preset("125").About(2).Explained("Stall speed over the root of the torque there. Not known? Type stall speed and torque from the sheet below instead.").Maybe(),
			instrument.NumberIn("stall", "Stall speed of the sheet", quantity.RotationalSpeed, "rpm", 300, 6000).Maybe().Explained("With the engine's torque this gives K."),
			instrument.ListIn("speeds", "Engine speeds", quantity.RotationalSpeed, "rpm", 100, 9500).Preset("1000; 2000; 3000; 4000 rpm"),
			instrument.ListIn("torques", "Full-throttle torque at each", quantity.Torque, "N·m", 1, 5000).Preset("220; 270; 280; 265 N·m"),
			instrument.NumberIn("height", "Height above the sea", quantity.Distance, "km", -0.5, 6).Preset("0").Explained("In km or mi."),
			instrument.NumberIn("air", "Temperature of the air taken in", quantity.Temperature, "°C", -50, 80).Preset("25 °C").About(3),
			instrument.NumberIn("read", "Stall speed read", quantity.RotationalSpeed, "rpm", 0, 9500).ReadWithin(30).Maybe().Takes("stall-speed.speed"),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.Stall.Low) && unitsheet.Known(u.MaxTorque) {
				d.In("k").Default = ""
				d.In("stall").PutSI((u.Stall.Low.SI + u.Stall.High.SI) / 2)
				d.In("speeds").Default, d.In("torques").Default = u.Stall.Low.Format("rpm"), u.MaxTorque.Format("N·m")
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			speeds, torques := v.List("speeds"), v.List("torques")
			if len(speeds) != len(torques) {
				return nil, &instrument.InputError{Input: "torques", Reason: fmt.Sprintf("%d torques for %d speeds", len(torques), len(speeds)), Accepted: "one torque for each speed"}
			}
			var points []converter.CurvePoint
			for i := range speeds {
				points = append(points, converter.CurvePoint{Speed: speeds[i], Torque: torques[i]})
			}
			engine, err := converter.NewCurve(points)
			if err != nil {
				return nil, instrument.Impossible("speeds", err)
			}
			k := v.N("k")
			switch {
			case v.Has("k"):
			case v.Has("stall"):
				k = converter.Factor(v.N("stall"), engine.At(v.N("stall")))
			default:
				return nil, &instrument.InputError{Input: "k", Reason: "neither K nor the stall speed of the sheet is known", Accepted: "one of the two"}
			}
			factor := converter.AirFactor(converter.AirPressure(v.N("height")), v.N("air"))
			here := make(converter.Curve, len(engine))
			for i, p := range engine {
				here[i] = converter.CurvePoint{Speed: p.Speed, Torque: p.Torque * factor}
			}
			speed, torque, err := converter.Stall(here, k)
			if err != nil {
				return nil, instrument.Impossible("k", err)
			}
			outs := []instrument.Output{instrument.Out("stall", "stall speed here", speed, quantity.RotationalSpeed, "rpm"), instrument.Out("torque", "engine torque there", torque, quantity.Torque, "N·m"),
				instrument.Out("air", "torque left in this air", factor, quantity.Ratio, "%"), instrument.Out("k", "K", k, quantity.KFactor, "rpm/√(N·m)")}
			if v.Has("read") {
				outs = append(outs, instrument.Out("off", "read over predicted", v.N("read")/speed, quantity.Ratio, "%"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = "It should stall at " + v.SayOutput(o[0]) + "."
			if v.Has("read") {
				switch off := v.N("read") / o[0].Value; {
				case off < 0.78:
					r.Headline += " Read about a third lower: the stator one-way clutch slips, or the engine is very weak."
				case off < 0.93:
					r.Headline += " Read lower: look at the engine first."
				case off > 1.07:
					r.Headline += " Read higher: an element of this range slips."
				default:
					r.Headline += " That is what was read."
				}
			}
			r.Figures = []instrument.Chart{stallFigure(v, o)}
		},
	}
}

// stallFigure crosses the engine's torque with what the impeller takes.
func stallFigure(v instrument.Values, o []instrument.Output) instrument.Chart {
	k, factor := o[3].Value, o[2].Value
	f := instrument.Chart{Kind: "curve", Title: "Where engine and impeller meet", X: instrument.Axis{Label: "engine speed", Dimension: quantity.RotationalSpeed, Unit: "rpm"}, Y: instrument.Axis{Label: "torque", Dimension: quantity.Torque, Unit: "N·m"},
		Words: "Engine torque and the torque that the impeller takes cross at the stall speed."}
	var engine converter.Curve
	for i, s := range v.List("speeds") {
		engine = append(engine, converter.CurvePoint{Speed: s, Torque: v.List("torques")[i] * factor})
	}
	engine, err := converter.NewCurve(engine)
	if err != nil {
		return f
	}
	a, b := instrument.Series{Name: "engine here", Role: "main"}, instrument.Series{Name: "impeller takes", Role: "other"}
	top := 1.25 * o[0].Value
	for i := range 41 {
		n := top * float64(i) / 40
		a.Points = append(a.Points, [2]float64{n, engine.At(n)})
		b.Points = append(b.Points, [2]float64{n, n * n / (k * k)})
	}
	f.Series, f.Marks = []instrument.Series{a, b}, []instrument.Mark{{X: o[0].Value, Y: o[1].Value, Label: "stall"}}
	return f
}

// Work is power, efficiency and heat at one point of work.
func Work() instrument.Definition {
	return instrument.Definition{
		ID: "converter-heat", Title: "Converter at work: ratio, efficiency, heat", Group: "converter", Hand: []string{"tachometer", "scan tool"},
		Answers: "How much of the power becomes heat, and how long may that last?",
		Source:  "SAE J643 definitions; heat capacity of oil and steel (recalled from memory)",
		Limits:  "steady; no heat leaves meanwhile, so the time is the least", Cautions: []string{instrument.CautionStall},
		Inputs: []instrument.Input{
			instrument.NumberIn("engine", "Engine speed", quantity.RotationalSpeed, "rpm", 300, 9000).Preset("2100").ReadWithin(20).Takes("stall-speed.speed"),
			instrument.NumberIn("torque", "Engine torque", quantity.Torque, "N·m", 1, 5000).Preset("260 N·m").About(13).Takes("stall-predicted.torque"),
			instrument.NumberIn("turbine", "Turbine speed", quantity.RotationalSpeed, "rpm", 0, 9000).Preset("0").ReadWithin(10).Standing().Explained("0 at stall."),
			instrument.NumberIn("ratio", "Torque ratio there", quantity.Ratio, "", 1, 4).Preset("2").About(0.05).Explained("About 2 at stall in most, 1 from the coupling point on."),
			instrument.NumberIn("oil", "Oil that takes the heat", quantity.Volume, "L", 0.1, 60).Preset("6 L"),
			instrument.NumberIn("steel", "Steel that takes it", quantity.Mass, "kg", 0, 200).Preset("10 kg"),
			instrument.NumberIn("from", "Fluid now", quantity.Temperature, "°C", -40, 200).Preset("80 °C"),
			instrument.NumberIn("to", "Highest that is allowed", quantity.Temperature, "°C", 0, 250).Preset("130 °C"),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && u.Sheet.Converter != nil {
				d.In("engine").PutSI((u.Stall.Low.SI + u.Stall.High.SI) / 2)
				d.In("torque").Put(u.MaxTorque)
				if u.Sheet.Converter.TorqueRatio > 0 {
					d.In("ratio").PutSI(u.Sheet.Converter.TorqueRatio)
				}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if v.N("turbine") > v.N("engine") {
				return nil, &instrument.InputError{Input: "turbine", Reason: "faster than the engine: the vehicle drives the engine", Accepted: "a turbine speed up to the engine speed"}
			}
			if v.N("to") <= v.N("from") {
				return nil, &instrument.InputError{Input: "to", Reason: "not above the temperature now", Accepted: "a higher temperature"}
			}
			p, err := converter.Work(v.N("engine"), v.N("torque"), v.N("turbine"), v.N("torque")*v.N("ratio"))
			if err != nil {
				return nil, &instrument.InputError{Input: "ratio", Reason: "more power would come out than goes in", Accepted: "a torque ratio that falls towards 1 as the turbine catches up"}
			}
			rate, err := converter.HeatRate(p.Heat, v.N("oil"), v.N("steel"))
			if err != nil {
				return nil, instrument.Impossible("oil", err)
			}
			seconds := math.Inf(1)
			if rate > 0 {
				seconds = (v.N("to") - v.N("from")) / rate
			}
			outs := []instrument.Output{instrument.Out("heat", "heat", p.Heat, quantity.Power, "kW"), instrument.Out("speed-ratio", "speed ratio", p.SpeedRatio, quantity.Ratio, ""),
				instrument.Out("efficiency", "efficiency", p.Efficiency, quantity.Ratio, "%"), instrument.Out("rise", "rise in one second", rate, quantity.Rise, "°C")}
			if seconds < 1e5 {
				outs = append(outs, instrument.Out("seconds", "time until the highest temperature", seconds, quantity.Time, "s"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("%s of heat, %s of what goes in.", v.SayOutput(o[0]), v.Say(1-o[2].Value, quantity.Ratio, "%"))
			if len(o) > 4 {
				r.Detail = fmt.Sprintf("The highest temperature is reached after %s. A stall test lasts 5 s at most, whatever this says.", v.SayOutput(o[4]))
			}
			f := instrument.Chart{Kind: "curve", Title: "Temperature while it lasts", X: instrument.Axis{Label: "time", Dimension: quantity.Time, Unit: "s"}, Y: instrument.Axis{Label: "fluid", Dimension: quantity.Temperature, Unit: "°C"}, Words: "The temperature rises evenly."}
			span := 10.0
			if len(o) > 4 {
				span = math.Min(60, math.Max(5, 1.2*o[4].Value))
			}
			f.Series = []instrument.Series{{Name: "fluid", Role: "main", Points: [][2]float64{{0, v.N("from")}, {span, v.N("from") + span*o[3].Value}}}, {Name: "highest", Role: "limit", Points: [][2]float64{{0, v.N("to")}, {span, v.N("to")}}}}
			r.Figures = []instrument.Chart{f}
		},
	}
}

// Yes and no, and when nobody looked.
var yesNo = []instrument.Option{{ID: "yes", Title: "yes"}, {ID: "no", Title: "no"}, {ID: "unknown", Title: "not looked at"}}

// PumpTurning joins what free looks say of whether the pump turns.
func PumpTurning() instrument.Definition {
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
	var inputs []instrument.Input
	for _, l := range looks {
		inputs = append(inputs, instrument.ChoiceIn(l.id, l.label, yesNo...).Preset("unknown"))
	}
	return instrument.Definition{
		ID: "pump-turning", Title: "Is the pump turning?", Group: "converter", Hand: []string{"dipstick", "eye"},
		Answers: "Engine runs, no drive in any range: is the pump driven at all?",
		Source:  "common practice, no source; Bayes' theorem from even odds", Limits: "a unit whose hub or shaft drives the pump; engine off long enough to drain back",
		Cautions: []string{instrument.CautionRunning, instrument.CautionPressure}, Inputs: inputs, States: []string{"port-flow"},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			odds := 1.0
			for _, l := range looks {
				switch v.Chosen(l.id) {
				case "yes":
					odds *= l.turning / l.standing
				case "no":
					odds *= (1 - l.turning) / (1 - l.standing)
				}
			}
			return []instrument.Output{instrument.Out("turning", "the pump turns", odds/(1+odds), quantity.Ratio, "%")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
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
				r.Stated = []instrument.DerivedReading{instrument.Derive("port-flow", []string{"force", "none"}, l, "seen at the port")}
			}
			bars := instrument.Chart{Kind: "bars", Title: "What each look says", Words: "How often each answer is met with the pump turning and with it standing.", Y: instrument.Axis{Label: "", Dimension: quantity.Ratio, Unit: "%"}}
			for _, l := range looks {
				a, b := l.turning, l.standing
				if v.Chosen(l.id) == "no" {
					a, b = 1-a, 1-b
				}
				if v.Chosen(l.id) != "unknown" {
					bars.Bars = append(bars.Bars, instrument.Bar{Label: l.label + ": " + v.Chosen(l.id), Value: a / (a + b), Text: fmt.Sprintf("%.0f : %.0f for turning", 100*a, 100*b)})
				}
			}
			r.Figures = []instrument.Chart{bars}
		},
	}
}

// LockupSlip reads the slip of the converter clutch.
func LockupSlip() instrument.Definition {
	return instrument.Definition{
		ID: "lockup-slip", Title: "Slip of the converter clutch", Group: "converter", Hand: []string{"scan tool", "tachometer"},
		Answers: "Does the clutch in the converter hold when it should?",
		Source:  "common practice, no source: under about 50 rpm is acceptable where it should hold; electronic control may hold a slip on purpose",
		Limits:  "lock-up commanded, steady throttle, fluid hot",
		Gauge:   "scan tool, 10 rpm", Cautions: []string{"A second person drives or reads, never both: clear road, the law's limits."}, States: []string{"tcc-slip"},
		Inputs: []instrument.Input{
			instrument.NumberIn("engine", "Engine speed", quantity.RotationalSpeed, "rpm", 300, 9000).ReadWithin(5).Like("1850"),
			instrument.NumberIn("turbine", "Turbine (input shaft) speed", quantity.RotationalSpeed, "rpm", 0, 9000).ReadWithin(5).Like("1830"),
			instrument.NumberIn("allowed", "Slip that is allowed", quantity.RotationalSpeed, "rpm", 0, 500).Preset("50 rpm"),
			instrument.NumberIn("torque", "Engine torque", quantity.Torque, "N·m", 0, 5000).Maybe().Explained("For the heat."),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			slip := v.N("engine") - v.N("turbine")
			if slip < -instrument.SI(100, quantity.RotationalSpeed, "rpm") {
				return nil, &instrument.InputError{Input: "turbine", Reason: "much faster than the engine: the vehicle drives it", Accepted: "values read under load"}
			}
			outs := []instrument.Output{instrument.Out("slip", "slip", slip, quantity.RotationalSpeed, "rpm").Within(-v.N("allowed"), v.N("allowed"))}
			if v.Has("torque") {
				outs = append(outs, instrument.Out("heat", "heat in the clutch", math.Abs(slip)*v.N("torque"), quantity.Power, "kW"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			switch o[0].Verdict {
			case measure.Conforms:
				r.Headline = "It holds: " + v.SayOutput(o[0]) + " of slip."
			case measure.Above:
				r.Headline = "It slips by " + v.SayOutput(o[0]) + ": worn lining first, then its hub seal, then the valve that feeds it."
			default:
				r.Headline = "Near the limit: " + v.SayOutput(o[0]) + ". Read it again under steady load."
			}
			// One reading cannot tell a steady slip from one that surges; a surge is rarer.
			c := o[0].Likelihoods("small", "under", "over")
			l := map[string]float64{"small": c["small"] + c["under"], "steady": 0.7 * c["over"], "surging": 0.3 * c["over"]}
			r.Stated = []instrument.DerivedReading{instrument.Derive("tcc-slip", []string{"small", "steady"}, l, v.SayOutput(o[0]))}
		},
	}
}

// LockupCapacity is what the converter clutch holds.
func LockupCapacity() instrument.Definition {
	return instrument.Definition{
		ID: "lockup-capacity", Title: "Capacity of the converter clutch", Group: "converter", Hand: []string{"caliper", "pressure gauge"},
		Answers: "With what force is the plate pressed, and what torque does it hold?",
		Source:  "uniform wear, as for plates (textbooks of machine elements)", Limits: "pressure difference across the plate, not line pressure; lining worn in; no heat",
		Inputs: []instrument.Input{
			instrument.NumberIn("apply", "Pressure on the apply side", quantity.Pressure, "psi", 0, 400).Preset("95 psi").ReadWithin(1),
			instrument.NumberIn("release", "Pressure on the release side", quantity.Pressure, "psi", 0, 400).Preset("8 psi").ReadWithin(1),
			instrument.NumberIn("plate", "Plate, outer diameter of what the pressure pushes on", quantity.Length, "mm", 50, 500).Preset("250 mm").About(0.5),
			instrument.NumberIn("hub", "and inner diameter", quantity.Length, "mm", 0, 300).Preset("60 mm").About(0.5),
			instrument.NumberIn("outer", "Lining, outer diameter", quantity.Length, "mm", 50, 500).Preset("248 mm").About(0.5),
			instrument.NumberIn("inner", "Lining, inner diameter", quantity.Length, "mm", 30, 490).Preset("218 mm").About(0.5),
			instrument.CountIn("faces", "Faces that rub", 1, 6).Preset("1"),
			instrument.NumberIn("friction", "Friction coefficient", quantity.Ratio, "", 0.02, 0.5).Preset("0.12").About(0.01),
			instrument.NumberIn("torque", "Torque that it must hold", quantity.Torque, "N·m", 0, 5000).Preset("250 N·m"),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.MaxTorque) {
				d.In("torque").Put(u.MaxTorque)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if err := instrument.Lining(v); err != nil {
				return nil, err
			}
			if v.N("hub") >= v.N("plate") {
				return nil, &instrument.InputError{Input: "hub", Reason: "the hub is not smaller than the plate", Accepted: "a diameter under that of the plate"}
			}
			if v.N("release") >= v.N("apply") {
				return nil, &instrument.InputError{Input: "release", Reason: "the release side has as much pressure as the apply side: nothing is pressed", Accepted: "less than the apply side"}
			}
			area := math.Pi / 4 * (v.N("plate")*v.N("plate") - v.N("hub")*v.N("hub"))
			p := v.N("apply") - v.N("release")
			c := friction.Plates{Faces: v.Count("faces"), Outer: v.N("outer") / 2, Inner: v.N("inner") / 2, Mu: v.N("friction"), Piston: area}
			outs := []instrument.Output{instrument.Out("capacity", "torque that it holds", c.Capacity(p), quantity.Torque, "N·m"), instrument.Out("force", "force on the plate", p*area, quantity.Force, "kN")}
			if v.N("torque") > 0 {
				outs = append(outs, instrument.Out("safety", "of what it must hold", c.Capacity(p)/v.N("torque"), quantity.Ratio, ""))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("It holds %s, pressed with %s.", v.SayOutput(o[0]), v.Say(o[1].Value, quantity.Force, "kN"))
			if len(o) > 2 {
				r.Detail = map[bool]string{true: "That is enough for the torque asked of it.", false: "That is less than the torque asked of it: it slips."}[o[2].Value >= 1]
			}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Held and asked", Y: instrument.Axis{Label: "torque", Dimension: quantity.Torque, Unit: "N·m"}, Words: "Torque held beside the torque asked.",
				Bars: []instrument.Bar{{Label: "holds", Value: o[0].Value, Need: v.N("torque"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}
