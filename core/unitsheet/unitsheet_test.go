package unitsheet

import (
	"strings"
	"testing"
)

// small is the least sheet that compiles: one planetary set, one brake, one clutch.
func small() Sheet {
	s := Sheet{Format: Format, ID: "bench-set", Version: 1, Name: "Bench set", Control: "hydraulic",
		Gearing: GearingSheet{Members: []string{"sun", "arm", "ring", "planet"}, Input: "sun", Output: "arm", ForwardSign: 1, Names: map[string]string{"sun": "sun"},
			Meshes: []MeshSheet{{A: "sun", B: "planet", TeethA: 20, TeethB: 30, Carrier: "arm"}, {A: "ring", B: "planet", TeethA: 80, TeethB: 30, Carrier: "arm", Internal: true}},
			Sets:   []SetSheet{{Sun: 20, Planet: 30, Ring: 80, Count: 4}}},
		Elements:  []ElementSheet{{ID: "B", Name: "ring brake", Kind: "brake", A: "ring", B: "case", Feed: "line", Capacity: "300 N·m", Access: "unit-apart"}, {ID: "C", Name: "lock clutch", Kind: "clutch", A: "sun", B: "arm", Feed: "line", Capacity: "200 N·m", Access: "unit-apart"}},
		Ranges:    []RangeSheet{{ID: "N", Selector: "N", Applied: nil, Outcome: "neutral", LineIdle: "50..60 psi"}, {ID: "D1", Selector: "D", Applied: []string{"B"}, Outcome: "forward", LineIdle: "50..60 psi"}, {ID: "D2", Selector: "D", Applied: []string{"C"}, Outcome: "forward", From: "D1", LineIdle: "50..60 psi"}},
		Feeds:     []FeedSheet{{ID: "line", Serves: []string{"B", "C"}}},
		Converter: ConverterSheet{Stall: "1900..2100 rpm", TorqueRatio: 2, Seating: "25 mm"}, Engine: EngineSheet{MaxTorque: "100 N·m", IdleSpeed: "800 rpm"},
		Fluid:    FluidSheet{Capacity: "8 L", Refill: "4 L", Level: LevelProcedure{Temperature: "70..85 °C", BetweenMarks: "1 pt", MarksApart: "12 mm"}},
		Exchange: ExchangeSheet{Price: 1000, Hours: 5},
	}
	for i, name := range AccessNames {
		s.Access = append(s.Access, AccessSheet{Level: name, Minutes: float64(10 * i)})
	}
	return s
}

func TestTheLeastSheetCompilesAndSolves(t *testing.T) {
	u, bad := Compile(small())
	if bad != nil {
		t.Fatal(bad[0])
	}
	first, ok := u.Range("D1")
	if !ok || first.Healthy.Ratio != 5 && !near(first.Healthy.Ratio, 5) { // 1 + 80/20
		t.Errorf("first %v", first.Healthy.Ratio)
	}
	if second, _ := u.Range("D2"); !near(second.Healthy.Ratio, 1) || !second.Driving() {
		t.Errorf("second %v", second.Healthy.Ratio)
	}
	if _, ok := u.Element("none"); ok {
		t.Error("an unknown element was found")
	}
	if m := u.Climb(Ground, PanOff); m != 10+20 {
		t.Errorf("climb to pan off %v min", m)
	}
	if m := u.Climb(UnitApart, Lifted); m != 0 {
		t.Errorf("going back costs %v min", m)
	}
}

func near(a, b float64) bool { return a-b < 1e-9 && b-a < 1e-9 }

// Each change breaks one thing; the problem names its path and what would be accepted.
func TestProblemsNameThePath(t *testing.T) {
	for path, change := range map[string]func(*Sheet){
		"format":                    func(s *Sheet) { s.Format = "v9" },
		"id":                        func(s *Sheet) { s.ID = "Bench Set" },
		"version":                   func(s *Sheet) { s.Version = 0 },
		"name":                      func(s *Sheet) { s.Name = " " },
		"control":                   func(s *Sheet) { s.Control = "magic" },
		"gearing.output":            func(s *Sheet) { s.Gearing.Output = "wheel" },
		"gearing.meshes[1].a":       func(s *Sheet) { s.Gearing.Meshes[1].A = "rim" },
		"gearing.meshes[0].teeth_b": func(s *Sheet) { s.Gearing.Meshes[0].TeethB = 0 },
		"gearing.sets[0]":           func(s *Sheet) { s.Gearing.Sets[0].Ring = 81 },
		"gearing.names.wheel":       func(s *Sheet) { s.Gearing.Names["wheel"] = "wheel" },
		"elements[1].kind":          func(s *Sheet) { s.Elements[1].Kind = "glue" },
		"elements[0].capacity":      func(s *Sheet) { s.Elements[0].Capacity = "300 psi" },
		"elements[0].access":        func(s *Sheet) { s.Elements[0].Access = "deep" },
		"elements[0].feed":          func(s *Sheet) { s.Elements[0].Feed = "hose" },
		"elements[0].name":          func(s *Sheet) { s.Elements[0].Name = "" },
		"ranges[1].applied[0]":      func(s *Sheet) { s.Ranges[1].Applied = []string{"X"} },
		"ranges[1].outcome":         func(s *Sheet) { s.Ranges[1].Outcome = "reverse" },
		"ranges[1].holding":         func(s *Sheet) { s.Ranges[1].Holding = []string{"F"} },
		"ranges[2].from":            func(s *Sheet) { s.Ranges[2].From = "D9" },
		"ranges[2].id":              func(s *Sheet) { s.Ranges[2].ID = "D1" },
		"ranges[0].line_idle":       func(s *Sheet) { s.Ranges[0].LineIdle = "60..50 psi" },
		"ranges":                    func(s *Sheet) { s.Ranges = nil },
		"feeds[0].serves[1]":        func(s *Sheet) { s.Feeds[0].Serves[1] = "Z" },
		"converter.stall":           func(s *Sheet) { s.Converter.Stall = "fast" },
		"engine.max_torque":         func(s *Sheet) { s.Engine.MaxTorque = "much" },
		"fluid.capacity":            func(s *Sheet) { s.Fluid.Capacity = "8 psi" },
		"fluid.level.temperature":   func(s *Sheet) { s.Fluid.Level.Temperature = "hot" },
		"limits[0].window":          func(s *Sheet) { s.Limits = []LimitSheet{{ID: "x", Dimension: "length", Window: "1 mm"}} },
		"limits[0].dimension":       func(s *Sheet) { s.Limits = []LimitSheet{{ID: "x", Dimension: "smell", Window: "1..2 mm"}} },
		"limits[0].element": func(s *Sheet) {
			s.Limits = []LimitSheet{{ID: "x", Dimension: "length", Window: "1..2 mm", Element: "Q"}}
		},
		"access":            func(s *Sheet) { s.Access = s.Access[1:] },
		"access[2].minutes": func(s *Sheet) { s.Access[2].Minutes = -1 },
		"access[2].level":   func(s *Sheet) { s.Access[2].Level = "pan" },
		"parts[0].access":   func(s *Sheet) { s.Parts = []PartSheet{{ID: "p", Access: "nowhere"}} },
		"traps[0].before":   func(s *Sheet) { s.Traps = []TrapSheet{{Before: "lunch"}} },
		"torques[0].torque": func(s *Sheet) { s.Torques = []TorqueSheet{{Joint: "j", Torque: "tight"}} },
		"exchange":          func(s *Sheet) { s.Exchange.Price = -1 },
	} {
		s := small()
		change(&s)
		u, bad := Compile(s)
		found := false
		var all []string
		for _, p := range bad {
			all = append(all, p.Error())
			found = found || p.Path == path && p.Accepted != ""
		}
		if u != nil || !found {
			t.Errorf("%s: %s", path, strings.Join(all, " | "))
		}
	}
}

func TestAccessLevelsByName(t *testing.T) {
	for i, name := range AccessNames {
		a, err := ParseAccess(name)
		if err != nil || a != Access(i) || a.String() != name {
			t.Errorf("%s: %v %v", name, a, err)
		}
	}
	if _, err := ParseAccess("roof"); err == nil || !strings.Contains(err.Error(), "ground, lifted") {
		t.Errorf("unknown level: %v", err)
	}
	if Access(99).String() != "unknown" || Access(-1).String() != "unknown" {
		t.Error("a level out of range has a name")
	}
}
