// Package preorder says which parts to order before a unit is opened: a part that is needed and not there keeps the bay until it comes; one
// that is there and not needed goes back, at a price.
//
// One part by itself is the newsvendor's question with a demand of none or one: order it when the chance of need reaches the critical share
// Co/(Cu + Co), the price of return over itself and the price of the delay (K. J. Arrow, T. Harris, J. Marschak, Optimal inventory policy,
// Econometrica 19, 1951). Several parts share one delay, that of the latest, and are needed together or not by what is wrong: their orders
// are weighed together over the hypotheses of the diagnosis, given each of which needs are independent.
package preorder

import (
	"cmp"
	"slices"
)

// Item is what may be ordered: a part, or a kit.
type Item struct {
	ID     string
	Need   []float64 // chance that it is needed, by hypothesis
	Delay  float64   // what waiting for it costs when it is not there, money
	Return float64   // what it costs when it is there and not needed, money
	Held   bool      // it is here or on its way: no question
}

// Choice is what to do about an item.
type Choice struct {
	Need  float64 // chance that it is needed
	Share float64 // critical share from which it would be ordered by itself
	Order bool
	Saves float64 // what doing otherwise would cost more, money, with all else as chosen
}

// Critical is the chance of need from which an item is ordered by itself: 0 when nothing is lost by a return, 1 when nothing is by a delay.
func Critical(delay, giveBack float64) float64 {
	if delay+giveBack <= 0 {
		return 1
	}
	return giveBack / (delay + giveBack)
}

// Plan chooses what to order. Shares are the hypotheses' probabilities, adding to 1. It starts from each item by itself, from nothing, from
// everything and from what is likeliest, and changes one or two at a time as long as that is cheaper in expectation.
func Plan(items []Item, shares []float64) []Choice {
	c := newCosting(items, shares)
	out := make([]Choice, len(items))
	single := make([]bool, len(items))
	for i, x := range items {
		out[i].Need = c.need[i]
		out[i].Share = Critical(x.Delay, x.Return)
		single[i] = x.Held || out[i].Need > 0 && out[i].Need >= out[i].Share
	}
	order, best := c.descend(single)
	for _, start := range c.starts() {
		if o, cost := c.descend(start); cost < best-least {
			order, best = o, cost
		}
	}
	for i := range items {
		out[i].Order = order[i]
		order[i] = !order[i]
		out[i].Saves = c.of(order) - best
		order[i] = !order[i]
	}
	return out
}

// starts are nothing, everything that may be needed, and the cheapest set of those needed more surely than the rest.
func (c *costing) starts() [][]bool {
	from := func(need float64) []bool {
		out := make([]bool, len(c.items))
		for i, x := range c.items {
			out[i] = x.Held || c.need[i] > 0 && c.need[i] >= need
		}
		return out
	}
	likely := from(2)
	for _, need := range c.need {
		if o := from(need); c.of(o) < c.of(likely) {
			likely = o
		}
	}
	return [][]bool{from(2), from(0), likely}
}

// descend changes one or two orders at a time as long as that is cheaper.
func (c *costing) descend(start []bool) ([]bool, float64) {
	order := slices.Clone(start)
	best := c.of(order)
	for {
		i, j, cost := c.step(order, best)
		if i < 0 {
			return order, best
		}
		order[i] = !order[i]
		if j != i {
			order[j] = !order[j]
		}
		best = cost
	}
}

// Cost is what a choice of orders is expected to cost.
func Cost(items []Item, shares []float64, order []bool) float64 {
	return newCosting(items, shares).of(order)
}

func mean(p, shares []float64) float64 {
	sum := 0.0
	for h, s := range shares {
		sum += s * p[h]
	}
	return sum
}

// costing has the items by their delay, the longest first.
type costing struct {
	items  []Item
	shares []float64
	need   []float64
	by     []int
}

func newCosting(items []Item, shares []float64) *costing {
	c := &costing{items: items, shares: shares}
	for i, x := range items {
		c.need = append(c.need, mean(x.Need, shares))
		c.by = append(c.by, i)
	}
	slices.SortStableFunc(c.by, func(a, b int) int { return cmp.Compare(items[b].Delay, items[a].Delay) })
	return c
}

// least gain for which an order is changed, money: below it rounding decides.
const least = 1e-9

// step is the change of one or two items that saves most; i is −1 when none does.
func (c *costing) step(order []bool, now float64) (i, j int, cost float64) {
	i, cost = -1, now-least
	try := func(a, b int) {
		order[a] = !order[a]
		if a != b {
			order[b] = !order[b]
		}
		if x := c.of(order); x < cost {
			i, j, cost = a, b, x
		}
		order[a] = !order[a]
		if a != b {
			order[b] = !order[b]
		}
	}
	for a := range c.items {
		if c.items[a].Held {
			continue
		}
		for b := range a + 1 {
			if !c.items[b].Held {
				try(a, b)
			}
		}
	}
	return i, j, cost
}

// of is the price of returns, and of the latest of what is needed and was not ordered.
func (c *costing) of(order []bool) float64 {
	sum := 0.0
	for i, x := range c.items {
		if order[i] && !x.Held {
			sum += (1 - c.need[i]) * x.Return
		}
	}
	for h, share := range c.shares {
		none := 1.0 // chance that nothing with a longer delay is waited for
		for _, i := range c.by {
			x := &c.items[i]
			if order[i] || x.Held || x.Need[h] == 0 {
				continue
			}
			sum += share * none * x.Need[h] * x.Delay
			if none *= 1 - x.Need[h]; none <= 0 {
				break
			}
		}
	}
	return sum
}
