package sim

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/drivetrain"
	"innercompass/core/gearing"
)

// hand is a gearbox with a dry clutch, worked by a driver, or by actuators that do as one: foot off, clutch open, dogs over, clutch closed.
type hand struct {
	base
	dry    int     // the clutch
	full   float64 // what it carries closed, N·m
	closed float64 // how far, 0 to 1
	grip   float64 // of the clutch over that of a good one
	drags  float64 // what it carries when it is open, N·m
	locked []bool
	stage  int
	foot   float64
}

// Times of a shift by hand (chosen).
const (
	openTime  = 0.15
	closeTime = 0.45
	dogTime   = 0.25
	// cone is what a synchronizer ring moves, N·m.
	cone = 60.0
)

// newHand refuses a unit without a clutch at its input: its sheet leaves out how engine and gears are joined.
func newHand(b base) (*hand, error) {
	c := &hand{base: b, dry: -1, grip: 1, locked: make([]bool, len(b.m.train.Names)), foot: 1}
	t := b.m.unit.Machine.Train()
	for i, e := range t.Elements {
		if e.Kind == gearing.Clutch && (e.A == t.Input || e.B == t.Input) {
			c.dry = i
		}
	}
	if c.dry < 0 || !slices.ContainsFunc(t.Elements, func(e gearing.Element) bool { return e.Kind == gearing.Selector }) {
		return nil, fmt.Errorf("%s has neither the stall speed of a converter nor a dry clutch before dogs on its sheet: how the engine drives it is not known", b.m.unit.Sheet.Name)
	}
	b.m.pistons[c.dry] = nil // whatever moves it, it is let in like a pedal
	e, _ := b.m.unit.Element(t.Elements[c.dry].ID)
	if c.full = e.Capacity.SI; c.full <= 0 {
		c.full = 1.4 * b.m.car.Engine.Torque
	}
	return c, nil
}

func (c *hand) enter(r *gear) {
	c.base.enter(r)
	c.closed = boolTo(r.applied[c.dry])
	copy(c.locked, r.applied)
}

func (c *hand) on(i int) bool { return i == c.dry || c.now.applied[i] }

func (c *hand) command(int) float64 { return 0 }
func (c *hand) lockup() float64     { return 0 }

func (c *hand) throttle(wanted float64) float64 { return wanted * c.foot }

func (c *hand) fail(f Fault) bool {
	switch f.Kind {
	case Weak:
		if f.Element != c.m.train.Names[c.dry] {
			return false
		}
		c.grip = f.Size
	case Drags:
		c.drags = f.Size
	default:
		return false
	}
	return true
}

func (c *hand) advance(h float64) {
	m := c.m
	c.since, c.rested = c.since+h, c.rested+h
	if s := m.input.Selector; s != "" && s != c.now.Selector && !c.busy {
		if r := c.entry(s); r != nil {
			c.to, c.busy, c.stage, c.since = r, true, 0, 0
		}
	}
	if !c.busy && c.rested > 2*restTime && !m.input.Hold { // actuators have a schedule
		if r := c.wanted(); r != c.now {
			c.to, c.busy, c.stage, c.since = r, true, 0, 0
		}
	}
	if c.busy {
		c.change(h)
	} else {
		c.letIn(h)
	}
	m.setStrength(c.dry, c.drags+c.full*c.grip*math.Pow(c.closed, 1.5))
	for i, name := range m.train.Names {
		if i == c.dry || m.train.Kind(m.unit, i) != gearing.Selector {
			continue
		}
		e, _ := m.unit.Element(name)
		strength := 3 * math.Max(e.Capacity.SI, m.car.Engine.Torque)
		if c.now.applied[i] {
			c.locked[i] = c.locked[i] || math.Abs(m.slip(i)) < 0.5
			if !c.locked[i] {
				strength = cone
			}
		} else {
			c.locked[i] = false
		}
		m.setStrength(i, strength)
	}
}

// change goes through a change of gear.
func (c *hand) change(h float64) {
	switch c.stage {
	case 0: // foot off, pedal down
		c.foot = math.Max(0, c.foot-h/openTime)
		c.closed = math.Max(0, c.closed-h/openTime)
		if c.closed == 0 {
			c.stage, c.since = 1, 0
			c.now = c.to
		}
	case 1: // over
		if c.since > dogTime {
			c.stage, c.since, c.busy, c.rested = 2, 0, false, 0
		}
	}
}

// letIn closes the clutch: after a change in its time, and from rest as the engine has speed to spare.
func (c *hand) letIn(h float64) {
	m := c.m
	c.foot = math.Min(1, c.foot+h/closeTime)
	if !c.now.driving {
		c.closed = math.Min(1, c.closed+h/closeTime)
		return
	}
	engine := drivetrain.Dot(m.train.Engine, m.v)
	rate := h / closeTime
	if slow := math.Abs(m.slip(c.dry)); slow > 5 && engine < m.car.Engine.Idle*1.25 {
		rate *= math.Max(-1, (engine-m.car.Engine.Idle*0.9)/(m.car.Engine.Idle*0.35))
	}
	if m.input.Brake > 0.2 && engine < m.car.Engine.Idle*1.05 || m.input.Throttle < 0.02 && m.speed() < 1 {
		rate = -h / openTime // nobody stalls it
	}
	c.closed = math.Min(1, math.Max(0, c.closed+rate))
}

// setStrength of what holds without oil.
func (m *Sim) setStrength(element int, torque float64) {
	for k := range m.solids {
		if m.solids[k].element == element {
			m.solids[k].strength = torque
			return
		}
	}
	m.solids = append(m.solids, solid{element: element, strength: torque})
}
