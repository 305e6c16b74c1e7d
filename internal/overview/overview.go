// Package overview shows a case as it now stands, whole or what a change has made new in it, and explains it.
package overview

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/floor"
	"innercompass/internal/library"
	"innercompass/internal/people"
	"innercompass/internal/present"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
)

// Service shows cases.
type Service struct {
	Cases     *cases.Service
	Shop      *shop.Service
	Library   *library.Service
	Assessing *assessing.Service
	Intake    *takein.Service
	Floor     *floor.Service
	Now       func() time.Time
}

// View returns a case as it now stands. Its probabilities are from the best sets of causes when the exact ones would
// take long; Suspicion.Exact says which.
func (s *Service) View(ctx context.Context, id string) (present.View, error) {
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		return present.View{}, err
	}
	return s.view(ctx, c, look{parts: present.All, weigh: true})
}

// Ranking returns what the readings of a case mean with exact probabilities, however long they take, unless ctx ends before.
func (s *Service) Ranking(ctx context.Context, id string) (present.View, error) {
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		return present.View{}, err
	}
	return s.view(ctx, c, look{parts: present.Parts{Ranking: true}, full: true, weigh: true})
}

// After is what a change has made new in a case. Its row of the Floor is kept; when nobody waits for the answer any more, the
// row follows later.
func (s *Service) After(ctx context.Context, saved cases.Saved) (present.View, error) {
	v, err := s.view(ctx, saved.Case, look{parts: present.Moved(saved), row: true})
	if err != nil {
		s.Floor.Ask()
	}
	return v, err
}

// look says how a case is looked at.
type look struct {
	parts present.Parts
	full  bool // with the exact probabilities, however long they take
	weigh bool // with the weights of the readings
	row   bool // its row of the Floor is kept
}

func (s *Service) view(ctx context.Context, c cases.Case, how look) (present.View, error) {
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return present.View{}, err
	}
	n, err := s.Cases.Network(ctx, c)
	if err != nil {
		return present.View{}, err
	}
	shown := c
	shown.Distance, shown.DueDistance = st.Style().Localise(c.Distance), st.Style().Localise(c.DueDistance)
	v := present.View{Case: shown, Parts: how.parts, Style: st.Style()}
	if err := s.ranking(ctx, n, c, st, how, &v); err != nil {
		return present.View{}, err
	}
	if how.parts.Head {
		v.Head(n)
		if v.Earlier, v.Later, err = s.Intake.Visits(ctx, c); err != nil {
			return present.View{}, err
		}
		newest, err := s.Library.Find(ctx, c.UnitID, 0)
		if err != nil {
			return present.View{}, err
		}
		v.UnitNewest, v.UnitNote = newest.Unit.Sheet.Version, n.Unit.Note()
	}
	v.Papers(n, s.Now(), how.parts)
	if may, _ := people.From(ctx).May(people.Offer); !may { // a link answers for the customer: it is not for everybody who may look
		for i := range v.Estimates {
			v.Estimates[i].Token = ""
		}
	}
	return v, nil
}

// ranking computes what a case means and lays it out where that is looked at; its row of the Floor follows from it in any case.
func (s *Service) ranking(ctx context.Context, n *knowledge.Network, c cases.Case, st shop.Settings, how look, v *present.View) error {
	a, err := s.Assessing.Assess(ctx, n, c.Situation(c.Valid()), how.full)
	if err != nil {
		return err
	}
	next := beside(func() plan.Recommendation { return s.Assessing.Heading(n, c, a, st) }) // beside the weights, which take as long
	var w diagnose.Weights
	if v.Weighed = how.weigh || a.Done.Load(); v.Weighed {
		w, err = a.Weighed()
	} else {
		w = a.Unweighed(len(c.Valid()), s.Assessing.Before(n, c, c.Valid()))
	}
	h, failed := next()
	if err := errors.Join(err, failed); err != nil {
		return err
	}
	if how.parts.Ranking {
		v.Ranking(n, a.Assessment, w, h)
	}
	if !how.row {
		return nil
	}
	return s.Floor.SaveRow(ctx, n, c, a.Assessment, h, st)
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
