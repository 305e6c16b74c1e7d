package signal

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Cells is how far each frequency stands out of the noise beside it, over time: one frame every Hop seconds, stamped at its middle.
type Cells struct {
	Step  float64 // Hz between cells
	Hop   float64 // s between frames
	Start float64 // s of the middle of the first frame
	// Score of frame and cell is the logarithm of one plus the ratio to the noise, less its mean in noise: 0 in noise, higher in a line.
	Score [][]float32
}

const (
	frameLong   = 1.0 // s: a ridge that rises by 2 to 4 Hz in a second is kept sharp
	framesEach  = 4   // frames begun in that time
	cellsPadded = 2   // cells for each that the length gives
)

// Map cuts samples into frames and holds each against its own noise, up to a frequency. Gain that is turned is taken out before.
func Map(x []float64, rate, top float64) (Cells, error) {
	n := nice(int(rate * frameLong))
	if len(x) < 2*n {
		return Cells{}, fmt.Errorf("signal: %.1f s; want %.0f s or more", float64(len(x))/math.Max(rate, 1), 2*frameLong)
	}
	t, err := NewTransform(Hann, n*cellsPadded, rate)
	if err != nil {
		return Cells{}, err
	}
	// The window spans the samples only; what follows it is nothing.
	clear(t.weights)
	copy(t.weights, Hann.Weights(n))
	hop := n / framesEach
	bins := min(t.Bins(), int(top/t.Step())+1)
	out := Cells{Step: t.Step(), Hop: float64(hop) / rate, Start: float64(n) / 2 / rate}
	level := even(x, rate)
	block, power := make([]float64, n*cellsPadded), make([]float64, t.Bins())
	for at := 0; at+n <= len(level); at += hop {
		copy(block, level[at:at+n])
		clear(power)
		t.Power(block, power)
		floor := Spectrum{Window: Hann, Power: power[:bins], Blocks: 1}.Floor(localHalf * cellsPadded)
		row := make([]float32, bins)
		for i := range row {
			if floor[i] > 0 {
				row[i] = float32(math.Log1p(power[i]/floor[i]) - noiseScore)
			}
		}
		out.Score = append(out.Score, row)
	}
	return out, nil
}

// Time is that of a frame's middle.
func (c Cells) Time(frame int) float64 { return c.Start + float64(frame)*c.Hop }

// at is the score of a frame at a frequency, read between two cells.
func (c Cells) at(frame int, hz float64) (float64, bool) {
	row := c.Score[frame]
	p := hz / c.Step
	i := int(p)
	if i < 0 || i+1 >= len(row) {
		return 0, false
	}
	d := p - float64(i)
	return float64(row[i])*(1-d) + float64(row[i+1])*d, true
}

// Lag is by how many seconds a speed is late against the samples, at most so much either way: where the sharpest order is sharpest. Beside
// it stands by how much that is sharper than at the worst lag, in standard deviations of noise; a steady speed tells nothing, and has 0.
func (c Cells) Lag(a Angle, most float64) (late, sure float64) {
	const step, finest, lowest, highest = 0.1, 0.01, 0.5, 10.5
	every := max(1, len(c.Score)/enoughFrames)
	sharpest := func(by float64) float64 {
		best := 0.0
		var speeds []float64
		for k := 0; k < len(c.Score); k += every {
			speeds = append(speeds, a.Speed(c.Time(k)+by))
		}
		for o := lowest; o < highest; o *= 1 + finest/2 {
			sum, n := 0.0, 0
			for k, v := range speeds {
				if s, ok := c.at(k*every, o*v); ok {
					sum, n = sum+math.Min(s, mostScore), n+1
				}
			}
			if n > len(speeds)/2 {
				best = math.Max(best, sum/math.Sqrt(float64(n)))
			}
		}
		// Frames overlap: half of them count by themselves.
		return best / scoreSD / math.Sqrt(math.Max(1, framesEach/2/float64(every)))
	}
	here := sharpest(0)
	top, at := here, 0.0
	n := int(math.Round(most / step))
	sharp := make([]float64, 2*n+1)
	for k := -n; k <= n; k++ {
		sharp[k+n] = here
		if k != 0 {
			sharp[k+n] = sharpest(float64(k) * step)
		}
		if s := sharp[k+n]; s > top {
			top, at = s, float64(k)*step
		}
	}
	if k := int(math.Round(at/step)) + n; k > 0 && k < 2*n {
		if den := sharp[k-1] - 2*sharp[k] + sharp[k+1]; den < 0 {
			at += step * (sharp[k-1] - sharp[k+1]) / (2 * den)
		}
	}
	better := top - slices.Min(sharp)
	if better < lagSure {
		return 0, 0
	}
	return at, better
}

// enoughFrames tell a lag: of a longer recording so many are taken.
const enoughFrames = 300

// Sharpen corrects a speed by the line that follows it at an order: what the line says of the shaft from frame to frame, while the mean stays
// that of the channel. A channel of whole numbers that comes seldom smears high orders; their own line does not.
func (c Cells) Sharpen(a Angle, order float64) (Angle, error) {
	const about, held = 0.03, 5
	n := len(c.Score)
	ratio := make([]float64, n)
	for k := range ratio {
		ratio[k] = 1
		hz := order * a.Speed(c.Time(k))
		from, to := int(hz*(1-about)/c.Step), int(math.Ceil(hz*(1+about)/c.Step))
		if from < 1 || to >= len(c.Score[k])-1 {
			continue
		}
		best := from
		for i := from; i <= to; i++ {
			if c.Score[k][i] > c.Score[k][best] {
				best = i
			}
		}
		if c.Score[k][best] > 1 {
			ratio[k] = c.summit(k, best) / hz
		}
	}
	smooth, sum := make([]float64, n), 0.0
	for k := range smooth {
		near := slices.Clone(ratio[max(0, k-held/2):min(n, k+held/2+1)])
		slices.Sort(near)
		smooth[k] = near[len(near)/2]
		sum += smooth[k] / float64(n)
	}
	s := Speed{}
	for k, r := range smooth {
		s.At, s.Turns = append(s.At, c.Time(k)), append(s.Turns, a.Speed(c.Time(k))*r/sum)
	}
	return NewAngle(s)
}

// lagSure is by how much an order has to be sharper at its best than at its worst before a channel is moved (judgment).
const lagSure = 6.0

// Turning says whether what is heard about a line turns with the shaft or stays at its frequency.
type Turning string

// What can be said of a line.
const (
	Turns      Turning = "turns"       // its frequency follows the speed
	Stays      Turning = "stays"       // it does not: something rings at its own frequency
	CannotTell Turning = "cannot tell" // the speed did not change enough
)

// Follows tells an order from what stays: the best ray through the origin about the order against the best level line that the ray crosses,
// by their summed scores; and the same ray over what is left when every frequency has lost its mean over time, so that an order which passes
// what rings is still seen to pass. Below a speed span of 3 % it never can tell (measured in a study of synthetic drives: from 10 % on always
// right).
func (c Cells) Follows(a Angle, order float64) Turning {
	const about, apart, overlap, least, clear = 0.075, 3.0, 2.0, 0.03, 5.0
	from, to := c.Time(0), c.Time(len(c.Score)-1)
	if a.Span(from, to) < least {
		return CannotTell
	}
	speeds := make([]float64, len(c.Score))
	low, high := math.Inf(1), 0.0
	for k := range speeds {
		speeds[k] = a.Speed(c.Time(k))
		low, high = math.Min(low, order*speeds[k]), math.Max(high, order*speeds[k])
	}
	mean := c.means()
	ray, moves, level := math.Inf(-1), math.Inf(-1), math.Inf(-1)
	for o := order * (1 - about); o <= order*(1+about); o += 0.5 * c.Step / math.Max(1, high/order) {
		sum, left := 0.0, 0.0
		for k, v := range speeds {
			if s, ok := c.at(k, o*v); ok {
				s = math.Min(s, mostScore)
				sum, left = sum+s, left+s-mean[int(o*v/c.Step+0.5)]
			}
		}
		ray, moves = math.Max(ray, sum/overlap), math.Max(moves, left/overlap)
	}
	for f := low * (1 - about); f <= high*(1+about); f += c.Step / 2 {
		sum := 0.0
		for k := range speeds {
			if s, ok := c.at(k, f); ok {
				sum += math.Min(s, mostScore)
			}
		}
		level = math.Max(level, sum/overlap)
	}
	switch {
	case ray > level+apart, moves > clear*scoreSD*math.Sqrt(float64(len(speeds))/overlap):
		return Turns
	case level > ray+apart:
		return Stays
	}
	return CannotTell
}

// means is the mean score of each frequency over time.
func (c Cells) means() []float64 {
	out := make([]float64, len(c.Score[0]))
	for _, row := range c.Score {
		for i, v := range row {
			out[i] += math.Min(float64(v), mostScore) / float64(len(c.Score))
		}
	}
	return out
}

// lineWide is how far a line reaches to either side, Hz: a frame of a second is no sharper.
const lineWide = 2.5

// Level is a line that stays at its frequency.
type Level struct {
	Hertz float64
	Sure  float64 // standard deviations of noise
}

// Levels are the frequencies that stand out over all frames although the shaft changes its speed, the surest first, above so many Hz. What
// the known orders leave on their way is passed over.
func (c Cells) Levels(a Angle, orders []float64, above float64, most int) []Level {
	if len(c.Score) == 0 {
		return nil
	}
	bins := len(c.Score[0])
	sum, n := make([]float64, bins), make([]float64, bins)
	onWay := make([]bool, bins)
	for k, row := range c.Score {
		clear(onWay)
		for _, o := range orders {
			hz := o * a.Speed(c.Time(k))
			wide := math.Max(lineWide, 0.02*hz)
			for i := max(0, int((hz-wide)/c.Step)); i <= min(bins-1, int((hz+wide)/c.Step)); i++ {
				onWay[i] = true
			}
		}
		for i, v := range row {
			if !onWay[i] {
				sum[i], n[i] = sum[i]+math.Min(float64(v), mostScore), n[i]+1
			}
		}
	}
	mean := make([]float64, bins)
	for i := range mean {
		if n[i] > float64(len(c.Score))/4 {
			mean[i] = sum[i] / n[i]
		}
	}
	sd := scoreSD / math.Sqrt(float64(len(c.Score))/(framesEach/2))
	var out []Level
	for i := max(2, int(above/c.Step)); i < len(mean)-1; i++ {
		if mean[i] < sure*sd || mean[i] < mean[i-1] || mean[i] <= mean[i+1] {
			continue
		}
		out = append(out, Level{float64(i) * c.Step, mean[i] / sd})
	}
	slices.SortFunc(out, func(a, b Level) int { return cmp.Compare(b.Sure, a.Sure) })
	var kept []Level
	for _, l := range out { // a ringing is wider than a cell: what is beside a surer one is its foot
		if !slices.ContainsFunc(kept, func(k Level) bool { return math.Abs(k.Hertz-l.Hertz) < 0.08*k.Hertz }) {
			kept = append(kept, l)
		}
	}
	return kept[:min(most, len(kept))]
}
