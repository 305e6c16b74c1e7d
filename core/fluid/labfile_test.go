package fluid_test

import (
	"math"
	"strings"
	"testing"

	"innercompass/core/fluid"
)

// The same two samples in four layouts: commas, semicolons with decimal commas, tabs, other units and order.
func TestTablesOfAnyLayout(t *testing.T) {
	for name, text := range map[string]string{
		"commas":         "Sample,Fe (ppm),Cu,Water %,KV100,Glycol\nA,42,10.5,0.04,7.1,no\nB,<1,12,0.2,6.0,YES\n",
		"decimal commas": "Sample;Fe;Cu;Water;KV100;Glycol\r\nA;42;10,5;0,04;7,1;neg\r\nB;1;12;0,2;6,0;pos\r\n",
		"tabs, mixed up": "\ufeffglycol\tcopper\tkv100 (cSt)\tWater (ppm)\tiron [mg/kg]\tDate\tRemarks\nn\t10.5\t7.1\t400\t42\tA\tfine\ny\t12\t6.0\t2000\t1\tB\t\n",
		"blank lines":    "\n\nsample,iron,copper,water,v100,glycol\n\nA,42,10.5,0.04,7.1,0\n\nB,1,12,0.2,6.0,1\n\n",
	} {
		table, err := fluid.ReadTable(text)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		got, errs := table.Samples(table.Guessed)
		if len(errs) > 0 || len(got) != 2 {
			t.Errorf("%s: %v %+v, guessed %q", name, errs, got, table.Guessed)
			continue
		}
		a, b := got[0], got[1]
		if a.Name != "A" || a.Values["iron"] != 42 || a.Values["copper"] != 10.5 || math.Abs(a.Values["water"]-0.04) > 1e-12 || math.Abs(a.Viscosity-7.1e-6) > 1e-15 || a.Glycol != "no" {
			t.Errorf("%s: %+v", name, a)
		}
		if b.Name != "B" || b.Values["iron"] != 1 || math.Abs(b.Values["water"]-0.2) > 1e-12 || b.Glycol != "yes" {
			t.Errorf("%s: %+v", name, b)
		}
	}
}

// One bad cell and nothing is read; every bad cell is named by row and column, with what would be taken.
func TestBadCellsAreNamedAndNothingIsRead(t *testing.T) {
	table, err := fluid.ReadTable("sample,iron,copper,glycol,distance (parsec),water (kg)\nA,42,ten,no,,\nB,-5,12,perhaps,3,0.1\n")
	if err != nil {
		t.Fatal(err)
	}
	got, errs := table.Samples(table.Guessed)
	if got != nil {
		t.Errorf("half of it was read: %+v", got)
	}
	want := []struct {
		row    int
		column string
	}{{1, "copper"}, {2, "iron"}, {2, "glycol"}, {2, "distance (parsec)"}, {2, "water (kg)"}}
	if len(errs) != len(want) {
		t.Fatalf("%d errors: %v", len(errs), errs)
	}
	for i, w := range want {
		if errs[i].Row != w.row || errs[i].Column != w.column || errs[i].Accepted == "" || !strings.Contains(errs[i].Error(), w.column) {
			t.Errorf("%+v, want row %d, column %s", errs[i], w.row, w.column)
		}
	}
}

func TestColumnsThatCannotBe(t *testing.T) {
	table, err := fluid.ReadTable("a,b\n1,2\n")
	if err != nil {
		t.Fatal(err)
	}
	for name, fields := range map[string][]string{"too few": {"iron"}, "nothing": {"", ""}, "no measure": {"sample", ""}, "twice": {"iron", "iron"}, "unknown": {"iron", "gold"}} {
		if got, errs := table.Samples(fields); got != nil || len(errs) == 0 || errs[0].Accepted == "" {
			t.Errorf("%s: %v %v", name, got, errs)
		}
	}
	if got, errs := table.Samples([]string{"iron", ""}); len(errs) > 0 || got[0].Values["iron"] != 1 {
		t.Errorf("mapped by hand: %+v %v", got, errs)
	}
	for name, text := range map[string]string{"empty": "", "only heads": "iron,copper\n", "a quote": "iron\n\"4\n", "too long": "iron\n1,2\n", "too wide": strings.Repeat("a,", 300) + "b\n1\n"} {
		if got, err := fluid.ReadTable(text); err == nil || !strings.Contains(err.Error(), "want") {
			t.Errorf("%s: %+v %v", name, got, err)
		}
	}
}

// A head without a word is nothing to fall over; numbers are read as the whole table writes them, and what could be read in two
// ways is named.
func TestNumbersOfATableAreReadInOneWay(t *testing.T) {
	read := func(text string, fields ...string) ([]fluid.Sample, []fluid.CellError) {
		t.Helper()
		table, err := fluid.ReadTable(text)
		if err != nil {
			t.Fatal(err)
		}
		if len(fields) == 0 {
			fields = table.Guessed
		}
		return table.Samples(fields)
	}
	if got, errs := read("km,,Fe\n142310,x,42\n", "distance", "copper", "iron"); got != nil || len(errs) != 1 {
		t.Errorf("an empty head: %+v %v", got, errs)
	}
	for text, want := range map[string]float64{"Fe;Cu\n1,234.5;7.5\n": 1234.5, "Fe;Cu\n1.234,5;7,5\n": 1234.5, "Fe;Cu\n1.234;7,5\n": 1234, "Fe;Cu\n1.234;7.5\n": 1.234, "Fe;Cu\n0.125;7\n": 0.125, "Fe;Cu\n1234;7\n": 1234} {
		if got, errs := read(text); len(errs) > 0 || got[0].Values["iron"] != want {
			t.Errorf("%q: %+v %v, want %v", text, got, errs, want)
		}
	}
	for _, text := range []string{"Fe;Cu\n1,234;7\n", "Fe;Cu\n1,5;2,234.5\n"} {
		if got, errs := read(text); got != nil && len(errs) == 0 && got[0].Values["iron"] == 1.234 {
			t.Errorf("%q was read as %+v", text, got)
		}
	}
	if _, errs := read("Fe;Cu\n1,234;7\n"); len(errs) != 1 || !strings.Contains(errs[0].Reason, "it may be") {
		t.Errorf("%v", errs)
	}
}

func FuzzTable(f *testing.F) {
	f.Add("Sample,Fe (ppm),Water %\nA,42,0.04\n")
	f.Add("a;b\n1,5;<2\n")
	f.Add("km,,Fe\n1,2,3\n")
	f.Fuzz(func(t *testing.T, text string) {
		table, err := fluid.ReadTable(text)
		if err != nil {
			return
		}
		got, errs := table.Samples(table.Guessed)
		if len(errs) > 0 && got != nil {
			t.Error("errors and samples")
		}
		for _, s := range got {
			if _, _, err := s.Judge(); err != nil {
				t.Errorf("%+v: %v", s, err)
			}
		}
	})
}
