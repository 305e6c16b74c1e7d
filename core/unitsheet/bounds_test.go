package unitsheet

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// What a sheet says twice in two ways, what no range has and what is less than nothing is refused, at its place.
func TestWhatDoesNotAgreeIsRefused(t *testing.T) {
	for path, change := range map[string]func(*Sheet){
		"logic[2]": func(s *Sheet) {
			s.Logic = append(s.Logic, LogicSheet{Selector: "D", Bits: "1", Applied: []string{"B"}})
		},
		"limp[0].selector":          func(s *Sheet) { s.Limp = []LogicSheet{{Selector: "Dd", Applied: []string{"B"}}} },
		"logic[0].selector":         func(s *Sheet) { s.Logic[0].Selector = "d" },
		"ranges[1].from":            func(s *Sheet) { s.Ranges[1].From = "D2" },
		"feeds[1].serves[1]":        func(s *Sheet) { s.Feeds[1].Serves = []string{"C", "B"} },
		"elements[1].feed":          func(s *Sheet) { s.Feeds[1].Serves = nil },
		"ranges[1].line_idle":       func(s *Sheet) { s.Ranges[1].LineIdle = "-5..60 psi" },
		"converter.stall":           func(s *Sheet) { s.Converter.Stall = "-1900..2100 rpm" },
		"elements[0].plates.spring": func(s *Sheet) { s.Elements[0].Plates.Spring = "-800 N" },
		"known[0].distance":         func(s *Sheet) { s.Known = []KnownSheet{{Title: "x", Distance: "-5..-1 km"}} },
		"exchange":                  func(s *Sheet) { s.Exchange.Price = math.NaN() },
		"parts[0].hours": func(s *Sheet) {
			s.Parts = []PartSheet{{ID: "x", Name: "x", Hours: math.Inf(1), Zone: []float64{0, 0, 1, 1}}}
		},
		"fluid.refill":                func(s *Sheet) { s.Fluid.Refill = "-4 L" },
		"engine.max_torque":           func(s *Sheet) { s.Engine.MaxTorque = "1e308 N·m" },
		"gearing.output":              func(s *Sheet) { s.Gearing.Output = "sun" },
		"gearing.converter.turbine":   func(s *Sheet) { s.Gearing.Converter = &JoinSheet{Engine: "sun", Turbine: "sun"} },
		"gearing.sets[0]":             func(s *Sheet) { s.Gearing.Sets[0].Ring, s.Gearing.Sets[0].RingTeeth = "", 0 },
		"elements[10].kind":           func(s *Sheet) { s.Elements = append(s.Elements, freewheels(9)...) },
		"torques":                     func(s *Sheet) { s.Torques = make([]TorqueSheet, 121) },
		"leaks.zones":                 func(s *Sheet) { s.Leaks = &LeakSheet{Zones: make([]LeakZoneSheet, 61)} },
		"ranges":                      func(s *Sheet) { s.Ranges = make([]RangeSheet, 41) },
		"hydraulics.governor.weights": func(s *Sheet) { s.Hydraulics.Governor.Weights = make([]WeightSheet, 13) },
	} {
		s := small()
		change(&s)
		_, bad := Compile(s)
		found := false
		for _, p := range bad {
			found = found || p.Path == path && p.Accepted != "" && p.Reason != ""
		}
		if !found {
			t.Errorf("%s is not named: %v", path, bad)
		}
	}
}

// freewheels hold the ring to the case, n times over.
func freewheels(n int) []ElementSheet {
	var out []ElementSheet
	for i := range n {
		out = append(out, ElementSheet{ID: fmt.Sprint("F", i), Name: "freewheel", Kind: "freewheel", A: "ring", B: "case"})
	}
	return out
}

// Eight freewheels are solved, on many members, without a blow-up.
func TestEightFreewheelsAreSolved(t *testing.T) {
	s := Sheet{Format: Format, ID: "many", Version: 1, Name: "Many freewheels", Control: "hand",
		Gearing:  GearingSheet{Members: []string{"in"}, Input: "in", Output: "m9", ForwardSign: 1},
		Elements: []ElementSheet{{ID: "C", Name: "clutch", Kind: "clutch", A: "in", B: "m1", Capacity: "900 N·m"}},
		Ranges:   []RangeSheet{{ID: "D", Selector: "D", Applied: []string{"C"}, Outcome: "forward"}}}
	for i := 1; i <= 9; i++ {
		s.Gearing.Members = append(s.Gearing.Members, fmt.Sprint("m", i))
	}
	for i := 1; i <= 8; i++ { // m2 may run ahead of m1, and so on: m1 pushes all of them
		f := ElementSheet{ID: fmt.Sprint("F", i), Name: "freewheel", Kind: "freewheel", A: fmt.Sprint("m", i+1), B: fmt.Sprint("m", i)}
		s.Elements, s.Ranges[0].Holding = append(s.Elements, f), append(s.Ranges[0].Holding, f.ID)
	}
	u := compiled(t, s)
	if r := u.Ranges[0].Healthy; !near(r.Ratio, 1) || len(r.Holding) != 8 || r.Coast != "free" {
		t.Errorf("%+v", r)
	}
}

// A stepped planet: sun 20 on planets of 40, whose second toothing of 20 runs in a ring of 80 that is held: the arm turns at
// 1/(1 + 80·40/(20·20)) = 1/9 of the sun (Willis). Without a ring, a second sun of 40 held: 1 − 40·40/(20·20) = −3.
func TestSteppedPlanetsAndSetsWithoutARing(t *testing.T) {
	ratio := func(set SetSheet, held string, outcome string) float64 {
		t.Helper()
		s := Sheet{Format: Format, ID: "stepped", Version: 1, Name: "Stepped", Control: "hand",
			Gearing:  GearingSheet{Members: []string{"sun", "arm", held}, Input: "sun", Output: "arm", ForwardSign: 1, Sets: []SetSheet{set}},
			Elements: []ElementSheet{{ID: "B", Name: "brake", Kind: "brake", A: held, B: "case", Capacity: "900 N·m"}},
			Ranges:   []RangeSheet{{ID: "D", Selector: "D", Applied: []string{"B"}, Outcome: outcome}}}
		return compiled(t, s).Ranges[0].Healthy.Ratio
	}
	if r := ratio(SetSheet{Name: "set", Sun: "sun", SunTeeth: 20, PlanetTeeth: 40, StepTeeth: 20, Ring: "ring", RingTeeth: 80, Carrier: "arm", Count: 3}, "ring", "forward"); !near(r, 9) {
		t.Errorf("stepped planets in a ring: %v", r)
	}
	if r := ratio(SetSheet{Name: "set", Sun: "sun", SunTeeth: 20, PlanetTeeth: 40, StepTeeth: 20, SmallSun: "sun2", SmallSunTeeth: 40, Carrier: "arm", Count: 3}, "sun2", "reverse"); !near(r, -3) {
		t.Errorf("stepped planets on two suns: %v", r)
	}
	// Two suns and pairs of planets, no ring: 1 + 30/24 with the large sun of 30 held and the small of 24 driving.
	s := SetSheet{Name: "set", Sun: "sun2", SunTeeth: 30, SmallSun: "sun", SmallSunTeeth: 24, PlanetTeeth: 18, ShortTeeth: 20, Carrier: "arm", Count: 3}
	if r := ratio(s, "sun2", "forward"); !near(r, 1+30.0/24) {
		t.Errorf("two suns without a ring: %v", r)
	}
	for reason, set := range map[string]SetSheet{
		"do not assemble": {Name: "set", Sun: "sun", SunTeeth: 21, PlanetTeeth: 40, StepTeeth: 20, Ring: "ring", RingTeeth: 80, Carrier: "arm", Count: 3},
		"is missing":      {Name: "set", Sun: "sun", SunTeeth: 20, PlanetTeeth: 40, Carrier: "arm", Count: 3},
		"one of ring":     {Name: "set", Sun: "sun", SunTeeth: 20, PlanetTeeth: 40, StepTeeth: 20, Carrier: "arm", Count: 3},
	} {
		if _, _, err := set.meshes("x"); err == nil || !strings.Contains(err.Error(), reason) {
			t.Errorf("want %q: %v", reason, err)
		}
	}
}
