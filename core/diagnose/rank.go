package diagnose

import (
	"cmp"
	"context"
	"math"
	"slices"
	"strings"

	"innercompass/core/bayes"
	"innercompass/core/knowledge"
)

// Suspect is a cause with its probability.
type Suspect struct {
	Cause       knowledge.Cause
	Probability float64 // that it is present, given that something is
}

// Consequence is a damage, or a fault of the design, with the probability that it is there.
type Consequence struct {
	Node        knowledge.Node
	Probability float64
}

// Hypothesis is a set of causes that are there together, and no other that shows.
type Hypothesis struct {
	Causes []int // indices into Network.Causes
	Share  float64
}

// Assessment is what a situation means: the posterior, and everything that can be asked of it. It is made by
// Assess, is never changed, and may be asked from several goroutines.
type Assessment struct {
	Suspects   []Suspect // most probable first
	Hypotheses []Hypothesis
	Damages    []Consequence
	Systems    []float64 // share of each of Systems in the suspicion
	Surprise   Surprise
	Other      float64 // probability that it is something that is not in the list at all
	Entropy    float64 // of the suspicion: 0 (all on one cause) to 1 (the same on every cause of the unit)
	Exact      bool    // probabilities are exact; else from the best sets of causes alone
	LeftOut    float64 // weight of the sets of causes that were not weighed one by one, of all; proved when Exact, else NaN

	Network  *knowledge.Network
	e        *evidence
	ev       *bayes.Evidence
	cause    []float64    // probability by cause
	explains []bool       // by cause: whether it brings about any of what is abnormal
	Order    []int        // causes, most probable first
	Present  [][]float64  // probability of every node, by hypothesis
	pool     []Hypothesis // what readings are weighed on: the hypotheses and every single cause
}

// Read is the state that the last reading of a finding gives, "" when there is none.
func (a *Assessment) Read(finding string) string {
	state := ""
	for _, r := range a.e.s.Readings {
		if r.Finding == finding {
			state = r.State
		}
	}
	return state
}

// Distance is what the unit has run, km; 0 when it is not known.
func (a *Assessment) Distance() float64 { return a.e.s.Distance }

// Settings of the inference: how many sets of causes are weighed, how many are kept as hypotheses at most, and when the
// exact answer is not computed at once.
const (
	searched = 350
	kept     = 100
	enough   = 0.985 // share of the weight that the hypotheses cover when they are fewer
	// A single cause lighter than this stays far under a percent whatever reading is left out: none weighs more than the
	// least likelihood of a state allows, a factor of 500.
	negligible = 1e-6
	quickWork  = 1 << 16 // table entries of an exact answer that is worth waiting for, some ten milliseconds
)

// Assess weighs the readings of a situation. It fails on a reading whose finding, state or source is unknown;
// the order of readings does not matter for the result. The answer is exact when that is quick, else from the best
// sets of causes: see AssessInFull.
func Assess(n *knowledge.Network, s Situation) (*Assessment, error) {
	return assess(context.Background(), n, s, quickWork)
}

// AssessInFull is Assess with the exact answer however long it takes, up to a second, unless ctx ends before; then,
// and when it would take too much, it is what Assess returns.
func AssessInFull(ctx context.Context, n *knowledge.Network, s Situation) (*Assessment, error) {
	return assess(ctx, n, s, math.MaxInt)
}

func assess(ctx context.Context, n *knowledge.Network, s Situation, most int) (*Assessment, error) {
	e, err := newEvidence(n, s)
	if err != nil {
		return nil, err
	}
	a := &Assessment{Network: n, e: e, Systems: make([]float64, len(knowledge.Systems))}
	if err := a.infer(ctx, most); err != nil {
		return nil, err
	}
	a.Order = make([]int, len(n.Causes))
	for i := range a.Order {
		a.Order[i] = i
	}
	slices.SortFunc(a.Order, func(x, y int) int {
		if a.explains[x] != a.explains[y] { // what may be there besides stands after what the vehicle came for
			return map[bool]int{true: -1, false: 1}[a.explains[x]]
		}
		if a.cause[x] != a.cause[y] {
			return cmp.Compare(a.cause[y], a.cause[x])
		}
		return strings.Compare(n.Causes[x].ID, n.Causes[y].ID)
	})
	total := 0.0
	for _, c := range a.Order {
		a.Suspects = append(a.Suspects, Suspect{n.Causes[c], a.cause[c]})
		if !a.explains[c] {
			continue
		}
		if i := slices.Index(knowledge.Systems, n.Causes[c].System); i >= 0 && n.Causes[c].ID != knowledge.NothingWrong {
			a.Systems[i] += a.cause[c]
		}
		total += a.cause[c]
	}
	for i := range a.Systems {
		a.Systems[i] /= math.Max(total, 1) // two causes at once share one suspicion
	}
	a.Entropy = entropy(a.cause)
	a.Present = make([][]float64, len(a.Hypotheses))
	given := a.ev.Given()
	for i, h := range a.Hypotheses {
		a.Present[i] = given.Nodes(h.Causes)
	}
	a.consequences()
	a.Surprise = a.surprise()
	a.leaveRoom()
	return a, nil
}

// entropy is that of the suspicion over the causes, as a share of what it would be if all were suspected alike.
func entropy(p []float64) float64 {
	sum, out := 0.0, 0.0
	for _, x := range p {
		sum += x
	}
	if sum <= 0 || len(p) < 2 {
		return 0
	}
	for _, x := range p {
		if q := x / sum; q > 0 {
			out -= q * math.Log(q)
		}
	}
	return math.Min(1, out/math.Log(float64(len(p))))
}

func (a *Assessment) infer(ctx context.Context, most int) error {
	ev, err := a.e.weigh(-1)
	if err != nil {
		return err
	}
	var x bayes.Exact
	if plan := ev.Plan(); plan.Work <= most {
		x, a.Exact = plan.Exact(ctx)
	}
	var known []float64
	if a.Exact {
		known = x.Present
	}
	search := ev.Search(searched, known)
	nothing, total := ev.Nothing(), search.Sum
	a.ev, a.cause, a.LeftOut = ev, slices.Clone(search.Present), math.NaN()
	if a.Exact {
		total = x.Total
		a.cause = x.Present[:len(a.Network.Causes)]
		a.LeftOut = math.Max(0, 1-search.Sum/x.Total)
	}
	a.explains = explaining(a.e)
	forTheComplaint(a.cause, a.explains, total, nothing)
	a.hypotheses(search, nothing)
	return nil
}

// hypotheses are the best sets, with the single causes that touch no abnormal reading among them; all single causes
// come after them in the pool.
func (a *Assessment) hypotheses(search bayes.Search, nothing float64) {
	var all []Hypothesis
	inSets := make([]bool, len(search.Present))
	for _, s := range search.Sets {
		for _, r := range s.Roots {
			inSets[r] = true
		}
		if s.Weight > 0 && slices.ContainsFunc(s.Roots, func(c int) bool { return a.explains[c] }) {
			all = append(all, Hypothesis{s.Roots, s.Weight})
		}
	}
	for c, in := range inSets {
		if p := search.Present[c]; !in && a.explains[c] && p > 0 && p < 1 {
			all = append(all, Hypothesis{[]int{c}, nothing * p / (1 - p)})
		}
	}
	slices.SortStableFunc(all, func(a, b Hypothesis) int {
		if a.Share != b.Share {
			return cmp.Compare(b.Share, a.Share)
		}
		return slices.Compare(a.Causes, b.Causes)
	})
	total, mass, most := 0.0, 0.0, 0
	for _, h := range all {
		total += h.Share
	}
	for most < min(kept, len(all)) && mass < enough*total {
		mass += all[most].Share
		most++
	}
	a.Hypotheses = shares(all[:most])
	most = min(kept, len(all))
	rest := slices.DeleteFunc(slices.Clone(all[most:]), func(h Hypothesis) bool {
		return len(h.Causes) > 1 || h.Share < negligible*total
	})
	a.pool = shares(append(slices.Clone(all[:most]), rest...))
}

// shares scales weights to add up to one.
func shares(hs []Hypothesis) []Hypothesis {
	out := slices.Clone(hs)
	sum := 0.0
	for _, h := range out {
		sum += h.Share
	}
	for i := range out {
		out[i].Share /= math.Max(sum, 1e-300)
	}
	return out
}

// consequences are the damages and faults of the design that are likely to be there.
func (a *Assessment) consequences() {
	n := a.Network
	for v := len(n.Causes); v < len(n.Nodes); v++ {
		p := 0.0
		for i, h := range a.Hypotheses {
			p += h.Share * a.Present[i][v]
		}
		if p > 0.02 {
			a.Damages = append(a.Damages, Consequence{n.Nodes[v], p})
		}
	}
	slices.SortStableFunc(a.Damages, func(x, y Consequence) int { return cmp.Compare(y.Probability, x.Probability) })
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
	n, e := a.Network, a.e
	if len(a.Hypotheses) == 0 {
		return out
	}
	present := n.Bayes.Expect(a.Hypotheses[0].Causes)
	got, mean, variance, straw := 0.0, 0.0, 0.0, 0.0
	last := map[int]int{} // of several readings of one finding the last speaks
	for i, r := range e.s.Readings {
		if f := n.FindingAt[r.Finding]; !e.history[i] && n.Findings[f].Members == "" {
			last[f] = i
		}
	}
	for i, r := range e.s.Readings {
		f := n.FindingAt[r.Finding]
		if at, ok := last[f]; !ok || at != i {
			continue
		}
		dist := n.Bayes.States(f, present)
		s := n.Findings[f].StateAt(r.State)
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
		if b := n.Anyway(f, s); b <= usualAnyway && dist[s] < bringsAbout*b {
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

// Several is the probability that more than one cause is there, as far as the hypotheses tell.
func (a *Assessment) Several() float64 {
	out := 0.0
	for _, h := range a.Hypotheses {
		if len(h.Causes) > 1 {
			out += h.Share
		}
	}
	return out
}

// Seen reports whether the finding at an index was read by somebody of the trade.
func (a *Assessment) Seen(f int) bool { return a.e.seen(f) }

// Doubtful reports whether it was read only once and may show something else when it is looked at again.
func (a *Assessment) Doubtful(f int) bool { return a.e.doubtful(f) }

// Readings are what it was made from.
func (a *Assessment) Readings() []Reading { return a.e.s.Readings }
