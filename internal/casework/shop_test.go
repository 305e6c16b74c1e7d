package casework_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"innercompass/core/money"
	"innercompass/internal/casework"
)

// Eight people change the same settings, price book, gauges or sheet from the same screen: one of them does.
func TestOneOfEightChangesTheShop(t *testing.T) {
	s := shop(t)
	sheet, err := s.SheetText(ctx, "norrad-d2", 0, "yaml")
	if err != nil {
		t.Fatal(err)
	}
	text := strings.Replace(string(sheet), "id: norrad-d2", "id: my-norrad", 1)
	for round := range fewer(t) {
		st, err := s.Store.Settings(ctx)
		if err != nil {
			t.Fatal(err)
		}
		oneWins(t, atOnce(func(i int) error {
			mine := st
			mine.Shop = fmt.Sprint("shop ", round, i)
			_, err := s.SaveSettings(ctx, mine)
			return err
		}))
		book, err := s.Prices(ctx)
		if err != nil {
			t.Fatal(err)
		}
		oneWins(t, atOnce(func(i int) error {
			_, err := s.SavePrices(ctx, casework.Book{{Unit: "*", Item: "fluid", Amount: money.Amount(100*round + i + 1)}}, book.Rev)
			return err
		}))
		gauges, err := s.Gauges(ctx)
		if err != nil {
			t.Fatal(err)
		}
		oneWins(t, atOnce(func(i int) error {
			_, err := s.SaveGauges(ctx, []casework.Gauge{{Name: fmt.Sprint("dial ", round, i), Dimension: "length", Resolution: "0.01 mm"}}, gauges.Rev)
			return err
		}))
	}
	errs := atOnce(func(i int) error {
		_, err := s.SaveSheet(ctx, []byte(strings.Replace(text, "name: ", fmt.Sprintf("# %d\nname: ", i), 1)), "Tobin")
		return err
	})
	won := 0
	for _, err := range errs {
		var fe *casework.FieldError
		if err == nil {
			won++
		} else if !errors.As(err, &fe) || fe.Field != "version" || fe.Accepted == "" {
			t.Error(err)
		}
	}
	if won != 1 {
		t.Errorf("%d of 8 sheets with one version were saved", won)
	}
	kept, err := s.SheetText(ctx, "my-norrad", 0, "yaml")
	if err != nil || !bytes.Contains(kept, []byte("id: my-norrad")) {
		t.Error(err)
	}
}

// In a shop that writes 1.234,5 everything is read and written so; inside, and in open files, numbers stand as 1234.5.
func TestAShopThatWritesCommas(t *testing.T) {
	s := shop(t)
	st, err := s.Store.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	st.Numbers, st.Currency = "1.234,5", "€"
	if st, err = s.SaveSettings(ctx, st); err != nil {
		t.Fatal(err)
	}
	v, err := s.TakeIn(ctx, casework.Intake{Words: "It slips", Vehicle: "Van", UnitID: "norrad-d2", Distance: "142.310 km"})
	if err != nil || v.Case.Distance != "142.310 km" {
		t.Fatalf("%q %v", v.Case.Distance, err)
	}
	if kept, err := s.Store.Case(ctx, v.Case.ID); err != nil || kept.Distance != "142,310 km" {
		t.Errorf("kept as %q, %v", kept.Distance, err)
	}
	for typed, want := range map[string]string{"1.250,50": "= €\u00a01.250,50", "1250,5": "= €\u00a01.250,50", "84": "= €\u00a084,00"} {
		if got, err := st.Understood("money", "", typed); err != nil || got != want {
			t.Errorf("%s is read as %q, %v", typed, got, err)
		}
	}
	var fe *casework.FieldError
	st.Pressure = "bar"
	if got, err := st.Understood("pressure", "bar", "1,250"); err != nil || got != "= 1,25 bar" {
		t.Errorf("a decimal comma before three digits: %q, %v", got, err)
	}
	if _, err := st.Understood("distance", "km", "142,310"); !errors.As(err, &fe) || !strings.Contains(fe.Reason, "it may be 142,31 or 142.310") {
		t.Errorf("what may be 142,31 or 142.310: %v", err)
	}
	if n, err := s.ImportPrices(ctx, "unit;item;price\n*;fluid;1.012,50\n"); err != nil || n.Prices[0].Amount != 101250 {
		t.Errorf("%+v, %v", n, err)
	}
}

// A day of the shop is that of its zone: what is due, what has ended.
func TestDaysAreThoseOfTheShop(t *testing.T) {
	s := shop(t)
	v := takeIn(t, s)
	st, err := s.Store.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	s.Now = func() time.Time { return time.Date(2027, 3, 1, 3, 0, 0, 0, time.UTC) } // the evening of the day before in Chicago
	for zone, ends := range map[string]bool{"America/Chicago": false, "Europe/Oslo": true} {
		st.Zone = zone
		if st, err = s.SaveSettings(ctx, st); err != nil {
			t.Fatal(err)
		}
		_, err := s.FollowUp(ctx, v.Case.ID, casework.Guard{}, "2027-02-28", "", "")
		if over := err != nil; over != ends {
			t.Errorf("%s: a recheck on the 28th: %v", zone, err)
		}
		if _, err := s.SaveGauges(ctx, []casework.Gauge{{Name: "dial", Dimension: "length", Resolution: "0.01 mm", Until: "2027-02-28"}}, ""); err != nil {
			t.Fatal(err)
		}
		book, err := s.Gauges(ctx)
		if err != nil || book.Gauges[0].Overdue(book.Today) != ends {
			t.Errorf("%s: calibrated until the 28th, today is %s, %v", zone, book.Today.Format(time.DateOnly), err)
		}
	}
}

// The Floor is paged without a gap or a double, searched, and brought up to date in the background.
func TestTheFloorIsPagedSearchedAndKept(t *testing.T) {
	s := shop(t)
	for i := range 7 {
		at := time.Date(2027, 1, 1, 0, 0, i/2, 0, time.UTC) // two at a time
		s.Now = func() time.Time { return at }
		if _, err := s.TakeIn(ctx, casework.Intake{Words: "It slips", Vehicle: fmt.Sprint("Van no-", i), Customer: "Ferry works", UnitID: "ombrin-m5"}); err != nil {
			t.Fatal(err)
		}
	}
	seen := map[string]bool{}
	q := casework.FloorQuery{Limit: 3}
	for pages := 1; ; pages++ {
		p, err := s.Floor(ctx, q)
		if err != nil || p.Open != 7 || p.Closed != 0 {
			t.Fatalf("%d open, %d closed, %v", p.Open, p.Closed, err)
		}
		for _, r := range p.Rows {
			if seen[r.Case.ID] || !r.Computed || r.UnitName == "" || r.Next == "" {
				t.Errorf("%+v", r)
			}
			seen[r.Case.ID] = true
		}
		if p.Next == (casework.FloorCursor{}) {
			if len(seen) != 7 || pages != 3 {
				t.Errorf("%d cases on %d pages", len(seen), pages)
			}
			break
		}
		q.After = p.Next
	}
	for search, want := range map[string]int{"van no-3": 1, "FERRY slips": 7, "ombrin": 7, "minibus": 0, "%": 0, "_": 0} {
		if p, err := s.Floor(ctx, casework.FloorQuery{Search: search}); err != nil || p.Open != want {
			t.Errorf("%q finds %d, wanted %d, %v", search, p.Open, want, err)
		}
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	st.LabourRate *= 2
	if st, err = s.SaveSettings(ctx, st); err != nil {
		t.Fatal(err)
	}
	if stale, err := s.Store.StaleFloor(ctx, s.Basis(st), 100); err != nil || len(stale) != 7 {
		t.Errorf("%d rows are out of date, %v", len(stale), err)
	}
	stop, cancel := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() { s.KeepFloor(stop); close(done) }()
	deadline := time.Now().Add(20 * time.Second)
	for {
		stale, err := s.Store.StaleFloor(ctx, s.Basis(st), 100)
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

// What panics beside a request becomes its error: it does not end the server.
func TestAPanicBesideIsAnError(t *testing.T) {
	if _, err := casework.Beside(func() int { panic("a bad cell") })(); err == nil || !strings.Contains(err.Error(), "a bad cell") {
		t.Error(err)
	}
	if n, err := casework.Beside(func() int { return 7 })(); n != 7 || err != nil {
		t.Error(n, err)
	}
}
