package shifts_test

import (
	"math"
	"testing"

	"innercompass/core/roadlog"
	"innercompass/core/shifts"
	"innercompass/core/sim"
	"innercompass/internal/trial"
)

// A transducer at each tap of a driven unit tells a circuit that leaks, one that gets no oil, one whose solenoid stays on, one that fills late and one that nothing cushions; of a sound
// one it tells nothing.
func TestTapsTellWhatBecomesOfTheOil(t *testing.T) {
	u := trial.Load(t).Networks["ombrin-s6"].Unit
	box := shifts.Of(u, "D")
	drive := func(seed uint64, faults ...sim.Fault) shifts.Result {
		t.Helper()
		log, _, err := roadlog.Drive(roadlog.Setup{Sim: sim.Setup{Unit: u, Celsius: 85, Seed: seed, Scatter: 1, Faults: faults}, Rate: 50, Late: math.NaN(), Pressures: []string{"CA", "CB", "CE", "BC", "BD"}, Legs: []roadlog.Leg{
			{Seconds: 1, Input: sim.Input{Selector: "N", Brake: 1}}, {Seconds: 2, Input: sim.Input{Selector: "D", Brake: 1}}, {Seconds: 30, Input: sim.Input{Selector: "D", Throttle: 0.35}, Wander: 0.03}}})
		if err != nil {
			t.Fatal(err)
		}
		r, err := shifts.Find(log.Drive(u), box, shifts.Usual)
		if err != nil {
			t.Fatal(err)
		}
		return r
	}
	var sound []shifts.Shift
	for seed := range uint64(6) {
		sound = append(sound, drive(50+seed).Shifts...)
	}
	for _, c := range []struct {
		fault sim.Fault
		want  string
	}{
		{sim.Fault{Kind: sim.LeaksBy, Element: "CE", Size: 0.7}, "low"},
		{sim.Fault{Kind: sim.SolenoidShut, Element: "CE"}, "none"},
		{sim.Fault{Kind: sim.SolenoidOpen, Element: "CE"}, "stays"},
		{sim.Fault{Kind: sim.FeedSlow, Element: "CE", Size: 0.4}, "late"},
		{sim.Fault{Kind: sim.Harsh, Element: "CE", Size: 2.2}, "hard"},
		{sim.Fault{Kind: sim.Weak, Element: "CE", Size: 0.7}, ""},
	} {
		for _, x := range box.Taps(drive(7, c.fault), sound) {
			if x.Element == "CE" && x.State != c.want {
				t.Errorf("%s: its tap shows %q, want %q (%d stretches and changes)", c.fault, x.State, c.want, x.Seen)
			}
		}
	}
	for _, x := range box.Taps(drive(8), sound) {
		if x.State != "" {
			t.Errorf("a sound unit: tap of %s shows %s", x.Element, x.State)
		}
		if x.Element == "CA" && x.Seen < 4 {
			t.Errorf("tap of CA was seen %d times only", x.Seen)
		}
	}
}
