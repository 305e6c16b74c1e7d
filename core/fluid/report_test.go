package fluid_test

import (
	"math"
	"testing"

	"innercompass/core/fluid"
)

// Reports as the trade reads them (common practice, no source): copper with lead and tin is a bushing, copper alone the
// cooler; silicon with aluminium is dirt, alone sealant; sodium, potassium and water are coolant.
func TestReports(t *testing.T) {
	const km = 1e3
	for name, c := range map[string]struct {
		report fluid.Report
		first  string // empty: sound
	}{
		"sound":                    {fluid.Report{Values: map[string]float64{"iron": 45, "copper": 20, "lead": 4, "aluminium": 9, "silicon": 12, "water": 0.03, "oxidation": 7}, Distance: 40000 * km}, ""},
		"copper, lead and tin":     {fluid.Report{Values: map[string]float64{"copper": 160, "lead": 60, "tin": 25, "iron": 50, "aluminium": 8}, Distance: 40000 * km}, "bushing"},
		"copper alone":             {fluid.Report{Values: map[string]float64{"copper": 160, "lead": 4, "tin": 1, "iron": 50, "particles": 20}, Distance: 40000 * km}, "cooler"},
		"iron and chromium":        {fluid.Report{Values: map[string]float64{"iron": 400, "chromium": 20, "particles": 180, "copper": 20}, Distance: 40000 * km}, "bearing"},
		"silicon and aluminium":    {fluid.Report{Values: map[string]float64{"silicon": 120, "aluminium": 40, "iron": 60, "sodium": 4}, Distance: 40000 * km}, "dirt"},
		"silicon alone":            {fluid.Report{Values: map[string]float64{"silicon": 60, "aluminium": 8, "iron": 40}, Distance: 20000 * km}, "sealant"},
		"coolant":                  {fluid.Report{Values: map[string]float64{"sodium": 180, "potassium": 70, "water": 0.6}, Glycol: "yes", Distance: 40000 * km}, "coolant"},
		"water":                    {fluid.Report{Values: map[string]float64{"water": 0.8, "sodium": 6, "potassium": 2}, Glycol: "no", Distance: 40000 * km}, "water"},
		"thick and oxidised":       {fluid.Report{Values: map[string]float64{"oxidation": 32, "iron": 60}, Viscosity: 9e-6, NewViscosity: 7.2e-6, Distance: 60000 * km}, "heat"},
		"thin, otherwise in order": {fluid.Report{Values: map[string]float64{"oxidation": 7, "iron": 40}, Viscosity: 5.2e-6, NewViscosity: 7.2e-6, Distance: 40000 * km}, "sheared"},
	} {
		got, sound, err := c.report.Judge()
		switch {
		case err != nil:
			t.Errorf("%s: %v", name, err)
		case c.first == "" && sound < 0.7:
			t.Errorf("%s: sound with %v, first %s with %v", name, sound, got[0].ID, got[0].Share)
		case c.first != "" && (got[0].ID != c.first || got[0].Share < 0.5):
			t.Errorf("%s: %s %.2f, %s %.2f; want %s", name, got[0].ID, got[0].Share, got[1].ID, got[1].Share, c.first)
		}
	}
}

// The same iron is high after a short way and usual after a long one.
func TestLimitsGrowWithDistance(t *testing.T) {
	level := func(km float64) int {
		return fluid.Report{Values: map[string]float64{"iron": 90}, Distance: km * 1e3}.Lines()[0].Level
	}
	if short, middle, long := level(1000), level(30000), level(120000); short != 2 || middle != 1 || long != 0 {
		t.Errorf("90 ppm after 1, 30 and 120 thousand km: %d, %d, %d", short, middle, long)
	}
	for _, bad := range []map[string]float64{{"gold": 1}, {"iron": -1}, {"iron": math.NaN()}, {"iron": math.Inf(1)}} {
		if _, _, err := (fluid.Report{Values: bad}).Judge(); err == nil {
			t.Errorf("%v was taken", bad)
		}
	}
}
