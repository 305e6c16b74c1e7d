package diagnose

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"innercompass/core/unitsheet"
)

// Economics are the shop's figures that decide what a check is worth.
type Economics struct {
	LabourRate float64 // money per hour
	Trial      float64 // money for closing up and a road test after a repair that might not have been the one
}

// Stand is where the vehicle is and what has been ruled out.
type Stand struct {
	Access  unitsheet.Access
	Skipped []string // checks that cannot be done here
	Done    []string // checks done as a whole
	Warm    bool     // the fluid is hot
}

// Result is one outcome of a check.
type Result struct {
	Finding, State string
	Probability    float64
	Leader         string // cause that would lead
	LeaderShare    float64
}

// Advice is a check with what it is worth.
type Advice struct {
	Check   Check
	Minutes float64  // of the check itself, with what must be known before it
	Climb   float64  // minutes to reach its access level from here
	First   []string // findings that must be read before it
	Saves   float64  // expected money saved, its own cost taken off
	PerMin  float64  // the same per minute spent
	Results []Result
}

// Heading is the advice of the moment: the best checks, or the reason to stop.
type Heading struct {
	Best     []Advice // at most three; empty when nothing is worth checking
	Stop     string   // why to stop, in words, when Best is empty
	RepairBy float64  // expected cost of repair from here without any further check
}

// Limits of the value of a check.
const (
	jointLimit = 64   // result combinations of one check; findings beyond it are left out, which only lowers its value
	leastMass  = 2e-3 // hypotheses and results less likely than this do not change what a repair is expected to cost
	manyCodes  = 8    // codes that are told apart when reading them is valued
	warmUp     = 10   // minutes to bring the fluid to heat
	coolDown   = 25   // minutes to bring a vehicle in again cold, most of them spent on other work
)

// planner values checks for one assessment from one stand.
type planner struct {
	a     *Assessment
	stand Stand
	eco   Economics
	hyps  []Hypothesis
	exits []float64 // by cause: chance that a whole exchange unit cures it
	cost  []float64 // by cause: of the repair by itself, without access and trial
	preds map[int]*prediction
	p     []float64 // scratch, by cause
	used  []int     // scratch: causes in the order of repair
	fixed []bool
}

// prediction is what a finding would show under each hypothesis. Outcomes of a finding that stands for many
// are "none" and the likeliest ones.
type prediction struct {
	states []outcome
	p      [][]float64 // by hypothesis, by outcome
	tells  float64     // expected drop of entropy
}

type outcome struct{ finding, state int }

// Next ranks the checks by expected saving from where the vehicle stands: expected cost of repair now, less
// that after each result, less the check's own cost with climbing [2]. A result can save only if it would change
// what is done, so what is free and safe comes before what is cheap without being told to.
func (a *Assessment) Next(stand Stand, eco Economics) Heading {
	p := a.planner(stand, eco)
	weights := make([]float64, len(p.hyps))
	for i, h := range p.hyps {
		weights[i] = h.Share
	}
	now := p.repair(weights, stand.Access)
	out := Heading{RepairBy: now}
	for _, c := range a.n.Checks {
		if slices.Contains(stand.Skipped, c.ID) || slices.Contains(stand.Done, c.ID) {
			continue
		}
		if v, ok := p.value(c, weights, now); ok && v.Saves > 0 {
			out.Best = append(out.Best, v)
		}
	}
	slices.SortStableFunc(out.Best, func(x, y Advice) int { return cmp.Compare(y.PerMin, x.PerMin) })
	out.Best = out.Best[:min(3, len(out.Best))]
	if len(out.Best) == 0 {
		out.Stop = a.stopReason()
	}
	return out
}

// stopReason says why no check is worth its cost.
func (a *Assessment) stopReason() string {
	const sure, shared = 0.85, 0.6
	lead := a.Suspects[0]
	switch {
	case lead.Probability >= sure:
		return fmt.Sprintf("The cause is clear enough: %s, %.0f\u00a0%%. Whatever a check that is left would show, the same would be done. Decide.", lead.Cause.Title, 100*lead.Probability)
	case a.sameRepair() >= shared:
		return "What is still in doubt is reached by the same work: opening up costs less than telling the suspects apart before. Decide."
	}
	return "No check that is left would save more than it costs. Decide, or lift a check that was set aside."
}

// sameRepair is the share of hypotheses whose repairs lie at the leader's access level.
func (a *Assessment) sameRepair() float64 {
	at := a.n.level[a.order[0]]
	share := 0.0
	for _, h := range a.Hypotheses {
		if !slices.ContainsFunc(h.Causes, func(c int) bool { return a.n.level[c] != at }) {
			share += h.Share
		}
	}
	return share
}

func (a *Assessment) planner(stand Stand, eco Economics) *planner {
	n := a.n
	p := &planner{a: a, stand: stand, eco: eco, preds: map[int]*prediction{}, exits: make([]float64, len(n.Causes)), cost: make([]float64, len(n.Causes)), p: make([]float64, len(n.Causes)), fixed: make([]bool, len(n.Causes))}
	mass := 0.0
	for _, h := range a.Hypotheses {
		if mass > 0.995 {
			break
		}
		mass += h.Share
		p.hyps = append(p.hyps, h)
	}
	for c, x := range n.Causes {
		p.cost[c] = x.Repair.Hours*eco.LabourRate + x.Repair.Parts
	}
	for _, o := range n.Options {
		if o.School != "exchange" {
			continue
		}
		for _, cure := range o.Cures { // later entries override earlier ones: "everything but"
			for _, c := range n.Matching(cure.Cause) {
				p.exits[c] = cure.Chance
			}
		}
	}
	return p
}

// value is what a check saves from here.
func (p *planner) value(c Check, weights []float64, now float64) (Advice, bool) {
	n := p.a.n
	need, _ := unitsheet.ParseAccess(c.Access)
	if c.Until != "" {
		if until, _ := unitsheet.ParseAccess(c.Until); p.stand.Access > until {
			return Advice{}, false
		}
	}
	var told []*prediction
	combos := 1
	for _, y := range c.Yields {
		f := n.finding[y]
		if p.a.e.seen(f) {
			continue
		}
		if x := p.predict(f); x.tells > 1e-5 {
			told = append(told, x)
		}
	}
	slices.SortStableFunc(told, func(x, y *prediction) int { return cmp.Compare(y.tells, x.tells) })
	for i, x := range told {
		if combos *= len(x.states); combos > jointLimit {
			told = told[:i]
			break
		}
	}
	if len(told) == 0 {
		return Advice{}, false
	}
	out := Advice{Check: c, Minutes: c.Minutes, Climb: n.Unit.Climb(p.stand.Access, need)}
	p.before(&out)
	expected := 0.0
	p.outcomes(told, weights, func(first outcome, mass float64, after []float64) {
		expected += p.repair(after, max(p.stand.Access, need))
		out.Results = append(out.Results, p.result(first, mass, after))
	})
	out.Saves = now - expected - (out.Minutes+out.Climb)/60*p.eco.LabourRate
	out.PerMin = out.Saves / math.Max(out.Minutes+out.Climb, 1)
	out.Results = mergeResults(out.Results)
	return out, true
}

// before adds what must be known or done before a check means anything.
func (p *planner) before(out *Advice) {
	n := p.a.n
	for _, id := range out.Check.First {
		f, ok := n.finding[id]
		if !ok || p.a.e.seen(f) {
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

// seen reports whether a finding was read by somebody of the trade. What a customer said can be looked at again.
func (e *evidence) seen(f int) bool {
	return slices.ContainsFunc(e.s.Readings, func(r Reading) bool {
		return e.n.finding[r.Finding] == f && (r.Source != "customer" || e.n.Findings[f].Stage == "complaint")
	})
}

// predict is what a finding would show under each hypothesis, as it would be reported by somebody who looks.
func (p *planner) predict(f int) *prediction {
	if x := p.preds[f]; x != nil {
		return x
	}
	n := p.a.n
	x := &prediction{p: make([][]float64, len(p.hyps))}
	if m := n.members[f]; m != nil {
		p.predictMany(f, m, x)
	} else {
		for s := range n.Findings[f].States {
			x.states = append(x.states, outcome{f, s})
		}
		right := Sources["seen"]
		wrong := (1 - right) / float64(len(x.states)-1)
		for i := range p.hyps {
			dist := n.net.States(f, p.a.present[i])
			if n.Findings[f].History {
				dist = p.a.historyOf(f, p.hyps[i])
			}
			for s, q := range dist {
				dist[s] = right*q + wrong*(1-q)
			}
			x.p[i] = dist
		}
	}
	x.tells = p.information(x)
	p.preds[f] = x
	return x
}

// historyOf is the distribution of a history finding under a hypothesis, by Bayes' theorem from what it does
// to the odds of the causes.
func (a *Assessment) historyOf(f int, h Hypothesis) []float64 {
	out := a.n.baseline(f)
	sum := 0.0
	for s := range out {
		for _, c := range h.Causes {
			for _, w := range a.n.when[c] {
				if w.finding == f && w.state == s {
					out[s] *= w.factor
				}
			}
		}
		sum += out[s]
	}
	for s := range out {
		out[s] /= sum
	}
	return out
}

// predictMany predicts a finding that stands for many, such as the stored codes.
func (p *planner) predictMany(f int, members []int, x *prediction) {
	n := p.a.n
	type one struct {
		finding int
		mean    float64
		by      []float64
	}
	var all []one
	none := make([]float64, len(p.hyps))
	for i := range none {
		none[i] = 1
	}
	for _, m := range members {
		if p.a.e.seen(m) {
			continue
		}
		o := one{m, 0, make([]float64, len(p.hyps))}
		for i, h := range p.hyps {
			o.by[i] = 1 - n.net.States(m, p.a.present[i])[0]
			o.mean += h.Share * o.by[i]
			none[i] *= 1 - o.by[i]
		}
		all = append(all, o)
	}
	slices.SortStableFunc(all, func(a, b one) int { return cmp.Compare(b.mean, a.mean) })
	all = all[:min(manyCodes, len(all))]
	x.states = []outcome{{f, 0}}
	for _, o := range all {
		x.states = append(x.states, outcome{o.finding, 1})
	}
	for i := range p.hyps {
		row := make([]float64, len(x.states))
		sum := 1e-12
		for k, o := range all {
			row[k+1] = o.by[i]
			sum += o.by[i]
		}
		row[0] = none[i]
		for k := range all {
			row[k+1] *= (1 - none[i]) / sum
		}
		x.p[i] = row
	}
}

// information is the expected drop of entropy, in nats: a quick measure of whether a finding tells anything.
func (p *planner) information(x *prediction) float64 {
	out := 0.0
	for s := range x.states {
		mean := 0.0
		for i, h := range p.hyps {
			mean += h.Share * x.p[i][s]
		}
		for i, h := range p.hyps {
			if q := x.p[i][s]; q > 0 && mean > 0 {
				out += h.Share * q * math.Log(q/mean)
			}
		}
	}
	return out
}

// outcomes calls visit for every combination of results, with its probability and the weights of the hypotheses
// that it leaves (adding up to that probability).
func (p *planner) outcomes(told []*prediction, weights []float64, visit func(first outcome, mass float64, after []float64)) {
	buffers := make([][]float64, len(told))
	for i := range buffers {
		buffers[i] = make([]float64, len(weights))
	}
	var walk func(k int, first outcome, w []float64)
	walk = func(k int, first outcome, w []float64) {
		mass := 0.0
		for _, x := range w {
			mass += x
		}
		if k == len(told) {
			visit(first, mass, w)
			return
		}
		if mass < 1e-9 {
			return
		}
		for s, o := range told[k].states {
			next := buffers[k]
			for i, x := range w {
				next[i] = x * told[k].p[i][s]
			}
			at := first
			if k == 0 {
				at = o
			}
			walk(k+1, at, next)
		}
	}
	walk(0, outcome{}, weights)
}

func (p *planner) result(first outcome, mass float64, after []float64) Result {
	n := p.a.n
	clear(p.p)
	best := 0
	for i, w := range after {
		for _, c := range p.hyps[i].Causes {
			p.p[c] += w
			if p.p[c] > p.p[best] {
				best = c
			}
		}
	}
	f := n.Findings[first.finding]
	return Result{f.ID, f.States[first.state].ID, mass, n.Causes[best].ID, p.p[best] / math.Max(mass, 1e-300)}
}

// mergeResults joins combinations that share the first finding's state, most probable first.
func mergeResults(in []Result) []Result {
	var out []Result
	most := map[string]float64{}
	for _, r := range in {
		i := slices.IndexFunc(out, func(o Result) bool { return o.State == r.State && o.Finding == r.Finding })
		if i < 0 {
			out = append(out, r)
			most[r.Finding+r.State] = r.Probability
			continue
		}
		if r.Probability > most[r.Finding+r.State] {
			most[r.Finding+r.State] = r.Probability
			out[i].Leader, out[i].LeaderShare = r.Leader, r.LeaderShare
		}
		out[i].Probability += r.Probability
	}
	slices.SortStableFunc(out, func(a, b Result) int { return cmp.Compare(b.Probability, a.Probability) })
	return out
}

// repair is the expected cost of putting the vehicle right without another check [2], for hypotheses of these
// weights, times their sum. The cause with the most probability for its cost is repaired first; with it, while
// the vehicle is open, whatever is cheaper to do now than to risk opening it again; then it is closed and driven.
// That goes on until exchanging the unit for what is left is cheaper.
func (p *planner) repair(weights []float64, from unitsheet.Access) float64 {
	clear(p.p)
	p.used = p.used[:0]
	mass := 0.0
	for i, w := range weights {
		if w == 0 {
			continue
		}
		mass += w
		for _, c := range p.hyps[i].Causes {
			if p.p[c] == 0 {
				p.used = append(p.used, c)
			}
			p.p[c] += w
		}
	}
	p.used = slices.DeleteFunc(p.used, func(c int) bool { return p.p[c] < leastMass*mass })
	slices.SortFunc(p.used, func(a, b int) int { // small lists: this sort is the inner loop of every next check
		x, y := p.p[a]/p.visit(a, from), p.p[b]/p.visit(b, from)
		if x != y {
			return cmp.Compare(y, x)
		}
		return a - b
	})
	for _, c := range p.used {
		p.fixed[c] = false
	}
	total, best := 0.0, p.exchange(weights, from)
	for k, c := range p.used {
		if p.fixed[c] {
			continue
		}
		cost := p.visit(c, from)
		p.fixed[c] = true
		again := p.again(c)
		for _, d := range p.used[k+1:] {
			if !p.fixed[d] && p.a.n.level[d] <= p.a.n.level[c] && p.cost[d]*mass < p.p[d]*again {
				p.fixed[d] = true
				cost += p.cost[d]
			}
		}
		total += mass * cost
		if total >= best {
			break
		}
		mass = p.left(weights)
		from = unitsheet.Ground
		if mass < leastMass*best/math.Max(cost, 1) {
			best = total
			break
		}
		best = math.Min(best, total+p.exchange(weights, from))
	}
	for _, c := range p.used {
		p.fixed[c] = false
	}
	return best
}

// visit is the cost of repairing one cause from an access level, with the trial after it.
func (p *planner) visit(c int, from unitsheet.Access) float64 {
	return p.cost[c] + p.a.n.Unit.Climb(from, p.a.n.level[c])/60*p.eco.LabourRate + p.eco.Trial
}

// again is the cost of coming back to where a cause lies.
func (p *planner) again(c int) float64 {
	return p.a.n.Unit.Climb(unitsheet.Ground, p.a.n.level[c])/60*p.eco.LabourRate + p.eco.Trial
}

// left is the weight of the hypotheses that are not cured yet.
func (p *planner) left(weights []float64) float64 {
	out := 0.0
	for i, w := range weights {
		if w > 0 && slices.ContainsFunc(p.hyps[i].Causes, func(c int) bool { return !p.fixed[c] && p.p[c] > 0 }) {
			out += w
		}
	}
	return out
}

// exchange is the expected cost of a whole unit for the hypotheses that are left, with the repair of what it
// does not cure, times their weight.
func (p *planner) exchange(weights []float64, from unitsheet.Access) float64 {
	x := p.a.n.Unit.Sheet.Exchange
	unit := x.Price + (x.Hours+p.a.n.Unit.Climb(from, unitsheet.UnitOut)/60)*p.eco.LabourRate + p.eco.Trial
	out := 0.0
	for i, w := range weights {
		if w == 0 {
			continue
		}
		open, rest := false, 0.0
		for _, c := range p.hyps[i].Causes {
			if !p.fixed[c] {
				open = true
				rest += (1 - p.exits[c]) * p.visit(c, unitsheet.Ground)
			}
		}
		if open {
			out += w * (unit + rest)
		}
	}
	return out
}

// Why says in a sentence what the results of a check would mean.
func (n *Network) Why(a Advice) string {
	if len(a.Results) == 0 {
		return a.Check.Tells
	}
	say := func(r Result) string {
		f, _ := n.Finding(r.Finding)
		c, _ := n.Cause(r.Leader)
		return fmt.Sprintf("If %s (%.0f\u00a0%%): %s, %.0f\u00a0%%.", f.StateTitle(r.State), 100*r.Probability, c.Title, 100*r.LeaderShare)
	}
	s := say(a.Results[0])
	for _, r := range a.Results[1:] {
		if r.Leader != a.Results[0].Leader && r.Probability > 0.02 {
			return s + " " + say(r)
		}
	}
	if len(a.Results) > 1 {
		s += " " + say(a.Results[1])
	}
	return s
}

// BestDrive returns the undriven cell of the road test that would tell most (largest expected drop of
// entropy), or a zero Advice when none is left or the vehicle cannot be driven as it stands.
func (a *Assessment) BestDrive(stand Stand) Advice {
	if stand.Access > unitsheet.Lifted {
		return Advice{}
	}
	p := a.planner(stand, Economics{})
	weights := make([]float64, len(p.hyps))
	for i, h := range p.hyps {
		weights[i] = h.Share
	}
	best, gain := Advice{}, 1e-5
	for _, c := range a.n.Checks {
		if len(c.Yields) != 1 || !isRoad(c.Yields[0]) || slices.Contains(stand.Skipped, c.ID) {
			continue
		}
		f := a.n.finding[c.Yields[0]]
		if a.e.seen(f) {
			continue
		}
		x := p.predict(f)
		if x.tells <= gain {
			continue
		}
		best, gain = Advice{Check: c, Minutes: c.Minutes}, x.tells
		p.outcomes([]*prediction{x}, weights, func(first outcome, mass float64, after []float64) {
			best.Results = append(best.Results, p.result(first, mass, after))
		})
		best.Results = mergeResults(best.Results)
	}
	return best
}
