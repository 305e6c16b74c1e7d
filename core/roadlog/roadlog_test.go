package roadlog_test

import (
	"math"
	"strings"
	"testing"

	"innercompass/core/roadlog"
	"innercompass/core/sim"
	"innercompass/internal/trial"
)

// What a logger writes trembles by what its tools do, and no more: the turbine's column about its speed by 5 rpm and the run-out of its wheel, at the stamps of its rate.
func TestALogIsTheDriveAsToolsHaveIt(t *testing.T) {
	u := trial.Load(t).Networks["ombrin-s6"].Unit
	log, truth, err := roadlog.Drive(roadlog.Setup{Sim: sim.Setup{Unit: u, Celsius: 80, Seed: 2, Scatter: 1}, Rate: 50, Late: 0, Pressures: []string{"CB"}, Legs: []roadlog.Leg{
		{Seconds: 1, Input: sim.Input{Selector: "N", Brake: 1}}, {Seconds: 12, Input: sim.Input{Selector: "D", Throttle: 0.35}}}})
	if err != nil {
		t.Fatal(err)
	}
	turbine := log.Column(roadlog.Turbine)
	sum, n := 0.0, 0.0
	for i, at := range log.Time {
		if at < 5 {
			continue
		}
		k := int((at - 0.010) * 1000) // counted over the 20 ms before
		d := turbine[i] - truth.Turbine[k]
		sum, n = sum+d*d, n+1
	}
	if sd := math.Sqrt(sum / n); sd < 3 || sd > 14 {
		t.Errorf("the turbine's column is off by %.1f rpm", sd)
	}
	if len(truth.Events) < 2 || !truth.Events[0].Done || truth.Events[0].From != "D1" || truth.Events[1].Heat["CB"] < 500 {
		t.Errorf("%+v", truth.Events)
	}
	gear := log.Column(roadlog.Gear)
	if gear[0] != 0 || gear[len(gear)-1] < 3 {
		t.Errorf("gears from %v to %v", gear[0], gear[len(gear)-1])
	}
	var b strings.Builder
	if err := log.Write(&b); err != nil {
		t.Fatal(err)
	}
	head, _, _ := strings.Cut(b.String(), "\n")
	if !strings.HasPrefix(head, "Time (s),Engine speed (rpm),Turbine speed (rpm)") || !strings.HasSuffix(head, "Clutch B pressure (kPa)") || strings.Count(b.String(), "\n") != len(log.Time)+1 {
		t.Errorf("%s", head)
	}
	// A hydraulic unit tells no gear: nothing commands it.
	h, _, err := roadlog.Drive(roadlog.Setup{Sim: sim.Setup{Unit: trial.Load(t).Networks["norrad-v3"].Unit, Celsius: 80}, Rate: 10, Legs: []roadlog.Leg{{Seconds: 2, Input: sim.Input{Selector: "D", Throttle: 0.3}}}})
	if err != nil || h.Column(roadlog.Gear) != nil {
		t.Errorf("a hydraulic unit tells gears: %v", err)
	}
	for _, rate := range []float64{0, -1, math.NaN(), 1000} {
		if _, _, err := roadlog.Drive(roadlog.Setup{Sim: sim.Setup{Unit: u}, Rate: rate}); err == nil {
			t.Errorf("%v samples a second are taken", rate)
		}
	}
}
