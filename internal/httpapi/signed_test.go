package httpapi_test

import (
	"bytes"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"innercompass/internal/httpapi/gen"
)

// verified asks the shop about a document.
func verified(t *testing.T, a site, document []byte) (gen.Verified, int) {
	t.Helper()
	w := a.do("POST", "/api/verifications", fmt.Sprintf(`{"document":%q}`, base64.StdEncoding.EncodeToString(document)))
	if w.Code != 200 {
		return gen.Verified{}, w.Code
	}
	return decode[gen.Verified](t, w), 200
}

// Page, PDF and file of a record carry the shop's signature; with anything in them changed, or signed by somebody else, they are not genuine; after another key
// has begun, what the old one signed still is.
func TestARecordIsGenuineInEveryForm(t *testing.T) {
	a, elsewhere := start(t), start(t)
	if w := elsewhere.do("POST", "/api/shop-key", ""); w.Code != 201 { // both come from one folder: another key makes it another shop's
		t.Fatal(w.Body)
	}
	issued := func(s site) map[string][]byte {
		t.Helper()
		made := decodeCase(t, s.do("POST", "/api/cases/"+s.minibus()+"/records", `{"work":"Seal of the pump renewed for 100"}`))
		r := made.Records[len(made.Records)-1].ID
		out := map[string][]byte{}
		for _, form := range []string{"page", "pdf", "file"} {
			w := s.do("GET", "/api/cases/"+s.minibus()+"/records/"+r+"/"+form, "")
			if w.Code != 200 {
				t.Fatalf("%s: %d", form, w.Code)
			}
			out[form] = bytes.Clone(w.Body.Bytes())
		}
		return out
	}
	mine, hers := issued(a), issued(elsewhere)
	for form, data := range mine {
		if v, code := verified(t, a, data); code != 200 || !v.Genuine || !strings.HasPrefix(v.Says, "Genuine") {
			t.Errorf("%s: %d %+v", form, code, v)
		}
		if v, code := verified(t, a, hers[form]); code != 200 || v.Genuine {
			t.Errorf("%s of another shop: %d %+v", form, code, v)
		}
		spoilt := bytes.Replace(data, []byte("100"), []byte("900"), 1)
		if form == "pdf" { // its text is packed: any byte will do
			spoilt = bytes.Clone(data)
			spoilt[len(spoilt)/2] ^= 1
		}
		if v, code := verified(t, a, spoilt); code != 200 || v.Genuine || !strings.HasPrefix(v.Says, "Not genuine") {
			t.Errorf("%s, changed: %d %+v", form, code, v)
		}
	}
	// A file with another content and the digest of that, but the signature of before.
	var f map[string]json.RawMessage
	if err := json.Unmarshal(mine["file"], &f); err != nil {
		t.Fatal(err)
	}
	var theirs map[string]json.RawMessage
	if err := json.Unmarshal(hers["file"], &theirs); err != nil {
		t.Fatal(err)
	}
	theirs["signature"] = f["signature"]
	forged, err := json.Marshal(theirs)
	if err != nil {
		t.Fatal(err)
	}
	if v, _ := verified(t, a, forged); v.Genuine {
		t.Errorf("a strange content under the shop's signature: %+v", v)
	}
	delete(theirs, "signature")
	unsigned, _ := json.Marshal(theirs)
	if v, _ := verified(t, a, unsigned); v.Genuine || !strings.Contains(v.Says, "no signature") {
		t.Errorf("without a signature: %+v", v)
	}
	before := decode[gen.ShopKeys](t, a.do("GET", "/api/shop-key", ""))
	after := decode[gen.ShopKeys](t, a.do("POST", "/api/shop-key", ""))
	if len(after.Keys) != 2 || after.Keys[0].ID == before.Keys[0].ID || after.Keys[1].ID != before.Keys[0].ID || after.Keys[1].Until == nil {
		t.Errorf("%+v", after)
	}
	for form, data := range mine {
		if v, _ := verified(t, a, data); !v.Genuine {
			t.Errorf("%s, signed with the key before: %+v", form, v)
		}
	}
	if v, _ := verified(t, a, issued(a)["pdf"]); !v.Genuine {
		t.Errorf("signed with the key of now: %+v", v)
	}
	if _, code := verified(t, a, []byte("<p>hello</p>")); code != 422 {
		t.Errorf("a page without a signature: %d", code)
	}
}
