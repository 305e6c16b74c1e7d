package sim

import (
	"math"
	"slices"

	"innercompass/core/drivetrain"
	"innercompass/core/unitsheet"
)

// controller decides what is on, and what pressure its oil comes with.
type controller interface {
	enter(r *gear)                      // at once, at the beginning
	advance(h float64)                  // one step
	on(element int) bool                // commanded to hold
	command(element int) float64        // source of its piston, Pa
	lockup() float64                    // what the converter clutch may hold, N·m
	throttle(wanted float64) float64    // what the engine gets of the driver's foot
	state() (now, to string, busy bool) // ranges: driven in, and shifted into
	fail(f Fault) bool                  // a fault of the controls; false when it has no such control
}

func newController(m *Sim, learns bool) (controller, error) {
	b := base{m: m, locks: true, held: 1}
	switch {
	case !m.train.Fluid:
		return newHand(b)
	case len(m.unit.Controls) > 0 && !slices.ContainsFunc(m.unit.Controls, func(c unitsheet.Control) bool { return c.Place >= 0 }):
		return newHandover(b, learns), nil
	}
	return newValves(b), nil
}

// base is what all controllers know.
type base struct {
	m       *Sim
	now, to *gear
	busy    bool
	since   float64 // of the command, s
	rested  float64 // since the last shift ended, s
	clutch  float64 // of the converter clutch, 0 to 1
	locks   bool    // it may be applied
	held    float64 // what it holds over a sound one
	stays   bool    // it does not let go
	creeps  bool    // its slip is controlled where the foot is light
}

func (b *base) enter(r *gear)                      { b.now, b.to, b.rested = r, r, 1 }
func (b *base) state() (now, to string, busy bool) { return b.now.ID, b.to.ID, b.busy }

// throttle is the foot's, as far as the module lets the engine in this range.
func (b *base) throttle(wanted float64) float64 {
	if most := b.m.unit.MaxTorque.SI; unitsheet.Known(b.now.Limit) && most > 0 {
		return math.Min(wanted, b.now.Limit.SI/most)
	}
	return wanted
}

// gear is a range of the unit, made ready.
type gear struct {
	unitsheet.Range
	applied      []bool    // by element
	torques      []float64 // by element: that it carries in health, for one of input torque
	above, below *gear     // with the same selector
	driving      bool
	idle, full   float64 // line pressure, Pa
}

// gearsOf makes the ranges ready.
func gearsOf(u *unitsheet.Unit, t *drivetrain.Train) []*gear {
	var out []*gear
	for _, r := range u.Ranges {
		g := &gear{Range: r, applied: make([]bool, len(t.Names)), torques: make([]float64, len(t.Names)), driving: r.Driving(), idle: 4e5, full: 12e5}
		for i, id := range t.Names {
			g.applied[i], g.torques[i] = slices.Contains(r.Applied, id), math.Abs(r.Healthy.Torques[id])
		}
		if p, ok := r.Line(0); ok {
			g.idle = p
			g.full, _ = r.Line(1)
		}
		out = append(out, g)
	}
	for _, g := range out {
		for _, x := range out {
			if above, ok := u.Above(g.Range); ok && x.ID == above.ID {
				g.above = x
			}
			if x.ID == g.From {
				g.below = x
			}
		}
	}
	return out
}

// entry is the range that a selector position begins with.
func (b *base) entry(selector string) *gear {
	for _, r := range b.m.gears {
		if r.Selector == selector && r.From == "" {
			return r
		}
	}
	return nil
}

// find is the range with an id; nil when there is none.
func (m *Sim) find(id string) *gear {
	for _, g := range m.gears {
		if g.ID == id {
			return g
		}
	}
	return nil
}

func (m *Sim) neutral() *gear {
	for _, g := range m.gears {
		if g.Selector == "N" {
			return g
		}
	}
	return m.gears[0]
}

// Schedule of an electronic unit (chosen): up when the turbine has come this far between idle and the engine's most, by throttle; down when in the gear below it would
// still be slower than this share of it.
const (
	upAtRest, upAtFull = 0.13, 0.80
	downShare          = 0.60
	// restTime is how long nothing is shifted after a shift.
	restTime = 0.7
)

func (b *base) upSpeed(throttle float64) float64 {
	e := b.m.car.Engine
	return e.Idle*1.35 + (e.Most-e.Idle*1.35)*(upAtRest+(upAtFull-upAtRest)*throttle)
}

// wanted is the range that road speed and throttle ask for: the one above, the one below, or the one that it is.
func (b *base) wanted() *gear {
	r := b.now
	out := drivetrain.Dot(b.m.train.Output, b.m.v)
	if !r.driving || r.Healthy.Ratio <= 0 || b.m.limp {
		return r
	}
	limit := b.upSpeed(b.m.input.Throttle)
	if r.above != nil && out*r.Healthy.Ratio > limit {
		return r.above
	}
	for r.below != nil && out*r.below.Healthy.Ratio < downShare*limit { // over several gears when it is kicked down
		r = r.below
	}
	return r
}

// Converter clutch (chosen): applied in its ranges below this throttle and above this road speed, in so much time.
const (
	lockThrottle = 0.55
	lockSpeed    = 15.0
	lockTime     = 0.6
	// With a solenoid that meters it: below this throttle it slips so much, rad/s, and its hold changes so fast, 1/s.
	creepThrottle = 0.38
	creepSlip     = 2.5
	creepRate     = 0.5
)

func (b *base) lock(h float64) {
	m := b.m
	want := b.locks && !m.limp && b.now.Lockup && !b.busy && b.rested > 0.8 && m.input.Throttle < lockThrottle && m.input.Throttle > 0.02 && m.speed() > lockSpeed
	rate := -h / 0.1
	if want {
		rate = h / lockTime
		if b.creeps && m.input.Throttle < creepThrottle { // with a light foot it is let slip a little, so that the engine is not felt
			off := (m.slips[m.train.Lockup] - creepSlip) / creepSlip
			rate = h * creepRate * math.Max(-1, math.Min(1, off))
		}
	}
	if b.stays {
		b.clutch = 1
		return
	}
	b.clutch = math.Min(1, math.Max(0, b.clutch+rate))
}

func (b *base) lockup() float64 {
	t := b.m.unit.LockupTorque.SI
	if t <= 0 {
		t = 1.5 * b.m.car.Engine.Torque
	}
	return t * b.clutch * b.held
}

// common handles the faults of the converter clutch.
func (b *base) common(f Fault) bool {
	switch f.Kind {
	case LockupNever:
		b.locks = false
	case LockupWeak:
		b.held = f.Size
	case LockupStuck:
		b.stays = true
	default:
		return false
	}
	return true
}

func (m *Sim) speed() float64 { return drivetrain.Dot(m.train.Vehicle, m.v) * m.car.Wheel / m.car.Axle }

// slip is the speed across an element now.
func (m *Sim) slip(element int) float64 { return m.train.Loose.Slip(element, m.v) }
