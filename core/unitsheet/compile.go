package unitsheet

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"innercompass/core/fluid"
	"innercompass/core/gearing"
	"innercompass/core/quantity"
)

var idPattern = regexp.MustCompile(`^[a-z][a-z0-9-]{1,39}$`)

// Largest sheet that is taken, so that what is solved for every state stays a matter of milliseconds.
const (
	maxMembers  = 40
	maxElements = 24
	maxRanges   = 40
	maxControls = 16
	maxName     = 80
	maxText     = 2000
)

type compiler struct {
	s        Sheet
	u        *Unit
	problems []*Problem
}

// Compile checks, parses and solves a sheet. Either the unit or at least one problem is returned.
func Compile(s Sheet) (*Unit, []*Problem) {
	c := &compiler{s: s, u: &Unit{Sheet: s, Limits: map[string]quantity.Window{}}}
	if c.bounds(); len(c.problems) > 0 {
		return nil, c.problems // nothing is solved that is too large
	}
	c.head()
	c.train()
	c.access()
	c.bearings()
	c.quantities()
	c.elements()
	c.feeds()
	c.ranges()
	c.controls()
	c.agreement()
	c.sources()
	c.hydraulics()
	c.rest()
	c.stack()
	if len(c.problems) > 0 {
		return nil, c.problems
	}
	c.capacities()
	return c.u, nil
}

// MachineOf makes the gears of a sheet ready for solving, whatever else of it is not there yet.
func MachineOf(s Sheet) (*gearing.Machine, []*Problem) {
	c := &compiler{s: s, u: &Unit{Sheet: s}}
	if c.bounds(); len(c.problems) == 0 {
		c.train()
	}
	return c.u.Machine, c.problems
}

func (c *compiler) fail(path, reason, accepted string) {
	c.problems = append(c.problems, &Problem{Path: path, Reason: reason, Accepted: accepted})
}

func (c *compiler) oneOf(path, value string, accepted ...string) {
	if !slices.Contains(accepted, value) {
		c.fail(path, fmt.Sprintf("%q", value), strings.Join(accepted, ", "))
	}
}

func (c *compiler) atMost(path string, n, most int) {
	if n > most {
		c.fail(path, fmt.Sprintf("%d entries", n), fmt.Sprintf("at most %d", most))
	}
}

// own checks an id: not empty, not used before.
func (c *compiler) own(path, id string, seen map[string]bool) {
	if id == "" || seen[id] {
		c.fail(path, fmt.Sprintf("%q is empty or used twice", id), "an id of its own")
	}
	seen[id] = true
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
	c.oneOf("control", c.s.Control, "hydraulic", "electronic", "hand")
	if strings.TrimSpace(c.s.Name) == "" || len(c.s.Name) > maxName {
		c.fail("name", fmt.Sprintf("empty or longer than %d characters", maxName), "the name of the unit")
	}
	if len(c.s.Author) > maxName {
		c.fail("author", "too long", fmt.Sprintf("at most %d characters", maxName))
	}
	if len(c.s.Summary) > maxText {
		c.fail("summary", "too long", fmt.Sprintf("at most %d characters", maxText))
	}
}

func (c *compiler) access() {
	c.u.ClimbMinutes = make([]float64, len(AccessNames))
	seen := map[string]bool{}
	for i, a := range c.s.Access {
		path := fmt.Sprintf("access[%d]", i)
		level, ok := c.level(path+".level", a.Level)
		if !ok {
			continue
		}
		c.own(path+".level", a.Level, seen)
		if a.Minutes < 0 || a.Minutes > 6000 || math.IsNaN(a.Minutes) {
			c.fail(path+".minutes", fmt.Sprint(a.Minutes), "0 to 6000")
		}
		c.u.ClimbMinutes[level] = a.Minutes
	}
	for l, name := range AccessNames {
		if seen[name] || len(c.s.Access) == 0 {
			c.u.Levels = append(c.u.Levels, Access(l))
		}
	}
	if len(c.s.Access) > 0 && !seen[AccessNames[Ground]] {
		c.fail("access", "no level ground", "at least ground, and each level that the unit has")
	}
}

// level checks a name of an access level; none means the vehicle on the ground.
func (c *compiler) level(path, name string) (Access, bool) {
	if name == "" {
		return Ground, true
	}
	a, err := ParseAccess(name)
	if err != nil {
		p := err.(*Problem)
		c.fail(path, p.Reason, p.Accepted)
		return 0, false
	}
	return a, true
}

// quantity reads a value; an empty text is a value that is not known.
func (c *compiler) quantity(path, text string, d quantity.Dimension) quantity.Quantity {
	if strings.TrimSpace(text) == "" {
		return quantity.Quantity{}
	}
	q, err := quantity.Parse(text, d, "")
	if err != nil {
		c.quantityError(path, err)
		return quantity.Quantity{}
	}
	if q.SI < 0 {
		c.fail(path, fmt.Sprintf("%q is less than nothing", text), "a "+string(d)+" of zero or more, with its unit")
		return quantity.Quantity{}
	}
	return q
}

// positive is a quantity that must be given and above zero.
func (c *compiler) positive(path, text string, d quantity.Dimension) float64 {
	before := len(c.problems)
	q := c.quantity(path, text, d)
	if len(c.problems) == before && !(q.SI > 0) {
		c.fail(path, fmt.Sprintf("%q", text), "a "+string(d)+" above zero, with its unit")
	}
	return q.SI
}

// window is a range of values none of which is less than nothing, but for temperatures in degrees.
func (c *compiler) window(path, text string, d quantity.Dimension) quantity.Window {
	w := c.anyWindow(path, text, d)
	if w.Low.SI < 0 {
		c.fail(path, fmt.Sprintf("%q is less than nothing", text), "a window of zero or more, with its unit")
		return quantity.Window{}
	}
	return w
}

func (c *compiler) anyWindow(path, text string, d quantity.Dimension) quantity.Window {
	if strings.TrimSpace(text) == "" {
		return quantity.Window{}
	}
	w, err := quantity.ParseWindow(text, d, "")
	if err != nil {
		c.quantityError(path, err)
		return quantity.Window{}
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

// wear puts the sheet's limits of a report in the place of those that most units have.
func (c *compiler) wear() {
	c.u.Measures = slices.Clone(fluid.Measures)
	var ids []string
	for _, m := range fluid.Measures {
		ids = append(ids, m.ID)
	}
	for i, w := range c.s.Fluid.Wear {
		path := fmt.Sprintf("fluid.wear[%d]", i)
		at := slices.Index(ids, w.Measure)
		if at < 0 {
			c.oneOf(path+".measure", w.Measure, ids...)
			continue
		}
		if !(w.Usual > 0 && w.Usual < 1e6) {
			c.fail(path+".usual", fmt.Sprint(w.Usual), "more than 0")
		}
		if !(w.Rise >= 0 && w.Rise < 1e6) {
			c.fail(path+".rise", fmt.Sprint(w.Rise), "0 or more, in 1,000 km")
		}
		c.u.Measures[at].Usual, c.u.Measures[at].Rate = w.Usual, w.Rise
	}
}

func (c *compiler) quantities() {
	u, s := c.u, c.s
	u.MaxTorque = c.quantity("engine.max_torque", s.Engine.MaxTorque, quantity.Torque)
	u.IdleSpeed = c.quantity("engine.idle_speed", s.Engine.IdleSpeed, quantity.RotationalSpeed)
	u.BetweenMarks = c.quantity("fluid.level.between_marks", s.Fluid.Level.BetweenMarks, quantity.Volume)
	u.MarksApart = c.quantity("fluid.level.marks_apart", s.Fluid.Level.MarksApart, quantity.Length)
	u.Capacity = c.quantity("fluid.capacity", s.Fluid.Capacity, quantity.Volume)
	u.Refill = c.quantity("fluid.refill", s.Fluid.Refill, quantity.Volume)
	u.FluidTemp = c.window("fluid.level.temperature", s.Fluid.Level.Temperature, quantity.Temperature)
	c.wear()
	if e := s.Fluid.Level.Engine; e != "" {
		c.oneOf("fluid.level.engine", e, "running", "off")
	}
	if at := s.Fluid.Level.At; at != "" {
		c.oneOf("fluid.level.at", at, "stick", "plug")
	}
	if m := s.Engine.Margin; m != 0 && !(m >= 1 && m <= 5) {
		c.fail("engine.margin", fmt.Sprint(m), "1 to 5")
	}
	for i, l := range s.Limits {
		path := fmt.Sprintf("limits[%d]", i)
		if _, twice := u.Limits[l.ID]; twice || l.ID == "" {
			c.fail(path+".id", fmt.Sprintf("%q is empty or used twice", l.ID), "an id of its own")
		}
		if len(quantity.UnitsOf(quantity.Dimension(l.Dimension))) == 0 {
			c.fail(path+".dimension", fmt.Sprintf("%q", l.Dimension), "length, pressure, torque, volume, …")
			continue
		}
		if l.Window == "" {
			c.fail(path+".window", "empty", "a window with its unit, such as 1.2..1.8 mm")
		}
		u.Limits[l.ID] = c.anyWindow(path+".window", l.Window, quantity.Dimension(l.Dimension))
		if l.Element != "" {
			c.elementKnown(path+".element", l.Element)
		}
	}
}

func (c *compiler) elementKnown(path, id string) {
	if slices.ContainsFunc(c.s.Elements, func(e ElementSheet) bool { return e.ID == id }) {
		return
	}
	ids := make([]string, len(c.s.Elements))
	for i, e := range c.s.Elements {
		ids[i] = e.ID
	}
	c.fail(path, fmt.Sprintf("no element %q", id), strings.Join(ids, ", "))
}

func (c *compiler) rangeKnown(path, id string) {
	if !slices.ContainsFunc(c.s.Ranges, func(r RangeSheet) bool { return r.ID == id }) {
		c.fail(path, fmt.Sprintf("no range %q", id), "the id of a range")
	}
}

func (c *compiler) rest() {
	if v := c.s.Converter; v != nil {
		c.u.Stall = c.window("converter.stall", v.Stall, quantity.RotationalSpeed)
		c.quantity("converter.seating", v.Seating, quantity.Length)
		if v.TorqueRatio != 0 && !(v.TorqueRatio >= 1 && v.TorqueRatio <= 5) {
			c.fail("converter.torque_ratio", fmt.Sprint(v.TorqueRatio), "1 to 5")
		}
		for i, r := range v.Lockup {
			c.rangeKnown(fmt.Sprintf("converter.lockup[%d]", i), r)
		}
		c.u.LockupTorque = c.quantity("converter.lockup_torque", v.LockupTorque, quantity.Torque)
	}
	for i, p := range c.s.Parts {
		path := fmt.Sprintf("parts[%d]", i)
		if !(p.Hours >= 0 && p.Hours <= 100) {
			c.fail(path+".hours", fmt.Sprint(p.Hours), "0 to 100")
		}
		if level, ok := c.level(path+".access", p.Access); ok && !c.u.Has(level) {
			c.fail(path+".access", "this unit has no level "+p.Access, "a level listed under access")
		}
		if len(p.Zone) != 4 {
			c.fail(path+".zone", fmt.Sprintf("%d numbers", len(p.Zone)), "four: x, y, width, height, each 0 to 100")
		}
		for j, v := range p.Zone {
			if !(v >= 0 && v <= 100) {
				c.fail(fmt.Sprintf("%s.zone[%d]", path, j), fmt.Sprint(v), "0 to 100")
			}
		}
	}
	c.leaks()
	c.traps()
	for i, t := range c.s.Torques {
		c.positive(fmt.Sprintf("torques[%d].torque", i), t.Torque, quantity.Torque)
	}
	for i, k := range c.s.Known {
		c.known(fmt.Sprintf("known[%d].distance", i), k)
	}
	seen := map[string]bool{}
	for i, s := range c.s.Sensors {
		path := fmt.Sprintf("sensors[%d]", i)
		c.own(path+".id", s.ID, seen)
		c.oneOf(path+".kind", s.Kind, "speed", "pressure", "temperature", "position")
		c.level(path+".access", s.Access)
		if s.On != "" && !slices.Contains(c.s.Gearing.Members, s.On) {
			c.fail(path+".on", fmt.Sprintf("no member %q", s.On), fmt.Sprint(c.s.Gearing.Members))
		}
		if !(s.Hours >= 0 && s.Hours <= 100) {
			c.fail(path+".hours", fmt.Sprint(s.Hours), "0 to 100")
		}
		if s.Teeth < 0 || s.Teeth > 2000 {
			c.fail(path+".teeth", fmt.Sprint(s.Teeth), "0 to 2000")
		}
	}
	if x := c.s.Exchange; !(x.Price >= 0 && x.Price <= 1e7) || !(x.Hours >= 0 && x.Hours <= 200) {
		c.fail("exchange", fmt.Sprintf("price %v, %v hours", x.Price, x.Hours), "a price from 0 to ten million and 0 to 200 hours")
	}
}

// train builds the gear train: sets and gears become meshes, planets become members of their own.
func (c *compiler) train() {
	g := c.s.Gearing
	if c.s.Depth() == ByChart {
		c.oneOf("layout", c.s.Layout, "planetary", "parallel")
		for i, e := range c.s.Elements {
			if e.A != "" || e.B != "" {
				c.fail(fmt.Sprintf("elements[%d].a", i), "members without gearing", "gearing.members, or neither a nor b")
			}
			c.oneOf(fmt.Sprintf("elements[%d].kind", i), e.Kind, kinds()...)
		}
		return
	}
	for i, e := range c.s.Elements {
		if e.Beside != "" || e.Series != "" {
			c.fail(fmt.Sprintf("elements[%d].beside", i), "the gears say what stands beside it", "beside and series only without gearing")
		}
	}
	t := gearing.Train{Members: slices.Clone(g.Members), Input: g.Input, Output: g.Output, ForwardSign: g.ForwardSign}
	at := make([]string, 0) // where each mesh came from
	for i, s := range g.Sets {
		path := fmt.Sprintf("gearing.sets[%d]", i)
		meshes, planets, err := s.meshes(fmt.Sprintf("%s#%d", s.Name, i+1))
		if err != nil {
			c.fail(path, strings.TrimPrefix(err.Error(), "gearing: "), "tooth counts that mesh and assemble")
		}
		t.Members = append(t.Members, planets...)
		for _, m := range meshes {
			t.Meshes, at = append(t.Meshes, m), append(at, path)
			c.u.meshAt = append(c.u.meshAt, fmt.Sprintf("set-%d", i+1))
		}
	}
	for i, m := range g.Gears {
		t.Meshes = append(t.Meshes, gearing.Mesh{A: m.A, B: m.B, TeethA: m.TeethA, TeethB: m.TeethB, Chain: m.Chain})
		at = append(at, fmt.Sprintf("gearing.gears[%d]", i))
		c.u.meshAt = append(c.u.meshAt, fmt.Sprintf("gears-%d", i+1))
	}
	for _, l := range g.Links {
		t.Links = append(t.Links, gearing.Link{A: l.A, B: l.B})
	}
	if v := g.Converter; v != nil {
		t.Converter = &gearing.Converter{Engine: v.Engine, Turbine: v.Turbine}
	}
	for _, e := range c.s.Elements {
		t.Elements = append(t.Elements, gearing.Element{ID: e.ID, Kind: gearing.Kind(e.Kind), A: e.A, B: e.B})
	}
	for _, bad := range t.Validate() {
		path := sheetPath(bad.Field, at)
		if !slices.ContainsFunc(c.problems, func(p *Problem) bool { return p.Path == path }) { // a set is named once
			c.fail(path, bad.Reason, bad.Accepted)
		}
	}
	for m := range g.Names {
		if !slices.Contains(g.Members, m) {
			c.fail("gearing.names."+m, "not a member", fmt.Sprint(g.Members))
		}
	}
	if len(c.problems) > 0 {
		return
	}
	m, err := gearing.NewMachine(t)
	if err != nil {
		c.fail("gearing", err.Error(), "")
		return
	}
	c.u.Machine = m
}

// sheetPath turns a field of the train into the place of the sheet that it came from.
func sheetPath(field string, meshAt []string) string {
	var i int
	if n, _ := fmt.Sscanf(field, "meshes[%d]", &i); n == 1 && i < len(meshAt) {
		_, rest, _ := strings.Cut(field, "]")
		if strings.HasPrefix(meshAt[i], "gearing.sets") {
			return meshAt[i] // the mesh's own field names mean nothing in a set
		}
		return meshAt[i] + rest
	}
	if strings.HasPrefix(field, "elements") {
		return field
	}
	return "gearing." + field
}

// meshes expands a set after checking that it assembles.
func (s SetSheet) meshes(name string) ([]gearing.Mesh, []string, error) {
	planet, inner := name+" planet", name+" inner"
	in := func(a, b string, za, zb int) gearing.Mesh {
		return gearing.Mesh{A: a, B: b, TeethA: za, TeethB: zb, Carrier: s.Carrier, Pinions: s.Count}
	}
	ring := in(s.Ring, planet, s.RingTeeth, s.PlanetTeeth)
	ring.Internal = true
	sun := in(s.Sun, planet, s.SunTeeth, s.PlanetTeeth)
	switch {
	case s.StepTeeth != 0 && s.Ring != "" && s.SmallSun == "":
		ring.TeethB = s.StepTeeth
		return []gearing.Mesh{sun, ring}, []string{planet}, gearing.CheckSteppedSet(s.SunTeeth, s.PlanetTeeth, s.StepTeeth, s.RingTeeth, s.Count, true)
	case s.StepTeeth != 0 && s.Ring == "" && s.SmallSun != "":
		small := in(s.SmallSun, planet, s.SmallSunTeeth, s.StepTeeth)
		return []gearing.Mesh{sun, small}, []string{planet}, gearing.CheckSteppedSet(s.SunTeeth, s.PlanetTeeth, s.StepTeeth, s.SmallSunTeeth, s.Count, false)
	case s.StepTeeth != 0:
		return nil, []string{planet}, fmt.Errorf("stepped planets mesh with the sun and with one of ring and small_sun")
	case s.Ring == "" && s.SmallSun == "":
		return nil, []string{planet}, fmt.Errorf("the planets mesh with the sun alone: a ring, or a second sun, is missing")
	case s.Ring == "":
		err := gearing.CheckTwoSuns(s.SunTeeth, s.SmallSunTeeth, s.PlanetTeeth, s.ShortTeeth, s.Count)
		return []gearing.Mesh{in(s.SmallSun, inner, s.SmallSunTeeth, s.ShortTeeth), in(inner, planet, s.ShortTeeth, s.PlanetTeeth), sun}, []string{planet, inner}, err
	case s.SmallSun != "":
		err := gearing.CheckCompoundSet(s.SunTeeth, s.SmallSunTeeth, s.PlanetTeeth, s.ShortTeeth, s.RingTeeth, s.Count)
		return []gearing.Mesh{in(s.SmallSun, inner, s.SmallSunTeeth, s.ShortTeeth), in(inner, planet, s.ShortTeeth, s.PlanetTeeth), sun, ring}, []string{planet, inner}, err
	case s.InnerTeeth != 0:
		err := gearing.CheckDoublePinionSet(s.SunTeeth, s.InnerTeeth, s.PlanetTeeth, s.RingTeeth, s.Count)
		return []gearing.Mesh{in(s.Sun, inner, s.SunTeeth, s.InnerTeeth), in(inner, planet, s.InnerTeeth, s.PlanetTeeth), ring}, []string{planet, inner}, err
	}
	err := gearing.CheckSimpleSet(s.SunTeeth, s.PlanetTeeth, s.RingTeeth, s.Count)
	return []gearing.Mesh{sun, ring}, []string{planet}, err
}

// known reads over which distance, or how many hours of running, a design is known to fail in one way.
func (c *compiler) known(path string, k KnownSheet) {
	out := KnownFailure{Cause: k.Cause, Note: k.Note, To: 1e9}
	text := strings.TrimSpace(k.Distance)
	out.InHours = strings.HasSuffix(text, "h")
	d, si := quantity.Distance, 1e3
	if out.InHours {
		d, si = quantity.Time, 3600
	}
	w := c.window(path, text, d)
	switch {
	case text == "":
	case w.Low.SI < 0 || w.High.SI <= 0:
		c.fail(path, fmt.Sprintf("%q", text), "a window above zero, such as 110000..190000 km, 70000..120000 mi or 2000..4000 h")
	default:
		out.From, out.To = w.Low.SI/si, w.High.SI/si
	}
	c.u.Known = append(c.u.Known, out)
}
