package standin

import (
	"math"
	"math/rand/v2"

	"innercompass/core/powertrain"
	"innercompass/core/sim"
)

// Gauge is a dial on a hose: it has a range, a class, steps between its marks, and a needle that trembles.
type Gauge struct {
	Most  float64 // Pa, of its dial
	Class float64 // error as a share of that, constant for the gauge
	Steps float64 // Pa
	off   float64 // of this one, −1 to 1
}

// NewGauge makes one of the usual kind: 2 MPa, class 1.6, read to 10 kPa.
func NewGauge(seed uint64) Gauge {
	r := rand.New(rand.NewPCG(seed, 21))
	return Gauge{Most: 2e6, Class: 0.016, Steps: 10e3, off: 2*r.Float64() - 1}
}

// Read is what stands on it: a needle shivers by a hundredth of what is there.
func (g Gauge) Read(pascal float64, r *rand.Rand) float64 {
	x := pascal + g.off*g.Class*g.Most + 0.01*pascal*r.NormFloat64()
	return math.Max(0, math.Min(g.Most, math.Round(x/g.Steps)*g.Steps))
}

// Thermometer reads a surface: fluid less what the pan loses, to a degree.
func Thermometer(celsius float64, r *rand.Rand) float64 {
	return math.Round(celsius - 4 + 0.7*r.NormFloat64())
}

// shakes is what a motion sensor at the seat rail feels and a microphone at the dash hears, worked out a thousand times a second: unbalanced shaft and wheels over a quarter of
// a car on its springs, joints, firing, the mesh of the gears under torque, and the jerks of the driveline.
type shakes struct {
	rng              *rand.Rand
	car              powertrain.Vehicle
	ride             quarter
	shaft, crank     float64 // angles, rad
	last             float64 // torque of the shaft
	felt, heard      float64 // m/s², and Pa
	feltSum, hearSum float64 // of squares since the last reading
	n                float64
}

func newShakes(seed uint64, car powertrain.Vehicle) *shakes {
	return &shakes{rng: rand.New(rand.NewPCG(seed, 77)), car: car, ride: newQuarter(car.Mass / 4)}
}

// Unbalances and levels of a vehicle in order (chosen).
const (
	wheelUnbalance = 0.004 // kg·m
	shaftUnbalance = 0.0004
	firing         = 0.02  // m/s² for one N·m of torque over a hundred
	jerk           = 4e-4  // m/s² for a change of the shaft's torque by 1 N·m in a step
	meshOrder      = 37.0  // of the turbine
	roadNoise      = 0.012 // m/s² at 10 m/s
)

func (s *shakes) step(n sim.Sample) {
	h := sim.Step
	s.shaft += n.Output * h
	s.crank += n.Engine * h
	wheel := n.Output / s.car.Axle
	force := wheelUnbalance * wheel * wheel * math.Sin(s.shaft/s.car.Axle)
	body := s.ride.step(force, h)
	joint := shaftUnbalance * n.Output * n.Output / 40 * (math.Sin(s.shaft) + 0.5*math.Sin(2*s.shaft))
	pulses := firing * n.Torque / 100 * math.Sin(2*s.crank)
	knock := jerk * (n.Twist - s.last)
	s.last = n.Twist
	road := roadNoise * math.Abs(n.Speed) / 10 * s.rng.NormFloat64()
	s.felt = body + joint + pulses + knock + road
	s.heard = 0.02*pulses/firing*0.1 + 2e-4*n.Input*math.Sin(meshOrder*s.crank) + 0.004*math.Abs(n.Speed)/10*s.rng.NormFloat64() + 0.003*s.rng.NormFloat64()
	s.feltSum, s.hearSum, s.n = s.feltSum+s.felt*s.felt, s.hearSum+s.heard*s.heard, s.n+1
}

// levels are the effective values since they were last asked for: shaking in m/s², sound in dB over 20 µPa.
func (s *shakes) levels() (shaking, sound float64) {
	if s.n > 0 {
		shaking = math.Sqrt(s.feltSum / s.n)
		sound = 20 * math.Log10(math.Max(1e-5, math.Sqrt(s.hearSum/s.n))/20e-6)
	}
	s.feltSum, s.hearSum, s.n = 0, 0, 0
	return shaking, sound
}

// quarter is a quarter of a car: the body on its spring and damper over a wheel on its tire.
type quarter struct {
	body, wheel    float64 // kg
	spring, damper float64 // N/m, N·s/m
	tire           float64 // N/m
	x, v           float64 // of the body, m and m/s, up
	y, w           float64 // of the wheel
	lost           float64 // J in the damper
	done           float64 // J by the force on the wheel
}

// newQuarter is one with a body frequency of 1.3 Hz, a wheel that hops at 11 Hz, damped by three tenths (textbook values, from memory).
func newQuarter(mass float64) quarter {
	q := quarter{body: mass * 0.88, wheel: mass * 0.12}
	q.spring = q.body * math.Pow(2*math.Pi*1.3, 2)
	q.tire = q.wheel*math.Pow(2*math.Pi*11, 2) - q.spring
	q.damper = 2 * 0.3 * math.Sqrt(q.spring*q.body)
	return q
}

// step goes on with a force on the wheel and returns the body's acceleration: by the midpoint, in two passes.
func (q *quarter) step(force, h float64) float64 {
	v, w := q.v, q.w
	var a, b float64
	for range 4 {
		mv, mw := (q.v+v)/2, (q.w+w)/2
		mx, my := q.x+h*mv/2, q.y+h*mw/2
		link := q.spring*(my-mx) + q.damper*(mw-mv)
		a, b = link/q.body, (force-link-q.tire*my)/q.wheel
		v, w = q.v+h*a, q.w+h*b
	}
	mv, mw := (q.v+v)/2, (q.w+w)/2
	q.lost += h * q.damper * (mw - mv) * (mw - mv)
	q.done += h * force * mw
	q.x, q.y, q.v, q.w = q.x+h*mv, q.y+h*mw, v, w
	return a
}

// energy is that of motion and springs, J.
func (q *quarter) energy() float64 {
	return q.body*q.v*q.v/2 + q.wheel*q.w*q.w/2 + q.spring*(q.y-q.x)*(q.y-q.x)/2 + q.tire*q.y*q.y/2
}

// Places at which a stethoscope is held.
var Places = []string{"pump", "gears", "output"}

// stethoscope is how loud it is at a place, dB: the pump by its pressure and speed, the gears by their torque and speed, the output by road speed (chosen).
func stethoscope(place string, n sim.Sample, r *rand.Rand) float64 {
	x := 0.0
	switch place {
	case "pump":
		x = n.Line / 1e6 * n.Engine / 200
	case "gears":
		x = math.Abs(n.Input) / 200 * n.Turbine / 200
	case "output":
		x = math.Abs(n.Speed) / 20
	}
	return 48 + 20*math.Log10(1+4*math.Max(0, x)) + 0.8*r.NormFloat64()
}

// Tools are what is held to the vehicle beside the scan tool, read at once.
type Tools struct {
	Gauges      map[string]float64 // by element, and "line"; Pa
	Tachometer  float64            // of the output by a mark on the shaft, rev/min, to 1
	Thermometer float64            // at the pan, °C
	Shaking     float64            // m/s², effective, at the seat rail
	Sound       float64            // dB, at the dash
	Places      map[string]float64 // dB, under a stethoscope
}

// Read reads the tools.
func (v *Vehicle) Read(gauges map[string]Gauge, r *rand.Rand) Tools {
	v.mu.Lock()
	defer v.mu.Unlock()
	t := Tools{Gauges: map[string]float64{}, Tachometer: math.Round(math.Abs(v.now.Output)*rpm + 0.5*r.NormFloat64()), Thermometer: Thermometer(v.now.Celsius, r)}
	for id, g := range gauges {
		p := v.now.Line
		if id != "line" {
			p = v.taps[id]
		}
		t.Gauges[id] = g.Read(p, r)
	}
	t.Shaking, t.Sound = v.shakes.levels()
	t.Places = map[string]float64{}
	for _, p := range Places {
		t.Places[p] = stethoscope(p, v.now, r)
	}
	return t
}
