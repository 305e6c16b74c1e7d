// Package builder makes a unit sheet of what a practitioner knows: a scheme of gears, the elements as he calls them, the apply chart,
// the ratios as printed. Each step is checked at once, teeth are found, what he does not know is filled in and marked as assumed.
//
// A Draft is a sheet that may be half finished; Look says what it comes to. Fill takes over from another unit what nobody has said.
// Generics stand for units that nobody knows yet. Pasted reads a chart that was copied out of a table.
//
// Limits: what is assumed is sized by rules of the trade (common practice, no source) and by the nearest of the sheets that ship; it
// serves to tell symptoms apart, never to judge a measurement.
package builder

import (
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"innercompass/core/chart"
	"innercompass/core/faultmap"
	"innercompass/core/gearing"
	"innercompass/core/roadtest"
	"innercompass/core/scheme"
	"innercompass/core/teeth"
	"innercompass/core/unitsheet"
)

// Draft is a unit that is being built. Its sheet may be half finished.
type Draft struct {
	Kind    string          `json:"kind"`
	Scheme  string          `json:"scheme"`          // that its gears began with; "" by the chart alone
	Lies    string          `json:"lies,omitempty"`  // along or across the vehicle; "" when nobody has said
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

	Questions []Question // settings of the controls that nobody has said anything of
	Patterns  []Pattern
	Limits    []unitsheet.LimitSheet // that could be given as well
}

// Ready reports whether the draft can be stored: it compiles, and it has a name.
func (v View) Ready() bool {
	return v.Unit != nil && !slices.ContainsFunc(v.Flaws, func(f Flaw) bool { return !f.Doubt })
}

// mostFits is how many sets of teeth a view lists.
const mostFits = 12

// Look works out a draft. It fails only when ctx ends.
func Look(ctx context.Context, d Draft) (View, error) {
	l := looker{d: d, s: d.Sheet}
	l.head()
	l.controls()
	l.out.Depth = unitsheet.ByChart
	if len(l.s.Gearing.Members) > 0 {
		l.out.Depth = unitsheet.ByGears
		if err := l.gears(ctx); err != nil {
			return View{}, err
		}
	} else {
		l.chart()
	}
	l.finish(ctx)
	return l.out, ctx.Err()
}

type looker struct {
	d       Draft
	s       unitsheet.Sheet
	machine *gearing.Machine
	out     View
}

func (l *looker) flaw(f Flaw) { l.out.Flaws = append(l.out.Flaws, f) }

var notShort = regexp.MustCompile(`[^A-Za-z0-9]+`)

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
		s.ID, s.Name = "no-name", "no name yet"
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
	l.prune()
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

// teethSource says where the teeth come from: they are never facts until they are counted.
func (l *looker) teethSource() unitsheet.SourceSheet {
	a := l.out.Teeth
	if len(a.Fits) == 0 {
		return unitsheet.SourceSheet{Of: "teeth", From: "assumed", Value: "no teeth fit", Why: "the nearest to the printed ratios"}
	}
	return unitsheet.SourceSheet{Of: "teeth", From: "assumed", Value: scheme.FitsWords(*a), Why: "found from the printed ratios"}
}

// sourced are sources with this one in the place of what was said of its topic before.
func sourced(list []unitsheet.SourceSheet, s unitsheet.SourceSheet) []unitsheet.SourceSheet {
	return append(slices.DeleteFunc(slices.Clone(list), func(o unitsheet.SourceSheet) bool { return o.Of == s.Of }), s)
}

// finish compiles what is sound, and says what it can diagnose.
func (l *looker) finish(ctx context.Context) {
	if l.machine != nil && l.s.Engine.MaxTorque != "" {
		l.s = size(l.s, l.machine)
	}
	if l.out.Teeth != nil {
		l.s.Sources = sourced(l.s.Sources, l.teethSource())
	} else if l.machine != nil && !l.d.Counted {
		l.s.Sources = sourced(l.s.Sources, unitsheet.SourceSheet{Of: "teeth", From: "assumed", Why: "usual teeth: no ratio says which"})
	}
	l.out.Sheet, l.out.Assumed, l.out.Limits = l.s, l.s.Sources, Limits(l.d.Sheet)
	if slices.ContainsFunc(l.out.Flaws, func(f Flaw) bool { return !f.Doubt && f.Path != "name" }) {
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
	if rows, err := faultmap.MapWithin(ctx, u); err == nil {
		l.out.Faults, l.out.Apart = len(rows), len(roadtest.Groups(rows))
	}
}
