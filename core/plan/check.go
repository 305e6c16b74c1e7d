package plan

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
)

// VehicleState is where the vehicle is and what has been ruled out.
type VehicleState struct {
	Access  unitsheet.Access
	Skipped []string // checks that cannot be done here
	Warm    bool     // the fluid is hot
}

// Result is one outcome of a check.
type Result struct {
	Finding, State string
	Probability    float64
	Leader         string // cause that would lead
	LeaderShare    float64
	Moves          float64 // change of the present leader's probability, absolute
}

// Advice is a check with what it is worth.
type Advice struct {
	Check           knowledge.Check
	Again           bool     // all that it shows was read before, and once: what surprises is looked at twice
	Minutes         float64  // of the check itself, with what must be known or done before it
	AccessMinutes   float64  // minutes to reach its access level from here
	Along           []string // checks that are worth doing on the same climb, none when it is reached without one
	AlongMinutes    float64  // what they take
	First           []string // findings that must be read before it
	Saves           float64  // expected money saved, its own cost taken off
	InformationGain float64  // expected drop of entropy of the hypotheses, nats
	Results         []Result
}

// Spent is the time that a check takes from here with what is done on the same climb, minutes.
func (a Advice) Spent() float64 { return math.Max(a.Minutes+a.AlongMinutes+a.AccessMinutes, 1) }

// Recommendation is the advice of the moment: the best checks, or the reason to stop.
type Recommendation struct {
	Best     []Advice // at most three; empty when nothing is worth checking
	Stop     string   // why to stop, in words, when Best is empty
	Drive    Advice   // the cell of the road test that would tell most; its Check is empty when none is left
	RepairBy float64  // expected cost of repair from here without any further check
	InVain   float64  // what the repair of the leader costs for nothing from here, when it is something else
	Doubt    float64  // probability that it is something else
}

// Limits of the value of a check.
const (
	jointLimit = 64 // result combinations of one check; findings beyond it are left out, which only lowers its value
	warmUp     = 10 // minutes to bring the fluid to heat
	coolDown   = 25 // minutes to bring a vehicle in again cold, most of them spent on other work
	tellsAny   = 1e-5
	tellsAgain = 1e-3 // what is hardly in doubt is not looked at again
)

// planner values checks for one assessment from one stand.
type planner struct {
	a       *diagnose.Assessment
	stand   VehicleState
	eco     Economics
	weights []float64 // of the hypotheses
	repairs *repairs
	see     *diagnose.Predictions
	p       []float64 // scratch, by cause
}

func newPlanner(a *diagnose.Assessment, stand VehicleState, eco Economics) *planner {
	weights := make([]float64, len(a.Hypotheses))
	for i, h := range a.Hypotheses {
		weights[i] = h.Share
	}
	return &planner{a: a, stand: stand, eco: eco, weights: weights, repairs: newRepairs(a.Network, eco, a.Hypotheses), see: a.Foresee(a.Hypotheses, a.Present), p: make([]float64, len(a.Network.Causes))}
}

// Next offers the checks that save more than they cost from where the vehicle stands: expected cost of repair now, less
// that after each result, less the check's own cost with the way to it [1]; first the one that tells most for its minutes. A
// result can save only if it would change what is done, so what is free and safe comes before what is cheap without
// being told to.
func Next(a *diagnose.Assessment, stand VehicleState, eco Economics) Recommendation {
	p := newPlanner(a, stand, eco)
	out := Recommendation{RepairBy: p.repairs.expected(p.weights, stand.Access), Drive: p.drive(), InVain: p.repairs.inVain(a.Order[0], stand.Access), Doubt: 1 - a.Suspects[0].Probability}
	for _, v := range p.advise(out.RepairBy) {
		if v.Saves > 0 {
			out.Best = append(out.Best, v)
		}
	}
	out.Best = p.worthwhile(out.Best)
	p.order(out.Best)
	if len(out.Best) > 0 { // what is done on the climb of the first is not offered beside it
		along := out.Best[0].Along
		out.Best = slices.DeleteFunc(out.Best, func(v Advice) bool { return slices.Contains(along, v.Check.ID) })
	}
	out.Best = out.Best[:min(3, len(out.Best))]
	for i := range out.Best {
		p.addResults(&out.Best[i])
	}
	if len(out.Best) == 0 {
		out.Best = p.unsettled()
	}
	if len(out.Best) == 0 {
		out.Stop = stopReason(a)
	}
	return out
}

// Advise values every check that can be done from here and would tell anything, worth its cost or not, in the order
// of the network; for comparing ways of choosing.
func Advise(a *diagnose.Assessment, stand VehicleState, eco Economics) []Advice {
	p := newPlanner(a, stand, eco)
	return p.advise(p.repairs.expected(p.weights, stand.Access))
}

func (p *planner) advise(now float64) []Advice {
	var out []Advice
	for _, c := range p.a.Network.Checks {
		if c.Drive() && len(c.Yields) == 1 && !p.a.Seen(p.a.Network.FindingAt[c.Yields[0]]) {
			continue // one drive fills the whole grid
		}
		if v, ok := p.value(c, now); ok {
			out = append(out, v)
		}
	}
	p.climbs(out, now)
	return out
}

// open reports whether a check can be done from here.
func (p *planner) open(c knowledge.Check) bool {
	if slices.Contains(p.stand.Skipped, c.ID) {
		return false
	}
	if c.Until != "" {
		until, _ := unitsheet.ParseAccess(c.Until)
		return p.stand.Access <= until
	}
	return true
}

// candidates are the predictions of the findings that a check would add, the most telling first. When it was done, it can be
// done once more to see whether what was read stands.
func (p *planner) candidates(c knowledge.Check) (out []*diagnose.Prediction, again bool) {
	again = !slices.ContainsFunc(c.Yields, func(y string) bool { return !p.a.Seen(p.a.Network.FindingAt[y]) })
	least := tellsAny
	if again {
		least = tellsAgain
	}
	for _, y := range c.Yields {
		f := p.a.Network.FindingAt[y]
		if again && !p.a.Doubtful(f) || !again && p.a.Seen(f) {
			continue
		}
		if x := p.see.Of(f); x.InformationGain > least {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(x, y *diagnose.Prediction) int { return cmp.Compare(y.InformationGain, x.InformationGain) })
	combos := 1
	for i, x := range out {
		if combos *= len(x.Outcomes); combos > jointLimit {
			return out[:i], again
		}
	}
	return out, again
}

// value is what a check saves from here, where the repair would cost now; false when it cannot be done or tells nothing.
func (p *planner) value(c knowledge.Check, now float64) (Advice, bool) {
	if !p.open(c) {
		return Advice{}, false
	}
	told, again := p.candidates(c)
	if len(told) == 0 {
		return Advice{}, false
	}
	need, _ := unitsheet.ParseAccess(c.Access)
	out := Advice{Check: c, Again: again, Minutes: c.Minutes, AccessMinutes: p.a.Network.Unit.AccessMinutes(p.stand.Access, need)}
	p.before(&out)
	for _, x := range told {
		out.InformationGain += x.InformationGain
	}
	if c.Drive() {
		out.Check.Yields = p.foremost(c.Yields, told)
	}
	price := (out.Minutes + out.AccessMinutes) / 60 * p.eco.LabourRate
	from := max(p.stand.Access, need)
	// No result can be worth more than knowing the truth.
	most := now - dot(p.repairs.known(from), p.weights)
	if most <= price {
		out.Saves = most - price
		return out, true
	}
	expected := 0.0
	diagnose.EachOutcome(told, p.weights, func(_ diagnose.Outcome, mass float64, after []float64) {
		if mass < leastMass {
			expected += mass * now // too unlikely to be worth a plan of its own
			return
		}
		expected += p.repairs.expected(after, from)
	})
	out.Saves = math.Min(now-expected, most) - price // repairs are chosen greedily, so that the first may come out above the second
	return out, true
}

// foremost puts what tells most first: where a drive begins.
func (p *planner) foremost(yields []string, told []*diagnose.Prediction) []string {
	var out []string
	for _, x := range told {
		out = append(out, p.a.Network.Findings[x.Outcomes[0].Finding].ID)
	}
	for _, y := range yields {
		if !slices.Contains(out, y) {
			out = append(out, y)
		}
	}
	return out
}

func dot(a, b []float64) float64 {
	out := 0.0
	for i, x := range a {
		out += x * b[i]
	}
	return out
}

// before adds what must be known or done before a check means anything.
func (p *planner) before(out *Advice) {
	n := p.a.Network
	for _, id := range out.Check.First {
		f, ok := n.FindingAt[id]
		if !ok || p.a.Seen(f) {
			continue
		}
		out.First = append(out.First, id)
		least := math.Inf(1)
		for _, c := range n.Checks {
			if slices.Contains(c.Yields, id) {
				least = math.Min(least, c.Minutes)
			}
		}
		if !math.IsInf(least, 1) {
			out.Minutes += least
		}
	}
	switch {
	case out.Check.Fluid == "hot" && !p.stand.Warm:
		out.Minutes += warmUp
	case out.Check.Fluid == "cold" && p.stand.Warm:
		out.Minutes += coolDown
	}
}

// addResults adds what each result of a check would mean: those of the finding that moves the leader most.
func (p *planner) addResults(a *Advice) {
	most, lead := -1.0, p.leads()
	told, _ := p.candidates(a.Check)
	for _, x := range told {
		var results []Result
		moves := 0.0
		diagnose.EachOutcome([]*diagnose.Prediction{x}, p.weights, func(at diagnose.Outcome, mass float64, after []float64) {
			r := p.result(at, mass, after, lead)
			results = append(results, r)
			moves += mass * r.Moves
		})
		if moves > most {
			most, a.Results = moves, results
		}
	}
	slices.SortStableFunc(a.Results, func(x, y Result) int { return cmp.Compare(y.Probability, x.Probability) })
}

// leads is the weight of the hypotheses with the present leader.
func (p *planner) leads() float64 {
	out := 0.0
	for i, h := range p.see.Hypotheses {
		if slices.Contains(h.Causes, p.a.Order[0]) {
			out += p.weights[i]
		}
	}
	return out
}

func (p *planner) result(at diagnose.Outcome, mass float64, after []float64, led float64) Result {
	n := p.a.Network
	clear(p.p)
	best, lead := 0, p.a.Order[0]
	for i, w := range after {
		for _, c := range p.see.Hypotheses[i].Causes {
			p.p[c] += w
			if p.p[c] > p.p[best] {
				best = c
			}
		}
	}
	mass = math.Max(mass, 1e-300)
	f := n.Findings[at.Finding]
	return Result{f.ID, f.States[at.State].ID, mass, n.Causes[best].ID, p.p[best] / mass, math.Abs(p.p[lead]/mass - led)}
}

// Why says what the likeliest result of a check would mean, and the one that would change most.
func (a Advice) Why(n *knowledge.Network) string {
	if len(a.Results) == 0 {
		return a.Check.Tells
	}
	say := func(r Result) string {
		f, _ := n.Finding(r.Finding)
		c, _ := n.Cause(r.Leader)
		shown := f.StateTitle(r.State)
		switch {
		case f.Stage == "code":
			code, _, _ := strings.Cut(f.Title, " ")
			shown = code + " is " + shown
		case len(a.Check.Yields) > 1: // of several it must be said which
			shown = "“" + f.Title + "” is " + shown
		}
		return fmt.Sprintf("If %s (%.0f\u00a0%%): %s, %.0f\u00a0%%.", shown, 100*r.Probability, c.Title, 100*r.LeaderShare)
	}
	s := say(a.Results[0])
	if len(a.Results) == 1 {
		return s
	}
	other := slices.MaxFunc(a.Results[1:], func(x, y Result) int { return cmp.Compare(x.Probability*x.Moves, y.Probability*y.Moves) })
	return s + " " + say(other)
}

// drive returns the undriven cell of the road test that would tell most (largest expected drop of entropy), or a
// zero Advice when none is left or the vehicle cannot be driven as it stands.
func (p *planner) drive() Advice {
	if p.stand.Access > unitsheet.Lifted {
		return Advice{}
	}
	best := Advice{InformationGain: tellsAny}
	for _, c := range p.a.Network.Checks {
		if len(c.Yields) != 1 || !knowledge.IsRoad(c.Yields[0]) || slices.Contains(p.stand.Skipped, c.ID) {
			continue
		}
		f := p.a.Network.FindingAt[c.Yields[0]]
		if p.a.Seen(f) {
			continue
		}
		if x := p.see.Of(f); x.InformationGain > best.InformationGain {
			best = Advice{Check: c, Minutes: c.Minutes, InformationGain: x.InformationGain}
		}
	}
	if best.Check.ID == "" {
		return Advice{}
	}
	p.addResults(&best)
	return best
}
