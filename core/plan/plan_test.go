package plan_test

import (
	"math"
	"slices"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
	"innercompass/internal/trial"
)

func next(t testing.TB, n *knowledge.Network, r []diagnose.Reading, stand plan.VehicleState) plan.Recommendation {
	t.Helper()
	return plan.Next(trial.Rank(t, n, r), stand, trial.Shop)
}

// What a repair is expected to cost never exceeds exchanging the unit, is not more where the vehicle is open already
// (but for some percent, since the order of repairs is greedy), and is the plain cost when the truth is known.
func TestRepairsCostWhatTheyMust(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	for i := range 20 {
		a, err := diagnose.Assess(n, trial.Situation(n, uint64(i), 8))
		if err != nil {
			t.Fatal(err)
		}
		ground, apart := plan.Next(a, plan.VehicleState{}, trial.Shop), plan.Next(a, plan.VehicleState{Access: unitsheet.UnitApart}, trial.Shop)
		if ground.RepairBy <= 0 || apart.RepairBy > 1.05*ground.RepairBy {
			t.Errorf("situation %d: %v from the ground, %v with the unit apart", i, ground.RepairBy, apart.RepairBy)
		}
		worst := 0.0
		for _, h := range a.Hypotheses {
			var ids []string
			for _, c := range h.Causes {
				ids = append(ids, n.Causes[c].ID)
			}
			worst = math.Max(worst, plan.KnownCost(n, ids, trial.Shop))
		}
		if most := plan.ExchangeCost(n, unitsheet.Ground, trial.Shop) + worst; ground.RepairBy > most {
			t.Errorf("situation %d: %v expected, an exchange and whatever it leaves %v", i, ground.RepairBy, most)
		}
		plan := plan.PlanRepair(a, unitsheet.Ground, trial.Shop)
		if plan.Exchange == (len(plan.Causes) > 0) || plan.Cost <= 0 {
			t.Errorf("situation %d: plan %+v", i, plan)
		}
	}
	for _, c := range n.Causes[:40] {
		r := c.Repair
		level, _ := unitsheet.ParseAccess(r.Access)
		plain := r.Hours*trial.Shop.LabourRate + r.Parts + n.Unit.AccessMinutes(unitsheet.Ground, level)/60*trial.Shop.LabourRate + trial.Shop.Trial
		want := math.Min(plain, plan.ExchangeCost(n, unitsheet.Ground, trial.Shop)+(1-plan.ExchangeCures(n, c.ID))*plain)
		if got := plan.KnownCost(n, []string{c.ID}, trial.Shop); math.Abs(got-want) > 1e-9 {
			t.Errorf("%s known: %v, by hand %v", c.ID, got, want)
		}
	}
	if plan.KnownCost(n, nil, trial.Shop) != 0 {
		t.Error("putting nothing right costs something")
	}
}

// A check is worth at most what knowing the truth would save, and never counts what it costs as a saving.
func TestNoCheckIsWorthMoreThanTheTruth(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	for i := range 6 {
		a, err := diagnose.Assess(n, trial.Situation(n, uint64(i), 6))
		if err != nil {
			t.Fatal(err)
		}
		truth := 0.0
		for _, h := range a.Hypotheses {
			var ids []string
			for _, c := range h.Causes {
				ids = append(ids, n.Causes[c].ID)
			}
			truth += h.Share * plan.KnownCost(n, ids, trial.Shop)
		}
		now := plan.Next(a, plan.VehicleState{}, trial.Shop).RepairBy
		for _, x := range plan.Advise(a, plan.VehicleState{}, trial.Shop) {
			price := (x.Minutes + x.AlongMinutes + x.AccessMinutes) / 60 * trial.Shop.LabourRate
			// Opening the vehicle for the check spares the climb of the repair that follows.
			if spared := x.AccessMinutes / 60 * trial.Shop.LabourRate; x.Saves > now-truth-price+spared+1e-6 {
				t.Errorf("situation %d: %s saves %.1f, knowing the truth %.1f", i, x.Check.ID, x.Saves, now-truth-price+spared)
			}
			if x.InformationGain < 0 || x.Spent() < 1 {
				t.Errorf("situation %d: %+v", i, x)
			}
		}
	}
}

// Free and safe comes first out of the numbers alone: with nothing known, the best check is done on
// the ground in minutes; once the unit is apart, its checks are cheap and driving is impossible.
func TestNextCheckFollowsAccess(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	h := next(t, n, trial.Flare()[:2], plan.VehicleState{})
	if len(h.Best) == 0 {
		t.Fatal(h.Stop)
	}
	if h.Best[0].Check.Access != "ground" && h.Best[0].Check.Access != "lifted" {
		t.Errorf("first check from the ground: %s at %s", h.Best[0].Check.ID, h.Best[0].Check.Access)
	}
	h = next(t, n, trial.Flare(), plan.VehicleState{Access: unitsheet.UnitApart})
	for _, a := range h.Best {
		if a.AccessMinutes != 0 || a.Check.Until == "lifted" {
			t.Errorf("%s offered with the unit apart", a.Check.ID)
		}
	}
}

func TestASkippedCheckIsNotOffered(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	h := next(t, n, trial.Flare()[:5], plan.VehicleState{})
	first := h.Best[0].Check.ID
	for _, a := range next(t, n, trial.Flare()[:5], plan.VehicleState{Skipped: []string{first}}).Best {
		if a.Check.ID == first {
			t.Errorf("%s offered again", first)
		}
	}
}

// A perfect check can save no more than knowing everything would, and no check's value exceeds the
// expected repair that is left.
func TestValueOfACheckIsBounded(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	h := next(t, n, trial.Flare()[:5], plan.VehicleState{})
	for _, a := range h.Best {
		total := 0.0
		for _, r := range a.Results {
			total += r.Probability
		}
		if a.Saves > h.RepairBy || total > 1+1e-9 {
			t.Errorf("%s saves %v of %v, results sum to %v", a.Check.ID, a.Saves, h.RepairBy, total)
		}
	}
}

// What is planned for one climb is at one level, is not done yet, is counted with its minutes, and saves more than the first check alone with
// the whole way up on it; where the vehicle is open already there is no climb to share.
func TestOneClimbIsUsedForAllThatIsWorthIt(t *testing.T) {
	climbs := 0
	for _, id := range []string{"norrad-h4", "ombrin-s6", "tessaly-p5"} {
		n := trial.Load(t).Networks[id]
		for i := range 6 {
			a, err := diagnose.Assess(n, trial.Situation(n, uint64(i), 6))
			if err != nil {
				t.Fatal(err)
			}
			for _, x := range plan.Advise(a, plan.VehicleState{}, trial.Shop) {
				if len(x.Along) == 0 {
					if x.AlongMinutes != 0 {
						t.Errorf("%s: %s alone with %v min beside it", id, x.Check.ID, x.AlongMinutes)
					}
					continue
				}
				climbs++
				minutes, others := 0.0, plan.VehicleState{}
				for _, c := range x.Along {
					other, ok := n.Check(c)
					if !ok || other.Access != x.Check.Access || c == x.Check.ID {
						t.Errorf("%s: %s along with %s", id, c, x.Check.ID)
					}
					minutes += other.Minutes
				}
				if x.AccessMinutes <= 0 || x.AlongMinutes < minutes-1e-9 {
					t.Errorf("%s: %s climbs %v min with %v min beside it, they take %v", id, x.Check.ID, x.AccessMinutes, x.AlongMinutes, minutes)
				}
				for _, c := range n.Checks {
					if c.ID != x.Check.ID {
						others.Skipped = append(others.Skipped, c.ID)
					}
				}
				alone := plan.Advise(a, others, trial.Shop)
				if len(alone) != 1 || alone[0].Saves >= x.Saves {
					t.Errorf("%s: %s saves %v alone, with %v %v", id, x.Check.ID, alone[0].Saves, x.Along, x.Saves)
				}
			}
			for _, x := range plan.Advise(a, plan.VehicleState{Access: unitsheet.UnitApart}, trial.Shop) {
				if level, _ := unitsheet.ParseAccess(x.Check.Access); level <= unitsheet.UnitApart && len(x.Along) > 0 {
					t.Errorf("%s: %s shares a climb with the unit apart", id, x.Check.ID)
				}
			}
		}
	}
	if climbs == 0 {
		t.Error("nothing is planned together")
	}
}

// To be wrong costs the leader's repair with the way to it and the drive after it, recomputed by hand, as often as it is something else.
func TestWhatBeingWrongCosts(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	a := trial.Rank(t, n, trial.Flare())
	h := plan.Next(a, plan.VehicleState{Access: unitsheet.Lifted}, trial.Shop)
	lead := a.Suspects[0]
	level, _ := unitsheet.ParseAccess(lead.Cause.Repair.Access)
	want := (lead.Cause.Repair.Hours+n.Unit.AccessMinutes(unitsheet.Lifted, level)/60)*trial.Shop.LabourRate + lead.Cause.Repair.Parts + trial.Shop.Trial
	if math.Abs(h.InVain-want) > 1e-9 || math.Abs(h.Doubt-(1-lead.Probability)) > 1e-12 {
		t.Errorf("in vain %v, by hand %v; doubt %v of %v", h.InVain, want, h.Doubt, lead.Probability)
	}
}

func TestAContrastNamesWhatSeparates(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	a := trial.Rank(t, n, trial.Flare())
	w, err := a.Weigh(6)
	if err != nil {
		t.Fatal(err)
	}
	for second := 1; second < 6; second++ {
		x := plan.Contrasted(a, w, 0, second, plan.VehicleState{})
		if x.Against.Cause.ID != a.Suspects[second].Cause.ID {
			t.Errorf("against %s, want %s", x.Against.Cause.ID, a.Suspects[second].Cause.ID)
		}
		for i, r := range x.Readings {
			at := slices.IndexFunc(trial.Flare(), func(y diagnose.Reading) bool { return y.ID == r.Reading })
			if d := w.Suspects[0][at] - w.Suspects[second][at]; math.Abs(d-r.Weight) > 1e-12 || i > 0 && math.Abs(x.Readings[i-1].Weight) < math.Abs(r.Weight) {
				t.Errorf("reading %s weighs %v, want %v, strongest first", r.Reading, r.Weight, d)
			}
		}
		// Of two causes that are both possible the check must make one of them likely, whatever it shows.
		if x.Check != nil && !slices.ContainsFunc(x.Check.Results, func(r plan.Result) bool { return r.LeaderShare > 0.6 }) {
			t.Errorf("%s tells nothing: %+v", x.Check.Check.Title, x.Check.Results)
		}
	}
}

// A drive that was mostly as it should be leaves many roots about equally likely: the most that a heading is computed over.
func BenchmarkNextOverManySuspects(b *testing.B) {
	n := trial.Load(b).Networks["norrad-h4"]
	var readings []diagnose.Reading
	for _, f := range []string{"road.hot.D1.drives", "road.hot.D2.drives", "road.hot.D3.drives", "road.hot.R.drives", "road.hot.D2.shift", "road.hot.D3.shift"} {
		readings = append(readings, diagnose.Reading{ID: f, Finding: f, State: "normal", Source: "seen"})
	}
	a := trial.Rank(b, n, readings)
	b.ReportAllocs()
	for b.Loop() {
		plan.Next(a, plan.VehicleState{}, trial.Shop)
	}
}
