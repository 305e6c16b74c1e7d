// Package leak finds where oil comes from. Oil runs down and, on the road, back: a zone that is wet need not be the zone
// that leaks. From the places of a unit, in three dimensions, the package works out which zones each source wets by
// gravity, by creeping along a joint and by the wind of the road, and which sources, several at once, explain what was
// found wet, fresh and dry, when it drips, its colour, and how fast the level falls.
//
// Coordinates: x from front (0) to back (100), y from bottom (0) to top (100), z from left (0) to right (100), as seen
// from behind. The shares are judgement (common practice, no source): oil that meets a surface below mostly wets it, a
// joint carries a part along, wind a part back. Invalid for oil thrown about by shafts, but where a path says so.
package leak

import (
	"fmt"
	"slices"

	"innercompass/core/attribute"
)

// Box is a zone's room.
type Box struct{ X, Y, Z, W, H, D float64 }

// Zone is a place that can be wet.
type Zone struct {
	ID, Name string
	Box      Box
	Hidden   bool // seen only with a cover off
	Floor    bool // under the vehicle
}

// When says on what a source's leaking depends.
type When string

// The kinds of source.
const (
	Static   When = "static"   // a resting seal under the standing level
	High     When = "high"     // a resting seal above it
	Turning  When = "turning"  // a lip on a shaft
	Pressure When = "pressure" // a circuit under pressure
	Vent     When = "vent"     // what leaves by the vent
	Inner    When = "inner"    // goes where it cannot be seen
)

// Whens lists them.
var Whens = []When{Static, High, Turning, Pressure, Vent, Inner}

// Source is a seal, joint or line that may leak.
type Source struct {
	ID, Name, Zone string
	When           When
	Kind           string // of oil, one of Kinds
	Prior          float64
}

// How often a source leaks before anything was seen (common practice, no source).
const (
	Usual  = 0.05
	Seldom = 0.02
)

// Path carries oil from a zone to another in a way that its place does not tell: a hose, a groove, a slung film.
type Path struct {
	From, To string
	Share    float64
}

// Map is a unit as leaks see it.
type Map struct {
	Kind    string // of the unit's own oil
	Across  bool   // the unit lies across the vehicle, its left side (low z) forward
	Zones   []Zone
	Sources []Source
	Paths   []Path
}

// Kinds of oil, with the look of each: how often a drop of it is taken for each of Colours.
var Kinds = map[string][]float64{
	"fluid":    {0.70, 0.22, 0.03, 0.03, 0.01, 0.01},
	"gear":     {0.02, 0.30, 0.05, 0.61, 0.01, 0.01},
	"engine":   {0.01, 0.40, 0.48, 0.10, 0.005, 0.005},
	"steering": {0.55, 0.20, 0.02, 0.17, 0.01, 0.05},
	"brake":    {0.01, 0.18, 0.02, 0.40, 0.04, 0.35},
	"coolant":  {0.03, 0.04, 0.005, 0.005, 0.90, 0.02},
}

// Colours that a drop on white paper may have, in the order of Kinds.
var Colours = []string{"red", "brown", "black", "honey", "watery", "clear"}

// floor are the places under the vehicle where a puddle is found, front to back and left to right.
func floor() []Zone {
	var out []Zone
	for i, along := range []string{"front", "middle", "rear"} {
		for j, across := range []string{"left", "centre", "right"} {
			out = append(out, Zone{ID: "floor-" + along + "-" + across, Name: "puddle, " + along + " " + across, Box: Box{float64(i) * 34, -30, float64(j) * 34, 32, 2, 32}, Floor: true})
		}
	}
	return out
}

// Compile checks a map and adds the floor. Errors name what is wrong: a zone twice, a source in no zone.
func (m Map) Compile() (Map, error) {
	if _, ok := Kinds[m.Kind]; !ok {
		return m, fmt.Errorf("leak: %q is no kind of oil; want fluid, gear, engine, steering, brake or coolant", m.Kind)
	}
	m.Zones = append(slices.Clone(m.Zones), floor()...)
	m.Sources = slices.Clone(m.Sources)
	seen := map[string]bool{}
	for _, z := range m.Zones {
		if z.ID == "" || seen[z.ID] {
			return m, fmt.Errorf("leak: zone %q is empty or there twice; want each id once", z.ID)
		}
		seen[z.ID] = true
		if !(z.Box.W > 0 && z.Box.H > 0 && z.Box.D > 0) {
			return m, fmt.Errorf("leak: zone %q has no room; want width, height and depth above 0", z.ID)
		}
	}
	sources := map[string]bool{}
	for i := range m.Sources {
		s := &m.Sources[i]
		if s.Kind == "" {
			s.Kind = m.Kind
		}
		if s.Prior == 0 {
			s.Prior = Usual
		}
		switch {
		case s.ID == "" || sources[s.ID]:
			return m, fmt.Errorf("leak: source %q is empty or there twice; want each id once", s.ID)
		case !slices.Contains(Whens, s.When):
			return m, fmt.Errorf("leak: source %q leaks %q; want one of %v", s.ID, s.When, Whens)
		case Kinds[s.Kind] == nil:
			return m, fmt.Errorf("leak: source %q has the oil %q; want one of fluid, gear, engine, steering, brake, coolant", s.ID, s.Kind)
		case s.When != Inner && !seen[s.Zone]:
			return m, fmt.Errorf("leak: source %q is in no zone %q; want the id of a zone", s.ID, s.Zone)
		case !(s.Prior > 0 && s.Prior < 1):
			return m, fmt.Errorf("leak: source %q has the prior %v; want more than 0 and less than 1", s.ID, s.Prior)
		}
		sources[s.ID] = true
	}
	for _, p := range m.Paths {
		if !seen[p.From] || !seen[p.To] || !(p.Share > 0 && p.Share <= 1) {
			return m, fmt.Errorf("leak: path from %q to %q with share %v; want two zones and a share up to 1", p.From, p.To, p.Share)
		}
	}
	return m, nil
}

// Watch is how it was watched.
type Watch string

// The ways to look.
const (
	AsFound  Watch = "as-found" // as it came, dirt and all
	Standing Watch = "standing" // cleaned, then left overnight
	Running  Watch = "running"  // cleaned, then run at rest
	Driven   Watch = "driven"   // cleaned, then driven
)

// Watches lists them.
var Watches = []Watch{AsFound, Standing, Running, Driven}

// Levels of wetness.
const (
	Dry = iota
	Wet
	Fresh
)

// Scene is what was found.
type Scene struct {
	Watched Watch
	Zones   map[string]int  // Dry, Wet or Fresh; what is not in it was not looked at
	When    map[string]bool // by the ids of Moments; what is not in it was not watched
	Colour  string          // one of Colours, or empty
	Level   string          // steady, slow, fast, or empty
	Vent    string          // open, blocked, or empty
	Plug    string          // of the transfer case: right, over, or empty
}

// Moment is a time at which it may drip, with how often each kind of source does.
type Moment struct {
	ID, Title string
	by        map[When]float64
}

// Moments lists them (shares are common practice, no source).
var Moments = []Moment{
	{"standing", "while standing", map[When]float64{Static: 0.85, High: 0.06, Turning: 0.08, Pressure: 0.03, Vent: 0.02}},
	{"running", "with the engine running", map[When]float64{Static: 0.55, High: 0.6, Turning: 0.75, Pressure: 0.92, Vent: 0.35}},
	{"after", "after driving, then it stops", map[When]float64{Static: 0.15, High: 0.5, Turning: 0.8, Pressure: 0.4, Vent: 0.6}},
	{"hot", "only when hot", map[When]float64{Static: 0.15, High: 0.3, Turning: 0.35, Pressure: 0.4, Vent: 0.8}},
	{"load", "more under load", map[When]float64{Static: 0.08, High: 0.1, Turning: 0.2, Pressure: 0.55, Vent: 0.35}},
}

// active is how often a source leaks while it is watched so.
func (s Source) active(w Watch) float64 {
	switch w {
	case Standing:
		return Moments[0].by[s.When]
	case Running:
		return Moments[1].by[s.When]
	}
	if s.When == Inner {
		return 0
	}
	return 0.95
}

// Suspect is a source with what speaks for it.
type Suspect struct {
	Source
	Share float64 // probability that it leaks
	Ratio float64 // how many times likelier the marks are with it leaking
	Wets  []Way   // wet zones that it explains, nearest first
}

// Way is how oil of a source reaches a wet zone.
type Way struct {
	Zone    string
	Share   float64
	Through []string // zones on the way, the source's own first
}

// Check is one more look, and what it is expected to tell.
type Check struct {
	ID      string
	Bits    float64 // by which the explanations come apart
	Minutes float64
}

// Trace is what a scene comes to.
type Trace struct {
	Suspects    []Suspect // likeliest first
	Sets        []attribute.Set
	Unexplained []string // wet zones that the best explanation does not reach
	Checks      []Check  // most bits for a minute first
}

// together is how many leaks at once are weighed.
const together = 3
