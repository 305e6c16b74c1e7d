package bayes

// Chance returns numbers from 0 to below 1 that look random but depend on nothing but where they are used: a link, or
// an effect. With the same chance, taking one root away changes only what that root brought about.
type Chance func(from, to, use int) float64

// Uses of a Chance.
const (
	occurs = iota // whether a link acts or which state an effect has
	wins          // which of several effects is seen
)

// Draw returns which nodes are present when exactly these roots are, one outcome of chance.
func (n *Network) Draw(roots []int, chance Chance) []bool {
	out := make([]bool, n.Nodes())
	for _, r := range roots {
		out[r] = true
	}
	for d, x := range n.damages {
		to := n.Roots() + d
		for _, f := range x.From {
			if out[f.Parent] && chance(f.Parent, to, occurs) < f.P {
				out[to] = true
			}
		}
	}
	return out
}

// DrawState returns a state of a finding for these nodes, one outcome of chance, and whether a node brought it about.
// When several effects occur at once, one of them is seen, each as likely as the other.
func (n *Network) DrawState(finding int, present []bool, chance Chance) (state int, caused bool) {
	f, to := n.findings[finding], n.Nodes()+finding
	most := -1.0
	occur := func(states []float64, from int) {
		x := chance(from, to, occurs)
		for s, p := range states {
			if x -= p; x < 0 {
				if w := chance(from, to, wins); w > most {
					most, state, caused = w, s+1, from >= 0
				}
				return
			}
		}
	}
	occur(f.Anyway, -1)
	for _, x := range f.Effects {
		if present[x.Parent] {
			occur(x.States, x.Parent)
		}
	}
	return state, caused
}
