// Package assessing says what the readings of a case mean, and remembers it: looking again, or from a second screen, computes nothing.
package assessing

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/hashicorp/golang-lru/v2/expirable"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
	"innercompass/internal/cases"
	"innercompass/internal/shop"
)

// Service assesses situations.
type Service struct {
	now         func() time.Time
	assessments *expirable.LRU[string, *Assessment]
}

// New returns a service that remembers what it assessed last.
func New(now func() time.Time) *Service {
	return &Service{now: now, assessments: expirable.NewLRU[string, *Assessment](mostRemembered, nil, 0)}
}

// Assessment is what the readings of a case mean, with their weights once somebody asked for them.
type Assessment struct {
	*diagnose.Assessment
	full    bool // the exact answer was waited for: there is none better, exact or not
	weigh   sync.Once
	Done    atomic.Bool // the weights are there
	weights diagnose.Weights
	err     error

	heading sync.Mutex // guards what follows
	asked   string     // where the vehicle stood, and with which rates, when it was asked last
	advised plan.Recommendation
}

// Next is what to do next from where the vehicle stands; asked again from the same place it computes nothing.
func (a *Assessment) Next(stand plan.VehicleState, e plan.Economics) plan.Recommendation {
	key := fmt.Sprintf("%v %v", stand, e)
	a.heading.Lock()
	defer a.heading.Unlock()
	if a.asked != key {
		a.advised, a.asked = plan.Next(a.Assessment, stand, e), key
	}
	return a.advised
}

// Weighed returns the weights for the suspects that are shown.
func (a *Assessment) Weighed() (diagnose.Weights, error) {
	a.weigh.Do(func() {
		a.weights, a.err = a.Weigh(Shown)
		a.Done.Store(true)
	})
	return a.weights, a.err
}

// Unweighed stands for the weights until they are computed: no reading weighs anything, and the suspects have moved
// since before, the assessment without the last reading, if that is remembered.
func (a *Assessment) Unweighed(readings int, before *Assessment) diagnose.Weights {
	most := min(Shown, len(a.Suspects))
	out := diagnose.Weights{Suspects: make([][]float64, most), Without: make([][]float64, most), WhatIf: make([]diagnose.WhatIf, readings)}
	for k := range most {
		out.Suspects[k], out.Without[k] = make([]float64, readings), make([]float64, readings)
		for i := range readings {
			out.Without[k][i] = a.Suspects[k].Probability
		}
		if before == nil || readings == 0 {
			continue
		}
		for _, s := range before.Suspects {
			if s.Cause.ID == a.Suspects[k].Cause.ID {
				out.Without[k][readings-1] = s.Probability
			}
		}
	}
	lead := a.Suspects[0]
	for i := range out.WhatIf {
		out.WhatIf[i] = diagnose.WhatIf{Leader: lead.Cause.ID, LeaderShare: lead.Probability, Now: lead.Probability}
	}
	return out
}

// mostRemembered is how many assessments are kept, so that looking at a case again, or from a second screen, computes nothing;
// one takes a few hundred kilobytes.
const mostRemembered = 64

// Assess returns what a situation means on a unit: what was computed before, else from the best sets of causes unless
// the exact answer is quick. With full it waits for the exact answer.
func (s *Service) Assess(ctx context.Context, n *knowledge.Network, in diagnose.Situation, full bool) (*Assessment, error) {
	key, err := memoryKey(n, in)
	if err != nil {
		return nil, err
	}
	a, ok := s.assessments.Get(key)
	if ok && (a.Exact || a.full || !full) {
		return a, nil
	}
	var made *diagnose.Assessment
	if full {
		made, err = diagnose.AssessInFull(ctx, n, in)
	} else {
		made, err = diagnose.Assess(n, in)
	}
	if err != nil {
		return nil, err
	}
	a = &Assessment{Assessment: made, full: full && ctx.Err() == nil}
	s.assessments.Add(key, a)
	return a, nil
}

func memoryKey(n *knowledge.Network, in diagnose.Situation) (string, error) {
	key, err := json.Marshal([]any{n.Unit.Sheet.ID, n.Unit.Sheet.Version, n.Version, in})
	return string(key), err
}

// Before is what was thought of a case before its last reading, nil when that is not remembered.
func (s *Service) Before(n *knowledge.Network, c cases.Case, readings []cases.Reading) *Assessment {
	if len(readings) == 0 {
		return nil
	}
	key, err := memoryKey(n, c.Situation(readings[:len(readings)-1]))
	if err != nil {
		return nil
	}
	a, _ := s.assessments.Get(key)
	return a
}

// staysWarm is how long the fluid is taken as hot after a check that needed it so (common practice, no source).
const staysWarm = 40 * time.Minute

// Stand is where the vehicle is, what was set aside, and whether its fluid is still hot.
func Stand(c cases.Case, n *knowledge.Network, now time.Time) plan.VehicleState {
	access, _ := unitsheet.ParseAccess(c.Access)
	out := plan.VehicleState{Access: access, Skipped: c.Marked("skip")}
	valid := c.Valid()
	if len(valid) == 0 {
		return out
	}
	for i := len(valid) - 1; i >= 0 && now.Sub(valid[i].At) <= staysWarm; i-- {
		r := valid[i]
		k, _ := n.Check(r.Check)
		switch {
		case r.Source == "customer":
		case knowledge.IsHot(r.Finding) || k.Fluid == "hot":
			out.Warm = true
			return out
		case strings.HasPrefix(r.Finding, "road.cold.") || k.Fluid == "cold":
			return out
		}
	}
	return out
}

// shownSuspects is how many suspects are listed; the rest is given as one share.
const Shown = 9

// Limits is said wherever a ranking is shown.
const Limits = "How strong a sign is and how often a cause is met is judgment, not yet this shop’s own results."

// SuspicionOf says how sure a ranking is of itself, and what is likely to be found beside the root.
func SuspicionOf(n *knowledge.Network, a *diagnose.Assessment) Suspicion {
	out := Suspicion{Exact: a.Exact, LeftOut: -1, Causes: len(n.Causes), Several: a.Several(), Other: a.Other}
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

// Suspicion says how sure the ranking is of itself, and what else it implies.
type Suspicion struct {
	Exact   bool
	LeftOut float64 // weight of the sets of causes that were not weighed one by one; proved; −1 when not known
	Causes  int     // that were weighed
	Several float64 // probability that more than one cause is there
	Other   float64 // probability that it is something that is not in the list
	Damages []DamageView
}

// Looked is a case with what its readings mean and the shop's figures.
type Looked struct {
	Case       cases.Case
	Network    *knowledge.Network
	Assessment *Assessment
	Stand      plan.VehicleState
	Economics  plan.Economics
}

// Look assesses a case as it now stands.
func (s *Service) Look(ctx context.Context, all *cases.Service, figures *shop.Service, id string) (Looked, error) {
	c, n, err := all.Load(ctx, id)
	if err != nil {
		return Looked{}, err
	}
	st, err := figures.Settings(ctx)
	if err != nil {
		return Looked{}, err
	}
	a, err := s.Assess(ctx, n, c.Situation(c.Valid()), false)
	return Looked{c, n, a, Stand(c, n, s.now()), st.Economics()}, err
}

// DamageView is a damage that is likely to be there.
type DamageView struct {
	ID, Title   string
	Probability float64
}

// Damages are shown from this probability on, at most so many: they are what will be found beside the root.
const (
	shownDamage  = 0.3
	shownDamages = 6
)

// Heading is what to do next; a closed case has none.
func (s *Service) Heading(n *knowledge.Network, c cases.Case, a *Assessment, st shop.Settings) plan.Recommendation {
	if c.Closed != nil {
		return plan.Recommendation{}
	}
	return a.Next(Stand(c, n, s.now()), st.Economics())
}
