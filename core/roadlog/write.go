package roadlog

import (
	"math"

	"innercompass/core/sim"
)

// What tools do to what they read (common practice, no source).
const (
	longestWindow = 0.020 // s over which a speed is counted at most
	turbineNoise  = 5.0   // rev/min
	outputNoise   = 3.0
	engineNoise   = 3.0
	runOut        = 0.0012 // of the turbine's wheel
	jitter        = 0.002  // s, of a clock
	pressureNoise = 3e3    // Pa
	kept          = 500    // steps that are kept to look back
)

func (w *writer) leg(l Leg) {
	begun := w.m.Now().Speed
	steps := int(math.Round(l.Seconds / sim.Step))
	phase := 2 * math.Pi * w.rng.Float64()
	for i := range steps {
		in := l.Input
		in.Throttle = math.Min(1, in.Throttle*(1+l.Wander*math.Sin(phase+float64(i)*sim.Step)))
		w.m.Advance(in)
		n := w.m.Now()
		w.step(n)
		if l.Until > 0 && (begun <= l.Until && n.Speed >= l.Until || begun > l.Until && n.Speed <= l.Until) {
			return
		}
	}
}

func (w *writer) step(n sim.Sample) {
	t := &w.truth
	t.Turbine, t.Output, t.Engine = append(t.Turbine, n.Turbine*rpm), append(t.Output, n.Output*rpm), append(t.Engine, n.Engine*rpm)
	for _, e := range w.s.Pressures {
		t.Pressures[e] = append(t.Pressures[e], w.m.Pressure(e))
	}
	if len(w.seen) == kept {
		copy(w.seen, w.seen[1:])
		w.seen = w.seen[:kept-1]
	}
	w.seen = append(w.seen, n)
	w.at++
	w.events(n)
	for len(w.open) > 0 && n.Time >= w.open[0].until {
		w.cool(w.open[0])
		w.open = w.open[1:]
	}
	if n.Time >= w.next {
		w.sample()
		w.next += 1 / w.s.Rate
	}
}

// events follows what the controls command: a shift is done when they are, and the speeds stand in its ratio.
func (w *writer) events(n sim.Sample) {
	t := &w.truth
	if n.To != w.to {
		from, drives := w.u.Range(w.to)
		to, drives2 := w.u.Range(n.To)
		if drives && drives2 && from.Driving() && to.Driving() && from.Selector == to.Selector {
			t.Events = append(t.Events, Event{From: w.to, To: n.To, Begin: n.Time})
			w.open = append(w.open, heats{event: len(t.Events) - 1, at: w.heats(), until: math.Inf(1)})
			w.waiting = true
		}
		w.to = n.To
	}
	if !w.waiting || n.Busy {
		return
	}
	e := &t.Events[len(t.Events)-1]
	to, _ := w.u.Range(e.To)
	fits := n.Output > 0 && math.Abs(n.Turbine/(n.Output*to.Healthy.Ratio)-1) < 0.015
	if fits || n.Time > e.Begin+longest {
		e.End, e.Done, w.waiting = n.Time, fits, false
		w.open[len(w.open)-1].until = n.Time + 0.3
	}
}

// longest is the time after which a shift counts as not done, s.
const longest = 3.0

func (w *writer) heats() map[string]float64 {
	out := map[string]float64{}
	for _, e := range w.u.Elements {
		out[e.ID] = w.m.Heat(e.ID)
	}
	return out
}

// cool enters what an event heated its elements by.
func (w *writer) cool(h heats) {
	now := w.heats()
	for id, was := range h.at {
		now[id] -= was
	}
	w.truth.Events[h.event].Heat = now
}

func (w *writer) finish() {
	for _, h := range w.open {
		w.cool(h)
	}
}

// mean is a value over the counting window that ended some time ago.
func (w *writer) mean(ago float64, f func(s sim.Sample) float64) float64 {
	window := math.Min(longestWindow, 1/w.s.Rate)
	b := len(w.seen) - 1 - int(math.Round(ago/sim.Step))
	a := b - int(math.Round(window/sim.Step))
	a, b = max(0, a), min(len(w.seen)-1, max(0, b))
	sum := 0.0
	for i := a; i <= b; i++ {
		sum += f(w.seen[i])
	}
	return sum / float64(b-a+1)
}

func (w *writer) sample() {
	// Everything is read a while after it happened, so that a channel may be early as well as late.
	const behind = 0.1
	clock := func() float64 { return behind + jitter*(2*w.rng.Float64()-1) }
	white := func(size float64) float64 { return size * w.rng.NormFloat64() }
	past := w.seen[max(0, len(w.seen)-1-int(behind/sim.Step))]
	at := w.next - behind
	if at <= 0 {
		return
	}
	turbine := w.mean(clock(), func(s sim.Sample) float64 { return s.Turbine * rpm })
	w.angle += turbine / rpm / w.s.Rate
	turbine *= 1 + runOut*math.Sin(w.angle)
	values := []float64{
		math.Round(4*(w.mean(clock(), func(s sim.Sample) float64 { return s.Engine * rpm })+white(engineNoise))) / 4,
		math.Round(turbine + white(turbineNoise)),
		math.Round(w.mean(clock()+w.truth.Late, func(s sim.Sample) float64 { return s.Output * rpm }) + white(outputNoise)),
		math.Max(0, math.Floor(past.Speed*3.6)),
		math.Round(past.Throttle*255) / 2.55,
		math.Round(past.Celsius),
		math.Round((past.Line + white(pressureNoise)) / 1e3),
	}
	if w.electric {
		values = append(values, float64(w.u.GearNumber(past.To)))
	}
	for _, e := range w.s.Pressures {
		p := w.truth.Pressures[e]
		x := p[max(0, len(p)-1-int(math.Round(clock()/sim.Step)))]
		values = append(values, math.Round((x*w.taps[e].gain+w.taps[e].zero+white(pressureNoise))/1e3))
	}
	w.log.Time = append(w.log.Time, at)
	for i, v := range values {
		w.log.Columns[i].Value = append(w.log.Columns[i].Value, v)
	}
}
