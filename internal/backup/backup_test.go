package backup_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"innercompass/internal/backup"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/store"
)

const phrase = "seventeen wet gaskets"

// folder is a data folder with some cases, pictures and a record; its text is easy to find again.
func folder(t *testing.T) *store.Store {
	t.Helper()
	s, err := store.Open(filepath.Join(t.TempDir(), "data"))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	for i := range 5 {
		take(t, s, fmt.Sprint("c", i))
	}
	for i := range 3 {
		picture(t, s, fmt.Sprintf("picture number %d of an oily pan", i))
	}
	now := time.Now().UTC()
	if _, err := s.Change(t.Context(), "c1", cases.Guard{}, func(cases.Held) (cases.Changes, error) {
		return cases.Changes{Record: &cases.Record{ID: "e1", At: now, Content: []byte("{}"), Digest: digest([]byte("{}"))}}, nil
	}); err != nil {
		t.Fatal(err)
	}
	return s
}

func digest(b []byte) string {
	sum := sha256.Sum256(b)
	return hex.EncodeToString(sum[:])
}

func take(t *testing.T, s *store.Store, id string) {
	t.Helper()
	c := cases.Case{ID: id, Words: "It slips uphill", Vehicle: "Ferry shuttle", UnitID: "norrad-h4", UnitVer: 1, Stage: "complaint", Access: "ground", Opened: time.Now().UTC(), Rev: 1}
	if _, err := s.CreateCase(context.WithoutCancel(t.Context()), c, cases.Done{}); err != nil {
		t.Error(err)
	}
}

func picture(t *testing.T, s *store.Store, text string) {
	t.Helper()
	if err := s.PutFile(t.Context(), digest([]byte(text)), []byte(text)); err != nil {
		t.Fatal(err)
	}
}

func source(s *store.Store) backup.Source {
	return backup.Source{Dir: s.Dir(), Snapshot: s.Snapshot, App: "test", Now: time.Now}
}

func secret(t *testing.T) *backup.Secret {
	t.Helper()
	s, err := backup.NewSecret(phrase)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func check(dir string) error { return store.CheckFolder(context.Background(), dir) }

// ids are the cases of a folder.
func ids(t *testing.T, dir string) []string {
	t.Helper()
	s, err := store.Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	r, err := s.Trail(t.Context())
	if err != nil || len(r.Wrong) > 0 {
		t.Fatalf("%v %v", err, r.Wrong)
	}
	var out []string
	for i := range 400 {
		if _, err := s.Case(t.Context(), fmt.Sprint("c", i)); err == nil {
			out = append(out, fmt.Sprint("c", i))
		}
	}
	return out
}

// write writes a backup into a file.
func write(t *testing.T, s *store.Store, o backup.Options) (string, backup.Manifest) {
	t.Helper()
	at := filepath.Join(t.TempDir(), "b.tar")
	f, err := os.Create(at)
	if err != nil {
		t.Fatal(err)
	}
	m, err := backup.Write(t.Context(), f, source(s), o)
	if err := errors.Join(err, f.Close()); err != nil {
		t.Fatal(err)
	}
	return at, m
}

// What was there comes back, with its keys, pictures, records and trail, encrypted or not; the folder of before is kept; nothing readable stands in an encrypted one.
func TestABackupComesBack(t *testing.T) {
	s := folder(t)
	for _, all := range []bool{false, true} {
		at, m := write(t, s, backup.Options{Secret: secret(t), All: all})
		data, err := os.ReadFile(at)
		if err != nil {
			t.Fatal(err)
		}
		for _, text := range []string{"It slips uphill", "oily pan"} {
			if bytes.Contains(data, []byte(text)) == all {
				t.Errorf("encrypted %v: %q stands in it: %v", all, text, !all)
			}
		}
		key, err := os.ReadFile(filepath.Join(s.Dir(), "signing.key"))
		if err != nil || bytes.Contains(data, key[40:80]) {
			t.Errorf("the signing key stands readable in it (%v)", err)
		}
		dir := filepath.Join(t.TempDir(), "back")
		if err := os.MkdirAll(dir, 0o700); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(dir, "note"), []byte("mine"), 0o600); err != nil {
			t.Fatal(err)
		}
		_, kept, err := backup.Restore(t.Context(), at, dir, backup.Reading{Passphrase: phrase}, time.Now(), check)
		if err != nil || !m.Keys || m.Encrypted != all {
			t.Fatalf("%v %+v", err, m)
		}
		if text, err := os.ReadFile(filepath.Join(kept, "note")); err != nil || string(text) != "mine" {
			t.Errorf("the folder of before: %v %q", err, text)
		}
		if got := ids(t, dir); len(got) != 5 {
			t.Errorf("%v", got)
		}
		if back, err := os.ReadFile(filepath.Join(dir, "signing.key")); err != nil || !bytes.Equal(back, key) {
			t.Errorf("the signing key: %v", err)
		}
	}
}

// While others write: everything that was acknowledged before the backup began is in it, and it is whole.
func TestABackupWhileOthersWrite(t *testing.T) {
	s := folder(t)
	ctx, stop := context.WithCancel(t.Context())
	var mu sync.Mutex
	var written []string
	var wg sync.WaitGroup
	for w := range 4 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for i := 10 + w; ctx.Err() == nil && i < 390; i += 4 {
				take(t, s, fmt.Sprint("c", i))
				mu.Lock()
				written = append(written, fmt.Sprint("c", i))
				mu.Unlock()
			}
		}()
	}
	defer wg.Wait()
	defer stop()
	for range 3 {
		mu.Lock()
		before := len(written)
		sofar := append([]string{}, written...)
		mu.Unlock()
		at, _ := write(t, s, backup.Options{Secret: secret(t)})
		dir := filepath.Join(t.TempDir(), "back")
		if _, _, err := backup.Restore(t.Context(), at, dir, backup.Reading{Passphrase: phrase}, time.Now(), check); err != nil {
			t.Fatal(err)
		}
		got := ids(t, dir)
		for _, id := range sofar {
			if !strings.Contains(" "+strings.Join(got, " ")+" ", " "+id+" ") {
				t.Errorf("%s was acknowledged before and is not in it (%d, %d)", id, before, len(got))
			}
		}
	}
}

// A backup with any part damaged, cut off, or put in is refused, and what is there stays as it is.
func TestABackupThatIsNotWholeIsRefused(t *testing.T) {
	s := folder(t)
	at, _ := write(t, s, backup.Options{Secret: secret(t), All: true})
	whole, err := os.ReadFile(at)
	if err != nil {
		t.Fatal(err)
	}
	dir := filepath.Join(t.TempDir(), "back")
	if err := os.MkdirAll(filepath.Join(dir, "mine"), 0o700); err != nil {
		t.Fatal(err)
	}
	try := func(what string, data []byte, pass string) error {
		t.Helper()
		bad := filepath.Join(t.TempDir(), "bad.tar")
		if err := os.WriteFile(bad, data, 0o600); err != nil {
			t.Fatal(err)
		}
		_, _, err := backup.Restore(t.Context(), bad, dir, backup.Reading{Passphrase: pass}, time.Now(), check)
		if err == nil {
			t.Errorf("%s: it was put back", what)
		}
		if left, _ := filepath.Glob(filepath.Join(filepath.Dir(dir), "*")); len(left) != 1 {
			t.Errorf("%s: %v are left", what, left)
		}
		return err
	}
	for i := 700; i < len(whole)-1024; i += len(whole) / 40 {
		bad := bytes.Clone(whole)
		bad[i] ^= 4
		if bad[i] == whole[i] || bytes.Equal(bad[i:i+1], []byte{0}) {
			continue
		}
		if bytes.Trim(whole[i/512*512:i/512*512+512], "\x00") != nil && whole[i] == 0 {
			continue // the room that tar leaves between entries says nothing
		}
		_ = try(fmt.Sprintf("byte %d", i), bad, phrase)
	}
	for _, n := range []int{0, 511, len(whole) / 3, len(whole) - 1500} {
		_ = try(fmt.Sprintf("cut at %d", n), whole[:n], phrase)
	}
	if err := try("another passphrase", whole, "another passphrase"); !errors.Is(err, backup.ErrPassphrase) {
		t.Errorf("%v", err)
	}
	var needed *backup.PassphraseNeeded
	if err := try("no passphrase", whole, ""); !errors.As(err, &needed) {
		t.Errorf("%v", err)
	}
	_ = try("something else", []byte("hello"), phrase)
}

// service makes backups of a folder into another.
func service(s *store.Store, now *time.Time) *backup.Service {
	clock := func() time.Time { return *now }
	src := source(s)
	src.Now = clock
	return &backup.Service{Store: s, Source: src, Check: store.CheckFolder, Now: clock, Tell: func(string, int) {}}
}

// By plan: when due, pictures once each, so many kept, and what nobody names any more taken away; each is looked at, and can be put back with the passphrase.
func TestBackupsByPlan(t *testing.T) {
	s := folder(t)
	now := time.Now()
	b := service(s, &now)
	ctx := t.Context()
	if due, err := b.Due(ctx); due || err != nil {
		t.Errorf("due without a plan: %v %v", due, err)
	}
	to := filepath.Join(t.TempDir(), "disk")
	for _, p := range []struct {
		plan   backup.Plan
		phrase string
		field  string
	}{{backup.Plan{Folder: "disk", Every: 24, Keep: 2}, phrase, "folder"}, {backup.Plan{Folder: s.Dir() + "/b", Every: 24, Keep: 2}, phrase, "folder"}, {backup.Plan{Folder: to, Every: -1, Keep: 2}, phrase, "every"}, {backup.Plan{Folder: to, Every: 24}, phrase, "keep"}, {backup.Plan{Folder: to, Every: 24, Keep: 2}, "", "passphrase"}, {backup.Plan{Folder: to, Every: 24, Keep: 2}, "short", "passphrase"}, {backup.Plan{Folder: "/proc/none", Every: 24, Keep: 2}, phrase, "folder"}} {
		_, err := b.Save(ctx, p.plan, p.phrase)
		var field *problem.FieldError
		if !errors.As(err, &field) || field.Field != p.field {
			t.Errorf("%+v: %v", p.plan, err)
		}
	}
	if _, err := b.Save(ctx, backup.Plan{Folder: to, Every: 24, Keep: 2, All: true}, phrase); err != nil {
		t.Fatal(err)
	}
	beside := func() int {
		list, err := os.ReadDir(filepath.Join(to, "files"))
		if err != nil {
			t.Fatal(err)
		}
		return len(list)
	}
	var times []time.Time
	for day := range 4 {
		if due, err := b.Due(ctx); !due || err != nil {
			t.Errorf("day %d: due %v, %v", day, due, err)
		}
		if day == 1 {
			picture(t, s, "one picture more")
		}
		r, err := b.Make(ctx)
		if err != nil || !r.Good || r.Pictures != 3+min(day, 1) || beside() != 3+min(day, 1) {
			t.Fatalf("day %d: %v %+v, %d beside", day, err, r, beside())
		}
		info, err := os.Stat(filepath.Join(to, "files"))
		if err != nil {
			t.Fatal(err)
		}
		times = append(times, info.ModTime())
		if due, _ := b.Due(ctx); due {
			t.Errorf("day %d: due again at once", day)
		}
		now = now.Add(24 * time.Hour)
	}
	if !times[2].Equal(times[3]) {
		t.Error("pictures were written again")
	}
	list, _ := filepath.Glob(filepath.Join(to, "*.tar"))
	if len(list) != 2 {
		t.Errorf("%d are kept", len(list))
	}
	dir := filepath.Join(t.TempDir(), "back")
	if _, _, err := backup.Restore(ctx, list[1], dir, backup.Reading{Passphrase: phrase}, now, check); err != nil {
		t.Fatal(err)
	}
	if got := ids(t, dir); len(got) != 5 {
		t.Errorf("%v", got)
	}
	// A picture beside is damaged on the disk: the next backup notices, and does not count as good.
	files, _ := filepath.Glob(filepath.Join(to, "files", "*"))
	if err := os.WriteFile(files[0], []byte("age-encryption.org/v1\nrubbish"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, _, err := backup.Restore(ctx, list[1], dir+"2", backup.Reading{Passphrase: phrase}, now, check); err == nil {
		t.Error("a damaged picture beside is not noticed at a restore")
	}
	if r, err := b.Make(ctx); err != nil || !r.Good {
		t.Errorf("the damaged picture is not written again: %v %+v", err, r)
	}
	// The disk is away.
	if err := os.RemoveAll(to); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(to, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	r, err := b.Make(ctx)
	if err != nil || r.Good || r.Why == "" {
		t.Errorf("%v %+v", err, r)
	}
	now = now.Add(25 * time.Hour)
	if due, _ := b.Due(ctx); !due {
		t.Error("after one that failed none is tried again")
	}
	if last, err := b.LastGood(ctx); err != nil || last.IsZero() || now.Sub(last) < 24*time.Hour {
		t.Errorf("last good %v, %v", last, err)
	}
}
