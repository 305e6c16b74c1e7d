// Package testdrive takes a simulated vehicle on a road test and says what a driver would note in each cell of it, and puts the failures of a design into the vehicle.
//
// A driver does not see pressures or commands: whether it takes up, drives, in which gear, slips, brakes, how it changes up, whether the converter clutch applies. What is as in
// a sound vehicle of the same unit, driven the same way, is normal.
package testdrive

import (
	"math"
	"math/rand/v2"

	"innercompass/core/powertrain"
	"innercompass/core/sim"
	"innercompass/core/unitsheet"
)

const rpm = 30 / math.Pi

// Speeds of the turbine at which a range is tried, rev/min: low enough that another gear can be reached, high enough that the engine brakes.
const (
	pullingAt = 1400.0
	brakingAt = 3600.0
)

// Log is what was noted of a drive, before anything is judged.
type Log struct {
	bumps   map[string]float64 // by range: what the shaft's torque changes by in 0.06 s as it takes up, at the most, N·m
	locks   map[string]float64 // by range: slip of the converter with the throttle open, where its clutch is to be off, rad/s
	takesUp map[string]float64 // by range: seconds until the turbine is caught with the brake on; infinite when it never is
	moves   map[string]motion
	loaded  map[string]float64    // by range: how far the turbine is from its gear under load, as a share
	kept    map[string]float64    // by range: speed after two seconds with a light foot, over that at its begin
	ends    map[string]float64    // by range: how far it is from its gear then, as a share
	coasts  map[string]float64    // by range: acceleration with the foot off, m/s²
	changes map[string]*[2]change // by range that is shifted into: with a light foot, and with a heavy one
	locked  map[string]float64    // by range: slip of the converter with its clutch on, rad/s
	open    map[string]float64    // the same without it, of a sound vehicle
	stalled map[string]float64    // by range: speed of the turbine with the brake on and the throttle open, rad/s
	dies    map[string]bool       // by range: the engine is held as it takes up
	creeps  float64               // speed after three seconds in neutral without the brake, m/s
	rolls   float64               // and after it has rolled for a while
	lines   map[string]float64    // by range: line pressure, Pa
	gauges  map[string]*gauge     // by element that has a tap
}

// motion is how a range drives off.
type motion struct {
	speed, ratio float64 // m/s, turbine over output
	bound        bool    // nothing moves, and the turbine stands
}

// change is a shift upward.
type change struct {
	came  bool
	speed float64 // of the vehicle at its begin, m/s
	took  float64 // from leaving the old gear to holding the new, s
	flare float64 // rad/s
	dip   float64 // least acceleration during it, m/s²
	bump  float64 // what the shaft's torque changes by in 0.06 s, at the most, N·m
}

// Drive takes a vehicle with these faults on the whole road test.
func Drive(u *unitsheet.Unit, celsius float64, faults ...sim.Fault) (Log, error) {
	return driver{u: u, setup: sim.Setup{Unit: u, Vehicle: powertrain.For(u), Faults: faults, Celsius: celsius}}.drive()
}

// Read is Drive as tools and a driver's seat have it: speeds with their noise, and no two drives the same.
func Read(u *unitsheet.Unit, celsius float64, seed uint64, faults ...sim.Fault) (Log, error) {
	return driver{u: u, noise: rand.New(rand.NewPCG(seed, 31)), setup: sim.Setup{Unit: u, Vehicle: powertrain.For(u), Faults: faults, Celsius: celsius, Seed: seed, Scatter: 1}}.drive()
}

func (d driver) drive() (Log, error) {
	u := d.u
	out := Log{bumps: map[string]float64{}, locks: map[string]float64{}, takesUp: map[string]float64{}, moves: map[string]motion{}, loaded: map[string]float64{}, ends: map[string]float64{}, kept: map[string]float64{}, coasts: map[string]float64{}, changes: map[string]*[2]change{}, locked: map[string]float64{}, open: map[string]float64{}, stalled: map[string]float64{}, dies: map[string]bool{}, lines: map[string]float64{}, gauges: map[string]*gauge{}}
	for _, e := range tapped(u) {
		out.gauges[e.ID] = &gauge{map[string]float64{}, map[string]float64{}, map[string]float64{}, map[string]float64{}}
	}
	for _, r := range u.Ranges {
		if r.Selector == "N" {
			if err := d.neutral(r, &out); err != nil {
				return out, err
			}
		}
		if !r.Driving() {
			continue
		}
		if r.From == "" {
			if err := d.away(r, &out); err != nil {
				return out, err
			}
		}
		if err := d.held(r, &out); err != nil {
			return out, err
		}
	}
	for _, r := range u.Ranges {
		if r.From != "" {
			out.changes[r.ID] = &[2]change{}
		}
	}
	for foot, throttle := range []float64{0.3, 0.6} {
		if err := d.through(foot, throttle, &out); err != nil {
			return out, err
		}
	}
	return out, nil
}

type driver struct {
	u     *unitsheet.Unit
	setup sim.Setup
	noise *rand.Rand // nil for none
}

// What tools do to what is read, and how unlike two bumps of one size are felt (common practice, no source).
const (
	speedNoise = 1.6 / rpm // over a tenth of a second
	accelNoise = 0.05      // m/s²
	bumpNoise  = 0.05      // as a share
)

// seen is a sample as it is read.
func (d driver) seen(s sim.Sample) sim.Sample {
	if d.noise != nil {
		s.Turbine += speedNoise * d.noise.NormFloat64()
		s.Output += 0.6 * speedNoise * d.noise.NormFloat64()
		s.Engine += 0.6 * speedNoise * d.noise.NormFloat64()
		s.Twist *= 1 + bumpNoise*d.noise.NormFloat64()
	}
	return s
}

func (d driver) start(r string, speed float64) (*sim.Sim, error) {
	s := d.setup
	s.Range, s.Speed = r, speed
	return sim.New(s)
}

// run goes on for a time; look is called after each hundredth of a second.
func (d driver) run(m *sim.Sim, seconds float64, in sim.Input, look func(s sim.Sample)) sim.Sample {
	steps := int(math.Round(seconds / sim.Step))
	for i := range steps {
		m.Advance(in)
		if look != nil && i%10 == 9 {
			look(d.seen(m.Now()))
		}
	}
	return d.seen(m.Now())
}

// jolt is what the shaft's torque changes by in 0.06 s, at the most.
type jolt struct {
	last [6]float64
	n    int
	most float64
}

func (j *jolt) look(s sim.Sample) {
	if j.n >= len(j.last) {
		j.most = math.Max(j.most, math.Abs(s.Twist-j.last[j.n%len(j.last)]))
	}
	j.last[j.n%len(j.last)] = s.Twist
	j.n++
}

// off is how far turbine and output are from a range, as a share: 0 in its gear.
func (d driver) off(r unitsheet.Range) func(s sim.Sample) float64 {
	engine := d.u.Machine.Train().Converter != nil // the engine drives past the turbine in some gears
	return func(s sim.Sample) float64 {
		a, b := s.Turbine/(s.Output*r.Healthy.Ratio)-1, s.Engine/(s.Output*r.Healthy.Ratio)-1
		if engine && math.Abs(b) < math.Abs(a) {
			return b
		}
		return a
	}
}

// most pulls for a second and a half, and says how far turbine and output were from their gear at the most, once the shaft had been wound up.
func (d driver) most(m *sim.Sim, r unitsheet.Range, in sim.Input) (float64, sim.Sample) {
	off, most, begin, n := d.off(r), 0.0, m.Now().Time, 0
	var ring [8]float64 // a needle does not follow more than a tenth of a second shows
	last := d.run(m, 2, in, func(s sim.Sample) {
		if s.Time <= begin+0.15 || math.Abs(s.Output) <= 60/rpm {
			return
		}
		ring[n%len(ring)] = off(s)
		if n++; n < len(ring) {
			return
		}
		mean := 0.0
		for _, x := range ring {
			mean += x / float64(len(ring))
		}
		if math.Abs(mean) > math.Abs(most) {
			most = mean
		}
	})
	return most, last
}

// neutral lets it stand without the brake, and roll.
func (d driver) neutral(r unitsheet.Range, out *Log) error {
	m, err := d.start("", 0)
	if err != nil {
		return err
	}
	out.creeps = d.run(m, 3, sim.Input{Selector: r.Selector}, nil).Speed
	if m, err = d.start("", 4); err != nil {
		return err
	}
	out.rolls = d.run(m, 1.5, sim.Input{Selector: r.Selector}, nil).Speed
	return nil
}

// away selects a range with the brake on, then drives off.
func (d driver) away(r unitsheet.Range, out *Log) error {
	m, err := d.start("", 0)
	if err != nil {
		return err
	}
	d.run(m, 1, sim.Input{Selector: "N", Brake: 1}, nil)
	free := m.Now().Turbine
	caught := math.Inf(1)
	var shaft jolt
	watch, done := d.comes(m, r, m.Now().Time, out)
	d.run(m, 3, sim.Input{Selector: r.Selector, Brake: 1, Hold: true}, func(s sim.Sample) {
		shaft.look(s)
		watch(s)
		if math.IsInf(caught, 1) && s.Turbine < 0.3*free {
			caught = s.Time - 1
		}
	})
	out.takesUp[r.ID], out.bumps[r.ID], out.dies[r.ID] = caught, shaft.most, m.Now().Engine < d.setup.Vehicle.Engine.Idle/2
	done()
	end := d.run(m, 3, sim.Input{Selector: r.Selector, Throttle: 0.35, Hold: true}, nil)
	x := motion{speed: end.Speed}
	if math.Abs(end.Output) > 5 {
		x.ratio = end.Turbine / end.Output
	}
	x.bound = math.Abs(end.Speed) < 0.3 && math.Abs(end.Turbine) < 0.3*end.Engine
	out.moves[r.ID] = x
	// Once more from rest with the throttle open: the converter multiplies.
	if m, err = d.start("", 0); err != nil {
		return err
	}
	d.run(m, 0.5, sim.Input{Selector: "N", Brake: 1}, nil)
	d.run(m, 3, sim.Input{Selector: r.Selector, Brake: 1, Hold: true}, nil) // a driver waits until it has taken up
	if d.u.Sheet.Converter != nil {
		d.run(m, 1, sim.Input{Selector: r.Selector, Brake: 1, Throttle: 0.95, Hold: true}, nil)
		sum, n := 0.0, 0.0
		d.run(m, 0.3, sim.Input{Selector: r.Selector, Brake: 1, Throttle: 0.95, Hold: true}, func(s sim.Sample) { sum, n = sum+s.Turbine, n+1 })
		out.stalled[r.ID] = sum / n
	}
	most, last := d.most(m, r, sim.Input{Selector: r.Selector, Throttle: 0.95, Hold: true})
	if d.u.Sheet.Converter != nil && math.Abs(last.Output) > 60/rpm { // a dry clutch slips as it is let in
		out.loaded[r.ID] = most
	}
	d.goes(m, r, out)
	return nil
}

// held drives a range at speed, with its gear kept: under load, with the foot off, and with the converter clutch on where there is one.
func (d driver) held(r unitsheet.Range, out *Log) error {
	v := d.setup.Vehicle
	at := pullingAt / rpm / r.Healthy.Ratio * v.Wheel / v.Axle
	m, err := d.start(r.ID, at)
	if err != nil {
		return err
	}
	begun := m.Now().Speed
	_, end := d.most(m, r, sim.Input{Throttle: 0.25, Hold: true})
	out.kept[r.ID], out.ends[r.ID] = end.Speed/begun, d.off(r)(end)
	d.holds(m, r, sim.Input{Throttle: 0.25, Hold: true}, out)
	if r.From != "" || d.u.Sheet.Converter == nil {
		if m, err = d.start(r.ID, at); err != nil {
			return err
		}
		var end sim.Sample
		out.loaded[r.ID], end = d.most(m, r, sim.Input{Throttle: 0.9, Hold: true})
		if r.Lockup {
			out.locks[r.ID] = math.Abs(end.Engine - end.Turbine)
		}
	}
	if m, err = d.start(r.ID, at*brakingAt/pullingAt); err != nil {
		return err
	}
	begin := d.run(m, 1, sim.Input{Hold: true}, nil).Speed
	out.coasts[r.ID] = (d.run(m, 1, sim.Input{Hold: true}, nil).Speed - begin) * sign(begin)
	if !r.Lockup {
		return nil
	}
	slip := func(d driver) (float64, error) {
		m, err := d.start(r.ID, math.Max(at, 17))
		if err != nil {
			return 0, err
		}
		end := d.run(m, 4, sim.Input{Throttle: 0.45, Hold: true}, nil)
		return math.Abs(end.Engine - end.Turbine), nil
	}
	if out.locked[r.ID], err = slip(d); err != nil || len(d.setup.Faults) > 0 {
		return err
	}
	d.setup.Faults = []sim.Fault{{Kind: sim.LockupNever}}
	out.open[r.ID], err = slip(d)
	return err
}

// through drives up through the gears and notes each shift by the ratio of turbine and output.
func (d driver) through(foot int, throttle float64, out *Log) error {
	first, ok := d.first()
	if !ok {
		return nil
	}
	m, err := d.start("", 0)
	if err != nil {
		return err
	}
	d.run(m, 0.5, sim.Input{Selector: "N", Brake: 1}, nil)
	d.run(m, 1.5, sim.Input{Selector: first.Selector, Brake: 1}, nil)
	t := tracker{u: d.u, noise: d.noise, gear: first, foot: foot, out: out}
	d.run(m, 55, sim.Input{Selector: first.Selector, Throttle: throttle}, t.look)
	return nil
}

// first is the range that shifts up by itself.
func (d driver) first() (unitsheet.Range, bool) {
	for _, r := range d.u.Ranges {
		if _, ok := d.u.Above(r); ok && r.From == "" && r.Driving() {
			return r, true
		}
	}
	return unitsheet.Range{}, false
}
