// Package converter says where engine and torque converter meet, what heat that makes, and what the clutch inside holds.
//
// Model: at a speed ratio the impeller takes torque with the square of its speed (capacity factor K = N/√T) and the
// turbine gives it multiplied by the torque ratio [1]; the engine gives its full-throttle torque at each speed,
// corrected for the density of the air [2]. Steady states only; no drag of the oil, no inertia.
// SI units (rad/s, N·m, W, K, Pa); K in rad/s for each √(N·m).
//
// References: [1] SAE J643, Hydrodynamic Drive Test Code, definitions of speed ratio, torque ratio, efficiency and K;
// [2] dry-air density by the gas law, torque of an engine without charger taken as proportional to it (common practice;
// the exponents of SAE J1349 and ISO 1585 differ by little). Recalled from memory; the tests put every result back into
// the balance that it came from.
package converter

import (
	"errors"
	"fmt"
	"math"
	"sort"
)

// CurvePoint is the engine's full-throttle torque at a speed.
type CurvePoint struct{ Speed, Torque float64 }

// Curve is an engine's torque over speed, straight between its points and level outside them.
type Curve []CurvePoint

// NewCurve orders points by speed. It fails with none, with two at one speed, or with values that are not above 0.
func NewCurve(points []CurvePoint) (Curve, error) {
	c := append(Curve(nil), points...)
	sort.Slice(c, func(i, j int) bool { return c[i].Speed < c[j].Speed })
	if len(c) == 0 {
		return nil, errors.New("converter: an engine needs at least one torque")
	}
	for i, p := range c {
		if !(p.Speed > 0) || !(p.Torque > 0) || math.IsInf(p.Speed, 0) || math.IsInf(p.Torque, 0) {
			return nil, fmt.Errorf("converter: torque %v at speed %v; want both above 0", p.Torque, p.Speed)
		}
		if i > 0 && c[i-1].Speed == p.Speed {
			return nil, errors.New("converter: two torques at one speed")
		}
	}
	return c, nil
}

// At is the torque at a speed.
func (c Curve) At(speed float64) float64 {
	i := sort.Search(len(c), func(i int) bool { return c[i].Speed >= speed })
	switch {
	case i == 0:
		return c[0].Torque
	case i == len(c):
		return c[len(c)-1].Torque
	}
	a, b := c[i-1], c[i]
	return a.Torque + (b.Torque-a.Torque)*(speed-a.Speed)/(b.Speed-a.Speed)
}

// Stall is the speed at which the engine's torque is just what the impeller takes with the turbine still: N = K·√T(N).
func Stall(engine Curve, k float64) (speed, torque float64, err error) {
	if !(k > 0) || math.IsInf(k, 0) {
		return 0, 0, fmt.Errorf("converter: K of %v; want above 0", k)
	}
	low, high := 0.0, 1.0
	for high < k*math.Sqrt(engine.At(high)) {
		if low, high = high, 2*high; high > 1e5 {
			return 0, 0, errors.New("converter: the engine never meets the impeller")
		}
	}
	for range 80 {
		mid := (low + high) / 2
		if mid < k*math.Sqrt(engine.At(mid)) {
			low = mid
		} else {
			high = mid
		}
	}
	return high, engine.At(high), nil
}

// Factor is K from a speed and the torque taken at it.
func Factor(speed, torque float64) float64 { return speed / math.Sqrt(torque) }

// Reference air: 25 °C and 99 kPa, dry (reference atmosphere of SAE J1349, recalled from memory).
const (
	ReferenceTemperature = 298.15
	ReferencePressure    = 99e3
)

// AirPressure is the standard atmosphere's pressure at a height (ISO 2533, troposphere), height in m.
func AirPressure(height float64) float64 {
	return 101325 * math.Pow(1-0.0065*height/288.15, 5.25588)
}

// AirFactor is the torque of an engine without charger in this air over that in reference air.
func AirFactor(pressure, temperature float64) float64 {
	return pressure / ReferencePressure * math.Sqrt(ReferenceTemperature/temperature)
}

// Point is a converter at work.
type Point struct {
	SpeedRatio, TorqueRatio, Efficiency float64
	In, Out, Heat                       float64 // W
}

// Work is the balance of a converter between a driven impeller and a turbine that gives torque. It fails when the turbine
// would give more than it gets.
func Work(impellerSpeed, impellerTorque, turbineSpeed, turbineTorque float64) (Point, error) {
	if !(impellerSpeed > 0) || !(impellerTorque > 0) || turbineSpeed < 0 || turbineTorque < 0 {
		return Point{}, errors.New("converter: impeller speed and torque must be above 0, those of the turbine not below 0")
	}
	p := Point{SpeedRatio: turbineSpeed / impellerSpeed, TorqueRatio: turbineTorque / impellerTorque, In: impellerSpeed * impellerTorque, Out: turbineSpeed * turbineTorque}
	p.Efficiency, p.Heat = p.Out/p.In, p.In-p.Out
	if p.Heat < 0 {
		return Point{}, fmt.Errorf("converter: the turbine would give %.0f W of %.0f W taken", p.Out, p.In)
	}
	return p, nil
}

// Oil and steel, for heating up; recalled from memory, common values: mineral oil 2.0 kJ/(kg·K) and 0.85 kg/L, steel
// 0.48 kJ/(kg·K).
const (
	OilHeat    = 2000.0
	OilDensity = 850.0
	SteelHeat  = 480.0
)

// HeatRate is how fast oil (m³) and steel (kg) warm when they take power, K/s; nothing leaves them meanwhile.
func HeatRate(power, oil, steel float64) (float64, error) {
	capacity := oil*OilDensity*OilHeat + steel*SteelHeat
	if !(capacity > 0) || power < 0 {
		return 0, errors.New("converter: some oil or steel must take the heat")
	}
	return power / capacity, nil
}
