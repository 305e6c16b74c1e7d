package bayes

import (
	"errors"
	"fmt"
	"math"
)

// Edge says that a parent, when present, brings its child about with probability P.
type Edge struct {
	Parent int // a root, or the number of roots plus an earlier damage
	P      float64
}

// Effect says into which state a parent, when present, brings a finding: States[s-1] is the probability of
// state s. The rest is no effect.
type Effect struct {
	Parent int
	States []float64
}

// Damage is something that other things bring about, by noisy-OR.
type Damage struct{ From []Edge }

// Finding can be observed. Anyway[s-1] is the probability of state s by what is not in the network.
type Finding struct {
	Anyway  []float64
	Effects []Effect
}

// Network is a checked network. Nodes are numbered roots first, then damages; a damage's parents come before
// it. It is never changed and may be shared.
type Network struct {
	odds     []float64
	damages  []Damage
	findings []Finding
	children [][]child // by node: damages that it may bring about
}

type child struct {
	node int
	p    float64
}

// ErrNetwork is wrapped by every error of New.
var ErrNetwork = errors.New("bayes: not a network")

// New checks a network. odds are the prior odds of each root.
func New(odds []float64, damages []Damage, findings []Finding) (*Network, error) {
	n := &Network{odds: odds, damages: damages, findings: findings, children: make([][]child, len(odds)+len(damages))}
	for i, o := range odds {
		if !(o >= 0) || math.IsInf(o, 0) {
			return nil, fmt.Errorf("%w: root %d: odds %v, want 0 or more", ErrNetwork, i, o)
		}
	}
	for d, x := range damages {
		for _, e := range x.From {
			if e.Parent < 0 || e.Parent >= len(odds)+d {
				return nil, fmt.Errorf("%w: damage %d: parent %d does not come before it", ErrNetwork, d, e.Parent)
			}
			if !(e.P >= 0 && e.P <= 1) {
				return nil, fmt.Errorf("%w: damage %d: probability %v, want 0 to 1", ErrNetwork, d, e.P)
			}
			if e.P > 0 {
				n.children[e.Parent] = append(n.children[e.Parent], child{len(odds) + d, e.P})
			}
		}
	}
	for f, x := range findings {
		if err := distribution(x.Anyway); err != nil {
			return nil, fmt.Errorf("%w: finding %d: anyway: %w", ErrNetwork, f, err)
		}
		for _, e := range x.Effects {
			if e.Parent < 0 || e.Parent >= n.Nodes() {
				return nil, fmt.Errorf("%w: finding %d: no parent %d", ErrNetwork, f, e.Parent)
			}
			if len(e.States) != len(x.Anyway) {
				return nil, fmt.Errorf("%w: finding %d: %d states, want %d", ErrNetwork, f, len(e.States), len(x.Anyway))
			}
			if err := distribution(e.States); err != nil {
				return nil, fmt.Errorf("%w: finding %d: effect of %d: %w", ErrNetwork, f, e.Parent, err)
			}
		}
	}
	return n, nil
}

// distribution checks probabilities that add up to one at most.
func distribution(p []float64) error {
	sum := 0.0
	for _, x := range p {
		if !(x >= 0 && x <= 1) {
			return fmt.Errorf("probability %v, want 0 to 1", x)
		}
		sum += x
	}
	if sum > 1+1e-9 {
		return fmt.Errorf("probabilities add up to %v, want 1 at most", sum)
	}
	return nil
}

// Roots is the number of roots.
func (n *Network) Roots() int { return len(n.odds) }

// Nodes is the number of roots and damages.
func (n *Network) Nodes() int { return len(n.odds) + len(n.damages) }

// Reaches returns, by root, whether it can bring a finding about.
func (n *Network) Reaches(finding int) []bool {
	above := make([]bool, n.Nodes())
	for _, x := range n.findings[finding].Effects {
		above[x.Parent] = true
	}
	for d := len(n.damages) - 1; d >= 0; d-- {
		if above[len(n.odds)+d] {
			for _, f := range n.damages[d].From {
				above[f.Parent] = true
			}
		}
	}
	return above[:len(n.odds)]
}
