// Package records issues what the customer takes home, and says of any copy whether it is genuine. Pictures belong to it.
package records

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/instruments"
	"innercompass/core/knowledge"
	"innercompass/core/quantity"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/quoting"
	"innercompass/internal/signing"
	"innercompass/internal/teardown"
)

// Store keeps files and finds records.
type Store interface {
	// RecordOf is the case of the record with this digest, and whether the record still has the seal that it was issued with.
	RecordOf(ctx context.Context, digest string) (caseID string, sealed bool, err error)
	// PutFile keeps a file under its SHA-256 digest.
	PutFile(ctx context.Context, digest string, data []byte) error
	File(ctx context.Context, digest string) ([]byte, error)
	// Keys are the public keys of the shop, the one in use first; Sign puts the shop's signature under a document.
	Keys(ctx context.Context) ([]signing.Key, error)
	Sign(f signing.Form, body []byte) []byte
	RotateKey(ctx context.Context) (signing.Key, error)
}

// Render writes a record in every form that it has; one that cannot be written is not issued.
type Render func(ctx context.Context, r RecordContent, files func(digest string) ([]byte, error)) error

// Service issues and verifies records.
type Service struct {
	Store     Store
	Cases     *cases.Service
	Assessing *assessing.Service
	Quoting   *quoting.Service
	Render    Render // may be nil
	Now       func() time.Time
}

// Private lists what may be left out of a copy for others.
var Private = []string{"customer", "words", "prices", "signature", "photos", "expert"}

// NewRecord is what a record is issued with.
type NewRecord struct {
	By, Parts, Work string
	Amends, Why     string // id of the record that it amends
	LeaveOut        []string
}

// record lays out what a record of a case would say now. Prices and reasons are those of the last decision or estimate,
// frozen then; without either, those of now.
func (s *Service) record(ctx context.Context, at cases.Standing, in NewRecord) (RecordContent, error) {
	c, st := at.Case, at.Settings
	if err := in.check(c); err != nil {
		return RecordContent{}, err
	}
	n, err := s.Cases.Network(ctx, c)
	if err != nil {
		return RecordContent{}, err
	}
	snap, _, err := s.Quoting.Snapshot(ctx, at, decide.Choices{})
	if err != nil {
		return RecordContent{}, err
	}
	out := RecordContent{Format: RecordFormat, Number: cases.RecordNumber(c.ID, len(c.Records)+1), At: s.Now(), By: in.By, Why: in.Why, LeftOut: in.LeaveOut, Shop: st.Shop, Address: st.Address, Currency: st.Currency,
		TaxRate: st.Tax, Words: c.Words, Vehicle: c.Vehicle, Customer: c.Customer, Distance: st.Style().Localise(c.Distance), Numbers: st.Numbers, Zone: st.Zone, Unit: c.UnitID, UnitName: n.Unit.Sheet.Name, UnitVer: c.UnitVer, Knowledge: n.Version,
		Parts: strings.TrimSpace(in.Parts), Work: strings.TrimSpace(in.Work), Warranty: st.Warranty, Limits: assessing.Limits, Outcome: c.Outcome}
	for _, r := range c.Valid() {
		f, _ := n.Finding(r.Finding)
		x := RecordReading{f.Title, r.Words(f), r.Value, r.Source, r.By, r.State == f.States[0].ID, r.At}
		if r.Source == "customer" {
			out.Told = append(out.Told, x)
		} else {
			out.Verified = append(out.Verified, x)
		}
	}
	gone := map[string]bool{}
	for _, m := range c.Measurements {
		gone[m.Withdraws] = true
	}
	for _, m := range c.Measurements {
		if !gone[m.ID] && m.Instrument != "" {
			title := m.Instrument
			if d, err := instruments.For(m.Instrument, n.Unit); err == nil {
				title = d.Title
			}
			out.Measured = append(out.Measured, RecordMeasured{title, m.Value, m.Says, m.GaugeName, m.At})
		}
	}
	for _, p := range c.Pictures() {
		out.Photos = append(out.Photos, RecordPhoto{p.Digest, p.Type, p.Caption, p.Width, p.Height})
	}
	if len(c.Estimates) > 0 {
		e := c.Estimates[len(c.Estimates)-1]
		if snap, err = cases.DecodeWithDigest[cases.Snapshot](e.Snapshot, e.Digest, "estimate "+e.ID); err != nil {
			return out, err
		}
	}
	for _, d := range c.Decisions {
		if snap, err = cases.DecodeWithDigest[cases.Snapshot](d.Snapshot, d.Digest, "decision "+d.ID); err != nil {
			return out, err
		}
		out.Decisions = append(out.Decisions, recordDecision(d, snap))
	}
	out.Chain, out.Suspects, out.Options, out.BreakEven, out.Watch = snap.Chain, snap.Suspects, snap.Options, snap.BreakEven, snap.Watch
	for _, o := range snap.Options {
		if o.ID == snap.Advised {
			out.Advised = o.Title
		}
	}
	if err := s.verdict(ctx, c, n, snap, &out); err != nil {
		return out, err
	}
	for _, p := range present.Proofs(c, n) {
		out.Proof = append(out.Proof, RecordProof{p.Title, p.Result, p.Note})
	}
	if c.DueAt != "" || c.DueDistance != "" {
		out.Recheck = strings.Join(slices.DeleteFunc([]string{day(c.DueAt), st.Style().Localise(c.DueDistance), c.DueNote}, func(x string) bool { return x == "" }), ", ")
	}
	out = out.without(in.LeaveOut)
	words := strings.Join(out.Chain, " ")
	for _, o := range out.Options {
		words += " " + o.Title
	}
	out.Glossary = knowledge.TermsIn(words + " " + strings.Join(titles(out.Verified), " "))
	out.amend(c, in)
	return out, nil
}

func titles(readings []RecordReading) []string {
	var out []string
	for _, r := range readings {
		out = append(out, r.Title)
	}
	return out
}

func day(text string) string {
	at, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return ""
	}
	return at.Format("2 January 2006")
}

func recordDecision(d cases.Decision, snap cases.Snapshot) RecordDecision {
	out := RecordDecision{Choice: d.Choice, Said: d.Words, Ceiling: d.Ceiling, How: snap.How, Name: snap.Name, Signature: snap.Signature, By: d.By, At: d.At, Digest: d.Digest}
	if d.Signed != nil {
		out.Signed = d.Signed.By
	}
	for _, o := range snap.Options {
		if o.ID == d.Option {
			out.Title, out.Pay = o.Title, o.Pay
		}
	}
	if snap.Bill != nil {
		out.Pay = snap.Bill.Pay
	}
	for _, a := range snap.AddOns {
		out.AddOns = append(out.AddOns, a.Title)
	}
	return out
}

// verdict puts the root and what it damaged into a record: what was confirmed, else what was likeliest when it was decided;
// and what is to be said if it is driven on.
func (s *Service) verdict(ctx context.Context, c cases.Case, n *knowledge.Network, snap cases.Snapshot, out *RecordContent) error {
	if len(snap.Suspects) > 0 {
		x := snap.Suspects[0]
		out.Root = &RecordRoot{Title: x.Title, Probability: x.Probability, Sure: diagnose.SureWords(x.Probability)}
	}
	if root, ok := n.Cause(c.Root); ok && c.Root != "" {
		out.Root = &RecordRoot{Title: root.Title, Probability: 1, Sure: "confirmed", Confirmed: true}
	}
	for _, id := range c.Damages {
		for _, x := range n.Nodes {
			if x.ID == id {
				out.Damages = append(out.Damages, RecordRoot{Title: x.Title, Probability: 1, Sure: "confirmed", Confirmed: true})
			}
		}
	}
	if c.Outcome != "cured" {
		out.Cautions = CautionsOf(snap)
	}
	out.Renewed = teardown.Renewed(c, n)
	if c.Root != "" {
		out.NoRoot = teardown.Unexplained(c, n, c.Root)
	}
	if c.Root != "" && len(c.Damages) > 0 {
		return nil
	}
	a, err := s.Assessing.Assess(ctx, n, c.Situation(c.Valid()), true)
	if err != nil {
		return err
	}
	if c.Root == "" {
		out.NoRoot = teardown.NoRoot(c, n, a.Assessment)
	}
	if len(c.Damages) == 0 {
		for _, d := range assessing.SuspicionOf(n, a.Assessment).Damages {
			out.Damages = append(out.Damages, RecordRoot{Title: d.Title, Probability: d.Probability, Sure: diagnose.SureWords(d.Probability)})
		}
	}
	return nil
}

// CautionsOf says what has to be known if nothing is done.
func CautionsOf(snap cases.Snapshot) []string {
	w := snap.Watch
	if w == nil {
		return nil
	}
	style, _ := quantity.FindStyle(snap.Numbers)
	var out []string
	if w.Hazard != "" {
		out = append(out, "It must not be driven as it is. "+w.Hazard)
	}
	for _, x := range w.Next[:min(3, len(w.Next))] {
		out = append(out, fmt.Sprintf("Left as it is, it may bring about: %s (%.0f in 100).", strings.ToLower(x.Title), 100*x.Probability))
	}
	if w.Hazard == "" && w.IntervalKm > 0 && len(w.Next) > 0 {
		out = append(out, "If nothing is done: have it looked at again after "+style.Number(w.IntervalKm, 0)+" km at the latest.")
	}
	return out
}

// without takes out of a copy what others need not see.
func (r RecordContent) without(parts []string) RecordContent {
	for _, part := range parts {
		switch part {
		case "customer":
			r.Customer = ""
			for i := range r.Decisions {
				r.Decisions[i].Name, r.Decisions[i].Signature = "", "" // a signature is a name
			}
		case "words":
			r.Words, r.Told = "", nil
			for i := range r.Decisions {
				r.Decisions[i].Said, r.Decisions[i].Ceiling = "", ""
			}
		case "prices":
			r.Options, r.BreakEven, r.Watch = nil, "", nil // its cautions stay; what the damage would cost goes
			for i := range r.Decisions {
				r.Decisions[i].Pay, r.Decisions[i].Ceiling = 0, ""
			}
		case "signature":
			for i := range r.Decisions {
				r.Decisions[i].Signature = ""
			}
		case "photos":
			r.Photos = nil
		case "expert":
			r.Suspects, r.Measured = nil, nil
		}
	}
	return r
}

// DraftRecord is what a record would say if it were issued now.
func (s *Service) DraftRecord(ctx context.Context, id string, in NewRecord) (RecordContent, error) {
	at, err := s.Cases.Standing(ctx, id, cases.Guard{})
	if err != nil {
		return RecordContent{}, err
	}
	return s.record(ctx, at, in)
}

func (r *RecordContent) amend(c cases.Case, in NewRecord) {
	for _, old := range c.Records {
		if old.ID == in.Amends {
			r.Amends = cases.RecordNumber(c.ID, old.Seq)
		}
	}
}

func (in NewRecord) check(c cases.Case) error {
	for _, part := range in.LeaveOut {
		if !slices.Contains(Private, part) {
			return problem.Field("leaveOut", fmt.Sprintf("%q", part), strings.Join(Private, ", "))
		}
	}
	for field, text := range map[string]string{"by": in.By, "parts": in.Parts, "work": in.Work, "why": in.Why} {
		if err := problem.CheckText(field, text, problem.MaxNote, false); err != nil {
			return err
		}
	}
	if in.Amends == "" {
		return nil
	}
	if !slices.ContainsFunc(c.Records, func(r cases.Record) bool { return r.ID == in.Amends }) {
		return problem.Field("amends", fmt.Sprintf("no record %q", in.Amends), "the id of a record of this case")
	}
	return problem.CheckText("why", in.Why, problem.MaxNote, true)
}

// Issue issues a record: it is kept as it is and never altered; what has to be said otherwise is said by another that
// amends it.
func (s *Service) Issue(ctx context.Context, id string, g cases.Guard, in NewRecord) (cases.Saved, error) {
	return s.Cases.Settle(ctx, id, g, "issue", in, func(st cases.Standing) (func(cases.Held) (cases.Changes, error), error) {
		if st.Case.Sample {
			return nil, &problem.StateError{Reason: "this case is a sample, and a record would say that it happened", Accepted: "look at it first, as a draft"}
		}
		if err := cases.MustBeCountersigned(st.Case); err != nil {
			return nil, err
		}
		content, err := s.record(ctx, st, in)
		if err != nil {
			return nil, err
		}
		if s.Render != nil {
			if err := s.Render(ctx, content, s.Files(ctx)); err != nil {
				return nil, err
			}
		}
		data, digest, err := cases.EncodeWithDigest(content)
		made := cases.Record{ID: cases.NewID("e"), Amends: in.Amends, Why: in.Why, By: in.By, At: content.At, Content: data, Digest: digest}
		return func(cases.Held) (cases.Changes, error) { return cases.Changes{Record: &made}, nil }, err
	})
}

// RecordOf returns an issued record with its digest, after comparing the two.
func (s *Service) RecordOf(ctx context.Context, caseID, record string) (RecordContent, cases.Record, error) {
	c, err := s.Cases.Case(ctx, caseID)
	if err != nil {
		return RecordContent{}, cases.Record{}, err
	}
	i := slices.IndexFunc(c.Records, func(r cases.Record) bool { return r.ID == record })
	if i < 0 {
		return RecordContent{}, cases.Record{}, &problem.NotFoundError{Kind: "record", ID: record}
	}
	content, err := cases.DecodeWithDigest[RecordContent](c.Records[i].Content, c.Records[i].Digest, "record "+record)
	return content, c.Records[i], err
}
