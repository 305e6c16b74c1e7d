package measuring_test

import (
	"context"
	"errors"
	"strings"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/measuring"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
)

var ctx = context.Background()

var dial = shop.Gauge{ID: "dial", Name: "dial indicator", Dimension: "length", Resolution: "0.01 mm", Uncertainty: "0.1 mm", Until: "2020-01-31"}

// A coarse gauge near a limit says less: its likelihoods are flatter, and the case moves less.
func TestTheGaugeChosenDecidesWhatAMeasurementSays(t *testing.T) {
	s := apptest.New(t)
	if _, err := s.Shop.SaveGauges(ctx, []shop.Gauge{dial}, ""); err != nil {
		t.Fatal(err)
	}
	id := apptest.TakenIn(t, s).Case.ID
	at := measuring.InstrumentAt{Name: "window:end-play", Case: id}
	typed := map[string]string{"value": "0.85 mm"}
	usual, _, err := s.Measuring.Calculate(ctx, at, "", typed)
	if err != nil {
		t.Fatal(err)
	}
	coarse, _, err := s.Measuring.Calculate(ctx, at, "dial", typed)
	if err != nil || coarse.Stated[0].Likelihood["above"] >= usual.Stated[0].Likelihood["above"] {
		t.Errorf("%v: above %v with the usual gauge, %v with a coarse one", err, usual.Stated[0].Likelihood["above"], coarse.Stated[0].Likelihood["above"])
	}
	var fe *problem.FieldError
	if _, _, err := s.Measuring.Calculate(ctx, at, "sundial", typed); !errors.As(err, &fe) || fe.Field != "gauge" {
		t.Errorf("%v", err)
	}
}

// What is measured stands in the case, comes back when the instrument is taken up again, and is told as its history.
func TestAMeasurementStandsInTheCase(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	at := measuring.InstrumentAt{Name: "window:end-play", Case: id}
	v, err := apptest.See(s)(s.Measuring.PutCalculated(ctx, at, cases.Guard{Key: "k1"}, measuring.Use{Values: map[string]string{"value": "1.4 mm"}, By: "Tobin"}))
	if err != nil || len(v.Trail) != 1 || v.Trail[0].State != "above" || !strings.Contains(v.Trail[0].Value, "1.4") {
		t.Fatalf("%v %+v", err, v.Trail)
	}
	if v, err = apptest.See(s)(s.Measuring.PutCalculated(ctx, at, cases.Guard{Key: "k1"}, measuring.Use{Values: map[string]string{"value": "1.4 mm"}, By: "Tobin"})); err != nil || len(v.Trail) != 1 {
		t.Errorf("the same key again: %v, %d readings", err, len(v.Trail))
	}
	again, err := s.Measuring.Instrument(ctx, at)
	if err != nil || again.Values["value"] != "1.4 mm" || len(again.History) != 1 || again.History[0].By != "Tobin" || !again.History[0].Reading || again.History[0].Says == "" {
		t.Errorf("%v %+v %+v", err, again.Values, again.History)
	}
	// A second measurement stands beside the first.
	if v, err = apptest.See(s)(s.Measuring.PutCalculated(ctx, at, cases.Guard{}, measuring.Use{Values: map[string]string{"value": "0.5 mm"}, Again: true})); err != nil || len(v.Trail) != 2 || !v.Trail[1].Again {
		t.Errorf("%v %+v", err, v.Trail)
	}
	var none *problem.NotFoundError
	for _, name := range []string{"crystal-ball", "window:beauty", "plate-capacity:Z9"} {
		if _, err := s.Measuring.Instrument(ctx, measuring.InstrumentAt{Name: name, Case: id}); !errors.As(err, &none) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// In a shop with imperial units the same instrument reads and writes inches.
func TestInstrumentsSpeakTheUnitsOfTheShop(t *testing.T) {
	s := apptest.New(t)
	st := shop.DefaultSettings()
	st.Length, st.Torque = "in", "lbf·ft"
	if _, err := s.Shop.SaveSettings(ctx, st); err != nil {
		t.Fatal(err)
	}
	r, _, err := s.Measuring.Calculate(ctx, measuring.InstrumentAt{Name: "window:end-play", Unit: "norrad-h4"}, "", map[string]string{"value": "0.02"})
	if err != nil || r.Stated[0].State != "ok" || !strings.HasSuffix(r.Stated[0].Value, " in") {
		t.Errorf("%v %+v", err, r.Stated)
	}
	v, err := s.Measuring.Instrument(ctx, measuring.InstrumentAt{Name: "band-capacity:OB", Unit: "norrad-h4"})
	if err != nil || !strings.HasSuffix(v.Values["drum"], " in") {
		t.Errorf("%v %+v", err, v.Values)
	}
}

// What states no finding is kept all the same, once for a key, and goes on to the instruments that take it; taken back, it
// no longer does and stays in the history.
func TestWhatIsMeasuredGoesOnToOtherInstruments(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	wire := measuring.InstrumentAt{Name: "spring-wire", Case: id}
	for range 2 {
		v, err := apptest.See(s)(s.Measuring.PutCalculated(ctx, wire, cases.Guard{Key: "k"}, measuring.Use{Values: map[string]string{"wire": "2 mm", "outside": "20 mm", "free": "60 mm", "at": "40 mm"}, By: "Tobin"}))
		if err != nil || len(v.Trail) != 0 {
			t.Fatalf("%v %+v", err, v.Trail)
		}
	}
	kept, err := s.Measuring.Measurements(ctx, id)
	if err != nil || len(kept) != 1 || !strings.HasSuffix(kept[0].Value, " N") || kept[0].Reading || !kept[0].Stands || kept[0].Title == "" {
		t.Fatalf("%v %+v", err, kept)
	}
	next := measuring.InstrumentAt{Name: "line-curve", Case: id}
	v, err := s.Measuring.Instrument(ctx, next)
	if err != nil || v.Values["spring"] != kept[0].Value || v.From["spring"] == "" {
		t.Errorf("%v %+v %+v", err, v.Values, v.From)
	}
	if _, err := s.Measuring.WithdrawMeasurement(ctx, id, cases.Guard{}, kept[0].ID, "Tobin"); err != nil {
		t.Fatal(err)
	}
	if v, err := s.Measuring.Instrument(ctx, next); err != nil || v.From["spring"] != "" {
		t.Errorf("%v: taken back, it still goes on: %+v", err, v.Values)
	}
	if kept, err = s.Measuring.Measurements(ctx, id); err != nil || len(kept) != 1 || kept[0].Stands {
		t.Errorf("%v: taken back, it is gone from the history: %+v", err, kept)
	}
	var none *problem.NotFoundError
	if _, err := s.Measuring.WithdrawMeasurement(ctx, id, cases.Guard{}, kept[0].ID, "Tobin"); !errors.As(err, &none) {
		t.Errorf("taken back twice: %v", err)
	}
}

// What goes on has the uncertainty of the gauge that it was read with; when the shop has it no longer, that of the usual one.
func TestWhatGoesOnKeepsItsGauge(t *testing.T) {
	s := apptest.New(t)
	if _, err := s.Shop.SaveGauges(ctx, []shop.Gauge{dial}, ""); err != nil {
		t.Fatal(err)
	}
	id := apptest.TakenIn(t, s).Case.ID
	if _, err := s.Measuring.PutCalculated(ctx, measuring.InstrumentAt{Name: "window:clearance-DC", Case: id}, cases.Guard{}, measuring.Use{Gauge: "dial", Values: map[string]string{"value": "1.50 mm"}}); err != nil {
		t.Fatal(err)
	}
	next := func() string {
		v, err := s.Measuring.Instrument(ctx, measuring.InstrumentAt{Name: "fill-time:DC", Case: id})
		if err != nil {
			t.Fatal(err)
		}
		return v.Values["clearance"]
	}
	// ± 0.1 mm of its own and the step of 0.01 mm, root sum of squares (JCGM 100)
	if got := next(); got != "1.50 ± 0.10 mm" {
		t.Errorf("%s with the gauge", got)
	}
	if _, err := s.Shop.SaveGauges(ctx, nil, ""); err != nil {
		t.Fatal(err)
	}
	if got := next(); got != "1.500 ± 0.031 mm" {
		t.Errorf("%s without it", got)
	}
}

// A measurement stands as long as one of its readings does: a correction replaces it, taking it back takes its reading.
func TestAMeasurementStandsWithItsReadings(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	at := measuring.InstrumentAt{Name: "window:clearance-DC", Case: id}
	for _, value := range []string{"2.60 mm", "1.50 mm"} {
		if _, err := s.Measuring.PutCalculated(ctx, at, cases.Guard{}, measuring.Use{Values: map[string]string{"value": value}}); err != nil {
			t.Fatal(err)
		}
	}
	kept, err := s.Measuring.Measurements(ctx, id)
	if err != nil || len(kept) != 2 || kept[0].Stands || !kept[1].Stands {
		t.Fatalf("%v %+v", err, kept)
	}
	if v, err := s.Measuring.Instrument(ctx, measuring.InstrumentAt{Name: "fill-time:DC", Case: id}); err != nil || !strings.HasPrefix(v.Values["clearance"], "1.5") {
		t.Errorf("%v: the corrected value does not go on: %v", err, v.Values["clearance"])
	}
	v, err := apptest.See(s)(s.Measuring.WithdrawMeasurement(ctx, id, cases.Guard{}, kept[1].ID, ""))
	if err != nil || len(v.Trail) != 0 {
		t.Errorf("%v: its reading stands: %+v", err, v.Trail)
	}
	if _, err := s.Intake.Update(ctx, id, cases.Guard{}, takein.Change{}); err != nil {
		t.Fatal(err)
	}
}

// A case file carries its measurements; they are computed anew where they arrive, and refused by name when they cannot be.
func TestMeasurementsTravelInTheCaseFile(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	if _, err := s.Measuring.PutCalculated(ctx, measuring.InstrumentAt{Name: "window:clearance-DC", Case: id}, cases.Guard{}, measuring.Use{Values: map[string]string{"value": "1.50 mm"}, By: "Tobin"}); err != nil {
		t.Fatal(err)
	}
	f, err := s.Intake.Export(ctx, id)
	if err != nil || len(f.Measurements) != 1 || f.Readings[0].Measurement != f.Measurements[0].ID {
		t.Fatalf("%v %+v", err, f)
	}
	v, err := apptest.See(s)(s.Intake.Import(ctx, f))
	if err != nil {
		t.Fatal(err)
	}
	kept, err := s.Measuring.Measurements(ctx, v.Case.ID)
	if err != nil || len(kept) != 1 || !kept[0].Stands || !kept[0].Reading || kept[0].By != "Tobin" || !strings.HasPrefix(kept[0].Value, "1.5") {
		t.Errorf("%v %+v", err, kept)
	}
	for field, spoil := range map[string]func(*takein.File){
		"measurements[0].values.value": func(f *takein.File) { f.Measurements[0].Values = map[string]string{"value": "thick"} },
		"measurements[0].instrument":   func(f *takein.File) { f.Measurements[0].Instrument = "crystal-ball" },
		"measurements[1].id":           func(f *takein.File) { f.Measurements = append(f.Measurements, f.Measurements[0]) },
		"readings[0].measurement":      func(f *takein.File) { f.Readings[0].Measurement = "m-other" },
	} {
		bad, err := s.Intake.Export(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		spoil(&bad)
		var fe *problem.FieldError
		if _, err := s.Intake.Import(ctx, bad); !errors.As(err, &fe) || fe.Field != field || fe.Accepted == "" {
			t.Errorf("%s: %v", field, err)
		}
	}
}
