package httpapi_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"math"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"innercompass/internal/httpapi/gen"
)

// vehicle is the case of a vehicle of the demo.
func (a site) vehicle(name string) string {
	a.t.Helper()
	for _, c := range a.floor() {
		if c.Vehicle == name {
			return c.ID
		}
	}
	a.t.Fatalf("no %s", name)
	return ""
}

// What is left out of a copy is not in it, and all the rest is.
func TestACopyForOthersKeepsToItself(t *testing.T) {
	a := start(t)
	id := a.minibus()
	c := decodeCase(t, a.do("GET", "/api/cases/"+id, ""))
	signed := decodeCase(t, a.do("POST", "/api/cases/"+id+"/decisions", `{"option":"overhaul","choice":"accepted","words":"as long as it lasts the term","how":"signed","name":"Oddny of the school","signature":"M10 20L30 40","by":"Ines"}`))
	if len(signed.Decisions) != 1 {
		t.Fatalf("%+v", signed.Decisions)
	}
	draft := func(leaveOut string) string {
		t.Helper()
		w := a.do("POST", "/api/cases/"+id+"/record-draft", `{"by":"Ines","leaveOut":[`+leaveOut+`]}`)
		if w.Code != http.StatusOK {
			t.Fatalf("%s: %d %s", leaveOut, w.Code, w.Body)
		}
		return decode[gen.Page](t, w).HTML
	}
	const name, said, strokes = "Oddny of the school", "as long as it lasts the term", "M10 20L30 40"
	sum := decode[gen.Options](t, a.do("GET", "/api/cases/"+id+"/options", ""))
	price := ""
	for _, r := range sum.Rows {
		if r.ID == "overhaul" {
			price = fmt.Sprintf("%d.%02d", r.Pay/100%1000, r.Pay%100)
		}
	}
	whole := draft("")
	for what, text := range map[string]string{"name": name, "words": said, "signature": strokes, "price": price, "complaint": c.Words} {
		if text == "" || !strings.Contains(whole, text) {
			t.Errorf("the whole record lacks the %s, %q", what, text)
		}
	}
	for part, gone := range map[string][]string{
		"customer":  {name, strokes},
		"words":     {said, c.Words},
		"prices":    {price},
		"signature": {strokes},
	} {
		copied := draft(`"` + part + `"`)
		for _, text := range []string{name, said, strokes, price, c.Words} {
			out := false
			for _, g := range gone {
				out = out || g == text
			}
			if strings.Contains(copied, text) == out {
				t.Errorf("without %s: %q there is %v", part, text, !out)
			}
		}
	}
	issued := decodeCase(t, a.do("POST", "/api/cases/"+id+"/records", `{"by":"Ines","leaveOut":["prices"]}`))
	file := a.do("GET", "/api/cases/"+id+"/records/"+issued.Records[0].ID+"/file", "").Body.String()
	var kept struct{ Content map[string]any }
	if err := json.Unmarshal([]byte(file), &kept); err != nil || kept.Content["vehicle"] != "School minibus" {
		t.Fatalf("%v: %s", err, file)
	}
	for _, money := range []string{"options", "break_even", "watch"} {
		if kept.Content[money] != nil {
			t.Errorf("the open file without prices has %s: %v", money, kept.Content[money])
		}
	}
	if w := a.do("POST", "/api/cases/"+id+"/record-draft", `{"leaveOut":["the truth"]}`); w.Code != 422 || *decode[gen.Problem](t, w).Field != "leaveOut" {
		t.Errorf("%d %s", w.Code, w.Body)
	}
}

func (a site) photo(id, caption string, file []byte) *httptest.ResponseRecorder {
	a.t.Helper()
	var b bytes.Buffer
	form := multipart.NewWriter(&b)
	if err := form.WriteField("caption", caption); err != nil {
		a.t.Fatal(err)
	}
	part, err := form.CreateFormFile("file", "photo.png")
	if err == nil {
		_, err = part.Write(file)
	}
	if err == nil {
		err = form.Close()
	}
	if err != nil {
		a.t.Fatal(err)
	}
	return a.do("POST", "/api/cases/"+id+"/photos", b.String(), "Content-Type", form.FormDataContentType())
}

// A picture goes in as a form and comes back as a JPEG; what is none, or too large, is refused and leaves none.
func TestPicturesOverTheAPI(t *testing.T) {
	a := start(t)
	id := a.minibus()
	var file bytes.Buffer
	if err := png.Encode(&file, image.NewGray(image.Rect(0, 0, 8, 6))); err != nil {
		t.Fatal(err)
	}
	before := len(decodeCase(t, a.do("GET", "/api/cases/"+id, "")).Photos)
	w := a.photo(id, "Seal, lip torn", file.Bytes())
	c := decodeCase(t, w)
	if w.Code != http.StatusCreated || len(c.Photos) != before+1 || c.Photos[before].Caption != "Seal, lip torn" || c.Photos[before].Stage != "teardown" {
		t.Fatalf("%d %+v", w.Code, c.Photos)
	}
	path := "/api/cases/" + id + "/photos/" + c.Photos[before].ID
	if back := a.do("GET", path, ""); back.Code != 200 || back.Header().Get("Content-Type") != "image/jpeg" || !bytes.HasPrefix(back.Body.Bytes(), []byte{0xff, 0xd8}) {
		t.Errorf("%d %s, %d bytes", back.Code, back.Header().Get("Content-Type"), back.Body.Len())
	}
	for what, bad := range map[string][]byte{"no picture": []byte("<svg onload=alert(1)>"), "nothing": nil, "too large": make([]byte, 17<<20)} {
		if w := a.photo(id, "", bad); w.Code != 422 || *decode[gen.Problem](t, w).Field != "file" {
			t.Errorf("%s: %d %s", what, w.Code, w.Body)
		}
	}
	if c := decodeCase(t, a.do("DELETE", path, "")); len(c.Photos) != before {
		t.Errorf("%d pictures, want %d", len(c.Photos), before)
	}
	if w := a.do("GET", "/api/cases/"+id+"/photos/none", ""); w.Code != 404 {
		t.Errorf("no picture: %d", w.Code)
	}
}

// The price book is saved by whoever saw its last state; a bad line is named and saves nothing.
func TestThePriceBookOverTheAPI(t *testing.T) {
	a := start(t)
	book := decode[gen.PriceBook](t, a.do("GET", "/api/prices", ""))
	if len(book.Prices) == 0 {
		t.Fatal("the demo has no prices")
	}
	save := func(rev, prices string) *httptest.ResponseRecorder {
		return a.do("PUT", "/api/prices", fmt.Sprintf(`{"prices":[%s]}`, prices), "If-Match", rev)
	}
	const good = `{"unit":"*","item":"fluid","quality":"","price":"9.85","hours":"","note":"drum"}`
	for what, bad := range map[string]string{
		"prices[1].price":   good + `,{"unit":"*","item":"parts:overhaul","quality":"new","price":"dear","hours":"","note":""}`,
		"prices[1].item":    good + `,{"unit":"*","item":"luck","quality":"","price":"1","hours":"","note":""}`,
		"prices[0].price":   `{"unit":"*","item":"fluid","quality":"","price":"","hours":"","note":""}`,
		"prices[0].quality": `{"unit":"*","item":"parts:overhaul","quality":"shiny","price":"1","hours":"","note":""}`,
	} {
		w := save(book.Rev, bad)
		if p := decode[gen.Problem](t, w); w.Code != 422 || p.Field == nil || *p.Field != what || p.Accepted == nil {
			t.Errorf("want %s named: %d %s", what, w.Code, w.Body)
		}
	}
	if now := decode[gen.PriceBook](t, a.do("GET", "/api/prices", "")); now.Rev != book.Rev || len(now.Prices) != len(book.Prices) {
		t.Error("a refused book changed something")
	}
	saved := decode[gen.PriceBook](t, save(book.Rev, good))
	if len(saved.Prices) != 1 || saved.Prices[0].Price != "9.85" || saved.Rev == book.Rev {
		t.Errorf("%+v", saved)
	}
	if w := save(book.Rev, ""); w.Code != http.StatusPreconditionFailed {
		t.Errorf("saved over another's: %d", w.Code)
	}
	if table := a.do("GET", "/api/price-table", ""); !strings.Contains(table.Body.String(), "fluid") || !strings.Contains(table.Body.String(), "9.85") {
		t.Errorf("%s", table.Body)
	}
}

// What is said that a visit comes to is what is agreed on: shared work is paid once, so add-ons cannot be summed up.
func TestAVisitIsPricedAsItIsAgreed(t *testing.T) {
	a := start(t)
	path := "/api/cases/" + a.minibus()
	weigh := func(addOns string) gen.Options {
		return decode[gen.Options](t, a.do("POST", path+"/options", `{"option":"pack.DC","addOns":[`+addOns+`],"full":true}`))
	}
	alone, one, two := weigh(""), weigh(`"valve-body"`), weigh(`"valve-body","pump"`)
	if alone.Visit == nil || one.Visit == nil || two.Visit == nil || !(alone.Visit.Pay < one.Visit.Pay && one.Visit.Pay < two.Visit.Pay) {
		t.Fatalf("%+v, %+v, %+v", alone.Visit, one.Visit, two.Visit)
	}
	w := a.do("POST", path+"/decisions", `{"option":"pack.DC","choice":"accepted","how":"phone","addOns":["valve-body","pump"]}`)
	if c := decodeCase(t, w); w.Code != 201 || minorOf(c.Decisions[0].Sure) != two.Visit.Pay {
		t.Errorf("%d: agreed on %v, said %d", w.Code, w.Body, two.Visit.Pay)
	}
	if w := a.do("POST", path+"/options", `{"option":"pack.DC","addOns":["luck"],"full":true}`); w.Code != 422 {
		t.Errorf("an add-on that there is not: %d", w.Code)
	}
}

// A vehicle without a complaint: nothing is sold, what its design is known for is held against waiting, as far ahead as is asked; once the unit
// is apart the works that are due stand in what is agreed on.
func TestLookedOverInTimeOverTheAPI(t *testing.T) {
	a := start(t)
	made := decodeCase(t, a.do("POST", "/api/cases", `{"words":"No complaint","vehicle":"Pilot truck","unit":"norrad-h4","distance":"150000 km","preventive":true}`))
	path := "/api/cases/" + made.ID
	if w := a.do("PATCH", path, `{"access":"unit-apart"}`); w.Code != 200 {
		t.Fatal(w.Body)
	}
	weigh := func(body string) gen.Options {
		return decode[gen.Options](t, a.do("POST", path+"/options", body))
	}
	usual, near := weigh(`{"full":true}`), weigh(`{"ahead":"500 km","full":true}`)
	if !usual.Quiet || usual.Rows[0].ID != "in-time" || len(usual.Ahead) == 0 || !usual.Ahead[0].Due || len(usual.Turns)+len(usual.Policies) != 0 {
		t.Fatalf("%+v", usual)
	}
	if usual.AheadOf != "50,000 km" || near.AheadOf != "500 km" || near.Ahead[0].Chance >= usual.Ahead[0].Chance || near.Ahead[0].Due {
		t.Errorf("%s %+v, %s %+v", usual.AheadOf, usual.Ahead[0], near.AheadOf, near.Ahead[0])
	}
	if w := a.do("POST", path+"/options", `{"ahead":"a while"}`); w.Code != 422 || !strings.Contains(w.Body.String(), `"ahead"`) {
		t.Errorf("%d %s", w.Code, w.Body)
	}
	agreed := decodeCase(t, a.do("POST", path+"/decisions", `{"option":"in-time","choice":"accepted","how":"phone"}`))
	if d := agreed.Decisions[0]; minorOf(d.Sure) != usual.Rows[0].Pay || d.Title != usual.Rows[0].Title || !strings.Contains(d.Title, "; also ") {
		t.Errorf("%+v", d)
	}
	if len(agreed.Proof) == 0 {
		t.Error("nothing is proven of the work that was agreed on")
	}
}

func minorOf(major float64) int64 { return int64(math.Round(100 * major)) }

// What failed after the work opens a closed case again, and only what was generated can be proven.
func TestProofOverTheAPI(t *testing.T) {
	a := start(t)
	id := a.vehicle("Veterinary van")
	c := decodeCase(t, a.do("GET", "/api/cases/"+id, ""))
	if !c.Closed || len(c.Proof) == 0 {
		t.Fatalf("closed %v, %d to prove", c.Closed, len(c.Proof))
	}
	item := c.Proof[0].Item
	set := func(item, result string) *httptest.ResponseRecorder {
		return a.do("POST", "/api/cases/"+id+"/proof", fmt.Sprintf(`{"item":%q,"result":%q,"note":"drove it again"}`, item, result))
	}
	if w := set(item, "fail"); w.Code != http.StatusConflict {
		t.Errorf("proven while closed: %d %s", w.Code, w.Body)
	}
	if w := a.do("DELETE", "/api/cases/"+id+"/closing", ""); w.Code != 200 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	if w := set("the customer smiles", "pass"); w.Code != 422 && w.Code != 404 {
		t.Errorf("an item that was not asked for: %d %s", w.Code, w.Body)
	}
	w := set(item, "fail")
	if w.Code != 200 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	for _, p := range decodeCase(t, w).Proof {
		if p.Item == item && p.Result != "fail" {
			t.Errorf("%+v", p)
		}
	}
	if w := a.do("PUT", "/api/cases/"+id+"/closing", fmt.Sprintf(`{"outcome":"cured","root":%q}`, c.Root)); w.Code != http.StatusConflict {
		t.Errorf("cured with a failed proof: %d %s", w.Code, w.Body)
	}
}
