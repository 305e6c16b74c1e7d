package vibration_test

import (
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"innercompass/core/signal"
	"innercompass/core/vibration"
)

// Drives are made so: 60 s at 1 kHz, the shaft from 22–28 to 42–54 rev/s or back, wandering by 2 % slowly and 0.3 % quicker; white and red noise,
// two resonances excited by noise; three different classes of the list, tone to noise −18 to −6 dB, each with its own slip, half of them
// swelling with load; steps of gain that add up; one in three clipped. The speed channel comes ten times a second in whole km/h, 0.1 s late,
// off by one error and a slow wow.
type madeDrive struct {
	x      []float64
	speed  signal.Speed
	owners []int
}

const driveRate = 1000.0

func makeDrive(seed uint64, classes []vibration.Class, off float64, tones bool) madeDrive {
	r := rand.New(rand.NewPCG(seed, 4242))
	uniform := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	const seconds = 60
	n := seconds * driveRate
	from, to := uniform(22, 28), uniform(42, 54)
	if r.IntN(2) == 0 {
		from, to = to, from
	}
	p1, p2 := uniform(0, 6), uniform(0, 6)
	f1, f2 := uniform(0.05, 0.1), uniform(0.3, 0.7)
	speed := func(s float64) float64 {
		return (from + (to-from)*s/seconds) * (1 + 0.02*math.Sin(2*math.Pi*f1*s+p1) + 0.003*math.Sin(2*math.Pi*f2*s+p2))
	}
	var d madeDrive
	d.x = make([]float64, int(n))
	red := 0.0
	type mode struct{ a, b, gain, y1, y2 float64 }
	var modes []mode
	for range 2 {
		f, q := uniform(25, 125), uniform(8, 28)
		w := 2 * math.Pi * f / driveRate
		rho := math.Exp(-w / (2 * q))
		modes = append(modes, mode{2 * rho * math.Cos(w), -rho * rho, math.Sqrt(1-rho) * uniform(.1, .35), 0, 0})
	}
	for i := range d.x {
		red = .95*red + .6*math.Sqrt(1-.95*.95)*r.NormFloat64()
		v := .8*r.NormFloat64() + red
		for k := range modes {
			m := &modes[k]
			y := m.a*m.y1 + m.b*m.y2 + m.gain*r.NormFloat64()
			m.y2, m.y1 = m.y1, y
			v += y
		}
		d.x[i] = v
	}
	if tones {
		for _, c := range r.Perm(len(classes)) {
			if len(d.owners) == 3 {
				break
			}
			if classes[c].Orders[0] > 9 {
				continue
			}
			d.owners = append(d.owners, c)
			level := math.Sqrt2 * math.Pow(10, uniform(-18, -6)/20)
			order := classes[c].Orders[0] * (1 + classes[c].Tolerance*r.NormFloat64())
			swells, turns, phase := r.IntN(2) == 0, 0.0, uniform(0, 1)
			for i := range d.x {
				s := float64(i) / driveRate
				a := level
				if swells {
					a *= .7 + .5*math.Sin(2*math.Pi*.07*s)
				}
				for h, share := range []float64{1, .3, .12} {
					if h < classes[c].Harmonics {
						d.x[i] += a * share * math.Cos(2*math.Pi*float64(h+1)*(order*turns+phase))
					}
				}
				turns += speed(s) / driveRate
			}
		}
	}
	for range 2 + r.IntN(3) {
		at, gain := int(uniform(0.1, 0.9)*n), math.Pow(10, []float64{-6, 6}[r.IntN(2)]/20)
		for i := at; i < len(d.x); i++ {
			d.x[i] *= gain
		}
	}
	if r.Float64() < .3 {
		sum := 0.0
		for _, v := range d.x {
			sum += v * v
		}
		limit := uniform(1.3, 2) * math.Sqrt(sum/n)
		for i, v := range d.x {
			d.x[i] = math.Max(-limit, math.Min(limit, v))
		}
	}
	scale, wow, wowAt := 1+off*r.NormFloat64(), uniform(.02, .2), uniform(0, 6)
	for s := 0.0; s < seconds; s += .1 {
		v := speed(math.Max(0, s-.1)) * scale * (1 + .003*math.Sin(2*math.Pi*wow*s+wowAt))
		kmh := math.Round(v/3.7*2.1*3.6) / 3.6 / 2.1 * 3.7
		d.speed.At, d.speed.Turns = append(d.speed.At, s), append(d.speed.Turns, kmh)
	}
	return d
}

// heardIn are the ridges of a drive as the match takes them.
func heardIn(t testing.TB, d madeDrive) []vibration.Ridge {
	t.Helper()
	a, err := signal.NewAngle(d.speed)
	if err != nil {
		t.Fatal(err)
	}
	o, err := signal.MapOrders(d.x, driveRate, a, signal.Shake)
	if err != nil {
		t.Fatal(err)
	}
	var out []vibration.Ridge
	for _, r := range o.Ridges(6) {
		out = append(out, vibration.Ridge{Order: r.Order, SD: r.SD})
	}
	return out
}

// drives is how many are made: a few for the test, as many as COMPASS_DRIVES says for a measurement.
func drives(usual int) int {
	if n, err := strconv.Atoi(os.Getenv("COMPASS_DRIVES")); err == nil && n > 0 {
		return n
	}
	return usual
}

// From samples to a verdict, over drives that nobody looked at one by one. The figures stand in the log; the bounds are what the method gave
// when it was studied (89 of 100 first right, 94 with neighbors at 1 %; 83 and 90 at 5 %), less what a few drives may scatter.
func TestFromSamplesToASource(t *testing.T) {
	s6 := unit(t, "ombrin-s6")
	classes := vibration.Classes(list(t, s6, van, vibration.State{Range: "D6", Road: 80 * kmh}))
	for _, c := range []struct{ off, least float64 }{{0.01, 0.85}, {0.05, 0.78}} {
		m := vibration.UsualModel
		m.Speed, m.High = c.off, 9
		n := drives(24)
		first, group, said, saidRight, silent := 0, 0, 0, 0, 0
		for k := range n {
			d := makeDrive(uint64(k+1), classes, c.off, true)
			ridges := heardIn(t, d)
			if len(ridges) == 0 {
				silent++
				continue
			}
			b, err := vibration.Resolve(classes, ridges, m)
			if err != nil {
				t.Fatal(err)
			}
			best := 0
			for i, p := range b.Owner[0] {
				if p > b.Owner[0][best] {
					best = i
				}
			}
			hit, near := false, false
			for _, o := range d.owners {
				hit = hit || o == best
				near = near || math.Abs(math.Log(classes[best].Orders[0]/classes[o].Orders[0])) < 2*math.Hypot(classes[best].Tolerance, classes[o].Tolerance)
			}
			if hit {
				first++
			}
			if hit || near {
				group++
			}
			if b.Owner[0][best] > .8 {
				said++
				if hit || near {
					saidRight++
				}
			}
		}
		heard := n - silent
		t.Logf("speed to %.0f %%: of %d drives %d silent, first right %d, with neighbors %d; above 80 %% said %d, right %d", 100*c.off, n, silent, first, group, said, saidRight)
		if float64(group) < c.least*float64(heard) {
			t.Errorf("speed to %.0f %%: %d of %d right", 100*c.off, group, heard)
		}
	}
}

// Noise, resonances and steps of gain alone: not one drive in a hundred has a ridge.
func TestNoiseAloneRaisesNoAlarm(t *testing.T) {
	alarms, n := 0, drives(20)
	for k := range n {
		if len(heardIn(t, makeDrive(uint64(9000+k), nil, 0.01, false))) > 0 {
			alarms++
		}
	}
	if alarms*100 > n {
		t.Errorf("%d of %d drives of noise have a ridge", alarms, n)
	}
}
