package readings_test

import (
	"errors"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
)

func field(err error) string {
	var refused *problem.FieldError
	if errors.As(err, &refused) {
		return refused.Field
	}
	return ""
}

// What has no word is kept with the case, weighs nothing, and is counted until it is taken back.
func TestWhatHasNoWordIsKeptAndCounted(t *testing.T) {
	s := apptest.New(t)
	id := apptest.Burnt(t, s)
	before, err := s.Overview.View(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	note := func(text string) error {
		_, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "wordless", State: "noted", Source: "customer", Stage: "complaint", Note: text, By: "Ines"}})
		return err
	}
	if field(note("  ")) != "readings[0].note" {
		t.Error("a note without words was taken")
	}
	for _, text := range []string{"sings at the third lamp post", "sings at the third lamp post", "smells of fish"} {
		if err := note(text); err != nil {
			t.Fatal(err)
		}
	}
	after, err := s.Overview.View(ctx, id)
	if err != nil || len(after.Trail) != len(before.Trail)+3 || after.Suspects[0].ID != before.Suspects[0].ID || after.Suspects[0].Probability != before.Suspects[0].Probability {
		t.Fatalf("%v: %d readings, leader %v, before %d and %v", err, len(after.Trail), after.Suspects[0], len(before.Trail), before.Suspects[0])
	}
	last := after.Trail[len(after.Trail)-1]
	if last.StateTitle != "smells of fish" || last.Weight != 0 || last.Unexplained {
		t.Errorf("%+v", last)
	}
	if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Withdraws: last.ID}}); err != nil {
		t.Fatal(err)
	}
	all, count, err := s.Readings.Wordless(ctx)
	if err != nil || count != 2 || len(all) != 2 || all[0].Case != id || all[0].Note != "sings at the third lamp post" || all[0].By != "Ines" {
		t.Errorf("%v: %d, %+v", err, count, all)
	}
}

// Several earlier works stand together; that there was none takes the place of nothing that is noted.
func TestSeveralEarlierWorksStandTogether(t *testing.T) {
	s := apptest.New(t)
	id := apptest.Burnt(t, s)
	say := func(state string) error {
		_, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "prior-work", State: state, Source: "customer"}})
		return err
	}
	for _, state := range []string{"none", "fluid", "opened", "fluid"} {
		if err := say(state); err != nil {
			t.Fatalf("%s: %v", state, err)
		}
	}
	if field(say("none")) != "readings[0].state" {
		t.Error("none was taken beside what is noted")
	}
	findings, err := s.Checks.Findings(ctx, id, "complaint")
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range findings {
		if f.Finding.ID == "prior-work" && (len(f.Noted) != 2 || f.Noted["fluid"] == "" || f.Noted["opened"] == "") {
			t.Errorf("%+v", f.Noted)
		}
	}
}
