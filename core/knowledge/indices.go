package knowledge

import (
	"slices"

	"innercompass/core/bayes"
)

// unique refuses two entries whose ids come to the same once their parts are filled in.
func (c *compiler) unique() error {
	seen := map[string]bool{}
	once := func(kind, id string) error {
		if seen[kind+id] {
			return &CompileError{kind, id, "id", "two entries come to the same id on this unit", "another id"}
		}
		seen[kind+id] = true
		return nil
	}
	for _, x := range c.n.Findings {
		if err := once("finding", x.ID); err != nil {
			return err
		}
	}
	for _, x := range c.n.Causes {
		if err := once("cause", x.ID); err != nil {
			return err
		}
	}
	for _, x := range c.nodes {
		if err := once("damage", x.ID); err != nil {
			return err
		}
	}
	return nil
}

// number gives the nodes their numbers, parents before children, and builds the network of package bayes.
func (c *compiler) number() error {
	n := c.n
	waits := map[string]int{}
	for _, ls := range c.links {
		for _, l := range ls {
			if l.node != "" {
				waits[l.node]++
			}
		}
	}
	n.NodeAt = map[string]int{}
	ready := make([]string, 0, len(n.Causes))
	for i, x := range n.Causes {
		n.NodeAt[x.ID] = i
		ready = append(ready, x.ID)
	}
	byID := map[string]Node{}
	for _, x := range c.nodes {
		byID[x.ID] = x
	}
	for i := 0; i < len(ready); i++ {
		for _, l := range c.links[ready[i]] {
			if l.node == "" {
				continue
			}
			if waits[l.node]--; waits[l.node] == 0 {
				n.NodeAt[l.node] = len(n.Nodes)
				n.Nodes = append(n.Nodes, byID[l.node])
				ready = append(ready, l.node)
			}
		}
	}
	for _, x := range c.nodes {
		if _, ok := n.NodeAt[x.ID]; !ok && waits[x.ID] > 0 {
			return &CompileError{"damage", x.ID, "brings", "it is part of a cycle", "links that lead from causes to what they bring about, never back"}
		}
	}
	n.Out, n.In = make([][]Effect, len(n.Nodes)), make([][]Effect, len(n.Findings))
	for name, ls := range c.links {
		from, ok := n.NodeAt[name]
		if !ok {
			continue // nothing on this unit brings it about
		}
		for _, l := range ls {
			e := Effect{from, -1, l.finding, l.state, l.p, l.why, l.strength}
			if l.node != "" {
				e.Node = n.NodeAt[l.node]
			}
			n.Out[from] = append(n.Out[from], e)
		}
	}
	total := 0.0
	for _, o := range n.Odds {
		total += o
	}
	for i := range n.Odds {
		n.Odds[i] *= faults / total
	}
	return n.build()
}

func (n *Network) build() error {
	damages := make([]bayes.Damage, len(n.Nodes)-len(n.Causes))
	effects := make([]map[int][]float64, len(n.Findings))
	for v := range n.Out {
		slices.SortFunc(n.Out[v], func(a, b Effect) int {
			return cmpInts(a.Node-b.Node, a.Finding-b.Finding, a.State-b.State)
		})
		for _, e := range n.Out[v] {
			if e.Node >= 0 {
				d := &damages[e.Node-len(n.Causes)]
				d.From = append(d.From, bayes.Edge{Parent: v, P: e.P})
				continue
			}
			n.In[e.Finding] = append(n.In[e.Finding], e)
			if effects[e.Finding] == nil {
				effects[e.Finding] = map[int][]float64{}
			}
			states := effects[e.Finding][v]
			if states == nil {
				states = make([]float64, len(n.Findings[e.Finding].States)-1)
				effects[e.Finding][v] = states
			}
			states[e.State-1] = 1 - (1-states[e.State-1])*(1-e.P)
		}
	}
	findings := make([]bayes.Finding, len(n.Findings))
	n.Itself = n.itself()
	for i, f := range n.Findings {
		for k := range f.States[1:] {
			findings[i].Anyway = append(findings[i].Anyway, n.Anyway(i, k+1))
		}
		for v := range n.Nodes {
			if states, ok := effects[i][v]; ok {
				findings[i].Effects = append(findings[i].Effects, bayes.Effect{Parent: v, States: exclusive(states)})
			}
		}
	}
	var err error
	if n.Bayes, err = bayes.New(n.Odds, damages, findings); err != nil {
		return err
	}
	n.Reach = make([][]bool, len(findings))
	for f := range findings {
		n.Reach[f] = n.Bayes.Reaches(f)
	}
	n.foreseeAlone()
	return nil
}

// TheFaultItself is the reason of a link from a cause to what it is when it is looked at: the torn disc, the cut seal.
const TheFaultItself = "it is the fault itself"

// HardlyOtherwise is how often what is the fault itself is seen without it, for each time that it is there: the eye errs, or a thing
// was damaged in taking it apart (common practice, no source).
const HardlyOtherwise = 0.05

// Anyway is how often an abnormal state is met whatever is wrong, as the network reckons with it: what is a fault itself is hardly seen
// without it.
func (n *Network) Anyway(finding, state int) float64 {
	out := n.Findings[finding].States[state].Baseline
	if prior, ok := n.Itself[finding][state]; ok {
		out = min(out, HardlyOtherwise*prior)
	}
	return out
}

// itself finds the states that are a fault itself.
func (n *Network) itself() []map[int]float64 {
	out := make([]map[int]float64, len(n.Findings))
	for f, effects := range n.In {
		for _, e := range effects {
			if e.Why != TheFaultItself || e.From >= len(n.Causes) {
				continue
			}
			if out[f] == nil {
				out[f] = map[int]float64{}
			}
			out[f][e.State] += n.Odds[e.From] / (1 + n.Odds[e.From])
		}
	}
	return out
}

// exclusive scales strengths into several states of one finding that would add up to more than one.
func exclusive(states []float64) []float64 {
	total := 0.0
	for _, p := range states {
		total += p
	}
	if total > 0.98 {
		for s := range states {
			states[s] *= 0.98 / total
		}
	}
	return states
}

func cmpInts(by ...int) int {
	for _, x := range by {
		if x != 0 {
			return x
		}
	}
	return 0
}
