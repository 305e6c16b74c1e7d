package drives

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"innercompass/core/powertrain"
	"innercompass/core/sim"
	"innercompass/internal/trial"
)

// drive writes a table of a simulated drive up through the gears, 50 rows a second, whole rev/min, as a reader of live data writes it.
func drive(t *testing.T, faults ...sim.Fault) string {
	t.Helper()
	u := trial.Load(t).Networks["ombrin-s6"].Unit
	m, err := sim.New(sim.Setup{Unit: u, Vehicle: powertrain.For(u), Celsius: 80, Faults: faults})
	if err != nil {
		t.Fatal(err)
	}
	var b strings.Builder
	b.WriteString("time (s),turbine speed (rpm),output speed (rpm)\n")
	for i := range 40_000 {
		in := sim.Input{Selector: "D", Throttle: 0.35}
		if i < 1000 {
			in.Throttle, in.Brake = 0, 1
		}
		m.Advance(in)
		if n := m.Now(); i%20 == 19 {
			fmt.Fprintf(&b, "%.2f,%.0f,%.0f\n", n.Time, n.Turbine*30/math.Pi, n.Output*30/math.Pi)
		}
	}
	return file(t, "drive.csv", b.String())
}

// A sound drive has its shifts and no flare; plates of clutch B that stand too far apart make the shifts that it comes on for flare, and no other.
func TestShiftsOfADrive(t *testing.T) {
	for _, c := range []struct {
		name   string
		faults []sim.Fault
		flares string
	}{{"sound", nil, ""}, {"clutch B stands open", []sim.Fault{{Kind: sim.Clearance, Element: "CB", Size: 1.6}}, "D3 D5"}} {
		path := drive(t, c.faults...)
		text, err := run(t, "shifts", path, "--unit", "ombrin-s6", "--json")
		if err != nil {
			t.Fatalf("%v %s", err, text)
		}
		var out shiftsJSON
		if err := json.Unmarshal([]byte(text), &out); err != nil {
			t.Fatal(err)
		}
		if out.Selector != "D" || len(out.Shifts) < 4 || math.Abs(out.Rate-50) > 1 {
			t.Errorf("%s: %s", c.name, text)
		}
		if first := out.Suspects[0]; (c.flares != "") != (first.Blame == "late-on" && first.Element == "CB" && first.Probability > 0.8) || (c.flares == "") != (first.Blame == "sound") {
			t.Errorf("%s: laid at %+v", c.name, out.Suspects[:2])
		}
		for i, s := range out.Shifts {
			if want := fmt.Sprintf("D%d", i+2); s.To != want || s.Inertia < 0.15 || s.Inertia > 0.9 {
				t.Errorf("%s: shift %d is %+v", c.name, i, s)
			}
			if (s.Flare > 100) != strings.Contains(c.flares, s.To) {
				t.Errorf("%s: into %s it flares by %.0f rpm", c.name, s.To, s.Flare)
			}
		}
	}
	path := drive(t)
	if text, err := run(t, "shifts", path, "--unit", "ombrin-s6"); err != nil || !strings.Contains(text, "D2 to D3") || !strings.Contains(text, "From speeds alone") {
		t.Errorf("%v %s", err, text)
	}
	for _, args := range [][]string{{"shifts", path}, {"shifts", path, "--unit", "ombrin-s6", "--selector", "N"}} {
		if text, err := run(t, args...); err == nil {
			t.Errorf("%v: %s", args, text)
		}
	}
}

// Two files are held against each other: what is better is said, with its bound; one file twice, and a file that is not there, are not.
func TestTwoDrivesAreCompared(t *testing.T) {
	bad, good := drive(t, sim.Fault{Kind: sim.Clearance, Element: "CB", Size: 1.6}), drive(t)
	text, err := run(t, "compare", bad, good, "--unit", "ombrin-s6", "--json")
	if err != nil {
		t.Fatalf("%v %s", err, text)
	}
	var out comparedJSON
	if err := json.Unmarshal([]byte(text), &out); err != nil || len(out.Kinds) < 4 {
		t.Fatalf("%v %s", err, text)
	}
	for _, k := range out.Kinds {
		for _, d := range k.Differences {
			if d.Bound != nil || d.Verdict != "cannot-tell" { // one shift of a kind on each side tells nothing
				t.Errorf("%s to %s: %+v", k.From, k.To, d)
			}
		}
	}
	if text, err := run(t, "compare", bad, good, "--unit", "ombrin-s6"); err != nil || !strings.Contains(text, "one shift only") {
		t.Errorf("%v %s", err, text)
	}
	if text, err := run(t, "compare", bad, "none.csv", "--unit", "ombrin-s6"); err == nil {
		t.Errorf("a file that is not there: %s", text)
	}
}
