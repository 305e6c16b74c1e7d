package readings

import (
	"context"

	"innercompass/core/knowledge"
	"innercompass/internal/cases"
)

// mostWordless is how many notes are listed; all are counted.
const mostWordless = 200

// Wordless are what people noted in words because the vocabulary has none for it, the latest first, and how many there are.
func (s *Service) Wordless(ctx context.Context) ([]cases.Wordless, int, error) {
	return s.Cases.Store.Wordless(ctx, knowledge.Wordless, mostWordless)
}
