package shop_test

import (
	"errors"
	"testing"
	"time"

	"innercompass/internal/app/apptest"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

func TestGaugesAreKeptAndCheckedAllOrNone(t *testing.T) {
	s := apptest.New(t)
	book, err := s.Shop.SaveGauges(ctx, []shop.Gauge{dial, {Name: "thermometer", Dimension: "temperature", Resolution: "1 °C"}}, "")
	kept := book.Gauges
	if err != nil || len(kept) != 2 || kept[1].ID == "" {
		t.Fatalf("%v %+v", err, kept)
	}
	if !kept[0].Overdue(time.Date(2026, 5, 1, 0, 0, 0, 0, time.UTC)) || kept[0].Overdue(time.Date(2020, 1, 31, 0, 0, 0, 0, time.UTC)) || kept[1].Overdue(time.Now()) {
		t.Error("calibration ends on the wrong day")
	}
	for field, bad := range map[string]shop.Gauge{
		"gauges[1].name":        {Dimension: "length", Resolution: "1 mm"},
		"gauges[1].dimension":   {Name: "x", Dimension: "beauty", Resolution: "1 mm"},
		"gauges[1].resolution":  {Name: "x", Dimension: "length", Resolution: "1 psi"},
		"gauges[1].uncertainty": {Name: "x", Dimension: "length", Uncertainty: "-1 mm"},
		"gauges[1].until":       {Name: "x", Dimension: "length", Resolution: "1 mm", Until: "soon"},
		"gauges[1].id":          dial,
	} {
		var fe *problem.FieldError
		if _, err := s.Shop.SaveGauges(ctx, []shop.Gauge{dial, bad}, ""); !errors.As(err, &fe) || fe.Field != field || fe.Accepted == "" {
			t.Errorf("%s: %v", field, err)
		}
	}
	if all, err := s.Store.Gauges(ctx); err != nil || len(all) != 2 {
		t.Errorf("a refused list changed what is kept: %v %+v", err, all)
	}
}

var dial = shop.Gauge{ID: "dial", Name: "dial indicator", Dimension: "length", Resolution: "0.01 mm", Uncertainty: "0.1 mm", Until: "2020-01-31"}
