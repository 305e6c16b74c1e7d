package quantity

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// Measured is a quantity with its standard uncertainty, in SI; U is 0 when none was given.
type Measured struct {
	Quantity
	U float64
}

// plusMinus are the spellings between a value and half the width of its interval.
var plusMinus = []string{"±", "+/-", "+-"}

// ParseMeasured reads what Parse reads, and "1.42 ± 0.02 mm" besides. What stands after the mark is half the width of an
// interval that holds the value 95 times in 100 (coverage factor 2, JCGM 100, 6.3.3), so the standard uncertainty is
// half of it. The unit may stand at either number or at both.
func ParseMeasured(text string, d Dimension, defaultUnit string) (Measured, error) {
	return Style{}.ParseMeasured(text, d, defaultUnit)
}

// ParseMeasured reads a measured value whose numbers are in the style.
func (s Style) ParseMeasured(text string, d Dimension, defaultUnit string) (Measured, error) {
	value, half, found := text, "", false
	for _, mark := range plusMinus {
		if a, b, ok := strings.Cut(text, mark); ok {
			value, half, found = a, b, true
			break
		}
	}
	if !found {
		q, err := s.Parse(text, d, defaultUnit)
		return Measured{Quantity: q}, err
	}
	if _, unit := split(strings.TrimSpace(value)); unit != "" {
		defaultUnit = unit
	} else if _, unit := split(strings.TrimSpace(half)); unit != "" {
		defaultUnit = unit
	}
	q, err := s.parse(value, d, defaultUnit, false)
	if err != nil {
		return Measured{}, err
	}
	w, err := s.parse(half, d, defaultUnit, false)
	if err != nil {
		return Measured{}, err
	}
	_, unit := split(strings.TrimSpace(half))
	if unit == "" {
		unit = defaultUnit
	}
	u, _ := FindUnit(d, unit)
	width := w.SI - u.Offset
	if width < 0 {
		return Measured{}, &ParseError{Text: text, Reason: "the uncertainty is negative", Accepted: "value ± half the width, such as 1.42 ± 0.02 mm"}
	}
	return Measured{q, width / 2}, nil
}

// MaxList is how many values a list may have.
const MaxList = 400

// ParseList reads values of one dimension, separated by semicolons, lines, spaces or by a comma with a space after it:
// "1.80, 1.85 ×3, 1.90 mm". A value may be repeated by "×3" or "3 ×"; a unit after a value holds for those before it that
// have none, back to the last unit.
func ParseList(text string, d Dimension, defaultUnit string) ([]Quantity, error) {
	return Style{}.ParseList(text, d, defaultUnit)
}

// ParseList reads a list whose numbers are in the style; a plain space parts values, not thousands.
func (s Style) ParseList(text string, d Dimension, defaultUnit string) ([]Quantity, error) {
	var out []Quantity
	pending := 0 // values at the end of out whose unit is not yet known
	var bare []float64
	settle := func(unit string) error {
		u, ok := FindUnit(d, unit)
		if !ok {
			return &ParseError{Text: text, Reason: fmt.Sprintf("%q is not a unit of %s", unit, d), Accepted: symbols(d)}
		}
		for i, v := range bare {
			q, err := Of(v, d, u.Symbol)
			if err != nil {
				return err
			}
			out[len(out)-pending+i] = q
		}
		pending, bare = 0, bare[:0]
		return nil
	}
	words, err := listWords(text)
	if err != nil {
		return nil, err
	}
	for _, w := range words {
		number, unit := split(w.text)
		v, err := s.Value(number, false)
		if err != nil {
			if pe, ok := err.(*ParseError); ok && strings.HasPrefix(pe.Reason, "it may be") {
				return nil, pe
			}
			return nil, &ParseError{Text: w.text, Reason: "not a number", Accepted: "numbers such as " + s.Number(1.8, 2) + "; " + s.Number(1.85, 2) + " ×3; " + s.Number(1.9, 2) + " " + defaultUnit}
		}
		if len(out)+w.times > MaxList {
			return nil, &ParseError{Text: text, Reason: "too many values", Accepted: fmt.Sprintf("at most %d", MaxList)}
		}
		for range w.times {
			out, bare, pending = append(out, Quantity{}), append(bare, v), pending+1
		}
		if unit != "" {
			if err := settle(unit); err != nil {
				return nil, err
			}
		}
	}
	return out, settle(defaultUnit)
}

type listWord struct {
	text  string
	times int
}

// listWords splits a list and takes the repeats off.
func listWords(text string) ([]listWord, error) {
	// Glue what belongs to one value, then split at what is left.
	s := strings.NewReplacer(";", "\n", ", ", "\n", "\t", " ", "\r", "\n", "x", "×", "*", "×").Replace(text)
	var out []listWord
	for _, line := range strings.Split(s, "\n") {
		fields := strings.FieldsFunc(line, func(r rune) bool { return r == ' ' })
		for i := 0; i < len(fields); i++ {
			f := fields[i]
			switch {
			case len(out) > 0 && startsWithLetter(f) && !strings.HasPrefix(f, "×"):
				out[len(out)-1].text += " " + f // the unit of the value before
				continue
			case strings.HasPrefix(f, "×") && len(out) > 0: // "1.85 ×3" or "1.85 × 3"
				count := strings.TrimPrefix(f, "×")
				if count == "" && i+1 < len(fields) {
					i++
					count = fields[i]
				}
				n, err := times(count)
				if err != nil {
					return nil, err
				}
				out[len(out)-1].times = n
				continue
			}
			n := 1
			if a, b, ok := strings.Cut(f, "×"); ok { // "1.85×3" or, the smaller a whole number, "3×1.85"
				count, value := b, a
				if wholeNumber(a) && !wholeNumber(b) {
					count, value = a, b
				}
				if value == "" && i+1 < len(fields) {
					i++
					value = fields[i]
				}
				var err error
				if n, err = times(count); err != nil {
					return nil, err
				}
				f = value
			}
			out = append(out, listWord{f, n})
		}
	}
	return out, nil
}

func startsWithLetter(s string) bool {
	return strings.IndexByte("0123456789.,+-", s[0]) < 0
}

func wholeNumber(s string) bool {
	_, err := strconv.Atoi(s)
	return err == nil
}

func times(s string) (int, error) {
	n, err := strconv.Atoi(s)
	if err != nil || n < 1 || n > MaxList {
		return 0, &ParseError{Text: s, Reason: "not a number of pieces", Accepted: fmt.Sprintf("1 to %d, such as 1.85 ×3", MaxList)}
	}
	return n, nil
}

// FormatMeasured writes a value with half the width of its 95 % interval as in files, without marks between thousands.
func (m Measured) FormatMeasured(unit string) string {
	value, half, symbol := m.digits(unit)
	return joined(measuredText(value, half), symbol)
}

// FormatMeasured writes a value with half the width of its 95 % interval, both with as many digits as the width calls
// for: two significant digits of it (JCGM 100, 7.2.6). Without uncertainty it is Format.
func (s Style) FormatMeasured(m Measured, unit string) string {
	value, half, symbol := m.digits(unit)
	if half != "" {
		half = s.Write(half)
	}
	return joined(measuredText(s.Write(value), half), symbol)
}

func measuredText(value, half string) string {
	if half == "" {
		return value
	}
	return value + " ± " + half
}

// digits are those of the value and of half the width of its interval, the latter empty without uncertainty.
func (m Measured) digits(unit string) (value, half, symbol string) {
	u, ok := FindUnit(m.Dimension, unit)
	if !ok || m.U <= 0 || math.IsNaN(m.U) || math.IsInf(m.U, 0) {
		value, symbol = m.Quantity.digits(unit)
		return value, "", symbol
	}
	width := 2 * m.U / u.Factor
	exponent := int(math.Floor(math.Log10(width)))
	if math.Round(width/math.Pow(10, float64(exponent-1))) >= 100 {
		exponent++ // 0.00998 is written 0.010, not 0.0100
	}
	decimals := min(max(0, 1-exponent), 9)
	v := (m.SI - u.Offset) / u.Factor
	if step := math.Pow(10, float64(exponent-1)); step > 1 && step < 1e15 {
		v, width = math.Round(v/step)*step, math.Round(width/step)*step
	}
	return fixed(v, decimals), fixed(width, decimals), u.Symbol
}
