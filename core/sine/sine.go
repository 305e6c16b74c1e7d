// Package sine finds the one sine that is strongest in a short stretch of samples, whatever their spacing: by least squares at each frequency of a fine grid.
//
// A value that was counted over a window shows less of a quick sine than there was: Through says how much. Samples that are evenly spaced cannot tell a sine above half their
// rate from one below: Others names what else it may be.
package sine

import "math"

// Found is a sine.
type Found struct {
	Hertz     float64
	Amplitude float64
	Left      float64 // standard deviation of what is left without it
	Sure      float64 // amplitude over what noise alone would give at its strongest frequency; above 1 it is told
}

// Strongest finds the strongest sine between two frequencies, in Hz, after a parabola has been taken out. It finds nothing in fewer than twelve samples.
func Strongest(time, value []float64, low, high float64) Found {
	n := len(time)
	if n < 12 || high <= low {
		return Found{}
	}
	x := flat(time, value)
	span := time[n-1] - time[0]
	step := 0.1 / span
	at, best := low, -1.0
	for f := low; f <= high; f += step {
		if p, _ := fit(time, x, f); p > best {
			at, best = f, p
		}
	}
	for d := step / 2; d > step/64; d /= 2 { // finer about the best
		for _, f := range []float64{at - d, at + d} {
			if p, _ := fit(time, x, f); p > best && f > 0 {
				at, best = f, p
			}
		}
	}
	_, amplitude := fit(time, x, at)
	total := 0.0
	for _, v := range x {
		total += v * v
	}
	left := math.Sqrt(math.Max(0, total-best) / float64(max(1, n-5)))
	// Noise alone: the square of an amplitude is exponential with the mean 4σ²/n, and some 2·span·(high−low) of them are independent. One stretch in a hundred has as much.
	noise := left * math.Sqrt(4*math.Log(2*math.Max(1, span*(high-low))/0.01)/float64(n))
	out := Found{Hertz: at, Amplitude: amplitude, Left: left}
	if noise > 0 {
		out.Sure = amplitude / noise
	}
	return out
}

// fit is the power that a sine of a frequency takes out, and its amplitude.
func fit(time, x []float64, f float64) (power, amplitude float64) {
	var cc, ss, cs, xc, xs float64
	for i, t := range time {
		s, c := math.Sincos(2 * math.Pi * f * (t - time[0]))
		cc, ss, cs, xc, xs = cc+c*c, ss+s*s, cs+c*s, xc+x[i]*c, xs+x[i]*s
	}
	det := cc*ss - cs*cs
	if det < 1e-9*cc*ss {
		return 0, 0
	}
	a, b := (xc*ss-xs*cs)/det, (xs*cc-xc*cs)/det
	return a*xc + b*xs, math.Hypot(a, b)
}

// flat takes a parabola out.
func flat(time, value []float64) []float64 {
	n := len(time)
	mid, half := (time[0]+time[n-1])/2, math.Max(1e-9, (time[n-1]-time[0])/2)
	var s [5]float64
	var y [3]float64
	for i, t := range time {
		u, p := (t-mid)/half, 1.0
		for k := range s {
			s[k] += p
			if k < 3 {
				y[k] += p * value[i]
			}
			p *= u
		}
	}
	det := func(a, b, c, d, e, f, g, h, i float64) float64 { return a*(e*i-f*h) - b*(d*i-f*g) + c*(d*h-e*g) }
	all := det(s[0], s[1], s[2], s[1], s[2], s[3], s[2], s[3], s[4])
	out := make([]float64, n)
	if all == 0 {
		copy(out, value)
		return out
	}
	c0 := det(y[0], s[1], s[2], y[1], s[2], s[3], y[2], s[3], s[4]) / all
	c1 := det(s[0], y[0], s[2], s[1], y[1], s[3], s[2], y[2], s[4]) / all
	c2 := det(s[0], s[1], y[0], s[1], s[2], y[1], s[2], s[3], y[2]) / all
	for i, t := range time {
		u := (t - mid) / half
		out[i] = value[i] - c0 - c1*u - c2*u*u
	}
	return out
}

// Through is how much of a sine comes through a window of counting, as a share.
func Through(hertz, window float64) float64 {
	x := math.Pi * hertz * window
	if x < 1e-9 {
		return 1
	}
	return math.Abs(math.Sin(x) / x)
}

// Others are the frequencies up to a limit that look the same in samples of a rate, without the one that was found.
func Others(hertz, rate, most float64) []float64 {
	var out []float64
	for k := 1.0; k*rate-hertz <= most && k < 20; k++ {
		out = append(out, k*rate-hertz)
		if k*rate+hertz <= most {
			out = append(out, k*rate+hertz)
		}
	}
	return out
}
