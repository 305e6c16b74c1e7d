package bayes

import "slices"

// scorer computes the weight of the readings given a set of roots. It holds scratch space and is for one goroutine.
type scorer struct {
	e        *Evidence
	f        *frontier
	todo     []int             // damages that the roots reach, parents first
	q        []float64         // by node: probability that no root of the set has brought it about
	abnormal []abnormalReading // weights of the abnormal readings after the roots' own effects
	ready    []int
	table    []float64
	spare    work
	score    []float64 // scratch, by node
	rank     []int     // scratch
	folded   []int     // damages that were folded away
	from     []int     // by node: damages of the set that may bring it about; −1 when it was folded away
	by       []child   // by node: the last of them
	most     int       // damages that are decided
	begin    func()    // called before each attempt; may be nil
}

func newScorer(e *Evidence) *scorer {
	s := &scorer{e: e, f: newFrontier(e), most: mostDecided, q: make([]float64, e.net.Nodes()), from: make([]int, e.net.Nodes()), by: make([]child, e.net.Nodes()), abnormal: make([]abnormalReading, len(e.abnormal))}
	s.f.fixed = s.q
	s.f.emit = func(o op) { s.table = s.spare.forward(s.abnormal, o, s.table) }
	return s
}

// weight returns the weight of the readings when exactly these roots are present, or a lower bound of it when they
// reach more damages than are decided.
func (s *scorer) weight(roots []int) float64 {
	most := s.most
	defer func() { s.most = most }()
	for {
		if w, ok := s.attempt(roots); ok {
			return w
		}
		s.most /= 2 // with one damage left no reading waits for a second
	}
}

// attempt is weight with so many damages decided; false when the table would grow too wide.
func (s *scorer) attempt(roots []int) (float64, bool) {
	if s.begin != nil {
		s.begin()
	}
	e := s.e
	s.todo = s.todo[:0]
	for _, r := range roots {
		s.todo = append(s.todo, e.reach[r]...)
	}
	if len(roots) > 1 {
		slices.Sort(s.todo)
		s.todo = slices.Compact(s.todo)
	}
	copy(s.abnormal, e.abnormal)
	s.f.reset(s.todo)
	for _, d := range s.todo {
		s.q[d] = 1
	}
	factor := e.scale
	for _, r := range roots {
		factor *= e.normal[r]
		for _, h := range e.hits[r] {
			l := &s.abnormal[h.abnormal]
			l.by, l.missed = l.by*(h.u+h.h)+l.missed*h.h, l.missed*h.u
		}
		for _, c := range e.below[r] {
			s.q[c.node] *= 1 - c.p
		}
	}
	factor *= s.fold() * s.hold()
	s.f.expect(s.todo)
	for i, l := range s.abnormal { // readings that no damage touches are settled at once
		if s.f.left[i] == 0 {
			factor *= l.by
		}
	}
	factor *= s.settle()
	s.table = append(s.table[:0], factor)
	s.ready = s.ready[:0]
	for _, d := range s.todo {
		if s.f.left[len(e.abnormal)+d] == 0 {
			s.ready = append(s.ready, d)
		}
	}
	if !s.f.run(&s.ready) {
		return 0, false
	}
	return s.table[0], true
}

// settle folds readings that one damage alone touches into that damage, and returns their weight when it is absent.
func (s *scorer) settle() float64 {
	factor := 1.0
	for _, d := range s.todo {
		for _, h := range s.e.hits[d] {
			l := s.abnormal[h.abnormal]
			if s.f.left[h.abnormal] != 1 || l.by <= 0 {
				continue
			}
			factor *= l.by
			s.f.fold[d] *= h.u + h.h + l.missed*h.h/l.by
			s.f.left[h.abnormal] = 0
		}
	}
	return factor
}

// fold takes damages that touch normal readings alone, last ones first, into the one damage that may bring them about
// besides what is fixed, and returns the weight of those that no damage brings about.
func (s *scorer) fold() float64 {
	e, factor := s.e, 1.0
	s.folded = s.folded[:0]
	for _, d := range s.todo {
		s.from[d], s.by[d] = 0, child{-1, 0}
	}
	for _, d := range s.todo {
		for _, c := range e.below[d] {
			s.from[c.node]++
			s.by[c.node] = child{d, c.p}
		}
	}
	for i := len(s.todo) - 1; i >= 0; i-- {
		d := s.todo[i]
		if len(e.hits[d]) > 0 || s.from[d] > 1 || slices.ContainsFunc(e.below[d], func(c child) bool { return s.from[c.node] >= 0 }) {
			continue
		}
		normal := e.normal[d] * s.f.fold[d]
		without := s.q[d] + (1-s.q[d])*normal
		if without == 0 {
			continue
		}
		factor *= without
		if up := s.by[d]; s.from[d] == 1 {
			q := s.q[d] * (1 - up.p)
			s.f.fold[up.node] *= (q + (1-q)*normal) / without
		}
		s.from[d], s.f.skip[d] = -1, true
		s.folded = append(s.folded, d)
	}
	s.todo = slices.DeleteFunc(s.todo, func(d int) bool { return s.f.skip[d] })
	return factor
}

// mostDecided is how many damages of a set are decided one way and the other; the rest, least likely first, are held
// absent. That leaves worlds out and lets none in: the weight becomes a lower bound.
const mostDecided = 12

// hold chooses the damages to hold absent when the roots reach more than can be decided: those that are least
// likely before the readings, counting for more where an abnormal reading is below. It returns the weight of the roots
// not bringing them about.
func (s *scorer) hold() float64 {
	if len(s.todo) <= s.most {
		return 1
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
			w *= 1 + h.h/max(e.abnormal[h.abnormal].by, 1e-6)
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
	factor := 1.0
	for _, d := range s.rank[s.most:] {
		s.f.skip[d] = true
		factor *= s.q[d]
	}
	s.todo = slices.DeleteFunc(s.todo, func(d int) bool { return s.f.skip[d] })
	for _, d := range s.todo {
		for _, c := range e.below[d] {
			if s.f.skip[c.node] && s.from[c.node] >= 0 {
				s.f.fold[d] *= 1 - c.p
			}
		}
	}
	return factor
}

// decided reports whether the last set's weight decided this damage one way and the other.
func (s *scorer) decided(d int) bool { return s.f.done[d] && slices.Contains(s.todo, d) }
