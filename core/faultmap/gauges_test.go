package faultmap_test

import (
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// What a gauge at a tap shows follows from what is pressed together: a shift valve that stays down leaves the direct clutch without oil, one that stays up feeds it in every range; a leak
// is low where it is, a pump everywhere, a burnt lining nowhere (common practice, no source).
func TestWhatGaugesShow(t *testing.T) {
	h4, s6 := unit(t, "norrad-h4"), unit(t, "ombrin-s6")
	for _, c := range []struct {
		u     *unitsheet.Unit
		fault faultmap.Fault
		at    faultmap.Cell
		want  string
	}{
		{h4, faultmap.Fault{Kind: faultmap.StuckOff, Part: "V23"}, faultmap.Cell{Range: "DC", Behaviour: faultmap.Tap}, "none"},
		{h4, faultmap.Fault{Kind: faultmap.StuckOn, Part: "V23"}, faultmap.Cell{Range: "DC", Behaviour: faultmap.Tap}, "stays"},
		{h4, faultmap.Fault{Kind: faultmap.StuckOff, Part: "V12"}, faultmap.Cell{Range: "FC", Behaviour: faultmap.Tap}, ""},
		{h4, faultmap.Fault{Kind: faultmap.Leaks, Part: "third"}, faultmap.Cell{Range: "DC", Behaviour: faultmap.Tap}, "low"},
		{h4, faultmap.Fault{Kind: faultmap.Leaks, Part: "third"}, faultmap.Cell{Behaviour: faultmap.Line}, ""},
		{h4, faultmap.Fault{Kind: faultmap.Lost, Part: "third"}, faultmap.Cell{Range: "DC", Behaviour: faultmap.Tap}, "none"},
		{h4, faultmap.Fault{Kind: faultmap.LowPressure}, faultmap.Cell{Behaviour: faultmap.Line}, "low"},
		{h4, faultmap.Fault{Kind: faultmap.HighPressure}, faultmap.Cell{Range: "FC", Behaviour: faultmap.Tap}, "hard"},
		{s6, faultmap.Fault{Kind: faultmap.HighPressure}, faultmap.Cell{Range: "CA", Behaviour: faultmap.Tap}, ""}, // its solenoid gives what it should, whatever the line has
		{s6, faultmap.Fault{Kind: faultmap.StuckOn, Part: "SE"}, faultmap.Cell{Range: "CE", Behaviour: faultmap.Tap}, "stays"},
		{s6, faultmap.Fault{Kind: faultmap.LimpHome}, faultmap.Cell{Behaviour: faultmap.Line}, "high"},
		{s6, faultmap.Fault{Kind: faultmap.NeverShifts}, faultmap.Cell{Behaviour: faultmap.Command}, "never"},
		{s6, faultmap.Fault{Kind: faultmap.AppliesLate, Part: "CB"}, faultmap.Cell{Range: "CB", Behaviour: faultmap.Tap}, "late"},
		{s6, faultmap.Fault{Kind: faultmap.AppliesLate, Part: "CB"}, faultmap.Cell{Range: "CE", Behaviour: faultmap.Tap}, ""},
	} {
		row, err := faultmap.Predict(c.u, c.fault)
		if err != nil {
			t.Fatal(err)
		}
		got, _ := row.At(c.at)
		if got.State != c.want {
			t.Errorf("%s, %v: %q, want %q", row.Title, c.at, got.State, c.want)
		}
	}
}

// Every state that a row has of a gauge is one that the gauge can show, and not the normal one.
func TestGaugesShowWhatTheyCan(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for id, u := range c.Units {
		rows, err := faultmap.Map(u)
		if err != nil {
			t.Fatal(err)
		}
		for _, row := range rows {
			for _, p := range row.Gauged {
				known := map[string]bool{}
				for _, s := range faultmap.Info(p.Cell.Behaviour).States[1:] {
					known[s.ID] = true
				}
				sum := p.Certainty
				ok := known[p.State]
				for _, b := range p.Besides {
					sum += b.Certainty
					ok = ok && known[b.State]
				}
				if !ok || p.Certainty <= 0 || sum > faultmap.Certain+0.04 {
					t.Errorf("%s: %s: %+v", id, row.Title, p)
				}
			}
		}
	}
}
