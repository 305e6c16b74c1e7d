package casework_test

import (
	"errors"
	"strings"
	"testing"
	"time"

	"innercompass/internal/casework"
)

var dial = casework.Gauge{ID: "dial", Name: "dial indicator", Dimension: "length", Resolution: "0.01 mm", Uncertainty: "0.1 mm", Until: "2020-01-31"}

func TestGaugesAreKeptAndCheckedAllOrNone(t *testing.T) {
	s := shop(t)
	book, err := s.SaveGauges(ctx, []casework.Gauge{dial, {Name: "thermometer", Dimension: "temperature", Resolution: "1 °C"}}, "")
	kept := book.Gauges
	if err != nil || len(kept) != 2 || kept[1].ID == "" {
		t.Fatalf("%v %+v", err, kept)
	}
	if !kept[0].Overdue(time.Date(2026, 5, 1, 0, 0, 0, 0, time.UTC)) || kept[0].Overdue(time.Date(2020, 1, 31, 0, 0, 0, 0, time.UTC)) || kept[1].Overdue(time.Now()) {
		t.Error("calibration ends on the wrong day")
	}
	for field, bad := range map[string]casework.Gauge{
		"gauges[1].name":        {Dimension: "length", Resolution: "1 mm"},
		"gauges[1].dimension":   {Name: "x", Dimension: "beauty", Resolution: "1 mm"},
		"gauges[1].resolution":  {Name: "x", Dimension: "length", Resolution: "1 psi"},
		"gauges[1].uncertainty": {Name: "x", Dimension: "length", Uncertainty: "-1 mm"},
		"gauges[1].until":       {Name: "x", Dimension: "length", Resolution: "1 mm", Until: "soon"},
		"gauges[1].id":          dial,
	} {
		var fe *casework.FieldError
		if _, err := s.SaveGauges(ctx, []casework.Gauge{dial, bad}, ""); !errors.As(err, &fe) || fe.Field != field || fe.Accepted == "" {
			t.Errorf("%s: %v", field, err)
		}
	}
	if all, err := s.Store.Gauges(ctx); err != nil || len(all) != 2 {
		t.Errorf("a refused list changed what is kept: %v %+v", err, all)
	}
}

// A coarse gauge near a limit says less: its likelihoods are flatter, and the case moves less.
func TestTheGaugeChosenDecidesWhatAMeasurementSays(t *testing.T) {
	s := shop(t)
	if _, err := s.SaveGauges(ctx, []casework.Gauge{dial}, ""); err != nil {
		t.Fatal(err)
	}
	id := takeIn(t, s).Case.ID
	at := casework.InstrumentAt{Name: "window:end-play", Case: id}
	typed := map[string]string{"value": "0.85 mm"}
	usual, _, err := s.Calculate(ctx, at, "", typed)
	if err != nil {
		t.Fatal(err)
	}
	coarse, _, err := s.Calculate(ctx, at, "dial", typed)
	if err != nil || coarse.Stated[0].Likelihood["above"] >= usual.Stated[0].Likelihood["above"] {
		t.Errorf("%v: above %v with the usual gauge, %v with a coarse one", err, usual.Stated[0].Likelihood["above"], coarse.Stated[0].Likelihood["above"])
	}
	var fe *casework.FieldError
	if _, _, err := s.Calculate(ctx, at, "sundial", typed); !errors.As(err, &fe) || fe.Field != "gauge" {
		t.Errorf("%v", err)
	}
}

// What is measured stands in the case, comes back when the instrument is taken up again, and is told as its history.
func TestAMeasurementStandsInTheCase(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	at := casework.InstrumentAt{Name: "window:end-play", Case: id}
	v, err := s.PutCalculated(ctx, at, casework.Guard{Key: "k1"}, casework.Use{Values: map[string]string{"value": "1.4 mm"}, By: "Tobin"})
	if err != nil || len(v.Trail) != 1 || v.Trail[0].State != "above" || !strings.Contains(v.Trail[0].Value, "1.4") {
		t.Fatalf("%v %+v", err, v.Trail)
	}
	if v, err = s.PutCalculated(ctx, at, casework.Guard{Key: "k1"}, casework.Use{Values: map[string]string{"value": "1.4 mm"}, By: "Tobin"}); err != nil || len(v.Trail) != 1 {
		t.Errorf("the same key again: %v, %d readings", err, len(v.Trail))
	}
	again, err := s.Instrument(ctx, at)
	if err != nil || again.Values["value"] != "1.4 mm" || len(again.History) != 1 || again.History[0].By != "Tobin" || !again.History[0].Reading || again.History[0].Says == "" {
		t.Errorf("%v %+v %+v", err, again.Values, again.History)
	}
	// A second measurement stands beside the first.
	if v, err = s.PutCalculated(ctx, at, casework.Guard{}, casework.Use{Values: map[string]string{"value": "0.5 mm"}, Again: true}); err != nil || len(v.Trail) != 2 || !v.Trail[1].Again {
		t.Errorf("%v %+v", err, v.Trail)
	}
	var none *casework.NotFoundError
	for _, name := range []string{"crystal-ball", "window:beauty", "plate-capacity:Z9"} {
		if _, err := s.Instrument(ctx, casework.InstrumentAt{Name: name, Case: id}); !errors.As(err, &none) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// In a shop with imperial units the same instrument reads and writes inches.
func TestInstrumentsSpeakTheUnitsOfTheShop(t *testing.T) {
	s := shop(t)
	st := casework.DefaultSettings()
	st.Length, st.Torque = "in", "lbf·ft"
	if _, err := s.SaveSettings(ctx, st); err != nil {
		t.Fatal(err)
	}
	r, _, err := s.Calculate(ctx, casework.InstrumentAt{Name: "window:end-play", Unit: "norrad-h4"}, "", map[string]string{"value": "0.02"})
	if err != nil || r.Stated[0].State != "ok" || !strings.HasSuffix(r.Stated[0].Value, " in") {
		t.Errorf("%v %+v", err, r.Stated)
	}
	v, err := s.Instrument(ctx, casework.InstrumentAt{Name: "band-capacity:OB", Unit: "norrad-h4"})
	if err != nil || !strings.HasSuffix(v.Values["drum"], " in") {
		t.Errorf("%v %+v", err, v.Values)
	}
}

// What states no finding is kept all the same, once for a key, and goes on to the instruments that take it; taken back, it
// no longer does and stays in the history.
func TestWhatIsMeasuredGoesOnToOtherInstruments(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	wire := casework.InstrumentAt{Name: "spring-wire", Case: id}
	for range 2 {
		v, err := s.PutCalculated(ctx, wire, casework.Guard{Key: "k"}, casework.Use{Values: map[string]string{"wire": "2 mm", "outside": "20 mm", "free": "60 mm", "at": "40 mm"}, By: "Tobin"})
		if err != nil || len(v.Trail) != 0 {
			t.Fatalf("%v %+v", err, v.Trail)
		}
	}
	kept, err := s.Measurements(ctx, id)
	if err != nil || len(kept) != 1 || !strings.HasSuffix(kept[0].Value, " N") || kept[0].Reading || !kept[0].Stands || kept[0].Title == "" {
		t.Fatalf("%v %+v", err, kept)
	}
	next := casework.InstrumentAt{Name: "line-curve", Case: id}
	v, err := s.Instrument(ctx, next)
	if err != nil || v.Values["spring"] != kept[0].Value || v.From["spring"] == "" {
		t.Errorf("%v %+v %+v", err, v.Values, v.From)
	}
	if _, err := s.WithdrawMeasurement(ctx, id, casework.Guard{}, kept[0].ID, "Tobin"); err != nil {
		t.Fatal(err)
	}
	if v, err := s.Instrument(ctx, next); err != nil || v.From["spring"] != "" {
		t.Errorf("%v: taken back, it still goes on: %+v", err, v.Values)
	}
	if kept, err = s.Measurements(ctx, id); err != nil || len(kept) != 1 || kept[0].Stands {
		t.Errorf("%v: taken back, it is gone from the history: %+v", err, kept)
	}
	var none *casework.NotFoundError
	if _, err := s.WithdrawMeasurement(ctx, id, casework.Guard{}, kept[0].ID, "Tobin"); !errors.As(err, &none) {
		t.Errorf("taken back twice: %v", err)
	}
}

// What goes on has the uncertainty of the gauge that it was read with; when the shop has it no longer, that of the usual one.
func TestWhatGoesOnKeepsItsGauge(t *testing.T) {
	s := shop(t)
	if _, err := s.SaveGauges(ctx, []casework.Gauge{dial}, ""); err != nil {
		t.Fatal(err)
	}
	id := takeIn(t, s).Case.ID
	if _, err := s.PutCalculated(ctx, casework.InstrumentAt{Name: "window:clearance-DC", Case: id}, casework.Guard{}, casework.Use{Gauge: "dial", Values: map[string]string{"value": "1.50 mm"}}); err != nil {
		t.Fatal(err)
	}
	next := func() string {
		v, err := s.Instrument(ctx, casework.InstrumentAt{Name: "fill-time:DC", Case: id})
		if err != nil {
			t.Fatal(err)
		}
		return v.Values["clearance"]
	}
	// ± 0.1 mm of its own and the step of 0.01 mm, root sum of squares (JCGM 100)
	if got := next(); got != "1.50 ± 0.10 mm" {
		t.Errorf("%s with the gauge", got)
	}
	if _, err := s.SaveGauges(ctx, nil, ""); err != nil {
		t.Fatal(err)
	}
	if got := next(); got != "1.500 ± 0.031 mm" {
		t.Errorf("%s without it", got)
	}
}

// A measurement stands as long as one of its readings does: a correction replaces it, taking it back takes its reading.
func TestAMeasurementStandsWithItsReadings(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	at := casework.InstrumentAt{Name: "window:clearance-DC", Case: id}
	for _, value := range []string{"2.60 mm", "1.50 mm"} {
		if _, err := s.PutCalculated(ctx, at, casework.Guard{}, casework.Use{Values: map[string]string{"value": value}}); err != nil {
			t.Fatal(err)
		}
	}
	kept, err := s.Measurements(ctx, id)
	if err != nil || len(kept) != 2 || kept[0].Stands || !kept[1].Stands {
		t.Fatalf("%v %+v", err, kept)
	}
	if v, err := s.Instrument(ctx, casework.InstrumentAt{Name: "fill-time:DC", Case: id}); err != nil || !strings.HasPrefix(v.Values["clearance"], "1.5") {
		t.Errorf("%v: the corrected value does not go on: %v", err, v.Values["clearance"])
	}
	v, err := s.WithdrawMeasurement(ctx, id, casework.Guard{}, kept[1].ID, "")
	if err != nil || len(v.Trail) != 0 {
		t.Errorf("%v: its reading stands: %+v", err, v.Trail)
	}
	if _, err := s.Update(ctx, id, casework.Guard{}, casework.Change{}); err != nil {
		t.Fatal(err)
	}
}

// A case file carries its measurements; they are computed anew where they arrive, and refused by name when they cannot be.
func TestMeasurementsTravelInTheCaseFile(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	if _, err := s.PutCalculated(ctx, casework.InstrumentAt{Name: "window:clearance-DC", Case: id}, casework.Guard{}, casework.Use{Values: map[string]string{"value": "1.50 mm"}, By: "Tobin"}); err != nil {
		t.Fatal(err)
	}
	f, err := s.Export(ctx, id)
	if err != nil || len(f.Measurements) != 1 || f.Readings[0].Measurement != f.Measurements[0].ID {
		t.Fatalf("%v %+v", err, f)
	}
	v, err := s.Import(ctx, f)
	if err != nil {
		t.Fatal(err)
	}
	kept, err := s.Measurements(ctx, v.Case.ID)
	if err != nil || len(kept) != 1 || !kept[0].Stands || !kept[0].Reading || kept[0].By != "Tobin" || !strings.HasPrefix(kept[0].Value, "1.5") {
		t.Errorf("%v %+v", err, kept)
	}
	for field, spoil := range map[string]func(*casework.File){
		"measurements[0].values.value": func(f *casework.File) { f.Measurements[0].Values = map[string]string{"value": "thick"} },
		"measurements[0].instrument":   func(f *casework.File) { f.Measurements[0].Instrument = "crystal-ball" },
		"measurements[1].id":           func(f *casework.File) { f.Measurements = append(f.Measurements, f.Measurements[0]) },
		"readings[0].measurement":      func(f *casework.File) { f.Readings[0].Measurement = "m-other" },
	} {
		bad, err := s.Export(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		spoil(&bad)
		var fe *casework.FieldError
		if _, err := s.Import(ctx, bad); !errors.As(err, &fe) || fe.Field != field || fe.Accepted == "" {
			t.Errorf("%s: %v", field, err)
		}
	}
}
