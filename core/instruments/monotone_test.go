package instruments_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/unitsheet"
)

// Along a rising value the likelihood of "below" never rises, that of "above" never falls, and all stay
// probabilities: true for every limit of the sheet.
func TestLikelihoodsAreMonotoneInTheValue(t *testing.T) {
	u := h4(t)
	for limit, w := range u.Limits {
		d, err := instruments.For("window:"+limit, u)
		if err != nil {
			t.Fatal(err)
		}
		unit := d.Inputs[0].Unit
		low, _ := w.Low.In(unit)
		high, _ := w.High.In(unit)
		span := math.Max(high-low, 0.1)
		below, above := math.Inf(1), math.Inf(-1)
		for i := range 41 {
			v := math.Max(0, low-span+float64(i)*3*span/40) // no limit of this sheet has less than none
			r, err := d.Run(map[string]string{"value": fmt.Sprintf("%.6f %s", v, unit)}, instrument.Terms{})
			if err != nil {
				t.Fatalf("%s at %v: %v", limit, v, err)
			}
			l := r.Stated[0].Likelihood
			if l["below"] > below+1e-12 || l["above"] < above-1e-12 {
				t.Errorf("%s: not monotone at %v %s", limit, v, unit)
			}
			for state, p := range l {
				if p <= 0 || p >= 1 {
					t.Errorf("%s at %v: %s is %v", limit, v, state, p)
				}
			}
			below, above = l["below"], l["above"]
		}
	}
}

// More height on the stick, less to add: exactly proportional, and nothing to add at the upper mark.
func TestWhatIsMissingIsProportional(t *testing.T) {
	d, err := instruments.For("fluid-level", h4(t))
	if err != nil {
		t.Fatal(err)
	}
	missing := func(mm float64) float64 {
		r, err := d.Run(map[string]string{"height": fmt.Sprintf("%v mm", mm)}, instrument.Terms{})
		if err != nil {
			t.Fatal(err)
		}
		return r.Outputs[0].Value
	}
	if at := missing(14); math.Abs(at) > 1e-12 {
		t.Errorf("at the upper mark %v m³ are missing", at)
	}
	if pint := missing(0); math.Abs(pint-473.176473e-6) > 1e-12 {
		t.Errorf("at the lower mark %v m³ are missing, want one US pint", pint)
	}
	if math.Abs(missing(-14)-2*missing(0)) > 1e-12 {
		t.Error("twice as low is not twice as much")
	}
}

// The order in which pressures were typed, and ranges that no circuit explains, do not move the answer.
func TestPressurePatternNeedsThreeRangesAndIgnoresOrder(t *testing.T) {
	d, err := instruments.For("line-pressure", h4(t))
	if err != nil {
		t.Fatal(err)
	}
	few := map[string]string{"D2": "60", "D3": "41"}
	if _, err := d.Run(few, instrument.Terms{}); err == nil {
		t.Error("two ranges were taken for a pattern")
	}
	first := ""
	for range 20 { // map order differs from run to run
		r, err := d.Run(map[string]string{"R": "76", "D1": "60", "D2": "60", "D3": "41", "D4": "43", "M1": "76"}, instrument.Terms{})
		if err != nil {
			t.Fatal(err)
		}
		if first == "" {
			first = r.Headline + r.Stated[0].Value
		}
		if got := r.Headline + r.Stated[0].Value; got != first {
			t.Fatalf("%q and %q", got, first)
		}
	}
}

// The limits of a report are those of the unit: what is much in most boxes is ordinary in one with yellow metal.
func TestReportLimitsAreThoseOfTheUnit(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	text := func(u *unitsheet.Unit) string {
		d, err := instruments.For("fluid-report", u)
		if err != nil {
			t.Fatal(err)
		}
		r, err := d.Run(map[string]string{"copper": "70", "distance": "40000 km"}, instrument.Terms{})
		if err != nil {
			t.Fatal(err)
		}
		return r.Figures[0].Bars[0].Text
	}
	if most, own := text(nil), text(c.Units["norrad-v3"]); !strings.HasSuffix(most, "raised") || !strings.HasSuffix(own, "usual") {
		t.Errorf("most units: %q, this one: %q", most, own)
	}
}
