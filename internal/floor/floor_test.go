package floor_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"innercompass/internal/app/apptest"
	"innercompass/internal/floor"
	"innercompass/internal/takein"
)

var ctx = context.Background()

// The Floor is paged without a gap or a double, searched, and brought up to date in the background.
func TestTheFloorIsPagedSearchedAndKept(t *testing.T) {
	s := apptest.New(t)
	for i := range 7 {
		at := time.Date(2027, 1, 1, 0, 0, i/2, 0, time.UTC) // two at a time
		s.Now = func() time.Time { return at }
		if _, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Words: "It slips", Vehicle: fmt.Sprint("Van no-", i), Customer: "Ferry works", UnitID: "ombrin-m5"})); err != nil {
			t.Fatal(err)
		}
	}
	seen := map[string]bool{}
	q := floor.Query{Limit: 3}
	for pages := 1; ; pages++ {
		p, err := s.Floor.List(ctx, q)
		if err != nil || p.Open != 7 || p.Closed != 0 {
			t.Fatalf("%d open, %d closed, %v", p.Open, p.Closed, err)
		}
		for _, r := range p.Rows {
			if seen[r.Case.ID] || !r.Computed || r.UnitName == "" || r.Next == "" {
				t.Errorf("%+v", r)
			}
			seen[r.Case.ID] = true
		}
		if p.Next == (floor.Cursor{}) {
			if len(seen) != 7 || pages != 3 {
				t.Errorf("%d cases on %d pages", len(seen), pages)
			}
			break
		}
		q.After = p.Next
	}
	for search, want := range map[string]int{"van no-3": 1, "FERRY slips": 7, "ombrin": 7, "minibus": 0, "%": 0, "_": 0} {
		if p, err := s.Floor.List(ctx, floor.Query{Search: search}); err != nil || p.Open != want {
			t.Errorf("%q finds %d, wanted %d, %v", search, p.Open, want, err)
		}
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	st.LabourRate *= 2
	if st, err = s.Shop.SaveSettings(ctx, st); err != nil {
		t.Fatal(err)
	}
	if stale, err := s.Store.StaleFloor(ctx, s.Floor.Basis(st), 100); err != nil || len(stale) != 7 {
		t.Errorf("%d rows are out of date, %v", len(stale), err)
	}
	stop, cancel := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() { s.Floor.Keep(stop); close(done) }()
	deadline := time.Now().Add(20 * time.Second)
	for {
		stale, err := s.Store.StaleFloor(ctx, s.Floor.Basis(st), 100)
		if err != nil {
			t.Fatal(err)
		}
		if len(stale) == 0 {
			break
		}
		if time.Now().After(deadline) {
			t.Fatalf("%d rows are still those of the old rate", len(stale))
		}
		time.Sleep(10 * time.Millisecond)
	}
	cancel()
	<-done
}
