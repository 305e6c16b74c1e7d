// Package said reads what a customer says: which findings his words would be, what of it was taken, and what was struck. Nothing
// counts before it is taken.
package said

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync/atomic"

	"innercompass/core/heard"
	"innercompass/core/intake"
	"innercompass/core/knowledge"
	"innercompass/core/wordbench"
	"innercompass/internal/cases"
	"innercompass/internal/library"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
)

// Service reads words.
type Service struct {
	Cases    *cases.Service
	Library  *library.Service
	Readings *readings.Service
	Store    Store
	Words    intake.Lexicon            // what words mean, before the shop's own
	Texts    []wordbench.Case          // that no word of the shop may change
	Tell     func(string, int)         // told after every change of the shop's words
	heard    atomic.Pointer[heardWith] // the reader with the shop's words, as they last were
}

// States of a phrase in a case.
const (
	Open   = "open"   // offered
	Taken  = "taken"  // what it offers stands
	Struck = "struck" // said not to be meant so
	Noted  = "noted"  // kept in its words: there is nothing to take
)

// Strike is the kind of the mark by which a phrase was struck.
const Strike = "strike"

// Doubtful is the sureness, of a hundred, under which a phrase is not taken with all others.
const Doubtful = 70

// Offer is a reading that a phrase offers.
type Offer struct{ Finding, Title, State, StateTitle string }

// Phrase is a stretch of the words with what it offers.
type Phrase struct {
	intake.Phrase
	Offers   []Offer
	State    string
	Doubtful bool // taken one by one only
	Against  bool // another phrase offers another state of the same finding
}

// Said is a text with its phrases.
type Said struct {
	Text    string
	Phrases []Phrase
}

// Read reads a text for a unit; an empty unit lets everything be that any unit may have.
func (s *Service) Read(ctx context.Context, unit, text string) (Said, error) {
	if err := problem.CheckText("text", text, problem.MaxWords, false); err != nil {
		return Said{}, err
	}
	r, err := s.reader(ctx)
	if err != nil {
		return Said{}, err
	}
	if unit == "" {
		return read(r, nil, text), nil
	}
	n, err := s.Library.Find(ctx, unit, 0)
	if err != nil {
		return Said{}, err
	}
	return read(r, n, text), nil
}

// Of reads the words of a case, with what was taken and struck of them.
func (s *Service) Of(ctx context.Context, id string) (Said, error) {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return Said{}, err
	}
	r, err := s.reader(ctx)
	if err != nil {
		return Said{}, err
	}
	out := read(r, n, c.Words)
	standing(&out, c)
	return out, nil
}

func read(r *intake.Reader, n *knowledge.Network, text string) Said {
	if n != nil {
		r = r.For(heard.Unit(n))
	}
	out := Said{Text: text}
	for _, p := range intake.Phrases(text, r.Read(text)) {
		x := Phrase{Phrase: p, State: Open, Doubtful: p.Sure < Doubtful || p.Leader.Other, Against: p.Leader.Against >= 0}
		for _, r := range p.Readings {
			o := Offer{Finding: r.Finding, State: r.State, Title: r.Finding, StateTitle: r.State}
			if n != nil {
				f, _ := n.Finding(r.Finding)
				o.Title, o.StateTitle = f.Title, f.StateTitle(r.State)
			}
			x.Offers = append(x.Offers, o)
		}
		if len(x.Offers) == 0 {
			x.State = Noted
		}
		out.Phrases = append(out.Phrases, x)
	}
	bothWays(n, out.Phrases)
	return out
}

// bothWays marks phrases that offer different states of one finding: which of them is meant, somebody must say.
func bothWays(n *knowledge.Network, phrases []Phrase) {
	if n == nil {
		return
	}
	states := map[string]map[string]bool{}
	for _, p := range phrases {
		for _, o := range p.Offers {
			if states[o.Finding] == nil {
				states[o.Finding] = map[string]bool{}
			}
			states[o.Finding][o.State] = true
		}
	}
	for i := range phrases {
		for _, o := range phrases[i].Offers {
			f, _ := n.Finding(o.Finding)
			phrases[i].Against = phrases[i].Against || len(states[o.Finding]) > 1 && !f.Several
		}
	}
}

// standing fills in what was taken and struck.
func standing(s *Said, c cases.Case) {
	stands := map[string]bool{}
	for _, r := range c.Valid() {
		if r.Source == "customer" {
			stands[r.Finding+" "+r.State] = true
		}
	}
	struck := c.Marked(Strike)
	for i := range s.Phrases {
		p := &s.Phrases[i]
		switch {
		case slices.Contains(struck, p.Ref):
			p.State = Struck
		case len(p.Offers) > 0 && !slices.ContainsFunc(p.Offers, func(o Offer) bool { return !stands[o.Finding+" "+o.State] }):
			p.State = Taken
		}
	}
}

// Choice is what is done with phrases: taken, struck, or put back to where they were offered. All takes every phrase that is open,
// sure enough, and not against another.
type Choice struct {
	Take, Strike, Back []string
	All                bool
	By                 string
}

// Choose takes and strikes phrases of a case. What a taken phrase offers becomes the customer's own word, with what he said; put back, it
// is taken back.
func (s *Service) Choose(ctx context.Context, id string, g cases.Guard, in Choice) (cases.Saved, error) {
	if err := problem.CheckText("by", in.By, problem.MaxShort, false); err != nil {
		return cases.Saved{}, err
	}
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		return cases.Saved{}, err
	}
	r, err := s.reader(ctx)
	if err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Change(ctx, id, g, "words", in, func(h cases.Held) (cases.Changes, error) {
		if err := cases.MustBeOpen(h.Case); err != nil {
			return cases.Changes{}, err
		}
		now := read(r, n, h.Case.Words)
		standing(&now, h.Case)
		for _, ref := range slices.Concat(in.Take, in.Strike, in.Back) {
			if !slices.ContainsFunc(now.Phrases, func(p Phrase) bool { return p.Ref == ref }) {
				return cases.Changes{}, problem.Field("phrases", fmt.Sprintf("no phrase %q in the words as they stand", ref), strings.Join(refs(now), ", "))
			}
		}
		var out cases.Changes
		c := h.Case
		for _, p := range now.Phrases {
			take := slices.Contains(in.Take, p.Ref) || in.All && p.State == Open && !p.Doubtful && !p.Against
			strike := slices.Contains(in.Strike, p.Ref)
			if p.State == Struck && (take || slices.Contains(in.Back, p.Ref)) {
				out.Unmarked = append(out.Unmarked, cases.Mark{Kind: Strike, Ref: p.Ref, By: in.By, At: s.Readings.Now()})
			}
			if p.State == Taken && (strike || slices.Contains(in.Back, p.Ref)) {
				for _, w := range s.withdrawals(c, p, in.By) {
					out.Readings = append(out.Readings, w)
					c.Readings = append(slices.Clip(c.Readings), w)
				}
			}
			if strike {
				out.Marks = append(out.Marks, cases.Mark{Kind: Strike, Ref: p.Ref, Note: h.Case.Words[p.Start:p.End], By: in.By, At: s.Readings.Now()})
			}
			if !take || p.State == Taken {
				continue
			}
			for _, o := range p.Offers {
				made, err := s.Readings.New(c, n, "phrases.", readings.NewReading{Finding: o.Finding, State: o.State, Source: "customer", Stage: "complaint", Note: h.Case.Words[p.Start:p.End], By: in.By})
				if err != nil {
					return cases.Changes{}, err
				}
				c.Readings = append(slices.Clip(c.Readings), made)
				out.Readings = append(out.Readings, made)
			}
		}
		return out, nil
	})
}

// withdrawals take back what a phrase offered, as far as the customer's word stands.
func (s *Service) withdrawals(c cases.Case, p Phrase, by string) []cases.Reading {
	var out []cases.Reading
	for _, r := range c.Valid() {
		if r.Source == "customer" && slices.ContainsFunc(p.Offers, func(o Offer) bool { return o.Finding == r.Finding && o.State == r.State }) {
			out = append(out, cases.Reading{ID: cases.NewID("r"), Key: cases.NewID("k"), By: by, At: s.Readings.Now(), Withdraws: r.ID})
		}
	}
	return out
}

func refs(s Said) []string {
	var out []string
	for _, p := range s.Phrases {
		out = append(out, p.Ref)
	}
	return out
}

// Unsettled is the finding that the words say both ways while nobody has said which is meant; "" when there is none.
func (s Said) Unsettled() string {
	states := map[string]string{} // of what is offered and neither taken nor struck
	settled := map[string]bool{}
	for _, p := range s.Phrases {
		for _, o := range p.Offers {
			settled[o.Finding] = settled[o.Finding] || p.State != Open
		}
	}
	for _, p := range s.Phrases {
		if !p.Against {
			continue
		}
		for _, o := range p.Offers {
			if before, ok := states[o.Finding]; ok && before != o.State && !settled[o.Finding] {
				return o.Finding
			}
			states[o.Finding] = o.State
		}
	}
	return ""
}
