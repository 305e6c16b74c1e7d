package gearing

import "math"

// byElimination is project by Fourier–Motzkin elimination: another way to the same answer, for a few inequalities.
func (p *polyhedron) byElimination(keep int) interval {
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
