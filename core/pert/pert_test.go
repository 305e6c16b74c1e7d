package pert_test

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"innercompass/core/pert"
)

// works is the paper works of Heizer and Render, Operations Management, chapter on project management: eight activities in weeks. Published
// results: critical path A C E G H, 15 weeks, variance 3.11, done within 16 weeks with probability 0.7157. Recalled from memory.
func works() []pert.Task {
	return []pert.Task{
		{"A", pert.Three{1, 2, 3}, nil}, {"B", pert.Three{2, 3, 4}, nil}, {"C", pert.Three{1, 2, 3}, []int{0}}, {"D", pert.Three{2, 4, 6}, []int{0, 1}},
		{"E", pert.Three{1, 4, 7}, []int{2}}, {"F", pert.Three{1, 2, 9}, []int{2}}, {"G", pert.Three{3, 4, 11}, []int{3, 4}}, {"H", pert.Three{1, 2, 3}, []int{5, 6}},
	}
}

func TestPublishedNetwork(t *testing.T) {
	p, err := pert.Lay(works())
	if err != nil {
		t.Fatal(err)
	}
	if !slices.Equal(p.Critical, []int{0, 2, 4, 6, 7}) || math.Abs(p.End-15) > 1e-9 {
		t.Errorf("critical %v, end %g, published A C E G H and 15", p.Critical, p.End)
	}
	if v := p.Deviation * p.Deviation; math.Abs(v-3.11) > 0.005 {
		t.Errorf("variance %.4f, published 3.11", v)
	}
	// Read from a table at z rounded to two places: half a hundredth of z is up to 0.0017 here.
	if got := (distuv.Normal{Mu: p.End, Sigma: p.Deviation}.CDF(16)); math.Abs(got-0.7157) > 0.0017 {
		t.Errorf("within 16 weeks %.4f, published 0.7157", got)
	}
	for i, slack := range map[int]float64{1: 1, 3: 1, 5: 6, 0: 0, 7: 0} { // published: B and D one week, F six
		if math.Abs(p.Tasks[i].Slack-slack) > 1e-9 {
			t.Errorf("slack of %s %g, published %g", works()[i].ID, p.Tasks[i].Slack, slack)
		}
	}
}

// A second one, from the encyclopedia article on the method: seven activities, expected 4, 5.33, 5.17, 6.33, 5.17, 4.5, 5.17 days, critical
// A C E G, 19.51. Recalled from memory.
func TestSecondPublishedNetwork(t *testing.T) {
	tasks := []pert.Task{
		{"A", pert.Three{2, 4, 6}, nil}, {"B", pert.Three{3, 5, 9}, nil}, {"C", pert.Three{4, 5, 7}, []int{0}}, {"D", pert.Three{4, 6, 10}, []int{0}},
		{"E", pert.Three{4, 5, 7}, []int{1, 2}}, {"F", pert.Three{3, 4, 8}, []int{3}}, {"G", pert.Three{3, 5, 8}, []int{4}},
	}
	for i, want := range []float64{4, 5.33, 5.17, 6.33, 5.17, 4.5, 5.17} {
		if got := tasks[i].Time.Mean(); math.Abs(got-want) > 0.005 {
			t.Errorf("%s is expected to take %.3f, published %g", tasks[i].ID, got, want)
		}
	}
	p, err := pert.Lay(tasks)
	if err != nil || !slices.Equal(p.Critical, []int{0, 2, 4, 6}) || math.Abs(p.End-19.51) > 0.015 {
		t.Errorf("critical %v, %g days, %v; published A C E G and 19.51", p.Critical, p.End, err)
	}
}

// The mean and variance of what is drawn are those of the beta distribution with α + β = 6: (a+4m+b)/6, and width²·αβ/(36·7).
func TestDrawsHaveTheMomentsOfTheirBeta(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for _, x := range []pert.Three{{1, 4, 7}, {1, 2, 9}, {3, 4, 11}, {0, 5, 5}, pert.Spread(6, 0.12)} {
		draws := make([]float64, 40000)
		for i := range draws {
			draws[i] = x.Draw(r)
			if draws[i] < x.Low || draws[i] > x.High {
				t.Fatalf("%g outside %v", draws[i], x)
			}
		}
		width := x.High - x.Low
		a, b := 1+4*(x.Likely-x.Low)/width, 1+4*(x.High-x.Likely)/width
		mean, variance := stat.MeanVariance(draws, nil)
		want := width * width * a * b / (36 * 7)
		if math.Abs(mean-x.Mean()) > 5*math.Sqrt(want/40000) || math.Abs(variance-want) > 0.04*want {
			t.Errorf("%v: mean %g, variance %g, want %g and %g", x, mean, variance, x.Mean(), want)
		}
	}
	if x := pert.Spread(10, 0.12); math.Abs(x.Deviation()-1.2) > 1e-12 || x.Likely != 10 {
		t.Errorf("a spread of 12 %% of 10 hours is %v", x)
	}
}

// In a row the mean is the sum of the means. The later of two that are drawn alike has the density 2·F·f (order statistics).
func TestSimulatedEndsFollowClosedForms(t *testing.T) {
	row := []pert.Task{{"a", pert.Three{1, 2, 9}, nil}, {"b", pert.Three{3, 4, 11}, []int{0}}, {"c", pert.Sure(2), []int{1}}}
	ends, err := pert.Simulate(row, 20000, 7, pert.Plain(row))
	if err != nil {
		t.Fatal(err)
	}
	if got := stat.Mean(ends, nil); math.Abs(got-10) > 0.04 {
		t.Errorf("a row of means 3, 5 and 2 ends at %g", got)
	}
	side := []pert.Task{{"a", pert.Three{0, 0.5, 1}, nil}, {"b", pert.Three{0, 0.5, 1}, nil}}
	if ends, err = pert.Simulate(side, 40000, 8, pert.Plain(side)); err != nil {
		t.Fatal(err)
	}
	want := 0.0
	for i := range 100000 { // ∫ x·2·F(x)·f(x) dx with f = 30x²(1−x)², F = 10x³ − 15x⁴ + 6x⁵
		x := (float64(i) + 0.5) / 100000
		f := 30 * x * x * (1 - x) * (1 - x)
		want += x * 2 * (10*math.Pow(x, 3) - 15*math.Pow(x, 4) + 6*math.Pow(x, 5)) * f / 100000
	}
	if got := stat.Mean(ends, nil); math.Abs(got-want) > 0.004 {
		t.Errorf("the later of two ends at %g in the mean, by integration %g", got, want)
	}
	again, _ := pert.Simulate(side, 40000, 8, pert.Plain(side))
	if !slices.Equal(ends, again) {
		t.Error("the same seed gave other ends")
	}
	// What the critical path alone promises is too early where another path is nearly as long.
	p, _ := pert.Lay(works())
	ends, _ = pert.Simulate(works(), 20000, 9, pert.Plain(works()))
	if got := stat.Mean(ends, nil); got <= p.End {
		t.Errorf("the whole network ends at %g in the mean, not later than its critical path's %g", got, p.End)
	}
}

func TestQuantiles(t *testing.T) {
	if v := []float64{1, 2, 3, 4}; pert.Quantile(v, 0.5) != 2 || pert.Quantile(v, 0.9) != 4 || pert.Quantile(v, 0) != 1 || !math.IsNaN(pert.Quantile(nil, 0.5)) {
		t.Error("of four values half do not exceed the second, and nine in ten the fourth")
	}
}

func TestTasksOutOfOrderAreRefused(t *testing.T) {
	for _, bad := range [][]pert.Task{{{"a", pert.Sure(1), []int{0}}}, {{"a", pert.Three{2, 1, 3}, nil}}, {{"a", pert.Three{1, 2, math.Inf(1)}, nil}}, {{"a", pert.Three{-1, 2, 3}, nil}}} {
		var e *pert.Error
		if _, err := pert.Lay(bad); !errors.As(err, &e) {
			t.Errorf("%v was planned", bad)
		}
		if _, err := pert.Simulate(bad, 1, 1, pert.Plain(bad)); !errors.As(err, &e) {
			t.Errorf("%v was drawn", bad)
		}
	}
}
