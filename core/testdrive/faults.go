package testdrive

import (
	"math"
	"slices"

	"innercompass/core/faultmap"
	"innercompass/core/gearing"
	"innercompass/core/sim"
	"innercompass/core/unitsheet"
)

// Of is a failure of the design as changed parameters of a vehicle; false when the model cannot express it, as noise.
func Of(u *unitsheet.Unit, f faultmap.Fault) ([]sim.Fault, bool) {
	one := func(kind sim.Kind, size float64) ([]sim.Fault, bool) {
		return []sim.Fault{{Kind: kind, Element: f.Part, Size: size}}, true
	}
	e, element := u.Element(f.Part)
	oil := element && e.Pressed() && !e.Hand
	switch f.Kind {
	case faultmap.NeverApplies:
		if oil {
			return one(sim.StuckOff, 0)
		}
	case faultmap.AppliesLate:
		if oil {
			return one(sim.FeedSlow, 0.22)
		}
	case faultmap.ElementSlips:
		switch {
		case oil || element && e.Kind == gearing.Clutch:
			return one(sim.Weak, left(u, []string{f.Part}, byGrip))
		}
	case faultmap.NeverReleases:
		if oil {
			return one(sim.Welded, 3000)
		}
	case faultmap.ReleasesLate:
		if oil {
			return one(sim.VentSlow, 0.03)
		}
	case faultmap.NeverHolds:
		return one(sim.NeverHolds, 0)
	case faultmap.Seized:
		return one(sim.Seized, 0)
	case faultmap.StuckOff, faultmap.StuckOn:
		return control(u, f)
	case faultmap.Leaks, faultmap.Lost:
		return served(u, f)
	case faultmap.AppliesHard:
		switch {
		case !oil:
		case electric(u):
			return one(sim.Harsh, 2.2)
		default:
			return one(sim.Accumulator, 0)
		}
	case faultmap.LimpHome:
		return []sim.Fault{{Kind: sim.LimpHome}}, true
	case faultmap.HighPressure:
		if !automatic(u) {
			return nil, false
		}
		return []sim.Fault{{Kind: sim.LineHigh, Size: 1.5}}, true
	case faultmap.LockupStuck:
		return []sim.Fault{{Kind: sim.LockupStuck}}, true
	case faultmap.LowPressure:
		if !automatic(u) {
			return nil, false
		}
		var pressed []string
		for _, e := range u.Elements {
			if e.Pressed() {
				pressed = append(pressed, e.ID)
			}
		}
		return []sim.Fault{{Kind: sim.LineLow, Size: math.Min(0.75, left(u, pressed, byPressure))}}, true
	case faultmap.ShiftsLate:
		if len(u.Shifts) > 0 {
			return []sim.Fault{{Kind: sim.GovernorWeak, Size: 0.7}}, true
		}
	case faultmap.ShiftsEarly:
		if len(u.Shifts) > 0 {
			return []sim.Fault{{Kind: sim.GovernorWeak, Size: 1.4}}, true
		}
	case faultmap.NeverShifts:
		if len(u.Shifts) > 0 {
			return []sim.Fault{{Kind: sim.GovernorWeak, Size: 0}}, true
		}
	case faultmap.LockupNever:
		return []sim.Fault{{Kind: sim.LockupNever}}, true
	case faultmap.LockupSlips:
		return []sim.Fault{{Kind: sim.LockupWeak, Size: 0.06}}, true
	}
	return nil, false
}

// automatic reports whether oil presses what drives it: behind a dry clutch pressure works actuators only, which the vehicle moves as a driver would.
func automatic(u *unitsheet.Unit) bool { return u.Sheet.Converter != nil }

// electric reports whether each element has a solenoid of its own.
func electric(u *unitsheet.Unit) bool {
	return len(u.Controls) > 0 && !slices.ContainsFunc(u.Controls, func(c unitsheet.Control) bool { return c.Place >= 0 })
}

// slipsFrom is the throttle from which a failure of middling size slips, in the range that asks the most: below it a driver notices little, above it much.
const slipsFrom = 0.4

// left is what is left of friction, or of pressure, when these elements begin to slip at that throttle: 0.5 where the sheet does not tell.
func left(u *unitsheet.Unit, ids []string, holds func(e unitsheet.Element, line, share float64) float64) float64 {
	most := 0.0
	for _, r := range u.Ranges {
		for _, id := range ids {
			e, ok := u.Element(id)
			line, known := r.Line(slipsFrom)
			load := u.Load(r, id) * u.EngineTorque(r, slipsFrom)
			if !ok || !slices.Contains(r.Applied, id) || load == 0 || e.Pressed() && !known || holds(e, line, 1) <= 0 {
				continue
			}
			low, high := 0.0, 1.0
			for range 30 {
				if mid := (low + high) / 2; holds(e, line, mid) < load {
					low = mid
				} else {
					high = mid
				}
			}
			most = math.Max(most, high)
		}
	}
	if most == 0 {
		return 0.5
	}
	return math.Min(most, 0.9)
}

// byGrip and byPressure are what an element holds with a share of its friction, or of its pressure.
func byGrip(e unitsheet.Element, line, share float64) float64 {
	hold, _ := e.Hold(line)
	return share * hold
}

func byPressure(e unitsheet.Element, line, share float64) float64 {
	hold, _ := e.Hold(share * line)
	return hold
}

// control is a two-position control that stays where it is.
func control(u *unitsheet.Unit, f faultmap.Fault) ([]sim.Fault, bool) {
	c, ok := u.Control(f.Part)
	if !ok {
		return nil, false
	}
	at, kind := 0.0, sim.SolenoidShut
	if f.Kind == faultmap.StuckOn {
		at, kind = 1, sim.SolenoidOpen
	}
	if c.Place >= 0 {
		return []sim.Fault{{Kind: sim.ControlStuck, Element: c.ID, Size: at}}, true
	}
	e, ok := u.Element(c.Applies)
	return []sim.Fault{{Kind: kind, Element: c.Applies}}, ok && e.Pressed()
}

// served is a leak, or the loss of all oil, on the way to the elements that a feed or a shared part serves.
func served(u *unitsheet.Unit, f faultmap.Fault) ([]sim.Fault, bool) {
	var ids []string
	for _, x := range u.Sheet.Feeds {
		if x.ID == f.Part {
			ids = x.Serves
		}
	}
	for _, x := range u.Sheet.Shared {
		if x.ID == f.Part {
			ids = x.Serves
		}
	}
	var out []sim.Fault
	size := math.Sqrt(1/left(u, ids, byPressure) - 1) // the root law of two orifices in a row
	for _, id := range ids {
		if e, ok := u.Element(id); !ok || !e.Pressed() {
			continue
		}
		if f.Kind == faultmap.Lost {
			out = append(out, sim.Fault{Kind: sim.StuckOff, Element: id})
		} else {
			out = append(out, sim.Fault{Kind: sim.LeaksBy, Element: id, Size: size})
		}
	}
	return out, len(out) > 0
}
