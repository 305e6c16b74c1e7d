package decide

import (
	"math"

	"innercompass/core/diagnose"
	"innercompass/core/unitsheet"
)

// outcome is one way in which it can end: with its probability, and what the return costs; 0 for none.
type outcome struct{ p, back float64 }

// returnCost is what it costs when a cause was left: diagnosing again, its repair from the ground, what it destroyed
// meanwhile, and goodwill.
func returnCost(n *diagnose.Network, c diagnose.Cause, r Rates) float64 {
	level, _ := unitsheet.ParseAccess(c.Repair.Access)
	hours := r.Rediagnose + c.Repair.Hours + n.Unit.Climb(unitsheet.Ground, level)/60
	return (hours*r.Labour+c.Repair.Parts+r.Trial)*(1+r.Tax) + r.Goodwill + c.Harm
}

// shareOf is the weight of a hypothesis when the probability of one cause is set by hand: those with it grow and those
// without it shrink, each in proportion.
func (f figures) shareOf(h diagnose.Hypothesis) float64 {
	if f.cause < 0 {
		return h.Share
	}
	for _, c := range h.Causes {
		if c == f.cause {
			return h.Share * f.share / f.before
		}
	}
	return h.Share * (1 - f.share) / (1 - f.before)
}

// returns are the outcomes of a repair for a set of causes: each is cured or not by itself, and the vehicle returns once for
// those that are left, which costs the dearest of them. A part that fails by itself brings it back for the whole repair.
func (m *Model) returns(dst []outcome, h diagnose.Hypothesis, chance []float64, fails, again float64, f figures) []outcome {
	first := len(dst)
	dst = append(dst, outcome{f.shareOf(h), 0})
	for _, i := range h.Causes {
		c := m.n.Causes[i]
		miss := 1 - chance[i]
		if c.ID == diagnose.NothingWrong || miss == 0 {
			continue // nothing to cure, nothing to come back
		}
		back := returnCost(m.n, c, f.rates)
		for k, end := first, len(dst); k < end; k++ {
			x := dst[k]
			dst = append(dst, outcome{x.p * miss, math.Max(x.back, back)})
			dst[k].p *= 1 - miss
		}
	}
	if fails > 0 {
		for k, end := first, len(dst); k < end; k++ {
			if dst[k].back > 0 {
				continue // it comes back anyway
			}
			dst = append(dst, outcome{dst[k].p * fails, again})
			dst[k].p *= 1 - fails
		}
	}
	return dst
}

// quantile of the sure cost (normal, deviation sd, not below zero) plus the return of one outcome.
func quantile(outcomes []outcome, sure, sd, q float64) float64 {
	low, high := 0.0, sure+6*sd
	for _, o := range outcomes {
		high = math.Max(high, sure+o.back+6*sd)
	}
	for range 40 { // to a millionth of a millionth
		mid := (low + high) / 2
		p := 0.0
		for _, o := range outcomes {
			p += o.p * below(mid, sure+o.back, sd)
		}
		if p < q {
			low = mid
		} else {
			high = mid
		}
	}
	return high
}

func below(x, mean, sd float64) float64 {
	switch {
	case sd == 0 && mean <= x, x > mean+6*sd:
		return 1
	case sd == 0, x < mean-6*sd:
		return 0
	}
	return 0.5 * math.Erfc((mean-x)/(sd*math.Sqrt2))
}
