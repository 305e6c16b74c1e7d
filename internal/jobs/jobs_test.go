package jobs_test

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"strings"
	"testing"
	"time"

	"innercompass/core/decide"
	"innercompass/core/job"
	"innercompass/core/workbench"
	"innercompass/core/workhours"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/jobs"
	"innercompass/internal/paper"
	"innercompass/internal/problem"
	"innercompass/internal/quoting"
	"innercompass/internal/readings"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
)

var ctx = context.Background()

// monday is the morning on which the tests plan.
var monday = time.Date(2026, 11, 30, 7, 0, 0, 0, time.UTC)

// planned is a shop on a Monday morning with a case whose direct clutch was seen burnt.
func planned(t *testing.T) (*app.App, string) {
	t.Helper()
	s := apptest.New(t)
	s.Now = func() time.Time { return monday }
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		t.Fatal(err)
	}
	st.Zone = "UTC"
	if _, err := s.Shop.SaveSettings(ctx, st); err != nil {
		t.Fatal(err)
	}
	id := apptest.TakenIn(t, s).Case.ID
	if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: "plates.DC", State: "burnt", Source: "seen", Stage: "teardown"}}); err != nil {
		t.Fatal(err)
	}
	return s, id
}

func settle(t *testing.T, s *app.App, id string, in jobs.Settled) jobs.Settled {
	t.Helper()
	out, err := s.Jobs.Settle(ctx, id, in)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func slot(t *testing.T, s *app.App, id string) (from, to time.Time, bay string) {
	t.Helper()
	w, err := s.Jobs.Week(ctx)
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range w.Slots {
		if x.Job == id {
			return x.From, x.To, w.Workshop.Bays[x.Bay]
		}
	}
	t.Fatalf("%s is not in the week", id)
	return
}

func TestAJobIsPlannedOnceSomebodySaysSo(t *testing.T) {
	s, id := planned(t)
	if w, err := s.Jobs.Week(ctx); err != nil || len(w.Slots) != 0 {
		t.Fatalf("before anything was settled: %v, %v", w.Slots, err)
	}
	kept := settle(t, s, id, jobs.Settled{Option: "pack.DC", By: "Marit"})
	from, _, _ := slot(t, s, id)
	// Nobody has ordered its parts: it comes in when they would be here, two days from Monday.
	if want := time.Date(2026, 12, 2, 8, 0, 0, 0, time.UTC); !from.Equal(want) {
		t.Errorf("it begins %s, its parts are here %s", from, want)
	}
	j, err := s.Jobs.Job(ctx, id, "")
	if err != nil {
		t.Fatal(err)
	}
	kept.Stock = map[string]jobs.Stock{}
	for _, p := range j.Plan.Parts {
		if p.Sure() {
			kept.Stock[p.ID] = jobs.Stock{State: "shelf"}
		}
	}
	kept.Bay, kept.Person = "Bay 2", ""
	kept = settle(t, s, id, kept)
	if from, _, bay := slot(t, s, id); !from.Equal(time.Date(2026, 11, 30, 8, 0, 0, 0, time.UTC)) || bay != "Bay 2" {
		t.Errorf("with all on the shelf it begins %s in %s", from, bay)
	}
	// What was settled stands only over what it was settled on.
	kept.Rev--
	if _, err := s.Jobs.Settle(ctx, id, kept); !errors.Is(err, problem.ErrChanged) {
		t.Errorf("over another's change: %v", err)
	}
}

func TestTheWorkThatWasAgreedIsTheJob(t *testing.T) {
	s, id := planned(t)
	if _, err := s.Quoting.Decide(ctx, id, cases.Guard{}, quoting.NewDecision{Option: "pack.DC", Choice: "accepted", How: "phone", Name: "A. Keeper"}); err != nil {
		t.Fatal(err)
	}
	j, err := s.Jobs.Job(ctx, id, "")
	if err != nil || !j.Agreed || j.Visit.Works[0].Option.ID != "pack.DC" || j.Slot == nil {
		t.Fatalf("agreed %v, %v, %v", j.Agreed, j.Visit.Works, err)
	}
	if !j.Promise.Start.Equal(j.Slot.From) || j.Promise.Nine.Before(j.Promise.Half) {
		t.Errorf("promised from %s, its place is from %s", j.Promise.Start, j.Slot.From)
	}
	other, err := s.Jobs.Job(ctx, id, "overhaul")
	if err != nil || other.Agreed || !other.Promise.Nine.After(j.Promise.Nine) {
		t.Errorf("an overhaul is promised %s, the pack %s, %v", other.Promise.Nine, j.Promise.Nine, err)
	}
	if _, err := s.Jobs.Job(ctx, id, "paint"); apptest.FieldOf(err) != "option" {
		t.Errorf("work that there is not: %v", err)
	}
	// Closed, it is out of the week.
	if _, err := s.Jobs.Settle(ctx, "nothing", jobs.Settled{}); err == nil {
		t.Error("a case that there is not")
	}
}

func TestAnOpenUnitHoldsItsBay(t *testing.T) {
	s, id := planned(t)
	settle(t, s, id, jobs.Settled{Option: "pack.DC"})
	level, bay := "unit-apart", "bay 2"
	if _, err := s.Intake.Update(ctx, id, cases.Guard{}, takein.Change{Access: &level, Bay: &bay}); err != nil {
		t.Fatal(err)
	}
	from, to, in := slot(t, s, id)
	if !from.Equal(time.Date(2026, 11, 30, 8, 0, 0, 0, time.UTC)) || in != "Bay 2" || to.Before(monday.AddDate(0, 0, 2)) {
		t.Errorf("it stands open in bay 2 and waits two days for its parts; planned %s to %s in %s", from, to, in)
	}
}

func TestWhatCannotBeSettledIsRefused(t *testing.T) {
	s, id := planned(t)
	for field, in := range map[string]jobs.Settled{
		"option": {Option: "paint"}, "bay": {Bay: "Bay 9"}, "person": {Person: "Nobody"}, "from": {From: "tomorrow"}, "due": {Due: "Friday"},
		"stock.dc-pack": {Stock: map[string]jobs.Stock{"dc-pack": {State: "lost"}}}, "stock.x": {Stock: map[string]jobs.Stock{"x": {State: "here"}}}, "stock.kit.seals": {Stock: map[string]jobs.Stock{"kit.seals": {State: "ordered", Due: "soon"}}},
	} {
		if _, err := s.Jobs.Settle(ctx, id, in); apptest.FieldOf(err) != field {
			t.Errorf("%+v: %v, want a problem of %s", in, err, field)
		}
	}
	settle(t, s, id, jobs.Settled{Option: "pack.DC", Stock: map[string]jobs.Stock{"kit.seals": {State: "ordered", Due: "2026-12-03"}}})
}

func TestTheWorkshopIsCheckedAndKept(t *testing.T) {
	s := apptest.New(t)
	w, err := s.Shop.Workshop(ctx)
	if err != nil || len(w.Bays) == 0 || len(w.People) == 0 {
		t.Fatalf("%+v, %v", w, err)
	}
	good := w
	good.Bays = []string{"Left", "Right"}
	if w, err = s.Shop.SaveWorkshop(ctx, good); err != nil || w.Rev != 1 || w.Bay("left") != 0 || w.Bay("Bay 1") != -1 {
		t.Fatalf("%+v, %v", w, err)
	}
	if _, err = s.Shop.SaveWorkshop(ctx, good); !errors.Is(err, problem.ErrChanged) {
		t.Errorf("over another's change: %v", err)
	}
	for field, change := range map[string]func(*shop.Workshop){
		"bays": func(w *shop.Workshop) { w.Bays = nil }, "people[1]": func(w *shop.Workshop) { w.People = []string{"A", "A"} }, "closed[0]": func(w *shop.Workshop) { w.Closed = []string{"Christmas"} },
		"lead": func(w *shop.Workshop) { w.Lead = -1 }, "restock": func(w *shop.Workshop) { w.Restock = 2 }, "days": func(w *shop.Workshop) { w.Days = [7]workhours.Span{} },
	} {
		bad := w
		change(&bad)
		if _, err := s.Shop.SaveWorkshop(ctx, bad); apptest.FieldOf(err) != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	for _, text := range []string{"8", "25:00", "08:60", "-1:00"} {
		if _, err := shop.ReadSpan("break", text, "17:00"); apptest.FieldOf(err) != "break" {
			t.Errorf("%q: %v", text, err)
		}
	}
}

// The list of the bench goes into the estimate: what was noted as renewed is priced part by part.
func TestWhatTheBenchNotesStandsInTheEstimate(t *testing.T) {
	s, id := planned(t)
	level := "unit-apart"
	if _, err := s.Intake.Update(ctx, id, cases.Guard{}, takein.Change{Access: &level}); err != nil {
		t.Fatal(err)
	}
	before := lines(t, s, id)
	if before["part:dc-pack"] || !before["parts:pack.DC"] {
		t.Fatalf("before: %v", before)
	}
	if _, err := s.Teardown.Write(ctx, id, cases.Guard{}, "Ines", []workbench.Note{{Kind: workbench.Renew, Part: "dc-pack", Ref: "renew"}}); err != nil {
		t.Fatal(err)
	}
	if after := lines(t, s, id); !after["part:dc-pack"] || !after["part:dc-seal-outer"] || after["parts:pack.DC"] {
		t.Errorf("after: %v", after)
	}
}

func lines(t *testing.T, s *app.App, id string) map[string]bool {
	t.Helper()
	v, err := s.Quoting.Options(ctx, id, decide.Choices{}, "pack.DC", nil, true)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]bool{}
	for _, l := range v.Visit.Lines {
		out[l.Item] = true
	}
	return out
}

func TestPapersOfAJob(t *testing.T) {
	s, id := planned(t)
	settle(t, s, id, jobs.Settled{Option: "pack.DC"})
	j, err := s.Jobs.Job(ctx, id, "")
	if err != nil {
		t.Fatal(err)
	}
	table, err := j.PartsTable()
	if err != nil {
		t.Fatal(err)
	}
	rows, err := csv.NewReader(bytes.NewReader(table)).ReadAll()
	if err != nil || len(rows) != len(j.Plan.Parts)+1 || rows[1][6] != "yes" {
		t.Errorf("%d rows for %d parts, %v", len(rows), len(j.Plan.Parts), err)
	}
	var one, two bytes.Buffer
	if err := errors.Join(paper.JobSheet(ctx, &one, j, monday, "A4"), paper.JobSheet(ctx, &two, j, monday, "A4")); err != nil {
		t.Fatal(err)
	}
	if !bytes.HasPrefix(one.Bytes(), []byte("%PDF")) || !bytes.Equal(one.Bytes(), two.Bytes()) {
		t.Errorf("%d bytes, the same job makes the same: %v", one.Len(), bytes.Equal(one.Bytes(), two.Bytes()))
	}
	cal, err := s.Jobs.Calendar(ctx)
	if err != nil {
		t.Fatal(err)
	}
	whole := strings.ReplaceAll(string(cal), "\r\n ", "")
	for _, want := range []string{"BEGIN:VEVENT", "DTSTART:20261202T080000Z", "LOCATION:Bay", "UID:job-" + id} {
		if !strings.Contains(whole, want) {
			t.Errorf("it lacks %q:\n%s", want, whole)
		}
	}
	if j.Plan.Tasks[0].Kind != job.Open {
		t.Errorf("it begins with %s", j.Plan.Tasks[0].Kind)
	}
}
