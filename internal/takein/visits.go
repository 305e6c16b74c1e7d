package takein

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"innercompass/internal/cases"
	"innercompass/internal/present"
	"innercompass/internal/problem"
)

// visit sums a case up.
func (s *Service) visit(ctx context.Context, c cases.Case) present.Visit {
	v := present.Visit{ID: c.ID, Words: c.Words, Outcome: c.Outcome, Vehicle: c.Vehicle, At: c.Opened, Closed: c.Closed != nil}
	for _, d := range c.Decisions {
		var snap cases.Snapshot
		if json.Unmarshal(d.Snapshot, &snap) != nil {
			continue
		}
		for _, o := range snap.Options {
			switch {
			case o.ID == d.Option && d.Choice == "declined":
				v.Declined = append(v.Declined, o.Title)
			case o.ID == d.Option:
				v.Agreed = o.Title
			}
		}
	}
	if n, err := s.Cases.Network(ctx, c); err == nil {
		if root, ok := n.Cause(c.Root); ok {
			v.Root = root.Title
		}
	}
	return v
}

// EarlierVisits lists the visits of a vehicle, newest first: those whose vehicle and, where both name one, customer are
// written alike.
func (s *Service) EarlierVisits(ctx context.Context, vehicle, customer string) ([]present.Visit, error) {
	if cases.Fold(vehicle) == "" {
		return nil, nil
	}
	cases, err := s.Store.Visits(ctx, cases.Fold(vehicle), cases.Fold(customer))
	if err != nil {
		return nil, err
	}
	var out []present.Visit
	for _, c := range cases {
		out = append(out, s.visit(ctx, c))
	}
	return out, nil
}

// Vehicle is a vehicle that was here before, as it came last.
type Vehicle struct {
	Vehicle, Customer, Unit, UnitName, Distance string
	At                                          time.Time
}

// Of the vehicles that are offered when one comes in: how many, and of how many cases they are gathered.
const (
	mostVehicles = 40
	lookedBack   = 300
)

// Vehicles are the vehicles that were here last, each once, newest first.
func (s *Service) Vehicles(ctx context.Context) ([]Vehicle, error) {
	last, err := s.Store.LastCases(ctx, lookedBack)
	if err != nil {
		return nil, err
	}
	var out []Vehicle
	seen := map[string]bool{}
	for _, c := range last {
		key := cases.Fold(c.Vehicle) + "\n" + cases.Fold(c.Customer)
		if seen[key] || len(out) == mostVehicles {
			continue
		}
		seen[key] = true
		v := Vehicle{Vehicle: c.Vehicle, Customer: c.Customer, Unit: c.UnitID, UnitName: c.UnitID, Distance: c.Distance, At: c.Opened}
		if n, err := s.Library.Find(ctx, c.UnitID, 0); err == nil {
			v.UnitName = n.Unit.Sheet.Name
		}
		out = append(out, v)
	}
	return out, nil
}

// Visits are the visit that a case is a return of, nil when it is none, and those that are returns of it.
func (s *Service) Visits(ctx context.Context, of cases.Case) (earlier *present.Visit, later []present.Visit, err error) {
	if of.Earlier != "" {
		c, err := s.Cases.Case(ctx, of.Earlier)
		if err != nil {
			return nil, nil, err
		}
		x := s.visit(ctx, c)
		earlier = &x
	}
	returns, err := s.Store.Returns(ctx, of.ID)
	for _, c := range returns {
		later = append(later, s.visit(ctx, c))
	}
	return earlier, later, err
}

// Link says that a case is a return of an earlier one; an empty id takes that back. A case is no return of itself, nor of
// one that is a return of it.
func (s *Service) Link(ctx context.Context, id string, g cases.Guard, earlier string) (cases.Saved, error) {
	s.linking.Lock() // two links at once could make a ring that neither sees
	defer s.linking.Unlock()
	for at, steps := earlier, 0; at != ""; steps++ {
		if at == id || steps > 100 {
			return cases.Saved{}, problem.Field("earlier", "a case is no return of itself", "a visit before this one")
		}
		before, err := s.Cases.Case(ctx, at)
		if errors.Is(err, problem.ErrNotFound) {
			return cases.Saved{}, problem.Field("earlier", fmt.Sprintf("no case %q", at), "the id of an earlier case")
		}
		if err != nil {
			return cases.Saved{}, err
		}
		at = before.Earlier
	}
	return s.Cases.Change(ctx, id, g, "link", earlier, func(h cases.Held) (cases.Changes, error) {
		c := h.Case
		c.Earlier = earlier
		return cases.Changes{Plain: &c}, nil
	})
}
