package quantity

import (
	"math"
	"testing"
)

func TestAValueWithItsUncertainty(t *testing.T) {
	for text, want := range map[string][2]float64{
		"1.42 ± 0.02 mm":    {1.42e-3, 0.01e-3},
		"1.42 mm ± 0.02 mm": {1.42e-3, 0.01e-3},
		"1.42 mm +/- 20 µm": {1.42e-3, 0.01e-3},
		"1,42 +- 0,02":      {1.42e-3, 0.01e-3},
		"1.42":              {1.42e-3, 0},
	} {
		m, err := ParseMeasured(text, Length, "mm")
		if err != nil || math.Abs(m.SI-want[0]) > 1e-12 || math.Abs(m.U-want[1]) > 1e-12 {
			t.Errorf("%q: %v ± %v, %v", text, m.SI, m.U, err)
		}
	}
	// A difference of temperatures has no offset.
	if m, err := ParseMeasured("90 ± 4 °C", Temperature, "°C"); err != nil || math.Abs(m.SI-363.15) > 1e-9 || math.Abs(m.U-2) > 1e-9 {
		t.Errorf("%+v %v", m, err)
	}
	for _, bad := range []string{"1 ± -2 mm", "1 ± mm", "± 2 mm", "1 ± 2 psi", "1 mm ± NaN"} {
		if m, err := ParseMeasured(bad, Length, "mm"); err == nil {
			t.Errorf("%q was read as %+v", bad, m)
		}
	}
}

func TestListsAsPeopleWriteThem(t *testing.T) {
	for text, want := range map[string][]float64{
		"1.80, 1.85 ×3, 1.90 mm": {1.80, 1.85, 1.85, 1.85, 1.90},
		"1,80; 1,85; 1,90":       {1.80, 1.85, 1.90},
		"2x1.85 1.9x2":           {1.85, 1.85, 1.9, 1.9},
		"1.8\n1.9 mm\n0.2 cm":    {1.8, 1.9, 2.0},
		"0.071 in 1.8 mm":        {1.8034, 1.8},
		"-0.02 0 +0.03":          {-0.02, 0, 0.03},
		"1/2 in":                 {12.7},
		"2 × 3":                  {2, 2, 2},
	} {
		got, err := ParseList(text, Length, "mm")
		if err != nil || len(got) != len(want) {
			t.Errorf("%q: %v %v", text, got, err)
			continue
		}
		for i := range want {
			if math.Abs(got[i].SI-want[i]*1e-3) > 1e-9 || got[i].Dimension != Length {
				t.Errorf("%q: value %d is %v m", text, i, got[i].SI)
			}
		}
	}
	for _, bad := range []string{"1.8, two", "1.8 psi", "1.8×0", "1.8×401", "1e999"} {
		if got, err := ParseList(bad, Length, "mm"); err == nil {
			t.Errorf("%q was read as %v", bad, got)
		}
	}
	if got, err := ParseList("", Length, "mm"); err != nil || len(got) != 0 {
		t.Errorf("nothing: %v %v", got, err)
	}
}

// Two significant digits of the uncertainty (JCGM 100, 7.2.6), and the value to the same place.
func TestUncertaintyDecidesTheDigits(t *testing.T) {
	for _, c := range []struct {
		m    Measured
		unit string
		want string
	}{
		{Measured{Quantity{1.4236e-3, Length}, 0.006e-3}, "mm", "1.424 ± 0.012 mm"},
		{Measured{Quantity{250.4, Torque}, 6}, "N·m", "250 ± 12 N·m"},
		{Measured{Quantity{250.4, Torque}, 0}, "N·m", "250 N·m"},
		{Measured{Quantity{363.15, Temperature}, 1}, "°C", "90.0 ± 2.0 °C"},
	} {
		if got := c.m.FormatMeasured(c.unit); got != c.want {
			t.Errorf("%q, want %q", got, c.want)
		}
	}
}
