package fluid

import (
	"cmp"
	"fmt"
	"slices"

	"innercompass/core/attribute"
)

// LookMark is one thing that is seen, smelled or felt of a drop of fluid, in grades from none up. Ordinary is how often
// sound fluid in use shows each grade or more (common practice, no source).
type LookMark struct {
	ID, Title string
	Grades    []string // the first says none of it
	Ordinary  []float64
}

// LookMarks lists them.
var LookMarks = []LookMark{
	{"dark", "Color in a thin layer on white paper", []string{"as new", "brownish", "dark brown", "black"}, []float64{0.30, 0.04, 0.005}},
	{"milky", "Milkiness", []string{"clear", "hazy", "milky"}, []float64{0.015, 0.003}},
	{"foam", "Foam", []string{"none", "bubbles that go", "foam that stays"}, []float64{0.05, 0.01}},
	{"burnt", "Burnt smell", []string{"none", "faint", "strong"}, []float64{0.05, 0.005}},
	{"sweet", "Sweet smell", []string{"none", "sweet"}, []float64{0.004}},
	{"gear-oil", "Smell of gear oil or another fluid", []string{"none", "another smell"}, []float64{0.01}},
	{"feel", "Between gloved fingers", []string{"smooth", "gritty"}, []float64{0.015}},
	{"sticky", "Film on stick or filler", []string{"wipes off", "sticky, brown"}, []float64{0.02}},
	{"core", "Drop on blotting paper, its middle", []string{"spreads evenly", "dark core that stays"}, []float64{0.04}},
	{"ring", "Drop on blotting paper, its edge", []string{"even", "clear ring of water"}, []float64{0.004}},
	{"kind", "Color beside fresh fluid of the right kind", []string{"same family", "another color"}, []float64{0.015}},
	{"plate", "Drop on a hot plate", []string{"lies quiet", "crackles"}, []float64{0.003}},
}

// LookSource is what may be behind the look of a fluid: how often it brings each mark to a grade or more.
type LookSource struct {
	ID, Title, Action string
	Prior             float64
	Shows             map[string][]float64
}

// LookSources lists them; shares are common practice, no source.
var LookSources = []LookSource{
	{"age", "age: oxidised fluid", "Change it and note the distance; look again after a short drive before anything is taken out.", 0.15,
		map[string][]float64{"dark": {0.92, 0.6, 0.1}, "burnt": {0.2, 0.02}, "core": {0.25}, "sticky": {0.15}}},
	{"slip", "a clutch or band that slips", "Find which one, and why, before new fluid goes in: it hides the trace and cures nothing. Pan and filter next.", 0.08,
		map[string][]float64{"dark": {0.93, 0.8, 0.45}, "burnt": {0.92, 0.65}, "core": {0.85}, "feel": {0.15}}},
	{"heat", "heat: cooler, load or converter", "Read the temperature over a drive; cooler flow and drop. Fluid that was hot is used up.", 0.06,
		map[string][]float64{"dark": {0.88, 0.65, 0.25}, "burnt": {0.75, 0.3}, "sticky": {0.45}, "core": {0.2}}},
	{"water", "water", "Find how it came in; glycol strip before anything else. Do not drive on: linings take water up.", 0.02,
		map[string][]float64{"milky": {0.95, 0.7}, "plate": {0.97}, "ring": {0.6}, "foam": {0.3, 0.1}}},
	{"coolant", "coolant", "Stop driving it. Cooler and radiator apart, then decide about the linings: glycol loosens their glue.", 0.015,
		map[string][]float64{"milky": {0.95, 0.7}, "sweet": {0.6}, "plate": {0.95}, "ring": {0.5}, "foam": {0.2, 0.06}}},
	{"air", "air: too much or too little fluid, or a suction side that draws air", "Level first, by the unit's own procedure; then filter neck and its seal.", 0.05,
		map[string][]float64{"foam": {0.92, 0.55}, "milky": {0.12, 0.02}}},
	{"wear", "metal that wears", "Debris tray and magnet: which metal, how much, how large.", 0.05,
		map[string][]float64{"feel": {0.75}, "dark": {0.4, 0.1, 0.02}}},
	{"other-fluid", "another fluid, or a mixture", "Ask who filled it and with what. Drain and fill until it is the right one; friction comes back last.", 0.04,
		map[string][]float64{"kind": {0.85}, "gear-oil": {0.4}, "foam": {0.35, 0.12}}},
}

// LookSuspect is a source with its probability.
type LookSuspect struct {
	LookSource
	Share float64
}

// JudgeLook ranks what is behind the grades seen, by the ids of LookMarks, several sources at once; sound is the
// probability that none of them is at work. What was not looked at says nothing. It fails for marks and grades that there
// are not.
func JudgeLook(seen map[string]int) (suspects []LookSuspect, sound float64, err error) {
	priors := make([]float64, len(LookSources))
	for i, s := range LookSources {
		priors[i] = s.Prior
	}
	var marks []attribute.Mark
	for _, m := range LookMarks {
		grade, looked := seen[m.ID]
		if !looked {
			continue
		}
		if grade < 0 || grade >= len(m.Grades) {
			return nil, 0, fmt.Errorf("fluid: grade %d of %s; want 0 to %d", grade, m.ID, len(m.Grades)-1)
		}
		made := attribute.Mark{Level: grade, Base: without(m.Ordinary), By: make([][]float64, len(LookSources))}
		for i, s := range LookSources {
			if p, ok := s.Shows[m.ID]; ok {
				made.By[i] = without(p)
			}
		}
		marks = append(marks, made)
	}
	if len(marks) != len(seen) {
		return nil, 0, fmt.Errorf("fluid: something that a drop does not show; want dark, milky, foam, burnt and the like")
	}
	found, err := attribute.Explain(priors, marks, 3, nil)
	if err != nil {
		return nil, 0, err
	}
	for i, s := range LookSources {
		suspects = append(suspects, LookSuspect{s, found.Share[i]})
	}
	slices.SortStableFunc(suspects, func(a, b LookSuspect) int { return cmp.Compare(b.Share, a.Share) })
	return suspects, found.None(), nil
}

// without turns "this grade or more" into "less than that".
func without(atLeast []float64) []float64 {
	out := make([]float64, len(atLeast))
	for i, p := range atLeast {
		out[i] = 1 - p
	}
	return out
}
