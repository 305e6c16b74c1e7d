package fasteners

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Place is where a bolt sits in a square from −1 to 1.
type Place struct{ X, Y float64 }

// Lay gives bolts their places: evenly on a circle, along the edge of a rectangle twice as wide as high, or in rows over it. It fails for
// fewer than one or more than 60.
func Lay(count int, lie string) ([]Place, error) {
	if count < 1 || count > 60 {
		return nil, fmt.Errorf("fasteners: %d bolts; want 1 to 60", count)
	}
	out := make([]Place, 0, count)
	switch lie {
	case "edge":
		const w, h = 0.95, 0.5
		round := 4 * (w + h)
		for i := range count {
			at := math.Mod(float64(i)/float64(count)*round+w, round)
			switch {
			case at < 2*w:
				out = append(out, Place{at - w, -h})
			case at < 2*w+2*h:
				out = append(out, Place{w, at - 2*w - h})
			case at < 4*w+2*h:
				out = append(out, Place{w - (at - 2*w - 2*h), h})
			default:
				out = append(out, Place{-w, h - (at - 4*w - 2*h)})
			}
		}
	case "field":
		rows := max(1, int(math.Round(math.Sqrt(float64(count)/2))))
		for r := range rows {
			n := count*(r+1)/rows - count*r/rows
			y := 0.0
			if rows > 1 {
				y = -0.5 + float64(r)/float64(rows-1)
			}
			for i := range n {
				x := 0.0
				if n > 1 {
					x = -0.95 + 1.9*float64(i)/float64(n-1)
				}
				out = append(out, Place{x, y})
			}
		}
	default:
		for i := range count {
			a := 2*math.Pi*float64(i)/float64(count) - math.Pi/2
			out = append(out, Place{0.9 * math.Cos(a), 0.9 * math.Sin(a)})
		}
	}
	return out, nil
}

// Order is the order in which bolts are tightened, by their index: star and crosswise keep what is tight as evenly spread as can be and
// jump as far as can be; from the middle out goes by the distance from the middle and changes sides; round goes one after the other.
func Order(places []Place, pattern string) []int {
	n := len(places)
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	switch pattern {
	case "middle-out":
		slices.SortStableFunc(order, func(a, b int) int {
			return cmp.Compare(math.Hypot(places[a].X, places[a].Y), math.Hypot(places[b].X, places[b].Y))
		})
	case "star", "crosswise":
		order = order[:0]
		done := make([]bool, n)
		sum, last := Place{}, Place{}
		for len(order) < n {
			best, pull, far := -1, math.Inf(1), 0.0
			for i, p := range places {
				if done[i] {
					continue
				}
				d, f := math.Hypot(sum.X+p.X, sum.Y+p.Y), math.Hypot(p.X-last.X, p.Y-last.Y)
				if d < pull-1e-9 || d < pull+1e-9 && f > far+1e-9 {
					best, pull, far = i, d, f
				}
			}
			done[best] = true
			order = append(order, best)
			sum, last = Place{sum.X + places[best].X, sum.Y + places[best].Y}, places[best]
		}
	}
	return order
}
