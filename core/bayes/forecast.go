package bayes

// Forecast tells what findings would show in several situations, each given by the probability of every node.
type Forecast struct {
	net *Network
	n   int
	by  [][]likely // by node: situations in which it may be there
}

type likely struct {
	situation int
	p         float64
}

// unlikely is the probability under which a node is left out of a forecast.
const unlikely = 1e-4

// Forecast prepares for situations; present is by situation and node.
func (n *Network) Forecast(present [][]float64) *Forecast {
	f := &Forecast{net: n, n: len(present), by: make([][]likely, n.Nodes())}
	for i, ps := range present {
		for v, p := range ps {
			if p > unlikely {
				f.by[v] = append(f.by[v], likely{i, p})
			}
		}
	}
	return f
}

// States returns the distribution of a finding by situation. Situations in which nothing brings it about share one
// slice: do not change the result. Effects into different states at once share what is not normal in proportion.
func (f *Forecast) States(finding int) [][]float64 {
	x := f.net.findings[finding]
	out := make([][]float64, f.n)
	base := make([]float64, len(x.Anyway)+1)
	base[0] = 1
	for s, p := range x.Anyway {
		base[s+1] = p
		base[0] -= p
	}
	for i := range out {
		out[i] = base
	}
	var touched []int
	for _, e := range x.Effects {
		total := 0.0
		for _, p := range e.States {
			total += p
		}
		for _, l := range f.by[e.Parent] {
			row := out[l.situation]
			if &row[0] == &base[0] {
				row = append(make([]float64, 0, len(base)), base...)
				out[l.situation] = row
				touched = append(touched, l.situation)
			}
			row[0] *= 1 - l.p*total
			for s, p := range e.States {
				row[s+1] += l.p * p
			}
		}
	}
	for _, i := range touched {
		row, sum := out[i], 0.0
		for _, p := range row[1:] {
			sum += p
		}
		for s := range row[1:] {
			row[s+1] *= (1 - row[0]) / max(sum, tiny)
		}
	}
	return out
}
