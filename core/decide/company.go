package decide

import (
	"math"

	"innercompass/core/knowledge"
)

// Of what goes with an option.
const (
	belongs    = 0.75 // probability above which a second cause is put right in the same visit
	renewed    = 0.9  // chance of cure from which a part counts as renewed: what is then left of a hazard is found by the proof
	maxCompany = 2
)

// company are the options that belong to the option at place i, which cures the leader: something else most likely stands beside it, and to
// put both right in one visit costs less than a return; or a hazard would be left, whatever that costs. An option that does not cure the
// leader has none.
func (m *Model) company(i int, ch Choices, f figures) []pick {
	o := m.options[i]
	if o.Occasion == knowledge.Preventive {
		return m.dueNow(ch, f)
	}
	if o.Strategy == "watch" || o.chance[m.place(m.a.Suspects[0].Cause.ID)] < curesIt {
		return nil
	}
	picks := []pick{m.pick(i, ch)}
	now := m.expected(picks, f)
	for len(picks) <= maxCompany {
		left := m.leftOver(picks, f)
		if left < 0 {
			break
		}
		best, cost := -1, now
		if m.n.Causes[left].Hazard != "" {
			cost = math.Inf(1) // what can hurt is put right whatever it costs
		}
		for k, x := range m.options {
			if x.Strategy != "targeted" || x.chance[left] < curesIt || m.refusal(x.Option) != "" {
				continue
			}
			if e := m.expected(append(picks[:len(picks):len(picks)], m.pick(k, ch)), f); e < cost {
				best, cost = k, e
			}
		}
		if best < 0 {
			break
		}
		picks, now = append(picks, m.pick(best, ch)), cost
	}
	return picks[1:]
}

// leftOver is the likeliest cause that most likely stands there, or would be left as a hazard, and that none of the options cures;
// -1 when there is none.
func (m *Model) leftOver(options []pick, f figures) int {
	chance := m.together(options, f)
	worst, most := -1, 0.0
	for _, i := range m.likely {
		p := m.probability(i, f)
		if chance[i] < curesIt && m.n.Causes[i].ID != knowledge.NothingWrong && (p > belongs || m.n.Causes[i].Hazard != "" && p > hazardShare) && p > most {
			worst, most = i, p
		}
	}
	return worst
}

// probability of a cause, as computed or as set by hand.
func (m *Model) probability(cause int, f figures) float64 {
	if f.cause == cause {
		return f.share
	}
	return m.share[cause]
}

// Title names the option with what goes with it.
func (r Row) Title() string {
	out := r.Option.Title
	for k, o := range r.With {
		join := "; also "
		if k > 0 {
			join = " and "
		}
		out += join + knowledge.InSentence(o.Title)
	}
	return out
}
