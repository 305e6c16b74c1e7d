package faultmap

import (
	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// How far predictions hold that rest on what is not known. The first is what reasoning on a chart keeps of the gears' answers where
// the gears are known as well (measured on ten designs, by which the rules were tuned: a little less is taken); the others are judgment,
// no source.
const (
	trustChart      = 0.95
	trustCells      = 0.7 // which element is on in which range was assumed
	trustControls   = 0.85
	trustCapacities = 0.9
)

// rests notes on what the row rests that is assumed, and lets it weigh less.
func (p *predictor) rests(f Fault) {
	trust := 1.0
	say := func(words string, share float64) {
		p.row.Assumed = append(p.row.Assumed, words)
		trust *= share
	}
	e, element := p.u.Element(f.Part)
	control := f.Kind == StuckOff || f.Kind == StuckOn || f.Kind == Dead || f.Kind == LimpHome
	gears := element || control || f.Kind == Lost || f.Kind == Breaks
	if p.u.Chart != nil && gears {
		say("the gears are not known", trustChart)
	}
	if _, ok := p.u.Assumed("chart", f.Part); ok && gears {
		say("what is on in each range is assumed", trustCells)
	}
	if _, ok := p.u.Assumed("controls", f.Part); ok && control {
		say("the table of controls is assumed", trustControls)
	}
	slipping := f.Kind == LowPressure || f.Kind == Leaks || f.Kind == ElementSlips && (e.Kind.Friction() || e.Kind == gearing.Selector)
	if _, ok := p.u.Assumed("capacities", f.Part); ok && slipping {
		say("capacities are assumed", trustCapacities)
	}
	if trust == 1 {
		return
	}
	for _, list := range [][]Prediction{p.row.Cells, p.row.Gauged} {
		for i := range list {
			list[i].Certainty *= trust
			for j := range list[i].Besides {
				list[i].Besides[j].Certainty *= trust
			}
		}
	}
	if p.row.First != nil && unitsheet.Known(p.u.MaxTorque) && slipping {
		if _, ok := p.u.Assumed("capacities", p.row.First.Element); ok {
			p.row.First = nil // a throttle from assumed capacities would look like knowledge
		}
	}
}
