package unitsheet

import (
	"fmt"
	"slices"
	"strings"
)

// Difference is one thing that two sheets say otherwise. Was and Now are empty where one says nothing.
type Difference struct {
	Path     string // of the sheet, lists by the id of their entries: elements.FC.plates.lined
	Was, Now string
}

func (d Difference) String() string {
	where := strings.NewReplacer(".", ", ", "_", " ").Replace(d.Path)
	switch {
	case d.Was == "":
		return fmt.Sprintf("%s: %s, new", where, d.Now)
	case d.Now == "":
		return fmt.Sprintf("%s: gone, was %s", where, d.Was)
	}
	return fmt.Sprintf("%s: %s, was %s", where, d.Now, d.Was)
}

// Differences lists what sheet b says otherwise than a, in the order of the sheet; versions and summaries are not compared.
func Differences(a, b Sheet) []Difference {
	a.Version, b.Version = 0, 0
	var out []Difference
	compare("", tree(a), tree(b), &out)
	return out
}

// tree is a sheet as nested maps, its lists of entries as maps by their ids.
func tree(s Sheet) map[string]any { return byID(document(s)).(map[string]any) }

// keys are what an entry of a list is known by.
var keys = []string{"id", "level", "joint", "name", "of", "title", "measure"}

func byID(v any) any {
	switch v := v.(type) {
	case map[string]any:
		for k, x := range v {
			v[k] = byID(x)
		}
	case []any:
		out := map[string]any{}
		for i, x := range v {
			entry, ok := x.(map[string]any)
			if !ok {
				return v // a list of plain values counts as one value
			}
			at := idOf(entry)
			if at == "" {
				at = fmt.Sprint(i + 1)
			}
			out[at] = byID(entry)
		}
		return out
	}
	return v
}

func compare(path string, a, b any, out *[]Difference) {
	x, xMap := a.(map[string]any)
	y, yMap := b.(map[string]any)
	if !xMap || !yMap {
		if words(a) != words(b) {
			*out = append(*out, Difference{path, words(a), words(b)})
		}
		return
	}
	var all []string
	for k := range x {
		all = append(all, k)
	}
	for k := range y {
		if _, ok := x[k]; !ok {
			all = append(all, k)
		}
	}
	slices.Sort(all)
	for _, k := range all {
		compare(strings.TrimPrefix(path+"."+k, "."), x[k], y[k], out)
	}
}

// words is a value in a line: of an entry, its name.
func words(v any) string {
	switch v := v.(type) {
	case nil:
		return ""
	case string:
		return v
	case []any:
		var out []string
		for _, x := range v {
			out = append(out, words(x))
		}
		return strings.Join(out, " ")
	case map[string]any:
		if len(v) == 0 {
			return ""
		}
		for _, k := range []string{"name", "title", "text", "id"} {
			if name, ok := v[k].(string); ok && name != "" {
				return name
			}
		}
		return "given"
	}
	return fmt.Sprint(v)
}

// Merge brings a newer sheet of a unit together with a shop's own: the newer one counts, and what the shop has added to it stays: known
// failures, limits, knowledge, and values that it measured. What both say otherwise is listed; there the newer one counts.
func Merge(mine, newer Sheet) (Sheet, []Difference) {
	out := newer
	out.ID, out.Name = mine.ID, mine.Name
	out.Version = mine.Version + 1
	out.Limits = joined(newer.Limits, mine.Limits, func(l LimitSheet) string { return l.ID })
	out.Known = joined(newer.Known, mine.Known, func(k KnownSheet) string { return k.Title })
	out.Traps = joined(newer.Traps, mine.Traps, func(t TrapSheet) string { return t.Text })
	out.Torques = joined(newer.Torques, mine.Torques, func(t TorqueSheet) string { return t.Joint })
	out.Parts = joined(newer.Parts, mine.Parts, func(p PartSheet) string { return p.ID })
	out = keepMeasured(out, mine)
	if len(mine.Own) > 0 {
		out.Own = map[string]any{}
		for _, own := range []map[string]any{newer.Own, mine.Own} {
			for k, v := range own {
				out.Own[k] = v
			}
		}
	}
	var clash []Difference
	for _, d := range Differences(mine, out) {
		if d.Was != "" && d.Now != "" {
			clash = append(clash, d)
		}
	}
	return out, clash
}

// keepMeasured puts the numbers that a shop measured or counted into a newer sheet, unless that one says where its own is from.
func keepMeasured(out, mine Sheet) Sheet {
	newer := map[string]Number{}
	for _, n := range Numbers(out) {
		newer[n.Path] = n
	}
	out.Sources = slices.Clone(out.Sources)
	for _, n := range Numbers(mine) {
		from := newer[n.Path].Source.From
		if n.Source.From != "measured" && n.Source.From != "counted" || from != "" && from != "assumed" {
			continue
		}
		with, err := With(out, n.Path, n.Value)
		if err != nil {
			continue // its entry is gone
		}
		out = with
		source := n.Source
		source.Of, source.For, source.Value = n.Path, nil, ""
		out.Sources = append(out.Sources, source)
	}
	return out
}

// joined adds entries of b that a has none of.
func joined[T any](a, b []T, key func(T) string) []T {
	out := slices.Clone(a)
	for _, x := range b {
		if !slices.ContainsFunc(out, func(o T) bool { return key(o) == key(x) }) {
			out = append(out, x)
		}
	}
	return out
}
