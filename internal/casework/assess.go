package casework

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
)

// assessment is what the readings of a case mean, with their weights once somebody asked for them.
type assessment struct {
	*diagnose.Assessment
	full    bool // the exact answer was waited for: there is none better, exact or not
	weigh   sync.Once
	done    atomic.Bool // the weights are there
	weights diagnose.Weights
	err     error

	heading sync.Mutex // guards what follows
	asked   string     // where the vehicle stood, and with which rates, when it was asked last
	advised plan.Recommendation
}

// next is what to do next from where the vehicle stands; asked again from the same place it computes nothing.
func (a *assessment) next(stand plan.VehicleState, e plan.Economics) plan.Recommendation {
	key := fmt.Sprintf("%v %v", stand, e)
	a.heading.Lock()
	defer a.heading.Unlock()
	if a.asked != key {
		a.advised, a.asked = plan.Next(a.Assessment, stand, e), key
	}
	return a.advised
}

// weighed returns the weights for the suspects that are shown.
func (a *assessment) weighed() (diagnose.Weights, error) {
	a.weigh.Do(func() {
		a.weights, a.err = a.Weigh(shownSuspects)
		a.done.Store(true)
	})
	return a.weights, a.err
}

// unweighed stands for the weights until they are computed: no reading weighs anything, and the suspects have moved
// since before, the assessment without the last reading, if that is remembered.
func (a *assessment) unweighed(readings int, before *assessment) diagnose.Weights {
	most := min(shownSuspects, len(a.Suspects))
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

// assess returns what a situation means on a unit: what was computed before, else from the best sets of causes unless
// the exact answer is quick. With full it waits for the exact answer.
func (s *Service) assess(ctx context.Context, n *knowledge.Network, in diagnose.Situation, full bool) (*assessment, error) {
	key, err := memoryKey(n, in)
	if err != nil {
		return nil, err
	}
	a, ok := s.assessmentCache.Get(key)
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
	a = &assessment{Assessment: made, full: full && ctx.Err() == nil}
	s.assessmentCache.Add(key, a)
	return a, nil
}

func memoryKey(n *knowledge.Network, in diagnose.Situation) (string, error) {
	key, err := json.Marshal([]any{n.Unit.Sheet.ID, n.Unit.Sheet.Version, n.Version, in})
	return string(key), err
}

// before is what was thought of a case before its last reading, nil when that is not remembered.
func (s *Service) before(n *knowledge.Network, c Case, readings []Reading) *assessment {
	if len(readings) == 0 {
		return nil
	}
	key, err := memoryKey(n, c.situation(readings[:len(readings)-1]))
	if err != nil {
		return nil
	}
	a, _ := s.assessmentCache.Get(key)
	return a
}

// staysWarm is how long the fluid is taken as hot after a check that needed it so (common practice, no source).
const staysWarm = 40 * time.Minute

// stand is where the vehicle is, what was set aside, and whether its fluid is still hot.
func (c Case) stand(n *knowledge.Network, now time.Time) plan.VehicleState {
	access, _ := unitsheet.ParseAccess(c.Access)
	out := plan.VehicleState{Access: access, Skipped: c.marked("skip")}
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
