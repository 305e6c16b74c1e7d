package signal

import (
	"fmt"
	"math"
	"sort"
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

// ByAngle takes samples at equal angles: perTurn of them in each turn of the shaft, from the first to the last sample. Each is read between
// the samples by a filter that takes off what is too quick at the speed of that moment: a line at a third of perTurn keeps its height to a
// hundredth, and one at a third of the sampling rate.
func ByAngle(x []float64, rate float64, a Angle, perTurn int) ([]float64, error) {
	if len(x) < 16 || !(rate > 0) || perTurn < 4 {
		return nil, fmt.Errorf("signal: %d samples at %v Hz, %d in a turn; want 16 samples and 4 in a turn or more", len(x), rate, perTurn)
	}
	end := float64(len(x)-1) / rate
	first, last := a.Turns(0), a.Turns(end)
	if turns := last - first; !(turns >= 2) {
		return nil, fmt.Errorf("signal: the shaft turns %.1f times in this recording; want two turns or more", math.Max(0, turns))
	}
	out := make([]float64, int((last-first)*float64(perTurn)))
	w := walk{a: a}
	for i := range out {
		t, speed := w.to(first + float64(i)/float64(perTurn))
		out[i] = between(x, t*rate, math.Min(mostCut, partCut*float64(perTurn)*speed/rate))
	}
	return out, nil
}

const (
	partCut  = 0.4  // of the samples in a second at the speed of the moment, where the filter cuts
	mostCut  = 0.45 // of the sampling rate
	leastCut = 0.01 // a shaft that nearly stands asks for a filter without end
	lobes    = 16   // half length of the filter, in lobes
	fineness = 256  // of its table, for each lobe
)

// filter is half of a windowed sinc, by lobe.
var filter = func() []float64 {
	out := make([]float64, lobes*fineness+2)
	for i := range out {
		u := float64(i) / fineness
		out[i] = sinc(u) * blackman(u/lobes)
	}
	return out
}()

// between reads x at a place between its samples, without what lies above cut, a share of the sampling rate.
func between(x []float64, at, cut float64) float64 {
	cut = math.Max(leastCut, cut)
	scale := 2 * cut
	half := lobes / scale
	from, to := max(0, int(math.Ceil(at-half))), min(len(x)-1, int(math.Floor(at+half)))
	sum, step := 0.0, scale*fineness
	u := (float64(from) - at) * step
	for i := from; i <= to; i++ {
		p := math.Abs(u)
		k := int(p)
		sum += x[i] * (filter[k] + (p-float64(k))*(filter[k+1]-filter[k]))
		u += step
	}
	return sum * scale
}

// walk goes along an angle, forward.
type walk struct {
	a  Angle
	at int // the piece that it is in
}

// to is the time at which an angle is reached that is not before the last one asked for, and the speed there, rev/s.
func (w *walk) to(turns float64) (t, speed float64) {
	a := &w.a
	last := len(a.at) - 1
	if turns <= a.turns[0] {
		return a.at[0] + (turns-a.turns[0])/math.Max(a.speed[0], 1e-9), a.speed[0]
	}
	for w.at < last && a.turns[w.at+1] < turns {
		w.at++
	}
	if w.at == last {
		return a.at[last] + (turns-a.turns[last])/math.Max(a.speed[last], 1e-9), a.speed[last]
	}
	i, more := w.at, turns-a.turns[w.at]
	slope := (a.speed[i+1] - a.speed[i]) / (a.at[i+1] - a.at[i])
	speed = math.Sqrt(math.Max(0, a.speed[i]*a.speed[i]+2*slope*more))
	d := a.at[i+1] - a.at[i]
	if sum := a.speed[i] + speed; sum > 1e-12 {
		d = math.Min(d, 2*more/sum)
	}
	return a.at[i] + d, speed
}

// Speed is the speed at a time, rev/s.
func (a Angle) Speed(t float64) float64 {
	i := sort.SearchFloat64s(a.at, t)
	switch {
	case i == 0:
		return a.speed[0]
	case i == len(a.at):
		return a.speed[len(a.at)-1]
	}
	share := (t - a.at[i-1]) / (a.at[i] - a.at[i-1])
	return a.speed[i-1] + share*(a.speed[i]-a.speed[i-1])
}

// Late is the angle of a speed whose times are late by so many seconds.
func (a Angle) Late(by float64) Angle {
	at := make([]float64, len(a.at))
	for i, t := range a.at {
		at[i] = t - by
	}
	return Angle{at, a.speed, a.turns}
}

// Span is how far the speed ranges between two times, as a share of its mean.
func (a Angle) Span(from, to float64) float64 {
	low, high, sum, n := math.Inf(1), 0.0, 0.0, 0
	for k := range 200 {
		v := a.Speed(from + (to-from)*float64(k)/199)
		low, high, sum, n = math.Min(low, v), math.Max(high, v), sum+v, n+1
	}
	if sum == 0 {
		return 0
	}
	return (high - low) * float64(n) / sum
}
