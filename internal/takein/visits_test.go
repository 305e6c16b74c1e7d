package takein_test

import (
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/quoting"
	"innercompass/internal/verification"
)

// A return is seen as one: with what was found, done and declined the last time. It is no return of itself.
func TestReturnsAreLinked(t *testing.T) {
	s := apptest.New(t)
	first := apptest.Burnt(t, s)
	if _, err := s.Quoting.Decide(ctx, first, cases.Guard{}, quoting.NewDecision{Option: "overhaul", Choice: "declined"}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Verification.Close(ctx, first, cases.Guard{}, verification.Closing{Outcome: "declined"}); err != nil {
		t.Fatal(err)
	}
	second := apptest.TakenIn(t, s).Case.ID
	before, err := s.Intake.EarlierVisits(ctx, " ferry SHUTTLE ", "")
	if err != nil || len(before) != 2 {
		t.Fatalf("%d visits, %v", len(before), err)
	}
	v, err := apptest.See(s)(s.Intake.Link(ctx, second, cases.Guard{}, first))
	if err != nil || v.Earlier == nil || len(v.Earlier.Declined) != 1 || v.Earlier.Outcome != "declined" {
		t.Fatalf("%+v %v", v.Earlier, err)
	}
	if v, err = s.Overview.View(ctx, first); err != nil || len(v.Later) != 1 || v.Later[0].ID != second {
		t.Errorf("%+v %v", v.Later, err)
	}
	for _, bad := range [][2]string{{first, second}, {second, second}, {second, "nothing"}} {
		if _, err := s.Intake.Link(ctx, bad[0], cases.Guard{}, bad[1]); apptest.FieldOf(err) != "earlier" {
			t.Errorf("%v: %v", bad, err)
		}
	}
}
