package decide

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/pricebook"
)

// outcome is one way in which it can end: with its probability, whether the vehicle comes back, and what that costs. A return
// may cost nothing, in a shop that charges nothing: it is a return all the same.
type outcome struct {
	p, back float64
	comes   bool
}

// returnCost is what it costs when a cause was left: diagnosing again, its repair from the ground, what it destroyed
// meanwhile, and goodwill.
func (m *Model) returnCost(cause int, r pricebook.Rates) float64 {
	c := m.n.Causes[cause]
	hours := r.Rediagnose + m.repair[cause]
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
	dst = append(dst, outcome{p: f.shareOf(h)})
	for _, i := range h.Causes {
		c := m.n.Causes[i]
		miss := 1 - chance[i]
		if c.ID == knowledge.NothingWrong || miss == 0 {
			continue // nothing to cure, nothing to come back
		}
		back := m.returnCost(i, f.Rates)
		for k, end := first, len(dst); k < end; k++ {
			x := dst[k]
			dst = append(dst, outcome{x.p * miss, math.Max(x.back, back), true})
			dst[k].p *= 1 - miss
		}
	}
	if fails > 0 {
		for k, end := first, len(dst); k < end; k++ {
			if dst[k].comes {
				continue // anyway
			}
			dst = append(dst, outcome{dst[k].p * fails, again, true})
			dst[k].p *= 1 - fails
		}
	}
	return dst
}

// quantile of the sure cost (normal, deviation sd, not below zero) plus the return of one outcome.
func quantile(outcomes []outcome, sure, sd, q float64) float64 {
	outcomes = merged(outcomes)
	low, high := 0.0, sure+6*sd
	if n := len(outcomes); n > 0 {
		high = sure + outcomes[n-1].back + 6*sd
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

// merged are the outcomes by what the return costs, rising: hundreds of them share the few costs that there are.
func merged(outcomes []outcome) []outcome {
	sorted := slices.SortedFunc(slices.Values(outcomes), func(a, b outcome) int { return cmp.Compare(a.back, b.back) })
	out := sorted[:0]
	for _, o := range sorted {
		if n := len(out); n > 0 && out[n-1].back == o.back {
			out[n-1].p += o.p
			continue
		}
		out = append(out, o)
	}
	return out
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
