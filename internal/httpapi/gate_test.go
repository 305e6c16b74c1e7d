package httpapi_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"

	"innercompass/internal/httpapi/gen"
	"innercompass/internal/people"
)

// operations are all of the contract: by name, method and address.
func operations(t *testing.T) map[string][2]string {
	t.Helper()
	loader := openapi3.NewLoader()
	loader.IsExternalRefsAllowed = true
	spec, err := loader.LoadFromFile(filepath.Join("..", "..", "api", "openapi.yaml"))
	if err != nil {
		t.Fatal(err)
	}
	out := map[string][2]string{}
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			out[op.OperationID] = [2]string{method, "/api" + path}
		}
	}
	return out
}

// Every operation of the contract has a rule, and every rule an operation.
func TestEveryOperationHasARule(t *testing.T) {
	ops := operations(t)
	for name := range ops {
		if _, ok := people.RightFor(name); !ok {
			t.Errorf("%s has no rule: nobody may do it", name)
		}
	}
	for name := range people.Rules() {
		if _, ok := ops[name]; !ok {
			t.Errorf("%s has a rule and is not in the contract", name)
		}
	}
	if len(ops) < 150 {
		t.Errorf("only %d operations", len(ops))
	}
}

// browser keeps its cookies.
type browser struct {
	site
	jar map[string]string
}

func (b *browser) do(method, path, body string, headers ...string) *httptest.ResponseRecorder {
	var cookies []string
	for k, v := range b.jar {
		cookies = append(cookies, k+"="+v)
	}
	w := b.site.do(method, path, body, append(headers, "Cookie", strings.Join(cookies, "; "))...)
	for _, c := range w.Result().Cookies() {
		if c.MaxAge < 0 {
			delete(b.jar, c.Name)
		} else {
			b.jar[c.Name] = c.Value
		}
		if !c.HttpOnly || c.SameSite != http.SameSiteStrictMode || c.Path != "/" {
			b.t.Errorf("%s %s sets %v", method, path, c)
		}
	}
	return w
}

// Phrases of nobody, long enough and hard to guess.
const (
	phrase = "seventeen wet gaskets"
	other  = "a lathe sings on monday"
	third  = "purple anvils never sleep"
)

// setUp is a shop with an owner, signed in at a device of the shop.
func setUp(t *testing.T) (site, *browser) {
	t.Helper()
	a := start(t)
	owner := &browser{site{t: t, http: a.http}, map[string]string{}}
	if w := owner.do("POST", "/api/shop-setup", fmt.Sprintf(`{"name":"Ines","passphrase":%q,"device":"Office"}`, phrase)); w.Code != 201 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	return a, owner
}

// joins adds a person, who signs in at a device of the shop and chooses a passphrase.
func joins(t *testing.T, a site, owner *browser, name, role string) *browser {
	t.Helper()
	if w := owner.do("POST", "/api/people", fmt.Sprintf(`{"name":%q,"role":%q,"passphrase":%q}`, name, role, other)); w.Code != 201 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	b := &browser{site{t: t, http: a.http}, map[string]string{"compass-device": owner.jar["compass-device"]}}
	if w := b.do("POST", "/api/session", fmt.Sprintf(`{"name":%q,"passphrase":%q}`, name, other)); w.Code != 200 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	if w := b.do("GET", "/api/cases", ""); w.Code != 403 {
		t.Errorf("an interim passphrase opens cases: %d", w.Code)
	}
	if w := b.do("PUT", "/api/me/passphrase", fmt.Sprintf(`{"old":%q,"passphrase":%q}`, other, third)); w.Code != 204 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	return b
}

// What each may do is asked of every operation, in a shop with one of each: whoever may not is told so before anything else is looked at.
func TestTheTableOfRightsIsKept(t *testing.T) {
	a, owner := setUp(t)
	who := map[people.Role]*browser{people.Owner: owner, "": {site{t: t, http: a.http}, map[string]string{}}}
	for _, r := range people.Roles[1:] {
		who[r] = joins(t, a, owner, "P "+string(r), string(r))
	}
	fill := strings.NewReplacer("{id}", "nobody", "{token}", "t", "{check}", "c", "{cause}", "c", "{word}", "w", "{instrument}", "i", "{measurement}", "m", "{mark}", "m", "{photo}", "p", "{record}", "r", "{kind}", "k", "{entry}", "e", "{passkey}", "p", "{session}", "s", "{decision}", "d")
	asked := 0
	for name, at := range operations(t) {
		if slices.Contains([]string{"listenToEvents", "signOut", "makeSample"}, name) {
			continue // a stream, the end of the session, and what this test has none of
		}
		right, _ := people.RightFor(name)
		for role, b := range who {
			code := b.do(at[0], fill.Replace(at[1]), "{}").Code
			may := right == people.Anyone || slices.Contains(role.Rights(), right)
			refused := code == 401 && role == "" || code == 403 && role != ""
			if right != people.Anyone && may == refused {
				t.Errorf("%s as %q: %d, may: %v", name, role, code, may)
			}
			asked++
		}
	}
	if asked < 600 {
		t.Errorf("only %d were asked", asked)
	}
}

// The table in the docs is the one that is kept.
func TestTheTableOfRightsIsWrittenDown(t *testing.T) {
	text, err := os.ReadFile(filepath.Join("..", "..", "docs", "people.md"))
	if err != nil {
		t.Fatal(err)
	}
	for _, row := range people.Table() {
		if !strings.Contains(string(text), row+"\n") {
			t.Errorf("docs/people.md lacks the row\n%s", row)
		}
	}
}

// A shop that is not set up asks nobody; from the first secret on, everybody signs in, and what is done carries the name.
func TestSettingTheShopUp(t *testing.T) {
	a := start(t)
	if w := a.do("GET", "/api/cases", ""); w.Code != 200 {
		t.Fatalf("%d", w.Code)
	}
	guest := &browser{site{t: t, http: a.http}, map[string]string{}}
	for body, field := range map[string]string{`{"name":"Ines","passphrase":"short","device":"Office"}`: "passphrase", `{"name":"Ines","passphrase":"passwordpassword","device":"Office"}`: "passphrase", `{"name":" ","passphrase":"seventeen wet gaskets","device":"Office"}`: "name"} {
		w := guest.do("POST", "/api/shop-setup", body)
		if w.Code != 422 || *decode[gen.Problem](t, w).Field != field {
			t.Errorf("%s: %d %s", body, w.Code, w.Body)
		}
	}
	id := a.minibus()
	w := guest.do("POST", "/api/shop-setup", fmt.Sprintf(`{"name":"Ines","passphrase":%q,"device":"Office"}`, phrase))
	if s := decode[gen.Session](t, w); w.Code != 201 || !s.Needed || !s.Strong || s.Person == nil || s.Person.Role != "owner" || *s.Device != "Office" {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	if w := a.do("GET", "/api/cases", ""); w.Code != 401 {
		t.Errorf("without a session: %d", w.Code)
	}
	if w := a.do("POST", "/api/shop-setup", fmt.Sprintf(`{"name":"Eve","passphrase":%q,"device":"Hers"}`, other)); w.Code != 409 {
		t.Errorf("set up twice: %d", w.Code)
	}
	if w := guest.do("POST", "/api/cases/"+id+"/readings", `{"readings":[{"finding":"fluid-level","state":"low","source":"seen","by":"Somebody else"}]}`); w.Code != 200 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	trail := decodeCase(t, guest.do("GET", "/api/cases/"+id, "")).Trail
	if got := trail[len(trail)-1].By; got != "Ines" {
		t.Errorf("noted by %q", got)
	}
	page := decode[gen.AuditPage](t, guest.do("GET", "/api/cases/"+id+"/audit", ""))
	if e := page.Entries[0]; e.Name != "Ines" || e.Role != "owner" || e.Device != "Office" || e.Operation != "addReadings" || e.Words != "fluid-level: low" {
		t.Errorf("%+v", e)
	}
}

// An apprentice notes a decision; until somebody else has countersigned it nothing is issued and nothing closed.
func TestAnApprenticesDecisionIsCountersigned(t *testing.T) {
	a := start(t)
	id := a.minibus()
	owner := &browser{site{t: t, http: a.http}, map[string]string{}}
	if w := owner.do("POST", "/api/shop-setup", fmt.Sprintf(`{"name":"Ines","passphrase":%q,"device":"Office"}`, phrase)); w.Code != 201 {
		t.Fatal(w.Body)
	}
	ulf := joins(t, a, owner, "Ulf", "apprentice")
	if w := ulf.do("POST", "/api/cases/"+id+"/decisions", `{"option":"watch","choice":"accepted","how":"in-person"}`); w.Code != 201 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	d := decodeCase(t, owner.do("GET", "/api/cases/"+id, "")).Decisions[0]
	if !d.Waiting || d.By != "Ulf" {
		t.Fatalf("%+v", d)
	}
	for _, at := range [][3]string{{"POST", "/records", `{"work":"x"}`}, {"PUT", "/closing", `{"outcome":"no-fault","root":"","damages":[]}`}} {
		if w := owner.do(at[0], "/api/cases/"+id+at[1], at[2]); w.Code != 409 || !strings.Contains(w.Body.String(), "countersign") {
			t.Errorf("%v: %d %s", at, w.Code, w.Body)
		}
	}
	if w := ulf.do("POST", "/api/cases/"+id+"/decisions/"+d.ID+"/countersign", ""); w.Code != 403 {
		t.Errorf("by the apprentice: %d", w.Code)
	}
	for range 2 { // the second finds nothing to sign
		owner.do("POST", "/api/cases/"+id+"/decisions/"+d.ID+"/countersign", "")
	}
	d = decodeCase(t, owner.do("GET", "/api/cases/"+id, "")).Decisions[0]
	if d.Waiting || d.Countersigned == nil || *d.Countersigned != "Ines" {
		t.Errorf("%+v", d)
	}
	if w := owner.do("POST", "/api/cases/"+id+"/records", `{"work":"Looked at"}`); w.Code != 201 {
		t.Errorf("%d %s", w.Code, w.Body)
	}
}

// What is asked for again and again is slowed down, by name and by PIN alike, whether the name is known or not; the right one counts again afterwards.
func TestGuessingIsSlow(t *testing.T) {
	a, owner := setUp(t)
	now := a.app.Now()
	a.app.Now = func() time.Time { return now }
	guest := &browser{site{t: t, http: a.http}, map[string]string{}}
	for _, name := range []string{"Ines", "Nobody"} {
		for i := range 7 {
			want := 401
			if i >= 5 {
				want = 429
			}
			if w := guest.do("POST", "/api/session", fmt.Sprintf(`{"name":%q,"passphrase":"wrong %d"}`, name, i)); w.Code != want {
				t.Errorf("%s, try %d: %d, want %d", name, i, w.Code, want)
			}
		}
	}
	right := fmt.Sprintf(`{"name":"ines","passphrase":%q}`, phrase)
	if w := guest.do("POST", "/api/session", right); w.Code != 429 {
		t.Errorf("the right one during the wait: %d", w.Code)
	}
	now = now.Add(31e9)
	if w := guest.do("POST", "/api/session", right); w.Code != 200 {
		t.Errorf("the right one after the wait: %d %s", w.Code, w.Body)
	}
	// A PIN counts at a device of the shop alone, and there too it is tried five times.
	if w := owner.do("PUT", "/api/me/pin", `{"pin":"123456"}`); w.Code != 422 {
		t.Errorf("a row as PIN: %d", w.Code)
	}
	if w := owner.do("PUT", "/api/me/pin", `{"pin":"274916"}`); w.Code != 204 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	me := decode[gen.Session](t, owner.do("GET", "/api/session", "")).Person.ID
	if w := guest.do("POST", "/api/session", fmt.Sprintf(`{"person":%q,"pin":"274916"}`, me)); w.Code != 409 {
		t.Errorf("a PIN at a strange device: %d", w.Code)
	}
	tablet := &browser{site{t: t, http: a.http}, map[string]string{"compass-device": owner.jar["compass-device"]}}
	if tiles := decode[gen.Session](t, tablet.do("GET", "/api/session", "")).People; len(tiles) != 1 || tiles[0].Name != "Ines" {
		t.Errorf("%+v", tiles)
	}
	if w := tablet.do("POST", "/api/session", fmt.Sprintf(`{"person":%q,"pin":"274916"}`, me)); w.Code != 200 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	if w := tablet.do("PUT", "/api/settings", `{}`, "If-Match", `"1"`); w.Code != 403 {
		t.Errorf("settings by PIN: %d", w.Code)
	}
	for i := range 6 {
		want := 401
		if i == 5 {
			want = 429
		}
		if w := tablet.do("POST", "/api/session", fmt.Sprintf(`{"person":%q,"pin":"00000%d"}`, me, i)); w.Code != want {
			t.Errorf("PIN %d: %d, want %d", i, w.Code, want)
		}
	}
}

// A session ends by itself, by hand, with the device, and when its person leaves; a copied cookie of another device is nobody's.
func TestSessionsEnd(t *testing.T) {
	a, owner := setUp(t)
	now := a.app.Now()
	a.app.Now = func() time.Time { return now }
	mara := joins(t, a, owner, "Mara", "diagnostician")
	in := func(b *browser) bool { return b.do("GET", "/api/cases", "").Code == 200 }
	again := func() {
		t.Helper()
		mara.jar["compass-device"] = owner.jar["compass-device"]
		if w := mara.do("POST", "/api/session", fmt.Sprintf(`{"name":"Mara","passphrase":%q}`, third)); w.Code != 200 {
			t.Fatalf("%d %s", w.Code, w.Body)
		}
	}
	if !in(mara) {
		t.Fatal("not in")
	}
	stolen := &browser{site{t: t, http: a.http}, map[string]string{"compass-session": mara.jar["compass-session"]}}
	if in(stolen) {
		t.Error("a session of a device of the shop counts at another")
	}
	now = now.Add(29 * 60e9)
	if !in(mara) {
		t.Error("over after 29 minutes")
	}
	now = now.Add(31 * 60e9)
	if in(mara) {
		t.Error("not over after 31 minutes without use")
	}
	again()
	for range 26 {
		now = now.Add(28 * 60e9)
		in(mara)
	}
	if in(mara) {
		t.Error("not over after twelve hours")
	}
	again()
	now = now.Add(-3 * 3600e9) // somebody sets the clock back
	if in(mara) {
		t.Error("a session that begins in the future counts")
	}
	now = now.Add(3 * 3600e9)
	again()
	list := decode[[]gen.OwnSession](t, mara.do("GET", "/api/me/sessions", ""))
	if len(list) == 0 || !list[0].Here {
		t.Fatalf("%+v", list)
	}
	if w := owner.do("POST", "/api/session", fmt.Sprintf(`{"name":"Ines","passphrase":%q}`, phrase)); w.Code != 200 {
		t.Fatal(w.Body)
	}
	if w := owner.do("DELETE", "/api/me/sessions/"+list[0].ID, ""); w.Code != 404 {
		t.Errorf("somebody else's session: %d", w.Code)
	}
	if w := mara.do("DELETE", "/api/me/sessions/"+list[0].ID, ""); w.Code != 204 || in(mara) {
		t.Errorf("ended by hand: %d", w.Code)
	}
	again()
	var staff []gen.PersonDetail
	if err := json.Unmarshal(owner.do("GET", "/api/people", "").Body.Bytes(), &staff); err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(staff, func(p gen.PersonDetail) bool { return p.Name == "Mara" })
	if w := owner.do("PATCH", "/api/people/"+staff[i].ID, `{"leaves":true}`); w.Code != 200 || in(mara) {
		t.Errorf("left: %d", w.Code)
	}
	// The last owner stays.
	k := slices.IndexFunc(staff, func(p gen.PersonDetail) bool { return p.Name == "Ines" })
	for _, body := range []string{`{"leaves":true}`, `{"role":"apprentice"}`} {
		joinsOnce(t, a, owner)
		if w := owner.do("PATCH", "/api/people/"+staff[k].ID, body); w.Code != 409 {
			t.Errorf("%s of the last owner: %d", body, w.Code)
		}
	}
}

// joinsOnce sees to it that somebody besides the owner can sign in.
func joinsOnce(t *testing.T, a site, owner *browser) {
	t.Helper()
	owner.do("POST", "/api/people", fmt.Sprintf(`{"name":"Second","role":"apprentice","passphrase":%q}`, other))
}

// A tablet becomes one of the shop by a code that is good once, for ten minutes, from a device that is one.
func TestADeviceIsAdmittedByACode(t *testing.T) {
	a, owner := setUp(t)
	now := a.app.Now()
	a.app.Now = func() time.Time { return now }
	mara := joins(t, a, owner, "Mara", "diagnostician")
	tablet := &browser{site{t: t, http: a.http}, map[string]string{}}
	if w := tablet.do("POST", "/api/session", fmt.Sprintf(`{"name":"Mara","passphrase":%q}`, third)); w.Code != 200 {
		t.Fatal(w.Body)
	}
	if w := tablet.do("POST", "/api/device-codes", ""); w.Code != 409 {
		t.Errorf("a code from a strange device: %d", w.Code)
	}
	code := func() string { return decode[gen.DeviceCode](t, mara.do("POST", "/api/device-codes", "")).Code }
	old := code()
	now = now.Add(11 * 60e9)
	for what, c := range map[string]string{"an old code": old, "no code": "ABCDEF1234"} {
		if w := tablet.do("POST", "/api/devices", fmt.Sprintf(`{"code":%q,"name":"Bay 2"}`, c)); w.Code != 422 {
			t.Errorf("%s: %d %s", what, w.Code, w.Body)
		}
	}
	good := code()
	if w := tablet.do("POST", "/api/devices", fmt.Sprintf(`{"code":%q,"name":"Bay 2"}`, strings.ToLower(good))); w.Code != 201 || *decode[gen.Session](t, w).Device != "Bay 2" {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	if w := tablet.do("GET", "/api/cases", ""); w.Code != 401 {
		t.Errorf("the session of before goes on: %d", w.Code)
	}
	if w := mara.do("POST", "/api/devices", fmt.Sprintf(`{"code":%q,"name":"Bay 3"}`, good)); w.Code != 422 {
		t.Errorf("the same code twice: %d", w.Code)
	}
}
