package knowledge

import (
	"slices"
	"strings"

	"innercompass/core/faultmap"
)

// drove is the likelihood of the states of a "drives" cell when a later look at the range, or a shift out of it, says that it drove: it
// may have been another gear, it was hardly none (common practice, no source).
var drove = map[string]float64{"normal": 1, "wrong": 0.3, "none": 0.03, "bind": 0.1}

// Implied is a finding that follows from another, with how likely each of its states makes that other.
type Implied struct {
	Finding    int
	Likelihood []float64
}

// Implied are cells of the road test that follow from one that was noted: whoever felt a range slip, brake, whine or lock was driven by
// it, and whoever felt a shift into fourth had third.
func (n *Network) Implied(finding, state string) []Implied {
	parts := strings.Split(finding, ".")
	if len(parts) != 4 || !IsRoad(finding) {
		return nil
	}
	var ranges []string
	id := parts[2]
	switch faultmap.Behaviour(parts[3]) {
	case faultmap.Slips, faultmap.Noise, faultmap.Lockup, faultmap.Brakes:
		ranges = []string{id}
	case faultmap.Down:
		if r, ok := n.Unit.Range(id); ok && state != "missing" {
			if above, ok := n.Unit.Above(r); ok {
				ranges = []string{above.ID}
			}
		}
		if slices.Contains([]string{"normal", "delay", "harsh"}, state) {
			ranges = append(ranges, id)
		}
	case faultmap.Shift:
		if from, ok := n.Unit.Range(id); ok && state != "missing" {
			ranges = []string{from.From}
		}
		if slices.Contains([]string{"normal", "late", "early", "delay", "harsh"}, state) {
			ranges = append(ranges, id)
		}
	}
	var out []Implied
	for _, id := range ranges {
		f, ok := n.FindingAt[RoadID(parts[1], faultmap.Cell{Range: id, Behaviour: faultmap.Drives})]
		if !ok {
			continue
		}
		likelihood := make([]float64, len(n.Findings[f].States))
		for s, x := range n.Findings[f].States {
			likelihood[s] = drove[x.ID]
		}
		out = append(out, Implied{f, likelihood})
	}
	return out
}
