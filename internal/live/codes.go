package live

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"

	"innercompass/core/obd"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/scan"
	"innercompass/internal/standin"
)

// Code is a trouble code with its status.
type Code struct {
	Code   string
	Status string // "stored", "pending"
	Module string
}

// readCodes reads those of both modules.
func (s *session) readCodes(ctx context.Context) error {
	return s.between(ctx, func(r *scan.Reader) error {
		found := map[Code]bool{}
		var out []Code
		for name, module := range map[string]uint16{"engine module": standin.EngineModule, "transmission module": standin.TransmissionModule} {
			for _, pending := range []bool{false, true} {
				codes, err := r.Codes(ctx, module, pending)
				if err != nil {
					return err
				}
				for _, c := range codes {
					x := Code{Code: c.String(), Status: "stored", Module: name}
					if pending {
						if found[x] {
							continue // stored as well
						}
						x.Status = "pending"
					}
					found[x] = true
					out = append(out, x)
				}
			}
		}
		slices.SortFunc(out, func(a, b Code) int { return compare(a.Status+a.Code, b.Status+b.Code) })
		s.mu.Lock()
		defer s.mu.Unlock()
		if !sameCodes(out, s.codes) {
			s.noted = len(out) == 0
		}
		s.codes, s.codesRead = out, true
		return nil
	})
}

func sameCodes(a, b []Code) bool {
	set := func(l []Code) map[Code]bool {
		m := map[Code]bool{}
		for _, c := range l {
			m[c] = true
		}
		return m
	}
	return maps.Equal(set(a), set(b))
}

func compare(a, b string) int {
	switch {
	case a < b:
		return 1 // stored before pending
	case a > b:
		return -1
	}
	return 0
}

// clear clears them; what was not read and noted is not cleared.
func (s *session) clear(ctx context.Context) error {
	s.mu.Lock()
	read, noted := s.codesRead, s.noted
	s.mu.Unlock()
	if !read || !noted {
		return problem.Field("codes", "they are not noted", "note them first: what is cleared is gone")
	}
	err := s.between(ctx, func(r *scan.Reader) error {
		for _, module := range []uint16{standin.EngineModule, standin.TransmissionModule} {
			if err := r.Clear(ctx, module); err != nil {
				return err
			}
		}
		return nil
	})
	var no *obd.RefusedError
	if errors.As(err, &no) && no.Reason == obd.Conditions {
		return problem.Field("codes", "the module refuses", "the vehicle standing")
	}
	if err != nil {
		return err
	}
	return s.readCodes(ctx)
}

// Codes reads the codes of all modules.
func (s *Service) Codes(ctx context.Context) (State, error) {
	x, err := s.current()
	if err != nil {
		return State{}, err
	}
	if err := x.readCodes(ctx); err != nil {
		return State{}, err
	}
	return x.state(), nil
}

// NoteCodes notes the codes that were read: in a case, or by a person who says that they are written down.
func (s *Service) NoteCodes(ctx context.Context, of, by string) (State, error) {
	x, err := s.current()
	if err != nil {
		return State{}, err
	}
	x.mu.Lock()
	read, codes := x.codesRead, slices.Clone(x.codes)
	x.mu.Unlock()
	if !read {
		return State{}, problem.Field("codes", "they were not read", "read them first")
	}
	if of != "" && len(codes) > 0 {
		var list []readings.NewReading
		for _, c := range codes {
			list = append(list, readings.NewReading{Finding: "wordless", State: "noted", Source: "measured", Stage: "checks", Note: fmt.Sprintf("Code %s, %s, %s", c.Code, c.Status, c.Module), By: by})
		}
		if _, err := s.Readings.AddReadings(ctx, of, cases.Guard{}, list); err != nil {
			return State{}, err
		}
	}
	x.mu.Lock()
	x.noted = true
	x.mu.Unlock()
	return x.state(), nil
}

// ClearCodes clears what was noted.
func (s *Service) ClearCodes(ctx context.Context) (State, error) {
	x, err := s.current()
	if err != nil {
		return State{}, err
	}
	if err := x.clear(ctx); err != nil {
		return State{}, err
	}
	return x.state(), nil
}
