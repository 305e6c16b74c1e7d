package estimate_test

import (
	"testing"

	"innercompass/core/estimate"
	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/pricebook"
	"innercompass/core/unitsheet"
	"innercompass/internal/trial"
)

// Two works in one visit open the vehicle up once, as deep as the deeper needs, and of two fills the larger is made; from where it is open
// already, opening costs nothing. The amounts are recomputed by hand from hours, rates and litres.
func TestOneVisitOpensUpOnce(t *testing.T) {
	unit := trial.Load(t).Networks["norrad-h4"].Unit
	rates := pricebook.Rates{Labour: 84, FluidLitre: 11, Tax: 0.2, Guide: true}
	f := estimate.Figures{Rates: rates}
	pan := estimate.Work{Option: knowledge.Option{ID: "pan", Title: "Pan work", Hours: 0.5, Parts: 20, Fluid: "refill"}, Level: unitsheet.PanOff, Quality: "new"}
	apart := estimate.Work{Option: knowledge.Option{ID: "apart", Title: "Work apart", Hours: 2, Parts: 100, Fluid: "fill"}, Level: unitsheet.UnitApart, Quality: "new"}
	at := func(from unitsheet.Access) estimate.Estimator {
		return estimate.Estimator{Unit: unit, From: from, Rates: rates}
	}
	of := func(b estimate.Bill, kind string) (n int, sum money.Amount) {
		for _, l := range b.Lines {
			if l.Kind == kind {
				n, sum = n+1, sum+l.Total
			}
		}
		return n, sum
	}
	for from, minutes := range map[unitsheet.Access]float64{unitsheet.Ground: unit.AccessMinutes(unitsheet.Ground, unitsheet.UnitApart), unitsheet.UnitApart: 0} {
		b := at(from).Bill([]estimate.Work{pan, apart}, f)
		n, opening := of(b, estimate.Access)
		if want := money.Of(minutes / 60 * rates.Labour); opening != want || n > 1 {
			t.Errorf("from %s: %d lines of opening up, %v, want %v", from, n, opening, want)
		}
		if n, fluid := of(b, estimate.Fluid); n != 1 || fluid != money.Of(unit.Capacity.SI*1000*rates.FluidLitre) {
			t.Errorf("from %s: %d fills, %v", from, n, fluid)
		}
		if _, labour := of(b, estimate.Labour); labour != money.Of(2.5*rates.Labour) || b.Parts() != money.Of(120) || b.Labour() != labour+opening {
			t.Errorf("from %s: labour %v, parts %v", from, labour, b.Parts())
		}
		if b.Pay != b.Net+b.Tax || b.Tax != money.Of(0.2*b.Net.Major()) || len(b.Missing) != 0 {
			t.Errorf("from %s: %+v", from, b.Sum)
		}
	}
	own := at(unitsheet.UnitApart)
	own.Rates.Guide = false
	if b := own.Bill([]estimate.Work{apart}, f); len(b.Missing) != 1 || b.Parts() != 0 {
		t.Errorf("without guide prices: missing %v, parts %v", b.Missing, b.Parts())
	}
}
