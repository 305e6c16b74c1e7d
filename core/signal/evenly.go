package signal

import (
	"fmt"
	"math"
	"slices"
)

// Evenly reads samples that come at their own times at an even rate, the usual one of these times: by a cubic through the four about each
// moment. A device's stamps wander; taken as even they would smear every line.
func Evenly(at, x []float64) ([]float64, float64, error) {
	if len(at) != len(x) || len(at) < 16 {
		return nil, 0, fmt.Errorf("signal: %d samples with %d times; want 16 or more, each with its time", len(x), len(at))
	}
	steps := make([]float64, len(at)-1)
	for i := range steps {
		if steps[i] = at[i+1] - at[i]; !(steps[i] > 0) {
			return nil, 0, fmt.Errorf("signal: the sample at %v s comes after that at %v s; want times in order", at[i], at[i+1])
		}
	}
	slices.Sort(steps)
	step := steps[len(steps)/2]
	rate := 1 / step
	n := int((at[len(at)-1]-at[0])/step) + 1
	if n > 20*len(at) {
		return nil, 0, fmt.Errorf("signal: most of the time there are no samples; want a part without gaps")
	}
	out := make([]float64, n)
	i := 0
	for k := range out {
		t := at[0] + float64(k)*step
		for i+2 < len(at) && at[i+1] <= t {
			i++
		}
		out[k] = hermite(at, x, i, t)
	}
	return out, rate, nil
}

// hermite is the cubic over piece i whose slopes are those of its neighbors.
func hermite(at, x []float64, i int, t float64) float64 {
	h := at[i+1] - at[i]
	slope := func(j int) float64 {
		a, b := max(0, j-1), min(len(at)-1, j+1)
		return (x[b] - x[a]) / (at[b] - at[a])
	}
	u := math.Min(1, (t-at[i])/h)
	return x[i]*(1+2*u)*(1-u)*(1-u) + x[i+1]*u*u*(3-2*u) + h*slope(i)*u*(1-u)*(1-u) - h*slope(i+1)*u*u*(1-u)
}

// Clap is when the loudest short sound of a recording begins, s: by it two devices are brought onto one time.
func Clap(x []float64, rate float64) (at float64, clear bool) {
	n := max(1, int(rate*0.005))
	if len(x) < 20*n {
		return 0, false
	}
	level := make([]float64, len(x)/n)
	for i := range level {
		for _, v := range x[i*n : (i+1)*n] {
			level[i] += v * v
		}
	}
	best, top := 0, 0.0
	for i := 1; i < len(level); i++ {
		if rise := level[i] - 4*level[i-1]; rise > top {
			best, top = i, rise
		}
	}
	sorted := slices.Clone(level)
	slices.Sort(sorted)
	usual := sorted[len(sorted)/2]
	return float64(best*n) / rate, level[best] > 50*usual && usual > 0 || usual == 0 && top > 0
}
