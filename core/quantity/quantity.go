package quantity

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// Quantity is a value in the SI unit of its dimension. The zero value has no
// dimension and is not valid.
type Quantity struct {
	SI        float64
	Dimension Dimension
}

// Of returns value in the named unit. It reports an error for a unit that the
// dimension does not have and for values that are not finite.
func Of(value float64, d Dimension, unit string) (Quantity, error) {
	u, ok := FindUnit(d, unit)
	if !ok {
		return Quantity{}, &ParseError{Text: unit, Reason: "unknown unit of " + string(d), Accepted: symbols(d)}
	}
	if math.IsNaN(value) || math.IsInf(value, 0) {
		return Quantity{}, &ParseError{Text: fmt.Sprint(value), Reason: "not a finite number", Accepted: "a number such as 35"}
	}
	return Quantity{SI: value*u.Factor + u.Offset, Dimension: d}, nil
}

// In returns the value in the named unit.
func (q Quantity) In(unit string) (float64, error) {
	u, ok := FindUnit(q.Dimension, unit)
	if !ok {
		return 0, &ParseError{Text: unit, Reason: "unknown unit of " + string(q.Dimension), Accepted: symbols(q.Dimension)}
	}
	return (q.SI - u.Offset) / u.Factor, nil
}

// Format writes the value in the named unit with the digits that a reader of
// that unit expects. An unknown unit falls back to the default of the dimension,
// because a number on screen must never appear without one.
func (q Quantity) Format(unit string) string {
	u, ok := FindUnit(q.Dimension, unit)
	if !ok {
		all := UnitsOf(q.Dimension)
		if len(all) == 0 {
			return strconv.FormatFloat(q.SI, 'g', 6, 64)
		}
		u = all[0]
	}
	v, decimals := (q.SI-u.Offset)/u.Factor, u.Decimals
	if decimals == 1 && math.Abs(v) >= 99.95 {
		decimals = 0 // a fourth digit is more than any gauge of the trade reads
	}
	if decimals == 3 && math.Abs(v) >= 99.95 {
		decimals = 1
	}
	s := strconv.FormatFloat(v, 'f', decimals, 64)
	if u.Symbol == "" {
		return s
	}
	return s + " " + u.Symbol
}

// ParseError says what could not be read and what would be.
type ParseError struct {
	Text     string // what was given
	Reason   string
	Accepted string // what would be accepted
}

func (e *ParseError) Error() string {
	return fmt.Sprintf("%q: %s; accepted: %s", e.Text, e.Reason, e.Accepted)
}

// Parse reads a number with an optional unit of dimension d: "35", "35 N·m",
// "25.8 lbf-ft", "3/8 in", "1 1/2 in", "0,25". A bare number is in defaultUnit.
// The decimal mark is a point or a comma; a mark that stands before exactly three
// digits beside another mark is a thousands mark ("1,234.5").
func Parse(text string, d Dimension, defaultUnit string) (Quantity, error) {
	s := strings.TrimSpace(text)
	// The unit "1/min" begins with a digit, so it cannot be told from a fraction.
	number, unit := split(strings.Replace(s, "1/min", "rpm", 1))
	fail := func(reason, accepted string) (Quantity, error) {
		return Quantity{}, &ParseError{Text: text, Reason: reason, Accepted: accepted}
	}
	if number == "" {
		return fail("no number", "a number with a unit of "+string(d)+": "+symbols(d))
	}
	if len(s) > 64 {
		return fail("too long", "at most 64 characters")
	}
	v, err := parseNumber(number)
	if err != nil {
		return fail(err.Error(), "a number such as 35, 0.25, 0,25 or 3/8")
	}
	if unit == "" {
		unit = defaultUnit
	}
	u, ok := FindUnit(d, unit)
	if !ok {
		return fail(fmt.Sprintf("%q is not a unit of %s", unit, d), symbols(d))
	}
	return Of(v, d, u.Symbol)
}

// Window is a closed interval of one dimension, lowest to highest.
type Window struct{ Low, High Quantity }

// ParseWindow reads "55..65 psi" or "55 psi..4.5 bar".
func ParseWindow(text string, d Dimension, defaultUnit string) (Window, error) {
	a, b, ok := strings.Cut(text, "..")
	if !ok {
		return Window{}, &ParseError{Text: text, Reason: "not a window", Accepted: "low..high with a unit, such as 55..65 " + defaultUnit}
	}
	high, err := Parse(b, d, defaultUnit)
	if err != nil {
		return Window{}, err
	}
	if _, unit := split(strings.TrimSpace(b)); unit != "" {
		defaultUnit = unit
	}
	low, err := Parse(a, d, defaultUnit)
	if err != nil {
		return Window{}, err
	}
	if low.SI > high.SI {
		return Window{}, &ParseError{Text: text, Reason: "the low end is above the high end", Accepted: "low..high"}
	}
	return Window{low, high}, nil
}

// Format writes the window with one unit.
func (w Window) Format(unit string) string {
	low := w.Low.Format(unit)
	if i := strings.IndexByte(low, ' '); i > 0 {
		low = low[:i]
	}
	if strings.HasPrefix(low, "-") {
		return low + " to " + w.High.Format(unit)
	}
	return low + "–" + w.High.Format(unit)
}

// split separates the leading number, fractions included, from the unit.
func split(s string) (number, unit string) {
	i := 0
	for i < len(s) && strings.IndexByte("0123456789.,+-/ eE", s[i]) >= 0 {
		// An "e" is part of the number only before a digit or sign after a digit.
		if s[i] == 'e' || s[i] == 'E' {
			if i == 0 || i+1 >= len(s) || strings.IndexByte("0123456789+-", s[i+1]) < 0 {
				break
			}
		}
		// "1/min" is a number followed by a unit that begins with a slash.
		if s[i] == '/' && (i+1 >= len(s) || s[i+1] < '0' || s[i+1] > '9') {
			break
		}
		i++
	}
	return strings.TrimSpace(s[:i]), strings.TrimSpace(s[i:])
}

func parseNumber(s string) (float64, error) {
	if whole, frac, ok := strings.Cut(s, " "); ok && strings.Contains(frac, "/") {
		w, err := parseNumber(whole)
		if err != nil {
			return 0, err
		}
		f, err := parseNumber(frac)
		if err != nil {
			return 0, err
		}
		return w + math.Copysign(f, w), nil
	}
	if num, den, ok := strings.Cut(s, "/"); ok {
		n, err := parseDecimal(num)
		if err != nil {
			return 0, err
		}
		m, err := parseDecimal(den)
		if err != nil {
			return 0, err
		}
		if m == 0 {
			return 0, fmt.Errorf("a fraction over zero")
		}
		return n / m, nil
	}
	return parseDecimal(s)
}

func parseDecimal(s string) (float64, error) {
	s = strings.TrimSpace(s)
	if strings.Contains(s, ",") && strings.Contains(s, ".") {
		if strings.LastIndex(s, ",") > strings.LastIndex(s, ".") {
			s = strings.ReplaceAll(strings.ReplaceAll(s, ".", ""), ",", ".")
		} else {
			s = strings.ReplaceAll(s, ",", "")
		}
	} else {
		s = strings.Replace(s, ",", ".", 1)
	}
	v, err := strconv.ParseFloat(s, 64)
	if err != nil || math.IsInf(v, 0) || math.IsNaN(v) {
		return 0, fmt.Errorf("not a number")
	}
	return v, nil
}

func spelling(s string) string {
	return strings.ToLower(strings.NewReplacer(" ", "", "·", "", "-", "", ".", "", "*", "").Replace(s))
}

func symbols(d Dimension) string {
	var out []string
	for _, u := range UnitsOf(d) {
		if u.Symbol != "" {
			out = append(out, u.Symbol)
		}
	}
	return strings.Join(out, ", ")
}
