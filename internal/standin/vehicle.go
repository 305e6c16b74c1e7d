// Package standin is a vehicle that is not there: the simulated one, driven in real time, with modules that answer a scan tool by the published messages, and gauges with the
// errors of gauges. It stands in for what a shop connects, so that reading, recording and judging can be used and taught without a vehicle.
//
// What goes wrong on a real line goes wrong here as well, by chance and by a seed: answers that come late or not at all, frames that are lost, sums that are wrong, modules
// that are busy.
package standin

import (
	"context"
	"fmt"
	"math"
	"slices"
	"sync"
	"time"

	"innercompass/core/obd"
	"innercompass/core/powertrain"
	"innercompass/core/sim"
	"innercompass/core/unitsheet"
)

const rpm = 30 / math.Pi

// Setup is what stands in.
type Setup struct {
	Unit    *unitsheet.Unit
	Faults  []sim.Fault
	Celsius float64
	Seed    uint64
}

// Vehicle is driven in real time. For many goroutines.
type Vehicle struct {
	unit *unitsheet.Unit
	car  powertrain.Vehicle

	mu     sync.Mutex
	sim    *sim.Sim
	input  sim.Input
	now    sim.Sample
	taps   map[string]float64 // Pa
	codes  *monitor
	ran    float64 // s that were simulated
	shakes *shakes
}

// New makes one that stands with its engine running.
func New(s Setup) (*Vehicle, error) {
	car := powertrain.For(s.Unit)
	m, err := sim.New(sim.Setup{Unit: s.Unit, Vehicle: car, Faults: s.Faults, Celsius: s.Celsius, Warms: true, Air: 20, Learns: true, Seed: s.Seed, Scatter: 1})
	if err != nil {
		return nil, err
	}
	v := &Vehicle{unit: s.Unit, car: car, sim: m, input: sim.Input{Selector: "N", Brake: 1}, taps: map[string]float64{}, codes: newMonitor(s.Unit), shakes: newShakes(s.Seed, car)}
	v.step(0.02)
	return v, nil
}

// Run drives it until the context ends. A machine that cannot keep up drives more slowly, it does not leap.
func (v *Vehicle) Run(ctx context.Context) {
	const tick = 20 * time.Millisecond
	t := time.NewTicker(tick)
	defer t.Stop()
	last := time.Now()
	for {
		select {
		case <-ctx.Done():
			return
		case <-t.C:
			gone := time.Since(last)
			last = time.Now()
			v.step(math.Min(gone.Seconds(), 0.1))
		}
	}
}

// step goes on by a time.
func (v *Vehicle) step(seconds float64) {
	v.mu.Lock()
	defer v.mu.Unlock()
	for range int(math.Round(seconds / sim.Step)) {
		v.sim.Advance(v.input)
		v.ran += sim.Step
		v.shakes.step(v.sim.Now())
	}
	v.now = v.sim.Now()
	for _, e := range v.unit.Elements {
		if e.Pressed() {
			v.taps[e.ID] = v.sim.Pressure(e.ID)
		}
	}
	v.codes.look(v.now, seconds)
}

// DriveError says what a driver cannot do.
type DriveError struct{ Field, Reason, Accepted string }

func (e *DriveError) Error() string { return e.Field + ": " + e.Reason }

// Selectors are the positions of its selector.
func (v *Vehicle) Selectors() []string {
	var out []string
	for _, r := range v.unit.Ranges {
		if !slices.Contains(out, r.Selector) {
			out = append(out, r.Selector)
		}
	}
	return out
}

// Drive sets selector, throttle, brake and road.
func (v *Vehicle) Drive(in sim.Input) error {
	if !slices.Contains(v.Selectors(), in.Selector) {
		return &DriveError{"selector", fmt.Sprintf("%q", in.Selector), fmt.Sprint(v.Selectors())}
	}
	for field, x := range map[string][3]float64{"throttle": {in.Throttle, 0, 1}, "brake": {in.Brake, 0, 1}, "grade": {in.Grade, -0.3, 0.3}} {
		if !(x[0] >= x[1] && x[0] <= x[2]) {
			return &DriveError{field, fmt.Sprint(x[0]), fmt.Sprintf("%v to %v", x[1], x[2])}
		}
	}
	v.mu.Lock()
	defer v.mu.Unlock()
	if gear, ok := v.unit.Range(v.now.To); ok && in.Selector != v.input.Selector && math.Abs(v.now.Speed) > 1 {
		if to, ok := entry(v.unit, in.Selector); ok && gear.Driving() && to.Driving() && (gear.Healthy.Ratio < 0) != (to.Healthy.Ratio < 0) {
			return &DriveError{"selector", fmt.Sprintf("%s at %.0f km/h", in.Selector, v.now.Speed*3.6), "forward and reverse with the vehicle standing"}
		}
	}
	v.input = in
	return nil
}

// Driven is what was set.
func (v *Vehicle) Driven() (sim.Input, sim.Sample) {
	v.mu.Lock()
	defer v.mu.Unlock()
	return v.input, v.now
}

func entry(u *unitsheet.Unit, selector string) (unitsheet.Range, bool) {
	for _, r := range u.Ranges {
		if r.Selector == selector && r.From == "" {
			return r, true
		}
	}
	return unitsheet.Range{}, false
}

// monitor sets codes as a module does: what is wrong for a while is pending, for longer stored.
type monitor struct {
	unit    *unitsheet.Unit
	off     map[obd.Code]float64 // s that it has been wrong
	pending map[obd.Code]bool
	stored  map[obd.Code]bool
	calm    float64 // s since the last shift
	lastTo  string
	locked  float64
}

// Codes of the monitor (SAE J2012, from memory).
const (
	wrongRatio  obd.Code = 0x0730
	lockupSlips obd.Code = 0x0741
	lockupStuck obd.Code = 0x0742
	lineLow     obd.Code = 0x0868
	tooHot      obd.Code = 0x0218
)

// Times after which a code is pending and stored, s (chosen).
const (
	pendingAfter = 1.0
	storedAfter  = 2.5
)

func newMonitor(u *unitsheet.Unit) *monitor {
	return &monitor{unit: u, off: map[obd.Code]float64{}, pending: map[obd.Code]bool{}, stored: map[obd.Code]bool{}}
}

func (m *monitor) look(s sim.Sample, seconds float64) {
	if s.To != m.lastTo || s.Busy {
		m.calm = 0
	}
	m.lastTo = s.To
	m.calm += seconds
	r, ok := m.unit.Range(s.To)
	slip := (s.Engine - s.Turbine) * rpm
	holds := s.Lockup > 1.2*math.Abs(s.Torque) && s.Lockup > 20
	m.locked = boolTo(holds) * (m.locked + seconds)
	wrong := map[obd.Code]bool{
		wrongRatio:  ok && r.Driving() && m.calm > 1 && s.Output*rpm > 200 && s.Throttle > 0.05 && math.Abs(s.Turbine/(s.Output*r.Healthy.Ratio)-1) > 0.08,
		lockupSlips: m.locked > 1.5 && slip > 80,
		lockupStuck: ok && r.Lockup && s.Throttle > 0.7 && s.Lockup == 0 && math.Abs(slip) < 3 && s.Output*rpm > 500,
		lineLow:     false,
		tooHot:      s.Celsius > 130,
	}
	if line, ok := r.Line(s.Throttle); ok {
		wrong[lineLow] = s.Line < 0.7*line
	}
	for code, is := range wrong {
		if !is {
			m.off[code] = 0
			continue
		}
		m.off[code] += seconds
		if m.off[code] > pendingAfter {
			m.pending[code] = true
		}
		if m.off[code] > storedAfter {
			m.stored[code] = true
		}
	}
}

func boolTo(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// list are the codes of a set, in their order.
func list(set map[obd.Code]bool) []obd.Code {
	var out []obd.Code
	for c := range set {
		out = append(out, c)
	}
	slices.Sort(out)
	return out
}
