package attribute_test

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"

	"innercompass/core/attribute"
)

// scene is made at random: sources, and marks with one to three levels.
func scene(r *rand.Rand, sources, marks int) ([]float64, []attribute.Mark) {
	priors := make([]float64, sources)
	for i := range priors {
		priors[i] = 0.02 + 0.3*r.Float64()
	}
	rising := func(n int) []float64 {
		out := make([]float64, n)
		last := 0.0
		for i := range out {
			last += (1 - last) * r.Float64()
			out[i] = last
		}
		return out
	}
	out := make([]attribute.Mark, marks)
	for j := range out {
		n := 1 + r.IntN(3)
		out[j] = attribute.Mark{Level: r.IntN(n + 1), Base: rising(n), By: make([][]float64, sources)}
		for i := range out[j].By {
			if r.Float64() < 0.6 {
				out[j].By[i] = rising(n)
			}
		}
	}
	return priors, out
}

// brute adds up every subset without recursion: the likelihood of each mark from its cumulative products.
func brute(priors []float64, marks []attribute.Mark) []float64 {
	share := make([]float64, len(priors))
	sum := 0.0
	upTo := func(m attribute.Mark, set, level int) float64 {
		if level < 0 {
			return 0
		}
		if level >= len(m.Base) {
			return 1
		}
		p := m.Base[level]
		for i := range priors {
			if set&(1<<i) != 0 && m.By[i] != nil {
				p *= m.By[i][level]
			}
		}
		return p
	}
	for set := range 1 << len(priors) {
		w := 1.0
		for i, p := range priors {
			if set&(1<<i) != 0 {
				w *= p
			} else {
				w *= 1 - p
			}
		}
		for _, m := range marks {
			w *= upTo(m, set, m.Level) - upTo(m, set, m.Level-1)
		}
		sum += w
		for i := range priors {
			if set&(1<<i) != 0 {
				share[i] += w
			}
		}
	}
	for i := range share {
		share[i] /= sum
	}
	return share
}

func TestPosteriorAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for n := range 60 {
		priors, marks := scene(r, 6, 5)
		got, err := attribute.Explain(priors, marks, len(priors), nil)
		if err != nil {
			t.Fatal(err)
		}
		for i, want := range brute(priors, marks) {
			if math.Abs(got.Share[i]-want) > 1e-12 {
				t.Errorf("scene %d, source %d: %v, by brute force %v", n, i, got.Share[i], want)
			}
		}
		sum := 0.0
		for i, s := range got.Sets {
			sum += s.Probability
			if i > 0 && s.Probability > got.Sets[i-1].Probability {
				t.Error("explanations are not in order")
			}
		}
		if sum > 1+1e-9 || sum < 0.95 {
			t.Errorf("scene %d: the explanations add up to %v", n, sum)
		}
	}
}

// A mark that says nothing moves nothing, and what the marks say for a source is its posterior odds over its prior odds.
func TestRatios(t *testing.T) {
	priors := []float64{0.1, 0.2}
	silent := attribute.Mark{Level: 1, Base: []float64{0.5}, By: [][]float64{nil, nil}}
	got, err := attribute.Explain(priors, []attribute.Mark{silent}, 2, nil)
	if err != nil || math.Abs(got.Ratio[0]-1) > 1e-9 || math.Abs(got.Ratio[1]-1) > 1e-9 {
		t.Errorf("%+v %v", got, err)
	}
	// One source alone: seen with 0.9, without it 0.1: nine times as likely.
	mark := attribute.Mark{Level: 1, Base: []float64{0.9}, By: [][]float64{{0.1 / 0.9}}}
	got, err = attribute.Explain([]float64{0.1}, []attribute.Mark{mark}, 1, nil)
	if err != nil || math.Abs(got.Ratio[0]-9) > 1e-9 || math.Abs(got.Share[0]-0.5) > 1e-9 {
		t.Errorf("%+v %v", got, err)
	}
	// Two sources that make the same mark share it; when one is sure by another mark, the other is explained away.
	both := attribute.Mark{Level: 1, Base: []float64{0.99}, By: [][]float64{{0.1}, {0.1}}}
	only := attribute.Mark{Level: 1, Base: []float64{0.999}, By: [][]float64{{0.05}, nil}}
	one, err := attribute.Explain([]float64{0.1, 0.1}, []attribute.Mark{both}, 2, nil)
	if err != nil {
		t.Fatal(err)
	}
	two, err := attribute.Explain([]float64{0.1, 0.1}, []attribute.Mark{both, only}, 2, nil)
	if err != nil || two.Share[1] > one.Share[1]/2 || two.Share[0] < 0.95 {
		t.Errorf("%v then %v: %v", one.Share, two.Share, err)
	}
}

// What no mark holds can be told for the set as a whole.
func TestExtraLikelihood(t *testing.T) {
	got, err := attribute.Explain([]float64{0.2, 0.2}, nil, 2, func(set []int) float64 {
		if len(set) == 1 && set[0] == 1 {
			return 1
		}
		return 0
	})
	if err != nil || got.Share[1] != 1 || got.Share[0] != 0 || len(got.Sets) != 1 {
		t.Errorf("%+v %v", got, err)
	}
}

func TestWhatCannotBeExplained(t *testing.T) {
	impossible := attribute.Mark{Level: 1, Base: []float64{1}, By: [][]float64{{1}}}
	if _, err := attribute.Explain([]float64{0.1}, []attribute.Mark{impossible}, 1, nil); !errors.Is(err, attribute.ErrImpossible) {
		t.Errorf("%v", err)
	}
	for name, bad := range map[string]attribute.Mark{
		"level":   {Level: 2, Base: []float64{0.5}, By: [][]float64{nil}},
		"falling": {Level: 0, Base: []float64{0.5, 0.4}, By: [][]float64{nil}},
		"sources": {Level: 0, Base: []float64{0.5}, By: nil},
		"levels":  {Level: 0, Base: []float64{0.5}, By: [][]float64{{0.1, 0.2}}},
		"number":  {Level: 0, Base: []float64{math.NaN()}, By: [][]float64{nil}},
	} {
		if _, err := attribute.Explain([]float64{0.1}, []attribute.Mark{bad}, 1, nil); err == nil || errors.Is(err, attribute.ErrImpossible) {
			t.Errorf("%s: %v", name, err)
		}
	}
	for _, priors := range [][]float64{nil, {0}, {1}, make([]float64, 60)} {
		if _, err := attribute.Explain(priors, nil, 1, nil); err == nil {
			t.Errorf("%v was taken", priors)
		}
	}
}

// A check that shows which of two sources it is gains the bit that parts them; one that shows both alike gains none.
func TestGainOfACheck(t *testing.T) {
	sets := []attribute.Set{{Sources: []int{0}, Probability: 0.5}, {Sources: []int{1}, Probability: 0.5}}
	telling := attribute.Mark{Base: []float64{1}, By: [][]float64{{0}, nil}}
	alike := attribute.Mark{Base: []float64{0.5}, By: [][]float64{{0.2}, {0.2}}}
	if g := attribute.Gain(sets, []attribute.Mark{telling}); math.Abs(g-1) > 1e-9 {
		t.Errorf("%v bits, want 1", g)
	}
	if g := attribute.Gain(sets, []attribute.Mark{alike}); g > 1e-9 {
		t.Errorf("%v bits, want none", g)
	}
	noisy := attribute.Mark{Base: []float64{0.9}, By: [][]float64{{0.1 / 0.9}, nil}}
	// 1 − H(0.1) = 0.531 bits; 160 draws are within a tenth of it
	if g := attribute.Gain(sets, []attribute.Mark{noisy}); math.Abs(g-0.531) > 0.1 {
		t.Errorf("%v bits, want 0.53", g)
	}
	if g := attribute.Gain(nil, []attribute.Mark{telling}); g != 0 {
		t.Errorf("%v bits of nothing", g)
	}
}

func BenchmarkThirtySourcesThirtyMarks(b *testing.B) {
	priors, marks := scene(rand.New(rand.NewPCG(5, 6)), 30, 30)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := attribute.Explain(priors, marks, 3, nil); err != nil {
			b.Fatal(err)
		}
	}
}
