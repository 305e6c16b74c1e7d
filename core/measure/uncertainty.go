package measure

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
)

// Function is a computation of several numbers from several numbers; it fails on input that makes no sense.
type Function func(x []float64) ([]float64, error)

// Estimate is one computed number with what is known of it.
type Estimate struct {
	Value    float64
	U        float64   // standard uncertainty
	Low      float64   // 95 % interval: shortest from samples when Sampled, else Value ± 2 U
	High     float64   //
	Parts    []float64 // by input: share of the variance
	Sampled  bool      // the computation bends too much for the first-order rule: the interval is from samples
	Unstable bool      // a fair part of the samples makes no sense: an input may as well be impossible
}

// Draws is how many samples stand for the inputs when the first-order rule does not do.
const Draws = 2000

// bends is the share of the first-order change from which a computation counts as bent within the uncertainty.
const bends = 0.1

// Propagate carries standard uncertainties u of independent inputs x through f: first order by central differences
// (JCGM 100:2008, 5.1.2 and 5.1.3, note 2); by Monte Carlo (JCGM 101:2008, 5 and 7, normal inputs, shortest interval
// replaced by the central one of 95 %) where f bends within the uncertainty. The seed makes samples repeatable. It fails
// when f fails at x.
func Propagate(f Function, x, u []float64, seed uint64) ([]Estimate, error) {
	if len(x) != len(u) {
		return nil, errors.New("measure: as many uncertainties as inputs are needed")
	}
	y, err := f(x)
	if err != nil {
		return nil, err
	}
	out := make([]Estimate, len(y))
	for k := range out {
		out[k] = Estimate{Value: y[k], Parts: make([]float64, len(x))}
	}
	bent := false
	at := slices.Clone(x)
	for i := range x {
		if u[i] <= 0 {
			continue
		}
		at[i] = x[i] + u[i]
		up, errUp := f(at)
		at[i] = x[i] - u[i]
		down, errDown := f(at)
		at[i] = x[i]
		if errUp != nil || errDown != nil || len(up) != len(y) || len(down) != len(y) {
			bent = true // an edge of what makes sense is within the uncertainty
			continue
		}
		for k := range out {
			slope, curve := (up[k]-down[k])/2, up[k]-2*y[k]+down[k]
			out[k].Parts[i] = slope * slope
			if math.Abs(curve) > bends*math.Abs(slope) && math.Abs(curve) > 1e-9*math.Abs(y[k]) {
				bent = true
			}
		}
	}
	for k := range out {
		e := &out[k]
		sum := 0.0
		for _, p := range e.Parts {
			sum += p
		}
		e.U = math.Sqrt(sum)
		e.Low, e.High = e.Value-Coverage*e.U, e.Value+Coverage*e.U
		for i := range e.Parts {
			if sum > 0 {
				e.Parts[i] /= sum
			}
		}
	}
	if bent {
		sample(f, x, u, seed, out)
	}
	return out, nil
}

// sample replaces uncertainty and interval by those of samples.
func sample(f Function, x, u []float64, seed uint64, out []Estimate) {
	r := rand.New(rand.NewPCG(seed, 0x9e3779b97f4a7c15))
	at := make([]float64, len(x))
	drawn := make([][]float64, len(out))
	for range Draws {
		for i := range at {
			at[i] = x[i] + u[i]*r.NormFloat64()
		}
		y, err := f(at)
		if err != nil || len(y) != len(out) {
			continue
		}
		for k := range drawn {
			drawn[k] = append(drawn[k], y[k])
		}
	}
	for k := range out {
		e, ys := &out[k], drawn[k]
		e.Sampled, e.Unstable = true, len(ys) < Draws*9/10
		if len(ys) < 2 {
			continue
		}
		mean, squares := 0.0, 0.0
		for _, v := range ys {
			mean += v / float64(len(ys))
		}
		for _, v := range ys {
			squares += (v - mean) * (v - mean)
		}
		e.U = math.Sqrt(squares / float64(len(ys)-1))
		slices.Sort(ys)
		e.Low, e.High = ys[len(ys)*25/1000], ys[len(ys)*975/1000]
	}
}
