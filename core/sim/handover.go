package sim

import (
	"math"
	"slices"

	"innercompass/core/drivetrain"
	"innercompass/core/piston"
)

// handover is an electronic unit with a pressure solenoid for each element: it fills what comes on, hands the torque over, lets the speeds come together, and makes fast.
type handover struct {
	base
	cmd    []float64
	begun  []float64 // when an element that was engaged from rest was commanded
	phase  phase
	inSync float64
	fill   float64 // time of this shift's fill, s
	push   float64 // what this shift's pressure comes to, over what was meant
	hold   []float64
	shut   []bool    // solenoids that give no pressure
	always []bool    // that always do
	late   []float64 // offgoing elements that let go late, s
	harsh  []float64 // what a solenoid gives over what a shift asks for
	learns bool
	learnt []float64 // by element: how much longer it is filled than a sound one, s
	ran    float64   // how far the turbine has run up beyond the gear that is left, rad/s
}

type phase int

const (
	resting phase = iota
	filling
	torque
	inertia
	arriving // power on, down: the turbine comes up to the lower gear
)

// Times of a hand-over (chosen).
const (
	fillPhase   = 0.20 // of an engagement from rest
	mostFill    = 0.8
	overlap     = 0.03 // by which the one lets go later than the other takes hold
	torquePhase = 0.15
	inertiaTime = 0.35
	timeOut     = 2.5
	syncSlip    = 0.8 // rad/s
	engageTime  = 0.45
)

func newHandover(b base, learns bool) *handover {
	n := len(b.m.train.Names)
	b.creeps = true
	ones := slices.Repeat([]float64{1}, n)
	return &handover{base: b, cmd: make([]float64, n), begun: make([]float64, n), hold: make([]float64, n), late: make([]float64, n), shut: make([]bool, n), always: make([]bool, n), push: 1, harsh: ones, learns: learns, learnt: make([]float64, n)}
}

func (c *handover) on(i int) bool { return c.now.applied[i] || c.busy && c.to.applied[i] }

func (c *handover) command(i int) float64 {
	p := c.cmd[i]
	if c.busy && c.phase != filling && c.to.applied[i] && !c.now.applied[i] {
		p *= c.harsh[i]
	}
	if t := c.m.time - c.begun[i]; !c.busy && c.now.applied[i] && t > fillPhase && t < engageTime*2 {
		p *= c.harsh[i]
	}
	switch {
	case c.always[i] && c.m.unit.Fed(c.m.train.Names[i], c.now.Selector):
		p = c.line()
	case c.shut[i]:
		p = 0
	}
	return math.Min(p, c.line())
}

func (c *handover) line() float64 { return c.m.pressureOf(c.now, c.m.input.Throttle) }

func (c *handover) enter(r *gear) {
	c.base.enter(r)
	for i, on := range r.applied {
		if on {
			c.cmd[i], c.begun[i] = c.line(), -engageTime*4
		}
	}
}

func (c *handover) fail(f Fault) bool {
	i, ok := c.m.train.Element[f.Element]
	switch {
	case c.common(f):
	case !ok:
		return false
	case f.Kind == SolenoidShut:
		c.shut[i] = true
	case f.Kind == SolenoidOpen:
		c.always[i] = true
	case f.Kind == Harsh:
		c.harsh[i] = f.Size
	case f.Kind == ReleaseLate:
		c.late[i] = f.Size
	default:
		return false
	}
	return true
}

func (c *handover) advance(h float64) {
	m := c.m
	c.since += h
	if !c.busy {
		c.rested += h
	}
	if m.input.Selector != c.now.Selector && m.input.Selector != "" {
		if r := c.entry(m.input.Selector); r != nil {
			c.engage(r)
		}
	}
	if !c.busy && c.rested > restTime && !m.input.Hold {
		if r := c.wanted(); r != c.now {
			c.begin(r)
		}
	}
	c.lock(h)
	line := c.line()
	for i, p := range m.pistons {
		switch {
		case p == nil:
		case c.now.applied[i] && (!c.busy || c.to.applied[i]):
			c.cmd[i] = line
			if t := m.time - c.begun[i]; t < engageTime*2 { // engaged from rest: filled, then brought up
				c.cmd[i] = p.Touch * 1.05
				if t < fillPhase {
					c.cmd[i] = piston.FillPressure
				} else if t > fillPhase+0.05 {
					c.cmd[i] += (line - c.cmd[i]) * math.Min(1, (t-fillPhase-0.05)/engageTime)
				}
			}
		case !c.busy:
			c.cmd[i] = 0
		}
	}
	if c.busy {
		c.shift(h)
	}
}

// engage goes to a range by the selector.
func (c *handover) engage(r *gear) {
	for i, on := range r.applied {
		if on && !c.now.applied[i] {
			c.begun[i] = c.m.time
		}
	}
	c.busy, c.phase, c.rested = false, resting, 0
	c.now, c.to = r, r
}

// begin commands a shift.
func (c *handover) begin(r *gear) {
	c.busy, c.to, c.since, c.inSync, c.phase = true, r, 0, 0, filling
	c.fill = 0
	for i, p := range c.m.pistons {
		switch {
		case p == nil:
		case c.now.applied[i] && !r.applied[i]:
			c.hold[i] = c.carried(i, c.now) * 1.2
		case r.applied[i] && !c.now.applied[i]:
			c.fill = math.Max(c.fill, p.Fills(c.line(), c.m.thick)+c.learnt[i])
		}
	}
	c.fill = math.Min(c.fill, mostFill) + c.m.scatter*0.010*c.m.rng.NormFloat64()
	c.push = 1 + c.m.scatter*0.02*c.m.rng.NormFloat64()
	c.ran = 0
	if c.m.input.Throttle > 0.05 && c.to.Healthy.Ratio > c.now.Healthy.Ratio {
		c.phase = arriving
	}
}

// carried is the pressure at which a sound element carries what it has to in a range.
func (c *handover) carried(i int, r *gear) float64 {
	return c.m.pistons[i].Needs(r.torques[i] * math.Max(20, c.m.gets))
}

// needed is the pressure that brings the turbine to the new gear in the time of the inertia phase.
func (c *handover) needed(i int) float64 {
	m := c.m
	in := drivetrain.Dot(m.train.Turbine, m.v)
	step := math.Abs(in - drivetrain.Dot(m.train.Output, m.v)*c.to.Healthy.Ratio)
	t := math.Max(20, m.gets) + (m.car.Turbine+0.04)*step/inertiaTime
	return m.pistons[i].Needs(c.to.torques[i]*t) * c.push
}

// shift goes on with the phases.
func (c *handover) shift(h float64) {
	m := c.m
	arrived := true
	for i, p := range m.pistons {
		on, off := c.to.applied[i] && !c.now.applied[i], c.now.applied[i] && !c.to.applied[i]
		if p == nil || !on && !off {
			continue
		}
		if on && math.Abs(m.slip(i)) > syncSlip {
			arrived = false
		}
		switch c.phase {
		case filling:
			if on {
				c.cmd[i] = piston.FillPressure
			} else {
				c.cmd[i] = math.Min(c.line(), math.Max(c.hold[i], c.carried(i, c.now)*1.2))
			}
		case torque:
			x := (c.since - c.fill) / torquePhase
			if on {
				c.cmd[i] = p.Touch + (c.needed(i)-p.Touch)*x
			} else {
				c.cmd[i] = c.hold[i] * math.Max(0, 1-math.Max(0, x-(overlap+c.late[i])/torquePhase))
			}
		case inertia:
			if on {
				c.cmd[i] += c.needed(i) * 0.5 * h
			} else {
				c.cmd[i] = c.hold[i] * math.Max(0, 1-math.Max(0, (c.since-c.fill-overlap-c.late[i])/torquePhase))
			}
		case arriving:
			if on {
				c.cmd[i] = piston.FillPressure
				if c.since > c.fill {
					c.cmd[i] = p.Touch * 1.02
				}
				if c.there() {
					c.cmd[i] = c.needed(i) * (1 + 3*math.Max(0, c.since-c.inSync))
				}
			} else if c.cmd[i] = c.hold[i] * 0.55; c.there() {
				c.cmd[i] = math.Max(0, c.hold[i]*0.55*(1-(c.since-c.inSync)/0.1))
			}
		}
	}
	switch {
	case c.phase == filling && c.since > c.fill:
		c.phase = torque
	case c.phase == torque && c.since > c.fill+torquePhase:
		c.phase = inertia
	}
	if c.phase == arriving && c.inSync == 0 && c.there() {
		c.inSync = c.since
	}
	settled := arrived && (c.phase == inertia || c.phase == arriving && c.inSync > 0 && c.since > c.inSync+0.1)
	if c.phase == torque || c.phase == inertia {
		c.ran = math.Max(c.ran, drivetrain.Dot(m.train.Turbine, m.v)-drivetrain.Dot(m.train.Output, m.v)*c.now.Healthy.Ratio)
	}
	if settled && c.learns && c.phase == inertia {
		c.learn()
	}
	if settled || c.since > timeOut {
		c.now, c.busy, c.phase, c.rested = c.to, false, resting, 0
		for i := range m.pistons {
			c.begun[i] = -4 * engageTime
		}
	}
}

// learn fills longer what came on late, and less long what came on without any slack, in small steps and up to a limit (chosen).
func (c *handover) learn() {
	const step, most, slack, none = 0.012, 0.10, 9.0, 1.5 // s, s, rad/s, rad/s
	for i, p := range c.m.pistons {
		if p == nil || !c.to.applied[i] || c.now.applied[i] {
			continue
		}
		switch {
		case c.ran > slack:
			c.learnt[i] = math.Min(most, c.learnt[i]+step)
		case c.ran < none:
			c.learnt[i] = math.Max(-most, c.learnt[i]-step/4)
		}
	}
}

// there reports whether the turbine has come up to the lower gear.
func (c *handover) there() bool {
	return c.inSync > 0 || c.since > c.fill && drivetrain.Dot(c.m.train.Turbine, c.m.v) > drivetrain.Dot(c.m.train.Output, c.m.v)*c.to.Healthy.Ratio-3
}
