// Package joints computes what cross joints do to a shaft that is bent: how unevenly it turns, what couples they make, how joints in a
// chain add up or cancel, where a shaft becomes critical.
//
// A cross joint at an angle β turns the driven shaft by tan θ₂ = tan θ₁/cos β, θ₁ counted from the driving fork standing in the plane of
// the shafts [1]: twice in each turn it is ahead and behind. Couples: the driving shaft is bent by up to T·tan β, the driven one by
// T·sin β. SI units, angles in radians.
//
// Reference: [1] kinematics of the Hooke joint as in textbooks of machine elements, recalled from memory: the tests turn the cross itself
// and integrate the speed.
package joints

import (
	"fmt"
	"math"
	"math/cmplx"
)

// Turned is the angle of the driven shaft when the driving one stands at an angle, without jumps over whole turns.
func Turned(driving, bend float64) float64 {
	// atan2 keeps the quadrant; the rest is whole turns.
	s, c := math.Sincos(driving)
	driven := math.Atan2(s, c*math.Cos(bend))
	return driven + 2*math.Pi*math.Round((driving-driven)/(2*math.Pi))
}

// Speed is how fast the driven shaft turns for each turn of the driving one at an angle: from cos β to 1/cos β.
func Speed(driving, bend float64) float64 {
	c, s := math.Cos(driving), math.Sin(bend)
	return math.Cos(bend) / (1 - s*s*c*c)
}

// Uneven is how far speed swings to either side, as a share of the mean: half of 1/cos β − cos β.
func Uneven(bend float64) float64 { return (1/math.Cos(bend) - math.Cos(bend)) / 2 }

// Acceleration is the greatest of the second harmonic of the driven shaft's turning at a speed: 4ω²·tan²(β/2), rad/s².
func Acceleration(bend, speed float64) float64 {
	t := math.Tan(bend / 2)
	return 4 * speed * speed * t * t
}

// Couples bend the two shafts of a joint that carries a torque, at most, N·m: the driving one and the driven one, twice in each turn.
func Couples(torque, bend float64) (driving, driven float64) {
	return torque * math.Tan(bend), torque * math.Sin(bend)
}

// Direction is where a shaft points: its inclination (down to the back counts as positive) and how far it leads to the right, radians.
type Direction struct{ Down, Right float64 }

// Between is the working angle of a joint between two shafts.
func Between(a, b Direction) float64 {
	x, y := a.unit(), b.unit()
	cross := [3]float64{x[1]*y[2] - x[2]*y[1], x[2]*y[0] - x[0]*y[2], x[0]*y[1] - x[1]*y[0]}
	dot := x[0]*y[0] + x[1]*y[1] + x[2]*y[2]
	return math.Atan2(math.Sqrt(cross[0]*cross[0]+cross[1]*cross[1]+cross[2]*cross[2]), dot)
}

// Plane is the direction in which a joint bends, seen along the shafts: 0 when the second points further down.
func Plane(a, b Direction) float64 { return math.Atan2(b.Right-a.Right, b.Down-a.Down) }

func (d Direction) unit() [3]float64 {
	x, y, z := 1.0, math.Tan(d.Right), math.Tan(d.Down)
	n := math.Sqrt(x*x + y*y + z*z)
	return [3]float64{x / n, y / n, z / n}
}

// Joint is one cross joint of a chain: its angle, the plane in which it bends, and how its driving fork stands turned on its shaft against
// the first joint's (0 when in line, a quarter turn when crossed). Forks of one shaft that are in line are phased.
type Joint struct{ Bend, Plane, Fork float64 }

// Equivalent is the angle of the one joint that would make the last shaft as uneven as the chain does. Each joint adds the square of its
// angle (2·tan(β/2)) as a vector at twice the angle between its driving fork and its plane; driving forks of joints that follow each other
// stand a quarter turn apart on a phased shaft, so that equal angles in one plane cancel.
func Equivalent(chain []Joint) (float64, error) {
	if len(chain) == 0 {
		return 0, fmt.Errorf("joints: no joint; want one or more")
	}
	sum := complex(0, 0)
	for i, j := range chain {
		if !(j.Bend >= 0) || j.Bend > math.Pi/4 {
			return 0, fmt.Errorf("joints: joint %d bends by %.1f°; want 0 to 45", i+1, j.Bend*180/math.Pi)
		}
		b := 2 * math.Tan(j.Bend/2)
		fork := j.Fork + float64(i)*math.Pi/2 // the driving fork of the next joint lies across the driven fork of this one
		sum += complex(b*b, 0) * cmplx.Rect(1, 2*(fork-j.Plane))
	}
	return 2 * math.Atan(math.Sqrt(cmplx.Abs(sum))/2), nil
}

// Spread is how far the equivalent angle may lie apart when each angle was read with a standard uncertainty: its 5 and 95 in 100 points,
// by going through the errors of all joints at five points of their distribution. Angles of neighboring joints share the reading of a shaft;
// they are taken as read each by itself, which makes the spread a little wide or narrow.
func Spread(chain []Joint, u float64) (low, high float64, err error) {
	// Five-point Gauss–Hermite for a normal error, one joint after the other.
	points, weights := []float64{-2.856970, -1.355626, 0, 1.355626, 2.856970}, []float64{0.011257, 0.222076, 0.533333, 0.222076, 0.011257}
	type at struct{ value, weight float64 }
	var all []at
	var walk func(i int, weight float64, sofar []Joint) error
	walk = func(i int, weight float64, sofar []Joint) error {
		if i == len(chain) {
			v, err := Equivalent(sofar)
			all = append(all, at{v, weight})
			return err
		}
		for k, p := range points {
			j := chain[i]
			if j.Bend += p * u; j.Bend < 0 {
				j.Bend, j.Plane = -j.Bend, j.Plane+math.Pi
			}
			if err := walk(i+1, weight*weights[k], append(sofar, j)); err != nil {
				return err
			}
		}
		return nil
	}
	if len(chain) > 4 {
		return 0, 0, fmt.Errorf("joints: %d joints; want at most 4", len(chain))
	}
	if err := walk(0, 1, make([]Joint, 0, len(chain))); err != nil {
		return 0, 0, err
	}
	quantile := func(q float64) float64 {
		best, low, high := 0.0, 0.0, math.Pi/2
		for range 60 {
			best = (low + high) / 2
			below := 0.0
			for _, a := range all {
				if a.value <= best {
					below += a.weight
				}
			}
			if below < q {
				low = best
			} else {
				high = best
			}
		}
		return best
	}
	return quantile(0.05), quantile(0.95), nil
}

// Tube is a shaft of round tube.
type Tube struct {
	Outside, Wall, Length float64 // m; length between its joints
	Modulus, Density      float64 // Pa, kg/m³
}

// Steel tube, and aluminium (common practice, no source).
const (
	SteelModulus, SteelDensity         = 206e9, 7850
	AluminiumModulus, AluminiumDensity = 70e9, 2700
)

// Critical is the turning speed at which the tube bows, pinned at its ends: (π²/L²)·√(EI/ρA), rad/s. Real mounts are soft and bring it
// down.
func (t Tube) Critical() (float64, error) {
	if !(t.Outside > 0) || !(t.Length > 0) || !(t.Wall > 0) || t.Wall > t.Outside/2 {
		return 0, fmt.Errorf("joints: a tube of %v m with a wall of %v m; want a wall up to half of it", t.Outside, t.Wall)
	}
	in := t.Outside - 2*t.Wall
	inertia := math.Pi / 64 * (math.Pow(t.Outside, 4) - math.Pow(in, 4))
	area := math.Pi / 4 * (t.Outside*t.Outside - in*in)
	return math.Pi * math.Pi / (t.Length * t.Length) * math.Sqrt(t.Modulus*inertia/(t.Density*area)), nil
}

// Shim is how much to put under a mount or an axle's spring seat to turn it by an angle over its length.
func Shim(angle, length float64) float64 { return length * math.Tan(angle) }
