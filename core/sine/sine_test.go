package sine_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"innercompass/core/sine"
)

// shaken is a sine on a slope in noise, each value the mean over a window as a tool counts it (in closed form: the mean of a sine over w is sin(πfw)/(πfw) of it).
func shaken(rate, seconds, hertz, depth, window, noise float64, seed uint64) (time, value []float64) {
	r := rand.New(rand.NewPCG(seed, 5))
	phase := 2 * math.Pi * r.Float64()
	for i := range int(rate * seconds) {
		t := float64(i) / rate
		time = append(time, t)
		value = append(value, 30+4*t-t*t+depth*math.Sin(math.Pi*hertz*window)/(math.Pi*hertz*window)*math.Sin(2*math.Pi*hertz*t+phase)+noise*r.NormFloat64())
	}
	return time, value
}

// What the study measured: in 4 s with 6 rpm of noise the frequency is right to 0.02 Hz and the depth, divided by what the window lets through, to a tenth or so.
func TestASineInNoiseIsFound(t *testing.T) {
	for _, hertz := range []float64{6, 9, 12, 18, 22} {
		var off, deep []float64
		for seed := range uint64(40) {
			time, value := shaken(50, 4, hertz, 25, 0.02, 6, seed)
			f := sine.Strongest(time, value, 3, 24.5)
			off, deep = append(off, math.Abs(f.Hertz-hertz)), append(deep, f.Amplitude/sine.Through(f.Hertz, 0.02)/25)
			if f.Sure < 2 {
				t.Errorf("%v Hz, seed %d: sure %.2f", hertz, seed, f.Sure)
			}
		}
		slices.Sort(off)
		slices.Sort(deep)
		if off[37] > 0.03 || deep[2] < 0.88 || deep[37] > 1.12 {
			t.Errorf("%v Hz: off by %.3f Hz (95 %%), depth %.2f to %.2f of the true one", hertz, off[37], deep[2], deep[37])
		}
	}
}

// Noise alone is told as a sine hardly ever.
func TestNoiseIsNone(t *testing.T) {
	told := 0
	for seed := range uint64(400) {
		time, value := shaken(50, 2, 10, 0, 0.02, 6, seed)
		if sine.Strongest(time, value, 3, 24.5).Sure > 1 {
			told++
		}
	}
	if told > 12 {
		t.Errorf("%d of 400", told)
	}
}

// At 20 samples a second 12 Hz looks like 8, and 22 like 2: what else it may be has the true one among it.
func TestWhatSamplesCannotTellApartIsNamed(t *testing.T) {
	for _, c := range []struct{ rate, true, seen float64 }{{20, 12, 8}, {20, 22, 2}, {50, 30, 20}, {50, 45, 5}} {
		time, value := shaken(c.rate, 4, c.true, 25, 1e-6, 1, 3)
		f := sine.Strongest(time, value, 1, c.rate*0.49)
		if math.Abs(f.Hertz-c.seen) > 0.05 {
			t.Errorf("%v Hz at %v/s is seen at %.2f", c.true, c.rate, f.Hertz)
		}
		if !slices.ContainsFunc(sine.Others(f.Hertz, c.rate, 60), func(x float64) bool { return math.Abs(x-c.true) < 0.1 }) {
			t.Errorf("%v Hz is not among %v", c.true, sine.Others(f.Hertz, c.rate, 60))
		}
	}
	if f := sine.Strongest(nil, nil, 3, 20); f.Sure != 0 {
		t.Errorf("nothing: %+v", f)
	}
}
