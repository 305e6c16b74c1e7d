package scheme

import (
	"context"
	"fmt"
	"math"
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/teeth"
	"innercompass/core/unitsheet"
)

// Proposal is a scheme that a chart fits, with the place of each of its elements.
type Proposal struct {
	Scheme string            // id
	Places map[string]string // element of the sheet → element of the scheme
	Fits   float64           // sets of teeth that give the printed ratios; 0 when no ratio is printed, −1 when none give them
	Sets   int
}

// proposals are searched until so many maps fit one scheme: more of them differ in names alone.
const mostMaps = 6

// Propose names the schemes that a sheet's chart and ratios fit, those with the fewest sets first. Charts of planetary units often fit
// several builds that no ratio tells apart; the diagnosis is the same for all of them.
func Propose(ctx context.Context, s unitsheet.Sheet, schemes []Scheme) ([]Proposal, error) {
	var out []Proposal
	for _, x := range schemes {
		m := newMatcher(s, x)
		if m == nil {
			continue
		}
		m.place(0)
		best := Proposal{Fits: -2}
		for _, places := range m.found { // one map of each scheme, the first whose teeth fit
			fits, err := fitsRatios(ctx, s, x, places)
			if err != nil {
				return nil, err
			}
			if fits > best.Fits {
				best = Proposal{Scheme: x.ID, Places: places, Sets: len(x.Gearing.Sets), Fits: fits}
			}
			if fits >= 0 {
				break
			}
		}
		if best.Scheme != "" {
			out = append(out, best)
		}
	}
	slices.SortStableFunc(out, func(a, b Proposal) int {
		if (a.Fits < 0) != (b.Fits < 0) {
			return map[bool]int{true: 1, false: -1}[a.Fits < 0]
		}
		return a.Sets - b.Sets
	})
	return out, ctx.Err()
}

// fitsRatios counts the teeth with which a scheme prints the sheet's ratios; −1 when none do.
func fitsRatios(ctx context.Context, s unitsheet.Sheet, x Scheme, places map[string]string) (float64, error) {
	q, err := Ask(Placed(s, x, places), false)
	if err != nil || len(q.Ranges) == 0 {
		return 0, err
	}
	q.Most = 1
	a, err := teeth.Find(ctx, q)
	if ctx.Err() != nil {
		return 0, ctx.Err()
	}
	if err != nil || len(a.Fits) == 0 {
		return -1, nil
	}
	return a.Count, nil
}

// Placed is a sheet on the gears of a scheme, its elements at their places.
func Placed(s unitsheet.Sheet, x Scheme, places map[string]string) unitsheet.Sheet {
	s.Gearing = x.Gearing
	s.Elements = slices.Clone(s.Elements)
	for i := range s.Elements {
		e := &s.Elements[i]
		at := slices.IndexFunc(x.Elements, func(o unitsheet.ElementSheet) bool { return o.ID == places[e.ID] })
		if at >= 0 {
			e.A, e.B = x.Elements[at].A, x.Elements[at].B
		}
		e.Beside, e.Series = "", ""
	}
	return s
}

// matcher tries places for elements one after the other, and drops a map as soon as a range whose elements are all placed does something
// else than the chart says.
type matcher struct {
	sheet    unitsheet.Sheet
	scheme   Scheme
	machine  *gearing.Machine
	elements []unitsheet.ElementSheet // to place; a one-way clutch stands where the element beside it does
	rows     []chartRow
	at       map[string]string
	known    map[string]gearing.Result
	found    []map[string]string
}

type chartRow struct {
	set     []string
	outcome gearing.Outcome
	ratio   float64 // printed
	ladder  bool    // its gear comes after that of the row before
}

func newMatcher(s unitsheet.Sheet, x Scheme) *matcher {
	machine, bad := unitsheet.MachineOf(x.Sheet())
	if len(bad) > 0 {
		return nil
	}
	m := &matcher{sheet: s, scheme: x, machine: machine, at: map[string]string{}, known: map[string]gearing.Result{}}
	wheels := map[string]unitsheet.ElementSheet{}
	for _, e := range s.Elements {
		if gearing.Kind(e.Kind) == gearing.Freewheel {
			wheels[e.ID] = e
		}
	}
	series := map[string]bool{}
	for _, e := range wheels {
		series[e.Series] = true
	}
	used := map[string]bool{}
	climbs := slices.ContainsFunc(s.Ranges, func(r unitsheet.RangeSheet) bool { return r.From != "" })
	for _, r := range s.Ranges {
		if r.Outcome == string(gearing.Neutral) {
			continue
		}
		row := chartRow{outcome: gearing.Outcome(r.Outcome)}
		row.ratio, _, _ = unitsheet.PrintedRatio(r.Ratio)
		for _, id := range r.Applied {
			if !series[id] || row.outcome == gearing.Reverse {
				row.set = append(row.set, id)
			}
		}
		for _, id := range r.Holding {
			switch e := wheels[id]; {
			case e.Beside != "":
				row.set = append(row.set, e.Beside)
			case e.Series != "":
				row.set = append(row.set, e.Series)
			default:
				row.set = append(row.set, id)
			}
		}
		slices.Sort(row.set)
		row.set = slices.Compact(row.set)
		for _, id := range row.set {
			used[id] = true
		}
		row.ladder = row.outcome == gearing.Forward && !slices.ContainsFunc(m.rows, func(o chartRow) bool { return slices.Equal(o.set, row.set) }) && (r.From != "" || !climbs || slices.ContainsFunc(s.Ranges, func(o unitsheet.RangeSheet) bool { return o.From == r.ID }))
		m.rows = append(m.rows, row)
	}
	for _, e := range s.Elements {
		if used[e.ID] {
			m.elements = append(m.elements, e)
		}
	}
	if len(m.rows) == 0 || len(m.elements) > len(x.Elements) || len(m.elements) < len(places(x))-1 {
		return nil
	}
	return m
}

// places are the elements of a scheme that stand between different members.
func places(x Scheme) []unitsheet.ElementSheet {
	var out []unitsheet.ElementSheet
	for _, e := range x.Elements {
		if !slices.ContainsFunc(out, func(o unitsheet.ElementSheet) bool { return o.A == e.A && o.B == e.B }) {
			out = append(out, e)
		}
	}
	return out
}

func sort(e unitsheet.ElementSheet) string {
	switch k := gearing.Kind(e.Kind); {
	case k == gearing.Band || k == gearing.Brake, k == gearing.Freewheel && e.B == gearing.Case:
		return "brake"
	case k == gearing.Freewheel:
		return "wheel"
	default:
		return e.Kind
	}
}

func (m *matcher) place(i int) {
	if len(m.found) >= mostMaps {
		return
	}
	if i == len(m.elements) {
		full := map[string]string{}
		for k, v := range m.at {
			full[k] = v
		}
		m.rest(full)
		m.found = append(m.found, full)
		return
	}
	e := m.elements[i]
	for _, to := range places(m.scheme) {
		taken := false
		for _, v := range m.at {
			taken = taken || v == to.ID
		}
		if taken || gearing.Kind(e.Kind) != gearing.Freewheel && sort(e) != sort(to) {
			continue
		}
		m.at[e.ID] = to.ID
		if m.holds() {
			m.place(i + 1)
		}
		delete(m.at, e.ID)
	}
}

// rest puts one-way clutches beside what they stand for, and what is in series with one at the same place.
func (m *matcher) rest(full map[string]string) {
	for _, e := range m.sheet.Elements {
		if gearing.Kind(e.Kind) != gearing.Freewheel {
			continue
		}
		if to := full[e.Beside]; to != "" && full[e.ID] == "" {
			full[e.ID] = to
		}
	}
}

// holds reports whether every range whose elements are placed does what the chart says, and whether those fall from gear to gear.
func (m *matcher) holds() bool {
	last := math.Inf(1)
	for _, row := range m.rows {
		var ids []string
		for _, id := range row.set {
			if to, ok := m.at[id]; ok {
				ids = append(ids, to)
			}
		}
		if len(ids) < len(row.set) {
			continue
		}
		slices.Sort(ids)
		r := m.result(ids)
		if r.Outcome != row.outcome {
			return false
		}
		if row.outcome == gearing.Forward && row.ratio > 0 {
			if direct := math.Abs(row.ratio-1) < 0.005; direct != (math.Abs(r.Ratio-1) < 1e-9) {
				return false
			}
		}
		if row.ladder {
			if r.Ratio >= last*(1-1e-9) {
				return false
			}
			last = r.Ratio
		}
	}
	return true
}

func (m *matcher) result(ids []string) gearing.Result {
	key := fmt.Sprint(ids)
	if r, ok := m.known[key]; ok {
		return r
	}
	s := gearing.State{}
	for _, id := range ids {
		if at := slices.IndexFunc(m.scheme.Elements, func(e unitsheet.ElementSheet) bool { return e.ID == id }); gearing.Kind(m.scheme.Elements[at].Kind) == gearing.Freewheel {
			s.Seized = append(s.Seized, id)
		} else {
			s.Applied = append(s.Applied, id)
		}
	}
	r, err := m.machine.Result(s)
	if err != nil {
		r = gearing.Result{Outcome: gearing.Bind}
	}
	m.known[key] = r
	return r
}
