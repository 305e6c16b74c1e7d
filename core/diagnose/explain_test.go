package diagnose_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
	"innercompass/internal/trial"
)

// Every link of a chain is a sentence of the knowledge, it runs from the root to readings, and what it cannot explain
// is left over.
func TestAChainRunsFromTheRootToTheReadings(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	a := trial.Rank(t, n, append(trial.Flare(), diagnose.Reading{ID: "odd", Finding: "wet-rail", State: "wet", Source: "seen"}))
	c, err := a.Chain("piston-seal.DC")
	if err != nil {
		t.Fatal(err)
	}
	if c.Nodes[0].ID != "piston-seal.DC" || c.Nodes[0].Depth != 0 || !slices.Contains(c.Left, "odd") {
		t.Errorf("begins with %+v, leaves over %v", c.Nodes[0], c.Left)
	}
	reached := map[int]bool{0: true}
	for range c.Nodes {
		for _, l := range c.Links {
			if reached[l.From] {
				reached[l.To] = true
			}
			if c.Nodes[l.To].Depth <= c.Nodes[l.From].Depth || l.Why == "" {
				t.Errorf("link %+v", l)
			}
			if from := c.Nodes[l.From]; from.Kind != "fault" {
				e, ok := n.Entry(from.Kind, from.ID)
				if !ok || !slices.ContainsFunc(e.Sections, func(s knowledge.Section) bool {
					return slices.ContainsFunc(s.Sentences, func(x knowledge.Sentence) bool { return x.To.ID == c.Nodes[l.To].ID && x.Why == l.Why })
				}) {
					t.Errorf("the knowledge does not say that %s brings about %s because %s", from.ID, c.Nodes[l.To].ID, l.Why)
				}
			}
		}
	}
	if len(reached) != len(c.Nodes) {
		t.Errorf("%d of %d nodes hang on the root", len(reached), len(c.Nodes))
	}
	said := strings.Join(c.Sentences(), "\n")
	if !strings.Contains(said, "Shift into D3, hot: flares") && !strings.Contains(said, "shift into D3, hot: flares") {
		t.Errorf("the flare is not told:\n%s", said)
	}
	if _, err := a.Chain("gremlins"); err == nil {
		t.Error("a chain from a cause that is not there")
	}
}

func TestCircumstancesAreWhatTheOddsAreMultipliedBy(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	told := []diagnose.Reading{{ID: "1", Finding: "prior-work", State: "opened", Source: "measured"}}
	a, err := diagnose.Assess(n, diagnose.Situation{Readings: told, Distance: 240_000})
	if err != nil {
		t.Fatal(err)
	}
	for _, cause := range []string{"piston-seal.DC", "trap-missed", "clearance.DC"} {
		product := 1.0
		for _, c := range a.Circumstances(cause) {
			product *= c.Factor
			if c.Why == "" {
				t.Errorf("%s: %s has no reason", cause, c.Title)
			}
		}
		// Relative to a cause that neither wears nor depends on history the ratio of odds is that product.
		odds := func(x *diagnose.Assessment, id string) float64 {
			for _, s := range x.Suspects {
				if s.Cause.ID == id {
					return s.Probability / (1 - s.Probability)
				}
			}
			return math.NaN()
		}
		const steady = "mount-soft"
		rest := 1.0
		for _, c := range a.Circumstances(steady) {
			rest *= c.Factor
		}
		got := odds(a, cause) / n.Odds[n.NodeAt[cause]] / (odds(a, steady) / n.Odds[n.NodeAt[steady]])
		if math.Abs(math.Log(got/(product/rest))) > 0.15 { // "something is wrong" couples causes a little
			t.Errorf("%s: odds changed by %.3f, circumstances say %.3f", cause, got, product/rest)
		}
	}
}

// A design that is known to fail between 140,000 and 220,000 km is suspected more there than at 20,000, whichever unit the sheet
// is written in: the same window in miles, and in hours at 40 km each, weighs the same.
func TestAKnownFailureCountsWhereItIsKnown(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	factor := func(n *knowledge.Network, km float64) float64 {
		t.Helper()
		a, err := diagnose.Assess(n, diagnose.Situation{Readings: trial.Flare(), Distance: km})
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range a.Circumstances("piston-seal.DC") {
			if c.Title == "This unit is known for it" {
				return c.Factor
			}
		}
		return 1
	}
	if inside, before := factor(n, 180_000), factor(n, 20_000); inside < 4.9 || before > 1.2 {
		t.Errorf("factor %.2f inside the window, %.2f long before it", inside, before)
	}
	at := slices.IndexFunc(n.Unit.Known, func(k unitsheet.KnownFailure) bool { return k.Cause == "piston-seal.DC" })
	if k := n.Unit.Known[at]; k.From != 140_000 || k.To != 220_000 || k.InHours {
		t.Errorf("140000..220000 km was read as %+v", k)
	}
	for text, want := range map[string]unitsheet.KnownFailure{"100000..200000 mi": {From: 160934.4, To: 321868.8}, "2000..4000 h": {From: 2000, To: 4000, InHours: true}} {
		sheet := n.Unit.Sheet
		sheet.Known = []unitsheet.KnownSheet{{Title: "x", Cause: "piston-seal.DC", Distance: text}}
		u, bad := unitsheet.Compile(sheet)
		if len(bad) > 0 || math.Abs(u.Known[0].From-want.From) > 1e-6 || math.Abs(u.Known[0].To-want.To) > 1e-6 || u.Known[0].InHours != want.InHours {
			t.Errorf("%s: %v %+v", text, bad, u)
		}
	}
}

// The needle shows how sure the ranking is: nothing read leaves much doubt, readings that settle it leave little.
func TestDoubtFallsAsItIsSettled(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	before := 1.1
	for _, readings := range [][]diagnose.Reading{nil, trial.Flare()[:3], trial.Flare()} {
		a, err := diagnose.Assess(n, diagnose.Situation{Readings: readings, Distance: 142_310})
		if err != nil {
			t.Fatal(err)
		}
		if !(a.Entropy > 0 && a.Entropy < before) {
			t.Errorf("doubt %.3f after %d readings, %.3f before", a.Entropy, len(readings), before)
		}
		before = a.Entropy
	}
}

// Two looks that agree weigh more than one, two that differ much less; and a reading that nothing else supports is worth a
// second look, while one that all the others support is not.
func TestAReadingIsLookedAtAgain(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	share := func(looks ...string) float64 {
		var s diagnose.Situation
		for i, state := range looks {
			s.Readings = append(s.Readings, diagnose.Reading{ID: fmt.Sprint(i), Finding: "filter", State: state, Source: "seen"})
		}
		a, err := diagnose.Assess(n, s)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range a.Suspects {
			if x.Cause.ID == "filter-blocked" {
				return x.Probability
			}
		}
		t.Fatal("no such cause")
		return 0
	}
	one, two, split := share("blocked"), share("blocked", "blocked"), share("blocked", "clean")
	if !(two > one && one > 3*split) {
		t.Errorf("blocked once %.3f, twice %.3f, once each %.3f", one, two, split)
	}
	const cell = "road.hot.D3.shift"
	tells := func(readings ...diagnose.Reading) float64 {
		a := trial.Rank(t, n, readings)
		for _, x := range plan.Advise(a, plan.VehicleState{}, trial.Shop) {
			if len(x.Check.Yields) == 1 && x.Check.Yields[0] == cell {
				if !x.Again {
					t.Errorf("%s is not said to be a second look", x.Check.ID)
				}
				return x.InformationGain
			}
		}
		return 0
	}
	odd := diagnose.Reading{ID: "1", Finding: cell, State: "flare", Source: "seen"}
	same := odd
	same.ID = "2"
	low := diagnose.Reading{ID: "3", Finding: "pressure-pattern", State: "low-DC", Source: "measured"}
	if alone, supported := tells(odd), tells(odd, low); !(alone > supported && supported >= 0) {
		t.Errorf("a second look at what nothing supports tells %.4f, at what another reading supports %.4f", alone, supported)
	}
	if third := tells(odd, same); third != 0 {
		t.Errorf("a third look tells %.4f", third)
	}
}
