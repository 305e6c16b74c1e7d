// Package instrument holds the calculations that a check does: inputs as a practitioner types
// them, a result in words and for drawing, and the readings that it states with their
// likelihoods, so that a value near a limit says only as much as the gauge can tell.
//
// One definition serves page, API and command line. Units: inputs in any unit of their
// dimension; everything inside in SI.
package instrument

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Input is one value to type in.
type Input struct {
	ID        string
	Label     string
	Dimension quantity.Dimension
	Unit      string // of a bare number
	Help      string
	Optional  bool
	Window    *quantity.Window // expected values, for drawing; nil when none
	Feeds     []string         // elements fed, for a pressure by range
}

// Definition is one instrument fitted to a unit.
type Definition struct {
	ID      string
	Title   string
	Answers string
	Source  string
	Limits  string // of validity
	Inputs  []Input
	GaugeU  float64 // standard uncertainty of the usual gauge, SI
	Gauge   string  // the gauge in words
	compute func(map[string]quantity.Quantity) (Result, error)
}

// Point is one value for drawing, beside its window.
type Point struct {
	Input   string
	Value   quantity.Quantity
	Verdict string // conforms, below, above, cannot-tell
}

// Stated is a reading that a result states. Likelihood is by state of the finding.
type Stated struct {
	Finding    string
	State      string
	Likelihood map[string]float64
	Value      string
}

// Result of an instrument.
type Result struct {
	Headline string // what the numbers mean, first sentence
	Detail   string
	Outputs  []Output
	Points   []Point
	Stated   []Stated
}

// Output is one computed figure.
type Output struct {
	Label string
	Value quantity.Quantity
	Unit  string // to show it in
}

// InputError names the input at fault.
type InputError struct {
	Input, Reason, Accepted string
}

func (e *InputError) Error() string {
	return fmt.Sprintf("%s: %s; accepted: %s", e.Input, e.Reason, e.Accepted)
}

// For returns the instrument named in a check, fitted to a unit. Names are "line-pressure",
// "fluid-level", "stall-speed", and "window:LIMIT" for any limit of the sheet.
func For(name string, u *unitsheet.Unit) (Definition, error) {
	if limit, ok := strings.CutPrefix(name, "window:"); ok {
		return window(limit, u)
	}
	switch name {
	case "line-pressure":
		return linePressure(u), nil
	case "fluid-level":
		return fluidLevel(u), nil
	case "stall-speed":
		return stallSpeed(u), nil
	}
	return Definition{}, fmt.Errorf("instrument: no instrument %q; accepted: line-pressure, fluid-level, stall-speed, window:LIMIT", name)
}

// Run parses the typed values and computes. It fails on the first value that cannot be
// read, is missing, or belongs to no input.
func (d Definition) Run(typed map[string]string) (Result, error) {
	values := map[string]quantity.Quantity{}
	for _, in := range d.Inputs {
		text := strings.TrimSpace(typed[in.ID])
		if text == "" {
			if !in.Optional {
				return Result{}, &InputError{in.ID, "missing", "a number with a unit of " + string(in.Dimension) + ", such as 10 " + in.Unit}
			}
			continue
		}
		q, err := quantity.Parse(text, in.Dimension, in.Unit)
		if err != nil {
			var reason, accepted = err.Error(), ""
			if pe, ok := err.(*quantity.ParseError); ok {
				reason, accepted = pe.Reason, pe.Accepted
			}
			return Result{}, &InputError{in.ID, fmt.Sprintf("%q: %s", text, reason), accepted}
		}
		values[in.ID] = q
	}
	for id := range typed {
		if !slices.ContainsFunc(d.Inputs, func(in Input) bool { return in.ID == id }) {
			return Result{}, &InputError{id, "not an input of " + d.ID, d.inputIDs()}
		}
	}
	if len(values) == 0 {
		return Result{}, &InputError{d.Inputs[0].ID, "nothing measured", "at least one value"}
	}
	return d.compute(values)
}

func (d Definition) inputIDs() string {
	var out []string
	for _, in := range d.Inputs {
		out = append(out, in.ID)
	}
	return strings.Join(out, ", ")
}

// likeliest returns the state with the highest likelihood; ties go to the earlier name.
func likeliest(states []string, l map[string]float64) string {
	best := states[0]
	for _, s := range states {
		if l[s] > l[best] {
			best = s
		}
	}
	return best
}

// soften keeps a likelihood away from certainty: a gauge can also be misread or misplaced
// (two in a hundred, common practice, no source).
func soften(l map[string]float64) map[string]float64 {
	const slip = 0.02
	out := make(map[string]float64, len(l))
	for s, p := range l {
		out[s] = slip/float64(len(l)) + (1-slip)*math.Min(1, math.Max(0, p))
	}
	return out
}
