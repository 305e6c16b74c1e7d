package money

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"innercompass/core/quantity"
)

// Amount is money in minor units, hundredths of the shop's currency, so that sums on paper close.
type Amount int64

// Most is the largest amount that is taken: a thousand million of the currency. Every sum of an estimate stays far inside
// what an int64, and a double, hold exactly.
const Most Amount = 1e11

// Of rounds a mean or another computed number of whole units of the currency, half away from zero. For what is typed, see
// Parse; for a line, Total.
func Of(major float64) Amount { return Amount(math.Round(major * 100)) }

// Major is the amount in whole units of the currency.
func (a Amount) Major() float64 { return float64(a) / 100 }

// Exact is the amount in whole units of the currency.
func (a Amount) Exact() Fraction { return reduced(int64(a), 100) }

// Format writes the amount as in files, with its sign of currency, two decimals and commas between thousands.
func (a Amount) Format(currency string) string { return a.In(quantity.Style{}, currency) }

// In writes the amount in a style of numbers, with its sign of currency and two decimals.
func (a Amount) In(s quantity.Style, currency string) string {
	minor := int64(a)
	sign := ""
	if minor < 0 {
		sign, minor = "−", -minor
	}
	digits := s.Write(fmt.Sprintf("%d.%02d", minor/100, minor%100))
	if currency == "" {
		return sign + digits
	}
	return currency + "\u00a0" + sign + digits
}

// Error says why a text is no amount, no rate or no number of hours.
type Error struct{ Reason, Accepted string }

func (e *Error) Error() string { return e.Reason + "; want " + e.Accepted }

// Parse reads an amount as it is typed in a style: 1250, 1,250.00 or 12,5. It fails with an Error for less than nothing, more
// than two decimals, and what can be read in two ways.
func Parse(s quantity.Style, text string) (Amount, error) {
	example := "an amount such as 1250, " + s.Write("1250.00") + " or " + s.Write("12.50")
	f, decimals, err := parse(s, text, example)
	switch {
	case err != nil:
		return 0, err
	case decimals > 2:
		return 0, &Error{fmt.Sprintf("%q: more than two decimals", text), example}
	case f.Float() > Most.Major():
		return 0, &Error{fmt.Sprintf("%q: too much", text), example + ", up to " + Most.In(s, "")}
	}
	return Total(f, whole(1)), nil
}

// ParseFraction reads a rate, a share or hours as typed in a style: 84.50, 1,5 or 1 1/2; most is the largest that is taken.
// It fails with an Error.
func ParseFraction(s quantity.Style, text string, most float64) (Fraction, error) {
	example := "a number from 0 to " + s.Write(strconv.FormatFloat(most, 'f', -1, 64)) + ", such as " + s.Write("1.5")
	f, decimals, err := parse(s, text, example)
	switch {
	case err != nil:
		return Fraction{}, err
	case decimals > 6:
		return Fraction{}, &Error{fmt.Sprintf("%q: more than six decimals", text), example}
	case f.Float() > most:
		return Fraction{}, &Error{fmt.Sprintf("%q: too much", text), example}
	}
	return f, nil
}

// parse reads what is not less than nothing, exactly, with the number of decimals that it was typed with.
func parse(s quantity.Style, text, example string) (f Fraction, decimals int, err error) {
	t := strings.TrimSpace(text)
	if t == "" {
		return f, 0, &Error{"empty", example}
	}
	if len(t) > 40 {
		return f, 0, &Error{fmt.Sprintf("%.20q…: too long", text), example}
	}
	if strings.HasPrefix(t, "-") || strings.HasPrefix(t, "−") {
		return f, 0, &Error{fmt.Sprintf("%q: less than nothing", text), example}
	}
	if before, den, ok := strings.Cut(t, "/"); ok {
		f, err := parseFraction(s, before, den)
		if err != nil {
			return f, 0, &Error{fmt.Sprintf("%q: not a number", text), example}
		}
		return f, 0, nil
	}
	plain, err := s.Plain(t, true) // nobody pays thousandths: what looks like one is taken for a slip
	if pe, ok := err.(*quantity.ParseError); ok {
		if strings.HasPrefix(pe.Reason, "it may be") {
			return f, 0, &Error{fmt.Sprintf("%q: %s", text, pe.Reason), pe.Accepted}
		}
		return f, 0, &Error{fmt.Sprintf("%q: not a number", text), example}
	}
	if err != nil || strings.Contains(plain, "e") {
		return f, 0, &Error{fmt.Sprintf("%q: not a number", text), example}
	}
	_, part, _ := strings.Cut(plain, ".")
	f, err = FromText(plain)
	if err != nil {
		return f, 0, &Error{fmt.Sprintf("%q: too much", text), example}
	}
	return f, len(part), nil
}

// parseFraction reads "3/4" and "1 1/2", in whole numbers.
func parseFraction(s quantity.Style, before, den string) (Fraction, error) {
	words := strings.Fields(before)
	d, err := strconv.ParseInt(strings.TrimSpace(den), 10, 32)
	if err != nil || d <= 0 || len(words) < 1 || len(words) > 2 {
		return Fraction{}, fmt.Errorf("money: not a fraction")
	}
	n, err := strconv.ParseInt(words[len(words)-1], 10, 32)
	if err != nil || n < 0 {
		return Fraction{}, fmt.Errorf("money: not a fraction")
	}
	out := reduced(n, d)
	if len(words) == 2 {
		w, err := strconv.ParseInt(words[0], 10, 32)
		if err != nil || w < 0 {
			return Fraction{}, fmt.Errorf("money: not a fraction")
		}
		out = out.Plus(whole(w))
	}
	return out, nil
}
