package bayes

import "slices"

// Given returns the probability of each node when exactly these roots are present, after the readings: from the
// weight with and without it for the damages that are decided (see scorer), from their parents, taken as
// independent, for the rest.
func (e *Evidence) Given(roots []int) []float64 {
	out := e.net.Expect(roots)
	s := newScorer(e)
	total := s.weight(roots)
	if total == 0 {
		return out
	}
	for _, d := range slices.Clone(s.todo) {
		s.never = d
		out[d] = max(0, min(1, 1-s.weight(roots)/total))
	}
	return out
}

// Expect returns the probability of each node when exactly these roots are present, before any reading; the
// parents of a damage are taken as independent.
func (n *Network) Expect(roots []int) []float64 {
	out := make([]float64, n.Nodes())
	for _, r := range roots {
		out[r] = 1
	}
	for d, x := range n.damages {
		none := 1.0
		for _, f := range x.From {
			none *= 1 - f.P*out[f.Parent]
		}
		out[n.Roots()+d] = 1 - none
	}
	return out
}

// States returns the distribution of a finding for given probabilities of the nodes. Effects into different
// states at once share what is not normal in proportion.
func (n *Network) States(finding int, present []float64) []float64 {
	f := n.findings[finding]
	out := make([]float64, len(f.Anyway)+1)
	normal, sum := 1.0, 0.0
	add := func(p float64, states []float64) {
		total := 0.0
		for s, x := range states {
			out[s+1] += p * x
			total += x
		}
		normal *= 1 - p*total
		sum += p * total
	}
	add(1, f.Anyway)
	for _, x := range f.Effects {
		if p := present[x.Parent]; p > 0 {
			add(p, x.States)
		}
	}
	out[0] = normal
	if sum > 0 {
		for s := range f.Anyway {
			out[s+1] *= (1 - normal) / sum
		}
	}
	return out
}
