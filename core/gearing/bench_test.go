package gearing

import (
	"testing"

	"gonum.org/v1/gonum/mat"
)

// The largest design in the suite, in the range that loads it most.
func BenchmarkRangeOfTenSpeed(b *testing.B) {
	m, err := NewMachine(fourSets().train)
	if err != nil {
		b.Fatal(err)
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := m.Solve(State{Applied: []string{"C", "D", "E"}}); err != nil {
			b.Fatal(err)
		}
	}
}

// A design with freewheels, where several lock-sets have to be tried.
func BenchmarkRangeWithFreewheels(b *testing.B) {
	m, err := NewMachine(fourSpeed())
	if err != nil {
		b.Fatal(err)
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := m.Solve(State{Applied: []string{"FC", "IC", "DC"}}); err != nil {
			b.Fatal(err)
		}
	}
}

// The yardstick: one bare dense solve as large as the ten-speed train, twelve members.
func BenchmarkDenseSolveOfSameSize(b *testing.B) {
	n := len(fourSets().train.Members)
	a, rhs := mat.NewDense(n, n, nil), mat.NewVecDense(n, nil)
	for i := range n {
		for j := range n {
			a.Set(i, j, 1/float64(1+(i*j)%7))
		}
		a.Set(i, i, float64(n))
		rhs.SetVec(i, float64(i))
	}
	b.ReportAllocs()
	for b.Loop() {
		var x mat.VecDense
		if err := x.SolveVec(a, rhs); err != nil {
			b.Fatal(err)
		}
	}
}
