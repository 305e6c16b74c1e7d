package checks_test

import (
	"context"
	"strings"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/readings"
	"innercompass/internal/takein"
)

var ctx = context.Background()

func TestOpeningUpFurtherMakesDeepChecksCheaper(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	deep := "unit-apart"
	before, err := s.Checks.Check(ctx, id, "open.DC")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Intake.Update(ctx, id, cases.Guard{}, takein.Change{Access: &deep}); err != nil {
		t.Fatal(err)
	}
	after, err := s.Checks.Check(ctx, id, "open.DC")
	if err != nil || before.Climb != 360 || after.Climb != 0 {
		t.Errorf("climb %v then %v (%v)", before.Climb, after.Climb, err)
	}
}

func TestWordsAreOfferedAndCountOnlyWhenConfirmed(t *testing.T) {
	s := apptest.New(t)
	v := apptest.TakenIn(t, s)
	offers, err := s.Checks.Offers(ctx, v.Case.ID, "")
	if err != nil || len(offers) != 1 || offers[0].Finding != "says-slips" || offers[0].Read != "" || len(v.Trail) != 0 {
		t.Fatalf("%v %+v", err, offers)
	}
	if _, err := s.Readings.AddReadings(ctx, v.Case.ID, cases.Guard{}, []readings.NewReading{{Finding: offers[0].Finding, State: offers[0].State, Source: "customer"}}); err != nil {
		t.Fatal(err)
	}
	if offers, _ = s.Checks.Offers(ctx, v.Case.ID, ""); offers[0].Read != "yes" {
		t.Errorf("%+v", offers)
	}
	if _, err := s.Checks.Offers(ctx, v.Case.ID, strings.Repeat("x", 3000)); err == nil {
		t.Error("a novel is taken as a complaint")
	}
}
