package decide_test

import (
	"math"
	"testing"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/unitsheet"
)

func lookedOver(t *testing.T, km float64, from unitsheet.Access, ch decide.Choices) decide.Comparison {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	n := c.Networks["norrad-h4"]
	a, err := diagnose.Assess(n, diagnose.Situation{Distance: km, Readings: []diagnose.Reading{{ID: "1", Finding: "purpose", State: "preventive", Source: "customer"}}})
	if err != nil {
		t.Fatal(err)
	}
	out, err := decide.NewModel(n, a, from, rates, nil).Compare(ch)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// The sheet names 140,000 to 220,000 km for the seals of the direct clutch. With eight in ten of those that fail between, their distances
// log-normal, and four in ten failing at all, the chance of the next 50,000 km is recomputed here from the error function.
func TestWhatMayComeIsTheShareOfThoseLeft(t *testing.T) {
	const from, to, z = 140_000.0, 220_000.0, 1.2815515655446004 // quantile 0.9 of the normal distribution, NIST/SEMATECH e-Handbook 1.3.6.7.1
	below := func(km float64) float64 {
		return 0.5 * math.Erfc(-(math.Log(km)-0.5*math.Log(from*to))/(math.Log(to/from)/(2*z))/math.Sqrt2)
	}
	for _, km := range []float64{60_000, 142_000, 230_000} {
		want := 0.4 * (below(km+50_000) - below(km)) / (1 - 0.4*below(km))
		found := false
		for _, p := range lookedOver(t, km, unitsheet.Ground, decide.Choices{}).Ahead {
			if p.Cause.ID == "piston-seal.DC" {
				found = true
				if math.Abs(p.Chance-want) > 1e-6 {
					t.Errorf("at %g km: %.5f, want %.5f", km, p.Chance, want)
				}
			}
		}
		if !found {
			t.Errorf("at %g km the seals are not looked ahead at", km)
		}
	}
	if got := lookedOver(t, 0, unitsheet.Ground, decide.Choices{}).Ahead; len(got) != 0 {
		t.Errorf("without the distance: %+v", got)
	}
}

// What the unit is out for anyway costs its own work alone: apart on the bench the seals are due that were not worth taking it out for. Without
// a complaint nothing else is sold, and the works that are due stand in the row that is advised.
func TestWhatIsOpenIsDoneInTime(t *testing.T) {
	due := func(c decide.Comparison, id string) (decide.Prevention, bool) {
		for _, p := range c.Ahead {
			if p.Cause.ID == id {
				return p, p.Due()
			}
		}
		return decide.Prevention{}, false
	}
	ground, apart := lookedOver(t, 142_000, unitsheet.Ground, decide.Choices{}), lookedOver(t, 142_000, unitsheet.UnitApart, decide.Choices{})
	if p, yes := due(ground, "piston-seal.DC"); yes || p.Open {
		t.Errorf("from the ground: %+v", p)
	}
	p, yes := due(apart, "piston-seal.DC")
	if !yes || !p.Open || p.Now >= p.Expected() {
		t.Errorf("apart: %+v", p)
	}
	best := apart.Rows[0]
	if best.Option.ID != "in-time" || len(best.With) == 0 || best.Pay <= p.Now {
		t.Errorf("%s costs %v with %v", best.Title(), best.Pay, best.With)
	}
	for _, c := range []decide.Comparison{ground, lookedOver(t, 142_000, unitsheet.UnitApart, decide.Choices{Ahead: 10})} {
		if b := c.Rows[0]; b.Option.ID != "in-time" || len(b.With) != 0 {
			t.Errorf("nothing is due, and %s is advised", b.Title())
		}
	}
	for _, r := range (situation{}).compare(t, decide.Choices{}).Rows {
		if r.Option.ID == "in-time" {
			t.Error("a vehicle with a complaint is looked over in time")
		}
	}
}
