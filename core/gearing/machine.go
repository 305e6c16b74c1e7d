package gearing

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"
)

// eps separates zero from not zero in rows scaled to length one. The smallest true pivot
// met in the arrangements of the test suite is 0.02, the largest spurious one 3e-16.
const eps = 1e-9

// mostRatio is beyond all gears of the trade, and far enough from eps that a speed is never taken for nothing.
const mostRatio = 1e6

// Machine is a train made ready for solving: the mesh and link rows are reduced once to the coordinates
// that they leave free, so that each state is a problem of a few unknowns. It is safe for concurrent use.
type Machine struct {
	train   Train
	member  map[string]int
	element map[string]int
	basis   []vec    // by member: its speed as a sum over the free coordinates
	ends    []vec    // by element: wa − wb in the same coordinates
	joins   [][2]int // by element: its two members, −1 for the case
	in, out vec
	spread  []vec // tooth loads from outside torques: meshes × members; nil when they cannot be divided
	meshRow []vec // unscaled rows of the meshes, by member
}

// NewMachine reduces a train. It fails for a train that does not validate.
func NewMachine(t Train) (*Machine, error) {
	if bad := t.Validate(); bad != nil {
		return nil, bad[0]
	}
	m := &Machine{train: t, member: map[string]int{}, element: map[string]int{}}
	for i, name := range t.Members {
		m.member[name] = i
	}
	var rows []vec
	for _, g := range t.Meshes {
		r := m.mesh(g)
		m.meshRow = append(m.meshRow, r)
		rows = append(rows, scaled(r))
	}
	for _, l := range t.Links {
		r := make(vec, len(t.Members))
		r[m.member[l.A]]++
		r[m.member[l.B]]--
		rows = append(rows, r)
	}
	m.basis = nullSpace(rows, len(t.Members))
	for i, row := range m.basis {
		for _, k := range row {
			if k != 0 && (math.Abs(k) > mostRatio || math.Abs(k) < 1/mostRatio) {
				return nil, &SheetError{fmt.Sprintf("members[%d]", i), fmt.Sprintf("%q turns %.3g times as fast as another", t.Members[i], math.Max(math.Abs(k), 1/math.Abs(k))), "gears whose speeds differ by less than a million"}
			}
		}
	}
	for i, e := range t.Elements {
		m.element[e.ID] = i
		m.ends = append(m.ends, sub(m.speed(e.A), m.speed(e.B)))
		m.joins = append(m.joins, [2]int{m.number(e.A), m.number(e.B)})
	}
	m.in, m.out = m.speed(t.Input), m.speed(t.Output)
	m.spread = m.toothLoads()
	return m, nil
}

// Train returns the train that the machine was made from.
func (m *Machine) Train() Train { return m.train }

// mesh is the Willis row of a mesh over the members.
func (m *Machine) mesh(g Mesh) vec {
	za, zb := float64(g.TeethA), float64(g.TeethB)
	if g.Internal || g.Chain {
		zb = -zb
	}
	r := make(vec, len(m.train.Members))
	for _, x := range []struct {
		member string
		k      float64
	}{{g.A, za}, {g.B, zb}, {g.Carrier, -za - zb}} {
		if x.member != Case && x.member != "" {
			r[m.member[x.member]] += x.k
		}
	}
	return r
}

// speed is a member's row in the free coordinates; that of the case is zero.
func (m *Machine) speed(member string) vec {
	if member == Case || member == "" {
		return make(vec, len(m.basis[0]))
	}
	return m.basis[m.member[member]]
}

// number is a member's place among the members, −1 for the case.
func (m *Machine) number(member string) int {
	if i, ok := m.member[member]; ok {
		return i
	}
	return -1
}

// toothLoads is the matrix that turns torques applied from outside into the multipliers of the mesh rows:
// in balance, rowsᵀ·λ = −τ.
func (m *Machine) toothLoads() []vec {
	n := len(m.train.Members)
	if len(m.meshRow) == 0 {
		return nil
	}
	a := mat.NewDense(len(m.meshRow)+len(m.train.Links), n, nil)
	for i, r := range m.meshRow {
		a.SetRow(i, r)
	}
	for i, l := range m.train.Links {
		a.Set(len(m.meshRow)+i, m.member[l.A], 1)
		a.Set(len(m.meshRow)+i, m.member[l.B], -1)
	}
	var gram, loads mat.Dense
	gram.Mul(a, a.T())
	if err := loads.Solve(&gram, a); err != nil {
		return nil // meshes that repeat each other
	}
	out := make([]vec, len(m.meshRow))
	for i := range out {
		out[i] = make(vec, n)
		for j := range n {
			out[i][j] = -loads.At(i, j)
		}
	}
	return out
}

// vec is a row of coefficients.
type vec []float64

func dot(a, b vec) float64 {
	s := 0.0
	for i, x := range a {
		s += x * b[i]
	}
	return s
}

func sub(a, b vec) vec {
	out := make(vec, len(a))
	for i := range a {
		out[i] = a[i] - b[i]
	}
	return out
}

func scaled(r vec) vec {
	n := math.Sqrt(dot(r, r))
	out := make(vec, len(r))
	for i := range r {
		out[i] = r[i] / n
	}
	return out
}

// zero reports whether a row is nothing but rounding.
func zero(r vec) bool {
	for _, x := range r {
		if x > eps || x < -eps {
			return false
		}
	}
	return true
}

// nullSpace returns, for each of n unknowns, its row over the coordinates that rows leave free. Pivots are
// the largest of what is left, so that the coordinates are unknowns themselves and entries stay near one.
func nullSpace(rows []vec, n int) []vec {
	a := make([]vec, len(rows))
	store := make(vec, len(rows)*n)
	for i, r := range rows {
		a[i] = store[i*n : (i+1)*n]
		copy(a[i], r)
	}
	pivot, _ := eliminate(a, n)
	var free []int
	for j, p := range pivot {
		if p < 0 {
			free = append(free, j)
		}
	}
	out := make([]vec, n)
	store = make(vec, n*len(free))
	for j := range out {
		out[j] = store[j*len(free) : (j+1)*len(free)]
		for k, f := range free {
			switch {
			case j == f:
				out[j][k] = 1
			case pivot[j] >= 0:
				out[j][k] = clean(-a[pivot[j]][f])
			}
		}
	}
	return out
}

// clean removes what elimination leaves where a zero belongs.
func clean(x float64) float64 {
	if math.Abs(x) < 1e-13 {
		return 0
	}
	return x
}

// state is a State in the machine's own terms.
type state struct {
	hold []int // elements that hold both ways
	free []int // freewheels that work
	slip float64
	gain float64
}

func (m *Machine) state(s State) (state, error) {
	for _, ids := range [][]string{s.Applied, s.Broken, s.Seized} {
		for _, id := range ids {
			if _, ok := m.element[id]; !ok {
				return state{}, &SheetError{"state", fmt.Sprintf("no element %q", id), fmt.Sprint(m.train.elementIDs())}
			}
		}
	}
	for i, id := range s.Applied {
		if m.train.Elements[m.element[id]].Kind == Freewheel {
			return state{}, &SheetError{fmt.Sprintf("state.applied[%d]", i), fmt.Sprintf("%s is a one-way clutch: it holds by itself", id), "clutches, brakes, bands and selectors; a one-way clutch that holds both ways is seized"}
		}
	}
	for i, id := range s.Seized {
		if slices.Contains(s.Broken, id) {
			return state{}, &SheetError{fmt.Sprintf("state.seized[%d]", i), id + " is broken as well", "one of the two"}
		}
	}
	if !(s.Slip >= 0 && s.Slip < 1) || s.Multiplication != 0 && !(s.Multiplication >= 1 && s.Multiplication*(1-s.Slip) <= 1+eps) {
		return state{}, &SheetError{"state", fmt.Sprintf("converter slip %v, multiplication %v", s.Slip, s.Multiplication), "slip from 0 to below 1; multiplication from 1 to 1 / (1 − slip), since no more power comes out than goes in"}
	}
	out := state{slip: s.Slip, gain: 1}
	if s.Multiplication > 0 {
		out.gain = s.Multiplication
	}
	for i, e := range m.train.Elements {
		switch {
		case e.Kind != Freewheel:
			if slices.Contains(s.Applied, e.ID) {
				out.hold = append(out.hold, i)
			}
		case slices.Contains(s.Seized, e.ID):
			out.hold = append(out.hold, i)
		case !slices.Contains(s.Broken, e.ID):
			out.free = append(out.free, i)
		}
	}
	return out, nil
}

// converter is the row that couples turbine speed to engine speed.
func (m *Machine) converter(s state) vec {
	e, t := m.speed(m.train.Converter.Engine), m.speed(m.train.Converter.Turbine)
	out := make(vec, len(e))
	for i := range out {
		out[i] = t[i] - (1-s.slip)*e[i]
	}
	return out
}

// rows are the equalities of a state, with these freewheels locked as well.
func (m *Machine) rows(s state, locked []int) []vec {
	out := make([]vec, 0, len(s.hold)+len(locked)+1)
	for _, e := range s.hold {
		out = append(out, m.ends[e])
	}
	for _, e := range locked {
		out = append(out, m.ends[e])
	}
	if m.train.Converter != nil {
		out = append(out, m.converter(s))
	}
	return out
}

func (t Train) elementIDs() []string {
	out := make([]string, len(t.Elements))
	for i, e := range t.Elements {
		out[i] = e.ID
	}
	return out
}
