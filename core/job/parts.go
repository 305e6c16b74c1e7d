package job

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/preorder"
	"innercompass/core/pricebook"
	"innercompass/core/unitsheet"
	"innercompass/core/workbench"
)

// Why a part may be needed.
const (
	InWork  = "work"  // the work renews it
	Once    = "once"  // it comes out and is never used again
	Company = "with"  // it always goes with another
	Noted   = "noted" // it was noted at the bench
	Maybe   = "maybe" // it may be found bad
)

// Part is a part of the stack that the visit may take, or a kit of several.
type Part struct {
	ID, Name, Kind string
	Kit            bool
	Holds          []string // names of the parts of a kit
	Index          int      // in the stack; −1 of a kit
	Count          int      // pieces
	Why            string
	With           string // what it goes with, and why
	School         string // that says so, where practitioners differ
	Need           float64
	Needs          []float64 // by hypothesis
	Price          float64
	From           pricebook.From
	Stock          Stock
	Lead           float64 // days until it is here when ordered now
	preorder.Choice
}

// Sure reports whether the part is needed whatever is found.
func (p Part) Sure() bool { return p.Need >= 0.9995 }

// On reports whether it is here, or on its way.
func (p Part) On() bool { return slices.Contains(Stocks, p.Stock.State) }

// leastNeed is how likely a part must be needed to be listed.
const leastNeed = 0.02

// way are the parts that come out for the works, in order; none of a sheet without parts.
func (v Visit) way() []int {
	s := v.Network.Unit.Stack
	var targets []int
	deepest := v.deepest()
	for _, w := range v.Works {
		own := v.renewed(w.Option)
		if w.Option.Strategy == "thorough" || len(own) == 0 && w.Level == unitsheet.UnitApart {
			for i := 1; i < len(s.Parts); i++ {
				if within(s.Parts[i].Access, w.Level) {
					own = append(own, i)
				}
			}
		}
		for _, i := range own {
			if within(s.Parts[i].Access, deepest) {
				targets = append(targets, i)
			}
		}
	}
	// Whatever the way to a level takes out: pan, valve body, converter.
	for i := 1; i < len(s.Parts); i++ {
		if l, err := unitsheet.ParseAccess(s.Parts[i].Access); err == nil && l <= min(deepest, unitsheet.UnitOut) && l > unitsheet.Lifted && v.Price.Unit.ClimbMinutes[l] > 0 {
			targets = append(targets, i)
		}
	}
	slices.Sort(targets)
	return slices.DeleteFunc(s.Way(v.Bench.Gone, slices.Compact(targets)), func(i int) bool { return !within(s.Parts[i].Access, deepest) })
}

func within(access string, level unitsheet.Access) bool {
	l, err := unitsheet.ParseAccess(access)
	return err == nil && l <= level
}

// renewed are the parts that an option renews: those of its kinds, of its element alone where it is for one, and those that it names.
func (v Visit) renewed(o knowledge.Option) []int {
	u := v.Network.Unit
	_, of, own := strings.Cut(o.ID, ".")
	serves := []string{of}
	for _, s := range u.Sheet.Shared {
		if s.ID == of {
			serves = s.Serves
		}
	}
	control := ""
	for _, c := range u.Controls {
		if c.ID == of {
			control = c.Name
		}
	}
	var out []int
	for i, p := range u.Stack.Parts {
		kind := slices.Contains(o.Renews, p.Kind)
		if own && p.Name != control && !slices.ContainsFunc(p.Of, func(e string) bool { return slices.Contains(serves, e) }) {
			kind = false
		}
		if i > 0 && (kind || slices.Contains(o.Renews, p.ID)) {
			out = append(out, i)
		}
	}
	return out
}

// parts are what the visit takes or may take, kits in place of their parts where they are cheaper, with what to order before opening; and
// what orders cost in expectation, as advised and without any.
func (v Visit) parts(a *diagnose.Assessment) (parts []Part, ordering, without float64) {
	if v.Bench == nil {
		return nil, 0, 0
	}
	shares := sharesOf(a)
	parts = v.kits(v.needed(a, shares), shares)
	items := make([]preorder.Item, len(parts))
	none := make([]bool, len(parts))
	held := make([]bool, len(parts))
	for k := range parts {
		p := &parts[k]
		p.Stock = v.stock(p.ID)
		p.Lead = v.lead(p.Stock)
		items[k] = preorder.Item{ID: p.ID, Need: p.Needs, Delay: p.Lead * v.Terms.PerDay * v.Terms.Bay, Return: p.Price*v.Terms.Restock + v.Terms.SendBack, Held: p.On()}
	}
	for k, c := range preorder.Plan(items, shares) {
		parts[k].Choice = c
		held[k] = c.Order
	}
	slices.SortStableFunc(parts, func(x, y Part) int { return cmp.Compare(y.Need, x.Need) })
	return parts, preorder.Cost(items, shares, held), preorder.Cost(items, shares, none)
}

// sharesOf are the hypotheses' probabilities; one that is sure when nothing is known.
func sharesOf(a *diagnose.Assessment) []float64 {
	var out []float64
	sum := 0.0
	for _, h := range a.Hypotheses {
		out = append(out, h.Share)
		sum += h.Share
	}
	if sum <= 0 {
		return []float64{1}
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// mean of a chance by hypothesis.
func mean(needs, shares []float64) float64 {
	sum := 0.0
	for h, share := range shares {
		sum += share * needs[h]
	}
	return sum
}

// stock is where a part is: by itself, or in a kit that is here or on its way.
func (v Visit) stock(id string) Stock {
	if st, ok := v.Stock[id]; ok {
		return st
	}
	for _, k := range v.Network.Unit.Stack.Sheet.Kits {
		if st, ok := v.Stock["kit."+k.ID]; ok && slices.Contains(k.Parts, id) {
			return st
		}
	}
	return Stock{}
}

// lead is how many days it takes until a part is here.
func (v Visit) lead(s Stock) float64 {
	switch {
	case s.State == "shelf", s.State == "here":
		return 0
	case s.State == "ordered" && s.Days >= 0:
		return s.Days
	}
	return v.Terms.Lead
}

// Lacks is how many days it takes until all is here that the visit needs whatever is found: 0 when it is. It asks no diagnosis.
func (v Visit) Lacks() float64 {
	if v.Bench == nil {
		return 0
	}
	days := 0.0
	for _, p := range v.sure() {
		days = max(days, v.lead(v.stock(p.ID)))
	}
	return days
}

// sure are the parts that are needed whatever is found.
func (v Visit) sure() []Part {
	return v.listed([]float64{1}, func(int) []float64 { return []float64{0} })
}

// needed are the parts of the way with how surely each is needed.
func (v Visit) needed(a *diagnose.Assessment, shares []float64) []Part {
	see := a.Foresee(a.Hypotheses, a.Present)
	has := func(finding, state string) bool {
		f, ok := v.Network.Finding(finding)
		return ok && slices.ContainsFunc(f.States, func(s knowledge.FindingState) bool { return s.ID == state })
	}
	// A finding that several parts share, such as the state of the gear set, says of each that it may be one of them.
	said := make([][]workbench.Saying, len(v.Network.Unit.Stack.Parts))
	alike := map[workbench.Saying]int{}
	for i := 1; i < len(said); i++ {
		said[i] = v.Bench.Sound(i, has)
		for _, s := range said[i] {
			alike[s]++
		}
	}
	return v.listed(shares, func(i int) []float64 { return bad(see, said[i], alike, len(shares)) })
}

// listed are the parts with how surely each is needed, given the chance, by hypothesis, that one is found bad.
func (v Visit) listed(shares []float64, bad func(i int) []float64) []Part {
	u := v.Network.Unit
	var renewed []int
	for _, w := range v.Works {
		renewed = append(renewed, v.renewed(w.Option)...)
	}
	works := map[int]string{}
	for i, n := range v.Bench.Works() {
		works[i] = n.Ref
	}
	on := v.way()
	in := v.Bench.Built() // is in its place again, whatever it was
	deepest := v.deepest()
	by := map[int]*Part{}
	for i, p := range u.Stack.Parts {
		// What comes out, what is out, and with the unit apart whatever may be found bad in what came out whole.
		out := slices.Contains(on, i) || v.Bench.Gone[i]
		if i == 0 || slices.Contains(in, i) || !out && (deepest < unitsheet.UnitApart || !within(p.Access, deepest)) {
			continue
		}
		x := &Part{ID: p.ID, Name: p.Name, Kind: p.Kind, Index: i, Count: p.Pieces(), Needs: make([]float64, len(shares))}
		switch work, verdict := works[i], v.Bench.Verdict(i); {
		case work == "clean" || work == "reuse" || work == "machine":
			continue
		case work != "", verdict != "" && verdict != "kept" && verdict != "differs":
			x.Why = Noted
		case slices.Contains(renewed, i):
			x.Why = InWork
		case p.Once && out:
			x.Why = Once
		case verdict == "kept":
			continue
		default:
			x.Why, x.Needs = Maybe, bad(i)
		}
		if x.Why != Maybe {
			for h := range x.Needs {
				x.Needs[h] = 1
			}
		}
		by[i] = x
	}
	v.company(by)
	var out []Part
	for _, i := range slices.Sorted(maps.Keys(by)) {
		x := by[i]
		x.Need = mean(x.Needs, shares)
		x.Price, x.From = v.priceOf(x.ID, x.Kind)
		if x.Need >= leastNeed {
			out = append(out, *x)
		}
	}
	return out
}

// bad is the chance, by hypothesis, that a part is found bad: that the worst of the findings that would call it sound does not, shared out
// among the parts that it speaks of.
func bad(see *diagnose.Predictions, said []workbench.Saying, alike map[workbench.Saying]int, hypotheses int) []float64 {
	out := make([]float64, hypotheses)
	for h := range out {
		sound := 1.0
		for _, s := range said {
			if p := see.Truly(s.Finding, s.State); p != nil {
				sound = min(sound, p[h])
			}
		}
		if len(said) > 0 {
			out[h] = 1 - math.Pow(sound, 1/float64(alike[said[0]]))
		}
	}
	return out
}

// company makes what always goes with a part needed as surely as that part.
func (v Visit) company(by map[int]*Part) {
	s := v.Network.Unit.Stack
	for _, c := range s.Sheet.Company {
		with, ok := by[s.Index(c.With)]
		if !ok {
			continue
		}
		for _, id := range c.Parts {
			x, ok := by[s.Index(id)]
			if !ok || x.Why == Once || x.Why == InWork || x.Why == Noted {
				continue
			}
			more := false
			for h := range x.Needs {
				if with.Needs[h] > x.Needs[h] {
					x.Needs[h], more = with.Needs[h], true
				}
			}
			if more {
				x.Why, x.With, x.School = Company, fmt.Sprintf("%s: %s", with.Name, c.Why), c.School
			}
		}
	}
}

// kits puts kits in the place of their parts where the parts would be dearer in expectation. One part is in one kit.
func (v Visit) kits(parts []Part, shares []float64) []Part {
	u := v.Network.Unit
	for _, k := range u.Stack.Sheet.Kits {
		kit := Part{ID: "kit." + k.ID, Name: "Kit: " + k.Name, Kit: true, Index: -1, Count: 1, Why: Maybe}
		single, whole := 0.0, 0.0
		for _, id := range k.Parts {
			price, _ := v.priceOf(id, u.Stack.Parts[u.Stack.Index(id)].Kind)
			whole += price
		}
		var rest []Part
		for _, p := range parts {
			if p.Kit || !slices.Contains(k.Parts, p.ID) {
				rest = append(rest, p)
				continue
			}
			if kit.Needs == nil {
				kit.Needs = make([]float64, len(p.Needs))
			}
			for h := range kit.Needs {
				kit.Needs[h] = 1 - (1-kit.Needs[h])*(1-p.Needs[h])
			}
			kit.Holds = append(kit.Holds, p.Name)
			if p.Why != Maybe && kit.Why == Maybe {
				kit.Why = p.Why
			}
			single += p.Need * p.Price
		}
		kit.Price, kit.From = v.Price.Book.Kit(u.Sheet.ID, k.ID, whole)
		if kit.From == pricebook.Guide && !v.Price.Rates.Guide {
			continue
		}
		if len(kit.Holds) > 1 && kit.Price < single {
			kit.Need = mean(kit.Needs, shares)
			parts = append(rest, kit)
		}
	}
	return parts
}
