// Package readings notes what was told, seen and measured. Readings are only ever added: a correction withdraws the one before.
package readings

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
)

// Service notes readings.
type Service struct {
	Cases *cases.Service
	Now   func() time.Time
}

// NewReading is a reading as it is made.
type NewReading struct {
	Key, Finding, State, Source, Stage, Check, Value, Note, By, Withdraws string
	Likelihood                                                            []float64
	Again                                                                 bool // looked at once more: the reading before stands, and both count
}

// AddReadings appends readings, all or none. A reading of a finding that already stands from the same
// source withdraws that one, unless it says that it was looked at again. A reading whose key is known is passed over, the
// others are added; a key that stands for another reading is refused.
func (s *Service) AddReadings(ctx context.Context, id string, g cases.Guard, in []NewReading) (cases.Saved, error) {
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Change(ctx, id, cases.Guard{Key: g.Key}, "readings", in, func(h cases.Held) (cases.Changes, error) {
		c, add := h.Case, []cases.Reading(nil)
		for i, r := range in {
			at := fmt.Sprintf("readings[%d].", i)
			if known, err := noted(c, at, r); known || err != nil {
				if err != nil {
					return cases.Changes{}, err
				}
				continue
			}
			if err := cases.MustBeOpen(c); err != nil {
				return cases.Changes{}, err
			}
			if g.Rev != 0 && g.Rev != c.Rev {
				return cases.Changes{}, problem.ErrChanged
			}
			made, err := s.New(c, n, at, r)
			if err != nil {
				return cases.Changes{}, err
			}
			c.Readings = append(slices.Clip(c.Readings), made) // so that one of a batch may correct another
			add = append(add, made)
		}
		return cases.Changes{Readings: add}, nil
	})
}

// noted reports whether a reading was added before under its key.
func noted(c cases.Case, at string, in NewReading) (bool, error) {
	i := slices.IndexFunc(c.Readings, func(r cases.Reading) bool { return in.Key != "" && r.Key == in.Key })
	if i < 0 {
		return false, nil
	}
	if old := c.Readings[i]; old.Finding != in.Finding || old.State != in.State || in.Source != "" && old.Source != in.Source || old.Value != in.Value || old.Note != in.Note {
		return false, &problem.StateError{Reason: at + "key: this key was used for another reading", Accepted: "a new key for each thing read"}
	}
	return true, nil
}

// New checks a reading and makes it ready to be kept; at is the path of its fields in a problem. Nothing is stored.
func (s *Service) New(c cases.Case, n *knowledge.Network, at string, in NewReading) (cases.Reading, error) {
	r := cases.Reading{ID: cases.NewID("r"), Key: in.Key, Finding: in.Finding, State: in.State, Source: in.Source, Stage: in.Stage, Check: in.Check, Value: in.Value,
		Note: in.Note, Likelihood: in.Likelihood, By: in.By, At: s.Now(), Withdraws: in.Withdraws}
	if err := cases.CheckKey(at+"key", in.Key); err != nil {
		return r, err
	}
	if r.Key == "" {
		r.Key = r.ID
	}
	if f, ok := n.Finding(r.Finding); ok && r.Stage == "" {
		if r.Stage = f.Stage; r.Stage == "code" {
			r.Stage = "checks" // codes are read there
		}
	}

	for name, text := range map[string]string{"value": r.Value, "by": r.By} {
		if err := problem.CheckText(at+name, text, problem.MaxShort*3, false); err != nil {
			return r, err
		}
	}
	if err := problem.CheckText(at+"note", r.Note, problem.MaxNote, false); err != nil {
		return r, err
	}
	if r.Finding == "" {
		if r.Withdraws == "" {
			return r, problem.Field(at+"finding", "empty", "the id of a finding")
		}
	} else if err := diagnose.CheckReading(n, diagnose.Reading{ID: "new", Finding: r.Finding, State: r.State, Source: r.Source, Likelihood: r.Likelihood}); err != nil {
		var re *diagnose.ReadingError
		if errors.As(err, &re) {
			return r, problem.Field(at+re.Field, re.Reason, re.Accepted)
		}
		return r, err
	}
	if _, ok := n.Check(r.Check); r.Check != "" && !ok {
		return r, problem.Field(at+"check", fmt.Sprintf("no check %q", r.Check), "an id listed by: innercompass checks --unit "+c.UnitID)
	}
	if r.Finding != "" && !slices.Contains(cases.Stages, r.Stage) {
		return r, problem.Field(at+"stage", fmt.Sprintf("%q", r.Stage), strings.Join(cases.Stages, ", "))
	}
	if _, ok := diagnose.Sources[r.Source]; r.Finding != "" && !ok {
		return r, problem.Field(at+"source", fmt.Sprintf("%q", r.Source), "customer, seen, measured")
	}
	if r.Withdraws != "" {
		stands := slices.ContainsFunc(c.Valid(), func(o cases.Reading) bool { return o.ID == r.Withdraws })
		if !stands && slices.ContainsFunc(c.Readings, func(o cases.Reading) bool { return o.ID == r.Withdraws }) {
			return r, &problem.StateError{Reason: at + "withdraws: this reading was taken back or corrected already", Accepted: "a reading that stands"}
		}
		if !stands {
			return r, problem.Field(at+"withdraws", fmt.Sprintf("no standing reading %q", r.Withdraws), "the id of a reading that stands")
		}
		return r, nil
	}
	if in.Again {
		return r, again(c, n, r, at)
	}
	if r.Finding == knowledge.Wordless {
		if strings.TrimSpace(r.Note) == "" || r.State != "noted" {
			return r, problem.Field(at+"note", "nothing given", "what was told, seen or measured, in words")
		}
		return r, nil // each stands for itself
	}
	if f, _ := n.Finding(r.Finding); f.Several {
		return beside(c, f, r, at)
	}
	for _, old := range c.Valid() {
		if old.Finding == r.Finding && old.Source == r.Source {
			r.Withdraws = old.ID
		}
	}
	return r, nil
}

// beside adds a reading of a finding whose states stand together: it takes the place of the same one, or of that nothing was there.
func beside(c cases.Case, f knowledge.Finding, r cases.Reading, at string) (cases.Reading, error) {
	none := f.States[0].ID
	for _, old := range c.Valid() {
		switch {
		case old.Finding != r.Finding || old.Source != r.Source:
		case r.State == none && old.State != none:
			return r, problem.Field(at+"state", fmt.Sprintf("%s is noted", f.StateTitle(old.State)), "first take back what is noted, then that there is none")
		case old.State == r.State || old.State == none:
			r.Withdraws = old.ID
		}
	}
	return r, nil
}

// again refuses a second look at what was not looked at before, or was twice: the same eyes a third time say nothing
// that is independent of the first two.
func again(c cases.Case, n *knowledge.Network, r cases.Reading, at string) error {
	looks := 0
	for _, old := range c.Valid() {
		if old.Finding == r.Finding && old.Source != "customer" {
			looks++
		}
	}
	switch {
	case r.Source == "customer":
		return problem.Field(at+"again", "told by the customer", "a second look by somebody of the trade; what a customer told is corrected instead")
	case !n.Repeatable(r.Finding):
		return problem.Field(at+"again", "what is told or stored does not change by looking", "a correction of what was noted")
	case looks == 0:
		return problem.Field(at+"again", "it was not looked at before", "a reading without it")
	case looks > 1:
		return problem.Field(at+"again", "it was looked at twice already", "a correction of the second look, or taking one of the two back")
	}
	return nil
}

// Mark sets or takes back "I can't do that here" (skip) or the acknowledgement of a caution.
func (s *Service) Mark(ctx context.Context, id string, g cases.Guard, m cases.Mark, undo bool) (cases.Saved, error) {
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Change(ctx, id, g, "mark", []any{m, undo}, func(h cases.Held) (cases.Changes, error) {
		if err := cases.MustBeOpen(h.Case); err != nil {
			return cases.Changes{}, err
		}
		if _, ok := n.Check(m.Ref); !ok {
			return cases.Changes{}, problem.NotFound("check", m.Ref, "an id listed by: innercompass checks --unit "+h.Case.UnitID)
		}
		if err := errors.Join(problem.CheckText("note", m.Note, problem.MaxNote, false), problem.CheckText("by", m.By, problem.MaxShort, false)); err != nil {
			return cases.Changes{}, err
		}
		m.At = s.Now()
		if undo {
			return cases.Changes{Unmarked: []cases.Mark{m}}, nil
		}
		return cases.Changes{Marks: []cases.Mark{m}}, nil
	})
}

// SeenFindings are the findings that somebody of the trade has looked at.
func SeenFindings(c cases.Case) map[string]bool {
	seen := map[string]bool{}
	for _, r := range c.Valid() {
		if r.Source != "customer" {
			seen[r.Finding] = true
		}
	}
	return seen
}
