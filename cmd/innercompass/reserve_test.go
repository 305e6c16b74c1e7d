package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"
)

// asCommand makes the test's own program run as the command, so that one can be killed, and start others of its kind.
const asCommand = "COMPASS_AS_COMMAND"

func TestMain(m *testing.M) {
	if os.Getenv(asCommand) != "" {
		main()
		return
	}
	os.Exit(m.Run())
}

// process is the command, running; with what it has started it is a group of its own.
type process struct {
	cmd *exec.Cmd
	out lines
}

func start(t *testing.T, input string, args ...string) *process {
	t.Helper()
	self, err := os.Executable()
	if err != nil {
		t.Fatal(err)
	}
	p := &process{cmd: exec.Command(self, args...)}
	p.cmd.Env = append(os.Environ(), asCommand+"=1")
	p.cmd.Stdin, p.cmd.Stdout, p.cmd.Stderr = strings.NewReader(input), &p.out, &p.out
	p.cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	if err := p.cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { p.kill(true) })
	return p
}

// kill ends it at once: it alone, as a program that crashes, or all that it has started too, as a machine that loses its power.
func (p *process) kill(all bool) {
	pid := p.cmd.Process.Pid
	if all {
		pid = -pid
	}
	_ = syscall.Kill(pid, syscall.SIGKILL)
	_ = p.cmd.Wait()
}

func (p *process) wait() (string, error) {
	err := p.cmd.Wait()
	p.out.mu.Lock()
	defer p.out.mu.Unlock()
	return p.out.text.String(), err
}

// serving starts a server and says where it is.
func serving(t *testing.T, args ...string) (*process, string) {
	t.Helper()
	p := start(t, "", append([]string{"serve", "--addr", "127.0.0.1:0", "--log-level", "error"}, args...)...)
	return p, p.out.find(t, `ready on (http://\S+)`) + "/api"
}

func post(url, revision string, in any) (int, []byte) {
	body, err := json.Marshal(in)
	if err != nil {
		return 0, nil
	}
	method := http.MethodPost
	if revision != "" {
		method = http.MethodPut
	}
	r, err := http.NewRequestWithContext(context.Background(), method, url, bytes.NewReader(body))
	if err != nil {
		return 0, nil
	}
	r.Header.Set("Content-Type", "application/json")
	if revision != "" {
		r.Header.Set("If-Match", revision)
	}
	w, err := http.DefaultClient.Do(r)
	if err != nil {
		return 0, nil
	}
	defer w.Body.Close()
	out, err := io.ReadAll(w.Body)
	if err != nil {
		return 0, nil
	}
	return w.StatusCode, out
}

type object = map[string]any

func vehicle(t *testing.T, url string, n int) string {
	t.Helper()
	code, data := post(url+"/cases", "", object{"words": "It slips uphill once it is warm", "vehicle": fmt.Sprintf("Van %d", n), "customer": "C", "unit": "norrad-h4", "distance": "142310 km"})
	var made struct{ Head struct{ ID string } }
	if err := json.Unmarshal(data, &made); err != nil || code != 201 {
		t.Fatalf("%d %v %.200s", code, err, data)
	}
	return made.Head.ID
}

// reserveOf is how the first machine sees its reserve.
type reserveOf struct {
	At                   time.Time
	Late, Keys, Promoted bool
	Why                  string
	Pictures             int
}

func reserveAt(t *testing.T, url string) reserveOf {
	t.Helper()
	w, err := http.Get(url + "/backup") //nolint:noctx // of this machine
	if err != nil {
		t.Fatal(err)
	}
	defer w.Body.Close()
	var out struct{ Reserve reserveOf }
	if err := json.NewDecoder(w.Body).Decode(&out); err != nil {
		t.Fatal(err)
	}
	return out.Reserve
}

// until waits for something to become so.
func until(t *testing.T, what string, so func() bool) {
	t.Helper()
	for end := time.Now().Add(30 * time.Second); !so(); time.Sleep(100 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("not in half a minute: %s", what)
		}
	}
}

const phrase = "seventeen wet gaskets"

func promote(t *testing.T, dir, said string) (string, error) {
	t.Helper()
	return start(t, said, "reserve", "promote", "--data", dir).wait()
}

// The first machine is killed under load, with everything on it; the second is promoted, holds all but the last moment, once, and goes on. The first does not work
// beside it when it comes back.
func TestTheReserveTakesOverFromAKilledMachine(t *testing.T) {
	if testing.Short() {
		t.Skip("half a minute")
	}
	for _, c := range []struct {
		name string
		all  bool
		lose time.Duration // what was saved longer than this before the end is there
	}{{"the machine dies", true, 3 * time.Second}, {"the app dies", false, 0}} {
		t.Run(c.name, func(t *testing.T) {
			dir := t.TempDir()
			first, share, second := filepath.Join(dir, "first"), filepath.Join(dir, "share"), filepath.Join(dir, "second")
			if err := os.Mkdir(share, 0o700); err != nil {
				t.Fatal(err)
			}
			one, url := serving(t, "--data", first, "--reserve", share)
			if code, data := post(url+"/backup", "0", object{"folder": filepath.Join(dir, "backup"), "every": 24, "keep": 3, "encrypted": false, "passphrase": phrase}); code != 200 {
				t.Fatalf("%d %s", code, data)
			}
			until(t, "the keys are in the folder", func() bool { return reserveAt(t, url).Keys })
			follows := start(t, "", "reserve", "follow", "--from", share, "--data", second)
			follows.out.find(t, "(follows; holds)")
			if _, err := runCLI("serve", "--data", second, "--addr", "127.0.0.1:0"); err == nil || !strings.Contains(err.Error(), "promote it first") {
				t.Errorf("a folder that follows was served: %v", err)
			}
			cases := []string{vehicle(t, url, 1), vehicle(t, url, 2), vehicle(t, url, 3)}
			saved := load(url, cases, 4*time.Second, func() { one.kill(c.all) })
			ended := time.Now()
			if !c.all { // what feeds the folder sees its input end, brings the rest, and ends
				time.Sleep(3 * time.Second)
			}
			if out, err := promote(t, second, "another phrase entirely"); err == nil || !strings.Contains(out, "does not open") {
				t.Errorf("promoted by a wrong passphrase: %s", out)
			}
			began := time.Now()
			if out, err := promote(t, second, phrase); err != nil {
				t.Fatalf("%v: %s", err, out)
			}
			took := time.Since(began)
			if out, err := follows.wait(); err != nil {
				t.Errorf("what followed did not end in order: %v, %s", err, out)
			}
			held := exported(t, second)
			lost, early, oldest := 0, 0, time.Duration(0)
			for note, at := range saved {
				switch n := strings.Count(held, `"`+note+`"`); {
				case n > 1:
					t.Errorf("%s is there %d times", note, n)
				case n == 0:
					lost++
					if age := ended.Sub(at); age > c.lose {
						early++
						oldest = max(oldest, age)
					}
				}
			}
			t.Logf("%d saved, %d lost; promoted in %v", len(saved), lost, took.Round(time.Millisecond))
			if early > 0 || len(saved) < 20 {
				t.Errorf("of %d saved %d are lost that were saved more than %v before, the oldest %v", len(saved), early, c.lose, oldest)
			}
			if out, err := start(t, "", "verify", "--data", second).wait(); err != nil {
				t.Errorf("%v: %s", err, out)
			}
			_, there := serving(t, "--data", second)
			vehicle(t, there, 4)
			if out, err := start(t, "", "serve", "--data", first, "--addr", "127.0.0.1:0", "--reserve", share).wait(); err == nil || !strings.Contains(out, "took over on") {
				t.Errorf("the first works beside the one that took over: %s", out)
			}
		})
	}
}

// load notes readings from four sides until the end, and reports when each was acknowledged.
func load(url string, cases []string, length time.Duration, end func()) map[string]time.Time {
	saved := map[string]time.Time{}
	var mu sync.Mutex
	var all sync.WaitGroup
	over := make(chan struct{})
	for w := range 4 {
		all.Add(1)
		go func() {
			defer all.Done()
			for n := 0; ; n++ {
				select {
				case <-over:
					return
				default:
				}
				note := fmt.Sprintf("note %d-%d", w, n)
				code, _ := post(url+"/cases/"+cases[(w+n)%len(cases)]+"/readings", "", object{"readings": []object{{"key": fmt.Sprintf("k%d-%d", w, n), "finding": "road.hot.D1.drives", "state": "normal", "source": "seen", "stage": "road", "note": note}}})
				if code == 200 {
					mu.Lock()
					saved[note] = time.Now()
					mu.Unlock()
				}
			}
		}()
	}
	time.Sleep(length)
	end()
	close(over)
	all.Wait()
	return saved
}

// exported are all readings of a folder.
func exported(t *testing.T, dir string) string {
	t.Helper()
	to := filepath.Join(t.TempDir(), "all.zip")
	if out, err := start(t, "", "export", "--data", dir, "--to", to).wait(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	return string(entries(t, to)["tables/readings.jsonl"])
}

// A folder that is not there is said, and fed again once it is; work without a reserve in between, pictures and what was erased get there; a machine that was
// replaced while it ran saves nothing more.
func TestTheReserveComesBackToTheFolder(t *testing.T) {
	if testing.Short() {
		t.Skip("half a minute")
	}
	dir := t.TempDir()
	first, share, second := filepath.Join(dir, "first"), filepath.Join(dir, "share"), filepath.Join(dir, "second")
	if err := os.Mkdir(share, 0o700); err != nil {
		t.Fatal(err)
	}
	one, url := serving(t, "--data", first, "--reserve", share)
	vehicle(t, url, 1)
	at := time.Now()
	until(t, "the first case is there", func() bool { return reserveAt(t, url).At.After(at) })
	if err := os.Rename(share, share+"-away"); err != nil {
		t.Fatal(err)
	}
	until(t, "the folder is missed", func() bool { r := reserveAt(t, url); return r.Late && r.Why != "" })
	if err := os.Mkdir(share, 0o700); err != nil { // where the share was mounted there is an empty folder
		t.Fatal(err)
	}
	until(t, "the feed is missed", func() bool { return strings.Contains(reserveAt(t, url).Why, "is the share mounted") })
	vehicle(t, url, 2)
	if left, err := os.ReadDir(share); err != nil || len(left) > 0 {
		t.Errorf("something was written where no share is mounted: %v %v", left, err)
	}
	if err := os.Remove(share); err != nil {
		t.Fatal(err)
	}
	if err := os.Rename(share+"-away", share); err != nil {
		t.Fatal(err)
	}
	at = time.Now()
	until(t, "it goes on", func() bool { r := reserveAt(t, url); return !r.Late && r.At.After(at) })
	stopped(t, one)
	alone, url := serving(t, "--data", first)
	vehicle(t, url, 3)
	stopped(t, alone)
	again, url := serving(t, "--data", first, "--reserve", share)
	defer again.kill(true)
	picture := strings.Repeat("d", 64)
	if err := os.WriteFile(filepath.Join(first, "files", picture), []byte("x"), 0o600); err != nil {
		t.Fatal(err)
	}
	until(t, "a picture that is not what its name says is refused", func() bool { return strings.Contains(reserveAt(t, url).Why, "not what its name says") })
	if err := os.Remove(filepath.Join(first, "files", picture)); err != nil {
		t.Fatal(err)
	}
	at = time.Now()
	until(t, "it goes on", func() bool { r := reserveAt(t, url); return !r.Late && r.At.After(at) })
	// Promoted although nothing followed, and while the first still runs.
	follows := start(t, "", "reserve", "follow", "--from", share, "--data", second)
	follows.out.find(t, "(follows; holds)")
	if out, err := start(t, "", "reserve", "promote", "--data", second).wait(); err == nil || !strings.Contains(out, "holds no keys") {
		t.Errorf("without keys: %s", out)
	}
	if out, err := start(t, "", "reserve", "promote", "--data", second, "--without-keys").wait(); err != nil || !strings.Contains(out, "came without keys") {
		t.Fatalf("%v %s", err, out)
	}
	until(t, "the first knows", func() bool { return reserveAt(t, url).Promoted })
	if code, data := post(url+"/cases", "", object{"words": "It slips", "vehicle": "Van 9", "customer": "C", "unit": "norrad-h4"}); code != http.StatusConflict || !strings.Contains(string(data), "another machine") {
		t.Errorf("a machine that was replaced saves: %d %s", code, data)
	}
	_, there := serving(t, "--data", second)
	w, err := http.Get(there + "/cases") //nolint:noctx // of this machine
	if err != nil {
		t.Fatal(err)
	}
	defer w.Body.Close()
	text, err := io.ReadAll(w.Body)
	if err != nil {
		t.Fatal(err)
	}
	for n := 1; n <= 3; n++ {
		if !strings.Contains(string(text), fmt.Sprintf("Van %d", n)) {
			t.Errorf("van %d is missing", n)
		}
	}
}

func stopped(t *testing.T, p *process) {
	t.Helper()
	began := time.Now()
	_ = p.cmd.Process.Signal(syscall.SIGTERM)
	if out, err := p.wait(); err != nil || time.Since(began) > 8*time.Second {
		t.Fatalf("%v after %v: %s", err, time.Since(began), out)
	}
}
