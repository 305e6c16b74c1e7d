package diagnose

import (
	"fmt"
	"slices"

	"innercompass/core/knowledge"
)

// Sources are the kinds of reading and how far each is believed: the probability that the reported state is
// the true one. What two people measured, or one measured twice, comes out of two readings.
var Sources = map[string]float64{"customer": 0.82, "seen": 0.97, "measured": 0.99}

// hardlyMisread is how much rarer a state is misread that anybody sees by daylight: milky fluid, a gear that jumps out, a range that
// does not drive (common practice, no source).
const hardlyMisread = 0.2

// certain is the least likelihood of a state that was not reported.
const certain = 0.002

// reliable is the likelihood of each state when s was reported and reports are right this often.
func reliable(f knowledge.Finding, s int, right float64) []float64 {
	out := make([]float64, len(f.States))
	for i := range out {
		out[i] = (1 - right) / float64(len(out)-1)
	}
	out[s] = right
	return out
}

func likelihood(n *knowledge.Network, r Reading, f int) ([]float64, error) {
	states := n.Findings[f].States
	s := n.Findings[f].StateAt(r.State)
	if s < 0 {
		return nil, &ReadingError{r.ID, "state", fmt.Sprintf("finding %s has no state %q", r.Finding, r.State), n.Findings[f].StateIDs()}
	}
	if r.Likelihood != nil {
		if len(r.Likelihood) != len(states) {
			return nil, &ReadingError{r.ID, "likelihood", fmt.Sprintf("%d values", len(r.Likelihood)), fmt.Sprintf("%d, one for each state", len(states))}
		}
		sum := 0.0
		for _, p := range r.Likelihood {
			if !(p >= 0 && p <= 1) {
				return nil, &ReadingError{r.ID, "likelihood", fmt.Sprint(p), "probabilities from 0 to 1"}
			}
			sum += p
		}
		if sum == 0 {
			return nil, &ReadingError{r.ID, "likelihood", "all zero", "at least one above 0"}
		}
		out := make([]float64, len(states))
		for i, p := range r.Likelihood {
			out[i] = max(p, certain) // no gauge is so good that it could not have been misread
		}
		return out, nil
	}
	right, ok := Sources[r.Source]
	if !ok {
		return nil, &ReadingError{r.ID, "source", fmt.Sprintf("%q", r.Source), "customer, seen, measured"}
	}
	if slices.Contains(n.Findings[f].Plain, r.State) {
		right = 1 - (1-right)*hardlyMisread
	}
	return reliable(n.Findings[f], s, right), nil
}

// inTheHand takes what is the fault itself as hardly ever misread, when nobody who looked at it says otherwise.
func inTheHand(n *knowledge.Network, r Reading, f int, lambda []float64, all []Reading) {
	s := n.Findings[f].StateAt(r.State)
	prior, itself := n.Itself[f][s]
	if !itself || r.Source == "customer" || r.Likelihood != nil {
		return
	}
	for _, o := range all {
		if o.Finding == r.Finding && o.State != r.State && o.Source != "customer" {
			return // one of the two has erred
		}
	}
	for i := range lambda {
		if i != s {
			lambda[i] = min(lambda[i], knowledge.HardlyOtherwise*prior)
		}
	}
}
