package decide

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/diagnose"
	"innercompass/core/estimate"
	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/unitsheet"
)

// Of what a design is known for (judgement, until the shop's own failures tell).
const (
	getsIt     = 0.4    // share of units that ever fail in a way that their design is known for
	insideOf   = 0.8    // share of those failures that come inside the distances that the sheet names
	UsualAhead = 50_000 // km that are looked ahead
	mostDueNow = 3      // works that are proposed together
	suspected  = 0.1    // probability from which a failure belongs to the complaint, not to what may come
)

// Prevention is a failure that the design is known for, and what it is worth to put it right before it comes.
type Prevention struct {
	Cause    knowledge.Cause
	Note     string // of the sheet
	From, To float64
	Chance   float64          // that it comes within the distance looked ahead, given that it has not come yet
	Option   knowledge.Option // the cheapest that cures it from where the vehicle stands
	Open     bool             // what opens the vehicle up for it is open already
	Now      money.Amount     // the option alone, from where the vehicle stands; the fluid belongs to the work that the unit is out for
	Later    money.Amount     // what it costs when it comes: diagnosis, repair from the ground, what it takes along
	Missing  bool             // the option has no price
}

// Expected is what waiting costs in the mean.
func (p Prevention) Expected() money.Amount { return money.Of(p.Chance * p.Later.Major()) }

// Saves is what doing it now saves against waiting, in the mean; negative when it can wait.
func (p Prevention) Saves() money.Amount { return p.Expected() - p.Now }

// Due reports whether to do it now costs less than to wait.
func (p Prevention) Due() bool { return !p.Missing && p.Saves() > 0 }

// AheadRests says what the chances of Prevention rest on.
const AheadRests = "Four in ten units are taken to fail so at all; common practice, no source." // getsIt

// chanceAhead is the probability that a failure comes between d and d + ahead when it has not come by d. The distances of those that
// fail are log-normal with the share insideOf between from and to, all in km; d is more than 0.
func chanceAhead(from, to, d, ahead float64) float64 {
	from = math.Max(from, to/10)
	middle := (math.Log(from) + math.Log(to)) / 2
	spread := math.Max(math.Log(to/from)/(2*math.Sqrt2*math.Erfinv(insideOf)), 0.05)
	failed := func(km float64) float64 { return 0.5 * math.Erfc((middle-math.Log(km))/(spread*math.Sqrt2)) }
	by, then := failed(d), failed(d+ahead)
	return getsIt * (then - by) / (1 - getsIt*by)
}

// prevent lists what the design is known for and may still come, what saves most first; nothing without the distance.
func (m *Model) prevent(ch Choices, f figures) []Prevention {
	d, ahead := m.a.Distance(), ch.Ahead
	if ahead <= 0 {
		ahead = UsualAhead
	}
	if d <= 0 {
		return nil
	}
	var out []Prevention
	for _, k := range m.n.Unit.Known {
		i := m.place(k.Cause)
		from, to := diagnose.KnownWindow(k)
		if i < 0 || k.Cause == knowledge.NothingWrong || to <= 0 || m.probability(i, f) >= suspected {
			continue
		}
		p := Prevention{Cause: m.n.Causes[i], Note: k.Note, From: from, To: to, Chance: chanceAhead(from, to, d, ahead), Later: money.Of(m.returnCost(i, f.Rates) - f.Rates.Goodwill)}
		found := false
		for o, x := range m.options {
			if x.Strategy != "targeted" || x.chance[i] < curesIt || m.refusal(x.Option) != "" {
				continue
			}
			sum := m.price.Total(m.aside(m.bill([]pick{m.pick(o, ch)}, f).Lines))
			missing := len(sum.Missing) > 0
			if !found || p.Missing && !missing || p.Missing == missing && sum.Pay < p.Now {
				p.Option, p.Now, p.Missing, found = x.Option, sum.Pay, missing, true
				p.Open = x.level > unitsheet.Ground && x.level <= m.price.From
			}
		}
		if found {
			out = append(out, p)
		}
	}
	slices.SortStableFunc(out, func(a, b Prevention) int {
		return cmp.Compare(b.Saves(), a.Saves())
	})
	return out
}

// aside leaves out the fluid where it is drained for other work: it is filled again anyway.
func (m *Model) aside(lines []estimate.Line) []estimate.Line {
	if m.price.From < unitsheet.ValveBodyOff {
		return lines
	}
	return slices.DeleteFunc(lines, func(l estimate.Line) bool { return l.Kind == estimate.Fluid })
}

// dueNow are the works that cost less now than waiting for the failure.
func (m *Model) dueNow(ch Choices, f figures) []pick {
	var out []pick
	for _, p := range m.prevent(ch, f) {
		i := m.option(p.Option.ID)
		if p.Due() && len(out) < mostDueNow && !slices.ContainsFunc(out, func(x pick) bool { return x.option == i }) {
			out = append(out, m.pick(i, ch))
		}
	}
	return out
}
