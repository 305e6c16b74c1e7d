package testdrive

import (
	"math"
	"slices"

	"innercompass/core/faultmap"
	"innercompass/core/sim"
	"innercompass/core/unitsheet"
)

// gauge is what a transducer at one element's tap showed, by range.
type gauge struct {
	shares map[string]float64 // of the line, with the range held
	fills  map[string]float64 // s from the selector to the touch of its plates; infinite when they never touch
	rises  map[string]float64 // Pa, soon after they touched
	falls  map[string]float64 // s from the selector in neutral for which it was still on, of the second that was looked
}

const (
	transducer = 4e3  // Pa that one trembles by
	touchNoise = 15e3 // Pa above it that tell that they do
	riseBegins = 0.03 // s after the touch, between which a rise is told
	riseEnds   = 0.13
)

// tapped are the elements that can be read.
func tapped(u *unitsheet.Unit) []unitsheet.Element {
	var out []unitsheet.Element
	for _, e := range u.Elements {
		if e.Pressed() && u.Tapped(e.ID) {
			out = append(out, e)
		}
	}
	return out
}

// touch is the pressure above which an element's plates are told to touch, Pa.
func touch(e unitsheet.Element) float64 { return e.TouchPressure() + touchNoise }

// pressure is an element's as a transducer reads it.
func (d driver) pressure(m *sim.Sim, id string) float64 {
	p := m.Pressure(id)
	if d.noise != nil {
		p += transducer * d.noise.NormFloat64()
	}
	return p
}

// holds reads all taps and the line while a range is held for a while.
func (d driver) holds(m *sim.Sim, r unitsheet.Range, in sim.Input, out *Log) {
	const seconds = 0.5
	list := tapped(d.u)
	sums, line, n := make([]float64, len(list)), 0.0, 0.0
	d.run(m, seconds, in, func(s sim.Sample) {
		line, n = line+s.Line, n+1
		for i, e := range list {
			sums[i] += d.pressure(m, e.ID)
		}
	})
	out.lines[r.ID] = line / n
	for i, e := range list {
		out.gauges[e.ID].shares[r.ID] = sums[i] / line
	}
}

// dial follows one tap while an element comes on from neutral, or lets go.
type dial struct {
	e       unitsheet.Element
	touched float64
	sum, n  float64 // of pressures after the touch
}

// comes watches what comes on as a range is selected; look is to be called with each sample.
func (d driver) comes(m *sim.Sim, r unitsheet.Range, begun float64, out *Log) (look func(s sim.Sample), done func()) {
	var dials []*dial
	for _, e := range tapped(d.u) {
		if slices.Contains(r.Applied, e.ID) && !d.inNeutral(e.ID) {
			dials = append(dials, &dial{e: e, touched: math.Inf(1)})
		}
	}
	look = func(s sim.Sample) {
		for _, x := range dials {
			p := d.pressure(m, x.e.ID)
			if math.IsInf(x.touched, 1) && p > touch(x.e) {
				x.touched = s.Time
			}
			if t := s.Time - x.touched; t > riseBegins && t < riseEnds {
				x.sum, x.n = x.sum+p, x.n+1
			}
		}
	}
	done = func() {
		for _, x := range dials {
			g := out.gauges[x.e.ID]
			g.fills[r.ID] = x.touched - begun
			if x.n > 0 {
				g.rises[r.ID] = x.sum / x.n
			}
		}
	}
	return look, done
}

// goes selects neutral and watches what lets go.
func (d driver) goes(m *sim.Sim, r unitsheet.Range, out *Log) {
	begun := m.Now().Time
	last := map[string]float64{}
	d.run(m, 1, sim.Input{Selector: "N", Brake: 1}, func(s sim.Sample) {
		for _, e := range tapped(d.u) {
			if d.pressure(m, e.ID) > touch(e) {
				last[e.ID] = s.Time - begun
			}
		}
	})
	for _, e := range tapped(d.u) {
		if slices.Contains(r.Applied, e.ID) && !d.inNeutral(e.ID) {
			out.gauges[e.ID].falls[r.ID] = last[e.ID]
		}
	}
}

// inNeutral reports whether an element is on in neutral.
func (d driver) inNeutral(element string) bool {
	return slices.ContainsFunc(d.u.Ranges, func(r unitsheet.Range) bool { return r.Selector == "N" && slices.Contains(r.Applied, element) })
}

// Limits of what a reader of gauges notes, against a sound vehicle (judgment, no source).
const (
	noPressure  = 0.25 // of the line
	lowPressure = 0.88 // of what a sound one shows
	lineBand    = 0.12
	fillsLater  = 0.12 // s
	fallsLater  = 0.15
	risesMore   = 1.3
	leastRise   = 20e3 // Pa
)

// read is what the gauges show that is abnormal.
func (l Log) read(u *unitsheet.Unit, sound Log, cell func(at string, b faultmap.Behaviour, state string)) {
	low, high, n := 0, 0, 0
	for _, r := range u.Ranges {
		was := sound.lines[r.ID]
		if was == 0 {
			continue
		}
		n++
		switch share := l.lines[r.ID] / was; {
		case share < 1-lineBand:
			low++
		case share > 1+lineBand:
			high++
		}
	}
	switch {
	case 2*low > n:
		cell("", faultmap.Line, "low")
	case 2*high > n:
		cell("", faultmap.Line, "high")
	}
	for _, e := range tapped(u) {
		if state := l.gauges[e.ID].state(u, e, *sound.gauges[e.ID]); state != "" {
			cell(e.ID, faultmap.Tap, state)
		}
	}
}

// state is what one tap shows, "" when it is as wanted.
func (g gauge) state(u *unitsheet.Unit, e unitsheet.Element, sound gauge) string {
	none, low, stays, n := 0, 0, 0, 0
	for _, r := range u.Ranges {
		was, ok := sound.shares[r.ID]
		if !ok {
			continue
		}
		share := g.shares[r.ID]
		switch {
		case !slices.Contains(r.Applied, e.ID):
			if share > was+noPressure {
				stays++
			}
			continue
		case share < noPressure && was > 2*noPressure:
			none++
		case share < lowPressure*was:
			low++
		}
		n++
	}
	worse := func(now, was map[string]float64, out func(now, was float64) bool) bool {
		for id, x := range now {
			if y, ok := was[id]; ok && out(x, y) {
				return true
			}
		}
		return false
	}
	switch {
	case stays > 0:
		return "stays"
	case none > 0:
		return "none"
	case n > 0 && 2*low > n:
		return "low"
	case worse(g.fills, sound.fills, func(now, was float64) bool { return now > was+fillsLater }):
		return "late"
	case worse(g.falls, sound.falls, func(now, was float64) bool { return now > was+fallsLater }):
		return "slow"
	case worse(g.rises, sound.rises, func(now, was float64) bool { return now > was*risesMore+leastRise }):
		return "hard"
	}
	return ""
}
