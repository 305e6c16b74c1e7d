package builder

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Question is a setting of the controls that a stuck one gives and that no range commands: what is on then, nobody has said. What is
// answered goes into the sheet's logic; what is not stays unknown, and so do the cells that hang on it.
type Question struct {
	Selector, Bits string
	Words          string
	Answer         string // id of the range whose elements are on; "" while open
}

// byLogic are the controls that work through the table and not on one element alone.
func byLogic(s unitsheet.Sheet) []unitsheet.ControlSheet {
	return slices.DeleteFunc(slices.Clone(s.Controls), func(c unitsheet.ControlSheet) bool { return c.Applies != "" })
}

// controls completes the table of controls: bits of the right length, a row of logic for every range, and what only a stuck control
// gives as questions.
func (l *looker) controls() {
	s := &l.s
	if len(s.Controls) == 0 {
		s.Logic = nil
		for i := range s.Ranges {
			s.Ranges[i].Bits = ""
		}
		return
	}
	s.Controls = slices.Clone(s.Controls)
	for i := range s.Controls {
		c := &s.Controls[i]
		if c.Name == "" {
			c.Name = c.ID
		}
		if c.Applies != "" && len(l.there([]string{c.Applies})) == 0 {
			c.Applies = ""
		}
	}
	n := len(byLogic(*s))
	told := map[string]bool{}
	for i := range s.Ranges {
		r := &s.Ranges[i]
		if r.Bits != "" || n == 0 {
			r.Bits = fitted(r.Bits, n)
		}
		told[r.Selector] = told[r.Selector] || r.Bits != ""
	}
	answered := slices.DeleteFunc(slices.Clone(s.Logic), func(x unitsheet.LogicSheet) bool {
		return len(x.Bits) != n || l.commanded(x.Selector, x.Bits) != nil || !told[x.Selector]
	})
	for i := range answered {
		answered[i].Applied = l.there(answered[i].Applied)
	}
	s.Logic = nil
	if n == 0 {
		l.patterns()
		return
	}
	for i := range s.Ranges {
		r := &s.Ranges[i]
		if !told[r.Selector] {
			continue
		}
		r.Bits = fitted(r.Bits, n)
		row := unitsheet.LogicSheet{Selector: r.Selector, Bits: r.Bits, Applied: l.throughLogic(r.Applied)}
		at := slices.IndexFunc(s.Logic, func(x unitsheet.LogicSheet) bool { return x.Selector == row.Selector && x.Bits == row.Bits })
		switch {
		case at < 0:
			s.Logic = append(s.Logic, row)
		case !sameSet(s.Logic[at].Applied, row.Applied):
			l.flaw(Flaw{Path: fmt.Sprintf("ranges[%d].bits", i), Range: r.ID, Reason: fmt.Sprintf("%s has the same solenoids on as another range of %s, and other elements", r.ID, r.Selector), Accepted: "another setting, or the same elements"})
		}
	}
	s.Logic = append(s.Logic, answered...)
	l.ask(told)
	l.patterns()
}

func fitted(bits string, n int) string {
	bits = strings.Map(func(r rune) rune {
		if r == '1' {
			return '1'
		}
		return '0'
	}, bits)
	for len(bits) < n {
		bits += "0"
	}
	return bits[:n]
}

func sameSet(a, b []string) bool {
	a, b = slices.Clone(a), slices.Clone(b)
	slices.Sort(a)
	slices.Sort(b)
	return slices.Equal(a, b)
}

// throughLogic leaves out what a control of its own works.
func (l *looker) throughLogic(applied []string) []string {
	return slices.DeleteFunc(append([]string{}, applied...), func(id string) bool {
		return slices.ContainsFunc(l.s.Controls, func(c unitsheet.ControlSheet) bool { return c.Applies == id })
	})
}

// commanded is the range that a setting commands; nil when none does.
func (l *looker) commanded(selector, bits string) *unitsheet.RangeSheet {
	at := slices.IndexFunc(l.s.Ranges, func(r unitsheet.RangeSheet) bool { return r.Selector == selector && r.Bits == bits })
	if at < 0 {
		return nil
	}
	return &l.s.Ranges[at]
}

// ask lists the settings that one stuck control gives and that the logic does not know. A setting that stands for the same in another
// position of the lever is no question: forward ranges of one lever share their valves.
func (l *looker) ask(told map[string]bool) {
	names := byLogic(l.s)
	for _, r := range l.s.Ranges {
		if !told[r.Selector] || gearing.Outcome(r.Outcome) == gearing.Neutral {
			continue
		}
		for i := range names {
			bits := []byte(r.Bits)
			bits[i] ^= 1
			key := string(bits)
			if slices.ContainsFunc(l.out.Questions, func(q Question) bool { return q.Selector == r.Selector && q.Bits == key }) || l.commanded(r.Selector, key) != nil {
				continue
			}
			q := Question{Selector: r.Selector, Bits: key, Words: fmt.Sprintf("Lever in %s, %s: what is on then?", r.Selector, onWords(names, key))}
			if at := slices.IndexFunc(l.s.Logic, func(x unitsheet.LogicSheet) bool { return x.Selector == r.Selector && x.Bits == key }); at >= 0 {
				for _, o := range l.s.Ranges {
					if sameSet(l.throughLogic(o.Applied), l.s.Logic[at].Applied) {
						q.Answer = o.ID
						break
					}
				}
			}
			l.out.Questions = append(l.out.Questions, q)
		}
	}
}

func onWords(controls []unitsheet.ControlSheet, bits string) string {
	var on, off []string
	for i, c := range controls {
		if bits[i] == '1' {
			on = append(on, c.ID)
		} else {
			off = append(off, c.ID)
		}
	}
	switch {
	case len(on) == 0:
		return "none of " + strings.Join(off, ", ") + " on"
	case len(off) == 0:
		return strings.Join(on, " and ") + " on"
	}
	return strings.Join(on, " and ") + " on, " + strings.Join(off, " and ") + " off"
}

// patterns finds controls of the table that are on just where one element is on, or just where it is off: they may work it alone, which
// only a person can say.
func (l *looker) patterns() {
	for i, c := range byLogic(l.s) {
		for _, e := range l.s.Elements {
			if gearing.Kind(e.Kind) == gearing.Freewheel || slices.ContainsFunc(l.s.Controls, func(o unitsheet.ControlSheet) bool { return o.Applies == e.ID }) {
				continue
			}
			same, seen := true, 0
			for _, r := range l.s.Ranges {
				if len(r.Bits) <= i {
					continue
				}
				if on := slices.Contains(r.Applied, e.ID); on != (r.Bits[i] == '1') {
					same = false
				} else if on {
					seen++
				}
			}
			if same && seen > 0 {
				l.out.Patterns = append(l.out.Patterns, Pattern{c.ID, e.ID})
			}
		}
	}
}

// Pattern is a control that is on just where an element is on.
type Pattern struct{ Control, Element string }
