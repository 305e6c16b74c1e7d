package interview_test

import (
	"context"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/interview"
	"innercompass/internal/present"
	"innercompass/internal/said"
	"innercompass/internal/takein"
)

var ctx = context.Background()

func begun(t *testing.T, words, unit string) (*app.App, string) {
	t.Helper()
	s := apptest.New(t)
	saved, err := s.Intake.TakeIn(ctx, takein.Intake{Words: words, Vehicle: "Mail van 4", UnitID: unit})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Said.Choose(ctx, saved.Case.ID, cases.Guard{}, said.Choice{All: true}); err != nil {
		t.Fatal(err)
	}
	return s, saved.Case.ID
}

func of(t *testing.T, s *app.App, id string) interview.View {
	t.Helper()
	v, err := s.Interview.Of(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	return v
}

func answer(t *testing.T, s *app.App, id, question, with string) cases.Case {
	t.Helper()
	saved, err := s.Interview.Put(ctx, id, cases.Guard{}, interview.Answer{Question: question, Answer: with})
	if err != nil {
		t.Fatal(err)
	}
	return saved.Case
}

func TestAtMostFiveQuestionsEachOnce(t *testing.T) {
	s, id := begun(t, "It slips when it gets warm, mostly going uphill.", "norrad-h4")
	seen := map[string]bool{"says-slips": true, "worse-when": true} // told already
	for n := range 6 {
		v := of(t, s, id)
		if len(v.Put) != n {
			t.Fatalf("%d questions stand as put after %d", len(v.Put), n)
		}
		if v.Ask == nil {
			if n == 0 || v.Enough == "" || v.Next == nil {
				t.Errorf("it ends after %d: %+v", n, v)
			}
			return
		}
		if n == 5 || seen[v.Ask.ID] || v.Because == "" || len(v.Ask.Answers) < 2 || len(v.Ask.Answers) > 9 {
			t.Fatalf("question %d: %+v", n, v.Ask)
		}
		seen[v.Ask.ID] = true
		answer(t, s, id, v.Ask.ID, v.Ask.Answers[0].Title)
	}
}

// An answer is the customer's word, and is given anew: what it said before does not stand beside it.
func TestAnAnswerIsGivenAnew(t *testing.T) {
	s, id := begun(t, "It slips.", "norrad-h4")
	answer(t, s, id, "since", "suddenly")
	c := answer(t, s, id, "since", "gradually")
	var stand []string
	for _, r := range c.Valid() {
		if r.Finding == "since" {
			stand = append(stand, r.State+" "+r.Source)
		}
	}
	if len(stand) != 1 || stand[0] != "gradually customer" {
		t.Errorf("%v", stand)
	}
	if v := of(t, s, id); len(v.Put) != 1 || v.Put[0].Answer != "gradually" {
		t.Errorf("%+v", v.Put)
	}
	c = answer(t, s, id, "since", "")
	if slices.ContainsFunc(c.Valid(), func(r cases.Reading) bool { return r.Finding == "since" }) || of(t, s, id).Put[0].Answer != "" {
		t.Errorf("left out, %+v stands", c.Valid())
	}
}

func TestTheRangeIsAskedOfWhatWasToldWithoutOne(t *testing.T) {
	s, id := begun(t, "It slips.", "norrad-h4")
	answer(t, s, id, "where:says-slips", "Drive third")
	c := answer(t, s, id, "where:says-slips", "Drive fourth")
	var cells []string
	for _, r := range c.Valid() {
		if strings.HasPrefix(r.Finding, "road.") {
			cells = append(cells, r.Finding+" "+r.State+" "+r.Source)
		}
	}
	if len(cells) != 1 || cells[0] != "road.hot.D4.slips yes customer" {
		t.Errorf("%v", cells)
	}
}

func TestWithoutAComplaintNothingIsAsked(t *testing.T) {
	s := apptest.New(t)
	saved, err := s.Intake.TakeIn(ctx, takein.Intake{Words: "Please have a look.", Vehicle: "Mail van 4", UnitID: "norrad-h4"})
	if err != nil {
		t.Fatal(err)
	}
	if v := of(t, s, saved.Case.ID); v.Ask != nil || v.Enough == "" {
		t.Errorf("%+v", v)
	}
}

func TestOddAnswersAreRefused(t *testing.T) {
	s, id := begun(t, "It slips.", "norrad-h4")
	for _, in := range []interview.Answer{{}, {Question: "since", Answer: "perhaps"}, {Question: "where:says-nothing"}, {Question: "line-pressure"}, {Question: "since", By: strings.Repeat("x", 200)}} {
		if _, err := s.Interview.Put(ctx, id, cases.Guard{}, in); err == nil {
			t.Errorf("%+v is taken", in)
		}
	}
}

// The last column is the ranking as it stands, the first what the words alone say, and an answer that is left out moves nothing.
func TestHowEachAnswerMovedTheSuspects(t *testing.T) {
	s, id := begun(t, "It slips uphill when it is hot", "norrad-h4")
	put := func(answer string) {
		t.Helper()
		q := of(t, s, id).Ask
		if q == nil {
			t.Fatal("nothing is asked")
		}
		if answer == "first" {
			answer = q.Answers[0].Title
		}
		if _, err := s.Interview.Put(ctx, id, cases.Guard{}, interview.Answer{Question: q.ID, Answer: answer}); err != nil {
			t.Fatal(err)
		}
	}
	moves := func() interview.Moves {
		t.Helper()
		m, err := s.Interview.MovesOf(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		return m
	}
	words := moves()
	if len(words.Columns) != 1 || len(words.Rows) == 0 {
		t.Fatalf("after the words: %+v", words)
	}
	put("first")
	put("")
	m := moves()
	if !slices.Equal(m.Columns, []string{"words", "1"}) {
		t.Fatalf("columns %v", m.Columns)
	}
	view, err := s.Overview.View(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range m.Rows {
		i := slices.IndexFunc(view.Suspects, func(x present.SuspectView) bool { return x.ID == r.ID })
		if i < 0 || math.Abs(view.Suspects[i].Probability-r.Shares[1]) > 1e-9 {
			t.Errorf("%s: %v in the last column, now %+v", r.Title, r.Shares[1], view.Suspects)
		}
		if j := slices.IndexFunc(words.Rows, func(x interview.Moved) bool { return x.ID == r.ID }); j >= 0 && words.Rows[j].Shares[0] != r.Shares[0] {
			t.Errorf("%s: the words said %v, now %v", r.Title, words.Rows[j].Shares[0], r.Shares[0])
		}
	}
	if m.Rows[0].Title != view.Suspects[0].Title {
		t.Errorf("%s leads the drawing, %s the ranking", m.Rows[0].Title, view.Suspects[0].Title)
	}
}

// What is said both ways is asked about before anything else, and the answer settles it.
func TestWhatIsSaidBothWaysIsAskedAbout(t *testing.T) {
	s := apptest.New(t)
	saved, err := s.Intake.TakeIn(ctx, takein.Intake{Words: "It is worse when hot. It is worse when cold. It slips.", Vehicle: "Mail van 4", UnitID: "norrad-h4"})
	if err != nil {
		t.Fatal(err)
	}
	id := saved.Case.ID
	if _, err := s.Said.Choose(ctx, id, cases.Guard{}, said.Choice{All: true}); err != nil {
		t.Fatal(err)
	}
	v := of(t, s, id)
	if v.Ask == nil || v.Ask.ID != "worse-when" || !strings.Contains(v.Because, "both ways") {
		t.Fatalf("asked: %+v, because %q", v.Ask, v.Because)
	}
	if _, err := s.Interview.Put(ctx, id, cases.Guard{}, interview.Answer{Question: v.Ask.ID, Answer: v.Ask.Answers[1].Title}); err != nil {
		t.Fatal(err)
	}
	if v = of(t, s, id); v.Ask != nil && (v.Ask.ID == "worse-when" || strings.Contains(v.Because, "both ways")) {
		t.Errorf("it is asked again: %+v", v.Ask)
	}
}
