package builder_test

import (
	"context"
	"slices"
	"strings"
	"testing"

	"innercompass/core/builder"
	"innercompass/core/faultmap"
	"innercompass/core/scheme"
	"innercompass/core/unitsheet"
)

func schemeOf(t testing.TB, id string) scheme.Scheme {
	t.Helper()
	for _, x := range know(t).Schemes {
		if x.ID == id {
			return x
		}
	}
	t.Fatalf("no scheme %q", id)
	return scheme.Scheme{}
}

// draft is a unit begun with a scheme.
func draft(t testing.TB, id string, ratios map[string]string) builder.Draft {
	x := schemeOf(t, id)
	s := x.Sheet()
	s.ID, s.Name = "", "Bench unit"
	s.Ranges = slices.Clone(s.Ranges)
	for i := range s.Ranges {
		s.Ranges[i].Ratio = ratios[s.Ranges[i].ID]
	}
	return builder.Draft{Kind: x.Kind, Scheme: id, Sheet: s}
}

func look(t testing.TB, d builder.Draft) builder.View {
	t.Helper()
	v, err := builder.Look(context.Background(), d)
	if err != nil {
		t.Fatal(err)
	}
	return v
}

func flaws(v builder.View) string {
	var out []string
	for _, f := range v.Flaws {
		out = append(out, f.Range+"/"+f.Element+" "+f.Reason+" ("+f.Accepted+")")
	}
	return strings.Join(out, "; ")
}

// Ratios made up for this test from a ring of 74, suns of 29 and 34.
var fourSpeed = map[string]string{"R": "2.18", "D1": "2.55", "D2": "1.49", "D3": "1.00", "D4": "0.69"}

func TestADraftBecomesASheet(t *testing.T) {
	d := draft(t, "two-suns-4", fourSpeed)
	d.Sheet = builder.Fill(d.Sheet, d.Kind, know(t).Units["norrad-h4"].Sheet)
	v := look(t, d)
	if v.Unit == nil || v.Teeth == nil || len(v.Teeth.Fits) == 0 {
		t.Fatalf("flaws %s, teeth %+v", flaws(v), v.Teeth)
	}
	if x := v.Teeth.Fits[0].Sets[0]; x.Ring != 74 || x.Sun != 34 || x.SmallSun != 29 {
		t.Errorf("teeth %+v", x)
	}
	for _, r := range v.Rows {
		if !r.Fits || r.Wrong != "" {
			t.Errorf("%s: %+v", r.ID, r)
		}
	}
	if v.Sheet.ID != "bench-unit" || v.Faults < 20 || v.Apart < 10 || v.Depth != unitsheet.InFull && v.Depth != unitsheet.ByGears {
		t.Errorf("id %q, %d faults, %d apart, %s", v.Sheet.ID, v.Faults, v.Apart, v.Depth)
	}
	for _, topic := range []string{"teeth", "capacities", "pressures", "access", "leaks", "fluid", "feeds", "engine"} {
		if _, ok := v.Unit.Assumed(topic, ""); !ok {
			t.Errorf("%s is not marked as assumed", topic)
		}
	}
}

// A mark too many, one missing and one in the wrong column are each named with the cell that would put it right.
func TestTheWrongCellIsNamed(t *testing.T) {
	change := func(id string, applied ...string) builder.View {
		d := draft(t, "two-suns-4", fourSpeed)
		for i := range d.Sheet.Ranges {
			if d.Sheet.Ranges[i].ID == id {
				d.Sheet.Ranges[i].Applied = applied
			}
		}
		return look(t, d)
	}
	for _, c := range []struct {
		id      string
		applied []string
		element string
		says    string
	}{
		{"D2", []string{"FC", "SB", "LB"}, "LB", "binds"},
		{"D4", []string{"DC"}, "SB", "drives nothing"},
		{"R", []string{"RC"}, "LB", "drives nothing"},
	} {
		v := change(c.id, c.applied...)
		at := slices.IndexFunc(v.Flaws, func(f builder.Flaw) bool { return f.Range == c.id })
		if at < 0 || v.Flaws[at].Element != c.element || !strings.Contains(v.Flaws[at].Reason, c.says) {
			t.Errorf("%s with %v: %s", c.id, c.applied, flaws(v))
		}
	}
	bare := draft(t, "two-suns-4", nil) // without ratios the gear that follows tells
	for i := range bare.Sheet.Ranges {
		if bare.Sheet.Ranges[i].ID == "D2" {
			bare.Sheet.Ranges[i].Applied = []string{"FC", "SB", "LB"}
		}
	}
	if v := look(t, bare); len(v.Flaws) == 0 || v.Flaws[0].Element != "LB" {
		t.Errorf("without ratios: %s", flaws(v))
	}
	if v := change("D3", "FC", "LB"); !strings.Contains(flaws(v), "D3") {
		t.Errorf("third that is first passes: %s", flaws(v))
	}
}

// A sleeve that moves two gears is a part of its own: when its fork breaks, both are lost, and no other.
func TestSleevesOfABuiltManualCarryTheirGears(t *testing.T) {
	d := draft(t, "three-shafts-5", nil)
	d.Sheet = builder.Fill(d.Sheet, d.Kind, know(t).Units["ombrin-m5"].Sheet)
	v := look(t, d)
	if !v.Ready() {
		t.Fatal(flaws(v))
	}
	row, err := faultmap.Predict(v.Unit, faultmap.Fault{Kind: faultmap.Breaks, Part: "sleeve-3-4-sleeve"})
	if err != nil {
		t.Fatal(err)
	}
	for id, lost := range map[string]bool{"G1": false, "G2": false, "G3": true, "G4": true, "G5": false, "R": false} {
		if p, ok := row.At(faultmap.Cell{Range: id, Behaviour: faultmap.Drives}); ok != lost || ok && p.State != "none" {
			t.Errorf("%s: %+v", id, p)
		}
	}
}

// What is taken off the elements or the ranges leaves everything that named it: a full sheet stays one that can be used.
func TestWhatIsTakenOffIsNamedNowhere(t *testing.T) {
	d := builder.Of(know(t).Units["norrad-h4"])
	d.Sheet.Own, d.Sheet.Known, d.Sheet.Logic = nil, nil, nil
	d.Sheet.Controls = nil
	d.Sheet.Elements = slices.DeleteFunc(slices.Clone(d.Sheet.Elements), func(e unitsheet.ElementSheet) bool { return e.ID == "OB" })
	d.Sheet.Ranges = slices.DeleteFunc(slices.Clone(d.Sheet.Ranges), func(r unitsheet.RangeSheet) bool { return r.ID == "D4" || r.ID == "M2" })
	v := look(t, d)
	if !v.Ready() {
		t.Fatal(flaws(v))
	}
	for _, f := range v.Sheet.Feeds {
		if slices.Contains(f.Serves, "OB") {
			t.Errorf("feed %s still serves OB", f.ID)
		}
	}
}

// A unit that was built is opened again: its teeth are still found ones, said once, and asked for anew when a ratio changes.
func TestFoundTeethStayFound(t *testing.T) {
	v := look(t, draft(t, "two-suns-4", fourSpeed))
	again := look(t, builder.Of(v.Unit))
	sources := 0
	for _, s := range again.Assumed {
		if s.Of == "teeth" {
			sources++
		}
	}
	if again.Teeth == nil || sources != 1 {
		t.Errorf("%d sources for the teeth, answer %v", sources, again.Teeth)
	}
}

// With one digit wrong the draft goes on with the teeth that fit the others, and names the row.
func TestAMisprintIsNamedAndTheRestFits(t *testing.T) {
	wrong := map[string]string{"R": "2.18", "D1": "2.55", "D2": "1.49", "D3": "1.00", "D4": "0.96"}
	v := look(t, draft(t, "two-suns-4", wrong))
	if !v.Ready() || len(v.Teeth.Suspects) != 1 || v.Teeth.Suspects[0].ID != "D4" {
		t.Fatalf("%s", flaws(v))
	}
	for _, r := range v.Rows {
		if r.Fits != (r.ID != "D4") {
			t.Errorf("%s: %+v", r.ID, r)
		}
	}
}

// Half a sheet is no error: it says what is missing.
func TestHalfASheetSaysWhatIsMissing(t *testing.T) {
	for name, d := range map[string]builder.Draft{
		"name":       {},
		"no range":   {Sheet: unitsheet.Sheet{Name: "Nothing yet"}},
		"no place":   {Sheet: unitsheet.Sheet{Name: "One", Gearing: schemeOf(t, "one-set").Gearing, Elements: []unitsheet.ElementSheet{{ID: "X", Name: "clutch", Kind: "clutch"}}, Ranges: []unitsheet.RangeSheet{{ID: "D1", Selector: "D", Name: "first", Outcome: "forward"}}}},
		"no element": {Sheet: unitsheet.Sheet{Name: "Two", Gearing: schemeOf(t, "one-set").Gearing}},
	} {
		v := look(t, d)
		if v.Ready() || !strings.Contains(flaws(v), name) {
			t.Errorf("%s: %s", name, flaws(v))
		}
	}
}

// From the chart and the ratios alone: the scheme that our own sheets are built on is among those proposed.
func TestSchemesAreProposed(t *testing.T) {
	for id, want := range map[string]string{"norrad-v3": "one-sun-3", "norrad-h4": "two-suns-4", "ombrin-s6": "set-two-suns-6", "vantrice-t10": "four-sets-10", "tessaly-e4t": "crossed-4", "norrad-d2": "two-suns-2"} {
		s := know(t).Units[id].Reduce(unitsheet.ByChart, false)
		found, err := scheme.Propose(context.Background(), s, know(t).Schemes)
		if err != nil {
			t.Fatal(err)
		}
		var ids []string
		for _, p := range found {
			ids = append(ids, p.Scheme)
		}
		if !slices.Contains(ids, want) {
			t.Errorf("%s: %v, want %s", id, ids, want)
		}
	}
}

// Packs have a clearance, bands a travel, one-way clutches and sleeves neither; what is limited already is not offered again.
func TestLimitsThatCouldBeGiven(t *testing.T) {
	s := unitsheet.Sheet{Elements: []unitsheet.ElementSheet{{ID: "FC", Name: "forward clutch", Kind: "clutch"}, {ID: "B", Kind: "band"}, {ID: "LF", Kind: "freewheel"}, {ID: "G1", Kind: "selector"}}, Limits: []unitsheet.LimitSheet{{ID: "end-play"}}}
	var got []string
	for _, l := range builder.Limits(s) {
		got = append(got, l.ID+": "+l.Name)
	}
	if want := "clearance-FC: forward clutch clearance; servo-travel-B: B, servo travel"; strings.Join(got, "; ") != want {
		t.Errorf("%q, want %q", got, want)
	}
}
