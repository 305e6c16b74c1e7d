package stack

import (
	"cmp"
	"slices"
	"strings"
)

// Adapt makes the stack of one unit that of another, as somebody would begin who has the nearest unit before him: as says which element
// of this one stands for an element of the other ("" for none). Parts of elements that are not there are left out with what sits in them,
// packs get the other unit's number of plates, and what the other unit needs besides is added as parts without a place in the drawing. With
// as that changes nothing it takes out what a sheet no longer has.
func Adapt(from Sheet, as func(element string) string, around Around) Sheet {
	a := adapter{around: around, as: as, kept: map[string]bool{}}
	out := Sheet{Axes: slices.Clone(from.Axes)}
	for _, p := range from.Parts {
		if q, ok := a.part(p); ok {
			a.kept[q.ID] = true
			out.Parts = append(out.Parts, q)
		}
	}
	if len(out.Parts) == 0 {
		return Sheet{}
	}
	for i := range out.Parts {
		if p := &out.Parts[i]; !a.kept[p.Back] {
			p.Back = ""
		}
	}
	out.Parts = append(out.Parts, a.missing(out.Parts)...)
	out.Body = a.body(from.Body)
	for _, k := range from.Kits {
		if k.Parts = a.there(k.Parts); len(k.Parts) > 0 {
			out.Kits = append(out.Kits, k)
		}
	}
	for _, t := range from.Company {
		if t.Parts = a.there(t.Parts); len(t.Parts) > 0 && a.kept[t.With] {
			out.Company = append(out.Company, t)
		}
	}
	return out
}

type adapter struct {
	around Around
	as     func(string) string
	kept   map[string]bool
}

func (a adapter) there(ids []string) []string {
	return slices.DeleteFunc(slices.Clone(ids), func(id string) bool { return !a.kept[id] })
}

func (a adapter) element(id string) (Element, bool) {
	i := slices.IndexFunc(a.around.Elements, func(e Element) bool { return e.ID == id })
	if i < 0 {
		return Element{}, false
	}
	return a.around.Elements[i], true
}

func (a adapter) limit(id string) bool {
	return slices.ContainsFunc(a.around.Limits, func(l Limit) bool { return l.ID == id })
}

// part is a part as the other unit has it, and whether it has it.
func (a adapter) part(p PartSheet) (PartSheet, bool) {
	of := []string{}
	for _, e := range p.Of {
		if id := a.as(e); id != "" {
			if _, ok := a.element(id); ok && !slices.Contains(of, id) {
				of = append(of, id)
			}
		}
	}
	if len(p.Of) > 0 && len(of) == 0 || p.In != "" && !a.kept[p.In] || p.With != "" && !a.kept[p.With] {
		return p, false
	}
	if p.Of = of; len(of) == 0 {
		p.Of = nil
	}
	if p.Turns != "" && p.Turns != "engine" && p.Turns != "wheels" && !slices.Contains(a.around.Members, p.Turns) {
		p.Turns = ""
	}
	p.After = a.there(p.After)
	p.Limits = slices.DeleteFunc(slices.Clone(p.Limits), func(l string) bool { return !a.limit(l) })
	if p.Kind == "pack" {
		e, _ := a.element(p.Of[0])
		p.Plates = plates(p.Plates, e)
		if id := "clearance-" + e.ID; a.limit(id) && !slices.Contains(p.Limits, id) {
			p.Limits = append(p.Limits, id)
		}
	}
	if f := p.Fit; f != nil {
		own := *f
		if len(p.Of) == 1 && strings.HasPrefix(f.Limit, "clearance-") {
			own.Limit = "clearance-" + p.Of[0]
		}
		if p.Fit = &own; !a.limit(own.Limit) {
			p.Fit = nil
		}
	}
	if !slices.Contains(a.around.Levels, p.Access) && len(a.around.Levels) > 0 {
		p.Access = a.around.Levels[len(a.around.Levels)-1]
	}
	return p, true
}

// plates are those of a pack with another number, in the same order of kinds.
func plates(old []string, e Element) []string {
	lined, steel := 0, 0
	for _, k := range old {
		switch k {
		case "lined":
			lined++
		case "steel", "wave", "dished":
			steel++
		}
	}
	if e.Lined == 0 || e.Lined == lined && (e.Steel == 0 || e.Steel == steel) {
		return old
	}
	first := "steel"
	if len(old) > 0 && (old[0] == "wave" || old[0] == "dished") {
		first = old[0]
	}
	var out []string
	for i := range max(e.Lined, e.Steel) {
		if i < e.Steel {
			out = append(out, first)
		}
		if first = "steel"; i < e.Lined {
			out = append(out, "lined")
		}
	}
	if len(old) > 0 && old[len(old)-1] == "backing" {
		out = append(out, "backing")
	}
	return out
}

func (a adapter) body(b *BodySheet) *BodySheet {
	if b == nil || !a.kept[b.Part] {
		return nil
	}
	own := *b
	own.Bores = slices.Clone(b.Bores)
	for i := range own.Bores {
		if r := &own.Bores[i]; !slices.Contains(a.around.Controls, r.Control) {
			r.Control = ""
		}
	}
	own.Solenoids = slices.DeleteFunc(slices.Clone(b.Solenoids), func(s SolenoidSheet) bool { return !slices.Contains(a.around.Controls, s.Control) })
	for _, id := range a.around.Controls {
		placed := slices.ContainsFunc(own.Bores, func(r BoreSheet) bool { return r.Control == id }) || slices.ContainsFunc(own.Solenoids, func(s SolenoidSheet) bool { return s.Control == id }) || a.kept[id]
		if !placed {
			own.Solenoids = append(own.Solenoids, SolenoidSheet{Control: id, At: []float64{0, 0}})
		}
	}
	return &own
}

// missing are the parts without a place that the unit needs besides.
func (a adapter) missing(parts []PartSheet) []PartSheet {
	var out []PartSheet
	deepest := ""
	for _, l := range a.around.Levels {
		if l != "converter-open" {
			deepest = l
		}
	}
	add := func(p PartSheet) {
		p.Access, p.Out = cmp.Or(p.Access, deepest), "aside"
		for a.kept[p.ID] {
			p.ID += "-2"
		}
		a.kept[p.ID] = true
		out = append(out, p)
	}
	has := func(f func(PartSheet) bool) bool { return slices.ContainsFunc(parts, f) || slices.ContainsFunc(out, f) }
	for _, e := range a.around.Elements {
		for _, want := range needs(e) {
			kinds := strings.Split(want, "|")
			if has(func(p PartSheet) bool { return slices.Contains(p.Of, e.ID) && slices.Contains(kinds, p.Kind) }) {
				continue
			}
			p := PartSheet{ID: strings.ToLower(e.ID) + "-" + kinds[0], Name: Kinds[kinds[0]] + ", " + e.ID, Kind: kinds[0], Of: []string{e.ID}}
			if p.Kind == "pack" {
				p.Plates = plates([]string{"backing"}, e)
			}
			add(p)
		}
	}
	for _, m := range a.around.Members {
		if m != "case" && !has(func(p PartSheet) bool { return p.Turns == m }) {
			add(PartSheet{ID: "turns-" + strings.ToLower(strings.ReplaceAll(m, " ", "-")), Name: "parts that turn with " + m, Kind: "shaft", Turns: m})
		}
	}
	for _, l := range a.around.Limits {
		if has(func(p PartSheet) bool { return slices.Contains(p.Limits, l.ID) }) {
			continue
		}
		at := slices.IndexFunc(parts, func(p PartSheet) bool { return l.Element != "" && slices.Contains(p.Of, l.Element) })
		if at >= 0 {
			parts[at].Limits = append(slices.Clone(parts[at].Limits), l.ID)
			continue
		}
		parts[0].Limits = append(slices.Clone(parts[0].Limits), l.ID)
	}
	return out
}
