package vibration_test

import (
	"math"
	"strings"
	"sync"
	"testing"

	"innercompass/core/unitsheet"
	"innercompass/core/vibration"
	"innercompass/internal/catalog"
	"innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(knowledge.FS) })

func unit(t testing.TB, id string) *unitsheet.Unit {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c.Units[id]
}

const kmh = 1 / 3.6

// van is an assumed vehicle about the six-speed: axle 10 × 37, four cylinders, a tire of 2.10 m.
var van = vibration.Vehicle{Cylinders: 4, Axle: 3.7, Pinion: 10, Circumference: 2.10, Pieces: 2, Joint: vibration.Cross,
	Belts:    []vibration.Belt{{Name: "alternator", Ratio: 2.7}},
	Bearings: []vibration.Bearing{{ID: "centre", Name: "center bearing", Elements: 8, Ratio: .22, Inner: "output"}, {ID: "hub", Name: "wheel bearing", Elements: 14, Ratio: .15, Inner: "wheel"}}}

// estate is one about the five-speed manual: axle 11 × 43, a tire of 1.95 m.
var estate = vibration.Vehicle{Cylinders: 4, Axle: 43.0 / 11, Pinion: 11, Circumference: 1.95, Pieces: 2, Belts: []vibration.Belt{{Name: "alternator", Ratio: 2.6}}}

func list(t testing.TB, u *unitsheet.Unit, v vibration.Vehicle, s vibration.State) vibration.List {
	t.Helper()
	l, err := vibration.Sources(u, v, s)
	if err != nil {
		t.Fatal(err)
	}
	return l
}

func hertz(l vibration.List, id string) float64 {
	for _, s := range l.Sources {
		if s.ID == id {
			return s.Hertz
		}
	}
	return 0
}

// The four frequencies of a 6205 as published with an open data set of bearing faults (recalled from memory): 9 balls of 0.3126 in on a
// circle of 1.537 in. The last digit of the ball's, 4.7135, differs by the rounding of these sizes.
func TestDefectsOfAPublishedBearing(t *testing.T) {
	d := vibration.Bearing{Elements: 9, Ratio: 0.3126 / 1.537}.Defects()
	for what, x := range map[string][2]float64{"outer": {d.Outer, 3.5848}, "inner": {d.Inner, 5.4152}, "ball": {d.Ball, 4.7135}, "cage": {d.Cage, 0.3983}} {
		if math.Abs(x[0]-x[1]) > 1.5e-4 {
			t.Errorf("%s: %.4f, published %.4f", what, x[0], x[1])
		}
	}
}

// The rear set of the six-speed turned by hand through 2,000 turns of the output in steps of 1/2000 of a turn, teeth and planets counted as
// they pass: mesh 26.3250, planets past the case 2.0250, past the sun 2.0250, past the ring 0.9750, strikes of one planet tooth 2.5070.
func TestAgainstCountedTeeth(t *testing.T) {
	l := list(t, unit(t, "ombrin-s6"), van, vibration.State{Range: "D6", Road: 80 * kmh})
	var found []float64
	for _, s := range l.Sources {
		if s.Family == vibration.Gears || s.Family == vibration.Planets {
			found = append(found, s.PerOutput)
		}
	}
	for _, want := range []float64{26.3250, 2.0250, 0.9750, 2.5070} {
		ok := false
		for _, f := range found {
			ok = ok || math.Abs(math.Abs(f)-want) < 2e-4
		}
		if !ok {
			t.Errorf("no line of %.4f per turn: %.4f", want, found)
		}
	}
}

// What stands in every range at 80 km/h, by hand: 22.222/2.10, times 3.7, and so on.
func TestTheVehicleAt80(t *testing.T) {
	s6 := unit(t, "ombrin-s6")
	for _, r := range []string{"D2", "D3", "D4", "D5", "D6"} {
		l := list(t, s6, van, vibration.State{Range: r, Road: 80 * kmh})
		for id, want := range map[string]float64{"wheel": 10.58, "shaft": 39.15, "joint": 78.31, "axle-gears": 391.5, "centre:outer": 122.2, "centre:inner": 191.1, "centre:ball": 169.4, "centre:cage": 15.3, "hub:outer": 63.0, "hub:inner": 85.2, "hub:ball": 69.0, "hub:cage": 4.5,
			"bearing-tail:outer": 140.4, "bearing-tail:inner": 212.0, "bearing-tail:ball": 184.5, "bearing-tail:cage": 15.6} {
			if got := hertz(l, id); math.Abs(got-want) > 0.06 {
				t.Errorf("%s %s: %.2f Hz, want %.2f", r, id, got, want)
			}
		}
	}
	// Engine 1×, firing, pump, belt by range, from the printed ratios.
	for r, want := range map[string][4]float64{"D3": {58.7, 117.5, 529, 159}, "D4": {44.7, 89.3, 402, 121}, "D5": {33.7, 67.5, 304, 91.1}, "D6": {26.4, 52.9, 238, 71.4}} {
		l := list(t, s6, van, vibration.State{Range: r, Road: 80 * kmh})
		for i, id := range []string{"engine", "firing", "pump", "belt-1"} {
			if got := hertz(l, id); math.Abs(got/want[i]-1) > 0.004 {
				t.Errorf("%s %s: %.1f Hz, want %.1f", r, id, got, want[i])
			}
		}
	}
}

// Direct fourth of the manual: shaft and engine turn as one, so the joint stands on the firing; in third and fifth they part.
func TestFourthOfTheManualHidesJointAndFiring(t *testing.T) {
	m5 := unit(t, "ombrin-m5")
	apart := func(r string) float64 {
		l := list(t, m5, estate, vibration.State{Range: r, Road: 80 * kmh})
		return hertz(l, "firing")/hertz(l, "joint") - 1
	}
	if d := apart("G4"); math.Abs(d) > 1e-6 {
		t.Errorf("in fourth apart by %v", d)
	}
	if math.Abs(apart("G3")) < 0.2 || math.Abs(apart("G5")) < 0.15 {
		t.Errorf("in third %v, in fifth %v", apart("G3"), apart("G5"))
	}
}

// With the converter open the engine runs ahead of the turbine; gears stay on the road.
func TestSlipPartsEngineAndGears(t *testing.T) {
	s6 := unit(t, "ombrin-s6")
	closed, open := list(t, s6, van, vibration.State{Range: "D5", Road: 80 * kmh}), list(t, s6, van, vibration.State{Range: "D5", Road: 80 * kmh, Slip: 0.08})
	if e := hertz(open, "engine") * (1 - 0.08) / hertz(closed, "engine"); math.Abs(e-1) > 1e-9 {
		t.Errorf("engine %v", e)
	}
	if b := hertz(open, "converter-beat"); math.Abs(b-0.08*hertz(open, "engine")) > 1e-9 || hertz(closed, "converter-beat") != 0 {
		t.Errorf("beat %v", b)
	}
	for _, s := range closed.Sources {
		if s.Family == vibration.Gears && math.Abs(hertz(open, s.ID)/s.Hertz-1) > 1e-9 {
			t.Errorf("%s moved with the slip", s.ID)
		}
	}
}

// Standing, only what the engine turns is there; rolling in neutral, what the road turns keeps its place.
func TestStandingAndNeutral(t *testing.T) {
	s6 := unit(t, "ombrin-s6")
	for _, s := range list(t, s6, van, vibration.State{Range: "N", EngineSpeed: 25}).Sources {
		if s.PerEngine == 0 {
			t.Errorf("%s turns while it stands", s.ID)
		}
	}
	coast := list(t, s6, van, vibration.State{Range: "N", Road: 80 * kmh, EngineSpeed: 12})
	if math.Abs(hertz(coast, "joint")-78.31) > 0.05 || math.Abs(hertz(coast, "engine")-12) > 1e-9 {
		t.Errorf("%v %v", hertz(coast, "joint"), hertz(coast, "engine"))
	}
}

// Every range of every unit has its sources, finite and in order; what nobody knows of a vehicle is absent.
func TestEveryRangeOfEveryUnit(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for id, u := range c.Units {
		for _, r := range u.Ranges {
			l, err := vibration.Sources(u, van, vibration.State{Range: r.ID, Road: 15, EngineSpeed: 20})
			if err != nil {
				t.Errorf("%s %s: %v", id, r.ID, err)
				continue
			}
			last, seen := 0.0, map[string]bool{}
			for _, s := range l.Sources {
				if !(s.Hertz >= last) || math.IsInf(s.Hertz, 0) || s.Name == "" || s.Tolerance <= 0 || seen[s.ID] || strings.Contains(s.Name, "#") {
					t.Errorf("%s %s: %+v", id, r.ID, s)
				}
				last, seen[s.ID] = s.Hertz, true
			}
		}
		bare, err := vibration.Sources(u, vibration.Vehicle{}, vibration.State{Range: u.Ranges[0].ID, Road: 15})
		if err != nil || len(bare.Sources) > 0 {
			t.Errorf("%s: %d sources of nothing known, %v", id, len(bare.Sources), err)
		}
	}
}

func TestWhatCannotBeIsRefused(t *testing.T) {
	s6 := unit(t, "ombrin-s6")
	for what, v := range map[string]vibration.Vehicle{"cylinders": {Cylinders: 40}, "axle": {Axle: 90}, "tire": {Circumference: 0.1}, "belt": {Belts: []vibration.Belt{{Ratio: 0}}}, "bearing": {Bearings: []vibration.Bearing{{Elements: 2, Ratio: .2}}}, "shaft": {Pieces: 5}} {
		if _, err := vibration.Sources(s6, v, vibration.State{Range: "D3", Road: 20}); err == nil {
			t.Errorf("%s was taken", what)
		}
	}
	for _, s := range []vibration.State{{Range: "D9", Road: 20}, {Range: "D3", Road: -1}, {Range: "D3", Road: 20, Slip: 1}, {Range: "D3", Road: math.NaN()}} {
		if _, err := vibration.Sources(s6, van, s); err == nil {
			t.Errorf("%+v was taken", s)
		}
	}
	if c, err := vibration.Tire(205, 55, 16); err != nil || math.Abs(c-1.926) > 0.01 {
		t.Errorf("205/55 R16 rolls %v m, %v", c, err)
	}
	if _, err := vibration.Tire(205, 5, 16); err == nil {
		t.Error("a tire without a wall")
	}
}
