package measure

import (
	"errors"
	"math"
)

// Flatness is the width of the narrowest band between two parallel lines that holds the heights of points at these
// positions along a straight edge (straightness in the sense of ISO 1101, minimum zone), by trying every edge of the
// hull. It fails with fewer than three points or two at one place.
func Flatness(at, height []float64) (float64, error) {
	if len(at) != len(height) || len(at) < 3 {
		return 0, errors.New("measure: flatness needs at least three heights, each with its place")
	}
	best := math.Inf(1)
	for i := range at {
		for j := range i {
			if at[i] == at[j] {
				return 0, errors.New("measure: two heights at one place")
			}
			slope := (height[i] - height[j]) / (at[i] - at[j])
			low, high := math.Inf(1), math.Inf(-1)
			for k := range at {
				d := height[k] - height[i] - slope*(at[k]-at[i])
				low, high = math.Min(low, d), math.Max(high, d)
			}
			best = math.Min(best, high-low)
		}
	}
	return best, nil
}

// Coning is how much higher a face stands at its inner edge than at its outer one, as heights that were read there; the
// sign is that of the inner edge. Height is that over the face's whole width when the places of reading are nearer.
type Coning struct {
	Read  float64 // inner less outer
	Face  float64 // the same over the whole width of the face
	Angle float64 // rad
}

// Cone computes the coning of a face from the mean heights at two radii.
func Cone(innerHeights, outerHeights []float64, innerAt, outerAt, inner, outer float64) (Coning, error) {
	if len(innerHeights) == 0 || len(outerHeights) == 0 || !(outerAt > innerAt) || !(outer > inner) || !(inner > 0) {
		return Coning{}, errors.New("measure: coning needs heights at an inner and at a larger outer radius, within the face")
	}
	read := mean(innerHeights) - mean(outerHeights)
	return Coning{read, read * (outer - inner) / (outerAt - innerAt), math.Atan2(read, outerAt-innerAt)}, nil
}

func mean(xs []float64) float64 {
	sum := 0.0
	for _, x := range xs {
		sum += x
	}
	return sum / float64(len(xs))
}

// Runout is what an indicator shows over one turn, split into what repeats once in a turn (the axis is beside the
// centre, or the face is tilted), twice (oval, or bent to a saddle), and the rest (dents, burrs, the surface).
type Runout struct {
	Total    float64 // full indicator movement
	Once     float64 // full movement of the part that repeats once in a turn; the eccentricity is half of it
	HighAt   float64 // angle of its high spot, rad from the first reading
	Twice    float64 // full movement of the part that repeats twice
	Residual float64 // full movement of what is left
}

// SplitRunout splits readings at equal steps round one turn by Fourier analysis. It fails with fewer than six readings:
// with fewer, ovality and dents cannot be told apart.
func SplitRunout(readings []float64) (Runout, error) {
	n := len(readings)
	if n < 6 {
		return Runout{}, errors.New("measure: runout needs at least six readings at equal steps round one turn")
	}
	harmonic := func(k int) (c, s float64) {
		for i, v := range readings {
			a := 2 * math.Pi * float64(k*i) / float64(n)
			c, s = c+v*math.Cos(a), s+v*math.Sin(a)
		}
		return 2 * c / float64(n), 2 * s / float64(n)
	}
	m := mean(readings)
	c1, s1 := harmonic(1)
	c2, s2 := harmonic(2)
	out := Runout{Once: 2 * math.Hypot(c1, s1), HighAt: math.Mod(math.Atan2(s1, c1)+2*math.Pi, 2*math.Pi), Twice: 2 * math.Hypot(c2, s2)}
	low, high, restLow, restHigh := math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)
	for i, v := range readings {
		a := 2 * math.Pi * float64(i) / float64(n)
		rest := v - m - c1*math.Cos(a) - s1*math.Sin(a) - c2*math.Cos(2*a) - s2*math.Sin(2*a)
		low, high = math.Min(low, v), math.Max(high, v)
		restLow, restHigh = math.Min(restLow, rest), math.Max(restHigh, rest)
	}
	out.Total, out.Residual = high-low, restHigh-restLow
	return out, nil
}

// Wear is how fast something wears and how long it lasts at that rate.
type Wear struct {
	Rate float64 // worn for each unit of distance
	Left float64 // distance until the limit; 0 when it is reached
	Used float64 // share of the whole wear that is used up
}

// WearOut assumes even wear from new to now and goes on in the same way. It fails when nothing has worn, or when the part
// is thicker than new.
func WearOut(fresh, now, limit, distance float64) (Wear, error) {
	switch {
	case !(distance > 0):
		return Wear{}, errors.New("measure: the distance so far must be above 0")
	case !(limit < fresh):
		return Wear{}, errors.New("measure: the limit must lie below the size when new")
	case !(now < fresh):
		return Wear{}, errors.New("measure: nothing has worn: it is as large as new or larger")
	}
	rate := (fresh - now) / distance
	return Wear{rate, math.Max(0, (now-limit)/rate), (fresh - now) / (fresh - limit)}, nil
}
