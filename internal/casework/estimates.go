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

// Estimate puts the options as they stand before the customer: frozen, with a private link that ends after a time.
func (s *Service) Estimate(ctx context.Context, id string, g Guard, by string, valid time.Duration, ch decide.Choices) (View, error) {
	if valid < 10*time.Minute || valid > mostOpen {
		return View{}, &FieldError{"hours", fmt.Sprint(valid.Hours()), "a sixth of an hour to 60 days"}
	}
	if err := errors.Join(checkText("by", by, maxShort, false), priced(ch)); err != nil {
		return View{}, err
	}
	return s.settled(ctx, id, g, "estimate", []any{by, valid, ch}, func(st Standing) (func(Held) (Changes, error), error) {
		if err := open(st.Case); err != nil {
			return nil, err
		}
		made, err := s.newEstimate(ctx, st, by, valid, ch)
		return func(Held) (Changes, error) { return Changes{Estimate: &made}, nil }, err
	})
}

func (s *Service) newEstimate(ctx context.Context, st Standing, by string, valid time.Duration, ch decide.Choices) (Estimate, error) {
	snap, now, err := s.snapshot(ctx, st, ch)
	if err != nil {
		return Estimate{}, err
	}
	if !slices.ContainsFunc(snap.Options, func(o SnapshotOption) bool { return len(o.Missing) == 0 && o.ID != "watch" }) {
		return Estimate{}, &StateError{"no option is priced in full", "set the missing prices in the price book first"}
	}
	var token [18]byte
	_, _ = rand.Read(token[:]) // never fails on supported systems (crypto/rand documentation)
	snap.By = by
	data, digest, err := encodeWithDigest(snap)
	return Estimate{ID: newID("o"), Token: base64.RawURLEncoding.EncodeToString(token[:]), By: by, At: snap.At, Expires: snap.At.Add(valid), Fingerprint: now.fingerprint(), Snapshot: data, Digest: digest}, err
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
	estimate Estimate
}

// EstimateByToken is the estimate of a private link, with whether it can still be answered.
func (s *Service) EstimateByToken(ctx context.Context, token string) (Answerable, error) {
	id, err := s.estimateCase(ctx, token)
	if err != nil {
		return Answerable{}, err
	}
	st, err := s.Store.Standing(ctx, id, Guard{})
	if err != nil {
		return Answerable{}, err
	}
	return s.answerable(ctx, st, token)
}

// estimateCase is the case of the estimate with this token.
func (s *Service) estimateCase(ctx context.Context, token string) (string, error) {
	id, err := s.Store.EstimateCase(ctx, token)
	if errors.Is(err, ErrNotFound) {
		return "", &NotFoundError{Kind: "estimate", ID: "of this link", Accepted: "the whole link, as the shop sent it"}
	}
	return id, err
}

// answerable lays out an estimate of a case as it stands.
func (s *Service) answerable(ctx context.Context, st Standing, token string) (Answerable, error) {
	c := st.Case
	i := slices.IndexFunc(c.Estimates, func(o Estimate) bool { return o.Token == token })
	o := c.Estimates[i]
	out := Answerable{Expires: o.Expires, Address: st.Settings.Address, estimate: o}
	var err error
	if out.Snapshot, err = decodeWithDigest[Snapshot](o.Snapshot, o.Digest, "estimate "+o.ID); err != nil {
		return out, err
	}
	v := View{Case: c}
	v.decisions()
	if k := slices.IndexFunc(v.Decisions, func(d DecisionView) bool { return d.Estimate == o.ID }); k >= 0 {
		out.Decision = &v.Decisions[k]
	}
	if out.State = c.estimateState(i, s.Now()); out.State != EstimateOpen {
		return out, nil
	}
	now, err := s.offer(ctx, st, choicesOf(out.Snapshot))
	if err != nil {
		return out, err
	}
	if c.Closed != nil || now.fingerprint() != o.Fingerprint {
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

// Answer records the customer's answer to an estimate, once: of two screens the first counts. What it rests on is compared
// again at the moment when it is kept.
func (s *Service) Answer(ctx context.Context, token string, g Guard, d NewDecision) (Answerable, error) {
	if d.How != "signed" {
		d.How = "link"
	}
	if err := d.check(); err != nil {
		return Answerable{}, err
	}
	id, err := s.estimateCase(ctx, token)
	if err != nil {
		return Answerable{}, err
	}
	c, err := s.settle(ctx, id, g, "answer", []any{token, d}, func(st Standing) (func(Held) (Changes, error), error) {
		a, err := s.answerable(ctx, st, token)
		if err != nil {
			return nil, err
		}
		if a.State != EstimateOpen {
			why := refusals[a.State]
			return nil, &why
		}
		answer := d
		answer.estimate, answer.By = a.estimate.ID, a.estimate.By
		snap := a.Snapshot
		snap.At = s.Now()
		if err := snap.answer(answer, nil); err != nil {
			return nil, err
		}
		made, err := frozen(answer, snap)
		return func(h Held) (Changes, error) {
			if !s.Now().Before(a.estimate.Expires) { // it may have ended while this was computed
				why := refusals[EstimateExpired]
				return Changes{}, &why
			}
			return Changes{Decision: &made}, nil
		}, err
	})
	if err != nil {
		return Answerable{}, err
	}
	if _, err := s.answer(ctx, c); err != nil { // the row of the Floor follows
		s.refreshFloor()
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
		if snap, err := decodeWithDigest[Snapshot](o.Snapshot, o.Digest, "estimate"); err == nil {
			for _, x := range snap.Options {
				ov.Options = append(ov.Options, x.Title)
			}
		}
		v.Estimates = append(v.Estimates, ov)
	}
}
