package bayes

// Given returns the probability of each node when exactly these roots are present, after the readings. For
// damages on which no reading bears it is that from their parents, taken as independent.
func (e *Evidence) Given(roots []int) []float64 {
	s := newScorer(e)
	s.collect = make([]float64, e.net.Nodes())
	s.weight(roots)
	out := s.collect
	decided := map[int]bool{}
	for _, d := range s.todo {
		decided[d] = s.total > 0
		if s.total > 0 {
			out[d] /= s.total
		}
	}
	e.net.forward(roots, out, func(v int) bool { return decided[v] })
	return out
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
