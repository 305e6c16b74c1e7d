package plan

import (
	"fmt"
	"slices"

	"innercompass/core/diagnose"
	"innercompass/core/unitsheet"
)

// stopReason says why no check is worth its cost.
func stopReason(a *diagnose.Assessment) string {
	const sure, shared = 0.85, 0.6
	lead := a.Suspects[0]
	switch {
	case len(a.Surprise.Unexplained) > 0 && !a.InTheHand(a.Order[0]):
		return fmt.Sprintf("No check that is left would tell more, and %s explains not all that was read. Doubt a reading, or think of a second fault.", lead.Cause.Title)
	case lead.Probability >= sure:
		return fmt.Sprintf("The cause is clear enough: %s, %.0f\u00a0%%. No further check would change the repair. Decide.", lead.Cause.Title, 100*lead.Probability)
	case sameWork(a, a.Network.Level[a.Order[0]]) >= shared:
		return "What is still in doubt is reached by the same work: opening up costs less than telling the suspects apart before. Decide."
	}
	return "No check that is left would save more than it costs. Decide, or lift a check that was set aside."
}

// sameWork is the share of hypotheses whose repairs all lie at one access level.
func sameWork(a *diagnose.Assessment, level unitsheet.Access) float64 {
	share := 0.0
	for _, h := range a.Hypotheses {
		if !slices.ContainsFunc(h.Causes, func(c int) bool { return a.Network.Level[c] != level }) {
			share += h.Share
		}
	}
	return share
}
