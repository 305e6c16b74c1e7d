package bayes

import (
	"fmt"
	"math"
	"slices"
	"testing"
)

// S. L. Lauritzen, D. J. Spiegelhalter, Local computations with probabilities on graphical structures and
// their application to expert systems, J. R. Statist. Soc. B 50 (1988): the chest clinic. Its tables are recalled
// from memory; the posteriors are recomputed here by a brute-force sum of the joint table. Dyspnoea's table is no
// noisy-OR, so its four rows are summed over the observed pairs of "either" and bronchitis.
func TestChestClinic(t *testing.T) {
	link := func(with, without float64) float64 { return 1 - (1-with)/(1-without) } // noisy-OR link beside a leak
	const asia, smoking, leakT, leakL, leakB = 0, 1, 2, 3, 4
	const tub, lung, bronc, either = 5, 6, 7, 8
	odds := []float64{0.01 / 0.99, 1, 0.01 / 0.99, 0.01 / 0.99, 0.3 / 0.7}
	n, err := New(odds, []Damage{
		{[]Edge{{asia, link(0.05, 0.01)}, {leakT, 1}}},
		{[]Edge{{smoking, link(0.1, 0.01)}, {leakL, 1}}},
		{[]Edge{{smoking, link(0.6, 0.3)}, {leakB, 1}}},
		{[]Edge{{tub, 1}, {lung, 1}}},
	}, []Finding{
		{[]float64{0}, []Effect{{asia, []float64{1}}}},
		{[]float64{0.05}, []Effect{{either, []float64{link(0.98, 0.05)}}}},
		{[]float64{0}, []Effect{{either, []float64{1}}}},
		{[]float64{0}, []Effect{{bronc, []float64{1}}}},
	})
	if err != nil {
		t.Fatal(err)
	}
	no, yes := []float64{1, 0}, []float64{0, 1}
	dyspnoea := map[[2]bool]float64{{true, true}: 0.9, {true, false}: 0.7, {false, true}: 0.8, {false, false}: 0.1}
	hard := func(b bool) []float64 {
		if b {
			return yes
		}
		return no
	}
	infer := func(readings []Reading, breathless bool) []float64 {
		total, out := 0.0, make([]float64, 3)
		for pair, p := range dyspnoea {
			if !breathless {
				p = 1
			}
			e, err := n.Weigh(nil, append(slices.Clone(readings), Reading{2, hard(pair[0])}, Reading{3, hard(pair[1])}))
			if err != nil {
				t.Fatal(err)
			}
			x, _ := e.Exact()
			total += p * x.Total
			for i, v := range []int{tub, lung, bronc} {
				if x.Present[v] > 0 {
					out[i] += p * x.Total * x.Present[v]
				}
			}
		}
		for i := range out {
			out[i] /= total
		}
		return out
	}
	for _, c := range []struct {
		name       string
		readings   []Reading
		breathless bool
		printed    []float64 // tuberculosis, lung cancer, bronchitis; from memory, to the printed digits
	}{
		{"priors", nil, false, []float64{0.0104, 0.0550, 0.4500}},
		{"visit and dyspnoea", []Reading{{0, yes}}, true, []float64{0.0878, 0.0995, 0.8114}},
		{"and a clear film", []Reading{{0, yes}, {1, no}}, true, []float64{0.0022, 0.0026, 0.8628}},
	} {
		got, want := infer(c.readings, c.breathless), chestJoint(len(c.readings) > 0, len(c.readings) > 1, c.breathless)
		for i := range got {
			if math.Abs(got[i]-want[i]) > 1e-12 || math.Abs(got[i]-c.printed[i]) > 6e-5 {
				t.Errorf("%s: %v, joint table %v, printed %v", c.name, got, want, c.printed)
				break
			}
		}
	}
}

// chestJoint sums the clinic's joint table.
func chestJoint(visit, clearFilm, breathless bool) []float64 {
	p := func(yes bool, q float64) float64 {
		if yes {
			return q
		}
		return 1 - q
	}
	pick := func(b bool, yes, no float64) float64 {
		if b {
			return yes
		}
		return no
	}
	total, out := 0.0, make([]float64, 3)
	for bits := range 32 {
		a, s, tb, l, b := bits&1 > 0, bits&2 > 0, bits&4 > 0, bits&8 > 0, bits&16 > 0
		if visit && !a {
			continue
		}
		w := p(a, 0.01) * p(s, 0.5) * p(tb, pick(a, 0.05, 0.01)) * p(l, pick(s, 0.1, 0.01)) * p(b, pick(s, 0.6, 0.3))
		if clearFilm {
			w *= 1 - pick(tb || l, 0.98, 0.05)
		}
		if breathless {
			w *= pick(b, pick(tb || l, 0.9, 0.8), pick(tb || l, 0.7, 0.1))
		}
		total += w
		for i, on := range []bool{tb, l, b} {
			if on {
				out[i] += w
			}
		}
	}
	for i := range out {
		out[i] /= total
	}
	return out
}

// J. de Kleer, B. C. Williams, Diagnosing multiple faults, Artificial Intelligence 32 (1987): three multipliers
// and two adders with F = 10 and G = 12. The conflicts, recomputed here by working the circuit with every subset
// of parts taken as sound, become readings "at least one of these is broken"; the sets of weight that have no
// smaller one inside must be the printed minimal diagnoses.
func TestPolybox(t *testing.T) {
	parts := []string{"M1", "M2", "M3", "A1", "A2"}
	var minimal [][]int
	for bits := range 32 {
		if polyboxHolds(bits) {
			continue // these parts can all be sound: no conflict
		}
		var c []int
		small := true
		for v := range parts {
			if bits>>v&1 == 1 {
				c = append(c, v)
				small = small && polyboxHolds(bits&^(1<<v))
			}
		}
		if small {
			minimal = append(minimal, c)
		}
	}
	var findings []Finding
	var readings []Reading
	for i, c := range minimal {
		f := Finding{Anyway: []float64{0}}
		for _, v := range c {
			f.Effects = append(f.Effects, Effect{v, []float64{1}})
		}
		findings = append(findings, f)
		readings = append(readings, Reading{i, []float64{0, 1}})
	}
	n, err := New([]float64{0.01, 0.01, 0.01, 0.01, 0.01}, nil, findings)
	if err != nil {
		t.Fatal(err)
	}
	e, err := n.Weigh(nil, readings)
	if err != nil {
		t.Fatal(err)
	}
	var found []string
	sets := e.Search(1<<8, nil).Sets
	for _, s := range sets {
		inside := slices.ContainsFunc(sets, func(o Set) bool {
			return o.Weight > 0 && len(o.Roots) < len(s.Roots) && !slices.ContainsFunc(o.Roots, func(r int) bool { return !slices.Contains(s.Roots, r) })
		})
		if s.Weight > 0 && !inside {
			name := ""
			for _, v := range s.Roots {
				name += parts[v]
			}
			found = append(found, name)
		}
	}
	slices.Sort(found)
	if got := fmt.Sprint(found); got != "[A1 M1 M2A2 M2M3]" || len(minimal) != 2 {
		t.Errorf("%s from conflicts %v", got, minimal)
	}
}

// polyboxHolds reports whether the parts named by bits can all be sound: inputs 3, 2, 2, 3, 3; F = 10, G = 12.
func polyboxHolds(sound int) bool {
	const most = 12
	on := func(v int) bool { return sound>>v&1 == 1 }
	for x := range most + 1 {
		for y := range most + 1 {
			for z := range most + 1 {
				if on(0) && x != 6 || on(1) && y != 6 || on(2) && z != 6 || on(3) && x+y != 10 || on(4) && y+z != 12 {
					continue
				}
				return true
			}
		}
	}
	return false
}
