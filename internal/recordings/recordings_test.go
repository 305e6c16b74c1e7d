package recordings_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"strings"
	"testing"

	"innercompass/core/recording"
	"innercompass/core/synth"
	"innercompass/core/vibration"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/hearing"
	"innercompass/internal/measuring"
	"innercompass/internal/problem"
	"innercompass/internal/recordings"
	"innercompass/internal/takein"
)

var ctx = context.Background()

// van is an assumed vehicle about the six-speed.
var van = vibration.Vehicle{Cylinders: 4, Axle: 3.7, Pinion: 10, Circumference: 2.10, Pieces: 2, Joint: vibration.Cross}

// logged is a drive of the van as a logger writes it: a joint that shakes, speeds ten times a second.
func logged(t testing.TB, seconds, from, to float64) string {
	t.Helper()
	shaft := func(kmh float64) float64 { return kmh / 3.6 / van.Circumference * van.Axle }
	d, err := synth.Recipe{Seconds: seconds, Rate: 500, From: shaft(from), To: shaft(to), Tones: []synth.Tone{{Order: 2, Level: -9, Multiples: []float64{1, 0.3}}}, Seed: 5}.Make()
	if err != nil {
		t.Fatal(err)
	}
	var b strings.Builder
	b.WriteString("Zeit [s];Seat rail [m/s²];Vehicle speed [km/h]\n")
	for i, v := range d.Samples {
		speed := ""
		if i%50 == 0 {
			speed = fmt.Sprintf("%.0f", d.Shaft(float64(i)/500)/van.Axle*van.Circumference*3.6)
		}
		b.WriteString(strings.ReplaceAll(fmt.Sprintf("%.3f;%.4f;%s\n", float64(i)/500, v, speed), ".", ","))
	}
	return b.String()
}

func bring(t testing.TB, a *app.App, text string, b recordings.Bring) recordings.Recording {
	t.Helper()
	rec, err := a.Recordings.Bring(ctx, strings.NewReader(text), b)
	if err != nil {
		t.Fatal(err)
	}
	return rec
}

// A table with decimal commas is read, drawn, heard and put into its case; what it names comes back with it.
func TestFromAFileIntoTheCase(t *testing.T) {
	a := apptest.New(t)
	saved, err := a.Intake.TakeIn(ctx, takein.Intake{Words: "It shakes at eighty", Vehicle: "Parcel van", UnitID: "ombrin-s6"})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := a.Recordings.SaveVehicle(ctx, "parcel van", recordings.VehicleSheet{Vehicle: van}); err != nil {
		t.Fatal(err)
	}
	rec := bring(t, a, logged(t, 60, 48, 110), recordings.Bring{File: `C:\logs\drive 1.csv`, Case: saved.Case.ID, Driven: recordings.Driven{Range: "D6"}})
	if rec.File != "drive 1.csv" || rec.Title != "drive 1" || rec.Unit != "ombrin-s6" || rec.Rows != 30000 || rec.Channels[0].Role != recording.Shaking || rec.Channels[1].Role != recording.Road {
		t.Errorf("%+v", rec)
	}
	_, trace, err := a.Recordings.Trace(ctx, rec.ID, []int{0, 1}, 0, 0, 500)
	if err != nil || len(trace.At) < 100 || trace.Each < 2 {
		t.Errorf("%d moments of %d rows, %v", len(trace.At), trace.Each, err)
	}
	h, err := a.Hearing.Orders(ctx, rec.ID, hearing.Asked{})
	if err != nil {
		t.Fatal(err)
	}
	if len(h.Found) == 0 || h.Classes[h.Found[0].Could[0].Class].IDs[0] != "joint" {
		t.Errorf("%s %+v", h.Headline(), h.Found)
	}
	noted, said, err := a.Hearing.Note(ctx, rec.ID, hearing.Asked{}, 0, "Ines")
	if err != nil || !strings.Contains(said, "twice") {
		t.Fatalf("%q %v", said, err)
	}
	r := noted.Case.Readings[len(noted.Case.Readings)-1]
	if r.Finding != "shakes-per-turn" || r.State != "shaft-twice" || len(r.Likelihood) < 8 || !strings.Contains(r.Value, "order 2.0") {
		t.Errorf("%+v", r)
	}
	before, err := a.Overview.View(ctx, saved.Case.ID)
	if err != nil {
		t.Fatal(err)
	}
	top := before.Suspects[0].ID
	if !strings.HasPrefix(top, "shaft-") && top != "joint-worn" {
		t.Errorf("after it %s leads", top)
	}
	// The table comes back with what was named, the file as it came.
	for as, want := range map[string]string{"came": "Zeit [s];Seat rail", "table": "Time (s),Seat rail (m/s²),Vehicle speed (km/h)\n0,"} {
		out, err := a.Recordings.File(ctx, rec.ID, as)
		if err != nil {
			t.Fatal(err)
		}
		var b bytes.Buffer
		if err := out.Write(&b); err != nil || !strings.HasPrefix(b.String(), want) {
			t.Errorf("%s: %.60q, %v", as, b.String(), err)
		}
		out.Close()
	}
}

// What a table of one shape was said to be is remembered for the next; a table that was found wrong is read again.
func TestColumnsAreMappedOnce(t *testing.T) {
	a := apptest.New(t)
	text := "Time (s),CH1,CH2\n0,1,100\n0.1,2,200\n0.2,3,300\n0.3,4,400\n"
	rec := bring(t, a, text, recordings.Bring{File: "a.csv"})
	said := []recordings.Channel{{Name: "Seat", Unit: "m/s²", Role: recording.Shaking}, {Name: "Tail shaft", Unit: "rpm", Role: recording.Output}}
	rec, err := a.Recordings.Change(ctx, rec.ID, rec.Revision, recordings.Said{Channels: said})
	if err != nil {
		t.Fatal(err)
	}
	again := bring(t, a, "Time (s),CH1,CH2\n5,9,900\n6,8,800\n7,7,700\n8,7,700\n", recordings.Bring{File: "b.csv"})
	if again.Channels[0].Name != "Seat" || again.Channels[1].Role != recording.Output || again.Channels[0].Values != 4 {
		t.Errorf("%+v", again.Channels)
	}
	l := *rec.Layout
	l.Kind, l.Time, l.Step = recording.ByRow, -1, 0.5
	rec, err = a.Recordings.Reread(ctx, rec.ID, rec.Revision, l)
	if err != nil || len(rec.Channels) != 3 || math.Abs(rec.Seconds-1.5) > 1e-9 || rec.Channels[1].Name != "CH1" {
		t.Errorf("%+v %v", rec, err)
	}
	// What is said after a table was read in another way is remembered for its shape as well.
	said = []recordings.Channel{{Name: "Counter", Role: recording.Other}, {Name: "Dash", Unit: "m/s²", Role: recording.Shaking}, {Name: "Tail", Unit: "rpm", Role: recording.Output}}
	if rec, err = a.Recordings.Change(ctx, rec.ID, rec.Revision, recordings.Said{Channels: said}); err != nil {
		t.Fatal(err)
	}
	third := bring(t, a, "Time (s),CH1,CH2\n5,9,900\n6,8,800\n7,7,700\n8,7,700\n", recordings.Bring{File: "c.csv"})
	if len(third.Channels) != 3 || third.Channels[1].Name != "Dash" || math.Abs(third.Seconds-1.5) > 1e-9 {
		t.Errorf("%+v", third)
	}
	if _, err := a.Recordings.Change(ctx, rec.ID, rec.Revision-1, recordings.Said{}); !errors.Is(err, problem.ErrChanged) {
		t.Errorf("an old revision: %v", err)
	}
}

// What is wrong with a file is said with its place, and nothing of it stays; nor when the sender stops in the middle.
func TestNothingIsHalfTaken(t *testing.T) {
	a := apptest.New(t)
	var packed bytes.Buffer
	z := gzip.NewWriter(&packed)
	_, _ = io.WriteString(z, logged(t, 5, 60, 70))
	_ = z.Close()
	stopped, stop := context.WithCancel(ctx)
	for name, c := range map[string]struct {
		in   io.Reader
		ctx  context.Context
		want string
	}{
		"a word in row 4":    {strings.NewReader("Time,A\n0,1\n1,2\n2,oops\n3,4\n"), ctx, "row 4, byte 15"},
		"half a packed file": {bytes.NewReader(packed.Bytes()[:packed.Len()/2]), ctx, "cut off"},
		"a picture":          {strings.NewReader("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR"), ctx, "no text"},
		"nothing":            {strings.NewReader(""), ctx, "empty"},
		"heads alone":        {strings.NewReader("Time,A,B\n"), ctx, "no rows"},
		"stopped":            {io.MultiReader(strings.NewReader(logged(t, 5, 60, 70)), stopper{stop}, strings.NewReader("1;2;3\n")), stopped, "canceled"},
	} {
		_, err := a.Recordings.Bring(c.ctx, c.in, recordings.Bring{File: "x.csv"})
		if err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s: %v, want %q", name, err, c.want)
		}
	}
	all, err := a.Recordings.List(ctx, "")
	if err != nil || len(all) != 0 {
		t.Errorf("%d recordings kept, %v", len(all), err)
	}
	for name, b := range map[string]recordings.Bring{"no such case": {File: "a.csv", Case: "c0"}, "no name": {}, "no such range": {File: "a.csv", Unit: "ombrin-s6", Driven: recordings.Driven{Range: "D9"}}, "a role that is none": {File: "a.csv", Roles: []recording.Role{"smell"}}} {
		if _, err := a.Recordings.Bring(ctx, strings.NewReader(logged(t, 5, 60, 70)), b); err == nil {
			t.Errorf("%s was taken", name)
		}
	}
}

type stopper struct{ stop func() }

func (s stopper) Read([]byte) (int, error) {
	s.stop()
	return 0, io.EOF
}

// Marks stand in the order of their moments; a recording that is taken away takes its files with it, unless another has them.
func TestMarksAndTakingAway(t *testing.T) {
	a := apptest.New(t)
	text := logged(t, 10, 60, 80)
	one, two := bring(t, a, text, recordings.Bring{File: "one.csv"}), bring(t, a, text, recordings.Bring{File: "two.csv"})
	var err error
	for _, at := range []float64{8, 2} {
		if one, err = a.Recordings.Mark(ctx, one.ID, one.Revision, at, "here", ""); err != nil {
			t.Fatal(err)
		}
	}
	if one.Marks[0].At != 2 || len(one.Marks) != 2 {
		t.Errorf("%+v", one.Marks)
	}
	if _, err := a.Recordings.Mark(ctx, one.ID, one.Revision, 99, "after the end", ""); err == nil {
		t.Error("a mark after the end was taken")
	}
	if one, err = a.Recordings.Unmark(ctx, one.ID, one.Revision, one.Marks[1].ID); err != nil || len(one.Marks) != 1 {
		t.Errorf("%+v %v", one.Marks, err)
	}
	if err := a.Recordings.Remove(ctx, one.ID, one.Revision); err != nil {
		t.Fatal(err)
	}
	if _, _, err := a.Recordings.Trace(ctx, two.ID, []int{0}, 0, 0, 100); err != nil {
		t.Errorf("the other has lost its samples: %v", err)
	}
	if err := a.Recordings.Remove(ctx, two.ID, two.Revision); err != nil {
		t.Fatal(err)
	}
	if _, err := a.Store.OpenFile(two.Digest); err == nil {
		t.Error("the file is still there")
	}
}

// Without a speed channel a line that is known gives the speed, and proves nothing itself; a speed that was held makes a spectrum.
func TestSpeedWithoutAChannel(t *testing.T) {
	a := apptest.New(t)
	text := logged(t, 40, 50, 90)
	text = strings.ReplaceAll(text, "Vehicle speed [km/h]", "Nothing [V]")
	rec := bring(t, a, text, recordings.Bring{File: "a.csv", Unit: "ombrin-s6", Vehicle: "Van", Driven: recordings.Driven{Range: "D6"}})
	if _, err := a.Recordings.SaveVehicle(ctx, "Van", recordings.VehicleSheet{Vehicle: van}); err != nil {
		t.Fatal(err)
	}
	if _, err := a.Hearing.Orders(ctx, rec.ID, hearing.Asked{}); err == nil || !strings.Contains(err.Error(), "none was recorded") {
		t.Errorf("without a speed: %v", err)
	}
	h, err := a.Hearing.Orders(ctx, rec.ID, hearing.Asked{Known: "joint", Low: 35, High: 100})
	if err != nil {
		t.Fatal(err)
	}
	if len(h.Found) == 0 || !h.Given(h.Found[0]) || math.Abs(h.From*3.6/van.Axle*van.Circumference-50) > 3 {
		t.Errorf("from %v: %+v", h.From, h.Found)
	}
	if _, err := a.Hearing.Orders(ctx, rec.ID, hearing.Asked{Known: "belt"}); err == nil {
		t.Error("a line that nobody knows was followed")
	}
	if h, err = a.Hearing.Orders(ctx, rec.ID, hearing.Asked{Road: 20, From: 10, To: 20}); err != nil || h.Span != 0 {
		t.Errorf("held: span %v, %v", h.Span, err)
	}
	s, err := a.Hearing.Spectrum(ctx, rec.ID, nil, 0, 0, 100, 0, 0)
	if err != nil || s.Step > 1 || len(s.Power) < 100 {
		t.Errorf("%+v %v", s.Step, err)
	}
}

// What surrounds a vehicle's unit is filled in where an instrument asks it in a case.
func TestTheSheetOfTheVehicleFillsInTheInstrument(t *testing.T) {
	a := apptest.New(t)
	saved, err := a.Intake.TakeIn(ctx, takein.Intake{Words: "It hums", Vehicle: "Parcel van", UnitID: "ombrin-s6"})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := a.Recordings.SaveVehicle(ctx, "Parcel van", recordings.VehicleSheet{Vehicle: van}); err != nil {
		t.Fatal(err)
	}
	v, err := a.Measuring.Instrument(ctx, measuring.InstrumentAt{Name: "pitch:D6", Case: saved.Case.ID})
	if err != nil || v.Values["tire"] != "2100 mm" || v.Values["axle"] != "3.7" || v.Values["shaft"] != "two" || v.From["axle"] == "" {
		t.Errorf("%v %v %v", v.Values, v.From, err)
	}
}

func TestATireGivesItsCircumference(t *testing.T) {
	a := apptest.New(t)
	v, err := a.Recordings.SaveVehicle(ctx, "Van", recordings.VehicleSheet{Tire: "205/55 R16 91H"})
	if err != nil || math.Abs(v.Vehicle.Circumference-1.925) > 0.01 { // 631.9 mm outside, 97 % of it
		t.Errorf("%+v %v", v, err)
	}
	for _, bad := range []recordings.VehicleSheet{{Tire: "big", Revision: 1}, {Vehicle: vibration.Vehicle{Axle: 99}, Revision: 1}, {Revision: 0}} {
		if _, err := a.Recordings.SaveVehicle(ctx, "VAN", bad); err == nil {
			t.Errorf("%+v was kept", bad)
		}
	}
}
