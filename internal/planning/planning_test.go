package planning_test

import (
	"context"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/planning"
	"innercompass/internal/readings"
)

var ctx = context.Background()

func flaring(t *testing.T) (*app.App, string) {
	t.Helper()
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "road.hot.D3.shift", State: "flare", Source: "seen"}, {Finding: "road.hot.D3.slips", State: "yes", Source: "seen"}}); err != nil {
		t.Fatal(err)
	}
	return s, id
}

func TestAPlanSaysWhereItEndsAndWhatDecidingNowWouldCost(t *testing.T) {
	s, id := flaring(t)
	v, err := s.Planning.Of(ctx, id, planning.Result{})
	if err != nil {
		t.Fatal(err)
	}
	if len(v.Steps) == 0 || v.Best != len(v.Steps) || len(v.Points) != v.Best+1 || v.Leader == "" || !strings.Contains(v.Sentence, "of 100 get the right repair") {
		t.Fatalf("%+v", v)
	}
	whole := 0.0
	for _, step := range v.Steps {
		if step.Title == "" || step.Minutes <= 0 || step.Price <= 0 {
			t.Errorf("%+v", step)
		}
		for _, stop := range step.Stops {
			whole += stop.Share
		}
	}
	for _, stop := range v.End {
		whole += stop.Share
		if stop.Repair == "" || stop.Seen == "" {
			t.Errorf("%+v", stop)
		}
	}
	if math.Abs(whole-1) > 1e-6 {
		t.Errorf("%.6f of all vehicles end somewhere", whole)
	}
	// What is not possible here is no step: the path is planned again.
	first := v.Steps[0].ID
	if _, err := s.Readings.Mark(ctx, id, cases.Guard{}, cases.Mark{Kind: "skip", Ref: first, Note: "no lift free"}, false); err != nil {
		t.Fatal(err)
	}
	if again, err := s.Planning.Of(ctx, id, planning.Result{}); err != nil || len(again.Steps) > 0 && again.Steps[0].ID == first {
		t.Errorf("%v %+v", err, again.Steps)
	}
	if _, err := s.Planning.Of(ctx, "none", planning.Result{}); err == nil {
		t.Error("a case that is not there has a plan")
	}
}

// A supposed result plans as if it were read, and notes nothing; what is no result of this unit is refused.
func TestWhatIfAResultCameOutSo(t *testing.T) {
	s, id := flaring(t)
	before, err := s.Planning.Of(ctx, id, planning.Result{})
	if err != nil || len(before.Steps) == 0 || before.AsIf != "" {
		t.Fatalf("%+v, %v", before, err)
	}
	stop := before.End[0]
	for _, step := range before.Steps {
		if len(step.Stops) > 0 {
			stop = step.Stops[0]
			break
		}
	}
	as := planning.Result{Finding: stop.Finding, State: stop.State}
	then, err := s.Planning.Of(ctx, id, as)
	if err != nil || then.AsIf == "" || then.Leader == "" {
		t.Fatalf("as if %v: %+v, %v", as, then, err)
	}
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if slices.ContainsFunc(c.Readings, func(r cases.Reading) bool { return r.Finding == as.Finding }) {
		t.Errorf("%v was noted", as)
	}
	// Read in earnest it is the same.
	if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: as.Finding, State: as.State, Source: "seen"}}); err != nil {
		t.Fatal(err)
	}
	now, err := s.Planning.Of(ctx, id, planning.Result{})
	if err != nil || now.Leader != then.Leader || math.Abs(now.Share-then.Share) > 1e-9 {
		t.Errorf("supposed %s %v, read %s %v, %v", then.Leader, then.Share, now.Leader, now.Share, err)
	}
	if _, err := s.Planning.Of(ctx, id, planning.Result{Finding: "weather", State: "fine"}); err == nil || !strings.Contains(err.Error(), "accepted") {
		t.Errorf("no result: %v", err)
	}
}
