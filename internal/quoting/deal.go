// Package quoting compares what can be done about a fault, puts it before the customer, and freezes what was answered.
package quoting

import (
	"cmp"
	"context"
	"errors"
	"time"

	"innercompass/core/decide"
	"innercompass/core/estimate"
	"innercompass/core/job"
	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/workbench"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// Store finds what a private link leads to.
type Store interface {
	// EstimateCase is the case of the estimate with this token.
	EstimateCase(ctx context.Context, token string) (string, error)
}

// Service compares options, makes estimates and records answers.
type Service struct {
	Store     Store
	Cases     *cases.Service
	Assessing *assessing.Service
	Now       func() time.Time
}

// OptionComparison is the options of a case on one money axis, with what would change their order.
type OptionComparison struct {
	decide.Comparison
	Check       present.AdviceView // worth doing before anything is decided; empty when nothing is
	Figures     []decide.Assumption
	Visit       decide.Row   // the option named, or the first, with what was added to it
	Ceiling     money.Amount // that it was held against; 0 for none
	LookedAhead float64      // km, for what may come
	Settings    shop.Settings
}

// model prepares the options of a case as it stands.
func (s *Service) model(ctx context.Context, at cases.Standing, n *knowledge.Network, full bool) (*decide.Model, *assessing.Assessment, error) {
	c := at.Case
	a, err := s.Assessing.Assess(ctx, n, c.Situation(c.Valid()), full)
	if err != nil {
		return nil, nil, err
	}
	m := decide.NewModel(n, a.Assessment, assessing.Stand(c, n, s.Now()).Access, at.Settings.Rates(), at.Book)
	// What the bench says is bought stands in the estimate part by part.
	onBench := job.Visit{Network: n, Bench: workbench.New(n.Unit, c.BenchNotes()), Price: estimate.Estimator{Unit: n.Unit, Book: at.Book, Rates: at.Settings.Rates()}}
	m.List(onBench.Listed)
	return m, a, nil
}

// Options compares the repair options of a case from where the vehicle stands, with what is set by hand. In full, it finds
// the check worth doing first as well, what would have to be different, and what is worth doing in the same visit as the
// option named, or the first, and what that comes to with the add-ons named.
func (s *Service) Options(ctx context.Context, id string, ch decide.Choices, option string, addOns []string, full bool) (OptionComparison, error) {
	at, err := s.Cases.Standing(ctx, id, cases.Guard{})
	if err != nil {
		return OptionComparison{}, err
	}
	c, st := at.Case, at.Settings
	n, err := s.Cases.Network(ctx, c)
	if err != nil {
		return OptionComparison{}, err
	}
	m, a, err := s.model(ctx, at, n, true)
	if err != nil {
		return OptionComparison{}, err
	}
	out := OptionComparison{Settings: st, Ceiling: ch.Ceiling, LookedAhead: cmp.Or(ch.Ahead, decide.UsualAhead)}
	if out.Comparison, err = m.Compare(ch); err != nil {
		return OptionComparison{}, asField(err)
	}
	if !full || len(out.Rows) == 0 {
		return out, nil // the order alone follows a figure as it is typed
	}
	if h := a.Next(assessing.Stand(c, n, s.Now()), st.Economics()); len(h.Best) > 0 {
		out.Check = present.Advise(n, h.Best[0])
	}
	if out.Turns, err = m.BreakEvens(out.Rows, ch); err != nil {
		return OptionComparison{}, asField(err)
	}
	out.Sentence = decide.Sentence(st.Rates(), out.Turns, out.Rows[0].Title())
	if option == "" {
		option = out.Rows[0].Option.ID
	}
	if out.AddOns, err = m.AddOns(option, ch); err != nil {
		return OptionComparison{}, asField(err)
	}
	if out.Visit, err = m.Visit(option, addOns, ch); err != nil {
		return OptionComparison{}, asField(err)
	}
	out.Figures, err = m.FiguresOf(out.Rows, ch)
	return out, asField(err)
}

// asField turns what cannot be set into an error of the field.
func asField(err error) error {
	var fe *decide.FigureError
	if errors.As(err, &fe) {
		return problem.Field(fe.ID, fe.Reason, fe.Accepted)
	}
	return err
}
