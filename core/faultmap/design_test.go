package faultmap_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/faultmap"
)

// Solenoids act through the valve body: off and off is second gear in the sheet's table, so with A stuck off first is
// lost and fourth becomes third; without power it stays in second.
func TestControlsActThroughTheLogic(t *testing.T) {
	u := unit(t, "tessaly-e4t")
	for _, c := range []struct {
		kind             faultmap.Kind
		part, r, want, d string
	}{
		{faultmap.StuckOff, "A", "D1", "wrong", "drives as D2"},
		{faultmap.StuckOff, "A", "D2", "normal", ""},
		{faultmap.StuckOff, "A", "D4", "wrong", "stays in D3"},
		{faultmap.StuckOn, "B", "D1", "wrong", "drives as D4"},
		{faultmap.StuckOn, "B", "D2", "wrong", "drives as D3"},
		{faultmap.LimpHome, "", "D4", "wrong", "drives as D2"},
		{faultmap.LimpHome, "", "R", "none", ""},
		{faultmap.Dead, "A", "D3", "wrong", "stays in D2"},
	} {
		if got, detail := at(t, u, faultmap.Fault{Kind: c.kind, Part: c.part}, c.r, faultmap.Drives); got != c.want || !strings.Contains(detail, c.d) {
			t.Errorf("%s %s in %s: %q (%s), want %q (%s)", c.kind, c.part, c.r, got, detail, c.want, c.d)
		}
	}
	// 3–4 valve up with the others down: the sheet says that nothing is fed then.
	if got, _ := at(t, unit(t, "norrad-h4"), faultmap.Fault{Kind: faultmap.StuckOn, Part: "V34"}, "D1", faultmap.Drives); got != "none" {
		t.Errorf("3–4 valve stuck up in first: %s", got)
	}
}

// A gear set is heard where its teeth turn under load, and is quiet where the set turns as one block.
func TestGearNoiseIsHeardWhereTeethTurnUnderLoad(t *testing.T) {
	for _, c := range []struct{ unit, part, r, want string }{
		{"norrad-h4", "set-1", "D2", "noisy"}, {"norrad-h4", "set-1", "D3", "normal"},
		{"tessaly-p5", "gears-6", "R", "noisy"}, {"tessaly-p5", "gears-6", "D4", "normal"}, {"tessaly-p5", "gears-4", "D4", "noisy"},
		{"ombrin-m5", "gears-1", "G4", "normal"}, {"ombrin-m5", "gears-1", "G3", "noisy"}, {"ombrin-m5", "gears-4", "G3", "noisy"}, {"ombrin-m5", "gears-4", "G2", "normal"},
	} {
		if got, _ := at(t, unit(t, c.unit), faultmap.Fault{Kind: faultmap.GearNoise, Part: c.part}, c.r, faultmap.Noise); got != c.want {
			t.Errorf("%s %s in %s: %s, want %s", c.unit, c.part, c.r, got, c.want)
		}
	}
}

// The throttle at which an element gives way is where its hold and its load meet, and nothing gives way below it.
func TestFirstToSlipIsWhereHoldMeetsLoad(t *testing.T) {
	found := 0
	for _, id := range []string{"norrad-h4", "ombrin-s6", "vantrice-t10", "norrad-d2"} {
		u := unit(t, id)
		for _, r := range u.Ranges {
			s, ok := faultmap.FirstToSlip(u, r, faultmap.Weakness{Pressure: 0.5})
			if !ok {
				continue
			}
			found++
			if math.Abs(s.Load-s.Hold) > 1e-3*s.Load {
				t.Errorf("%s %s: %v to hold, %v held", id, r.ID, s.Load, s.Hold)
			}
			for _, e := range u.Elements {
				for i := range 100 {
					throttle := s.Throttle * float64(i) / 100
					line, _ := r.Line(throttle)
					hold, known := e.Hold(0.5 * line)
					if load := u.Load(r, e.ID) * u.EngineTorque(r, throttle); known && e.Kind.Friction() && slices.Contains(r.Applied, e.ID) && load > hold+1e-6 {
						t.Fatalf("%s %s: %s slips at %.3f already, not at %.3f", id, r.ID, e.ID, throttle, s.Throttle)
					}
				}
			}
			if _, full := faultmap.FirstToSlip(u, r, faultmap.Weakness{}); full {
				t.Errorf("%s %s slips in health", id, r.ID)
			}
		}
	}
	if found < 10 {
		t.Fatalf("only %d ranges slip at half pressure", found)
	}
}

// A leak shows less cold, and takes the hot line pressure down by the square of the spare flow's share.
func TestLeaksSagHotMoreThanCold(t *testing.T) {
	u := unit(t, "norrad-h4")
	r, err := faultmap.Predict(u, faultmap.Fault{Kind: faultmap.Leaks, Part: "third"})
	if err != nil {
		t.Fatal(err)
	}
	if r.Cold >= 1 || len(r.Sags) != 2 { // third and fourth are fed
		t.Fatalf("%+v", r)
	}
	for _, s := range r.Sags {
		if math.Abs(s.Left-s.Line/(faultmap.TypicalLeak*faultmap.TypicalLeak)) > 1 || s.Cold != s.Line {
			t.Errorf("%+v", s)
		}
	}
}
