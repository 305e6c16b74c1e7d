package bayes

import "slices"

// scorer computes the weight of the readings given a set of roots, by moving a small frontier through the damages
// that they may bring about. It holds scratch space and is for one goroutine.
type scorer struct {
	e       *Evidence
	todo    []int     // damages that the roots reach, parents first
	q       []float64 // by node: probability that no root of the set has brought it about
	missed  []float64 // by loud reading: its weights after the roots' own effects
	by      []float64
	waiting []int // by loud reading: damages still to come that touch it
	pos     []int // by owner (loud readings, then nodes): position in the table, −1 when not open
	open    []int // owners by position
	table   []float64
	on      []float64
	never   int // a damage of which only its absence is weighed, −1 for none
}

// step is one damage taken in.
type step struct {
	node    int
	own     int // position of its own bit, −1 when it had none
	p       float64
	effects []eff
}

func newScorer(e *Evidence) *scorer {
	s := &scorer{e: e, never: -1, q: make([]float64, e.net.Nodes()), missed: make([]float64, len(e.loud)), by: make([]float64, len(e.loud)), waiting: make([]int, len(e.loud)), pos: make([]int, len(e.loud)+e.net.Nodes())}
	for i := range s.pos {
		s.pos[i] = -1
	}
	return s
}

// weight returns the weight of the readings when exactly these roots are present.
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
	for i, l := range e.loud {
		s.missed[i], s.by[i], s.waiting[i] = l.missed, l.by, 0
	}
	for _, d := range s.todo {
		s.q[d] = 1
		for _, h := range e.hits[d] {
			s.waiting[h.loud]++
		}
	}
	factor := e.scale
	for _, r := range roots {
		factor *= e.quiet[r]
		for _, h := range e.hits[r] {
			s.by[h.loud] = s.by[h.loud]*(h.u+h.h) + s.missed[h.loud]*h.h
			s.missed[h.loud] *= h.u
		}
		for _, c := range e.below[r] {
			s.q[c.node] *= 1 - c.p
		}
	}
	for i := range e.loud { // readings that no damage touches are settled at once
		if s.waiting[i] == 0 {
			factor *= s.by[i]
		}
	}
	s.table = append(s.table[:0], factor)
	s.open = s.open[:0]
	for _, d := range s.todo {
		s.take(d)
	}
	return s.table[0]
}

// take decides one damage: absent, or present with its effects.
func (s *scorer) take(d int) {
	e, m := s.e, len(s.e.loud)
	own, p := s.pos[m+d], 1-s.q[d]
	if own < 0 && p == 0 { // nothing that is there can have brought it about
		for _, h := range e.hits[d] {
			if s.waiting[h.loud]--; s.waiting[h.loud] == 0 {
				s.closeLoud(h.loud)
			}
		}
		return
	}
	st := step{node: d, p: p}
	for _, h := range e.hits[d] {
		s.openBit(h.loud, s.missed[h.loud], s.by[h.loud])
	}
	for _, c := range e.below[d] {
		s.openBit(m+c.node, 1, 0)
	}
	st.own = s.pos[m+d]
	var few [16]eff
	st.effects = few[:0]
	for _, h := range e.hits[d] {
		st.effects = append(st.effects, eff{s.pos[h.loud], h.u, h.h})
	}
	for _, c := range e.below[d] {
		st.effects = append(st.effects, eff{s.pos[m+c.node], 1 - c.p, c.p})
	}
	s.decide(st)
	if st.own >= 0 {
		s.forget(m + d)
	}
	for _, h := range e.hits[d] {
		if s.waiting[h.loud]--; s.waiting[h.loud] == 0 {
			s.closeLoud(h.loud)
		}
	}
}

// decide applies a step to the table.
func (s *scorer) decide(st step) {
	t, g := s.table, s.e.quiet[st.node]
	if st.node == s.never {
		g = 0
	}
	s.on = append(s.on[:0], t...)
	if st.own < 0 {
		apply(s.on, st.effects)
		for i := range t {
			t[i] = (1-st.p)*t[i] + st.p*g*s.on[i]
		}
		return
	}
	bit := 1 << st.own
	for i := range s.on { // brought about by another damage, or by a root
		if i&bit != 0 {
			s.on[i] += st.p * s.on[i&^bit]
		}
	}
	apply(s.on, st.effects)
	k := 0
	for i := range t {
		if i&bit == 0 {
			t[k] = (1-st.p)*t[i] + g*s.on[i|bit]
			k++
		}
	}
	s.table = t[:k]
}

func (s *scorer) openBit(owner int, clear, set float64) {
	if s.pos[owner] >= 0 {
		return
	}
	s.pos[owner] = len(s.open)
	s.open = append(s.open, owner)
	n := len(s.table)
	s.table = append(s.table, s.table...)
	for i := range n {
		s.table[n+i] *= set
		s.table[i] *= clear
	}
}

// closeLoud settles a reading that nothing still to come touches.
func (s *scorer) closeLoud(i int) {
	at := s.pos[i]
	if at < 0 {
		for k := range s.table {
			s.table[k] *= s.by[i]
		}
		return
	}
	bit, k := 1<<at, 0
	for j := range s.table {
		if j&bit != 0 {
			s.table[k] = s.table[j]
			k++
		}
	}
	s.table = s.table[:k]
	s.forget(i)
}

func (s *scorer) forget(owner int) {
	at := s.pos[owner]
	s.open = slices.Delete(s.open, at, at+1)
	s.pos[owner] = -1
	for i, o := range s.open {
		s.pos[o] = i
	}
}
