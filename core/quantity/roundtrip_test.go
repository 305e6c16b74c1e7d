package quantity

import (
	"fmt"
	"math"
	"testing"
)

// What is written can be read again: every unit, small and large, to the digits that are shown.
func TestWhatIsFormattedCanBeParsed(t *testing.T) {
	for _, u := range units {
		for _, v := range []float64{0, 0.5, 1, 12.5, 99.4, 250, 12345} {
			q, err := Of(v, u.Dimension, u.Symbol)
			if err != nil {
				t.Fatal(err)
			}
			back, err := Parse(q.Format(u.Symbol), u.Dimension, u.Symbol)
			if err != nil {
				t.Errorf("%s %q: %v", u.Dimension, q.Format(u.Symbol), err)
				continue
			}
			got, _ := back.In(u.Symbol)
			digit := math.Pow(10, -float64(u.Decimals))
			if u.Decimals == 1 && v >= 99 {
				digit = 1
			}
			if math.Abs(got-v) > 0.5*digit+1e-9 {
				t.Errorf("%s: %v was written %q and read as %v", u.Symbol, v, q.Format(u.Symbol), got)
			}
		}
	}
}

// Going to any other unit of the dimension and back changes nothing.
func TestConvertingThereAndBack(t *testing.T) {
	for _, from := range units {
		for _, to := range UnitsOf(from.Dimension) {
			q, _ := Of(7.25, from.Dimension, from.Symbol)
			v, err := q.In(to.Symbol)
			if err != nil {
				t.Fatal(err)
			}
			back, _ := Of(v, from.Dimension, to.Symbol)
			if w, _ := back.In(from.Symbol); math.Abs(w-7.25) > 1e-9 {
				t.Errorf("%s → %s → %v", from.Symbol, to.Symbol, w)
			}
		}
	}
}

func TestFormatNeverLeavesANumberWithoutUnit(t *testing.T) {
	q, _ := Of(1, Pressure, "bar")
	for unit, want := range map[string]string{"psi": "15 psi", "bar": "1.00 bar", "furlong": "1.00 bar", "": "1.00 bar"} {
		if got := q.Format(unit); got != want {
			t.Errorf("in %q: %q, want %q", unit, got, want)
		}
	}
	if got := (Quantity{SI: 3}).Format("mm"); got != "3" {
		t.Errorf("a quantity without dimension: %q", got)
	}
}

func ExampleParse() {
	for _, text := range []string{"1 1/2 in", "35 ft-lb", "12 parsec"} {
		q, err := Parse(text, Length, "mm")
		if err != nil {
			fmt.Println(err)
			continue
		}
		fmt.Println(q.Format("mm"))
	}
	// Output:
	// 38.10 mm
	// "35 ft-lb": "ft-lb" is not a unit of length; accepted: mm, m, µm, cm, in, thou
	// "12 parsec": "parsec" is not a unit of length; accepted: mm, m, µm, cm, in, thou
}
