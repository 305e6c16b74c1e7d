package leak_test

import (
	"slices"
	"sync"
	"testing"

	"innercompass/core/leak"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

var units = sync.OnceValues(func() (map[string]*unitsheet.Unit, error) {
	c, err := catalog.Load(embedded.FS)
	if err != nil {
		return nil, err
	}
	return c.Units, nil
})

func tracer(t testing.TB, unit string) *leak.Tracer {
	t.Helper()
	all, err := units()
	if err != nil {
		t.Fatal(err)
	}
	return leak.NewTracer(*all[unit].Leaks)
}

const (
	d = leak.Dry
	w = leak.Wet
	f = leak.Fresh
)

// scenes are made from what the trade knows of leaks (common practice, no source): look at the highest and foremost wet
// place; oil runs down, and back on the road; a turning seal drips after a drive and stops, a resting one drips while it
// stands; what is under pressure drips while the engine runs; pressure in a case without a vent finds a way; oil may be
// another one's.
var scenes = []struct {
	name, unit string
	scene      leak.Scene
	leaks      []string
}{
	{"front seal, blown back to the rail and the tail", "norrad-h4", leak.Scene{Zones: map[string]int{"bell-under": f, "rail": w, "pan-under": w, "tail-joint-zone": w, "case-left": d, "case-right": d, "engine-back": d}, When: map[string]bool{"after": true, "standing": false, "running": true}}, []string{"front-seal"}},
	{"pump O-ring, cleaned and left overnight", "norrad-h4", leak.Scene{Watched: leak.Standing, Zones: map[string]int{"bell-under": f, "rail": d, "case-left": d, "case-right": d, "engine-back": d}, When: map[string]bool{"standing": true}}, []string{"pump-o-ring"}},
	{"selector shaft, taken for the pan gasket", "norrad-h4", leak.Scene{Zones: map[string]int{"selector-shaft": f, "case-left": w, "rail": w, "pan-under": w, "bell-under": d, "tail-end": d}}, []string{"selector"}},
	{"pan gasket, all above it dry", "norrad-h4", leak.Scene{Zones: map[string]int{"rail": f, "pan-under": f, "case-left": d, "case-right": d, "bell-under": d, "selector-shaft": d, "fittings": d, "servo-cover": d, "case-top": d}, When: map[string]bool{"standing": true}}, []string{"pan"}},
	{"cooler fitting, only with the engine running", "norrad-h4", leak.Scene{Zones: map[string]int{"fittings": f, "case-right": w, "rail": w, "bell-under": d}, When: map[string]bool{"running": true, "standing": false}}, []string{"cooler-line"}},
	{"tail seal", "norrad-h4", leak.Scene{Zones: map[string]int{"tail-end": f, "tail-zone": d, "tail-joint-zone": d, "rail": d, "bell-under": d}, When: map[string]bool{"after": true}}, []string{"tail-seal"}},
	{"tail housing gasket, blown back along the housing", "norrad-h4", leak.Scene{Zones: map[string]int{"tail-joint-zone": f, "tail-zone": w, "rail": d, "bell-under": d, "governor-zone": d, "case-left": d}}, []string{"tail-joint"}},
	{"vent blocked: wet on top when hot", "norrad-h4", leak.Scene{Zones: map[string]int{"vent-zone": f, "case-top": w, "case-left": w, "case-right": w, "rail": w, "bell-under": d}, When: map[string]bool{"hot": true}, Vent: "blocked"}, []string{"vent"}},
	{"into the transfer case: nothing wet, its plug spills", "norrad-h4", leak.Scene{Zones: map[string]int{"bell-under": d, "rail": d, "case-left": d, "case-right": d, "tail-joint-zone": d, "tail-end": d, "fittings": d}, Level: "fast", Plug: "over"}, []string{"transfer"}},
	{"engine oil from above", "norrad-h4", leak.Scene{Zones: map[string]int{"engine-back": w, "bell-under": w, "rail": w, "case-top": d}, Colour: "black", Level: "steady"}, []string{"engine"}},
	{"power steering hose: red, but the level stays", "norrad-h4", leak.Scene{Zones: map[string]int{"steering-gear": f, "bell-under": w, "case-left": w, "selector-shaft": d, "case-top": d, "rail": w}, When: map[string]bool{"running": true, "standing": false}, Colour: "red", Level: "steady"}, []string{"steering"}},
	{"two: selector shaft and tail seal", "norrad-h4", leak.Scene{Zones: map[string]int{"selector-shaft": f, "case-left": w, "rail": w, "tail-end": f, "tail-joint-zone": d, "tail-zone": d, "bell-under": d}}, []string{"selector", "tail-seal"}},
	{"two: front seal and cooler fitting", "norrad-h4", leak.Scene{Zones: map[string]int{"bell-under": f, "fittings": f, "case-right": w, "rail": w, "case-left": d, "engine-back": d}, When: map[string]bool{"running": true, "standing": false, "after": true}}, []string{"front-seal", "cooler-line"}},
	{"puddle under the tail in the morning", "norrad-h4", leak.Scene{Zones: map[string]int{"floor-rear-centre": w, "tail-end": w, "tail-joint-zone": d, "rail": d}}, []string{"tail-seal"}},
	{"governor cover", "norrad-v3", leak.Scene{Zones: map[string]int{"governor-zone": f, "tail-joint-zone": d, "case-left": d, "rail": d, "bell-under": d}}, []string{"governor"}},
	{"electrical plug", "ombrin-s6", leak.Scene{Zones: map[string]int{"plug-case": f, "case-right": w, "rail": w, "fittings": d, "bell-under": d}}, []string{"connector"}},
	{"front seal, cleaned and driven", "ombrin-s6", leak.Scene{Watched: leak.Driven, Zones: map[string]int{"bell-under": f, "engine-back": d, "fittings": d, "plug-case": d, "selector-shaft": d}, When: map[string]bool{"after": true, "standing": false}}, []string{"front-seal"}},
	{"axle seal at the end cover", "tessaly-e4t", leak.Scene{Zones: map[string]int{"axle-left-zone": f, "end-zone": d, "rail": d, "case-right": d}, When: map[string]bool{"after": true}}, []string{"axle-left"}},
	{"end cover", "tessaly-e4t", leak.Scene{Zones: map[string]int{"end-zone": f, "case-right": d, "rail": d, "axle-right-zone": d, "case-top": d}}, []string{"end-cover"}},
	{"servo cover in front, blown back under the pan", "tessaly-e4t", leak.Scene{Zones: map[string]int{"servo-cover": f, "rail": w, "pan-under": w, "case-left": d, "plug-case": d, "fittings": d}, When: map[string]bool{"running": true, "standing": false}}, []string{"servo"}},
	{"two: axle seal and pan", "tessaly-e4t", leak.Scene{Zones: map[string]int{"axle-right-zone": f, "rail": f, "pan-under": f, "case-left": d, "case-right": d, "bell-under": d, "servo-cover": d, "selector-shaft": d}}, []string{"axle-right", "pan"}},
	{"input shaft seal, gear oil in the bell", "ombrin-m5", leak.Scene{Zones: map[string]int{"bell-in": w, "bell-under": w, "engine-back": d}, Colour: "honey"}, []string{"input-seal"}},
	{"crankshaft seal, engine oil in the bell", "ombrin-m5", leak.Scene{Zones: map[string]int{"bell-in": w, "bell-under": w, "engine-back": w}, Colour: "black"}, []string{"engine"}},
	{"clutch cylinder, brake fluid", "ombrin-m5", leak.Scene{Zones: map[string]int{"cylinder": f, "bell-under": w, "bell-in": d, "engine-back": d}, Colour: "clear", Level: "steady"}, []string{"cylinder"}},
	{"two: drain plug and tail seal", "ombrin-m5", leak.Scene{Zones: map[string]int{"plugs-zone": f, "box-under": w, "tail-end": f, "tail-zone": d, "box-joint": d, "bell-under": d}}, []string{"plugs", "tail-seal"}},
}

// The right source comes first 18 times in 20, and always among the first three; two leaks count as right when both
// lead the list.
func TestScenes(t *testing.T) {
	if len(scenes) < 20 {
		t.Fatalf("%d scenes", len(scenes))
	}
	first := 0
	for _, x := range scenes {
		scene := x.scene
		if scene.Watched == "" {
			scene.Watched = leak.AsFound
		}
		got, err := tracer(t, x.unit).Trace(scene)
		if err != nil {
			t.Errorf("%s: %v", x.name, err)
			continue
		}
		worst := 0
		for _, id := range x.leaks {
			worst = max(worst, slices.IndexFunc(got.Suspects, func(s leak.Suspect) bool { return s.ID == id })+1)
		}
		if worst == len(x.leaks) {
			first++
		}
		t.Logf("%-55s %-12s rank %d: %s %.2f, %s %.2f, %s %.2f", x.name, x.unit, worst, got.Suspects[0].ID, got.Suspects[0].Share, got.Suspects[1].ID, got.Suspects[1].Share, got.Suspects[2].ID, got.Suspects[2].Share)
		if worst > max(3, len(x.leaks)) {
			t.Errorf("%s: %v is in place %d", x.name, x.leaks, worst)
		}
	}
	t.Logf("right %d of %d", first, len(scenes))
	if first*20 < 18*len(scenes) {
		t.Errorf("right first in %d of %d scenes, want 18 in 20", first, len(scenes))
	}
}
