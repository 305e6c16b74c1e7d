package quantity

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

var (
	point = Style{'.', ','}
	comma = Style{',', '.'}
	space = Style{',', thinSpace}
	swiss = Style{'.', '’'}
)

// A mark parts thousands only where it groups three digits, and the style says what its own marks are. Expected values are
// what each notation means where it is used (common practice, no source).
func TestOneGrammarForNumbers(t *testing.T) {
	for _, c := range []struct {
		style Style
		text  string
		want  float64
	}{
		{point, "2050", 2050}, {point, "2,050", 2050}, {point, "2,050.5", 2050.5}, {point, "1,234,567", 1234567}, {point, "0.25", 0.25}, {point, "0,25", 0.25}, {point, "0,250", 0.25}, {point, "12,5", 12.5},
		{point, "1,2345", 1.2345}, {point, "1.125", 1.125}, {point, "1.234,5", 1234.5}, {point, "1.234.567", 1234567}, {point, "142 000", 142000}, {point, "142\u202f310", 142310}, {point, "1’234’567.8", 1234567.8}, {point, "1'234", 1234},
		{point, "-1,250", -1250}, {point, "−3.5", -3.5}, {point, "+4", 4}, {point, ".5", 0.5}, {point, "5.", 5}, {point, "1e3", 1000}, {point, "2.5e-3", 0.0025}, {point, "3/8", 0.375}, {point, "1 1/2", 1.5}, {point, "-1 1/2", -1.5}, {point, "1,000 1/2", 1000.5},
		{comma, "2.050", 2050}, {comma, "2,050", 2.05}, {comma, "142.000", 142000}, {comma, "1.234.567,8", 1234567.8}, {comma, "0.25", 0.25}, {comma, "1.85", 1.85}, {comma, "1,234.5", 1234.5}, {comma, "1,234,567", 1234567},
		{space, "142 310", 142310}, {space, "0,5", 0.5}, {space, "1.5", 1.5}, {swiss, "1’234.5", 1234.5}, {swiss, "1'234'567", 1234567}, {swiss, "12,5", 12.5},
	} {
		if v, err := c.style.Value(c.text, false); err != nil || v != c.want {
			t.Errorf("%s: %q is %v, %v; want %v", c.style.Sample(), c.text, v, err, c.want)
		}
	}
	for _, c := range []struct {
		style Style
		text  string
	}{
		{point, ""}, {point, "."}, {point, "1,23,456"}, {point, "1,2345,678"}, {point, "1,234.56,7"}, {point, "1 23"}, {point, "12 34 567"}, {point, "1.234 567"}, {point, "--3"}, {point, "1e999"}, {point, "1e"}, {point, "NaN"}, {point, "Inf"}, {point, "0x10"}, {point, "1/0"}, {point, "١٢"},
		{comma, "1.23.456"}, {comma, "1'23"},
	} {
		var pe *ParseError
		if v, err := c.style.Value(c.text, false); !errors.As(err, &pe) || pe.Accepted == "" || pe.Reason == "" {
			t.Errorf("%s: %q is %v, %v; want a ParseError", c.style.Sample(), c.text, v, err)
		}
	}
}

// What can be read in two ways is refused, and both readings are named.
func TestWhatCanBeReadInTwoWaysIsRefused(t *testing.T) {
	for _, c := range []struct {
		style          Style
		text           string
		coarse         bool
		first, another string
	}{
		{space, "2.050", false, "2,05", "2\u202f050"}, {swiss, "2,050", false, "2.05", "2’050"}, {point, "142.000", true, "142", "142,000"}, {comma, "142,310", true, "142,31", "142.310"},
	} {
		var pe *ParseError
		if v, err := c.style.Value(c.text, c.coarse); !errors.As(err, &pe) || !strings.Contains(pe.Reason, c.first+" or "+c.another) {
			t.Errorf("%s: %q is %v, %v; want %s or %s", c.style.Sample(), c.text, v, err, c.first, c.another)
		}
	}
	// Nobody reads an odometer to a metre, but a micrometer is read to a thousandth.
	if _, err := Parse("142.000 km", Distance, "km"); err == nil {
		t.Error("142.000 km was taken")
	}
	if q, err := Parse("1.125 in", Length, "mm"); err != nil || math.Abs(q.SI-0.028575) > 1e-15 {
		t.Errorf("1.125 in: %v %v", q, err)
	}
	if q, err := Parse("2,050 rpm", RotationalSpeed, "rpm"); err != nil || q.Format("rpm") != "2050 rpm" || point.Format(q, "rpm") != "2,050 rpm" {
		t.Errorf("2,050 rpm: %v %v", q, err)
	}
}

// Nothing that is not finite, or so large that a formula would run over, comes in.
func TestNothingTooLargeComesIn(t *testing.T) {
	for _, text := range []string{"1e307 psi", "1e300", "-1e200 bar"} {
		if q, err := Parse(text, Pressure, "bar"); err == nil {
			t.Errorf("%s is %v", text, q)
		}
	}
	if _, err := ParseList("1; 1e299", Length, "m"); err == nil {
		t.Error("a list took 1e299 m")
	}
	if _, err := ParseMeasured("5 ± 1e300", Viscosity, "mm²/s"); err == nil {
		t.Error("an uncertainty of 1e300 was taken")
	}
}

// Every figure that is printed, typed back in, gives the same value: all units of all dimensions, all styles, with and
// without uncertainty. The same value is the one that prints the same: what was rounded off is gone.
func TestWhatIsPrintedReadsBackTheSame(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for _, style := range append([]Style{{}}, Styles...) {
		for _, u := range units {
			for range 400 {
				v := math.Copysign(math.Pow(10, -4+10*r.Float64()), r.Float64()-0.3)
				q, err := Of(v, u.Dimension, u.Symbol)
				if err != nil {
					continue // too large for this unit
				}
				text := style.Format(q, u.Symbol)
				back, err := style.Parse(text, u.Dimension, u.Symbol)
				if err != nil || style.Format(back, u.Symbol) != text || !sameDigits(back, q, u) {
					t.Fatalf("%s: %g %s prints %q, which reads %v, %v", style.Sample(), v, u.Symbol, text, back, err)
				}
				m := Measured{q, math.Abs(v) * u.Factor * math.Pow(10, -3*r.Float64())}
				text = style.FormatMeasured(m, u.Symbol)
				again, err := style.ParseMeasured(text, u.Dimension, u.Symbol)
				if err != nil || style.FormatMeasured(again, u.Symbol) != text {
					t.Fatalf("%s: prints %q, which reads %v and prints %q, %v", style.Sample(), text, again, style.FormatMeasured(again, u.Symbol), err)
				}
			}
		}
	}
}

// sameDigits reports whether two values differ by no more than half of the last digit that was printed.
func sameDigits(back, q Quantity, u Unit) bool {
	plain, _ := q.digits(u.Symbol)
	_, part, _ := strings.Cut(plain, ".")
	return math.Abs(back.SI-q.SI)/u.Factor <= 0.5001*math.Pow(10, -float64(len(part)))
}

func TestStylesAreFoundByTheirSample(t *testing.T) {
	for _, s := range Styles {
		if back, ok := FindStyle(s.Sample()); !ok || back != s {
			t.Errorf("%q: %v %v", s.Sample(), back, ok)
		}
	}
	if _, ok := FindStyle("1234.5"); ok {
		t.Error("a sample that no style gives was found")
	}
	if got := fmt.Sprintf("%s %s %s", point.Number(-1234567.891, 2), comma.Number(0.5, 1), point.Number(math.Inf(1), 0)); got != "-1,234,567.89 0,5 +Inf" {
		t.Error(got)
	}
}

// Whatever is typed, reading it never panics, and what is read prints and reads back the same.
func FuzzNumber(f *testing.F) {
	for _, s := range []string{"1,234.5", "1.234,5", "1 1/2", "−3", "142 000", "1’234", "1e3", "2.050", ".5", "5."} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for _, s := range Styles {
			plain, err := s.Plain(text, false)
			if err != nil || strings.Contains(plain, "e") {
				continue
			}
			if back, err := s.Plain(s.Write(plain), false); err != nil || back != plain && back+"." != plain {
				t.Errorf("%s: %q reads %s, prints %q, reads %s, %v", s.Sample(), text, plain, s.Write(plain), back, err)
			}
		}
	})
}
