package said

import (
	"context"
	"strconv"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
	"innercompass/core/roadtest"
	"innercompass/internal/problem"
)

// MaxCalled is how many bytes may be called out at once.
const MaxCalled = 400

// Called reads what is called out during a road test as cells of the grid, at the temperature of the cell at hand, with the words that
// say nothing about it. Nothing is noted.
func (s *Service) Called(ctx context.Context, id, text, at string) (cells []Offer, rest []string, err error) {
	if err := problem.CheckText("text", text, MaxCalled, false); err != nil {
		return nil, nil, err
	}
	_, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	parts := strings.Split(at, ".")
	if _, ok := n.Finding(at); !ok || len(parts) != 4 || parts[0] != "road" {
		return nil, nil, problem.Field("at", "no cell of this unit's road test: "+strconv.Quote(at), "the id of a cell, such as road.hot.R.drives")
	}
	calls, rest := roadtest.Hear(n.Unit, text, faultmap.Cell{Range: parts[2], Behaviour: faultmap.Behaviour(parts[3])})
	for _, c := range calls {
		f, ok := n.Finding(knowledge.RoadID(parts[1], c.Cell))
		if !ok || knowledge.Forbidden(parts[1], c.Cell) {
			continue
		}
		cells = append(cells, Offer{Finding: f.ID, Title: f.Title, State: c.State, StateTitle: f.StateTitle(c.State)})
	}
	return cells, rest, nil
}
