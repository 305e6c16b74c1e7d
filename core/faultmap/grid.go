package faultmap

import (
	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Behaviour is one row of the road test grid.
type Behaviour string

// The behaviours of the grid, from the selector to the overrun.
const (
	Engages Behaviour = "engages" // how it takes up when selected
	Drives  Behaviour = "drives"
	Shift   Behaviour = "shift"  // how it changes up into this range
	Down    Behaviour = "down"   // how it changes down into it
	Slips   Behaviour = "slips"  // under load
	Brakes  Behaviour = "brakes" // with the foot off
	Noise   Behaviour = "noise"  // of gears, under load
	Lockup  Behaviour = "lockup" // converter clutch
)

// BehaviourInfo describes a row of the grid and its states; the first state is normal.
type BehaviourInfo struct {
	ID     Behaviour
	Title  string
	States []State
}

// State is one state of a cell. Key is the key that sets it on the grid, Word what stands in the cell.
type State struct{ ID, Title, Key, Word string }

// Behaviours lists the rows of the grid in order.
var Behaviours = []BehaviourInfo{
	{Engages, "engages", []State{{"normal", "normal", " ", "normal"}, {"late", "late", "l", "late"}, {"harsh", "harsh", "h", "harsh"}, {"none", "does not engage", "n", "none"}}},
	{Drives, "drives", []State{{"normal", "normal", " ", "normal"}, {"none", "no drive", "n", "none"}, {"wrong", "wrong gear", "g", "wrong"}, {"bind", "binds", "b", "binds"}}},
	{Shift, "shift into", []State{{"normal", "normal", " ", "normal"}, {"flare", "flares", "f", "flares"}, {"late", "too late", "l", "late"}, {"early", "too early", "e", "early"}, {"delay", "waits, then comes", "d", "waits"}, {"harsh", "harsh", "h", "harsh"}, {"missing", "never comes", "m", "never"}, {"tie-up", "ties up", "t", "ties up"}}},
	{Down, "shift down into", []State{{"normal", "normal", " ", "normal"}, {"flare", "flares", "f", "flares"}, {"delay", "waits, then comes", "d", "waits"}, {"harsh", "harsh", "h", "harsh"}, {"missing", "never comes", "m", "never"}, {"tie-up", "ties up", "t", "ties up"}}},
	{Slips, "slips under load", []State{{"no", "no", " ", "no"}, {"yes", "slips", "s", "slips"}}},
	{Brakes, "engine braking", []State{{"normal", "as designed", " ", "normal"}, {"missing", "missing", "m", "missing"}, {"present", "where none belongs", "p", "brakes"}}},
	{Noise, "gear noise", []State{{"normal", "quiet", " ", "quiet"}, {"noisy", "whines or growls", "w", "noisy"}}},
	{Lockup, "converter clutch", []State{{"normal", "normal", " ", "normal"}, {"none", "never applies", "n", "none"}, {"slips", "slips or shudders", "s", "slips"}, {"stuck", "does not release", "k", "stays"}}},
}

// Info returns the description of a behaviour.
func Info(b Behaviour) BehaviourInfo {
	for _, list := range [][]BehaviourInfo{Behaviours, Gauges} {
		for _, i := range list {
			if i.ID == b {
				return i
			}
		}
	}
	return BehaviourInfo{}
}

// Normal is the healthy state of a behaviour.
func (b BehaviourInfo) Normal() string { return b.States[0].ID }

// Title returns the words for a state, or its id if there are none.
func (b BehaviourInfo) StateTitle(id string) string {
	for _, s := range b.States {
		if s.ID == id {
			return s.Title
		}
	}
	return id
}

// Cell is one place of the grid, or what one gauge shows.
type Cell struct {
	Range     string // of a gauge at a tap the element, of the others nothing
	Behaviour Behaviour
}

// Has reports whether the behaviour can be observed in this range of this design.
func Has(r unitsheet.Range, b Behaviour, u *unitsheet.Unit) bool {
	switch b {
	case Engages:
		return r.Driving() && r.From == "" && firstOfSelector(u, r)
	case Drives:
		return r.Driving() || r.Selector != "P" // a neutral in which it should not creep
	case Shift:
		return r.Driving() && r.From != ""
	case Down:
		_, ok := u.Above(r)
		return ok
	case Slips, Noise:
		return r.Driving()
	case Brakes:
		return r.Driving() && r.Healthy.Outcome == gearing.Forward
	case Lockup:
		return r.Lockup
	}
	return false
}

func firstOfSelector(u *unitsheet.Unit, r unitsheet.Range) bool {
	for _, o := range u.Ranges {
		if o.Selector == r.Selector {
			return o.ID == r.ID
		}
	}
	return false
}

// Shown reports whether a range has a column in the grid.
func Shown(r unitsheet.Range, u *unitsheet.Unit) bool {
	for _, b := range Behaviours {
		if Has(r, b.ID, u) {
			return true
		}
	}
	return false
}

// Grid lists every cell of a unit's road test, by behaviour and range in sheet order.
func Grid(u *unitsheet.Unit) []Cell {
	var out []Cell
	for _, b := range Behaviours {
		for _, r := range u.Ranges {
			if Has(r, b.ID, u) {
				out = append(out, Cell{r.ID, b.ID})
			}
		}
	}
	return out
}
