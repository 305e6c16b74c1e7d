package quoting

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"innercompass/core/decide"
	"innercompass/core/knowledge"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/people"
	"innercompass/internal/problem"
)

// Hows are the ways in which a customer may answer: what was signed or came by the link names who.
var Hows = []string{"in-person", "phone", "signed", "link"}

// NewDecision is what the customer chose or declined, as it is recorded.
type NewDecision struct {
	Option, Choice, Words, Ceiling, By string
	How, Name, Signature               string
	AddOns                             []string
	Choices                            decide.Choices
	estimate                           string // that it answers
}

// mostSignature bounds a signature: some hundred strokes.
const mostSignature = 40000

// strokes are what a signature is made of: moves and lines on a whole-number grid.
var strokes = regexp.MustCompile(`^(M[0-9]{1,4} [0-9]{1,4}(L[0-9]{1,4} [0-9]{1,4})*)*$`)

func (d NewDecision) check() error {
	if d.Choice != "accepted" && d.Choice != "declined" {
		return problem.Field("choice", fmt.Sprintf("%q", d.Choice), "accepted, declined")
	}
	if d.How != "" && !slices.Contains(Hows, d.How) {
		return problem.Field("how", fmt.Sprintf("%q", d.How), strings.Join(Hows, ", "))
	}
	for field, text := range map[string]string{"words": d.Words, "ceiling": d.Ceiling, "by": d.By, "name": d.Name} {
		if err := problem.CheckText(field, text, problem.MaxWords, (field == "name") && (d.How == "signed" || d.How == "link")); err != nil {
			return err
		}
	}
	if len(d.Signature) > mostSignature || !strokes.MatchString(d.Signature) {
		return problem.Field("signature", "not a drawing of strokes", "moves and lines such as M10 20L30 40")
	}
	if d.How == "signed" && d.Signature == "" {
		return problem.Field("signature", "empty", "the signature, when it is signed on the screen")
	}
	return priced(d.Choices)
}

// priced refuses figures that are for looking only: an estimate may be given another price or time, not another chance.
func priced(ch decide.Choices) error {
	for id := range ch.Set {
		if !decide.Offered(id) {
			return problem.Field("set."+id, "a figure that is not the customer's", "price:ITEM|QUALITY or time:ITEM")
		}
	}
	return nil
}

// Decide freezes what the customer chose or declined, with everything it rested on.
func (s *Service) Decide(ctx context.Context, id string, g cases.Guard, d NewDecision) (cases.Saved, error) {
	return s.Cases.Settle(ctx, id, g, "decide", d, func(st cases.Standing) (func(cases.Held) (cases.Changes, error), error) {
		if err := cases.MustBeOpen(st.Case); err != nil {
			return nil, err
		}
		if err := d.check(); err != nil {
			return nil, err
		}
		var err error
		if d.Choices.Ceiling, err = st.Settings.Ceiling(d.Ceiling); err != nil {
			return nil, err
		}
		snap, o, err := s.Snapshot(ctx, st, d.Choices)
		if err != nil {
			return nil, err
		}
		if err := answered(&snap, d, o.model); err != nil {
			return nil, err
		}
		made, err := frozen(d, snap)
		made.Awaits = people.From(ctx).Role == people.Apprentice
		return func(cases.Held) (cases.Changes, error) { return cases.Changes{Decision: &made}, nil }, err
	})
}

// Countersign puts a second name under a decision that an apprentice has noted.
func (s *Service) Countersign(ctx context.Context, id string, g cases.Guard, decision string) (cases.Saved, error) {
	who := people.From(ctx)
	return s.Cases.Change(ctx, id, g, "countersign", []any{decision, who.ID}, func(h cases.Held) (cases.Changes, error) {
		i := slices.IndexFunc(h.Case.Decisions, func(d cases.Decision) bool { return d.ID == decision })
		switch {
		case i < 0:
			return cases.Changes{}, problem.NotFound("decision", decision, "one of this case")
		case !h.Case.Decisions[i].Waiting():
			return cases.Changes{}, &problem.StateError{Reason: "this decision waits for nobody", Accepted: "one that an apprentice has noted and nobody has countersigned"}
		}
		return cases.Changes{Countersign: &cases.Countersign{Decision: decision, By: people.By(ctx, "the shop"), At: s.Now()}}, nil
	})
}

// frozen is an answered snapshot as a decision.
func frozen(d NewDecision, snap cases.Snapshot) (cases.Decision, error) {
	data, digest, err := cases.EncodeWithDigest(snap)
	return cases.Decision{ID: cases.NewID("d"), Option: d.Option, Estimate: d.estimate, Choice: d.Choice, Words: d.Words, Ceiling: d.Ceiling, By: d.By, At: snap.At, Snapshot: data, Digest: digest}, err
}

// answer puts the customer's answer into a snapshot of what was offered. m prices the option with its add-ons anew; nil
// when the estimate is answered as it stands, without any.
func answered(snap *cases.Snapshot, d NewDecision, m *decide.Model) error {
	chosen := slices.IndexFunc(snap.Options, func(o cases.SnapshotOption) bool { return o.ID == d.Option })
	if chosen < 0 {
		var ids []string
		for _, o := range snap.Options {
			ids = append(ids, o.ID)
		}
		return problem.Field("option", fmt.Sprintf("%q is not offered", d.Option), fmt.Sprint(ids))
	}
	if d.Choice == "accepted" && snap.Options[chosen].Hazard != "" && d.Words == "" && d.How == "" {
		return problem.Field("option", "it leaves a hazard: "+snap.Options[chosen].Hazard, "the customer's words that it was explained, with how and by whom it was decided")
	}
	snap.Chosen, snap.Choice, snap.Said, snap.Ceiling, snap.By = d.Option, d.Choice, d.Words, d.Ceiling, d.By
	snap.How, snap.Name, snap.Signature, snap.Estimate = d.How, d.Name, d.Signature, d.estimate
	bill := snap.Options[chosen]
	if len(d.AddOns) > 0 {
		if m == nil || d.Choice != "accepted" {
			return problem.Field("addOns", "nothing can be added to this", "an accepted option")
		}
		row, err := m.Visit(d.Option, d.AddOns, d.Choices)
		if err != nil {
			return asField(err)
		}
		bill = snapshotOption(row)
		for _, id := range d.AddOns {
			snap.AddOns = append(snap.AddOns, cases.SnapshotAddOn{ID: id, Title: m.Title(id)})
		}
	}
	if d.Choice == "accepted" && len(bill.Missing) > 0 {
		return problem.Field("option", "without a price: "+strings.Join(bill.Missing, ", "), "an option that is priced in full: set the price in the price book or in the estimate")
	}
	snap.Bill = &bill
	return nil
}

// offer is what can be put before the customer now, and the model to price it further.
type offer struct {
	network *knowledge.Network
	model   *decide.Model
	ranking *assessing.Assessment
	compare decide.Comparison
}

func (s *Service) offer(ctx context.Context, at cases.Standing, ch decide.Choices) (offer, error) {
	var out offer
	var err error
	if out.network, err = s.Cases.Network(ctx, at.Case); err != nil {
		return out, err
	}
	if out.model, out.ranking, err = s.model(ctx, at, out.network, true); err != nil {
		return out, err
	}
	out.compare, err = out.model.Compare(ch)
	return out, asField(err)
}

// Snapshot is everything that an estimate of now rests on, not answered yet.
func (s *Service) Snapshot(ctx context.Context, at cases.Standing, ch decide.Choices) (cases.Snapshot, offer, error) {
	c, st := at.Case, at.Settings
	readings := c.Valid()
	o, err := s.offer(ctx, at, ch)
	if err != nil {
		return cases.Snapshot{}, o, err
	}
	n, ranking, cmp := o.network, o.ranking, o.compare
	weights, err := ranking.Weighed()
	if err != nil {
		return cases.Snapshot{}, o, err
	}
	chain, err := ranking.Chain(ranking.Suspects[0].Cause.ID)
	if err != nil {
		return cases.Snapshot{}, o, err
	}
	turns, err := o.model.BreakEvens(cmp.Rows, ch)
	if err != nil {
		return cases.Snapshot{}, o, asField(err)
	}
	out := cases.Snapshot{Format: cases.SnapshotFormat, At: s.Now(), Shop: st.Shop, Currency: st.Currency, Words: c.Words, Vehicle: c.Vehicle, Customer: c.Customer, Distance: st.Style().Localise(c.Distance), Numbers: st.Numbers, Zone: st.Zone, Unit: c.UnitID,
		UnitName: n.Unit.Sheet.Name, UnitVer: c.UnitVer, Knowledge: n.Version, Access: c.Access, Chain: chain.Sentences(), Limits: assessing.Limits,
		TaxRate: st.Tax, Warranty: st.Warranty, Watch: snapshotWatch(cmp.Watch), Set: ch.Set}
	for i, r := range readings {
		f, _ := n.Finding(r.Finding)
		out.Readings = append(out.Readings, cases.SnapshotReading{Finding: r.Finding, Title: f.Title, State: r.State, Words: r.Words(f), Value: r.Value, Source: r.Source, By: r.By, At: r.At, Weight: weights.Suspects[0][i]})
	}
	for _, x := range ranking.Suspects[:min(assessing.Shown, len(ranking.Suspects))] {
		out.Suspects = append(out.Suspects, cases.SnapshotSuspect{Cause: x.Cause.ID, Title: x.Cause.Title, Probability: x.Probability})
	}
	for _, r := range cmp.Rows {
		out.Options = append(out.Options, snapshotOption(r))
	}
	if len(cmp.Rows) > 0 && cmp.Rows[0].Settled() {
		out.Advised = cmp.Rows[0].Option.ID
		out.BreakEven = decide.Sentence(st.Rates(), turns, cmp.Rows[0].Title())
	}
	return out, o, nil
}

func snapshotOption(r decide.Row) cases.SnapshotOption {
	out := cases.SnapshotOption{ID: r.Option.ID, Title: r.Title(), Labour: r.Labour().Major(), Parts: r.Parts().Major(), Fluid: r.Fluid().Major(), Sure: r.Pay.Major(), Cured: r.Cured,
		Return: r.Return.Major(), Expected: r.Expected.Major(), Quality: r.Quality, Net: int64(r.Net), Tax: int64(r.Tax), Pay: int64(r.Pay), Missing: r.Missing, Hazard: r.Hazard}
	for _, o := range r.With {
		out.With = append(out.With, o.ID)
	}
	for _, l := range r.Lines {
		out.Lines = append(out.Lines, cases.SnapshotLine{Title: l.Title, Kind: l.Kind, Count: l.Count, Per: l.Per, Each: int64(l.Each), Total: int64(l.Total), From: string(l.From), Quality: l.Quality})
	}
	return out
}

func snapshotWatch(w decide.Deferral) *cases.SnapshotWatch {
	out := &cases.SnapshotWatch{IntervalKm: w.Interval / 1e3, Hazard: w.Hazard}
	for _, x := range w.Next {
		out.Next = append(out.Next, cases.SnapshotNext{Title: x.Title, By: x.By, Probability: x.Probability, Cost: int64(x.Cost)})
	}
	return out
}

// DecisionSnapshot returns the frozen snapshot of a decision, after comparing its digest.
func (s *Service) DecisionSnapshot(ctx context.Context, caseID, decision string) (cases.Snapshot, string, error) {
	c, err := s.Cases.Case(ctx, caseID)
	if err != nil {
		return cases.Snapshot{}, "", err
	}
	i := slices.IndexFunc(c.Decisions, func(d cases.Decision) bool { return d.ID == decision })
	if i < 0 {
		return cases.Snapshot{}, "", &problem.NotFoundError{Kind: "decision", ID: decision}
	}
	d := c.Decisions[i]
	snap, err := cases.DecodeWithDigest[cases.Snapshot](d.Snapshot, d.Digest, "decision "+decision)
	return snap, d.Digest, err
}

// fingerprint is the digest of what an estimate rests on: what leads, and what each option costs and leaves. A reading that changes
// neither leaves an estimate as it is.
func (o offer) fingerprint() string {
	h := sha256.New()
	if len(o.ranking.Suspects) > 0 {
		fmt.Fprintf(h, "%q\n", o.ranking.Suspects[0].Cause.ID)
	}
	rows := slices.SortedFunc(slices.Values(o.compare.Rows), func(a, b decide.Row) int { return strings.Compare(a.Option.ID, b.Option.ID) })
	for _, r := range rows {
		fmt.Fprintf(h, "%q %q %d %q %v\n", r.Option.ID, r.Quality, r.Pay, r.Missing, r.Hazard != "")
	}
	return hex.EncodeToString(h.Sum(nil))
}
