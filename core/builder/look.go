package builder

import (
	"context"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"innercompass/core/chart"
	"innercompass/core/faultmap"
	"innercompass/core/gearing"
	"innercompass/core/roadtest"
	"innercompass/core/teeth"
	"innercompass/core/unitsheet"
)

// Draft is a unit that is being built. Its sheet may be half finished.
type Draft struct {
	Kind    string          `json:"kind"`
	Scheme  string          `json:"scheme"`          // that its gears began with; "" by the chart alone
	Final   bool            `json:"final,omitempty"` // the printed ratios include a final drive
	Counted bool            `json:"counted,omitempty"`
	Fit     int             `json:"fit,omitempty"` // which of the sets of teeth that fit
	Sheet   unitsheet.Sheet `json:"sheet"`
}

// Flaw is something of a draft that cannot be, at a cell of the chart where there is one.
type Flaw struct {
	Path, Reason, Accepted string
	Range, Element         string
	Doubt                  bool // the sheet can be used all the same
}

// Row is what a range of the draft comes to.
type Row struct {
	ID       string
	Outcome  gearing.Outcome // as solved; "" when not known yet
	Ratio    float64         // solved; 0 when not known
	Holding  []string        // one-way clutches that carry
	Printed  float64
	Decimals int
	Fits     bool
	Wrong    string // why it cannot be
}

// View is everything that a draft comes to.
type View struct {
	Sheet   unitsheet.Sheet // completed: what would be saved
	Depth   unitsheet.Depth
	Flaws   []Flaw
	Rows    []Row
	Teeth   *teeth.Answer // nil when no ratio asks for any
	Unit    *unitsheet.Unit
	Faults  int
	Apart   int // that one road test tells apart
	Cannot  []string
	Assumed []unitsheet.SourceSheet
}

// mostFits is how many sets of teeth a view lists.
const mostFits = 12

// Look works out a draft. It fails only when ctx ends.
func Look(ctx context.Context, d Draft) (View, error) {
	l := looker{d: d, s: d.Sheet}
	l.head()
	l.out.Depth = unitsheet.ByChart
	if len(l.s.Gearing.Members) > 0 {
		l.out.Depth = unitsheet.ByGears
		if err := l.gears(ctx); err != nil {
			return View{}, err
		}
	} else {
		l.chart()
	}
	l.finish()
	return l.out, ctx.Err()
}

type looker struct {
	d       Draft
	s       unitsheet.Sheet
	machine *gearing.Machine
	out     View
}

func (l *looker) flaw(f Flaw) { l.out.Flaws = append(l.out.Flaws, f) }

var notID = regexp.MustCompile(`[^a-z0-9]+`)

// IDOf makes an id of a name; "" when nothing of it is left.
func IDOf(name string) string {
	id := strings.Trim(notID.ReplaceAllString(strings.ToLower(name), "-"), "-")
	if id != "" && (id[0] < 'a' || id[0] > 'z') {
		id = "unit-" + id
	}
	return strings.Trim(id[:min(len(id), 40)], "-")
}

// head completes what follows from the rest.
func (l *looker) head() {
	s := &l.s
	s.Format, s.Version = unitsheet.Format, max(1, s.Version)
	if s.ID == "" {
		s.ID = IDOf(s.Name)
	}
	if len(s.ID) < 2 {
		l.flaw(Flaw{Path: "name", Reason: "the unit has no name yet", Accepted: "a name with at least two letters"})
		s.ID = "no-name"
	}
	at := slices.IndexFunc(Kinds, func(k Kind) bool { return k.ID == l.d.Kind })
	if at < 0 {
		at = 0
	}
	s.Layout = ""
	if len(s.Gearing.Members) == 0 {
		s.Layout = Kinds[at].Layout
	}
	if s.Control == "" {
		s.Control = map[bool]string{true: "hand", false: "electronic"}[Kinds[at].ID == "manual"]
	}
	if len(s.Ranges) == 0 {
		l.flaw(Flaw{Path: "ranges", Reason: "no range yet", Accepted: "at least one row that drives"})
	}
	if len(s.Elements) == 0 {
		l.flaw(Flaw{Path: "elements", Reason: "no element yet", Accepted: "the clutches, brakes and sleeves of the unit"})
	}
	if l.d.Kind != "two-speed" && len(s.Ranges) > 0 && !slices.ContainsFunc(s.Ranges, func(r unitsheet.RangeSheet) bool { return r.Outcome == string(gearing.Reverse) }) {
		l.flaw(Flaw{Path: "ranges", Reason: "no row for reverse", Accepted: "a row for reverse, or none if the unit has none", Doubt: true})
	}
	s.Elements, s.Ranges = slices.Clone(s.Elements), slices.Clone(s.Ranges)
	for i := range s.Ranges { // what was taken off the list of elements leaves the chart as well
		r := &s.Ranges[i]
		r.Applied, r.Holding = l.there(r.Applied), l.there(r.Holding)
	}
}

func (l *looker) there(ids []string) []string {
	return slices.DeleteFunc(append([]string{}, ids...), func(id string) bool {
		return !slices.ContainsFunc(l.s.Elements, func(e unitsheet.ElementSheet) bool { return e.ID == id })
	})
}

// wheel reports whether an element is a one-way clutch: it is never applied, it holds by itself.
func (l *looker) wheel(id string) bool {
	return slices.ContainsFunc(l.s.Elements, func(e unitsheet.ElementSheet) bool {
		return e.ID == id && gearing.Kind(e.Kind) == gearing.Freewheel
	})
}

// chart checks a draft without gears.
func (l *looker) chart() {
	for i := range l.s.Elements {
		e := &l.s.Elements[i]
		e.A, e.B = "", ""
	}
	var elements []chart.Element
	for _, e := range l.s.Elements {
		elements = append(elements, chart.Element{ID: e.ID, Kind: gearing.Kind(e.Kind), Beside: e.Beside, Series: e.Series})
	}
	var rows []chart.Range
	for _, r := range l.s.Ranges {
		ratio, digits, err := unitsheet.PrintedRatio(r.Ratio)
		row := Row{ID: r.ID, Outcome: gearing.Outcome(r.Outcome), Ratio: ratio, Printed: ratio, Decimals: digits, Fits: err == nil, Holding: r.Holding}
		if r.Outcome == string(gearing.Reverse) {
			row.Ratio = -ratio
		}
		l.out.Rows = append(l.out.Rows, row)
		rows = append(rows, chart.Range{ID: r.ID, Applied: r.Applied, Holding: r.Holding, Outcome: gearing.Outcome(r.Outcome), From: r.From, Ratio: ratio})
	}
	c, err := chart.New(elements, rows)
	if err != nil {
		if e, ok := err.(*chart.Error); ok {
			l.flaw(Flaw{Path: e.At, Reason: e.Reason, Accepted: e.Accepted, Range: l.rangeAt(e.At)})
		}
		return
	}
	if l.d.Kind == "automatic" || l.d.Kind == "two-speed" {
		for _, r := range l.s.Ranges {
			if size, odd := c.Odd()[r.ID]; odd {
				l.flaw(Flaw{Path: "ranges", Range: r.ID, Reason: fmt.Sprintf("%s holds %s, the other ranges %s", r.ID, elementsWord(size), elementsWord(c.Degree())), Accepted: "as many as in the others: planetary gears need the same number in every range", Doubt: true})
			}
		}
	}
}

func elementsWord(n int) string {
	if n == 1 {
		return "1 element"
	}
	return fmt.Sprintf("%d elements", n)
}

// rangeAt is the range that a path such as ranges[3].applied names.
func (l *looker) rangeAt(path string) string {
	var i int
	if n, _ := fmt.Sscanf(path, "ranges[%d]", &i); n == 1 && i < len(l.s.Ranges) {
		return l.s.Ranges[i].ID
	}
	return ""
}

// gears checks a draft against its scheme, and finds its teeth.
func (l *looker) gears(ctx context.Context) error {
	for i := range l.s.Elements {
		l.s.Elements[i].Beside, l.s.Elements[i].Series = "", ""
	}
	if !l.ready() {
		return nil
	}
	l.hold()
	if !l.d.Counted {
		if err := l.find(ctx); err != nil {
			return err
		}
	}
	last, lastID := math.Inf(1), ""
	for i, r := range l.s.Ranges {
		row := l.solve(i, r)
		if r.From == lastID && r.From != "" && row.Wrong == "" && row.Ratio > 0 {
			if row.Ratio >= last*(1-1e-9) {
				row.Wrong = fmt.Sprintf("%.3f, not above %s's %.3f", row.Ratio, lastID, last)
				l.flaw(Flaw{Path: fmt.Sprintf("ranges[%d].applied", i), Range: r.ID, Reason: fmt.Sprintf("%s drives at %.3f and %s at %.3f: it would shift down", r.ID, row.Ratio, lastID, last), Accepted: "gears that follow each other, or elements at other places"})
			}
		}
		if r.Outcome == string(gearing.Forward) && row.Ratio > 0 {
			last, lastID = row.Ratio, r.ID
		}
		l.out.Rows = append(l.out.Rows, row)
	}
	return nil
}

// ready makes the gears, or says what is missing for them.
func (l *looker) ready() bool {
	for i, e := range l.s.Elements {
		if e.A == "" || e.B == "" {
			l.flaw(Flaw{Path: fmt.Sprintf("elements[%d].a", i), Element: e.ID, Reason: nameOf(e) + " has no place on the gears yet", Accepted: "two parts that it joins, or a part and the case"})
		}
	}
	if len(l.out.Flaws) > 0 && slices.ContainsFunc(l.out.Flaws, func(f Flaw) bool { return f.Element != "" }) {
		l.plainRows()
		return false
	}
	m, bad := unitsheet.MachineOf(l.s)
	for _, p := range bad {
		l.flaw(Flaw{Path: p.Path, Reason: p.Reason, Accepted: p.Accepted})
	}
	if m == nil {
		l.plainRows()
	}
	l.machine = m
	return m != nil
}

func nameOf(e unitsheet.ElementSheet) string {
	if e.Name != "" {
		return e.Name
	}
	return e.ID
}

// plainRows are the rows as typed, when nothing can be solved yet.
func (l *looker) plainRows() {
	for _, r := range l.s.Ranges {
		ratio, digits, _ := unitsheet.PrintedRatio(r.Ratio)
		l.out.Rows = append(l.out.Rows, Row{ID: r.ID, Printed: ratio, Decimals: digits})
	}
}

// hold lets the gears say which one-way clutches carry.
func (l *looker) hold() {
	for i := range l.s.Ranges {
		r := &l.s.Ranges[i]
		if s, err := l.machine.Solve(gearing.State{Applied: r.Applied}); err == nil && string(s.Outcome) == r.Outcome {
			r.Holding = s.Holding
		}
	}
}

// find asks for teeth, and puts those chosen into the sheet.
func (l *looker) find(ctx context.Context) error {
	ask := l.s
	ask.Ranges = slices.DeleteFunc(slices.Clone(l.s.Ranges), func(r unitsheet.RangeSheet) bool {
		s, err := l.machine.Result(gearing.State{Applied: r.Applied})
		return err != nil || string(s.Outcome) != r.Outcome // the chart is wrong here: said below
	})
	q, err := Ask(ask, l.d.Final)
	if err != nil {
		l.say(err)
		return nil
	}
	if len(q.Ranges) == 0 {
		return nil
	}
	q.Most = mostFits
	a, err := teeth.Find(ctx, q)
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if err != nil {
		l.say(err)
		return nil
	}
	l.out.Teeth = &a
	if len(a.Fits) == 0 {
		return nil
	}
	fit := a.Fits[min(max(l.d.Fit, 0), len(a.Fits)-1)]
	g, err := Lay(l.s, fit)
	if err != nil {
		l.say(err)
		return nil
	}
	l.s.Gearing = g
	if l.d.Final {
		l.withoutFinal(fit)
	}
	m, bad := unitsheet.MachineOf(l.s)
	for _, p := range bad {
		l.flaw(Flaw{Path: p.Path, Reason: p.Reason, Accepted: p.Accepted})
	}
	if m != nil {
		l.machine = m
		l.hold()
	}
	return nil
}

// withoutFinal takes the final drive out of the printed ratios: the sheet is of the unit alone.
func (l *looker) withoutFinal(fit teeth.Fit) {
	for i := range l.s.Ranges {
		r := &l.s.Ranges[i]
		if v, digits, err := unitsheet.PrintedRatio(r.Ratio); err == nil && v > 0 {
			r.Ratio = fmt.Sprintf("%.*f", max(digits, 2), v/fit.Final)
		}
	}
}

func (l *looker) say(err error) {
	switch e := err.(type) {
	case *unitsheet.Problem:
		l.flaw(Flaw{Path: e.Path, Reason: e.Reason, Accepted: e.Accepted, Range: l.rangeAt(e.Path)})
	case *teeth.Error:
		l.flaw(Flaw{Path: e.At, Reason: e.Reason, Accepted: e.Accepted})
	default:
		l.flaw(Flaw{Reason: err.Error()})
	}
}

// solve works out one range, and names the cell that is wrong when it does something else than its row says.
func (l *looker) solve(i int, r unitsheet.RangeSheet) Row {
	printed, digits, err := unitsheet.PrintedRatio(r.Ratio)
	row := Row{ID: r.ID, Printed: printed, Decimals: digits}
	if err != nil {
		l.flaw(Flaw{Path: fmt.Sprintf("ranges[%d].ratio", i), Range: r.ID, Reason: err.Error(), Accepted: "a ratio as it is printed, 0.1 to 30, such as 2.55"})
	}
	s, err := l.machine.Solve(gearing.State{Applied: r.Applied})
	if err != nil {
		row.Wrong = err.Error()
		l.flaw(Flaw{Path: fmt.Sprintf("ranges[%d]", i), Range: r.ID, Reason: err.Error()})
		return row
	}
	row.Outcome, row.Ratio, row.Holding = s.Outcome, s.Ratio, s.Holding
	row.Fits = printed == 0 || math.Abs(math.Abs(s.Ratio)-printed) <= 0.5*math.Pow10(-digits)+1e-9
	if string(s.Outcome) == r.Outcome {
		return row
	}
	row.Fits = false
	f := Flaw{Path: fmt.Sprintf("ranges[%d].applied", i), Range: r.ID, Reason: fmt.Sprintf("%s %s", r.ID, l.does(s.Outcome, r.Applied)), Accepted: "elements with which it is " + r.Outcome}
	if hint, element := l.hint(r, printed); hint != "" {
		f.Accepted, f.Element = hint, element
	}
	row.Wrong = f.Reason
	l.flaw(f)
	return row
}

func (l *looker) does(o gearing.Outcome, applied []string) string {
	on := strings.Join(applied, ", ")
	switch {
	case o == gearing.Bind:
		return "binds: " + on + " hold at once"
	case o == gearing.Neutral && len(applied) == 0:
		return "drives nothing: nothing is on"
	case o == gearing.Neutral:
		return "drives nothing with " + on
	}
	return fmt.Sprintf("drives %s with %s", o, on)
}

// hint finds the one mark that would make a range what its row says, the one with the printed ratio before others.
func (l *looker) hint(r unitsheet.RangeSheet, printed float64) (string, string) {
	best, element, off := "", "", math.Inf(1)
	for _, e := range l.s.Elements {
		if l.wheel(e.ID) {
			continue
		}
		words, applied := "with "+e.ID+" on it would be", append(slices.Clone(r.Applied), e.ID)
		if slices.Contains(r.Applied, e.ID) {
			words, applied = "without "+e.ID+" it would be", slices.DeleteFunc(slices.Clone(r.Applied), func(id string) bool { return id == e.ID })
		}
		s, err := l.machine.Result(gearing.State{Applied: applied})
		if err != nil || string(s.Outcome) != r.Outcome {
			continue
		}
		away := 1.0
		if printed > 0 {
			away = math.Abs(math.Log(math.Abs(s.Ratio) / printed))
		}
		if away < off {
			words += " " + string(s.Outcome)
			if s.Ratio != 0 {
				words += fmt.Sprintf(" at %.2f", math.Abs(s.Ratio))
			}
			best, element, off = words, e.ID, away
		}
	}
	return best, element
}

// teethSource says where the teeth come from: they are never facts until they are counted.
func (l *looker) teethSource() unitsheet.SourceSheet {
	a := l.out.Teeth
	return unitsheet.SourceSheet{Of: "teeth", From: "assumed", Value: FitsWords(*a), Why: "found from the printed ratios"}
}

// FitsWords says how many sets of teeth fit.
func FitsWords(a teeth.Answer) string {
	switch {
	case a.AtLeast:
		return fmt.Sprintf("1 of more than %.0f that fit", a.Count)
	case a.Count == 1:
		return "the only ones that fit"
	}
	return fmt.Sprintf("1 of %.0f that fit", a.Count)
}

// finish compiles what is sound, and says what it can diagnose.
func (l *looker) finish() {
	if l.machine != nil && l.s.Engine.MaxTorque != "" {
		l.s = size(l.s, l.machine)
	}
	if l.out.Teeth != nil && len(l.out.Teeth.Fits) > 0 {
		l.s.Sources = append(slices.Clone(l.s.Sources), l.teethSource())
	} else if l.machine != nil && !l.d.Counted {
		l.s.Sources = append(slices.Clone(l.s.Sources), unitsheet.SourceSheet{Of: "teeth", From: "assumed", Why: "usual teeth: no ratio says which"})
	}
	l.out.Sheet, l.out.Assumed = l.s, l.s.Sources
	if slices.ContainsFunc(l.out.Flaws, func(f Flaw) bool { return !f.Doubt }) {
		return
	}
	u, bad := unitsheet.Compile(l.s)
	for _, p := range bad {
		l.flaw(Flaw{Path: p.Path, Reason: p.Reason, Accepted: p.Accepted, Range: l.rangeAt(p.Path)})
	}
	if u == nil {
		return
	}
	l.out.Unit, l.out.Cannot, l.out.Depth = u, u.Cannot(), l.s.Depth()
	if rows, err := faultmap.Map(u); err == nil {
		l.out.Faults, l.out.Apart = len(rows), len(roadtest.Groups(rows))
	}
}
