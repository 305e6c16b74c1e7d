package casebench

import (
	"context"
	"math"
	"slices"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/pricebook"
	"innercompass/core/unitsheet"
)

// Shop is what is paid in the shop that the cases are brought to.
type Shop struct {
	Economics plan.Economics
	Rates     pricebook.Rates
}

// Standing is where the roots stand at one stage.
type Standing struct {
	Stage       string
	Rank        int     // 1 when every root leads, two of them side by side; 0 when a root has no entry
	Probability float64 // of the root that stands lowest
	Leader      string  // id
	LeaderShare float64
	Right       bool // the leader is a root
	Stop        bool // the advice is to stop checking
	Outside     bool // nothing listed explains the readings well
	Exact       bool
}

// Result is how one case went.
type Result struct {
	ID, Unit  string
	Coincides bool
	Spent     bool
	Kinds     []string
	Stages    []Standing // those that have lines
	Sure      Standing   // at the stage after which a veteran decides
	Next      string     // check proposed first after words and answers; empty when none is
	NextIs    string     // good, bad, or empty when nobody has said
	Option    string     // advised at the sure stage; empty when it says that it is too early
	OptionIs  string     // do, never, or empty
	Lines     int        // told, of which
	Lacks     []string   // had no word
}

// access is how far a vehicle is opened up at a stage.
var access = map[string]unitsheet.Access{"ground": unitsheet.Lifted, "deeper": unitsheet.UnitApart}

// Run works on one case.
func Run(ctx context.Context, n *knowledge.Network, c Case, shop Shop) (Result, error) {
	out := Result{ID: c.ID, Unit: c.Unit, Coincides: c.Coincides, Spent: c.Spent, Kinds: c.Kinds}
	for _, stage := range Stages {
		for _, l := range c.Lines[stage] {
			if out.Lines++; l.Lacks != "" {
				out.Lacks = append(out.Lacks, stage+": "+l.Lacks)
			}
		}
		if len(c.Lines[stage]) == 0 && stage != c.SureAfter && stage != "asked" {
			continue
		}
		s, err := c.Situation(stage)
		if err != nil {
			return out, err
		}
		a, err := diagnose.AssessInFull(ctx, n, s)
		if err != nil {
			return out, err
		}
		stand := plan.VehicleState{Access: max(access[stage], lowest(n.Unit))}
		if !n.Unit.Has(stand.Access) {
			stand.Access = n.Unit.Levels[len(n.Unit.Levels)-1]
		}
		h := plan.Next(a, stand, shop.Economics)
		at := c.standing(stage, a, h)
		out.Stages = append(out.Stages, at)
		if stage == "asked" && len(h.Best) > 0 {
			out.Next = h.Best[0].Check.ID
			switch {
			case matchesAny(c.Next.Bad, out.Next):
				out.NextIs = "bad"
			case matchesAny(c.Next.Good, out.Next):
				out.NextIs = "good"
			}
		}
		if stage == c.SureAfter {
			out.Sure = at
			if err := out.decide(n, a, stand.Access, c, shop); err != nil {
				return out, err
			}
		}
	}
	return out, nil
}

func lowest(u *unitsheet.Unit) unitsheet.Access { return u.Levels[0] }

func (c Case) standing(stage string, a *diagnose.Assessment, h plan.Recommendation) Standing {
	lead := a.Suspects[0]
	out := Standing{Stage: stage, Leader: lead.Cause.ID, LeaderShare: lead.Probability, Stop: len(h.Best) == 0 && h.Stop != "", Outside: a.Surprise.Outside, Exact: a.Exact, Probability: 1}
	var places []int
	for _, root := range c.Truth {
		place, share := 0, 0.0
		for i, s := range a.Suspects {
			if slices.Contains(root, s.Cause.ID) {
				if place == 0 {
					place = i + 1
				}
				share += s.Probability
			}
		}
		out.Right = out.Right || slices.Contains(root, lead.Cause.ID)
		out.Probability = math.Min(out.Probability, math.Min(1, share))
		places = append(places, place)
	}
	slices.Sort(places)
	if len(places) == 0 || places[0] == 0 {
		out.Probability = 0
		return out
	}
	for i, p := range places { // of two roots the second may stand second
		out.Rank = max(out.Rank, p-i)
	}
	return out
}

func (r *Result) decide(n *knowledge.Network, a *diagnose.Assessment, from unitsheet.Access, c Case, shop Shop) error {
	m := decide.NewModel(n, a, from, shop.Rates, nil)
	cmp, err := m.Compare(decide.Choices{})
	if err != nil {
		return err
	}
	if len(cmp.Rows) == 0 || !cmp.Rows[0].Settled() {
		return nil
	}
	r.Option = cmp.Rows[0].Option.ID
	switch {
	case matchesAny(c.Never, r.Option):
		r.OptionIs = "never"
	case matchesAny(c.Do, r.Option):
		r.OptionIs = "do"
	}
	return nil
}
