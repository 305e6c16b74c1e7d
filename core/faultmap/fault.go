package faultmap

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Kind is a way in which the design can fail.
type Kind string

// The kinds of fault.
const (
	NeverApplies  Kind = "never-applies"
	AppliesLate   Kind = "applies-late"
	ElementSlips  Kind = "slips"
	NeverReleases Kind = "never-releases"
	NeverHolds    Kind = "never-holds" // freewheel slips both ways
	Seized        Kind = "seized"      // freewheel holds both ways
	LowPressure   Kind = "low-pressure"
	ShiftsLate    Kind = "shifts-late" // the command to change up comes late, whatever the element
)

// Fault is one failure of the design. Element is empty for LowPressure and ShiftsLate.
type Fault struct {
	Kind    Kind
	Element string
}

// Certain is the highest certainty of a predicted symptom.
const Certain = 0.92

// Prediction is what a fault does in one cell. Certainty is the probability that a careful
// road test shows State when the fault is present and active.
type Prediction struct {
	Cell      Cell
	State     string
	Certainty float64
	Detail    string // what happens in words, with the computed ratio where there is one
}

// Row is a fault with everything abnormal that it does. Cells of the grid that are not
// listed stay normal; Unknown lists those that the fault makes unobservable.
type Row struct {
	Fault   Fault
	Title   string
	Cells   []Prediction
	Unknown []Cell
}

// At returns the prediction for a cell, if the fault does anything there.
func (r Row) At(c Cell) (Prediction, bool) {
	for _, p := range r.Cells {
		if p.Cell == c {
			return p, true
		}
	}
	return Prediction{}, false
}

// Faults lists the faults that the design can have, element by element.
func Faults(u *unitsheet.Unit) []Fault {
	var out []Fault
	for _, e := range u.Elements {
		if e.Kind == gearing.Freewheel {
			out = append(out, Fault{NeverHolds, e.ID}, Fault{Seized, e.ID})
			continue
		}
		out = append(out, Fault{ElementSlips, e.ID}, Fault{AppliesLate, e.ID}, Fault{NeverApplies, e.ID}, Fault{NeverReleases, e.ID})
	}
	return append(out, Fault{Kind: LowPressure}, Fault{Kind: ShiftsLate})
}

// Map computes what every fault of the design does in every cell of the grid.
func Map(u *unitsheet.Unit) ([]Row, error) {
	var out []Row
	for _, f := range Faults(u) {
		r, err := Predict(u, f)
		if err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	return out, nil
}

// Predict computes what one fault does. It fails for an element that the unit does not have
// and for a kind that does not fit the element.
func Predict(u *unitsheet.Unit, f Fault) (Row, error) {
	p := predictor{u: u, f: f, row: Row{Fault: f}}
	if f.Kind == LowPressure {
		p.row.Title = "line pressure low"
		p.lowPressure()
		return p.row, nil
	}
	if f.Kind == ShiftsLate {
		p.row.Title = "upshifts commanded late"
		for _, r := range u.Ranges {
			p.say(r, Shift, "late", 0.85, "holds "+r.From+" too long")
		}
		return p.row, nil
	}
	e, ok := u.Element(f.Element)
	if !ok {
		return Row{}, fmt.Errorf("faultmap: unit %s has no element %q", u.Sheet.ID, f.Element)
	}
	freewheel := f.Kind == NeverHolds || f.Kind == Seized
	if freewheel != (e.Kind == gearing.Freewheel) {
		return Row{}, fmt.Errorf("faultmap: %s cannot happen to %s, a %s", f.Kind, e.ID, e.Kind)
	}
	p.row.Title = e.Name + " " + strings.ReplaceAll(string(f.Kind), "-", " ")
	if f.Kind == ElementSlips {
		p.slips()
		return p.row, nil
	}
	return p.row, p.changed()
}

type predictor struct {
	u   *unitsheet.Unit
	f   Fault
	row Row
}

func (p *predictor) say(r unitsheet.Range, b Behaviour, state string, certainty float64, detail string) {
	if Has(r, b, p.u) {
		p.row.Cells = append(p.row.Cells, Prediction{Cell{r.ID, b}, state, certainty, detail})
	}
}

func (p *predictor) hide(r unitsheet.Range, bs ...Behaviour) {
	for _, b := range bs {
		if Has(r, b, p.u) {
			p.row.Unknown = append(p.row.Unknown, Cell{r.ID, b})
		}
	}
}

// state is the gear train's state in range r with the fault.
func (p *predictor) state(r unitsheet.Range) gearing.State {
	s := gearing.State{Applied: slices.Clone(r.Applied)}
	switch p.f.Kind {
	case NeverApplies, AppliesLate:
		s.Applied = slices.DeleteFunc(s.Applied, func(id string) bool { return id == p.f.Element })
	case NeverReleases:
		if !slices.Contains(s.Applied, p.f.Element) {
			s.Applied = append(s.Applied, p.f.Element)
		}
	case NeverHolds:
		s.Broken = []string{p.f.Element}
	case Seized:
		s.Seized = []string{p.f.Element}
	}
	return s
}

// changed handles the faults that change what holds: solve each range again and compare.
func (p *predictor) changed() error {
	for _, r := range p.u.Ranges {
		got, err := p.u.Train.Solve(p.state(r))
		if err != nil {
			return err
		}
		if p.f.Kind == AppliesLate {
			p.late(r, got)
			continue
		}
		p.steady(r, got)
	}
	return nil
}

func same(a, b gearing.Solution) bool {
	return a.Outcome == b.Outcome && math.Abs(a.Ratio-b.Ratio) < 1e-6
}

// steady translates the outcome of a fault that is always there.
func (p *predictor) steady(r unitsheet.Range, got gearing.Solution) {
	if !r.Driving() {
		if got.Outcome == gearing.Forward || got.Outcome == gearing.Reverse {
			// A welded element need not carry the vehicle in neutral, so this is not certain.
			p.say(r, Drives, "wrong", 0.6, "creeps "+string(got.Outcome))
		}
		return
	}
	switch {
	case same(r.Healthy, got):
		p.braking(r, got)
	case got.Outcome == gearing.Neutral:
		p.say(r, Engages, "none", Certain, "nothing is driven")
		p.say(r, Drives, "none", Certain, "neutral")
		p.say(r, Shift, "flare", 0.7, "neutral: the engine runs up")
		p.hide(r, Slips, Brakes)
	case got.Outcome == gearing.Bind:
		p.say(r, Drives, "bind", Certain, "binds")
		p.say(r, Shift, "tie-up", 0.8, "ties up")
		p.say(r, Engages, "harsh", 0.5, "bangs and stalls")
		p.hide(r, Slips, Brakes)
	default:
		detail := p.gear(r, got)
		p.say(r, Drives, "wrong", Certain, detail)
		if from, ok := p.u.Range(r.From); ok && same(from.Healthy, got) {
			p.say(r, Shift, "missing", Certain, detail)
		} else {
			p.say(r, Shift, "missing", 0.6, detail)
		}
		p.hide(r, Brakes)
	}
}

func (p *predictor) braking(r unitsheet.Range, got gearing.Solution) {
	healthy, faulty := r.Healthy.Coast == gearing.CoastBrakes, got.Coast == gearing.CoastBrakes
	if healthy && !faulty {
		p.say(r, Brakes, "missing", 0.85, "runs free with the foot off")
	}
	if !healthy && faulty {
		p.say(r, Brakes, "present", 0.6, "the engine brakes where it should run free")
	}
}

// gear names the computed outcome: the range whose ratio it is, or the bare ratio.
func (p *predictor) gear(in unitsheet.Range, s gearing.Solution) string {
	for _, r := range p.u.Ranges {
		if r.Driving() && same(r.Healthy, s) {
			if r.ID == in.From {
				return fmt.Sprintf("stays in %s (%.3f)", r.ID, s.Ratio)
			}
			return fmt.Sprintf("drives as %s (%.3f)", r.ID, s.Ratio)
		}
	}
	return fmt.Sprintf("drives at %.3f", s.Ratio)
}

// late handles an element that comes after the change: until then the range is without it.
func (p *predictor) late(r unitsheet.Range, without gearing.Solution) {
	if !r.Driving() || same(r.Healthy, without) {
		return
	}
	if r.From == "" {
		p.say(r, Engages, "late", 0.8, "waits, then takes up")
		return
	}
	from, _ := p.u.Range(r.From)
	if slices.Contains(from.Applied, p.f.Element) {
		return // already on before the change
	}
	switch {
	case without.Outcome == gearing.Bind:
		p.say(r, Shift, "tie-up", 0.8, "ties up until it comes")
	case same(from.Healthy, without):
		p.say(r, Shift, "late", 0.8, "holds "+r.From+" too long")
	default:
		p.say(r, Shift, "flare", 0.8, "runs up until it comes")
	}
}

// slips grades an element that does not hold its torque by the share of torque that it
// carries in each range.
func (p *predictor) slips() {
	most := 0.0
	for _, r := range p.u.Ranges {
		most = math.Max(most, p.load(r, p.f.Element))
	}
	if most == 0 {
		return
	}
	for _, r := range p.u.Ranges {
		load := p.load(r, p.f.Element)
		if load == 0 {
			continue
		}
		p.slipping(r, load/most, fmt.Sprintf("carries %.2f of the input torque", load))
	}
}

// slipping says what partial slip does at a relative load of 0 to 1.
func (p *predictor) slipping(r unitsheet.Range, rel float64, detail string) {
	p.say(r, Slips, "yes", 0.25+0.55*rel, detail)
	if from, ok := p.u.Range(r.From); ok && (p.f.Element == "" || !slices.Contains(from.Applied, p.f.Element)) {
		p.say(r, Shift, "flare", 0.35+0.5*rel, detail)
	}
	p.say(r, Engages, "late", 0.15+0.35*rel, detail)
}

// load is the torque on an element per unit of input torque, 0 where it carries none or where
// a stiffer path beside it may carry all.
func (p *predictor) load(r unitsheet.Range, id string) float64 {
	if !r.Driving() || !slices.Contains(r.Applied, id) || slices.Contains(r.Healthy.Shared, id) {
		return 0
	}
	return math.Abs(r.Healthy.Torques[id])
}

// lowPressure makes every friction element weak at once: each range shows it by its element
// with the least capacity in hand.
func (p *predictor) lowPressure() {
	use := map[string]float64{}
	weakest := map[string]string{}
	most := 0.0
	for _, r := range p.u.Ranges {
		for _, id := range r.Applied {
			e, _ := p.u.Element(id)
			if v := p.load(r, id) * p.u.MaxTorque.SI / e.Capacity.SI; v > use[r.ID] {
				use[r.ID], weakest[r.ID] = v, e.Name
			}
		}
		most = math.Max(most, use[r.ID])
	}
	for _, r := range p.u.Ranges {
		if v := use[r.ID]; v > 0 {
			p.slipping(r, v/most, fmt.Sprintf("%s uses %.0f %% of its capacity", weakest[r.ID], 100*v))
		}
	}
}
