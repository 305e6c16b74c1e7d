package unitsheet

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/gearing"
)

// PrintedDecimals is how many decimals a reduced sheet prints its ratios with.
const PrintedDecimals = 2

// Reduce writes a unit's sheet as somebody would who knows less of it: by its chart, or by its gears. Names, places, access and
// fluid stay; with tables so do controls, feeds and what elements share. Known failures and what the sheet adds to the trade's
// knowledge go with the numbers. It is how far a lesser sheet reaches that is measured with it.
func (u *Unit) Reduce(to Depth, tables bool) Sheet {
	s := u.Sheet
	if to == InFull {
		return s
	}
	s = Stacked(s, nil, nil)
	s.Hydraulics, s.Limits, s.Engine, s.Known, s.Own, s.Torques, s.Sensors = nil, nil, EngineSheet{}, nil, nil, nil, slices.Clone(s.Sensors)
	s.Bearings, s.Sources = nil, nil
	if v := s.Converter; v != nil {
		s.Converter = &ConverterSheet{Lockup: v.Lockup}
	}
	if s.Elements = slices.Clone(s.Elements); !tables {
		s.Feeds, s.Shared, s.Controls, s.Logic, s.Limp = nil, nil, nil, nil, nil
	}
	for i := range s.Elements {
		e := &s.Elements[i]
		e.Plates, e.Band, e.Capacity = nil, nil, ""
		if !tables {
			e.Feed = ""
		}
	}
	s.Ranges = slices.Clone(s.Ranges)
	for i := range s.Ranges {
		r := &s.Ranges[i]
		r.LineIdle, r.LineFull, r.EngineLimit = "", "", ""
		if !tables {
			r.Bits = ""
		}
		if ratio := u.Ranges[i].Healthy.Ratio; ratio != 0 {
			r.Ratio = fmt.Sprintf("%.*f", PrintedDecimals, math.Abs(ratio))
		}
	}
	if to == ByGears {
		return s
	}
	s.Layout = "planetary"
	if len(s.Gearing.Sets) == 0 {
		s.Layout = "parallel"
	}
	s.Gearing = GearingSheet{}
	for i := range s.Sensors {
		s.Sensors[i].On = ""
	}
	for i := range s.Elements {
		e := &s.Elements[i]
		e.Beside, e.Series = u.stands(u.Sheet.Elements[i])
		e.A, e.B = "", ""
	}
	return s
}

// stands finds what holds the same members as a one-way clutch does, and what it works through: an element on a race that
// nothing else touches.
func (u *Unit) stands(f ElementSheet) (beside, series string) {
	if gearing.Kind(f.Kind) != gearing.Freewheel {
		return "", ""
	}
	ends := [2]string{f.A, f.B}
	for i, race := range ends {
		if race == gearing.Case || u.touches(race) != 2 {
			continue
		}
		for _, e := range u.Sheet.Elements {
			if e.ID != f.ID && (e.A == race || e.B == race) {
				series = e.ID
				ends[i] = e.A
				if e.A == race {
					ends[i] = e.B
				}
			}
		}
	}
	for _, e := range u.Sheet.Elements {
		same := e.A == ends[0] && e.B == ends[1] || e.A == ends[1] && e.B == ends[0]
		if same && e.ID != f.ID && gearing.Kind(e.Kind) != gearing.Freewheel {
			beside = e.ID
		}
	}
	return beside, series
}

// SameAt reports whether two ids of the diagnosis mean the same at this unit's depth: without gearing it does not tell one gear set
// from another.
func (u *Unit) SameAt(a, b string) bool {
	if a == b || u.Chart == nil {
		return a == b
	}
	kind := func(id string) (string, bool) {
		name, part, ok := strings.Cut(id, ".")
		return name, ok && (strings.HasPrefix(part, "set-") || strings.HasPrefix(part, "gears-"))
	}
	x, xGears := kind(a)
	y, yGears := kind(b)
	return xGears && yGears && x == y
}

// touches counts what is attached to a member.
func (u *Unit) touches(member string) int {
	n := 0
	count := func(ids ...string) {
		if slices.Contains(ids, member) {
			n++
		}
	}
	g := u.Sheet.Gearing
	for _, s := range g.Sets {
		count(s.Sun, s.SmallSun, s.Ring, s.Carrier)
	}
	for _, p := range g.Gears {
		count(p.A, p.B)
	}
	for _, l := range g.Links {
		count(l.A, l.B)
	}
	for _, e := range u.Sheet.Elements {
		count(e.A, e.B)
	}
	return n
}
