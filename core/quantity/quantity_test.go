package quantity

import (
	"errors"
	"math"
	"strings"
	"testing"
)

func near(a, b, rel float64) bool { return math.Abs(a-b) <= rel*math.Max(1, math.Abs(b)) }

func TestParseAcceptsWhatIsWrittenAtABench(t *testing.T) {
	for _, c := range []struct {
		text string
		dim  Dimension
		unit string
		si   float64
	}{
		{"35", Torque, "N·m", 35},
		{"35 N·m", Torque, "lbf·ft", 35},
		{"35 ft-lb", Torque, "N·m", 35 * 1.3558179483314004},
		{"25.8 lbf-ft", Torque, "N·m", 25.8 * 1.3558179483314004},
		{"3/8 in", Length, "mm", 0.009525},
		{"1 1/2 in", Length, "mm", 0.0381},
		{"0,25", Length, "mm", 0.00025},
		{"1,234.5 mm", Length, "in", 1.2345},
		{"1.234,5 mm", Length, "in", 1.2345},
		{"0.048 in", Length, "mm", 0.0012192},
		{"48 thou", Length, "mm", 0.0012192},
		{"2 pt", Volume, "L", 2 * 0.000473176473},
		{"900 1/min", RotationalSpeed, "rpm", 900 * math.Pi / 30},
		{"-40 °F", Temperature, "°C", 233.15},
		{"1e2 psi", Pressure, "bar", 689475.7293168361},
		{"5e Pa", Pressure, "bar", math.NaN()},
	} {
		q, err := Parse(c.text, c.dim, c.unit)
		if math.IsNaN(c.si) {
			if err == nil {
				t.Errorf("Parse(%q) = %v, want an error", c.text, q)
			}
			continue
		}
		if err != nil || !near(q.SI, c.si, 1e-12) {
			t.Errorf("Parse(%q) = %v, %v; want %v", c.text, q.SI, err, c.si)
		}
	}
}

func TestParseSaysWhatWouldBeAccepted(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{"", "no number"},
		{"abc", "no number"},
		{"12 parsec", "psi"},
		{"1/0 psi", "over zero"},
		{"1.2.3 psi", "not a number"},
		{"1e999 psi", "not a number"},
		{strings.Repeat("1", 80), "too long"},
	} {
		_, err := Parse(c.text, Pressure, "psi")
		var pe *ParseError
		if !errors.As(err, &pe) || !strings.Contains(err.Error(), c.want) || pe.Accepted == "" {
			t.Errorf("Parse(%q): %v, want a ParseError with %q", c.text, err, c.want)
		}
	}
}

func TestWindowsAsPeopleWriteThem(t *testing.T) {
	for text, want := range map[string]string{
		"55 to 65 psi": "55–65 psi", "55-65 psi": "55–65 psi", "55–65 psi": "55–65 psi", "55 psi - 65 psi": "55–65 psi", "-5 to 12 °C": "-5 to 12 °C", "-5-12 °C": "-5 to 12 °C", "0-2.5 mm": "0.00–2.50 mm",
	} {
		d, unit := Pressure, "psi"
		if strings.HasSuffix(text, "°C") {
			d, unit = Temperature, "°C"
		} else if strings.HasSuffix(text, "mm") {
			d, unit = Length, "mm"
		}
		w, err := ParseWindow(text, d, "")
		if err != nil {
			t.Errorf("%q: %v", text, err)
		} else if got := w.Format(unit); got != want {
			t.Errorf("%q is %q, want %q", text, got, want)
		}
	}
	// One and a half inches are no window.
	if w, err := ParseWindow("1-1/2 in", Length, ""); err == nil {
		t.Errorf("a mixed number is a window: %v", w)
	}
}

func TestWindow(t *testing.T) {
	w, err := ParseWindow("55..65 psi", Pressure, "bar")
	if err != nil || w.Format("psi") != "55–65 psi" {
		t.Fatalf("%v %v", w.Format("psi"), err)
	}
	for _, bad := range []string{"55", "65..55 psi", "a..b"} {
		if _, err := ParseWindow(bad, Pressure, "psi"); err == nil {
			t.Errorf("ParseWindow(%q) gave no error", bad)
		}
	}
}

func TestEveryUnitComesBackAsItself(t *testing.T) {
	for _, u := range units {
		q, err := Of(12.5, u.Dimension, u.Symbol)
		if err != nil {
			t.Fatal(err)
		}
		v, err := q.In(u.Symbol)
		if err != nil || !near(v, 12.5, 1e-12) {
			t.Errorf("%s %s: 12.5 came back as %v (%v)", u.Dimension, u.Symbol, v, err)
		}
		if _, ok := FindUnit(u.Dimension, strings.ToUpper(u.Symbol)); !ok {
			t.Errorf("%s in capitals is not understood", u.Symbol)
		}
	}
}

func TestUnitsOfAnotherDimensionAreRefused(t *testing.T) {
	if _, err := Parse("5 psi", Length, "mm"); err == nil {
		t.Error("a pressure was read as a length")
	}
	q, _ := Of(1, Length, "m")
	if _, err := q.In("bar"); err == nil {
		t.Error("a length was given in bar")
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"35 N·m", "3/8 in", "0,25", "-1 1/2 in", "1e5", "/", "1/", "é"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		q, err := Parse(s, Length, "mm")
		if err == nil && (math.IsNaN(q.SI) || math.IsInf(q.SI, 0)) {
			t.Fatalf("Parse(%q) gave %v", s, q.SI)
		}
	})
}
