package casework_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"strings"
	"sync"
	"testing"
	"time"

	"innercompass/core/decide"
	"innercompass/internal/casework"
)

// burnt is a case with a settled cause, far enough to be decided.
func burnt(t *testing.T, s *casework.Service) string {
	t.Helper()
	id := takeIn(t, s).Case.ID
	var add []casework.NewReading
	for _, r := range [][3]string{{"road.hot.D3.shift", "flare", "seen"}, {"pressure-pattern", "low-DC", "measured"}, {"air-check.DC", "piston", "measured"}, {"piston-seal.DC", "hard", "seen"}, {"fluid-temperature", "usual", "measured"}, {"fluid-level", "ok", "measured"}, {"pressure-rise", "rises", "measured"}} {
		add = append(add, casework.NewReading{Finding: r[0], State: r[1], Source: r[2]})
	}
	if _, err := s.AddReadings(ctx, id, casework.Guard{}, add); err != nil {
		t.Fatal(err)
	}
	return id
}

func fieldOf(err error) string {
	var fe *casework.FieldError
	if errors.As(err, &fe) && fe.Accepted != "" {
		return fe.Field
	}
	return ""
}

func refusedBy(err error) string {
	var se *casework.StateError
	if errors.As(err, &se) && se.Accepted != "" {
		return se.Reason
	}
	return ""
}

// The price book goes out as a table and comes back as it was; what is wrong is named by row and column and changes nothing.
func TestPriceBookAsATable(t *testing.T) {
	s := shop(t)
	table := "unit;item;quality;price;hours;note\n*;parts:pump;kit;85,50;;from the catalogue\nnorrad-h4;hours:reseal;;;2,2;\n*;fluid;;1.250,00;;\n"
	book, err := s.ImportPrices(ctx, table)
	if err != nil || len(book.Prices) != 3 || book.Prices[0].Amount != 125000 || book.Prices[1].Amount != 8550 || book.Prices[2].Hours != 2.2 {
		t.Fatalf("%+v %v", book, err)
	}
	out, err := s.PricesCSV(ctx)
	if err != nil {
		t.Fatal(err)
	}
	again, err := s.ImportPrices(ctx, string(out))
	if err != nil || again.Rev != book.Rev {
		t.Errorf("%v: it does not come back as it went:\n%s", err, out)
	}
	for text, field := range map[string]string{
		"unit,item,price\n*,parts:pump,-5\n":                                 "row 1, price",
		"unit,item,price\n*,fluid,9\n*,parts:pump,much\n":                    "row 2, price",
		"unit,item,price\n*,luck,5\n":                                        "row 1, item",
		"unit,item,price\nmoon,fluid,5\n":                                    "row 1, unit",
		"unit,item,price\n*,parts:magic,5\n":                                 "row 1, item",
		"unit,item,hours\n*,hours:pump,many\n":                               "row 1, hours",
		"unit,item,quality,price\n*,parts:pump,shiny,5\n":                    "row 1, quality",
		"item,price\nfluid,5\n":                                              "text",
		"unit,item,colour\n*,fluid,red\n":                                    "text",
		"unit,item,price\n":                                                  "text",
		"unit,item,price\n*,fluid,5\n*,fluid,6\n":                            "row 2, item",
		"unit,item,price,hours\n*,fluid,5,2\n":                               "row 1, hours",
		"unit,item,price\n*,fluid,99999999999999\n":                          "row 1, price",
		"unit,item,price,note\n*,fluid,5," + strings.Repeat("x", 200) + "\n": "row 1, note",
	} {
		if _, err := s.ImportPrices(ctx, text); fieldOf(err) != field {
			t.Errorf("%q: %v, want it named as %s", text, err, field)
		}
	}
	if now, _ := s.Prices(ctx); now.Rev != book.Rev {
		t.Error("a refused table changed the book")
	}
	if _, err := s.SavePrices(ctx, nil, "another"); !errors.Is(err, casework.ErrChanged) {
		t.Errorf("an old revision: %v", err)
	}
}

// A price that the shop has goes before the guide, and the order follows.
func TestAPriceChangesTheOrder(t *testing.T) {
	s := shop(t)
	id := burnt(t, s)
	before, err := s.Options(ctx, id, decide.Choices{}, "", nil, true)
	if err != nil || before.Rows[0].Option.ID != "reseal.DC" || before.Sentence == "" || len(before.Figures) == 0 {
		t.Fatalf("%v %q %q", err, before.Headline, before.Sentence)
	}
	if _, err := s.ImportPrices(ctx, "unit,item,price\n*,parts:reseal,9000\n"); err != nil {
		t.Fatal(err)
	}
	after, err := s.Options(ctx, id, decide.Choices{}, "", nil, false)
	if err != nil || after.Rows[0].Option.ID == "reseal.DC" {
		t.Errorf("%v: a reseal for 9000 still leads", err)
	}
	// By hand, for this estimate alone, it leads again.
	one, err := s.Options(ctx, id, decide.Choices{Set: map[string]float64{"price:parts:reseal.DC|new": 200}}, "", nil, false)
	if err != nil || one.Rows[0].Option.ID != "reseal.DC" {
		t.Errorf("%v: %s leads", err, one.Rows[0].Option.ID)
	}
	if _, err := s.Options(ctx, id, decide.Choices{Set: map[string]float64{"luck": 1}}, "", nil, false); fieldOf(err) != "luck" {
		t.Errorf("an unknown figure: %v", err)
	}
}

// What is decided names what it is paid with: the option's lines with its add-ons, and who decided how.
func TestADecisionIsChecked(t *testing.T) {
	s := shop(t)
	id := burnt(t, s)
	good := casework.NewDecision{Option: "reseal.DC", Choice: "accepted", How: "phone", Name: "the school"}
	for field, change := range map[string]func(*casework.NewDecision){
		"option":                   func(d *casework.NewDecision) { d.Option = "magic" },
		"choice":                   func(d *casework.NewDecision) { d.Choice = "maybe" },
		"how":                      func(d *casework.NewDecision) { d.How = "by dove" },
		"signature":                func(d *casework.NewDecision) { d.How, d.Signature = "signed", "M1 1L<script>" },
		"name":                     func(d *casework.NewDecision) { d.How, d.Name, d.Signature = "signed", "", "M1 1L2 2" },
		"set.share:piston-seal.DC": func(d *casework.NewDecision) { d.Choices.Set = map[string]float64{"share:piston-seal.DC": 0.5} },
	} {
		d := good
		change(&d)
		if _, err := s.Decide(ctx, id, casework.Guard{}, d); fieldOf(err) != field {
			t.Errorf("%+v: %v, want it named as %s", d, err, field)
		}
	}
	d := good
	d.AddOns = []string{"external-seals"}
	v, err := s.Decide(ctx, id, casework.Guard{}, d)
	if err != nil || len(v.Decisions) != 1 {
		t.Fatalf("%v", err)
	}
	plain, err := s.Options(ctx, id, decide.Choices{}, "", nil, false)
	if err != nil {
		t.Fatal(err)
	}
	row, _ := plain.Find("reseal.DC")
	if got := v.Decisions[0]; got.Sure <= row.Pay.Major() || len(got.AddOns) != 1 || got.How != "phone" || got.Name != "the school" {
		t.Errorf("%+v beside %v alone", got, row.Pay)
	}
	// Without guide prices an option without a price cannot be agreed on.
	st, err := s.Store.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	st.Guide = false
	if _, err := s.SaveSettings(ctx, st); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Decide(ctx, id, casework.Guard{}, good); fieldOf(err) != "option" {
		t.Errorf("an option without a price: %v", err)
	}
}

// A private link is answered once; one that ended, was altered, was replaced or no longer holds says so.
func TestAnEstimateIsAnsweredOnce(t *testing.T) {
	s := shop(t)
	id := burnt(t, s)
	now := time.Now().UTC().Truncate(time.Millisecond)
	s.Now = func() time.Time { return now }
	estimate := func() string {
		t.Helper()
		before, err := s.View(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		key := fmt.Sprintf("%020x", len(before.Estimates))
		var v casework.View
		for range 2 { // a page that sends again after a lost answer
			if v, err = s.Estimate(ctx, id, casework.Guard{Key: key}, "Marit", 48*time.Hour, decide.Choices{}); err != nil || len(v.Estimates) != len(before.Estimates)+1 {
				t.Fatal(len(v.Estimates), err)
			}
		}
		return v.Estimates[len(v.Estimates)-1].Token
	}
	yes := casework.NewDecision{Option: "reseal.DC", Choice: "accepted", Name: "the school"}
	state := func(token string) string {
		t.Helper()
		a, err := s.EstimateByToken(ctx, token)
		if err != nil {
			t.Fatal(err)
		}
		return a.State
	}
	first := estimate()
	if _, err := s.EstimateByToken(ctx, first+"x"); !errors.Is(err, casework.ErrNotFound) {
		t.Errorf("an altered link: %v", err)
	}
	now = now.Add(49 * time.Hour)
	if state(first) != casework.EstimateExpired {
		t.Errorf("after it ended: %s", state(first))
	}
	if _, err := s.Answer(ctx, first, casework.Guard{}, yes); refusedBy(err) == "" {
		t.Errorf("answered after it ended: %v", err)
	}
	second := estimate()
	third := estimate()
	if state(second) != casework.EstimateReplaced || state(third) != casework.EstimateOpen {
		t.Errorf("%s, %s", state(second), state(third))
	}
	// A reading that changes nothing leaves it; a price makes it stale.
	if _, err := s.AddReadings(ctx, id, casework.Guard{}, []casework.NewReading{{Finding: "fluid-look", State: "clear", Source: "seen"}}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.ImportPrices(ctx, "unit,item,price\n*,parts:reseal,241\n"); err != nil {
		t.Fatal(err)
	}
	if state(third) != casework.EstimateStale {
		t.Errorf("after a price changed: %s", state(third))
	}
	if _, err := s.Answer(ctx, third, casework.Guard{}, yes); refusedBy(err) == "" {
		t.Errorf("a stale estimate was answered: %v", err)
	}
	// What the customer says in another way ends it too.
	said := estimate()
	now = now.Add(time.Minute)
	if _, err := s.Decide(ctx, id, casework.Guard{}, casework.NewDecision{Option: "overhaul", Choice: "declined", How: "phone"}); err != nil {
		t.Fatal(err)
	}
	if state(said) != casework.EstimateReplaced {
		t.Errorf("after an answer by phone: %s", state(said))
	}
	now = now.Add(time.Minute)
	fourth := estimate()
	if _, err := s.Answer(ctx, fourth, casework.Guard{}, casework.NewDecision{Option: "reseal.DC", Choice: "accepted"}); fieldOf(err) != "name" {
		t.Errorf("without a name: %v", err)
	}
	// Two screens at once: one wins, the other is told.
	var wg sync.WaitGroup
	errs := make([]error, 2)
	for i := range errs {
		wg.Add(1)
		go func() {
			defer wg.Done()
			_, errs[i] = s.Answer(ctx, fourth, casework.Guard{Key: strings.Repeat(string("ab"[i]), 20)}, yes)
		}()
	}
	wg.Wait()
	won := 0
	for _, err := range errs {
		if err == nil {
			won++
		} else if refusedBy(err) == "" {
			t.Errorf("the second screen: %v", err)
		}
	}
	v, err := s.View(ctx, id)
	if err != nil || won != 1 || len(v.Decisions) != 2 || v.Decisions[1].How != "link" || v.Decisions[1].Estimate == "" || v.Estimates[4].State != casework.EstimateAnswered {
		t.Errorf("%d won, %+v, %v", won, v.Decisions, err)
	}
}

// Cured is what was proven: a value outside its window fails whatever was pressed, and the case stays open until all passes.
func TestTheProofGuardsTheClosing(t *testing.T) {
	s := shop(t)
	id := burnt(t, s)
	if _, err := s.Decide(ctx, id, casework.Guard{}, casework.NewDecision{Option: "reseal.DC", Choice: "accepted"}); err != nil {
		t.Fatal(err)
	}
	v, err := s.View(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	kinds := map[string]int{}
	for _, p := range v.Proof {
		kinds[p.Kind]++
	}
	if kinds["repeat"] < 2 || kinds["value"] == 0 || kinds["tighten"] == 0 || kinds["set"] == 0 || kinds["tell"] == 0 {
		t.Errorf("%v", kinds)
	}
	if _, err := s.Close(ctx, id, casework.Guard{}, casework.Closing{Root: "piston-seal.DC", Outcome: "cured"}); !strings.Contains(refusedBy(err), "have not passed") {
		t.Errorf("closed as cured without proof: %v", err)
	}
	if _, err := s.SetProof(ctx, id, casework.Guard{}, casework.Proof{Item: "limit.clearance-DC", Result: "pass"}); fieldOf(err) != "note" {
		t.Errorf("a value without a value: %v", err)
	}
	if _, err := s.SetProof(ctx, id, casework.Guard{}, casework.Proof{Item: "luck", Result: "pass"}); fieldOf(err) != "item" {
		t.Errorf("an unknown item: %v", err)
	}
	result := func(note string) string {
		t.Helper()
		v, err := s.SetProof(ctx, id, casework.Guard{}, casework.Proof{Item: "limit.clearance-DC", Result: "pass", Note: note})
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range v.Proof {
			if p.ID == "limit.clearance-DC" {
				return p.Result
			}
		}
		return ""
	}
	if result("2.4 mm") != "fail" || result("0.061 in") != "pass" { // 1.25 to 1.85 mm
		t.Error("a value is not held against its window")
	}
	for _, p := range v.Proof {
		note := ""
		if p.Window != nil {
			note = p.Window.Low.Format(p.Unit)
		}
		if _, err := s.SetProof(ctx, id, casework.Guard{}, casework.Proof{Item: p.ID, Result: "pass", Note: note}); err != nil {
			t.Fatal(err)
		}
	}
	v, err = s.Close(ctx, id, casework.Guard{}, casework.Closing{Root: "piston-seal.DC", Outcome: "cured", Damages: []string{"lip-hard.DC"}, CuredBy: "reseal.DC", Learnt: "Heat."})
	if err != nil || v.Case.Closed == nil || v.Case.CuredBy != "reseal.DC" || len(v.Case.Damages) != 1 || v.Case.Learnt != "Heat." {
		t.Errorf("%+v %v", v.Case, err)
	}
	if _, err := s.Reopen(ctx, id, casework.Guard{}); err != nil {
		t.Fatal(err)
	}
	for field, c := range map[string]casework.Closing{"damages[0]": {Outcome: "not-cured", Damages: []string{"x"}}, "curedBy": {Outcome: "not-cured", CuredBy: "x"}} {
		if _, err := s.Close(ctx, id, casework.Guard{}, c); fieldOf(err) != field {
			t.Errorf("%+v: %v", c, err)
		}
	}
}

// A return is seen as one: with what was found, done and declined the last time. It is no return of itself.
func TestReturnsAreLinked(t *testing.T) {
	s := shop(t)
	first := burnt(t, s)
	if _, err := s.Decide(ctx, first, casework.Guard{}, casework.NewDecision{Option: "overhaul", Choice: "declined"}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Close(ctx, first, casework.Guard{}, casework.Closing{Outcome: "declined"}); err != nil {
		t.Fatal(err)
	}
	second := takeIn(t, s).Case.ID
	before, err := s.EarlierVisits(ctx, " ferry SHUTTLE ", "")
	if err != nil || len(before) != 2 {
		t.Fatalf("%d visits, %v", len(before), err)
	}
	v, err := s.Link(ctx, second, casework.Guard{}, first)
	if err != nil || v.Earlier == nil || len(v.Earlier.Declined) != 1 || v.Earlier.Outcome != "declined" {
		t.Fatalf("%+v %v", v.Earlier, err)
	}
	if v, err = s.View(ctx, first); err != nil || len(v.Later) != 1 || v.Later[0].ID != second {
		t.Errorf("%+v %v", v.Later, err)
	}
	for _, bad := range [][2]string{{first, second}, {second, second}, {second, "nothing"}} {
		if _, err := s.Link(ctx, bad[0], casework.Guard{}, bad[1]); fieldOf(err) != "earlier" {
			t.Errorf("%v: %v", bad, err)
		}
	}
}

// A recheck as a calendar file: RFC 5545, lines of at most 75 octets, text escaped.
func TestARecheckForTheCalendar(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	if _, err := s.Calendar(ctx, id); refusedBy(err) == "" {
		t.Errorf("without a day: %v", err)
	}
	day := time.Now().UTC().AddDate(0, 2, 0).Format(time.DateOnly)
	if _, err := s.FollowUp(ctx, id, casework.Guard{}, day, "90 000 mi", "Level, cold; then the leak at the selector shaft, with a lamp — and note what you see, so that it can be compared"); err != nil {
		t.Fatal(err)
	}
	data, err := s.Calendar(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	for _, line := range strings.Split(strings.TrimSuffix(string(data), "\r\n"), "\r\n") {
		if len(line) > 75 || strings.ContainsAny(line, "\r\n") {
			t.Errorf("%d octets: %q", len(line), line)
		}
	}
	whole := strings.ReplaceAll(string(data), "\r\n ", "")
	for _, want := range []string{"DTSTART;VALUE=DATE:" + strings.ReplaceAll(day, "-", ""), `Level\, cold\; then`, "SUMMARY:Recheck: Ferry shuttle", `Or at 90\,000 mi`, "TRIGGER:-P2D"} {
		if !strings.Contains(whole, want) {
			t.Errorf("it lacks %q:\n%s", want, whole)
		}
	}
	for field, in := range map[string][2]string{"day": {"tomorrow", ""}, "distance": {"", "far"}} {
		if _, err := s.FollowUp(ctx, id, casework.Guard{}, in[0], in[1], ""); fieldOf(err) != field {
			t.Errorf("%v: %v", in, err)
		}
	}
	if _, err := s.FollowUp(ctx, id, casework.Guard{}, "1999-01-01", "", ""); fieldOf(err) != "day" {
		t.Errorf("a day gone by: %v", err)
	}
}

func drawn(t *testing.T, w, h int) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, w, h))); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func TestPicturesAreKeptByWhatTheyAre(t *testing.T) {
	s := shop(t)
	id := takeIn(t, s).Case.ID
	file := drawn(t, 40, 30)
	v, err := s.AddPhoto(ctx, id, casework.Guard{Key: "k"}, casework.Photo{Stage: "teardown", Caption: "Piston"}, file)
	if err != nil || len(v.Case.Photos) != 1 || v.Case.Photos[0].Width != 40 || v.Case.Photos[0].Type != "image/jpeg" {
		t.Fatalf("%+v %v", v.Case.Photos, err)
	}
	if v, err = s.AddPhoto(ctx, id, casework.Guard{Key: "k"}, casework.Photo{Stage: "teardown", Caption: "Piston"}, file); err != nil || len(v.Case.Photos) != 1 {
		t.Errorf("sent again: %d, %v", len(v.Case.Photos), err)
	}
	back, kind, err := s.PhotoFile(ctx, id, v.Case.Photos[0].ID)
	sum := sha256.Sum256(back)
	if _, err2 := jpeg.Decode(bytes.NewReader(back)); err != nil || err2 != nil || kind != "image/jpeg" || hex.EncodeToString(sum[:]) != v.Case.Photos[0].Digest {
		t.Errorf("%s %v %v", kind, err, err2)
	}
	for field, try := range map[string]func() error{
		"file": func() error {
			_, err := s.AddPhoto(ctx, id, casework.Guard{}, casework.Photo{Stage: "teardown"}, []byte("GIF89a"))
			return err
		},
		"stage": func() error {
			_, err := s.AddPhoto(ctx, id, casework.Guard{}, casework.Photo{Stage: "attic"}, file)
			return err
		},
	} {
		if err := try(); fieldOf(err) != field {
			t.Errorf("%v, want it named as %s", err, field)
		}
	}
	if v, err = s.WithdrawPhoto(ctx, id, casework.Guard{}, v.Case.Photos[0].ID); err != nil || len(v.Case.Pictures()) != 0 {
		t.Errorf("%v", err)
	}
	if _, err := s.WithdrawPhoto(ctx, id, casework.Guard{}, "nothing"); !errors.Is(err, casework.ErrNotFound) {
		t.Errorf("%v", err)
	}
}

// A record is found by its digest and stands by itself; one that was altered by a letter is not genuine.
func TestRecordsAreVerified(t *testing.T) {
	s := shop(t)
	id := burnt(t, s)
	var v casework.View
	for range 2 { // a page that sends again after a lost answer
		var err error
		if v, err = s.Issue(ctx, id, casework.Guard{Key: "aabbccddeeff00112233"}, casework.NewRecord{By: "Ines", Work: "Nothing yet."}); err != nil || len(v.Case.Records) != 1 {
			t.Fatalf("%d records, %v", len(v.Case.Records), err)
		}
	}
	r := v.Case.Records[0]
	spaced := strings.ToUpper(r.Digest[:8] + " " + r.Digest[8:])
	if got, err := s.VerifyDigest(ctx, spaced); err != nil || !got.Kept || !got.Whole || got.Case != id || !strings.HasPrefix(got.Says(), "Genuine") {
		t.Errorf("%+v %v", got, err)
	}
	if got, err := s.VerifyDigest(ctx, strings.Repeat("0", 64)); err != nil || got.Kept || !strings.HasPrefix(got.Says(), "Not genuine") {
		t.Errorf("%+v %v", got, err)
	}
	if says := (casework.Verified{Digest: r.Digest, Kept: true}).Says(); !strings.HasPrefix(says, "Not confirmed") || !strings.Contains(says, "seal.key") {
		t.Error(says)
	}
	if _, err := s.VerifyDigest(ctx, "abc"); fieldOf(err) != "digest" {
		t.Errorf("%v", err)
	}
	file, err := json.Marshal(casework.RecordFile{Digest: r.Digest, Content: r.Content})
	if err != nil {
		t.Fatal(err)
	}
	if got, err := casework.VerifyFile(file); err != nil || !got.Whole || got.Kept || got.Content.Work != "Nothing yet." {
		t.Errorf("%+v %v", got, err)
	}
	if got, err := s.VerifyFile(ctx, file); err != nil || !got.Whole || !got.Kept || got.Case != id {
		t.Errorf("%+v %v", got, err)
	}
	if got, err := casework.VerifyFile(bytes.Replace(file, []byte("Nothing yet."), []byte("Nothing yes."), 1)); err != nil || got.Whole {
		t.Errorf("an altered file: %+v %v", got, err)
	}
	if _, err := casework.VerifyFile([]byte("hello")); fieldOf(err) != "file" {
		t.Errorf("%v", err)
	}
	// An amendment names what it amends and why; the first stays as it was.
	if _, err := s.Issue(ctx, id, casework.Guard{}, casework.NewRecord{Amends: r.ID}); fieldOf(err) != "why" {
		t.Errorf("without a reason: %v", err)
	}
	v, err = s.Issue(ctx, id, casework.Guard{}, casework.NewRecord{Amends: r.ID, Why: "The distance was misread.", LeaveOut: []string{"customer", "prices", "words"}})
	if err != nil {
		t.Fatal(err)
	}
	content, _, err := s.RecordOf(ctx, id, v.Case.Records[1].ID)
	if err != nil || content.Amends != casework.RecordNumber(id, 1) || content.Words != "" || content.Options != nil || string(v.Case.Records[0].Content) != string(r.Content) {
		t.Errorf("%+v %v", content, err)
	}
	if _, err := s.Issue(ctx, id, casework.Guard{}, casework.NewRecord{LeaveOut: []string{"truth"}}); fieldOf(err) != "leaveOut" {
		t.Errorf("%v", err)
	}
}
