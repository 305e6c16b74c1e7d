package store

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"innercompass/internal/audit"
	"innercompass/internal/cases"
	"innercompass/internal/people"
)

// kept is a folder with a bit of everything that the trail covers.
func kept(t *testing.T) *Store {
	t.Helper()
	s := open1(t, t.TempDir())
	ines := people.With(ctx, people.Actor{Needed: true, ID: "p1", Name: "Ines", Role: people.Owner, Operation: "takeIn", Request: "r1"})
	if _, err := s.CreateCase(ines, sample("c1"), cases.Done{}); err != nil {
		t.Fatal(err)
	}
	now := time.Now().UTC().Truncate(time.Millisecond)
	for _, ch := range []cases.Changes{
		{Readings: []cases.Reading{{ID: "r1", Key: "k1", Finding: "fluid-level", State: "low", Source: "seen", At: now}, {ID: "r2", Key: "k2", Finding: "burnt-smell", State: "yes", Source: "seen", At: now}}},
		{Estimate: &cases.Estimate{ID: "o1", At: now, Expires: now.Add(time.Hour), Snapshot: []byte("{}"), Digest: "d"}},
		{Decision: &cases.Decision{ID: "d1", Option: "watch", Choice: "accepted", At: now, Snapshot: []byte("{}"), Digest: "e"}},
		{Record: &cases.Record{ID: "e1", At: now, Content: []byte("{}"), Digest: digest("{}")}},
		{Proofs: []cases.Proof{{Item: "drive", Result: "pass", At: now}}},
	} {
		if _, err := s.Change(ines, "c1", cases.Guard{}, func(cases.Held) (cases.Changes, error) { return ch, nil }); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.SavePerson(ines, people.Person{ID: "p1", Name: "Ines", Role: people.Owner, Passphrase: "x"}, "joins", func([]people.Person) error { return nil }, ""); err != nil {
		t.Fatal(err)
	}
	picture := []byte("a picture")
	if err := s.PutFile(ctx, digest(string(picture)), picture); err != nil {
		t.Fatal(err)
	}
	if err := s.KeepHead(ctx); err != nil {
		t.Fatal(err)
	}
	return s
}

func report(t *testing.T, s *Store) audit.Report {
	t.Helper()
	r, err := s.Trail(ctx)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// Whoever writes into the database itself, past its guards, is found: by the row that is not as it was.
func TestWhatIsWrittenPastTheAppIsFound(t *testing.T) {
	if r := report(t, kept(t)); len(r.Wrong) > 0 || r.Entries < 8 || r.Rows < 8 || r.Records != 1 || r.Pictures != 1 {
		t.Fatalf("%+v", r)
	}
	for sql, says := range map[string]string{
		"UPDATE readings SET state = 'ok' WHERE id = 'r1'":   "readings r1 does not stand",
		"UPDATE readings SET person = 'Eve' WHERE id = 'r2'": "readings r2 does not stand",
		"DELETE FROM readings WHERE id = 'r2'":               "readings r2 is gone",
		"INSERT INTO readings SELECT 'r9', case_id, 99, 'k9', finding, state, source, stage, check_id, value, note, likelihood, person, at, withdraws, measurement FROM readings WHERE id = 'r1'": "readings r9 stands beside",
		"UPDATE cases SET root = 'pump-worn'":                                  "cases c1 does not stand",
		"UPDATE decisions SET choice = 'declined'":                             "decisions d1 does not stand",
		"UPDATE estimates SET expires = '2099-01-01 00:00:00+00:00'":           "estimates o1 does not stand",
		"UPDATE records SET content = '{ }', digest = '" + digest("{ }") + "'": "record e1 of case c1 has no signature",
		"UPDATE proofs SET result = 'fail'":                                    "proofs c1 drive does not stand",
		"UPDATE people SET role = 'apprentice'":                                "people p1 does not stand",
		"UPDATE audit SET name = 'Eve' WHERE seq = 3":                          "entry 3 was altered",
		"UPDATE audit SET at = '2020-01-01T00:00:00Z' WHERE seq = 3":           "entry 3 was altered",
		"DELETE FROM audit WHERE seq = 3":                                      "1 are missing",
		"DELETE FROM audit WHERE seq > (SELECT MAX(seq) - 2 FROM audit)":       "its end was cut off",
	} {
		s := kept(t)
		for _, trigger := range []string{"readings_append_only", "readings_kept", "decisions_frozen", "estimates_frozen", "records_frozen", "audit_append_only", "audit_kept"} {
			if err := s.write.Exec("DROP TRIGGER " + trigger).Error; err != nil {
				t.Fatal(err)
			}
		}
		if err := s.write.Exec(sql).Error; err != nil {
			t.Fatalf("%s: %v", sql, err)
		}
		if all := strings.Join(report(t, s).Wrong, "\n"); !strings.Contains(all, says) {
			t.Errorf("%s: %q, want %q", sql, all, says)
		}
	}
}

// A trail that somebody wrote again from the middle on, with every hash right, is not the one whose end was noted.
func TestATrailThatWasWrittenAgainIsFound(t *testing.T) {
	s := kept(t)
	for _, trigger := range []string{"audit_append_only", "audit_kept"} {
		if err := s.write.Exec("DROP TRIGGER " + trigger).Error; err != nil {
			t.Fatal(err)
		}
	}
	all, err := s.Audit(ctx, audit.Query{Limit: 100})
	if err != nil {
		t.Fatal(err)
	}
	prev := all[len(all)-2].Hash
	for i := len(all) - 3; i >= 0; i-- { // from the third entry on
		e := all[i]
		e.Name, e.Prev = "Eve", prev
		if e.Hash, err = e.Sum(); err != nil {
			t.Fatal(err)
		}
		prev = e.Hash
		if err := s.write.Exec("UPDATE audit SET name = ?, prev = ?, hash = ? WHERE seq = ?", e.Name, e.Prev, e.Hash, e.Seq).Error; err != nil {
			t.Fatal(err)
		}
	}
	if wrong := strings.Join(report(t, s).Wrong, "\n"); !strings.Contains(wrong, "written again") || strings.Contains(wrong, "altered") {
		t.Errorf("%q", wrong)
	}
}

// Damaged and missing pictures are named; so is a head that cannot be read.
func TestDamagedFilesAreFound(t *testing.T) {
	s := kept(t)
	name := digest("a picture")
	if err := os.WriteFile(filepath.Join(s.files, name), []byte("another"), 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(filepath.Dir(s.path), headFile), []byte("{"), 0o600); err != nil {
		t.Fatal(err)
	}
	wrong := strings.Join(report(t, s).Wrong, "\n")
	for _, says := range []string{name + " is damaged", headFile + " cannot be read"} {
		if !strings.Contains(wrong, says) {
			t.Errorf("%q lacks %q", wrong, says)
		}
	}
}

// The trail is written with the change or not at all; what fails leaves no entry, and what computes only leaves none.
func TestNoEntryWithoutAChange(t *testing.T) {
	s := kept(t)
	before := report(t, s).Entries
	_, err := s.Change(ctx, "c1", cases.Guard{}, func(cases.Held) (cases.Changes, error) {
		return cases.Changes{Readings: []cases.Reading{{ID: "r1", Key: "other", Finding: "f", State: "s", At: time.Now()}}}, nil // an id that is taken
	})
	if err == nil {
		t.Fatal("a reading twice")
	}
	if _, err := s.Change(ctx, "c1", cases.Guard{}, func(cases.Held) (cases.Changes, error) { return cases.Changes{}, nil }); err != nil {
		t.Fatal(err)
	}
	if now := report(t, s); now.Entries != before || len(now.Wrong) > 0 {
		t.Errorf("%d entries, %d before: %v", now.Entries, before, now.Wrong)
	}
}

// A folder from before the trail is taken into it as it stands.
func TestTheTrailBeginsWithWhatIsThere(t *testing.T) {
	dir := t.TempDir()
	s := open1(t, dir)
	if err := create(s, sample("c1")); err != nil {
		t.Fatal(err)
	}
	for _, sql := range []string{"DROP TRIGGER audit_kept", "DELETE FROM audit"} {
		if err := s.write.Exec(sql).Error; err != nil {
			t.Fatal(err)
		}
	}
	if err := os.Remove(filepath.Join(dir, headFile)); err != nil && !os.IsNotExist(err) {
		t.Fatal(err)
	}
	if err := s.beginTrail(context.Background()); err != nil {
		t.Fatal(err)
	}
	if r := report(t, s); len(r.Wrong) > 0 || r.Rows == 0 {
		t.Errorf("%+v", r)
	}
}

// Links in a database of before are kept as hashes from the upgrade on, and go on working.
func TestOldLinksGoOnAsHashes(t *testing.T) {
	s := kept(t)
	const old = "an-old-link-of-24-letter"
	for _, sql := range []string{"DROP TRIGGER estimates_frozen", "UPDATE estimates SET token = '" + old + "'"} {
		if err := s.write.Exec(sql).Error; err != nil {
			t.Fatal(err)
		}
	}
	for range 2 { // a step that is cut off runs again
		if err := hashLinks(s.write); err != nil {
			t.Fatal(err)
		}
	}
	if id, err := s.EstimateCase(ctx, old); err != nil || id != "c1" {
		t.Errorf("%q, %v", id, err)
	}
	c, err := s.Case(ctx, "c1")
	if err != nil || c.Estimates[0].Token != "" || c.Estimates[0].TokenHash != digest(old) {
		t.Errorf("%v %+v", err, c.Estimates[0])
	}
}

// A link that was over once is over, whatever the clock says later.
func TestAnEndedLinkStaysEnded(t *testing.T) {
	s := kept(t)
	at := time.Now().UTC()
	for _, later := range []time.Duration{time.Minute, 2 * time.Hour, -24 * time.Hour} {
		if err := s.EndLinks(ctx, at.Add(later)); err != nil {
			t.Fatal(err)
		}
		c, err := s.Case(ctx, "c1")
		if err != nil {
			t.Fatal(err)
		}
		if want := later != time.Minute; c.Estimates[0].Ended != want {
			t.Errorf("after %v: ended %v", later, c.Estimates[0].Ended)
		}
	}
}
