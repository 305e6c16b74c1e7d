package building_test

import (
	"slices"
	"strings"
	"testing"

	"innercompass/core/unitsheet"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/building"
	"innercompass/internal/cases"
	"innercompass/internal/measuring"
	"innercompass/internal/takein"
)

// own begins a unit of the shop's own as a copy and stores it.
func own(t *testing.T, s *app.App, copyOf, name string) building.Opened {
	t.Helper()
	o, err := s.Building.Start(ctx, "automatic", "", copyOf)
	if err != nil {
		t.Fatal(err)
	}
	o.Draft.Sheet.Name = name
	if o, err = s.Building.Change(ctx, o.ID, o.Revision, o.Draft, false); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Building.Save(ctx, o.ID, "Ada"); err != nil {
		t.Fatal(err)
	}
	return o
}

func measure(t *testing.T, s *app.App, id, name string, values map[string]string) {
	t.Helper()
	at := measuring.InstrumentAt{Name: name, Case: id}
	if _, err := s.Measuring.PutCalculated(ctx, at, cases.Guard{Key: id + name}, measuring.Use{Values: values, By: "Tobin"}); err != nil {
		t.Fatalf("%s: %v", name, err)
	}
}

func source(s unitsheet.Sheet, path string) string {
	for _, n := range unitsheet.Numbers(s) {
		if n.Path == path && n.Given {
			return n.Source.From + ", " + n.Source.Why + ", " + n.Source.By
		}
	}
	return ""
}

// What instruments read on vehicles with a unit is offered for its sheet, and only what somebody takes gets there.
func TestWhatWasMeasuredIsOffered(t *testing.T) {
	s := apptest.New(t)
	o := own(t, s, "norrad-h4", "Our four")
	for i, vehicle := range []string{"Van one", "Van two"} {
		v, err := apptest.See(s)(s.Intake.TakeIn(ctx, takein.Intake{Vehicle: vehicle, UnitID: "our-four", Words: "Slips"}))
		if err != nil {
			t.Fatal(err)
		}
		more := func(a, b string) string { return []string{a, b}[i] }
		measure(t, s, v.Case.ID, "stall-speed", map[string]string{"speed": more("2010 rpm", "2090 rpm")})
		measure(t, s, v.Case.ID, "window:end-play", map[string]string{"value": more("0.42 mm", "0.51 mm")})
		measure(t, s, v.Case.ID, "pressure-rise:D2", map[string]string{"idle": more("57 psi", "61 psi"), "full": more("150 psi", "148 psi")})
		measure(t, s, v.Case.ID, "line-pressure", map[string]string{"D1": "58 psi", "D2": more("56 psi", "60 psi"), "R": "90 psi"})
	}
	o, err := s.Building.Open(ctx, o.ID)
	if err != nil {
		t.Fatal(err)
	}
	for path, want := range map[string]string{
		"converter.stall":        "stall speed: 2 readings on 2 vehicles, 2010 to 2090 rpm",
		"limits.end-play.window": "input shaft end play: 2 readings on 2 vehicles, 0.42 to 0.51 mm",
		"ranges.D2.line_idle":    "D2 at idle: 4 readings on 2 vehicles, 56 to 61 psi",
		"ranges.D2.line_full":    "D2 at full throttle: 2 readings on 2 vehicles, 148 to 150 psi",
	} {
		at := slices.IndexFunc(o.Offers, func(x building.Offer) bool { return x.Path == path })
		if at < 0 {
			t.Errorf("%s is not offered: %+v", path, o.Offers)
			continue
		}
		if o.Offers[at].Words != want {
			t.Errorf("%s: %q, want %q", path, o.Offers[at].Words, want)
		}
	}
	before := o.Draft.Sheet.Converter.Stall
	if before == "2010..2090 rpm" {
		t.Fatal("it was taken by itself")
	}
	if o, err = s.Building.Take(ctx, o.ID, o.Revision, "converter.stall", "Ada"); err != nil || o.Draft.Sheet.Converter.Stall != "2010..2090 rpm" {
		t.Fatalf("%v %v", o.Draft.Sheet.Converter, err)
	}
	if got := source(o.View.Sheet, "converter.stall"); !strings.HasPrefix(got, "measured, stall speed: 2 readings") || !strings.HasSuffix(got, "Ada") {
		t.Errorf("its source is %q", got)
	}
	if _, err := s.Building.Take(ctx, o.ID, o.Revision, "ranges.D4.line_idle", "Ada"); apptest.FieldOf(err) != "path" {
		t.Errorf("what nobody measured was taken: %v", err)
	}
	n, err := s.Building.Save(ctx, o.ID, "Ada")
	if err != nil || n.Unit.Sheet.Version != 2 || n.Unit.Sheet.Author != "Ada" {
		t.Errorf("version %d by %q, %v", n.Unit.Sheet.Version, n.Unit.Sheet.Author, err)
	}
}

// A number has a source of its own until it is typed over.
func TestANumberIsSaidWithItsSource(t *testing.T) {
	s := apptest.New(t)
	o := own(t, s, "norrad-h4", "Our four")
	const path = "ranges.D2.line_idle"
	o, err := s.Building.Say(ctx, o.ID, o.Revision, path, "58..63 psi", unitsheet.SourceSheet{From: "paper", Why: "page 12", By: "Ada"})
	if err != nil || source(o.View.Sheet, path) != "paper, page 12, Ada" {
		t.Fatalf("%q %v", source(o.View.Sheet, path), err)
	}
	for i, r := range o.Draft.Sheet.Ranges {
		if r.ID == "D2" {
			o.Draft.Sheet.Ranges[i].LineIdle = "40..50 psi"
		}
	}
	if o, err = s.Building.Change(ctx, o.ID, o.Revision, o.Draft, false); err != nil || source(o.View.Sheet, path) != "" {
		t.Errorf("typed over, it is still from %q, %v", source(o.View.Sheet, path), err)
	}
	for _, c := range []struct{ path, from string }{{"ranges.D9.line_idle", "paper"}, {"applied", "paper"}, {path, "hearsay"}} {
		if _, err := s.Building.Say(ctx, o.ID, o.Revision, c.path, "5 psi", unitsheet.SourceSheet{From: c.from}); err == nil {
			t.Errorf("%+v was taken", c)
		}
	}
}

// A unit that lies across has the places of one that does, but for what was changed by hand.
func TestHowItLies(t *testing.T) {
	s := apptest.New(t)
	o, err := s.Building.Start(ctx, "automatic", "two-suns-4", "")
	if err != nil {
		t.Fatal(err)
	}
	d := o.Draft
	d.Sheet.Name = "Harbor four"
	d.Lies = map[bool]string{true: "along", false: "across"}[d.Sheet.Leaks.Across]
	other, err := s.Building.Change(ctx, o.ID, o.Revision, d, false)
	if err != nil || other.Draft.Sheet.Leaks.Across == o.Draft.Sheet.Leaks.Across || len(other.Draft.Sheet.Leaks.Zones) == 0 {
		t.Fatalf("%v", err)
	}
	zones := func(x building.Opened) string {
		var out []string
		for _, z := range x.Draft.Sheet.Leaks.Zones {
			out = append(out, z.ID)
		}
		return strings.Join(out, " ")
	}
	if zones(o) == zones(other) {
		t.Error("its leak places did not move")
	}
	d = other.Draft
	d.Sheet.Leaks.Zones[0].Name = "moved by hand"
	d.Lies = map[string]string{"along": "across", "across": "along"}[d.Lies]
	again, err := s.Building.Change(ctx, o.ID, other.Revision, d, false)
	if err != nil || again.Draft.Sheet.Leaks.Zones[0].Name != "moved by hand" || again.Draft.Sheet.Leaks.Across == other.Draft.Sheet.Leaks.Across {
		t.Errorf("%v: %+v", err, again.Draft.Sheet.Leaks.Zones[0])
	}
	if _, err := building.Read([]byte(`{"kind":"automatic","scheme":"","lies":"upside down","sheet":{}}`)); apptest.FieldOf(err) != "draft.lies" {
		t.Errorf("upside down: %v", err)
	}
}
