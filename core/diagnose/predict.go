package diagnose

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/bayes"
	"innercompass/core/knowledge"
)

// manyCodes is how many codes are told apart when reading them is valued.
const manyCodes = 8

// Prediction is what a finding would be reported to show under each hypothesis. Outcomes of a finding that stands
// for many are "none" and the likeliest ones.
type Prediction struct {
	Outcomes        []Outcome
	p               [][]float64 // by outcome and hypothesis
	InformationGain float64     // expected drop of entropy, nats: a quick measure of whether a finding tells anything
}

type Outcome struct{ Finding, State int }

// Predictions are made when they are asked for, for hypotheses with these shares.
type Predictions struct {
	a          *Assessment
	Hypotheses []Hypothesis
	forecast   *bayes.Forecast
	made       map[int]*Prediction
}

// Foresee prepares predictions; present is by hypothesis and node.
func (a *Assessment) Foresee(hyps []Hypothesis, present [][]float64) *Predictions {
	return &Predictions{a: a, Hypotheses: hyps, forecast: a.Network.Bayes.Forecast(present), made: map[int]*Prediction{}}
}

// looks are the readings of a finding by somebody of the trade: what a customer said can always be looked at.
func (e *evidence) looks(f int) []int { return e.looked[f] }

// seen reports whether a finding was read by somebody of the trade.
func (e *evidence) seen(f int) bool { return len(e.looks(f)) > 0 }

// doubtful reports whether a finding was read only once and may show something else when it is looked at again.
func (e *evidence) doubtful(f int) bool {
	return e.n.RepeatableAt(f) && len(e.looks(f)) == 1
}

func (p *Predictions) Of(f int) *Prediction {
	if x := p.made[f]; x != nil {
		return x
	}
	var x *Prediction
	if members := p.a.Network.Members[f]; members != nil {
		x = p.many(f, members)
	} else {
		x = p.one(f)
	}
	x.InformationGain = p.information(x)
	p.made[f] = x
	return x
}

// Truly is the chance, by hypothesis, that a finding is in a state, whatever is made of it by who looks; nil when there is no such finding or
// state, or when it stands for many.
func (p *Predictions) Truly(finding, state string) []float64 {
	n := p.a.Network
	f, ok := n.FindingAt[finding]
	if !ok || n.Members[f] != nil || n.Findings[f].History {
		return nil
	}
	s := slices.IndexFunc(n.Findings[f].States, func(x knowledge.FindingState) bool { return x.ID == state })
	if s < 0 {
		return nil
	}
	out := make([]float64, len(p.Hypotheses))
	for i, row := range p.forecast.States(f) {
		out[i] = p.a.e.given(f, row)[s]
	}
	return out
}

func newPrediction(states []Outcome, hyps int) *Prediction {
	x := &Prediction{Outcomes: states, p: make([][]float64, len(states))}
	for s := range x.p {
		x.p[s] = make([]float64, hyps)
	}
	return x
}

// one predicts a finding as it would be reported by somebody who looks.
func (p *Predictions) one(f int) *Prediction {
	n := p.a.Network
	states := make([]Outcome, len(n.Findings[f].States))
	for s := range states {
		states[s] = Outcome{f, s}
	}
	x := newPrediction(states, len(p.Hypotheses))
	right := Sources["seen"]
	wrong := (1 - right) / float64(len(states)-1)
	rows := p.forecast.States(f)
	for i, h := range p.Hypotheses {
		row := rows[i]
		if n.Findings[f].History {
			row = p.a.historyOf(f, h)
		}
		for s, q := range p.a.e.given(f, row) {
			x.p[s][i] = right*q + wrong*(1-q)
		}
	}
	return x
}

// given is the distribution of a finding after what was read of it. The forecast of the damages behind it has heard the
// reading already, so this leans towards the reading a little.
func (e *evidence) given(f int, row []float64) []float64 {
	looks := e.looks(f)
	if len(looks) == 0 {
		return row
	}
	out, sum := slices.Clone(row), 0.0
	for s := range out {
		for _, i := range looks {
			out[s] *= e.groups[i][0].Likelihood[s]
		}
		sum += out[s]
	}
	for s := range out {
		out[s] /= sum
	}
	return out
}

// historyOf is the distribution of a history finding under a hypothesis, by Bayes' theorem from what it does
// to the odds of the causes.
func (a *Assessment) historyOf(f int, h Hypothesis) []float64 {
	out := a.Network.Findings[f].Baselines()
	sum := 0.0
	for s := range out {
		for _, c := range h.Causes {
			for _, w := range a.Network.History[c] {
				if w.Finding == f && w.State == s {
					out[s] *= w.Factor
				}
			}
		}
		sum += out[s]
	}
	for s := range out {
		out[s] /= sum
	}
	return out
}

// many predicts a finding that stands for many, such as the stored codes.
func (p *Predictions) many(f int, members []int) *Prediction {
	type one struct {
		finding int
		mean    float64
		by      []float64
	}
	var all []one
	none := make([]float64, len(p.Hypotheses))
	for i := range none {
		none[i] = 1
	}
	for _, m := range members {
		if p.a.e.seen(m) {
			continue
		}
		o := one{m, 0, make([]float64, len(p.Hypotheses))}
		for i, row := range p.forecast.States(m) {
			o.by[i] = 1 - row[0]
			o.mean += p.Hypotheses[i].Share * o.by[i]
			none[i] *= row[0]
		}
		all = append(all, o)
	}
	slices.SortStableFunc(all, func(a, b one) int { return cmp.Compare(b.mean, a.mean) })
	all = all[:min(manyCodes, len(all))]
	states := []Outcome{{f, 0}}
	for _, o := range all {
		states = append(states, Outcome{o.finding, 1})
	}
	x := newPrediction(states, len(p.Hypotheses))
	for i := range p.Hypotheses {
		sum := 1e-12
		for _, o := range all {
			sum += o.by[i]
		}
		x.p[0][i] = none[i]
		for k, o := range all {
			x.p[k+1][i] = o.by[i] * (1 - none[i]) / sum
		}
	}
	return x
}

func (p *Predictions) information(x *Prediction) float64 {
	out := 0.0
	for _, q := range x.p {
		mean := 0.0
		for i, h := range p.Hypotheses {
			mean += h.Share * q[i]
		}
		if mean <= 0 {
			continue
		}
		last, value := -1.0, 0.0 // most hypotheses share one probability: take its logarithm once
		for i, h := range p.Hypotheses {
			if q[i] != last {
				last, value = q[i], 0
				if q[i] > 0 {
					value = q[i] * math.Log(q[i]/mean)
				}
			}
			out += h.Share * value
		}
	}
	return out
}

// EachOutcome calls visit for every combination of results, with its probability and the weights of the hypotheses
// that it leaves (adding up to that probability).
func EachOutcome(told []*Prediction, weights []float64, visit func(first Outcome, mass float64, after []float64)) {
	buffers := make([][]float64, len(told))
	for i := range buffers {
		buffers[i] = make([]float64, len(weights))
	}
	var walk func(k int, first Outcome, w []float64)
	walk = func(k int, first Outcome, w []float64) {
		mass := 0.0
		for _, x := range w {
			mass += x
		}
		if k == len(told) {
			visit(first, mass, w)
			return
		}
		if mass < 1e-9 {
			return
		}
		for s, o := range told[k].Outcomes {
			next, q := buffers[k], told[k].p[s]
			for i, x := range w {
				next[i] = x * q[i]
			}
			at := first
			if k == 0 {
				at = o
			}
			walk(k+1, at, next)
		}
	}
	walk(0, Outcome{}, weights)
}
