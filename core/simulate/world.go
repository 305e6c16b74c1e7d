package simulate

import (
	"math/rand/v2"
	"slices"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
)

// World is one vehicle with everything that is true of it, drawn from a network: what a virtual technician works
// on. It is not changed by looking.
type World struct {
	Causes   []int   // that are present, ascending indices into Network.Causes
	Distance float64 // km

	n      *knowledge.Network
	seed   uint64
	state  []int  // by finding
	caused []bool // by finding: something that is wrong brought it about
}

// Sample draws a vehicle at this distance. The history comes first, since the causes depend on it; at least one
// cause is present, because the vehicle came to the shop.
func Sample(n *knowledge.Network, r *rand.Rand, km float64) World {
	for {
		w := World{Distance: km, n: n, seed: r.Uint64(), state: make([]int, len(n.Findings)), caused: make([]bool, len(n.Findings))}
		var told []diagnose.Reading
		for f, x := range n.Findings {
			if !x.History {
				continue
			}
			w.state[f] = draw(r, x.Baselines())
			certainly := make([]float64, len(x.States))
			certainly[w.state[f]] = 1
			told = append(told, diagnose.Reading{ID: x.ID, Finding: x.ID, State: x.States[w.state[f]].ID, Likelihood: certainly})
		}
		prior, err := diagnose.PriorOdds(n, diagnose.Situation{Readings: told, Distance: km})
		if err != nil {
			panic("a network refuses its own findings: " + err.Error()) // impossible: ids and states are its own
		}
		for c, odds := range prior {
			if r.Float64() < odds/(1+odds) {
				w.Causes = append(w.Causes, c)
			}
		}
		if len(w.Causes) > 0 {
			w.fill()
			return w
		}
	}
}

// chance is what chance has in store for this vehicle.
func (w *World) chance(from, to, use int) float64 {
	return rand.New(rand.NewPCG(w.seed, uint64(from+1)<<34|uint64(to)<<2|uint64(use))).Float64()
}

// Without is the same vehicle once these causes are put right, with what they brought about.
func (w World) Without(causes []string) World {
	out := w
	out.Causes = slices.DeleteFunc(slices.Clone(w.Causes), func(c int) bool { return slices.Contains(causes, w.n.Causes[c].ID) })
	out.state, out.caused = slices.Clone(w.state), make([]bool, len(w.caused))
	out.fill()
	return out
}

// fill draws damages and findings from the causes.
func (w *World) fill() {
	n := w.n
	present := n.Bayes.Draw(w.Causes, w.chance)
	for f := range n.Findings {
		if !n.Findings[f].History && n.Findings[f].Members == "" {
			w.state[f], w.caused[f] = n.Bayes.DrawState(f, present, w.chance)
		}
	}
	for f, members := range n.Members {
		w.state[f] = 0
		if slices.ContainsFunc(members, func(m int) bool { return w.state[m] != 0 }) {
			w.state[f] = min(1, len(n.Findings[f].States)-1)
		}
	}
}

// draw returns an index with these probabilities.
func draw(r *rand.Rand, p []float64) int {
	x := r.Float64()
	for s, q := range p {
		if x -= q; x < 0 {
			return s
		}
	}
	return 0
}

// Abnormal returns the ids of the findings that are not normal in this vehicle, in the order of the network.
func (w World) Abnormal() []string {
	var out []string
	for f, s := range w.state {
		if s != 0 {
			out = append(out, w.n.Findings[f].ID)
		}
	}
	return out
}

// Caused reports whether something that is wrong with the vehicle brought a finding about.
func (w World) Caused(finding string) bool { return w.caused[w.n.FindingAt[finding]] }

// Look is what somebody reports who looks at a finding: one reading, or one for each stored code. A source errs as
// often as Sources says; what is stored is read as it is.
func (w World) Look(r *rand.Rand, finding, source string) []diagnose.Reading {
	n := w.n
	f, ok := n.FindingAt[finding]
	if !ok {
		return nil // the advice has a word that this vehicle has not
	}
	states := n.Findings[f].States
	s := w.state[f]
	if n.Members[f] == nil && r.Float64() >= diagnose.Sources[source] {
		s = (s + 1 + r.IntN(len(states)-1)) % len(states)
	}
	out := []diagnose.Reading{{ID: source + "." + finding, Finding: finding, State: states[s].ID, Source: source}}
	for _, m := range n.Members[f] {
		if x := n.Findings[m]; w.state[m] != 0 {
			out = append(out, diagnose.Reading{ID: source + "." + x.ID, Finding: x.ID, State: x.States[w.state[m]].ID, Source: source})
		}
	}
	return out
}

// CauseIDs are the ids of the causes that are there.
func (w World) CauseIDs() []string {
	var out []string
	for _, c := range w.Causes {
		out = append(out, w.n.Causes[c].ID)
	}
	return out
}
