package knowledge

import (
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

func stateIndex(states []FindingState, id string) int {
	return slices.IndexFunc(states, func(s FindingState) bool { return s.ID == id })
}
