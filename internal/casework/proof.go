package casework

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"innercompass/core/knowledge"
	"innercompass/core/proof"
	"innercompass/core/quantity"
)

// ProofView is one item that shows that the repair worked, with what was noted.
type ProofView struct {
	proof.Item
	Result, Note, By string
}

// agreed is the decision that the repair goes by: the last that was accepted, with what it was priced as.
func (c Case) agreed() (Snapshot, bool) {
	for _, d := range slices.Backward(c.Decisions) {
		var snap Snapshot
		if d.Choice == "accepted" && json.Unmarshal(d.Snapshot, &snap) == nil {
			return snap, true
		}
	}
	return Snapshot{}, false
}

// proof puts what has to be shown for this verdict into a view, with what was noted.
func (v *View) proof(n *knowledge.Network) {
	for _, item := range proof.List(n, v.Case.agreedWork(n), evidence(v.Case.Valid())) {
		p := ProofView{Item: item, Result: "open"}
		for _, x := range v.Case.Proofs {
			if x.Item == item.ID {
				p.Result, p.Note, p.By = x.Result, x.Note, x.By
			}
		}
		v.Proof = append(v.Proof, p)
	}
}

// agreedWork are the options that were agreed on; none without a decision.
func (c Case) agreedWork(n *knowledge.Network) []knowledge.Option {
	snap, ok := c.agreed()
	if !ok {
		return nil
	}
	ids := []string{snap.Chosen}
	for _, a := range snap.AddOns {
		ids = append(ids, a.ID)
	}
	return slices.DeleteFunc(slices.Clone(n.Options), func(o knowledge.Option) bool { return !slices.Contains(ids, o.ID) || o.Strategy == "watch" })
}

// SetProof notes one item of the proof. A value is held against its window: it passes inside it and fails outside, whatever
// was pressed.
func (s *Service) SetProof(ctx context.Context, id string, g Guard, p Proof) (View, error) {
	results := []string{"pass", "fail", "open"}
	if !slices.Contains(results, p.Result) {
		return View{}, &FieldError{"result", fmt.Sprintf("%q", p.Result), strings.Join(results, ", ")}
	}
	if err := errors.Join(checkText("item", p.Item, maxShort, true), checkText("note", p.Note, maxNote, false), checkText("by", p.By, maxShort, false)); err != nil {
		return View{}, err
	}
	n, err := s.networkOf(ctx, id)
	if err != nil {
		return View{}, err
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return View{}, err
	}
	return s.changed(ctx, id, g, "proof", p, func(h Held) (Changes, error) {
		if err := open(h.Case); err != nil {
			return Changes{}, err
		}
		shown, err := s.shown(h.Case, n, st.Style(), p)
		return Changes{Proofs: []Proof{shown}}, err
	})
}

// shown is an item of the proof as it is noted: held against its window where it has one.
func (s *Service) shown(c Case, n *knowledge.Network, style quantity.Style, p Proof) (Proof, error) {
	v := View{Case: c}
	v.proof(n)
	i := slices.IndexFunc(v.Proof, func(x ProofView) bool { return x.ID == p.Item })
	if i < 0 {
		return p, &FieldError{"item", fmt.Sprintf("%q", p.Item), "an item that the case lists"}
	}
	if item := v.Proof[i]; item.Window != nil && p.Result != "open" {
		q, err := style.Parse(p.Note, item.Window.Low.Dimension, item.Unit)
		if err != nil {
			return p, &FieldError{"note", err.Error(), "what was measured, such as " + style.Format(item.Window.Low, item.Unit)}
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
}

// Outcomes of a case.
var Outcomes = []string{"cured", "not-cured", "declined", "no-fault"}

// Close ends a case. Cured is what was proven: with an item that has not passed it stays open.
func (s *Service) Close(ctx context.Context, id string, g Guard, in Closing) (View, error) {
	n, err := s.networkOf(ctx, id)
	if err != nil {
		return View{}, err
	}
	return s.changed(ctx, id, g, "close", in, func(h Held) (Changes, error) {
		if err := open(h.Case); err != nil {
			return Changes{}, err
		}
		c, err := s.closed(h.Case, n, in)
		return Changes{Plain: &c}, err
	})
}

// closed is a case as it ends.
func (s *Service) closed(c Case, n *knowledge.Network, in Closing) (Case, error) {
	if _, ok := n.Cause(in.Root); in.Root != "" && !ok {
		return c, &FieldError{"root", fmt.Sprintf("no cause %q", in.Root), "an id listed by: innercompass causes --unit " + c.UnitID}
	}
	if !slices.Contains(Outcomes, in.Outcome) {
		return c, &FieldError{"outcome", fmt.Sprintf("%q", in.Outcome), strings.Join(Outcomes, ", ")}
	}
	for i, d := range in.Damages {
		if !slices.ContainsFunc(n.Nodes, func(x knowledge.Node) bool { return x.Kind == "damage" && x.ID == d }) {
			return c, &FieldError{fmt.Sprintf("damages[%d]", i), fmt.Sprintf("no damage %q", d), "the id of a damage of this unit"}
		}
	}
	if in.CuredBy != "" && !slices.ContainsFunc(n.Options, func(o knowledge.Option) bool { return o.ID == in.CuredBy }) {
		return c, &FieldError{"curedBy", fmt.Sprintf("no option %q", in.CuredBy), "the id of an option of this unit"}
	}
	if err := checkText("learnt", in.Learnt, maxNote, false); err != nil {
		return c, err
	}
	if in.Outcome == "cured" {
		if in.Root == "" {
			return c, &FieldError{"root", "empty", "the cause that was confirmed, when the outcome is cured"}
		}
		v := View{Case: c}
		v.proof(n)
		var left []string
		for _, p := range v.Proof {
			if p.Result != "pass" {
				left = append(left, p.Title)
			}
		}
		if len(left) > 0 {
			return c, &StateError{fmt.Sprintf("%d of %d items of the proof have not passed: %s", len(left), len(v.Proof), strings.Join(left, "; ")), "show them as good, or close it as not cured"}
		}
	}
	now := s.Now()
	c.Closed, c.Root, c.Outcome, c.Stage = &now, in.Root, in.Outcome, "proof"
	c.Damages, c.CuredBy, c.Learnt = in.Damages, in.CuredBy, in.Learnt
	return c, nil
}

// Reopen opens a closed case again; what was decided and proven stays.
func (s *Service) Reopen(ctx context.Context, id string, g Guard) (View, error) {
	return s.changed(ctx, id, g, "reopen", nil, func(h Held) (Changes, error) {
		c := h.Case
		if c.Closed == nil {
			return Changes{}, &StateError{"the case is open", "nothing has to be done"}
		}
		c.Closed, c.Outcome = nil, ""
		return Changes{Plain: &c}, nil
	})
}
