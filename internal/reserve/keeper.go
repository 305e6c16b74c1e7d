package reserve

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os/exec"
	"strings"
	"sync"
	"time"

	"innercompass/internal/backup"
)

// Round is one round of the feeder.
type Round struct {
	At       time.Time `json:"at"`   // everything that was saved before is in the folder
	Took     float64   `json:"took"` // seconds
	Pictures int       `json:"pictures"`
	Why      string    `json:"why,omitempty"` // what did not come along
}

// State is how a reserve stands, as the machine that feeds it sees it.
type State struct {
	Folder   string
	At       time.Time // everything that was saved before is in the folder; zero when nothing is
	Pictures int
	Keys     bool   // they are there, under the backup's passphrase
	Why      string // what is wrong, if anything
	Promoted bool   // it took over: this machine must not go on
}

// Keeper feeds a folder while the app runs, by a process beside it.
type Keeper struct {
	Folder Folder
	Data   string
	Secret func(ctx context.Context) (*backup.Secret, error)
	// Command makes the feeder's process, bound to a context: it writes rounds to standard output, a JSON object a line, and ends when its standard input does.
	Command func(ctx context.Context) *exec.Cmd
	Log     *slog.Logger

	mu    sync.Mutex
	state State
	keys  string // which keys lie in the folder
}

// Late is how long nothing may have come from the feeder before somebody should look.
const Late = 30 * time.Second

// State is how it stands; nothing where no reserve is kept.
func (k *Keeper) State() State {
	if k == nil {
		return State{}
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	out := k.state
	out.Folder = string(k.Folder)
	return out
}

func (k *Keeper) set(change func(s *State)) {
	k.mu.Lock()
	defer k.mu.Unlock()
	change(&k.state)
}

// Run feeds until ctx ends. A feeder that fails is started again, later each time, up to half a minute.
func (k *Keeper) Run(ctx context.Context) {
	wait := time.Second
	for {
		began := time.Now()
		err := k.once(ctx)
		if ctx.Err() != nil {
			return
		}
		var gone *PromotedError
		if errors.As(k.Folder.Check(), &gone) {
			k.set(func(s *State) { s.Promoted, s.Why = true, gone.Error() })
			k.Log.Error("reserve", "why", gone.Error())
			return
		}
		k.set(func(s *State) { s.Why = err.Error() })
		k.Log.Error("reserve", "why", err.Error())
		if time.Since(began) > time.Minute {
			wait = time.Second
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
		wait = min(2*wait, 30*time.Second)
	}
}

// once runs one feeder until it ends.
func (k *Keeper) once(ctx context.Context) error {
	cmd := k.Command(ctx)
	in, err := cmd.StdinPipe()
	if err != nil {
		return err
	}
	out, err := cmd.StdoutPipe()
	if err != nil {
		return err
	}
	// It ends with the app, killed or not: its input ends then. Stopped in order, it has time for one more round.
	cmd.Cancel, cmd.WaitDelay = in.Close, 4*time.Second
	var said tail
	cmd.Stderr = &said
	if err := cmd.Start(); err != nil {
		return err
	}
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		var r Round
		if err := json.Unmarshal(lines.Bytes(), &r); err != nil {
			continue
		}
		why := r.Why
		keys, err := k.sealed(ctx)
		if err != nil {
			why = "the keys cannot be put into the folder: " + err.Error()
		}
		k.set(func(s *State) { s.At, s.Pictures, s.Keys, s.Why = r.At, r.Pictures, keys, why })
	}
	if err := cmd.Wait(); err != nil {
		return fmt.Errorf("the feeder ended: %s", said.or(err))
	}
	return errors.New("the feeder ended")
}

// sealed puts the keys into the folder when they, or who can read them, have changed; without a passphrase of a backup they stay at home.
func (k *Keeper) sealed(ctx context.Context) (bool, error) {
	secret, err := k.Secret(ctx)
	if err != nil || secret == nil {
		return false, err
	}
	s, err := backup.SealKeys(k.Data, secret, k.keys)
	if err != nil || s.Keys == nil {
		return err == nil, err
	}
	// The other half first: keys that nothing opens would be worth nothing.
	if err := writeWhole(k.Folder.path(recoveryFile), s.Recovery); err != nil {
		return false, err
	}
	if err := writeWhole(k.Folder.path(keysFile), s.Keys); err != nil {
		return false, err
	}
	k.keys = s.Of
	return true, nil
}

// Keys reads the keys that lie in the folder; nil when there are none.
func (f Folder) Keys() (*backup.Sealed, error) {
	keys, err := readFile(f.path(keysFile))
	if err != nil || keys == nil {
		return nil, err
	}
	recovery, err := readFile(f.path(recoveryFile))
	if err != nil || recovery == nil {
		return nil, errors.Join(err, fmt.Errorf("%s is missing in %s: nothing opens the keys", recoveryFile, f))
	}
	return &backup.Sealed{Keys: keys, Recovery: recovery}, nil
}

// tail keeps the end of what a process said.
type tail struct{ text []byte }

var _ io.Writer = (*tail)(nil)

func (t *tail) Write(p []byte) (int, error) {
	t.text = append(t.text, p...)
	if len(t.text) > 4096 {
		t.text = t.text[len(t.text)-2048:]
	}
	return len(p), nil
}

func (t *tail) or(err error) string {
	if said := strings.TrimSpace(string(t.text)); said != "" {
		lines := strings.Split(said, "\n")
		return lines[len(lines)-1]
	}
	return err.Error()
}
