package diagnose

import (
	"math"
	"slices"

	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
)

// PriorOdds are the odds of every cause of a unit before anything is read of the vehicle itself: by the distance that it has run,
// its history and what was put right in vain. It fails with a ReadingError.
func PriorOdds(n *knowledge.Network, s Situation) ([]float64, error) {
	e, err := newEvidence(n, s)
	if err != nil {
		return nil, err
	}
	return e.odds(-1), nil
}

// odds are the prior odds of the causes at this distance, after this history.
func (e *evidence) odds(without int) []float64 {
	n := e.n
	out := make([]float64, len(n.Causes))
	for c := range out {
		out[c] = n.Odds[c] * hazard(n.Causes[c].Ages, e.s.Distance)
	}
	for _, k := range n.Unit.Known {
		if c, ok := n.NodeAt[k.Cause]; ok && c < len(out) {
			from, to := KnownWindow(k)
			out[c] *= known(from, to, e.s.Distance)
		}
	}
	past := e.past(without)
	for f := range n.Findings { // in the order of the network, so that the last digit is always the same
		if past[f] == nil {
			continue
		}
		for c, when := range n.History {
			out[c] *= past.factor(n, f, when)
		}
	}
	for _, id := range e.s.Repaired {
		if c, ok := n.NodeAt[id]; ok && c < len(out) {
			out[c] *= 1 - repairHolds
		}
	}
	return out
}

// repairHolds is how often a repair puts right what it was meant for.
const repairHolds = 0.96

// past is the distribution of every history finding that was read.
type past map[int][]float64

func (e *evidence) past(without int) past {
	out := past{}
	for i, g := range e.groups {
		if i == without || !e.history[i] {
			continue
		}
		for _, r := range g {
			p := out[r.Finding]
			if p == nil {
				p = e.n.Findings[r.Finding].Baselines()
				out[r.Finding] = p
			}
			if e.n.Findings[r.Finding].Several {
				several(p, r.Likelihood)
				continue
			}
			sum := 0.0
			for s := range p {
				p[s] *= r.Likelihood[s]
				sum += p[s]
			}
			for s := range p {
				p[s] /= sum
			}
		}
	}
	return out
}

// several takes in a reading of a finding whose states may be there together: each but the first by itself, and the first is that
// none is there.
func several(p, likelihood []float64) {
	for s := range p[1:] {
		k := likelihood[s+1] / likelihood[0]
		if k > 1 || likelihood[0] == slices.Max(likelihood) {
			p[s+1] = p[s+1] * k / (1 - p[s+1] + p[s+1]*k)
		}
	}
	p[0] = none(p)
}

// none is the probability that no state but the first is there, when they do not exclude each other.
func none(p []float64) float64 {
	out := 1.0
	for _, q := range p[1:] {
		out *= 1 - q
	}
	return out
}

// factor is what one finding of the history does to the odds of a cause: the mean of its factors after the
// readings over that before, so that a history that nobody asked about changes nothing.
func (p past) factor(n *knowledge.Network, f int, when []knowledge.Condition) float64 {
	before, after := 0.0, 0.0
	base := n.Findings[f].Baselines()
	if n.Findings[f].Several {
		base[0], before, after = none(base), 1, 1
		for _, w := range when {
			if w.Finding == f {
				before *= 1 - base[w.State] + base[w.State]*w.Factor
				after *= 1 - p[f][w.State] + p[f][w.State]*w.Factor
			}
		}
		return after / before
	}
	for s := range base {
		k := 1.0
		for _, w := range when {
			if w.Finding == f && w.State == s {
				k *= w.Factor
			}
		}
		before += base[s] * k
		after += p[f][s] * k
	}
	return after / before
}

// KnownWindow is the distance over which a unit is known to fail in one way, in kilometres; hours of running count as
// kilometres.
func KnownWindow(k unitsheet.KnownFailure) (from, to float64) {
	if k.InHours {
		return k.From * KilometresPerHour, k.To * KilometresPerHour
	}
	return k.From, k.To
}

// KilometresPerHour is what an hour of running counts for on vehicles that count hours (common practice, no
// source).
const KilometresPerHour = 40

// reference is the distance at which priors hold as written, km.
const reference = 150_000

// hazard is how much likelier a cause is at a distance than at the reference: a Weibull hazard ratio with shape
// 2.5 for wear (it grows with distance) and 0.6 for what fails early, held within bounds because the shapes are
// judgement. A distance of 0 is not known.
func hazard(ages string, km float64) float64 {
	shape := map[string]float64{"wear": 2.5, "early": 0.6}[ages]
	if shape == 0 || km <= 0 {
		return 1
	}
	return min(max(math.Pow(km/reference, shape-1), 0.15), 4)
}

// known is how much likelier a cause is that this design is known for: five times inside its distances, falling
// off outside as a bell in the logarithm of the distance; half of that when the distance is not known.
func known(from, to, km float64) float64 {
	const most = 4
	if km <= 0 {
		return 1 + most/2
	}
	out := 0.0
	switch {
	case km < from:
		out = math.Log(from / km)
	case km > to:
		out = math.Log(km / math.Max(to, 1))
	}
	const width = 0.35 // a third more or less than the window still counts for two thirds
	return 1 + most*math.Exp(-out*out/(2*width*width))
}
