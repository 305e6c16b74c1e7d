package heard_test

import (
	"testing"

	"innercompass/core/heard"
	"innercompass/internal/trial"
)

// Gears are counted from the greatest ratio down; a range that gives a gear a second time is chosen by hand.
func TestRangesGetTheirGears(t *testing.T) {
	for unit, want := range map[string]map[string]int{
		"norrad-h4":    {"R": 0, "D1": 1, "D4": 4, "M2": 2, "P": 0},
		"ombrin-m5":    {"G1": 1, "G5": 5, "R": 0, "N": 0},
		"vantrice-t10": {"D1": 1, "D10": 10},
		"norrad-d2":    {"R": 0},
	} {
		for _, r := range heard.Unit(trial.Load(t).Networks[unit]).Ranges {
			if gear, asked := want[r.ID]; asked && r.Gear != gear {
				t.Errorf("%s: %s is gear %d, want %d", unit, r.ID, r.Gear, gear)
			}
			if unit == "norrad-h4" && r.Hand != (r.ID == "M1" || r.ID == "M2") && r.Gear > 0 {
				t.Errorf("%s by hand: %v", r.ID, r.Hand)
			}
			if unit == "ombrin-m5" && r.ID == "G2" && r.Element != "G2" {
				t.Errorf("%s is selected by %q", r.ID, r.Element)
			}
		}
	}
}

func TestAUnitKnowsItsReadings(t *testing.T) {
	u := heard.Unit(trial.Load(t).Networks["norrad-h4"])
	if !u.Knows("says-slips", "yes") || u.Knows("says-slips", "maybe") || u.Knows("says-pedal", "heavy") || !u.Has("converter") || u.Has("pedal") {
		t.Error("the four-speed knows what it should not, or not what it should")
	}
}
