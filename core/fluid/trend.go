package fluid

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"
)

// Repeats is the relative standard uncertainty of one laboratory value: two samples of one fluid differ by about a tenth
// (common practice, no source; a laboratory states its own).
const Repeats = 0.10

// Trend is how one measure of a report rises over samples of the same fluid.
type Trend struct {
	Rate  float64 // in a metre
	U     float64 // standard uncertainty of the rate, from what laboratories repeat
	Start float64 // of the line, at no distance
	Last  float64 // distance of the last sample, metres
}

// At is the line at a distance in metres.
func (t Trend) At(distance float64) float64 { return t.Start + t.Rate*distance }

// TrendOf draws a straight line through the values of samples at distances in metres, all on one filling. It fails for
// fewer than two samples, distances that do not rise (a change of fluid begins a new line) and negative values.
func TrendOf(distances, values []float64) (Trend, error) {
	if len(distances) < 2 || len(distances) != len(values) {
		return Trend{}, fmt.Errorf("fluid: %d distances and %d values; want two samples or more, a value for each", len(distances), len(values))
	}
	for i, d := range distances {
		if !(values[i] >= 0) || math.IsInf(values[i], 0) {
			return Trend{}, fmt.Errorf("fluid: sample %d holds %v; want none or more", i+1, values[i])
		}
		if i > 0 && !(d > distances[i-1]) {
			return Trend{}, fmt.Errorf("fluid: sample %d was not taken later than the one before; want distances on one filling that rise, a new line after each change", i+1)
		}
	}
	start, rate := stat.LinearRegression(distances, values, nil, false)
	mean := stat.Mean(distances, nil)
	spread, variance := 0.0, 0.0
	for _, d := range distances {
		spread += (d - mean) * (d - mean)
	}
	for i, d := range distances {
		w := (d - mean) / spread
		variance += math.Pow(w*Repeats*values[i], 2)
	}
	return Trend{Rate: rate, U: math.Sqrt(variance), Start: start, Last: distances[len(distances)-1]}, nil
}

// Reaches is the distance at which the line comes to what is high for the measure there; +Inf when it never does, and the
// last sample's distance at least.
func (t Trend) Reaches(m Measure) float64 {
	_, start := m.Limit(0)
	_, after := m.Limit(1e6)
	closing := t.Rate - (after-start)/1e6
	if t.At(t.Last) >= start+(after-start)/1e6*t.Last {
		return t.Last
	}
	if closing <= 0 {
		return math.Inf(1)
	}
	return (start - t.Start) / closing
}
