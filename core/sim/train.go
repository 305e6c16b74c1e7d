package sim

import (
	"fmt"
	"slices"

	"gonum.org/v1/gonum/mat"

	"innercompass/core/boxes"
	"innercompass/core/gearing"
	"innercompass/core/powertrain"
	"innercompass/core/unitsheet"
)

// train is the unit with engine and vehicle in coordinates of its own: the gears' free ones, then the engine unless it is one of them, then the vehicle.
type train struct {
	n       int
	names   []string // of elements
	element map[string]int
	members map[string][]float64 // rows
	engine  []float64
	turbine []float64
	output  []float64 // positive going forward
	vehicle []float64
	shaft   []float64    // output − vehicle
	lockup  int          // hold of the converter clutch; −1 when there is none
	brake   int          // hold of brakes and rolling resistance
	fluid   bool         // a converter stands between engine and turbine
	mass    []float64    // n × n
	tight   *boxes.Holds // the shaft carries
	loose   *boxes.Holds // inside its backlash
	rows    [][]float64  // of all holds
}

func newTrain(u *unitsheet.Unit, v powertrain.Vehicle, step float64) (*train, error) {
	if u.Machine == nil {
		return nil, fmt.Errorf("%s has no gears on its sheet: only a unit whose gears are known can be driven", u.Sheet.Name)
	}
	t := u.Machine.Train()
	c := u.Machine.Coordinates()
	out := &train{element: map[string]int{}, members: map[string][]float64{}, lockup: -1}
	_, out.fluid = powertrain.ConverterFor(u, v.Engine)
	own := out.fluid && t.Converter == nil // the engine is no member of the gears
	out.n = c.N + 1
	if own {
		out.n++
	}
	long := func(r []float64) []float64 { return append(slices.Clone(r), make([]float64, out.n-len(r))...) }
	unit := func(i int) []float64 {
		r := make([]float64, out.n)
		r[i] = 1
		return r
	}
	for i, name := range t.Members {
		out.members[name] = long(c.Members[i])
	}
	out.turbine, out.engine, out.vehicle = out.members[t.Input], out.members[t.Input], unit(out.n-1)
	switch {
	case t.Converter != nil:
		out.engine, out.turbine = out.members[t.Converter.Engine], out.members[t.Converter.Turbine]
	case own:
		out.engine = unit(c.N)
	}
	out.output = scale(out.members[t.Output], float64(t.ForwardSign))
	out.shaft = minus(out.output, out.vehicle)

	mass := mat.NewSymDense(out.n, nil)
	add := func(row []float64, inertia float64) {
		mass.SymRankOne(mass, inertia, mat.NewVecDense(out.n, row))
	}
	for i, name := range t.Members {
		row := long(c.Members[i])
		switch {
		case name == t.Output:
			add(row, v.Output)
		case same(row, out.engine):
			// The engine's own inertia is added once, below.
		case same(row, out.turbine):
			add(row, v.Turbine)
		case slices.Contains(u.Sheet.Gearing.Members, name):
			add(row, v.Drum)
		default:
			add(row, v.Pinion)
		}
	}
	add(out.engine, v.Engine.Inertia)
	add(out.vehicle, v.Mass*v.Wheel*v.Wheel/(v.Axle*v.Axle))

	var rows [][]float64
	for i, e := range t.Elements {
		out.element[e.ID] = i
		out.names = append(out.names, e.ID)
		rows = append(rows, long(c.Elements[i]))
	}
	if out.fluid {
		out.lockup = len(rows)
		rows = append(rows, minus(out.engine, out.turbine))
	}
	out.brake = len(rows)
	rows = append(rows, out.vehicle)

	for i := range out.n {
		for j := range out.n {
			out.mass = append(out.mass, mass.At(i, j))
		}
	}
	var err error
	out.rows = rows
	if out.loose, err = boxes.New(mass, rows); err != nil {
		return nil, err
	}
	stiff := mat.NewSymDense(out.n, nil)
	stiff.CopySym(mass)
	stiff.SymRankOne(stiff, step*(step*v.Stiffness/4+v.Damping/2), mat.NewVecDense(out.n, out.shaft))
	out.tight, err = boxes.New(stiff, rows)
	return out, err
}

// kinds of the elements, in the order of the holds.
func (t *train) kind(u *unitsheet.Unit, i int) gearing.Kind {
	return u.Machine.Train().Elements[i].Kind
}

func scale(r []float64, k float64) []float64 {
	out := make([]float64, len(r))
	for i, x := range r {
		out[i] = k * x
	}
	return out
}

func minus(a, b []float64) []float64 {
	out := slices.Clone(a)
	for i, x := range b {
		out[i] -= x
	}
	return out
}

func same(a, b []float64) bool { return slices.Equal(a, b) }

func dot(a, b []float64) float64 {
	s := 0.0
	for i, x := range a {
		s += x * b[i]
	}
	return s
}

// meet finds speeds that are as near as can be to what some rows are to have, while what is bounded without end holds.
func (t *train) meet(rows [][]float64, goals []float64, bounds []boxes.Bounds) ([]float64, error) {
	const heavy = 1e6 // kg·m²: what is wanted weighs more than what is there
	mass := mat.NewSymDense(t.n, t.mass)
	like, p := mat.NewSymDense(t.n, nil), make([]float64, t.n)
	like.CopySym(mass)
	for k, r := range rows {
		like.SymRankOne(like, heavy, mat.NewVecDense(t.n, r))
		for i, x := range r {
			p[i] += heavy * goals[k] * x
		}
	}
	h, err := boxes.New(like, t.rows)
	if err != nil {
		return nil, err
	}
	v := make([]float64, t.n)
	h.Step(v, p, bounds)
	return v, nil
}

// mulVec is out = a·v.
func mulVec(out, a, v []float64) {
	n := len(v)
	for i := range out {
		out[i] = dot(a[i*n:i*n+n], v)
	}
}
