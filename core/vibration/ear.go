package vibration

import (
	"cmp"
	"math"
	"slices"
)

// Ear is what can be told without a recording: families of sources, trials on the road with their answers, and how often each family gives
// each answer. All of it is judgment, to be fitted from closed cases. By sound alone the family is named, rarely more.
type Ear struct {
	Families []Kin
	Trials   []Trial
}

// Kin is a family of sources, as far as the ear tells them apart.
type Kin struct {
	ID, Name string
	Prior    float64
	State    string // of the finding that counts beats by turns; nothing when no turn is told
}

// Trial is something that is tried, with a yes or a no for an answer.
type Trial struct {
	ID, Title, Caution string
	Minutes            float64
	Yes                []float64 // by family
}

const (
	clearRoad = "On a clear road; a second person listens."
	onLift    = "Arms of the lift locked, discs held by their nuts, nobody beside the shafts."
	standSafe = "Wheels chocked, parking brake on, clear of belts and fan."
)

// ByEar is the table of a study: probabilities named in the head.
var ByEar = Ear{
	Families: []Kin{
		{"wheel", "wheel or tire", .25, "wheel"}, {"bearing", "wheel bearing", .08, "bearing"}, {"shaft", "driveshaft out of balance", .12, "shaft"}, {"joint", "joint or its angle", .12, "shaft-twice"},
		{"axle", "axle gears", .08, "axle"}, {"engine", "engine, its mounts, exhaust", .12, "firing"}, {"flywheel", "flywheel, converter, clutch", .06, "engine"}, {"pump", "oil pump", .04, "pump"},
		{"gears", "gears of the range", .06, "mesh"}, {"planets", "a planetary set", .03, "planets"}, {"body", "body or another thing", .04, "rings"},
	},
	Trials: []Trial{
		{"shake", "It shakes, below 25 a second", "", .5, []float64{.9, .1, .2, .15, .02, .35, .45, .02, .03, .05, .3}},
		{"whine", "It whines, above 250 a second", "", .5, []float64{.03, .15, .03, .03, .9, .03, .05, .85, .85, .55, .2}},
		{"gear", "Same pitch at the same road speed in another gear", clearRoad, 4, []float64{.97, .97, .95, .95, .95, .05, .05, .05, .06, .06, .5}},
		{"roll", "It stays, rolling in N", "Only where it is safe and lawful, engine running.", 3, []float64{.97, .95, .93, .8, .7, .1, .1, .15, .05, .08, .5}},
		{"stand", "It is there standing, at that engine speed", standSafe, 2, []float64{.02, .02, .02, .02, .02, .85, .75, .9, .04, .1, .3}},
		{"open", "It moves when the converter opens", clearRoad, 4, []float64{.03, .03, .03, .03, .03, .6, .5, .5, .05, .05, .2}},
		{"foot", "It is quieter with the foot off", clearRoad, 2, []float64{.1, .1, .15, .6, .85, .45, .25, .15, .8, .7, .4}},
		{"bend", "It changes in a bend", clearRoad, 3, []float64{.15, .75, .03, .05, .1, .03, .03, .02, .03, .03, .2}},
		{"lift", "It stays with the wheels off, on the lift", onLift, 25, []float64{.03, .25, .85, .6, .7, .8, .85, .9, .6, .6, .3}},
		{"band", "It is there in one band of speed only", "", 4, []float64{.15, .1, .45, .4, .25, .45, .2, .05, .15, .15, .6}},
	},
}

// Answered weighs the families by what was tried: true for yes.
func (e Ear) Answered(answers map[string]bool) []float64 {
	logs := make([]float64, len(e.Families))
	for i, f := range e.Families {
		logs[i] = math.Log(f.Prior)
		for _, t := range e.Trials {
			if yes, ok := answers[t.ID]; ok && yes {
				logs[i] += math.Log(t.Yes[i])
			} else if ok {
				logs[i] += math.Log(1 - t.Yes[i])
			}
		}
	}
	top, sum := slices.Max(logs), 0.0
	for i := range logs {
		logs[i] = math.Exp(logs[i] - top)
		sum += logs[i]
	}
	for i := range logs {
		logs[i] /= sum
	}
	return logs
}

// Told is what a trial tells.
type Told struct {
	Trial
	Bits float64
}

// Next ranks the trials that were not made yet by what they tell in a minute; without leaves out what the vehicle has not.
func (e Ear) Next(answers map[string]bool, without ...string) []Told {
	p := e.Answered(answers)
	before := entropy(p)
	var out []Told
	for _, t := range e.Trials {
		if _, done := answers[t.ID]; done || slices.Contains(without, t.ID) {
			continue
		}
		after := 0.0
		for _, yes := range []bool{true, false} {
			mass, given := 0.0, make([]float64, len(p))
			for i := range p {
				given[i] = p[i] * t.Yes[i]
				if !yes {
					given[i] = p[i] * (1 - t.Yes[i])
				}
				mass += given[i]
			}
			for i := range given {
				given[i] /= mass
			}
			after += mass * entropy(given)
		}
		out = append(out, Told{t, before - after})
	}
	slices.SortStableFunc(out, func(a, b Told) int { return cmp.Compare(b.Bits/b.Minutes, a.Bits/a.Minutes) })
	return out
}
