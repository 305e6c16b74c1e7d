package money

import (
	"fmt"
	"math"
	"math/big"
	"strconv"
	"strings"
)

// Fraction is an exact number: hours, litres, a rate, a share. The zero value is nothing.
type Fraction struct {
	num int64
	den int64 // above 0; 0 stands for 1, so that the zero value is nothing
}

func whole(n int64) Fraction { return Fraction{n, 1} }

// Zero reports whether it is nothing.
func (f Fraction) Zero() bool { return f.num == 0 }

func (f Fraction) parts() (num, den int64) {
	if f.den == 0 {
		return f.num, 1
	}
	return f.num, f.den
}

// Float is the nearest double.
func (f Fraction) Float() float64 {
	n, d := f.parts()
	return float64(n) / float64(d)
}

// reduced is n/d in lowest terms; d is not 0.
func reduced(n, d int64) Fraction {
	if d < 0 {
		n, d = -n, -d
	}
	a, b := n, d
	if a < 0 {
		a = -a
	}
	for b != 0 {
		a, b = b, a%b
	}
	if a == 0 {
		return Fraction{0, 1}
	}
	return Fraction{n / a, d / a}
}

// FromText is the number that plain digits such as 84.5 stand for. It fails for what is none and for more digits than fit.
func FromText(plain string) (Fraction, error) {
	before, part, _ := strings.Cut(plain, ".")
	part = strings.TrimRight(part, "0")
	n, err := strconv.ParseInt(before+part, 10, 64)
	if err != nil || len(part) > 15 {
		return Fraction{}, fmt.Errorf("money: %q is no exact number of up to 18 digits", plain)
	}
	den := int64(1)
	for range part {
		den *= 10
	}
	return reduced(n, den), nil
}

// FromFloat is the shortest decimal that reads as v: what was written where v comes from. What has more digits than fit is
// taken to nine decimals. NaN and infinity are nothing: they never get here.
func FromFloat(v float64) Fraction {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return Fraction{}
	}
	text := strconv.FormatFloat(v, 'f', -1, 64)
	if f, err := FromText(text); err == nil {
		return f
	}
	f, err := FromText(strconv.FormatFloat(v, 'f', 9, 64))
	if err != nil {
		return Fraction{}
	}
	return f
}

// Over is the fraction divided by a whole number above 0: minutes over 60 are hours.
func (f Fraction) Over(n int64) Fraction {
	num, den := f.parts()
	return fromRat(new(big.Rat).Quo(big.NewRat(num, den), big.NewRat(n, 1)))
}

// Plus adds.
func (f Fraction) Plus(g Fraction) Fraction {
	a, b := f.parts()
	c, d := g.parts()
	if b == d && a < math.MaxInt64/2 && c < math.MaxInt64/2 && a > math.MinInt64/2 && c > math.MinInt64/2 {
		return reduced(a+c, b)
	}
	return fromRat(new(big.Rat).Add(big.NewRat(a, b), big.NewRat(c, d)))
}

// fromRat takes a number back; what does not fit any more is rounded to nine decimals.
func fromRat(r *big.Rat) Fraction {
	if r.Num().IsInt64() && r.Denom().IsInt64() {
		return Fraction{r.Num().Int64(), r.Denom().Int64()}
	}
	v, _ := r.Float64()
	return FromFloat(v)
}

// Total is what count pieces cost at each whole units of the currency: the exact product, rounded once to minor units, half
// away from zero, as on paper.
func Total(count, each Fraction) Amount {
	a, b := count.parts()
	c, d := each.parts()
	num, over1 := product(a, c)
	num, over2 := product(num, 100)
	den, over3 := product(b, d)
	if over1 || over2 || over3 || num > math.MaxInt64/2-den || num < math.MinInt64/2+den || den > math.MaxInt64/4 {
		return bigTotal(a, b, c, d)
	}
	if num < 0 {
		return Amount(-((-2*num + den) / (2 * den)))
	}
	return Amount((2*num + den) / (2 * den))
}

// product multiplies and says whether that ran over.
func product(a, b int64) (int64, bool) {
	p := a * b
	return p, a != 0 && (p/a != b || a == -1 && b == math.MinInt64)
}

func bigTotal(a, b, c, d int64) Amount {
	num := new(big.Int).Mul(big.NewInt(a), big.NewInt(c))
	num.Mul(num, big.NewInt(200))
	den := new(big.Int).Mul(big.NewInt(b), big.NewInt(d))
	negative := num.Sign() < 0
	num.Abs(num).Add(num, den)
	num.Quo(num, den.Lsh(den, 1))
	if negative {
		num.Neg(num)
	}
	return Amount(num.Int64())
}

// Part is a share of the amount, rounded half away from zero.
func (a Amount) Part(share Fraction) Amount { return Total(a.Exact(), share) }
