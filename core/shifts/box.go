package shifts

import (
	"math"
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Box is a unit as its shifts are told by it: the gears of one position of the selector, and what its elements hold.
type Box struct {
	Selector string
	Gears    []Gear
	elements map[string]unitsheet.Element
	order    []string // of the elements, as the sheet has them
}

// Of makes one of a unit: of a position of its selector, or of the one that shifts by itself through the most gears; of one that is shifted by hand, all forward gears.
// It has no gears for a position that there is not.
func Of(u *unitsheet.Unit, selector string) Box {
	by, most := map[string][]Gear{}, ""
	for _, r := range u.Ranges {
		ratio := u.RatioOf(r)
		if !r.Driving() || ratio <= 0 {
			continue
		}
		by[r.Selector] = append(by[r.Selector], Gear{ID: r.ID, Name: r.Name, Ratio: ratio, Applied: r.Applied, free: r.Healthy.Coast != gearing.CoastBrakes, torques: r.Healthy.Torques, slips: r.Healthy.Slip, pressure: r.Line})
		if len(by[r.Selector]) > len(by[most]) {
			most = r.Selector
		}
	}
	b := Box{Selector: selector, elements: map[string]unitsheet.Element{}}
	for _, e := range u.Elements {
		b.elements[e.ID] = e
		b.order = append(b.order, e.ID)
	}
	if selector == "" && len(by[most]) > 1 {
		b.Selector = most
	}
	if b.Selector == "" {
		for _, r := range u.Ranges {
			for _, g := range by[r.Selector] {
				if g.ID == r.ID {
					b.Gears = append(b.Gears, g)
				}
			}
		}
	} else {
		b.Gears = by[b.Selector]
	}
	for i := range b.Gears {
		b.Gears[i].Number = i + 1
	}
	return b
}

// gear finds one by its id.
func (b Box) gear(id string) Gear {
	i := slices.IndexFunc(b.Gears, func(g Gear) bool { return g.ID == id })
	if i < 0 {
		return Gear{}
	}
	return b.Gears[i]
}

// Change is what comes on and what lets go between two gears, and how much of its hold what comes on needs at one pressure.
func (b Box) Change(from, to string) Change {
	var c Change
	a, z := b.gear(from), b.gear(to)
	for _, id := range z.Applied {
		if slices.Contains(a.Applied, id) {
			continue
		}
		c.On = append(c.On, id)
		if hold, known := b.elements[id].Hold(1e6); known && hold > 0 {
			c.Demand = math.Max(c.Demand, math.Abs(z.torques[id])/hold)
		}
	}
	for _, id := range a.Applied {
		if !slices.Contains(z.Applied, id) {
			c.Off = append(c.Off, id)
		}
	}
	return c
}

// Touch is the pressure at which an element begins to hold, Pa.
func (b Box) Touch(id string) float64 { return b.elements[id].TouchPressure() }

// slipOf is the slip of an element for one rev/min by which the turbine is off the gear that it comes on for: known where the gears are.
func (b Box) slipOf(id string, from, to Gear) (float64, bool) {
	s, ok := from.slips[id]
	off := 1 - to.Ratio/from.Ratio
	return s / off, ok && off != 0
}
