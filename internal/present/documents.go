package present

import (
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"innercompass/core/knowledge"
	"innercompass/core/proof"
	"innercompass/core/workbench"
	"innercompass/internal/cases"
)

// DecisionView is a decision with what was frozen with it.
type DecisionView struct {
	ID, Option, Title, Choice, Words, Ceiling, By, Digest string
	At                                                    time.Time
	Sure                                                  float64
	Root                                                  string
	RootShare                                             float64
	Estimate, How, Name                                   string
	AddOns                                                []string // titles
	Waiting                                               bool     // for a countersign
	Countersigned                                         string   // by whom
}

// Decisions lays out the decisions of a case.
func Decisions(c cases.Case) []DecisionView {
	var out []DecisionView
	for _, d := range c.Decisions {
		dv := DecisionView{ID: d.ID, Option: d.Option, Estimate: d.Estimate, Choice: d.Choice, Words: d.Words, Ceiling: d.Ceiling, By: d.By, At: d.At, Digest: d.Digest, Waiting: d.Waiting()}
		if d.Signed != nil {
			dv.Countersigned = d.Signed.By
		}
		var snap cases.Snapshot
		if err := json.Unmarshal(d.Snapshot, &snap); err == nil {
			dv.How, dv.Name = snap.How, snap.Name
			for _, a := range snap.AddOns {
				dv.AddOns = append(dv.AddOns, a.Title)
			}
			for _, o := range snap.Options {
				if o.ID == d.Option {
					dv.Title, dv.Sure = o.Title, o.Sure
				}
			}
			if snap.Bill != nil {
				dv.Sure = snap.Bill.Sure
			}
			if len(snap.Suspects) > 0 {
				dv.Root, dv.RootShare = snap.Suspects[0].Title, snap.Suspects[0].Probability
			}
		}
		out = append(out, dv)
	}
	return out
}

// EstimateView is an estimate as the case shows it.
type EstimateView struct {
	ID, Token, By, State string
	At, Expires          time.Time
	Options              []string // titles, the first before all
}

// Estimates lays out the estimates of a case.
func Estimates(c cases.Case, now time.Time) []EstimateView {
	var out []EstimateView
	for i, o := range c.Estimates {
		ov := EstimateView{ID: o.ID, Token: o.Token, By: o.By, At: o.At, Expires: o.Expires, State: c.EstimateState(i, now)}
		if snap, err := cases.DecodeWithDigest[cases.Snapshot](o.Snapshot, o.Digest, "estimate"); err == nil {
			for _, x := range snap.Options {
				ov.Options = append(ov.Options, x.Title)
			}
		}
		out = append(out, ov)
	}
	return out
}

// ProofView is one item that shows that the repair worked, with what was noted.
type ProofView struct {
	proof.Item
	Result, Note, By string
}

// Proofs is what has to be shown for this verdict, with what was noted.
func Proofs(c cases.Case, n *knowledge.Network) []ProofView {
	out := benchProof(c, n)
	for _, item := range proof.List(n, c.AgreedWork(n), cases.Evidence(c.Valid())) {
		p := ProofView{Item: item, Result: "open"}
		for _, x := range c.Proofs {
			if x.Item == item.ID {
				p.Result, p.Note, p.By = x.Result, x.Note, x.By
			}
		}
		out = append(out, p)
	}
	return out
}

// BenchItem is the id of the item of the proof that follows from the bench alone.
const BenchItem = "bench"

// benchProof is what building shows by itself, once a part came out: passed when everything is back and checked, what was signed for named.
func benchProof(c cases.Case, n *knowledge.Network) []ProofView {
	bench := workbench.New(n.Unit, c.BenchNotes())
	if bench == nil {
		return nil
	}
	b := bench.Build()
	if len(b.Built) == 0 && len(b.Tray) == 0 {
		return nil
	}
	parts, checks := b.Open()
	v := ProofView{Item: proof.Item{ID: BenchItem, Title: "Unit built: every part back, every check made", Failing: "follows from the bench", Kind: proof.Set}, Result: "pass"}
	if len(parts)+len(checks) > 0 {
		v.Result, v.Note = "open", fmt.Sprintf("%d parts in the tray, %d checks open", len(parts), len(checks))
	}
	if signed := b.SignedFor(); len(signed) > 0 {
		v.Note = strings.TrimPrefix(v.Note+"; signed for: "+strings.Join(signed, "; "), "; ")
	}
	return []ProofView{v}
}

// Visit is another visit of the same vehicle, as far as it matters for this one.
type Visit struct {
	ID, Words, Outcome, Root, Vehicle string
	At                                time.Time
	Closed                            bool
	Declined                          []string // titles of what was advised and declined then
	Agreed                            string   // title of what was done
}
