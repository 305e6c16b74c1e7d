package shifts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"
)

// Window is from where to where a value of a sound shift lies.
type Window struct{ Low, High float64 }

// Holds reports whether a value is in it, or cannot be told from being in it.
func (w Window) Holds(x, u float64) bool { return x+u >= w.Low && x-u <= w.High }

// Windows are those of a kind of shift.
type Windows struct {
	Inertia, Fill, Overlap, Flare, After Window
	Rise                                 map[string]Window // by element; only from sound shifts
	Shifts                               int               // sound ones that they are from; 0: usual ones
}

// Usual windows of an upshift (judgment, no source): what a unit in order stays in, whatever its make. A recording of a sound one says it better.
var usual = Windows{Inertia: Window{0, 0.75}, Fill: Window{0.05, 0.40}, Overlap: Window{-0.05, 0.20}, Flare: Window{0, 90}, After: Window{-20, 20}}

// Bands of a little more than what sound shifts did (from the study).
const (
	moreTime  = 0.030
	moreSpeed = 25.0
	moreRise  = 20e3 // Pa
	likeLoad  = 0.15 // of the throttle
	// leastScatter values tell how far they scatter: a sound one is among the next thousand outside so many deviations.
	leastScatter, scatters = 6, 3.0
)

// WindowsOf are those of a shift: from sound shifts of the same gears at like throttle when there are any, else the usual ones.
func WindowsOf(x Shift, sound []Shift) Windows {
	var inertia, fill, overlap, flare, after []float64
	rise := map[string][]float64{}
	for _, s := range sound {
		if s.From != x.From || s.To != x.To || s.Unfinished || math.Abs(s.Throttle-x.Throttle) > likeLoad {
			continue
		}
		inertia, flare, after = append(inertia, s.Inertia), append(flare, s.Flare), append(after, s.After)
		if f, _, ok := s.Fill(); ok {
			fill = append(fill, f)
		}
		if o, _, ok := s.Tie(); ok {
			overlap = append(overlap, o)
		}
		for id, v := range s.Rise {
			rise[id] = append(rise[id], v)
		}
	}
	if len(inertia) == 0 {
		return usual
	}
	out := Windows{Inertia: around(inertia, moreTime), Fill: usual.Fill, Overlap: usual.Overlap, Flare: around(flare, moreSpeed), After: around(after, moreSpeed/2), Shifts: len(inertia)}
	out.Rise = map[string]Window{}
	out.Flare.Low = 0 // there is no less than none
	if len(fill) > 0 {
		out.Fill = around(fill, moreTime)
	}
	if len(overlap) > 0 {
		out.Overlap = around(overlap, moreTime)
	}
	for id, v := range rise {
		out.Rise[id] = around(v, moreRise)
	}
	return out
}

// around is from the least to the greatest of some values, or as far as they scatter, widened: by so much, and by more the fewer they are.
func around(v []float64, more float64) Window {
	low, high := slices.Min(v), slices.Max(v)
	if len(v) >= leastScatter {
		mean, sd := stat.MeanStdDev(v, nil)
		low, high = math.Min(low, mean-scatters*sd), math.Max(high, mean+scatters*sd)
	}
	more *= 1 + 2/math.Sqrt(float64(len(v)))
	return Window{low - more, high + more}
}

// Finding is what of a shift is out of its window.
type Finding struct {
	Long, Quick, Flared   bool
	FillsLate, FillKnown  bool
	Tied, OverlapKnown    bool
	SlipsAfter            bool
	LowPressure, TapKnown bool // of what comes on, once it is on, against the line
	Hard                  bool // what comes on gets more pressure at once than in sound shifts
}

// Any reports whether anything is out of its window.
func (f Finding) Any() bool {
	return f.Long || f.Quick || f.Flared || f.FillsLate || f.Tied || f.SlipsAfter || f.LowPressure || f.Hard
}

// State is what the road test calls it, by what matters most.
func (f Finding) State() string {
	switch {
	case f.Tied:
		return "tie-up"
	case f.Flared:
		return "flare"
	case f.Long, f.FillsLate:
		return "delay"
	case f.Quick, f.Hard:
		return "harsh"
	}
	return "normal"
}

// Held holds a shift against its windows. A value counts as out when its uncertainty does not bring it back.
func (w Windows) Held(s Shift) Finding {
	f := Finding{Long: s.Inertia-s.InertiaU > w.Inertia.High, Quick: s.Inertia+s.InertiaU < w.Inertia.Low, Flared: !s.Down && s.Flare-s.FlareU/2 > w.Flare.High, SlipsAfter: s.After-s.AfterU > w.After.High}
	if fill, u, ok := s.Fill(); ok {
		f.FillKnown, f.FillsLate = true, fill-u > w.Fill.High
	}
	if o, u, ok := s.Tie(); ok {
		f.OverlapKnown, f.Tied = true, o-u > w.Overlap.High
	}
	for _, share := range s.Carried {
		f.TapKnown = true
		f.LowPressure = f.LowPressure || share < carriedLeast
	}
	for id, x := range s.Rise {
		if window, ok := w.Rise[id]; ok && x > window.High {
			f.Hard = true
		}
	}
	return f
}

// carriedLeast is the share of the line that a tap has to show once its element is on (common practice, no source: what is lost on the way is small).
const carriedLeast = 0.88
