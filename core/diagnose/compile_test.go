package diagnose_test

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/faultmap"
)

// tiny is a knowledge base of one template, enough to see what compiling does.
func tiny() diagnose.Knowledge {
	return diagnose.Knowledge{Version: "t",
		Findings: []diagnose.Finding{
			{ID: "look", Title: "Look", Stage: "checks", States: []diagnose.FindingState{{ID: "fine"}, {ID: "bad", Baseline: 0.1}, {ID: "worse", Baseline: 0.1}}},
			{ID: "plates.{id}", Title: "Plates, {element}", For: []string{"clutch"}, Stage: "teardown", States: []diagnose.FindingState{{ID: "sound"}, {ID: "burnt", Baseline: 0.02}}},
			{ID: "vacuum", Title: "Vacuum", Needs: "modulator", Stage: "checks", States: []diagnose.FindingState{{ID: "full"}, {ID: "none", Baseline: 0.05}}},
		},
		Causes: []diagnose.Cause{
			{ID: "lining.{id}", Title: "{Element} lining worn", For: []string{"clutch"}, System: "clutches", Weight: 1, Faults: []diagnose.FaultLink{{Kind: faultmap.ElementSlips, Hot: "always", Cold: "never"}},
				Links: []diagnose.Link{{Finding: "plates.{id}", State: "burnt", Strength: "usually"}, {Finding: "look", State: "bad", Strength: "often"}}, Repair: diagnose.Repair{Hours: 1, Access: "unit-apart"}},
			{ID: "never-worse", Title: "Never worse", System: "fluid", Weight: 1, Links: []diagnose.Link{{Finding: "look", State: "worse", Strength: "never"}}, Repair: diagnose.Repair{Hours: 1, Access: "ground"}},
		},
	}
}

func TestTemplatesAreFilledForEachElement(t *testing.T) {
	n, err := diagnose.Compile(tiny(), load(t).Units["norrad-h4"])
	if err != nil {
		t.Fatal(err)
	}
	for _, id := range []string{"FC", "RC", "DC"} {
		if _, ok := n.Finding("plates." + id); !ok {
			t.Errorf("no plates of %s", id)
		}
		if c, ok := n.Cause("lining." + id); !ok || strings.ContainsAny(c.Title, "{}") {
			t.Errorf("lining of %s: %q", id, c.Title)
		}
	}
	if _, ok := n.Cause("lining.OB"); ok {
		t.Error("a band got what clutches have")
	}
	if _, ok := n.Finding("vacuum"); ok {
		t.Error("a unit without modulator is asked for its vacuum")
	}
	if v3, err := diagnose.Compile(tiny(), load(t).Units["norrad-v3"]); err != nil {
		t.Fatal(err)
	} else if _, ok := v3.Finding("vacuum"); !ok {
		t.Error("a unit with modulator is not asked for its vacuum")
	}
}

// A fault that shows hot and never cold moves the hot cell and leaves the cold one at its baseline.
func TestHotAndColdAreKeptApart(t *testing.T) {
	n, err := diagnose.Compile(tiny(), load(t).Units["norrad-h4"])
	if err != nil {
		t.Fatal(err)
	}
	share := func(finding string) float64 {
		for _, s := range rank(t, n, []diagnose.Reading{{ID: "1", Finding: finding, State: "yes", Source: "seen"}}).Suspects {
			if s.Cause.ID == "lining.DC" {
				return s.Probability
			}
		}
		return 0
	}
	if hot, cold := share("road.hot.D4.slips"), share("road.cold.D4.slips"); hot < 0.5 || math.Abs(cold-0.25) > 1e-9 {
		t.Errorf("hot %v, cold %v (prior 0.25)", hot, cold)
	}
}

func TestNeverSpeaksAgainst(t *testing.T) {
	n, err := diagnose.Compile(tiny(), load(t).Units["norrad-h4"])
	if err != nil {
		t.Fatal(err)
	}
	r := rank(t, n, []diagnose.Reading{{ID: "1", Finding: "look", State: "worse", Source: "measured"}})
	for _, s := range r.Suspects {
		if s.Cause.ID == "never-worse" && (s.Probability >= 0.25 || s.Weights[0] >= 0) {
			t.Errorf("probability %v, weight %v", s.Probability, s.Weights[0])
		}
	}
}

func TestCompileNamesTheEntryAtFault(t *testing.T) {
	u := load(t).Units["norrad-h4"]
	for field, change := range map[string]func(*diagnose.Knowledge){
		"system":            func(k *diagnose.Knowledge) { k.Causes[1].System = "weather" },
		"repair.access":     func(k *diagnose.Knowledge) { k.Causes[1].Repair.Access = "moon" },
		"links[0].finding":  func(k *diagnose.Knowledge) { k.Causes[1].Links[0].Finding = "gone" },
		"links[0].state":    func(k *diagnose.Knowledge) { k.Causes[1].Links[0].State = "purple" },
		"links[0].strength": func(k *diagnose.Knowledge) { k.Causes[1].Links[0].Strength = "perhaps" },
		"faults[0]":         func(k *diagnose.Knowledge) { k.Causes[0].Faults[0].Kind = faultmap.Seized },
		"yields[0]": func(k *diagnose.Knowledge) {
			k.Checks = []diagnose.Check{{ID: "c", Access: "ground", Yields: []string{"gone"}}}
		},
		"access": func(k *diagnose.Knowledge) { k.Options = []diagnose.Option{{ID: "o", Access: "moon"}} },
		"cures": func(k *diagnose.Knowledge) {
			k.Options = []diagnose.Option{{ID: "o", Access: "ground", Cures: []diagnose.Cure{{Cause: "*", Chance: 1.5}}}}
		},
		"causes": func(k *diagnose.Knowledge) { k.Causes = nil },
	} {
		k := tiny()
		change(&k)
		_, err := diagnose.Compile(k, u)
		var ce *diagnose.CompileError
		if !errors.As(err, &ce) || ce.Field != field || ce.ID == "" {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// A likelihood vector that says nothing changes nothing.
func TestAFlatLikelihoodMovesNothing(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	before := rank(t, n, flare())
	after := rank(t, n, append(flare(), diagnose.Reading{ID: "flat", Finding: "cable-slack", State: "ok", Source: "measured", Likelihood: []float64{0.4, 0.4, 0.4}}))
	for i := range before.Suspects {
		if math.Abs(before.Suspects[i].Probability-after.Suspects[i].Probability) > 1e-12 {
			t.Fatalf("%s moved", before.Suspects[i].Cause.ID)
		}
	}
	if w := after.Suspects[0].Weights[len(flare())]; math.Abs(w) > 1e-6 {
		t.Errorf("its weight is %v", w)
	}
}

// Reading twice the same thing from two sources is stronger than from one, but never certain.
func TestTwoReportsOfOneFindingShareItsTruth(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	p := func(r ...diagnose.Reading) float64 {
		for _, s := range rank(t, n, r).Suspects {
			if s.Cause.ID == "fluid-low" {
				return s.Probability
			}
		}
		return 0
	}
	told := diagnose.Reading{ID: "1", Finding: "fluid-level", State: "low", Source: "customer"}
	seen := diagnose.Reading{ID: "2", Finding: "fluid-level", State: "low", Source: "seen"}
	denied := diagnose.Reading{ID: "3", Finding: "fluid-level", State: "ok", Source: "measured"}
	if one, two := p(told), p(told, seen); two <= one || two >= 1 {
		t.Errorf("one report %v, two %v", one, two)
	}
	if with, without := p(told, denied), p(told); with >= without {
		t.Errorf("a measurement against it left %v of %v", with, without)
	}
}

func TestTheHeadingStopsWhenTheCauseIsSure(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	sure := append(flare(), diagnose.Reading{ID: "8", Finding: "air-check.DC", State: "piston", Source: "measured"}, diagnose.Reading{ID: "9", Finding: "piston-seal.DC", State: "hard", Source: "measured"},
		diagnose.Reading{ID: "10", Finding: "seal-rings.DC", State: "sound", Source: "measured"}, diagnose.Reading{ID: "11", Finding: "accumulators", State: "sound", Source: "measured"}, diagnose.Reading{ID: "12", Finding: "shift-valves", State: "free", Source: "measured"})
	h, err := n.Next(sure, diagnose.Stand{Access: 5}, shop)
	if err != nil {
		t.Fatal(err)
	}
	if len(h.Best) > 0 && h.Best[0].Saves > 0.02*h.RepairBy {
		t.Errorf("%s is said to save %v of %v", h.Best[0].Check.ID, h.Best[0].Saves, h.RepairBy)
	}
	if len(h.Best) == 0 && h.Stop == "" {
		t.Error("stops without a reason")
	}
}

func TestTheBestDriveIsUndrivenAndOnlyWhileItCanDrive(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	a, err := n.BestDrive(flare(), diagnose.Stand{})
	if err != nil || !strings.HasPrefix(a.Check.ID, "drive.") || slices.ContainsFunc(flare(), func(r diagnose.Reading) bool { return r.Finding == a.Check.Yields[0] }) {
		t.Errorf("%s %v", a.Check.ID, err)
	}
	if a, _ := n.BestDrive(flare(), diagnose.Stand{Access: 4}); a.Check.ID != "" {
		t.Errorf("%s offered with the unit out", a.Check.ID)
	}
}
