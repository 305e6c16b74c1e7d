package signal

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/dsp/fourier"
)

// Of the way from samples to ridges (measured in a study of synthetic drives; without whitening and the local median two of three drives of
// noise alone had a ridge, from resonances and steps of gain, with them none in 600).
const (
	gainOver   = 0.5 // s over which the level is evened out
	blockTurns = 64  // turns in a block
	localHalf  = 24  // bins to either side of the median that a block is held against
	mostScore  = 4.0 // what one block can add
	noiseScore = 0.596
	scoreSD    = 0.55 // of one block of noise
	together   = 0.72 // share of half-overlapping blocks that count by themselves
	sure       = 4.8  // standard deviations of noise above which a ridge is one
	leastOrder = 0.2
)

// Band says how far up orders are looked for, by how many samples are taken in a turn: up to a third of it.
type Band int

// The bands.
const (
	Shake Band = 32  // what shakes and booms: wheels, shafts, joints, firing
	Whine Band = 256 // what whines: meshes, pumps
)

// Top is the highest order of a band.
func (b Band) Top() float64 { return float64(b) / 3 }

// Rate is the sampling rate that a band asks for while the shaft turns at most so fast, in rev/s.
func (b Band) Rate(fastest float64) float64 { return 1.2 * float64(b) * fastest }

// Orders is how strongly each order of a shaft stands out over a drive: bin i stands for i·Step events in a turn.
type Orders struct {
	Step   float64
	Score  []float64 // mean over the blocks; 0 for noise
	Blocks int
	Limit  float64 // above which a score is no noise
	top    float64
}

// Ridge is an order that stands out.
type Ridge struct {
	Order float64
	SD    float64 // share
	Sure  float64 // standard deviations of noise
}

// MapOrders finds what moves with a shaft: levels are evened out, what stays at its frequency is whitened away, samples are taken by the
// shaft's angle, and each block counts what stands above its own noise.
func MapOrders(x []float64, rate float64, a Angle, band Band) (Orders, error) {
	white, err := Whiten(even(x, rate), rate)
	if err != nil {
		return Orders{}, err
	}
	y, err := ByAngle(white, rate, a, int(band))
	if err != nil {
		return Orders{}, err
	}
	n := int(band) * blockTurns
	if len(y) < 2*n {
		return Orders{}, fmt.Errorf("signal: %d turns; want %d or more", len(y)/int(band), 2*blockTurns)
	}
	t, err := NewTransform(Hann, n, float64(band))
	if err != nil {
		return Orders{}, err
	}
	out := Orders{Step: t.Step(), Score: make([]float64, t.Bins()), top: band.Top()}
	power := make([]float64, t.Bins())
	for at := 0; at+n <= len(y); at += n / 2 {
		clear(power)
		t.Power(y[at:at+n], power)
		floor := Spectrum{Window: Hann, Power: power, Blocks: 1}.Floor(localHalf)
		for i, p := range power {
			if floor[i] > 0 {
				out.Score[i] += math.Min(mostScore, math.Log1p(p/floor[i])) - noiseScore
			}
		}
		out.Blocks++
	}
	for i := range out.Score {
		out.Score[i] /= float64(out.Blocks)
	}
	out.Limit = sure * scoreSD / math.Sqrt(together*float64(out.Blocks))
	return out, nil
}

// Smeared is an order about which several ridges stand within a hundredth or two: one line that a coarse speed has torn apart. It is their
// middle by weight; 0 when there is none.
func (o Orders) Smeared() float64 {
	const about = 0.012
	all := o.Ridges(12)
	best, weight := 0.0, 0.0
	for _, r := range all {
		sum, w, n := 0.0, 0.0, 0
		for _, s := range all {
			if math.Abs(s.Order/r.Order-1) < about {
				sum, w, n = sum+s.Order*s.Sure, w+s.Sure, n+1
			}
		}
		if n > 1 && w > weight {
			best, weight = sum/w, w
		}
	}
	return best
}

// Ridges are the orders above the noise, the surest first, at most so many.
func (o Orders) Ridges(most int) []Ridge {
	sd := o.Limit / sure
	var out []Ridge
	for i := max(2, int(leastOrder/o.Step)); i < len(o.Score)-1; i++ {
		s := o.Score
		if float64(i)*o.Step > o.top {
			break
		}
		if s[i] < o.Limit || s[i] < s[i-1] || s[i] <= s[i+1] {
			continue
		}
		d := 0.0
		if den := s[i-1] - 2*s[i] + s[i+1]; den < 0 {
			d = math.Max(-0.5, math.Min(0.5, (s[i-1]-s[i+1])/(2*den)))
		}
		order, z := (float64(i)+d)*o.Step, s[i]/sd
		cell := math.Max(0.1, 1.6/z) * o.Step
		out = append(out, Ridge{order, math.Hypot(cell/order, 0.0006), z})
	}
	slices.SortFunc(out, func(a, b Ridge) int { return cmp.Compare(b.Sure, a.Sure) })
	out = apart(out, o.Step)
	return out[:min(most, len(out))]
}

// apart leaves out what lies within two bins of a surer ridge: the foot of its window.
func apart(all []Ridge, step float64) []Ridge {
	var out []Ridge
	for _, r := range all {
		if !slices.ContainsFunc(out, func(o Ridge) bool { return math.Abs(o.Order-r.Order) < 2.5*step }) {
			out = append(out, r)
		}
	}
	return out
}

// even divides samples by their level about them: a gain that is turned, by hand or by the device, is taken out.
func even(x []float64, rate float64) []float64 {
	half := max(1, int(gainOver/2*rate))
	sum := make([]float64, len(x)+1)
	mean := 0.0
	for _, v := range x {
		mean += v / float64(len(x))
	}
	for i, v := range x {
		sum[i+1] = sum[i] + (v-mean)*(v-mean)
	}
	out := make([]float64, len(x))
	for i, v := range x {
		from, to := max(0, i-half), min(len(x), i+half+1)
		if level := (sum[to] - sum[from]) / float64(to-from); level > 0 {
			out[i] = (v - mean) / math.Sqrt(level)
		}
	}
	return out
}

// Whiten divides each frequency, a hertz wide, by its own median over the recording: what stays where it is goes flat, what moves stays. It
// goes through the samples twice and keeps the powers in between: some four bytes for each sample.
func Whiten(x []float64, rate float64) ([]float64, error) {
	n := nice(int(rate))
	if rate < 16 || len(x) < 4*n {
		return nil, fmt.Errorf("signal: %.1f s; want 4 s or more", float64(len(x))/math.Max(rate, 1))
	}
	weights, fft := Hann.Weights(n), fourier.NewFFT(n)
	block, bins := make([]float64, n), make([]complex128, n/2+1)
	frame := func(at int) {
		for i := range block {
			block[i] = x[at+i] * weights[i]
		}
		bins = fft.Coefficients(bins, block)
	}
	frames := (len(x)-n)/(n/2) + 1
	powers := make([]float32, frames*(n/2+1)) // by frequency, then by frame
	for k := range frames {
		frame(k * n / 2)
		for i, c := range bins {
			powers[i*frames+k] = float32(real(c)*real(c) + imag(c)*imag(c))
		}
	}
	level := make([]float64, n/2+1)
	for i := range level {
		column := powers[i*frames : (i+1)*frames]
		slices.Sort(column)
		level[i] = math.Sqrt(float64(column[frames/2]))
	}
	out := make([]float64, len(x))
	for k := range frames {
		frame(k * n / 2)
		for i := range bins {
			if level[i] > 0 {
				bins[i] /= complex(level[i], 0)
			} else {
				bins[i] = 0
			}
		}
		for i, v := range fft.Sequence(block, bins) {
			out[k*n/2+i] += v // Hann windows half over each other add up to one
		}
	}
	return out, nil
}
