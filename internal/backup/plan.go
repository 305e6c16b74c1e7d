package backup

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"innercompass/internal/problem"
)

// Plan is when backups are made, and where to.
type Plan struct {
	Folder string  `json:"folder"` // on this machine: a disk that is mounted, or a share
	Every  int     `json:"every"`  // hours; 0 makes none by itself
	Keep   int     `json:"keep"`   // how many
	All    bool    `json:"all"`    // encrypt everything, not the keys alone
	Secret *Secret `json:"secret,omitempty"`
	Rev    int     `json:"-"`
}

// Run is a backup that was made, or failed.
type Run struct {
	At       time.Time `json:"at"`
	File     string    `json:"file"`
	Bytes    int64     `json:"bytes"`    // of the file, without what lies beside
	Pictures int       `json:"pictures"` // it can give back
	Took     float64   `json:"took"`     // seconds, the check included
	Good     bool      `json:"good"`     // written, unpacked into a scratch folder, and looked at there
	Why      string    `json:"why,omitempty"`
}

// Store keeps the plan and the last runs.
type Store interface {
	Kept(ctx context.Context, name string) (content []byte, rev int, err error)
	Keep(ctx context.Context, name string, content []byte, rev int, words string) error
}

// Service makes backups while the app runs.
type Service struct {
	Store  Store
	Source Source
	Check  func(ctx context.Context, dir string) error // looks at an unpacked folder
	Now    func() time.Time
	Tell   func(what string, rev int)
	one    sync.Mutex // one backup at a time
}

// Names under which things are kept.
const (
	planName = "backup-plan"
	runsName = "backup-runs"
)

// Bounds of a plan.
const (
	mostHours = 24 * 31
	mostKept  = 365
	mostRuns  = 30
	// ShortestPassphrase of a backup, in characters: it is tried without limits by whoever has the file.
	ShortestPassphrase = 12
)

// Plan is the plan as it stands; the zero plan when nobody has made one.
func (s *Service) Plan(ctx context.Context) (Plan, error) {
	out := Plan{Every: 24, Keep: 14}
	text, rev, err := s.Store.Kept(ctx, planName)
	if err == nil && rev > 0 {
		err = json.Unmarshal(text, &out)
	}
	out.Rev = rev
	return out, err
}

// Save checks and keeps a plan; a passphrase makes another secret, and the first plan needs one.
func (s *Service) Save(ctx context.Context, p Plan, passphrase string) (Plan, error) {
	now, err := s.Plan(ctx)
	if err != nil {
		return p, err
	}
	p.Folder = filepath.Clean(strings.TrimSpace(p.Folder))
	switch {
	case !filepath.IsAbs(p.Folder):
		return p, problem.Field("folder", fmt.Sprintf("%q", p.Folder), "a folder of this machine from its root, such as /mnt/backup")
	case inside(p.Folder, s.Source.Dir):
		return p, problem.Field("folder", "inside the data folder", "a folder on another disk: what takes the one must not take the other")
	case p.Every < 0 || p.Every > mostHours:
		return p, problem.Field("every", fmt.Sprint(p.Every), fmt.Sprintf("0 to %d hours", mostHours))
	case p.Keep < 1 || p.Keep > mostKept:
		return p, problem.Field("keep", fmt.Sprint(p.Keep), fmt.Sprintf("1 to %d", mostKept))
	}
	p.Secret = now.Secret
	if passphrase != "" {
		if n := len([]rune(passphrase)); n < ShortestPassphrase {
			return p, problem.Field("passphrase", fmt.Sprintf("%d characters", n), fmt.Sprintf("at least %d: whoever finds the file may try as often as they like", ShortestPassphrase))
		}
		if p.Secret, err = NewSecret(passphrase); err != nil {
			return p, err
		}
	}
	if p.Secret == nil {
		return p, problem.Field("passphrase", "nothing given", "a passphrase: the keys are in the backup, and it opens them")
	}
	if err := writable(p.Folder); err != nil {
		return p, problem.Field("folder", err.Error(), "a folder that this app may write to, on a disk that is there")
	}
	text, err := json.Marshal(p)
	if err != nil {
		return p, err
	}
	if err := s.Store.Keep(ctx, planName, text, p.Rev, "backups to "+p.Folder); err != nil {
		return p, err
	}
	s.Tell("backup", 0)
	return s.Plan(ctx)
}

func inside(folder, data string) bool {
	rel, err := filepath.Rel(data, folder)
	return err == nil && rel != ".." && !strings.HasPrefix(rel, ".."+string(filepath.Separator))
}

func writable(folder string) error {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return err
	}
	f, err := os.CreateTemp(folder, "new-*")
	if err != nil {
		return err
	}
	return errors.Join(f.Close(), os.Remove(f.Name()))
}

// Runs are the last ones, the newest first.
func (s *Service) Runs(ctx context.Context) ([]Run, error) {
	text, rev, err := s.Store.Kept(ctx, runsName)
	if err != nil || rev == 0 {
		return nil, err
	}
	var out []Run
	err = json.Unmarshal(text, &out)
	return out, err
}

// LastGood is when the last good backup was made; zero when there is none.
func (s *Service) LastGood(ctx context.Context) (time.Time, error) {
	runs, err := s.Runs(ctx)
	for _, r := range runs {
		if r.Good {
			return r.At, err
		}
	}
	return time.Time{}, err
}

// note keeps what a run came to.
func (s *Service) note(ctx context.Context, r Run) error {
	for range 3 { // somebody else may note at the same time
		text, rev, err := s.Store.Kept(ctx, runsName)
		if err != nil {
			return err
		}
		var runs []Run
		if rev > 0 {
			if err := json.Unmarshal(text, &runs); err != nil {
				return err
			}
		}
		runs = slices.Insert(runs, 0, r)
		if text, err = json.Marshal(runs[:min(len(runs), mostRuns)]); err != nil {
			return err
		}
		words := "backup made"
		if !r.Good {
			words = "backup failed"
		}
		if err = s.Store.Keep(ctx, runsName, text, rev, words); !errors.Is(err, problem.ErrChanged) {
			s.Tell("backup", 0)
			return err
		}
	}
	return problem.ErrChanged
}

// Make makes a backup by the plan, looks at it by unpacking it, and says how it went. One that is not good is taken away again.
func (s *Service) Make(ctx context.Context) (Run, error) {
	s.one.Lock()
	defer s.one.Unlock()
	p, err := s.Plan(ctx)
	if err != nil {
		return Run{}, err
	}
	if p.Secret == nil {
		return Run{}, &problem.StateError{Reason: "no plan for backups yet", Accepted: "say first where to, and with which passphrase"}
	}
	began := time.Now()
	r := Run{At: s.Now().UTC(), File: "inner-compass-" + s.Now().UTC().Format("20060102-150405") + ".tar"}
	at := filepath.Join(p.Folder, r.File)
	m, err := s.write(ctx, p, at)
	if err == nil {
		for _, e := range m.Entries {
			if path.Dir(e.Name) == filesFolder {
				r.Pictures++
			}
		}
		var info os.FileInfo
		if info, err = os.Stat(at); err == nil {
			r.Bytes = info.Size()
		}
		err = errors.Join(err, prune(p))
	}
	r.Good, r.Took = err == nil, time.Since(began).Seconds()
	if err != nil {
		r.Why = err.Error()
		slog.Error("backup", "error", err)
	}
	return r, s.note(ctx, r)
}

// write makes the file and looks at it by the folder's own key.
func (s *Service) write(ctx context.Context, p Plan, at string) (Manifest, error) {
	beside := filepath.Join(p.Folder, filesFolder)
	if err := errors.Join(writable(p.Folder), os.MkdirAll(beside, 0o700)); err != nil {
		return Manifest{}, err
	}
	tmp, err := os.CreateTemp(p.Folder, "new-*")
	if err != nil {
		return Manifest{}, err
	}
	defer func() { _ = os.Remove(tmp.Name()) }()
	m, err := Write(ctx, tmp, s.Source, Options{Secret: p.Secret, All: p.All, Beside: beside})
	if err := errors.Join(err, tmp.Sync(), tmp.Close()); err != nil {
		return m, err
	}
	if err := Look(ctx, tmp.Name(), s.Source.Dir, s.Check); err != nil {
		return m, err
	}
	return m, os.Rename(tmp.Name(), at)
}

// Look unpacks a backup that was just made into a scratch folder, by the key of the data folder, and looks at what came out.
func Look(ctx context.Context, file, dir string, check func(ctx context.Context, dir string) error) error {
	own, err := ownKey(dir)
	if err != nil {
		return err
	}
	scratch := filepath.Join(dir, "new-check-"+filepath.Base(file))
	defer func() { _ = os.RemoveAll(scratch) }()
	if _, err = Unpack(ctx, file, scratch, Reading{identity: own}); err == nil {
		err = check(ctx, scratch)
	}
	if err != nil {
		return fmt.Errorf("it was written, and cannot be put back: %w", err)
	}
	return nil
}

// Run makes backups when they are due, until ctx ends.
func (s *Service) Run(ctx context.Context) {
	every := time.NewTicker(time.Minute)
	defer every.Stop()
	for {
		if due, err := s.Due(ctx); err != nil {
			slog.Warn("backup plan", "error", err)
		} else if due {
			if _, err := s.Make(ctx); err != nil && ctx.Err() == nil {
				slog.Error("backup", "error", err)
			}
		}
		select {
		case <-ctx.Done():
			return
		case <-every.C:
		}
	}
}

// retryAfter is how long after one that failed the next is tried.
const retryAfter = time.Hour

// Due reports whether a backup is to be made now.
func (s *Service) Due(ctx context.Context) (bool, error) {
	p, err := s.Plan(ctx)
	if err != nil || p.Secret == nil || p.Every == 0 {
		return false, err
	}
	runs, err := s.Runs(ctx)
	if err != nil {
		return false, err
	}
	if len(runs) > 0 && !runs[0].Good && s.Now().Sub(runs[0].At) < retryAfter {
		return false, nil
	}
	last, err := s.LastGood(ctx)
	return s.Now().Sub(last) >= time.Duration(p.Every)*time.Hour, err
}

// prune takes the oldest away, and pictures beside that no backup names any more.
func prune(p Plan) error {
	list, err := filepath.Glob(filepath.Join(p.Folder, "inner-compass-*.tar"))
	if err != nil {
		return err
	}
	slices.Sort(list) // by time
	for len(list) > p.Keep {
		if err := os.Remove(list[0]); err != nil {
			return err
		}
		list = list[1:]
	}
	named := map[string]bool{}
	for _, file := range list {
		m, err := ReadManifest(file)
		if err != nil {
			return nil //nolint:nilerr // one that cannot be read may name any: all are left
		}
		for _, e := range m.Entries {
			named[path.Base(e.Name)] = true
		}
	}
	beside, err := os.ReadDir(filepath.Join(p.Folder, filesFolder))
	if err != nil {
		return err
	}
	for _, f := range beside {
		if IsDigest(strings.TrimSuffix(f.Name(), sealed)) && !named[f.Name()] && len(list) > 0 {
			if err := os.Remove(filepath.Join(p.Folder, filesFolder, f.Name())); err != nil {
				return err
			}
		}
	}
	return nil
}
