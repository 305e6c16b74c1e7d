package knowledge

import (
	"slices"

	"innercompass/core/faultmap"
)

// Base is the knowledge base as its files say it, before it meets a unit. Entries with For are templates:
// one copy for each part of those kinds, with {id} and {element} filled in.
type Base struct {
	Version  string        `yaml:"-" json:"version"`
	Findings []Finding     `yaml:"findings,omitempty" json:"findings"`
	Causes   []Cause       `yaml:"causes,omitempty" json:"causes"`
	Damages  []Damage      `yaml:"damages,omitempty" json:"damages"`
	Signs    []Sign        `yaml:"signs,omitempty" json:"signs"`
	Checks   []Check       `yaml:"checks,omitempty" json:"checks"`
	Options  []Option      `yaml:"options,omitempty" json:"options"`
	Cautions []Caution     `yaml:"cautions,omitempty" json:"cautions"`
	Schools  []Controversy `yaml:"schools,omitempty" json:"schools"`
}

// With returns the knowledge base with more entries after its own.
func (k Base) With(more Base) Base {
	k.Findings = slices.Concat(k.Findings, more.Findings)
	k.Causes = slices.Concat(k.Causes, more.Causes)
	k.Damages = slices.Concat(k.Damages, more.Damages)
	k.Signs = slices.Concat(k.Signs, more.Signs)
	k.Checks = slices.Concat(k.Checks, more.Checks)
	k.Options = slices.Concat(k.Options, more.Options)
	k.Cautions = slices.Concat(k.Cautions, more.Cautions)
	k.Schools = slices.Concat(k.Schools, more.Schools)
	return k
}

// Counts are the numbers of entries by list, under the names that Problem uses.
func (k Base) Counts() map[string]int {
	return map[string]int{"findings": len(k.Findings), "causes": len(k.Causes), "damages": len(k.Damages), "signs": len(k.Signs), "checks": len(k.Checks),
		"options": len(k.Options), "cautions": len(k.Cautions), "schools": len(k.Schools)}
}

// Systems are the sectors of the rose, in order around it.
var Systems = []string{"converter", "clutches", "seals", "hydraulics", "electrics", "gears", "driveline", "fluid"}

// Stages say where in a case a finding is asked. Findings of the stage "code" are stored fault codes.
var Stages = []string{"complaint", "checks", "teardown", "code"}

// Abouts are what a customer's complaints are about, in the order in which they are offered.
var Abouts = []string{"moving off", "changing", "noise", "shaking", "leak", "lamp", "work done", "when and where"}

// Finding is something that can be observed. Its states exclude each other, unless it says otherwise; the first is normal.
type Finding struct {
	ID      string         `yaml:"id" json:"id"`
	Title   string         `yaml:"title" json:"title"`
	For     []string       `yaml:"for,omitempty" json:"for,omitempty"`
	Needs   string         `yaml:"needs,omitempty" json:"needs,omitempty"` // part of the unit without which it is not asked
	Stage   string         `yaml:"stage" json:"stage"`
	History bool           `yaml:"history,omitempty" json:"history,omitempty"` // goes before the causes: it changes how likely they are
	Several bool           `yaml:"several,omitempty" json:"several,omitempty"` // of history: its states do not exclude each other, only the first does
	States  []FindingState `yaml:"states,omitempty" json:"states"`             // of a code: absent and stored when not given
	From    []From         `yaml:"from,omitempty" json:"from,omitempty"`       // what brings it about, written on this side
	Gear    string         `yaml:"gear,omitempty" json:"gear,omitempty"`       // of a code: the gear whose ratio it watches
	Sets    string         `yaml:"sets,omitempty" json:"sets,omitempty"`       // of a code: the conditions that usually set it
	Members string         `yaml:"members,omitempty" json:"members,omitempty"` // its normal state says that no finding with this beginning is there
	Plain   []string       `yaml:"plain,omitempty" json:"plain,omitempty"`     // states that are hardly misread, whoever looks
	Ask     string         `yaml:"ask,omitempty" json:"ask,omitempty"`         // of what a customer tells: the question for it
	About   string         `yaml:"about,omitempty" json:"about,omitempty"`     // and where it hurts: one of Abouts
	Help    string         `yaml:"help,omitempty" json:"help,omitempty"`       // how to tell the states apart
}

// Cause is a fault of a component that can be the root.
type Cause struct {
	ID     string          `yaml:"id" json:"id"`
	Title  string          `yaml:"title" json:"title"`
	For    []string        `yaml:"for,omitempty" json:"for,omitempty"`
	Needs  string          `yaml:"needs,omitempty" json:"needs,omitempty"`
	System string          `yaml:"system" json:"system"`
	Met    Frequency       `yaml:"met" json:"met"`
	Ages   string          `yaml:"ages,omitempty" json:"ages,omitempty"` // wear, steady or early; steady when not given
	When   []HistoryFactor `yaml:"when,omitempty" json:"when,omitempty"`
	Faults []FaultLink     `yaml:"faults,omitempty" json:"faults,omitempty"`
	Brings []Brings        `yaml:"brings,omitempty" json:"brings,omitempty"`
	Shows  []Shows         `yaml:"shows,omitempty" json:"shows,omitempty"`
	Repair Repair          `yaml:"repair" json:"repair"`
	Harm   float64         `yaml:"harm,omitempty" json:"harm,omitempty"`     // what it destroys if left, money
	Hazard string          `yaml:"hazard,omitempty" json:"hazard,omitempty"` // what may happen to people if it is driven on; empty when nothing

	unlisted string // id of the damage whose unlisted cause this is
}

// Unlisted reports whether this stands for a cause of a damage that is not in the list.
func (c Cause) Unlisted() bool { return c.unlisted != "" }

// Damage is a fault that another fault brought about. That its cause is not listed is itself a suspect.
type Damage struct {
	ID     string      `yaml:"id" json:"id"`
	Title  string      `yaml:"title" json:"title"`
	For    []string    `yaml:"for,omitempty" json:"for,omitempty"`
	Needs  string      `yaml:"needs,omitempty" json:"needs,omitempty"`
	System string      `yaml:"system" json:"system"`
	Faults []FaultLink `yaml:"faults,omitempty" json:"faults,omitempty"`
	Brings []Brings    `yaml:"brings,omitempty" json:"brings,omitempty"`
	Shows  []Shows     `yaml:"shows,omitempty" json:"shows,omitempty"`
	Repair Repair      `yaml:"repair" json:"repair"`
}

// Sign says what a failure of the design brings and shows besides the cells of the road test.
type Sign struct {
	Fault  faultmap.Kind `yaml:"fault" json:"fault"`
	For    []string      `yaml:"for,omitempty" json:"for,omitempty"`
	Brings []Brings      `yaml:"brings,omitempty" json:"brings,omitempty"`
	Shows  []Shows       `yaml:"shows,omitempty" json:"shows,omitempty"`
}

// Repair is what it takes to put something right by itself.
type Repair struct {
	Hours  float64 `yaml:"hours" json:"hours"` // beyond access
	Parts  float64 `yaml:"parts" json:"parts"` // money
	Access string  `yaml:"access" json:"access"`
}

// Caution stands before a step that can hurt. High hazards must be acknowledged once per case. At and Words say
// which checks must carry it.
type Caution struct {
	ID     string   `yaml:"id" json:"id"`
	Hazard string   `yaml:"hazard" json:"hazard"` // high or plain
	Title  string   `yaml:"title" json:"title"`
	Text   string   `yaml:"text" json:"text"`
	At     []string `yaml:"at,omitempty" json:"at,omitempty"`       // access levels
	Words  []string `yaml:"words,omitempty" json:"words,omitempty"` // in the title or the steps
}

// Check is an action that yields readings.
type Check struct {
	ID         string   `yaml:"id" json:"id"`
	Title      string   `yaml:"title" json:"title"`
	For        []string `yaml:"for,omitempty" json:"for,omitempty"`
	Needs      string   `yaml:"needs,omitempty" json:"needs,omitempty"`
	Tells      string   `yaml:"tells" json:"tells"`
	Minutes    float64  `yaml:"minutes" json:"minutes"`
	Access     string   `yaml:"access" json:"access"`
	Until      string   `yaml:"until,omitempty" json:"until,omitempty"` // deepest access at which it can still be done
	Yields     []string `yaml:"yields" json:"yields"`
	First      []string `yaml:"first,omitempty" json:"first,omitempty"` // findings that must be known before it means anything
	Fluid      string   `yaml:"fluid,omitempty" json:"fluid,omitempty"` // hot or cold, when it must be
	Tools      []string `yaml:"tools,omitempty" json:"tools,omitempty"`
	Instrument string   `yaml:"instrument,omitempty" json:"instrument,omitempty"`
	Caution    []string `yaml:"cautions,omitempty" json:"-"`
	Steps      []string `yaml:"steps" json:"steps"`
	School     string   `yaml:"school,omitempty" json:"school,omitempty"` // of a question on which practitioners differ
	Basic      int      `yaml:"basic,omitempty" json:"basic,omitempty"`   // place among what is looked at before all else; 0 for the rest
	Proves     bool     `yaml:"proves,omitempty" json:"proves,omitempty"` // done again after the work, it shows that it held

	Cautions []Caution `yaml:"-" json:"cautions,omitempty"` // those named by Caution
}

// Option is a repair, replacement or leave-alone.
type Option struct {
	ID          string      `yaml:"id" json:"id"`
	Title       string      `yaml:"title" json:"title"`
	For         []string    `yaml:"for,omitempty" json:"for,omitempty"`
	Needs       string      `yaml:"needs,omitempty" json:"needs,omitempty"`
	Strategy    string      `yaml:"school" json:"school"` // targeted, thorough, exchange, watch
	Access      string      `yaml:"access" json:"access"`
	Hours       float64     `yaml:"hours" json:"hours"` // beyond access
	Parts       float64     `yaml:"parts" json:"parts"`
	Fluid       string      `yaml:"fluid" json:"fluid"`                                 // none, refill or fill
	Machine     float64     `yaml:"machine,omitempty" json:"machine,omitempty"`         // machine work elsewhere, money
	Calibration float64     `yaml:"calibration,omitempty" json:"calibration,omitempty"` // hours of teaching and resets
	Qualities   []string    `yaml:"qualities,omitempty" json:"qualities,omitempty"`     // of its parts that there are, the usual one first; new when not given
	Renews      []string    `yaml:"renews,omitempty" json:"renews,omitempty"`           // kinds or ids of parts of the stack that it renews; kinds of its element where it is for one
	Spread      float64     `yaml:"spread" json:"spread"`                               // one standard deviation of the sure cost, as a share of it
	Cures       []Cure      `yaml:"cures" json:"cures"`
	Fails       []FailsWith `yaml:"fails,omitempty" json:"fails,omitempty"`       // what it is known to fail with: then it is not offered
	Occasion    string      `yaml:"occasion,omitempty" json:"occasion,omitempty"` // preventive: offered only where there is no complaint; empty for the others
	Note        string      `yaml:"note,omitempty" json:"note,omitempty"`
}

// Purpose is the finding that says what a vehicle is here for; Preventive is its state when there is no complaint, and the occasion of
// the options that are offered then.
const (
	Purpose    = "purpose"
	Preventive = "preventive"
)

// Controversy is a question on which practitioners differ, with its sides; the app follows the one marked.
type Controversy struct {
	ID       string `yaml:"id" json:"id"`
	Question string `yaml:"question" json:"question"`
	Sides    []Side `yaml:"sides" json:"sides"`
	Follows  string `yaml:"follows" json:"follows"` // what the app does, and why
}

// Side is one way of working.
type Side struct {
	Title string `yaml:"title" json:"title"`
	Says  string `yaml:"says" json:"says"`
	Risk  string `yaml:"risk" json:"risk"`
}

// NothingWrong is the id of the cause that stands for a normal characteristic.
const NothingWrong = "nothing-wrong"
