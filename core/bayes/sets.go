package bayes

import (
	"container/heap"
	"slices"
	"sort"
)

// Set is a hypothesis: these roots, and no other that could have caused an abnormal reading.
type Set struct {
	Roots  []int // ascending
	Weight float64
}

// Search is what best-first search over sets found.
type Search struct {
	Sets    []Set     // largest weight first; the empty one is among them
	Sum     float64   // of their weights, each with any of the normal roots beside it, in the unit of Exact.Total
	Present []float64 // of each root, from these sets alone
}

// Nothing is the weight of "no root is present".
func (e *Evidence) Nothing() float64 { return newScorer(e).weight(nil) }

// Weights returns the weight of each of these sets of roots, with its odds.
func (e *Evidence) Weights(sets [][]int) []float64 {
	sc := newScorer(e)
	out := make([]float64, len(sets))
	for i, roots := range sets {
		out[i] = sc.weight(roots)
		for _, r := range roots {
			out[i] *= e.odds[r]
		}
	}
	return out
}

// Search looks through sets of roots, best first: all single ones, then those that grow from the best. Roots
// that touch normal readings alone are not searched; each stands beside every set with its own weight, which is
// a lower bound of what it has beside others since sharing a damage can only spare it. So Sum ≤ Exact.Total, and
// 1 − Sum/Total is a proved bound on the weight that was left out. most is the number of sets to weigh. known, when
// it is not nil, is the posterior probability of each node: sets then grow by what is likely after all, and not by
// what is likely alone, which finds far more of the weight when several things are wrong at once.
func (e *Evidence) Search(most int, known []float64) Search {
	sc := newScorer(e)
	nothing := sc.weight(nil)
	still := *e // the same without abnormal readings, for what normal roots weigh by themselves
	still.abnormal, still.scale = nil, 1
	alone := newScorer(&still)
	out := Search{Sets: []Set{{Weight: nothing}}, Present: make([]float64, e.net.Roots())}
	beside := 1.0
	var singles []Set
	for r, o := range e.odds {
		switch {
		case o == 0:
		case !e.touched(r):
			beside *= 1 + o
			out.Present[r] = o / (1 + o)
		case !e.isLoud(r):
			w := o * alone.weight([]int{r})
			beside *= 1 + w
			out.Present[r] = w / (1 + w)
		default:
			singles = append(singles, Set{[]int{r}, o * sc.weight([]int{r})})
		}
	}
	slices.SortStableFunc(singles, heavier)
	out.Sets = append(out.Sets, singles...)
	gains := e.gains(singles, nothing)
	if known != nil {
		for i, s := range singles {
			gains[i] = min(known[s.Roots[0]]/max(1-known[s.Roots[0]], tiny), mostGain)
		}
		sort.Stable(byGain{singles, gains})
	}
	e.grow(sc, singles, gains, most-len(out.Sets), &out)
	slices.SortStableFunc(out.Sets, heavier)
	abnormal := 0.0
	for i := len(out.Sets) - 1; i >= 0; i-- { // small ones first, so that none is lost in rounding
		abnormal += out.Sets[i].Weight
	}
	for _, s := range out.Sets {
		for _, r := range s.Roots {
			out.Present[r] += s.Weight / max(abnormal, tiny)
		}
	}
	out.Sum = abnormal * beside
	return out
}

const tiny = 1e-300

func heavier(a, b Set) int {
	switch {
	case a.Weight > b.Weight:
		return -1
	case a.Weight < b.Weight:
		return 1
	}
	return slices.Compare(a.Roots, b.Roots)
}

// mostGain bounds what one more root may promise when it is known to be nearly certain.
const mostGain = 1e4

type byGain struct {
	sets  []Set
	gains []float64
}

func (b byGain) Len() int           { return len(b.sets) }
func (b byGain) Less(i, j int) bool { return b.gains[i] > b.gains[j] }
func (b byGain) Swap(i, j int) {
	b.sets[i], b.sets[j] = b.sets[j], b.sets[i]
	b.gains[i], b.gains[j] = b.gains[j], b.gains[i]
}

// gains are the weights of single roots relative to nothing; when nothing is impossible, to the lightest single
// that is possible.
func (e *Evidence) gains(singles []Set, nothing float64) []float64 {
	base := nothing
	for i := len(singles) - 1; base == 0 && i >= 0; i-- {
		base = singles[i].Weight
	}
	if base == 0 {
		base = 1
	}
	out := make([]float64, len(singles))
	for i, s := range singles {
		out[i] = max(s.Weight/base, e.odds[s.Roots[0]])
	}
	return out
}

// grow weighs larger sets, most of them, in the order in which they promise weight: a set with one root more
// promises its own weight times the gain of that root.
func (e *Evidence) grow(sc *scorer, singles []Set, gains []float64, most int, out *Search) {
	if len(singles) < 2 || most <= 0 {
		return
	}
	var q candidates
	push := func(set Set, next int) {
		if next >= len(singles) {
			return
		}
		w := set.Weight
		if w == 0 { // cannot be alone, but may be half of what can
			w = 1
			for _, r := range set.Roots {
				w *= e.odds[r]
			}
		}
		heap.Push(&q, candidate{set, next, w * gains[next]})
	}
	best := out.Sets[0].Weight
	for i, s := range singles {
		best = max(best, s.Weight)
		push(s, i+1)
	}
	for ; most > 0 && q.Len() > 0; most-- {
		c := heap.Pop(&q).(candidate)
		if c.promise < best*negligible {
			return
		}
		push(c.set, c.next+1)
		roots := make([]int, 0, len(c.set.Roots)+1)
		roots = append(append(roots, c.set.Roots...), singles[c.next].Roots[0])
		slices.Sort(roots)
		w := sc.weight(roots)
		for _, r := range roots {
			w *= e.odds[r]
		}
		grown := Set{roots, w}
		out.Sets = append(out.Sets, grown)
		best = max(best, w)
		push(grown, c.next+1)
	}
}

// negligible is the promise, relative to the best set, under which the search ends by itself.
const negligible = 1e-7

type candidate struct {
	set     Set
	next    int // place among the singles of the root to add
	promise float64
}

type candidates []candidate

func (f candidates) Len() int           { return len(f) }
func (f candidates) Less(i, j int) bool { return f[i].promise > f[j].promise }
func (f candidates) Swap(i, j int)      { f[i], f[j] = f[j], f[i] }
func (f *candidates) Push(x any)        { *f = append(*f, x.(candidate)) }
func (f *candidates) Pop() any {
	old := *f
	x := old[len(old)-1]
	*f = old[:len(old)-1]
	return x
}
