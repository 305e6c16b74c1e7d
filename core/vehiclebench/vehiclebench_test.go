package vehiclebench_test

import (
	"slices"
	"testing"

	"innercompass/core/vehiclebench"
	"innercompass/internal/trial"
)

// A sound unit is told as one, and some failures that show plainly come first: the whole bench is `innercompass bench vehicle`.
func TestPlainFailuresAreFound(t *testing.T) {
	b, err := vehiclebench.New(trial.Load(t).Networks["norrad-d2"].Unit)
	if err != nil {
		t.Fatal(err)
	}
	jobs := b.Jobs(1)
	if !slices.ContainsFunc(jobs, func(j vehiclebench.Job) bool { return j.Row < 0 }) {
		t.Error("no sound vehicle is driven")
	}
	first, three, faulty := 0, 0, 0
	for _, j := range jobs {
		if j.Temperature != "hot" {
			continue
		}
		r, err := b.Run(j)
		if err != nil {
			t.Fatal(err)
		}
		switch {
		case j.Row < 0 && r.Place != 1:
			t.Errorf("a sound vehicle is told as %s", r.Leader)
		case j.Row >= 0:
			faulty++
			if r.Place == 1 {
				first++
			}
			if r.Place >= 1 && r.Place <= 3 {
				three++
			}
		}
	}
	t.Logf("of %d failures %d first, %d among three", faulty, first, three)
	// What is wanted over all units is reached on this one. Fewer is a step back.
	if 100*first < 85*faulty || 100*three < 95*faulty {
		t.Errorf("of %d failures %d first, %d among three", faulty, first, three)
	}
}
