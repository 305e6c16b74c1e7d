package knowledge

import (
	"strings"

	"innercompass/core/faultmap"
)

// TapID is the finding of what an element's tap shows while the unit is driven; an element has one when a gauge can read it.
func TapID(element string) string { return "tap." + element }

// TapsCheck is the check that reads all taps in one drive.
const TapsCheck = "taps-driven"

const tapBaseline = 0.004 // of each state, whatever the cause

// tapsMinutes is what it takes to fit transducers, drive through the ranges and take them off (common practice, no source).
const tapsMinutes = 60

// addTaps adds a finding for each element whose feed has a tap behind the last valve.
func (n *Network) addTaps(add func(Finding)) {
	for _, e := range n.Unit.Elements {
		if !e.Pressed() || !n.Unit.Tapped(e.ID) {
			continue
		}
		f := Finding{ID: TapID(e.ID), Title: "Tap of the " + e.Name + ", driven", Stage: "checks", Help: "Its pressure against the line's while the ranges are driven: how much where it is on, whether it is gone where it is off, how it comes and goes."}
		for i, s := range faultmap.Info(faultmap.Tap).States {
			state := FindingState{ID: s.ID, Title: s.Title}
			if i > 0 {
				state.Baseline = tapBaseline
			}
			f.States = append(f.States, state)
		}
		add(f)
	}
}

// addTapsCheck adds the check that yields them.
func (n *Network) addTapsCheck(add func(Check), cautions []Caution) {
	k := Check{ID: TapsCheck, Title: "Pressures at the taps, driven", Tells: "Which circuit loses oil, fills late, lets go slowly or is fed where it should not be.", Minutes: tapsMinutes, Access: "lifted", Until: "lifted", Fluid: "hot", First: []string{"fluid-level"},
		Tools: []string{"pressure transducers", "recorder"}, Cautions: cautions,
		Steps: []string{"Fluid hot and at its level; engine off.", "A transducer at each tap of the unit sheet and at the line, hoses away from shafts and exhaust.", "Record a drive through all ranges with speeds and pressures; read its shifts.", "Set what each tap shows, or take it over from the recording."}}
	for _, e := range n.Unit.Elements {
		if _, ok := n.FindingAt[TapID(e.ID)]; ok {
			k.Yields = append(k.Yields, TapID(e.ID))
		}
	}
	if len(k.Yields) > 0 {
		add(k)
	}
}

// taps links the tap of an element to what its other pressures are linked to: what is low by range or against its command is low at the tap.
func (c *compiler) taps() {
	at, pattern := c.n.FindingAt[PressurePattern]
	same := map[string]string{"below": "low", "late": "late", "above": "hard"}
	for name, list := range c.links {
		var more []draft
		for _, l := range list {
			if l.node != "" {
				continue
			}
			f := c.n.Findings[l.finding]
			element, state := "", ""
			switch {
			case pattern && l.finding == at:
				element, state = strings.TrimPrefix(f.States[l.state].ID, "low-"), "low"
			case strings.HasPrefix(f.ID, "command."):
				element, state = strings.TrimPrefix(f.ID, "command."), same[f.States[l.state].ID]
			}
			tap, ok := c.n.FindingAt[TapID(element)]
			if !ok || state == "" {
				continue
			}
			l.finding, l.state = tap, c.n.Findings[tap].StateAt(state)
			more = append(more, l)
		}
		c.links[name] = strongest(append(list, more...), len(list))
	}
}

// strongest leaves of the links from an index on one to each state, the strongest.
func strongest(list []draft, from int) []draft {
	out := list[:from:from]
	for _, l := range list[from:] {
		seen := false
		for i := from; i < len(out); i++ {
			if out[i].finding == l.finding && out[i].state == l.state {
				seen = true
				if l.p > out[i].p {
					out[i] = l
				}
			}
		}
		if !seen {
			out = append(out, l)
		}
	}
	return out
}
