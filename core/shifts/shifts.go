package shifts

import (
	"fmt"
	"math"
	"slices"
	"sort"
)

// Gear is a range with its ratio, input over output.
type Gear struct {
	ID, Name string
	Ratio    float64
	Number   int      // what tools call it, from 1 on
	Applied  []string // elements that are on
	free     bool     // with the foot off the turbine falls away from it
	torques  map[string]float64
	slips    map[string]float64
	pressure func(throttle float64) (float64, bool)
}

// line is the pressure that the sheet wants at a throttle, Pa; false where it does not say.
func (g Gear) line(throttle float64) (float64, bool) {
	if g.pressure == nil {
		return 0, false
	}
	return g.pressure(throttle)
}

// Channel is a value over its own stamps, which rise.
type Channel struct{ Time, Value []float64 }

// At is the value at a time, on a straight line between samples; the first or last beyond them.
func (c Channel) At(t float64) float64 {
	i := sort.SearchFloat64s(c.Time, t)
	switch {
	case len(c.Time) == 0:
		return 0
	case i == 0:
		return c.Value[0]
	case i == len(c.Time):
		return c.Value[i-1]
	}
	x := (t - c.Time[i-1]) / (c.Time[i] - c.Time[i-1])
	return c.Value[i-1] + x*(c.Value[i]-c.Value[i-1])
}

// Drive is what was recorded. Without the speeds of turbine and output nothing is told; the others may be empty.
type Drive struct {
	Turbine, Output Channel
	Engine          Channel            // rev/min
	Throttle        Channel            // 0 to 1
	Fluid           Channel            // °C
	Gear            Channel            // commanded, by its number; 0 in park and neutral, −1 in reverse
	Line            Channel            // Pa
	Pressures       map[string]Channel // by element, at its tap, Pa
}

// Noise is how the speeds were read: standard deviations.
type Noise struct{ Turbine, Output float64 }

// Usual are a reader's speeds as most tools give them (common practice, no source).
var Usual = Noise{Turbine: 6, Output: 4}

// Shift is one change of gear.
type Shift struct {
	From, To   string // ids of gears
	Begin      float64
	End        float64
	Inertia    float64 // inertia time, s
	InertiaU   float64 // half of its 95 % interval
	Flare      float64 // beyond the gear that it leaves; below nothing that can be told it is 0
	FlareU     float64
	FlareAt    float64 // when it was greatest, s
	FlareArea  float64 // the same over time, rev/min·s
	After      float64 // slip in the new gear over the 0.3 s after, rev/min
	AfterU     float64
	Down       bool
	Skips      bool // gears that lie between were passed over
	Unfinished bool // the speed came back to the gear that it left

	Phases
	// Overlap is the time in which both hold: from the touch of what comes on to the opening of what lets go, s. Only where both pressures were recorded; below nothing neither held.
	Overlap float64
	// What went with it, each only where it was recorded: 0 otherwise.
	Throttle, Fluid, Line float64
	Heat                  map[string]float64 // of what comes on, J, by the pressure at its tap and its slip
	Way                   []float64          // from 0.4 s before it leaves to 0.4 s after it arrives, evenly: how far it has still to go, 1 in the old gear, 0 in the new
	Speed                 float64            // of the output when it began, rev/min
	Carried               map[string]float64 // pressure at the tap of what came on over that of the line, once it is on
	Rise                  map[string]float64 // pressure at the tap of what comes on soon after its plates touched, Pa
}

// Moment is a time that may not be known.
type Moment struct {
	At, U float64 // s, and half of the 95 % interval
	Known bool
}

// Phases are the borders of a shift. Inertia begins where the turbine leaves its gear and ends where it has come to the next one: both on a line through what was measured.
type Phases struct {
	Command Moment // from the commanded gear, or from the pressure of what comes on
	Filled  Moment // the plates touch: the pressure of what comes on rises above what its springs take
	Leaves  Moment
	Arrives Moment
	Opens   Moment // the pressure of what lets go has fallen to what its springs take
}

// Fill is the time from command to touch; false when one of them is not known.
func (p Phases) Fill() (seconds, u float64, ok bool) {
	return p.Filled.At - p.Command.At, math.Hypot(p.Filled.U, p.Command.U), p.Filled.Known && p.Command.Known
}

// Tie is the time in which both hold; false when a pressure is not known.
func (s Shift) Tie() (seconds, u float64, ok bool) {
	return s.Overlap, math.Hypot(s.Opens.U, s.Filled.U), s.Opens.Known && s.Filled.Known
}

// Torque is the time from touch until the turbine leaves its gear.
func (p Phases) Torque() (seconds, u float64, ok bool) {
	return p.Leaves.At - p.Filled.At, math.Hypot(p.Filled.U, p.Leaves.U), p.Filled.Known && p.Leaves.Known
}

// Result is all that was found.
type Result struct {
	Shifts []Shift
	Offset float64 // by which the output's stamps are later, s
	Rate   float64 // samples a second
	Held   []Stay
	// Engagements are those from neutral with the vehicle standing: only where the commanded gear was recorded.
	Engagements []Engagement
	Missing     []Missing // likewise
	Commanded   bool      // it was commanded to change up at all: likewise
	Recorded    []string  // elements whose pressure was recorded, as the sheet has them
}

// Missing is a shift that was commanded and never came.
type Missing struct {
	At       float64 // of the command, s
	From, To string
	Shares   map[string]float64 // pressures at the taps over the line's while it was waited for; nil where they were not recorded
}

// Stay is a stretch in one gear.
type Stay struct {
	Gear       string
	Begin, End float64
	Commanded  string             // the gear that was commanded all the while; Gear where commands were not recorded, "" where they changed
	Shares     map[string]float64 // pressures at the taps over the line's; nil for a short one, or where they were not recorded
}

// DriveError says what is wrong with a recording.
type DriveError struct{ Reason, Accepted string }

func (e *DriveError) Error() string { return e.Reason + "; accepted: " + e.Accepted }

// samples are both speeds on one time.
type samples struct{ time, turbine, output []float64 }

// aligned brings the output to the turbine's stamps, shifted by an offset, for so many seconds at most.
func (d Drive) aligned(offset, most float64) samples {
	n := len(d.Turbine.Time)
	if n > 0 && most > 0 {
		n = sort.SearchFloat64s(d.Turbine.Time, d.Turbine.Time[0]+most)
	}
	s := samples{d.Turbine.Time[:n], d.Turbine.Value[:n], make([]float64, n)}
	j := 0
	for i, t := range s.time {
		t += offset
		for j+1 < len(d.Output.Time)-1 && d.Output.Time[j+1] < t {
			j++
		}
		a, b := d.Output.Time[j], d.Output.Time[j+1]
		x := math.Min(1, math.Max(0, (t-a)/(b-a)))
		s.output[i] = d.Output.Value[j] + x*(d.Output.Value[j+1]-d.Output.Value[j])
	}
	return s
}

// Find finds, names and measures the shifts of a drive. It fails for channels that are too short, whose times do not rise, or that hold no number.
func Find(d Drive, box Box, n Noise) (Result, error) {
	if err := d.check(); err != nil {
		return Result{}, err
	}
	gears := slices.DeleteFunc(slices.Clone(box.Gears), func(g Gear) bool { return g.Ratio <= 0 })
	if len(gears) < 2 {
		return Result{}, &DriveError{fmt.Sprintf("%d gears with a ratio", len(gears)), "two at least: shifts are told by their ratios"}
	}
	out := Result{Offset: offset(d, gears, n)}
	s := d.aligned(out.Offset, 0)
	span := s.time[len(s.time)-1] - s.time[0]
	out.Rate = float64(len(s.time)-1) / span
	m := measure{d: d, box: box, s: s, n: n, rate: out.Rate, gears: gears}
	var last run
	for i, r := range runs(path(s, gears, n)) {
		if r.gear == between {
			continue
		}
		if i > 0 && last.end > 0 && m.coasts(last, r) {
			continue
		}
		stay := Stay{Gear: gears[r.gear].ID, Begin: s.time[r.begin], End: s.time[r.end-1]}
		stay.Commanded, stay.Shares = m.commandedIn(stay.Gear, stay.Begin, stay.End), d.shares(stay.Begin, stay.End)
		out.Held = append(out.Held, stay)
		if i > 0 && last.end > 0 {
			if last.gear != r.gear {
				x := m.shift(last, r)
				m.phases(&x)
				out.Shifts = append(out.Shifts, x)
			} else if x, ok := m.aborted(last, r); ok {
				out.Shifts = append(out.Shifts, x)
			}
		}
		last = r
	}
	out.Engagements = m.engagements()
	out.Missing = m.missing(out.Shifts)
	out.Recorded = slices.DeleteFunc(slices.Clone(box.order), func(id string) bool { _, ok := d.Pressures[id]; return !ok })
	out.Commanded = slices.ContainsFunc(d.Gear.Value, func(x float64) bool { return math.Round(x) > 1 })
	return out, nil
}

func (d Drive) check() error {
	for name, c := range map[string]Channel{"turbine speed": d.Turbine, "output speed": d.Output} {
		switch {
		case len(c.Time) != len(c.Value):
			return &DriveError{fmt.Sprintf("%s has %d times and %d values", name, len(c.Time), len(c.Value)), "as many of both"}
		case len(c.Time) < 20:
			return &DriveError{fmt.Sprintf("%s has %d samples", name, len(c.Time)), "20 at least"}
		}
		for i := range c.Time {
			switch {
			case math.IsNaN(c.Value[i]) || math.IsInf(c.Value[i], 0) || math.IsNaN(c.Time[i]) || math.IsInf(c.Time[i], 0):
				return &DriveError{fmt.Sprintf("%s, sample %d, is no number", name, i), "numbers"}
			case i > 0 && c.Time[i] <= c.Time[i-1]:
				return &DriveError{fmt.Sprintf("%s, sample %d: its time does not come after the one before", name, i), "times that rise"}
			}
		}
	}
	return nil
}
