package measure

import (
	"errors"
	"math"
	"testing"
)

// JCGM 100:2008, 5.1.5 and its example of a sum and a product: for y = a·x₁·x₂ relative variances add; recomputed here
// from that rule. A linear sum carries its uncertainty exactly, as root sum of squares.
func TestUncertaintyIsCarriedByTheRule(t *testing.T) {
	product := func(x []float64) ([]float64, error) { return []float64{3 * x[0] * x[1], x[0] - x[1]}, nil }
	e, err := Propagate(product, []float64{10, 5}, []float64{0.1, 0.02}, 1)
	if err != nil {
		t.Fatal(err)
	}
	want := 150 * math.Hypot(0.1/10, 0.02/5)
	if math.Abs(e[0].U-want) > 1e-6*want || math.Abs(e[1].U-math.Hypot(0.1, 0.02)) > 1e-12 || e[0].Sampled {
		t.Errorf("%+v, want %v", e, want)
	}
	if share := (0.1 / 10) * (0.1 / 10) / ((0.1/10)*(0.1/10) + (0.02/5)*(0.02/5)); math.Abs(e[0].Parts[0]-share) > 1e-6 {
		t.Errorf("share of the first input %v, want %v", e[0].Parts[0], share)
	}
}

// The square of a normal variable about zero is chi-square with one degree of freedom: mean 1, deviation √2, 95 % between
// its quantiles 0.00098 and 5.02 (tables of the distribution, recalled from memory; the deviation is exact).
func TestBentComputationsAreSampled(t *testing.T) {
	square := func(x []float64) ([]float64, error) { return []float64{x[0] * x[0]}, nil }
	e, err := Propagate(square, []float64{0}, []float64{1}, 7)
	if err != nil || !e[0].Sampled {
		t.Fatalf("%+v %v", e, err)
	}
	if math.Abs(e[0].U-math.Sqrt2) > 0.15 || e[0].Low > 0.004 || math.Abs(e[0].High-5.02) > 0.7 {
		t.Errorf("%+v", e[0])
	}
	again, _ := Propagate(square, []float64{0}, []float64{1}, 7)
	if again[0].U != e[0].U {
		t.Error("the same seed gives another answer")
	}
}

// Where a good part of the inputs would make no sense, the answer says so.
func TestAnEdgeWithinTheUncertaintyIsSaid(t *testing.T) {
	root := func(x []float64) ([]float64, error) {
		if x[0] < 0 {
			return nil, errors.New("negative")
		}
		return []float64{math.Sqrt(x[0])}, nil
	}
	e, err := Propagate(root, []float64{0.1}, []float64{0.2}, 1)
	if err != nil || !e[0].Unstable || !e[0].Sampled {
		t.Errorf("%+v %v", e, err)
	}
	if _, err := Propagate(root, []float64{-1}, []float64{0.2}, 1); err == nil {
		t.Error("no error at an impossible value")
	}
}
