package builder

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/scheme"
	"innercompass/core/teeth"
	"innercompass/core/unitsheet"
)

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
				row.Wrong = fmt.Sprintf("%.3f is not below the %.3f of %s", row.Ratio, last, lastID)
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
	q, err := scheme.Ask(ask, l.d.Final)
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
	fit, ok, err := l.chosen(ctx, q, a)
	if err != nil || !ok {
		return err
	}
	g, err := scheme.Lay(l.s, fit)
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

// chosen are the teeth that the draft goes on with: those picked of the ones that fit; where none does, those that fit all ratios but
// the one that must be misprinted, or the nearest.
func (l *looker) chosen(ctx context.Context, q teeth.Question, a teeth.Answer) (teeth.Fit, bool, error) {
	if len(a.Fits) > 0 {
		return a.Fits[min(max(l.d.Fit, 0), len(a.Fits)-1)], true, nil
	}
	if len(a.Suspects) == 1 {
		s := a.Suspects[0]
		q.Ranges = slices.DeleteFunc(slices.Clone(q.Ranges), func(p teeth.Printed) bool { return p.ID == s.ID })
		rest, err := teeth.Find(ctx, q)
		if ctx.Err() != nil {
			return teeth.Fit{}, false, ctx.Err()
		}
		if err == nil && len(rest.Fits) > 0 {
			return rest.Fits[0], true, nil
		}
	}
	if a.Nearest == nil {
		return teeth.Fit{}, false, nil
	}
	return *a.Nearest, true, nil
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

// follows reports whether a ratio is one that a range can be shifted up to.
func (l *looker) follows(r unitsheet.RangeSheet, ratio float64) bool {
	at := slices.IndexFunc(l.s.Ranges, func(o unitsheet.RangeSheet) bool { return o.ID == r.From })
	if at < 0 {
		return true
	}
	below, err := l.machine.Result(gearing.State{Applied: l.s.Ranges[at].Applied})
	return err != nil || below.Ratio == 0 || ratio < below.Ratio*(1-1e-9)
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
		} else if !l.follows(r, s.Ratio) {
			away = 2
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
