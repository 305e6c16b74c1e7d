package instruments_test

import (
	"errors"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// loaded compiles the shipped knowledge once for all tests.
var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

func h4(t testing.TB) *unitsheet.Unit {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c.Units["norrad-h4"]
}

func run(t *testing.T, name string, values map[string]string) instrument.Result {
	t.Helper()
	d, err := instruments.For(name, h4(t))
	if err != nil {
		t.Fatal(err)
	}
	r, err := d.Run(values, instrument.Terms{})
	if err != nil {
		t.Fatalf("%s %v: %v", name, values, err)
	}
	return r
}

// Reading a pressure table by the apply chart: common practice, no source.
func TestPressurePatternNamesTheCircuit(t *testing.T) {
	healthy := map[string]string{"P": "60", "R": "76", "N": "60", "D1": "60", "D2": "60", "D3": "60", "D4": "57", "M2": "66", "M1": "76"}
	for _, c := range []struct {
		change map[string]string
		want   string
	}{
		{nil, "as-expected"},
		{map[string]string{"D3": "41", "D4": "43"}, "low-DC"},
		{map[string]string{"R": "55"}, "low-RC"}, // the low-reverse brake holds in M1, so it is the reverse clutch
		{map[string]string{"R": "55", "M1": "52"}, "low-LB"},
		{map[string]string{"D4": "40", "M2": "45"}, "low-OB"},
		{map[string]string{"P": "40", "R": "50", "N": "40", "D1": "40", "D2": "40", "D3": "40", "D4": "38", "M2": "40", "M1": "50"}, "low-all"},
		{map[string]string{"P": "90", "R": "110", "N": "90", "D1": "90", "D2": "90", "D3": "90", "D4": "90", "M2": "90", "M1": "110"}, "high-all"},
		{map[string]string{"D1": "40", "N": "40"}, "erratic"},
	} {
		values := map[string]string{}
		for k, v := range healthy {
			values[k] = v
		}
		for k, v := range c.change {
			values[k] = v
		}
		if got := run(t, "line-pressure", values).Stated[0].State; got != c.want {
			t.Errorf("%v: %s, want %s", c.change, got, c.want)
		}
	}
}

// Any unit in, same answer.
func TestUnitsDoNotMatter(t *testing.T) {
	for _, c := range []struct {
		name string
		a, b map[string]string
	}{
		{"window:clearance-DC", map[string]string{"value": "1.5 mm"}, map[string]string{"value": "0.0590551181 in"}},
		{"fluid-level", map[string]string{"height": "-12 mm"}, map[string]string{"height": "-1.2 cm"}},
		{"line-pressure", map[string]string{"D1": "60 psi", "D2": "60", "D3": "41"}, map[string]string{"D1": "413.6854376 kPa", "D2": "4.136854376 bar", "D3": "41 psi"}},
	} {
		a, b := run(t, c.name, c.a), run(t, c.name, c.b)
		if a.Headline != b.Headline || a.Stated[0].State != b.Stated[0].State {
			t.Errorf("%s: %q and %q", c.name, a.Headline, b.Headline)
		}
	}
}

// A quart low is low: two pints to the quart, one pint between these marks (common practice, no source).
func TestAQuartLowIsTwoPintsUnderTheLowerMark(t *testing.T) {
	r := run(t, "fluid-level", map[string]string{"height": "-14 mm"})
	if r.Stated[0].State != "low" || !strings.Contains(r.Headline, "2.0 pt") || !strings.Contains(r.Headline, "1.0 qt") {
		t.Errorf("%q", r.Headline)
	}
}

// About a third low is the stator freewheel; a little low is the engine; high is slip (common practice, no source).
func TestStallSpeedIsReadAsThePractitionerDoes(t *testing.T) {
	for speed, want := range map[string]string{"2050 rpm": "normal", "1380 rpm": "much-low", "1800 rpm": "low", "2500 rpm": "high"} {
		if got := run(t, "stall-speed", map[string]string{"speed": speed}).Stated[0].State; got != want {
			t.Errorf("%s: %s, want %s", speed, got, want)
		}
	}
}

// Near a limit the gauge cannot tell, and the likelihoods say so instead of a verdict.
func TestNearALimitTheLikelihoodIsSplit(t *testing.T) {
	l := run(t, "window:clearance-DC", map[string]string{"value": "1.85 mm"}).Stated[0].Likelihood
	if l["ok"] < 0.4 || l["above"] < 0.4 || l["below"] > 0.05 {
		t.Errorf("%v", l)
	}
	far := run(t, "window:clearance-DC", map[string]string{"value": "2.4 mm"}).Stated[0].Likelihood
	if far["above"] < 0.95 || far["above"] > 0.999 {
		t.Errorf("even a clear value keeps room for a slip: %v", far)
	}
}

func TestBadInputNamesTheField(t *testing.T) {
	for _, c := range []struct {
		name   string
		values map[string]string
		field  string
	}{
		{"fluid-level", map[string]string{}, "height"},
		{"fluid-level", map[string]string{"height": "much"}, "height"},
		{"fluid-level", map[string]string{"height": "3 m"}, "height"},
		{"fluid-level", map[string]string{"height": "1 mm", "extra": "2"}, "extra"},
		{"stall-speed", map[string]string{"speed": "-5"}, "speed"},
		{"stall-speed", map[string]string{"speed": "NaN"}, "speed"},
		{"line-pressure", map[string]string{"D1": "60"}, "P"},
		{"line-pressure", map[string]string{"D1": "60", "D2": "-1", "D3": "60"}, "D2"},
		{"line-pressure", map[string]string{"D1": "60", "D2": "1e300", "D3": "60"}, "D2"},
	} {
		d, err := instruments.For(c.name, h4(t))
		if err != nil {
			t.Fatal(err)
		}
		_, err = d.Run(c.values, instrument.Terms{})
		var ie *instrument.InputError
		if !errors.As(err, &ie) || ie.Input != c.field || ie.Accepted == "" {
			t.Errorf("%s %v: %v", c.name, c.values, err)
		}
	}
	if _, err := instruments.For("crystal-ball", h4(t)); err == nil {
		t.Error("an unknown instrument was found")
	}
}

func BenchmarkLinePressure(b *testing.B) {
	d, err := instruments.For("line-pressure", h4(b))
	if err != nil {
		b.Fatal(err)
	}
	values := map[string]string{"P": "58", "R": "74", "N": "57", "D1": "58", "D2": "58", "D3": "41", "D4": "47", "M2": "66", "M1": "73"}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := d.Run(values, instrument.Terms{}); err != nil {
			b.Fatal(err)
		}
	}
}

// Whatever is in the hand finds its instruments: every tool belongs to one hand, and no hand is empty.
func TestEveryToolBelongsToOneHand(t *testing.T) {
	home := map[string]string{}
	for _, h := range instrument.Hands {
		for _, tool := range h.Tools {
			if home[tool] != "" {
				t.Errorf("%s is in %s and in %s", tool, home[tool], h.ID)
			}
			home[tool] = h.ID
		}
	}
	met := map[string]bool{}
	for _, d := range instruments.All() {
		held := d.HeldIn()
		for _, tool := range d.Hand {
			if !slices.Contains(held, home[tool]) {
				t.Errorf("%s: %s belongs to no hand", d.ID, tool)
			}
			met[tool] = true
		}
	}
	for tool := range home {
		if !met[tool] {
			t.Errorf("no instrument needs a %s", tool)
		}
	}
}

// instrumentNumber writes a number with digits enough to come back as it went.
func instrumentNumber(v float64) string { return strconv.FormatFloat(v, 'g', 12, 64) }
