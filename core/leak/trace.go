package leak

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"innercompass/core/attribute"
)

// Tracer holds a map's flows, so that scenes are traced without working them out again.
type Tracer struct {
	Map         Map
	still, wind []reach
}

// NewTracer works out the flows of a compiled map.
func NewTracer(m Map) *Tracer { return &Tracer{m, m.flow(false), m.flow(true)} }

// Trace explains a scene. It fails on what a scene cannot hold, and never on marks that contradict each other: something else may
// always have wetted a zone.
func (t *Tracer) Trace(s Scene) (Trace, error) {
	if err := t.check(s); err != nil {
		return Trace{}, err
	}
	marks := t.zoneMarks(s.Watched, s.Zones)
	marks = append(marks, t.otherMarks(s)...)
	priors := make([]float64, len(t.Map.Sources))
	for i, x := range t.Map.Sources {
		priors[i] = x.Prior
	}
	found, err := attribute.Explain(priors, marks, together, t.colour(s.Colour))
	if err != nil {
		return Trace{}, err
	}
	out := Trace{Sets: found.Sets, Unexplained: t.unexplained(s, found.Sets[0])}
	for i, x := range t.Map.Sources {
		out.Suspects = append(out.Suspects, Suspect{x, found.Share[i], found.Ratio[i], t.ways(i, s)})
	}
	slices.SortStableFunc(out.Suspects, func(a, b Suspect) int { return cmp.Compare(b.Share, a.Share) })
	out.Checks = t.checks(s, found.Sets)
	return out, nil
}

func (t *Tracer) check(s Scene) error {
	if !slices.Contains(Watches, s.Watched) {
		return fmt.Errorf("leak: watched %q; want one of %v", s.Watched, Watches)
	}
	for id, level := range s.Zones {
		if !slices.ContainsFunc(t.Map.Zones, func(z Zone) bool { return z.ID == id }) {
			return fmt.Errorf("leak: no zone %q; want the id of one of the unit's zones", id)
		}
		if level < Dry || level > Fresh {
			return fmt.Errorf("leak: zone %q is %d; want dry, wet or fresh", id, level)
		}
	}
	for id := range s.When {
		if !slices.ContainsFunc(Moments, func(m Moment) bool { return m.ID == id }) {
			return fmt.Errorf("leak: no moment %q; want standing, running, after, hot or load", id)
		}
	}
	for name, x := range map[string]struct {
		given string
		known []string
	}{"colour": {s.Colour, Colours}, "level": {s.Level, []string{"steady", "slow", "fast"}}, "vent": {s.Vent, []string{"open", "blocked"}}, "plug": {s.Plug, []string{"right", "over"}}} {
		if x.given != "" && !slices.Contains(x.known, x.given) {
			return fmt.Errorf("leak: %s %q; want one of %v", name, x.given, x.known)
		}
	}
	return nil
}

// zoneMarks are the zones that were looked at, in the order of the map.
func (t *Tracer) zoneMarks(w Watch, zones map[string]int) []attribute.Mark {
	var out []attribute.Mark
	for j, z := range t.Map.Zones {
		if level, looked := zones[z.ID]; looked {
			m := t.zoneMark(w, j)
			m.Level = level
			out = append(out, m)
		}
	}
	return out
}

// zoneMark is what each source makes of a zone. As it was found, oil has had all the time and the road to spread; fresh
// drops hang near their source. After cleaning only what leaked meanwhile counts, and it has not come far.
func (t *Tracer) zoneMark(w Watch, zone int) attribute.Mark {
	m := attribute.Mark{Base: []float64{0.94, 0.99}, By: make([][]float64, len(t.Map.Sources))}
	if w != AsFound {
		m.Base = []float64{0.98, 0.99}
	}
	for i, s := range t.Map.Sources {
		old, near := t.wind[i].share[zone], t.wind[i].share[zone]
		if w == Standing || w == Running {
			old, near = t.still[i].share[zone], t.still[i].share[zone]
		}
		near = math.Pow(near, 1.6) // what was on the way longer is no longer fresh
		if w == AsFound {
			near *= 0.6
		} else {
			near *= 0.8
			old = math.Pow(old, 1.2)
		}
		act := s.active(w)
		wet, fresh := act*old, act*near
		if wet > 0.004 {
			m.By[i] = []float64{1 - wet, 1 - math.Min(fresh, wet)}
		}
	}
	return m
}

// otherMarks are the moments, the level, the vent and the transfer case's plug.
func (t *Tracer) otherMarks(s Scene) []attribute.Mark {
	var out []attribute.Mark
	yes := func(seen bool, base float64, by func(Source) float64) {
		m := attribute.Mark{Base: []float64{1 - base}, By: make([][]float64, len(t.Map.Sources))}
		if seen {
			m.Level = 1
		}
		for i, x := range t.Map.Sources {
			if p := by(x); p > 0 {
				m.By[i] = []float64{1 - p}
			}
		}
		out = append(out, m)
	}
	for _, moment := range Moments {
		if seen, watched := s.When[moment.ID]; watched {
			yes(seen, 0.04, func(x Source) float64 { return moment.by[x.When] })
		}
	}
	if s.Level != "" {
		m := attribute.Mark{Level: slices.Index([]string{"steady", "slow", "fast"}, s.Level), Base: []float64{0.93, 0.99}, By: make([][]float64, len(t.Map.Sources))}
		for i, x := range t.Map.Sources {
			switch {
			case x.Kind != t.Map.Kind:
			case x.When == Inner:
				m.By[i] = []float64{0.08, 0.6}
			default:
				m.By[i] = []float64{0.45, 0.85}
			}
		}
		out = append(out, m)
	}
	if s.Vent != "" {
		// A blocked vent makes seals leak that turn or stand elsewhere; it does not leak itself.
		yes(s.Vent == "blocked", 0.02, func(x Source) float64 {
			if x.When == Turning {
				return 0.2
			}
			return 0
		})
	}
	if s.Plug != "" {
		yes(s.Plug == "over", 0.01, func(x Source) float64 {
			if x.ID == Transfer {
				return 0.95
			}
			return 0
		})
	}
	return out
}

// Transfer is the id of the seal between a unit and its transfer case.
const Transfer = "transfer"

// colour is how well a set of sources explains the colour of the drops: any of them may be the drop that was looked at.
func (t *Tracer) colour(seen string) func([]int) float64 {
	c := slices.Index(Colours, seen)
	if c < 0 {
		return nil
	}
	return func(set []int) float64 {
		sum, n := 0.0, 0.0
		for _, i := range set {
			if t.Map.Sources[i].When != Inner {
				sum, n = sum+Kinds[t.Map.Sources[i].Kind][c], n+1
			}
		}
		if n == 0 {
			return 1 / float64(len(Colours))
		}
		return sum / n
	}
}

// ways are the wet zones that a source reaches, the nearest first.
func (t *Tracer) ways(source int, s Scene) []Way {
	flows := t.wind
	if s.Watched == Standing || s.Watched == Running {
		flows = t.still
	}
	var out []Way
	for j, z := range t.Map.Zones {
		if s.Zones[z.ID] > Dry && flows[source].share[j] > 0.05 {
			out = append(out, Way{z.ID, flows[source].share[j], flows[source].through(t.Map.Zones, j)})
		}
	}
	slices.SortStableFunc(out, func(a, b Way) int { return cmp.Compare(b.Share, a.Share) })
	return out
}

// unexplained are the wet zones that no source of a set reaches.
func (t *Tracer) unexplained(s Scene, set attribute.Set) []string {
	var out []string
	for j, z := range t.Map.Zones {
		if s.Zones[z.ID] == Dry {
			continue
		}
		reached := false
		for _, i := range set.Sources {
			reached = reached || t.wind[i].share[j] > 0.1
		}
		if !reached {
			out = append(out, z.ID)
		}
	}
	return out
}

// checks weighs what might be looked at next.
func (t *Tracer) checks(s Scene, sets []attribute.Set) []Check {
	var visible, hidden, floor []int
	for j, z := range t.Map.Zones {
		switch {
		case z.Floor:
			floor = append(floor, j)
		case z.Hidden:
			hidden = append(hidden, j)
		default:
			visible = append(visible, j)
		}
	}
	marks := func(w Watch, zones []int) []attribute.Mark {
		var out []attribute.Mark
		for _, j := range zones {
			out = append(out, t.zoneMark(w, j))
		}
		return out
	}
	var out []Check
	add := func(id string, minutes float64, m []attribute.Mark) {
		if bits := attribute.Gain(sets, m); bits > 0.01 {
			out = append(out, Check{id, bits, minutes})
		}
	}
	for _, w := range []struct {
		watch   Watch
		minutes float64
	}{{Standing, 20}, {Running, 25}, {Driven, 40}} {
		if s.Watched != w.watch {
			add("clean-"+string(w.watch), w.minutes, marks(w.watch, append(slices.Clone(visible), floor...)))
		}
	}
	add("cover", 10, marks(s.Watched, without(hidden, t.Map.Zones, s.Zones)))
	add("rest", 4, marks(s.Watched, without(visible, t.Map.Zones, s.Zones)))
	if s.Colour == "" {
		add("paper", 3, []attribute.Mark{t.foreign()})
	}
	if s.Vent == "" {
		add("vent", 4, t.otherMarks(Scene{Vent: "open"}))
	}
	if s.Plug == "" && slices.ContainsFunc(t.Map.Sources, func(x Source) bool { return x.ID == Transfer }) {
		add("plug", 8, t.otherMarks(Scene{Plug: "right"}))
	}
	if len(s.When) == 0 {
		add("watch", 15, t.otherMarks(Scene{When: map[string]bool{"standing": false, "running": false, "after": false}}))
	}
	add("dye", 45, t.dye())
	slices.SortStableFunc(out, func(a, b Check) int { return cmp.Compare(b.Bits/b.Minutes, a.Bits/a.Minutes) })
	return out
}

// without leaves out the zones that were looked at.
func without(zones []int, all []Zone, looked map[string]int) []int {
	return slices.DeleteFunc(slices.Clone(zones), func(j int) bool { _, ok := looked[all[j].ID]; return ok })
}

// foreign is whether a drop on white paper is another oil than the unit's.
func (t *Tracer) foreign() attribute.Mark {
	m := attribute.Mark{Base: []float64{0.97}, By: make([][]float64, len(t.Map.Sources))}
	for i, x := range t.Map.Sources {
		if x.Kind != t.Map.Kind && x.When != Inner {
			// As often as its commonest colour is not one of the unit's.
			common := slices.Index(Kinds[x.Kind], slices.Max(Kinds[x.Kind]))
			m.By[i] = []float64{1 - 0.9*(1-math.Min(1, Kinds[t.Map.Kind][common]/Kinds[x.Kind][common]))}
		}
	}
	return m
}

// dye shows each source of the unit's own oil at its own place, nearly always.
func (t *Tracer) dye() []attribute.Mark {
	var out []attribute.Mark
	for i, x := range t.Map.Sources {
		m := attribute.Mark{Base: []float64{0.98}, By: make([][]float64, len(t.Map.Sources))}
		if x.Kind == t.Map.Kind && x.When != Inner {
			m.By[i] = []float64{0.1}
		}
		out = append(out, m)
	}
	return out
}
