package gearing

import (
	"math"
	"testing"
)

// Closed formulas of textbooks on planetary gearing, with i = z(ring)/z(sun) and the
// Willis equation; recalled from memory, each recomputed here from the tooth counts by a
// route that shares nothing with the solver.
func TestClosedFormulas(t *testing.T) {
	simp := 75.0 / 35.0
	s1, s2, r := 30.0, 36.0, 72.0
	pre := 1 + 36.0/72.0 // fixed sun, ring in, carrier out
	l1, l2, lr := 30.0, 39.0, 81.0
	for _, c := range []struct {
		source string
		train  Train
		on     []string
		want   float64
	}{
		{"Simpson, first: 2 + 1/i", threeSpeed(), []string{"FC"}, 2 + 1/simp},
		{"Simpson, second: 1 + 1/i", threeSpeed(), []string{"FC", "KB"}, 1 + 1/simp},
		{"Simpson, third", threeSpeed(), []string{"FC", "DC"}, 1},
		{"Simpson, reverse: −i", threeSpeed(), []string{"DC", "LB"}, -simp},
		{"Ravigneaux, first: zR/zS1", fourSpeed(), []string{"FC"}, r / s1},
		{"Ravigneaux, second: (zR/zS1)(zS1+zS2)/(zR+zS2)", fourSpeed(), []string{"FC", "IC"}, r / s1 * (s1 + s2) / (r + s2)},
		{"Ravigneaux, third", fourSpeed(), []string{"FC", "IC", "DC"}, 1},
		{"Ravigneaux, fourth: zR/(zR+zS2)", fourSpeed(), []string{"IC", "DC", "OB"}, r / (r + s2)},
		{"Ravigneaux, reverse: −zR/zS2", fourSpeed(), []string{"RC", "LB"}, -r / s2},
		{"Lepelletier, first", sixSpeed(), []string{"CA"}, pre * lr / l1},
		{"Lepelletier, second", sixSpeed(), []string{"CA", "BC"}, pre * lr / l1 * (l1 + l2) / (lr + l2)},
		{"Lepelletier, third", sixSpeed(), []string{"CA", "CB"}, pre},
		{"Lepelletier, sixth", sixSpeed(), []string{"CE", "BC"}, lr / (lr + l2)},
		{"Lepelletier, reverse", sixSpeed(), []string{"CB", "BD"}, -pre * lr / l2},
	} {
		if got := solve(t, c.train, State{Applied: c.on}).Ratio; math.Abs(got-c.want) > 1e-12*math.Abs(c.want) {
			t.Errorf("%s: %v, want %v", c.source, got, c.want)
		}
	}
}

// Simple and double-pinion sets, every way of holding one member: closed forms of textbooks with i = zR/zS, from
// the Willis equation with +i for a double-pinion set and −i for a simple one; recalled from memory.
func TestClosedFormulasOfSingleSets(t *testing.T) {
	for _, set := range []struct {
		name   string
		i      float64 // (wS − wC)/(wR − wC)
		meshes []Mesh
	}{
		{"simple", -75.0 / 35, simple("S", "C", "R", "p", 35, 20, 75)},
		{"double-pinion", 90.0 / 30, []Mesh{{A: "S", B: "p", TeethA: 30, TeethB: 15, Carrier: "C"}, {A: "p", B: "q", TeethA: 15, TeethB: 18, Carrier: "C"}, {A: "R", B: "q", TeethA: 90, TeethB: 18, Carrier: "C", Internal: true}}},
	} {
		for _, c := range []struct {
			in, out, held string
			want          float64
		}{
			{"S", "C", "R", 1 - set.i}, {"C", "S", "R", 1 / (1 - set.i)}, {"R", "C", "S", 1 - 1/set.i},
			{"C", "R", "S", 1 / (1 - 1/set.i)}, {"S", "R", "C", set.i}, {"R", "S", "C", 1 / set.i},
		} {
			train := Train{Members: []string{"S", "C", "R", "p"}, Input: c.in, Output: c.out, ForwardSign: 1, Meshes: set.meshes, Elements: []Element{{"B", Brake, c.held, Case}}}
			if set.name == "double-pinion" {
				train.Members = append(train.Members, "q")
			}
			if got := solve(t, train, State{Applied: []string{"B"}}).Ratio; math.Abs(got-c.want) > 1e-12*math.Abs(c.want) {
				t.Errorf("%s, %s held, %s to %s: %v, want %v", set.name, c.held, c.in, c.out, got, c.want)
			}
		}
	}
}

// Shigley, Mechanical Engineering Design, gear trains: planetary train with sun 20, planet 30,
// ring 80, sun driven at 100 rpm, ring held: arm at 20 rpm in the sun's direction. Recalled
// from memory; the tabular method gives the same: 100·20/(20+80).
func TestShigleyPlanetaryTrain(t *testing.T) {
	train := Train{
		Members: []string{"sun", "arm", "ring", "planet"}, Input: "sun", Output: "arm", ForwardSign: 1,
		Meshes:   simple("sun", "arm", "ring", "planet", 20, 30, 80),
		Elements: []Element{{"B", Brake, "ring", Case}},
	}
	r := solve(t, train, State{Applied: []string{"B"}})
	if got := 100 * r.Speeds["arm"]; math.Abs(got-20) > 1e-9 {
		t.Errorf("arm %v rpm, want 20", got)
	}
	// The planet about its own axis, from the rolling of pitch circles: (80−0)/30·20/… solved by hand
	// as w_planet = w_arm − (w_sun−w_arm)·20/30 = 20 − 80·2/3 rpm.
	if got := 100 * r.Speeds["planet"]; math.Abs(got-(20-80*2.0/3)) > 1e-9 {
		t.Errorf("planet %v rpm", got)
	}
}

// Lever analogy (Benford and Leising, SAE 810102): in third of a compound set fed at the small
// sun by the turbine and at the carrier by the engine, torque divides by lever arms: with
// lengths from the carrier zR/zS1 = 2.4 to the small sun and 1 to the ring, the sun carries 1/2.4.
func TestTorqueDividesByLeverArms(t *testing.T) {
	r := solve(t, fourSpeed(), State{Applied: []string{"FC", "IC", "DC"}})
	if math.Abs(r.Torques["FC"]+5.0/12) > 1e-9 || math.Abs(r.Torques["DC"]+7.0/12) > 1e-9 {
		t.Errorf("forward clutch %v, direct clutch %v, want −5/12 and −7/12 on their driving sides", r.Torques["FC"], r.Torques["DC"])
	}
	if r.Torques["IC"] != 0 {
		t.Errorf("intermediate clutch carries %v while its freewheel overruns", r.Torques["IC"])
	}
}

// Lever of a compound set in textbooks on the lever analogy: carrier and ring one apart, the small sun
// at zR/zS1 from the carrier on the ring's side, the large sun at zR/zS2 on the other.
func TestLeverOfACompoundSet(t *testing.T) {
	train := fourSpeed()
	var states []Solution
	for _, on := range [][]string{{"RC", "LB"}, {"FC"}, {"FC", "IC"}, {"FC", "IC", "DC"}, {"IC", "DC", "OB"}} {
		states = append(states, solve(t, train, State{Applied: on}))
	}
	at := map[string]float64{}
	for _, p := range Lever("ring", []string{"engine", "turbine", "S1", "S2", "carrier", "ring"}, states) {
		at[p.Member] = p.Position
	}
	unit := at["ring"] - at["carrier"]
	if len(at) != 4 || math.Abs((at["S1"]-at["carrier"])/unit-72.0/30) > 1e-9 || math.Abs((at["S2"]-at["carrier"])/unit+72.0/36) > 1e-9 {
		t.Errorf("lever %v", at)
	}
}
