package unitsheet

import (
	"slices"
	"strings"
	"testing"
)

func plain() Sheet {
	return Sheet{Format: Format, ID: "a-unit", Version: 1, Name: "A unit", Control: "hydraulic",
		Elements: []ElementSheet{{ID: "FC", Name: "forward clutch", Kind: "clutch", Plates: &PlatesSheet{Lined: 4}}},
		Ranges:   []RangeSheet{{ID: "D1", Selector: "D", Name: "first", Applied: []string{"FC"}, Outcome: "forward", Ratio: "2.55"}},
		Limits:   []LimitSheet{{ID: "clearance-FC", Name: "clearance", Dimension: "length", Window: "1.2..1.8 mm"}}}
}

func lines(list []Difference) string {
	var out []string
	for _, d := range list {
		out = append(out, d.String())
	}
	return strings.Join(out, "; ")
}

func TestDifferencesAreSaidByTheirPlace(t *testing.T) {
	a, b := plain(), plain()
	b.Version = 2
	b.Elements = []ElementSheet{{ID: "FC", Name: "forward clutch", Kind: "clutch", Plates: &PlatesSheet{Lined: 5}}, {ID: "RC", Name: "reverse clutch", Kind: "clutch"}}
	b.Ranges = []RangeSheet{{ID: "D1", Selector: "D", Name: "first", Applied: []string{"FC", "RC"}, Outcome: "forward"}}
	got := lines(Differences(a, b))
	for _, want := range []string{"elements, FC, plates, lined: 5, was 4", "elements, RC: reverse clutch, new", "ranges, D1, applied: FC RC, was FC", "ranges, D1, ratio: gone, was 2.55"} {
		if !strings.Contains(got, want) {
			t.Errorf("%q is not in %q", want, got)
		}
	}
	if d := Differences(a, a); len(d) != 0 {
		t.Errorf("a sheet differs from itself: %v", d)
	}
}

// What a shop adds stays when the sheet it began with is renewed; where both say something else, the newer counts and it is said.
func TestWhatAShopAddsStays(t *testing.T) {
	mine, newer := plain(), plain()
	mine.ID, mine.Name, mine.Version = "my-unit", "Ours", 3
	mine.Known = []KnownSheet{{Title: "second clutch seal at 90,000 miles", Cause: "piston-seal.FC"}}
	mine.Limits = append(mine.Limits, LimitSheet{ID: "end-play", Name: "end play", Dimension: "length", Window: "0.2..0.5 mm"})
	mine.Sources = []SourceSheet{{Of: "pressures", From: "measured"}, {Of: "access", From: "assumed"}}
	newer.Limits = []LimitSheet{{ID: "clearance-FC", Name: "clearance", Dimension: "length", Window: "1.0..1.6 mm"}}
	out, clash := Merge(mine, newer)
	if out.ID != "my-unit" || out.Version != 4 || len(out.Known) != 1 || len(out.Limits) != 2 {
		t.Errorf("%+v", out)
	}
	if !slices.ContainsFunc(out.Sources, func(s SourceSheet) bool { return s.From == "measured" }) || len(out.Sources) != 1 {
		t.Errorf("sources %+v", out.Sources)
	}
	if len(clash) != 1 || !strings.Contains(clash[0].String(), "1.0..1.6 mm, was 1.2..1.8 mm") {
		t.Errorf("clash %v", lines(clash))
	}
}
