// Package sim drives a vehicle whose transmission is as its sheet says, or has a fault that nobody is told: a stand-in for the road.
//
// Model. The train's free coordinates, the engine and the vehicle move by one law: A·v = p + Rᵀ·λ, step by step of one millisecond, with everything that holds as a
// bounded impulse (package boxes). Between output shaft and vehicle stands a shaft with stiffness, damping and backlash (implicit midpoint); the converter is a
// torque by the square of the pump's speed; pistons fill through an orifice, then their pressure follows the command by the root law, solved in closed form; an
// electronic unit hands over clutch to clutch, a hydraulic one moves its shift valves by governor and throttle pressure. Heat is where the work of friction went.
//
// Error. First order in the step: a run at half the step says how much (Halved). The energy balance closes by construction and is kept as an alarm for mistakes in the
// equations, not as a measure of accuracy.
//
// What is chosen and not from a sheet: mass, wheel, axle, inertias, shaft, air, the engine's map, orifices, schedules (Vehicle and the constants beside it). No figure of
// it is of a real vehicle. Invalid for shudder that friction makes by itself, for the tooth as a spring, for oil that heats.
//
// Units: SI (rad/s, N·m, Pa, m, s, °C), throttle, brake and clutch pedal from 0 to 1.
package sim
