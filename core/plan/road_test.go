package plan_test

import (
	"strings"
	"testing"

	"innercompass/core/plan"
)

// A design of which nothing, or one thing, can fail has its sentence too.
func TestRoadVerdictOfFewFailures(t *testing.T) {
	one := plan.PredictedRow{Title: "the brake slips", Agree: 2, Share: 0.4}
	for want, rows := range map[string][]plan.PredictedRow{
		"No single failure":                         nil,
		"No single":                                 {{Title: "the brake slips"}},
		"One failure of the design fits best":       {one},
		"The brake slips fits best, but the clutch": {one, {Title: "the clutch slips", Agree: 1, Share: 0.3}},
	} {
		if got := plan.RoadVerdict(rows); !strings.HasPrefix(got, want) {
			t.Errorf("%d rows: %q, want %q", len(rows), got, want)
		}
	}
}
