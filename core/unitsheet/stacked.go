package unitsheet

import (
	"fmt"
	"slices"

	"innercompass/core/stack"
)

// stack checks the stack against the rest of the sheet.
func (c *compiler) stack() {
	if c.s.Stack == nil {
		return
	}
	around := Around(c.s)
	out, problems := stack.Compile(*c.s.Stack, around)
	for _, p := range problems {
		c.fail("stack."+p.Path, p.Reason, p.Accepted)
	}
	c.u.Stack = out
}

// traps checks where each trap lies in wait.
func (c *compiler) traps() {
	for i, t := range c.s.Traps {
		path := fmt.Sprintf("traps[%d]", i)
		c.level(path+".before", t.Before)
		if t.On != "" {
			c.oneOf(path+".on", t.On, "out", "in")
		}
		if t.Part != "" && (c.s.Stack == nil || !slices.ContainsFunc(c.s.Stack.Parts, func(p stack.PartSheet) bool { return p.ID == t.Part })) {
			c.fail(path+".part", fmt.Sprintf("no part %q in the stack", t.Part), "the id of a part under stack")
		}
		if n := len(t.At); n != 0 && n != 2 {
			c.fail(path+".at", fmt.Sprintf("%d numbers", n), "two: x and radius in mm")
		}
	}
}

// Around is what the stack of a sheet is checked against.
func Around(s Sheet) stack.Around {
	around := stack.Around{Members: s.Gearing.Members}
	for _, e := range s.Elements {
		x := stack.Element{ID: e.ID, Kind: e.Kind, Hand: e.Hand}
		if e.Plates != nil {
			x.Lined, x.Steel = e.Plates.Lined, e.Plates.Steel
		}
		around.Elements = append(around.Elements, x)
	}
	for _, l := range s.Limits {
		around.Limits = append(around.Limits, stack.Limit{ID: l.ID, Element: l.Element})
	}
	for _, name := range AccessNames {
		if len(s.Access) == 0 || slices.ContainsFunc(s.Access, func(a AccessSheet) bool { return a.Level == name }) {
			around.Levels = append(around.Levels, name)
		}
	}
	for _, x := range s.Controls {
		around.Controls = append(around.Controls, x.ID)
	}
	return around
}

// Stacked is a sheet with a stack that fits the rest of it, from its own or from another's; traps keep their parts as far as these are
// there.
func Stacked(s Sheet, from *stack.Sheet, as func(element string) string) Sheet {
	s.Stack = nil
	if from != nil {
		if x := stack.Adapt(*from, as, Around(s)); len(x.Parts) > 0 {
			s.Stack = &x
		}
	}
	s.Traps = slices.Clone(s.Traps)
	for i := range s.Traps {
		t := &s.Traps[i]
		if s.Stack == nil || !slices.ContainsFunc(s.Stack.Parts, func(p stack.PartSheet) bool { return p.ID == t.Part }) {
			t.Part, t.On, t.At = "", "", nil
		}
	}
	return s
}
