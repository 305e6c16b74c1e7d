package shop

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strings"
	"time"

	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/internal/problem"
)

// Gauge is a measuring tool of the shop. Resolution and Uncertainty (± at 95 %) are texts with a unit; Until is the day
// on which its calibration ends, as 2027-03-31, empty when it has none.
type Gauge struct {
	ID, Name, Dimension, Resolution, Uncertainty, Until string
}

// Overdue reports whether a gauge's calibration has ended on a day of the shop.
func (g Gauge) Overdue(today time.Time) bool {
	return g.Until != "" && g.Until < today.Format(time.DateOnly)
}

// Terms are the shop's units and the gauge chosen.
func (s *Service) Terms(ctx context.Context, gauge string) (instrument.Terms, error) {
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return instrument.Terms{}, err
	}
	out := instrument.Terms{Units: st.Unit, Style: st.Style()}
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
	return out, problem.Field("gauge", fmt.Sprintf("no gauge %q in the shop", gauge), strings.Join(names, ", "))
}

// parse reads the texts of a gauge.
func (g Gauge) parse(at string) (instrument.Gauge, error) {
	d := quantity.Dimension(g.Dimension)
	units := quantity.UnitsOf(d)
	if len(units) == 0 {
		return instrument.Gauge{}, problem.Field(at+"dimension", fmt.Sprintf("%q", g.Dimension), "length, pressure, torque, angle, force, rotational-speed, flow, mass, temperature or time")
	}
	width := func(field, text string) (float64, error) {
		if strings.TrimSpace(text) == "" {
			return 0, nil
		}
		// A width is a difference: read from nothing, so that a scale with an offset does not add it.
		q, err := quantity.Parse(text, d, units[0].Symbol)
		zero, _ := quantity.Of(0, d, units[0].Symbol)
		if err != nil || q.SI-zero.SI < 0 {
			return 0, problem.Field(at+field, fmt.Sprintf("%q", text), "a width such as 0.01 "+units[0].Symbol+", or nothing")
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

// gaugesRev changes with every gauge, so that two people who edit the list at once do not overwrite each other. It does not
// depend on how the shop writes numbers.
func gaugesRev(all []Gauge) string {
	h := sha256.New()
	for _, g := range all {
		fmt.Fprintf(h, "%q\n", []string{g.ID, g.Name, g.Dimension, g.Resolution, g.Uncertainty, g.Until})
	}
	return hex.EncodeToString(h.Sum(nil))[:16]
}

// SaveGauges replaces the gauges of the shop, all or none, if they are still those of the revision; an empty one is not held against them.
func (s *Service) SaveGauges(ctx context.Context, gauges []Gauge, rev string) (GaugeBook, error) {
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return GaugeBook{}, err
	}
	for i := range gauges {
		g, at := &gauges[i], fmt.Sprintf("gauges[%d].", i)
		if g.ID == "" {
			g.ID = "g" + strings.ToLower(rand.Text()[:13])
		}
		if err := problem.CheckText(at+"name", g.Name, problem.MaxShort, true); err != nil {
			return GaugeBook{}, err
		}
		if slices.ContainsFunc(gauges[:i], func(o Gauge) bool { return o.ID == g.ID }) {
			return GaugeBook{}, problem.Field(at+"id", fmt.Sprintf("%q is there twice", g.ID), "each id once")
		}
		for field, text := range map[string]*string{"resolution": &g.Resolution, "uncertainty": &g.Uncertainty} {
			if _, err := st.Style().Parse(*text, quantity.Dimension(g.Dimension), ""); *text != "" && err != nil && strings.Contains(err.Error(), "it may be") {
				return GaugeBook{}, problem.Field(at+field, err.Error(), "a width such as "+st.Style().Number(0.01, 2))
			}
			*text = st.Style().Canonical(*text)
		}
		made, err := g.parse(at)
		if err != nil {
			return GaugeBook{}, err
		}
		if made.Resolution == 0 && made.Own == 0 {
			return GaugeBook{}, problem.Field(at+"resolution", "neither resolution nor uncertainty is given", "at least one, such as 0.01 mm")
		}
		if g.Until != "" {
			if _, err := time.Parse(time.DateOnly, g.Until); err != nil {
				return GaugeBook{}, problem.Field(at+"until", fmt.Sprintf("%q", g.Until), "a day such as 2027-03-31, or nothing")
			}
		}
	}
	if err := s.Store.SaveGauges(ctx, gauges, func(now []Gauge) error {
		if rev != "" && gaugesRev(now) != rev {
			return problem.ErrChanged
		}
		return nil
	}); err != nil {
		return GaugeBook{}, err
	}
	s.Tell("settings", 0)
	return s.Gauges(ctx)
}

// GaugeBook is the measuring tools of the shop, by name, with their figures as the shop writes numbers.
type GaugeBook struct {
	Gauges []Gauge
	Rev    string
	Today  time.Time // the day that it is at the shop
}

// Gauges returns the measuring tools of the shop.
func (s *Service) Gauges(ctx context.Context) (GaugeBook, error) {
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return GaugeBook{}, err
	}
	all, err := s.Store.Gauges(ctx)
	out := GaugeBook{Gauges: all, Rev: gaugesRev(all), Today: DayOf(s.Now(), st.Location())}
	for i := range all {
		all[i].Resolution, all[i].Uncertainty = st.Style().Localise(all[i].Resolution), st.Style().Localise(all[i].Uncertainty)
	}
	return out, err
}
