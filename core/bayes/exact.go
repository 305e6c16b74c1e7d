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

// op is one step of the frontier: open a bit, take in a node, close a bit.
type op struct {
	kind opKind
	bit  int   // position of the bit that is opened or closed
	id   int   // loud reading, or node
	at   []eff // of a node: effects on open bits
	keep int   // of a node: where its table begins in what is kept
	size int   // of the table before the step
}

type eff struct {
	bit  int
	u, h float64
}

type opKind byte

const (
	openLoud opKind = iota
	openDamage
	takeRoot
	takeDamage // closes the damage's own bit
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
	for _, o := range ops {
		if o.kind == takeRoot || o.kind == takeDamage {
			kept += o.size
		}
	}
	store := make([]float64, kept)
	table := make([]float64, 1, 1<<10)
	table[0] = e.scale
	used := 0
	for i := range ops {
		o := &ops[i]
		if o.kind == takeRoot || o.kind == takeDamage {
			o.keep = used
			used += copy(store[used:], table)
		}
		table = e.forward(*o, table)
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
		if o.kind != takeRoot && o.kind != takeDamage {
			back, _ = e.backward(o, back, nil)
			continue
		}
		back, out.Present[o.id] = e.backward(o, back, store[o.keep:o.keep+o.size])
	}
	return out, true
}

func (e *Evidence) forward(o op, t []float64) []float64 {
	n := len(t)
	switch o.kind {
	case openLoud:
		l := e.loud[o.id]
		t = append(t, t...)
		for s := range n {
			t[n+s] *= l.by
			t[s] *= l.missed
		}
	case openDamage:
		t = append(t, make([]float64, n)...)
	case takeRoot:
		on := slices.Clone(t)
		apply(on, o.at)
		f := e.odds[o.id] * e.quiet[o.id]
		for s := range t {
			t[s] += f * on[s]
		}
	case takeDamage:
		on := slices.Clone(t)
		apply(on, o.at)
		f, bit := e.quiet[o.id], 1<<o.bit
		k := 0
		for s := range t {
			if s&bit == 0 {
				t[k] = t[s] + f*on[s|bit]
				k++
			}
		}
		t = t[:k]
	case closeLoud:
		bit := 1 << o.bit
		k := 0
		for s := range t {
			if s&bit != 0 {
				t[k] = t[s]
				k++
			}
		}
		t = t[:k]
	}
	return t
}

// backward undoes a step on the table of what is still to come, and returns the posterior probability of the
// node that the step took in.
func (e *Evidence) backward(o op, b, before []float64) ([]float64, float64) {
	p := 0.0
	switch o.kind {
	case openLoud:
		l, n := e.loud[o.id], len(b)/2
		for s := range n {
			b[s] = l.missed*b[s] + l.by*b[n+s]
		}
		b = b[:n]
	case openDamage:
		b = b[:len(b)/2]
	case takeRoot:
		on := slices.Clone(b)
		transpose(on, o.at)
		f := e.odds[o.id] * e.quiet[o.id]
		for s := range b {
			x := f * on[s]
			p += before[s] * x
			b[s] += x
		}
	case takeDamage:
		wide := spread(b, o.bit)
		on := slices.Clone(wide)
		transpose(on, o.at)
		bit := 1 << o.bit
		for s := range wide {
			if s&bit != 0 {
				wide[s] = e.quiet[o.id] * on[s]
				p += before[s] * wide[s]
			}
		}
		b = wide
	case closeLoud:
		wide := spread(b, o.bit)
		for s := range wide {
			if s&(1<<o.bit) == 0 {
				wide[s] = 0
			}
		}
		b = wide
	}
	return b, p
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
