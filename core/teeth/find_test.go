package teeth

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// print rounds a ratio as a table prints it.
func print(x float64, digits int) float64 {
	p := math.Pow10(digits)
	return math.Round(math.Abs(x)*p) / p
}

// ask prints the ratios of a train at these proportions.
func ask(t testing.TB, train Train, x []float64, digits int, chart map[string][]string, order []string) Question {
	t.Helper()
	q := Question{Train: train, Most: 5000}
	for _, id := range order {
		r, outcome, err := train.Derive(chart[id])
		if err != nil || outcome != Drives {
			t.Fatalf("%s: %s %v", id, outcome, err)
		}
		q.Ranges = append(q.Ranges, Printed{ID: id, Held: chart[id], Ratio: print(r.At(x), digits), Digits: digits, Reverse: id == "R"})
	}
	return q
}

var (
	chartSimpson = map[string][]string{"1": {"FC", "LB"}, "2": {"FC", "KB"}, "3": {"FC", "DC"}, "R": {"DC", "LB"}}
	orderSimpson = []string{"1", "2", "3", "R"}
	chartCrossed = map[string][]string{"1": {"K1", "B1"}, "2": {"K1", "B2"}, "3": {"K1", "K2"}, "4": {"K2", "B2"}, "R": {"K3", "B1"}}
	orderCrossed = []string{"1", "2", "3", "4", "R"}
	chartTen     = map[string][]string{"1": {"A", "D", "F"}, "2": {"D", "E", "F"}, "3": {"A", "D", "E"}, "4": {"A", "E", "F"}, "5": {"A", "C", "E"}, "6": {"A", "C", "D"}, "7": {"A", "B", "C"}, "8": {"A", "B", "D"}, "9": {"A", "B", "F"}, "10": {"A", "B", "E"}, "R": {"C", "D", "E"}}
	orderTen     = []string{"1", "2", "3", "4", "5", "6", "7", "8", "9", "10", "R"}
)

// Every fit of the search is one of brute force over all values of both sets, and the other way round.
func TestSearchFindsWhatBruteForceFinds(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for _, c := range []struct {
		train Train
		chart map[string][]string
		order []string
	}{{simpson(), chartSimpson, orderSimpson}, {crossed(), chartCrossed, orderCrossed}} {
		values := simpleValues
		for i := range 12 {
			x := []float64{values[r.IntN(len(values))].x, values[r.IntN(len(values))].x}
			q := ask(t, c.train, x, 2+i%2, c.chart, c.order)
			wants, fixed, err := q.wants()
			if err != nil || fixed != nil {
				t.Fatal(err, fixed)
			}
			brute := map[string]bool{}
			for _, a := range values {
				for _, b := range values {
					at, good := []float64{a.x, b.x}, true
					for _, w := range wants {
						good = good && w.admits(w.ratio.At(at))
					}
					if good {
						brute[fmt.Sprintf("%.9f %.9f", a.x, b.x)] = true
					}
				}
			}
			s := newSearch(context.Background(), c.train, wants)
			found, n := s.all(5000)
			if int(n) != len(brute) || len(found) != len(brute) {
				t.Errorf("%v: %v fits, %d listed, brute force %d", x, n, len(found), len(brute))
			}
			for _, f := range found {
				if !brute[fmt.Sprintf("%.9f %.9f", f.Proportions[0], f.Proportions[1])] {
					t.Errorf("%v: %v is not a fit", x, f.Proportions)
				}
			}
		}
	}
}

// The teeth that a table was printed from are among the fits, and what is found can be put together and prints the table.
func TestTheTrueTeethAreFound(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	sets := simpleSets()
	for digits := 2; digits <= 3; digits++ {
		for range 20 {
			var x []float64
			for range 4 {
				s := sets[r.IntN(len(sets))]
				x = append(x, float64(s.Ring)/float64(s.Sun))
			}
			q := Question{Train: tenSpeed(), Most: 5000}
			for _, id := range orderTen {
				ratio, _, _ := q.Train.Derive(chartTen[id])
				if v := ratio.At(x); v > 0.2 && v < 12 {
					q.Ranges = append(q.Ranges, Printed{ID: id, Held: chartTen[id], Ratio: print(v, digits), Digits: digits})
				}
			}
			if len(q.Ranges) < 7 {
				continue
			}
			a, err := Find(context.Background(), q)
			if err != nil {
				t.Fatal(err)
			}
			there := false
			for _, f := range a.Fits {
				same := true
				for k, v := range x {
					same = same && math.Abs(f.Proportions[k]-v) < 1e-9
				}
				there = there || same
				for i, s := range f.Sets {
					if err := s.Check(q.Train.Sets[i].Kind); err != nil || math.Abs(float64(s.Ring)/float64(s.Sun)-f.Proportions[i]) > 1e-9 {
						t.Fatalf("set %v: %v", s, err)
					}
				}
				for _, p := range q.Ranges {
					if print(f.Ratios[p.ID], digits) != p.Ratio && math.Abs(math.Abs(f.Ratios[p.ID])-p.Ratio) > 0.5*math.Pow10(-digits)+1e-9 {
						t.Fatalf("%s prints %v, want %v", p.ID, f.Ratios[p.ID], p.Ratio)
					}
				}
			}
			if !there && !a.AtLeast {
				t.Errorf("%v: not among %v fits", x, a.Count)
			}
		}
	}
}

// A wrong digit in a table with more ratios than unknowns is noticed, and the range is among the suspects with what should stand there.
func TestAMisprintIsNamed(t *testing.T) {
	x := []float64{75.0 / 35, 75.0 / 35}
	q := ask(t, simpson(), x, 3, chartSimpson, orderSimpson) // 2.467 1.467 1 2.143
	q.Ranges[1].Ratio = 1.647
	a, err := Find(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	if len(a.Fits) != 0 || a.Nearest == nil || len(a.Misses) == 0 {
		t.Fatalf("%+v", a)
	}
	named := false
	for _, s := range a.Suspects {
		named = named || s.ID == "2" && s.Low <= 1.4672 && s.Top >= 1.4660
	}
	if !named {
		t.Errorf("suspects %+v", a.Suspects)
	}
	direct := ask(t, simpson(), x, 2, chartSimpson, orderSimpson)
	direct.Ranges[2].Ratio = 1.04
	if a, _ := Find(context.Background(), direct); len(a.Suspects) != 1 || a.Suspects[0].ID != "3" || math.Abs(a.Suspects[0].Low-1) > 1e-9 || len(a.Fits) == 0 {
		t.Errorf("direct misprinted: %+v", a.Suspects)
	}
}

// Ratios cut after the second decimal fit no rounding here: 1.4666 cut is 1.46.
func TestCutRatiosAreTakenAsCut(t *testing.T) {
	x := []float64{75.0 / 35, 75.0 / 35}
	q := ask(t, simpson(), x, 2, chartSimpson, orderSimpson)
	for i, v := range []float64{2.46, 1.46, 1.00, 2.14} {
		q.Ranges[i].Ratio = v
	}
	a, err := Find(context.Background(), q)
	if err != nil || len(a.Fits) == 0 {
		t.Fatalf("%v %+v", err, a)
	}
	for _, f := range a.Fits {
		if a.Cut && (f.Ratios["2"] < 1.46 || f.Ratios["2"] > 1.4701) {
			t.Errorf("second %v", f.Ratios["2"])
		}
	}
}

// Gear pairs: the sheet's own teeth are one of the combinations, and one head set serves all.
func TestThreeShaftsShareTheirHeadSet(t *testing.T) {
	// Teeth made up for this test: head 24/37; 16/39, 22/31, 28/27, 37/19; reverse 15/36 over an idler.
	x := []float64{37.0 / 24, 39.0 / 16, 31.0 / 22, 27.0 / 28, 19.0 / 37, 36.0 / 15}
	chart := map[string][]string{"1": {"g1"}, "2": {"g2"}, "3": {"g3"}, "4": {"G4"}, "5": {"g5"}, "R": {"gr"}}
	q := ask(t, manual(), x, 3, chart, []string{"1", "2", "3", "4", "5", "R"})
	a, err := Find(context.Background(), q)
	if err != nil || len(a.Fits) == 0 {
		t.Fatalf("%v %+v", err, a)
	}
	head := false
	for _, f := range a.Fits {
		head = head || math.Abs(f.Proportions[0]-37.0/24) < 1e-9
		for _, p := range q.Ranges {
			if math.Abs(math.Abs(f.Ratios[p.ID])-p.Ratio) > 0.0005+1e-9 {
				t.Errorf("%s: %v, printed %v", p.ID, f.Ratios[p.ID], p.Ratio)
			}
		}
	}
	if !head {
		t.Errorf("head 37/24 is not among %v", a.Count)
	}
}

// Without reverse nothing says how large the second set is: it is named as loose.
func TestWhatNoRatioBindsIsNamed(t *testing.T) {
	q := ask(t, simpson(), []float64{75.0 / 35, 75.0 / 35}, 3, chartSimpson, []string{"2", "3"})
	a, err := Find(context.Background(), q)
	if err != nil || len(a.Fits) == 0 || len(a.Fits[0].Loose) != 1 || a.Fits[0].Loose[0] != "rear" || a.Unknowns != 1 {
		t.Errorf("%v %+v", err, a)
	}
}

func TestQuestionsThatCannotBeAnsweredSayWhy(t *testing.T) {
	for _, c := range []struct {
		p    Printed
		want string
	}{
		{Printed{ID: "1", Held: []string{"FC"}, Ratio: 2, Digits: 2}, "neutral"},
		{Printed{ID: "1", Held: []string{"FC", "KB", "LB"}, Ratio: 2, Digits: 2}, "binds"},
		{Printed{ID: "1", Held: []string{"FC", "LB"}, Ratio: 0, Digits: 2}, "ratio"},
		{Printed{ID: "1", Held: []string{"FC", "LB"}, Ratio: math.NaN(), Digits: 2}, "ratio"},
		{Printed{ID: "1", Held: []string{"FC", "XX"}, Ratio: 2, Digits: 2}, "no element"},
	} {
		if _, err := Find(context.Background(), Question{Train: simpson(), Ranges: []Printed{c.p}}); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%+v: %v, want %q", c.p, err, c.want)
		}
	}
	ctx, stop := context.WithCancel(context.Background())
	stop()
	if _, err := Find(ctx, ask(t, simpson(), []float64{2, 2.5}, 2, chartSimpson, orderSimpson)); err == nil {
		t.Error("a search that was given up answered")
	}
}

// Speed: the ten-speed from two decimals, the widest question of the studied schemes.
func BenchmarkTeethOfTenSpeed(b *testing.B) {
	q := ask(b, tenSpeed(), []float64{83.0 / 55, 73.0 / 29, 101.0 / 43, 76.0 / 44}, 2, chartTen, orderTen)
	for b.Loop() {
		if a, err := Find(context.Background(), q); err != nil || len(a.Fits) == 0 {
			b.Fatal(err)
		}
	}
}
