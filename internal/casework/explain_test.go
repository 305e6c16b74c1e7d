package casework_test

import (
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"innercompass/core/knowledge"
	"innercompass/internal/casework"
)

// flaring is a case with a flare into third, hot.
func flaring(t *testing.T, s *casework.Service) casework.View {
	t.Helper()
	v := takeIn(t, s)
	for _, r := range []casework.NewReading{
		{Finding: "worse-when", State: "hot", Source: "customer"},
		{Finding: "road.hot.D3.shift", State: "flare", Source: "seen", Stage: "road"},
		{Finding: "road.hot.D2.shift", State: "normal", Source: "seen", Stage: "road"},
		{Finding: "pressure-pattern", State: "low-DC", Source: "measured", Check: "line-pressure"},
	} {
		var err error
		if v, err = s.AddReadings(ctx, v.Case.ID, casework.Guard{}, []casework.NewReading{r}); err != nil {
			t.Fatal(err)
		}
	}
	return v
}

func TestASuspectIsExplained(t *testing.T) {
	s := shop(t)
	v := flaring(t, s)
	lead := v.Suspects[0]
	x, err := s.Explain(ctx, v.Case.ID, lead.ID)
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
	far, err := s.Explain(ctx, v.Case.ID, "underfilled")
	if err != nil || far.Place < 2 || far.Contrast.FirstID != lead.ID || far.Contrast.SecondID != "underfilled" || len(far.Weights) != 4 {
		t.Errorf("%v %+v", err, far)
	}
	var none *casework.NotFoundError
	if _, err := s.Explain(ctx, v.Case.ID, "gremlins"); !errors.As(err, &none) {
		t.Errorf("%v", err)
	}
}

// A what-if is the ranking of a case in which the reading was withdrawn.
func TestWhatIfIsTheCaseWithoutTheReading(t *testing.T) {
	s := shop(t)
	v := flaring(t, s)
	last := v.Trail[len(v.Trail)-1]
	x, err := s.WhatIf(ctx, v.Case.ID, last.ID)
	if err != nil {
		t.Fatal(err)
	}
	without, err := s.AddReadings(ctx, v.Case.ID, casework.Guard{}, []casework.NewReading{{Withdraws: last.ID}})
	if err != nil {
		t.Fatal(err)
	}
	for _, suspect := range without.Suspects[:3] {
		if !slices.ContainsFunc(x.Rows, func(r casework.WhatIfRow) bool { return r.ID == suspect.ID && r.Without == suspect.Probability }) {
			t.Errorf("%s has %.4f without the reading, what-if says %+v", suspect.ID, suspect.Probability, x.Rows)
		}
	}
	if x.Sentence == "" || !strings.Contains(x.Title, "low only where") {
		t.Errorf("%q %q", x.Title, x.Sentence)
	}
	if _, err := s.WhatIf(ctx, v.Case.ID, last.ID); err == nil {
		t.Error("a what-if of a withdrawn reading")
	}
}

func TestWordsAreOfferedAndCountOnlyWhenConfirmed(t *testing.T) {
	s := shop(t)
	v := takeIn(t, s)
	offers, err := s.Offers(ctx, v.Case.ID, "")
	if err != nil || len(offers) != 1 || offers[0].Finding != "says-slips" || offers[0].Read != "" || len(v.Trail) != 0 {
		t.Fatalf("%v %+v", err, offers)
	}
	if _, err := s.AddReadings(ctx, v.Case.ID, casework.Guard{}, []casework.NewReading{{Finding: offers[0].Finding, State: offers[0].State, Source: "customer"}}); err != nil {
		t.Fatal(err)
	}
	if offers, _ = s.Offers(ctx, v.Case.ID, ""); offers[0].Read != "yes" {
		t.Errorf("%+v", offers)
	}
	if _, err := s.Offers(ctx, v.Case.ID, strings.Repeat("x", 3000)); err == nil {
		t.Error("a novel is taken as a complaint")
	}
}

func TestCodesAreNotedAllOrNone(t *testing.T) {
	s := shop(t)
	v, err := s.TakeIn(ctx, casework.Intake{Words: "Lamp is on", Vehicle: "Van", UnitID: "tessaly-e4t"})
	if err != nil {
		t.Fatal(err)
	}
	id := v.Case.ID
	for _, bad := range []string{"P0731 X", "P0731 P9999", "0731", "P0731;DROP"} {
		var wrong *casework.FieldError
		if _, err := s.PutCodes(ctx, id, casework.Guard{}, "", bad); !errors.As(err, &wrong) || wrong.Field != "codes" || wrong.Accepted == "" {
			t.Errorf("%q: %v", bad, err)
		}
	}
	if v, _ = s.View(ctx, id); len(v.Trail) != 0 {
		t.Fatalf("refused codes left %d readings", len(v.Trail))
	}
	if v, err = s.PutCodes(ctx, id, casework.Guard{Key: "k1"}, "Ines", " p0731,P0700\nP0731 "); err != nil || len(v.Trail) != 3 {
		t.Fatalf("%v, %d readings", err, len(v.Trail))
	}
	if v, err = s.PutCodes(ctx, id, casework.Guard{Key: "k1"}, "Ines", "P0731 P0700"); err != nil || len(v.Trail) != 3 {
		t.Errorf("the same key again: %v, %d readings", err, len(v.Trail))
	}
	// That none is stored speaks against what would have set one.
	other, err := s.TakeIn(ctx, casework.Intake{Words: "No reverse", Vehicle: "Van", UnitID: "tessaly-e4t"})
	if err != nil {
		t.Fatal(err)
	}
	before, _ := s.Explain(ctx, other.Case.ID, "inner-loom-cracked")
	if _, err := s.PutCodes(ctx, other.Case.ID, casework.Guard{}, "", ""); err != nil {
		t.Fatal(err)
	}
	if after, _ := s.Explain(ctx, other.Case.ID, "inner-loom-cracked"); after.Probability >= before.Probability {
		t.Errorf("no code stored, and the loom went from %.4f to %.4f", before.Probability, after.Probability)
	}
	hydraulic := takeIn(t, s)
	var state *casework.StateError
	if _, err := s.PutCodes(ctx, hydraulic.Case.ID, casework.Guard{}, "", "P0731"); !errors.As(err, &state) {
		t.Errorf("codes of a unit without a module: %v", err)
	}
}

// Looking twice gives the same, and in full the ranking is exact, of the same readings.
func TestInFullTheRankingIsExact(t *testing.T) {
	s := shop(t)
	v := flaring(t, s)
	full, err := s.ViewInFull(ctx, v.Case.ID)
	if err != nil {
		t.Fatal(err)
	}
	if !full.Suspicion.Exact || full.Suspicion.LeftOut < 0 || full.Suspicion.LeftOut > 1 {
		t.Errorf("%+v", full.Suspicion)
	}
	again, err := s.View(ctx, v.Case.ID)
	if err != nil || again.Suspects[0].Probability != full.Suspects[0].Probability || !again.Suspicion.Exact {
		t.Errorf("%v: looked at again %+v, in full %+v", err, again.Suspects[0], full.Suspects[0])
	}
}

// After a hot check the next hot one needs no warming up; an hour later it does.
func TestAWarmVehicleStaysWarmForAWhile(t *testing.T) {
	s := shop(t)
	now := time.Date(2030, 5, 6, 9, 0, 0, 0, time.UTC)
	s.Now = func() time.Time { return now }
	v := takeIn(t, s)
	hot := func() (minutes float64) {
		list, err := s.View(ctx, v.Case.ID)
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
	for _, r := range []casework.NewReading{{Finding: "road.cold.D3.shift", State: "normal", Source: "seen", Stage: "road"}, {Finding: "road.hot.D3.shift", State: "flare", Source: "seen", Stage: "road"}} {
		if _, err := s.AddReadings(ctx, v.Case.ID, casework.Guard{}, []casework.NewReading{r}); err != nil {
			t.Fatal(err)
		}
	}
	// What is not hot is set aside, so that a hot check is in the heading.
	checks, err := s.Checks(ctx, v.Case.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, k := range checks {
		if k.Fluid != "hot" {
			if _, err := s.Mark(ctx, v.Case.ID, casework.Guard{}, casework.Mark{Kind: "skip", Ref: k.ID}, false); err != nil {
				t.Fatal(err)
			}
		}
	}
	n, err := s.Unit(ctx, "norrad-h4", 0)
	if err != nil {
		t.Fatal(err)
	}
	for _, k := range n.Checks {
		if strings.HasPrefix(k.ID, "drive.") && !knowledge.IsHot(k.Yields[0]) {
			if _, err := s.Mark(ctx, v.Case.ID, casework.Guard{}, casework.Mark{Kind: "skip", Ref: k.ID}, false); err != nil {
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

// What surprises is looked at again: the second look stands beside the first, both count, and a third is refused.
func TestASecondLookStandsBesideTheFirst(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	look := func(state, source string, again bool) (casework.View, error) {
		return s.AddReadings(ctx, id, casework.Guard{}, []casework.NewReading{{Finding: "pan-debris", State: state, Source: source, Again: again}})
	}
	refused := func(what string, err error) {
		t.Helper()
		var field *casework.FieldError
		if !errors.As(err, &field) || field.Field != "readings[0].again" {
			t.Errorf("%s: %v", what, err)
		}
	}
	_, err := look("metal", "seen", true)
	refused("a second look without a first", err)
	if _, err := look("metal", "seen", false); err != nil {
		t.Fatal(err)
	}
	_, err = look("metal", "customer", true)
	refused("a customer's second look", err)
	v, err := look("film", "seen", true)
	if err != nil || len(v.Trail) != 2 || v.Trail[0].Again || !v.Trail[1].Again {
		t.Fatalf("%v, trail %+v", err, v.Trail)
	}
	_, err = look("film", "seen", true)
	refused("a third look", err)
	found, err := s.Findings(ctx, id, "checks")
	if err != nil {
		t.Fatal(err)
	}
	at := slices.IndexFunc(found, func(f casework.FindingView) bool { return f.Finding.ID == "pan-debris" })
	if f := found[at]; f.State != "film" || f.Before != "bright metal" {
		t.Errorf("shown as %q, before that %q", f.State, f.Before)
	}
	// A correction takes the place of the second look; the first stays.
	if v, err = look("brass", "seen", false); err != nil || len(v.Trail) != 2 || v.Trail[0].State != "metal" || v.Trail[1].State != "brass" {
		t.Errorf("%v, trail %+v", err, v.Trail)
	}
}
