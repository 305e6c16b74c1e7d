package httpapi_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"innercompass/internal/httpapi/gen"
)

// A customer who asks gets all that is held of them, and is forgotten on request: the name stands nowhere in the folder any more, neither in notes, snapshots nor
// records; these are kept, and are still confirmed. What is worked on is not taken away from under the work.
func TestACustomerIsForgotten(t *testing.T) {
	a := start(t)
	const name = "Zelda Quickwater"
	made := decodeCase(t, a.do("POST", "/api/cases", `{"words":"Zelda says it slips","vehicle":"Van QW 1234","customer":"`+name+`","unit":"norrad-h4"}`))
	at := "/api/cases/" + made.ID
	var picture bytes.Buffer
	if err := jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 40, 30)), nil); err != nil {
		t.Fatal(err)
	}
	for _, w := range []struct {
		path, body string
		code       int
	}{
		{"/readings", `{"readings":[{"finding":"fluid-level","state":"low","source":"customer","note":"told by mrs quickwater on the phone"}]}`, 200},
		{"/decisions", `{"option":"watch","choice":"declined","how":"signed","name":"` + name + `","signature":"M10 20L30 40","words":"Quickwater waits"}`, 201},
		{"/records", `{"work":"Looked at for Zelda"}`, 201},
	} {
		if got := a.do("POST", at+w.path, w.body); got.Code != w.code {
			t.Fatalf("%s: %d %s", w.path, got.Code, got.Body)
		}
	}
	if w := a.photo(made.ID, "Zelda beside her van", picture.Bytes()); w.Code != 201 {
		t.Fatal(w.Body)
	}
	erase := fmt.Sprintf(`{"customer":%q,"why":"asked by letter"}`, name)
	if w := a.do("POST", "/api/erasures", erase); w.Code != 409 {
		t.Errorf("an open case: %d %s", w.Code, w.Body)
	}
	if w := a.do("PUT", at+"/closing", `{"outcome":"declined"}`); w.Code != 200 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	found := decode[[]gen.Subject](t, a.do("POST", "/api/customers", `{"q":"quick"}`))
	if len(found) != 1 || found[0].Customer != name || len(found[0].Cases) != 1 || len(found[0].Cases[0].Records) != 1 || found[0].Cases[0].Pictures != 1 {
		t.Fatalf("%+v", found)
	}
	w := a.do("POST", "/api/customer-archive", `{"customer":"`+name+`"}`)
	z, err := zip.NewReader(bytes.NewReader(w.Body.Bytes()), int64(w.Body.Len()))
	if err != nil {
		t.Fatal(err)
	}
	have := map[string]bool{}
	for _, f := range z.File {
		have[filepath.Ext(f.Name)] = true
	}
	if !have[".json"] || !have[".pdf"] || !have[".html"] || !have[".jpg"] {
		t.Errorf("%v", have)
	}
	if w := a.do("POST", "/api/customer-archive", `{"customer":"nobody"}`); w.Code != 404 {
		t.Errorf("of nobody: %d", w.Code)
	}
	done := decode[gen.Erased](t, a.do("POST", "/api/erasures", erase))
	if done.Cases != 1 || len(done.Records) != 1 || done.Pictures != 1 {
		t.Errorf("%+v", done)
	}
	now := decodeCase(t, a.do("GET", at, ""))
	digest := now.Records[0].Digest
	if v := decode[gen.Verified](t, a.do("POST", "/api/verifications", fmt.Sprintf(`{"digest":%q}`, digest))); !v.Genuine {
		t.Errorf("the record is no longer confirmed: %+v", v)
	}
	for _, form := range []string{"page", "pdf", "file"} {
		if w := a.do("GET", at+"/records/"+now.Records[0].ID+"/"+form, ""); w.Code != 200 || bytes.Contains(w.Body.Bytes(), []byte("Quickwater")) {
			t.Errorf("%s: %d", form, w.Code)
		}
	}
	report, err := a.app.Store.Trail(t.Context())
	if err != nil || len(report.Wrong) > 0 {
		t.Errorf("%v %v", err, report.Wrong)
	}
	// Nothing is left in any file, also not in what the database has let go of.
	dir := a.app.Store.Dir()
	if err := a.close(); err != nil {
		t.Fatal(err)
	}
	err = filepath.WalkDir(dir, func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := os.ReadFile(path)
		for _, word := range []string{"Quickwater", "quickwater", "Zelda", "zelda", "QW 1234"} {
			if bytes.Contains(data, []byte(word)) {
				t.Errorf("%q stands in %s", word, filepath.Base(path))
			}
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
}

// Names go by themselves when their time is over, and not before; pictures by a time of their own.
func TestTimesOfTheShop(t *testing.T) {
	a := start(t)
	made := decodeCase(t, a.do("POST", "/api/cases", `{"words":"x","vehicle":"y","customer":"Zelda Quickwater","unit":"norrad-h4"}`))
	if w := a.do("PUT", "/api/cases/"+made.ID+"/closing", `{"outcome":"declined"}`); w.Code != 200 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	if w := a.do("PUT", "/api/privacy", `{"names":-1,"pictures":0}`, "If-Match", `"0"`); w.Code != 422 {
		t.Errorf("%d", w.Code)
	}
	if w := a.do("PUT", "/api/privacy", `{"names":3,"pictures":1}`, "If-Match", `"0"`); w.Code != 200 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	if w := a.do("PUT", "/api/privacy", `{"names":5,"pictures":1}`, "If-Match", `"0"`); w.Code != 412 {
		t.Errorf("behind somebody's back: %d", w.Code)
	}
	now := a.app.Now()
	for _, c := range []struct {
		years int
		want  string
	}{{2, "Zelda Quickwater"}, {4, "[removed]"}} {
		a.app.Privacy.Now = func() time.Time { return now.AddDate(c.years, 0, 0) }
		if _, err := a.app.Privacy.Tidy(t.Context()); err != nil {
			t.Fatal(err)
		}
		if got := decodeCase(t, a.do("GET", "/api/cases/"+made.ID, "")).Customer; got != c.want {
			t.Errorf("after %d years: %q", c.years, got)
		}
	}
}

// Where a picture was taken stands in it as the phone writes it; nothing of that is kept.
func TestPicturesLoseTheirPosition(t *testing.T) {
	a := start(t)
	var plain bytes.Buffer
	if err := jpeg.Encode(&plain, image.NewGray(image.Rect(0, 0, 40, 30)), nil); err != nil {
		t.Fatal(err)
	}
	// An APP1 segment as EXIF has it (JEITA CP-3451, 4.5.4), with a marker text in place of the position.
	exif := append([]byte("Exif\x00\x00II*\x00\x08\x00\x00\x00\x00\x00\x00\x00\x00\x00"), "GPS-59.123-10.456"...)
	segment := append([]byte{0xff, 0xe1, byte((len(exif) + 2) >> 8), byte(len(exif) + 2)}, exif...)
	tagged := append(append(bytes.Clone(plain.Bytes()[:2]), segment...), plain.Bytes()[2:]...)
	id := a.minibus()
	w := a.photo(id, "", tagged)
	if w.Code != 201 {
		t.Fatalf("%d %s", w.Code, w.Body)
	}
	photos := decodeCase(t, a.do("GET", "/api/cases/"+id, "")).Photos
	kept := a.do("GET", "/api/cases/"+id+"/photos/"+photos[len(photos)-1].ID, "")
	if data, err := io.ReadAll(kept.Body); err != nil || len(data) == 0 || bytes.Contains(data, []byte("GPS-59")) || bytes.Contains(data, []byte("Exif")) {
		t.Errorf("%v: the position is kept", err)
	}
	if !strings.Contains(string(tagged), "GPS-59") {
		t.Fatal("this test proves nothing")
	}
}
