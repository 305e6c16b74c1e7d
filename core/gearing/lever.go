package gearing

import "math"

// LeverPoint is a member's place on the lever [1]: speeds of all members on one lever lie on a
// straight line over their positions. The output stands at 0.
type LeverPoint struct {
	Member   string
	Position float64
}

// Lever finds the largest group of members that form one lever with the output, from the speeds of
// several states. Members that no state determines, or that belong to another set, are left out; a
// train whose states never separate two members of the group has no lever (nil).
func Lever(output string, members []string, states []Solution) []LeverPoint {
	var best []LeverPoint
	for _, base := range members {
		if base == output {
			continue
		}
		points := []LeverPoint{{output, 0}}
		for _, m := range members {
			if m == output {
				continue
			}
			if p, ok := place(output, base, m, states); ok {
				points = append(points, LeverPoint{m, p})
			}
		}
		if len(points) > len(best) {
			best = points
		}
	}
	if distinct(best) < 3 {
		return nil
	}
	return best
}

// distinct counts places: members that always turn as one share theirs, and two places make no lever.
func distinct(points []LeverPoint) int {
	n := 0
	for i, p := range points {
		apart := true
		for _, q := range points[:i] {
			apart = apart && math.Abs(p.Position-q.Position) > 1e-6
		}
		if apart {
			n++
		}
	}
	return n
}

// place fits the position of m with output at 0 and base at 1; ok when every state agrees and m is not
// merely coupled to a member in some of them.
func place(output, base, m string, states []Solution) (position float64, ok bool) {
	num, den := 0.0, 0.0
	used := 0
	for _, s := range states {
		o, ok1 := s.Speeds[output]
		b, ok2 := s.Speeds[base]
		w, ok3 := s.Speeds[m]
		if !ok1 || !ok2 || !ok3 {
			continue
		}
		used++
		num += (w - o) * (b - o)
		den += (b - o) * (b - o)
	}
	if used < 3 || den < eps {
		return 0, false
	}
	position = num / den
	for _, s := range states {
		o, ok1 := s.Speeds[output]
		b, ok2 := s.Speeds[base]
		w, ok3 := s.Speeds[m]
		if ok1 && ok2 && ok3 && math.Abs(w-o-position*(b-o)) > 1e-6 {
			return 0, false
		}
	}
	return position, true
}
