// Package scheme holds arrangements of gears that people build, with usual teeth, and asks for teeth in the terms of a unit sheet.
//
// A Scheme is a unit sheet of the least depth that solves. Ask turns the printed ratios of a sheet into a question to the search for
// teeth, Lay puts an answer into its gearing, Propose names the schemes that an apply chart and ratios fit.
package scheme

import (
	"fmt"
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/teeth"
	"innercompass/core/unitsheet"
)

// Scheme is an arrangement of gears with usual teeth.
type Scheme struct {
	ID       string                   `yaml:"id" json:"id"`
	Name     string                   `yaml:"name" json:"name"`
	Hint     string                   `yaml:"hint" json:"hint"`
	Kind     string                   `yaml:"kind" json:"kind"`
	Gearing  unitsheet.GearingSheet   `yaml:"gearing" json:"gearing"`
	Elements []unitsheet.ElementSheet `yaml:"elements" json:"elements"`
	Ranges   []unitsheet.RangeSheet   `yaml:"ranges" json:"ranges"`
}

// Sheet is the scheme as a sheet that compiles.
func (s Scheme) Sheet() unitsheet.Sheet {
	control := "electronic"
	if s.Kind == "manual" {
		control = "hand"
	}
	return unitsheet.Sheet{Format: unitsheet.Format, ID: s.ID, Version: 1, Name: s.Name, Summary: s.Hint, Control: control, Gearing: s.Gearing, Elements: s.Elements, Ranges: s.Ranges}
}

// Forward are the forward ranges by which a table prints ratios: those that follow each other, each gear once.
func (s Scheme) Forward() []string {
	climbs := slices.ContainsFunc(s.Ranges, func(r unitsheet.RangeSheet) bool { return r.From != "" })
	var out []string
	var seen [][]string
	for _, r := range s.Ranges {
		set := held(r)
		again := slices.ContainsFunc(seen, func(o []string) bool { return slices.Equal(o, set) })
		another := climbs && r.From == "" && len(out) > 0 // first gear of another position of the lever
		if r.Outcome == string(gearing.Forward) && !again && !another {
			out, seen = append(out, r.ID), append(seen, set)
		}
	}
	return out
}

func held(r unitsheet.RangeSheet) []string {
	out := slices.Concat(r.Applied, r.Holding)
	slices.Sort(out)
	return out
}

// trained is a train whose teeth are asked for, and which pairs of the sheet each of its pairs stands for.
type trained struct {
	train teeth.Train
	pairs [][]int // indices of gearing.gears: one, or the two about an idler
}

// train reads the arrangement of a sheet without its teeth. It fails for sets that the search does not know.
func train(g unitsheet.GearingSheet, elements []unitsheet.ElementSheet, final bool) (trained, error) {
	t := teeth.Train{Members: slices.Clone(g.Members), Input: g.Input, Output: g.Output, ForwardSign: g.ForwardSign, Final: final}
	for i, s := range g.Sets {
		x := teeth.Set{Name: s.Name, Kind: teeth.Simple, Sun: s.Sun, SmallSun: s.SmallSun, Ring: s.Ring, Carrier: s.Carrier}
		switch {
		case s.StepTeeth != 0 || s.Ring == "":
			return trained{}, &unitsheet.Problem{Path: fmt.Sprintf("gearing.sets[%d]", i), Reason: "stepped planets, or two suns without a ring", Accepted: "sets with a ring and plain planets; give the teeth of others by hand"}
		case s.SmallSun != "":
			x.Kind = teeth.TwoSuns
		case s.InnerTeeth != 0:
			x.Kind = teeth.Double
		}
		t.Sets = append(t.Sets, x)
	}
	out := trained{}
	done := map[int]bool{}
	for i, p := range g.Gears {
		if done[i] {
			continue
		}
		at := []int{i}
		x := teeth.Pair{Name: p.Name, A: p.A, B: p.B, Chain: p.Chain}
		if idler(g, elements, p.B) {
			for j, o := range g.Gears {
				if j != i && o.A == p.B {
					x.B, x.Idler, at = o.B, true, []int{i, j}
					x.Name, done[j] = p.Name+", "+o.Name, true
				}
			}
		}
		t.Pairs, out.pairs = append(t.Pairs, x), append(out.pairs, at)
	}
	for _, l := range g.Links {
		t.Links = append(t.Links, gearing.Link{A: l.A, B: l.B})
	}
	if v := g.Converter; v != nil { // ratios are printed for a converter that does not slip
		t.Links = append(t.Links, gearing.Link{A: v.Engine, B: v.Turbine})
	}
	for _, e := range elements {
		t.Elements = append(t.Elements, gearing.Element{ID: e.ID, Kind: gearing.Kind(e.Kind), A: e.A, B: e.B})
	}
	out.train = t
	return out, nil
}

// idler reports whether a member is a gear that only passes motion on: in two pairs, and nowhere else.
func idler(g unitsheet.GearingSheet, elements []unitsheet.ElementSheet, m string) bool {
	pairs := 0
	for _, p := range g.Gears {
		if p.A == m || p.B == m {
			pairs++
		}
	}
	if pairs != 2 || m == g.Input || m == g.Output {
		return false
	}
	for _, s := range g.Sets {
		if s.Sun == m || s.SmallSun == m || s.Ring == m || s.Carrier == m {
			return false
		}
	}
	return !slices.ContainsFunc(elements, func(e unitsheet.ElementSheet) bool { return e.A == m || e.B == m }) &&
		!slices.ContainsFunc(g.Links, func(l unitsheet.LinkSheet) bool { return l.A == m || l.B == m })
}

// lay puts found teeth into a gearing.
func (t trained) lay(g unitsheet.GearingSheet, f teeth.Fit) unitsheet.GearingSheet {
	g.Sets, g.Gears = slices.Clone(g.Sets), slices.Clone(g.Gears)
	for i, s := range f.Sets {
		x := &g.Sets[i]
		x.SunTeeth, x.SmallSunTeeth, x.PlanetTeeth, x.InnerTeeth, x.ShortTeeth, x.RingTeeth, x.Count = s.Sun, s.SmallSun, s.Planet, s.Inner, s.Short, s.Ring, s.Count
	}
	for i, p := range f.Pairs {
		first := &g.Gears[t.pairs[i][0]]
		if len(t.pairs[i]) == 1 {
			first.TeethA, first.TeethB = p.A, p.B
			continue
		}
		second := &g.Gears[t.pairs[i][1]]
		between := max(first.TeethB, usualIdler)
		first.TeethA, first.TeethB, second.TeethA, second.TeethB = p.A, between, between, p.B
	}
	return g
}

// usualIdler is the teeth of an idler that nobody counted: no ratio depends on them.
const usualIdler = 20

// Ask is the question that the printed ratios of a sheet put to the search. Ranges without a ratio are left out.
func Ask(s unitsheet.Sheet, final bool) (teeth.Question, error) {
	t, err := train(s.Gearing, s.Elements, final)
	if err != nil {
		return teeth.Question{}, err
	}
	q := teeth.Question{Train: t.train}
	for i, r := range s.Ranges {
		ratio, digits, err := unitsheet.PrintedRatio(r.Ratio)
		if err != nil {
			return q, &unitsheet.Problem{Path: fmt.Sprintf("ranges[%d].ratio", i), Reason: err.Error(), Accepted: "a ratio as it is printed, such as 2.55"}
		}
		if ratio > 0 && r.Outcome != string(gearing.Neutral) {
			q.Ranges = append(q.Ranges, teeth.Printed{ID: r.ID, Held: slices.Concat(r.Applied, r.Holding), Ratio: ratio, Digits: digits, Reverse: r.Outcome == string(gearing.Reverse)})
		}
	}
	return q, nil
}

// Lay puts the teeth of a fit into a sheet's gearing. It fails like Ask.
func Lay(s unitsheet.Sheet, f teeth.Fit) (unitsheet.GearingSheet, error) {
	t, err := train(s.Gearing, s.Elements, f.Final > 0)
	if err != nil {
		return s.Gearing, err
	}
	return t.lay(s.Gearing, f), nil
}
