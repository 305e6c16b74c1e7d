package shifts

import (
	"math"
	"sort"
)

// measure measures what was found.
type measure struct {
	d     Drive
	box   Box
	s     samples
	n     Noise
	rate  float64
	gears []Gear
}

const (
	smoothTime = 0.080 // around a sample, over which speeds are smoothed, s
	swing      = 0.200 // over which the output's speed is averaged where a flare is told, s
	before     = 0.30  // how far back into the old gear a flare is looked for, s
	afterTime  = 0.30  // over which the slip after a shift is averaged, s
	early      = 0.8   // of the way: where the inertia time begins
	late       = 0.1

	footOff     = 0.02 // throttle below which a foot is off
	longestPass = 1.5  // s for which a turbine that falls to idle may look as if it held a gear
)

// floors of what a time and a flare are known to, by samples a second: half of a 95 % interval, from the study's bench.
var floors = []struct{ rate, time, flare float64 }{{10, 0.050, 48}, {25, 0.032, 54}, {50, 0.016, 28}, {100, 0.010, 34}}

func (m measure) floor() (time, flare float64) {
	f := floors[0]
	for _, x := range floors {
		if m.rate >= 0.9*x.rate {
			f = x
		}
	}
	if m.rate < floors[0].rate {
		f.time *= floors[0].rate / m.rate
	}
	return f.time, f.flare
}

// index is the first sample at or after a time.
func (m measure) index(t float64) int {
	return min(len(m.s.time)-1, sort.SearchFloat64s(m.s.time, t))
}

// smooth is a value at a sample by the parabola that fits best around it: a mean would round off the corner at which a shift begins.
func (m measure) smooth(i int, f func(i int) float64) float64 {
	t := m.s.time[i]
	a, b := i, i
	for a > 0 && t-m.s.time[a-1] <= smoothTime/2 {
		a--
	}
	for b+1 < len(m.s.time) && m.s.time[b+1]-t <= smoothTime/2 {
		b++
	}
	if k := min(i-a, b-i); k > 0 { // as many on either side
		a, b = i-k, i+k
	} else {
		return f(i)
	}
	// Normal equations of 1, x, x² over the samples, for the value at x = 0.
	var s [5]float64
	var y [3]float64
	for j := a; j <= b; j++ {
		x, v, p := (m.s.time[j]-t)/smoothTime, f(j), 1.0
		for k := range s {
			s[k] += p
			if k < 3 {
				y[k] += p * v
			}
			p *= x
		}
	}
	det := s[0]*(s[2]*s[4]-s[3]*s[3]) - s[1]*(s[1]*s[4]-s[3]*s[2]) + s[2]*(s[1]*s[3]-s[2]*s[2])
	if math.Abs(det) < 1e-12 {
		return y[0] / s[0]
	}
	return (y[0]*(s[2]*s[4]-s[3]*s[3]) - s[1]*(y[1]*s[4]-s[3]*y[2]) + s[2]*(y[1]*s[3]-s[2]*y[2])) / det
}

// steady is the output's speed around a sample without the swing of its shaft.
func (m measure) steady(i int) float64 {
	t := m.s.time[i]
	a, b := i, i
	for a > 0 && t-m.s.time[a-1] <= swing/2 {
		a--
	}
	for b+1 < len(m.s.time) && m.s.time[b+1]-t <= swing/2 {
		b++
	}
	k, sum := min(i-a, b-i), 0.0
	for j := i - k; j <= i+k; j++ {
		sum += m.s.output[j]
	}
	return sum / float64(2*k+1)
}

// coasts reports whether a turbine only passes another gear's ratio, because the foot is off and a one-way clutch lets it fall to idle: that is no shift. What was commanded is believed
// where it was recorded.
func (m measure) coasts(a, b run) bool {
	s := m.s
	if len(m.d.Throttle.Time) == 0 || len(m.d.Gear.Time) > 0 || !m.gears[a.gear].free || s.time[b.end-1]-s.time[b.begin] > longestPass {
		return false
	}
	if m.d.Throttle.mean(s.time[a.end-1]-0.1, s.time[b.end-1]) > footOff {
		return false
	}
	// In a gear the speeds keep its ratio; on the way past it they are below it first and above it then.
	half := func(from, to int) float64 {
		sum := 0.0
		for i := from; i < to; i++ {
			sum += s.turbine[i] - m.gears[b.gear].Ratio*s.output[i]
		}
		return sum / math.Max(1, float64(to-from))
	}
	mid := (b.begin + b.end) / 2
	first, second := half(b.begin, mid), half(mid, b.end)
	return math.Abs(second-first) > 4*m.n.of(s.turbine[mid], m.gears[b.gear].Ratio)/math.Sqrt(math.Max(1, float64(b.end-b.begin)/2))
}

// shift measures the change from one gear to another.
func (m measure) shift(a, b run) Shift {
	from, to := m.gears[a.gear], m.gears[b.gear]
	s := m.s
	out := Shift{From: from.ID, To: to.ID, Down: to.Ratio > from.Ratio}
	for _, g := range m.gears {
		out.Skips = out.Skips || g.Ratio < math.Max(from.Ratio, to.Ratio)*0.999 && g.Ratio > math.Min(from.Ratio, to.Ratio)*1.001
	}
	u := func(i int) float64 {
		return (m.smooth(i, func(j int) float64 { return s.turbine[j] })/math.Max(m.steady(i), 1) - to.Ratio) / (from.Ratio - to.Ratio)
	}
	begin, end := max(0, m.index(s.time[a.end-1]-before)), min(b.end-1, m.index(s.time[b.begin]+before))
	begin = max(begin, a.begin)
	// From where it has left to where it has come: the last sample above 0.9 before the first below 0.1.
	first := end
	for i := begin; i <= end; i++ {
		if u(i) < late {
			first = i
			break
		}
	}
	low := m.crossing(first, late, u)
	i := first
	for i > begin && u(i) < early {
		i--
	}
	high := m.crossing(i+1, early, u)
	out.Begin, out.End = high, low
	out.Inertia = math.Max(0, low-high) / (early - late)
	timeU, flareU := m.floor()
	out.InertiaU = timeU / (early - late)

	m.flare(&out, from.Ratio, to.Ratio, begin, first, flareU)
	m.after(&out, b, to.Ratio)
	return out
}

// flare is how far the turbine goes beyond the gear that it leaves, or that it comes to when it goes down.
func (m measure) flare(out *Shift, ratio, to float64, begin, end int, u float64) {
	s := m.s
	if out.Down {
		return
	}
	beyond := func(i int) float64 {
		return m.smooth(i, func(j int) float64 { return s.turbine[j] }) - ratio*m.steady(i)
	}
	most, at := 0.0, begin
	for i := begin; i <= end; i++ {
		if x := beyond(i); x > most {
			most, at = x, i
		}
	}
	k := math.Max(1, smoothTime*m.rate/2) // a parabola smooths about half as well as a mean
	least := math.Max(0.02*math.Abs(ratio-to)*s.output[at], 4*math.Hypot(m.n.Turbine, ratio*m.n.Output)/math.Sqrt(k)+0.0015*s.turbine[at])
	out.FlareU = math.Max(u, 0.15*most)
	if most < least {
		return
	}
	out.Flare, out.FlareAt = most, s.time[at]
	for i := begin + 1; i <= end; i++ {
		out.FlareArea += math.Max(0, beyond(i)) * (s.time[i] - s.time[i-1])
	}
}

// after is the slip that is left in the new gear.
func (m measure) after(out *Shift, b run, ratio float64) {
	s := m.s
	sum, n := 0.0, 0
	for i := b.begin; i < b.end && s.time[i] < out.End+0.1+afterTime; i++ {
		if s.time[i] < out.End+0.1 {
			continue
		}
		sum += s.turbine[i] - ratio*s.output[i]
		n++
	}
	if n == 0 {
		return
	}
	out.After = sum / float64(n)
	out.AfterU = 2*m.n.of(s.turbine[b.begin], ratio)/math.Sqrt(float64(n)) + 0.0024*s.turbine[b.begin]
}

// crossing is the time at which u goes below a value just before a sample, on a line through what is on both sides.
func (m measure) crossing(i int, value float64, u func(int) float64) float64 {
	i = min(max(i, 1), len(m.s.time)-1)
	a, b := u(i-1), u(i)
	if a == b {
		return m.s.time[i]
	}
	x := math.Min(1, math.Max(0, (a-value)/(a-b)))
	return m.s.time[i-1] + x*(m.s.time[i]-m.s.time[i-1])
}

// aborted is a shift that began and came back: the turbine left its gear by more than noise, and returned to it.
func (m measure) aborted(a, b run) (Shift, bool) {
	g := m.gears[a.gear]
	s := m.s
	out := Shift{From: g.ID, To: g.ID, Unfinished: true, Begin: s.time[a.end-1], End: s.time[b.begin]}
	_, out.FlareU = m.floor()
	for i := a.end; i < b.begin; i++ {
		if x := m.smooth(i, func(j int) float64 { return s.turbine[j] - g.Ratio*s.output[j] }); math.Abs(x) > math.Abs(out.Flare) {
			out.Flare = x
		}
	}
	drove := s.output[max(a.begin, m.index(s.time[a.end-1]-before))] > slowest // it was in its gear, not on its way from standing
	return out, drove && out.End-out.Begin > leastHeld && math.Abs(out.Flare) > 2*out.FlareU
}
