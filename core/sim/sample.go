package sim

import (
	"math"

	"innercompass/core/drivetrain"
)

// Sample is what can be seen at one moment. Speeds are in rad/s.
type Sample struct {
	Time, Throttle, Brake   float64
	Engine, Turbine, Output float64
	Speed                   float64 // of the vehicle, m/s
	Torque                  float64 // of the engine, N·m
	Input                   float64 // of the turbine, N·m
	Line                    float64 // Pa
	Celsius                 float64
	Position                float64 // m
	Range, To               string
	Busy                    bool
	Lockup                  float64 // what the converter clutch may hold at most, N·m
	Twist                   float64 // torque of the shaft to the wheels, N·m
}

// Now is the vehicle as it is.
func (m *Sim) Now() Sample {
	now, to, busy := m.control.state()
	over := m.twist - math.Copysign(math.Min(math.Abs(m.twist), m.car.Backlash), m.twist)
	return Sample{Time: m.time, Throttle: m.input.Throttle, Brake: m.input.Brake, Engine: drivetrain.Dot(m.train.Engine, m.v), Turbine: drivetrain.Dot(m.train.Turbine, m.v), Output: drivetrain.Dot(m.train.Output, m.v), Speed: m.speed(),
		Torque: m.torque, Input: m.gets, Line: m.pressureOf(m.find(now), m.input.Throttle), Celsius: m.celsius, Lockup: m.control.lockup(), Position: m.pos, Range: now, To: to, Busy: busy, Twist: m.car.Stiffness * over}
}

// Pressure is that of an element's piston, Pa; nothing for one without.
func (m *Sim) Pressure(element string) float64 {
	i, ok := m.train.Element[element]
	if !ok || m.pistons[i] == nil {
		return 0
	}
	return m.pistons[i].Pressure
}

// Heat is the work of friction in an element so far, J.
func (m *Sim) Heat(element string) float64 {
	i, ok := m.train.Element[element]
	if !ok {
		return 0
	}
	return m.heat[i]
}
