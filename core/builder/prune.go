package builder

import (
	"cmp"
	"slices"
	"strings"

	"innercompass/core/unitsheet"
)

// prune takes out what names elements or ranges that were taken off: a sheet from which something is removed stays one that can be used.
func (l *looker) prune() {
	s := &l.s
	for i := range s.Ranges {
		r := &s.Ranges[i]
		r.Applied, r.Holding = l.there(r.Applied), l.there(r.Holding)
		if !l.ranged(r.From) {
			r.From = ""
		}
	}
	s.Feeds = slices.Clone(s.Feeds)
	for i := range s.Feeds {
		f := &s.Feeds[i]
		f.Serves = l.there(f.Serves)
		f.Selectors = slices.DeleteFunc(slices.Clone(f.Selectors), func(at string) bool { return !l.selected(at) })
	}
	s.Feeds = slices.DeleteFunc(s.Feeds, func(f unitsheet.FeedSheet) bool { return len(f.Serves) == 0 })
	s.Shared = slices.Clone(s.Shared)
	for i := range s.Shared {
		s.Shared[i].Serves = l.there(s.Shared[i].Serves)
	}
	s.Shared = slices.DeleteFunc(s.Shared, func(x unitsheet.SharedSheet) bool { return len(x.Serves) < 2 })
	s.Limits = slices.DeleteFunc(slices.Clone(s.Limits), func(x unitsheet.LimitSheet) bool {
		return x.Element != "" && len(l.there([]string{x.Element})) == 0
	})
	s.Limits = slices.DeleteFunc(s.Limits, func(x unitsheet.LimitSheet) bool {
		empty := strings.TrimSpace(x.Window) == ""
		if empty {
			l.flaw(Flaw{Path: "limits", Reason: cmp.Or(x.Name, x.ID) + " has no limit yet", Accepted: "a window with its unit, such as 1.2 to 1.8 mm; without one it is left out", Doubt: true})
		}
		return empty
	})
	s.Limp = slices.Clone(s.Limp)
	for i := range s.Limp {
		s.Limp[i].Applied = l.there(s.Limp[i].Applied)
	}
	s.Limp = slices.DeleteFunc(s.Limp, func(x unitsheet.LogicSheet) bool { return !l.selected(x.Selector) })
	s.Bearings = slices.DeleteFunc(slices.Clone(s.Bearings), func(b unitsheet.BearingSheet) bool {
		known := func(race string) bool {
			return race == "" || slices.Contains(unitsheet.Racers, race) || slices.Contains(s.Gearing.Members, race)
		}
		return !known(b.Inner) || !known(b.Outer)
	})
	l.pruneSources()
	*s = unitsheet.Stacked(*s, s.Stack, func(element string) string { return element })
	if v := s.Converter; v != nil {
		own := *v
		own.Lockup = slices.DeleteFunc(slices.Clone(v.Lockup), func(id string) bool { return !l.ranged(id) })
		s.Converter = &own
	}
	if h := s.Hydraulics; h != nil {
		own := *h
		own.Shifts = slices.DeleteFunc(slices.Clone(h.Shifts), func(x unitsheet.ShiftValveSheet) bool {
			return !l.ranged(x.To) || !slices.ContainsFunc(s.Controls, func(c unitsheet.ControlSheet) bool { return c.ID == x.ID })
		})
		s.Hydraulics = &own
	}
}

// pruneSources takes out sources of what is no longer there.
func (l *looker) pruneSources() {
	s := &l.s
	numbers := unitsheet.Numbers(*s)
	s.Sources = slices.Clone(s.Sources)
	s.Sources = slices.DeleteFunc(s.Sources, func(x unitsheet.SourceSheet) bool {
		return len(x.For) > 0 && !slices.ContainsFunc(x.For, l.named) ||
			!slices.Contains(unitsheet.Topics, x.Of) && !slices.ContainsFunc(numbers, func(n unitsheet.Number) bool { return n.Path == x.Of })
	})
	for i := range s.Sources {
		s.Sources[i].For = slices.DeleteFunc(slices.Clone(s.Sources[i].For), func(id string) bool { return !l.named(id) })
	}
}

// named reports whether an element or range has this id.
func (l *looker) named(id string) bool { return len(l.there([]string{id})) > 0 || l.ranged(id) }

func (l *looker) ranged(id string) bool {
	return slices.ContainsFunc(l.s.Ranges, func(r unitsheet.RangeSheet) bool { return r.ID == id })
}

func (l *looker) selected(selector string) bool {
	return slices.ContainsFunc(l.s.Ranges, func(r unitsheet.RangeSheet) bool { return r.Selector == selector })
}
