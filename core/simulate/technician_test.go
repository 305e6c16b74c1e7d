package simulate_test

import (
	"math"
	"reflect"
	"testing"

	"innercompass/core/simulate"
	"innercompass/internal/trial"
)

func TestTheSameSeedGivesTheSameJobs(t *testing.T) {
	n := trial.Load(t).Networks["norrad-d2"]
	for i := range 4 {
		a, errA := simulate.Work(n, simulate.NewJob(n, 7, i), simulate.Policies[0], trial.Shop)
		b, errB := simulate.Work(n, simulate.NewJob(n, 7, i), simulate.Policies[0], trial.Shop)
		if errA != nil || errB != nil || !reflect.DeepEqual(a, b) {
			t.Errorf("vehicle %d: %v %v\n%+v\n%+v", i, errA, errB, a, b)
		}
	}
	if reflect.DeepEqual(simulate.NewJob(n, 7, 0).World.Abnormal(), simulate.NewJob(n, 8, 0).World.Abnormal()) {
		t.Error("another seed gives the same vehicle")
	}
}

// Money is never less than what the checks and the true repair take, whatever the policy; every job ends with the
// vehicle in order.
func TestNobodyWorksForLessThanTheTruthCosts(t *testing.T) {
	n := trial.Load(t).Networks["norrad-d2"]
	for _, p := range simulate.Policies {
		for i := range 3 {
			r, err := simulate.Work(n, simulate.NewJob(n, 3, i), p, trial.Shop)
			if err != nil {
				t.Fatal(err)
			}
			if r.Cost < r.Looking || r.Repairs < 1 || r.Looking < 0 || r.Known <= 0 || r.Rank < 1 {
				t.Errorf("%s, vehicle %d: %+v", p.Name, i, r)
			}
			if !r.Exchange && r.Repairs == 1 && r.Cost-r.Looking > r.Known+3000 {
				t.Errorf("%s, vehicle %d: one repair cost %v, known %v", p.Name, i, r.Cost, r.Known)
			}
		}
	}
}

// The summary of four results, added up by hand.
func TestSummary(t *testing.T) {
	s := simulate.Summarise([]simulate.Result{
		{Rank: 1, Right: true, Sure: 0.9, Cost: 100, Shown: []simulate.Shown{{P: 0.9, True: true}}},
		{Rank: 1, Right: true, Sure: 0.7, Cost: 200, Shown: []simulate.Shown{{P: 0.7, True: true}, {P: 0.1, True: false}}},
		{Rank: 3, Sure: 0.6, Cost: 300, Shown: []simulate.Shown{{P: 0.6, True: false}}},
		{Rank: 9, Sure: 0.4, Cost: 400, Shown: []simulate.Shown{{P: 0.4, True: false}}},
	})
	near := func(got, want float64) bool { return math.Abs(got-want) < 1e-12 }
	if !near(s.First.Value, 0.5) || !near(s.Three.Value, 0.75) || !near(s.Wrong.Value, 0.25) || !near(s.Cost.Value, 250) {
		t.Errorf("%+v", s)
	}
	// Standard error of 100, 200, 300, 400: √(50000/3)/2 = 64.5497…
	if !near(s.Cost.Error, math.Sqrt(50000.0/3)/2) {
		t.Errorf("standard error %v", s.Cost.Error)
	}
	// Brier: (0.01 + 0.09 + 0.36 + 0.16)/4; calibration: (0.1 + 0.3 + 0.1 + 0.6 + 0.4)/5.
	if !near(s.Brier.Value, 0.62/4) || !near(s.CalibrationError, 1.5/5) {
		t.Errorf("Brier %v, calibration %v", s.Brier.Value, s.CalibrationError)
	}
}
