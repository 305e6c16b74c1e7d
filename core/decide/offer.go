package decide

import (
	"fmt"

	"innercompass/core/knowledge"
)

// freshFluid is what a repair puts right of the fluid and its level by the way, by how much of it goes in (common practice, no source).
var freshFluid = map[string]map[string]float64{
	"fill":   {"fluid-wrong": 0.8, "fluid-worn": 0.85, "underfilled": 0.95, "fluid-over": 0.95, "never-topped": 0.9},
	"refill": {"fluid-wrong": 0.3, "fluid-worn": 0.5, "underfilled": 0.95, "fluid-over": 0.95, "never-topped": 0.9},
}

// refusal says why an option is not offered: it is known to fail with what is most likely there. It is empty for the others.
func (m *Model) refusal(o knowledge.Option) string {
	for _, x := range o.Fails {
		node, ok := m.n.NodeAt[x.Node]
		if !ok {
			continue
		}
		p := 0.0
		for i, h := range m.a.Hypotheses {
			p += h.Share * m.a.Present[i][node]
		}
		if p > failsShare {
			return fmt.Sprintf("%s (%.0f\u00a0%%): %s.", m.n.Nodes[node].Title, 100*p, x.Why)
		}
	}
	return ""
}

// clear reports whether one cause is clear and an option cures it, or there is no complaint and it is what is done then.
func (m *Model) clear(o priced) bool {
	if m.a.Quiet() {
		return o.Occasion == knowledge.Preventive
	}
	lead := m.a.Suspects[0]
	return lead.Probability > clearCause && o.Strategy != "watch" && o.chance[m.place(lead.Cause.ID)] >= curesIt
}

// beside reports whether an option does not go with what is known of the cause. Where the cause is clear, what does not cure it is not
// advised, however cheap; where nothing is clear, the unit is not opened for it.
func (m *Model) beside(o priced) bool {
	if m.a.Quiet() {
		return o.Occasion != knowledge.Preventive // without a complaint no repair is sold
	}
	lead := m.a.Suspects[0]
	c := m.place(lead.Cause.ID)
	switch {
	case o.Strategy == "watch":
		return lead.Probability > clearCause && lead.Cause.ID != knowledge.NothingWrong
	case lead.Cause.ID == knowledge.NothingWrong && lead.Probability > 0.5:
		return o.chance[c] == 0 // nothing is sold, nothing opened
	case lead.Probability > clearCause:
		return o.chance[c] < curesIt
	case lead.Probability < openCause:
		return o.Strategy != "targeted"
	}
	return false
}
