package hydraulics

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
)

// Wire is a helical compression spring by its shape, lengths in m.
type Wire struct {
	Diameter float64 // of the wire
	Outside  float64 // diameter of the spring
	Active   float64 // coils that work
	Total    float64 // coils in all
	Shear    float64 // modulus, Pa
}

// MusicWire is the shear modulus of cold-drawn spring steel, 11.85 Mpsi at this size (Shigley, table of moduli, recalled
// from memory).
const MusicWire = 81.7e9

// Rate is G·d⁴/(8·D³·n), D the mean diameter (Shigley, deflection of helical springs) in N/m. It fails on a shape that
// cannot be wound.
func (w Wire) Rate() (float64, error) {
	if err := w.check(); err != nil {
		return 0, err
	}
	d := w.Diameter
	mean := w.Outside - d
	return w.Shear * d * d * d * d / (8 * mean * mean * mean * w.Active), nil
}

func (w Wire) check() error {
	switch {
	case !(w.Diameter > 0) || !(w.Active > 0) || !(w.Shear > 0):
		return errors.New("hydraulics: wire, working coils and modulus must be above 0")
	case !(w.Outside > 3*w.Diameter):
		return fmt.Errorf("hydraulics: outside diameter %.4g mm over wire of %.4g mm cannot be wound; want more than three times the wire", w.Outside*1e3, w.Diameter*1e3)
	}
	return nil
}

// Solid is the length with all coils touching, ends squared and ground.
func (w Wire) Solid() float64 { return w.Total * w.Diameter }

// Stress is the shear stress of the wire under a force, with Wahl's factor for the bend:
// 8·F·D/(π·d³) · ((4C−1)/(4C−4) + 0.615/C), C = D/d (Shigley).
func (w Wire) Stress(force float64) float64 {
	mean := w.Outside - w.Diameter
	c := mean / w.Diameter
	wahl := (4*c-1)/(4*c-4) + 0.615/c
	return wahl * 8 * force * mean / (math.Pi * w.Diameter * w.Diameter * w.Diameter)
}

// Line is a spring as it is weighed: force rises from nothing at its free length.
type Line struct{ Free, Rate float64 }

// Weigh draws the line through two loads at two lengths. It fails when the longer one carries more.
func Weigh(length1, force1, length2, force2 float64) (Line, error) {
	if length1 < length2 {
		length1, force1, length2, force2 = length2, force2, length1, force1
	}
	if !(length1 > length2) || !(force2 > force1) || force1 < 0 {
		return Line{}, errors.New("hydraulics: two lengths are needed, the shorter with more force")
	}
	rate := (force2 - force1) / (length1 - length2)
	return Line{length1 + force1/rate, rate}, nil
}

// Force at a length; none beyond the free length.
func (l Line) Force(length float64) float64 { return math.Max(0, l.Rate*(l.Free-length)) }

// Candidate is a spring on hand.
type Candidate struct {
	Name string
	Line Line
}

// Match is a candidate held against what is wanted.
type Match struct {
	Candidate
	Force float64 // at the working length
	Off   float64 // of that force, as a share of the force wanted
	Rate  float64 // its rate over the rate wanted
}

// Matches ranks springs on hand by the force at the working length, then by rate.
func Matches(want Line, working float64, stock []Candidate) ([]Match, error) {
	need := want.Force(working)
	if !(need > 0) {
		return nil, errors.New("hydraulics: at the working length the spring must press: it is longer than the free length")
	}
	var out []Match
	for _, c := range stock {
		f := c.Line.Force(working)
		out = append(out, Match{c, f, f/need - 1, c.Line.Rate / want.Rate})
	}
	slices.SortStableFunc(out, func(a, b Match) int {
		return cmp.Or(cmp.Compare(math.Round(1000*math.Abs(a.Off)), math.Round(1000*math.Abs(b.Off))), cmp.Compare(math.Abs(math.Log(a.Rate)), math.Abs(math.Log(b.Rate))))
	})
	return out, nil
}
