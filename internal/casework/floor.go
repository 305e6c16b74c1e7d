package casework

import (
	"context"
	"fmt"
	"slices"
	"time"

	"innercompass/core/diagnose"
)

// FloorItem is one row of the Floor.
type FloorItem struct {
	Case     Case
	UnitName string
	Rose     Rose
	Next     string // what to do next, or who is waited for
	NextNote string
	Suspect  string
	Share    float64
}

// Floor lists the cases, open ones first, newest first.
func (s *Service) Floor(ctx context.Context) ([]FloorItem, error) {
	cases, err := s.Store.Cases(ctx)
	if err != nil {
		return nil, err
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	var out []FloorItem
	for _, c := range cases {
		n, err := s.network(ctx, c)
		if err != nil {
			return nil, err
		}
		a, err := s.assess(ctx, n, c.situation(c.Valid()), false)
		if err != nil {
			return nil, fmt.Errorf("case %s: %w", c.ID, err)
		}
		out = append(out, floorItem(n, c, st, a.Assessment, s.Now()))
	}
	slices.SortStableFunc(out, func(a, b FloorItem) int {
		switch {
		case a.Case.Closed == nil && b.Case.Closed != nil:
			return -1
		case a.Case.Closed != nil && b.Case.Closed == nil:
			return 1
		}
		return 0
	})
	return out, nil
}

func floorItem(n *diagnose.Network, c Case, st Settings, ranking *diagnose.Assessment, now time.Time) FloorItem {
	item := FloorItem{Case: c, UnitName: n.Unit.Sheet.Name, Rose: rose(ranking), Suspect: ranking.Suspects[0].Cause.Title, Share: ranking.Suspects[0].Probability}
	switch {
	case c.Closed != nil:
		item.Next = map[string]string{"cured": "Closed, proven", "not-cured": "Closed, not cured", "declined": "Closed, declined", "no-fault": "Closed, no fault found"}[c.Outcome]
		if root, ok := n.Cause(c.Root); ok {
			item.NextNote = root.Title
		}
	case c.WaitsFor != "":
		item.Next, item.NextNote = "Waits for "+c.WaitsFor, ""
	default:
		h := ranking.Next(c.stand(n, now), Economics(st))
		item.Next, item.NextNote = "Decide", h.Stop
		if len(h.Best) > 0 {
			item.Next, item.NextNote = h.Best[0].Check.Title, fmt.Sprintf("%.0f min · %s", h.Best[0].Minutes+h.Best[0].Climb, h.Best[0].Check.Tells)
		}
	}
	return item
}
