package instruments_test

import (
	"slices"
	"strings"
	"testing"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/unitsheet"
)

// Every result that an input may take exists, has the input's dimension, and reaches it: alone and on a unit.
func TestResultsGoOnToOtherInstruments(t *testing.T) {
	type way struct{ from, to, input string }
	met := map[way]bool{}
	for _, f := range every(t) {
		if f.needsUnit() {
			continue
		}
		r, err := f.Run(f.sample(), instrument.Terms{})
		if err != nil {
			continue // told by another test
		}
		for _, next := range r.Next {
			d, err := instruments.For(next.Name, f.unit)
			if err != nil {
				t.Errorf("%s %s goes on to %s: %v", f.on, f.Name(), next.Name, err)
				continue
			}
			if !d.TakesFrom(f.Name()) {
				t.Errorf("%s goes on to %s, which does not know of it", f.Name(), d.Name())
			}
			typed := fitted{d, f.unit, f.on}.sample()
			for id, text := range next.Values {
				typed[id] = text
				met[way{f.ID, d.ID, id}] = true
			}
			if _, err := d.Run(typed, instrument.Terms{}); err != nil && !strings.Contains(err.Error(), "return spring") && !strings.Contains(err.Error(), "turbine") {
				t.Errorf("%s %s goes on to %s with %v: %v", f.on, f.Name(), next.Name, next.Values, err)
			}
		}
	}
	for _, d := range instruments.All() {
		for _, in := range d.Inputs {
			for _, from := range in.From {
				source, _, _ := strings.Cut(from, ":")
				source, _, _ = strings.Cut(source, ".")
				if !met[way{source, d.ID, in.ID}] {
					t.Errorf("%s never reaches %s of %s", from, in.ID, d.ID)
				}
			}
		}
	}
}

// What was measured on one clutch goes on to the same clutch and to no other, with its uncertainty.
func TestAClearanceGoesOnToItsOwnClutch(t *testing.T) {
	u := h4(t)
	measured, err := instruments.For("window:clearance-DC", u)
	if err != nil {
		t.Fatal(err)
	}
	r, err := measured.Run(map[string]string{"value": "1.52 ± 0.04 mm"}, instrument.Terms{})
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(r.Next, func(f instrument.Follow) bool { return f.Name == "fill-time:DC" })
	if i < 0 || r.Next[i].Values["clearance"] != "1.520 ± 0.040 mm" {
		t.Fatalf("%+v", r.Next)
	}
	for name, takes := range map[string]bool{"fill-time:DC": true, "fill-time:FC": false, "selective-fit:DC": true, "stall-speed": false} {
		d, err := instruments.For(name, u)
		if err != nil {
			t.Fatal(err)
		}
		if d.TakesFrom("window:clearance-DC") != takes {
			t.Errorf("%s takes from the direct clutch: %v", name, !takes)
		}
	}
	var none *unitsheet.Unit
	if d, err := instruments.For("fill-time", none); err != nil || !d.TakesFrom("stack-clearance") {
		t.Errorf("alone, a clearance from the stack does not go on: %v", err)
	}
}
