package vibration_test

import (
	"math"
	"testing"

	"innercompass/core/vibration"
)

// In sixth at 80 km/h the joint (78.31 Hz) and the rear planets (79.28 Hz) are neighbors; in fourth the planets pass at 134.0 Hz, in fifth at
// 101.2 (teeth counted): 71 and 29 % apart.
func TestNeighborsArePartedByAnotherRange(t *testing.T) {
	s6 := unit(t, "ombrin-s6")
	at := vibration.State{Range: "D6", Road: 80 * kmh}
	l := list(t, s6, van, at)
	m := l.Matches(78.6, 0.3, 0.005)
	if m[0].ID != "joint" && m[1].ID != "joint" {
		t.Errorf("nearest: %s, %s", m[0].ID, m[1].ID)
	}
	var two []vibration.Source
	for _, x := range m[:6] {
		if x.ID == "joint" || x.Family == vibration.Planets && math.Abs(x.Hertz-79.28) < 0.05 {
			two = append(two, x.Source)
		}
	}
	if len(two) < 2 {
		t.Fatalf("joint and planets are not among the nearest: %+v", m[:6])
	}
	drives := vibration.Parts(s6, van, at, two[:2])
	apart := map[string]float64{}
	for _, d := range drives {
		apart[d.Range] = d.Apart
	}
	if math.Abs(apart["D4"]-0.711) > 0.005 || math.Abs(apart["D5"]-0.292) > 0.005 {
		t.Errorf("fourth parts by %v, fifth by %v", apart["D4"], apart["D5"])
	}
	if _, ok := apart["D1"]; ok {
		t.Error("first at 80 km/h is offered: the engine would turn 9,500 a minute")
	}
	if drives[0].Apart < drives[len(drives)-1].Apart {
		t.Error("the best drive is not first")
	}
}

// A bearing on the countershaft turns otherwise in each gear: in another gear it is looked for where it stands there.
func TestABearingOnAGearShaftMovesWithTheRange(t *testing.T) {
	m5 := unit(t, "ombrin-m5")
	at := vibration.State{Range: "G3", Road: 80 * kmh}
	var two []vibration.Source
	for _, s := range list(t, m5, estate, at).Sources {
		if s.ID == "bearing-counter:outer" || s.ID == "joint" {
			two = append(two, s)
		}
	}
	for _, d := range vibration.Parts(m5, estate, at, two) {
		l := list(t, m5, estate, vibration.State{Range: d.Range, Road: 80 * kmh})
		a, b := hertz(l, "joint"), hertz(l, "bearing-counter:outer")
		if want := math.Max(a, b)/math.Min(a, b) - 1; math.Abs(d.Apart-want) > 1e-9 {
			t.Errorf("%s: %v apart, want %v", d.Range, d.Apart, want)
		}
	}
}
