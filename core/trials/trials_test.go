package trials

import (
	"math"
	"math/rand/v2"
	"testing"

	"innercompass/core/shifts"
)

func made(n int, throttle float64, inertia func(i int) float64, flare float64) []shifts.Shift {
	var out []shifts.Shift
	for i := range n {
		out = append(out, shifts.Shift{From: "D2", To: "D3", Throttle: throttle, Fluid: 80, Inertia: inertia(i), InertiaU: 0.001, Flare: flare + float64(i%3), FlareU: 1, AfterU: 5})
	}
	return out
}

// Welch's bound against the table of Student's t: with equal scatter and n on both sides the degrees of freedom are 2n − 2, and t at 0.975 is 2.776 for 4 and 2.228 for 10
// (from memory, as any table has it).
func TestTheBoundIsWelchs(t *testing.T) {
	for _, c := range []struct {
		n int
		t float64
	}{{3, 2.776}, {6, 2.228}} {
		s := Side{Scatter: 0.02, N: c.n}
		if got, want := welch(s, s, 0, 0), c.t*0.02*math.Sqrt(2/float64(c.n)); math.Abs(got/want-1) > 3e-4 {
			t.Errorf("n %d: %g, want %g", c.n, got, want)
		}
	}
	// Scatters that differ: Satterthwaite's degrees of freedom by hand, (0.01+0.0025)²/(0.01²/3+0.0025²/7) = 4.564 of 4 and 8 values; t between 2.776 (4) and 2.571 (5).
	if got := welch(Side{Scatter: 0.2, N: 4}, Side{Scatter: 0.1414214, N: 8}, 0, 0) / math.Sqrt(0.0125); got < 2.571 || got > 2.776 {
		t.Errorf("t is %g", got)
	}
}

// A 95 % bound covers in 95 of 100: of 2,000 comparisons without a difference, 5 in 100 tell one.
func TestTheBoundCovers(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for _, n := range []int{3, 6} {
		told := 0
		for range 2000 {
			draw := func(int) float64 { return 0.4 + 0.02*r.NormFloat64() }
			d, _ := difference(Inertia, made(n, 0.4, draw, 0), made(n, 0.4, draw, 0))
			if math.Abs(d.Change) > d.Bound {
				told++
			}
		}
		if told < 50 || told > 140 { // 100 ± 4 standard deviations
			t.Errorf("n %d: %d of 2000 are told", n, told)
		}
	}
}

func TestBeforeAndAfter(t *testing.T) {
	before := made(5, 0.38, func(i int) float64 { return 0.55 + 0.02*float64(i%2) }, 190)
	after := made(6, 0.36, func(i int) float64 { return 0.32 + 0.02*float64(i%2) }, 0)
	sound := made(4, 0.40, func(i int) float64 { return 0.30 + 0.02*float64(i%2) }, 0)
	got := Compare(before, after, sound)
	if len(got) != 1 || got[0].Unlike || len(got[0].Before) != 5 || len(got[0].After) != 6 {
		t.Fatalf("%+v", got)
	}
	for i, want := range []Quantity{Inertia, Flare} {
		d := got[0].Differences[i]
		if d.Quantity != want || d.Verdict != Better || d.Change >= 0 {
			t.Errorf("%+v", d)
		}
	}
	if _, d, ok := Foremost(got); !ok || d.Quantity != Flare {
		t.Errorf("foremost: %+v %v", d, ok)
	}
	// The other way round it is worse, and a slower one inside its window is only another.
	if d := Compare(after, before, sound)[0].Differences[0]; d.Verdict != Worse {
		t.Errorf("%+v", d)
	}
	slow := made(6, 0.36, func(i int) float64 { return 0.36 + 0.004*float64(i%2) }, 0)
	if d := Compare(after, slow, sound)[0].Differences[0]; d.Verdict != Changed {
		t.Errorf("%+v", d)
	}
}

// One shift on a side, another load, and a difference within its scatter tell nothing, and say so.
func TestWhatCannotBeTold(t *testing.T) {
	same := func(i int) float64 { return 0.4 + 0.03*float64(i%3) }
	one := Compare(made(5, 0.38, same, 0), made(1, 0.38, same, 0), nil)[0]
	if d := one.Differences[0]; d.Verdict != CannotTell || !math.IsInf(d.Bound, 1) {
		t.Errorf("one: %+v", d)
	}
	unlike := Compare(made(5, 0.62, same, 0), made(5, 0.38, same, 0), nil)[0]
	if !unlike.Unlike || math.Abs(unlike.ThrottleApart-0.24) > 1e-9 || unlike.Differences[0].Verdict != CannotTell {
		t.Errorf("unlike: %+v", unlike)
	}
	near := Compare(made(4, 0.38, same, 0), made(4, 0.38, func(i int) float64 { return same(i) + 0.02 }, 0), nil)[0]
	if d := near.Differences[0]; d.Verdict != CannotTell || d.Needed <= 4 {
		t.Errorf("near: %+v", d)
	}
	if got := Compare(made(3, 0.4, same, 0), nil, nil); len(got) > 0 {
		t.Errorf("nothing after: %+v", got)
	}
}

func TestOneChangeAtATime(t *testing.T) {
	a, b := made(5, 0.38, func(i int) float64 { return 0.55 + 0.01*float64(i%2) }, 190), made(5, 0.38, func(i int) float64 { return 0.40 + 0.01*float64(i%2) }, 90)
	got := Follow([]Trial{{Shifts: a}, {[]Change{Pressure}, b}, {[]Change{Adaptation, Fluid}, b}}, nil)
	if len(got) != 2 || got[0].Several || len(got[0].Upon) > 0 || !got[1].Several || len(got[1].Upon) != 1 || got[1].Upon[0] != Pressure {
		t.Fatalf("%+v", got)
	}
	if s := Sum(got[0].Kinds); s.Better == 0 || s.Worse > 0 {
		t.Errorf("%+v", s)
	}
}
