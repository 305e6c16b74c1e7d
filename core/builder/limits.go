package builder

import (
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Limits are what a shop measures on a unit and its sheet does not limit yet: the clearance of each pack, the travel of each band's servo,
// end play. Their ids are those of the trade's findings.
func Limits(s unitsheet.Sheet) []unitsheet.LimitSheet {
	var out []unitsheet.LimitSheet
	add := func(id, name, element string) {
		if !slices.ContainsFunc(s.Limits, func(l unitsheet.LimitSheet) bool { return l.ID == id }) {
			out = append(out, unitsheet.LimitSheet{ID: id, Name: name, Element: element, Dimension: "length"})
		}
	}
	for _, e := range s.Elements {
		switch gearing.Kind(e.Kind) {
		case gearing.Clutch, gearing.Brake:
			add("clearance-"+e.ID, nameOf(e)+" clearance", e.ID)
		case gearing.Band:
			add("servo-travel-"+e.ID, nameOf(e)+", servo travel", e.ID)
		}
	}
	add("end-play", "input shaft end play", "")
	return out
}
