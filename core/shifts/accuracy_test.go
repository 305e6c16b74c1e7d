package shifts_test

import (
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"

	"gonum.org/v1/gonum/stat/distuv"

	"innercompass/core/roadlog"
	"innercompass/core/shifts"
	"innercompass/core/sim"
	"innercompass/core/unitsheet"
	"innercompass/internal/trial"
)

// driven is a simulated drive as a logger wrote it, with what the unit did.
type driven struct {
	rec    shifts.Drive
	truth  roadlog.Truth
	events []event
}

// event is a shift as the unit did it, measured on the speeds themselves by the rules of the package.
type event struct {
	roadlog.Event
	inertia, flare, high float64
	filled               float64 // when the plates of what came on touched; 0 when nobody looked
}

// random is a drive as a tester does it: off, up through the gears at a throttle that hardly moves, a kick, a coast.
func random(t testing.TB, u *unitsheet.Unit, rate float64, seed uint64, faults []sim.Fault) driven {
	t.Helper()
	rng := rand.New(rand.NewPCG(seed, 77))
	celsius, base, kick := 30+70*rng.Float64(), 0.15+0.45*rng.Float64(), 22+10*rng.Float64()
	d := func(selector string, throttle, brake float64) sim.Input {
		return sim.Input{Selector: selector, Throttle: throttle, Brake: brake}
	}
	log, truth, err := roadlog.Drive(roadlog.Setup{Sim: sim.Setup{Unit: u, Celsius: celsius, Seed: seed, Scatter: 1, Faults: faults}, Rate: rate, Late: math.NaN(), Pressures: elementsOf(u), Legs: []roadlog.Leg{
		{Seconds: 1.2, Input: d("N", 0, 1)}, {Seconds: 1.8, Input: d("D", 0, 1)},
		{Seconds: kick - 3, Input: d("D", base, 0), Wander: 0.05}, {Seconds: 6, Input: d("D", math.Min(1, base+0.35), 0), Wander: 0.03}, {Seconds: 8, Input: d("D", base, 0), Wander: 0.05}, {Seconds: 36 - kick, Input: d("D", 0, 0.08)}}})
	if err != nil {
		t.Fatal(err)
	}
	out := driven{rec: log.Drive(u), truth: truth}
	out.truths(shifts.Of(u, "D"))
	return out
}

// elementsOf are those that oil works.
func elementsOf(u *unitsheet.Unit) []string {
	var out []string
	for _, e := range u.Elements {
		if e.Pressed() {
			out = append(out, e.ID)
		}
	}
	return out
}

// truths measures the events on the speeds themselves, by the definition of the package but by other means: one pass over a thousand samples a second.
func (d *driven) truths(box shifts.Box) {
	turbine, output := d.truth.Turbine, d.truth.Output
	gear := func(id string) shifts.Gear {
		return box.Gears[slices.IndexFunc(box.Gears, func(g shifts.Gear) bool { return g.ID == id })]
	}
	for _, x := range d.truth.Events {
		e := event{Event: x}
		from, to := gear(e.From), gear(e.To)
		a, b := int(e.Begin/sim.Step), min(len(turbine)-1, int((e.End+0.4)/sim.Step))
		if e.End == 0 || output[a] < 80 {
			continue
		}
		steady := func(i int) float64 { // the output without the swing of its shaft
			sum := 0.0
			for j := i - 100; j <= i+100; j++ {
				sum += output[min(max(j, 0), len(output)-1)] / 201
			}
			return sum
		}
		way := func(i int) float64 { return (turbine[i]/steady(i) - to.Ratio) / (from.Ratio - to.Ratio) }
		low := -1
		for i := a; i < b; i++ {
			if way(i) < 0.1 {
				low = i
				break
			}
		}
		if low < 0 {
			e.Done = false
			d.events = append(d.events, e)
			continue
		}
		high := low
		for high > a && way(high) < 0.8 {
			high--
		}
		e.high, e.inertia = float64(high)*sim.Step, float64(low-high)*sim.Step/0.7
		if to.Ratio < from.Ratio {
			for i := a; i < low; i++ {
				e.flare = math.Max(e.flare, turbine[i]-from.Ratio*steady(i))
			}
		}
		for _, on := range box.Change(e.From, e.To).On {
			p := d.truth.Pressures[on]
			for i := a; i < low && i < len(p); i++ {
				if p[i] > box.Touch(on)+12e3 && p[i+20] > box.Touch(on)+12e3 {
					e.filled = float64(i) * sim.Step
					break
				}
			}
		}
		d.events = append(d.events, e)
	}
}

// faultsFor is one thing that is wrong, or nothing, as the seed says.
func faultsFor(seed uint64) []sim.Fault {
	rng := rand.New(rand.NewPCG(seed, 3))
	if rng.Float64() < 0.58 {
		return nil
	}
	elements := []string{"CA", "CB", "CE", "BC"}
	e := elements[rng.IntN(len(elements))]
	return [][]sim.Fault{{{Kind: sim.Clearance, Element: e, Size: 1.2 + 0.5*rng.Float64()}}, {{Kind: sim.Weak, Element: e, Size: 0.5 + 0.4*rng.Float64()}}, {{Kind: sim.Leaks, Element: e, Size: 2 * rng.Float64()}},
		{{Kind: sim.ReleaseLate, Element: e, Size: 0.08}}, {{Kind: sim.VentSlow, Element: e, Size: 0.1}}}[rng.IntN(5)]
}

// drives is how many simulated drives are told from their speeds: COMPASS_SHIFTS, or a few.
func drives() int {
	if n, err := strconv.Atoi(os.Getenv("COMPASS_SHIFTS")); err == nil {
		return n
	}
	return 12
}

// Shifts of simulated drives in the noise of real tools: how many are found, named right and measured right. The goals are those of the plan, at 50 samples a second.
func TestShiftsAreFoundAndMeasured(t *testing.T) {
	u := trial.Load(t).Networks["ombrin-s6"].Unit
	box := shifts.Of(u, "D")
	for _, rate := range []float64{10, 25, 50, 100} {
		var all, found, named, extra int
		var offs, times, flares, areas, fills, hot, commands []float64
		unfilled := 0
		near := 0 // flares within a tenth, or 20 rpm
		flared, seen, falseFlares := 0, 0, 0
		for i := range uint64(drives()) {
			seed := i + 5000 // those below were looked at while the measures were chosen
			d := random(t, u, rate, seed, faultsFor(seed))
			r, err := shifts.Find(d.rec, box, shifts.Usual)
			if err != nil {
				t.Fatal(err)
			}
			offs = append(offs, math.Abs(r.Offset-d.truth.Late))
			used := make([]bool, len(r.Shifts))
			for _, e := range d.events {
				if !e.Done {
					continue
				}
				all++
				k := slices.IndexFunc(r.Shifts, func(s shifts.Shift) bool { return !s.Unfinished && s.End > e.Begin && s.Begin < e.End+0.5 })
				if k < 0 {
					continue
				}
				found++
				used[k] = true
				s := r.Shifts[k]
				if s.From != e.From || s.To != e.To {
					if os.Getenv("COMPASS_SHIFTS_WRONG") != "" {
						t.Logf("rate %v seed %d: %s-%s at %.2f found as %s-%s at %.2f", rate, seed, e.From, e.To, e.Begin, s.From, s.To, s.Begin)
					}
					continue
				}
				named++
				if e.filled > 0 {
					if s.Filled.Known {
						fills = append(fills, math.Abs(s.Filled.At-e.filled))
					} else {
						unfilled++
					}
				}
				for _, on := range box.Change(e.From, e.To).On {
					if h, ok := s.Heat[on]; ok && e.Heat[on] > 500 {
						hot = append(hot, math.Abs(h/e.Heat[on]-1))
					}
				}
				if s.Command.Known {
					commands = append(commands, math.Abs(s.Command.At-e.Begin))
				}
				times = append(times, math.Abs(s.Inertia-e.inertia))
				if os.Getenv("COMPASS_SHIFTS_WRONG") != "" && rate == 50 && math.Abs(s.Inertia-e.inertia) > 0.03 {
					t.Logf("seed %d %s-%s at %.2f: inertia %.3f, true %.3f; begin %.3f true %.3f", seed, e.From, e.To, e.Begin, s.Inertia, e.inertia, s.Begin, e.high)
				}
				if e.flare > 40 {
					flared++
					if s.Flare > 0 {
						seen++
						flares = append(flares, math.Abs(s.Flare-e.flare)/math.Max(e.flare, 1))
						areas = append(areas, math.Abs(s.Flare-e.flare))
						if math.Abs(s.Flare-e.flare) <= math.Max(20, 0.1*e.flare) {
							near++
						} else if os.Getenv("COMPASS_SHIFTS_WRONG") != "" && rate == 50 {
							t.Logf("seed %d %s-%s at %.2f: flare %.0f, true %.0f, %v", seed, e.From, e.To, e.Begin, s.Flare, e.flare, faultsFor(seed))
						}
					}
				} else if s.Flare > 40 {
					falseFlares++
				}
			}
			for k := range used {
				if !used[k] && !r.Shifts[k].Unfinished {
					extra++
				}
			}
		}
		t.Logf("%3.0f/s: %d shifts, found %.1f %%, named %.1f %%, %d too many; offset within %.1f ms (95 %%); inertia time: median %.0f, 95 %% %.0f ms, within 30 ms %.1f %%; flares %d of %d seen, %d false, error median %.0f %%, 95 %% %.0f %% or %.0f rpm, within a tenth or 20 rpm %.1f %%",
			rate, all, 100*share(found, all), 100*share(named, all), extra, 1000*at(offs, 0.95), 1000*at(times, 0.5), 1000*at(times, 0.95), 100*below(times, 0.030), seen, flared, falseFlares, 100*at(flares, 0.5), 100*at(flares, 0.95), at(areas, 0.95), 100*share(near, len(flares)))
		t.Logf("%3.0f/s: command within %.0f ms (95 %%) in %d, touch within %.0f ms (95 %%; %.1f %% within 30) in %d, not told in %d; heat within %.0f %% (95 %%; median %.0f) in %d", rate, 1000*at(commands, 0.95), len(commands), 1000*at(fills, 0.95), 100*below(fills, 0.03), len(fills), unfilled, 100*at(hot, 0.95), 100*at(hot, 0.5), len(hot))
		good := int(math.Round(below(times, 0.030) * float64(len(times))))
		if rate == 50 && (unlikely(all-found, all, 0.01) || unlikely(all-named, all, 0.02) || unlikely(len(times)-good, len(times), 0.05) || unlikely(len(flares)-near, len(flares), 0.05)) {
			t.Errorf("at 50 samples a second: found %.3f (0.99), named %.3f (0.98), inertia time within 30 ms %.3f (0.95), flares within a tenth or 20 rpm %.3f (0.95)", share(found, all), share(named, all), below(times, 0.030), share(near, len(flares)))
		}
	}
}

// unlikely reports whether so many of n are bad that a goal of this share cannot be kept: fewer than one in a hundred samples would have as many.
func unlikely(bad, n int, goal float64) bool {
	if bad == 0 || n == 0 {
		return false
	}
	return distuv.Binomial{N: float64(n), P: goal}.CDF(float64(bad-1)) > 0.99
}

func share(a, b int) float64 { return float64(a) / math.Max(1, float64(b)) }

func at(list []float64, q float64) float64 {
	if len(list) == 0 {
		return 0
	}
	s := slices.Sorted(slices.Values(list))
	return s[min(len(s)-1, int(q*float64(len(s))))]
}

func below(list []float64, most float64) float64 {
	n := 0
	for _, x := range list {
		if x <= most {
			n++
		}
	}
	return share(n, len(list))
}

// One hour at 50 samples a second; two seconds are wanted.
func BenchmarkAnHour(b *testing.B) {
	u := trial.Load(b).Networks["ombrin-s6"].Unit
	rec := random(b, u, 50, 1, nil).rec
	var hour shifts.Drive
	for n, late := 0, 0.0; late < 3600; n++ {
		for i, t := range rec.Turbine.Time {
			hour.Turbine.Time, hour.Turbine.Value = append(hour.Turbine.Time, late+t), append(hour.Turbine.Value, rec.Turbine.Value[i])
			hour.Output.Time, hour.Output.Value = append(hour.Output.Time, late+t), append(hour.Output.Value, rec.Output.Value[i])
		}
		late = hour.Turbine.Time[len(hour.Turbine.Time)-1]
	}
	box := shifts.Of(u, "D")
	b.ReportAllocs()
	for b.Loop() {
		if _, err := shifts.Find(hour, box, shifts.Usual); err != nil {
			b.Fatal(err)
		}
	}
}

// What is no recording is refused in words.
func TestBadDrivesAreRefused(t *testing.T) {
	time := make([]float64, 30)
	for i := range time {
		time[i] = float64(i)
	}
	good := shifts.Channel{Time: time, Value: make([]float64, 30)}
	back := shifts.Channel{Time: slices.Clone(time), Value: make([]float64, 30)}
	back.Time[7] = 3
	nan := shifts.Channel{Time: time, Value: slices.Clone(good.Value)}
	nan.Value[4] = math.NaN()
	gears := []shifts.Gear{{ID: "D1", Ratio: 3}, {ID: "D2", Ratio: 2}}
	for what, c := range map[string]struct {
		d     shifts.Drive
		gears []shifts.Gear
	}{
		"nothing":               {shifts.Drive{}, gears},
		"a time that goes back": {shifts.Drive{Turbine: good, Output: back}, gears},
		"no number":             {shifts.Drive{Turbine: nan, Output: good}, gears},
		"one gear":              {shifts.Drive{Turbine: good, Output: good}, gears[:1]},
		"halves":                {shifts.Drive{Turbine: shifts.Channel{Time: time, Value: good.Value[:9]}, Output: good}, gears},
	} {
		if _, err := shifts.Find(c.d, shifts.Box{Gears: c.gears}, shifts.Usual); err == nil {
			t.Errorf("%s is taken", what)
		}
	}
	if r, err := shifts.Find(shifts.Drive{Turbine: good, Output: good}, shifts.Box{Gears: gears}, shifts.Usual); err != nil || len(r.Shifts) > 0 {
		t.Errorf("a vehicle that stands: %v %v", r, err)
	}
}
