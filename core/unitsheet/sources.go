package unitsheet

import (
	"fmt"
	"slices"
	"strings"
)

// Topics are the parts of a sheet that a source may be given for.
var Topics = []string{"chart", "teeth", "capacities", "pressures", "controls", "feeds", "access", "leaks", "fluid", "engine", "limits", "converter", "hydraulics", "bearings", "stack"}

// From are the sources that a part of a sheet may have. What is assumed weighs less and is said with what rests on it.
var From = []string{"measured", "paper", "counted", "assumed"}

// Assumed is the source of a part of the sheet when that was assumed. For one element or range the nearest source counts: those of all
// its numbers of the topic where they are given, then that for it, then that of the topic. With "" any assumed one of the topic counts.
func (u *Unit) Assumed(topic, id string) (SourceSheet, bool) {
	if id == "" {
		for _, s := range u.Sheet.Sources {
			if s.Of == topic && s.From == "assumed" {
				return s, true
			}
		}
		return SourceSheet{}, false
	}
	given, own := 0, SourceSheet{}
	for _, n := range u.numbers[topic+" "+id] {
		if n.Given {
			given++
		}
		if own.From != "assumed" {
			own = n.Source
		}
	}
	if given > 0 && given == len(u.numbers[topic+" "+id]) {
		return own, own.From == "assumed"
	}
	s, _ := sourceOf(u.Sheet.Sources, "", topic, id)
	return s, s.From == "assumed"
}

func (c *compiler) sources() {
	if len(c.s.Sources) == 0 {
		return
	}
	all := Numbers(c.s)
	c.u.numbers = map[string][]Number{}
	for _, n := range all {
		key := n.Topic + " " + n.entry
		c.u.numbers[key] = append(c.u.numbers[key], n)
	}
	for i, s := range c.s.Sources {
		path := fmt.Sprintf("sources[%d]", i)
		if !slices.Contains(Topics, s.Of) && !slices.ContainsFunc(all, func(n Number) bool { return n.Path == s.Of }) {
			c.fail(path+".of", fmt.Sprintf("%q", s.Of), strings.Join(Topics, ", ")+", or the path of a number of this sheet, such as ranges.D2.line_idle")
		}
		c.oneOf(path+".from", s.From, From...)
		for j, id := range s.For {
			if !slices.ContainsFunc(c.s.Elements, func(e ElementSheet) bool { return e.ID == id }) && !slices.ContainsFunc(c.s.Ranges, func(r RangeSheet) bool { return r.ID == id }) {
				c.fail(fmt.Sprintf("%s.for[%d]", path, j), fmt.Sprintf("no element or range %q", id), "ids of elements or ranges of this sheet")
			}
		}
	}
}

// topicWords are the topics as a sentence has them. What is only heard by is said where pitches are.
var topicWords = map[string]string{"chart": "what is on in each range", "teeth": "teeth", "capacities": "capacities", "pressures": "pressures", "controls": "the table of controls", "feeds": "oil feeds", "access": "access times", "leaks": "leak places", "fluid": "how the level is read", "engine": "engine torque", "limits": "limits", "converter": "converter", "hydraulics": "pump and valves"}

// Note says in a line what of the unit is not known or assumed; it is empty when its sheet is complete.
func (u *Unit) Note() string {
	var assumed []string
	for _, topic := range Topics {
		if _, ok := u.Assumed(topic, ""); ok && topicWords[topic] != "" {
			assumed = append(assumed, topicWords[topic])
		}
	}
	out := ""
	if u.Chart != nil {
		out = "known by its chart, not its gears"
	}
	if len(assumed) > 0 {
		if out != "" {
			out += "; "
		}
		out += "assumed: " + strings.Join(assumed, ", ")
	}
	return out
}
