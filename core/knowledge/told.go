package knowledge

import (
	"math"
	"slices"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// Findings that are made from the unit's own ranges and repairs, and not written down.
const (
	// Tried is what was renewed or put right already and made no difference: each repair that the unit can have is a state.
	Tried = "tried"
	// WentFirst is the range in which it was noticed first, before others followed.
	WentFirst = "went-first"
	// Wordless is what was noted in words because no finding says it. It stands with the case and weighs nothing.
	Wordless = "wordless"
)

// SaidPrefix begins the ids of what a customer complains of; what else is told is circumstance.
const SaidPrefix = "says-"

// made are the findings that a check may ask for although no file says them.
var made = []string{PressurePattern, Tried, WentFirst}

// addWordless adds the finding for what has no word.
func (n *Network) addWordless(add func(Finding)) {
	add(Finding{ID: Wordless, Title: "In words", Stage: Wordless, History: true, Several: true, States: []FindingState{{ID: "none", Title: "nothing"}, {ID: "noted", Title: "noted", Baseline: 0.01}}})
}

// Of a repair that was done in vain: how far it is believed to have been done well, and how often any one has been tried (common
// practice, no source).
const (
	doneWell      = 0.9
	triedBaseline = 0.004
	leastChance   = 0.3 // a repair that cures a cause less often says nothing about it
)

// addTried adds the finding of repairs in vain.
func (n *Network) addTried(options []Option, add func(Finding)) {
	f := Finding{ID: Tried, Title: "Replaced or repaired already, and no better", Stage: "complaint", History: true, Several: true,
		Help: "Each speaks against what it would have cured, as far as the work was done well. Ask for the bill.", States: []FindingState{{ID: "none", Title: "nothing"}}}
	for _, o := range options {
		if o.Strategy != "watch" && len(o.Cures) > 0 && !slices.ContainsFunc(o.Cures, func(c Cure) bool { return c.Cause == NothingWrong }) {
			f.States = append(f.States, FindingState{ID: o.ID, Title: o.Title, Baseline: triedBaseline})
		}
	}
	if len(f.States) > 1 {
		add(f)
	}
}

// excludeTried makes what an option would have cured less likely once it was done in vain.
func (n *Network) excludeTried() {
	at, ok := n.FindingAt[Tried]
	if !ok {
		return
	}
	for _, o := range n.Options {
		s := n.Findings[at].StateAt(o.ID)
		if s < 0 {
			continue
		}
		for c, p := range n.cures(o) {
			if p >= leastChance {
				n.History[c] = append(n.History[c], Condition{at, s, 1 - doneWell*p, "it was repaired, and made no difference"})
			}
		}
	}
	for c := range n.History {
		slices.SortStableFunc(n.History[c], func(a, b Condition) int { return cmpInts(a.Finding-b.Finding, a.State-b.State) })
	}
}

// addWentFirst adds the finding of the range that went first, on units that have pressure of their own.
func (n *Network) addWentFirst(add func(Finding)) {
	if !n.Has("pump") {
		return
	}
	f := Finding{ID: WentFirst, Title: "Went first, before anything else was noticed", Stage: "complaint",
		Help: "What needs most of its capacity gives way first: the order in which ranges were lost names the part.", States: []FindingState{{ID: "together", Title: "all at once, or only one thing"}}}
	for _, r := range n.Unit.Ranges {
		if r.Driving() {
			f.States = append(f.States, FindingState{ID: r.ID, Title: r.ID, Baseline: 0.004})
		}
	}
	add(f)
}

// Of a fault that slips: how surely a driver notices the range that needs most first, and one that needs nearly as much.
const (
	noticesFirst = 0.5
	nearlyAsMuch = 0.92
)

// wentFirst are the ranges in which a fault is noticed first, by what each needs of the capacity that is left, with how surely.
func wentFirst(row faultmap.Row) map[string]float64 {
	out, most := map[string]float64{}, 0.0
	for _, p := range row.Cells {
		if p.Cell.Behaviour == faultmap.Slips {
			most = math.Max(most, p.Certainty)
		}
	}
	for _, p := range row.Cells {
		if p.Cell.Behaviour == faultmap.Slips && p.Certainty >= nearlyAsMuch*most {
			out[p.Cell.Range] = noticesFirst
		}
	}
	for id := range out {
		out[id] /= float64(len(out))
	}
	return out
}

// saying is what a driver would say of a fault of the design, with how surely.
type saying struct {
	finding, state string
	p              float64
	why            string
}

// How surely a driver tells what he feels (common practice, no source): that it does not move he always notices, and how it changes he
// tells when it is plain.
const (
	tellsNoDrive = 0.85
	tellsPlain   = 0.6
	tellsHarsh   = 0.7
	tellsSlight  = 0.35
)

// said are the words of a driver that follow from the road test of a fault.
func (n *Network) said(row faultmap.Row) []saying {
	var out []saying
	most := map[[2]string]int{}
	say := func(finding, state string, p float64, why string) {
		if i, ok := most[[2]string{finding, state}]; ok {
			out[i].p = math.Max(out[i].p, p)
			return
		}
		most[[2]string{finding, state}] = len(out)
		out = append(out, saying{finding, state, p, why})
	}
	forward, forwardLost, reverse, reverseLost := 0, 0, 0, 0
	for _, r := range n.Unit.Ranges {
		if !r.Driving() {
			continue
		}
		p, lost := row.At(faultmap.Cell{Range: r.ID, Behaviour: faultmap.Drives})
		lost = lost && p.State == "none"
		switch first := r.From == ""; {
		case r.Healthy.Ratio < 0 && lost:
			reverseLost++
			reverse++
		case r.Healthy.Ratio < 0:
			reverse++
		case first && lost: // what cannot be pulled away in
			forwardLost++
			forward++
		case first:
			forward++
		}
	}
	switch noForward, noReverse := forward > 0 && forwardLost == forward, reverse > 0 && reverseLost == reverse; {
	case noForward && noReverse:
		say("says-no-drive", "none", tellsNoDrive, "no range drives")
	case noForward:
		say("says-no-drive", "forward", tellsNoDrive, "no forward range drives")
	case noReverse:
		say("says-no-drive", "reverse", tellsNoDrive, "reverse does not drive")
	case forwardLost > 0:
		say("says-no-drive", "forward", tellsSlight, "a forward range does not drive")
	}
	if row.StallsParked {
		say("says-stalls", "yes", tellsPlain, "in Park it drives against the pawl")
	}
	for _, p := range row.Cells {
		r, _ := n.Unit.Range(p.Cell.Range)
		for _, x := range append([]faultmap.Alternative{{State: p.State, Certainty: p.Certainty}}, p.Besides...) {
			n.saidOfCell(r.ID, p.Cell.Behaviour, x, say)
		}
	}
	return out
}

// saidOfCell is what a driver says of one cell.
func (n *Network) saidOfCell(id string, b faultmap.Behaviour, x faultmap.Alternative, say func(finding, state string, p float64, why string)) {
	r, _ := n.Unit.Range(id)
	switch b {
	case faultmap.Engages:
		switch x.State {
		case "late":
			say("says-late-engage", "yes", tellsPlain*x.Certainty, id+" engages late")
		case "harsh":
			say("says-harsh", "yes", tellsHarsh*x.Certainty, id+" engages with a bang")
		}
	case faultmap.Shift:
		switch x.State {
		case "harsh", "tie-up":
			say("says-harsh", "yes", tellsHarsh*x.Certainty, "the shift into "+id+" is felt")
		case "late", "early":
			say("says-shift-timing", x.State, tellsHarsh*x.Certainty, id+" comes "+x.State)
		case "delay":
			say("says-shift-timing", "late", tellsSlight*x.Certainty, id+" comes after a wait")
			say("says-slow-shift", "yes", tellsPlain*x.Certainty, id+" comes after a wait")
		case "flare":
			say("says-slips", "yes", tellsHarsh*x.Certainty, "the engine runs up before "+id)
		case "missing":
			say("says-stuck-gear", "yes", tellsPlain*x.Certainty, id+" never comes")
			say("says-shift-timing", "none", tellsPlain*x.Certainty, id+" never comes")
			if n.top(id) {
				say("says-high-revs", "yes", tellsPlain*x.Certainty, "top gear never comes")
			}
		}
	case faultmap.Down:
		switch x.State {
		case "harsh", "tie-up":
			say("says-harsh", "yes", tellsSlight*x.Certainty, "the downshift into "+id+" is felt")
			say("says-clunk", "yes", tellsSlight*x.Certainty, "the downshift into "+id+" is felt as it rolls to a stop")
			say("downshift", "harsh", tellsPlain*x.Certainty, "the downshift into "+id+" is felt")
		case "flare":
			say("says-slips", "yes", tellsSlight*x.Certainty, "the engine runs up as it comes down to "+id)
		case "missing":
			say("says-no-kickdown", "yes", tellsSlight*x.Certainty, id+" does not come back")
			say("downshift", "none", tellsPlain*x.Certainty, id+" does not come back")
		case "delay":
			say("says-no-kickdown", "yes", tellsSlight*x.Certainty, id+" comes back late")
			say("downshift", "late", tellsPlain*x.Certainty, id+" comes back late")
		}
	case faultmap.Slips:
		if r.From == "" {
			say("stall-speed", "high", tellsPlain*x.Certainty, id+" slips at the highest torque")
		}
		say("says-slips", "yes", tellsHarsh*x.Certainty, id+" slips")
	case faultmap.Noise:
		say("says-noise", "whine", tellsHarsh*x.Certainty, "it is heard in "+id)
	case faultmap.Drives:
		switch {
		case !r.Driving():
			say("says-creeps", "yes", tellsPlain*x.Certainty, "it is driven in "+id)
		case x.State == "none" && r.From == "":
			say("stall-speed", "high", tellsSlight*x.Certainty, "nothing holds the turbine in "+id)
		case x.State == "bind":
			say("says-no-pull", "yes", tellsSlight*x.Certainty, id+" binds")
		case x.State == "wrong" && r.From == "" && r.Healthy.Ratio > 0:
			say("says-no-pull", "yes", tellsPlain*x.Certainty, "it pulls away in another gear")
		}
	case faultmap.Lockup:
		switch x.State {
		case "none":
			say("says-high-revs", "yes", tellsSlight*x.Certainty, "the converter clutch never applies")
		case "slips":
			say("says-shudder", "yes", tellsPlain*x.Certainty, "the converter clutch grabs and lets go")
		case "stuck":
			say("says-stalls", "yes", tellsNoDrive*x.Certainty, "the converter clutch holds the engine as it stops")
		}
	}
}

// top reports whether nothing is shifted into from a range.
func (n *Network) top(id string) bool {
	return !slices.ContainsFunc(n.Unit.Ranges, func(r unitsheet.Range) bool { return r.From == id })
}
