package fasteners

import (
	"math"
	"slices"
	"testing"
)

// The work of one turn of the wrench is what the bolt's tension lifts along the pitch plus what friction takes along the
// helix and round the head. Done in small turns, with the normal force on the flank from the tension.
func TestTorqueIsTheWorkOfATurn(t *testing.T) {
	b, err := Metric(10e-3, 1.5e-3)
	if err != nil {
		t.Fatal(err)
	}
	const tension, thread, head = 20e3, 0.14, 0.11
	const turns = 3600
	work := 0.0
	for range turns {
		slide := math.Pi * b.ThreadMean / turns
		work += tension * b.Pitch / turns                  // lift
		work += thread * tension / math.Cos(flank) * slide // thread
		work += head * tension * math.Pi * b.HeadMean / turns
	}
	per, err := b.PerTension(thread, head)
	if err != nil || math.Abs(per*tension-work/(2*math.Pi)) > 1e-9*work {
		t.Errorf("%v N·m, want %v (%v)", per*tension, work/(2*math.Pi), err)
	}
}

// The common nut factor of about 0.2 for unlubricated steel, T = K·F·d (Shigley, torque requirements; recalled from
// memory), comes out of coefficients of about 0.15.
func TestNutFactorOfDrySteel(t *testing.T) {
	for _, c := range [][2]float64{{6e-3, 1e-3}, {10e-3, 1.5e-3}, {16e-3, 2e-3}} {
		b, _ := Metric(c[0], c[1])
		per, _ := b.PerTension(0.15, 0.15)
		if k := per / c[0]; k < 0.18 || k > 0.215 {
			t.Errorf("M%.0f: nut factor %v", c[0]*1e3, k)
		}
	}
}

// Stress areas of ISO 898-1: M8 36.6, M10 58.0, M12 84.3 mm² (recalled from memory).
func TestStressAreas(t *testing.T) {
	for _, c := range [][3]float64{{8, 1.25, 36.6}, {10, 1.5, 58.0}, {12, 1.75, 84.3}} {
		if got := StressArea(c[0]*1e-3, c[1]*1e-3) * 1e6; math.Abs(got-c[2]) > 0.05 {
			t.Errorf("M%v: %v mm², want %v", c[0], got, c[2])
		}
	}
}

// Moments about the bolt: the hand's force times its distance from the bolt is the torque wanted; times its distance
// from the wrench's own square it is what the wrench shows.
func TestCrowfootByMoments(t *testing.T) {
	for _, angle := range []float64{0, 0.5, math.Pi / 2, 2.5} {
		set, err := Crowfoot(50, 0.4, 0.05, angle)
		if err != nil {
			t.Fatal(err)
		}
		hand := set / 0.4
		if got := hand * (0.4 + 0.05*math.Cos(angle)); math.Abs(got-50) > 1e-9 {
			t.Errorf("at %v rad the bolt gets %v", angle, got)
		}
	}
	if set, _ := Crowfoot(50, 0.4, 0.05, math.Pi/2); math.Abs(set-50) > 1e-9 {
		t.Errorf("beside the wrench: %v", set)
	}
	for _, bad := range [][4]float64{{50, 0, 0.1, 0}, {0, 0.4, 0.1, 0}, {50, 0.4, -1, 0}, {50, 0.4, 0.4, math.Pi}, {math.NaN(), 0.4, 0, 0}} {
		if _, err := Crowfoot(bad[0], bad[1], bad[2], bad[3]); err == nil {
			t.Errorf("%v was taken", bad)
		}
	}
}

// Every bolt once; with an even number, after every second one what is tight pulls to no side.
func TestStarOrderIsEven(t *testing.T) {
	for n := 2; n <= MostBolts; n++ {
		order, err := StarOrder(n)
		if err != nil {
			t.Fatal(err)
		}
		all := slices.Clone(order)
		slices.Sort(all)
		x, y := 0.0, 0.0
		for i, b := range order {
			if all[i] != i {
				t.Fatalf("%d bolts: %v", n, order)
			}
			a := 2 * math.Pi * float64(b) / float64(n)
			x, y = x+math.Cos(a), y+math.Sin(a)
			if n%2 == 0 && i%2 == 1 && math.Hypot(x, y) > 1e-9 {
				t.Fatalf("%d bolts, after %v: pulls %v to one side", n, order[:i+1], math.Hypot(x, y))
			}
			if math.Hypot(x, y) > 1.25 {
				t.Fatalf("%d bolts, after %v: pulls %v to one side", n, order[:i+1], math.Hypot(x, y))
			}
		}
	}
	for _, n := range []int{-1, 0, 1, MostBolts + 1} {
		if _, err := StarOrder(n); err == nil {
			t.Errorf("%d bolts were ordered", n)
		}
	}
}
