// Package signal turns samples into spectra that can be read in the units of the channel: windows, lines and densities, the frequency and
// height of a peak between two bins, spectra over time, the envelope of a band, and samples by angle instead of by time.
//
// Scaling: a line of amplitude A reads A, whatever the window; noise reads as a density whose sum over frequency is its variance (Parseval).
// The FFT is gonum's. Times in s, frequencies in Hz, angles in turns.
//
// References: gains and noise widths of windows [1] Harris 1978, [2] Heinzel 2002; frequency from two lines of a Hann window [3] Grandke
// 1983; all recalled from memory and held against their definitions or against tones in the tests.
package signal

import (
	"fmt"
	"math"
)

// Window weighs the samples of a block.
type Window string

// The windows. Hann reads frequencies, FlatTop heights, BlackmanHarris what stands beside a line a thousand times higher.
const (
	Rectangle      Window = "rectangle"
	Hann           Window = "hann"
	BlackmanHarris Window = "blackman-harris"
	FlatTop        Window = "flat-top"
)

// Windows lists them.
var Windows = []Window{Rectangle, Hann, BlackmanHarris, FlatTop}

// terms are the cosine terms of each window [1], [2].
var terms = map[Window][]float64{
	Rectangle:      {1},
	Hann:           {0.5, -0.5},
	BlackmanHarris: {0.35875, -0.48829, 0.14128, -0.01168},
	FlatTop:        {0.21557895, -0.41663158, 0.277263158, -0.083578947, 0.006947368},
}

// Weights are the weights of n samples, periodic: the sample that would follow the last is the first again.
func (w Window) Weights(n int) []float64 {
	out := make([]float64, n)
	for k, a := range terms[w] {
		for i := range out {
			out[i] += a * math.Cos(2*math.Pi*float64(k*i)/float64(n))
		}
	}
	return out
}

// Gain is the mean weight: what a line keeps of its height.
func (w Window) Gain() float64 { return terms[w][0] }

// NoiseWidth is how many bins of noise one bin gathers.
func (w Window) NoiseWidth() float64 {
	sum := 0.0
	for k, a := range terms[w] {
		if k == 0 {
			sum += a * a
		} else {
			sum += a * a / 2
		}
	}
	return sum / (w.Gain() * w.Gain())
}

func (w Window) check(n int, rate float64) error {
	switch {
	case terms[w] == nil:
		return fmt.Errorf("signal: no window %q; want one of %v", w, Windows)
	case n < 8:
		return fmt.Errorf("signal: a block of %d samples; want 8 or more", n)
	case !(rate > 0) || math.IsInf(rate, 1):
		return fmt.Errorf("signal: %v samples a second; want more than 0", rate)
	}
	return nil
}
