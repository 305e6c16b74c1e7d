package faultmap

import (
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// late handles an element that comes after the change: until then the range is without it. share is how surely it does.
func (p *predictor) late(id string, share float64) error {
	for _, r := range p.u.Ranges {
		if r.From != "" || !r.Driving() || !slices.Contains(r.Applied, id) {
			continue
		}
		got, err := p.u.Result(gearing.State{Applied: without(r.Applied, id)})
		if err != nil {
			return err
		}
		n, ok := p.neutral()
		if !same(r.Healthy.Result, got) && !(ok && slices.Contains(n.Applied, id)) { // what is on in neutral does not come late
			p.say(r, Engages, "late", 0.8*share, "waits, then takes up")
		}
	}
	for _, x := range p.passages() {
		if !x.brings(id) {
			continue
		}
		got, err := p.u.Result(gearing.State{Applied: without(x.to.Applied, id)})
		if err != nil {
			return err
		}
		if !same(x.to.Healthy.Result, got) {
			p.comesLate(x, got, share*x.felt())
		}
	}
	return nil
}

// comesLate says what a change does until the element that it brings has come, when without it the train does got.
func (p *predictor) comesLate(x passage, got gearing.Result, share float64) {
	var other []Alternative
	switch {
	case got.Outcome == gearing.Bind:
		p.say(x.to, x.by, "tie-up", 0.6*share, "ties up until it comes", Alternative{"harsh", 0.2 * share})
	case same(x.from.Healthy.Result, got):
		if x.by == Shift { // a downshift has no speed at which it is late
			late := 0.1
			if !p.u.Electric() { // nothing tells when it was commanded
				late = 0.25
			}
			other = append(other, Alternative{"late", late * share})
		}
		p.say(x.to, x.by, "delay", 0.7*share, "holds "+x.from.ID+" until it comes", other...)
	case p.selects(x, got):
		p.say(x.to, x.by, "delay", 0.7*share, "nothing pulls until it is home")
	default: // a little late it flares, much later the shift waits
		other = append(other, Alternative{"delay", 0.25 * share})
		if x.by == Down { // coasting, it takes up with a knock when it comes
			other = append(other, Alternative{"harsh", 0.2 * share})
		}
		p.say(x.to, x.by, "flare", 0.6*share, "flares until the clutch applies", other...)
	}
}

// selects reports whether a change goes through neutral while one sleeve gives way to the next: the drive waits, whatever the engine does.
func (p *predictor) selects(x passage, got gearing.Result) bool {
	return got.Outcome == gearing.Neutral && slices.ContainsFunc(p.u.Elements, func(e unitsheet.Element) bool { return e.Kind == gearing.Selector && x.brings(e.ID) })
}

// releasesLate handles an element that stays on for a while after it should have let go.
func (p *predictor) releasesLate(id string) error {
	for _, r := range p.u.Ranges {
		if n, ok := p.neutral(); ok && r.From == "" && r.Driving() && slices.Contains(n.Applied, id) && !slices.Contains(r.Applied, id) {
			got, err := p.u.Result(gearing.State{Applied: with(r.Applied, id)})
			if err != nil {
				return err
			}
			if got.Outcome == gearing.Bind {
				p.say(r, Engages, "harsh", 0.6, "ties up until what was on in neutral lets go")
			}
		}
	}
	for _, x := range p.passages() {
		if !x.lets(id) {
			continue
		}
		got, err := p.u.Result(gearing.State{Applied: with(x.to.Applied, id)})
		if err != nil {
			return err
		}
		felt := x.felt()
		switch {
		case got.Outcome == gearing.Bind:
			p.say(x.to, x.by, "tie-up", 0.6*felt, "ties up until it lets go", Alternative{"harsh", 0.25 * felt})
		case same(got, x.to.Healthy.Result):
		case same(got, x.from.Healthy.Result):
			p.say(x.to, x.by, "delay", 0.6*felt, "holds "+x.from.ID+" until it lets go", Alternative{"harsh", 0.2 * felt})
		default:
			p.say(x.to, x.by, "harsh", 0.6*felt, "passes through another ratio until it lets go")
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
		got, err := p.u.Result(gearing.State{Applied: r.Applied, Broken: []string{e.ID}})
		if err != nil {
			return err
		}
		if !same(r.Healthy.Result, got) {
			p.say(r, Slips, "yes", 0.7, e.Name+" lets go under load and grabs again")
			p.say(r, Engages, "late", 0.3, e.Name+" catches late", Alternative{"harsh", 0.2})
			p.say(r, Shift, "flare", 0.4, e.Name+" catches late")
			p.say(r, Down, "flare", 0.3, e.Name+" catches late", Alternative{"harsh", 0.2})
		}
	}
	return nil
}
