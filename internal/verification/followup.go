package verification

import (
	"context"
	"fmt"
	"strings"
	"time"

	"innercompass/internal/cases"
	"innercompass/internal/ics"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// FollowUp notes when a vehicle is to be looked at again: a day, a distance, or both; empty takes it back. It may be noted
// on a closed case, which is when it is agreed on.
func (s *Service) FollowUp(ctx context.Context, id string, g cases.Guard, day, driven, note string) (cases.Saved, error) {
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return cases.Saved{}, err
	}
	if day != "" {
		at, err := time.Parse(time.DateOnly, day)
		if err != nil {
			return cases.Saved{}, problem.Field("day", fmt.Sprintf("%q", day), "a day such as 2027-03-31")
		}
		today := shop.DayOf(s.Now(), st.Location())
		if at.Before(today) || at.After(today.AddDate(10, 0, 0)) {
			return cases.Saved{}, problem.Field("day", day, "a day to come, within ten years")
		}
	}
	run, err := shop.ReadDistance("distance", st.Style(), driven, st.Distance)
	if err != nil {
		return cases.Saved{}, err
	}
	if err := problem.CheckText("note", note, problem.MaxNote, false); err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Change(ctx, id, g, "follow up", []string{day, driven, note}, func(h cases.Held) (cases.Changes, error) {
		c := h.Case
		c.DueAt, c.DueDistance, c.DueNote = day, run, strings.TrimSpace(note)
		return cases.Changes{Plain: &c}, nil
	})
}

// Calendar is the recheck of a case as a calendar file (RFC 5545): a day's entry, with a reminder two days before.
func (s *Service) Calendar(ctx context.Context, id string) ([]byte, error) {
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		return nil, err
	}
	if c.DueAt == "" {
		return nil, &problem.StateError{Reason: "no day is noted for a recheck", Accepted: "note one first"}
	}
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return nil, err
	}
	day, err := time.Parse(time.DateOnly, c.DueAt)
	if err != nil {
		return nil, err
	}
	what := []string{"Complaint: " + c.Words}
	if c.DueDistance != "" {
		what = append(what, "Or at "+st.Style().Localise(c.DueDistance)+", whichever comes first.")
	}
	if c.DueNote != "" {
		what = append(what, c.DueNote)
	}
	e := ics.Event{ID: c.ID, Title: "Recheck: " + c.Vehicle, Text: strings.Join(what, "\n"), Place: st.Shop, From: day, WholeDay: true, Remind: "-P2D"}
	return ics.Write("recheck", s.Now(), []ics.Event{e}), nil
}
