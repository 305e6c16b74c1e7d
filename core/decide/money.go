package decide

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// Amount is money in minor units, hundredths of the shop's currency, so that sums on paper close.
type Amount int64

// maxAmount keeps every sum of an estimate far inside what a double holds exactly.
const maxAmount = 1e11

// Of rounds to minor units, half away from zero, as on paper.
func Of(major float64) Amount { return Amount(math.Round(major * 100)) }

// Major is the amount in whole units of the currency.
func (a Amount) Major() float64 { return float64(a) / 100 }

// Part is a share of the amount, rounded.
func (a Amount) Part(share float64) Amount { return Amount(math.Round(float64(a) * share)) }

// Format writes the amount with its sign of currency, two decimals and commas between thousands.
func (a Amount) Format(currency string) string {
	minor := int64(a)
	sign := ""
	if minor < 0 {
		sign, minor = "−", -minor
	}
	whole := strconv.FormatInt(minor/100, 10)
	return strings.TrimSpace(fmt.Sprintf("%s\u00a0%s%s.%02d", currency, sign, thousands(whole), minor%100))
}

func thousands(digits string) string {
	for i := len(digits) - 3; i > 0; i -= 3 {
		digits = digits[:i] + "," + digits[i:]
	}
	return digits
}

// AmountError says why a text is no amount.
type AmountError struct{ Reason, Accepted string }

func (e *AmountError) Error() string { return e.Reason + "; want " + e.Accepted }

// ParseAmount reads an amount such as 1250, 1,250.00 or 12,5: a comma before three digits parts thousands, else it is the
// decimal sign. It fails with an AmountError for less than nothing, more than two decimals and what is no number.
func ParseAmount(text string) (Amount, error) {
	fail := func(reason string) (Amount, error) {
		return 0, &AmountError{fmt.Sprintf("%q: %s", text, reason), "an amount such as 1250, 1,250.00 or 12,50"}
	}
	s := strings.NewReplacer(" ", "", "\u00a0", "", "\u2009", "").Replace(strings.TrimSpace(text))
	if s == "" {
		return fail("empty")
	}
	if strings.HasPrefix(s, "-") || strings.HasPrefix(s, "−") {
		return fail("less than nothing")
	}
	point, comma := strings.LastIndex(s, "."), strings.LastIndex(s, ",")
	whole, part := s, ""
	switch {
	case point > comma && comma >= 0: // 1,250.00
		whole, part = strings.ReplaceAll(s[:point], ",", ""), s[point+1:]
	case comma > point && point >= 0: // 1.250,00
		whole, part = strings.ReplaceAll(s[:comma], ".", ""), s[comma+1:]
	case point >= 0:
		whole, part = s[:point], s[point+1:]
	case comma >= 0 && len(s)-comma-1 == 3 && comma > 0:
		whole = strings.ReplaceAll(s, ",", "")
	case comma >= 0:
		whole, part = s[:comma], s[comma+1:]
	}
	if len(part) > 2 {
		return fail("more than two decimals")
	}
	digits := func(s string) bool { return strings.Trim(s, "0123456789") == "" }
	if !digits(whole) || !digits(part) || whole+part == "" {
		return fail("not an amount")
	}
	v, err := strconv.ParseInt(whole+(part + "00")[:2], 10, 64)
	if err != nil || float64(v) > maxAmount {
		return fail("too much")
	}
	return Amount(v), nil
}
