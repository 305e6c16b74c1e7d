package signal

import (
	"cmp"
	"fmt"
	"math"
	"math/cmplx"
	"slices"

	"gonum.org/v1/gonum/dsp/fourier"
)

// Spectrum is what a block, or the mean of many, holds by frequency: bin i stands for i·Step Hz.
type Spectrum struct {
	Window Window
	Step   float64   // Hz between bins
	Power  []float64 // square of the amplitude that a line in the bin would have
	Blocks int       // that were averaged
}

// Amplitude is the height of a line in a bin.
func (s Spectrum) Amplitude(bin int) float64 { return math.Sqrt(s.Power[bin]) }

// Density is the power of noise in a bin for each hertz: its sum over all bins times Step is the variance.
func (s Spectrum) Density(bin int) float64 {
	return s.Power[bin] / 2 / (s.Window.NoiseWidth() * s.Step)
}

// Transform does blocks of one length; it is not to be used by two at once.
type Transform struct {
	window  Window
	rate    float64
	weights []float64
	fft     *fourier.FFT
	block   []float64
	bins    []complex128
}

// NewTransform prepares blocks of n samples.
func NewTransform(w Window, n int, rate float64) (*Transform, error) {
	if err := w.check(n, rate); err != nil {
		return nil, err
	}
	return &Transform{window: w, rate: rate, weights: w.Weights(n), fft: fourier.NewFFT(n), block: make([]float64, n), bins: make([]complex128, n/2+1)}, nil
}

// Step is the distance of two bins, Hz.
func (t *Transform) Step() float64 { return t.rate / float64(len(t.block)) }

// Power adds the power of a block's lines to sum, bin by bin. The mean of the block is taken off first.
func (t *Transform) Power(x, sum []float64) {
	n := len(t.block)
	mean := 0.0
	for _, v := range x[:n] {
		mean += v
	}
	mean /= float64(n)
	for i, w := range t.weights {
		t.block[i] = (x[i] - mean) * w
	}
	t.bins = t.fft.Coefficients(t.bins, t.block)
	scale := 2 / (t.window.Gain() * float64(n))
	for i, c := range t.bins {
		re, im := real(c)*scale, imag(c)*scale
		if i == 0 || n%2 == 0 && i == n/2 {
			re, im = re/2, im/2 // these two have no twin
		}
		sum[i] += re*re + im*im
	}
}

// Bins is how many bins a block has.
func (t *Transform) Bins() int { return len(t.bins) }

// Of is the spectrum of all samples as one block.
func Of(x []float64, rate float64, w Window) (Spectrum, error) { return Welch(x, rate, w, len(x), 0) }

// Welch is the mean power of blocks of n samples that overlap by a share.
func Welch(x []float64, rate float64, w Window, n int, overlap float64) (Spectrum, error) {
	if n > len(x) {
		return Spectrum{}, fmt.Errorf("signal: %d samples for blocks of %d; want at least one block", len(x), n)
	}
	if !(overlap >= 0 && overlap < 0.96) {
		return Spectrum{}, fmt.Errorf("signal: an overlap of %v; want 0 to 0.95", overlap)
	}
	t, err := NewTransform(w, n, rate)
	if err != nil {
		return Spectrum{}, err
	}
	out := Spectrum{Window: w, Step: t.Step(), Power: make([]float64, t.Bins())}
	hop := max(1, int(math.Round(float64(n)*(1-overlap))))
	for at := 0; at+n <= len(x); at += hop {
		t.Power(x[at:at+n], out.Power)
		out.Blocks++
	}
	for i := range out.Power {
		out.Power[i] /= float64(out.Blocks)
	}
	return out, nil
}

// Peak is a line found in a spectrum.
type Peak struct {
	Frequency, Amplitude float64
	Ratio                float64 // of its power to that of the noise beside it
}

// Peaks are the lines that stand above the noise beside them by a ratio of power, highest first, at most so many. Frequency and height are
// read between the bins: by the two highest lines for a Hann window [3], by a parabola through the logarithms for the others.
func (s Spectrum) Peaks(ratio float64, most int) []Peak {
	floor := s.Floor(24)
	var out []Peak
	for i := 1; i < len(s.Power)-1; i++ {
		p := s.Power
		if p[i] < p[i-1] || p[i] <= p[i+1] || floor[i] <= 0 || p[i] < ratio*floor[i] {
			continue
		}
		at, height := s.line(i)
		out = append(out, Peak{at * s.Step, height, p[i] / floor[i]})
	}
	slices.SortFunc(out, func(a, b Peak) int { return cmp.Compare(b.Amplitude, a.Amplitude) })
	return out[:min(most, len(out))]
}

// line is where a line lies about its highest bin, in bins, and its height.
func (s Spectrum) line(i int) (at, height float64) {
	below, here, above := s.Amplitude(i-1), s.Amplitude(i), s.Amplitude(i+1)
	if s.Window == Hann {
		side, next := 1.0, above
		if below > above {
			side, next = -1, below
		}
		r := next / here
		d := math.Min(0.5, math.Max(0, (2*r-1)/(r+1)))
		// What a Hann window leaves of a line that is d off: sin(πd)/(πd·(1−d²)).
		left := 1.0
		if d > 1e-9 {
			left = math.Sin(math.Pi*d) / (math.Pi * d * (1 - d*d))
		}
		return float64(i) + side*d, here / left
	}
	if below <= 0 || above <= 0 {
		return float64(i), here
	}
	a, b, c := math.Log(below), math.Log(here), math.Log(above)
	d := 0.0
	if den := a - 2*b + c; den < 0 {
		d = math.Max(-0.5, math.Min(0.5, (a-c)/(2*den)))
	}
	if s.Window == FlatTop {
		return float64(i) + d, here // its top is flat: it reads the height as it stands
	}
	return float64(i) + d, math.Exp(b - (a-c)*d/4)
}

// Floor is the noise about each bin: the median of the power of so many bins to either side, as a mean (the median of a chi-square of two
// degrees is ln 2 of its mean; with many blocks it nears the mean).
func (s Spectrum) Floor(half int) []float64 {
	out := make([]float64, len(s.Power))
	m := newRunning(s.Power, half)
	// Wilson–Hilferty for the median of a chi-square with so many degrees of freedom.
	k := 2 * float64(max(1, s.Blocks))
	median := math.Pow(1-2/(9*k), 3)
	for i := range out {
		out[i] = m.at(i) / median
	}
	return out
}

// running is a median over a window that moves along: sorted once, then one in and one out.
type running struct {
	x           []float64
	half        int
	sorted      []float64
	first, last int // of x, first to before last
}

func newRunning(x []float64, half int) *running { return &running{x: x, half: half} }

func (m *running) at(i int) float64 {
	from, to := max(0, i-m.half), min(len(m.x), i+m.half+1)
	for m.last < to {
		at, _ := slices.BinarySearch(m.sorted, m.x[m.last])
		m.sorted = slices.Insert(m.sorted, at, m.x[m.last])
		m.last++
	}
	for m.first < from {
		at, _ := slices.BinarySearch(m.sorted, m.x[m.first])
		m.sorted = slices.Delete(m.sorted, at, at+1)
		m.first++
	}
	n := len(m.sorted)
	if n%2 == 1 {
		return m.sorted[n/2]
	}
	return (m.sorted[n/2-1] + m.sorted[n/2]) / 2
}

// Over is a spectrum over time: one for each block, stamped at its middle.
type Over struct {
	Step, Hop, Start float64 // Hz between bins; s between blocks; s of the first block's middle
	Power            [][]float64
}

// Spectrogram cuts x into blocks of n samples, each hop samples on.
func Spectrogram(x []float64, rate float64, w Window, n, hop int) (Over, error) {
	if n > len(x) || hop < 1 {
		return Over{}, fmt.Errorf("signal: blocks of %d every %d of %d samples; want at least one block", n, hop, len(x))
	}
	t, err := NewTransform(w, n, rate)
	if err != nil {
		return Over{}, err
	}
	out := Over{Step: t.Step(), Hop: float64(hop) / rate, Start: float64(n) / 2 / rate}
	for at := 0; at+n <= len(x); at += hop {
		row := make([]float64, t.Bins())
		t.Power(x[at:at+n], row)
		out.Power = append(out.Power, row)
	}
	return out, nil
}

// Envelope is how strong a band is over time: the size of the analytic signal of the band from low to high Hz. What strikes again and
// again (a bearing, a chipped tooth, a rattle) shows in its spectrum at the rate of striking.
func Envelope(x []float64, rate, low, high float64) ([]float64, error) {
	if len(x) < 8 || !(rate > 0) {
		return nil, fmt.Errorf("signal: %d samples at %v Hz; want 8 or more", len(x), rate)
	}
	if !(low >= 0 && high > low && high <= rate/2) {
		return nil, fmt.Errorf("signal: a band of %v to %v Hz; want one within 0 to %v Hz", low, high, rate/2)
	}
	n := len(x)
	fft := fourier.NewCmplxFFT(n)
	z := make([]complex128, n)
	for i, v := range x {
		z[i] = complex(v, 0)
	}
	z = fft.Coefficients(z, z)
	for i := range z {
		f := float64(i) * rate / float64(n)
		switch {
		case i > n/2 || f < low || f > high:
			z[i] = 0
		case i > 0 && !(n%2 == 0 && i == n/2):
			z[i] *= 2
		}
	}
	z = fft.Sequence(z, z)
	out := make([]float64, n)
	for i, v := range z {
		out[i] = cmplx.Abs(v) / float64(n)
	}
	return out, nil
}
