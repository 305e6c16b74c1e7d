package bayes

import "slices"

// Exact is the exact answer.
type Exact struct {
	Total   float64   // weight of everything, in the unit of Evidence.Nothing
	Present []float64 // posterior probability of each node; −1 for a damage on which no reading bears by itself
}

// Limits of exact inference: steps times table size, and table entries kept for the way back.
const (
	maxWork  = 1 << 27
	maxKept  = 1 << 22
	maxWidth = 22
)

// op is one step of the frontier.
type op struct {
	kind  opKind
	bit   int     // position of the bit that is opened or closed
	id    int     // loud reading, or node
	own   int     // of a node: position of its own bit, −1 when it has none
	keep  bool    // of a node: it stays open afterwards
	none  float64 // of a damage: probability that what is fixed does not bring it about
	quiet float64 // of a node: weight of what is quiet when it is present
	pulls []pull  // of a damage: parents that are kept
	at    []eff   // of a node: effects on open bits
	from  int     // of a node: where its table begins in what is kept for the way back
	size  int     // of the table before the step
}

type pull struct {
	bit int
	q   float64 // probability that this parent, when present, does not bring it about
}

type eff struct {
	bit  int
	u, h float64
}

type opKind byte

const (
	openLoud opKind = iota
	openDamage
	decideNode
	sumOut
	closeLoud
)

// Exact sums over everything that can be present, by moving a frontier through the network: a table over the
// loud readings and damages that have been begun and not finished (one bit each: hit or not, there or not),
// then back again for every marginal at once. It reports false when the frontier would become too wide.
func (e *Evidence) Exact() (Exact, bool) {
	ops, ok := e.plan()
	if !ok {
		return Exact{}, false
	}
	kept := 0
	for i := range ops {
		if ops[i].kind == decideNode {
			ops[i].from = kept
			kept += ops[i].size
		}
	}
	store := make([]float64, kept)
	table := append(make([]float64, 0, 1<<10), e.scale)
	var w work
	for _, o := range ops {
		if o.kind == decideNode {
			copy(store[o.from:], table)
		}
		table = w.forward(e, e.loud, o, table, false)
	}
	out := Exact{Total: table[0], Present: make([]float64, e.net.Nodes())}
	for v := range out.Present {
		out.Present[v] = -1
	}
	for r, o := range e.odds {
		if !e.touched(r) {
			out.Total *= 1 + o
			out.Present[r] = o / (1 + o)
		}
	}
	if table[0] == 0 {
		return out, true
	}
	back := append(make([]float64, 0, 1<<10), 1/table[0])
	for i := len(ops) - 1; i >= 0; i-- {
		o := ops[i]
		switch n := len(back) / 2; o.kind {
		case openLoud:
			for s := range n {
				back[s] = e.loud[o.id].missed*back[s] + e.loud[o.id].by*back[n+s]
			}
			back = back[:n]
		case openDamage:
			back = back[:n]
		case decideNode:
			back, out.Present[o.id] = w.backward(e, o, back, store[o.from:o.from+o.size])
		case sumOut:
			back = spread(back, o.bit)
		case closeLoud:
			back = spread(back, o.bit)
			for s := range back {
				if s&(1<<o.bit) == 0 {
					back[s] = 0
				}
			}
		}
	}
	return out, true
}

// work is scratch space for the steps.
type work struct{ on, off []float64 }

// split fills off and on with the weights of a node being absent and present, by state of the table.
func (w *work) split(e *Evidence, o op, n int) {
	w.off, w.on = slices.Grow(w.off[:0], n)[:n], slices.Grow(w.on[:0], n)[:n]
	if o.id < e.net.Roots() {
		for s := range n {
			w.off[s], w.on[s] = 1, e.odds[o.id]
		}
		return
	}
	for s := range n {
		w.off[s] = o.none
	}
	for _, p := range o.pulls {
		for s := range n {
			if s>>p.bit&1 == 1 {
				w.off[s] *= p.q
			}
		}
	}
	if o.own >= 0 {
		for s := range n {
			if s>>o.own&1 == 1 {
				w.off[s] = 0
			}
		}
	}
	for s := range n {
		w.on[s] = 1 - w.off[s]
	}
}

// forward moves the table over one step. absent leaves out the worlds in which the node is present.
func (w *work) forward(e *Evidence, readings []loud, o op, t []float64, absent bool) []float64 {
	n, bit, k := len(t), 1<<max(o.bit, 0), 0
	switch o.kind {
	case openLoud:
		t = append(t, t...)
		for s := range n {
			t[n+s] *= readings[o.id].by
			t[s] *= readings[o.id].missed
		}
	case openDamage:
		t = append(t, t...)
		clear(t[n:])
	case sumOut:
		for s := range t {
			if s&bit == 0 {
				t[k] = t[s] + t[s|bit]
				k++
			}
		}
		t = t[:k]
	case closeLoud:
		for s := range t {
			if s&bit != 0 {
				t[k] = t[s]
				k++
			}
		}
		t = t[:k]
	case decideNode:
		t = w.decide(e, o, t, absent)
	}
	return t
}

func (w *work) decide(e *Evidence, o op, t []float64, absent bool) []float64 {
	n, g := len(t), o.quiet
	if absent {
		g = 0
	}
	w.split(e, o, n)
	for s, x := range t {
		w.off[s] *= x
		w.on[s] *= x * g
	}
	own := 0
	if o.own >= 0 {
		own = 1 << o.own
		for s := range n { // however it was brought about, it is there
			if s&own != 0 {
				w.on[s] += w.on[s&^own]
			}
		}
	}
	apply(w.on, o.at)
	switch {
	case o.keep && own == 0:
		copy(t, w.off)
		return append(t, w.on...)
	case o.keep:
		for s := range n {
			if t[s] = w.off[s]; s&own != 0 {
				t[s] = w.on[s]
			}
		}
		return t
	case own == 0:
		for s := range n {
			t[s] = w.off[s] + w.on[s]
		}
		return t
	}
	k := 0
	for s := range n {
		if s&own == 0 {
			t[k] = w.off[s] + w.on[s|own]
			k++
		}
	}
	return t[:k]
}

// backward undoes the decision of a node on the table of what is still to come, and returns the posterior
// probability that it is present.
func (w *work) backward(e *Evidence, o op, b, before []float64) ([]float64, float64) {
	n := len(before)
	var absent, present []float64
	switch {
	case o.keep && o.own < 0:
		absent, present = b[:n], slices.Clone(b[n:])
	case o.keep:
		absent, present = b, slices.Clone(b)
	case o.own >= 0:
		absent = spread(b, o.own)
		present = slices.Clone(absent)
	default:
		absent, present = b, slices.Clone(b)
	}
	if o.own >= 0 {
		own := 1 << o.own
		for s := range n {
			present[s&^own] = present[s|own]
		}
	}
	transpose(present, o.at)
	w.split(e, o, n)
	out, p := make([]float64, n), 0.0
	for s := range n {
		x := w.on[s] * o.quiet * present[s]
		p += before[s] * x
		out[s] = w.off[s]*absent[s] + x
	}
	return out, p
}

// spread doubles a table: the entry is the same whether the new bit is set or not.
func spread(b []float64, at int) []float64 {
	out := make([]float64, 2*len(b))
	low := 1<<at - 1
	for s := range out {
		out[s] = b[s&low|(s>>1)&^low]
	}
	return out
}

// apply lets a present node have its effects: a clear bit stays clear with u and is set with h, a set bit
// stays set.
func apply(t []float64, effects []eff) {
	for _, x := range effects {
		bit := 1 << x.bit
		for base := 0; base < len(t); base += 2 * bit {
			lo, hi := t[base:base+bit], t[base+bit:base+2*bit]
			for s, v := range lo {
				hi[s] = hi[s]*(x.u+x.h) + v*x.h
				lo[s] = v * x.u
			}
		}
	}
}

func transpose(b []float64, effects []eff) {
	for _, x := range effects {
		bit := 1 << x.bit
		for base := 0; base < len(b); base += 2 * bit {
			lo, hi := b[base:base+bit], b[base+bit:base+2*bit]
			for s, v := range hi {
				lo[s] = x.u*lo[s] + x.h*v
				hi[s] = (x.u + x.h) * v
			}
		}
	}
}
