package casework

import (
	"context"
	"errors"

	"innercompass/core/decide"
	"innercompass/core/knowledge"
)

// OptionComparison is the options of a case on one money axis, with what would change their order.
type OptionComparison struct {
	decide.Comparison
	Check    AdviceView // worth doing before anything is decided; empty when nothing is
	Figures  []decide.Assumption
	Visit    decide.Row    // the option named, or the first, with what was added to it
	Ceiling  decide.Amount // that it was held against; 0 for none
	Settings Settings
}

// model prepares the options of a case as it stands.
func (s *Service) model(ctx context.Context, at Standing, n *knowledge.Network, full bool) (*decide.Model, *assessment, error) {
	c := at.Case
	a, err := s.assess(ctx, n, c.situation(c.Valid()), full)
	if err != nil {
		return nil, nil, err
	}
	return decide.NewModel(n, a.Assessment, c.stand(n, s.Now()).Access, Rates(at.Settings), at.Book), a, nil
}

// Options compares the repair options of a case from where the vehicle stands, with what is set by hand. In full, it finds
// the check worth doing first as well, what would have to be different, and what is worth doing in the same visit as the
// option named, or the first, and what that comes to with the add-ons named.
func (s *Service) Options(ctx context.Context, id string, ch decide.Choices, option string, addOns []string, full bool) (OptionComparison, error) {
	at, err := s.Store.Standing(ctx, id, Guard{})
	if err != nil {
		return OptionComparison{}, err
	}
	c, st := at.Case, at.Settings
	n, err := s.network(ctx, c)
	if err != nil {
		return OptionComparison{}, err
	}
	m, a, err := s.model(ctx, at, n, true)
	if err != nil {
		return OptionComparison{}, err
	}
	out := OptionComparison{Settings: st, Ceiling: ch.Ceiling}
	if out.Comparison, err = m.Compare(ch); err != nil {
		return OptionComparison{}, asField(err)
	}
	if !full || len(out.Rows) == 0 {
		return out, nil // the order alone follows a figure as it is typed
	}
	if h := a.next(c.stand(n, s.Now()), Economics(st)); len(h.Best) > 0 {
		out.Check = advice(n, h.Best[0])
	}
	if out.Turns, err = m.BreakEvens(out.Rows, ch); err != nil {
		return OptionComparison{}, asField(err)
	}
	out.Sentence = Rates(st).Sentence(out.Turns, out.Rows[0].Option.Title)
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
		return &FieldError{fe.ID, fe.Reason, fe.Accepted}
	}
	return err
}
