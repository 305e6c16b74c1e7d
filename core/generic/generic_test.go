package generic_test

import (
	"math"
	"strings"
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/generic"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	files "innercompass/knowledge"
)

// Every generic unit compiles, takes the trade's knowledge, says what it cannot, and marks its chart as assumed in every failure of an
// element.
func TestGenericUnitsDiagnoseAndSayWhatTheyCannot(t *testing.T) {
	c, err := catalog.Load(files.FS)
	if err != nil {
		t.Fatal(err)
	}
	var shipped []*unitsheet.Unit
	for _, u := range c.Units {
		shipped = append(shipped, u)
	}
	for _, g := range generic.Units {
		u, bad := unitsheet.Compile(g.Sheet(shipped))
		if len(bad) > 0 {
			t.Errorf("%s: %v", g.ID, bad[0])
			continue
		}
		if u.Sheet.Depth() != unitsheet.ByChart || len(u.Cannot()) < 3 || u.RatioKnown() {
			t.Errorf("%s: %s, cannot %v", g.ID, u.Sheet.Depth(), u.Cannot())
		}
		if u.Sheet.Leaks == nil || u.Sheet.Leaks.Across != g.Across && g.Kind != "parallel" && g.Kind != "manual" && g.Kind != "automated" {
			t.Errorf("%s: leak places of a unit that lies the other way", g.ID)
		}
		rows, err := faultmap.Map(u)
		if err != nil {
			t.Fatal(err)
		}
		for _, r := range rows {
			if r.Fault.Kind == faultmap.NeverApplies && !strings.Contains(strings.Join(r.Assumed, " "), "assumed") {
				t.Errorf("%s: %s does not say that it is assumed", g.ID, r.Title)
			}
		}
		if g.Gears == 6 || g.Kind == "two-speed" {
			n, err := knowledge.Compile(c.Knowledge, u)
			if err != nil {
				t.Errorf("%s: %v", g.ID, err)
				continue
			}
			// What solenoids shift has a harness, also while nobody has said which solenoids (common practice, no source).
			if _, ok := n.Cause("loom-chafed"); ok != (u.Sheet.Control == "electronic") {
				t.Errorf("%s, shifted %s: harness %v", g.ID, u.Sheet.Control, ok)
			}
		}
	}
}

// A sheet without a price for an exchange unit must not make one look free: every doubt would end in it, and nothing more be checked.
func TestAnExchangeIsNeverFree(t *testing.T) {
	c, err := catalog.Load(files.FS)
	if err != nil {
		t.Fatal(err)
	}
	eco := plan.Economics{LabourRate: 70}
	var shipped []*unitsheet.Unit
	least := math.Inf(1)
	for id, n := range c.Networks {
		shipped = append(shipped, c.Units[id])
		least = math.Min(least, plan.ExchangeCost(n, unitsheet.Ground, eco))
	}
	for _, g := range generic.Units {
		u, _ := unitsheet.Compile(g.Sheet(shipped))
		n, err := knowledge.Compile(c.Knowledge, u)
		if err != nil {
			t.Fatal(err)
		}
		if got := plan.ExchangeCost(n, unitsheet.Ground, eco); got < least {
			t.Errorf("%s: exchanged for %.0f, the cheapest that ships for %.0f", g.ID, got, least)
		}
	}
}
