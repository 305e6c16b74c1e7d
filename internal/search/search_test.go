package search_test

import (
	"context"
	"slices"
	"strings"
	"testing"

	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/search"
	"innercompass/internal/takein"
)

var ctx = context.Background()

func shop(t testing.TB) (*app.App, string) {
	t.Helper()
	s := apptest.New(t)
	saved, err := s.Intake.TakeIn(ctx, takein.Intake{Words: "It flares into third", Vehicle: "School minibus", Customer: "School board", UnitID: "norrad-h4"})
	if err != nil {
		t.Fatal(err)
	}
	return s, saved.Case.ID
}

func found(t testing.TB, s *app.App, q search.Query) []search.Hit {
	t.Helper()
	if q.Each == 0 {
		q.Each = 6
	}
	hits, err := s.Search.Find(ctx, q)
	if err != nil {
		t.Fatalf("%+v: %v", q, err)
	}
	return hits
}

func TestAnythingIsFoundByTheWordsOfTheTrade(t *testing.T) {
	s, id := shop(t)
	for _, c := range []struct{ text, kind, title string }{
		{"minibus", "case", "flares into third"},
		{"third flares", "case", "flares into third"},
		{"school", "vehicle", "School minibus"},
		{"line pressure", "check", "Line pressure"},
		{"torque convertor", "cause", "onverter"}, // British
		{"sump", "check", "pan"},
		{"dti", "instrument", ""},
		{"transaxle", "unit", ""},
	} {
		hits := found(t, s, search.Query{Text: c.text, Case: id})
		if !slices.ContainsFunc(hits, func(h search.Hit) bool {
			return h.Kind == c.kind && strings.Contains(strings.ToLower(h.Title), strings.ToLower(c.title))
		}) {
			t.Errorf("%q finds no %s with %q: %v", c.text, c.kind, c.title, hits)
		}
	}
	if hits := found(t, s, search.Query{Text: "p0741"}); len(hits) == 0 || hits[0].Kind != "code" || !strings.HasPrefix(hits[0].Title, "P0741") {
		t.Errorf("a code that another unit sets: %v", hits)
	}
	// A check is opened in the case at hand; without one, where the knowledge has it.
	if hits := found(t, s, search.Query{Text: "line pressure", Case: id, Kind: "check"}); hits[0].Case != id || hits[0].Unit != "norrad-h4" {
		t.Errorf("the check is not of the case: %+v", hits[0])
	}
	if hits := found(t, s, search.Query{Text: "line pressure", Kind: "check"}); hits[0].Case != "" || hits[0].Unit == "" {
		t.Errorf("the check has no place: %+v", hits[0])
	}
}

func TestKindsComeInOrderAndSoManyOfEach(t *testing.T) {
	s, _ := shop(t)
	last, count := 0, map[string]int{}
	for _, h := range found(t, s, search.Query{Text: "c", Each: 3}) {
		if at := slices.Index(search.Kinds, h.Kind); at < last {
			t.Errorf("%s comes after what stands behind it", h.Kind)
		} else {
			last = at
		}
		count[h.Kind]++
	}
	for kind, n := range count {
		if n > 3 {
			t.Errorf("%d of kind %s, asked for 3", n, kind)
		}
	}
	if len(count) < 5 {
		t.Errorf("only %v for a letter that all have", count)
	}
}

func TestOddQueriesFindNothingAndSayWhatIsAccepted(t *testing.T) {
	s, _ := shop(t)
	for _, q := range []string{"", "   ", "zzzzqqq", "%", "'; --", "(("} {
		if hits := found(t, s, search.Query{Text: q}); len(hits) > 0 {
			t.Errorf("%q finds %v", q, hits)
		}
	}
	for _, q := range []search.Query{{Text: strings.Repeat("x", 500), Each: 6}, {Text: "seal", Kind: "song", Each: 6}} {
		if _, err := s.Search.Find(ctx, q); err == nil || !strings.Contains(err.Error(), "accepted") {
			t.Errorf("%.20q, %q: %v", q.Text, q.Kind, err)
		}
	}
	if _, err := s.Search.Find(ctx, search.Query{Text: "seal", Case: "none", Each: 6}); !strings.Contains(err.Error(), problem.ErrNotFound.Error()) && !strings.Contains(err.Error(), "no case") {
		t.Errorf("a case that is not there: %v", err)
	}
}

// A record is found by its vehicle, its case's words, or the word record itself.
func TestRecordsAreFound(t *testing.T) {
	s, id := shop(t)
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Store.Change(ctx, id, cases.Guard{}, func(cases.Held) (cases.Changes, error) {
		return cases.Changes{Record: &cases.Record{ID: "r1", Seq: 1, At: c.Opened, Content: []byte("{}"), Digest: strings.Repeat("a", 64)}}, nil
	}); err != nil {
		t.Fatal(err)
	}
	for _, q := range []string{"record", "records minibus", "minibus"} {
		if !slices.ContainsFunc(found(t, s, search.Query{Text: q}), func(h search.Hit) bool { return h.Kind == "record" && h.Case == id }) {
			t.Errorf("%q finds no record", q)
		}
	}
}

func BenchmarkFind(b *testing.B) {
	s, id := shop(b)
	found(b, s, search.Query{Text: "seal", Case: id})
	for b.Loop() {
		found(b, s, search.Query{Text: "piston seal", Case: id})
	}
}
