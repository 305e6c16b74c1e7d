package bayes

import "slices"

// plan returns the steps of the exact frontier, false when they would take too much.
func (e *Evidence) plan() ([]op, bool) {
	n, m := e.net.Nodes(), len(e.loud)
	f := newFrontier(e)
	// What is reachable: roots that touch something, then damages below them, in the order of their numbers.
	var nodes, ready []int
	parents := make([]int, n)
	for v := range n {
		if v < e.net.Roots() && (!e.touched(v) || e.odds[v] == 0) || v >= e.net.Roots() && parents[v] == 0 {
			continue
		}
		nodes = append(nodes, v)
		for _, c := range e.below[v] {
			parents[c.node]++
		}
		if v < e.net.Roots() {
			ready = append(ready, v)
		}
	}
	f.expect(nodes)
	var ops []op
	work, kept := 0, 0
	f.emit = func(o op) {
		ops = append(ops, o)
		work += o.size * 2 * (len(o.at) + len(o.pulls) + 1)
		if o.kind == decideNode {
			kept += o.size
		}
	}
	for i := range m { // readings that nothing listed can have caused
		if f.left[i] == 0 {
			f.add(i, openLoud, i)
			f.drop(i, closeLoud)
		}
	}
	ok := f.run(&ready, func() bool { return f.width <= maxWidth && work <= maxWork && kept <= maxKept })
	if !ok {
		return nil, false
	}
	return ops, true
}

// run decides the nodes that are ready and those that become so, always the one that leaves the fewest bits open.
func (f *frontier) run(ready *[]int, within func() bool) bool {
	m := len(f.e.loud)
	for len(*ready) > 0 {
		next, best, tie := 0, 1<<30, 1<<30
		for i, v := range *ready {
			if cost, t := f.cost(v); cost < best || cost == best && t < tie {
				best, tie, next = cost, t, i
			}
		}
		v := (*ready)[next]
		*ready = slices.Delete(*ready, next, next+1)
		f.decide(v)
		if within != nil && !within() {
			return false
		}
		for _, c := range f.e.below[v] {
			if !f.skip[c.node] && f.left[m+c.node] == 0 && !f.done[c.node] {
				*ready = append(*ready, c.node)
			}
		}
	}
	return true
}

// cost is how many bits more are open after a node was decided; ties go to what is soon finished.
func (f *frontier) cost(v int) (cost, tie int) {
	m := len(f.e.loud)
	if f.pos[m+v] >= 0 {
		cost--
	}
	for _, x := range f.in[v] {
		if f.wait[x.node] == 1 {
			cost--
		}
	}
	for _, h := range f.e.hits[v] {
		if f.pos[h.loud] < 0 {
			cost++
		}
		if f.left[h.loud] == 1 {
			cost--
		}
		tie += f.left[h.loud]
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
