package diagnose

import (
	"math"

	"innercompass/core/knowledge"
)

// What the list lacks: of cases from the trade in which one cause stood near certainty, the leader was wrong in some three of a hundred
// although it explained all that was read, and in some six more of a hundred for each abnormal reading that it did not explain, up to
// three (innercompass bench cases, both halves, read off in steps; see docs/decisions/0005).
const (
	notListed   = 0.03
	unexplained = 0.06
	mostCounted = 3
)

// leaveRoom takes from all suspects what belongs to something that is not in the list, once anything abnormal was read. It changes no
// order.
func (a *Assessment) leaveRoom() {
	if !a.callsForACause() {
		return
	}
	listed := (1 - notListed) * math.Pow(1-unexplained, float64(min(mostCounted, len(a.Surprise.Unexplained))))
	a.Other = 1 - listed
	for i := range a.Suspects {
		a.Suspects[i].Probability *= listed
	}
}

// callsForACause reports whether anything was read that does.
func (a *Assessment) callsForACause() bool {
	for i, r := range a.e.s.Readings {
		f := a.Network.FindingAt[r.Finding]
		if s := a.Network.Findings[f].StateAt(r.State); s > 0 && !a.e.history[i] && a.Network.Findings[f].Members == "" && a.Network.Anyway(f, s) <= usualAnyway {
			return true
		}
	}
	return false
}

// InTheHand reports whether a cause was seen as what it is: its part was looked at, and showed the fault itself.
func (a *Assessment) InTheHand(cause int) bool {
	for _, r := range a.e.s.Readings {
		f := a.Network.FindingAt[r.Finding]
		s := a.Network.Findings[f].StateAt(r.State)
		if _, itself := a.Network.Itself[f][s]; !itself || r.Source == "customer" {
			continue
		}
		for _, e := range a.Network.In[f] {
			if e.From == cause && e.State == s && e.Why == knowledge.TheFaultItself {
				return true
			}
		}
	}
	return false
}
