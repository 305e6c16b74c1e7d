package gearing

import "math"

// dictionary is a linear program on its way: each unknown on the left stands as a sum over those on the right, which are at
// nothing. Unknowns 0 to n−1 may have any sign and, once they are on the left, stay there; the others are the slacks of the
// inequalities and are never negative. Notation and rules: V. Chvátal, Linear Programming, Freeman 1983, chapters 2, 3 and 8.
type dictionary struct {
	n     int         // unknowns of any sign
	left  []int       // unknown of each row
	right []int       // unknown of each column
	rows  [][]float64 // by row: coefficients over the columns, then the constant
}

// newDictionary starts from inequalities Σ k·x + c ≥ 0 and goes to a point that satisfies all of them; feasible is false when
// there is none.
func newDictionary(geq [][]float64, n int) (d *dictionary, feasible bool) {
	d = &dictionary{n: n}
	for j := range n {
		d.right = append(d.right, j)
	}
	for _, r := range geq {
		size := 0.0
		for _, k := range r[:n] {
			size = math.Max(size, math.Abs(k))
		}
		if size <= eps { // nothing but a constant
			if r[n] < -eps {
				return nil, false
			}
			continue
		}
		row := make([]float64, n+1)
		for j, k := range r {
			row[j] = clean(k / size)
		}
		d.left = append(d.left, n+len(d.rows))
		d.rows = append(d.rows, row)
	}
	d.free()
	return d, d.start()
}

// free brings the unknowns of any sign to the left, where they bound nothing. One that no inequality speaks of stays.
func (d *dictionary) free() {
	for col := 0; col < len(d.right); col++ {
		if d.right[col] >= d.n {
			continue
		}
		at, best := -1, eps
		for i, r := range d.rows {
			if d.left[i] >= d.n && math.Abs(r[col]) > best {
				at, best = i, math.Abs(r[col])
			}
		}
		if at >= 0 {
			d.pivot(at, col)
		}
	}
}

// pivot exchanges the unknown of a row for that of a column.
func (d *dictionary) pivot(at, col int) {
	row := d.rows[at]
	k := row[col]
	for j := range row {
		if j != col {
			row[j] = clean(-row[j] / k)
		}
	}
	row[col] = 1 / k
	for i, r := range d.rows {
		if f := r[col]; i != at && f != 0 {
			for j := range r {
				if j == col {
					r[j] = clean(f * row[j])
				} else {
					r[j] = clean(r[j] + f*row[j])
				}
			}
		}
	}
	d.left[at], d.right[col] = d.right[col], d.left[at]
}

// start makes all constants of slacks positive, with an unknown that is added to each inequality and brought down again.
func (d *dictionary) start() bool {
	worst, at := -eps, -1
	for i, r := range d.rows {
		if d.left[i] >= d.n && r[len(r)-1] < worst {
			worst, at = r[len(r)-1], i
		}
	}
	if at < 0 {
		return true
	}
	const added = math.MaxInt // greater than every other name
	for i, r := range d.rows {
		k := 0.0
		if d.left[i] >= d.n {
			k = 1
		}
		d.rows[i] = append(r[:len(r)-1:len(r)-1], k, r[len(r)-1])
	}
	d.right = append(d.right, added)
	d.pivot(at, len(d.right)-1)
	d.climb(added, -1)
	row := d.index(added)
	if row >= 0 {
		if d.rows[row][len(d.right)] > eps*1e2 {
			return false
		}
		col, best := -1, eps // it stands at nothing: any exchange takes it to the right
		for j, k := range d.rows[row][:len(d.right)] {
			if math.Abs(k) > best && d.right[j] >= d.n {
				col, best = j, math.Abs(k)
			}
		}
		if col < 0 {
			d.rows = append(d.rows[:row], d.rows[row+1:]...)
			d.left = append(d.left[:row], d.left[row+1:]...)
			return true
		}
		d.pivot(row, col)
	}
	for j, name := range d.right {
		if name == added {
			d.right = append(d.right[:j:j], d.right[j+1:]...)
			for i, r := range d.rows {
				d.rows[i] = append(r[:j:j], r[j+1:]...)
			}
			break
		}
	}
	return true
}

// index is the row of an unknown, −1 when it is on the right.
func (d *dictionary) index(name int) int {
	for i, x := range d.left {
		if x == name {
			return i
		}
	}
	return -1
}

// highest is the largest value of sign·unknown; +Inf when there is none.
func (d *dictionary) highest(name int, sign float64) float64 {
	if d.index(name) < 0 { // no inequality speaks of it
		return math.Inf(1)
	}
	if !d.climb(name, sign) {
		return math.Inf(1)
	}
	r := d.rows[d.index(name)]
	return sign * r[len(r)-1]
}

// climb raises sign·unknown as far as it goes; false when that is without end. The unknown is on the left and bounds nothing;
// with the rule of Bland the same dictionary never comes twice.
func (d *dictionary) climb(name int, sign float64) bool {
	for {
		at := d.index(name)
		if at < 0 {
			return true // the added unknown has gone to the right: it is nothing
		}
		goal := d.rows[at]
		col := -1
		for j := range d.right {
			k := sign * goal[j]
			if d.right[j] < d.n { // it may move both ways, and no slack depends on it
				if math.Abs(k) > eps {
					return false
				}
				continue
			}
			if k > eps && (col < 0 || d.right[j] < d.right[col]) {
				col = j
			}
		}
		if col < 0 {
			return true
		}
		row, room := -1, math.Inf(1)
		for i, r := range d.rows {
			if d.left[i] < d.n || r[col] >= -eps {
				continue
			}
			t := math.Max(0, r[len(r)-1]) / -r[col]
			if t < room-eps || t < room+eps && (row < 0 || d.left[i] < d.left[row]) {
				row, room = i, math.Min(t, room)
			}
		}
		if row < 0 {
			return false
		}
		d.pivot(row, col)
	}
}

func (d *dictionary) clone() *dictionary {
	out := &dictionary{n: d.n, left: append([]int(nil), d.left...), right: append([]int(nil), d.right...)}
	for _, r := range d.rows {
		out.rows = append(out.rows, append([]float64(nil), r...))
	}
	return out
}
