package diagnose_test

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
	"innercompass/internal/trial"
)

func TestPosteriorIsADistributionAndOrderOfReadingsDoesNotMatter(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	readings := trial.Flare()
	first := trial.Rank(t, n, readings)
	sum := 0.0
	for _, h := range first.Hypotheses {
		sum += h.Share
	}
	if math.Abs(sum-1) > 1e-12 {
		t.Errorf("sum %v", sum)
	}
	shuffled := slices.Clone(readings)
	rand.New(rand.NewPCG(1, 2)).Shuffle(len(shuffled), func(i, j int) { shuffled[i], shuffled[j] = shuffled[j], shuffled[i] })
	second := trial.Rank(t, n, shuffled)
	for i := range first.Suspects {
		if first.Suspects[i].Cause.ID != second.Suspects[i].Cause.ID || math.Abs(first.Suspects[i].Probability-second.Suspects[i].Probability) > 1e-12 {
			t.Fatalf("place %d differs: %v %v", i, first.Suspects[i], second.Suspects[i])
		}
	}
}

// The trade's reasoning, common practice, no source: low pressure only where one clutch is fed, flare
// into its gear when hot, everything else right: the oil is lost in that clutch's circuit.
func TestFlareIntoThirdWithLowPressureThereIsThatCircuit(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	r := trial.Rank(t, n, trial.Flare())
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
	n := trial.Load(t).Networks["norrad-h4"]
	r := trial.Rank(t, n, nil)
	w, err := r.Weigh(5)
	if err != nil || w.HangsOn != "" || len(w.WhatIf) != 0 || r.Suspects[0].Cause.Met.Level != "daily" || r.Suspects[0].Probability < r.Suspects[1].Probability {
		t.Errorf("%v %+v", err, r.Suspects[0])
	}
}

// A what-if is the ranking without the reading, to a percentage point: it is weighed on the best sets of causes, a new
// ranking here is exact.
func TestWhatIfIsTheRankingWithoutTheReading(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	readings := trial.Flare()
	all := trial.Rank(t, n, readings)
	weights, err := all.Weigh(1)
	if err != nil {
		t.Fatal(err)
	}
	for i, w := range weights.WhatIf {
		rest := slices.Delete(slices.Clone(readings), i, i+1)
		again := trial.Rank(t, n, rest)
		if again.Suspects[0].Cause.ID != w.Leader || math.Abs(again.Suspects[0].Probability-w.LeaderShare) > 0.01 {
			t.Errorf("without %s: %s %.4f, what-if said %s %.4f", w.Reading, again.Suspects[0].Cause.ID, again.Suspects[0].Probability, w.Leader, w.LeaderShare)
		}
	}
}

func TestSurpriseNamesWhatTheLeaderDoesNotExplain(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	r := trial.Rank(t, n, append(trial.Flare(), diagnose.Reading{ID: "odd", Finding: "says-vibration", State: "road-speed", Source: "customer"}))
	if !slices.Contains(r.Surprise.Unexplained, "odd") || slices.Contains(r.Surprise.Unexplained, "7") {
		t.Errorf("unexplained %v", r.Surprise.Unexplained)
	}
}

func TestBadReadingsAreNamed(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
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

func BenchmarkAssessAndNext(b *testing.B) {
	n := trial.Load(b).Networks["norrad-h4"]
	readings := trial.Flare()
	b.ReportAllocs()
	for b.Loop() {
		a := trial.Rank(b, n, readings)
		if _, err := a.Weigh(9); err != nil {
			b.Fatal(err)
		}
		plan.Next(a, plan.VehicleState{Access: unitsheet.Lifted}, trial.Shop)
	}
}
