// Package pert plans work whose times are not known for sure: tasks that wait for each other, each with a shortest, a likeliest and a longest
// time.
//
// Model: the beta distribution of the method, mean (a + 4m + b)/6 and standard deviation (b − a)/6; drawn as the beta with that mean on
// [a, b] and α + β = 6. The longest path by mean times is critical; the whole is drawn at random for the end, since a path that is second
// in the mean is often the longest.
//
// Reference: D. G. Malcolm, J. H. Roseboom, C. E. Clark, W. Fazar, Application of a technique for research and development program
// evaluation, Operations Research 7, 1959.
package pert

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// Three are the shortest, likeliest and longest time of a task.
type Three struct{ Low, Likely, High float64 }

// Sure is a time that is known.
func Sure(t float64) Three { return Three{t, t, t} }

// Spread is a time whose standard deviation is a share of its likeliest: twice as much room above it as below.
func Spread(likely, share float64) Three {
	share = min(share, 0.45)
	return Three{likely * (1 - 2*share), likely, likely * (1 + 4*share)}
}

// Mean of a time.
func (t Three) Mean() float64 { return (t.Low + 4*t.Likely + t.High) / 6 }

// Deviation is the standard deviation of a time.
func (t Three) Deviation() float64 { return (t.High - t.Low) / 6 }

// Draw is the time in one case of many.
func (t Three) Draw(r *rand.Rand) float64 {
	width := t.High - t.Low
	if width <= 0 {
		return t.Likely
	}
	b := distuv.Beta{Alpha: 1 + 4*(t.Likely-t.Low)/width, Beta: 1 + 4*(t.High-t.Likely)/width, Src: r}
	return t.Low + width*b.Rand()
}

// Task is a piece of work that begins when those at the places After are done.
type Task struct {
	ID    string
	Time  Three
	After []int
}

// Error says what is wrong with a task.
type Error struct{ Task, Reason string }

func (e *Error) Error() string { return fmt.Sprintf("task %s: %s", e.Task, e.Reason) }

// Check says what is wrong: a task waits for a later one, or its times are not in order. Tasks are listed so that each comes after those
// that it waits for.
func Check(tasks []Task) error {
	for i, t := range tasks {
		if x := t.Time; !(x.Low >= 0 && x.Low <= x.Likely && x.Likely <= x.High) || math.IsInf(x.High, 0) {
			return &Error{t.ID, fmt.Sprintf("times %g, %g, %g are not in order", x.Low, x.Likely, x.High)}
		}
		for _, a := range t.After {
			if a < 0 || a >= i {
				return &Error{t.ID, "it waits for a task that is not before it in the list"}
			}
		}
	}
	return nil
}

// Placed is a task in the plan by mean times.
type Placed struct {
	Start, End float64 // earliest
	Slack      float64 // by how much it may be late without anything being late
}

// Plan is the plan by mean times.
type Plan struct {
	Tasks     []Placed
	End       float64
	Deviation float64 // of the critical path
	Critical  []int   // one longest path
}

// Lay plans by mean times, forwards and backwards.
func Lay(tasks []Task) (Plan, error) {
	if err := Check(tasks); err != nil {
		return Plan{}, err
	}
	out := Plan{Tasks: make([]Placed, len(tasks))}
	before := make([]int, len(tasks)) // the one that holds a task up, −1 for none
	last := -1
	for i, t := range tasks {
		before[i] = -1
		for _, a := range t.After {
			if end := out.Tasks[a].End; before[i] < 0 || end > out.Tasks[i].Start {
				out.Tasks[i].Start, before[i] = end, a
			}
		}
		out.Tasks[i].End = out.Tasks[i].Start + t.Time.Mean()
		if last < 0 || out.Tasks[i].End > out.End {
			out.End, last = out.Tasks[i].End, i
		}
	}
	latest := make([]float64, len(tasks))
	for i := range latest {
		latest[i] = out.End
	}
	for i := len(tasks) - 1; i >= 0; i-- {
		out.Tasks[i].Slack = latest[i] - out.Tasks[i].End
		for _, a := range tasks[i].After {
			latest[a] = min(latest[a], latest[i]-tasks[i].Time.Mean())
		}
	}
	variance := 0.0
	for i := last; i >= 0; i = before[i] {
		out.Critical = append(out.Critical, i)
		variance += math.Pow(tasks[i].Time.Deviation(), 2)
	}
	slices.Reverse(out.Critical)
	out.Deviation = math.Sqrt(variance)
	return out, nil
}

// Took says when a task ends that begins at a time, in a draw; tasks of one draw are asked in their order, from 0. It draws from r alone.
type Took func(r *rand.Rand, draw, task int, at float64) float64

// Plain is a Took by which each task takes what its time is drawn as.
func Plain(tasks []Task) Took {
	return func(r *rand.Rand, _, i int, at float64) float64 { return at + tasks[i].Time.Draw(r) }
}

// Simulate draws the plan so many times and returns when it ends, in order; the same seed gives the same ends.
func Simulate(tasks []Task, times int, seed uint64, took Took) ([]float64, error) {
	if err := Check(tasks); err != nil {
		return nil, err
	}
	r := rand.New(rand.NewPCG(seed, 0x5eed))
	ends := make([]float64, len(tasks))
	out := make([]float64, times)
	for k := range out {
		for i, t := range tasks {
			start := 0.0
			for _, a := range t.After {
				start = max(start, ends[a])
			}
			ends[i] = took(r, k, i, start)
			out[k] = max(out[k], ends[i])
		}
	}
	slices.Sort(out)
	return out, nil
}

// Quantile is the least of the values in order that so great a share does not exceed.
func Quantile(ordered []float64, share float64) float64 {
	if len(ordered) == 0 {
		return math.NaN()
	}
	return ordered[min(len(ordered)-1, max(0, int(math.Ceil(share*float64(len(ordered))))-1))]
}
