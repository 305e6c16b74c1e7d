package bayes

import (
	"fmt"
	"math"
	"slices"
)

// Reading is an observation of a finding: the likelihood of what was reported for each state, 0 first.
type Reading struct {
	Finding    int
	Likelihood []float64
}

// Evidence is a network with readings weighed in, ready for inference.
type Evidence struct {
	net      *Network
	odds     []float64
	normal   []float64 // by node: weight of the normal readings when it is present
	own      []float64 // by node: the same before it was folded into its only parent
	abnormal []abnormalReading
	hits     [][]hit   // by node: abnormal readings that it may have caused
	below    [][]child // by node: damages that it may bring about and that reach a reading
	reach    [][]int   // by root: damages of interest, in order
	scale    float64   // weight of the normal readings by themselves
}

// abnormalReading is a reading that speaks of something abnormal.
type abnormalReading struct {
	missed float64 // weight without any hit so far
	by     float64 // weight with a hit, or by error
}

type hit struct {
	abnormal int
	u, h     float64 // weight of no hit, and of a hit
}

// Weigh joins readings to the network. odds replaces the prior odds of the roots, nil keeps them. Readings of
// one finding are taken to speak of the same truth.
func (n *Network) Weigh(odds []float64, readings []Reading) (*Evidence, error) {
	if odds == nil {
		odds = n.odds
	}
	if len(odds) != len(n.odds) {
		return nil, fmt.Errorf("bayes: %d odds, want %d", len(odds), len(n.odds))
	}
	joined := make([]Reading, 0, len(readings))
	for i, r := range readings {
		if r.Finding < 0 || r.Finding >= len(n.findings) {
			return nil, fmt.Errorf("bayes: reading %d: no finding %d", i, r.Finding)
		}
		if len(r.Likelihood) != len(n.findings[r.Finding].Anyway)+1 {
			return nil, fmt.Errorf("bayes: reading %d: %d likelihoods, want %d", i, len(r.Likelihood), len(n.findings[r.Finding].Anyway)+1)
		}
		for _, l := range r.Likelihood {
			if !(l >= 0) || math.IsInf(l, 0) {
				return nil, fmt.Errorf("bayes: reading %d: likelihood %v, want 0 or more", i, l)
			}
		}
		at := slices.IndexFunc(joined, func(j Reading) bool { return j.Finding == r.Finding })
		if at < 0 {
			joined = append(joined, Reading{r.Finding, slices.Clone(r.Likelihood)})
			continue
		}
		for s := range r.Likelihood {
			joined[at].Likelihood[s] *= r.Likelihood[s]
		}
	}
	// The order of adding up is that of the findings, so that the order of readings changes not even the last digit.
	slices.SortFunc(joined, func(a, b Reading) int { return a.Finding - b.Finding })
	e := &Evidence{net: n, odds: odds, normal: make([]float64, n.Nodes()), hits: make([][]hit, n.Nodes()), scale: 1}
	for i := range e.normal {
		e.normal[i] = 1
	}
	for _, r := range joined {
		if err := e.join(n.findings[r.Finding], r.Likelihood); err != nil {
			return nil, fmt.Errorf("bayes: readings of finding %d: %w", r.Finding, err)
		}
	}
	e.prune()
	return e, nil
}

// join weighs the joined likelihoods of one finding.
func (e *Evidence) join(f Finding, lambda []float64) error {
	most := slices.Max(lambda)
	if most == 0 {
		return fmt.Errorf("contradict each other: no state can have been reported so")
	}
	for s := range lambda {
		lambda[s] /= most
	}
	if lambda[0] == 1 {
		e.scale *= normalWeight(f.Anyway, lambda)
		for _, x := range f.Effects {
			e.normal[x.Parent] *= normalWeight(x.States, lambda)
		}
		return nil
	}
	u, h := abnormalWeights(f.Anyway, lambda)
	l := abnormalReading{missed: (1 - lambda[0]) * u, by: lambda[0]*(u+h) + (1-lambda[0])*h}
	for _, x := range f.Effects {
		u, h := abnormalWeights(x.States, lambda)
		if u == 1 && h == 0 {
			continue
		}
		e.hits[x.Parent] = append(e.hits[x.Parent], hit{len(e.abnormal), u, h})
	}
	e.abnormal = append(e.abnormal, l)
	return nil
}

// normalWeight is the weight of a parent's effects on a normal reading.
func normalWeight(p, lambda []float64) float64 {
	none, sum := 1.0, 0.0
	for s, x := range p {
		none -= x
		sum += x * lambda[s+1]
	}
	return math.Max(none, 0) + sum
}

// abnormalWeights are the weights of a parent's effects on an abnormal reading: no hit, and a hit.
func abnormalWeights(p, lambda []float64) (u, h float64) {
	u = 1
	for s, x := range p {
		switch l := lambda[s+1]; {
		case l >= lambda[0]:
			d := (l - lambda[0]) / (1 - lambda[0])
			u -= x * d
			h += x * d
		default:
			u -= x * (1 - l/lambda[0])
		}
	}
	return math.Max(u, 0), h
}

// prune keeps the damages that reach a reading and folds those that only one parent can bring about and that
// touch normal readings alone into that parent.
func (e *Evidence) prune() {
	n := e.net
	e.below = make([][]child, n.Nodes())
	e.own = e.normal
	e.normal = slices.Clone(e.normal)
	for v := n.Nodes() - 1; v >= n.Roots(); v-- {
		if e.normal[v] == 1 && len(e.hits[v]) == 0 && len(e.below[v]) == 0 {
			continue
		}
		from := n.damages[v-n.Roots()].From
		if len(e.hits[v]) == 0 && len(e.below[v]) == 0 && len(from) == 1 {
			e.own[v] = e.normal[v]
			e.normal[from[0].Parent] *= 1 - from[0].P*(1-e.normal[v])
			e.normal[v] = 1
			continue
		}
		for _, x := range from {
			if x.P > 0 {
				e.below[x.Parent] = append(e.below[x.Parent], child{v, x.P})
			}
		}
	}
	for v, q := range e.normal {
		if q != 1 {
			e.own[v] = q // with what was folded into it
		}
	}
	e.reach = make([][]int, n.Roots())
	seen := make([]int, n.Nodes())
	for r := range e.reach {
		e.reach[r] = e.collect(r, r+1, seen, nil)
		slices.Sort(e.reach[r])
	}
}

func (e *Evidence) collect(v, mark int, seen []int, out []int) []int {
	for _, c := range e.below[v] {
		if seen[c.node] != mark {
			seen[c.node] = mark
			out = e.collect(c.node, mark, seen, append(out, c.node))
		}
	}
	return out
}

// touched reports whether a root reaches any reading.
func (e *Evidence) touched(root int) bool {
	return e.normal[root] != 1 || len(e.hits[root]) > 0 || len(e.below[root]) > 0
}

// isLoud reports whether a root may have caused an abnormal reading.
func (e *Evidence) isLoud(root int) bool {
	if len(e.hits[root]) > 0 {
		return true
	}
	return slices.ContainsFunc(e.reach[root], func(d int) bool { return len(e.hits[d]) > 0 })
}
