package catalog

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	embedded "innercompass/knowledge"
)

// Every name with an asterisk is written out with what it catches, over all units: an entry that comes later and is caught by an old
// wildcard shows in the difference, and is either meant or named apart. go test ./internal/catalog -run Wildcard -update writes it anew.
func TestWildcardsCatchWhatTheyMust(t *testing.T) {
	c, err := Load(embedded.FS)
	if err != nil {
		t.Fatal(err)
	}
	caught := map[string]map[string]bool{}
	add := func(owner, pattern string, ids []string) {
		key := owner + ": " + pattern
		if caught[key] == nil {
			caught[key] = map[string]bool{}
		}
		for _, id := range ids {
			caught[key][kindOf(id)] = true
		}
	}
	units := make([]string, 0, len(c.Networks))
	for unit := range c.Networks {
		units = append(units, unit)
	}
	slices.Sort(units)
	for _, unit := range units {
		n := c.Networks[unit]
		for _, o := range n.Options {
			for _, cure := range o.Cures {
				if !strings.HasSuffix(cure.Cause, "*") || cure.Cause == "*" {
					continue
				}
				var ids []string
				for _, x := range n.Matching(cure.Cause) {
					ids = append(ids, n.Causes[x].ID)
				}
				add("repair "+kindOf(o.ID), cure.Cause, ids)
			}
		}
		for _, f := range n.Findings {
			for _, l := range f.From {
				prefix, many := strings.CutSuffix(l.Node, "*")
				if !many {
					continue
				}
				var ids []string
				for _, x := range n.Nodes {
					if strings.HasPrefix(x.ID, prefix) {
						ids = append(ids, x.ID)
					}
				}
				add("finding "+kindOf(f.ID), l.Node, ids)
			}
		}
	}
	var lines []string
	for key, ids := range caught {
		var list []string
		for id := range ids {
			list = append(list, id)
		}
		slices.Sort(list)
		lines = append(lines, fmt.Sprintf("%s catches %s", key, strings.Join(list, ", ")))
	}
	slices.Sort(lines)
	got := strings.Join(lines, "\n") + "\n"
	const path = "testdata/wildcards.txt"
	if *update {
		if err := os.WriteFile(path, []byte(got), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	want, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	if string(want) != got {
		for _, l := range lines {
			if !strings.Contains(string(want), l+"\n") {
				t.Errorf("now: %s", l)
			}
		}
		t.Error("look at what the wildcards catch now, then: go test ./internal/catalog -run Wildcard -update")
	}
}

// kindOf is an id without the part that it is of.
func kindOf(id string) string {
	kind, _, part := strings.Cut(strings.TrimPrefix(id, "unlisted."), ".")
	if part {
		return kind + ".*"
	}
	return kind
}
