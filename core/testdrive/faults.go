package testdrive

import (
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
			return one(sim.Weak, weak(u, f))
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
		return []sim.Fault{{Kind: sim.LineHigh, Size: 1.5}}, true
	case faultmap.LockupStuck:
		return []sim.Fault{{Kind: sim.LockupStuck}}, true
	case faultmap.LowPressure:
		return []sim.Fault{{Kind: sim.LineLow, Size: 0.5}}, true
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

// electric reports whether each element has a solenoid of its own.
func electric(u *unitsheet.Unit) bool {
	return len(u.Controls) > 0 && !slices.ContainsFunc(u.Controls, func(c unitsheet.Control) bool { return c.Place >= 0 })
}

// weak is how much of its friction an element has left when it slips under load, but not at every throttle: somewhat less than where the fault table says that it begins.
func weak(u *unitsheet.Unit, f faultmap.Fault) float64 {
	row, err := faultmap.Predict(u, f)
	if err != nil || row.First == nil || row.First.Left <= 0 {
		return 0.5
	}
	return 0.85 * row.First.Left
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
	for _, id := range ids {
		if e, ok := u.Element(id); !ok || !e.Pressed() {
			continue
		}
		if f.Kind == faultmap.Lost {
			out = append(out, sim.Fault{Kind: sim.StuckOff, Element: id})
		} else {
			out = append(out, sim.Fault{Kind: sim.LeaksBy, Element: id, Size: 1.25})
		}
	}
	return out, len(out) > 0
}
