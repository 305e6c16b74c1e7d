package testdrive

import (
	"math"
	"slices"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// Limits of what a driver notes, against a sound vehicle (judgment, no source).
const (
	lateTake   = 0.5  // s longer until it takes up
	slipShare  = 0.04 // of the gear under load
	bound      = 0.35 // m/s² that two gears at once slow it down by
	creeping   = 0.3  // m/s
	stallSlip  = 100 / rpm
	braked     = 0.15 // m/s² more or less with the foot off
	flareNoted = 150 / rpm
	speedShare = 0.15
	longTaken  = 0.35 // s
	deepDip    = 0.2  // m/s²
	lockSlip   = 10 / rpm
	openSlip   = 25 / rpm
	bumpShare  = 1.35
	leastBump  = 40.0 // N·m
)

// Tell holds a drive against that of a sound vehicle of the same unit, and says what is abnormal.
func Tell(u *unitsheet.Unit, l, sound Log) map[faultmap.Cell]string {
	out := map[faultmap.Cell]string{}
	l.read(u, sound, func(at string, b faultmap.Behaviour, state string) {
		out[faultmap.Cell{Range: at, Behaviour: b}] = state
	})
	for _, r := range u.Ranges {
		cell := func(b faultmap.Behaviour, state string) { out[faultmap.Cell{Range: r.ID, Behaviour: b}] = state }
		if r.Selector == "N" {
			switch {
			case math.Abs(l.creeps) > creeping && math.Abs(sound.creeps) < creeping/2:
				cell(faultmap.Drives, "wrong")
			case l.rolls < sound.rolls-2*bound:
				cell(faultmap.Drives, "bind")
			}
		}
		if take, ok := l.takesUp[r.ID]; ok && !math.IsInf(sound.takesUp[r.ID], 1) {
			switch {
			case math.IsInf(take, 1):
				cell(faultmap.Engages, "none")
			case take > sound.takesUp[r.ID]+lateTake:
				cell(faultmap.Engages, "late")
			case l.dies[r.ID] && !sound.dies[r.ID], l.bumps[r.ID] > bumpShare*sound.bumps[r.ID]+leastBump:
				cell(faultmap.Engages, "harsh")
			}
		}
		if x, ok := l.moves[r.ID]; ok {
			if state := driven(u, r, x, sound.moves[r.ID]); state != "" {
				cell(faultmap.Drives, state)
			}
		}
		_, entered := l.moves[r.ID]
		x, ok := l.loaded[r.ID]
		switch {
		case !entered && l.coasts[r.ID] < sound.coasts[r.ID]-bound && sound.coasts[r.ID] < -0.2 || !entered && math.Abs(l.ends[r.ID]) > 0.04+math.Abs(sound.ends[r.ID]) && l.kept[r.ID] < 0.9:
			cell(faultmap.Drives, "bind")
		case !entered && math.Abs(l.ends[r.ID]) > 0.15+math.Abs(sound.ends[r.ID]):
			cell(faultmap.Drives, l.instead(u, r, l.ends[r.ID]))
		case out[faultmap.Cell{Range: r.ID, Behaviour: faultmap.Engages}] == "none":
		case l.stalled[r.ID] > sound.stalled[r.ID]+stallSlip:
			cell(faultmap.Slips, "yes")
		case !ok || math.Abs(x) <= slipShare+math.Abs(sound.loaded[r.ID]):
		default:
			cell(faultmap.Slips, "yes")
		}
		drives := out[faultmap.Cell{Range: r.ID, Behaviour: faultmap.Drives}]
		if x, ok := l.coasts[r.ID]; ok && drives != "none" && drives != "bind" {
			switch was := sound.coasts[r.ID]; {
			case x > was+braked:
				cell(faultmap.Brakes, "missing")
			case x < was-braked && was > -0.2:
				cell(faultmap.Brakes, "present")
			}
		}
		if was, ok := sound.changes[r.ID]; ok {
			state := ""
			for foot := range was {
				if was[foot].came { // a sound one gets there
					state = worse(state, changed(l.changes[r.ID][foot], was[foot]))
				}
			}
			if state == "missing" && out[faultmap.Cell{Range: r.ID, Behaviour: faultmap.Drives}] == "bind" {
				state = "tie-up"
			}
			if state != "" {
				cell(faultmap.Shift, state)
			}
		}
		if x, ok := l.locks[r.ID]; ok && sound.locks[r.ID] > openSlip && x < openSlip/5 {
			cell(faultmap.Lockup, "stuck")
		}
		if x, ok := l.locked[r.ID]; ok && sound.locked[r.ID] < lockSlip && x > lockSlip {
			state := "slips"
			if x > 0.8*sound.open[r.ID] {
				state = "none"
			}
			cell(faultmap.Lockup, state)
		}
	}
	return out
}

// instead is what drives when a range is far from its gear: another gear, or none.
func (l Log) instead(u *unitsheet.Unit, r unitsheet.Range, off float64) string {
	ratio := (1 + off) * r.Healthy.Ratio
	for _, other := range u.Ranges {
		if other.Driving() && math.Abs(ratio/other.Healthy.Ratio-1) < 0.04 {
			return "wrong"
		}
	}
	return "none"
}

func sign(x float64) float64 { return math.Copysign(1, x) }

// driven says how a range drives off, against a sound one; "" when it is normal.
func driven(u *unitsheet.Unit, r unitsheet.Range, x, sound motion) string {
	switch {
	case math.Abs(sound.speed) < 0.5:
		return "" // nor does a sound one
	case x.bound:
		return "bind"
	case math.Abs(x.speed) < 0.3*math.Abs(sound.speed) && math.Abs(x.ratio-sound.ratio) > 0.2*math.Abs(sound.ratio) || math.Abs(x.speed) < 0.3:
		return "none"
	}
	if math.Abs(x.ratio/sound.ratio-1) < 0.06 {
		return ""
	}
	for _, other := range u.Ranges {
		if other.Driving() && math.Abs(x.ratio/other.Healthy.Ratio-1) < 0.06 {
			return "wrong"
		}
	}
	return ""
}

// worse is the state that a driver would speak of.
func worse(a, b string) string {
	order := []string{"", "harsh", "delay", "early", "late", "tie-up", "missing", "flare"}
	if slices.Index(order, b) > slices.Index(order, a) {
		return b
	}
	return a
}

// changed says how it shifts up into a range, against a sound one; "" when it is normal.
func changed(x, sound change) string {
	switch {
	case !x.came && x.flare > flareNoted:
		return "flare"
	case !x.came:
		return "missing"
	case x.flare > sound.flare+flareNoted:
		return "flare"
	case x.speed > sound.speed*(1+speedShare):
		return "late"
	case x.speed < sound.speed*(1-speedShare):
		return "early"
	case x.dip < sound.dip-deepDip:
		return "tie-up"
	case x.took > sound.took+longTaken:
		return "delay"
	case x.bump > bumpShare*sound.bump+leastBump:
		return "harsh"
	}
	return ""
}
