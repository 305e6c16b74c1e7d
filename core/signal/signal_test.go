package signal

import (
	"math"
	"math/cmplx"
	"math/rand/v2"
	"testing"
)

func near(a, b, rel float64) bool { return math.Abs(a-b) <= rel*math.Max(math.Abs(b), 1e-12) }

func tone(n int, rate, f, a, phase float64) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = a * math.Cos(2*math.Pi*f*float64(i)/rate+phase)
	}
	return out
}

func noise(n int, sd float64, seed uint64) []float64 {
	r := rand.New(rand.NewPCG(seed, 4242))
	out := make([]float64, n)
	for i := range out {
		out[i] = sd * r.NormFloat64()
	}
	return out
}

// Gains and noise widths as published (Harris 1978; Heinzel 2002 for the flat top; recalled from memory), and by their definitions from the
// weights themselves.
func TestWindowsAreScaledAsPublished(t *testing.T) {
	for w, want := range map[Window][2]float64{Rectangle: {1, 1}, Hann: {0.5, 1.5}, BlackmanHarris: {0.3588, 2.0044}, FlatTop: {0.2156, 3.7702}} {
		sum, squares := 0.0, 0.0
		weights := w.Weights(2048)
		for _, v := range weights {
			sum, squares = sum+v, squares+v*v
		}
		if !near(w.Gain(), want[0], 2e-4) || !near(w.NoiseWidth(), want[1], 2e-4) || !near(sum/2048, w.Gain(), 1e-9) || !near(2048*squares/sum/sum, w.NoiseWidth(), 1e-9) {
			t.Errorf("%s: gain %v, width %v, want %v", w, w.Gain(), w.NoiseWidth(), want)
		}
	}
}

// The FFT against the sum that defines it.
func TestAgainstTheDefiningSum(t *testing.T) {
	x := noise(64, 1, 1)
	s, err := Of(x, 64, Rectangle)
	if err != nil {
		t.Fatal(err)
	}
	for k := 1; k < 32; k++ {
		sum := complex(0, 0)
		for i, v := range x {
			sum += complex(v, 0) * cmplx.Rect(1, -2*math.Pi*float64(i*k)/64)
		}
		if !near(s.Amplitude(k), 2*cmplx.Abs(sum)/64, 1e-9) {
			t.Errorf("bin %d: %v, by the sum %v", k, s.Amplitude(k), 2*cmplx.Abs(sum)/64)
		}
	}
}

// Parseval: the density summed over frequency is the variance, with every window.
func TestParseval(t *testing.T) {
	x := noise(1<<17, 2, 2)
	for _, w := range Windows {
		s, err := Welch(x, 1000, w, 1024, 0.5)
		if err != nil {
			t.Fatal(err)
		}
		sum := 0.0
		for i := 1; i < len(s.Power)-1; i++ {
			sum += s.Density(i) * s.Step
		}
		if !near(sum, 4, 0.02) {
			t.Errorf("%s: %v of 4", w, sum)
		}
	}
}

// A line of known height reads so with every window, on a bin exactly, between bins by as much as its window is known to lose, and in noise.
func TestLinesOfKnownHeight(t *testing.T) {
	const n, rate = 2048, 1024.0
	loses := map[Window]float64{Rectangle: 0.3634, Hann: 0.1512, BlackmanHarris: 0.0915, FlatTop: 0.0012} // half a bin off (Harris: 3.92, 1.42, 0.83, 0.01 dB)
	for _, w := range Windows {
		on, _ := Of(tone(n, rate, 100, 3, 0.4), rate, w)
		off, _ := Of(tone(n, rate, 100.25, 3, 0.4), rate, w)
		if !near(on.Amplitude(200), 3, 1e-9) {
			t.Errorf("%s on a bin: %v of 3", w, on.Amplitude(200))
		}
		if got := 1 - math.Max(off.Amplitude(200), off.Amplitude(201))/3; math.Abs(got-loses[w]) > 0.004 {
			t.Errorf("%s between bins loses %.4f, known %.4f", w, got, loses[w])
		}
		x := tone(n*16, rate, 100.1, 1, 1)
		for i, v := range noise(len(x), 1, 3) {
			x[i] += v
		}
		s, _ := Welch(x, rate, w, n, 0.5)
		p := s.Peaks(8, 1)
		if len(p) != 1 || math.Abs(p[0].Frequency-100.1) > 0.1 || math.Abs(p[0].Amplitude-1) > 0.2 {
			t.Errorf("%s in noise: %+v", w, p)
		}
	}
}

// A steady tone is found between the bins of a Hann window to a millionth of a bin, with its height.
func TestTheTwoLineRatioIsExact(t *testing.T) {
	const n, rate = 4096, 1000.0
	for d := -0.49; d < 0.5; d += 0.07 {
		f := (400 + d) * rate / n
		s, _ := Of(tone(n, rate, f, 2, 0.3), rate, Hann)
		p := s.Peaks(1e4, 1)
		if len(p) != 1 || math.Abs(p[0].Frequency-f)/(rate/n) > 1e-5 || !near(p[0].Amplitude, 2, 1e-5) {
			t.Errorf("%v bins off: %+v, want %v", d, p, f)
		}
	}
}

// Two tones a thousand times apart in height, twenty bins apart: a Hann window shows the lesser one, a rectangle drowns it (leakage).
func TestLeakage(t *testing.T) {
	const n, rate = 2048, 2048.0
	x, y := tone(n, rate, 300.5, 1, 0), tone(n, rate, 320.5, 1e-3, 1)
	for i := range x {
		x[i] += y[i]
	}
	found := func(w Window) bool {
		s, _ := Of(x, rate, w)
		return s.Amplitude(320) > 2*s.Amplitude(315) || s.Amplitude(321) > 2*s.Amplitude(315)
	}
	if !found(Hann) || !found(BlackmanHarris) || found(Rectangle) {
		t.Errorf("Hann %v, Blackman-Harris %v, rectangle %v", found(Hann), found(BlackmanHarris), found(Rectangle))
	}
}

// Above half the rate a tone folds back to rate − f (Shannon).
func TestFolding(t *testing.T) {
	s, _ := Of(tone(1000, 100, 78, 1, 0), 100, Hann)
	if p := s.Peaks(10, 1); len(p) != 1 || math.Abs(p[0].Frequency-22) > 0.01 {
		t.Errorf("%+v, want 22 Hz", p)
	}
}

// The floor of pure noise is its mean, from one block and from many, and few bins stand far above it.
func TestNoiseHasAFloorAndNoPeaks(t *testing.T) {
	x := noise(1<<16, 1, 5)
	for _, n := range []int{1 << 16, 1024} {
		s, _ := Welch(x, 1000, Hann, n, 0.5)
		floor, mean := 0.0, 0.0
		f := s.Floor(24)
		for i := 30; i < len(f)-30; i++ {
			floor, mean = floor+f[i], mean+s.Power[i]
		}
		if !near(floor, mean, 0.05) {
			t.Errorf("blocks of %d: floor %v, mean %v", n, floor, mean)
		}
		if p := s.Peaks(30, 10); len(p) > 0 {
			t.Errorf("blocks of %d: %d peaks in noise", n, len(p))
		}
	}
}

// A ridge of a rising tone is stamped at the middle of its blocks: read there it has no bias.
func TestASweepIsStampedAtTheMiddle(t *testing.T) {
	const rate, from, rise = 500.0, 40.0, 1.0
	x := make([]float64, 20*rate)
	for i := range x {
		s := float64(i) / rate
		x[i] = math.Cos(2 * math.Pi * (from*s + rise*s*s/2))
	}
	o, err := Spectrogram(x, rate, Hann, 500, 125)
	if err != nil {
		t.Fatal(err)
	}
	off := 0.0
	for k, row := range o.Power {
		p := Spectrum{Window: Hann, Step: o.Step, Power: row, Blocks: 1}.Peaks(5, 1)
		if len(p) != 1 {
			t.Fatalf("block %d: no ridge", k)
		}
		off += (p[0].Frequency - from - rise*(o.Start+float64(k)*o.Hop)) / float64(len(o.Power))
	}
	if math.Abs(off) > 0.03 {
		t.Errorf("off by %v Hz in the mean", off)
	}
}

// Strikes of 900 Hz ringing, 31 times a second, under a hum ten times as strong: the envelope of the ringing's band has a line at 31 Hz.
func TestTheEnvelopeShowsTheRateOfStriking(t *testing.T) {
	const rate = 4000.0
	x := tone(8*rate, rate, 50, 3, 0)
	next := 0.0
	for i := range x {
		s := float64(i) / rate
		if s >= next+1/31.0 {
			next += 1 / 31.0
		}
		x[i] += 0.3 * math.Exp(-(s-next)*120) * math.Sin(2*math.Pi*900*(s-next))
	}
	e, err := Envelope(x, rate, 700, 1100)
	if err != nil {
		t.Fatal(err)
	}
	s, _ := Welch(e, rate, Hann, 8192, 0.5)
	if p := s.Peaks(10, 1); len(p) != 1 || math.Abs(p[0].Frequency-31) > 0.1 {
		t.Errorf("%+v, want 31 Hz", p)
	}
	// A steady tone has a steady envelope of its own height.
	e, _ = Envelope(tone(4000, rate, 900, 2, 0), rate, 700, 1100)
	for _, v := range e[200:3800] {
		if math.Abs(v-2) > 0.02 {
			t.Fatalf("envelope %v of 2", v)
		}
	}
}

// A shaft that speeds up from 21.5 to 55 rev/s and wanders: by angle its orders 1, 2 and 6.075 stand still, at their height.
func TestOrdersStandStillByAngle(t *testing.T) {
	const rate, seconds = 1000.0, 60.0
	speed := func(s float64) float64 {
		return (21.5 + 33.5*s/seconds) * (1 + 0.02*math.Sin(2*math.Pi*0.07*s) + 0.003*math.Sin(2*math.Pi*0.5*s))
	}
	n := int(seconds * rate)
	x := make([]float64, n)
	turns := 0.0
	for i := range x {
		s := float64(i) / rate
		for _, o := range [][2]float64{{1, 1}, {2, 0.5}, {6.075, 0.25}} {
			x[i] += o[1] * math.Cos(2*math.Pi*o[0]*turns)
		}
		turns += (speed(s) + speed(s+1/rate)) / 2 / rate
	}
	var ch Speed
	for s := 0.0; s <= seconds; s += 0.1 {
		ch.At, ch.Turns = append(ch.At, s), append(ch.Turns, speed(s))
	}
	a, err := NewAngle(ch)
	if err != nil {
		t.Fatal(err)
	}
	y, err := ByAngle(x, rate, a, 32)
	if err != nil {
		t.Fatal(err)
	}
	s, err := Welch(y, 32, Hann, 64*32, 0.5)
	if err != nil {
		t.Fatal(err)
	}
	for _, o := range [][2]float64{{1, 1}, {2, 0.5}, {6.075, 0.25}} {
		found := false
		for _, p := range s.Peaks(20, 6) {
			if math.Abs(p.Frequency-o[0]) < 0.002*o[0] && p.Amplitude > 0.9*o[1] && p.Amplitude < 1.02*o[1] {
				found = true
			}
		}
		if !found {
			t.Errorf("order %v of %v: %+v", o[0], o[1], s.Peaks(20, 6))
		}
	}
	// By time the second order is smeared over 67 Hz.
	flat, _ := Welch(x, rate, Hann, 2048, 0.5)
	for _, p := range flat.Peaks(20, 6) {
		if p.Amplitude > 0.5 {
			t.Errorf("by time a line of %v at %v Hz", p.Amplitude, p.Frequency)
		}
	}
}

// At a steady speed a line at a third of the sampling rate keeps its height within a hundredth by angle, and its order exactly.
func TestByAngleKeepsHeights(t *testing.T) {
	a, err := NewAngle(Speed{[]float64{0, 8}, []float64{40, 40}})
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range []float64{50, 200, 333} {
		y, err := ByAngle(tone(8000, 1000, f, 1, 0.3), 1000, a, 32)
		if err != nil {
			t.Fatal(err)
		}
		s, _ := Welch(y[320:len(y)-320], 32, Hann, 2048, 0.5)
		if p := s.Peaks(10, 1); len(p) != 1 || math.Abs(p[0].Amplitude-1) > 0.01 || math.Abs(p[0].Frequency-f/40) > 1e-6 {
			t.Errorf("%v Hz: %+v", f, p)
		}
	}
}

func TestWhatCannotBeIsRefused(t *testing.T) {
	x := noise(64, 1, 9)
	for what, err := range map[string]error{
		"a window that nobody knows": second(Of(x, 64, "square")),
		"too few samples":            second(Of(x[:4], 64, Hann)),
		"no rate":                    second(Of(x, 0, Hann)),
		"blocks longer than all":     second(Welch(x, 64, Hann, 128, 0)),
		"an overlap of all":          second(Welch(x, 64, Hann, 32, 1)),
		"a band above half the rate": second(Envelope(x, 64, 10, 40)),
		"speeds out of order":        second(NewAngle(Speed{[]float64{0, 2, 1}, []float64{1, 1, 1}})),
		"a shaft that runs backward": second(NewAngle(Speed{[]float64{0, 1}, []float64{1, -1}})),
	} {
		if err == nil {
			t.Errorf("%s was taken", what)
		}
	}
	still, _ := NewAngle(Speed{[]float64{0, 1}, []float64{0, 0}})
	if _, err := ByAngle(x, 64, still, 32); err == nil {
		t.Error("a shaft that stands was cut by angle")
	}
}

func second[T any](_ T, err error) error { return err }

// The whole of a spectrum against the bare FFT of the same blocks: `go test -bench Spectrum ./core/signal`.
func BenchmarkSpectrum(b *testing.B) {
	x := noise(1<<16, 1, 7)
	sum := make([]float64, 1<<15+1)
	t, _ := NewTransform(Hann, 1<<16, 48000)
	b.Run("bare", func(b *testing.B) {
		for b.Loop() {
			t.bins = t.fft.Coefficients(t.bins, x)
		}
	})
	b.Run("whole", func(b *testing.B) {
		for b.Loop() {
			t.Power(x, sum)
		}
	})
}

// Ten minutes of sound at 48 kHz as a map over time, blocks of a second and a half: `go test -bench Map ./core/signal`.
func BenchmarkMap(b *testing.B) {
	x := noise(48000*60, 1, 8)
	for b.Loop() {
		if _, err := Spectrogram(x, 48000, Hann, 1<<16, 1<<14); err != nil {
			b.Fatal(err)
		}
	}
}
