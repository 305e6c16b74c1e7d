package faultmap

import (
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// late handles an element that comes after the change: until then the range is without it. share is how surely it does.
func (p *predictor) late(id string, share float64) error {
	for _, r := range p.u.Ranges {
		if !r.Driving() || !slices.Contains(r.Applied, id) {
			continue
		}
		got, err := p.u.Machine.Result(gearing.State{Applied: without(r.Applied, id)})
		if err != nil {
			return err
		}
		if !same(r.Healthy.Result, got) {
			p.comesLate(r, id, got, share)
		}
	}
	return nil
}

// comesLate says what a range does until one of its elements has come, when without it the train does got.
func (p *predictor) comesLate(r unitsheet.Range, id string, got gearing.Result, share float64) {
	if r.From == "" {
		if n, ok := p.neutral(); !ok || !slices.Contains(n.Applied, id) { // what is on in neutral does not come late
			p.say(r, Engages, "late", 0.8*share, "waits, then takes up")
		}
		return
	}
	from, _ := p.u.Range(r.From)
	if slices.Contains(from.Applied, id) {
		return // already on before the change
	}
	switch {
	case got.Outcome == gearing.Bind:
		p.say(r, Shift, "tie-up", 0.6*share, "ties up until it comes", Alternative{"harsh", 0.2 * share})
	case same(from.Healthy.Result, got):
		p.say(r, Shift, "delay", 0.7*share, "holds "+r.From+" until it comes", Alternative{"late", 0.1 * share})
	default: // a little late it flares, much later the shift waits
		p.say(r, Shift, "flare", 0.6*share, "flares until the clutch applies", Alternative{"delay", 0.25 * share})
	}
}

// releasesLate handles an element that stays on for a while after it should have let go.
func (p *predictor) releasesLate(id string) error {
	for _, r := range p.u.Ranges {
		if n, ok := p.neutral(); ok && r.From == "" && r.Driving() && slices.Contains(n.Applied, id) && !slices.Contains(r.Applied, id) {
			got, err := p.u.Machine.Result(gearing.State{Applied: with(r.Applied, id)})
			if err != nil {
				return err
			}
			if got.Outcome == gearing.Bind {
				p.say(r, Engages, "harsh", 0.6, "ties up until what was on in neutral lets go")
			}
		}
		from, ok := p.u.Range(r.From)
		if !ok || !slices.Contains(from.Applied, id) || slices.Contains(r.Applied, id) {
			continue
		}
		got, err := p.u.Machine.Result(gearing.State{Applied: with(r.Applied, id)})
		if err != nil {
			return err
		}
		switch {
		case got.Outcome == gearing.Bind:
			p.say(r, Shift, "tie-up", 0.6, "ties up until it lets go", Alternative{"harsh", 0.25})
		case same(got, r.Healthy.Result):
		case same(got, from.Healthy.Result):
			p.say(r, Shift, "delay", 0.6, "holds "+r.From+" until it lets go", Alternative{"harsh", 0.2})
		default:
			p.say(r, Shift, "harsh", 0.6, "passes through another ratio until it lets go")
		}
	}
	return nil
}

// neutral is the range in which nothing drives and the vehicle rolls.
func (p *predictor) neutral() (unitsheet.Range, bool) {
	at := slices.IndexFunc(p.u.Ranges, func(r unitsheet.Range) bool { return r.Selector == "N" })
	if at < 0 {
		return unitsheet.Range{}, false
	}
	return p.u.Ranges[at], true
}

// letsGo is a freewheel that holds at times: wherever the range needs it, it lets go under load and grabs again.
func (p *predictor) letsGo(e unitsheet.Element) error {
	for _, r := range p.u.Ranges {
		if !r.Driving() {
			continue
		}
		got, err := p.u.Machine.Result(gearing.State{Applied: r.Applied, Broken: []string{e.ID}})
		if err != nil {
			return err
		}
		if !same(r.Healthy.Result, got) {
			p.say(r, Slips, "yes", 0.7, e.Name+" lets go under load and grabs again")
			p.say(r, Engages, "late", 0.3, e.Name+" catches late", Alternative{"harsh", 0.2})
			p.say(r, Shift, "flare", 0.4, e.Name+" catches late")
		}
	}
	return nil
}
