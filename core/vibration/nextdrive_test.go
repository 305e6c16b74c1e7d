package vibration_test

import (
	"slices"
	"testing"

	"innercompass/core/vibration"
)

// The van in sixth at 80 km/h, a line at 78.6 Hz: joint or planets. Another gear tells the most in a minute, then rolling in neutral; the lift
// tells least, and each range offered is one that the engine can turn in.
func TestTheDrivesThatTellJointFromPlanets(t *testing.T) {
	s6 := unit(t, "ombrin-s6")
	state := vibration.State{Range: "D6", Road: 80 * kmh}
	l := list(t, s6, van, state)
	var could []vibration.Asked
	for _, c := range vibration.Classes(l) {
		for id, p := range map[string]float64{"joint": .47, "firing": .03} {
			if slices.Contains(c.IDs, id) {
				could = append(could, vibration.Asked{Class: c, Multiple: 1, Probability: p})
			}
		}
		if c.Family == vibration.Planets && c.Orders[0] > 2.02 && c.Orders[0] < 2.03 {
			could = append(could, vibration.Asked{Class: c, Multiple: 1, Probability: .42})
		}
	}
	if len(could) != 3 {
		t.Fatalf("%d sources", len(could))
	}
	tests := vibration.Next(s6, van, state, could, .08, .01)
	place := map[vibration.Way]int{}
	for i, x := range tests {
		if _, known := place[x.Way]; !known {
			place[x.Way] = i
		}
		if x.Way == vibration.OtherRange && (x.Engine*60 < 1100 || x.Engine*60 > 5000) {
			t.Errorf("%s at %v rpm", x.Range, x.Engine*60)
		}
		t.Logf("%s %s: %.2f bits in %.0f min, right %.2f, at %.1f", x.Way, x.Range, x.Bits, x.Minutes, x.Right, x.At)
	}
	if tests[0].Way != vibration.OtherRange && tests[0].Way != vibration.Coast {
		t.Errorf("first comes %s", tests[0].Way)
	}
	if place[vibration.Lift] < len(tests)-2 || place[vibration.Coast] > 4 || tests[place[vibration.OtherRange]].Bits < 0.9 {
		t.Errorf("order %v", place)
	}
	if vibration.Next(s6, van, vibration.State{Range: "D6"}, could, .08, .01) != nil {
		t.Error("drives for a vehicle that stands")
	}
}
