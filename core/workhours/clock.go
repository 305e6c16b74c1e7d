package workhours

import (
	"slices"
	"time"
)

// Clock counts a week's open seconds from a moment on, so that nights and days off are no time at all. It reaches as far as it is asked and
// is for one goroutine.
type Clock struct {
	week  Week
	start time.Time
	day   time.Time // first that is not read yet
	spans []counted
}

// counted is an open span, with what was open before it, in seconds.
type counted struct{ from, to, before int64 }

// NewClock starts at a moment.
func (w Week) NewClock(start time.Time) *Clock {
	start = start.In(w.zone())
	y, m, d := start.Date()
	return &Clock{week: w, start: start, day: time.Date(y, m, d, 0, 0, 0, 0, w.zone())}
}

// read takes in one more day.
func (c *Clock) read() {
	for _, s := range c.week.of(c.day) {
		from, to := max(clock(c.day, s.From).Unix(), c.start.Unix()), clock(c.day, s.To).Unix()
		if to > from {
			c.spans = append(c.spans, counted{from, to, c.whole()})
		}
	}
	y, m, d := c.day.Date()
	c.day = time.Date(y, m, d+1, 0, 0, 0, 0, c.day.Location())
}

// whole is how many seconds are read.
func (c *Clock) whole() int64 {
	if len(c.spans) == 0 {
		return 0
	}
	s := c.spans[len(c.spans)-1]
	return s.before + s.to - s.from
}

// far bounds what is read: a week that has an hour comes to any number of seconds that is asked.
func (c *Clock) far() bool { return c.day.Sub(c.start) > 20*365*24*time.Hour }

// At is how many open seconds lie between the start and t; 0 before it.
func (c *Clock) At(t time.Time) int64 {
	for !c.day.After(t) && !c.far() {
		c.read()
	}
	at := t.Unix()
	i, _ := slices.BinarySearchFunc(c.spans, at, func(s counted, at int64) int {
		if s.to <= at {
			return -1
		}
		return 1
	})
	switch {
	case i == len(c.spans):
		return c.whole()
	case at <= c.spans[i].from:
		return c.spans[i].before
	}
	return c.spans[i].before + at - c.spans[i].from
}

// Begin is when work begins that has so many open seconds before it: at the opening, not at the closing before.
func (c *Clock) Begin(seconds int64) time.Time { return c.when(seconds, false) }

// End is when so many open seconds are done: at the closing, not at the opening after it.
func (c *Clock) End(seconds int64) time.Time { return c.when(seconds, true) }

func (c *Clock) when(seconds int64, end bool) time.Time {
	for c.whole() <= seconds && !c.far() {
		c.read()
	}
	i, _ := slices.BinarySearchFunc(c.spans, seconds, func(s counted, at int64) int {
		if done := s.before + s.to - s.from; done < at || done == at && !end {
			return -1
		}
		return 1
	})
	if i == len(c.spans) || seconds < 0 {
		return c.start
	}
	return time.Unix(c.spans[i].from+seconds-c.spans[i].before, 0).In(c.start.Location())
}

// Later is the count when so many days of the calendar have passed since a count, at the next opening.
func (c *Clock) Later(seconds int64, days float64) int64 {
	if days <= 0 {
		return seconds
	}
	return c.At(c.End(seconds).Add(time.Duration(days * 24 * float64(time.Hour))))
}
