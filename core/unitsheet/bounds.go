package unitsheet

import (
	"fmt"
	"slices"
	"strings"
)

// bounds refuses a sheet with more entries than any unit has: each is solved, searched or filled into the knowledge base, so a
// sheet of any length would take any time.
func (c *compiler) bounds() {
	s := c.s
	for _, b := range []struct {
		path    string
		n, most int
	}{
		{"gearing.members", len(s.Gearing.Members), maxMembers}, {"gearing.sets", len(s.Gearing.Sets), 12}, {"gearing.gears", len(s.Gearing.Gears), 40}, {"gearing.links", len(s.Gearing.Links), 40},
		{"elements", len(s.Elements), maxElements}, {"ranges", len(s.Ranges), maxRanges}, {"controls", len(s.Controls), maxControls}, {"logic", len(s.Logic), 400}, {"limp", len(s.Limp), 40},
		{"feeds", len(s.Feeds), 60}, {"shared", len(s.Shared), 60}, {"sensors", len(s.Sensors), 40}, {"bearings", len(s.Bearings), 40}, {"limits", len(s.Limits), 120}, {"access", len(s.Access), len(AccessNames)}, {"parts", len(s.Parts), 120},
		{"traps", len(s.Traps), 60}, {"resets", len(s.Resets), 60}, {"torques", len(s.Torques), 120}, {"sources", len(s.Sources), 300}, {"known", len(s.Known), 60}, {"fluid.wear", len(s.Fluid.Wear), 40}, {"fluid.level.steps", len(s.Fluid.Level.Steps), 40},
	} {
		c.atMost(b.path, b.n, b.most)
	}
	if h := s.Hydraulics; h != nil {
		c.atMost("hydraulics.shifts", len(h.Shifts), 20)
		if h.Governor != nil {
			c.atMost("hydraulics.governor.weights", len(h.Governor.Weights), 12)
		}
	}
	if l := s.Leaks; l != nil {
		c.atMost("leaks.zones", len(l.Zones), 60)
		c.atMost("leaks.sources", len(l.Sources), 60)
		c.atMost("leaks.paths", len(l.Paths), 200)
	}
	for i, f := range s.Feeds {
		c.atMost(fmt.Sprintf("feeds[%d].path", i), len(f.Path), 40)
	}
}

// agreement refuses what a sheet says twice in two ways, and selectors that no range has.
func (c *compiler) agreement() {
	c.cycles()
	rows := map[[2]string]int{}
	for _, list := range []struct {
		name string
		rows []LogicSheet
	}{{"logic", c.s.Logic}, {"limp", c.s.Limp}} {
		clear(rows)
		for i, l := range list.rows {
			path := fmt.Sprintf("%s[%d]", list.name, i)
			c.selectorKnown(path+".selector", l.Selector)
			key := [2]string{l.Selector, l.Bits}
			if first, twice := rows[key]; twice {
				c.fail(path, fmt.Sprintf("%s[%d] says already what holds for selector %s with %q", list.name, first, l.Selector, l.Bits), "each setting once")
				continue
			}
			rows[key] = i
		}
	}
	for i, f := range c.s.Feeds {
		for j, id := range f.Serves {
			for _, e := range c.s.Elements {
				if e.ID == id && e.Feed != f.ID {
					c.fail(fmt.Sprintf("feeds[%d].serves[%d]", i, j), fmt.Sprintf("element %s says that its feed is %q", id, e.Feed), "the same in both places")
				}
			}
		}
	}
	for i, e := range c.s.Elements {
		at := slices.IndexFunc(c.s.Feeds, func(f FeedSheet) bool { return f.ID == e.Feed })
		if at >= 0 && !slices.Contains(c.s.Feeds[at].Serves, e.ID) {
			c.fail(fmt.Sprintf("elements[%d].feed", i), fmt.Sprintf("feed %s does not say that it serves %s", e.Feed, e.ID), "the same in both places")
		}
	}
}

func (c *compiler) selectorKnown(path, selector string) {
	if slices.ContainsFunc(c.s.Ranges, func(r RangeSheet) bool { return r.Selector == selector }) {
		return
	}
	var all []string
	for _, r := range c.s.Ranges {
		if !slices.Contains(all, r.Selector) {
			all = append(all, r.Selector)
		}
	}
	c.fail(path, fmt.Sprintf("no range with selector %q", selector), strings.Join(all, ", "))
}

// cycles refuses ranges that shift up into each other: a road test would never come to an end.
func (c *compiler) cycles() {
	from := map[string]string{}
	for _, r := range c.s.Ranges {
		from[r.ID] = r.From
	}
	for i, r := range c.s.Ranges {
		at := r.From
		for range c.s.Ranges {
			if at = from[at]; at == "" || at == r.ID {
				break
			}
		}
		if at == r.ID && at != "" {
			c.fail(fmt.Sprintf("ranges[%d].from", i), fmt.Sprintf("%s comes from %s, which comes from %s", r.ID, r.From, r.ID), "a range that is shifted up from, down to one that is not")
			return
		}
	}
}
