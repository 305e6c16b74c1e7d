package readings_test

import (
	"context"
	"errors"
	"slices"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/checks"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/takein"
)

var ctx = context.Background()

// A correction adds a reading; the old one stays in the history and no longer counts.
func TestACorrectionWithdrawsAndKeeps(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	add := func(state, source string) present.View {
		v, err := apptest.See(s)(s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "fluid-look", State: state, Source: source, Stage: "checks"}}))
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
	add("burnt", "seen")
	v := add("clear", "seen")
	if len(v.Case.Readings) != 2 || len(v.Trail) != 1 || v.Trail[0].State != "clear" {
		t.Errorf("%d stored, %d stand", len(v.Case.Readings), len(v.Trail))
	}
	if v = add("dark", "customer"); len(v.Trail) != 2 {
		t.Error("another person's word replaced what was seen")
	}
}

func TestCodesAreNotedAllOrNone(t *testing.T) {
	s := apptest.New(t)
	v, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Words: "Lamp is on", Vehicle: "Van", UnitID: "tessaly-e4t"}))
	if err != nil {
		t.Fatal(err)
	}
	id := v.Case.ID
	for _, bad := range []string{"P0731 X", "P0731 P9999", "0731", "P0731;DROP"} {
		var wrong *problem.FieldError
		if _, err := s.Readings.PutCodes(ctx, id, cases.Guard{}, "", bad); !errors.As(err, &wrong) || wrong.Field != "codes" || wrong.Accepted == "" {
			t.Errorf("%q: %v", bad, err)
		}
	}
	if v, _ = s.Overview.View(ctx, id); len(v.Trail) != 0 {
		t.Fatalf("refused codes left %d readings", len(v.Trail))
	}
	if v, err = apptest.See(s)(s.Readings.PutCodes(ctx, id, cases.Guard{Key: "k1"}, "Ines", " p0731,P0700\nP0731 ")); err != nil || len(v.Trail) != 3 {
		t.Fatalf("%v, %d readings", err, len(v.Trail))
	}
	if v, err = apptest.See(s)(s.Readings.PutCodes(ctx, id, cases.Guard{Key: "k1"}, "Ines", "P0731 P0700")); err != nil || len(v.Trail) != 3 {
		t.Errorf("the same key again: %v, %d readings", err, len(v.Trail))
	}
	// That none is stored speaks against what would have set one.
	other, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Words: "No reverse", Vehicle: "Van", UnitID: "tessaly-e4t"}))
	if err != nil {
		t.Fatal(err)
	}
	before, _ := s.Overview.Explain(ctx, other.Case.ID, "inner-loom-cracked")
	if _, err := s.Readings.PutCodes(ctx, other.Case.ID, cases.Guard{}, "", ""); err != nil {
		t.Fatal(err)
	}
	if after, _ := s.Overview.Explain(ctx, other.Case.ID, "inner-loom-cracked"); after.Probability >= before.Probability {
		t.Errorf("no code stored, and the loom went from %.4f to %.4f", before.Probability, after.Probability)
	}
	hydraulic := apptest.TakenIn(t, s)
	var state *problem.StateError
	if _, err := s.Readings.PutCodes(ctx, hydraulic.Case.ID, cases.Guard{}, "", "P0731"); !errors.As(err, &state) {
		t.Errorf("codes of a unit without a module: %v", err)
	}
}

// What surprises is looked at again: the second look stands beside the first, both count, and a third is refused.
func TestASecondLookStandsBesideTheFirst(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	look := func(state, source string, again bool) (present.View, error) {
		return apptest.See(s)(s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "pan-debris", State: state, Source: source, Again: again}}))
	}
	refused := func(what string, err error) {
		t.Helper()
		var field *problem.FieldError
		if !errors.As(err, &field) || field.Field != "readings[0].again" {
			t.Errorf("%s: %v", what, err)
		}
	}
	_, err := look("metal", "seen", true)
	refused("a second look without a first", err)
	if _, err := look("metal", "seen", false); err != nil {
		t.Fatal(err)
	}
	_, err = look("metal", "customer", true)
	refused("a customer's second look", err)
	v, err := look("film", "seen", true)
	if err != nil || len(v.Trail) != 2 || v.Trail[0].Again || !v.Trail[1].Again {
		t.Fatalf("%v, trail %+v", err, v.Trail)
	}
	_, err = look("film", "seen", true)
	refused("a third look", err)
	found, err := s.Checks.Findings(ctx, id, "checks")
	if err != nil {
		t.Fatal(err)
	}
	at := slices.IndexFunc(found, func(f checks.FindingView) bool { return f.Finding.ID == "pan-debris" })
	if f := found[at]; f.State != "film" || f.Before != "bright metal" {
		t.Errorf("shown as %q, before that %q", f.State, f.Before)
	}
	// A correction takes the place of the second look; the first stays.
	if v, err = look("brass", "seen", false); err != nil || len(v.Trail) != 2 || v.Trail[0].State != "metal" || v.Trail[1].State != "brass" {
		t.Errorf("%v, trail %+v", err, v.Trail)
	}
}

// A batch with one known key applies the rest; a known key with another content is refused, and nothing of its batch kept.
func TestABatchWithAKnownKeyAppliesTheRest(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	low := readings.NewReading{Key: "k1", Finding: "fluid-level", State: "low", Source: "measured"}
	look := readings.NewReading{Key: "k2", Finding: "fluid-look", State: "dark", Source: "seen"}
	feel := readings.NewReading{Key: "k3", Finding: "fluid-feel", State: "gritty", Source: "seen"}
	for _, batch := range [][]readings.NewReading{{low}, {look, low}} {
		if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, batch); err != nil {
			t.Fatal(err)
		}
	}
	low.State = "ok"
	if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{feel, low}); apptest.RefusedBy(err) == "" {
		t.Errorf("another reading under a known key: %v", err)
	}
	c, err := s.Store.Case(ctx, id)
	if err != nil || len(c.Valid()) != 2 || c.Valid()[0].State != "low" || c.Valid()[1].State != "dark" {
		t.Errorf("%v %+v", err, c.Valid())
	}
}
