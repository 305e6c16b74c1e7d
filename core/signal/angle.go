package signal

import (
	"fmt"
	"math"
	"sort"

	"gonum.org/v1/gonum/dsp/fourier"
)

// Speed is how fast a shaft turned: rev/s at times, in order.
type Speed struct{ At, Turns []float64 }

// Angle is the shaft's angle over time, in turns: the integral of its speed, which is taken as straight between its samples and as level
// before the first and after the last.
type Angle struct {
	at, speed, turns []float64
}

// NewAngle integrates a speed.
func NewAngle(s Speed) (Angle, error) {
	if len(s.At) != len(s.Turns) || len(s.At) < 2 {
		return Angle{}, fmt.Errorf("signal: a speed of %d samples; want two or more, each with its time", len(s.At))
	}
	a := Angle{at: s.At, speed: s.Turns, turns: make([]float64, len(s.At))}
	for i := range s.At {
		if !(s.Turns[i] >= 0) || math.IsInf(s.Turns[i], 1) {
			return Angle{}, fmt.Errorf("signal: a speed of %v rev/s at %v s; want 0 or more", s.Turns[i], s.At[i])
		}
		if i == 0 {
			continue
		}
		step := s.At[i] - s.At[i-1]
		if !(step > 0) {
			return Angle{}, fmt.Errorf("signal: the speed at %v s comes after that at %v s; want times in order", s.At[i-1], s.At[i])
		}
		a.turns[i] = a.turns[i-1] + step*(s.Turns[i]+s.Turns[i-1])/2
	}
	return a, nil
}

// Turns is the angle at a time.
func (a Angle) Turns(t float64) float64 {
	i := sort.SearchFloat64s(a.at, t)
	switch {
	case i == 0:
		return (t - a.at[0]) * a.speed[0]
	case i == len(a.at):
		last := len(a.at) - 1
		return a.turns[last] + (t-a.at[last])*a.speed[last]
	}
	d, step := t-a.at[i-1], a.at[i]-a.at[i-1]
	slope := (a.speed[i] - a.speed[i-1]) / step
	return a.turns[i-1] + d*(a.speed[i-1]+slope*d/2)
}

// ByAngle takes samples at equal angles: perTurn of them in each turn of the shaft, from the first to the last sample. What is too quick
// for them is filtered off before at 0.4·perTurn of the slowest part's speed, and samples are taken four times closer by the FFT before they
// are read between by a cubic: with that a line at a third of the sampling rate loses less than a hundredth.
func ByAngle(x []float64, rate float64, a Angle, perTurn int) ([]float64, error) {
	if len(x) < 16 || !(rate > 0) || perTurn < 4 {
		return nil, fmt.Errorf("signal: %d samples at %v Hz, %d in a turn; want 16 samples and 4 in a turn or more", len(x), rate, perTurn)
	}
	end := float64(len(x)-1) / rate
	first, last := a.Turns(0), a.Turns(end)
	turns := last - first
	if !(turns >= 2) {
		return nil, fmt.Errorf("signal: the shaft turns %.1f times in this recording; want two turns or more", math.Max(0, turns))
	}
	const closer = 4
	fine := oversample(x, closer, 0.4*float64(perTurn)*turns/end/rate)
	n := int(turns * float64(perTurn))
	out := make([]float64, n)
	t := 0.0
	for i := range out {
		want := first + float64(i)/float64(perTurn)
		t = a.when(want, t, end)
		out[i] = cubic(fine, t*rate*closer)
	}
	return out, nil
}

// when is the time at which an angle is reached, from a time that is not after it.
func (a Angle) when(turns, from, end float64) float64 {
	low, high := from, end
	for range 60 {
		mid := (low + high) / 2
		if a.Turns(mid) < turns {
			low = mid
		} else {
			high = mid
		}
		if high-low < 1e-9 {
			break
		}
	}
	return (low + high) / 2
}

// oversample puts so many samples in the place of each, without what lies above a share of the sampling rate.
func oversample(x []float64, by int, share float64) []float64 {
	n := len(x)
	bins := fourier.NewFFT(n).Coefficients(nil, x)
	wide := make([]complex128, n*by/2+1)
	for i, c := range bins {
		if float64(i)/float64(n) <= math.Min(share, 0.5) {
			wide[i] = c
		}
	}
	out := fourier.NewFFT(n*by).Sequence(nil, wide)
	for i := range out {
		out[i] /= float64(n)
	}
	return out
}

// cubic reads between four samples.
func cubic(x []float64, at float64) float64 {
	i := int(at)
	if i < 1 {
		i = 1
	}
	if i > len(x)-3 {
		i = len(x) - 3
	}
	d := at - float64(i)
	a, b, c, e := x[i-1], x[i], x[i+1], x[i+2]
	return b + d/2*(c-a+d*(2*a-5*b+4*c-e+d*(3*(b-c)+e-a)))
}
