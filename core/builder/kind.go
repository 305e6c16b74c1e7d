package builder

import (
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Kinds of unit, in the order in which they are offered.
var Kinds = []Kind{
	{"automatic", "automatic", "planetary"},
	{"parallel", "automatic on parallel shafts", "parallel"},
	{"two-speed", "two-speed", "planetary"},
	{"manual", "manual", "parallel"},
	{"automated", "automated manual", "parallel"},
}

// Kind is a kind of unit and how its gears lie.
type Kind struct{ ID, Name, Layout string }

// KindOf is the kind of a unit, by its control and gears.
func KindOf(u *unitsheet.Unit) string {
	clutches, sleeves, ladder := 0, 0, 0
	for _, e := range u.Elements {
		switch e.Kind {
		case gearing.Clutch:
			clutches++
		case gearing.Selector:
			sleeves++
		}
	}
	for _, r := range u.Ranges {
		if r.Healthy.Outcome == gearing.Forward && r.From != "" {
			ladder++
		}
	}
	planetary := len(u.Sheet.Gearing.Sets) > 0 || u.Chart != nil && u.Sheet.Layout == "planetary"
	switch {
	case u.Sheet.Control == "hand":
		return "manual"
	case planetary && ladder < 2:
		return "two-speed"
	case planetary:
		return "automatic"
	case sleeves > clutches:
		return "automated"
	}
	return "parallel"
}

// Of is a draft of a unit that is on file. Teeth that were counted stand as they are; those that were found are asked for anew, and what
// was sized for an engine is sized anew.
func Of(u *unitsheet.Unit) Draft {
	_, found := u.Assumed("teeth", "")
	d := Draft{Kind: KindOf(u), Counted: u.Machine != nil && !found, Sheet: u.Sheet}
	d.Sheet.Elements = slices.Clone(d.Sheet.Elements)
	for _, x := range d.Sheet.Sources {
		for i, e := range d.Sheet.Elements {
			if _, assumed := u.Assumed("capacities", e.ID); assumed && x.Of == "capacities" && slices.Contains(x.For, e.ID) {
				d.Sheet.Elements[i].Capacity = ""
			}
		}
	}
	return d
}

// Wanted is what a unit should be like. Lies says that Across matters.
type Wanted struct {
	Kind, Control string
	Gears         int
	Across, Lies  bool
}

// Nearest is the unit most like what is wanted: of its kind, lying the same way, with nearly as many gears, then of the same control.
// It is nil when none is of the kind.
func Nearest(units []*unitsheet.Unit, w Wanted) *unitsheet.Unit {
	var best *unitsheet.Unit
	off := 1 << 30
	for _, u := range units {
		if KindOf(u) != w.Kind {
			continue
		}
		gears := Gears(u.Sheet)
		away := 10 * max(gears-w.Gears, w.Gears-gears)
		if across := u.Sheet.Leaks != nil && u.Sheet.Leaks.Across; w.Lies && across != w.Across {
			away += 200
		}
		if w.Control != "" && u.Sheet.Control != w.Control {
			away += 5
		}
		if best == nil || away < off || away == off && u.Sheet.ID < best.Sheet.ID {
			best, off = u, away
		}
	}
	return best
}

// Gears counts the forward gears of a sheet: those that follow each other, or that a hand selects.
func Gears(s unitsheet.Sheet) int {
	n := 0
	for _, r := range s.Ranges {
		follows := r.From != "" || slices.ContainsFunc(s.Ranges, func(o unitsheet.RangeSheet) bool { return o.From == r.ID })
		if r.Outcome == string(gearing.Forward) && (follows || s.Control == "hand") {
			n++
		}
	}
	return n
}

// Ordinals name gears.
var Ordinals = []string{"first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"}
