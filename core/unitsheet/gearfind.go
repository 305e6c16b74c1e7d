package unitsheet

import (
	"fmt"
	"math"

	"innercompass/core/gearing"
)

// Seen is an observed pair of shaft speeds, in rev/min. Window is the time over which the sensors count, in
// seconds; 0 takes a tenth of a second.
type Seen struct{ In, Out, Window float64 }

// GearFound is which gear a pair of speeds is.
type GearFound struct {
	Speeds  gearing.Speeds // with the uncertainty of the unit's own sensors
	Matches []RangeMatch   // nearest first
	Slips   []ElementSlip  // in the nearest range, by element: the slip that would explain the speeds
}

// RangeMatch is a range held against the observed ratio.
type RangeMatch struct {
	Range Range
	gearing.Match
}

// ElementSlip is the speed across an element (rev/min) if it alone slips.
type ElementSlip struct {
	Element  string
	Slip, To float64
}

// FindGear names the gear that an observed pair of speeds is. The uncertainty follows from the teeth that the
// unit's speed sensors count, one rev/min where the sheet names none.
func (u *Unit) FindGear(s Seen) (GearFound, error) {
	window := s.Window
	if window == 0 {
		window = 0.1
	}
	if !(window > 0 && window <= 60) {
		return GearFound{}, &Problem{Path: "window", Reason: fmt.Sprint(window), Accepted: "above 0, at most 60 s"}
	}
	if !u.RatioKnown() {
		return GearFound{}, &Problem{Path: "in", Reason: "the sheet has no ratios", Accepted: "a unit whose ratios are in its sheet"}
	}
	seen := gearing.Speeds{In: s.In, Out: s.Out, InTol: u.resolution(u.Sheet.Gearing.Input, window), OutTol: u.resolution(u.Sheet.Gearing.Output, window)}
	ratios := make([]float64, len(u.Ranges))
	taken := map[float64]bool{}
	for i, r := range u.Ranges {
		if ratio := r.Healthy.Ratio; r.Driving() && !taken[math.Round(ratio*1e6)] {
			ratios[i], taken[math.Round(ratio*1e6)] = ratio, true // one range for each ratio
		}
	}
	found, err := gearing.Identify(seen, ratios)
	if err != nil {
		return GearFound{}, &Problem{Path: "out", Reason: err.Error(), Accepted: "an output speed that the sensor can tell from standing"}
	}
	out := GearFound{Speeds: seen}
	for _, m := range found {
		out.Matches = append(out.Matches, RangeMatch{u.Ranges[m.Gear], m})
	}
	if len(found) == 0 {
		return out, nil
	}
	if u.Machine == nil {
		return out, nil // the chart cannot say what a slip is across an element
	}
	near := u.Ranges[found[0].Gear]
	for _, e := range u.Elements {
		if !e.Kind.Friction() {
			continue
		}
		slip, to, err := u.Machine.SlipOf(gearing.State{Applied: near.Applied}, e.ID, seen)
		if err == nil {
			out.Slips = append(out.Slips, ElementSlip{e.ID, slip, to})
		}
	}
	return out, nil
}

// resolution is that of the sensor on a member.
func (u *Unit) resolution(member string, window float64) float64 {
	for _, s := range u.Sheet.Sensors {
		if s.Kind == "speed" && s.On == member && member != "" && s.Teeth > 0 {
			return gearing.CountResolution(s.Teeth, window)
		}
	}
	return 1
}
