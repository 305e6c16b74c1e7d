package roadtest

import (
	"slices"

	"innercompass/core/faultmap"
	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Leg is a stretch of a drive with the cells that it shows, in the order in which they come up.
type Leg struct {
	Title, How string
	Cells      []faultmap.Cell
}

// Course puts the whole grid of a unit into the order of one drive: standing, pulling away and up through the ranges, on a pull, foot
// off and down again, the ranges held by hand, reverse (common practice, no source). Every cell comes once; legs without cells are left out.
func Course(u *unitsheet.Unit) []Leg {
	c := &course{unit: u, left: faultmap.Grid(u)}
	up := c.ladder()
	down := slices.Clone(up)
	slices.Reverse(down)
	byHand := c.ranges(func(r unitsheet.Range) bool {
		return r.Healthy.Outcome == gearing.Forward && !slices.ContainsFunc(up, func(x unitsheet.Range) bool { return x.ID == r.ID })
	})
	all := c.ranges(func(unitsheet.Range) bool { return true })
	back := c.ranges(func(r unitsheet.Range) bool { return r.Driving() && r.Healthy.Outcome != gearing.Forward })
	still := c.ranges(func(r unitsheet.Range) bool { return !r.Driving() })

	standing, slowing := "Foot hard on the brake, idle. Select each range and wait for it.", "Let it come down through the ranges by itself."
	if slices.ContainsFunc(u.Elements, func(e unitsheet.Element) bool { return e.Kind == gearing.Selector && e.Hand }) {
		standing, slowing = "Foot hard on the brake, clutch pedal down, idle. Select each gear.", "Change down gear by gear."
	}
	c.leg("Standing", standing, all, faultmap.Engages)
	c.leg("Standing in neutral", "Flat ground, nobody in front or behind, foot ready at the brake.", still, faultmap.Drives)
	c.leg("Pull away and go up", "Light throttle, through every range.", up, faultmap.Shift, faultmap.Drives, faultmap.Lockup)
	c.leg("On a pull", "Half throttle uphill, as long as the road allows.", up, faultmap.Slips, faultmap.Noise)
	c.leg("Foot off, slowing down", slowing, down, faultmap.Brakes, faultmap.Down)
	c.leg("Ranges held by hand", "Pull away in each, pull, then foot off.", byHand, faultmap.Shift, faultmap.Drives, faultmap.Lockup, faultmap.Slips, faultmap.Noise, faultmap.Brakes, faultmap.Down)
	c.leg("Backing up", "At a walk, with a clear view, then against a slope.", back, faultmap.Drives, faultmap.Slips, faultmap.Noise, faultmap.Brakes)
	c.leg("What is left", "In each range.", all, faultmap.Engages, faultmap.Drives, faultmap.Shift, faultmap.Down, faultmap.Slips, faultmap.Brakes, faultmap.Noise, faultmap.Lockup)
	return c.legs
}

type course struct {
	unit *unitsheet.Unit
	left []faultmap.Cell
	legs []Leg
}

func (c *course) ranges(want func(unitsheet.Range) bool) []unitsheet.Range {
	var out []unitsheet.Range
	for _, r := range c.unit.Ranges {
		if want(r) {
			out = append(out, r)
		}
	}
	return out
}

// ladder is the way up in ordinary driving: the ranges of the first selector that shifts by itself, or of all forward gears of a box that
// is shifted by hand.
func (c *course) ladder() []unitsheet.Range {
	for _, r := range c.unit.Ranges {
		if from, ok := c.unit.Range(r.From); ok && r.From != "" && from.Healthy.Outcome == gearing.Forward {
			return c.ranges(func(x unitsheet.Range) bool {
				return x.Selector == r.Selector && x.Healthy.Outcome == gearing.Forward
			})
		}
	}
	return c.ranges(func(x unitsheet.Range) bool { return x.Healthy.Outcome == gearing.Forward })
}

// leg takes what is left of these behaviours, range by range.
func (c *course) leg(title, how string, ranges []unitsheet.Range, behaviours ...faultmap.Behaviour) {
	l := Leg{Title: title, How: how}
	for _, r := range ranges {
		for _, b := range behaviours {
			cell := faultmap.Cell{Range: r.ID, Behaviour: b}
			if i := slices.Index(c.left, cell); i >= 0 {
				l.Cells = append(l.Cells, cell)
				c.left = slices.Delete(c.left, i, i+1)
			}
		}
	}
	if len(l.Cells) > 0 {
		c.legs = append(c.legs, l)
	}
}
