package fluid

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"innercompass/core/attribute"
)

// Debris kinds, as they lie on white paper.
var DebrisKinds = []struct{ ID, Title string }{
	{"film", "fine gray paste"}, {"lining", "dark soft flakes"}, {"steel", "bright slivers, magnetic"}, {"needles", "needles, rollers or pieces of them"}, {"chunks", "hard pieces, magnetic"},
	{"aluminium", "bright and soft, not magnetic"}, {"bronze", "yellow, not magnetic"}, {"plastic", "plastic"}, {"rubber", "rubber"}, {"sealant", "strings of sealant"}, {"rust", "red-brown"},
}

// Trace is what one source leaves of one kind: how often some of it or more, how often much, and how often in pieces
// rather than fine, when there is any.
type Trace struct{ Some, Much, Pieces float64 }

// DebrisSource is what wears, with what it leaves and what to do about it. The shares are common practice, no source.
type DebrisSource struct {
	ID, Title, Action string
	Prior             float64
	Leaves            map[string]Trace
}

// DebrisSources lists them.
var DebrisSources = []DebrisSource{
	{"clutch", "clutch or band lining", "Find which element slipped and why, before it is relined. Flush the cooler.", 0.12, map[string]Trace{"lining": {0.95, 0.65, 0.45}, "film": {0.6, 0.3, 0.02}, "steel": {0.12, 0.03, 0.1}}},
	{"converter", "converter clutch or converter inside", "Read its slip; look at what drains from it. The cooler has it too: flush or replace.", 0.07, map[string]Trace{"lining": {0.8, 0.35, 0.1}, "film": {0.7, 0.35, 0.02}, "aluminium": {0.25, 0.06, 0.2}, "needles": {0.12, 0.02, 0.5}}},
	{"bearing", "needle or ball bearing", "Stop driving it: what runs on bearings goes next. Listen by load and gear, then open it.", 0.05, map[string]Trace{"steel": {0.8, 0.4, 0.3}, "needles": {0.6, 0.2, 0.9}, "film": {0.85, 0.6, 0.02}, "chunks": {0.2, 0.05, 0.9}}},
	{"gears", "gears or planet pins", "Stop driving it. Count and look at the teeth; clean everything behind.", 0.04, map[string]Trace{"steel": {0.8, 0.5, 0.6}, "chunks": {0.55, 0.2, 0.95}, "film": {0.85, 0.6, 0.02}}},
	{"bushing", "bushings or thrust washers", "Measure end play; look at pump, sun gear and tail bushings.", 0.06, map[string]Trace{"bronze": {0.92, 0.45, 0.25}, "film": {0.4, 0.15, 0.02}, "aluminium": {0.12, 0.03, 0.2}}},
	{"pump", "pump", "Measure its clearances and the pressure hot at idle.", 0.05, map[string]Trace{"aluminium": {0.5, 0.2, 0.2}, "steel": {0.5, 0.2, 0.15}, "film": {0.6, 0.35, 0.02}, "bronze": {0.25, 0.06, 0.2}}},
	{"bore", "valve bores, case or drum", "Vacuum-test the bores; look at lugs and snap ring grooves.", 0.05, map[string]Trace{"aluminium": {0.75, 0.25, 0.15}}},
	{"plastic", "plastic part: gear, cage, screen", "Find the part: governor gear, washer, check ball, solenoid screen.", 0.03, map[string]Trace{"plastic": {0.96, 0.35, 0.8}}},
	{"seals", "seals", "Hard lips and rings: air check, then reseal. Find what made the heat.", 0.04, map[string]Trace{"rubber": {0.9, 0.25, 0.7}}},
	{"sealant", "somebody’s sealant", "Clean it from filter, screens and valves; a gasket, not a bead, goes back.", 0.03, map[string]Trace{"sealant": {0.98, 0.4, 0.9}}},
	{"water", "water", "Find how it came in; linings may have taken it up.", 0.02, map[string]Trace{"rust": {0.85, 0.3, 0.1}}},
}

// DebrisSeen is one kind as it was found: nothing, some or much of it, fine or in pieces.
type DebrisSeen struct {
	Amount int // 0 none, 1 some, 2 much
	Pieces bool
}

// Tray is what was found in the pan, after this many metres since it was last cleaned; 0 when that is not known.
type Tray struct {
	Found    map[string]DebrisSeen
	Distance float64
}

// DebrisSuspect is a source with its probability.
type DebrisSuspect struct {
	DebrisSource
	Share float64
}

// ordinary is what sound units leave: paste and a little lining, more with distance.
func ordinary(kind string, distance float64) Trace {
	if distance <= 0 {
		distance = 60e6
	}
	long := min(1, distance/100e6)
	switch kind {
	case "film":
		return Trace{0.35 + 0.6*long, 0.02 + 0.2*long, 0.01}
	case "lining":
		return Trace{0.08 + 0.35*long, 0.01 + 0.03*long, 0.03}
	case "steel", "aluminium", "bronze":
		return Trace{0.01 + 0.02*long, 0.002, 0.05}
	}
	return Trace{0.006, 0.001, 0.5}
}

// Judge ranks the sources of a tray, several at once; ordinary is the probability that none of them is at work. It fails
// for kinds that there are not.
func (t Tray) Judge() (suspects []DebrisSuspect, normal float64, err error) {
	priors := make([]float64, len(DebrisSources))
	for i, s := range DebrisSources {
		priors[i] = s.Prior
	}
	var marks []attribute.Mark
	known := 0
	for _, k := range DebrisKinds {
		seen, looked := t.Found[k.ID]
		if !looked {
			continue
		}
		known++
		if seen.Amount < 0 || seen.Amount > 2 {
			return nil, 0, fmt.Errorf("fluid: amount %d of %s; want 0 none, 1 some, 2 much", seen.Amount, k.ID)
		}
		o := ordinary(k.ID, t.Distance)
		amount := attribute.Mark{Level: seen.Amount, Base: []float64{1 - o.Some, 1 - o.Much}, By: make([][]float64, len(DebrisSources))}
		size := attribute.Mark{Base: []float64{1 - o.Pieces}, By: make([][]float64, len(DebrisSources))}
		if seen.Pieces {
			size.Level = 1
		}
		for i, s := range DebrisSources {
			if l, ok := s.Leaves[k.ID]; ok {
				amount.By[i], size.By[i] = []float64{1 - l.Some, 1 - l.Much}, []float64{1 - l.Pieces}
			}
		}
		marks = append(marks, amount)
		if seen.Amount > 0 {
			marks = append(marks, size)
		}
	}
	if known != len(t.Found) {
		ids := make([]string, len(DebrisKinds))
		for i, k := range DebrisKinds {
			ids[i] = k.ID
		}
		return nil, 0, fmt.Errorf("fluid: a kind of debris that there is not; want %s", strings.Join(ids, ", "))
	}
	found, err := attribute.Explain(priors, marks, 3, nil)
	if err != nil {
		return nil, 0, err
	}
	for i, s := range DebrisSources {
		suspects = append(suspects, DebrisSuspect{s, found.Share[i]})
	}
	slices.SortStableFunc(suspects, func(a, b DebrisSuspect) int { return cmp.Compare(b.Share, a.Share) })
	return suspects, found.None(), nil
}
