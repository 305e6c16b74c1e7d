package quantity

import (
	"math"
	"testing"
)

// Factors as printed in NIST Special Publication 811 (2008), appendix B.8, recalled
// from memory to the digits shown; each is also recomputed from the exact definitions
// of inch, pound, gallon and standard gravity in units.go, so a slip on either side shows.
func TestFactorsOfNISTSP811(t *testing.T) {
	for _, c := range []struct {
		dim     Dimension
		unit    string
		printed float64
		rel     float64 // half of the last printed digit
	}{
		{Pressure, "psi", 6.894757e3, 1e-7},
		{Pressure, "inHg", 3.386389e3, 1e-7}, // inch of mercury, conventional
		{Torque, "lbf·ft", 1.355818, 1e-6},
		{Torque, "lbf·in", 1.129848e-1, 1e-6},
		{Force, "lbf", 4.448222, 1e-6},
		{Volume, "gal", 3.785412e-3, 1e-6},
		{Volume, "qt", 9.463529e-4, 1e-6},
		{Volume, "pt", 4.731765e-4, 1e-6},
		{Speed, "mph", 4.4704e-1, 1e-12},
		{RotationalSpeed, "rpm", 1.047198e-1, 1e-6},
		{Distance, "mi", 1.609344e3, 1e-12},
		{Power, "hp", 7.456999e2, 1e-6},
		{SpringRate, "lbf/in", 1.751268e2, 1e-6},
	} {
		u, ok := FindUnit(c.dim, c.unit)
		if !ok {
			t.Fatalf("no unit %s", c.unit)
		}
		if math.Abs(u.Factor/c.printed-1) > c.rel {
			t.Errorf("%s: %.10g, printed %.10g", c.unit, u.Factor, c.printed)
		}
	}
}

// Fixed points of the temperature scales: 32 °F = 0 °C and 212 °F = 100 °C
// (definition of the Fahrenheit scale in NIST SP 811, 8.5).
func TestFahrenheitFixedPoints(t *testing.T) {
	for f, c := range map[float64]float64{32: 0, 212: 100, -40: -40} {
		q, _ := Of(f, Temperature, "°F")
		if got, _ := q.In("°C"); math.Abs(got-c) > 1e-9 {
			t.Errorf("%v °F = %v °C, want %v", f, got, c)
		}
	}
}

// The other system of a value is never its own, exists, and leads back.
func TestTheOtherSystemLeadsBack(t *testing.T) {
	for d, s := range systems {
		for _, pair := range [][2][]string{{s.metric, s.customary}, {s.customary, s.metric}} {
			for _, unit := range pair[0] {
				if _, ok := FindUnit(d, unit); !ok {
					t.Errorf("no unit %s of %s", unit, d)
				}
				other := OtherSystem(d, unit)
				if d == Mass { // grams are told in ounces: see below
					continue
				}
				if len(other) == 0 || other[0] != pair[1][0] {
					t.Errorf("%s %s is told in %v, want %v", d, unit, other, pair[1])
				}
			}
		}
	}
	for unit, want := range map[string]string{"kg": "lb", "lb": "kg", "g": "oz", "oz": "g"} {
		if other := OtherSystem(Mass, unit); len(other) != 1 || other[0] != want {
			t.Errorf("%s is told in %v, want %s", unit, other, want)
		}
	}
	if other := OtherSystem(RotationalSpeed, "rpm"); len(other) != 0 {
		t.Errorf("rpm is told in %v", other)
	}
}
