package shifting

import (
	"fmt"
	"math"
	"strings"
)

// fewest is how many rev/min a converter clutch that holds may slip (common practice, no source: some units let it slip a little on purpose).
const fewest = 50.0

// Converted says in a sentence or two what the converter clutch did.
func (t Told) Converted() string {
	l := t.Lockup
	deepest := -1
	for i, s := range l.Shudders {
		if deepest < 0 || s.Depth > l.Shudders[deepest].Depth {
			deepest = i
		}
	}
	if deepest >= 0 {
		s := l.Shudders[deepest]
		least := ""
		if s.AtLeast {
			least = " at least"
		}
		text := fmt.Sprintf("The slip swings %.1f times a second, %.0f rpm deep%s, at %.0f %% throttle.", s.Hertz, s.Depth, least, 100*s.Throttle)
		if len(s.Others) > 0 && s.Others[0] < 40 {
			var list []string
			for _, o := range s.Others[:min(2, len(s.Others))] {
				list = append(list, fmt.Sprintf("%.0f", o))
			}
			text += fmt.Sprintf(" At %.0f samples a second it may be %s Hz as well.", l.Rate, strings.Join(list, " or "))
		}
		if order := nearOrder(s.PerEngine); order > 0 {
			text += fmt.Sprintf(" That is %g a turn of the engine: rule out a misfire first.", order)
		}
		return text
	}
	worst := 0.0
	for _, c := range l.Cells {
		worst = math.Max(worst, c.Slip)
	}
	switch {
	case l.OnFor == 0:
		return ""
	case worst > fewest:
		return fmt.Sprintf("It slips %.0f rpm once on: more than a sound one.", worst)
	}
	return fmt.Sprintf("On for %.0f s, it slips %.0f rpm at most. No shudder.", l.OnFor, worst)
}

// nearOrder is the order of the engine that a frequency may be; 0 for none.
func nearOrder(x float64) float64 {
	for _, o := range []float64{0.5, 1, 1.5, 2} {
		if math.Abs(x-o) < 0.04*o {
			return o
		}
	}
	return 0
}
