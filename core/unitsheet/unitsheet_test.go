package unitsheet

import (
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/gearing"
)

// small is a sheet of one planetary set, one brake, one clutch, that gives a little of everything.
func small() Sheet {
	s := Sheet{Format: Format, ID: "bench-set", Version: 1, Name: "Bench set", Control: "hydraulic",
		Gearing: GearingSheet{Members: []string{"sun", "arm", "ring"}, Input: "sun", Output: "arm", ForwardSign: 1, Names: map[string]string{"sun": "sun"},
			Sets: []SetSheet{{Name: "set", Sun: "sun", SunTeeth: 20, PlanetTeeth: 30, Ring: "ring", RingTeeth: 80, Carrier: "arm", Count: 4}}},
		Elements: []ElementSheet{
			{ID: "B", Name: "ring brake", Kind: "brake", A: "ring", B: "case", Feed: "line", Access: "unit-apart", Hours: 1,
				Plates: &PlatesSheet{Lined: 4, Outer: "140 mm", Inner: "110 mm", Friction: 0.13, Piston: "80 cm²", Spring: "800 N", LinedThick: "1.9 mm", Steel: 4, SteelThick: "1.8 mm", Backing: "4 mm", Depth: "20.2 mm"}},
			{ID: "C", Name: "lock clutch", Kind: "clutch", A: "sun", B: "arm", Feed: "direct", Capacity: "200 N·m", Access: "unit-apart", Hours: 1}},
		Ranges: []RangeSheet{{ID: "N", Selector: "N", Outcome: "neutral", LineIdle: "50..60 psi", LineFull: "140..160 psi"},
			{ID: "D1", Selector: "D", Applied: []string{"B"}, Outcome: "forward", Bits: "0", LineIdle: "50..60 psi", LineFull: "140..160 psi"},
			{ID: "D2", Selector: "D", Applied: []string{"C"}, Outcome: "forward", From: "D1", Bits: "1", LineIdle: "50..60 psi", LineFull: "140..160 psi"}},
		Feeds:    []FeedSheet{{ID: "line", Serves: []string{"B"}, Path: []StepSheet{{Name: "pump"}, {Name: "line tap", Kind: "tap"}}}, {ID: "direct", Serves: []string{"C"}}},
		Shared:   []SharedSheet{{ID: "drum", Name: "drum", Kind: "drum", Serves: []string{"B", "C"}}},
		Controls: []ControlSheet{{ID: "V", Name: "shift valve", Kind: "valve"}},
		Logic:    []LogicSheet{{Selector: "D", Bits: "0", Applied: []string{"B"}}, {Selector: "D", Bits: "1", Applied: []string{"C"}}},
		Hydraulics: &HydraulicsSheet{Pump: PumpSheet{Kind: "gear", Driven: "hub", Displacement: "16 cc", Spare: "5 L/min"}, Regulator: &RegulatorSheet{Area: "2 cm²", Spring: "76 N", Boost: "1.8 cm²"},
			Throttle: &ThrottleSheet{Kind: "cable", Closed: "0 psi", Full: "105 psi"}, Governor: &GovernorSheet{Area: "1 cm²", PerKm: 1760, Weights: []WeightSheet{{Mass: "60 g", Radius: "23 mm", Limit: "1000 rpm"}, {Mass: "10 g", Radius: "23 mm"}}},
			Shifts: []ShiftValveSheet{{ID: "V", To: "D2", GovernorArea: "3 cm²", ThrottleArea: "1 cm²", Spring: "14 N", Light: "10..30 km/h", Full: "30..110 km/h"}}},
		Converter: &ConverterSheet{Stall: "1900..2100 rpm", TorqueRatio: 2, Seating: "25 mm", Lockup: []string{"D2"}, LockupTorque: "200 N·m"},
		Sensors:   []SensorSheet{{ID: "in", Name: "input speed", Kind: "speed", On: "sun", Teeth: 36}, {ID: "out", Name: "output speed", Kind: "speed", On: "arm", Teeth: 36}},
		Engine:    EngineSheet{MaxTorque: "40 N·m", IdleSpeed: "800 rpm", Margin: 1.1},
		Fluid:     FluidSheet{Capacity: "8 L", Refill: "4 L", Level: LevelProcedure{Temperature: "70..85 °C", BetweenMarks: "1 pt", MarksApart: "12 mm"}},
		Limits:    []LimitSheet{{ID: "clearance-B", Name: "clearance", Element: "B", Dimension: "length", Window: "1.0..1.6 mm"}},
		Exchange:  ExchangeSheet{Price: 1000, Hours: 5},
	}
	for i, name := range AccessNames {
		s.Access = append(s.Access, AccessSheet{Level: name, Minutes: float64(10 * i)})
	}
	return s
}

func compiled(t *testing.T, s Sheet) *Unit {
	t.Helper()
	u, bad := Compile(s)
	if bad != nil {
		t.Fatal(bad[0])
	}
	return u
}

func near(a, b float64) bool { return math.Abs(a-b) < 1e-9*math.Max(1, math.Abs(b)) }

func TestASheetCompilesAndSolves(t *testing.T) {
	u := compiled(t, small())
	if first, ok := u.Range("D1"); !ok || !near(first.Healthy.Ratio, 5) { // 1 + 80/20
		t.Errorf("first %v", first.Healthy.Ratio)
	}
	if second, _ := u.Range("D2"); !near(second.Healthy.Ratio, 1) || !second.Driving() || !second.Lockup {
		t.Errorf("second %+v", second)
	}
	if _, ok := u.Element("none"); ok {
		t.Error("an unknown element was found")
	}
	if m := u.AccessMinutes(Ground, PanOff); m != 10+20 {
		t.Errorf("climb to pan off %v min", m)
	}
	if m := u.AccessMinutes(UnitApart, Lifted); m != 0 {
		t.Errorf("going back costs %v min", m)
	}
	// 20.2 − 4 − 4·1.9 − 4·1.8 mm
	if b, _ := u.Element("B"); !near(b.Clear.SI, 1.4e-3) || !near(b.Touch.SI, 800/80e-4) {
		t.Errorf("clearance %v, touch %v", b.Clear.SI, b.Touch.SI)
	}
	if d := u.Doubts(); len(d) != 0 {
		t.Errorf("doubts %v", d)
	}
}

// What is not given is not known; only gears, elements and ranges have to be there.
func TestTheLeastSheetCompiles(t *testing.T) {
	s := Sheet{Format: Format, ID: "least", Version: 1, Name: "Least", Control: "hand", Gearing: small().Gearing,
		Elements: []ElementSheet{{ID: "B", Name: "brake", Kind: "brake", A: "ring", B: "case"}}, Ranges: []RangeSheet{{ID: "D1", Selector: "D", Applied: []string{"B"}, Outcome: "forward"}}}
	u := compiled(t, s)
	if Known(u.MaxTorque) || Known(u.Elements[0].Capacity) || Known(u.Stall.Low) || len(u.Doubts()) != 0 || u.ControlTable() != nil {
		t.Errorf("%+v", u)
	}
	if _, ok := u.Elements[0].Hold(1e6); ok {
		t.Error("an element without plates, band or capacity holds")
	}
	if p, err := u.Power(Running{Range: "D1", Speed: 100, Throttle: 1}); err != nil || p.Input != 0 || !near(p.OutSpeed, 20) {
		t.Errorf("%+v %v", p, err)
	}
}

// Each change breaks one thing; the problem names its path and what would be accepted.
func TestProblemsNameThePath(t *testing.T) {
	for path, change := range map[string]func(*Sheet){
		"format":                       func(s *Sheet) { s.Format = "v9" },
		"id":                           func(s *Sheet) { s.ID = "Bench Set" },
		"version":                      func(s *Sheet) { s.Version = 0 },
		"name":                         func(s *Sheet) { s.Name = " " },
		"control":                      func(s *Sheet) { s.Control = "magic" },
		"gearing.output":               func(s *Sheet) { s.Gearing.Output = "wheel" },
		"gearing.members[3]":           func(s *Sheet) { s.Gearing.Members = append(s.Gearing.Members, "spare") },
		"gearing.sets[0]":              func(s *Sheet) { s.Gearing.Sets[0].RingTeeth = 81 },
		"gearing.gears[0].teeth_a":     func(s *Sheet) { s.Gearing.Gears = []GearSheet{{A: "sun", B: "ring", TeethA: 2, TeethB: 30}} },
		"gearing.names.wheel":          func(s *Sheet) { s.Gearing.Names["wheel"] = "wheel" },
		"gearing.converter.engine":     func(s *Sheet) { s.Gearing.Converter = &JoinSheet{Engine: "E", Turbine: "sun"} },
		"elements":                     func(s *Sheet) { s.Elements = make([]ElementSheet, 30) },
		"elements[1].kind":             func(s *Sheet) { s.Elements[1].Kind = "glue" },
		"elements[1].capacity":         func(s *Sheet) { s.Elements[1].Capacity = "300 psi" },
		"elements[0].capacity":         func(s *Sheet) { s.Elements[0].Capacity = "300 N·m" },
		"elements[0].plates.outer":     func(s *Sheet) { s.Elements[0].Plates.Outer = "100 mm" },
		"elements[0].plates.piston":    func(s *Sheet) { s.Elements[0].Plates.Piston = "" },
		"elements[0].plates.friction":  func(s *Sheet) { s.Elements[0].Plates.Friction = 3 },
		"elements[0].access":           func(s *Sheet) { s.Elements[0].Access = "deep" },
		"elements[0].feed":             func(s *Sheet) { s.Elements[0].Feed = "hose" },
		"elements[0].name":             func(s *Sheet) { s.Elements[0].Name = "" },
		"ranges[1].applied[0]":         func(s *Sheet) { s.Ranges[1].Applied = []string{"X"} },
		"ranges[1].outcome":            func(s *Sheet) { s.Ranges[1].Outcome = "reverse" },
		"ranges[1].holding":            func(s *Sheet) { s.Ranges[1].Holding = []string{"F"} },
		"ranges[1].bits":               func(s *Sheet) { s.Ranges[1].Bits = "01" },
		"ranges[1].applied":            func(s *Sheet) { s.Logic[0].Applied = []string{"C"} },
		"ranges[2].from":               func(s *Sheet) { s.Ranges[2].From = "D9" },
		"ranges[2].id":                 func(s *Sheet) { s.Ranges[2].ID = "D1" },
		"ranges[0].line_idle":          func(s *Sheet) { s.Ranges[0].LineIdle = "60..50 psi" },
		"ranges":                       func(s *Sheet) { s.Ranges = nil },
		"feeds[0].serves[0]":           func(s *Sheet) { s.Feeds[0].Serves[0] = "Z" },
		"feeds[0].selectors[0]":        func(s *Sheet) { s.Feeds[0].Selectors = []string{"S"} },
		"feeds[0].path[0].kind":        func(s *Sheet) { s.Feeds[0].Path[0].Kind = "hose" },
		"shared[0].serves":             func(s *Sheet) { s.Shared[0].Serves = []string{"B"} },
		"shared[0].kind":               func(s *Sheet) { s.Shared[0].Kind = "glue" },
		"controls[0].rest":             func(s *Sheet) { s.Controls[0].Rest = 2 },
		"controls[0].ohms":             func(s *Sheet) { s.Controls[0].Ohms = []float64{5, 4} },
		"logic[0].bits":                func(s *Sheet) { s.Logic[0].Bits = "x" },
		"limp[0].applied[0]":           func(s *Sheet) { s.Limp = []LogicSheet{{Selector: "D", Applied: []string{"Q"}}} },
		"hydraulics.regulator.reverse": func(s *Sheet) { s.Hydraulics.Regulator.Reverse = "2 cm²" },
		"hydraulics.governor.area":     func(s *Sheet) { s.Hydraulics.Governor.Area = "1 mm" },
		"hydraulics.shifts[0]":         func(s *Sheet) { s.Hydraulics.Governor = nil },
		"hydraulics.shifts[0].id":      func(s *Sheet) { s.Hydraulics.Shifts[0].ID = "W" },
		"hydraulics.throttle.kind":     func(s *Sheet) { s.Hydraulics.Throttle.Kind = "rope" },
		"converter.stall":              func(s *Sheet) { s.Converter.Stall = "fast" },
		"converter.torque_ratio":       func(s *Sheet) { s.Converter.TorqueRatio = 9 },
		"converter.lockup[0]":          func(s *Sheet) { s.Converter.Lockup[0] = "D9" },
		"sensors[0].on":                func(s *Sheet) { s.Sensors[0].On = "wheel" },
		"sensors[1].id":                func(s *Sheet) { s.Sensors[1].ID = "in" },
		"engine.max_torque":            func(s *Sheet) { s.Engine.MaxTorque = "much" },
		"engine.margin":                func(s *Sheet) { s.Engine.Margin = 0.5 },
		"fluid.capacity":               func(s *Sheet) { s.Fluid.Capacity = "8 psi" },
		"fluid.level.temperature":      func(s *Sheet) { s.Fluid.Level.Temperature = "hot" },
		"fluid.level.engine":           func(s *Sheet) { s.Fluid.Level.Engine = "idle" },
		"limits[0].window":             func(s *Sheet) { s.Limits[0].Window = "1 mm" },
		"limits[0].dimension":          func(s *Sheet) { s.Limits[0].Dimension = "smell" },
		"limits[0].element":            func(s *Sheet) { s.Limits[0].Element = "Q" },
		"access":                       func(s *Sheet) { s.Access = s.Access[1:] },
		"access[2].minutes":            func(s *Sheet) { s.Access[2].Minutes = -1 },
		"access[2].level":              func(s *Sheet) { s.Access[2].Level = "pan" },
		"parts[0].access":              func(s *Sheet) { s.Parts = []PartSheet{{ID: "p", Access: "nowhere", Zone: []float64{0, 0, 1, 1}}} },
		"parts[0].zone":                func(s *Sheet) { s.Parts = []PartSheet{{ID: "p", Zone: []float64{0, 0, 1}}} },
		"parts[0].zone[1]":             func(s *Sheet) { s.Parts = []PartSheet{{ID: "p", Zone: []float64{0, 200, 1, 1}}} },
		"traps[0].before":              func(s *Sheet) { s.Traps = []TrapSheet{{Before: "lunch"}} },
		"torques[0].torque":            func(s *Sheet) { s.Torques = []TorqueSheet{{Joint: "j", Torque: "tight"}} },
		"known[0].distance":            func(s *Sheet) { s.Known = []KnownSheet{{Title: "k", Distance: "far"}} },
		"exchange":                     func(s *Sheet) { s.Exchange.Price = -1 },
	} {
		s := small()
		change(&s)
		u, bad := Compile(s)
		var all []string
		found := false
		for _, p := range bad {
			all = append(all, p.Error())
			found = found || p.Path == path && p.Accepted != ""
		}
		if u != nil || !found {
			t.Errorf("%s: %s", path, strings.Join(all, " | "))
		}
	}
}

// A sheet that solves but does not fit together is doubted, each time at the place to mend.
func TestDoubtsNameWhatDoesNotFit(t *testing.T) {
	for path, change := range map[string]func(*Sheet){
		"elements[0]":                func(s *Sheet) { s.Engine.MaxTorque = "400 N·m" },
		"elements[0].plates":         func(s *Sheet) { s.Elements[0].Plates.Depth = "21.2 mm" },
		"ranges[1].line_idle":        func(s *Sheet) { s.Hydraulics.Regulator.Spring = "200 N" },
		"ranges[2].line_full":        func(s *Sheet) { s.Hydraulics.Throttle.Full = "200 psi" },
		"hydraulics.shifts[0].light": func(s *Sheet) { s.Hydraulics.Shifts[0].Light = "80..90 km/h" },
		"converter.lockup_torque":    func(s *Sheet) { s.Converter.LockupTorque = "41 N·m" },
		"hydraulics.shifts[0].full":  func(s *Sheet) { s.Hydraulics.Shifts[0].Full = "10..11 km/h" },
	} {
		s := small()
		change(&s)
		u := compiled(t, s)
		if !slices.ContainsFunc(u.Doubts(), func(p *Problem) bool { return p.Path == path && p.Accepted != "" }) {
			t.Errorf("%s: %v", path, u.Doubts())
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
	s := small()
	s.Access = slices.Delete(s.Access, 2, 3)
	if u := compiled(t, s); u.Has(PanOff) || !u.Has(UnitOut) || u.AccessMinutes(Ground, ValveBodyOff) != 10+30 {
		t.Error("a unit without a pan has that level, or it costs something")
	}
}

// Doubling the speed doubles every speed; doubling the load doubles every torque; the ratio stays.
func TestPowerScalesWithSpeedAndLoad(t *testing.T) {
	u := compiled(t, small())
	one, err := u.Power(Running{Range: "D1", Speed: 100, Throttle: 0.4})
	if err != nil {
		t.Fatal(err)
	}
	two, _ := u.Power(Running{Range: "D1", Speed: 200, Throttle: 0.8})
	if !near(two.Input, 2*one.Input) || !near(two.Output, 2*one.Output) || !near(two.OutSpeed, 2*one.OutSpeed) || !near(one.Output, 5*one.Input) {
		t.Errorf("%+v\n%+v", one, two)
	}
	for i := range one.Elements {
		if !near(two.Elements[i].Torque, 2*one.Elements[i].Torque) || two.Elements[i].Hold < one.Elements[i].Hold {
			t.Errorf("%+v %+v", one.Elements[i], two.Elements[i])
		}
	}
	back, _ := u.Power(Running{Range: "D1", Speed: 100, Throttle: -1})
	if !back.Overrun || !near(back.Input, -EngineDrag*40) || !near(back.Output, 5*back.Input) {
		t.Errorf("overrun %+v", back)
	}
	for _, bad := range []Running{{Range: "D9"}, {Range: "D1", Speed: -1}, {Range: "D1", Throttle: 2}, {Range: "D1", Slip: 1}, {Range: "D1", Speed: math.NaN()}} {
		if _, err := u.Power(bad); err == nil {
			t.Errorf("%+v was taken", bad)
		}
	}
	if n, err := u.Power(Running{Range: "N", Speed: 100, Throttle: 1}); err != nil || n.Output != 0 || len(n.Elements) != 0 {
		t.Errorf("neutral %+v %v", n, err)
	}
}

// A 36-tooth wheel over a tenth of a second tells 16.7 rev/min apart (60/36/0.1).
func TestGearFromTheUnitsOwnSensors(t *testing.T) {
	u := compiled(t, small())
	f, err := u.FindGear(Seen{In: 2500, Out: 500})
	if err != nil || f.Matches[0].Range.ID != "D1" || !f.Matches[0].Fits || !near(f.Speeds.InTol, 60/3.6) {
		t.Errorf("%+v %v", f, err)
	}
	// With the ring brake slipping: ring = (arm·100 − sun·20)/80.
	f, _ = u.FindGear(Seen{In: 2900, Out: 500})
	if f.Matches[0].Fits || len(f.Slips) != 1 || !near(math.Abs(f.Slips[0].Slip), math.Abs((500*100-2900*20)/80.0)) {
		t.Errorf("%+v", f)
	}
	for _, bad := range []Seen{{In: 1000}, {In: 1000, Out: 500, Window: -1}, {In: math.Inf(1), Out: 500}} {
		if _, err := u.FindGear(bad); err == nil {
			t.Errorf("%+v was taken", bad)
		}
	}
}

// The control table says what each setting gives; a setting that the sheet leaves out is not made up.
func TestControlTable(t *testing.T) {
	s := small()
	s.Controls = append(s.Controls, ControlSheet{ID: "S", Name: "solenoid", Kind: "solenoid", Applies: "C", Rest: 1})
	s.Ranges[1].Bits, s.Ranges[2].Bits = "0", "1"
	s.Logic[1].Applied = []string{}
	s.Limp = []LogicSheet{{Selector: "D", Applied: []string{"C"}}}
	u := compiled(t, s)
	rows := u.ControlTable()
	if len(rows) != 5 { // three ranges, N and D without power
		t.Fatalf("%+v", rows)
	}
	if r := rows[2]; r.Range != "D2" || !slices.Equal(r.Bits, []int{1, 1}) || !near(r.Result.Ratio, 1) {
		t.Errorf("%+v", r)
	}
	if r := rows[4]; r.Range != WithoutPower || r.Bits != nil || !near(r.Result.Ratio, 1) {
		t.Errorf("%+v", r)
	}
	d1, _ := u.Range("D1")
	if got, ok := u.Settings(d1, []int{1, 1}); !ok || !slices.Equal(got.Applied, []string{"C"}) {
		t.Errorf("%v %v", got, ok)
	}
	s.Logic = s.Logic[:1]
	s.Ranges[2].Bits = "0"
	s.Logic[0].Applied = []string{}
	s.Controls[0].Applies = "B"
	if u, bad := Compile(s); u != nil || bad == nil {
		t.Error("bits without controls were taken")
	}
}

// An element fed only in some selector positions stays without pressure elsewhere, whatever its solenoid does.
func TestFeedsGateTheirElements(t *testing.T) {
	s := small()
	s.Controls, s.Logic = []ControlSheet{{ID: "S", Name: "solenoid", Kind: "solenoid", Applies: "C"}}, nil
	s.Ranges[1].Bits, s.Ranges[2].Bits = "", ""
	s.Hydraulics = nil
	s.Feeds[1].Selectors = []string{"D"}
	u := compiled(t, s)
	n, _ := u.Range("N")
	if got, ok := u.Settings(n, []int{1}); !ok || len(got.Applied) != 0 {
		t.Errorf("in N: %v", got)
	}
	d1, _ := u.Range("D1")
	if got, ok := u.Settings(d1, []int{1}); !ok || !slices.Equal(got.Applied, []string{"B", "C"}) {
		t.Errorf("in D: %v", got)
	}
	if !u.Electric() || u.Limp("D").Applied == nil {
		t.Errorf("limp %v", u.Limp("D"))
	}
}

func TestKindsOfElement(t *testing.T) {
	for _, k := range gearing.Kinds {
		if got := k.Friction(); got != (k == gearing.Clutch || k == gearing.Brake || k == gearing.Band) {
			t.Errorf("%s friction %v", k, got)
		}
	}
}

// Limits of a report: taken over what most units have, and refused with their line's path.
func TestLimitsOfAReportAreTakenFromTheSheet(t *testing.T) {
	s := small()
	s.Fluid.Wear = []WearSheet{{Measure: "copper", Usual: 40, Rise: 2}}
	u, problems := Compile(s)
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	for _, m := range u.Measures {
		if m.ID == "copper" && (m.Usual != 40 || m.Rate != 2) || m.ID == "iron" && m.Usual != 20 {
			t.Errorf("%+v", m)
		}
	}
	for path, w := range map[string]WearSheet{"fluid.wear[0].measure": {Measure: "gold", Usual: 1}, "fluid.wear[0].usual": {Measure: "iron"}, "fluid.wear[0].rise": {Measure: "iron", Usual: 1, Rise: -1}} {
		s.Fluid.Wear = []WearSheet{w}
		_, problems := Compile(s)
		if len(problems) != 1 || problems[0].Path != path || problems[0].Accepted == "" {
			t.Errorf("%+v: %v", w, problems)
		}
	}
}
