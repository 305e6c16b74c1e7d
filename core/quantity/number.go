package quantity

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
	"unicode"
)

// Style is how a shop writes numbers: what stands before decimals and what parts groups of three digits. The zero value is
// that of files and of the command line: a point, and commas between thousands.
type Style struct {
	Decimal rune // '.' or ','; 0 is a point
	Group   rune // ',', '.', a space, an apostrophe; 0 is a comma
}

// Styles are those that a shop may choose, each by what it makes of the same number.
var Styles = []Style{{'.', ','}, {',', '.'}, {'.', thinSpace}, {',', thinSpace}, {'.', '’'}}

// thinSpace keeps the groups of a number on one line.
const thinSpace = '\u202f'

// Sample is the number by which a style is known: "1,234.5".
func (s Style) Sample() string { return s.Number(1234.5, 1) }

// FindStyle returns the style with this sample.
func FindStyle(sample string) (Style, bool) {
	for _, s := range Styles {
		if s.Sample() == sample {
			return s, true
		}
	}
	return Style{}, false
}

func (s Style) marks() (decimal, group rune) {
	decimal, group = s.Decimal, s.Group
	if decimal == 0 {
		decimal = '.'
	}
	if group == 0 {
		group = ','
	}
	return decimal, group
}

// Number writes a value with so many decimals, its thousands parted.
func (s Style) Number(v float64, decimals int) string {
	return s.Write(fixed(v, decimals))
}

// Write puts plain digits such as -1234.5, as strconv writes them, into the style.
func (s Style) Write(plain string) string {
	decimal, group := s.marks()
	digits, sign := plain, ""
	if strings.HasPrefix(digits, "-") {
		sign, digits = "-", digits[1:]
	}
	whole, part, hasPart := strings.Cut(digits, ".")
	if strings.Trim(whole, "0123456789") != "" {
		return plain // not finite, or with an exponent
	}
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + string(group) + whole[i:]
	}
	if hasPart {
		return sign + whole + string(decimal) + part
	}
	return sign + whole
}

// Plain reads a number as it is typed and returns it as strconv reads it, exactly: "1,234.50" becomes "1234.50".
//
// A mark parts thousands only where it stands between groups of three digits; the style's own decimal sign is one, and so is
// the other mark where it cannot part thousands ("0,25"). Of two kinds of mark the last is the decimal sign. What can still be
// read in two ways is refused, with both: the error is a ParseError. coarse says that nobody measures this to a thousandth,
// so that even the style's own sign before just three digits is taken for a slip ("142.000 km").
func (s Style) Plain(text string, coarse bool) (string, error) {
	t := strings.TrimSpace(text)
	fail := func(reason string) (string, error) {
		return "", &ParseError{Text: text, Reason: reason, Accepted: "a number such as " + s.Number(35, 0) + ", " + s.Number(0.25, 2) + " or " + s.Number(2050, 0)}
	}
	sign := ""
	for _, mark := range []string{"-", "−", "+"} {
		if rest, ok := strings.CutPrefix(t, mark); ok {
			if t = rest; mark != "+" {
				sign = "-"
			}
			break // a second sign is no digit
		}
	}
	exponent := ""
	if i := strings.IndexAny(t, "eE"); i >= 0 {
		n, err := strconv.Atoi(t[i+1:])
		if err != nil || n < -300 || n > 300 {
			return fail("not a number")
		}
		t, exponent = t[:i], fmt.Sprintf("e%d", n)
	}
	whole, part, err := s.divide(t, coarse && exponent == "")
	if err != nil {
		if pe, ok := err.(*ParseError); ok {
			pe.Text = text
			return "", pe
		}
		return fail(err.Error())
	}
	if whole = strings.TrimLeft(whole, "0"); whole == "" {
		whole = "0"
	}
	out := sign + whole
	if part != "" {
		out += "." + part
	}
	return out + exponent, nil
}

// divide parts a number without sign and exponent into its digits before and after the decimal sign.
func (s Style) divide(t string, coarse bool) (whole, part string, err error) {
	decimal, group := s.marks()
	marks := []rune{} // in order, spaces and apostrophes each as one kind
	var runs []string // of digits between them
	run := ""
	for _, r := range t {
		switch {
		case r >= '0' && r <= '9':
			run += string(r)
		default:
			kind := mark(r)
			if kind == 0 {
				return "", "", fmt.Errorf("not a number")
			}
			marks, runs, run = append(marks, kind), append(runs, run), ""
		}
	}
	runs = append(runs, run)
	if strings.Join(runs, "") == "" {
		return "", "", fmt.Errorf("not a number")
	}
	if len(marks) == 0 {
		return runs[0], "", nil
	}
	last := marks[len(marks)-1]
	others := marks[:len(marks)-1]
	after := runs[len(runs)-1]
	grouped := func(kinds []rune, runs []string) bool {
		for i, k := range kinds {
			if k != kinds[0] || len(runs[i+1]) != 3 {
				return false
			}
		}
		return len(runs[0]) >= 1 && len(runs[0]) <= 3 && !(len(kinds) > 0 && runs[0] == "0")
	}
	asDecimal := func() (string, string, error) {
		if !grouped(others, runs[:len(runs)-1]) && !(len(others) == 0) {
			return "", "", fmt.Errorf("not a number: its marks part no groups of three digits")
		}
		whole := strings.Join(runs[:len(runs)-1], "")
		if whole == "" {
			whole = "0"
		}
		return whole, after, nil
	}
	asGroup := func() (string, string, error) {
		if !grouped(marks, runs) {
			return "", "", fmt.Errorf("not a number: its marks part no groups of three digits")
		}
		return strings.Join(runs, ""), "", nil
	}
	switch {
	case last != '.' && last != ',': // spaces and apostrophes part thousands
		return asGroup()
	case len(others) > 0 && others[len(others)-1] != last: // 1,234.5 or 1.234,5: whichever the style
		return asDecimal()
	case len(others) > 0: // 1,234,567
		return asGroup()
	case !grouped(marks, runs): // 0,25, 12,5, .5: nothing but decimals
		return asDecimal()
	case last == decimal && coarse, last != decimal && last != group: // 2,050: one or the other
		d, _, _ := asDecimal()
		g, _, _ := asGroup()
		fraction := strings.TrimRight(after, "0")
		short := d
		if fraction != "" {
			short += string(decimal) + fraction
		}
		return "", "", &ParseError{Reason: "it may be " + short + " or " + s.Write(g), Accepted: short + " or " + g + ", without the mark that can be read in two ways"}
	case last == decimal:
		return asDecimal()
	}
	return asGroup()
}

// mark is the kind of a mark inside a number; 0 for what is none.
func mark(r rune) rune {
	switch {
	case r == '.' || r == ',':
		return r
	case r == '\'' || r == '’':
		return '\''
	case r != '\n' && r != '\r' && unicode.IsSpace(r):
		return ' '
	}
	return 0
}

// Value reads a number, or a fraction such as 3/8 or 1 1/2.
func (s Style) Value(text string, coarse bool) (float64, error) {
	t := strings.TrimSpace(text)
	if before, den, ok := strings.Cut(t, "/"); ok {
		before = strings.TrimSpace(before)
		sign, whole, num := 1.0, 0.0, before
		if i := strings.LastIndexFunc(before, unicode.IsSpace); i > 0 {
			w, err := s.decimalValue(before[:i], false)
			if err != nil {
				return 0, err
			}
			whole, num = math.Abs(w), before[i:]
			sign = math.Copysign(1, w)
		}
		n, err := s.decimalValue(num, false)
		if err != nil {
			return 0, err
		}
		d, err := s.decimalValue(den, false)
		if err != nil {
			return 0, err
		}
		if d == 0 {
			return 0, &ParseError{Text: text, Reason: "a fraction over zero", Accepted: "a fraction such as 3/8"}
		}
		return sign * (whole + n/d), nil
	}
	return s.decimalValue(t, coarse)
}

func (s Style) decimalValue(text string, coarse bool) (float64, error) {
	plain, err := s.Plain(text, coarse)
	if err != nil {
		return 0, err
	}
	v, err := strconv.ParseFloat(plain, 64)
	if err != nil || math.IsInf(v, 0) || math.IsNaN(v) {
		return 0, &ParseError{Text: text, Reason: "not a finite number", Accepted: "a number such as 35"}
	}
	return v, nil
}

// figure finds the numbers in a text as files write them: digits with a point, or commas before groups of three.
var figure = regexp.MustCompile(`\d{1,3}(?:,\d{3})+(?:\.\d+)?|\d+(?:\.\d+)?`)

// Localise rewrites the numbers of a text that was written as in files: "1.80; 1,250 mm". It is for values, not for
// sentences: a name such as 5.2 would change too.
func (s Style) Localise(text string) string {
	if s == (Style{}) {
		return text
	}
	decimal, group := s.marks()
	return figure.ReplaceAllStringFunc(text, func(number string) string {
		return strings.NewReplacer(",", string(group), ".", string(decimal)).Replace(number)
	})
}

// Canonical rewrites a value, a list or a window that was typed in the style as files write it, so that it means the same
// whatever style is chosen later. Each number must be one that the style reads; what is none stays.
func (s Style) Canonical(text string) string {
	return typed.ReplaceAllStringFunc(text, func(number string) string {
		plain, err := s.Plain(number, false)
		if err != nil {
			return number
		}
		return plain
	})
}

// typed finds what may be a number with marks: digits, and marks between digits.
var typed = regexp.MustCompile(`\d[\d.,'’\x{202f}\x{a0}]*\d(?:[eE][+-]?\d+)?|[.,]?\d+`)
