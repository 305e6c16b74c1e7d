// Package decide compares repair options on one money axis: what is paid now, what a return
// would cost, and how likely it is.
//
// Model. An option costs access, labour, parts and fluid for sure, with a stated spread. It
// cures each cause with a chance of its own. What it does not cure comes back: a return
// costs a new diagnosis, goodwill, the repair of the true cause from the ground, and the harm
// done meanwhile. Expected total = sure cost + Σ P(cause)·(1 − chance)·return(cause).
// Chances and harm are judgement until the shop's outcomes correct them. Reference: H. Raiffa,
// Decision Analysis, 1968. Units: the shop's currency.
package decide

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/unitsheet"
)

// Rates are the shop's figures.
type Rates struct {
	Labour     float64 // per hour
	FluidLitre float64 // per litre
	Rediagnose float64 // hours to diagnose a return
	Goodwill   float64 // what a return costs beyond the work
	Trial      float64 // closing and road test
	Currency   string  // sign before amounts in sentences
}

// Row is one option with its costs.
type Row struct {
	Option   diagnose.Option
	Labour   float64 // parts of the sure cost
	Parts    float64
	Fluid    float64
	Sure     float64
	Cured    float64 // probability that the vehicle does not come back for this
	Return   float64 // expected cost of a return
	Expected float64 // in all
	Low      float64 // 5 and 95 of 100 cases
	High     float64
	Cures    int // suspects above one per cent that it cures
	Of       int // suspects above one per cent
}

// Comparison is the options in order, the cheapest in expectation first.
type Comparison struct {
	Rows      []Row
	Headline  string // what to do, or that it is too early, in words
	BreakEven BreakEven
}

// BreakEven says what would have to be different for the runner-up to win.
type BreakEven struct {
	RunnerUp string  // option id; "" when there is only one
	Price    float64 // sure cost at which the winner loses
	Cured    float64 // chance of cure under which the winner loses; negative: never
	Sentence string
}

// minShare is the share of suspicion below which an option for it is not worth a row.
const minShare = 0.1

// maxTargeted is how many targeted options are laid out; the cheapest in expectation stay. The other schools
// are always there to compare with.
const maxTargeted = 5

// settled is the chance of cure under which the cheapest option is no recommendation: paying little for
// what most likely fails is cheap only on paper.
const settled = 0.5

// Compare evaluates the options of a network for a ranking, from where the vehicle stands. Only
// options that cure something suspected are kept, besides those of the schools exchange,
// thorough and watch, which are always open.
func Compare(n *diagnose.Network, a *diagnose.Assessment, from unitsheet.Access, rates Rates) Comparison {
	var out Comparison
	for _, o := range n.Options {
		row := evaluate(n, o, a, from, rates)
		if row.Cured >= minShare || o.School != "targeted" {
			out.Rows = append(out.Rows, row)
		}
	}
	sort.SliceStable(out.Rows, func(i, j int) bool { return out.Rows[i].Expected < out.Rows[j].Expected })
	targeted := 0
	out.Rows = slices.DeleteFunc(out.Rows, func(r Row) bool {
		if r.Option.School == "targeted" {
			targeted++
		}
		return r.Option.School == "targeted" && targeted > maxTargeted
	})
	out.Headline = headline(out.Rows)
	out.BreakEven = breakEven(out.Rows, rates.Currency)
	return out
}

func headline(rows []Row) string {
	if len(rows) == 0 {
		return "No option is known for these suspects."
	}
	if best := rows[0]; best.Cured < settled {
		return fmt.Sprintf("Too early to decide: the cheapest option leaves %.0f of 100 such vehicles uncured.", 100*(1-best.Cured))
	}
	return rows[0].Option.Title
}

func evaluate(n *diagnose.Network, o diagnose.Option, a *diagnose.Assessment, from unitsheet.Access, rates Rates) Row {
	level, _ := unitsheet.ParseAccess(o.Access)
	row := Row{Option: o, Parts: o.Parts}
	row.Labour = (o.Hours + n.Unit.Climb(from, level)/60) * rates.Labour
	if o.School == "exchange" {
		row.Parts += n.Unit.Sheet.Exchange.Price
		row.Labour += n.Unit.Sheet.Exchange.Hours * rates.Labour
	}
	row.Fluid = litres(n.Unit, o.Fluid) * rates.FluidLitre
	row.Sure = row.Labour + row.Parts + row.Fluid
	chance := chances(n, o)
	var outcomes []outcome
	for _, h := range a.Hypotheses {
		for _, x := range returns(n, h, chance, rates) {
			row.Return += x.p * x.back
			outcomes = append(outcomes, x)
			if x.back == 0 {
				row.Cured += x.p
			}
		}
	}
	for _, s := range a.Suspects {
		if s.Probability > 0.01 {
			row.Of++
			if chance[s.Cause.ID] >= 0.5 {
				row.Cures++
			}
		}
	}
	row.Expected = row.Sure + row.Return
	row.Low = quantile(outcomes, row.Sure, o.Spread*row.Sure, 0.05)
	row.High = quantile(outcomes, row.Sure, o.Spread*row.Sure, 0.95)
	return row
}

// chances are the chances of cure by cause; a later entry of the option overrides an earlier one,
// so that "everything but" can be said.
func chances(n *diagnose.Network, o diagnose.Option) map[string]float64 {
	out := map[string]float64{}
	for _, cure := range o.Cures {
		for _, i := range n.Matching(cure.Cause) {
			id := n.Causes[i].ID
			out[id] = cure.Chance
		}
	}
	return out
}

func litres(u *unitsheet.Unit, fluid string) float64 {
	switch fluid {
	case "refill":
		return u.Refill.SI * 1000
	case "fill":
		return u.Capacity.SI * 1000
	}
	return 0
}

func returnCost(n *diagnose.Network, c diagnose.Cause, rates Rates) float64 {
	level, _ := unitsheet.ParseAccess(c.Repair.Access)
	hours := rates.Rediagnose + c.Repair.Hours + n.Unit.Climb(unitsheet.Ground, level)/60
	return hours*rates.Labour + c.Repair.Parts + rates.Goodwill + rates.Trial + c.Harm
}

type outcome struct{ p, back float64 }

// returns are the outcomes for a set of causes: each is cured or not by itself, and the vehicle returns once for
// those that are left, which costs the dearest of them.
func returns(n *diagnose.Network, h diagnose.Hypothesis, chance map[string]float64, rates Rates) []outcome {
	out := []outcome{{h.Share, 0}}
	for _, i := range h.Causes {
		c := n.Causes[i]
		back := returnCost(n, c, rates)
		miss := 1 - chance[c.ID]
		if c.ID == diagnose.NothingWrong || miss == 0 {
			continue // nothing to cure, nothing to come back
		}
		for _, x := range out {
			out = append(out, outcome{x.p * miss, math.Max(x.back, back)})
		}
		for k := range len(out) / 2 {
			out[k].p *= 1 - miss
		}
	}
	return out
}

// quantile of sure cost (normal, deviation sd, not below zero) plus the return of one outcome.
func quantile(outcomes []outcome, sure, sd, q float64) float64 {
	low, high := 0.0, sure+6*sd
	for _, o := range outcomes {
		high = math.Max(high, sure+o.back+6*sd)
	}
	for range 60 {
		mid := (low + high) / 2
		p := 0.0
		for _, o := range outcomes {
			p += o.p * below(mid, sure+o.back, sd)
		}
		if p < q {
			low = mid
		} else {
			high = mid
		}
	}
	return high
}

func below(x, mean, sd float64) float64 {
	if sd == 0 {
		if mean <= x {
			return 1
		}
		return 0
	}
	return 0.5 * math.Erfc((mean-x)/(sd*math.Sqrt2))
}

func breakEven(rows []Row, currency string) BreakEven {
	if len(rows) < 2 {
		return BreakEven{}
	}
	win, next := rows[0], rows[1]
	out := BreakEven{RunnerUp: next.Option.ID, Price: win.Sure + next.Expected - win.Expected}
	// Cost of a return, averaged over what the winner leaves uncured, sets the slope.
	lost := 1 - win.Cured
	slope := win.Return / math.Max(lost, 1e-9)
	if lost < 1e-6 || slope <= 0 {
		out.Cured = -1
	} else {
		out.Cured = win.Cured - (next.Expected-win.Expected)/slope
	}
	out.Sentence = sentence(win, next, out, currency)
	return out
}

func sentence(win, next Row, b BreakEven, currency string) string {
	s := fmt.Sprintf("“%s” would have to cost %s", win.Option.Title, Money(currency, b.Price))
	if b.Cured > 0 {
		s += fmt.Sprintf(", or cure fewer than %.0f of 100,", 100*b.Cured)
	}
	return s + fmt.Sprintf(" for “%s” to win.", next.Option.Title)
}

// Money writes an amount in whole units with commas between thousands.
func Money(currency string, v float64) string {
	s := fmt.Sprintf("%.0f", math.Abs(v))
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	if v <= -0.5 {
		s = "−" + s
	}
	return strings.TrimSpace(currency + "\u00a0" + s)
}

// Find returns the row of an option.
func (c Comparison) Find(id string) (Row, bool) {
	i := slices.IndexFunc(c.Rows, func(r Row) bool { return r.Option.ID == id })
	if i < 0 {
		return Row{}, false
	}
	return c.Rows[i], true
}
