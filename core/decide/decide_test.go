package decide_test

import (
	"math"
	"strings"
	"sync"
	"testing"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	"innercompass/knowledge"
)

// loaded compiles the shipped knowledge once for all tests.
var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(knowledge.FS) })

var rates = decide.Rates{Labour: 84, FluidLitre: 11, Rediagnose: 1.5, Goodwill: 180, Trial: 60}

func compare(t *testing.T, readings []diagnose.Reading, from unitsheet.Access, r decide.Rates) decide.Comparison {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	n := c.Networks["norrad-h4"]
	a, err := n.Assess(diagnose.Situation{Readings: readings})
	if err != nil {
		t.Fatal(err)
	}
	return decide.Compare(n, a, from, r)
}

func sure() []diagnose.Reading {
	return []diagnose.Reading{
		{ID: "1", Finding: "road.hot.D3.shift", State: "flare", Source: "seen"}, {ID: "2", Finding: "pressure-pattern", State: "low-DC", Source: "measured"},
		{ID: "3", Finding: "air-check.DC", State: "piston", Source: "measured"}, {ID: "4", Finding: "piston-seal.DC", State: "hard", Source: "seen"},
		// Heat hardens seals too: without these the root may lie in the cooling, and a reseal would not last.
		{ID: "5", Finding: "fluid-temperature", State: "usual", Source: "measured"}, {ID: "6", Finding: "cooler-flow", State: "full", Source: "measured"}, {ID: "7", Finding: "fluid-level", State: "ok", Source: "measured"},
		{ID: "8", Finding: "pressure-rise", State: "rises", Source: "measured"},
	}
}

func TestASureCauseIsRepairedNotOverhauled(t *testing.T) {
	c := compare(t, sure(), unitsheet.UnitApart, rates)
	best := c.Rows[0]
	if best.Option.ID != "reseal.DC" || best.Cured < 0.8 || c.Headline != best.Option.Title {
		t.Errorf("best %s, cured %.2f, %q", best.Option.ID, best.Cured, c.Headline)
	}
	if len(c.Rows) < 3 || !strings.Contains(c.BreakEven.Sentence, "would have to cost") {
		t.Errorf("%d rows, %q", len(c.Rows), c.BreakEven.Sentence)
	}
}

func TestNothingKnownIsTooEarlyToDecide(t *testing.T) {
	c := compare(t, nil, unitsheet.Ground, rates)
	if !strings.HasPrefix(c.Headline, "Too early") {
		t.Errorf("headline %q", c.Headline)
	}
	for _, always := range []string{"watch", "overhaul", "exchange"} {
		if _, ok := c.Find(always); !ok {
			t.Errorf("%s is not laid out", always)
		}
	}
}

// The break-even price is where the order turns: recompute with the winner at that price.
func TestBreakEvenPriceTurnsTheOrder(t *testing.T) {
	c := compare(t, sure(), unitsheet.UnitApart, rates)
	win, next := c.Rows[0], c.Rows[1]
	for delta, winnerLeads := range map[float64]bool{-1: true, 1: false} {
		expected := win.Expected - win.Sure + c.BreakEven.Price + delta
		if (expected < next.Expected) != winnerLeads {
			t.Errorf("at %v from break-even: %v against %v", delta, expected, next.Expected)
		}
	}
}

func TestMoneyAddsUp(t *testing.T) {
	for _, r := range compare(t, sure(), unitsheet.Lifted, rates).Rows {
		if math.Abs(r.Labour+r.Parts+r.Fluid-r.Sure) > 1e-9 || math.Abs(r.Sure+r.Return-r.Expected) > 1e-9 {
			t.Errorf("%s: %+v", r.Option.ID, r)
		}
		if r.Cured < 0 || r.Cured > 1 || r.Low > r.High || r.Return < 0 {
			t.Errorf("%s: cured %v, span %v to %v", r.Option.ID, r.Cured, r.Low, r.High)
		}
	}
}

// Access that is already paid for makes every deep repair cheaper by exactly its labour.
func TestAccessIsPaidOnce(t *testing.T) {
	ground, _ := compare(t, sure(), unitsheet.Ground, rates).Find("reseal.DC")
	apart, _ := compare(t, sure(), unitsheet.UnitApart, rates).Find("reseal.DC")
	if want := (10 + 25 + 45 + 170 + 110) / 60.0 * rates.Labour; math.Abs(ground.Sure-apart.Sure-want) > 1e-9 {
		t.Errorf("difference %v, want %v", ground.Sure-apart.Sure, want)
	}
}

// The low end of the span lies within the spread of the sure cost when most cases are cured.
func TestSpanFollowsTheSureCost(t *testing.T) {
	r, _ := compare(t, sure(), unitsheet.UnitApart, rates).Find("overhaul")
	if want := r.Sure * (1 - 1.645*r.Option.Spread); math.Abs(r.Low-want) > 0.02*want {
		t.Errorf("5 in 100 cases at %v, want about %v", r.Low, want)
	}
}
