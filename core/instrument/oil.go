package instrument

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/hydraulics"
	"innercompass/core/quantity"
)

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
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = v.SayOutput(o[0]) + " passes."
			r.Detail = "Twice the diameter passes four times as much; twice the pressure, 1.4 times."
			s := Series{Name: "flow", Role: "main"}
			top := 1.5 * math.Max(v.N("diameter"), v.N("other"))
			for i := range 21 {
				d := top * float64(i) / 20
				s.Points = append(s.Points, [2]float64{d, hydraulics.Orifice(d, v.N("before")-v.N("after"), v.N("density"))})
			}
			r.Figures = []Chart{{Kind: "curve", Title: "Flow against diameter", X: Axis{"diameter", quantity.Length, "mm"}, Y: Axis{"flow", quantity.Flow, "L/min"}, Words: "Flow rises with the square of the diameter.", Series: []Series{s}, Marks: []Mark{{v.N("diameter"), o[0].Value, "this"}}}}
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
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = v.SayOutput(o[0]) + " passes."
			if o[1].Value > 0 {
				r.Headline = fmt.Sprintf("%s passes, %s times as much as when new.", v.SayOutput(o[0]), v.Num(o[0].Value/o[1].Value, 1))
			}
			r.Detail = "The leak goes with the third power of the clearance and falls with viscosity: hot oil shows it."
			s := Series{Name: "leak", Role: "main"}
			top := 1.5 * math.Max(o[2].Value, v.N("new"))
			for i := range 21 {
				c := top * float64(i) / 20
				s.Points = append(s.Points, [2]float64{c, o[0].Value * math.Pow(c/o[2].Value, 3)})
			}
			r.Figures = []Chart{{Kind: "curve", Title: "Leak against clearance", X: Axis{"clearance", quantity.Length, "mm"}, Y: Axis{"leak", quantity.Flow, "L/min"}, Words: "Twice the clearance leaks eight times as much.", Series: []Series{s}, Marks: []Mark{{o[2].Value, o[0].Value, "now"}, {v.N("new"), o[1].Value, "new"}}}}
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
		interpret: func(v Values, o []Output, r *Result) {
			good := o[0].Value >= v.N("least")
			r.Headline = map[bool]string{true: "It holds: half is lost after ", false: "It leaks: half is lost after "}[good] + v.SayOutput(o[0]) + "."
			s := Series{Name: "pressure", Role: "main"}
			if o[0].Value > 0 {
				for i := range 31 {
					t := 2 * v.N("time") * float64(i) / 30
					s.Points = append(s.Points, [2]float64{t, v.N("from") * math.Exp(-math.Ln2*t/o[0].Value)})
				}
			}
			r.Figures = []Chart{{Kind: "curve", Title: "Pressure while it leaks", X: Axis{"time", quantity.Time, "s"}, Y: Axis{"pressure", quantity.Pressure, "bar"}, Words: "Pressure falls by half in the same time again and again.", Series: []Series{s}, Marks: []Mark{{0, v.N("from"), "first"}, {v.N("time"), v.N("to"), "last"}}}}
		},
	}
}

// droop tells wear from a hole by pressure cold and hot.
func droop() Definition {
	return Definition{
		ID: "hot-cold", Title: "Pressure cold and hot", Group: "hydraulics", Hand: []string{"pressure gauge", "thermometer"},
		Answers: "Is the pressure lost through worn gaps, or through a hole or a missing seal?",
		Source:  "gap flow ∝ 1/viscosity, orifice flow does not depend on it (Merritt, recalled from memory); a quarter lost is much (common practice, no source)", Limits: "same engine speed and range, regulator closed: the pump gives all it has; below that the regulator hides the leak",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{cautionRunning, cautionPressure}, States: []string{"pressure-cold"},
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
			return []Output{out("gaps", "of the hot loss through gaps", gaps, quantity.Ratio, "%"), out("left", "pressure left hot", v.N("hot")/v.N("cold"), quantity.Ratio, "%").atLeast(0.75, 1)}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			switch g := o[0].Value; {
			case g > 0.7:
				r.Headline = "Gaps: worn bores, bushings or pump clearances. Hot oil slips through, cold oil does not."
			case g < 0.3:
				r.Headline = "A hole: a missing or cut seal, an open passage, a cracked part. It leaks cold as well."
			default:
				r.Headline = "Some of both: wear, and a seal or passage."
			}
			r.Detail = fmt.Sprintf("%s of the pressure is left when hot.", v.Say(o[1].Value, quantity.Ratio, "%"))
			c := o[1].likelihoods("alike", "falls", "over")
			r.Stated = []DerivedReading{stated("pressure-cold", []string{"alike", "falls"}, map[string]float64{"alike": c["alike"], "falls": c["falls"]}, v.Say(v.N("cold"), quantity.Pressure, "psi")+" cold, "+v.Say(v.N("hot"), quantity.Pressure, "psi")+" hot")}
			r.Figures = []Chart{{Kind: "bars", Title: "Where the oil goes when hot", Y: Axis{"share", quantity.Ratio, "%"}, Words: "Share through gaps and through holes.", Bars: []Bar{{Label: "gaps", Value: o[0].Value, Text: v.Say(o[0].Value, quantity.Ratio, "%"), Emphasised: true}, {Label: "holes", Value: 1 - o[0].Value, Text: v.Say(1-o[0].Value, quantity.Ratio, "%")}}}}
		},
	}
}

// coolerFlow reads the return of the cooler in a measured time.
func coolerFlow() Definition {
	return Definition{
		ID: "cooler-flow", Title: "Cooler flow and check valve", Group: "fluid", Hand: []string{"measuring jug", "stopwatch"},
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
			outs := []Output{out("flow", "flow", v.N("volume")/v.N("time"), quantity.Flow, "L/min").atLeast(v.N("least"), 3*v.N("least"))}
			if v.Has("before") {
				outs = append(outs, out("drop", "pressure lost in the cooler", v.N("before")-v.N("after"), quantity.Pressure, "psi"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			c := o[0].likelihoods("full", "weak", "over")
			l := map[string]float64{"full": c["full"], "weak": c["weak"]}
			r.Stated = []DerivedReading{stated("cooler-flow", []string{"full", "weak"}, l, v.SayOutput(o[0]))}
			r.Headline = map[string]string{"full": "Full: ", "weak": "Weak: "}[r.Stated[0].State] + v.SayOutput(o[0]) + "."
			switch {
			case v.Chosen("valve") == "stuck":
				r.Detail = "A check valve that sticks stops lubrication and melts planetaries: free it or leave it out by the maker's procedure before the unit runs again."
			case r.Stated[0].State == "weak":
				r.Detail = "Blown through backwards, lines felt for dents, cooler and check valve before the pump is blamed."
			}
			if len(o) > 1 && o[1].Value > si(30, quantity.Pressure, "psi") {
				r.Detail = strings.TrimSpace(r.Detail + " The cooler takes much pressure: it is restricted.")
			}
			r.Figures = []Chart{{Kind: "bars", Title: "Flow", Y: Axis{"flow", quantity.Flow, "L/min"}, Words: "Flow beside the least that is good.", Bars: []Bar{{Label: "comes back", Value: o[0].Value, Need: v.N("least"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}

// coolerHeat turns the temperatures at the cooler into heat, and tells a blocked air side from a blocked oil side.
func coolerHeat() Definition {
	return Definition{
		ID: "cooler-heat", Title: "Temperature drop and heat of the cooler", Group: "fluid", Hand: []string{"thermometer"},
		Answers: "Does the cooler take heat out, and is it air or oil that does not pass?",
		Source:  "flow × density × heat capacity × drop; 5 to 40 K are usual when hot (common practice, no source); heat capacity of fluid 2.0 kJ/(kg·K) (recalled from memory)",
		Limits:  "fluid hot, fan or airflow on, thermometer on bare metal at both lines", Gauge: "thermometer, 1 K",
		Cautions: []string{cautionRunning, "Lines and fluid are hot enough to burn: probe at arm's length, gloves."}, States: []string{"cooler-drop"},
		Inputs: []Input{
			num("in", "Line to the cooler", quantity.Temperature, "°C", -20, 200).about(1).like("95"), num("out", "Line back from it", quantity.Temperature, "°C", -20, 200).about(1).like("78"),
			num("flow", "Flow through it", quantity.Flow, "L/min", 0, 60).preset("3.5 L/min").about(0.2).from("cooler-flow.flow"),
			num("least", "Drop, at least", quantity.Rise, "K", 0.5, 60).preset("5 K"), num("most", "and at most", quantity.Rise, "K", 1, 150).preset("40 K"),
		},
		compute: func(v Values) ([]Output, error) {
			drop := v.N("in") - v.N("out")
			switch {
			case v.N("least") >= v.N("most"):
				return nil, &InputError{"most", "not above the least", "a drop with its high end above its low end"}
			case drop < -5:
				return nil, &InputError{"out", "warmer than the line to the cooler: lines mistaken for each other", "the line that comes back, up to " + v.Say(v.N("in"), quantity.Temperature, "°C")}
			}
			const density, capacity = 820.0, 2000.0
			return []Output{out("drop", "drop", drop, quantity.Rise, "K").within(v.N("least"), v.N("most")), out("heat", "heat taken out", v.N("flow")*density*capacity*math.Max(0, drop), quantity.Power, "kW")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			c := o[0].likelihoods("good", "none", "great")
			r.Stated = []DerivedReading{stated("cooler-drop", []string{"good", "none", "great"}, c, v.SayOutput(o[0]))}
			r.Headline = map[string]string{
				"good":  "It cools: " + v.SayOutput(o[0]) + ", " + v.SayOutput(o[1]) + " taken out.",
				"none":  "It hardly cools: fins blocked, fan or coolant side not working, or the flow goes past it.",
				"great": "It cools what little passes: the oil side is restricted. Read the flow.",
			}[r.Stated[0].State]
			r.Figures = []Chart{{Kind: "bars", Title: "To the cooler and back", Y: Axis{"temperature", quantity.Temperature, "°C"}, Words: "Temperature of both lines.",
				Bars: []Bar{{Label: "to it", Value: v.N("in"), Text: v.Say(v.N("in"), quantity.Temperature, "°C")}, {Label: "back", Value: v.N("out"), Low: v.N("in") - v.N("most"), High: v.N("in") - v.N("least"), Text: v.Say(v.N("out"), quantity.Temperature, "°C"), Emphasised: true}}}}
		},
	}
}
