package hydraulics

import (
	"math"
	"testing"
)

// Shigley, Mechanical Engineering Design, compression spring example (recalled from memory): music wire 0.037 in, outside
// diameter 7/16 in, 12½ coils with squared ends (10½ work), about 4.13 lbf/in, with G of 11.85 Mpsi. The book rounds the mean
// diameter to 0.400 in, and so does this.
func TestShigleysSpring(t *testing.T) {
	const inch, lbf = 0.0254, 4.4482216152605
	w := Wire{Diameter: 0.037 * inch, Outside: 0.437 * inch, Active: 10.5, Total: 12.5, Shear: MusicWire}
	k, err := w.Rate()
	if got := k / lbf * inch; err != nil || math.Abs(got-4.13) > 0.01 {
		t.Errorf("%v lbf/in, want about 4.13 (%v)", got, err)
	}
	// Another route: the strain energy of a wire twisted by F·D/2 over its length; δ = ∂U/∂F.
	d, mean := w.Diameter, w.Outside-w.Diameter
	polar := math.Pi * math.Pow(d, 4) / 32
	length := math.Pi * mean * w.Active
	if want := 1 / (mean * mean / 4 * length / (w.Shear * polar)); math.Abs(k-want) > 1e-9*want {
		t.Errorf("%v N/m, by energy %v", k, want)
	}
	if w.Stress(10) <= 8*10*mean/(math.Pi*d*d*d) {
		t.Error("the bend does not add to the stress")
	}
	for _, bad := range []Wire{{}, {1e-3, 2e-3, 5, 7, MusicWire}, {1e-3, 10e-3, 0, 2, MusicWire}, {math.NaN(), 1, 1, 1, 1}} {
		if k, err := bad.Rate(); err == nil {
			t.Errorf("%+v: %v", bad, k)
		}
	}
}

// 2.5 lbf at half an inch of compression is 5 lbf/in (common practice, no source).
func TestASpringIsWeighed(t *testing.T) {
	const inch, lbf = 0.0254, 4.4482216152605
	l, err := Weigh(1.0*inch, 2.5*lbf, 0.5*inch, 5*lbf)
	if err != nil || math.Abs(l.Rate/lbf*inch-5) > 1e-9 || math.Abs(l.Free-1.5*inch) > 1e-9 {
		t.Errorf("%+v %v", l, err)
	}
	other, _ := Weigh(0.5*inch, 5*lbf, 1.0*inch, 2.5*lbf)
	if other != l {
		t.Error("the order of weighing matters")
	}
	if _, err := Weigh(1, 5, 0.5, 2); err == nil {
		t.Error("a spring that gives way when pressed was taken")
	}
	m, err := Matches(l, 0.9*inch, []Candidate{{"stiff", Line{1.2 * inch, 2 * l.Rate}}, {"same", l}, {"weak", Line{l.Free, l.Rate / 2}}})
	if err != nil || m[0].Name != "same" || math.Abs(m[0].Off) > 1e-12 || math.Abs(m[1].Off) > math.Abs(m[2].Off) {
		t.Errorf("%+v %v", m, err)
	}
	// Of two with the same force at work, the one with the rate wanted.
	m, _ = Matches(l, 1*inch, []Candidate{{"short", Line{1.25 * inch, 2 * l.Rate}}, {"same", l}})
	if m[0].Name != "same" {
		t.Errorf("%+v", m)
	}
	if _, err := Matches(l, 2*inch, nil); err == nil {
		t.Error("a spring that does not press was matched")
	}
}

// Bernoulli put back: the jet's dynamic pressure at the contracted stream is the pressure difference.
func TestOrificeIsBernoulli(t *testing.T) {
	q := Orifice(1.2e-3, 5e5, OilDensity)
	if v := q / (Discharge * math.Pi / 4 * 1.2e-3 * 1.2e-3); math.Abs(OilDensity*v*v/2-5e5) > 1e-6 {
		t.Errorf("%v m/s", v)
	}
	if got := OrificeDrop(1.2e-3, q, OilDensity); math.Abs(got-5e5) > 1e-6 {
		t.Errorf("%v Pa come back", got)
	}
	if Orifice(1e-3, -1, OilDensity) != 0 {
		t.Error("oil flows against the pressure")
	}
}

// Flow between plates, from its parabola of speeds (Poiseuille), unrolled round the spool.
func TestGapByItsProfile(t *testing.T) {
	const bore, h, length, drop, nu, density = 12e-3, 20e-6, 10e-3, 5e5, 8e-6, OilDensity
	const steps = 20000
	mu, flow := nu*density, 0.0
	for i := range steps {
		y := (float64(i) + 0.5) * h / steps
		flow += drop / length / (2 * mu) * y * (h - y) * h / steps * math.Pi * bore
	}
	if got := Gap(bore, h, length, drop, nu, density, 0); math.Abs(got-flow) > 1e-6*flow {
		t.Errorf("%v, want %v", got, flow)
	}
	// Lying on one side: the gap over the angle, h·(1 + cos φ), summed.
	sum := 0.0
	for i := range steps {
		a := 2 * math.Pi * (float64(i) + 0.5) / steps
		sum += math.Pow(1+math.Cos(a), 3) / steps
	}
	if got := Gap(bore, h, length, drop, nu, density, 1) / flow; math.Abs(got-sum) > 1e-3 || math.Abs(sum-2.5) > 1e-3 {
		t.Errorf("%v times, want %v", got, sum)
	}
}

// Leaks made of known parts are told apart again.
func TestDroopTellsGapsFromHoles(t *testing.T) {
	for _, share := range []float64{0, 0.2, 0.5, 0.9, 1} {
		const hot, hotV, coldV = 4e5, 8e-6, 60e-6
		a, b := share*hotV/hot, (1-share)/math.Sqrt(hot)
		low, high := hot, 100*hot
		for range 200 { // pressure at which the same leaks pass the same flow cold
			mid := (low + high) / 2
			if a*mid/coldV+b*math.Sqrt(mid) < 1 {
				low = mid
			} else {
				high = mid
			}
		}
		got, err := Droop(low, hot, coldV, hotV)
		if share == 0 {
			if err == nil && got > 1e-6 {
				t.Errorf("a hole alone: %v", got)
			}
			continue
		}
		if err != nil || math.Abs(got-share) > 1e-6 {
			t.Errorf("share %v: %v %v", share, got, err)
		}
	}
	for _, bad := range [][4]float64{{4e5, 5e5, 60e-6, 8e-6}, {4e5, 3e5, 8e-6, 60e-6}, {0, 0, 60e-6, 8e-6}, {40e5, 4e5, 60e-6, 8e-6}} {
		if got, err := Droop(bad[0], bad[1], bad[2], bad[3]); err == nil {
			t.Errorf("%v: %v", bad, got)
		}
	}
}

func TestFillAndLeakDownKeepTheirVolumes(t *testing.T) {
	v, s, err := FillTime(90e-4, 1.4e-3, 2e-3, 6e5, 1e5, OilDensity)
	if err != nil || math.Abs(v-90e-4*1.4e-3) > 1e-15 || math.Abs(s*Orifice(2e-3, 5e5, OilDensity)-v) > 1e-15 {
		t.Errorf("%v %v %v", v, s, err)
	}
	if _, _, err := FillTime(90e-4, 1.4e-3, 2e-3, 1e5, 1e5, OilDensity); err == nil {
		t.Error("a piston moved without pressure")
	}
	// Decay at the rate found, run on, comes to the pressure that was read.
	flow, half, err := LeakDown(0.2e-3, 6e5, 3e5, 10)
	if err != nil || math.Abs(half-10) > 1e-9 || math.Abs(flow-0.2e-3*3e5/10/101325) > 1e-15 {
		t.Errorf("%v %v %v", flow, half, err)
	}
	if _, _, err := LeakDown(0.2e-3, 3e5, 6e5, 10); err == nil {
		t.Error("a rising pressure leaks")
	}
	m := Modulator{Diaphragm: 20e-4, Spring: 120, Valve: 2e-4}
	if p := m.Pressure(4e4); math.Abs(p*2e-4+4e4*20e-4-120) > 1e-9 {
		t.Errorf("%v Pa out of balance", p)
	}
	if m.Pressure(7e4) != 0 {
		t.Error("vacuum that holds the spring leaves pressure")
	}
}
