package takein_test

import (
	"context"
	"errors"
	"slices"
	"testing"

	"innercompass/core/knowledge"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/quoting"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
)

var ctx = context.Background()

func TestDistancesAsPeopleWriteThem(t *testing.T) {
	s := apptest.New(t)
	for in, want := range map[string]string{"142000": "142,000 km", "142,310 km": "142,310 km", "88 000 mi": "88,000 mi", "6120 h": "6,120 h", "": ""} {
		v, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Words: "x", Vehicle: "y", Distance: in, UnitID: "norrad-h4"}))
		if err != nil || v.Case.Distance != want {
			t.Errorf("%q: %q %v, want %q", in, v.Case.Distance, err, want)
		}
	}
	imperial := shop.DefaultSettings()
	imperial.Distance = "mi"
	if _, err := s.Shop.SaveSettings(ctx, imperial); err != nil {
		t.Fatal(err)
	}
	for in, want := range map[string]string{"88000": "88,000 mi", "88000 km": "88,000 km"} {
		v, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Words: "x", Vehicle: "y", Distance: in, UnitID: "norrad-h4"}))
		if err != nil || v.Case.Distance != want {
			t.Errorf("in miles, %q: %q %v, want %q", in, v.Case.Distance, err, want)
		}
	}
	for _, bad := range []string{"far", "-5 km", "1e12 km", "12 psi"} {
		var fe *problem.FieldError
		if _, err := s.Intake.TakeIn(ctx, takein.Intake{Words: "x", Vehicle: "y", Distance: bad, UnitID: "norrad-h4"}); !errors.As(err, &fe) || fe.Field != "distance" {
			t.Errorf("%q: %v", bad, err)
		}
	}
}

// A page that lost the answer sends again: one case, one decision.
func TestSendingAgainMakesNothingTwice(t *testing.T) {
	s := apptest.New(t)
	in := takein.Intake{Key: "00112233445566778899aabb", Words: "It slips", Vehicle: "Ferry shuttle", UnitID: "norrad-h4"}
	var id string
	for range 2 {
		v, err := apptest.See(s)(s.Intake.TakeIn(ctx, in))
		if err != nil {
			t.Fatal(err)
		}
		id = v.Case.ID
		if v, err = apptest.See(s)(s.Quoting.Decide(ctx, id, cases.Guard{Key: "ffeeddccbbaa998877665544"}, quoting.NewDecision{Option: "overhaul", Choice: "declined"})); err != nil || len(v.Decisions) != 1 {
			t.Fatalf("%d decisions, %v", len(v.Decisions), err)
		}
	}
	if floor := apptest.Floor(t, s); len(floor) != 1 {
		t.Errorf("%d cases", len(floor))
	}
}

// Who takes in the same vehicle twice at once has one case; the same key for another vehicle is refused.
func TestTheSameIntakeAtOnceMakesOneCase(t *testing.T) {
	s := apptest.New(t)
	in := takein.Intake{Key: "intake-1", Words: "It slips", Vehicle: "Ferry shuttle", UnitID: "ombrin-m5"}
	ids := make([]string, 8)
	for _, err := range apptest.AtOnce(func(i int) error {
		v, err := apptest.See(s)(s.Intake.TakeIn(ctx, in))
		ids[i] = v.Case.ID
		return err
	}) {
		if err != nil {
			t.Fatal(err)
		}
	}
	if slices.Sort(ids); ids[0] != ids[7] || len(apptest.Floor(t, s)) != 1 {
		t.Errorf("%v: %d cases", ids, len(apptest.Floor(t, s)))
	}
	in.Vehicle = "Tow tractor"
	if _, err := s.Intake.TakeIn(ctx, in); apptest.RefusedBy(err) == "" {
		t.Errorf("another vehicle under the same key: %v", err)
	}
}

// A vehicle without a complaint says so in its trail, once however often the page sends it.
func TestNoComplaintIsNotedOnce(t *testing.T) {
	a := apptest.New(t)
	in := takein.Intake{Key: "k-preventive", Words: "No complaint, looked after in time", Vehicle: "Pilot truck", Distance: "150,000 km", UnitID: "norrad-h4", Owner: "Ines", Preventive: true}
	first, err := a.Intake.TakeIn(context.Background(), in)
	if err != nil {
		t.Fatal(err)
	}
	again, err := a.Intake.TakeIn(context.Background(), in)
	if err != nil || again.Case.ID != first.Case.ID {
		t.Fatalf("%s again as %s: %v", first.Case.ID, again.Case.ID, err)
	}
	if r := again.Case.Readings; len(r) != 1 || r[0].Finding != knowledge.Purpose || r[0].State != knowledge.Preventive || r[0].Source != "customer" || r[0].By != "Ines" {
		t.Errorf("%+v", r)
	}
	in.Preventive = false
	if _, err := a.Intake.TakeIn(context.Background(), in); err == nil {
		t.Error("the same key with a complaint is taken for the same")
	}
}
