package takein_test

import (
	"errors"
	"slices"
	"strings"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/quoting"
	"innercompass/internal/readings"
	"innercompass/internal/takein"
)

// A case begun while nobody knew the unit moves to its sheet: what that knows stays and counts, what it does not is named, taken back and
// stays in the log.
func TestACaseMovesToABetterSheet(t *testing.T) {
	s := apptest.New(t)
	v, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Words: "It slips in second", Vehicle: "Ferry shuttle", UnitID: "any-automatic-4"}))
	if err != nil {
		t.Fatal(err)
	}
	id := v.Case.ID
	noted := []readings.NewReading{
		{Finding: "road.hot.D2.slips", State: "yes", Source: "seen"},
		{Finding: "road.hot.D3.slips", State: "no", Source: "seen"},
		{Finding: "plates.E2", State: "burnt", Source: "seen"},
	}
	if v, err = apptest.See(s)(s.Readings.AddReadings(ctx, id, cases.Guard{}, noted)); err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(strings.Join(suspectsOf(v.Suspects), " "), "E2") {
		t.Errorf("suspects on the generic unit: %v", suspectsOf(v.Suspects))
	}
	m, err := s.Intake.Moving(ctx, id, "norrad-h4")
	if err != nil || m.Fits != 2 || len(m.Left) != 1 || !strings.Contains(m.Left[0], "burnt") {
		t.Fatalf("%+v %v", m, err)
	}
	if v, err = apptest.See(s)(s.Intake.MoveTo(ctx, id, cases.Guard{}, "norrad-h4", "Ada")); err != nil {
		t.Fatal(err)
	}
	if v.Case.UnitID != "norrad-h4" || v.Case.UnitVer < 1 || len(v.Case.Valid()) != 2 || len(v.Case.Readings) != 4 {
		t.Errorf("unit %s %d, %d of %d readings stand", v.Case.UnitID, v.Case.UnitVer, len(v.Case.Valid()), len(v.Case.Readings))
	}
	if !slices.ContainsFunc(suspectsOf(v.Suspects), func(id string) bool { return strings.HasSuffix(id, ".IC") || strings.HasSuffix(id, ".IF") }) {
		t.Errorf("suspects after the move: %v", suspectsOf(v.Suspects))
	}
	if _, err := s.Intake.MoveTo(ctx, id, cases.Guard{}, "no-such-unit", ""); !errors.Is(err, problem.ErrNotFound) {
		t.Errorf("moved to nowhere: %v", err)
	}
	if _, err := s.Quoting.Decide(ctx, id, cases.Guard{}, quoting.NewDecision{Option: "overhaul", Choice: "declined"}); err != nil {
		t.Fatal(err)
	}
	var state *problem.StateError
	if _, err := s.Intake.MoveTo(ctx, id, cases.Guard{}, "tessaly-e4t", ""); !errors.As(err, &state) {
		t.Errorf("a decided case moved: %v", err)
	}
}

func suspectsOf(list []present.SuspectView) []string {
	var out []string
	for _, x := range list {
		out = append(out, x.ID)
	}
	return out
}
