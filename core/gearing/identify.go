package gearing

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Speeds are an observed pair of shaft speeds in rev/min, each with the half-width of its uncertainty.
type Speeds struct{ In, Out, InTol, OutTol float64 }

// CountResolution is the half-width, in rev/min, of a speed that is counted over a window of some seconds
// with this many teeth on the wheel: one count either way. It is infinite for a wheel or window of nothing.
func CountResolution(teeth int, window float64) float64 {
	if teeth <= 0 || !(window > 0) {
		return math.Inf(1)
	}
	return 60 / (float64(teeth) * window)
}

// apart is how far two ratios are from each other, in natural logarithms; infinite when one is forward and the
// other is not.
func apart(a, b float64) float64 {
	if !(a*b > 0) {
		return math.Inf(1)
	}
	return math.Abs(math.Log(a / b))
}

// Match holds an observed ratio against that of one gear.
type Match struct {
	Gear    int     // index in the list that was given
	Ratio   float64 // observed input/output
	RatioTo float64 // half-width of its uncertainty
	Slip    float64 // observed input speed beyond what the gear asks for, rev/min; negative when it runs behind
	SlipTo  float64 // half-width of its uncertainty
	Fits    bool    // the gear's ratio lies within the uncertainty
}

// Identify orders gears by how near their ratios come to the observed pair, the nearest first. Ratios of
// zero (neutral) are passed over. It fails for an output too slow to divide by.
func Identify(s Speeds, ratios []float64) ([]Match, error) {
	out := math.Abs(s.Out)
	if !(out > 0) || out <= s.OutTol || math.IsInf(s.In, 0) || math.IsNaN(s.In) || !(s.InTol >= 0) || !(s.OutTol >= 0) {
		return nil, fmt.Errorf("gearing: output speed %v ± %v rev/min; accepted: speeds whose uncertainty leaves them above zero", s.Out, s.OutTol)
	}
	seen := s.In / s.Out
	tol := math.Abs(seen) * (s.InTol/math.Max(math.Abs(s.In), s.InTol+1e-12) + s.OutTol/out)
	var found []Match
	for i, r := range ratios {
		if r == 0 {
			continue
		}
		found = append(found, Match{Gear: i, Ratio: seen, RatioTo: tol, Slip: s.In - r*s.Out, SlipTo: s.InTol + math.Abs(r)*s.OutTol, Fits: math.Abs(s.In-r*s.Out) <= s.InTol+math.Abs(r)*s.OutTol})
	}
	slices.SortStableFunc(found, func(a, b Match) int {
		// By ratio and not by speed, so that high gears are not favoured.
		return cmp.Compare(apart(ratios[a.Gear], seen), apart(ratios[b.Gear], seen))
	})
	return found, nil
}

// SlipOf returns the speed across one element (wa − wb, rev/min) that an observed pair of shaft speeds
// means when that element slips and everything else of the state holds, with its half-width. The output is
// counted positive when the vehicle goes forward. It fails when the two speeds do not determine the slip.
func (m *Machine) SlipOf(s State, element string, seen Speeds) (slip, tol float64, err error) {
	sol, err := m.Solve(s)
	if err != nil {
		return 0, 0, err
	}
	e, ok := m.element[element]
	if !ok {
		return 0, 0, &SheetError{"element", fmt.Sprintf("no element %q", element), fmt.Sprint(m.train.elementIDs())}
	}
	rest := State{Slip: s.Slip, Multiplication: s.Multiplication}
	for _, id := range slices.Concat(s.Applied, sol.Holding, s.Seized) {
		if id != element && !slices.Contains(rest.Seized, id) {
			if m.train.Elements[m.element[id]].Kind == Freewheel {
				rest.Seized = append(rest.Seized, id)
			} else {
				rest.Applied = append(rest.Applied, id)
			}
		}
	}
	st, err := m.state(rest)
	if err != nil {
		return 0, 0, err
	}
	null := m.left(st)
	in, out, across := through(m.in, null), through(m.out, null), through(m.ends[e], null)
	x, spare, ok := solveColumns([]vec{in, out}, across, 1)
	if !ok || spare[0] || spare[1] {
		return 0, 0, &SheetError{"element", fmt.Sprintf("input and output speed do not tell the slip of %s here", element), "an element that carries the drive in this state"}
	}
	sign := float64(m.train.ForwardSign)
	return x[0]*seen.In + sign*x[1]*seen.Out, math.Abs(x[0])*seen.InTol + math.Abs(x[1])*seen.OutTol, nil
}
