package unitsheet

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/friction"
	"innercompass/core/gearing"
	"innercompass/core/hydraulics"
	"innercompass/core/quantity"
)

func (c *compiler) elements() {
	for i, e := range c.s.Elements {
		path := fmt.Sprintf("elements[%d]", i)
		level, _ := c.level(path+".access", e.Access)
		out := Element{ID: e.ID, Name: e.Name, Kind: gearing.Kind(e.Kind), Feed: e.Feed, Hand: e.Hand, Group: e.Group, Hours: e.Hours, Access: level, HandTest: handTest(c.s, e)}
		if strings.TrimSpace(e.Name) == "" {
			c.fail(path+".name", "empty", "what people call it")
		}
		if !(e.Hours >= 0 && e.Hours <= 100) {
			c.fail(path+".hours", fmt.Sprint(e.Hours), "0 to 100")
		}
		c.hold(path, e, &out)
		c.u.Elements = append(c.u.Elements, out)
	}
}

// hold finds what the element holds: from its plates, its band, or as stated.
func (c *compiler) hold(path string, e ElementSheet, out *Element) {
	given := 0
	if e.Plates != nil {
		given++
		c.plates(path+".plates", *e.Plates, out)
	}
	if e.Band != nil {
		given++
		c.band(path+".band", *e.Band, out)
	}
	if e.Capacity != "" {
		given++
		torque := c.positive(path+".capacity", e.Capacity, quantity.Torque)
		out.hold = func(float64) float64 { return torque }
	}
	if given > 1 {
		c.fail(path+".capacity", "capacity is given in more than one way", "plates, band or capacity")
	}
}

func (c *compiler) plates(path string, p PlatesSheet, out *Element) {
	f := friction.Plates{Faces: 2 * p.Lined, Mu: p.Friction,
		Outer: c.positive(path+".outer", p.Outer, quantity.Length) / 2, Inner: c.positive(path+".inner", p.Inner, quantity.Length) / 2,
		Piston: c.positive(path+".piston", p.Piston, quantity.Area), Spring: c.quantity(path+".spring", p.Spring, quantity.Force).SI}
	if f.Outer <= f.Inner {
		c.fail(path+".outer", "the lining's outer diameter is not larger than the inner", "a larger diameter")
	}
	c.friction(path, p.Friction)
	if p.Lined < 1 || p.Lined > 20 || p.Steel < 0 || p.Steel > 30 {
		c.fail(path+".lined", fmt.Sprintf("%d lined, %d steel plates", p.Lined, p.Steel), "1 to 20 and 0 to 30")
	}
	out.hold, out.pressed = f.Capacity, true
	out.Touch = quantity.Quantity{SI: f.Touch(), Dimension: quantity.Pressure}
	if p.Depth == "" {
		return
	}
	stack := friction.Stack{Lined: p.Lined, Steel: p.Steel, Depth: c.positive(path+".depth", p.Depth, quantity.Length), LinedThick: c.positive(path+".lined_thick", p.LinedThick, quantity.Length),
		SteelThick: c.positive(path+".steel_thick", p.SteelThick, quantity.Length), Backing: c.quantity(path+".backing", p.Backing, quantity.Length).SI}
	out.Clear = quantity.Quantity{SI: stack.Clearance(), Dimension: quantity.Length}
}

func (c *compiler) friction(path string, mu float64) {
	if !(mu > 0 && mu <= 1) {
		c.fail(path+".friction", fmt.Sprint(mu), "above 0, at most 1")
	}
}

func (c *compiler) band(path string, b BandSheet, out *Element) {
	f := friction.Band{Radius: c.positive(path+".drum", b.Drum, quantity.Length) / 2, Wrap: c.positive(path+".wrap", b.Wrap, quantity.Angle), Mu: b.Friction,
		Servo: c.positive(path+".servo", b.Servo, quantity.Area), Lever: b.Lever, Spring: c.quantity(path+".spring", b.Spring, quantity.Force).SI, Eases: b.Eases}
	c.friction(path, b.Friction)
	if !(b.Lever > 0 && b.Lever <= 20) {
		c.fail(path+".lever", fmt.Sprint(b.Lever), "above 0, at most 20")
	}
	out.hold, out.pressed = f.Capacity, true
	out.Touch = quantity.Quantity{SI: f.Touch(), Dimension: quantity.Pressure}
}

func (c *compiler) feeds() {
	seen := map[string]bool{}
	for i, f := range c.s.Feeds {
		path := fmt.Sprintf("feeds[%d]", i)
		c.own(path+".id", f.ID, seen)
		for j, id := range f.Serves {
			c.elementKnown(fmt.Sprintf("%s.serves[%d]", path, j), id)
		}
		for j, s := range f.Selectors {
			if !slices.ContainsFunc(c.s.Ranges, func(r RangeSheet) bool { return r.Selector == s }) {
				c.fail(fmt.Sprintf("%s.selectors[%d]", path, j), fmt.Sprintf("no range with selector %q", s), "a selector position of the ranges")
			}
		}
		for j, s := range f.Path {
			if s.Kind != "" {
				c.oneOf(fmt.Sprintf("%s.path[%d].kind", path, j), s.Kind, "part", "valve", "seal", "orifice", "tap", "sensor")
			}
			if strings.TrimSpace(s.Name) == "" {
				c.fail(fmt.Sprintf("%s.path[%d].name", path, j), "empty", "what people call it")
			}
		}
	}
	for i, e := range c.s.Elements {
		k := gearing.Kind(e.Kind)
		if e.Feed != "" && !seen[e.Feed] || e.Feed == "" && k.Friction() && !e.Hand && len(c.s.Feeds) > 0 {
			c.fail(fmt.Sprintf("elements[%d].feed", i), fmt.Sprintf("no feed %q", e.Feed), "an id from feeds, or hand: true")
		}
	}
	seen = map[string]bool{}
	for i, s := range c.s.Shared {
		path := fmt.Sprintf("shared[%d]", i)
		c.own(path+".id", s.ID, seen)
		c.oneOf(path+".kind", s.Kind, "drum", "passage", "seal-rings", "bushing", "accumulator", "shaft")
		if len(s.Serves) < 2 {
			c.fail(path+".serves", fmt.Sprintf("%d elements", len(s.Serves)), "two or more; a part of one element belongs to that element")
		}
		for j, id := range s.Serves {
			c.elementKnown(fmt.Sprintf("%s.serves[%d]", path, j), id)
		}
	}
}

// ranges solves every range and refuses a sheet whose declared outcome or holding freewheels differ from
// the solved ones: a wrong forward sign, a missing race or a mistyped tooth count shows here and nowhere else.
func (c *compiler) ranges() {
	before := len(c.problems)
	seen := map[string]bool{}
	for i, r := range c.s.Ranges {
		path := fmt.Sprintf("ranges[%d]", i)
		for j, id := range r.Applied {
			c.elementKnown(fmt.Sprintf("%s.applied[%d]", path, j), id)
		}
		c.own(path+".id", r.ID, seen)
		if r.From != "" {
			c.rangeKnown(path+".from", r.From)
		}
		if r.From == r.ID && r.ID != "" {
			c.fail(path+".from", "a range cannot shift into itself", "the range before it")
		}
		if strings.TrimSpace(r.Selector) == "" {
			c.fail(path+".selector", "empty", "where the selector stands, such as D")
		}
		out := Range{ID: r.ID, Selector: r.Selector, Name: r.Name, Applied: r.Applied, From: r.From, Bits: r.Bits,
			LineIdle: c.window(path+".line_idle", r.LineIdle, quantity.Pressure), LineFull: c.window(path+".line_full", r.LineFull, quantity.Pressure)}
		out.Printed, out.Decimals = c.printed(path+".ratio", r.Ratio)
		out.Limit = c.quantity(path+".engine_limit", r.EngineLimit, quantity.Torque)
		out.Lockup = c.s.Converter != nil && slices.Contains(c.s.Converter.Lockup, r.ID)
		c.u.Ranges = append(c.u.Ranges, out)
	}
	if len(c.s.Ranges) == 0 {
		c.fail("ranges", "none", "at least one range that drives")
	}
	if c.s.Depth() == ByChart && len(c.problems) == 0 {
		c.chart()
	}
	if len(c.problems) > before || c.u.Machine == nil && c.u.Chart == nil {
		return
	}
	for i := range c.u.Ranges {
		c.solve(i)
	}
}

func (c *compiler) solve(i int) {
	r, declared := &c.u.Ranges[i], c.s.Ranges[i]
	path := fmt.Sprintf("ranges[%d]", i)
	sol, err := c.u.Solve(gearing.State{Applied: r.Applied})
	if err != nil {
		c.fail(path, err.Error(), "")
		return
	}
	r.Healthy = sol
	if string(sol.Outcome) != declared.Outcome {
		c.fail(path+".outcome", fmt.Sprintf("declared %q, but the gears give %q", declared.Outcome, sol.Outcome), "forward, reverse or neutral, as the gears give it: look at the applied elements, the tooth counts and forward_sign")
		return
	}
	holding, want := slices.Sorted(slices.Values(sol.Holding)), slices.Sorted(slices.Values(declared.Holding))
	if !slices.Equal(holding, want) {
		c.fail(path+".holding", fmt.Sprintf("declared %v, but the gears need %v", want, holding), "the one-way clutches that carry torque")
	}
}

// controls checks that controls and logic give every range what it declares.
func (c *compiler) controls() {
	seen := map[string]bool{}
	bits := 0
	for i, s := range c.s.Controls {
		path := fmt.Sprintf("controls[%d]", i)
		c.own(path+".id", s.ID, seen)
		c.oneOf(path+".kind", s.Kind, "solenoid", "valve")
		level, _ := c.level(path+".access", s.Access)
		if s.Rest != 0 && s.Rest != 1 {
			c.fail(path+".rest", fmt.Sprint(s.Rest), "0 or 1")
		}
		if n := len(s.Ohms); n != 0 && (n != 2 || !(s.Ohms[0] >= 0) || !(s.Ohms[1] > s.Ohms[0])) {
			c.fail(path+".ohms", fmt.Sprint(s.Ohms), "lowest and highest good resistance in ohms")
		}
		out := Control{s, level, -1}
		if s.Applies != "" {
			c.elementKnown(path+".applies", s.Applies)
		} else {
			out.Place = bits
			bits++
		}
		c.u.Controls = append(c.u.Controls, out)
	}
	for i, l := range c.s.Logic {
		c.logic(fmt.Sprintf("logic[%d]", i), l, bits)
	}
	for i, l := range c.s.Limp {
		c.logic(fmt.Sprintf("limp[%d]", i), LogicSheet{l.Selector, strings.Repeat("0", bits), l.Applied}, bits)
	}
	for i, r := range c.s.Ranges {
		c.rangeBits(fmt.Sprintf("ranges[%d]", i), r, bits)
	}
}

func validBits(s string, n int) bool {
	return len(s) == n && strings.Trim(s, "01") == ""
}

func (c *compiler) logic(path string, l LogicSheet, bits int) {
	if !validBits(l.Bits, bits) {
		c.fail(path+".bits", fmt.Sprintf("%q", l.Bits), fmt.Sprintf("%d digits of 0 and 1, one for each control without applies", bits))
	}
	for j, id := range l.Applied {
		c.elementKnown(fmt.Sprintf("%s.applied[%d]", path, j), id)
	}
}

func (c *compiler) rangeBits(path string, r RangeSheet, bits int) {
	if bits == 0 || r.Bits == "" && !slices.ContainsFunc(c.s.Logic, func(l LogicSheet) bool { return l.Selector == r.Selector }) {
		return
	}
	if !validBits(r.Bits, bits) {
		c.fail(path+".bits", fmt.Sprintf("%q", r.Bits), fmt.Sprintf("%d digits of 0 and 1, since logic has rows for selector %s", bits, r.Selector))
		return
	}
	got, ok := logicRow(c.s, r.Selector, r.Bits)
	if !ok {
		c.fail(path+".bits", fmt.Sprintf("logic has no row for selector %s with %s", r.Selector, r.Bits), "a row under logic")
		return
	}
	for _, e := range c.s.Controls {
		if e.Applies != "" && slices.Contains(r.Applied, e.Applies) {
			got = append(slices.Clone(got), e.Applies)
		}
	}
	want, have := slices.Compact(slices.Sorted(slices.Values(r.Applied))), slices.Compact(slices.Sorted(slices.Values(got)))
	if !slices.Equal(want, have) {
		c.fail(path+".applied", fmt.Sprintf("declared %v, but logic gives %v for %s", want, have, r.Bits), "the same in both places")
	}
}

func logicRow(s Sheet, selector, bits string) ([]string, bool) {
	for _, l := range s.Logic {
		if l.Selector == selector && l.Bits == bits {
			return l.Applied, true
		}
	}
	return nil, false
}

func (c *compiler) hydraulics() {
	h := c.s.Hydraulics
	if h == nil {
		return
	}
	c.oneOf("hydraulics.pump.driven", h.Pump.Driven, "hub", "shaft", "electric", "input")
	c.u.Pump = Pump{PerTurn: c.quantity("hydraulics.pump.displacement", h.Pump.Displacement, quantity.Volume), Spare: c.quantity("hydraulics.pump.spare", h.Pump.Spare, quantity.Flow)}
	if r := h.Regulator; r != nil {
		c.u.Regulator = &hydraulics.Regulator{Area: c.positive("hydraulics.regulator.area", r.Area, quantity.Area), Spring: c.positive("hydraulics.regulator.spring", r.Spring, quantity.Force),
			Boost: c.quantity("hydraulics.regulator.boost", r.Boost, quantity.Area).SI, Reverse: c.quantity("hydraulics.regulator.reverse", r.Reverse, quantity.Area).SI}
		if c.u.Regulator.Reverse >= c.u.Regulator.Area {
			c.fail("hydraulics.regulator.reverse", "as large as the spool: the valve would never open", "a smaller area")
		}
	}
	if t := h.Throttle; t != nil {
		c.oneOf("hydraulics.throttle.kind", t.Kind, "cable", "modulator")
		c.u.Throttle = &hydraulics.Throttle{Closed: c.quantity("hydraulics.throttle.closed", t.Closed, quantity.Pressure).SI, Full: c.positive("hydraulics.throttle.full", t.Full, quantity.Pressure)}
	}
	if g := h.Governor; g != nil {
		c.u.Governor = &hydraulics.Governor{Area: c.positive("hydraulics.governor.area", g.Area, quantity.Area)}
		for i, w := range g.Weights {
			at := fmt.Sprintf("hydraulics.governor.weights[%d]", i)
			c.u.Governor.Weights = append(c.u.Governor.Weights, hydraulics.Weight{Mass: c.positive(at+".mass", w.Mass, quantity.Mass), Radius: c.positive(at+".radius", w.Radius, quantity.Length), Limit: c.quantity(at+".limit", w.Limit, quantity.RotationalSpeed).SI})
		}
		if !(g.PerKm > 0 && g.PerKm < 20000) || len(g.Weights) == 0 {
			c.fail("hydraulics.governor.turns_per_km", fmt.Sprintf("%v, %d weights", g.PerKm, len(g.Weights)), "shaft turns per kilometer and at least one weight")
		}
		c.u.PerMetre = 2 * math.Pi * g.PerKm / 1000
	}
	for i, s := range h.Shifts {
		c.shift(fmt.Sprintf("hydraulics.shifts[%d]", i), s)
	}
}

func (c *compiler) shift(path string, s ShiftValveSheet) {
	if c.u.Governor == nil || c.u.Throttle == nil {
		c.fail(path, "a shift valve needs a governor and a throttle valve to balance", "hydraulics.governor and hydraulics.throttle")
		return
	}
	c.rangeKnown(path+".to", s.To)
	if !slices.ContainsFunc(c.s.Controls, func(x ControlSheet) bool { return x.ID == s.ID && x.Kind == "valve" }) {
		c.fail(path+".id", fmt.Sprintf("no valve %q under controls", s.ID), "the id of a control of kind valve")
	}
	p := ShiftPoint{Control: s.ID, To: s.To, LightWindow: c.window(path+".light", s.Light, quantity.Speed), FullWindow: c.window(path+".full", s.Full, quantity.Speed),
		Valve: hydraulics.ShiftValve{GovernorArea: c.positive(path+".governor_area", s.GovernorArea, quantity.Area), ThrottleArea: c.quantity(path+".throttle_area", s.ThrottleArea, quantity.Area).SI, Spring: c.quantity(path+".spring", s.Spring, quantity.Force).SI}}
	if c.u.Governor.Area <= 0 || p.Valve.GovernorArea <= 0 || c.u.PerMetre <= 0 {
		return // said already
	}
	p.Light, p.LightReached = c.shiftSpeed(p.Valve, 0)
	p.Full, p.FullReached = c.shiftSpeed(p.Valve, 1)
	c.u.Shifts = append(c.u.Shifts, p)
}

func (c *compiler) shiftSpeed(v hydraulics.ShiftValve, throttle float64) (quantity.Quantity, bool) {
	w, err := c.u.Governor.Speed(v.Moves(c.u.Throttle.Pressure(throttle)))
	return quantity.Quantity{SI: w / c.u.PerMetre, Dimension: quantity.Speed}, err == nil
}

// capacities finds each element's capacity where it has least pressure for its work.
func (c *compiler) capacities() {
	for i := range c.u.Elements {
		e := &c.u.Elements[i]
		if e.hold == nil {
			continue
		}
		least := math.Inf(1)
		for _, r := range c.u.Ranges {
			if !r.Driving() || !slices.Contains(r.Applied, e.ID) && !slices.Contains(r.Healthy.Holding, e.ID) {
				continue
			}
			if !e.pressed {
				least = e.hold(0)
			} else if Known(r.LineFull.Low) {
				least = math.Min(least, e.hold(r.LineFull.Low.SI))
			}
		}
		if !math.IsInf(least, 1) {
			e.Capacity = quantity.Quantity{SI: least, Dimension: quantity.Torque}
		}
	}
}
