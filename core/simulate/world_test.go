package simulate_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"innercompass/core/simulate"
	"innercompass/internal/trial"
)

// A vehicle of chance shows what the network says: how often each strong link came true, over many vehicles.
func TestSampledVehiclesFollowTheNetwork(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	r := rand.New(rand.NewPCG(2, 3))
	const many = 3000
	met, shown := 0, 0
	for range many {
		w := simulate.Sample(n, r, 150_000)
		if len(w.Causes) == 0 {
			t.Fatal("a vehicle without a cause")
		}
		if slices.Contains(w.CauseIDs(), "underfilled") {
			met++
			if slices.Contains(w.Abnormal(), "fluid-level") {
				shown++
			}
		}
	}
	share := n.Odds[n.NodeAt["underfilled"]] / (1 + n.Odds[n.NodeAt["underfilled"]])
	some := 1.0
	for _, c := range n.Causes {
		some *= 1 / (1 + n.Odds[n.NodeAt[c.ID]])
	}
	want := share / (1 - some)
	// Five standard errors of a share: by chance in one of a million seeds.
	if off := math.Abs(float64(met)/many - want); off > 5*math.Sqrt(want/many) {
		t.Errorf("met in %d of %d, prior %.4f", met, many, want)
	}
	if met < 10 || float64(shown) < 0.8*float64(met) {
		t.Errorf("underfilled %d times, and the level abnormal in %d of them", met, shown)
	}
}
