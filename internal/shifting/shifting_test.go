package shifting_test

import (
	"bytes"
	"context"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/roadlog"
	"innercompass/core/shifts"
	"innercompass/core/sim"
	"innercompass/core/trials"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/recordings"
	"innercompass/internal/shifting"
	"innercompass/internal/takein"
	"innercompass/internal/trial"
)

// brought is a simulated drive of the six-speed as a logger wrote it, brought in as a user would.
func brought(t *testing.T, s *app.App, of, title string, seed uint64, faults ...sim.Fault) recordings.Recording {
	t.Helper()
	u := trial.Load(t).Networks["ombrin-s6"].Unit
	pull := func(throttle float64) []roadlog.Leg {
		return []roadlog.Leg{{Seconds: 26, Input: sim.Input{Selector: "D", Throttle: throttle}, Wander: 0.03}, {Seconds: 14, Input: sim.Input{Selector: "D", Brake: 0.18}, Until: 1}, {Seconds: 1, Input: sim.Input{Selector: "D", Brake: 0.5}}}
	}
	legs := slices.Concat([]roadlog.Leg{{Seconds: 1.5, Input: sim.Input{Selector: "N", Brake: 1}}, {Seconds: 2, Input: sim.Input{Selector: "D", Brake: 1}}}, pull(0.36), pull(0.38), pull(0.37))
	log, _, err := roadlog.Drive(roadlog.Setup{Sim: sim.Setup{Unit: u, Celsius: 84, Seed: seed, Scatter: 1, Faults: faults}, Rate: 50, Late: math.NaN(), Legs: legs, Pressures: []string{"CB", "BC", "CE"}})
	if err != nil {
		t.Fatal(err)
	}
	var file bytes.Buffer
	if err := log.Write(&file); err != nil {
		t.Fatal(err)
	}
	rec, err := s.Recordings.Bring(context.Background(), &file, recordings.Bring{File: title + ".csv", Title: title, Case: of, Unit: "ombrin-s6", Vehicle: "Mail van", By: "Ines"})
	if err != nil {
		t.Fatal(err)
	}
	return rec
}

// Late plates of clutch B: the shifts that it comes on for are out, the case takes them as readings of the road test, the drive after the repair proves them, and says what was changed.
func TestFromTheDriveToTheProof(t *testing.T) {
	s := apptest.New(t)
	ctx := context.Background()
	v, err := s.Intake.TakeIn(ctx, takein.Intake{Words: "It revs up between gears", Vehicle: "Mail van", UnitID: "ombrin-s6"})
	if err != nil {
		t.Fatal(err)
	}
	of := v.Case.ID
	before := brought(t, s, of, "Before", 1, sim.Fault{Kind: sim.Clearance, Element: "CB", Size: 1.5})
	told, err := s.Shifting.Shifts(ctx, before.ID, shifting.Asked{})
	if err != nil {
		t.Fatal(err)
	}
	if first := told.Suspects[0]; first.Blame != shifts.LateOn || first.Element != "CB" || told.Temperature() != "hot" {
		t.Errorf("%+v, %s", told.Suspects[:2], told.Temperature())
	}
	for i, x := range told.Shifts {
		if want := !x.Down && (x.To == "D3" || x.To == "D5"); told.Against[i].Any() != want {
			t.Errorf("%s to %s at %.1f: out %v: %s", x.From, x.To, x.Begin, !want, told.Said(i))
		}
	}
	saved, noted, err := s.Shifting.Note(ctx, before.ID, shifting.Asked{}, "", "Ines")
	if err != nil || len(noted) < 4 {
		t.Fatalf("%v %v", noted, err)
	}
	states := map[string]string{}
	for _, r := range saved.Case.Valid() {
		states[r.Finding] = r.State
	}
	if states["road.hot.D3.shift"] != "flare" || states["road.hot.D2.shift"] != "normal" {
		t.Errorf("%v", states)
	}
	after := brought(t, s, of, "After", 2)
	if after, err = s.Recordings.Change(ctx, after.ID, after.Revision, recordings.Said{Trial: &recordings.Trial{Since: before.ID, Changed: []trials.Change{trials.Part}, Note: "plates of B"}}); err != nil {
		t.Fatal(err)
	}
	c, err := s.Shifting.Compare(ctx, before.ID, after.ID, shifting.Asked{})
	if err != nil || !c.Follows || len(c.Warnings()) > 0 || !strings.Contains(c.Headline(), "Better") {
		t.Fatalf("%q %v %v", c.Headline(), c.Warnings(), err)
	}
	kind, difference, ok := trials.Foremost(c.Kinds)
	if !ok || kind.To != "D3" && kind.To != "D5" || difference.Verdict != trials.Better {
		t.Errorf("%s to %s: %+v", kind.From, kind.To, difference)
	}
	saved, titles, err := s.Shifting.IntoProof(ctx, before.ID, after.ID, shifting.Asked{}, "Ines")
	if err != nil || len(titles) < 2 {
		t.Fatalf("%v %v", titles, err)
	}
	for _, p := range saved.Case.Proofs {
		if strings.HasPrefix(p.Item, "repeat.road.hot.D3") && (p.Result != "pass" || !strings.Contains(p.Note, "flare")) {
			t.Errorf("%+v", p)
		}
	}
	// The other way round nothing is proven.
	if c, err := s.Shifting.Compare(ctx, after.ID, before.ID, shifting.Asked{}); err != nil || !strings.Contains(c.Headline(), "Worse") || len(c.Warnings()) == 0 {
		t.Errorf("%q %v", c.Headline(), err)
	}
}

// What is asked of the wrong recording is refused in words, and a row of trials does not bite its tail.
func TestWhatCannotBeToldIsRefused(t *testing.T) {
	s := apptest.New(t)
	ctx := context.Background()
	rec := brought(t, s, "", "A drive", 3)
	if _, _, err := s.Shifting.Note(ctx, rec.ID, shifting.Asked{}, "hot", "Ines"); err == nil || !strings.Contains(err.Error(), "case") {
		t.Errorf("no case: %v", err)
	}
	if _, err := s.Shifting.Compare(ctx, rec.ID, rec.ID, shifting.Asked{}); err == nil {
		t.Error("a recording is held against itself")
	}
	if _, err := s.Shifting.Shifts(ctx, rec.ID, shifting.Asked{Selector: "N"}); err == nil {
		t.Error("neutral has shifts")
	}
	if _, err := s.Shifting.Shifts(ctx, rec.ID, shifting.Asked{Sound: "none"}); err == nil {
		t.Error("windows of no recording")
	}
	other := brought(t, s, "", "Another", 4)
	if _, err := s.Recordings.Change(ctx, other.ID, other.Revision, recordings.Said{Trial: &recordings.Trial{Since: rec.ID, Changed: []trials.Change{trials.Fluid}}}); err != nil {
		t.Fatal(err)
	}
	for _, bad := range []recordings.Trial{{Since: other.ID}, {Since: rec.ID}, {Since: "none"}, {Since: other.ID, Changed: []trials.Change{"magic"}}} {
		if _, err := s.Recordings.Change(ctx, rec.ID, rec.Revision, recordings.Said{Trial: &bad}); err == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
}

// A circuit that leaks is low at its tap: the case takes that as a reading, and the ranking follows it there.
func TestATapBecomesAReading(t *testing.T) {
	s := apptest.New(t)
	ctx := context.Background()
	v, err := s.Intake.TakeIn(ctx, takein.Intake{Words: "It slips in fourth", Vehicle: "Mail van", UnitID: "ombrin-s6"})
	if err != nil {
		t.Fatal(err)
	}
	n, err := s.Cases.NetworkOf(ctx, v.Case.ID)
	if err != nil {
		t.Fatal(err)
	}
	share := func(readings ...diagnose.Reading) float64 {
		t.Helper()
		a, err := diagnose.Assess(n, diagnose.Situation{Readings: readings})
		if err != nil {
			t.Fatal(err)
		}
		sum := 0.0
		for _, x := range a.Suspects {
			if strings.HasSuffix(x.Cause.ID, ".CE") {
				sum += x.Probability
			}
		}
		return sum
	}
	rec := brought(t, s, v.Case.ID, "Before", 5, sim.Fault{Kind: sim.LeaksBy, Element: "CE", Size: 0.8})
	_, noted, err := s.Shifting.Note(ctx, rec.ID, shifting.Asked{}, "", "Ines")
	if err != nil {
		t.Fatal(err)
	}
	state := ""
	var all, but []diagnose.Reading
	for _, x := range noted {
		r := diagnose.Reading{ID: x.Finding, Finding: x.Finding, State: x.State, Source: "measured"}
		all = append(all, r)
		if x.Finding == knowledge.TapID("CE") {
			state = x.State
		} else {
			but = append(but, r)
		}
	}
	if state != "low" {
		t.Errorf("tap of clutch E: %q", state)
	}
	if was, now := share(but...), share(all...); now <= was {
		t.Errorf("causes of clutch E have %.3f without the tap and %.3f with it", was, now)
	} else {
		t.Logf("causes of clutch E: %.3f without the tap, %.3f with it", was, now)
	}
}
