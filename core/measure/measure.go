// Package measure compares a measured value with its limits, the uncertainty of the gauge
// included: conforming, not conforming, or not to be told with this gauge.
//
// Rules: guard-banded decision, ISO 14253-1:2017 (conformity is proved only inside the limits
// by the expanded uncertainty, non-conformity only outside by it); standard uncertainty of a
// gauge from its resolution r as a rectangular distribution, r/√12, and of independent
// parts as root sum of squares, JCGM 100:2008, 4.3.7 and 5.1.2. Units: SI throughout.
package measure

import (
	"errors"
	"fmt"
	"math"
)

// Verdict of a comparison.
type Verdict string

// The verdicts.
const (
	Conforms   Verdict = "conforms"
	Below      Verdict = "below"
	Above      Verdict = "above"
	CannotTell Verdict = "cannot-tell"
)

// Coverage is the factor from standard to expanded uncertainty (about 95 %).
const Coverage = 2.0

// Standard combines the resolution of a gauge and its own standard uncertainty.
func Standard(resolution, own float64) float64 {
	return math.Hypot(resolution/math.Sqrt(12), own)
}

// Comparison is a value held against a window.
type Comparison struct {
	Verdict  Verdict
	Position float64 // 0 at the low limit, 1 at the high one; outside beyond them
	Below    float64 // probability that the true value is under the low limit
	Inside   float64
	Above    float64
}

// Compare holds a value with standard uncertainty u against low…high. It fails for values
// that are not finite, a negative uncertainty, or limits the wrong way round.
func Compare(value, u, low, high float64) (Comparison, error) {
	for _, v := range []float64{value, u, low, high} {
		if math.IsNaN(v) || math.IsInf(v, 0) {
			return Comparison{}, errors.New("measure: a value is not finite")
		}
	}
	if u < 0 || low > high {
		return Comparison{}, fmt.Errorf("measure: uncertainty %v and limits %v to %v; want uncertainty ≥ 0 and low ≤ high", u, low, high)
	}
	c := Comparison{Below: normal(low, value, u), Above: 1 - normal(high, value, u)}
	c.Inside = math.Max(0, 1-c.Below-c.Above)
	if high > low {
		c.Position = (value - low) / (high - low)
	}
	guard := Coverage * u
	switch {
	case value < low-guard:
		c.Verdict = Below
	case value > high+guard:
		c.Verdict = Above
	case value >= low+guard && value <= high-guard:
		c.Verdict = Conforms
	default:
		c.Verdict = CannotTell
	}
	return c, nil
}

// normal is the probability that a normal variable with mean m and deviation u lies under x.
func normal(x, m, u float64) float64 {
	if u == 0 {
		switch {
		case m < x:
			return 1
		default:
			return 0
		}
	}
	return 0.5 * math.Erfc((m-x)/(u*math.Sqrt2))
}
