package teeth

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"innercompass/core/gearing"
)

// The bounds of the search: wide ones, judgment, no source.
const (
	leastSun, mostSun       = 18, 60
	leastPlanet, mostPlanet = 12, 45
	mostRing                = 130
	leastCount, mostCount   = 2, 6
	leastGear, mostGear     = 11, 60
	leastSum, mostSum       = 44, 84 // of a pair of gears
	leastFinal, mostFinal   = 2.4, 5.2
	leastSprocket           = 25
	mostSprocket            = 50
)

// Bounds says in words within what a search is complete.
func (t Train) Bounds() string {
	out := ""
	if len(t.Sets) > 0 {
		out = fmt.Sprintf("suns of %d to %d teeth, planets of %d to %d, rings to %d; %d to %d planets, evenly spaced", leastSun, mostSun, leastPlanet, mostPlanet, mostRing, leastCount, mostCount)
	}
	if len(t.Pairs) > 0 {
		if out != "" {
			out += "; "
		}
		out += fmt.Sprintf("gears of %d to %d teeth, %d to %d in a pair", leastGear, mostGear, leastSum, mostSum)
	}
	if t.Final {
		out += fmt.Sprintf("; a final drive of %.1f to %.1f", leastFinal, mostFinal)
	}
	return out
}

// SetTeeth are the teeth of one set. A simple set has no Inner, only one with two suns has SmallSun and Short.
type SetTeeth struct {
	Sun      int `json:"sun"`
	SmallSun int `json:"small_sun,omitempty"`
	Planet   int `json:"planet"`
	Inner    int `json:"inner,omitempty"`
	Short    int `json:"short,omitempty"`
	Ring     int `json:"ring"`
	Count    int `json:"count"`
}

// Check reports whether the set can be put together.
func (s SetTeeth) Check(k Kind) error {
	switch k {
	case Double:
		return gearing.CheckDoublePinionSet(s.Sun, s.Inner, s.Planet, s.Ring, s.Count)
	case TwoSuns:
		return gearing.CheckCompoundSet(s.Sun, s.SmallSun, s.Planet, s.Short, s.Ring, s.Count)
	}
	return gearing.CheckSimpleSet(s.Sun, s.Planet, s.Ring, s.Count)
}

// PairTeeth are the teeth of a pair of gears.
type PairTeeth struct {
	A int `json:"a"`
	B int `json:"b"`
}

// value is a proportion and the teeth that give it.
type value struct {
	x     float64
	sets  []SetTeeth
	pairs []PairTeeth
}

// list is every value that a kind of unknown may have, in rising order.
type list []value

// gathered sorts values and joins those that are equal: fractions of whole numbers this small are equal or well apart.
func gathered(in []value) list {
	slices.SortFunc(in, func(a, b value) int { return cmp.Compare(a.x, b.x) })
	var out list
	for _, v := range in {
		if n := len(out); n > 0 && math.Abs(out[n-1].x-v.x) < 1e-9 {
			out[n-1].sets = append(out[n-1].sets, v.sets...)
			out[n-1].pairs = append(out[n-1].pairs, v.pairs...)
			continue
		}
		out = append(out, v)
	}
	return out
}

func simpleList() list {
	var in []value
	for _, s := range simpleSets() {
		in = append(in, value{x: float64(s.Ring) / float64(s.Sun), sets: []SetTeeth{s}})
	}
	return gathered(in)
}

func simpleSets() []SetTeeth {
	var out []SetTeeth
	for sun := leastSun; sun <= mostSun; sun++ {
		for planet := leastPlanet; planet <= mostPlanet && sun+2*planet <= mostRing; planet++ {
			for n := leastCount; n <= mostCount; n++ {
				if (2*sun+2*planet)%n != 0 {
					continue
				}
				if s := (SetTeeth{Sun: sun, Planet: planet, Ring: sun + 2*planet, Count: n}); s.Check(Simple) == nil {
					out = append(out, s)
				}
			}
		}
	}
	return out
}

func doubleList() list {
	var in []value
	for sun := leastSun; sun <= mostSun; sun++ {
		for ring := sun + 2*leastPlanet; ring <= mostRing; ring++ {
			for n := leastCount; n <= mostCount; n++ {
				if (ring-sun)%n != 0 {
					continue
				}
				if s, ok := pairedPlanets(sun, ring, n); ok {
					in = append(in, value{x: float64(ring) / float64(sun), sets: []SetTeeth{s}})
				}
			}
		}
	}
	return gathered(in)
}

// pairedPlanets finds planets for a set of pairs: the smallest that reach each other, equal or the outer one a little larger.
func pairedPlanets(sun, ring, n int) (SetTeeth, bool) {
	for planet := max(leastPlanet, (ring-sun)/4+1); planet <= min(mostPlanet, (ring-sun)/4+6); planet++ {
		for more := range 3 {
			if s := (SetTeeth{Sun: sun, Inner: planet, Planet: planet + more, Ring: ring, Count: n}); s.Check(Double) == nil {
				return s, true
			}
		}
	}
	return SetTeeth{}, false
}

// The two lists of a set with two suns: ring over large sun and ring over small sun. Which of them go together is decided by joined.
func largeSunList() list {
	var in []value
	for _, s := range simpleSets() {
		if s.Ring >= 54 {
			in = append(in, value{x: float64(s.Ring) / float64(s.Sun), sets: []SetTeeth{s}})
		}
	}
	return gathered(in)
}

func smallSunList() list {
	var in []value
	for ring := 54; ring <= mostRing; ring++ {
		for sun := leastSun; sun <= mostSun && sun < ring; sun++ {
			in = append(in, value{x: float64(ring) / float64(sun), sets: []SetTeeth{{SmallSun: sun, Ring: ring}}})
		}
	}
	return gathered(in)
}

// joined are the sets with two suns of these two proportions. The short planets change no ratio: the largest that fit with some
// room are taken.
func joined(large, small value) []SetTeeth {
	var out []SetTeeth
	if small.x <= large.x {
		return nil
	}
	for _, l := range large.sets {
		for _, s := range small.sets {
			if l.Ring != s.Ring {
				continue
			}
			full := l
			full.SmallSun = s.SmallSun
			for _, short := range []int{full.Planet, full.Planet - 2, full.Planet + 2, full.Planet - 4, full.Planet + 4, full.Planet + 8} {
				full.Short = short
				if short >= leastPlanet && short <= mostPlanet && full.Check(TwoSuns) == nil {
					out = append(out, full)
					break
				}
			}
		}
	}
	return out
}

func pairList(least, most, low, high int) list {
	var in []value
	for a := least; a <= most; a++ {
		for b := least; b <= most; b++ {
			if a+b >= low && a+b <= high {
				in = append(in, value{x: float64(b) / float64(a), pairs: []PairTeeth{{a, b}}})
			}
		}
	}
	return gathered(in)
}

func finalDrives() list {
	return slices.DeleteFunc(pairList(leastGear, mostGear, leastSum, mostSum), func(v value) bool { return v.x < leastFinal || v.x > mostFinal })
}

// Every value of each kind of unknown, made once.
var (
	simpleValues   = simpleList()
	doubleValues   = doubleList()
	largeSunValues = largeSunList()
	smallSunValues = smallSunList()
	gearValues     = pairList(leastGear, mostGear, leastSum, mostSum)
	chainValues    = pairList(leastSprocket, mostSprocket, 2*leastSprocket, 2*mostSprocket)
	idlerValues    = pairList(leastGear, mostGear, 2*leastGear, leastSum+mostGear)
	finalValues    = finalDrives()
)

// list is what one unknown of the train may be.
func (t Train) list(u unknown) list {
	switch {
	case u.set >= 0 && u.small:
		return smallSunValues
	case u.set >= 0 && t.Sets[u.set].Kind == TwoSuns:
		return largeSunValues
	case u.set >= 0 && t.Sets[u.set].Kind == Double:
		return doubleValues
	case u.set >= 0:
		return simpleValues
	case u.pair >= 0 && t.Pairs[u.pair].Chain:
		return chainValues
	case u.pair >= 0 && t.Pairs[u.pair].Idler:
		return idlerValues
	case u.pair >= 0:
		return gearValues
	}
	return finalValues
}
