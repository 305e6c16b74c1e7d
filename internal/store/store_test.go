package store

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"

	"innercompass/internal/cases"
	"innercompass/internal/floor"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

var ctx = context.Background()

func open1(t *testing.T, dir string) *Store {
	t.Helper()
	s, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	return s
}

// create and add are what the use cases do, without their rules.
func create(s *Store, c cases.Case) error {
	_, err := s.CreateCase(ctx, c, cases.Done{})
	return err
}

func add(s *Store, id string, ch cases.Changes) error {
	_, err := s.Change(ctx, id, cases.Guard{}, func(cases.Held) (cases.Changes, error) { return ch, nil })
	return err
}

func sample(id string) cases.Case {
	return cases.Case{ID: id, Words: "It slips", Vehicle: "Ferry shuttle", UnitID: "norrad-h4", UnitVer: 1, Stage: "complaint", Access: "ground", Opened: time.Now().UTC(), Rev: 1}
}

func TestWhatIsStoredComesBack(t *testing.T) {
	s := open1(t, t.TempDir())
	c := sample("c1")
	c.Readings = []cases.Reading{{ID: "r1", Key: "k1", Finding: "fluid-level", State: "low", Source: "measured", Likelihood: []float64{0.1, 0.9, 0}, At: time.Now().UTC()}}
	if err := create(s, c); err != nil {
		t.Fatal(err)
	}
	if err := add(s, "c1", cases.Changes{Marks: []cases.Mark{{Kind: "skip", Ref: "stall-test", At: time.Now()}}}); err != nil {
		t.Fatal(err)
	}
	got, err := s.Case(ctx, "c1")
	if err != nil || got.Words != c.Words || len(got.Readings) != 1 || got.Readings[0].Likelihood[1] != 0.9 || len(got.Marks) != 1 || got.Rev != 2 {
		t.Fatalf("%+v %v", got, err)
	}
	if err := add(s, "c1", cases.Changes{Unmarked: []cases.Mark{{Kind: "skip", Ref: "stall-test"}}}); err != nil {
		t.Fatal(err)
	}
	if got, _ = s.Case(ctx, "c1"); len(got.Marks) != 0 {
		t.Error("the mark was not taken back")
	}
}

func TestReadingsAndDecisionsCannotBeRewritten(t *testing.T) {
	s := open1(t, t.TempDir())
	c := sample("c1")
	c.Readings = []cases.Reading{{ID: "r1", Key: "k1", Finding: "fluid-level", State: "low", Source: "seen", At: time.Now()}}
	if err := create(s, c); err != nil {
		t.Fatal(err)
	}
	if err := add(s, "c1", cases.Changes{Decision: &cases.Decision{ID: "d1", Option: "x", Choice: "accepted", At: time.Now(), Snapshot: []byte("{}"), Digest: "d"}}); err != nil {
		t.Fatal(err)
	}
	for _, sql := range []string{"UPDATE readings SET state = 'ok'", "DELETE FROM readings", "UPDATE decisions SET choice = 'declined'", "DELETE FROM decisions"} {
		if err := s.write.Exec(sql).Error; err == nil {
			t.Errorf("%s was allowed", sql)
		}
	}
}

func TestARepeatedKeyAddsNothing(t *testing.T) {
	s := open1(t, t.TempDir())
	if err := create(s, sample("c1")); err != nil {
		t.Fatal(err)
	}
	first := []cases.Reading{{ID: "r1", Key: "k", Finding: "f", State: "s", At: time.Now()}}
	again := []cases.Reading{{ID: "r3", Key: "new", Finding: "f", State: "s", At: time.Now()}, {ID: "r2", Key: "k", Finding: "f", State: "s", At: time.Now()}}
	if err := add(s, "c1", cases.Changes{Readings: first}); err != nil {
		t.Fatal(err)
	}
	if err := add(s, "c1", cases.Changes{Readings: again}); !errors.Is(err, problem.ErrRepeated) {
		t.Errorf("repeated key: %v", err)
	}
	if got, _ := s.Case(ctx, "c1"); len(got.Readings) != 1 || got.Rev != 2 {
		t.Errorf("%d readings at revision %d: half of a batch was kept", len(got.Readings), got.Rev)
	}
}

// While a case is held nobody else changes it; what fails leaves it as it was; an unknown case is named.
func TestAChangeHoldsTheCase(t *testing.T) {
	s := open1(t, t.TempDir())
	if err := create(s, sample("c1")); err != nil {
		t.Fatal(err)
	}
	var wg sync.WaitGroup
	for range 20 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			_, err := s.Change(ctx, "c1", cases.Guard{}, func(h cases.Held) (cases.Changes, error) {
				c := h.Case
				c.Bay = fmt.Sprint(c.Rev)
				return cases.Changes{Plain: &c}, nil
			})
			if err != nil {
				t.Error(err)
			}
		}()
	}
	wg.Wait()
	refuse := errors.New("no")
	if _, err := s.Change(ctx, "c1", cases.Guard{}, func(h cases.Held) (cases.Changes, error) {
		return cases.Changes{Plain: &h.Case}, refuse
	}); !errors.Is(err, refuse) {
		t.Errorf("%v", err)
	}
	if c, err := s.Case(ctx, "c1"); err != nil || c.Rev != 21 || c.Bay != "20" {
		t.Errorf("revision %d, bay %s, %v: a change rested on an old case, or one was half done", c.Rev, c.Bay, err)
	}
	var missing *problem.NotFoundError
	if _, err := s.Case(ctx, "nobody"); !errors.As(err, &missing) {
		t.Errorf("unknown case: %v", err)
	}
	if err := add(s, "nobody", cases.Changes{}); !errors.As(err, &missing) {
		t.Errorf("reading for an unknown case: %v", err)
	}
}

func TestOpeningTwiceKeepsEverything(t *testing.T) {
	dir := t.TempDir()
	s := open1(t, dir)
	if err := create(s, sample("c1")); err != nil {
		t.Fatal(err)
	}
	_ = s.Close()
	if all, err := open1(t, dir).Floor(ctx, floor.Query{Limit: 9}); err != nil || len(all.Rows) != 1 || all.Open != 1 {
		t.Fatalf("%+v, %v", all, err)
	}
}

// TestHelperWriter is the process that is killed: it writes readings and says after each that it is saved.
func TestHelperWriter(t *testing.T) {
	dir := os.Getenv("COMPASS_KILL_DIR")
	if dir == "" {
		t.Skip("runs only as the child of TestKillLosesNoSavedReading")
	}
	s, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	if err := create(s, sample("c1")); err != nil {
		t.Fatal(err)
	}
	for i := range 100000 {
		id := fmt.Sprintf("r%d", i)
		if err := add(s, "c1", cases.Changes{Readings: []cases.Reading{{ID: id, Key: id, Finding: "f", State: "s", At: time.Now()}}}); err != nil {
			t.Fatal(err)
		}
		fmt.Println("saved " + id)
	}
}

// kill -9 in the middle of writing: everything that was answered as saved is there, and nothing half done.
func TestKillLosesNoSavedReading(t *testing.T) {
	for round := range 3 {
		dir := t.TempDir()
		child := exec.Command(os.Args[0], "-test.run=TestHelperWriter$", "-test.v")
		child.Env = append(os.Environ(), "COMPASS_KILL_DIR="+dir)
		out, err := child.StdoutPipe()
		if err != nil {
			t.Fatal(err)
		}
		if err := child.Start(); err != nil {
			t.Fatal(err)
		}
		var saved []string
		lines := bufio.NewScanner(out)
		for lines.Scan() {
			if id, ok := strings.CutPrefix(lines.Text(), "saved "); ok {
				saved = append(saved, id)
			}
			if len(saved) == 20+17*round {
				if err := child.Process.Kill(); err != nil {
					t.Fatal(err)
				}
				break
			}
		}
		for lines.Scan() { // what was still in the pipe was also answered
			if id, ok := strings.CutPrefix(lines.Text(), "saved "); ok {
				saved = append(saved, id)
			}
		}
		_ = child.Wait()
		if len(saved) < 20 {
			t.Fatalf("only %d readings were saved before the kill", len(saved))
		}
		c, err := open1(t, dir).Case(ctx, "c1")
		if err != nil {
			t.Fatal(err)
		}
		have := map[string]bool{}
		for i, r := range c.Readings {
			have[r.ID] = true
			if r.Seq != i+1 {
				t.Errorf("reading %s has place %d, want %d", r.ID, r.Seq, i+1)
			}
		}
		for _, id := range saved {
			if !have[id] {
				t.Errorf("%s was answered as saved and is lost", id)
			}
		}
		if c.Rev != 1+len(c.Readings) {
			t.Errorf("revision %d with %d readings: a change was half done", c.Rev, len(c.Readings))
		}
	}
}

// A folder of before had what was typed into an instrument in the note of its reading: it becomes a measurement.
func TestNotesOfInstrumentsBecomeMeasurements(t *testing.T) {
	dir := t.TempDir()
	db, err := open(filepath.Join(dir, database), "&_txlock=immediate", 1)
	if err != nil {
		t.Fatal(err)
	}
	m := gormigrate.New(db, gormigrate.DefaultOptions, migrations)
	if err := m.MigrateTo("0003-gauges"); err != nil {
		t.Fatal(err)
	}
	if err := db.Exec(`INSERT INTO cases VALUES ('c1', 'It slips', 'Van', '', '', 'norrad-h4', 1, 'checks', 'ground', '', '', '', ?, NULL, '', '', 1)`, time.Now()).Error; err != nil {
		t.Fatal(err)
	}
	for i, note := range []string{`measured window:end-play {"value":"1.4 mm"}`, "measured by eye"} {
		if err := db.Exec(`INSERT INTO readings (id, case_id, seq, key, finding, state, source, stage, check_id, value, note, likelihood, person, at, withdraws)
			VALUES (?, 'c1', ?, ?, 'end-play', 'above', 'measured', 'checks', '', '1.4 mm', ?, '', 'Tobin', ?, '')`, fmt.Sprint("r", i), i+1, fmt.Sprint("k", i), note, time.Now()).Error; err != nil {
			t.Fatal(err)
		}
	}
	sqlDB, err := db.DB()
	if err != nil {
		t.Fatal(err)
	}
	if err := sqlDB.Close(); err != nil {
		t.Fatal(err)
	}
	c, err := open1(t, dir).Case(ctx, "c1")
	if err != nil || len(c.Measurements) != 1 || c.Measurements[0].Instrument != "window:end-play" || c.Measurements[0].Values["value"] != "1.4 mm" {
		t.Fatalf("%v %+v", err, c.Measurements)
	}
	if c.Readings[0].Measurement != c.Measurements[0].ID || c.Readings[0].Note != "" || c.Readings[1].Note != "measured by eye" || c.Readings[1].Measurement != "" {
		t.Errorf("%+v", c.Readings)
	}
}

// A measurement is stored with its readings or not at all, and never rewritten.
func TestAMeasurementIsAddedWithItsReadings(t *testing.T) {
	s := open1(t, t.TempDir())
	if err := create(s, sample("c1")); err != nil {
		t.Fatal(err)
	}
	m := cases.Measurement{ID: "m1", Key: "k1", Instrument: "orifice", Values: map[string]string{"diameter": "1.5 mm"}, At: time.Now().UTC()}
	r := cases.Reading{ID: "r1", Key: "k2", Finding: "fluid-level", State: "low", Source: "measured", At: time.Now().UTC(), Measurement: "m1"}
	if err := add(s, "c1", cases.Changes{Measurements: []cases.Measurement{m}, Readings: []cases.Reading{r}}); err != nil {
		t.Fatal(err)
	}
	if err := add(s, "c1", cases.Changes{Measurements: []cases.Measurement{m}}); !errors.Is(err, problem.ErrRepeated) {
		t.Errorf("the same key again: %v", err)
	}
	m.ID, m.Key = "m2", "k3"
	if err := add(s, "c1", cases.Changes{Measurements: []cases.Measurement{m}, Readings: []cases.Reading{r}}); err == nil {
		t.Error("a reading was stored twice")
	}
	c, err := s.Case(ctx, "c1")
	if err != nil || len(c.Measurements) != 1 || c.Measurements[0].Values["diameter"] != "1.5 mm" || len(c.Readings) != 1 || c.Readings[0].Measurement != "m1" {
		t.Errorf("%v %+v %+v", err, c.Measurements, c.Readings)
	}
	for _, sql := range []string{"UPDATE measurements SET value = 'x'", "DELETE FROM measurements", "UPDATE readings SET note = 'x'"} {
		if err := s.write.Exec(sql).Error; err == nil {
			t.Errorf("%s was allowed", sql)
		}
	}
}

// What was put before a customer and what was issued is history; prices are replaced whole; an estimate is answered once.
func TestEstimatesRecordsAndPrices(t *testing.T) {
	s := open1(t, t.TempDir())
	if err := create(s, sample("c1")); err != nil {
		t.Fatal(err)
	}
	now := time.Now().UTC().Truncate(time.Millisecond)
	if err := add(s, "c1", cases.Changes{Estimate: &cases.Estimate{ID: "o1", Token: "tok", At: now, Expires: now.Add(time.Hour), Snapshot: []byte("{}"), Digest: "d"}}); err != nil {
		t.Fatal(err)
	}
	if err := add(s, "c1", cases.Changes{Record: &cases.Record{ID: "e1", At: now, Content: []byte("{}"), Digest: "dd"}}); err != nil {
		t.Fatal(err)
	}
	held, err := s.Case(ctx, "c1")
	if err != nil || len(held.Estimates[0].Token) != 24 {
		t.Fatalf("%v: the link %q", err, held.Estimates[0].Token)
	}
	for _, find := range []func() (string, error){func() (string, error) { return s.EstimateCase(ctx, held.Estimates[0].Token) }, func() (string, error) { id, _, err := s.RecordOf(ctx, "dd"); return id, err }} {
		if id, err := find(); err != nil || id != "c1" {
			t.Errorf("%q %v", id, err)
		}
	}
	if _, err := s.EstimateCase(ctx, "no"); !errors.Is(err, problem.ErrNotFound) {
		t.Errorf("%v", err)
	}
	for i, refused := range []bool{false, true} {
		if err := add(s, "c1", cases.Changes{Decision: &cases.Decision{ID: fmt.Sprint("d", i), Estimate: "o1", Choice: "accepted", At: now, Snapshot: []byte("{}")}}); (err != nil) != refused {
			t.Errorf("answer %d: %v", i, err)
		}
	}
	c, err := s.Case(ctx, "c1")
	if err != nil || len(c.Estimates) != 1 || !c.Estimates[0].Expires.Equal(now.Add(time.Hour)) || len(c.Records) != 1 || len(c.Decisions) != 1 || c.Decisions[0].Estimate != "o1" {
		t.Errorf("%v %+v", err, c)
	}
	for _, sql := range []string{"UPDATE estimates SET expires = 0", "DELETE FROM estimates", "UPDATE records SET digest = 'x'", "DELETE FROM records"} {
		if err := s.write.Exec(sql).Error; err == nil {
			t.Errorf("%s was allowed", sql)
		}
	}
	book := shop.Book{{Unit: "*", Item: "fluid", Amount: 950}, {Unit: "u", Item: "hours:pump", Hours: 1.5, Note: "n"}}
	fine := func(shop.Book) error { return nil }
	if err := s.SavePrices(ctx, book, fine); err != nil {
		t.Fatal(err)
	}
	refuse := errors.New("no")
	if err := s.SavePrices(ctx, nil, func(now shop.Book) error {
		if !slices.Equal(now, book) {
			t.Errorf("%+v", now)
		}
		return refuse
	}); !errors.Is(err, refuse) {
		t.Errorf("%v", err)
	}
	if got, err := s.Prices(ctx); err != nil || !slices.Equal(got, book) {
		t.Errorf("%+v %v", got, err)
	}
	if err := s.SavePrices(ctx, nil, fine); err != nil {
		t.Fatal(err)
	}
	if got, err := s.Prices(ctx); err != nil || len(got) != 0 {
		t.Errorf("%+v %v", got, err)
	}
	for _, name := range []string{"../compass.db", strings.Repeat("a", 64)} {
		if _, err := s.File(ctx, name); !errors.Is(err, problem.ErrNotFound) {
			t.Errorf("file %q: %v", name, err)
		}
	}
}
