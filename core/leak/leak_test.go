package leak_test

import (
	"slices"
	"strings"
	"testing"

	"innercompass/core/leak"
)

// three zones over each other, one behind, one in front: a made-up unit for the laws of flow.
func tower(across bool) leak.Map {
	box := func(x, y, z float64) leak.Box { return leak.Box{X: x, Y: y, Z: z, W: 20, H: 10, D: 20} }
	m := leak.Map{Kind: "fluid", Across: across, Zones: []leak.Zone{
		{ID: "top", Name: "top", Box: box(40, 60, 40)}, {ID: "middle", Name: "middle", Box: box(40, 40, 40)}, {ID: "bottom", Name: "bottom", Box: box(40, 20, 40)},
		{ID: "behind", Name: "behind", Box: box(70, 20, 40)}, {ID: "ahead", Name: "ahead", Box: box(10, 20, 40)}, {ID: "right", Name: "right", Box: box(40, 20, 70)},
	}}
	for _, z := range m.Zones {
		m.Sources = append(m.Sources, leak.Source{ID: z.ID, Name: z.Name, Zone: z.ID, When: leak.Static})
	}
	return m
}

// found is the share of a source when one zone is wet and another dry.
func found(t *testing.T, m leak.Map, watched leak.Watch, wet, dry, source string) float64 {
	t.Helper()
	made, err := m.Compile()
	if err != nil {
		t.Fatal(err)
	}
	scene := leak.Scene{Watched: watched, Zones: map[string]int{wet: leak.Wet}}
	if dry != "" {
		scene.Zones[dry] = leak.Dry
	}
	got, err := leak.NewTracer(made).Trace(scene)
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(got.Suspects, func(s leak.Suspect) bool { return s.ID == source })
	return got.Suspects[i].Share
}

// Oil runs down and never up: a wet bottom speaks for what is above it, a wet top does not speak for what is below. What is
// dry above a wet place speaks for the place itself.
func TestOilRunsDown(t *testing.T) {
	m := tower(false)
	alone := found(t, m, leak.AsFound, "bottom", "", "top")
	if up := found(t, m, leak.AsFound, "top", "", "bottom"); up > 0.051 || alone < 0.1 {
		t.Errorf("a wet bottom: top %v; a wet top: bottom %v", alone, up)
	}
	if below := found(t, m, leak.AsFound, "bottom", "middle", "top"); below >= alone/2 {
		t.Errorf("with the middle dry the top falls from %v to %v only", alone, below)
	}
	if self, before := found(t, m, leak.AsFound, "bottom", "middle", "bottom"), found(t, m, leak.AsFound, "bottom", "", "bottom"); self <= before {
		t.Errorf("with the middle dry the bottom goes from %v to %v", before, self)
	}
}

// The road blows oil back, towards the rear of the vehicle, whichever way the unit lies; what stood overnight was not blown.
func TestWindBlowsBack(t *testing.T) {
	along, across := tower(false), tower(true)
	const prior = 0.051
	if back, ahead := found(t, along, leak.AsFound, "behind", "", "bottom"), found(t, along, leak.AsFound, "ahead", "", "bottom"); back < 2*prior || ahead > prior {
		t.Errorf("behind is wet: %v; ahead is wet: %v", back, ahead)
	}
	if night := found(t, along, leak.Standing, "behind", "", "bottom"); night > prior {
		t.Errorf("overnight it was blown back: %v", night)
	}
	if side := found(t, along, leak.AsFound, "right", "", "bottom"); side > prior {
		t.Errorf("the wind blows sideways: %v", side)
	}
	if back, side := found(t, across, leak.AsFound, "right", "", "bottom"), found(t, across, leak.AsFound, "behind", "", "bottom"); back < 2*prior || side > prior {
		t.Errorf("across the vehicle: %v behind it, %v beside it", back, side)
	}
}

// A puddle lies under what drips.
func TestAPuddleLiesUnderIt(t *testing.T) {
	m := tower(false)
	if under, beside := found(t, m, leak.Standing, "floor-middle-centre", "", "bottom"), found(t, m, leak.Standing, "floor-rear-right", "", "bottom"); under < 0.1 || beside > 0.051 {
		t.Errorf("%v under it, %v beside it", under, beside)
	}
}

// A way is told zone by zone, from the source to what is wet, each below or behind the one before.
func TestWaysAreTold(t *testing.T) {
	made, err := tower(false).Compile()
	if err != nil {
		t.Fatal(err)
	}
	got, err := leak.NewTracer(made).Trace(leak.Scene{Watched: leak.AsFound, Zones: map[string]int{"top": leak.Fresh, "middle": leak.Wet, "bottom": leak.Wet}})
	if err != nil {
		t.Fatal(err)
	}
	first := got.Suspects[0]
	if first.ID != "top" || len(first.Wets) != 3 || strings.Join(first.Wets[2].Through, " ") != "top middle bottom" {
		t.Errorf("%+v", first)
	}
	if len(got.Unexplained) != 0 {
		t.Errorf("unexplained: %v", got.Unexplained)
	}
	lone, err := leak.NewTracer(made).Trace(leak.Scene{Watched: leak.AsFound, Zones: map[string]int{"top": leak.Fresh, "floor-front-left": leak.Wet}})
	if err != nil || !slices.Contains(lone.Unexplained, "floor-front-left") {
		t.Errorf("%v: a puddle that nothing reaches is explained: %v", err, lone.Unexplained)
	}
}

// The next look parts what is left: with two sources behind one wet zone, looking above it is worth more than the vent.
func TestTheNextLookParts(t *testing.T) {
	made, err := tower(false).Compile()
	if err != nil {
		t.Fatal(err)
	}
	got, err := leak.NewTracer(made).Trace(leak.Scene{Watched: leak.AsFound, Zones: map[string]int{"bottom": leak.Wet}})
	if err != nil || len(got.Checks) < 3 || got.Checks[0].ID != "rest" || got.Checks[0].Bits < 0.5 {
		t.Fatalf("%v %+v", err, got.Checks)
	}
	for i, c := range got.Checks {
		if c.Bits <= 0 || c.Minutes <= 0 || i > 0 && c.Bits/c.Minutes > got.Checks[i-1].Bits/got.Checks[i-1].Minutes {
			t.Errorf("%+v", got.Checks)
		}
	}
}

// Oil of another kind is told by its look; the unit's own level does not fall with it.
func TestAnotherOil(t *testing.T) {
	m := tower(false)
	m.Sources = append(m.Sources, leak.Source{ID: "engine", Name: "engine", Zone: "top", When: leak.Turning, Kind: "engine"})
	made, err := m.Compile()
	if err != nil {
		t.Fatal(err)
	}
	share := func(s leak.Scene) float64 {
		s.Watched, s.Zones = leak.AsFound, map[string]int{"top": leak.Fresh}
		got, err := leak.NewTracer(made).Trace(s)
		if err != nil {
			t.Fatal(err)
		}
		i := slices.IndexFunc(got.Suspects, func(x leak.Suspect) bool { return x.ID == "engine" })
		return got.Suspects[i].Share
	}
	unknown := share(leak.Scene{})
	if black, red := share(leak.Scene{Colour: "black"}), share(leak.Scene{Colour: "red"}); black < 0.8 || red > unknown/3 {
		t.Errorf("black %v, red %v, not looked at %v", black, red, unknown)
	}
	if falls := share(leak.Scene{Level: "fast"}); falls >= unknown {
		t.Errorf("the level falls: engine goes from %v to %v", unknown, falls)
	}
}

func TestWhatAMapCannotBe(t *testing.T) {
	for name, spoil := range map[string]func(*leak.Map){
		"kind":        func(m *leak.Map) { m.Kind = "water" },
		"zone twice":  func(m *leak.Map) { m.Zones[1].ID = "top" },
		"flat zone":   func(m *leak.Map) { m.Zones[0].Box.H = 0 },
		"source":      func(m *leak.Map) { m.Sources[1].ID = "top" },
		"no zone":     func(m *leak.Map) { m.Sources[0].Zone = "roof" },
		"when":        func(m *leak.Map) { m.Sources[0].When = "sometimes" },
		"source oil":  func(m *leak.Map) { m.Sources[0].Kind = "water" },
		"prior":       func(m *leak.Map) { m.Sources[0].Prior = 2 },
		"path":        func(m *leak.Map) { m.Paths = []leak.Path{{From: "top", To: "roof", Share: 0.5}} },
		"path's part": func(m *leak.Map) { m.Paths = []leak.Path{{From: "top", To: "middle", Share: 2}} },
	} {
		m := tower(false)
		spoil(&m)
		if _, err := m.Compile(); err == nil || !strings.Contains(err.Error(), "want") {
			t.Errorf("%s: %v", name, err)
		}
	}
	made, err := tower(false).Compile()
	if err != nil {
		t.Fatal(err)
	}
	for name, s := range map[string]leak.Scene{
		"watched": {Watched: "twice"},
		"zone":    {Watched: leak.AsFound, Zones: map[string]int{"roof": 1}},
		"level":   {Watched: leak.AsFound, Zones: map[string]int{"top": 7}},
		"moment":  {Watched: leak.AsFound, When: map[string]bool{"never": true}},
		"colour":  {Watched: leak.AsFound, Colour: "pink"},
		"plug":    {Watched: leak.AsFound, Plug: "lost"},
	} {
		if _, err := leak.NewTracer(made).Trace(s); err == nil || !strings.Contains(err.Error(), "want") {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func BenchmarkScene(b *testing.B) {
	t := tracer(b, "norrad-h4")
	s := scenes[0].scene
	s.Watched = leak.AsFound
	b.ReportAllocs()
	for b.Loop() {
		if _, err := t.Trace(s); err != nil {
			b.Fatal(err)
		}
	}
}

// A unit whose sheet has no places: the plain map names the front seal from drops under its bell housing.
func TestAPlainUnitIsTracedToo(t *testing.T) {
	for _, kind := range []struct{ pressed, converter bool }{{false, false}, {true, false}, {true, true}} {
		m, err := leak.Plain("fluid", kind.pressed, kind.converter).Compile()
		if err != nil {
			t.Fatal(err)
		}
		found, err := leak.NewTracer(m).Trace(leak.Scene{Watched: leak.Running, Zones: map[string]int{"bell-in": leak.Fresh, "bell-under": leak.Fresh, "engine-back": leak.Dry, "case-top": leak.Dry}})
		if err != nil || found.Suspects[0].ID != "front-seal" {
			t.Errorf("%+v: %+v, %v", kind, found.Suspects[0], err)
		}
	}
}
