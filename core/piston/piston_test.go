package piston_test

import (
	"math"
	"testing"

	"innercompass/core/hydraulics"
	"innercompass/core/piston"
	"innercompass/internal/trial"
)

func clutch(t *testing.T, unit, id string) piston.Piston {
	t.Helper()
	u := trial.Load(t).Networks[unit].Unit
	e, ok := u.Element(id)
	if !ok {
		t.Fatal(id)
	}
	for _, s := range u.Sheet.Elements {
		if s.ID == id {
			p, ok := piston.New(u, e, s)
			if !ok {
				t.Fatal(id)
			}
			return p
		}
	}
	t.Fatal(id)
	return piston.Piston{}
}

// full runs until the pressure is within a hundredth of a bar of a goal, and says how long that took.
func full(p *piston.Piston, source, goal, h float64) float64 {
	for n := 1; n < 1e6; n++ {
		p.Step(source, h, 1)
		if math.Abs(p.Pressure-goal) < 1e3 {
			return float64(n) * h
		}
	}
	return math.NaN()
}

// A sound piston fills in about the time that it was laid out for, half as fast again from half the pressure difference by the root law, and a clearance 1.6 times as large takes 1.6 times as long.
func TestFillTimes(t *testing.T) {
	filled := func(change float64, source, thick float64) float64 {
		p := clutch(t, "ombrin-s6", "CB")
		p.Clear *= change
		for n := 1; ; n++ {
			p.Step(source, 1e-4, thick)
			if p.At >= p.Clear {
				return float64(n) * 1e-4
			}
		}
	}
	usual := filled(1, piston.FillPressure, 1)
	if math.Abs(usual-0.18) > 0.01 {
		t.Errorf("a sound one fills in %.3f s", usual)
	}
	if x := filled(1.6, piston.FillPressure, 1) / usual; math.Abs(x-1.6) > 0.01 {
		t.Errorf("1.6 times the clearance takes %.3f times as long", x)
	}
	if x := filled(1, piston.FillPressure, piston.Thickness(0)) / usual; math.Abs(x-2) > 0.01 {
		t.Errorf("cold it takes %.3f times as long", x)
	}
	p := clutch(t, "ombrin-s6", "CB")
	for _, source := range []float64{3e5, 5e5, 6e5} {
		if got, want := p.Fills(source, 1), filled(1, source, 1); math.Abs(got/want-1) > 0.06 {
			t.Errorf("at %.0f bar a module reckons with %.3f s, it takes %.3f", source/1e5, got, want)
		}
	}
}

// The root law: √Δp falls in a straight line and is nothing after 2·C·√Δp/k; the closed step says the same however long it is.
func TestPressureFollowsTheRootLaw(t *testing.T) {
	var ends []float64
	for _, h := range []float64{1e-5, 1e-3, 5e-3} {
		p := clutch(t, "ombrin-s6", "CE")
		p.At, p.Pressure = p.Clear, 3e5
		ends = append(ends, full(&p, 8e5, 8e5, h))
		for range 100 {
			if p.Step(8e5, h, 1); p.Pressure > 8e5 {
				t.Fatalf("the pressure passes its source: %v", p.Pressure)
			}
		}
	}
	if math.Abs(ends[1]-ends[0]) > 1e-3 || math.Abs(ends[2]-ends[0]) > 5e-3 || math.Abs(ends[0]-0.02) > 0.003 {
		t.Errorf("five bar more after %v s by steps of 0.01, 1 and 5 ms", ends)
	}
}

// Two orifices in a row: what is left of the pressure is a²/(a² + l²) of it (the same flow through both).
func TestALeakTakesItsShare(t *testing.T) {
	p := clutch(t, "ombrin-s6", "CB")
	p.Leak = p.Feed / 2
	want := 8e5 / (1 + 0.25)
	p.At, p.Pressure = p.Clear, p.Touch
	if x := full(&p, 8e5, want, 1e-3); math.IsNaN(x) {
		t.Errorf("it comes to %.3g Pa, not to %.3g", p.Pressure, want)
	}
	in := hydraulics.Discharge * p.Feed * math.Sqrt(2*(8e5-p.Pressure)/hydraulics.OilDensity)
	out := hydraulics.Discharge * p.Leak * math.Sqrt(2*p.Pressure/hydraulics.OilDensity)
	if math.Abs(in/out-1) > 0.01 {
		t.Errorf("%.3g m³/s come, %.3g go", in, out)
	}
}

// An accumulator keeps the pressure on its way for the time that its oil takes; stuck, it does not.
func TestAnAccumulator(t *testing.T) {
	times := map[bool]float64{}
	for _, stuck := range []bool{false, true} {
		p := clutch(t, "norrad-h4", "IC")
		p.At, p.Pressure = p.Clear, p.Touch
		p.Store = piston.Accumulator{From: p.Touch, To: p.Touch + 2e5, Volume: 9e-6, Stuck: stuck}
		times[stuck] = full(&p, 8e5, p.Touch+2e5, 1e-4)
	}
	if !(times[false] > 5*times[true]) {
		t.Errorf("with %.3f s, stuck %.3f s", times[false], times[true])
	}
}

// What goes in comes out: vented, the piston goes back and holds nothing; a stuck one never held; a welded one holds without oil.
func TestReleaseAndFaults(t *testing.T) {
	p := clutch(t, "ombrin-s6", "BC")
	full(&p, 9e5, 9e5, 1e-3)
	held := p.Torque()
	for range 2000 {
		p.Step(0, 1e-3, 1)
	}
	if held < 100 || p.Torque() != 0 || p.At != 0 {
		t.Errorf("it held %.0f N·m, and %.0f after it was vented, at %.4f m", held, p.Torque(), p.At)
	}
	if need := p.Needs(held); math.Abs(need-9e5) > 1e3 {
		t.Errorf("it needs %.3g Pa for what it holds at 9 bar", need)
	}
	p.Stuck, p.Welded = true, 300
	p.Step(9e5, 1, 1)
	if p.Torque() != 300 {
		t.Errorf("stuck and welded it holds %.0f N·m", p.Torque())
	}
}
