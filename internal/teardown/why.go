package teardown

import (
	"cmp"
	"context"
	"math"
	"slices"
	"strings"

	"innercompass/core/burnt"
	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/core/workbench"
	"innercompass/internal/cases"
	"innercompass/internal/shop"
)

// Glaze is what a glazed lining keeps of its friction: judgment.
var glaze = burnt.Value{Is: 0.75, U: 0.08}

// Damaged is one element that was found damaged, with why it may have burned.
type Damaged struct {
	Element, Name, Damage string // Damage: what was found, in words
	burnt.Answer
	Feed  []string        // the oil's way to its piston
	Roots []diagnose.Root // that can do that on this design, the likeliest first
	Found string          // id of the root when it is found, else empty
	Tell  map[string]Telling
}

// Telling is what would tell a condition: an instrument, with the part that it is for.
type Telling struct{ Instrument, Part, Title string }

// Why asks for every element that was found damaged why it burned.
func (s *Service) Why(ctx context.Context, id string) ([]Damaged, shop.Settings, error) {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return nil, shop.Settings{}, err
	}
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return nil, st, err
	}
	a, err := s.Assessing.Assess(ctx, n, c.Situation(c.Valid()), false)
	if err != nil {
		return nil, st, err
	}
	share := shares(a.Assessment)
	bench := workbench.New(n.Unit, c.BenchNotes())
	var out []Damaged
	for _, e := range n.Unit.Elements {
		says, hurt := damage(c, n, bench, e)
		if !hurt {
			continue
		}
		d := Damaged{Element: e.ID, Name: e.Name, Damage: says, Roots: diagnose.RootsOf(n, e.ID, share), Tell: tells(e)}
		if d.Answer, err = burnt.Ask(n.Unit, e.ID, foundOf(c, n.Unit, bench, e)); err != nil {
			return nil, st, err
		}
		if f, ok := n.Unit.Feed(e.ID); ok {
			for _, p := range f.Path {
				d.Feed = append(d.Feed, p.Name)
			}
		}
		d.Found = diagnose.Found(d.Roots)
		out = append(out, d)
	}
	return out, st, nil
}

// Unexplained are the names of elements that were found burnt or worn and that this root is not known to damage.
func Unexplained(c cases.Case, n *knowledge.Network, root string) []string {
	bench := workbench.New(n.Unit, c.BenchNotes())
	var out []string
	for _, e := range n.Unit.Elements {
		if _, hurt := damage(c, n, bench, e); !hurt {
			continue
		}
		if !slices.ContainsFunc(diagnose.RootsOf(n, e.ID, nil), func(r diagnose.Root) bool { return r.ID == root }) {
			out = append(out, e.Name)
		}
	}
	return out
}

// NoRoot are the names of elements that were found burnt or worn and whose root is not found by what is suspected.
func NoRoot(c cases.Case, n *knowledge.Network, a *diagnose.Assessment) []string {
	share := shares(a)
	bench := workbench.New(n.Unit, c.BenchNotes())
	var out []string
	for _, e := range n.Unit.Elements {
		if _, hurt := damage(c, n, bench, e); hurt && diagnose.Found(diagnose.RootsOf(n, e.ID, share)) == "" {
			out = append(out, e.Name)
		}
	}
	return out
}

// shares are the probabilities of the suspects by their ids.
func shares(a *diagnose.Assessment) map[string]float64 {
	out := map[string]float64{}
	for _, x := range a.Suspects {
		out[x.Cause.ID] = x.Probability
	}
	return out
}

// Renewed are the names of the parts that were renewed or upgraded, by the bench.
func Renewed(c cases.Case, n *knowledge.Network) []string {
	bench := workbench.New(n.Unit, c.BenchNotes())
	if bench == nil {
		return nil
	}
	works := bench.Works()
	var out []string
	for i, p := range n.Unit.Stack.Parts {
		name := p.Name
		for _, b := range p.Better {
			if works[i].Ref == "upgrade "+b.ID {
				name += ", " + b.Name
			}
		}
		if ref := works[i].Ref; ref == "renew" || strings.HasPrefix(ref, "upgrade ") {
			out = append(out, name)
		}
	}
	return out
}

// damage is what was found on the lining of an element, in words, and whether it is damage of slip.
func damage(c cases.Case, n *knowledge.Network, bench *workbench.Bench, e unitsheet.Element) (string, bool) {
	if !burnt.Burns(e) {
		return "", false
	}
	for _, r := range c.Valid() {
		if (r.Finding == "plates."+e.ID || r.Finding == "band."+e.ID) && (r.State == "burnt" || r.State == "worn") {
			f, _ := n.Finding(r.Finding)
			return f.StateTitle(r.State), true
		}
	}
	if bench == nil {
		return "", false
	}
	for i, p := range n.Unit.Stack.Parts {
		if slices.Contains(p.Of, e.ID) && (p.Kind == "pack" || p.Kind == "band") && (bench.Verdict(i) == "burnt" || bench.Verdict(i) == "worn") {
			return bench.Verdict(i), true
		}
	}
	return "", false
}

// foundOf gathers what the case knows of an element and its oil.
func foundOf(c cases.Case, u *unitsheet.Unit, bench *workbench.Bench, e unitsheet.Element) burnt.Found {
	f := burnt.Found{Pressure: pressureOf(c, u, e)}
	for _, m := range c.Kept() {
		if m.Instrument == "air-check:"+e.ID {
			held, err1 := quantity.Parse(m.Values["held"], quantity.Pressure, "bar")
			supply, err2 := quantity.Parse(cmp.Or(m.Values["supply"], "3.5 bar"), quantity.Pressure, "bar")
			if err1 == nil && err2 == nil && supply.SI > 0 {
				f.Held = &burnt.Value{Is: min(1, held.SI/supply.SI), U: 0.02}
			}
		}
	}
	for _, r := range c.Valid() {
		if r.Finding == "plates."+e.ID && r.State == "glazed" {
			f.Lining = &glaze
		}
	}
	if bench == nil {
		return f
	}
	for _, o := range bench.Owns {
		i := u.Stack.Index(o.Part)
		if o.Ref == "count" && i >= 0 && u.Stack.Parts[i].Kind == "pack" && slices.Contains(u.Stack.Parts[i].Of, e.ID) {
			f.Plates = workbench.WholeNumber(o.Value + " " + o.Words)
		}
	}
	return f
}

// pressureOf is line pressure as read in the ranges that use an element, over the middle of their windows; nil when it was not read.
func pressureOf(c cases.Case, u *unitsheet.Unit, e unitsheet.Element) *burnt.Value {
	sum, n, width := 0.0, 0.0, 0.0
	for _, m := range c.Kept() {
		if m.Instrument != "line-pressure" {
			continue
		}
		sum, n, width = 0, 0, 0
		for _, r := range u.Ranges {
			q, err := quantity.Parse(m.Values[r.ID], quantity.Pressure, "psi")
			if err != nil || !slices.Contains(r.Applied, e.ID) || !unitsheet.Known(r.LineIdle.Low) {
				continue
			}
			mid := (r.LineIdle.Low.SI + r.LineIdle.High.SI) / 2
			sum, n = sum+q.SI/mid, n+1
			// Where in its window a healthy unit would stand is not known: evenly within it.
			width += (r.LineIdle.High.SI - r.LineIdle.Low.SI) / mid / math.Sqrt(12)
		}
	}
	if n == 0 {
		return nil
	}
	return &burnt.Value{Is: sum / n, U: math.Hypot(width/n, measure.Standard(0.02, 0))}
}

// tells is what would tell each condition of an element.
func tells(e unitsheet.Element) map[string]Telling {
	return map[string]Telling{
		"pressure": {"line-pressure", "", "Line pressure by range"},
		"leak":     {"air-check", e.ID, "Air held by the circuit"},
		"lining":   {"", "", "a look at the lining: glazed, or worn"},
		"plates":   {"", "", "count the plates on the bench"},
		"spring":   {"", "", "load of the return springs at fitted height"},
	}
}
