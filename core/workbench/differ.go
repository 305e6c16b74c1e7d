package workbench

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"innercompass/core/stack"
	"innercompass/core/unitsheet"
)

// InSheet is a sheet with what was found different on a unit, as far as a sheet can say it; left are the differences in words that somebody
// has to write in. The sheet handed in is not changed.
func InSheet(s unitsheet.Sheet, owns []Note) (out unitsheet.Sheet, left []string) {
	if s.Stack == nil {
		return s, nil
	}
	parts := slices.Clone(s.Stack.Parts)
	own := *s.Stack
	own.Parts = parts
	s.Stack = &own
	s.Elements = slices.Clone(s.Elements)
	for _, o := range owns {
		i := slices.IndexFunc(parts, func(p stack.PartSheet) bool { return p.ID == o.Part })
		if i < 0 {
			continue
		}
		says := strings.TrimSpace(o.Value + " " + o.Words)
		n := WholeNumber(says)
		switch {
		case o.Ref == "count" && n > 0 && parts[i].Kind == "pack" && plated(&s, &parts[i], n):
		case o.Ref == "count" && n > 0 && parts[i].Kind != "pack":
			parts[i].Count = n
		case o.Ref == "way":
			parts[i].Way = says
		default:
			left = append(left, fmt.Sprintf("%s (%s), %s: %s", parts[i].Name, parts[i].ID, o.Ref, says))
		}
	}
	return s, left
}

// plated gives a pack so many lined plates, each with its steel; false when the sheet does not say how they lie.
func plated(s *unitsheet.Sheet, p *stack.PartSheet, lined int) bool {
	e := slices.IndexFunc(s.Elements, func(e unitsheet.ElementSheet) bool { return len(p.Of) > 0 && e.ID == p.Of[0] })
	plates := slices.Clone(p.Plates)
	last := func() int {
		for i := len(plates) - 1; i > 0; i-- {
			if plates[i] == "lined" && plates[i-1] == "steel" {
				return i
			}
		}
		return -1
	}
	had := 0
	for _, k := range plates {
		if k == "lined" {
			had++
		}
	}
	if e < 0 || s.Elements[e].Plates == nil {
		return false
	}
	for ; had != lined; had += sign(lined - had) {
		at := last()
		if at < 0 {
			return false
		}
		if had < lined {
			plates = slices.Insert(plates, at+1, "steel", "lined")
		} else {
			plates = slices.Delete(plates, at-1, at+1)
		}
	}
	x := *s.Elements[e].Plates
	x.Steel += lined - x.Lined
	x.Lined = lined
	s.Elements[e].Plates = &x
	p.Plates = plates
	return true
}

func sign(n int) int {
	if n < 0 {
		return -1
	}
	return 1
}

// WholeNumber is the first whole number that stands by itself in a text, 0 when there is none: "1.6 mm" is no count.
func WholeNumber(text string) int {
	for _, w := range strings.Fields(text) {
		if n, err := strconv.Atoi(strings.Trim(w, ".,;:()")); err == nil && n > 0 && n < 30 {
			return n
		}
	}
	return 0
}
