// Package lockup tells what a converter clutch did from the speeds of engine and turbine: when it came on and let go, how far it slips at which throttle and temperature, and
// whether it shudders: how often and how deep.
//
// What cannot be told from these speeds is why: lining, fluid, converter, or an engine that misfires, which is why a shudder is held against the engine's own turns.
//
// Speeds in rev/min, times in s.
package lockup

import (
	"math"
	"sort"

	"innercompass/core/shifts"
	"innercompass/core/sine"
)

// What counts as what (common practice, no source).
const (
	openSlip   = 90.0 // above it the clutch is open
	onSlip     = 60.0 // below it, for long enough, it is on
	leastOn    = 1.0  // s
	applyMost  = 4.0  // s that an apply may take
	pulling    = 0.03 // of the throttle: the engine drives
	shakeSpan  = 2.0  // s that are looked at for a shudder
	shakeHop   = 0.5
	lowest     = 3.0 // Hz
	leastDepth = 6.0
	sameHertz  = 1.5 // Hz by which two windows may differ and be one burst
	mostAlias  = 45.0
	edge       = 0.4 // s of a stay at either end that a shift still moves
)

// Apply is one time that it came on.
type Apply struct {
	At, Took float64 // s; Took from open to on
	Gear     string
	Slip     float64 // mean, once it is on
	Throttle float64
	Fluid    float64
	For      float64 // s that it stayed on
	LetGo    float64 // s that letting go took; 0 when it stayed on to the end
}

// Cell is what it slips at like throttle and temperature.
type Cell struct {
	Throttle, Fluid float64 // means
	Slip, U         float64 // mean, and half of its 95 % interval
	Seconds         float64
}

// Shudder is a stretch in which the slip swings.
type Shudder struct {
	From, To  float64
	Gear      string
	Hertz     float64
	Depth     float64   // from the middle to the peak, as it shows
	AtLeast   bool      // the window over which the speeds were counted is not known: there was at least as much
	Others    []float64 // frequencies that look the same at this rate
	Engine    float64   // mean
	Slip      float64
	Throttle  float64
	Fluid     float64
	PerEngine float64 // its frequency over the engine's turns a second
}

// Result is all of it.
type Result struct {
	Applies  []Apply
	Cells    []Cell
	Shudders []Shudder
	Rate     float64
	OnFor    float64 // s
}

// Tell looks at a drive within the gears that it held. Window is over what time the speeds were counted, s; 0 when nobody knows. It tells nothing without the engine's speed.
func Tell(d shifts.Drive, held []shifts.Stay, window float64) Result {
	var out Result
	if len(d.Engine.Time) < 20 {
		return out
	}
	out.Rate = float64(len(d.Engine.Time)-1) / (d.Engine.Time[len(d.Engine.Time)-1] - d.Engine.Time[0])
	bins := map[[2]int]*bin{}
	for _, s := range held {
		if s.End-s.Begin < 2*edge+leastOn {
			continue
		}
		l := looker{d: d, gear: s.Gear, window: window, rate: out.Rate}
		a, b := sort.SearchFloat64s(d.Engine.Time, s.Begin+edge), sort.SearchFloat64s(d.Engine.Time, s.End-edge)
		for i := a; i < b; i++ {
			l.time = append(l.time, d.Engine.Time[i])
			l.slip = append(l.slip, d.Engine.Value[i]-d.Turbine.At(d.Engine.Time[i]))
		}
		if len(l.time) < 12 {
			continue
		}
		l.applies(&out)
		l.shudders(&out)
		l.cells(bins)
	}
	out.Cells = cells(bins)
	return out
}

type looker struct {
	d          shifts.Drive
	gear       string
	window     float64
	rate       float64
	time, slip []float64
}

func (l looker) mean(a, b int) float64 {
	sum := 0.0
	for _, x := range l.slip[a:b] {
		sum += x
	}
	return sum / float64(max(1, b-a))
}

// over is a channel's mean over a stretch of samples.
func (l looker) over(c shifts.Channel, a, b int) float64 {
	if len(c.Time) == 0 {
		return 0
	}
	sum := 0.0
	for i := a; i < b; i++ {
		sum += c.At(l.time[i])
	}
	return sum / float64(max(1, b-a))
}

// applies are the stretches below onSlip, with how it came into them and out of them.
func (l looker) applies(out *Result) {
	n := len(l.time)
	smooth := max(1, int(0.1*l.rate))
	low := func(i int) bool { return math.Abs(l.mean(max(0, i-smooth/2), min(n, i+smooth/2+1))) < onSlip }
	for a := 0; a < n; {
		if !low(a) {
			a++
			continue
		}
		b := a
		for b < n && low(b) {
			b++
		}
		if l.time[b-1]-l.time[a] >= leastOn && l.over(l.d.Throttle, a, b) >= pulling || l.time[b-1]-l.time[a] >= leastOn && len(l.d.Throttle.Time) == 0 {
			x := Apply{At: l.time[a], Gear: l.gear, Slip: l.mean(a, b), Throttle: l.over(l.d.Throttle, a, b), Fluid: l.over(l.d.Fluid, a, b), For: l.time[b-1] - l.time[a]}
			for i := a; i >= 0 && l.time[a]-l.time[i] < applyMost; i-- {
				if math.Abs(l.slip[i]) > openSlip {
					x.Took = l.time[a] - l.time[i]
					break
				}
			}
			for i := b; i < n && l.time[i]-l.time[b-1] < applyMost; i++ {
				if math.Abs(l.slip[i]) > openSlip {
					x.LetGo = l.time[i] - l.time[b-1]
					break
				}
			}
			out.Applies, out.OnFor = append(out.Applies, x), out.OnFor+x.For
		}
		a = b
	}
}

// shudders looks for what swings, in windows that overlap.
func (l looker) shudders(out *Result) {
	top := math.Min(0.49*l.rate, 24)
	var now *Shudder
	for from := l.time[0]; from+shakeSpan <= l.time[len(l.time)-1]+1e-9; from += shakeHop {
		a, b := sort.SearchFloat64s(l.time, from), sort.SearchFloat64s(l.time, from+shakeSpan)
		if b-a < 16 || math.Abs(l.mean(a, b)) > 4*openSlip {
			now = nil
			continue
		}
		f := sine.Strongest(l.time[a:b], l.slip[a:b], lowest, top)
		depth := f.Amplitude / sine.Through(f.Hertz, l.window)
		if f.Sure < 1.15 || f.Amplitude < leastDepth {
			now = nil
			continue
		}
		if now != nil && math.Abs(now.Hertz-f.Hertz) < sameHertz {
			now.To = l.time[b-1]
			if depth > now.Depth {
				now.Hertz, now.Depth = f.Hertz, depth
			}
			continue
		}
		engine := l.over(l.d.Engine, a, b)
		out.Shudders = append(out.Shudders, Shudder{From: l.time[a], To: l.time[b-1], Gear: l.gear, Hertz: f.Hertz, Depth: depth, AtLeast: l.window == 0, Others: sine.Others(f.Hertz, l.rate, mostAlias), Engine: engine, Slip: l.mean(a, b), Throttle: l.over(l.d.Throttle, a, b), Fluid: l.over(l.d.Fluid, a, b), PerEngine: f.Hertz / math.Max(1, engine/60)})
		now = &out.Shudders[len(out.Shudders)-1]
	}
}

// bin gathers slip at like throttle and temperature.
type bin struct{ n, throttle, fluid, slip, square, seconds float64 }

// cells bins what it slips while it is on, by tenths of the throttle and twenty degrees.
func (l looker) cells(bins map[[2]int]*bin) {
	for i := 1; i < len(l.time); i++ {
		if math.Abs(l.slip[i]) > openSlip {
			continue
		}
		t, f := l.d.Throttle.At(l.time[i]), l.d.Fluid.At(l.time[i])
		key := [2]int{int(t * 10), int(math.Floor(f / 20))}
		b := bins[key]
		if b == nil {
			b = &bin{}
			bins[key] = b
		}
		b.n, b.throttle, b.fluid, b.slip, b.square, b.seconds = b.n+1, b.throttle+t, b.fluid+f, b.slip+l.slip[i], b.square+l.slip[i]*l.slip[i], b.seconds+math.Min(1, l.time[i]-l.time[i-1])
	}
}

func cells(bins map[[2]int]*bin) []Cell {
	var keys [][2]int
	for k, b := range bins {
		if b.seconds >= leastOn {
			keys = append(keys, k)
		}
	}
	sort.Slice(keys, func(i, j int) bool {
		return keys[i][1] < keys[j][1] || keys[i][1] == keys[j][1] && keys[i][0] < keys[j][0]
	})
	var out []Cell
	for _, k := range keys {
		b := bins[k]
		mean := b.slip / b.n
		out = append(out, Cell{Throttle: b.throttle / b.n, Fluid: b.fluid / b.n, Slip: mean, U: 2 * math.Sqrt(math.Max(0, b.square/b.n-mean*mean)/b.n), Seconds: b.seconds})
	}
	return out
}
