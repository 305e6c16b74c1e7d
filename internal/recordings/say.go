package recordings

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/orders"
	"innercompass/core/recording"
	"innercompass/core/signal"
	"innercompass/core/vibration"
)

// Noticed says what was noticed while a recording was read.
func Noticed(r Recording) []string {
	var out []string
	say := func(n int, format string, args ...any) {
		if n > 0 {
			out = append(out, fmt.Sprintf(format, args...))
		}
	}
	t := r.Told
	say(t.Repeated+t.Back, "%d rows repeat a time or go back; they are left out. The first is row %d.", t.Repeated+t.Back, t.FirstOff)
	say(t.Gaps, "%d gaps in time, the longest %s s.", t.Gaps, short(t.Longest))
	say(t.Clipped, "%d samples stand at full scale: the level was too high.", t.Clipped)
	if r.Kind == recording.IsTable && r.Rate > 0 {
		for _, c := range r.Channels {
			if c.Values > 0 && c.Values*3 < r.Rows {
				say(1, "%s comes %s times a second.", c.Name, short(float64(c.Values)/math.Max(r.Seconds, 1e-9)))
			}
			say(b2i(c.Values == 0), "%s has no values.", c.Name)
		}
	}
	return out
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// short is a number as it is said, three figures at most.
func short(v float64) string {
	switch a := math.Abs(v); {
	case a >= 100:
		return fmt.Sprintf("%.0f", v)
	case a >= 10:
		return strings.TrimSuffix(fmt.Sprintf("%.1f", v), ".0")
	}
	return strings.TrimRight(strings.TrimRight(fmt.Sprintf("%.2f", v), "0"), ".")
}

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
			return fmt.Sprintf("Nothing turns here. Something stays at %s Hz: the body or a part rings.", short(h.Levels[0].Hertz))
		}
		return "No line stands out of the noise."
	}
	f := h.Found[0]
	switch {
	case f.Unknown > 0.5 || len(f.Could) == 0:
		return fmt.Sprintf("A line at %s turns of the output, of nothing that is known here.", short(f.Order))
	case f.Could[0].Probability > 0.8:
		return upper(h.Named(f.Could[0].Class, f.Could[0].Multiple)) + "."
	case len(f.Could) > 1:
		return upper(h.Named(f.Could[0].Class, f.Could[0].Multiple)) + ", or " + h.Named(f.Could[1].Class, f.Could[1].Multiple) + "."
	}
	return upper(h.Named(f.Could[0].Class, f.Could[0].Multiple)) + ", perhaps."
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
	switch f.Turning {
	case signal.Turns:
		return fmt.Sprintf("Turns with the output: %s Hz here.", short(hz))
	case signal.Stays:
		return "Stays near its frequency at every speed: something rings."
	}
	return fmt.Sprintf("%s Hz at this speed. Order or ringing cannot be told.", short(hz))
}

// Limited says what this recording cannot show.
func (h Heard) Limited() []string {
	var out []string
	for _, l := range h.Limits {
		switch l.What {
		case orders.Short:
			out = append(out, fmt.Sprintf("Only %s s long. Record 30 s or more.", short(l.Value)))
		case orders.Steady:
			out = append(out, fmt.Sprintf("The speed changes by %s %% only. No order can be told from ringing: change speed by 10 %% or more.", short(100*l.Value)))
		case orders.Clipping:
			out = append(out, "Some of it is clipped. Odd multiples may be made by that.")
		case orders.LowCut:
			out = append(out, fmt.Sprintf("A microphone may cut what is below %s Hz. Nothing there proves nothing: use a motion sensor for shakes.", short(l.Value)))
		case orders.Folds:
			out = append(out, fmt.Sprintf("Above %s Hz this rate shows nothing, or folds it down to a wrong place.", short(l.Value)))
		case orders.NoRidge:
			out = append(out, "No line stands out of the noise.")
		case orders.Unsynced:
			side := "late"
			if l.Value < 0 {
				side = "early"
			}
			out = append(out, fmt.Sprintf("The speed came %s s %s; it was moved.", short(math.Abs(l.Value)), side))
		}
	}
	return out
}

// Parting says a drive in a line.
func (h Heard) Parting(p orders.Parting) string {
	if p.At[0] == 0 || p.At[1] == 0 {
		gone := 0
		if p.At[1] == 0 {
			gone = 1
		}
		return "There " + Source(h.Classes[p.Leaders[gone]]) + " is gone."
	}
	return fmt.Sprintf("%s against %s Hz.", short(p.At[0]), short(p.At[1]))
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
