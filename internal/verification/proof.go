// Package verification shows that a repair worked, closes the case, and notes when the vehicle is to be looked at again.
package verification

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"innercompass/core/knowledge"
	"innercompass/core/quantity"
	"innercompass/internal/cases"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
	"innercompass/internal/teardown"
)

// Service notes the proof and closes cases.
type Service struct {
	Cases *cases.Service
	Shop  *shop.Service
	Now   func() time.Time
}

// SetProof notes one item of the proof. A value is held against its window: it passes inside it and fails outside, whatever
// was pressed.
func (s *Service) SetProof(ctx context.Context, id string, g cases.Guard, p cases.Proof) (cases.Saved, error) {
	results := []string{"pass", "fail", "open"}
	if !slices.Contains(results, p.Result) {
		return cases.Saved{}, problem.Field("result", fmt.Sprintf("%q", p.Result), strings.Join(results, ", "))
	}
	if err := errors.Join(problem.CheckText("item", p.Item, problem.MaxShort, true), problem.CheckText("note", p.Note, problem.MaxNote, false), problem.CheckText("by", p.By, problem.MaxShort, false)); err != nil {
		return cases.Saved{}, err
	}
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		return cases.Saved{}, err
	}
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Change(ctx, id, g, "proof", p, func(h cases.Held) (cases.Changes, error) {
		if err := cases.MustBeOpen(h.Case); err != nil {
			return cases.Changes{}, err
		}
		shown, err := s.shown(h.Case, n, st.Style(), p)
		return cases.Changes{Proofs: []cases.Proof{shown}}, err
	})
}

// shown is an item of the proof as it is noted: held against its window where it has one.
func (s *Service) shown(c cases.Case, n *knowledge.Network, style quantity.Style, p cases.Proof) (cases.Proof, error) {
	items := present.Proofs(c, n)
	i := slices.IndexFunc(items, func(x present.ProofView) bool { return x.ID == p.Item })
	if i < 0 {
		return p, problem.Field("item", fmt.Sprintf("%q", p.Item), "an item that the case lists")
	}
	if p.Item == present.BenchItem {
		return p, problem.Field("item", "it follows from the bench", "the parts put back and the checks made at the bench")
	}
	if item := items[i]; item.Window != nil && p.Result != "open" {
		q, err := style.Parse(p.Note, item.Window.Low.Dimension, item.Unit)
		if err != nil {
			return p, problem.Field("note", err.Error(), "what was measured, such as "+style.Format(item.Window.Low, item.Unit))
		}
		p.Result, p.Note = "fail", style.Format(q, item.Unit)
		if item.Passes(q) {
			p.Result = "pass"
		}
	}
	p.At = s.Now()
	return p, nil
}

// Closing is how a case ends.
type Closing struct {
	Root, Outcome string
	Damages       []string // ids of damages that were found
	CuredBy       string   // id of the option that cured it
	Learnt        string   // what is worth knowing the next time
	Why           string   // it is closed as cured though the root is not known to bring about a damage that was found
}

// Outcomes of a case.
var Outcomes = []string{"cured", "not-cured", "declined", "no-fault"}

// Close ends a case. Cured is what was proven: with an item that has not passed it stays open.
func (s *Service) Close(ctx context.Context, id string, g cases.Guard, in Closing) (cases.Saved, error) {
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Change(ctx, id, g, "close", in, func(h cases.Held) (cases.Changes, error) {
		if err := cases.MustBeOpen(h.Case); err != nil {
			return cases.Changes{}, err
		}
		if err := cases.MustBeCountersigned(h.Case); err != nil {
			return cases.Changes{}, err
		}
		c, err := s.closed(h.Case, n, in)
		return cases.Changes{Plain: &c}, err
	})
}

func rootTitle(n *knowledge.Network, id string) string {
	if c, ok := n.Cause(id); ok {
		return c.Title
	}
	return id
}

// closed is a case as it ends.
func (s *Service) closed(c cases.Case, n *knowledge.Network, in Closing) (cases.Case, error) {
	if _, ok := n.Cause(in.Root); in.Root != "" && !ok {
		return c, problem.Field("root", fmt.Sprintf("no cause %q", in.Root), "an id listed by: innercompass causes --unit "+c.UnitID)
	}
	if !slices.Contains(Outcomes, in.Outcome) {
		return c, problem.Field("outcome", fmt.Sprintf("%q", in.Outcome), strings.Join(Outcomes, ", "))
	}
	for i, d := range in.Damages {
		if !slices.ContainsFunc(n.Nodes, func(x knowledge.Node) bool { return x.Kind == "damage" && x.ID == d }) {
			return c, problem.Field(fmt.Sprintf("damages[%d]", i), fmt.Sprintf("no damage %q", d), "the id of a damage of this unit")
		}
	}
	if in.CuredBy != "" && !slices.ContainsFunc(n.Options, func(o knowledge.Option) bool { return o.ID == in.CuredBy }) {
		return c, problem.Field("curedBy", fmt.Sprintf("no option %q", in.CuredBy), "the id of an option of this unit")
	}
	if err := problem.CheckText("learnt", in.Learnt, problem.MaxNote, false); err != nil {
		return c, err
	}
	if in.Outcome == "cured" {
		if in.Root == "" {
			return c, problem.Field("root", "empty", "the cause that was confirmed, when the outcome is cured")
		}
		items := present.Proofs(c, n)
		var left []string
		for _, p := range items {
			if p.Result != "pass" {
				left = append(left, p.Title)
			}
		}
		if len(left) > 0 {
			return c, &problem.StateError{Reason: fmt.Sprintf("%d of %d items of the proof have not passed: %s", len(left), len(items), strings.Join(left, "; ")), Accepted: "show them as good, or close it as not cured"}
		}
	}
	if open := teardown.Unexplained(c, n, in.Root); in.Outcome == "cured" && len(open) > 0 {
		names := strings.Join(open, ", ")
		if strings.TrimSpace(in.Why) == "" {
			return c, problem.Field("why", fmt.Sprintf("%s is not known to damage the %s: its root is not found", rootTitle(n, in.Root), names), "the root that can do that, or the reason why the case is closed as cured all the same")
		}
		if err := problem.CheckText("why", in.Why, problem.MaxNote/2, false); err != nil {
			return c, err
		}
		in.Learnt = strings.TrimSpace(in.Learnt + "\nRoot of the damage not found (" + names + "): " + in.Why)
	}
	now := s.Now()
	c.Closed, c.Root, c.Outcome, c.Stage = &now, in.Root, in.Outcome, "proof"
	c.Damages, c.CuredBy, c.Learnt = in.Damages, in.CuredBy, in.Learnt
	return c, nil
}

// Reopen opens a closed case again; what was decided and proven stays.
func (s *Service) Reopen(ctx context.Context, id string, g cases.Guard) (cases.Saved, error) {
	return s.Cases.Change(ctx, id, g, "reopen", nil, func(h cases.Held) (cases.Changes, error) {
		c := h.Case
		if c.Closed == nil {
			return cases.Changes{}, &problem.StateError{Reason: "the case is open", Accepted: "nothing has to be done"}
		}
		c.Closed, c.Outcome = nil, ""
		return cases.Changes{Plain: &c}, nil
	})
}
