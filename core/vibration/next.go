package vibration

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Way is a kind of test drive.
type Way string

// The ways.
const (
	OtherRange Way = "range"    // the same road speed in another range
	Coast      Way = "coast"    // rolling in neutral at that road speed
	Standing   Way = "standing" // the engine at its speed, the vehicle standing
	Open       Way = "open"     // the converter's clutch open
	FootOff    Way = "foot-off" // the same speed, foot off
	Lift       Way = "lift"     // wheels off, on the lift
	BeltOff    Way = "belt-off" // the belt taken off, standing
)

// minutes of each way, about (judgment).
var minutesOf = map[Way]float64{OtherRange: 4, Coast: 3, Standing: 2, Open: 4, FootOff: 2, Lift: 25, BeltOff: 15}

// heard is how often a source of a family that is there is heard in a drive of a way, when it turns there (judgment, to be fitted from closed
// cases; the table of a study). A family that a way does not list is not heard there; with the belt off all others are.
var heard = map[Way]map[Family]float64{
	Coast:    {Wheels: .97, Shafts: .9, Axles: .7, Bearings: .9},
	Standing: {Engine: .85, Converter: .75, Pump: .9, Drives: .85, Gears: .04, Planets: .1, Bearings: .5},
	FootOff:  {Wheels: .9, Shafts: .7, Axles: .15, Engine: .55, Converter: .75, Pump: .85, Gears: .2, Planets: .3, Bearings: .85, Drives: .9},
	Lift:     {Wheels: .03, Shafts: .75, Axles: .7, Engine: .8, Converter: .85, Pump: .9, Gears: .6, Planets: .6, Bearings: .6, Drives: .9},
	BeltOff:  {Drives: .02},
}

const usuallyHeard = 0.95

// Test is a test drive that tells sources apart.
type Test struct {
	Way     Way
	Range   string
	Engine  float64 // rev/s
	Minutes float64
	Bits    float64   // what it tells about the source, on average
	Right   float64   // chance that the likeliest source after it is the right one
	At      []float64 // Hz by class, of the multiple that was heard; 0 where it is gone
}

// Asked is one class that a ridge could be, with the multiple of it that was heard.
type Asked struct {
	Class       Class
	Multiple    int
	Probability float64
}

const (
	openSlip   = 0.06 // of an open converter at cruise (recalled from memory: 3 to 10 %)
	idleTurns  = 800.0 / 60
	fineStep   = 0.0005 // of ln f, of the grid that outcomes are summed over
	falseAlarm = 0.02
)

// Next ranks the test drives by what they tell in a minute about which of these sources a ridge is of. unknown is the chance that it is none
// of them, speed the share by which speeds may be off. Ranges in which the engine would turn too slowly or too fast are left out, and ways
// that the unit has not.
func Next(u *unitsheet.Unit, v Vehicle, s State, could []Asked, unknown, speed float64) []Test {
	now, err := Sources(u, v, s)
	if err != nil || len(could) == 0 || s.Road == 0 {
		return nil
	}
	var out []Test
	add := func(way Way, state State, engine float64) {
		l, err := Sources(u, v, state)
		if err != nil {
			return
		}
		t := Test{Way: way, Range: state.Range, Engine: engine, Minutes: minutesOf[way], At: make([]float64, len(could))}
		x := outcomes{unknown: unknown}
		for i, c := range could {
			hz, there := l.anyOf(c.Class.IDs)
			t.At[i] = hz * float64(c.Multiple)
			q := usuallyHeard
			if table, ok := heard[way]; ok {
				if often, listed := table[c.Class.Family]; listed || way != BeltOff {
					q = often
				}
			}
			x.add(c.Probability, t.At[i], math.Hypot(speed, c.Class.Tolerance), q, there)
		}
		t.Bits, t.Right = x.tell()
		out = append(out, t)
	}
	for _, r := range u.Ranges {
		if !r.Driving() || r.ID == s.Range || r.Healthy.Outcome != gearing.Forward {
			continue
		}
		state := State{Range: r.ID, Road: s.Road, Slip: s.Slip}
		if l, err := Sources(u, v, state); err == nil && l.Engine >= slowest && l.Engine <= quickest {
			add(OtherRange, state, l.Engine)
		}
	}
	add(Coast, State{Road: s.Road, EngineSpeed: idleTurns}, idleTurns)
	add(Standing, State{EngineSpeed: now.Engine}, now.Engine)
	add(FootOff, s, now.Engine)
	add(Lift, s, now.Engine)
	if c := u.Sheet.Converter; c != nil && s.Slip == 0 && len(c.Lockup) > 0 {
		slipping := s
		slipping.Slip = openSlip
		add(Open, slipping, now.Engine/(1-openSlip))
	}
	if slices.ContainsFunc(could, func(c Asked) bool { return c.Class.Family == Drives }) {
		add(BeltOff, State{EngineSpeed: now.Engine}, now.Engine)
	}
	slices.SortStableFunc(out, func(a, b Test) int { return cmp.Compare(b.Bits/b.Minutes, a.Bits/a.Minutes) })
	return out
}

// anyOf is where the first of some sources stands.
func (l List) anyOf(ids []string) (hz float64, there bool) {
	for _, id := range ids {
		if hz := l.Hertz(id); hz > 0 {
			return hz, true
		}
	}
	return 0, false
}

// outcomes are what a drive may show: nothing, or a line somewhere.
type outcomes struct {
	unknown float64
	lines   []outcome
}

type outcome struct{ p, at, sd, q float64 }

func (x *outcomes) add(p, hz, sd, q float64, there bool) {
	if !there || hz <= 0 {
		x.lines = append(x.lines, outcome{p: p})
		return
	}
	x.lines = append(x.lines, outcome{p, math.Log(hz), sd, q})
}

// tell is the information about the source, in bits, and the chance that the likeliest one after it is right. A line may be anywhere for the
// unknown; one in fifty is heard that is none.
func (x outcomes) tell() (bits, right float64) {
	low, high, most := math.Inf(1), math.Inf(-1), 0.0
	for _, l := range x.lines {
		if l.q > 0 {
			low, high, most = math.Min(low, l.at-4*l.sd), math.Max(high, l.at+4*l.sd), math.Max(most, l.sd)
		}
	}
	all := make([]float64, len(x.lines)+1) // the last is unknown
	sum := x.unknown
	for i, l := range x.lines {
		all[i] = l.p
		sum += l.p
	}
	all[len(x.lines)] = x.unknown
	if sum <= 0 {
		return 0, 0
	}
	for i := range all {
		all[i] /= sum
	}
	const band = 5.0 // of ln f: what is unknown may be anywhere in it
	before := entropy(all)
	after, given := 0.0, make([]float64, len(all))
	take := func(w float64) { // given holds the joint weights of one outcome, w its cell
		mass, top := 0.0, 0.0
		for _, g := range given {
			mass, top = mass+g, math.Max(top, g)
		}
		if mass <= 0 {
			return
		}
		for i := range given {
			given[i] /= mass
		}
		after += w * mass * entropy(given)
		right += w * top
	}
	flatUnknown := 0.5 / band // it may have gone, too
	for i, l := range x.lines {
		given[i] = all[i] * (1 - l.q) * (1 - falseAlarm)
	}
	given[len(x.lines)] = all[len(x.lines)] * 0.5
	take(1)
	if math.IsInf(low, 1) {
		low, high = 0, 0
	}
	step := math.Max(fineStep, most/20)
	inside := 0.0
	for f := low; f < high; f += step {
		for i, l := range x.lines {
			given[i] = all[i] * (1 - l.q) * falseAlarm / band
			if l.q > 0 {
				z := (f + step/2 - l.at) / l.sd
				given[i] += all[i] * l.q * math.Exp(-z*z/2) / (l.sd * math.Sqrt(2*math.Pi))
			}
		}
		given[len(x.lines)] = all[len(x.lines)] * flatUnknown
		take(step)
		inside += step
	}
	// Anywhere else only what is unknown, or nothing at all, makes a line.
	for i, l := range x.lines {
		given[i] = all[i] * (1 - l.q) * falseAlarm / band
	}
	given[len(x.lines)] = all[len(x.lines)] * flatUnknown
	take(math.Max(0, band-inside))
	return math.Max(0, before-after), math.Min(1, right)
}

// entropy in bits.
func entropy(p []float64) float64 {
	h := 0.0
	for _, v := range p {
		if v > 0 {
			h -= v * math.Log2(v)
		}
	}
	return h
}
