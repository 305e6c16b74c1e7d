package vibration

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// What a drive tells, summed over a grid, against drawing it: who is the source, whether a line is heard, where.
func TestWhatADriveTellsAgainstDrawing(t *testing.T) {
	x := outcomes{unknown: 0.08}
	x.add(0.47, 78.3, 0.011, 0.95, true)
	x.add(0.42, 101.2, 0.011, 0.95, true)
	x.add(0.03, 67.5, 0.012, 0.95, true)
	bits, right := x.tell()
	r := rand.New(rand.NewPCG(2, 2))
	p := []float64{0.47, 0.42, 0.03, 0.08}
	const n = 200000
	sum, hits := 0.0, 0
	for range n {
		u, k := r.Float64(), 0
		for u -= p[0]; u > 0 && k < 3; u -= p[k] {
			k++
		}
		heardIt, at := false, 0.0
		switch {
		case k == 3:
			if heardIt = r.Float64() < 0.5; heardIt {
				at = math.Log(78.3) - 0.044 + (r.Float64()-0.5)*5 // anywhere in the band
			}
		case r.Float64() < x.lines[k].q:
			heardIt, at = true, x.lines[k].at+x.lines[k].sd*r.NormFloat64()
		case r.Float64() < falseAlarm:
			heardIt, at = true, math.Log(78.3)-0.044+(r.Float64()-0.5)*5
		}
		w := make([]float64, 4)
		for i, l := range x.lines {
			if !heardIt {
				w[i] = p[i] * (1 - l.q) * (1 - falseAlarm)
				continue
			}
			z := (at - l.at) / l.sd
			w[i] = p[i]*l.q*math.Exp(-z*z/2)/(l.sd*math.Sqrt(2*math.Pi)) + p[i]*(1-l.q)*falseAlarm/5
		}
		w[3] = p[3] * 0.5
		if heardIt {
			w[3] = p[3] * 0.5 / 5
		}
		mass := w[0] + w[1] + w[2] + w[3]
		sum += math.Log2(w[k] / mass / p[k])
		if slices.Max(w) == w[k] {
			hits++
		}
	}
	if math.Abs(bits-sum/n) > 0.02 || math.Abs(right-float64(hits)/n) > 0.01 {
		t.Errorf("%.3f bits, right %.3f; drawn %.3f and %.3f", bits, right, sum/n, float64(hits)/n)
	}
	// Two sources on one line tell nothing of each other.
	same := outcomes{}
	same.add(0.5, 50, 0.01, 0.95, true)
	same.add(0.5, 50, 0.01, 0.95, true)
	if b, _ := same.tell(); b > 1e-3 {
		t.Errorf("two on one line: %v bits", b)
	}
}
