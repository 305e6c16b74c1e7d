// Package hydraulics balances the valves of a hydraulic control: what line pressure a regulator keeps, what
// pressure a governor makes of road speed, and at what speed a shift valve moves.
//
// Model: spools in static balance, without friction, flow forces or leakage; a governor is weights on a
// shaft, each of which stops moving outward at its own speed; throttle or modulator pressure rises in a
// straight line with throttle opening; a leak is a sharp-edged orifice, whose flow goes with the root of
// pressure [1]. Invalid for spools in motion and for leaks through long gaps, which grow with pressure itself
// and fall with viscosity. SI units (Pa, m², m³/s, N, kg, m, rad/s); throttle from 0 to 1.
//
// Reference: [1] H. E. Merritt, Hydraulic Control Systems, 1967, flow through orifices and spool forces;
// recalled from memory. The tests put every result back into the forces and flows that it came from.
package hydraulics

import (
	"fmt"
	"math"
)

// Weight is one weight of a governor, at a radius, that adds nothing more above its limit.
type Weight struct {
	Mass, Radius float64
	Limit        float64 // rad/s; 0 means none
}

// Governor is the weights that push on a valve of this area.
type Governor struct {
	Area    float64
	Weights []Weight
}

// Pressure is what the governor makes at angular speed w of its shaft: Σ m·r·w²/A.
func (g Governor) Pressure(w float64) float64 {
	sum := 0.0
	for _, x := range g.Weights {
		v := w
		if x.Limit > 0 {
			v = math.Min(v, x.Limit)
		}
		sum += x.Mass * x.Radius * v * v
	}
	return sum / g.Area
}

// Speed is the least angular speed that makes pressure p. It fails when no speed does.
func (g Governor) Speed(p float64) (float64, error) {
	if p <= 0 {
		return 0, nil
	}
	low, high := 0.0, 1.0
	for g.Pressure(high) < p {
		if high > 1e5 {
			return 0, fmt.Errorf("hydraulics: the governor does not reach %.0f kPa at any speed", p/1000)
		}
		low, high = high, 2*high
	}
	for range 60 {
		mid := (low + high) / 2
		if g.Pressure(mid) < p {
			low = mid
		} else {
			high = mid
		}
	}
	return high, nil
}

// ShiftValve moves up when governor pressure beats spring and throttle pressure.
type ShiftValve struct {
	GovernorArea, ThrottleArea float64
	Spring                     float64
}

// Moves is the governor pressure at which the valve moves up against this throttle pressure.
func (v ShiftValve) Moves(throttle float64) float64 {
	return (v.Spring + throttle*v.ThrottleArea) / v.GovernorArea
}

// Throttle is a throttle valve or vacuum modulator: pressure at closed and at full throttle.
type Throttle struct{ Closed, Full float64 }

// Pressure at an opening from 0 to 1.
func (t Throttle) Pressure(opening float64) float64 {
	return t.Closed + (t.Full-t.Closed)*opening
}

// Regulator keeps line pressure: spring and boost against the spool's area.
type Regulator struct {
	Area, Spring float64
	Boost        float64 // area on which throttle pressure adds to the spring
	Reverse      float64 // area on which line pressure itself adds to the spring in boosted ranges
}

// Line is the pressure that balances the spool: p·A = F + pt·Boost + p·Reverse.
func (r Regulator) Line(throttle float64, boosted bool) float64 {
	area := r.Area
	if boosted {
		area -= r.Reverse
	}
	return (r.Spring + throttle*r.Boost) / area
}

// Sag is the pressure that is left when a circuit leaks: the regulator keeps pressure p while the pump has
// flow to spare; beyond that the leak, an orifice whose flow goes with the root of pressure, takes it down
// to where the two agree. spare and leak are flows at pressure p.
func Sag(p, spare, leak float64) float64 {
	if leak <= spare || leak <= 0 {
		return p
	}
	share := math.Max(0, spare) / leak
	return p * share * share
}
