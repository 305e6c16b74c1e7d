package faultmap

import (
	"slices"

	"innercompass/core/unitsheet"
)

// What gauges, transducers and a scan tool show over a drive, beside the grid that a driver fills.
const (
	Tap     Behaviour = "tap"     // pressure at an element's tap, against that of the line
	Line    Behaviour = "line"    // line pressure against the sheet
	Command Behaviour = "command" // of the controls to change up
)

// Gauges lists them with their states.
var Gauges = []BehaviourInfo{
	{Tap, "pressure at the tap", []State{{ID: "normal", Title: "as wanted"}, {ID: "low", Title: "low where it is on"}, {ID: "none", Title: "none where it should be on"}, {ID: "stays", Title: "there where it should be off"}, {ID: "late", Title: "comes late"}, {ID: "slow", Title: "falls slowly"}, {ID: "hard", Title: "comes at once"}}},
	{Line, "line pressure", []State{{ID: "normal", Title: "inside its window"}, {ID: "low", Title: "low"}, {ID: "high", Title: "high"}}},
	{Command, "command to change up", []State{{ID: "normal", Title: "comes in time"}, {ID: "late", Title: "late"}, {ID: "early", Title: "early"}, {ID: "never", Title: "never comes"}}},
}

// gauges adds what gauges show of a fault. How surely is judgment (common practice, no source): whoever reads them knows what he looks for.
func (p *predictor) gauges(f Fault) {
	e, _ := p.u.Element(f.Part)
	switch {
	case e.Pressed():
		p.tapOf(f)
	case f.Kind == StuckOff, f.Kind == StuckOn, f.Kind == Dead, f.Kind == LimpHome, f.Kind == Lost:
		p.tapsByOil()
		if c, _ := p.u.Control(f.Part); f.Kind == LimpHome || f.Kind == Dead && c.Watched {
			p.gauge("", Line, "high", 0.8, "full line pressure, for safety")
			p.gauge("", Command, "never", 0.6, "the module keeps to one gear")
		}
	case f.Kind == Leaks:
		for _, id := range p.serves {
			p.gauge(id, Tap, "low", 0.75, "oil is lost on the way", Alternative{"late", 0.15})
		}
	case f.Kind == LowPressure:
		p.gauge("", Line, "low", 0.95, "it is measured so")
		p.taps("late", "it fills slowly", func(string) bool { return true })
	case f.Kind == HighPressure:
		p.gauge("", Line, "high", 0.95, "it is measured so")
		p.taps("hard", "full line pressure behind its orifice", func(id string) bool { return !p.regulated(id) })
	default:
		if state, ok := map[Kind]string{ShiftsLate: "late", ShiftsEarly: "early", NeverShifts: "never"}[f.Kind]; ok {
			p.gauge("", Command, state, 0.9, "it is the fault itself")
		}
	}
}

// unregulated reports whether something comes on, from one range to another, that gets what the line has.
func (p *predictor) unregulated(to, from unitsheet.Range) bool {
	return slices.ContainsFunc(to.Applied, func(id string) bool {
		e, _ := p.u.Element(id)
		return e.Pressed() && !slices.Contains(from.Applied, id) && !p.regulated(id)
	})
}

// tapOf is what a fault of an element shows at its own tap: a lining or a plate shows nothing, a seal or a valve does.
func (p *predictor) tapOf(f Fault) {
	say := func(state string, certainty float64, detail string, besides ...Alternative) {
		p.gauge(f.Part, Tap, state, certainty, detail, besides...)
	}
	switch f.Kind {
	case NeverApplies:
		say("none", 0.5, "where no oil comes", Alternative{"low", 0.15})
	case AppliesLate:
		say("late", 0.8, "its plates touch late")
	case AppliesHard:
		say("hard", 0.8, "nothing holds its pressure back")
	case ElementSlips:
		say("low", 0.2, "where a seal lets oil past")
	case NeverReleases:
		say("stays", 0.4, "where a valve holds it")
	case ReleasesLate:
		say("slow", 0.75, "its oil leaves slowly", Alternative{"stays", 0.1})
	}
}

// tapsByOil compares what is pressed together in each range with the fault to what should be.
func (p *predictor) tapsByOil() {
	for _, e := range p.u.Elements {
		if !e.Pressed() {
			continue
		}
		wanted, lost, extra := 0, 0, 0
		for _, r := range p.u.Ranges {
			oil, known := p.oil[r.ID]
			if !known {
				continue
			}
			should, is := slices.Contains(r.Applied, e.ID), slices.Contains(oil, e.ID)
			switch {
			case should && is:
				wanted++
			case should:
				wanted, lost = wanted+1, lost+1
			case is:
				extra++
			}
		}
		switch {
		case lost > 0 && extra > 0:
			p.gauge(e.ID, Tap, "stays", 0.5, "it has oil in other ranges than it should", Alternative{"none", 0.4})
		case lost > 0 && lost == wanted:
			p.gauge(e.ID, Tap, "none", Certain, "no oil comes")
		case lost > 0:
			p.gauge(e.ID, Tap, "none", 0.7, "no oil comes in some ranges")
		case extra > 0:
			p.gauge(e.ID, Tap, "stays", 0.85, "it has oil in ranges in which it should not")
		}
	}
}

// taps says the same of many taps, each as likely as not.
func (p *predictor) taps(state, detail string, of func(id string) bool) {
	for _, e := range p.u.Elements {
		if e.Pressed() && of(e.ID) {
			p.gauge(e.ID, Tap, state, 0.4, detail)
		}
	}
}

// regulated reports whether an element has a solenoid of its own that sets its pressure, whatever the line has.
func (p *predictor) regulated(id string) bool {
	return slices.ContainsFunc(p.u.Controls, func(c unitsheet.Control) bool { return c.Applies == id && c.Place < 0 })
}

func (p *predictor) gauge(at string, b Behaviour, state string, certainty float64, detail string, besides ...Alternative) {
	p.row.Gauged = append(p.row.Gauged, Prediction{Cell{at, b}, state, certainty, detail, besides})
}
