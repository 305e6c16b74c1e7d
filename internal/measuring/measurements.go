package measuring

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/knowledge"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
)

// Use is an instrument as it was used: with which check and gauge, and what was typed. Again keeps what it stated before
// beside it.
type Use struct {
	Check, Gauge, By string
	Plain            bool // numbers are written as in files, not as the shop writes them
	Again            bool
	Values           map[string]string
}

// PutCalculated runs an instrument and keeps the measurement in the case, with the readings that it states of this unit.
func (s *Service) PutCalculated(ctx context.Context, at InstrumentAt, g cases.Guard, use Use) (cases.Saved, error) {
	n, err := s.Cases.NetworkOf(ctx, at.Case)
	if err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Settle(ctx, at.Case, g, "measure "+at.Name, use, func(st cases.Standing) (func(cases.Held) (cases.Changes, error), error) {
		if err := cases.MustBeOpen(st.Case); err != nil {
			return nil, err
		}
		m, stated, err := s.measurement(ctx, at, use)
		if err != nil {
			return nil, err
		}
		readings, err := s.statedReadings(st.Case, n, m, stated, use)
		return func(cases.Held) (cases.Changes, error) {
			return cases.Changes{Measurements: []cases.Measurement{m}, Readings: readings}, nil
		}, err
	})
}

// statedReadings are the readings that a measurement states of this unit.
func (s *Service) statedReadings(c cases.Case, n *knowledge.Network, m cases.Measurement, stated []instrument.DerivedReading, use Use) ([]cases.Reading, error) {
	seen := readings.SeenFindings(c)
	var out []cases.Reading
	for _, st := range stated {
		f, ok := n.Finding(st.Finding)
		if !ok {
			continue // this unit has no such finding
		}
		likelihood := make([]float64, len(f.States))
		for j, state := range f.States {
			likelihood[j] = st.Likelihood[state.ID]
		}
		r, err := s.Readings.New(c, n, "values.", readings.NewReading{Key: m.Key + "." + st.Finding, Finding: st.Finding, State: st.State, Source: "measured", Stage: "checks", Check: use.Check,
			Value: st.Value, By: use.By, Likelihood: likelihood, Again: use.Again && seen[st.Finding]})
		if err != nil {
			return nil, err
		}
		r.Measurement = m.ID
		out = append(out, r)
	}
	return out, nil
}

// measurement runs an instrument and writes down what it came to, with what it states.
func (s *Service) measurement(ctx context.Context, at InstrumentAt, use Use) (cases.Measurement, []instrument.DerivedReading, error) {
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return cases.Measurement{}, nil, err
	}
	typed := use.Values
	if use.Plain {
		typed = s.rewritten(ctx, at, use.Values, st.Style().Localise)
	}
	result, d, err := s.Calculate(ctx, at, use.Gauge, typed)
	if err != nil {
		return cases.Measurement{}, nil, err
	}
	plain := map[string]string{} // so that they mean the same whatever the shop chooses later
	for id, text := range typed {
		if plain[id] = text; numeric(d, id) {
			plain[id] = st.Style().Canonical(text)
		}
	}
	if err := problem.CheckText("by", use.By, problem.MaxShort, false); err != nil {
		return cases.Measurement{}, nil, err
	}
	terms, err := s.Shop.Terms(ctx, use.Gauge)
	if err != nil {
		return cases.Measurement{}, nil, err
	}
	m := cases.Measurement{ID: cases.NewID("m"), Instrument: d.Name(), Check: use.Check, Gauge: use.Gauge, Values: plain, Says: result.Headline, By: use.By, At: s.Now()}
	m.Key = m.ID
	if terms.Gauge != nil {
		m.GaugeName = terms.Gauge.Name
	}
	switch {
	case len(result.Stated) > 0:
		m.Value = result.Stated[0].Value
	case len(result.Outputs) > 0:
		o := result.Outputs[0]
		m.Value = o.Text(terms)
	}
	return m, result.Stated, nil
}

// rewritten rewrites the numbers among typed values.
func (s *Service) rewritten(ctx context.Context, at InstrumentAt, values map[string]string, with func(string) string) map[string]string {
	v, err := s.Instrument(ctx, at)
	if err != nil {
		return values // calculating says what is wrong
	}
	out := map[string]string{}
	for id, text := range values {
		if out[id] = text; numeric(v.Definition, id) {
			out[id] = with(text)
		}
	}
	return out
}

// WithdrawMeasurement withdraws a measurement that stands, with the readings that it stated.
func (s *Service) WithdrawMeasurement(ctx context.Context, caseID string, g cases.Guard, id, by string) (cases.Saved, error) {
	if err := problem.CheckText("by", by, problem.MaxShort, false); err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Change(ctx, caseID, g, "take back", []string{id, by}, func(h cases.Held) (cases.Changes, error) {
		c := h.Case
		if err := cases.MustBeOpen(c); err != nil {
			return cases.Changes{}, err
		}
		if !slices.ContainsFunc(c.Kept(), func(m cases.Measurement) bool { return m.ID == id }) {
			return cases.Changes{}, problem.NotFound("measurement that stands", id, "the id of one that was kept and not taken back")
		}
		back := cases.Measurement{ID: cases.NewID("m"), By: by, At: s.Now(), Withdraws: id}
		back.Key = back.ID
		var readings []cases.Reading
		for _, r := range c.Valid() {
			if r.Measurement == id {
				gone := cases.Reading{ID: cases.NewID("r"), By: by, At: s.Now(), Withdraws: r.ID}
				gone.Key = gone.ID
				readings = append(readings, gone)
			}
		}
		return cases.Changes{Measurements: []cases.Measurement{back}, Readings: readings}, nil
	})
}

// KeptView is a measurement in words.
type KeptView struct {
	ID, Instrument, Title, Value, Says, By, GaugeName string
	At                                                time.Time
	Stands                                            bool
	Reading                                           bool // it stated a finding of the unit
}

func keptView(c cases.Case, n *knowledge.Network, m cases.Measurement) KeptView {
	out := KeptView{ID: m.ID, Instrument: m.Instrument, Title: m.Instrument, Value: m.Value, Says: m.Says, By: m.By, GaugeName: m.GaugeName, At: m.At,
		Stands:  slices.ContainsFunc(c.Kept(), func(o cases.Measurement) bool { return o.ID == m.ID }),
		Reading: slices.ContainsFunc(c.Readings, func(r cases.Reading) bool { return r.Measurement == m.ID })}
	if d, err := instruments.For(m.Instrument, n.Unit); err == nil {
		out.Title = d.Title
	}
	return out
}

// Measurements lists what was measured in a case, oldest first, with what no longer stands.
func (s *Service) Measurements(ctx context.Context, caseID string) ([]KeptView, error) {
	c, n, err := s.Cases.Load(ctx, caseID)
	if err != nil {
		return nil, err
	}
	var out []KeptView
	for _, m := range c.Measurements {
		if m.Withdraws == "" {
			out = append(out, keptView(c, n, m))
		}
	}
	return out, nil
}

// FileMeasurement is one measurement of a file: the instrument and what was typed; readings name it by its id.
type FileMeasurement struct {
	ID         string            `json:"id"`
	Instrument string            `json:"instrument"`
	Values     map[string]string `json:"values"`
	By         string            `json:"by,omitempty"`
}

// FileMeasurements writes those that stand.
func FileMeasurements(c cases.Case) []FileMeasurement {
	var out []FileMeasurement
	for _, m := range c.Kept() {
		out = append(out, FileMeasurement{m.ID, m.Instrument, m.Values, m.By})
	}
	return out
}

// TakeMeasurements computes the measurements of a file anew into a case that is being made, and maps their ids.
func (s *Service) TakeMeasurements(ctx context.Context, c *cases.Case, n *knowledge.Network, list []FileMeasurement) (map[string]string, error) {
	ids := map[string]string{}
	for i, f := range list {
		at := fmt.Sprintf("measurements[%d].", i)
		if f.ID == "" || ids[f.ID] != "" {
			return nil, problem.Field(at+"id", fmt.Sprintf("%q is empty or there twice", f.ID), "each id once")
		}
		m, _, err := s.measurement(ctx, InstrumentAt{Name: f.Instrument, Unit: n.Unit.Sheet.ID}, Use{Values: f.Values, By: f.By, Plain: true})
		var fe *problem.FieldError
		var none *problem.NotFoundError
		switch {
		case errors.As(err, &fe):
			return nil, problem.Field(at+fe.Field, fe.Reason, fe.Accepted)
		case errors.As(err, &none):
			return nil, problem.Field(at+"instrument", none.Error(), none.Accepted)
		case err != nil:
			return nil, err
		}
		c.Measurements, ids[f.ID] = append(c.Measurements, m), m.ID
	}
	return ids, nil
}
