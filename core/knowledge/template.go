package knowledge

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// instances are the parts for which a template is copied; one empty part when it is no template, none when
// the unit lacks what it needs. "solenoid#2" is the second of its kind in the sheet.
func (n *Network) instances(kinds []string, needs string) []unitsheet.Element {
	if !n.Has(needs) {
		return nil
	}
	if len(kinds) == 0 {
		return []unitsheet.Element{{}}
	}
	if kind, nth, ok := strings.Cut(kinds[0], "#"); ok {
		all := n.instances([]string{kind}, "")
		if at, err := strconv.Atoi(nth); err == nil && at >= 1 && at <= len(all) {
			return all[at-1 : at]
		}
		return nil
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
		if s.Kind == "bushing" {
			add(s.Kind, s.ID, s.Name)
		}
	}
	for _, id := range n.Unit.Gears() {
		add("gears", id, n.Unit.GearsName(id))
	}
	return out
}

// Places that depend on where the control module sits: on the valve body it is reached with it, and so are the pins of the solenoids
// behind it, which else are measured at the plug of the case.
const (
	moduleAccess = "{module}"
	plugAccess   = "{plug}"
)

// place fills in an access level that depends on where the module sits.
func (n *Network) place(access string) string {
	at := slices.IndexFunc(n.Unit.Sheet.Parts, func(p unitsheet.PartSheet) bool { return p.ID == "module" })
	switch {
	case access == moduleAccess && at >= 0, access == plugAccess && at >= 0:
		return n.Unit.Sheet.Parts[at].Access
	case access == moduleAccess:
		return unitsheet.Ground.String()
	case access == plugAccess:
		return unitsheet.Lifted.String()
	}
	return access
}

// leaksAt reports whether the unit's leak map has a place; it has every place when there is no map.
func (n *Network) leaksAt(place string) bool {
	if n.Unit.Sheet.Leaks == nil {
		return true
	}
	return slices.ContainsFunc(n.Unit.Sheet.Leaks.Sources, func(s unitsheet.LeakSourceSheet) bool { return s.ID == place })
}

// kind is what templates call an element: a clutch between engine and box, without pressure plates of its
// own, is a dry clutch and not one of the unit's packs.
func (n *Network) kind(e unitsheet.Element) string {
	if e.Kind == gearing.Clutch && !e.Pressed() && n.Unit.Sheet.Converter == nil {
		return "dry-clutch"
	}
	return string(e.Kind)
}

// Has reports whether the unit has a part; "feed:" before the name asks for a feed, "pump" for pressure of
// its own, "solenoids" for electric control, "pressure-control" or "shift-solenoids" for its kind, "lockup" for a converter clutch,
// "pedal" for a clutch that is worked by foot, "final-drive" and "propeller-shaft" for what the unit drives. Nothing needed is always there.
func (n *Network) Has(needs string) bool {
	if feed, ok := strings.CutPrefix(needs, "feed:"); ok {
		return slices.ContainsFunc(n.Unit.Sheet.Feeds, func(f unitsheet.FeedSheet) bool { return f.ID == feed })
	}
	switch needs {
	case "":
		return true
	case "pump":
		return slices.ContainsFunc(n.Unit.Elements, unitsheet.Element.Pressed) || n.Unit.Sheet.Converter != nil
	case "solenoids":
		return n.Unit.Electric() || n.Unit.Sheet.Control == "electronic" // which ones, nobody may have said yet
	case "pressure-control", "shift-solenoids":
		// Either each solenoid sets the pressure of an element, or they choose the gear together.
		at := slices.IndexFunc(n.Unit.Controls, func(c unitsheet.Control) bool { return c.Kind == "solenoid" })
		return at >= 0 && (n.Unit.Controls[at].Applies != "") == (needs == "pressure-control")
	case "lockup":
		return n.Unit.Sheet.Converter != nil && len(n.Unit.Sheet.Converter.Lockup) > 0
	case "pedal":
		return n.Has("dry-clutch") && !n.Has("actuator")
	case "final-drive":
		return n.leaksAt("axle-left") || n.leaksAt("axle-right")
	case "propeller-shaft":
		return n.leaksAt("tail-seal")
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

// each replaces "@part" at the end of a name by every element that a shared part serves, and "@feed" as feedElement does.
func (n *Network) each(name string) []string {
	before, part, ok := strings.Cut(name, "@")
	for _, s := range n.Unit.Sheet.Shared {
		if ok && s.ID == part {
			var out []string
			for _, id := range s.Serves {
				out = append(out, before+id)
			}
			return out
		}
	}
	return []string{n.feedElement(name)}
}

// served returns the elements that a name stands for: itself, those of a feed or a shared part, those of a kind.
func (n *Network) served(name string) []unitsheet.Element {
	var out []unitsheet.Element
	groups := map[string][]string{}
	for _, f := range n.Unit.Sheet.Feeds {
		groups[f.ID] = f.Serves
	}
	for _, s := range n.Unit.Sheet.Shared {
		groups[s.ID] = s.Serves
	}
	if ids, ok := groups[name]; ok {
		for _, id := range ids {
			if e, ok := n.Unit.Element(id); ok {
				out = append(out, e)
			}
		}
		return out
	}
	for _, e := range n.Unit.Elements {
		if n.kind(e) == name || e.ID == name {
			out = append(out, e)
		}
	}
	return out
}

// gear names the gear of a range as fault codes count them: "1" for the first that the lever's forward position
// begins with, and so on; "R" for reverse; "" for neutral and for ranges held by hand.
func (n *Network) gear(id string) string {
	r, ok := n.Unit.Range(id)
	if !ok || !r.Driving() {
		return ""
	}
	if r.Healthy.Ratio < 0 {
		return "R"
	}
	count := 1
	for r.From != "" {
		if r, ok = n.Unit.Range(r.From); !ok {
			return ""
		}
		count++
	}
	return fmt.Sprint(count)
}

type fill = func(string) string

func filler(e unitsheet.Element) fill {
	title := e.Name
	if title != "" {
		title = strings.ToUpper(title[:1]) + title[1:]
	}
	return strings.NewReplacer("{id}", e.ID, "{element}", e.Name, "{Element}", title, "{access}", e.Access.String(), "{hand-test}", e.HandTest.String()).Replace
}

func fillAll(fill fill, in []string) []string {
	out := make([]string, len(in))
	for i, s := range in {
		out[i] = fill(s)
	}
	return out
}

func fillLinks(fill fill, brings []Brings, shows []Shows) ([]Brings, []Shows) {
	brings, shows = slices.Clone(brings), slices.Clone(shows)
	for i := range brings {
		brings[i].Damage, brings[i].Why = fill(brings[i].Damage), fill(brings[i].Why)
	}
	for i := range shows {
		shows[i].Finding, shows[i].State, shows[i].Why = fill(shows[i].Finding), fill(shows[i].State), fill(shows[i].Why)
	}
	return brings, shows
}

func fillFaults(fill fill, in []FaultLink) []FaultLink {
	out := slices.Clone(in)
	for i := range out {
		out[i].Part, out[i].Why = fill(out[i].Part), fill(out[i].Why)
	}
	return out
}

func (f Finding) fill(e unitsheet.Element) Finding {
	fill := filler(e)
	f.ID, f.Title, f.Help, f.Sets, f.Ask = fill(f.ID), fill(f.Title), fill(f.Help), fill(f.Sets), fill(f.Ask)
	f.From = slices.Clone(f.From)
	for i := range f.From {
		f.From[i].Node, f.From[i].Why = fill(f.From[i].Node), fill(f.From[i].Why)
	}
	return f
}

func (c Cause) fill(e unitsheet.Element) Cause {
	fill := filler(e)
	c.ID, c.Title, c.Repair.Access, c.Met.Why = fill(c.ID), fill(c.Title), fill(c.Repair.Access), fill(c.Met.Why)
	c.Brings, c.Shows = fillLinks(fill, c.Brings, c.Shows)
	c.Faults = fillFaults(fill, c.Faults)
	return c
}

func (d Damage) fill(e unitsheet.Element) Damage {
	fill := filler(e)
	d.ID, d.Title, d.Repair.Access = fill(d.ID), fill(d.Title), fill(d.Repair.Access)
	d.Brings, d.Shows = fillLinks(fill, d.Brings, d.Shows)
	d.Faults = fillFaults(fill, d.Faults)
	return d
}

func (c Check) fill(e unitsheet.Element) Check {
	fill := filler(e)
	c.ID, c.Title, c.Tells, c.Access, c.Instrument = fill(c.ID), fill(c.Title), fill(c.Tells), fill(c.Access), fill(c.Instrument)
	c.Yields, c.Steps, c.First = fillAll(fill, c.Yields), fillAll(fill, c.Steps), fillAll(fill, c.First)
	return c
}

func (o Option) fill(e unitsheet.Element) Option {
	fill := filler(e)
	o.ID, o.Title, o.Note, o.Access = fill(o.ID), fill(o.Title), fill(o.Note), fill(o.Access)
	o.Cures = slices.Clone(o.Cures)
	for i := range o.Cures {
		o.Cures[i].Cause = fill(o.Cures[i].Cause)
	}
	o.Renews = slices.Clone(o.Renews)
	for i := range o.Renews {
		o.Renews[i] = fill(o.Renews[i])
	}
	o.Fails = slices.Clone(o.Fails)
	for i := range o.Fails {
		o.Fails[i].Node, o.Fails[i].Why = fill(o.Fails[i].Node), fill(o.Fails[i].Why)
	}
	return o
}
