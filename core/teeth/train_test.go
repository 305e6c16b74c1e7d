package teeth

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
)

// Closed forms of textbooks, with a, b, f = ring/sun of simple sets, L and s = ring over the large and the small sun; recalled from
// memory and derived by hand from the Willis equation.
func TestDerivedRatiosAreTheClosedForms(t *testing.T) {
	for _, c := range []struct {
		name  string
		train Train
		held  []string
		want  func(x []float64) float64
	}{
		{"one sun, first", simpson(), []string{"FC", "LB"}, func(x []float64) float64 { return (1 + x[0] + x[1]) / x[0] }},
		{"one sun, second", simpson(), []string{"FC", "KB"}, func(x []float64) float64 { return 1 + 1/x[0] }},
		{"one sun, third", simpson(), []string{"FC", "DC"}, func([]float64) float64 { return 1 }},
		{"one sun, reverse", simpson(), []string{"DC", "LB"}, func(x []float64) float64 { return -x[1] }},
		{"crossed, first", crossed(), []string{"K1", "B1"}, func(x []float64) float64 { return 1 + x[1] }},
		{"crossed, second", crossed(), []string{"K1", "B2"}, func(x []float64) float64 { return (1 + x[0] + x[1]) / (1 + x[0]) }},
		{"crossed, fourth", crossed(), []string{"K2", "B2"}, func(x []float64) float64 { return x[0] / (1 + x[0]) }},
		{"crossed, reverse", crossed(), []string{"K3", "B1"}, func(x []float64) float64 { return -x[0] }},
		{"two suns, first", ravigneaux(), []string{"K1", "B1"}, func(x []float64) float64 { return x[1] }},
		{"two suns, second", ravigneaux(), []string{"K1", "B2"}, func(x []float64) float64 { return (x[0] + x[1]) / (1 + x[0]) }},
		{"two suns, fourth", ravigneaux(), []string{"K3", "B2"}, func(x []float64) float64 { return x[0] / (1 + x[0]) }},
		{"two suns, reverse", ravigneaux(), []string{"K2", "B1"}, func(x []float64) float64 { return -x[0] }},
		{"set before two suns, first", lepelletier(), []string{"S0B", "CA", "BD"}, func(x []float64) float64 { return (1 + 1/x[0]) * x[2] }},
		{"set before two suns, fourth", lepelletier(), []string{"S0B", "CA", "CE"}, func(x []float64) float64 { return x[2] / (x[2] - 1 + 1/(1+1/x[0])) }},
		{"set before two suns, fifth", lepelletier(), []string{"S0B", "CB", "CE"}, func(x []float64) float64 { return x[1] / (x[1] + 1 - 1/(1+1/x[0])) }},
		{"set before two suns, reverse", lepelletier(), []string{"S0B", "CB", "BD"}, func(x []float64) float64 { return -(1 + 1/x[0]) * x[1] }},
		{"four sets, first", tenSpeed(), []string{"A", "D", "F"}, func(x []float64) float64 { return x[3] * (1 + x[0]) * (1 + x[1]) / (1 + x[3]) }},
		{"four sets, tenth", tenSpeed(), []string{"A", "B", "E"}, func(x []float64) float64 { return 1 - 1/(x[0]*x[3]) }},
		{"three shafts, first", manual(), []string{"g1"}, func(x []float64) float64 { return x[0] * x[1] }},
		{"three shafts, reverse", manual(), []string{"gr"}, func(x []float64) float64 { return -x[0] * x[5] }},
	} {
		r, outcome, err := c.train.Derive(c.held)
		if err != nil || outcome != Drives {
			t.Errorf("%s: %s %v", c.name, outcome, err)
			continue
		}
		for seed := range uint64(20) {
			x := c.train.somewhere(seed + 10)
			if got, want := r.At(x), c.want(x); math.Abs(got-want) > 1e-9*math.Abs(want) {
				t.Errorf("%s at %v: %v, want %v", c.name, x, got, want)
				break
			}
		}
	}
}

// What drives nothing and what binds, by the count of what holds: a planetary train with two degrees needs two.
func TestOutcomesWithoutTeeth(t *testing.T) {
	for _, c := range []struct {
		train Train
		held  []string
		want  Outcome
	}{
		{simpson(), []string{"FC"}, Neutral},
		{simpson(), nil, Neutral},
		{simpson(), []string{"FC", "KB", "LB"}, Binds},
		{crossed(), []string{"K1", "B1", "B2"}, Binds},
		{ravigneaux(), []string{"B1", "B2"}, Binds},
		{manual(), []string{"g1", "g2"}, Binds},
		{manual(), nil, Neutral},
	} {
		if _, got, err := c.train.Derive(c.held); got != c.want || err != nil {
			t.Errorf("%v: %s %v, want %s", c.held, got, err, c.want)
		}
	}
	if _, _, err := simpson().Derive([]string{"nobody"}); err == nil {
		t.Error("an element that is not there was taken")
	}
	long := Train{Members: []string{"m0"}, Input: "m0", Output: "m12", ForwardSign: 1}
	for i := range 12 { // a row of gears, each pair in the power path
		long.Members = append(long.Members, fmt.Sprintf("m%d", i+1))
		long.Pairs = append(long.Pairs, Pair{Name: fmt.Sprint(i), A: fmt.Sprintf("m%d", i), B: fmt.Sprintf("m%d", i+1)})
	}
	if _, _, err := long.Derive(nil); err == nil {
		t.Error("a ratio of twelve pairs was expanded")
	}
	bad := simpson()
	bad.Sets[0].Ring = "nowhere"
	if _, _, err := bad.Derive([]string{"FC"}); err == nil {
		t.Error("a member that is not there was taken")
	}
}

// A determinant computed by permutations [Leibniz] is the eliminated one.
func TestDeterminant(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	var leibniz func(m [][]float64) float64
	leibniz = func(m [][]float64) float64 {
		if len(m) == 1 {
			return m[0][0]
		}
		sum := 0.0
		for j := range m {
			var minor [][]float64
			for _, row := range m[1:] {
				minor = append(minor, append(append([]float64{}, row[:j]...), row[j+1:]...))
			}
			sum += map[bool]float64{true: 1, false: -1}[j%2 == 0] * m[0][j] * leibniz(minor)
		}
		return sum
	}
	for n := 1; n < 7; n++ {
		m := make([][]float64, n)
		for i := range m {
			m[i] = make([]float64, n)
			for j := range m[i] {
				m[i][j] = float64(r.IntN(7) - 3)
			}
		}
		want := leibniz(m)
		if got := determinant(m); math.Abs(got-want) > 1e-9 {
			t.Errorf("%d×%d: %v, want %v", n, n, got, want)
		}
	}
}
