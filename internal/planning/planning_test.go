package planning_test

import (
	"context"
	"math"
	"strings"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/readings"
)

var ctx = context.Background()

func TestAPlanSaysWhereItEndsAndWhatDecidingNowWouldCost(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "road.hot.D3.shift", State: "flare", Source: "seen"}, {Finding: "road.hot.D3.slips", State: "yes", Source: "seen"}}); err != nil {
		t.Fatal(err)
	}
	v, err := s.Planning.Of(ctx, id)
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
	if again, err := s.Planning.Of(ctx, id); err != nil || len(again.Steps) > 0 && again.Steps[0].ID == first {
		t.Errorf("%v %+v", err, again.Steps)
	}
	if _, err := s.Planning.Of(ctx, "none"); err == nil {
		t.Error("a case that is not there has a plan")
	}
}
