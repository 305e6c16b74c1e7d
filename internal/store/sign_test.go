package store

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"innercompass/internal/cases"
)

func signedNow(t *testing.T, s *Store, digest string) bool {
	t.Helper()
	_, signed, err := s.RecordOf(ctx, digest)
	if err != nil {
		t.Fatal(err)
	}
	return signed
}

// rewrite changes the tables as somebody does who has the database but not the key.
func rewrite(t *testing.T, dir string, statements ...string) {
	t.Helper()
	db, err := open(filepath.Join(dir, database), "&_txlock=immediate", 1)
	if err != nil {
		t.Fatal(err)
	}
	for _, sql := range statements {
		if err := db.Exec(sql).Error; err != nil {
			t.Fatalf("%s: %v", sql, err)
		}
	}
	if err := closeDB(db); err != nil {
		t.Fatal(err)
	}
}

// Who changes a record in the database, with its digest, or puts one in, cannot sign it.
func TestARecordThatIsChangedWithItsDigestHasNoSignature(t *testing.T) {
	dir := t.TempDir()
	s := open1(t, dir)
	if err := create(s, sample("c1")); err != nil {
		t.Fatal(err)
	}
	for _, r := range []cases.Record{{ID: "e1", Content: []byte("{}"), Digest: "d1"}, {ID: "e2", Content: []byte("{}"), Digest: "d2"}} {
		r.At = time.Now().UTC()
		if err := add(s, "c1", cases.Changes{Record: &r}); err != nil {
			t.Fatal(err)
		}
		if !signedNow(t, s, r.Digest) {
			t.Errorf("%s was issued without a signature", r.ID)
		}
	}
	for _, sql := range []string{"UPDATE signatures SET signature = x'00'", "DELETE FROM signatures"} {
		if err := s.write.Exec(sql).Error; err == nil {
			t.Errorf("%s was allowed", sql)
		}
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	rewrite(t, dir,
		`DROP TRIGGER records_frozen`, `DROP TRIGGER signatures_kept`, `DROP TRIGGER signatures_frozen`,
		`UPDATE records SET content = '{"work":"more"}', digest = 'forged' WHERE id = 'e1'`,
		// Put in with the signature of another.
		`INSERT INTO records (id, case_id, seq, amends, why, person, at, content, digest) SELECT 'e3', case_id, 9, amends, why, person, at, content, 'd3' FROM records WHERE id = 'e2'`,
		`INSERT INTO signatures (record_id, key_id, signature) SELECT 'e3', key_id, signature FROM signatures WHERE record_id = 'e2'`,
		// Put in without one.
		`INSERT INTO records (id, case_id, seq, amends, why, person, at, content, digest) SELECT 'e4', case_id, 10, amends, why, person, at, content, 'd4' FROM records WHERE id = 'e2'`,
	)
	s = open1(t, dir)
	for digest, want := range map[string]bool{"forged": false, "d2": true, "d3": false, "d4": false} {
		if got := signedNow(t, s, digest); got != want {
			t.Errorf("%s: signed %v, not %v", digest, got, want)
		}
	}
}

// What was issued before there were signatures is signed once, at the upgrade; later nothing is signed but what is issued. The key
// lies beside the database, for its owner alone; the records are confirmed in a copy of the folder, and not without the key.
func TestWhatWasIssuedBeforeSignaturesIsSignedOnce(t *testing.T) {
	dir := t.TempDir()
	old(t, dir, "0007-estimates-records-photos")
	s := open1(t, dir)
	if !signedNow(t, s, "d-old") {
		t.Error("the old record has no signature")
	}
	if info, err := os.Stat(filepath.Join(dir, signingKey)); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("%v %v", info, err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	copied := filepath.Join(t.TempDir(), "copy")
	if err := os.CopyFS(copied, os.DirFS(dir)); err != nil {
		t.Fatal(err)
	}
	if !signedNow(t, open1(t, copied), "d-old") {
		t.Error("the copy of the folder does not confirm it")
	}
	if err := os.Remove(filepath.Join(dir, signingKey)); err != nil {
		t.Fatal(err)
	}
	s = open1(t, dir)
	if signedNow(t, s, "d-old") {
		t.Error("confirmed with another key")
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(dir, signingKey), []byte("short"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(dir); err == nil {
		t.Error("a damaged key was taken")
	} else {
		t.Log(err)
	}
}
