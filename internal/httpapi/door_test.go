package httpapi_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"runtime"
	"runtime/debug"
	"strings"
	"sync"
	"testing"
	"time"

	"innercompass/internal/httpapi"
	"innercompass/internal/httpapi/gen"
)

// A name that points here is not a name of this server: a page elsewhere could otherwise speak for whoever opened it.
func TestOnlyKnownNamesAreAnswered(t *testing.T) {
	a := start(t)
	for host, code := range map[string]int{"127.0.0.1": 200, "127.0.0.1:8080": 200, "localhost:8080": 200, "[::1]:8080": 200, "evil.example": 421, "evil.example:8080": 421, "127.0.0.1.evil.example": 421, "": 421} {
		r := httptest.NewRequest("GET", "/api/cases", nil)
		r.Host = host
		w := httptest.NewRecorder()
		a.http.ServeHTTP(w, r)
		if w.Code != code {
			t.Errorf("Host %q: %d, want %d", host, w.Code, code)
		}
	}
}

// No page of another origin can write here, whatever it says about itself; who is no browser can.
func TestWritesFromElsewhereAreRefused(t *testing.T) {
	a := start(t)
	const body = `{"words":"x","vehicle":"y","unit":"norrad-h4"}`
	for _, c := range []struct {
		headers []string
		code    int
	}{
		{nil, 201}, {[]string{"Origin", "http://127.0.0.1"}, 201}, {[]string{"Sec-Fetch-Site", "same-origin"}, 201}, {[]string{"Sec-Fetch-Site", "none"}, 201},
		{[]string{"Origin", "http://evil.example"}, 403}, {[]string{"Origin", "http://127.0.0.1:9999"}, 403}, {[]string{"Origin", "null"}, 403}, {[]string{"Sec-Fetch-Site", "cross-site"}, 403}, {[]string{"Sec-Fetch-Site", "same-site"}, 403},
	} {
		if w := a.do("POST", "/api/cases", body, c.headers...); w.Code != c.code {
			t.Errorf("%v: %d, want %d", c.headers, w.Code, c.code)
		}
	}
	// A form cannot say that it is JSON; what is not said to be is not read.
	for _, path := range []string{"/api/cases", "/api/case-files", "/api/cases/" + a.minibus() + "/readings"} {
		if w := a.do("POST", path, body, "Content-Type", "text/plain"); w.Code != 415 && w.Code != 400 {
			t.Errorf("%s as text: %d", path, w.Code)
		}
	}
}

// The customer's door leads to the estimate of a link and to nothing else.
func TestTheCustomersDoorLeadsNowhereElse(t *testing.T) {
	a := start(t)
	h, err := httpapi.NewCustomers(a.options)
	if err != nil {
		t.Fatal(err)
	}
	customers := site{t: t, http: h}
	made := decodeCase(t, a.do("POST", "/api/cases/"+a.minibus()+"/estimates", `{"hours":48}`))
	token := made.Estimates[0].Token
	if got := decode[gen.Approval](t, customers.do("GET", "/api/approvals/"+token, "")); got.State != "open" || len(got.Options) == 0 {
		t.Fatalf("%+v", got)
	}
	for _, path := range []string{"/a/" + token, "/assets/a.js"} {
		if w := customers.do("GET", path, ""); w.Code != 200 {
			t.Errorf("%s: %d", path, w.Code)
		}
	}
	if w := a.do("GET", "/a/"+token, ""); !strings.Contains(w.Body.String(), "customer") {
		t.Errorf("a private link leads to %s", w.Body)
	}
	spec, err := gen.GetSpec()
	if err != nil {
		t.Fatal(err)
	}
	tried := 0
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			if strings.EqualFold(op.OperationID, "getApproval") || strings.EqualFold(op.OperationID, "approve") {
				continue
			}
			path := strings.NewReplacer("{id}", made.ID, "{check}", "fluid-level", "{token}", token).Replace(path)
			if w := customers.do(method, "/api"+path, "{}"); w.Code != 404 {
				t.Errorf("%s %s: %d", method, path, w.Code)
			}
			tried++
		}
	}
	for _, path := range []string{"/", "/cases/" + made.ID, "/settings", "/api/events", "/api/cases/" + made.ID + "/file", "/api/price-table", "/api/blank-sheet", "/a/../api/cases", "/assets/../index.html", "/api/cases/" + made.ID + "/calendar"} {
		if w := customers.do("GET", path, ""); w.Code != 404 {
			t.Errorf("%s: %d", path, w.Code)
		}
	}
	if tried < 40 {
		t.Errorf("only %d operations were tried", tried)
	}
	// Who guesses is told to wait.
	if customers.http, err = httpapi.NewCustomers(a.options); err != nil {
		t.Fatal(err)
	}
	codes := map[int]int{}
	for i := range 40 {
		codes[customers.do("GET", fmt.Sprintf("/api/approvals/guess%d", i), "").Code]++
	}
	if codes[404] != 20 || codes[429] != 20 {
		t.Errorf("%v", codes)
	}
}

// A key twice, or something behind the value, is not passed over; sizes are those of the contract.
func TestBodiesAreReadToTheLetter(t *testing.T) {
	a := start(t)
	for body, reason := range map[string]string{`{"words":"a","words":"b","vehicle":"y","unit":"norrad-h4"}`: "there twice", `{"words":"a","vehicle":"y","unit":"norrad-h4"} {"x":1}`: "follows", `{"words":"a","vehicle":"y","unit":"norrad-h4"}]`: "follows"} {
		if w := a.do("POST", "/api/cases", body); w.Code != 400 || !strings.Contains(w.Body.String(), reason) {
			t.Errorf("%s: %d %s", body, w.Code, w.Body)
		}
	}
	sheet := `{"text":"` + strings.Repeat("x", 900_000) + `"}`
	if w := a.do("POST", "/api/sheet-checks", sheet); w.Code != 200 {
		t.Errorf("a sheet of 900 kB is within the contract: %d %.200s", w.Code, w.Body)
	}
	if w := a.do("POST", "/api/cases", `{"words":"`+strings.Repeat("x", 300_000)+`"}`); w.Code != 413 || !strings.Contains(w.Body.String(), "256 KiB") {
		t.Errorf("%d %.200s", w.Code, w.Body)
	}
	if w := a.do("POST", "/api/cases/"+a.minibus()+"/decisions", `{"option":"watch","choice":"declined"}`, "Idempotency-Key", strings.Repeat("k", 60_000)); w.Code != 400 {
		t.Errorf("a key of 60,000 characters: %d", w.Code)
	}
	if w := a.do("POST", "/api/cases/"+a.minibus()+"/readings", `{"readings":[{"finding":"fluid-level","state":"ok","source":"seen","check":"no-such-check"}]}`); w.Code != 422 {
		t.Errorf("an unknown check: %d", w.Code)
	}
}

// The token of a private link is a key: it stands in no log.
func TestNoTokenInTheLog(t *testing.T) {
	a := start(t)
	var log bytes.Buffer
	before := slog.Default()
	slog.SetDefault(slog.New(slog.NewTextHandler(&log, nil)))
	defer slog.SetDefault(before)
	made := decodeCase(t, a.do("POST", "/api/cases/"+a.minibus()+"/estimates", `{"hours":48}`))
	_ = a.close() // everything fails from here on
	if w := a.do("GET", "/api/approvals/"+made.Estimates[0].Token, ""); w.Code < 500 {
		t.Fatalf("%d", w.Code)
	}
	if log.Len() == 0 || strings.Contains(log.String(), made.Estimates[0].Token) {
		t.Errorf("%s", log.String())
	}
}

// A page that is far behind is told everything that changed, once each; one machine cannot keep the others out.
func TestNoEventIsDropped(t *testing.T) {
	a := start(t)
	server := httptest.NewServer(a.http)
	defer server.Close()
	listen := func() *http.Response {
		t.Helper()
		r, err := server.Client().Get(server.URL + "/api/events")
		if err != nil {
			t.Fatal(err)
		}
		return r
	}
	first := listen()
	defer first.Body.Close()
	var want []string
	for i := range 300 { // far more than fits anywhere on the way
		id := fmt.Sprintf("case-%03d", i)
		want = append(want, id)
		a.app.Changed(id, i+1)
	}
	seen := map[string]int{}
	buffer := make([]byte, 4096)
	text := ""
	deadline := time.AfterFunc(20*time.Second, func() { _ = first.Body.Close() })
	defer deadline.Stop()
	for len(seen) < len(want) {
		n, err := first.Body.Read(buffer)
		if err != nil {
			t.Fatalf("%d of %d events came: %v", len(seen), len(want), err)
		}
		text += string(buffer[:n])
		for {
			event, rest, whole := strings.Cut(text, "\n\n")
			if !whole {
				break
			}
			text = rest
			if _, id, ok := strings.Cut(event, "data: "); ok {
				seen[id]++
			}
		}
	}
	for _, id := range want {
		if seen[id] == 0 {
			t.Errorf("%s was dropped", id)
		}
	}
	full := false
	var open []io.Closer
	for range 80 {
		r := listen()
		open = append(open, r.Body)
		full = full || r.StatusCode == http.StatusServiceUnavailable
	}
	for _, c := range open {
		_ = c.Close()
	}
	if !full {
		t.Error("one machine may hold any number of streams")
	}
}

// Pictures of 7700 × 7700 pixels, which unpack to 237 MB each, and of 5500 × 5500, which unpack to 120 MB, eight at once: the
// former are refused, the latter are taken one after the other, and the server stays small, under the limit that serve sets.
func TestLargePicturesDoNotFillTheMemory(t *testing.T) {
	a := start(t)
	id := a.minibus()
	img := image.NewNRGBA(image.Rect(0, 0, 7700, 7700))
	var file bytes.Buffer
	if err := png.Encode(&file, img); err != nil {
		t.Fatal(err)
	}
	wide := image.NewNRGBA(image.Rect(0, 0, 5500, 5500))
	var clear bytes.Buffer
	if err := png.Encode(&clear, wide); err != nil {
		t.Fatal(err)
	}
	img, wide = nil, nil
	defer debug.SetMemoryLimit(debug.SetMemoryLimit(httpapi.MemoryLimit))
	runtime.GC()
	var before runtime.MemStats
	runtime.ReadMemStats(&before)
	ctx, stop := context.WithCancel(context.Background())
	peak := uint64(0)
	var watching sync.WaitGroup
	watching.Add(1)
	go func() {
		defer watching.Done()
		for ctx.Err() == nil {
			var m runtime.MemStats
			runtime.ReadMemStats(&m)
			peak = max(peak, m.HeapInuse)
			time.Sleep(10 * time.Millisecond)
		}
	}()
	var wg sync.WaitGroup
	codes := make([]int, 8)
	for i := range codes {
		wg.Add(1)
		go func() {
			defer wg.Done()
			data := file.Bytes()
			if i%2 == 1 {
				data = clear.Bytes()
			}
			codes[i] = a.photo(id, fmt.Sprint(i), data).Code
		}()
	}
	wg.Wait()
	stop()
	watching.Wait()
	for i, c := range codes {
		if c != []int{422, 201}[i%2] {
			t.Errorf("%v", codes)
			break
		}
	}
	if used := int64(peak) - int64(before.HeapInuse); used > 300<<20 {
		t.Errorf("took %d MB", used>>20)
	}
}

// A picture that ends in the middle, or is of another kind, is refused before it is kept.
func TestABrokenPictureIsRefused(t *testing.T) {
	a := start(t)
	id := a.minibus()
	img := image.NewRGBA(image.Rect(0, 0, 400, 300))
	for i := range img.Pix {
		img.Pix[i] = byte(i * 7)
	}
	var whole bytes.Buffer
	if err := png.Encode(&whole, img); err != nil {
		t.Fatal(err)
	}
	before := len(decodeCase(t, a.do("GET", "/api/cases/"+id, "")).Photos)
	for what, data := range map[string][]byte{"cut off": whole.Bytes()[:whole.Len()/2], "GIF": append([]byte("GIF89a\x01\x00\x01\x00\x80\x00\x00\x00\x00\x00\xff\xff\xff!\xf9\x04\x01\x00\x00\x00\x00,\x00\x00\x00\x00\x01\x00\x01\x00\x00\x02\x02D\x01\x00;"), 0)} {
		if w := a.photo(id, what, data); w.Code != 422 || *decode[gen.Problem](t, w).Field != "file" {
			t.Errorf("%s: %d %s", what, w.Code, w.Body)
		}
	}
	if now := len(decodeCase(t, a.do("GET", "/api/cases/"+id, "")).Photos); now != before {
		t.Errorf("%d pictures, %d before", now, before)
	}
	// And what was taken can be put on a record, page and PDF.
	if w := a.photo(id, "whole", whole.Bytes()); w.Code != 201 {
		t.Fatal(w.Body)
	}
	made := decodeCase(t, a.do("POST", "/api/cases/"+id+"/records", `{"work":"Seen 😀"}`))
	for _, form := range []string{"page", "pdf", "file"} {
		if w := a.do("GET", "/api/cases/"+id+"/records/"+made.Records[len(made.Records)-1].ID+"/"+form, ""); w.Code != 200 {
			t.Errorf("%s: %d %s", form, w.Code, w.Body)
		}
	}
	if d := decode[gen.Page](t, a.do("POST", "/api/cases/"+id+"/record-draft", `{"work":"Seen 😀"}`)); len(d.NotPrintable) != 1 || !strings.Contains(d.NotPrintable[0], "😀") {
		t.Errorf("%v", d.NotPrintable)
	}
}
