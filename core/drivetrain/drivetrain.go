// Package drivetrain is a unit between engine and vehicle, as masses that are coupled by what may hold or slip: the coordinates of its gears, and those of engine and vehicle beside them.
package drivetrain

import (
	"fmt"
	"slices"

	"gonum.org/v1/gonum/mat"

	"innercompass/core/boxes"
	"innercompass/core/gearing"
	"innercompass/core/powertrain"
	"innercompass/core/unitsheet"
)

// Train is the unit with engine and vehicle in coordinates of its own: the gears' free ones, then the engine unless it is one of them, then the vehicle.
type Train struct {
	N       int
	Names   []string // of elements
	Element map[string]int
	Members map[string][]float64 // rows
	Engine  []float64
	Turbine []float64
	Output  []float64 // positive going forward
	Vehicle []float64
	Shaft   []float64    // output − vehicle
	Lockup  int          // hold of the converter clutch; −1 when there is none
	Brake   int          // hold of brakes and rolling resistance
	Fluid   bool         // a converter stands between engine and turbine
	Mass    []float64    // n × n
	Tight   *boxes.Holds // the shaft carries
	Loose   *boxes.Holds // inside its backlash
	rows    [][]float64  // of all holds
}

// New puts a unit into a vehicle. It fails for a unit without gears.
func New(u *unitsheet.Unit, v powertrain.Vehicle, step float64) (*Train, error) {
	if u.Machine == nil {
		return nil, fmt.Errorf("%s has no gears on its sheet: only a unit whose gears are known can be driven", u.Sheet.Name)
	}
	t := u.Machine.Train()
	c := u.Machine.Coordinates()
	out := &Train{Element: map[string]int{}, Members: map[string][]float64{}, Lockup: -1}
	_, out.Fluid = powertrain.ConverterFor(u, v.Engine)
	own := out.Fluid && t.Converter == nil // the engine is no member of the gears
	out.N = c.N + 1
	if own {
		out.N++
	}
	long := func(r []float64) []float64 { return append(slices.Clone(r), make([]float64, out.N-len(r))...) }
	unit := func(i int) []float64 {
		r := make([]float64, out.N)
		r[i] = 1
		return r
	}
	for i, name := range t.Members {
		out.Members[name] = long(c.Members[i])
	}
	out.Turbine, out.Engine, out.Vehicle = out.Members[t.Input], out.Members[t.Input], unit(out.N-1)
	switch {
	case t.Converter != nil:
		out.Engine, out.Turbine = out.Members[t.Converter.Engine], out.Members[t.Converter.Turbine]
	case own:
		out.Engine = unit(c.N)
	}
	out.Output = scale(out.Members[t.Output], float64(t.ForwardSign))
	out.Shaft = minus(out.Output, out.Vehicle)

	mass := mat.NewSymDense(out.N, nil)
	add := func(row []float64, inertia float64) {
		mass.SymRankOne(mass, inertia, mat.NewVecDense(out.N, row))
	}
	for i, name := range t.Members {
		row := long(c.Members[i])
		switch {
		case name == t.Output:
			add(row, v.Output)
		case same(row, out.Engine):
			// The engine's own inertia is added once, below.
		case same(row, out.Turbine):
			add(row, v.Turbine)
		case slices.Contains(u.Sheet.Gearing.Members, name):
			add(row, v.Drum)
		default:
			add(row, v.Pinion)
		}
	}
	add(out.Engine, v.Engine.Inertia)
	add(out.Vehicle, v.Mass*v.Wheel*v.Wheel/(v.Axle*v.Axle))

	var rows [][]float64
	for i, e := range t.Elements {
		out.Element[e.ID] = i
		out.Names = append(out.Names, e.ID)
		rows = append(rows, long(c.Elements[i]))
	}
	if out.Fluid {
		out.Lockup = len(rows)
		rows = append(rows, minus(out.Engine, out.Turbine))
	}
	out.Brake = len(rows)
	rows = append(rows, out.Vehicle)

	for i := range out.N {
		for j := range out.N {
			out.Mass = append(out.Mass, mass.At(i, j))
		}
	}
	var err error
	out.rows = rows
	if out.Loose, err = boxes.New(mass, rows); err != nil {
		return nil, err
	}
	stiff := mat.NewSymDense(out.N, nil)
	stiff.CopySym(mass)
	stiff.SymRankOne(stiff, step*(step*v.Stiffness/4+v.Damping/2), mat.NewVecDense(out.N, out.Shaft))
	out.Tight, err = boxes.New(stiff, rows)
	return out, err
}

// Kind is that of an element, in the order of the holds.
func (t *Train) Kind(u *unitsheet.Unit, i int) gearing.Kind {
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

// Dot is a·b.
func Dot(a, b []float64) float64 {
	s := 0.0
	for i, x := range a {
		s += x * b[i]
	}
	return s
}

// Meet finds speeds that are as near as can be to what some rows are to have, while what is bounded without end holds.
func (t *Train) Meet(rows [][]float64, goals []float64, bounds []boxes.Bounds) ([]float64, error) {
	const heavy = 1e6 // kg·m²: what is wanted weighs more than what is there
	mass := mat.NewSymDense(t.N, t.Mass)
	like, p := mat.NewSymDense(t.N, nil), make([]float64, t.N)
	like.CopySym(mass)
	for k, r := range rows {
		like.SymRankOne(like, heavy, mat.NewVecDense(t.N, r))
		for i, x := range r {
			p[i] += heavy * goals[k] * x
		}
	}
	h, err := boxes.New(like, t.rows)
	if err != nil {
		return nil, err
	}
	v := make([]float64, t.N)
	h.Step(v, p, bounds)
	return v, nil
}

// MulVec is out = a·v.
func MulVec(out, a, v []float64) {
	n := len(v)
	for i := range out {
		out[i] = Dot(a[i*n:i*n+n], v)
	}
}
