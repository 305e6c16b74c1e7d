package gearing

import "math"

// interval is a range of one unknown; it may be empty or open to infinity.
type interval struct {
	lo, hi float64
	empty  bool
}

// polyhedron is a set of equalities and inequalities, of which the range of one unknown is asked. Equalities are removed by
// Gauss; what is left is a linear program for each end of the range, solved by the simplex method with the rule of Bland [4],
// which never runs in circles. Its work grows gently with the number of inequalities: a train with many freewheels is
// no danger.
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
	if at, pinned, conflict := p.pinned(keep); conflict || pinned && !p.admits(keep, at) {
		return interval{empty: true}
	} else if pinned {
		return interval{lo: at, hi: at}
	}
	d, feasible := newDictionary(p.geq, p.n)
	if !feasible {
		return interval{empty: true}
	}
	hi := d.clone().highest(keep, 1)
	lo := -d.highest(keep, -1)
	if lo > hi { // by rounding
		lo = hi
	}
	return interval{lo: lo, hi: hi}
}

// pinned is the value that the equalities which are left, in the kept unknown alone, give it.
func (p *polyhedron) pinned(keep int) (at float64, pinned, conflict bool) {
	for _, r := range p.eq {
		if math.Abs(r[keep]) <= eps {
			continue
		}
		v := -r[p.n] / r[keep]
		if pinned && math.Abs(v-at) > eps*math.Max(1, math.Abs(at)) {
			return 0, true, true
		}
		at, pinned = v, true
	}
	return at, pinned, false
}

// admits reports whether the inequalities leave room with the kept unknown at a value.
func (p *polyhedron) admits(keep int, at float64) bool {
	rows := make([][]float64, len(p.geq))
	for i, r := range p.geq {
		rows[i] = append([]float64(nil), r...)
		rows[i][p.n] += r[keep] * at
		rows[i][keep] = 0
	}
	_, feasible := newDictionary(rows, p.n)
	return feasible
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
