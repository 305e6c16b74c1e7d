package bayes

import "slices"

// Given tells what else is present when exactly certain roots are. It holds scratch space and is for one goroutine.
type Given struct {
	s     *scorer
	steps []step
	keep  []float64
}

// step is a step of the frontier, with where its table before the step is kept.
type step struct {
	op
	at int
}

// Given returns what tells, after the readings.
func (e *Evidence) Given() *Given {
	g := &Given{s: newScorer(e)}
	g.s.begin = func() { g.steps, g.keep = g.steps[:0], g.keep[:0] }
	g.s.f.emit = func(o op) {
		g.steps = append(g.steps, step{o, len(g.keep)})
		if o.kind == decideNode {
			g.keep = append(g.keep, g.s.table...)
		}
		g.s.table = g.s.spare.forward(g.s.abnormal, o, g.s.table)
	}
	return g
}

// Nodes returns the probability of each node when exactly these roots are present. What the scorer held absent
// keeps the probability that its parents and the normal readings give it.
func (g *Given) Nodes(roots []int) []float64 {
	s, e := g.s, g.s.e
	out := make([]float64, e.net.Nodes())
	for _, r := range roots {
		out[r] = 1
	}
	if s.weight(roots) > 0 {
		g.back(out)
	}
	// Whatever was not decided by the frontier follows from its parents, in their order.
	for d, x := range e.net.damages {
		v := e.net.Roots() + d
		if s.decided(v) {
			continue
		}
		normal := e.own[v]
		if slices.Contains(s.folded, v) {
			normal *= s.f.fold[v]
		}
		out[v] = follows(x, out, normal)
	}
	return out
}

// follows is the probability of a damage from that of its parents and the weight of normal readings when it is there:
// exact when no more than one parent is in doubt, else with parents taken as independent.
func follows(x Damage, present []float64, normal float64) float64 {
	after := func(none float64) float64 {
		if none == 1 {
			return 0
		}
		return (1 - none) * normal / (none + (1-none)*normal)
	}
	sure, all, doubts := 1.0, 1.0, 0
	var doubt Edge
	for _, f := range x.From {
		switch p := present[f.Parent]; {
		case p == 1:
			sure *= 1 - f.P
		case p > 0 && f.P > 0:
			doubt = f
			doubts++
			all *= 1 - f.P*p
		}
	}
	if doubts == 1 {
		p := present[doubt.Parent]
		return p*after(sure*(1-doubt.P)) + (1-p)*after(sure)
	}
	return after(sure * all)
}

// back goes through the steps from the last to the first with the weight of what is still to come.
func (g *Given) back(out []float64) {
	w := &g.s.spare
	b := []float64{1 / g.s.table[0]}
	for i := len(g.steps) - 1; i >= 0; i-- {
		o := g.steps[i]
		switch n := len(b) / 2; o.kind {
		case openAbnormal:
			l := g.s.abnormal[o.id]
			for s := range n {
				b[s] = l.missed*b[s] + l.by*b[n+s]
			}
			b = b[:n]
		case openDamage:
			b = b[:n]
		case decideNode:
			b, out[o.id] = w.backward(o.op, b, g.keep[o.at:o.at+o.size])
		case sumOut:
			b = spread(b, o.bit)
		case closeLoud:
			b = spread(b, o.bit)
			for s := range b {
				if s&(1<<o.bit) == 0 {
					b[s] = 0
				}
			}
		}
	}
}

// Expect returns the probability of each node when exactly these roots are present, before any reading; the
// parents of a damage are taken as independent.
func (n *Network) Expect(roots []int) []float64 {
	out := make([]float64, n.Nodes())
	for _, r := range roots {
		out[r] = 1
	}
	for d, x := range n.damages {
		none := 1.0
		for _, f := range x.From {
			none *= 1 - f.P*out[f.Parent]
		}
		out[n.Roots()+d] = 1 - none
	}
	return out
}

// States returns the distribution of a finding for given probabilities of the nodes. Effects into different
// states at once share what is not normal in proportion.
func (n *Network) States(finding int, present []float64) []float64 {
	f := n.findings[finding]
	out := make([]float64, len(f.Anyway)+1)
	normal, sum := 1.0, 0.0
	add := func(p float64, states []float64) {
		total := 0.0
		for s, x := range states {
			out[s+1] += p * x
			total += x
		}
		normal *= 1 - p*total
		sum += p * total
	}
	add(1, f.Anyway)
	for _, x := range f.Effects {
		if p := present[x.Parent]; p > 0 {
			add(p, x.States)
		}
	}
	out[0] = normal
	if sum > 0 {
		for s := range f.Anyway {
			out[s+1] *= (1 - normal) / sum
		}
	}
	return out
}
