package faultmap_test

import (
	"strings"
	"sync"
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// loaded compiles the shipped knowledge once for all tests.
var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

func unit(t *testing.T, id string) *unitsheet.Unit {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	u, ok := c.Units[id]
	if !ok {
		t.Fatalf("no unit %s", id)
	}
	return u
}

func at(t *testing.T, u *unitsheet.Unit, f faultmap.Fault, r string, b faultmap.Behaviour) (string, string) {
	t.Helper()
	row, err := faultmap.Predict(u, f)
	if err != nil {
		t.Fatal(err)
	}
	p, ok := row.At(faultmap.Cell{Range: r, Behaviour: b})
	if !ok {
		return "normal", ""
	}
	return p.State, p.Detail
}

// What a diagnostician reads off the apply chart by hand: common practice, no source.
// "What is on in the gear that fails, and off in the gears that work."
func TestReadsTheApplyChartAsAPractitionerDoes(t *testing.T) {
	u := unit(t, "norrad-h4")
	for _, c := range []struct {
		f      faultmap.Fault
		r      string
		b      faultmap.Behaviour
		want   string
		detail string
	}{
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "FC"}, "D1", faultmap.Drives, "none", ""},
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "FC"}, "D4", faultmap.Drives, "normal", ""},
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "DC"}, "D3", faultmap.Drives, "wrong", "stays in D2"},
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "DC"}, "D3", faultmap.Shift, "missing", "1.467"},
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "DC"}, "D4", faultmap.Drives, "none", ""},
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "LB"}, "M1", faultmap.Brakes, "missing", ""},
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "LB"}, "M1", faultmap.Drives, "normal", ""},
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "LB"}, "R", faultmap.Drives, "none", ""},
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "RC"}, "M1", faultmap.Drives, "normal", ""},
		// Both suns on the turbine lock the set: a stuck reverse clutch makes first a direct gear, not a bind.
		{faultmap.Fault{Kind: faultmap.NeverReleases, Part: "RC"}, "D1", faultmap.Drives, "wrong", "1.000"},
		{faultmap.Fault{Kind: faultmap.NeverReleases, Part: "RC"}, "D4", faultmap.Drives, "bind", ""},
		{faultmap.Fault{Kind: faultmap.NeverReleases, Part: "OB"}, "D3", faultmap.Drives, "bind", ""},
		{faultmap.Fault{Kind: faultmap.NeverHolds, Part: "LF"}, "D1", faultmap.Drives, "none", ""},
		{faultmap.Fault{Kind: faultmap.NeverHolds, Part: "LF"}, "M1", faultmap.Drives, "normal", ""},
		{faultmap.Fault{Kind: faultmap.NeverHolds, Part: "IF"}, "D2", faultmap.Drives, "wrong", "stays in D1"},
		{faultmap.Fault{Kind: faultmap.NeverHolds, Part: "IF"}, "M2", faultmap.Drives, "normal", ""},
		{faultmap.Fault{Kind: faultmap.Seized, Part: "LF"}, "D2", faultmap.Drives, "bind", ""},
		{faultmap.Fault{Kind: faultmap.AppliesLate, Part: "DC"}, "D3", faultmap.Shift, "delay", "holds D2"},
		{faultmap.Fault{Kind: faultmap.AppliesLate, Part: "OB"}, "D4", faultmap.Shift, "flare", ""},
		// Nothing runs up while a one-way clutch holds second: a direct clutch that slides takes long. Where nothing holds, it flares.
		{faultmap.Fault{Kind: faultmap.ElementSlips, Part: "DC"}, "D3", faultmap.Shift, "delay", "D2 holds by itself"},
		{faultmap.Fault{Kind: faultmap.ElementSlips, Part: "OB"}, "D4", faultmap.Shift, "flare", ""},
		{faultmap.Fault{Kind: faultmap.ElementSlips, Part: "DC"}, "D2", faultmap.Slips, "normal", ""},
		{faultmap.Fault{Kind: faultmap.ElementSlips, Part: "IC"}, "D3", faultmap.Slips, "normal", ""},
		// Down: fourth to third brings the forward clutch on, third to second only lets the direct clutch go.
		{faultmap.Fault{Kind: faultmap.AppliesLate, Part: "FC"}, "D3", faultmap.Down, "flare", ""},
		{faultmap.Fault{Kind: faultmap.AppliesHard, Part: "FC"}, "D3", faultmap.Down, "harsh", ""},
		{faultmap.Fault{Kind: faultmap.ReleasesLate, Part: "DC"}, "D2", faultmap.Down, "delay", "holds D3"},
		{faultmap.Fault{Kind: faultmap.ReleasesLate, Part: "OB"}, "D3", faultmap.Down, "tie-up", ""},
		{faultmap.Fault{Kind: faultmap.NeverReleases, Part: "IC"}, "D1", faultmap.Down, "missing", "drives as D2"},
		{faultmap.Fault{Kind: faultmap.NeverHolds, Part: "LF"}, "D1", faultmap.Down, "flare", "neutral"},
		{faultmap.Fault{Kind: faultmap.StuckOn, Part: "V23"}, "D2", faultmap.Down, "missing", "drives as D3"},
		{faultmap.Fault{Kind: faultmap.LowPressure}, "D2", faultmap.Down, "normal", ""},
		{faultmap.Fault{Kind: faultmap.HighPressure}, "D3", faultmap.Down, "harsh", ""},
		// In another gear than was chosen the overrun is that gear's: second has a freewheel where third has none, third none where second has one.
		{faultmap.Fault{Kind: faultmap.NeverApplies, Part: "DC"}, "D3", faultmap.Brakes, "missing", ""},
		{faultmap.Fault{Kind: faultmap.StuckOn, Part: "V23"}, "D2", faultmap.Brakes, "present", ""},
	} {
		got, detail := at(t, u, c.f, c.r, c.b)
		if got != c.want || !strings.Contains(detail, c.detail) {
			t.Errorf("%v in %s, %s: %q (%s), want %q (%s)", c.f, c.r, c.b, got, detail, c.want, c.detail)
		}
	}
}

// A predicted state must be one that the grid can record, and must be abnormal.
func TestEveryPredictionCanBeObserved(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for id, u := range c.Units {
		grid := map[faultmap.Cell]bool{}
		for _, cell := range faultmap.Grid(u) {
			grid[cell] = true
		}
		rows, err := faultmap.Map(u)
		if err != nil {
			t.Fatal(err)
		}
		for _, row := range rows {
			for _, p := range row.Cells {
				info := faultmap.Info(p.Cell.Behaviour)
				known := false
				for _, s := range info.States[1:] {
					known = known || s.ID == p.State
				}
				if !grid[p.Cell] || !known || p.Certainty <= 0 || p.Certainty > faultmap.Certain {
					t.Errorf("%s: %s: %+v is not an abnormal state of the grid", id, row.Title, p)
				}
			}
		}
	}
}

// Governor and modulator delay the command, so the old gear is held in every design; an element that comes late
// after its command lets the engine run up where the old element has let go (common practice, no source).
func TestALateCommandIsNotALateElement(t *testing.T) {
	u := unit(t, "norrad-v3")
	if got, _ := at(t, u, faultmap.Fault{Kind: faultmap.ShiftsLate}, "D3", faultmap.Shift); got != "late" {
		t.Errorf("late command: %s", got)
	}
	if got, _ := at(t, u, faultmap.Fault{Kind: faultmap.AppliesLate, Part: "DC"}, "D3", faultmap.Shift); got != "flare" {
		t.Errorf("late direct clutch: %s", got)
	}
}

// What is welded and would drive the output in neutral stalls the engine in Park, where the pawl holds the output; what needs a second
// element for that does not (common practice, no source).
func TestAWeldedClutchStallsInPark(t *testing.T) {
	for _, c := range []struct {
		unit, part string
		stalls     bool
	}{{"norrad-d2", "DC", true}, {"norrad-d2", "RB", true}, {"tessaly-p5", "C3", true}, {"vantrice-t10", "A", false}} {
		row, err := faultmap.Predict(unit(t, c.unit), faultmap.Fault{Kind: faultmap.NeverReleases, Part: c.part})
		if err != nil {
			t.Fatal(err)
		}
		if row.StallsParked != c.stalls {
			t.Errorf("%s: %s stalls in Park: %v", c.unit, row.Title, row.StallsParked)
		}
	}
}

// Where one passage feeds several clutches, all of its oil lost takes every range that needs one of them, and a leak takes none of them
// at once: the mainshaft pipes of the parallel-shaft unit leave first alone.
func TestAPassageThatLosesAllItsOil(t *testing.T) {
	u := unit(t, "tessaly-p5")
	for r, want := range map[string]string{"D1": "normal", "D2": "wrong", "D3": "wrong", "D4": "wrong", "D5": "wrong", "R": "none", "L1": "normal"} {
		if got, _ := at(t, u, faultmap.Fault{Kind: faultmap.Lost, Part: "main-pipe"}, r, faultmap.Drives); got != want {
			t.Errorf("%s with the pipes lost: %s, want %s", r, got, want)
		}
		if got, _ := at(t, u, faultmap.Fault{Kind: faultmap.Leaks, Part: "main-pipe"}, r, faultmap.Drives); got != "normal" {
			t.Errorf("%s with the pipes leaking: %s", r, got)
		}
	}
}

// What joins engine, unit and wheels is lost: nothing drives in any range of any unit, forward or back, and nothing else can be felt.
func TestNothingDrivesWhenTheShaftIsBroken(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for id, u := range c.Units {
		for _, r := range u.Ranges {
			want := "normal"
			if r.Driving() {
				want = "none"
			}
			if got, _ := at(t, u, faultmap.Fault{Kind: faultmap.NoDrive}, r.ID, faultmap.Drives); got != want {
				t.Errorf("%s %s: %s, want %s", id, r.ID, got, want)
			}
		}
	}
}

// A sleeve that is moved by pressure and comes late leaves a gap in the pull, not a flare of a slipping clutch.
func TestALateSleeveLeavesAGap(t *testing.T) {
	u := unit(t, "vantrice-a6")
	if got, _ := at(t, u, faultmap.Fault{Kind: faultmap.AppliesLate, Part: "G3"}, "D3", faultmap.Shift); got != "delay" {
		t.Errorf("late third synchro: %s", got)
	}
	if got, _ := at(t, u, faultmap.Fault{Kind: faultmap.AppliesLate, Part: "GR"}, "R", faultmap.Engages); got != "late" {
		t.Errorf("late reverse sleeve: %s", got)
	}
}

// The element that carries most is named first: third loads the direct clutch with 7/12 of the
// torque, fourth with all of it, so slip is likelier in fourth.
func TestSlipIsGradedByTorque(t *testing.T) {
	u := unit(t, "norrad-h4")
	row, _ := faultmap.Predict(u, faultmap.Fault{Kind: faultmap.ElementSlips, Part: "DC"})
	third, _ := row.At(faultmap.Cell{Range: "D3", Behaviour: faultmap.Slips})
	fourth, _ := row.At(faultmap.Cell{Range: "D4", Behaviour: faultmap.Slips})
	if third.Certainty >= fourth.Certainty {
		t.Errorf("third %v, fourth %v", third.Certainty, fourth.Certainty)
	}
}

func TestFaultsThatCannotHappenAreRefused(t *testing.T) {
	u := unit(t, "norrad-h4")
	for _, f := range []faultmap.Fault{{faultmap.Seized, "FC"}, {faultmap.AppliesLate, "LF"}, {faultmap.NeverApplies, "ZZ"}} {
		if _, err := faultmap.Predict(u, f); err == nil {
			t.Errorf("%v gave no error", f)
		}
	}
	if e, _ := u.Element("LF"); e.Kind != gearing.Freewheel {
		t.Fatal("LF is no freewheel")
	}
}
