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
	kept, err := s.SaveGauges(ctx, []casework.Gauge{dial, {Name: "thermometer", Dimension: "temperature", Resolution: "1 °C"}})
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
		if _, err := s.SaveGauges(ctx, []casework.Gauge{dial, bad}); !errors.As(err, &fe) || fe.Field != field || fe.Accepted == "" {
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
	if _, err := s.SaveGauges(ctx, []casework.Gauge{dial}); err != nil {
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
	v, err := s.PutCalculated(ctx, at, casework.Measurement{Values: map[string]string{"value": "1.4 mm"}, Key: "k1", By: "Tobin"})
	if err != nil || len(v.Trail) != 1 || v.Trail[0].State != "above" || !strings.Contains(v.Trail[0].Value, "1.4") {
		t.Fatalf("%v %+v", err, v.Trail)
	}
	if v, err = s.PutCalculated(ctx, at, casework.Measurement{Values: map[string]string{"value": "1.4 mm"}, Key: "k1"}); err != nil || len(v.Trail) != 1 {
		t.Errorf("the same key again: %v, %d readings", err, len(v.Trail))
	}
	again, err := s.Instrument(ctx, at)
	if err != nil || again.Values["value"] != "1.4 mm" || len(again.History) != 1 || again.History[0].By != "Tobin" {
		t.Errorf("%v %+v %+v", err, again.Values, again.History)
	}
	// A second measurement stands beside the first.
	if v, err = s.PutCalculated(ctx, at, casework.Measurement{Values: map[string]string{"value": "0.5 mm"}, Again: true}); err != nil || len(v.Trail) != 2 || !v.Trail[1].Again {
		t.Errorf("%v %+v", err, v.Trail)
	}
	var state *casework.StateError
	if _, err := s.PutCalculated(ctx, casework.InstrumentAt{Name: "orifice", Case: id}, casework.Measurement{Values: map[string]string{}}); !errors.As(err, &state) {
		t.Errorf("what states nothing was put in: %v", err)
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
