package signal

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/floats"
)

// Slower takes every nth sample of a stream, after what would fold down is filtered off: flat to within a thousandth up to 0.35 of the
// new rate, down by 70 dB from 0.5. Memory does not grow with the stream.
type Slower struct {
	by      int
	rate    float64
	kernel  []float64
	waiting []float64
	skip    int
}

const lobesSlower = 20 // half length of the filter, in new samples

// NewSlower prepares the way from a rate to the lowest one that is no lower than the wanted one and divides it.
func NewSlower(rate, want float64) (*Slower, error) {
	if !(rate > 0) || math.IsInf(rate, 1) || !(want > 0) {
		return nil, fmt.Errorf("signal: from %v Hz to %v Hz; want two rates above 0", rate, want)
	}
	s := &Slower{by: max(1, int(rate/want))}
	s.rate = rate / float64(s.by)
	if s.by == 1 {
		return s, nil
	}
	half := lobesSlower * s.by
	s.kernel = make([]float64, 2*half+1)
	cut := 0.43 / float64(s.by)
	for i := range s.kernel {
		d := float64(i - half)
		s.kernel[i] = 2 * cut * sinc(2*cut*d) * blackman(d/float64(half+1))
	}
	floats.Scale(1/floats.Sum(s.kernel), s.kernel)
	s.waiting = make([]float64, half) // what came before the first sample is taken as nothing
	return s, nil
}

// Rate is that of what comes out.
func (s *Slower) Rate() float64 { return s.rate }

// Take appends to out what follows from more samples of the stream.
func (s *Slower) Take(out, x []float64) []float64 {
	if s.by == 1 {
		return append(out, x...)
	}
	s.waiting = append(s.waiting, x...)
	at := s.skip
	for ; at+len(s.kernel) <= len(s.waiting); at += s.by {
		out = append(out, floats.Dot(s.kernel, s.waiting[at:at+len(s.kernel)]))
	}
	gone := min(at, len(s.waiting))
	s.skip = at - gone
	s.waiting = s.waiting[:copy(s.waiting, s.waiting[gone:])]
	return out
}

// Rest appends what the end of the stream holds back.
func (s *Slower) Rest(out []float64) []float64 {
	if s.by == 1 {
		return out
	}
	return s.Take(out, make([]float64, lobesSlower*s.by))
}

func sinc(x float64) float64 {
	if math.Abs(x) < 1e-9 {
		return 1
	}
	return math.Sin(math.Pi*x) / (math.Pi * x)
}

// blackman is the window of filters, by the share of their half length.
func blackman(share float64) float64 {
	if math.Abs(share) >= 1 {
		return 0
	}
	return 0.42 + 0.5*math.Cos(math.Pi*share) + 0.08*math.Cos(2*math.Pi*share)
}

// nice is the least even number from n on that has no prime factor above 5: lengths that the FFT is quick with.
func nice(n int) int {
	for n = max(16, n+n%2); ; n += 2 {
		m := n
		for _, p := range []int{2, 3, 5} {
			for m%p == 0 {
				m /= p
			}
		}
		if m == 1 {
			return n
		}
	}
}
