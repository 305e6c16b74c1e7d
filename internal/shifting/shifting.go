// Package shifting tells the gear changes of a recording by the unit that is in the vehicle.
package shifting

import (
	"context"
	"fmt"
	"math"
	"slices"

	"innercompass/core/recording"
	"innercompass/core/shifts"
	"innercompass/core/unitsheet"
	"innercompass/internal/library"
	"innercompass/internal/problem"
	"innercompass/internal/recordings"
	"innercompass/internal/traces"
)

// Service tells shifts.
type Service struct {
	Recordings *recordings.Service
	Library    *library.Service
}

// Asked is a part of a recording, and how the unit was driven.
type Asked struct {
	From, To float64 // s; the whole when both are 0
	Selector string  // "" is the position that shifts by itself
}

// Told are the shifts, with the unit that they are told by.
type Told struct {
	shifts.Result
	Unit     *unitsheet.Unit
	Selector string
	Suspects []shifts.Suspect // what may be behind them, the likeliest first; none without shifts
	Limits   []string         // what cannot be told, in words
}

// Shifts tells those of a recording. It needs the speeds of turbine and output, and a unit whose ratios are known.
func (s *Service) Shifts(ctx context.Context, id string, a Asked) (Told, error) {
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
	box := shifts.Of(u, a.Selector)
	if len(box.Gears) < 2 {
		return Told{}, problem.Field("selector", fmt.Sprintf("%q has %d gears with a ratio", a.Selector, len(box.Gears)), "a position in which the unit shifts")
	}
	out := Told{Unit: u, Selector: box.Selector}
	f, done, err := s.Recordings.Open(rec)
	if err != nil {
		return Told{}, err
	}
	defer done()
	if a.To <= a.From {
		a.To = rec.Seconds
	}
	var d shifts.Drive
	if d.Turbine, err = speed(rec, f, recording.Turbine, a); err != nil {
		return Told{}, err
	}
	if d.Output, err = speed(rec, f, recording.Output, a); err != nil {
		return Told{}, err
	}
	if out.Result, err = shifts.Find(d, box, shifts.Usual); err != nil {
		return Told{}, problem.Field("recording", err.Error(), "another part of it, or another recording")
	}
	if len(out.Shifts)+len(out.Missing)+len(out.Engagements) > 0 {
		out.Suspects = shifts.WhoIsToBlame(box.Marks(out.Result, nil))
	}
	out.Limits = limits(out.Result)
	return out, nil
}

// speed is a channel in rev/min.
func speed(rec recordings.Recording, f *traces.File, role recording.Role, a Asked) (shifts.Channel, error) {
	var c shifts.Channel
	i := slices.IndexFunc(rec.Channels, func(c recordings.Channel) bool { return c.Role == role && c.Values > 16 })
	if i < 0 {
		return c, problem.Field("channels", fmt.Sprintf("none is the speed of the %s", role), "say of one channel that it is: shifts are told by turbine and output")
	}
	factor, ok := role.Factor(rec.Channels[i].Unit)
	if !ok {
		return c, problem.Field("channels", fmt.Sprintf("%s is in %q", rec.Channels[i].Name, rec.Channels[i].Unit), "rpm, or another unit of speed")
	}
	err := f.Each([]int{i}, a.From, a.To, func(at []float64, values [][]float32) error {
		for k, x := range values[0] {
			if v := float64(x); !math.IsNaN(v) && (len(c.Time) == 0 || at[k] > c.Time[len(c.Time)-1]) {
				c.Time, c.Value = append(c.Time, at[k]), append(c.Value, v*factor*60)
			}
		}
		return nil
	})
	return c, err
}

// limits says what these speeds cannot tell.
func limits(r shifts.Result) []string {
	out := []string{"From speeds alone: when oil began to fill, and what was commanded, is not told."}
	if r.Rate < 20 {
		out = append(out, fmt.Sprintf("%.0f samples a second: times are known to some 0.07 s, and small flares are missed. 50 a second tell both.", r.Rate))
	}
	if math.Abs(r.Offset) > 0.03 {
		out = append(out, fmt.Sprintf("The two speeds are %.0f ms apart in time: that was taken out.", 1000*math.Abs(r.Offset)))
	}
	return out
}
