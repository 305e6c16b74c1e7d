package clutches

import (
	"fmt"
	"math"

	"innercompass/core/friction"
	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// DryClutch is a clamped single plate with or without centrifugal weights.
func DryClutch() instrument.Definition {
	return instrument.Definition{
		ID: "dry-clutch", Title: "Dry clutch: capacity and weights", Group: "clutches", Hand: []string{"caliper", "scales"},
		Answers: "What does the clutch hold, and what is lost when the weights come off?",
		Source:  "uniform wear; centrifugal force m·r·ω² over the levers", Limits: "clamp load with this disc at this wear; static coefficient, dry and clean",
		Inputs: []instrument.Input{
			instrument.NumberIn("clamp", "Clamp load of the cover", quantity.Force, "N", 100, 60000).Preset("7500 N").About(300),
			instrument.NumberIn("outer", "Lining, outer diameter", quantity.Length, "mm", 100, 500).Preset("240 mm").About(0.5),
			instrument.NumberIn("inner", "Lining, inner diameter", quantity.Length, "mm", 50, 450).Preset("155 mm").About(0.5),
			instrument.NumberIn("friction", "Friction coefficient", quantity.Ratio, "", 0.05, 0.6).Preset("0.27").About(0.02),
			instrument.NumberIn("torque", "Engine torque that it must hold", quantity.Torque, "N·m", 1, 5000).Preset("280 N·m"),
			instrument.CountIn("weights", "Centrifugal weights", 0, 24).Preset("0"),
			instrument.NumberIn("mass", "Mass of one", quantity.Mass, "g", 0, 500).Preset("30 g"),
			instrument.NumberIn("at", "Diameter of the circle they sit on", quantity.Length, "mm", 10, 500).Preset("200 mm"),
			instrument.NumberIn("lever", "Clamp for each newton that a weight pulls with", quantity.Ratio, "", 0, 10).Preset("0.5"),
			instrument.NumberIn("speed", "Engine speed to look at", quantity.RotationalSpeed, "rpm", 0, 10000).Preset("5000 rpm"),
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
			c := dryOf(v)
			with, without := c, c
			without.Weights = 0
			lost := 1 - without.ClampAt(v.N("speed"))/with.ClampAt(v.N("speed"))
			return []instrument.Output{instrument.Out("capacity", "torque that it holds standing still", c.Capacity(0), quantity.Torque, "N·m"), instrument.Out("safety", "of the engine's torque", c.Capacity(0)/v.N("torque"), quantity.Ratio, ""),
				instrument.Out("at-speed", "at the speed, with weights", with.Capacity(v.N("speed")), quantity.Torque, "N·m"), instrument.Out("lost", "clamp lost there without them", lost, quantity.Ratio, "%")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = "It holds " + v.SayOutput(o[0]) + "." + safety(v, o[0].Value, o[0].U, v.N("torque"))
			if v.Count("weights") > 0 {
				r.Detail = fmt.Sprintf("At %s the weights bring %s of the clamp. Practitioners differ on taking hanging weights off: measure imbalance and what is left first.", v.Say(v.N("speed"), quantity.RotationalSpeed, "rpm"), v.Say(o[3].Value, quantity.Ratio, "%"))
			}
			c := dryOf(v)
			with, without, need := instrument.Series{Name: "with weights", Role: "main"}, instrument.Series{Name: "without", Role: "other"}, instrument.Series{Name: "engine", Role: "limit"}
			top := math.Max(v.N("speed"), instrument.SI(1000, quantity.RotationalSpeed, "rpm"))
			for i := range 21 {
				w := top * float64(i) / 20
				with.Points = append(with.Points, [2]float64{w, c.Capacity(w)})
				without.Points = append(without.Points, [2]float64{w, c.Capacity(0)})
				need.Points = append(need.Points, [2]float64{w, v.N("torque")})
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Capacity over engine speed", X: instrument.Axis{Label: "engine speed", Dimension: quantity.RotationalSpeed, Unit: "rpm"}, Y: instrument.Axis{Label: "torque", Dimension: quantity.Torque, Unit: "N·m"}, Words: "Weights add with the square of speed.", Series: []instrument.Series{with, without, need}}}
		},
	}
}

func dryOf(v instrument.Values) friction.DryClutch {
	return friction.DryClutch{Clamp: v.N("clamp"), Mu: v.N("friction"), Outer: v.N("outer") / 2, Inner: v.N("inner") / 2, Weights: v.Count("weights"), Mass: v.N("mass"), At: v.N("at") / 2, Lever: v.N("lever")}
}

// ReleaseTravel follows pedal travel to the release bearing.
func ReleaseTravel() instrument.Definition {
	return instrument.Definition{
		ID: "release-travel", Title: "Release travel of a hydraulic clutch", Group: "clutches", Hand: []string{"rule", "caliper"},
		Answers: "Does the pedal bring enough travel to the release bearing, and what do air or wear take?",
		Source:  "volume is kept between the cylinders; levers", Limits: "hoses stiff; loss measured or guessed",
		Gauge: "rule, 1 mm", States: []string{"release-travel"},
		Inputs: []instrument.Input{
			instrument.NumberIn("pedal", "Pedal travel", quantity.Length, "mm", 0, 400).Preset("140 mm").ReadWithin(1.5),
			instrument.NumberIn("free", "Free travel at the pedal", quantity.Length, "mm", 0, 100).Preset("8 mm").ReadWithin(1.5),
			instrument.NumberIn("pedal-lever", "Pedal lever", quantity.Ratio, "", 1, 15).Preset("5.2"),
			instrument.NumberIn("master", "Master cylinder", quantity.Length, "mm", 5, 60).Preset("19.05 mm"),
			instrument.NumberIn("slave", "Slave cylinder", quantity.Length, "mm", 5, 80).Preset("22.2 mm"),
			instrument.NumberIn("lost", "Taken up by air, hoses, seals", quantity.Volume, "cc", 0, 20).Preset("0.3 cc").About(0.1),
			instrument.NumberIn("lever", "Release lever", quantity.Ratio, "", 0.5, 5).Preset("1.6"),
			instrument.NumberIn("needed", "Travel needed at the bearing", quantity.Length, "mm", 1, 40).Preset("8 mm"),
			instrument.NumberIn("read", "Travel read at the slave", quantity.Length, "mm", 0, 80).Maybe().ReadWithin(0.5),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			x, err := friction.ReleaseTravel(v.N("pedal"), v.N("free"), v.N("pedal-lever"), v.N("master"), v.N("slave"), v.N("lost"), v.N("lever"))
			if err != nil {
				return nil, instrument.Impossible("pedal", err)
			}
			outs := []instrument.Output{instrument.Out("bearing", "travel at the bearing", x.Bearing, quantity.Length, "mm"), instrument.Out("slave", "travel of the slave", x.Slave, quantity.Length, "mm"), instrument.Out("spare", "to spare", x.Bearing-v.N("needed"), quantity.Length, "mm")}
			if v.Has("read") {
				area := math.Pi / 4 * v.N("slave") * v.N("slave")
				outs = append(outs, instrument.Out("missing", "oil that does not arrive", (x.Slave-v.N("read"))*area, quantity.Volume, "cc"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			enough := o[2].Value >= 0
			r.Headline = map[bool]string{true: "Enough: ", false: "Too little: "}[enough] + v.SayOutput(o[0]) + " at the bearing, " + v.Say(v.N("needed"), quantity.Length, "mm") + " needed."
			if len(o) > 3 && o[3].Value > 0.2e-6 {
				r.Detail = "At the slave " + v.Say(o[3].Value, quantity.Volume, "cc") + " more are missing than were allowed for: air, a swelling hose or a cup that passes."
			}
			p := 0.5 * math.Erfc(-o[2].Value/math.Max(o[2].U, 1e-5)/math.Sqrt2)
			l := map[string]float64{"full": p, "short": 1 - p}
			r.Stated = []instrument.DerivedReading{instrument.Derive("release-travel", []string{"full", "short"}, l, v.SayOutput(o[0]))}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Travel along the way", Y: instrument.Axis{Label: "travel", Dimension: quantity.Length, Unit: "mm"}, Words: "Pedal, slave and bearing.",
				Bars: []instrument.Bar{{Label: "pedal", Value: v.N("pedal"), Text: v.Say(v.N("pedal"), quantity.Length, "mm")}, {Label: "slave", Value: o[1].Value, Text: v.SayOutput(o[1])}, {Label: "bearing", Value: o[0].Value, Need: v.N("needed"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}

// FlywheelPlay reads free turning of a dual-mass flywheel and compares masses for a swap.
func FlywheelPlay() instrument.Definition {
	return instrument.Definition{
		ID: "flywheel", Title: "Flywheel: free turning, and another mass", Group: "clutches", Hand: []string{"angle gauge", "scales"},
		Answers: "Are the springs of a dual-mass flywheel still good, and may another flywheel take its place?",
		Source:  "common practice, no source: about 8 to 9° of free turning at most unless the sheet says otherwise; masses within some 10 % are near enough",
		Limits:  "turned by hand to the first resistance each way; inertia compared at the same diameter",
		Gauge:   "angle gauge, 0.5°", Cautions: []string{"Flywheels are heavy: two hands, never under it."}, States: []string{"flywheel-hand"},
		Inputs: []instrument.Input{
			instrument.NumberIn("left", "Free turning one way", quantity.Angle, "°", 0, 90).ReadWithin(0.5).Like("6"),
			instrument.NumberIn("right", "and the other way", quantity.Angle, "°", 0, 90).ReadWithin(0.5).Maybe().Explained("Left out when the whole was measured one way."),
			instrument.NumberIn("most", "Most that is allowed", quantity.Angle, "°", 1, 90).Preset("9 °"),
			instrument.NumberIn("mass", "Mass of this flywheel", quantity.Mass, "kg", 0.5, 200).Maybe().About(0.05),
			instrument.NumberIn("other", "Mass of the other", quantity.Mass, "kg", 0.5, 200).Maybe().About(0.05),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if w := instrument.LimitOf(u, "flywheel-free"); w != nil {
				d.In("most").PutSI(w.High.SI)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			outs := []instrument.Output{instrument.Out("free", "free turning", v.N("left")+v.N("right"), quantity.Angle, "°").AtMost(v.N("most"))}
			if v.Has("mass") && v.Has("other") {
				outs = append(outs, instrument.Out("mass", "the other over this one", v.N("other")/v.N("mass"), quantity.Ratio, "%"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			switch o[0].Verdict {
			case measure.Above:
				r.Headline = v.SayOutput(o[0]) + ": more than allowed; springs broken or worn."
			case measure.CannotTell:
				r.Headline = v.SayOutput(o[0]) + ": too near the limit for this gauge to tell."
			default:
				r.Headline = v.SayOutput(o[0]) + " of free turning: in order."
			}
			if len(o) > 1 {
				near := math.Abs(o[1].Value-1) <= 0.1
				r.Detail = map[bool]string{true: "The masses are near enough to swap; balance and bolt length are another matter.", false: "The masses differ too much: idle, vibration and shift feel would change."}[near]
			}
			c := o[0].Likelihoods("firm", "under", "loose")
			l := map[string]float64{"firm": c["firm"], "loose": c["loose"]}
			r.Stated = []instrument.DerivedReading{instrument.Derive("flywheel-hand", []string{"firm", "loose"}, l, v.SayOutput(o[0]))}
		},
	}
}
