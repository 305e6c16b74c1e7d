package verification_test

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/quoting"
	"innercompass/internal/readings"
	"innercompass/internal/takein"
	"innercompass/internal/verification"
)

var ctx = context.Background()

func TestAClosedCaseRefusesChangesUntilReopened(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	if _, err := s.Verification.Close(ctx, id, cases.Guard{}, verification.Closing{Root: "underfilled", Outcome: "not-cured"}); err != nil {
		t.Fatal(err)
	}
	words := "else"
	_, err1 := s.Intake.Update(ctx, id, cases.Guard{}, takein.Change{Words: &words})
	_, err2 := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "fluid-level", State: "low", Source: "seen"}})
	_, err3 := s.Verification.SetProof(ctx, id, cases.Guard{}, cases.Proof{Item: "fluid", Result: "pass"})
	_, err4 := s.Quoting.Decide(ctx, id, cases.Guard{}, quoting.NewDecision{Option: "overhaul", Choice: "accepted"})
	for i, err := range []error{err1, err2, err3, err4} {
		var se *problem.StateError
		if !errors.As(err, &se) {
			t.Errorf("change %d of a closed case: %v", i, err)
		}
	}
	v, err := apptest.See(s)(s.Verification.Reopen(ctx, id, cases.Guard{}))
	if err != nil || v.Case.Closed != nil {
		t.Errorf("%v %v", v.Case.Closed, err)
	}
}

// The proof repeats what failed.
func TestTheProofRepeatsWhatFailed(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	v, err := apptest.See(s)(s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "road.hot.D3.shift", State: "flare", Source: "seen", Stage: "road"}, {Finding: "road.hot.D2.shift", State: "normal", Source: "seen", Stage: "road"}}))
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

// Cured is what was proven: a value outside its window fails whatever was pressed, and the case stays open until all passes.
func TestTheProofGuardsTheClosing(t *testing.T) {
	s := apptest.New(t)
	id := apptest.Burnt(t, s)
	if _, err := s.Quoting.Decide(ctx, id, cases.Guard{}, quoting.NewDecision{Option: "pack.DC", Choice: "accepted"}); err != nil {
		t.Fatal(err)
	}
	v, err := s.Overview.View(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	kinds := map[string]int{}
	for _, p := range v.Proof {
		kinds[p.Kind]++
	}
	if kinds["repeat"] < 2 || kinds["value"] == 0 || kinds["tighten"] == 0 || kinds["set"] == 0 || kinds["tell"] == 0 {
		t.Errorf("%v", kinds)
	}
	if _, err := s.Verification.Close(ctx, id, cases.Guard{}, verification.Closing{Root: "piston-seal.DC", Outcome: "cured"}); !strings.Contains(apptest.RefusedBy(err), "have not passed") {
		t.Errorf("closed as cured without proof: %v", err)
	}
	if _, err := s.Verification.SetProof(ctx, id, cases.Guard{}, cases.Proof{Item: "limit.clearance-DC", Result: "pass"}); apptest.FieldOf(err) != "note" {
		t.Errorf("a value without a value: %v", err)
	}
	if _, err := s.Verification.SetProof(ctx, id, cases.Guard{}, cases.Proof{Item: "luck", Result: "pass"}); apptest.FieldOf(err) != "item" {
		t.Errorf("an unknown item: %v", err)
	}
	result := func(note string) string {
		t.Helper()
		v, err := apptest.See(s)(s.Verification.SetProof(ctx, id, cases.Guard{}, cases.Proof{Item: "limit.clearance-DC", Result: "pass", Note: note}))
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range v.Proof {
			if p.ID == "limit.clearance-DC" {
				return p.Result
			}
		}
		return ""
	}
	if result("2.4 mm") != "fail" || result("0.061 in") != "pass" { // 1.25 to 1.85 mm
		t.Error("a value is not held against its window")
	}
	for _, p := range v.Proof {
		note := ""
		if p.Window != nil {
			note = p.Window.Low.Format(p.Unit)
		}
		if _, err := s.Verification.SetProof(ctx, id, cases.Guard{}, cases.Proof{Item: p.ID, Result: "pass", Note: note}); err != nil {
			t.Fatal(err)
		}
	}
	v, err = apptest.See(s)(s.Verification.Close(ctx, id, cases.Guard{}, verification.Closing{Root: "piston-seal.DC", Outcome: "cured", Damages: []string{"lip-hard.DC"}, CuredBy: "pack.DC", Learnt: "Heat."}))
	if err != nil || v.Case.Closed == nil || v.Case.CuredBy != "pack.DC" || len(v.Case.Damages) != 1 || v.Case.Learnt != "Heat." {
		t.Errorf("%+v %v", v.Case, err)
	}
	if _, err := s.Verification.Reopen(ctx, id, cases.Guard{}); err != nil {
		t.Fatal(err)
	}
	for field, c := range map[string]verification.Closing{"damages[0]": {Outcome: "not-cured", Damages: []string{"x"}}, "curedBy": {Outcome: "not-cured", CuredBy: "x"}} {
		if _, err := s.Verification.Close(ctx, id, cases.Guard{}, c); apptest.FieldOf(err) != field {
			t.Errorf("%+v: %v", c, err)
		}
	}
}

// A recheck as a calendar file: RFC 5545, lines of at most 75 octets, text escaped.
func TestARecheckForTheCalendar(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	if _, err := s.Verification.Calendar(ctx, id); apptest.RefusedBy(err) == "" {
		t.Errorf("without a day: %v", err)
	}
	day := time.Now().UTC().AddDate(0, 2, 0).Format(time.DateOnly)
	if _, err := s.Verification.FollowUp(ctx, id, cases.Guard{}, day, "90 000 mi", "Level, cold; then the leak at the selector shaft, with a lamp — and note what you see, so that it can be compared"); err != nil {
		t.Fatal(err)
	}
	data, err := s.Verification.Calendar(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	for _, line := range strings.Split(strings.TrimSuffix(string(data), "\r\n"), "\r\n") {
		if len(line) > 75 || strings.ContainsAny(line, "\r\n") {
			t.Errorf("%d octets: %q", len(line), line)
		}
	}
	whole := strings.ReplaceAll(string(data), "\r\n ", "")
	for _, want := range []string{"DTSTART;VALUE=DATE:" + strings.ReplaceAll(day, "-", ""), `Level\, cold\; then`, "SUMMARY:Recheck: Ferry shuttle", `Or at 90\,000 mi`, "TRIGGER:-P2D"} {
		if !strings.Contains(whole, want) {
			t.Errorf("it lacks %q:\n%s", want, whole)
		}
	}
	for field, in := range map[string][2]string{"day": {"tomorrow", ""}, "distance": {"", "far"}} {
		if _, err := s.Verification.FollowUp(ctx, id, cases.Guard{}, in[0], in[1], ""); apptest.FieldOf(err) != field {
			t.Errorf("%v: %v", in, err)
		}
	}
	if _, err := s.Verification.FollowUp(ctx, id, cases.Guard{}, "1999-01-01", "", ""); apptest.FieldOf(err) != "day" {
		t.Errorf("a day gone by: %v", err)
	}
}
