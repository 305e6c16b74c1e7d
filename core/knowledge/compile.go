package knowledge

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// CompileError names the entry of the knowledge base that does not fit.
type CompileError struct {
	Kind, ID, Field  string
	Reason, Accepted string
}

func (e *CompileError) Error() string {
	s := fmt.Sprintf("%s %s: %s: %s", e.Kind, e.ID, e.Field, e.Reason)
	if e.Accepted != "" {
		s += "; accepted: " + e.Accepted
	}
	return s
}

// Compile fits a knowledge base that Check found sound to a unit: templates are filled in for its parts, the
// road test grid and what each fault of the design does there are computed from its sheet. Links to what the
// unit has no part for are left out.
func Compile(k Base, u *unitsheet.Unit) (*Network, error) {
	return CompileWithin(context.Background(), k, u)
}

// CompileWithin is Compile, given up when ctx ends.
func CompileWithin(ctx context.Context, k Base, u *unitsheet.Unit) (*Network, error) {
	rows, err := faultmap.MapWithin(ctx, u)
	if err != nil {
		return nil, err
	}
	c := &compiler{k: k, n: &Network{Unit: u, Version: k.Version, Faults: rows, Schools: k.Schools, Cautions: k.Cautions, FindingAt: map[string]int{}, CheckAt: map[string]int{}}, links: map[string][]draft{}}
	c.options()
	c.findings()
	if err := c.causes(); err != nil {
		return nil, err
	}
	c.damages()
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if err := c.spread(); err != nil {
		return nil, err
	}
	c.fromFindings()
	c.taps()
	if err := c.unique(); err != nil {
		return nil, err
	}
	if err := c.number(); err != nil {
		return nil, err
	}
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	c.checks()
	c.cures()
	if len(c.n.Causes) == 0 {
		return nil, &CompileError{"unit", u.Sheet.ID, "causes", "none apply", ""}
	}
	return c.n, nil
}

// compiler builds a network. Nodes have names until all links are known; then they are numbered.
type compiler struct {
	k     Base
	n     *Network
	nodes []Node             // damages and faults, in order of making
	links map[string][]draft // by name of the node that they leave
	todo  []owner
}

// draft is a link by names.
type draft struct {
	node           string // "" when to a finding
	finding, state int
	p              float64
	why, strength  string
}

// owner is a node with the links it was written with, its part filled in.
type owner struct {
	name   string
	part   unitsheet.Element
	faults []FaultLink
	brings []Brings
	shows  []Shows
	scale  float64 // of all strengths: how far a fault of the design is active
}

func (c *compiler) findings() {
	n := c.n
	for _, f := range c.k.Findings {
		for _, el := range n.instances(f.For, f.Needs) {
			c.addFinding(f.fill(el))
		}
	}
	n.addPressurePattern(c.addFinding)
	n.addTaps(c.addFinding)
	n.addTried(n.Options, c.addFinding)
	n.addWentFirst(c.addFinding)
	n.addWordless(c.addFinding)
	n.addRoad(c.addFinding)
	n.Members = map[int][]int{}
	for i, f := range n.Findings {
		if f.Members == "" {
			continue
		}
		for j, m := range n.Findings {
			if strings.HasPrefix(m.ID, f.Members) {
				n.Members[i] = append(n.Members[i], j)
			}
		}
	}
}

func (c *compiler) addFinding(f Finding) {
	if len(f.States) == 0 {
		f.States = codeStates
	}
	c.n.FindingAt[f.ID] = len(c.n.Findings)
	c.n.Findings = append(c.n.Findings, f)
}

// codeStates are those of a fault code that does not say otherwise. A code is stored now and then for reasons
// that have nothing to do with the complaint: a flat battery, an earlier repair.
var codeStates = []FindingState{{ID: "absent", Title: "not stored"}, {ID: "stored", Title: "stored", Baseline: 0.004}}

func (c *compiler) causes() error {
	n := c.n
	for _, cause := range c.k.Causes {
		for _, el := range n.instances(cause.For, cause.Needs) {
			x := cause.fill(el)
			x.Repair.Access = n.place(x.Repair.Access)
			level, err := unitsheet.ParseAccess(x.Repair.Access)
			if err != nil {
				return &CompileError{"cause", x.ID, "repair.access", err.Error(), strings.Join(unitsheet.AccessNames, ", ")}
			}
			c.addCause(x, level)
			n.Nodes[len(n.Nodes)-1].Entry = cause.ID
			c.todo = append(c.todo, owner{x.ID, el, x.Faults, x.Brings, x.Shows, 1})
		}
	}
	return nil
}

func (c *compiler) addCause(x Cause, level unitsheet.Access) {
	n := c.n
	w, _ := levelWeight(x)
	n.Causes, n.Odds, n.Level = append(n.Causes, x), append(n.Odds, w), append(n.Level, level)
	n.Nodes = append(n.Nodes, Node{ID: x.ID, Title: x.Title, Kind: "cause", System: x.System, Entry: x.ID, Repair: x.Repair})
	var when []Condition
	for _, w := range x.When {
		f, ok := n.FindingAt[w.Finding]
		if !ok {
			continue
		}
		when = append(when, Condition{f, stateIndex(n.Findings[f].States, w.State), Factors[w.Factor], w.Why})
	}
	n.History = append(n.History, when)
}

func levelWeight(c Cause) (float64, bool) {
	if c.Unlisted() {
		return unlistedWeight, true
	}
	return level(c.Met.Level)
}

func (c *compiler) damages() {
	n := c.n
	for _, d := range c.k.Damages {
		for _, el := range n.instances(d.For, d.Needs) {
			x := d.fill(el)
			x.Repair.Access = n.place(x.Repair.Access)
			c.nodes = append(c.nodes, Node{ID: x.ID, Title: x.Title, Kind: "damage", System: x.System, Entry: d.ID, Repair: x.Repair})
			c.todo = append(c.todo, owner{x.ID, el, x.Faults, x.Brings, x.Shows, 1})
			level, _ := unitsheet.ParseAccess(x.Repair.Access)
			c.addCause(Cause{ID: unlisted + x.ID, Title: x.Title + ", its cause not in the list", System: x.System, Repair: x.Repair, unlisted: x.ID}, level)
			c.links[unlisted+x.ID] = []draft{{node: x.ID, p: 1, why: "what brings it about besides the causes that are listed", strength: "always"}}
		}
	}
}

// unlisted begins the id of the cause that stands for those of a damage that are not in the list.
const unlisted = "unlisted."

// spread turns the sentences of all owners into links; faults of the design become owners in turn.
func (c *compiler) spread() error {
	for len(c.todo) > 0 {
		o := c.todo[0]
		c.todo = c.todo[1:]
		for _, l := range o.shows {
			p, _ := strength(l.Strength)
			for _, f := range c.findingsNamed(l.Finding) {
				for _, state := range c.n.each(l.State) {
					if s := stateIndex(c.n.Findings[f].States, state); s > 0 {
						c.links[o.name] = append(c.links[o.name], draft{finding: f, state: s, p: p * o.scale, why: l.Why, strength: l.Strength})
					}
				}
			}
		}
		for _, l := range o.brings {
			p, _ := strength(l.Strength)
			for _, d := range c.damagesNamed(l.Damage) {
				c.links[o.name] = append(c.links[o.name], draft{node: d, p: p * o.scale, why: l.Why, strength: l.Strength})
			}
		}
		for _, l := range o.faults {
			if err := c.fault(o, l); err != nil {
				return &CompileError{"entry", o.name, "faults", err.Error(), ""}
			}
		}
	}
	return nil
}

// findingsNamed returns the findings of this unit that a link names; a name may end in an asterisk.
func (c *compiler) findingsNamed(name string) []int {
	if all := c.n.each(name); len(all) != 1 || all[0] != name {
		var out []int
		for _, x := range all {
			out = append(out, c.findingsNamed(x)...)
		}
		return out
	}
	if prefix, ok := strings.CutSuffix(name, "*"); ok {
		var out []int
		for i, f := range c.n.Findings {
			if strings.HasPrefix(f.ID, prefix) {
				out = append(out, i)
			}
		}
		return out
	}
	if f, ok := c.n.FindingAt[name]; ok {
		return []int{f}
	}
	return nil
}

func (c *compiler) damagesNamed(name string) []string {
	if all := c.n.each(name); len(all) != 1 || all[0] != name {
		var out []string
		for _, x := range all {
			out = append(out, c.damagesNamed(x)...)
		}
		return out
	}
	prefix, many := strings.CutSuffix(name, "*")
	var out []string
	for _, x := range c.nodes {
		if x.Kind == "damage" && (x.ID == name || many && strings.HasPrefix(x.ID, prefix)) {
			out = append(out, x.ID)
		}
	}
	return out
}

// fromFindings adds the links that were written on the side of the findings.
func (c *compiler) fromFindings() {
	names := map[string]bool{}
	for _, x := range c.n.Causes {
		names[x.ID] = true
	}
	for _, x := range c.nodes {
		names[x.ID] = true
	}
	for i, f := range c.n.Findings {
		for _, l := range f.From {
			p, _ := strength(l.Strength)
			prefix, many := strings.CutSuffix(l.Node, "*")
			for name := range names {
				if name == l.Node || many && strings.HasPrefix(name, prefix) {
					c.links[name] = append(c.links[name], draft{finding: i, state: stateIndex(f.States, l.State), p: p, why: l.Why, strength: l.Strength})
				}
			}
		}
	}
}

func (c *compiler) checks() {
	n := c.n
	cautions := map[string]Caution{}
	for _, x := range c.k.Cautions {
		cautions[x.ID] = x
	}
	for _, k := range c.k.Checks {
		for _, el := range n.instances(k.For, k.Needs) {
			x := k.fill(el)
			x.Access = n.place(x.Access)
			x.Yields = slices.DeleteFunc(x.Yields, func(y string) bool { _, ok := n.FindingAt[y]; return !ok })
			if len(x.Yields) == 0 {
				continue
			}
			for _, id := range x.Caution {
				x.Cautions = append(x.Cautions, cautions[id])
			}
			c.addCheck(x)
		}
	}
	n.addDrives(c.addCheck, cautions["drive"])
	n.addTapsCheck(c.addCheck, []Caution{cautions["raised"], cautions["pressure"], cautions["running"], cautions["drive"]})
}

func (c *compiler) addCheck(k Check) {
	c.n.CheckAt[k.ID] = len(c.n.Checks)
	c.n.Checks = append(c.n.Checks, k)
}

func (c *compiler) options() {
	for _, o := range c.k.Options {
		for _, el := range c.n.instances(o.For, o.Needs) {
			x := o.fill(el)
			x.Access = c.n.place(x.Access)
			c.n.Options = append(c.n.Options, x)
		}
	}
}

// cures leaves of each option the causes that this unit has, and takes what was done in vain as evidence.
func (c *compiler) cures() {
	for i, o := range c.n.Options {
		c.n.Options[i].Cures = slices.DeleteFunc(o.Cures, func(cure Cure) bool { return len(c.n.Matching(cure.Cause)) == 0 })
	}
	c.n.excludeTried()
}
