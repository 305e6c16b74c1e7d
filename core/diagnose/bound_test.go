package diagnose_test

import (
	"context"
	"math"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/internal/trial"
)

// On real networks the bound on what the sets leave out is a share, the exact probabilities are ones, and no cause is
// less probable than the sets alone prove.
func TestTheBoundHoldsOnRealNetworks(t *testing.T) {
	for _, unit := range []string{"norrad-d2", "norrad-h4", "ombrin-m5"} {
		n := trial.Load(t).Networks[unit]
		for i := range 12 {
			s := trial.Situation(n, uint64(i), 4+i)
			first, err := diagnose.Assess(n, s)
			if err != nil {
				t.Fatal(err)
			}
			full, err := diagnose.AssessInFull(context.Background(), n, s)
			if err != nil {
				t.Fatal(err)
			}
			if first.Exact != !math.IsNaN(first.LeftOut) || full.Exact && !(full.LeftOut >= 0 && full.LeftOut <= 1) {
				t.Errorf("%s, situation %d: exact %v, left out %v", unit, i, full.Exact, full.LeftOut)
			}
			if !full.Exact {
				continue
			}
			for _, x := range full.Suspects {
				if !(x.Probability >= 0 && x.Probability <= 1) {
					t.Errorf("%s, situation %d: %s has %v", unit, i, x.Cause.ID, x.Probability)
				}
			}
			// The best hypothesis holds its share of what was weighed, and that is 1 − LeftOut of everything.
			best := full.Hypotheses[0]
			floor := best.Share * (1 - full.LeftOut) * 0.9 // hypotheses are a part of what was weighed
			for _, c := range best.Causes {
				for _, x := range full.Suspects {
					if x.Cause.ID == n.Causes[c].ID && x.Probability < floor*best.Share {
						t.Errorf("%s, situation %d: %s has %v, its best set alone %v", unit, i, x.Cause.ID, x.Probability, floor)
					}
				}
			}
		}
	}
}

// Whoever ends the wait gets the first answer, not none.
func TestAnEndedWaitGivesTheFirstAnswer(t *testing.T) {
	n := trial.Load(t).Networks["vantrice-t10"]
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	for i := range uint64(20) {
		s := trial.Situation(n, i, 25)
		first, err := diagnose.Assess(n, s)
		if err != nil {
			t.Fatal(err)
		}
		if first.Exact {
			continue // it was quick enough to be computed at once
		}
		a, err := diagnose.AssessInFull(ctx, n, s)
		if err != nil || a.Exact || len(a.Suspects) != len(n.Causes) || first.Suspects[0].Probability != a.Suspects[0].Probability {
			t.Errorf("%v, exact %v, %d suspects, leader %v, first answer %v", err, a.Exact, len(a.Suspects), a.Suspects[0].Probability, first.Suspects[0].Probability)
		}
		return
	}
	t.Fatal("everything is quick: read more")
}
