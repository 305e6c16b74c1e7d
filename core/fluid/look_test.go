package fluid_test

import (
	"math"
	"testing"

	"innercompass/core/fluid"
)

// What the trade reads off a drop (common practice, no source): the source that leads.
func TestADropNamesWhatIsBehindIt(t *testing.T) {
	for _, c := range []struct {
		name  string
		seen  map[string]int
		first string
	}{
		{"dark, no smell, no core", map[string]int{"dark": 2, "burnt": 0, "core": 0, "milky": 0}, "age"},
		{"black, burnt, core that stays", map[string]int{"dark": 3, "burnt": 2, "core": 1}, "slip"},
		{"burnt and sticky, no core", map[string]int{"dark": 2, "burnt": 1, "core": 0, "sticky": 1}, "heat"},
		{"milky, crackles, not sweet", map[string]int{"milky": 2, "plate": 1, "sweet": 0}, "water"},
		{"milky and sweet", map[string]int{"milky": 2, "plate": 1, "sweet": 1}, "coolant"},
		{"foam that stays, quiet on the plate", map[string]int{"foam": 2, "plate": 0, "milky": 0}, "air"},
		{"gritty and hardly darker", map[string]int{"feel": 1, "dark": 1, "core": 0}, "wear"},
		{"another colour and smell", map[string]int{"kind": 1, "gear-oil": 1, "dark": 0}, "other-fluid"},
	} {
		suspects, _, err := fluid.JudgeLook(c.seen)
		if err != nil || suspects[0].ID != c.first {
			t.Errorf("%s: %s leads with %.2f, want %s (%v)", c.name, suspects[0].ID, suspects[0].Share, c.first, err)
		}
	}
	clean := map[string]int{}
	for _, m := range fluid.LookMarks {
		clean[m.ID] = 0
	}
	if suspects, sound, err := fluid.JudgeLook(clean); err != nil || sound < 0.9 {
		t.Errorf("a clean drop: sound %.2f, %s %.2f, %v", sound, suspects[0].ID, suspects[0].Share, err)
	}
	suspects, _, err := fluid.JudgeLook(map[string]int{"dark": 3, "burnt": 2, "core": 1, "milky": 2, "plate": 1, "sweet": 0})
	if err != nil || suspects[0].Share < 0.8 || suspects[1].Share < 0.6 {
		t.Errorf("burnt and wet at once: %+v, %v", suspects[:2], err)
	}
	for _, bad := range []map[string]int{{"dark": 4}, {"dark": -1}, {"taste": 1}} {
		if _, _, err := fluid.JudgeLook(bad); err == nil {
			t.Errorf("%v is taken", bad)
		}
	}
}

// Every mark has a share for each grade but the first, rarer from grade to grade, for each source.
func TestLookTablesAreInOrder(t *testing.T) {
	for _, m := range fluid.LookMarks {
		tables := map[string][]float64{"ordinary": m.Ordinary}
		for _, s := range fluid.LookSources {
			if p, ok := s.Shows[m.ID]; ok {
				tables[s.ID] = p
			}
		}
		for name, p := range tables {
			if len(p) != len(m.Grades)-1 {
				t.Errorf("%s of %s: %d shares for %d grades", name, m.ID, len(p), len(m.Grades))
			}
			for i := range p {
				if !(p[i] > 0 && p[i] < 1) || i > 0 && p[i] >= p[i-1] {
					t.Errorf("%s of %s: %v", name, m.ID, p)
				}
			}
		}
	}
}

// A line through exact samples is that line; its uncertainty is that of a simulation by hand: two samples differ by
// the root of their squares over the distance between (JCGM 100, 5.1.2).
func TestTrend(t *testing.T) {
	line, err := fluid.TrendOf([]float64{10e6, 20e6, 50e6}, []float64{30, 45, 90})
	if err != nil || math.Abs(line.Rate*1e6-1.5) > 1e-12 || math.Abs(line.Start-15) > 1e-9 || math.Abs(line.At(40e6)-75) > 1e-9 {
		t.Errorf("%+v %v", line, err)
	}
	two, err := fluid.TrendOf([]float64{0, 10e6}, []float64{40, 80})
	if err != nil || math.Abs(two.U-math.Hypot(4, 8)/10e6) > 1e-18 {
		t.Errorf("%+v %v", two, err)
	}
	iron := fluid.Measures[0]
	far := two.Reaches(iron)
	if _, high := iron.Limit(far); math.Abs(two.At(far)-high) > 1e-6 {
		t.Errorf("high at %v, where it is %v of %v", far, two.At(far), high)
	}
	slow, err := fluid.TrendOf([]float64{0, 10e6}, []float64{20, 25})
	if err != nil || !math.IsInf(slow.Reaches(iron), 1) {
		t.Errorf("a slow rise reaches it at %v, %v", slow.Reaches(iron), err)
	}
	already, err := fluid.TrendOf([]float64{10e6, 20e6}, []float64{300, 290})
	if err != nil || already.Reaches(iron) != 20e6 {
		t.Errorf("high already: %v, %v", already.Reaches(iron), err)
	}
	for _, bad := range [][2][]float64{{{1}, {1}}, {{1, 2}, {1}}, {{2, 1}, {1, 2}}, {{1, 1}, {1, 2}}, {{1, 2}, {-1, 2}}, {{1, 2}, {math.NaN(), 2}}} {
		if _, err := fluid.TrendOf(bad[0], bad[1]); err == nil {
			t.Errorf("%v is taken", bad)
		}
	}
}

// Draining by hand: 10 L with 2 % water, 5 L drained and filled four times leaves an eighth of a per cent.
func TestDryingOut(t *testing.T) {
	water := 0.02
	for n := 1; n <= 6; n++ {
		water -= water * 5 / 10 // half of it leaves with the drain
		if got := fluid.Left(0.02, 0.5, n); math.Abs(got-water) > 1e-15 {
			t.Errorf("after %d: %v, want %v", n, got, water)
		}
		if times, err := fluid.Dry(0.02, water*1.0001, 0.5); err != nil || times != n {
			t.Errorf("to %v: %d times, want %d (%v)", water, times, n, err)
		}
	}
	if times, err := fluid.Dry(0.0005, 0.001, 0.4); err != nil || times != 0 {
		t.Errorf("dry enough: %d, %v", times, err)
	}
	for _, bad := range [][3]float64{{-0.1, 0.01, 0.5}, {0.1, 0, 0.5}, {0.1, 0.01, 0}, {2, 0.01, 0.5}, {math.NaN(), 0.1, 0.5}} {
		if _, err := fluid.Dry(bad[0], bad[1], bad[2]); err == nil {
			t.Errorf("%v is taken", bad)
		}
	}
}

// What the trade renews after water and coolant (common practice, no source).
func TestWhatIsRenewedInSpoiltFluid(t *testing.T) {
	verdict := func(s fluid.Spoilt, part string) fluid.Verdict {
		for _, f := range s.Fates() {
			if f.Part == part {
				return f.Verdict
			}
		}
		return ""
	}
	for _, c := range []struct {
		s       fluid.Spoilt
		linings fluid.Verdict
		cooler  fluid.Verdict
	}{
		{fluid.Spoilt{By: fluid.Coolant, Amount: 0.02, Metres: 200e3}, fluid.Renew, fluid.Renew},
		{fluid.Spoilt{By: fluid.Coolant, Amount: 0.02, Metres: 200e3, Linings: fluid.Sound}, fluid.Renew, fluid.Renew}, // looks sound, comes off later
		{fluid.Spoilt{By: fluid.Coolant, Amount: 0.02, Metres: 5e3}, fluid.Look, fluid.Renew},
		{fluid.Spoilt{By: fluid.Water, Amount: 0.01, Metres: 5e3}, fluid.Look, fluid.Clean},
		{fluid.Spoilt{By: fluid.Water, Amount: 0.08, Metres: 2000e3}, fluid.Renew, fluid.Clean},
		{fluid.Spoilt{By: fluid.Water, Amount: 0.08, Metres: 2000e3, Linings: fluid.Sound}, fluid.Look, fluid.Clean},
		{fluid.Spoilt{By: fluid.Water, Linings: fluid.Loose}, fluid.Renew, fluid.Clean},
	} {
		if got := verdict(c.s, "lining"); got != c.linings {
			t.Errorf("%+v: linings %s, want %s", c.s, got, c.linings)
		}
		if got := verdict(c.s, "cooler"); got != c.cooler {
			t.Errorf("%+v: cooler %s, want %s", c.s, got, c.cooler)
		}
	}
	stood := fluid.Spoilt{By: fluid.Water, Stood: 30 * 86400}
	if verdict(stood, "bearing") != fluid.Look || verdict(fluid.Spoilt{By: fluid.Water}, "bearing") != "" {
		t.Error("rust after standing is not looked for, or without")
	}
}

// Flush or renew (common practice, no source).
func TestCoolerAfterDebris(t *testing.T) {
	const least = 4e-5
	for _, c := range []struct {
		kind   fluid.Cooler
		debris string
		flow   float64
		want   fluid.Verdict
		valve  bool
	}{
		{fluid.Tube, "film", 0, fluid.Clean, false},
		{fluid.Tube, "lining", 0, fluid.Look, false},
		{fluid.Tube, "lining", 5e-5, fluid.Clean, false},
		{fluid.Tube, "lining", 2e-5, fluid.Renew, false},
		{fluid.Tube, "film", 2e-5, fluid.Renew, false},
		{fluid.Tube, "metal", 5e-5, fluid.Clean, false},
		{fluid.Tube, "metal", 0, fluid.Look, false},
		{fluid.Plates, "metal", 5e-5, fluid.Renew, false},
		{fluid.Plates, "lining", 0, fluid.Look, false},
		{fluid.Guarded, "lining", 5e-5, fluid.Clean, true},
		{fluid.Guarded, "metal", 5e-5, fluid.Renew, true},
	} {
		if f := fluid.FlushAfter(c.kind, c.debris, c.flow, least); f.Verdict != c.want || f.Valve != c.valve || f.Why == "" {
			t.Errorf("%s, %s, %v: %+v, want %s", c.kind, c.debris, c.flow, f, c.want)
		}
	}
}
