package paper_test

import (
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"flag"
	"fmt"
	escape "html"
	"image"
	"image/color"
	"image/jpeg"
	"io/fs"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"innercompass/core/knowledge"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/catalog"
	"innercompass/internal/paper"
	"innercompass/internal/quoting"
	"innercompass/internal/readings"
	"innercompass/internal/records"
	"innercompass/internal/store"
	"innercompass/internal/takein"
	embedded "innercompass/knowledge"
)

var ctx = context.Background()

func content() records.RecordContent {
	at := time.Date(2026, 3, 4, 9, 30, 0, 0, time.UTC)
	return records.RecordContent{Format: records.RecordFormat, Number: "c1-1", At: at, By: "Ines", Shop: "Shop", Address: "Quay 3\nHarbour", Currency: "€", TaxRate: 0.2, Words: "It <slips>", Vehicle: "Van & trailer", UnitName: "Unit",
		Verified:  []records.RecordReading{{Title: "Fluid level", Words: "low", Value: "−4 mm", How: "measured", By: "Ines", At: at}},
		Root:      &records.RecordRoot{Title: "Fluid low", Probability: 0.9999, Sure: "almost certain"},
		Suspects:  []cases.SnapshotSuspect{{Title: "Fluid low", Probability: 0.9999}, {Title: "Pump worn", Probability: 0.0001}},
		Options:   []cases.SnapshotOption{{ID: "a", Title: "Set the level", Pay: 125000, Cured: 0.97, Expected: 1300.5}, {ID: "b", Title: "Watch", Hazard: "It may roll away."}, {ID: "c", Title: "Exchange", Missing: []string{"exchange unit"}}},
		Advised:   "Set the level",
		Decisions: []records.RecordDecision{{Choice: "declined", Title: "Set the level", Pay: 125000, Said: "Too <b>dear</b>", How: "signed", Name: "A. Keeper", Signature: "M10 20L30 40L50 10M80 80L90 90", At: at, Digest: "d"}},
		Cautions:  []string{"It must not be driven as it is."}, Work: "The level was set.", Proof: []records.RecordProof{{Title: "Level", Result: "pass", Note: "2 mm"}},
		Parts: "Shown.", Warranty: "Twelve months.", Glossary: []knowledge.Term{{Term: "pump", Means: "what makes the pressure"}}, Limits: "Judgement."}
}

func none(string) ([]byte, error) { return nil, errors.New("no pictures here") }

func html(t *testing.T, r records.RecordContent, digest string) string {
	t.Helper()
	var b bytes.Buffer
	if err := paper.HTML(ctx, &b, paper.Issued{RecordContent: r, Digest: digest}, none); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

func TestTheRecordSaysWhatWasFoundOfferedAndChosen(t *testing.T) {
	page := html(t, content(), "abc123")
	for _, want := range []string{"It &lt;slips&gt;", "Van &amp; trailer", "Declined: Set the level", "€\u00a01,250.00", "€\u00a01,300.50", "not priced", "measured, Ines", "4 March 2026", "abc123", "Judgement.", "A. Keeper, signed on the screen", "Twelve months.", "It may roll away.", "(advised)", "M10 20L30 40", "Quay 3<br>"} {
		if !strings.Contains(page, want) {
			t.Errorf("the record lacks %q", want)
		}
	}
	for _, bad := range []string{"<slips>", "<b>dear", "<script", "http://", "https://"} {
		if strings.Contains(page, bad) {
			t.Errorf("the record holds %q", bad)
		}
	}
	if draft := html(t, content(), ""); !strings.Contains(draft, "A draft") {
		t.Error("a draft does not say that it is one")
	}
}

// What is not certain is never printed as certain.
func TestDoubtIsNotRoundedAway(t *testing.T) {
	page := html(t, content(), "")
	if strings.Contains(page, "100\u00a0%") || !strings.Contains(page, "over 99\u00a0%") || !strings.Contains(page, "under 1\u00a0%") {
		t.Error("a probability was rounded to certainty")
	}
}

// photos are noisy pictures, which compress worse than any that a camera takes.
func photos(n int) (records.RecordContent, paper.Files) {
	r := content()
	files := map[string][]byte{}
	random := rand.New(rand.NewPCG(1, 2))
	for i := range n {
		img := image.NewRGBA(image.Rect(0, 0, 1600, 1200))
		for y := range 1200 {
			for x := range 1600 {
				if x%4 == 0 {
					img.Set(x, y, color.RGBA{uint8(random.IntN(256)), uint8(x), uint8(y), 255})
				} else {
					img.Set(x, y, img.At(x-1, y))
				}
			}
		}
		var b bytes.Buffer
		if err := jpeg.Encode(&b, img, nil); err != nil {
			panic(err) // an encoder that cannot write to memory
		}
		id := fmt.Sprint(i)
		files[id] = b.Bytes()
		r.Photos = append(r.Photos, records.RecordPhoto{Digest: id, Type: "image/jpeg", Caption: "Picture " + id, Width: 1600, Height: 1200})
	}
	return r, func(digest string) ([]byte, error) { return files[digest], nil }
}

func pdf(t testing.TB, r records.RecordContent, files paper.Files, size string) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := paper.PDF(ctx, &b, paper.Issued{RecordContent: r, Digest: strings.Repeat("a", 64)}, files, size); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// Fonts are inside, text can be selected (each font says which letters its glyphs are), pages have the paper's size, and
// the same record makes the same bytes.
func TestPDFIsWholeInItself(t *testing.T) {
	r, files := photos(2)
	for paper, box := range map[string]string{"A4": "595.28 841.89", "Letter": "612.00 792.00"} {
		one, two := pdf(t, r, files, paper), pdf(t, r, files, paper)
		if !bytes.Equal(one, two) {
			t.Errorf("%s: not the same bytes twice", paper)
		}
		for _, want := range []string{"%PDF-", "/FontFile2", "/ToUnicode", box, "/DCTDecode", "%%EOF"} {
			if !bytes.Contains(one, []byte(want)) {
				t.Errorf("%s: lacks %s", paper, want)
			}
		}
	}
	long := content()
	for i := range 120 {
		long.Verified = append(long.Verified, records.RecordReading{Title: strings.Repeat("A very long finding ", 8), Words: fmt.Sprint(i), How: "seen"})
	}
	if n := bytes.Count(pdf(t, long, none, "A4"), []byte("/Type /Page\n")); n < 6 {
		t.Errorf("a long record has %d pages", n)
	}
	// A picture whose file is gone leaves its place: the record can still be opened, and says so beforehand.
	if gone := pdf(t, r, none, "A4"); bytes.Contains(gone, []byte("/DCTDecode")) {
		t.Error("a picture came from nowhere")
	}
	if page := html(t, r, ""); strings.Count(page, "This picture is missing.") != 2 {
		t.Error("a picture that is missing goes unnoticed")
	}
	if odd, err := paper.Unprintable(r, none); err != nil || len(odd) != 2 || !strings.Contains(odd[0], "is missing") {
		t.Errorf("%v %v", odd, err)
	}
}

// Whatever is written in a name, the PDF opens; what its font does not have stands as a box, and is named before.
func TestWhatCannotBePrintedIsNamedBefore(t *testing.T) {
	r := content()
	r.Customer, r.Vehicle, r.Work = "Zoë 😀 Łukasz", "Ελλάδα и Київ", "Done 完了 שלום"
	if out := pdf(t, r, none, "A4"); !bytes.HasPrefix(out, []byte("%PDF-")) {
		t.Error("no PDF")
	}
	odd, err := paper.Unprintable(r, none)
	want := []string{"完 了 ש ל ו ם in the work is printed as □", "😀 in the name of the customer is printed as □"}
	slices.Sort(want)
	if err != nil || !slices.Equal(odd, want) {
		t.Errorf("%q %v, want %q", odd, err, want)
	}
	if odd, err := paper.Unprintable(content(), none); err != nil || len(odd) != 0 {
		t.Errorf("%q %v", odd, err)
	}
}

// Days are those of the shop, and amounts are written as it writes them: half past midnight in Oslo is the day before in UTC.
func TestDaysAndAmountsAreTheShops(t *testing.T) {
	r := content()
	r.At = time.Date(2026, 3, 3, 23, 30, 0, 0, time.UTC)
	if page := html(t, r, ""); !strings.Contains(page, "3 March 2026") || !strings.Contains(page, "€\u00a01,250.00") {
		t.Error("a record of before the settings says another day or amount")
	}
	r.Zone, r.Numbers = "Europe/Oslo", "1.234,5"
	if page := html(t, r, ""); !strings.Contains(page, "4 March 2026") || !strings.Contains(page, "€\u00a01.250,00") {
		t.Error("the day or the amount is not the shop's")
	}
}

// A PDF with six photos.
func BenchmarkPDFWithSixPhotos(b *testing.B) {
	r, files := photos(6)
	for b.Loop() {
		pdf(b, r, files, "A4")
	}
}

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

// changed is the shipped knowledge with every guide price doubled and one unit sheet rewritten under the same version.
func changed(t *testing.T) *catalog.Catalog {
	t.Helper()
	files := fstest.MapFS{}
	err := fs.WalkDir(embedded.FS, ".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := fs.ReadFile(embedded.FS, path)
		text := string(data)
		if path == "trade/options.yaml" {
			text = strings.NewReplacer("parts: 230", "parts: 460", "Reseal the", "Seal anew the", "hours: 2.4", "hours: 4.8").Replace(text)
		}
		if path == "units/norrad-h4.yaml" {
			text = strings.NewReplacer("name: Norrad H4", "name: Norrad H4 B", "capacity: 10.4 L", "capacity: 12.4 L").Replace(text)
		}
		files[path] = &fstest.MapFile{Data: []byte(text)}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	c, err := catalog.Load(files)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// An issued record, its PDF and its open file come out to the letter after prices, knowledge and unit sheet have changed; so
// does the estimate behind it.
func TestRecordsOutliveWhatTheyRestOn(t *testing.T) {
	know, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	st, err := store.Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = st.Close() })
	s := app.New(st, know)
	v, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Words: "It slips", Vehicle: "Ferry shuttle", Distance: "88 000 mi", UnitID: "norrad-h4"}))
	if err != nil {
		t.Fatal(err)
	}
	id := v.Case.ID
	for _, r := range [][2]string{{"pressure-pattern", "low-DC"}, {"air-check.DC", "piston"}, {"piston-seal.DC", "hard"}} {
		if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: r[0], State: r[1], Source: "measured"}}); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := s.Quoting.Decide(ctx, id, cases.Guard{}, quoting.NewDecision{Option: "pack.DC", Choice: "accepted", AddOns: []string{"external-seals"}}); err != nil {
		t.Fatal(err)
	}
	if v, err = apptest.See(s)(s.Records.Issue(ctx, id, cases.Guard{}, records.NewRecord{By: "Ines"})); err != nil {
		t.Fatal(err)
	}
	issued := v.Case.Records[0].ID
	written := func(s *app.App) (page, print, file, decided string) {
		t.Helper()
		r, kept, err := s.Records.RecordOf(ctx, id, issued)
		if err != nil {
			t.Fatal(err)
		}
		var a, b bytes.Buffer
		one := paper.Issued{RecordContent: r, Digest: kept.Digest}
		if err := errors.Join(paper.HTML(ctx, &a, one, none), paper.PDF(ctx, &b, one, none, "A4")); err != nil {
			t.Fatal(err)
		}
		data, err := paper.JSON(kept.Content, kept.Digest, nil)
		if err != nil {
			t.Fatal(err)
		}
		view, err := s.Overview.View(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		snap, digest, err := s.Quoting.DecisionSnapshot(ctx, id, view.Decisions[0].ID)
		if err != nil {
			t.Fatal(err)
		}
		return a.String(), b.String(), string(data), fmt.Sprintf("%s %+v", digest, *snap.Bill)
	}
	page, print, file, decided := written(s)
	// Prices, rates and tax.
	if _, err := s.Shop.ImportPrices(ctx, "unit,item,price\n*,parts:pack,777\n*,fluid,99\n"); err != nil {
		t.Fatal(err)
	}
	settings, err := st.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	settings.LabourRate, settings.Tax, settings.Currency, settings.Shop = 200, 0.25, "$", "Another"
	if _, err := s.Shop.SaveSettings(ctx, settings); err != nil {
		t.Fatal(err)
	}
	// Knowledge and sheet: another version of the app on the same folder.
	later := app.New(st, changed(t))
	page2, print2, file2, decided2 := written(later)
	if page2 != page || print2 != print || file2 != file || decided2 != decided {
		t.Error("a record changed with what it rested on")
	}
	now, err := later.Records.DraftRecord(ctx, id, records.NewRecord{})
	if err != nil || now.Shop != "Another" {
		t.Errorf("a new record does not say what is now: %q, %v", now.Shop, err)
	}
	if got, err := records.VerifyFile([]byte(file)); err != nil || !got.Whole {
		t.Errorf("the open file does not verify: %+v %v", got, err)
	}
}

var update = flag.Bool("update", false, "write docs/record.schema.json anew")

func TestTheSchemaIsCurrent(t *testing.T) {
	const path = "../../docs/record.schema.json"
	want, err := paper.Schema()
	if err != nil {
		t.Fatal(err)
	}
	if *update {
		if err := os.WriteFile(path, want, 0o644); err != nil {
			t.Fatal(err)
		}
	}
	if got, err := os.ReadFile(path); err != nil || !bytes.Equal(got, want) {
		t.Errorf("%s is not what the types say (%v): go test ./internal/paper -run Schema -update", path, err)
	}
}

// A picture stands the way up that the camera noted (Exif orientation 6: a quarter turn), and nothing else of what it noted
// goes onto the record.
func TestPicturesStandUpright(t *testing.T) {
	var plain bytes.Buffer
	if err := jpeg.Encode(&plain, image.NewGray(image.Rect(0, 0, 60, 20)), nil); err != nil {
		t.Fatal(err)
	}
	// APP1 with one directory of one entry: tag 0x0112, a short, 6.
	exif := append([]byte("Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x06\x00\x00\x00\x00\x00\x00"), "secret place"...)
	turned := append([]byte{0xff, 0xd8, 0xff, 0xe1, byte((len(exif) + 2) >> 8), byte(len(exif) + 2)}, exif...)
	turned = append(turned, plain.Bytes()[2:]...)
	r := content()
	r.Photos = []records.RecordPhoto{{Digest: "x", Caption: "Turned"}}
	var page bytes.Buffer
	if err := paper.HTML(ctx, &page, paper.Issued{RecordContent: r}, func(string) ([]byte, error) { return turned, nil }); err != nil {
		t.Fatal(err)
	}
	_, after, ok := strings.Cut(page.String(), "data:image/jpeg;base64,")
	encoded, _, _ := strings.Cut(after, `"`)
	data, err := base64.StdEncoding.DecodeString(escape.UnescapeString(encoded))
	if !ok || err != nil || bytes.Contains(data, []byte("secret")) {
		t.Fatalf("%v, %v", ok, err)
	}
	if c, err := jpeg.DecodeConfig(bytes.NewReader(data)); err != nil || c.Width != 20 || c.Height != 60 {
		t.Errorf("%d × %d, %v", c.Width, c.Height, err)
	}
}
