// Package creep tells from a recording at a crawl where an automated dry clutch begins to take hold, how far that has moved since it was set, and whether it judders.
//
// Where the vehicle begins to move is no touch point: rolling resistance and a wheel sensor that is blind when slow put it some millimeters later. The torque of the engine
// rises as soon as the clutch takes some: touch is where base + gain·(x − touch)^1.5 fits it best (the power by a cushion spring that gets stiffer, common practice, no
// source). The slower the ramp, the surer; two recordings are held against each other only at like ramps.
//
// Travel in mm, torque in N·m, speeds in rev/min.
package creep

import (
	"fmt"
	"math"
	"sort"

	"innercompass/core/shifts"
	"innercompass/core/sine"
)

const (
	power      = 1.5
	leastWay   = 1.5   // mm of a ramp
	quickest   = 5.0   // mm/s
	slowest    = 0.1   // mm/s
	grid       = 0.01  // mm
	leastF     = 15.0  // by which a rise has to stand out of the noise
	likeRamp   = 0.3   // by which two ramps may differ, as a share, and still be like
	lowJudder  = 4.0   // Hz
	highJudder = 20.0  // Hz
	crawling   = 900.0 // rev/min of the input shaft, at most
)

// Touch is where the clutch takes hold on one ramp.
type Touch struct {
	At     float64 // of the ramp's begin, s
	Point  float64 // mm
	U      float64 // half of its 95 % interval
	Ramp   float64 // mm/s
	Gain   float64 // N·m/mm^1.5
	Judder *Judder
}

// Judder is a shaking while it creeps.
type Judder struct{ Hertz, Depth float64 }

// Result is what the ramps of a recording tell.
type Result struct {
	Ramps       []Touch
	Point, U    float64 // mean over the ramps, surer the more they are
	Unlike      bool    // ramps of different speed are among them
	Repeatable  float64 // scatter between ramps, mm
	JudderHertz float64 // of the deepest judder; 0 for none
	JudderDepth float64 // rev/min
}

// Error says what a recording lacks.
type Error struct{ Reason, Accepted string }

func (e *Error) Error() string { return e.Reason + "; accepted: " + e.Accepted }

// Tell looks for ramps of the actuator that close the clutch, and fits each. Turbine stands for the input shaft; it may be empty.
func Tell(actuator, torque, input shifts.Channel) (Result, error) {
	if len(actuator.Time) < 20 || len(torque.Time) < 20 {
		return Result{}, &Error{"no clutch travel or no engine torque was recorded", "both, at 10 samples a second or more"}
	}
	var out Result
	found := ramps(actuator)
	for _, r := range found {
		if t, ok := fit(actuator, torque, r); ok {
			t.Judder = judder(input, actuator.Time[r.a], actuator.Time[r.b-1]+1)
			out.Ramps = append(out.Ramps, t)
		}
	}
	switch {
	case len(out.Ramps) == 0 && len(found) > 0:
		return out, &Error{"the engine's torque does not rise on any ramp of the clutch", "a ramp that goes on until the clutch takes hold, half a millimeter beyond at least"}
	case len(out.Ramps) == 0:
		return out, &Error{"no ramp closes the clutch slowly enough", fmt.Sprintf("one of %.1f mm or more, at %.1f to %.0f mm/s; 1 mm/s and less is best", leastWay, slowest, quickest)}
	}
	n, low, high := float64(len(out.Ramps)), math.Inf(1), 0.0
	for _, t := range out.Ramps {
		out.Point += t.Point / n
		out.U += t.U * t.U
		low, high = math.Min(low, t.Ramp), math.Max(high, t.Ramp)
		if t.Judder != nil && t.Judder.Depth > out.JudderDepth {
			out.JudderHertz, out.JudderDepth = t.Judder.Hertz, t.Judder.Depth
		}
	}
	out.Unlike = high > low*(1+likeRamp)
	for _, t := range out.Ramps {
		out.Repeatable += (t.Point - out.Point) * (t.Point - out.Point)
	}
	if n > 1 {
		out.Repeatable = math.Sqrt(out.Repeatable / (n - 1))
	}
	out.U = math.Max(math.Sqrt(out.U)/n, 2*out.Repeatable/math.Sqrt(n))
	return out, nil
}

// Wear is how far the touch point has moved since the clutch was set, over the way that the actuator can make up for.
func (r Result) Wear(set, span float64) (index, u float64, err error) {
	if !(span > 0) {
		return 0, 0, &Error{fmt.Sprintf("%v mm of adjustment", span), "the way by which the actuator can follow the wear, more than 0"}
	}
	return math.Abs(r.Point-set) / span, r.U / span, nil
}

type stretch struct{ a, b int }

// ramps are the stretches in which the travel rises steadily.
func ramps(c shifts.Channel) []stretch {
	rate := float64(len(c.Time)-1) / (c.Time[len(c.Time)-1] - c.Time[0])
	half := max(1, int(0.15*rate))
	slope := func(i int) float64 {
		a, b := max(0, i-half), min(len(c.Time)-1, i+half)
		return (c.Value[b] - c.Value[a]) / math.Max(1e-9, c.Time[b]-c.Time[a])
	}
	var out []stretch
	for i := 0; i < len(c.Time); {
		if s := slope(i); s < slowest || s > 2*quickest {
			i++
			continue
		}
		j := i
		for j < len(c.Time) && slope(j) >= slowest && slope(j) <= 2*quickest {
			j++
		}
		begin := i
		i = j
		if begin, j = begin+half, j-half; j-begin < 12 { // the slope is seen half of its width early and late
			continue
		}
		if way := c.Value[j-1] - c.Value[begin]; way >= leastWay && way/(c.Time[j-1]-c.Time[begin]) <= quickest {
			out = append(out, stretch{begin, j})
		}
	}
	return out
}

// fit finds the touch point of a ramp: for each on a grid, base and gain by least squares. A line through the travel takes its noise out.
func fit(actuator, torque shifts.Channel, r stretch) (Touch, bool) {
	t0 := actuator.Time[r.a]
	var n, st, sx, stt, stx float64
	for i := r.a; i < r.b; i++ {
		t, x := actuator.Time[i]-t0, actuator.Value[i]
		n, st, sx, stt, stx = n+1, st+t, sx+x, stt+t*t, stx+t*x
	}
	ramp := (n*stx - st*sx) / (n*stt - st*st)
	base := (sx - ramp*st) / n
	a, b := sort.SearchFloat64s(torque.Time, t0), sort.SearchFloat64s(torque.Time, actuator.Time[r.b-1])
	if b-a < 12 || ramp <= 0 {
		return Touch{}, false
	}
	x, y := make([]float64, b-a), torque.Value[a:b]
	for i := range x {
		x[i] = base + ramp*(torque.Time[a+i]-t0)
	}
	at := func(touch float64) (left, gain float64) {
		var n, su, sy, suu, suy, syy float64
		for i, v := range x {
			u := math.Pow(math.Max(0, v-touch), power)
			n, su, sy, suu, suy, syy = n+1, su+u, sy+y[i], suu+u*u, suy+u*y[i], syy+y[i]*y[i]
		}
		det := n*suu - su*su
		if det <= 0 {
			return math.Inf(1), 0
		}
		gain = (n*suy - su*sy) / det
		level := (sy - gain*su) / n
		return syy - gain*suy - level*sy, gain
	}
	out, best := Touch{At: t0, Ramp: ramp}, math.Inf(1)
	for p := x[0]; p < x[len(x)-1]-0.3; p += grid {
		if left, gain := at(p); left < best && gain > 0 {
			best, out.Point, out.Gain = left, p, gain
		}
	}
	if math.IsInf(best, 1) {
		return out, false
	}
	// A torque that does not rise is fitted somewhere too: point and gain have to explain more than noise would (an F test of two parameters; the limit is far above the usual
	// one, since many points are tried).
	mean, level := 0.0, 0.0
	for _, v := range y {
		mean += v / float64(len(y))
	}
	for _, v := range y {
		level += (v - mean) * (v - mean)
	}
	if (level-best)/2 < leastF*best/float64(len(y)-3) {
		return out, false
	}
	// Where a fit is worse by four times the mean square of what is left: half of a 95 % interval, and not below what ramps of this speed are right to (from a study).
	limit := best * (1 + 4/float64(len(x)-3))
	wide := func(step float64) float64 {
		p := out.Point
		for left, _ := at(p); left < limit && math.Abs(p-out.Point) < 2; left, _ = at(p) {
			p += step
		}
		return math.Abs(p - out.Point)
	}
	out.U = math.Max(math.Max(wide(grid), wide(-grid)), 0.03+0.06*ramp)
	return out, true
}

// judder is the strongest shaking of the input shaft while it crawls; nil for none.
func judder(input shifts.Channel, from, to float64) *Judder {
	var time, value []float64
	for i, t := range input.Time {
		if t >= from && t <= to && input.Value[i] > 0 && input.Value[i] < crawling {
			time, value = append(time, t), append(value, input.Value[i])
		}
	}
	if len(time) < 25 || time[len(time)-1]-time[0] < 1 {
		return nil
	}
	rate := float64(len(time)-1) / (time[len(time)-1] - time[0])
	f := sine.Strongest(time, value, lowJudder, math.Min(highJudder, 0.49*rate))
	if f.Sure < 1.15 || f.Amplitude < 4 {
		return nil
	}
	return &Judder{f.Hertz, f.Amplitude}
}
