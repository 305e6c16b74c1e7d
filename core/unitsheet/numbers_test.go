package unitsheet

import (
	"strings"
	"testing"
)

func withNumbers() Sheet {
	s := plain()
	s.Ranges[0].LineIdle, s.Ranges[0].LineFull = "55..65 psi", "140..160 psi"
	s.Gearing.Sets = []SetSheet{{Name: "front 1.2", Sun: "s", SunTeeth: 34, PlanetTeeth: 20, Ring: "r", RingTeeth: 74, Carrier: "c", Count: 3}}
	s.Converter = &ConverterSheet{Stall: "1950..2150 rpm", TorqueRatio: 2.1}
	s.Parts = []PartSheet{{ID: "filter", Name: "filter", Access: "pan-off", Hours: 0.4}}
	return s
}

func find(t *testing.T, s Sheet, path string) Number {
	t.Helper()
	for _, n := range Numbers(s) {
		if n.Path == path {
			return n
		}
	}
	t.Fatalf("no number %s in %v", path, Numbers(s))
	return Number{}
}

func TestEachNumberHasItsNearestSource(t *testing.T) {
	s := withNumbers()
	s.Sources = []SourceSheet{{Of: "pressures", From: "assumed"}, {Of: "pressures", For: []string{"D1"}, From: "paper"}, {Of: "ranges.D1.line_full", From: "measured"}}
	for path, want := range map[string]string{"ranges.D1.line_idle": "paper", "ranges.D1.line_full": "measured", "converter.stall": "", "limits.clearance-FC.window": ""} {
		if n := find(t, s, path); n.Source.From != want || n.Given != (want == "measured") {
			t.Errorf("%s: from %q given %v, want %q", path, n.Source.From, n.Given, want)
		}
	}
	if n := find(t, s, "gearing.sets.front 1.2.ring_teeth"); n.Topic != "teeth" || n.Value != "74" || n.Words != "sets, front 1.2, ring teeth" {
		t.Errorf("%+v", n)
	}
	for _, n := range Numbers(s) {
		if strings.Contains(n.Path, "applied") || strings.Contains(n.Path, "kind") || n.Value == "" {
			t.Errorf("%s is no number", n.Path)
		}
	}
}

func TestANumberIsPutWhereItStands(t *testing.T) {
	s := withNumbers()
	for path, value := range map[string]string{"ranges.D1.line_idle": "58..61 psi", "converter.stall": "2000..2100 rpm", "limits.clearance-FC.window": "1.0..1.4 mm", "gearing.sets.front 1.2.ring_teeth": "75", "parts.filter.hours": "0.5"} {
		out, err := With(s, path, value)
		if err != nil {
			t.Errorf("%s: %v", path, err)
		} else if n := find(t, out, path); n.Value != value {
			t.Errorf("%s: %q, want %q", path, n.Value, value)
		}
	}
	if n := find(t, s, "converter.stall"); n.Value != "1950..2150 rpm" {
		t.Errorf("the first sheet was changed: %+v", n)
	}
	for path, value := range map[string]string{"ranges.D9.line_idle": "5 psi", "hydraulics.pump.spare": "2 L/min", "parts.filter.hours": "long", "gearing.sets.front 1.2.ring_teeth.more": "3"} {
		if _, err := With(s, path, value); err == nil {
			t.Errorf("%s = %q was taken", path, value)
		}
	}
}

// What is assumed of the whole may be known of one element, and a number's own source is nearer than both.
func TestTheNearestSourceSaysWhetherItIsAssumed(t *testing.T) {
	made := func(more ...SourceSheet) (*Unit, []*Problem) {
		s := withNumbers()
		s.Elements[0].Plates, s.Elements[0].Capacity = nil, "400 N·m"
		s.Gearing = GearingSheet{}
		s.Layout, s.Converter, s.Parts = "planetary", nil, nil
		s.Sources = append([]SourceSheet{{Of: "capacities", From: "assumed"}}, more...)
		return Compile(s)
	}
	u := func(more ...SourceSheet) *Unit {
		u, problems := made(more...)
		if len(problems) > 0 {
			t.Fatal(problems[0])
		}
		return u
	}
	if _, ok := u().Assumed("capacities", "FC"); !ok {
		t.Error("assumed for all, not for FC")
	}
	for _, x := range []SourceSheet{{Of: "capacities", For: []string{"FC"}, From: "paper"}, {Of: "elements.FC.capacity", From: "measured"}} {
		if _, ok := u(x).Assumed("capacities", "FC"); ok {
			t.Errorf("%+v does not make it known", x)
		}
	}
	_, problems := made(SourceSheet{Of: "ranges.D7.line_idle", From: "paper"})
	if len(problems) != 1 || problems[0].Path != "sources[1].of" || !strings.Contains(problems[0].Reason, "ranges.D7.line_idle") {
		t.Errorf("a source of nothing was taken: %v", problems)
	}
}
