package joints

import (
	"math"
	"math/rand/v2"
	"testing"
)

const deg = math.Pi / 180

// cross turns a joint itself: the pin of the driving fork turns about the first shaft, the pin of the driven one lies across it and in the
// plane square to the second shaft. No formula of the package is used.
func cross(driving, bend float64) float64 {
	// First shaft along z, second bent in the plane of x and z; the driving pin begins in that plane.
	p := [3]float64{math.Cos(driving), math.Sin(driving), 0}
	shaft := [3]float64{math.Sin(bend), 0, math.Cos(bend)}
	q := [3]float64{shaft[1]*p[2] - shaft[2]*p[1], shaft[2]*p[0] - shaft[0]*p[2], shaft[0]*p[1] - shaft[1]*p[0]} // shaft × p
	across := [3]float64{0, 1, 0}                                                                                // of the driven pin at the beginning
	other := [3]float64{shaft[1]*across[2] - shaft[2]*across[1], shaft[2]*across[0] - shaft[0]*across[2], shaft[0]*across[1] - shaft[1]*across[0]}
	dot := func(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
	return math.Atan2(dot(q, other), dot(q, across))
}

func TestAgainstACrossThatIsTurned(t *testing.T) {
	for _, b := range []float64{0, 1, 5, 10, 20, 35} {
		for k := range 360 {
			at := float64(k) * deg
			d := math.Mod(Turned(at, b*deg)-cross(at, b*deg), 2*math.Pi)
			d = math.Abs(math.Remainder(d, 2*math.Pi))
			if d > 1e-12 {
				t.Fatalf("%v° at %d°: off by %v", b, k, d)
			}
		}
	}
}

// The speed integrated over an eighth of a turn gives the angle there (Simpson, 10,000 steps): 45.109222°, 45.438549°, 46.780821° for 5, 10
// and 20°.
func TestSpeedIntegrates(t *testing.T) {
	for bend, want := range map[float64]float64{5: 45.109222, 10: 45.438549, 20: 46.780821} {
		const n = 10000
		h := 45 * deg / n
		sum := Speed(0, bend*deg) + Speed(45*deg, bend*deg)
		for i := 1; i < n; i++ {
			sum += float64(2+2*(i%2)) * Speed(float64(i)*h, bend*deg)
		}
		if got := sum * h / 3; math.Abs(got-Turned(45*deg, bend*deg)) > 1e-10 || math.Abs(got/deg-want) > 1e-6 {
			t.Errorf("%v°: %v and %v, want %v", bend, got/deg, Turned(45*deg, bend*deg)/deg, want)
		}
	}
	// Fastest less one and the couples, computed by the definition: 1/cos β − 1, tan β and sin β.
	for bend, want := range map[float64][3]float64{5: {.003820, .087489, .087156}, 10: {.015427, .176327, .173648}, 20: {.064178, .363970, .342020}} {
		a, b := Couples(1, bend*deg)
		if math.Abs(Speed(0, bend*deg)-1-want[0]) > 1e-6 || math.Abs(a-want[1]) > 1e-6 || math.Abs(b-want[2]) > 1e-6 {
			t.Errorf("%v°: %v %v %v", bend, Speed(0, bend*deg)-1, a, b)
		}
	}
	// 5° at 39.15 Hz: 461 rad/s².
	if a := Acceleration(5*deg, 39.15*2*math.Pi); math.Abs(a-461.3) > 0.5 {
		t.Errorf("%v rad/s²", a)
	}
}

// compose turns a chain of crosses one after the other and takes the second harmonic of the last shaft: half its amplitude is the square of
// half the equivalent angle's tangent.
func compose(chain []Joint) float64 {
	const n = 512
	re, im := 0.0, 0.0
	for i := range n {
		in := 2 * math.Pi * float64(i) / n
		at := in
		for k, j := range chain {
			fork := j.Fork + float64(k)*math.Pi/2 - j.Plane
			at = Turned(at+fork, j.Bend) - fork
		}
		re += (at - in) * math.Cos(2*in) * 2 / n
		im += (at - in) * math.Sin(2*in) * 2 / n
	}
	return 2 * math.Atan(math.Sqrt(math.Hypot(re, im)))
}

func TestAChainAgainstItsJointsTurned(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 3))
	for range 300 {
		var chain []Joint
		for range 2 + r.IntN(2) {
			chain = append(chain, Joint{Bend: 8 * deg * r.Float64(), Plane: 2 * math.Pi * r.Float64(), Fork: math.Pi * r.Float64()})
		}
		got, err := Equivalent(chain)
		if err != nil {
			t.Fatal(err)
		}
		if want := compose(chain); math.Abs(got-want) > 0.05*deg {
			t.Errorf("%v° against %v° turned: %+v", got/deg, want/deg, chain)
		}
	}
	// Equal angles in one plane on a phased shaft cancel; 5° against 4.2° leave 2.71°.
	for _, c := range []struct{ a, b, want float64 }{{5, 5, 0}, {5, 4.2, 2.71}} {
		got, _ := Equivalent([]Joint{{Bend: c.a * deg}, {Bend: c.b * deg}})
		if math.Abs(got/deg-c.want) > 0.01 {
			t.Errorf("%v° and %v°: %v°, want %v°", c.a, c.b, got/deg, c.want)
		}
	}
	// Forks a quarter turn off add instead: √(5² + 5²).
	if got, _ := Equivalent([]Joint{{Bend: 5 * deg}, {Bend: 5 * deg, Fork: 90 * deg}}); math.Abs(got/deg-7.07) > 0.02 {
		t.Errorf("crossed forks: %v°", got/deg)
	}
}

// An angle read to 0.1° on each shaft leaves the equivalent of +3, −2, +2.6° far from known (measured with 4,000 drawn errors).
func TestSpreadAgainstDrawnErrors(t *testing.T) {
	chain := []Joint{{Bend: 3 * deg}, {Bend: 2 * deg, Plane: math.Pi}, {Bend: 2.6 * deg}}
	low, high, err := Spread(chain, 0.14*deg)
	if err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(2, 9))
	below, above := 0, 0
	const n = 4000
	for range n {
		drawn := append([]Joint{}, chain...)
		for i := range drawn {
			drawn[i].Bend += 0.14 * deg * r.NormFloat64()
		}
		v, _ := Equivalent(drawn)
		if v < low {
			below++
		}
		if v > high {
			above++
		}
	}
	if below > n*12/100 || above > n*12/100 || below < n/100 || above < n/100 {
		t.Errorf("%.2f° to %.2f°: %d below, %d above of %d", low/deg, high/deg, below, above, n)
	}
}

// A tube of 76.2 × 1.65 mm over 1.5 m, pinned, is critical at 94.3 Hz: the beam cut into pieces and its lowest frequency found by inverse
// iteration gives the same.
func TestCriticalAgainstABeamInPieces(t *testing.T) {
	tube := Tube{Outside: 0.0762, Wall: 0.00165, Length: 1.5, Modulus: SteelModulus, Density: SteelDensity}
	w, err := tube.Critical()
	if err != nil {
		t.Fatal(err)
	}
	const n = 200
	h := tube.Length / n
	in := tube.Outside - 2*tube.Wall
	ei := tube.Modulus * math.Pi / 64 * (math.Pow(tube.Outside, 4) - math.Pow(in, 4))
	ra := tube.Density * math.Pi / 4 * (tube.Outside*tube.Outside - in*in)
	// Bending is twice the second difference, with pinned ends: solve the second difference twice.
	second := func(f []float64) []float64 { // u with u'' = f, u = 0 at both ends
		c, d := make([]float64, n-1), make([]float64, n-1)
		for i := range f {
			m := -2.0
			if i > 0 {
				m -= c[i-1]
			}
			c[i] = 1 / m
			d[i] = f[i] * h * h / m
			if i > 0 {
				d[i] -= d[i-1] / m
			}
		}
		for i := n - 3; i >= 0; i-- {
			d[i] -= c[i] * d[i+1]
		}
		return d
	}
	x := make([]float64, n-1)
	for i := range x {
		x[i] = 1
	}
	value := 0.0
	for range 30 {
		y := second(second(x))
		value = 0
		for _, v := range y {
			value = math.Max(value, math.Abs(v))
		}
		for i := range x {
			x[i] = y[i] / value
		}
	}
	if got := math.Sqrt(ei / ra / value); math.Abs(w/got-1) > 1e-3 || math.Abs(w/2/math.Pi-94.3) > 0.1 {
		t.Errorf("%v Hz, in pieces %v Hz", w/2/math.Pi, got/2/math.Pi)
	}
	if _, err := (Tube{Outside: 0.05, Wall: 0.03, Length: 1}).Critical(); err == nil {
		t.Error("a wall thicker than the tube")
	}
}

// Both planes count: 3° down and 4° aside are 5° (small angles), and a shim turns a mount.
func TestAnglesInBothPlanes(t *testing.T) {
	if b := Between(Direction{}, Direction{3 * deg, 4 * deg}); math.Abs(b/deg-5) > 0.01 {
		t.Errorf("%v°", b/deg)
	}
	if b := Between(Direction{2 * deg, 1 * deg}, Direction{2 * deg, 1 * deg}); b > 1e-12 {
		t.Errorf("%v° of one direction", b/deg)
	}
	if s := Shim(1*deg, 0.12); math.Abs(s-2.095e-3) > 1e-5 {
		t.Errorf("%v m", s)
	}
	if _, err := Equivalent(nil); err == nil {
		t.Error("no joint")
	}
}
