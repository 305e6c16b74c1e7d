package balance

import (
	"math"
	"math/cmplx"
	"math/rand/v2"
	"testing"
)

func near(a, b, within float64) bool { return math.Abs(a-b) <= within*math.Max(1, math.Abs(b)) }

// ISO 21940-11 (recalled from memory, computed from its definition e·ω = G): G 16 at 3,000 1/min is e = 50.9 µm, on 12 kg 611 g·mm.
func TestGrades(t *testing.T) {
	w := 3000 * 2 * math.Pi / 60
	u := Grades[2].Permitted(12, w)
	if !near(u*1e6, 611.15, 1e-4) || !near(Velocity(u, 12, w), 16e-3, 1e-12) {
		t.Errorf("%v kg·m", u)
	}
	// 100 g·mm at 39.15 Hz pull with 6.05 N: m·r·ω².
	if f := Force(100e-6, 39.15*2*math.Pi); !near(f, 6.051, 1e-3) {
		t.Errorf("%v N", f)
	}
}

// rotor is a rigid rotor on two soft bearings, solved directly: mass and inertia against the forces of two unbalances, far above its
// critical speed. It gives the vibration at both bearings. Nothing of the method is in it.
type rotor struct {
	mass, inertia float64 // kg, kg·m² about a diameter less the polar one's part
	bearings      [2]float64
	planes        [2]float64 // axial places, m from the centre of mass
	stiffness     [2]complex128
	speed         float64
}

func (r rotor) run(u [2]complex128) [2]complex128 {
	w2 := complex(r.speed*r.speed, 0)
	// Unknowns: displacement and tilt at the centre of mass. K x − ω² M x = F.
	k, m := r.stiffness, complex(r.mass, 0)
	a, b := complex(r.bearings[0], 0), complex(r.bearings[1], 0)
	k11, k12, k22 := k[0]+k[1]-w2*m, k[0]*a+k[1]*b, k[0]*a*a+k[1]*b*b-w2*complex(r.inertia, 0)
	f := w2 * (u[0] + u[1])
	c := w2 * (u[0]*complex(r.planes[0], 0) + u[1]*complex(r.planes[1], 0))
	det := k11*k22 - k12*k12
	x, tilt := (f*k22-c*k12)/det, (c*k11-f*k12)/det
	return [2]complex128{x + a*tilt, x + b*tilt}
}

func someRotor(r *rand.Rand) rotor {
	return rotor{mass: 5 + 20*r.Float64(), inertia: 0.2 + r.Float64(), bearings: [2]float64{-0.4 - 0.3*r.Float64(), 0.3 + 0.4*r.Float64()}, planes: [2]float64{-0.3 - 0.1*r.Float64(), 0.25 + 0.1*r.Float64()},
		stiffness: [2]complex128{complex(3e4+4e4*r.Float64(), 900), complex(3e4+5e4*r.Float64(), 700)}, speed: 150 + 200*r.Float64()}
}

func someUnbalance(r *rand.Rand) complex128 {
	return Vector(50e-6+500e-6*r.Float64(), 2*math.Pi*r.Float64())
}

// Against the rotor: what is found balances it, in one plane at one bearing and in two at both.
func TestAgainstARotorSolvedDirectly(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 200 {
		m := someRotor(r)
		u, trial := [2]complex128{someUnbalance(r), someUnbalance(r)}, [2]complex128{someUnbalance(r), someUnbalance(r)}
		before := m.run(u)
		first, second := m.run([2]complex128{u[0] + trial[0], u[1]}), m.run([2]complex128{u[0], u[1] + trial[1]})
		fix, err := Two(before, first, second, trial)
		if err != nil {
			t.Fatal(err)
		}
		left := m.run([2]complex128{u[0] + fix[0], u[1] + fix[1]})
		if cmplx.Abs(left[0])+cmplx.Abs(left[1]) > 1e-9*(cmplx.Abs(before[0])+cmplx.Abs(before[1])) {
			t.Fatalf("two planes leave %v of %v", left, before)
		}
		one, err := Single(before[0], first[0], trial[0])
		if cmplx.Abs(first[0]-before[0]) < leastMove*cmplx.Abs(before[0]) {
			if err == nil {
				t.Error("a trial that hardly moves anything was taken")
			}
			continue
		}
		if err != nil {
			t.Fatal(err)
		}
		if left := m.run([2]complex128{u[0] + one, u[1]}); cmplx.Abs(left[0]) > 1e-9*cmplx.Abs(before[0]) || cmplx.Abs(Left(before[0], first[0], trial[0], one)) > 1e-9*cmplx.Abs(before[0]) {
			t.Fatalf("one plane leaves %v of %v", left[0], before[0])
		}
	}
}

// Amplitudes alone: three runs of the same rotor give back mass and angle without any phase.
func TestThirdsNeedNoPhase(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for range 200 {
		m := someRotor(r)
		u, size := someUnbalance(r), 100e-6+300e-6*r.Float64()
		found := cmplx.Abs(m.run([2]complex128{u, 0})[0])
		var with [3]float64
		for k := range with {
			with[k] = cmplx.Abs(m.run([2]complex128{u + Vector(size, 2*math.Pi*float64(k)/3), 0})[0])
		}
		got, err := FromThirds(found, with)
		if err != nil {
			t.Fatal(err)
		}
		fix := Vector(got.Size*size, got.Angle)
		if cmplx.Abs(fix+u) > 1e-6*cmplx.Abs(u) || got.Check > 1e-6 || !near(got.Ratio, size/cmplx.Abs(u), 1e-6) {
			t.Fatalf("%+v for %v with a trial of %v", got, u, size)
		}
	}
}

// With readings that are off by 5 %, the middle of what is left stays near what was measured for the method (a trial as large as what is
// there leaves a tenth, two fifths of that more in one of ten): a bound of twice that holds it.
func TestThirdsUnderNoise(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	left := 0.0
	const runs = 2000
	for range runs {
		o := Vector(1, 2*math.Pi*r.Float64())
		read := func(v complex128) float64 { return math.Max(0, cmplx.Abs(v)+0.05*r.NormFloat64()) }
		var with [3]float64
		for k := range with {
			with[k] = read(o + Vector(1, 2*math.Pi*float64(k)/3))
		}
		got, err := FromThirds(read(o), with)
		if err != nil {
			t.Fatal(err)
		}
		left += cmplx.Abs(o+Vector(got.Size, got.Angle)) / runs
	}
	if left > 0.2 {
		t.Errorf("%.2f left in the mean", left)
	}
}

func TestWhatCannotBalanceIsSaid(t *testing.T) {
	if _, err := Single(1, 1.01, 1); err == nil {
		t.Error("a trial that moves nothing")
	}
	if _, err := Single(1, 2, 0); err == nil {
		t.Error("no trial")
	}
	if _, err := FromThirds(2, [3]float64{1, 1, 1}); err == nil {
		t.Error("less with the trial than without")
	}
	if _, err := FromThirds(0, [3]float64{1, 1, 1}); err == nil {
		t.Error("nothing to balance")
	}
	if _, err := Two([2]complex128{1, 1}, [2]complex128{2, 2}, [2]complex128{3, 3}, [2]complex128{1, 1}); err == nil {
		t.Error("both planes alike")
	}
	if _, err := FromFlange([]float64{0, 1}, []float64{1, 2}); err == nil {
		t.Error("two runs")
	}
	if _, err := FromFlange([]float64{0, 0, 0}, []float64{1, 2, 3}); err == nil {
		t.Error("one place three times")
	}
}

// Two unbalances, of shaft and flange, added as vectors: every place is predicted from three.
func TestAShaftTurnedInItsFlange(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	for range 100 {
		shaft, flange := someUnbalance(r), someUnbalance(r)
		at := func(turned float64) float64 { return cmplx.Abs(flange + shaft*cmplx.Rect(1, turned)) }
		turned := []float64{0, 2 * math.Pi / 4, 2 * 2 * math.Pi / 4}
		f, err := FromFlange(turned, []float64{at(turned[0]), at(turned[1]), at(turned[2])})
		if err != nil {
			t.Fatal(err)
		}
		for k := range 12 {
			if x := 2 * math.Pi * float64(k) / 12; math.Abs(f.At(x)-at(x)) > 1e-9 {
				t.Fatalf("at %v: %v, is %v", x, f.At(x), at(x))
			}
		}
	}
}

// What two places get adds up to the whole, at any angle and any number of places.
func TestDividedOverPlaces(t *testing.T) {
	for places := 3; places <= 12; places++ {
		for k := range 97 {
			angle := 2*math.Pi*float64(k)/97 - 1
			sum := complex(0, 0)
			for at, size := range Between(2, angle, places) {
				if size < 0 || size > 2+1e-12 && places > 3 {
					t.Fatalf("%d places, %v: %v at %d", places, angle, size, at)
				}
				sum += Vector(size, 2*math.Pi*float64(at)/float64(places))
			}
			if cmplx.Abs(sum-Vector(2, angle)) > 1e-9 {
				t.Fatalf("%d places, %v: %v", places, angle, sum)
			}
		}
	}
	if got := Between(1, 0, 4); len(got) != 1 || !near(got[0], 1, 1e-12) {
		t.Errorf("on a place: %v", got)
	}
}

// 1 g of steel is 2.5 mm of an 8 mm hole: 7.85 g/cm³ × 0.5027 cm² × 0.2534 cm.
func TestDrillDepth(t *testing.T) {
	if d := Depth(1e-3, 8e-3, Steel); !near(d, 2.5344e-3, 1e-3) {
		t.Errorf("%v m", d)
	}
	if u := OffCentre(6, 0.4e-3); !near(u*1e6, 1200, 1e-12) {
		t.Errorf("%v g·mm", u*1e6)
	}
}
