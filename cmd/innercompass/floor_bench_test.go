package main

import (
	"bufio"
	"context"
	"database/sql"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	_ "github.com/mattn/go-sqlite3"

	"innercompass/internal/app"
	"innercompass/internal/catalog"
	"innercompass/internal/demo"
	"innercompass/internal/store"
	embedded "innercompass/knowledge"
)

// A shop after many years: most of its cases are closed.
const (
	floorCases = 20_000
	floorOpen  = 2_000
)

// BenchmarkFloorOfManyYears starts the built server on a folder with many cases and asks it over HTTP for the first page and
// for a search, each time another one. Aims: 50 ms at the 95th percentile, 1 s until it answers, 300 MB.
func BenchmarkFloorOfManyYears(b *testing.B) {
	bin := filepath.Join(b.TempDir(), "innercompass")
	if out, err := exec.Command("go", "build", "-o", bin, ".").CombinedOutput(); err != nil {
		b.Fatalf("%v\n%s", err, out)
	}
	dir := filepath.Join(b.TempDir(), "shop")
	manyYears(b, dir)

	from := time.Now()
	cmd := exec.Command(bin, "serve", "--data", dir, "--addr", "127.0.0.1:0")
	said, err := cmd.StdoutPipe()
	if err != nil {
		b.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		b.Fatal(err)
	}
	defer func() {
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
	}()
	line, err := bufio.NewReader(said).ReadString('\n')
	if err != nil {
		b.Fatal(err)
	}
	_, at, ok := strings.Cut(strings.TrimSpace(line), "ready on ")
	if !ok {
		b.Fatalf("the server says %q", line)
	}
	ask(b, at+"/api/health")
	start := time.Since(from)

	var pages, searches []float64
	for i := 0; b.Loop(); i++ {
		pages = append(pages, ask(b, at+"/api/cases"))
		searches = append(searches, ask(b, fmt.Sprintf("%s/api/cases?closed=%t&q=van+%d", at, i%2 == 0, i%floorCases)))
	}
	b.ReportMetric(p95(pages), "page-p95-ms")
	b.ReportMetric(p95(searches), "search-p95-ms")
	b.ReportMetric(float64(start.Milliseconds()), "start-ms")
	b.ReportMetric(peak(b, cmd.Process.Pid), "peak-MB")
}

// ask gets an address and returns how long that took in milliseconds.
func ask(b *testing.B, url string) float64 {
	from := time.Now()
	r, err := http.Get(url)
	if err != nil {
		b.Fatal(err)
	}
	defer func() { _ = r.Body.Close() }()
	if n, err := io.Copy(io.Discard, r.Body); err != nil || n == 0 || r.StatusCode != http.StatusOK {
		b.Fatalf("%s: %d, %d bytes, %v", url, r.StatusCode, n, err)
	}
	return float64(time.Since(from).Microseconds()) / 1000
}

func p95(ms []float64) float64 {
	slices.Sort(ms)
	return ms[len(ms)*95/100]
}

// peak is the most memory that a process has held, in MB; 0 where the system does not tell.
func peak(b *testing.B, pid int) float64 {
	if runtime.GOOS != "linux" {
		return 0
	}
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil {
		b.Fatal(err)
	}
	for line := range strings.Lines(string(status)) {
		if f := strings.Fields(line); f[0] == "VmHWM:" {
			kb, err := strconv.ParseFloat(f[1], 64)
			if err != nil {
				b.Fatal(err)
			}
			return kb / 1024
		}
	}
	b.Fatal("no VmHWM in the status of the process")
	return 0
}

// manyYears fills a folder with the demo's cases, over and over, each with its readings and its row of the Floor.
func manyYears(b *testing.B, dir string) {
	library, err := catalog.Load(embedded.FS)
	if err != nil {
		b.Fatal(err)
	}
	st, err := store.Open(dir)
	if err != nil {
		b.Fatal(err)
	}
	s := app.New(st, library)
	if err := demo.Fill(context.Background(), s); err != nil {
		b.Fatal(err)
	}
	if err := st.Close(); err != nil {
		b.Fatal(err)
	}
	db, err := sql.Open("sqlite3", filepath.Join(dir, "compass.db"))
	if err != nil {
		b.Fatal(err)
	}
	defer func() { _ = db.Close() }()
	db.SetMaxOpenConns(1) // the list of the new cases is a table of one connection
	var shown int
	if err := db.QueryRow(`SELECT count(*) FROM cases`).Scan(&shown); err != nil {
		b.Fatal(err)
	}
	for _, step := range []string{
		`CREATE TEMP TABLE many AS WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ` + strconv.Itoa(floorCases-shown) + `)
			SELECT i, printf('many%08d', i) AS id, of FROM n JOIN (SELECT id AS of, row_number() OVER (ORDER BY id) - 1 AS at FROM cases) ON at = i % ` + strconv.Itoa(shown),
		`INSERT INTO cases SELECT m.id, c.words, c.vehicle || ' ' || m.i, c.customer, c.distance, c.unit_id, c.unit_ver, c.stage, c.access, c.bay, c.owner, c.waits_for,
			strftime('%Y-%m-%d %H:%M:%f+00:00', c.opened, '-' || m.i || ' hours'), CASE WHEN m.i > ` + strconv.Itoa(floorOpen) + ` THEN c.opened END, c.root, c.outcome, c.rev, '', '', '', '', c.damages, c.cured_by, c.learnt
			FROM many m JOIN cases c ON c.id = m.of`,
		`INSERT INTO floor SELECT m.id, f.vehicle_key || ' ' || m.i, f.customer_key, f.search || ' ' || m.i, f.found, f.rev, f.basis, f.unit_name, f.rose, f.leader, f.doubt, f.next, f.next_note, f.suspect, f.share
			FROM many m JOIN floor f ON f.case_id = m.of`,
		`INSERT INTO readings SELECT m.id || r.seq, m.id, r.seq, m.id || r.key, r.finding, r.state, r.source, r.stage, r.check_id, r.value, r.note, r.likelihood, r.person, r.at,
			CASE WHEN r.withdraws = '' THEN '' ELSE m.id || (SELECT w.seq FROM readings w WHERE w.id = r.withdraws) END, r.measurement
			FROM many m JOIN readings r ON r.case_id = m.of`,
	} {
		if _, err := db.Exec(step); err != nil {
			b.Fatal(err)
		}
	}
	var open, all int
	if err := db.QueryRow(`SELECT count(*) FILTER (WHERE closed IS NULL), count(*) FROM cases`).Scan(&open, &all); err != nil || all != floorCases || open < floorOpen {
		b.Fatalf("%d cases, %d open: %v", all, open, err)
	}
}
