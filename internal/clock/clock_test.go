package clock

import (
	"testing"
	"time"
)

// The machine's clock is set back, forward, and far back before a start: the app's time never goes back while it runs.
func TestTimeDoesNotGoBack(t *testing.T) {
	day := time.Date(2026, 11, 30, 12, 0, 0, 0, time.UTC)
	wall, passed := day, time.Duration(0)
	c := newClock(func() time.Time { return wall }, func() time.Duration { return passed }, time.Time{})
	step := func(d, set time.Duration) { passed += d; wall = wall.Add(d + set) }
	for _, s := range []struct {
		name         string
		passes, set  time.Duration
		want, behind time.Duration
	}{
		{"a minute passes", time.Minute, 0, time.Minute, 0},
		{"set back by a day", time.Minute, -24 * time.Hour, 2 * time.Minute, 24 * time.Hour},
		{"an hour later it still counts on", time.Hour, 0, 62 * time.Minute, 24 * time.Hour},
		{"set right again", time.Minute, 24 * time.Hour, 63 * time.Minute, 0},
		{"set forward by two days: it is followed", 0, 48 * time.Hour, 63*time.Minute + 48*time.Hour, 0},
		{"and back: it is held", time.Minute, -48 * time.Hour, 64*time.Minute + 48*time.Hour, 48 * time.Hour},
	} {
		step(s.passes, s.set)
		if got := c.Now().Sub(day); got != s.want || c.Behind() != s.behind {
			t.Errorf("%s: %v after, want %v; behind %v, want %v", s.name, got, s.want, c.Behind(), s.behind)
		}
	}
	for last, want := range map[time.Duration]time.Duration{-time.Hour: 0, 59 * time.Minute: 59 * time.Minute, 2 * time.Hour: 0} {
		at := newClock(func() time.Time { return day }, func() time.Duration { return 0 }, day.Add(last)).Now().Sub(day)
		if at != want {
			t.Errorf("last known time %v from the clock's: begins at %v, want %v", last, at, want)
		}
	}
}
