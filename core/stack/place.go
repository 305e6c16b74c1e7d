package stack

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// touch is how far boxes may overlap and still only touch, mm.
const touch = 0.05

// letIn are kinds that lie in a groove or bore of what they sit in, so that they overlap its box.
var letIn = map[string]bool{"seal": true, "o-ring": true, "ring": true, "bushing": true, "balls": true, "key": true, "spring": true, "needle": true, "plug": true, "gasket": true, "valve": true, "magnet": true, "vent": true, "nut": true, "snap-ring": true}

func overlap(a0, a1, b0, b1 float64) bool { return math.Min(a1, b1)-math.Max(a0, b0) > touch }

// State is what was taken out of what it sat in, by index of part.
type State []bool

// root is the part with which p lies on the bench: the nearest holder that was taken out, or the case.
func (s *Stack) root(gone State, p int) int {
	for h := s.Parts[p].Holder; h >= 0; h = s.Parts[h].Holder {
		if gone[h] {
			return h
		}
	}
	return 0
}

// With is a part, what is lifted out with it, and everything that still sits in these.
func (s *Stack) With(gone State, p int) []int {
	out := []int{p}
	for i := 0; i < len(out); i++ {
		for _, c := range s.children[out[i]] {
			if !gone[c] {
				out = append(out, c)
			}
		}
		for q := range s.Parts {
			if s.Parts[q].with == out[i] && !gone[q] && !slices.Contains(out, q) {
				out = append(out, q)
			}
		}
	}
	return out
}

// Blocks are the parts that keep a part from coming out of what it sits in, in the order of the list: what lies in its way, and what the
// sheet says must be out before.
func (s *Stack) Blocks(gone State, p int) []int {
	part := s.Parts[p]
	var out []int
	for _, a := range append([]int{part.with}, part.after...) {
		if a >= 0 && !gone[a] {
			out = append(out, a)
		}
	}
	out = append(out, s.inWay(gone, p)...)
	slices.Sort(out)
	return slices.Compact(out)
}

// Hinders are the parts in the way of a part that goes back: what it would have to pass. What sits in it goes in with it; what must be out
// before it matters in taking apart alone.
func (s *Stack) Hinders(gone State, p int) []int {
	with := slices.Clone(gone)
	with[p] = false
	return s.inWay(with, p)
}

// inWay are the parts that lie in a part's way out. What is lifted out with another has that one's way.
func (s *Stack) inWay(gone State, p int) []int {
	part := s.Parts[p]
	if part.with >= 0 {
		return nil
	}
	if h := part.Holder; part.Out == "aside" && h >= 0 && !gone[h] && part.Level >= s.Parts[h].Level {
		return []int{h} // out of the plane it comes on the bench alone, unless it is reached before what it sits in
	}
	moving, root := s.With(gone, p), s.root(gone, p)
	var out []int
	for q := range s.Parts {
		if gone[q] && q != root || slices.Contains(moving, q) || q != root && s.root(gone, q) != root {
			continue
		}
		if s.inTheWay(moving, p, q) {
			out = append(out, q)
		}
	}
	return out
}

// inTheWay reports whether q lies in the strip that the moving parts sweep when p leaves.
func (s *Stack) inTheWay(moving []int, p, q int) bool {
	out := s.Parts[p].Out
	if out == "aside" || s.Parts[q].Out == "aside" {
		return false // it lies out of the plane, or goes out of it
	}
	for _, m := range moving {
		if s.hosts(m, q) {
			continue
		}
		for _, a := range s.Parts[m].Boxes {
			for _, b := range s.Parts[q].Boxes {
				if swept(a, b, out) {
					return true
				}
			}
		}
	}
	return false
}

// hosts reports whether m lies let into q, which it sits in directly or through others.
func (s *Stack) hosts(m, q int) bool {
	if s.Parts[m].Out == "aside" {
		return true
	}
	for h := m; letIn[s.Parts[h].Kind]; h = s.Parts[h].Holder {
		if up := max(0, s.Parts[h].Holder); up == q {
			return true
		} else if up == 0 {
			return false
		}
	}
	return false
}

func swept(a, b Box, out string) bool {
	across := overlap(a.Y0, a.Y1, b.Y0, b.Y1)
	along := overlap(a.X0, a.X1, b.X0, b.X1)
	switch out {
	case "front":
		return across && b.X0 < a.X1-touch
	case "rear":
		return across && b.X1 > a.X0+touch
	case "up":
		return along && b.Y1 > a.Y0+touch
	default:
		return along && b.Y0 < a.Y1-touch
	}
}

// overlaps lists pairs of parts that take the same place.
func (c *compiler) overlaps() {
	for i := range c.out.Parts {
		for j := range i {
			if c.out.Parts[i].Out == "aside" || c.out.Parts[j].Out == "aside" || c.out.hosts(i, j) || c.out.hosts(j, i) {
				continue
			}
			if a, b, ok := crossing(c.out.Parts[i].Boxes, c.out.Parts[j].Boxes); ok {
				c.fail(fmt.Sprintf("parts[%d].at", i), fmt.Sprintf("%s takes the place of %s: x %s and %s, y %s and %s", c.s.Parts[i].ID, c.s.Parts[j].ID, span(a.X0, a.X1), span(b.X0, b.X1), span(a.Y0, a.Y1), span(b.Y0, b.Y1)), "boxes that touch at most")
			}
		}
	}
}

func span(from, to float64) string { return fmt.Sprintf("%g..%g", from, to) }

func crossing(as, bs []Box) (Box, Box, bool) {
	for _, a := range as {
		for _, b := range bs {
			if overlap(a.X0, a.X1, b.X0, b.X1) && overlap(a.Y0, a.Y1, b.Y0, b.Y1) {
				return a, b, true
			}
		}
	}
	return Box{}, Box{}, false
}

// place checks that parts have a place of their own, that they come out in the order of the list, at each access with only what that
// access allows, and that they go back in.
func (c *compiler) place() {
	if c.overlaps(); len(c.problems) > 0 {
		return
	}
	for level := range c.around.Levels {
		c.takeOut(level)
	}
	if len(c.problems) == 0 {
		c.putBack()
	}
}

func (c *compiler) takeOut(level int) {
	gone := make(State, len(c.out.Parts))
	for i, p := range c.out.Parts {
		if i == 0 || p.Level > level {
			continue
		}
		if p.Level == level {
			if in := c.out.Blocks(gone, i); len(in) > 0 {
				c.fail(fmt.Sprintf("parts[%d].out", i), fmt.Sprintf("%s cannot come out to the %s here: in the way is %s", p.ID, p.Out, c.names(in)), "a place further down the list, another way out, or what is in the way before it")
			}
		}
		gone[i] = true
	}
}

func (c *compiler) names(in []int) string {
	var out []string
	for _, i := range in {
		out = append(out, c.s.Parts[i].ID)
	}
	return strings.Join(out, ", ")
}

// putBack finds the order of building: the reverse of the list, but for parts that go back elsewhere, and tries it.
func (c *compiler) putBack() {
	var order []int
	for i := len(c.out.Parts) - 1; i > 0; i-- {
		if c.s.Parts[i].Back == "" {
			order = append(order, i)
		}
	}
	for left := true; left; {
		left = false
		for i := len(c.out.Parts) - 1; i > 0; i-- {
			back := c.s.Parts[i].Back
			if back == "" || slices.Contains(order, i) {
				continue
			}
			if at := slices.Index(order, c.index[back]); at >= 0 {
				order, left = slices.Insert(order, at+1, i), true
			} else if c.index[back] == 0 {
				order, left = slices.Insert(order, 0, i), true
			}
		}
	}
	if len(order) != len(c.out.Parts)-1 {
		c.fail("parts", "parts go back after each other in a circle", "back only where building is not the reverse")
		return
	}
	gone := make(State, len(c.out.Parts))
	for i := range gone {
		gone[i] = i > 0
	}
	for _, i := range order {
		gone[i] = false
		for _, ch := range c.out.children[i] {
			if gone[ch] && slices.Index(order, ch) > slices.Index(order, i) && c.s.Parts[ch].Back == "" {
				c.fail(fmt.Sprintf("parts[%d].back", i), fmt.Sprintf("%s goes back before %s, which sits in it", c.s.Parts[i].ID, c.s.Parts[ch].ID), "a later place")
			}
		}
		if in := c.out.Hinders(gone, i); len(in) > 0 {
			c.fail(fmt.Sprintf("parts[%d].back", i), fmt.Sprintf("%s cannot go back here: in the way is %s", c.s.Parts[i].ID, c.names(in)), "an earlier place in building")
		}
	}
	c.out.back = order
}

// Free are the parts that can come out of what they sit in now, in the order of the list, at an access level.
func (s *Stack) Free(gone State, level int) []int {
	var out []int
	for i, p := range s.Parts {
		if i > 0 && !gone[i] && p.Level <= level && len(s.Blocks(gone, i)) == 0 {
			out = append(out, i)
		}
	}
	return out
}

// Back is the order of building, by index of part.
func (s *Stack) Back() []int { return slices.Clone(s.back) }

// Index is the place of a part in the list, −1 when there is none.
func (s *Stack) Index(id string) int {
	return slices.IndexFunc(s.Parts, func(p Part) bool { return p.ID == id })
}

// Children are the parts that sit in a part.
func (s *Stack) Children(p int) []int { return s.children[p] }

// Numbers are what parts are called by in the drawing: 1, 2, … for what leaves the unit, 8.1, 8.2, … for what leaves another part.
func (s *Stack) Numbers() []string {
	out := make([]string, len(s.Parts))
	count := make([]int, len(s.Parts))
	for i, p := range s.Parts {
		if i == 0 {
			continue
		}
		h := max(0, p.Holder)
		count[h]++
		if out[i] = fmt.Sprint(count[h]); h > 0 {
			out[i] = out[h] + "." + out[i]
		}
	}
	return out
}
