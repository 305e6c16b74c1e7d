package burnt

import (
	"math"
	"slices"

	"innercompass/core/friction"
	"innercompass/core/gearing"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Shift is one change into a range in which the element takes over, at full throttle. Temperatures are rises over the oil, K.
type Shift struct {
	From    string
	Slip    float64 // rad/s across the element as it begins
	Healthy Heat
	Now     Heat
}

// Heat is what one engagement leaves in the element. A clutch that holds less than its load never closes: Closes is false, and the figures
// are those of the first second.
type Heat struct {
	Closes  bool
	Time    float64 // s
	Energy  float64 // J
	Surface float64 // K, steel face at its hottest
	Bulk    float64 // K, plates after it
}

// What is not in a sheet: judgment, the same for every unit.
const (
	EngineInertia = 0.25        // kg·m², engine with the converter's pump side
	shiftSpeed    = 4000.0 / 60 // turns a second of the input at a full throttle shift
	intoSteel     = 0.5         // share of the heat that goes into the steels
)

// shift is the heat of the change into a range; nil where the element is on already, or the sheet does not give its plates.
func shift(u *unitsheet.Unit, r unitsheet.Range, e unitsheet.Element, m Margin) *Shift {
	from, ok := u.Range(r.From)
	if !ok || slices.Contains(from.Applied, e.ID) || from.Healthy.Ratio == 0 {
		return nil
	}
	across, known := from.Healthy.Slip[e.ID]
	area, half, ok := steel(u, e.ID)
	if !known || !ok || across == 0 {
		return nil
	}
	s := &Shift{From: from.Name, Slip: math.Abs(across) * 2 * math.Pi * shiftSpeed}
	// What changes speed, counted at the element: the input goes from one ratio to the next while the element's slip goes to nothing.
	change := math.Abs(1 - r.Healthy.Ratio/from.Healthy.Ratio)
	inertia := EngineInertia * math.Pow(change/math.Abs(across), 2)
	if change == 0 {
		return nil
	}
	s.Healthy, s.Now = heat(s.Slip, m.Healthy, m.Load, inertia, area, half), heat(s.Slip, m.Now.Is, m.Load, inertia, area, half)
	return s
}

func heat(slip, torque, load, inertia, area, half float64) Heat {
	run, err := friction.Engage(slip, torque, load, inertia, area)
	if err != nil {
		if torque <= 0 || slip <= 0 {
			return Heat{}
		}
		// It slips on: power torque × slip for a second, steady.
		energy := torque * slip
		bulk, err := friction.BulkRise(energy*intoSteel, area, half)
		if err != nil {
			return Heat{}
		}
		return Heat{Time: 1, Energy: energy, Surface: friction.PlateRise(energy/area, math.Inf(1), intoSteel, half, 1), Bulk: bulk}
	}
	h := Heat{Closes: true, Time: run.Time, Energy: run.Energy}
	h.Surface, _ = friction.PlatePeak(run.Flux, run.Time, intoSteel, half)
	h.Bulk, _ = friction.BulkRise(run.Energy*intoSteel, area, half)
	return h
}

// steel is the area of the faces of a pack, and half the thickness of a steel.
func steel(u *unitsheet.Unit, element string) (area, half float64, ok bool) {
	for _, e := range u.Sheet.Elements {
		if e.ID != element || e.Plates == nil {
			continue
		}
		size := func(text string) float64 {
			q, err := quantity.Parse(text, quantity.Length, "")
			if err != nil {
				return 0
			}
			return q.SI
		}
		o, i, t := size(e.Plates.Outer), size(e.Plates.Inner), size(e.Plates.SteelThick)
		area = float64(2*e.Plates.Lined) * math.Pi / 4 * (o*o - i*i)
		return area, t / 2, area > 0 && t > 0
	}
	return 0, 0, false
}

// Burns reports whether an element can burn: friction, worked by pressure.
func Burns(e unitsheet.Element) bool {
	return e.Kind.Friction() && e.Kind != gearing.Selector && e.Pressed()
}
