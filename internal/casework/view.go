package casework

import (
	"context"
	"errors"
	"fmt"
	"math"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// View is a case as it now stands, with everything that follows from its readings.
type View struct {
	Case       Case
	UnitName   string
	Ladder     []Rung
	Trail      []TrailItem
	Rose       Rose
	Suspects   []SuspectView
	Suspicion  Suspicion
	Weighed    bool // the weights of the readings are there; after a change they are left for the next look
	Heading    HeadingView
	Surprise   SurpriseView
	Road       Road
	Decisions  []DecisionView
	Estimates  []EstimateView
	Proof      []ProofView
	Earlier    *Visit         // the visit that this one is a return of
	Later      []Visit        // visits that are returns of this one
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

var systemTitles = map[string]string{"converter": "Converter", "clutches": "Clutches & bands", "seals": "Seals & leaks", "hydraulics": "Hydraulics",
	"electrics": "Electrics", "gears": "Gears & bearings", "driveline": "Driveline", "fluid": "Fluid"}

// SuspectView is a suspect as shown.
type SuspectView struct {
	ID, Title, System string
	Probability       float64
	Change            float64 // since the last reading, in probability
	Reason            string
	For, Against      []WeightedReading // strongest readings
}

// Suspicion says how sure the ranking is of itself, and what else it implies.
type Suspicion struct {
	Exact   bool
	LeftOut float64 // weight of the sets of causes that were not weighed one by one; proved; −1 when not known
	Causes  int     // that were weighed
	Several float64 // probability that more than one cause is there
	Damages []DamageView
}

// DamageView is a damage that is likely to be there.
type DamageView struct {
	ID, Title   string
	Probability float64
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
	RepairBy float64
}

// AdviceView is one recommended check.
type AdviceView struct {
	Check, Title, Tells, Why, Access string
	Again                            bool // what it shows was read before, once
	Minutes, Climb, Saves            float64
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

// DecisionView is a decision with what was frozen with it.
type DecisionView struct {
	ID, Option, Title, Choice, Words, Ceiling, By, Digest string
	At                                                    time.Time
	Sure                                                  float64
	Root                                                  string
	RootShare                                             float64
	Estimate, How, Name                                   string
	AddOns                                                []string // titles
}

// shownSuspects is how many suspects are listed; the rest is given as one share.
const shownSuspects = 9

// limits is said wherever a ranking is shown.
const limits = "Strengths and priors are judgement, not yet corrected by this shop’s outcomes."

// View returns a case as it now stands. Its probabilities are from the best sets of causes when the exact ones would
// take long; Suspicion.Exact says which.
func (s *Service) View(ctx context.Context, id string) (View, error) {
	c, err := s.Store.Case(ctx, id)
	if err != nil {
		return View{}, err
	}
	return s.view(ctx, c, look{weigh: true})
}

// ViewInFull is View with the exact probabilities, however long they take, unless ctx ends before.
func (s *Service) ViewInFull(ctx context.Context, id string) (View, error) {
	c, err := s.Store.Case(ctx, id)
	if err != nil {
		return View{}, err
	}
	return s.view(ctx, c, look{full: true, weigh: true})
}

// answer is a case that was just changed, as it then stands; its row of the Floor is kept. When nobody waits for the answer
// any more, the row follows later.
func (s *Service) answer(ctx context.Context, c Case) (View, error) {
	v, err := s.view(ctx, c, look{row: true})
	if err != nil {
		s.refreshFloor()
	}
	return v, err
}

// look says how a case is looked at.
type look struct {
	full  bool // with the exact probabilities, however long they take
	weigh bool // with the weights of the readings
	row   bool // its row of the Floor is kept
}

func (s *Service) view(ctx context.Context, c Case, how look) (View, error) {
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return View{}, err
	}
	n, err := s.network(ctx, c)
	if err != nil {
		return View{}, err
	}
	a, err := s.assess(ctx, n, c.situation(c.Valid()), how.full)
	if err != nil {
		return View{}, err
	}
	weighed := how.weigh || a.done.Load()
	next := beside(func() plan.Recommendation { return s.heading(n, c, a, st) }) // beside the weights, which take as long
	var w diagnose.Weights
	if weighed {
		w, err = a.weighed()
	} else {
		w = a.unweighed(len(c.Valid()), s.before(n, c, c.Valid()))
	}
	h, failed := next()
	if err := errors.Join(err, failed); err != nil {
		return View{}, err
	}
	if how.row {
		if err := s.saveRow(ctx, n, c, a.Assessment, h, st); err != nil {
			return View{}, err
		}
	}
	shown := c
	shown.Distance, shown.DueDistance = st.Style().Localise(c.Distance), st.Style().Localise(c.DueDistance)
	v := view(n, shown, a.Assessment, w, h, s.Now())
	v.Weighed, v.Style = weighed, st.Style()
	if err := s.visits(ctx, &v); err != nil {
		return View{}, err
	}
	v.UnitNewest = n.Unit.Sheet.Version
	newest, err := s.library.network(ctx, c.UnitID, 0)
	if err != nil {
		return View{}, err
	}
	v.UnitNewest = newest.Unit.Sheet.Version
	return v, nil
}

// beside runs f at the same time as what comes next, and hands its answer over when asked. A panic in it becomes an error:
// nothing else would keep it from ending the server.
func beside[T any](f func() T) func() (T, error) {
	var out T
	var err error
	done := make(chan struct{})
	go func() {
		defer close(done)
		defer func() {
			if p := recover(); p != nil {
				err = fmt.Errorf("panic: %v\n%s", p, debug.Stack())
			}
		}()
		out = f()
	}()
	return func() (T, error) {
		<-done
		return out, err
	}
}

// view lays out what was computed; it is a pure function of its arguments.
func view(n *knowledge.Network, c Case, a *diagnose.Assessment, w diagnose.Weights, h plan.Recommendation, now time.Time) View {
	readings := c.Valid()
	access, _ := unitsheet.ParseAccess(c.Access)
	v := View{Case: c, UnitName: n.Unit.Sheet.Name, Ladder: ladder(n.Unit, access), Rose: rose(a)}
	v.trail(n, readings, a, w)
	v.suspects(n, a, w, readings)
	v.Suspicion = suspicion(n, a)
	v.heading(n, h)
	v.surprise(a)
	v.Road = road(n, readings, h.Drive)
	v.decisions()
	v.estimates(now)
	v.proof(n)
	return v
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

func rose(r *diagnose.Assessment) Rose {
	out := Rose{Doubt: r.Entropy}
	best := 0.0
	for i, id := range knowledge.Systems {
		out.Systems = append(out.Systems, SystemShare{id, systemTitles[id], r.Systems[i]})
		if r.Systems[i] > best {
			best, out.Leader = r.Systems[i], id
		}
	}
	return out
}

func (v *View) trail(n *knowledge.Network, readings []Reading, a *diagnose.Assessment, weights diagnose.Weights) {
	for i, x := range readings {
		f, _ := n.Finding(x.Finding)
		w := weights.WhatIf[i]
		other, _ := n.Cause(w.Leader)
		v.Trail = append(v.Trail, TrailItem{
			ID: x.ID, Stage: x.Stage, Source: x.Source, Finding: x.Finding, Title: f.Title, State: x.State, StateTitle: f.StateTitle(x.State), Value: x.Value, Note: x.Note, By: x.By, At: x.At,
			Normal: x.State == f.States[0].ID, Weight: weights.Suspects[0][i], WithoutLeader: other.Title, WithoutShare: w.LeaderShare, LeaderWithout: w.Now,
			HangsOn: x.ID == weights.HangsOn, Unexplained: slices.Contains(a.Surprise.Unexplained, x.ID),
			Again: x.Source != "customer" && slices.ContainsFunc(readings[:i], func(o Reading) bool { return o.Finding == x.Finding && o.Source != "customer" }),
		})
	}
}

func (v *View) suspects(n *knowledge.Network, a *diagnose.Assessment, w diagnose.Weights, readings []Reading) {
	for k, s := range a.Suspects[:min(shownSuspects, len(a.Suspects))] {
		sv := SuspectView{ID: s.Cause.ID, Title: s.Cause.Title, System: s.Cause.System, Probability: s.Probability, Reason: s.Cause.Met.Why}
		if len(readings) > 0 {
			sv.Change = s.Probability - w.Without[k][len(readings)-1]
		}
		sv.For, sv.Against = strongest(n, readings, w.Suspects[k])
		v.Suspects = append(v.Suspects, sv)
	}
}

// Damages are shown from this probability on, at most so many: they are what will be found beside the root.
const (
	shownDamage  = 0.3
	shownDamages = 6
)

func suspicion(n *knowledge.Network, a *diagnose.Assessment) Suspicion {
	out := Suspicion{Exact: a.Exact, LeftOut: -1, Causes: len(n.Causes), Several: a.Several()}
	if a.Exact {
		out.LeftOut = a.LeftOut
	}
	for _, d := range a.Damages {
		if d.Node.Kind == "damage" && d.Probability >= shownDamage && len(out.Damages) < shownDamages {
			out.Damages = append(out.Damages, DamageView{d.Node.ID, d.Node.Title, d.Probability})
		}
	}
	return out
}

// strongest picks up to three readings for and three against a suspect.
func strongest(n *knowledge.Network, readings []Reading, weights []float64) (plus, minus []WeightedReading) {
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
		w := WeightedReading{readings[i].ID, f.Title + ": " + f.StateTitle(readings[i].State), weights[i]}
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
	v.Heading = HeadingView{Stop: h.Stop, RepairBy: h.RepairBy}
	for _, a := range h.Best {
		v.Heading.Best = append(v.Heading.Best, advice(n, a))
	}
}

func advice(n *knowledge.Network, a plan.Advice) AdviceView {
	out := AdviceView{Check: a.Check.ID, Again: a.Again, Title: a.Check.Title, Tells: a.Check.Tells, Why: a.Why(n), Access: a.Check.Access, Minutes: a.Minutes, Climb: a.AccessMinutes, Saves: a.Saves, Fluid: a.Check.Fluid, Cautions: a.Check.Cautions}
	if a.Again {
		out.Why = "It was read once, and a slip there would mislead. " + out.Why
	}
	for _, id := range a.First {
		f, _ := n.Finding(id)
		out.First = append(out.First, f.Title)
	}
	if strings.HasPrefix(a.Check.ID, "drive.") {
		out.Drive = a.Check.Yields[0]
	}
	return out
}

func (v *View) surprise(r *diagnose.Assessment) {
	v.Surprise = SurpriseView{Outside: r.Surprise.Outside, Limits: limits}
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
