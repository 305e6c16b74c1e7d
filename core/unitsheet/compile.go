package unitsheet

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/quantity"
)

// Unit is a sheet that has been checked, parsed and solved.
type Unit struct {
	Sheet        Sheet
	Train        gearing.Train
	Ranges       []Range
	Elements     []Element
	Limits       map[string]quantity.Window
	Stall        quantity.Window
	MaxTorque    quantity.Quantity
	IdleSpeed    quantity.Quantity
	BetweenMarks quantity.Quantity // volume
	MarksApart   quantity.Quantity // length
	Capacity     quantity.Quantity // fluid, dry fill
	Refill       quantity.Quantity
	FluidTemp    quantity.Window
	ClimbMinutes []float64 // by Access: from the level before
}

// Range is a solved range.
type Range struct {
	ID, Selector, Name string
	Applied            []string
	From               string // "" when it is entered with the selector
	LineIdle           quantity.Window
	Healthy            gearing.Solution
}

// Element is a solved element.
type Element struct {
	ID, Name string
	Kind     gearing.Kind
	Feed     string
	Capacity quantity.Quantity
	Hours    float64
	Access   Access
}

// Driving reports whether the range drives in health.
func (r Range) Driving() bool {
	return r.Healthy.Outcome == gearing.Forward || r.Healthy.Outcome == gearing.Reverse
}

// Range returns the range with this id.
func (u *Unit) Range(id string) (Range, bool) {
	for _, r := range u.Ranges {
		if r.ID == id {
			return r, true
		}
	}
	return Range{}, false
}

// Element returns the element with this id.
func (u *Unit) Element(id string) (Element, bool) {
	for _, e := range u.Elements {
		if e.ID == id {
			return e, true
		}
	}
	return Element{}, false
}

// Climb returns the minutes to get from one access level to another; going back is free
// here, since closing up is part of every repair.
func (u *Unit) Climb(from, to Access) float64 {
	minutes := 0.0
	for l := from + 1; l <= to; l++ {
		minutes += u.ClimbMinutes[l]
	}
	return minutes
}

var idPattern = regexp.MustCompile(`^[a-z][a-z0-9-]{1,39}$`)

type compiler struct {
	s        Sheet
	u        *Unit
	problems []*Problem
}

// Compile checks, parses and solves a sheet. Either the unit or at least one problem is returned.
func Compile(s Sheet) (*Unit, []*Problem) {
	c := &compiler{s: s, u: &Unit{Sheet: s, Limits: map[string]quantity.Window{}}}
	c.head()
	c.train()
	c.access()
	c.quantities()
	c.elements()
	c.ranges()
	c.rest()
	if len(c.problems) > 0 {
		return nil, c.problems
	}
	return c.u, nil
}

func (c *compiler) fail(path, reason, accepted string) {
	c.problems = append(c.problems, &Problem{path, reason, accepted})
}

func (c *compiler) head() {
	if c.s.Format != Format {
		c.fail("format", fmt.Sprintf("%q is not a unit sheet of this version", c.s.Format), Format)
	}
	if !idPattern.MatchString(c.s.ID) {
		c.fail("id", fmt.Sprintf("%q", c.s.ID), "2 to 40 lower-case letters, digits and hyphens, beginning with a letter")
	}
	if c.s.Version < 1 {
		c.fail("version", fmt.Sprint(c.s.Version), "1 or more")
	}
	if c.s.Control != "hydraulic" && c.s.Control != "electronic" {
		c.fail("control", fmt.Sprintf("%q", c.s.Control), "hydraulic or electronic")
	}
	if strings.TrimSpace(c.s.Name) == "" {
		c.fail("name", "empty", "the name of the unit")
	}
}

func (c *compiler) train() {
	g := c.s.Gearing
	t := gearing.Train{Members: g.Members, Input: g.Input, Output: g.Output, ForwardSign: g.ForwardSign}
	for _, m := range g.Meshes {
		t.Meshes = append(t.Meshes, gearing.Mesh(m))
	}
	for _, l := range g.Links {
		t.Links = append(t.Links, gearing.Link{A: l.A, B: l.B})
	}
	for _, e := range c.s.Elements {
		t.Elements = append(t.Elements, gearing.Element{ID: e.ID, Kind: gearing.Kind(e.Kind), A: e.A, B: e.B})
	}
	for _, bad := range t.Validate() {
		path := bad.Field
		if !strings.HasPrefix(path, "elements") {
			path = "gearing." + path
		}
		c.fail(path, bad.Reason, bad.Accepted)
	}
	for i, s := range g.Sets {
		err := gearing.CheckSimpleSet(s.Sun, s.Planet, s.Ring, s.Count)
		if s.SmallSun > 0 {
			err = gearing.CheckCompoundSet(s.Sun, s.SmallSun, s.Planet, s.Short, s.Ring, s.Count)
		}
		if err != nil {
			c.fail(fmt.Sprintf("gearing.sets[%d]", i), strings.TrimPrefix(err.Error(), "gearing: "), "tooth counts that mesh and assemble")
		}
	}
	for m := range g.Names {
		if !slices.Contains(g.Members, m) {
			c.fail("gearing.names."+m, "not a member", fmt.Sprint(g.Members))
		}
	}
	c.u.Train = t
}

func (c *compiler) access() {
	c.u.ClimbMinutes = make([]float64, len(AccessNames))
	seen := make([]bool, len(AccessNames))
	for i, a := range c.s.Access {
		path := fmt.Sprintf("access[%d]", i)
		level, ok := c.level(path+".level", a.Level)
		if !ok {
			continue
		}
		if a.Minutes < 0 || a.Minutes > 6000 || math.IsNaN(a.Minutes) {
			c.fail(path+".minutes", fmt.Sprint(a.Minutes), "0 to 6000")
		}
		c.u.ClimbMinutes[level], seen[level] = a.Minutes, true
	}
	for l, ok := range seen {
		if !ok {
			c.fail("access", "no time for level "+AccessNames[l], "one entry for each of "+strings.Join(AccessNames, ", "))
		}
	}
}

func (c *compiler) level(path, name string) (Access, bool) {
	a, err := ParseAccess(name)
	if err != nil {
		p := err.(*Problem)
		c.fail(path, p.Reason, p.Accepted)
		return 0, false
	}
	return a, true
}

func (c *compiler) quantity(path, text string, d quantity.Dimension) quantity.Quantity {
	q, err := quantity.Parse(text, d, "")
	if err != nil {
		c.quantityError(path, err)
	}
	return q
}

func (c *compiler) window(path, text string, d quantity.Dimension) quantity.Window {
	w, err := quantity.ParseWindow(text, d, "")
	if err != nil {
		c.quantityError(path, err)
	}
	return w
}

func (c *compiler) quantityError(path string, err error) {
	pe, ok := err.(*quantity.ParseError)
	if !ok {
		c.fail(path, err.Error(), "")
		return
	}
	c.fail(path, fmt.Sprintf("%q: %s", pe.Text, pe.Reason), pe.Accepted)
}

func (c *compiler) quantities() {
	u, s := c.u, c.s
	u.Stall = c.window("converter.stall", s.Converter.Stall, quantity.RotationalSpeed)
	c.quantity("converter.seating", s.Converter.Seating, quantity.Length)
	u.MaxTorque = c.quantity("engine.max_torque", s.Engine.MaxTorque, quantity.Torque)
	u.IdleSpeed = c.quantity("engine.idle_speed", s.Engine.IdleSpeed, quantity.RotationalSpeed)
	u.BetweenMarks = c.quantity("fluid.level.between_marks", s.Fluid.Level.BetweenMarks, quantity.Volume)
	u.MarksApart = c.quantity("fluid.level.marks_apart", s.Fluid.Level.MarksApart, quantity.Length)
	u.Capacity = c.quantity("fluid.capacity", s.Fluid.Capacity, quantity.Volume)
	u.Refill = c.quantity("fluid.refill", s.Fluid.Refill, quantity.Volume)
	u.FluidTemp = c.window("fluid.level.temperature", s.Fluid.Level.Temperature, quantity.Temperature)
	for i, l := range s.Limits {
		path := fmt.Sprintf("limits[%d]", i)
		if _, twice := u.Limits[l.ID]; twice || l.ID == "" {
			c.fail(path+".id", fmt.Sprintf("%q is empty or used twice", l.ID), "an id of its own")
		}
		if len(quantity.UnitsOf(quantity.Dimension(l.Dimension))) == 0 {
			c.fail(path+".dimension", fmt.Sprintf("%q", l.Dimension), "length, pressure, torque, volume, …")
			continue
		}
		u.Limits[l.ID] = c.window(path+".window", l.Window, quantity.Dimension(l.Dimension))
		if l.Element != "" {
			c.elementKnown(path+".element", l.Element)
		}
	}
}

func (c *compiler) elementKnown(path, id string) {
	for _, e := range c.s.Elements {
		if e.ID == id {
			return
		}
	}
	var ids []string
	for _, e := range c.s.Elements {
		ids = append(ids, e.ID)
	}
	c.fail(path, fmt.Sprintf("no element %q", id), strings.Join(ids, ", "))
}

func (c *compiler) elements() {
	for i, e := range c.s.Elements {
		path := fmt.Sprintf("elements[%d]", i)
		level, _ := c.level(path+".access", e.Access)
		out := Element{ID: e.ID, Name: e.Name, Kind: gearing.Kind(e.Kind), Feed: e.Feed, Hours: e.Hours, Access: level,
			Capacity: c.quantity(path+".capacity", e.Capacity, quantity.Torque)}
		if e.Name == "" {
			c.fail(path+".name", "empty", "what people call it")
		}
		if out.Kind != gearing.Freewheel && !slices.ContainsFunc(c.s.Feeds, func(f FeedSheet) bool { return f.ID == e.Feed }) {
			c.fail(path+".feed", fmt.Sprintf("no feed %q", e.Feed), "an id from feeds")
		}
		c.u.Elements = append(c.u.Elements, out)
	}
	for i, f := range c.s.Feeds {
		for j, id := range f.Serves {
			c.elementKnown(fmt.Sprintf("feeds[%d].serves[%d]", i, j), id)
		}
	}
}

// ranges solves every range and refuses a sheet whose declared outcome or
// holding freewheels differ from the solved ones: a wrong forward sign, a missing race or
// a mistyped tooth count shows here and nowhere else.
func (c *compiler) ranges() {
	before := len(c.problems)
	for i, r := range c.s.Ranges {
		path := fmt.Sprintf("ranges[%d]", i)
		for j, id := range r.Applied {
			c.elementKnown(fmt.Sprintf("%s.applied[%d]", path, j), id)
		}
		if slices.IndexFunc(c.s.Ranges, func(o RangeSheet) bool { return o.ID == r.ID }) != i || r.ID == "" {
			c.fail(path+".id", fmt.Sprintf("%q is empty or used twice", r.ID), "an id of its own")
		}
		if r.From != "" && !slices.ContainsFunc(c.s.Ranges, func(o RangeSheet) bool { return o.ID == r.From }) {
			c.fail(path+".from", fmt.Sprintf("no range %q", r.From), "the id of another range")
		}
		c.u.Ranges = append(c.u.Ranges, Range{ID: r.ID, Selector: r.Selector, Name: r.Name, Applied: r.Applied, From: r.From,
			LineIdle: c.window(path+".line_idle", r.LineIdle, quantity.Pressure)})
	}
	if len(c.s.Ranges) == 0 {
		c.fail("ranges", "none", "at least one range that drives")
	}
	if len(c.problems) > before || !c.solvable() {
		return
	}
	for i := range c.u.Ranges {
		c.solve(i)
	}
}

func (c *compiler) solvable() bool { return len(c.u.Train.Validate()) == 0 }

func (c *compiler) solve(i int) {
	r, declared := &c.u.Ranges[i], c.s.Ranges[i]
	path := fmt.Sprintf("ranges[%d]", i)
	sol, err := c.u.Train.Solve(gearing.State{Applied: r.Applied})
	if err != nil {
		c.fail(path, err.Error(), "")
		return
	}
	r.Healthy = sol
	if string(sol.Outcome) != declared.Outcome {
		c.fail(path+".outcome", fmt.Sprintf("declared %q, but the gears give %q", declared.Outcome, sol.Outcome), "forward, reverse or neutral, as the gears give it")
	}
	holding, want := slices.Sorted(slices.Values(sol.Holding)), slices.Sorted(slices.Values(declared.Holding))
	if !slices.Equal(holding, want) {
		c.fail(path+".holding", fmt.Sprintf("declared %v, but the gears need %v", want, holding), "the freewheels that carry torque")
	}
}

func (c *compiler) rest() {
	for i, p := range c.s.Parts {
		c.level(fmt.Sprintf("parts[%d].access", i), p.Access)
	}
	for i, t := range c.s.Traps {
		c.level(fmt.Sprintf("traps[%d].before", i), t.Before)
	}
	for i, t := range c.s.Torques {
		c.quantity(fmt.Sprintf("torques[%d].torque", i), t.Torque, quantity.Torque)
	}
	if c.s.Exchange.Price < 0 || c.s.Exchange.Hours < 0 {
		c.fail("exchange", "negative", "price and hours of zero or more")
	}
}
