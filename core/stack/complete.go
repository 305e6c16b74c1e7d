package stack

import (
	"fmt"
	"slices"
	"strings"
)

// body checks the valve body's drawing.
func (c *compiler) body() {
	b := c.s.Body
	if b == nil {
		return
	}
	i, ok := c.index[b.Part]
	if !ok || c.s.Parts[i].Kind != "body" {
		c.fail("body.part", fmt.Sprintf("no valve body %q", b.Part), "the id of a part of kind body")
	}
	if len(b.Size) != 2 || !(b.Size[0] > 0 && b.Size[1] > 0 && b.Size[0] < farthest && b.Size[1] < farthest) {
		c.fail("body.size", fmt.Sprint(b.Size), "two numbers in mm: along the unit and across")
		return
	}
	seen := map[string]bool{}
	for i, r := range b.Bores {
		at := fmt.Sprintf("body.bores[%d]", i)
		if r.ID == "" || seen[r.ID] || r.Name == "" {
			c.fail(at+".id", fmt.Sprintf("%q is empty, used twice or has no name", r.ID), "an id of its own and a name")
		}
		seen[r.ID] = true
		c.on(at+".at", r.At)
		c.oneOf(at+".way", r.Way, "rear", "front", "up", "down")
		c.quantity(at+".bore", r.Bore, "length")
		c.control(at+".control", r.Control)
		if len(r.Train) == 0 || len(r.Train) > 12 {
			c.fail(at+".train", fmt.Sprintf("%d pieces", len(r.Train)), "1 to 12, from the mouth inwards")
		}
		for j, p := range r.Train {
			c.oneOf(fmt.Sprintf("%s.train[%d].kind", at, j), p.Kind, "valve", "spring", "sleeve", "plug", "clip", "pin")
			c.quantity(fmt.Sprintf("%s.train[%d].length", at, j), p.Length, "length")
			c.texts(fmt.Sprintf("%s.train[%d]", at, j), p.Name, p.Way)
		}
	}
	for i, x := range b.Balls {
		at := fmt.Sprintf("body.balls[%d]", i)
		c.quantity(at+".size", x.Size, "length")
		c.oneOf(at+".in", x.In, "case", "body", "plate")
		for j, p := range x.At {
			c.on(fmt.Sprintf("%s.at[%d]", at, j), p)
		}
	}
	for i, x := range b.Solenoids {
		at := fmt.Sprintf("body.solenoids[%d]", i)
		c.on(at+".at", x.At)
		c.control(at+".control", x.Control)
	}
}

func (c *compiler) on(path string, at []float64) {
	if size := c.s.Body.Size; len(at) != 2 || !(at[0] >= 0 && at[0] <= size[0] && at[1] >= 0 && at[1] <= size[1]) {
		c.fail(path, fmt.Sprint(at), "two numbers in mm that lie on the valve body")
	}
}

func (c *compiler) control(path, id string) {
	if id != "" && !slices.Contains(c.around.Controls, id) {
		c.fail(path, fmt.Sprintf("no control %q", id), "an id from controls")
	}
}

// lists checks kits and what goes together.
func (c *compiler) lists() {
	for i, k := range c.s.Kits {
		at := fmt.Sprintf("kits[%d]", i)
		if k.ID == "" || k.Name == "" || slices.ContainsFunc(c.s.Kits[:i], func(o KitSheet) bool { return o.ID == k.ID }) {
			c.fail(at+".id", fmt.Sprintf("%q is empty, used twice or has no name", k.ID), "an id of its own and a name")
		}
		c.parts(at+".parts", k.Parts)
	}
	for i, t := range c.s.Company {
		at := fmt.Sprintf("together[%d]", i)
		c.parts(at+".with", []string{t.With})
		c.parts(at+".parts", t.Parts)
		if strings.TrimSpace(t.Why) == "" {
			c.fail(at+".why", "empty", "why they go together")
		}
		c.texts(at, t.Why, t.School)
	}
}

func (c *compiler) parts(path string, ids []string) {
	if len(ids) == 0 {
		c.fail(path, "none", "ids of parts")
	}
	for j, id := range ids {
		if _, ok := c.index[id]; !ok {
			c.fail(fmt.Sprintf("%s[%d]", path, j), fmt.Sprintf("no part %q", id), "the id of a part")
		}
	}
}

// hang notes what sits in what.
func (c *compiler) hang() {
	c.out.children = make([][]int, len(c.out.Parts))
	for i, p := range c.out.Parts {
		if p.Holder >= 0 {
			c.out.children[p.Holder] = append(c.out.children[p.Holder], i)
		}
	}
}

// needs are the kinds that an element cannot do without.
func needs(e Element) []string {
	switch e.Kind {
	case "clutch", "brake":
		switch {
		case e.Hand || e.Lined == 0:
			return []string{"disc|pack|sleeve"}
		default:
			return []string{"pack", "piston", "return-spring", "snap-ring"}
		}
	case "band":
		return []string{"band", "servo"}
	case "freewheel":
		return []string{"one-way"}
	case "selector":
		return []string{"sleeve"}
	}
	return nil
}

// complete checks that every element and member has its parts, every limit a part, every control a place in the valve body.
func (c *compiler) complete() {
	for i, e := range c.around.Elements {
		for _, want := range needs(e) {
			if !slices.ContainsFunc(c.s.Parts, func(p PartSheet) bool {
				return slices.Contains(p.Of, e.ID) && slices.Contains(strings.Split(want, "|"), p.Kind)
			}) {
				c.fail("parts", fmt.Sprintf("element %s has no %s", e.ID, strings.ReplaceAll(want, "|", " or ")), fmt.Sprintf("a part of this kind with of: [%s] (elements[%d])", e.ID, i))
			}
		}
	}
	for _, m := range c.around.Members {
		if m != "case" && !slices.ContainsFunc(c.s.Parts, func(p PartSheet) bool { return p.Turns == m }) {
			c.fail("parts", fmt.Sprintf("no part turns with member %s", m), "turns: "+m+" at the parts of this member")
		}
	}
	for _, l := range c.around.Limits {
		if !slices.ContainsFunc(c.s.Parts, func(p PartSheet) bool { return slices.Contains(p.Limits, l.ID) }) {
			c.fail("parts", fmt.Sprintf("limit %s belongs to no part", l.ID), "limits: ["+l.ID+"] at the part where it is measured")
		}
	}
	if b := c.s.Body; b != nil {
		for _, id := range c.around.Controls {
			bore := slices.ContainsFunc(b.Bores, func(r BoreSheet) bool { return r.Control == id })
			if !bore && !slices.ContainsFunc(b.Solenoids, func(s SolenoidSheet) bool { return s.Control == id }) && !slices.ContainsFunc(c.s.Parts, func(p PartSheet) bool { return p.ID == id }) {
				c.fail("body", fmt.Sprintf("control %s has no place", id), "a bore or solenoid with control: "+id)
			}
		}
	}
}
