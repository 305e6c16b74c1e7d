package quoting_test

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"innercompass/core/decide"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/quoting"
	"innercompass/internal/readings"
	"innercompass/internal/shop"
	"innercompass/internal/verification"
)

var ctx = context.Background()

// A price that the shop has goes before the guide, and the order follows.
func TestAPriceChangesTheOrder(t *testing.T) {
	s := apptest.New(t)
	id := apptest.Burnt(t, s)
	before, err := s.Quoting.Options(ctx, id, decide.Choices{}, "", nil, true)
	if err != nil || before.Rows[0].Option.ID != "pack.DC" || before.Sentence == "" || len(before.Figures) == 0 {
		t.Fatalf("%v %q %q", err, before.Headline, before.Sentence)
	}
	if _, err := s.Shop.ImportPrices(ctx, "unit,item,price\n*,parts:pack,9000\n"); err != nil {
		t.Fatal(err)
	}
	after, err := s.Quoting.Options(ctx, id, decide.Choices{}, "", nil, false)
	if err != nil || after.Rows[0].Option.ID == "pack.DC" {
		t.Errorf("%v: a pack for 9000 still leads", err)
	}
	// By hand, for this estimate alone, it leads again.
	one, err := s.Quoting.Options(ctx, id, decide.Choices{Set: map[string]float64{"price:parts:pack.DC|new": 200}}, "", nil, false)
	if err != nil || one.Rows[0].Option.ID != "pack.DC" {
		t.Errorf("%v: %s leads", err, one.Rows[0].Option.ID)
	}
	if _, err := s.Quoting.Options(ctx, id, decide.Choices{Set: map[string]float64{"luck": 1}}, "", nil, false); apptest.FieldOf(err) != "luck" {
		t.Errorf("an unknown figure: %v", err)
	}
}

// What is decided names what it is paid with: the option's lines with its add-ons, and who decided how.
func TestADecisionIsChecked(t *testing.T) {
	s := apptest.New(t)
	id := apptest.Burnt(t, s)
	good := quoting.NewDecision{Option: "pack.DC", Choice: "accepted", How: "phone", Name: "the school"}
	for field, change := range map[string]func(*quoting.NewDecision){
		"option":                   func(d *quoting.NewDecision) { d.Option = "magic" },
		"choice":                   func(d *quoting.NewDecision) { d.Choice = "maybe" },
		"how":                      func(d *quoting.NewDecision) { d.How = "by dove" },
		"signature":                func(d *quoting.NewDecision) { d.How, d.Signature = "signed", "M1 1L<script>" },
		"name":                     func(d *quoting.NewDecision) { d.How, d.Name, d.Signature = "signed", "", "M1 1L2 2" },
		"set.share:piston-seal.DC": func(d *quoting.NewDecision) { d.Choices.Set = map[string]float64{"share:piston-seal.DC": 0.5} },
	} {
		d := good
		change(&d)
		if _, err := s.Quoting.Decide(ctx, id, cases.Guard{}, d); apptest.FieldOf(err) != field {
			t.Errorf("%+v: %v, want it named as %s", d, err, field)
		}
	}
	d := good
	d.AddOns = []string{"external-seals"}
	v, err := apptest.See(s)(s.Quoting.Decide(ctx, id, cases.Guard{}, d))
	if err != nil || len(v.Decisions) != 1 {
		t.Fatalf("%v", err)
	}
	plain, err := s.Quoting.Options(ctx, id, decide.Choices{}, "", nil, false)
	if err != nil {
		t.Fatal(err)
	}
	row, _ := plain.Find("pack.DC")
	if got := v.Decisions[0]; got.Sure <= row.Pay.Major() || len(got.AddOns) != 1 || got.How != "phone" || got.Name != "the school" {
		t.Errorf("%+v beside %v alone", got, row.Pay)
	}
	// Without guide prices an option without a price cannot be agreed on.
	st, err := s.Store.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	st.Guide = false
	if _, err := s.Shop.SaveSettings(ctx, st); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Quoting.Decide(ctx, id, cases.Guard{}, good); apptest.FieldOf(err) != "option" {
		t.Errorf("an option without a price: %v", err)
	}
}

// A private link is answered once; one that ended, was altered, was replaced or no longer holds says so.
func TestAnEstimateIsAnsweredOnce(t *testing.T) {
	s := apptest.New(t)
	id := apptest.Burnt(t, s)
	now := time.Now().UTC().Truncate(time.Millisecond)
	s.Now = func() time.Time { return now }
	estimate := func() string {
		t.Helper()
		before, err := s.Overview.View(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		key := fmt.Sprintf("%020x", len(before.Estimates))
		var v present.View
		for range 2 { // a page that sends again after a lost answer
			if v, err = apptest.See(s)(s.Quoting.Estimate(ctx, id, cases.Guard{Key: key}, "Marit", 48*time.Hour, decide.Choices{})); err != nil || len(v.Estimates) != len(before.Estimates)+1 {
				t.Fatal(len(v.Estimates), err)
			}
		}
		return v.Estimates[len(v.Estimates)-1].Token
	}
	yes := quoting.NewDecision{Option: "pack.DC", Choice: "accepted", Name: "the school"}
	state := func(token string) string {
		t.Helper()
		a, err := s.Quoting.EstimateByToken(ctx, token)
		if err != nil {
			t.Fatal(err)
		}
		return a.State
	}
	first := estimate()
	if _, err := s.Quoting.EstimateByToken(ctx, first+"x"); !errors.Is(err, problem.ErrNotFound) {
		t.Errorf("an altered link: %v", err)
	}
	now = now.Add(49 * time.Hour)
	if state(first) != cases.EstimateExpired {
		t.Errorf("after it ended: %s", state(first))
	}
	if _, err := s.Quoting.Answer(ctx, first, cases.Guard{}, yes); apptest.RefusedBy(err) == "" {
		t.Errorf("answered after it ended: %v", err)
	}
	second := estimate()
	third := estimate()
	if state(second) != cases.EstimateReplaced || state(third) != cases.EstimateOpen {
		t.Errorf("%s, %s", state(second), state(third))
	}
	// A reading that changes nothing leaves it; a price makes it stale.
	if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "fluid-look", State: "clear", Source: "seen"}}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Shop.ImportPrices(ctx, "unit,item,price\n*,parts:pack,241\n"); err != nil {
		t.Fatal(err)
	}
	if state(third) != cases.EstimateStale {
		t.Errorf("after a price changed: %s", state(third))
	}
	if _, err := s.Quoting.Answer(ctx, third, cases.Guard{}, yes); apptest.RefusedBy(err) == "" {
		t.Errorf("a stale estimate was answered: %v", err)
	}
	// What the customer says in another way ends it too.
	said := estimate()
	now = now.Add(time.Minute)
	if _, err := s.Quoting.Decide(ctx, id, cases.Guard{}, quoting.NewDecision{Option: "overhaul", Choice: "declined", How: "phone"}); err != nil {
		t.Fatal(err)
	}
	if state(said) != cases.EstimateReplaced {
		t.Errorf("after an answer by phone: %s", state(said))
	}
	now = now.Add(time.Minute)
	fourth := estimate()
	if _, err := s.Quoting.Answer(ctx, fourth, cases.Guard{}, quoting.NewDecision{Option: "pack.DC", Choice: "accepted"}); apptest.FieldOf(err) != "name" {
		t.Errorf("without a name: %v", err)
	}
	// Two screens at once: one wins, the other is told.
	var wg sync.WaitGroup
	errs := make([]error, 2)
	for i := range errs {
		wg.Add(1)
		go func() {
			defer wg.Done()
			_, errs[i] = s.Quoting.Answer(ctx, fourth, cases.Guard{Key: strings.Repeat(string("ab"[i]), 20)}, yes)
		}()
	}
	wg.Wait()
	won := 0
	for _, err := range errs {
		if err == nil {
			won++
		} else if apptest.RefusedBy(err) == "" {
			t.Errorf("the second screen: %v", err)
		}
	}
	v, err := s.Overview.View(ctx, id)
	if err != nil || won != 1 || len(v.Decisions) != 2 || v.Decisions[1].How != "link" || v.Decisions[1].Estimate == "" || v.Estimates[4].State != cases.EstimateAnswered {
		t.Errorf("%d won, %+v, %v", won, v.Decisions, err)
	}
}

// Between the look at an estimate and the moment when its answer is kept, anything may happen: the answer is then held against
// what has become of it.
func TestAnEstimateIsNotAcceptedBehindTheShopsBack(t *testing.T) {
	for name, meanwhile := range map[string]func(s *app.App, id string) error{
		"a price changes": func(s *app.App, _ string) error {
			_, err := s.Shop.ImportPrices(ctx, "unit,item,price\n*,parts:pack,999\n")
			return err
		},
		"the rate changes": func(s *app.App, _ string) error {
			st := shop.DefaultSettings()
			st.LabourRate = 120
			_, err := s.Shop.SaveSettings(ctx, st)
			return err
		},
		"the customer answers by phone": func(s *app.App, id string) error {
			_, err := s.Quoting.Decide(ctx, id, cases.Guard{}, quoting.NewDecision{Option: "watch", Choice: "declined"})
			return err
		},
		"the case is closed": func(s *app.App, id string) error {
			_, err := s.Verification.Close(ctx, id, cases.Guard{}, verification.Closing{Outcome: "declined"})
			return err
		},
	} {
		t.Run(name, func(t *testing.T) {
			s := apptest.New(t)
			id := apptest.Burnt(t, s)
			now := time.Now().UTC().Truncate(time.Millisecond)
			s.Now = func() time.Time { return now }
			v, err := apptest.See(s)(s.Quoting.Estimate(ctx, id, cases.Guard{}, "Marit", time.Hour, decide.Choices{}))
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
			_, err = s.Quoting.Answer(ctx, v.Estimates[0].Token, cases.Guard{}, quoting.NewDecision{Option: "pack.DC", Choice: "accepted", Name: "the school"})
			if failed != nil || apptest.RefusedBy(err) == "" {
				t.Errorf("meanwhile: %v; accepted: %v", failed, err)
			}
			c, err := s.Store.Case(ctx, id)
			if err != nil || slices.ContainsFunc(c.Decisions, func(d cases.Decision) bool { return d.Choice == "accepted" }) {
				t.Errorf("%v %d decisions", err, len(c.Decisions))
			}
		})
	}
}
