// Package casebench measures the diagnosis on cases that people of the trade have told in stages, translated line by line into what
// a practitioner would have noted. It learns nothing from them.
package casebench

import (
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/quantity"
)

// Stages in which a case is told: the customer's words, answers, a road test, cheap checks, what is opened up.
var Stages = []string{"words", "asked", "drive", "ground", "deeper"}

// Case is one case. Nothing in it is the knowledge base's opinion.
type Case struct {
	ID, Unit, Distance string
	Kinds              []string
	Coincides          bool       // with a failure that the unit's sheet names as known: counted apart
	Spent              bool       // it led to a change of the knowledge base: counted apart
	Truth              [][]string // for each root the ids of the entries that mean it; an empty list has no entry
	SureAfter          string     // stage after which a veteran decides
	Lines              map[string][]Line
	Next               Judged // checks after words and answers
	Do, Never          []string
}

// Judged are checks, as ids or patterns, that are good or bad steps.
type Judged struct{ Good, Bad []string }

// Line is one line of a stage: a reading, or what the vocabulary has no word for.
type Line struct {
	Finding, State, Source string
	Lacks                  string
}

// sources are who says what is told at a stage, unless a line names another.
var sources = map[string]string{"words": "customer", "asked": "customer", "drive": "seen", "ground": "seen", "deeper": "seen"}

// Check holds a case against the unit that it is about. It fails with everything that is not there.
func (c Case) Check(n *knowledge.Network) error {
	var all []error
	bad := func(format string, args ...any) {
		all = append(all, fmt.Errorf("case %s: "+format, append([]any{c.ID}, args...)...))
	}
	if !slices.Contains(Stages, c.SureAfter) {
		bad("sure_after %q; accepted: %s", c.SureAfter, strings.Join(Stages, ", "))
	}
	for i, root := range c.Truth {
		for _, id := range root {
			if _, ok := n.Cause(id); !ok {
				bad("truth %d: no cause %q on %s", i+1, id, c.Unit)
			}
		}
	}
	for stage, lines := range c.Lines {
		if !slices.Contains(Stages, stage) {
			bad("stage %q; accepted: %s", stage, strings.Join(Stages, ", "))
		}
		for i, l := range lines {
			if l.Lacks != "" {
				continue
			}
			if err := diagnose.CheckReading(n, diagnose.Reading{ID: "x", Finding: l.Finding, State: l.State, Source: l.source(stage)}); err != nil {
				bad("%s, line %d: %w", stage, i+1, err)
			}
		}
	}
	for _, p := range slices.Concat(c.Next.Good, c.Next.Bad) {
		if !slices.ContainsFunc(n.Checks, func(k knowledge.Check) bool { return matches(p, k.ID) }) {
			bad("next: nothing matches %q", p)
		}
	}
	for _, p := range slices.Concat(c.Do, c.Never) {
		if !slices.ContainsFunc(n.Options, func(o knowledge.Option) bool { return matches(p, o.ID) }) {
			bad("do or never: no option matches %q", p)
		}
	}
	return errors.Join(all...)
}

func matches(pattern, id string) bool {
	ok, err := path.Match(pattern, id)
	return err == nil && ok
}

func matchesAny(patterns []string, id string) bool {
	return slices.ContainsFunc(patterns, func(p string) bool { return matches(p, id) })
}

func (l Line) source(stage string) string {
	if l.Source != "" {
		return l.Source
	}
	return sources[stage]
}

// Fit is the case as it can be told to a unit that is known by less than the sheet it was written for: lines that this unit has no word
// for are lacking, roots stand for what means the same at its depth.
func (c Case) Fit(n *knowledge.Network) Case {
	out := c
	out.Lines = map[string][]Line{}
	for stage, lines := range c.Lines {
		for _, l := range lines {
			if l.Lacks == "" && diagnose.CheckReading(n, diagnose.Reading{ID: "x", Finding: l.Finding, State: l.State, Source: l.source(stage)}) != nil {
				l = Line{Lacks: l.Finding + " " + l.State}
			}
			out.Lines[stage] = append(out.Lines[stage], l)
		}
	}
	out.Truth = nil
	for _, root := range c.Truth {
		var ids []string
		for _, id := range root {
			for _, x := range n.Causes {
				if n.Unit.SameAt(id, x.ID) && !slices.Contains(ids, x.ID) {
					ids = append(ids, x.ID)
				}
			}
		}
		out.Truth = append(out.Truth, ids)
	}
	return out
}

// Situation is what is known up to a stage, that one included.
func (c Case) Situation(stage string) (diagnose.Situation, error) {
	out := diagnose.Situation{}
	if c.Distance != "" {
		q, err := quantity.Parse(c.Distance, quantity.Distance, "km")
		if err != nil {
			return out, err
		}
		out.Distance, _ = q.In("km")
	}
	for _, s := range Stages {
		for i, l := range c.Lines[s] {
			if l.Lacks != "" {
				continue
			}
			r := diagnose.Reading{ID: fmt.Sprintf("%s%d", s, i), Finding: l.Finding, State: l.State, Source: l.source(s)}
			out.Readings = slices.DeleteFunc(out.Readings, func(o diagnose.Reading) bool { return o.Finding == r.Finding && o.Source == r.Source })
			out.Readings = append(out.Readings, r)
		}
		if s == stage {
			break
		}
	}
	return out, nil
}
