package instruments_test

import (
	"errors"
	"strings"
	"testing"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
)

// on runs an instrument fitted to a unit.
func on(t *testing.T, unit, name string, typed map[string]string) (instrument.Result, error) {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	d, err := instruments.For(name, c.Units[unit])
	if err != nil {
		t.Fatal(err)
	}
	return d.Run(typed, instrument.Terms{})
}

// The design says where its level is read, with the engine running or not: caution, inputs and words follow.
func TestTheLevelFollowsTheDesign(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for unit, want := range map[string]struct {
		plug, running bool
	}{"norrad-h4": {false, true}, "tessaly-p5": {false, false}, "ombrin-s6": {true, true}, "ombrin-m5": {true, false}, "vantrice-t10": {true, true}} {
		d, err := instruments.For("fluid-level", c.Units[unit])
		if err != nil {
			t.Fatal(err)
		}
		plug := strings.HasSuffix(d.Title, "plug")
		running := strings.HasPrefix(strings.Join(d.Cautions, " "), "Engine runs")
		if plug != want.plug || running != want.running || len(d.Steps) < 2 || len(d.Cautions) == 0 {
			t.Errorf("%s: plug %v, engine running %v, %d steps", unit, plug, running, len(d.Steps))
		}
	}
}

// What comes out of a plug, with what ran out or went in, and at which temperature: the state that it means.
func TestWhatComesOutOfThePlug(t *testing.T) {
	for _, c := range []struct {
		typed map[string]string
		state string
		words string
	}{
		{map[string]string{"comes": "thread"}, "ok", "right"},
		{map[string]string{"comes": "nothing"}, "low", "fill until it just runs"},
		{map[string]string{"comes": "stream"}, "over", "catch it"},
		{map[string]string{"comes": "stream", "amount": "1.2 L"}, "over", "Overfilled by 1.2"},
		{map[string]string{"comes": "nothing", "amount": "1.5 qt"}, "low", "add 1.4"},
		{map[string]string{"comes": "nothing", "below": "30 mm"}, "low", "add 1.6"},
		// A thread read far too cold stands over the edge when it is warm.
		{map[string]string{"comes": "thread", "temperature": "-20 °C"}, "over", "Overfilled"},
	} {
		r, err := on(t, "ombrin-s6", "fluid-level", c.typed)
		if err != nil || r.Stated[0].State != c.state || !strings.Contains(r.Headline, c.words) {
			t.Errorf("%v: %+v, %q, %v; want %s", c.typed, r.Stated, r.Headline, err, c.state)
		}
	}
	for at, typed := range map[string]map[string]string{
		"below":  {"comes": "stream", "below": "4 mm"},
		"amount": {"comes": "thread", "amount": "1 L"},
	} {
		_, err := on(t, "ombrin-s6", "fluid-level", typed)
		var ie *instrument.InputError
		if !errors.As(err, &ie) || ie.Input != at {
			t.Errorf("%v: %v, want it at %s", typed, err, at)
		}
	}
}

// Grades become the words of the trade, and what was not looked at says nothing.
func TestGradesBecomeReadings(t *testing.T) {
	for _, c := range []struct {
		typed map[string]string
		want  map[string]string
	}{
		{map[string]string{"look-dark": "3", "look-burnt": "2"}, map[string]string{"fluid-look": "burnt"}},
		{map[string]string{"look-dark": "2", "look-burnt": "0"}, map[string]string{"fluid-look": "dark"}},
		{map[string]string{"look-dark": "0", "look-milky": "0", "look-burnt": "0"}, map[string]string{"fluid-look": "clear"}},
		{map[string]string{"look-milky": "2", "look-plate": "1"}, map[string]string{"fluid-look": "milky", "water-test": "crackles"}},
		{map[string]string{"look-foam": "2"}, map[string]string{"fluid-look": "foam"}},
		{map[string]string{"look-core": "1"}, map[string]string{"paper-spot": "core"}},
		{map[string]string{"look-ring": "1", "look-core": "0"}, map[string]string{"paper-spot": "ring"}},
		{map[string]string{"look-feel": "1"}, map[string]string{"fluid-feel": "gritty"}},
		{map[string]string{"look-sticky": "1"}, map[string]string{"fluid-feel": "sticky"}},
		{map[string]string{"look-gear-oil": "1"}, map[string]string{"fluid-colour": "other"}},
		{map[string]string{}, map[string]string{}},
	} {
		r, err := on(t, "norrad-h4", "fluid-look", c.typed)
		if err != nil || len(r.Stated) != len(c.want) {
			t.Errorf("%v: %+v, %v", c.typed, r.Stated, err)
			continue
		}
		for _, s := range r.Stated {
			if c.want[s.Finding] != s.State {
				t.Errorf("%v: %s is %s, want %s", c.typed, s.Finding, s.State, c.want[s.Finding])
			}
		}
	}
}

// Whether a rise can be told from the usual one depends on what a laboratory repeats.
func TestWhetherARiseCanBeTold(t *testing.T) {
	for values, words := range map[string]string{"35; 36": "slower", "35; 50": "cannot be told", "35; 120": "times as fast"} {
		r, err := on(t, "norrad-h4", "fluid-trend", map[string]string{"measure": "iron", "distances": "10000; 20000 km", "values": values})
		if err != nil || !strings.Contains(r.Headline, words) {
			t.Errorf("%s: %q, %v; want %q", values, r.Headline, err, words)
		}
	}
	for _, bad := range []map[string]string{{"distances": "20000; 10000 km", "values": "1; 2"}, {"distances": "10000 km", "values": "1"}, {"distances": "1; 2 km", "values": "1"}} {
		var ie *instrument.InputError
		if _, err := on(t, "norrad-h4", "fluid-trend", bad); !errors.As(err, &ie) || ie.Accepted == "" {
			t.Errorf("%v: %v", bad, err)
		}
	}
}

// What is renewed is named as the unit has it: a box without a pump has neither cooler nor converter.
func TestSpoiltFluidNamesTheUnitsOwnParts(t *testing.T) {
	list := func(unit string) string {
		r, err := on(t, unit, "fluid-spoilt", map[string]string{"by": "coolant", "driven": "300 km"})
		if err != nil {
			t.Fatal(err)
		}
		var out []string
		for _, b := range r.Figures[0].Bars {
			out = append(out, b.Label)
		}
		return strings.Join(out, "; ")
	}
	if got := list("norrad-h4"); !strings.Contains(got, "overdrive band") || !strings.Contains(got, "converter") || !strings.Contains(got, "cooler") {
		t.Error(got)
	}
	if got := list("ombrin-m5"); strings.Contains(got, "converter") || strings.Contains(got, "cooler") || strings.Contains(got, "clutch") {
		t.Error(got)
	}
	r, err := on(t, "norrad-h4", "fluid-spoilt", map[string]string{"by": "water", "amount": "2 %", "driven": "10 km"})
	if err != nil || len(r.Outputs) != 3 || !strings.Contains(r.Headline, "Change until it is dry") {
		t.Errorf("%q %v", r.Headline, err)
	}
}

// A cooler that is not flushed yet is not judged by its flow; one that passes too little goes.
func TestFlushOrRenew(t *testing.T) {
	for _, c := range []struct {
		typed map[string]string
		words string
	}{
		{map[string]string{"debris": "lining"}, "Not yet"},
		{map[string]string{"debris": "lining", "volume": "1.1 qt"}, "It may stay"},
		{map[string]string{"debris": "lining", "volume": "0.2 qt"}, "Renew it"},
		{map[string]string{"debris": "lining", "volume": "0"}, "Renew it"},
		{map[string]string{"debris": "metal", "cooler": "plates", "volume": "1.1 qt"}, "Renew it"},
	} {
		if r := run(t, "cooler-flush", c.typed); !strings.HasPrefix(r.Headline, c.words) {
			t.Errorf("%v: %q, want %q", c.typed, r.Headline, c.words)
		}
	}
	if r := run(t, "cooler-flush", map[string]string{"debris": "lining", "cooler": "guarded"}); !strings.Contains(r.Detail, "check valve") {
		t.Errorf("%q", r.Detail)
	}
}
