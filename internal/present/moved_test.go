package present_test

import (
	"testing"
	"time"

	"innercompass/internal/cases"
	"innercompass/internal/present"
)

// A change makes new what it touches and nothing else; what was sent before is answered as a whole.
func TestAChangeMovesWhatItTouches(t *testing.T) {
	now := time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC)
	base := cases.Case{ID: "c", Rev: 3, Access: "ground", Bay: "1", Readings: []cases.Reading{{ID: "r", Seq: 1, Finding: "fluid-level", State: "ok"}}}
	plain := func(change func(c *cases.Case)) cases.Changes {
		c := base
		change(&c)
		return cases.Changes{Plain: &c}
	}
	for what, x := range map[string]struct {
		changes cases.Changes
		want    present.Parts
	}{
		"a reading":     {cases.Changes{Readings: []cases.Reading{{ID: "s"}}}, present.Parts{Ranking: true, Proof: true}},
		"another bay":   {plain(func(c *cases.Case) { c.Bay = "2" }), present.Parts{Head: true}},
		"opened up":     {plain(func(c *cases.Case) { c.Access = "lifted" }), present.Parts{Head: true, Ranking: true}},
		"closed":        {plain(func(c *cases.Case) { c.Closed = &now }), present.Parts{Head: true, Ranking: true, Proof: true}},
		"set aside":     {cases.Changes{Marks: []cases.Mark{{Kind: "skip", Ref: "fluid-level"}}}, present.Parts{Ranking: true}},
		"an estimate":   {cases.Changes{Estimate: &cases.Estimate{ID: "o"}}, present.Parts{Estimates: true}},
		"a decision":    {cases.Changes{Decision: &cases.Decision{ID: "d"}}, present.Parts{Decisions: true, Estimates: true, Proof: true}},
		"proven":        {cases.Changes{Proofs: []cases.Proof{{Item: "dry", Result: "pass"}}}, present.Parts{Proof: true}},
		"a record":      {cases.Changes{Record: &cases.Record{ID: "e"}}, present.Parts{Records: true}},
		"a picture":     {cases.Changes{Photo: &cases.Photo{ID: "p"}}, present.Parts{Photos: true}},
		"only measured": {cases.Changes{Measurements: []cases.Measurement{{ID: "m"}}}, present.Parts{}},
	} {
		after, _ := base.With(x.changes)
		if got := present.Moved(cases.Saved{Was: base, Case: after}); got != x.want {
			t.Errorf("%s moves %+v, want %+v", what, got, x.want)
		}
	}
	if got := present.Moved(cases.Saved{Was: base, Case: base, Again: true}); got != present.All {
		t.Errorf("the same again moves %+v", got)
	}
}
