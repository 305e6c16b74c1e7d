package casework_test

import (
	"errors"
	"fmt"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"innercompass/core/decide"
	"innercompass/internal/casework"
)

// rounds is how often everything is done at once: make test-race asks for more.
func rounds(t *testing.T) int {
	t.Helper()
	text := os.Getenv("COMPASS_ROUNDS")
	if text == "" {
		return 10
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 {
		t.Fatalf("COMPASS_ROUNDS=%q; accepted: a number of rounds", text)
	}
	return n
}

// fewer is how often that is done for which a round costs more than one thing done at once.
func fewer(t *testing.T) int { return max(2, rounds(t)/20) }

// atOnce does something eight times at the same moment and returns what became of each.
func atOnce(do func(i int) error) []error {
	const people = 8
	errs := make([]error, people)
	start := make(chan struct{})
	var wg sync.WaitGroup
	for i := range people {
		wg.Add(1)
		go func() {
			defer wg.Done()
			<-start
			errs[i] = do(i)
		}()
	}
	close(start)
	wg.Wait()
	return errs
}

// oneWins fails unless one of them was done and the others were told what to do.
func oneWins(t *testing.T, errs []error) {
	t.Helper()
	won := 0
	for _, err := range errs {
		var state *casework.StateError
		switch {
		case err == nil:
			won++
		case errors.Is(err, casework.ErrChanged):
		case errors.As(err, &state) && state.Accepted != "":
		default:
			t.Errorf("refused with %v", err)
		}
	}
	if won != 1 {
		t.Errorf("%d of %d were done", won, len(errs))
	}
}

// guarded is a use case that changes a case, as eight people do it from the same screen.
type guarded struct {
	name    string
	differs bool                                                      // what i is done makes a difference
	before  func(t *testing.T, s *casework.Service, id string) string // makes it possible again; what it returns is handed on
	do      func(s *casework.Service, id, with string, g casework.Guard, round, i int) error
}

func nothing(*testing.T, *casework.Service, string) string { return "" }

func guardedUses(t *testing.T) []guarded {
	t.Helper()
	picture := drawn(t, 40, 30)
	return []guarded{ // what takes longest first: the rest then fills the time beside it
		{"answer", false, func(t *testing.T, s *casework.Service, id string) string {
			v, err := s.Estimate(ctx, id, casework.Guard{}, "Marit", time.Hour, decide.Choices{})
			if err != nil {
				t.Fatal(err)
			}
			return v.Estimates[len(v.Estimates)-1].Token
		}, func(s *casework.Service, _, with string, g casework.Guard, _, _ int) error {
			_, err := s.Answer(ctx, with, casework.Guard{Key: g.Key}, casework.NewDecision{Option: "watch", Choice: "declined", Name: "the school"})
			return err
		}},
		{"codes", true, nothing, func(s *casework.Service, id, _ string, g casework.Guard, _, i int) error {
			_, err := s.PutCodes(ctx, id, g, "", []string{"", "P0810"}[i%2])
			return err
		}},
		{"estimate", false, nothing, func(s *casework.Service, id, _ string, g casework.Guard, _, _ int) error {
			_, err := s.Estimate(ctx, id, g, "Marit", time.Hour, decide.Choices{})
			return err
		}},
		{"reading", true, nothing, func(s *casework.Service, id, _ string, g casework.Guard, round, i int) error {
			_, err := s.AddReadings(ctx, id, g, []casework.NewReading{{Finding: "fluid-level", State: []string{"low", "ok"}[i%2], Source: "seen"}})
			return err
		}},
		{"record", false, nothing, func(s *casework.Service, id, _ string, g casework.Guard, _, _ int) error {
			_, err := s.Issue(ctx, id, g, casework.NewRecord{By: "Marit"})
			return err
		}},
		{"decision", false, nothing, func(s *casework.Service, id, _ string, g casework.Guard, _, _ int) error {
			_, err := s.Decide(ctx, id, g, casework.NewDecision{Option: "watch", Choice: "declined"})
			return err
		}},
		{"update", true, nothing, func(s *casework.Service, id, _ string, g casework.Guard, round, i int) error {
			bay := fmt.Sprintf("bay %d.%d", round, i)
			_, err := s.Update(ctx, id, g, casework.Change{Bay: &bay})
			return err
		}},
		{"mark", true, nothing, func(s *casework.Service, id, _ string, g casework.Guard, round, i int) error {
			_, err := s.Mark(ctx, id, g, casework.Mark{Kind: "skip", Ref: "fluid-level", Note: fmt.Sprint(round, i)}, false)
			return err
		}},
		{"measurement", false, nothing, func(s *casework.Service, id, _ string, g casework.Guard, round, i int) error {
			_, err := s.PutCalculated(ctx, casework.InstrumentAt{Name: "orifice", Case: id}, g, casework.Use{Values: orifice})
			return err
		}},
		{"take back", false, func(t *testing.T, s *casework.Service, id string) string {
			v, err := s.PutCalculated(ctx, casework.InstrumentAt{Name: "orifice", Case: id}, casework.Guard{}, casework.Use{Values: orifice})
			if err != nil {
				t.Fatal(err)
			}
			return v.Case.Kept()[len(v.Case.Kept())-1].ID
		}, func(s *casework.Service, id, with string, g casework.Guard, _, _ int) error {
			_, err := s.WithdrawMeasurement(ctx, id, g, with, "Tobin")
			return err
		}},
		{"proof", true, nothing, func(s *casework.Service, id, _ string, g casework.Guard, round, i int) error {
			_, err := s.SetProof(ctx, id, g, casework.Proof{Item: "dry", Result: "pass", Note: fmt.Sprint(round, i)})
			return err
		}},
		{"link", false, nothing, func(s *casework.Service, id, _ string, g casework.Guard, _, _ int) error {
			_, err := s.Link(ctx, id, g, "")
			return err
		}},
		{"follow-up", true, nothing, func(s *casework.Service, id, _ string, g casework.Guard, round, i int) error {
			_, err := s.FollowUp(ctx, id, g, "", "", fmt.Sprint(round, i))
			return err
		}},
		{"picture", false, nothing, func(s *casework.Service, id, _ string, g casework.Guard, round, i int) error {
			_, err := s.AddPhoto(ctx, id, g, casework.Photo{Stage: "teardown"}, picture)
			return err
		}},
		{"drop picture", false, func(t *testing.T, s *casework.Service, id string) string {
			v, err := s.AddPhoto(ctx, id, casework.Guard{}, casework.Photo{Stage: "teardown"}, picture)
			if err != nil {
				t.Fatal(err)
			}
			return v.Case.Photos[len(v.Case.Photos)-1].ID
		}, func(s *casework.Service, id, with string, g casework.Guard, _, _ int) error {
			_, err := s.WithdrawPhoto(ctx, id, g, with)
			return err
		}},
		{"close", false, func(t *testing.T, s *casework.Service, id string) string {
			if _, err := s.Reopen(ctx, id, casework.Guard{}); err != nil && refusedBy(err) == "" {
				t.Fatal(err)
			}
			return ""
		}, func(s *casework.Service, id, _ string, g casework.Guard, _, _ int) error {
			_, err := s.Close(ctx, id, g, casework.Closing{Outcome: "no-fault"})
			return err
		}},
		{"reopen", false, func(t *testing.T, s *casework.Service, id string) string {
			if _, err := s.Close(ctx, id, casework.Guard{}, casework.Closing{Outcome: "no-fault"}); err != nil && refusedBy(err) == "" {
				t.Fatal(err)
			}
			return ""
		}, func(s *casework.Service, id, _ string, g casework.Guard, _, _ int) error {
			_, err := s.Reopen(ctx, id, g)
			return err
		}},
	}
}

var orifice = map[string]string{"diameter": "1.5 mm", "before": "3 bar"}

// fresh is a case of a shop of its own, on the unit that is computed fastest.
func fresh(t *testing.T, s *casework.Service, use string) string {
	t.Helper()
	unit := "ombrin-m5"
	if use == "codes" {
		unit = "vantrice-a6" // it has a module that stores some
	}
	v, err := s.TakeIn(ctx, casework.Intake{Words: "It slips", Vehicle: "Ferry shuttle", UnitID: unit})
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
			s, id := shop(t), ""
			for round := range rounds(t) {
				if round%roundsPerCase == 0 {
					id = fresh(t, s, u.name)
				}
				with := u.before(t, s, id)
				c, err := s.Store.Case(ctx, id)
				if err != nil {
					t.Fatal(err)
				}
				oneWins(t, atOnce(func(i int) error { return u.do(s, id, with, casework.Guard{Rev: c.Rev}, round, i) }))
				if t.Failed() {
					t.FailNow()
				}
			}
		})
	}
}

// size counts everything that was ever added to a case.
func size(c casework.Case) int {
	return len(c.Readings) + len(c.Measurements) + len(c.Marks) + len(c.Decisions) + len(c.Proofs) + len(c.Estimates) + len(c.Records) + len(c.Photos)
}

// One page sends the same thing eight times at the same moment, with the key of that thing: it is done once, and every
// sending gets the answer.
func TestTheSameKeyAtOnceDoesOneThing(t *testing.T) {
	for _, u := range guardedUses(t) {
		t.Run(u.name, func(t *testing.T) {
			t.Parallel()
			s, id := shop(t), ""
			for round := range fewer(t) {
				if round%roundsPerCase == 0 {
					id = fresh(t, s, u.name)
				}
				with := u.before(t, s, id)
				before, err := s.Store.Case(ctx, id)
				if err != nil {
					t.Fatal(err)
				}
				g := casework.Guard{Rev: before.Rev, Key: fmt.Sprintf("key-%d", round)}
				for _, err := range atOnce(func(int) error { return u.do(s, id, with, g, round, 0) }) {
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
				var state *casework.StateError
				if err := u.do(s, id, with, casework.Guard{Key: g.Key}, round, 1); u.differs && !errors.As(err, &state) {
					t.Fatalf("another thing under the same key: %v", err)
				}
			}
		})
	}
}

// Who takes in the same vehicle twice at once has one case; the same key for another vehicle is refused.
func TestTheSameIntakeAtOnceMakesOneCase(t *testing.T) {
	s := shop(t)
	in := casework.Intake{Key: "intake-1", Words: "It slips", Vehicle: "Ferry shuttle", UnitID: "ombrin-m5"}
	ids := make([]string, 8)
	for _, err := range atOnce(func(i int) error {
		v, err := s.TakeIn(ctx, in)
		ids[i] = v.Case.ID
		return err
	}) {
		if err != nil {
			t.Fatal(err)
		}
	}
	if slices.Sort(ids); ids[0] != ids[7] || len(floor(t, s)) != 1 {
		t.Errorf("%v: %d cases", ids, len(floor(t, s)))
	}
	in.Vehicle = "Tow tractor"
	if _, err := s.TakeIn(ctx, in); refusedBy(err) == "" {
		t.Errorf("another vehicle under the same key: %v", err)
	}
}

// Whoever does not say which revision was on screen is not refused, but what must be there once is there once.
func TestWithoutARevisionTheRulesHoldAllTheSame(t *testing.T) {
	s := shop(t)
	id := fresh(t, s, "")
	for round := range fewer(t) {
		if round%roundsPerCase == 0 {
			id = fresh(t, s, "")
		}
		// Two readings of one finding from one source: one stands. Records take numbers of their own.
		for _, err := range atOnce(func(i int) error {
			if i%4 == 3 {
				_, err := s.Issue(ctx, id, casework.Guard{}, casework.NewRecord{By: "Marit"})
				return err
			}
			_, err := s.AddReadings(ctx, id, casework.Guard{}, []casework.NewReading{{Finding: "fluid-level", State: []string{"low", "ok"}[i%2], Source: "seen"}})
			return err
		}) {
			if err != nil && refusedBy(err) == "" {
				t.Fatal(err)
			}
		}
		c, err := s.Store.Case(ctx, id)
		if err != nil || len(c.Valid()) != 1 {
			t.Fatalf("%v: %d readings stand", err, len(c.Valid()))
		}
		numbers := map[string]bool{}
		for _, r := range c.Records {
			content, _, err := s.RecordOf(ctx, id, r.ID)
			if err != nil || numbers[content.Number] || content.Number != casework.RecordNumber(id, r.Seq) {
				t.Fatalf("%v: record %d has number %s", err, r.Seq, content.Number)
			}
			numbers[content.Number] = true
		}
	}
	// Nothing lands after closing.
	for range fewer(t) {
		id := fresh(t, s, "")
		atOnce(func(i int) error {
			if i == 0 {
				_, err := s.Close(ctx, id, casework.Guard{}, casework.Closing{Outcome: "no-fault"})
				return err
			}
			_, err := s.AddReadings(ctx, id, casework.Guard{}, []casework.NewReading{{Finding: "fluid-level", State: "ok", Source: "seen"}})
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

// A batch with one known key applies the rest; a known key with another content is refused, and nothing of its batch kept.
func TestABatchWithAKnownKeyAppliesTheRest(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	low := casework.NewReading{Key: "k1", Finding: "fluid-level", State: "low", Source: "measured"}
	look := casework.NewReading{Key: "k2", Finding: "fluid-look", State: "dark", Source: "seen"}
	feel := casework.NewReading{Key: "k3", Finding: "fluid-feel", State: "gritty", Source: "seen"}
	for _, batch := range [][]casework.NewReading{{low}, {look, low}} {
		if _, err := s.AddReadings(ctx, id, casework.Guard{}, batch); err != nil {
			t.Fatal(err)
		}
	}
	low.State = "ok"
	if _, err := s.AddReadings(ctx, id, casework.Guard{}, []casework.NewReading{feel, low}); refusedBy(err) == "" {
		t.Errorf("another reading under a known key: %v", err)
	}
	c, err := s.Store.Case(ctx, id)
	if err != nil || len(c.Valid()) != 2 || c.Valid()[0].State != "low" || c.Valid()[1].State != "dark" {
		t.Errorf("%v %+v", err, c.Valid())
	}
}

// Between the look at an estimate and the moment when its answer is kept, anything may happen: the answer is then held against
// what has become of it.
func TestAnEstimateIsNotAcceptedBehindTheShopsBack(t *testing.T) {
	for name, meanwhile := range map[string]func(s *casework.Service, id string) error{
		"a price changes": func(s *casework.Service, _ string) error {
			_, err := s.ImportPrices(ctx, "unit,item,price\n*,parts:reseal,999\n")
			return err
		},
		"the rate changes": func(s *casework.Service, _ string) error {
			st := casework.DefaultSettings()
			st.LabourRate = 120
			_, err := s.SaveSettings(ctx, st)
			return err
		},
		"the customer answers by phone": func(s *casework.Service, id string) error {
			_, err := s.Decide(ctx, id, casework.Guard{}, casework.NewDecision{Option: "watch", Choice: "declined"})
			return err
		},
		"the case is closed": func(s *casework.Service, id string) error {
			_, err := s.Close(ctx, id, casework.Guard{}, casework.Closing{Outcome: "declined"})
			return err
		},
	} {
		t.Run(name, func(t *testing.T) {
			s := shop(t)
			id := burnt(t, s)
			now := time.Now().UTC().Truncate(time.Millisecond)
			s.Now = func() time.Time { return now }
			v, err := s.Estimate(ctx, id, casework.Guard{}, "Marit", time.Hour, decide.Choices{})
			if err != nil {
				t.Fatal(err)
			}
			interfere, failed := true, error(nil)
			s.Now = func() time.Time { // asked while the answer is being computed
				if interfere {
					interfere = false
					now = now.Add(time.Second)
					if !strings.Contains(name, "phone") {
						failed = meanwhile(s, id)
					}
				}
				return now
			}
			if strings.Contains(name, "phone") { // it waits for its turn: it comes before
				interfere, failed = false, meanwhile(s, id)
			}
			_, err = s.Answer(ctx, v.Estimates[0].Token, casework.Guard{}, casework.NewDecision{Option: "reseal.DC", Choice: "accepted", Name: "the school"})
			if failed != nil || refusedBy(err) == "" {
				t.Errorf("meanwhile: %v; accepted: %v", failed, err)
			}
			c, err := s.Store.Case(ctx, id)
			if err != nil || slices.ContainsFunc(c.Decisions, func(d casework.Decision) bool { return d.Choice == "accepted" }) {
				t.Errorf("%v %d decisions", err, len(c.Decisions))
			}
		})
	}
}
