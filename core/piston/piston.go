// Package piston fills the pistons of clutches and bands: what pressure an element has while oil comes and goes.
//
// Model. Oil comes through one sharp-edged orifice. Until the plates touch it moves the piston against its springs; then it raises the pressure by what plates and
// accumulator give, by the root law √Δp falling in a straight line, which is solved over each step in closed form: however long the step, the pressure does not pass its
// source. A leak past rings is a second orifice in a row. Cold oil goes through more slowly (chosen). What is chosen and not from a sheet is named beside the constants.
//
// Units: SI.
package piston

import (
	"math"

	"innercompass/core/hydraulics"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Piston is one element's oil.
type Piston struct {
	area  float64 // m²
	Clear float64 // m, until the plates touch
	Touch float64 // Pa, at which they begin to hold
	Feed  float64 // area of the orifice, m²
	Vent  float64 // the orifice on the way out, over that on the way in
	Leak  float64 // area of what is lost past rings and seals, m²
	pack  float64 // what it takes to raise the pressure once the plates touch, m³/Pa
	Store Accumulator
	hold  func(pressure float64) float64 // N·m
	Grip  float64                        // friction of the lining over that of a good one
	Stuck bool                           // nothing moves it
	// Welded is what it holds without pressure, N·m.
	Welded float64

	At       float64 // stroke, m
	Pressure float64 // Pa
}

// Accumulator softens an apply: between two pressures it takes oil.
type Accumulator struct {
	From, To float64 // Pa
	Volume   float64 // m³
	Stuck    bool
}

// Figures of a sound piston (chosen).
const (
	fillTime = 0.18 // s at FillPressure
	// FillPressure is what a module fills with, Pa.
	FillPressure = 6e5
	// strokeForce is the return springs' pressure with the plates apart, over that at which they touch.
	strokeForce = 0.7
	// usualArea and usualClear stand for what a sheet does not say of a band's servo.
	usualArea  = 60e-4
	usualClear = 2.5e-3
	// packTime is how fast pressure rises by five bar once the plates touch, s.
	packTime = 0.02
)

// New makes one of an element, if oil works it and the sheet says what it holds.
func New(u *unitsheet.Unit, e unitsheet.Element, sheet unitsheet.ElementSheet) (Piston, bool) {
	if !e.Pressed() {
		return Piston{}, false
	}
	p := Piston{area: usualArea, Clear: usualClear, Touch: 0.4e5, Vent: 1, Grip: 1, hold: func(x float64) float64 {
		t, _ := e.Hold(x)
		return math.Max(0, t)
	}}
	text := ""
	switch {
	case sheet.Plates != nil:
		text = sheet.Plates.Piston
	case sheet.Band != nil:
		text = sheet.Band.Servo
	}
	if q, err := quantity.Parse(text, quantity.Area, "cm²"); err == nil && q.SI > 0 {
		p.area = q.SI
	}
	if unitsheet.Known(e.Touch) && e.Touch.SI > 0 {
		p.Touch = e.Touch.SI
	}
	if unitsheet.Known(e.Clear) && e.Clear.SI > 0 {
		p.Clear = e.Clear.SI
	}
	volume := p.area * p.Clear
	p.Feed = volume / fillTime / hydraulics.Discharge / math.Sqrt(2*math.Max(1e5, FillPressure-0.85*p.Touch)/hydraulics.OilDensity)
	p.pack = packTime * hydraulics.Discharge * p.Feed * math.Sqrt(2/hydraulics.OilDensity) / (2 * math.Sqrt(5e5))
	return p, true
}

// spring is the pressure that the return springs need at a stroke.
func (p *Piston) spring(at float64) float64 {
	return p.Touch * (strokeForce + (1-strokeForce)*math.Min(1, at/p.Clear))
}

// Step moves it for a time with its source at a pressure; thick is how many times slower cold oil goes through the orifice.
func (p *Piston) Step(source, h, thick float64) {
	if p.Stuck {
		return
	}
	area := p.Feed / thick
	if p.Leak > 0 { // what comes through the orifice goes out past the rings: the root law for both in a row
		lost := p.Leak / (thick * thick) // a narrow gap lets cold oil through less than an orifice does: leaks are worse hot
		a, l := area*area, lost*lost
		source *= a / (a + l)
	}
	k := hydraulics.Discharge * area * math.Sqrt(2/hydraulics.OilDensity)
	if p.At < p.Clear {
		d := source - p.spring(p.At)
		p.At += math.Copysign(math.Sqrt(math.Abs(d)), d) * k * p.way(d) * h / p.area
		p.At = math.Min(math.Max(p.At, 0), p.Clear)
		p.Pressure = math.Min(source, p.spring(p.At))
		return
	}
	if source < p.Touch && p.Pressure <= p.Touch*1.0001 {
		d := source - p.Touch
		p.At += -math.Sqrt(-d) * k * p.way(d) * h / p.area
		p.At = math.Max(p.At, 0)
		p.Pressure = p.spring(p.At)
		return
	}
	d := source - p.Pressure
	room := p.pack
	if a := p.Store; !a.Stuck && a.Volume > 0 && p.Pressure >= a.From && p.Pressure < a.To {
		room += a.Volume / (a.To - a.From)
	}
	root := math.Sqrt(math.Abs(d)) - k*p.way(d)*h/(2*room)
	if root < 0 {
		root = 0
	}
	p.Pressure = math.Max(source-math.Copysign(root*root, d), math.Min(source, p.Touch))
	p.Pressure = math.Max(p.Pressure, math.Min(p.Touch, math.Max(source, 0)))
}

// way is the orifice on the way that oil goes, over that on the way in.
func (p *Piston) way(d float64) float64 {
	if d < 0 {
		return p.Vent
	}
	return 1
}

// Torque is what it can hold now.
func (p *Piston) Torque() float64 {
	if p.At < p.Clear {
		return p.Welded
	}
	return math.Max(p.Welded, p.Grip*p.hold(p.Pressure))
}

// Fills is how long a sound one takes to fill from a source, as the module has learnt it.
func (p *Piston) Fills(source, thick float64) float64 {
	usual := math.Sqrt(math.Max(1e5, FillPressure-0.85*p.Touch))
	return fillTime * thick * usual / math.Sqrt(math.Max(0.3e5, math.Min(source, FillPressure)-0.85*p.Touch))
}

// Needs is the pressure at which a sound one holds a torque.
func (p *Piston) Needs(torque float64) float64 {
	const probe = 1e5
	rate := (p.hold(p.Touch+2*probe) - p.hold(p.Touch+probe)) / probe
	if rate <= 0 {
		return FillPressure
	}
	return p.Touch + math.Max(0, torque-p.hold(p.Touch))/rate
}

// Thickness is how many times slower oil goes through an orifice below sixty degrees (chosen).
func Thickness(celsius float64) float64 {
	if celsius >= 60 {
		return 1
	}
	return 1 + (60-celsius)/60
}
