// Package planning shows what is worth doing next as a path of up to three checks, with where it ends and what deciding earlier would cost.
package planning

import (
	"context"
	"fmt"
	"math"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// Service plans.
type Service struct {
	Cases     *cases.Service
	Shop      *shop.Service
	Assessing *assessing.Service
}

// View is the plan of a case.
type View struct {
	Sentence string
	Steps    []Step
	End      []Stop
	Points   []plan.Point
	Best     int
	Leader   string // whose repair deciding now would be
	Share    float64
	AsIf     string // the result that it is planned with, in words; "" for the case as it stands
}

// Step is a check on the way.
type Step struct {
	ID, Title, Access, Tells string
	Minutes, Climb, Price    float64
	Reach, On                float64
	OnSeen                   string
	Stops                    []Stop
}

// Stop is where vehicles leave, and with which repair.
type Stop struct {
	Share, Right, Price float64
	Seen, Repair        string
	Finding, State      string // what is seen, as a reading; empty for several joined
	Joined              int
}

// Result is a result of a check that nobody has read yet.
type Result struct{ Finding, State string }

// Of returns the plan of a case from where the vehicle stands; with a result, as if it had been read as well. Nothing is noted.
func (s *Service) Of(ctx context.Context, id string, as Result) (View, error) {
	at, err := s.Assessing.Look(ctx, s.Cases, s.Shop, id)
	if err != nil {
		return View{}, err
	}
	n, a := at.Network, at.Assessment
	asIf := ""
	if as != (Result{}) {
		f, ok := n.Finding(as.Finding)
		if !ok || f.StateAt(as.State) < 0 {
			return View{}, problem.Field("finding", fmt.Sprintf("%s %s", as.Finding, as.State), "a finding of this unit and one of its states")
		}
		asIf = f.Title + ": " + f.StateTitle(as.State)
		supposed := append(at.Case.Valid(), cases.Reading{ID: "supposed", Finding: as.Finding, State: as.State, Source: "seen"})
		if a, err = s.Assessing.Assess(ctx, n, at.Case.Situation(supposed), false); err != nil {
			return View{}, err
		}
	}
	path := plan.PathOf(a.Assessment, at.Stand, at.Economics)
	out := View{Points: path.Points, Best: path.Best, End: stops(n, path.End), Leader: a.Suspects[0].Cause.Title, Share: a.Suspects[0].Probability, AsIf: asIf}
	for _, x := range path.Steps {
		k := x.Advice.Check
		out.Steps = append(out.Steps, Step{ID: k.ID, Title: k.Title, Access: k.Access, Tells: k.Tells, Minutes: x.Advice.Minutes, Climb: x.Advice.AccessMinutes,
			Price: x.Price, Reach: x.Reach, On: x.On, OnSeen: shown(n, x.OnSeen), Stops: stops(n, x.Stops)})
	}
	out.Sentence = sentence(out)
	return out, nil
}

func stops(n *knowledge.Network, in []plan.Stop) []Stop {
	var out []Stop
	for _, s := range in {
		x := Stop{Share: s.Share, Right: s.Right, Price: s.Price, Joined: s.Joined, Seen: shown(n, s.Seen), Repair: fmt.Sprintf("%d others", s.Joined)}
		if s.Leader >= 0 {
			x.Repair = n.Causes[s.Leader].Title
			f := n.Findings[s.Seen.Finding]
			x.Finding, x.State = f.ID, f.States[s.Seen.State].ID
		}
		out = append(out, x)
	}
	return out
}

// shown names a result: what is seen, with what it is seen of where the words alone would not say.
func shown(n *knowledge.Network, o diagnose.Outcome) string {
	f := n.Findings[o.Finding]
	title := f.States[o.State].Title
	if len(strings.Fields(title)) <= 2 {
		return f.Title + ": " + title
	}
	return title
}

// sentence says the plan in words.
func sentence(v View) string {
	if len(v.Steps) == 0 || v.Best == 0 {
		return fmt.Sprintf("Decide now: no check saves more than it costs. %.0f of 100 get the right repair.", 100*(1-v.Points[0].Wrong))
	}
	minutes := 0.0
	for _, s := range v.Steps[:v.Best] {
		minutes += s.Minutes + s.Climb
	}
	steps := []string{"One step", "Two steps", "Three steps"}[v.Best-1]
	return fmt.Sprintf("%s, about %.0f min, then %.0f of 100 get the right repair; now it would be %.0f.", steps, minutes, math.Round(100*(1-v.Points[v.Best].Wrong)), math.Round(100*(1-v.Points[0].Wrong)))
}
