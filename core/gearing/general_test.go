package gearing

import (
	"errors"
	"math"
	"slices"
	"testing"
)

func machine(t *testing.T, train Train) *Machine {
	t.Helper()
	m, err := NewMachine(train)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// withConverter is the four-speed train whose engine reaches the carrier past the converter.
func withConverter() Train {
	t := fourSpeed()
	t.Links, t.Converter = nil, &Converter{Engine: "engine", Turbine: "turbine"}
	return t
}

// In third the small sun takes 5/12 of the torque through the converter and the carrier 7/12 past it (lever
// arms of the compound set, worked by hand), so slip costs the output 5/12 of itself and the same of the power.
func TestSlipReachesTheOutputOnlyThroughTheTurbinePath(t *testing.T) {
	m := machine(t, withConverter())
	for _, slip := range []float64{0, 0.02, 0.1, 0.4} {
		s, err := m.Solve(State{Applied: []string{"FC", "IC", "DC"}, Slip: slip})
		if err != nil {
			t.Fatal(err)
		}
		if want := 1 - 5*slip/12; math.Abs(s.Speeds["ring"]-want) > 1e-12 || math.Abs(1/s.Ratio-want) > 1e-12 {
			t.Errorf("slip %v: output %v, want %v", slip, s.Speeds["ring"], want)
		}
		if math.Abs(s.Loss-5*slip/12) > 1e-12 || math.Abs(s.OutputTorque-1) > 1e-12 {
			t.Errorf("slip %v: loss %v, output torque %v", slip, s.Loss, s.OutputTorque)
		}
	}
	fourth, _ := m.Solve(State{Applied: []string{"IC", "DC", "OB"}, Slip: 0.3})
	if math.Abs(fourth.Ratio-2.0/3) > 1e-12 || fourth.Loss != 0 {
		t.Errorf("fourth is fed past the converter: ratio %v, loss %v", fourth.Ratio, fourth.Loss)
	}
}

// With the brake that carries first gear's reaction, multiplication acts on the whole torque.
func TestMultiplicationAtStallIsCarriedToTheOutput(t *testing.T) {
	s, err := machine(t, withConverter()).Solve(State{Applied: []string{"FC", "LB"}, Slip: 0.5, Multiplication: 1.8})
	if err != nil {
		t.Fatal(err)
	}
	if math.Abs(s.OutputTorque-1.8*2.4) > 1e-12 || math.Abs(s.Speeds["turbine"]-0.5) > 1e-12 || math.Abs(s.Loss-0.1) > 1e-12 {
		t.Errorf("output torque %v, turbine %v, loss %v", s.OutputTorque, s.Speeds["turbine"], s.Loss)
	}
	for _, bad := range []State{{Slip: 1}, {Slip: -0.1}, {Slip: math.NaN()}, {Multiplication: math.Inf(1)}} {
		if _, err := machine(t, withConverter()).Solve(bad); err == nil {
			t.Errorf("%+v was taken", bad)
		}
	}
}

// A chain turns both sprockets the same way at the inverse ratio of their teeth; a sleeve holds one gear of two.
func TestChainsAndSelectors(t *testing.T) {
	train := Train{Members: []string{"in", "low", "high", "out"}, Input: "in", Output: "out", ForwardSign: 1,
		Meshes:   []Mesh{{A: "in", B: "low", TeethA: 20, TeethB: 50, Chain: true}, {A: "in", B: "high", TeethA: 40, TeethB: 32, Chain: true}},
		Elements: []Element{{"SL", Selector, "low", "out"}, {"SH", Selector, "high", "out"}}}
	m := machine(t, train)
	for on, want := range map[string]float64{"SL": 2.5, "SH": 0.8} {
		s, _ := m.Solve(State{Applied: []string{on}})
		if s.Outcome != Forward || math.Abs(s.Ratio-want) > 1e-12 || s.Coast != CoastBrakes {
			t.Errorf("%s: %+v", on, s.Result)
		}
	}
	if both, _ := m.Result(State{Applied: []string{"SL", "SH"}}); both.Outcome != Bind {
		t.Errorf("two gears at once: %+v", both)
	}
	if none, _ := m.Result(State{}); none.Outcome != Neutral {
		t.Errorf("no sleeve: %+v", none)
	}
	train.Meshes[0].Carrier = "out"
	if train.Validate() == nil {
		t.Error("a chain about a carrier was taken")
	}
}

// What teeth put on a member balances what elements, input and output put on it; over every mesh the power of
// the teeth sums to zero.
func TestToothLoadsBalance(t *testing.T) {
	trains := []design{{"compound", fourSpeed(), []gear{{[]string{"FC", "LB"}, 2.4}, {[]string{"RC", "LB"}, -2}}}}
	for _, d := range append(trains, designs()...) {
		for _, g := range d.gears {
			s := solve(t, d.train, State{Applied: g.on})
			if s.Teeth == nil || s.Shared != nil {
				continue
			}
			sum := map[string]float64{}
			for i, m := range d.train.Meshes {
				za, zb := float64(m.TeethA), float64(m.TeethB)
				if m.Internal {
					zb = -zb
				}
				onA := s.Teeth[i]
				onB, onC := onA*zb/za, -onA*(za+zb)/za
				sum[m.A] += onA
				sum[m.B] += onB
				sum[m.Carrier] += onC
				if power := onA*s.Speeds[m.A] + onB*s.Speeds[m.B] + onC*s.Speeds[m.Carrier]; math.Abs(power) > 1e-9 {
					t.Errorf("%s %v: mesh %s–%s makes power %v", d.name, g.on, m.A, m.B, power)
				}
			}
			for _, member := range d.train.Members {
				if slices.ContainsFunc(d.train.Links, func(l Link) bool { return l.A == member || l.B == member }) {
					continue // a link carries torque as well
				}
				if math.Abs(sum[member]-s.Members[member]) > 1e-9 {
					t.Errorf("%s %v: teeth put %v on %s, balance asks %v", d.name, g.on, sum[member], member, s.Members[member])
				}
			}
		}
	}
}

// With the engine braking, torque runs backward through the same path.
func TestOverrunTurnsEveryTorqueRound(t *testing.T) {
	s := solve(t, fourSpeed(), State{Applied: []string{"FC", "LB"}})
	if s.Overrun == nil || math.Abs(s.Overrun.OutputTorque+2.4) > 1e-12 || math.Abs(s.Overrun.Torques["LB"]+s.Torques["LB"]) > 1e-12 {
		t.Fatalf("overrun %+v", s.Overrun)
	}
	if free := solve(t, fourSpeed(), State{Applied: []string{"FC"}}); free.Overrun != nil || free.CoastRatio != 0 {
		t.Errorf("first by freewheel brakes the engine: %+v", free.Overrun)
	}
}

// Shigley's train (see TestShigleyPlanetaryTrain): ring held, sun 20 teeth at 100, arm at 20. The sun passes
// 20·(1 − 0.2) teeth of a planet each turn, and 4 planets pass a place of the ring 4·0.2 times. The ring stands, so they pass the
// case as often; a planet of 30 teeth turns 16/30 on its pin.
func TestOrdersOfAPlanetarySet(t *testing.T) {
	train := Train{Members: []string{"sun", "arm", "ring", "planet"}, Input: "sun", Output: "arm", ForwardSign: 1,
		Meshes: simple("sun", "arm", "ring", "planet", 20, 30, 80), Elements: []Element{{"B", Brake, "ring", Case}}}
	train.Meshes[0].Pinions, train.Meshes[1].Pinions = 4, 4
	s := solve(t, train, State{Applied: []string{"B"}})
	want := map[string]float64{"mesh sun": 16, "mesh ring": 16, "planet-pass sun": 3.2, "planet-pass ring": 0.8, "planet-pass case": 0.8, "planet-spin planet": 16.0 / 30, "shaft sun": 1, "shaft arm": 0.2}
	for _, o := range train.Orders(s.Flow) {
		key := string(o.Kind) + " " + o.A
		if w, ok := want[key]; !ok || math.Abs(o.PerInput-w) > 1e-12 || math.Abs(o.PerOutput-w/0.2) > 1e-9 || !o.Loaded {
			t.Errorf("%s: %+v, want %v", key, o, w)
		}
		delete(want, key)
	}
	if len(want) > 0 {
		t.Errorf("missing %v", want)
	}
}

// One count of a 36-tooth wheel in a tenth of a second is 16.7 rev/min (60/36/0.1).
func TestGearFromTwoSpeeds(t *testing.T) {
	if got := CountResolution(36, 0.1); math.Abs(got-60/3.6) > 1e-12 {
		t.Errorf("resolution %v", got)
	}
	if !math.IsInf(CountResolution(0, 1), 1) {
		t.Error("no teeth resolve a speed")
	}
	ratios := []float64{2.4, 22.0 / 15, 1, 0, 2.0 / 3, -2}
	fits := func(s Speeds) Match {
		t.Helper()
		found, err := Identify(s, ratios)
		if err != nil || len(found) != 5 {
			t.Fatal(err, found)
		}
		return found[0]
	}
	if m := fits(Speeds{In: 2000, Out: 1364, InTol: 10, OutTol: 10}); m.Gear != 1 || !m.Fits {
		t.Errorf("second: %+v", m)
	}
	if m := fits(Speeds{In: 2150, Out: 1364, InTol: 10, OutTol: 10}); m.Gear != 1 || m.Fits || math.Abs(m.Slip-(2150-1364*22.0/15)) > 1e-9 {
		t.Errorf("second with slip: %+v", m)
	}
	if m := fits(Speeds{In: 1000, Out: -500, InTol: 1, OutTol: 1}); m.Gear != 5 || !m.Fits {
		t.Errorf("reverse: %+v", m)
	}
	for _, bad := range []Speeds{{In: 1000}, {In: 1000, Out: 5, OutTol: 6}, {In: math.NaN(), Out: 100}, {In: 1, Out: 100, InTol: -1}} {
		if _, err := Identify(bad, ratios); err == nil {
			t.Errorf("%+v was taken", bad)
		}
	}
}

// In the pre-set train's third both clutches turn with the front carrier. If clutch B slips, the two suns part:
// with input 1500 and output at what 1580 would give, the slip follows from the lever by hand.
func TestSlipOfANamedElement(t *testing.T) {
	m := machine(t, threeSpeed())
	third := State{Applied: []string{"FC", "DC"}}
	// Ring of the front set at input speed, carrier at output: the sun, and so the drive clutch's slip, by Willis.
	in, out := 1600.0, 1500.0
	sun := out - (in-out)*75/35
	slip, tol, err := m.SlipOf(third, "DC", Speeds{In: in, Out: out, InTol: 5, OutTol: 5})
	if err != nil || math.Abs(slip-(in-sun)) > 1e-9 {
		t.Errorf("slip %v, want %v (%v)", slip, in-sun, err)
	}
	if want := 5*(1+75.0/35) + 5*(1+75.0/35); math.Abs(tol-want) > 1e-9 {
		t.Errorf("uncertainty %v, want %v", tol, want)
	}
	if none, _, err := m.SlipOf(third, "DC", Speeds{In: 1500, Out: 1500}); err != nil || none != 0 {
		t.Errorf("no slip at the ratio: %v %v", none, err)
	}
	var se *SheetError
	if _, _, err := m.SlipOf(third, "LB", Speeds{In: 1500, Out: 1500}); !errors.As(err, &se) {
		t.Errorf("an open brake's slip: %v", err)
	}
}

// Inner 15 beside sun 30 and outer 18 inside ring 90: centres 22.5 and 36 apart from the axis, reach 16.5.
func TestDoublePinionSets(t *testing.T) {
	for _, c := range []struct {
		sun, inner, outer, ring, n int
		fine                       bool
	}{{30, 15, 18, 90, 3, true}, {30, 15, 18, 91, 3, false}, {30, 10, 10, 120, 3, false}, {30, 40, 18, 90, 6, false}} {
		if err := CheckDoublePinionSet(c.sun, c.inner, c.outer, c.ring, c.n); (err == nil) != c.fine {
			t.Errorf("%+v: %v", c, err)
		}
	}
	if CheckSimpleSet(20, 30, 80, 5) == nil {
		t.Error("five large planets that touch were taken")
	}
}
