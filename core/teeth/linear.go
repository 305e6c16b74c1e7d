package teeth

import (
	"math"
	"slices"
)

// basis is a set of independent rows in echelon form.
type basis struct {
	rows   [][]float64
	pivots []int
}

func (b *basis) clone() *basis {
	return &basis{slices.Clone(b.rows), slices.Clone(b.pivots)}
}

func (b *basis) reduce(v []float64) []float64 {
	v = slices.Clone(v)
	for i, r := range b.rows {
		if k := v[b.pivots[i]]; k != 0 {
			for j := range v {
				v[j] -= k * r[j]
			}
		}
	}
	return v
}

func (b *basis) independent(v []float64) bool { return largest(b.reduce(v)) >= 0 }

// add takes a row in if it says something new.
func (b *basis) add(v []float64) bool {
	v = b.reduce(v)
	at := largest(v)
	if at < 0 {
		return false
	}
	k := v[at]
	for j := range v {
		v[j] /= k
	}
	b.rows, b.pivots = append(b.rows, v), append(b.pivots, at)
	return true
}

// largest is the place of the largest entry, −1 for a row of nothing but rounding.
func largest(v []float64) int {
	at, most := -1, eps
	for i, x := range v {
		if math.Abs(x) > most {
			at, most = i, math.Abs(x)
		}
	}
	return at
}

// determinant eliminates with the largest pivots; m is used up.
func determinant(m [][]float64) float64 {
	n, d := len(m), 1.0
	for c := range n {
		at := c
		for i := c + 1; i < n; i++ {
			if math.Abs(m[i][c]) > math.Abs(m[at][c]) {
				at = i
			}
		}
		if m[at][c] == 0 {
			return 0
		}
		if at != c {
			m[at], m[c] = m[c], m[at]
			d = -d
		}
		d *= m[c][c]
		for i := c + 1; i < n; i++ {
			if k := m[i][c] / m[c][c]; k != 0 {
				for j := c; j < n; j++ {
					m[i][j] -= k * m[c][j]
				}
			}
		}
	}
	return d
}
