package fluids

import (
	"math"
	"strings"

	"innercompass/core/instrument"
	"innercompass/core/quantity"
)

// CoolerFlow reads the return of the cooler in a measured time.
func CoolerFlow() instrument.Definition {
	return instrument.Definition{
		ID: "cooler-flow", Title: "Cooler flow and check valve", Group: "fluid", Hand: []string{"measuring jug", "stopwatch"},
		Answers: "Does enough oil come back from the cooler, and does its check valve move?",
		Source:  "volume over time; a quart in 20 s at idle is full on most (common practice, no source)", Limits: "fluid hot, engine at idle, selector in N, level watched: the jug takes it out of the unit",
		Gauge: "jug, 50 cc", Cautions: []string{instrument.CautionRunning, instrument.CautionPressure}, States: []string{"cooler-flow"},
		Inputs: []instrument.Input{
			instrument.NumberIn("volume", "Oil caught", quantity.Volume, "qt", 0, 20).ReadWithin(0.05).Like("1.1"),
			instrument.NumberIn("time", "in this time", quantity.Time, "s", 1, 600).Preset("20 s").About(0.5),
			instrument.NumberIn("least", "Least flow that is good", quantity.Flow, "L/min", 0.1, 60).Preset("2.4 L/min"),
			instrument.ChoiceIn("valve", "Check valve pushed with a rod", instrument.Option{ID: "moves", Title: "moves and springs back"}, instrument.Option{ID: "stuck", Title: "does not move"}, instrument.Option{ID: "none", Title: "none, or not looked at"}).Preset("none"),
			instrument.NumberIn("before", "Pressure before the cooler", quantity.Pressure, "psi", 0, 200).Maybe().ReadWithin(1),
			instrument.NumberIn("after", "and after it", quantity.Pressure, "psi", 0, 200).Maybe().ReadWithin(1),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if v.Has("after") != v.Has("before") || v.N("after") > v.N("before") {
				return nil, &instrument.InputError{Input: "after", Reason: "the pressures before and after the cooler do not fit", Accepted: "both, the one after it not above the one before"}
			}
			outs := []instrument.Output{instrument.Out("flow", "flow", v.N("volume")/v.N("time"), quantity.Flow, "L/min").AtLeast(v.N("least"), 3*v.N("least"))}
			if v.Has("before") {
				outs = append(outs, instrument.Out("drop", "pressure lost in the cooler", v.N("before")-v.N("after"), quantity.Pressure, "psi"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			c := o[0].Likelihoods("full", "weak", "over")
			l := map[string]float64{"full": c["full"], "weak": c["weak"]}
			r.Stated = []instrument.DerivedReading{instrument.Derive("cooler-flow", []string{"full", "weak"}, l, v.SayOutput(o[0]))}
			r.Headline = map[string]string{"full": "Full: ", "weak": "Weak: "}[r.Stated[0].State] + v.SayOutput(o[0]) + "."
			switch {
			case v.Chosen("valve") == "stuck":
				r.Detail = "A check valve that sticks stops lubrication and melts planetaries: free it or leave it out by the maker's procedure before the unit runs again."
			case r.Stated[0].State == "weak":
				r.Detail = "Blown through backwards, lines felt for dents, cooler and check valve before the pump is blamed."
			}
			if len(o) > 1 && o[1].Value > instrument.SI(30, quantity.Pressure, "psi") {
				r.Detail = strings.TrimSpace(r.Detail + " The cooler takes much pressure: it is restricted.")
			}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Flow", Y: instrument.Axis{Label: "flow", Dimension: quantity.Flow, Unit: "L/min"}, Words: "Flow beside the least that is good.", Bars: []instrument.Bar{{Label: "comes back", Value: o[0].Value, Need: v.N("least"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}

// CoolerHeat turns the temperatures at the cooler into heat, and tells a blocked air side from a blocked oil side.
func CoolerHeat() instrument.Definition {
	return instrument.Definition{
		ID: "cooler-heat", Title: "Temperature drop and heat of the cooler", Group: "fluid", Hand: []string{"thermometer"},
		Answers: "Does the cooler take heat out, and is it air or oil that does not pass?",
		Source:  "flow × density × heat capacity × drop; 5 to 40 K are usual when hot (common practice, no source); heat capacity of fluid 2.0 kJ/(kg·K) (recalled from memory)",
		Limits:  "fluid hot, fan or airflow on, thermometer on bare metal at both lines", Gauge: "thermometer, 1 K",
		Cautions: []string{instrument.CautionRunning, "Lines and fluid are hot enough to burn: probe at arm's length, gloves."}, States: []string{"cooler-drop"},
		Inputs: []instrument.Input{
			instrument.NumberIn("in", "Line to the cooler", quantity.Temperature, "°C", -20, 200).About(1).Like("95"), instrument.NumberIn("out", "Line back from it", quantity.Temperature, "°C", -20, 200).About(1).Like("78"),
			instrument.NumberIn("flow", "Flow through it", quantity.Flow, "L/min", 0, 60).Preset("3.5 L/min").About(0.2).Takes("cooler-flow.flow"),
			instrument.NumberIn("least", "Drop, at least", quantity.Rise, "K", 0.5, 60).Preset("5 K"), instrument.NumberIn("most", "and at most", quantity.Rise, "K", 1, 150).Preset("40 K"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			drop := v.N("in") - v.N("out")
			switch {
			case v.N("least") >= v.N("most"):
				return nil, &instrument.InputError{Input: "most", Reason: "not above the least", Accepted: "a drop with its high end above its low end"}
			case drop < -5:
				return nil, &instrument.InputError{Input: "out", Reason: "warmer than the line to the cooler: lines mistaken for each other", Accepted: "the line that comes back, up to " + v.Say(v.N("in"), quantity.Temperature, "°C")}
			}
			const density, capacity = 820.0, 2000.0
			return []instrument.Output{instrument.Out("drop", "drop", drop, quantity.Rise, "K").Within(v.N("least"), v.N("most")), instrument.Out("heat", "heat taken out", v.N("flow")*density*capacity*math.Max(0, drop), quantity.Power, "kW")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			c := o[0].Likelihoods("good", "none", "great")
			r.Stated = []instrument.DerivedReading{instrument.Derive("cooler-drop", []string{"good", "none", "great"}, c, v.SayOutput(o[0]))}
			r.Headline = map[string]string{
				"good":  "It cools: " + v.SayOutput(o[0]) + ", " + v.SayOutput(o[1]) + " taken out.",
				"none":  "It hardly cools: fins blocked, fan or coolant side not working, or the flow goes past it.",
				"great": "It cools what little passes: the oil side is restricted. Read the flow.",
			}[r.Stated[0].State]
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "To the cooler and back", Y: instrument.Axis{Label: "temperature", Dimension: quantity.Temperature, Unit: "°C"}, Words: "Temperature of both lines.",
				Bars: []instrument.Bar{{Label: "to it", Value: v.N("in"), Text: v.Say(v.N("in"), quantity.Temperature, "°C")}, {Label: "back", Value: v.N("out"), Low: v.N("in") - v.N("most"), High: v.N("in") - v.N("least"), Text: v.Say(v.N("out"), quantity.Temperature, "°C"), Emphasised: true}}}}
		},
	}
}
