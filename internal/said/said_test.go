package said_test

import (
	"context"
	"slices"
	"strings"
	"testing"

	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/said"
	"innercompass/internal/takein"
)

var ctx = context.Background()

func takenIn(t *testing.T, s *app.App, words string) string {
	t.Helper()
	saved, err := s.Intake.TakeIn(ctx, takein.Intake{Words: words, Vehicle: "Mail van 4", UnitID: "norrad-h4"})
	if err != nil {
		t.Fatal(err)
	}
	return saved.Case.ID
}

func of(t *testing.T, s *app.App, id string) said.Said {
	t.Helper()
	out, err := s.Said.Of(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func choose(t *testing.T, s *app.App, id string, in said.Choice) cases.Case {
	t.Helper()
	saved, err := s.Said.Choose(ctx, id, cases.Guard{}, in)
	if err != nil {
		t.Fatal(err)
	}
	return saved.Case
}

// readings that stand, as "finding state".
func readings(c cases.Case) []string {
	var out []string
	for _, r := range c.Valid() {
		out = append(out, r.Finding+" "+r.State+" "+r.Source)
	}
	return out
}

func TestNothingCountsBeforeItIsTaken(t *testing.T) {
	s := apptest.New(t)
	id := takenIn(t, s, "It slips uphill and reverse takes ages; my brother says it's the pump.")
	now := of(t, s, id)
	if len(now.Phrases) != 3 || now.Phrases[2].State != said.Noted {
		t.Fatalf("%+v", now.Phrases)
	}
	if c, err := s.Cases.Case(ctx, id); err != nil || len(c.Valid()) != 0 {
		t.Fatalf("%v %+v", err, c.Valid())
	}
	c := choose(t, s, id, said.Choice{All: true})
	for _, want := range []string{"says-slips yes customer", "worse-where hill customer", "says-late-engage yes customer"} {
		if !slices.Contains(readings(c), want) {
			t.Errorf("%s is not among %v", want, readings(c))
		}
	}
	now = of(t, s, id)
	if now.Phrases[0].State != said.Taken || now.Phrases[1].State != said.Taken {
		t.Errorf("%+v", now.Phrases)
	}
	if note := c.Valid()[0].Note; !strings.Contains(note, "slips") {
		t.Errorf("the reading keeps the words %q", note)
	}
}

func TestAPhraseIsStruckAndComesBack(t *testing.T) {
	s := apptest.New(t)
	id := takenIn(t, s, "It slips, and it whines.")
	slip := of(t, s, id).Phrases[0].Ref
	choose(t, s, id, said.Choice{All: true})
	c := choose(t, s, id, said.Choice{Strike: []string{slip}})
	if got := readings(c); len(got) != 1 || got[0] != "says-noise whine customer" {
		t.Errorf("after striking it stand %v", got)
	}
	if of(t, s, id).Phrases[0].State != said.Struck {
		t.Errorf("%+v", of(t, s, id).Phrases[0])
	}
	// Struck, it is not taken with all.
	if got := readings(choose(t, s, id, said.Choice{All: true})); len(got) != 1 {
		t.Errorf("%v", got)
	}
	choose(t, s, id, said.Choice{Back: []string{slip}})
	if of(t, s, id).Phrases[0].State != said.Open {
		t.Errorf("%+v", of(t, s, id).Phrases[0])
	}
	if got := readings(choose(t, s, id, said.Choice{Take: []string{slip}})); len(got) != 2 {
		t.Errorf("%v", got)
	}
}

// What is said both ways, and what somebody else tells, is for somebody to decide.
func TestWhatIsDoubtfulIsTakenOneByOne(t *testing.T) {
	s := apptest.New(t)
	id := takenIn(t, s, "It slips when hot. My wife says it bangs. It whines when cold.")
	for _, p := range of(t, s, id).Phrases {
		switch {
		case strings.Contains(p.Leader.Title, "bang") && !p.Doubtful:
			t.Errorf("%+v counts as the customer's own", p)
		case slices.ContainsFunc(p.Offers, func(o said.Offer) bool { return o.Finding == "worse-when" }) && !p.Against:
			t.Errorf("%+v is said both ways", p)
		}
	}
	if got := readings(choose(t, s, id, said.Choice{All: true})); slices.ContainsFunc(got, func(r string) bool { return strings.HasPrefix(r, "says-harsh") || strings.HasPrefix(r, "worse-when") }) {
		t.Errorf("%v", got)
	}
}

func TestWhatCannotBeChosenIsRefused(t *testing.T) {
	s := apptest.New(t)
	id := takenIn(t, s, "It slips.")
	for _, in := range []said.Choice{{Take: []string{"find.slip.99"}}, {Strike: []string{""}}, {Back: []string{"x"}}, {All: true, By: strings.Repeat("x", 200)}} {
		if _, err := s.Said.Choose(ctx, id, cases.Guard{}, in); err == nil {
			t.Errorf("%+v is taken", in)
		}
	}
	if _, err := s.Said.Choose(ctx, "none", cases.Guard{}, said.Choice{All: true}); err == nil {
		t.Error("a case that is not there is chosen from")
	}
	if _, err := s.Said.Read(ctx, "", strings.Repeat("x", 3000)); err == nil {
		t.Error("a novel is read")
	}
	if got, err := s.Said.Read(ctx, "", "it slips"); err != nil || len(got.Phrases) != 1 {
		t.Errorf("without a unit: %v %+v", err, got)
	}
}
