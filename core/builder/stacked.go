package builder

import (
	"slices"

	"innercompass/core/unitsheet"
)

// stacked begins the parts in order from those of the other unit: what an element's parts stand for is told by kind and by the ranges that
// it works in.
func (f *filler) stacked() {
	if f.s.Stack != nil || f.like.Stack == nil {
		return
	}
	pairs := paired(f.like, f.s)
	out := unitsheet.Stacked(f.s, f.like.Stack, func(element string) string { return pairs[element] })
	if _, bad := unitsheet.Compile(out); len(bad) > 0 {
		return // parts that do not fit are worse than none: the sheet stays what it was
	}
	f.s = out
	f.assume("stack", "", "places and order of the parts; what the other unit does not have is without a place")
}

// paired says which element of one unit stands for which of another: of the same kind, and at work in most of the same ranges; each once.
func paired(from, to unitsheet.Sheet) map[string]string {
	out := map[string]string{}
	taken := map[string]bool{}
	for _, a := range from.Elements {
		best, most := "", -1
		for _, b := range to.Elements {
			if a.Kind != b.Kind || a.Hand != b.Hand || taken[b.ID] {
				continue
			}
			x, y, same := worksIn(from, a.ID), worksIn(to, b.ID), 0
			for i := range x {
				if x[i] == y[i] {
					same++
				}
			}
			if same > most {
				best, most = b.ID, same
			}
		}
		if best != "" {
			out[a.ID], taken[best] = best, true
		}
	}
	return out
}

// worksIn tells the ranges of an element roughly: reverse, first, second, highest.
func worksIn(s unitsheet.Sheet, element string) [4]bool {
	var out [4]bool
	forward := 0
	for _, r := range s.Ranges {
		on := slices.Contains(r.Applied, element) || slices.Contains(r.Holding, element)
		switch {
		case r.Outcome == "reverse":
			out[0] = out[0] || on
		case r.Outcome == "forward":
			if forward < 2 {
				out[1+forward] = on
			}
			forward++
			out[3] = on
		}
	}
	return out
}
