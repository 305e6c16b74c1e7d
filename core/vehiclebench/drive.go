package vehiclebench

import (
	"errors"
	"math"

	"innercompass/core/faultmap"
	"innercompass/core/roadlog"
	"innercompass/core/shifts"
	"innercompass/core/sim"
)

// lightFoot is the throttle below which a shift counts as one at a light foot, and lateShare by how much its speed may be off.
const (
	lightFoot = 0.4
	lateShare = 0.15
)

// record drives up through the gears at a light and at a heavy foot, with a logger at 50 samples a second and transducers at every tap, and tells its shifts.
func (b *Bench) record(celsius float64, seed uint64, faults []sim.Fault) (shifts.Result, error) {
	if len(b.box.Gears) < 2 {
		return shifts.Result{}, nil
	}
	selector := b.box.Selector
	foot := func(throttle float64) sim.Input { return sim.Input{Selector: selector, Throttle: throttle} }
	stop := sim.Input{Selector: selector, Brake: 0.2}
	var taps []string
	for _, e := range b.u.Elements {
		if e.Pressed() {
			taps = append(taps, e.ID)
		}
	}
	log, _, err := roadlog.Drive(roadlog.Setup{Sim: sim.Setup{Unit: b.u, Celsius: celsius, Seed: seed, Scatter: 1, Faults: faults}, Rate: 50, Late: math.NaN(), Pressures: taps, Legs: []roadlog.Leg{
		{Seconds: 1.5, Input: sim.Input{Selector: "N", Brake: 1}}, {Seconds: 2, Input: sim.Input{Selector: selector, Brake: 1}},
		{Seconds: 40, Input: foot(0.3), Wander: 0.03}, {Seconds: 15, Input: stop, Until: 0.5}, {Seconds: 2, Input: stop},
		{Seconds: 30, Input: foot(0.6), Wander: 0.03}}})
	if err != nil {
		return shifts.Result{}, err
	}
	r, err := shifts.Find(log.Drive(b.u), b.box, shifts.Usual)
	var bad *shifts.DriveError
	if errors.As(err, &bad) { // a vehicle that does not move has no shifts
		return shifts.Result{}, nil
	}
	return r, err
}

// told puts what the recorded shifts show in place of what the seat told of them: the seat keeps only what is felt and not recorded, a blow.
func (b *Bench) told(r shifts.Result, ref reference, cells map[faultmap.Cell]string) {
	if len(b.box.Gears) < 2 {
		return
	}
	for _, g := range b.box.Gears {
		cell := faultmap.Cell{Range: g.ID, Behaviour: faultmap.Shift}
		if felt := cells[cell]; felt != "harsh" {
			delete(cells, cell)
		}
		if ref.speed[g.ID] == 0 {
			continue // nor does a sound one shift into it
		}
		if state := b.state(r, ref, g.ID); state != "" {
			cells[cell] = state
		}
	}
}

// state is what the shifts into a gear show, "" for a normal one.
func (b *Bench) state(r shifts.Result, ref reference, gear string) string {
	var flared, tied, slow, n int
	light := 0.0
	for _, s := range r.Shifts {
		if s.To != gear || s.Down || s.Unfinished {
			continue
		}
		n++
		if s.Throttle < lightFoot {
			light = math.Max(light, s.Speed)
		}
		if s.Skips {
			continue
		}
		switch shifts.WindowsOf(s, ref.shifts).Held(s).State() {
		case "tie-up":
			tied++
		case "flare":
			flared++
		case "delay":
			slow++
		}
	}
	switch {
	case n == 0:
		return "missing"
	case flared > 0:
		return "flare"
	case light > 0 && light > ref.speed[gear]*(1+lateShare):
		return "late"
	case light > 0 && light < ref.speed[gear]*(1-lateShare):
		return "early"
	case 2*tied > n || tied > 1:
		return "tie-up"
	case 2*slow > n || slow > 1:
		return "delay"
	}
	return ""
}
