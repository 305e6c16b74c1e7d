package casework

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"errors"
	"fmt"
	"slices"
	"time"

	"innercompass/core/decide"
)

// mostOpen is the longest that an estimate may be answered.
const mostOpen = 60 * 24 * time.Hour

// Estimate puts the options as they stand before the customer: frozen, with a private link that ends after a time. key is that
// of the page, empty when it does not repeat itself.
func (s *Service) Estimate(ctx context.Context, id, key, by string, valid time.Duration, ch decide.Choices) (View, error) {
	c, n, err := s.loadOpen(ctx, id)
	if err != nil {
		return View{}, err
	}
	if slices.ContainsFunc(c.Estimates, func(o Estimate) bool { return key != "" && o.ID == "o"+key }) {
		return s.View(ctx, id) // sent again after a lost answer
	}
	if valid < 10*time.Minute || valid > mostOpen {
		return View{}, &FieldError{"hours", fmt.Sprint(valid.Hours()), "a sixth of an hour to 60 days"}
	}
	if err := errors.Join(checkText("by", by, maxShort, false), priced(ch)); err != nil {
		return View{}, err
	}
	snap, _, err := s.snapshot(ctx, c, n, ch)
	if err != nil {
		return View{}, err
	}
	if !slices.ContainsFunc(snap.Options, func(o SnapshotOption) bool { return len(o.Missing) == 0 && o.ID != "watch" }) {
		return View{}, &StateError{"no option is priced in full", "set the missing prices in the price book first"}
	}
	var token [18]byte
	_, _ = rand.Read(token[:]) // never fails on supported systems (crypto/rand documentation)
	snap.By = by
	data, digest, err := sealed(snap)
	if err != nil {
		return View{}, err
	}
	o := Estimate{ID: keyedID("o", key), Token: base64.RawURLEncoding.EncodeToString(token[:]), By: by, At: snap.At, Expires: snap.At.Add(valid), Rests: rests(snap), Snapshot: data, Digest: digest}
	if err := s.Store.AddEstimate(ctx, id, o); err != nil {
		return View{}, err
	}
	return s.changed(ctx, id)
}

// States of an estimate.
const (
	EstimateOpen     = "open"
	EstimateAnswered = "answered"
	EstimateExpired  = "expired"
	EstimateReplaced = "replaced" // by a later one, or by an answer that was told
	EstimateStale    = "stale"    // what it rests on has changed
)

// Answerable is an estimate as the customer sees it.
type Answerable struct {
	Snapshot Snapshot
	State    string
	Expires  time.Time
	Decision *DecisionView // once it is answered
	Address  string
	caseID   string
	estimate Estimate
}

// EstimateByToken is the estimate of a private link, with whether it can still be answered.
func (s *Service) EstimateByToken(ctx context.Context, token string) (Answerable, error) {
	id, err := s.Store.EstimateCase(ctx, token)
	if errors.Is(err, ErrNotFound) {
		return Answerable{}, &NotFoundError{Kind: "estimate", ID: "of this link", Accepted: "the whole link, as the shop sent it"}
	}
	if err != nil {
		return Answerable{}, err
	}
	c, n, err := s.load(ctx, id)
	if err != nil {
		return Answerable{}, err
	}
	i := slices.IndexFunc(c.Estimates, func(o Estimate) bool { return o.Token == token })
	o := c.Estimates[i]
	out := Answerable{Expires: o.Expires, caseID: id, estimate: o}
	if out.Snapshot, err = unsealed[Snapshot](o.Snapshot, o.Digest, "estimate "+o.ID); err != nil {
		return out, err
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return out, err
	}
	out.Address = st.Address
	v := View{Case: c}
	v.decisions()
	if k := slices.IndexFunc(v.Decisions, func(d DecisionView) bool { return d.Estimate == o.ID }); k >= 0 {
		out.Decision = &v.Decisions[k]
	}
	if out.State = c.estimateState(i, s.Now()); out.State != EstimateOpen {
		return out, nil
	}
	now, _, err := s.snapshot(ctx, c, n, choicesOf(out.Snapshot))
	if err != nil {
		return out, err
	}
	if c.Closed != nil || rests(now) != o.Rests {
		out.State = EstimateStale
	}
	return out, nil
}

// estimateState is the state of an estimate as far as the case alone tells; whether it is stale takes a comparison.
func (c Case) estimateState(i int, now time.Time) string {
	o := c.Estimates[i]
	switch {
	case slices.ContainsFunc(c.Decisions, func(d Decision) bool { return d.Estimate == o.ID }):
		return EstimateAnswered
	case !now.Before(o.Expires):
		return EstimateExpired
	case i != len(c.Estimates)-1 || told(c, o):
		return EstimateReplaced
	}
	return EstimateOpen
}

// told reports whether the customer has answered in another way since: an estimate does not outlive that.
func told(c Case, e Estimate) bool {
	return slices.ContainsFunc(c.Decisions, func(d Decision) bool { return d.Estimate != e.ID && d.At.After(e.At) })
}

// choicesOf are the qualities that a snapshot was priced with.
func choicesOf(snap Snapshot) decide.Choices {
	ch := decide.Choices{Quality: map[string]string{}, Set: snap.Set}
	for _, o := range snap.Options {
		ch.Quality[o.ID] = o.Quality
	}
	return ch
}

// refusals say why an estimate cannot be answered, and what to do.
var refusals = map[string]StateError{
	EstimateAnswered: {"this estimate was answered already", "ask the shop if something is to be changed"},
	EstimateExpired:  {"this estimate has ended", "ask the shop for a new one"},
	EstimateReplaced: {"a newer estimate was made, or an answer recorded, since", "ask the shop"},
	EstimateStale:    {"the vehicle or the prices were looked at again since, so this estimate no longer holds", "ask the shop for a new one"},
}

// Answer records the customer's answer to an estimate, once: of two screens the first counts.
func (s *Service) Answer(ctx context.Context, token string, d NewDecision) (Answerable, error) {
	a, err := s.EstimateByToken(ctx, token)
	if err != nil {
		return a, err
	}
	if a.Decision != nil && d.Key != "" && a.Decision.ID == "d"+d.Key {
		return a, nil // sent again after a lost answer
	}
	if a.State != EstimateOpen {
		why := refusals[a.State]
		return a, &why
	}
	if d.How != "signed" {
		d.How = "link"
	}
	if err := d.check(); err != nil {
		return a, err
	}
	d.estimate = a.estimate.ID
	d.By = a.estimate.By
	snap := a.Snapshot
	snap.At = s.Now()
	if err := snap.answer(d, nil); err != nil {
		return a, err
	}
	if _, err := s.freeze(ctx, a.caseID, d, snap); err != nil {
		if errors.Is(err, ErrTaken) {
			why := refusals[EstimateAnswered]
			return a, &why
		}
		return a, err
	}
	return s.EstimateByToken(ctx, token)
}

// EstimateView is an estimate as the case shows it.
type EstimateView struct {
	ID, Token, By, State string
	At, Expires          time.Time
	Options              []string // titles, the first before all
}

// estimates lays out the estimates of a case.
func (v *View) estimates(now time.Time) {
	for i, o := range v.Case.Estimates {
		ov := EstimateView{ID: o.ID, Token: o.Token, By: o.By, At: o.At, Expires: o.Expires, State: v.Case.estimateState(i, now)}
		if snap, err := unsealed[Snapshot](o.Snapshot, o.Digest, "estimate"); err == nil {
			for _, x := range snap.Options {
				ov.Options = append(ov.Options, x.Title)
			}
		}
		v.Estimates = append(v.Estimates, ov)
	}
}
