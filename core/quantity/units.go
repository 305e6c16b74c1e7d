package quantity

import (
	"math"
	"slices"
)

// Dimension names what a value measures.
type Dimension string

// The dimensions in use, each with its SI unit.
const (
	Length          Dimension = "length"           // m
	Distance        Dimension = "distance"         // m, as driven
	Pressure        Dimension = "pressure"         // Pa
	Torque          Dimension = "torque"           // N·m
	Force           Dimension = "force"            // N
	Mass            Dimension = "mass"             // kg
	Temperature     Dimension = "temperature"      // K
	Volume          Dimension = "volume"           // m³
	Speed           Dimension = "speed"            // m/s
	RotationalSpeed Dimension = "rotational-speed" // rad/s
	Flow            Dimension = "flow"             // m³/s
	Angle           Dimension = "angle"            // rad
	Power           Dimension = "power"            // W
	SpringRate      Dimension = "spring-rate"      // N/m
	Time            Dimension = "time"             // s
	Area            Dimension = "area"             // m²
	Ratio           Dimension = "ratio"            // 1
	Energy          Dimension = "energy"           // J
	Rise            Dimension = "temperature-rise" // K, a difference
	Viscosity       Dimension = "viscosity"        // m²/s, kinematic
	Inertia         Dimension = "inertia"          // kg·m²
	KFactor         Dimension = "k-factor"         // rad/s for each √(N·m)
	Frequency       Dimension = "frequency"        // Hz
	Density         Dimension = "density"          // kg/m³
)

// Unit converts between its own values and SI: si = value·Factor + Offset.
type Unit struct {
	Symbol    string
	Dimension Dimension
	Factor    float64
	Offset    float64
	Decimals  int      // digits after the point that a reader expects
	aliases   []string // other spellings, lower case, without spaces or dots
}

// coarse reports whether nobody reads this to a thousandth: an odometer, a rev counter, a speedometer. What is typed with just
// three digits after the decimal sign is then most likely thousands.
func (u Unit) coarse() bool {
	return u.Decimals == 0 && (u.Dimension == Distance || u.Dimension == RotationalSpeed || u.Dimension == Speed)
}

// Exact definitions (NIST SP 811, appendix B).
const (
	inch     = 0.0254
	pound    = 0.45359237
	gravity  = 9.80665
	poundF   = pound * gravity
	gallonUS = 231 * inch * inch * inch
	psi      = poundF / (inch * inch)
	mile     = 5280 * 12 * inch
)

// units lists every unit; the first of a dimension is its default.
var units = []Unit{
	{"mm", Length, 1e-3, 0, 2, []string{"millimetre", "millimeter"}},
	{"m", Length, 1, 0, 3, []string{"metre", "meter"}},
	{"µm", Length, 1e-6, 0, 0, []string{"um", "micron", "μm"}},
	{"cm", Length, 1e-2, 0, 1, nil},
	{"in", Length, inch, 0, 3, []string{"inch", "inches", "\"", "″"}},
	{"thou", Length, inch / 1000, 0, 0, []string{"mil", "mils"}},
	{"km", Distance, 1e3, 0, 0, []string{"kilometre", "kilometer"}},
	{"mi", Distance, mile, 0, 0, []string{"mile", "miles"}},
	{"bar", Pressure, 1e5, 0, 2, nil},
	{"psi", Pressure, psi, 0, 0, []string{"lbf/in2", "lbf/in²", "lb/in2"}},
	{"kPa", Pressure, 1e3, 0, 0, nil},
	{"inHg", Pressure, 3386.389, 0, 1, []string{"in.hg", "\"hg"}},
	{"Pa", Pressure, 1, 0, 0, nil},
	{"MPa", Pressure, 1e6, 0, 3, nil},
	{"N·m", Torque, 1, 0, 1, []string{"nm"}},
	{"lbf·ft", Torque, poundF * 12 * inch, 0, 1, []string{"lbfft", "ftlb", "ftlbs", "lbft", "ftlbf"}},
	{"lbf·in", Torque, poundF * inch, 0, 0, []string{"lbfin", "inlb", "inlbs", "lbin", "inlbf"}},
	{"N", Force, 1, 0, 1, []string{"newton"}},
	{"kN", Force, 1e3, 0, 1, nil},
	{"lbf", Force, poundF, 0, 1, []string{"lb", "lbs"}},
	{"kg", Mass, 1, 0, 2, nil},
	{"g", Mass, 1e-3, 0, 1, nil},
	{"lb", Mass, pound, 0, 1, []string{"lbs"}},
	{"oz", Mass, pound / 16, 0, 2, []string{"ounce", "ounces"}},
	{"°C", Temperature, 1, 273.15, 0, []string{"c", "degc"}},
	{"°F", Temperature, 5.0 / 9, 459.67 * 5 / 9, 0, []string{"f", "degf"}},
	{"K", Temperature, 1, 0, 0, []string{"kelvin"}},
	{"L", Volume, 1e-3, 0, 1, []string{"litre", "liter"}},
	{"cc", Volume, 1e-6, 0, 0, []string{"ml", "cm3", "cm³"}},
	{"qt", Volume, gallonUS / 4, 0, 1, []string{"quart", "quarts"}},
	{"pt", Volume, gallonUS / 8, 0, 1, []string{"pint", "pints"}},
	{"gal", Volume, gallonUS, 0, 2, []string{"gallon", "gallons"}},
	{"m³", Volume, 1, 0, 4, []string{"m3"}},
	{"km/h", Speed, 1.0 / 3.6, 0, 0, []string{"kmh", "kph"}},
	{"mph", Speed, mile / 3600, 0, 0, []string{"mi/h"}},
	{"m/s", Speed, 1, 0, 1, nil},
	{"rpm", RotationalSpeed, 2 * math.Pi / 60, 0, 0, []string{"r/min", "1/min", "min-1"}},
	{"rad/s", RotationalSpeed, 1, 0, 1, nil},
	{"L/min", Flow, 1e-3 / 60, 0, 2, []string{"lpm"}},
	{"qt/min", Flow, gallonUS / 4 / 60, 0, 2, nil},
	{"m³/s", Flow, 1, 0, 6, []string{"m3/s"}},
	{"°", Angle, math.Pi / 180, 0, 1, []string{"deg", "degrees"}},
	{"turn", Angle, 2 * math.Pi, 0, 2, []string{"turns"}},
	{"rad", Angle, 1, 0, 3, nil},
	{"kW", Power, 1e3, 0, 1, nil},
	{"hp", Power, 550 * 12 * inch * poundF, 0, 0, nil},
	{"W", Power, 1, 0, 0, nil},
	{"N/mm", SpringRate, 1e3, 0, 2, nil},
	{"lbf/in", SpringRate, poundF / inch, 0, 2, []string{"lb/in"}},
	{"N/m", SpringRate, 1, 0, 0, nil},
	{"s", Time, 1, 0, 1, []string{"sec", "second", "seconds"}},
	{"ms", Time, 1e-3, 0, 0, nil},
	{"min", Time, 60, 0, 0, []string{"minute", "minutes"}},
	{"h", Time, 3600, 0, 1, []string{"hour", "hours", "hr"}},
	{"d", Time, 86400, 0, 1, []string{"day", "days"}},
	{"cm²", Area, 1e-4, 0, 1, []string{"cm2"}},
	{"mm²", Area, 1e-6, 0, 0, []string{"mm2"}},
	{"in²", Area, inch * inch, 0, 2, []string{"in2"}},
	{"m²", Area, 1, 0, 4, []string{"m2"}},
	{"", Ratio, 1, 0, 3, []string{"×", "x"}},
	{"%", Ratio, 0.01, 0, 1, []string{"percent"}},
	{"kJ", Energy, 1e3, 0, 1, nil},
	{"J", Energy, 1, 0, 0, nil},
	{"lbf·ft", Energy, poundF * 12 * inch, 0, 0, []string{"ftlbf"}},
	{"°C", Rise, 1, 0, 0, []string{"c", "degc"}},
	{"K", Rise, 1, 0, 0, []string{"kelvin"}},
	{"°F", Rise, 5.0 / 9, 0, 0, []string{"f", "degf"}},
	{"mm²/s", Viscosity, 1e-6, 0, 1, []string{"mm2/s", "cst"}},
	{"kg·m²", Inertia, 1, 0, 3, []string{"kgm2", "kgm²"}},
	{"lb·ft²", Inertia, pound * (12 * inch) * (12 * inch), 0, 2, []string{"lbft2", "lbft²"}},
	{"rpm/√(N·m)", KFactor, 2 * math.Pi / 60, 0, 1, []string{"rpm/√nm", "rpm/sqrt(nm)"}},
	{"rpm/√(lbf·ft)", KFactor, 2 * math.Pi / 60 / math.Sqrt(poundF*12*inch), 0, 0, []string{"rpm/√lbfft", "rpm/sqrt(lbfft)"}},
	{"Hz", Frequency, 1, 0, 1, nil},
	{"kg/m³", Density, 1, 0, 0, []string{"kg/m3"}},
	{"kg/L", Density, 1e3, 0, 3, nil},
}

// UnitsOf returns the units of a dimension, its default first.
func UnitsOf(d Dimension) []Unit {
	var out []Unit
	for _, u := range units {
		if u.Dimension == d {
			out = append(out, u)
		}
	}
	return out
}

// systems are the units of the workshop in each system of units, the usual one first.
var systems = map[Dimension]struct{ metric, customary []string }{
	Length: {[]string{"mm"}, []string{"in", "thou"}}, Distance: {[]string{"km"}, []string{"mi"}}, Pressure: {[]string{"bar", "kPa"}, []string{"psi"}},
	Torque: {[]string{"N·m"}, []string{"lbf·ft", "lbf·in"}}, Force: {[]string{"N"}, []string{"lbf"}}, Mass: {[]string{"kg", "g"}, []string{"lb", "oz"}},
	Temperature: {[]string{"°C"}, []string{"°F"}}, Volume: {[]string{"L"}, []string{"qt", "pt"}}, Speed: {[]string{"km/h"}, []string{"mph"}},
	Flow: {[]string{"L/min"}, []string{"qt/min"}}, Power: {[]string{"kW"}, []string{"hp"}}, SpringRate: {[]string{"N/mm"}, []string{"lbf/in"}},
	Area: {[]string{"cm²"}, []string{"in²"}}, Energy: {[]string{"kJ"}, []string{"lbf·ft"}}, Rise: {[]string{"K"}, []string{"°F"}},
	Inertia: {[]string{"kg·m²"}, []string{"lb·ft²"}}, KFactor: {[]string{"rpm/√(N·m)"}, []string{"rpm/√(lbf·ft)"}},
}

// OtherSystem returns the units in which a value written in this unit is told in the other system; none where both
// systems share their units.
func OtherSystem(d Dimension, unit string) []string {
	switch {
	case unit == "g": // what is weighed in grams is nothing in pounds
		return []string{"oz"}
	case d == Mass && unit == "oz":
		return []string{"g"}
	case d == Mass:
		return map[bool][]string{true: {"kg"}, false: {"lb"}}[unit == "lb"]
	case Customary(d, unit):
		return systems[d].metric
	}
	return systems[d].customary
}

// Customary reports whether a unit is one of feet, pounds and gallons.
func Customary(d Dimension, unit string) bool {
	return slices.Contains(systems[d].customary, unit) || unit == "gal" || unit == "inHg"
}

// FindUnit returns the unit of dimension d written as s, in any known spelling.
func FindUnit(d Dimension, s string) (Unit, bool) {
	for _, u := range units {
		if u.Dimension == d && u.Symbol == s {
			return u, true
		}
	}
	key := spelling(s)
	for _, u := range units {
		if u.Dimension != d {
			continue
		}
		if spelling(u.Symbol) == key {
			return u, true
		}
		for _, a := range u.aliases {
			if a == key {
				return u, true
			}
		}
	}
	return Unit{}, false
}
