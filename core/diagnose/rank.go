package diagnose

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Reading is one observed finding. Likelihood, when given, replaces the reliability of
// the source: the probability of what was measured for each state (an instrument that
// cannot tell two states apart gives them the same).
type Reading struct {
	ID         string
	Finding    string
	State      string
	Source     string
	Likelihood []float64
}

// ReadingError names the reading that does not fit the network.
type ReadingError struct {
	ID, Field, Reason, Accepted string
}

func (e *ReadingError) Error() string {
	return fmt.Sprintf("reading %s: %s: %s; accepted: %s", e.ID, e.Field, e.Reason, e.Accepted)
}

// Suspect is a cause with its probability.
type Suspect struct {
	Cause       Cause
	Probability float64
	Weights     []float64 // of each reading, in decibans, in the order of the readings
}

// WhatIf is what the ranking becomes without one reading.
type WhatIf struct {
	Reading     string
	Leader      string  // cause id that leads without it
	LeaderShare float64 // its probability without the reading
	Now         float64 // probability, without the reading, of the cause that leads with it
}

// Surprise says how well the leader explains what was read.
type Surprise struct {
	Score       float64  // standard deviations by which the readings are less likely than the leader expects; negative = better
	Unexplained []string // abnormal readings that the leader does not bring about
	Outside     bool     // an unspecific cause outside the list explains the readings better
}

// Ranking is the posterior with its explanation.
type Ranking struct {
	Suspects []Suspect // most probable first
	Systems  []float64 // share of each of Systems, without "nothing is wrong"
	WhatIf   []WhatIf  // by reading
	HangsOn  string    // id of the reading whose loss costs the leader most; "" when none
	Surprise Surprise
	Entropy  float64 // of the ranking, 0 (certain) to 1 (nothing known)
}

// NothingWrong is the id of the cause that stands for a normal characteristic.
const NothingWrong = "nothing-wrong"

// Rank weighs the readings. It fails on a reading whose finding, state or source is unknown;
// the order of readings does not matter for the result.
func (n *Network) Rank(readings []Reading) (Ranking, error) {
	e, err := n.evidence(readings)
	if err != nil {
		return Ranking{}, err
	}
	post := e.posterior(-1)
	order := make([]int, len(post))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		if post[a] != post[b] {
			if post[a] > post[b] {
				return -1
			}
			return 1
		}
		return strings.Compare(n.Causes[a].ID, n.Causes[b].ID)
	})
	without := make([][]float64, len(readings))
	for i := range readings {
		without[i] = e.posterior(i)
	}
	out := Ranking{Systems: make([]float64, len(Systems)), Entropy: entropy(post)}
	for _, c := range order {
		s := Suspect{Cause: n.Causes[c], Probability: post[c], Weights: make([]float64, len(readings))}
		for i := range readings {
			s.Weights[i] = decibans(post[c], without[i][c])
		}
		out.Suspects = append(out.Suspects, s)
		if i := slices.Index(Systems, n.Causes[c].System); i >= 0 && n.Causes[c].ID != NothingWrong {
			out.Systems[i] += post[c]
		}
	}
	n.explain(&out, readings, order[0], without)
	out.Surprise = e.surprise(order[0])
	return out, nil
}

func (n *Network) explain(out *Ranking, readings []Reading, leader int, without [][]float64) {
	worst := out.Suspects[0].Probability
	for i, r := range readings {
		best := 0
		for c, p := range without[i] {
			if p > without[i][best] {
				best = c
			}
		}
		out.WhatIf = append(out.WhatIf, WhatIf{r.ID, n.Causes[best].ID, without[i][best], without[i][leader]})
		if without[i][leader] < worst-0.02 {
			worst, out.HangsOn = without[i][leader], r.ID
		}
	}
}

// decibans is the weight of evidence between two probabilities [1].
func decibans(with, without float64) float64 {
	odds := func(p float64) float64 { return math.Max(p, 1e-12) / math.Max(1-p, 1e-12) }
	return 10 * math.Log10(odds(with)/odds(without))
}

func entropy(p []float64) float64 {
	h := 0.0
	for _, x := range p {
		if x > 0 {
			h -= x * math.Log(x)
		}
	}
	if len(p) < 2 {
		return 0
	}
	return h / math.Log(float64(len(p)))
}

// evidence holds the readings as likelihood vectors grouped by finding: two reports of one
// finding speak of the same true state.
type evidence struct {
	n        *Network
	readings []Reading
	lambda   [][]float64 // by reading
	group    map[int][]int
	findings []int     // of the groups, in order of first reading
	logPost  []float64 // unnormalised, by cause
}

func (n *Network) evidence(readings []Reading) (*evidence, error) {
	e := &evidence{n: n, readings: readings, group: map[int][]int{}}
	for i, r := range readings {
		f, ok := n.finding[r.Finding]
		if !ok {
			return nil, &ReadingError{r.ID, "finding", fmt.Sprintf("no finding %q for unit %s", r.Finding, n.Unit.Sheet.ID), "an id listed by: innercompass findings --unit " + n.Unit.Sheet.ID}
		}
		lambda, err := n.likelihood(r, f)
		if err != nil {
			return nil, err
		}
		e.lambda = append(e.lambda, lambda)
		if e.group[f] == nil {
			e.findings = append(e.findings, f)
		}
		e.group[f] = append(e.group[f], i)
	}
	e.logPost = make([]float64, len(n.Causes))
	for c := range n.Causes {
		e.logPost[c] = log(n.prior[c])
		for _, f := range e.findings {
			e.logPost[c] += log(e.report(c, f, -1))
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
		for _, p := range r.Likelihood {
			if !(p >= 0 && p <= 1) {
				return nil, &ReadingError{r.ID, "likelihood", fmt.Sprint(p), "probabilities from 0 to 1"}
			}
		}
		return r.Likelihood, nil
	}
	right, ok := Sources[r.Source]
	if !ok {
		return nil, &ReadingError{r.ID, "source", fmt.Sprintf("%q", r.Source), "customer, seen, measured"}
	}
	out := make([]float64, len(states))
	for i := range out {
		out[i] = (1 - right) / float64(len(states)-1)
	}
	out[s] = right
	return out, nil
}

// report is the probability of what was reported of a finding under a cause, leaving out one
// reading (−1: none).
func (e *evidence) report(c, f, skip int) float64 {
	sum := 0.0
	for s, p := range e.n.distribution(c, f) {
		for _, i := range e.group[f] {
			if i != skip {
				p *= e.lambda[i][s]
			}
		}
		sum += p
	}
	return sum
}

// posterior is the distribution over causes without one reading (−1: with all).
func (e *evidence) posterior(skip int) []float64 {
	out := slices.Clone(e.logPost)
	if skip >= 0 {
		f := e.n.finding[e.readings[skip].Finding]
		for c := range out {
			out[c] += log(e.report(c, f, skip)) - log(e.report(c, f, -1))
		}
	}
	return softmax(out)
}

func softmax(logs []float64) []float64 {
	most := slices.Max(logs)
	sum := 0.0
	for i, l := range logs {
		logs[i] = math.Exp(l - most)
		sum += logs[i]
	}
	for i := range logs {
		logs[i] /= sum
	}
	return logs
}

// strawAbnormal is how often a cause outside the list is taken to make any finding abnormal.
const strawAbnormal = 0.15

// surprise compares the leader's likelihood with what it expects of itself, and with an
// unspecific hypothesis outside the list. A missing cause that resembles a listed one
// cannot be noticed this way.
func (e *evidence) surprise(leader int) Surprise {
	var out Surprise
	got, mean, variance, straw := 0.0, 0.0, 0.0, 0.0
	for _, f := range e.findings {
		dist := e.n.distribution(leader, f)
		last := e.group[f][len(e.group[f])-1]
		s := e.n.Findings[f].state(e.readings[last].State)
		got += log(dist[s])
		m, m2 := 0.0, 0.0
		for _, p := range dist {
			l := log(p)
			m += p * l
			m2 += p * l * l
		}
		mean += m
		variance += m2 - m*m
		if s == 0 {
			straw += log(1 - strawAbnormal)
		} else {
			straw += log(strawAbnormal / float64(len(dist)-1))
			// What is common in any vehicle needs no explanation.
			if b := e.n.baseline[f][s]; b <= 0.1 && dist[s] < 2*b {
				out.Unexplained = append(out.Unexplained, e.readings[last].ID)
			}
		}
	}
	if variance > 0 {
		out.Score = (mean - got) / math.Sqrt(variance)
	}
	out.Outside = straw > got+math.Log(10)
	return out
}
