// Package trials holds what was recorded before and after a change against each other: shift for shift of the same gears, at like load and temperature.
//
// A difference of means comes with the bound of Welch's test [1]: two drives have no natural pairs, and below a dozen shifts a bootstrap of means promises too much (measured
// in a study: 80 to 92 of 100 where 95 are said). To the scatter of the shifts what each is known to is added, since a few that agree by chance are not surer than their
// measurement. Where the bound holds nothing, no difference is told.
//
// Times in s, speeds in rev/min.
//
// Reference, recalled from memory: [1] B. L. Welch, The generalization of "Student's" problem when several different population variances are involved, 1947.
package trials

import (
	"math"
	"slices"
	"strings"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"innercompass/core/shifts"
)

// Like is how far two shifts may be apart and still be held against each other (from the study).
const (
	likeThrottle = 0.06
	likeCelsius  = 10.0
)

// Quantity is what is held against each other.
type Quantity string

// The quantities.
const (
	Inertia Quantity = "inertia" // time, s
	Flare   Quantity = "flare"   // rev/min
	Fill    Quantity = "fill"    // s
	Overlap Quantity = "overlap" // s in which both hold
	After   Quantity = "after"   // slip after, rev/min
	Heat    Quantity = "heat"    // J in what comes on
)

// Quantities in the order in which they are said.
var Quantities = []Quantity{Inertia, Flare, Fill, Overlap, After, Heat}

// of is a quantity of a shift with half of its 95 % interval.
func (q Quantity) of(s shifts.Shift) (x, u float64, ok bool) {
	switch q {
	case Inertia:
		return s.Inertia, s.InertiaU, true
	case Flare:
		return s.Flare, s.FlareU, !s.Down
	case Fill:
		return s.Fill()
	case Overlap:
		return s.Tie()
	case After:
		return s.After, s.AfterU, s.AfterU > 0
	case Heat:
		sum := 0.0
		for _, h := range s.Heat {
			sum += h
		}
		return sum, 0.1 * sum, len(s.Heat) > 0
	}
	return 0, 0, false
}

// window is where a sound shift lies.
func (q Quantity) window(w shifts.Windows) (shifts.Window, bool) {
	switch q {
	case Inertia:
		return w.Inertia, true
	case Flare:
		return w.Flare, true
	case Fill:
		return w.Fill, true
	case Overlap:
		return w.Overlap, true
	case After:
		return w.After, true
	}
	return shifts.Window{}, false
}

// Verdict is what a difference means.
type Verdict string

// The verdicts.
const (
	CannotTell Verdict = "cannot-tell" // the bound holds nothing
	Better     Verdict = "better"      // it was out of its window, and is nearer to it now
	Worse      Verdict = "worse"       // it is farther out
	Changed    Verdict = "changed"     // it is another, in its window before and after
)

// Side are the values of one side.
type Side struct {
	Mean, Scatter float64 // Scatter is the standard deviation, 0 for one
	N             int
}

// Difference is of one quantity.
type Difference struct {
	Quantity      Quantity
	Before, After Side
	Change        float64 // after − before
	Bound         float64 // half of the 95 % interval of it; infinite with one shift on a side
	Window        shifts.Window
	Windowed      bool
	Verdict       Verdict
	Needed        int // shifts on each side that would tell what was seen; 0 when it is told, and when nothing near would
}

// Kind are the shifts between two gears.
type Kind struct {
	From, To    string
	Down        bool
	Before      []shifts.Shift // those that were held against each other
	After       []shifts.Shift
	Differences []Difference
	// Unlike says that no two were like: the nearest are held against each other, and nothing is told.
	Unlike                    bool
	ThrottleApart, FluidApart float64
}

// Compare holds two recordings against each other, by kinds of shifts; those that one of them has not are left out. Sound shifts give the windows.
func Compare(before, after, sound []shifts.Shift) []Kind {
	var out []Kind
	for _, s := range before {
		if s.Unfinished || slices.ContainsFunc(out, func(k Kind) bool { return k.From == s.From && k.To == s.To }) {
			continue
		}
		same := func(x shifts.Shift) bool { return !x.Unfinished && x.From == s.From && x.To == s.To }
		a, b := keep(before, same), keep(after, same)
		if len(b) == 0 {
			continue
		}
		out = append(out, compare(Kind{From: s.From, To: s.To, Down: s.Down}, a, b, sound))
	}
	slices.SortStableFunc(out, func(a, b Kind) int {
		if a.Down != b.Down {
			if a.Down {
				return 1
			}
			return -1
		}
		return strings.Compare(a.From+a.To, b.From+b.To)
	})
	return out
}

func keep(list []shifts.Shift, f func(shifts.Shift) bool) []shifts.Shift {
	var out []shifts.Shift
	for _, s := range list {
		if f(s) {
			out = append(out, s)
		}
	}
	return out
}

func like(a, b shifts.Shift) bool {
	return math.Abs(a.Throttle-b.Throttle) <= likeThrottle && (a.Fluid == 0 || b.Fluid == 0 || math.Abs(a.Fluid-b.Fluid) <= likeCelsius)
}

func compare(k Kind, a, b, sound []shifts.Shift) Kind {
	k.Before = keep(a, func(s shifts.Shift) bool {
		return slices.ContainsFunc(b, func(x shifts.Shift) bool { return like(s, x) })
	})
	k.After = keep(b, func(s shifts.Shift) bool {
		return slices.ContainsFunc(a, func(x shifts.Shift) bool { return like(s, x) })
	})
	if len(k.Before) == 0 {
		k.Unlike = true
		best := math.Inf(1)
		for _, x := range a {
			for _, y := range b {
				t, f := math.Abs(x.Throttle-y.Throttle), math.Abs(x.Fluid-y.Fluid)
				if d := t/likeThrottle + f/likeCelsius; d < best {
					best = d
					k.Before, k.After, k.ThrottleApart, k.FluidApart = []shifts.Shift{x}, []shifts.Shift{y}, t, f
				}
			}
		}
	}
	w := shifts.WindowsOf(k.Before[0], sound)
	for _, q := range Quantities {
		d, ok := difference(q, k.Before, k.After)
		if !ok {
			continue
		}
		d.Window, d.Windowed = q.window(w)
		d.Verdict = d.judge(k.Unlike)
		if d.Verdict == CannotTell && !k.Unlike {
			d.Needed = needed(d)
		}
		k.Differences = append(k.Differences, d)
	}
	return k
}

// difference of means with its bound; false where a side has no value.
func difference(q Quantity, before, after []shifts.Shift) (Difference, bool) {
	side := func(list []shifts.Shift) (Side, float64) {
		var v []float64
		known := 0.0
		for _, s := range list {
			if x, u, ok := q.of(s); ok {
				v, known = append(v, x), known+u*u/4
			}
		}
		out := Side{N: len(v)}
		if len(v) > 0 {
			out.Mean = stat.Mean(v, nil)
			known /= float64(len(v))
		}
		if len(v) > 1 {
			out.Scatter = stat.StdDev(v, nil)
		}
		return out, known
	}
	d := Difference{Quantity: q}
	var knownA, knownB float64
	d.Before, knownA = side(before)
	d.After, knownB = side(after)
	if d.Before.N == 0 || d.After.N == 0 {
		return d, false
	}
	d.Change = d.After.Mean - d.Before.Mean
	d.Bound = welch(d.Before, d.After, knownA, knownB)
	return d, true
}

// welch is half of the 95 % interval of a difference of two means; known are the variances to which single values are known at best.
func welch(a, b Side, knownA, knownB float64) float64 {
	if a.N < 2 || b.N < 2 {
		return math.Inf(1)
	}
	va, vb := math.Max(a.Scatter*a.Scatter, knownA)/float64(a.N), math.Max(b.Scatter*b.Scatter, knownB)/float64(b.N)
	if va+vb == 0 {
		return 0
	}
	free := (va + vb) * (va + vb) / (va*va/float64(a.N-1) + vb*vb/float64(b.N-1))
	return distuv.StudentsT{Mu: 0, Sigma: 1, Nu: free}.Quantile(0.975) * math.Sqrt(va+vb)
}

func (d Difference) judge(unlike bool) Verdict {
	if unlike || math.Abs(d.Change) <= d.Bound {
		return CannotTell
	}
	if !d.Windowed {
		return Changed
	}
	was, is := out(d.Window, d.Before.Mean), out(d.Window, d.After.Mean)
	switch {
	case is > was && is > 0:
		return Worse
	case is < was:
		return Better
	}
	return Changed
}

// out is how far a value lies outside a window.
func out(w shifts.Window, x float64) float64 {
	return math.Max(0, math.Max(w.Low-x, x-w.High))
}

// needed is how many shifts on each side would tell a change of this size, were the scatter as it is; 0 when it is known already, or more than fifty.
func needed(d Difference) int {
	scatter := math.Hypot(d.Before.Scatter, d.After.Scatter) / math.Sqrt2
	if d.Before.N < 2 || d.After.N < 2 || scatter == 0 || d.Change == 0 {
		return 0
	}
	for n := 3; n <= 50; n++ {
		s := Side{Scatter: scatter, N: n}
		if welch(s, s, 0, 0) < math.Abs(d.Change) {
			if n <= max(d.Before.N, d.After.N) {
				return 0
			}
			return n
		}
	}
	return 0
}
