package store

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// upgrade checks a database that was there and brings it up to date: a copy first, then every step in one transaction.
func (s *Store) upgrade(db *gorm.DB) error {
	if err := soundness(db); err != nil {
		return unusable(s.path, err)
	}
	done, err := applied(db)
	if err != nil {
		return unusable(s.path, err)
	}
	var known, missing []string
	for _, m := range migrations {
		known = append(known, m.ID)
		if !slices.Contains(done, m.ID) {
			missing = append(missing, m.ID)
		}
	}
	for _, id := range done {
		if !slices.Contains(known, id) {
			return &FolderError{s.path, fmt.Sprintf("was written by a newer Inner Compass (%s is not known here)", id), "start that version; this one would damage it"}
		}
	}
	if len(done) == 0 {
		if err := s.foreign(db); err != nil {
			return err
		}
	}
	if len(missing) == 0 {
		return nil
	}
	copied, err := s.copyBefore(db, missing[len(missing)-1])
	if err != nil {
		return unusable(filepath.Dir(s.path), fmt.Errorf("no copy could be made before the upgrade: %w", err))
	}
	if err := migrate(db); err != nil {
		return &FolderError{s.path, "could not be brought up to date; it is as it was: " + err.Error(), "make room on the drive and start again; a copy of before stands at " + copied}
	}
	return nil
}

// foreign refuses the database of another program. One that has only tables of ours, or none, was cut off at the first start
// of an older app: the steps find what is there and make the rest.
func (s *Store) foreign(db *gorm.DB) error {
	var tables []string
	if err := db.Raw("SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%'").Scan(&tables).Error; err != nil {
		return unusable(s.path, err)
	}
	for _, name := range tables {
		if !slices.Contains(oldTables, name) {
			return &FolderError{s.path, fmt.Sprintf("is the database of another program (it has a table %q)", name), "name another folder with --data"}
		}
	}
	return nil
}

// oldTables are those that an app which did not yet make its tables in one go may have left without the list of steps.
var oldTables = []string{"migrations", "cases", "readings", "marks", "decisions", "proofs", "people", "settings", "unit_sheets", "gauges", "measurements", "lab_layouts", "prices", "estimates", "records", "photos"}

// soundness compares every page with the tables that it belongs to, without the cross-check of indexes that would take as
// long as reading all of it twice.
func soundness(db *gorm.DB) error {
	var said []string
	if err := db.Raw("PRAGMA quick_check(3)").Scan(&said).Error; err != nil {
		return err
	}
	if len(said) != 1 || said[0] != "ok" {
		return &FolderError{"the database", "is damaged: " + strings.Join(said, "; "), restore}
	}
	return nil
}

// applied lists the steps that a database has had; none for one without the list.
func applied(db *gorm.DB) ([]string, error) {
	var there int
	if err := db.Raw("SELECT COUNT(*) FROM sqlite_schema WHERE type = 'table' AND name = 'migrations'").Scan(&there).Error; err != nil || there == 0 {
		return nil, err
	}
	var ids []string
	err := db.Raw("SELECT id FROM migrations ORDER BY id").Scan(&ids).Error
	return ids, err
}

// migrate runs what is missing, all of it in one transaction: a start that is cut off leaves the tables as they were.
func migrate(db *gorm.DB) error {
	options := *gormigrate.DefaultOptions
	options.UseTransaction = true
	return gormigrate.New(db, &options, migrations).Migrate()
}

// mostCopies is how many copies of before upgrades are kept.
const mostCopies = 3

// copyBefore writes the database as it is into a file of its own, whole or not at all, and drops the oldest copies.
func (s *Store) copyBefore(db *gorm.DB, step string) (string, error) {
	dir := filepath.Dir(s.path)
	to := filepath.Join(dir, "compass.before-"+step+".db")
	if _, err := os.Stat(to); err == nil {
		return to, nil // made by an upgrade that was cut off: nothing was written since
	}
	tmp := filepath.Join(dir, newPrefix+"copy.db")
	if err := db.Exec("VACUUM INTO ?", tmp).Error; err != nil {
		return "", errors.Join(err, removeIfThere(tmp))
	}
	if err := errors.Join(os.Chmod(tmp, 0o600), syncFile(tmp), os.Rename(tmp, to), syncFolder(dir)); err != nil {
		return "", err
	}
	copies, err := filepath.Glob(filepath.Join(dir, "compass.before-*.db"))
	if err != nil {
		return "", err
	}
	slices.Sort(copies) // by the number of the step
	for _, old := range copies[:max(0, len(copies)-mostCopies)] {
		if err := os.Remove(old); err != nil {
			return "", err
		}
	}
	return to, nil
}

func removeIfThere(path string) error {
	if err := os.Remove(path); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	return nil
}

func syncFile(path string) error {
	f, err := os.OpenFile(path, os.O_RDWR, 0)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}
