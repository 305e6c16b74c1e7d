package hydraulics

import (
	"math"
	"testing"
)

// The balance is put back into the forces it came from, which the functions never form.
func TestForcesBalance(t *testing.T) {
	r := Regulator{Area: 2e-4, Spring: 84, Boost: 1.1e-4, Reverse: 0.5e-4}
	for _, throttle := range []float64{0, 2e5, 6e5} {
		for _, boosted := range []bool{false, true} {
			p := r.Line(throttle, boosted)
			push := r.Spring + throttle*r.Boost
			if boosted {
				push += p * r.Reverse
			}
			if math.Abs(p*r.Area-push) > 1e-9 {
				t.Errorf("spool out of balance by %v N", p*r.Area-push)
			}
		}
	}
	v := ShiftValve{GovernorArea: 3e-4, ThrottleArea: 1e-4, Spring: 30}
	if p := v.Moves(4e5); math.Abs(p*v.GovernorArea-v.Spring-4e5*v.ThrottleArea) > 1e-9 {
		t.Errorf("shift valve moves at %v", p)
	}
}

// Below the first limit pressure grows with the square of speed; above it only the other weight's share does.
func TestGovernorInTwoStages(t *testing.T) {
	g := Governor{Area: 1e-4, Weights: []Weight{{0.04, 0.02, 60}, {0.01, 0.02, 0}}}
	if a, b := g.Pressure(20), g.Pressure(40); math.Abs(b-4*a) > 1e-9 {
		t.Errorf("doubling speed makes %v of %v", b, a)
	}
	if got, want := g.Pressure(100)-g.Pressure(60), 0.01*0.02*(100*100-60*60)/1e-4; math.Abs(got-want) > 1e-9 {
		t.Errorf("second stage adds %v, want %v", got, want)
	}
	for _, w := range []float64{1, 30, 60, 61, 300} {
		if back, err := g.Speed(g.Pressure(w)); err != nil || math.Abs(back-w) > 1e-6*w {
			t.Errorf("%v rad/s comes back as %v (%v)", w, back, err)
		}
	}
	capped := Governor{Area: 1e-4, Weights: []Weight{{0.04, 0.02, 60}}}
	if _, err := capped.Speed(capped.Pressure(60) * 1.01); err == nil {
		t.Error("a pressure above the last stop was reached")
	}
	if w, err := capped.Speed(0); w != 0 || err != nil {
		t.Errorf("no pressure at %v", w)
	}
}

// At the pressure that is left, the orifice passes just what the pump spares.
func TestLeakTakesPressureDownToWhatThePumpCanFeed(t *testing.T) {
	for _, leak := range []float64{1.1e-4, 2e-4, 1e-3} {
		p := Sag(5e5, 1e-4, leak)
		if flow := leak * math.Sqrt(p/5e5); math.Abs(flow-1e-4) > 1e-12 {
			t.Errorf("leak %v: %v passes at %v", leak, flow, p)
		}
	}
	if Sag(5e5, 1e-4, 0.9e-4) != 5e5 || Sag(5e5, 0, 0) != 5e5 || Sag(5e5, -1, 1e-4) != 0 {
		t.Error("pressure changed where the pump can feed the leak, or did not where it cannot")
	}
}
