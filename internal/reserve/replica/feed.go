// Package replica carries the database of a data folder into a reserve's folder and out of it, by a replication library for SQLite. It brings a SQLite of its
// own: two of them in one process lose each other's file locks, so nothing of this runs in the process that serves the app.
package replica

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"time"

	"github.com/benbjohnson/litestream"
	"github.com/benbjohnson/litestream/file"
	"github.com/gofrs/flock"

	"innercompass/internal/reserve"
)

const (
	database = "compass.db"
	// state is where the library keeps what it has read of the database, in the data folder.
	state = "reserve"
	// beat is how often the feeder looks at the database; what is saved is in the folder about that long after.
	beat = 250 * time.Millisecond
	// quiet is how often it says so when nothing was saved.
	quiet = 2 * time.Second
)

// Feeder feeds a folder from a data folder, in which the app may be working.
type Feeder struct {
	Data string
	To   reserve.Folder
	App  string
	Log  *slog.Logger
	// Tell is called with every round that brought something, and every two seconds.
	Tell func(reserve.Round)
}

// Run feeds until ctx ends, and once more then. An error ends it; the folder stays as it is, and feeding goes on from there another time.
func (f *Feeder) Run(ctx context.Context) (err error) {
	lock := flock.New(filepath.Join(f.Data, "reserve.lock"), flock.SetPermissions(0o600))
	if held, err := lock.TryLock(); err != nil || !held {
		return errors.Join(err, fmt.Errorf("%s is being fed from already", f.Data))
	}
	defer func() { err = errors.Join(err, lock.Unlock()) }()
	if _, err := os.Stat(filepath.Join(f.Data, database)); err != nil {
		return err
	}
	feed, err := f.To.Begin(f.Data, f.App)
	if err != nil {
		return err
	}
	db := litestream.NewDB(filepath.Join(f.Data, database))
	db.SetMetaPath(filepath.Join(f.Data, state))
	db.MonitorInterval = 0 // rounds are made here: pictures before the rows that name them
	client := file.NewReplicaClient(f.To.Database())
	db.Replica = litestream.NewReplicaWithClient(db, client)
	db.Replica.MonitorEnabled = false
	client.Replica = db.Replica
	all := litestream.NewStore([]*litestream.DB{db}, litestream.DefaultCompactionLevels)
	all.Logger = f.Log
	db.SetLogger(f.Log)
	if err := all.Open(ctx); err != nil {
		return err
	}
	rounds := rounds{Feeder: f, db: db, feed: feed}
	defer func() {
		// What was saved until now still goes along; the library's own end is bounded too.
		last, stop := context.WithTimeout(context.WithoutCancel(ctx), 3*time.Second)
		defer stop()
		if err == nil {
			err = rounds.one(last)
		}
		err = errors.Join(err, all.Close(last))
	}()
	tick := time.NewTicker(beat)
	defer tick.Stop()
	for {
		if err := rounds.one(ctx); err != nil && ctx.Err() == nil {
			return err
		}
		select {
		case <-ctx.Done():
			return nil
		case <-tick.C:
		}
	}
}

type rounds struct {
	*Feeder
	db       *litestream.DB
	feed     reserve.Feed
	pos      uint64
	pictures int
	seen     time.Time // when the folder of pictures was changed last
	head     string
	told     time.Time
}

// one brings everything that was saved before it began into the folder: first what the trail says of its end and the database into the data folder's own
// files, then pictures, then the rows that name them, then the end of the trail; what was erased goes last.
func (r *rounds) one(ctx context.Context) error {
	began := time.Now()
	if err := r.To.Still(r.feed); err != nil {
		return err
	}
	head, err := reserve.HeadOf(r.Data)
	if err != nil {
		return err
	}
	if err := r.db.Sync(ctx); err != nil {
		return fmt.Errorf("the database cannot be read: %w", err)
	}
	from := reserve.PicturesOf(r.Data)
	info, err := os.Stat(from)
	if err != nil {
		return err
	}
	changed := !info.ModTime().Equal(r.seen)
	why := ""
	if changed {
		if r.pictures, err = reserve.Copied(ctx, from, r.To.Pictures()); err != nil {
			changed, why = false, "a picture cannot be brought there: "+err.Error()
		}
	}
	if err := r.db.Replica.Sync(ctx); err != nil {
		return fmt.Errorf("the database cannot be brought to %s: %w", r.To, err)
	}
	if string(head) != r.head {
		if err := reserve.PutHead(string(r.To), head); err != nil {
			return err
		}
		r.head = string(head)
	}
	if changed {
		if err := reserve.Dropped(from, r.To.Pictures()); err != nil {
			return err
		}
		r.seen = info.ModTime()
	}
	pos := uint64(r.db.Replica.Pos().TXID)
	if pos == r.pos && !changed && began.Sub(r.told) < quiet {
		return nil
	}
	r.pos, r.told, r.feed.At = pos, began, began.UTC()
	if err := r.To.Note(r.feed); err != nil {
		return err
	}
	r.Tell(reserve.Round{At: r.feed.At, Took: time.Since(began).Seconds(), Pictures: r.pictures, Why: why})
	return nil
}
