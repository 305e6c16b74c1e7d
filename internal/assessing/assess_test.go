package assessing_test

import (
	"context"
	"testing"
	"time"

	"innercompass/core/diagnose"
	"innercompass/internal/assessing"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// Where the exact answer is out of reach, it is sought once, not each time somebody looks; a wait that was ended is no
// answer and is not kept as one.
func TestAnAnswerOutOfReachIsSoughtOnce(t *testing.T) {
	know, err := catalog.Load(embedded.FS)
	if err != nil {
		t.Fatal(err)
	}
	n := know.Networks["vantrice-t10"]
	in := diagnose.Situation{Distance: 96_400}
	for _, f := range n.Findings { // so much at once that summing over all sets of causes is out of reach
		if !f.History && f.Members == "" && len(f.States) > 1 {
			in.Readings = append(in.Readings, diagnose.Reading{ID: f.ID, Finding: f.ID, State: f.States[1].ID, Source: "seen"})
		}
	}
	s := assessing.New(time.Now)
	look := func(ctx context.Context, full bool) *assessing.Assessment {
		t.Helper()
		a, err := s.Assess(ctx, n, in, full)
		if err != nil {
			t.Fatal(err)
		}
		return a
	}
	ended, cancel := context.WithCancel(context.Background())
	cancel()
	first, cut := look(context.Background(), false), look(ended, true)
	full := look(context.Background(), true)
	if full.Exact {
		t.Fatal("the exact answer is within reach: read more")
	}
	if full == first || full == cut {
		t.Error("the exact answer was not sought")
	}
	if look(context.Background(), true) != full || look(context.Background(), false) != full {
		t.Error("sought again")
	}
}
