package diagnose_test

import (
	"math"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/internal/trial"
)

// Once anything abnormal was read, something that is not in the list keeps its share, the more the less the leader explains; nothing
// read leaves no room, and room changes no order.
func TestRoomIsLeftForWhatIsNotInTheList(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	if a := trial.Rank(t, n, nil); a.Other != 0 {
		t.Errorf("nothing was read, and %v is left", a.Other)
	}
	before := -1.0
	for _, more := range [][]diagnose.Reading{nil, {{ID: "coolant", Finding: "coolant-level", State: "oily", Source: "seen"}}, {{ID: "coolant", Finding: "coolant-level", State: "oily", Source: "seen"}, {ID: "park", Finding: "says-no-park", State: "yes", Source: "seen"}}} {
		a := trial.Rank(t, n, append(trial.Flare(), more...))
		if a.Other <= before || a.Other > 0.25 || a.Suspects[0].Probability > 1-a.Other+1e-12 {
			t.Errorf("%d more: %v is left, %v before; the leader has %v, unexplained %v", len(more), a.Other, before, a.Suspects[0].Probability, a.Surprise.Unexplained)
		}
		before = a.Other
		explained := true // what explains something stands before what explains nothing, each by its probability
		last := math.Inf(1)
		for i, s := range a.Suspects {
			if back := a.Background(a.Order[i]); back && explained {
				explained, last = false, math.Inf(1)
			}
			if s.Probability > last {
				t.Fatalf("%s stands behind something less probable", s.Cause.ID)
			}
			last = s.Probability
		}
	}
}
