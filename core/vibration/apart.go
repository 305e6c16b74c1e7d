package vibration

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Engine speeds between which a drive is asked for, rev/s (common practice, no source).
const (
	slowest  = 1100.0 / 60
	quickest = 5000.0 / 60
)

// Match is a source beside a frequency that was heard.
type Match struct {
	Source
	Off  float64 // how far it lies from what was heard, as a share
	Sure float64 // standard deviations between them
}

// Matches are the sources nearest to a frequency that was heard with a standard uncertainty, multiples included, the nearest by what can be
// told first. road is the share by which the road speed may be off: it moves everything that the road turns.
func (l List) Matches(heard, u, road float64) []Match {
	var out []Match
	for _, s := range l.Sources {
		for h := 1; h <= s.Harmonics; h++ {
			at := s
			if at.Hertz *= float64(h); h > 1 {
				at.ID, at.Name = s.ID+" ×"+multiple[h], multiple[h]+" times: "+s.Name
				at.PerOutput, at.PerEngine = s.PerOutput*float64(h), s.PerEngine*float64(h)
			}
			off := at.Hertz/heard - 1
			sd := math.Sqrt(s.Tolerance*s.Tolerance + road*road + u*u/heard/heard)
			if !s.Loaded {
				sd /= quiet
			}
			out = append(out, Match{at, off, math.Abs(off)/sd + seldom*float64(h-1)})
		}
	}
	slices.SortStableFunc(out, func(a, b Match) int { return cmp.Compare(a.Sure, b.Sure) })
	return out
}

var multiple = map[int]string{1: "", 2: "2", 3: "3"}

// seldom lets a multiple stand back behind what turns so itself, standard deviations for each (judgment).
const seldom = 0.5

// quiet lets gears without load stand back: they are heard less than those under load (judgment).
const quiet = 1.5

// Drive is a drive that parts sources.
type Drive struct {
	Range  string
	Apart  float64 // by which the nearest two of them then lie apart, as a share
	Gone   int     // how many of them are not there any more
	Engine float64 // rev/s
}

// Parts are the drives at the same road speed in other ranges, those first that part these sources most. A range in which the engine would
// turn too slowly or too fast is left out.
func Parts(u *unitsheet.Unit, v Vehicle, s State, sources []Source) []Drive {
	var out []Drive
	for _, r := range u.Ranges {
		if !r.Driving() || r.ID == s.Range || r.Healthy.Outcome != gearing.Forward {
			continue
		}
		l, err := Sources(u, v, State{Range: r.ID, Road: s.Road, Slip: s.Slip})
		if err != nil || l.Engine < slowest || l.Engine > quickest {
			continue
		}
		d := Drive{Range: r.ID, Apart: math.Inf(1), Engine: l.Engine}
		var at []float64
		for _, want := range sources {
			hz := l.at(want) // not by its order: gears, turbine and bearings on gears turn otherwise in each range
			if hz == 0 {
				d.Gone++
				continue
			}
			at = append(at, math.Log(hz))
		}
		slices.Sort(at)
		for i := 1; i < len(at); i++ {
			d.Apart = math.Min(d.Apart, math.Expm1(at[i]-at[i-1]))
		}
		out = append(out, d)
	}
	slices.SortStableFunc(out, func(a, b Drive) int { return cmp.Compare(b.Apart, a.Apart) })
	return out
}

// at is where a source, or a multiple of it, stands in another state; 0 when it is not there.
func (l List) at(want Source) float64 {
	for _, s := range l.Sources {
		for h := 1; h <= max(1, s.Harmonics); h++ {
			if s.ID == want.ID || h > 1 && s.ID+" ×"+multiple[h] == want.ID {
				return s.Hertz * float64(h)
			}
		}
	}
	return 0
}

// Hertz is where a source stands in this state; 0 when it is not there.
func (l List) Hertz(id string) float64 {
	i := slices.IndexFunc(l.Sources, func(s Source) bool { return s.ID == id })
	if i < 0 {
		return 0
	}
	return l.Sources[i].Hertz
}
