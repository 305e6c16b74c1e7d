package builder_test

import (
	"slices"
	"testing"

	"innercompass/core/builder"
	"innercompass/core/stack"
	"innercompass/core/unitsheet"
)

// A unit that is known by its chart begins its parts in order from the nearest: every element has its own, and the order can be done.
func TestTheStackBeginsFromTheNearestUnit(t *testing.T) {
	units := know(t).Units
	for id, like := range map[string]string{"norrad-v3": "tessaly-f3", "tessaly-f3": "norrad-v3", "norrad-h4": "tessaly-e4t", "ombrin-s6": "norrad-h4", "ombrin-m5": "vantrice-a6"} {
		s := units[id].Reduce(unitsheet.ByChart, true)
		if s.Stack != nil {
			t.Fatalf("%s by its chart has a stack", id)
		}
		filled := builder.Fill(s, builder.KindOf(units[id]), units[like].Sheet)
		if filled.Stack == nil {
			t.Errorf("%s has no stack from %s", id, like)
			continue
		}
		u, bad := unitsheet.Compile(filled)
		if len(bad) > 0 {
			t.Errorf("%s from %s: %v", id, like, bad[0])
			continue
		}
		for _, e := range u.Elements {
			if !slices.ContainsFunc(u.Stack.Parts, func(p stack.Part) bool { return slices.Contains(p.Of, e.ID) }) {
				t.Errorf("%s from %s: no part of %s", id, like, e.ID)
			}
		}
		if !slices.ContainsFunc(filled.Sources, func(x unitsheet.SourceSheet) bool { return x.Of == "stack" && x.From == "assumed" }) {
			t.Errorf("%s: the stack is not said to be assumed", id)
		}
	}
}
