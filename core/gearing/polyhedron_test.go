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

// The simplex method against elimination, on random sets of few inequalities in up to five unknowns: whole numbers, so that many
// of them meet in one point, as the speeds of a train do.
func TestRangesAgainstElimination(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 5))
	kinds := map[string]int{}
	for round := range 20000 {
		n := 1 + random.IntN(5)
		a, b := newPolyhedron(n), newPolyhedron(n)
		for k := range 1 + random.IntN(6) {
			row := make([]float64, n)
			for j := range row {
				row[j] = float64(random.IntN(5) - 2)
			}
			c := float64(random.IntN(3) - 1)
			if random.IntN(3) > 0 {
				c = 0
			}
			for _, p := range []*polyhedron{a, b} {
				if k == 0 && round%2 == 0 {
					p.equal(row, c)
				} else {
					p.atLeast(row, c)
				}
			}
		}
		got, want := a.project(0), b.byElimination(0)
		same := got.empty == want.empty
		if same && !got.empty {
			for _, x := range [][2]float64{{got.lo, want.lo}, {got.hi, want.hi}} {
				same = same && (x[0] == x[1] || math.Abs(x[0]-x[1]) < 1e-7)
			}
		}
		if !same {
			t.Fatalf("round %d: %+v, by elimination %+v", round, got, want)
		}
		switch {
		case got.empty:
			kinds["empty"]++
		case math.IsInf(got.lo, -1) && math.IsInf(got.hi, 1):
			kinds["free"]++
		case got.lo == got.hi:
			kinds["pinned"]++
		default:
			kinds["range"]++
		}
	}
	for _, k := range []string{"empty", "free", "pinned", "range"} {
		if kinds[k] < 100 {
			t.Errorf("only %d %s ranges were met: %v", kinds[k], k, kinds)
		}
	}
}

// Forty inequalities in ten unknowns, which elimination would multiply beyond all memory, take no time.
func TestManyInequalitiesDoNotBlowUp(t *testing.T) {
	random := rand.New(rand.NewPCG(8, 9))
	for range 50 {
		p := newPolyhedron(10)
		for range 40 {
			row := make([]float64, 10)
			for j := range row {
				row[j] = random.NormFloat64()
			}
			p.atLeast(row, -1) // the origin satisfies all of them
		}
		if r := p.project(0); r.empty || r.lo > 0 || r.hi < 0 {
			t.Errorf("%+v does not hold the origin", r)
		}
	}
}
