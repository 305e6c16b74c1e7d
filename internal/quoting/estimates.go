package quoting

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"innercompass/core/decide"
	"innercompass/internal/cases"
	"innercompass/internal/people"
	"innercompass/internal/present"
	"innercompass/internal/problem"
)

// mostOpen is the longest that an estimate may be answered.
const mostOpen = 60 * 24 * time.Hour

// Estimate puts the options as they stand before the customer: frozen, with a private link that ends after a time.
func (s *Service) Estimate(ctx context.Context, id string, g cases.Guard, by string, valid time.Duration, ch decide.Choices) (cases.Saved, error) {
	if valid < 10*time.Minute || valid > mostOpen {
		return cases.Saved{}, problem.Field("hours", fmt.Sprint(valid.Hours()), "a sixth of an hour to 60 days")
	}
	if err := errors.Join(problem.CheckText("by", by, problem.MaxShort, false), priced(ch)); err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Settle(ctx, id, g, "estimate", []any{by, valid, ch}, func(st cases.Standing) (func(cases.Held) (cases.Changes, error), error) {
		if err := cases.MustBeOpen(st.Case); err != nil {
			return nil, err
		}
		made, err := s.newEstimate(ctx, st, by, valid, ch)
		return func(cases.Held) (cases.Changes, error) { return cases.Changes{Estimate: &made}, nil }, err
	})
}

func (s *Service) newEstimate(ctx context.Context, st cases.Standing, by string, valid time.Duration, ch decide.Choices) (cases.Estimate, error) {
	snap, now, err := s.Snapshot(ctx, st, ch)
	if err != nil {
		return cases.Estimate{}, err
	}
	if !slices.ContainsFunc(snap.Options, func(o cases.SnapshotOption) bool { return len(o.Missing) == 0 && o.ID != "watch" }) {
		return cases.Estimate{}, &problem.StateError{Reason: "no option is priced in full", Accepted: "set the missing prices in the price book first"}
	}
	snap.By = by
	data, digest, err := cases.EncodeWithDigest(snap)
	return cases.Estimate{ID: cases.NewID("o"), By: by, At: snap.At, Expires: snap.At.Add(valid), Fingerprint: now.fingerprint(), Snapshot: data, Digest: digest}, err
}

// Answerable is an estimate as the customer sees it.
type Answerable struct {
	Snapshot cases.Snapshot
	State    string
	Expires  time.Time
	Over     bool                  // its time is over: nothing is shown any more, not even what was answered
	Decision *present.DecisionView // once it is answered
	Address  string
	estimate cases.Estimate
}

// EstimateByToken is the estimate of a private link, with whether it can still be answered.
func (s *Service) EstimateByToken(ctx context.Context, token string) (Answerable, error) {
	id, err := s.estimateCase(ctx, token)
	if err != nil {
		return Answerable{}, err
	}
	st, err := s.Cases.Standing(ctx, id, cases.Guard{})
	if err != nil {
		return Answerable{}, err
	}
	return s.answerable(ctx, st, token)
}

// estimateCase is the case of the estimate with this token.
func (s *Service) estimateCase(ctx context.Context, token string) (string, error) {
	id, err := s.Store.EstimateCase(ctx, token)
	if errors.Is(err, problem.ErrNotFound) {
		return "", &problem.NotFoundError{Kind: "estimate", ID: "of this link", Accepted: "the whole link, as the shop sent it"}
	}
	return id, err
}

// answerable lays out an estimate of a case as it stands.
func (s *Service) answerable(ctx context.Context, st cases.Standing, token string) (Answerable, error) {
	c := st.Case
	hash := people.HashOf(token)
	i := slices.IndexFunc(c.Estimates, func(o cases.Estimate) bool { return o.TokenHash == hash })
	o := c.Estimates[i]
	out := Answerable{Expires: o.Expires, Over: o.Ended || !s.Now().Before(o.Expires), Address: st.Settings.Address, estimate: o}
	var err error
	if out.Snapshot, err = cases.DecodeWithDigest[cases.Snapshot](o.Snapshot, o.Digest, "estimate "+o.ID); err != nil {
		return out, err
	}
	decided := present.Decisions(c)
	if k := slices.IndexFunc(decided, func(d present.DecisionView) bool { return d.Estimate == o.ID }); k >= 0 {
		out.Decision = &decided[k]
	}
	if out.State = c.EstimateState(i, s.Now()); out.State != cases.EstimateOpen {
		return out, nil
	}
	now, err := s.offer(ctx, st, choicesOf(out.Snapshot))
	if err != nil {
		return out, err
	}
	if c.Closed != nil || now.fingerprint() != o.Fingerprint {
		out.State = cases.EstimateStale
	}
	return out, nil
}

// choicesOf are the qualities that a snapshot was priced with.
func choicesOf(snap cases.Snapshot) decide.Choices {
	ch := decide.Choices{Quality: map[string]string{}, Set: snap.Set}
	for _, o := range snap.Options {
		ch.Quality[o.ID] = o.Quality
	}
	return ch
}

// refusals say why an estimate cannot be answered, and what to do.
var refusals = map[string]problem.StateError{
	cases.EstimateAnswered: {Reason: "this estimate was answered already", Accepted: "ask the shop if something is to be changed"},
	cases.EstimateExpired:  {Reason: "this estimate has ended", Accepted: "ask the shop for a new one"},
	cases.EstimateReplaced: {Reason: "a newer estimate was made, or an answer recorded, since", Accepted: "ask the shop"},
	cases.EstimateStale:    {Reason: "the vehicle or the prices were looked at again since, so this estimate no longer holds", Accepted: "ask the shop for a new one"},
}

// Answer records the customer's answer to an estimate, once: of two screens the first counts. What it rests on is compared
// again at the moment when it is kept.
func (s *Service) Answer(ctx context.Context, token string, g cases.Guard, d NewDecision) (Answerable, error) {
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
	_, err = s.Cases.Settle(ctx, id, g, "answer", []any{token, d}, func(st cases.Standing) (func(cases.Held) (cases.Changes, error), error) {
		a, err := s.answerable(ctx, st, token)
		if err != nil {
			return nil, err
		}
		if a.State != cases.EstimateOpen {
			why := refusals[a.State]
			return nil, &why
		}
		answer := d
		answer.estimate, answer.By = a.estimate.ID, a.estimate.By
		snap := a.Snapshot
		snap.At = s.Now()
		if err := answered(&snap, answer, nil); err != nil {
			return nil, err
		}
		made, err := frozen(answer, snap)
		return func(h cases.Held) (cases.Changes, error) {
			if !s.Now().Before(a.estimate.Expires) { // it may have ended while this was computed
				why := refusals[cases.EstimateExpired]
				return cases.Changes{}, &why
			}
			return cases.Changes{Decision: &made}, nil
		}, err
	})
	if err != nil {
		return Answerable{}, err
	}
	return s.EstimateByToken(ctx, token)
}
