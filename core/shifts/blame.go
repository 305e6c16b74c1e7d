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

// Mark is how a shift went, against sound ones of its kind.
type Mark struct {
	Change
	Long bool // longer, or with a flare
	Tied bool // short, or with a deeper dip: both held at once
	// Dipless says that a dip could not have been told, as from speeds alone.
	Dipless bool
}

// Blame is what may be wrong.
type Blame string

// What may be wrong.
const (
	Sound   Blame = "sound"    // nothing that these shifts show
	LineLow Blame = "line-low" // line pressure: what is asked the most feels it first
	LateOn  Blame = "late-on"  // an element that comes on late or weak
	SlowOff Blame = "slow-off" // an element that lets go slowly
)

// Suspect is one of these with its probability.
type Suspect struct {
	Blame       Blame
	Element     string // of LateOn and SlowOff
	Probability float64
}

// How often a mark is seen (from the study on simulated drives; judgment).
const (
	longGuilty, longElse = 0.80, 0.06 // of what comes on
	tiedGuilty, tiedElse = 0.80, 0.04 // of what lets go
	longSlowOff          = 0.25       // a slow release can also hold a shift up
)

// WhoIsToBlame weighs what may be wrong by all shifts of a drive, each thing as likely beforehand, the likeliest first. One element is behind shifts that look unlike each
// other: those that it is part of go wrong, the others do not.
func WhoIsToBlame(marks []Mark) []Suspect {
	out := []Suspect{{Blame: Sound}, {Blame: LineLow}}
	add := func(b Blame, elements []string) {
		for _, e := range elements {
			if !slices.ContainsFunc(out, func(s Suspect) bool { return s.Blame == b && s.Element == e }) {
				out = append(out, Suspect{Blame: b, Element: e})
			}
		}
	}
	for _, m := range marks {
		add(LateOn, m.On)
		add(SlowOff, m.Off)
	}
	sum := 0.0
	for i := range out {
		log := 0.0
		for _, m := range marks {
			long, tied := out[i].expects(m.Change)
			log += math.Log(chance(m.Long, long))
			if !m.Dipless {
				log += math.Log(chance(m.Tied, tied))
			}
		}
		out[i].Probability = math.Exp(log)
		sum += out[i].Probability
	}
	for i := range out {
		out[i].Probability /= sum
	}
	slices.SortStableFunc(out, func(a, b Suspect) int { return cmp.Compare(b.Probability, a.Probability) })
	return out
}

// expects is how likely a shift is marked when this is wrong.
func (s Suspect) expects(c Change) (long, tied float64) {
	long, tied = longElse, tiedElse
	switch {
	case s.Blame == LateOn && slices.Contains(c.On, s.Element):
		long = longGuilty
	case s.Blame == SlowOff && slices.Contains(c.Off, s.Element):
		long, tied = longSlowOff, tiedGuilty
	case s.Blame == LineLow:
		long += (longGuilty - longElse) * c.Demand
	}
	return long, tied
}

func chance(seen bool, p float64) float64 {
	if seen {
		return p
	}
	return 1 - p
}
