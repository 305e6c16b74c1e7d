package diagnose

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// instances are the parts for which a template is copied; one empty part when it is no template, none when
// the unit lacks what it needs.
func (n *Network) instances(kinds []string, needs string) []unitsheet.Element {
	if !n.has(needs) {
		return nil
	}
	if len(kinds) == 0 {
		return []unitsheet.Element{{}}
	}
	var out []unitsheet.Element
	for _, e := range n.Unit.Elements {
		if slices.Contains(kinds, n.kind(e)) {
			out = append(out, e)
		}
	}
	add := func(kind, id, name string) {
		if slices.Contains(kinds, kind) {
			out = append(out, unitsheet.Element{ID: id, Name: name, Access: unitsheet.UnitApart})
		}
	}
	for _, c := range n.Unit.Controls {
		if slices.Contains(kinds, c.Kind) {
			out = append(out, unitsheet.Element{ID: c.ID, Name: c.Name, Access: c.Level})
		}
	}
	for _, s := range n.Unit.Sheet.Shared {
		if s.Kind == "drum" || s.Kind == "shaft" {
			add("carrier", s.ID, s.Name)
		} else {
			add("passage", s.ID, s.Name)
		}
	}
	for i, s := range n.Unit.Sheet.Gearing.Sets {
		add("gears", fmt.Sprintf("set-%d", i+1), s.Name)
	}
	for i, g := range n.Unit.Sheet.Gearing.Gears {
		add("gears", fmt.Sprintf("gears-%d", i+1), g.Name)
	}
	return out
}

// kind is what templates call an element: a clutch between engine and box, without pressure plates of its
// own, is a dry clutch and not one of the unit's packs.
func (n *Network) kind(e unitsheet.Element) string {
	if e.Kind == gearing.Clutch && !e.Pressed() && n.Unit.Sheet.Converter == nil {
		return "dry-clutch"
	}
	return string(e.Kind)
}

// has reports whether the unit has a part; "feed:" before the name asks for a feed, "pump" for pressure of
// its own, "solenoids" for electric control, "lockup" for a converter clutch. Nothing needed is always there.
func (n *Network) has(needs string) bool {
	if feed, ok := strings.CutPrefix(needs, "feed:"); ok {
		return slices.ContainsFunc(n.Unit.Sheet.Feeds, func(f unitsheet.FeedSheet) bool { return f.ID == feed })
	}
	switch needs {
	case "":
		return true
	case "pump":
		return slices.ContainsFunc(n.Unit.Elements, unitsheet.Element.Pressed) || n.Unit.Sheet.Converter != nil
	case "solenoids":
		return n.Unit.Electric()
	case "lockup":
		return n.Unit.Sheet.Converter != nil && len(n.Unit.Sheet.Converter.Lockup) > 0
	case "dry-clutch":
		return slices.ContainsFunc(n.Unit.Elements, func(e unitsheet.Element) bool { return n.kind(e) == "dry-clutch" })
	}
	return slices.ContainsFunc(n.Unit.Sheet.Parts, func(p unitsheet.PartSheet) bool { return p.ID == needs })
}

// feedElement replaces "@feed" at the end of a name by the first element that the feed serves.
func (n *Network) feedElement(name string) string {
	before, feed, ok := strings.Cut(name, "@")
	if !ok {
		return name
	}
	for _, f := range n.Unit.Sheet.Feeds {
		if f.ID == feed && len(f.Serves) > 0 {
			return before + f.Serves[0]
		}
	}
	return name
}

func filler(e unitsheet.Element) func(string) string {
	title := e.Name
	if title != "" {
		title = strings.ToUpper(title[:1]) + title[1:]
	}
	return strings.NewReplacer("{id}", e.ID, "{element}", e.Name, "{Element}", title, "{access}", e.Access.String()).Replace
}

func (f Finding) fill(e unitsheet.Element) Finding {
	fill := filler(e)
	f.ID, f.Title = fill(f.ID), fill(f.Title)
	return f
}

func (c Cause) fill(e unitsheet.Element) Cause {
	fill := filler(e)
	c.ID, c.Title, c.Repair.Access = fill(c.ID), fill(c.Title), fill(c.Repair.Access)
	c.Chain, c.Links = slices.Clone(c.Chain), slices.Clone(c.Links)
	for i := range c.Chain {
		c.Chain[i] = fill(c.Chain[i])
	}
	for i := range c.Links {
		c.Links[i].Finding, c.Links[i].State = fill(c.Links[i].Finding), fill(c.Links[i].State)
	}
	return c
}

func (c Check) fill(e unitsheet.Element) Check {
	fill := filler(e)
	c.ID, c.Title, c.Tells = fill(c.ID), fill(c.Title), fill(c.Tells)
	c.Yields, c.Steps = slices.Clone(c.Yields), slices.Clone(c.Steps)
	for i := range c.Yields {
		c.Yields[i] = fill(c.Yields[i])
	}
	for i := range c.Steps {
		c.Steps[i] = fill(c.Steps[i])
	}
	return c
}

func (o Option) fill(e unitsheet.Element) Option {
	fill := filler(e)
	o.ID, o.Title, o.Note, o.Access = fill(o.ID), fill(o.Title), fill(o.Note), fill(o.Access)
	o.Cures = slices.Clone(o.Cures)
	for i := range o.Cures {
		o.Cures[i].Cause = fill(o.Cures[i].Cause)
	}
	return o
}
