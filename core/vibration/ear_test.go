package vibration_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"innercompass/core/vibration"
)

// Cases drawn from the table itself: taken by what they tell in a minute the trials need less time than in any order, and a leader
// with three in four is right about as often. Real vehicles will be worse: the table is judgment.
func TestByEar(t *testing.T) {
	e := vibration.ByEar
	for _, x := range e.Trials {
		if len(x.Yes) != len(e.Families) {
			t.Fatalf("%s has %d answers for %d families", x.ID, len(x.Yes), len(e.Families))
		}
	}
	sum := 0.0
	for _, f := range e.Families {
		sum += f.Prior
	}
	if math.Abs(sum-1) > 1e-9 {
		t.Errorf("priors sum to %v", sum)
	}
	r := rand.New(rand.NewPCG(31, 3))
	play := func(pick func(answers map[string]bool) vibration.Trial) (minutes float64, reached, right int) {
		const n = 400
		for range n {
			truth, u := 0, r.Float64()
			for u -= e.Families[0].Prior; u > 0 && truth < len(e.Families)-1; u -= e.Families[truth].Prior {
				truth++
			}
			answers := map[string]bool{}
			for len(answers) < len(e.Trials) {
				x := pick(answers)
				answers[x.ID] = r.Float64() < x.Yes[truth]
				minutes += x.Minutes / n
				p := e.Answered(answers)
				best := 0
				for i := range p {
					if p[i] > p[best] {
						best = i
					}
				}
				if p[best] < 0.75 && len(answers) < len(e.Trials) {
					continue
				}
				if p[best] >= 0.75 {
					reached++
					if best == truth {
						right++
					}
				}
				break
			}
		}
		return
	}
	quick, reached, right := play(func(a map[string]bool) vibration.Trial { return e.Next(a)[0].Trial })
	slow, _, _ := play(func(a map[string]bool) vibration.Trial {
		for {
			if x := e.Trials[r.IntN(len(e.Trials))]; true {
				if _, done := a[x.ID]; !done {
					return x
				}
			}
		}
	})
	t.Logf("%.0f min by what is told in a minute, %.0f in any order; three in four reached in %d of 400, right in %d", quick, slow, reached, right)
	if quick > 0.8*slow || right < reached*7/10 {
		t.Errorf("%.0f against %.0f min, %d of %d right", quick, slow, right, reached)
	}
	// The pitch comes first: it costs nothing.
	if first := e.Next(nil)[0].ID; first != "shake" && first != "whine" {
		t.Errorf("first comes %s", first)
	}
}
