package catalog_test

import (
	"math"
	"regexp"
	"slices"
	"strings"
	"testing"

	"innercompass/core/unitsheet"
	"innercompass/internal/trial"
)

// The bench test of a freewheel follows from the gears: wherever the solved design lets it run free, it turns the way that the test
// calls free. Where a trap of the sheet tells the test in words, the words say the same.
func TestBenchTestsOfFreewheelsAgreeWithTheGears(t *testing.T) {
	free, told := 0, 0
	for id, n := range trial.Load(t).Networks {
		for _, e := range n.Unit.Elements {
			h := e.HandTest
			if h.Held == "" {
				continue
			}
			for _, r := range n.Unit.Ranges {
				sure := driven(n.Unit, r)
				if !sure[h.Held] || !sure[h.Turned] {
					continue // one side floats: what drags it along decides
				}
				ahead := r.Healthy.Speeds[h.Turned] - r.Healthy.Speeds[h.Held] // the case stands
				if math.Abs(ahead) < 1e-6 {
					continue
				}
				if free++; ahead > 0 == h.Locks {
					t.Errorf("%s, %s in %s: the %s runs at %v against the %s, the bench test says %q", id, e.Name, r.ID, h.Turned, ahead, h.Held, h)
				}
			}
			for _, trap := range n.Unit.Sheet.Traps {
				if !strings.Contains(trap.Text, e.Name) || !strings.Contains(trap.Text, "engine") {
					continue
				}
				m := regexp.MustCompile(`hold the (.+?)[;:] .*must (lock|turn free)\b.* with (?:the )?engine|hold the (.+?)[;:] .*must (lock|turn free) when turned with the engine`).FindStringSubmatch(trap.Text)
				if m == nil {
					t.Errorf("%s: trap %q does not say which member is held, and what the other must do with the engine", id, trap.Text)
					continue
				}
				told++
				held := unitsheet.MemberName(n.Unit.Sheet, h.Held)
				if m[1] != held || (m[2] == "lock") != h.Locks {
					t.Errorf("%s: trap %q, by the gears %q", id, trap.Text, h)
				}
			}
		}
	}
	if free < 20 || told < 2 {
		t.Errorf("only %d ranges in which one runs free, %d traps", free, told)
	}
}

// driven are the members of a unit whose speed the gears settle in a range.
func driven(u *unitsheet.Unit, r unitsheet.Range) map[string]bool {
	g := u.Sheet.Gearing
	out := map[string]bool{"case": true, g.Input: true, g.Output: true}
	for range len(g.Members) {
		join := func(need int, members ...string) {
			known := 0
			for _, m := range members {
				if out[m] {
					known++
				}
			}
			for _, m := range members {
				if known >= need && m != "" {
					out[m] = true
				}
			}
		}
		for _, e := range u.Sheet.Elements {
			if slices.Contains(r.Applied, e.ID) {
				join(1, e.A, e.B)
			}
		}
		for _, x := range g.Gears {
			join(1, x.A, x.B)
		}
		for _, x := range g.Links {
			join(1, x.A, x.B)
		}
		for _, x := range g.Sets {
			if x.Ring != "" {
				join(2, x.Sun, x.Ring, x.Carrier)
			}
			if x.SmallSun != "" {
				join(2, x.Sun, x.SmallSun, x.Carrier)
			}
		}
	}
	return out
}
