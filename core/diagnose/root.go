package diagnose

import (
	"cmp"
	"slices"

	"innercompass/core/knowledge"
)

// RootFound is the probability from which the root of a damage counts as found: judgment.
const RootFound = 0.8

// leastRoot is how surely a cause must bring a damage about to be named as its root.
const leastRoot = 0.02

// Root is a cause that can bring a damage about.
type Root struct {
	ID, Title   string
	P           float64 // how surely it brings the damage, by its best way
	Probability float64 // that it is there, by the readings
}

// RootsOf are the causes that can burn the lining of an element on this design, over failures of the design and other damages on the way, the
// likeliest first; share is the probability of each by the readings, nil when nobody has read anything.
func RootsOf(n *knowledge.Network, element string, share map[string]float64) []Root {
	way := make([]float64, len(n.Nodes)) // how surely each node leads to the damage, by its best way
	for v := len(n.Nodes) - 1; v >= 0; v-- {
		if id := n.Nodes[v].ID; id == "plates-burnt."+element || id == "band-burnt."+element {
			way[v] = 1
		}
		for _, to := range n.Out[v] {
			if to.Node > v {
				way[v] = max(way[v], to.P*way[to.Node])
			}
		}
	}
	var out []Root
	for i, cause := range n.Causes {
		p := way[i]
		// What wears the lining itself burns it in the end.
		if cause.ID == "lining."+element || cause.ID == "band-worn."+element {
			p = max(p, 0.5)
		}
		if p >= leastRoot && !cause.Unlisted() {
			out = append(out, Root{cause.ID, cause.Title, p, share[cause.ID]})
		}
	}
	slices.SortStableFunc(out, func(a, b Root) int { return cmp.Or(cmp.Compare(b.Probability, a.Probability), cmp.Compare(b.P, a.P)) })
	return out
}

// Found is the id of the root when it is found, else empty.
func Found(roots []Root) string {
	if len(roots) > 0 && roots[0].Probability >= RootFound {
		return roots[0].ID
	}
	return ""
}
