package overview_test

import (
	"context"
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"innercompass/core/knowledge"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/overview"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
)

var ctx = context.Background()

// flaring is a case with a flare into third, hot.
func flaring(t *testing.T, s *app.App) present.View {
	t.Helper()
	v := apptest.TakenIn(t, s)
	for _, r := range []readings.NewReading{
		{Finding: "worse-when", State: "hot", Source: "customer"},
		{Finding: "road.hot.D3.shift", State: "flare", Source: "seen", Stage: "road"},
		{Finding: "road.hot.D2.shift", State: "normal", Source: "seen", Stage: "road"},
		{Finding: "pressure-pattern", State: "low-DC", Source: "measured", Check: "line-pressure"},
	} {
		var err error
		if v, err = apptest.See(s)(s.Readings.AddReadings(ctx, v.Case.ID, cases.Guard{}, []readings.NewReading{r})); err != nil {
			t.Fatal(err)
		}
	}
	return v
}

func TestASuspectIsExplained(t *testing.T) {
	s := apptest.New(t)
	v := flaring(t, s)
	lead := v.Suspects[0]
	x, err := s.Overview.Explain(ctx, v.Case.ID, lead.ID)
	if err != nil {
		t.Fatal(err)
	}
	if x.Place != 1 || x.Probability != lead.Probability || len(x.Weights) != 4 || len(x.Sentences) == 0 {
		t.Errorf("%+v", x)
	}
	for _, sentence := range x.Sentences {
		if !strings.HasPrefix(sentence, lead.Title+" → ") {
			t.Errorf("%q does not begin with the root", sentence)
		}
	}
	if c := x.Contrast; c == nil || c.FirstID != lead.ID || c.SecondID != v.Suspects[1].ID {
		t.Errorf("contrast %+v", c)
	}
	// Of a suspect further down the contrast is against the leader, and its weights are there too.
	far, err := s.Overview.Explain(ctx, v.Case.ID, "underfilled")
	if err != nil || far.Place < 2 || far.Contrast.FirstID != lead.ID || far.Contrast.SecondID != "underfilled" || len(far.Weights) != 4 {
		t.Errorf("%v %+v", err, far)
	}
	var none *problem.NotFoundError
	if _, err := s.Overview.Explain(ctx, v.Case.ID, "gremlins"); !errors.As(err, &none) {
		t.Errorf("%v", err)
	}
}

// A what-if is the ranking of a case in which the reading was withdrawn.
func TestWhatIfIsTheCaseWithoutTheReading(t *testing.T) {
	s := apptest.New(t)
	v := flaring(t, s)
	last := v.Trail[len(v.Trail)-1]
	x, err := s.Overview.WhatIf(ctx, v.Case.ID, last.ID)
	if err != nil {
		t.Fatal(err)
	}
	without, err := apptest.See(s)(s.Readings.AddReadings(ctx, v.Case.ID, cases.Guard{}, []readings.NewReading{{Withdraws: last.ID}}))
	if err != nil {
		t.Fatal(err)
	}
	for _, suspect := range without.Suspects[:3] {
		if !slices.ContainsFunc(x.Rows, func(r overview.WhatIfRow) bool { return r.ID == suspect.ID && r.Without == suspect.Probability }) {
			t.Errorf("%s has %.4f without the reading, what-if says %+v", suspect.ID, suspect.Probability, x.Rows)
		}
	}
	if x.Sentence == "" || !strings.Contains(x.Title, "low only where") {
		t.Errorf("%q %q", x.Title, x.Sentence)
	}
	if _, err := s.Overview.WhatIf(ctx, v.Case.ID, last.ID); err == nil {
		t.Error("a what-if of a withdrawn reading")
	}
}

// Looking twice gives the same, and in full the ranking is exact, of the same readings.
func TestInFullTheRankingIsExact(t *testing.T) {
	s := apptest.New(t)
	v := flaring(t, s)
	full, err := s.Overview.Ranking(ctx, v.Case.ID)
	if err != nil {
		t.Fatal(err)
	}
	if !full.Suspicion.Exact || full.Suspicion.LeftOut < 0 || full.Suspicion.LeftOut > 1 {
		t.Errorf("%+v", full.Suspicion)
	}
	again, err := s.Overview.View(ctx, v.Case.ID)
	if err != nil || again.Suspects[0].Probability != full.Suspects[0].Probability || !again.Suspicion.Exact {
		t.Errorf("%v: looked at again %+v, in full %+v", err, again.Suspects[0], full.Suspects[0])
	}
}

// After a hot check the next hot one needs no warming up; an hour later it does.
func TestAWarmVehicleStaysWarmForAWhile(t *testing.T) {
	s := apptest.New(t)
	now := time.Date(2030, 5, 6, 9, 0, 0, 0, time.UTC)
	s.Now = func() time.Time { return now }
	v := apptest.TakenIn(t, s)
	hot := func() (minutes float64) {
		list, err := s.Overview.View(ctx, v.Case.ID)
		if err != nil {
			t.Fatal(err)
		}
		for _, a := range list.Heading.Best {
			if a.Fluid == "hot" {
				return a.Minutes
			}
		}
		t.Fatalf("no hot check among %+v", list.Heading.Best)
		return 0
	}
	for _, r := range []readings.NewReading{{Finding: "road.cold.D3.shift", State: "normal", Source: "seen", Stage: "road"}, {Finding: "road.hot.D3.shift", State: "flare", Source: "seen", Stage: "road"}} {
		if _, err := s.Readings.AddReadings(ctx, v.Case.ID, cases.Guard{}, []readings.NewReading{r}); err != nil {
			t.Fatal(err)
		}
	}
	// What is not hot is set aside, so that a hot check is in the heading.
	checks, err := s.Checks.Checks(ctx, v.Case.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, k := range checks {
		if k.Fluid != "hot" {
			if _, err := s.Readings.Mark(ctx, v.Case.ID, cases.Guard{}, cases.Mark{Kind: "skip", Ref: k.ID}, false); err != nil {
				t.Fatal(err)
			}
		}
	}
	n, err := s.Library.Unit(ctx, "norrad-h4", 0)
	if err != nil {
		t.Fatal(err)
	}
	for _, k := range n.Checks {
		if strings.HasPrefix(k.ID, "drive.") && !knowledge.IsHot(k.Yields[0]) {
			if _, err := s.Readings.Mark(ctx, v.Case.ID, cases.Guard{}, cases.Mark{Kind: "skip", Ref: k.ID}, false); err != nil {
				t.Fatal(err)
			}
		}
	}
	warm := hot()
	now = now.Add(time.Hour)
	if cold := hot(); cold <= warm {
		t.Errorf("%v minutes warm, %v an hour later", warm, cold)
	}
}
