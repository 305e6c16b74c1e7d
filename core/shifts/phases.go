package shifts

import (
	"math"
	"slices"
	"sort"
)

const (
	lookBack  = 2.5  // s before a turbine leaves its gear in which its command is looked for
	aboveZero = 0.35 // of the touch pressure: oil has come
	tapNoise  = 12e3 // Pa above the touch pressure that tells that the plates touch, whatever a transducer trembles
	stillOut  = 40.0 // rev/min of the output: the vehicle stands
	caught    = 0.10 // of the turbine's speed in neutral: a clutch has caught it
	wayPoints = 28   // of a shift's way
	wayAround = 0.4  // s
	longestOn = 4.0  // s after which an engagement counts as none
	risesFrom = 0.03 // s after its plates touch, between which an element's rise is told
	risesTo   = 0.13
)

// within are the indexes of a channel's samples between two times.
func (c Channel) within(from, to float64) (a, b int) {
	return sort.SearchFloat64s(c.Time, from), sort.SearchFloat64s(c.Time, to)
}

// mean is the mean over a stretch; 0 without samples.
func (c Channel) mean(from, to float64) float64 {
	a, b := c.within(from, to)
	if a >= b {
		if len(c.Time) == 0 {
			return 0
		}
		return c.At((from + to) / 2)
	}
	sum := 0.0
	for _, x := range c.Value[a:b] {
		sum += x
	}
	return sum / float64(b-a)
}

// step is a channel's usual time between samples about a moment.
func (c Channel) step(at float64) float64 {
	i := min(max(1, sort.SearchFloat64s(c.Time, at)), len(c.Time)-1)
	if i < 1 {
		return 0
	}
	return c.Time[i] - c.Time[i-1]
}

// phases adds to a shift what other channels tell of it.
func (m measure) phases(x *Shift) {
	from, to := m.box.gear(x.From), m.box.gear(x.To)
	span := (x.End - x.Begin) / (early - late)
	u := x.InertiaU * (early - late) / math.Sqrt2
	x.Leaves = Moment{At: x.Begin - (1-early)*span, U: u, Known: true}
	x.Arrives = Moment{At: x.End + late*span, U: u, Known: true}
	for i := range wayPoints {
		t := x.Leaves.At - wayAround + (x.Arrives.At-x.Leaves.At+2*wayAround)*float64(i)/(wayPoints-1)
		k := m.index(t)
		x.Way = append(x.Way, (m.s.turbine[k]/math.Max(m.s.output[k], 1)-to.Ratio)/(from.Ratio-to.Ratio))
	}
	x.Throttle = m.d.Throttle.mean(x.Leaves.At-0.3, x.End)
	x.Fluid, x.Line = m.d.Fluid.mean(x.Begin-1, x.End+1), m.d.Line.mean(x.Leaves.At-0.3, x.End)
	x.Speed = Channel{m.s.time, m.s.output}.mean(x.Leaves.At-0.15, x.Leaves.At)
	x.Command = m.commanded(*x, to)
	c := m.box.Change(x.From, x.To)
	for _, id := range c.On {
		p, ok := m.d.Pressures[id]
		if !ok {
			continue
		}
		if !x.Command.Known {
			x.Command = m.filling(p, m.box.Touch(id), *x)
		}
		if x.Command.Known {
			x.Filled = m.touches(p, m.box.Touch(id), x.Command.At, x.End)
		}
		if x.Filled.Known {
			put(&x.Rise, id, p.mean(x.Filled.At+risesFrom, x.Filled.At+risesTo))
		}
		if line := m.d.Line.mean(x.Arrives.At+0.3, x.Arrives.At+0.7); line > 1e5 && x.Arrives.At+0.7 < m.s.time[len(m.s.time)-1] {
			put(&x.Carried, id, p.mean(x.Arrives.At+0.3, x.Arrives.At+0.7)/line)
		}
		if h, ok := m.heat(p, id, *x, from, to); ok {
			put(&x.Heat, id, h)
		}
	}
	for _, id := range c.Off {
		if p, ok := m.d.Pressures[id]; ok && !x.Opens.Known {
			x.Opens = falls(p, m.box.Touch(id)+tapNoise, x.Leaves.At-lookBack/2, x.End+0.5)
		}
	}
	if e := x.Opens.At - x.Filled.At; x.Opens.Known && x.Filled.Known {
		x.Overlap = e
	}
}

// put sets a value in a map that may not be there yet.
func put(m *map[string]float64, id string, v float64) {
	if *m == nil {
		*m = map[string]float64{}
	}
	(*m)[id] = v
}

// commanded is when the commanded gear became the one that was shifted to.
func (m measure) commanded(x Shift, to Gear) Moment {
	c := m.d.Gear
	a, b := c.within(x.Leaves.At-lookBack, x.End)
	for i := b - 1; i > a; i-- {
		if math.Round(c.Value[i]) == float64(to.Number) && math.Round(c.Value[i-1]) != float64(to.Number) {
			step := c.Time[i] - c.Time[i-1]
			return Moment{At: c.Time[i] - step/2, U: step/2 + 0.004, Known: true}
		}
	}
	return Moment{}
}

// filling is when oil came: the last time before the turbine left its gear that the pressure rose from nothing.
func (m measure) filling(p Channel, touch float64, x Shift) Moment {
	a, b := p.within(x.Leaves.At-lookBack, x.Leaves.At)
	for i := b - 1; i > a; i-- {
		if p.Value[i-1] <= aboveZero*touch && p.Value[i] > aboveZero*touch {
			step := p.Time[i] - p.Time[i-1]
			return Moment{At: p.Time[i] - step/2, U: step/2 + 0.010, Known: true}
		}
	}
	return Moment{}
}

// touches is when the pressure has risen above what springs take, twice in a row.
func (m measure) touches(p Channel, touch, command, end float64) Moment {
	limit := touch + tapNoise
	a, b := p.within(command, end)
	for i := max(a, 1); i+1 < b; i++ {
		if p.Value[i] > limit && p.Value[i+1] > limit {
			at := p.Time[i]
			if d := p.Value[i] - p.Value[i-1]; p.Value[i-1] < limit && d > 0 {
				at -= (p.Value[i] - limit) / d * (p.Time[i] - p.Time[i-1])
			}
			return Moment{At: at, U: p.step(at)/2 + 0.005, Known: true}
		}
	}
	return Moment{}
}

// falls is when a pressure has fallen below a limit for good; the end of the stretch when it has not by then.
func falls(p Channel, limit, from, to float64) Moment {
	a, b := p.within(from, to)
	if b > a && p.Value[b-1] >= limit {
		return Moment{At: p.Time[b-1], U: p.step(p.Time[b-1]), Known: true}
	}
	for i := b - 1; i > a; i-- {
		if p.Value[i] < limit && p.Value[i-1] >= limit {
			d := p.Value[i-1] - p.Value[i]
			at := p.Time[i-1] + (p.Value[i-1]-limit)/d*(p.Time[i]-p.Time[i-1])
			return Moment{At: at, U: p.step(at)/2 + 0.005, Known: true}
		}
	}
	return Moment{}
}

// heat is the work of friction in what comes on: what it holds at its pressure, times its slip, until it has come. It is not told of an element whose capacity the sheet does
// not give, nor before its plates touch.
func (m measure) heat(p Channel, id string, x Shift, from, to Gear) (float64, bool) {
	k, ok := m.box.slipOf(id, from, to)
	e := m.box.elements[id]
	if !ok || !x.Filled.Known {
		return 0, false
	}
	if _, known := e.Hold(1e5); !known {
		return 0, false
	}
	sum := 0.0
	a, b := m.index(x.Filled.At), m.index(x.Arrives.At)
	for i := max(1, a); i <= b; i++ {
		hold, _ := e.Hold(p.At(m.s.time[i]))
		slip := k * (m.s.turbine[i] - to.Ratio*m.s.output[i]) * math.Pi / 30
		sum += math.Max(0, hold) * math.Abs(slip) * (m.s.time[i] - m.s.time[i-1])
	}
	return sum, true
}

// Engagement is how the unit takes up from neutral.
type Engagement struct {
	At       float64 // of the command, s
	Gear     string
	Delay    float64 // until the turbine is caught, s
	DelayU   float64
	Finished bool // it was caught at all
}

// engagements are those with the vehicle standing, by the commanded gear and the turbine's speed.
func (m measure) engagements() []Engagement {
	var out []Engagement
	c := m.d.Gear
	for i := 1; i < len(c.Time); i++ {
		now, was := math.Round(c.Value[i]), math.Round(c.Value[i-1])
		if was != 0 || now == 0 {
			continue
		}
		t0 := (c.Time[i] + c.Time[i-1]) / 2
		k := m.index(t0)
		free := Channel{m.s.time, m.s.turbine}.mean(t0-0.5, t0)
		if m.s.output[k] > stillOut || free < 200 {
			continue
		}
		e := Engagement{At: t0, Gear: m.numbered(now), DelayU: (c.Time[i]-c.Time[i-1])/2 + 0.008}
		for j := k; j < len(m.s.time) && m.s.time[j] < t0+longestOn; j++ {
			if m.s.turbine[j] < caught*free || m.s.output[j] > stillOut && m.fits(j) {
				e.Delay, e.Finished = m.s.time[j]-t0-m.d.Turbine.step(m.s.time[j])/2, true
				break
			}
		}
		out = append(out, e)
	}
	return out
}

// numbered is the gear that tools call by a number; "reverse" below nothing.
func (m measure) numbered(n float64) string {
	if n < 0 {
		return "reverse"
	}
	i := slices.IndexFunc(m.box.Gears, func(g Gear) bool { return float64(g.Number) == n })
	if i < 0 {
		return ""
	}
	return m.box.Gears[i].ID
}

// fits reports whether a sample stands in one of the gears.
func (m measure) fits(i int) bool {
	return slices.ContainsFunc(m.gears, func(g Gear) bool {
		return math.Abs(m.s.turbine[i]-g.Ratio*m.s.output[i]) < 0.03*m.s.turbine[i]
	})
}

// missing are the gears that were commanded, for long enough, and not reached.
func (m measure) missing(found []Shift) []Missing {
	var out []Missing
	c := m.d.Gear
	for i := 1; i < len(c.Time); i++ {
		now, was := math.Round(c.Value[i]), math.Round(c.Value[i-1])
		if now == was || now <= 0 || was <= 0 || m.s.output[m.index(c.Time[i])] < slowest*1.5 {
			continue
		}
		end := i
		for end+1 < len(c.Time) && math.Round(c.Value[end+1]) == now {
			end++
		}
		if c.Time[end]-c.Time[i] < lookBack {
			continue
		}
		x := Missing{At: c.Time[i], From: m.numbered(was), To: m.numbered(now)}
		reached := slices.ContainsFunc(found, func(s Shift) bool {
			return s.To == x.To && s.Leaves.At > x.At-0.3 && s.Begin < c.Time[end]
		})
		if !reached && x.From != "" && x.To != "" {
			x.Shares = m.d.shares(x.At, c.Time[end])
			out = append(out, x)
		}
	}
	return out
}
