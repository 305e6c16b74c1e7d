package faultmap

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/hydraulics"
	"innercompass/core/unitsheet"
)

// SlipsFirst is where a weakened element gives way first.
type SlipsFirst struct {
	Range, Element string
	Left           float64 // what is left of friction, or of pressure, there
	Throttle       float64 // 0 to 1
	Pressure       float64 // line pressure there, Pa
	Load, Hold     float64 // N·m
}

// Sag is what a leak leaves of line pressure in a range that feeds it, at hot idle.
type Sag struct {
	Range      string
	Line       float64 // healthy, Pa
	Left, Cold float64 // with the leak, hot and cold, Pa
}

// Weakness scales what holds: Pressure times line pressure, Lining times the friction of each named element
// (of every element when Elements is empty). The zero value of either means unchanged.
type Weakness struct {
	Pressure, Lining float64
	Elements         []string
}

// halfPressure is the weakness that every unit is asked about: what gives way first at half the line pressure.
var halfPressure = Weakness{Pressure: 0.5}

// FirstAtHalfPressure is what slips first in a range when only half the line pressure is there; false when nothing does.
func FirstAtHalfPressure(u *unitsheet.Unit, r unitsheet.Range) (SlipsFirst, bool) {
	return FirstToSlip(u, r, halfPressure)
}

// FirstToSlip finds the element that gives way at the lowest throttle in a range, and that throttle. ok is
// false when all hold to full throttle, or when pressure, capacity or engine torque are not known.
func FirstToSlip(u *unitsheet.Unit, r unitsheet.Range, w Weakness) (first SlipsFirst, ok bool) {
	if !r.Driving() || !unitsheet.Known(u.MaxTorque) {
		return first, false
	}
	for _, id := range r.Applied {
		load := u.Load(r, id)
		e, _ := u.Element(id)
		if load == 0 || !e.Kind.Friction() {
			continue
		}
		if s, slips := w.slips(u, r, e, load); slips && (!ok || s.Throttle < first.Throttle) {
			first, ok = s, true
		}
	}
	return first, ok
}

// slips finds the least throttle at which the element's load exceeds its hold. Both rise in straight lines
// with throttle (the hold after a dead stretch), so the first crossing is found by bisection after a scan.
func (w Weakness) slips(u *unitsheet.Unit, r unitsheet.Range, e unitsheet.Element, load float64) (SlipsFirst, bool) {
	at := func(t float64) (SlipsFirst, bool) {
		line, known := r.Line(t)
		if !known && e.Pressed() {
			return SlipsFirst{}, false
		}
		line *= cmp.Or(w.Pressure, 1)
		hold, known := e.Hold(line)
		if len(w.Elements) == 0 || slices.Contains(w.Elements, e.ID) {
			hold *= cmp.Or(w.Lining, 1)
		}
		return SlipsFirst{Range: r.ID, Element: e.ID, Throttle: t, Pressure: line, Load: load * u.EngineTorque(r, t), Hold: hold}, known
	}
	const scan = 20
	for i := range scan + 1 {
		high := float64(i) / scan
		s, known := at(high)
		if !known {
			return s, false
		}
		if s.Load <= s.Hold {
			continue
		}
		low := math.Max(0, high-1.0/scan)
		for range 20 {
			mid := (low + high) / 2
			if m, _ := at(mid); m.Load > m.Hold {
				high, s = mid, m
			} else {
				low = mid
			}
		}
		return s, true
	}
	return SlipsFirst{}, false
}

// use is the share of its capacity that an element needs in a range at full throttle; where capacity is
// not known, the bare load. It is 0 where the element carries nothing.
func (p *predictor) use(r unitsheet.Range, id string) float64 {
	e, _ := p.u.Element(id)
	if !slices.Contains(r.Applied, id) || !e.Kind.Friction() && e.Kind != gearing.Selector {
		return 0
	}
	load := p.u.Load(r, id)
	line, known := r.Line(1)
	if hold, ok := e.Hold(line); load > 0 && ok && hold > 0 && (known || !e.Pressed()) && unitsheet.Known(p.u.MaxTorque) {
		return load * p.u.EngineTorque(r, 1) / hold
	}
	return load
}

// slips grades elements that do not hold their torque by how much of their capacity each range needs.
func (p *predictor) slips(ids []string, share float64) {
	most, use := 0.0, map[string]float64{}
	for _, r := range p.u.Ranges {
		for _, id := range ids {
			use[r.ID+" "+id] = p.use(r, id)
			most = math.Max(most, use[r.ID+" "+id])
		}
	}
	if most == 0 {
		return
	}
	for _, r := range p.u.Ranges {
		for _, id := range ids {
			if v := use[r.ID+" "+id]; v > 0 {
				e, _ := p.u.Element(id)
				p.slipping(r, id, share*v/most, fmt.Sprintf("%s carries %.2f × the engine's torque", e.Name, p.u.Load(r, id)))
			}
		}
	}
	p.row.First = p.first(most, func(left float64) Weakness { return Weakness{Lining: left, Elements: ids} })
}

// first finds where it shows first when half is left of what holds, or less where half still does: the
// most strained element uses the share most of its capacity.
func (p *predictor) first(most float64, weak func(left float64) Weakness) *SlipsFirst {
	if most > 50 || math.IsInf(most, 0) {
		return nil // bare loads, not shares of capacity
	}
	left := math.Min(0.5, 0.8*most)
	var best *SlipsFirst
	for _, r := range p.u.Ranges {
		if s, ok := FirstToSlip(p.u, r, weak(left)); ok && (best == nil || s.Throttle < best.Throttle) {
			s.Left = left
			best = &s
		}
	}
	return best
}

// slipping says what partial slip does at a relative load of 0 to 1. part is the element, "" for all.
func (p *predictor) slipping(r unitsheet.Range, part string, rel float64, detail string) {
	p.say(r, Slips, "yes", slipsAt(0.05, 0.75, rel), detail)
	if e, _ := p.u.Element(part); e.Kind == gearing.Selector {
		return // a sleeve that jumps out does so under load, not while it engages
	}
	if from, ok := p.u.Range(r.From); ok && (part == "" || !slices.Contains(from.Applied, part)) {
		if p.keeps(from, r, part) {
			x := slipsAt(0.1, 0.7, rel) // a long slide is called a flare by many
			p.say(r, Shift, "delay", 0.65*x, from.ID+" holds by itself while it slides: "+detail, Alternative{"flare", 0.35 * x})
		} else {
			p.say(r, Shift, "flare", slipsAt(0.1, 0.7, rel)*p.eased(r, from, part), detail, Alternative{"delay", 0.1})
		}
	}
	if above, ok := p.u.Above(r); ok && p.grips(passage{Down, above, r}, part) {
		p.say(r, Down, "flare", slipsAt(0.05, 0.5, rel)*p.eased(r, above, part), detail)
	}
	p.say(r, Engages, "late", slipsAt(0.05, 0.4, rel)*p.eased(r, unitsheet.Range{}, part), detail)
	if above, ok := p.u.Above(r); ok && part != "" && rel > 0.5 && !slices.Contains(above.Applied, part) && !p.keeps(r, above, part) {
		p.say(above, Shift, "flare", 0.3*rel, "it lets go before the next one holds: "+detail)
	}
}

// slipsAt is how surely a range shows that something slips, by its load over the greatest: with half the load it takes an element twice as weak, and few are driven that far.
func slipsAt(none, more, rel float64) float64 { return none + more*rel*rel }

// eased is how much of low pressure a change shows: less where solenoids set the pressure of what comes on, which asks for less than the line has.
func (p *predictor) eased(to, from unitsheet.Range, part string) float64 {
	if part != "" || p.unregulated(to, from) {
		return 1
	}
	return 0.5
}

// keeps reports whether the gear below holds by itself while an element, or for "" all that come on for the gear above, slide: then nothing runs up, the change takes long.
func (p *predictor) keeps(from, to unitsheet.Range, part string) bool {
	got, err := p.u.Result(gearing.State{Applied: slices.DeleteFunc(slices.Clone(to.Applied), func(id string) bool {
		e, _ := p.u.Element(id)
		return id == part || part == "" && e.Kind.Friction() && !slices.Contains(from.Applied, id)
	})})
	return err == nil && same(from.Healthy.Result, got)
}

// leaks is a circuit that loses pressure: its elements come late and slip, hot more than cold, and line
// pressure sags where the pump cannot keep up.
func (p *predictor) leaks(serves []string) error {
	p.row.Cold = 0.45
	for _, id := range serves {
		if e, _ := p.u.Element(id); !e.Kind.Friction() {
			continue
		}
		if err := p.late(id, 0.9); err != nil {
			return err
		}
	}
	p.slips(serves, 0.8)
	spare := p.u.Pump.Spare.SI
	for _, r := range p.u.Ranges {
		line, known := r.Line(0)
		if !known || spare <= 0 || !slices.ContainsFunc(serves, func(id string) bool { return slices.Contains(r.Applied, id) }) {
			continue
		}
		p.row.Sags = append(p.row.Sags, Sag{Range: r.ID, Line: line, Left: hydraulics.Sag(line, spare, TypicalLeak*spare), Cold: hydraulics.Sag(line, spare, ColdShare*TypicalLeak*spare)})
	}
	return nil
}

// TypicalLeak is the leak that rows are computed for, as a multiple of what the pump has to spare at hot
// idle; ColdShare is what passes the same gap with cold fluid. Common practice, no source: a leak that a
// driver notices takes more than the pump can spare, and cold fluid passes a gap several times slower.
const (
	TypicalLeak = 1.3
	ColdShare   = 0.35
)

// lowPressure makes every friction element weak at once: each range shows it by its element with the least
// capacity in hand.
func (p *predictor) lowPressure() {
	use, weakest, most := map[string]float64{}, map[string]string{}, 0.0
	for _, r := range p.u.Ranges {
		for _, id := range r.Applied {
			e, _ := p.u.Element(id)
			if v := p.use(r, id); e.Kind.Friction() && v > use[r.ID] {
				use[r.ID], weakest[r.ID] = v, e.Name
			}
		}
		most = math.Max(most, use[r.ID])
	}
	for _, r := range p.u.Ranges {
		if v := use[r.ID]; v > 0 {
			p.slipping(r, "", v/most, fmt.Sprintf("%s needs %.0f %% of its capacity", weakest[r.ID], 100*v))
		}
	}
	p.row.First = p.first(most, func(left float64) Weakness { return Weakness{Pressure: left} })
}

// gears makes one planetary set or gear pair noisy: heard where its teeth turn under load.
func (p *predictor) gears(f Fault) error {
	name := p.u.GearsName(f.Part)
	if name == "" {
		return fmt.Errorf("faultmap: unit %s has no gears %q", p.u.Sheet.ID, f.Part)
	}
	p.row.Title = title(f, name)
	if p.u.Chart != nil {
		p.gearsByChart(f.Part)
		return nil
	}
	meshes := p.u.MeshesOf(f.Part)
	for _, r := range p.u.Ranges {
		if r.Driving() && r.Healthy.Teeth == nil {
			p.hide(r, Noise) // a spare path leaves open which teeth carry
			continue
		}
		if p.turnsLoaded(r, meshes) {
			p.say(r, Noise, "noisy", 0.75, "its teeth turn under load")
		}
	}
	return nil
}

// gearsByChart is gears of a unit whose gears are not known: a planetary set is quiet in direct alone, a pair of gears in all ranges
// but its own.
func (p *predictor) gearsByChart(part string) {
	own := p.u.PairRanges(part)
	for _, r := range p.u.Ranges {
		direct := p.u.RatioKnown() && math.Abs(r.Healthy.Ratio-1) < 0.005
		switch {
		case p.u.Sheet.Layout == "parallel" && slices.Contains(own, r.ID):
			p.say(r, Noise, "noisy", 0.75, "its teeth turn under load")
		case p.u.Sheet.Layout == "planetary" && r.Driving() && !direct:
			p.say(r, Noise, "noisy", 0.5, "its teeth may turn under load: which set works here is not in the sheet")
		}
	}
}

func (p *predictor) turnsLoaded(r unitsheet.Range, meshes []int) bool {
	t := p.u.Machine.Train()
	for _, i := range meshes {
		m := t.Meshes[i]
		if i >= len(r.Healthy.Teeth) {
			continue
		}
		turns := math.Abs(r.Healthy.Speeds[m.B]-carried(r, m.Carrier)) > 1e-6
		if turns && math.Abs(r.Healthy.Teeth[i]) > 1e-6 {
			return true
		}
	}
	return false
}

func carried(r unitsheet.Range, carrier string) float64 {
	return r.Healthy.Speeds[carrier] // the case and an unknown member stand
}
