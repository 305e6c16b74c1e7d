package roadtest_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/roadtest"
	"innercompass/core/unitsheet"
	"innercompass/internal/trial"
)

// full is the road test of a vehicle with one fault, driven in every cell: what the fault surely does, and
// normal elsewhere. Cells that the fault makes unobservable, or shows only now and then, stay empty.
func full(u *unitsheet.Unit, row faultmap.Row) map[faultmap.Cell]string {
	out := map[faultmap.Cell]string{}
	for _, c := range faultmap.Grid(u) {
		p, says := row.At(c)
		switch {
		case slices.Contains(row.Unknown, c), says && p.Certainty < 0.5:
		case says:
			out[c] = p.State
		default:
			out[c] = faultmap.Info(c.Behaviour).Normal()
		}
	}
	return out
}

// rank is the place, from 1, at which row i or one that the cells driven do not tell from it comes up.
func rank(rows []faultmap.Row, groups [][]int, i int, seen roadtest.Observed) int {
	own := roadtest.Together(rows, i, seen)
	place := 0
	met := map[int]bool{}
	for _, m := range roadtest.Hold(rows, seen) {
		g := slices.IndexFunc(groups, func(g []int) bool { return slices.Contains(g, m.Row) })
		if met[g] {
			continue
		}
		met[g] = true
		place++
		if slices.Contains(own, m.Row) {
			return place
		}
	}
	return 0
}

// elemental are the faults of single elements and freewheels.
func elemental(f faultmap.Fault) bool {
	return slices.Contains([]faultmap.Kind{faultmap.NeverApplies, faultmap.NeverReleases, faultmap.NeverHolds, faultmap.Seized, faultmap.ElementSlips, faultmap.AppliesLate, faultmap.ReleasesLate}, f.Kind)
}

func TestEverySeparableFaultIsFoundFirstFromItsOwnGrid(t *testing.T) {
	c := trial.Load(t)
	for id, u := range c.Units {
		rows, err := faultmap.Map(u)
		if err != nil {
			t.Fatal(err)
		}
		groups := roadtest.Groups(rows)
		found := 0
		for i, r := range rows {
			if !elemental(r.Fault) || len(r.Cells) == 0 {
				continue
			}
			seen := roadtest.Observed{Hot: full(u, r)}
			if shown(seen) == 0 {
				continue // its symptoms are all now and then: nothing was seen
			}
			found++
			if p := rank(rows, groups, i, seen); p != 1 {
				best := rows[roadtest.Hold(rows, seen)[0].Row]
				t.Errorf("%s: %s comes up at place %d, behind %s", id, r.Title, p, best.Title)
			}
		}
		if found < 8 {
			t.Errorf("%s: only %d faults tried", id, found)
		}
	}
}

// shown counts abnormal cells.
func shown(o roadtest.Observed) int {
	n := 0
	for c, s := range o.Hot {
		if s != faultmap.Info(c.Behaviour).Normal() {
			n++
		}
	}
	return n
}

// With two cells of the grid read wrong at random, the fault is still in the first three 95 times in 100.
func TestTwoWrongCellsDoNotHideAFault(t *testing.T) {
	c := trial.Load(t)
	for id, u := range c.Units {
		rows, err := faultmap.Map(u)
		if err != nil {
			t.Fatal(err)
		}
		groups := roadtest.Groups(rows)
		rng := rand.New(rand.NewPCG(3, uint64(len(rows))))
		tried, kept := 0, 0
		for i, r := range rows {
			if !elemental(r.Fault) || len(r.Cells) == 0 {
				continue
			}
			for range 20 {
				seen := roadtest.Observed{Hot: full(u, r)}
				if shown(seen) == 0 {
					break
				}
				spoil(rng, u, seen.Hot)
				tried++
				if p := rank(rows, groups, i, seen); p <= 3 {
					kept++
				}
			}
		}
		share := float64(kept) / float64(tried)
		t.Logf("%s: %d of %d in the first three (%.1f %%)", id, kept, tried, 100*share)
		if share < 0.95 {
			t.Errorf("%s: only %.1f %% in the first three", id, 100*share)
		}
	}
}

// spoil turns two driven cells into other states of theirs.
func spoil(rng *rand.Rand, u *unitsheet.Unit, seen map[faultmap.Cell]string) {
	var driven []faultmap.Cell
	for _, c := range faultmap.Grid(u) {
		if _, ok := seen[c]; ok {
			driven = append(driven, c)
		}
	}
	for _, j := range rng.Perm(len(driven))[:2] {
		states := faultmap.Info(driven[j].Behaviour).States
		for {
			if s := states[rng.IntN(len(states))].ID; s != seen[driven[j]] {
				seen[driven[j]] = s
				break
			}
		}
	}
}

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
	fault := func(k faultmap.Kind, part string) faultmap.Fault { return faultmap.Fault{Kind: k, Part: part} }
	for _, c := range []struct {
		unit  string
		a, b  faultmap.Fault
		alike bool
		split string
	}{
		// A clutch that stays open and its solenoid that stays off.
		{"tessaly-e4t", fault(faultmap.NeverApplies, "K3"), fault(faultmap.StuckOff, "C"), true, "pressure at the reverse tap"},
		{"ombrin-s6", fault(faultmap.NeverApplies, "CE"), fault(faultmap.StuckOff, "SE"), true, "resistance of pressure solenoid E"},
		// A clutch and the freewheel in series with it, where nothing else uses either.
		{"tessaly-e4t", fault(faultmap.NeverApplies, "K1"), fault(faultmap.NeverHolds, "F1"), true, "by hand"},
		// Reverse clutch and low brake: manual first brakes with the engine through the brake alone.
		{"norrad-h4", fault(faultmap.NeverApplies, "RC"), fault(faultmap.NeverApplies, "LB"), false, "drive M1 and note: engine braking"},
		// A valve that sticks down and its element: the valve keeps its own freewheel company.
		{"norrad-v3", fault(faultmap.StuckOff, "V12"), fault(faultmap.NeverApplies, "KB"), false, "drive"},
		// Lining or oil.
		{"norrad-h4", fault(faultmap.ElementSlips, "RC"), fault(faultmap.Leaks, "reverse"), true, "drive it cold"},
		// Ten-speed: seal rings reach a clutch that the bushing does not.
		{"vantrice-t10", fault(faultmap.Leaks, "drum-rings"), fault(faultmap.Leaks, "drum-bushing"), false, "drive"},
		// Without current, all solenoids that the module watches look alike.
		{"vantrice-t10", fault(faultmap.Dead, "SA"), fault(faultmap.LimpHome, ""), true, "read the codes"},
	} {
		u := trial.Load(t).Units[c.unit]
		rows := rowsOf(t, u)
		i, j := index(t, rows, c.a.Kind, c.a.Part), index(t, rows, c.b.Kind, c.b.Part)
		if got := together(roadtest.Groups(rows), i, j); got != c.alike {
			t.Errorf("%s: %s and %s alike %v, want %v", c.unit, rows[i].Title, rows[j].Title, got, c.alike)
		}
		if s := roadtest.Split(u, rows[i], rows[j]); !strings.Contains(s, c.split) {
			t.Errorf("%s: %s and %s are split by %q, want %q", c.unit, rows[i].Title, rows[j].Title, s, c.split)
		}
		if (len(roadtest.Differ(u, rows[i], rows[j])) == 0) != c.alike {
			t.Errorf("%s: %s and %s differ in %v", c.unit, rows[i].Title, rows[j].Title, roadtest.Differ(u, rows[i], rows[j]))
		}
	}
}

// A road test of nothing leaves every failure as likely; each cell that is driven can only be worth what it tells.
func TestNextCellIsTheOneThatTellsMost(t *testing.T) {
	u := trial.Load(t).Units["tessaly-e4t"]
	rows := rowsOf(t, u)
	for _, m := range roadtest.Hold(rows, roadtest.Observed{}) {
		if math.Abs(m.Share-1/float64(len(rows))) > 1e-12 {
			t.Fatalf("%s has %v of nothing", rows[m.Row].Title, m.Share)
		}
	}
	seen := roadtest.Observed{Hot: map[faultmap.Cell]string{}}
	truth := rows[index(t, rows, faultmap.NeverApplies, "K2")]
	last := math.Inf(1)
	for range 6 {
		c, bits, ok := roadtest.NextCell(u, rows, seen)
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
	best := rows[roadtest.Hold(rows, seen)[0].Row]
	if !slices.ContainsFunc(roadtest.Together(rows, index(t, rows, truth.Fault.Kind, truth.Fault.Part), seen), func(i int) bool { return rows[i].Fault == best.Fault }) {
		t.Errorf("six cells led to %s", best.Title)
	}
}

// A road test of twenty cells held against every fault, and the next cell chosen.
func BenchmarkRoadTestHeldAgainstFaults(b *testing.B) {
	c := trial.Load(b)
	u := c.Units["vantrice-t10"]
	rows, err := faultmap.Map(u)
	if err != nil {
		b.Fatal(err)
	}
	seen := roadtest.Observed{Hot: map[faultmap.Cell]string{}}
	for _, cell := range faultmap.Grid(u)[:20] {
		seen.Hot[cell] = faultmap.Info(cell.Behaviour).Normal()
	}
	for b.Loop() {
		roadtest.Hold(rows, seen)
		roadtest.NextCell(u, rows, seen)
	}
}

// A gauge weighs more than a cell of the drive: it is read, not felt. With the line low, low pressure leads what the same slips would be without it, and no road test alone parts two failures
// by their gauges.
func TestGaugesWeighBesideTheGrid(t *testing.T) {
	u := trial.Load(t).Units["norrad-h4"]
	rows, err := faultmap.Map(u)
	if err != nil {
		t.Fatal(err)
	}
	place := func(cells map[faultmap.Cell]string, kind faultmap.Kind) int {
		return slices.IndexFunc(roadtest.Hold(rows, roadtest.Observed{Hot: cells}), func(m roadtest.Match) bool { return rows[m.Row].Fault.Kind == kind })
	}
	slips := map[faultmap.Cell]string{{Range: "D4", Behaviour: faultmap.Slips}: "yes", {Range: "D1", Behaviour: faultmap.Slips}: "yes"}
	without := place(slips, faultmap.LowPressure)
	slips[faultmap.Cell{Behaviour: faultmap.Line}] = "low"
	if with := place(slips, faultmap.LowPressure); with != 0 || without < 0 {
		t.Errorf("low pressure is number %d, and %d with the line low", without+1, with+1)
	}
	for _, group := range roadtest.Groups(rows) {
		for _, i := range group[1:] {
			if d := roadtest.Differ(u, rows[group[0]], rows[i]); len(d) > 0 {
				t.Errorf("%s and %s stand together and differ in %v", rows[group[0]].Title, rows[i].Title, d)
			}
		}
	}
}
