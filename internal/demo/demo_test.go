package demo_test

import (
	"context"
	"testing"
	"time"

	"innercompass/internal/app/apptest"
	"innercompass/internal/demo"
)

var ctx = context.Background()

// The demo is built through the use cases, five cases at different stages, none from the future.
func TestDemo(t *testing.T) {
	s := apptest.New(t)
	if err := demo.Fill(ctx, s); err != nil {
		t.Fatal(err)
	}
	floor := apptest.Floor(t, s)
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
