package soak

import (
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
)

// disk is a file system of its own, of so many megabytes; only root may make one.
func disk(t *testing.T, megabytes int) string {
	t.Helper()
	at := t.TempDir()
	if err := syscall.Mount("tmpfs", at, "tmpfs", 0, fmt.Sprintf("size=%dm", megabytes)); err != nil {
		t.Skipf("a file system of its own is made by root alone: %v", err)
	}
	t.Cleanup(func() {
		if err := syscall.Unmount(at, syscall.MNT_DETACH); err != nil {
			t.Error(err)
		}
	})
	return at
}

// note adds a reading with a note of its own.
func (p *person) note(id, key, note string) (int, string) {
	code, data, err := p.do("POST", "/cases/"+id+"/readings", object{"readings": []object{{"key": key, "finding": "road.hot.D1.drives", "state": "normal", "source": "seen", "stage": "road", "note": note}}})
	if err != nil {
		return 0, err.Error()
	}
	return code, string(data)
}

// The drive fills up while people work: what cannot be saved is said, what was saved stays, the pages go on, and once there is room work does too.
func TestAFullDisk(t *testing.T) {
	minutes(t)
	at := disk(t, 24)
	dir := filepath.Join(at, "data")
	a := run(t, "serve", dir)
	defer a.kill()
	p := a.person()
	id := p.open(t, 1)
	ballast := filepath.Join(at, "ballast")
	f, err := os.Create(ballast)
	if err != nil {
		t.Fatal(err)
	}
	for block := make([]byte, 4096); err == nil; {
		_, err = f.Write(block)
	}
	end, _ := f.Seek(0, io.SeekEnd)
	if err := errors.Join(f.Truncate(end-400<<10), f.Close()); err != nil { // room for some notes more
		t.Fatal(err)
	}
	saved, refused := []string{}, 0
	for n := 0; refused < 20 && n < 2000; n++ {
		note := fmt.Sprintf("note %d %s", n, strings.Repeat("x", 1500))
		switch code, said := p.note(id, fmt.Sprintf("k%d", n), note); {
		case code == 200:
			saved = append(saved, note)
		case code == 507 && strings.Contains(said, "full"):
			refused++
		default:
			t.Fatalf("note %d: %d %.300s", n, code, said)
		}
	}
	if refused < 20 {
		t.Fatalf("%d notes were saved on a drive without room", len(saved))
	}
	if code, data, err := p.do("GET", "/cases/"+id, nil); err != nil || code != 200 {
		t.Errorf("the case is not shown: %d %v %.200s", code, err, data)
	}
	if _, data, err := p.do("GET", "/health", nil); err != nil || !strings.Contains(string(data), `"failing"`) {
		t.Errorf("health: %v %s", err, data)
	}
	if err := os.Remove(ballast); err != nil {
		t.Fatal(err)
	}
	if code, said := p.note(id, "after", "note after"); code != 200 {
		t.Errorf("with room again: %d %.200s", code, said)
	}
	if took := a.stop(); took > 6*time.Second {
		t.Errorf("it took %v to stop", took)
	}
	rows := readingsOf(t, dir)
	for _, note := range append(saved, "note after") {
		if n := strings.Count(rows, `"`+note+`"`); n != 1 {
			t.Errorf("%.12s… is there %d times", note, n)
		}
	}
	t.Logf("%d notes saved before it was full, %d refused", len(saved), refused)
	if out, err := command(t, "verify", "--data", dir).CombinedOutput(); err != nil {
		t.Errorf("%v: %s", err, out)
	}
}

// A drive that can only be read is refused in words, and nothing on it is changed.
func TestADriveThatCanOnlyBeRead(t *testing.T) {
	minutes(t)
	at := disk(t, 24)
	dir := filepath.Join(at, "data")
	a := run(t, "serve", dir)
	id := a.person().open(t, 1)
	a.stop()
	if err := syscall.Mount("", at, "", syscall.MS_REMOUNT|syscall.MS_RDONLY, ""); err != nil {
		t.Fatal(err)
	}
	out, err := command(t, "serve", "--data", dir, "--addr", "127.0.0.1:0").CombinedOutput()
	if err == nil || !strings.Contains(string(out), "can only be read") || !strings.Contains(string(out), "make it writable") {
		t.Errorf("%v: %s", err, out)
	}
	if err := syscall.Mount("", at, "", syscall.MS_REMOUNT, "size=24m"); err != nil {
		t.Fatal(err)
	}
	a = run(t, "serve", dir)
	defer a.kill()
	if code, said := a.person().note(id, "k", "writable again"); code != 200 {
		t.Errorf("%d %s", code, said)
	}
}
