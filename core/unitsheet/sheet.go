package unitsheet

import (
	"fmt"

	"innercompass/core/stack"
)

// Format is the first line of every sheet of this version.
const Format = "inner-compass-unit/2"

// Sheet is a unit sheet as written. Quantities are text with a unit. Only the head, the elements and the ranges must be
// there; what is not given is not known, and nothing is made up for it. Without gearing the unit is known by its chart alone.
type Sheet struct {
	Format     string           `yaml:"format" json:"format"`
	ID         string           `yaml:"id" json:"id"`
	Version    int              `yaml:"version" json:"version"`
	Name       string           `yaml:"name" json:"name"`
	Summary    string           `yaml:"summary,omitempty" json:"summary,omitempty"`
	Author     string           `yaml:"author,omitempty" json:"author,omitempty"` // who wrote this version
	Control    string           `yaml:"control" json:"control"`                   // hydraulic, electronic or hand
	Layout     string           `yaml:"layout,omitempty" json:"layout,omitempty"` // planetary or parallel; asked where there is no gearing
	Gearing    GearingSheet     `yaml:"gearing,omitempty" json:"gearing,omitzero"`
	Elements   []ElementSheet   `yaml:"elements" json:"elements"`
	Ranges     []RangeSheet     `yaml:"ranges" json:"ranges"`
	Feeds      []FeedSheet      `yaml:"feeds,omitempty" json:"feeds,omitempty"`
	Shared     []SharedSheet    `yaml:"shared,omitempty" json:"shared,omitempty"`
	Controls   []ControlSheet   `yaml:"controls,omitempty" json:"controls,omitempty"`
	Logic      []LogicSheet     `yaml:"logic,omitempty" json:"logic,omitempty"`
	Limp       []LogicSheet     `yaml:"limp,omitempty" json:"limp,omitempty"`
	Hydraulics *HydraulicsSheet `yaml:"hydraulics,omitempty" json:"hydraulics,omitempty"`
	Converter  *ConverterSheet  `yaml:"converter,omitempty" json:"converter,omitempty"`
	Sensors    []SensorSheet    `yaml:"sensors,omitempty" json:"sensors,omitempty"`
	Bearings   []BearingSheet   `yaml:"bearings,omitempty" json:"bearings,omitempty"`
	Engine     EngineSheet      `yaml:"engine,omitempty" json:"engine,omitempty"`
	Fluid      FluidSheet       `yaml:"fluid,omitempty" json:"fluid,omitempty"`
	Limits     []LimitSheet     `yaml:"limits,omitempty" json:"limits,omitempty"`
	Access     []AccessSheet    `yaml:"access,omitempty" json:"access,omitempty"`
	Parts      []PartSheet      `yaml:"parts,omitempty" json:"parts,omitempty"`
	Stack      *stack.Sheet     `yaml:"stack,omitempty" json:"stack,omitempty"`
	Leaks      *LeakSheet       `yaml:"leaks,omitempty" json:"leaks,omitempty"`
	Traps      []TrapSheet      `yaml:"traps,omitempty" json:"traps,omitempty"`
	Resets     []ResetSheet     `yaml:"resets,omitempty" json:"resets,omitempty"`
	Torques    []TorqueSheet    `yaml:"torques,omitempty" json:"torques,omitempty"`
	Known      []KnownSheet     `yaml:"known,omitempty" json:"known,omitempty"`
	Exchange   ExchangeSheet    `yaml:"exchange,omitempty" json:"exchange,omitempty"`
	Sources    []SourceSheet    `yaml:"sources,omitempty" json:"sources,omitempty"`
	Own        map[string]any   `yaml:"own,omitempty" json:"own,omitempty"` // causes, findings, checks and options of this unit alone; the diagnosis reads them
}

// GearingSheet is the gear train. Names maps members to what people call them; planets belong to their
// set and are no members.
type GearingSheet struct {
	Members     []string          `yaml:"members" json:"members"`
	Names       map[string]string `yaml:"names,omitempty" json:"names,omitempty"`
	Input       string            `yaml:"input" json:"input"`
	Output      string            `yaml:"output" json:"output"`
	ForwardSign int               `yaml:"forward_sign" json:"forward_sign"` // -1 when the output turns against the input going forward
	Sets        []SetSheet        `yaml:"sets,omitempty" json:"sets,omitempty"`
	Gears       []GearSheet       `yaml:"gears,omitempty" json:"gears,omitempty"`
	Links       []LinkSheet       `yaml:"links,omitempty" json:"links,omitempty"`
	Converter   *JoinSheet        `yaml:"converter,omitempty" json:"converter,omitempty"` // only where the engine also drives past it
}

// SetSheet is one planetary set. A simple set has sun, planet_teeth, ring; with inner_teeth its planets
// come in pairs, the inner on the sun; with small_sun it has a second sun, whose short planets mesh with
// the long ones, and it may do without a ring. With step_teeth its planets have a second toothing, which meshes with the
// ring or, where there is none, with the small sun.
type SetSheet struct {
	Name          string `yaml:"name" json:"name"`
	Sun           string `yaml:"sun" json:"sun"`
	SunTeeth      int    `yaml:"sun_teeth" json:"sun_teeth"`
	SmallSun      string `yaml:"small_sun,omitempty" json:"small_sun,omitempty"`
	SmallSunTeeth int    `yaml:"small_sun_teeth,omitempty" json:"small_sun_teeth,omitempty"`
	PlanetTeeth   int    `yaml:"planet_teeth" json:"planet_teeth"`
	InnerTeeth    int    `yaml:"inner_teeth,omitempty" json:"inner_teeth,omitempty"`
	ShortTeeth    int    `yaml:"short_teeth,omitempty" json:"short_teeth,omitempty"`
	StepTeeth     int    `yaml:"step_teeth,omitempty" json:"step_teeth,omitempty"`
	Ring          string `yaml:"ring,omitempty" json:"ring,omitempty"`
	RingTeeth     int    `yaml:"ring_teeth,omitempty" json:"ring_teeth,omitempty"`
	Carrier       string `yaml:"carrier" json:"carrier"`
	Count         int    `yaml:"count" json:"count"`
}

// GearSheet is a pair of gears, or of sprockets with a chain, about axes that stand still.
type GearSheet struct {
	Name   string `yaml:"name" json:"name"`
	A      string `yaml:"a" json:"a"`
	B      string `yaml:"b" json:"b"`
	TeethA int    `yaml:"teeth_a" json:"teeth_a"`
	TeethB int    `yaml:"teeth_b" json:"teeth_b"`
	Chain  bool   `yaml:"chain,omitempty" json:"chain,omitempty"`
}

// LinkSheet makes two members turn as one; why says how (shaft, drum).
type LinkSheet struct {
	A   string `yaml:"a" json:"a"`
	B   string `yaml:"b" json:"b"`
	Why string `yaml:"why,omitempty" json:"why,omitempty"`
}

// JoinSheet names the two sides of a converter that the engine can also bypass.
type JoinSheet struct {
	Engine  string `yaml:"engine" json:"engine"`
	Turbine string `yaml:"turbine" json:"turbine"`
}

// ElementSheet is a friction element, freewheel or selector; for a freewheel, a may run ahead of b. Its
// capacity follows from plates or band, or is stated.
type ElementSheet struct {
	ID       string       `yaml:"id" json:"id"`
	Name     string       `yaml:"name" json:"name"`
	Kind     string       `yaml:"kind" json:"kind"`
	A        string       `yaml:"a,omitempty" json:"a,omitempty"`
	B        string       `yaml:"b,omitempty" json:"b,omitempty"`
	Beside   string       `yaml:"beside,omitempty" json:"beside,omitempty"` // of a one-way clutch, without gearing: what holds the same
	Series   string       `yaml:"series,omitempty" json:"series,omitempty"` // of a one-way clutch, without gearing: what it works through
	Feed     string       `yaml:"feed,omitempty" json:"feed,omitempty"`
	Hand     bool         `yaml:"hand,omitempty" json:"hand,omitempty"`   // worked by lever or pedal, not by pressure
	Group    string       `yaml:"group,omitempty" json:"group,omitempty"` // selectors of one sleeve share a group
	Capacity string       `yaml:"capacity,omitempty" json:"capacity,omitempty"`
	Plates   *PlatesSheet `yaml:"plates,omitempty" json:"plates,omitempty"`
	Band     *BandSheet   `yaml:"band,omitempty" json:"band,omitempty"`
	Hours    float64      `yaml:"hours,omitempty" json:"hours,omitempty"` // to renew it once reached
	Access   string       `yaml:"access,omitempty" json:"access,omitempty"`
}

// PlatesSheet is a pack of plates. The stack is given as far as it is known.
type PlatesSheet struct {
	Lined      int     `yaml:"lined" json:"lined"` // lined plates; each has two faces
	Outer      string  `yaml:"outer" json:"outer"` // diameters of the lining
	Inner      string  `yaml:"inner" json:"inner"`
	Friction   float64 `yaml:"friction" json:"friction"` // static coefficient
	Piston     string  `yaml:"piston" json:"piston"`     // effective area
	Spring     string  `yaml:"spring" json:"spring"`     // return force with the plates closed
	LinedThick string  `yaml:"lined_thick,omitempty" json:"lined_thick,omitempty"`
	Steel      int     `yaml:"steel,omitempty" json:"steel,omitempty"`
	SteelThick string  `yaml:"steel_thick,omitempty" json:"steel_thick,omitempty"`
	Backing    string  `yaml:"backing,omitempty" json:"backing,omitempty"`
	Depth      string  `yaml:"depth,omitempty" json:"depth,omitempty"` // piston face to snap ring
}

// BandSheet is a band with its servo.
type BandSheet struct {
	Drum     string  `yaml:"drum" json:"drum"` // diameter
	Wrap     string  `yaml:"wrap" json:"wrap"`
	Friction float64 `yaml:"friction" json:"friction"`
	Servo    string  `yaml:"servo" json:"servo"` // apply area
	Lever    float64 `yaml:"lever" json:"lever"`
	Spring   string  `yaml:"spring" json:"spring"`
	Eases    bool    `yaml:"eases,omitempty" json:"eases,omitempty"`
}

// RangeSheet is one selector position and gear.
type RangeSheet struct {
	ID          string   `yaml:"id" json:"id"`
	Selector    string   `yaml:"selector" json:"selector"`
	Name        string   `yaml:"name" json:"name"`
	Applied     []string `yaml:"applied" json:"applied"`
	Holding     []string `yaml:"holding,omitempty" json:"holding,omitempty"` // freewheels expected to hold
	Outcome     string   `yaml:"outcome" json:"outcome"`                     // forward, reverse, neutral
	Ratio       string   `yaml:"ratio,omitempty" json:"ratio,omitempty"`     // as printed, without a sign
	From        string   `yaml:"from,omitempty" json:"from,omitempty"`       // range that it shifts up from
	Bits        string   `yaml:"bits,omitempty" json:"bits,omitempty"`       // controls that follow the logic table, in order
	LineIdle    string   `yaml:"line_idle,omitempty" json:"line_idle,omitempty"`
	LineFull    string   `yaml:"line_full,omitempty" json:"line_full,omitempty"`       // window at stall, full throttle
	EngineLimit string   `yaml:"engine_limit,omitempty" json:"engine_limit,omitempty"` // torque that the engine is held to here
}

// FeedSheet is a hydraulic path from pump to piston. Selectors lists the positions in which it is fed; none
// means all.
type FeedSheet struct {
	ID        string      `yaml:"id" json:"id"`
	Name      string      `yaml:"name" json:"name"`
	Selectors []string    `yaml:"selectors,omitempty" json:"selectors,omitempty"`
	Path      []StepSheet `yaml:"path,omitempty" json:"path,omitempty"`
	Serves    []string    `yaml:"serves" json:"serves"`
}

// StepSheet is one place on a path. Kind is part (the default), valve, seal, orifice, tap or sensor.
type StepSheet struct {
	Name string `yaml:"name" json:"name"`
	Kind string `yaml:"kind,omitempty" json:"kind,omitempty"`
}

// SharedSheet is a part that several elements rest on.
type SharedSheet struct {
	ID     string   `yaml:"id" json:"id"`
	Name   string   `yaml:"name" json:"name"`
	Kind   string   `yaml:"kind" json:"kind"` // drum, passage, seal-rings, bushing, accumulator or shaft
	Serves []string `yaml:"serves" json:"serves"`
}

// ControlSheet is a two-position control: a solenoid, or a shift valve that moves by itself. Rest is its
// position without current or pressure. With Applies it works that element alone; without, the logic
// table says what all such controls do together.
type ControlSheet struct {
	ID      string  `yaml:"id" json:"id"`
	Name    string  `yaml:"name" json:"name"`
	Kind    string  `yaml:"kind" json:"kind"` // solenoid or valve
	Rest    int     `yaml:"rest" json:"rest"`
	Applies string  `yaml:"applies,omitempty" json:"applies,omitempty"`
	Watched bool    `yaml:"watched,omitempty" json:"watched,omitempty"` // the module notices a broken circuit and drops to limp-home
	Hours   float64 `yaml:"hours,omitempty" json:"hours,omitempty"`
	Access  string  `yaml:"access,omitempty" json:"access,omitempty"`
	// Resistance of a solenoid in ohms, lowest and highest good value; absent when not given.
	Ohms []float64 `yaml:"ohms,omitempty" json:"ohms,omitempty"`
}

// LogicSheet says what holds in a selector position for one setting of the controls without Applies.
type LogicSheet struct {
	Selector string   `yaml:"selector" json:"selector"`
	Bits     string   `yaml:"bits,omitempty" json:"bits,omitempty"`
	Applied  []string `yaml:"applied" json:"applied"`
}

// HydraulicsSheet is the pump and what sets pressure and shift points.
type HydraulicsSheet struct {
	Pump      PumpSheet         `yaml:"pump" json:"pump"`
	Regulator *RegulatorSheet   `yaml:"regulator,omitempty" json:"regulator,omitempty"`
	Throttle  *ThrottleSheet    `yaml:"throttle,omitempty" json:"throttle,omitempty"`
	Governor  *GovernorSheet    `yaml:"governor,omitempty" json:"governor,omitempty"`
	Shifts    []ShiftValveSheet `yaml:"shifts,omitempty" json:"shifts,omitempty"`
}

// PumpSheet is the pump. Driven is how: hub, shaft (through the hub) or electric.
type PumpSheet struct {
	Kind         string `yaml:"kind" json:"kind"` // gear, crescent, vane, electric
	Driven       string `yaml:"driven" json:"driven"`
	Displacement string `yaml:"displacement" json:"displacement"` // per turn
	Spare        string `yaml:"spare" json:"spare"`               // flow beyond the unit's own leakage, hot idle
	// Teeth of the gear that is driven, or vanes: what the pump is heard by.
	Teeth int `yaml:"teeth,omitempty" json:"teeth,omitempty"`
}

// BearingSheet is a rolling bearing as it is heard. Inner and Outer are what its races turn with: a member of the gears, output, engine,
// turbine, wheel, or nothing when a race stands. Ratio is the diameter of a ball over that of their circle, times the cosine of the contact
// angle.
type BearingSheet struct {
	ID       string  `yaml:"id" json:"id"`
	Name     string  `yaml:"name" json:"name"`
	Elements int     `yaml:"elements" json:"elements"`
	Ratio    float64 `yaml:"ratio" json:"ratio"`
	Inner    string  `yaml:"inner,omitempty" json:"inner,omitempty"`
	Outer    string  `yaml:"outer,omitempty" json:"outer,omitempty"`
}

// RegulatorSheet is the pressure regulator's spool.
type RegulatorSheet struct {
	Area    string `yaml:"area" json:"area"`
	Spring  string `yaml:"spring" json:"spring"`
	Boost   string `yaml:"boost,omitempty" json:"boost,omitempty"`
	Reverse string `yaml:"reverse,omitempty" json:"reverse,omitempty"`
}

// ThrottleSheet is the throttle valve or vacuum modulator.
type ThrottleSheet struct {
	Kind   string `yaml:"kind" json:"kind"` // cable or modulator
	Closed string `yaml:"closed" json:"closed"`
	Full   string `yaml:"full" json:"full"`
}

// GovernorSheet is a governor on the output shaft; Drive is shaft turns per kilometre, so that shift
// points come out in road speed.
type GovernorSheet struct {
	Area    string        `yaml:"area" json:"area"`
	Weights []WeightSheet `yaml:"weights" json:"weights"`
	PerKm   float64       `yaml:"turns_per_km" json:"turns_per_km"`
}

// WeightSheet is one weight of a governor.
type WeightSheet struct {
	Mass   string `yaml:"mass" json:"mass"`
	Radius string `yaml:"radius" json:"radius"`
	Limit  string `yaml:"limit,omitempty" json:"limit,omitempty"` // shaft speed above which it adds nothing
}

// ShiftValveSheet is a shift valve with the road speeds at which it must move.
type ShiftValveSheet struct {
	ID           string `yaml:"id" json:"id"` // a control of kind valve
	To           string `yaml:"to" json:"to"` // range that it shifts into
	GovernorArea string `yaml:"governor_area" json:"governor_area"`
	ThrottleArea string `yaml:"throttle_area" json:"throttle_area"`
	Spring       string `yaml:"spring" json:"spring"`
	Light        string `yaml:"light" json:"light"` // window of road speed, closed throttle
	Full         string `yaml:"full" json:"full"`   // window of road speed, full throttle
}

// ConverterSheet is the converter's data.
type ConverterSheet struct {
	Stall        string   `yaml:"stall" json:"stall"`                       // stall speed window, healthy engine
	TorqueRatio  float64  `yaml:"torque_ratio" json:"torque_ratio"`         // at stall
	Seating      string   `yaml:"seating" json:"seating"`                   // pad depth behind the housing face
	Lockup       []string `yaml:"lockup,omitempty" json:"lockup,omitempty"` // ranges in which its clutch may apply
	LockupTorque string   `yaml:"lockup_torque,omitempty" json:"lockup_torque,omitempty"`
}

// SensorSheet is a sensor. On names the member whose speed it counts, with so many teeth.
type SensorSheet struct {
	ID     string  `yaml:"id" json:"id"`
	Name   string  `yaml:"name" json:"name"`
	Kind   string  `yaml:"kind" json:"kind"` // speed, pressure, temperature, position
	On     string  `yaml:"on,omitempty" json:"on,omitempty"`
	Teeth  int     `yaml:"teeth,omitempty" json:"teeth,omitempty"`
	Access string  `yaml:"access,omitempty" json:"access,omitempty"`
	Hours  float64 `yaml:"hours,omitempty" json:"hours,omitempty"`
}

// EngineSheet is what the unit is built to take. Margin is the least ratio of capacity to load that the
// design keeps at full throttle.
type EngineSheet struct {
	MaxTorque string  `yaml:"max_torque,omitempty" json:"max_torque,omitempty"`
	IdleSpeed string  `yaml:"idle_speed,omitempty" json:"idle_speed,omitempty"`
	Margin    float64 `yaml:"margin,omitempty" json:"margin,omitempty"`
}

// FluidSheet is the fluid and the design's own level procedure.
type FluidSheet struct {
	Kind     string         `yaml:"kind,omitempty" json:"kind,omitempty"`
	Capacity string         `yaml:"capacity,omitempty" json:"capacity,omitempty"`
	Refill   string         `yaml:"refill,omitempty" json:"refill,omitempty"`
	Level    LevelProcedure `yaml:"level,omitempty" json:"level,omitempty"`
	Wear     []WearSheet    `yaml:"wear,omitempty" json:"wear,omitempty"`
}

// WearSheet is what a laboratory's report of this unit usually holds at most, where that differs from most units.
type WearSheet struct {
	Measure string  `yaml:"measure" json:"measure"`               // iron, copper and so on
	Usual   float64 `yaml:"usual" json:"usual"`                   // on new fluid, in the report's unit
	Rise    float64 `yaml:"rise,omitempty" json:"rise,omitempty"` // in 1,000 km
}

// LevelProcedure says how the level is read, and what the marks mean.
type LevelProcedure struct {
	Engine       string   `yaml:"engine,omitempty" json:"engine,omitempty"`     // running or off
	Selector     string   `yaml:"selector,omitempty" json:"selector,omitempty"` // where it stands while the level is read
	At           string   `yaml:"at,omitempty" json:"at,omitempty"`             // stick or plug
	Steps        []string `yaml:"steps,omitempty" json:"steps,omitempty"`
	Temperature  string   `yaml:"temperature,omitempty" json:"temperature,omitempty"`
	BetweenMarks string   `yaml:"between_marks,omitempty" json:"between_marks,omitempty"` // volume from lower to upper mark
	MarksApart   string   `yaml:"marks_apart,omitempty" json:"marks_apart,omitempty"`     // length on the stick
}

// LimitSheet is one dimension with its window.
type LimitSheet struct {
	ID        string `yaml:"id" json:"id"`
	Name      string `yaml:"name" json:"name"`
	Element   string `yaml:"element,omitempty" json:"element,omitempty"`
	Dimension string `yaml:"dimension" json:"dimension"`
	Window    string `yaml:"window" json:"window"`
}

// AccessSheet is the time from the level before to this one. A level that is not listed does not exist on
// this unit.
type AccessSheet struct {
	Level   string  `yaml:"level" json:"level"`
	Minutes float64 `yaml:"minutes" json:"minutes"`
}

// PartSheet is a part as the practitioner reaches it. Zone places it in the side
// elevation: x from front (0) to back (100), y from bottom (0) to top (100), width, height.
type PartSheet struct {
	ID     string    `yaml:"id" json:"id"`
	Name   string    `yaml:"name" json:"name"`
	Access string    `yaml:"access" json:"access"`
	Hours  float64   `yaml:"hours" json:"hours"`
	Zone   []float64 `yaml:"zone" json:"zone"`
}

// LeakSheet says where oil may come from and where it shows. Boxes are x, y, z, width, height, depth: x from the front (0)
// to the back (100) of the unit, y from the bottom to the top, z from left to right as seen from behind. Oil is the unit's
// own; Across says that the unit lies across the vehicle, its left side forward.
type LeakSheet struct {
	Oil     string            `yaml:"oil" json:"oil"`
	Across  bool              `yaml:"across,omitempty" json:"across,omitempty"`
	Zones   []LeakZoneSheet   `yaml:"zones" json:"zones"`
	Sources []LeakSourceSheet `yaml:"sources" json:"sources"`
	Paths   []LeakPathSheet   `yaml:"paths,omitempty" json:"paths,omitempty"`
}

// LeakZoneSheet is a place that can be wet; a hidden one is seen only with a cover off.
type LeakZoneSheet struct {
	ID     string    `yaml:"id" json:"id"`
	Name   string    `yaml:"name" json:"name"`
	Box    []float64 `yaml:"box" json:"box"`
	Hidden bool      `yaml:"hidden,omitempty" json:"hidden,omitempty"`
}

// LeakSourceSheet is a seal, joint or line: the zone where its oil first shows, on what its leaking depends, and its oil
// when that is not the unit's.
type LeakSourceSheet struct {
	ID   string `yaml:"id" json:"id"`
	Name string `yaml:"name" json:"name"`
	Zone string `yaml:"zone,omitempty" json:"zone,omitempty"`
	When string `yaml:"when" json:"when"`
	Oil  string `yaml:"oil,omitempty" json:"oil,omitempty"`

	Seldom bool `yaml:"seldom,omitempty" json:"seldom,omitempty"` // met less often than the others
}

// LeakPathSheet carries oil in a way that places do not tell.
type LeakPathSheet struct {
	From  string  `yaml:"from" json:"from"`
	To    string  `yaml:"to" json:"to"`
	Share float64 `yaml:"share" json:"share"`
}

// TrapSheet warns of what has caught people; it is shown before the access level is reached and, with a part of the stack, before the
// step at which that part comes out (on: out, the usual) or goes back (on: in). At is its place in the drawing: x and radius, mm.
type TrapSheet struct {
	Before string    `yaml:"before" json:"before"`
	Text   string    `yaml:"text" json:"text"`
	Part   string    `yaml:"part,omitempty" json:"part,omitempty"`
	On     string    `yaml:"on,omitempty" json:"on,omitempty"`
	At     []float64 `yaml:"at,omitempty" json:"at,omitempty"`
}

// ResetSheet is what must be taught or reset after a part was changed.
type ResetSheet struct {
	After string `yaml:"after" json:"after"`
	Text  string `yaml:"text" json:"text"`
}

// TorqueSheet is one fastener's torque.
type TorqueSheet struct {
	Joint  string `yaml:"joint" json:"joint"`
	Torque string `yaml:"torque" json:"torque"`
}

// KnownSheet is a failure that this design is known for. Cause is an entry of the knowledge base, with the
// element filled in, where there is one; Distance is where most of them happen.
type KnownSheet struct {
	Title    string `yaml:"title" json:"title"`
	Cause    string `yaml:"cause,omitempty" json:"cause,omitempty"`
	Distance string `yaml:"distance,omitempty" json:"distance,omitempty"`
	Note     string `yaml:"note,omitempty" json:"note,omitempty"`
}

// ExchangeSheet is the price and labour of a whole exchange unit, in the shop's currency.
type ExchangeSheet struct {
	Price float64 `yaml:"price,omitempty" json:"price,omitempty"`
	Hours float64 `yaml:"hours,omitempty" json:"hours,omitempty"`
}

// Problem is one fault of a sheet. Path is dotted with indices, such as elements[2].a.
type Problem struct {
	Path     string
	Reason   string
	Accepted string
	Line     int // in the file that was read; 0 when there is none
}

func (p *Problem) Error() string {
	s := p.Reason
	if p.Path != "" {
		s = p.Path + ": " + s
	}
	if p.Accepted != "" {
		s += fmt.Sprintf("; accepted: %s", p.Accepted)
	}
	return s
}

// SourceSheet says where a part of the sheet comes from. Of is one of Topics, which For narrows to elements or ranges, or the path of
// one number (see Numbers).
type SourceSheet struct {
	Of    string   `yaml:"of" json:"of"`
	For   []string `yaml:"for,omitempty" json:"for,omitempty"`
	From  string   `yaml:"from" json:"from"` // measured, paper, counted or assumed
	Value string   `yaml:"value,omitempty" json:"value,omitempty"`
	Why   string   `yaml:"why,omitempty" json:"why,omitempty"`
	By    string   `yaml:"by,omitempty" json:"by,omitempty"`
}
