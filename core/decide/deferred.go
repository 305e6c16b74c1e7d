package decide

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"innercompass/core/money"
	"innercompass/core/unitsheet"
)

// How fast what is left alone gets worse (common practice, no source): a fault turns for the worse once in harmDistance on
// average, and destroys what it can within ruinDistance of that.
const (
	harmDistance = 8e6 // metres
	ruinDistance = 1e6
)

// Next is a damage that a suspect will bring about if nothing is done.
type Next struct {
	Title, By   string
	Probability float64      // that it comes about in time and is not there yet
	Cost        money.Amount // of putting it right
}

// HarmDistances are the distances at which the harm of leaving it alone is told, metres.
var HarmDistances = []float64{1e6, 5e6, 20e6}

// Deferral is what leaving it alone means.
type Deferral struct {
	Next     []Next       // by expected cost, the dearest first
	Harm     money.Amount // expected in all, in time
	Interval float64      // metres between two looks; 0 when there is nothing to watch for
	Hazard   string       // why it must not be driven at all; empty when nothing
	Look     money.Amount // what one look costs
}

// HarmBy is what is expected to be destroyed by a distance in metres.
func (w Deferral) HarmBy(distance float64) money.Amount {
	return money.Of(w.Harm.Major() * (1 - math.Exp(-distance/harmDistance)))
}

// Bounds of an interval between two looks, metres.
const (
	leastInterval = 300e3
	mostInterval  = 10e6
)

// interval is the cheapest distance between two looks: looks cost look/I for each metre, and what turned for the worse is
// found half an interval late, which costs harm/ruin for each metre of it: I² = 2·look·L·ruin/harm (inspection at even
// intervals, a textbook model; recomputed in the tests by search).
func interval(look, harm float64) float64 {
	if harm <= 0 {
		return mostInterval
	}
	best := math.Sqrt(2 * look * harmDistance * ruinDistance / harm)
	return math.Min(mostInterval, math.Max(leastInterval, 100e3*math.Round(best/100e3)))
}

// maxNext is how many damages to come are shown.
const maxNext = 6

// watch works out what comes of leaving it alone.
func (m *Model) watch(f figures) Deferral {
	var w Deferral
	there := map[string]float64{}
	for _, d := range m.a.Damages {
		there[d.Node.ID] = d.Probability
	}
	type coming struct {
		Next
		id   string
		miss float64
		best float64
	}
	var all []coming
	at := map[string]int{}
	left := map[int]float64{}
	for i, c := range m.n.Causes {
		p := m.share[i]
		if f.cause == i {
			p = f.share
		}
		if p < likely {
			continue
		}
		if c.Hazard != "" {
			left[i] = p
		}
		for _, b := range m.n.Brings(i) {
			k, ok := at[b.Node.ID]
			if !ok {
				k = len(all)
				at[b.Node.ID] = k
				level, _ := unitsheet.ParseAccess(b.Node.Repair.Access)
				cost := (b.Node.Repair.Hours+m.n.Unit.AccessMinutes(unitsheet.Ground, level)/60)*f.Rates.Labour + b.Node.Repair.Parts
				all = append(all, coming{Next: Next{Title: b.Node.Title, Cost: money.Of(cost * (1 + f.Rates.Tax))}, id: b.Node.ID, miss: 1})
			}
			all[k].miss *= 1 - p*b.P
			if p*b.P > all[k].best {
				all[k].best, all[k].By = p*b.P, c.Title
			}
		}
	}
	for _, x := range all {
		// The network says what is there by now; where it is not, it may still come about, just as surely.
		if x.Probability = (1 - x.miss) * (1 - there[x.id]); x.Probability > likely {
			w.Harm += money.Of(x.Cost.Major() * x.Probability)
			w.Next = append(w.Next, x.Next)
		}
	}
	slices.SortStableFunc(w.Next, func(a, b Next) int {
		return cmp.Compare(float64(b.Cost)*b.Probability, float64(a.Cost)*a.Probability)
	})
	w.Next = w.Next[:min(maxNext, len(w.Next))]
	w.Look = money.Of(0.5 * f.Rates.Labour * (1 + f.Rates.Tax))
	w.Interval = interval(w.Look.Major(), w.Harm.Major())
	if w.Hazard = m.hazard(left); w.Hazard != "" {
		w.Interval = 0
	}
	return w
}

// AddOn is a further option that is worth doing in the same visit.
type AddOn struct {
	Option, Title string
	Extra         money.Amount // that it adds to what is paid
	Saves         money.Amount // expected cost of a return that it takes away
	Access        bool         // what opens the vehicle up is paid for already
}

// maxAddOns is how many are shown.
const maxAddOns = 4

// AddOns lists what would be worth doing while the vehicle is open for an option, by what is left of its saving: its own
// causes are repaired for the work alone, and no longer bring it back.
func (m *Model) AddOns(option string, ch Choices) ([]AddOn, error) {
	f, err := m.figures(ch.Set)
	if err != nil {
		return nil, err
	}
	i := m.option(option)
	if i < 0 {
		return nil, &FigureError{"option", fmt.Sprintf("%q", option), "an id of the options"}
	}
	base := m.full(i, ch, f)
	if s := m.options[i].Strategy; s == "watch" || s == "exchange" {
		return nil, nil
	}
	pay := m.bill(base, f).Pay
	_, back, _ := m.outcomes(base, f)
	var out []AddOn
	for k, o := range m.options {
		if slices.ContainsFunc(base, func(p pick) bool { return p.option == k }) || o.Strategy != "targeted" || o.level > m.deepest(base) {
			continue
		}
		both := append(base[:len(base):len(base)], m.pick(k, ch))
		sum := m.bill(both, f)
		if len(sum.Missing) > 0 {
			continue
		}
		_, then, _ := m.outcomes(both, f)
		if x := (AddOn{o.ID, o.Title, sum.Pay - pay, money.Of(back - then), o.level > unitsheet.Ground}); x.Saves > x.Extra {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(a, b AddOn) int { return cmp.Compare(b.Saves-b.Extra, a.Saves-a.Extra) })
	return out[:min(maxAddOns, len(out))], nil
}

// Policy is what one way of deciding comes to.
type Policy struct {
	ID, Title, Why string
	Option         string // title of the option; empty when it offers none
	OptionID       string
	Pay, Expected  money.Amount
}

// policies hold the ways of deciding beside each other.
func (m *Model) policies(rows []Row, ceiling money.Amount) []Policy {
	leader := -1
	if len(m.a.Suspects) > 0 {
		leader = m.place(m.a.Suspects[0].Cause.ID)
	}
	able := func(r Row) bool { return r.Hazard == "" && len(r.Missing) == 0 }
	first := func(good func(Row) bool, dearer func(a, b Row) bool) (Row, bool) {
		var best Row
		found := false
		for _, r := range rows {
			if able(r) && good(r) && (!found || dearer(best, r)) {
				best, found = r, true
			}
		}
		return best, found
	}
	expected := func(a, b Row) bool { return a.Expected > b.Expected }
	sure := func(a, b Row) bool { return a.Pay > b.Pay }
	var out []Policy
	add := func(id, title, why string, good func(Row) bool, dearer func(a, b Row) bool) {
		p := Policy{ID: id, Title: title, Why: why}
		if r, ok := first(good, dearer); ok {
			p.Option, p.OptionID, p.Pay, p.Expected = r.Title(), r.Option.ID, r.Pay, r.Expected
		}
		out = append(out, p)
	}
	add("targeted", "Targeted", "what failed and what it harmed", func(r Row) bool { return r.Option.Strategy == "targeted" && r.Cured >= settled }, expected)
	add("thorough", "Thorough", "with the unit out, everything that wears", func(r Row) bool { return r.Option.Strategy == "thorough" || r.Option.Strategy == "exchange" }, expected)
	add("warranty", "Warranty scope", "the failed part alone, as little as cures it", func(r Row) bool {
		return r.Option.Strategy == "targeted" && leader >= 0 && m.options[m.option(r.Option.ID)].chance[leader] >= settled
	}, sure)
	if ceiling > 0 {
		add("ceiling", "Under the ceiling", "the cheapest in expectation that stays under it", func(r Row) bool { return !r.Over }, expected)
	}
	return out
}
