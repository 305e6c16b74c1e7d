package friction

import (
	"math"
	"testing"
)

// Uniform wear, integrated numerically: pressure falls as 1/r, so dT = μ·p(r)·r·2πr·dr with ∫p·2πr dr the
// piston's force. Shares nothing with the closed form.
func TestPlatesAgreeWithIntegration(t *testing.T) {
	for _, c := range []Plates{{8, 0.070, 0.055, 0.13, 0.0095, 900}, {2, 0.12, 0.08, 0.3, 0.004, 0}, {12, 0.0901, 0.0899, 0.11, 0.012, 1500}} {
		p := 1.1e6
		force := p*c.Piston - c.Spring
		const steps = 200000
		dr := (c.Outer - c.Inner) / steps
		torque, sum := 0.0, 0.0
		for i := range steps {
			r := c.Inner + (float64(i)+0.5)*dr
			sum += 1 / r * 2 * math.Pi * r * dr
			torque += 1 / r * r * 2 * math.Pi * r * dr
		}
		want := c.Mu * float64(c.Faces) * force * torque / sum
		if got := c.Capacity(p); math.Abs(got-want) > 1e-6*want {
			t.Errorf("%+v: %v, want %v", c, got, want)
		}
		if c.Capacity(c.Touch()) != 0 || c.Capacity(c.Touch()/2) != 0 || !(c.Capacity(c.Touch()*1.01) > 0) && c.Spring > 0 {
			t.Errorf("%+v: the springs give way elsewhere than at %v", c, c.Touch())
		}
	}
}

// The rope equation by steps: each small angle takes dP = μ·P·dφ from the tension.
func TestBandAgreesWithStepByStepRope(t *testing.T) {
	b := Band{Radius: 0.075, Wrap: 300 * math.Pi / 180, Mu: 0.12, Servo: 0.0035, Lever: 1.4, Spring: 180}
	p := 0.9e6
	slack := (p*b.Servo - b.Spring) * b.Lever
	const steps = 1000000
	tight := slack
	for range steps {
		tight += b.Mu * tight * b.Wrap / steps
	}
	if want := (tight - slack) * b.Radius; math.Abs(b.Capacity(p)-want) > 1e-5*want {
		t.Errorf("tightening %v, want %v", b.Capacity(p), want)
	}
	b.Eases = true
	loose := slack
	for range steps {
		loose -= b.Mu * loose * b.Wrap / steps
	}
	if want := (slack - loose) * b.Radius; math.Abs(b.Capacity(p)-want) > 1e-5*want {
		t.Errorf("easing %v, want %v", b.Capacity(p), want)
	}
	if b.Capacity(b.Touch()) != 0 {
		t.Error("a band holds before its spring gives way")
	}
}

func TestClearanceIsWhatTheStackLeaves(t *testing.T) {
	s := Stack{Lined: 4, Steel: 4, LinedThick: 2e-3, SteelThick: 1.8e-3, Backing: 4e-3, Depth: 20.6e-3}
	if got := s.Clearance(); math.Abs(got-1.4e-3) > 1e-12 {
		t.Errorf("%v", got)
	}
}
