// Package measuring uses the instruments in a case, or without one, and keeps what they came to.
package measuring

import (
	"context"
	"errors"
	"slices"
	"time"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/knowledge"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/internal/cases"
	"innercompass/internal/library"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/shop"
)

// Store remembers how laboratories lay out their tables.
type Store interface {
	// LabLayout is what the columns of a laboratory's table with these heads were taken for the last time.
	LabLayout(ctx context.Context, heads string) ([]string, error)
	SaveLabLayout(ctx context.Context, heads string, fields []string) error
}

// Service measures.
type Service struct {
	Store    Store
	Cases    *cases.Service
	Shop     *shop.Service
	Library  *library.Service
	Readings *readings.Service
	Now      func() time.Time
	// Surrounds is what is known of what surrounds the unit of a vehicle, by the input of an instrument that asks it; may be nil.
	Surrounds func(ctx context.Context, vehicle string) (map[string]string, error)
}

// InstrumentAt says which instrument, fitted to what: a case, a unit without a case, or nothing.
type InstrumentAt struct {
	Name string // id, or id:part
	Case string
	Unit string
}

// InstrumentView is an instrument ready to be used.
type InstrumentView struct {
	Definition instrument.Definition
	Parts      []instrument.Option
	Values     map[string]string // typed beforehand: the last ones in the case, else what the sheet knows
	From       map[string]string // titles of the measurements that stand in these inputs
	History    []KeptView        // of this instrument in the case, oldest first
	States     []string          // titles of the findings that it would state in this case; empty without one
	Gauges     []shop.Gauge      // of the shop that fit an input
	UnitName   string
	Unit       *unitsheet.Unit // nil without one
	today      time.Time
	style      quantity.Style
}

// Overdue reports whether the calibration of a gauge has ended.
func (v InstrumentView) Overdue(g shop.Gauge) bool { return g.Overdue(v.today) }

// Instrument returns an instrument, fitted and filled in.
func (s *Service) Instrument(ctx context.Context, at InstrumentAt) (InstrumentView, error) {
	c, n, err := s.measuredOn(ctx, at)
	if err != nil {
		return InstrumentView{}, err
	}
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return InstrumentView{}, err
	}
	var u *unitsheet.Unit
	out := InstrumentView{Values: map[string]string{}, From: map[string]string{}, today: shop.DayOf(s.Now(), st.Location())}
	if n != nil {
		u, out.UnitName, out.Unit = n.Unit, n.Unit.Sheet.Name, n.Unit
	}
	d, err := instruments.For(at.Name, u)
	if err != nil {
		return InstrumentView{}, noInstrument(err)
	}
	d.InUnits(st.Unit, st.Style())
	out.style = st.Style()
	out.Definition, out.Parts = d, d.Parts(u)
	for _, in := range d.Inputs {
		if in.Default != "" {
			out.Values[in.ID] = in.Default
		}
	}
	if c != nil {
		if err := s.fromCase(ctx, &out, *c, n); err != nil {
			return InstrumentView{}, err
		}
	}
	book, err := s.Shop.Gauges(ctx)
	for _, g := range book.Gauges {
		if slices.ContainsFunc(d.Inputs, func(in instrument.Input) bool { return in.Gauged && string(in.Dimension) == g.Dimension }) {
			out.Gauges = append(out.Gauges, g)
		}
	}
	return out, err
}

// fromCase adds what the case knows: what was kept of this instrument, and results of others that may stand in its inputs.
// What was kept last wins.
func (s *Service) fromCase(ctx context.Context, v *InstrumentView, c cases.Case, n *knowledge.Network) error {
	for _, id := range v.Definition.States {
		if f, ok := n.Finding(id); ok {
			v.States = append(v.States, f.Title)
		}
	}
	if v.Definition.Surrounded && s.Surrounds != nil {
		known, err := s.Surrounds(ctx, c.Vehicle)
		if err != nil {
			return err
		}
		for id, text := range known {
			v.Values[id], v.From[id] = v.localised(id, text), "the vehicle's sheet"
		}
	}
	for _, m := range c.Measurements {
		if m.Instrument == v.Definition.Name() && m.Withdraws == "" {
			v.History = append(v.History, keptView(c, n, m))
		}
	}
	for _, m := range c.Kept() {
		switch {
		case m.Instrument == v.Definition.Name():
			for id, text := range m.Values {
				v.Values[id] = v.localised(id, text)
			}
		case v.Definition.TakesFrom(m.Instrument):
			if err := s.carry(ctx, v, n, m); err != nil {
				return err
			}
		}
	}
	return nil
}

// carry puts the results of another instrument's measurement into the inputs that take them. What can no longer be
// computed, since the sheet has changed, is passed over.
func (s *Service) carry(ctx context.Context, v *InstrumentView, n *knowledge.Network, m cases.Measurement) error {
	d, err := instruments.For(m.Instrument, n.Unit)
	if err != nil {
		return nil
	}
	terms, err := s.Shop.Terms(ctx, m.Gauge)
	var gone *problem.FieldError
	if errors.As(err, &gone) { // the shop no longer has the gauge: the usual one stands in
		terms, err = s.Shop.Terms(ctx, "")
	}
	if err != nil {
		return err
	}
	terms.Style = quantity.Style{} // values are kept as files write them
	result, err := d.Run(m.Values, terms)
	if err != nil {
		return nil
	}
	for _, next := range result.Next {
		if next.Name != v.Definition.Name() {
			continue
		}
		for input, value := range next.Values {
			v.Values[input], v.From[input] = v.localised(input, value), d.Title
		}
	}
	return nil
}

// localised is a kept value as the shop writes numbers; what is no number stays.
func (v *InstrumentView) localised(id, text string) string {
	if numeric(v.Definition, id) {
		return v.style.Localise(text)
	}
	return text
}

func numeric(d instrument.Definition, id string) bool {
	return slices.ContainsFunc(d.Inputs, func(in instrument.Input) bool {
		return in.ID == id && (in.Kind == instrument.Number || in.Kind == instrument.List)
	})
}

// measuredOn finds the case and the network that an instrument is used on; both are nil without one.
func (s *Service) measuredOn(ctx context.Context, at InstrumentAt) (*cases.Case, *knowledge.Network, error) {
	switch {
	case at.Case != "":
		c, n, err := s.Cases.Load(ctx, at.Case)
		return &c, n, err
	case at.Unit != "":
		n, err := s.Library.Unit(ctx, at.Unit, 0)
		return nil, n, err
	}
	return nil, nil, nil
}

func noInstrument(err error) error {
	var unknown *instrument.UnknownError
	if errors.As(err, &unknown) {
		return problem.NotFound("instrument", unknown.Name, unknown.Accepted)
	}
	return err
}

// Calculate runs an instrument on typed values, read with a gauge of the shop when one is named; nothing is stored.
func (s *Service) Calculate(ctx context.Context, at InstrumentAt, gauge string, values map[string]string) (instrument.Result, instrument.Definition, error) {
	v, err := s.Instrument(ctx, at)
	if err != nil {
		return instrument.Result{}, v.Definition, err
	}
	terms, err := s.Shop.Terms(ctx, gauge)
	if err != nil {
		return instrument.Result{}, v.Definition, err
	}
	r, err := v.Definition.Run(values, terms)
	var ie *instrument.InputError
	if errors.As(err, &ie) {
		return r, v.Definition, problem.Field("values."+ie.Input, ie.Reason, ie.Accepted)
	}
	return r, v.Definition, err
}

// StatedTitle is a reading that a result states, in words.
type StatedTitle struct{ Finding, State, Title string }

// StatedTitles are those of the readings that the case's unit has; without a case there are none.
func (s *Service) StatedTitles(ctx context.Context, caseID string, stated []instrument.DerivedReading) ([]StatedTitle, error) {
	if caseID == "" {
		return nil, nil
	}
	_, n, err := s.Cases.Load(ctx, caseID)
	if err != nil {
		return nil, err
	}
	var out []StatedTitle
	for _, x := range stated {
		if f, ok := n.Finding(x.Finding); ok {
			out = append(out, StatedTitle{x.Finding, x.State, f.Title + ": " + f.StateTitle(x.State)})
		}
	}
	return out, nil
}
