package measure

import (
	"math"
	"math/rand/v2"
	"testing"
)

// Against a search over slopes that shares nothing with the edges of the hull.
func TestFlatnessIsTheNarrowestBand(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for range 200 {
		n := 3 + r.IntN(8)
		at, h := make([]float64, n), make([]float64, n)
		for i := range at {
			at[i], h[i] = float64(i)+0.3*r.Float64(), r.NormFloat64()
		}
		got, err := Flatness(at, h)
		if err != nil {
			t.Fatal(err)
		}
		width := func(slope float64) float64 {
			low, high := math.Inf(1), math.Inf(-1)
			for i := range at {
				d := h[i] - slope*at[i]
				low, high = math.Min(low, d), math.Max(high, d)
			}
			return high - low
		}
		a, b := -50.0, 50.0 // the width is convex in the slope: thirds close in on its least
		for range 300 {
			c, d := a+(b-a)/3, b-(b-a)/3
			if width(c) < width(d) {
				b = d
			} else {
				a = c
			}
		}
		if want := width((a + b) / 2); math.Abs(got-want) > 1e-9 {
			t.Fatalf("%v %v: %v, want %v", at, h, got, want)
		}
	}
	if _, err := Flatness([]float64{1, 1, 2}, []float64{0, 1, 2}); err == nil {
		t.Error("two heights at one place were taken")
	}
}

// A disc that runs eccentric by e shows 2e once in a turn, and the high spot where it was put; an oval shows its
// difference of diameters twice. Made from the motion itself.
func TestRunoutIsSplitIntoItsCauses(t *testing.T) {
	const n = 12
	readings := make([]float64, n)
	for i := range readings {
		a := 2 * math.Pi * float64(i) / n
		readings[i] = 0.05 + 0.04*math.Cos(a-1.1) + 0.01*math.Cos(2*a-0.4)
	}
	readings[5] += 0.03 // a dent
	clean := append([]float64(nil), readings...)
	clean[5] -= 0.03
	r, err := SplitRunout(clean)
	if err != nil || math.Abs(r.Once-0.08) > 1e-12 || math.Abs(r.HighAt-1.1) > 1e-9 || math.Abs(r.Twice-0.02) > 1e-12 || r.Residual > 1e-12 {
		t.Errorf("%+v %v", r, err)
	}
	if r, _ := SplitRunout(readings); r.Residual < 0.02 || r.Total < 0.08 {
		t.Errorf("the dent is not left over: %+v", r)
	}
	if _, err := SplitRunout(readings[:5]); err == nil {
		t.Error("five readings were split")
	}
}

func TestConingKeepsItsSign(t *testing.T) {
	c, err := Cone([]float64{0.25, 0.27}, []float64{0.01, -0.01}, 0.07, 0.11, 0.065, 0.115)
	if err != nil || math.Abs(c.Read-0.26) > 1e-12 || math.Abs(c.Face-0.26*50/40) > 1e-9 {
		t.Errorf("%+v %v", c, err)
	}
	other, _ := Cone([]float64{0}, []float64{0.26}, 0.07, 0.11, 0.065, 0.115)
	if math.Abs(other.Face+c.Face) > 1e-12 {
		t.Errorf("the other way round: %+v", other)
	}
}

func TestWearGoesOnAsItWent(t *testing.T) {
	w, err := WearOut(8.4, 7.4, 6.9, 120_000)
	if err != nil || math.Abs(w.Left-60_000) > 1e-6 || math.Abs(w.Used-1/1.5) > 1e-12 {
		t.Errorf("%+v %v", w, err)
	}
	if w, err := WearOut(8.4, 6.5, 6.9, 120_000); err != nil || w.Left != 0 {
		t.Errorf("past its limit: %+v %v", w, err)
	}
	for _, bad := range [][4]float64{{8.4, 8.4, 6.9, 1e5}, {8.4, 7, 8.5, 1e5}, {8.4, 7, 6.9, 0}, {8.4, math.NaN(), 6.9, 1e5}} {
		if w, err := WearOut(bad[0], bad[1], bad[2], bad[3]); err == nil {
			t.Errorf("%v: %+v", bad, w)
		}
	}
}
