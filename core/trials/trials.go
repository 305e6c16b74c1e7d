package trials

import (
	"math"
	"slices"

	"innercompass/core/shifts"
)

// Change is what was changed between two drives.
type Change string

// What a shop changes one at a time.
const (
	Pressure   Change = "pressure"
	Adaptation Change = "adaptation"
	Fluid      Change = "fluid"
	Valve      Change = "valve"
	Part       Change = "part"
	Software   Change = "software"
)

// Changes lists them.
var Changes = []Change{Pressure, Adaptation, Fluid, Valve, Part, Software}

// coupled are changes that alter what the other does: after both, what one did alone is not known (common practice, no source).
var coupled = [][2]Change{{Pressure, Adaptation}, {Fluid, Adaptation}, {Valve, Adaptation}, {Part, Adaptation}, {Software, Adaptation}, {Pressure, Valve}, {Fluid, Part}, {Pressure, Software}}

// Trial is a drive after something was changed.
type Trial struct {
	Changed []Change // against the drive before it; nothing for the first
	Shifts  []shifts.Shift
}

// Effect is what a trial did.
type Effect struct {
	Changed []Change
	Kinds   []Kind
	// Several says that more than one thing was changed: what is told cannot be laid at one of them.
	Several bool
	// Upon are changes of earlier trials that alter what this one does.
	Upon []Change
}

// Follow holds each trial against the one before it.
func Follow(list []Trial, sound []shifts.Shift) []Effect {
	var out []Effect
	for i := 1; i < len(list); i++ {
		e := Effect{Changed: list[i].Changed, Kinds: Compare(list[i-1].Shifts, list[i].Shifts, sound), Several: len(list[i].Changed) > 1}
		for _, earlier := range list[1:i] {
			for _, c := range earlier.Changed {
				if touches(c, list[i].Changed) && !slices.Contains(e.Upon, c) {
					e.Upon = append(e.Upon, c)
				}
			}
		}
		out = append(out, e)
	}
	return out
}

func touches(c Change, with []Change) bool {
	return slices.ContainsFunc(coupled, func(p [2]Change) bool {
		return p[0] == c && slices.Contains(with, p[1]) || p[1] == c && slices.Contains(with, p[0])
	})
}

// Told counts what a comparison tells.
type Told struct{ Better, Worse, Changed, Unknown int }

// Sum counts the verdicts of all kinds.
func Sum(kinds []Kind) Told {
	var t Told
	for _, k := range kinds {
		for _, d := range k.Differences {
			switch d.Verdict {
			case Better:
				t.Better++
			case Worse:
				t.Worse++
			case Changed:
				t.Changed++
			case CannotTell:
				t.Unknown++
			}
		}
	}
	return t
}

// Foremost is the difference that tells most: of those that got better or worse the one that is surest; false when nothing is told.
func Foremost(kinds []Kind) (Kind, Difference, bool) {
	var best Kind
	var at Difference
	most := 0.0
	for _, k := range kinds {
		for _, d := range k.Differences {
			if d.Verdict != Better && d.Verdict != Worse || d.Bound <= 0 {
				continue
			}
			if x := math.Abs(d.Change) / d.Bound; x > most {
				best, at, most = k, d, x
			}
		}
	}
	return best, at, most > 0
}

// Typical is the shift whose inertia time is the median: the one to draw.
func Typical(list []shifts.Shift) shifts.Shift {
	if len(list) == 0 {
		return shifts.Shift{}
	}
	s := slices.Clone(list)
	slices.SortFunc(s, func(a, b shifts.Shift) int {
		switch {
		case a.Inertia < b.Inertia:
			return -1
		case a.Inertia > b.Inertia:
			return 1
		}
		return 0
	})
	return s[len(s)/2]
}
