package vibrations

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/instrument"
	"innercompass/core/joints"
	"innercompass/core/measure"
	"innercompass/core/quantity"
)

const (
	degree = math.Pi / 180
	// usualTorsion is the torsional acceleration that a drive line bears without being felt, rad/s² (300 to 500 recalled from memory,
	// unsure).
	usualTorsion = 400.0
	// alike is how far the angles of the first and last joint may lie apart (common practice, no source).
	alike = 1.0
	// dullFrom is the share of the critical speed from which a shaft may boom (judgment: mounts bring it down).
	dullFrom = 0.7
	turnMost = 6.0 // degrees by which an axle may be turned to set it right
)

func downIn(id, label string) instrument.Input {
	return instrument.NumberIn(id, label, quantity.Angle, "°", -30, 30).ReadWithin(0.1)
}

// shaftLine is what an inclinometer read along a drive line: directions from the unit to the axle, and how the forks stand.
type shaftLine struct {
	at    []joints.Direction
	forks []float64 // of each joint's driving fork against the first's
}

func lineOf(v instrument.Values) shaftLine {
	var s shaftLine
	add := func(id string) {
		s.at = append(s.at, joints.Direction{Down: v.N(id), Right: v.N(id + "-right")})
	}
	add("unit")
	add("front")
	if v.Has("rear") {
		add("rear")
	}
	add("axle")
	turned := 0.0
	for i := range len(s.at) - 1 {
		s.forks = append(s.forks, turned)
		if id := []string{"front-forks", "rear-forks"}[min(i, 1)]; v.Has(id) {
			turned += v.N(id)
		}
	}
	return s
}

// chain are the joints of a line, the axle turned by so much.
func (s shaftLine) chain(turn float64) []joints.Joint {
	at := append([]joints.Direction{}, s.at...)
	at[len(at)-1].Down += turn
	out := make([]joints.Joint, len(at)-1)
	for i := range out {
		out[i] = joints.Joint{Bend: joints.Between(at[i], at[i+1]), Plane: joints.Plane(at[i], at[i+1]), Fork: s.forks[i]}
	}
	return out
}

// best is by how much to turn the axle for the least equivalent angle.
func (s shaftLine) best() float64 {
	least, at := math.Inf(1), 0.0
	for k := -600; k <= 600; k++ {
		turn := float64(k) / 100 * degree
		if e, err := joints.Equivalent(s.chain(turn)); err == nil && e < least-1e-9 {
			least, at = e, turn
		}
	}
	return at
}

// JointAngles works out what the joints of a drive line do together.
func JointAngles() instrument.Definition {
	return instrument.Definition{
		ID: "joint-angles", Title: "Joint angles of the drive line", Group: "vibration", Hand: []string{"inclinometer", "angle gauge"},
		Answers: "Do the joints cancel, how hard do they shake, and what turn of the axle sets it right?",
		Source:  "kinematics of the cross joint; equivalent angle as the sum of squares turned by fork and plane; 300 to 500 rad/s² as the usual bearable are recalled from memory, unsure",
		Limits:  "vehicle at ride height on its wheels or equal supports; cross joints; down to the back counts as plus", Gauge: "inclinometer, 0.1°", Cautions: []string{instrument.CautionUnder}, States: []string{"shaft-angle"},
		Inputs: []instrument.Input{
			downIn("unit", "Unit, down to the back").Like("3.0 °"), downIn("front", "Shaft, or its front piece").Like("6.5 °"), downIn("rear", "Its rear piece").Maybe().Explained("Left empty: one piece."), downIn("axle", "Axle's input, down to the back").Like("2.0 °"),
			instrument.NumberIn("speed", "Speed of the shaft", quantity.RotationalSpeed, "rpm", 60, 12000).Preset("2350 rpm"), instrument.NumberIn("torque", "Torque on it", quantity.Torque, "N·m", 0, 20000).Preset("300 N·m"),
			instrument.NumberIn("front-forks", "Forks of the shaft (front piece) out of line by", quantity.Angle, "°", -90, 90).Maybe().Explained("0 when they are in line; a spline of 20 teeth is 18°."), instrument.NumberIn("rear-forks", "Forks of the rear piece out of line by", quantity.Angle, "°", -90, 90).Maybe(),
			downIn("unit-right", "Unit, to the right").Maybe().Explained("Seen from above, going back. Left empty: straight."), downIn("front-right", "Shaft or front piece, to the right").Maybe(), downIn("rear-right", "Rear piece, to the right").Maybe(), downIn("axle-right", "Axle, to the right").Maybe(),
			instrument.NumberIn("seat", "Length of the axle's seat or of the mount's foot", quantity.Length, "mm", 20, 600).Maybe().Explained("For the shim that turns it."),
		},
		Jumps: true,
		Work: instrument.Works(func(v instrument.Values) (shaftLine, []instrument.Output, error) {
			s := lineOf(v)
			chain := s.chain(0)
			e, err := joints.Equivalent(chain)
			if err != nil {
				return s, nil, instrument.Impossible("front", err)
			}
			u := math.Hypot(v.U("front"), v.U("unit")) // of one joint: two readings
			low, high, err := joints.Spread(chain, math.Max(u, 1e-4))
			if err != nil {
				return s, nil, instrument.Impossible("front", err)
			}
			torsion := instrument.Out("torsion", "twice a turn, the last shaft is jerked by", joints.Acceleration(e, v.N("speed")), quantity.Ratio, "").AtMost(usualTorsion)
			torsion.Label += ", rad/s²"
			out := []instrument.Output{torsion, instrument.Out("equivalent", "all joints together", e, quantity.Angle, "°"), instrument.Out("low", "with what the gauge can tell, from", low, quantity.Angle, "°"), instrument.Out("high", "to", high, quantity.Angle, "°")}
			for i, j := range chain {
				out = append(out, instrument.Out(fmt.Sprintf("joint%d", i+1), fmt.Sprintf("joint %d", i+1), j.Bend, quantity.Angle, "°"))
			}
			turn := s.best()
			out = append(out, instrument.Out("turn", "turn the axle's nose up by", turn, quantity.Angle, "°"))
			if v.Has("seat") {
				out = append(out, instrument.Out("shim", "shim at the end of its seat", math.Abs(joints.Shim(turn, v.N("seat"))), quantity.Length, "mm"))
			}
			return s, out, nil
		}, func(v instrument.Values, s shaftLine, o []instrument.Output, r *instrument.Result) {
			chain := s.chain(0)
			e := o[1]
			switch {
			case o[0].Value <= usualTorsion*0.75:
				r.Headline = "Bearable at this speed: together they act like one joint of " + v.SayOutput(e) + "."
			case o[0].Value <= usualTorsion*1.25:
				r.Headline = "At the edge: together they act like one joint of " + v.SayOutput(e) + "."
			default:
				r.Headline = "They do not cancel: together they act like one joint of " + v.SayOutput(e) + "."
			}
			var more []string
			turn := s.best()
			left, err := joints.Equivalent(s.chain(turn))
			switch {
			case err != nil || math.Abs(turn) < 0.1*degree:
			case math.Abs(turn) > (turnMost-0.01)*degree:
				more = append(more, "No turn of the axle sets it right: look at the forks and at the mounts first.")
			default:
				// Down to the back counts as plus: more of it lifts the nose.
				way := map[bool]string{true: "nose up", false: "nose down"}[turn > 0]
				more = append(more, fmt.Sprintf("Axle turned %s by %s, %s stays.", way, v.Say(math.Abs(turn), quantity.Angle, "°"), v.Say(left, quantity.Angle, "°")))
			}
			if v.Has("front-forks") && v.N("front-forks") != 0 || v.Has("rear-forks") && v.N("rear-forks") != 0 {
				in := s
				in.forks = make([]float64, len(s.forks))
				if set, err := joints.Equivalent(in.chain(0)); err == nil {
					more = append(more, fmt.Sprintf("With the forks in line it would be %s.", v.Say(set, quantity.Angle, "°")))
				}
			}
			worst := 0.0
			for _, j := range chain {
				worst = math.Max(worst, j.Bend)
			}
			bend, _ := joints.Couples(v.N("torque"), worst)
			more = append(more, fmt.Sprintf("The widest joint turns unevenly by %s either way and bends its shaft with up to %s.", v.Say(joints.Uneven(worst), quantity.Ratio, "%"), v.Say(bend, quantity.Torque, "N·m")))
			r.Detail = strings.Join(more, " ")
			if len(chain) == 2 {
				apart := math.Abs(chain[0].Bend - chain[1].Bend)
				if c, err := measure.Compare(apart, math.Hypot(v.U("unit"), v.U("axle")), -alike*degree, alike*degree); err == nil {
					for _, f := range v.States {
						r.Stated = append(r.Stated, instrument.Derive(f, []string{"equal", "unequal"}, map[string]float64{"equal": c.Inside, "unequal": 1 - c.Inside}, v.Say(chain[0].Bend, quantity.Angle, "°")+" and "+v.Say(chain[1].Bend, quantity.Angle, "°")))
					}
				}
			}
			r.Figures = []instrument.Chart{unevenness(chain)}
		}),
	}
}

// unevenness draws how far the last shaft is ahead and behind over one turn.
func unevenness(chain []joints.Joint) instrument.Chart {
	all, one := instrument.Series{Name: "last shaft", Role: "main"}, instrument.Series{Name: "behind joint 1", Role: "other"}
	for k := 0; k <= 120; k++ {
		in := 2 * math.Pi * float64(k) / 120
		at := in
		for i, j := range chain {
			fork := j.Fork + float64(i)*math.Pi/2 - j.Plane
			at = joints.Turned(at+fork, j.Bend) - fork
			if i == 0 {
				one.Points = append(one.Points, [2]float64{in, at - in})
			}
		}
		all.Points = append(all.Points, [2]float64{in, at - in})
	}
	return instrument.Chart{Kind: "curve", Title: "Ahead and behind over one turn", X: instrument.Axis{Label: "turn of the unit's flange", Dimension: quantity.Angle, Unit: "°"}, Y: instrument.Axis{Label: "ahead", Dimension: quantity.Angle, Unit: "°"},
		Words: "The shaft behind the first joint, and behind all of them.", Series: []instrument.Series{one, all}}
}

// ShaftCritical is the speed at which a shaft bows.
func ShaftCritical() instrument.Definition {
	materials := []instrument.Option{{ID: "steel", Title: "steel"}, {ID: "aluminum", Title: "aluminum"}}
	return instrument.Definition{
		ID: "shaft-critical", Title: "Critical speed of a shaft", Group: "vibration", Hand: []string{"caliper", "rule"},
		Answers: "How near does this tube run to the speed at which it bows?", Source: "beam pinned at both ends: π²/L²·√(EI/ρA); stiffness and density are common practice, no source",
		Limits: "even tube; soft mounts, joints with play and dents bring it down: below seven tenths is quiet", Gauge: "caliper, 0.05 mm",
		Inputs: []instrument.Input{
			instrument.NumberIn("outside", "Tube, outside", quantity.Length, "mm", 15, 250).Preset("76.2 mm").ReadWithin(0.1), instrument.NumberIn("wall", "Wall", quantity.Length, "mm", 0.5, 30).Preset("1.65 mm").ReadWithin(0.05), instrument.NumberIn("length", "Joint to joint", quantity.Length, "mm", 100, 3500).Preset("1500 mm").ReadWithin(3),
			instrument.ChoiceIn("of", "Material", materials...).Preset("steel"), instrument.NumberIn("speed", "Highest speed of the shaft", quantity.RotationalSpeed, "rpm", 60, 12000).Preset("4500 rpm"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			t := joints.Tube{Outside: v.N("outside"), Wall: v.N("wall"), Length: v.N("length"), Modulus: joints.SteelModulus, Density: joints.SteelDensity}
			if v.Chosen("of") == "aluminum" {
				t.Modulus, t.Density = joints.AluminiumModulus, joints.AluminiumDensity
			}
			w, err := t.Critical()
			if err != nil {
				return nil, instrument.Impossible("wall", err)
			}
			return []instrument.Output{instrument.Out("share", "highest speed, of the critical", v.N("speed")/w, quantity.Ratio, "%").AtMost(dullFrom), instrument.Out("critical", "critical speed", w, quantity.RotationalSpeed, "rpm")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			switch {
			case o[0].Value <= dullFrom:
				r.Headline = "Far enough below: it bows at " + v.SayOutput(o[1]) + "."
			case o[0].Value < 1:
				r.Headline = "Near it: it bows at " + v.SayOutput(o[1]) + ", in a soft mount earlier."
			default:
				r.Headline = "It bows within its speeds, at " + v.SayOutput(o[1]) + ": a two-piece shaft, a larger tube or a lighter one."
			}
			f := instrument.Series{Name: "critical speed", Role: "main"}
			for k := range 41 {
				by := 0.6 + 0.02*float64(k)
				f.Points = append(f.Points, [2]float64{v.N("length") * by, o[1].Value / (by * by)})
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "By length", X: instrument.Axis{Label: "joint to joint", Dimension: quantity.Length, Unit: "mm"}, Y: instrument.Axis{Label: "critical speed", Dimension: quantity.RotationalSpeed, Unit: "rpm"}, Words: "Critical speed over length.", Series: []instrument.Series{f}, Marks: []instrument.Mark{{X: v.N("length"), Y: o[1].Value, Label: "here"}}}}
		},
	}
}

const (
	// leastSlip is how far a slip yoke has to go in from ride height before it meets its stop, and to stay engaged beyond what the axle drops
	// (common practice, no source).
	leastSlip = 0.020
	// mostShaftPlay is the turn between the ends of a shaft whose joints and splines are sound (common practice, no source: no play can be felt).
	mostShaftPlay = 0.5 * degree
)

// SlipAndPlay says where the play of a drive line is, and whether its yoke has room to slip.
func SlipAndPlay() instrument.Definition {
	turn := func(id, label, like, help string) instrument.Input {
		return instrument.NumberIn(id, label, quantity.Angle, "°", 0, 60).Like(like).Explained(help)
	}
	return instrument.Definition{
		ID: "slip-play", Title: "Slip and play of the driveshaft", Group: "vibration", Hand: []string{"angle gauge", "rule"},
		Answers: "Is the clunk in the shaft or in the axle, and has the slip yoke room both ways?",
		Source:  "play of a chain is the sum of its parts; 20 mm of slip and no play that can be felt are common practice, no source",
		Limits:  "unit in park or in a low gear; the maker's figures go first", Gauge: "angle gauge, 0.2°", Cautions: []string{instrument.CautionLift, instrument.CautionUnder}, States: []string{"axle-backlash"},
		Inputs: []instrument.Input{
			turn("front", "Shaft turned to and fro at the unit, wheels held", "5.5 °", "All of it: joints, splines and axle."),
			turn("rear", "Turned to and fro at the axle's flange, wheels held", "4 °", "The axle alone."),
			turn("usual", "Usual for this axle", "4 °", "From the axle's sheet. Left empty: nothing is said of the axle.").Maybe(),
			instrument.NumberIn("in", "Yoke goes in from ride height, to its stop", quantity.Length, "mm", 0, 300).Like("28 mm"),
			instrument.NumberIn("out", "Yoke stays engaged, axle hanging", quantity.Length, "mm", 0, 300).Like("35 mm"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			all, axle := v.N("front"), v.N("rear")
			if axle > all+2*math.Hypot(v.U("front"), v.U("rear")) {
				return nil, &instrument.InputError{Input: "rear", Reason: "the axle alone has more play than all of it", Accepted: "no more than at the unit"}
			}
			shaft := math.Max(0, all-axle)
			out := []instrument.Output{
				instrument.Out("shaft", "in joints and splines", shaft, quantity.Angle, "°").AtMost(mostShaftPlay),
				instrument.Out("in", "room to go in", v.N("in"), quantity.Length, "mm").AtLeast(leastSlip, 0.3),
				instrument.Out("out", "engaged with the axle hanging", v.N("out"), quantity.Length, "mm").AtLeast(leastSlip, 0.3),
			}
			if v.Has("usual") {
				out = append(out, instrument.Out("axle", "in the axle", axle, quantity.Angle, "°").AtMost(v.N("usual")))
			}
			return out, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			all, axle := v.N("front"), v.N("rear")
			share := 0.0
			if all > 0 {
				share = math.Min(1, axle/all)
			}
			r.Headline = instrument.VerdictWords("Play of joints and splines, "+v.SayOutput(o[0])+",", o[0].Verdict)
			r.Detail = fmt.Sprintf("The axle has %.0f %% of all the play.", 100*share)
			if o[1].Verdict == measure.Below || o[2].Verdict == measure.Below {
				r.Detail += " The yoke has too little room to slip: it strikes its stop, or pulls out. Look at the mounts and the length of the shaft."
			}
			if len(o) > 3 {
				l := map[string]float64{"usual": 0.5, "much": 0.5}
				if c, err := o[3].Compare(); err == nil {
					l = map[string]float64{"usual": c.Inside + c.Below, "much": c.Above}
				}
				r.Stated = append(r.Stated, instrument.Derive("axle-backlash", []string{"usual", "much"}, l, v.SayOutput(o[3])))
			}
		},
	}
}
