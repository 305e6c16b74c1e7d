package gearing

import (
	"math"
	"testing"
)

// More designs, to hold the solver against trains that it was not written around: crossed sets, parallel
// shafts whose output turns backward, a box with dogs, four linked sets. Tooth counts assemble; ratios are
// the closed products of their teeth, worked out by hand.

type design struct {
	name  string
	train Train
	gears []gear
}

type gear struct {
	on   []string
	want float64
}

func ext(a, b string, za, zb int) Mesh { return Mesh{A: a, B: b, TeethA: za, TeethB: zb} }

func transaxle() design {
	t := Train{Members: []string{"in", "S1", "A", "B", "S2", "race", "p1", "p2"}, Input: "in", Output: "B", ForwardSign: 1,
		// Set 1: sun S1, carrier A, ring B. Set 2: sun S2, carrier B, ring A.
		Meshes: append(simple("S1", "A", "B", "p1", 42, 18, 78), simple("S2", "B", "A", "p2", 41, 17, 75)...),
		Elements: []Element{
			{"K1", Clutch, "in", "race"}, {"F1", Freewheel, "race", "S2"}, {"K1M", Clutch, "in", "S2"}, {"K2", Clutch, "in", "A"}, {"K3", Clutch, "in", "S1"},
			{"B1", Brake, "A", Case}, {"B2", Brake, "S1", Case}, {"F2", Freewheel, "A", Case},
		}}
	// The freewheel carries torque from its race into the sun: the race may not run ahead of it, so the sun is the
	// side that may overrun.
	t.Elements[1] = Element{"F1", Freewheel, "S2", "race"}
	return design{"crossed sets", t, []gear{
		{[]string{"K1"}, 116.0 / 41}, {[]string{"K1", "B2"}, 269.0 / 164}, {[]string{"K1", "K2"}, 1}, {[]string{"K1", "K2", "B2"}, 13.0 / 20}, {[]string{"K3", "B1"}, -13.0 / 7},
		{[]string{"K1", "K1M", "B1"}, 116.0 / 41},
	}}
}

func parallelShafts() design {
	t := Train{Members: []string{"M", "g1", "g2", "g3", "g4", "g5", "gk", "CS", "idler", "gr", "hub"}, Input: "M", Output: "CS", ForwardSign: -1,
		Meshes: []Mesh{ext("M", "g1", 17, 46), ext("g2", "CS", 25, 38), ext("g3", "CS", 31, 32), ext("g4", "gk", 37, 26), ext("g5", "CS", 41, 22), ext("g4", "idler", 15, 21), ext("idler", "gr", 21, 32)},
		Elements: []Element{
			{"C1", Clutch, "g1", "hub"}, {"F1", Freewheel, "CS", "hub"}, {"C2", Clutch, "M", "g2"}, {"C3", Clutch, "M", "g3"}, {"C4", Clutch, "M", "g4"}, {"C5", Clutch, "M", "g5"},
			{"CH", Clutch, "g1", "CS"}, {"SF", Clutch, "gk", "CS"}, {"SR", Clutch, "gr", "CS"},
		}}
	// The countershaft turns backward in forward driving, so the freewheel's sense is turned round as well.
	t.Elements[1] = Element{"F1", Freewheel, "hub", "CS"}
	return design{"parallel shafts", t, []gear{
		{[]string{"C1", "SF"}, 46.0 / 17}, {[]string{"C1", "C2", "SF"}, 38.0 / 25}, {[]string{"C1", "C3", "SF"}, 32.0 / 31}, {[]string{"C1", "C4", "SF"}, 26.0 / 37},
		{[]string{"C1", "C5", "SF"}, 22.0 / 41}, {[]string{"C4", "SR"}, -32.0 / 15}, {[]string{"C1", "CH", "SF"}, 46.0 / 17},
	}}
}

func handBox() design {
	t := Train{Members: []string{"E", "M", "CS", "g1", "g2", "g3", "g5", "idler", "gr", "O"}, Input: "E", Output: "O", ForwardSign: 1,
		Meshes: []Mesh{ext("M", "CS", 24, 37), ext("CS", "g1", 16, 39), ext("CS", "g2", 22, 31), ext("CS", "g3", 28, 27), ext("CS", "g5", 37, 19), ext("CS", "idler", 15, 22), ext("idler", "gr", 22, 36)},
		Elements: []Element{
			{"clutch", Clutch, "E", "M"}, {"D1", Clutch, "g1", "O"}, {"D2", Clutch, "g2", "O"}, {"D3", Clutch, "g3", "O"}, {"D4", Clutch, "M", "O"}, {"D5", Clutch, "g5", "O"}, {"DR", Clutch, "gr", "O"},
		}}
	return design{"box with dogs", t, []gear{
		{[]string{"clutch", "D1"}, 481.0 / 128}, {[]string{"clutch", "D2"}, 1147.0 / 528}, {[]string{"clutch", "D3"}, 333.0 / 224}, {[]string{"clutch", "D4"}, 1}, {[]string{"clutch", "D5"}, 703.0 / 888},
		{[]string{"clutch", "DR"}, -37.0 / 10},
	}}
}

func fourSets() design {
	t := Train{Members: []string{"in", "out", "x0", "x2", "x4", "x5", "x6", "x7", "q1", "q2", "q3", "q4"}, Input: "in", Output: "out", ForwardSign: 1}
	for _, s := range []struct {
		sun, carrier, ring, planet string
		zs, zp, zr                 int
	}{{"x0", "out", "x2", "q1", 55, 14, 83}, {"in", "x7", "x4", "q2", 29, 22, 73}, {"x5", "x4", "x2", "q3", 43, 29, 101}, {"x6", "x7", "x0", "q4", 44, 16, 76}} {
		t.Meshes = append(t.Meshes, simple(s.sun, s.carrier, s.ring, s.planet, s.zs, s.zp, s.zr)...)
	}
	t.Elements = []Element{{"A", Brake, "x6", Case}, {"B", Clutch, "x2", "in"}, {"C", Clutch, "x0", "in"}, {"D", Brake, "x5", Case}, {"E", Clutch, "out", "x7"}, {"F", Clutch, "x4", "x5"}}
	three := func(s string) []string { return []string{s[:1], s[1:2], s[2:]} }
	var gears []gear
	for set, ratio := range map[string]float64{"ADF": 5.589, "DEF": 3.517, "ADE": 2.429, "AEF": 1.966, "ACE": 1.579, "ACD": 1.224, "ABC": 1, "ABD": 0.912, "ABF": 0.8125, "ABE": 0.616, "CDE": -3.423} {
		gears = append(gears, gear{three(set), ratio})
	}
	return design{"four sets", t, gears}
}

func designs() []design { return []design{transaxle(), parallelShafts(), handBox(), fourSets()} }

func TestRatiosOfOtherDesigns(t *testing.T) {
	for _, d := range designs() {
		if bad := d.train.Validate(); bad != nil {
			t.Fatalf("%s: %v", d.name, bad[0])
		}
		for _, g := range d.gears {
			r := solve(t, d.train, State{Applied: g.on})
			tolerance := 1e-9
			if d.name == "four sets" {
				tolerance = 5e-4 // ratios are given to three decimals there
			}
			if math.Abs(r.Ratio-g.want) > tolerance*math.Max(1, math.Abs(g.want)) {
				t.Errorf("%s %v: %s %v, want %v", d.name, g.on, r.Outcome, r.Ratio, g.want)
			}
		}
	}
}

// Torque times speed balances over the whole train in every gear, by virtual work: input, output and every
// reaction to the case; elements between turning members give and take the same.
func TestVirtualWorkInOtherDesigns(t *testing.T) {
	for _, d := range designs() {
		for _, g := range d.gears {
			r := solve(t, d.train, State{Applied: g.on})
			if r.Torques == nil {
				t.Errorf("%s %v: no torque path", d.name, g.on)
				continue
			}
			out := r.Speeds[d.train.Output]
			if math.Abs(1-r.OutputTorque*out) > 1e-9 {
				t.Errorf("%s %v: in 1, out %v", d.name, g.on, r.OutputTorque*out)
			}
			// Reactions on the case: what goes in as torque and does not come out is held by brakes.
			reaction := 0.0
			planetary := true
			for _, m := range d.train.Meshes {
				planetary = planetary && m.Carrier != ""
			}
			for _, e := range d.train.Elements {
				if e.B == Case {
					reaction += r.Torques[e.ID]
				}
			}
			if planetary && math.Abs(1+reaction-r.OutputTorque) > 1e-9*math.Abs(r.OutputTorque)+1e-9 {
				t.Errorf("%s %v: input 1 + reaction %v is not output %v", d.name, g.on, reaction, r.OutputTorque)
			}
		}
	}
}

// In the ten-speed arrangement reverse loads element E with about 20.7 times the input torque: the reason why its
// capacity has to be looked at first.
func TestReverseLoadsOneElementHeavily(t *testing.T) {
	d := fourSets()
	r := solve(t, d.train, State{Applied: []string{"C", "D", "E"}})
	if got := math.Abs(r.Torques["E"]); math.Abs(got-20.7) > 0.05 {
		t.Errorf("E carries %v times the input torque", got)
	}
}

// Taking any element out of a gear must never leave the same gear behind unless the element carried nothing.
func TestAnElementThatCarriesTorqueIsNeeded(t *testing.T) {
	for _, d := range append(designs(), design{"compound", fourSpeed(), []gear{{[]string{"FC", "LB"}, 2.4}, {[]string{"FC", "DC"}, 1}, {[]string{"RC", "LB"}, -2}}}) {
		for _, g := range d.gears {
			full := solve(t, d.train, State{Applied: g.on})
			for i, id := range g.on {
				rest := append(append([]string{}, g.on[:i]...), g.on[i+1:]...)
				less := solve(t, d.train, State{Applied: rest})
				carried := math.Abs(full.Torques[id]) > 1e-9 && !contains(full.Shared, id)
				if carried && less.Outcome == full.Outcome && math.Abs(less.Ratio-full.Ratio) < 1e-9 && less.Coast == full.Coast {
					t.Errorf("%s %v: %s carries %v and is not missed", d.name, g.on, id, full.Torques[id])
				}
			}
		}
	}
}

func contains(list []string, s string) bool {
	for _, x := range list {
		if x == s {
			return true
		}
	}
	return false
}

// Turning the whole train the other way round (input against forward) changes no ratio.
func TestForwardSignOnlyNamesTheDirection(t *testing.T) {
	d := parallelShafts()
	wrong := d.train
	wrong.ForwardSign = 1
	r := solve(t, wrong, State{Applied: []string{"C2", "SF"}})
	if r.Outcome != Reverse || math.Abs(r.Ratio+38.0/25) > 1e-9 {
		t.Errorf("with the wrong sign second gear is %s at %v, want reverse", r.Outcome, r.Ratio)
	}
}
