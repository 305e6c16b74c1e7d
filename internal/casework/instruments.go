package casework

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Gauge is a measuring tool of the shop. Resolution and Uncertainty (± at 95 %) are texts with a unit; Until is the day
// on which its calibration ends, as 2027-03-31, empty when it has none.
type Gauge struct {
	ID, Name, Dimension, Resolution, Uncertainty, Until string
}

// Overdue reports whether a gauge's calibration has ended.
func (g Gauge) Overdue(now time.Time) bool {
	return g.Until != "" && g.Until < now.Format(time.DateOnly)
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
	History    []MeasuredBefore
	States     []string // titles of the findings that it would state in this case; empty without one
	Gauges     []Gauge  // of the shop that fit an input
	UnitName   string
	now        time.Time
}

// Overdue reports whether the calibration of a gauge has ended.
func (v InstrumentView) Overdue(g Gauge) bool { return g.Overdue(v.now) }

// MeasuredBefore is an earlier reading of what the instrument states.
type MeasuredBefore struct {
	At                        time.Time
	Finding, State, Value, By string
}

// Instrument returns an instrument, fitted and filled in.
func (s *Service) Instrument(ctx context.Context, at InstrumentAt) (InstrumentView, error) {
	c, n, err := s.measuredOn(ctx, at)
	if err != nil {
		return InstrumentView{}, err
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return InstrumentView{}, err
	}
	var u *unitsheet.Unit
	out := InstrumentView{Values: map[string]string{}, now: s.Now()}
	if n != nil {
		u, out.UnitName = n.Unit, n.Unit.Sheet.Name
	}
	d, err := instrument.For(at.Name, u)
	if err != nil {
		return InstrumentView{}, noInstrument(err)
	}
	d.InUnits(st.Unit)
	out.Definition, out.Parts = d, d.Parts(u)
	for _, in := range d.Inputs {
		if in.Default != "" {
			out.Values[in.ID] = in.Default
		}
	}
	if c != nil {
		out.fromCase(*c, n)
	}
	gauges, err := s.Store.Gauges(ctx)
	for _, g := range gauges {
		if slices.ContainsFunc(d.Inputs, func(in instrument.Input) bool { return in.Gauged && string(in.Dimension) == g.Dimension }) {
			out.Gauges = append(out.Gauges, g)
		}
	}
	return out, err
}

// fromCase adds what the case knows: earlier readings, and what was typed last.
func (v *InstrumentView) fromCase(c Case, n *diagnose.Network) {
	for _, id := range v.Definition.States {
		if f, ok := n.Finding(id); ok {
			v.States = append(v.States, f.Title)
		}
	}
	for _, r := range c.Valid() {
		if typed, ok := measuredWith(r.Note, v.Definition.Name()); ok {
			maps.Copy(v.Values, typed)
		}
		if f, ok := n.Finding(r.Finding); ok && r.Source != "customer" && slices.Contains(v.Definition.States, r.Finding) {
			v.History = append(v.History, MeasuredBefore{r.At, f.Title, f.StateTitle(r.State), r.Value, r.By})
		}
	}
}

// measuredOn finds the case and the network that an instrument is used on; both are nil without one.
func (s *Service) measuredOn(ctx context.Context, at InstrumentAt) (*Case, *diagnose.Network, error) {
	switch {
	case at.Case != "":
		c, n, err := s.load(ctx, at.Case)
		return &c, n, err
	case at.Unit != "":
		n, err := s.Unit(ctx, at.Unit, 0)
		return nil, n, err
	}
	return nil, nil, nil
}

func noInstrument(err error) error {
	var unknown *instrument.UnknownError
	if errors.As(err, &unknown) {
		return &NotFoundError{"instrument", unknown.Name, unknown.Accepted}
	}
	return err
}

// Calculate runs an instrument on typed values, read with a gauge of the shop when one is named; nothing is stored.
func (s *Service) Calculate(ctx context.Context, at InstrumentAt, gauge string, values map[string]string) (instrument.Result, instrument.Definition, error) {
	v, err := s.Instrument(ctx, at)
	if err != nil {
		return instrument.Result{}, v.Definition, err
	}
	terms, err := s.terms(ctx, gauge)
	if err != nil {
		return instrument.Result{}, v.Definition, err
	}
	r, err := v.Definition.Run(values, terms)
	var ie *instrument.InputError
	if errors.As(err, &ie) {
		return r, v.Definition, &FieldError{"values." + ie.Input, ie.Reason, ie.Accepted}
	}
	return r, v.Definition, err
}

// terms are the shop's units and the gauge chosen.
func (s *Service) terms(ctx context.Context, gauge string) (instrument.Terms, error) {
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return instrument.Terms{}, err
	}
	out := instrument.Terms{Units: st.Unit}
	if gauge == "" {
		return out, nil
	}
	all, err := s.Store.Gauges(ctx)
	if err != nil {
		return out, err
	}
	var names []string
	for _, g := range all {
		if g.ID == gauge {
			made, err := g.parse("gauge.")
			out.Gauge = &made
			return out, err
		}
		names = append(names, g.ID)
	}
	return out, &FieldError{"gauge", fmt.Sprintf("no gauge %q in the shop", gauge), strings.Join(names, ", ")}
}

// parse reads the texts of a gauge.
func (g Gauge) parse(at string) (instrument.Gauge, error) {
	d := quantity.Dimension(g.Dimension)
	units := quantity.UnitsOf(d)
	if len(units) == 0 {
		return instrument.Gauge{}, &FieldError{at + "dimension", fmt.Sprintf("%q", g.Dimension), "length, pressure, torque, angle, force, rotational-speed, flow, mass, temperature or time"}
	}
	width := func(field, text string) (float64, error) {
		if strings.TrimSpace(text) == "" {
			return 0, nil
		}
		// A width is a difference: read from nothing, so that a scale with an offset does not add it.
		q, err := quantity.Parse(text, d, units[0].Symbol)
		zero, _ := quantity.Of(0, d, units[0].Symbol)
		if err != nil || q.SI-zero.SI < 0 {
			return 0, &FieldError{at + field, fmt.Sprintf("%q", text), "a width such as 0.01 " + units[0].Symbol + ", or nothing"}
		}
		return q.SI - zero.SI, nil
	}
	resolution, err := width("resolution", g.Resolution)
	if err != nil {
		return instrument.Gauge{}, err
	}
	own, err := width("uncertainty", g.Uncertainty)
	return instrument.Gauge{Name: g.Name, Dimension: d, Resolution: resolution, Own: own / 2}, err
}

// SaveGauges replaces the gauges of the shop, all or none.
func (s *Service) SaveGauges(ctx context.Context, gauges []Gauge) ([]Gauge, error) {
	for i := range gauges {
		g, at := &gauges[i], fmt.Sprintf("gauges[%d].", i)
		if g.ID == "" {
			g.ID = newID("g")
		}
		if err := checkText(at+"name", g.Name, maxShort, true); err != nil {
			return nil, err
		}
		if slices.ContainsFunc(gauges[:i], func(o Gauge) bool { return o.ID == g.ID }) {
			return nil, &FieldError{at + "id", fmt.Sprintf("%q is there twice", g.ID), "each id once"}
		}
		made, err := g.parse(at)
		if err != nil {
			return nil, err
		}
		if made.Resolution == 0 && made.Own == 0 {
			return nil, &FieldError{at + "resolution", "neither resolution nor uncertainty is given", "at least one, such as 0.01 mm"}
		}
		if g.Until != "" {
			if _, err := time.Parse(time.DateOnly, g.Until); err != nil {
				return nil, &FieldError{at + "until", fmt.Sprintf("%q", g.Until), "a day such as 2027-03-31, or nothing"}
			}
		}
	}
	if err := s.Store.SaveGauges(ctx, gauges); err != nil {
		return nil, err
	}
	if s.Changed != nil {
		s.Changed("settings")
	}
	return s.Store.Gauges(ctx)
}

// Measurement is what is put into a case.
type Measurement struct {
	Check, Gauge, Key, By string
	Again                 bool
	Values                map[string]string
}

// PutCalculated runs an instrument and puts what it states into the case; Again keeps what it stated before beside it.
func (s *Service) PutCalculated(ctx context.Context, at InstrumentAt, m Measurement) (View, error) {
	result, d, err := s.Calculate(ctx, at, m.Gauge, m.Values)
	if err != nil {
		return View{}, err
	}
	c, n, err := s.load(ctx, at.Case)
	if err != nil {
		return View{}, err
	}
	seen := seenFindings(c)
	typed, err := json.Marshal(m.Values)
	if err != nil {
		return View{}, err
	}
	var add []NewReading
	for _, st := range result.Stated {
		f, ok := n.Finding(st.Finding)
		if !ok {
			continue // this unit has no such finding
		}
		likelihood := make([]float64, len(f.States))
		for j, state := range f.States {
			likelihood[j] = st.Likelihood[state.ID]
		}
		k := m.Key
		if k != "" && len(add) > 0 {
			k += "." + st.Finding
		}
		add = append(add, NewReading{Key: k, Finding: st.Finding, State: st.State, Source: "measured", Stage: "checks", Check: m.Check, Value: st.Value, Note: valuesNote + d.Name() + " " + string(typed), By: m.By, Likelihood: likelihood, Again: m.Again && seen[st.Finding]})
	}
	if len(add) == 0 {
		return View{}, &StateError{"what this measures is no finding of this unit", "note the value in words, or use it for the next step"}
	}
	return s.AddReadings(ctx, at.Case, add)
}

// valuesNote begins the note of a reading that an instrument made; its name and the typed values, as JSON, follow.
const valuesNote = "measured "

// measuredWith returns what was typed into an instrument when its note was written.
func measuredWith(note, name string) (map[string]string, bool) {
	rest, ok := strings.CutPrefix(note, valuesNote)
	if !ok {
		return nil, false
	}
	who, typed, ok := strings.Cut(rest, " ")
	out := map[string]string{}
	if !ok || who != name || json.Unmarshal([]byte(typed), &out) != nil {
		return nil, false
	}
	return out, true
}

// StatedTitle is a reading that a result states, in words.
type StatedTitle struct{ Finding, State, Title string }

// StatedTitles are those of the readings that the case's unit has; without a case there are none.
func (s *Service) StatedTitles(ctx context.Context, caseID string, stated []instrument.Stated) ([]StatedTitle, error) {
	if caseID == "" {
		return nil, nil
	}
	_, n, err := s.load(ctx, caseID)
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
