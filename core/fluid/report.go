package fluid

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"innercompass/core/attribute"
)

// Measure is one line of a laboratory's report. Usual is what a sound unit shows on new fluid, Rate what it gains in
// 1,000 km; high is two and a half times that. All are common practice, no source: a shop's own reports go before them.
type Measure struct {
	ID, Title, Unit string
	Usual, Rate     float64
}

// Measures lists what a report may hold. Metals in mg/kg (ppm), water in per cent, oxidation in absorbance per centimetre.
var Measures = []Measure{
	{"iron", "iron", "ppm", 20, 1.5}, {"chromium", "chromium", "ppm", 2, 0.05}, {"copper", "copper", "ppm", 12, 1.0}, {"lead", "lead", "ppm", 5, 0.4}, {"tin", "tin", "ppm", 3, 0.2},
	{"aluminium", "aluminum", "ppm", 8, 0.5}, {"silicon", "silicon", "ppm", 15, 0.3}, {"sodium", "sodium", "ppm", 10, 0.05}, {"potassium", "potassium", "ppm", 5, 0.02},
	{"particles", "ferrous particle index", "", 15, 0.6}, {"water", "water", "%", 0.05, 0.0002}, {"oxidation", "oxidation", "A/cm", 5, 0.12},
}

// high is how many times the usual value is high rather than raised.
const high = 2.5

// Limit is what is usual at most after a distance in metres, and from where it is high.
func (m Measure) Limit(distance float64) (usual, isHigh float64) {
	usual = m.Usual + m.Rate*math.Max(0, distance)/1e6
	return usual, high * usual
}

// ReportSource is what a report may point to, with how often it raises each measure and how often it makes it high.
type ReportSource struct {
	ID, Title, Action string
	Prior             float64
	Raises            map[string][2]float64
	Thins, Thickens   float64 // how often the viscosity is off by more than 15 %
	Glycol            float64
}

// ReportSources lists them; shares are common practice, no source.
var ReportSources = []ReportSource{
	{"plates", "clutch plates and linings", "Look for slip: recording, air check, debris.", 0.10, map[string][2]float64{"iron": {0.75, 0.35}, "copper": {0.5, 0.2}, "particles": {0.3, 0.1}}, 0, 0.05, 0},
	{"bearing", "bearings", "Listen by load and gear; open before it breaks up.", 0.05, map[string][2]float64{"iron": {0.85, 0.55}, "chromium": {0.7, 0.35}, "particles": {0.85, 0.6}}, 0, 0, 0},
	{"gears", "gears", "Look at the magnet, drain and teeth.", 0.04, map[string][2]float64{"iron": {0.9, 0.6}, "particles": {0.85, 0.6}}, 0, 0, 0},
	{"bushing", "bushings and thrust washers", "Measure end play; pressure hot.", 0.06, map[string][2]float64{"copper": {0.85, 0.5}, "lead": {0.75, 0.4}, "tin": {0.6, 0.3}}, 0, 0, 0},
	{"alloy", "pump, bores, case or converter", "Measure pump clearances; vacuum-test the bores.", 0.06, map[string][2]float64{"aluminium": {0.9, 0.5}}, 0, 0, 0},
	{"dirt", "dirt from outside", "Vent, filler and seals; how was it filled?", 0.03, map[string][2]float64{"silicon": {0.9, 0.5}, "aluminium": {0.6, 0.2}, "iron": {0.4, 0.1}}, 0, 0, 0},
	{"sealant", "sealant", "Somebody was here: look at filter and screens.", 0.05, map[string][2]float64{"silicon": {0.9, 0.4}}, 0, 0, 0},
	{"cooler", "copper from the cooler", "Harmless when lead and tin stay low: it falls with each change.", 0.05, map[string][2]float64{"copper": {0.9, 0.4}}, 0, 0, 0},
	{"coolant", "coolant", "Cooler and radiator apart; flush, linings that took up glycol replaced: they come loose.", 0.02, map[string][2]float64{"sodium": {0.85, 0.6}, "potassium": {0.75, 0.5}, "water": {0.85, 0.6}}, 0.1, 0.15, 0.95},
	{"water", "water", "Find how it came in; change until it is dry; watch the linings.", 0.02, map[string][2]float64{"water": {0.95, 0.6}, "sodium": {0.15, 0.05}}, 0.05, 0.1, 0.005},
	{"heat", "heat: oxidised fluid", "Change it; find what heats it: cooler, slip, load.", 0.08, map[string][2]float64{"oxidation": {0.92, 0.5}}, 0.03, 0.45, 0},
	{"sheared", "sheared or thinned fluid", "Change it; look for fuel or the wrong fluid.", 0.05, nil, 0.9, 0, 0},
	{"other-fluid", "another fluid, or a mixture", "Drain and fill until it is the right one; ask who filled it.", 0.04, map[string][2]float64{"silicon": {0.2, 0.05}}, 0.4, 0.45, 0},
}

// Report is what a laboratory found. Values are by the ids of Measures; viscosities at 100 °C in m²/s, 0 when not given.
type Report struct {
	Values       map[string]float64
	Distance     float64 // on this fluid, metres
	Viscosity    float64
	NewViscosity float64
	Glycol       string    // yes, no, or empty
	Measures     []Measure // limits of the unit; nil for those that most have
}

// ReportLine is a measure beside its limits: level 0 usual, 1 raised, 2 high.
type ReportLine struct {
	Measure
	Value, Limit, High float64
	Level              int
}

// ReportSuspect is a source with its probability.
type ReportSuspect struct {
	ReportSource
	Share float64
}

// Lines holds the values against their limits, in the order of Measures.
func (r Report) Lines() []ReportLine {
	var out []ReportLine
	measures := r.Measures
	if measures == nil {
		measures = Measures
	}
	for _, m := range measures {
		v, ok := r.Values[m.ID]
		if !ok {
			continue
		}
		l := ReportLine{Measure: m, Value: v}
		l.Limit, l.High = m.Limit(r.Distance)
		switch {
		case v > l.High:
			l.Level = 2
		case v > l.Limit:
			l.Level = 1
		}
		out = append(out, l)
	}
	return out
}

// Judge ranks what the report points to, several at once; sound is the probability of nothing. It fails for values that are
// negative or belong to no measure.
func (r Report) Judge() (suspects []ReportSuspect, sound float64, err error) {
	for id, v := range r.Values {
		if !slices.ContainsFunc(Measures, func(m Measure) bool { return m.ID == id }) {
			return nil, 0, fmt.Errorf("fluid: %q is no line of a report; want iron, copper, water and the like", id)
		}
		if !(v >= 0) || math.IsInf(v, 0) {
			return nil, 0, fmt.Errorf("fluid: %s of %v; want none or more", id, v)
		}
	}
	priors := make([]float64, len(ReportSources))
	for i, s := range ReportSources {
		priors[i] = s.Prior
	}
	var marks []attribute.Mark
	mark := func(level int, base []float64, by func(ReportSource) []float64) {
		m := attribute.Mark{Level: level, Base: base, By: make([][]float64, len(ReportSources))}
		for i, s := range ReportSources {
			m.By[i] = by(s)
		}
		marks = append(marks, m)
	}
	for _, l := range r.Lines() {
		mark(l.Level, []float64{0.94, 0.995}, func(s ReportSource) []float64 {
			if p, ok := s.Raises[l.ID]; ok {
				return []float64{1 - p[0], 1 - p[1]}
			}
			return nil
		})
	}
	yes := func(seen bool, base float64, by func(ReportSource) float64) {
		level := 0
		if seen {
			level = 1
		}
		mark(level, []float64{1 - base}, func(s ReportSource) []float64 {
			if p := by(s); p > 0 {
				return []float64{1 - p}
			}
			return nil
		})
	}
	if r.Viscosity > 0 && r.NewViscosity > 0 {
		off := r.Viscosity/r.NewViscosity - 1
		yes(off < -0.15, 0.03, func(s ReportSource) float64 { return s.Thins })
		yes(off > 0.15, 0.02, func(s ReportSource) float64 { return s.Thickens })
	}
	if r.Glycol != "" {
		yes(r.Glycol == "yes", 0.005, func(s ReportSource) float64 { return s.Glycol })
	}
	found, err := attribute.Explain(priors, marks, 3, nil)
	if err != nil {
		return nil, 0, err
	}
	for i, s := range ReportSources {
		suspects = append(suspects, ReportSuspect{s, found.Share[i]})
	}
	slices.SortStableFunc(suspects, func(a, b ReportSuspect) int { return cmp.Compare(b.Share, a.Share) })
	return suspects, found.None(), nil
}
