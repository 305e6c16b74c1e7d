package faultmap

import (
	"math"
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// passage is a change of range that the unit makes by itself, up or down.
type passage struct {
	by       Behaviour // Shift or Down
	from, to unitsheet.Range
}

// passages are all changes, the upshift into a range before the downshift.
func (p *predictor) passages() []passage {
	var out []passage
	for _, r := range p.u.Ranges {
		if !r.Driving() {
			continue
		}
		if from, ok := p.u.Range(r.From); ok {
			out = append(out, passage{Shift, from, r})
		}
		if above, ok := p.u.Above(r); ok {
			out = append(out, passage{Down, above, r})
		}
	}
	return out
}

// felt is how surely a change is noticed against an upshift: a coasting downshift hides much (common practice, no source).
func (x passage) felt() float64 {
	if x.by == Down {
		return 0.75
	}
	return 1
}

// brings reports whether an element comes on in the change, lets reports whether it lets go.
func (x passage) brings(id string) bool {
	return slices.Contains(x.to.Applied, id) && !slices.Contains(x.from.Applied, id)
}

func (x passage) lets(id string) bool {
	return slices.Contains(x.from.Applied, id) && !slices.Contains(x.to.Applied, id)
}

// grips reports whether an element must take hold in the change: the one named, or, for "", any that is pressed together.
func (p *predictor) grips(x passage, part string) bool {
	if part != "" {
		return x.brings(part)
	}
	return slices.ContainsFunc(p.u.Elements, func(e unitsheet.Element) bool { return e.Kind.Friction() && x.brings(e.ID) })
}

// change says what a change of range does, from what a steady fault makes of both ranges.
func (p *predictor) change(x passage, got map[string]gearing.Result) {
	r, from := x.to, x.from
	before, ok1 := got[from.ID]
	after, ok2 := got[r.ID]
	if !ok1 || !ok2 || same(before, from.Healthy.Result) && same(after, r.Healthy.Result) {
		return
	}
	driven := func(g gearing.Result) bool { return g.Outcome == gearing.Forward || g.Outcome == gearing.Reverse }
	say := func(state string, certainty float64, detail string) {
		p.say(r, x.by, state, certainty*x.felt(), detail)
	}
	switch {
	case before.Outcome == gearing.Neutral && after.Outcome == gearing.Neutral && x.by == Shift:
		say("missing", 0.6, "nothing is driven before or after")
	case !driven(before):
		p.hide(r, x.by) // nothing to shift from
	case x.by == Down && same(before, r.Healthy.Result):
		p.hide(r, Down) // it was never left
	case driven(after) && same(before, after):
		say("missing", Certain, p.gear(r, after))
	case after.Outcome == gearing.Neutral:
		say("flare", 0.7, "neutral: the engine runs up")
	case after.Outcome == gearing.Bind:
		say("tie-up", 0.8, "ties up")
	case same(after, r.Healthy.Result) && !same(before, from.Healthy.Result):
		say("harsh", 0.45, "comes in one step: "+p.gear(from, before)+" before it")
	case !same(after, r.Healthy.Result) && math.Abs(after.Ratio) > math.Abs(before.Ratio)*(1+1e-6):
		say("flare", 0.7, p.gear(r, after)+": the engine speeds up") // it falls to a lower gear
	case !same(after, r.Healthy.Result):
		say("missing", 0.6, p.gear(r, after))
	}
}
