package roadtest

import (
	"fmt"
	"slices"

	"innercompass/core/faultmap"
	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Split says what tells two faults apart: a cell of the road test where there is one, else a check on the
// bench. The checks follow from what the faults are of (common practice, no source).
func Split(u *unitsheet.Unit, a, b faultmap.Row) string {
	if cells := Differ(u, a, b); len(cells) > 0 {
		c := cells[0]
		for _, x := range cells { // a cell where both speak tells more than one where one is silent
			if in(a, x) != "?" && in(b, x) != "?" {
				c = x
				break
			}
		}
		return fmt.Sprintf("drive %s and note: %s", c.Range, faultmap.Info(c.Behaviour).Title)
	}
	return bench(u, a.Fault, b.Fault)
}

// bench is the check that separates what no range does.
func bench(u *unitsheet.Unit, a, b faultmap.Fault) string {
	switch {
	case of(a, faultmap.StuckOff, faultmap.StuckOn, faultmap.Dead, faultmap.LimpHome) != of(b, faultmap.StuckOff, faultmap.StuckOn, faultmap.Dead, faultmap.LimpHome):
		control := a
		if of(b, faultmap.StuckOff, faultmap.StuckOn, faultmap.Dead, faultmap.LimpHome) {
			control, b = b, a
		}
		return electrical(u, control) + gauge(u, b)
	case of(a, faultmap.StuckOff, faultmap.StuckOn, faultmap.Dead, faultmap.LimpHome):
		if a.Part == "" {
			a = b
		}
		return "read the codes; " + electrical(u, a)
	case of(a, faultmap.Lost) || of(b, faultmap.Lost):
		return "air into each feed: what has lost all its oil fills nothing"
	case of(a, faultmap.Leaks) != of(b, faultmap.Leaks):
		return "drive it cold, where a leak shows less; air into the feed: a leak is heard and does not hold"
	case of(a, faultmap.Leaks) && of(b, faultmap.Leaks):
		return "air into each feed: a leak is heard and does not hold"
	case freewheel(a, u) || freewheel(b, u):
		return "not by pressure: turn the one-way clutch by hand once the unit is apart"
	case of(a, faultmap.GearNoise) && of(b, faultmap.GearNoise):
		return "listen at the case over each set, then look at the teeth"
	case a.Part != "" && b.Part != "" && gauge(u, a)+gauge(u, b) != "":
		return "air into each feed" + gauge(u, a)
	}
	return "inspection with the unit apart"
}

func of(f faultmap.Fault, kinds ...faultmap.Kind) bool { return slices.Contains(kinds, f.Kind) }

func freewheel(f faultmap.Fault, u *unitsheet.Unit) bool {
	e, ok := u.Element(f.Part)
	return ok && e.Kind == gearing.Freewheel
}

func electrical(u *unitsheet.Unit, f faultmap.Fault) string {
	c, ok := u.Control(f.Part)
	switch {
	case !ok:
		return "read the codes and the supply of the controls"
	case c.Kind == "valve":
		return "move the " + c.Name + " by hand with the valve body open"
	case len(c.Ohms) == 2:
		return fmt.Sprintf("resistance of %s (%g to %g Ω), then drive it from the tool", c.Name, c.Ohms[0], c.Ohms[1])
	}
	return "drive " + c.Name + " from the tool and listen"
}

// gauge names the tap on the way to the part, if there is one.
func gauge(u *unitsheet.Unit, f faultmap.Fault) string {
	feed, ok := u.Feed(f.Part)
	for _, x := range u.Sheet.Feeds {
		if x.ID == f.Part {
			feed, ok = x, true
		}
	}
	if !ok {
		return ""
	}
	for _, s := range feed.Path {
		if s.Kind == "tap" {
			return "; pressure at the " + s.Name
		}
	}
	return "; air into the " + feed.Name
}
