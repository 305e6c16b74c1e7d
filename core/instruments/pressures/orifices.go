package pressures

import (
	"fmt"
	"math"

	"innercompass/core/hydraulics"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
)

// Orifice is flow and pressure over a hole.
func Orifice() instrument.Definition {
	return instrument.Definition{
		ID: "orifice", Title: "Orifice: flow and pressure", Group: "hydraulics", Hand: []string{"drill gauge", "pressure gauge"},
		Answers: "How much oil passes this hole, and what hole would pass how much?",
		Source:  "sharp edge, discharge coefficient 0.61 (Merritt, recalled from memory)", Limits: "short, sharp holes with hot oil; a long thin hole passes less",
		Inputs: []instrument.Input{
			instrument.NumberIn("diameter", "Diameter", quantity.Length, "mm", 0.1, 30).Preset("1.5 mm").About(0.03),
			instrument.NumberIn("before", "Pressure before it", quantity.Pressure, "psi", 0, 600).Preset("80 psi").ReadWithin(1),
			instrument.NumberIn("after", "and after it", quantity.Pressure, "psi", 0, 600).Preset("0 psi").ReadWithin(1),
			instrument.NumberIn("density", "Oil density", quantity.Density, "kg/m³", 600, 1100).Preset("820"),
			instrument.NumberIn("other", "Another diameter", quantity.Length, "mm", 0.1, 30).Maybe(),
			instrument.NumberIn("flow", "A flow that passes it", quantity.Flow, "L/min", 0.001, 200).Maybe().Explained("Gives the pressure that the hole takes from it."),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			drop := v.N("before") - v.N("after")
			if drop <= 0 {
				return nil, &instrument.InputError{Input: "after", Reason: "as high as before it: no oil flows", Accepted: "less than before it"}
			}
			q := hydraulics.Orifice(v.N("diameter"), drop, v.N("density"))
			outs := []instrument.Output{instrument.Out("flow", "flow", q, quantity.Flow, "L/min")}
			if v.Has("other") {
				outs = append(outs, instrument.Out("other", "flow through the other", hydraulics.Orifice(v.N("other"), drop, v.N("density")), quantity.Flow, "L/min"))
			}
			if v.Has("flow") {
				outs = append(outs, instrument.Out("lost", "pressure that the hole takes from the flow", hydraulics.OrificeDrop(v.N("diameter"), v.N("flow"), v.N("density")), quantity.Pressure, "psi"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = v.SayOutput(o[0]) + " passes."
			r.Detail = "Twice the diameter passes four times as much; twice the pressure, 1.4 times."
			s := instrument.Series{Name: "flow", Role: "main"}
			top := 1.5 * math.Max(v.N("diameter"), v.N("other"))
			for i := range 21 {
				d := top * float64(i) / 20
				s.Points = append(s.Points, [2]float64{d, hydraulics.Orifice(d, v.N("before")-v.N("after"), v.N("density"))})
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Flow against diameter", X: instrument.Axis{Label: "diameter", Dimension: quantity.Length, Unit: "mm"}, Y: instrument.Axis{Label: "flow", Dimension: quantity.Flow, Unit: "L/min"}, Words: "Flow rises with the square of the diameter.", Series: []instrument.Series{s}, Marks: []instrument.Mark{{X: v.N("diameter"), Y: o[0].Value, Label: "this"}}}}
		},
	}
}

// BoreLeak is what passes a valve in its bore.
func BoreLeak() instrument.Definition {
	return instrument.Definition{
		ID: "bore-leak", Title: "Leak past a valve in its bore", Group: "hydraulics", Hand: []string{"bore gauge", "micrometer"},
		Answers: "How much oil does a worn bore lose, against the same bore when new?",
		Source:  "laminar flow in a narrow ring, π·D·h³·Δp/(12·ν·ρ·L)·(1 + 1.5·ε²) (Merritt, recalled from memory, checked against the profile of flow)",
		Limits:  "land longer than the gap is wide; the valve round and smooth; scores leak more", Gauge: "micrometer, 0.01 mm",
		Inputs: []instrument.Input{
			instrument.NumberIn("bore", "Bore", quantity.Length, "mm", 2, 80).Preset("12.06 mm").ReadWithin(0.005), instrument.NumberIn("valve", "Valve", quantity.Length, "mm", 2, 80).Preset("12.00 mm").ReadWithin(0.005),
			instrument.NumberIn("new", "Clearance when new, on the diameter", quantity.Length, "mm", 0.001, 1).Preset("0.04 mm"), instrument.NumberIn("land", "Length of the land", quantity.Length, "mm", 0.5, 60).Preset("8 mm"),
			instrument.NumberIn("drop", "Pressure across it", quantity.Pressure, "psi", 0, 600).Preset("100 psi"), instrument.NumberIn("viscosity", "Viscosity", quantity.Viscosity, "mm²/s", 1, 5000).Preset("10 mm²/s").About(1),
			instrument.NumberIn("density", "Oil density", quantity.Density, "kg/m³", 600, 1100).Preset("820"),
			instrument.ChoiceIn("lies", "The valve lies", instrument.Option{ID: "side", Title: "on one side"}, instrument.Option{ID: "middle", Title: "in the middle"}).Preset("side"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if v.N("bore") <= v.N("valve") {
				return nil, &instrument.InputError{Input: "valve", Reason: "not smaller than its bore", Accepted: "less than " + v.Say(v.N("bore"), quantity.Length, "mm")}
			}
			off := map[string]float64{"side": 1, "middle": 0}[v.Chosen("lies")]
			leak := func(clearance float64) float64 {
				return hydraulics.Gap(v.N("bore"), clearance/2, v.N("land"), v.N("drop"), v.N("viscosity"), v.N("density"), off)
			}
			now := leak(v.N("bore") - v.N("valve"))
			return []instrument.Output{instrument.Out("leak", "leak", now, quantity.Flow, "L/min"), instrument.Out("new", "when new", leak(v.N("new")), quantity.Flow, "L/min"), instrument.Out("clearance", "clearance on the diameter", v.N("bore")-v.N("valve"), quantity.Length, "mm")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = v.SayOutput(o[0]) + " passes."
			if o[1].Value > 0 {
				r.Headline = fmt.Sprintf("%s passes, %s times as much as when new.", v.SayOutput(o[0]), v.Num(o[0].Value/o[1].Value, 1))
			}
			r.Detail = "The leak goes with the third power of the clearance and falls with viscosity: hot oil shows it."
			s := instrument.Series{Name: "leak", Role: "main"}
			top := 1.5 * math.Max(o[2].Value, v.N("new"))
			for i := range 21 {
				c := top * float64(i) / 20
				s.Points = append(s.Points, [2]float64{c, o[0].Value * math.Pow(c/o[2].Value, 3)})
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Leak against clearance", X: instrument.Axis{Label: "clearance", Dimension: quantity.Length, Unit: "mm"}, Y: instrument.Axis{Label: "leak", Dimension: quantity.Flow, Unit: "L/min"}, Words: "Twice the clearance leaks eight times as much.", Series: []instrument.Series{s}, Marks: []instrument.Mark{{X: o[2].Value, Y: o[0].Value, Label: "now"}, {X: v.N("new"), Y: o[1].Value, Label: "new"}}}}
		},
	}
}

// LeakDown reads how fast an air pressure falls.
func LeakDown() instrument.Definition {
	return instrument.Definition{
		ID: "leak-down", Title: "Leak-down", Group: "hydraulics", Hand: []string{"pressure gauge", "stopwatch"},
		Answers: "How fast does a closed circuit lose its air, and how large is the leak?",
		Source:  "gas law at even temperature; decay in proportion to pressure", Limits: "valve closed tight, temperature settled; small leaks",
		Gauge: "pressure gauge, 0.05 bar", Cautions: []string{instrument.CautionAir},
		Inputs: []instrument.Input{
			instrument.NumberIn("volume", "Volume of circuit and hose", quantity.Volume, "cc", 1, 50000).Preset("200 cc").About(20),
			instrument.NumberIn("from", "Pressure at first", quantity.Pressure, "bar", 0.1, 10).Preset("3.0 bar").ReadWithin(0.05),
			instrument.NumberIn("to", "and at last", quantity.Pressure, "bar", 0, 10).ReadWithin(0.05).Like("2.4"),
			instrument.NumberIn("time", "Time between", quantity.Time, "s", 1, 3600).Preset("30 s").About(0.5),
			instrument.NumberIn("least", "Half must remain for", quantity.Time, "s", 1, 3600).Preset("60 s").Explained("What sound circuits of this unit do."),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			flow, half, err := hydraulics.LeakDown(v.N("volume"), v.N("from"), v.N("to"), v.N("time"))
			if err != nil {
				return nil, instrument.Impossible("to", err)
			}
			return []instrument.Output{instrument.Out("half", "half is lost after", half, quantity.Time, "s"), instrument.Out("flow", "free air that leaks", flow, quantity.Flow, "L/min")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			good := o[0].Value >= v.N("least")
			r.Headline = map[bool]string{true: "It holds: half is lost after ", false: "It leaks: half is lost after "}[good] + v.SayOutput(o[0]) + "."
			s := instrument.Series{Name: "pressure", Role: "main"}
			if o[0].Value > 0 {
				for i := range 31 {
					t := 2 * v.N("time") * float64(i) / 30
					s.Points = append(s.Points, [2]float64{t, v.N("from") * math.Exp(-math.Ln2*t/o[0].Value)})
				}
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Pressure while it leaks", X: instrument.Axis{Label: "time", Dimension: quantity.Time, Unit: "s"}, Y: instrument.Axis{Label: "pressure", Dimension: quantity.Pressure, Unit: "bar"}, Words: "Pressure falls by half in the same time again and again.", Series: []instrument.Series{s}, Marks: []instrument.Mark{{X: 0, Y: v.N("from"), Label: "first"}, {X: v.N("time"), Y: v.N("to"), Label: "last"}}}}
		},
	}
}

// Droop tells wear from a hole by pressure cold and hot.
func Droop() instrument.Definition {
	return instrument.Definition{
		ID: "hot-cold", Title: "Pressure cold and hot", Group: "hydraulics", Hand: []string{"pressure gauge", "thermometer"},
		Answers: "Is the pressure lost through worn gaps, or through a hole or a missing seal?",
		Source:  "gap flow ∝ 1/viscosity, orifice flow does not depend on it (Merritt, recalled from memory); a quarter lost is much (common practice, no source)", Limits: "same engine speed and range, regulator closed: the pump gives all it has; below that the regulator hides the leak",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{instrument.CautionRunning, instrument.CautionPressure}, States: []string{"pressure-cold"},
		Inputs: []instrument.Input{
			instrument.NumberIn("cold", "Pressure cold", quantity.Pressure, "psi", 1, 500).ReadWithin(1).Like("60"),
			instrument.NumberIn("hot", "Pressure hot", quantity.Pressure, "psi", 0, 500).ReadWithin(1).Like("42"),
			instrument.NumberIn("cold-viscosity", "Viscosity cold", quantity.Viscosity, "mm²/s", 3, 5000).Preset("80 mm²/s").About(8).Explained("Transmission fluid: some 80 mm²/s at 20 °C, 34 at 40 °C, 10 at 80 °C, 7 at 100 °C."),
			instrument.NumberIn("hot-viscosity", "Viscosity hot", quantity.Viscosity, "mm²/s", 1, 500).Preset("10 mm²/s").About(1),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			gaps, err := hydraulics.Droop(v.N("cold"), v.N("hot"), v.N("cold-viscosity"), v.N("hot-viscosity"))
			if err != nil {
				return nil, instrument.Impossible("hot", err)
			}
			return []instrument.Output{instrument.Out("gaps", "of the hot loss through gaps", gaps, quantity.Ratio, "%"), instrument.Out("left", "pressure left hot", v.N("hot")/v.N("cold"), quantity.Ratio, "%").AtLeast(0.75, 1)}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			switch g := o[0].Value; {
			case g > 0.7:
				r.Headline = "Gaps: worn bores, bushings or pump clearances. Hot oil slips through, cold oil does not."
			case g < 0.3:
				r.Headline = "A hole: a missing or cut seal, an open passage, a cracked part. It leaks cold as well."
			default:
				r.Headline = "Some of both: wear, and a seal or passage."
			}
			r.Detail = fmt.Sprintf("%s of the pressure is left when hot.", v.Say(o[1].Value, quantity.Ratio, "%"))
			c := o[1].Likelihoods("alike", "falls", "over")
			r.Stated = []instrument.DerivedReading{instrument.Derive("pressure-cold", []string{"alike", "falls"}, map[string]float64{"alike": c["alike"], "falls": c["falls"]}, v.Say(v.N("cold"), quantity.Pressure, "psi")+" cold, "+v.Say(v.N("hot"), quantity.Pressure, "psi")+" hot")}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Where the oil goes when hot", Y: instrument.Axis{Label: "share", Dimension: quantity.Ratio, Unit: "%"}, Words: "Share through gaps and through holes.", Bars: []instrument.Bar{{Label: "gaps", Value: o[0].Value, Text: v.Say(o[0].Value, quantity.Ratio, "%"), Emphasised: true}, {Label: "holes", Value: 1 - o[0].Value, Text: v.Say(1-o[0].Value, quantity.Ratio, "%")}}}}
		},
	}
}
