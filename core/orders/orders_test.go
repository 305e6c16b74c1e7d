package orders_test

import (
	"math"
	"sync"
	"testing"

	"innercompass/core/orders"
	"innercompass/core/signal"
	"innercompass/core/synth"
	"innercompass/core/unitsheet"
	"innercompass/core/vibration"
	"innercompass/internal/catalog"
	"innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(knowledge.FS) })

func s6(t testing.TB) *unitsheet.Unit {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c.Units["ombrin-s6"]
}

// van is an assumed vehicle about the six-speed.
var van = vibration.Vehicle{Cylinders: 4, Axle: 3.7, Pinion: 10, Circumference: 2.10, Pieces: 2, Joint: vibration.Cross}

// shaft is the speed of the van's driveshaft at a road speed in km/h, rev/s.
func shaft(kmh float64) float64 { return kmh / 3.6 / 2.1 * 3.7 }

// drive is a minute of the van in a range, with a tone at an order, and its speed as a scan tool gives it: ten times a second in whole km/h,
// late by 0.3 s.
func drive(t testing.TB, from, to float64, rate float64, in string, tones ...synth.Tone) orders.Drive {
	t.Helper()
	d, err := synth.Recipe{Seconds: 60, Rate: rate, From: shaft(from), To: shaft(to), Tones: tones, Rings: []synth.Ring{{Hertz: 61, Q: 12, Gain: 0.25}}, Seed: 7}.Make()
	if err != nil {
		t.Fatal(err)
	}
	return orders.Drive{Samples: d.Samples, Rate: rate, Speed: d.Speed(synth.Channel{Rate: 10, Late: 0.3, Off: 0.004, Step: shaft(1)}), Doubt: 0.01, State: vibration.State{Range: in}}
}

func work(t testing.TB, d orders.Drive, band signal.Band) orders.Result {
	t.Helper()
	r, err := orders.Of(s6(t), van, d, band)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

func could(r orders.Result, f orders.Found, id string) float64 {
	for _, c := range f.Could {
		for _, i := range r.Classes[c.Class].IDs {
			if i == id {
				return c.Probability
			}
		}
	}
	return 0
}

// A joint's boom in sixth: found at its order, in its picture, beside the planets that pass as often; the drive that parts them is another
// gear, and that gear, recorded too, settles it.
func TestTheJointAndThePlanets(t *testing.T) {
	tone := synth.Tone{Order: 2, Level: -10, Multiples: []float64{1, 0.3}}
	six := work(t, drive(t, 50, 110, 4000, "D6", tone), signal.Shake)
	if len(six.Found) == 0 || math.Abs(six.Found[0].Order/2-1) > 0.008 || six.Found[0].Turning != signal.Turns {
		t.Fatalf("%+v", six.Found)
	}
	if math.Abs(six.Late-0.3) > 0.15 {
		t.Errorf("late by %v, want 0.3", six.Late)
	}
	f := six.Found[0]
	joint, planets := could(six, f, "joint"), could(six, f, "pass:S1/R1")
	if joint < 0.3 {
		t.Errorf("joint %.2f, planets %.2f: %+v", joint, planets, f)
	}
	if len(six.Parts) == 0 || six.Parts[0].Way != vibration.OtherRange || six.Parts[0].Right < 0.9 {
		t.Errorf("drives that part: %+v", six.Parts)
	}
	four := work(t, drive(t, 50, 110, 4000, "D4", tone), signal.Shake)
	both, err := orders.Together(six, four, 0.01)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range both.Parts {
		for i, c := range p.Leaders {
			if c < 0 || both.Classes[c].IDs[0] != six.Classes[six.Parts[0].Leaders[i]].IDs[0] {
				t.Errorf("leader %d of two drives is class %d", i+1, c)
			}
		}
	}
	if p := could(both, both.Found[0], "joint"); p < 0.9 {
		t.Errorf("with fourth the joint is at %.2f", p)
	}
	// The ridge stands in the picture: the darkest cell of a late column is near its frequency.
	x := len(six.Picture.Cells) - 8
	at, top := 0, uint8(0)
	for y, v := range six.Picture.Cells[x] {
		if v > top && float64(y)*six.Picture.YStep > 70 { // above what rings at 61 Hz
			at, top = y, v
		}
	}
	want := 2 * (six.Picture.XFrom + six.Picture.XStep*(float64(x)+0.5))
	if hz := (float64(at) + 0.5) * six.Picture.YStep; math.Abs(hz-want) > 3*six.Picture.YStep {
		t.Errorf("darkest at %v Hz, want %v", hz, want)
	}
}

// Sound at 48 kHz gives the same ridge as at 4 kHz; a whine of the rear set's mesh is found in its band.
func TestTheBandsAndTheRate(t *testing.T) {
	boom := work(t, drive(t, 60, 100, 48000, "D6", synth.Tone{Order: 2, Level: 3, Multiples: []float64{1}}), signal.Shake)
	if len(boom.Found) == 0 || math.Abs(boom.Found[0].Order/2-1) > 0.008 {
		t.Errorf("at 48 kHz: %+v", boom.Found)
	}
	list, err := vibration.Sources(s6(t), van, vibration.State{Range: "D6", Road: 80 / 3.6})
	if err != nil {
		t.Fatal(err)
	}
	var mesh vibration.Source
	for _, s := range list.Sources {
		if s.Family == vibration.Gears && s.Loaded && s.PerOutput > 20 {
			mesh = s
		}
	}
	whine := work(t, drive(t, 70, 100, 24000, "D6", synth.Tone{Order: mesh.PerOutput, Level: -6, Multiples: []float64{1}}), signal.Whine)
	if len(whine.Found) == 0 || math.Abs(whine.Found[0].Order/mesh.PerOutput-1) > 0.008 || could(whine, whine.Found[0], mesh.ID) < 0.5 {
		t.Errorf("mesh of %v: %+v", mesh.PerOutput, whine.Found)
	}
}

// At one speed a line is read from the spectrum, and no order is claimed; noise alone has nothing; a speed that is none is refused.
func TestWhatADriveCannotShowIsSaid(t *testing.T) {
	still := drive(t, 80, 80, 2000, "D6", synth.Tone{Order: 2, Level: -6, Multiples: synth.Usual})
	still.Speed = signal.Speed{At: []float64{0, 60}, Turns: []float64{shaft(80), shaft(80)}}
	r := work(t, still, signal.Shake)
	said := map[orders.LimitKind]bool{}
	for _, l := range r.Limits {
		said[l.What] = true
	}
	if !said[orders.Steady] || len(r.Found) == 0 || r.Found[0].Turning != signal.CannotTell {
		t.Errorf("%+v %+v", r.Limits, r.Found)
	}
	if r := work(t, drive(t, 50, 110, 2000, "D6"), signal.Shake); len(r.Found) != 0 || r.Limits[0].What != orders.NoRidge {
		t.Errorf("noise alone: %+v %+v", r.Found, r.Limits)
	}
	bad := drive(t, 50, 110, 2000, "D6")
	bad.Doubt = 0
	if _, err := orders.Of(s6(t), van, bad, signal.Shake); err == nil {
		t.Error("a speed without doubt was taken")
	}
	bad.Doubt, bad.State.Range = 0.01, "D9"
	if _, err := orders.Of(s6(t), van, bad, signal.Shake); err == nil {
		t.Error("a range that is none was taken")
	}
}

// Ten minutes at 48 kHz from samples to sources: `go test -bench TenMinutes ./core/orders`.
func BenchmarkTenMinutes(b *testing.B) {
	d, err := synth.Recipe{Seconds: 600, Rate: 48000, From: shaft(50), To: shaft(110), Tones: []synth.Tone{{Order: 2, Level: 0, Multiples: synth.Usual}}, Seed: 7}.Make()
	if err != nil {
		b.Fatal(err)
	}
	o := orders.Drive{Samples: d.Samples, Rate: 48000, Speed: d.Speed(synth.Channel{Rate: 10}), Doubt: 0.01, State: vibration.State{Range: "D6"}}
	s6(b)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := orders.Of(s6(b), van, o, signal.Shake); err != nil {
			b.Fatal(err)
		}
	}
}
