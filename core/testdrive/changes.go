package testdrive

import (
	"math"
	"math/rand/v2"
	"slices"

	"innercompass/core/sim"
	"innercompass/core/unitsheet"
)

// tracker follows the ratio up through the gears.
type tracker struct {
	u     *unitsheet.Unit
	gear  unitsheet.Range
	foot  int
	out   *Log
	left  float64 // when the gear was left; 0 while it holds
	back  float64 // since when it has fitted again
	now   change
	held  float64 // since when another gear has held
	in    string
	speed float64
	time  float64
	last  [50]float64 // acceleration over the last half second
	n     int
	shaft jolt
	noise *rand.Rand
	was   bool // the gear has held for a while: what comes after it is a shift
}

func (t *tracker) look(s sim.Sample) {
	accel := 0.0
	if t.time > 0 {
		accel = (s.Speed - t.speed) / (s.Time - t.time)
		if t.noise != nil {
			accel += accelNoise * t.noise.NormFloat64()
		}
	}
	t.speed, t.time = s.Speed, s.Time
	t.last[t.n%len(t.last)] = accel
	t.n++
	if s.Output < 60/rpm {
		return
	}
	input := s.Turbine
	fits := func(r unitsheet.Range) bool { return math.Abs(input/(s.Output*r.Healthy.Ratio)-1) < 0.02 }
	t.shaft.look(s)
	if fits(t.gear) {
		t.shaft.most *= 0.97 // what was long ago is no part of a shift
		if t.back == 0 {
			t.back = s.Time
		}
		t.was = t.was || s.Time-t.back > 0.1
		if t.left == 0 || s.Time-t.back > 0.15 { // a flare that falls back through the old gear is no return to it
			t.left, t.now, t.in = 0, change{}, ""
		}
		return
	}
	t.back = 0
	if t.left == 0 {
		t.left, t.now = s.Time, change{speed: s.Speed, dip: slices.Min(t.last[:])} // both may hold before it leaves
	}
	t.now.flare = math.Max(t.now.flare, input-t.gear.Healthy.Ratio*s.Output)
	t.now.dip, t.now.bump = math.Min(t.now.dip, accel), math.Max(t.now.bump, t.shaft.most)
	if next, ok := t.u.Above(t.gear); ok && !t.out.changes[next.ID][t.foot].came { // it may never come
		t.out.changes[next.ID][t.foot] = t.now
	}
	for r, ok := t.u.Above(t.gear); ok; r, ok = t.u.Above(r) {
		if !fits(r) {
			continue
		}
		if t.in != r.ID {
			t.in, t.held = r.ID, s.Time
		}
		if s.Time-t.held < 0.15 {
			return
		}
		t.now.came, t.now.took = true, t.held-t.left
		if x := &t.out.changes[r.ID][t.foot]; !x.came && t.was {
			*x = t.now
		}
		t.gear, t.left, t.now, t.in, t.was = r, 0, change{}, "", true
		return
	}
	t.in = ""
}
