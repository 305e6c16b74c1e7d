package httpapi_test

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"innercompass/internal/app"
	"innercompass/internal/catalog"
	"innercompass/internal/demo"
	"innercompass/internal/handover"
	"innercompass/internal/httpapi"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/store"
	embedded "innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

// filled is a data folder with the demo, filled once; every test works on a copy.
var filled = sync.OnceValues(func() (string, error) {
	know, err := loaded()
	if err != nil {
		return "", err
	}
	folder, err := os.MkdirTemp("", "inner-compass-test")
	if err != nil {
		return "", err
	}
	st, err := store.Open(folder)
	if err != nil {
		return "", err
	}
	if err := demo.Fill(context.Background(), app.New(st, know)); err != nil {
		return "", err
	}
	return folder, st.Close()
})

func TestMain(m *testing.M) {
	code := m.Run()
	if folder, err := filled(); err == nil {
		_ = os.RemoveAll(folder)
	}
	os.Exit(code)
}

type site struct {
	t    testing.TB
	http http.Handler
	app  *app.App

	options httpapi.Options
	close   func() error // of the data folder
}

func start(t testing.TB) site {
	t.Helper()
	know, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	folder, err := filled()
	if err != nil {
		t.Fatal(err)
	}
	mine := t.TempDir()
	if err := os.CopyFS(mine, os.DirFS(folder)); err != nil {
		t.Fatal(err)
	}
	st, err := store.Open(mine)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = st.Close() })
	all := app.New(st, know)
	front := fstest.MapFS{"index.html": {Data: []byte("<title>front</title>")}, "customer.html": {Data: []byte("<title>customer</title>")}, "assets/a.js": {Data: []byte("1")}}
	options := httpapi.Options{App: all, Blank: embedded.BlankSheet, Front: front, Version: "test",
		OfCustomer: func(ctx context.Context, customer string, w io.Writer) error {
			return handover.Customer(ctx, all, customer, w)
		},
		Sample: func(ctx context.Context) (string, error) { return demo.Sample(ctx, all) }}
	h, err := httpapi.New(options)
	if err != nil {
		t.Fatal(err)
	}
	return site{t: t, http: h, app: all, options: options, close: st.Close}
}

func (a site) do(method, path, body string, headers ...string) *httptest.ResponseRecorder {
	a.t.Helper()
	r := httptest.NewRequest(method, "http://127.0.0.1"+path, strings.NewReader(body))
	if body != "" {
		r.Header.Set("Content-Type", "application/json")
	}
	for i := 0; i+1 < len(headers); i += 2 {
		r.Header.Set(headers[i], headers[i+1])
	}
	w := httptest.NewRecorder()
	a.http.ServeHTTP(w, r)
	return w
}

// shown is a case, or what is new in it, as a page holds it.
type shown struct {
	Rev int
	gen.CaseHead
	gen.Ranking
	Decisions []gen.Decision
	Estimates []gen.Estimate
	Proof     []gen.Proof
	Records   []gen.IssuedRecord
	Photos    []gen.Photo
}

func decodeCase(t testing.TB, w *httptest.ResponseRecorder) shown {
	t.Helper()
	news := decode[gen.CaseNews](t, w)
	out := shown{Rev: news.Rev}
	put(&out.CaseHead, news.Head)
	put(&out.Ranking, news.Ranking)
	put(&out.Decisions, news.Decisions)
	put(&out.Estimates, news.Estimates)
	put(&out.Proof, news.Proof)
	put(&out.Records, news.Records)
	put(&out.Photos, news.Photos)
	return out
}

func put[T any](to, from *T) {
	if from != nil {
		*to = *from
	}
}

func decode[T any](t testing.TB, w *httptest.ResponseRecorder) T {
	t.Helper()
	var out T
	if err := json.Unmarshal(w.Body.Bytes(), &out); err != nil {
		t.Fatalf("%d %s: %v", w.Code, w.Body, err)
	}
	return out
}

// floor lists all cases, open ones first.
func (a site) floor() []gen.FloorItem {
	a.t.Helper()
	var out []gen.FloorItem
	for _, closed := range []string{"false", "true"} {
		out = append(out, decode[gen.FloorPage](a.t, a.do("GET", "/api/cases?limit=200&closed="+closed, "")).Items...)
	}
	return out
}

func (a site) minibus() string {
	a.t.Helper()
	for _, c := range a.floor() {
		if c.Vehicle == "School minibus" {
			return c.ID
		}
	}
	a.t.Fatal("no minibus")
	return ""
}

func TestAReadingMovesTheRanking(t *testing.T) {
	a := start(t)
	id := a.minibus()
	before := decodeCase(t, a.do("GET", "/api/cases/"+id, ""))
	w := a.do("POST", "/api/cases/"+id+"/readings", `{"readings":[{"key":"k1","finding":"pressure-pattern","state":"low-DC","source":"measured","stage":"checks"}]}`)
	after := decodeCase(t, w)
	if w.Code != 200 || len(after.Trail) != len(before.Trail)+1 || after.Rev != before.Rev+1 || w.Header().Get("ETag") != fmt.Sprintf(`"%d"`, after.Rev) {
		t.Fatalf("%d, %d readings, revision %d, tag %s", w.Code, len(after.Trail), after.Rev, w.Header().Get("ETag"))
	}
	if after.Suspects[0].Probability <= before.Suspects[0].Probability || after.Suspects[0].Change <= 0 {
		t.Errorf("leader from %v to %v, change %v", before.Suspects[0].Probability, after.Suspects[0].Probability, after.Suspects[0].Change)
	}
	again := decodeCase(t, a.do("POST", "/api/cases/"+id+"/readings", `{"readings":[{"key":"k1","finding":"pressure-pattern","state":"low-DC","source":"measured","stage":"checks"}]}`))
	if again.Rev != after.Rev {
		t.Error("the same key was stored twice")
	}
	last := after.Trail[slices.IndexFunc(after.Trail, func(x gen.TrailItem) bool { return x.Finding == "pressure-pattern" })]
	back := decodeCase(t, a.do("POST", "/api/cases/"+id+"/readings", `{"readings":[{"withdraws":"`+last.ID+`"}]}`))
	if len(back.Trail) != len(before.Trail) || back.Suspects[0].Probability != before.Suspects[0].Probability {
		t.Error("withdrawing did not bring the ranking back")
	}
}

// Every bad request says what was wrong and what would be accepted, and changes nothing.
func TestBadRequestsAreProblemsAndChangeNothing(t *testing.T) {
	a := start(t)
	id := a.minibus()
	cases := len(a.floor())
	before := a.do("GET", "/api/cases/"+id+"/ranking", "").Body.String()
	for _, c := range []struct {
		method, path, body string
		status             int
		field              string
	}{
		{"GET", "/api/cases/" + id + "/suspects/gremlins", "", 404, "cause"},
		{"GET", "/api/cases/" + id + "/what-if?reading=none", "", 404, "reading"},
		{"GET", "/api/cases/" + id + "/what-if", "", 400, "reading"},
		{"GET", "/api/words?text=" + strings.Repeat("x", 1201), "", 400, "text"},
		{"GET", "/api/words?text=slips&unit=none", "", 404, ""},
		{"POST", "/api/cases/" + id + "/words", `{"take":["find.none.0"]}`, 422, "phrases"},
		{"POST", "/api/cases/" + id + "/interview", `{"question":"none"}`, 422, "question"},
		{"POST", "/api/cases/" + id + "/interview", `{"question":"since","answer":"never"}`, 422, "answer"},
		{"GET", "/api/cases?closed=perhaps", "", 400, "closed"},
		{"POST", "/api/cases/" + id + "/codes", `{"codes":"P0741"}`, 409, ""},
		{"GET", "/api/units/norrad-h4/knowledge?kind=rumour", "", 422, "kind"},
		{"GET", "/api/units/norrad-h4/knowledge/cause/gremlins", "", 404, "cause"},
		{"GET", "/api/units/nothing/knowledge", "", 404, "unit"},
		{"POST", "/api/cases", `{"words":"x"`, 400, ""},
		{"POST", "/api/cases", `{"words":"x","vehicle":"y","unit":"norrad-h4","surprise":1}`, 400, ""},
		{"POST", "/api/cases", `{"words":"","vehicle":"y","unit":"norrad-h4"}`, 400, "words"},
		{"POST", "/api/cases", `{"words":"   ","vehicle":"y","unit":"norrad-h4"}`, 422, "words"},
		{"POST", "/api/cases", `{"words":"` + strings.Repeat("x", 1201) + `","vehicle":"y","unit":"norrad-h4"}`, 400, "words"},
		{"POST", "/api/cases", `{"words":"x","vehicle":"y","unit":"nothing"}`, 422, "unit"},
		{"POST", "/api/cases", `{"words":"x","vehicle":"y","unit":"norrad-h4","distance":"far"}`, 422, "distance"},
		{"POST", "/api/cases", `[]`, 400, ""},
		{"PATCH", "/api/cases/" + id, `{"stage":"lunch"}`, 422, "stage"},
		{"PATCH", "/api/cases/" + id, `{"access":"sideways"}`, 422, "access"},
		{"GET", "/api/cases/nobody", "", 404, "case"},
		{"PATCH", "/api/cases/nobody", `{"bay":"1"}`, 404, "case"},
		{"GET", "/api/units/nothing", "", 404, "unit"},
		{"GET", "/api/nothing", "", 404, ""},
		{"DELETE", "/api/cases/" + id, "", 409, ""},
		{"POST", "/api/settings", "{}", 405, ""},
		{"POST", "/api/cases/" + id + "/readings", `{"readings":[]}`, 400, "readings"},
		{"POST", "/api/cases/" + id + "/readings", `{"readings":[{"finding":"fluid-look","state":"clear","source":"seen"},{"finding":"fluid-level","state":"purple","source":"seen"}]}`, 422, "readings[1].state"},
		{"POST", "/api/cases/" + id + "/readings", `{"readings":[{"finding":"made-up","state":"x","source":"seen"}]}`, 422, "readings[0].finding"},
		{"POST", "/api/cases/" + id + "/readings", `{"readings":[{"finding":"fluid-level","state":"low","source":"rumour"}]}`, 422, "readings[0].source"},
		{"POST", "/api/cases/" + id + "/readings", `{"readings":[{"finding":"fluid-level","state":"low","source":"seen","stage":"lunch"}]}`, 422, "readings[0].stage"},
		{"POST", "/api/cases/" + id + "/readings", `{"readings":[{"withdraws":"r-none"}]}`, 422, "readings[0].withdraws"},
		{"POST", "/api/cases/" + id + "/checks/nothing/marks", `{"kind":"skip"}`, 404, "check"},
		{"POST", "/api/cases/" + id + "/checks/fluid-level/results", `{"values":{"height":"3 parsec"}}`, 422, "values.height"},
		{"POST", "/api/cases/" + id + "/checks/stick-right/results", `{"values":{}}`, 409, ""},
		{"POST", "/api/cases/" + id + "/decisions", `{"option":"magic","choice":"accepted"}`, 422, "option"},
		{"POST", "/api/cases/" + id + "/decisions", `{"option":"overhaul","choice":"maybe"}`, 400, "choice"},
		{"PUT", "/api/cases/" + id + "/closing", `{"outcome":"cured"}`, 422, "root"},
		{"PUT", "/api/cases/" + id + "/closing", `{"outcome":"cured","root":"gremlins"}`, 422, "root"},
		{"POST", "/api/cases/" + id + "/proof", `{"item":"fluid","result":"perhaps"}`, 400, "result"},
		{"GET", "/api/cases/" + id + "/findings?stage=lunch", "", 400, "stage"},
		{"POST", "/api/case-files", `{"format":"other/1","unit":"norrad-h4","readings":[]}`, 422, "format"},
		{"POST", "/api/case-files", "{\n\"format\":\n]", 422, "line 3"},
		{"GET", "/assets/none.js", "", 404, ""},
	} {
		w := a.do(c.method, c.path, c.body)
		if w.Code != c.status || !strings.HasPrefix(w.Header().Get("Content-Type"), "application/problem+json") {
			t.Errorf("%s %s %.60s: %d %s %s, want %d", c.method, c.path, c.body, w.Code, w.Header().Get("Content-Type"), w.Body, c.status)
			continue
		}
		p := decode[gen.Problem](t, w)
		if p.Title == "" || p.Status != c.status {
			t.Errorf("%s %s: %+v", c.method, c.path, p)
		}
		if c.field != "" && (p.Field == nil || *p.Field != c.field) {
			t.Errorf("%s %s %.60s: field %v, want %s", c.method, c.path, c.body, p.Field, c.field)
		}
	}
	if after := a.do("GET", "/api/cases/"+id+"/ranking", "").Body.String(); after != before {
		t.Error("a refused request changed the case")
	}
	if n := len(a.floor()); n != cases {
		t.Errorf("%d cases after refused requests, want %d", n, cases)
	}
}

// What explains a case over HTTP: suspect, doubt, words, codes, knowledge.
func TestExplanationsOverTheAPI(t *testing.T) {
	a := start(t)
	id := a.minibus()
	now := decode[gen.Ranking](t, a.do("GET", "/api/cases/"+id+"/ranking", ""))
	if !now.Weighed || !now.Suspicion.Exact || now.Suspicion.Causes < 100 {
		t.Errorf("weighed %v, %+v", now.Weighed, now.Suspicion)
	}
	lead := now.Suspects[0]
	x := decode[gen.Explanation](t, a.do("GET", "/api/cases/"+id+"/suspects/"+lead.ID, ""))
	if x.Place != 1 || len(x.Nodes) < 3 || x.Nodes[0].Kind != "cause" || len(x.Links) == 0 || x.Contrast == nil || x.Contrast.SecondID != now.Suspects[1].ID || len(x.Weights) != len(now.Trail) {
		t.Errorf("%+v", x)
	}
	for _, l := range x.Links {
		if l.From < 0 || l.From >= len(x.Nodes) || l.To < 0 || l.To >= len(x.Nodes) || l.Why == "" {
			t.Errorf("link %+v of %d nodes", l, len(x.Nodes))
		}
	}
	doubt := decode[gen.WhatIf](t, a.do("GET", "/api/cases/"+id+"/what-if?reading="+now.Trail[0].ID, ""))
	if len(doubt.Rows) < 5 || doubt.Rows[0].ID != lead.ID || doubt.Rows[0].Now != lead.Probability || doubt.Sentence == "" {
		t.Errorf("%+v", doubt)
	}
	words := decode[gen.Said](t, a.do("GET", "/api/cases/"+id+"/words", ""))
	text := ""
	for _, p := range words.Pieces {
		text += p.Text
	}
	if len(words.Phrases) == 0 || text != words.Text {
		t.Errorf("the words of the complaint offer %+v", words)
	}
	if ask := decode[gen.Interview](t, a.do("GET", "/api/cases/"+id+"/interview", "")); ask.Most != 5 || ask.Ask == nil && ask.Enough == nil {
		t.Errorf("the interview is %+v", ask)
	}
	// A saved reading is answered at once with the new ranking; the weights follow with the next look.
	saved := decodeCase(t, a.do("POST", "/api/cases/"+id+"/readings", `{"readings":[{"finding":"noise-stand","state":"quiet","source":"seen"}]}`))
	if saved.Weighed || len(saved.Trail) != len(now.Trail)+1 || saved.Suspects[0].Change != saved.Suspects[0].Probability-lead.Probability {
		t.Errorf("weighed %v, %d readings, change %v from %v to %v", saved.Weighed, len(saved.Trail), saved.Suspects[0].Change, lead.Probability, saved.Suspects[0].Probability)
	}
	if looked := decodeCase(t, a.do("GET", "/api/cases/"+id, "")); !looked.Weighed {
		t.Error("looked at again, and no weights")
	}
	found := decode[gen.KnowledgeList](t, a.do("GET", "/api/units/norrad-h4/knowledge?q=direct+clutch+seal&kind=cause", ""))
	if found.Total == 0 || len(found.Counts) != 7 {
		t.Errorf("%+v", found)
	}
	for _, e := range found.Entries {
		entry := decode[gen.KnowledgeEntry](t, a.do("GET", "/api/units/norrad-h4/knowledge/"+e.Kind+"/"+e.ID, ""))
		if entry.Title != e.Title || len(entry.Facts) == 0 {
			t.Errorf("%+v", entry)
		}
	}
	electric := decodeCase(t, a.do("POST", "/api/cases", `{"words":"lamp on","vehicle":"van","unit":"tessaly-e4t"}`))
	if coded := decodeCase(t, a.do("POST", "/api/cases/"+electric.ID+"/codes", `{"codes":"P0731 P0700"}`)); len(coded.Trail) != 3 {
		t.Errorf("%d readings after two codes", len(coded.Trail))
	}
	// A code that comes as a plain reading belongs where codes are read, whether that is said or not.
	plain := decodeCase(t, a.do("POST", "/api/cases/"+electric.ID+"/readings", `{"readings":[{"finding":"code.P0732","state":"stored","source":"measured"}]}`))
	if last := plain.Trail[len(plain.Trail)-1]; last.Finding != "code.P0732" || last.Stage != "checks" {
		t.Errorf("%+v", last)
	}
	if w := a.do("POST", "/api/cases/"+electric.ID+"/codes", `{"codes":"P0731 QX"}`); w.Code != 422 {
		t.Errorf("a code that is none: %d %s", w.Code, w.Body)
	}
}

func TestTooLargeABody(t *testing.T) {
	a := start(t)
	big := `{"words":"` + strings.Repeat("x", 300<<10) + `"}`
	for _, path := range []string{"/api/cases", "/api/case-files"} {
		if w := a.do("POST", path, big); w.Code != http.StatusRequestEntityTooLarge {
			t.Errorf("%s: %d", path, w.Code)
		}
	}
}

func TestTwoPeopleDoNotOverwriteEachOther(t *testing.T) {
	a := start(t)
	id := a.minibus()
	tag := a.do("GET", "/api/cases/"+id, "").Header().Get("ETag")
	if w := a.do("PATCH", "/api/cases/"+id, `{"bay":"bay 3"}`, "If-Match", tag); w.Code != 200 {
		t.Fatal(w.Body)
	}
	if w := a.do("PATCH", "/api/cases/"+id, `{"bay":"bay 1"}`, "If-Match", tag); w.Code != http.StatusPreconditionFailed {
		t.Errorf("old tag: %d", w.Code)
	}
	if w := a.do("POST", "/api/cases", `{"words":"x","vehicle":"y","unit":"norrad-h4"}`, "Sec-Fetch-Site", "cross-site"); w.Code != http.StatusForbidden {
		t.Errorf("a write from another site: %d", w.Code)
	}
}

func TestADecisionIsFrozen(t *testing.T) {
	a := start(t)
	id := a.minibus()
	w := a.do("POST", "/api/cases/"+id+"/decisions", `{"option":"overhaul","choice":"declined","words":"too <b>dear</b>"}`)
	c := decodeCase(t, w)
	if w.Code != 201 || len(c.Decisions) != 1 {
		t.Fatal(w.Body)
	}
	issued := decodeCase(t, a.do("POST", "/api/cases/"+id+"/records", `{"by":"Ines"}`))
	path := "/api/cases/" + id + "/records/" + issued.Records[0].ID
	first := a.do("GET", path+"/page", "")
	a.do("POST", "/api/cases/"+id+"/readings", `{"readings":[{"finding":"pressure-pattern","state":"low-all","source":"measured"}]}`)
	a.do("PATCH", "/api/cases/"+id, `{"words":"something else"}`)
	second := a.do("GET", path+"/page", "")
	if first.Code != 200 || first.Body.String() != second.Body.String() {
		t.Error("the record changed with the case")
	}
	if body := first.Body.String(); strings.Contains(body, "<b>dear") || !strings.Contains(body, "too &lt;b&gt;dear") || !strings.Contains(body, "Declined") {
		t.Error("the customer's words are not shown as words")
	}
	if w := a.do("GET", path+"/pdf?paper=Letter", ""); w.Code != 200 || !strings.HasPrefix(w.Body.String(), "%PDF") {
		t.Errorf("PDF: %d", w.Code)
	}
	if w := a.do("GET", path+"/pdf?paper=napkin", ""); w.Code != 422 {
		t.Errorf("a paper that there is not: %d", w.Code)
	}
	file := a.do("GET", path+"/file", "").Body.String()
	ask, err := json.Marshal(map[string]string{"file": file})
	if err != nil {
		t.Fatal(err)
	}
	if v := decode[gen.Verified](t, a.do("POST", "/api/verifications", string(ask))); !v.Whole || !v.Kept || v.Case != id {
		t.Errorf("%+v", v)
	}
	if w := a.do("GET", "/api/cases/"+id+"/records/nothing/page", ""); w.Code != 404 {
		t.Errorf("no record: %d", w.Code)
	}
}

// A private link: answered once over the API, refused with a reason after that; altered, it is not found.
func TestApprovalByLink(t *testing.T) {
	a := start(t)
	id := a.minibus()
	made := decodeCase(t, a.do("POST", "/api/cases/"+id+"/estimates", `{"hours":48,"by":"Marit"}`))
	if len(made.Estimates) != 1 || made.Estimates[0].State != "open" {
		t.Fatalf("%+v", made.Estimates)
	}
	path := "/api/approvals/" + made.Estimates[0].Token
	seen := decode[gen.Approval](t, a.do("GET", path, ""))
	if seen.State != "open" || len(seen.Options) == 0 || seen.Root == "" {
		t.Fatalf("%+v", seen)
	}
	answer := fmt.Sprintf(`{"option":%q,"choice":"declined","name":"The school"}`, seen.Options[0].ID)
	if got := decode[gen.Approval](t, a.do("POST", path, answer)); got.State != "answered" || got.Answered == nil || got.Answered.Name != "The school" {
		t.Errorf("%+v", got)
	}
	if w := a.do("POST", path, answer); w.Code != http.StatusConflict || !strings.Contains(w.Body.String(), "answered already") {
		t.Errorf("a second answer: %d %s", w.Code, w.Body)
	}
	if w := a.do("GET", path+"x", ""); w.Code != 404 {
		t.Errorf("an altered link: %d", w.Code)
	}
	if w := a.do("POST", "/api/cases/"+id+"/estimates", `{"hours":-1}`); w.Code != 422 {
		t.Errorf("hours: %d", w.Code)
	}
}

// Prices, figures by hand, a ceiling, a recheck, a linked visit, pictures: each over the API, each with a bad one refused.
func TestWhatDecidesOverTheAPI(t *testing.T) {
	a := start(t)
	id := a.minibus()
	for _, c := range []struct {
		method, path, body string
		code               int
		field              string
	}{
		{"PUT", "/api/price-table", `{"text":"unit,item,price\n*,fluid,9.50\n"}`, 200, ""},
		{"PUT", "/api/price-table", `{"text":"unit,item,price\n*,fluid,nine\n"}`, 422, "row 1, price"},
		{"PUT", "/api/prices", `{"prices":[]}`, 400, "If-Match"},
		{"POST", "/api/cases/" + id + "/options", `{"set":{"labour-rate":"120"},"ceiling":"900","full":true}`, 200, ""},
		{"POST", "/api/cases/" + id + "/options", `{"set":{"labour-rate":"-120"}}`, 422, "labour-rate"},
		{"POST", "/api/cases/" + id + "/options", `{"ceiling":"a lot"}`, 422, "ceiling"},
		{"POST", "/api/cases/" + id + "/options", `{"quality":{"overhaul":"shiny"}}`, 422, "quality.overhaul"},
		{"PUT", "/api/cases/" + id + "/follow-up", `{"day":"someday","distance":"","note":""}`, 422, "day"},
		{"PUT", "/api/cases/" + id + "/earlier", fmt.Sprintf(`{"id":%q}`, id), 422, "earlier"},
		{"GET", "/api/cases/" + id + "/calendar", "", 409, ""},
		{"GET", "/api/price-table", "", 200, ""},
		{"GET", "/api/units/norrad-h4/price-items", "", 200, ""},
		{"GET", "/api/visits?vehicle=School+minibus", "", 200, ""},
		{"POST", "/api/cases/" + id + "/photos", "no form", 422, "file"},
		{"DELETE", "/api/cases/" + id + "/photos/none", "", 404, "photo"},
		{"POST", "/api/verifications", `{"digest":"12"}`, 422, "digest"},
	} {
		w := a.do(c.method, c.path, c.body)
		if w.Code != c.code {
			t.Errorf("%s %s %s: %d %s, want %d", c.method, c.path, c.body, w.Code, w.Body, c.code)
			continue
		}
		if c.field != "" {
			if p := decode[gen.Problem](t, w); p.Field == nil || *p.Field != c.field {
				t.Errorf("%s %s: %s, want it named as %s", c.path, c.body, w.Body, c.field)
			}
		}
	}
}

func TestAFileComesBackAsItWent(t *testing.T) {
	a := start(t)
	id := a.minibus()
	before := decodeCase(t, a.do("GET", "/api/cases/"+id, ""))
	file := a.do("GET", "/api/cases/"+id+"/file", "")
	w := a.do("POST", "/api/case-files", file.Body.String())
	after := decodeCase(t, w)
	if w.Code != 201 || after.ID == before.ID || len(after.Trail) != len(before.Trail) || after.Suspects[0].Probability != before.Suspects[0].Probability {
		t.Errorf("%d: %d readings for %d, leader %v for %v", w.Code, len(after.Trail), len(before.Trail), after.Suspects[0].Probability, before.Suspects[0].Probability)
	}
}

func TestFrontIsServedForEveryPage(t *testing.T) {
	a := start(t)
	for _, path := range []string{"/", "/cases/abc/checks", "/units"} {
		if w := a.do("GET", path, ""); w.Code != 200 || !strings.Contains(w.Body.String(), "front") || w.Header().Get("Content-Security-Policy") == "" {
			t.Errorf("%s: %d %s", path, w.Code, w.Body)
		}
	}
	if w := a.do("GET", "/assets/a.js", ""); w.Code != 200 || !strings.Contains(w.Header().Get("Cache-Control"), "immutable") {
		t.Errorf("asset: %d %s", w.Code, w.Header().Get("Cache-Control"))
	}
}

// The generated code must be what the contract says.
func TestGeneratedCodeIsCurrent(t *testing.T) {
	root, err := filepath.Abs("../..")
	if err != nil {
		t.Fatal(err)
	}
	out := filepath.Join(t.TempDir(), "api.go")
	config, err := os.ReadFile(filepath.Join(root, "api/codegen.yaml"))
	if err != nil {
		t.Fatal(err)
	}
	here := filepath.Join(t.TempDir(), "codegen.yaml")
	text := strings.Replace(string(config), "../internal/httpapi/gen/api.gen.go", out, 1)
	if err := os.WriteFile(here, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	bundle := filepath.Join(t.TempDir(), "bundle.yaml")
	cmd := exec.Command("npx", "--no-install", "redocly", "bundle", "../api/openapi.yaml", "--config", "../api/redocly.yaml", "-o", bundle)
	cmd.Dir = filepath.Join(root, "web")
	if text, err := cmd.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, text)
	}
	cmd = exec.Command("go", "tool", "oapi-codegen", "--config", here, bundle)
	cmd.Dir = filepath.Join(root, "api")
	if text, err := cmd.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, text)
	}
	compare(t, out, "gen/api.gen.go")
	ts := filepath.Join(t.TempDir(), "schema.ts")
	cmd = exec.Command("npx", "--no-install", "openapi-typescript", bundle, "-o", ts)
	cmd.Dir = filepath.Join(root, "web")
	if text, err := cmd.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, text)
	}
	compare(t, ts, "../../web/src/api/schema.gen.ts")
}

func compare(t *testing.T, fresh, kept string) {
	t.Helper()
	a, err := os.ReadFile(fresh)
	if err != nil {
		t.Fatal(err)
	}
	b, err := os.ReadFile(kept)
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(a, b) {
		t.Errorf("%s differs from what api/ gives; run make generate", kept)
	}
}

// The server part of a reading: decode, validate, append, fsync, rank, next check, encode.
func BenchmarkAddReading(b *testing.B) {
	a := start(b)
	id := a.minibus()
	states := []string{"low-DC", "as-expected"}
	i := 0
	for b.Loop() {
		i++
		w := a.do("POST", "/api/cases/"+id+"/readings", fmt.Sprintf(`{"readings":[{"key":"k%d","finding":"pressure-pattern","state":"%s","source":"measured"}]}`, i, states[i%2]))
		if w.Code != 200 {
			b.Fatal(w.Body)
		}
	}
}

// Twenty cases worked on at once, half of them on the ten-speed: at each a reading every two seconds, each timed from
// request to answer. Reports the 50th and 99th percentile in ms.
func BenchmarkTwentyCasesAtOnce(b *testing.B) {
	a := start(b)
	const people, pace = 20, 2 * time.Second
	cells := map[string][]string{
		"norrad-h4":    {"road.hot.D1.drives", "road.hot.D2.shift", "road.hot.D3.shift", "road.hot.D4.shift", "road.hot.R.drives", "road.hot.R.engages", "fluid-look", "fluid-level", "pressure-pattern", "noise-stand", "stall-speed", "filter"},
		"vantrice-t10": {"road.hot.D1.drives", "road.hot.D2.shift", "road.hot.D3.shift", "road.hot.D4.shift", "road.hot.D5.shift", "road.hot.D6.shift", "road.hot.D7.shift", "road.hot.R.engages", "fluid-look", "fluid-level", "pressure-pattern", "filter"},
	}
	know, err := loaded()
	if err != nil {
		b.Fatal(err)
	}
	var ids []string
	for i := range people {
		unit := []string{"norrad-h4", "vantrice-t10"}[i%2]
		made := decodeCase(b, a.do("POST", "/api/cases", fmt.Sprintf(`{"words":"slips when hot","vehicle":"van %d","unit":"%s","distance":"140000 km"}`, i, unit)))
		ids = append(ids, made.ID)
	}
	for b.Loop() {
		took := make([][]float64, people)
		var all sync.WaitGroup
		for i := range people {
			all.Go(func() {
				unit := []string{"norrad-h4", "vantrice-t10"}[i%2]
				time.Sleep(time.Duration(i) * pace / people)
				for k, finding := range cells[unit] {
					f, _ := know.Networks[unit].Finding(finding)
					state := f.States[(i+k)%4/3].ID // one in four is not normal
					body := fmt.Sprintf(`{"readings":[{"finding":"%s","state":"%s","source":"seen"}]}`, finding, state)
					from := time.Now()
					if w := a.do("POST", "/api/cases/"+ids[i]+"/readings", body); w.Code != 200 {
						b.Error(w.Body)
						return
					}
					d := time.Since(from)
					took[i] = append(took[i], float64(d.Microseconds())/1000)
					time.Sleep(pace - d)
				}
			})
		}
		all.Wait()
		sorted := slices.Concat(took...)
		slices.Sort(sorted)
		b.ReportMetric(sorted[len(sorted)/2], "p50-ms")
		b.ReportMetric(sorted[len(sorted)*99/100], "p99-ms")
	}
}

func BenchmarkFloor(b *testing.B) {
	a := start(b)
	for b.Loop() {
		if w := a.do("GET", "/api/cases", ""); w.Code != 200 {
			b.Fatal(w.Body)
		}
	}
}

func TestTheUnitIsComputedAndInTheShopsUnits(t *testing.T) {
	a := start(t)
	u := decode[gen.Unit](t, a.do("GET", "/api/units/norrad-h4", ""))
	third := u.Ranges[slices.IndexFunc(u.Ranges, func(r gen.UnitRange) bool { return r.ID == "D3" })]
	if third.Ratio < 0.999999 || third.Ratio > 1.000001 || len(u.Lever) != 4 || len(u.Faults) < 25 || len(u.Groups) == 0 || u.Doubts == nil || len(u.Doubts) != 0 {
		t.Errorf("ratio %v, lever %v, %d faults, %d groups, doubts %v", third.Ratio, u.Lever, len(u.Faults), len(u.Groups), u.Doubts)
	}
	s := decode[gen.Settings](t, a.do("GET", "/api/settings", ""))
	body := `{"shop":"S","currency":"$","labourRate":"100","fluidLitre":"9","goodwill":"0","pressure":"bar","length":"in","torque":"lbf·ft","volume":"qt","temperature":"°F","distance":"mi"}`
	if w := a.do("PUT", "/api/settings", body, "If-Match", fmt.Sprint(s.Rev)); w.Code != 200 {
		t.Fatal(w.Body)
	}
	if w := a.do("PUT", "/api/settings", body, "If-Match", fmt.Sprint(s.Rev)); w.Code != http.StatusPreconditionFailed {
		t.Errorf("an old form of the settings: %d", w.Code)
	}
	u = decode[gen.Unit](t, a.do("GET", "/api/units/norrad-h4", ""))
	if u.Ranges[0].LineIdle != "3.79–4.48 bar" || u.Fluid.Capacity != "11.0 qt" || u.MaxTorque != "177 lbf·ft" || u.Limits[0].Window != "0.043–0.063 in" {
		t.Errorf("%s, %s, %s, %s", u.Ranges[0].LineIdle, u.Fluid.Capacity, u.MaxTorque, u.Limits[0].Window)
	}
	check := decode[gen.Check](t, a.do("GET", "/api/cases/"+a.minibus()+"/checks/line-pressure", ""))
	if in := check.Instrument.Inputs[0]; in.Unit != "bar" || in.Window.Low < 3.7 || in.Window.Low > 3.9 {
		t.Errorf("%+v", in)
	}
}

// A bare number is in the shop's unit; a named unit wins over it.
func TestMeasuringAndPuttingIntoTheCase(t *testing.T) {
	a := start(t)
	id := a.minibus()
	values := `{"values":{"R":"76","D1":"60","D2":"4.1 bar","D3":"41","D4":"43"}}`
	r := decode[gen.Result](t, a.do("POST", "/api/cases/"+id+"/checks/line-pressure/results", values))
	if len(r.Points) != 5 || r.Stated[0].State != "low-DC" || !strings.Contains(r.Stated[0].Title, "direct clutch") {
		t.Fatalf("%+v", r)
	}
	before := decodeCase(t, a.do("GET", "/api/cases/"+id, ""))
	after := decodeCase(t, a.do("POST", "/api/cases/"+id+"/checks/line-pressure/measurements", values, "Idempotency-Key", "press1"))
	again := decodeCase(t, a.do("POST", "/api/cases/"+id+"/checks/line-pressure/measurements", values, "Idempotency-Key", "press1"))
	if len(after.Trail) != len(before.Trail)+1 || again.Rev != after.Rev {
		t.Errorf("%d readings became %d; sent again: revision %d after %d", len(before.Trail), len(after.Trail), again.Rev, after.Rev)
	}
	check := decode[gen.Check](t, a.do("GET", "/api/cases/"+id+"/checks/line-pressure", ""))
	if check.Instrument.Inputs[4].Typed != "4.1 bar" || check.Findings[0].State != "low-DC" {
		t.Errorf("typed %q, state %q", check.Instrument.Inputs[4].Typed, check.Findings[0].State)
	}
}

func TestMarksAreSetAndTakenBack(t *testing.T) {
	a := start(t)
	id := a.minibus()
	first := decodeCase(t, a.do("GET", "/api/cases/"+id, "")).Heading.Best[0].Check
	skip := decodeCase(t, a.do("POST", "/api/cases/"+id+"/checks/"+first+"/marks", `{"kind":"skip"}`))
	if skip.Heading.Best[0].Check == first {
		t.Error("what is not possible here is still the heading")
	}
	back := decodeCase(t, a.do("POST", "/api/cases/"+id+"/checks/"+first+"/marks", `{"kind":"skip","undo":true}`))
	if back.Heading.Best[0].Check != first {
		t.Error("taking it back did not bring it back")
	}
	a.do("POST", "/api/cases/"+id+"/checks/line-pressure/marks", `{"kind":"acknowledge"}`)
	if !decode[gen.Check](t, a.do("GET", "/api/cases/"+id+"/checks/line-pressure", "")).Acknowledged {
		t.Error("the acknowledgement was not kept")
	}
}

// An open page is told which case has changed.
func TestEventsTellWhatChanged(t *testing.T) {
	a := start(t)
	id := a.minibus()
	server := httptest.NewServer(a.http)
	defer server.Close()
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, server.URL+"/api/events", nil)
	if err != nil {
		t.Fatal(err)
	}
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = res.Body.Close() }()
	if w := a.do("PATCH", "/api/cases/"+id, `{"bay":"bay 3"}`); w.Code != 200 {
		t.Fatal(w.Body)
	}
	lines := bufio.NewScanner(res.Body)
	for lines.Scan() {
		if lines.Text() == "data: "+id {
			return
		}
	}
	t.Errorf("no event came: %v", lines.Err())
}
