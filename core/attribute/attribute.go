// Package attribute finds which sources, several at once, are behind graded marks: wet zones behind leaks, kinds of debris
// behind worn parts.
//
// Model: each source is at work with a prior probability, independently. A mark has levels, from none up; each source that
// is at work makes some level of it, and what is seen is the highest of them (noisy maximum [1]), with a background for
// what is there anyway. The posterior is exact over all sets of at most a given number of sources; larger sets are left
// out. Invalid where sources hinder each other.
//
// Reference: [1] F. J. Díez, Parameter adjustment in Bayes networks: the generalized noisy OR-gate, UAI 1993, recalled
// from memory. The tests hold the posterior against brute force over all sets.
package attribute

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
)

// None is the probability that no source is at work.
func (r Result) None() float64 {
	for _, s := range r.Sets {
		if len(s.Sources) == 0 {
			return s.Probability
		}
	}
	return 0
}

// Mark is one thing that was looked at.
type Mark struct {
	Level int         // seen
	Base  []float64   // probability of at most each level but the last, with no source at work
	By    [][]float64 // the same for each source alone; nil for one that does not touch it
}

// Set is an explanation: the sources at work, in order, and its probability.
type Set struct {
	Sources     []int
	Probability float64
}

// Result is what the marks say.
type Result struct {
	Share []float64 // probability that each source is at work
	Ratio []float64 // how many times likelier the marks are with it at work than without
	Sets  []Set     // explanations, likeliest first; those under a ten-thousandth are left out
}

// maxSources bounds the enumeration: sets of three out of forty are some ten thousand.
const maxSources = 40

// Explain computes the posterior. Extra, when not nil, is the likelihood of what no mark holds, for a set of sources. It
// fails for probabilities outside 0 to 1, levels that a mark does not have, and more sources than it can hold.
func Explain(priors []float64, marks []Mark, most int, extra func(set []int) float64) (Result, error) {
	if len(priors) == 0 || len(priors) > maxSources {
		return Result{}, fmt.Errorf("attribute: %d sources; want 1 to %d", len(priors), maxSources)
	}
	for i, p := range priors {
		if !(p > 0 && p < 1) {
			return Result{}, fmt.Errorf("attribute: prior %v of source %d; want more than 0 and less than 1", p, i)
		}
	}
	for i, m := range marks {
		if err := m.check(len(priors)); err != nil {
			return Result{}, fmt.Errorf("attribute: mark %d: %w", i, err)
		}
	}
	e := enumeration{priors: priors, marks: marks, extra: extra}
	upper, lower := make([]float64, len(marks)), make([]float64, len(marks))
	for i, m := range marks {
		upper[i], lower[i] = at(m.Base, m.Level), at(m.Base, m.Level-1)
	}
	base := 1.0
	for _, p := range priors {
		base *= 1 - p
	}
	e.visit(nil, 0, most, base, upper, lower)
	return e.result()
}

func (m Mark) check(sources int) error {
	if len(m.By) != sources {
		return fmt.Errorf("%d sources described; want %d", len(m.By), sources)
	}
	if m.Level < 0 || m.Level > len(m.Base) {
		return fmt.Errorf("level %d; want 0 to %d", m.Level, len(m.Base))
	}
	for _, f := range append([][]float64{m.Base}, m.By...) {
		if f != nil && len(f) != len(m.Base) {
			return errors.New("levels of a source differ from those of the mark")
		}
		last := 0.0
		for _, p := range f {
			if !(p >= last && p <= 1) {
				return fmt.Errorf("%v; want probabilities that rise with the level, 0 to 1", f)
			}
			last = p
		}
	}
	return nil
}

// at is the probability of at most a level.
func at(f []float64, level int) float64 {
	switch {
	case level < 0:
		return 0
	case f == nil || level >= len(f):
		return 1
	}
	return f[level]
}

type enumeration struct {
	priors []float64
	marks  []Mark
	extra  func(set []int) float64
	sets   []weighed
}

// weighed is a set with its prior and, in Probability, its prior times its likelihood.
type weighed struct {
	Set
	prior float64
}

// visit weighs a set and goes on to those that add later sources to it.
func (e *enumeration) visit(set []int, from, most int, prior float64, upper, lower []float64) {
	w := prior
	for i := range e.marks {
		w *= math.Max(0, upper[i]-lower[i])
	}
	if e.extra != nil {
		w *= e.extra(set)
	}
	e.sets = append(e.sets, weighed{Set{slices.Clone(set), w}, prior})
	if len(set) == most {
		return
	}
	up, low := make([]float64, len(upper)), make([]float64, len(lower))
	for s := from; s < len(e.priors); s++ {
		for i, m := range e.marks {
			up[i], low[i] = upper[i]*at(m.By[s], m.Level), lower[i]*at(m.By[s], m.Level-1)
		}
		e.visit(append(set, s), s+1, most, prior*e.priors[s]/(1-e.priors[s]), up, low)
	}
}

// ErrImpossible says that no set of sources can have left these marks.
var ErrImpossible = errors.New("attribute: no set of sources explains these marks; want a mark taken back")

func (e *enumeration) result() (Result, error) {
	sum, prior := 0.0, 0.0
	for _, s := range e.sets {
		sum, prior = sum+s.Probability, prior+s.prior
	}
	if !(sum > 0) || math.IsInf(sum, 0) {
		return Result{}, ErrImpossible
	}
	out := Result{Share: make([]float64, len(e.priors)), Ratio: make([]float64, len(e.priors))}
	before := make([]float64, len(e.priors)) // among the sets that were visited
	for _, s := range e.sets {
		for _, i := range s.Sources {
			out.Share[i] += s.Probability / sum
			before[i] += s.prior / prior
		}
	}
	for i, p := range out.Share {
		out.Ratio[i] = odds(p) / odds(before[i])
	}
	slices.SortStableFunc(e.sets, func(a, b weighed) int { return cmp.Compare(b.Probability, a.Probability) })
	for _, s := range e.sets {
		if p := s.Probability / sum; p >= 1e-4 {
			out.Sets = append(out.Sets, Set{s.Sources, p})
		}
	}
	return out, nil
}

// odds keeps away from the ends, so that a ratio stays finite.
func odds(p float64) float64 {
	p = math.Min(math.Max(p, 1e-9), 1-1e-9)
	return p / (1 - p)
}

// draws is how many outcomes of a check are played through.
const draws = 160

// mostSets bounds the explanations that a check is weighed over.
const mostSets = 40

// Gain is how much a check that would show these marks is expected to tell the explanations apart, in bits of their
// entropy; the levels of the marks are not read. It is drawn from fixed random numbers, so that it repeats.
func Gain(sets []Set, marks []Mark) float64 {
	sets = sets[:min(len(sets), mostSets)]
	p := make([]float64, len(sets))
	sum := 0.0
	for _, s := range sets {
		sum += s.Probability
	}
	if sum == 0 || len(marks) == 0 {
		return 0
	}
	// The probability of each level of each mark under each set.
	levels := make([][][]float64, len(sets))
	for i, s := range sets {
		p[i] = s.Probability / sum
		levels[i] = make([][]float64, len(marks))
		for j, m := range marks {
			levels[i][j] = m.levels(s.Sources)
		}
	}
	r := rand.New(rand.NewPCG(4, 2))
	after, gain := make([]float64, len(sets)), entropy(p)
	for range draws {
		i := draw(r, p)
		total := 0.0
		copy(after, p)
		for j := range marks {
			seen := draw(r, levels[i][j])
			for k := range after {
				after[k] *= levels[k][j][seen]
			}
		}
		for _, w := range after {
			total += w
		}
		for k := range after {
			after[k] /= total
		}
		gain -= entropy(after) / draws
	}
	return math.Max(0, gain)
}

// levels are the probabilities of the mark's levels with these sources at work.
func (m Mark) levels(sources []int) []float64 {
	out := make([]float64, len(m.Base)+1)
	below := 0.0
	for k := range out {
		upTo := at(m.Base, k)
		for _, s := range sources {
			upTo *= at(m.By[s], k)
		}
		out[k], below = upTo-below, upTo
	}
	return out
}

func draw(r *rand.Rand, p []float64) int {
	x := r.Float64()
	for i, q := range p {
		if x -= q; x < 0 {
			return i
		}
	}
	return len(p) - 1
}

func entropy(p []float64) float64 {
	h := 0.0
	for _, q := range p {
		if q > 0 {
			h -= q * math.Log2(q)
		}
	}
	return h
}
