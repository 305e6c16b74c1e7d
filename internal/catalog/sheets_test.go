package catalog

import (
	"context"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/gearing"
	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
	embedded "innercompass/knowledge"
)

func load(t *testing.T) *Catalog {
	t.Helper()
	c, err := Load(embedded.FS)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

func shipped(t *testing.T) map[string]*unitsheet.Unit {
	t.Helper()
	c := load(t)
	if len(c.Units) < 10 {
		t.Fatalf("%d sheets, want one for each of the ten systems", len(c.Units))
	}
	return c.Units
}

// Sets assemble and ranges come out as declared, or the sheet does not load at all; beyond that capacities hold
// the engine at full throttle with the stated margin, plates leave their clearance, springs give their pressure,
// governors their shift speeds, and nothing binds without power.
func TestShippedSheetsAreConsistent(t *testing.T) {
	for id, u := range shipped(t) {
		for _, d := range u.Doubts() {
			t.Errorf("%s: %v", id, d)
		}
		if u.Sheet.Engine.Margin < 1.1 || u.MaxTorque.SI <= 0 {
			t.Errorf("%s: no engine or no stated margin", id)
		}
		for _, e := range u.Elements {
			if !unitsheet.Known(e.Capacity) {
				t.Errorf("%s: capacity of %s is not known", id, e.ID)
			}
			if e.Pressed() && e.Kind != gearing.Band && !unitsheet.Known(e.Clear) {
				t.Errorf("%s: %s has no stack of plates", id, e.ID)
			}
			if e.Hours <= 0 || e.Access == unitsheet.Ground {
				t.Errorf("%s: %s has no hours or access", id, e.ID)
			}
		}
	}
}

// What each sheet has to carry, so that no view of it is empty.
func TestShippedSheetsAreComplete(t *testing.T) {
	for id, u := range shipped(t) {
		s := u.Sheet
		for what, n := range map[string]int{"limits": len(s.Limits), "parts": len(s.Parts), "traps": len(s.Traps), "resets": len(s.Resets), "torque values": len(s.Torques), "known failures": len(s.Known), "access": len(s.Access), "level steps": len(s.Fluid.Level.Steps), "shared parts": len(s.Shared), "controls or hand": len(s.Controls) + map[string]int{"hand": 1}[s.Control]} {
			if n == 0 {
				t.Errorf("%s: no %s", id, what)
			}
		}
		if s.Control == "electronic" && len(s.Sensors) == 0 || s.Control != "hand" && len(s.Feeds) == 0 {
			t.Errorf("%s: no sensors or no feeds", id)
		}
		if s.Control == "hydraulic" && (u.Governor == nil || u.Throttle == nil || len(u.Shifts) == 0 || u.Regulator == nil) {
			t.Errorf("%s: hydraulic control without governor, throttle valve, regulator or shift valves", id)
		}
		reverse := slices.ContainsFunc(u.Ranges, func(r unitsheet.Range) bool { return r.Healthy.Outcome == gearing.Reverse })
		if !reverse {
			t.Errorf("%s has no reverse", id)
		}
	}
}

// In every state of every sheet, faulty ones included, what goes in as power comes out, and every torque
// between members is in balance.
func TestPowerBalancesInEveryStateOfEverySheet(t *testing.T) {
	driving := 0
	for id, u := range shipped(t) {
		var ids, wheels []string
		for _, e := range u.Elements {
			if e.Kind == gearing.Freewheel {
				wheels = append(wheels, e.ID)
			} else {
				ids = append(ids, e.ID)
			}
		}
		for mask := range 1 << len(ids) {
			var on []string
			for i, x := range ids {
				if mask&(1<<i) != 0 {
					on = append(on, x)
				}
			}
			if len(on) > 5 {
				continue // no valve body applies six at once
			}
			states := []gearing.State{{Applied: on}}
			for _, w := range wheels {
				states = append(states, gearing.State{Applied: on, Seized: []string{w}}, gearing.State{Applied: on, Broken: []string{w}})
			}
			for _, state := range states {
				driving += balanced(t, id, u, state)
			}
		}
	}
	if driving < 300 {
		t.Fatalf("only %d driving states", driving)
	}
}

// balanced checks one state and returns 1 if it drives.
func balanced(t *testing.T, id string, u *unitsheet.Unit, state gearing.State) int {
	t.Helper()
	s, err := u.Machine.Solve(state)
	if err != nil {
		t.Fatal(err)
	}
	if s.Outcome != gearing.Forward && s.Outcome != gearing.Reverse {
		return 0
	}
	balance(t, id, state.Applied, u.Machine.Train(), s.Flow, 1)
	if s.Overrun != nil {
		balance(t, id, state.Applied, u.Machine.Train(), *s.Overrun, -1)
	}
	return 1
}

func balance(t *testing.T, id string, on []string, train gearing.Train, f gearing.Flow, in float64) {
	t.Helper()
	if f.Torques == nil {
		t.Errorf("%s %v: no torque path", id, on)
		return
	}
	scale := math.Max(1, math.Abs(f.OutputTorque))
	if got := f.OutputTorque * f.Speeds[train.Output]; math.Abs(got-in) > 1e-9*scale {
		t.Errorf("%s %v: power in %v, out %v", id, on, in, got)
	}
	for i, m := range train.Meshes {
		if f.Teeth == nil {
			return
		}
		za, zb := float64(m.TeethA), float64(m.TeethB)
		if m.Internal || m.Chain {
			zb = -zb
		}
		a := f.Teeth[i]
		if p := a*f.Speeds[m.A] + a*zb/za*f.Speeds[m.B] - a*(za+zb)/za*f.Speeds[m.Carrier]; math.Abs(p) > 1e-9*scale*10 {
			t.Errorf("%s %v: teeth of %s and %s make power %v", id, on, m.A, m.B, p)
		}
	}
}

// own is what a sheet adds to the knowledge: a cause, its finding and the check for it.
const own = `
own:
  findings:
    - {id: peg, title: Locating peg of the cover, stage: checks, states: ["there: there", "missing 0.4%: missing"]}
  causes:
    - id: peg-lost
      title: Locating peg of the cover lost
      system: hydraulics
      met: hardly, because it needs an earlier repair
      shows: ["peg missing, always, because it is the fault itself"]
      repair: {hours: 0.5, parts: 8, access: unit-out}
  checks:
    - {id: peg, title: Peg of the cover felt for, tells: It centres the cover., minutes: 5, access: ground, yields: [peg], steps: [Feel for it.]}
`

func TestASheetAddsKnowledgeOfItsOwn(t *testing.T) {
	c := load(t)
	text := string(c.Text("norrad-d2"))
	n, bad, _ := c.Check(context.Background(), []byte(text+own))
	if bad != nil {
		t.Fatal(bad)
	}
	if _, ok := n.Cause("peg-lost"); !ok {
		t.Error("the sheet's cause is not in its network")
	}
	if k, ok := n.Check("peg"); !ok || k.Yields[0] != "peg" {
		t.Errorf("the sheet's check: %+v %v", k, ok)
	}
	if _, ok := c.Networks["norrad-d2"].Cause("peg-lost"); ok {
		t.Error("it leaked into the shipped unit")
	}
	if before, after := suspicion(t, n, "there"), suspicion(t, n, "missing"); after < 20*before {
		t.Errorf("its finding moves its cause from %g to %g only", before, after)
	}
	for _, format := range []string{"yaml", "json"} {
		again, err := c.Write(n.Unit.Sheet, format)
		if err != nil {
			t.Fatal(err)
		}
		back, bad, _ := c.Check(context.Background(), again)
		if bad != nil {
			t.Fatalf("%s: %v", format, bad)
		}
		if _, ok := back.Cause("peg-lost"); !ok {
			t.Errorf("lost on the way through %s", format)
		}
	}
}

// suspicion is the probability of the sheet's own cause when its finding shows this.
func suspicion(t *testing.T, n *knowledge.Network, state string) float64 {
	t.Helper()
	a, err := diagnose.Assess(n, diagnose.Situation{Readings: []diagnose.Reading{{ID: "1", Finding: "peg", State: state, Source: "seen"}}})
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range a.Suspects {
		if s.Cause.ID == "peg-lost" {
			return s.Probability
		}
	}
	t.Fatal("not among the suspects")
	return 0
}

func TestWhatIsWrongWithASheetsOwnKnowledgeIsNamedWithItsLine(t *testing.T) {
	c := load(t)
	text := string(c.Text("norrad-d2"))
	first := strings.Count(text, "\n") + 2 // the line of "own:"
	for _, x := range []struct {
		name, from, to, path string
		line                 int
	}{
		{"a strength that is not one", "always, because it is", "certainly, because it is", "own.causes[0].shows[0]", first + 8},
		{"a finding that is not there", "yields: [peg]", "yields: [pegs]", "own.checks[0].yields[0]", first + 11},
		{"an id that the trade has already", "id: peg-lost", "id: pump-drive", "own.causes[0].id", first + 4},
		{"an access level that is not one", "access: unit-out", "access: cellar", "own.causes[0].repair.access", first + 9},
		{"an id that a template comes to", "id: peg-lost", "id: lining.DC", "", 0},
		{"a key that is not one", "minutes: 5", "minuets: 5", "", first + 11},
	} {
		_, bad, _ := c.Check(context.Background(), []byte(text+strings.Replace(own, x.from, x.to, 1)))
		if len(bad) == 0 {
			t.Errorf("%s: taken", x.name)
			continue
		}
		if b := bad[0]; b.Path != x.path || b.Line != x.line {
			t.Errorf("%s: %s, line %d, want %s, line %d (%s)", x.name, b.Path, b.Line, x.path, x.line, b.Reason)
		}
	}
}
