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

// A road test that was set aside stands among the checks, so that it can be taken back; one that was not has a place of its own.
func TestARoadTestThatIsSetAsideCanBeTakenBack(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	listed := func() (found, skipped bool) {
		t.Helper()
		items, err := s.Checks.Checks(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range items {
			if x.ID == "drive.hot" {
				return true, x.Skipped && x.Why == "no lift free"
			}
		}
		return false, false
	}
	if found, _ := listed(); found {
		t.Error("the road test stands among the checks")
	}
	mark := cases.Mark{Kind: "skip", Ref: "drive.hot", Note: "no lift free"}
	if _, err := s.Readings.Mark(ctx, id, cases.Guard{}, mark, false); err != nil {
		t.Fatal(err)
	}
	if found, skipped := listed(); !found || !skipped {
		t.Errorf("set aside: listed %v, with why %v", found, skipped)
	}
	if _, err := s.Readings.Mark(ctx, id, cases.Guard{}, mark, true); err != nil {
		t.Fatal(err)
	}
	if found, _ := listed(); found {
		t.Error("taken back, it still stands among the checks")
	}
}
