package diagnose

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"innercompass/core/bayes"
)

// Suspect is a cause with its probability.
type Suspect struct {
	Cause       Cause
	Probability float64 // that it is present, given that something is
}

// Consequence is a damage, or a fault of the design, with the probability that it is there.
type Consequence struct {
	Node        Node
	Probability float64
}

// Hypothesis is a set of causes that are there together, and no other that shows.
type Hypothesis struct {
	Causes []int // indices into Network.Causes
	Share  float64
}

// WhatIf is what the ranking becomes without one reading.
type WhatIf struct {
	Reading     string
	Leader      string  // cause id that leads without it
	LeaderShare float64 // its probability without the reading
	Now         float64 // probability, without the reading, of the cause that leads with it
}

// Assessment is what a situation means: the posterior, and everything that can be asked of it. It is made by
// Network.Assess, is never changed, and may be asked from several goroutines.
type Assessment struct {
	Suspects   []Suspect // most probable first
	Hypotheses []Hypothesis
	Damages    []Consequence
	Systems    []float64 // share of each of Systems in the suspicion
	Surprise   Surprise
	Entropy    float64 // of the hypotheses, 0 (certain) to 1 (nothing known)
	Exact      bool    // probabilities are exact; else from the best sets of causes alone
	LeftOut    float64 // weight of the sets of causes that were not weighed one by one, of all; proved when Exact, else NaN

	n       *Network
	e       *evidence
	ev      *bayes.Evidence
	cause   []float64   // probability by cause
	order   []int       // causes, most probable first
	present [][]float64 // probability of every node, by hypothesis
}

// Weights is what each reading does to the suspects.
type Weights struct {
	Suspects [][]float64 // by suspect, as far as shown, and reading: decibans
	Without  [][]float64 // the same: probability of the suspect without the reading
	WhatIf   []WhatIf    // by reading
	HangsOn  string      // id of the reading whose loss costs the leader most; "" when none
}

// NothingWrong is the id of the cause that stands for a normal characteristic.
const NothingWrong = "nothing-wrong"

// Settings of the search: how many sets of causes are weighed, and how many are kept as hypotheses.
const (
	searched = 900
	kept     = 150
)

// Assess weighs the readings of a situation. It fails on a reading whose finding, state or source is unknown;
// the order of readings does not matter for the result.
func (n *Network) Assess(s Situation) (*Assessment, error) {
	e, err := n.evidence(s)
	if err != nil {
		return nil, err
	}
	a := &Assessment{n: n, e: e, Systems: make([]float64, len(Systems))}
	if err := a.infer(); err != nil {
		return nil, err
	}
	a.order = make([]int, len(n.Causes))
	for i := range a.order {
		a.order[i] = i
	}
	slices.SortFunc(a.order, func(x, y int) int {
		if a.cause[x] != a.cause[y] {
			return cmp.Compare(a.cause[y], a.cause[x])
		}
		return strings.Compare(n.Causes[x].ID, n.Causes[y].ID)
	})
	total := 0.0
	for _, c := range a.order {
		a.Suspects = append(a.Suspects, Suspect{n.Causes[c], a.cause[c]})
		if i := slices.Index(Systems, n.Causes[c].System); i >= 0 && n.Causes[c].ID != NothingWrong {
			a.Systems[i] += a.cause[c]
		}
		total += a.cause[c]
	}
	for i := range a.Systems {
		a.Systems[i] /= math.Max(total, 1) // two causes at once share one suspicion
	}
	a.present = make([][]float64, len(a.Hypotheses))
	given := a.ev.Given()
	for i, h := range a.Hypotheses {
		a.present[i] = given.Nodes(h.Causes)
	}
	a.consequences()
	a.Surprise = a.surprise()
	return a, nil
}

// Weigh says what each reading weighs for the first most suspects, by leaving it out.
func (a *Assessment) Weigh(most int) (Weights, error) {
	n, readings := a.n, a.e.s.Readings
	most = min(most, len(a.order))
	out := Weights{Suspects: make([][]float64, most), Without: make([][]float64, most)}
	leader := a.order[0]
	worst := a.cause[leader]
	for i, r := range readings {
		p, err := a.leaveOut(i)
		if err != nil {
			return out, err
		}
		best := 0
		for c := range p {
			if p[c] > p[best] {
				best = c
			}
		}
		for k := range most {
			c := a.order[k]
			out.Suspects[k] = append(out.Suspects[k], decibans(a.cause[c], p[c]))
			out.Without[k] = append(out.Without[k], p[c])
		}
		out.WhatIf = append(out.WhatIf, WhatIf{r.ID, n.Causes[best].ID, p[best], p[leader]})
		if p[leader] < worst-0.02 {
			worst, out.HangsOn = p[leader], r.ID
		}
	}
	return out, nil
}

func (a *Assessment) infer() error {
	ev, err := a.e.weigh(-1)
	if err != nil {
		return err
	}
	search := ev.Search(searched, nil)
	nothing, total := ev.Nothing(), search.Sum
	a.ev, a.cause, a.LeftOut = ev, slices.Clone(search.Present), math.NaN()
	if x, ok := ev.Exact(); ok {
		a.Exact, total = true, x.Total
		a.cause = x.Present[:len(a.n.Causes)]
		a.LeftOut = math.Max(0, 1-search.Sum/x.Total)
	}
	atLeastOne(a.cause, total, nothing)
	a.Hypotheses = hypotheses(search, nothing)
	return nil
}

// atLeastOne conditions on something being there: a vehicle in the shop has a reason to be there, if only a
// characteristic that the customer noticed.
func atLeastOne(cause []float64, total, nothing float64) {
	scale := total / math.Max(total-nothing, 1e-300)
	for i := range cause {
		cause[i] = math.Min(1, cause[i]*scale)
	}
}

// hypotheses are the best sets, with the single causes that touch no abnormal reading among them.
func hypotheses(search bayes.Search, nothing float64) []Hypothesis {
	var out []Hypothesis
	inSets := make([]bool, len(search.Present))
	for _, s := range search.Sets {
		for _, r := range s.Roots {
			inSets[r] = true
		}
		if len(s.Roots) > 0 {
			out = append(out, Hypothesis{s.Roots, s.Weight})
		}
	}
	for c, in := range inSets {
		if p := search.Present[c]; !in && p > 0 && p < 1 {
			out = append(out, Hypothesis{[]int{c}, nothing * p / (1 - p)})
		}
	}
	slices.SortStableFunc(out, func(a, b Hypothesis) int {
		switch {
		case a.Share > b.Share:
			return -1
		case a.Share < b.Share:
			return 1
		}
		return slices.Compare(a.Causes, b.Causes)
	})
	out = out[:min(kept, len(out))]
	sum := 0.0
	for _, h := range out {
		sum += h.Share
	}
	for i := range out {
		out[i].Share /= math.Max(sum, 1e-300)
	}
	return out
}

// leaveOut returns the probability of each cause without one reading.
func (a *Assessment) leaveOut(i int) ([]float64, error) {
	if len(a.e.groups[i]) == 0 {
		return a.cause, nil
	}
	ev, err := a.e.weigh(i)
	if err != nil {
		return nil, err
	}
	if a.Exact {
		if x, ok := ev.Exact(); ok {
			atLeastOne(x.Present, x.Total, ev.Nothing())
			return x.Present[:len(a.n.Causes)], nil
		}
	}
	s := ev.Search(searched, nil) // as many as with the reading, or the difference would be the search and not the reading
	atLeastOne(s.Present, s.Sum, ev.Nothing())
	return s.Present, nil
}

// consequences are the damages and faults of the design that are likely to be there.
func (a *Assessment) consequences() {
	n := a.n
	for v := len(n.Causes); v < len(n.Nodes); v++ {
		p := 0.0
		for i, h := range a.Hypotheses {
			p += h.Share * a.present[i][v]
		}
		if p > 0.02 {
			a.Damages = append(a.Damages, Consequence{n.Nodes[v], p})
		}
	}
	slices.SortStableFunc(a.Damages, func(x, y Consequence) int { return cmp.Compare(y.Probability, x.Probability) })
}

// decibans is the weight of evidence between two probabilities [1].
func decibans(with, without float64) float64 {
	odds := func(p float64) float64 { return math.Max(p, 1e-12) / math.Max(1-p, 1e-12) }
	return 10 * math.Log10(odds(with)/odds(without))
}

// entropy of the hypotheses, against that of as many equally likely ones.
func entropy(hs []Hypothesis) float64 {
	if len(hs) < 2 {
		return 0
	}
	h := 0.0
	for _, x := range hs {
		if x.Share > 0 {
			h -= x.Share * math.Log(x.Share)
		}
	}
	return h / math.Log(float64(len(hs)))
}

// Surprise says how well the leader explains what was read.
type Surprise struct {
	Score       float64  // standard deviations by which the readings are less likely than the leader expects; negative = better
	Unexplained []string // abnormal readings that the leading hypothesis does not bring about
	Outside     bool     // an unspecific cause outside the list explains the readings better
}

// strawAbnormal is how often a cause outside the list is taken to make any finding abnormal.
const strawAbnormal = 0.15

// surprise compares the likelihood of the leading hypothesis with what it expects of itself, and with an
// unspecific one outside the list, which is never let into the ranking. A missing cause that resembles a listed
// one cannot be noticed this way.
func (a *Assessment) surprise() Surprise {
	var out Surprise
	n, e := a.n, a.e
	if len(a.Hypotheses) == 0 {
		return out
	}
	present := n.net.Expect(a.Hypotheses[0].Causes)
	got, mean, variance, straw := 0.0, 0.0, 0.0, 0.0
	last := map[int]int{} // of several readings of one finding the last speaks
	for i, r := range e.s.Readings {
		if f := n.finding[r.Finding]; !e.history[i] && n.Findings[f].Members == "" {
			last[f] = i
		}
	}
	for i, r := range e.s.Readings {
		f := n.finding[r.Finding]
		if at, ok := last[f]; !ok || at != i {
			continue
		}
		dist := n.net.States(f, present)
		s := n.Findings[f].state(r.State)
		got += log(dist[s])
		m, m2 := 0.0, 0.0
		for _, q := range dist {
			l := log(q)
			m += q * l
			m2 += q * l * l
		}
		mean += m
		variance += m2 - m*m
		if s == 0 {
			straw += log(1 - strawAbnormal)
			continue
		}
		straw += log(strawAbnormal / float64(len(dist)-1))
		// What is common in any vehicle needs no explanation.
		if b := n.Findings[f].States[s].Baseline; b <= 0.1 && dist[s] < 2*b {
			out.Unexplained = append(out.Unexplained, r.ID)
		}
	}
	if variance > 0 {
		out.Score = (mean - got) / math.Sqrt(variance)
	}
	out.Outside = straw > got+math.Log(10)
	return out
}

func log(p float64) float64 { return math.Log(math.Max(p, 1e-12)) }
