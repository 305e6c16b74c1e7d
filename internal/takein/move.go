package takein

import (
	"context"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
)

// Move is what becomes of a case's readings on another unit.
type Move struct {
	Unit, UnitName string
	Fits           int      // readings that the other unit knows
	Left           []string // readings that it does not know, in words
}

// Moving says what a case would keep on another unit; nothing is changed.
func (s *Service) Moving(ctx context.Context, id, unit string) (Move, error) {
	c, old, err := s.Cases.Load(ctx, id)
	if err != nil {
		return Move{}, err
	}
	n, err := s.Library.Unit(ctx, unit, 0)
	if err != nil {
		return Move{}, err
	}
	out := Move{Unit: unit, UnitName: n.Unit.Sheet.Name, Left: []string{}}
	for _, r := range c.Valid() {
		if fits(n, r) {
			out.Fits++
			continue
		}
		f, _ := old.Finding(r.Finding)
		out.Left = append(out.Left, f.Title+": "+r.Words(f))
	}
	return out, nil
}

func fits(n *knowledge.Network, r cases.Reading) bool {
	return diagnose.CheckReading(n, diagnose.Reading{ID: r.ID, Finding: r.Finding, State: r.State, Source: r.Source, Likelihood: r.Likelihood}) == nil
}

// MoveTo tells a case by another unit from now on. Readings that it knows stay; the others are taken back, as a correction is, and stand
// in the log. A case in which something was decided keeps its unit.
func (s *Service) MoveTo(ctx context.Context, id string, g cases.Guard, unit, by string) (cases.Saved, error) {
	if err := problem.CheckText("by", by, problem.MaxShort, false); err != nil {
		return cases.Saved{}, err
	}
	n, err := s.Library.Unit(ctx, unit, 0)
	if err != nil {
		return cases.Saved{}, err
	}
	if err := s.Library.Keep(ctx, n, s.Now()); err != nil {
		return cases.Saved{}, err
	}
	in := struct{ Unit, By string }{unit, by}
	return s.Cases.Change(ctx, id, g, "move", in, func(h cases.Held) (cases.Changes, error) {
		c := h.Case
		switch {
		case c.Closed != nil:
			return cases.Changes{}, &problem.StateError{Reason: "the case is closed", Accepted: "open it again first"}
		case len(c.Decisions)+len(c.Estimates) > 0:
			return cases.Changes{}, &problem.StateError{Reason: "something was estimated or decided on this unit", Accepted: "a new case for the other unit"}
		}
		c.UnitID, c.UnitVer, c.Nearest = unit, n.Unit.Sheet.Version, false
		ch := cases.Changes{Plain: &c}
		var gone []string // measurements that stated what no longer fits
		for _, r := range h.Case.Valid() {
			if fits(n, r) {
				continue
			}
			ch.Readings = append(ch.Readings, cases.Reading{ID: cases.NewID("r"), Withdraws: r.ID, Source: r.Source, Stage: r.Stage, Note: "not known of the " + n.Unit.Sheet.Name, By: by, At: s.Now()})
			if r.Measurement != "" && !slices.Contains(gone, r.Measurement) {
				gone = append(gone, r.Measurement)
			}
		}
		for _, m := range h.Case.Kept() {
			_, part, ofPart := strings.Cut(m.Instrument, ":")
			_, has := n.Unit.Element(part)
			if slices.Contains(gone, m.ID) || ofPart && !has {
				ch.Measurements = append(ch.Measurements, cases.Measurement{ID: cases.NewID("m"), Instrument: m.Instrument, Withdraws: m.ID, By: by, At: s.Now()})
			}
		}
		return ch, nil
	})
}
