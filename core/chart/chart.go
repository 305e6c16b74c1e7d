// Package chart reasons on an apply chart alone: what a unit does when an element is missing or on beside those that a range needs,
// without knowing its gears.
//
// Model. Each range has an effective set: what is applied, with each one-way clutch put in for the element that does the same
// (Beside), and with an element in series with a one-way clutch counting only through it. All sets of a planetary train have the
// same size, its degree. A state is held against these sets: one that makes a range is that gear, the highest that its one-way
// clutches can make; fewer elements than the degree drive nothing; more of them bind, but in direct, where clutches alone hold
// nothing to the case. What no range uses stays open: it drives in a ratio that nobody knows.
//
// On the ten designs that ship, whose gears are known, these rules and the solved gears agree in 99 of 100 cells of what a driver
// notices (measured by the tests of faultmap). They cannot tell which element gives way first, ratios that are no range's, creep
// in neutral, nor two elements on one member. Rules are the trade's way of reading a chart (common practice, no source).
//
// Ratios are input over output; where none is printed they are only an order of the ranges (Known).
package chart

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/gearing"
)

// Element is an element as a chart knows it.
type Element struct {
	ID     string
	Kind   gearing.Kind
	Beside string // of a one-way clutch: the element that holds the same; "" when none does
	Series string // of a one-way clutch: the element that it works through; "" when it works by itself
}

// Range is a row of the chart.
type Range struct {
	ID      string
	Applied []string
	Holding []string // one-way clutches that carry
	Outcome gearing.Outcome
	From    string  // the range that it shifts up from
	Ratio   float64 // as printed, without a sign; 0 when not known
}

// Error says which row or element of a chart cannot be.
type Error struct{ At, Reason, Accepted string }

func (e *Error) Error() string {
	return fmt.Sprintf("%s: %s; accepted: %s", e.At, e.Reason, e.Accepted)
}

// Chart answers for a unit whose gears are not known. It is safe for concurrent use.
type Chart struct {
	elements map[string]Element
	wheels   []Element // one-way clutches
	rows     []row
	degree   int
	known    bool
}

type row struct {
	Range
	set    []string // effective, sorted
	plain  []string // applied and holding, sorted, for reverse
	result gearing.Result
	height float64 // of forward ranges: the higher the faster
}

// New reads a chart. It fails for names that are not there and for rows that can be of no gear train.
func New(elements []Element, ranges []Range) (*Chart, error) {
	c := &Chart{elements: map[string]Element{}, known: true}
	for _, e := range elements {
		c.elements[e.ID] = e
		if e.Kind == gearing.Freewheel {
			c.wheels = append(c.wheels, e)
		}
	}
	for i, e := range elements {
		for field, id := range map[string]string{"beside": e.Beside, "series": e.Series} {
			if _, ok := c.elements[id]; id != "" && (!ok || id == e.ID || e.Kind != gearing.Freewheel) {
				return nil, &Error{fmt.Sprintf("elements[%d].%s", i, field), fmt.Sprintf("%q", id), "another element of the sheet, for a one-way clutch"}
			}
		}
	}
	for i, r := range ranges {
		for _, id := range slices.Concat(r.Applied, r.Holding) {
			if _, ok := c.elements[id]; !ok {
				return nil, &Error{fmt.Sprintf("ranges[%d]", i), fmt.Sprintf("no element %q", id), "an element of the sheet"}
			}
		}
		x := row{Range: r, plain: sorted(slices.Concat(r.Applied, r.Holding))}
		x.set = x.plain
		if r.Outcome == gearing.Forward {
			x.set = c.effective(r.Applied, r.Holding)
		}
		c.rows = append(c.rows, x)
	}
	c.heights()
	c.sizes()
	return c, c.check()
}

// effective translates what is applied and which one-way clutches carry into one set.
func (c *Chart) effective(applied, carrying []string) []string {
	var out []string
	for _, id := range applied {
		if !c.inSeries(id) && c.elements[id].Kind != gearing.Freewheel {
			out = append(out, id)
		}
	}
	for _, id := range carrying {
		out = append(out, c.stands(c.elements[id]))
	}
	return sorted(out)
}

// inSeries reports whether an element works only through a one-way clutch.
func (c *Chart) inSeries(id string) bool {
	return slices.ContainsFunc(c.wheels, func(e Element) bool { return e.Series == id })
}

// stands is the element that a one-way clutch stands for.
func (c *Chart) stands(e Element) string {
	switch {
	case e.Beside != "":
		return e.Beside
	case e.Series != "":
		return e.Series
	}
	return e.ID
}

func sorted(ids []string) []string {
	out := slices.Clone(ids)
	slices.Sort(out)
	return slices.Compact(out)
}

// heights orders the forward ranges, by printed ratio or by how they are shifted into, and gives each its result.
func (c *Chart) heights() {
	steps := map[string]float64{}
	for _, r := range c.rows {
		if r.Outcome == gearing.Forward && r.Ratio == 0 || r.Outcome == gearing.Reverse && r.Ratio == 0 {
			c.known = false
		}
	}
	for i := range c.rows {
		r := &c.rows[i]
		key := fmt.Sprint(r.Outcome, r.set)
		switch {
		case r.Outcome != gearing.Forward && r.Outcome != gearing.Reverse:
			r.result = gearing.Result{Outcome: r.Outcome}
			continue
		case c.known:
			r.height = -r.Ratio
		default:
			if _, ok := steps[key]; !ok {
				steps[key] = float64(c.depth(r.Range, len(c.rows))) + float64(len(steps))*1e-6
			}
			r.height = steps[key]
		}
		ratio := r.Ratio
		if !c.known { // an order, not a value: each gear a fifth faster than the one below
			ratio = 4 * math.Pow(0.8, r.height)
		}
		coast := gearing.CoastBrakes
		if len(r.Holding) > 0 {
			coast = gearing.CoastFree
		}
		if r.Outcome == gearing.Reverse {
			ratio = -ratio
		}
		r.result = gearing.Result{Outcome: r.Outcome, Ratio: ratio, Coast: coast}
		if coast == gearing.CoastBrakes {
			r.result.CoastRatio = ratio
		}
	}
}

// depth is how many upshifts lie below a range.
func (c *Chart) depth(r Range, most int) int {
	at, n := r, 0
	for at.From != "" && n < most {
		i := slices.IndexFunc(c.rows, func(x row) bool { return x.ID == at.From })
		if i < 0 {
			break
		}
		at = c.rows[i].Range
		n++
	}
	return n
}

// sizes takes the commonest size of a forward range's set as the degree.
func (c *Chart) sizes() {
	count := map[int]int{}
	for _, r := range c.rows {
		if r.Outcome == gearing.Forward {
			count[len(r.set)]++
		}
	}
	for size, n := range count {
		if n > count[c.degree] || n == count[c.degree] && size < c.degree {
			c.degree = size
		}
	}
}

// check refuses ranges that hold the same and do something else.
func (c *Chart) check() error {
	for i, r := range c.rows {
		for j, o := range c.rows[:i] {
			if r.result.Outcome != o.result.Outcome && slices.Equal(sorted(r.Applied), sorted(o.Applied)) && driving(r) != driving(o) {
				return &Error{fmt.Sprintf("ranges[%d].applied", i), fmt.Sprintf("%s holds the same as %s, which is %s", r.ID, o.ID, o.Outcome), "other elements, or the same outcome"}
			}
			if c.known && driving(r) && driving(o) && r.Outcome == o.Outcome && slices.Equal(r.set, o.set) && math.Abs(r.Ratio-c.rows[j].Ratio) > 0.02*r.Ratio {
				return &Error{fmt.Sprintf("ranges[%d].ratio", i), fmt.Sprintf("%s holds the same as %s, whose ratio is %v", r.ID, o.ID, o.Ratio), "the same ratio, or other elements"}
			}
		}
	}
	return nil
}

func driving(r row) bool { return r.Outcome == gearing.Forward || r.Outcome == gearing.Reverse }

// Known reports whether the ratios are printed ones.
func (c *Chart) Known() bool { return c.known }

// Degree is how many elements a range needs.
func (c *Chart) Degree() int { return c.degree }

// Odd lists ranges whose set is not of the usual size, with the size: a mark too many or too few.
func (c *Chart) Odd() map[string]int {
	out := map[string]int{}
	for _, r := range c.rows {
		if driving(r) && len(r.set) != c.degree {
			out[r.ID] = len(r.set)
		}
	}
	return out
}

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
