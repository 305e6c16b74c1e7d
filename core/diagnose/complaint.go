package diagnose

import (
	"math"

	"innercompass/core/knowledge"
)

// Bringing about an abnormal state means to make it at least so many times as frequent as it is anyway; what is as frequent as
// usualAnyway in any vehicle needs no explanation.
const (
	bringsAbout = 2
	usualAnyway = 0.1
)

// explaining are the causes that by themselves bring about at least one of the abnormal readings: those that the vehicle may have
// come for. All of them when nothing abnormal was read, or nothing that was read is brought about by anything that is listed.
func explaining(e *evidence) []bool {
	n := e.n
	out := make([]bool, len(n.Causes))
	explained := false
	for i, r := range e.s.Readings {
		f := n.FindingAt[r.Finding]
		s := n.Findings[f].StateAt(r.State)
		if s <= 0 || e.history[i] || n.Findings[f].Members != "" || n.Anyway(f, s) > usualAnyway {
			continue
		}
		least := bringsAbout * n.Anyway(f, s)
		for c, states := range n.Alone(f) {
			if states[s] >= math.Max(least, 1e-3) {
				out[c], explained = true, true
			}
		}
	}
	if i, ok := n.NodeAt[knowledge.NothingWrong]; ok && i < len(out) {
		out[i] = true // whatever is complained of may be how the unit is meant to be
	}
	if !explained {
		for c := range out {
			out[c] = true
		}
	}
	return out
}

// Quiet reports whether a vehicle is here without a complaint, and nothing abnormal was read of it either.
func (a *Assessment) Quiet() bool {
	if a.Read(knowledge.Purpose) != knowledge.Preventive {
		return false
	}
	for i, r := range a.e.s.Readings {
		f := a.Network.Findings[a.Network.FindingAt[r.Finding]]
		if f.StateAt(r.State) > 0 && !a.e.history[i] {
			return false
		}
	}
	return true
}

// forTheComplaint conditions on the vehicle being there for a reason: a cause is present that explains what is abnormal, if only a
// characteristic that the customer noticed. What explains nothing keeps its own probability: it may be there as well, but is not what
// the vehicle came for. nothing is the weight of no cause at all, of total.
func forTheComplaint(cause []float64, explains []bool, total, nothing float64) {
	for c, p := range cause {
		if !explains[c] && p < 1 {
			nothing /= 1 - math.Min(p, 0.999)
		}
	}
	scale := total / math.Max(total-math.Min(nothing, total), 1e-12*total)
	for c := range cause {
		if explains[c] {
			cause[c] = math.Min(1, cause[c]*scale)
		}
	}
}

// Background reports whether a cause explains nothing of what is abnormal: it may be there as well, but is not what the vehicle came
// for.
func (a *Assessment) Background(cause int) bool { return !a.explains[cause] }
