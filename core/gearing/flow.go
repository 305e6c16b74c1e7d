package gearing

import (
	"math"
	"slices"
)

// flow finds which freewheels hold at this ratio, the speeds of all members, and the torques, for input
// torque +1 (drive) or −1 (overrun). It tries lock-sets from the smallest: the right one reproduces the
// ratio, leaves no freewheel running backward, and puts forward torque on each that holds.
func (m *Machine) flow(s state, left []vec, ratio, drive float64) (Flow, int, bool) {
	vOut := float64(m.train.ForwardSign) / ratio
	for _, held := range subsets(len(s.free)) {
		locked := pick(s.free, held)
		null := left
		if len(locked) > 0 {
			null = nullSpace(m.rows(s, locked), len(m.in))
		}
		speed, fixed, ok := m.speeds(null, vOut)
		if !ok || m.overruns(s.free, speed, fixed) {
			continue
		}
		push, ok := m.torques(s, locked, drive)
		if !ok || push.backward(len(s.hold), len(locked)) {
			continue
		}
		out := Flow{Speeds: make(map[string]float64, len(speed)), Torques: make(map[string]float64, len(s.hold)+len(s.free)), Slip: make(map[string]float64, len(m.ends))}
		m.tell(&out, speed, fixed)
		m.load(&out, s, locked, push, drive)
		out.Shared = m.spare(s, locked, speed, fixed, drive, out.Shared)
		return out, freedom(null), true
	}
	return Flow{}, 0, false
}

// freedom counts the coordinates left besides the one that drives.
func freedom(null []vec) int {
	if len(null) == 0 {
		return 0
	}
	return max(0, len(null[0])-1)
}

func pick(from, which []int) []int {
	out := make([]int, len(which))
	for i, w := range which {
		out[i] = from[w]
	}
	return out
}

// speeds returns all member speeds with the input at one, and which of them are determined. It fails when
// the rows do not tie the output to the input at vOut.
func (m *Machine) speeds(null []vec, vOut float64) (w []float64, fixed []bool, ok bool) {
	in := through(m.in, null)
	size := dot(in, in)
	if size <= eps*eps {
		return nil, nil, false
	}
	along := func(row vec) (float64, bool) {
		r := through(row, null)
		v := dot(r, in) / size
		for i := range r {
			if math.Abs(r[i]-v*in[i]) > eps {
				return v, false
			}
		}
		return v, true
	}
	if v, tied := along(m.out); !tied || math.Abs(v-vOut) > 1e-7*math.Max(1, math.Abs(vOut)) {
		return nil, nil, false
	}
	w, fixed = make([]float64, len(m.basis)), make([]bool, len(m.basis))
	for i, row := range m.basis {
		v, determined := along(row)
		w[i], fixed[i] = snap(v), determined
	}
	return w, fixed, true
}

// slip is wa − wb of an element, when both are determined.
func (m *Machine) slip(e int, w []float64, fixed []bool) (float64, bool) {
	diff := 0.0
	for side, i := range m.joins[e] {
		switch {
		case i < 0:
		case !fixed[i]:
			return 0, false
		case side == 0:
			diff += w[i]
		default:
			diff -= w[i]
		}
	}
	return snap(diff), true
}

func (m *Machine) overruns(free []int, w []float64, fixed []bool) bool {
	for _, e := range free {
		if v, known := m.slip(e, w, fixed); known && v < -1e-7 {
			return true
		}
	}
	return false
}

func (m *Machine) tell(f *Flow, w []float64, fixed []bool) {
	for i, name := range m.train.Members {
		if fixed[i] {
			f.Speeds[name] = w[i]
		}
	}
	for e, el := range m.train.Elements {
		if v, known := m.slip(e, w, fixed); known {
			f.Slip[el.ID] = v
		}
	}
}

// push is the solution of the transposed rows: one multiplier for each row and the output torque.
type push struct {
	rows   []float64 // in the order of Machine.rows
	spare  []bool    // rows whose multiplier is not determined
	output float64
}

// torques solves Σ λ·row + drive·input + Tout·output = 0 over the free coordinates (virtual work).
func (m *Machine) torques(s state, locked []int, drive float64) (push, bool) {
	cols := m.rows(s, locked)
	if c := m.train.Converter; c != nil {
		// Torque multiplies where speed slips, so this column is not the speed row.
		e, t := m.speed(c.Engine), m.speed(c.Turbine)
		col := make(vec, len(e))
		for i := range col {
			col[i] = s.gain*t[i] - e[i]
		}
		cols[len(cols)-1] = col
	}
	cols = append(cols, m.out)
	x, spare, ok := solveColumns(cols, m.in, -drive)
	k := len(cols) - 1
	if !ok || spare[k] {
		return push{}, false
	}
	return push{rows: x[:k], spare: spare[:k], output: x[k]}, true
}

// backward reports whether a locked freewheel would have to pull the wrong way.
func (p push) backward(held, locked int) bool {
	for i := held; i < held+locked; i++ {
		if p.rows[i] < -eps && !p.spare[i] {
			return true
		}
	}
	return false
}

// load writes the torques on elements, members and teeth.
func (m *Machine) load(f *Flow, s state, locked []int, p push, drive float64) {
	outside := make([]float64, len(m.basis)) // torque on each member from all but the gears
	add := func(member int, torque float64) {
		if member >= 0 {
			outside[member] += torque
		}
	}
	clear := true
	for i, e := range slices.Concat(s.hold, locked) {
		el := m.train.Elements[e]
		f.Torques[el.ID] = snap(p.rows[i])
		if p.spare[i] {
			f.Shared = append(f.Shared, el.ID)
			clear = false
		}
		if i >= len(s.hold) && math.Abs(p.rows[i]) > eps {
			f.Holding = append(f.Holding, el.ID)
		}
		add(m.joins[e][0], p.rows[i])
		add(m.joins[e][1], -p.rows[i])
	}
	if c := m.train.Converter; c != nil {
		pump := p.rows[len(p.rows)-1]
		add(m.member[c.Turbine], s.gain*pump)
		add(m.member[c.Engine], -pump)
		f.Loss = snap(pump * (f.Speeds[c.Engine] - s.gain*f.Speeds[c.Turbine]))
	}
	f.OutputTorque = snap(-p.output)
	if !clear || m.spread == nil {
		return
	}
	add(m.member[m.train.Input], drive)
	add(m.member[m.train.Output], p.output)
	m.gears(f, outside)
}

// gears divides the torques from outside over the teeth.
func (m *Machine) gears(f *Flow, outside []float64) {
	f.Members = make(map[string]float64, len(outside))
	for i, name := range m.train.Members {
		f.Members[name] = snap(-outside[i])
	}
	f.Teeth = make([]float64, len(m.meshRow))
	for i := range f.Teeth {
		f.Teeth[i] = snap(dot(m.spread[i], outside) * float64(m.train.Meshes[i].TeethA))
	}
}

// spare adds what becomes indivisible once the freewheels that stand still beside the lock-set are counted
// in: a band beside a freewheel on the same member. A freewheel that could only take its share by pulling
// the wrong way takes none.
func (m *Machine) spare(s state, locked []int, w []float64, fixed []bool, drive float64, shared []string) []string {
	still := slices.Clone(locked)
	for _, e := range s.free {
		if v, known := m.slip(e, w, fixed); known && math.Abs(v) <= eps && !slices.Contains(locked, e) {
			still = append(still, e)
		}
	}
	for len(still) > len(locked) {
		p, ok := m.torques(s, still, drive)
		if !ok {
			return shared
		}
		wrong := -1
		for i := len(locked); i < len(still); i++ {
			if p.rows[len(s.hold)+i] <= eps {
				wrong = i
			}
		}
		if wrong >= 0 {
			still = slices.Delete(still, wrong, wrong+1)
			continue
		}
		var all []string
		for i, e := range slices.Concat(s.hold, still) {
			if p.spare[i] {
				all = append(all, m.train.Elements[e].ID)
			}
		}
		return all
	}
	return shared
}

// solveColumns solves Σ x·cols = k·rhs. spare marks unknowns that the equations do not determine; those
// are given their least-norm values.
func solveColumns(cols []vec, rhs vec, k float64) (x []float64, spare []bool, ok bool) {
	d, n := len(rhs), len(cols)
	a := make([]vec, d)
	store := make(vec, d*(n+1))
	for i := range a {
		a[i] = store[i*(n+1) : (i+1)*(n+1)]
		for j, c := range cols {
			a[i][j] = c[i]
		}
		a[i][n] = k * rhs[i]
	}
	pivot, rank := eliminate(a, n)
	for i := rank; i < d; i++ {
		if math.Abs(a[i][n]) > 1e-7 {
			return nil, nil, false
		}
	}
	x, spare = make([]float64, n), make([]bool, n)
	for j := range n {
		if pivot[j] < 0 {
			spare[j] = true
			for other, row := range pivot {
				spare[other] = spare[other] || row >= 0 && math.Abs(a[row][j]) > eps
			}
			continue
		}
		x[j] = a[pivot[j]][n]
	}
	if rank < n {
		shortest(x, a, pivot)
	}
	return x, spare, true
}

// eliminate brings the first n columns of a to reduced form; pivot gives the row of each column, −1 for
// a column that depends on others.
func eliminate(a []vec, n int) (pivot []int, rank int) {
	pivot = make([]int, n)
	for j := range pivot {
		pivot[j] = -1
	}
	for rank < len(a) {
		best, row, col := eps, 0, -1
		for i := rank; i < len(a); i++ {
			for j := range n {
				if v := math.Abs(a[i][j]); v > best {
					best, row, col = v, i, j
				}
			}
		}
		if col < 0 {
			break
		}
		a[rank], a[row] = a[row], a[rank]
		pivot[col] = rank
		p := a[rank][col]
		for j := range a[rank] {
			a[rank][j] /= p
		}
		for i := range a {
			if f := a[i][col]; i != rank && f != 0 {
				for j := range a[i] {
					a[i][j] -= f * a[rank][j]
				}
				a[i][col] = 0
			}
		}
		rank++
	}
	return pivot, rank
}

// shortest takes from a solution its share in what the equations leave free, so that of many solutions the
// shortest is given; only states with spare elements come here.
func shortest(x []float64, a []vec, pivot []int) {
	var basis []vec
	for j, p := range pivot {
		if p >= 0 {
			continue
		}
		v := make(vec, len(x))
		v[j] = 1
		for other, row := range pivot {
			if row >= 0 {
				v[other] = -a[row][j]
			}
		}
		for _, b := range basis {
			f := dot(v, b)
			for i := range v {
				v[i] -= f * b[i]
			}
		}
		basis = append(basis, scaled(v))
	}
	for _, b := range basis {
		f := dot(x, b)
		for i := range x {
			x[i] -= f * b[i]
		}
	}
}

// snap removes the last rounding so that a standing member reads exactly zero.
func snap(v float64) float64 {
	if r := math.Round(v); math.Abs(v-r) < 1e-12 {
		return r + 0 // +0 turns −0 into 0
	}
	return v
}

// subsets returns all subsets of 0…n−1, smallest first.
func subsets(n int) [][]int {
	if n < len(small) {
		return small[n]
	}
	return makeSubsets(n)
}

// small holds the subsets that real trains need, so that a solve does not build them.
var small = [][][]int{makeSubsets(0), makeSubsets(1), makeSubsets(2), makeSubsets(3), makeSubsets(4), makeSubsets(5)}

func makeSubsets(n int) [][]int {
	out := [][]int{nil}
	for size := 1; size <= n; size++ {
		for mask := 1; mask < 1<<n; mask++ {
			var s []int
			for i := range n {
				if mask&(1<<i) != 0 {
					s = append(s, i)
				}
			}
			if len(s) == size {
				out = append(out, s)
			}
		}
	}
	return out
}
