package catalog

import (
	"errors"
	"fmt"
	"io/fs"
	"regexp"
	"strings"
	"testing"

	embedded "innercompass/knowledge"
)

func sheet(t *testing.T) string {
	t.Helper()
	data, err := fs.ReadFile(embedded.FS, "units/norrad-h4.yaml")
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
		{"member attached to nothing", "members: [engine, turbine,", "members: [spare, engine, turbine,", "attached to nothing"},
		{"unknown key", "summary: \"four-speed", "sumary: \"four-speed", "unknown field"},
		{"wrong tooth count", "ring_teeth: 72", "ring_teeth: 720", "does not mesh"},
		{"set that does not assemble", "small_sun_teeth: 30", "small_sun_teeth: 31", "does not assemble"},
		{"range that does something else", "{id: D1, selector: D, name: Drive first, applied: [FC], holding: [LF], outcome: forward", "{id: D1, selector: D, name: Drive first, applied: [FC], holding: [LF], outcome: reverse", "the gears give"},
		{"range that is neutral", "name: Manual first, applied: [FC, LB]", "name: Manual first, applied: [LB]", "\"neutral\""},
		{"range that binds", "name: Reverse, applied: [RC, LB]", "name: Reverse, applied: [RC, LB, OB]", "\"bind\""},
		{"freewheel that does not hold", "applied: [FC, IC], holding: [IF]", "applied: [FC, IC], holding: [LF]", "the gears need"},
		{"unit of another dimension", "window: 1.10..1.60 mm}", "window: 1.10..1.60 psi}", "is not a unit of length"},
		{"unit that nobody knows", "piston: 76.5 cm²", "piston: 76.5 barleycorns", "is not a unit of area"},
		{"window the wrong way round", "{stall: 1950..2150 rpm", "{stall: 2150..1950 rpm", "low end is above"},
		{"unknown access", "zone: [2, 18, 15, 64]", "zone: [2, 18, 15, 64], extra: 1", "unknown field"},
		{"unknown level", "{level: pan-off, minutes: 25}", "{level: pan-of, minutes: 25}", "unknown access level"},
		{"element of no feed", "b: carrier, feed: third", "b: carrier, feed: fourth", "no feed"},
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

// Where two places contradict each other, the line is that of the second.
func TestContradictionsNameTheSecondPlace(t *testing.T) {
	good := sheet(t)
	for _, c := range []struct{ old, broken, at, reason string }{
		{"control: hydraulic", "control: hydraulic\ncontrol: electronic", "control: electronic", "already defined"},
		{"{selector: D, bits: \"100\", applied: [FC, IC]}", "{selector: D, bits: \"100\", applied: [FC, DC]}", "{id: D2,", "logic gives"},
		{"{id: M2, selector: \"2\"", "{id: D4, selector: \"2\"", "{id: D4, selector: \"2\"", "used twice"},
	} {
		broken := strings.Replace(good, c.old, c.broken, 1)
		_, err := ParseUnit("broken.yaml", []byte(broken))
		if want := fmt.Sprintf("broken.yaml:%d: ", lineOf(broken, c.at)); err == nil || !strings.Contains(err.Error(), want) || !strings.Contains(err.Error(), c.reason) {
			t.Errorf("%s: want %s with %q, got\n%v", c.broken, want, c.reason, err)
		}
	}
}

func TestNotYAMLAndTooLarge(t *testing.T) {
	for _, text := range []string{"", ":::", "[1, 2", "\x00\x01", "format: 3\n\tid: x", strings.Repeat("a", MaxFile+1), strings.Repeat("x", 10<<20),
		strings.Repeat("[", 5000), strings.Repeat("{a: ", 5000), "gearing:\n" + strings.Repeat(" ", 2000) + "a: 1", "id: &a x\nname: *a\n"} {
		if _, err := ParseUnit("x.yaml", []byte(text)); err == nil {
			t.Errorf("%.20q gave no error", text)
		}
	}
}

func FuzzParseUnit(f *testing.F) {
	f.Add([]byte("format: inner-compass-unit/2\n"))
	data, err := fs.ReadFile(embedded.FS, "units/norrad-d2.yaml")
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

func TestKnowledgeIdsAreUsedOnce(t *testing.T) {
	c, err := Load(embedded.FS)
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
	// Output: mine.yaml:1: format: "other/1" is not a unit sheet of this version; accepted: inner-compass-unit/2
}
