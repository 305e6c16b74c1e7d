package faultmap

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Kind is a way in which the design can fail.
type Kind string

// The kinds of fault. Each says what its Part is.
const (
	NeverApplies  Kind = "never-applies"  // friction element or selector
	AppliesLate   Kind = "applies-late"   // friction element, or a selector that is moved by pressure
	AppliesHard   Kind = "applies-hard"   // friction element: its apply is not cushioned
	ElementSlips  Kind = "slips"          // friction element; a selector jumps out
	NeverReleases Kind = "never-releases" // friction element or selector
	ReleasesLate  Kind = "releases-late"  // friction element
	NeverHolds    Kind = "never-holds"    // freewheel slips both ways
	Seized        Kind = "seized"         // freewheel holds both ways
	StuckOff      Kind = "stuck-off"      // control stays at 0
	StuckOn       Kind = "stuck-on"       // control stays at 1
	Dead          Kind = "dead"           // solenoid without current: at rest, or limp-home where the module watches it
	LimpHome      Kind = "limp-home"      // no part: the controls are without power
	Leaks         Kind = "leaks"          // feed, or a shared passage, seal ring pair, bushing or accumulator
	Lost          Kind = "lost"           // the same parts, but all of their oil: a ring out, a pipe off, a plug gone
	Breaks        Kind = "breaks"         // shared drum or shaft: all that it carries is lost
	LowPressure   Kind = "low-pressure"   // no part
	HighPressure  Kind = "high-pressure"  // no part: every apply is a blow
	ShiftsLate    Kind = "shifts-late"    // no part: the command to change up comes late, whatever the element
	ShiftsEarly   Kind = "shifts-early"   // no part: it comes early
	NeverShifts   Kind = "never-shifts"   // no part: it never comes; ranges that the lever selects by itself are there
	NoDrive       Kind = "no-drive"       // no part: what joins engine, unit and wheels is lost, before or behind the gears
	GearNoise     Kind = "gear-noise"     // planetary set or gear pair
	ShaftNoise    Kind = "shaft-noise"    // no part: bearings of shafts that carry whenever the gears are not in direct
	LockupNever   Kind = "lockup-never"   // no part: the converter clutch never applies
	LockupSlips   Kind = "lockup-slips"
	LockupStuck   Kind = "lockup-stuck" // never releases
)

// Kinds lists the kinds of fault.
var Kinds = []Kind{NeverApplies, AppliesLate, AppliesHard, ElementSlips, NeverReleases, ReleasesLate, NeverHolds, Seized, StuckOff, StuckOn, Dead, LimpHome, Leaks, Lost, Breaks, LowPressure, HighPressure, ShiftsLate, ShiftsEarly, NeverShifts, NoDrive, GearNoise, ShaftNoise, LockupNever, LockupSlips, LockupStuck}

// Whole reports whether faults of this kind belong to the unit as a whole and name no part.
func (k Kind) Whole() bool {
	return slices.Contains([]Kind{LimpHome, LowPressure, HighPressure, ShiftsLate, ShiftsEarly, NeverShifts, NoDrive, ShaftNoise, LockupNever, LockupSlips, LockupStuck}, k)
}

// Fault is one failure of the design.
type Fault struct {
	Kind Kind
	Part string // id of an element, control, feed, shared part or gear set; "" for the unit as a whole
}

// Row is a fault with everything abnormal that it does. Cells of the grid that are not listed stay normal;
// Unknown lists those that the fault makes unobservable.
type Row struct {
	Fault   Fault
	Title   string
	Cells   []Prediction
	Gauged  []Prediction // what gauges show of it, beside the grid
	Unknown []Cell
	Cold    float64     // how far the certainties hold with cold fluid, 0 to 1
	Sags    []Sag       // line pressure that a leak leaves, by range
	First   *SlipsFirst // for faults that slip under torque: where it shows first

	Assumed      []string // what it rests on that is not known of this unit, in words; it weighs less for it
	StallsParked bool     // it would drive the output that the pawl holds, and drags the engine down in Park
}

// Prediction is what a fault does in one cell. Certainty is the probability that a careful
// road test shows State when the fault is present and active, with hot fluid.
type Prediction struct {
	Cell      Cell
	State     string
	Certainty float64
	Detail    string // what happens in words, with the computed ratio where there is one
	Besides   []Alternative
}

// Alternative is what a cell may show instead, when a fault can be felt in more than one way: an element that comes late makes the
// engine flare or the shift wait, by how late it is.
type Alternative struct {
	State     string
	Certainty float64
}

// May reports whether a cell can show a state.
func (p Prediction) May(state string) bool {
	return p.State == state || slices.ContainsFunc(p.Besides, func(o Alternative) bool { return o.State == state })
}

// Certain is the highest certainty of a predicted symptom.
const Certain = 0.92

// At returns the prediction for a cell, if the fault does anything there.
func (r Row) At(c Cell) (Prediction, bool) {
	for _, list := range [][]Prediction{r.Cells, r.Gauged} {
		for _, p := range list {
			if p.Cell == c {
				return p, true
			}
		}
	}
	return Prediction{}, false
}

// Faults lists the faults that the design can have: of elements, then of controls, feeds and shared parts,
// gears, converter, and of the unit as a whole.
func Faults(u *unitsheet.Unit) []Fault {
	var out []Fault
	add := func(part string, kinds ...Kind) {
		for _, k := range kinds {
			out = append(out, Fault{k, part})
		}
	}
	pressed := false
	for _, e := range u.Elements {
		switch {
		case e.Kind == gearing.Freewheel:
			add(e.ID, ElementSlips, NeverHolds, Seized)
		case e.Kind == gearing.Selector && e.Feed != "":
			add(e.ID, ElementSlips, AppliesLate, NeverApplies, NeverReleases)
		case e.Kind == gearing.Selector:
			add(e.ID, ElementSlips, NeverApplies, NeverReleases)
		case e.Hand:
			add(e.ID, ElementSlips, NeverApplies, NeverReleases)
		default:
			pressed = pressed || e.Feed != ""
			add(e.ID, ElementSlips, AppliesLate, AppliesHard, NeverApplies, NeverReleases, ReleasesLate)
		}
	}
	for _, c := range u.Controls {
		add(c.ID, StuckOff, StuckOn)
		if c.Kind == "solenoid" {
			add(c.ID, Dead)
		}
	}
	if u.Electric() {
		add("", LimpHome)
	}
	for _, f := range u.Sheet.Feeds {
		if pressed && slices.ContainsFunc(f.Serves, func(id string) bool { e, _ := u.Element(id); return e.Kind.Friction() }) {
			add(f.ID, Leaks)
			if len(f.Serves) > 1 { // of one element it is the same as an element that never applies
				add(f.ID, Lost)
			}
		}
	}
	for _, s := range u.Sheet.Shared {
		if s.Kind == "drum" || s.Kind == "shaft" {
			add(s.ID, Breaks)
		} else {
			add(s.ID, Leaks, Lost)
		}
	}
	for _, g := range u.Gears() {
		add(g, GearNoise)
	}
	add("", NoDrive, ShaftNoise)
	if u.Sheet.Converter != nil && len(u.Sheet.Converter.Lockup) > 0 {
		add("", LockupNever, LockupSlips, LockupStuck)
	}
	if pressed {
		add("", LowPressure, HighPressure)
	}
	if slices.ContainsFunc(u.Ranges, func(r unitsheet.Range) bool { return r.From != "" && pressed }) {
		add("", ShiftsLate, ShiftsEarly, NeverShifts)
	}
	return out
}

// Map computes what every fault of the design does in every cell of the grid.
func Map(u *unitsheet.Unit) ([]Row, error) { return MapWithin(context.Background(), u) }

// MapWithin is Map, given up when ctx ends.
func MapWithin(ctx context.Context, u *unitsheet.Unit) ([]Row, error) {
	faults := Faults(u)
	out := make([]Row, 0, len(faults))
	for _, f := range faults {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		r, err := Predict(u, f)
		if err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	return out, nil
}

// title names a fault as a practitioner would.
func title(f Fault, part string) string {
	words := map[Kind]string{
		NeverApplies: "%s never applies", AppliesLate: "%s applies late", AppliesHard: "%s applies hard", ElementSlips: "%s slips", NeverReleases: "%s never releases", ReleasesLate: "%s releases late",
		NeverHolds: "%s never holds", Seized: "%s seized", StuckOff: "%s stuck off", StuckOn: "%s stuck on", Dead: "%s without current", LimpHome: "controls without power", Leaks: "leak in the %s", Lost: "all oil of the %s lost", Breaks: "%s broken",
		LowPressure: "line pressure low", HighPressure: "line pressure high", ShiftsLate: "upshifts commanded late", ShiftsEarly: "upshifts commanded early", NeverShifts: "upshifts never commanded", NoDrive: "no drive in any range", GearNoise: "%s worn", ShaftNoise: "shaft bearings worn", LockupNever: "converter clutch never applies", LockupSlips: "converter clutch slips", LockupStuck: "converter clutch never releases",
	}[f.Kind]
	if !strings.Contains(words, "%s") {
		return words
	}
	return fmt.Sprintf(words, part)
}

func selectorTitle(f Fault, part string) string {
	switch f.Kind {
	case ElementSlips:
		return part + " jumps out"
	case NeverApplies:
		return part + " does not engage"
	case NeverReleases:
		return part + " stays engaged"
	}
	return title(f, part)
}

func valveTitle(f Fault, part string) string {
	if f.Kind == StuckOn {
		return part + " stuck upshifted"
	}
	return part + " stuck downshifted"
}
