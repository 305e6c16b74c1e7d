package intake_test

import (
	"testing"

	"innercompass/core/intake"
	"innercompass/internal/trial"
)

func TestAShopsOwnWays(t *testing.T) {
	l := intake.Lexicon{English: []string{"jelly", "dance", "with"}}
	for say, good := range map[string]bool{
		"does the hula": true,
		"Like Jelly":    true,
		"bunnyhops":     true, // no plain word
		"jelly":         false,
		"it is":         false,
		"":              false,
		"one two three four five six seven eight nine": false,
		"slips | bangs": false, // a pattern, not words
		"goes ~3 wild":  false,
		"abc":           false,
	} {
		if err := l.CheckOwn(say); (err == nil) != good {
			t.Errorf("%q: %v", say, err)
		}
	}
	own := trial.Load(t).Words.WithOwn([]intake.Own{{Say: "does the  Hula", Title: "Dances", Finding: "says-shudder", State: "yes"}})
	if bad := own.Validate(); len(bad) > 0 {
		t.Fatal(bad)
	}
	r, err := intake.New(own, intake.Unit{})
	if err != nil {
		t.Fatal(err)
	}
	for text, found := range map[string]bool{"On the hill it does the hula.": true, "It doesn't do the hula": false, "He plays hula music": false} {
		got := false
		for _, s := range r.Read(text) {
			got = got || s.Role == intake.Find && s.Title == "Dances"
		}
		if got != found {
			t.Errorf("%q: found %v, want %v", text, got, found)
		}
	}
}
