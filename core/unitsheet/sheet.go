package unitsheet

import "fmt"

// Format is the first line of every sheet of this version.
const Format = "inner-compass-unit/1"

// Sheet is a unit sheet as written. Quantities are text with a unit.
type Sheet struct {
	Format    string         `yaml:"format" json:"format"`
	ID        string         `yaml:"id" json:"id"`
	Version   int            `yaml:"version" json:"version"`
	Name      string         `yaml:"name" json:"name"`
	Summary   string         `yaml:"summary" json:"summary"`
	Control   string         `yaml:"control" json:"control"` // hydraulic or electronic
	Gearing   GearingSheet   `yaml:"gearing" json:"gearing"`
	Elements  []ElementSheet `yaml:"elements" json:"elements"`
	Ranges    []RangeSheet   `yaml:"ranges" json:"ranges"`
	Feeds     []FeedSheet    `yaml:"feeds" json:"feeds"`
	Converter ConverterSheet `yaml:"converter" json:"converter"`
	Engine    EngineSheet    `yaml:"engine" json:"engine"`
	Fluid     FluidSheet     `yaml:"fluid" json:"fluid"`
	Limits    []LimitSheet   `yaml:"limits" json:"limits"`
	Access    []AccessSheet  `yaml:"access" json:"access"`
	Parts     []PartSheet    `yaml:"parts" json:"parts"`
	Traps     []TrapSheet    `yaml:"traps" json:"traps"`
	Torques   []TorqueSheet  `yaml:"torques" json:"torques"`
	Exchange  ExchangeSheet  `yaml:"exchange" json:"exchange"`
}

// GearingSheet is the gear train. Names maps members to what people call them; members
// without a name there (pinions) are not drawn.
type GearingSheet struct {
	Members     []string          `yaml:"members" json:"members"`
	Names       map[string]string `yaml:"names" json:"names"`
	Input       string            `yaml:"input" json:"input"`
	Output      string            `yaml:"output" json:"output"`
	ForwardSign int               `yaml:"forward_sign" json:"forward_sign"`
	Meshes      []MeshSheet       `yaml:"meshes" json:"meshes"`
	Links       []LinkSheet       `yaml:"links,omitempty" json:"links,omitempty"`
	Sets        []SetSheet        `yaml:"sets" json:"sets"`
}

// MeshSheet is one pair of meshing gears; with internal, a is the ring.
type MeshSheet struct {
	A        string `yaml:"a" json:"a"`
	B        string `yaml:"b" json:"b"`
	TeethA   int    `yaml:"teeth_a" json:"teeth_a"`
	TeethB   int    `yaml:"teeth_b" json:"teeth_b"`
	Carrier  string `yaml:"carrier,omitempty" json:"carrier,omitempty"`
	Internal bool   `yaml:"internal,omitempty" json:"internal,omitempty"`
}

// LinkSheet makes two members turn as one; why says how (shaft, coupled converter).
type LinkSheet struct {
	A   string `yaml:"a" json:"a"`
	B   string `yaml:"b" json:"b"`
	Why string `yaml:"why,omitempty" json:"why,omitempty"`
}

// SetSheet states tooth counts of a planetary set, to prove that it assembles. A simple set
// has sun, planet, ring; a compound one has small_sun and short as well.
type SetSheet struct {
	Sun      int `yaml:"sun" json:"sun"`
	Planet   int `yaml:"planet" json:"planet"`
	Ring     int `yaml:"ring" json:"ring"`
	SmallSun int `yaml:"small_sun,omitempty" json:"small_sun,omitempty"`
	Short    int `yaml:"short,omitempty" json:"short,omitempty"`
	Count    int `yaml:"count" json:"count"`
}

// ElementSheet is a friction element or freewheel; for a freewheel, a may run ahead of b.
type ElementSheet struct {
	ID       string  `yaml:"id" json:"id"`
	Name     string  `yaml:"name" json:"name"`
	Kind     string  `yaml:"kind" json:"kind"`
	A        string  `yaml:"a" json:"a"`
	B        string  `yaml:"b" json:"b"`
	Feed     string  `yaml:"feed,omitempty" json:"feed,omitempty"`
	Capacity string  `yaml:"capacity" json:"capacity"` // static torque at full-throttle line pressure
	Hours    float64 `yaml:"hours" json:"hours"`       // to renew it once the unit is apart (or out, for a band servo)
	Access   string  `yaml:"access" json:"access"`
}

// RangeSheet is one selector position and gear.
type RangeSheet struct {
	ID       string   `yaml:"id" json:"id"`
	Selector string   `yaml:"selector" json:"selector"`
	Name     string   `yaml:"name" json:"name"`
	Applied  []string `yaml:"applied" json:"applied"`
	Holding  []string `yaml:"holding,omitempty" json:"holding,omitempty"` // freewheels expected to hold
	Outcome  string   `yaml:"outcome" json:"outcome"`                     // forward, reverse, neutral
	From     string   `yaml:"from,omitempty" json:"from,omitempty"`       // range that it shifts up from
	LineIdle string   `yaml:"line_idle" json:"line_idle"`                 // line pressure window, hot idle
}

// FeedSheet is a hydraulic path: from where, through what, to which elements.
type FeedSheet struct {
	ID     string   `yaml:"id" json:"id"`
	Name   string   `yaml:"name" json:"name"`
	Path   []string `yaml:"path" json:"path"`
	Serves []string `yaml:"serves" json:"serves"`
}

// ConverterSheet is the converter's data.
type ConverterSheet struct {
	Stall       string  `yaml:"stall" json:"stall"`               // stall speed window, healthy engine
	TorqueRatio float64 `yaml:"torque_ratio" json:"torque_ratio"` // at stall
	Seating     string  `yaml:"seating" json:"seating"`           // pad depth behind the housing face
}

// EngineSheet is what the unit is built to take.
type EngineSheet struct {
	MaxTorque string `yaml:"max_torque" json:"max_torque"`
	IdleSpeed string `yaml:"idle_speed" json:"idle_speed"`
}

// FluidSheet is the fluid and the design's own level procedure.
type FluidSheet struct {
	Kind     string         `yaml:"kind" json:"kind"`
	Capacity string         `yaml:"capacity" json:"capacity"`
	Refill   string         `yaml:"refill" json:"refill"`
	Level    LevelProcedure `yaml:"level" json:"level"`
}

// LevelProcedure says how the level is read, and what the marks mean.
type LevelProcedure struct {
	Steps        []string `yaml:"steps" json:"steps"`
	Temperature  string   `yaml:"temperature" json:"temperature"`
	BetweenMarks string   `yaml:"between_marks" json:"between_marks"` // volume from lower to upper mark
	MarksApart   string   `yaml:"marks_apart" json:"marks_apart"`     // length on the stick
}

// LimitSheet is one dimension with its window.
type LimitSheet struct {
	ID        string `yaml:"id" json:"id"`
	Name      string `yaml:"name" json:"name"`
	Element   string `yaml:"element,omitempty" json:"element,omitempty"`
	Dimension string `yaml:"dimension" json:"dimension"`
	Window    string `yaml:"window" json:"window"`
}

// AccessSheet is the time from the level before to this one.
type AccessSheet struct {
	Level   string  `yaml:"level" json:"level"`
	Minutes float64 `yaml:"minutes" json:"minutes"`
}

// PartSheet is a part as the practitioner reaches it. Zone places it in the side
// elevation: x from front (0) to back (100), y from bottom (0) to top (100), with a size.
type PartSheet struct {
	ID     string     `yaml:"id" json:"id"`
	Name   string     `yaml:"name" json:"name"`
	Access string     `yaml:"access" json:"access"`
	Hours  float64    `yaml:"hours" json:"hours"`
	Zone   [4]float64 `yaml:"zone" json:"zone"`
}

// TrapSheet warns of what has caught people; it is shown before the access level is reached.
type TrapSheet struct {
	Before string `yaml:"before" json:"before"`
	Text   string `yaml:"text" json:"text"`
}

// TorqueSheet is one fastener's torque.
type TorqueSheet struct {
	Joint  string `yaml:"joint" json:"joint"`
	Torque string `yaml:"torque" json:"torque"`
}

// ExchangeSheet is the price and labour of a whole exchange unit, in the shop's currency.
type ExchangeSheet struct {
	Price float64 `yaml:"price" json:"price"`
	Hours float64 `yaml:"hours" json:"hours"`
}

// Problem is one fault of a sheet. Path is dotted with indices, such as elements[2].a.
type Problem struct {
	Path     string
	Reason   string
	Accepted string
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
