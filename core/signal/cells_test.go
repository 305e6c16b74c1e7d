package signal

import (
	"math"
	"math/rand/v2"
	"testing"
)

// swept is a drive of so many seconds at 1 kHz: noise, and a tone of an order of a shaft that goes from one speed to another.
func swept(seconds, from, to, order, level float64, seed uint64) (x []float64, shaft func(s float64) float64) {
	const rate = 1000.0
	shaft = func(s float64) float64 { return from + (to-from)*s/seconds }
	x = noise(int(seconds*rate), 1, seed)
	turns := 0.0
	for i := range x {
		x[i] += level * math.Cos(2*math.Pi*order*turns)
		turns += shaft(float64(i)/rate) / rate
	}
	return x, shaft
}

func channel(seconds float64, shaft func(float64) float64) Angle {
	var s Speed
	for t := 0.0; t <= seconds; t += 0.1 {
		s.At, s.Turns = append(s.At, t), append(s.Turns, shaft(math.Max(0, t)))
	}
	a, _ := NewAngle(s)
	return a
}

func cellsOf(t *testing.T, x []float64) Cells {
	t.Helper()
	c, err := Map(x, 1000, 250)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// A filter that slows a stream keeps what lies well below half the new rate and takes off what would fold; piece by piece it gives the same.
func TestSlowerKeepsWhatItShouldAndFoldsNothing(t *testing.T) {
	const rate = 48000.0
	for f, want := range map[float64]float64{50: 1, 600: 1, 1080: 0} {
		x := tone(96000, rate, f, 1, 0.2)
		s, err := NewSlower(rate, 2000)
		if err != nil {
			t.Fatal(err)
		}
		var y []float64
		for at := 0; at < len(x); at += 7001 {
			y = s.Take(y, x[at:min(len(x), at+7001)])
		}
		y = s.Rest(y)
		if len(y) < 3990 || len(y) > 4010 || s.Rate() != 2000 {
			t.Fatalf("%d samples at %v Hz", len(y), s.Rate())
		}
		sp, _ := Of(y[100:len(y)-100], s.Rate(), FlatTop)
		high := 0.0
		for i := range sp.Power {
			high = math.Max(high, sp.Amplitude(i))
		}
		if math.Abs(high-want) > 2e-3 {
			t.Errorf("%v Hz comes out %v high, want %v", f, high, want)
		}
	}
	// In time too: the first sample stays the first.
	s, _ := NewSlower(rate, 2000)
	y := s.Rest(s.Take(nil, tone(96000, rate, 100, 1, 0)))
	for i := 200; i < 400; i++ {
		if want := math.Cos(2 * math.Pi * 100 * float64(i) / 2000); math.Abs(y[i]-want) > 2e-3 {
			t.Fatalf("sample %d is %v, want %v", i, y[i], want)
		}
	}
}

// An order is called turning and a ringing staying from a speed span of a tenth on; with next to none neither is said.
func TestAnOrderIsToldFromWhatStays(t *testing.T) {
	right, passing, n := map[Turning]int{}, 0, 20
	for k := range n {
		seed := uint64(k + 1)
		x, shaft := swept(40, 37, 41, 2, 0.56, seed) // 8 dB under the noise
		if cellsOf(t, x).Follows(channel(40, shaft), 2) == Turns {
			right[Turns]++
		}
		// Something rings at 78 Hz, driven by noise alone.
		r := rand.New(rand.NewPCG(seed, 4242))
		w := 2 * math.Pi * 78 / 1000
		rho := math.Exp(-w / 50)
		y1, y2 := 0.0, 0.0
		x = noise(40000, 1, seed+100)
		for i := range x {
			y := 2*rho*math.Cos(w)*y1 - rho*rho*y2 + 0.12*r.NormFloat64()
			y1, y2 = y, y1
			x[i] += y
		}
		if cellsOf(t, x).Follows(channel(40, shaft), 2) == Stays {
			right[Stays]++
		}
		// An order that passes what rings, and stronger.
		both, shaft2 := swept(40, 30, 45, 2, 0.56, seed)
		for i, v := range x {
			both[i] += v
		}
		if cellsOf(t, both).Follows(channel(40, shaft2), 2) == Turns {
			passing++
		}
		x, shaft = swept(40, 39, 39.4, 2, 0.56, seed)
		if cellsOf(t, x).Follows(channel(40, shaft), 2) == CannotTell {
			right[CannotTell]++
		}
	}
	t.Logf("of %d each: %v, passing %d", n, right, passing)
	if passing < n-1 {
		t.Errorf("an order that passes what rings: %d of %d", passing, n)
	}
	for what, least := range map[Turning]int{Turns: n, Stays: n - 2, CannotTell: n} {
		if right[what] < least {
			t.Errorf("%s: %d of %d", what, right[what], n)
		}
	}
}

// A channel that is late is found so; one of a steady speed says nothing about it.
func TestALateChannelIsFound(t *testing.T) {
	// A foot that wanders, as a driver's does.
	shaft := func(s float64) float64 {
		return (22 + 28*s/60) * (1 + 0.02*math.Sin(2*math.Pi*0.08*s) + 0.003*math.Sin(2*math.Pi*0.5*s))
	}
	x, turns := noise(60000, 1, 3), 0.0
	for i := range x {
		x[i] += 0.5 * math.Cos(2*math.Pi*2*turns)
		turns += shaft(float64(i)/1000) / 1000
	}
	for _, late := range []float64{-1.2, 0, 0.3, 1} {
		a := channel(60, func(s float64) float64 { return shaft(s - late) })
		got, sure := cellsOf(t, x).Lag(a, 2)
		if math.Abs(got-late) > 0.1 || sure < 5 {
			t.Errorf("late by %v: found %v, %v sure", late, got, sure)
		}
	}
	x, shaft = swept(60, 40, 40, 2, 0.5, 4)
	if got, _ := cellsOf(t, x).Lag(channel(60, shaft), 2); got != 0 {
		t.Errorf("at a steady speed a lag of %v", got)
	}
}

// A line 15 dB under the noise of 250 Hz is followed within a hertz without any channel, and with its multiples one that is weaker.
func TestALineIsFollowedWithoutAChannel(t *testing.T) {
	followed := func(db float64, ratios []float64) int {
		good := 0
		for k := range 12 {
			level := math.Sqrt2 * math.Pow(10, db/20) * math.Sqrt(0.5) // the noise of 0 to 500 Hz has variance 1
			x, shaft := swept(60, 30, 48, 1, level, uint64(20+k))
			turns := 0.0
			for i := range x {
				for _, r := range ratios {
					if r != 1 {
						x[i] += level * math.Cos(2*math.Pi*r*turns+1)
					}
				}
				turns += shaft(float64(i)/1000) / 1000
			}
			w, err := cellsOf(t, x).Track(20, 60, ratios)
			if err != nil {
				t.Fatal(err)
			}
			in := 0
			for i, s := range w.At {
				if math.Abs(w.Hertz[i]-shaft(s)) < 1 {
					in++
				}
			}
			if in*10 >= 9*len(w.At) {
				good++
			}
		}
		return good
	}
	one, comb := followed(-15, []float64{1}), followed(-18, []float64{1, 2, 4})
	t.Logf("of 12: one line %d, a comb %d", one, comb)
	if one < 11 || comb < 11 {
		t.Errorf("of 12: one line %d, a comb %d", one, comb)
	}
}

// What rings stands out as a level, and noise alone has none.
func TestLevels(t *testing.T) {
	x := noise(60000, 1, 5)
	a := channel(60, func(s float64) float64 { return 30 + s/4 })
	if l := cellsOf(t, x).Levels(a, nil, 10, 5); len(l) > 0 {
		t.Errorf("levels in noise: %+v", l)
	}
	for i, v := range tone(len(x), 1000, 78, 0.3, 0) {
		x[i] += v
	}
	if l := cellsOf(t, x).Levels(a, nil, 10, 5); len(l) != 1 || math.Abs(l[0].Hertz-78) > 0.6 {
		t.Errorf("%+v, want 78 Hz", l)
	}
}

// A strong order that dwells leaves no level behind.
func TestWhatTurnsLeavesNoLevel(t *testing.T) {
	x, turns := noise(60000, 1, 6), 0.0
	shaft := func(s float64) float64 { return 38 + 3*math.Sin(2*math.Pi*s/60) }
	for i := range x {
		x[i] += math.Cos(2 * math.Pi * 2 * turns)
		turns += shaft(float64(i)/1000) / 1000
	}
	a := channel(60, shaft)
	if l := cellsOf(t, x).Levels(a, []float64{2}, 10, 5); len(l) > 0 {
		t.Errorf("%+v", l)
	}
	if l := cellsOf(t, x).Levels(a, nil, 10, 5); len(l) == 0 {
		t.Error("without knowing of the order there should be one where it dwells")
	}
}

// Ten minutes at 48 kHz: as blocks of a second come, to the order map: `go test -bench Orders ./core/signal`.
func BenchmarkOrdersOfTenMinutes(b *testing.B) {
	second := noise(48000, 1, 8)
	a := channel(600, func(s float64) float64 { return 25 + 25*s/600 })
	b.ReportAllocs()
	for b.Loop() {
		s, err := NewSlower(48000, Shake.Rate(50))
		if err != nil {
			b.Fatal(err)
		}
		var x []float64
		for range 600 {
			x = s.Take(x, second)
		}
		x = s.Rest(x)
		if _, err := MapOrders(x, s.Rate(), a, Shake); err != nil {
			b.Fatal(err)
		}
		if _, err := Map(x, s.Rate(), 250); err != nil {
			b.Fatal(err)
		}
	}
}

// Pulses of a shaft that speeds up, with noise on their edges: the speed within half a percent at each of them.
func TestPulsesGiveTheSpeed(t *testing.T) {
	const rate, perTurn = 10000.0, 4.0
	shaft := func(s float64) float64 { return 20 + 2*s }
	x, turns := noise(100000, 0.05, 11), 0.0
	for i := range x {
		if math.Mod(turns*perTurn, 1) < 0.3 {
			x[i] += 5
		}
		turns += shaft(float64(i)/rate) / rate
	}
	s, err := Pulses(x, rate, perTurn)
	if err != nil {
		t.Fatal(err)
	}
	if want := int(turns*perTurn) - 1; len(s.At) < want-1 || len(s.At) > want+1 {
		t.Errorf("%d periods, want %d", len(s.At), want)
	}
	for i, at := range s.At {
		if math.Abs(s.Turns[i]/shaft(at)-1) > 0.02 {
			t.Fatalf("at %v s %v rev/s, want %v", at, s.Turns[i], shaft(at))
		}
	}
	if _, err := Pulses(make([]float64, 100), rate, 1); err == nil {
		t.Error("pulses were found in nothing")
	}
}

// A tone at a fifth of the rate whose samples wander in time by a fifth of a step keeps its height and its line; taken as even it loses much.
func TestSamplesAtTheirOwnTimes(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	var at, x []float64
	for i := range 4096 {
		s := (float64(i) + 0.2*r.NormFloat64()*0.5) / 200
		if len(at) > 0 && s <= at[len(at)-1] {
			s = at[len(at)-1] + 1e-6
		}
		at, x = append(at, s), append(x, math.Cos(2*math.Pi*40*s))
	}
	y, rate, err := Evenly(at, x)
	if err != nil || math.Abs(rate/200-1) > 0.02 {
		t.Fatalf("%v Hz, %v", rate, err)
	}
	s, _ := Welch(y, rate, Hann, 2048, 0.5)
	p := s.Peaks(100, 1)
	if len(p) != 1 || math.Abs(p[0].Frequency-40) > 0.05 || p[0].Amplitude < 0.85 {
		t.Errorf("%+v", p)
	}
	if _, _, err := Evenly([]float64{0, 1, 1}, []float64{0, 0, 0}); err == nil {
		t.Error("times that stand were taken")
	}
}

// A clap is found within its hundredth of a second; in plain noise there is none.
func TestAClap(t *testing.T) {
	x := noise(80000, 0.01, 12)
	for i := range 400 {
		x[33000+i] += math.Exp(-float64(i)/80) * math.Sin(float64(i))
	}
	if at, ok := Clap(x, 8000); !ok || math.Abs(at-33000.0/8000) > 0.01 {
		t.Errorf("%v %v, want %v", at, ok, 33000.0/8000)
	}
	if _, ok := Clap(noise(80000, 1, 13), 8000); ok {
		t.Error("a clap in noise")
	}
}
