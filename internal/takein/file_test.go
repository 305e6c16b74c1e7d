package takein_test

import (
	"errors"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/problem"
	"innercompass/internal/takein"
)

const fileHead = `{"format":"inner-compass-case/1","unit":"norrad-h4","readings":[`

func TestAFileIsReadAsWritten(t *testing.T) {
	f, err := takein.ParseFile([]byte(fileHead + `{"finding":"road.hot.shift","range":"D3","state":"flare"},{"finding":"fluid-level","state":"low","source":"measured"}]}`))
	if err != nil {
		t.Fatal(err)
	}
	if f.Access != "ground" || f.Readings[0].Finding != "road.hot.D3.shift" || f.Readings[0].Source != "seen" || f.Readings[0].Range != "" {
		t.Errorf("%+v", f)
	}
	ev := f.Evidence()
	if len(ev) != 2 || ev[0].ID != "r1" || ev[1].Source != "measured" {
		t.Errorf("%+v", ev)
	}
}

func TestABadFileNamesLineOrField(t *testing.T) {
	for text, want := range map[string]string{
		"":                         "line 1",
		"{\n\n\"format\": tru}":    "line 3",
		`{"format":"x"}`:           "format",
		fileHead + `{"state":1}]}`: "line 1",
		fileHead + `]}x`:           "something follows",
		`{"format":"inner-compass-case/1","unit":"u","access":"roof","readings":[]}`:                                 "access",
		`{"format":"inner-compass-case/1","unit":"u","stage":"lunch","readings":[]}`:                                 "stage",
		fileHead + `{"finding":"fluid-level","range":"D3","state":"low"}]}`:                                          "readings[0].range",
		fileHead + strings.Repeat(`{"finding":"fluid-level","state":"low"},`, 500) + `{"finding":"a","state":"b"}]}`: "501 readings",
	} {
		_, err := takein.ParseFile([]byte(text))
		var fe *problem.FieldError
		if !errors.As(err, &fe) || !strings.Contains(err.Error(), want) || fe.Accepted == "" {
			t.Errorf("%.60q: %v, want %q", text, err, want)
		}
	}
}

// A file with one bad reading opens no case at all.
func TestImportIsAllOrNothing(t *testing.T) {
	s := apptest.New(t)
	for _, readings := range []string{
		`{"finding":"fluid-level","state":"low"},{"finding":"gone","state":"low"}`,
		`{"finding":"fluid-level","state":"purple"}`,
		`{"finding":"fluid-level","state":"low","likelihood":[1,2,3]}`,
	} {
		f, err := takein.ParseFile([]byte(fileHead + readings + `]}`))
		if err != nil {
			t.Fatal(err)
		}
		var fe *problem.FieldError
		if _, err := s.Intake.Import(ctx, f); !errors.As(err, &fe) || !strings.HasPrefix(fe.Field, "readings[") {
			t.Errorf("%s: %v", readings, err)
		}
	}
	if floor := apptest.Floor(t, s); len(floor) != 0 {
		t.Errorf("%d cases", len(floor))
	}
}

// The bench travels with its case: notes come back as they went, in order, and one that cannot be is named.
func TestTheBenchTravelsInTheFile(t *testing.T) {
	s := apptest.New(t)
	const notes = `"bench":[{"kind":"out","part":"cable"},{"kind":"found","part":"cable","ref":"worn","words":"frayed","by":"Ines"},{"kind":"renew","part":"cable","ref":"renew"}],`
	f, err := takein.ParseFile([]byte(strings.Replace(fileHead, `"readings"`, notes+`"readings"`, 1) + `]}`))
	if err != nil {
		t.Fatal(err)
	}
	v, err := apptest.See(s)(s.Intake.Import(ctx, f))
	if err != nil {
		t.Fatal(err)
	}
	back, err := s.Intake.Export(ctx, v.Case.ID)
	if err != nil || !slices.Equal(back.Bench, f.Bench) {
		t.Errorf("%+v, %v", back.Bench, err)
	}
	view, err := s.Teardown.View(ctx, v.Case.ID)
	if err != nil || len(view.Bench.Tray) != 1 {
		t.Errorf("%v in the tray, %v", view.Bench.Tray, err)
	}
	f.Bench = append(f.Bench, takein.FileNote{Kind: "out", Part: "direct-drum"})
	if _, err := s.Intake.Import(ctx, f); apptest.FieldOf(err) != "bench[3].part" {
		t.Errorf("a drum out of a closed unit: %v", err)
	}
}

func TestExamplesOpenAndComeBackTheSame(t *testing.T) {
	s := apptest.New(t)
	names, _ := filepath.Glob("../../docs/examples/*.case.json")
	for _, name := range names {
		data, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		f, err := takein.ParseFile(data)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		v, err := apptest.See(s)(s.Intake.Import(ctx, f))
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		back, err := s.Intake.Export(ctx, v.Case.ID)
		if err != nil || len(back.Readings) != len(f.Readings) || back.Unit != f.Unit || back.Words != f.Words {
			t.Errorf("%s: %+v %v", name, back, err)
		}
	}
	if len(names) == 0 {
		t.Error("no examples")
	}
}

func FuzzParseFile(f *testing.F) {
	f.Add([]byte(fileHead + `]}`))
	f.Add([]byte(`{"format":"inner-compass-case/1","unit":"u","readings":[{"finding":"road.hot.shift","range":"D3","state":"flare"}]}`))
	f.Add([]byte("\xff{"))
	f.Fuzz(func(t *testing.T, data []byte) {
		file, err := takein.ParseFile(data)
		if err == nil && (file.Format != takein.FileFormat || file.Access == "") {
			t.Fatalf("%q was taken as %+v", data, file)
		}
	})
}
