package fluid

import (
	"fmt"
	"math"
)

// Foreign is what got into a fluid that does not belong there.
type Foreign string

// Foreign fluids that are told apart: coolant holds glycol, which loosens the glue of paper linings; water alone swells them.
const (
	Water   Foreign = "water"
	Coolant Foreign = "coolant"
)

// Linings are what was seen of paper linings that ran in it.
type Linings string

// States of linings.
const (
	Unseen Linings = "unseen"
	Sound  Linings = "sound"
	Loose  Linings = "loose" // soft, swollen, flaking
)

// Verdict is what is done with a part.
type Verdict string

// What is done with a part.
const (
	Renew Verdict = "renew"
	Clean Verdict = "clean"
	Look  Verdict = "look"
)

// Fate is what becomes of one kind of part in spoilt fluid, and why.
type Fate struct {
	Part    string // lining, converter, cooler, filter, seal, valve-body, bearing
	Verdict Verdict
	Why     string
}

// Spoilt is a unit whose fluid took something up.
type Spoilt struct {
	By      Foreign
	Amount  float64 // share of the fluid
	Metres  float64 // driven with it
	Stood   float64 // seconds that it stood with it
	Linings Linings
}

// Where linings count as having taken it up (common practice, no source): glycol works within a short drive, water takes
// longer or more.
const (
	coolantDrive = 50e3  // metres
	waterDrive   = 500e3 // metres
	waterMuch    = 0.03  // share
	rustAfter    = 7 * 86400.0
)

// TookUp reports whether its linings must be taken to have taken it up, whatever they look like from outside.
func (s Spoilt) TookUp() bool {
	switch {
	case s.Linings == Loose:
		return true
	case s.By == Coolant:
		return s.Metres >= coolantDrive
	}
	return s.Linings != Sound && s.Metres >= waterDrive && s.Amount >= waterMuch
}

// Fates says what is done with each kind of part (common practice, no source; the maker's word goes first).
func (s Spoilt) Fates() []Fate {
	coolant := s.By == Coolant
	var out []Fate
	add := func(part string, v Verdict, why string) { out = append(out, Fate{part, v, why}) }
	switch {
	case s.TookUp() && coolant:
		add("lining", Renew, "glycol loosens the glue: they come off later, even if they look sound")
		add("converter", Renew, "its clutch has the same lining, and it cannot be washed out")
	case s.TookUp():
		add("lining", Renew, "they took water up, swell and flake")
		add("converter", Renew, "its clutch has the same lining; not where it is plain inside: then drain it dry")
	case coolant:
		add("lining", Look, "a little coolant and hardly driven: flush at once; linings may still come loose, and the customer is told so")
		add("converter", Clean, "drained and flushed with it, more than once")
	default:
		add("lining", Look, "they dry in clean warm fluid; see whether friction comes back before they are taken out")
		add("converter", Clean, "drained and flushed with it, more than once")
	}
	if coolant {
		add("cooler", Renew, "it let the coolant in; pressure-test it apart before it is blamed, and the radiator with it")
		add("seal", Look, "glycol hardens some rubbers: lips that run hot first")
	} else {
		add("cooler", Clean, "flushed; it is not the way in unless coolant is missing")
		add("seal", Look, "vent, filler, tube and electrical plug: one of them let the water in")
	}
	add("filter", Renew, "paper holds water and falls apart")
	add("valve-body", Clean, "taken down, washed and blown dry where the fluid was milky; steel valves and springs rust")
	if s.Stood >= rustAfter {
		add("bearing", Look, "it stood with it: rust on races and gears, at the level of the fluid")
	}
	return out
}

// Dry is how often to drain and fill until no more than limit of something is left, when a drain takes this share of the
// whole. All are shares. It fails when they are not between 0 and 1.
func Dry(amount, limit, drain float64) (int, error) {
	if !(amount >= 0 && amount <= 1) || !(limit > 0 && limit < 1) {
		return 0, fmt.Errorf("fluid: from %.3g %% to %.3g %%; want shares of the fluid, the limit more than nothing", 100*amount, 100*limit)
	}
	if amount <= limit {
		return 0, nil
	}
	return Changes(drain, 1-limit/amount)
}

// Left is the share that is left of an amount after n drains that take this share of the whole.
func Left(amount, drain float64, n int) float64 { return amount * math.Pow(1-drain, float64(n)) }

// Cooler is how a cooler is built, as far as flushing goes.
type Cooler string

// Kinds of cooler.
const (
	Tube    Cooler = "tube"    // a plain tube, open from end to end
	Plates  Cooler = "plates"  // many passages side by side: what one holds is passed by through the others
	Guarded Cooler = "guarded" // with a thermostat or check valve inside or in its line
)

// Flush is what becomes of the cooler after debris.
type Flush struct {
	Verdict Verdict
	Why     string
	Valve   bool // its thermostat or check valve is renewed or taken apart in any case
}

// FlushAfter decides about a cooler by its kind, the worst that came down to it (film, lining, metal) and the flow that it
// passes after flushing both ways against the least that is good; flow is 0 when not measured yet. Common practice, no
// source.
func FlushAfter(kind Cooler, debris string, flow, least float64) Flush {
	out := Flush{Valve: kind == Guarded && debris != "film"}
	through := flow > 0 && flow >= least
	switch {
	case debris == "film" && (flow == 0 || through):
		out.Verdict, out.Why = Clean, "fine paste is ordinary: new fluid takes it along"
	case flow > 0 && flow < least:
		out.Verdict, out.Why = Renew, "it was flushed and still passes too little"
	case debris == "metal" && kind != Tube:
		out.Verdict, out.Why = Renew, "metal lies in passages that the flush passes by, and comes out into the new unit"
	case debris == "metal" && through:
		out.Verdict, out.Why = Clean, "a plain tube that passes enough, flushed backwards until nothing more comes; a filter in the return line catches what is left"
	case debris == "lining" && kind == Plates && !through:
		out.Verdict, out.Why = Look, "flush it backwards, then read the flow: lining sits in passages that others pass by"
	case through:
		out.Verdict, out.Why = Clean, "flushed backwards first, and it passes enough"
	default:
		out.Verdict, out.Why = Look, "flush it backwards, then forwards, then read the flow"
	}
	return out
}
