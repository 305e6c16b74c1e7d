package pressures

import (
	"fmt"
	"math"

	"innercompass/core/hydraulics"
	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Vacuum holds the vacuum of engine and modulator against each other and against what the height allows.
func Vacuum() instrument.Definition {
	return instrument.Definition{
		ID: "vacuum", Title: "Vacuum at engine and modulator", Group: "hydraulics", Hand: []string{"vacuum gauge"},
		Answers: "Is the engine weak, or is vacuum lost on the way to the modulator?",
		Source:  "57 to 74 kPa at warm idle by the sea (common practice, no source); falls with the pressure of the air, ISO 2533",
		Limits:  "warm engine without charger, at idle in N; a cam for racing or late ignition lowers it as a weak engine does",
		Gauge:   "vacuum gauge, 1 kPa", Cautions: []string{instrument.CautionRunning}, States: []string{"engine-vacuum", "modulator-vacuum"},
		Inputs: []instrument.Input{
			instrument.NumberIn("engine", "Vacuum at the engine", quantity.Pressure, "kPa", 0, 105).ReadWithin(1).Like("64"),
			instrument.NumberIn("modulator", "Vacuum at the modulator", quantity.Pressure, "kPa", 0, 105).ReadWithin(1).Maybe().Like("63"),
			instrument.NumberIn("height", "Height above the sea", quantity.Distance, "km", -0.5, 5).Preset("0 km").Explained("In km or mi."),
			instrument.NumberIn("least", "Least at the engine, by the sea", quantity.Pressure, "kPa", 10, 100).Preset("57 kPa"),
			instrument.NumberIn("lost", "Lost on the way, at most", quantity.Pressure, "kPa", 0.5, 50).Preset("5 kPa").Explained("More than this is a hose that leaks or is not open."),
		},
		Check: func(v instrument.Values) error {
			if v.Has("modulator") && v.N("modulator") > v.N("engine")+6*v.U("engine") {
				return &instrument.InputError{Input: "modulator", Reason: "more than the engine makes", Accepted: "up to " + v.Say(v.N("engine"), quantity.Pressure, "kPa") + "; read both with the same gauge"}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			// Vacuum is a difference from the air outside: it shrinks with it.
			air := math.Pow(1-0.0065*v.N("height")/288.15, 5.2559)
			least := v.N("least") * air
			outs := []instrument.Output{instrument.Out("engine", "at the engine", v.N("engine"), quantity.Pressure, "kPa").AtLeast(least, 101325*air)}
			if v.Has("modulator") {
				outs = append(outs, instrument.Out("lost", "lost on the way", v.N("engine")-v.N("modulator"), quantity.Pressure, "kPa").AtMost(v.N("lost")))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			strong := o[0].Likelihoods("strong", "weak", "over")
			engine := map[string]float64{"strong": strong["strong"], "weak": strong["weak"]}
			r.Stated = []instrument.DerivedReading{instrument.Derive("engine-vacuum", []string{"strong", "weak"}, engine, v.SayOutput(o[0]))}
			r.Headline = map[string]string{"strong": "The engine makes enough.", "weak": "The engine makes too little: mend it first, the unit only follows."}[r.Stated[0].State]
			bars := instrument.Chart{Kind: "bars", Title: "Vacuum", Y: instrument.Axis{Label: "vacuum", Dimension: quantity.Pressure, Unit: "kPa"}, Words: "What is read beside the least at this height.",
				Bars: []instrument.Bar{{Label: "engine", Value: o[0].Value, Need: o[0].Window.Low.SI, Text: v.SayOutput(o[0]), Emphasised: true}}}
			if len(o) > 1 {
				lost := o[1].Likelihoods("full", "under", "lost")
				// The modulator gets enough when the engine makes it and the way keeps it.
				l := map[string]float64{"ok": lost["full"] * strong["strong"]}
				l["low"] = 1 - l["ok"]
				r.Stated = append(r.Stated, instrument.Derive("modulator-vacuum", []string{"ok", "low"}, l, v.Say(v.N("modulator"), quantity.Pressure, "kPa")))
				switch {
				case lost["lost"] > 0.5:
					r.Headline = v.SayOutput(o[1]) + " is lost on the way: hose, its connections, or a diaphragm that is torn."
				case r.Stated[0].State == "strong":
					r.Headline = "The engine makes enough, and it arrives."
				}
				bars.Bars = append(bars.Bars, instrument.Bar{Label: "modulator", Value: v.N("modulator"), Need: math.Max(0, o[0].Value-v.N("lost")), Text: v.Say(v.N("modulator"), quantity.Pressure, "kPa")})
			}
			r.Detail = "Least here: " + v.Say(o[0].Window.Low.SI, quantity.Pressure, "kPa") + ". A needle that swings at idle is a valve or a cylinder."
			r.Figures = []instrument.Chart{bars}
		},
	}
}

// governorInputs are what a governor is described by.
func governorInputs() []instrument.Input {
	return []instrument.Input{
		instrument.NumberIn("valve", "Governor valve, area", quantity.Area, "cm²", 0.05, 20).Preset("1 cm²"),
		instrument.ListIn("masses", "Weights", quantity.Mass, "g", 0.5, 2000).Preset("60; 10.5 g"),
		instrument.ListIn("radii", "at these radii", quantity.Length, "mm", 2, 200).Preset("23; 23 mm"),
		instrument.ListIn("limits", "stopped above these shaft speeds (0: never)", quantity.RotationalSpeed, "rpm", 0, 20000).Preset("1000; 0 rpm"),
		instrument.NumberIn("per-km", "Turns of the governor shaft in a kilometer", quantity.Ratio, "", 50, 20000).Preset("1760"),
	}
}

// governorOf puts the sheet's governor into the inputs.
func governorOf(d *instrument.Definition, u *unitsheet.Unit) {
	d.In("valve").PutSI(u.Governor.Area)
	for id, x := range map[string]struct {
		unit string
		of   func(hydraulics.Weight) float64
	}{"masses": {"g", func(w hydraulics.Weight) float64 { return w.Mass }}, "radii": {"mm", func(w hydraulics.Weight) float64 { return w.Radius }}, "limits": {"rpm", func(w hydraulics.Weight) float64 { return w.Limit }}} {
		in := d.In(id)
		text := ""
		for _, w := range u.Governor.Weights {
			if text != "" {
				text += "; "
			}
			text += instrument.Short(quantity.Quantity{SI: x.of(w), Dimension: in.Dimension}, x.unit)
		}
		in.Default = text + " " + x.unit
	}
	d.In("per-km").PutSI(math.Round(u.PerMetre * 1000 / (2 * math.Pi)))
}

// governorIn reads the governor from the inputs.
func governorIn(v instrument.Values) (hydraulics.Governor, error) {
	g := hydraulics.Governor{Area: v.N("valve")}
	m, r, l := v.List("masses"), v.List("radii"), v.List("limits")
	if len(m) == 0 || len(m) != len(r) || len(m) != len(l) {
		return g, &instrument.InputError{Input: "radii", Reason: fmt.Sprintf("%d weights, %d radii, %d limits", len(m), len(r), len(l)), Accepted: "one radius and one limit for each weight"}
	}
	for i := range m {
		g.Weights = append(g.Weights, hydraulics.Weight{Mass: m[i], Radius: r[i], Limit: l[i]})
	}
	return g, nil
}

// turning is the speed of the governor's shaft, in rad/s, at a road speed in m/s.
func turning(v instrument.Values, road float64) float64 {
	return road * v.N("per-km") / 1000 * 2 * math.Pi
}

// Governor holds governor pressure, up and down, against what its weights should make.
func Governor() instrument.Definition {
	return instrument.Definition{
		ID: "governor", Title: "Governor pressure against road speed", Group: "hydraulics", Hand: []string{"pressure gauge"},
		Answers: "Does governor pressure follow road speed, on the way up and on the way down?",
		Source:  "Σ m·r·ω²/A of its weights (textbooks, recalled from memory); look closer from a tenth off, or a tenth between up and down (common practice, no source)",
		Limits:  "line pressure above governor pressure; no friction; speeds as read, hot",
		Gauge:   "pressure gauge, 1 psi", Cautions: []string{instrument.CautionRunning, instrument.CautionPressure}, States: []string{"governor-pressure"},
		Inputs: append([]instrument.Input{
			instrument.ListIn("speeds", "Road speeds", quantity.Speed, "km/h", 1, 400).Like("30; 50; 70 km/h"),
			instrument.ListIn("up", "Pressure at each, going up", quantity.Pressure, "psi", 0, 400).Like("20; 33; 39 psi"),
			instrument.ListIn("down", "and coming down", quantity.Pressure, "psi", 0, 400).Maybe(),
		}, governorInputs()...),
		Jumps: true,
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && u.Governor != nil {
				governorOf(d, u)
			}
			return nil
		},
		Work: instrument.Works(func(v instrument.Values) (governed, []instrument.Output, error) {
			g, err := governorIn(v)
			if err != nil {
				return governed{}, nil, err
			}
			speeds, up, down := v.List("speeds"), v.List("up"), v.List("down")
			if len(up) != len(speeds) {
				return governed{}, nil, &instrument.InputError{Input: "up", Reason: fmt.Sprintf("%d pressures for %d speeds", len(up), len(speeds)), Accepted: "one for each speed"}
			}
			if len(down) > 0 && len(down) != len(speeds) {
				return governed{}, nil, &instrument.InputError{Input: "down", Reason: fmt.Sprintf("%d pressures for %d speeds", len(down), len(speeds)), Accepted: "one for each speed, in the same order, or none"}
			}
			read, made, hangs := 0.0, 0.0, 0.0
			for i, s := range speeds {
				made += g.Pressure(turning(v, s))
				read += up[i]
				if len(down) > 0 {
					hangs = math.Max(hangs, math.Abs(down[i]-up[i]))
				}
			}
			outs := []instrument.Output{instrument.Out("part", "read over computed", read/made, quantity.Ratio, "%").Within(0.9, 1.1)}
			if len(down) > 0 {
				outs = append(outs, instrument.Out("hangs", "most between up and down", hangs, quantity.Pressure, "psi").AtMost(0.1*made/float64(len(speeds))))
			}
			return governed{g, made}, outs, nil
		}, func(v instrument.Values, x governed, o []instrument.Output, r *instrument.Result) {
			g, made, speeds := x.governor, x.made, v.List("speeds")
			// A gauge that is read to about a psi, on the sum of some readings.
			r.Outputs[0].U = instrument.SI(1, quantity.Pressure, "psi") * math.Sqrt(float64(len(speeds))) / made
			c, err := r.Outputs[0].Compare()
			if err != nil {
				return // impossible: finite values
			}
			r.Outputs[0].Verdict = c.Verdict
			sticks := 0.02 // it was not driven down
			if len(o) > 1 {
				r.Outputs[1].U = instrument.SI(math.Sqrt2, quantity.Pressure, "psi")
				hang, err := r.Outputs[1].Compare()
				if err != nil {
					return
				}
				r.Outputs[1].Verdict, sticks = hang.Verdict, hang.Above
			}
			l := map[string]float64{"sticks": sticks, "low": (1 - sticks) * c.Below, "follows": (1 - sticks) * (1 - c.Below)}
			r.Stated = []instrument.DerivedReading{instrument.Derive("governor-pressure", []string{"follows", "low", "sticks"}, l, v.SayOutput(r.Outputs[0])+" of what it should be")}
			r.Headline = map[string]string{
				"follows": "It follows road speed.",
				"low":     "Low: rings, screen, drive gear or a weight that hangs; every shift comes late.",
				"sticks":  "It sticks: another pressure coming down than going up. Dirt or a scored valve.",
			}[r.Stated[0].State]
			if c.Verdict == measure.Above && r.Stated[0].State == "follows" {
				r.Headline = "More than its weights make: another governor or other weights; every shift comes early."
			}
			top := 0.0
			for _, s := range speeds {
				top = math.Max(top, s)
			}
			should, up, down := instrument.Series{Name: "computed", Role: "other"}, instrument.Series{Name: "going up", Role: "main"}, instrument.Series{Name: "coming down", Role: "limit"}
			for i := range 41 {
				s := 1.1 * top * float64(i) / 40
				should.Points = append(should.Points, [2]float64{s, g.Pressure(turning(v, s))})
			}
			for i, s := range speeds {
				up.Points = append(up.Points, [2]float64{s, v.List("up")[i]})
				if d := v.List("down"); len(d) > 0 {
					down.Points = append(down.Points, [2]float64{s, d[i]})
				}
			}
			f := instrument.Chart{Kind: "curve", Title: "Governor pressure", X: instrument.Axis{Label: "road speed", Dimension: quantity.Speed, Unit: "km/h"}, Y: instrument.Axis{Label: "pressure", Dimension: quantity.Pressure, Unit: "psi"}, Words: "Pressure read at each speed beside what the weights make.", Series: []instrument.Series{should, up}}
			if len(down.Points) > 0 {
				f.Series = append(f.Series, down)
			}
			r.Figures = []instrument.Chart{f}
		}),
	}
}

// governed is a governor with the pressures that it makes at the speeds read, summed up.
type governed struct {
	governor hydraulics.Governor
	made     float64
}
