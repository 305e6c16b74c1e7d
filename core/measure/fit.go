package measure

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
)

// Place is where one part of several thicknesses can go; equal places share a Place. Stock is how many of each thickness
// there are, a negative number for as many as wanted.
type Place struct {
	Count     int
	Thickness []float64
	Stock     []int
}

// Fit is one way to fill the places.
type Fit struct {
	Pieces [][]int // by place and thickness: how many
	Room   float64 // that is left: depth less all pieces
	Off    float64 // distance of Room from the target
}

// Fits is the outcome of a selective fit.
type Fits struct {
	Best    []Fit // within the limits, nearest to the target first
	Within  int   // how many there are within the limits
	Tried   int   // how many there are in all
	Nearest Fit   // nearest to the limits when none is within: the proof that none exists
}

// Limits of a selective fit: beyond them counting all ways would take too long.
const (
	MostPlaces = 14
	mostWays   = 3_000_000
	shownFits  = 12
)

// SelectiveFit counts every way to fill places that together leave low…high of depth, and ranks them by distance from
// target; among equals the fewest thicknesses come first. All ways are looked at, so that "none" is proved. It fails on
// input that has no ways or more than three million.
func SelectiveFit(depth float64, places []Place, low, high, target float64) (Fits, error) {
	total, ways := 0, 1.0
	for i, p := range places {
		if p.Count < 1 || len(p.Thickness) == 0 || len(p.Stock) != len(p.Thickness) {
			return Fits{}, fmt.Errorf("measure: place %d has nothing to choose from", i+1)
		}
		for _, t := range p.Thickness {
			if !(t > 0) || math.IsInf(t, 0) {
				return Fits{}, fmt.Errorf("measure: place %d: thickness %v; want above 0", i+1, t)
			}
		}
		total += p.Count
		ways *= multisets(p.Count, len(p.Thickness))
	}
	if total == 0 || total > MostPlaces || ways > mostWays {
		return Fits{}, fmt.Errorf("measure: %d places with %.0f ways; want 1 to %d places and at most %d ways", total, ways, MostPlaces, mostWays)
	}
	if !(low <= high) || !(target >= low && target <= high) {
		return Fits{}, errors.New("measure: the target must lie within the limits")
	}
	s := &search{places: places, low: low, high: high, target: target, missed: math.Inf(1)}
	for _, p := range places {
		s.now = append(s.now, make([]int, len(p.Thickness)))
	}
	s.fill(0, 0, places[0].Count, depth)
	if s.out.Tried == 0 {
		return Fits{}, errors.New("measure: there are too few pieces to fill the places")
	}
	slices.SortStableFunc(s.out.Best, better)
	s.out.Best = s.out.Best[:min(shownFits, len(s.out.Best))]
	return s.out, nil
}

// multisets is how many ways there are to choose k of n with repetition.
func multisets(k, n int) float64 {
	out := 1.0
	for i := 1; i <= k; i++ {
		out *= float64(n+i-1) / float64(i)
	}
	return out
}

type search struct {
	places            []Place
	low, high, target float64
	now               [][]int
	missed            float64 // distance of the nearest so far from the limits
	out               Fits
}

// fill puts pieces of thickness t and later ones into place p, of which left are still empty.
func (s *search) fill(p, t, left int, room float64) {
	place := s.places[p]
	if left == 0 {
		if p+1 < len(s.places) {
			s.fill(p+1, 0, s.places[p+1].Count, room)
			return
		}
		s.take(room)
		return
	}
	if t == len(place.Thickness) {
		return
	}
	most := left
	if place.Stock[t] >= 0 {
		most = min(most, place.Stock[t])
	}
	least := 0
	if t == len(place.Thickness)-1 {
		least = left // the last one fills what is still empty
	}
	for n := least; n <= most; n++ {
		s.now[p][t] = n
		s.fill(p, t+1, left-n, room-float64(n)*place.Thickness[t])
	}
	s.now[p][t] = 0
}

func (s *search) take(room float64) {
	s.out.Tried++
	const slack = 1e-12 // sums of thicknesses carry rounding; no gauge sees a picometre
	miss := max(s.low-room, room-s.high, 0)
	if miss > slack {
		if s.out.Within == 0 && miss < s.missed {
			s.missed, s.out.Nearest = miss, s.fit(room)
		}
		return
	}
	s.out.Within++
	off := math.Abs(room - s.target)
	if len(s.out.Best) >= 4*shownFits { // sort now and then and keep the head
		slices.SortStableFunc(s.out.Best, better)
		s.out.Best = s.out.Best[:shownFits]
	}
	if len(s.out.Best) >= shownFits && off > s.out.Best[shownFits-1].Off+slack && sorted(s.out.Best[:shownFits]) {
		return
	}
	s.out.Best = append(s.out.Best, s.fit(room))
}

func sorted(f []Fit) bool { return slices.IsSortedFunc(f, better) }

func (s *search) fit(room float64) Fit {
	out := Fit{Room: room, Off: math.Abs(room - s.target)}
	for _, n := range s.now {
		out.Pieces = append(out.Pieces, slices.Clone(n))
	}
	return out
}

// better orders fits: nearer to the target, then fewer different thicknesses.
func better(a, b Fit) int {
	if math.Abs(a.Off-b.Off) > 1e-9 {
		return cmp.Compare(a.Off, b.Off)
	}
	return cmp.Compare(a.kinds(), b.kinds())
}

func (f Fit) kinds() int {
	out := 0
	for _, p := range f.Pieces {
		for _, n := range p {
			if n > 0 {
				out++
			}
		}
	}
	return out
}
