package vehiclebench

import (
	"errors"
	"math"

	"innercompass/core/faultmap"
	"innercompass/core/roadlog"
	"innercompass/core/shifts"
	"innercompass/core/sim"
)

// lightFoot is the throttle below which a shift counts as one at a light foot, and lateShare by how much its speed may be off those of sound vehicles.
const (
	lightFoot = 0.4
	lateShare = 0.06
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
		if e.Pressed() && b.u.Tapped(e.ID) {
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

// told puts what the recorded shifts and the scan tool show in place of what the seat told of them: the seat keeps only what is felt and not recorded, a blow. It returns what the
// drive leaves open: shifts above a gear that never came, and commands to a vehicle that does not pull away.
func (b *Bench) told(r shifts.Result, taps []shifts.Tapped, ref reference, cells map[faultmap.Cell]string) (open []faultmap.Cell) {
	if len(b.box.Gears) < 2 {
		return nil
	}
	drives := func(gear string) string { return cells[faultmap.Cell{Range: gear, Behaviour: faultmap.Drives}] }
	first := drives(b.box.Gears[0].ID)
	reached := first != "none" && first != "bind"
	for _, g := range b.box.Gears {
		cell := faultmap.Cell{Range: g.ID, Behaviour: faultmap.Shift}
		if ref.speed[g.ID].High == 0 {
			continue // nor is a sound one seen to shift into it
		}
		if felt := cells[cell]; felt != "harsh" {
			delete(cells, cell)
		}
		state, came := b.state(r, ref, g.ID)
		switch {
		case !came && !reached:
			open = append(open, cell)
			if !b.u.Electric() {
				open = append(open, normal(cells, g.ID)...)
			}
			continue
		case !came:
			reached = false
			if !b.u.Electric() { // nothing but the shift itself brings it
				open = append(open, normal(cells, g.ID)...)
			}
			if drives(g.ID) == "bind" { // it brakes where it should change
				state = "tie-up"
			}
		}
		if state != "" {
			cells[cell] = state
		}
	}
	for _, x := range taps {
		cell := faultmap.Cell{Range: x.Element, Behaviour: faultmap.Tap}
		if _, is := cells[cell]; !is && x.State != "" { // gauges with each range held go before
			cells[cell] = x.State
		}
	}
	if command := (faultmap.Cell{Behaviour: faultmap.Command}); b.u.Electric() && !r.Commanded {
		if first == "none" || first == "bind" {
			open = append(open, command)
		} else {
			cells[command] = "never"
		}
	}
	return open
}

// normal are the cells of a range in which nothing abnormal was seen.
func normal(cells map[faultmap.Cell]string, id string) []faultmap.Cell {
	var out []faultmap.Cell
	for _, x := range []faultmap.Behaviour{faultmap.Drives, faultmap.Slips, faultmap.Brakes, faultmap.Lockup} {
		if c := (faultmap.Cell{Range: id, Behaviour: x}); cells[c] == "" {
			out = append(out, c)
		}
	}
	return out
}

// undriven are the cells of ranges that do not drive, or bind: how they slip and brake is not to be seen.
func (b *Bench) undriven(cells map[faultmap.Cell]string) []faultmap.Cell {
	var out []faultmap.Cell
	for _, r := range b.u.Ranges {
		drives, engages := cells[faultmap.Cell{Range: r.ID, Behaviour: faultmap.Drives}], cells[faultmap.Cell{Range: r.ID, Behaviour: faultmap.Engages}]
		if drives == "none" || drives == "bind" || engages == "none" {
			for _, x := range []faultmap.Behaviour{faultmap.Slips, faultmap.Brakes, faultmap.Lockup} {
				out = append(out, faultmap.Cell{Range: r.ID, Behaviour: x})
			}
		}
	}
	return out
}

// state is what the shifts into a gear show, "" for a normal one, and whether it came at all.
func (b *Bench) state(r shifts.Result, ref reference, gear string) (state string, came bool) {
	var flared, tied, slow, n int
	least, most := math.Inf(1), 0.0 // speeds with a light foot
	for _, s := range r.Shifts {
		if s.To != gear || s.Down || s.Unfinished {
			continue
		}
		n++
		if s.Throttle < lightFoot {
			least, most = math.Min(least, s.Speed), math.Max(most, s.Speed)
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
		return "missing", false
	case flared > 0:
		return "flare", true
	case most > ref.speed[gear].High*(1+lateShare):
		return "late", true
	case least < ref.speed[gear].Low*(1-lateShare):
		return "early", true
	case 2*tied > n || tied > 1:
		return "tie-up", true
	case 2*slow > n || slow > 1:
		return "delay", true
	}
	return "", true
}
