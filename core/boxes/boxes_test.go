package boxes

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/mat"
)

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if !(math.Abs(got-want) <= within) {
		t.Errorf("%s: %.9g, want %.9g within %.2g", what, got, want, within)
	}
}

// Two inertias and a clutch with a constant torque: dω/dt = −T·(1/J1 + 1/J2), so that they are together after Δω·J1·J2/(T·(J1 + J2)), at the speed that momentum
// gives, with the heat ½·J1·J2/(J1 + J2)·Δω² (closed form, derived here; the same in any textbook of machine elements).
func TestTwoInertiasAgainstTheClosedForm(t *testing.T) {
	j1, j2, torque := 0.24, 0.4, 130.0
	start := []float64{180, 60}
	for _, h := range []float64{1e-4, 1e-3, 2e-3} {
		s, err := New(mat.NewSymDense(2, []float64{j1, 0, 0, j2}), [][]float64{{1, -1}})
		if err != nil {
			t.Fatal(err)
		}
		v, heat, end := append([]float64{}, start...), 0.0, 0.0
		for i := 1; i < int(1/h); i++ {
			before := s.Slip(0, v)
			s.Step(v, []float64{j1 * v[0], j2 * v[1]}, []Bounds{{-torque * h, torque * h}})
			after := s.Slip(0, v)
			heat -= s.Impulses()[0] * (before + after) / 2
			if end == 0 && math.Abs(after) < 1e-6 {
				end = float64(i)*h - h + h*math.Min(1, math.Abs(before)*j1*j2/(torque*(j1+j2))/h) // within the last step, by its own share
			}
		}
		both := j1 * j2 / (j1 + j2)
		near(t, "end", end, 120*both/torque, 1e-9)
		near(t, "speed together", v[0], (j1*180+j2*60)/(j1+j2), 1e-9)
		near(t, "speed of both", v[1], v[0], 1e-9)
		near(t, "heat", heat, both*120*120/2, 1e-6)
	}
}

// A weight on a slope: it stands still while friction can hold it, and slides with what is left when it cannot.
func TestAWeightOnASlope(t *testing.T) {
	const m, h = 2.0, 1e-3
	s, err := New(mat.NewSymDense(1, []float64{m}), [][]float64{{1}})
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct{ pull, friction, want float64 }{{9, 10, 0}, {-9, 10, 0}, {12, 10, 1}, {-12, 10, -1}} {
		v := []float64{0}
		for range 1000 {
			s.Step(v, []float64{m*v[0] + h*c.pull}, []Bounds{{-h * c.friction, h * c.friction}})
		}
		near(t, "speed after a second", v[0], c.want, 1e-9)
	}
}

// A one-way clutch pushes and never pulls; broken it carries nothing; more than its strength it lets through.
func TestAOneWayClutch(t *testing.T) {
	const h = 1e-3
	s, err := New(mat.NewSymDense(2, []float64{1, 0, 0, 1}), [][]float64{{1, -1}})
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		what               string
		torqueA, strength  float64
		wantSlip, wantPush float64
	}{
		{"runs ahead", 5, 1000, 5, 0},
		{"is pushed", -5, 1000, 0, 2.5},
		{"is too weak", -5, 1, -3, 1},
		{"is broken", -5, 0, -5, 0},
	} {
		v := []float64{0, 0}
		for range 1000 {
			s.Step(v, []float64{v[0] + h*c.torqueA, v[1]}, []Bounds{{0, h * c.strength}})
		}
		near(t, c.what+": slip", s.Slip(0, v), c.wantSlip, 1e-9)
		near(t, c.what+": push", s.Impulses()[0]/h, c.wantPush, 1e-9)
	}
}

// Whatever the masses, rows and bounds: what comes out obeys the model's own sentences, also with holds that repeat each other.
func TestWhatComesOutObeysTheModel(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 8))
	hard := 0
	for round := range 3000 {
		n, m := 1+rng.IntN(5), 1+rng.IntN(9)
		l := mat.NewDense(n, n, nil)
		for i := range n {
			for j := range n {
				l.Set(i, j, rng.NormFloat64())
			}
		}
		var full mat.Dense
		full.Mul(l, l.T())
		mass := mat.NewSymDense(n, nil)
		for i := range n {
			for j := i; j < n; j++ {
				mass.SetSym(i, j, full.At(i, j))
			}
			mass.SetSym(i, i, full.At(i, i)+0.1)
		}
		rows, bounds := make([][]float64, m), make([]Bounds, m)
		for k := range rows {
			rows[k] = make([]float64, n)
			for i := range n {
				rows[k][i] = math.Round(2*rng.NormFloat64()) / 2
			}
			if k > 0 && rng.Float64() < 0.3 {
				copy(rows[k], rows[rng.IntN(k)])
			}
			switch x := rng.Float64() * 3; rng.IntN(3) {
			case 0:
				bounds[k] = Bounds{-x, x}
			case 1:
				bounds[k] = Bounds{0, x}
			}
		}
		s, err := New(mass, rows)
		if err != nil {
			t.Fatal(err)
		}
		v, p := make([]float64, n), make([]float64, n)
		for range 5 { // the guess of one step is the beginning of the next
			for i := range p {
				p[i] = 3 * rng.NormFloat64()
			}
			s.Step(v, p, bounds)
			for i := range n {
				left := -p[i]
				for j := range n {
					left += mass.At(i, j) * v[j]
				}
				for k := range m {
					left -= rows[k][i] * s.Impulses()[k]
				}
				near(t, "momentum", left, 0, 1e-6)
			}
			for k, b := range bounds {
				x, slip := s.Impulses()[k], s.Slip(k, v)
				if x < b.Lo-1e-6 || x > b.Hi+1e-6 {
					t.Fatalf("round %d: impulse %v of %v", round, x, b)
				}
				if b.Lo < b.Hi && (x > b.Lo+1e-6 && slip > 1e-5 || x < b.Hi-1e-6 && slip < -1e-5) {
					t.Fatalf("round %d: hold %d takes %v of %v and slips %v", round, k, x, b, slip)
				}
			}
		}
		_, long := s.Rounds()
		hard += long
	}
	t.Logf("%d of 15000 steps of things that belong to no vehicle needed more than the bold rounds", hard)
}

func TestWhatHasNoInertiaIsRefused(t *testing.T) {
	if _, err := New(mat.NewSymDense(2, []float64{1, 0, 0, 0}), nil); err == nil {
		t.Error("a mass of zero")
	}
	if _, err := New(mat.NewSymDense(1, []float64{1}), [][]float64{{1, 2}}); err == nil {
		t.Error("a row that is too long")
	}
}

func BenchmarkStep(b *testing.B) {
	mass := mat.NewSymDense(5, nil)
	for i := range 5 {
		mass.SetSym(i, i, 1+float64(i))
	}
	rows := make([][]float64, 10)
	bounds := make([]Bounds, 10)
	for k := range rows {
		rows[k] = make([]float64, 5)
		rows[k][k%5]++
		rows[k][(k+2)%5]--
		if k%2 == 0 {
			bounds[k] = Bounds{-1, 1}
		}
	}
	s, err := New(mass, rows)
	if err != nil {
		b.Fatal(err)
	}
	v, p := make([]float64, 5), []float64{1, 2, 3, 4, 5}
	for b.Loop() {
		s.Step(v, p, bounds)
	}
}
