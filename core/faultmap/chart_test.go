package faultmap_test

import (
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
	right, cells, abnormal, found := 0, 0, 0, 0
	for _, id := range sortedUnits(c.Units) {
		full := c.Units[id]
		lesser := reduced(t, full, unitsheet.ByChart)
		sheetRight, sheetCells := 0, 0
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
				t.Fatalf("%s: %v", id, err)
			}
			for _, cell := range faultmap.Grid(full) {
				if slices.Contains(want.Unknown, cell) || !slices.Contains(faultmap.Grid(lesser), cell) || slices.Contains([]faultmap.Behaviour{faultmap.Noise, faultmap.Lockup}, cell.Behaviour) {
					continue
				}
				a, _ := want.At(cell)
				b, _ := got.At(cell)
				sheetCells++
				if a.State != "" {
					abnormal++
				}
				if a.State != "" && b.State != "" {
					found++
				}
				same := a.State == b.State
				if same && a.Cell.Behaviour == faultmap.Drives && a.State == "wrong" && strings.HasPrefix(b.Detail, "drives as") {
					same = strings.Fields(a.Detail)[2] == strings.Fields(b.Detail)[2]
				}
				if same {
					sheetRight++
				} else {
					t.Logf("%s %s %s in %v: %q (%s), by chart %q (%s)", id, f.Kind, f.Part, cell, a.State, a.Detail, b.State, b.Detail)
				}
			}
		}
		t.Logf("%s: %d of %d cells", id, sheetRight, sheetCells)
		right, cells = right+sheetRight, cells+sheetCells
	}
	t.Logf("all: %d of %d cells, %.1f %%; abnormal found %d of %d", right, cells, 100*float64(right)/float64(cells), found, abnormal)
	if float64(right) < 0.98*float64(cells) {
		t.Errorf("%d of %d cells are right", right, cells)
	}
}

func sortedUnits(units map[string]*unitsheet.Unit) []string {
	var out []string
	for id := range units {
		out = append(out, id)
	}
	slices.Sort(out)
	return out
}
