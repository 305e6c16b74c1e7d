package plan

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/diagnose"
	"innercompass/core/unitsheet"
)

// MostSteps is how many checks a path has at most.
const MostSteps = 3

// Limits of a path (judgement).
const (
	settled    = 0.9  // a leader at nine in ten ends the path for those vehicles
	leastShare = 0.01 // of the vehicles at a step, under which a result is not followed by itself
	mostStops  = 4    // stops beyond are joined
)

// Path is the checks that are worth doing one after the other, told of a hundred vehicles with these readings: at each check some are
// settled and leave for their repair, the rest goes on. Shares are of one.
type Path struct {
	Steps  []Step
	End    []Stop  // of those who come to the end of the path
	Points []Point // one more than steps: deciding now, after the first, …; the cheapest ends the path
	Best   int     // the point with the lowest sum, where the path ends
}

// Step is a check of a path.
type Step struct {
	Advice Advice
	Price  float64 // of the check with the way to it, in the shop's money
	Reach  float64 // share of the vehicles that come to it
	Stops  []Stop
	On     float64 // share that goes on behind it
	OnSeen diagnose.Outcome
}

// Stop is where vehicles leave a path: what was seen, and what is repaired.
type Stop struct {
	Share  float64
	Seen   diagnose.Outcome // the likeliest result with which they leave
	Leader int              // cause that is repaired; -1 for several small stops joined
	Right  float64          // share of them for which it is right
	Price  float64          // of its repair from where the vehicle then stands
	Joined int              // how many stops were joined; 0 for one of its own
}

// Point is what deciding at one place of a path costs in expectation: spent on checks by then, and the price of being wrong.
type Point struct {
	Spent float64
	Wrong float64 // share that gets the wrong repair
	Vain  float64 // expected price of that
}

// Sum is what deciding there costs beside the right repair.
func (p Point) Sum() float64 { return p.Spent + p.Vain }

// PathOf plans the next checks, three at most, each for those that the one before did not settle.
func PathOf(a *diagnose.Assessment, stand VehicleState, eco Economics) Path {
	p := newPlanner(a, stand, eco)
	var out Path
	on := []branch{{weights: p.weights, mass: 1}}
	after := []place{{on, stand.Access}}
	left := Point{} // of those who have left
	out.Points = []Point{p.deciding(p.weights, stand.Access)}
	spent := 0.0
	for range MostSteps {
		reach := total(on)
		if reach < leastShare {
			break
		}
		head, ok := p.head(on[0], reach)
		if !ok {
			break
		}
		at := max(p.stand.Access, need(head))
		step := Step{Advice: head, Price: (head.Minutes + head.AccessMinutes) / 60 * eco.LabourRate, Reach: reach}
		spent += reach * step.Price
		on = p.part(&step, on, at, &left)
		p.stand.Access = at
		p.stand.Skipped = append(slices.Clip(p.stand.Skipped), head.Check.ID)
		step.On = total(on)
		out.Steps = append(out.Steps, step)
		here := Point{Spent: spent, Wrong: left.Wrong, Vain: left.Vain}
		for _, b := range on {
			x := p.deciding(b.weights, at)
			here.Wrong, here.Vain = here.Wrong+x.Wrong, here.Vain+x.Vain
		}
		out.Points = append(out.Points, here)
		after = append(after, place{on, at})
	}
	return out.cut(p, after)
}

// place is what is left behind a step, and where the vehicle stands then.
type place struct {
	on []branch
	at unitsheet.Access
}

// cut ends a path where deciding costs least. What is advised as the next check is its first step in any case: it is worth its cost by
// what it saves on all repairs, not on the first alone.
func (out Path) cut(p *planner, after []place) Path {
	out.Best = min(1, len(out.Steps))
	for i := out.Best; i < len(out.Points); i++ {
		if out.Points[i].Sum() < out.Points[out.Best].Sum() {
			out.Best = i
		}
	}
	out.Steps, out.Points = out.Steps[:out.Best], out.Points[:out.Best+1]
	p.stand.Access = after[out.Best].at
	out.End = p.end(after[out.Best].on)
	return out
}

func need(a Advice) unitsheet.Access {
	at, _ := unitsheet.ParseAccess(a.Check.Access)
	return at
}

func sum(w []float64) float64 {
	out := 0.0
	for _, x := range w {
		out += x
	}
	return out
}

// branch is vehicles that showed the same results so far, by hypothesis.
type branch struct {
	weights []float64
	mass    float64
	seen    diagnose.Outcome // the last result
}

func total(on []branch) float64 {
	out := 0.0
	for _, b := range on {
		out += b.mass
	}
	return out
}

// mostBranches is how many results are followed by themselves; the smallest are followed as one.
const mostBranches = 16

// head is the next check of a path: for all, the first of the advice as it is ordered; behind it what saves most for its minutes with the
// likeliest results.
func (p *planner) head(likeliest branch, reach float64) (Advice, bool) {
	q := *p
	q.weights, q.p = scaled(likeliest.weights, 1/likeliest.mass), make([]float64, len(p.p))
	now := q.repairs.expected(q.weights, q.stand.Access)
	var best []Advice
	for _, v := range q.advise(now) {
		if v.Saves > 0 && !q.a.Network.Question(v.Check) {
			best = append(best, v)
		}
	}
	if len(best) == 0 {
		return Advice{}, false
	}
	if reach > 1-1e-9 {
		best = q.worthwhile(best)
		q.order(best)
	} else {
		slices.SortStableFunc(best, func(x, y Advice) int { return cmp.Compare(y.Saves/y.Spent(), x.Saves/x.Spent()) })
	}
	if len(best) == 0 {
		return Advice{}, false
	}
	return best[0], true
}

func scaled(w []float64, by float64) []float64 {
	out := slices.Clone(w)
	for i := range out {
		out[i] *= by
	}
	return out
}

// part divides the vehicles at a step by its results: those that are settled, or for which being wrong costs less than a further check,
// leave; it returns the rest, the likeliest results first.
func (p *planner) part(step *Step, on []branch, at unitsheet.Access, left *Point) []branch {
	told, _ := p.candidates(step.Advice.Check)
	var rest []branch
	stops := map[int]*Stop{}
	likeliest := map[int]float64{}
	each := func(first diagnose.Outcome, mass float64, after []float64) {
		if mass <= 0 {
			return
		}
		lead, share := p.leader(after, mass)
		vain := (1 - share) * p.repairs.inVain(lead, at)
		if share < settled && vain > leastWorth*p.eco.LabourRate {
			rest = append(rest, branch{slices.Clone(after), mass, first})
			return
		}
		s := stops[lead]
		if s == nil {
			s = &Stop{Leader: lead, Price: p.repairs.inVain(lead, at) - p.eco.Trial}
			stops[lead] = s
		}
		s.Share += mass
		s.Right += mass * share
		if mass > likeliest[lead] {
			likeliest[lead], s.Seen = mass, first
		}
		left.Wrong += mass * (1 - share)
		left.Vain += mass * vain
	}
	for _, b := range on {
		diagnose.EachOutcome(told, b.weights, each)
	}
	slices.SortStableFunc(rest, func(x, y branch) int { return cmp.Compare(y.mass, x.mass) })
	if len(rest) > 0 {
		step.OnSeen = rest[0].seen
	}
	for len(rest) > mostBranches {
		small, into := rest[len(rest)-1], &rest[len(rest)-2]
		for i, w := range small.weights {
			into.weights[i] += w
		}
		into.mass += small.mass
		rest = rest[:len(rest)-1]
	}
	step.Stops = sorted(stops)
	return rest
}

// end gives those who come to the end of a path the repair of whoever leads then.
func (p *planner) end(on []branch) []Stop {
	stops := map[int]*Stop{}
	likeliest := map[int]float64{}
	for _, b := range on {
		lead, share := p.leader(b.weights, b.mass)
		s := stops[lead]
		if s == nil {
			s = &Stop{Leader: lead, Price: p.repairs.inVain(lead, p.stand.Access) - p.eco.Trial}
			stops[lead] = s
		}
		s.Share += b.mass
		s.Right += b.mass * share
		if b.mass > likeliest[lead] {
			likeliest[lead], s.Seen = b.mass, b.seen
		}
	}
	return sorted(stops)
}

// sorted are stops, the greatest first, the small ones joined.
func sorted(stops map[int]*Stop) []Stop {
	var out []Stop
	for _, s := range stops {
		s.Right /= s.Share
		out = append(out, *s)
	}
	slices.SortFunc(out, func(x, y Stop) int { return cmp.Or(cmp.Compare(y.Share, x.Share), x.Leader-y.Leader) })
	return joined(out)
}

// leastWorth is the price of being wrong under which no further check is planned, hours of labor.
const leastWorth = 0.5

// joined makes one of the small stops of a step.
func joined(stops []Stop) []Stop {
	keep := len(stops)
	for keep > 0 && (stops[keep-1].Share < leastShare || keep > mostStops) {
		keep--
	}
	if len(stops)-keep < 2 {
		return stops
	}
	more := Stop{Leader: -1, Joined: len(stops) - keep, Seen: stops[keep].Seen}
	for _, s := range stops[keep:] {
		more.Share += s.Share
		more.Right += s.Share * s.Right
		more.Price += s.Share * s.Price
	}
	more.Right, more.Price = more.Right/more.Share, more.Price/more.Share
	return append(stops[:keep:keep], more)
}

// leader is the likeliest cause under some weights, and the share of them that it is part of.
func (p *planner) leader(weights []float64, mass float64) (cause int, share float64) {
	clear(p.p)
	best := p.a.Order[0]
	for i, w := range weights {
		for _, c := range p.see.Hypotheses[i].Causes {
			if p.p[c] += w; p.p[c] > p.p[best] {
				best = c
			}
		}
	}
	return best, math.Min(1, p.p[best]/mass)
}

// deciding is what repairing the leader costs for nothing, when the vehicles with these weights are decided on from a level.
func (p *planner) deciding(weights []float64, from unitsheet.Access) Point {
	mass := sum(weights)
	if mass < 1e-9 {
		return Point{}
	}
	lead, share := p.leader(weights, mass)
	return Point{Wrong: mass * (1 - share), Vain: mass * (1 - share) * p.repairs.inVain(lead, from)}
}
