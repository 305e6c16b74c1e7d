package stack

import (
	"cmp"
	"math"
	"slices"
)

// Shift is how far a part stands away from its place in an exploded drawing, mm.
type Shift struct{ X, Y float64 }

// Explode lays what is still in the unit out along its shaft so that nothing hides another: what leaves to the front stands before what
// leaves after it, what leaves to the rear behind, with a gap in between; what sits in a part moves with it. Parts that leave up, down or
// aside go away from the shaft.
func (s *Stack) Explode(gone State, gap float64) []Shift {
	out := make([]Shift, len(s.Parts))
	var front, rear []int
	low, high := s.hull(gone, 0)
	for i, p := range s.Parts {
		if i == 0 || p.Holder >= 0 || gone[i] || len(p.Boxes) == 0 {
			continue
		}
		switch p.Out {
		case "front":
			front = append(front, i)
		case "rear":
			rear = append(rear, i)
		case "down":
			s.carry(gone, i, Shift{0, -gap}, out)
		case "up":
			s.carry(gone, i, Shift{0, gap}, out)
		}
	}
	// Along the shaft: what leaves first to the front stands foremost, what leaves first to the rear hindmost.
	slices.Reverse(rear)
	line := append(slices.Clone(front), rear...)
	_ = low
	at := math.Inf(-1)
	for _, i := range line {
		b := s.hullOf(gone, i)
		x := b.X0
		if at > math.Inf(-1) {
			x = math.Max(at+gap, math.Inf(-1))
		}
		s.carry(gone, i, Shift{x - b.X0, 0}, out)
		at = x + b.X1 - b.X0
	}
	_ = high
	return out
}

func (s *Stack) carry(gone State, p int, by Shift, out []Shift) {
	for _, i := range s.With(gone, p) {
		out[i] = by
	}
}

// hullOf encloses a part with what still sits in it.
func (s *Stack) hullOf(gone State, p int) Box {
	b := Box{math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)}
	for _, i := range s.With(gone, p) {
		for _, x := range s.Parts[i].Boxes {
			b = Box{math.Min(b.X0, x.X0), math.Max(b.X1, x.X1), math.Min(b.Y0, x.Y0), math.Max(b.Y1, x.Y1)}
		}
	}
	return b
}

func (s *Stack) hull(gone State, p int) (float64, float64) {
	b := s.hullOf(gone, p)
	return b.X0, b.X1
}

// Widest lists parts by the room that they take along the shaft, the largest first; a drawing gives these their names first.
func (s *Stack) Widest(gone State) []int {
	var out []int
	for i, p := range s.Parts {
		if i > 0 && p.Holder < 0 && !gone[i] && len(p.Boxes) > 0 {
			out = append(out, i)
		}
	}
	slices.SortStableFunc(out, func(a, b int) int {
		x, y := s.hullOf(gone, a), s.hullOf(gone, b)
		return cmp.Compare(y.X1-y.X0, x.X1-x.X0)
	})
	return out
}
