package knowledge

// ConsequentDamage is a damage that a cause brings about in time, with how surely.
type ConsequentDamage struct {
	Node Node
	P    float64
	By   string // title of what brings it about
}

// Brings lists the damages that a cause brings about, and those that these bring about in turn, likeliest paths only: each
// once, with the strongest way to it.
func (n *Network) Brings(cause int) []ConsequentDamage {
	var out []ConsequentDamage
	at := map[int]int{}
	add := func(node int, p float64, by string) {
		if n.Nodes[node].Kind != "damage" || p == 0 {
			return
		}
		if i, ok := at[node]; !ok {
			at[node] = len(out)
			out = append(out, ConsequentDamage{n.Nodes[node], p, by})
		} else if p > out[i].P {
			out[i].P, out[i].By = p, by
		}
	}
	for _, e := range n.Out[cause] {
		if e.Node < 0 {
			continue
		}
		add(e.Node, e.P, n.Causes[cause].Title)
		for _, next := range n.Out[e.Node] {
			if next.Node >= 0 && n.Nodes[e.Node].Kind == "damage" {
				add(next.Node, e.P*next.P, n.Nodes[e.Node].Title)
			}
		}
	}
	return out
}
