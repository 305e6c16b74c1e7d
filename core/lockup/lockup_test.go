package lockup_test

import (
	"math"
	"testing"

	"innercompass/core/lockup"
	"innercompass/core/roadlog"
	"innercompass/core/shifts"
	"innercompass/core/sim"
	"innercompass/internal/trial"
)

// cruise is a drive of the six-speed at a light foot, as a logger wrote it, and what the slip really was.
func cruise(t *testing.T, seed uint64, faults ...sim.Fault) (shifts.Drive, roadlog.Truth) {
	t.Helper()
	u := trial.Load(t).Networks["ombrin-s6"].Unit
	d := func(throttle float64) sim.Input { return sim.Input{Selector: "D", Throttle: throttle} }
	log, truth, err := roadlog.Drive(roadlog.Setup{Sim: sim.Setup{Unit: u, Celsius: 85, Seed: seed, Scatter: 1, Faults: faults, Range: "D4", Speed: 16}, Rate: 50, Late: 0, Legs: []roadlog.Leg{
		{Seconds: 8, Input: d(0.15), Wander: 0.04}, {Seconds: 8, Input: d(0.33), Wander: 0.04}, {Seconds: 10, Input: d(0.25), Wander: 0.03}, {Seconds: 4, Input: d(0.7)}}})
	if err != nil {
		t.Fatal(err)
	}
	return log.Drive(u), truth
}

func told(t *testing.T, d shifts.Drive) lockup.Result {
	t.Helper()
	r, err := shifts.Find(d, shifts.Of(trial.Load(t).Networks["ombrin-s6"].Unit, "D"), shifts.Usual)
	if err != nil {
		t.Fatal(err)
	}
	return lockup.Tell(d, r.Held, 0.02)
}

// A sound one comes on, holds, and does not shudder.
func TestASoundOneIsTold(t *testing.T) {
	shudders := 0
	for seed := range uint64(5) {
		d, _ := cruise(t, seed)
		r := told(t, d)
		if len(r.Applies) == 0 || r.OnFor < 6 {
			t.Errorf("seed %d: on for %.1f s, %+v", seed, r.OnFor, r.Applies)
		}
		shudders += len(r.Shudders)
	}
	if shudders > 1 {
		t.Errorf("%d shudders in five sound drives", shudders)
	}
}

// One whose lining grips less at speed shudders; what is told agrees with the slip itself: its strongest frequency by the crossings of its middle, and its depth.
func TestAShudderIsTold(t *testing.T) {
	for seed := range uint64(4) {
		d, truth := cruise(t, seed, sim.Fault{Kind: sim.Shudder, Size: 0.45})
		r := told(t, d)
		if len(r.Shudders) == 0 {
			t.Errorf("seed %d: no shudder is told", seed)
			continue
		}
		s := r.Shudders[0]
		for _, x := range r.Shudders {
			if x.Depth > s.Depth {
				s = x
			}
		}
		// Crossings of the middle in the middle second.
		mid := (s.From + s.To) / 2
		a, b := int((mid-0.5)/sim.Step), int((mid+0.5)/sim.Step)
		mean, peak, crossings := 0.0, 0.0, 0
		slip := func(i int) float64 { return truth.Engine[i] - truth.Turbine[i] }
		for i := a; i < b; i++ {
			mean += slip(i) / float64(b-a)
		}
		for i := a; i < b; i++ {
			peak = math.Max(peak, math.Abs(slip(i)-mean))
			if (slip(i)-mean)*(slip(i-1)-mean) < 0 {
				crossings++
			}
		}
		t.Logf("seed %d: %.2f Hz, %.0f rpm deep, in %s from %.1f to %.1f s; in truth %.1f Hz, %.0f rpm", seed, s.Hertz, s.Depth, s.Gear, s.From, s.To, float64(crossings)/2, peak)
		if math.Abs(s.Hertz-float64(crossings)/2) > 1.2 || s.Depth < 0.5*peak || s.Depth > 1.5*peak {
			t.Errorf("seed %d: %.2f Hz, %.0f rpm deep; in truth %.1f Hz, %.0f rpm", seed, s.Hertz, s.Depth, float64(crossings)/2, peak)
		}
	}
}

// Without the engine's speed nothing is told.
func TestWithoutTheEngineNothingIsTold(t *testing.T) {
	d, _ := cruise(t, 1)
	d.Engine = shifts.Channel{}
	if r := told(t, d); len(r.Applies)+len(r.Shudders)+len(r.Cells) > 0 {
		t.Errorf("%+v", r)
	}
}
