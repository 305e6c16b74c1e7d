package casework

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// ProofView is one item that shows that the repair worked.
type ProofView struct {
	Item, Title, Result, Note, By string
	Failing                       string // what was wrong before, or how it is done
	Kind                          string // repeat, set, value, tighten or tell
	Window                        *quantity.Window
	Unit                          string // of a value
}

// Kinds of proof.
const (
	proofRepeat  = "repeat"  // what failed, done again under the same conditions
	proofSet     = "set"     // set, taught, filled, cleared
	proofValue   = "value"   // a value within its window
	proofTighten = "tighten" // a torque, in steps
	proofTell    = "tell"    // told, driven by the customer
)

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

// proof lists what has to be shown for this verdict: the failing cells driven again, the level set, and what the work that
// was agreed on leaves to be set, measured, tightened and taught.
func (v *View) proof(n *diagnose.Network, readings []Reading) {
	add := func(p ProofView) {
		p.Result = "open"
		for _, x := range v.Case.Proofs {
			if x.Item == p.Item {
				p.Result, p.Note, p.By = x.Result, x.Note, x.By
			}
		}
		v.Proof = append(v.Proof, p)
	}
	work, deepest := agreedWork(n, v.Case)
	for i, t := range n.Unit.Sheet.Torques {
		if tightened(t.Joint, work, deepest) {
			add(ProofView{Item: fmt.Sprintf("torque.%d", i), Title: "Tightened: " + t.Joint + ", " + t.Torque, Failing: "in steps, from the middle out or crosswise", Kind: proofTighten})
		}
	}
	for _, l := range n.Unit.Sheet.Limits {
		w, ok := n.Unit.Limits[l.ID]
		if ok && measuredAgain(l, work, deepest) {
			add(ProofView{Item: "limit." + l.ID, Title: "Measured as assembled: " + l.Name, Kind: proofValue, Window: &w, Unit: unitOf(l)})
		}
	}
	for i, r := range n.Unit.Sheet.Resets {
		if len(work) > 0 && concerns(r.After, work) {
			add(ProofView{Item: fmt.Sprintf("reset.%d", i), Title: r.Text, Failing: "after: " + r.After, Kind: proofSet})
		}
	}
	add(ProofView{Item: "fluid", Title: "Fluid filled and level set by the unit's procedure", Kind: proofSet})
	if n.Unit.Electric() {
		add(ProofView{Item: "codes", Title: "Codes read, noted and cleared; none is back after the drive", Kind: proofSet})
	}
	for _, r := range lastLooks(readings) {
		f, _ := n.Finding(r.Finding)
		if r.State != f.States[0].ID && (f.Stage == "road" || slices.Contains(repeatable, r.Finding) || strings.HasPrefix(r.Finding, "leak-at-")) {
			add(ProofView{Item: "repeat." + r.Finding, Title: "Repeat: " + f.Title, Failing: f.StateTitle(r.State), Kind: proofRepeat})
		}
	}
	add(ProofView{Item: "dry", Title: "Dry from below after the drive", Kind: proofRepeat})
	add(ProofView{Item: "customer", Title: "Customer has driven it, or been told how it now behaves", Kind: proofTell})
}

// lastLooks are the readings by somebody of the trade, of each finding the last.
func lastLooks(readings []Reading) []Reading {
	var out []Reading
	for i, r := range readings {
		if r.Source != "customer" && !slices.ContainsFunc(readings[i+1:], func(o Reading) bool { return o.Finding == r.Finding && o.Source != "customer" }) {
			out = append(out, r)
		}
	}
	return out
}

// repeatable are findings of checks whose repetition shows that the repair worked.
var repeatable = []string{diagnose.PressurePattern, "pressure-rise", "stall-speed", "cooler-flow", "wet-when", "drain-back"}

// agreedWork are the options that were agreed on, and how far they open the vehicle up; none without a decision.
func agreedWork(n *diagnose.Network, c Case) (work []diagnose.Option, deepest unitsheet.Access) {
	snap, ok := c.agreed()
	if !ok {
		return nil, unitsheet.Ground
	}
	ids := []string{snap.Chosen}
	for _, a := range snap.AddOns {
		ids = append(ids, a.ID)
	}
	for _, o := range n.Options {
		if !slices.Contains(ids, o.ID) || o.School == "watch" {
			continue
		}
		work = append(work, o)
		if level, err := unitsheet.ParseAccess(o.Access); err == nil {
			deepest = max(deepest, level)
		}
	}
	return work, deepest
}

// tightened reports whether the work loosens a joint: by how far the vehicle is opened up, as the joint's name says.
func tightened(joint string, work []diagnose.Option, deepest unitsheet.Access) bool {
	if len(work) == 0 {
		return false
	}
	for _, at := range []struct {
		word  string
		level unitsheet.Access
	}{{"pan", unitsheet.PanOff}, {"valve body", unitsheet.ValveBodyOff}, {"converter halves", unitsheet.ConverterOpen}, {"converter", unitsheet.UnitOut}, {"bell", unitsheet.UnitOut}, {"flywheel", unitsheet.UnitOut}, {"flexplate", unitsheet.UnitOut}, {"cover", unitsheet.UnitOut}, {"pump", unitsheet.UnitApart}} {
		if strings.Contains(joint, at.word) {
			return deepest >= at.level
		}
	}
	return deepest >= unitsheet.UnitApart
}

// measuredAgain reports whether the work changes a limit's dimension: the element's own, and end play of a unit that was apart.
func measuredAgain(l unitsheet.LimitSheet, work []diagnose.Option, deepest unitsheet.Access) bool {
	for _, o := range work {
		_, element, _ := strings.Cut(o.ID, ".")
		if l.Element != "" && element == l.Element {
			return true
		}
	}
	return l.ID == "end-play" && deepest >= unitsheet.UnitApart
}

// unitOf is the unit that a limit is written in.
func unitOf(l unitsheet.LimitSheet) string {
	if i := strings.LastIndexAny(l.Window, "0123456789."); i >= 0 {
		return strings.TrimSpace(l.Window[i+1:])
	}
	return ""
}

// concerns reports whether a reset comes after some of the work: they share a word that names a part.
func concerns(after string, work []diagnose.Option) bool {
	part := func(word string) bool {
		return len(word) > 3 && !slices.Contains([]string{"renewed", "touched", "exchanged", "with", "after", "from", "work", "done"}, word)
	}
	for _, word := range strings.FieldsFunc(strings.ToLower(after), func(r rune) bool { return r < 'a' || r > 'z' }) {
		if !part(word) {
			continue
		}
		for _, o := range work {
			if strings.Contains(strings.ToLower(o.Title), word) || word == "fluid" && o.Fluid != "none" {
				return true
			}
		}
	}
	return false
}

// SetProof notes one item of the proof. A value is held against its window: it passes inside it and fails outside, whatever
// was pressed.
func (s *Service) SetProof(ctx context.Context, id string, p Proof) (View, error) {
	c, n, err := s.loadOpen(ctx, id)
	if err != nil {
		return View{}, err
	}
	results := []string{"pass", "fail", "open"}
	if !slices.Contains(results, p.Result) {
		return View{}, &FieldError{"result", fmt.Sprintf("%q", p.Result), strings.Join(results, ", ")}
	}
	if err := errors.Join(checkText("item", p.Item, maxShort, true), checkText("note", p.Note, maxNote, false)); err != nil {
		return View{}, err
	}
	v := View{Case: c}
	v.proof(n, c.Valid())
	i := slices.IndexFunc(v.Proof, func(x ProofView) bool { return x.Item == p.Item })
	if i < 0 {
		return View{}, &FieldError{"item", fmt.Sprintf("%q", p.Item), "an item that the case lists"}
	}
	if item := v.Proof[i]; item.Window != nil && p.Result != "open" {
		q, err := quantity.Parse(p.Note, item.Window.Low.Dimension, item.Unit)
		if err != nil {
			return View{}, &FieldError{"note", fmt.Sprintf("%q is no value", p.Note), "what was measured, such as " + item.Window.Low.Format(item.Unit)}
		}
		p.Result, p.Note = "fail", q.Format(item.Unit)
		if q.SI >= item.Window.Low.SI && q.SI <= item.Window.High.SI {
			p.Result = "pass"
		}
	}
	p.At = s.Now()
	if err := s.Store.SetProof(ctx, id, p); err != nil {
		return View{}, err
	}
	return s.changed(ctx, id)
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
func (s *Service) Close(ctx context.Context, id string, in Closing) (View, error) {
	c, n, err := s.loadOpen(ctx, id)
	if err != nil {
		return View{}, err
	}
	if _, ok := n.Cause(in.Root); in.Root != "" && !ok {
		return View{}, &FieldError{"root", fmt.Sprintf("no cause %q", in.Root), "an id listed by: innercompass causes --unit " + c.UnitID}
	}
	if !slices.Contains(Outcomes, in.Outcome) {
		return View{}, &FieldError{"outcome", fmt.Sprintf("%q", in.Outcome), strings.Join(Outcomes, ", ")}
	}
	for i, d := range in.Damages {
		if !slices.ContainsFunc(n.Nodes, func(x diagnose.Node) bool { return x.Kind == "damage" && x.ID == d }) {
			return View{}, &FieldError{fmt.Sprintf("damages[%d]", i), fmt.Sprintf("no damage %q", d), "the id of a damage of this unit"}
		}
	}
	if in.CuredBy != "" && !slices.ContainsFunc(n.Options, func(o diagnose.Option) bool { return o.ID == in.CuredBy }) {
		return View{}, &FieldError{"curedBy", fmt.Sprintf("no option %q", in.CuredBy), "the id of an option of this unit"}
	}
	if err := checkText("learnt", in.Learnt, maxNote, false); err != nil {
		return View{}, err
	}
	if in.Outcome == "cured" {
		if in.Root == "" {
			return View{}, &FieldError{"root", "empty", "the cause that was confirmed, when the outcome is cured"}
		}
		v := View{Case: c}
		v.proof(n, c.Valid())
		var left []string
		for _, p := range v.Proof {
			if p.Result != "pass" {
				left = append(left, p.Title)
			}
		}
		if len(left) > 0 {
			return View{}, &StateError{fmt.Sprintf("%d of %d items of the proof have not passed: %s", len(left), len(v.Proof), strings.Join(left, "; ")), "show them as good, or close it as not cured"}
		}
	}
	now := s.Now()
	c.Closed, c.Root, c.Outcome, c.Stage = &now, in.Root, in.Outcome, "proof"
	c.Damages, c.CuredBy, c.Learnt = in.Damages, in.CuredBy, in.Learnt
	if err := s.Store.SaveCase(ctx, c, c.Rev); err != nil {
		return View{}, err
	}
	return s.changed(ctx, id)
}

// Reopen opens a closed case again; what was decided and proven stays.
func (s *Service) Reopen(ctx context.Context, id string) (View, error) {
	c, err := s.Store.Case(ctx, id)
	if err != nil {
		return View{}, err
	}
	c.Closed, c.Outcome = nil, ""
	if err := s.Store.SaveCase(ctx, c, c.Rev); err != nil {
		return View{}, err
	}
	return s.changed(ctx, id)
}
