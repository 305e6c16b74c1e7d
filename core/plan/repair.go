package plan

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
)

// Economics are the shop's figures that decide what a check is worth.
type Economics struct {
	LabourRate float64 // money per hour
	Trial      float64 // money for closing up and a road test after a repair that might not have been the one
}

// TrialHours is the time to close up and drive after a repair that might not have been the one (common practice, no source).
const TrialHours = 0.7

// At are the economics of a shop with a labour rate.
func At(labourRate float64) Economics {
	return Economics{LabourRate: labourRate, Trial: TrialHours * labourRate}
}

// leastMass is the share of hypotheses under which they do not change what a repair is expected to cost.
const leastMass = 2e-3

// repairs computes what it costs to put a vehicle right without another check [1]. It holds scratch space and is for
// one goroutine.
type repairs struct {
	n         *knowledge.Network
	eco       Economics
	cause     []int                          // causes that matter, by place
	cost      []float64                      // by place: of the repair by itself, without access and trial
	visit     [][]float64                    // by access level that the vehicle stands at and place: with access and trial
	rest      []float64                      // by place: after an exchange of the unit that did not cure it
	unit      []float64                      // by access level: of an exchange, with trial
	of        [][]int                        // by place: hypotheses that it is part of
	level     []unitsheet.Access             // by place
	p         []float64                      // by place: weight of the hypotheses with it
	fixed     []bool                         // by place
	begin     []int                          // places that are put right on the first visit; none when the unit is exchanged
	beginCost float64                        // of that visit
	left      []candidate                    // scratch: places that are likely enough to matter, and not yet put right
	open      []int                          // by hypothesis: causes that are not put right
	sets      [][]int                        // by hypothesis: places
	extra     []float64                      // by hypothesis: what an exchange leaves to do
	sure      map[unitsheet.Access][]float64 // by level and hypothesis: cost when it is known
}

// candidate is a place with what the greedy order asks of it, side by side: this is the innermost loop of every plan.
type candidate struct {
	p, first, cost float64
	place          int
	level          unitsheet.Access
}

// before reports whether a candidate has more probability for its cost than another.
func (c *candidate) before(d *candidate) bool {
	a, b := c.p*d.first, d.p*c.first
	return a > b || a == b && c.place < d.place
}

func newRepairs(n *knowledge.Network, eco Economics, hyps []diagnose.Hypothesis) *repairs {
	r := &repairs{n: n, eco: eco, open: make([]int, len(hyps)), extra: make([]float64, len(hyps)), sure: map[unitsheet.Access][]float64{}}
	place := map[int]int{}
	for i, h := range hyps {
		var set []int
		for _, c := range h.Causes {
			k, ok := place[c]
			if !ok {
				k = len(r.cause)
				place[c] = k
				r.cause, r.of, r.level = append(r.cause, c), append(r.of, nil), append(r.level, n.Level[c])
			}
			r.of[k] = append(r.of[k], i)
			set = append(set, k)
		}
		r.sets = append(r.sets, set)
	}
	r.p, r.fixed = make([]float64, len(r.cause)), make([]bool, len(r.cause))
	for _, c := range r.cause {
		x := n.Causes[c].Repair
		r.cost = append(r.cost, x.Hours*eco.LabourRate+x.Parts)
	}
	for from := range unitsheet.AccessNames {
		at := unitsheet.Access(from)
		row := make([]float64, len(r.cause))
		for k := range row {
			row[k] = r.cost[k] + r.climb(at, r.level[k]) + eco.Trial
		}
		r.visit = append(r.visit, row)
		x := exchange(n.Unit.Sheet)
		r.unit = append(r.unit, x.Price+x.Hours*eco.LabourRate+r.climb(at, unitsheet.UnitOut)+eco.Trial)
	}
	cures := exits(n)
	for k, c := range r.cause {
		r.rest = append(r.rest, (1-cures[c])*r.visit[unitsheet.Ground][k])
	}
	for i, set := range r.sets {
		for _, k := range set {
			r.extra[i] += r.rest[k]
		}
	}
	return r
}

// inVain is what the repair of a cause costs from a level, trial included, and is for nothing when it was something else.
func (r *repairs) inVain(cause int, from unitsheet.Access) float64 {
	x := r.n.Causes[cause].Repair
	return x.Hours*r.eco.LabourRate + x.Parts + r.climb(from, r.n.Level[cause]) + r.eco.Trial
}

func (r *repairs) climb(from, to unitsheet.Access) float64 {
	return r.n.Unit.AccessMinutes(from, to) / 60 * r.eco.LabourRate
}

// A unit whose sheet gives no exchange is weighed with one in the middle of those that ship (judgment): for nothing it would be the
// cheapest way out of every doubt. It is no price that anybody is shown.
const (
	usualExchange      = 2450
	usualExchangeHours = 6
)

func exchange(s unitsheet.Sheet) unitsheet.ExchangeSheet {
	return unitsheet.ExchangeSheet{Price: cmp.Or(s.Exchange.Price, usualExchange), Hours: cmp.Or(s.Exchange.Hours, usualExchangeHours)}
}

// exits are the chances that a whole exchange unit cures each cause.
func exits(n *knowledge.Network) []float64 {
	out := make([]float64, len(n.Causes))
	for _, o := range n.Options {
		if o.Strategy == "exchange" {
			n.SetCures(out, o)
		}
	}
	return out
}

// known is what each hypothesis costs from a level when it is known to be the one.
func (r *repairs) known(from unitsheet.Access) []float64 {
	if x := r.sure[from]; x != nil {
		return x
	}
	out := make([]float64, len(r.sets))
	weights := make([]float64, len(r.sets))
	for i := range out {
		weights[i] = 1
		out[i] = r.expected(weights, from)
		weights[i] = 0
	}
	r.sure[from] = out
	return out
}

// expected is the expected cost of putting the vehicle right for hypotheses of these weights, times their sum. The
// cause with the most probability for its cost is repaired first; with it, while the vehicle is open, whatever is
// cheaper to do now than to risk opening it again; then it is closed and driven. That goes on until exchanging
// the unit for what is left is cheaper.
func (r *repairs) expected(weights []float64, from unitsheet.Access) float64 {
	out := r.greedy(weights, from, r.visit[from])
	if from == unitsheet.Ground {
		return out
	}
	begin, cost := slices.Clone(r.begin), r.beginCost
	if other := r.greedy(weights, from, r.visit[unitsheet.Ground]); other < out { // as if nothing were open yet
		return other
	}
	r.begin, r.beginCost = begin, cost
	return out
}

// greedy is expected with the first repair chosen by these costs, by place.
func (r *repairs) greedy(weights []float64, from unitsheet.Access, first []float64) float64 {
	clear(r.p)
	clear(r.fixed)
	mass, extra := 0.0, 0.0
	for i, w := range weights {
		if w == 0 {
			continue
		}
		mass += w
		extra += w * r.extra[i]
		r.open[i] = len(r.sets[i])
		for _, k := range r.sets[i] {
			r.p[k] += w
		}
	}
	whole := mass
	total, best := 0.0, mass*r.unit[from]+extra
	r.begin, r.beginCost = r.begin[:0], 0
	begun, beginBest := 0, best
	put := func(k int) {
		r.fixed[k] = true
		for _, i := range r.of[k] {
			w := weights[i]
			if w == 0 {
				continue
			}
			extra -= w * r.rest[k]
			if r.open[i]--; r.open[i] == 0 {
				mass -= w
			}
		}
	}
	left := r.left[:0]
	for k, p := range r.p {
		if p < leastMass*whole {
			continue
		}
		c := candidate{p, first[k], r.cost[k], k, r.level[k]}
		left = append(left, c)
		i := len(left) - 1
		for ; i > 0 && c.before(&left[i-1]); i-- {
			left[i] = left[i-1]
		}
		left[i] = c
	}
	r.left = left
	for len(left) > 0 {
		most := left[0]
		left = left[1:]
		if math.IsInf(most.cost, 1) {
			continue // put right on the way
		}
		next := most.place
		before, cost, again := mass, r.visit[from][next], r.visit[unitsheet.Ground][next]-most.cost
		put(next)
		for i := range left {
			if c := &left[i]; c.cost*before < c.p*again && c.level <= most.level {
				cost += c.cost
				put(c.place)
				c.cost = math.Inf(1)
			}
		}
		if begun++; begun == 1 {
			r.beginCost = cost
			for k, fixed := range r.fixed {
				if fixed {
					r.begin = append(r.begin, k)
				}
			}
		}
		if total += before * cost; total >= best {
			break
		}
		from = unitsheet.Ground
		if mass < leastMass*best/math.Max(cost, 1) {
			best = total
			break
		}
		best = math.Min(best, total+math.Max(mass, 0)*r.unit[from]+extra)
	}
	if best >= beginBest { // nothing is cheaper than exchanging the unit at once
		r.begin = r.begin[:0]
	}
	return best
}

// RepairPlan is the next thing to put right when nothing more is checked.
type RepairPlan struct {
	Causes   []string // put right in one visit; none when the unit is exchanged
	Exchange bool
	Cost     float64 // money for this visit, with climbing and the trial after it
}

// PlanRepair returns what to do next without another check.
func PlanRepair(a *diagnose.Assessment, from unitsheet.Access, eco Economics) RepairPlan {
	weights := make([]float64, len(a.Hypotheses))
	for i, h := range a.Hypotheses {
		weights[i] = h.Share
	}
	r := newRepairs(a.Network, eco, a.Hypotheses)
	r.expected(weights, from)
	if len(r.begin) == 0 {
		return RepairPlan{Exchange: true, Cost: r.unit[from]}
	}
	out := RepairPlan{Cost: r.beginCost}
	for _, k := range r.begin {
		out.Causes = append(out.Causes, a.Network.Causes[r.cause[k]].ID)
	}
	return out
}

// KnownCost is what it costs from the ground to put right these causes when they are known to be there.
func KnownCost(n *knowledge.Network, causes []string, eco Economics) float64 {
	var set []int
	for _, id := range causes {
		set = append(set, n.NodeAt[id])
	}
	if len(set) == 0 {
		return 0
	}
	return newRepairs(n, eco, []diagnose.Hypothesis{{Causes: set, Share: 1}}).expected([]float64{1}, unitsheet.Ground)
}

// ExchangeCost is what exchanging the unit costs from an access level, with the trial after it.
func ExchangeCost(n *knowledge.Network, from unitsheet.Access, eco Economics) float64 {
	return newRepairs(n, eco, nil).unit[from]
}

// ExchangeCures is the chance that exchanging the unit cures a cause.
func ExchangeCures(n *knowledge.Network, cause string) float64 { return exits(n)[n.NodeAt[cause]] }
