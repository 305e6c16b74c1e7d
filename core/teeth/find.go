package teeth

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
)

// Printed is a ratio as it is printed, for a range in which these elements hold.
type Printed struct {
	ID      string
	Held    []string // one-way clutches that carry among them
	Ratio   float64  // its sign does not matter: Reverse says which way
	Digits  int      // decimals
	Reverse bool
}

// Fit is one set of teeth that gives what is printed.
type Fit struct {
	Proportions []float64          `json:"proportions,omitempty"` // by unknown
	Sets        []SetTeeth         `json:"sets,omitempty"`        // by set of the train
	Pairs       []PairTeeth        `json:"pairs,omitempty"`       // by pair of the train
	Final       float64            `json:"final,omitempty"`       // of the final drive; 0 without one
	Ratios      map[string]float64 `json:"ratios,omitempty"`      // by range: exact, in the sense of the train
	Loose       []string           `json:"loose,omitempty"`       // sets and pairs that no ratio binds: the usual teeth were taken
	score       float64
}

// Suspect is a printed ratio without which teeth are found, and what they would print in its place.
type Suspect struct {
	ID  string  `json:"id"`
	Low float64 `json:"low"` // absolute
	Top float64 `json:"top"`
}

// Miss is a range in which the nearest teeth do not print what is printed.
type Miss struct {
	ID       string  `json:"id"`
	Ratio    float64 `json:"ratio"` // absolute
	Printed  float64 `json:"printed"`
	Decimals int     `json:"decimals"`
}

// Answer is everything that the printed ratios say about the teeth.
type Answer struct {
	Fits     []Fit      `json:"fits,omitempty"` // the likeliest first, at most what was asked for; empty when nothing fits
	Count    float64    `json:"count"`          // sets of proportions that fit, multiples of the same teeth counted once
	AtLeast  bool       `json:"at_least"`       // there are more than were counted
	Cut      bool       `json:"cut"`            // they fit only when the printed ratios were cut, not rounded
	Suspects []Suspect  `json:"suspects,omitempty"`
	Nearest  *Fit       `json:"nearest,omitempty"` // when nothing fits
	Misses   []Miss     `json:"misses,omitempty"`
	Unknowns int        `json:"unknowns"` // proportions that the ratios bind
	Ratios   int        `json:"ratios"`   // different ratios that bind them
	Differs  Difference `json:"differs"`
	Bounds   string     `json:"bounds"`
}

// Difference is what the fits disagree about.
type Difference struct {
	Ratio float64 `json:"ratio"` // the largest difference of an exact ratio
	Fits  int     `json:"fits"`  // of so many fits that were compared
}

// Question is what Find is asked. Most is the number of fits wanted; 0 takes twenty.
type Question struct {
	Train  Train
	Ranges []Printed
	Most   int
}

// nearestTries bounds how far the intervals are widened: doubled each time.
const nearestTries = 12

// Find searches all teeth within the bounds. It fails for a range that does not drive, for a ratio that is none, and when ctx ends.
func Find(ctx context.Context, q Question) (Answer, error) {
	if q.Most == 0 {
		q.Most = 20
	}
	wants, fixed, err := q.wants()
	if err != nil {
		return Answer{}, err
	}
	out := Answer{Bounds: q.Train.Bounds(), Ratios: len(wants)}
	bound := map[int]bool{}
	for _, w := range wants {
		for _, k := range w.ratio.over {
			bound[k] = true
		}
	}
	out.Unknowns = len(bound)
	if fixed != nil {
		out.Suspects = append(out.Suspects, *fixed)
	}
	if q.fill(ctx, &out, wants); len(out.Fits) > 0 || ctx.Err() != nil {
		return out, ctx.Err()
	}
	cut := slices.Clone(wants)
	for i := range cut {
		cut[i].lo, cut[i].hi = q.interval(cut[i].id, 0, 1)
	}
	if q.fill(ctx, &out, cut); len(out.Fits) > 0 || ctx.Err() != nil {
		out.Cut = true
		return out, ctx.Err()
	}
	q.leaveOneOut(ctx, &out, wants)
	q.nearest(ctx, &out, wants)
	return out, ctx.Err()
}

// fill puts the fits of these wants into the answer.
func (q Question) fill(ctx context.Context, out *Answer, wants []want) {
	s := newSearch(ctx, q.Train, wants)
	fits, count := s.all(q.Most)
	out.Fits, out.Count, out.AtLeast = q.named(fits), count, s.full
	for _, p := range q.Ranges {
		least, most := math.Inf(1), math.Inf(-1)
		for _, f := range out.Fits {
			if r, ok := f.Ratios[p.ID]; ok {
				least, most = math.Min(least, r), math.Max(most, r)
			}
		}
		out.Differs.Ratio = math.Max(out.Differs.Ratio, most-least)
	}
	out.Differs.Fits = len(out.Fits)
}

// wants turns printed ratios into intervals. A range that no teeth change is checked at once and comes back as a suspect if it prints
// something else.
func (q Question) wants() ([]want, *Suspect, error) {
	var out []want
	var fixed *Suspect
	for i, p := range q.Ranges {
		at := fmt.Sprintf("ranges[%d]", i)
		if !(math.Abs(p.Ratio) > 0.05 && math.Abs(p.Ratio) < 30) || p.Digits < 0 || p.Digits > 6 {
			return nil, nil, &Error{at, fmt.Sprintf("%s: a ratio of %v with %d decimals", p.ID, p.Ratio, p.Digits), "a ratio between 0.05 and 30"}
		}
		r, outcome, err := q.Train.Derive(p.Held)
		if err != nil {
			return nil, nil, err
		}
		if outcome != Drives {
			return nil, nil, &Error{at, fmt.Sprintf("%s %s with %v", p.ID, outcome, p.Held), "elements with which it drives"}
		}
		lo, hi := q.interval(p.ID, -0.5, 0.5)
		w := want{p.ID, r, lo, hi}
		if len(r.over) == 0 {
			if x := r.At(nil); !w.admits(x) {
				fixed = &Suspect{p.ID, math.Abs(x), math.Abs(x)}
			}
			continue
		}
		if !slices.ContainsFunc(out, func(o want) bool { return o.lo == w.lo && o.hi == w.hi && sameRatio(o.ratio, w.ratio) }) {
			out = append(out, w)
		}
	}
	return out, fixed, nil
}

// interval is where the exact ratio lies when the printed one is off by low to high units of its last digit, in the sense of the train.
func (q Question) interval(id string, low, high float64) (lo, hi float64) {
	for _, p := range q.Ranges {
		if p.ID != id {
			continue
		}
		unit := math.Pow10(-p.Digits)
		lo, hi = math.Abs(p.Ratio)+low*unit, math.Abs(p.Ratio)+high*unit
		sign := q.Train.ForwardSign
		if p.Reverse {
			sign = -sign
		}
		if sign < 0 {
			lo, hi = -hi, -lo
		}
	}
	return lo, hi
}

func sameRatio(a, b Ratio) bool {
	return slices.Equal(a.over, b.over) && slices.Equal(a.p, b.p) && slices.Equal(a.q, b.q)
}

// leaveOneOut finds the ratios without which something fits.
func (q Question) leaveOneOut(ctx context.Context, out *Answer, wants []want) {
	if len(wants) < 2 {
		return
	}
	for i, w := range wants {
		fits, _ := newSearch(ctx, q.Train, slices.Delete(slices.Clone(wants), i, i+1)).all(50)
		if len(fits) == 0 || ctx.Err() != nil {
			continue
		}
		s := Suspect{ID: w.id, Low: math.Inf(1)}
		for _, f := range fits {
			if v := w.ratio.At(f.Proportions); v*w.lo > 0 { // the other way round is no misprint
				s.Low, s.Top = math.Min(s.Low, math.Abs(v)), math.Max(s.Top, math.Abs(v))
			}
		}
		if s.Top > 0 {
			out.Suspects = append(out.Suspects, s)
		}
	}
}

// nearest widens all intervals until something fits.
func (q Question) nearest(ctx context.Context, out *Answer, wants []want) {
	wide := slices.Clone(wants)
	for range nearestTries {
		for i, w := range wide {
			half := w.hi - w.lo
			wide[i].lo, wide[i].hi = w.lo-half/2, w.hi+half/2
		}
		fits, _ := newSearch(ctx, q.Train, wide).all(50)
		if ctx.Err() != nil {
			return
		}
		if len(fits) == 0 {
			continue
		}
		off := func(f Fit) float64 {
			sum := 0.0
			for _, w := range wants {
				v := w.ratio.At(f.Proportions)
				sum += math.Pow((v-(w.lo+w.hi)/2)/(w.hi-w.lo), 2)
			}
			return sum
		}
		best := q.named([]Fit{slices.MinFunc(fits, func(a, b Fit) int { return cmp.Compare(off(a), off(b)) })})[0]
		out.Nearest = &best
		for _, w := range wants {
			if v := w.ratio.At(best.Proportions); !w.admits(v) {
				p := q.Ranges[slices.IndexFunc(q.Ranges, func(p Printed) bool { return p.ID == w.id })]
				out.Misses = append(out.Misses, Miss{w.id, math.Abs(v), math.Abs(p.Ratio), p.Digits})
			}
		}
		return
	}
}

// named works out every range of the fits.
func (q Question) named(fits []Fit) []Fit {
	for i := range fits {
		fits[i].Ratios = map[string]float64{}
	}
	for _, p := range q.Ranges {
		r, outcome, err := q.Train.Derive(p.Held)
		if err != nil || outcome != Drives {
			continue
		}
		for i := range fits {
			fits[i].Ratios[p.ID] = r.At(fits[i].Proportions)
		}
	}
	return fits
}
