package bayes

import "slices"

// frontier moves a table through the network. Each bit of the table belongs to an owner: an abnormal reading (hit or
// not), a damage that something has begun to bring about (so far or not), or a node that is decided and kept until
// its children are done (there or not). A child that is open gets its parent's effect at once; for children that
// are not, the parent is kept, so that one bit waits instead of many.
type frontier struct {
	e     *Evidence
	fixed []float64 // by node: probability that the roots do not bring it about
	left  []int     // by owner: parents not yet decided
	pos   []int     // by owner: position, −1 when not open
	open  []int     // owners by position
	in    [][]child // by node: parents kept for it, with their strength
	wait  []int     // by node: children that it is kept for
	done  []bool    // by node
	skip  []bool    // by node: not decided here; its parents carry its weight
	fold  []float64 // by node: weight of what was folded into it
	emit  func(op)
}

func newFrontier(e *Evidence) *frontier {
	n, m := e.net.Nodes(), len(e.abnormal)
	f := &frontier{e: e, left: make([]int, m+n), pos: make([]int, m+n), in: make([][]child, n), wait: make([]int, n), done: make([]bool, n), skip: make([]bool, n), fold: make([]float64, n)}
	for i := range f.pos {
		f.pos[i] = -1
	}
	for v := range f.fold {
		f.fold[v] = 1
	}
	return f
}

// expect counts the parents of what these nodes touch.
func (f *frontier) expect(nodes []int) {
	m := len(f.e.abnormal)
	for _, v := range nodes {
		for _, h := range f.e.hits[v] {
			f.left[h.abnormal]++
		}
		for _, c := range f.e.below[v] {
			f.left[m+c.node]++
		}
	}
}

// reset forgets what was decided of these nodes.
func (f *frontier) reset(nodes []int) {
	m := len(f.e.abnormal)
	for i := range m {
		f.left[i], f.pos[i] = 0, -1
	}
	for _, v := range nodes {
		f.left[m+v], f.pos[m+v], f.in[v], f.wait[v], f.done[v], f.skip[v], f.fold[v] = 0, -1, f.in[v][:0], 0, false, false, 1
	}
	f.open = f.open[:0]
}

func (f *frontier) add(owner int, kind opKind, id int) {
	f.pos[owner] = len(f.open)
	f.open = append(f.open, owner)
	f.emit(op{kind: kind, id: id, bit: f.pos[owner], size: 1 << (len(f.open) - 1)})
}

func (f *frontier) drop(owner int, kind opKind) {
	at := f.pos[owner]
	f.emit(op{kind: kind, id: owner, bit: at, size: 1 << len(f.open)})
	f.forget(owner)
}

func (f *frontier) forget(owner int) {
	at := f.pos[owner]
	f.open = slices.Delete(f.open, at, at+1)
	f.pos[owner] = -1
	for i, o := range f.open {
		f.pos[o] = i
	}
}

// shared is how many parents of an unopened child must still be undecided for its bit to be worth opening.
const shared = 3

// decide takes a node in.
func (f *frontier) decide(v int) {
	e, m := f.e, len(f.e.abnormal)
	for _, h := range e.hits[v] {
		if f.left[h.abnormal] > 0 && f.pos[h.abnormal] < 0 {
			f.add(h.abnormal, openAbnormal, h.abnormal)
		}
	}
	later := 0
	for _, c := range e.below[v] {
		if !f.skip[c.node] && f.pos[m+c.node] < 0 && f.left[m+c.node] < shared {
			later++
		}
	}
	keep := later > 1
	for _, c := range e.below[v] {
		if !f.skip[c.node] && f.pos[m+c.node] < 0 && (!keep || f.left[m+c.node] >= shared) {
			f.add(m+c.node, openDamage, c.node)
		}
	}
	o := op{kind: decideNode, id: v, own: f.pos[m+v], keep: keep, none: f.fixed[v], normal: e.normal[v] * f.fold[v], size: 1 << len(f.open)}
	for _, x := range f.in[v] {
		o.pulls = append(o.pulls, pull{f.pos[m+x.node], 1 - x.p})
	}
	for _, h := range e.hits[v] {
		if f.left[h.abnormal] > 0 {
			o.at = append(o.at, eff{f.pos[h.abnormal], h.u, h.h})
		}
	}
	for _, c := range e.below[v] {
		if at := f.pos[m+c.node]; at >= 0 {
			o.at = append(o.at, eff{at, 1 - c.p, c.p})
		}
	}
	f.emit(o)
	f.done[v] = true
	switch {
	case keep && o.own < 0:
		f.pos[m+v] = len(f.open)
		f.open = append(f.open, m+v)
	case !keep && o.own >= 0:
		f.forget(m + v)
	}
	for _, c := range e.below[v] {
		if f.skip[c.node] {
			continue
		}
		if f.left[m+c.node]--; f.pos[m+c.node] < 0 {
			f.in[c.node] = append(f.in[c.node], child{v, c.p})
			f.wait[v]++
		}
	}
	for _, x := range f.in[v] { // parents that were kept for this one alone
		if f.wait[x.node]--; f.wait[x.node] == 0 {
			f.drop(m+x.node, sumOut)
		}
	}
	for _, h := range e.hits[v] {
		if f.left[h.abnormal] == 0 {
			continue // folded into its one damage
		}
		if f.left[h.abnormal]--; f.left[h.abnormal] == 0 {
			f.drop(h.abnormal, closeLoud)
		}
	}
}

// maxOpen is how many bits may be open at once: a table of 64 kB.
const maxOpen = 13

// run decides the nodes that are ready and those that become so, always the one that leaves the fewest bits open. It
// gives up, with false, before too many are.
func (f *frontier) run(ready *[]int) bool {
	m := len(f.e.abnormal)
	for len(*ready) > 0 {
		next, best, tie := 0, 1<<30, 1<<30
		for i, v := range *ready {
			if cost, t := f.cost(v); cost < best || cost == best && t < tie {
				best, tie, next = cost, t, i
			}
		}
		v := (*ready)[next]
		*ready = slices.Delete(*ready, next, next+1)
		if f.peak(v) > maxOpen {
			return false
		}
		f.decide(v)
		for _, c := range f.e.below[v] {
			if !f.skip[c.node] && f.left[m+c.node] == 0 && !f.done[c.node] {
				*ready = append(*ready, c.node)
			}
		}
	}
	return true
}

// peak is how many bits are open while a node is decided, at most.
func (f *frontier) peak(v int) int {
	m, n := len(f.e.abnormal), len(f.open)+1
	for _, h := range f.e.hits[v] {
		if f.left[h.abnormal] > 0 && f.pos[h.abnormal] < 0 {
			n++
		}
	}
	for _, c := range f.e.below[v] {
		if !f.skip[c.node] && f.pos[m+c.node] < 0 && f.left[m+c.node] >= shared {
			n++
		}
	}
	return n
}

// cost is how many bits more are open after a node was decided; ties go to what is soon finished.
func (f *frontier) cost(v int) (cost, tie int) {
	m := len(f.e.abnormal)
	if f.pos[m+v] >= 0 {
		cost--
	}
	for _, x := range f.in[v] {
		if f.wait[x.node] == 1 {
			cost--
		}
	}
	for _, h := range f.e.hits[v] {
		if f.left[h.abnormal] == 0 {
			continue
		}
		if f.pos[h.abnormal] < 0 {
			cost++
		}
		if f.left[h.abnormal] == 1 {
			cost--
		}
		tie += f.left[h.abnormal]
	}
	later := 0
	for _, c := range f.e.below[v] {
		if f.skip[c.node] {
			continue
		}
		if f.pos[m+c.node] < 0 {
			if f.left[m+c.node] >= shared {
				cost++
			} else {
				later++
			}
		}
		tie += f.left[m+c.node]
	}
	return cost + min(later, 1), tie
}
