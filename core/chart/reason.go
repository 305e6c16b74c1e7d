package chart

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/gearing"
)

// Unknown is the ratio of a gear that no range has.
func Unknown(r gearing.Result) bool { return math.IsNaN(r.Ratio) }

// Solve is Result with the one-way clutches that carry.
func (c *Chart) Solve(s gearing.State) (gearing.Solution, error) {
	r, at, err := c.find(s)
	out := gearing.Solution{Result: r}
	if at >= 0 && r.Coast == gearing.CoastFree {
		out.Holding = slices.Clone(c.rows[at].Holding)
	}
	return out, err
}

// Result is what a state does by the chart. It fails for names that are not there.
func (c *Chart) Result(s gearing.State) (gearing.Result, error) {
	r, _, err := c.find(s)
	return r, err
}

func (c *Chart) find(s gearing.State) (gearing.Result, int, error) {
	for _, id := range slices.Concat(s.Applied, s.Broken, s.Seized) {
		if _, ok := c.elements[id]; !ok {
			return gearing.Result{}, -1, &Error{"state", fmt.Sprintf("no element %q", id), "an element of the sheet"}
		}
	}
	if len(s.Broken)+len(s.Seized) == 0 {
		for i, r := range c.rows {
			if slices.Equal(sorted(s.Applied), sorted(r.Applied)) {
				return r.result, i, nil
			}
		}
	}
	r, at := c.reason(s)
	return r, at, nil
}

// reason holds a state that is no range's against the sets.
func (c *Chart) reason(s gearing.State) (gearing.Result, int) {
	through := func(e Element) bool { return e.Series == "" || slices.Contains(s.Applied, e.Series) }
	var can, fixed []string // one-way clutches that could carry, and what seized ones hold
	for _, e := range c.wheels {
		switch {
		case !through(e) || slices.Contains(s.Broken, e.ID):
		case slices.Contains(s.Seized, e.ID):
			fixed = append(fixed, c.stands(e))
		default:
			can = append(can, e.ID)
		}
	}
	solid := sorted(append(c.effective(s.Applied, nil), fixed...))
	switch at := c.reverse(s, fixed); {
	case at >= 0:
		return c.rows[at].result, at
	case c.twoSleeves(solid) || c.tooMuchForReverse(s, fixed):
		return gearing.Result{Outcome: gearing.Bind}, -1
	}
	best, needs := -1, true
	for i, r := range c.rows {
		if r.Outcome != gearing.Forward || !within(solid, r.set) {
			continue
		}
		missing := without(r.set, solid)
		if !c.covers(can, missing, r.set) || best >= 0 && c.rows[best].height >= r.height {
			continue
		}
		best, needs = i, len(missing) > 0
	}
	if best >= 0 && !needs && c.cannotLetGo(solid, can, c.rows[best].height) {
		return gearing.Result{Outcome: gearing.Bind}, -1
	}
	if best >= 0 {
		out := c.rows[best].result
		out.Coast, out.CoastRatio = gearing.CoastFree, 0
		if !needs {
			out.Coast, out.CoastRatio = gearing.CoastBrakes, out.Ratio
		}
		return out, best
	}
	return c.none(solid, can)
}

// twoSleeves reports whether two sleeves are in that no range has together: two gears at once.
func (c *Chart) twoSleeves(solid []string) bool {
	var in []string
	for _, id := range solid {
		if c.elements[id].Kind == gearing.Selector {
			in = append(in, id)
		}
	}
	return len(in) > 1 && !slices.ContainsFunc(c.rows, func(r row) bool { return within(in, r.Applied) })
}

// tooMuchForReverse reports whether all that reverse needs holds, and more.
func (c *Chart) tooMuchForReverse(s gearing.State, fixed []string) bool {
	have := without(sorted(append(slices.Clone(s.Applied), fixed...)), c.heldBack(s.Applied))
	return slices.ContainsFunc(c.rows, func(r row) bool {
		return r.Outcome == gearing.Reverse && within(r.plain, have) && len(have) > len(r.plain)
	})
}

// reverse finds the reverse range of a state: one-way clutches help nothing there.
func (c *Chart) reverse(s gearing.State, fixed []string) int {
	have := without(sorted(append(slices.Clone(s.Applied), fixed...)), c.heldBack(s.Applied))
	for i, r := range c.rows {
		if r.Outcome == gearing.Reverse && slices.Equal(have, r.plain) {
			return i
		}
	}
	return -1
}

// heldBack are applied brakes in series with a one-way clutch: in reverse it runs free of them. A clutch in series with one drives it.
func (c *Chart) heldBack(applied []string) []string {
	return slices.DeleteFunc(slices.Clone(applied), func(id string) bool { return !c.inSeries(id) || c.elements[id].Kind == gearing.Clutch })
}

// covers reports whether one-way clutches that can carry stand for all of these elements, in a gear in which the chart has them carry:
// in another they may turn the other way.
func (c *Chart) covers(can, missing, set []string) bool {
	for _, id := range missing {
		if !slices.ContainsFunc(can, func(w string) bool { return c.stands(c.elements[w]) == id && c.carries(w, set) }) {
			return false
		}
	}
	return true
}

// carries reports whether a one-way clutch carries in a range with this set.
func (c *Chart) carries(wheel string, set []string) bool {
	return slices.ContainsFunc(c.rows, func(r row) bool { return slices.Equal(r.set, set) && slices.Contains(r.Holding, wheel) })
}

// cannotLetGo reports whether a one-way clutch that carries in a higher gear is on: held in a lower gear it is turned against its grip.
func (c *Chart) cannotLetGo(solid, can []string, height float64) bool {
	for _, r := range c.rows {
		if r.Outcome != gearing.Forward || r.height <= height {
			continue
		}
		for _, id := range r.Holding {
			own := c.stands(c.elements[id])
			if slices.Contains(can, id) && !slices.Contains(solid, own) && within(without(r.set, []string{own}), solid) {
				return true
			}
		}
	}
	return false
}

// none is a state that makes no range.
func (c *Chart) none(solid, can []string) (gearing.Result, int) {
	driven := 0 // one-way clutches that an applied clutch turns
	for _, w := range can {
		if e := c.elements[w]; e.Series != "" && c.elements[e.Series].Kind == gearing.Clutch {
			driven++
		}
	}
	clutches, brakes := true, true
	for _, id := range solid {
		switch c.elements[id].Kind {
		case gearing.Clutch:
			brakes = false
		case gearing.Selector:
			clutches, brakes = false, false
		default:
			clutches = false
		}
	}
	direct := slices.IndexFunc(c.rows, func(r row) bool {
		return r.Outcome == gearing.Forward && c.known && math.Abs(r.Ratio-1) < 0.005
	})
	switch {
	case len(solid) > c.degree && clutches && direct >= 0 && within(c.rows[direct].set, solid):
		return c.rows[direct].result, direct
	case len(solid) > c.degree:
		return gearing.Result{Outcome: gearing.Bind}, -1
	case clutches && direct >= 0 && len(solid) > 0 && len(solid)+driven >= c.degree:
		out := c.rows[direct].result
		if len(solid) < c.degree {
			out.Coast, out.CoastRatio = gearing.CoastFree, 0
		}
		return out, direct
	case len(solid) == c.degree && driven > 0:
		return gearing.Result{Outcome: gearing.Bind}, -1
	case len(solid) < c.degree || brakes:
		return gearing.Result{Outcome: gearing.Neutral}, -1
	}
	return gearing.Result{Outcome: gearing.Forward, Ratio: math.NaN(), Coast: gearing.CoastNone}, -1
}

func within(part, whole []string) bool { return len(without(part, whole)) == 0 }

func without(ids, gone []string) []string {
	return slices.DeleteFunc(slices.Clone(ids), func(id string) bool { return slices.Contains(gone, id) })
}

// Load is a guess at the torque on an element in a range, for an input torque of one: nothing where the range does without it, what
// the printed ratio asks of the case for a brake, the input's own for a clutch.
func (c *Chart) Load(rangeID, element string) float64 {
	i := slices.IndexFunc(c.rows, func(r row) bool { return r.ID == rangeID })
	if i < 0 || !driving(c.rows[i]) {
		return 0
	}
	r := c.rows[i]
	own := element
	for _, e := range c.wheels { // an element in series carries what its one-way clutch does
		if (e.Series == element || e.ID == element) && slices.Contains(r.Holding, e.ID) {
			own = c.stands(e)
		}
	}
	if !slices.Contains(r.set, own) {
		return 0
	}
	brakes := 0
	for _, id := range r.set {
		if k := c.elements[id].Kind; k == gearing.Brake || k == gearing.Band {
			brakes++
		}
	}
	k := c.elements[own].Kind
	switch {
	case (k == gearing.Brake || k == gearing.Band) && c.known:
		return math.Max(0.2, math.Abs(r.result.Ratio-1)) / float64(brakes)
	case k == gearing.Selector && c.known:
		return math.Abs(r.result.Ratio)
	case k == gearing.Clutch && brakes == 0 && c.degree > 1:
		return 0.6
	}
	return 1
}
