package diagnose

// Brought is a damage that a cause brings about in time, with how surely.
type Brought struct {
	Node Node
	P    float64
	By   string // title of what brings it about
}

// Brings lists the damages that a cause brings about, and those that these bring about in turn, likeliest paths only: each
// once, with the strongest way to it.
func (n *Network) Brings(cause int) []Brought {
	var out []Brought
	at := map[int]int{}
	add := func(node int, p float64, by string) {
		if n.Nodes[node].Kind != "damage" || p == 0 {
			return
		}
		if i, ok := at[node]; !ok {
			at[node] = len(out)
			out = append(out, Brought{n.Nodes[node], p, by})
		} else if p > out[i].P {
			out[i].P, out[i].By = p, by
		}
	}
	for _, e := range n.out[cause] {
		if e.node < 0 {
			continue
		}
		add(e.node, e.p, n.Causes[cause].Title)
		for _, next := range n.out[e.node] {
			if next.node >= 0 && n.Nodes[e.node].Kind == "damage" {
				add(next.node, e.p*next.p, n.Nodes[e.node].Title)
			}
		}
	}
	return out
}
