package bayes

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// world is one assignment of the brute-force oracle.
type world struct {
	present []bool
	prior   float64
}

// worlds lists every assignment of roots and damages with its prior weight, straight from the definition.
func worlds(n *Network, odds []float64) []world {
	var out []world
	for bits := range 1 << n.Nodes() {
		w := world{make([]bool, n.Nodes()), 1}
		for v := range w.present {
			w.present[v] = bits>>v&1 == 1
		}
		for r, o := range odds {
			if w.present[r] {
				w.prior *= o
			}
		}
		for d, x := range n.damages {
			none := 1.0
			for _, e := range x.From {
				if w.present[e.Parent] {
					none *= 1 - e.P
				}
			}
			if w.present[n.Roots()+d] {
				w.prior *= 1 - none
			} else {
				w.prior *= none
			}
		}
		if w.prior > 0 {
			out = append(out, w)
		}
	}
	return out
}

// readingWeight is the weight of the joined likelihoods of one finding in a world, by summing over which effect
// each present parent has (the definition in the package comment, written as a sum and not as a product).
func readingWeight(f Finding, lambda []float64, present []bool) float64 {
	lambda = slices.Clone(lambda)
	most := slices.Max(lambda)
	for i := range lambda {
		lambda[i] /= most
	}
	parents := [][]float64{f.Anyway}
	for _, e := range f.Effects {
		if present[e.Parent] {
			parents = append(parents, e.States)
		}
	}
	total := 0.0
	var walk func(k int, p, spared, missed float64)
	// spared is the weight left by effects that speak against the reading; missed that no effect has hit yet.
	walk = func(k int, p, spared, missed float64) {
		if k == len(parents) {
			if lambda[0] == 1 {
				total += p * spared
			} else {
				total += p * (spared - (1-lambda[0])*missed)
			}
			return
		}
		none := 1.0
		for s, x := range parents[k] {
			none -= x
			l := lambda[s+1]
			if l < lambda[0] || lambda[0] == 1 {
				walk(k+1, p*x, spared*l/lambda[0], missed*l/lambda[0])
			} else {
				walk(k+1, p*x, spared, missed*(1-l)/(1-lambda[0]))
			}
		}
		walk(k+1, p*none, spared, missed)
	}
	walk(0, 1, 1, 1)
	return total
}

type brute struct {
	total, nothing float64
	present        []float64
	bySet          map[int]float64 // by bits of the roots
}

func bruteForce(n *Network, readings []Reading) brute {
	out := brute{present: make([]float64, n.Nodes()), bySet: map[int]float64{}}
	byFinding := map[int][]float64{}
	for _, r := range readings {
		if byFinding[r.Finding] == nil {
			byFinding[r.Finding] = slices.Clone(r.Likelihood)
			continue
		}
		for s, l := range r.Likelihood {
			byFinding[r.Finding][s] *= l
		}
	}
	for _, w := range worlds(n, n.odds) {
		p := w.prior
		for f, lambda := range byFinding {
			p *= readingWeight(n.findings[f], lambda, w.present)
		}
		out.total += p
		set := 0
		for v, on := range w.present {
			if on {
				out.present[v] += p
				if v < n.Roots() {
					set |= 1 << v
				}
			}
		}
		out.bySet[set] += p
		if set == 0 {
			out.nothing += p
		}
	}
	for v := range out.present {
		out.present[v] /= out.total
	}
	return out
}

func randomStates(r *rand.Rand, m int, most float64) []float64 {
	p := make([]float64, m)
	left := most * r.Float64()
	for i := range p {
		p[i] = left * r.Float64()
		left -= p[i]
	}
	if r.IntN(6) == 0 { // certain effects and impossible ones are where formulas break
		clear(p)
		p[r.IntN(m)] = 1
	}
	return p
}

func randomNetwork(r *rand.Rand) (*Network, []Reading) {
	roots, damages, findings := 1+r.IntN(5), r.IntN(5), 1+r.IntN(5)
	odds := make([]float64, roots)
	for i := range odds {
		odds[i] = math.Pow(10, -3*r.Float64())
	}
	ds := make([]Damage, damages)
	for d := range ds {
		for v := range roots + d {
			if r.IntN(3) == 0 {
				ds[d].From = append(ds[d].From, Edge{v, []float64{0.1, 0.5, 0.97, 1, 0}[r.IntN(5)]})
			}
		}
	}
	fs := make([]Finding, findings)
	var readings []Reading
	for f := range fs {
		m := 1 + r.IntN(2)
		fs[f].Anyway = make([]float64, m)
		for s := range fs[f].Anyway {
			fs[f].Anyway[s] = 0.2 * r.Float64()
		}
		for v := range roots + damages {
			if r.IntN(3) == 0 {
				fs[f].Effects = append(fs[f].Effects, Effect{v, randomStates(r, m, 1)})
			}
		}
		for range r.IntN(3) {
			lambda := make([]float64, m+1)
			for s := range lambda {
				lambda[s] = 0.01 + r.Float64()
			}
			readings = append(readings, Reading{f, lambda})
		}
	}
	n, err := New(odds, ds, fs)
	if err != nil {
		panic(err)
	}
	return n, readings
}

// Thousands of small random networks against a joint table that is summed in full.
func TestExactAgainstTheJointTable(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 7))
	for i := range 4000 {
		n, readings := randomNetwork(r)
		e, err := n.Weigh(nil, readings)
		if err != nil {
			t.Fatal(err)
		}
		want := bruteForce(n, readings)
		got, ok := e.Exact()
		if !ok || math.Abs(got.Total/want.total-1) > 1e-9 || math.Abs(e.Nothing()/want.nothing-1) > 1e-9 {
			t.Fatalf("network %d: total %v, nothing %v; joint table %v, %v", i, got.Total, e.Nothing(), want.total, want.nothing)
		}
		if off := math.Abs(got.Total/want.total - 1); off > got.Rounding+1e-11 {
			t.Fatalf("network %d: total off by %v, rounding said to be %v at most", i, off, got.Rounding)
		}
		for v, p := range got.Present {
			if p >= 0 && math.Abs(p-want.present[v]) > 1e-9 || p < 0 && v < n.Roots() {
				t.Fatalf("network %d, node %d: %v, joint table %v", i, v, p, want.present[v])
			}
		}
	}
}

// A set's weight is that of the joint table, and the bound on what the search left out is never violated,
// wherever the search is stopped.
func TestSearchWeighsSetsAndBoundsTheRest(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for i := range 3000 {
		n, readings := randomNetwork(r)
		e, err := n.Weigh(nil, readings)
		if err != nil {
			t.Fatal(err)
		}
		want := bruteForce(n, readings)
		got := e.Search(1+r.IntN(40), nil)
		seen := map[int]bool{}
		for _, s := range got.Sets {
			bits := 0
			for _, x := range s.Roots {
				bits |= 1 << x
			}
			if seen[bits] {
				t.Fatalf("network %d: set %v twice", i, s.Roots)
			}
			seen[bits] = true
			if math.Abs(s.Weight-want.bySet[bits]) > 1e-9*want.total {
				t.Fatalf("network %d: set %v weighs %v, joint table %v", i, s.Roots, s.Weight, want.bySet[bits])
			}
		}
		if got.Sum > want.total*(1+1e-9) {
			t.Fatalf("network %d: the sets weigh %v of %v", i, got.Sum, want.total)
		}
		if full := e.Search(1<<10, nil); len(full.Sets) < len(got.Sets) {
			t.Fatalf("network %d: a longer search finds %d sets, a shorter %d", i, len(full.Sets), len(got.Sets))
		}
	}
}

// Holding damages absent leaves worlds out and lets none in: the weight never exceeds that of the joint table, and
// with all of them decided it is equal.
func TestHoldingDamagesAbsentIsALowerBound(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 2))
	lower := 0
	for i := range 2000 {
		n, readings := randomNetwork(r)
		e, err := n.Weigh(nil, readings)
		if err != nil {
			t.Fatal(err)
		}
		want := bruteForce(n, readings)
		sc := newScorer(e)
		for bits := range 1 << n.Roots() {
			var roots []int
			odds := 1.0
			for v := range n.Roots() {
				if bits>>v&1 == 1 {
					roots = append(roots, v)
					odds *= n.odds[v]
				}
			}
			for sc.most = range 5 {
				got := odds * sc.weight(roots)
				if got > want.bySet[bits]*(1+1e-9) {
					t.Fatalf("network %d, roots %v, %d decided: %v, joint table %v", i, roots, sc.most, got, want.bySet[bits])
				}
				if got < want.bySet[bits]*(1-1e-9) {
					lower++
					if sc.most == 4 {
						t.Fatalf("network %d, roots %v: all decided, %v, joint table %v", i, roots, got, want.bySet[bits])
					}
				}
			}
		}
	}
	if lower == 0 {
		t.Error("nothing was ever held absent")
	}
}

// The probability of a damage given the roots and the readings is that of the joint table.
func TestGivenAgainstTheJointTable(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 1))
	for i := range 1000 {
		n, readings := randomNetwork(r)
		e, err := n.Weigh(nil, readings)
		if err != nil {
			t.Fatal(err)
		}
		if newScorer(e).weight([]int{0}) == 0 {
			continue
		}
		got := e.Given().Nodes([]int{0})
		// Only the first root can be there: its odds are all that is left.
		odds := make([]float64, n.Roots())
		odds[0] = 1e12
		alone, err := New(odds, n.damages, n.findings)
		if err != nil {
			t.Fatal(err)
		}
		want := bruteForce(alone, readings)
		for d := n.Roots(); d < n.Nodes(); d++ {
			tolerance := 1e-8
			if !slices.Contains(e.reach[0], d) {
				tolerance = 0.03 // no reading bears on it; its parents are taken as independent
			}
			if math.Abs(got[d]-want.present[d]) > tolerance {
				t.Fatalf("network %d, damage %d: %v, joint table %v", i, d, got[d], want.present[d])
			}
		}
	}
}

// With hard evidence and findings of two states the weights are those of textbook noisy-OR with a leak
// (Henrion 1987): P(no) = (1 − leak)·Π(1 − p), written here anew.
func TestHardEvidenceIsNoisyOr(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 9))
	for range 2000 {
		odds := []float64{r.Float64(), r.Float64(), r.Float64()}
		leak, p := 0.3*r.Float64(), []float64{r.Float64(), r.Float64(), r.Float64()}
		f := Finding{Anyway: []float64{leak}}
		for v := range p {
			f.Effects = append(f.Effects, Effect{v, p[v : v+1]})
		}
		n, err := New(odds, nil, []Finding{f})
		if err != nil {
			t.Fatal(err)
		}
		yes := r.IntN(2)
		lambda := []float64{0, 0}
		lambda[yes] = 1
		e, err := n.Weigh(nil, []Reading{{0, lambda}})
		if err != nil {
			t.Fatal(err)
		}
		total, with := 0.0, make([]float64, 3)
		for bits := range 8 {
			w, none := 1.0, 1-leak
			for v := range p {
				if bits>>v&1 == 1 {
					w *= odds[v]
					none *= 1 - p[v]
				}
			}
			if yes == 1 {
				w *= 1 - none
			} else {
				w *= none
			}
			total += w
			for v := range p {
				if bits>>v&1 == 1 {
					with[v] += w
				}
			}
		}
		got, _ := e.Exact()
		for v := range p {
			if math.Abs(got.Present[v]-with[v]/total) > 1e-12 {
				t.Fatalf("root %d: %v, want %v", v, got.Present[v], with[v]/total)
			}
		}
	}
}

func TestOrderOfReadingsChangesNotEvenTheLastDigit(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 4))
	for range 300 {
		n, readings := randomNetwork(r)
		a, _ := n.Weigh(nil, readings)
		shuffled := slices.Clone(readings)
		slices.Reverse(shuffled)
		b, _ := n.Weigh(nil, shuffled)
		x, _ := a.Exact()
		y, _ := b.Exact()
		if len(readings) > 2 && readings[0].Finding == readings[1].Finding {
			continue // two readings of one finding multiply, which commutes but is not associative in the last digit
		}
		if x.Total != y.Total || !slices.Equal(x.Present, y.Present) {
			t.Fatalf("%v and %v", x, y)
		}
	}
}

func TestBadNetworksAndReadingsAreRefused(t *testing.T) {
	for name, f := range map[string]func() error{
		"odds":      func() error { _, err := New([]float64{-1}, nil, nil); return err },
		"no number": func() error { _, err := New([]float64{math.NaN()}, nil, nil); return err },
		"cycle":     func() error { _, err := New([]float64{1}, []Damage{{[]Edge{{1, 0.5}}}}, nil); return err },
		"edge":      func() error { _, err := New([]float64{1}, []Damage{{[]Edge{{0, 1.5}}}}, nil); return err },
		"anyway":    func() error { _, err := New([]float64{1}, nil, []Finding{{Anyway: []float64{0.7, 0.7}}}); return err },
		"no parent": func() error {
			_, err := New(nil, nil, []Finding{{[]float64{0.1}, []Effect{{0, []float64{1}}}}})
			return err
		},
		"no state": func() error {
			_, err := New([]float64{1}, nil, []Finding{{[]float64{0.1}, []Effect{{0, nil}}}})
			return err
		},
		"two states": func() error {
			_, err := New([]float64{1}, nil, []Finding{{[]float64{0.1}, []Effect{{0, []float64{2}}}}})
			return err
		},
	} {
		if f() == nil {
			t.Errorf("%s: taken", name)
		}
	}
	n, err := New([]float64{0.1}, nil, []Finding{{[]float64{0.1}, []Effect{{0, []float64{0.5}}}}})
	if err != nil {
		t.Fatal(err)
	}
	for name, r := range map[string][]Reading{
		"finding":       {{1, []float64{1, 0}}},
		"length":        {{0, []float64{1}}},
		"negative":      {{0, []float64{-1, 1}}},
		"no number":     {{0, []float64{math.NaN(), 1}}},
		"contradiction": {{0, []float64{1, 0}}, {0, []float64{0, 1}}},
	} {
		if _, err := n.Weigh(nil, r); err == nil {
			t.Errorf("readings with a bad %s: taken", name)
		}
	}
	if _, err := n.Weigh([]float64{1, 2}, nil); err == nil {
		t.Error("too many odds: taken")
	}
}

// A forecast of many situations is that of each by itself.
func TestForecastIsThatOfEachSituation(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	for i := range 500 {
		n, _ := randomNetwork(r)
		var present [][]float64
		for range 1 + r.IntN(4) {
			row := make([]float64, n.Nodes())
			for v := range row {
				if r.IntN(2) == 0 {
					row[v] = 0.01 + 0.99*r.Float64()
				}
			}
			present = append(present, row)
		}
		f := n.Forecast(present)
		for k := range n.findings {
			for s, row := range f.States(k) {
				for x, p := range n.States(k, present[s]) {
					if math.Abs(row[x]-p) > 1e-12 {
						t.Fatalf("network %d, finding %d, situation %d, state %d: %v, alone %v", i, k, s, x, row[x], p)
					}
				}
			}
		}
	}
}

// How often damages and states are drawn is what the network says, by the joint table without readings.
func TestDrawingFollowsTheNetwork(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	for i := range 20 {
		n, _ := randomNetwork(r)
		odds := make([]float64, n.Roots())
		odds[0] = 1e12
		alone, err := New(odds, n.damages, n.findings)
		if err != nil {
			t.Fatal(err)
		}
		want := bruteForce(alone, nil)
		const many = 4000
		count := make([]float64, n.Nodes())
		for range many {
			for v, there := range n.Draw([]int{0}, func(int, int, int) float64 { return r.Float64() }) {
				if there {
					count[v]++
				}
			}
		}
		for v, p := range want.present {
			// Five standard errors of a share, and a little for those that are never or always there.
			if off := math.Abs(count[v]/many - p); off > 5*math.Sqrt(p*(1-p)/many)+1e-9 {
				t.Errorf("network %d, node %d: drawn in %v of all, joint table %v", i, v, count[v]/many, p)
			}
		}
	}
}

// Roots that reach a finding are those whose presence can change what it shows.
func TestReachesIsWhatCanBringAFindingAbout(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 1))
	for i := range 300 {
		n, _ := randomNetwork(r)
		for f := range n.findings {
			reach := n.Reaches(f)
			nothing := n.States(f, n.Expect(nil))
			for root := range n.Roots() {
				changed := false
				for s, p := range n.States(f, n.Expect([]int{root})) {
					changed = changed || math.Abs(p-nothing[s]) > 1e-12
				}
				if changed && !reach[root] {
					t.Fatalf("network %d: root %d changes finding %d and does not reach it", i, root, f)
				}
			}
		}
	}
}

// What is too wide, ended, or drowned in rounding is not called exact.
func TestExactSaysWhenItIsNot(t *testing.T) {
	// Thirty roots, each bringing about every one of thirty abnormal findings: one table would need 2³⁰ entries.
	var odds []float64
	var findings []Finding
	var readings []Reading
	for range 30 {
		odds = append(odds, 0.01)
	}
	for f := range 30 {
		x := Finding{Anyway: []float64{0.01}}
		for r := range odds {
			x.Effects = append(x.Effects, Effect{r, []float64{0.1 + 0.01*float64(r)}})
		}
		findings = append(findings, x)
		readings = append(readings, Reading{f, []float64{0.1, 1}})
	}
	n, err := New(odds, nil, findings)
	if err != nil {
		t.Fatal(err)
	}
	e, err := n.Weigh(nil, readings)
	if err != nil {
		t.Fatal(err)
	}
	if p := e.Plan(); p.Width <= maxWidth {
		t.Errorf("width %d", p.Width)
	}
	if _, ok := e.Exact(); ok {
		t.Error("a table of 2³⁰ entries was called exact")
	}
	if e, err = n.Weigh(nil, readings[:8]); err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, ok := e.Plan().Exact(ctx); ok {
		t.Error("an ended computation was called exact")
	}
	if _, ok := e.Exact(); !ok {
		t.Error("eight readings are too many")
	}
	// Twenty findings that nothing is likely to bring about, each read as certain: what is left of the total after
	// inclusion and exclusion is noise.
	for f := range findings {
		findings[f].Anyway[0] = 1e-9
		for i := range findings[f].Effects {
			findings[f].Effects[i].States = []float64{1e-9}
		}
		readings[f].Likelihood = []float64{0, 1}
	}
	if n, err = New(odds[:2], nil, trimmed(findings[:20], 2)); err != nil {
		t.Fatal(err)
	}
	if e, err = n.Weigh(nil, readings[:20]); err != nil {
		t.Fatal(err)
	}
	if x, ok := e.Exact(); ok && !(x.Rounding < maxRounding) {
		t.Errorf("called exact with a rounding of %v", x.Rounding)
	} else if !ok && x.Rounding < maxRounding {
		t.Errorf("not called exact with a rounding of %v", x.Rounding)
	}
}

func trimmed(findings []Finding, roots int) []Finding {
	var out []Finding
	for _, f := range findings {
		out = append(out, Finding{f.Anyway, f.Effects[:roots]})
	}
	return out
}
