package plan

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/diagnose"
	"innercompass/core/unitsheet"
)

// Contrast is why one cause and not another.
type Contrast struct {
	Against  diagnose.Suspect
	Readings []ReadingWeight // that separate the two, strongest first: positive speaks for the first
	Check    *Advice         // that would tell them apart; nil when no check does
}

// ReadingWeight is a reading with a weight in decibans.
type ReadingWeight struct {
	Reading string
	Weight  float64
}

// separates is the weight from which a reading is said to separate two causes.
const separates = 1.0

// Contrasted compares two of the suspects that were weighed: which readings separate them, and which check that can be
// done from here would.
func Contrasted(a *diagnose.Assessment, w diagnose.Weights, first, second int, stand VehicleState) Contrast {
	out := Contrast{Against: a.Suspects[second]}
	for i, r := range a.Readings() {
		if d := w.Suspects[first][i] - w.Suspects[second][i]; math.Abs(d) >= separates {
			out.Readings = append(out.Readings, ReadingWeight{r.ID, d})
		}
	}
	slices.SortStableFunc(out.Readings, func(x, y ReadingWeight) int { return cmp.Compare(math.Abs(y.Weight), math.Abs(x.Weight)) })
	hx, px := a.HypothesisOf(a.Order[first])
	hy, py := a.HypothesisOf(a.Order[second])
	if slices.Equal(hx.Causes, hy.Causes) {
		return out // they are there together: nothing to tell apart
	}
	hx.Share, hy.Share = 0.5, 0.5
	hyps := []diagnose.Hypothesis{hx, hy}
	p := &planner{a: a, stand: stand, weights: []float64{0.5, 0.5}, see: a.Foresee(hyps, [][]float64{px, py}), p: make([]float64, len(a.Network.Causes))}
	best := 0.0
	for _, c := range a.Network.Checks {
		if !p.open(c) {
			continue
		}
		told, again := p.candidates(c)
		tells := 0.0
		for _, x := range told {
			tells += x.InformationGain
		}
		tells = math.Min(tells, math.Ln2)
		need, _ := unitsheet.ParseAccess(c.Access)
		v := Advice{Check: c, Again: again, Minutes: c.Minutes, AccessMinutes: a.Network.Unit.AccessMinutes(stand.Access, need), InformationGain: tells}
		// What tells nearly everything is worth some minutes; a few more per mille are worth an hour's climb to nobody.
		if score := tells / (10 + v.Minutes + v.AccessMinutes); tells > 0.02 && score > best {
			best = score
			out.Check = &v
		}
	}
	if out.Check != nil {
		p.addResults(out.Check)
	}
	return out
}
