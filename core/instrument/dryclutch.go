package instrument

import (
	"fmt"
	"math"

	"innercompass/core/friction"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// dryClutch is a clamped single plate with or without centrifugal weights.
func dryClutch() Definition {
	return Definition{
		ID: "dry-clutch", Title: "Dry clutch: capacity and weights", Group: "clutches", Hand: []string{"caliper", "scales"},
		Answers: "What does the clutch hold, and what is lost when the weights come off?",
		Source:  "uniform wear; centrifugal force m·r·ω² over the levers", Limits: "clamp load with this disc at this wear; static coefficient, dry and clean",
		Inputs: []Input{
			num("clamp", "Clamp load of the cover", quantity.Force, "N", 100, 60000).preset("7500 N").about(300),
			num("outer", "Lining, outer diameter", quantity.Length, "mm", 100, 500).preset("240 mm").about(0.5),
			num("inner", "Lining, inner diameter", quantity.Length, "mm", 50, 450).preset("155 mm").about(0.5),
			num("friction", "Friction coefficient", quantity.Ratio, "", 0.05, 0.6).preset("0.27").about(0.02),
			num("torque", "Engine torque that it must hold", quantity.Torque, "N·m", 1, 5000).preset("280 N·m"),
			count("weights", "Centrifugal weights", 0, 24).preset("0"),
			num("mass", "Mass of one", quantity.Mass, "g", 0, 500).preset("30 g"),
			num("at", "Diameter of the circle they sit on", quantity.Length, "mm", 10, 500).preset("200 mm"),
			num("lever", "Clamp for each newton that a weight pulls with", quantity.Ratio, "", 0, 10).preset("0.5"),
			num("speed", "Engine speed to look at", quantity.RotationalSpeed, "rpm", 0, 10000).preset("5000 rpm"),
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
			c := dryOf(v)
			with, without := c, c
			without.Weights = 0
			lost := 1 - without.ClampAt(v.N("speed"))/with.ClampAt(v.N("speed"))
			return []Output{out("capacity", "torque that it holds standing still", c.Capacity(0), quantity.Torque, "N·m"), out("safety", "of the engine's torque", c.Capacity(0)/v.N("torque"), quantity.Ratio, ""),
				out("at-speed", "at the speed, with weights", with.Capacity(v.N("speed")), quantity.Torque, "N·m"), out("lost", "clamp lost there without them", lost, quantity.Ratio, "%")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = "It holds " + v.SayOutput(o[0]) + "." + v.safety(o[0].Value, o[0].U, v.N("torque"))
			if v.Count("weights") > 0 {
				r.Detail = fmt.Sprintf("At %s the weights bring %s of the clamp. Practitioners differ on taking hanging weights off: measure imbalance and what is left first.", v.Say(v.N("speed"), quantity.RotationalSpeed, "rpm"), v.Say(o[3].Value, quantity.Ratio, "%"))
			}
			c := dryOf(v)
			with, without, need := Series{Name: "with weights", Role: "main"}, Series{Name: "without", Role: "other"}, Series{Name: "engine", Role: "limit"}
			top := math.Max(v.N("speed"), si(1000, quantity.RotationalSpeed, "rpm"))
			for i := range 21 {
				w := top * float64(i) / 20
				with.Points = append(with.Points, [2]float64{w, c.Capacity(w)})
				without.Points = append(without.Points, [2]float64{w, c.Capacity(0)})
				need.Points = append(need.Points, [2]float64{w, v.N("torque")})
			}
			r.Figures = []Chart{{Kind: "curve", Title: "Capacity over engine speed", X: Axis{"engine speed", quantity.RotationalSpeed, "rpm"}, Y: Axis{"torque", quantity.Torque, "N·m"}, Words: "Weights add with the square of speed.", Series: []Series{with, without, need}}}
		},
	}
}

func dryOf(v Values) friction.DryClutch {
	return friction.DryClutch{Clamp: v.N("clamp"), Mu: v.N("friction"), Outer: v.N("outer") / 2, Inner: v.N("inner") / 2, Weights: v.Count("weights"), Mass: v.N("mass"), At: v.N("at") / 2, Lever: v.N("lever")}
}

// releaseTravel follows pedal travel to the release bearing.
func releaseTravel() Definition {
	return Definition{
		ID: "release-travel", Title: "Release travel of a hydraulic clutch", Group: "clutches", Hand: []string{"rule", "caliper"},
		Answers: "Does the pedal bring enough travel to the release bearing, and what do air or wear take?",
		Source:  "volume is kept between the cylinders; levers", Limits: "hoses stiff; loss measured or guessed",
		Gauge: "rule, 1 mm", States: []string{"release-travel"},
		Inputs: []Input{
			num("pedal", "Pedal travel", quantity.Length, "mm", 0, 400).preset("140 mm").read(1.5),
			num("free", "Free travel at the pedal", quantity.Length, "mm", 0, 100).preset("8 mm").read(1.5),
			num("pedal-lever", "Pedal lever", quantity.Ratio, "", 1, 15).preset("5.2"),
			num("master", "Master cylinder", quantity.Length, "mm", 5, 60).preset("19.05 mm"),
			num("slave", "Slave cylinder", quantity.Length, "mm", 5, 80).preset("22.2 mm"),
			num("lost", "Taken up by air, hoses, seals", quantity.Volume, "cc", 0, 20).preset("0.3 cc").about(0.1),
			num("lever", "Release lever", quantity.Ratio, "", 0.5, 5).preset("1.6"),
			num("needed", "Travel needed at the bearing", quantity.Length, "mm", 1, 40).preset("8 mm"),
			num("read", "Travel read at the slave", quantity.Length, "mm", 0, 80).optional().read(0.5),
		},
		compute: func(v Values) ([]Output, error) {
			x, err := friction.ReleaseTravel(v.N("pedal"), v.N("free"), v.N("pedal-lever"), v.N("master"), v.N("slave"), v.N("lost"), v.N("lever"))
			if err != nil {
				return nil, impossible("pedal", err)
			}
			outs := []Output{out("bearing", "travel at the bearing", x.Bearing, quantity.Length, "mm"), out("slave", "travel of the slave", x.Slave, quantity.Length, "mm"), out("spare", "to spare", x.Bearing-v.N("needed"), quantity.Length, "mm")}
			if v.Has("read") {
				area := math.Pi / 4 * v.N("slave") * v.N("slave")
				outs = append(outs, out("missing", "oil that does not arrive", (x.Slave-v.N("read"))*area, quantity.Volume, "cc"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			enough := o[2].Value >= 0
			r.Headline = map[bool]string{true: "Enough: ", false: "Too little: "}[enough] + v.SayOutput(o[0]) + " at the bearing, " + v.Say(v.N("needed"), quantity.Length, "mm") + " needed."
			if len(o) > 3 && o[3].Value > 0.2e-6 {
				r.Detail = "At the slave " + v.Say(o[3].Value, quantity.Volume, "cc") + " more are missing than were allowed for: air, a swelling hose or a cup that passes."
			}
			p := 0.5 * math.Erfc(-o[2].Value/math.Max(o[2].U, 1e-5)/math.Sqrt2)
			l := map[string]float64{"full": p, "short": 1 - p}
			r.Stated = []DerivedReading{stated("release-travel", []string{"full", "short"}, l, v.SayOutput(o[0]))}
			r.Figures = []Chart{{Kind: "bars", Title: "Travel along the way", Y: Axis{"travel", quantity.Length, "mm"}, Words: "Pedal, slave and bearing.",
				Bars: []Bar{{Label: "pedal", Value: v.N("pedal"), Text: v.Say(v.N("pedal"), quantity.Length, "mm")}, {Label: "slave", Value: o[1].Value, Text: v.SayOutput(o[1])}, {Label: "bearing", Value: o[0].Value, Need: v.N("needed"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}

// flywheelPlay reads free turning of a dual-mass flywheel and compares masses for a swap.
func flywheelPlay() Definition {
	return Definition{
		ID: "flywheel", Title: "Flywheel: free turning, and another mass", Group: "clutches", Hand: []string{"angle gauge", "scales"},
		Answers: "Are the springs of a dual-mass flywheel still good, and may another flywheel take its place?",
		Source:  "common practice, no source: about 8 to 9° of free turning at most unless the sheet says otherwise; masses within some 10 % are near enough",
		Limits:  "turned by hand to the first resistance each way; inertia compared at the same diameter",
		Gauge:   "angle gauge, 0.5°", Cautions: []string{"Flywheels are heavy: two hands, never under it."}, States: []string{"flywheel-hand"},
		Inputs: []Input{
			num("left", "Free turning one way", quantity.Angle, "°", 0, 90).read(0.5).like("6"),
			num("right", "and the other way", quantity.Angle, "°", 0, 90).read(0.5).optional().help("Left out when the whole was measured one way."),
			num("most", "Most that is allowed", quantity.Angle, "°", 1, 90).preset("9 °"),
			num("mass", "Mass of this flywheel", quantity.Mass, "kg", 0.5, 200).optional().about(0.05),
			num("other", "Mass of the other", quantity.Mass, "kg", 0.5, 200).optional().about(0.05),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if w := limitOf(u, "flywheel-free"); w != nil {
				d.input("most").putSI(w.High.SI)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			outs := []Output{out("free", "free turning", v.N("left")+v.N("right"), quantity.Angle, "°").atMost(v.N("most"))}
			if v.Has("mass") && v.Has("other") {
				outs = append(outs, out("mass", "the other over this one", v.N("other")/v.N("mass"), quantity.Ratio, "%"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
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
			c := o[0].likelihoods("firm", "under", "loose")
			l := map[string]float64{"firm": c["firm"], "loose": c["loose"]}
			r.Stated = []DerivedReading{stated("flywheel-hand", []string{"firm", "loose"}, l, v.SayOutput(o[0]))}
		},
	}
}
