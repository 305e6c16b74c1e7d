package soak

import (
	"context"
	"database/sql"
	"fmt"
	"math/rand/v2"
	"path/filepath"
	"strconv"
	"sync"
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
	dir := filepath.Join(b.TempDir(), "shop")
	manyYears(b, dir)
	from := time.Now()
	a := run(b, "serve", dir)
	defer a.kill()
	start := time.Since(from)
	p := a.person()
	var l times
	for i := 0; b.Loop(); i++ {
		l.ask(p, "page", "/cases")
		l.ask(p, "search", fmt.Sprintf("/cases?closed=%t&q=van+%d", i%2 == 0, i%floorCases))
	}
	if len(l.wrong) > 0 {
		b.Fatal(l.wrong)
	}
	b.ReportMetric(float64(l.at("page", 0.95).Microseconds())/1000, "page-p95-ms")
	b.ReportMetric(float64(l.at("search", 0.95).Microseconds())/1000, "search-p95-ms")
	b.ReportMetric(float64(start.Milliseconds()), "start-ms")
	b.ReportMetric(float64(a.memory()>>20), "peak-MB")
}

// ask gets an address and keeps how long that took.
func (l *times) ask(p *person, kind, path string) {
	began := time.Now()
	code, data, err := p.do("GET", path, nil)
	l.add(kind, time.Since(began), code, err, data)
}

// Twenty people in a shop of many years: the Floor, searches, and new vehicles with their readings among twenty thousand cases.
func TestTwentyThousandCases(t *testing.T) {
	minutes(t)
	dir := filepath.Join(t.TempDir(), "shop")
	manyYears(t, dir)
	from := time.Now()
	a := run(t, "serve", dir)
	defer a.kill()
	start := time.Since(from)
	ctx, stop := context.WithTimeout(t.Context(), time.Minute)
	defer stop()
	var l times
	var wg sync.WaitGroup
	before := processors()
	for i := range 20 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			p := a.person()
			rng := rand.New(rand.NewPCG(9, uint64(i)))
			id := p.open(t, i)
			for n := 0; ctx.Err() == nil; n++ {
				time.Sleep(time.Duration(rng.ExpFloat64() * float64(thinkingTime)))
				switch u := rng.Float64(); {
				case u < 0.4:
					l.ask(p, "floor", "/cases")
				case u < 0.6:
					l.ask(p, "search", fmt.Sprintf("/cases?closed=%t&q=van+%d", n%2 == 0, rng.IntN(floorCases)))
				default:
					began := time.Now()
					code, data, err := p.do("POST", "/cases/"+id+"/readings", object{"readings": []object{{"key": fmt.Sprintf("p%d-%d", i, n), "finding": cells[rng.IntN(6)], "state": "normal", "source": "seen", "stage": "road"}}})
					l.add("reading", time.Since(began), code, err, data)
				}
			}
		}()
	}
	wg.Wait()
	for kind := range l.of {
		t.Logf("%-8s %5d requests, median %v, p99 %v", kind, len(l.of[kind]), l.at(kind, 0.5).Round(time.Millisecond), l.at(kind, 0.99).Round(time.Millisecond))
	}
	t.Logf("%d cases; ready after %v; memory %d MB at most; %s", floorCases, start.Round(time.Millisecond), a.memory()>>20, processors().since(before))
	if len(l.wrong) > 0 || l.at("floor", 0.99) > floorGoal || l.at("reading", 0.99) > readingGoal || a.memory() > memoryGoal {
		t.Errorf("goals: the Floor %v, a reading %v, %d MB; wrong: %v", floorGoal, readingGoal, memoryGoal>>20, l.wrong)
	}
}

// manyYears fills a folder with the demo's cases, over and over, each with its readings and its row of the Floor.
func manyYears(b testing.TB, dir string) {
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
