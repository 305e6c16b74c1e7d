package gearing

import "math"

// interval is a range of one unknown; it may be empty or open to infinity.
type interval struct {
	lo, hi float64
	empty  bool
}

// polyhedron is a set of equalities and inequalities, projected onto one unknown by
// Gauss and Fourier–Motzkin elimination [3]. A train has a handful of inequalities, so the
// growth of the method does not matter.
type polyhedron struct {
	n        int
	eq, geq  [][]float64 // n coefficients and a constant: Σ k·x + c (= or ≥) 0
	conflict bool
}

func newPolyhedron(n int) *polyhedron {
	return &polyhedron{n: n, eq: make([][]float64, 0, 4), geq: make([][]float64, 0, 6)}
}

func (p *polyhedron) equal(coef []float64, value float64) { p.eq = append(p.eq, p.row(coef, value)) }

func (p *polyhedron) atLeast(coef []float64, value float64) {
	p.geq = append(p.geq, p.row(coef, value))
}

func (p *polyhedron) row(coef []float64, value float64) []float64 {
	r := make([]float64, p.n+1)
	copy(r, coef)
	r[p.n] = -value
	return r
}

// project returns the range of unknown keep. It consumes the polyhedron.
func (p *polyhedron) project(keep int) interval {
	for _, useKeep := range []bool{false, true} {
		p.gauss(keep, useKeep)
	}
	if p.conflict {
		return interval{empty: true}
	}
	for j := range p.n {
		if j != keep {
			p.eliminate(j)
		}
	}
	out := interval{lo: math.Inf(-1), hi: math.Inf(1)}
	for _, r := range append(p.geq, p.pinnedRows(keep)...) {
		k, c := r[keep], r[p.n]
		switch {
		case k > eps:
			out.lo = math.Max(out.lo, -c/k)
		case k < -eps:
			out.hi = math.Min(out.hi, -c/k)
		case c < -eps:
			return interval{empty: true}
		}
	}
	if out.lo > out.hi+eps {
		return interval{empty: true}
	}
	return out
}

// pinnedRows turns the equalities that are left (in the kept unknown alone) into
// pairs of inequalities.
func (p *polyhedron) pinnedRows(keep int) [][]float64 {
	var out [][]float64
	for _, r := range p.eq {
		if math.Abs(r[keep]) > eps {
			minus := make([]float64, len(r))
			for i := range r {
				minus[i] = -r[i]
			}
			out = append(out, r, minus)
		}
	}
	return out
}

// gauss uses equalities to remove unknowns other than keep, with the largest pivot of each
// row; in the second pass what is left speaks of keep alone or is a contradiction.
func (p *polyhedron) gauss(keep int, last bool) {
	var rest [][]float64
	for i := 0; i < len(p.eq); i++ {
		r := p.eq[i]
		col, best := -1, eps
		for j := range p.n {
			if j != keep && math.Abs(r[j]) > best {
				col, best = j, math.Abs(r[j])
			}
		}
		if col < 0 {
			if last && math.Abs(r[keep]) <= eps && math.Abs(r[p.n]) > eps {
				p.conflict = true
			}
			rest = append(rest, r)
			continue
		}
		for k := i + 1; k < len(p.eq); k++ {
			combine(p.eq[k], r, col)
		}
		for k := range rest {
			combine(rest[k], r, col)
		}
		for k := range p.geq {
			combine(p.geq[k], r, col)
		}
	}
	p.eq = rest
}

// combine removes column col from row by subtracting a multiple of pivot.
func combine(row, pivot []float64, col int) {
	f := row[col] / pivot[col]
	if f == 0 {
		return
	}
	for i := range row {
		row[i] = clean(row[i] - f*pivot[i])
	}
	row[col] = 0
}

// eliminate removes unknown j from the inequalities (Fourier–Motzkin).
func (p *polyhedron) eliminate(j int) {
	var above, below, rest [][]float64
	for _, r := range p.geq {
		switch {
		case r[j] > eps:
			above = append(above, r)
		case r[j] < -eps:
			below = append(below, r)
		default:
			rest = append(rest, r)
		}
	}
	for _, a := range above {
		for _, b := range below {
			sum := make([]float64, len(a))
			for i := range a {
				sum[i] = a[i]/a[j] - b[i]/b[j]
			}
			sum[j] = 0
			rest = append(rest, sum)
		}
	}
	p.geq = rest
}
