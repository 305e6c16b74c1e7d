package store

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"

	"innercompass/internal/floor"
	"innercompass/internal/problem"
)

// old makes a folder as an app of before left it: its tables up to a step, a case with readings, without a transaction around
// the steps.
func old(t *testing.T, dir, upTo string) {
	t.Helper()
	db, err := open(filepath.Join(dir, database), "&_txlock=immediate", 1)
	if err != nil {
		t.Fatal(err)
	}
	if err := gormigrate.New(db, gormigrate.DefaultOptions, migrations).MigrateTo(upTo); err != nil {
		t.Fatal(err)
	}
	if err := db.Exec(`INSERT INTO cases (id, words, vehicle, customer, distance, unit_id, unit_ver, stage, access, bay, owner, waits_for, opened, root, outcome, rev)
		VALUES ('c1', 'It slips', 'Ferry shuttle', 'the ferry', '', 'norrad-h4', 1, 'checks', 'ground', '', '', '', ?, '', '', 30)`, time.Now().UTC()).Error; err != nil {
		t.Fatal(err)
	}
	for i := range 30 {
		if err := db.Exec(`INSERT INTO readings (id, case_id, seq, key, finding, state, source, stage, check_id, value, note, likelihood, person, at, withdraws)
			VALUES (?, 'c1', ?, ?, 'end-play', 'above', 'measured', 'checks', '', '', ?, '', '', ?, '')`, fmt.Sprint("r", i), i+1, fmt.Sprint("k", i), `measured window:end-play {"value":"1.4 mm"}`, time.Now().UTC()).Error; err != nil {
			t.Fatal(err)
		}
	}
	if upTo >= "0007" {
		if err := db.Exec(`INSERT INTO records (id, case_id, seq, amends, why, person, at, content, digest) VALUES ('e-old', 'c1', 1, '', '', '', ?, '{}', 'd-old')`, time.Now().UTC()).Error; err != nil {
			t.Fatal(err)
		}
	}
	if err := closeDB(db); err != nil {
		t.Fatal(err)
	}
}

// TestHelperOpener is the process that is killed: it opens a folder and says when it is ready.
func TestHelperOpener(t *testing.T) {
	dir := os.Getenv("COMPASS_OPEN_DIR")
	if dir == "" {
		t.Skip("runs only as the child of TestKillsInsideAnUpgradeLoseNothing")
	}
	fmt.Println("opening")
	s, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	fmt.Println("ready")
	_, _ = io.Copy(io.Discard, os.Stdin)
	_ = s.Close()
}

// opener starts the process that opens a folder; it returns once that has begun.
func opener(t *testing.T, dir string) (*exec.Cmd, io.ReadCloser) {
	t.Helper()
	child := exec.Command(os.Args[0], "-test.run=TestHelperOpener$", "-test.v")
	child.Env = append(os.Environ(), "COMPASS_OPEN_DIR="+dir)
	out, err := child.StdoutPipe()
	if err == nil {
		_, err = child.StdinPipe() // so that it waits until it is killed
	}
	if err == nil {
		err = child.Start()
	}
	if err != nil {
		t.Fatal(err)
	}
	text := ""
	for buffer := make([]byte, 256); !strings.Contains(text, "opening"); {
		n, err := out.Read(buffer)
		if err != nil {
			t.Fatalf("%v: %s", err, text)
		}
		text += string(buffer[:n])
	}
	return child, out
}

// window is how long opening takes, from its beginning until it is ready.
func window(t *testing.T, dir string) time.Duration {
	t.Helper()
	child, out := opener(t, dir)
	begin := time.Now()
	text := ""
	for buffer := make([]byte, 256); !strings.Contains(text, "ready"); {
		n, err := out.Read(buffer)
		if err != nil {
			t.Fatalf("%v: %s", err, text)
		}
		text += string(buffer[:n])
	}
	took := time.Since(begin)
	_ = child.Process.Kill()
	_ = child.Wait()
	return took
}

// kills is how often a start is cut off: make test-race, and CI with it, asks for two hundred.
func kills(t *testing.T) int {
	t.Helper()
	n, err := strconv.Atoi(os.Getenv("COMPASS_KILLS"))
	if err != nil {
		return 24
	}
	return n
}

// A start that is cut off, at any moment of a first start or of an upgrade, leaves a folder that opens again with everything in
// it. The moments are spread over the time that opening takes.
func TestKillsInsideAnUpgradeLoseNothing(t *testing.T) {
	steps := []string{"", "0001-cases", "0003-gauges", "0004-measurements", "0007-estimates-records-photos"}
	prepared := map[string]string{}
	span := map[string]time.Duration{}
	for _, step := range steps {
		dir := t.TempDir()
		if step != "" {
			old(t, dir, step)
		}
		prepared[step] = dir
		try := t.TempDir()
		if err := os.CopyFS(try, os.DirFS(dir)); err != nil {
			t.Fatal(err)
		}
		span[step] = window(t, try)
	}
	random := rand.New(rand.NewPCG(4, 2))
	before, during := 0, 0
	for round := range kills(t) {
		step := steps[round%len(steps)]
		dir := t.TempDir()
		if err := os.CopyFS(dir, os.DirFS(prepared[step])); err != nil {
			t.Fatal(err)
		}
		child, _ := opener(t, dir)
		time.Sleep(time.Duration(random.Float64() * 1.1 * float64(span[step])))
		_ = child.Process.Kill()
		_ = child.Wait()
		if left, _ := filepath.Glob(filepath.Join(dir, newPrefix+"*")); len(left) > 0 {
			during++
		}
		if wal, err := os.Stat(filepath.Join(dir, database+"-wal")); err == nil && wal.Size() > 0 {
			during++
		}
		before++
		s, err := Open(dir)
		if err != nil {
			t.Fatalf("round %d, after a kill at %q: %v", round, step, err)
		}
		if step != "" {
			c, err := s.Case(ctx, "c1")
			if err != nil || len(c.Readings) != 30 || step < "0004" && len(c.Measurements) != 30 || c.Words != "It slips" {
				t.Fatalf("round %d, after a kill at %q: %d readings, %d measurements, %v", round, step, len(c.Readings), len(c.Measurements), err)
			}
			page, err := s.Floor(ctx, floor.Query{Limit: 5, Search: "ferry"})
			if err != nil || len(page.Rows) != 1 {
				t.Fatalf("round %d: the Floor has %d rows, %v", round, len(page.Rows), err)
			}
		}
		if step >= "0007" && !signedNow(t, s, "d-old") {
			t.Fatalf("round %d: the record of before is not signed", round)
		}
		if err := create(s, sample("c2")); err != nil {
			t.Fatalf("round %d: the folder cannot be written: %v", round, err)
		}
		if left, _ := filepath.Glob(filepath.Join(dir, newPrefix+"*")); len(left) > 0 {
			t.Errorf("round %d: %v are left", round, left)
		}
		if err := s.Close(); err != nil {
			t.Fatal(err)
		}
	}
	if during*10 < before {
		t.Errorf("only %d of %d kills fell inside: the test aims badly", during, before)
	}
}

// A folder that an app of before left in the middle of a step, since it ran its statements one by one: the step is finished.
func TestWhatAnOlderAppLeftHalfDoneIsFinished(t *testing.T) {
	cuts := 0
	defer func() {
		if cuts < 15 {
			t.Errorf("only %d of the statements were cut off after", cuts)
		}
	}()
	for cut := 1; cut <= 60; cut++ {
		dir := t.TempDir()
		old(t, dir, "0003-gauges")
		db, err := open(filepath.Join(dir, database), "&_txlock=immediate", 1)
		if err != nil {
			t.Fatal(err)
		}
		done := 0
		stop := errors.New("killed here")
		// The statements of the steps that follow run as they did, without a transaction, until one of them is the last.
		limited := db.Session(&gorm.Session{})
		err = limited.Callback().Raw().Before("gorm:raw").Register("kill", func(tx *gorm.DB) {
			if sql := tx.Statement.SQL.String(); !strings.Contains(sql, "migrations") && !strings.HasPrefix(sql, "SELECT") {
				if done++; done > cut {
					_ = tx.AddError(stop)
				}
			}
		})
		if err != nil {
			t.Fatal(err)
		}
		err = gormigrate.New(limited, gormigrate.DefaultOptions, migrations).Migrate()
		if err == nil {
			_ = closeDB(db)
			break // all of it ran
		}
		cuts++
		if err := closeDB(db); err != nil {
			t.Fatal(err)
		}
		s, err := Open(dir)
		if err != nil {
			t.Fatalf("cut off after statement %d: %v", cut, err)
		}
		if c, err := s.Case(ctx, "c1"); err != nil || len(c.Readings) != 30 || len(c.Measurements) != 30 || c.Readings[0].Measurement == "" {
			t.Errorf("cut off after statement %d: %d readings, %d measurements, %v", cut, len(c.Readings), len(c.Measurements), err)
		}
		if err := s.Close(); err != nil {
			t.Fatal(err)
		}
	}
}

// Whatever is wrong with a folder is told apart at the start, with what to do, and nothing in it is changed.
func TestFoldersAreToldApart(t *testing.T) {
	whole := t.TempDir()
	s := open1(t, whole)
	for i := range 300 {
		if err := create(s, sample(fmt.Sprint("c", i))); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(whole, database)
	good, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	write := func(dir string, data []byte) {
		if err := os.WriteFile(filepath.Join(dir, database), data, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	exec := func(dir, sql string) {
		db, err := open(filepath.Join(dir, database), "", 1)
		if err == nil {
			err = errors.Join(db.Exec(sql).Error, closeDB(db))
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	for what, c := range map[string]struct {
		make   func(dir string)
		reason string
	}{
		"empty file":      {func(dir string) { write(dir, nil) }, "is empty"},
		"another file":    {func(dir string) { write(dir, []byte("Dear customer, this is a letter.")) }, "is not a database"},
		"blank beginning": {func(dir string) { write(dir, append(make([]byte, 4096), good[4096:]...)) }, "its beginning is blank"},
		"zeroed pages": {func(dir string) {
			data := bytes.Clone(good)
			clear(data[len(data)/3 : len(data)/3+5*4096])
			write(dir, data)
		}, "damaged"},
		"cut off": {func(dir string) { write(dir, good[:len(good)/2]) }, "damaged"},
		"a newer app's": {func(dir string) {
			write(dir, good)
			exec(dir, "INSERT INTO migrations (id) VALUES ('0999-from-the-future')")
		}, "newer Inner Compass"},
		"another program's": {func(dir string) { exec(dir, "CREATE TABLE invoices (id TEXT)") }, "another program"},
		"a folder in its place": {func(dir string) {
			if err := os.Mkdir(filepath.Join(dir, database), 0o700); err != nil {
				t.Fatal(err)
			}
		}, "is a folder"},
	} {
		dir := t.TempDir()
		c.make(dir)
		was, _ := os.ReadFile(filepath.Join(dir, database))
		s, err := Open(dir)
		var fe *FolderError
		if !errors.As(err, &fe) || !strings.Contains(err.Error(), c.reason) || fe.Do == "" {
			t.Errorf("%s: %v, want %q", what, err, c.reason)
		}
		if s != nil {
			_ = s.Close()
		}
		if now, _ := os.ReadFile(filepath.Join(dir, database)); !bytes.Equal(was, now) {
			t.Errorf("%s: the file was changed", what)
		}
	}
	if _, err := Open(filepath.Join(file, "below")); err == nil {
		t.Error("a folder below a file was opened")
	}
}

// Two servers on one folder would not know of each other: the second is told, and once the first is gone the folder is free.
func TestOneServerAFolder(t *testing.T) {
	dir := t.TempDir()
	first, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	var fe *FolderError
	if s, err := Open(dir); !errors.As(err, &fe) || !strings.Contains(err.Error(), "in use") {
		t.Errorf("%v %v", s, err)
	}
	if err := first.Close(); err != nil {
		t.Fatal(err)
	}
	second, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	_ = second.Close()
}

// A folder that is taken away under the app is noticed before anything is said to be saved.
func TestAFolderThatIsTakenAwayIsNoticed(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "shop")
	s := open1(t, dir)
	if err := create(s, sample("c1")); err != nil {
		t.Fatal(err)
	}
	if err := os.RemoveAll(dir); err != nil {
		t.Fatal(err)
	}
	var se *problem.StorageError
	if err := create(s, sample("c2")); !errors.As(err, &se) {
		t.Errorf("%v", err)
	}
}

// A copy is made before an upgrade, of everything, and only the last few are kept; nobody else can read the database.
func TestACopyIsMadeBeforeAnUpgrade(t *testing.T) {
	dir := t.TempDir()
	old(t, dir, "0007-estimates-records-photos")
	for _, name := range []string{"0001-a", "0002-b", "0003-c"} {
		if err := os.WriteFile(filepath.Join(dir, "compass.before-"+name+".db"), []byte("x"), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	_ = open1(t, dir).Close()
	copies, err := filepath.Glob(filepath.Join(dir, "compass.before-*.db"))
	if err != nil || len(copies) != mostCopies || strings.Contains(copies[0], "0001") {
		t.Fatalf("%v %v", copies, err)
	}
	back := t.TempDir()
	data, err := os.ReadFile(copies[len(copies)-1])
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(back, database), data, 0o644); err != nil {
		t.Fatal(err)
	}
	if c, err := open1(t, back).Case(ctx, "c1"); err != nil || len(c.Readings) != 30 {
		t.Errorf("put back, the copy has %d readings, %v", len(c.Readings), err)
	}
	for _, path := range []string{filepath.Join(back, database), filepath.Join(dir, database), copies[len(copies)-1]} {
		if info, err := os.Stat(path); err != nil || info.Mode().Perm() != 0o600 {
			t.Errorf("%s: %v %v", path, info.Mode(), err)
		}
	}
}
