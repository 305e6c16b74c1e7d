// Package clock tells a time that does not go back while the app runs, whatever is done to the machine's clock.
package clock

import (
	"sync"
	"time"
)

// Clock follows the machine's clock forward and never back. The zero value is not usable; see New.
type Clock struct {
	mu    sync.Mutex
	wall  func() time.Time
	since func() time.Duration // time that has passed on a counter that nobody can set
	from  time.Time
	at    time.Duration
}

// New is a clock that begins at the machine's time, or at the last time that is known of when the machine's clock is a little behind that. One that is far
// behind was put right, or is wrong: both are left to a person, who is told by Behind.
func New(last time.Time) *Clock {
	start := time.Now()
	return newClock(func() time.Time { return time.Now().Round(0) }, func() time.Duration { return time.Since(start) }, last)
}

// littleBehind is how far back a clock is held rather than believed.
const littleBehind = time.Hour

func newClock(wall func() time.Time, since func() time.Duration, last time.Time) *Clock {
	c := &Clock{wall: wall, since: since, from: wall(), at: since()}
	if d := last.Sub(c.from); d > 0 && d <= littleBehind {
		c.from = last
	}
	return c
}

// Now is the time in UTC, in milliseconds, as it is kept.
func (c *Clock) Now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.now().UTC().Truncate(time.Millisecond)
}

func (c *Clock) now() time.Time {
	passed := c.since()
	now := c.from.Add(passed - c.at)
	if w := c.wall(); w.After(now) {
		now = w
	}
	c.from, c.at = now, passed
	return now
}

// Behind is how far the machine's clock is behind this one; what is under a second is nothing.
func (c *Clock) Behind() time.Duration {
	c.mu.Lock()
	defer c.mu.Unlock()
	if d := c.now().Sub(c.wall()); d >= time.Second {
		return d.Round(time.Second)
	}
	return 0
}
