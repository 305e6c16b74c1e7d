// Package shifting tells the gear changes of a recording by the unit that is in the vehicle, what its converter clutch did, and what a change between two drives brought.
package shifting

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"innercompass/core/creep"
	"innercompass/core/lockup"
	"innercompass/core/recording"
	"innercompass/core/shifts"
	"innercompass/core/unitsheet"
	"innercompass/internal/cases"
	"innercompass/internal/library"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/recordings"
	"innercompass/internal/verification"
)

// Service tells shifts.
type Service struct {
	Recordings   *recordings.Service
	Library      *library.Service
	Cases        *cases.Service
	Readings     *readings.Service
	Verification *verification.Service
}

// Asked is a part of a recording, and how the unit was driven.
type Asked struct {
	From, To float64 // s; the whole when both are 0
	Selector string  // "" is the position that shifts by itself
	Sound    string  // id of a recording of a sound unit of the kind, whose shifts give the windows; "" for the usual ones
}

// Told are the shifts, with the unit that they are told by.
type Told struct {
	shifts.Result
	Recording recordings.Recording
	Unit      *unitsheet.Unit
	Box       shifts.Box
	Channels  map[string]int // where what was read stands: by role, and by element for pressures
	Against   []Held         // by shift: its windows and what is out of them
	Suspects  []shifts.Suspect
	Taps      []shifts.Tapped
	Lockup    lockup.Result
	Touch     *Touched
	Limits    []string // what cannot be told, in words
}

// Held is a shift against its windows.
type Held struct {
	shifts.Windows
	shifts.Finding
}

// Kind is how alike the shifts between two gears are.
type Kind struct {
	From, To                string
	N, Out                  int
	Inertia, InertiaScatter float64
	Flare, Throttle         float64
	Look                    int // the shift of the kind to look at: the first that is out of its window, else the first
}

// Shifts tells those of a recording. It needs the speeds of turbine and output, and a unit whose ratios are known.
func (s *Service) Shifts(ctx context.Context, id string, a Asked) (Told, error) {
	out, err := s.find(ctx, id, a)
	if err != nil {
		return Told{}, err
	}
	var sound []shifts.Shift
	if a.Sound != "" && a.Sound != id {
		other, err := s.find(ctx, a.Sound, Asked{Selector: a.Selector})
		if err != nil {
			return Told{}, fmt.Errorf("the recording of a sound unit: %w", err)
		}
		sound = other.Shifts
		out.Touch.since(other.Touch)
	}
	for _, x := range out.Shifts {
		w := shifts.WindowsOf(x, sound)
		h := Held{Windows: w}
		if !x.Unfinished && (!x.Down || w.Shifts > 0) {
			h.Finding = w.Held(x)
		}
		out.Against = append(out.Against, h)
	}
	if len(out.Shifts)+len(out.Missing)+len(out.Engagements) > 0 {
		out.Suspects = shifts.WhoIsToBlame(out.Box.Marks(out.Result, sound))
	}
	out.Taps = out.Box.Taps(out.Result, sound)
	return out, nil
}

// find finds them, without judging.
func (s *Service) find(ctx context.Context, id string, a Asked) (Told, error) {
	rec, err := s.Recordings.Store.Recording(ctx, id)
	if err != nil {
		return Told{}, err
	}
	if rec.Unit == "" {
		return Told{}, problem.Field("unit", "none is given", "the unit in the vehicle: shifts are told by its ratios")
	}
	n, err := s.Library.Unit(ctx, rec.Unit, 0)
	if err != nil {
		return Told{}, err
	}
	u := n.Unit
	if !u.RatioKnown() {
		return Told{}, problem.Field("unit", u.Sheet.Name+" has no ratios on its sheet", "a unit whose gears or ratios are known")
	}
	out := Told{Recording: rec, Unit: u, Box: shifts.Of(u, a.Selector)}
	if len(out.Box.Gears) < 2 {
		return Told{}, problem.Field("selector", fmt.Sprintf("%q has %d gears with a ratio", a.Selector, len(out.Box.Gears)), "a position in which the unit shifts")
	}
	f, done, err := s.Recordings.Open(rec)
	if err != nil {
		return Told{}, err
	}
	defer done()
	if a.To <= a.From {
		a.To = rec.Seconds
	}
	d, at, err := drive(rec, u, f, a)
	if err != nil {
		return Told{}, err
	}
	out.Channels = at
	if out.Result, err = shifts.Find(d, out.Box, shifts.Usual); err != nil {
		return Told{}, problem.Field("recording", err.Error(), "another part of it, or another recording")
	}
	if lockable(u) {
		out.Lockup = lockup.Tell(d, out.Result.Held, 0)
	}
	if travel, torque := place(rec, recording.Travel), place(rec, recording.Torque); travel >= 0 && torque >= 0 {
		x, err := channel(rec, f, travel, a)
		if err != nil {
			return Told{}, err
		}
		y, err := channel(rec, f, torque, a)
		if err != nil {
			return Told{}, err
		}
		var lacks *creep.Error
		touch, err := creep.Tell(x, y, d.Turbine)
		switch {
		case errors.As(err, &lacks):
			out.Limits = append(out.Limits, "No touch point: "+lacks.Error()+".")
		case err != nil:
			return Told{}, err
		default:
			out.Touch = touched(u, touch)
		}
	}
	if len(out.Held) > 0 || out.Touch == nil { // a creep has no gears to tell anything of
		out.Limits = append(out.Limits, limits(out.Result, d)...)
	}
	return out, nil
}

// lockable reports whether the converter clutch can come on at all.
func lockable(u *unitsheet.Unit) bool {
	return slices.ContainsFunc(u.Ranges, func(r unitsheet.Range) bool { return r.Lockup })
}

// Kinds says how alike the shifts of each kind are: that with the greatest share out of its windows first, else in the order in which they come.
func (t Told) Kinds() []Kind {
	var out []Kind
	for i, s := range t.Shifts {
		if s.Unfinished || slices.ContainsFunc(out, func(k Kind) bool { return k.From == s.From && k.To == s.To }) {
			continue
		}
		k := Kind{From: s.From, To: s.To, Look: i}
		var inertia, flare, throttle []float64
		for j, x := range t.Shifts[i:] {
			if x.From != s.From || x.To != s.To || x.Unfinished {
				continue
			}
			inertia, flare, throttle = append(inertia, x.Inertia), append(flare, x.Flare), append(throttle, x.Throttle)
			if t.Against[i+j].Any() {
				if k.Out == 0 {
					k.Look = i + j
				}
				k.Out++
			}
		}
		k.N, k.Inertia, k.Flare, k.Throttle = len(inertia), stat.Mean(inertia, nil), stat.Mean(flare, nil), stat.Mean(throttle, nil)
		if k.N > 1 {
			k.InertiaScatter = stat.StdDev(inertia, nil)
		}
		out = append(out, k)
	}
	slices.SortStableFunc(out, func(a, b Kind) int { return cmp.Compare(b.Out*a.N, a.Out*b.N) })
	return out
}

// Worst is the shift to look at first: of those out of a window the one farthest out, by how many bounds of its windows; the first when none is.
func (t Told) Worst() int {
	best, most := 0, 0.0
	for i, s := range t.Shifts {
		a := t.Against[i]
		if !a.Any() {
			continue
		}
		far := math.Max(s.Inertia/math.Max(a.Inertia.High, 0.1), s.Flare/math.Max(a.Flare.High, 20))
		if o, _, ok := s.Tie(); ok {
			far = math.Max(far, o/math.Max(a.Overlap.High, 0.05))
		}
		if far = math.Max(far, 0.01); far > most {
			best, most = i, far
		}
	}
	return best
}

// limits says what these channels cannot tell.
func limits(r shifts.Result, d shifts.Drive) []string {
	var out []string
	switch {
	case len(d.Pressures) == 0 && len(d.Gear.Time) == 0:
		out = append(out, "From speeds alone: when oil began to fill, and what was commanded, is not told.")
	case len(d.Pressures) == 0:
		out = append(out, "No pressures: when an element begins to hold is not told.")
	case len(d.Gear.Time) == 0:
		out = append(out, "The commanded gear was not recorded: a command is when oil comes.")
	}
	if r.Rate < 20 {
		out = append(out, fmt.Sprintf("%.0f samples a second: times are known to some 0.07 s, and small flares are missed. 50 a second tell both.", r.Rate))
	}
	if math.Abs(r.Offset) > 0.03 && len(r.Shifts) > 0 {
		out = append(out, fmt.Sprintf("The two speeds are %.0f ms apart in time: that was taken out.", 1000*math.Abs(r.Offset)))
	}
	return out
}
