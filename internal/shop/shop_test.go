package shop_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"innercompass/core/money"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
)

var ctx = context.Background()

// Eight people change the same settings, price book, gauges or sheet from the same screen: one of them does.
func TestOneOfEightChangesTheShop(t *testing.T) {
	s := apptest.New(t)
	sheet, err := s.Library.SheetText(ctx, "norrad-d2", 0, "yaml")
	if err != nil {
		t.Fatal(err)
	}
	text := strings.Replace(string(sheet), "id: norrad-d2", "id: my-norrad", 1)
	for round := range apptest.Fewer(t) {
		st, err := s.Store.Settings(ctx)
		if err != nil {
			t.Fatal(err)
		}
		apptest.OneWins(t, apptest.AtOnce(func(i int) error {
			mine := st
			mine.Shop = fmt.Sprint("shop ", round, i)
			_, err := s.Shop.SaveSettings(ctx, mine)
			return err
		}))
		book, err := s.Shop.Prices(ctx)
		if err != nil {
			t.Fatal(err)
		}
		apptest.OneWins(t, apptest.AtOnce(func(i int) error {
			_, err := s.Shop.SavePrices(ctx, shop.Book{{Unit: "*", Item: "fluid", Amount: money.Amount(100*round + i + 1)}}, book.Rev)
			return err
		}))
		gauges, err := s.Shop.Gauges(ctx)
		if err != nil {
			t.Fatal(err)
		}
		apptest.OneWins(t, apptest.AtOnce(func(i int) error {
			_, err := s.Shop.SaveGauges(ctx, []shop.Gauge{{Name: fmt.Sprint("dial ", round, i), Dimension: "length", Resolution: "0.01 mm"}}, gauges.Rev)
			return err
		}))
	}
	errs := apptest.AtOnce(func(i int) error {
		_, err := s.Library.SaveSheet(ctx, []byte(strings.Replace(text, "name: ", fmt.Sprintf("# %d\nname: ", i), 1)), "Tobin")
		return err
	})
	won := 0
	for _, err := range errs {
		var fe *problem.FieldError
		if err == nil {
			won++
		} else if !errors.As(err, &fe) || fe.Field != "version" || fe.Accepted == "" {
			t.Error(err)
		}
	}
	if won != 1 {
		t.Errorf("%d of 8 sheets with one version were saved", won)
	}
	kept, err := s.Library.SheetText(ctx, "my-norrad", 0, "yaml")
	if err != nil || !bytes.Contains(kept, []byte("id: my-norrad")) {
		t.Error(err)
	}
}

// In a shop that writes 1.234,5 everything is read and written so; inside, and in open files, numbers stand as 1234.5.
func TestAShopThatWritesCommas(t *testing.T) {
	s := apptest.New(t)
	st, err := s.Store.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	st.Numbers, st.Currency = "1.234,5", "€"
	if st, err = s.Shop.SaveSettings(ctx, st); err != nil {
		t.Fatal(err)
	}
	v, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Words: "It slips", Vehicle: "Van", UnitID: "norrad-d2", Distance: "142.310 km"}))
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
	var fe *problem.FieldError
	st.Pressure = "bar"
	if got, err := st.Understood("pressure", "bar", "1,250"); err != nil || got != "= 1,25 bar" {
		t.Errorf("a decimal comma before three digits: %q, %v", got, err)
	}
	if _, err := st.Understood("distance", "km", "142,310"); !errors.As(err, &fe) || !strings.Contains(fe.Reason, "it may be 142,31 or 142.310") {
		t.Errorf("what may be 142,31 or 142.310: %v", err)
	}
	if n, err := s.Shop.ImportPrices(ctx, "unit;item;price\n*;fluid;1.012,50\n"); err != nil || n.Prices[0].Amount != 101250 {
		t.Errorf("%+v, %v", n, err)
	}
}

// A day of the shop is that of its zone: what is due, what has ended.
func TestDaysAreThoseOfTheShop(t *testing.T) {
	s := apptest.New(t)
	v := apptest.TakenIn(t, s)
	st, err := s.Store.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	s.Now = func() time.Time { return time.Date(2027, 3, 1, 3, 0, 0, 0, time.UTC) } // the evening of the day before in Chicago
	for zone, ends := range map[string]bool{"America/Chicago": false, "Europe/Oslo": true} {
		st.Zone = zone
		if st, err = s.Shop.SaveSettings(ctx, st); err != nil {
			t.Fatal(err)
		}
		_, err := s.Verification.FollowUp(ctx, v.Case.ID, cases.Guard{}, "2027-02-28", "", "")
		if over := err != nil; over != ends {
			t.Errorf("%s: a recheck on the 28th: %v", zone, err)
		}
		if _, err := s.Shop.SaveGauges(ctx, []shop.Gauge{{Name: "dial", Dimension: "length", Resolution: "0.01 mm", Until: "2027-02-28"}}, ""); err != nil {
			t.Fatal(err)
		}
		book, err := s.Shop.Gauges(ctx)
		if err != nil || book.Gauges[0].Overdue(book.Today) != ends {
			t.Errorf("%s: calibrated until the 28th, today is %s, %v", zone, book.Today.Format(time.DateOnly), err)
		}
	}
}
