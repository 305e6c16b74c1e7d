package catalog

import (
	"errors"
	"fmt"
	"io/fs"
	"regexp"
	"strings"
	"testing"

	"innercompass/core/gearing"
	"innercompass/knowledge"
)

func sheet(t *testing.T) string {
	t.Helper()
	data, err := fs.ReadFile(knowledge.FS, "units/norrad-h4.yaml")
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

func lineOf(text, part string) int { return 1 + strings.Count(text[:strings.Index(text, part)], "\n") }

// Each case breaks the good sheet at one place; the problem must name that line and say what is accepted.
func TestProblemsNameTheLine(t *testing.T) {
	good := sheet(t)
	for _, c := range []struct{ name, old, broken, reason string }{
		{"unknown member", "{id: RC, name: reverse clutch, kind: clutch, a: turbine,", "{id: RC, name: reverse clutch, kind: clutch, a: turbnie,", "not declared"},
		{"unknown key", "summary: four-speed", "sumary: four-speed", "unknown field"},
		{"wrong tooth count", "{a: ring, b: long, teeth_a: 72, teeth_b: 18", "{a: ring, b: long, teeth_a: 720, teeth_b: 18", "720 teeth"},
		{"set that does not assemble", "small_sun: 30, short: 18, count: 3", "small_sun: 31, short: 18, count: 3", "does not assemble"},
		{"range that does something else", "{id: D1, selector: D, name: Drive first, applied: [FC], holding: [LF], outcome: forward", "{id: D1, selector: D, name: Drive first, applied: [FC], holding: [LF], outcome: reverse", "the gears give"},
		{"freewheel that does not hold", "applied: [FC, IC], holding: [IF]", "applied: [FC, IC], holding: [LF]", "the gears need"},
		{"unit of another dimension", "window: 1.10..1.60 mm}", "window: 1.10..1.60 psi}", "is not a unit of length"},
		{"window the wrong way round", "{stall: 1950..2150 rpm", "{stall: 2150..1950 rpm", "low end is above"},
		{"unknown access", "zone: [2, 18, 15, 64]", "zone: [2, 18, 15, 64], extra: 1", "unknown field"},
		{"unknown level", "{level: pan-off, minutes: 25}", "{level: pan-of, minutes: 25}", "unknown access level"},
		{"element of no feed", "feed: third, capacity", "feed: fourth, capacity", "no feed"},
		{"forward sign", "forward_sign: 1", "forward_sign: 2", "2"},
	} {
		if !strings.Contains(good, c.old) {
			t.Fatalf("%s: the sheet no longer has %q", c.name, c.old)
		}
		broken := strings.Replace(good, c.old, c.broken, 1)
		_, err := ParseUnit("broken.yaml", []byte(broken))
		var problems Problems
		if !errors.As(err, &problems) {
			t.Errorf("%s: no problem found", c.name)
			continue
		}
		want := lineOf(broken, c.broken)
		found := false
		for _, p := range problems {
			found = found || p.Line == want && strings.Contains(p.Reason, c.reason) && p.Accepted != ""
		}
		if !found {
			t.Errorf("%s: want line %d with %q, got\n%v", c.name, want, c.reason, err)
		}
	}
}

func TestNotYAMLAndTooLarge(t *testing.T) {
	for _, text := range []string{"", ":::", "[1, 2", "\x00\x01", "format: 3\n\tid: x", strings.Repeat("a", MaxFile+1)} {
		if _, err := ParseUnit("x.yaml", []byte(text)); err == nil {
			t.Errorf("%.20q gave no error", text)
		}
	}
}

func FuzzParseUnit(f *testing.F) {
	f.Add([]byte("format: inner-compass-unit/1\n"))
	data, err := fs.ReadFile(knowledge.FS, "units/norrad-d2.yaml")
	if err != nil {
		f.Fatal(err)
	}
	f.Add(data)
	f.Fuzz(func(t *testing.T, data []byte) {
		u, err := ParseUnit("f.yaml", data)
		if (u == nil) == (err == nil) {
			t.Fatal("neither unit nor error, or both")
		}
	})
}

// Every engine that a sheet names must be held by its elements at full throttle, converter multiplying, in
// every range that it drives: the sheet's numbers must be consistent.
func TestCapacitiesHoldTheEngine(t *testing.T) {
	c, err := Load(knowledge.FS)
	if err != nil {
		t.Fatal(err)
	}
	for id, u := range c.Units {
		for _, r := range u.Ranges {
			if !r.Driving() {
				continue
			}
			input := u.MaxTorque.SI
			if r.Healthy.Ratio < 0 || r.Healthy.Ratio > 1.5 {
				input *= u.Sheet.Converter.TorqueRatio
			}
			for _, e := range u.Elements {
				load := input * abs(r.Healthy.Torques[e.ID])
				if load > e.Capacity.SI {
					t.Errorf("%s %s: %s carries %.0f N·m of %.0f", id, r.ID, e.ID, load, e.Capacity.SI)
				}
			}
		}
		if u.Train.ForwardSign == 0 || !hasReverse(u.Ranges[1].Healthy.Outcome) {
			t.Errorf("%s: R gives %s", id, u.Ranges[1].Healthy.Outcome)
		}
	}
}

func hasReverse(o gearing.Outcome) bool { return o == gearing.Reverse }

func abs(v float64) float64 {
	if v < 0 {
		return -v
	}
	return v
}

func TestKnowledgeIdsAreUsedOnce(t *testing.T) {
	c, err := Load(knowledge.FS)
	if err != nil {
		t.Fatal(err)
	}
	for unit, n := range c.Networks {
		seen := map[string]bool{}
		note := func(kind, id string) {
			if seen[kind+id] {
				t.Errorf("%s: %s %s twice", unit, kind, id)
			}
			if regexp.MustCompile(`[{}@]`).MatchString(id) {
				t.Errorf("%s: %s %s was not filled in", unit, kind, id)
			}
			seen[kind+id] = true
		}
		for _, f := range n.Findings {
			note("finding ", f.ID)
			sum := 0.0
			for _, s := range f.States[1:] {
				sum += s.Baseline
			}
			if len(f.States) < 2 || sum <= 0 || sum > 0.6 {
				t.Errorf("%s: finding %s has %d states, abnormal baselines sum to %v", unit, f.ID, len(f.States), sum)
			}
		}
		for _, x := range n.Causes {
			note("cause ", x.ID)
		}
		for _, x := range n.Checks {
			note("check ", x.ID)
		}
		for _, x := range n.Options {
			note("option ", x.ID)
		}
	}
}

func ExampleParseUnit() {
	_, err := ParseUnit("mine.yaml", []byte("format: other/1\nid: mine\n"))
	fmt.Println(strings.SplitN(err.Error(), "\n", 2)[0])
	// Output: mine.yaml:1: format: "other/1" is not a unit sheet of this version; accepted: inner-compass-unit/1
}
