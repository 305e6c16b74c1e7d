// Package fluid is the arithmetic of the oil in a unit: how thick it is at a temperature, how it expands, how fast it is
// lost, how many changes clean it, how long heat lets it live, what the particles and metals in it come from.
//
// SI units: kinematic viscosity in m²/s, temperature in K, volume in m³, time in s. Invalid for fluids that are not
// Newtonian at the temperature, such as those that are about to freeze.
//
// References: [1] ASTM D341, viscosity-temperature equations for liquid petroleum products; [2] ASTM D2270, viscosity
// index from kinematic viscosity at 40 and 100 °C; [3] ISO 4406, coding of contamination by solid particles. All are
// recalled from memory; the tests hold them against the published worked examples and against themselves.
package fluid

import (
	"fmt"
	"math"
)

// Line is the straight line of a fluid in the chart of ASTM D341: log log Z over log T [1].
type Line struct{ A, B float64 }

const (
	zeroC = 273.15
	mm2   = 1e-6 // m²/s in one mm²/s
)

// Through is the line through two measured viscosities. It fails unless both are between 0.21 and 2e7 mm²/s, the
// temperatures differ, and the fluid is thinner when it is hotter.
func Through(t1, v1, t2, v2 float64) (Line, error) {
	for _, v := range []float64{v1, v2} {
		if !(v >= 0.21*mm2 && v <= 2e7*mm2) {
			return Line{}, fmt.Errorf("fluid: viscosity %v mm²/s is outside what the chart holds; want 0.21 to 20,000,000 mm²/s", v/mm2)
		}
	}
	if t1 > t2 {
		t1, v1, t2, v2 = t2, v2, t1, v1
	}
	if t2-t1 < 1 || t1 <= 0 {
		return Line{}, fmt.Errorf("fluid: both viscosities are of one temperature; want two that differ by 1 °C at least")
	}
	if v2 >= v1 {
		return Line{}, fmt.Errorf("fluid: thicker when hotter; want the higher viscosity at the lower temperature")
	}
	w1, w2 := loglog(v1), loglog(v2)
	b := (w1 - w2) / (math.Log10(t2) - math.Log10(t1))
	return Line{w1 + b*math.Log10(t1), b}, nil
}

// At is the viscosity at a temperature, in m²/s.
func (l Line) At(t float64) float64 {
	z := math.Pow(10, math.Pow(10, l.A-l.B*math.Log10(t)))
	w := z - 0.7
	return mm2 * (w - math.Exp(-0.7487-3.295*w+0.6119*w*w-0.3193*w*w*w))
}

// loglog is log log Z of a viscosity; the exponential matters below 2 mm²/s only [1].
func loglog(v float64) float64 {
	v /= mm2
	return math.Log10(math.Log10(v + 0.7 + math.Exp(-1.47-1.84*v-0.51*v*v)))
}

// Temperature at which the fluid has a viscosity, in K.
func (l Line) Temperature(v float64) float64 {
	return math.Pow(10, (l.A-loglog(v))/l.B)
}

// index holds the polynomials of L and H between two viscosities at 100 °C, in mm²/s [2].
var index = []struct{ from, a, b, c, d, e, f float64 }{
	{2.0, 1.14673, 1.7576, -0.109, 0.84155, 1.5521, -0.077},
	{3.8, 3.38095, -15.4952, 33.196, 0.78571, 1.7929, -0.183},
	{4.4, 2.5000, -7.2143, 13.812, 0.82143, 1.5679, 0.119},
	{5.0, 0.10100, 16.6350, -45.469, 0.04985, 9.1613, -18.557},
	{6.4, 3.35714, -23.5643, 78.466, 0.22619, 7.7369, -16.656},
	{7.0, 0.01191, 21.4750, -72.870, 0.79762, -0.7321, 14.610},
	{7.7, 0.41858, 16.1558, -56.040, 0.05794, 10.5156, -28.240},
	{9.0, 0.88779, 7.5527, -16.600, 0.26665, 6.7015, -10.810},
	{12, 0.76720, 10.7972, -38.180, 0.20073, 8.4658, -22.490},
	{15, 0.97305, 5.3135, -2.200, 0.28889, 5.9741, -4.930},
	{18, 0.97256, 5.2500, -0.980, 0.24504, 7.4160, -16.730},
	{22, 0.91413, 7.4759, -21.820, 0.20323, 9.1267, -34.230},
	{28, 0.87031, 9.7157, -50.770, 0.18411, 10.1015, -46.750},
	{40, 0.84703, 12.6752, -133.310, 0.17029, 11.4866, -80.620},
	{55, 0.85921, 11.1009, -83.19, 0.17130, 11.3680, -76.940},
	{70, 0.83531, 14.6731, -216.246, 0.16841, 11.8493, -96.947},
}

// limits are L and H: the viscosities at 40 °C of oils of index 0 and 100 with this viscosity at 100 °C, in mm²/s.
func limits(y float64) (l, h float64) {
	k := index[0]
	for _, x := range index {
		if y >= x.from {
			k = x
		}
	}
	return k.a*y*y + k.b*y + k.c, k.d*y*y + k.e*y + k.f
}

// Index is the viscosity index from the viscosities at 40 and 100 °C: procedure A up to 100, procedure B above it [2]. It
// fails below 2 mm²/s at 100 °C and for a fluid that is not thicker at 40 °C.
func Index(v40, v100 float64) (float64, error) {
	u, y := v40/mm2, v100/mm2
	if !(y >= 2 && y <= 500) {
		return 0, fmt.Errorf("fluid: %.3g mm²/s at 100 °C has no index; want 2 to 500 mm²/s", y)
	}
	if !(u > y) || math.IsInf(u, 0) {
		return 0, fmt.Errorf("fluid: not thicker at 40 °C than at 100 °C; want the higher viscosity at 40 °C")
	}
	l, h := limits(y)
	if u >= h {
		return 100 * (l - u) / (l - h), nil
	}
	n := (math.Log10(h) - math.Log10(u)) / math.Log10(y)
	return 100 + (math.Pow(10, n)-1)/0.00715, nil
}
