package bayes

import "slices"

// scorer computes the weight of the readings given a set of roots, by walking through the damages that they
// may bring about. It holds scratch space and is for one goroutine.
type scorer struct {
	e       *Evidence
	sum, u  []float64 // by loud reading: products over what is present
	q       []float64 // by node: probability that nothing present has brought it about
	todo    []int     // damages that the roots reach
	total   float64
	collect []float64 // by node: weight of worlds with it, when wanted
	stack   []int     // damages present in the world being walked
}

func newScorer(e *Evidence) *scorer {
	s := &scorer{e: e, sum: make([]float64, len(e.loud)), u: make([]float64, len(e.loud)), q: make([]float64, e.net.Nodes())}
	for i := range s.q {
		s.q[i] = 1
	}
	return s
}

// weight returns the weight of the readings when exactly these roots are present.
func (s *scorer) weight(roots []int) float64 {
	for i := range s.sum {
		s.sum[i], s.u[i] = 1, 1
	}
	s.total, s.todo = 0, s.todo[:0]
	factor := s.e.scale
	for _, r := range roots {
		s.todo = append(s.todo, s.e.reach[r]...)
	}
	if len(roots) > 1 {
		slices.Sort(s.todo)
		s.todo = slices.Compact(s.todo)
	}
	for _, d := range s.todo {
		s.q[d] = 1
	}
	for _, r := range roots {
		factor *= s.e.quiet[r]
		s.enter(r)
	}
	s.walk(0, factor)
	return s.total
}

// enter lets a node have its effects.
func (s *scorer) enter(v int) {
	for _, h := range s.e.hits[v] {
		s.sum[h.loud] *= h.u + h.h
		s.u[h.loud] *= h.u
	}
	for _, c := range s.e.below[v] {
		s.q[c.node] *= 1 - c.p
	}
}

// walk decides the damages from the k-th on.
func (s *scorer) walk(k int, factor float64) {
	for ; k < len(s.todo); k++ {
		d := s.todo[k]
		q := s.q[d]
		if q == 1 || factor == 0 {
			continue
		}
		if s.e.lone[d] && s.collect == nil {
			factor *= q + (1-q)*s.e.quiet[d]
			continue
		}
		if q > 0 {
			s.walk(k+1, factor*q)
		}
		s.present(d, k, factor*(1-q)*s.e.quiet[d])
		return
	}
	for i, l := range s.e.loud {
		factor *= l.by*s.sum[i] + l.missed*(s.sum[i]-s.u[i])
	}
	s.total += factor
	if s.collect != nil {
		for _, d := range s.stack {
			s.collect[d] += factor
		}
	}
}

// present walks on with a damage that is there, and puts everything back.
func (s *scorer) present(d, k int, factor float64) {
	if factor == 0 {
		return
	}
	var saved [64]float64
	keep := saved[:0]
	for _, h := range s.e.hits[d] {
		keep = append(keep, s.sum[h.loud], s.u[h.loud])
	}
	for _, c := range s.e.below[d] {
		keep = append(keep, s.q[c.node])
	}
	s.enter(d)
	s.stack = append(s.stack, d)
	s.walk(k+1, factor)
	s.stack = s.stack[:len(s.stack)-1]
	i := 0
	for _, h := range s.e.hits[d] {
		s.sum[h.loud], s.u[h.loud] = keep[i], keep[i+1]
		i += 2
	}
	for _, c := range s.e.below[d] {
		s.q[c.node] = keep[i]
		i++
	}
}
