package stack

import (
	"math"
	"slices"
)

// Shift is how far a part stands away from its place in an exploded drawing, mm.
type Shift struct{ X, Y float64 }

// Explode lays what is still in the unit out along its shaft so that nothing hides another: what leaves to the front stands before the
// case in the order in which it leaves, what leaves to the rear behind it, with a gap in between; what sits in a part or is lifted with it
// moves with it. Parts that leave up or down stand off the case.
func (s *Stack) Explode(gone State, gap float64) []Shift {
	out := make([]Shift, len(s.Parts))
	placed := make(State, len(s.Parts))
	line := s.leaving(gone, "front")
	rear := s.leaving(gone, "rear")
	slices.Reverse(rear) // what leaves first stands hindmost
	line = append(append(line, 0), rear...)
	at := s.Hull(gone, line[0]).X0
	for _, i := range line {
		if placed[i] {
			continue
		}
		group := []int{i}
		if i > 0 {
			group = s.With(gone, i)
		}
		b := hullOf(s, group)
		for _, k := range group {
			out[k], placed[k] = Shift{X: at - b.X0}, true
		}
		at += b.X1 - b.X0 + gap
	}
	for i, p := range s.Parts {
		if i == 0 || p.Holder >= 0 || gone[i] || placed[i] {
			continue
		}
		y := map[string]float64{"down": -gap, "up": gap}[p.Out]
		for _, k := range s.With(gone, i) {
			out[k] = Shift{out[0].X, y}
		}
	}
	return out
}

// leaving are the parts with a place that leave the unit this way, in order.
func (s *Stack) leaving(gone State, way string) []int {
	var out []int
	for i, p := range s.Parts {
		if i > 0 && p.Holder < 0 && !gone[i] && len(p.Boxes) > 0 && p.Out == way {
			out = append(out, i)
		}
	}
	return out
}

// Hull encloses a part with what leaves with it; the case by itself.
func (s *Stack) Hull(gone State, p int) Box {
	if p == 0 {
		return hullOf(s, []int{0})
	}
	return hullOf(s, s.With(gone, p))
}

func hullOf(s *Stack, parts []int) Box {
	b := Box{math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)}
	for _, i := range parts {
		for _, x := range s.Parts[i].Boxes {
			b = Box{math.Min(b.X0, x.X0), math.Max(b.X1, x.X1), math.Min(b.Y0, x.Y0), math.Max(b.Y1, x.Y1)}
		}
	}
	return b
}
