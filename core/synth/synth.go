// Package synth makes recordings of drives by a recipe: a shaft that speeds up and wanders, noise, what rings, tones that follow the shaft or
// the engine, gain that is turned, clipping, and a speed channel that comes seldom, in whole numbers, late and off. Tests measure the way from
// samples to sources on such drives, and the demo's recordings are made so: nothing in them was ever on a road.
//
// All of it follows from a seed. Levels are ratios of power to that of the noise, in dB.
package synth

import (
	"fmt"
	"math"
	"math/rand/v2"

	"innercompass/core/signal"
)

// Recipe says what a drive is made of.
type Recipe struct {
	Seconds, Rate float64
	From, To      float64 // speed of the output shaft, rev/s
	Tones         []Tone
	Rings         []Ring
	Steps         int     // of gain, by 6 dB up or down
	Clip          float64 // at so many times the mean level; 0 never
	Quiet         float64 // scale of all of it; 0 is taken as 1
	Seed          uint64
}

// Tone follows the shaft: so many beats in each turn, and its multiples.
type Tone struct {
	Order     float64
	Level     float64 // dB of the first against the noise
	Multiples []float64
	Swells    bool // with the load
}

// Ring answers the noise at its own frequency.
type Ring struct{ Hertz, Q, Gain float64 }

// Channel is how a speed is recorded: so many times a second, late, off by a share, slowly wandering, in steps.
type Channel struct {
	Rate, Late, Off, Wow, Step float64
}

// Drive is what comes of it.
type Drive struct {
	Samples []float64
	Rate    float64
	Shaft   func(s float64) float64 // what the shaft really did, rev/s
}

// Usual are the multiples of a tone as they are heard (judgment).
var Usual = []float64{1, 0.3, 0.12}

// Make makes a drive.
func (c Recipe) Make() (Drive, error) {
	if !(c.Seconds > 1 && c.Seconds <= 3600) || !(c.Rate >= 100 && c.Rate <= 200_000) || !(c.From >= 0 && c.To >= 0) {
		return Drive{}, fmt.Errorf("synth: %v s at %v Hz from %v to %v rev/s; want 1 to 3600 s, 100 to 200000 Hz, speeds of 0 or more", c.Seconds, c.Rate, c.From, c.To)
	}
	r := rand.New(rand.NewPCG(c.Seed, 4242))
	d := Drive{Rate: c.Rate, Shaft: wandering(r, c.From, c.To, c.Seconds)}
	d.Samples = background(r, int(c.Seconds*c.Rate), c.Rate, c.Rings)
	for _, t := range c.Tones {
		d.add(t, uniform(r, 0, 1))
	}
	d.gain(r, c.Steps)
	d.clip(c.Clip)
	if c.Quiet > 0 {
		for i := range d.Samples {
			d.Samples[i] *= c.Quiet
		}
	}
	return d, nil
}

func uniform(r *rand.Rand, a, b float64) float64 { return a + (b-a)*r.Float64() }

// wandering is a foot that does not hold still: 2 % slowly, 0.3 % quicker.
func wandering(r *rand.Rand, from, to, seconds float64) func(float64) float64 {
	p1, p2 := uniform(r, 0, 6), uniform(r, 0, 6)
	f1, f2 := uniform(r, 0.05, 0.1), uniform(r, 0.3, 0.7)
	return func(s float64) float64 {
		return (from + (to-from)*s/seconds) * (1 + 0.02*math.Sin(2*math.Pi*f1*s+p1) + 0.003*math.Sin(2*math.Pi*f2*s+p2))
	}
}

// background is white and red noise, and what rings with it.
func background(r *rand.Rand, n int, rate float64, rings []Ring) []float64 {
	type mode struct{ a, b, gain, y1, y2 float64 }
	var modes []mode
	for _, g := range rings {
		w := 2 * math.Pi * g.Hertz / rate
		rho := math.Exp(-w / (2 * g.Q))
		modes = append(modes, mode{2 * rho * math.Cos(w), -rho * rho, math.Sqrt(1-rho) * g.Gain, 0, 0})
	}
	pole := math.Pow(0.95, 1000/rate)
	red, out := 0.0, make([]float64, n)
	for i := range out {
		red = pole*red + .6*math.Sqrt(1-pole*pole)*r.NormFloat64()
		v := .8*r.NormFloat64() + red
		for k := range modes {
			m := &modes[k]
			y := m.a*m.y1 + m.b*m.y2 + m.gain*r.NormFloat64()
			m.y2, m.y1 = m.y1, y
			v += y
		}
		out[i] = v
	}
	return out
}

func (d *Drive) add(t Tone, phase float64) {
	level, turns := math.Sqrt2*math.Pow(10, t.Level/20), 0.0
	for i := range d.Samples {
		s := float64(i) / d.Rate
		a := level
		if t.Swells {
			a *= .7 + .5*math.Sin(2*math.Pi*.07*s)
		}
		for h, share := range t.Multiples {
			d.Samples[i] += a * share * math.Cos(2*math.Pi*float64(h+1)*(t.Order*turns+phase))
		}
		turns += d.Shaft(s) / d.Rate
	}
}

// gain turns the level by 6 dB at so many moments, up or down; the steps add up.
func (d *Drive) gain(r *rand.Rand, steps int) {
	for range steps {
		at, gain := int(uniform(r, 0.1, 0.9)*float64(len(d.Samples))), math.Pow(10, []float64{-6, 6}[r.IntN(2)]/20)
		for i := at; i < len(d.Samples); i++ {
			d.Samples[i] *= gain
		}
	}
}

func (d *Drive) clip(times float64) {
	if times <= 0 {
		return
	}
	sum := 0.0
	for _, v := range d.Samples {
		sum += v * v
	}
	limit := times * math.Sqrt(sum/float64(len(d.Samples)))
	for i, v := range d.Samples {
		d.Samples[i] = math.Max(-limit, math.Min(limit, v))
	}
}

// Speed is what a channel makes of the shaft.
func (d Drive) Speed(c Channel) signal.Speed {
	var out signal.Speed
	for s := 0.0; s < float64(len(d.Samples))/d.Rate; s += 1 / c.Rate {
		v := d.Shaft(math.Max(0, s-c.Late)) * (1 + c.Off) * (1 + c.Wow*math.Sin(2*math.Pi*0.1*s))
		if c.Step > 0 {
			v = math.Round(v/c.Step) * c.Step
		}
		out.At, out.Turns = append(out.At, s), append(out.Turns, v)
	}
	return out
}
