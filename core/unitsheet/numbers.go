package unitsheet

import (
	"cmp"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
)

// Number is one figure of a sheet, with where it is from.
type Number struct {
	Path   string // lists by the id of their entries: ranges.D2.line_idle
	Topic  string // one of Topics
	Words  string // what it is: "Drive second, line idle"
	Value  string // as written
	Source SourceSheet
	Given  bool // the source was given for this number, not for its topic

	entry string // element, range, control or limit that it belongs to; "" for the unit
}

// figures are the places of a sheet where numbers stand, by topic; a star stands for one entry or field.
var figures = []struct{ topic, path string }{
	{"chart", "ranges.*.ratio"},
	{"teeth", "gearing.sets.*.*_teeth"}, {"teeth", "gearing.sets.*.count"}, {"teeth", "gearing.gears.*.teeth_*"},
	{"capacities", "elements.*.capacity"}, {"capacities", "elements.*.plates.*"}, {"capacities", "elements.*.band.*"},
	{"pressures", "ranges.*.line_idle"}, {"pressures", "ranges.*.line_full"},
	{"converter", "converter.stall"}, {"converter", "converter.torque_ratio"}, {"converter", "converter.seating"}, {"converter", "converter.lockup_torque"},
	{"hydraulics", "hydraulics.pump.*"}, {"hydraulics", "hydraulics.regulator.*"}, {"hydraulics", "hydraulics.throttle.*"}, {"hydraulics", "hydraulics.governor.*"}, {"hydraulics", "hydraulics.shifts.*.*_area"}, {"hydraulics", "hydraulics.shifts.*.spring"},
	{"hydraulics", "hydraulics.shifts.*.light"}, {"hydraulics", "hydraulics.shifts.*.full"},
	{"bearings", "bearings.*.elements"}, {"bearings", "bearings.*.ratio"},
	{"engine", "engine.*"}, {"engine", "ranges.*.engine_limit"},
	{"fluid", "fluid.capacity"}, {"fluid", "fluid.refill"}, {"fluid", "fluid.level.temperature"}, {"fluid", "fluid.level.between_marks"}, {"fluid", "fluid.level.marks_apart"},
	{"limits", "limits.*.window"}, {"limits", "torques.*.torque"},
	{"controls", "controls.*.ohms"}, {"controls", "sensors.*.teeth"},
	{"access", "access.*.minutes"}, {"access", "parts.*.hours"}, {"access", "elements.*.hours"}, {"access", "controls.*.hours"},
}

// Numbers lists the figures of a sheet in its order of topics, each with the nearest source that is given: its own, that of its topic
// for its entry, that of its topic. A figure without any has an empty source.
func Numbers(s Sheet) []Number {
	var out []Number
	walk(document(s), func(path string, at []string, names []string, value any) {
		topic, said := topicOf(at), words(value)
		if topic == "" || strings.Trim(said[:min(len(said), 1)], "-.0123456789") != "" || said == "" {
			return // a word, or nothing yet
		}
		if said == "0" && topic != "access" {
			return // not given: only a time may be none
		}
		n := Number{Path: path, Topic: topic, Value: said, Words: strings.Join(names, ", "), entry: entry(at)}
		n.Source, n.Given = sourceOf(s.Sources, path, topic, n.entry)
		out = append(out, n)
	})
	slices.SortStableFunc(out, func(a, b Number) int { return slices.Index(Topics, a.Topic) - slices.Index(Topics, b.Topic) })
	return out
}

// With is a sheet in which the number at a path is another one. It fails where no number stands or may stand, and where the text does
// not go there.
func With(s Sheet, path, value string) (Sheet, error) {
	doc := document(s)
	no := func(reason string) (Sheet, error) {
		return s, &Problem{Path: path, Reason: reason, Accepted: "the path of a number of this sheet, such as ranges.D2.line_idle"}
	}
	if err := put(doc, path, value); err != nil {
		return no(err.Error())
	}
	text, err := json.Marshal(doc)
	if err != nil {
		return s, err
	}
	var out Sheet
	if err := json.Unmarshal(text, &out); err != nil {
		return s, &Problem{Path: path, Reason: fmt.Sprintf("%q", value), Accepted: "a number"}
	}
	if value != "" && !slices.ContainsFunc(Numbers(out), func(n Number) bool { return n.Path == path }) {
		return no("no number stands there")
	}
	return out, nil
}

// document is a sheet as its JSON has it.
func document(s Sheet) map[string]any {
	text, err := json.Marshal(s)
	if err != nil {
		return nil
	}
	var out map[string]any
	if json.Unmarshal(text, &out) != nil {
		return nil
	}
	return out
}

// idOf is what an entry of a list is known by; "" when by nothing.
func idOf(v any) string {
	entry, ok := v.(map[string]any)
	if !ok {
		return ""
	}
	for _, k := range keys {
		if id, ok := entry[k].(string); ok && id != "" {
			return id
		}
	}
	return ""
}

// walk visits every value of a document that is neither a map nor a list of entries, with its path, the segments of that and what they
// are called. The part of the sheet has no name: the topic says it.
func walk(document map[string]any, visit func(path string, at, names []string, value any)) {
	var below func(path string, at, names []string, v any)
	step := func(path string, at, names []string, key, name string, v any) {
		if len(at) > 0 {
			names = append(slices.Clone(names), name)
		}
		below(strings.TrimPrefix(path+"."+key, "."), append(slices.Clone(at), key), names, v)
	}
	below = func(path string, at, names []string, v any) {
		switch v := v.(type) {
		case map[string]any:
			for _, k := range slices.Sorted(maps.Keys(v)) {
				step(path, at, names, k, cmp.Or(fieldWords[k], strings.ReplaceAll(k, "_", " ")), v[k])
			}
		case []any:
			if len(v) == 0 || idOf(v[0]) == "" {
				visit(path, at, names, v)
				return
			}
			for _, x := range v {
				name, _ := x.(map[string]any)["name"].(string)
				step(path, at, names, idOf(x), cmp.Or(name, strings.ReplaceAll(idOf(x), "-", " ")), x)
			}
		default:
			visit(path, at, names, v)
		}
	}
	below("", nil, nil, document)
}

// fieldWords are fields that are not called as they are spelled.
var fieldWords = map[string]string{"line_idle": "at idle", "line_full": "at full throttle", "window": "from, to", "max_torque": "greatest torque", "stall": "stall speed"}

// topicOf is the topic of a number's place; "" when no number stands there.
func topicOf(at []string) string {
	for _, f := range figures {
		if like(strings.Split(f.path, "."), at) {
			return f.topic
		}
	}
	return ""
}

func like(pattern, at []string) bool {
	if len(pattern) != len(at) {
		return false
	}
	for i, p := range pattern {
		before, after, star := strings.Cut(p, "*")
		if star && !(strings.HasPrefix(at[i], before) && strings.HasSuffix(at[i], after)) || !star && p != at[i] {
			return false
		}
	}
	return true
}

// entry is the element, range, control or limit that a number belongs to; "" where it belongs to the unit.
func entry(at []string) string {
	if len(at) > 2 {
		return at[1]
	}
	return ""
}

func sourceOf(sources []SourceSheet, path, topic, id string) (SourceSheet, bool) {
	best, rank := SourceSheet{}, 0
	for _, s := range sources {
		r := 0
		switch {
		case s.Of == path:
			r = 3
		case s.Of == topic && id != "" && slices.Contains(s.For, id):
			r = 2
		case s.Of == topic && len(s.For) == 0:
			r = 1
		}
		if r > rank {
			best, rank = s, r
		}
	}
	return best, rank == 3
}

// put sets what stands at a path. Entries of lists must be there; a last field may be new.
func put(v any, path, value string) error {
	switch v := v.(type) {
	case map[string]any:
		key, rest, more := strings.Cut(path, ".")
		if !more {
			if _, number := v[key].(float64); number {
				n, err := strconv.ParseFloat(value, 64)
				if err != nil {
					return fmt.Errorf("%q is no number", value)
				}
				v[key] = n
				return nil
			}
			v[key] = value
			return nil
		}
		if v[key] == nil {
			return fmt.Errorf("this sheet has no %s", key)
		}
		return put(v[key], rest, value)
	case []any:
		for _, x := range v {
			if rest, ok := strings.CutPrefix(path, idOf(x)+"."); ok {
				return put(x, rest, value)
			}
		}
		return fmt.Errorf("no entry for %s", path)
	}
	return fmt.Errorf("nothing stands below %s", path)
}
