package faultmap_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

func rowsOf(t *testing.T, u *unitsheet.Unit) []faultmap.Row {
	t.Helper()
	rows, err := faultmap.Map(u)
	if err != nil {
		t.Fatal(err)
	}
	return rows
}

func index(t *testing.T, rows []faultmap.Row, k faultmap.Kind, part string) int {
	t.Helper()
	i := slices.IndexFunc(rows, func(r faultmap.Row) bool { return r.Fault == faultmap.Fault{Kind: k, Part: part} })
	if i < 0 {
		t.Fatalf("no %s of %q", k, part)
	}
	return i
}

func together(groups [][]int, i, j int) bool {
	return slices.ContainsFunc(groups, func(g []int) bool { return slices.Contains(g, i) && slices.Contains(g, j) })
}

// What a road test cannot tell apart, and what can: common practice, no source.
func TestGroupsThatARoadTestCannotSeparate(t *testing.T) {
	type fault = faultmap.Fault
	for _, c := range []struct {
		unit  string
		a, b  fault
		alike bool
		split string
	}{
		// A clutch that stays open and its solenoid that stays off.
		{"tessaly-e4t", fault{faultmap.NeverApplies, "K3"}, fault{faultmap.StuckOff, "C"}, true, "pressure at the reverse tap"},
		{"ombrin-s6", fault{faultmap.NeverApplies, "CE"}, fault{faultmap.StuckOff, "SE"}, true, "resistance of pressure solenoid E"},
		// A clutch and the freewheel in series with it, where nothing else uses either.
		{"tessaly-e4t", fault{faultmap.NeverApplies, "K1"}, fault{faultmap.NeverHolds, "F1"}, true, "by hand"},
		// Reverse clutch and low brake: manual first brakes with the engine through the brake alone.
		{"norrad-h4", fault{faultmap.NeverApplies, "RC"}, fault{faultmap.NeverApplies, "LB"}, false, "drive M1 and note: engine braking"},
		// A valve that sticks down and its element: the valve keeps its own freewheel company.
		{"norrad-v3", fault{faultmap.StuckOff, "V12"}, fault{faultmap.NeverApplies, "KB"}, false, "drive"},
		// Lining or oil.
		{"norrad-h4", fault{faultmap.ElementSlips, "RC"}, fault{faultmap.Leaks, "reverse"}, true, "drive it cold"},
		// Ten-speed: seal rings reach a clutch that the bushing does not.
		{"vantrice-t10", fault{faultmap.Leaks, "drum-rings"}, fault{faultmap.Leaks, "drum-bushing"}, false, "drive"},
		// Without current, all solenoids that the module watches look alike.
		{"vantrice-t10", fault{faultmap.Dead, "SA"}, fault{faultmap.LimpHome, ""}, true, "read the codes"},
	} {
		u := unit(t, c.unit)
		rows := rowsOf(t, u)
		i, j := index(t, rows, c.a.Kind, c.a.Part), index(t, rows, c.b.Kind, c.b.Part)
		if got := together(faultmap.Groups(rows), i, j); got != c.alike {
			t.Errorf("%s: %s and %s alike %v, want %v", c.unit, rows[i].Title, rows[j].Title, got, c.alike)
		}
		if s := faultmap.Split(u, rows[i], rows[j]); !strings.Contains(s, c.split) {
			t.Errorf("%s: %s and %s are split by %q, want %q", c.unit, rows[i].Title, rows[j].Title, s, c.split)
		}
		if (len(faultmap.Differ(u, rows[i], rows[j])) == 0) != c.alike {
			t.Errorf("%s: %s and %s differ in %v", c.unit, rows[i].Title, rows[j].Title, faultmap.Differ(u, rows[i], rows[j]))
		}
	}
}

// Solenoids act through the valve body: off and off is second gear in the sheet's table, so with A stuck off first is
// lost and fourth becomes third; without power it stays in second.
func TestControlsActThroughTheLogic(t *testing.T) {
	u := unit(t, "tessaly-e4t")
	for _, c := range []struct {
		kind             faultmap.Kind
		part, r, want, d string
	}{
		{faultmap.StuckOff, "A", "D1", "wrong", "drives as D2"},
		{faultmap.StuckOff, "A", "D2", "normal", ""},
		{faultmap.StuckOff, "A", "D4", "wrong", "stays in D3"},
		{faultmap.StuckOn, "B", "D1", "wrong", "drives as D4"},
		{faultmap.StuckOn, "B", "D2", "wrong", "drives as D3"},
		{faultmap.LimpHome, "", "D4", "wrong", "drives as D2"},
		{faultmap.LimpHome, "", "R", "none", ""},
		{faultmap.Dead, "A", "D3", "wrong", "stays in D2"},
	} {
		if got, detail := at(t, u, faultmap.Fault{Kind: c.kind, Part: c.part}, c.r, faultmap.Drives); got != c.want || !strings.Contains(detail, c.d) {
			t.Errorf("%s %s in %s: %q (%s), want %q (%s)", c.kind, c.part, c.r, got, detail, c.want, c.d)
		}
	}
	// 3–4 valve up with the others down: the sheet says that nothing is fed then.
	if got, _ := at(t, unit(t, "norrad-h4"), faultmap.Fault{Kind: faultmap.StuckOn, Part: "V34"}, "D1", faultmap.Drives); got != "none" {
		t.Errorf("3–4 valve stuck up in first: %s", got)
	}
}

// A gear set is heard where its teeth turn under load, and is quiet where the set turns as one block.
func TestGearNoiseIsHeardWhereTeethTurnUnderLoad(t *testing.T) {
	for _, c := range []struct{ unit, part, r, want string }{
		{"norrad-h4", "set-1", "D2", "noisy"}, {"norrad-h4", "set-1", "D3", "normal"},
		{"tessaly-p5", "gears-6", "R", "noisy"}, {"tessaly-p5", "gears-6", "D4", "normal"}, {"tessaly-p5", "gears-4", "D4", "noisy"},
		{"ombrin-m5", "gears-1", "G4", "normal"}, {"ombrin-m5", "gears-1", "G3", "noisy"}, {"ombrin-m5", "gears-4", "G3", "noisy"}, {"ombrin-m5", "gears-4", "G2", "normal"},
	} {
		if got, _ := at(t, unit(t, c.unit), faultmap.Fault{Kind: faultmap.GearNoise, Part: c.part}, c.r, faultmap.Noise); got != c.want {
			t.Errorf("%s %s in %s: %s, want %s", c.unit, c.part, c.r, got, c.want)
		}
	}
}

// The throttle at which an element gives way is where its hold and its load meet, and nothing gives way below it.
func TestFirstToSlipIsWhereHoldMeetsLoad(t *testing.T) {
	found := 0
	for _, id := range []string{"norrad-h4", "ombrin-s6", "vantrice-t10", "norrad-d2"} {
		u := unit(t, id)
		for _, r := range u.Ranges {
			s, ok := faultmap.FirstToSlip(u, r, faultmap.Weakness{Pressure: 0.5})
			if !ok {
				continue
			}
			found++
			if math.Abs(s.Load-s.Hold) > 1e-3*s.Load {
				t.Errorf("%s %s: %v to hold, %v held", id, r.ID, s.Load, s.Hold)
			}
			for _, e := range u.Elements {
				for i := range 100 {
					throttle := s.Throttle * float64(i) / 100
					line, _ := r.Line(throttle)
					hold, known := e.Hold(0.5 * line)
					if load := u.Load(r, e.ID) * u.EngineTorque(r, throttle); known && e.Kind.Friction() && slices.Contains(r.Applied, e.ID) && load > hold+1e-6 {
						t.Fatalf("%s %s: %s slips at %.3f already, not at %.3f", id, r.ID, e.ID, throttle, s.Throttle)
					}
				}
			}
			if _, full := faultmap.FirstToSlip(u, r, faultmap.Weakness{}); full {
				t.Errorf("%s %s slips in health", id, r.ID)
			}
		}
	}
	if found < 10 {
		t.Fatalf("only %d ranges slip at half pressure", found)
	}
}

// A leak shows less cold, and takes the hot line pressure down by the square of the spare flow's share.
func TestLeaksSagHotMoreThanCold(t *testing.T) {
	u := unit(t, "norrad-h4")
	r, err := faultmap.Predict(u, faultmap.Fault{Kind: faultmap.Leaks, Part: "third"})
	if err != nil {
		t.Fatal(err)
	}
	if r.Cold >= 1 || len(r.Sags) != 2 { // third and fourth are fed
		t.Fatalf("%+v", r)
	}
	for _, s := range r.Sags {
		if math.Abs(s.Left-s.Line/(faultmap.TypicalLeak*faultmap.TypicalLeak)) > 1 || s.Cold != s.Line {
			t.Errorf("%+v", s)
		}
	}
}

// A road test of nothing leaves every failure as likely; each cell that is driven can only be worth what it tells.
func TestNextCellIsTheOneThatTellsMost(t *testing.T) {
	u := unit(t, "tessaly-e4t")
	rows := rowsOf(t, u)
	for _, m := range faultmap.Hold(rows, faultmap.Observed{}) {
		if math.Abs(m.Share-1/float64(len(rows))) > 1e-12 {
			t.Fatalf("%s has %v of nothing", rows[m.Row].Title, m.Share)
		}
	}
	seen := faultmap.Observed{Hot: map[faultmap.Cell]string{}}
	truth := rows[index(t, rows, faultmap.NeverApplies, "K2")]
	last := math.Inf(1)
	for range 6 {
		c, bits, ok := faultmap.NextCell(u, rows, seen)
		if !ok {
			break
		}
		if _, again := seen.Hot[c]; again || bits > last+1 {
			t.Errorf("%v is worth %v bits after %v", c, bits, last)
		}
		last = bits
		seen.Hot[c] = full(u, truth)[c]
		if seen.Hot[c] == "" {
			seen.Hot[c] = faultmap.Info(c.Behaviour).Normal()
		}
	}
	best := rows[faultmap.Hold(rows, seen)[0].Row]
	if !slices.ContainsFunc(faultmap.Together(rows, index(t, rows, truth.Fault.Kind, truth.Fault.Part), seen), func(i int) bool { return rows[i].Fault == best.Fault }) {
		t.Errorf("six cells led to %s", best.Title)
	}
}
