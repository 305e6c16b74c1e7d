package decide

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"innercompass/core/estimate"
	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/pricebook"
)

// Kinds of figure, as they are written.
const (
	InMoney  = "money"
	InHours  = "hours"
	AsShare  = "share"  // 0 to 1
	AsFactor = "factor" // of chances
)

// Assumption is a number that the comparison rests on and that may be set by hand.
type Assumption struct {
	ID, Title, Kind string
	Now             float64 // major units, hours, share or factor
	Low, High       float64 // between which it may be set
}

// Offered reports whether a figure may be set in the estimate that is put before the customer: a price or a time. The others are
// for looking only.
func Offered(figure string) bool {
	kind, _, _ := strings.Cut(figure, ":")
	return kind == "price" || kind == "time"
}

// BreakEven is where another option would win.
type BreakEven struct {
	Assumption
	At     float64 // the value at which the first and the winner are equal
	Winner string  // title of the option that wins beyond it
	Change float64 // relative to the figure as it is: what the turns are ordered by
}

// FigureError names a figure or choice that cannot be set so.
type FigureError struct{ ID, Reason, Accepted string }

func (e *FigureError) Error() string { return e.ID + ": " + e.Reason + "; want " + e.Accepted }

// Most that figures may be set to by hand.
const (
	mostRate  = 1e6 // money an hour or litre: there are currencies whose unit is worth little
	mostMoney = 1e8
)

// figures reads what is set by hand over what is known.
func (m *Model) figures(set map[string]float64) (figures, error) {
	f := figures{Figures: estimate.Figures{Rates: m.price.Rates, Price: map[string]float64{}, Hours: map[string]float64{}}, cause: -1, scale: map[int]float64{}}
	for _, id := range slices.Sorted(maps.Keys(set)) {
		if err := m.set(&f, id, set[id]); err != nil {
			return f, err
		}
	}
	return f, nil
}

// set puts one figure; f must be the caller's own.
func (m *Model) set(f *figures, id string, v float64) error {
	within := func(most float64) error {
		if v >= 0 && v <= most {
			return nil
		}
		return &FigureError{id, fmt.Sprint(v), fmt.Sprintf("0 to %g", most)}
	}
	kind, of, _ := strings.Cut(id, ":")
	switch kind {
	case "labour-rate":
		f.Rates.Labour = v
		return within(mostRate)
	case "fluid-litre":
		f.Rates.FluidLitre = v
		return within(mostRate)
	case "goodwill":
		f.Rates.Goodwill = v
		return within(mostMoney)
	case "rediagnose":
		f.Rates.Rediagnose = v
		return within(pricebook.MostHours)
	case "price":
		f.Price[of] = v
		return within(mostMoney)
	case "time":
		f.Hours[of] = v
		return within(pricebook.MostHours)
	case "cure":
		i := m.option(of)
		if i < 0 {
			return &FigureError{id, "no such option", "cure:OPTION"}
		}
		f.scale[i] = v
		return within(1)
	case "share":
		c := m.place(of)
		if c < 0 || !(m.share[c] > 0 && m.share[c] < 1) {
			return &FigureError{id, "not a suspect that can be set", "share:CAUSE of a suspect between nothing and certain"}
		}
		if f.cause >= 0 && f.cause != c {
			return &FigureError{id, "another suspect is set already", "one suspect at a time"}
		}
		f.cause, f.share, f.before = c, v, m.share[c]
		if !(v > 0 && v < 1) {
			return &FigureError{id, fmt.Sprint(v), "more than 0 and less than 1"}
		}
		return nil
	}
	return &FigureError{id, "no such figure", "labour-rate, fluid-litre, goodwill, rediagnose, price:ITEM|QUALITY, time:ITEM, share:CAUSE, cure:OPTION"}
}

// with is f with one figure changed.
func (m *Model) with(f figures, id string, v float64) figures {
	f.Price, f.Hours, f.scale = maps.Clone(f.Price), maps.Clone(f.Hours), maps.Clone(f.scale)
	if err := m.set(&f, id, v); err != nil {
		panic(err) // a slip in figuresOf: their ends are tried in a test
	}
	return f
}

// maxFigured is how many of the leading options and suspects have figures of their own.
const maxFigured = 3

// smallPart is the share, as one in so many, of an estimate under which a part of a list has no figure of its own.
const smallPart = 20

// figuresOf lists what may be set by hand for these rows.
func (m *Model) figuresOf(rows []Row, f figures) []Assumption {
	r := f.Rates
	out := []Assumption{{"labour-rate", "labor, an hour", InMoney, r.Labour, 0, mostRate}, {"goodwill", "goodwill after a return", InMoney, r.Goodwill, 0, mostMoney}, {"rediagnose", "diagnosis after a return", InHours, r.Rediagnose, 0, pricebook.MostHours}}
	for _, row := range rows[:min(maxFigured, len(rows))] {
		for _, l := range row.Lines {
			switch l.Kind {
			case estimate.Parts:
				if l.Quality == "" && l.Total*smallPart < row.Net {
					continue // of a long list of parts a small one turns nothing
				}
				out = append(out, Assumption{l.Figure(), l.Title, InMoney, l.Each.Major(), 0, mostMoney})
			case estimate.Machine:
				out = append(out, Assumption{l.Figure(), l.Title + ", " + knowledge.InSentence(row.Option.Title), InMoney, l.Each.Major(), 0, mostMoney})
			case estimate.Labour:
				out = append(out, Assumption{l.Figure(), "time for " + knowledge.InSentence(l.Title), InHours, l.Count, 0, pricebook.MostHours})
			}
		}
		if row.Option.Strategy != "watch" {
			scale := 1.0
			if s, ok := f.scale[m.option(row.Option.ID)]; ok {
				scale = s
			}
			out = append(out, Assumption{"cure:" + row.Option.ID, "chances of cure of " + knowledge.InSentence(row.Option.Title), AsFactor, scale, 0, 1})
		}
	}
	for _, s := range m.a.Suspects[:min(maxFigured, len(m.a.Suspects))] {
		i := m.place(s.Cause.ID)
		now := m.share[i]
		if f.cause == i {
			now = f.share
		}
		if m.share[i] > likely && m.share[i] < 1-1e-9 {
			out = append(out, Assumption{"share:" + s.Cause.ID, "probability of " + knowledge.InSentence(s.Cause.Title), AsShare, now, 1e-6, 1 - 1e-6})
		}
	}
	seen := map[string]bool{}
	return slices.DeleteFunc(out, func(x Assumption) bool { was := seen[x.ID]; seen[x.ID] = true; return was })
}

// FiguresOf is Figures for rows of Compare with these choices.
func (m *Model) FiguresOf(rows []Row, ch Choices) ([]Assumption, error) {
	f, err := m.figures(ch.Set)
	if err != nil {
		return nil, err
	}
	return m.figuresOf(rows, f), nil
}

// BreakEvens finds, for every figure, the nearest value at which another option of the unit would win, given the rows of Compare
// with the same choices. Between the two options each cost is linear in the figure, or nearly (of several causes the dearest return
// counts), so the crossing that lies between the figure and its end is closed in on. Of two crossings on one side the
// nearer is not looked for.
func (m *Model) BreakEvens(rows []Row, ch Choices) ([]BreakEven, error) {
	f, err := m.figures(ch.Set)
	if err != nil {
		return nil, err
	}
	able := m.able(rows, ch, f)
	if len(able) < 2 || m.a.Quiet() {
		return nil, nil // without a complaint there is one thing to do, and it turns on what may come
	}
	picks := make([][]pick, len(able))
	for i, r := range able {
		picks[i] = r.picks
	}
	now := make([]float64, len(able))
	for i, p := range picks {
		now[i] = m.expected(p, f)
	}
	var out []BreakEven
	for _, x := range m.figuresOf(able, f) {
		if x.Kind == AsShare && f.cause >= 0 && x.ID != "share:"+m.n.Causes[f.cause].ID {
			continue // one suspect at a time is set by hand
		}
		best := BreakEven{Assumption: x, Change: math.Inf(1)}
		for _, end := range []float64{x.Low, min(x.High, reach(x))} {
			moved := m.with(f, x.ID, end)
			far := slices.Clone(now)
			for j, r := range able {
				if r.hangsOn(x.ID) {
					far[j] = m.expected(picks[j], moved)
				}
			}
			for j := 1; j < len(able); j++ {
				if far[j] >= far[0] || now[j] < now[0] {
					continue
				}
				at := m.crossing(x.ID, x.Now, end, now[j]-now[0], far[j]-far[0], f, picks[0], picks[j])
				if change := math.Abs(at-x.Now) / max(math.Abs(x.Now), 1e-9); change < best.Change {
					best.At, best.Winner, best.Change = at, able[j].Title(), change
				}
			}
		}
		if !math.IsInf(best.Change, 1) {
			out = append(out, best)
		}
	}
	slices.SortStableFunc(out, func(a, b BreakEven) int { return cmp.Compare(a.Change, b.Change) })
	return out, nil
}

// able are the rows that may be recommended, the first before all; then those that are not laid out because others are
// cheaper, since a changed figure may bring them up.
func (m *Model) able(rows []Row, ch Choices, f figures) []Row {
	var out []Row
	laid := map[string]bool{}
	for _, r := range rows {
		laid[r.Option.ID] = true
		if r.Recommendable() {
			out = append(out, r)
		}
	}
	if len(out) == 0 {
		return nil
	}
	for i, o := range m.options {
		if laid[o.ID] {
			continue
		}
		if r := m.visit(m.full(i, ch, f), ch, f); r.Cured >= minShare && r.Recommendable() {
			out = append(out, r)
		}
	}
	return out
}

// reach is how far a figure is followed: ten times what it is says nothing to anybody.
func reach(x Assumption) float64 {
	if x.Kind == AsShare || x.Kind == AsFactor {
		return x.High
	}
	return 10*x.Now + 1
}

// hangsOn reports whether a figure is in what a row costs: a price or a time stands in one of its lines, a chance of cure is of
// its option; rates and probabilities are in all.
func (r Row) hangsOn(figure string) bool {
	kind, of, own := strings.Cut(figure, ":")
	switch {
	case own && (kind == "price" || kind == "time"):
		return slices.ContainsFunc(r.Lines, func(l estimate.Line) bool { return l.Figure() == figure })
	case kind == "cure":
		return r.Option.ID == of
	}
	return true
}

// expected is what one visit is expected to cost in all.
func (m *Model) expected(options []pick, f figures) float64 {
	pay := m.bill(options, f).Pay.Major()
	for _, o := range m.all(options, f) {
		pay += o.p * o.back
	}
	return pay
}

// crossing closes in on where two picks cost the same (the Illinois variant of the rule of false position), to a millionth
// of the way or a cent.
func (m *Model) crossing(id string, a, b, fa, fb float64, f figures, first, other []pick) float64 {
	a0, b0 := a, b
	for range 60 {
		x := b - fb*(b-a)/(fb-fa)
		now := m.with(f, id, x)
		fx := m.expected(other, now) - m.expected(first, now)
		if math.Abs(fx) < 0.005 || math.Abs(b-a) < 1e-6*math.Abs(b0-a0) {
			return x
		}
		if fx*fb < 0 {
			a, fa = b, fb
		} else {
			fa /= 2
		}
		b, fb = x, fx
	}
	return b
}

// Sentence says the nearest turn in words.
func Sentence(r pricebook.Rates, turns []BreakEven, first string) string {
	if len(turns) == 0 {
		return ""
	}
	t := turns[0]
	instead := " instead of " + written(r, t.Assumption, t.Now)
	if t.Kind == AsFactor {
		instead = "" // of what is assumed says it
	}
	return fmt.Sprintf("“%s” is first. Nearest turn: with %s at %s%s, “%s” would be.", first, t.Title, written(r, t.Assumption, t.At), instead, t.Winner)
}

func written(r pricebook.Rates, x Assumption, v float64) string {
	switch x.Kind {
	case InMoney:
		return r.Say(money.Of(v))
	case InHours:
		return r.Style.Number(v, 1) + "\u00a0h"
	case AsFactor:
		return r.Style.Number(100*v, 0) + "\u00a0% of what is assumed"
	}
	return fmt.Sprintf("%.0f\u00a0%%", 100*v)
}
