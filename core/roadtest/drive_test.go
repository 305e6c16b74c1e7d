package roadtest_test

import (
	"slices"
	"strings"
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/roadtest"
	"innercompass/internal/trial"
)

// One drive shows every cell once, whatever the unit.
func TestACourseGoesThroughTheWholeGridOnce(t *testing.T) {
	for id, u := range trial.Load(t).Units {
		var driven []faultmap.Cell
		for _, l := range roadtest.Course(u) {
			if l.Title == "What is left" {
				t.Errorf("%s: %v is driven in no leg", id, l.Cells)
			}
			driven = append(driven, l.Cells...)
		}
		grid := faultmap.Grid(u)
		if len(driven) != len(grid) {
			t.Errorf("%s: %d cells driven, the grid has %d", id, len(driven), len(grid))
		}
		for _, c := range grid {
			if !slices.Contains(driven, c) {
				t.Errorf("%s: %v is not driven", id, c)
			}
		}
	}
}

// A drive begins standing, goes up before it comes down, and backs up last (common practice, no source).
func TestACourseIsOneDrive(t *testing.T) {
	legs := roadtest.Course(trial.Load(t).Units["norrad-h4"])
	at := func(c faultmap.Cell) int {
		n := 0
		for _, l := range legs {
			if i := slices.Index(l.Cells, c); i >= 0 {
				return n + i
			}
			n += len(l.Cells)
		}
		return -1
	}
	order := []faultmap.Cell{{Range: "D1", Behaviour: faultmap.Engages}, {Range: "D1", Behaviour: faultmap.Drives}, {Range: "D2", Behaviour: faultmap.Shift}, {Range: "D4", Behaviour: faultmap.Shift}, {Range: "D4", Behaviour: faultmap.Slips}, {Range: "D3", Behaviour: faultmap.Down}, {Range: "D1", Behaviour: faultmap.Down}, {Range: "R", Behaviour: faultmap.Drives}}
	for i := 1; i < len(order); i++ {
		if a, b := at(order[i-1]), at(order[i]); a < 0 || a >= b {
			t.Errorf("%v comes at %d, %v at %d", order[i-1], a, order[i], b)
		}
	}
}

func TestWhatIsCalledOutFallsIntoItsCells(t *testing.T) {
	units := trial.Load(t).Units
	shift := faultmap.Cell{Range: "D3", Behaviour: faultmap.Shift}
	for _, c := range []struct {
		unit, said string
		at         faultmap.Cell
		want, rest string
	}{
		{"norrad-h4", "third flares", faultmap.Cell{}, "D3.shift=flare", ""},
		{"norrad-h4", "normal", shift, "D3.shift=normal", ""},
		{"norrad-h4", "it flares", shift, "D3.shift=flare", ""},
		{"norrad-h4", "third flares, fourth is fine", shift, "D3.shift=flare D4.shift=normal D4.drives=normal", ""},
		{"norrad-h4", "3rd bangs in 4th late", shift, "D3.shift=harsh D4.shift=late", ""},
		{"norrad-h4", "reverse slow", shift, "R.engages=late", ""},
		{"norrad-h4", "no slip in fourth", shift, "D4.slips=no", ""},
		{"norrad-h4", "down into second harsh", shift, "D2.down=harsh", ""},
		{"norrad-h4", "reverse no drive", shift, "R.drives=none", ""},
		{"norrad-h4", "third never comes; fourth slips", shift, "D3.shift=missing D4.slips=yes", ""},
		{"norrad-h4", "reverse comes late", shift, "R.engages=late", ""},
		{"norrad-h4", "third missing", shift, "D3.shift=missing", ""},
		{"vantrice-t10", "tenth delayed, M2 whines", shift, "D10.shift=delay M2.noise=noisy", ""},
		{"ombrin-m5", "fifth whines", faultmap.Cell{}, "G5.noise=noisy", ""},
		{"norrad-d2", "top slips", faultmap.Cell{}, "D2.slips=yes", ""},
		{"vantrice-t10", "fifth and seventh flare", shift, "D5.shift=flare D7.shift=flare", ""},
		{"norrad-h4", "reverse late and bangs", shift, "R.engages=harsh", ""}, // one cell: the last word counts
		{"norrad-h4", "second bangs and slips", shift, "D2.shift=harsh D2.slips=yes", ""},
		{"vantrice-t10", "no lockup in eighth", shift, "D8.lockup=none", ""},
		{"vantrice-t10", "converter shudders in tenth", shift, "D10.lockup=slips", ""},
		{"norrad-h4", "seventh flares", faultmap.Cell{}, "", "seventh flares"},
		{"norrad-h4", "the radio crackles", shift, "", "radio crackles"},
		{"norrad-h4", "third flares, no it is fine", shift, "D3.shift=flare", "no fine"},
		{"norrad-h4", "", shift, "", ""},
	} {
		calls, rest := roadtest.Hear(units[c.unit], c.said, c.at)
		var got []string
		for _, x := range calls {
			got = append(got, x.Cell.Range+"."+string(x.Cell.Behaviour)+"="+x.State)
		}
		if g := strings.Join(got, " "); g != c.want || strings.Join(rest, " ") != c.rest {
			t.Errorf("%s, %q: %q, left %q; want %q, left %q", c.unit, c.said, g, strings.Join(rest, " "), c.want, c.rest)
		}
	}
}

// A transmission that is shifted by hand is told to hold the pedal down, an automatic is not.
func TestAManualIsDrivenWithItsPedal(t *testing.T) {
	for id, u := range trial.Load(t).Units {
		how := roadtest.Course(u)[0].How
		if pedal := strings.Contains(how, "pedal down"); pedal != (id == "ombrin-m5") {
			t.Errorf("%s: %s", id, how)
		}
	}
}
