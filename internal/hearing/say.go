package hearing

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/orders"
	"innercompass/core/signal"
	"innercompass/core/unitsheet"
	"innercompass/core/vibration"
	"innercompass/internal/recordings"
)

// Named is a class as it is said, with its multiple.
func (h Heard) Named(class, multiple int) string {
	name := Source(h.Classes[class])
	if multiple > 1 {
		return fmt.Sprintf("%d times: %s", multiple, name)
	}
	return name
}

// Source is what a class is called: the first two of its sources, the rest by number.
func Source(c vibration.Class) string {
	names := slices.Compact(slices.Clone(c.Names))
	if len(names) > 2 {
		return fmt.Sprintf("%s, %s or %d more", names[0], names[1], len(names)-2)
	}
	return strings.Join(names, " or ")
}

// Reference is the speed of the output for which frequencies are given: the middle of the drive, or of the road a round number.
func (h Heard) Reference() float64 {
	middle := (h.From + h.To) / 2
	v := h.Vehicle
	if v.Axle > 0 && v.Circumference > 0 {
		kmh := middle / v.Axle * v.Circumference * 3.6
		if round := math.Round(kmh/10) * 10; round > 0 {
			return round / 3.6 / v.Circumference * v.Axle
		}
	}
	return middle
}

// Headline says the most of it in a line.
func (h Heard) Headline() string {
	if len(h.Found) == 0 {
		if len(h.Levels) > 0 {
			return fmt.Sprintf("Nothing turns here. Something stays at %s Hz: %s.", recordings.Short(h.Levels[0].Hertz), h.ringing(h.Levels[0].Hertz))
		}
		return "No line stands out of the noise."
	}
	f := h.Found[0]
	for _, x := range h.Found {
		if !h.Given(x) {
			f = x
			break
		}
	}
	switch {
	case h.Given(f):
		return "Nothing else stands out beside the line that gave the speed."
	case f.Unknown > 0.5 || len(f.Could) == 0:
		return fmt.Sprintf("A line at %s turns of the output, of nothing that is known here.", recordings.Short(f.Order))
	case f.Could[0].Probability > 0.8:
		return upper(h.Named(f.Could[0].Class, f.Could[0].Multiple)) + "."
	case len(f.Could) > 1:
		return upper(h.Named(f.Could[0].Class, f.Could[0].Multiple)) + ", or " + h.Named(f.Could[1].Class, f.Could[1].Multiple) + "."
	}
	return upper(h.Named(f.Could[0].Class, f.Could[0].Multiple)) + ", perhaps."
}

// Frequencies between which a dual-mass flywheel swings on its springs (recalled from memory): an engine passes it below idle.
const swingLow, swingHigh = 7.0, 18.0

// ringing says what may stay at a frequency.
func (h Heard) ringing(hz float64) string {
	dual := slices.ContainsFunc(h.Unit.Sheet.Parts, func(p unitsheet.PartSheet) bool { return p.ID == "flywheel" })
	if dual && hz >= swingLow && hz <= swingHigh {
		return "a dual-mass flywheel swings there"
	}
	return "the body or a part rings"
}

func upper(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// Ridge says what a ridge is in a line.
func (h Heard) Ridge(f orders.Found) string {
	hz := f.Order * h.Reference()
	if h.Given(f) {
		return "The speed was taken from this line: it cannot but fit, and proves nothing."
	}
	if f.Beside != nil {
		return fmt.Sprintf("Not explained by itself; it stands %s. Look at that shaft's teeth and seat.", f.Beside.Words())
	}
	switch f.Turning {
	case signal.Turns:
		return fmt.Sprintf("Turns with the output: %s Hz here.", recordings.Short(hz))
	case signal.Stays:
		return "Stays near its frequency at every speed: something rings."
	}
	return fmt.Sprintf("%s Hz at this speed. Order or ringing cannot be told.", recordings.Short(hz))
}

// Limited says what this recording cannot show.
func (h Heard) Limited() []string {
	var out []string
	if h.Cut > 0 {
		out = append(out, fmt.Sprintf("Only the first %s s are heard for what whines. Choose another part for the rest.", recordings.Short(h.Cut)))
	}
	for _, l := range h.Limits {
		switch l.What {
		case orders.Short:
			out = append(out, fmt.Sprintf("Only %s s long. Record 30 s or more.", recordings.Short(l.Value)))
		case orders.Steady:
			out = append(out, fmt.Sprintf("The speed changes by %s %% only. No order can be told from ringing: change speed by 10 %% or more.", recordings.Short(100*l.Value)))
		case orders.Clipping:
			out = append(out, "Some of it is clipped. Odd multiples may be made by that.")
		case orders.LowCut:
			out = append(out, fmt.Sprintf("A microphone may cut what is below %s Hz. Nothing there proves nothing: use a motion sensor for shakes.", recordings.Short(l.Value)))
		case orders.Folds:
			out = append(out, fmt.Sprintf("Above %s Hz this rate shows nothing, or folds it down to a wrong place.", recordings.Short(l.Value)))
		case orders.NoRidge:
			out = append(out, "No line stands out of the noise.")
		case orders.Unsynced:
			side := "late"
			if l.Value < 0 {
				side = "early"
			}
			out = append(out, fmt.Sprintf("The speed came %s s %s; it was moved.", recordings.Short(math.Abs(l.Value)), side))
		}
	}
	return out
}

// Drive says what is driven.
func (h Heard) Drive(p orders.Parting) string {
	name := p.Range
	if r, ok := h.Unit.Range(p.Range); ok {
		name = r.Name
	}
	rpm := fmt.Sprintf("%.0f rpm", math.Round(p.Engine*6)*10)
	switch p.Way {
	case vibration.OtherRange:
		return "Same road speed in " + name + ", engine at " + rpm
	case vibration.Coast:
		return "Selector to N, roll at that road speed"
	case vibration.Standing:
		return "Stand in N, engine at " + rpm
	case vibration.Open:
		return "Same speed with the converter clutch open"
	case vibration.FootOff:
		return "Same speed, foot off"
	case vibration.BeltOff:
		return "Belt off, engine at " + rpm
	}
	return "Wheels off on the lift, same speed"
}

// Caution is what comes before a drive.
func Caution(w vibration.Way) string {
	switch w {
	case vibration.Coast:
		return "Where it is safe and lawful: engine running, steering and brakes assisted. Not with designs that may not roll in N."
	case vibration.Standing, vibration.BeltOff:
		return "Wheels chocked, parking brake on, hands and sleeves clear of belts."
	case vibration.Lift:
		return "Arms locked, discs held by their nuts, nobody beside the shafts. Traction and brake control may act."
	}
	return "On a clear road, a second person reads the tool."
}

// Parting says where the leaders would stand.
func (h Heard) Parting(p orders.Parting) string {
	gone := func(i int) string { return "there " + Source(h.Classes[p.Leaders[i]]) + " is gone" }
	switch {
	case p.Stand[0] == 0 && p.Stand[1] == 0:
		return "Both are gone."
	case p.Stand[0] == 0:
		return upper(gone(0)) + "."
	case p.Stand[1] == 0:
		return upper(gone(1)) + "."
	}
	return fmt.Sprintf("%s against %s Hz.", recordings.Short(p.Stand[0]), recordings.Short(p.Stand[1]))
}

// Assumed says what nobody has measured yet.
func (h Heard) Assumed() []string {
	var out []string
	v := h.Vehicle
	miss := func(b bool, s string) {
		if b {
			out = append(out, s)
		}
	}
	miss(v.Axle == 0, "axle ratio")
	miss(v.Circumference == 0, "tire size")
	miss(v.Cylinders == 0, "cylinders")
	miss(v.Pieces == 0 && v.Joint == "", "shafts and joints")
	return out
}
