package instrument

import (
	"math"
	"slices"

	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// NumberIn makes a number; its ends are in the unit.
func NumberIn(id, label string, d quantity.Dimension, unit string, low, high float64) Input {
	a, b := SI(low, d, unit), SI(high, d, unit)
	return Input{ID: id, Label: label, Kind: Number, Dimension: d, Unit: unit, Low: a, High: b}
}

// SI is a value in SI, given in a unit of the dimension.
func SI(v float64, d quantity.Dimension, unit string) float64 {
	u, ok := quantity.FindUnit(d, unit)
	if !ok {
		panic("no unit " + unit + " of " + string(d)) // a slip in the catalogue: every instrument is made in a test
	}
	return v*u.Factor + u.Offset
}

// CountIn makes a whole number between two ends.
func CountIn(id, label string, low, high int) Input {
	return Input{ID: id, Label: label, Kind: Count, Dimension: quantity.Ratio, Low: float64(low), High: float64(high)}
}

// ChoiceIn makes a choice.
func ChoiceIn(id, label string, options ...Option) Input {
	return Input{ID: id, Label: label, Kind: Choice, Options: options}
}

// ListIn makes a list of numbers; its ends are in the unit.
func ListIn(id, label string, d quantity.Dimension, unit string, low, high float64) Input {
	in := NumberIn(id, label, d, unit, low, high)
	in.Kind = List
	return in
}

// ShownAs says how a choice is put before the eye, and what it is of.
func (in Input) ShownAs(how Shown, of string) Input { in.Shown, in.Of = how, of; return in }

// Maybe says that it may be left empty.
func (in Input) Maybe() Input { in.Optional = true; return in }

// Explained adds what stands below it.
func (in Input) Explained(text string) Input { in.Help = text; return in }

// Like gives an example.
func (in Input) Like(text string) Input { in.Example = text; return in }

// Preset says what stands there beforehand.
func (in Input) Preset(text string) Input { in.Default = text; return in }

// Takes names the results of other instruments that may stand here.
func (in Input) Takes(results ...string) Input { in.From = results; return in }

// ReadWithin says that the value is read with the gauge chosen; without one it has this standard uncertainty, in its unit.
func (in Input) ReadWithin(u float64) Input {
	unit, _ := quantity.FindUnit(in.Dimension, in.Unit)
	in.Gauged, in.U = true, u*unit.Factor
	return in
}

// Standing says that nothing at all is known exactly: what stands still does not turn by a little.
func (in Input) Standing() Input { in.exactZero = true; return in }

// About gives a value that is not read off a gauge a standard uncertainty, in its unit.
func (in Input) About(u float64) Input {
	unit, _ := quantity.FindUnit(in.Dimension, in.Unit)
	in.U = u * unit.Factor
	return in
}

// Put writes what the sheet says into an input.
func (in *Input) Put(q quantity.Quantity) {
	if unitsheet.Known(q) {
		in.Default = q.Format(in.Unit)
	}
}

// PutSI does so for a bare number of the sheet's parsed values, with digits enough to come back as it went.
func (in *Input) PutSI(v float64) {
	in.Default = Short(quantity.Quantity{SI: v, Dimension: in.Dimension}, in.Unit) + withUnit(in.Unit)
}

// Out is an output; its value is in SI, the unit is the one that it is shown in.
func Out(id, label string, v float64, d quantity.Dimension, unit string) Output {
	return Output{ID: id, Label: label, Value: v, Dimension: d, Unit: unit}
}

// Counted says that the output counts things.
func (o Output) Counted() Output { o.Whole = true; return o }

// Within puts an output beside its window.
func (o Output) Within(low, high float64) Output {
	o.Window = &quantity.Window{Low: quantity.Quantity{SI: low, Dimension: o.Dimension}, High: quantity.Quantity{SI: high, Dimension: o.Dimension}}
	return o
}

// AtMost puts an output under a limit: what has no lower limit cannot be too near it.
func (o Output) AtMost(high float64) Output {
	o = o.Within(math.Min(0, high), high)
	o.OneSided = "most"
	return o
}

// AtLeast puts an output over a limit; up to is where the drawing ends.
func (o Output) AtLeast(low, upTo float64) Output {
	o = o.Within(low, math.Max(low, upTo))
	o.OneSided = "least"
	return o
}

// Compare holds an output against its window.
func (o Output) Compare() (measure.Comparison, error) {
	const none = 1e200 // an end that is no limit
	low, high := o.Window.Low.SI, o.Window.High.SI
	switch o.OneSided {
	case "most":
		low = -none
	case "least":
		high = none
	}
	return measure.Compare(o.Value, o.U, low, high)
}

// Likelihoods of the states ok, below and above of an output with a window.
func (o Output) Likelihoods(inside, below, above string) map[string]float64 {
	c, err := o.Compare()
	if err != nil {
		return map[string]float64{inside: 1.0 / 3, below: 1.0 / 3, above: 1.0 / 3} // impossible: run compared it already
	}
	return map[string]float64{inside: c.Inside, below: c.Below, above: c.Above}
}

// Derive is a reading of a finding: the likeliest of its states, in this order, softened.
func Derive(finding string, states []string, l map[string]float64, value string) DerivedReading {
	return DerivedReading{Finding: finding, State: Likeliest(states, l), Likelihood: Soften(l), Value: value}
}

// VerdictWords says in words where an output lies.
func VerdictWords(name string, v measure.Verdict) string {
	switch v {
	case measure.Conforms:
		return name + " is inside its window."
	case measure.Below:
		return name + " is below its window."
	case measure.Above:
		return name + " is above its window."
	}
	return name + " is too near a limit for this gauge to tell."
}

// Elements lists elements of some kinds as parts.
func Elements(kinds ...string) func(*unitsheet.Unit) []Option {
	return func(u *unitsheet.Unit) []Option {
		if u == nil {
			return nil
		}
		var out []Option
		for _, e := range u.Sheet.Elements {
			for _, k := range kinds {
				if k == "plates" && e.Plates != nil || k == "band" && e.Band != nil {
					out = append(out, Option{e.ID, e.Name})
				}
			}
		}
		return out
	}
}

// SheetElement is the sheet of the part that the instrument is fitted to.
func SheetElement(d *Definition, u *unitsheet.Unit) (unitsheet.ElementSheet, bool) {
	if u == nil || d.Part == "" {
		return unitsheet.ElementSheet{}, false
	}
	for _, e := range u.Sheet.Elements {
		if e.ID == d.Part {
			return e, true
		}
	}
	return unitsheet.ElementSheet{}, false
}

// Fix takes inputs out whose values the sheet gives: they are not for the user to change.
func (d *Definition) Fix(values map[string]float64) {
	d.Inputs = slices.DeleteFunc(d.Inputs, func(in Input) bool { _, ok := values[in.ID]; return ok })
	compute := d.Compute
	d.Compute = func(v Values) ([]Output, error) {
		for id, x := range values {
			v.numbers[id] = x
		}
		return compute(v)
	}
}

// LimitOf is a limit of the sheet, if it has it.
func LimitOf(u *unitsheet.Unit, id string) *quantity.Window {
	if u == nil {
		return nil
	}
	if w, ok := u.Limits[id]; ok {
		return &w
	}
	return nil
}

// Ordered refuses a window whose high end is not above its low end.
func Ordered(v Values, low, high string) error {
	if v.N(low) < v.N(high) {
		return nil
	}
	return &InputError{high, "not above the low end", "a window with its high end above its low end"}
}

// Lining refuses a lining whose diameters are the wrong way round.
func Lining(v Values) error {
	if v.N("inner") < v.N("outer") {
		return nil
	}
	return &InputError{"inner", "the lining's inner diameter is not under its outer one", "an inner diameter under the outer one"}
}
