package demo

import (
	"bytes"
	"compress/gzip"
	"context"
	"fmt"
	"io"
	"math"
	"strings"
	"time"

	"innercompass/core/recording"
	"innercompass/core/synth"
	"innercompass/core/vibration"
	"innercompass/internal/app"
	"innercompass/internal/recordings"
)

// What surrounds the units of two vehicles of the demo: a mail van with a driveshaft in two pieces, and the estate.
var (
	mailVan = vibration.Vehicle{Cylinders: 4, Axle: 3.7, Pinion: 10, Circumference: 2.10, Pieces: 2, Joint: vibration.Cross, Belts: []vibration.Belt{{Name: "alternator", Ratio: 2.7}},
		Bearings: []vibration.Bearing{{ID: "center", Name: "center bearing", Elements: 8, Ratio: .22, Inner: "output"}, {ID: "wheel", Name: "wheel bearing", Elements: 14, Ratio: .15, Inner: "wheel"}}}
	estate = vibration.Vehicle{Cylinders: 4, Axle: 43.0 / 11, Pinion: 11, Circumference: 1.95, Pieces: 2, Joint: vibration.Cross, Belts: []vibration.Belt{{Name: "alternator", Ratio: 2.6}}}
)

// recorded is a drive of the demo: none of it was ever on a road.
type recorded struct {
	title, file, vehicle, unit, in, by string
	ago                                time.Duration
	sheet                              vibration.Vehicle
	recipe                             synth.Recipe
	ratio                              float64 // turns of the engine for one of the output
	sound                              bool
	marks                              []recordings.Mark
}

// output is the speed of a vehicle's output shaft at a road speed in km/h, rev/s.
func output(v vibration.Vehicle, kmh float64) float64 { return kmh / 3.6 / v.Circumference * v.Axle }

// vanTones are what the van's seat rail feels: the joints of its driveshaft, its wheels, a little of the engine.
func vanTones(engine float64) []synth.Tone {
	return []synth.Tone{{Order: 2.004, Level: -9, Multiples: []float64{1, 0.2}}, {Order: 1 / mailVan.Axle, Level: -15, Multiples: []float64{1}}, {Order: 2 * engine, Level: -17, Multiples: []float64{1}, Swells: true}}
}

var drives = []recorded{
	{
		title: "Shakes the mirrors at eighty, sixth", file: "van-sixth.csv", vehicle: "Mail van 2", unit: "ombrin-s6", in: "D6", by: "Ines", ago: 3 * time.Hour, sheet: mailVan, ratio: 0.675,
		recipe: synth.Recipe{Seconds: 60, Rate: 1000, From: output(mailVan, 44), To: output(mailVan, 112), Tones: vanTones(0.675), Rings: []synth.Ring{{Hertz: 61, Q: 14, Gain: 0.2}}, Quiet: 0.4, Seed: 71},
		marks:  []recordings.Mark{{At: 32, Note: "worst here, mirrors blur", By: "Ines"}},
	},
	{
		title: "The same road in fourth", file: "van-fourth.csv", vehicle: "Mail van 2", unit: "ombrin-s6", in: "D4", by: "Ines", ago: 2*time.Hour + 40*time.Minute, sheet: mailVan, ratio: 1.141,
		recipe: synth.Recipe{Seconds: 50, Rate: 1000, From: output(mailVan, 48), To: output(mailVan, 96), Tones: vanTones(1.141), Rings: []synth.Ring{{Hertz: 61, Q: 14, Gain: 0.2}}, Quiet: 0.4, Seed: 72},
	},
	{
		title: "Boom in fifth, from the dash", file: "estate-fifth.wav.gz", vehicle: "Estate", unit: "ombrin-m5", in: "G5", by: "Tobin", ago: 30 * time.Minute, sheet: estate, ratio: 0.792, sound: true,
		recipe: synth.Recipe{Seconds: 40, Rate: 8000, From: output(estate, 45), To: output(estate, 88), Tones: []synth.Tone{{Order: 2 * 0.792, Level: 6, Multiples: []float64{1, 0.25}}, {Order: 1 / estate.Axle, Level: -6, Multiples: []float64{1}}}, Rings: []synth.Ring{{Hertz: 118, Q: 9, Gain: 0.3}}, Quiet: 0.05, Seed: 73},
	},
}

// record brings the demo's recordings in, as a user would; open are its cases by vehicle.
func record(ctx context.Context, s *app.App, start time.Time, open map[string]string) error {
	for _, d := range drives {
		at := start.Add(-d.ago)
		s.Now = func() time.Time { return at }
		if err := d.bring(ctx, s, open[d.vehicle]); err != nil {
			return fmt.Errorf("demo recording %q: %w", d.title, err)
		}
	}
	return nil
}

func (d recorded) bring(ctx context.Context, s *app.App, of string) error {
	known, err := s.Recordings.Vehicle(ctx, d.vehicle)
	if err != nil {
		return err
	}
	if known.Revision == 0 {
		if _, err := s.Recordings.SaveVehicle(ctx, d.vehicle, recordings.VehicleSheet{Vehicle: d.sheet, By: d.by}); err != nil {
			return err
		}
	}
	made, err := d.recipe.Make()
	if err != nil {
		return err
	}
	var file bytes.Buffer
	if d.sound {
		err = d.wave(&file, made)
	} else {
		d.table(&file, made)
	}
	if err != nil {
		return err
	}
	rec, err := s.Recordings.Bring(ctx, &file, recordings.Bring{File: d.file, Title: d.title, Case: of, Unit: d.unit, Vehicle: d.vehicle, By: d.by, Driven: recordings.Driven{Range: d.in, Load: "steady"}})
	if err != nil {
		return err
	}
	if d.sound {
		channels := []recordings.Channel{{Name: "Microphone", Role: recording.Hearing, From: "on the dash"}, {Name: "Crank pick-up", Role: recording.Pulses, Turns: 1, Of: string(recording.Engine)}}
		if rec, err = s.Recordings.Change(ctx, rec.ID, rec.Revision, recordings.Said{Channels: channels}); err != nil {
			return err
		}
	}
	for _, m := range d.marks {
		if rec, err = s.Recordings.Mark(ctx, rec.ID, rec.Revision, m.At, m.Note, m.By); err != nil {
			return err
		}
	}
	return nil
}

// table is what a logger on the seat rail writes beside what the scan tool says ten times a second.
func (d recorded) table(w io.Writer, made synth.Drive) {
	road := made.Speed(synth.Channel{Rate: 10, Late: 0.1, Off: -0.003, Step: output(d.sheet, 1)})
	var b strings.Builder
	b.WriteString("Time (s),Seat rail (m/s²),Vehicle speed (km/h),Engine speed (rpm)\n")
	each := int(d.recipe.Rate / 10)
	for i, v := range made.Samples {
		fmt.Fprintf(&b, "%.3f,%.4f,", float64(i)/d.recipe.Rate, v)
		if k := i / each; i%each == 0 && k < len(road.Turns) {
			fmt.Fprintf(&b, "%.0f,%.0f", road.Turns[k]/d.sheet.Axle*d.sheet.Circumference*3.6, math.Round(road.Turns[k]*d.ratio*60/10)*10)
		} else {
			b.WriteString(",")
		}
		b.WriteString("\n")
	}
	_, _ = io.WriteString(w, b.String()) // into memory
}

// wave is what a recorder writes, packed: a microphone on the dash, and pulses of a pick-up at the crank pulley, once in each turn.
func (d recorded) wave(w io.Writer, made synth.Drive) error {
	z := gzip.NewWriter(w)
	done := false
	err := recording.WriteSound(z, 2, int(made.Rate), len(made.Samples), "microphone on the dash; pick-up at the crank pulley", func() ([][]float32, error) {
		if done {
			return nil, nil
		}
		done = true
		sound, pulses, turns := make([]float32, len(made.Samples)), make([]float32, len(made.Samples)), 0.0
		for i, v := range made.Samples {
			sound[i] = float32(v)
			if math.Mod(turns, 1) < 0.2 {
				pulses[i] = 0.6
			}
			turns += made.Shaft(float64(i)/made.Rate) * d.ratio / made.Rate
		}
		return [][]float32{sound, pulses}, nil
	})
	if err != nil {
		return err
	}
	return z.Close()
}
