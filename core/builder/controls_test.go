package builder_test

import (
	"slices"
	"strings"
	"testing"

	"innercompass/core/builder"
	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// The table of our four-speed with two solenoids, as somebody would tap it in: the stuck faults that follow are those of the shipped
// sheet, wherever the table says what is on, and what it does not say is asked.
func TestStuckSolenoidsFollowFromTheTable(t *testing.T) {
	u := know(t).Units["tessaly-e4t"]
	d := builder.Of(u)
	d.Sheet.Ranges = slices.Clone(d.Sheet.Ranges)
	for i := range d.Sheet.Ranges {
		if s := d.Sheet.Ranges[i].Selector; s != "D" {
			d.Sheet.Ranges[i].Bits = ""
		}
	}
	d.Sheet.Logic, d.Sheet.Limp = nil, nil
	d.Sheet.Own = nil
	v := look(t, d)
	if v.Unit == nil {
		t.Fatal(flaws(v))
	}
	if len(v.Questions) != 0 { // two bits, four forward ranges: every setting is commanded
		t.Errorf("asked %+v", v.Questions)
	}
	for _, kind := range []faultmap.Kind{faultmap.StuckOff, faultmap.StuckOn} {
		for _, part := range []string{"A", "B"} {
			want, err := faultmap.Predict(u, faultmap.Fault{Kind: kind, Part: part})
			if err != nil {
				t.Fatal(err)
			}
			got, err := faultmap.Predict(v.Unit, faultmap.Fault{Kind: kind, Part: part})
			if err != nil {
				t.Fatal(err)
			}
			for _, r := range []string{"D1", "D2", "D3", "D4"} {
				cell := faultmap.Cell{Range: r, Behaviour: faultmap.Drives}
				a, _ := want.At(cell)
				b, _ := got.At(cell)
				if a.State != b.State || a.Detail != b.Detail {
					t.Errorf("%s %s in %s: %s, want %s", kind, part, r, b.Detail, a.Detail)
				}
			}
		}
	}
}

// Three solenoids and four ranges leave settings that nobody commands: those that one stuck solenoid gives are asked, and an answer goes
// into the logic.
func TestSettingsThatNobodyCommandsAreAsked(t *testing.T) {
	d := draft(t, "two-suns-4", fourSpeed)
	d.Sheet.Controls = []unitsheet.ControlSheet{{ID: "S1", Kind: "solenoid"}, {ID: "S2", Kind: "solenoid"}, {ID: "S3", Kind: "solenoid", Applies: "RC"}}
	for i, r := range d.Sheet.Ranges {
		d.Sheet.Ranges[i].Bits = map[string]string{"D1": "10", "D2": "00", "D3": "01", "D4": "01"}[r.ID]
	}
	v := look(t, d)
	if !strings.Contains(flaws(v), "same solenoids on") {
		t.Errorf("third and fourth with one setting passed: %s", flaws(v))
	}
	for i, r := range d.Sheet.Ranges {
		if r.ID == "D4" {
			d.Sheet.Ranges = slices.Delete(slices.Clone(d.Sheet.Ranges), i, i+1)
		}
	}
	v = look(t, d)
	if !v.Ready() || len(v.Questions) != 1 || v.Questions[0].Bits != "11" || v.Questions[0].Answer != "" {
		t.Fatalf("%s; asked %+v", flaws(v), v.Questions)
	}
	d.Sheet.Logic = append(d.Sheet.Logic, unitsheet.LogicSheet{Selector: "D", Bits: "11", Applied: []string{"FC", "DC"}})
	v = look(t, d)
	if len(v.Questions) != 1 || v.Questions[0].Answer != "D3" {
		t.Errorf("answered: %+v", v.Questions)
	}
	row, err := faultmap.Predict(v.Unit, faultmap.Fault{Kind: faultmap.StuckOn, Part: "S2"})
	if err != nil {
		t.Fatal(err)
	}
	if p, ok := row.At(faultmap.Cell{Range: "D1", Behaviour: faultmap.Drives}); !ok || !strings.Contains(p.Detail, "D3") {
		t.Errorf("second solenoid stuck on in first: %+v", p)
	}
}
