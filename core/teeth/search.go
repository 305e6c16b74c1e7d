package teeth

import (
	"cmp"
	"context"
	"math"
	"slices"
)

// want is what one printed ratio asks: the quotient within an interval.
type want struct {
	id     string
	ratio  Ratio
	lo, hi float64
}

func (w want) admits(x float64) bool { return x >= w.lo-1e-12 && x <= w.hi+1e-12 }

// leaf is one combination of values, by unknown; those that no ratio binds are −1. Ways is how many combinations it stands for.
type leaf struct {
	at   []int
	ways float64
}

// most leaves that are listed; more are counted as "at least".
const mostLeaves = 20000

type search struct {
	ctx    context.Context
	train  Train
	kinds  []unknown
	values []list // by unknown, those that pass what asks of one unknown alone
	wants  []want
	full   bool // there are more than mostLeaves
}

// newSearch cuts each list by the ratios that depend on that unknown alone.
func newSearch(ctx context.Context, t Train, wants []want) *search {
	s := &search{ctx: ctx, train: t, kinds: t.unknowns()}
	for _, u := range s.kinds {
		s.values = append(s.values, t.list(u))
	}
	x := make([]float64, len(s.kinds))
	for _, w := range wants {
		if len(w.ratio.over) != 1 {
			s.wants = append(s.wants, w)
			continue
		}
		k := w.ratio.over[0]
		s.values[k] = slices.DeleteFunc(slices.Clone(s.values[k]), func(v value) bool {
			x[k] = v.x
			return !w.admits(w.ratio.At(x))
		})
	}
	return s
}

// groups are sets of unknowns that bind each other: those of one ratio, and the two of a set with two suns.
func (s *search) groups(members []int, wants []want) [][]int {
	to := map[int]int{}
	for _, k := range members {
		to[k] = k
	}
	var root func(int) int
	root = func(k int) int {
		if to[k] != k {
			to[k] = root(to[k])
		}
		return to[k]
	}
	join := func(over []int) {
		first := -1
		for _, k := range over {
			if _, ok := to[k]; !ok {
				continue
			}
			if first < 0 {
				first = k
				continue
			}
			to[root(k)] = root(first)
		}
	}
	for _, w := range wants {
		join(w.ratio.over)
	}
	for k, u := range s.kinds {
		if u.small {
			join([]int{k - 1, k})
		}
	}
	var out [][]int
	for _, k := range members {
		if root(k) != k {
			continue
		}
		var g []int
		for _, o := range members {
			if root(o) == k {
				g = append(g, o)
			}
		}
		out = append(out, g)
	}
	return out
}

// box is a range of indices for each unknown, both ends included.
type box struct{ lo, hi []int }

func (b box) clone() box { return box{slices.Clone(b.lo), slices.Clone(b.hi)} }

// whole is the box of all values; ok is false when an unknown has none.
func (s *search) whole() (box, bool) {
	b := box{make([]int, len(s.values)), make([]int, len(s.values))}
	for k, l := range s.values {
		if len(l) == 0 {
			return b, false
		}
		b.hi[k] = len(l) - 1
	}
	return b, true
}

// solve lists the fits of one group of unknowns within a box. One unknown of a train of gear pairs that many ratios share (a head
// set) is tried value by value, so that the others fall apart.
func (s *search) solve(group []int, b box) []leaf {
	wants := touching(s.wants, group)
	if hub := s.hub(group, wants); hub >= 0 {
		return s.byHub(group, hub, wants, b)
	}
	return s.branch(group, wants, b)
}

// hub is the pair of gears, or the final drive, that the most ratios share, −1 where there is none to gain by.
func (s *search) hub(group []int, wants []want) int {
	at, most := -1, 1
	for _, k := range group {
		if s.kinds[k].set >= 0 {
			return -1
		}
		n := 0
		for _, w := range wants {
			if slices.Contains(w.ratio.over, k) {
				n++
			}
		}
		if n > most {
			at, most = k, n
		}
	}
	if len(group) < 3 {
		return -1
	}
	return at
}

func (s *search) byHub(group []int, hub int, wants []want, b box) []leaf {
	rest := slices.DeleteFunc(slices.Clone(group), func(k int) bool { return k == hub })
	var loose []want
	for _, w := range wants {
		w.ratio.over = slices.DeleteFunc(slices.Clone(w.ratio.over), func(k int) bool { return k == hub })
		loose = append(loose, w)
	}
	parts := s.groups(rest, loose)
	var out []leaf
	for i := b.lo[hub]; i <= b.hi[hub]; i++ {
		if s.ctx.Err() != nil {
			return out
		}
		at := b.clone()
		at.lo[hub], at.hi[hub] = i, i
		best := leaf{at: s.none(), ways: 1}
		best.at[hub] = i
		for _, p := range parts {
			fits := s.branch(p, touching(wants, p), at)
			if len(fits) == 0 {
				best.ways = 0
				break
			}
			best.ways *= float64(len(fits))
			top := slices.MaxFunc(fits, func(a, b leaf) int { return cmp.Compare(s.likely(a), s.likely(b)) })
			for _, k := range p {
				best.at[k] = top.at[k]
			}
		}
		if best.ways > 0 {
			out = append(out, best)
		}
	}
	return out
}

func touching(wants []want, group []int) []want {
	var out []want
	for _, w := range wants {
		if slices.ContainsFunc(w.ratio.over, func(k int) bool { return slices.Contains(group, k) }) {
			out = append(out, w)
		}
	}
	return out
}

func (s *search) none() []int {
	out := make([]int, len(s.kinds))
	for i := range out {
		out[i] = -1
	}
	return out
}

// branch is branch and bound over the unknowns of a group.
func (s *search) branch(group []int, wants []want, b box) []leaf {
	var out []leaf
	stack := []box{b.clone()}
	gain := make([]float64, len(s.kinds))
	corners := &corners{}
	for n := 0; len(stack) > 0; n++ {
		if n%1024 == 0 && s.ctx.Err() != nil {
			return out
		}
		top := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		clear(gain)
		alive := true
		for _, w := range wants {
			if alive = corners.look(s, w, top, gain); !alive {
				break
			}
		}
		if !alive {
			continue
		}
		split := -1
		for _, k := range group {
			if top.lo[k] < top.hi[k] && (split < 0 || gain[k] > gain[split] || gain[k] == gain[split] && top.hi[k]-top.lo[k] > top.hi[split]-top.lo[split]) {
				split = k
			}
		}
		if split < 0 {
			if l := (leaf{at: s.none(), ways: 1}); s.together(group, top) {
				for _, k := range group {
					l.at[k] = top.lo[k]
				}
				if out = append(out, l); len(out) >= mostLeaves {
					s.full = true
					return out
				}
			}
			continue
		}
		mid := (top.lo[split] + top.hi[split]) / 2
		low, high := top.clone(), top
		low.hi[split], high.lo[split] = mid, mid+1
		stack = append(stack, high, low)
	}
	return out
}

// together reports whether the two proportions of each set with two suns have teeth in common.
func (s *search) together(group []int, b box) bool {
	for _, k := range group {
		if s.kinds[k].small && len(joined(s.values[k-1][b.lo[k-1]], s.values[k][b.lo[k]])) == 0 {
			return false
		}
	}
	return true
}

// corners holds what a quotient is on the corners of a box.
type corners struct{ p, q []float64 }

// look reports whether a box may hold a fit, and adds to gain how much each unknown moves the ratio, in widths of its interval.
func (c *corners) look(s *search, w want, b box, gain []float64) bool {
	n := len(w.ratio.p)
	c.p, c.q = append(c.p[:0], w.ratio.p...), append(c.q[:0], w.ratio.q...)
	for i, k := range w.ratio.over {
		lo, hi := s.values[k][b.lo[k]].x, s.values[k][b.hi[k]].x
		bit := 1 << i
		for mask := range n {
			if mask&bit == 0 {
				p0, p1, q0, q1 := c.p[mask], c.p[mask|bit], c.q[mask], c.q[mask|bit]
				c.p[mask], c.p[mask|bit] = p0+lo*p1, p0+hi*p1
				c.q[mask], c.q[mask|bit] = q0+lo*q1, q0+hi*q1
			}
		}
	}
	least, most := math.Inf(1), math.Inf(-1)
	for mask := range n {
		if c.q[mask] == 0 || (c.q[mask] > 0) != (c.q[0] > 0) { // no bound here: split what is widest
			point := true
			for _, k := range w.ratio.over {
				gain[k] += float64(b.hi[k] - b.lo[k])
				point = point && b.lo[k] == b.hi[k]
			}
			return !point
		}
		c.p[mask] /= c.q[mask]
		least, most = math.Min(least, c.p[mask]), math.Max(most, c.p[mask])
	}
	if least > w.hi+1e-12 || most < w.lo-1e-12 {
		return false
	}
	width := math.Max(w.hi-w.lo, 1e-9)
	for i, k := range w.ratio.over {
		bit, far := 1<<i, 0.0
		for mask := range n {
			if mask&bit == 0 {
				far = math.Max(far, math.Abs(c.p[mask]-c.p[mask|bit]))
			}
		}
		gain[k] += far / width
	}
	return true
}
