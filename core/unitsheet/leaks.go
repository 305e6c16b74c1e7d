package unitsheet

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/leak"
)

// leaks compiles the places where oil comes from; a sheet without any has those of a plain unit.
func (c *compiler) leaks() {
	s := c.s.Leaks
	if s == nil {
		pressed := slices.ContainsFunc(c.u.Elements, Element.Pressed)
		kind := "gear"
		if pressed || c.s.Converter != nil {
			kind = "fluid"
		}
		made, err := leak.Plain(kind, pressed, c.s.Converter != nil).Compile()
		if err != nil {
			panic(err) // a slip in the plain map: it is compiled in a test
		}
		c.u.Leaks = &made
		return
	}
	m := leak.Map{Kind: s.Oil, Across: s.Across}
	for i, z := range s.Zones {
		if len(z.Box) != 6 {
			c.fail(fmt.Sprintf("leaks.zones[%d].box", i), fmt.Sprintf("%d numbers", len(z.Box)), "six: x, y, z, width, height, depth")
			return
		}
		for j, v := range z.Box {
			if !(v >= -20 && v <= 120) {
				c.fail(fmt.Sprintf("leaks.zones[%d].box[%d]", i, j), fmt.Sprint(v), "-20 to 120")
			}
		}
		m.Zones = append(m.Zones, leak.Zone{ID: z.ID, Name: z.Name, Hidden: z.Hidden, Box: leak.Box{X: z.Box[0], Y: z.Box[1], Z: z.Box[2], W: z.Box[3], H: z.Box[4], D: z.Box[5]}})
	}
	for _, x := range s.Sources {
		made := leak.Source{ID: x.ID, Name: x.Name, Zone: x.Zone, When: leak.When(x.When), Kind: x.Oil, Prior: leak.Usual}
		if x.Seldom {
			made.Prior = leak.Seldom
		}
		m.Sources = append(m.Sources, made)
	}
	for _, p := range s.Paths {
		m.Paths = append(m.Paths, leak.Path{From: p.From, To: p.To, Share: p.Share})
	}
	made, err := m.Compile()
	if err != nil {
		reason, accepted, _ := strings.Cut(strings.TrimPrefix(err.Error(), "leak: "), "; want ")
		c.fail("leaks", reason, accepted)
		return
	}
	c.u.Leaks = &made
}
