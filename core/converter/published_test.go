package converter

import (
	"math"
	"testing"
)

// Stall put back into its definition (SAE J643: K = N/√T): the torque that the engine gives at the speed found is what an
// impeller of this K takes there.
func TestStallIsWhereEngineAndImpellerMeet(t *testing.T) {
	engine, err := NewCurve([]CurvePoint{{400, 250}, {100, 150}, {250, 290}})
	if err != nil {
		t.Fatal(err)
	}
	last := 0.0
	for _, k := range []float64{5, 9, 12.5, 14, 20} {
		speed, torque, err := Stall(engine, k)
		if err != nil {
			t.Fatal(err)
		}
		if taken := speed * speed / (k * k); math.Abs(taken-engine.At(speed)) > 1e-6*taken || math.Abs(torque-taken) > 1e-6*taken {
			t.Errorf("K %v: the impeller takes %v at %v rad/s, the engine gives %v", k, taken, speed, engine.At(speed))
		}
		if math.Abs(Factor(speed, torque)-k) > 1e-6 || speed <= last {
			t.Errorf("K %v comes back as %v; speed %v after %v", k, Factor(speed, torque), speed, last)
		}
		last = speed
	}
	for _, k := range []float64{0, -1, math.NaN(), math.Inf(1)} {
		if _, _, err := Stall(engine, k); err == nil {
			t.Errorf("K %v was taken", k)
		}
	}
}

// The standard atmosphere of ISO 2533: 79.50 kPa at 2,000 m and 54.02 kPa at 5,000 m (geopotential heights; table values recalled from memory).
// The second route integrates the hydrostatic balance dp/dh = −p·g/(R·T) in small steps.
func TestAirPressureOfTheStandardAtmosphere(t *testing.T) {
	for h, want := range map[float64]float64{0: 101325, 2000: 79495, 5000: 54020} {
		if got := AirPressure(h); math.Abs(got-want) > 5e-4*want {
			t.Errorf("at %v m %v Pa, want %v", h, got, want)
		}
		p, const1 := 101325.0, 9.80665/287.05287
		steps := 20000
		for i := range steps {
			at := (float64(i) + 0.5) * h / float64(steps)
			p *= math.Exp(-const1 / (288.15 - 0.0065*at) * h / float64(steps))
		}
		if got := AirPressure(h); math.Abs(got-p) > 1e-4*p {
			t.Errorf("at %v m %v Pa, integrated %v", h, got, p)
		}
	}
	if AirFactor(ReferencePressure, ReferenceTemperature) != 1 {
		t.Error("reference air changes torque")
	}
}

// Power in is power out and heat; at stall all of it is heat, at speed ratio × torque ratio 1 none is.
func TestPowerIsKept(t *testing.T) {
	for _, c := range []struct{ ni, ti, nt, tt float64 }{{200, 250, 0, 520}, {200, 250, 100, 400}, {200, 250, 180, 250}, {200, 250, 200, 250}} {
		p, err := Work(c.ni, c.ti, c.nt, c.tt)
		if err != nil || math.Abs(p.Out+p.Heat-p.In) > 1e-9 || math.Abs(p.Efficiency-p.SpeedRatio*p.TorqueRatio) > 1e-12 {
			t.Errorf("%+v: %+v %v", c, p, err)
		}
	}
	if _, err := Work(200, 250, 200, 300); err == nil {
		t.Error("more came out than went in")
	}
	rate, err := HeatRate(50e3, 8e-3, 10)
	if want := 50e3 / (8e-3*850*2000 + 10*480); err != nil || math.Abs(rate-want) > 1e-9 {
		t.Errorf("%v %v", rate, err)
	}
	if _, err := HeatRate(1, 0, 0); err == nil {
		t.Error("nothing took the heat")
	}
}
