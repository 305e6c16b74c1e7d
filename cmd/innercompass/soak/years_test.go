package soak

import (
	"cmp"
	"context"
	"database/sql"
	"fmt"
	"math/rand/v2"
	"path/filepath"
	"strconv"
	"strings"
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
	steps := []string{
		`CREATE TEMP TABLE many AS WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ` + strconv.Itoa(floorCases-shown) + `)
			SELECT i, printf('many%08d', i) AS id, of FROM n JOIN (SELECT id AS of, row_number() OVER (ORDER BY id) - 1 AS at FROM cases) ON at = i % ` + strconv.Itoa(shown),
		copied(b, db, "cases", "id", map[string]string{"id": "m.id", "vehicle": "c.vehicle || ' ' || m.i",
			"opened": "strftime('%Y-%m-%d %H:%M:%f+00:00', c.opened, '-' || m.i || ' hours')",
			"closed": "CASE WHEN m.i > " + strconv.Itoa(floorOpen) + " THEN c.opened END"}),
		copied(b, db, "floor", "case_id", map[string]string{"case_id": "m.id", "vehicle_key": "c.vehicle_key || ' ' || m.i", "search": "c.search || ' ' || m.i"}),
		copied(b, db, "readings", "case_id", map[string]string{"id": "m.id || c.seq", "case_id": "m.id", "key": "m.id || c.key",
			"withdraws": "CASE WHEN c.withdraws = '' THEN '' ELSE m.id || (SELECT w.seq FROM readings w WHERE w.id = c.withdraws) END"}),
	}
	for _, step := range steps {
		if _, err := db.Exec(step); err != nil {
			b.Fatal(err)
		}
	}
	var open, all int
	if err := db.QueryRow(`SELECT count(*) FILTER (WHERE closed IS NULL), count(*) FROM cases`).Scan(&open, &all); err != nil || all != floorCases || open < floorOpen {
		b.Fatalf("%d cases, %d open: %v", all, open, err)
	}
}

// copied copies the rows of a table for each of the many cases: all columns as they are, but for those that are given.
func copied(b testing.TB, db *sql.DB, table, by string, given map[string]string) string {
	b.Helper()
	rows, err := db.Query(`SELECT name FROM pragma_table_info(?)`, table)
	if err != nil {
		b.Fatal(err)
	}
	defer func() { _ = rows.Close() }()
	var names, values []string
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			b.Fatal(err)
		}
		names, values = append(names, `"`+name+`"`), append(values, cmp.Or(given[name], `c."`+name+`"`))
	}
	if err := rows.Err(); err != nil {
		b.Fatal(err)
	}
	return `INSERT INTO ` + table + ` (` + strings.Join(names, ", ") + `) SELECT ` + strings.Join(values, ", ") + ` FROM many m JOIN ` + table + ` c ON c.` + by + ` = m.of`
}
