package hearing_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/knowledge"
	"innercompass/core/recording"
	"innercompass/core/synth"
	"innercompass/core/vibration"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/hearing"
	"innercompass/internal/problem"
	"innercompass/internal/recordings"
	"innercompass/internal/takein"
)

var ctx = context.Background()

// van is an assumed vehicle about the six-speed.
var van = vibration.Vehicle{Cylinders: 4, Axle: 3.7, Pinion: 10, Circumference: 2.10, Pieces: 2, Joint: vibration.Cross}

// with is the whole app with the van's sheet.
func with(t testing.TB) *app.App {
	t.Helper()
	a := apptest.New(t)
	if _, err := a.Recordings.SaveVehicle(ctx, "Van", recordings.VehicleSheet{Vehicle: van}); err != nil {
		t.Fatal(err)
	}
	return a
}

// made is a drive of the van from 50 to 105 km/h, with a line of so many beats in a turn of its output.
func made(t testing.TB, rate, order float64, seed uint64) synth.Drive {
	t.Helper()
	shaft := func(kmh float64) float64 { return kmh / 3.6 / van.Circumference * van.Axle }
	d, err := synth.Recipe{Seconds: 60, Rate: rate, From: shaft(50), To: shaft(105), Tones: []synth.Tone{{Order: order, Level: -8, Multiples: []float64{1, 0.2}}}, Quiet: 0.2, Seed: seed}.Make()
	if err != nil {
		t.Fatal(err)
	}
	return d
}

// bring keeps a table of a drive in a range; speed writes the third column, nothing leaves it out.
func bring(t testing.TB, a *app.App, d synth.Drive, in, head string, speed func(i int) string) recordings.Recording {
	t.Helper()
	var b strings.Builder
	b.WriteString("Time (s),Seat rail (m/s²)" + head + "\n")
	for i, v := range d.Samples {
		fmt.Fprintf(&b, "%.4f,%.5f%s\n", float64(i)/d.Rate, v, speed(i))
	}
	rec, err := a.Recordings.Bring(ctx, strings.NewReader(b.String()), recordings.Bring{File: in + ".csv", Unit: "ombrin-s6", Vehicle: "Van", Driven: recordings.Driven{Range: in}})
	if err != nil {
		t.Fatal(err)
	}
	return rec
}

// scan is the road speed ten times a second, in whole km/h.
func scan(d synth.Drive) func(i int) string {
	return func(i int) string {
		if i%int(d.Rate/10) != 0 {
			return ","
		}
		return fmt.Sprintf(",%.0f", d.Shaft(float64(i)/d.Rate)/van.Axle*van.Circumference*3.6)
	}
}

const road = ",Vehicle speed (km/h)"

// lead is the first source of the strongest ridge.
func lead(t *testing.T, h hearing.Heard) []string {
	t.Helper()
	if len(h.Found) == 0 || len(h.Found[0].Could) == 0 {
		t.Fatalf("nothing was found: %v", h.Limited())
	}
	return h.Classes[h.Found[0].Could[0].Class].IDs
}

// Sixth and fourth of one vehicle weighed together, and what the drives say in words.
func TestTwoDrivesTogether(t *testing.T) {
	a := with(t)
	six, four := made(t, 500, 2, 3), made(t, 500, 2, 4)
	one, two := bring(t, a, six, "D6", road, scan(six)), bring(t, a, four, "D4", road, scan(four))
	h, err := a.Hearing.Orders(ctx, one.ID, hearing.Asked{With: two.ID})
	if err != nil {
		t.Fatal(err)
	}
	if !slices.Contains(lead(t, h), "joint") || h.Found[0].Could[0].Probability < 0.9 || h.Other == nil || !strings.HasPrefix(h.Headline(), "Joints") {
		t.Errorf("%s: %+v", h.Headline(), h.Found[0])
	}
	if last := h.Found[len(h.Found)-1]; len(h.Found) < 2 || last.Drive != 1 {
		t.Errorf("%d ridges of two drives, the last of drive %d", len(h.Found), last.Drive+1)
	}
	if causes := h.Causes(h.Found[0].Could[0]); !slices.ContainsFunc(causes, func(e knowledge.EntryRef) bool { return e.ID == "shaft-angle-off" }) {
		t.Errorf("causes of the joint: %v", causes)
	}
	alone, err := a.Hearing.Orders(ctx, one.ID, hearing.Asked{})
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range alone.Parts {
		if alone.Drive(p) == "" || alone.Parting(p) == "" || hearing.Caution(p.Way) == "" {
			t.Errorf("%+v has no words", p)
		}
	}
	if len(alone.Assumed()) != 0 || alone.Reference() <= 0 {
		t.Errorf("%v %v", alone.Assumed(), alone.Reference())
	}
}

// Pulses of the crank give the speed by the gears of the range; so does the engine's speed.
func TestSpeedByPulsesAndByTheEngine(t *testing.T) {
	a := with(t)
	d := made(t, 1000, 2, 5)
	const ratio = 0.675 // of sixth
	turns := 0.0
	pulses := bring(t, a, d, "D6", ",Crank pulses (V),Engine speed (rpm)", func(i int) string {
		turns += d.Shaft(float64(i)/d.Rate) * ratio / d.Rate
		level := 0
		if math.Mod(turns, 1) < 0.25 {
			level = 5
		}
		rpm := ""
		if i%100 == 0 {
			rpm = fmt.Sprintf("%.0f", d.Shaft(float64(i)/d.Rate)*ratio*60)
		}
		return fmt.Sprintf(",%d,%s", level, rpm)
	})
	said := []recordings.Channel{{Name: "Seat", Unit: "m/s²", Role: recording.Shaking}, {Name: "Crank", Unit: "V", Role: recording.Pulses, Turns: 1, Of: "engine"}, {Name: "Engine", Unit: "rpm", Role: recording.Engine}}
	rec, err := a.Recordings.Change(ctx, pulses.ID, pulses.Revision, recordings.Said{Channels: said})
	if err != nil {
		t.Fatal(err)
	}
	for name, channel := range map[string]int{"pulses": 1, "engine": 2} {
		h, err := a.Hearing.Orders(ctx, rec.ID, hearing.Asked{Speed: &channel})
		if err != nil {
			t.Fatal(name, err)
		}
		if !slices.Contains(lead(t, h), "joint") || math.Abs(h.Found[0].Order/2-1) > 0.006 {
			t.Errorf("by %s: %+v", name, h.Found[0])
		}
	}
	heard := 0
	if _, err := a.Hearing.Orders(ctx, rec.ID, hearing.Asked{Speed: &heard}); err == nil {
		t.Error("the seat was taken for a speed")
	}
}

// The speed of another recording of the same drive, at an offset that is typed; one without overlap is refused.
func TestSpeedFromAnotherRecording(t *testing.T) {
	a := with(t)
	d := made(t, 500, 2, 6)
	sound := bring(t, a, d, "D6", "", func(int) string { return "" })
	late := scan(d)
	tool := bring(t, a, d, "D6", road, func(i int) string { // it began three seconds before
		if i < 1500 {
			return late(0)
		}
		return late(i - 1500)
	})
	if _, err := a.Hearing.Orders(ctx, sound.ID, hearing.Asked{}); err == nil {
		t.Fatal("it has a speed already")
	}
	offset := 3.0
	rec, err := a.Hearing.Join(ctx, sound.ID, sound.Revision, tool.ID, &offset)
	if err != nil {
		t.Fatal(err)
	}
	h, err := a.Hearing.Orders(ctx, rec.ID, hearing.Asked{To: 56})
	if err != nil {
		t.Fatal(err)
	}
	if !slices.Contains(lead(t, h), "joint") || math.Abs(h.Late) > 0.3 {
		t.Errorf("late by %v, %+v", h.Late, h.Found)
	}
	var field *problem.FieldError
	far := 500.0
	if _, err := a.Hearing.Join(ctx, rec.ID, rec.Revision, tool.ID, &far); !errors.As(err, &field) || field.Field != "offset" {
		t.Errorf("an offset without overlap: %v", err)
	}
	if _, err := a.Hearing.Join(ctx, rec.ID, rec.Revision, tool.ID, nil); !errors.As(err, &field) || !strings.Contains(field.Reason, "clap") {
		t.Errorf("a clap in noise: %v", err)
	}
	if rec, err = a.Hearing.Join(ctx, rec.ID, rec.Revision, "", nil); err != nil || rec.Joined != nil {
		t.Errorf("%+v %v", rec.Joined, err)
	}
}

// A reading goes into a case only for what is evidence; strikes show in the envelope of the band in which they ring.
func TestWhatIsNotedAndWhatIsNot(t *testing.T) {
	a := with(t)
	d := made(t, 500, 2, 7)
	rec := bring(t, a, d, "D6", road, scan(d))
	if _, _, err := a.Hearing.Note(ctx, rec.ID, hearing.Asked{}, 0, ""); err == nil || !strings.Contains(err.Error(), "of no case") {
		t.Errorf("without a case: %v", err)
	}
	saved, err := a.Intake.TakeIn(ctx, takein.Intake{Words: "It shakes", Vehicle: "Van", UnitID: "ombrin-s6"})
	if err != nil {
		t.Fatal(err)
	}
	if rec, err = a.Recordings.Change(ctx, rec.ID, rec.Revision, recordings.Said{Case: &saved.Case.ID}); err != nil {
		t.Fatal(err)
	}
	if _, _, err := a.Hearing.Note(ctx, rec.ID, hearing.Asked{}, 9, ""); err == nil {
		t.Error("a ridge that is none was noted")
	}
	if _, _, err := a.Hearing.Note(ctx, rec.ID, hearing.Asked{Known: "joint", Low: 35, High: 110}, 0, ""); err == nil || !strings.Contains(err.Error(), "proves nothing") {
		t.Errorf("the line that gave the speed: %v", err)
	}
	now, _, err := a.Hearing.Note(ctx, rec.ID, hearing.Asked{}, 0, "Ines")
	if err != nil {
		t.Fatal(err)
	}
	r := now.Case.Readings[len(now.Case.Readings)-1]
	for i, p := range r.Likelihood {
		if !(p >= 0.02 && p <= 1) {
			t.Errorf("state %d has a likelihood of %v", i, p)
		}
	}
	var b bytes.Buffer
	b.WriteString("Time (s),Case (m/s²)\n")
	const rate = 4000.0
	next := 0.0
	for i := range 40000 {
		s := float64(i) / rate
		if s >= next+1/23.0 {
			next += 1 / 23.0
		}
		fmt.Fprintf(&b, "%.5f,%.5f\n", s, 3*math.Sin(2*math.Pi*40*s)+0.4*math.Exp(-(s-next)*150)*math.Sin(2*math.Pi*900*(s-next)))
	}
	strikes, err := a.Recordings.Bring(ctx, &b, recordings.Bring{File: "case.csv"})
	if err != nil {
		t.Fatal(err)
	}
	s, err := a.Hearing.Spectrum(ctx, strikes.ID, nil, 0, 0, 200, 700, 1100)
	if err != nil || len(s.Peaks) == 0 || math.Abs(s.Peaks[0].Frequency-23) > 0.5 {
		t.Errorf("%+v %v", s.Peaks, err)
	}
}
