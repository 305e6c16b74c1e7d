// Package store keeps cases in SQLite through GORM. One connection writes, several read; WAL and
// full synchronisation, so that what was answered as saved survives a killed process.
package store

import (
	"bytes"
	"context"
	"crypto/ed25519"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"github.com/gofrs/flock"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"innercompass/internal/audit"
	"innercompass/internal/reserve"
)

// Store keeps everything that the use cases ask for (app.Store).
type Store struct {
	write   *gorm.DB
	read    *gorm.DB
	path    string // of the database
	self    os.FileInfo
	files   string // folder of pictures, by digest
	lock    *flock.Flock
	key     []byte             // that private links are made with
	private ed25519.PrivateKey // that records are signed with; see signer
	signing sync.RWMutex
	head    audit.Head // of the trail, as it was written beside the database last

	// Now is the clock of the trail.
	Now func() time.Time
}

// database is the file that holds the tables.
const database = "compass.db"

// Open opens or makes the data folder and brings its tables up to date. Whatever is wrong with the folder comes back as a
// FolderError that says what to do; nothing in it is changed then.
func Open(dir string) (_ *Store, err error) {
	if err := standsAlone(dir); err != nil {
		return nil, err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, unusable(dir, err)
	}
	s := &Store{Now: time.Now, path: filepath.Join(dir, database), files: filepath.Join(dir, "files"), lock: flock.New(filepath.Join(dir, "lock"), flock.SetPermissions(0o600))}
	held, err := s.lock.TryLock()
	if err != nil {
		return nil, unusable(dir, err)
	}
	if !held {
		return nil, &FolderError{dir, "is in use by another Inner Compass", "stop that one, or name another folder with --data"}
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, s.Close())
		}
	}()
	if err := os.MkdirAll(s.files, 0o700); err != nil {
		return nil, unusable(dir, err)
	}
	if err := sweep(dir, s.files); err != nil {
		return nil, unusable(dir, err)
	}
	if err := s.prepare(dir); err != nil {
		return nil, err
	}
	if s.self, err = os.Stat(s.path); err != nil {
		return nil, unusable(dir, err)
	}
	if s.write, err = open(s.path, "&_txlock=immediate&_secure_delete=on", 1); err != nil {
		return nil, unusable(s.path, err)
	}
	if s.read, err = open(s.path, "&_query_only=on", 4); err != nil {
		return nil, unusable(s.path, err)
	}
	if err := s.keys(dir); err != nil {
		return nil, err
	}
	if err := s.beginTrail(context.Background()); err != nil {
		return nil, unusable(s.path, err)
	}
	return s, nil
}

// standsAlone refuses a folder that follows another machine: what is written there would be overwritten.
func standsAlone(dir string) error {
	if _, err := os.Stat(filepath.Join(dir, reserve.FollowsFile)); err == nil {
		return &FolderError{dir, "follows another machine", "promote it first: innercompass reserve promote --data " + dir}
	}
	return nil
}

// prepare makes the database if there is none, else checks what is there and brings it up to date.
func (s *Store) prepare(dir string) error {
	info, err := os.Stat(s.path)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return s.create(dir)
	case err != nil:
		return unusable(s.path, err)
	case info.IsDir():
		return &FolderError{s.path, "is a folder, not a database", "move it away, or name another folder with --data"}
	case info.Size() == 0:
		return &FolderError{s.path, "is empty: what it held is gone", "put a copy of it back from a backup; only if this folder never held a case, delete the empty file and start again"}
	}
	if err := checkHeader(s.path); err != nil {
		return err
	}
	if err := os.Chmod(s.path, 0o600); err != nil { // folders of before were readable by all
		return unusable(s.path, err)
	}
	db, err := open(s.path, "&_txlock=immediate", 1)
	if err != nil {
		return unusable(s.path, err)
	}
	return errors.Join(s.upgrade(db), closeDB(db))
}

// create makes the database under another name and puts it in place whole: a start that is cut off leaves no half of one.
func (s *Store) create(dir string) error {
	tmp := filepath.Join(dir, newPrefix+database)
	file, err := os.OpenFile(tmp, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return unusable(dir, err)
	}
	if err := file.Close(); err != nil {
		return unusable(dir, err)
	}
	db, err := open(tmp, "&_txlock=immediate", 1)
	if err != nil {
		return unusable(dir, err)
	}
	err = migrate(db)
	if err == nil { // all of it into the one file before it is moved
		err = db.Exec("PRAGMA journal_mode = DELETE").Error
	}
	if err := errors.Join(err, closeDB(db)); err != nil {
		return unusable(dir, err)
	}
	if err := errors.Join(os.Rename(tmp, s.path), syncFolder(dir)); err != nil {
		return unusable(dir, err)
	}
	return nil
}

// newPrefix begins the names of files that are not finished.
const newPrefix = "new-"

// sweep removes what a start or an upload that was cut off left behind.
func sweep(folders ...string) error {
	var errs []error
	for _, dir := range folders {
		left, err := filepath.Glob(filepath.Join(strings.NewReplacer(`\`, `\\`, "[", `\[`, "*", `\*`, "?", `\?`).Replace(dir), newPrefix+"*"))
		errs = append(errs, err)
		for _, path := range left {
			errs = append(errs, os.RemoveAll(path))
		}
	}
	return errors.Join(errs...)
}

// syncFolder makes a rename in a folder survive a loss of power.
func syncFolder(dir string) error {
	f, err := os.Open(dir)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// checkHeader tells a database from a file that is something else.
func checkHeader(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return unusable(path, err)
	}
	defer f.Close()
	head := make([]byte, 16)
	if _, err := f.Read(head); err != nil {
		return unusable(path, err)
	}
	switch {
	case bytes.Equal(head, []byte("SQLite format 3\x00")):
		return nil
	case bytes.Equal(head, make([]byte, 16)):
		return &FolderError{path, "is damaged: its beginning is blank", restore}
	}
	return &FolderError{path, "is not a database", "move it away, or name another folder with --data"}
}

const restore = "put a copy of it back: one from a backup, or compass.before-….db in the folder, which was made before an upgrade; keep the damaged file, something may be saved from it"

// open connects to a database. The path is written as SQLite reads it in a file: address.
func open(path, options string, connections int) (*gorm.DB, error) {
	dsn := "file:" + escaped(path) + "?_journal_mode=WAL&_synchronous=FULL&_foreign_keys=on&_busy_timeout=5000" + options
	db, err := gorm.Open(sqlite.Open(dsn), &gorm.Config{Logger: logger.Default.LogMode(logger.Silent), SkipDefaultTransaction: true})
	if err != nil {
		return nil, err
	}
	sqlDB, err := db.DB()
	if err != nil {
		return nil, err
	}
	sqlDB.SetMaxOpenConns(connections)
	return db, nil
}

// escaped is a path as it is written in a file: address.
func escaped(path string) string {
	return strings.NewReplacer("%", "%25", "?", "%3f", "#", "%23").Replace(path)
}

func closeDB(db *gorm.DB) error {
	if db == nil {
		return nil
	}
	sqlDB, err := db.DB()
	if err != nil {
		return err
	}
	return sqlDB.Close()
}

// Close closes all connections and lets go of the folder.
func (s *Store) Close() error {
	var kept error
	if s.read != nil && s.write != nil {
		kept = s.KeepHead(context.Background())
	}
	err := errors.Join(kept, closeDB(s.read), closeDB(s.write))
	if s.lock != nil {
		err = errors.Join(err, s.lock.Unlock())
	}
	return err
}

// FolderError says what is wrong with a data folder, or a file in it, and what to do.
type FolderError struct{ Path, Reason, Do string }

func (e *FolderError) Error() string { return fmt.Sprintf("%s %s; %s", e.Path, e.Reason, e.Do) }

// unusable puts what the system or the database said about a path into words that help.
func unusable(path string, err error) error {
	var fe *FolderError
	switch {
	case errors.As(err, &fe):
		return err
	case errors.Is(err, fs.ErrPermission), code(err, readOnly):
		return &FolderError{path, "cannot be written: " + err.Error(), "give this user the right to write there, or name another folder with --data"}
	case isReadOnlyFS(err):
		return &FolderError{path, "is on a drive that can only be read: " + err.Error(), "make it writable, or name a folder on another drive with --data"}
	case code(err, full), isNoSpace(err):
		return &FolderError{path, "cannot be written: the drive is full", "make room on it, then start again; nothing was changed"}
	case code(err, corrupt, notADB):
		return &FolderError{path, "is damaged: " + err.Error(), restore}
	case code(err, busy, locked):
		return &FolderError{path, "is in use by another program", "stop that one, then start again"}
	}
	return &FolderError{path, "cannot be used: " + err.Error(), "name another folder with --data, or put a backup back"}
}

// Beside opens a folder that an app may be using, for a command that looks at it or changes a little: it upgrades nothing and takes no lock; SQLite itself
// lets one write at a time.
func Beside(dir string) (*Store, error) {
	if err := standsAlone(dir); err != nil {
		return nil, err
	}
	return beside(dir)
}

func beside(dir string) (_ *Store, err error) {
	s := &Store{Now: time.Now, path: filepath.Join(dir, database), files: filepath.Join(dir, "files")}
	if _, err := os.Stat(s.path); err != nil {
		return nil, &FolderError{dir, "holds no data: there is no " + database, "name the folder that the app was started with"}
	}
	if err := checkHeader(s.path); err != nil {
		return nil, err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, s.Close())
		}
	}()
	if s.self, err = os.Stat(s.path); err != nil {
		return nil, unusable(dir, err)
	}
	if s.write, err = open(s.path, "&_txlock=immediate", 1); err != nil {
		return nil, unusable(s.path, err)
	}
	done, err := applied(s.write)
	if err != nil {
		return nil, unusable(s.path, err)
	}
	if len(done) != len(migrations) || done[len(done)-1] != migrations[len(migrations)-1].ID {
		return nil, &FolderError{s.path, "is of another version of Inner Compass", "start the app of this version once, which brings it up to date"}
	}
	if s.read, err = open(s.path, "&_query_only=on", 4); err != nil {
		return nil, unusable(s.path, err)
	}
	if s.key, err = readKey(filepath.Join(dir, folderKey)); err != nil {
		return nil, unusable(dir, err)
	}
	if s.private, err = readSigning(filepath.Join(dir, signingKey)); err != nil {
		return nil, unusable(dir, err)
	}
	return s, nil
}

// Hold takes the lock of a folder that is there, so that no app starts on it meanwhile; it fails while one runs.
func Hold(dir string) (release func(), err error) {
	if _, err := os.Stat(dir); errors.Is(err, fs.ErrNotExist) {
		return func() {}, nil
	}
	lock := flock.New(filepath.Join(dir, "lock"), flock.SetPermissions(0o600))
	held, err := lock.TryLock()
	if err != nil {
		return nil, unusable(dir, err)
	}
	if !held {
		return nil, &FolderError{dir, "is in use by another Inner Compass", "stop that one first"}
	}
	return func() { _ = lock.Unlock() }, nil
}
