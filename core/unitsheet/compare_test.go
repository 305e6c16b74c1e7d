package unitsheet

import (
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
	mine.Ranges[0].LineIdle, mine.Ranges[0].Ratio = "58..64 psi", "2.56"
	mine.Sources = []SourceSheet{{Of: "pressures", From: "measured", By: "bench two"}, {Of: "chart", From: "assumed"}}
	newer.Ranges[0].LineIdle = "50..70 psi"
	newer.Limits = []LimitSheet{{ID: "clearance-FC", Name: "clearance", Dimension: "length", Window: "1.0..1.6 mm"}}
	out, clash := Merge(mine, newer)
	if out.ID != "my-unit" || out.Version != 4 || len(out.Known) != 1 || len(out.Limits) != 2 {
		t.Errorf("%+v", out)
	}
	if r := out.Ranges[0]; r.LineIdle != "58..64 psi" || r.Ratio != "2.55" {
		t.Errorf("what was measured stays, what was assumed gives way: %+v", r)
	}
	if len(out.Sources) != 1 || out.Sources[0].Of != "ranges.D1.line_idle" || out.Sources[0].By != "bench two" {
		t.Errorf("sources %+v", out.Sources)
	}
	newer.Sources = []SourceSheet{{Of: "pressures", From: "paper"}}
	if again, _ := Merge(mine, newer); again.Ranges[0].LineIdle != "50..70 psi" || again.Sources[0].From != "paper" {
		t.Errorf("the maker's paper counts: %+v %+v", again.Ranges[0], again.Sources)
	}
	if len(clash) != 2 || !strings.Contains(clash[0].String(), "1.0..1.6 mm, was 1.2..1.8 mm") {
		t.Errorf("clash %v", lines(clash))
	}
}
