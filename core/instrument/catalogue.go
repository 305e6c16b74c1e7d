package instrument

import (
	"math"
	"slices"

	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// catalogue makes all instruments anew, so that fitting one changes no other.
func catalogue() []Definition {
	return []Definition{
		stallSpeed(), stallPredicted(), converterWork(), pumpTurning(), statorFreewheel(), lockupSlip(), lockupCapacity(), seatingDepth(), converterForm(),
		plateCapacity(), bandCapacity(), bandAdjust(), servo(), stackClearance(), fillTime(), engagement(), airCheck(), dryClutch(), releaseTravel(), flywheelPlay(),
		linePressure(), pressureRise(), reverseBoost(), feedLimit(), pumpClearance(), regulator(), vacuum(), modulator(), governor(), shiftPoints(), springWire(), springWeigh(), spoolTravel(), orifice(), boreLeak(), leakDown(), droop(),
		fluidLevel(), drainBack(), fluidLook(), leakMap(), debrisTray(), fluidReport(), fluidTrend(), fluidSpoilt(), fluidLoss(), dilution(), fluidLife(), viscosity(), cleanliness(), coolerFlow(), coolerHeat(), coolerFlush(),
		window(), selectiveFit(), flatness(), coning(), runout(), wearLeft(),
		torqueLubricant(), crowfoot(), torqueAngle(), boltCircle(), boltLengths(),
	}
}

// in makes a number; its ends are in the unit.
func num(id, label string, d quantity.Dimension, unit string, low, high float64) Input {
	a, b := si(low, d, unit), si(high, d, unit)
	return Input{ID: id, Label: label, Kind: Number, Dimension: d, Unit: unit, Low: a, High: b}
}

func si(v float64, d quantity.Dimension, unit string) float64 {
	u, ok := quantity.FindUnit(d, unit)
	if !ok {
		panic("no unit " + unit + " of " + string(d)) // a slip in the catalogue: every instrument is made in a test
	}
	return v*u.Factor + u.Offset
}

func count(id, label string, low, high int) Input {
	return Input{ID: id, Label: label, Kind: Count, Dimension: quantity.Ratio, Low: float64(low), High: float64(high)}
}

func choice(id, label string, options ...Option) Input {
	return Input{ID: id, Label: label, Kind: Choice, Options: options}
}

func list(id, label string, d quantity.Dimension, unit string, low, high float64) Input {
	in := num(id, label, d, unit, low, high)
	in.Kind = List
	return in
}

func (in Input) optional() Input { in.Optional = true; return in }

func (in Input) help(text string) Input { in.Help = text; return in }

func (in Input) like(text string) Input { in.Example = text; return in }

func (in Input) preset(text string) Input { in.Default = text; return in }

// from names the results of other instruments that may stand here.
func (in Input) from(results ...string) Input { in.From = results; return in }

// read says that the value is read with the gauge chosen; without one it has this standard uncertainty, in its unit.
func (in Input) read(u float64) Input {
	unit, _ := quantity.FindUnit(in.Dimension, in.Unit)
	in.Gauged, in.U = true, u*unit.Factor
	return in
}

// standing says that nothing at all is known exactly: what stands still does not turn by a little.
func (in Input) standing() Input { in.exactZero = true; return in }

// about gives a value that is not read off a gauge a standard uncertainty, in its unit.
func (in Input) about(u float64) Input {
	unit, _ := quantity.FindUnit(in.Dimension, in.Unit)
	in.U = u * unit.Factor
	return in
}

// put writes what the sheet says into an input.
func (in *Input) put(q quantity.Quantity) {
	if unitsheet.Known(q) {
		in.Default = q.Format(in.Unit)
	}
}

// putSI does so for a bare number of the sheet's parsed values, with digits enough to come back as it went.
func (in *Input) putSI(v float64) {
	in.Default = short(quantity.Quantity{SI: v, Dimension: in.Dimension}, in.Unit) + withUnit(in.Unit)
}

func out(id, label string, v float64, d quantity.Dimension, unit string) Output {
	return Output{ID: id, Label: label, Value: v, Dimension: d, Unit: unit}
}

// whole says that the output counts things.
func (o Output) whole() Output { o.Whole = true; return o }

// within puts an output beside its window.
func (o Output) within(low, high float64) Output {
	o.Window = &quantity.Window{Low: quantity.Quantity{SI: low, Dimension: o.Dimension}, High: quantity.Quantity{SI: high, Dimension: o.Dimension}}
	return o
}

// atMost puts an output under a limit: what has no lower limit cannot be too near it.
func (o Output) atMost(high float64) Output {
	o = o.within(math.Min(0, high), high)
	o.OneSided = "most"
	return o
}

// atLeast puts an output over a limit; up to is where the drawing ends.
func (o Output) atLeast(low, upTo float64) Output {
	o = o.within(low, math.Max(low, upTo))
	o.OneSided = "least"
	return o
}

// compare holds an output against its window.
func (o Output) compare() (measure.Comparison, error) {
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

// likelihoods of the states ok, below and above of an output with a window.
func (o Output) likelihoods(inside, below, above string) map[string]float64 {
	c, err := o.compare()
	if err != nil {
		return map[string]float64{inside: 1.0 / 3, below: 1.0 / 3, above: 1.0 / 3} // impossible: run compared it already
	}
	return map[string]float64{inside: c.Inside, below: c.Below, above: c.Above}
}

// stated is a reading of a finding: the likeliest of its states, in this order, softened.
func stated(finding string, states []string, l map[string]float64, value string) DerivedReading {
	return DerivedReading{Finding: finding, State: likeliest(states, l), Likelihood: soften(l), Value: value}
}

// verdict says in words where an output lies.
func verdict(name string, v measure.Verdict) string {
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

// elements lists elements of some kinds as parts.
func elements(kinds ...string) func(*unitsheet.Unit) []Option {
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

// sheetElement is the sheet of the part that the instrument is fitted to.
func sheetElement(d *Definition, u *unitsheet.Unit) (unitsheet.ElementSheet, bool) {
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

// fix takes inputs out whose values the sheet gives: they are not for the user to change.
func (d *Definition) fix(values map[string]float64) {
	d.Inputs = slices.DeleteFunc(d.Inputs, func(in Input) bool { _, ok := values[in.ID]; return ok })
	compute := d.compute
	d.compute = func(v Values) ([]Output, error) {
		for id, x := range values {
			v.numbers[id] = x
		}
		return compute(v)
	}
}

// limitOf is a limit of the sheet, if it has it.
func limitOf(u *unitsheet.Unit, id string) *quantity.Window {
	if u == nil {
		return nil
	}
	if w, ok := u.Limits[id]; ok {
		return &w
	}
	return nil
}

// ordered refuses a window whose high end is not above its low end.
func ordered(v Values, low, high string) error {
	if v.N(low) < v.N(high) {
		return nil
	}
	return &InputError{high, "not above the low end", "a window with its high end above its low end"}
}

// lining refuses a lining whose diameters are the wrong way round.
func lining(v Values) error {
	if v.N("inner") < v.N("outer") {
		return nil
	}
	return &InputError{"inner", "the lining's inner diameter is not under its outer one", "an inner diameter under the outer one"}
}

// Cautions stand before the first input of an instrument whose measuring can hurt; the maker's procedure goes first.
const (
	cautionStall     = "Stall test: 5 s at most, brakes on, wheels chocked, nobody in front; let it cool before the next."
	cautionPressure  = "Oil at the tap is hot and under pressure: gauge and hose rated for it, eyes protected, hoses clear of what turns."
	cautionAir       = "Compressed air throws pistons out: low pressure, a rag over it, fingers and eyes away."
	cautionRunning   = "Engine runs: wheels off the ground or chocked, sleeves and hoses clear of what turns."
	cautionSpring    = "A spring under load jumps: eyes protected, pressed in a guide."
	cautionConverter = "A full converter is heavy and its edge is sharp: drained, gloves, on a bench."
	cautionUnder     = "Under a raised vehicle: locked lift or stands, shake test, chocks. Hot oil drips: eyes and hands covered."
	cautionCleaner   = "Cleaner away from hot parts and flames, skin covered; nothing chlorinated where welding may follow. What runs off is waste by local rules."
	cautionWaste     = "Used fluid is waste by local rules, never into drain or soil; oil with coolant in it apart from the rest. Skin covered."
	cautionTurn      = "Turn the part by hand only: fingers clear of indicator and teeth."
)
