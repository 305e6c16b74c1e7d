package bolts

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/fasteners"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// lubricants and the friction coefficient that they usually give on steel (common practice, no source).
var lubricants = []struct {
	id, title string
	mu        float64
}{
	{"dry", "dry, as delivered", 0.15}, {"oil", "oiled", 0.12}, {"lock", "thread lock", 0.14}, {"zinc", "zinc plated, dry", 0.17}, {"anti-seize", "anti-seize paste", 0.09}, {"moly", "molybdenum paste", 0.08},
}

func lubricantOptions() []instrument.Option {
	var out []instrument.Option
	for _, l := range lubricants {
		out = append(out, instrument.Option{ID: l.id, Title: l.title})
	}
	return out
}

func frictionOf(id string) float64 {
	for _, l := range lubricants {
		if l.id == id {
			return l.mu
		}
	}
	return 0.15
}

// TorqueLubricant corrects a torque for another lubricant.
func TorqueLubricant() instrument.Definition {
	return instrument.Definition{
		ID: "torque-lubricant", Title: "Torque with another lubricant", Group: "fasteners", Hand: []string{"torque wrench"},
		Answers: "The torque is given for dry threads and these are not: what gives the same tension?",
		Source:  "VDI 2230: pitch and friction at thread and head (recalled from memory, checked by the work of a turn); coefficients are common practice, no source",
		Limits:  "metric or unified thread, hexagon head; the coefficient varies by a fifth from bolt to bolt", Gauge: "torque wrench, 4 %",
		Inputs: []instrument.Input{
			instrument.NumberIn("torque", "Torque given", quantity.Torque, "N·m", 0.5, 2000).About(0).Preset("35 N·m"),
			instrument.ChoiceIn("for", "It is given for", lubricantOptions()...).Preset("dry"), instrument.ChoiceIn("with", "Threads are", lubricantOptions()...).Preset("anti-seize"),
			instrument.NumberIn("diameter", "Bolt, diameter", quantity.Length, "mm", 2, 60).Preset("10 mm"), instrument.NumberIn("pitch", "Pitch", quantity.Length, "mm", 0.2, 6).Preset("1.5 mm"),
			instrument.NumberIn("scatter", "Scatter of the friction coefficient", quantity.Ratio, "%", 0, 40).Preset("10 %"),
			instrument.CountIn("steps", "Steps to tighten in", 1, 5).Preset("2"),
		},
		PartsOn: func(u *unitsheet.Unit) []instrument.Option {
			var out []instrument.Option
			if u != nil {
				for i, t := range u.Sheet.Torques {
					out = append(out, instrument.Option{ID: fmt.Sprint(i), Title: t.Joint})
				}
			}
			return out
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u == nil {
				return nil
			}
			for i, t := range u.Sheet.Torques {
				if fmt.Sprint(i) == d.Part {
					d.In("torque").Default = t.Torque
				}
			}
			return nil
		},
		Work: instrument.Works(func(v instrument.Values) (fasteners.Bolt, []instrument.Output, error) {
			b, err := fasteners.Metric(v.N("diameter"), v.N("pitch"))
			if err != nil {
				return b, nil, &instrument.InputError{Input: "pitch", Reason: "the pitch does not fit the diameter", Accepted: "less than half the diameter"}
			}
			before, err := b.PerTension(frictionOf(v.Chosen("for")), frictionOf(v.Chosen("for")))
			if err != nil {
				return b, nil, instrument.Impossible("for", err)
			}
			after, err := b.PerTension(frictionOf(v.Chosen("with")), frictionOf(v.Chosen("with")))
			if err != nil {
				return b, nil, instrument.Impossible("with", err)
			}
			tension := v.N("torque") / before
			return b, []instrument.Output{instrument.Out("torque", "torque to set", tension*after, quantity.Torque, "N·m"), instrument.Out("tension", "tension", tension, quantity.Force, "kN"), instrument.Out("kept", "of the torque given", after/before, quantity.Ratio, "%"),
				instrument.Out("stress", "stress in the bolt", tension/fasteners.StressArea(v.N("diameter"), v.N("pitch")), quantity.Pressure, "MPa")}, nil
		}, func(v instrument.Values, b fasteners.Bolt, o []instrument.Output, r *instrument.Result) {
			spread := v.N("scatter")
			r.Headline = "Set " + v.Say(o[0].Value, quantity.Torque, "N·m") + " for the same tension."
			var steps []string
			n := v.Count("steps")
			for i := range n {
				steps = append(steps, v.Say(o[0].Value*float64(i+1)/float64(n), quantity.Torque, "N·m"))
			}
			r.Detail = fmt.Sprintf("In steps: %s. Friction scatters: tension lies between %s and %s. The maker's torque and lubricant go first.", strings.Join(steps, ", "), v.Say(o[1].Value/(1+2*spread), quantity.Force, "kN"), v.Say(o[1].Value/math.Max(0.2, 1-2*spread), quantity.Force, "kN"))
			bars := instrument.Chart{Kind: "bars", Title: "Torque for the same tension", Y: instrument.Axis{Label: "torque", Dimension: quantity.Torque, Unit: "N·m"}, Words: "By lubricant."}
			for _, l := range lubricants {
				if per, err := b.PerTension(l.mu, l.mu); err == nil {
					bars.Bars = append(bars.Bars, instrument.Bar{Label: l.title, Value: o[1].Value * per, Text: v.Say(o[1].Value*per, quantity.Torque, "N·m"), Emphasised: l.id == v.Chosen("with")})
				}
			}
			r.Figures = []instrument.Chart{bars}
		}),
	}
}

// Crowfoot corrects for a tool beside the wrench.
func Crowfoot() instrument.Definition {
	return instrument.Definition{
		ID: "crowfoot", Title: "Crowfoot and offset tools", Group: "fasteners", Hand: []string{"torque wrench"},
		Answers: "What must the wrench be set to when a tool sets the bolt off from it?", Source: "moments about the bolt", Limits: "hand at the grip's mark; the tool stiff",
		Inputs: []instrument.Input{
			instrument.NumberIn("torque", "Torque wanted at the bolt", quantity.Torque, "N·m", 0.5, 2000).Preset("50 N·m").Takes("torque-lubricant.torque"), instrument.NumberIn("length", "Wrench: grip to square", quantity.Length, "mm", 50, 2000).Preset("400 mm").About(3),
			instrument.NumberIn("offset", "Tool: square to bolt", quantity.Length, "mm", 0, 1000).Preset("50 mm").About(1), instrument.NumberIn("angle", "Angle of the tool to the wrench", quantity.Angle, "°", 0, 180).Preset("0 °").About(3).Explained("0: straight ahead. 90: square to it, no correction. 180: back towards the hand."),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			set, err := fasteners.Crowfoot(v.N("torque"), v.N("length"), v.N("offset"), v.N("angle"))
			if err != nil {
				return nil, instrument.Impossible("offset", err)
			}
			return []instrument.Output{instrument.Out("set", "set the wrench to", set, quantity.Torque, "N·m"), instrument.Out("kept", "of the torque wanted", set/v.N("torque"), quantity.Ratio, "%")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = "Set " + v.SayOutput(o[0]) + "."
			s := instrument.Series{Name: "set", Role: "main"}
			for i := range 37 {
				a := math.Pi * float64(i) / 36
				if t, err := fasteners.Crowfoot(v.N("torque"), v.N("length"), v.N("offset"), a); err == nil {
					s.Points = append(s.Points, [2]float64{a, t})
				}
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Setting against the tool's angle", X: instrument.Axis{Label: "angle", Dimension: quantity.Angle, Unit: "°"}, Y: instrument.Axis{Label: "set", Dimension: quantity.Torque, Unit: "N·m"}, Words: "Square to the wrench nothing changes.", Series: []instrument.Series{s}, Marks: []instrument.Mark{{X: v.N("angle"), Y: o[0].Value, Label: "here"}}}}
		},
	}
}

// TorqueAngle is what a further angle adds.
func TorqueAngle() instrument.Definition {
	return instrument.Definition{
		ID: "torque-angle", Title: "Angle after torque", Group: "fasteners", Hand: []string{"torque wrench", "angle gauge"},
		Answers: "What tension does the further angle add, and does the bolt stretch past its limit?", Source: "pitch times stiffness; stress area of ISO 898-1; joint three times as stiff as the bolt (common practice, no source)",
		Limits: "seated joint; straight part of the bolt's line. Beyond the yield the maker wants new bolts",
		Inputs: []instrument.Input{
			instrument.NumberIn("torque", "Torque first", quantity.Torque, "N·m", 0, 2000).Preset("40 N·m").About(1).Takes("torque-lubricant.torque"), instrument.NumberIn("angle", "then this angle", quantity.Angle, "°", 0, 720).Preset("90 °").About(3),
			instrument.NumberIn("diameter", "Bolt, diameter", quantity.Length, "mm", 2, 60).Preset("10 mm"), instrument.NumberIn("pitch", "Pitch", quantity.Length, "mm", 0.2, 6).Preset("1.5 mm"), instrument.NumberIn("grip", "Grip length", quantity.Length, "mm", 5, 500).Preset("45 mm").About(1),
			instrument.ChoiceIn("with", "Threads are", lubricantOptions()...).Preset("oil"), instrument.NumberIn("yield", "Yield of the bolt", quantity.Pressure, "MPa", 100, 1500).Preset("900 MPa").Explained("8.8: 640 MPa, 10.9: 900 MPa, 12.9: 1080 MPa."),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			b, err := fasteners.Metric(v.N("diameter"), v.N("pitch"))
			if err != nil {
				return nil, &instrument.InputError{Input: "pitch", Reason: "the pitch does not fit the diameter", Accepted: "less than half the diameter"}
			}
			per, err := b.PerTension(frictionOf(v.Chosen("with")), frictionOf(v.Chosen("with")))
			if err != nil {
				return nil, instrument.Impossible("with", err)
			}
			area := fasteners.StressArea(v.N("diameter"), v.N("pitch"))
			first := v.N("torque") / per
			all := first + fasteners.AngleTension(v.N("angle"), v.N("pitch"), fasteners.BoltStiffness(area, v.N("grip")))
			return []instrument.Output{instrument.Out("tension", "tension in all", all, quantity.Force, "kN"), instrument.Out("first", "from the torque", first, quantity.Force, "kN"), instrument.Out("used", "of the yield", all/area/v.N("yield"), quantity.Ratio, "%")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			if o[2].Value > 1 {
				r.Headline = "The bolt reaches its yield before the angle is done: tension stays near that, and the bolt is for one use."
			} else {
				r.Headline = v.SayOutput(o[0]) + ", " + v.Say(o[2].Value, quantity.Ratio, "%") + " of the yield."
			}
			at := o[0].Value - o[1].Value
			limit := o[0].Value / o[2].Value
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Tension over the angle", X: instrument.Axis{Label: "angle", Dimension: quantity.Angle, Unit: "°"}, Y: instrument.Axis{Label: "tension", Dimension: quantity.Force, Unit: "kN"}, Words: "Tension rises evenly until the yield.",
				Series: []instrument.Series{{Name: "tension", Role: "main", Points: [][2]float64{{0, o[1].Value}, {math.Max(v.N("angle"), 1e-3), o[1].Value + at}}}, {Name: "yield", Role: "limit", Points: [][2]float64{{0, limit}, {math.Max(v.N("angle"), 1e-3), limit}}}}}}
		},
	}
}

// BoltCircle is the order in which to tighten.
func BoltCircle() instrument.Definition {
	return instrument.Definition{
		ID: "bolt-circle", Title: "Star order of a bolt circle", Group: "fasteners", Hand: []string{"torque wrench"},
		Answers: "In which order are these bolts tightened, and in which steps?", Source: "what is tight stays evenly spread; common practice, no source", Limits: "bolts evenly round a circle; the maker's order goes first",
		Inputs: []instrument.Input{instrument.CountIn("bolts", "Bolts", 2, fasteners.MostBolts).Preset("8"), instrument.NumberIn("torque", "Torque", quantity.Torque, "N·m", 0.5, 2000).Preset("30 N·m").Takes("torque-lubricant.torque"), instrument.CountIn("steps", "Steps", 1, 5).Preset("3")},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			var outs []instrument.Output
			n := v.Count("steps")
			for i := range n {
				outs = append(outs, instrument.Out(fmt.Sprintf("step%d", i+1), fmt.Sprintf("round %d", i+1), v.N("torque")*float64(i+1)/float64(n), quantity.Torque, "N·m"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, _ []instrument.Output, r *instrument.Result) {
			order, err := fasteners.StarOrder(v.Count("bolts"))
			if err != nil {
				return // impossible: the count was checked
			}
			spots := make([]int, len(order))
			var words []string
			for turn, bolt := range order {
				spots[bolt] = turn + 1
				words = append(words, fmt.Sprint(bolt+1))
			}
			r.Headline = "Bolts, numbered round: " + strings.Join(words, ", ") + "."
			r.Detail = "First all by hand until they touch, then each round in this order."
			r.Figures = []instrument.Chart{{Kind: "circle", Title: "Order", Words: "Bolts round the circle with their turn: " + strings.Join(words, ", ") + ".", Spots: spots}}
		},
	}
}

// BoltLengths sorts equal-looking bolts to their holes.
func BoltLengths() instrument.Definition {
	return instrument.Definition{
		ID: "bolt-lengths", Title: "Equal-looking bolts by length", Group: "fasteners", Hand: []string{"caliper"},
		Answers: "Which of these bolts goes into which hole, and which one would bottom?", Source: "thread needed is 1 to 1.5 diameters in steel, 1.5 to 2 in aluminum (common practice, no source)",
		Limits: "blind holes; length under the head", Gauge: "caliper, 0.05 mm",
		Inputs: []instrument.Input{
			instrument.ListIn("bolts", "Bolts, length under the head", quantity.Length, "mm", 2, 500).Like("25; 30; 35").Explained("25; 30 ×4; 35"), instrument.ListIn("grip", "Holes: thickness clamped", quantity.Length, "mm", 0, 400).Like("12; 16; 20"), instrument.ListIn("deep", "and thread depth of each", quantity.Length, "mm", 1, 200).Like("16; 16; 18"),
			instrument.NumberIn("diameter", "Bolt, diameter", quantity.Length, "mm", 2, 60).Preset("8 mm"), instrument.ChoiceIn("into", "Threads in", instrument.Option{ID: "aluminium", Title: "aluminum"}, instrument.Option{ID: "steel", Title: "steel or iron"}).Preset("aluminium"),
		},
		Work: instrument.Works(func(v instrument.Values) ([]assigned, []instrument.Output, error) {
			a, err := assign(v)
			if err != nil {
				return nil, nil, err
			}
			wrong := 0.0
			for _, x := range a {
				if x.verdict != "fits" {
					wrong++
				}
			}
			return a, []instrument.Output{instrument.Out("wrong", "holes without a bolt that fits", wrong, quantity.Ratio, "").Counted()}, nil
		}, func(v instrument.Values, a []assigned, o []instrument.Output, r *instrument.Result) {
			r.Headline = map[bool]string{true: "Every hole has a bolt that fits.", false: "Not every hole has a bolt that fits."}[o[0].Value == 0]
			bars := instrument.Chart{Kind: "bars", Title: "Hole by hole: bolt, and what fits", Y: instrument.Axis{Label: "length", Dimension: quantity.Length, Unit: "mm"}, Words: "Length of the bolt beside the window that the hole asks for."}
			var bad []string
			for i, x := range a {
				bars.Bars = append(bars.Bars, instrument.Bar{Label: fmt.Sprintf("hole %d", i+1), Value: x.bolt, Low: x.low, High: x.high, Text: v.Say(x.bolt, quantity.Length, "mm") + ", " + x.verdict, Emphasised: x.verdict != "fits"})
				if x.verdict != "fits" {
					bad = append(bad, fmt.Sprintf("hole %d: %s", i+1, x.verdict))
				}
			}
			r.Detail = strings.Join(bad, "; ")
			if r.Detail != "" {
				r.Detail += "."
			}
			r.Figures = []instrument.Chart{bars}
		}),
	}
}

type assigned struct {
	bolt, low, high float64
	verdict         string
}

// assign gives the longest bolt to the hole that asks for the longest, and so on: when any way fits all holes, this does.
func assign(v instrument.Values) ([]assigned, error) {
	bolts, grips, deep := slices.Clone(v.List("bolts")), v.List("grip"), v.List("deep")
	if len(grips) != len(deep) {
		return nil, &instrument.InputError{Input: "deep", Reason: fmt.Sprintf("%d depths for %d holes", len(deep), len(grips)), Accepted: "one thread depth for each hole"}
	}
	if len(bolts) < len(grips) {
		return nil, &instrument.InputError{Input: "bolts", Reason: fmt.Sprintf("%d bolts for %d holes", len(bolts), len(grips)), Accepted: "a bolt for each hole"}
	}
	need := map[string]float64{"aluminium": 1.5, "steel": 1}[v.Chosen("into")] * v.N("diameter")
	order := make([]int, len(grips))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return int(math.Copysign(1, grips[a]+deep[a]-grips[b]-deep[b])) })
	slices.Sort(bolts)
	out := make([]assigned, len(grips))
	next := 0
	for k, h := range order {
		low, high := grips[h]+math.Min(need, deep[h]), grips[h]+deep[h]
		// Leave what is too short for this hole, and so for all that follow, while others remain.
		for bolts[next] < low && len(bolts)-next > len(order)-k {
			next++
		}
		x := assigned{bolts[next], low, high, "fits"}
		switch {
		case x.bolt > high:
			x.verdict = "too long: it bottoms before it clamps"
		case x.bolt < low:
			x.verdict = "too short: too little thread"
		}
		out[h] = x
		next++
	}
	return out, nil
}
