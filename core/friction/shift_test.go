package friction

import (
	"math"
	"testing"
)

// Uniform pressure, integrated ring by ring; textbooks' closed form in NewLiningRadius.
func TestNewLiningRadiusByIntegration(t *testing.T) {
	const outer, inner, steps = 0.09, 0.06, 100000
	area, moment, dr := 0.0, 0.0, (outer-inner)/steps
	for i := range steps {
		r := inner + (float64(i)+0.5)*dr
		area += 2 * math.Pi * r * dr
		moment += 2 * math.Pi * r * r * dr
	}
	if got := NewLiningRadius(outer, inner); math.Abs(got-moment/area) > 1e-9 || got <= (outer+inner)/2 {
		t.Errorf("%v, want %v", got, moment/area)
	}
}

// The pressure of turning oil, summed ring by ring from dp/dr = ρω²r.
func TestCentrifugalForceByIntegration(t *testing.T) {
	const density, speed, outer, inner, fed, steps = 850.0, 400.0, 0.08, 0.05, 0.02, 20000
	p, force, dr := density*speed*speed*(inner*inner-fed*fed)/2, 0.0, (outer-inner)/steps
	for i := range steps {
		r := inner + (float64(i)+0.5)*dr
		p += density * speed * speed * r * dr / 2
		force += p * 2 * math.Pi * r * dr
		p += density * speed * speed * r * dr / 2
	}
	if got := CentrifugalForce(density, speed, outer, inner, fed); math.Abs(got-force) > 1e-6*force {
		t.Errorf("%v N, want %v", got, force)
	}
}

// One engagement, run in small steps of time: the slip falls, heat adds up.
func TestEngagementByTimeSteps(t *testing.T) {
	const slip, torque, load, inertia = 180.0, 420.0, 300.0, 0.3
	s, err := Engage(slip, torque, load, inertia, 0.05)
	if err != nil {
		t.Fatal(err)
	}
	w, heat, time := slip, 0.0, 0.0
	const dt = 1e-5
	for w > 0 {
		heat += torque * w * dt
		w -= (torque - load) / inertia * dt
		time += dt
	}
	if math.Abs(time-s.Time) > 1e-4*time || math.Abs(heat-s.Energy) > 1e-3*heat || s.Peak != torque*slip {
		t.Errorf("%+v, stepped %v s %v J", s, time, heat)
	}
	if _, err := Engage(slip, 300, 300, inertia, 0.05); err == nil {
		t.Error("a clutch that only just holds its load came to speed")
	}
}

// Heat into a plate, by finite differences of the conduction equation; shares nothing with the series. Thin plates warm
// through while they slip, thick ones only near the face.
func TestPlateTemperatureByFiniteDifferences(t *testing.T) {
	const flux, time = 3e6, 0.4
	a := SteelConductivity / (SteelDensity * SteelHeat)
	for _, half := range []float64{0.5e-3, 0.9e-3, 2.5e-3, 12e-3} {
		const n = 160
		dx := half / n
		dt := 0.2 * dx * dx / a
		temp, next := make([]float64, n+1), make([]float64, n+1)
		peak, end := 0.0, 0.0
		for now := 0.0; now < time; now += dt {
			for i := 1; i < n; i++ {
				next[i] = temp[i] + a*dt/dx/dx*(temp[i+1]-2*temp[i]+temp[i-1])
			}
			q := flux * (1 - now/time)
			next[0] = temp[0] + 2*a*dt/dx/dx*(temp[1]-temp[0]+q*dx/SteelConductivity)
			next[n] = temp[n] + 2*a*dt/dx/dx*(temp[n-1]-temp[n])
			temp, next = next, temp
			peak, end = math.Max(peak, temp[0]), temp[0]
		}
		rise, _ := PlatePeak(flux, time, 1, half)
		if math.Abs(rise-peak) > 0.01*peak {
			t.Errorf("half thickness %v: hottest %v K, by differences %v K", half, rise, peak)
		}
		if got := PlateRise(flux, time, 1, half, time); math.Abs(got-end) > 0.01*peak {
			t.Errorf("half thickness %v: at the end %v K, by differences %v K", half, got, end)
		}
		// What went in is what the plate keeps.
		if bulk, err := BulkRise(flux*time/2, 1, half); err != nil || rise < bulk-1e-9 {
			t.Errorf("half thickness %v: the face reaches %v K, the plate is left at %v K (%v)", half, rise, bulk, err)
		}
	}
	if _, err := BulkRise(1, 0, 1e-3); err == nil {
		t.Error("no steel took the heat")
	}
}

// Volume that leaves the master reaches the slave.
func TestReleaseTravelKeepsVolume(t *testing.T) {
	r, err := ReleaseTravel(0.14, 0.01, 5.2, 19.05e-3, 22.2e-3, 0.2e-6, 1.6)
	if err != nil {
		t.Fatal(err)
	}
	area := func(d float64) float64 { return math.Pi * d * d / 4 }
	if math.Abs(r.Slave*area(22.2e-3)+0.2e-6-r.Master*area(19.05e-3)) > 1e-15 || math.Abs(r.Bearing*1.6-r.Slave) > 1e-15 {
		t.Errorf("%+v", r)
	}
	if r, _ := ReleaseTravel(0.005, 0.01, 5, 19e-3, 22e-3, 0, 1.6); r.Bearing != 0 {
		t.Errorf("within the free play: %+v", r)
	}
	if _, err := ReleaseTravel(0.1, 0, 0, 19e-3, 22e-3, 0, 1.6); err == nil {
		t.Error("a pedal without lever was taken")
	}
}

// Weights add with the square of speed; without them nothing changes.
func TestCentrifugalWeights(t *testing.T) {
	c := DryClutch{Clamp: 8000, Mu: 0.27, Outer: 0.12, Inner: 0.075, Weights: 6, Mass: 0.03, At: 0.1, Lever: 0.5}
	add := func(w float64) float64 { return c.ClampAt(w) - 8000 }
	if math.Abs(add(400)-4*add(200)) > 1e-9 || math.Abs(add(300)-6*0.03*0.1*300*300*0.5) > 1e-9 {
		t.Errorf("%v %v", add(200), add(400))
	}
	if got, want := c.Capacity(0), 2*0.27*8000*0.0975; math.Abs(got-want) > 1e-9 {
		t.Errorf("%v, want %v", got, want)
	}
}
