package casework_test

import (
	"context"
	"errors"
	"strings"
	"sync"
	"testing"
	"time"

	"innercompass/internal/casework"
	"innercompass/internal/catalog"
	"innercompass/internal/demo"
	"innercompass/internal/store"
	embedded "innercompass/knowledge"
)

var ctx = context.Background()

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

func shop(t *testing.T) *casework.Service {
	t.Helper()
	know, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	st, err := store.Open(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = st.Close() })
	return casework.New(st, know)
}

// floor lists all cases with their histories, open ones first.
func floor(t testing.TB, s *casework.Service) []casework.FloorRow {
	t.Helper()
	var out []casework.FloorRow
	for _, closed := range []bool{false, true} {
		page, err := s.Floor(ctx, casework.FloorQuery{Closed: closed})
		if err != nil {
			t.Fatal(err)
		}
		for _, row := range page.Rows {
			if row.Case, err = s.Store.Case(ctx, row.Case.ID); err != nil {
				t.Fatal(err)
			}
			out = append(out, row)
		}
	}
	return out
}

func takeIn(t *testing.T, s *casework.Service) casework.View {
	t.Helper()
	v, err := s.TakeIn(ctx, casework.Intake{Words: "It slips", Vehicle: "Ferry shuttle", Distance: "88 000 mi", UnitID: "norrad-h4"})
	if err != nil {
		t.Fatal(err)
	}
	return v
}

func TestDistancesAsPeopleWriteThem(t *testing.T) {
	s := shop(t)
	for in, want := range map[string]string{"142000": "142,000 km", "142,310 km": "142,310 km", "88 000 mi": "88,000 mi", "6120 h": "6,120 h", "": ""} {
		v, err := s.TakeIn(ctx, casework.Intake{Words: "x", Vehicle: "y", Distance: in, UnitID: "norrad-h4"})
		if err != nil || v.Case.Distance != want {
			t.Errorf("%q: %q %v, want %q", in, v.Case.Distance, err, want)
		}
	}
	imperial := casework.DefaultSettings()
	imperial.Distance = "mi"
	if _, err := s.SaveSettings(ctx, imperial); err != nil {
		t.Fatal(err)
	}
	for in, want := range map[string]string{"88000": "88,000 mi", "88000 km": "88,000 km"} {
		v, err := s.TakeIn(ctx, casework.Intake{Words: "x", Vehicle: "y", Distance: in, UnitID: "norrad-h4"})
		if err != nil || v.Case.Distance != want {
			t.Errorf("in miles, %q: %q %v, want %q", in, v.Case.Distance, err, want)
		}
	}
	for _, bad := range []string{"far", "-5 km", "1e12 km", "12 psi"} {
		var fe *casework.FieldError
		if _, err := s.TakeIn(ctx, casework.Intake{Words: "x", Vehicle: "y", Distance: bad, UnitID: "norrad-h4"}); !errors.As(err, &fe) || fe.Field != "distance" {
			t.Errorf("%q: %v", bad, err)
		}
	}
}

// A correction adds a reading; the old one stays in the history and no longer counts.
func TestACorrectionWithdrawsAndKeeps(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	add := func(state, source string) casework.View {
		v, err := s.AddReadings(ctx, id, casework.Guard{}, []casework.NewReading{{Finding: "fluid-look", State: state, Source: source, Stage: "checks"}})
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

func TestAClosedCaseRefusesChangesUntilReopened(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	if _, err := s.Close(ctx, id, casework.Guard{}, casework.Closing{Root: "underfilled", Outcome: "not-cured"}); err != nil {
		t.Fatal(err)
	}
	words := "else"
	_, err1 := s.Update(ctx, id, casework.Guard{}, casework.Change{Words: &words})
	_, err2 := s.AddReadings(ctx, id, casework.Guard{}, []casework.NewReading{{Finding: "fluid-level", State: "low", Source: "seen"}})
	_, err3 := s.SetProof(ctx, id, casework.Guard{}, casework.Proof{Item: "fluid", Result: "pass"})
	_, err4 := s.Decide(ctx, id, casework.Guard{}, casework.NewDecision{Option: "overhaul", Choice: "accepted"})
	for i, err := range []error{err1, err2, err3, err4} {
		var se *casework.StateError
		if !errors.As(err, &se) {
			t.Errorf("change %d of a closed case: %v", i, err)
		}
	}
	v, err := s.Reopen(ctx, id, casework.Guard{})
	if err != nil || v.Case.Closed != nil {
		t.Errorf("%v %v", v.Case.Closed, err)
	}
}

func TestOpeningUpFurtherMakesDeepChecksCheaper(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	deep := "unit-apart"
	before, err := s.Check(ctx, id, "open.DC")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Update(ctx, id, casework.Guard{}, casework.Change{Access: &deep}); err != nil {
		t.Fatal(err)
	}
	after, err := s.Check(ctx, id, "open.DC")
	if err != nil || before.Climb != 360 || after.Climb != 0 {
		t.Errorf("climb %v then %v (%v)", before.Climb, after.Climb, err)
	}
}

// The proof repeats what failed.
func TestTheProofRepeatsWhatFailed(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	v, err := s.AddReadings(ctx, id, casework.Guard{}, []casework.NewReading{{Finding: "road.hot.D3.shift", State: "flare", Source: "seen", Stage: "road"}, {Finding: "road.hot.D2.shift", State: "normal", Source: "seen", Stage: "road"}})
	if err != nil {
		t.Fatal(err)
	}
	var items []string
	for _, p := range v.Proof {
		items = append(items, p.ID)
	}
	if got := strings.Join(items, " "); got != "fluid repeat.road.hot.D3.shift dry customer" {
		t.Errorf("proof %q", got)
	}
}

// A page that lost the answer sends again: one case, one decision.
func TestSendingAgainMakesNothingTwice(t *testing.T) {
	s := shop(t)
	in := casework.Intake{Key: "00112233445566778899aabb", Words: "It slips", Vehicle: "Ferry shuttle", UnitID: "norrad-h4"}
	var id string
	for range 2 {
		v, err := s.TakeIn(ctx, in)
		if err != nil {
			t.Fatal(err)
		}
		id = v.Case.ID
		if v, err = s.Decide(ctx, id, casework.Guard{Key: "ffeeddccbbaa998877665544"}, casework.NewDecision{Option: "overhaul", Choice: "declined"}); err != nil || len(v.Decisions) != 1 {
			t.Fatalf("%d decisions, %v", len(v.Decisions), err)
		}
	}
	if floor := floor(t, s); len(floor) != 1 {
		t.Errorf("%d cases", len(floor))
	}
}

func TestSettingsAreChecked(t *testing.T) {
	s := shop(t)
	good := casework.DefaultSettings()
	for field, change := range map[string]func(*casework.Settings){
		"labourRate": func(x *casework.Settings) { x.LabourRate = -1 },
		"pressure":   func(x *casework.Settings) { x.Pressure = "furlong" },
		"currency":   func(x *casework.Settings) { x.Currency = " " },
	} {
		bad := good
		change(&bad)
		var fe *casework.FieldError
		if _, err := s.SaveSettings(ctx, bad); !errors.As(err, &fe) || fe.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	saved, err := s.SaveSettings(ctx, good)
	if err != nil || saved.Rev != 1 {
		t.Fatal(saved.Rev, err)
	}
	if _, err := s.SaveSettings(ctx, good); !errors.Is(err, casework.ErrChanged) {
		t.Errorf("an old form was saved: %v", err)
	}
}

// The demo is built through the use cases, five cases at different stages, none from the future.
func TestDemo(t *testing.T) {
	s := shop(t)
	if err := demo.Fill(ctx, s); err != nil {
		t.Fatal(err)
	}
	floor := floor(t, s)
	stages := map[string]bool{}
	for _, f := range floor {
		stages[f.Case.Stage] = true
		for _, r := range f.Case.Readings {
			if r.At.After(time.Now()) || r.At.Before(f.Case.Opened) {
				t.Errorf("%s: reading at %v, opened %v", f.Case.Vehicle, r.At, f.Case.Opened)
			}
		}
	}
	if len(floor) != 11 || len(stages) < 4 || floor[9].Case.Closed == nil || floor[9].Case.Outcome != "cured" || len(floor[9].Case.Records) != 1 {
		t.Errorf("%d cases at %d stages", len(floor), len(stages))
	}
	for i, f := range floor[1:] {
		if (f.Case.Closed == nil) == (floor[i].Case.Closed == nil) && f.Case.Opened.After(floor[i].Case.Opened) {
			t.Errorf("%s stands before %s and came later", floor[i].Case.Vehicle, f.Case.Vehicle)
		}
	}
}
