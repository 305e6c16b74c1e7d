// Package workhours counts by a shop's clock: which days it is open, when so many hours of work are done, how many lie between two moments. Days begin and end in the shop's zone; an hour that a change of the clock skips or repeats counts as the clock shows it.
package workhours

import (
	"fmt"
	"time"
)

// Span is from one minute of the day to another; empty when they are the same.
type Span struct{ From, To int }

// Week is when a shop is open: by day of the week, Sunday first, but for days that are closed.
type Week struct {
	Days   [7]Span
	Break  Span            // on every day
	Closed map[string]bool // days such as 2006-01-02
	Zone   *time.Location  // nil for UTC
}

const (
	dayMinutes = 24 * 60
	farthest   = 3 * 366 // days that are looked ahead
)

// Error says what is wrong with a week.
type Error struct{ Field, Reason, Accepted string }

func (e *Error) Error() string { return e.Field + ": " + e.Reason + "; want " + e.Accepted }

// Check says what is wrong: a span that ends before it begins, a week without an hour.
func (w Week) Check() error {
	if err := w.Break.check("break"); err != nil {
		return err
	}
	open := 0
	for i, d := range w.Days {
		if err := d.check(fmt.Sprintf("days[%d]", i)); err != nil {
			return err
		}
		for _, s := range w.spans(d) {
			open += s.To - s.From
		}
	}
	if open == 0 {
		return &Error{"days", "no hour is open", "at least one day that is open"}
	}
	return nil
}

func (s Span) check(field string) error {
	if s.From < 0 || s.To > dayMinutes || s.From > s.To {
		return &Error{field, fmt.Sprintf("%s to %s", Minute(s.From), Minute(s.To)), "from 00:00 to 24:00, the end after the start"}
	}
	return nil
}

// Minute is a minute of the day as 15:04.
func Minute(minute int) string { return fmt.Sprintf("%02d:%02d", minute/60, minute%60) }

// spans are the open spans of a day.
func (w Week) spans(d Span) []Span {
	b := w.Break
	if b.From == b.To || b.To <= d.From || b.From >= d.To {
		if d.From == d.To {
			return nil
		}
		return []Span{d}
	}
	var out []Span
	if b.From > d.From {
		out = append(out, Span{d.From, b.From})
	}
	if b.To < d.To {
		out = append(out, Span{b.To, d.To})
	}
	return out
}

func (w Week) zone() *time.Location {
	if w.Zone == nil {
		return time.UTC
	}
	return w.Zone
}

// of are the open spans of the day that t falls on.
func (w Week) of(t time.Time) []Span {
	if len(w.Closed) > 0 && w.Closed[t.Format(time.DateOnly)] {
		return nil
	}
	return w.spans(w.Days[t.Weekday()])
}

func clock(day time.Time, minute int) time.Time {
	y, m, d := day.Date()
	return time.Date(y, m, d, 0, minute, 0, 0, day.Location())
}

// PerDay is how many hours a day of the calendar brings in the mean, closed days of the week counted.
func (w Week) PerDay() float64 {
	sum := 0
	for _, d := range w.Days {
		for _, s := range w.spans(d) {
			sum += s.To - s.From
		}
	}
	return float64(sum) / 60 / 7
}

// OpenDays are the days that are open from a moment on, from the first opening to the last closing of each: as far as until, at least and at
// most so many.
func (w Week) OpenDays(from, until time.Time, least, most int) []Day {
	y, m, d := from.In(w.zone()).Date()
	var out []Day
	for range farthest {
		day := time.Date(y, m, d, 0, 0, 0, 0, w.zone())
		if len(out) >= most || len(out) >= least && day.After(until) {
			break
		}
		if spans := w.of(day); len(spans) > 0 {
			out = append(out, Day{clock(day, spans[0].From), clock(day, spans[len(spans)-1].To)})
		}
		d++
	}
	return out
}

// Day is an open day, from opening to closing.
type Day struct{ From, To time.Time }
