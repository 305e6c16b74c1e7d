package vibration_test

import (
	"math"
	"testing"

	"innercompass/core/vibration"
)

// About fixed axes lines stand by turns of either shaft: the third gears of the five-speed, 28 teeth on the countershaft. In a set of three
// planets with a ring of 81 teeth the mesh's own line divides by three, so its neighbors by one and two turns are absent; three turns off
// there are lines (geometry; which cancel recalled from memory, McFadden and Smith 1985).
func TestSidebandsStandByTurnsOfTheirShafts(t *testing.T) {
	l := list(t, unit(t, "ombrin-m5"), estate, vibration.State{Range: "G3", Road: 80 * kmh})
	all := l.Sidebands(unit(t, "ombrin-m5"))
	mesh, counter := hertz(l, "mesh:CS/g3")/l.Output, hertz(l, "turn:CS")/l.Output
	found := map[int]bool{}
	for _, s := range all {
		if s.Mesh == "mesh:CS/g3" && math.Abs(s.Order-mesh-float64(s.Times)*counter) < 1e-9 {
			found[s.Times] = true
		}
	}
	if !found[-1] || !found[1] || !found[3] {
		t.Errorf("by the countershaft: %v", found)
	}
	if s, ok := vibration.Beside(all, mesh+counter*1.001/1, 0.0005); !ok || s.Times != 1 {
		t.Errorf("%+v %v", s, ok)
	}
	if _, ok := vibration.Beside(all, 0.5, 0.0005); ok {
		t.Error("half a turn is beside a mesh")
	}
	s6 := unit(t, "ombrin-s6")
	for _, s := range list(t, s6, van, vibration.State{Range: "D6", Road: 80 * kmh}).Sidebands(s6) {
		if s.Times == 0 || s.Order <= 0 {
			t.Errorf("%+v", s)
		}
	}
}
