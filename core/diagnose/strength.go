package diagnose

import (
	"math"
	"slices"
	"strings"
)

// Strength is a named probability of a link.
type Strength struct {
	Name string
	P    float64
}

// Level is a named frequency.
type Level struct {
	Name   string
	Weight float64
}

// Named is what has a name in the sentences of the knowledge base.
type Named interface{ Word() string }

// Word returns the name.
func (s Strength) Word() string { return s.Name }

// Word returns the name.
func (l Level) Word() string { return l.Name }

// Strengths are the named strengths of links, strongest first. Like all numbers of this file they are judgement,
// common practice without a source, until a shop's own outcomes correct them.
var Strengths = []Strength{{"always", 0.97}, {"usually", 0.8}, {"often", 0.55}, {"sometimes", 0.3}, {"rarely", 0.1}, {"never", 0}}

// Levels are the named frequencies of causes, relative to each other.
var Levels = []Level{{"daily", 6}, {"often", 3}, {"sometimes", 1.5}, {"seldom", 0.6}, {"rarely", 0.25}, {"hardly", 0.1}}

// Factors multiply the odds of a cause after something in the history.
var Factors = map[string]float64{"much likelier": 8, "likelier": 3, "less likely": 1.0 / 3, "much less likely": 1.0 / 8}

// Sources are the kinds of reading and how far each is believed: the probability that the reported state is
// the true one. What two people measured, or one measured twice, comes out of two readings.
var Sources = map[string]float64{"customer": 0.82, "seen": 0.97, "measured": 0.99}

// faults is the sum of the prior odds of all causes of a unit: with more, two independent faults at once would
// be implied more often than a shop meets them.
const faults = 0.35

// unlistedWeight is the frequency of "this damage, by a cause that is not listed".
const unlistedWeight = 0.04

func strength(name string) (float64, bool) {
	for _, s := range Strengths {
		if s.Name == name {
			return s.P, true
		}
	}
	return 0, false
}

func level(name string) (float64, bool) {
	for _, l := range Levels {
		if l.Name == name {
			return l.Weight, true
		}
	}
	return 0, false
}

func strengthNames() string {
	var out []string
	for _, s := range Strengths {
		out = append(out, s.Name)
	}
	return strings.Join(out, ", ")
}

// Ageings are the ways in which a cause depends on distance.
var Ageings = []string{"wear", "steady", "early"}

// reference is the distance at which priors hold as written, km.
const reference = 150_000

// hazard is how much likelier a cause is at a distance than at the reference: a Weibull hazard ratio with shape
// 2.5 for wear (it grows with distance) and 0.6 for what fails early, held within bounds because the shapes are
// judgement. A distance of 0 is not known.
func hazard(ages string, km float64) float64 {
	shape := map[string]float64{"wear": 2.5, "early": 0.6}[ages]
	if shape == 0 || km <= 0 {
		return 1
	}
	return min(max(math.Pow(km/reference, shape-1), 0.15), 4)
}

// known is how much likelier a cause is that this design is known for: five times inside its distances, falling
// off outside as a bell in the logarithm of the distance; half of that when the distance is not known.
func known(from, to, km float64) float64 {
	const most = 4
	if km <= 0 {
		return 1 + most/2
	}
	out := 0.0
	switch {
	case km < from:
		out = math.Log(from / km)
	case km > to:
		out = math.Log(km / math.Max(to, 1))
	}
	const width = 0.35 // a third more or less than the window still counts for two thirds
	return 1 + most*math.Exp(-out*out/(2*width*width))
}

func stateIndex(states []FindingState, id string) int {
	return slices.IndexFunc(states, func(s FindingState) bool { return s.ID == id })
}
