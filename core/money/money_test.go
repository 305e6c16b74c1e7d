package money

import (
	"errors"
	"fmt"
	"math/big"
	"math/rand/v2"
	"strings"
	"testing"

	"innercompass/core/quantity"
)

var (
	point = quantity.Style{Decimal: '.', Group: ','}
	comma = quantity.Style{Decimal: ',', Group: '.'}
)

// A typed price must not become another: the reading of each is what the notation means (common practice, no source).
func TestAmountsAsTheyAreTyped(t *testing.T) {
	for _, c := range []struct {
		style quantity.Style
		text  string
		want  Amount
	}{
		{point, "1250", 125000}, {point, "1,250", 125000}, {point, "1,250.00", 125000}, {point, "12,5", 1250}, {point, "12.50", 1250}, {point, "1.250,00", 125000}, {point, "0.1", 10}, {point, " 9.80 ", 980}, {point, "1 250.5", 125050}, {point, "1 1/2", 150},
		{comma, "1.200", 120000}, {comma, "1.200,50", 120050}, {comma, "1200,5", 120050}, {comma, "9.80", 980},
	} {
		if a, err := Parse(c.style, c.text); err != nil || a != c.want {
			t.Errorf("%s: %q is %d, %v; want %d", c.style.Sample(), c.text, a, err, c.want)
		}
	}
	for _, c := range []struct {
		style        quantity.Style
		text, reason string
	}{
		{point, "1.200", "1.2 or 1,200"}, {comma, "1,200", "1,2 or 1.200"}, {point, "", "empty"}, {point, "-3", "less than nothing"}, {point, "−3", "less than nothing"}, {point, "1.2345", "more than two decimals"}, {point, "NaN", "not a number"},
		{point, "1e3", "not a number"}, {point, "1e12", "not a number"}, {point, "99999999999", "too much"}, {point, "1/0", "not a number"}, {point, strings.Repeat("9", 41), "too long"}, {point, "free", "not a number"},
	} {
		var e *Error
		if a, err := Parse(c.style, c.text); !errors.As(err, &e) || !strings.Contains(e.Reason, c.reason) || e.Accepted == "" {
			t.Errorf("%s: %q is %d, %v; want %s", c.style.Sample(), c.text, a, err, c.reason)
		}
	}
}

// Every amount that is printed, typed back in, is the same amount.
func TestPrintedAmountsReadBackTheSame(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for _, s := range quantity.Styles {
		for range 2000 {
			a := Amount(r.Int64N(int64(Most)))
			if r.IntN(3) == 0 {
				a %= 200000
			}
			if back, err := Parse(s, a.In(s, "")); err != nil || back != a {
				t.Fatalf("%s: %s reads %d, %v; want %d", s.Sample(), a.In(s, ""), back, err, a)
			}
		}
	}
	if got := fmt.Sprint(Amount(-123456).In(comma, "€"), "|", Amount(5).Format("$")); got != "€\u00a0−1.234,56|$\u00a00.05" {
		t.Error(got)
	}
}

// A hundred thousand random bills: lines of hours and pieces at rates and prices, small parts as a share of them, tax on the
// sum. Each line, the sum, the tax and the total against math/big, to the cent.
func TestBillsAgainstExactArithmetic(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	decimal := func(most int64, decimals int) (Fraction, *big.Rat) {
		scale := int64(1)
		for range decimals {
			scale *= 10
		}
		n := r.Int64N(most * scale)
		text := fmt.Sprintf("%d.%0*d", n/scale, decimals, n%scale)
		f, err := FromText(text)
		if err != nil {
			t.Fatal(err)
		}
		return f, big.NewRat(n, scale)
	}
	for bill := range 100_000 {
		var net Amount
		exact := new(big.Int)
		rate, exactRate := decimal(300, 2+r.IntN(2))
		for range 1 + r.IntN(6) {
			var count, each Fraction
			var exactCount, exactEach *big.Rat
			switch r.IntN(3) {
			case 0: // hours from minutes
				m := r.Int64N(4000)
				count, exactCount = whole(m).Over(60), big.NewRat(m, 60)
				each, exactEach = rate, exactRate
			case 1: // hours as typed
				count, exactCount = decimal(40, 1+r.IntN(2))
				each, exactEach = rate, exactRate
			default:
				count, exactCount = decimal(20, r.IntN(3))
				each, exactEach = decimal(3000, 2)
			}
			total := Total(count, each)
			want := rounded(new(big.Rat).Mul(exactCount, exactEach))
			if big.NewInt(int64(total)).Cmp(want) != 0 {
				t.Fatalf("bill %d: %v × %v is %d, want %s", bill, exactCount, exactEach, total, want)
			}
			net += total
			exact.Add(exact, want)
		}
		share, exactShare := decimal(1, 3)
		tax := net.Part(share)
		want := rounded(new(big.Rat).Mul(new(big.Rat).SetFrac(exact, big.NewInt(100)), exactShare))
		if big.NewInt(int64(tax)).Cmp(want) != 0 || big.NewInt(int64(net)).Cmp(exact) != 0 {
			t.Fatalf("bill %d: %v of %d is %d, want %s", bill, exactShare, net, tax, want)
		}
	}
}

// rounded is an exact number of whole units in minor units, half away from zero.
func rounded(r *big.Rat) *big.Int {
	minor := new(big.Rat).Mul(r, big.NewRat(100, 1))
	two := new(big.Int).Mul(minor.Num(), big.NewInt(2))
	two.Add(two, minor.Denom())
	return two.Quo(two, new(big.Int).Mul(minor.Denom(), big.NewInt(2)))
}

// 1.15 h at 70 are 80.50; in doubles 1.15 × 70 × 100 is 8049.999…, which the same rounding still mends, but 8.165 does not.
func TestHalfACentGoesUp(t *testing.T) {
	for _, c := range []struct {
		count, each float64
		want        Amount
	}{{1.15, 70, 8050}, {1, 8.165, 817}, {0.35, 82.9, 2902}, {1.1, 1.1, 121}, {-1, 8.165, -817}, {0, 99, 0}} {
		if got := Total(FromFloat(c.count), FromFloat(c.each)); got != c.want {
			t.Errorf("%v × %v is %d, want %d", c.count, c.each, got, c.want)
		}
	}
	big := FromFloat(1e9)
	if got := Total(big, FromFloat(123456.789012)); got != 12345678901200000 {
		t.Errorf("a large product: %d", got)
	}
	var none Fraction
	if !none.Zero() || none.Float() != 0 || Total(none, whole(3)) != 0 || none.Plus(whole(2)).Float() != 2 {
		t.Error("the zero value is not nothing")
	}
}

func TestHoursAndRates(t *testing.T) {
	for text, want := range map[string]float64{"1.5": 1.5, "2,5": 2.5, "1 1/2": 1.5, "3/4": 0.75, "0": 0, "199.999": 199.999} {
		f, err := ParseFraction(point, text, 200)
		if text == "199.999" { // three decimals: it may be thousands
			if err == nil {
				t.Errorf("%q is %v", text, f)
			}
			continue
		}
		if err != nil || f.Float() != want {
			t.Errorf("%q: %v %v", text, f, err)
		}
	}
	for _, text := range []string{"201", "-1", "", "9e99", "Inf", "1.1234567"} {
		var e *Error
		if f, err := ParseFraction(point, text, 200); !errors.As(err, &e) {
			t.Errorf("%q: %v %v", text, f, err)
		}
	}
}
