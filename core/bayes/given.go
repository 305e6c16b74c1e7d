package bayes

import "slices"

// Given returns the probability of each node when exactly these roots are present, after the readings: exact for
// damages that reach a reading, from their parents taken as independent for the rest.
func (e *Evidence) Given(roots []int) []float64 {
	out := e.net.Expect(roots)
	s := newScorer(e)
	total := s.weight(roots)
	if total == 0 {
		return out
	}
	todo := slices.Clone(s.todo)
	for _, d := range todo {
		out[d] = e.presence(s, roots, d, total)
	}
	return out
}

// presence is the exact posterior of one damage given the roots: the weight without it is that of the network in
// which nothing brings it about.
func (e *Evidence) presence(s *scorer, roots []int, d int, total float64) float64 {
	s.never = d
	without := s.weight(roots)
	s.never = -1
	return max(0, min(1, 1-without/total))
}

// Expect returns the probability of each node when exactly these roots are present, before any reading.
func (n *Network) Expect(roots []int) []float64 {
	out := make([]float64, n.Nodes())
	n.forward(roots, out, func(int) bool { return false })
	return out
}

func (n *Network) forward(roots []int, present []float64, decided func(v int) bool) {
	for _, r := range roots {
		present[r] = 1
	}
	for d, x := range n.damages {
		v := n.Roots() + d
		if decided(v) {
			continue
		}
		none := 1.0
		for _, f := range x.From {
			none *= 1 - f.P*present[f.Parent]
		}
		present[v] = 1 - none
	}
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

// Weight returns the weight of the readings when exactly these roots are present, with their odds.
func (e *Evidence) Weight(roots []int) float64 {
	w := newScorer(e).weight(roots)
	for _, r := range roots {
		w *= e.odds[r]
	}
	return w
}
