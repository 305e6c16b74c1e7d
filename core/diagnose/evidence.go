package diagnose

import (
	"fmt"
	"strings"

	"innercompass/core/bayes"
	"innercompass/core/unitsheet"
)

// Reading is one observed finding. Likelihood, when given, replaces the reliability of the source: the
// probability of what was measured for each state (an instrument that cannot tell two states apart gives them
// the same).
type Reading struct {
	ID         string
	Finding    string
	State      string
	Source     string
	Likelihood []float64
}

// Situation is everything that the suspects depend on.
type Situation struct {
	Readings []Reading
	Distance float64  // km that the unit has run; 0 when not known
	Repaired []string // causes that were put right in vain: the complaint is still there
}

// ReadingError names the reading that does not fit the network.
type ReadingError struct {
	ID, Field, Reason, Accepted string
}

func (e *ReadingError) Error() string {
	return fmt.Sprintf("reading %s: %s: %s; accepted: %s", e.ID, e.Field, e.Reason, e.Accepted)
}

// evidence is a situation translated to numbers.
type evidence struct {
	n        *Network
	s        Situation
	readings []bayes.Reading // by reading; of those that stand for several findings, the first
	groups   [][]bayes.Reading
	history  []bool // by reading
}

func (n *Network) evidence(s Situation) (*evidence, error) {
	e := &evidence{n: n, s: s, groups: make([][]bayes.Reading, len(s.Readings)), history: make([]bool, len(s.Readings))}
	read := map[int]bool{}
	for _, r := range s.Readings {
		if f, ok := n.finding[r.Finding]; ok {
			read[f] = true
		}
	}
	for i, r := range s.Readings {
		f, ok := n.finding[r.Finding]
		if !ok {
			return nil, &ReadingError{r.ID, "finding", fmt.Sprintf("no finding %q for unit %s", r.Finding, n.Unit.Sheet.ID), "an id listed by: innercompass findings --unit " + n.Unit.Sheet.ID}
		}
		lambda, err := n.likelihood(r, f)
		if err != nil {
			return nil, err
		}
		e.history[i] = n.Findings[f].History
		switch {
		case n.Findings[f].Members == "":
			e.groups[i] = []bayes.Reading{{Finding: f, Likelihood: lambda}}
		case n.Findings[f].state(r.State) == 0:
			for _, m := range n.members[f] {
				if !read[m] {
					e.groups[i] = append(e.groups[i], bayes.Reading{Finding: m, Likelihood: n.reliable(m, 0, Sources[r.Source])})
				}
			}
		}
	}
	return e, nil
}

func (n *Network) likelihood(r Reading, f int) ([]float64, error) {
	states := n.Findings[f].States
	s := n.Findings[f].state(r.State)
	if s < 0 {
		return nil, &ReadingError{r.ID, "state", fmt.Sprintf("finding %s has no state %q", r.Finding, r.State), n.Findings[f].stateIDs()}
	}
	if r.Likelihood != nil {
		if len(r.Likelihood) != len(states) {
			return nil, &ReadingError{r.ID, "likelihood", fmt.Sprintf("%d values", len(r.Likelihood)), fmt.Sprintf("%d, one for each state", len(states))}
		}
		sum := 0.0
		for _, p := range r.Likelihood {
			if !(p >= 0 && p <= 1) {
				return nil, &ReadingError{r.ID, "likelihood", fmt.Sprint(p), "probabilities from 0 to 1"}
			}
			sum += p
		}
		if sum == 0 {
			return nil, &ReadingError{r.ID, "likelihood", "all zero", "at least one above 0"}
		}
		out := make([]float64, len(states))
		for i, p := range r.Likelihood {
			out[i] = max(p, certain) // no gauge is so good that it could not have been misread
		}
		return out, nil
	}
	right, ok := Sources[r.Source]
	if !ok {
		return nil, &ReadingError{r.ID, "source", fmt.Sprintf("%q", r.Source), "customer, seen, measured"}
	}
	return n.reliable(f, s, right), nil
}

// certain is the least likelihood of a state that was not reported.
const certain = 0.002

// reliable is the likelihood of each state when s was reported and reports are right this often.
func (n *Network) reliable(f, s int, right float64) []float64 {
	out := make([]float64, len(n.Findings[f].States))
	for i := range out {
		out[i] = (1 - right) / float64(len(out)-1)
	}
	out[s] = right
	return out
}

// CheckReading returns a ReadingError when a reading does not fit the network.
func (n *Network) CheckReading(r Reading) error {
	_, err := n.evidence(Situation{Readings: []Reading{r}})
	return err
}

// weigh joins the readings, all but one (−1: all), to the network.
func (e *evidence) weigh(without int) (*bayes.Evidence, error) {
	var all []bayes.Reading
	for i, g := range e.groups {
		if i != without && !e.history[i] {
			all = append(all, g...)
		}
	}
	ev, err := e.n.net.Weigh(e.odds(without), all)
	if err != nil {
		reason, f := strings.TrimPrefix(err.Error(), "bayes: "), 0
		if k, _ := fmt.Sscanf(reason, "readings of finding %d:", &f); k == 1 && f >= 0 && f < len(e.n.Findings) {
			reason = strings.Replace(reason, fmt.Sprintf("finding %d", f), e.n.Findings[f].ID, 1)
		}
		return nil, &ReadingError{"", "readings", reason, "readings that can be true together"}
	}
	return ev, nil
}

// odds are the prior odds of the causes at this distance, after this history.
func (e *evidence) odds(without int) []float64 {
	n := e.n
	out := make([]float64, len(n.Causes))
	for c := range out {
		out[c] = n.odds[c] * hazard(n.Causes[c].Ages, e.s.Distance)
	}
	for _, k := range n.Unit.Known {
		if c, ok := n.node[k.Cause]; ok && c < len(out) {
			from, to := knownWindow(k)
			out[c] *= known(from, to, e.s.Distance)
		}
	}
	past := e.past(without)
	for f := range n.Findings { // in the order of the network, so that the last digit is always the same
		if past[f] == nil {
			continue
		}
		for c, when := range n.when {
			out[c] *= past.factor(n, f, when)
		}
	}
	for _, id := range e.s.Repaired {
		if c, ok := n.node[id]; ok && c < len(out) {
			out[c] *= 1 - repairHolds
		}
	}
	return out
}

// repairHolds is how often a repair puts right what it was meant for.
const repairHolds = 0.96

// past is the distribution of every history finding that was read.
type past map[int][]float64

func (e *evidence) past(without int) past {
	out := past{}
	for i, g := range e.groups {
		if i == without || !e.history[i] {
			continue
		}
		for _, r := range g {
			p := out[r.Finding]
			if p == nil {
				p = e.n.baseline(r.Finding)
				out[r.Finding] = p
			}
			sum := 0.0
			for s := range p {
				p[s] *= r.Likelihood[s]
				sum += p[s]
			}
			for s := range p {
				p[s] /= sum
			}
		}
	}
	return out
}

// factor is what one finding of the history does to the odds of a cause: the mean of its factors after the
// readings over that before, so that a history that nobody asked about changes nothing.
func (p past) factor(n *Network, f int, when []condition) float64 {
	before, after := 0.0, 0.0
	base := n.baseline(f)
	for s := range base {
		k := 1.0
		for _, w := range when {
			if w.finding == f && w.state == s {
				k *= w.factor
			}
		}
		before += base[s] * k
		after += p[f][s] * k
	}
	return after / before
}

// baseline is the distribution of a finding whatever the cause.
func (n *Network) baseline(f int) []float64 {
	out := make([]float64, len(n.Findings[f].States))
	out[0] = 1
	for s, st := range n.Findings[f].States[1:] {
		out[s+1] = st.Baseline
		out[0] -= st.Baseline
	}
	return out
}

// knownWindow is the distance over which a unit is known to fail in one way, in kilometres; hours of running count as
// kilometres.
func knownWindow(k unitsheet.KnownFailure) (from, to float64) {
	if k.InHours {
		return k.From * KilometresPerHour, k.To * KilometresPerHour
	}
	return k.From, k.To
}

// KilometresPerHour is what an hour of running counts for on vehicles that count hours (common practice, no
// source).
const KilometresPerHour = 40
