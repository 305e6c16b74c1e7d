package hydraulics

import (
	"errors"
	"math"
)

// Discharge is the coefficient of a sharp-edged orifice [1].
const Discharge = 0.61

// OilDensity is that of transmission oil when hot, kg/m³ (common value, no source).
const OilDensity = 820.0

// Orifice is the flow through a sharp edge of this diameter under a pressure difference, m³/s: Cd·A·√(2Δp/ρ) [1].
func Orifice(diameter, drop, density float64) float64 {
	return Discharge * math.Pi / 4 * diameter * diameter * math.Sqrt(2*math.Max(0, drop)/density)
}

// OrificeDrop is the pressure difference that a flow makes over it.
func OrificeDrop(diameter, flow, density float64) float64 {
	v := flow / (Discharge * math.Pi / 4 * diameter * diameter)
	return v * v * density / 2
}

// Gap is the flow through the ring between a spool and its bore, laminar, m³/s: π·D·h³·Δp/(12·ν·ρ·L)·(1 + 1.5·ε²), h the
// radial clearance, ε how far the spool sits to one side, 0 to 1 [1]; worn and lying on one side it leaks two and a half
// times as much.
func Gap(bore, clearance, length, drop, viscosity, density, off float64) float64 {
	return math.Pi * bore * clearance * clearance * clearance * drop / (12 * viscosity * density * length) * (1 + 1.5*off*off)
}

// FillTime is how long a piston takes to close its clearance, fed at a pressure through an orifice against return
// springs that are closed by touch: volume over flow. It fails when the pressure does not beat the springs.
func FillTime(area, clearance, orifice, pressure, touch, density float64) (volume, time float64, err error) {
	switch {
	case !(area > 0) || clearance < 0 || !(orifice > 0):
		return 0, 0, errors.New("hydraulics: piston and orifice must have an area, and the clearance cannot be negative")
	case !(pressure > touch):
		return 0, 0, errors.New("hydraulics: the pressure does not beat the return springs: the piston would not move")
	}
	volume = area * clearance
	return volume, volume / Orifice(orifice, pressure-touch, density), nil
}

// Droop splits a leak by two readings of the same circuit, cold and hot, with the pump giving the same flow and nothing
// left over it: flow = a·p/ν + b·√p, a gap and an orifice [1]. It returns the share of the hot flow that gaps pass: near
// 1 is wear of bores and bushings, near 0 a hole or a seal that is missing. It fails when the pressures do not fit: hot
// oil can only lower the pressure, and no further than gaps alone would.
func Droop(cold, hot, coldViscosity, hotViscosity float64) (float64, error) {
	switch {
	case !(cold > 0) || !(hot > 0) || !(hotViscosity > 0) || !(coldViscosity > hotViscosity):
		return 0, errors.New("hydraulics: pressures above 0, and cold oil thicker than hot, are needed")
	case hot > cold:
		return 0, errors.New("hydraulics: pressure is higher hot than cold: the regulator holds it, or the readings are exchanged")
	}
	// a·hot/νh + b·√hot = a·cold/νc + b·√cold = 1
	g := hot/hotViscosity - cold/coldViscosity
	o := math.Sqrt(cold) - math.Sqrt(hot)
	if g < 0 {
		return 1, errors.New("hydraulics: the pressure falls further than gaps alone explain: the pump itself gives less when hot")
	}
	if o == 0 && g == 0 {
		return 0, errors.New("hydraulics: the readings are equal: nothing can be told")
	}
	// b·o = a·g, so with a = 1: b = g/o.
	if o == 0 {
		return 0, nil
	}
	gap, hole := hot/hotViscosity, g/o*math.Sqrt(hot)
	return gap / (gap + hole), nil
}

// LeakDown is the leakage of a volume of air at a pressure (gauge) that falls within a time: flow of free air, m³/s, by
// the gas law at even temperature, and the time in which half the overpressure is lost at that rate of decay.
func LeakDown(volume, from, to, time float64) (flow, half float64, err error) {
	const air = 101325.0
	if !(volume > 0) || !(time > 0) || !(from > to) || to < 0 {
		return 0, 0, errors.New("hydraulics: volume and time must be above 0, and the pressure must fall and stay above that of the air")
	}
	flow = volume * (from - to) / (time * air)
	if to == 0 {
		return flow, 0, nil
	}
	return flow, time * math.Ln2 / math.Log(from/to), nil
}

// Modulator is a vacuum unit: spring against diaphragm, on a valve of this area.
type Modulator struct {
	Diaphragm float64 // effective area, m²
	Spring    float64 // N
	Valve     float64 // m²
}

// Pressure that it asks for at a manifold vacuum (Pa below the air around it); none when the vacuum holds the spring.
func (m Modulator) Pressure(vacuum float64) float64 {
	return math.Max(0, (m.Spring-vacuum*m.Diaphragm)/m.Valve)
}
