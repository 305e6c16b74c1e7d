package faultmap_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// reduced is a unit known by less than its sheet.
func reduced(t testing.TB, u *unitsheet.Unit, to unitsheet.Depth) *unitsheet.Unit {
	t.Helper()
	out, bad := unitsheet.Compile(u.Reduce(to, true))
	if len(bad) > 0 {
		t.Fatalf("%s by %s: %v", u.Sheet.ID, to, bad[0])
	}
	return out
}

// Every sheet of ours, cut down to its chart with ratios of two decimals, against its own solved gears: faults of elements, the cells
// that both can observe. The study behind it got 99.0 %; what is reached is measured here, and may not fall.
func TestChartAloneAgainstTheGears(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	kinds := []faultmap.Kind{faultmap.NeverApplies, faultmap.NeverReleases, faultmap.NeverHolds, faultmap.Seized}
	all := tally{}
	for _, id := range sortedUnits(c.Units) {
		one := held(t, c.Units[id], kinds)
		t.Logf("%s: %d of %d cells", id, one.right, one.cells)
		all.add(one)
	}
	t.Logf("all: %v", all)
	if float64(all.right) < 0.98*float64(all.cells) {
		t.Errorf("%d of %d cells are right", all.right, all.cells)
	}
}

// The schemes that none of our sheets is built on: the rules were not tuned on them. Elements alone, since their charts have no one-way
// clutch in series.
func TestChartAloneOnGearsThatItHasNotSeen(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	all := tally{}
	for _, x := range c.Schemes {
		if !slices.Contains([]string{"one-set", "paired-planets", "set-one-sun-4", "paired-two-suns-6", "three-sets-8", "four-sets-8", "two-shafts-5"}, x.ID) {
			continue
		}
		u, bad := unitsheet.Compile(x.Sheet())
		if len(bad) > 0 {
			t.Fatal(bad[0])
		}
		one := held(t, u, []faultmap.Kind{faultmap.NeverApplies, faultmap.NeverReleases, faultmap.NeverHolds, faultmap.Seized})
		t.Logf("%s: %d of %d cells", x.ID, one.right, one.cells)
		all.add(one)
	}
	t.Logf("all: %v", all)
	if float64(all.right) < 0.95*float64(all.cells) {
		t.Errorf("%d of %d cells are right", all.right, all.cells)
	}
}

// tally counts cells in which chart and gears agree, and abnormal ones that the chart finds.
type tally struct{ right, cells, found, abnormal int }

func (a *tally) add(b tally) {
	a.right, a.cells, a.found, a.abnormal = a.right+b.right, a.cells+b.cells, a.found+b.found, a.abnormal+b.abnormal
}

func (a tally) String() string {
	return fmt.Sprintf("%d of %d cells, %.1f %%; abnormal found %d of %d", a.right, a.cells, 100*float64(a.right)/float64(a.cells), a.found, a.abnormal)
}

// held cuts a unit down to its chart and holds the failures of its elements against what its gears give.
func held(t *testing.T, full *unitsheet.Unit, kinds []faultmap.Kind) tally {
	t.Helper()
	lesser := reduced(t, full, unitsheet.ByChart)
	out := tally{}
	for _, f := range faultmap.Faults(full) {
		if !slices.Contains(kinds, f.Kind) {
			continue
		}
		want, err := faultmap.Predict(full, f)
		if err != nil {
			t.Fatal(err)
		}
		got, err := faultmap.Predict(lesser, f)
		if err != nil {
			t.Fatalf("%s: %v", full.Sheet.ID, err)
		}
		for _, cell := range faultmap.Grid(full) {
			if slices.Contains(want.Unknown, cell) || !slices.Contains(faultmap.Grid(lesser), cell) || cell.Behaviour == faultmap.Noise || cell.Behaviour == faultmap.Lockup {
				continue
			}
			a, _ := want.At(cell)
			b, _ := got.At(cell)
			same := a.State == b.State
			if same && a.Cell.Behaviour == faultmap.Drives && a.State == "wrong" && strings.HasPrefix(b.Detail, "drives as") {
				same = strings.Fields(a.Detail)[2] == strings.Fields(b.Detail)[2]
			}
			one := tally{cells: 1}
			if a.State != "" {
				one.abnormal = 1
				if b.State != "" {
					one.found = 1
				}
			}
			if same {
				one.right = 1
			} else {
				t.Logf("%s %s %s in %v: %q (%s), by chart %q (%s)", full.Sheet.ID, f.Kind, f.Part, cell, a.State, a.Detail, b.State, b.Detail)
			}
			out.add(one)
		}
	}
	return out
}

func sortedUnits(units map[string]*unitsheet.Unit) []string {
	var out []string
	for id := range units {
		out = append(out, id)
	}
	slices.Sort(out)
	return out
}
