package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"github.com/mattn/go-sqlite3"
	"gorm.io/gorm"

	"innercompass/internal/problem"
)

// Dir is the data folder.
func (s *Store) Dir() string { return filepath.Dir(s.path) }

// Snapshot writes the database as of one moment into a file of its own, while it is in use: SQLite's backup interface (sqlite.org/backup.html).
func (s *Store) Snapshot(ctx context.Context, to string) error {
	from, err := s.read.DB()
	if err != nil {
		return err
	}
	conn, err := from.Conn(ctx)
	if err != nil {
		return told(err)
	}
	defer conn.Close()
	if err := os.WriteFile(to, nil, 0o600); err != nil {
		return err
	}
	target, err := sql.Open("sqlite3", "file:"+escaped(to))
	if err != nil {
		return err
	}
	defer target.Close()
	out, err := target.Conn(ctx)
	if err != nil {
		return err
	}
	err = out.Raw(func(t any) error {
		return conn.Raw(func(f any) error {
			b, err := t.(*sqlite3.SQLiteConn).Backup("main", f.(*sqlite3.SQLiteConn), "main") //nolint:errcheck // the driver's own connections
			if err != nil {
				return err
			}
			for done := false; err == nil && !done; {
				if ctx.Err() != nil {
					return errors.Join(ctx.Err(), b.Close())
				}
				done, err = b.Step(-1) // in one go: nothing is written in between
			}
			return errors.Join(err, b.Close())
		})
	})
	if err := errors.Join(told(err), out.Close(), target.Close()); err != nil {
		return err
	}
	db, err := open(to, "", 1)
	if err != nil {
		return err
	}
	// A copy of a database in WAL mode says so in its head: alone in a file it needs no second one.
	return errors.Join(db.Exec("PRAGMA journal_mode = DELETE").Error, closeDB(db))
}

// CheckFolder looks at a folder that no app uses, such as one that was just unpacked from a backup: the database page by page, that this app can read it, that
// the pictures that it names are there, and with its keys all that the trail says. It changes nothing in it that lasts.
func CheckFolder(ctx context.Context, dir string) error {
	s := &Store{path: filepath.Join(dir, database), files: filepath.Join(dir, "files")}
	if err := checkHeader(s.path); err != nil {
		return err
	}
	db, err := open(s.path, "", 1)
	if err != nil {
		return unusable(s.path, err)
	}
	defer func() { _ = closeDB(db) }()
	if err := soundness(db); err != nil {
		return unusable(s.path, err)
	}
	done, err := applied(db)
	if err != nil {
		return unusable(s.path, err)
	}
	if len(done) == 0 || len(done) > len(migrations) || done[len(done)-1] > migrations[len(migrations)-1].ID {
		return &FolderError{s.path, "is of a newer Inner Compass, or of none", "use the version that wrote it"}
	}
	var digests []string
	if err := db.Raw("SELECT DISTINCT digest FROM photos WHERE gone = 0").Scan(&digests).Error; err != nil && done[len(done)-1] >= "0007" {
		return unusable(s.path, err)
	}
	for _, d := range digests {
		if _, err := os.Stat(filepath.Join(s.files, d)); err != nil {
			return &FolderError{filepath.Join(s.files, d), "is missing: a case names this picture", "take an older backup"}
		}
	}
	if _, err := os.Stat(filepath.Join(dir, signingKey)); errors.Is(err, fs.ErrNotExist) || len(done) < len(migrations) {
		return nil
	}
	if err := closeDB(db); err != nil {
		return err
	}
	all, err := beside(dir)
	if err != nil {
		return err
	}
	r, err := all.Trail(ctx)
	if err = errors.Join(err, all.Close()); err != nil {
		return err
	}
	if len(r.Wrong) > 0 {
		return fmt.Errorf("%s is not as it was left: %s", dir, strings.Join(r.Wrong[:min(3, len(r.Wrong))], "; "))
	}
	return nil
}

type keptRow struct {
	Name    string `gorm:"primaryKey"`
	Content []byte
	Rev     int
}

func (keptRow) TableName() string { return "kept" }

// Kept reads what is kept under a name, with its revision; revision 0 when nothing is.
func (s *Store) Kept(ctx context.Context, name string) (content []byte, rev int, err error) {
	var r keptRow
	err = s.read.WithContext(ctx).Where("name = ?", name).Limit(1).Find(&r).Error
	return r.Content, r.Rev, told(err)
}

// Keep puts something under a name if it is still of a revision; words stand in the trail, and without any nothing does.
func (s *Store) Keep(ctx context.Context, name string, content []byte, rev int, words string) error {
	return s.writing(ctx, func(tx *gorm.DB) error {
		var now int
		if err := tx.Raw("SELECT COALESCE(MAX(rev), 0) FROM kept WHERE name = ?", name).Scan(&now).Error; err != nil {
			return err
		}
		if now != rev {
			return problem.ErrChanged
		}
		if err := tx.Save(&keptRow{name, content, rev + 1}).Error; err != nil || words == "" {
			return err
		}
		return s.enter(ctx, tx, deed{words: words})
	})
}

// Alive asks the database something, and says how long the answer took; a folder that was taken away is not alive.
func (s *Store) Alive(ctx context.Context) (time.Duration, error) {
	began := time.Now()
	if there, err := os.Stat(s.path); err != nil || !os.SameFile(there, s.self) {
		return 0, gone
	}
	var one int
	err := s.read.WithContext(ctx).Raw("SELECT COUNT(*) FROM migrations").Scan(&one).Error
	return time.Since(began), told(err)
}

// Free is how many bytes the app may still write on the drive of the data folder.
func (s *Store) Free() (uint64, error) {
	var f syscall.Statfs_t
	if err := syscall.Statfs(s.Dir(), &f); err != nil {
		return 0, err
	}
	return f.Bavail * uint64(f.Bsize), nil //nolint:gosec // the size of a block is no negative number
}
