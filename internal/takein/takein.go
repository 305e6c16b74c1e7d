// Package takein takes a vehicle in: from what is said at the counter, or from a case file; changes what is written down of it;
// and knows its earlier visits.
package takein

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
	"innercompass/internal/cases"
	"innercompass/internal/library"
	"innercompass/internal/measuring"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/shop"
)

// Store is what is kept of earlier visits.
type Store interface {
	// RemoveSample takes a sample case away, and refuses any other.
	RemoveSample(ctx context.Context, id string) error
	// Returns are the cases that are returns of a case; Visits those of a vehicle, by keys that cases.Fold makes.
	Returns(ctx context.Context, id string) ([]cases.Case, error)
	Visits(ctx context.Context, vehicle, customer string) ([]cases.Case, error)
	// LastCases are the heads of the cases that were opened last, newest first.
	LastCases(ctx context.Context, most int) ([]cases.Case, error)
}

// Service takes vehicles in.
type Service struct {
	Store     Store
	Cases     *cases.Service
	Shop      *shop.Service
	Library   *library.Service
	Readings  *readings.Service
	Measuring *measuring.Service
	Now       func() time.Time
	linking   sync.Mutex
}

// Intake is a vehicle as it comes in.
type Intake struct {
	Key                                                    string // of the page that sent it; "" when it does not repeat itself
	Words, Vehicle, Customer, Distance, UnitID, Bay, Owner string
	Preventive                                             bool // there is no complaint
	Nearest                                                bool // the vehicle's own unit is not on file: this one is the nearest
	Sample                                                 bool // made up, to be tried and removed
}

// TakeIn opens a case.
func (s *Service) TakeIn(ctx context.Context, in Intake) (cases.Saved, error) {
	if err := cases.CheckKey("key", in.Key); err != nil {
		return cases.Saved{}, err
	}
	what, err := cases.Fingerprint("take in", in)
	if err != nil {
		return cases.Saved{}, err
	}
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return cases.Saved{}, err
	}
	run, err := shop.ReadDistance("distance", st.Style(), in.Distance, st.Distance)
	if err != nil {
		return cases.Saved{}, err
	}
	c := cases.Case{ID: cases.NewID("c"), Words: strings.TrimSpace(in.Words), Vehicle: strings.TrimSpace(in.Vehicle), Customer: in.Customer, Distance: run,
		UnitID: in.UnitID, Stage: cases.Stages[0], Access: unitsheet.AccessNames[0], Bay: in.Bay, Owner: in.Owner, Opened: s.Now(), Rev: 1, Nearest: in.Nearest, Sample: in.Sample}
	if err := s.checkCase(ctx, &c); err != nil {
		return cases.Saved{}, err
	}
	if in.Preventive {
		n, err := s.Library.Find(ctx, c.UnitID, c.UnitVer)
		if err != nil {
			return cases.Saved{}, err
		}
		r, err := s.Readings.New(c, n, "", readings.NewReading{Finding: knowledge.Purpose, State: knowledge.Preventive, Source: "customer", By: in.Owner})
		if err != nil {
			return cases.Saved{}, err
		}
		c.Readings = []cases.Reading{r}
	}
	return s.Cases.Create(ctx, c, cases.Done{Key: in.Key, What: what})
}

// RemoveSample takes a sample case away with all that hangs on it.
func (s *Service) RemoveSample(ctx context.Context, id string) error {
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		return err
	}
	if err := s.Store.RemoveSample(ctx, id); err != nil {
		return err
	}
	s.Cases.Tell(id, c.Rev+1) // pages that show it look again, and find it gone
	return nil
}

// checkCase checks the plain columns and, for a new case, fills in the unit's version.
func (s *Service) checkCase(ctx context.Context, c *cases.Case) error {
	for _, f := range []struct {
		name, text string
		most       int
		required   bool
	}{{"words", c.Words, problem.MaxWords, true}, {"vehicle", c.Vehicle, problem.MaxShort, true}, {"customer", c.Customer, problem.MaxShort, false}, {"bay", c.Bay, problem.MaxShort, false}, {"owner", c.Owner, problem.MaxShort, false}, {"waitsFor", c.WaitsFor, problem.MaxShort, false}} {
		if err := problem.CheckText(f.name, f.text, f.most, f.required); err != nil {
			return err
		}
	}
	n, err := s.Library.Find(ctx, c.UnitID, c.UnitVer)
	if errors.Is(err, problem.ErrNotFound) {
		return problem.Field("unit", fmt.Sprintf("no unit %q", c.UnitID), strings.Join(s.Library.UnitIDs(ctx), ", "))
	}
	if err != nil {
		return err
	}
	if c.UnitVer == 0 { // a case keeps the sheet that it was made with
		c.UnitVer = n.Unit.Sheet.Version
		if err := s.Library.Keep(ctx, n, s.Now()); err != nil {
			return err
		}
	}
	return nil
}

// Change is what may be changed on a case; nil leaves a field as it is.
type Change struct {
	Words, Vehicle, Customer, Distance, Stage, Access, Bay, Owner, WaitsFor *string
}

// Update changes plain fields.
func (s *Service) Update(ctx context.Context, id string, g cases.Guard, ch Change) (cases.Saved, error) {
	return s.Cases.Settle(ctx, id, g, "update", ch, func(st cases.Standing) (func(cases.Held) (cases.Changes, error), error) {
		c, err := s.updated(ctx, st, ch)
		return func(cases.Held) (cases.Changes, error) { return cases.Changes{Plain: &c}, nil }, err
	})
}

// updated is a case with its plain fields changed.
func (s *Service) updated(ctx context.Context, st cases.Standing, ch Change) (cases.Case, error) {
	c := st.Case
	if err := cases.MustBeOpen(c); err != nil {
		return c, err
	}
	for _, f := range []struct {
		to   *string
		from *string
	}{{&c.Words, ch.Words}, {&c.Vehicle, ch.Vehicle}, {&c.Customer, ch.Customer}, {&c.Stage, ch.Stage}, {&c.Access, ch.Access}, {&c.Bay, ch.Bay}, {&c.Owner, ch.Owner}, {&c.WaitsFor, ch.WaitsFor}} {
		if f.from != nil {
			*f.to = *f.from
		}
	}
	if ch.Distance != nil {
		var err error
		if c.Distance, err = shop.ReadDistance("distance", st.Settings.Style(), *ch.Distance, st.Settings.Distance); err != nil {
			return c, err
		}
	}
	if !slices.Contains(cases.Stages, c.Stage) {
		return c, problem.Field("stage", fmt.Sprintf("%q", c.Stage), strings.Join(cases.Stages, ", "))
	}
	n, err := s.Cases.Network(ctx, c)
	if err != nil {
		return c, err
	}
	if a, err := unitsheet.ParseAccess(c.Access); err != nil || !n.Unit.Has(a) {
		return c, problem.Field("access", fmt.Sprintf("%q", c.Access), levels(n.Unit))
	}
	return c, s.checkCase(ctx, &c)
}

// levels names the access levels that a unit has.
func levels(u *unitsheet.Unit) string {
	out := make([]string, len(u.Levels))
	for i, l := range u.Levels {
		out[i] = l.String()
	}
	return strings.Join(out, ", ")
}
