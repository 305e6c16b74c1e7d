package overview

import (
	"context"
	"fmt"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/present"
	"innercompass/internal/problem"
)

// Explanation is why a cause is suspected as much as it is.
type Explanation struct {
	Cause         knowledge.Cause
	Probability   float64
	Place         int // 1 for the leader
	Exact         bool
	Circumstances []diagnose.Circumstance
	Chain         diagnose.Chain
	Sentences     []string
	Left          []string // titles of abnormal readings that it does not bring about
	Weights       []present.WeightedReading
	Contrast      *ContrastView // against the leader, or of the leader against the runner-up
}

// ContrastView is why the first and not the second of two suspects.
type ContrastView struct {
	First, Second      string
	FirstID, SecondID  string
	Readings           []present.WeightedReading // positive speaks for the first
	Check, Title, Says string                    // the check that would tell them apart; "" when none does
	Minutes, Climb     float64
	Access             string
	Drive              bool // it is a cell of the road test
}

// Explain explains a suspect of a case.
func (s *Service) Explain(ctx context.Context, id, cause string) (Explanation, error) {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return Explanation{}, err
	}
	a, err := s.Assessing.Assess(ctx, n, c.Situation(c.Valid()), false)
	if err != nil {
		return Explanation{}, err
	}
	place := -1
	for i, x := range a.Suspects {
		if x.Cause.ID == cause {
			place = i
		}
	}
	if place < 0 {
		return Explanation{}, problem.NotFound("cause", cause, "an id listed by: innercompass causes --unit "+c.UnitID)
	}
	w, err := a.Weighed()
	if err == nil && place >= len(w.Suspects) {
		w, err = a.Weigh(place + 1)
	}
	if err != nil {
		return Explanation{}, err
	}
	chain, err := a.Chain(cause)
	if err != nil {
		return Explanation{}, err
	}
	x := a.Suspects[place]
	out := Explanation{Cause: x.Cause, Probability: x.Probability, Place: place + 1, Exact: a.Exact, Circumstances: a.Circumstances(cause), Chain: chain, Sentences: chain.Sentences()}
	titles := readingTitles(n, c.Valid())
	for _, r := range chain.Left {
		out.Left = append(out.Left, titles[r])
	}
	for i, r := range c.Valid() {
		out.Weights = append(out.Weights, present.WeightedReading{ID: r.ID, Title: titles[r.ID], Weight: w.Suspects[place][i]})
	}
	if len(a.Suspects) > 1 {
		first, second := 0, max(place, 1)
		out.Contrast = contrastView(n, titles, a.Suspects[first], plan.Contrasted(a.Assessment, w, first, second, assessing.Stand(c, n, s.Now())))
	}
	return out, nil
}

func readingTitles(n *knowledge.Network, readings []cases.Reading) map[string]string {
	out := map[string]string{}
	for _, r := range readings {
		f, _ := n.Finding(r.Finding)
		out[r.ID] = f.Title + ": " + r.Words(f)
	}
	return out
}

func contrastView(n *knowledge.Network, titles map[string]string, first diagnose.Suspect, x plan.Contrast) *ContrastView {
	out := &ContrastView{First: first.Cause.Title, FirstID: first.Cause.ID, Second: x.Against.Cause.Title, SecondID: x.Against.Cause.ID}
	for _, r := range x.Readings[:min(4, len(x.Readings))] {
		out.Readings = append(out.Readings, present.WeightedReading{ID: r.Reading, Title: titles[r.Reading], Weight: r.Weight})
	}
	if k := x.Check; k != nil {
		out.Check, out.Title, out.Says, out.Minutes, out.Climb, out.Access = k.Check.ID, k.Check.Title, k.Why(n), k.Minutes, k.AccessMinutes, k.Check.Access
		out.Drive = k.Check.Drive()
	}
	return out
}

// WhatIf is the ranking as it is and as it would be without one reading.
type WhatIf struct {
	Reading  string
	Title    string
	Rows     []WhatIfRow
	Sentence string
}

// WhatIfRow is one suspect with and without the reading.
type WhatIfRow struct {
	ID, Title    string
	Now, Without float64
}

// whatIfRows is how many suspects of each ranking are compared.
const whatIfRows = 5

// WhatIf computes the ranking anew as if a reading had not been made.
func (s *Service) WhatIf(ctx context.Context, id, reading string) (WhatIf, error) {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return WhatIf{}, err
	}
	var rest []cases.Reading
	out := WhatIf{Reading: reading}
	for _, r := range c.Valid() {
		if r.ID == reading {
			out.Title = readingTitles(n, []cases.Reading{r})[r.ID]
			continue
		}
		rest = append(rest, r)
	}
	if out.Title == "" {
		return out, problem.NotFound("reading", reading, "the id of a reading that stands")
	}
	now, err := s.Assessing.Assess(ctx, n, c.Situation(c.Valid()), false)
	if err != nil {
		return out, err
	}
	without, err := s.Assessing.Assess(ctx, n, c.Situation(rest), false)
	if err != nil {
		return out, err
	}
	share := func(a *assessing.Assessment, id string) float64 {
		for _, x := range a.Suspects {
			if x.Cause.ID == id {
				return x.Probability
			}
		}
		return 0
	}
	seen := map[string]bool{}
	for _, a := range []*assessing.Assessment{now, without} {
		for _, x := range a.Suspects[:min(whatIfRows, len(a.Suspects))] {
			if !seen[x.Cause.ID] {
				seen[x.Cause.ID] = true
				out.Rows = append(out.Rows, WhatIfRow{x.Cause.ID, x.Cause.Title, share(now, x.Cause.ID), share(without, x.Cause.ID)})
			}
		}
	}
	lead, other := now.Suspects[0], without.Suspects[0]
	if lead.Cause.ID == other.Cause.ID {
		out.Sentence = fmt.Sprintf("The leader would stay: %s, %s instead of %s.", lead.Cause.Title, percent(other.Probability), percent(lead.Probability))
	} else {
		out.Sentence = fmt.Sprintf("The verdict hangs on it: without it %s would lead with %s; %s would have %s.", other.Cause.Title, percent(other.Probability), lead.Cause.Title, percent(share(without, lead.Cause.ID)))
	}
	return out, nil
}

// percent writes a probability in whole percent; what is not certain is never written as 0 or 100.
func percent(p float64) string {
	switch {
	case p < 0.005:
		return "under 1\u00a0%"
	case p > 0.995:
		return "over 99\u00a0%"
	}
	return fmt.Sprintf("%.0f\u00a0%%", 100*p)
}
