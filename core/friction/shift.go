package friction

import (
	"errors"
	"math"
)

// Uniform pressure instead of wear: the mean radius of a new lining [1], always a little more than that of a worn-in one.
func NewLiningRadius(outer, inner float64) float64 {
	return 2.0 / 3 * (outer*outer*outer - inner*inner*inner) / (outer*outer - inner*inner)
}

// CentrifugalForce is what oil that turns with a piston adds to its force: p = ρω²(r² − r₀²)/2 over the ring from inner
// to outer, r₀ the radius at which the oil is fed. A balance room on the other side takes its own off again.
func CentrifugalForce(density, speed, outer, inner, fed float64) float64 {
	return math.Pi * density * speed * speed / 4 * (outer*outer - inner*inner) * (outer*outer + inner*inner - 2*fed*fed)
}

// DryClutch is a clamped single plate with two faces.
type DryClutch struct {
	Clamp        float64 // N
	Mu           float64
	Outer, Inner float64 // radii of the lining, m
	Weights      int     // centrifugal weights on the cover's levers
	Mass         float64 // of one, kg
	At           float64 // radius of their centres, m
	Lever        float64 // clamp for each newton that a weight pulls with
}

// ClampAt is the clamp load at a speed: what the cover gives, and what the weights add.
func (c DryClutch) ClampAt(speed float64) float64 {
	return c.Clamp + float64(c.Weights)*c.Mass*c.At*speed*speed*c.Lever
}

// Capacity is the torque held at a speed, lining worn in.
func (c DryClutch) Capacity(speed float64) float64 {
	return 2 * c.Mu * c.ClampAt(speed) * (c.Outer + c.Inner) / 2
}

// Slip is one engagement of a clutch or brake while its torque stays the same and the slip runs down evenly.
type Slip struct {
	Time   float64 // s
	Energy float64 // J turned into heat
	Peak   float64 // W at its beginning
	Flux   float64 // W/m² at its beginning, on each face
}

// Engage is the slip of a clutch that brings an inertia to speed: from this slip (rad/s) with this torque against load,
// the inertia (kg·m²) counted at the clutch. It fails when the torque does not beat the load.
func Engage(slip, torque, load, inertia, faceArea float64) (Slip, error) {
	switch {
	case !(slip > 0) || !(inertia > 0):
		return Slip{}, errors.New("friction: slip and inertia must be above 0")
	case !(torque > load):
		return Slip{}, errors.New("friction: the clutch holds less than its load: it would slip for good")
	case !(faceArea > 0):
		return Slip{}, errors.New("friction: the lining must have an area")
	}
	s := Slip{Time: inertia * slip / (torque - load), Peak: torque * slip}
	s.Energy = torque * slip * s.Time / 2
	s.Flux = s.Peak / faceArea
	return s, nil
}

// Steel of a clutch plate; recalled from memory, common values.
const (
	SteelDensity      = 7850.0 // kg/m³
	SteelHeat         = 480.0  // J/(kg·K)
	SteelConductivity = 45.0   // W/(m·K)
)

// PlateRise is the temperature rise of a steel face, at a moment of an engagement, under a heat flux that falls evenly
// from q (W/m²) to nothing in a time, with the plate's middle at half a thickness passing no heat on: conduction into a
// slab (Carslaw and Jaeger, Conduction of Heat in Solids, recalled from memory), a steady flux less a ramp. Share is the
// part of the heat that goes into the steel.
func PlateRise(flux, time, share, half, at float64) float64 {
	const diffusivity = SteelConductivity / (SteelDensity * SteelHeat)
	step, ramp := diffusivity*at/half+half/3, diffusivity*at*at/(2*half)+half*at/3
	// Terms fall with exp(−n²·Fo); those of the steady part without it add up to half/3.
	terms := int(math.Min(400, 3+4*half/math.Sqrt(diffusivity*math.Max(at, 1e-9))))
	for n := 1; n <= terms; n++ {
		k := float64(n*n) * math.Pi * math.Pi
		rate := k * diffusivity / (half * half)
		fade := math.Exp(-rate * at)
		step -= 2 * half / k * fade
		ramp -= 2 * half / k * (1 - fade) / rate
	}
	return share * flux / SteelConductivity * (step - ramp/time)
}

// PlatePeak is the highest rise of the face during the engagement, and when.
func PlatePeak(flux, time, share, half float64) (rise, at float64) {
	const looks = 24
	for i := 1; i <= looks; i++ {
		t := time * float64(i) / looks
		if r := PlateRise(flux, time, share, half, t); r > rise {
			rise, at = r, t
		}
	}
	return rise, at
}

// BulkRise is the rise of plates that keep an energy (J) from faces of this area (m²), each with this half thickness
// behind it.
func BulkRise(energy, area, half float64) (float64, error) {
	if !(area > 0) || !(half > 0) {
		return 0, errors.New("friction: some steel must take the heat")
	}
	return energy / (area * half * SteelDensity * SteelHeat), nil
}

// Release is what reaches the release lever of a hydraulic pedal: travels in m.
type Release struct{ Master, Slave, Bearing float64 }

// ReleaseTravel follows pedal travel to the release bearing: less free play, over the pedal's lever, from the master to
// the slave cylinder by their areas, less what air and hoses take up (m³), over the release lever.
func ReleaseTravel(pedal, free, pedalLever, master, slave, lost, lever float64) (Release, error) {
	if !(pedalLever > 0) || !(master > 0) || !(slave > 0) || !(lever > 0) || free < 0 || lost < 0 || pedal < 0 {
		return Release{}, errors.New("friction: levers and cylinder diameters must be above 0, travel, play and loss not below 0")
	}
	area := func(d float64) float64 { return math.Pi / 4 * d * d }
	r := Release{Master: math.Max(0, pedal-free) / pedalLever}
	r.Slave = math.Max(0, r.Master*area(master)-lost) / area(slave)
	r.Bearing = r.Slave / lever
	return r, nil
}
