package said_test

import (
	"context"
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
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

// What the shop teaches is read from then on, in words of its customers and with its denial; it is refused where it would mislead.
func TestAShopTeachesItsOwnWords(t *testing.T) {
	s := apptest.New(t)
	at := time.Date(2026, 11, 3, 9, 0, 0, 0, time.UTC)
	word := func(say, finding, state string) []said.OwnWord {
		return []said.OwnWord{{Say: say, Finding: finding, State: state, By: "Ines", At: at}}
	}
	id := takenIn(t, s, "On the hill it does the hula.")
	if got := of(t, s, id); slices.ContainsFunc(got.Phrases, func(p said.Phrase) bool { return len(p.Offers) > 0 && p.Offers[0].Finding == "says-shudder" }) {
		t.Fatal("it is known already; the test needs other words")
	}
	if err := s.Said.Teach(ctx, word("Does the  hula", "says-shudder", "yes")); err != nil {
		t.Fatal(err)
	}
	if got := of(t, s, id); !slices.ContainsFunc(got.Phrases, func(p said.Phrase) bool {
		return len(p.Offers) > 0 && p.Offers[0].Finding == "says-shudder" && p.Offers[0].State == "yes" && p.State == said.Open
	}) {
		t.Errorf("it is not read: %+v", got.Phrases)
	}
	for _, bad := range []struct {
		say, finding, state, why string
	}{
		{"jelly", "says-shudder", "yes", "too common"},
		{"slips", "says-shudder", "yes", "known already"},
		{"in the morning", "says-shudder", "yes", "differently"},
		{"does the rumba", "says-nothing", "yes", "no customer can say"},
		{"does the rumba", "plates-burnt", "yes", "no customer can say"},
		{"slip | slide", "says-slips", "yes", "letters"},
		{"", "says-slips", "yes", "words"},
	} {
		if err := s.Said.Teach(ctx, word(bad.say, bad.finding, bad.state)); err == nil || !strings.Contains(err.Error(), bad.why) || !strings.Contains(err.Error(), "accepted") {
			t.Errorf("%q means %s: %v", bad.say, bad.finding, err)
		}
	}
	own, titles, err := s.Said.Own(ctx)
	if err != nil || len(own) != 1 || own[0].Say != "does the hula" || own[0].By != "Ines" || !own[0].At.Equal(at) || titles[0] == "" {
		t.Errorf("kept: %+v, %v, %v", own, titles, err)
	}
	// Another shop reads the table.
	table, err := s.Said.WordTable(ctx)
	if err != nil {
		t.Fatal(err)
	}
	other := apptest.New(t)
	if err := other.Said.ReadWordTable(ctx, string(table), time.Now()); err != nil {
		t.Fatal(err)
	}
	if again, _ := other.Said.WordTable(ctx); string(again) != string(table) {
		t.Errorf("written again:\n%s\nwas\n%s", again, table)
	}
	err = other.Said.ReadWordTable(ctx, "say,finding,state\ndoes the twist,says-shudder,yes\njelly,says-shudder,yes\n", time.Now())
	if err == nil || !strings.Contains(err.Error(), "row 3") {
		t.Errorf("a bad row: %v", err)
	}
	if own, _, _ := other.Said.Own(ctx); len(own) != 1 {
		t.Errorf("half of a bad table was kept: %v", own)
	}
	if err := s.Said.Forget(ctx, own[0].ID); err != nil {
		t.Fatal(err)
	}
	if err := s.Said.Forget(ctx, own[0].ID); !errors.Is(err, problem.ErrNotFound) {
		t.Errorf("forgotten twice: %v", err)
	}
	if got := of(t, s, id); slices.ContainsFunc(got.Phrases, func(p said.Phrase) bool { return len(p.Offers) > 0 && p.Offers[0].Finding == "says-shudder" }) {
		t.Error("what was forgotten is still read")
	}
}
