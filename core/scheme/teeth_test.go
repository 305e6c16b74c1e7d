package scheme_test

import (
	"context"
	"fmt"
	"math"
	"slices"
	"sync"
	"testing"
	"time"

	"innercompass/core/gearing"
	"innercompass/core/scheme"
	"innercompass/core/teeth"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	"innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(knowledge.FS) })

func know(t testing.TB) *catalog.Catalog {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// printed is a solved sheet with its ratios printed to so many decimals.
func printed(u *unitsheet.Unit, decimals int) unitsheet.Sheet {
	s := u.Sheet
	s.Ranges = slices.Clone(s.Ranges)
	for i, r := range u.Ranges {
		if r.Driving() {
			s.Ranges[i].Ratio = fmt.Sprintf("%.*f", decimals, math.Abs(r.Healthy.Ratio))
		}
	}
	return s
}

func find(t testing.TB, s unitsheet.Sheet) teeth.Answer {
	t.Helper()
	q, err := scheme.Ask(s, false)
	if err != nil {
		t.Fatal(err)
	}
	q.Most = 4000
	a, err := teeth.Find(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	return a
}

// Each of our sheets is found again from its ratios as a table would print them: its own proportions are among the fits, and the first
// fit solves every range to the same digits. The search stays within what a user waits for.
func TestOurSheetsAreFoundAgainFromTheirRatios(t *testing.T) {
	for _, id := range sorted(know(t).Units) {
		u := know(t).Units[id]
		for _, decimals := range []int{2, 3} {
			s := printed(u, decimals)
			from := time.Now()
			a := find(t, s)
			took := time.Since(from)
			if len(a.Fits) == 0 {
				t.Errorf("%s, %d decimals: nothing fits: %+v", id, decimals, a.Suspects)
				continue
			}
			t.Logf("%s, %d decimals: %.0f fits in %v", id, decimals, a.Count, took.Round(time.Microsecond))
			g, err := scheme.Lay(s, a.Fits[0])
			if err != nil {
				t.Fatal(err)
			}
			s.Gearing = g
			s.Own = nil
			again, bad := unitsheet.Compile(s)
			if len(bad) > 0 {
				t.Errorf("%s, %d decimals: the found teeth do not make a sheet: %v", id, decimals, bad[0])
				continue
			}
			for i, r := range again.Ranges {
				want := u.Ranges[i].Healthy
				if r.Healthy.Outcome != want.Outcome || math.Abs(r.Healthy.Ratio-want.Ratio) > math.Pow10(-decimals)*1.001 {
					t.Errorf("%s, %d decimals, %s: %v %v, want %v", id, decimals, r.ID, r.Healthy.Outcome, r.Healthy.Ratio, want.Ratio)
				}
				for _, e := range u.Elements { // what differs for the diagnosis: nothing that anyone would see
					if d := math.Abs(math.Abs(r.Healthy.Torques[e.ID]) - math.Abs(want.Torques[e.ID])); d > 0.05*math.Max(1, math.Abs(want.Torques[e.ID])) {
						t.Errorf("%s, %d decimals, %s: torque on %s off by %.3f", id, decimals, r.ID, e.ID, d)
					}
				}
			}
			if x, exact := own(u.Sheet); len(u.Sheet.Gearing.Gears) == 0 && !slices.ContainsFunc(a.Fits, func(f teeth.Fit) bool { return alike(f.Proportions, x) }) && exact {
				t.Errorf("%s, %d decimals: its own proportions %v are not among %v", id, decimals, x, a.Count)
			}
		}
	}
}

// own are the proportions of a sheet of planetary sets.
func own(s unitsheet.Sheet) ([]float64, bool) {
	var out []float64
	for _, x := range s.Gearing.Sets {
		out = append(out, float64(x.RingTeeth)/float64(x.SunTeeth))
		if x.SmallSun != "" {
			out = append(out, float64(x.RingTeeth)/float64(x.SmallSunTeeth))
		}
	}
	return out, true
}

func alike(a, b []float64) bool {
	for i := range b {
		if math.Abs(a[i]-b[i]) > 1e-9 {
			return false
		}
	}
	return true
}

func sorted[V any](m map[string]V) []string {
	var out []string
	for k := range m {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}

// Every scheme drives each range as it says, falls from gear to gear, and is found again from its own ratios within the time that a
// search may take.
func TestSchemesSolveAndAreFound(t *testing.T) {
	for _, x := range know(t).Schemes {
		u, bad := unitsheet.Compile(x.Sheet())
		if len(bad) > 0 {
			t.Errorf("%s: %v", x.ID, bad[0])
			continue
		}
		last := math.Inf(1)
		for _, id := range x.Forward() {
			r, _ := u.Range(id)
			if r.Healthy.Ratio >= last || r.Healthy.Outcome != gearing.Forward {
				t.Errorf("%s %s: %v after %v", x.ID, id, r.Healthy.Ratio, last)
			}
			last = r.Healthy.Ratio
		}
		a := find(t, printed(u, 2))
		if len(a.Fits) == 0 {
			t.Errorf("%s: not found again", x.ID)
		}
	}
}
