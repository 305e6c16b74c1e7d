package knowledge_test

import (
	"slices"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/internal/trial"
)

// An element has a finding of its tap where its feed has one behind the last valve: the four-speed's intermediate and direct clutch, not the forward clutch, whose only tap is the line's.
// One check reads them; a unit without taps has no such check.
func TestTapsAreThoseOfTheSheet(t *testing.T) {
	networks := trial.Load(t).Networks
	n := networks["norrad-h4"]
	for id, want := range map[string]bool{"IC": true, "DC": true, "FC": false, "OB": false} {
		if _, ok := n.Finding(knowledge.TapID(id)); ok != want {
			t.Errorf("%s has a tap: %v", id, ok)
		}
	}
	at, ok := n.CheckAt[knowledge.TapsCheck]
	if !ok || !slices.Equal(n.Checks[at].Yields, []string{"tap.DC", "tap.IC"}) && !slices.Equal(n.Checks[at].Yields, []string{"tap.IC", "tap.DC"}) || len(n.Checks[at].Cautions) < 3 {
		t.Errorf("%+v", n.Checks[at])
	}
	if _, ok := networks["ombrin-m5"].CheckAt[knowledge.TapsCheck]; ok {
		t.Error("a gearbox that is shifted by hand has its taps read")
	}
}

// A tap that is low leads to what loses that clutch's oil, one that is as wanted away from it.
func TestATapMovesTheSuspects(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	share := func(state string) float64 {
		t.Helper()
		readings := []diagnose.Reading{{ID: "1", Finding: "road.hot.D3.slips", State: "yes", Source: "seen"}}
		if state != "" {
			readings = append(readings, diagnose.Reading{ID: "2", Finding: knowledge.TapID("DC"), State: state, Source: "measured"})
		}
		a, err := diagnose.Assess(n, diagnose.Situation{Readings: readings})
		if err != nil {
			t.Fatal(err)
		}
		sum := 0.0
		for _, s := range a.Suspects {
			if slices.Contains([]string{"seal-rings.DC", "lip-hard.DC", "ring-out.DC", "piston-cracked.DC"}, s.Cause.ID) {
				sum += s.Probability
			}
		}
		return sum
	}
	without, low, wanted := share(""), share("low"), share("normal")
	if !(low > 1.5*without && wanted < without) {
		t.Errorf("what loses the direct clutch's oil: %.3f, with a low tap %.3f, with a tap as wanted %.3f", without, low, wanted)
	}
}
