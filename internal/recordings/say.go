package recordings

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/recording"
)

// Noticed says what was noticed while a recording was read.
func Noticed(r Recording) []string {
	var out []string
	say := func(n int, format string, args ...any) {
		if n > 0 {
			out = append(out, fmt.Sprintf(format, args...))
		}
	}
	t := r.Told
	say(t.Repeated+t.Back, "%d rows repeat a time or go back; they are left out. The first is row %d.", t.Repeated+t.Back, t.FirstOff)
	say(t.Gaps, "%d gaps in time, the longest %s s.", t.Gaps, Short(t.Longest))
	say(t.Clipped, "%d samples stand at full scale: the level was too high.", t.Clipped)
	if r.Kind == recording.IsTable && r.Rate > 0 {
		for _, c := range r.Channels {
			if c.Values > 0 && c.Values*3 < r.Rows {
				say(1, "%s comes %s times a second.", c.Name, Short(float64(c.Values)/math.Max(r.Seconds, 1e-9)))
			}
			say(b2i(c.Values == 0), "%s has no values.", c.Name)
		}
	}
	return out
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// Short is a number as it is said, three figures at most.
func Short(v float64) string {
	switch a := math.Abs(v); {
	case a >= 100:
		return fmt.Sprintf("%.0f", v)
	case a >= 10:
		return strings.TrimSuffix(fmt.Sprintf("%.1f", v), ".0")
	}
	return strings.TrimRight(strings.TrimRight(fmt.Sprintf("%.2f", v), "0"), ".")
}
