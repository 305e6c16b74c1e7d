package plan

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"innercompass/core/diagnose"
)

// Of the stop at nine in ten: a leader from there on, and what the best check must then still save to be worth the walk, hours of labour.
const (
	nineInTen = 0.9
	worthIt   = 0.25
)

// worthwhile are the checks that are still worth the walk: once the leader stands at nine in ten and explains all that is abnormal, or was
// seen as what it is, those that would save more than a quarter of an hour, and no question. When none is left, it is time to stop.
func (p *planner) worthwhile(best []Advice) []Advice {
	if p.a.Suspects[0].Probability < nineInTen || len(p.a.Surprise.Unexplained) > 0 && !p.a.InTheHand(p.a.Order[0]) {
		return best
	}
	return slices.DeleteFunc(best, func(v Advice) bool { return v.Saves <= worthIt*p.eco.LabourRate || p.a.Network.Question(v.Check) })
}

// leastTold is what a check must tell to be offered for what is not explained, nats.
const leastTold = 0.02

// unsettled are the checks that tell most although they would hardly pay, while something abnormal is not explained and the leader was
// not seen as what it is: then it is too early to stop.
func (p *planner) unsettled() []Advice {
	if len(p.a.Surprise.Unexplained) == 0 || p.a.InTheHand(p.a.Order[0]) {
		return nil
	}
	var out []Advice
	for _, v := range p.advise(p.repairs.expected(p.weights, p.stand.Access)) {
		if v.InformationGain >= leastTold {
			out = append(out, v)
		}
	}
	p.order(out)
	out = out[:min(3, len(out))]
	for i := range out {
		p.addResults(&out[i])
	}
	return out
}

// Telling is what each check that can be done from here and was not done would still tell, in nats, by its id; what tells next to nothing
// of what explains the complaint is left out.
func Telling(a *diagnose.Assessment, stand VehicleState) map[string]float64 {
	p := &planner{a: a, stand: stand, see: a.Foresee(a.Hypotheses, a.Present)}
	out := map[string]float64{}
	top := 0.0
	for _, c := range a.Network.Checks {
		told, again := p.candidates(c)
		if again || !p.open(c) {
			continue
		}
		for _, x := range told {
			out[c.ID] += x.InformationGain
		}
		top = math.Max(top, out[c.ID])
	}
	maps.DeleteFunc(out, func(_ string, told float64) bool { return told < math.Max(leastTold, tellsLittle*top) })
	return out
}

// basicsWorth is the part of what the best other check tells that a basic look must tell to come before it.
const basicsWorth = 0.25

// tellsLittle is the part of what the best check tells under which another stands behind all that tell more, however quick it is: what
// will hardly show anything is done when it is at hand.
const tellsLittle = 0.1

// order puts advice as a shop goes about it: the basic looks that every diagnosis begins with (level, look and smell, codes), as long
// as they may tell something of the complaint; then what tells most for its minutes; questions last, since what the customer knows
// belongs to taking the vehicle in, and is asked again only when the answer would change the repair.
func (p *planner) order(best []Advice) {
	top := 0.0
	for _, v := range best {
		if v.Check.Basic == 0 && !p.a.Network.Question(v.Check) {
			top = math.Max(top, v.InformationGain)
		}
	}
	class := func(v Advice) int {
		switch {
		case v.Check.Basic > 0 && !v.Again && v.InformationGain >= basicsWorth*top:
			return v.Check.Basic - 100
		case p.a.Network.Question(v.Check):
			return 2
		case v.InformationGain < tellsLittle*top:
			return 1
		}
		return 0
	}
	slices.SortStableFunc(best, func(x, y Advice) int {
		if d := cmp.Compare(class(x), class(y)); d != 0 {
			return d
		}
		return better(x, y)
	})
}

// better orders advice that is worth its cost: by what each minute tells. The saving of one check alone thinks one step
// ahead; on vehicles whose links differ from what is written down this order found the cause more often and cost no more
// than the saving for each minute (see innercompass bench diagnosis).
func better(x, y Advice) int {
	return cmp.Compare(y.InformationGain/y.Spent(), x.InformationGain/x.Spent())
}
