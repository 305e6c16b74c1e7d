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

// Outcome says what a state does to the vehicle.
type Outcome string

// The outcomes of a state.
const (
	Forward Outcome = "forward" // input drives the output forward at a ratio
	Reverse Outcome = "reverse"
	Neutral Outcome = "neutral" // the input runs free
	Bind    Outcome = "bind"    // the output cannot be turned
)

// Solution is what a state does. Speeds are relative to the input at one; a member
// that nothing determines is missing from Speeds.
type Solution struct {
	Outcome      Outcome
	Ratio        float64            // input/output, negative in reverse; 0 unless Forward or Reverse
	Speeds       map[string]float64 // by member
	Torques      map[string]float64 // on member A of each element, per unit of input torque
	Shared       []string           // elements whose torque the rigid model cannot divide
	Holding      []string           // freewheels that hold
	OutputTorque float64            // on the output shaft, in its own sense of turning, per unit of input torque
	Slip         map[string]float64 // wa − wb of every element whose members are determined
	Coast        Coast
}

// Coast says what happens with the foot off.
type Coast string

// The kinds of coasting.
const (
	CoastBrakes Coast = "brakes"     // the engine brakes in this gear
	CoastFree   Coast = "free"       // a freewheel lets go
	CoastOther  Coast = "other-gear" // the engine brakes through another gear
	CoastNone   Coast = ""           // not driving
)

// Solver is the question that the rest of the program asks of a train. The general
// solver for chains, selectors and two inputs fulfils the same interface.
type Solver interface {
	Solve(State) (Solution, error)
}

var _ Solver = Train{}

type row struct {
	coef    []float64 // by member
	element string    // id when the row stands for an element
}

type system struct {
	t     Train
	index map[string]int
	rows  []row // equalities
	free  []row // wa − wb ≥ 0
}

// Solve returns what the train does in state s. It fails for ids that the train does
// not have; it does not change its arguments.
func (t Train) Solve(s State) (Solution, error) {
	sys, err := t.system(s)
	if err != nil {
		return Solution{}, err
	}
	sign := float64(t.ForwardSign)
	forward := sys.inputRange(sign)
	standing := sys.inputRange(0)
	backward := sys.inputRange(-sign)
	out := Solution{}
	switch {
	case forward.empty && backward.empty:
		out.Outcome = Bind
		return out, nil
	case !standing.empty && math.IsInf(standing.hi, 1):
		out.Outcome = Neutral
		return out, nil
	case !forward.empty && forward.hi > eps && !math.IsInf(forward.hi, 1):
		out.Outcome, out.Ratio, out.Coast = Forward, forward.hi, coast(forward)
	case !backward.empty && backward.hi > eps && !math.IsInf(backward.hi, 1):
		out.Outcome, out.Ratio, out.Coast = Reverse, -backward.hi, coast(backward)
	default:
		out.Outcome = Bind
		return out, nil
	}
	sys.carry(&out)
	return out, nil
}

func coast(r interval) Coast {
	switch {
	case math.IsInf(r.lo, -1) || r.lo <= eps:
		return CoastFree
	case r.hi-r.lo <= eps*math.Max(1, r.hi):
		return CoastBrakes
	default:
		return CoastOther
	}
}

func (t Train) system(s State) (*system, error) {
	sys := &system{t: t, index: map[string]int{}}
	for i, m := range t.Members {
		sys.index[m] = i
	}
	for _, ids := range [][]string{s.Applied, s.Broken, s.Seized} {
		for _, id := range ids {
			if _, ok := t.Element(id); !ok {
				return nil, &SheetError{"state", fmt.Sprintf("no element %q", id), fmt.Sprint(t.elementIDs())}
			}
		}
	}
	for _, m := range t.Meshes {
		za, zb := float64(m.TeethA), float64(m.TeethB)
		if m.Internal {
			zb = -zb
		}
		sys.rows = append(sys.rows, sys.row("", term{m.A, za}, term{m.B, zb}, term{m.Carrier, -za - zb}))
	}
	for _, l := range t.Links {
		sys.rows = append(sys.rows, sys.row("", term{l.A, 1}, term{l.B, -1}))
	}
	for _, e := range t.Elements {
		r := sys.row(e.ID, term{e.A, 1}, term{e.B, -1})
		switch {
		case e.Kind == Freewheel && slices.Contains(s.Broken, e.ID):
		case e.Kind == Freewheel && slices.Contains(s.Seized, e.ID),
			e.Kind != Freewheel && slices.Contains(s.Applied, e.ID):
			sys.rows = append(sys.rows, r)
		case e.Kind == Freewheel:
			sys.free = append(sys.free, r)
		}
	}
	return sys, nil
}

type term struct {
	member string
	k      float64
}

// row builds one row; mesh rows are scaled to length one so that eps means the same in all.
func (sys *system) row(element string, terms ...term) row {
	r := row{coef: make([]float64, len(sys.t.Members)), element: element}
	for _, x := range terms {
		if x.member != Case && x.member != "" {
			r.coef[sys.index[x.member]] += x.k
		}
	}
	if element == "" {
		n := 0.0
		for _, k := range r.coef {
			n += k * k
		}
		n = math.Sqrt(n)
		for i := range r.coef {
			r.coef[i] /= n
		}
	}
	return r
}

func (sys *system) unit(member string) []float64 {
	r := make([]float64, len(sys.t.Members))
	r[sys.index[member]] = 1
	return r
}

// inputRange returns the input speeds that are possible while the output turns at v.
func (sys *system) inputRange(v float64) interval {
	n := len(sys.t.Members)
	p := newPolyhedron(n)
	for _, r := range sys.rows {
		p.equal(r.coef, 0)
	}
	p.equal(sys.unit(sys.t.Output), v)
	for _, r := range sys.free {
		p.atLeast(r.coef, 0)
	}
	return p.project(sys.index[sys.t.Input])
}

// carry finds which freewheels hold, the speeds of all members, and the torques. It tries
// lock-sets from the smallest: the right one reproduces the ratio, leaves no freewheel
// running backward, and puts forward torque on each that holds.
func (sys *system) carry(out *Solution) {
	for _, held := range subsets(len(sys.free)) {
		locked := slices.Clone(sys.rows)
		for _, i := range held {
			locked = append(locked, sys.free[i])
		}
		speeds, fixed, ok := sys.speeds(locked, float64(sys.t.ForwardSign)/out.Ratio)
		if !ok || !sys.pinned(locked) || sys.overruns(speeds, fixed) {
			continue
		}
		torque, shared, outTorque, ok := sys.torques(locked)
		if !ok || sys.pushedBack(torque, shared, held) {
			continue
		}
		out.Torques, out.Shared, out.OutputTorque = torque, sys.shares(locked, held, speeds, fixed, shared), outTorque
		out.Speeds, out.Slip = map[string]float64{}, map[string]float64{}
		for i, m := range sys.t.Members {
			if fixed[i] {
				out.Speeds[m] = speeds[i]
			}
		}
		for _, e := range sys.t.Elements {
			a, okA := sys.speedOf(e.A, speeds, fixed)
			b, okB := sys.speedOf(e.B, speeds, fixed)
			if okA && okB {
				out.Slip[e.ID] = snap(a - b)
			}
		}
		for _, i := range held {
			if math.Abs(torque[sys.free[i].element]) > eps {
				out.Holding = append(out.Holding, sys.free[i].element)
			}
		}
		return
	}
}

// shares adds to shared what becomes indivisible once the freewheels that stand still
// beside the lock-set are counted in: a band beside a freewheel on the same member.
func (sys *system) shares(locked []row, held []int, w []float64, fixed []bool, shared []string) []string {
	still := slices.Clone(locked)
	for i, f := range sys.free {
		if slices.Contains(held, i) {
			continue
		}
		slip, known := 0.0, true
		for m, k := range f.coef {
			slip += k * w[m]
			known = known && (k == 0 || fixed[m])
		}
		if known && math.Abs(slip) <= eps {
			still = append(still, f)
		}
	}
	if len(still) == len(locked) {
		return shared
	}
	if _, all, _, ok := sys.torques(still); ok {
		return all
	}
	return shared
}

func (sys *system) speedOf(m string, speeds []float64, fixed []bool) (float64, bool) {
	if m == Case {
		return 0, true
	}
	i := sys.index[m]
	return speeds[i], fixed[i]
}

// pinned reports whether these rows alone tie the input to the output.
func (sys *system) pinned(rows []row) bool {
	p := newPolyhedron(len(sys.t.Members))
	for _, r := range rows {
		p.equal(r.coef, 0)
	}
	p.equal(sys.unit(sys.t.Output), 0)
	r := p.project(sys.index[sys.t.Input])
	return !r.empty && r.hi <= eps && r.lo >= -eps
}

// speeds returns all member speeds with the input at one and the output at vOut, and
// which of them the rows determine.
func (sys *system) speeds(rows []row, vOut float64) (w []float64, fixed []bool, ok bool) {
	n := len(sys.t.Members)
	a := mat.NewDense(len(rows)+2, n, nil)
	b := mat.NewVecDense(len(rows)+2, nil)
	for i, r := range rows {
		a.SetRow(i, r.coef)
	}
	a.SetRow(len(rows), sys.unit(sys.t.Input))
	b.SetVec(len(rows), 1)
	a.SetRow(len(rows)+1, sys.unit(sys.t.Output))
	b.SetVec(len(rows)+1, vOut)
	x, null, residual := leastNorm(a, b)
	if residual > 1e-7 {
		return nil, nil, false
	}
	fixed = make([]bool, n)
	w = make([]float64, n)
	for i := range w {
		w[i] = snap(x[i])
		fixed[i] = null[i] <= eps
	}
	return w, fixed, true
}

func (sys *system) overruns(w []float64, fixed []bool) bool {
	for _, f := range sys.free {
		slip, known := 0.0, true
		for i, k := range f.coef {
			if k != 0 {
				slip += k * w[i]
				known = known && fixed[i]
			}
		}
		if known && slip < -1e-7 {
			return true
		}
	}
	return false
}

// torques solves the transposed system for unit input torque: for every member
// Σ λ·coef + input + output = 0. Rows that the rigid model cannot divide are Shared.
func (sys *system) torques(rows []row) (torque map[string]float64, shared []string, out float64, ok bool) {
	n := len(sys.t.Members)
	k := len(rows)
	a := mat.NewDense(n, k+1, nil)
	for j, r := range rows {
		for i, c := range r.coef {
			a.Set(i, j, c)
		}
	}
	a.Set(sys.index[sys.t.Output], k, 1)
	b := mat.NewVecDense(n, nil)
	b.SetVec(sys.index[sys.t.Input], -1)
	x, null, residual := leastNorm(a, b)
	if residual > 1e-7 || null[k] > eps {
		return nil, nil, 0, false
	}
	torque = map[string]float64{}
	for j, r := range rows {
		if r.element != "" {
			torque[r.element] = snap(x[j])
			if null[j] > eps {
				shared = append(shared, r.element)
			}
		}
	}
	return torque, shared, snap(-x[k]), true
}

func (sys *system) pushedBack(torque map[string]float64, shared []string, held []int) bool {
	for _, i := range held {
		id := sys.free[i].element
		if torque[id] < -eps && !slices.Contains(shared, id) {
			return true
		}
	}
	return false
}

func (t Train) elementIDs() []string {
	var out []string
	for _, e := range t.Elements {
		out = append(out, e.ID)
	}
	return out
}

// leastNorm solves a·x = b in the least-squares, least-norm sense by singular values. null
// gives for each unknown its share in the null space (0 = determined by the rows).
func leastNorm(a *mat.Dense, b *mat.VecDense) (x, null []float64, residual float64) {
	r, c := a.Dims()
	var svd mat.SVD
	if !svd.Factorize(a, mat.SVDFull) {
		return make([]float64, c), make([]float64, c), math.Inf(1)
	}
	values := svd.Values(nil)
	var u, v mat.Dense
	svd.UTo(&u)
	svd.VTo(&v)
	x, null = make([]float64, c), make([]float64, c)
	rank := 0
	for rank < len(values) && values[rank] > eps*values[0] {
		k := mat.Dot(u.ColView(rank), b) / values[rank]
		for i := range x {
			x[i] += k * v.At(i, rank)
		}
		rank++
	}
	for j := rank; j < c; j++ {
		for i := range null {
			null[i] = math.Max(null[i], math.Abs(v.At(i, j)))
		}
	}
	for i := 0; i < r; i++ {
		e := -b.AtVec(i)
		for j := 0; j < c; j++ {
			e += a.At(i, j) * x[j]
		}
		residual = math.Max(residual, math.Abs(e))
	}
	return x, null, residual
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
