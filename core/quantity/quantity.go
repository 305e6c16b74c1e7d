package quantity

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"
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
	si := value*u.Factor + u.Offset
	if math.Abs(si) > mostSI {
		return Quantity{}, &ParseError{Text: fmt.Sprintf("%g %s", value, u.Symbol), Reason: TooLarge, Accepted: "a number such as 35"}
	}
	return Quantity{SI: si, Dimension: d}, nil
}

// TooLarge is the reason of a ParseError for a number beyond all sizes.
const TooLarge = "larger than anything that is measured here"

// mostSI is beyond everything that is measured in a workshop, in any SI unit, and far enough from the end of what a double
// holds that no formula runs over it.
const mostSI = 1e15

// In returns the value in the named unit.
func (q Quantity) In(unit string) (float64, error) {
	u, ok := FindUnit(q.Dimension, unit)
	if !ok {
		return 0, &ParseError{Text: unit, Reason: "unknown unit of " + string(q.Dimension), Accepted: symbols(q.Dimension)}
	}
	return (q.SI - u.Offset) / u.Factor, nil
}

// Format writes the value in the named unit as in files, without marks between thousands.
func (q Quantity) Format(unit string) string {
	text, symbol := q.digits(unit)
	return joined(text, symbol)
}

// Format writes a value in the named unit with the digits that a reader of that unit expects.
func (s Style) Format(q Quantity, unit string) string {
	text, symbol := q.digits(unit)
	return joined(s.Write(text), symbol)
}

func joined(number, symbol string) string {
	if symbol == "" {
		return number
	}
	return number + " " + symbol
}

// digits are those of a value in a unit, with its symbol. An unknown unit falls back to the default of the dimension,
// because a number on screen must never appear without one.
func (q Quantity) digits(unit string) (text, symbol string) {
	u, ok := FindUnit(q.Dimension, unit)
	if !ok {
		all := UnitsOf(q.Dimension)
		if len(all) == 0 {
			return strconv.FormatFloat(q.SI, 'g', 6, 64), ""
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
	return fixed(v, decimals), u.Symbol
}

// fixed writes a value with so many decimals; what rounds to nothing has no sign.
func fixed(v float64, decimals int) string {
	text := strconv.FormatFloat(v, 'f', decimals, 64)
	if strings.Trim(text, "-0.") == "" {
		return strings.TrimPrefix(text, "-")
	}
	return text
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

// Parse reads a number with an optional unit of dimension d: "35", "35 N·m", "25.8 lbf-ft", "3/8 in", "1 1/2 in", "0,25",
// "2,050 rpm". A bare number is in defaultUnit. Numbers are read as in files; see Style for those of a shop.
func Parse(text string, d Dimension, defaultUnit string) (Quantity, error) {
	return Style{}.Parse(text, d, defaultUnit)
}

// Parse reads a number in the style, with an optional unit of dimension d. It fails with a ParseError.
func (s Style) Parse(text string, d Dimension, defaultUnit string) (Quantity, error) {
	return s.parse(text, d, defaultUnit, true)
}

func (s Style) parse(text string, d Dimension, defaultUnit string, alone bool) (Quantity, error) {
	t := strings.TrimSpace(text)
	// The unit "1/min" begins with a digit, so it cannot be told from a fraction.
	number, unit := split(strings.Replace(t, "1/min", "rpm", 1))
	fail := func(reason, accepted string) (Quantity, error) {
		return Quantity{}, &ParseError{Text: text, Reason: reason, Accepted: accepted}
	}
	if len(t) > 64 {
		return fail("too long", "at most 64 characters")
	}
	if number == "" {
		return fail("no number", "a number with a unit of "+string(d)+": "+symbols(d))
	}
	if unit == "" {
		unit = defaultUnit
	}
	u, ok := FindUnit(d, unit)
	if !ok {
		return fail(fmt.Sprintf("%q is not a unit of %s", unit, d), symbols(d))
	}
	v, err := s.Value(number, alone && u.coarse())
	if err != nil {
		return Quantity{}, err
	}
	return Of(v, d, u.Symbol)
}

// Window is a closed interval of one dimension, lowest to highest.
type Window struct{ Low, High Quantity }

// ends divides a window as people write one: "55..65", "55 to 65", "55–65", "55-65". A hyphen beside a fraction may belong to a mixed
// number and divides nothing.
func ends(text string) (low, high string, ok bool) {
	for _, between := range []string{"..", " to ", "–"} {
		if low, high, ok = strings.Cut(text, between); ok {
			return low, high, true
		}
	}
	sign := strings.IndexByte(strings.TrimLeft(text, " -"), '-')
	if sign < 0 || strings.Contains(text, "/") {
		return "", "", false
	}
	sign += len(text) - len(strings.TrimLeft(text, " -"))
	return text[:sign], text[sign+1:], true
}

// ParseWindow reads "55..65 psi" or "55 psi to 4.5 bar", numbers as in files.
func ParseWindow(text string, d Dimension, defaultUnit string) (Window, error) {
	a, b, ok := ends(text)
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

// Format writes the window with one unit, as in files.
func (w Window) Format(unit string) string { return Style{}.FormatWindow(w, unit) }

// FormatWindow writes a window with one unit.
func (s Style) FormatWindow(w Window, unit string) string {
	low := s.Format(w.Low, unit)
	if i := strings.IndexByte(low, ' '); i > 0 {
		low = low[:i]
	}
	if strings.HasPrefix(low, "-") {
		return low + " to " + s.Format(w.High, unit)
	}
	return low + "–" + s.Format(w.High, unit)
}

// split separates the leading number, fractions included, from the unit.
func split(text string) (number, unit string) {
	runes := []rune(text)
	digit := func(i int) bool { return i >= 0 && i < len(runes) && runes[i] >= '0' && runes[i] <= '9' }
	i := 0
loop:
	for ; i < len(runes); i++ {
		switch r := runes[i]; {
		case digit(i), r == '.', r == ',', r == '+', r == '-', r == '−', unicode.IsSpace(r):
		case r == '\'' || r == '’': // parts thousands only between digits
			if !digit(i-1) || !digit(i+1) {
				break loop
			}
		case r == '/': // "1/min" is a number and a unit that begins with a slash
			if !digit(i + 1) {
				break loop
			}
		case r == 'e' || r == 'E': // only before a digit or sign after a digit
			if !digit(i-1) || !digit(i+1) && !(i+2 < len(runes) && (runes[i+1] == '+' || runes[i+1] == '-') && digit(i+2)) {
				break loop
			}
		default:
			break loop
		}
	}
	return strings.TrimSpace(string(runes[:i])), strings.TrimSpace(string(runes[i:]))
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
