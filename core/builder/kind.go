package builder

import (
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

// Of is a draft of a unit that is on file: its teeth stand as they are.
func Of(u *unitsheet.Unit) Draft {
	return Draft{Kind: KindOf(u), Counted: u.Machine != nil, Sheet: u.Sheet}
}
