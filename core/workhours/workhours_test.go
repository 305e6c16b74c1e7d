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
		got := w.NewClock(at(t, w, x.from)).End(int64(x.hours * 3600))
		if !got.Equal(at(t, w, x.want)) {
			t.Errorf("%g hours from %s: %s, want %s", x.hours, x.from, got.Format("2006-01-02 15:04"), x.want)
		}
	}
	if got := w.NewClock(at(t, w, "2026-11-28 11:00")).Begin(0); !got.Equal(at(t, w, "2026-11-30 08:00")) {
		t.Errorf("opens %s", got)
	}
	if got := w.PerDay(); math.Abs(got-40.0/7) > 1e-12 {
		t.Errorf("%g hours in the mean of a day", got)
	}
}

// counted is how many seconds a week is open between two moments, minute by minute as the clock on the wall shows them.
func counted(w workhours.Week, from, to time.Time) int64 {
	sum := int64(0)
	for m := from; m.Before(to); m = m.Add(time.Minute) {
		day, now := w.Days[m.Weekday()], m.Hour()*60+m.Minute()
		if now >= day.From && now < day.To && !(now >= w.Break.From && now < w.Break.To) && !w.Closed[m.Format(time.DateOnly)] {
			sum += 60
		}
	}
	return sum
}

// At undoes End wherever work begins, and both agree with counting by the minute, also where the clock is changed (Oslo, 2026-10-25 and
// 2026-03-29).
func TestTheClockAgreesWithCountingByTheMinute(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for _, zone := range []string{"UTC", "Europe/Oslo", "America/Chicago"} {
		w := week(t, zone)
		w.Days[time.Saturday] = workhours.Span{From: 0, To: 24 * 60}
		w.Closed["2026-04-06"] = true
		start := at(t, w, "2026-03-20 00:00")
		for range 60 {
			from := start.Add(time.Duration(r.IntN(250*24*60)) * time.Minute)
			c, want := w.NewClock(from), int64(r.IntN(60*60))*60
			to := c.End(want)
			if got := c.At(to); got != want {
				t.Fatalf("%s: %d s from %s end %s, and to there it counts %d", zone, want, from, to, got)
			}
			if got := counted(w, from, to); got != want {
				t.Fatalf("%s: %d s from %s end %s, by the minute %d", zone, want, from, to, got)
			}
			if got := w.NewClock(to).At(from); got != 0 {
				t.Fatalf("%d s backwards", got)
			}
		}
	}
}

func TestTheClockBeginsAtOpeningAndEndsAtClosing(t *testing.T) {
	w := week(t, "Europe/Oslo")
	start := at(t, w, "2026-03-25 10:15")
	c := w.NewClock(start)
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
