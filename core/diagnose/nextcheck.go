package diagnose

import (
	"fmt"
	"math"
	"slices"
	"sort"

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
	Minutes float64 // of the check itself
	Climb   float64 // minutes to reach its access level from here
	Saves   float64 // expected money saved, its own cost taken off
	PerMin  float64 // the same per minute spent
	Results []Result
}

// Heading is the advice of the moment: the best checks, or the reason to stop.
type Heading struct {
	Best     []Advice // at most three; empty when nothing is worth checking
	Stop     string   // why to stop, in words, when Best is empty
	RepairBy float64  // expected cost of repair from here without any further check
}

// negligible is the probability under which a cause does not change what a repair is expected to
// cost: a tenth of a per mille of any repair is under the rounding on screen.
const negligible = 1e-4

// jointLimit is the most result combinations of one check that are weighed; findings beyond it are
// left out of the value, which can only make a check look less useful than it is.
const jointLimit = 64

// Next ranks the checks by expected saving per minute from where the vehicle stands: expected
// cost of repair now, less that after each result, less the check's own cost with climbing.
// A result can save only if it would change what is done, so what is free and safe comes
// before what is cheap without being told to.
func (n *Network) Next(readings []Reading, stand Stand, eco Economics) (Heading, error) {
	e, err := n.evidence(readings)
	if err != nil {
		return Heading{}, err
	}
	post := e.posterior(-1)
	seen := map[string]bool{}
	for _, r := range readings {
		seen[r.Finding] = true
	}
	now := n.ExpectedRepair(post, stand.Access, eco)
	out := Heading{RepairBy: now}
	for _, c := range n.Checks {
		if slices.Contains(stand.Skipped, c.ID) || slices.Contains(stand.Done, c.ID) {
			continue
		}
		if a, ok := n.value(c, post, seen, stand, eco, now); ok && a.Saves > 0 {
			out.Best = append(out.Best, a)
		}
	}
	sort.SliceStable(out.Best, func(i, j int) bool { return out.Best[i].PerMin > out.Best[j].PerMin })
	if len(out.Best) > 3 {
		out.Best = out.Best[:3]
	}
	if len(out.Best) == 0 {
		out.Stop = "No check that is left would save more than it costs. Decide."
	}
	return out, nil
}

func (n *Network) value(c Check, post []float64, seen map[string]bool, stand Stand, eco Economics, now float64) (Advice, bool) {
	need, _ := unitsheet.ParseAccess(c.Access)
	if c.Until != "" {
		if until, _ := unitsheet.ParseAccess(c.Until); stand.Access > until {
			return Advice{}, false
		}
	}
	var findings []int
	combos := 1
	for _, y := range c.Yields {
		f := n.finding[y]
		if seen[y] || !n.bears(f, post) || combos*len(n.Findings[f].States) > jointLimit {
			continue
		}
		combos *= len(n.Findings[f].States)
		findings = append(findings, f)
	}
	if len(findings) == 0 {
		return Advice{}, false
	}
	after := max(stand.Access, need)
	a := Advice{Check: c, Minutes: c.Minutes, Climb: n.Unit.Climb(stand.Access, need)}
	expected := 0.0
	n.outcomes(findings, post, func(states []int, p float64, updated []float64) {
		expected += p * n.ExpectedRepair(updated, after, eco)
		if len(a.Results) < 8 {
			a.Results = append(a.Results, n.result(findings[0], states[0], p, updated))
		}
	})
	cost := (a.Minutes + a.Climb) / 60 * eco.LabourRate
	a.Saves = now - expected - cost
	a.PerMin = a.Saves / math.Max(a.Minutes+a.Climb, 1)
	a.Results = mergeResults(a.Results)
	return a, true
}

// bears reports whether any cause that counts changes what this finding shows; if none does,
// no result of it can change the ranking.
func (n *Network) bears(f int, post []float64) bool {
	for c, p := range post {
		if _, ok := n.given[c][f]; ok && p > 1e-3 {
			return true
		}
	}
	return false
}

// outcomes calls visit for every combination of states of the findings, with its probability and
// the posterior that it leads to. A check is taken to be read as reliably as something seen.
func (n *Network) outcomes(findings []int, post []float64, visit func(states []int, p float64, updated []float64)) {
	states := make([]int, len(findings))
	var walk func(k int, weights []float64)
	walk = func(k int, weights []float64) {
		if k == len(findings) {
			p := 0.0
			for _, w := range weights {
				p += w
			}
			if p < 1e-9 {
				return
			}
			updated := make([]float64, len(weights))
			for c := range weights {
				updated[c] = weights[c] / p
			}
			visit(states, p, updated)
			return
		}
		f := findings[k]
		m := len(n.baseline[f])
		right := Sources["seen"]
		for s := range m {
			next := make([]float64, len(weights))
			for c := range weights {
				truth := n.distribution(c, f)[s]
				next[c] = weights[c] * (right*truth + (1-right)*(1-truth)/float64(m-1))
			}
			states[k] = s
			walk(k+1, next)
		}
	}
	walk(0, post)
}

func (n *Network) result(f, s int, p float64, post []float64) Result {
	best := 0
	for c := range post {
		if post[c] > post[best] {
			best = c
		}
	}
	return Result{n.Findings[f].ID, n.Findings[f].States[s].ID, p, n.Causes[best].ID, post[best]}
}

// mergeResults joins combinations that share the first finding's state, most probable first.
func mergeResults(in []Result) []Result {
	var out []Result
	for _, r := range in {
		i := slices.IndexFunc(out, func(o Result) bool { return o.State == r.State })
		if i < 0 {
			out = append(out, r)
			continue
		}
		if r.Probability > out[i].Probability {
			out[i].Leader, out[i].LeaderShare = r.Leader, r.LeaderShare
		}
		out[i].Probability += r.Probability
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Probability > out[j].Probability })
	return out
}

// ExpectedRepair is the expected cost of putting the vehicle right without another check [2]:
// causes are repaired in order of probability over cost, each with a trial after it, until
// exchanging the unit for the rest is cheaper. Money; access is charged once, as the
// sequence goes deeper.
func (n *Network) ExpectedRepair(post []float64, from unitsheet.Access, eco Economics) float64 {
	// Small elements: this sort is the inner loop of every next check.
	type step struct {
		order float64
		cause int32
	}
	steps := make([]step, 0, len(post))
	for c, p := range post {
		if p >= negligible {
			steps = append(steps, step{p / math.Max(n.repairCost(c, from, eco), 1), int32(c)})
		}
	}
	slices.SortFunc(steps, func(a, b step) int {
		if a.order > b.order {
			return -1
		}
		if a.order < b.order {
			return 1
		}
		return 0
	})
	remaining, total, level := 1.0, 0.0, from
	best := n.exchange(level, eco)
	for _, s := range steps {
		total += remaining * n.repairCost(int(s.cause), level, eco)
		remaining = math.Max(0, remaining-post[s.cause])
		level = max(level, n.level[s.cause])
		if total >= best {
			break
		}
		best = math.Min(best, total+remaining*n.exchange(level, eco))
	}
	return best
}

// repairCost is the cost of repairing one cause from an access level, with the trial after it.
func (n *Network) repairCost(c int, from unitsheet.Access, eco Economics) float64 {
	r := n.Causes[c].Repair
	return (r.Hours+n.Unit.Climb(from, n.level[c])/60)*eco.LabourRate + r.Parts + eco.Trial
}

// exchange is the cost of a whole unit from an access level.
func (n *Network) exchange(from unitsheet.Access, eco Economics) float64 {
	x := n.Unit.Sheet.Exchange
	return x.Price + (x.Hours+n.Unit.Climb(from, unitsheet.UnitOut)/60)*eco.LabourRate + eco.Trial
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
func (n *Network) BestDrive(readings []Reading, stand Stand) (Advice, error) {
	e, err := n.evidence(readings)
	if err != nil || stand.Access > unitsheet.Lifted {
		return Advice{}, err
	}
	post := e.posterior(-1)
	now := entropy(post)
	best, gain := Advice{}, 1e-6
	for _, c := range n.Checks {
		if len(c.Yields) != 1 || !isRoad(c.Yields[0]) || slices.Contains(stand.Skipped, c.ID) {
			continue
		}
		f := n.finding[c.Yields[0]]
		if len(e.group[f]) > 0 || !n.bears(f, post) {
			continue
		}
		a := Advice{Check: c, Minutes: c.Minutes}
		after := 0.0
		n.outcomes([]int{f}, post, func(states []int, p float64, updated []float64) {
			after += p * entropy(updated)
			a.Results = append(a.Results, n.result(f, states[0], p, updated))
		})
		if now-after > gain {
			a.Results = mergeResults(a.Results)
			best, gain = a, now-after
		}
	}
	return best, nil
}

func isRoad(finding string) bool { return len(finding) > 5 && finding[:5] == "road." }
