package builder_test

import (
	"errors"
	"slices"
	"strings"
	"testing"

	"innercompass/core/builder"
	"innercompass/core/unitsheet"
)

// A chart as it is copied out of a table, with names instead of ids.
func TestAPastedChartIsRead(t *testing.T) {
	text := "range\tforward clutch\treverse clutch\tdirect clutch\tsecond band\tlow brake\tlow one-way clutch\tratio\n" +
		"Rev\t\tx\t\t\tx\t\t2.18\nNeutral\n1st\tx\t\t\t\t\tholds\t2.55\n2nd\tx\t\t\tx\t\t\t1.49\n3rd\tx\t\tx\t\t\t\t1.00\n4th\t\t\tx\tx\t\t\t0.69\nManual 1\tx\t\t\t\tx\t\t\n"
	s, err := builder.Pasted(text, unitsheet.Sheet{Name: "Pasted"})
	if err != nil {
		t.Fatal(err)
	}
	var ids, kinds []string
	for _, e := range s.Elements {
		ids, kinds = append(ids, e.ID), append(kinds, e.Kind)
	}
	if !slices.Equal(ids, []string{"FC", "RC", "DC", "SB", "LB", "LOWC"}) || !slices.Equal(kinds, []string{"clutch", "clutch", "clutch", "band", "brake", "freewheel"}) {
		t.Errorf("elements %v %v", ids, kinds)
	}
	if len(s.Ranges) != 7 || s.Ranges[3].From != "D1" || s.Ranges[2].Holding[0] != "LOWC" || s.Ranges[5].Ratio != "0.69" || s.Ranges[0].Outcome != "reverse" || s.Ranges[6].ID != "MANUAL1" {
		t.Errorf("ranges %+v", s.Ranges)
	}
	v := look(t, builder.Draft{Kind: "automatic", Sheet: s})
	if !v.Ready() {
		t.Errorf("by the chart alone: %s", flaws(v))
	}
	for _, c := range []struct{ text, says string }{
		{"", "0 lines"}, {"a\tb", "1 lines"}, {"range\tFC\nD1\tx\nD1\tx", "twice"}, {"range\tFC\nD1\tx\tx\tx", "4 cells"}, {"range\tFC\tratio\nD1\tx\tfast", "no ratio"},
	} {
		var p *unitsheet.Problem
		if _, err := builder.Pasted(c.text, unitsheet.Sheet{}); !errors.As(err, &p) || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%q: %v, want %q", c.text, err, c.says)
		}
	}
}
