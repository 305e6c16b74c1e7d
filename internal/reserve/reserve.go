// Package reserve keeps a second installation ready: what the first writes goes into a folder that both machines reach (a share, or a disk of the second), and
// the second follows that. How the database goes there is in the package replica, which runs as a process of its own; here are the folder's files, the pictures
// by digest, the keys under the backup's passphrase, and what the first knows of it.
//
// The folder holds:
//
//	feed.json       which feed it is, and up to when it holds everything
//	db/             the database, as the replication library writes it
//	files/          pictures and recordings by SHA-256
//	audit.head      where the trail ended, never further than db/ goes
//	keys.age        the keys of the data folder, encrypted; with recovery.age, which the passphrase opens
//	promoted.json   once a reserve was promoted: the machine that fed it must not go on by itself
package reserve

import (
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"time"

	"github.com/google/uuid"
)

// Format of a feed.
const Format = "inner-compass-reserve/1"

// Names in the folder, and in a data folder.
const (
	feedFile     = "feed.json"
	promotedFile = "promoted.json"
	headFile     = "audit.head"
	keysFile     = "keys.age"
	recoveryFile = "recovery.age"
	filesFolder  = "files"
	// FollowsFile stands in a data folder that follows another machine: nobody works in it until it is promoted.
	FollowsFile = "follows.json"
)

// Feed says which feed a folder holds, and up to when.
type Feed struct {
	Format string    `json:"format"`
	ID     string    `json:"id"` // made with the feed: another one is another shop's, or was begun anew
	At     time.Time `json:"at"` // everything that was saved before is in the folder
	App    string    `json:"app"`
}

// Promotion says that a reserve took over.
type Promotion struct {
	At   time.Time `json:"at"`
	Host string    `json:"host"` // name of the machine, as it calls itself
}

// PromotedError says that the work went on at another machine.
type PromotedError struct{ Promotion }

func (e *PromotedError) Error() string {
	return fmt.Sprintf("The second machine, %[2]q, took over on %[1]s, and work goes on there; this folder lacks what was noted since. "+
		"Let this machine follow that one, with another data folder: innercompass reserve follow", e.At.Local().Format("2 January 2006, 15:04"), e.Host)
}

// Folder is the folder that goes from the one machine to the other.
type Folder string

// Database is where the replication library writes.
func (f Folder) Database() string { return filepath.Join(string(f), "db") }

func (f Folder) path(name string) string { return filepath.Join(string(f), name) }

// Feed reads which feed the folder holds; fs.ErrNotExist when none.
func (f Folder) Feed() (Feed, error) {
	var out Feed
	err := readJSON(f.path(feedFile), &out)
	if err == nil && out.Format != Format {
		err = fmt.Errorf("%s is of the form %q, and this app reads %q", f.path(feedFile), out.Format, Format)
	}
	return out, err
}

// Promoted is the promotion that is noted in the folder, if any.
func (f Folder) Promoted() (*Promotion, error) {
	var out Promotion
	err := readJSON(f.path(promotedFile), &out)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	return &out, err
}

// Promote notes that a reserve took over.
func (f Folder) Promote(p Promotion) error { return writeJSON(f.path(promotedFile), p) }

// Check refuses a folder whose reserve took over already: whoever went on with it would work beside that.
func (f Folder) Check() error {
	if f == "" {
		return nil // none is kept
	}
	p, err := f.Promoted()
	if err == nil && p != nil {
		err = &PromotedError{*p}
	}
	return err
}

// Begin opens the folder to be fed from a data folder. A folder that holds the feed of another, or that lost the one that it had, as a share that is not
// mounted, is refused.
func (f Folder) Begin(data, app string) (Feed, error) {
	if info, err := os.Stat(string(f)); err != nil || !info.IsDir() {
		return Feed{}, fmt.Errorf("%s is no folder: name one that is there, such as a share of the second machine, mounted here", f)
	}
	if err := f.Check(); err != nil {
		return Feed{}, err
	}
	var before Feed
	known := readJSON(filepath.Join(data, feedFile), &before)
	if known != nil && !errors.Is(known, fs.ErrNotExist) {
		return Feed{}, known
	}
	now, err := f.Feed()
	switch {
	case errors.Is(err, fs.ErrNotExist) && known == nil:
		return Feed{}, fmt.Errorf("%s has lost its feed: is the share mounted? To begin again in it, take %s away", f, filepath.Join(data, feedFile))
	case errors.Is(err, fs.ErrNotExist):
		now = Feed{Format: Format, ID: uuid.NewString(), App: app}
		if left, err := os.ReadDir(string(f)); err != nil || len(left) > 0 {
			return Feed{}, errors.Join(err, fmt.Errorf("%s holds something else: name an empty folder", f))
		}
		return now, errors.Join(os.MkdirAll(f.Database(), 0o700), os.MkdirAll(f.path(filesFolder), 0o700), writeJSON(filepath.Join(data, feedFile), now), writeJSON(f.path(feedFile), now))
	case err != nil:
		return Feed{}, err
	case known != nil || before.ID != now.ID:
		return Feed{}, fmt.Errorf("%s is fed from another data folder: name an empty folder", f)
	}
	now.App = app
	return now, nil
}

// Note writes up to when the folder holds everything.
func (f Folder) Note(feed Feed) error { return writeJSON(f.path(feedFile), feed) }

// Still reports that the folder is the one that it was: one that was taken away, as a share that is no longer mounted, or promoted meanwhile is an error, and nothing
// may be written there.
func (f Folder) Still(feed Feed) error {
	now, err := f.Feed()
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return fmt.Errorf("%s has lost its feed: is the share mounted?", f)
	case err != nil:
		return err
	case now.ID != feed.ID:
		return fmt.Errorf("%s holds another feed now", f)
	}
	return f.Check()
}

// Following says what a data folder follows.
type Following struct {
	From  Folder    `json:"from"`
	ID    string    `json:"id"` // of the feed
	Since time.Time `json:"since"`
}

// Follows reads what a data folder follows; nil when it stands by itself.
func Follows(data string) (*Following, error) {
	var out Following
	err := readJSON(filepath.Join(data, FollowsFile), &out)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	return &out, err
}

// Keep writes what a data folder follows.
func (w Following) Keep(data string) error { return writeJSON(filepath.Join(data, FollowsFile), w) }

func readJSON(path string, to any) error {
	text, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	if err := json.Unmarshal(text, to); err != nil {
		return fmt.Errorf("%s cannot be read: %w", path, err)
	}
	return nil
}

// writeJSON writes a small file whole or not at all.
func writeJSON(path string, v any) error {
	text, err := json.Marshal(v)
	if err != nil {
		return err
	}
	return writeWhole(path, text)
}

func writeWhole(path string, text []byte) error {
	tmp, err := os.CreateTemp(filepath.Dir(path), "new-*")
	if err != nil {
		return err
	}
	_, err = tmp.Write(text)
	if err := errors.Join(err, tmp.Sync(), tmp.Close()); err != nil {
		return errors.Join(err, os.Remove(tmp.Name()))
	}
	return os.Rename(tmp.Name(), path)
}
