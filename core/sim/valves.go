package sim

import (
	"slices"

	"innercompass/core/piston"
	"innercompass/core/unitsheet"
)

// valves is a unit whose controls are two-position: shift valves that governor and throttle pressure move, or solenoids that a module switches. What is on gets line
// pressure through its orifice, with an accumulator; what is off is vented.
type valves struct {
	base
	rows   []unitsheet.ControlRow
	bits   []int
	stuck  map[int]int  // controls that stay where they are, by place
	set    []bool       // by element: what is on
	forced map[int]bool // elements whose own solenoid is shut or open, by place
	gov    float64      // factor of governor pressure
	looked float64      // until the governor is asked again, s
}

// hysteresis of a shift valve: how much less governor pressure lets it back (chosen).
const hysteresis = 0.15

func newValves(b base) *valves {
	c := &valves{base: b, rows: b.m.unit.ControlTable(), stuck: map[int]int{}, forced: map[int]bool{}, gov: 1}
	for i, p := range b.m.pistons {
		if p == nil {
			continue
		}
		// The lowest line pressure at which it is used leaves the accumulator its way.
		least := 0.0
		for _, r := range b.m.gears {
			if r.applied[i] {
				if x := b.m.pressureOf(r, 0.1); least == 0 || x < least {
					least = x
				}
			}
		}
		if from := p.Touch * 1.02; least > from*1.3 {
			p.Store = piston.Accumulator{From: from, To: from + 0.6*(least-from), Volume: 9e-6}
		}
	}
	return c
}

func (c *valves) enter(r *gear) {
	c.base.enter(r)
	c.move(r)
	c.rested = 1
}

func (c *valves) on(i int) bool {
	if at, is := c.forced[i]; is {
		return at && c.m.unit.Fed(c.m.train.Names[i], c.now.Selector)
	}
	return c.set[i]
}

func (c *valves) command(i int) float64 {
	if !c.on(i) {
		return 0
	}
	return c.m.pressureOf(c.now, c.m.input.Throttle)
}

func (c *valves) fail(f Fault) bool {
	switch {
	case c.common(f):
	case f.Kind == SolenoidShut || f.Kind == SolenoidOpen:
		i, ok := c.m.train.Element[f.Element]
		if !ok || c.m.pistons[i] == nil {
			return false
		}
		c.forced[i] = f.Kind == SolenoidOpen
	case f.Kind == GovernorWeak:
		c.gov = f.Size
	case f.Kind == ControlStuck:
		k, ok := c.m.unit.Control(f.Element)
		if !ok {
			return false
		}
		c.stuck[slices.IndexFunc(c.m.unit.Controls, func(x unitsheet.Control) bool { return x.ID == k.ID })] = int(f.Size)
	default:
		return false
	}
	return true
}

func (c *valves) advance(h float64) {
	m := c.m
	c.since, c.rested = c.since+h, c.rested+h
	if s := m.input.Selector; s != "" && s != c.now.Selector {
		if r := c.entry(s); r != nil {
			c.now, c.to, c.busy, c.rested = r, r, false, 0
			c.move(r)
		}
	}
	c.lock(h)
	if len(m.unit.Shifts) > 0 {
		if c.looked -= h; c.looked <= 0 && !m.input.Hold { // a valve needs some milliseconds anyway
			c.looked = 0.01
			c.byGovernor()
		}
		return
	}
	if !c.busy && c.rested > restTime && !m.input.Hold {
		if r := c.wanted(); r != c.now {
			c.to = r
			c.move(r)
		}
	}
}

// byGovernor moves the shift valves of a hydraulic unit.
func (c *valves) byGovernor() {
	m := c.m
	if !c.now.driving {
		return
	}
	pressure := c.gov * m.unit.Governor.Pressure(max(0, m.speed())*m.unit.PerMetre)
	to := c.now
	for to.below != nil { // from the first gear on
		to = to.below
	}
	for _, s := range m.unit.Shifts {
		r := to.above
		if r == nil || r.ID != s.To {
			break
		}
		limit := s.Valve.Moves(m.input.Throttle)
		if c.passed(r) {
			limit *= 1 - hysteresis
		}
		if pressure < limit {
			break
		}
		to = r
	}
	if to != c.to {
		c.to = to
		c.move(to)
	}
}

// passed reports whether a range has been shifted into, or one above it.
func (c *valves) passed(r *gear) bool {
	for x := c.to; x != nil; x = x.below {
		if x == r {
			return true
		}
	}
	return false
}

// move puts the controls where a range wants them, those that can move, and applies what they then do together.
func (c *valves) move(r *gear) {
	c.bits = slices.Clone(c.m.unit.Commanded(r.Range))
	for place, at := range c.stuck {
		if place < len(c.bits) {
			c.bits[place] = at
		}
	}
	c.since, c.rested = 0, 0
	c.set = slices.Clone(r.applied)
	if c.now = r; c.m.limp {
		return
	}
	for _, row := range c.rows {
		if row.Selector == r.Selector && row.Bits != nil && slices.Equal(row.Bits, c.bits) {
			for i, id := range c.m.train.Names {
				c.set[i] = slices.Contains(row.Applied, id)
			}
		}
	}
}
