package plan

import (
	"math"
	"slices"

	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
)

// mostSteps is how many checks are planned together at one level.
const mostSteps = 3

// climbs plans ahead where the vehicle must be opened up: whoever has raised it, or has the pan off, does there what else is worth it, and
// the way up is paid once. For each level above the stand the checks are taken together, the best first, as long as they save more
// together; the first of them stands for the climb, with the others beside it. What is alone at its level stays as it is.
func (p *planner) climbs(list []Advice, now float64) {
	byLevel := map[unitsheet.Access][]int{}
	for i, v := range list {
		if level, _ := unitsheet.ParseAccess(v.Check.Access); v.AccessMinutes > 0 && !v.Again && !v.Check.Drive() {
			byLevel[level] = append(byLevel[level], i)
		}
	}
	for _, at := range byLevel {
		if len(at) < 2 {
			continue
		}
		slices.SortStableFunc(at, func(i, j int) int { return afterClimb(list[i], list[j]) })
		if head := &list[at[0]]; head.InformationGain > leastTold {
			p.together(head, list, at[1:min(len(at), mostSteps+1)], now)
		}
	}
}

// afterClimb orders checks by what each minute tells once the vehicle is opened up.
func afterClimb(x, y Advice) int {
	x.AccessMinutes, y.AccessMinutes = 0, 0
	return better(x, y)
}

// together adds to the first check those others that save more with it than it does without.
func (p *planner) together(head *Advice, list []Advice, others []int, now float64) {
	plan, along := head.Check, []string(nil)
	best := *head
	for _, i := range others {
		if len(along) == mostSteps-1 {
			break
		}
		more := merged(plan, list[i])
		v, ok := p.value(more, now)
		if !ok || v.Saves <= best.Saves {
			continue
		}
		best, plan, along = v, more, append(along, list[i].Check.ID)
	}
	if len(along) == 0 {
		return
	}
	head.Along, head.AlongMinutes = along, best.Minutes-head.Minutes
	head.Saves, head.InformationGain = best.Saves, math.Max(head.InformationGain, best.InformationGain)
}

// merged is a check that does another one as well.
func merged(c knowledge.Check, other Advice) knowledge.Check {
	out := c
	out.Yields = slices.Clone(c.Yields)
	for _, y := range other.Check.Yields {
		if !slices.Contains(out.Yields, y) {
			out.Yields = append(out.Yields, y)
		}
	}
	out.First = append(slices.Clone(c.First), other.Check.First...)
	out.Minutes += other.Check.Minutes
	return out
}
