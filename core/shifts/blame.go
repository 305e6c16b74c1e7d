package shifts

import (
	"cmp"
	"math"
	"slices"
)

// Change says what a shift asks of the unit's elements.
type Change struct {
	On, Off []string // that come on, and that let go
	Demand  float64  // what it asks of what comes on, over the most that any shift asks: 0 to 1
}

// Mark is how a shift went against its windows.
type Mark struct {
	Change
	Finding
	Down               bool
	LineLow, LineKnown bool // of the pressure that the sheet wants at this throttle
	Missing            bool // it was commanded and never came
	Engaged            bool // no shift: taken up from neutral
}

// Blame is what may be wrong.
type Blame string

// What may be wrong.
const (
	Sound   Blame = "sound"    // nothing that these shifts show
	LineLow Blame = "line-low" // line pressure: what is asked the most feels it first
	LateOn  Blame = "late-on"  // an element that bites late: its plates stand far apart, or its oil comes slowly
	NeverOn Blame = "never-on" // an element that does not come on
	Weak    Blame = "weak"     // an element that holds too little at its pressure
	Leaking Blame = "leaking"  // an element that loses its oil
	SlowOff Blame = "slow-off" // an element that lets go slowly
)

// Suspect is one of these with its probability.
type Suspect struct {
	Blame       Blame
	Element     string // of all but Sound and LineLow
	Probability float64
}

// chances are how often the marks of a shift are seen.
type chances struct{ long, flared, fills, tied, low, quick, after, missing float64 }

// By what is wrong with an element, and by its part in the shift (from simulated drives that were looked at, and the study; judgment).
var (
	asSound  = chances{long: 0.05, flared: 0.05, fills: 0.04, tied: 0.04, low: 0.01, quick: 0.05, after: 0.03, missing: 0.01}
	lateOn   = chances{long: 0.25, flared: 0.80, fills: 0.92, tied: 0.02, low: 0.02, quick: 0.15, after: 0.05, missing: 0.04}
	weakOn   = chances{long: 0.80, flared: 0.40, fills: 0.05, tied: 0.10, low: 0.01, quick: 0.02, after: 0.30, missing: 0.15}
	weakOff  = chances{long: 0.10, flared: 0.45, fills: 0.04, tied: 0.04, low: 0.01, quick: 0.05, after: 0.03, missing: 0.01}
	leakOn   = chances{long: 0.60, flared: 0.55, fills: 0.50, tied: 0.03, low: 0.93, quick: 0.02, after: 0.25, missing: 0.30}
	neverOn  = chances{long: 0.50, flared: 0.90, fills: 0.50, tied: 0.02, low: 0.90, quick: 0.02, after: 0.50, missing: 0.95}
	slowOff  = chances{long: 0.15, flared: 0.03, fills: 0.04, tied: 0.85, low: 0.01, quick: 0.35, after: 0.03, missing: 0.05}
	lowLine  = chances{long: 0.75, flared: 0.30, fills: 0.30, tied: 0.05, low: 0.02, quick: 0.02, after: 0.25, missing: 0.10}
	downward = 0.35 // how much of it a downshift shows
)

// log is the logarithm of how likely a shift's marks are; what was not recorded says nothing.
func (c chances) log(m Mark) float64 {
	if m.Engaged {
		return chance(m.FillsLate, c.fills) + chance(m.Missing, c.missing)
	}
	if m.Missing {
		return chance(true, c.missing)
	}
	sum := chance(false, c.missing) + chance(m.Long, c.long) + chance(m.Flared, c.flared) + chance(m.Quick, c.quick) + chance(m.SlipsAfter, c.after)
	if m.FillKnown {
		sum += chance(m.FillsLate, c.fills)
	}
	if m.OverlapKnown {
		sum += chance(m.Tied, c.tied)
	}
	if m.TapKnown {
		sum += chance(m.LowPressure, c.low)
	}
	return sum
}

// mix is so much of c and the rest of d.
func (c chances) mix(d chances, share float64) chances {
	at := func(a, b float64) float64 { return share*a + (1-share)*b }
	return chances{at(c.long, d.long), at(c.flared, d.flared), at(c.fills, d.fills), at(c.tied, d.tied), at(c.low, d.low), at(c.quick, d.quick), at(c.after, d.after), at(c.missing, d.missing)}
}

// lineGuilty and lineElse are how often the line shows less than the sheet wants, when it is low and else.
const lineGuilty, lineElse = 0.90, 0.03

// soundBefore is how much likelier nothing is beforehand than any one thing (judgment: most drives of a shop are not about the shifts).
const soundBefore = 3.0

// WhoIsToBlame weighs what may be wrong by all shifts of a drive, each thing but nothing as likely beforehand, the likeliest first. One element is behind shifts that look unlike each
// other: those that it is part of go wrong, the others do not.
func WhoIsToBlame(marks []Mark) []Suspect {
	out := []Suspect{{Blame: Sound}, {Blame: LineLow}}
	add := func(elements []string, blames ...Blame) {
		for _, e := range elements {
			for _, b := range blames {
				if !slices.ContainsFunc(out, func(s Suspect) bool { return s.Blame == b && s.Element == e }) {
					out = append(out, Suspect{Blame: b, Element: e})
				}
			}
		}
	}
	for _, m := range marks {
		add(m.On, LateOn, NeverOn, Weak, Leaking)
		add(m.Off, SlowOff)
	}
	most := math.Inf(-1)
	out[0].Probability = math.Log(soundBefore)
	for i := range out {
		for _, m := range marks {
			out[i].Probability += out[i].expects(m).log(m)
			if m.LineKnown {
				p := lineElse
				if out[i].Blame == LineLow {
					p = lineGuilty
				}
				out[i].Probability += chance(m.LineLow, p)
			}
		}
		most = math.Max(most, out[i].Probability)
	}
	sum := 0.0
	for i := range out {
		out[i].Probability = math.Exp(out[i].Probability - most)
		sum += out[i].Probability
	}
	for i := range out {
		out[i].Probability /= sum
	}
	slices.SortStableFunc(out, func(a, b Suspect) int { return cmp.Compare(b.Probability, a.Probability) })
	return out
}

// expects is how a shift goes when this is wrong.
func (s Suspect) expects(m Mark) chances {
	on, off := slices.Contains(m.On, s.Element), slices.Contains(m.Off, s.Element)
	c := asSound
	switch {
	case s.Blame == LateOn && on:
		c = lateOn
	case s.Blame == NeverOn && on:
		c = neverOn
	case s.Blame == NeverOn && off:
		return asSound
	case s.Blame == Weak && on:
		c = weakOn
	case s.Blame == Weak && off:
		c = weakOff
	case s.Blame == Leaking && on:
		c = leakOn
	case s.Blame == Leaking && off:
		c = weakOff
	case s.Blame == SlowOff && off:
		c = slowOff
	case s.Blame == LineLow:
		c = lowLine.mix(asSound, m.Demand)
	}
	if m.Down { // the other way round, and less of it
		c = c.mix(asSound, downward)
	}
	return c
}

func chance(seen bool, p float64) float64 {
	if seen {
		return math.Log(p)
	}
	return math.Log(1 - p)
}

// Marks holds a drive against sound shifts, or against the usual windows: what was finished, what was commanded and never came, and how it took up.
func (b Box) Marks(r Result, sound []Shift) []Mark {
	var out []Mark
	most := 0.0
	for _, s := range r.Shifts {
		if s.Unfinished {
			continue
		}
		m := Mark{Change: b.Change(s.From, s.To), Down: s.Down}
		if !s.Down || len(sound) > 0 {
			m.Finding = WindowsOf(s, sound).Held(s)
		}
		if want, ok := b.gear(s.From).line(s.Throttle); ok && s.Line > 0 {
			m.LineKnown, m.LineLow = true, s.Line < lineLeast*want
		}
		most = math.Max(most, m.Demand)
		out = append(out, m)
	}
	for _, x := range r.Missing {
		m := Mark{Change: b.Change(x.From, x.To), Missing: true}
		most = math.Max(most, m.Demand)
		out = append(out, m)
	}
	for i := range out {
		if most > 0 {
			out[i].Demand /= most
		}
	}
	for _, e := range r.Engagements {
		if g := b.gear(e.Gear); g.ID != "" {
			out = append(out, Mark{Change: Change{On: g.Applied}, Engaged: true, Missing: !e.Finished, Finding: Finding{FillKnown: true, FillsLate: e.Finished && e.Delay-e.DelayU > UsualTake}})
		}
	}
	return out
}

// lineLeast is the share of the sheet's line pressure below which it counts as low (common practice, no source: the window's own width).
const lineLeast = 0.85

// UsualTake is how long a sound unit takes up at most from neutral, warm, s (common practice, no source).
const UsualTake = 1.2
