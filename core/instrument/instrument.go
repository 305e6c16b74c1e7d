// Package instrument holds the calculations of the trade: inputs as a practitioner types them, results with their
// uncertainty, in words and for drawing, and the readings that they state, each with its likelihood, so that a value near
// a limit says only as much as the gauge can tell.
//
// One definition serves page, API, command line and docs/instruments.md. An instrument is usable alone; fitted to a unit
// it takes windows and sizes from its sheet. Units: inputs in any unit of their dimension; everything inside in SI.
package instrument

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/fluid"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Kind is how an input is typed.
type Kind string

// The kinds of input.
const (
	Number Kind = "number" // one value, with ± if wanted
	Count  Kind = "count"  // a whole number
	Choice Kind = "choice" // one of Options
	List   Kind = "list"   // several values
)

// Shown is how a choice is put before the eye.
type Shown string

// The ways in which a choice is shown, besides a plain list.
const (
	Grades Shown = "grades" // beside a drawing of each grade
	Debris Shown = "debris" // beside a drawing of the kind
	Zone   Shown = "zone"   // as a place on the leak map
	Listen Shown = "listen" // as a place on the listening map, in one state
)

// Option is one way to answer, or one part that an instrument can be fitted to.
type Option struct{ ID, Title string }

// Input is one value to type in.
type Input struct {
	ID, Label string
	Kind      Kind
	Dimension quantity.Dimension // of numbers and lists
	Unit      string             // of a bare number
	Help      string
	Optional  bool
	Default   string  // typed beforehand
	Example   string  // of what is typed where nothing stands beforehand
	Low, High float64 // accepted, SI for numbers and lists, both ends included
	Options   []Option
	Window    *quantity.Window // expected values, for drawing; nil when none
	Feeds     []string         // elements fed, for a pressure by range
	U         float64          // standard uncertainty when nothing else is known, SI; 0 for what is not measured
	Gauged    bool             // read with the gauge that is chosen
	exactZero bool             // nothing at all has no uncertainty
	Shown     Shown            // how a choice is put before the eye; plain when empty
	Of        string           // what it is of, where it is shown in a way of its own: the sign graded, the debris, the place
	From      []string         // results that may stand here, as "stall-speed.speed" or "stack-clearance:{part}.clearance"
}

// Definition is one instrument.
type Definition struct {
	ID, Title  string
	Answers    string // the question that it answers
	Group      string // one of Groups
	Hand       []string
	Source     string
	Limits     string // of validity
	Gauge      string // the usual gauge, in words
	Cautions   []string
	Steps      []string // how it is read on this unit, in order; empty when its limits say enough
	Part       string   // that it is fitted to
	Inputs     []Input
	States     []string        // findings that it can state
	Measures   []fluid.Measure // limits of a report of the unit; nil without one
	On         *unitsheet.Unit // whose gears it asks; nil without a unit, and for what asks none
	Surrounded bool            // it asks what surrounds the unit: axle, tire, cylinders, shafts
	Jumps      bool            // outputs jump with the inputs: their uncertainty is left to tell

	// parts lists what it can be fitted to; u is nil without a unit. nil when there is nothing to choose.
	PartsOn func(u *unitsheet.Unit) []Option
	// fit takes what the sheet knows; it may change inputs and put what computing and interpreting need into the definition.
	Fit   func(d *Definition, u *unitsheet.Unit) error
	Check func(v Values) error // what the inputs must fulfil together, besides what compute finds; may be nil
	// Compute and Interpret are for figures that mean what they say; Work takes their place where the meaning needs more than
	// the figures.
	Compute   func(v Values) ([]Output, error)
	Interpret func(v Values, out []Output, r *Result)
	Work      *Work
	takers    []taker // inputs that its results may go on to
}

// Work is a computation with a result of a type of its own, and what that result means: it is computed once and interpreted once.
type Work struct {
	compute   func(v Values) (any, []Output, error)
	interpret func(v Values, x any, out []Output, r *Result)
}

// Works makes the work of an instrument.
func Works[T any](compute func(v Values) (T, []Output, error), interpret func(v Values, x T, out []Output, r *Result)) *Work {
	return &Work{
		compute:   func(v Values) (any, []Output, error) { return compute(v) },
		interpret: func(v Values, x any, out []Output, r *Result) { interpret(v, x.(T), out, r) },
	}
}

// work is what the instrument does, in either form.
func (d Definition) work() Work {
	if d.Work != nil {
		return *d.Work
	}
	return Work{
		compute: func(v Values) (any, []Output, error) {
			out, err := d.Compute(v)
			return nil, out, err
		},
		interpret: func(v Values, _ any, out []Output, r *Result) {
			if d.Interpret != nil {
				d.Interpret(v, out, r)
			}
		},
	}
}

// Groups are the shelves on which instruments lie, in order.
var Groups = []Option{{"converter", "Converter"}, {"clutches", "Clutches and bands"}, {"hydraulics", "Hydraulics"}, {"fluid", "Fluid and leaks"}, {"vibration", "Noise, balance, shafts"}, {"measure", "Sizes and form"}, {"fasteners", "Fasteners"}}

// Hand is what a practitioner may have in the hand, with the tools that it stands for.
type Hand struct {
	ID, Title string
	Tools     []string
}

// Hands sort the instruments by what is in the hand; every tool of an instrument belongs to one of them.
var Hands = []Hand{
	{"pressure", "Pressure, vacuum", []string{"pressure gauge", "vacuum gauge", "hand pump", "air regulator"}},
	{"caliper", "Caliper, micrometer", []string{"caliper", "micrometer", "depth gauge", "bore gauge", "drill gauge", "rule", "any gauge"}},
	{"feeler", "Feeler, edge", []string{"feeler gauge", "straight edge", "surface plate"}},
	{"dial", "Dial indicator", []string{"dial indicator", "expanding tool"}},
	{"spring", "Spring, scale", []string{"spring", "spring scale", "scales"}},
	{"torque", "Torque, angle", []string{"torque wrench", "wrench", "angle gauge"}},
	{"speed", "Scan tool, speed", []string{"scan tool", "tachometer"}},
	{"vibration", "Vibration, sound", []string{"vibration meter", "strobe", "inclinometer", "ear", "stethoscope"}},
	{"oil", "Stick, jug, watch", []string{"dipstick", "measuring jug", "stopwatch", "thermometer"}},
	{"hand", "Hand, eye, paper", []string{"hand", "eye", "paper"}},
}

// HeldIn returns the ids of the hands that an instrument belongs to.
func (d Definition) HeldIn() []string {
	var out []string
	for _, h := range Hands {
		if slices.ContainsFunc(d.Hand, func(tool string) bool { return slices.Contains(h.Tools, tool) }) {
			out = append(out, h.ID)
		}
	}
	return out
}

// Output is one computed figure, in SI.
type Output struct {
	ID, Label string
	Value     float64
	Dimension quantity.Dimension
	Unit      string // to show it in
	U         float64
	Low, High float64 // interval that holds it 95 times in 100
	Sampled   bool    // uncertainty from samples
	Whole     bool    // a number of things
	Window    *quantity.Window
	OneSided  string          // "most" or "least" when only that end of the window is a limit
	Verdict   measure.Verdict // against the window; "" without one
}

// Share is how much of the first output's uncertainty one input brings.
type Share struct {
	Input, Label string
	Share        float64
}

// Point is one value for drawing, beside its window.
type Point struct {
	Input   string
	Value   quantity.Quantity
	Verdict string // conforms, below, above, cannot-tell
}

// DerivedReading is a reading that a result states. Likelihood is by state of the finding.
type DerivedReading struct {
	Finding    string
	State      string
	Likelihood map[string]float64
	Value      string
}

// Result of an instrument.
type Result struct {
	Read     map[string]string // by input: how what was typed was understood
	Headline string            // what the numbers mean, first sentence
	Detail   string
	Outputs  []Output
	Matters  []Share // what matters most, largest first; empty when nothing is uncertain
	Unstable bool    // within the uncertainty some inputs make no sense
	Points   []Point
	Figures  []Chart
	Stated   []DerivedReading
	Next     []Follow // instruments that go on with it
	Causes   []string // ids of the unit's knowledge that the leading answer could come from
}

// InputError names the input at fault.
type InputError struct {
	Input, Reason, Accepted string
}

func (e *InputError) Error() string {
	return fmt.Sprintf("%s: %s; accepted: %s", e.Input, e.Reason, e.Accepted)
}

// Impossible names the input behind an error of the computation: its package's name is nobody's business here.
func Impossible(input string, err error) error {
	reason := err.Error()
	if _, after, ok := strings.Cut(reason, ": "); ok {
		reason = after
	}
	reason, accepted, ok := strings.Cut(reason, "; want ")
	if !ok {
		accepted = "values that can be true together"
	}
	return &InputError{input, reason, accepted}
}

// UnknownError is returned for an instrument, or a part of one, that does not exist.
type UnknownError struct{ Name, Accepted string }

func (e *UnknownError) Error() string {
	return fmt.Sprintf("no instrument %q; accepted: %s", e.Name, e.Accepted)
}

// leaveToMeasure empties what must be measured before it may be stated of a vehicle: what stood there becomes the example.
func (d *Definition) leaveToMeasure() {
	if len(d.States) == 0 {
		return
	}
	for i := range d.Inputs {
		if in := &d.Inputs[i]; in.Gauged && in.Default != "" {
			in.Default, in.Example = "", in.Default
		}
	}
}

// Parts are what the instrument can be fitted to, the first being taken when none is named.
func (d Definition) Parts(u *unitsheet.Unit) []Option {
	if d.PartsOn == nil {
		return nil
	}
	return d.PartsOn(u)
}

// Name is the id with the part.
func (d Definition) Name() string {
	if d.Part == "" {
		return d.ID
	}
	return d.ID + ":" + d.Part
}

func (d Definition) inputIDs() string {
	var out []string
	for _, in := range d.Inputs {
		out = append(out, in.ID)
	}
	return strings.Join(out, ", ")
}

// In is the place of an input, to be changed by fit.
func (d *Definition) In(id string) *Input {
	for i := range d.Inputs {
		if d.Inputs[i].ID == id {
			return &d.Inputs[i]
		}
	}
	panic("instrument " + d.ID + " has no input " + id) // a slip in the catalogue: every instrument is fitted in a test
}

func hasOption(options []Option, id string) bool {
	for _, o := range options {
		if o.ID == id {
			return true
		}
	}
	return false
}

func optionIDs(options []Option, prefix string) string {
	var out []string
	for _, o := range options {
		out = append(out, prefix+o.ID)
	}
	return strings.Join(out, ", ")
}
