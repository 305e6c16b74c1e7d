// Package interview asks the customer: at most five questions, one at a time, each because it parts the suspects of this complaint. An
// answer is the customer's word, and may be given anew.
package interview

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/said"
	"innercompass/internal/shop"
)

// Service asks.
type Service struct {
	Cases     *cases.Service
	Shop      *shop.Service
	Assessing *assessing.Service
	Readings  *readings.Service
	Said      *said.Service
	Now       func() time.Time
}

// Asked is the kind of the mark of a question that was asked; its note is empty when it was left out.
const Asked = "asked"

// answered is the note of the mark of a question that was answered.
const answered = "answered"

// Put is a question that was put, with its answer as it stands.
type Put struct {
	ID, Ask, Answer string // Answer is empty when it was left out
	Answers         []plan.Answer
}

// View is an interview as it stands.
type View struct {
	Put     []Put
	Ask     *plan.Question
	Because string
	Then    []string
	Enough  string
	Most    int
	Next    *Step // what comes after it; nil when nothing is left to check
}

// Step is a check that comes next.
type Step struct {
	ID, Title, Access string
	Minutes           float64
	Says              string
}

// Of returns the interview of a case.
func (s *Service) Of(ctx context.Context, id string) (View, error) {
	at, err := s.Assessing.Look(ctx, s.Cases, s.Shop, id)
	if err != nil {
		return View{}, err
	}
	c, n, a := at.Case, at.Network, at.Assessment
	out := View{Most: plan.MostAsked}
	done := c.Marked(Asked)
	for _, m := range c.Marks {
		if m.Kind == Asked {
			out.Put = append(out.Put, put(c, n, m))
		}
	}
	if q, err := s.settling(ctx, id, n, done); err != nil {
		return out, err
	} else if q != nil {
		out.Ask, out.Because = q, "The words say it both ways. Ask which is meant."
		return out, nil
	}
	if len(c.Valid()) == 0 {
		out.Enough = "Take what the words say first, or say below what it is about."
		return out, nil
	}
	asked := plan.Ask(a.Assessment, at.Stand, at.Economics, done)
	out.Ask, out.Enough = asked.Ask, asked.Enough
	if out.Ask != nil {
		out.Because = out.Ask.Because(n)
	}
	for _, q := range asked.Then {
		out.Then = append(out.Then, q.Ask)
	}
	if next := a.Next(at.Stand, at.Economics); len(next.Best) > 0 {
		b := next.Best[0]
		out.Next = &Step{b.Check.ID, b.Check.Title, b.Check.Access, b.Spent(), b.Why(n)}
	}
	return out, nil
}

// settling is the question that settles what the words say both ways; nil when they do not, or when it was asked.
func (s *Service) settling(ctx context.Context, id string, n *knowledge.Network, done []string) (*plan.Question, error) {
	words, err := s.Said.Of(ctx, id)
	if err != nil {
		return nil, err
	}
	q, ok := plan.QuestionOf(n, words.Unsettled())
	if !ok || slices.Contains(done, q.ID) || len(done) >= plan.MostAsked {
		return nil, nil
	}
	return &q, nil
}

// put is a question with its answer as it stands.
func put(c cases.Case, n *knowledge.Network, m cases.Mark) Put {
	q, _ := plan.QuestionOf(n, m.Ref)
	out := Put{ID: m.Ref, Ask: q.Ask, Answers: q.Answers}
	if m.Note != answered {
		return out
	}
	var given []string
	for _, a := range q.Answers {
		if len(a.Readings) == 1 && stands(c, a.Readings[0]) {
			given = append(given, a.Title)
		}
	}
	out.Answer = strings.Join(given, ", ")
	return out
}

// stands reports whether a reading is the customer's word as it stands.
func stands(c cases.Case, r diagnose.Reading) bool {
	return slices.ContainsFunc(c.Valid(), func(o cases.Reading) bool {
		return o.Source == "customer" && o.Finding == r.Finding && o.State == r.State
	})
}

// Answer is an answer to a question: the title of one of its answers, or nothing when it is left out.
type Answer struct{ Question, Answer, By string }

// Put notes an answer. What the question's answers said before is taken back.
func (s *Service) Put(ctx context.Context, id string, g cases.Guard, in Answer) (cases.Saved, error) {
	if err := problem.CheckText("by", in.By, problem.MaxShort, false); err != nil {
		return cases.Saved{}, err
	}
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		return cases.Saved{}, err
	}
	q, ok := plan.QuestionOf(n, in.Question)
	if !ok {
		return cases.Saved{}, problem.Field("question", fmt.Sprintf("no question %q", in.Question), "the id of a question that is asked")
	}
	at := slices.IndexFunc(q.Answers, func(a plan.Answer) bool { return a.Title == in.Answer })
	if at < 0 && in.Answer != "" {
		return cases.Saved{}, problem.Field("answer", fmt.Sprintf("%q", in.Answer), strings.Join(titles(q), ", "))
	}
	return s.Cases.Change(ctx, id, g, "interview", in, func(h cases.Held) (cases.Changes, error) {
		if err := cases.MustBeOpen(h.Case); err != nil {
			return cases.Changes{}, err
		}
		c := h.Case
		mark := cases.Mark{Kind: Asked, Ref: q.ID, By: in.By, At: s.Now()}
		if i := slices.IndexFunc(c.Marks, func(m cases.Mark) bool { return m.Kind == Asked && m.Ref == q.ID }); i >= 0 {
			mark.At = c.Marks[i].At // it keeps its place
		}
		var out cases.Changes
		keep := func(r cases.Reading) {
			c.Readings = append(slices.Clip(c.Readings), r)
			out.Readings = append(out.Readings, r)
		}
		wanted := func(r cases.Reading) bool {
			return at >= 0 && slices.ContainsFunc(q.Answers[at].Readings, func(w diagnose.Reading) bool { return w.Finding == r.Finding && w.State == r.State })
		}
		for _, r := range c.Valid() {
			if r.Source == "customer" && q.Speaks(r.Finding, r.State) && !wanted(r) {
				keep(cases.Reading{ID: cases.NewID("r"), Key: cases.NewID("k"), By: in.By, At: s.Now(), Withdraws: r.ID})
			}
		}
		if at >= 0 {
			mark.Note = answered
			for _, w := range q.Answers[at].Readings {
				if stands(c, w) {
					continue
				}
				made, err := s.Readings.New(c, n, "answer.", readings.NewReading{Finding: w.Finding, State: w.State, Source: "customer", Stage: "complaint", By: in.By})
				if err != nil {
					return cases.Changes{}, err
				}
				keep(made)
			}
		}
		out.Marks = []cases.Mark{mark}
		out.Unmarked = []cases.Mark{mark}
		return out, nil
	})
}

func titles(q plan.Question) []string {
	var out []string
	for _, a := range q.Answers {
		out = append(out, a.Title)
	}
	return out
}
