package diagnose

import "innercompass/core/faultmap"

// Knowledge is the knowledge base as its files say it, before it meets a unit. Entries with
// For are templates: one copy for each element of those kinds, with {id} and {element} filled in.
type Knowledge struct {
	Version  string    `json:"version"`
	Findings []Finding `json:"findings"`
	Causes   []Cause   `json:"causes"`
	Checks   []Check   `json:"checks"`
	Options  []Option  `json:"options"`
}

// Systems are the sectors of the rose, in order around it.
var Systems = []string{"converter", "clutches", "seals", "hydraulics", "electrics", "gears", "driveline", "fluid"}

// Stages say where in a case a finding is asked.
var Stages = []string{"complaint", "checks", "teardown"}

// Finding is something that can be observed. Its states are exclusive; the first is normal.
type Finding struct {
	ID     string         `yaml:"id" json:"id"`
	Title  string         `yaml:"title" json:"title"`
	For    []string       `yaml:"for,omitempty" json:"for,omitempty"`
	Stage  string         `yaml:"stage" json:"stage"`
	States []FindingState `yaml:"states" json:"states"`
	Needs  string         `yaml:"needs,omitempty" json:"needs,omitempty"` // part of the unit without which it is not asked
}

// FindingState is one state with the probability that it is met whatever the cause.
type FindingState struct {
	ID       string  `yaml:"id" json:"id"`
	Title    string  `yaml:"title" json:"title"`
	Baseline float64 `yaml:"baseline,omitempty" json:"baseline,omitempty"` // not given for the first, which takes the rest
}

// Cause is a fault of a component that can be the root.
type Cause struct {
	ID     string      `yaml:"id" json:"id"`
	Title  string      `yaml:"title" json:"title"`
	For    []string    `yaml:"for,omitempty" json:"for,omitempty"`
	System string      `yaml:"system" json:"system"`
	Weight float64     `yaml:"weight" json:"weight"` // prior, relative to the other causes
	Reason string      `yaml:"reason" json:"reason"` // why this weight
	Chain  []string    `yaml:"chain" json:"chain"`   // from the root to the complaint, in words
	Faults []FaultLink `yaml:"faults,omitempty" json:"faults,omitempty"`
	Links  []Link      `yaml:"links,omitempty" json:"links,omitempty"`
	Repair Repair      `yaml:"repair" json:"repair"`
	Harm   float64     `yaml:"harm,omitempty" json:"harm,omitempty"` // what it destroys if left, money
	Needs  string      `yaml:"needs,omitempty" json:"needs,omitempty"`
}

// FaultLink says which fault of the design the cause brings about, and how much when hot and cold.
type FaultLink struct {
	Kind    faultmap.Kind `yaml:"kind" json:"kind"`
	Element string        `yaml:"element,omitempty" json:"element,omitempty"` // "" means the template's own; an id, a feed id or "all" otherwise
	Hot     string        `yaml:"hot" json:"hot"`
	Cold    string        `yaml:"cold" json:"cold"`
}

// Link says that the cause brings a finding into a state.
type Link struct {
	Finding  string `yaml:"finding" json:"finding"`
	State    string `yaml:"state" json:"state"`
	Strength string `yaml:"strength" json:"strength"`
	Why      string `yaml:"why,omitempty" json:"why,omitempty"`
}

// Repair is what it takes to put the cause right by itself.
type Repair struct {
	Hours  float64 `yaml:"hours" json:"hours"` // beyond access
	Parts  float64 `yaml:"parts" json:"parts"` // money
	Access string  `yaml:"access" json:"access"`
}

// Caution stands before a step that can hurt. High hazards must be acknowledged once per case.
type Caution struct {
	Hazard string `yaml:"hazard" json:"hazard"` // high or plain
	Title  string `yaml:"title" json:"title"`
	Text   string `yaml:"text" json:"text"`
}

// Check is an action that yields readings.
type Check struct {
	ID         string    `yaml:"id" json:"id"`
	Title      string    `yaml:"title" json:"title"`
	For        []string  `yaml:"for,omitempty" json:"for,omitempty"`
	Tells      string    `yaml:"tells" json:"tells"`
	Minutes    float64   `yaml:"minutes" json:"minutes"`
	Access     string    `yaml:"access" json:"access"`
	Until      string    `yaml:"until,omitempty" json:"until,omitempty"` // deepest access at which it can still be done
	Yields     []string  `yaml:"yields" json:"yields"`
	Instrument string    `yaml:"instrument,omitempty" json:"instrument,omitempty"`
	Cautions   []Caution `yaml:"cautions,omitempty" json:"cautions,omitempty"`
	Steps      []string  `yaml:"steps" json:"steps"`
	Needs      string    `yaml:"needs,omitempty" json:"needs,omitempty"`
	School     string    `yaml:"school,omitempty" json:"school,omitempty"`
}

// Option is a repair, replacement or leave-alone.
type Option struct {
	ID     string   `yaml:"id" json:"id"`
	Title  string   `yaml:"title" json:"title"`
	For    []string `yaml:"for,omitempty" json:"for,omitempty"`
	School string   `yaml:"school" json:"school"` // targeted, thorough, exchange, watch
	Access string   `yaml:"access" json:"access"`
	Hours  float64  `yaml:"hours" json:"hours"` // beyond access
	Parts  float64  `yaml:"parts" json:"parts"`
	Fluid  string   `yaml:"fluid" json:"fluid"`   // none, refill or fill
	Spread float64  `yaml:"spread" json:"spread"` // one standard deviation of the sure cost, as a share of it
	Cures  []Cure   `yaml:"cures" json:"cures"`
	Note   string   `yaml:"note,omitempty" json:"note,omitempty"`
	Needs  string   `yaml:"needs,omitempty" json:"needs,omitempty"`
}

// Cure is the chance that an option cures a cause; Cause may end in an asterisk.
type Cure struct {
	Cause  string  `yaml:"cause" json:"cause"`
	Chance float64 `yaml:"chance" json:"chance"`
}

// Strengths are the named strengths of links. They are judgement, common practice, no
// source, until a shop's own outcomes correct them.
var Strengths = map[string]float64{"always": 0.97, "usually": 0.8, "often": 0.55, "sometimes": 0.3, "rarely": 0.1, "never": 0}

// Sources are the kinds of reading and how far each is believed: the probability that the
// reported state is the true one (common practice, no source).
var Sources = map[string]float64{"customer": 0.82, "seen": 0.95, "measured": 0.985}
