package leak

import "math"

// Shares of oil that go on, once they meet the next zone (common practice, no source).
const (
	down  = 0.85 // to what lies below
	along = 0.30 // back along a joint at the same height
	ahead = 0.12 // forward or across at the same height
	blown = 0.70 // back, in the wind of the road
	mist  = 0.60 // of that, on what hangs higher
	lift  = 12.0 // by which its lower edge may hang higher, in parts of the height
)

// span is one axis of a box.
func (b Box) span(axis int) (low, high float64) {
	switch axis {
	case 0:
		return b.X, b.X + b.W
	case 1:
		return b.Y, b.Y + b.H
	}
	return b.Z, b.Z + b.D
}

// gap between two boxes along an axis: 0 where they overlap.
func gap(a, b Box, axis int) float64 {
	al, ah := a.span(axis)
	bl, bh := b.span(axis)
	return math.Max(0, math.Max(bl-ah, al-bh))
}

// Falls beyond these are through the unit itself, or caught on the way: oil on top runs over the sides.
const (
	farthest = 30.0 // from zone to zone
	highest  = 40.0 // from a zone to the floor
)

// edge is the share of a zone's oil that reaches another one directly. What is hidden leaves by its paths only.
func edge(a, b Zone, wind, across bool) float64 {
	if a.Hidden || b.Hidden || a.Floor {
		return 0
	}
	share := 0.0
	lowA, highA := a.Box.span(1)
	_, highB := b.Box.span(1)
	dx, dz := gap(a.Box, b.Box, 0), gap(a.Box, b.Box, 2)
	fall := lowA - highB
	under := fall >= -1 && dx < 0.5 && dz < 0.5
	if b.Floor {
		if under && lowA <= highest {
			return down * math.Exp(-fall/60)
		}
		return 0
	}
	if under && fall <= farthest {
		share = down * math.Exp(-math.Max(0, fall)/60)
	}
	back, beside, behind := b.Box.X+b.Box.W/2-a.Box.X-a.Box.W/2, dz, dx
	if across {
		back, behind, beside = b.Box.Z+b.Box.D/2-a.Box.Z-a.Box.D/2, dz, dx
	}
	if gap(a.Box, b.Box, 1) == 0 && dx <= 5 && dz <= 5 {
		if back > 0 {
			share = math.Max(share, along)
		} else {
			share = math.Max(share, ahead)
		}
	}
	// What hangs lower or level is met by the wind, the lower edge of what hangs higher by some of it.
	if lowB, _ := b.Box.span(1); wind && back > 0 && lowB <= highA+lift && beside <= 4 {
		met := blown * math.Exp(-behind/25) * math.Min(1, back/15)
		if highB > highA+2 {
			met *= mist
		}
		share = math.Max(share, met)
	}
	return share
}

// reach is the share of each source's oil that comes to each zone by its best way, with the zone before it on that way.
type reach struct {
	share  []float64
	before []int
}

// flow computes the reach of every source: widest paths over the zones.
func (m Map) flow(wind bool) []reach {
	n := len(m.Zones)
	edges := make([][]float64, n)
	place := map[string]int{}
	for i, z := range m.Zones {
		place[z.ID] = i
		edges[i] = make([]float64, n)
		for j, to := range m.Zones {
			if i != j {
				edges[i][j] = edge(z, to, wind, m.Across)
			}
		}
	}
	for _, p := range m.Paths {
		i, j := place[p.From], place[p.To]
		edges[i][j] = math.Max(edges[i][j], p.Share)
	}
	out := make([]reach, len(m.Sources))
	for s, source := range m.Sources {
		r := reach{make([]float64, n), make([]int, n)}
		for i := range r.before {
			r.before[i] = -1
		}
		if source.When != Inner {
			r.share[place[source.Zone]] = 0.97
			done := make([]bool, n)
			for range n {
				best := -1
				for i, p := range r.share {
					if !done[i] && p > 0.01 && (best < 0 || p > r.share[best]) {
						best = i
					}
				}
				if best < 0 {
					break
				}
				done[best] = true
				for j, e := range edges[best] {
					if p := r.share[best] * e; p > r.share[j] {
						r.share[j], r.before[j] = p, best
					}
				}
			}
		}
		out[s] = r
	}
	return out
}

// through are the ids of the zones on the way to a zone, the source's own first.
func (r reach) through(zones []Zone, to int) []string {
	var out []string
	for i := to; i >= 0; i = r.before[i] {
		out = append([]string{zones[i].ID}, out...)
	}
	return out
}
