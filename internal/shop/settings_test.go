package shop_test

import (
	"errors"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

func TestSettingsAreChecked(t *testing.T) {
	s := apptest.New(t)
	good := shop.DefaultSettings()
	for field, change := range map[string]func(*shop.Settings){
		"labourRate": func(x *shop.Settings) { x.LabourRate = -1 },
		"pressure":   func(x *shop.Settings) { x.Pressure = "furlong" },
		"currency":   func(x *shop.Settings) { x.Currency = " " },
	} {
		bad := good
		change(&bad)
		var fe *problem.FieldError
		if _, err := s.Shop.SaveSettings(ctx, bad); !errors.As(err, &fe) || fe.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	saved, err := s.Shop.SaveSettings(ctx, good)
	if err != nil || saved.Rev != 1 {
		t.Fatal(saved.Rev, err)
	}
	if _, err := s.Shop.SaveSettings(ctx, good); !errors.Is(err, problem.ErrChanged) {
		t.Errorf("an old form was saved: %v", err)
	}
}
