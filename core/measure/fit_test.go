package measure

import (
	"math"
	"math/rand/v2"
	"testing"
)

// Against every arrangement, place by place, counted without any cleverness.
func TestSelectiveFitAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for range 150 {
		count, kinds := 1+r.IntN(5), 1+r.IntN(4)
		p := Place{Count: count}
		for i := range kinds {
			p.Thickness = append(p.Thickness, 1.5+0.05*float64(i)+0.001*float64(r.IntN(9)))
			p.Stock = append(p.Stock, []int{-1, -1, 1, 2}[r.IntN(4)])
		}
		depth := 1.6*float64(count) + 1 + 0.3*r.Float64()
		low, high := 0.9, 1.2
		target := 1.05
		found, err := SelectiveFit(depth, []Place{p}, low, high, target)
		best, within, possible := math.Inf(1), map[string]bool{}, false
		all := int(math.Pow(float64(kinds), float64(count)))
		for code := range all {
			used := make([]int, kinds)
			room := depth
			for c, k := code, 0; k < count; k++ {
				used[c%kinds]++
				room -= p.Thickness[c%kinds]
				c /= kinds
			}
			enough := true
			for i, n := range used {
				enough = enough && (p.Stock[i] < 0 || n <= p.Stock[i])
			}
			if !enough {
				continue
			}
			possible = true
			if room >= low-1e-12 && room <= high+1e-12 {
				key := ""
				for _, n := range used {
					key += string(rune('a' + n))
				}
				within[key] = true
				best = math.Min(best, math.Abs(room-target))
			}
		}
		if !possible {
			if err == nil {
				t.Fatalf("%+v: filled with too few pieces", p)
			}
			continue
		}
		if err != nil {
			t.Fatal(err)
		}
		if found.Within != len(within) {
			t.Fatalf("%+v: %d ways, want %d", p, found.Within, len(within))
		}
		if len(within) > 0 && math.Abs(found.Best[0].Off-best) > 1e-9 {
			t.Fatalf("%+v: off by %v, want %v", p, found.Best[0].Off, best)
		}
		if len(within) == 0 && len(found.Nearest.Pieces) == 0 {
			t.Fatalf("%+v: nothing is within and no nearest is named", p)
		}
	}
}

// Twelve places and eight thicknesses against a table of reachable sums in steps of a hundredth: another method.
func TestTwelvePlacesAgainstReachableSums(t *testing.T) {
	steps := []int{150, 155, 161, 166, 172, 179, 185, 190}
	p := Place{Count: 12}
	for _, s := range steps {
		p.Thickness, p.Stock = append(p.Thickness, float64(s)/100), append(p.Stock, -1)
	}
	const depth, target = 2138, 107
	reach := map[int]bool{0: true}
	for range 12 {
		next := map[int]bool{}
		for sum := range reach {
			for _, s := range steps {
				next[sum+s] = true
			}
		}
		reach = next
	}
	want := math.Inf(1)
	for sum := range reach {
		want = math.Min(want, math.Abs(float64(depth-sum-target)))
	}
	got, err := SelectiveFit(depth/100.0, []Place{p}, 0.9, 1.3, target/100.0)
	if err != nil || math.Abs(100*got.Best[0].Off-want) > 1e-6 || got.Tried != 50388 {
		t.Errorf("%v: off by %v, want %v; tried %d", err, 100*got.Best[0].Off, want, got.Tried)
	}
}

func TestSelectiveFitRefusesWhatMakesNoSense(t *testing.T) {
	one := Place{Count: 1, Thickness: []float64{1}, Stock: []int{-1}}
	for _, c := range []struct {
		places            []Place
		low, high, target float64
	}{
		{nil, 0, 1, 0.5},
		{[]Place{{Count: 0, Thickness: []float64{1}, Stock: []int{1}}}, 0, 1, 0.5},
		{[]Place{{Count: 1}}, 0, 1, 0.5},
		{[]Place{{Count: 1, Thickness: []float64{-1}, Stock: []int{1}}}, 0, 1, 0.5},
		{[]Place{{Count: 2, Thickness: []float64{1}, Stock: []int{1}}}, 0, 1, 0.5},
		{[]Place{one}, 1, 0, 0.5},
		{[]Place{one}, 0, 1, 2},
		{[]Place{{Count: 99, Thickness: []float64{1}, Stock: []int{-1}}}, 0, 1, 0.5},
	} {
		if f, err := SelectiveFit(3, c.places, c.low, c.high, c.target); err == nil {
			t.Errorf("%+v: %+v", c, f)
		}
	}
}

func BenchmarkTwelvePlacesEightThicknesses(b *testing.B) {
	p := Place{Count: 12}
	for i := range 8 {
		p.Thickness, p.Stock = append(p.Thickness, 1.5+0.05*float64(i)), append(p.Stock, -1)
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := SelectiveFit(21.4, []Place{p}, 0.9, 1.3, 1.1); err != nil {
			b.Fatal(err)
		}
	}
}
