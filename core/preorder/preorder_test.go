package preorder_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"innercompass/core/preorder"
)

// The newsvendor's closed form for a demand of none or one: expected cost (1−p)·Co when ordered and p·Cu when not, equal at Co/(Cu+Co).
func TestOnePartByItselfFollowsTheCriticalShare(t *testing.T) {
	for _, x := range []struct{ delay, back float64 }{{400, 100}, {100, 400}, {50, 50}, {300, 0}, {0, 20}} {
		share := preorder.Critical(x.delay, x.back)
		for _, p := range []float64{0.01, 0.1, 0.2, 0.4, 0.5, 0.79, 0.81, 0.99, 1} {
			item := preorder.Item{ID: "part", Need: []float64{p}, Delay: x.delay, Return: x.back}
			got := preorder.Plan([]preorder.Item{item}, []float64{1})[0]
			ordered, not := (1-p)*x.back, p*x.delay
			if math.Abs(preorder.Cost([]preorder.Item{item}, []float64{1}, []bool{true})-ordered) > 1e-12 || math.Abs(preorder.Cost([]preorder.Item{item}, []float64{1}, []bool{false})-not) > 1e-12 {
				t.Fatalf("cost of %v", item)
			}
			if math.Abs(ordered-not) > 1e-9 && got.Order != (ordered < not) {
				t.Errorf("need %g, delay %g, return %g: order %v, costs %g and %g", p, x.delay, x.back, got.Order, ordered, not)
			}
			if p > share+1e-9 != (ordered < not-1e-9) {
				t.Errorf("critical share %g at need %g does not agree with costs %g and %g", share, p, ordered, not)
			}
		}
	}
}

// The textbook's newsvendor: bought at 110, sold at 190, returned at 90, so short costs 80 and over costs 20: served up to 0.8 of demand
// (G. Cachon, C. Terwiesch, Matching Supply with Demand, the wet suits; recalled from memory). A single one is bought from a need of 0.2 on.
func TestPublishedCriticalRatio(t *testing.T) {
	if got := 1 - preorder.Critical(190-110, 110-90); math.Abs(got-0.8) > 1e-12 {
		t.Errorf("critical ratio %g, published 0.8", got)
	}
}

// The expected delay by summing over all sets of needs.
func TestCostAgainstAllSetsOfNeeds(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	for range 50 {
		items, shares := some(r, 6, 3)
		order := make([]bool, len(items))
		for i := range order {
			order[i] = r.IntN(2) == 0 && !items[i].Held
		}
		want := 0.0
		for h, share := range shares {
			for set := range 1 << len(items) {
				p, delay, back := share, 0.0, 0.0
				for i, x := range items {
					needed := set>>i&1 == 1
					if needed {
						p *= x.Need[h]
					} else {
						p *= 1 - x.Need[h]
					}
					switch {
					case needed && !order[i] && !x.Held:
						delay = max(delay, x.Delay)
					case !needed && order[i]:
						back += x.Return
					}
				}
				want += p * (delay + back)
			}
		}
		if got := preorder.Cost(items, shares, order); math.Abs(got-want) > 1e-9*max(1, want) {
			t.Fatalf("%g, by all sets %g", got, want)
		}
	}
}

// Against every set of orders: the chosen one costs the least in nearly all, and never more than two per cent above it.
func TestPlanAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	missed := 0
	for range 200 {
		items, shares := some(r, 9, 4)
		order := make([]bool, len(items))
		for i, c := range preorder.Plan(items, shares) {
			order[i] = c.Order
			if c.Saves < -1e-9 && !items[i].Held {
				t.Fatalf("doing otherwise with %d would be cheaper by %g", i, -c.Saves)
			}
			if items[i].Held && !c.Order {
				t.Fatal("what is held counts as ordered")
			}
		}
		got, best := preorder.Cost(items, shares, order), math.Inf(1)
		for set := range 1 << len(items) {
			try := make([]bool, len(items))
			for i := range try {
				try[i] = set>>i&1 == 1 || items[i].Held
			}
			best = min(best, preorder.Cost(items, shares, try))
		}
		if got > best+1e-9 {
			missed++
			if got > 1.02*best {
				t.Errorf("orders cost %g, the best %g", got, best)
			}
		}
	}
	if missed > 6 {
		t.Errorf("%d of 200 are not the best", missed)
	}
}

// Two parts that wait as long as each other: ordering one alone saves nothing while the other is needed as surely.
func TestPartsNeededTogetherAreOrderedTogetherOrNot(t *testing.T) {
	two := []preorder.Item{{ID: "plates", Need: []float64{1, 0}, Delay: 300, Return: 60}, {ID: "seals", Need: []float64{1, 0}, Delay: 300, Return: 60}}
	for share, want := range map[float64]bool{0.35: true, 0.2: false} { // both: (1−p)·120 against p·300, equal at 0.286; by itself 0.167
		for i, c := range preorder.Plan(two, []float64{share, 1 - share}) {
			if c.Order != want {
				t.Errorf("share %g, part %d: order %v, want %v", share, i, c.Order, want)
			}
		}
	}
}

func some(r *rand.Rand, parts, hypotheses int) (items []preorder.Item, shares []float64) {
	sum := 0.0
	for range hypotheses {
		shares = append(shares, r.Float64())
		sum += shares[len(shares)-1]
	}
	for h := range shares {
		shares[h] /= sum
	}
	for i := range parts {
		x := preorder.Item{ID: fmt.Sprint(i), Delay: float64(r.IntN(4)) * 150, Return: 10 + 90*r.Float64(), Held: r.IntN(6) == 0}
		for range hypotheses {
			x.Need = append(x.Need, []float64{0, 0.05, 0.3, 0.7, 1}[r.IntN(5)])
		}
		items = append(items, x)
	}
	return items, shares
}

// BenchmarkPlan: 60 items under 40 hypotheses.
func BenchmarkPlan(b *testing.B) {
	items, shares := some(rand.New(rand.NewPCG(9, 10)), 60, 40)
	for b.Loop() {
		preorder.Plan(items, shares)
	}
}
