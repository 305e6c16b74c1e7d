package standin

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"net"
	"slices"
	"testing"

	"innercompass/core/obd"
	"innercompass/core/sim"
	"innercompass/internal/scan"
	"innercompass/internal/trial"
)

// driven is a six-speed in the vehicle, driven for a while without waiting for it.
func driven(t *testing.T, seconds float64, in sim.Input, faults ...sim.Fault) *Vehicle {
	t.Helper()
	v, err := New(Setup{Unit: trial.Load(t).Networks["ombrin-s6"].Unit, Celsius: 80, Seed: 3, Faults: faults})
	if err != nil {
		t.Fatal(err)
	}
	if err := v.Drive(in); err != nil {
		t.Fatal(err)
	}
	for range int(seconds / 0.02) {
		v.step(0.02)
	}
	return v
}

// pair is a local socket's two ends.
func pair(t *testing.T) (a, b net.Conn) {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	if a, err = net.Dial("tcp", l.Addr().String()); err != nil {
		t.Fatal(err)
	}
	if b, err = l.Accept(); err != nil {
		t.Fatal(err)
	}
	return a, b
}

func connect(t *testing.T, v *Vehicle, trouble Trouble) *scan.Reader {
	t.Helper()
	a, b := pair(t)
	go v.Serve(b, 5, trouble)
	r := scan.NewReader(scan.OverCAN(scan.Frames(a)))
	t.Cleanup(func() { _ = r.Close() })
	return r
}

// What a tool reads is what the vehicle does, to the steps of its scales.
func TestAToolReadsTheVehicle(t *testing.T) {
	v := driven(t, 8, sim.Input{Selector: "D", Throttle: 0.35})
	r := connect(t, v, Trouble{})
	ctx := context.Background()
	ids, err := r.Supported(ctx, EngineModule)
	if err != nil || !slices.Contains(ids, 0x0C) || slices.Contains(ids, 0x20) || !slices.Contains(ids, 0x62) {
		t.Fatalf("supported %X %v", ids, err)
	}
	got, err := r.Current(ctx, EngineModule, ids)
	_, now := v.Driven()
	if err != nil || math.Abs(got[0x0C]-now.Engine*rpm) > 0.25 || math.Abs(got[0x0D]-now.Speed*3.6) > 0.51 || math.Abs(got[0x11]-35) > 0.5 {
		t.Errorf("%v %v; the engine turns at %.1f, the vehicle at %.1f", got, err, now.Engine*rpm, now.Speed*3.6)
	}
	values, err := r.Identified(ctx, TransmissionModule, []uint16{IDTurbine, IDOutput, IDFluid, IDGear, 0xD0FF, IDPressure, IDPressure + 1, IDPressure + 2, IDPressure + 3})
	if err != nil || math.Abs(float64(values[IDTurbine])-now.Turbine*rpm) > 20 || math.Abs(float64(values[IDFluid])-40-now.Celsius) > 1 {
		t.Errorf("%v %v", values, err)
	}
	if _, there := values[0xD0FF]; there {
		t.Error("a value that there is not is given")
	}
	if n, err := r.Number(ctx); err != nil || n != Number {
		t.Errorf("%q %v", n, err)
	}
	var no *obd.RefusedError
	if err := r.Clear(ctx, TransmissionModule); !errors.As(err, &no) || no.Reason != obd.Conditions {
		t.Errorf("codes are cleared while it drives: %v", err)
	}
}

// Lost, broken, busy and late answers are asked for again; a hundred readings come, and none is wrong.
func TestALineThatIsNoGood(t *testing.T) {
	v := driven(t, 8, sim.Input{Selector: "D", Throttle: 0.35})
	r := connect(t, v, Trouble{Lost: 0.03, Broken: 0.03, Busy: 0.05, Late: 0.01})
	_, now := v.Driven()
	failed := 0
	for range 100 {
		got, err := r.Current(context.Background(), EngineModule, []byte{0x0C, 0x0D, 0x11, 0x04, 0x05, 0x42})
		if err != nil {
			failed++
			continue
		}
		if x, ok := got[0x0C]; ok && math.Abs(x-now.Engine*rpm) > 0.25 {
			t.Fatalf("engine speed %v, it is %v", x, now.Engine*rpm)
		}
	}
	if failed > 5 || r.Again == 0 {
		t.Errorf("%d of 100 failed, %d were asked again", failed, r.Again)
	}
}

// A clutch that holds nothing sets the code of a wrong ratio: first pending, then stored; it is cleared standing, and gone.
func TestCodesOfAFault(t *testing.T) {
	v := driven(t, 16, sim.Input{Selector: "D", Throttle: 0.35}, sim.Fault{Kind: sim.StuckOff, Element: "CB"})
	r := connect(t, v, Trouble{})
	ctx := context.Background()
	codes, err := r.Codes(ctx, TransmissionModule, false)
	if err != nil || !slices.Contains(codes, wrongRatio) {
		t.Fatalf("%v %v", codes, err)
	}
	if err := v.Drive(sim.Input{Selector: "D", Brake: 1}); err != nil {
		t.Fatal(err)
	}
	for range 600 {
		v.step(0.02)
	}
	if err := r.Clear(ctx, TransmissionModule); err != nil {
		t.Fatal(err)
	}
	if codes, err := r.Codes(ctx, TransmissionModule, true); err != nil || len(codes) > 0 {
		t.Errorf("after clearing: %v %v", codes, err)
	}
	sound := driven(t, 16, sim.Input{Selector: "D", Throttle: 0.35})
	if codes, err := connect(t, sound, Trouble{}).Codes(ctx, TransmissionModule, true); err != nil || len(codes) > 0 {
		t.Errorf("a sound one: %v %v", codes, err)
	}
}

// The same vehicle over a serial line, one value at a time; a wrong sum is asked for again.
func TestASerialLine(t *testing.T) {
	v := driven(t, 16, sim.Input{Selector: "D", Throttle: 0.35}, sim.Fault{Kind: sim.StuckOff, Element: "CB"})
	a, b := pair(t)
	go v.ServeLine(b, 5, Trouble{Broken: 0.2})
	r := scan.NewReader(scan.OverLine(a))
	defer r.Close()
	ctx := context.Background()
	_, now := v.Driven()
	for range 5 {
		got, err := r.Current(ctx, EngineModule, []byte{0x0C, 0x11})
		if err != nil || math.Abs(got[0x0C]-now.Engine*rpm) > 0.25 || len(got) != 2 {
			t.Fatalf("%v %v", got, err)
		}
	}
	codes, err := r.Codes(ctx, TransmissionModule, false)
	if err != nil || !slices.Contains(codes, wrongRatio) {
		t.Errorf("%v %v", codes, err)
	}
	// More than three codes, and the vehicle's number, take several messages.
	v.mu.Lock()
	for _, c := range []obd.Code{lockupSlips, lockupStuck, lineLow, tooHot} {
		v.codes.stored[c] = true
	}
	v.mu.Unlock()
	if codes, err = r.Codes(ctx, TransmissionModule, false); err != nil || len(codes) < 5 {
		t.Errorf("%v %v", codes, err)
	}
	if number, err := r.Number(ctx); err != nil || number != Number {
		t.Errorf("%q %v", number, err)
	}
}

// What a driver cannot do is refused and changes nothing.
func TestDriving(t *testing.T) {
	v := driven(t, 8, sim.Input{Selector: "D", Throttle: 0.35})
	for _, in := range []sim.Input{{Selector: "X"}, {Selector: "D", Throttle: 2}, {Selector: "D", Brake: math.NaN()}, {Selector: "R"}} {
		var bad *DriveError
		if err := v.Drive(in); !errors.As(err, &bad) {
			t.Errorf("%+v: %v", in, err)
		}
	}
	if in, _ := v.Driven(); in.Selector != "D" || in.Throttle != 0.35 {
		t.Errorf("%+v", in)
	}
}

// A quarter of a car: energy closes, the body swings at 1.3 Hz, and the wheel hops where a textbook has it.
func TestAQuarterOfACar(t *testing.T) {
	q := newQuarter(400)
	for i := range 20_000 {
		q.step(300*math.Sin(2*math.Pi*7*float64(i)*1e-3), 1e-3)
	}
	if off := math.Abs(q.done-q.lost-q.energy()) / q.done; off > 1e-3 {
		t.Errorf("energy is off by %g", off)
	}
	// Let go from a lifted body: the time of a full swing, damped: 1/(1.3·√(1 − 0.3²)) s, a little less for the tire.
	q = newQuarter(400)
	q.damper /= 10
	q.x = 0.05
	q.y = q.spring * q.x / (q.spring + q.tire)
	var at []float64
	last := q.x
	for i := range 4000 {
		q.step(0, 1e-3)
		if last < 0 && q.x >= 0 {
			at = append(at, float64(i)*1e-3)
		}
		last = q.x
	}
	period := at[1] - at[0]
	series := q.spring * q.tire / (q.spring + q.tire)
	want := 2 * math.Pi / math.Sqrt(series/q.body)
	if math.Abs(period/want-1) > 0.02 {
		t.Errorf("it swings in %.3f s, %.3f is wanted", period, want)
	}
}

// Gauges err by their class and no more.
func TestGaugesErrByTheirClass(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for seed := range uint64(50) {
		g := NewGauge(seed)
		sum := 0.0
		for range 200 {
			sum += g.Read(8e5, r) / 200
		}
		if off := math.Abs(sum - 8e5); off > g.Class*g.Most+g.Steps/4 {
			t.Errorf("gauge %d is off by %.0f Pa", seed, off)
		}
	}
	v := driven(t, 10, sim.Input{Selector: "D", Throttle: 0.4})
	x := v.Read(map[string]Gauge{"line": NewGauge(1), "CB": NewGauge(2)}, r)
	if x.Gauges["line"] < 3e5 || x.Tachometer < 200 || x.Shaking <= 0 || x.Sound < 30 || len(x.Places) != 3 {
		t.Errorf("%+v", x)
	}
}
