package teardown_test

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/burnt"
	"innercompass/core/diagnose"
	"innercompass/core/unitsheet"
	"innercompass/core/workbench"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/measuring"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
	"innercompass/internal/teardown"
	"innercompass/internal/verification"
)

var ctx = context.Background()

// apart is a case whose unit is open as far as a unit can be.
func apart(t *testing.T) (*app.App, string) {
	t.Helper()
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	level := "unit-apart"
	if _, err := s.Intake.Update(ctx, id, cases.Guard{}, takein.Change{Access: &level}); err != nil {
		t.Fatal(err)
	}
	return s, id
}

func write(t *testing.T, s *app.App, id string, notes ...workbench.Note) cases.Case {
	t.Helper()
	saved, err := s.Teardown.Write(ctx, id, cases.Guard{}, "Ines", notes)
	if err != nil {
		t.Fatal(err)
	}
	return saved.Case
}

// states are the readings that stand, finding and state.
func states(c cases.Case) []string {
	out := []string{}
	for _, r := range c.Valid() {
		out = append(out, r.Finding+" "+r.State)
	}
	slices.Sort(out)
	return out
}

func TestAFindingBecomesAReadingAndIsTakenBackWithIt(t *testing.T) {
	s, id := apart(t)
	c := write(t, s, id, workbench.Note{Kind: workbench.Found, Part: "dc-seal-outer", Ref: "cut", Words: "rolled over"})
	if got := states(c); !slices.Equal(got, []string{"piston-seal.DC cut"}) || c.Valid()[0].Note != "rolled over" || c.Valid()[0].Source != "seen" {
		t.Fatalf("%v", got)
	}
	// Another look at the same part counts instead of the first, also where it says another finding.
	c = write(t, s, id, workbench.Note{Kind: workbench.Found, Part: "direct-drum", Ref: "worn"})
	if !slices.Contains(states(c), "ring-grooves.DC stepped") {
		t.Errorf("%v", states(c))
	}
	c = write(t, s, id, workbench.Note{Kind: workbench.Found, Part: "direct-drum", Ref: "kept"})
	if got := states(c); slices.Contains(got, "ring-grooves.DC stepped") || !slices.Contains(got, "drum.DC sound") {
		t.Errorf("%v", got)
	}
	c = write(t, s, id, workbench.Note{Withdraws: c.Bench[0].ID})
	if slices.Contains(states(c), "piston-seal.DC cut") {
		t.Errorf("taken back it still says %v", states(c))
	}
}

// Nine plates and the depth, and the clearance is a measured reading with its likelihoods; all of it is one write or none.
func TestMeasuredPlatesBecomeAReading(t *testing.T) {
	s, id := apart(t)
	var notes []workbench.Note
	for i, mm := range []string{"1.80", "1.78", "1.79", "1.74", "1.77", "1.76", "1.80", "1.80", "3.99"} {
		notes = append(notes, workbench.Note{Kind: workbench.Size, Part: "dc-pack", Ref: fmt.Sprintf("piece %d", i+1), Value: mm})
	}
	bad := append(slices.Clone(notes), workbench.Note{Kind: workbench.Size, Part: "dc-pack", Ref: "depth", Value: "a lot"})
	_, err := s.Teardown.Write(ctx, id, cases.Guard{}, "Ines", bad)
	var field *problem.FieldError
	if !errors.As(err, &field) || field.Field != "notes[9].value" || field.Accepted == "" {
		t.Fatalf("%v", err)
	}
	if c, _ := s.Cases.Case(ctx, id); len(c.Bench) > 0 || len(c.Readings) > 0 {
		t.Fatal("half of it was kept")
	}
	c := write(t, s, id, append(notes, workbench.Note{Kind: workbench.Size, Part: "dc-pack", Ref: "depth", Value: "20.35 mm"})...)
	i := slices.IndexFunc(c.Valid(), func(r cases.Reading) bool { return r.Finding == "clearance-DC" })
	if i < 0 {
		t.Fatalf("%v", states(c))
	}
	if r := c.Valid()[i]; r.State != "above" || r.Source != "measured" || len(r.Likelihood) != 3 || !strings.HasPrefix(r.Value, "2.12") {
		t.Errorf("%+v", r)
	}
}

func TestWhyItBurned(t *testing.T) {
	s, id := apart(t)
	if all, _, err := s.Teardown.Why(ctx, id); err != nil || len(all) > 0 {
		t.Fatalf("nothing was found, and %v burned: %v", all, err)
	}
	write(t, s, id, workbench.Note{Kind: workbench.Found, Part: "dc-pack", Ref: "burnt"}, workbench.Note{Kind: workbench.Own, Part: "dc-pack", Ref: "count", Words: "lined 1.6 mm, only 3 friction plates"})
	all, _, err := s.Teardown.Why(ctx, id)
	if err != nil || len(all) != 1 || all[0].Element != "DC" {
		t.Fatalf("%v %v", all, err)
	}
	d := all[0]
	if d.Conditions[0].ID != "plates" || d.Conditions[0].At.Is != 3 || !d.Conditions[0].Alone || d.Found != "" {
		t.Errorf("one friction plate too few does it: %+v", d.Conditions[0])
	}
	named := func(id string) bool {
		return slices.ContainsFunc(d.Roots, func(r diagnose.Root) bool { return r.ID == id })
	}
	if !named("piston-seal.DC") || named("piston-seal.FC") || named("tail-seal-leak") {
		t.Errorf("roots %v", d.Roots)
	}
	if _, err := s.Measuring.PutCalculated(ctx, measuring.InstrumentAt{Case: id, Name: "air-check:DC"}, cases.Guard{}, measuring.Use{Values: map[string]string{"supply": "3.5 bar", "held": "2.1 bar", "low": "2.6 bar"}}); err != nil {
		t.Fatal(err)
	}
	all, _, _ = s.Teardown.Why(ctx, id)
	if c := all[0].Conditions[slices.IndexFunc(all[0].Conditions, func(c burnt.Condition) bool { return c.ID == "leak" })]; !c.Known || c.At.Is != 0.6 {
		t.Errorf("the leak that was measured: %+v", c)
	}
}

// A case whose damage has no root is not closed as cured without a reason, nor one whose unit lies in the tray.
func TestAUnitInTheTrayAndADamageWithoutRootStandAgainstClosing(t *testing.T) {
	s, id := apart(t)
	write(t, s, id, workbench.Note{Kind: workbench.Found, Part: "dc-pack", Ref: "burnt"}, workbench.Note{Kind: workbench.Out, Part: "cable"})
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	items := present.Proofs(c, n)
	if items[0].ID != present.BenchItem || items[0].Result != "open" || !strings.Contains(items[0].Note, "1 parts in the tray") {
		t.Fatalf("%+v", items[0])
	}
	if _, err := s.Verification.SetProof(ctx, id, cases.Guard{}, cases.Proof{Item: present.BenchItem, Result: "pass"}); err == nil {
		t.Error("what the bench shows was pressed good")
	}
	for _, item := range items[1:] {
		if _, err := s.Verification.SetProof(ctx, id, cases.Guard{}, cases.Proof{Item: item.ID, Result: "pass", Note: "1.5 mm"}); err != nil {
			t.Fatal(item.ID, err)
		}
	}
	closing := verification.Closing{Root: "tail-seal-leak", Outcome: "cured"}
	if _, err := s.Verification.Close(ctx, id, cases.Guard{}, closing); err == nil || !strings.Contains(err.Error(), "Unit built") {
		t.Errorf("closed with a part in the tray: %v", err)
	}
	write(t, s, id, workbench.Note{Kind: workbench.Done, Part: "cable", Ref: "way"}, workbench.Note{Kind: workbench.In, Part: "cable"})
	write(t, s, id, workbench.Note{Kind: workbench.Size, Part: "cable", Ref: "cable-slack", Value: "0.4 ± 0.05 mm"})
	build := workbench.New(n.Unit, mustCase(t, s, id).BenchNotes()).Build()
	_, open := build.Open()
	for _, k := range open {
		if k.Part != 0 {
			t.Fatalf("open at the part: %+v", k)
		}
		write(t, s, id, workbench.Note{Kind: workbench.Signed, Part: "case", Ref: k.ID, Words: "nothing was opened"})
	}
	_, err = s.Verification.Close(ctx, id, cases.Guard{}, closing)
	var field *problem.FieldError
	if !errors.As(err, &field) || field.Field != "why" {
		t.Fatalf("a tail seal does not burn the direct clutch: %v", err)
	}
	closing.Why = "customer sells it; told of it"
	saved, err := s.Verification.Close(ctx, id, cases.Guard{}, closing)
	if err != nil || !strings.Contains(saved.Case.Learnt, "told of it") {
		t.Errorf("%v %q", err, saved.Case.Learnt)
	}
}

func mustCase(t *testing.T, s *app.App, id string) cases.Case {
	t.Helper()
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// The record's words: what burned without a root is named until one is found, and what was renewed is listed.
func TestWhatARecordSaysOfTheBench(t *testing.T) {
	s, id := apart(t)
	c := write(t, s, id, workbench.Note{Kind: workbench.Found, Part: "dc-pack", Ref: "burnt"}, workbench.Note{Kind: workbench.Renew, Part: "dc-pack", Ref: "renew"}, workbench.Note{Kind: workbench.Renew, Part: "pump", Ref: "clean"})
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	a, err := diagnose.Assess(n, c.Situation(c.Valid()))
	if err != nil {
		t.Fatal(err)
	}
	if got := teardown.NoRoot(c, n, a); !slices.Equal(got, []string{"direct clutch"}) {
		t.Errorf("without a root: %v", got)
	}
	if got := teardown.Renewed(c, n); !slices.Equal(got, []string{"plates of the direct clutch"}) {
		t.Errorf("renewed: %v", got)
	}
	c.Root = "piston-seal.DC"
	if got := teardown.Unexplained(c, n, c.Root); len(got) != 0 {
		t.Errorf("a leaking piston seal burns its pack: %v", got)
	}
}

// What was found different goes into a sheet that passes its checks; what a sheet cannot say stands above it.
func TestWhatIsDifferentGoesIntoASheet(t *testing.T) {
	s, id := apart(t)
	if _, err := s.Teardown.OwnSheet(ctx, id); apptest.RefusedBy(err) == "" {
		t.Errorf("nothing was noted: %v", err)
	}
	write(t, s, id, workbench.Note{Kind: workbench.Own, Part: "dc-pack", Ref: "count", Words: "3 friction plates, not 4"}, workbench.Note{Kind: workbench.Own, Part: "forward-thrust", Ref: "way", Words: "tabs to the rear"},
		workbench.Note{Kind: workbench.Own, Part: "filter", Ref: "version", Words: "the deep one, from a later year"})
	text, err := s.Teardown.OwnSheet(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if !strings.HasPrefix(string(text), "# Found on this unit") || !strings.Contains(string(text), "# filter (filter), version: the deep one") || strings.Contains(string(text), "# plates") {
		t.Errorf("%.300s", text)
	}
	n, err := s.Library.SaveSheet(ctx, text, "Ines")
	if err != nil {
		t.Fatal(err)
	}
	i := n.Unit.Stack.Index("dc-pack")
	lined := 0
	for _, p := range n.Unit.Stack.Parts[i].Plates {
		if p == "lined" {
			lined++
		}
	}
	e := slices.IndexFunc(n.Unit.Sheet.Elements, func(e unitsheet.ElementSheet) bool { return e.ID == "DC" })
	if sheet := n.Unit.Sheet.Elements[e].Plates; lined != 3 || sheet.Lined != 3 || sheet.Steel != 3 || n.Unit.Stack.Parts[n.Unit.Stack.Index("forward-thrust")].Way != "tabs to the rear" {
		t.Errorf("%d lined plates in the stack, the element %+v", lined, *n.Unit.Sheet.Elements[e].Plates)
	}
}

// The gauge that was used decides how unsure a size is: ± at 95 %, with half a step of its scale (evenly over it).
func TestASizeIsAsUnsureAsItsGauge(t *testing.T) {
	s, id := apart(t)
	if _, err := s.Shop.SaveGauges(ctx, []shop.Gauge{{ID: "caliper", Name: "old caliper", Dimension: "length", Resolution: "0.05 mm", Uncertainty: "0.06 mm"}}, ""); err != nil {
		t.Fatal(err)
	}
	notes := []workbench.Note{{Kind: workbench.Size, Part: "dc-pack", Ref: "piece 1", Value: "1.80"}, {Kind: workbench.Size, Part: "dc-pack", Ref: "piece 2", Value: "1.80 ± 0.01 mm"}}
	got, err := s.Teardown.Gauged(ctx, notes, "caliper")
	if err != nil {
		t.Fatal(err)
	}
	write(t, s, id, got...)
	v, err := s.Teardown.View(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	pack, _ := v.Bench.PackOf(v.Unit.Stack.Index("dc-pack"))
	if want := math.Hypot(0.05/math.Sqrt(12), 0.03) * 1e-3; math.Abs(pack.Plates[0].U-want) > 0.03*want || math.Abs(pack.Plates[1].U-0.005e-3) > 1e-9 {
		t.Errorf("unsure by %g and %g m, want %g and 5e-06", pack.Plates[0].U, pack.Plates[1].U, want)
	}
	if got[0].Words != "with the old caliper" {
		t.Errorf("%q", got[0].Words)
	}
	if _, err := s.Teardown.Gauged(ctx, []workbench.Note{{Kind: workbench.Out, Part: "cable"}}, "lost"); err != nil {
		t.Errorf("what is not measured needs no gauge: %v", err)
	}
	if _, err := s.Teardown.Gauged(ctx, notes, "lost"); apptest.FieldOf(err) != "gauge" {
		t.Errorf("a gauge that there is not: %v", err)
	}
}
