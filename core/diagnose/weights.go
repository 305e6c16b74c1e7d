package diagnose

import "math"

// WhatIf is what the ranking becomes without one reading.
type WhatIf struct {
	Reading     string
	Leader      string  // cause id that leads without it
	LeaderShare float64 // its probability without the reading
	Now         float64 // probability, without the reading, of the cause that leads with it
}

// Weights is what each reading does to the suspects.
type Weights struct {
	Suspects [][]float64 // by suspect, as far as shown, and reading: decibans
	Without  [][]float64 // the same: probability of the suspect without the reading
	WhatIf   []WhatIf    // by reading
	HangsOn  string      // id of the reading whose loss costs the leader most; "" when none
}

// Weigh says what each reading weighs for the first most suspects, by leaving it out. Both sides are taken from the
// same sets of causes, so that the difference is the reading and not the search; what is said of the ranking without a
// reading is within about a percentage point of ranking anew.
func (a *Assessment) Weigh(most int) (Weights, error) {
	n, readings := a.Network, a.e.s.Readings
	most = min(most, len(a.Order))
	out := Weights{Suspects: make([][]float64, most), Without: make([][]float64, most)}
	leader := a.Order[0]
	with := a.marginals(func(i int) float64 { return a.pool[i].Share })
	worst := (1 - a.Other) * a.cause[leader]
	nothing := a.ev.Nothing()
	sets := make([][]int, len(a.pool))
	for k, h := range a.pool {
		sets[k] = h.Causes
	}
	before := a.ev.Weights(sets)
	for i, r := range readings {
		without, err := a.leaveOut(i, nothing, before)
		if err != nil {
			return out, err
		}
		// What the pool says of the change holds for the exact probability too; the room for
		// what is not in the list stays as it is with the reading.
		now := func(c int) float64 {
			return (1 - a.Other) * math.Max(0, math.Min(1, a.cause[c]+without[c]-with[c]))
		}
		best := leader
		for c := range without {
			if without[c] > 0 && now(c) > now(best) {
				best = c
			}
		}
		for k := range most {
			c := a.Order[k]
			out.Suspects[k] = append(out.Suspects[k], decibans(with[c], without[c]))
			out.Without[k] = append(out.Without[k], now(c))
		}
		out.WhatIf = append(out.WhatIf, WhatIf{r.ID, n.Causes[best].ID, now(best), now(leader)})
		if now(leader) < worst-0.02 {
			worst, out.HangsOn = now(leader), r.ID
		}
	}
	return out, nil
}

// marginals are the probabilities of the causes for weights of the pool.
func (a *Assessment) marginals(weight func(i int) float64) []float64 {
	out := make([]float64, len(a.Network.Causes))
	sum := 0.0
	for i, h := range a.pool {
		w := weight(i)
		sum += w
		for _, c := range h.Causes {
			out[c] += w
		}
	}
	for c := range out {
		out[c] /= math.Max(sum, 1e-300)
	}
	return out
}

// leaveOut returns the probability of each cause without one reading. Sets of causes that cannot bring its finding
// about all change by the same factor and need not be weighed again. nothing and before are the weights, with the
// reading, of no cause and of the pool.
func (a *Assessment) leaveOut(i int, nothing float64, before []float64) ([]float64, error) {
	if len(a.e.groups[i]) == 0 {
		return a.marginals(func(i int) float64 { return a.pool[i].Share }), nil
	}
	if a.e.history[i] {
		with, without := a.e.odds(-1), a.e.odds(i)
		return a.marginals(func(k int) float64 {
			w := a.pool[k].Share
			for _, c := range a.pool[k].Causes {
				w *= without[c] / with[c]
			}
			return w
		}), nil
	}
	ev, err := a.e.weigh(i)
	if err != nil {
		return nil, err
	}
	var again []int
	var sets [][]int
	for k, h := range a.pool {
		if a.reaches(i, h.Causes) {
			again, sets = append(again, k), append(sets, h.Causes)
		}
	}
	weights, same := make([]float64, len(a.pool)), ev.Nothing()/nothing
	for k, h := range a.pool {
		weights[k] = h.Share * same
	}
	for k, w := range ev.Weights(sets) {
		if at := again[k]; before[at] > 0 {
			weights[at] = a.pool[at].Share * w / before[at]
		}
	}
	return a.marginals(func(k int) float64 { return weights[k] }), nil
}

func (a *Assessment) reaches(reading int, causes []int) bool {
	for _, r := range a.e.groups[reading] {
		reach := a.Network.Reach[r.Finding]
		for _, c := range causes {
			if reach[c] {
				return true
			}
		}
	}
	return false
}

// decibans is the weight of evidence between two probabilities [1].
func decibans(with, without float64) float64 {
	odds := func(p float64) float64 { return math.Max(p, 1e-12) / math.Max(1-p, 1e-12) }
	return 10 * math.Log10(odds(with)/odds(without))
}
