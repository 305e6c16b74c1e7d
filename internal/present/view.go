// Package present lays out a case for whoever looks at it: pure functions of what is kept and what was computed, with the sentences
// that stand on the screen.
package present

import (
	"fmt"
	"math"
	"reflect"
	"slices"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
)

// View is a case as it now stands, with everything that follows from its readings.
type View struct {
	Case       cases.Case
	Parts      Parts
	UnitName   string
	Ladder     []Rung
	Trail      []TrailItem
	Rose       Rose
	Suspects   []SuspectView
	Suspicion  assessing.Suspicion
	Weighed    bool // the weights of the readings are there; after a change they are left for the next look
	Heading    HeadingView
	Surprise   SurpriseView
	Road       Road
	Decisions  []DecisionView
	Estimates  []EstimateView
	Proof      []ProofView
	Earlier    *Visit         // the visit that this one is a return of
	Later      []Visit        // visits that are returns of this one
	UnitNote   string         // what of the unit is not known or assumed
	UnitNewest int            // newest version of the unit's sheet; the case keeps its own
	Style      quantity.Style // how the shop writes numbers
}

// Rung is one access level of the ladder.
type Rung struct {
	Level   string
	Minutes float64 // from the level before
	State   string  // passed, here, ahead
}

// TrailItem is a standing reading with what it weighed.
type TrailItem struct {
	ID, Stage, Source, Finding, Title, State, StateTitle, Value, Note, By string
	At                                                                    time.Time
	Normal                                                                bool
	Weight                                                                float64 // for the leader, in decibans
	WithoutLeader                                                         string  // title of the cause that leads if this were wrong
	WithoutShare                                                          float64
	LeaderWithout                                                         float64 // share of the present leader without it
	HangsOn                                                               bool
	Again                                                                 bool // the second look at what was read before
	Unexplained                                                           bool
	Code                                                                  bool // a fault code, or that none is stored
}

// Rose is the share of suspicion of each system.
type Rose struct {
	Systems []SystemShare
	Leader  string  // id of the leading system
	Doubt   float64 // 0 certain … 1 nothing known
}

// SystemShare is one sector.
type SystemShare struct {
	ID, Title string
	Share     float64
}

var SystemTitles = map[string]string{"converter": "Converter", "clutches": "Clutches & bands", "seals": "Seals & leaks", "hydraulics": "Hydraulics",
	"electrics": "Electrics", "gears": "Gears & bearings", "driveline": "Driveline", "fluid": "Fluid"}

// SuspectView is a suspect as shown.
type SuspectView struct {
	ID, Title, System string
	Probability       float64
	Change            float64 // since the last reading, in probability
	Reason            string
	For, Against      []WeightedReading // strongest readings
}

// WeightedReading names a reading and its weight for one suspect.
type WeightedReading struct {
	ID, Title string
	Weight    float64
}

// HeadingView is what to do next.
type HeadingView struct {
	Best     []AdviceView
	Stop     string
	InVain   float64 // what the repair of the leader costs for nothing, when it is something else
	Doubt    float64 // probability of that
	RepairBy float64
}

// AdviceView is one recommended check.
type AdviceView struct {
	Check, Title, Tells, Why, Access string
	Again                            bool // what it shows was read before, once
	Minutes, Climb, Saves            float64
	Along                            []string // titles of what is worth doing on the same climb
	AlongMinutes                     float64
	First                            []string // titles of what must be known before it
	Fluid                            string   // hot or cold, when it must be
	Cautions                         []knowledge.Caution
	Drive                            string // id of the finding when it is a cell of the road test
}

// SurpriseView says in words what is not explained, and the limits of the ranking.
type SurpriseView struct {
	Outside     bool
	Unexplained []string
	Sentence    string
	Limits      string
}

// Parts are what a case is shown in, each by itself: what a change has left as it was is not shown again.
type Parts struct{ Head, Ranking, Decisions, Estimates, Proof, Records, Photos bool }

// All is the whole case.
var All = Parts{true, true, true, true, true, true, true}

// Moved are the parts that a change has made new.
func Moved(saved cases.Saved) Parts {
	if saved.Again {
		return All
	}
	was, now := saved.Was, saved.Case
	read := len(now.Readings) != len(was.Readings)
	closed := (now.Closed == nil) != (was.Closed == nil)
	decided := !slices.EqualFunc(now.Decisions, was.Decisions, func(a, b cases.Decision) bool { return a.ID == b.ID && a.Waiting() == b.Waiting() })
	return Parts{
		Head:      !samePlain(was, now),
		Ranking:   read || closed || now.Access != was.Access || now.Distance != was.Distance || !slices.Equal(now.Marks, was.Marks),
		Decisions: decided,
		Estimates: decided || len(now.Estimates) != len(was.Estimates),
		Proof:     read || decided || len(now.Bench) != len(was.Bench) || closed || !slices.Equal(now.Proofs, was.Proofs),
		Records:   len(now.Records) != len(was.Records),
		Photos:    !slices.Equal(now.Photos, was.Photos),
	}
}

// samePlain compares what is written down of two cases themselves: their columns.
func samePlain(a, b cases.Case) bool {
	for _, c := range []*cases.Case{&a, &b} {
		c.Rev = 0
		c.Readings, c.Measurements, c.Marks, c.Decisions, c.Proofs, c.Estimates, c.Records, c.Photos, c.Bench = nil, nil, nil, nil, nil, nil, nil, nil, nil
	}
	return reflect.DeepEqual(a, b)
}

// Head lays out what is written down of a case itself.
func (v *View) Head(n *knowledge.Network) {
	access, _ := unitsheet.ParseAccess(v.Case.Access)
	v.UnitName, v.Ladder = n.Unit.Sheet.Name, ladder(n.Unit, access)
}

// Ranking lays out what the readings mean, and what to do next.
func (v *View) Ranking(n *knowledge.Network, a *diagnose.Assessment, w diagnose.Weights, h plan.Recommendation) {
	readings := v.Case.Valid()
	v.Rose, v.Suspicion = RoseOf(a), assessing.SuspicionOf(n, a)
	v.trail(n, readings, a, w)
	v.suspects(n, a, w, readings)
	v.heading(n, h)
	v.surprise(a)
	v.Road = road(n, readings, h.Drive)
}

// Papers lays out what was put before the customer and what was shown.
func (v *View) Papers(n *knowledge.Network, now time.Time, p Parts) {
	if p.Decisions {
		v.Decisions = Decisions(v.Case)
	}
	if p.Estimates {
		v.Estimates = Estimates(v.Case, now)
	}
	if p.Proof {
		v.Proof = Proofs(v.Case, n)
	}
}

func ladder(u *unitsheet.Unit, here unitsheet.Access) []Rung {
	var out []Rung
	for l, name := range unitsheet.AccessNames {
		if !u.Has(unitsheet.Access(l)) {
			continue // no pan on a gearbox without one
		}
		state := "ahead"
		switch {
		case unitsheet.Access(l) < here:
			state = "passed"
		case unitsheet.Access(l) == here:
			state = "here"
		}
		out = append(out, Rung{name, u.ClimbMinutes[l], state})
	}
	return out
}

// RoseOf is the share of suspicion of each system.
func RoseOf(r *diagnose.Assessment) Rose {
	out := Rose{Doubt: r.Entropy}
	best := 0.0
	for i, id := range knowledge.Systems {
		out.Systems = append(out.Systems, SystemShare{id, SystemTitles[id], r.Systems[i]})
		if r.Systems[i] > best {
			best, out.Leader = r.Systems[i], id
		}
	}
	return out
}

func (v *View) trail(n *knowledge.Network, readings []cases.Reading, a *diagnose.Assessment, weights diagnose.Weights) {
	for i, x := range readings {
		f, _ := n.Finding(x.Finding)
		w := weights.WhatIf[i]
		other, _ := n.Cause(w.Leader)
		v.Trail = append(v.Trail, TrailItem{
			ID: x.ID, Stage: x.Stage, Source: x.Source, Finding: x.Finding, Title: f.Title, State: x.State, StateTitle: x.Words(f), Value: x.Value, Note: x.Note, By: x.By, At: x.At,
			Normal: x.State == f.States[0].ID, Weight: weights.Suspects[0][i], WithoutLeader: other.Title, WithoutShare: w.LeaderShare, LeaderWithout: w.Now,
			HangsOn: x.ID == weights.HangsOn, Unexplained: slices.Contains(a.Surprise.Unexplained, x.ID), Code: knowledge.IsCode(x.Finding),
			Again: x.Source != "customer" && slices.ContainsFunc(readings[:i], func(o cases.Reading) bool { return o.Finding == x.Finding && o.Source != "customer" }),
		})
	}
}

func (v *View) suspects(n *knowledge.Network, a *diagnose.Assessment, w diagnose.Weights, readings []cases.Reading) {
	for k, s := range a.Suspects[:min(assessing.Shown, len(a.Suspects))] {
		sv := SuspectView{ID: s.Cause.ID, Title: s.Cause.Title, System: s.Cause.System, Probability: s.Probability, Reason: s.Cause.Met.Why}
		if len(readings) > 0 {
			sv.Change = s.Probability - w.Without[k][len(readings)-1]
		}
		sv.For, sv.Against = strongest(n, readings, w.Suspects[k])
		v.Suspects = append(v.Suspects, sv)
	}
}

// strongest picks up to three readings for and three against a suspect.
func strongest(n *knowledge.Network, readings []cases.Reading, weights []float64) (plus, minus []WeightedReading) {
	order := make([]int, len(readings))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case math.Abs(weights[a]) > math.Abs(weights[b]):
			return -1
		case math.Abs(weights[a]) < math.Abs(weights[b]):
			return 1
		}
		return 0
	})
	for _, i := range order {
		f, _ := n.Finding(readings[i].Finding)
		w := WeightedReading{readings[i].ID, f.Title + ": " + readings[i].Words(f), weights[i]}
		switch {
		case weights[i] >= 0.5 && len(plus) < 3:
			plus = append(plus, w)
		case weights[i] <= -0.5 && len(minus) < 3:
			minus = append(minus, w)
		}
	}
	return plus, minus
}

func (v *View) heading(n *knowledge.Network, h plan.Recommendation) {
	v.Heading = HeadingView{Stop: h.Stop, InVain: h.InVain, Doubt: h.Doubt, RepairBy: h.RepairBy}
	for _, a := range h.Best {
		v.Heading.Best = append(v.Heading.Best, Advise(n, a))
	}
}

// Advise lays out one recommended check.
func Advise(n *knowledge.Network, a plan.Advice) AdviceView {
	out := AdviceView{Check: a.Check.ID, Again: a.Again, Title: a.Check.Title, Tells: a.Check.Tells, Why: a.Why(n), Access: a.Check.Access, Minutes: a.Minutes, Climb: a.AccessMinutes, Saves: a.Saves, Fluid: a.Check.Fluid, Cautions: a.Check.Cautions}
	if a.Again {
		out.Why = "It was read once, and a slip there would mislead. " + out.Why
	}
	for _, id := range a.First {
		f, _ := n.Finding(id)
		out.First = append(out.First, f.Title)
	}
	for _, id := range a.Along {
		c, _ := n.Check(id)
		out.Along = append(out.Along, c.Title)
	}
	out.AlongMinutes = a.AlongMinutes
	if a.Check.Drive() {
		out.Drive = a.Check.Yields[0]
	}
	return out
}

func (v *View) surprise(r *diagnose.Assessment) {
	v.Surprise = SurpriseView{Outside: r.Surprise.Outside, Limits: assessing.Limits}
	for _, t := range v.Trail {
		if t.Unexplained {
			v.Surprise.Unexplained = append(v.Surprise.Unexplained, t.ID)
		}
	}
	left := len(v.Surprise.Unexplained)
	switch {
	case r.Surprise.Outside:
		v.Surprise.Sentence = "Nothing listed explains these readings well. Doubt a reading, or think of two faults, or of one that is not in the list."
	case left == 1:
		v.Surprise.Sentence = "One reading is left that the leader does not explain."
	case left > 1:
		v.Surprise.Sentence = fmt.Sprintf("%d readings are left that the leader does not explain.", left)
	}
}
