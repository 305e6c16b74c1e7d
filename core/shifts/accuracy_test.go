package shifts_test

import (
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"

	"gonum.org/v1/gonum/stat/distuv"

	"innercompass/core/powertrain"
	"innercompass/core/shifts"
	"innercompass/core/sim"
	"innercompass/core/unitsheet"
	"innercompass/internal/trial"
)

const rpm = 30 / math.Pi

// driven is a simulated drive at a thousand samples a second, with what the unit did.
type driven struct {
	turbine, output []float64 // rev/min
	events          []event
}

// event is a shift as the unit did it.
type event struct {
	from, to       string
	begin, end     float64 // of the command, and when the unit called it done
	inertia, flare float64 // by the rule of the package, of the speeds themselves
	high           float64
	done           bool
}

// random is a drive as a tester does it: off, up through the gears at a throttle that hardly moves, a kick, a coast.
func random(t testing.TB, u *unitsheet.Unit, seed uint64, faults []sim.Fault) driven {
	t.Helper()
	rng := rand.New(rand.NewPCG(seed, 77))
	s, err := sim.New(sim.Setup{Unit: u, Vehicle: powertrain.For(u), Celsius: 30 + 70*rng.Float64(), Seed: seed, Scatter: 1, Faults: faults})
	if err != nil {
		t.Fatal(err)
	}
	base := 0.15 + 0.45*rng.Float64()
	kick := 22 + 10*rng.Float64()
	var out driven
	var busy bool
	for i := range 50_000 {
		at := float64(i) * sim.Step
		in := sim.Input{Selector: "D", Throttle: base * (1 + 0.05*math.Sin(at))}
		switch {
		case at < 1:
			in.Throttle, in.Brake = 0, 1
		case at > kick && at < kick+6:
			in.Throttle = math.Min(1, base+0.35)
		case at > kick+14:
			in.Throttle, in.Brake = 0, 0.08
		}
		s.Advance(in)
		n := s.Now()
		out.turbine, out.output = append(out.turbine, n.Turbine*rpm), append(out.output, n.Output*rpm)
		if n.Busy && !busy {
			out.events = append(out.events, event{from: n.Range, to: n.To, begin: at})
		}
		if !n.Busy && busy {
			e := &out.events[len(out.events)-1]
			e.end, e.done = at, n.Range == e.to
		}
		busy = n.Busy
	}
	out.truths(u)
	return out
}

// truths measures the events on the speeds themselves, by the definition of the package but by other means: one pass over a thousand samples a second.
func (d *driven) truths(u *unitsheet.Unit) {
	var kept []event
	for _, e := range d.events {
		from, _ := u.Range(e.from)
		to, _ := u.Range(e.to)
		a, b := int(e.begin/sim.Step), min(len(d.turbine)-1, int((e.end+0.4)/sim.Step))
		if e.end == 0 || d.output[a] < 80 {
			continue
		}
		way := func(i int) float64 {
			return (d.turbine[i]/d.output[i] - to.Healthy.Ratio) / (from.Healthy.Ratio - to.Healthy.Ratio)
		}
		low := -1
		for i := a; i < b; i++ {
			if way(i) < 0.1 {
				low = i
				break
			}
		}
		if low < 0 {
			e.done = false
			kept = append(kept, e)
			continue
		}
		high := low
		for high > a && way(high) < 0.8 {
			high--
		}
		e.high, e.inertia = float64(high)*sim.Step, float64(low-high)*sim.Step/0.7
		if to.Healthy.Ratio < from.Healthy.Ratio {
			for i := a; i < low; i++ {
				o := 0.0 // without the swing of the shaft
				for j := i - 100; j <= i+100; j++ {
					o += d.output[min(max(j, 0), len(d.output)-1)] / 201
				}
				e.flare = math.Max(e.flare, d.turbine[i]-from.Healthy.Ratio*o)
			}
		}
		kept = append(kept, e)
	}
	d.events = kept
}

// read is what a tool makes of it: counted over a window, whole, with noise, a wheel that runs out, a clock that is not exact, and the output asked for later.
func (d driven) read(rate float64, seed uint64) (shifts.Drive, float64) {
	rng := rand.New(rand.NewPCG(seed, 99))
	late := 0.12 * (rng.Float64() - 0.5)
	window := math.Min(0.02, 1/rate)
	mean := func(v []float64, t float64) float64 {
		a, b := int((t-window)/sim.Step), int(t/sim.Step)
		a, b = max(0, a), min(len(v)-1, max(0, b))
		sum := 0.0
		for i := a; i <= b; i++ {
			sum += v[i]
		}
		return sum / float64(b-a+1)
	}
	var out shifts.Drive
	angle, last := 0.0, 0.0
	for k := 1; float64(k)/rate < float64(len(d.turbine))*sim.Step-0.1; k++ {
		t := float64(k) / rate
		jitter := func() float64 { return 0.004 * (rng.Float64() - 0.5) }
		x := mean(d.turbine, t+jitter())
		angle += x / rpm * (t - last)
		last = t
		x *= 1 + 0.0012*math.Sin(angle)
		y := mean(d.output, t-late+jitter())
		out.Turbine.Time, out.Turbine.Value = append(out.Turbine.Time, t), append(out.Turbine.Value, math.Round(x+5*rng.NormFloat64()))
		out.Output.Time, out.Output.Value = append(out.Output.Time, t), append(out.Output.Value, math.Round(y+3*rng.NormFloat64()))
	}
	return out, late
}

func gearsOf(u *unitsheet.Unit) []shifts.Gear {
	var out []shifts.Gear
	for _, r := range u.Ranges {
		if r.Selector == "D" && r.Driving() {
			out = append(out, shifts.Gear{ID: r.ID, Ratio: r.Healthy.Ratio})
		}
	}
	return out
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
	gears := gearsOf(u)
	for _, rate := range []float64{10, 25, 50, 100} {
		var all, found, named, extra int
		var offs, times, flares, areas []float64
		near := 0 // flares within a tenth, or 20 rpm
		flared, seen, falseFlares := 0, 0, 0
		for i := range uint64(drives()) {
			seed := i + 5000 // those below were looked at while the measures were chosen
			d := random(t, u, seed, faultsFor(seed))
			rec, late := d.read(rate, seed)
			r, err := shifts.Find(rec, gears, shifts.Usual)
			if err != nil {
				t.Fatal(err)
			}
			offs = append(offs, math.Abs(r.Offset-late))
			used := make([]bool, len(r.Shifts))
			for _, e := range d.events {
				if !e.done {
					continue
				}
				all++
				k := slices.IndexFunc(r.Shifts, func(s shifts.Shift) bool { return !s.Unfinished && s.End > e.begin && s.Begin < e.end+0.5 })
				if k < 0 {
					continue
				}
				found++
				used[k] = true
				s := r.Shifts[k]
				if s.From != e.from || s.To != e.to {
					if os.Getenv("COMPASS_SHIFTS_WRONG") != "" {
						t.Logf("rate %v seed %d: %s-%s at %.2f found as %s-%s at %.2f", rate, seed, e.from, e.to, e.begin, s.From, s.To, s.Begin)
					}
					continue
				}
				named++
				times = append(times, math.Abs(s.Inertia-e.inertia))
				if os.Getenv("COMPASS_SHIFTS_WRONG") != "" && rate == 50 && math.Abs(s.Inertia-e.inertia) > 0.03 {
					t.Logf("seed %d %s-%s at %.2f: inertia %.3f, true %.3f; begin %.3f true %.3f", seed, e.from, e.to, e.begin, s.Inertia, e.inertia, s.Begin, e.high)
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
							t.Logf("seed %d %s-%s at %.2f: flare %.0f, true %.0f, %v", seed, e.from, e.to, e.begin, s.Flare, e.flare, faultsFor(seed))
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
	rec, _ := random(b, u, 1, nil).read(50, 1)
	var hour shifts.Drive
	for n, late := 0, 0.0; late < 3600; n++ {
		for i, t := range rec.Turbine.Time {
			hour.Turbine.Time, hour.Turbine.Value = append(hour.Turbine.Time, late+t), append(hour.Turbine.Value, rec.Turbine.Value[i])
			hour.Output.Time, hour.Output.Value = append(hour.Output.Time, late+t), append(hour.Output.Value, rec.Output.Value[i])
		}
		late = hour.Turbine.Time[len(hour.Turbine.Time)-1]
	}
	gears := gearsOf(u)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := shifts.Find(hour, gears, shifts.Usual); err != nil {
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
		if _, err := shifts.Find(c.d, c.gears, shifts.Usual); err == nil {
			t.Errorf("%s is taken", what)
		}
	}
	if r, err := shifts.Find(shifts.Drive{Turbine: good, Output: good}, gears, shifts.Usual); err != nil || len(r.Shifts) > 0 {
		t.Errorf("a vehicle that stands: %v %v", r, err)
	}
}
