// Package powertrain is what a transmission sits in: an engine by its map, a converter by the square of its pump's speed, a vehicle's mass, wheels and air.
//
// Everything here that no sheet gives is chosen so that it suits the unit's engine, and is of no real vehicle.
//
// Units: SI (rad/s, N·m, kg·m², m, s), throttle from 0 to 1.
package powertrain

import (
	"math"

	"innercompass/core/unitsheet"
)

// Vehicle is what the unit sits in.
type Vehicle struct {
	Mass      float64 // kg
	Wheel     float64 // radius, m
	Axle      float64 // turns of the output shaft for one of the wheel
	Air       float64 // drag coefficient times area, m²
	Rolling   float64 // resistance over weight
	Stiffness float64 // of the shaft, N·m/rad at the output
	Damping   float64 // N·m·s/rad
	Backlash  float64 // either way, rad
	Engine    Engine
	Turbine   float64 // inertia, kg·m²
	Output    float64
	Drum      float64 // of every other member
	Pinion    float64
}

// Engine is the engine's map and what it is made of.
type Engine struct {
	Torque  float64 // most, N·m
	Idle    float64 // rad/s
	Most    float64 // rad/s, where fuel is cut
	Inertia float64 // with flywheel and pump, kg·m²
	Lag     float64 // of its torque behind the throttle, s
}

// Figures of an invented vehicle (chosen).
const (
	Gravity    = 9.81 // m/s²
	AirDensity = 1.2  // kg/m³
	// massFor is kilograms for each newton meter of engine.
	massFor = 7.0
	// cruise is the engine's speed at 100 km/h in the highest gear, where the sheet does not say how the axle turns, rad/s.
	cruise = 2300 * math.Pi / 30
	wheel  = 0.335
)

// For is a vehicle that suits a unit: as heavy as its engine pulls, its axle by the governor's drive where the sheet has one.
func For(u *unitsheet.Unit) Vehicle {
	torque := u.MaxTorque.SI
	if torque <= 0 {
		torque = 250
	}
	idle := u.IdleSpeed.SI
	if idle <= 0 {
		idle = 800 * math.Pi / 30
	}
	v := Vehicle{Mass: massFor * torque, Wheel: wheel, Air: 1.05, Rolling: 0.011, Damping: 6, Backlash: 0.02,
		Engine: Engine{Torque: torque, Idle: idle, Most: 5400 * math.Pi / 30, Inertia: 0.2 * torque / 330, Lag: 0.06}, Turbine: 0.065 * torque / 330, Output: 0.035, Drum: 0.012, Pinion: 2e-5}
	v.Stiffness = 1100 * torque / 330
	switch {
	case u.PerMetre > 0:
		v.Axle = u.PerMetre * v.Wheel
	default:
		least := math.Inf(1)
		for _, r := range u.Ranges {
			if r.Driving() && r.Healthy.Ratio > 0 {
				least = math.Min(least, r.Healthy.Ratio)
			}
		}
		v.Axle = cruise / least / (100 / 3.6 / v.Wheel)
	}
	return v
}

// full is the engine's torque with the throttle open, as a share of the most: three quarters at a standstill, all of it in the middle, less toward the end (chosen).
func (e Engine) full(w float64) float64 {
	x := w / e.Most
	return e.Torque * math.Max(0, 0.75+0.9*x-0.9*x*x) / 0.975
}

// drag is what turns it without fuel.
func (e Engine) drag(w float64) float64 {
	if w <= 0 {
		return 0
	}
	return e.Torque * (0.05 + 0.10*w/e.Most)
}

// Wanted is the torque that the engine would settle at at a throttle and a speed; idle is held in proportion to what is missing of it.
func (e Engine) Wanted(throttle, w float64) float64 {
	hold := math.Max(0, math.Min(0.4, 0.12+(e.Idle-w)*0.012))
	t := math.Max(throttle, hold)
	if w > e.Most {
		t = 0
	}
	return t*(e.full(w)+e.drag(w)) - e.drag(w)
}

// Converter is the fluid coupling with its reactor.
type Converter struct {
	Capacity float64 // pump torque over the square of its speed at stall, N·m·s²
	Ratio    float64 // of torque at stall
}

// Coupling is the ratio of speeds at which the torque ratio has come down to one (chosen).
const Coupling = 0.87

// ConverterFor stalls in the middle of the sheet's window with the engine's full torque.
func ConverterFor(u *unitsheet.Unit, e Engine) (Converter, bool) {
	if u.Stall.High.SI <= 0 {
		return Converter{}, false
	}
	stall := (u.Stall.Low.SI + u.Stall.High.SI) / 2
	return Converter{Capacity: e.full(stall) / (stall * stall), Ratio: math.Max(1, u.Sheet.Converter.TorqueRatio)}, true
}

// shape is the capacity over that at stall: level to three quarters of the pump's speed, then to nothing where both turn alike.
func shape(s float64) float64 {
	const knee = 0.75
	if s <= knee {
		return 1
	}
	x := (s - knee) / (1 - knee)
	return math.Max(0, 1-x*x)
}

// Torques of pump and turbine: what the pump takes from the engine, and what the turbine gives.
func (c Converter) Torques(pump, turbine float64) (taken, given float64) {
	if pump <= 0 {
		return 0, 0
	}
	if turbine > pump { // the vehicle drives the engine
		t := 0.6 * c.Capacity * turbine * turbine * shape(pump/turbine)
		return -t, -t
	}
	s := math.Max(0, turbine/pump)
	taken = c.Capacity * pump * pump * shape(s)
	return taken, taken * math.Max(1, c.Ratio-(c.Ratio-1)*s/Coupling)
}
