package cases_test

import (
	"context"
	"errors"
	"fmt"
	"testing"
	"time"

	"innercompass/core/decide"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/measuring"
	"innercompass/internal/problem"
	"innercompass/internal/quoting"
	"innercompass/internal/readings"
	"innercompass/internal/records"
	"innercompass/internal/takein"
	"innercompass/internal/verification"
)

var ctx = context.Background()

// guarded is a use case that changes a case, as eight people do it from the same screen.
type guarded struct {
	name    string
	differs bool                                             // what i is done makes a difference
	before  func(t *testing.T, s *app.App, id string) string // makes it possible again; what it returns is handed on
	do      func(s *app.App, id, with string, g cases.Guard, round, i int) error
}

func nothing(*testing.T, *app.App, string) string { return "" }

func guardedUses(t *testing.T) []guarded {
	t.Helper()
	picture := apptest.Picture(t, 40, 30)
	return []guarded{ // what takes longest first: the rest then fills the time beside it
		{name: "answer", differs: false, before: func(t *testing.T, s *app.App, id string) string {
			v, err := apptest.See(s)(s.Quoting.Estimate(ctx, id, cases.Guard{}, "Marit", time.Hour, decide.Choices{}))
			if err != nil {
				t.Fatal(err)
			}
			return v.Estimates[len(v.Estimates)-1].Token
		}, do: func(s *app.App, _, with string, g cases.Guard, _, _ int) error {
			_, err := s.Quoting.Answer(ctx, with, cases.Guard{Key: g.Key}, quoting.NewDecision{Option: "watch", Choice: "declined", Name: "the school"})
			return err
		}},
		{name: "codes", differs: true, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, _, i int) error {
			_, err := s.Readings.PutCodes(ctx, id, g, "", []string{"", "P0810"}[i%2])
			return err
		}},
		{name: "estimate", differs: false, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, _, _ int) error {
			_, err := s.Quoting.Estimate(ctx, id, g, "Marit", time.Hour, decide.Choices{})
			return err
		}},
		{name: "reading", differs: true, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, round, i int) error {
			_, err := s.Readings.AddReadings(ctx, id, g, []readings.NewReading{{Finding: "fluid-level", State: []string{"low", "ok"}[i%2], Source: "seen"}})
			return err
		}},
		{name: "record", differs: false, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, _, _ int) error {
			_, err := s.Records.Issue(ctx, id, g, records.NewRecord{By: "Marit"})
			return err
		}},
		{name: "decision", differs: false, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, _, _ int) error {
			_, err := s.Quoting.Decide(ctx, id, g, quoting.NewDecision{Option: "watch", Choice: "declined"})
			return err
		}},
		{name: "update", differs: true, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, round, i int) error {
			bay := fmt.Sprintf("bay %d.%d", round, i)
			_, err := s.Intake.Update(ctx, id, g, takein.Change{Bay: &bay})
			return err
		}},
		{name: "mark", differs: true, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, round, i int) error {
			_, err := s.Readings.Mark(ctx, id, g, cases.Mark{Kind: "skip", Ref: "fluid-level", Note: fmt.Sprint(round, i)}, false)
			return err
		}},
		{name: "measurement", differs: false, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, round, i int) error {
			_, err := s.Measuring.PutCalculated(ctx, measuring.InstrumentAt{Name: "orifice", Case: id}, g, measuring.Use{Values: orifice})
			return err
		}},
		{name: "take back", differs: false, before: func(t *testing.T, s *app.App, id string) string {
			v, err := apptest.See(s)(s.Measuring.PutCalculated(ctx, measuring.InstrumentAt{Name: "orifice", Case: id}, cases.Guard{}, measuring.Use{Values: orifice}))
			if err != nil {
				t.Fatal(err)
			}
			return v.Case.Kept()[len(v.Case.Kept())-1].ID
		}, do: func(s *app.App, id, with string, g cases.Guard, _, _ int) error {
			_, err := s.Measuring.WithdrawMeasurement(ctx, id, g, with, "Tobin")
			return err
		}},
		{name: "proof", differs: true, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, round, i int) error {
			_, err := s.Verification.SetProof(ctx, id, g, cases.Proof{Item: "dry", Result: "pass", Note: fmt.Sprint(round, i)})
			return err
		}},
		{name: "link", differs: false, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, _, _ int) error {
			_, err := s.Intake.Link(ctx, id, g, "")
			return err
		}},
		{name: "follow-up", differs: true, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, round, i int) error {
			_, err := s.Verification.FollowUp(ctx, id, g, "", "", fmt.Sprint(round, i))
			return err
		}},
		{name: "picture", differs: false, before: nothing, do: func(s *app.App, id, _ string, g cases.Guard, round, i int) error {
			_, err := s.Records.AddPhoto(ctx, id, g, cases.Photo{Stage: "teardown"}, picture)
			return err
		}},
		{name: "drop picture", differs: false, before: func(t *testing.T, s *app.App, id string) string {
			v, err := apptest.See(s)(s.Records.AddPhoto(ctx, id, cases.Guard{}, cases.Photo{Stage: "teardown"}, picture))
			if err != nil {
				t.Fatal(err)
			}
			return v.Case.Photos[len(v.Case.Photos)-1].ID
		}, do: func(s *app.App, id, with string, g cases.Guard, _, _ int) error {
			_, err := s.Records.WithdrawPhoto(ctx, id, g, with)
			return err
		}},
		{name: "close", differs: false, before: func(t *testing.T, s *app.App, id string) string {
			if _, err := s.Verification.Reopen(ctx, id, cases.Guard{}); err != nil && apptest.RefusedBy(err) == "" {
				t.Fatal(err)
			}
			return ""
		}, do: func(s *app.App, id, _ string, g cases.Guard, _, _ int) error {
			_, err := s.Verification.Close(ctx, id, g, verification.Closing{Outcome: "no-fault"})
			return err
		}},
		{name: "reopen", differs: false, before: func(t *testing.T, s *app.App, id string) string {
			if _, err := s.Verification.Close(ctx, id, cases.Guard{}, verification.Closing{Outcome: "no-fault"}); err != nil && apptest.RefusedBy(err) == "" {
				t.Fatal(err)
			}
			return ""
		}, do: func(s *app.App, id, _ string, g cases.Guard, _, _ int) error {
			_, err := s.Verification.Reopen(ctx, id, g)
			return err
		}},
	}
}

var orifice = map[string]string{"diameter": "1.5 mm", "before": "3 bar"}

// fresh is a case of a shop of its own, on the unit that is computed fastest.
func fresh(t *testing.T, s *app.App, use string) string {
	t.Helper()
	unit := "ombrin-m5"
	if use == "codes" {
		unit = "vantrice-a6" // it has a module that stores some
	}
	v, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Words: "It slips", Vehicle: "Ferry shuttle", UnitID: unit}))
	if err != nil {
		t.Fatal(err)
	}
	return v.Case.ID
}

// roundsPerCase is how long a case is kept in the tests that do a thing over and over.
const roundsPerCase = 8

// Eight people change the same case from the same screen at the same moment: one of them does, the others are told.
func TestOneOfEightWins(t *testing.T) {
	for _, u := range guardedUses(t) {
		t.Run(u.name, func(t *testing.T) {
			t.Parallel()
			s, id := apptest.New(t), ""
			for round := range apptest.Rounds(t) {
				if round%roundsPerCase == 0 {
					id = fresh(t, s, u.name)
				}
				with := u.before(t, s, id)
				c, err := s.Store.Case(ctx, id)
				if err != nil {
					t.Fatal(err)
				}
				apptest.OneWins(t, apptest.AtOnce(func(i int) error { return u.do(s, id, with, cases.Guard{Rev: c.Rev}, round, i) }))
				if t.Failed() {
					t.FailNow()
				}
			}
		})
	}
}

// size counts everything that was ever added to a case.
func size(c cases.Case) int {
	return len(c.Readings) + len(c.Measurements) + len(c.Marks) + len(c.Decisions) + len(c.Proofs) + len(c.Estimates) + len(c.Records) + len(c.Photos)
}

// One page sends the same thing eight times at the same moment, with the key of that thing: it is done once, and every
// sending gets the answer.
func TestTheSameKeyAtOnceDoesOneThing(t *testing.T) {
	for _, u := range guardedUses(t) {
		t.Run(u.name, func(t *testing.T) {
			t.Parallel()
			s, id := apptest.New(t), ""
			for round := range apptest.Fewer(t) {
				if round%roundsPerCase == 0 {
					id = fresh(t, s, u.name)
				}
				with := u.before(t, s, id)
				before, err := s.Store.Case(ctx, id)
				if err != nil {
					t.Fatal(err)
				}
				g := cases.Guard{Rev: before.Rev, Key: fmt.Sprintf("key-%d", round)}
				for _, err := range apptest.AtOnce(func(int) error { return u.do(s, id, with, g, round, 0) }) {
					if err != nil {
						t.Fatalf("sent again: %v", err)
					}
				}
				after, err := s.Store.Case(ctx, id)
				if err != nil {
					t.Fatal(err)
				}
				if after.Rev != before.Rev+1 || size(after) > size(before)+2 { // a measurement brings its reading
					t.Fatalf("revision %d became %d, %d things became %d", before.Rev, after.Rev, size(before), size(after))
				}
				var state *problem.StateError
				if err := u.do(s, id, with, cases.Guard{Key: g.Key}, round, 1); u.differs && !errors.As(err, &state) {
					t.Fatalf("another thing under the same key: %v", err)
				}
			}
		})
	}
}

// Whoever does not say which revision was on screen is not refused, but what must be there once is there once.
func TestWithoutARevisionTheRulesHoldAllTheSame(t *testing.T) {
	s := apptest.New(t)
	id := fresh(t, s, "")
	for round := range apptest.Fewer(t) {
		if round%roundsPerCase == 0 {
			id = fresh(t, s, "")
		}
		// Two readings of one finding from one source: one stands. Records take numbers of their own.
		for _, err := range apptest.AtOnce(func(i int) error {
			if i%4 == 3 {
				_, err := s.Records.Issue(ctx, id, cases.Guard{}, records.NewRecord{By: "Marit"})
				return err
			}
			_, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "fluid-level", State: []string{"low", "ok"}[i%2], Source: "seen"}})
			return err
		}) {
			if err != nil && apptest.RefusedBy(err) == "" {
				t.Fatal(err)
			}
		}
		c, err := s.Store.Case(ctx, id)
		if err != nil || len(c.Valid()) != 1 {
			t.Fatalf("%v: %d readings stand", err, len(c.Valid()))
		}
		numbers := map[string]bool{}
		for _, r := range c.Records {
			content, _, err := s.Records.RecordOf(ctx, id, r.ID)
			if err != nil || numbers[content.Number] || content.Number != cases.RecordNumber(id, r.Seq) {
				t.Fatalf("%v: record %d has number %s", err, r.Seq, content.Number)
			}
			numbers[content.Number] = true
		}
	}
	// Nothing lands after closing.
	for range apptest.Fewer(t) {
		id := fresh(t, s, "")
		apptest.AtOnce(func(i int) error {
			if i == 0 {
				_, err := s.Verification.Close(ctx, id, cases.Guard{}, verification.Closing{Outcome: "no-fault"})
				return err
			}
			_, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "fluid-level", State: "ok", Source: "seen"}})
			return err
		})
		c, err := s.Store.Case(ctx, id)
		if err != nil || c.Closed == nil {
			t.Fatalf("%v: not closed", err)
		}
		for _, r := range c.Readings {
			if r.At.After(*c.Closed) {
				t.Fatalf("a reading of %v landed after the closing at %v", r.At, *c.Closed)
			}
		}
	}
}
