package checks_test

import (
	"context"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
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
