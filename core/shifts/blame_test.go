package shifts_test

import (
	"math"
	"os"
	"testing"

	"innercompass/core/shifts"
	"innercompass/core/sim"
	"innercompass/internal/trial"
)

// five is a drive up through six gears: what comes on, what lets go.
func five(flared ...int) []shifts.Mark {
	on := [][]string{{"C"}, {"B"}, {"E"}, {"B"}, {"C"}}
	off := [][]string{nil, {"C"}, {"B"}, {"A"}, {"B"}}
	var out []shifts.Mark
	for i := range on {
		out = append(out, shifts.Mark{Change: shifts.Change{On: on[i], Off: off[i], Demand: 1}})
	}
	for _, i := range flared {
		out[i].Flared = true
	}
	return out
}

func of(list []shifts.Suspect, b shifts.Blame, e string) float64 {
	for _, s := range list {
		if s.Blame == b && s.Element == e {
			return s.Probability
		}
	}
	return math.NaN()
}

// By hand: where one shift of two that B comes on for flared, "late" is (0.80·0.20)·(0.75·0.85·0.95·0.96/(0.95·0.95·0.97·0.99))²/(0.05·0.95) times as likely as nothing, and nothing three times as likely beforehand: what did not happen counts too.
func TestWhatDidNotHappenCountsToo(t *testing.T) {
	got := shifts.WhoIsToBlame(five(1))
	quiet := 0.75 * 0.85 * 0.95 * 0.96 / (0.95 * 0.95 * 0.97 * 0.99)
	want := 1.0 / 3 * 0.80 * 0.20 * quiet * quiet / (0.05 * 0.95)
	if x := of(got, shifts.LateOn, "B") / of(got, shifts.Sound, ""); math.Abs(x/want-1) > 1e-9 {
		t.Errorf("late over sound is %g, want %g", x, want)
	}
}

// One bad shift of two does not tell; two are of what comes on for both; a tie is of what lets go; a fill that is late in both is sure; none is nothing.
func TestWhatDrivesTell(t *testing.T) {
	if got := shifts.WhoIsToBlame(five(1)); got[0].Probability > 0.8 {
		t.Errorf("one of two: %+v", got[:3])
	}
	if got := shifts.WhoIsToBlame(five(1, 3)); got[0].Blame != shifts.LateOn && got[0].Blame != shifts.NeverOn || got[0].Element != "B" {
		t.Errorf("both of B: %+v", got[:3])
	}
	late := five(1, 3)
	for i := range late {
		late[i].FillKnown, late[i].OverlapKnown = true, true
	}
	late[1].FillsLate, late[3].FillsLate = true, true
	if got := shifts.WhoIsToBlame(late); got[0].Blame != shifts.LateOn || got[0].Element != "B" || got[0].Probability < 0.95 {
		t.Errorf("fills late: %+v", got[:3])
	}
	tied := five()
	for i := range tied {
		tied[i].OverlapKnown = true
	}
	tied[2].Tied, tied[4].Tied = true, true
	if got := shifts.WhoIsToBlame(tied); got[0].Blame != shifts.SlowOff || got[0].Element != "B" || got[0].Probability < 0.9 {
		t.Errorf("tied: %+v", got[:3])
	}
	if got := shifts.WhoIsToBlame(five()); got[0].Blame != shifts.Sound {
		t.Errorf("none: %+v", got[:3])
	}
	sum := 0.0
	for _, s := range shifts.WhoIsToBlame(five(1)) {
		sum += s.Probability
	}
	if math.Abs(sum-1) > 1e-12 {
		t.Errorf("they sum to %v", sum)
	}
}

// Hidden faults of single elements and of the line, from logs alone: with the pressures at the taps, and from speeds alone. Sound drives of the same unit give the windows. Seeds from 7000 on were not looked at.
func TestHiddenFaultsAreLaidAtTheirElement(t *testing.T) {
	each := uint64(1)
	if os.Getenv("COMPASS_SHIFTS") != "" {
		each = 12
	}
	u := trial.Load(t).Networks["ombrin-s6"].Unit
	box := shifts.Of(u, "D")
	var sound []shifts.Shift
	for seed := range uint64(12) {
		r, err := shifts.Find(random(t, u, 50, 9000+seed, nil).rec, box, shifts.Usual)
		if err != nil {
			t.Fatal(err)
		}
		sound = append(sound, r.Shifts...)
	}
	type truth struct {
		blame   shifts.Blame
		element string
		fault   sim.Fault
	}
	hidden := []truth{{blame: shifts.Sound}, {blame: shifts.LineLow, fault: sim.Fault{Kind: sim.LineLow, Size: 0.5}}}
	for _, e := range []string{"CB", "CE", "BC"} {
		hidden = append(hidden, truth{shifts.LateOn, e, sim.Fault{Kind: sim.Clearance, Element: e, Size: 1.4}}, truth{shifts.Weak, e, sim.Fault{Kind: sim.Weak, Element: e, Size: 0.55}},
			truth{shifts.Leaking, e, sim.Fault{Kind: sim.LeaksBy, Element: e, Size: 0.6}}, truth{shifts.SlowOff, e, sim.Fault{Kind: sim.VentSlow, Element: e, Size: 0.05}}, truth{shifts.NeverOn, e, sim.Fault{Kind: sim.StuckOff, Element: e}})
	}
	for _, pressures := range []bool{true, false} {
		var all, first, element, three int
		for k, h := range hidden {
			for i := range each {
				var faults []sim.Fault
				if h.fault.Kind != "" {
					faults = []sim.Fault{h.fault}
				}
				d := random(t, u, 50, 7000+uint64(k)*100+i, faults)
				if !pressures {
					d.rec.Pressures, d.rec.Line = nil, shifts.Channel{}
				}
				r, err := shifts.Find(d.rec, box, shifts.Usual)
				if err != nil {
					t.Fatal(err)
				}
				got := shifts.WhoIsToBlame(box.Marks(r, sound))
				all++
				place := -1
				for j, s := range got {
					if s.Blame == h.blame && s.Element == h.element {
						place = j
						break
					}
				}
				switch {
				case place == 0:
					first++
				default:
					t.Logf("pressures %v: %s %s is told as %s %s (%.2f)", pressures, h.blame, h.element, got[0].Blame, got[0].Element, got[0].Probability)
				}
				if place >= 0 && place < 3 {
					three++
				}
				if got[0].Element == h.element {
					element++
				}
			}
		}
		t.Logf("pressures %v: of %d drives %d right first (%.0f %%), %d in three, %d at the right element", pressures, all, first, 100*share(first, all), three, element)
		if least := map[bool]float64{true: 0.85, false: 0.60}[pressures]; unlikely(all-first, all, 1-least) {
			t.Errorf("pressures %v: %.2f right first, %.2f wanted", pressures, share(first, all), least)
		}
	}
}
