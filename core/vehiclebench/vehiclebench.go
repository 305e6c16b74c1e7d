// Package vehiclebench measures how well a fault that nobody told is found again: put into a simulated vehicle, driven hot or cold with tools that tremble, told from what they
// read, held against every failure of the design.
//
// What the drive tells of taking up, driving, slipping, braking and of the converter clutch comes from a road test with a stall test in each range that takes off (package testdrive),
// and so does what gauges show with each range held, at the taps that the sheet has and at the line; the shifts are told from a logger's speeds and pressures (package shifts), in windows
// from drives of sound vehicles. What a drive cannot show stays open: shifts above a gear that never came, how a range slips that does not drive. Nothing of the simulation's own speeds is used. The vehicle and the fault table share no
// code but the unit's gears: where they disagree, the bench counts it as wrong.
package vehiclebench

import (
	"math"
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/roadtest"
	"innercompass/core/shifts"
	"innercompass/core/sim"
	"innercompass/core/testdrive"
	"innercompass/core/unitsheet"
)

// Temperatures of the fluid at which it is driven, °C.
var Temperatures = map[string]float64{"hot": 85, "cold": 25}

// Job is one drive.
type Job struct {
	Row         int    // index of the failure; −1 for a sound vehicle
	Temperature string // "hot" or "cold"
	Seed        uint64
}

// Result is how it went.
type Result struct {
	Job
	Failure string   // in words; nothing for a sound vehicle
	Place   int      // of the right one or a look-alike of it, from 1; 0 when it is not among the rows
	Leader  string   // what was said first
	Seen    int      // cells that were abnormal
	Saw     []string // them, with their states
}

// Bench is a unit made ready.
type Bench struct {
	u     *unitsheet.Unit
	box   shifts.Box
	rows  []faultmap.Row // the last is that of nothing wrong
	sound map[string]reference
}

// reference is what sound vehicles do.
type reference struct {
	log    testdrive.Log
	shifts []shifts.Shift
	speed  map[string]shifts.Window // of the output at which a sound one shifts into a range, rev/min, at a light foot
}

// soundDrives are how many sound drives give the windows.
const soundDrives = 16

// New makes a unit ready. It fails for one without gears.
func New(u *unitsheet.Unit) (*Bench, error) {
	rows, err := faultmap.Map(u)
	if err != nil {
		return nil, err
	}
	b := &Bench{u: u, box: shifts.Of(u, ""), rows: append(rows, faultmap.Row{Title: nothing}), sound: map[string]reference{}}
	for name, celsius := range Temperatures {
		ref := reference{speed: map[string]shifts.Window{}}
		if ref.log, err = testdrive.Drive(u, celsius); err != nil {
			return nil, err
		}
		for seed := range uint64(soundDrives) {
			r, err := b.record(celsius, 900+seed, nil)
			if err != nil {
				return nil, err
			}
			for _, s := range r.Shifts {
				if s.Throttle < lightFoot && !s.Down {
					w, seen := ref.speed[s.To]
					if !seen {
						w.Low = s.Speed
					}
					ref.speed[s.To] = shifts.Window{Low: math.Min(w.Low, s.Speed), High: math.Max(w.High, s.Speed)}
				}
			}
			ref.shifts = append(ref.shifts, r.Shifts...)
		}
		b.sound[name] = ref
	}
	return b, nil
}

const nothing = "nothing wrong"

// Jobs are all drives: every failure that can be put in, and as many sound vehicles as one in ten of them, hot and cold, by seeds.
func (b *Bench) Jobs(seeds int) []Job {
	var out []Job
	for s := range uint64(max(0, seeds)) {
		for _, t := range []string{"hot", "cold"} {
			n := 0
			for i, row := range b.rows[:len(b.rows)-1] {
				stays := t == "cold" && (row.Fault.Kind == faultmap.LockupNever || row.Fault.Kind == faultmap.LockupSlips) // open, as it should be
				if _, ok := testdrive.Of(b.u, row.Fault); ok && len(row.Cells) > 0 && !stays {
					out = append(out, Job{i, t, 1000 + s})
					n++
				}
			}
			for k := range uint64((n + 9) / 10) {
				out = append(out, Job{-1, t, 5000 + 100*s + k})
			}
		}
	}
	return out
}

// Run does one.
func (b *Bench) Run(j Job) (Result, error) {
	out := Result{Job: j}
	truth := len(b.rows) - 1
	var faults []sim.Fault
	if j.Row >= 0 {
		truth, out.Failure = j.Row, b.rows[j.Row].Title
		faults, _ = testdrive.Of(b.u, b.rows[j.Row].Fault)
	}
	celsius, ref := Temperatures[j.Temperature], b.sound[j.Temperature]
	log, err := testdrive.Read(b.u, celsius, j.Seed*7919+uint64(max(0, j.Row)), faults...) //nolint:gosec // an index
	if err != nil {
		return out, err
	}
	cells := testdrive.Tell(b.u, log, ref.log)
	r, err := b.record(celsius, j.Seed*104729+uint64(max(0, j.Row)), faults) //nolint:gosec // an index
	if err != nil {
		return out, err
	}
	open := append(b.told(r, b.box.Taps(r, ref.shifts), ref, cells), b.undriven(cells)...)
	out.Seen = len(cells)
	for c, state := range cells {
		out.Saw = append(out.Saw, strings.Trim(c.Range+" "+string(c.Behaviour)+" "+state, " "))
	}
	slices.Sort(out.Saw)
	all := map[faultmap.Cell]string{}
	for _, c := range b.observed() {
		if c.Behaviour == faultmap.Noise || c.Behaviour == faultmap.Down || c.Behaviour == faultmap.Lockup && j.Temperature == "cold" || slices.Contains(open, c) {
			continue // not driven
		}
		all[c] = faultmap.Info(c.Behaviour).Normal()
		if s, ok := cells[c]; ok {
			all[c] = s
		}
	}
	seen := roadtest.Observed{Hot: all}
	if j.Temperature == "cold" {
		seen = roadtest.Observed{Cold: all}
	}
	matches := roadtest.Hold(b.rows, seen)
	like := roadtest.Together(b.rows, truth, seen)
	out.Leader = b.rows[matches[0].Row].Title
	out.Place = place(matches, like)
	return out, nil
}

// observed are the cells of the road test, and what gauges and a scan tool show.
func (b *Bench) observed() []faultmap.Cell {
	out := faultmap.Grid(b.u)
	if len(b.u.Sheet.Feeds) > 0 {
		out = append(out, faultmap.Cell{Behaviour: faultmap.Line})
	}
	for _, e := range b.u.Elements {
		if e.Pressed() && b.u.Tapped(e.ID) {
			out = append(out, faultmap.Cell{Range: e.ID, Behaviour: faultmap.Tap})
		}
	}
	if b.u.Electric() {
		out = append(out, faultmap.Cell{Behaviour: faultmap.Command})
	}
	return out
}

// place of the best placed of the look-alikes, counting what cannot be told apart from the one before it once.
func place(matches []roadtest.Match, like []int) int {
	at := 0
	last := math.Inf(1)
	for _, m := range matches {
		if math.Abs(m.Log-last) > 1e-9 {
			at++
			last = m.Log
		}
		for _, i := range like {
			if m.Row == i {
				return at
			}
		}
	}
	return 0
}
