package signal

import (
	"fmt"
	"math"
	"slices"
)

// Pulses reads the speed of a shaft from pulses, so many in each turn: from each rise through the middle to the next, read between the
// samples. A rise counts only after the level was near the bottom again, so noise on an edge makes no second pulse.
func Pulses(x []float64, rate float64, perTurn float64) (Speed, error) {
	if len(x) < 16 || !(rate > 0) || !(perTurn > 0) {
		return Speed{}, fmt.Errorf("signal: %d samples at %v Hz, %v pulses in a turn; want 16 samples or more and both above 0", len(x), rate, perTurn)
	}
	sorted := slices.Clone(x)
	slices.Sort(sorted)
	low, high := sorted[len(sorted)/50], sorted[len(sorted)-1-len(sorted)/50]
	if !(high-low > 0) {
		high = sorted[len(sorted)-1] // pulses shorter than a fiftieth of their distance
	}
	if !(high-low > 1e-12*math.Max(1, math.Abs(high))) {
		return Speed{}, fmt.Errorf("signal: a channel without pulses; want levels that change")
	}
	middle, bottom := (low+high)/2, low+(high-low)/4
	var at []float64
	ready := false
	for i := 1; i < len(x); i++ {
		if x[i-1] < bottom || x[i] < bottom {
			ready = true
		}
		if ready && x[i-1] < middle && x[i] >= middle {
			at = append(at, (float64(i-1)+(middle-x[i-1])/(x[i]-x[i-1]))/rate)
			ready = false
		}
	}
	if len(at) < 3 {
		return Speed{}, fmt.Errorf("signal: %d pulses; want three or more", len(at))
	}
	out := Speed{}
	for i := 1; i < len(at); i++ {
		out.At = append(out.At, (at[i]+at[i-1])/2)
		out.Turns = append(out.Turns, 1/(at[i]-at[i-1])/perTurn)
	}
	return out, nil
}
