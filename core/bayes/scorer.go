package bayes

import "slices"

// scorer computes the weight of the readings given a set of roots. It holds scratch space and is for one goroutine.
type scorer struct {
	e     *Evidence
	f     *frontier
	todo  []int     // damages that the roots reach, parents first
	q     []float64 // by node: probability that no root of the set has brought it about
	loud  []loud    // weights of the loud readings after the roots' own effects
	ready []int
	table []float64
	spare work
	score []float64 // scratch, by node
	rank  []int     // scratch
	most  int       // damages that are decided
	never int       // a damage of which only its absence is weighed, −1 for none
}

func newScorer(e *Evidence) *scorer {
	s := &scorer{e: e, f: newFrontier(e), most: decided, never: -1, q: make([]float64, e.net.Nodes()), loud: make([]loud, len(e.loud))}
	s.f.fixed = s.q
	s.f.emit = func(o op) { s.table = s.spare.forward(e, s.loud, o, s.table, o.kind == decideNode && o.id == s.never) }
	return s
}

// weight returns the weight of the readings when exactly these roots are present, or a lower bound of it when they
// reach more damages than are decided.
func (s *scorer) weight(roots []int) float64 {
	e := s.e
	s.todo = s.todo[:0]
	for _, r := range roots {
		s.todo = append(s.todo, e.reach[r]...)
	}
	if len(roots) > 1 {
		slices.Sort(s.todo)
		s.todo = slices.Compact(s.todo)
	}
	copy(s.loud, e.loud)
	s.f.reset(s.todo)
	for _, d := range s.todo {
		s.q[d] = 1
	}
	factor := e.scale
	for _, r := range roots {
		factor *= e.quiet[r]
		for _, h := range e.hits[r] {
			l := &s.loud[h.loud]
			l.by, l.missed = l.by*(h.u+h.h)+l.missed*h.h, l.missed*h.u
		}
		for _, c := range e.below[r] {
			s.q[c.node] *= 1 - c.p
		}
	}
	s.hold()
	for _, d := range s.todo {
		if s.f.skip[d] {
			factor *= s.q[d] // the roots do not bring it about either
		}
	}
	s.todo = slices.DeleteFunc(s.todo, func(d int) bool { return s.f.skip[d] })
	s.f.expect(s.todo)
	for i, l := range s.loud { // readings that no damage touches are settled at once
		if s.f.left[i] == 0 {
			factor *= l.by
		}
	}
	s.table = append(s.table[:0], factor)
	s.ready = s.ready[:0]
	for _, d := range s.todo {
		if s.f.left[len(e.loud)+d] == 0 {
			s.ready = append(s.ready, d)
		}
	}
	s.f.run(&s.ready, nil)
	return s.table[0]
}

// decided is how many damages of a set are decided one way and the other; the rest, least likely first, are held
// absent. That leaves worlds out and lets none in: the weight becomes a lower bound.
const decided = 14

// hold chooses the damages to hold absent when the roots reach more than can be decided: those that are least
// likely before the readings, counting for more where a loud reading is below.
func (s *scorer) hold() {
	if len(s.todo) <= s.most {
		return
	}
	e := s.e
	s.score = append(s.score[:0], s.q...)
	for _, d := range s.todo { // probability that it is not there, parents taken as independent
		for _, c := range e.below[d] {
			s.score[c.node] *= 1 - c.p*(1-s.score[d])
		}
	}
	s.rank = append(s.rank[:0], s.todo...)
	worth := func(d int) float64 {
		w := 1 - s.score[d]
		for _, h := range e.hits[d] {
			w *= 1 + h.h/max(e.loud[h.loud].by, 1e-6)
		}
		return w
	}
	slices.SortStableFunc(s.rank, func(a, b int) int {
		switch x, y := worth(a), worth(b); {
		case x > y:
			return -1
		case x < y:
			return 1
		}
		return a - b
	})
	for _, d := range s.rank[s.most:] {
		s.f.skip[d] = true
	}
}
