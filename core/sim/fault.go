package sim

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/piston"
)

// Kind of a fault, as a parameter that is changed.
type Kind string

// The faults that can be put in.
const (
	Weak         Kind = "weak"          // the lining holds Size of what it should
	Clearance    Kind = "clearance"     // the plates stand Size times as far apart
	Leaks        Kind = "leaks"         // past rings and seals, Size mm²
	LeaksBy      Kind = "leaks-by"      // the same, Size times the area of its orifice
	StuckOff     Kind = "stuck-off"     // the piston never moves
	VentSlow     Kind = "vent-slow"     // oil leaves at Size of its rate
	Welded       Kind = "welded"        // holds Size N·m without pressure
	FeedSlow     Kind = "feed-slow"     // its orifice has Size of its area
	Accumulator  Kind = "accumulator"   // its accumulator is stuck
	SolenoidShut Kind = "solenoid-shut" // its solenoid gives no pressure
	SolenoidOpen Kind = "solenoid-open" // its solenoid always gives all of it
	ReleaseLate  Kind = "release-late"  // it lets go Size seconds late
	NeverHolds   Kind = "never-holds"   // a one-way clutch that slips through
	Seized       Kind = "seized"        // a one-way clutch that holds both ways
	Reversed     Kind = "reversed"      // a one-way clutch that was put in the wrong way round
	LineLow      Kind = "line-low"      // line pressure is Size of what it should be
	LineHigh     Kind = "line-high"
	GovernorWeak Kind = "governor-weak" // governor pressure is Size of what it should be
	ControlStuck Kind = "control-stuck" // a shift valve or solenoid stays at Size, 0 or 1
	LockupNever  Kind = "lockup-never"  // the converter clutch is never applied
	LockupWeak   Kind = "lockup-weak"   // it holds Size of what it should
	LockupStuck  Kind = "lockup-stuck"  // it never lets go
	Shudder      Kind = "shudder"       // its lining grips Size less at speed than at rest, as a share: it grabs and lets go
	LimpHome     Kind = "limp-home"     // the controls are without power
	Harsh        Kind = "harsh"         // its solenoid gives Size times the pressure that a shift asks for
	ReactorFree  Kind = "reactor-free"  // the converter's one-way clutch slips: no more torque than goes in
	ReactorTight Kind = "reactor-tight" // it is seized: the converter brakes at speed
	EngineWeak   Kind = "engine-weak"   // the engine gives Size of its torque
	Drags        Kind = "drags"         // a dry clutch that is open carries Size N·m
)

// Fault is one thing that is wrong.
type Fault struct {
	Kind    Kind
	Element string // element or control that it is about; "" for the unit as a whole
	Size    float64
}

func (f Fault) String() string {
	return fmt.Sprintf("%s %s %g", f.Kind, f.Element, f.Size)
}

// FaultError says that a unit cannot have a fault.
type FaultError struct {
	Fault  Fault
	Reason string
}

func (e *FaultError) Error() string { return fmt.Sprintf("%s: %s", e.Fault, e.Reason) }

// put changes what the fault changes.
func (m *Sim) put(f Fault) error {
	if math.IsNaN(f.Size) || f.Size < 0 {
		return &FaultError{f, "the size is no number from 0 on"}
	}
	if m.whole(f) || m.control.fail(f) {
		return nil
	}
	i, ok := m.train.Element[f.Element]
	if !ok {
		return &FaultError{f, fmt.Sprintf("%s has no element or control %q", m.unit.Sheet.Name, f.Element)}
	}
	if p := m.pistons[i]; p != nil && put(p, f) {
		return nil
	}
	if k := slices.IndexFunc(m.solids, func(w solid) bool { return w.element == i && w.oneWay }); k >= 0 && m.train.Kind(m.unit, i) == gearing.Freewheel {
		w := &m.solids[k]
		switch f.Kind {
		case NeverHolds:
			w.strength = 0
		case Reversed:
			w.reversed = true
		case Seized:
			w.seized = true
		default:
			return &FaultError{f, "a one-way clutch has no such fault"}
		}
		return nil
	}
	return &FaultError{f, "this element has no such fault"}
}

// whole are the faults of the unit as a whole.
func (m *Sim) whole(f Fault) bool {
	switch f.Kind {
	case LineLow, LineHigh:
		m.line = f.Size
	case ReactorFree:
		m.conv.Ratio = 1
		m.conv.Capacity *= 1.25 // without the reactor the pump is loaded more (common practice, no source: stall is low)
	case ReactorTight:
		m.tight = true
	case Shudder:
		m.grabs = math.Min(f.Size, 0.9)
	case LimpHome:
		if len(m.unit.Controls) == 0 || len(m.unit.Shifts) > 0 {
			return false
		}
		m.limp = true
		for _, g := range m.gears {
			rest := m.unit.Limp(g.Selector).Applied
			for i, id := range m.train.Names {
				g.applied[i] = slices.Contains(rest, id)
			}
		}
	case EngineWeak:
		m.car.Engine.Torque *= f.Size
	default:
		return false
	}
	return true
}

// put changes a piston.
func put(p *piston.Piston, f Fault) bool {
	switch f.Kind {
	case Weak:
		p.Grip = f.Size
	case Clearance:
		p.Clear *= f.Size
	case Leaks:
		p.Leak = f.Size * 1e-6
	case LeaksBy:
		p.Leak = f.Size * p.Feed
	case StuckOff:
		p.Stuck = true
	case VentSlow:
		p.Vent = f.Size
	case Welded:
		p.Welded = f.Size
	case FeedSlow:
		p.Feed *= f.Size
		p.Vent /= f.Size
	case Accumulator:
		p.Store.Stuck = true
	default:
		return false
	}
	return true
}
