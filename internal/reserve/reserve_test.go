package reserve

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io/fs"
	"log/slog"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"innercompass/internal/backup"
)

func folder(t *testing.T) string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "d")
	if err := os.MkdirAll(filepath.Join(dir, "files"), 0o700); err != nil {
		t.Fatal(err)
	}
	return dir
}

func empty(t *testing.T) Folder { t.Helper(); return Folder(t.TempDir()) }

func put(t *testing.T, path, text string) {
	t.Helper()
	if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
}

// A folder is fed from one data folder alone, and only while it is the one that it was.
func TestAFolderIsOfOneShop(t *testing.T) {
	data, to := folder(t), empty(t)
	feed, err := to.Begin(data, "1")
	if err != nil {
		t.Fatal(err)
	}
	if again, err := to.Begin(data, "2"); err != nil || again.ID != feed.ID || again.App != "2" {
		t.Errorf("%v %+v", err, again)
	}
	feed.At = time.Now().UTC()
	if err := to.Note(feed); err != nil {
		t.Error(err)
	}
	if now, err := to.Feed(); err != nil || !now.At.Equal(feed.At) {
		t.Errorf("%v %v", err, now)
	}
	full := empty(t)
	put(t, full.path("something"), "x")
	for _, c := range []struct {
		what, says string
		data       string
		to         Folder
	}{
		{"another shop's", "fed from another data folder", folder(t), to},
		{"not there", "is no folder", data, Folder(filepath.Join(t.TempDir(), "none"))},
		{"not mounted", "is the share mounted", data, empty(t)},
		{"something else in it", "holds something else", folder(t), full},
	} {
		if _, err := c.to.Begin(c.data, "1"); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", c.what, err)
		}
	}
	if left, err := os.ReadDir(string(full)); err != nil || len(left) != 1 {
		t.Errorf("a folder that was refused was written to: %v %v", left, err)
	}
	if err := os.Remove(to.path(feedFile)); err != nil {
		t.Fatal(err)
	}
	if err := to.Still(feed); err == nil || !strings.Contains(err.Error(), "is the share mounted") {
		t.Errorf("a feed that was taken away: %v", err)
	}
	put(t, to.path(feedFile), `{"format":"inner-compass-reserve/2"}`)
	if _, err := to.Begin(data, "1"); err == nil || !strings.Contains(err.Error(), `"inner-compass-reserve/2"`) {
		t.Errorf("a form that is not known: %v", err)
	}
}

func TestAPromotionEndsTheFeed(t *testing.T) {
	data, to := folder(t), empty(t)
	feed, err := to.Begin(data, "1")
	if err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(to.Check(), to.Promote(Promotion{At: time.Now(), Host: "second"})); err != nil {
		t.Fatal(err)
	}
	_, begun := to.Begin(data, "1")
	for _, err := range []error{begun, to.Still(feed), to.Check()} {
		var p *PromotedError
		if !errors.As(err, &p) || p.Host != "second" || !strings.Contains(err.Error(), "second") {
			t.Errorf("%v", err)
		}
	}
}

func TestWhatADataFolderFollows(t *testing.T) {
	data := folder(t)
	if w, err := Follows(data); w != nil || err != nil {
		t.Errorf("%v %v", w, err)
	}
	if err := (Following{From: "/mnt/share", ID: "x"}).Keep(data); err != nil {
		t.Fatal(err)
	}
	if w, err := Follows(data); err != nil || w.From != "/mnt/share" || w.ID != "x" {
		t.Errorf("%v %v", w, err)
	}
	put(t, filepath.Join(data, FollowsFile), "{")
	if _, err := Follows(data); err == nil {
		t.Error("a damaged file was read")
	}
}

func picture(text string) string {
	sum := sha256.Sum256([]byte(text))
	return hex.EncodeToString(sum[:])
}

func TestPicturesComeAlong(t *testing.T) {
	from, to := PicturesOf(folder(t)), PicturesOf(folder(t))
	for _, text := range []string{"one", "two"} {
		put(t, filepath.Join(from, picture(text)), text)
	}
	put(t, filepath.Join(from, "new-123"), "not finished")
	put(t, filepath.Join(from, strings.Repeat("d", 64)), "not what its name says")
	n, err := Copied(t.Context(), from, to)
	if n != 2 || err == nil || !strings.Contains(err.Error(), "not what its name says") {
		t.Errorf("%d %v", n, err)
	}
	left, err := os.ReadDir(to)
	if err != nil || len(left) != 2 {
		t.Errorf("%v %v", left, err)
	}
	if text, err := os.ReadFile(filepath.Join(to, picture("two"))); err != nil || string(text) != "two" {
		t.Errorf("%q %v", text, err)
	}
	for _, name := range []string{strings.Repeat("d", 64), picture("two")} {
		if err := os.Remove(filepath.Join(from, name)); err != nil {
			t.Fatal(err)
		}
	}
	if n, err := Copied(t.Context(), from, to); n != 2 || err != nil {
		t.Errorf("%d %v", n, err)
	}
	gone, err := Gone(from, to)
	if err != nil || len(gone) != 1 || gone[0] != picture("two") {
		t.Errorf("%v %v", gone, err)
	}
	if err := Dropped(from, to); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(filepath.Join(to, picture("two"))); !errors.Is(err, fs.ErrNotExist) {
		t.Errorf("what was erased is still there: %v", err)
	}
	if err := PutHead(to, nil); err != nil {
		t.Error(err)
	}
	if head, err := HeadOf(to); head != nil || err != nil {
		t.Errorf("%q %v", head, err)
	}
}

// The keeper passes on what the feeder says, puts the keys into the folder once there is a passphrase, again when they change, and starts a feeder that failed again.
func TestTheKeeper(t *testing.T) {
	data, to := folder(t), empty(t)
	if _, err := to.Begin(data, "1"); err != nil {
		t.Fatal(err)
	}
	put(t, filepath.Join(data, "signing.key"), "a key")
	secret, err := backup.NewSecret("seventeen wet gaskets")
	if err != nil {
		t.Fatal(err)
	}
	var planned *backup.Secret
	var starts atomic.Int32
	script := `echo '{"at":"2026-03-04T05:06:07Z","pictures":3}'; cat >/dev/null`
	k := &Keeper{Folder: to, Data: data, Log: slog.New(slog.DiscardHandler), Secret: func(context.Context) (*backup.Secret, error) { return planned, nil },
		Command: func(ctx context.Context) *exec.Cmd {
			starts.Add(1)
			return exec.CommandContext(ctx, "sh", "-c", script)
		}}
	run := func(script2 string, so func(s State) bool) State {
		t.Helper()
		script = script2
		ctx, stop := context.WithCancel(t.Context())
		ended := make(chan struct{})
		go func() { defer close(ended); k.Run(ctx) }()
		for end := time.Now().Add(10 * time.Second); !so(k.State()) && time.Now().Before(end); time.Sleep(10 * time.Millisecond) {
		}
		stop()
		<-ended
		return k.State()
	}
	if s := run(script, func(s State) bool { return !s.At.IsZero() }); s.Pictures != 3 || s.Keys || s.Why != "" || s.Folder != string(to) || !s.At.Equal(time.Date(2026, 3, 4, 5, 6, 7, 0, time.UTC)) {
		t.Errorf("%+v", s)
	}
	if keys, err := to.Keys(); keys != nil || err != nil {
		t.Errorf("keys without a passphrase: %v %v", keys, err)
	}
	planned = secret
	run(script, func(s State) bool { return s.Keys })
	keys, err := to.Keys()
	if err != nil || keys == nil {
		t.Fatalf("%v %v", keys, err)
	}
	before := bytes.Clone(keys.Keys)
	run(script, func(s State) bool { return s.Keys })
	if keys, _ = to.Keys(); !bytes.Equal(keys.Keys, before) {
		t.Error("keys that have not changed were written again")
	}
	put(t, filepath.Join(data, "signing.key"), "another key")
	k.set(func(s *State) { s.Keys = false })
	run(script, func(s State) bool { return s.Keys })
	if keys, _ = to.Keys(); bytes.Equal(keys.Keys, before) {
		t.Error("keys that have changed were not written")
	}
	if _, err := keys.Unlock("another phrase entirely"); !errors.Is(err, backup.ErrPassphrase) {
		t.Errorf("%v", err)
	}
	open, err := keys.Unlock("seventeen wet gaskets")
	if err != nil {
		t.Fatal(err)
	}
	second := folder(t)
	if err := open.Put(second); err != nil {
		t.Fatal(err)
	}
	if text, err := os.ReadFile(filepath.Join(second, "signing.key")); err != nil || string(text) != "another key" {
		t.Errorf("%q %v", text, err)
	}
	starts.Store(0)
	if s := run("echo no room >&2; exit 1", func(State) bool { return starts.Load() > 1 }); s.Why != "the feeder ended: no room" || starts.Load() < 2 {
		t.Errorf("%+v, %d starts", s, starts.Load())
	}
	if err := to.Promote(Promotion{Host: "second"}); err != nil {
		t.Fatal(err)
	}
	if s := run("exit 1", func(s State) bool { return s.Promoted }); !s.Promoted || !strings.Contains(s.Why, "second") {
		t.Errorf("%+v", s)
	}
	var none *Keeper
	if s := none.State(); s.Folder != "" {
		t.Errorf("%+v", s)
	}
}
