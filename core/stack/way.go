package stack

import "slices"

// Way is what comes out, in that order, so that the parts named do, from how far the unit is apart: what holds them and what these sit in
// where their way leads through it, and no more. What is out already stays out of it.
func (s *Stack) Way(gone State, parts []int) []int {
	w := way{Stack: s, gone: slices.Clone(gone), begun: make(State, len(s.Parts))}
	if len(parts) == 0 {
		return nil
	}
	targets := slices.Clone(parts)
	slices.Sort(targets) // by the list, which is an order in which all come out
	for _, i := range targets {
		w.take(i)
	}
	if s.passable(gone, w.out) {
		return w.out
	}
	w.out = nil // parts that hold each other in a ring: the list itself is a way, if a longer one
	for i := 1; i <= slices.Max(targets); i++ {
		if !gone[i] {
			w.out = append(w.out, i)
		}
	}
	return w.out
}

// passable reports whether parts come out in this order.
func (s *Stack) passable(gone State, order []int) bool {
	gone = slices.Clone(gone)
	for _, i := range order {
		if len(s.Blocks(gone, i)) > 0 {
			return false
		}
		gone[i] = true
	}
	return true
}

type way struct {
	*Stack
	gone  State
	begun State // parts whose way is being cleared
	out   []int
}

// take clears a part's way and takes it out.
func (w *way) take(i int) {
	if i <= 0 || w.gone[i] || w.begun[i] {
		return
	}
	w.begun[i] = true
	for {
		in := w.Blocks(w.gone, i)
		k := slices.IndexFunc(in, func(q int) bool { return q > 0 && !w.begun[q] && q != w.Parts[i].Holder && !w.gone[q] })
		if k >= 0 {
			w.take(in[k])
			continue
		}
		if len(in) == 0 {
			break
		}
		// What it lies in holds it: that comes out with it first.
		if h := w.holderIn(i); h > 0 {
			w.take(h)
			if w.gone[h] {
				continue
			}
		}
		break
	}
	if !w.gone[i] {
		w.gone[i] = true
		w.out = append(w.out, i)
	}
}

// holderIn is the outermost part that a part lies in and that is still in the unit, 0 for none.
func (w *way) holderIn(i int) int {
	out := 0
	for h := w.Parts[i].Holder; h > 0 && !w.gone[h]; h = w.Parts[h].Holder {
		out = h
	}
	return out
}
