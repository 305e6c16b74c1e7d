// Package balance finds the mass that balances what turns: from amplitude and phase with one trial mass, from amplitudes alone with a trial
// mass at three places, in two planes at once, and the best way to turn a shaft in its flange. It says what force an unbalance makes and
// which grade of quality it is.
//
// Model: a linear rotor. A vibration is the vector V0 of the unbalance that is there plus α times what is added; a run with a trial mass
// gives α [1]. Unbalance is mass times radius; its force is m·r·ω². SI units; angles in radians, counted with the rotation from one mark.
//
// References: [1] influence coefficients as in textbooks of rotor dynamics, recalled from memory: the tests solve a rotor directly instead.
// [2] ISO 21940-11: quality grade G is the permissible e·ω in mm/s, e the unbalance for each kilogram.
package balance

import (
	"fmt"
	"math"
	"math/cmplx"
)

// Force is what an unbalance (kg·m) pulls with at a speed of turning (rad/s).
func Force(unbalance, speed float64) float64 { return unbalance * speed * speed }

// Grades are the quality grades that fit what a drive line turns [2] (which part has which is recalled from memory).
var Grades = []Grade{
	{"G 2.5", 2.5e-3, "turbines, pumps at high speed"},
	{"G 6.3", 6.3e-3, "gears, clutch parts, flywheels by themselves"},
	{"G 16", 16e-3, "driveshafts with special demands, crank drives of cars"},
	{"G 40", 40e-3, "wheels, driveshafts, crank drives mounted soft"},
}

// Grade is one quality grade: the velocity e·ω that it permits, m/s.
type Grade struct {
	Name     string
	Velocity float64
	For      string
}

// Permitted is the unbalance that a grade permits of a rotor of this mass at its highest speed.
func (g Grade) Permitted(mass, speed float64) float64 { return g.Velocity / speed * mass }

// Velocity is e·ω of an unbalance: the number of the grade that it just meets, m/s.
func Velocity(unbalance, mass, speed float64) float64 { return unbalance / mass * speed }

// Vector is a vibration or an unbalance at an angle.
func Vector(size, angle float64) complex128 { return cmplx.Rect(size, angle) }

// Polar is the size of a vector and its angle, 0 to below a full turn.
func Polar(v complex128) (size, angle float64) {
	size, angle = cmplx.Polar(v)
	return size, math.Mod(angle+2*math.Pi, 2*math.Pi)
}

// Single is what balances one plane: before without, after with the trial unbalance (kg·m at its angle) on the rotor.
func Single(before, after, trial complex128) (complex128, error) {
	if trial == 0 {
		return 0, fmt.Errorf("balance: no trial mass; want one that changes the vibration by a third or more")
	}
	moved := after - before
	if cmplx.Abs(moved) < leastMove*cmplx.Abs(before) || moved == 0 {
		return 0, fmt.Errorf("balance: the trial mass changes the vibration by %.0f %%; want a larger one, so that it changes by a third or more", 100*cmplx.Abs(moved)/math.Max(cmplx.Abs(before), 1e-30))
	}
	return -before * trial / moved, nil
}

// leastMove is the share of the vibration that a trial must move for its answer to be more than noise (judgment).
const leastMove = 0.03

// Left is the vibration that a correction leaves, by the same influence.
func Left(before, after, trial, correction complex128) complex128 {
	return before + (after-before)/trial*correction
}

// Two is what balances two planes: vibrations at both without a trial, with the first plane's trial on, with the second's on.
func Two(before, first, second [2]complex128, trials [2]complex128) ([2]complex128, error) {
	if trials[0] == 0 || trials[1] == 0 {
		return [2]complex128{}, fmt.Errorf("balance: a trial mass is missing; want one in each plane, one after the other")
	}
	var a [2][2]complex128 // influence on plane i of unbalance in plane j
	for i := range a {
		a[i][0] = (first[i] - before[i]) / trials[0]
		a[i][1] = (second[i] - before[i]) / trials[1]
	}
	det := a[0][0]*a[1][1] - a[0][1]*a[1][0]
	size := (cmplx.Abs(a[0][0]) + cmplx.Abs(a[0][1])) * (cmplx.Abs(a[1][0]) + cmplx.Abs(a[1][1]))
	if size == 0 || cmplx.Abs(det) < 1e-3*size {
		return [2]complex128{}, fmt.Errorf("balance: both trials move both ends alike; want planes further apart, or one plane alone")
	}
	return [2]complex128{
		-(a[1][1]*before[0] - a[0][1]*before[1]) / det,
		-(a[0][0]*before[1] - a[1][0]*before[0]) / det,
	}, nil
}

// Trial is a trial unbalance that makes about a tenth of the rotor's weight as force (common practice, no source).
func Trial(mass, speed float64) float64 { return 0.1 * mass * 9.80665 / (speed * speed) }

// Thirds is what three runs with one trial mass a third of a turn apart come to.
type Thirds struct {
	Size  float64 // of the correction, in trial masses at the trial's radius
	Angle float64 // where it goes, from the first place with the rotation
	Ratio float64 // vibration that the trial makes alone, of what was found
	Check float64 // how far the runs are from one rotor: 0 when they agree, share of what they should be
}

// FromThirds needs no phase: found without a trial, then with the same trial mass at 0, a third and two thirds of a turn.
//
// The sum of the squares gives what the trial makes alone, t² = ΣA²/3 − O²; the vector of the squares lies at the angle of what is there.
func FromThirds(found float64, with [3]float64) (Thirds, error) {
	if !(found > 0) {
		return Thirds{}, fmt.Errorf("balance: %v without a trial; want more than 0: there is nothing to balance", found)
	}
	s, p := 0.0, complex(0, 0)
	for k, a := range with {
		if !(a >= 0) {
			return Thirds{}, fmt.Errorf("balance: an amplitude of %v; want 0 or more", a)
		}
		s += a * a / 3
		p += complex(a*a/3, 0) * cmplx.Rect(1, 2*math.Pi*float64(k)/3)
	}
	if s <= found*found {
		return Thirds{}, fmt.Errorf("balance: with the trial it shakes no more than without; want a larger trial mass, or readings under like conditions")
	}
	bySize, byPlace := math.Sqrt(s-found*found), cmplx.Abs(p)/found
	// A weak trial is read better from both.
	alone := (bySize + byPlace) / 2
	_, at := Polar(p)
	return Thirds{
		Size:  found / alone,
		Angle: math.Mod(at+math.Pi, 2*math.Pi),
		Ratio: alone / found,
		Check: math.Abs(bySize-byPlace) / alone,
	}, nil
}

// Flange is how vibration follows the way in which a shaft sits in its flange: A² = Level + Swing·cos(turn − Worst).
type Flange struct{ Level, Swing, Worst float64 }

// FromFlange fits three or more runs, each with the shaft turned by so much against its flange (radians). Amplitude squared swings once in
// a turn: the shaft's unbalance is carried round against the flange's.
func FromFlange(turned, amplitude []float64) (Flange, error) {
	if len(turned) != len(amplitude) || len(turned) < 3 {
		return Flange{}, fmt.Errorf("balance: %d runs; want three or more, each with the shaft in another place", len(turned))
	}
	// Normal equations of 1, cos, sin.
	var m [3][4]float64
	for i, t := range turned {
		row := [3]float64{1, math.Cos(t), math.Sin(t)}
		for j := range row {
			for k := range row {
				m[j][k] += row[j] * row[k]
			}
			m[j][3] += row[j] * amplitude[i] * amplitude[i]
		}
	}
	x, ok := solve3(m)
	if !ok {
		return Flange{}, fmt.Errorf("balance: the runs are at fewer than three places; want three different ones")
	}
	return Flange{x[0], math.Hypot(x[1], x[2]), math.Mod(math.Atan2(x[2], x[1])+2*math.Pi, 2*math.Pi)}, nil
}

// At is the vibration to expect with the shaft turned by so much.
func (f Flange) At(turned float64) float64 {
	return math.Sqrt(math.Max(0, f.Level+f.Swing*math.Cos(turned-f.Worst)))
}

// solve3 is Gauss with the largest pivot; false where there is none.
func solve3(m [3][4]float64) (x [3]float64, ok bool) {
	for c := range 3 {
		best := c
		for r := c + 1; r < 3; r++ {
			if math.Abs(m[r][c]) > math.Abs(m[best][c]) {
				best = r
			}
		}
		if math.Abs(m[best][c]) < 1e-9*math.Max(1, math.Abs(m[0][0])) {
			return x, false
		}
		m[c], m[best] = m[best], m[c]
		for r := range 3 {
			if r == c {
				continue
			}
			f := m[r][c] / m[c][c]
			for k := c; k < 4; k++ {
				m[r][k] -= f * m[c][k]
			}
		}
	}
	for c := range 3 {
		x[c] = m[c][3] / m[c][c]
	}
	return x, true
}

// Between divides an unbalance over the two places beside its angle, of so many evenly spaced ones from 0: place, unbalance there. A place
// that gets nothing is left out.
func Between(size, angle float64, places int) map[int]float64 {
	step := 2 * math.Pi / float64(places)
	turn := math.Mod(math.Mod(angle, 2*math.Pi)+2*math.Pi, 2*math.Pi)
	lower := int(turn / step)
	past := turn - float64(lower)*step
	out := map[int]float64{}
	if part := size * math.Sin(step-past) / math.Sin(step); part > 1e-9*size {
		out[lower%places] = part
	}
	if part := size * math.Sin(past) / math.Sin(step); part > 1e-9*size {
		out[(lower+1)%places] = part
	}
	return out
}

// Steel is the density of steel, kg/m³ (common practice, no source).
const Steel = 7850

// Depth is how deep to drill, with a drill of this diameter and a flat end, to take off a mass from a material.
func Depth(mass, diameter, density float64) float64 {
	return mass / (density * math.Pi / 4 * diameter * diameter)
}

// OffCentre is the unbalance of a part that sits off its axis by so much: mass times eccentricity. Measured as runout over a turn, the
// eccentricity is half of it.
func OffCentre(mass, runout float64) float64 { return mass * runout / 2 }
