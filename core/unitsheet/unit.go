package unitsheet

import (
	"math"
	"slices"

	"innercompass/core/chart"
	"innercompass/core/fluid"
	"innercompass/core/gearing"
	"innercompass/core/hydraulics"
	"innercompass/core/leak"
	"innercompass/core/quantity"
	"innercompass/core/stack"
)

// Unit is a sheet that has been checked, parsed and solved. Quantities that the sheet does not give have
// no dimension (see Known).
type Unit struct {
	Sheet        Sheet
	Machine      *gearing.Machine // nil when the gears are not known
	Chart        *chart.Chart     // instead of a machine; nil when there is one
	Ranges       []Range
	Elements     []Element
	Controls     []Control
	Limits       map[string]quantity.Window
	Stall        quantity.Window
	MaxTorque    quantity.Quantity
	IdleSpeed    quantity.Quantity
	BetweenMarks quantity.Quantity // volume
	MarksApart   quantity.Quantity // length
	Capacity     quantity.Quantity // fluid, dry fill
	Refill       quantity.Quantity
	FluidTemp    quantity.Window
	Measures     []fluid.Measure // limits of a laboratory report
	ClimbMinutes []float64       // by Access: from the level before
	Levels       []Access        // that this unit has
	Pump         Pump
	Regulator    *hydraulics.Regulator
	Throttle     *hydraulics.Throttle
	Governor     *hydraulics.Governor
	Stack        *stack.Stack // nil when the sheet has none
	Leaks        *leak.Map
	PerMetre     float64 // governor shaft, rad per metre driven
	Shifts       []ShiftPoint
	LockupTorque quantity.Quantity
	Known        []KnownFailure
	meshAt       []string // by mesh of the train: the set or gear pair that it belongs to

	numbers map[string][]Number // by topic and entry; nil when the sheet gives no sources
}

// KnownFailure is a failure that the design is known for, over a distance in kilometres or in hours of running; without one
// it may come at any.
type KnownFailure struct {
	Cause, Note string
	From, To    float64
	InHours     bool
}

// Pump is the pump's delivery; both are zero when not given.
type Pump struct {
	PerTurn quantity.Quantity // volume
	Spare   quantity.Quantity // flow beyond the unit's own leakage, hot idle
}

// ShiftPoint is an automatic upshift of a hydraulic unit, computed from its valve. Speeds are road speeds.
type ShiftPoint struct {
	Control, To               string
	Valve                     hydraulics.ShiftValve
	Light, Full               quantity.Quantity
	LightWindow, FullWindow   quantity.Window
	LightReached, FullReached bool // false when the governor never gets there
}

// Range is a solved range.
type Range struct {
	ID, Selector, Name string
	Applied            []string
	From               string // "" when it is entered with the selector
	Bits               string
	Printed            float64 // ratio as printed, 0 when none is
	Decimals           int     // of it
	LineIdle, LineFull quantity.Window
	Lockup             bool              // the converter clutch may apply here
	Limit              quantity.Quantity // engine torque in this range, when it is held below the most
	Healthy            gearing.Solution
}

// Element is a solved element.
type Element struct {
	ID, Name string
	Kind     gearing.Kind
	Feed     string
	Hand     bool
	Group    string
	Capacity quantity.Quantity // at the lowest full-throttle line pressure of the ranges that use it; no dimension when unknown
	Touch    quantity.Quantity // pressure at which it begins to hold; no dimension when unknown
	Clear    quantity.Quantity // clearance that its plates leave; no dimension when unknown
	Hours    float64
	Access   Access
	HandTest HandTest
	hold     func(pressure float64) float64 // N·m; nil when unknown
	pressed  bool                           // hold depends on pressure
}

// Control is a two-position control.
type Control struct {
	ControlSheet
	Level Access
	Place int // index among the bits, −1 when it works one element alone
}

// Known reports whether a quantity was given.
func Known(q quantity.Quantity) bool { return q.Dimension != "" }

// Hold is the torque that the element holds at a pressure, in N·m, and whether it is known. For a freewheel,
// selector or hand clutch pressure does not matter.
func (e Element) Hold(pressure float64) (float64, bool) {
	if e.hold == nil {
		return 0, false
	}
	return e.hold(pressure), true
}

// Pressed reports whether the element's hold comes from pressure.
func (e Element) Pressed() bool { return e.pressed }

// usualTouch is where plates touch where a sheet does not say, Pa (judgment).
const usualTouch = 0.8e5

// TouchPressure is the pressure at which an element begins to hold, Pa; a usual one where the sheet does not say.
func (e Element) TouchPressure() float64 {
	if Known(e.Touch) && e.Touch.SI > 0 {
		return e.Touch.SI
	}
	return usualTouch
}

// Driving reports whether the range drives in health.
func (r Range) Driving() bool {
	return r.Healthy.Outcome == gearing.Forward || r.Healthy.Outcome == gearing.Reverse
}

// Line is the middle of the line pressure windows at a throttle from 0 to 1, in Pa, and whether it is known.
func (r Range) Line(throttle float64) (float64, bool) {
	if !Known(r.LineIdle.Low) || !Known(r.LineFull.Low) {
		return 0, false
	}
	idle := (r.LineIdle.Low.SI + r.LineIdle.High.SI) / 2
	full := (r.LineFull.Low.SI + r.LineFull.High.SI) / 2
	return idle + (full-idle)*throttle, true
}

// GearNumber is what tools call a range: 0 in park, neutral and for what there is not, −1 in reverse, up from 1.
func (u *Unit) GearNumber(id string) int {
	r, ok := u.Range(id)
	switch {
	case !ok || !r.Driving():
		return 0
	case u.RatioOf(r) < 0:
		return -1
	case r.From == "":
		return 1
	}
	return u.GearNumber(r.From) + 1
}

// Range returns the range with this id.
func (u *Unit) Range(id string) (Range, bool) {
	for _, r := range u.Ranges {
		if r.ID == id {
			return r, true
		}
	}
	return Range{}, false
}

// Element returns the element with this id.
func (u *Unit) Element(id string) (Element, bool) {
	for _, e := range u.Elements {
		if e.ID == id {
			return e, true
		}
	}
	return Element{}, false
}

// Control returns the control with this id.
func (u *Unit) Control(id string) (Control, bool) {
	for _, c := range u.Controls {
		if c.ID == id {
			return c, true
		}
	}
	return Control{}, false
}

// Feed returns the feed of an element.
func (u *Unit) Feed(element string) (FeedSheet, bool) {
	e, _ := u.Element(element)
	for _, f := range u.Sheet.Feeds {
		if f.ID == e.Feed {
			return f, true
		}
	}
	return FeedSheet{}, false
}

// Tapped reports whether a gauge can read an element's pressure: its feed has a tap behind the last valve.
func (u *Unit) Tapped(element string) bool {
	f, ok := u.Feed(element)
	if !ok {
		return false
	}
	tapped := false
	for _, s := range f.Path {
		switch s.Kind {
		case "tap":
			tapped = true
		case "valve":
			tapped = false
		}
	}
	return tapped
}

// Launch reports whether a range takes off from rest, so that the converter multiplies at stall.
func (u *Unit) Launch(r Range) bool { return r.Driving() && r.From == "" }

// Above is the range that is shifted into from r with the same selector, when there is one: where a downshift into r comes from. A hand
// shifts its gears itself.
func (u *Unit) Above(r Range) (Range, bool) {
	at := slices.IndexFunc(u.Ranges, func(x Range) bool { return x.From == r.ID && x.Selector == r.Selector && x.Driving() })
	if at < 0 || u.Sheet.Control == "hand" || !r.Driving() {
		return Range{}, false
	}
	return u.Ranges[at], true
}

// EngineTorque is the engine's torque in a range at a throttle from 0 to 1, in N·m; zero when not given.
func (u *Unit) EngineTorque(r Range, throttle float64) float64 {
	t := u.MaxTorque.SI * throttle
	if Known(r.Limit) {
		t = math.Min(t, r.Limit.SI)
	}
	return t
}

// MeshesOf lists the meshes of the train that belong to a planetary set ("set-1", …) or gear pair
// ("gears-1", …), in sheet order.
func (u *Unit) MeshesOf(part string) []int {
	var out []int
	for i, at := range u.meshAt {
		if at == part {
			out = append(out, i)
		}
	}
	return out
}

// nearStall is the converter's slip as the vehicle begins to move.
const nearStall = 0.99

// Load is the torque on an element in a range for one unit of engine torque, at stall where the range takes
// off from rest: 0 where it carries none or where a spare path beside it may carry all.
func (u *Unit) Load(r Range, element string) float64 {
	if !r.Driving() || slices.Contains(r.Healthy.Shared, element) {
		return 0
	}
	load := math.Abs(r.Healthy.Torques[element])
	if u.Chart != nil {
		load = u.Chart.Load(r.ID, element)
	}
	if u.Sheet.Converter == nil || !u.Launch(r) || u.Sheet.Converter.TorqueRatio <= 1 {
		return load
	}
	if u.Sheet.Gearing.Converter == nil {
		return load * u.Sheet.Converter.TorqueRatio
	}
	s, err := u.Solve(gearing.State{Applied: r.Applied, Slip: nearStall, Multiplication: u.Sheet.Converter.TorqueRatio}) // no more power may come out than goes in
	if err != nil {
		return load
	}
	return math.Abs(s.Torques[element])
}

// AccessMinutes returns the minutes to get from one access level to another; going back is free
// here, since closing up is part of every repair.
func (u *Unit) AccessMinutes(from, to Access) float64 {
	minutes := 0.0
	for l := from + 1; l <= to; l++ {
		minutes += u.ClimbMinutes[l]
	}
	return minutes
}

// Has reports whether the unit can be opened to this level.
func (u *Unit) Has(a Access) bool { return slices.Contains(u.Levels, a) }
