package catalog

import (
	"math"
	"slices"
	"testing"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
	"innercompass/knowledge"
)

func shipped(t *testing.T) map[string]*unitsheet.Unit {
	t.Helper()
	c, err := Load(knowledge.FS)
	if err != nil {
		t.Fatal(err)
	}
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
