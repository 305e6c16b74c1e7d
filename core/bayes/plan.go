package bayes

import "slices"

// planner orders the nodes so that few bits are open at a time.
type planner struct {
	e    *Evidence
	bits [][]eff // by node: effects on loud readings and damages; bit is the number of the bit's owner
	left []int   // by owner (loud readings, then nodes): parents not yet taken in
	pos  []int   // by owner: position in the table, −1 when not open
	open []int   // owners by position
	done []bool  // by node
	ops  []op
	work int
	kept int
}

// plan returns the steps of the frontier, false when they would take too much.
func (e *Evidence) plan() ([]op, bool) {
	n, m := e.net.Nodes(), len(e.loud)
	p := &planner{e: e, bits: make([][]eff, n), left: make([]int, m+n), pos: make([]int, m+n), done: make([]bool, n)}
	for i := range p.pos {
		p.pos[i] = -1
	}
	var waiting []int
	for v := range n {
		if v < e.net.Roots() && !e.touched(v) || v >= e.net.Roots() && p.left[m+v] == 0 {
			continue // touches nothing, or nothing brings it about
		}
		for _, h := range e.hits[v] {
			p.bits[v] = append(p.bits[v], eff{h.loud, h.u, h.h})
			p.left[h.loud]++
		}
		for _, c := range e.below[v] {
			p.bits[v] = append(p.bits[v], eff{m + c.node, 1 - c.p, c.p})
			p.left[m+c.node]++
		}
		if v < e.net.Roots() {
			waiting = append(waiting, v)
		}
	}
	for i := range e.loud { // readings that nothing listed can have caused
		if p.left[i] == 0 {
			p.openBit(i)
			p.closeLoud(i)
		}
	}
	for len(waiting) > 0 {
		next := 0
		best, tie := 1<<30, 1<<30
		for i, v := range waiting {
			if cost, t := p.cost(v); cost < best || cost == best && t < tie {
				best, tie, next = cost, t, i
			}
		}
		v := waiting[next]
		waiting = slices.Delete(waiting, next, next+1)
		if !p.take(v) {
			return nil, false
		}
		for _, x := range p.bits[v] {
			if d := x.bit - m; d >= 0 && p.left[x.bit] == 0 && !p.done[d] {
				p.done[d] = true
				waiting = append(waiting, d)
			}
		}
	}
	return p.ops, true
}

// cost is how many bits more are open after a node was taken in; ties go to bits that are soon finished.
func (p *planner) cost(v int) (cost, tie int) {
	if v >= p.e.net.Roots() {
		cost--
	}
	for _, x := range p.bits[v] {
		if p.pos[x.bit] < 0 {
			cost++
		}
		if p.left[x.bit] == 1 {
			cost--
		}
		tie += p.left[x.bit]
	}
	return cost, tie
}

func (p *planner) openBit(owner int) {
	o := op{kind: openLoud, id: owner, bit: len(p.open), size: 1 << len(p.open)}
	if m := len(p.e.loud); owner >= m {
		o.kind, o.id = openDamage, owner-m
	}
	p.pos[owner] = len(p.open)
	p.open = append(p.open, owner)
	p.ops = append(p.ops, o)
	p.work += 2 << len(p.open)
}

func (p *planner) closeLoud(owner int) {
	p.ops = append(p.ops, op{kind: closeLoud, id: owner, bit: p.pos[owner], size: 1 << len(p.open)})
	p.forget(owner)
}

func (p *planner) forget(owner int) {
	at := p.pos[owner]
	p.open = slices.Delete(p.open, at, at+1)
	p.pos[owner] = -2
	for i, o := range p.open {
		p.pos[o] = i
	}
}

// take takes a node in; false when that is too much.
func (p *planner) take(v int) bool {
	m := len(p.e.loud)
	for _, x := range p.bits[v] {
		if p.pos[x.bit] < 0 {
			p.openBit(x.bit)
		}
	}
	if len(p.open) > maxWidth {
		return false
	}
	o := op{kind: takeRoot, id: v, size: 1 << len(p.open), at: make([]eff, len(p.bits[v]))}
	for i, x := range p.bits[v] {
		o.at[i] = eff{p.pos[x.bit], x.u, x.h}
		p.left[x.bit]--
	}
	if v >= p.e.net.Roots() {
		o.kind, o.bit = takeDamage, p.pos[m+v]
	}
	p.ops = append(p.ops, o)
	p.work += o.size * 2 * (len(o.at) + 1)
	p.kept += o.size
	if v >= p.e.net.Roots() {
		p.forget(m + v)
	}
	for _, x := range p.bits[v] {
		if x.bit < m && p.left[x.bit] == 0 {
			p.closeLoud(x.bit)
		}
	}
	return p.work <= maxWork && p.kept <= maxKept
}
