package gearing

import (
	"math"
	"math/rand/v2"
	"testing"
)

func TestProjectionOfSmallSets(t *testing.T) {
	inf := math.Inf(1)
	for _, c := range []struct {
		name  string
		build func(*polyhedron)
		want  interval
	}{
		{"free", func(*polyhedron) {}, interval{-inf, inf, false}},
		{"pinned", func(p *polyhedron) { p.equal([]float64{2, 0}, 3) }, interval{1.5, 1.5, false}},
		{"between", func(p *polyhedron) { p.atLeast([]float64{1, 0}, 1); p.atLeast([]float64{-1, 0}, -4) }, interval{1, 4, false}},
		{"through another unknown", func(p *polyhedron) { p.equal([]float64{1, -1}, 0); p.atLeast([]float64{0, 1}, 2) }, interval{2, inf, false}},
		{"two unknowns joined", func(p *polyhedron) { p.atLeast([]float64{1, -1}, 0); p.atLeast([]float64{0, 1}, 5) }, interval{5, inf, false}},
		{"contradiction of equalities", func(p *polyhedron) { p.equal([]float64{1, 1}, 0); p.equal([]float64{1, 1}, 1) }, interval{empty: true}},
		{"contradiction of inequalities", func(p *polyhedron) { p.atLeast([]float64{0, 1}, 1); p.atLeast([]float64{0, -1}, 0) }, interval{empty: true}},
		{"pinned twice apart", func(p *polyhedron) { p.equal([]float64{1, 0}, 1); p.equal([]float64{1, 0}, 2) }, interval{empty: true}},
	} {
		p := newPolyhedron(2)
		c.build(p)
		got := p.project(0)
		if got.empty != c.want.empty || !got.empty && (math.Abs(got.lo-c.want.lo) > 1e-9 || math.Abs(got.hi-c.want.hi) > 1e-9) && !(got.lo == c.want.lo || got.hi == c.want.hi) {
			t.Errorf("%s: %+v, want %+v", c.name, got, c.want)
		}
	}
}

// Random half-planes through a box, against a fine grid of points: the projection must hold every feasible
// point and must not reach farther than the grid's step beyond them.
func TestProjectionAgainstAGrid(t *testing.T) {
	random := rand.New(rand.NewPCG(7, 11))
	const step = 0.02
	for round := range 40 {
		p := newPolyhedron(2)
		var rows [][3]float64
		add := func(a, b, c float64) {
			rows = append(rows, [3]float64{a, b, c})
			p.atLeast([]float64{a, b}, c)
		}
		add(1, 0, -1)
		add(-1, 0, -1)
		add(0, 1, -1)
		add(0, -1, -1)
		for range 3 {
			add(random.NormFloat64(), random.NormFloat64(), 0.5*random.NormFloat64())
		}
		lo, hi := math.Inf(1), math.Inf(-1)
		for x := -1.0; x <= 1; x += step {
			for y := -1.0; y <= 1; y += step {
				inside := true
				for _, r := range rows {
					inside = inside && r[0]*x+r[1]*y >= r[2]-1e-12
				}
				if inside {
					lo, hi = math.Min(lo, x), math.Max(hi, x)
				}
			}
		}
		got := p.project(0)
		if math.IsInf(lo, 1) {
			continue // nothing on the grid; a sliver between its points may still be feasible
		}
		if got.empty || got.lo > lo+1e-9 || got.hi < hi-1e-9 {
			t.Errorf("round %d: %+v does not hold %v to %v", round, got, lo, hi)
		}
	}
}
