package fluid_test

import (
	"math"
	"testing"

	"innercompass/core/fluid"
)

const (
	mm2 = 1e-6
	c   = 273.15
)

// The worked examples of ASTM D2270: procedure A gives 92, procedure B 156.
func TestViscosityIndexOfTheStandard(t *testing.T) {
	for _, x := range []struct {
		v40, v100 float64
		want      float64
	}{{73.30, 8.86, 92}, {22.83, 5.05, 156}} {
		got, err := fluid.Index(x.v40*mm2, x.v100*mm2)
		if err != nil || math.Round(got) != x.want {
			t.Errorf("%v and %v mm²/s: %v %v, published %v", x.v40, x.v100, got, err, x.want)
		}
	}
}

// The index is 0 and 100 on its own lines, falls with viscosity at 40 °C, and does not jump where its polynomials meet:
// neighbouring pieces agree to a third of one.
func TestViscosityIndexIsOneCurve(t *testing.T) {
	for y := 2.0; y < 120; y *= 1.01 {
		last := math.Inf(1)
		for u := 1.05 * y; u < 12*y; u *= 1.03 {
			vi, err := fluid.Index(u*mm2, y*mm2)
			if err != nil {
				t.Fatal(err)
			}
			if vi > last+1e-9 {
				t.Fatalf("at %v mm²/s the index rises with viscosity at 40 °C", y)
			}
			last = vi
		}
	}
	for _, y := range []float64{3.8, 4.4, 5, 6.4, 7, 7.7, 9, 12, 15, 18, 22, 28, 40, 55, 70} {
		for _, part := range []float64{5, 9} {
			below, err := fluid.Index(part*y*mm2, (y-1e-9)*mm2)
			if err != nil {
				t.Fatal(err)
			}
			at, err := fluid.Index(part*y*mm2, y*mm2)
			if err != nil || math.Abs(below-at) > 0.34 {
				t.Errorf("at %v mm²/s the index goes from %v to %v: %v", y, below, at, err)
			}
		}
	}
	for _, bad := range [][2]float64{{10, 1.5}, {5, 6}, {math.NaN(), 5}, {math.Inf(1), 5}, {30, math.NaN()}} {
		if vi, err := fluid.Index(bad[0]*mm2, bad[1]*mm2); err == nil {
			t.Errorf("%v: %v", bad, vi)
		}
	}
}

// A line goes through the points that it was made from, and back from viscosity to temperature; between them it lies
// between them. The fluid of ASTM D2270's first example has 73.3 at 40 °C and 8.86 at 100 °C.
func TestAFluidLiesOnItsLine(t *testing.T) {
	l, err := fluid.Through(40+c, 73.3*mm2, 100+c, 8.86*mm2)
	if err != nil {
		t.Fatal(err)
	}
	for temperature, want := range map[float64]float64{40: 73.3, 100: 8.86} {
		if got := l.At(temperature+c) / mm2; math.Abs(got/want-1) > 1e-4 {
			t.Errorf("%v °C: %v, want %v", temperature, got, want)
		}
		if back := l.Temperature(want*mm2) - c; math.Abs(back-temperature) > 0.01 {
			t.Errorf("%v mm²/s at %v °C, want %v", want, back, temperature)
		}
	}
	last := math.Inf(1)
	for temperature := -30.0; temperature < 170; temperature += 5 {
		v := l.At(temperature + c)
		if !(v > 0 && v < last) {
			t.Fatalf("%v °C: %v", temperature, v)
		}
		last = v
	}
	// Thin fluids, where the exponential counts: still through its points, to the chart's own accuracy.
	thin, err := fluid.Through(20+c, 1.2*mm2, 60+c, 0.6*mm2)
	if err != nil || math.Abs(thin.At(60+c)/mm2-0.6) > 0.006 || math.Abs(thin.At(20+c)/mm2-1.2) > 0.012 {
		t.Errorf("%v: %v and %v", err, thin.At(20+c)/mm2, thin.At(60+c)/mm2)
	}
	for _, bad := range [][4]float64{{40, 10, 100, 20}, {40, 10, 40, 5}, {40, 0, 100, -1}, {40, math.NaN(), 100, 5}} {
		if _, err := fluid.Through(bad[0]+c, bad[1]*mm2, bad[2]+c, bad[3]*mm2); err == nil {
			t.Errorf("%v was taken", bad)
		}
	}
}

// The table of ISO 4406: each range's upper end has its own code and a little more the next; the code of 2,500, 320 and 20
// particles is 18/15/11.
func TestCleanlinessCodes(t *testing.T) {
	got, err := fluid.Cleanliness(2500, 320, 20)
	if err != nil || got != [3]int{18, 15, 11} {
		t.Errorf("%v %v", got, err)
	}
	for code := range fluid.MostCode {
		at, err := fluid.Code(fluid.Most(code))
		if err != nil || at != code {
			t.Errorf("%v: %d %v, want %d", fluid.Most(code), at, err, code)
		}
		if next, _ := fluid.Code(fluid.Most(code) * 1.001); next != code+1 {
			t.Errorf("just above %v: %d, want %d", fluid.Most(code), next, code+1)
		}
		// Every range doubles the one before, rounded as the standard rounds.
		if code > 0 {
			if r := fluid.Most(code) / fluid.Most(code-1); r < 1.9 || r > 2.1 {
				t.Errorf("code %d is %v times the one before", code, r)
			}
		}
	}
	if open, err := fluid.Code(3e6); err != nil || open != 29 {
		t.Errorf("%d %v", open, err)
	}
	for _, bad := range [][3]float64{{10, 20, 1}, {20, 10, 15}, {-1, -1, -1}, {math.NaN(), 1, 1}} {
		if got, err := fluid.Cleanliness(bad[0], bad[1], bad[2]); err == nil {
			t.Errorf("%v: %v", bad, got)
		}
	}
}

// Drain and fill by counting: what is left of the old fluid is multiplied each time.
func TestDilutionByCounting(t *testing.T) {
	for _, share := range []float64{0.25, 0.4, 0.65, 1} {
		for _, wanted := range []float64{0.5, 0.8, 0.95} {
			old, n := 1.0, 0
			for 1-old < wanted-1e-12 {
				old *= 1 - share
				n++
			}
			got, err := fluid.Changes(share, wanted)
			if err != nil || got != n {
				t.Errorf("%v of it, %v wanted: %d %v, counted %d", share, wanted, got, err, n)
			}
			if r := fluid.Renewed(share, n); math.Abs(r-(1-old)) > 1e-12 {
				t.Errorf("%d times %v: %v new, counted %v", n, share, r, 1-old)
			}
		}
	}
	for _, bad := range [][2]float64{{0, 0.5}, {1.2, 0.5}, {0.4, 1}, {0.4, -1}, {math.NaN(), 0.5}} {
		if n, err := fluid.Changes(bad[0], bad[1]); err == nil {
			t.Errorf("%v: %d", bad, n)
		}
	}
}

// Ten litres from 15 to 90 °C grow by 0.58 L; back again they are ten within the square of the change.
func TestExpansion(t *testing.T) {
	hot := fluid.VolumeAt(10e-3, 15+c, 90+c)
	if math.Abs(hot-10.5775e-3) > 1e-7 {
		t.Errorf("%v m³", hot)
	}
	if back := fluid.VolumeAt(hot, 90+c, 15+c); math.Abs(back/10e-3-1) > 0.004 {
		t.Errorf("%v m³", back)
	}
}

func TestLossRate(t *testing.T) {
	l, err := fluid.LossRate(0.9463529e-3, 1000e3, 7*86400)
	if err != nil || math.Abs(l.PerMetre*1e6/0.9463529e-3-1) > 1e-9 || math.Abs(l.Drops-0.9463529e-3/0.05e-6/(7*24*60)) > 1e-9 {
		t.Errorf("%+v %v", l, err)
	}
	if _, err := fluid.LossRate(1e-3, 0, 0); err == nil {
		t.Error("a loss without time or distance has a rate")
	}
}

// Each ten kelvin halve the life; half of the way at each of two temperatures lasts their harmonic mean.
func TestLifeOfTheFluid(t *testing.T) {
	if got := fluid.Life(100e6, 80+c, 100+c, 10); math.Abs(got-25e6) > 1e-3 {
		t.Errorf("%v", got)
	}
	got, err := fluid.LifeOver(100e6, 80+c, 10, []fluid.Duty{{1, 80 + c}, {1, 110 + c}})
	if want := 2 / (1/100e6 + 1/12.5e6); err != nil || math.Abs(got-want) > 1 {
		t.Errorf("%v %v, want %v", got, err, want)
	}
	for _, bad := range [][]fluid.Duty{nil, {{0, 350}}, {{-1, 350}}, {{1, math.NaN()}}} {
		if got, err := fluid.LifeOver(100e6, 80+c, 10, bad); err == nil {
			t.Errorf("%v: %v", bad, got)
		}
	}
}
