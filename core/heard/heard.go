// Package heard fits the reader of words to a unit: which ranges its words can mean, what it has, and which readings it has words for.
package heard

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/intake"
	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
)

// Unit is what the reader has to know of a unit.
func Unit(n *knowledge.Network) intake.Unit {
	return intake.Unit{Ranges: ranges(n.Unit), Has: n.Has, Knows: func(finding, state string) bool {
		f, ok := n.Finding(finding)
		return ok && f.StateAt(state) >= 0
	}}
}

// sameRatio is how near two ratios are that belong to one gear.
const sameRatio = 1e-6

// ranges gives each range its gear: the forward ratios from the greatest down, the first range of a gear being that of driving on
// in order, further ones being chosen by hand.
func ranges(u *unitsheet.Unit) []intake.Range {
	var ratios []float64
	for _, r := range u.Ranges {
		if r.Healthy.Outcome == gearing.Forward && !slices.ContainsFunc(ratios, func(x float64) bool { return math.Abs(x-r.Healthy.Ratio) < sameRatio }) {
			ratios = append(ratios, r.Healthy.Ratio)
		}
	}
	slices.SortFunc(ratios, func(a, b float64) int { return cmp.Compare(b, a) })
	seen := map[int]bool{}
	var out []intake.Range
	for _, r := range u.Ranges {
		x := intake.Range{ID: r.ID}
		switch {
		case r.Healthy.Outcome == gearing.Forward:
			x.Kind = "forward"
			x.Gear = 1 + slices.IndexFunc(ratios, func(q float64) bool { return math.Abs(q-r.Healthy.Ratio) < sameRatio })
			x.Hand, seen[x.Gear] = seen[x.Gear], true
		case r.Healthy.Outcome == gearing.Reverse:
			x.Kind = "reverse"
		case r.Selector == "P":
			x.Kind = "park"
		default:
			x.Kind = "neutral"
		}
		for _, e := range r.Applied {
			if el, ok := u.Element(e); ok && el.Kind == gearing.Selector {
				x.Element = el.ID
			}
		}
		out = append(out, x)
	}
	return out
}

// Unknown names the readings that a lexicon offers and that no unit of a list knows.
func Unknown(l intake.Lexicon, units []*knowledge.Network) []string {
	var out []string
	for _, e := range l.Words {
		for _, s := range slices.Concat(e.Says, e.Denied) {
			f := strings.Fields(s)
			finding, state := f[0], f[1]
			known := slices.ContainsFunc(units, func(n *knowledge.Network) bool {
				u := Unit(n)
				for _, r := range u.Ranges {
					f := strings.NewReplacer("{range}", r.ID, "{only}", r.ID, "{element}", r.Element).Replace(finding)
					if u.Knows(f, state) {
						return true
					}
				}
				return false
			})
			if !known {
				out = append(out, e.ID+": "+s)
			}
		}
	}
	return out
}
