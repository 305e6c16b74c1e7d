package diagnose_test

import (
	"context"
	"math"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
)

// On real networks the bound on what the sets leave out is a share, the exact probabilities are ones, and no cause is
// less probable than the sets alone prove.
func TestTheBoundHoldsOnRealNetworks(t *testing.T) {
	for _, unit := range []string{"norrad-d2", "norrad-h4", "ombrin-m5"} {
		n := load(t).Networks[unit]
		for i := range 12 {
			s := situation(n, uint64(i), 4+i)
			first, err := diagnose.Assess(n, s)
			if err != nil {
				t.Fatal(err)
			}
			full, err := diagnose.AssessInFull(context.Background(), n, s)
			if err != nil {
				t.Fatal(err)
			}
			if first.Exact != !math.IsNaN(first.LeftOut) || full.Exact && !(full.LeftOut >= 0 && full.LeftOut <= 1) {
				t.Errorf("%s, situation %d: exact %v, left out %v", unit, i, full.Exact, full.LeftOut)
			}
			if !full.Exact {
				continue
			}
			for _, x := range full.Suspects {
				if !(x.Probability >= 0 && x.Probability <= 1) {
					t.Errorf("%s, situation %d: %s has %v", unit, i, x.Cause.ID, x.Probability)
				}
			}
			// The best hypothesis holds its share of what was weighed, and that is 1 − LeftOut of everything.
			best := full.Hypotheses[0]
			floor := best.Share * (1 - full.LeftOut) * 0.9 // hypotheses are a part of what was weighed
			for _, c := range best.Causes {
				for _, x := range full.Suspects {
					if x.Cause.ID == n.Causes[c].ID && x.Probability < floor*best.Share {
						t.Errorf("%s, situation %d: %s has %v, its best set alone %v", unit, i, x.Cause.ID, x.Probability, floor)
					}
				}
			}
		}
	}
}

// Whoever ends the wait gets the first answer, not none.
func TestAnEndedWaitGivesTheFirstAnswer(t *testing.T) {
	n := load(t).Networks["vantrice-t10"]
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	for i := range uint64(20) {
		s := situation(n, i, 25)
		first, err := diagnose.Assess(n, s)
		if err != nil {
			t.Fatal(err)
		}
		if first.Exact {
			continue // it was quick enough to be computed at once
		}
		a, err := diagnose.AssessInFull(ctx, n, s)
		if err != nil || a.Exact || len(a.Suspects) != len(n.Causes) || first.Suspects[0].Probability != a.Suspects[0].Probability {
			t.Errorf("%v, exact %v, %d suspects, leader %v, first answer %v", err, a.Exact, len(a.Suspects), a.Suspects[0].Probability, first.Suspects[0].Probability)
		}
		return
	}
	t.Fatal("everything is quick: read more")
}

// What a repair is expected to cost never exceeds exchanging the unit, is not more where the vehicle is open already
// (but for some percent, since the order of repairs is greedy), and is the plain cost when the truth is known.
func TestRepairsCostWhatTheyMust(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	for i := range 20 {
		a, err := diagnose.Assess(n, situation(n, uint64(i), 8))
		if err != nil {
			t.Fatal(err)
		}
		ground, apart := plan.Next(a, plan.VehicleState{}, shop), plan.Next(a, plan.VehicleState{Access: unitsheet.UnitApart}, shop)
		if ground.RepairBy <= 0 || apart.RepairBy > 1.05*ground.RepairBy {
			t.Errorf("situation %d: %v from the ground, %v with the unit apart", i, ground.RepairBy, apart.RepairBy)
		}
		worst := 0.0
		for _, h := range a.Hypotheses {
			var ids []string
			for _, c := range h.Causes {
				ids = append(ids, n.Causes[c].ID)
			}
			worst = math.Max(worst, plan.KnownCost(n, ids, shop))
		}
		if most := plan.ExchangeCost(n, unitsheet.Ground, shop) + worst; ground.RepairBy > most {
			t.Errorf("situation %d: %v expected, an exchange and whatever it leaves %v", i, ground.RepairBy, most)
		}
		plan := plan.PlanRepair(a, unitsheet.Ground, shop)
		if plan.Exchange == (len(plan.Causes) > 0) || plan.Cost <= 0 {
			t.Errorf("situation %d: plan %+v", i, plan)
		}
	}
	for _, c := range n.Causes[:40] {
		r := c.Repair
		level, _ := unitsheet.ParseAccess(r.Access)
		plain := r.Hours*shop.LabourRate + r.Parts + n.Unit.AccessMinutes(unitsheet.Ground, level)/60*shop.LabourRate + shop.Trial
		want := math.Min(plain, plan.ExchangeCost(n, unitsheet.Ground, shop)+(1-plan.ExchangeCures(n, c.ID))*plain)
		if got := plan.KnownCost(n, []string{c.ID}, shop); math.Abs(got-want) > 1e-9 {
			t.Errorf("%s known: %v, by hand %v", c.ID, got, want)
		}
	}
	if plan.KnownCost(n, nil, shop) != 0 {
		t.Error("putting nothing right costs something")
	}
}

// A check is worth at most what knowing the truth would save, and never counts what it costs as a saving.
func TestNoCheckIsWorthMoreThanTheTruth(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	for i := range 6 {
		a, err := diagnose.Assess(n, situation(n, uint64(i), 6))
		if err != nil {
			t.Fatal(err)
		}
		truth := 0.0
		for _, h := range a.Hypotheses {
			var ids []string
			for _, c := range h.Causes {
				ids = append(ids, n.Causes[c].ID)
			}
			truth += h.Share * plan.KnownCost(n, ids, shop)
		}
		now := plan.Next(a, plan.VehicleState{}, shop).RepairBy
		for _, x := range plan.Advise(a, plan.VehicleState{}, shop) {
			price := (x.Minutes + x.AccessMinutes) / 60 * shop.LabourRate
			// Opening the vehicle for the check spares the climb of the repair that follows.
			if spared := x.AccessMinutes / 60 * shop.LabourRate; x.Saves > now-truth-price+spared+1e-6 {
				t.Errorf("situation %d: %s saves %.1f, knowing the truth %.1f", i, x.Check.ID, x.Saves, now-truth-price+spared)
			}
			if x.InformationGain < 0 || x.Spent() < 1 {
				t.Errorf("situation %d: %+v", i, x)
			}
		}
	}
}
