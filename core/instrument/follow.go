package instrument

import (
	"slices"
	"strings"

	"innercompass/core/quantity"
)

// Follow is an instrument that goes on with a result: which of its inputs are known by it, as typed.
type Follow struct {
	Name, Title string // id or id:part
	Values      map[string]string
}

type taker struct {
	source, value string // instrument, and its output or input
	id, title     string // that takes it
	parts         bool
	input         Input
}

// follows finds the instruments that take an output, or an input that was typed, for one of their inputs.
func (d Definition) follows(v Values, outputs []Output) []Follow {
	var out []Follow
	for _, t := range d.takers {
		part, ok := partOf(t.source, d.Name())
		if !ok {
			continue
		}
		text, ok := carried(v, outputs, t.value, t.input)
		if !ok {
			continue
		}
		name := t.id
		if part != "" && t.parts {
			name += ":" + part
		}
		i := slices.IndexFunc(out, func(f Follow) bool { return f.Name == name })
		if i < 0 {
			out = append(out, Follow{name, t.title, map[string]string{}})
			i = len(out) - 1
		}
		out[i].Values[t.input.ID] = text
	}
	return out
}

// partOf holds the name of an instrument against a source such as "window:clearance-{part}", and finds the part. A source
// with a part is also met by the instrument without one.
func partOf(source, name string) (part string, ok bool) {
	before, after, open := strings.Cut(source, "{part}")
	if !open {
		return "", source == name
	}
	if strings.HasPrefix(name, before) && strings.HasSuffix(name, after) && len(name) > len(before)+len(after) {
		return name[len(before) : len(name)-len(after)], true
	}
	return "", name == strings.TrimSuffix(before, ":") && strings.HasSuffix(before, ":")
}

// carried writes a value as it would be typed into an input, with its uncertainty.
func carried(v Values, outputs []Output, id string, into Input) (string, bool) {
	q := quantity.Measured{Quantity: quantity.Quantity{SI: v.N(id), Dimension: into.Dimension}, U: v.U(id)}
	known := v.Has(id)
	for _, o := range outputs {
		if o.ID == id {
			q.SI, q.U, known = o.Value, o.U, o.Dimension == into.Dimension
		}
	}
	if !known || q.SI < into.Low || q.SI > into.High {
		return "", false
	}
	return v.Terms.Style.FormatMeasured(q, v.Terms.UnitFor(into.Dimension, into.Unit)), true
}

// TakesFrom reports whether a result of the instrument of this name may stand in an input of d.
func (d Definition) TakesFrom(name string) bool {
	for _, in := range d.Inputs {
		for _, from := range in.From {
			source, _, _ := strings.Cut(from, ".")
			if part, ok := partOf(source, name); ok && (part == "" || d.Part == "" || part == d.Part) {
				return true
			}
		}
	}
	return false
}
