package faultmap

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/chart"
	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Predict computes what one fault does. It fails for a part that the unit does not have and for a kind
// that does not fit the part.
func Predict(u *unitsheet.Unit, f Fault) (Row, error) {
	p := &predictor{u: u, row: Row{Fault: f, Cold: 1}}
	err := p.run(f)
	p.gauges(f)
	p.rests(f)
	return p.row, err
}

type predictor struct {
	u   *unitsheet.Unit
	row Row
	// oil is what is pressed together in each range with the fault, where a fault of controls or feeds changes it.
	oil    map[string][]string
	serves []string // elements that a feed or a shared part serves
}

func (p *predictor) run(f Fault) error {
	p.row.Title = title(f, f.Part)
	switch f.Kind {
	case NeverApplies, AppliesLate, AppliesHard, ElementSlips, NeverReleases, ReleasesLate, NeverHolds, Seized:
		return p.element(f)
	case StuckOff, StuckOn, Dead:
		return p.control(f)
	case LimpHome:
		return p.limp()
	case Leaks, Lost, Breaks:
		return p.carried(f)
	case GearNoise:
		return p.gears(f)
	case LowPressure:
		p.lowPressure()
	case HighPressure:
		p.highPressure()
	case ShiftsLate:
		for _, r := range p.u.Ranges {
			p.say(r, Shift, "late", 0.85, "holds "+r.From+" too long")
		}
	case ShiftsEarly:
		for _, r := range p.u.Ranges {
			p.say(r, Shift, "early", 0.75, "leaves "+r.From+" too soon")
			p.say(r, Down, "missing", 0.4, "the command to change down stays away as well")
		}
	case NeverShifts:
		for _, r := range p.u.Ranges {
			if r.From != "" {
				p.say(r, Shift, "missing", 0.9, "stays in the gear that it pulled away in")
				p.hide(r, Drives, Slips, Brakes, Noise, Lockup)
			}
			p.hide(r, Down)
		}
	case NoDrive:
		for _, r := range p.u.Ranges {
			if r.Driving() {
				p.say(r, Drives, "none", Certain, "nothing reaches the wheels")
				p.say(r, Engages, "none", 0.8, "nothing takes up")
				p.hide(r, Shift, Down, Slips, Brakes, Noise, Lockup)
			}
		}
	case ShaftNoise:
		for _, r := range p.u.Ranges {
			certainty, detail := 0.65, "its bearings carry"
			if math.Abs(math.Abs(r.Healthy.Ratio)-1) < 1e-6 {
				certainty, detail = 0.15, "direct: its bearings carry little"
			}
			p.say(r, Noise, "noisy", certainty, detail)
		}
	case LockupNever, LockupSlips, LockupStuck:
		p.lockup(f.Kind)
	default:
		return fmt.Errorf("faultmap: no fault %q", f.Kind)
	}
	return nil
}

// highPressure makes every apply a blow; less of one where what comes on has its pressure set by a solenoid of its own.
func (p *predictor) highPressure() {
	share := func(r, from unitsheet.Range) float64 {
		if p.unregulated(r, from) {
			return 1
		}
		return 0.4
	}
	for _, r := range p.u.Ranges {
		from, _ := p.u.Range(r.From)
		p.say(r, Engages, "harsh", 0.6*share(r, from), "takes up with a bang")
		p.say(r, Shift, "harsh", 0.7*share(r, from), "full line pressure at every apply")
	}
	for _, x := range p.passages() {
		switch {
		case x.by == Shift:
		case p.grips(x, ""):
			p.say(x.to, Down, "harsh", 0.55*share(x.to, x.from), "full line pressure at every apply")
		default:
			p.say(x.to, Down, "harsh", 0.3, "full line pressure, felt as it rolls to a stop")
		}
	}
}

func (p *predictor) element(f Fault) error {
	e, ok := p.u.Element(f.Part)
	if !ok {
		return fmt.Errorf("faultmap: unit %s has no element %q", p.u.Sheet.ID, f.Part)
	}
	ofFreewheels, freewheel := f.Kind == NeverHolds || f.Kind == Seized, e.Kind == gearing.Freewheel
	if ofFreewheels != freewheel && f.Kind != ElementSlips {
		return fmt.Errorf("faultmap: %s cannot happen to %s, a %s", f.Kind, e.ID, e.Kind)
	}
	p.row.Title = title(f, e.Name)
	if e.Kind == gearing.Selector {
		p.row.Title = selectorTitle(f, e.Name)
	}
	if freewheel && f.Kind == ElementSlips {
		return p.letsGo(e)
	}
	switch f.Kind {
	case ElementSlips:
		p.slips([]string{e.ID}, 1)
	case AppliesLate:
		return p.late(e.ID, 1)
	case AppliesHard:
		for _, r := range p.u.Ranges {
			if r.From == "" && slices.Contains(r.Applied, e.ID) {
				p.say(r, Engages, "harsh", 0.7, "nothing cushions the "+e.Name)
			}
		}
		for _, x := range p.passages() {
			if x.brings(e.ID) {
				p.say(x.to, x.by, "harsh", 0.8*x.felt(), "nothing cushions the "+e.Name)
			}
		}
	case ReleasesLate:
		return p.releasesLate(e.ID)
	default:
		return p.steadily(func(r unitsheet.Range) (gearing.State, bool) { return changed(r, f), true })
	}
	return nil
}

// changed is the gear train's state in range r with a fault of an element.
func changed(r unitsheet.Range, f Fault) gearing.State {
	s := gearing.State{Applied: r.Applied}
	switch f.Kind {
	case NeverApplies:
		s.Applied = without(r.Applied, f.Part)
	case NeverReleases:
		s.Applied = with(r.Applied, f.Part)
	case NeverHolds:
		s.Broken = []string{f.Part}
	case Seized:
		s.Seized = []string{f.Part}
	}
	return s
}

func without(applied []string, ids ...string) []string {
	return slices.DeleteFunc(slices.Clone(applied), func(id string) bool { return slices.Contains(ids, id) })
}

func with(applied []string, id string) []string {
	if slices.Contains(applied, id) {
		return applied
	}
	return append(slices.Clone(applied), id)
}

// control forces one control and reads the valve body again.
func (p *predictor) control(f Fault) error {
	place := slices.IndexFunc(p.u.Controls, func(c unitsheet.Control) bool { return c.ID == f.Part })
	if place < 0 {
		return fmt.Errorf("faultmap: unit %s has no control %q", p.u.Sheet.ID, f.Part)
	}
	c := p.u.Controls[place]
	p.row.Title = title(f, c.Name)
	if c.Kind == "valve" {
		p.row.Title = valveTitle(f, c.Name)
	}
	if f.Kind == Dead && c.Watched {
		return p.limp()
	}
	forced := map[Kind]int{StuckOff: 0, StuckOn: 1, Dead: c.Rest}[f.Kind]
	return p.steadily(func(r unitsheet.Range) (gearing.State, bool) {
		setting := p.u.Commanded(r)
		if setting[place] == forced {
			return gearing.State{Applied: r.Applied}, true
		}
		setting[place] = forced
		return p.u.Settings(r, setting)
	})
}

// limp is what the controls without power leave, at full line pressure for safety.
func (p *predictor) limp() error {
	if err := p.steadily(func(r unitsheet.Range) (gearing.State, bool) { return p.u.Limp(r.Selector), true }); err != nil {
		return err
	}
	for _, r := range p.u.Ranges {
		p.say(r, Engages, "harsh", 0.3, "full line pressure, for safety")
	}
	return nil
}

// steadily handles faults that are always there: solve each range again, and compare range by range and
// shift by shift.
func (p *predictor) steadily(state func(unitsheet.Range) (gearing.State, bool)) error {
	got := map[string]gearing.Result{}
	p.oil = map[string][]string{}
	for _, r := range p.u.Ranges {
		s, known := state(r)
		if known {
			p.oil[r.ID] = s.Applied
		} else {
			p.hide(r, Engages, Drives, Shift, Down, Slips, Brakes, Noise, Lockup)
			continue
		}
		result, err := p.u.Result(s)
		if err != nil {
			return err
		}
		got[r.ID] = result
		p.steady(r, s, result)
	}
	for _, x := range p.passages() {
		p.change(x, got)
	}
	return nil
}

func same(a, b gearing.Result) bool {
	return a.Outcome == b.Outcome && math.Abs(a.Ratio-b.Ratio) < 1e-6
}

// steady says what a range does with the fault in place.
func (p *predictor) steady(r unitsheet.Range, s gearing.State, got gearing.Result) {
	if !r.Driving() {
		if r.Selector == "P" {
			// The pawl holds the output: what would drive it in Park drags the engine down.
			p.row.StallsParked = p.row.StallsParked || got.Outcome != gearing.Neutral && r.Healthy.Outcome == gearing.Neutral
			return
		}
		if got.Outcome == gearing.Forward || got.Outcome == gearing.Reverse {
			// A welded element need not carry the vehicle in neutral, so this is not certain.
			p.say(r, Drives, "wrong", 0.6, "creeps "+string(got.Outcome))
		}
		if got.Outcome == gearing.Bind && r.Healthy.Outcome != gearing.Bind {
			p.say(r, Drives, "bind", 0.6, "does not roll free")
		}
		return
	}
	switch {
	case same(r.Healthy.Result, got):
		p.braking(r, got)
	case got.Outcome == gearing.Neutral:
		p.say(r, Engages, "none", Certain, "nothing is driven")
		p.say(r, Drives, "none", Certain, "neutral")
		p.hide(r, Slips, Brakes, Noise, Lockup)
	case got.Outcome == gearing.Bind:
		p.say(r, Drives, "bind", Certain, "binds"+p.yields(s))
		p.say(r, Engages, "harsh", 0.5, "bangs and stalls")
		p.hide(r, Slips, Brakes, Noise, Lockup)
	default:
		p.say(r, Drives, "wrong", Certain, p.gear(r, got))
		p.braking(r, got)
		p.hide(r, Noise, Lockup)
		if _, said := p.row.At(Cell{r.ID, Brakes}); !said {
			p.hide(r, Brakes)
		}
	}
}

// yields says which element of a bind gives way first, and what is left then.
func (p *predictor) yields(s gearing.State) string {
	best, least, left := "", math.Inf(1), gearing.Result{}
	for _, id := range s.Applied {
		e, _ := p.u.Element(id)
		if !e.Kind.Friction() || !unitsheet.Known(e.Capacity) || e.Capacity.SI >= least {
			continue
		}
		rest := s
		rest.Applied = without(s.Applied, id)
		if got, err := p.u.Result(rest); err == nil && got.Outcome != gearing.Bind {
			best, least, left = e.Name, e.Capacity.SI, got
		}
	}
	switch {
	case best == "":
		return ""
	case left.Ratio == 0 || p.u.Chart != nil:
		return fmt.Sprintf("; if the %s gives way: %s", best, left.Outcome)
	}
	return fmt.Sprintf("; if the %s gives way it drives at %.3f", best, left.Ratio)
}

func (p *predictor) braking(r unitsheet.Range, got gearing.Result) {
	healthy, faulty := r.Healthy.Coast == gearing.CoastBrakes, got.Coast == gearing.CoastBrakes
	if healthy && !faulty {
		p.say(r, Brakes, "missing", 0.85, "runs free with the foot off")
	}
	if !healthy && (faulty || got.Coast == gearing.CoastOther && r.Healthy.Coast != gearing.CoastOther) {
		p.say(r, Brakes, "present", 0.6, "the engine brakes where it should run free")
	}
}

// gear names the computed outcome: the range whose ratio it is, or the bare ratio.
func (p *predictor) gear(in unitsheet.Range, s gearing.Result) string {
	for _, r := range p.u.Ranges {
		if r.Driving() && same(r.Healthy.Result, s) {
			does := "drives as " + r.ID
			if r.ID == in.From {
				does = "stays in " + r.ID
			}
			if !p.u.RatioKnown() {
				return does
			}
			return fmt.Sprintf("%s (%.3f)", does, s.Ratio)
		}
	}
	if chart.Unknown(s) {
		return "drives in a ratio that no range has"
	}
	return fmt.Sprintf("drives at %.3f", s.Ratio)
}

// carried handles feeds and parts that several elements rest on.
func (p *predictor) carried(f Fault) error {
	name, serves := "", []string(nil)
	for _, x := range p.u.Sheet.Feeds {
		if x.ID == f.Part {
			name, serves = x.Name, x.Serves
		}
	}
	for _, x := range p.u.Sheet.Shared {
		if x.ID == f.Part {
			name, serves = x.Name, x.Serves
		}
	}
	if serves == nil {
		return fmt.Errorf("faultmap: unit %s has no feed or shared part %q", p.u.Sheet.ID, f.Part)
	}
	p.row.Title = title(f, name)
	p.serves = serves
	if f.Kind != Leaks {
		return p.steadily(func(r unitsheet.Range) (gearing.State, bool) {
			return gearing.State{Applied: without(r.Applied, serves...)}, true
		})
	}
	return p.leaks(serves)
}

// lockup says what the converter clutch does wrong.
func (p *predictor) lockup(k Kind) {
	for _, r := range p.u.Ranges {
		switch k {
		case LockupNever:
			p.say(r, Lockup, "none", Certain, "engine speed stays above turbine speed")
		case LockupSlips:
			p.say(r, Lockup, "slips", 0.8, "engine speed hunts above turbine speed under load")
		case LockupStuck:
			p.say(r, Lockup, "stuck", 0.85, "stays coupled as the vehicle slows")
			p.say(r, Engages, "harsh", 0.7, "the engine stalls as it takes up")
		}
	}
}

func (p *predictor) say(r unitsheet.Range, b Behaviour, state string, certainty float64, detail string, besides ...Alternative) {
	if !Has(r, b, p.u) {
		return
	}
	cell := Cell{r.ID, b}
	for i, old := range p.row.Cells {
		if old.Cell == cell {
			if certainty > old.Certainty {
				p.row.Cells[i] = Prediction{cell, state, certainty, detail, besides}
			}
			return
		}
	}
	p.row.Cells = append(p.row.Cells, Prediction{cell, state, certainty, detail, besides})
}

func (p *predictor) hide(r unitsheet.Range, bs ...Behaviour) {
	for _, b := range bs {
		if Has(r, b, p.u) {
			p.row.Unknown = append(p.row.Unknown, Cell{r.ID, b})
		}
	}
}
