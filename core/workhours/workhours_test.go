package workhours_test

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"innercompass/core/workhours"
)

// week is Monday to Friday, 8 to 17 with an hour at noon: eight hours a day.
func week(t *testing.T, zone string) workhours.Week {
	t.Helper()
	z, err := time.LoadLocation(zone)
	if err != nil {
		t.Fatal(err)
	}
	w := workhours.Week{Break: workhours.Span{From: 12 * 60, To: 13 * 60}, Zone: z, Closed: map[string]bool{}}
	for d := time.Monday; d <= time.Friday; d++ {
		w.Days[d] = workhours.Span{From: 8 * 60, To: 17 * 60}
	}
	return w
}

func at(t *testing.T, w workhours.Week, text string) time.Time {
	t.Helper()
	out, err := time.ParseInLocation("2006-01-02 15:04", text, w.Zone)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// 2026-11-27 is a Friday. Counted by hand.
func TestWorkGoesOverNoonNightsAndWeekends(t *testing.T) {
	w := week(t, "Europe/Oslo")
	w.Closed["2026-12-01"] = true
	for _, x := range []struct {
		from  string
		hours float64
		want  string
	}{
		{"2026-11-27 08:00", 4, "2026-11-27 12:00"},
		{"2026-11-27 08:00", 4.5, "2026-11-27 13:30"},
		{"2026-11-27 12:20", 1, "2026-11-27 14:00"},
		{"2026-11-27 16:00", 2, "2026-11-30 09:00"},
		{"2026-11-28 11:00", 8, "2026-11-30 17:00"},
		{"2026-11-30 16:00", 2, "2026-12-02 09:00"},
		{"2026-11-27 09:00", 0, "2026-11-27 09:00"},
	} {
		got := w.Add(at(t, w, x.from), x.hours)
		if !got.Equal(at(t, w, x.want)) {
			t.Errorf("%g hours from %s: %s, want %s", x.hours, x.from, got.Format("2006-01-02 15:04"), x.want)
		}
	}
	if got := w.Open(at(t, w, "2026-11-28 11:00")); !got.Equal(at(t, w, "2026-11-30 08:00")) {
		t.Errorf("opens %s", got)
	}
	if got := w.PerDay(); math.Abs(got-40.0/7) > 1e-12 || w.Longest() != 8 {
		t.Errorf("%g hours in the mean of a day, %g on the longest", got, w.Longest())
	}
}

// Between undoes Add wherever work begins, also where the clock is changed (Oslo, 2026-10-25 and 2026-03-29).
func TestBetweenUndoesAdd(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for _, zone := range []string{"UTC", "Europe/Oslo", "America/Chicago"} {
		w := week(t, zone)
		w.Days[time.Saturday] = workhours.Span{From: 0, To: 24 * 60}
		start := at(t, w, "2026-03-20 00:00")
		for range 500 {
			from := start.Add(time.Duration(r.Float64() * 250 * 24 * float64(time.Hour)))
			hours := r.Float64() * 60
			to := w.Add(from, hours)
			if got := w.Between(from, to); math.Abs(got-hours) > 1e-6 {
				t.Fatalf("%s: %g hours from %s end %s, between them lie %g", zone, hours, from, to, got)
			}
			if got := w.Between(to, from); got != 0 {
				t.Fatalf("%g hours backwards", got)
			}
		}
	}
}

// The clock of open seconds agrees with counting by the calendar.
func TestTheClockCountsAsTheWeekDoes(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	w := week(t, "Europe/Oslo")
	w.Closed["2026-04-06"] = true
	start := at(t, w, "2026-03-25 10:15")
	c := w.NewClock(start)
	for range 500 {
		hours := r.Float64() * 300
		to := w.Add(start, hours)
		if got := c.End(int64(math.Round(hours * 3600))); got.Sub(to).Abs() > 2*time.Second {
			t.Fatalf("%g hours are done %s by the clock, %s by the week", hours, got, to)
		}
		any := start.Add(time.Duration(r.Float64() * 60 * 24 * float64(time.Hour)))
		if got := float64(c.At(any)) / 3600; math.Abs(got-w.Between(start, any)) > 0.001 {
			t.Fatalf("%g hours to %s, by the week %g", got, any, w.Between(start, any))
		}
	}
	if got := c.Begin(c.At(at(t, w, "2026-03-25 17:00"))); !got.Equal(at(t, w, "2026-03-26 08:00")) {
		t.Errorf("after closing work begins %s", got)
	}
	if got := c.End(c.At(at(t, w, "2026-03-25 17:00"))); !got.Equal(at(t, w, "2026-03-25 17:00")) {
		t.Errorf("work to closing ends %s", got)
	}
	if got := c.At(start.Add(-time.Hour)); got != 0 {
		t.Errorf("%d seconds before the start", got)
	}
	if got := c.Begin(c.Later(0, 3)); !got.Equal(at(t, w, "2026-03-30 08:00")) { // from Wednesday three days on is Saturday
		t.Errorf("three days later it goes on %s", got)
	}
}

func TestOpenDaysLeaveOutWhatIsClosed(t *testing.T) {
	w := week(t, "America/Chicago")
	w.Closed["2026-12-01"] = true
	days := w.OpenDays(at(t, w, "2026-11-28 15:00"), at(t, w, "2026-12-03 12:00"), 2, 30)
	if len(days) != 3 || !days[0].From.Equal(at(t, w, "2026-11-30 08:00")) || !days[2].To.Equal(at(t, w, "2026-12-03 17:00")) {
		t.Errorf("from a Saturday to Thursday, Tuesday closed: %v", days)
	}
	if days = w.OpenDays(at(t, w, "2026-11-28 15:00"), at(t, w, "2026-11-28 16:00"), 2, 30); len(days) != 2 {
		t.Errorf("at least two days: %v", days)
	}
	if days = w.OpenDays(at(t, w, "2026-11-28 15:00"), at(t, w, "2027-11-28 16:00"), 2, 30); len(days) != 30 {
		t.Errorf("at most thirty days: %d", len(days))
	}
}

func TestAWeekThatNeverOpensIsRefused(t *testing.T) {
	full := workhours.Span{From: 8 * 60, To: 12 * 60}
	for field, w := range map[string]workhours.Week{
		"days":    {Days: [7]workhours.Span{full}, Break: full},
		"days[2]": {Days: [7]workhours.Span{2: {From: 900, To: 100}}},
		"break":   {Days: [7]workhours.Span{full}, Break: workhours.Span{From: -1, To: 3}},
	} {
		var bad *workhours.Error
		if err := w.Check(); !errors.As(err, &bad) || bad.Field != field || bad.Accepted == "" {
			t.Errorf("%v, want a problem of %s", err, field)
		}
	}
}
