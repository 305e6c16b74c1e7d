// Package decide compares repair options on one money axis: what is paid now, what a return would cost, and how likely it
// is.
//
// Model. An option is an estimate of lines: opening up (once for all that is done in one visit), labour, parts in a quality,
// fluid, machine work, teaching, consumables, tax; each rounded to minor units, as on paper. A line whose price is nowhere
// is missing and never counted as nothing. An option cures each cause with a chance of its own; what it does not cure comes
// back, once for all that is left and at the price of the dearest: diagnosis, repair from the ground, harm done meanwhile,
// goodwill. A part may fail by itself, by its quality, and is then put in again at the shop's cost. Expected total = paid now
// + Σ P(outcome) · return(outcome) over all sets of causes.
//
// An option that leaves a hazard in the vehicle with more than hazardShare is never recommended. Chances, harm and guide
// prices are judgement until the shop's own go before them. Reference: H. Raiffa, Decision Analysis, 1968. Money: the
// shop's currency.
package decide

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/estimate"
	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/pricebook"
	"innercompass/core/unitsheet"
)

// Row is one option with its costs.
type Row struct {
	Option    knowledge.Option
	With      []knowledge.Option // that go with it: done and paid for in the same visit
	Quality   string             // that its parts are bought in
	Qualities []Variant
	estimate.Bill
	Cured    float64      // probability that the vehicle does not come back for this
	Return   money.Amount // expected cost of a return
	Expected money.Amount // in all
	Low      money.Amount // 5 and 95 of 100 cases
	High     money.Amount
	Cures    int    // suspects above one per cent that it cures
	Of       int    // suspects above one per cent
	Hazard   string // what may happen to people if this is all that is done; empty when nothing
	Over     bool   // above the customer's ceiling
	Clear    bool   // the cause is clear and it cures that, whatever else may be there
	Beside   bool   // it does not go with what is known of the cause: it leaves a clear one, or opens the unit for an unclear one

	picks []pick // the option with what goes with it
}

// Variant is an option with its parts in one quality.
type Variant struct {
	Quality       pricebook.Quality
	Pay, Expected money.Amount
	From          pricebook.From // of its price
}

// Settled reports whether the option is likely enough to cure to be advised, and may stand first.
func (r Row) Settled() bool { return r.Recommendable() && (r.Cured >= settled || r.Clear) }

// Recommendable reports whether the option may stand first: priced in full, without a hazard left, under the ceiling, and for what is
// known of the cause.
func (r Row) Recommendable() bool {
	return r.Hazard == "" && len(r.Missing) == 0 && !r.Over && !r.Beside
}

// Choices are what is set by hand: the qualities of options, figures by the id of a Figure, the customer's ceiling.
type Choices struct {
	Quality map[string]string  // by option
	Set     map[string]float64 // figures, by id
	Ceiling money.Amount       // 0 for none
	Ahead   float64            // km that are looked ahead; 0 for UsualAhead
}

// Comparison is the options in order: those that may be recommended first, the cheapest in expectation before the others.
type Comparison struct {
	Rows     []Row
	Headline string      // what to do, or that it is too early, in words
	Turns    []BreakEven // what would have to be different for another option to win, the nearest first
	Sentence string      // the nearest of them, in words
	Policies []Policy
	AddOns   []AddOn // worth doing in the same visit as the first, or as the option chosen
	Refused  []Refused
	Quiet    bool         // there is no complaint, and nothing abnormal was read
	Ahead    []Prevention // what the design is known for and may still come, the best worth doing first
	Watch    Deferral
}

// Refused is an option that would be thought of for the leader and is not offered, and why.
type Refused struct {
	Option knowledge.Option
	Why    string
}

// Settings of the comparison.
const (
	minShare    = 0.1  // share of suspicion below which an option for it is not worth a row
	maxTargeted = 5    // targeted options that are laid out; the cheapest in expectation stay, the other schools always do
	settled     = 0.5  // chance of cure under which paying little for what most likely fails is cheap only on paper
	curesAll    = 0.8  // chance of cure from which a targeted repair is advised though the cheapest in expectation is another that most likely fails
	hazardShare = 0.1  // probability that a hazard is left above which an option is not recommended
	likely      = 0.01 // suspects that count
	curesIt     = 0.5  // chance of cure from which an option counts as one for a cause
	failsShare  = 0.3  // probability that something is there with which an option is known to fail, above which it is not offered
	clearCause  = 0.8  // probability of the leader above which what does not cure it is not advised
	openCause   = 0.25 // and below which the unit is neither overhauled nor exchanged
)

// Model is a ranking with the options of its unit, ready to be priced.
type Model struct {
	n       *knowledge.Network
	a       *diagnose.Assessment
	from    unitsheet.Access
	price   estimate.Estimator
	options []priced
	share   []float64 // probability of each cause among the hypotheses
	repair  []float64 // hours of the repair of each cause, from the ground
	likely  []int     // causes that an option is counted to cure or not
}

// priced is an option with its chances of cure by cause.
type priced struct {
	knowledge.Option
	level  unitsheet.Access
	chance []float64
}

// pick is an option in a quality.
type pick struct {
	option  int
	quality string
}

// NewModel prepares the options of a network for a ranking, from where the vehicle stands.
func NewModel(n *knowledge.Network, a *diagnose.Assessment, from unitsheet.Access, rates pricebook.Rates, book pricebook.Book) *Model {
	m := &Model{n: n, a: a, from: from, price: estimate.Estimator{Unit: n.Unit, From: from, Book: book, Rates: rates}, share: make([]float64, len(n.Causes))}
	for _, o := range n.Options {
		level, _ := unitsheet.ParseAccess(o.Access)
		p := priced{Option: o, level: level, chance: make([]float64, len(n.Causes))}
		for id, chance := range freshFluid[o.Fluid] {
			if i, ok := n.NodeAt[id]; ok && i < len(n.Causes) {
				p.chance[i] = chance
			}
		}
		n.SetCures(p.chance, o)
		m.options = append(m.options, p)
	}
	for _, c := range n.Causes {
		level, _ := unitsheet.ParseAccess(c.Repair.Access)
		m.repair = append(m.repair, c.Repair.Hours+n.Unit.AccessMinutes(unitsheet.Ground, level)/60)
	}
	for _, h := range a.Hypotheses {
		for _, c := range h.Causes {
			m.share[c] += h.Share
		}
	}
	for _, s := range a.Suspects {
		if s.Probability > likely {
			m.likely = append(m.likely, m.place(s.Cause.ID))
		}
	}
	return m
}

// List gives options their parts one by one, where these are known: of one for which parts is nil they stay priced as a whole.
func (m *Model) List(parts func(o knowledge.Option, level unitsheet.Access) []estimate.Piece) {
	m.price.Listed = map[string][]estimate.Piece{}
	for _, o := range m.options {
		if p := parts(o.Option, o.level); p != nil {
			m.price.Listed[o.ID] = p
		}
	}
}

// Compare lays out the options. Only those that cure something suspected are kept, besides those of the schools exchange,
// thorough and watch, which are always open. It fails for qualities and figures that there are not.
func (m *Model) Compare(ch Choices) (Comparison, error) {
	f, err := m.figures(ch.Set)
	if err != nil {
		return Comparison{}, err
	}
	for option, q := range ch.Quality {
		i := m.option(option)
		if i < 0 {
			return Comparison{}, &FigureError{"quality." + option, "no such option", "an id of the options"}
		}
		if !slices.Contains(pricebook.QualitiesOf(m.options[i].Option), q) {
			return Comparison{}, &FigureError{"quality." + option, fmt.Sprintf("%q", q), strings.Join(pricebook.QualitiesOf(m.options[i].Option), ", ")}
		}
	}
	var out Comparison
	for i, o := range m.options {
		if o.Occasion == knowledge.Preventive && !m.a.Quiet() {
			continue
		}
		if why := m.refusal(o.Option); why != "" {
			if o.chance[m.place(m.a.Suspects[0].Cause.ID)] >= curesIt {
				out.Refused = append(out.Refused, Refused{o.Option, why})
			}
			continue
		}
		row := m.visit(m.full(i, ch, f), ch, f)
		row.Beside, row.Clear = m.beside(o), m.clear(o)
		if (row.Cured < minShare && !row.Clear || m.a.Quiet()) && o.Strategy == "targeted" && o.Occasion == "" {
			continue
		}
		out.Rows = append(out.Rows, row)
	}
	slices.SortStableFunc(out.Rows, func(a, b Row) int {
		if c := cmp.Compare(a.rank(), b.rank()); c != 0 {
			return c
		}
		return cmp.Compare(a.Expected, b.Expected)
	})
	surest(out.Rows)
	targeted := 0
	out.Rows = slices.DeleteFunc(out.Rows, func(r Row) bool {
		if r.Option.Strategy != "targeted" {
			return false
		}
		targeted++
		return targeted > maxTargeted
	})
	for k := range out.Rows {
		r := &out.Rows[k]
		r.Low, r.High = m.span(*r, f)
		r.Qualities = m.variants(*r, f)
	}
	out.Headline = headline(out.Rows)
	if !m.a.Quiet() {
		out.Policies = m.policies(out.Rows, ch.Ceiling)
	}
	out.Watch = m.watch(f)
	out.Ahead, out.Quiet = m.prevent(ch, f), m.a.Quiet()
	return out, nil
}

func (m *Model) option(id string) int {
	return slices.IndexFunc(m.options, func(o priced) bool { return o.ID == id })
}

// pick is an option in the quality chosen, else in the usual one.
func (m *Model) pick(i int, ch Choices) pick {
	o := m.options[i].Option
	return pick{i, cmp.Or(ch.Quality[o.ID], pricebook.UsualQuality(o))}
}

// full is the option at place i with what goes with it.
func (m *Model) full(i int, ch Choices, f figures) []pick {
	return append([]pick{m.pick(i, ch)}, m.company(i, ch, f)...)
}

// visit is row held against the ceiling.
func (m *Model) visit(options []pick, ch Choices, f figures) Row {
	row := m.row(options, f)
	row.Over = ch.Ceiling > 0 && row.Pay > ch.Ceiling
	return row
}

// bill prices options that are done in one visit.
func (m *Model) bill(options []pick, f figures) estimate.Bill {
	works := make([]estimate.Work, len(options))
	for k, p := range options {
		o := m.options[p.option]
		works[k] = estimate.Work{Option: o.Option, Level: o.level, Quality: p.quality}
	}
	return m.price.Bill(works, f.Figures)
}

// figures are the numbers that a comparison rests on, open to be changed one by one.
type figures struct {
	estimate.Figures
	scale  map[int]float64 // of an option's chances of cure, by place
	cause  int             // whose probability is set to share; −1 for none
	share  float64
	before float64 // its probability as computed
}

// row prices options that are done in one visit; the first gives it its name.
func (m *Model) row(options []pick, f figures) Row {
	o := m.options[options[0].option]
	row := Row{Option: o.Option, Quality: options[0].quality, Bill: m.bill(options, f), picks: options}
	for _, p := range options[1:] {
		row.With = append(row.With, m.options[p.option].Option)
	}
	cured, back, hazards := m.outcomes(options, f)
	row.Cured, row.Return = cured, money.Of(back)
	row.Expected = row.Pay + row.Return
	row.Hazard = m.hazard(hazards)
	chance := m.together(options, f)
	row.Of = len(m.likely)
	for _, c := range m.likely {
		if chance[c] >= 0.5 {
			row.Cures++
		}
	}
	return row
}

// together are the chances of cure of options that are done in one visit: of each cause the best.
func (m *Model) together(options []pick, f figures) []float64 {
	chance := m.options[options[0].option].chance
	scale, scaled := f.scale[options[0].option]
	if len(options) == 1 && !scaled {
		return chance
	}
	out := make([]float64, len(chance))
	for k, p := range options {
		for i, c := range m.options[p.option].chance {
			if k == 0 && scaled {
				c = math.Min(1, c*scale)
			}
			out[i] = math.Max(out[i], c)
		}
	}
	return out
}

// all are the outcomes of options that are done in one visit, for all hypotheses.
func (m *Model) all(options []pick, f figures) []outcome {
	if m.a.Quiet() {
		return []outcome{{p: 1}} // there is no complaint that could come back
	}
	chance := m.together(options, f)
	fails, again := 0.0, 0.0
	for _, p := range options {
		o := m.options[p.option].Option
		if price, ok := m.price.PartsPrice(o, p.quality, f.Figures); ok {
			q, _ := pricebook.FindQuality(p.quality)
			fails = 1 - (1-fails)*(1-q.Fails)
			again += price.Major() + o.Hours*f.Rates.Labour
		}
	}
	again += f.Rates.Goodwill + m.n.Unit.AccessMinutes(unitsheet.Ground, m.deepest(options))/60*f.Rates.Labour
	out := make([]outcome, 0, 4*len(m.a.Hypotheses))
	for _, h := range m.a.Hypotheses {
		out = m.returns(out, h, chance, fails, again, f)
	}
	return out
}

func (m *Model) deepest(options []pick) unitsheet.Access {
	deepest := unitsheet.Ground
	for _, p := range options {
		deepest = max(deepest, m.options[p.option].level)
	}
	return deepest
}

// outcomes sums them up: the chance of no return, the expected cost of one, and the probability of each cause that is left
// and is a hazard.
func (m *Model) outcomes(options []pick, f figures) (cured, back float64, hazards map[int]float64) {
	for _, o := range m.all(options, f) {
		back += o.p * o.back
		if !o.comes {
			cured += o.p
		}
	}
	chance := m.together(options, f)
	for _, h := range m.a.Hypotheses {
		for _, i := range h.Causes {
			if m.n.Causes[i].Hazard != "" && chance[i] < renewed {
				if hazards == nil {
					hazards = map[int]float64{}
				}
				hazards[i] += f.shareOf(h) * (1 - chance[i])
			}
		}
	}
	return cured, back, hazards
}

// hazard puts into words what is left that can hurt; empty when it is unlikely enough.
func (m *Model) hazard(left map[int]float64) string {
	worst := -1
	for i := range m.n.Causes { // in order, so that a tie is the same every time
		if p, ok := left[i]; ok && (worst < 0 || p > left[worst]) {
			worst = i
		}
	}
	if worst < 0 || left[worst] <= hazardShare { // several unlikely ones do not add up to one that is likely
		return ""
	}
	c := m.n.Causes[worst]
	return fmt.Sprintf("%s (%.0f %%): %s.", c.Title, 100*left[worst], c.Hazard)
}

// span is between what 5 and 95 of 100 cases cost.
func (m *Model) span(r Row, f figures) (low, high money.Amount) {
	outcomes := m.all(r.picks, f)
	sure := r.Pay.Major()
	return money.Of(quantile(outcomes, sure, r.Option.Spread*sure, 0.05)), money.Of(quantile(outcomes, sure, r.Option.Spread*sure, 0.95))
}

// variants are a row in each quality that the parts of its option come in; none when there is no choice.
func (m *Model) variants(r Row, f figures) []Variant {
	option, o := r.picks[0].option, r.Option
	if len(pricebook.QualitiesOf(o)) < 2 {
		return nil
	}
	var out []Variant
	for _, id := range pricebook.QualitiesOf(o) {
		q, _ := pricebook.FindQuality(id)
		row := m.row(append([]pick{{option, id}}, r.picks[1:]...), f)
		v := Variant{Quality: q, Pay: row.Pay, Expected: row.Expected, From: pricebook.None}
		for _, l := range row.Lines {
			if l.Kind == estimate.Parts && v.From == pricebook.None {
				v.From = l.From
			}
		}
		out = append(out, v)
	}
	return out
}

func (m *Model) place(cause string) int {
	return slices.IndexFunc(m.n.Causes, func(c knowledge.Cause) bool { return c.ID == cause })
}

// Visit prices an option with others in the same visit, each in the quality chosen. It fails for options that there are not.
func (m *Model) Visit(option string, addOns []string, ch Choices) (Row, error) {
	f, err := m.figures(ch.Set)
	if err != nil {
		return Row{}, err
	}
	var picks []pick
	for k, id := range append([]string{option}, addOns...) {
		i := m.option(id)
		if i < 0 || slices.Contains(addOns[:max(0, k-1)], id) || k > 0 && id == option {
			return Row{}, &FigureError{"option", fmt.Sprintf("%q", id), "ids of options, each once"}
		}
		switch {
		case k == 0:
			picks = m.full(i, ch, f)
		case !slices.ContainsFunc(picks, func(p pick) bool { return p.option == i }): // else it goes with the option anyway
			picks = append(picks, m.pick(i, ch))
		}
	}
	row := m.visit(picks, ch, f)
	row.Low, row.High = m.span(row, f)
	return row, nil
}

// Title is the title of an option, or its id when there is none.
func (m *Model) Title(id string) string {
	if i := m.option(id); i >= 0 {
		return m.options[i].Title
	}
	return id
}

// Find returns the row of an option.
func (c Comparison) Find(id string) (Row, bool) {
	i := slices.IndexFunc(c.Rows, func(r Row) bool { return r.Option.ID == id })
	if i < 0 {
		return Row{}, false
	}
	return c.Rows[i], true
}
