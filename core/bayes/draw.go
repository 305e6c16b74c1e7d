package bayes

// Draw returns which nodes are present when exactly these roots are, one outcome of chance; random returns
// numbers from 0 to below 1.
func (n *Network) Draw(roots []int, random func() float64) []bool {
	out := make([]bool, n.Nodes())
	for _, r := range roots {
		out[r] = true
	}
	for d, x := range n.damages {
		for _, f := range x.From {
			if out[f.Parent] && random() < f.P {
				out[n.Roots()+d] = true
			}
		}
	}
	return out
}

// DrawState returns a state of a finding for these nodes, one outcome of chance, and whether a node brought it about.
// When several effects occur at once, one of them is seen, each as likely as the other.
func (n *Network) DrawState(finding int, present []bool, random func() float64) (state int, caused bool) {
	f := n.findings[finding]
	occurred := 0
	occur := func(states []float64, node bool) {
		x := random()
		for s, p := range states {
			if x -= p; x < 0 {
				if occurred++; random()*float64(occurred) < 1 {
					state, caused = s+1, node
				}
				return
			}
		}
	}
	occur(f.Anyway, false)
	for _, x := range f.Effects {
		if present[x.Parent] {
			occur(x.States, true)
		}
	}
	return state, caused
}
