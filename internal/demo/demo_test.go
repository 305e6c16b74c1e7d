package demo_test

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/demo"
	"innercompass/internal/floor"
	"innercompass/internal/problem"
	"innercompass/internal/records"
	"innercompass/internal/takein"
)

var ctx = context.Background()

// The demo is built through the use cases, cases at different stages, none from the future; jobs are planned, one unit is half apart and one in building.
func TestDemo(t *testing.T) {
	s := apptest.New(t)
	if err := demo.Fill(ctx, s); err != nil {
		t.Fatal(err)
	}
	all := apptest.Floor(t, s)
	stages := map[string]bool{}
	for _, f := range all {
		stages[f.Case.Stage] = true
		for _, r := range f.Case.Readings {
			if r.At.After(time.Now()) || r.At.Before(f.Case.Opened) {
				t.Errorf("%s: reading at %v, opened %v", f.Case.Vehicle, r.At, f.Case.Opened)
			}
		}
	}
	if len(all) != 12 || len(stages) < 4 || all[10].Case.Closed == nil || all[10].Case.Outcome != "cured" || len(all[10].Case.Records) != 1 {
		t.Errorf("%d cases at %d stages", len(all), len(stages))
	}
	week, err := s.Jobs.Week(ctx)
	if err != nil {
		t.Fatal(err)
	}
	apart, building := 0, 0
	for _, x := range week.Slots {
		v, err := s.Teardown.View(ctx, x.Job)
		if err != nil {
			t.Fatal(err)
		}
		switch in := len(v.Bench.Built()); {
		case in > 0 && len(v.Bench.Tray) > 0:
			building++
		case len(v.Bench.Tray) > 0:
			apart++
		}
	}
	if len(week.Slots) != 6 || apart != 1 || building != 1 {
		t.Errorf("%d jobs are planned, %d units half apart, %d in building", len(week.Slots), apart, building)
	}
	for i, f := range all[1:] {
		if (f.Case.Closed == nil) == (all[i].Case.Closed == nil) && f.Case.Opened.After(all[i].Case.Opened) {
			t.Errorf("%s stands before %s and came later", all[i].Case.Vehicle, f.Case.Vehicle)
		}
	}
}

// A sample is a case like others until it is removed, then nothing of it is left; a shop's own case cannot be removed.
func TestASampleIsTriedAndRemoved(t *testing.T) {
	s := apptest.New(t)
	clock := s.Now()
	id, err := demo.Sample(ctx, s)
	if err != nil {
		t.Fatal(err)
	}
	view, err := s.Overview.View(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if !view.Case.Sample || len(view.Trail) < 10 || view.Heading.Best == nil {
		t.Errorf("sample %v, %d readings, heading %v", view.Case.Sample, len(view.Trail), view.Heading.Best)
	}
	if view.Case.Opened.Before(clock) || s.Now().Before(clock) {
		t.Errorf("it was opened at %v, before the shop's clock %v", view.Case.Opened, clock)
	}
	if rows, err := s.Floor.List(ctx, floor.Query{}); err != nil || len(rows.Rows) != 1 || !rows.Rows[0].Computed || rows.Rows[0].Next == "" {
		t.Errorf("its row on the Floor: %+v, %v", rows.Rows, err)
	}
	if _, err := s.Records.Issue(ctx, id, cases.Guard{}, records.NewRecord{By: "Ines"}); err == nil || !strings.Contains(err.Error(), "sample") {
		t.Errorf("a record of what did not happen: %v", err)
	}
	own, err := s.Intake.TakeIn(ctx, takein.Intake{Words: "It slips", Vehicle: "Mail van", UnitID: "norrad-h4"})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Intake.Link(ctx, own.Case.ID, cases.Guard{}, id); err != nil {
		t.Fatal(err)
	}
	if err := s.Intake.RemoveSample(ctx, own.Case.ID); err == nil || !strings.Contains(err.Error(), "no sample") {
		t.Errorf("the shop's own case: %v", err)
	}
	if err := s.Intake.RemoveSample(ctx, id); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Overview.View(ctx, id); !errors.Is(err, problem.ErrNotFound) {
		t.Errorf("it is still there: %v", err)
	}
	if err := s.Intake.RemoveSample(ctx, id); !errors.Is(err, problem.ErrNotFound) {
		t.Errorf("removed twice: %v", err)
	}
	left, err := s.Overview.View(ctx, own.Case.ID)
	if err != nil || left.Earlier != nil {
		t.Errorf("the other case: %v, a return of %v", err, left.Earlier)
	}
	page, err := s.Floor.List(ctx, floor.Query{})
	if err != nil || page.Open != 1 {
		t.Errorf("%d open, %v", page.Open, err)
	}
}
