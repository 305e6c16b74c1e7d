package diagnose_test

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// loaded compiles the shipped knowledge once for all tests.
var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

func load(t testing.TB) *catalog.Catalog {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c
}

var shop = plan.Economics{LabourRate: 84, Trial: 60}

func flare() []diagnose.Reading {
	return []diagnose.Reading{
		{ID: "1", Finding: "road.hot.D3.shift", State: "flare", Source: "customer"},
		{ID: "2", Finding: "worse-when", State: "hot", Source: "customer"},
		{ID: "3", Finding: "fluid-level", State: "ok", Source: "measured"},
		{ID: "4", Finding: "road.hot.D3.shift", State: "flare", Source: "seen"},
		{ID: "5", Finding: "road.hot.D2.shift", State: "normal", Source: "seen"},
		{ID: "6", Finding: "road.hot.R.drives", State: "normal", Source: "seen"},
		{ID: "7", Finding: "pressure-pattern", State: "low-DC", Source: "measured"},
	}
}

func rank(t testing.TB, n *knowledge.Network, r []diagnose.Reading) *diagnose.Assessment {
	t.Helper()
	out, err := diagnose.Assess(n, diagnose.Situation{Readings: r})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func next(t testing.TB, n *knowledge.Network, r []diagnose.Reading, stand plan.VehicleState) plan.Recommendation {
	t.Helper()
	return plan.Next(rank(t, n, r), stand, shop)
}

func TestPosteriorIsADistributionAndOrderOfReadingsDoesNotMatter(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	readings := flare()
	first := rank(t, n, readings)
	sum := 0.0
	for _, h := range first.Hypotheses {
		sum += h.Share
	}
	if math.Abs(sum-1) > 1e-12 {
		t.Errorf("sum %v", sum)
	}
	shuffled := slices.Clone(readings)
	rand.New(rand.NewPCG(1, 2)).Shuffle(len(shuffled), func(i, j int) { shuffled[i], shuffled[j] = shuffled[j], shuffled[i] })
	second := rank(t, n, shuffled)
	for i := range first.Suspects {
		if first.Suspects[i].Cause.ID != second.Suspects[i].Cause.ID || math.Abs(first.Suspects[i].Probability-second.Suspects[i].Probability) > 1e-12 {
			t.Fatalf("place %d differs: %v %v", i, first.Suspects[i], second.Suspects[i])
		}
	}
}

// The trade's reasoning, common practice, no source: low pressure only where one clutch is fed, flare
// into its gear when hot, everything else right: the oil is lost in that clutch's circuit.
func TestFlareIntoThirdWithLowPressureThereIsThatCircuit(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	r := rank(t, n, flare())
	circuit := 0.0
	for _, s := range r.Suspects {
		if slices.Contains([]string{"piston-seal.DC", "seal-rings.DC", "accumulator-third", "shift-valve-third", "feed-lost.DC"}, s.Cause.ID) {
			circuit += s.Probability
		}
	}
	if circuit < 0.9 || r.Suspects[0].Cause.ID != "piston-seal.DC" {
		t.Errorf("circuit %.3f, leader %s %.3f", circuit, r.Suspects[0].Cause.ID, r.Suspects[0].Probability)
	}
}

// With no readings the posterior is the prior, and every weight and what-if is empty.
func TestNoReadingsGiveThePrior(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	r := rank(t, n, nil)
	w, err := r.Weigh(5)
	if err != nil || w.HangsOn != "" || len(w.WhatIf) != 0 || r.Suspects[0].Cause.Met.Level != "daily" || r.Suspects[0].Probability < r.Suspects[1].Probability {
		t.Errorf("%v %+v", err, r.Suspects[0])
	}
}

// A what-if is the ranking without the reading, to a percentage point: it is weighed on the best sets of causes, a new
// ranking here is exact.
func TestWhatIfIsTheRankingWithoutTheReading(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	readings := flare()
	all := rank(t, n, readings)
	weights, err := all.Weigh(1)
	if err != nil {
		t.Fatal(err)
	}
	for i, w := range weights.WhatIf {
		rest := slices.Delete(slices.Clone(readings), i, i+1)
		again := rank(t, n, rest)
		if again.Suspects[0].Cause.ID != w.Leader || math.Abs(again.Suspects[0].Probability-w.LeaderShare) > 0.01 {
			t.Errorf("without %s: %s %.4f, what-if said %s %.4f", w.Reading, again.Suspects[0].Cause.ID, again.Suspects[0].Probability, w.Leader, w.LeaderShare)
		}
	}
}

func TestSurpriseNamesWhatTheLeaderDoesNotExplain(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	r := rank(t, n, append(flare(), diagnose.Reading{ID: "odd", Finding: "says-vibration", State: "road-speed", Source: "customer"}))
	if !slices.Contains(r.Surprise.Unexplained, "odd") || slices.Contains(r.Surprise.Unexplained, "7") {
		t.Errorf("unexplained %v", r.Surprise.Unexplained)
	}
}

func TestBadReadingsAreNamed(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	for field, r := range map[string]diagnose.Reading{
		"finding":    {ID: "x", Finding: "nonsense", State: "ok", Source: "seen"},
		"state":      {ID: "x", Finding: "fluid-level", State: "purple", Source: "seen"},
		"source":     {ID: "x", Finding: "fluid-level", State: "low", Source: "rumour"},
		"likelihood": {ID: "x", Finding: "fluid-level", State: "low", Likelihood: []float64{1, math.NaN(), 0}},
	} {
		_, err := diagnose.Assess(n, diagnose.Situation{Readings: []diagnose.Reading{r}})
		var re *diagnose.ReadingError
		if !errors.As(err, &re) || re.Field != field || re.Accepted == "" {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// Free and safe comes first out of the numbers alone: with nothing known, the best check is done on
// the ground in minutes; once the unit is apart, its checks are cheap and driving is impossible.
func TestNextCheckFollowsAccess(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	h := next(t, n, flare()[:2], plan.VehicleState{})
	if len(h.Best) == 0 {
		t.Fatal(h.Stop)
	}
	if h.Best[0].Check.Access != "ground" && h.Best[0].Check.Access != "lifted" {
		t.Errorf("first check from the ground: %s at %s", h.Best[0].Check.ID, h.Best[0].Check.Access)
	}
	h = next(t, n, flare(), plan.VehicleState{Access: unitsheet.UnitApart})
	for _, a := range h.Best {
		if a.AccessMinutes != 0 || a.Check.Until == "lifted" {
			t.Errorf("%s offered with the unit apart", a.Check.ID)
		}
	}
}

func TestASkippedCheckIsNotOffered(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	h := next(t, n, flare()[:5], plan.VehicleState{})
	first := h.Best[0].Check.ID
	for _, a := range next(t, n, flare()[:5], plan.VehicleState{Skipped: []string{first}}).Best {
		if a.Check.ID == first {
			t.Errorf("%s offered again", first)
		}
	}
}

// A perfect check can save no more than knowing everything would, and no check's value exceeds the
// expected repair that is left.
func TestValueOfACheckIsBounded(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	h := next(t, n, flare()[:5], plan.VehicleState{})
	for _, a := range h.Best {
		total := 0.0
		for _, r := range a.Results {
			total += r.Probability
		}
		if a.Saves > h.RepairBy || total > 1+1e-9 {
			t.Errorf("%s saves %v of %v, results sum to %v", a.Check.ID, a.Saves, h.RepairBy, total)
		}
	}
}

func TestEveryUnitCompilesWithEnoughToSay(t *testing.T) {
	c := load(t)
	if len(c.Knowledge.Causes) < 25 || len(c.Knowledge.Findings) < 45 || len(c.Knowledge.Checks) < 25 {
		t.Errorf("%d causes, %d findings, %d checks", len(c.Knowledge.Causes), len(c.Knowledge.Findings), len(c.Knowledge.Checks))
	}
	for id, n := range c.Networks {
		if _, err := diagnose.Assess(n, diagnose.Situation{}); err != nil || len(n.Causes) < 25 {
			t.Errorf("%s: %d causes, %v", id, len(n.Causes), err)
		}
	}
	for _, check := range c.Knowledge.Checks {
		if len(check.Steps) == 0 || check.Minutes <= 0 || check.Tells == "" {
			t.Errorf("check %s lacks steps, minutes or what it tells", check.ID)
		}
	}
}

func BenchmarkAssessAndNext(b *testing.B) {
	n := load(b).Networks["norrad-h4"]
	readings := flare()
	b.ReportAllocs()
	for b.Loop() {
		a := rank(b, n, readings)
		if _, err := a.Weigh(9); err != nil {
			b.Fatal(err)
		}
		plan.Next(a, plan.VehicleState{Access: unitsheet.Lifted}, shop)
	}
}
