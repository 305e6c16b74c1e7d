package bayes

import "slices"

// op is one step of the frontier.
type op struct {
	kind   opKind
	bit    int     // position of the bit that is opened or closed
	id     int     // abnormal reading, or node
	own    int     // of a node: position of its own bit, −1 when it has none
	keep   bool    // of a node: it stays open afterwards
	none   float64 // of a damage: probability that what is fixed does not bring it about
	normal float64 // of a node: weight of what is normal when it is present
	pulls  []pull  // of a damage: parents that are kept
	at     []eff   // of a node: effects on open bits
	size   int     // of the table before the step
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
	openAbnormal opKind = iota
	openDamage
	decideNode
	sumOut
	closeLoud
)

// work is scratch space for the steps.
type work struct{ on, off []float64 }

// split fills off and on with the weights of a node being absent and present, by state of the table.
func (w *work) split(o op, n int) {
	w.off, w.on = slices.Grow(w.off[:0], n)[:n], slices.Grow(w.on[:0], n)[:n]
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

// forward moves the table over one step.
func (w *work) forward(readings []abnormalReading, o op, t []float64) []float64 {
	n, bit, k := len(t), 1<<max(o.bit, 0), 0
	switch o.kind {
	case openAbnormal:
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
		t = w.decide(o, t)
	}
	return t
}

func (w *work) decide(o op, t []float64) []float64 {
	n, g := len(t), o.normal
	w.split(o, n)
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
func (w *work) backward(o op, b, before []float64) ([]float64, float64) {
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
	w.split(o, n)
	out, p := make([]float64, n), 0.0
	for s := range n {
		x := w.on[s] * o.normal * present[s]
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
