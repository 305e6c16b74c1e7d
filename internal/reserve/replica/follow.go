package replica

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"time"

	"github.com/benbjohnson/litestream"
	"github.com/benbjohnson/litestream/file"
	"github.com/gofrs/flock"

	"innercompass/internal/reserve"
)

// stopFile asks whoever follows into a data folder to end.
const stopFile = "stop-following"

// Follower keeps a data folder like the one that feeds a folder.
type Follower struct {
	Data string
	From reserve.Folder
	Tell func(words string)
}

// hold takes the lock of the data folder: the app's own.
func (f *Follower) hold() (*flock.Flock, bool, error) {
	lock := flock.New(filepath.Join(f.Data, "lock"), flock.SetPermissions(0o600))
	held, err := lock.TryLock()
	return lock, held, err
}

// prepare makes the folder one that follows, or finds that it is one. A folder with data of its own is refused.
func (f *Follower) prepare() (reserve.Following, error) {
	feed, err := f.From.Feed()
	if err != nil {
		return reserve.Following{}, fmt.Errorf("%s holds no feed: start the first machine with serve --reserve, and mount its folder here (%w)", f.From, err)
	}
	now, err := reserve.Follows(f.Data)
	if err != nil {
		return reserve.Following{}, err
	}
	if now == nil {
		if _, err := os.Stat(filepath.Join(f.Data, database)); err == nil {
			return reserve.Following{}, fmt.Errorf("%s holds data of its own: name an empty folder", f.Data)
		}
		now = &reserve.Following{ID: feed.ID, Since: time.Now().UTC()}
	}
	if now.ID != feed.ID {
		return reserve.Following{}, fmt.Errorf("%s follows another feed than the one in %s: name an empty folder", f.Data, f.From)
	}
	now.From = f.From
	return *now, now.Keep(f.Data)
}

// Run follows until ctx ends or the folder is to be promoted.
func (f *Follower) Run(ctx context.Context) (err error) {
	if err := os.MkdirAll(reserve.PicturesOf(f.Data), 0o700); err != nil {
		return err
	}
	lock, held, err := f.hold()
	if err != nil || !held {
		return errors.Join(err, fmt.Errorf("%s is in use by another Inner Compass: stop that one first", f.Data))
	}
	defer func() { err = errors.Join(err, lock.Unlock()) }()
	if _, err := f.prepare(); err != nil {
		return err
	}
	if err := removeIfThere(filepath.Join(f.Data, stopFile)); err != nil {
		return err
	}
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	ended := make(chan error, 1)
	go func() { ended <- f.database(ctx, time.Second/2) }()
	tick := time.NewTicker(time.Second / 2)
	defer tick.Stop()
	var last time.Time
	var gone []string // what the folder lacked a minute ago
	for {
		select {
		case err := <-ended:
			return err
		case <-ctx.Done():
			return <-ended
		case <-tick.C:
		}
		if _, err := os.Stat(filepath.Join(f.Data, stopFile)); err == nil {
			stop()
			return <-ended
		}
		if _, err := reserve.Copied(ctx, f.From.Pictures(), reserve.PicturesOf(f.Data)); err != nil && ctx.Err() == nil {
			f.Tell("pictures cannot be read: " + err.Error())
		}
		feed, err := f.From.Feed()
		switch {
		case err != nil:
			f.Tell(err.Error())
		case time.Since(last) > time.Minute:
			last = time.Now()
			if gone, err = f.dropped(gone); err != nil {
				f.Tell("what was erased cannot be taken away: " + err.Error())
			}
			f.Tell("follows; holds what was saved until " + feed.At.Local().Format("2 January 2006, 15:04:05"))
		}
	}
}

// dropped takes away what the folder lacked a minute ago and lacks still: by then the rows that named it are gone here too. What is gone since comes back.
func (f *Follower) dropped(before []string) ([]string, error) {
	now, err := reserve.Gone(f.From.Pictures(), reserve.PicturesOf(f.Data))
	var since []string
	for _, name := range now {
		if slices.Contains(before, name) {
			err = errors.Join(err, removeIfThere(filepath.Join(reserve.PicturesOf(f.Data), name)))
		} else {
			since = append(since, name)
		}
	}
	return since, err
}

// database keeps the database like the one in the folder until ctx ends. When the library can no longer go on from where it was, as after days away, it begins anew.
func (f *Follower) database(ctx context.Context, every time.Duration) error {
	at := filepath.Join(f.Data, database)
	err := restore(ctx, f.From, at, every)
	if err == nil || ctx.Err() != nil {
		return nil
	}
	f.Tell("begins again: " + err.Error())
	if err := errors.Join(removeIfThere(at), removeIfThere(litestream.TXIDPath(at))); err != nil {
		return err
	}
	if err := restore(ctx, f.From, at, every); err != nil && ctx.Err() == nil {
		return err
	}
	return nil
}

func restore(ctx context.Context, from reserve.Folder, to string, every time.Duration) error {
	o := litestream.NewRestoreOptions()
	o.OutputPath, o.Follow, o.FollowInterval = to, true, every
	r := litestream.NewReplicaWithClient(nil, file.NewReplicaClient(from.Database()))
	return r.Restore(ctx, o)
}

// Ready ends the following into a data folder and brings it as far as its folder goes, pictures, the trail's end and all; whoever follows is asked to stop. What
// comes back is up to when the feeder had brought everything, and why it is no further when the folder cannot be reached. The lock of the data folder is held until release.
func (f *Follower) Ready(ctx context.Context) (until time.Time, behind error, release func(), err error) {
	if err := os.WriteFile(filepath.Join(f.Data, stopFile), nil, 0o600); err != nil {
		return until, nil, nil, err
	}
	var lock *flock.Flock
	for held, end := false, time.Now().Add(15*time.Second); !held; time.Sleep(50 * time.Millisecond) {
		if lock, held, err = f.hold(); err != nil || (!held && time.Now().After(end)) {
			return until, nil, nil, errors.Join(err, fmt.Errorf("%s is still in use: stop what follows into it", f.Data))
		}
	}
	release = func() { _ = lock.Unlock() }
	defer func() {
		if err != nil {
			release()
		}
	}()
	if err := removeIfThere(filepath.Join(f.Data, stopFile)); err != nil {
		return until, nil, nil, err
	}
	feed, behind := f.From.Feed()
	if behind == nil {
		until = feed.At
		behind = f.catchUp(ctx)
	}
	// The library leaves it readable by all.
	if err := os.Chmod(filepath.Join(f.Data, database), 0o600); err != nil {
		return until, behind, nil, errors.Join(fmt.Errorf("%s has nothing to be promoted", f.Data), behind)
	}
	return until, behind, release, nil
}

// catchUp applies all that the folder holds.
func (f *Follower) catchUp(ctx context.Context) error {
	at := filepath.Join(f.Data, database)
	head, err := reserve.HeadOf(string(f.From))
	if err != nil {
		return err
	}
	r := litestream.NewReplicaWithClient(nil, file.NewReplicaClient(f.From.Database()))
	var goal uint64
	for level := 0; level <= litestream.SnapshotLevel; level++ {
		info, err := r.MaxLTXFileInfo(ctx, level)
		if err != nil {
			return err
		}
		goal = max(goal, uint64(info.MaxTXID))
	}
	ctx, stop := context.WithTimeout(ctx, 10*time.Minute)
	defer stop()
	ended := make(chan error, 1)
	go func() { ended <- f.database(ctx, 20*time.Millisecond) }()
	for {
		now, err := litestream.ReadTXIDFile(at)
		if err == nil && uint64(now) >= goal {
			break
		}
		select {
		case err := <-ended:
			return errors.Join(err, fmt.Errorf("it got as far as transaction %d of %d", now, goal))
		case <-time.After(20 * time.Millisecond):
		}
	}
	stop()
	if err := <-ended; err != nil {
		return err
	}
	if err := os.MkdirAll(reserve.PicturesOf(f.Data), 0o700); err != nil {
		return err
	}
	if _, err := reserve.Copied(context.WithoutCancel(ctx), f.From.Pictures(), reserve.PicturesOf(f.Data)); err != nil {
		return err
	}
	return errors.Join(reserve.Dropped(f.From.Pictures(), reserve.PicturesOf(f.Data)), reserve.PutHead(f.Data, head))
}

// Clear takes away what following needed, once a folder stands by itself.
func Clear(data string) error {
	return errors.Join(removeIfThere(litestream.TXIDPath(filepath.Join(data, database))), removeIfThere(filepath.Join(data, reserve.FollowsFile)))
}

func removeIfThere(path string) error {
	if err := os.Remove(path); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return nil
}
