package gearing

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/mat"
)

// The oracle knows nothing of the machine: it writes every row over all members, tries every set of locked
// freewheels, and reads ratio and torques from singular values.

type oracle struct{ t Train }

func (o oracle) rows(hold []Element) *mat.Dense {
	n := len(o.t.Members)
	at := func(m string) int { return slices.Index(o.t.Members, m) }
	var data []float64
	add := func(k map[string]float64) {
		r := make([]float64, n)
		for m, v := range k {
			if i := at(m); i >= 0 {
				r[i] += v
			}
		}
		data = append(data, r...)
	}
	for _, m := range o.t.Meshes {
		a, b := float64(m.TeethA), float64(m.TeethB)
		if m.Internal || m.Chain {
			b = -b
		}
		// A gear may share its member with the carrier of another set, so the terms are summed one by one.
		r := make([]float64, n)
		for _, x := range []struct {
			m string
			k float64
		}{{m.A, a}, {m.B, b}, {m.Carrier, -a - b}} {
			if i := at(x.m); i >= 0 {
				r[i] += x.k / 50
			}
		}
		data = append(data, r...)
	}
	for _, e := range hold {
		add(map[string]float64{e.A: 1, e.B: -1})
	}
	return mat.NewDense(len(data)/n, n, data)
}

// null returns a basis of what the rows leave free, as columns.
func null(a *mat.Dense) *mat.Dense {
	r, c := a.Dims()
	var svd mat.SVD
	square := mat.NewDense(max(r, c), c, nil)
	square.Slice(0, r, 0, c).(*mat.Dense).Copy(a)
	svd.Factorize(square, mat.SVDFull)
	var v mat.Dense
	svd.VTo(&v)
	values := svd.Values(nil)
	rank := 0
	for rank < len(values) && values[rank] > 1e-9 {
		rank++
	}
	if rank == c {
		return nil
	}
	return v.Slice(0, c, rank, c).(*mat.Dense)
}

// ratio returns input/output if some set of locked freewheels ties the two and balances torque with
// forward locks and no overrun; ok is false when none does.
func (o oracle) ratio(applied []string) (ratio float64, ok bool) {
	var hold, wheels []Element
	for _, e := range o.t.Elements {
		if e.Kind == Freewheel {
			wheels = append(wheels, e)
		} else if slices.Contains(applied, e.ID) {
			hold = append(hold, e)
		}
	}
	in, out := slices.Index(o.t.Members, o.t.Input), slices.Index(o.t.Members, o.t.Output)
	for mask := range 1 << len(wheels) {
		locked := slices.Clone(hold)
		for i, w := range wheels {
			if mask&(1<<i) != 0 {
				locked = append(locked, w)
			}
		}
		a := o.rows(locked)
		free := null(a)
		if free == nil {
			continue
		}
		if r, fine := o.try(a, free, locked, wheels, in, out); fine {
			return r, true
		}
	}
	return 0, false
}

func (o oracle) try(a, free *mat.Dense, locked, wheels []Element, in, out int) (float64, bool) {
	_, k := free.Dims()
	wi, wo := free.RawRowView(in), free.RawRowView(out)
	size, cross := 0.0, 0.0
	for j := range k {
		size += wi[j] * wi[j]
		cross += wi[j] * wo[j]
	}
	if size < 1e-12 || math.Abs(cross) < 1e-9 {
		return 0, false
	}
	r := cross / size // output speed per input speed
	for j := range k {
		if math.Abs(wo[j]-r*wi[j]) > 1e-7 {
			return 0, false
		}
	}
	for _, w := range wheels {
		slip, known := 0.0, true
		for side, m := range []string{w.A, w.B} {
			i := slices.Index(o.t.Members, m)
			if i < 0 {
				continue
			}
			row, v := free.RawRowView(i), 0.0
			for j := range k {
				v += row[j] * wi[j] / size
			}
			for j := range k {
				known = known && math.Abs(row[j]-v*wi[j]) < 1e-7
			}
			slip += v * float64(1-2*side)
		}
		if known && slip < -1e-7 {
			return 0, false
		}
	}
	return 1 / r, o.pushed(a, locked, in, out)
}

// pushed reports whether locked freewheels carry strictly forward torque.
func (o oracle) pushed(a *mat.Dense, locked []Element, in, out int) bool {
	m, n := a.Dims()
	sys := mat.NewDense(n, m+1, nil)
	sys.Slice(0, n, 0, m).(*mat.Dense).Copy(a.T())
	sys.Set(out, m, 1)
	if null(sys) != nil {
		return false // not determined: the machine calls this shared, and the random test leaves it out
	}
	var x mat.VecDense
	b := mat.NewVecDense(n, nil)
	b.SetVec(in, -1)
	if err := x.SolveVec(sys, b); err != nil {
		return false
	}
	first := m - len(locked)
	for i, e := range locked {
		if e.Kind == Freewheel && x.AtVec(first+i) < 1e-9 {
			return false
		}
	}
	return true
}

// random makes two or three planetary sets with tooth counts that mesh, joined at random, with random
// elements. Nearly all are useless as transmissions, which is the point.
func random(r *rand.Rand) Train {
	t := Train{Members: []string{"m0", "m1", "m2", "m3", "m4"}, Input: "m0", Output: "m1", ForwardSign: 1}
	for i := range 2 + r.IntN(2) {
		planet := string(rune('p' + i))
		t.Members = append(t.Members, planet)
		at := r.Perm(5)
		zs, zp := 20+r.IntN(40), 14+r.IntN(20)
		t.Meshes = append(t.Meshes, simple(t.Members[at[0]], t.Members[at[1]], t.Members[at[2]], planet, zs, zp, zs+2*zp)...)
	}
	for i := range 5 {
		at := r.Perm(5)
		e := Element{ID: string(rune('A' + i)), Kind: Clutch, A: t.Members[at[0]], B: t.Members[at[1]]}
		switch {
		case i == 4:
			e.Kind = Freewheel
		case r.IntN(2) == 0:
			e.Kind, e.B = Brake, Case
		}
		t.Elements = append(t.Elements, e)
	}
	return t
}

// On random arrangements the interval method and the oracle agree on whether the vehicle drives and at
// what ratio, and power in is power out on every one.
func TestRandomArrangementsAgreeWithBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 11))
	driving, compared := 0, 0
	for range 400 {
		train := random(r)
		m, err := NewMachine(train)
		if err != nil {
			continue // a member that nothing touches
		}
		if null(mat.DenseCopyOf(oracle{train}.rows(nil).T())) != nil {
			continue // sets that repeat each other: tooth loads would not be determined
		}
		for mask := range 16 {
			var on []string
			for i := range 4 {
				if mask&(1<<i) != 0 {
					on = append(on, train.Elements[i].ID)
				}
			}
			s, err := m.Solve(State{Applied: on})
			if err != nil {
				t.Fatal(err)
			}
			drives := s.Outcome == Forward || s.Outcome == Reverse
			if drives && len(s.Shared) > 0 {
				continue
			}
			want, ok := oracle{train}.ratio(on)
			compared++
			if ok != drives || drives && math.Abs(s.Ratio-want) > 1e-6*math.Abs(want) {
				t.Errorf("%+v\n%v: %s %v, brute force %v %v", train, on, s.Outcome, s.Ratio, ok, want)
				return
			}
			if drives {
				driving++
				if math.Abs(1-s.OutputTorque*s.Speeds[train.Output]) > 1e-9 {
					t.Errorf("%v: power out %v", on, s.OutputTorque*s.Speeds[train.Output])
				}
			}
		}
	}
	if driving < 200 || compared < 3000 {
		t.Fatalf("only %d of %d driving", driving, compared)
	}
}
