package building

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/internal/problem"
)

// Measured is what an instrument was given in a case: values as they were typed, by input.
type Measured struct {
	Case, Part string // Part is what of the unit was measured; "" for the unit
	Values     map[string]string
}

// Offer is what was measured on vehicles with this unit, for a number of its sheet. It is never taken by itself: what was measured on a
// vehicle that is ill belongs into no sheet, and only a person knows.
type Offer struct {
	Path   string // of the number: ranges.D2.line_idle
	Topic  string
	Window string // lowest to highest
	Words  string // what was measured, how often, on how many vehicles
	Stands string // what the sheet says now; "" when nothing

	readings int
	cases    map[string]bool
}

// gathering is a number that instruments measure: where it stands in a sheet, what it is called, and how it is read.
type gathering struct {
	path, topic, words, stands string
	dimension                  quantity.Dimension
	unit                       string
	decimals                   int
	from                       []reading
}

// reading is one input of an instrument, for a part of the unit or for all of it.
type reading struct{ instrument, part, input string }

// gatherings lists what can be measured of a unit: pressures by range, stall speed, the limits that its sheet has.
func gatherings(s unitsheet.Sheet) []gathering {
	var out []gathering
	pressure := func(r unitsheet.RangeSheet, field, at, now string, from ...reading) {
		out = append(out, gathering{path: "ranges." + r.ID + "." + field, topic: "pressures", words: r.ID + " " + at, stands: now, dimension: quantity.Pressure, unit: "psi", from: from})
	}
	for _, r := range s.Ranges {
		if r.Outcome == string(gearing.Neutral) && r.LineIdle == "" {
			continue
		}
		pressure(r, "line_idle", "at idle", r.LineIdle, reading{"line-pressure", "", r.ID}, reading{"pressure-rise", r.ID, "idle"})
		pressure(r, "line_full", "at full throttle", r.LineFull, reading{"pressure-rise", r.ID, "full"})
	}
	if s.Converter != nil {
		out = append(out, gathering{path: "converter.stall", topic: "converter", words: "stall speed", stands: s.Converter.Stall, dimension: quantity.RotationalSpeed, unit: "rpm", from: []reading{{"stall-speed", "", "speed"}}})
	}
	for _, l := range s.Limits {
		d := quantity.Dimension(l.Dimension)
		units := quantity.UnitsOf(d)
		if len(units) == 0 {
			continue
		}
		unit := units[0].Symbol
		if d == quantity.Length {
			unit = "mm"
		}
		out = append(out, gathering{path: "limits." + l.ID + ".window", topic: "limits", words: l.Name, stands: l.Window, dimension: d, unit: unit, decimals: 2, from: []reading{{"window", l.ID, "value"}}})
	}
	return out
}

// offers gathers what was measured on a unit.
func (s *Service) offers(ctx context.Context, sheet unitsheet.Sheet) ([]Offer, error) {
	if sheet.ID == "" {
		return nil, nil
	}
	all := gatherings(sheet)
	measured := map[string][]Measured{}
	for _, g := range all {
		for _, r := range g.from {
			if _, read := measured[r.instrument]; read {
				continue
			}
			found, err := s.Store.MeasuredOn(ctx, sheet.ID, r.instrument)
			if err != nil {
				return nil, err
			}
			measured[r.instrument] = found
		}
	}
	var out []Offer
	for _, g := range all {
		if o, ok := g.gather(measured); ok {
			out = append(out, o)
		}
	}
	return out, nil
}

// gather is what the readings of a number come to; false when there is none.
func (g gathering) gather(measured map[string][]Measured) (Offer, bool) {
	o := Offer{Path: g.path, Topic: g.topic, Stands: g.stands, cases: map[string]bool{}}
	low, high := math.Inf(1), math.Inf(-1)
	for _, r := range g.from {
		for _, m := range measured[r.instrument] {
			if m.Part != r.part || strings.TrimSpace(m.Values[r.input]) == "" {
				continue
			}
			q, err := quantity.Parse(m.Values[r.input], g.dimension, g.unit)
			if err != nil {
				continue
			}
			v, err := q.In(g.unit)
			if err != nil {
				continue
			}
			low, high = math.Min(low, v), math.Max(high, v)
			o.readings++
			o.cases[m.Case] = true
		}
	}
	if o.readings == 0 {
		return o, false
	}
	step := math.Pow10(-g.decimals)
	low, high = math.Floor(low/step+1e-9)*step, math.Ceil(high/step-1e-9)*step
	o.Window = fmt.Sprintf("%.*f..%.*f %s", g.decimals, low, g.decimals, high, g.unit)
	o.Words = fmt.Sprintf("%s: %s on %s, %.*f to %.*f %s", g.words, counted(o.readings, "reading"), counted(len(o.cases), "vehicle"), g.decimals, low, g.decimals, high, g.unit)
	return o, true
}

func counted(n int, word string) string {
	if n == 1 {
		return "1 " + word
	}
	return fmt.Sprintf("%d %ss", n, word)
}

// Take puts what was measured into a draft, as measured here, by whom.
func (s *Service) Take(ctx context.Context, id string, revision int, path, by string) (Opened, error) {
	o, err := s.Open(ctx, id)
	if err != nil {
		return Opened{}, err
	}
	at := slices.IndexFunc(o.Offers, func(x Offer) bool { return x.Path == path })
	if at < 0 {
		var have []string
		for _, x := range o.Offers {
			have = append(have, x.Path)
		}
		return Opened{}, problem.Field("path", fmt.Sprintf("nothing was measured for %q", path), cmp.Or(strings.Join(have, ", "), "nothing yet: instruments must read it in cases of this unit first"))
	}
	return s.Say(ctx, id, revision, path, o.Offers[at].Window, unitsheet.SourceSheet{From: "measured", Why: o.Offers[at].Words, By: by})
}

// Say puts one number into a draft and notes where it is from; with an empty source that of its topic counts again.
func (s *Service) Say(ctx context.Context, id string, revision int, path, value string, source unitsheet.SourceSheet) (Opened, error) {
	o, err := s.kept(ctx, id)
	if err != nil {
		return Opened{}, err
	}
	d := o.Draft
	if strings.HasPrefix(path, "gearing.") && !d.Counted {
		return Opened{}, problem.Field("path", "teeth are found from the printed ratios", "another number; or teeth that were counted")
	}
	if source.From != "" && !slices.Contains(unitsheet.From, source.From) {
		return Opened{}, problem.Field("from", fmt.Sprintf("%q", source.From), strings.Join(unitsheet.From, ", "))
	}
	if d.Sheet, err = unitsheet.With(d.Sheet, path, value); err != nil {
		return Opened{}, err
	}
	d.Sheet.Sources = slices.DeleteFunc(slices.Clone(d.Sheet.Sources), func(x unitsheet.SourceSheet) bool { return x.Of == path })
	if source.From != "" {
		source.Of = path
		d.Sheet.Sources = append(d.Sheet.Sources, source)
	}
	return s.keep(ctx, Kept{ID: id, Revision: revision + 1}, d)
}

// stale takes out the source of every number that was changed by hand since: what was measured is not what was typed over it.
func stale(was, now unitsheet.Sheet) unitsheet.Sheet {
	before := map[string]unitsheet.Number{}
	for _, n := range unitsheet.Numbers(was) {
		before[n.Path] = n
	}
	for _, n := range unitsheet.Numbers(now) {
		old, there := before[n.Path]
		if n.Given && there && old.Given && old.Value != n.Value && reflect.DeepEqual(old.Source, n.Source) {
			now.Sources = slices.DeleteFunc(slices.Clone(now.Sources), func(x unitsheet.SourceSheet) bool { return x.Of == n.Path })
		}
	}
	return now
}
