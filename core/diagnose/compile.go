package diagnose

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// Network is the knowledge base compiled for one unit.
type Network struct {
	Unit     *unitsheet.Unit
	Version  string
	Findings []Finding
	Causes   []Cause
	Checks   []Check
	Options  []Option
	Faults   []faultmap.Row // by the unit's design

	absent   map[string]bool // findings that this unit has no part for
	finding  map[string]int
	cause    map[string]int
	baseline [][]float64         // by finding, by state
	given    []map[int][]float64 // by cause: finding → P(state | cause); absent means baseline
	prior    []float64
	level    []unitsheet.Access // of each cause's repair
}

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

// Compile fits the knowledge base to a unit: templates are filled in for its elements, the
// road test grid and its links are computed from its design. It fails on the first
// entry that refers to something unknown.
func Compile(k Knowledge, u *unitsheet.Unit) (*Network, error) {
	rows, err := faultmap.Map(u)
	if err != nil {
		return nil, err
	}
	n := &Network{Unit: u, Version: k.Version, Faults: rows, finding: map[string]int{}, cause: map[string]int{}, absent: map[string]bool{}}
	for _, f := range k.Findings {
		if !n.has(f.Needs) {
			n.absent[f.ID] = true
		}
		for _, el := range n.instances(f.For, f.Needs) {
			n.addFinding(f.fill(el))
		}
	}
	n.addPressurePattern()
	n.addRoad()
	for _, c := range k.Causes {
		for _, el := range n.instances(c.For, c.Needs) {
			if err := n.addCause(c.fill(el), el); err != nil {
				return nil, err
			}
		}
	}
	for _, c := range k.Checks {
		for _, el := range n.instances(c.For, c.Needs) {
			if err := n.addCheck(c.fill(el)); err != nil {
				return nil, err
			}
		}
	}
	n.addDrives()
	for _, o := range k.Options {
		for _, el := range n.instances(o.For, o.Needs) {
			if err := n.addOption(o.fill(el)); err != nil {
				return nil, err
			}
		}
	}
	if len(n.Causes) == 0 {
		return nil, &CompileError{"unit", u.Sheet.ID, "causes", "none apply", ""}
	}
	n.normalise()
	return n, nil
}

func (n *Network) addFinding(f Finding) {
	n.finding[f.ID] = len(n.Findings)
	n.Findings = append(n.Findings, f)
	base := make([]float64, len(f.States))
	base[0] = 1
	for i, s := range f.States[1:] {
		base[i+1] = s.Baseline
		base[0] -= s.Baseline
	}
	n.baseline = append(n.baseline, base)
}

func (n *Network) addCause(c Cause, el unitsheet.Element) error {
	fail := func(field, reason, accepted string) error {
		return &CompileError{"cause", c.ID, field, reason, accepted}
	}
	if !slices.Contains(Systems, c.System) {
		return fail("system", fmt.Sprintf("%q", c.System), strings.Join(Systems, ", "))
	}
	level, err := unitsheet.ParseAccess(c.Repair.Access)
	if err != nil {
		return fail("repair.access", err.Error(), "")
	}
	given := map[int][]float64{}
	extra := map[int][]float64{} // strengths by finding and state, joined by noisy-OR
	raise := func(f, s int, p float64) {
		if extra[f] == nil {
			extra[f] = make([]float64, len(n.baseline[f]))
		}
		extra[f][s] = 1 - (1-extra[f][s])*(1-p)
	}
	never := map[[2]int]bool{}
	for i, l := range c.Links {
		at := fmt.Sprintf("links[%d]", i)
		l.Finding, l.State = n.feedElement(l.Finding), n.feedElement(l.State)
		f, ok := n.finding[l.Finding]
		if !ok && n.absent[l.Finding] {
			continue
		}
		if !ok {
			return fail(at+".finding", fmt.Sprintf("no finding %q for unit %s", l.Finding, n.Unit.Sheet.ID), "")
		}
		s := n.Findings[f].state(l.State)
		if s < 0 {
			return fail(at+".state", fmt.Sprintf("finding %s has no state %q", l.Finding, l.State), n.Findings[f].stateIDs())
		}
		p, ok := Strengths[l.Strength]
		if !ok {
			return fail(at+".strength", fmt.Sprintf("%q", l.Strength), "always, usually, often, sometimes, rarely, never")
		}
		if p == 0 {
			never[[2]int{f, s}] = true
		}
		raise(f, s, p)
	}
	for i, fl := range c.Faults {
		if err := n.raiseFault(fl, el, raise); err != nil {
			return fail(fmt.Sprintf("faults[%d]", i), err.Error(), "")
		}
	}
	for f, strengths := range extra {
		given[f] = mix(strengths, n.baseline[f], func(s int) bool { return never[[2]int{f, s}] })
	}
	n.cause[c.ID] = len(n.Causes)
	n.Causes = append(n.Causes, c)
	n.given = append(n.given, given)
	n.prior = append(n.prior, c.Weight)
	n.level = append(n.level, level)
	return nil
}

// raiseFault turns a fault of the design into links to the cells where it shows.
func (n *Network) raiseFault(fl FaultLink, el unitsheet.Element, raise func(f, s int, p float64)) error {
	elements := []string{el.ID}
	switch {
	case fl.Kind.Whole():
		elements = []string{""}
	case fl.Element != "":
		elements = n.served(fl.Element)
	}
	for _, id := range elements {
		row, err := n.row(faultmap.Fault{Kind: fl.Kind, Part: id})
		if err != nil {
			return err
		}
		for _, temp := range Temperatures {
			name := fl.Hot
			if temp == "cold" {
				name = fl.Cold
			}
			strength, ok := Strengths[name]
			if !ok {
				return fmt.Errorf("%s strength %q; accepted: always, usually, often, sometimes, rarely, never", temp, name)
			}
			for _, p := range row.Cells {
				f := n.finding[RoadID(temp, p.Cell)]
				certainty := p.Certainty
				if temp == "cold" {
					certainty *= row.Cold
				}
				raise(f, n.Findings[f].state(p.State), strength*certainty)
			}
		}
	}
	return nil
}

// row returns what a fault does from the map that was computed once; one that is not in it is computed, so
// that its error says why it cannot be.
func (n *Network) row(f faultmap.Fault) (faultmap.Row, error) {
	for _, r := range n.Faults {
		if r.Fault == f {
			return r, nil
		}
	}
	return faultmap.Predict(n.Unit, f)
}

// served returns the elements that a name stands for: itself, those of a feed, those of a kind.
func (n *Network) served(name string) []string {
	for _, f := range n.Unit.Sheet.Feeds {
		if f.ID == name {
			return f.Serves
		}
	}
	var out []string
	for _, e := range n.Unit.Elements {
		if n.kind(e) == name || e.ID == name {
			out = append(out, e.ID)
		}
	}
	return out
}

// mix is the distribution of a finding given a cause: strengths first, the rest by baseline.
// Strengths of several states that add up to more than one are scaled, since states exclude
// each other. A state marked never keeps a tenth of its baseline: a report of it can still be an error
// of the design's description.
func mix(strengths, baseline []float64, never func(int) bool) []float64 {
	total := 0.0
	for _, p := range strengths {
		total += p
	}
	scale := 1.0
	if total > 0.98 {
		scale, total = 0.98/total, 0.98
	}
	out := make([]float64, len(strengths))
	sum := 0.0
	for s := range out {
		b := baseline[s]
		if never(s) {
			b /= 10
		}
		out[s] = strengths[s]*scale + (1-total)*b
		sum += out[s]
	}
	for s := range out {
		out[s] /= sum
	}
	return out
}

func (n *Network) addCheck(c Check) error {
	c.Yields = slices.DeleteFunc(c.Yields, func(y string) bool { return n.absent[y] })
	if len(c.Yields) == 0 {
		return nil
	}
	for i, y := range c.Yields {
		if _, ok := n.finding[y]; !ok {
			return &CompileError{"check", c.ID, fmt.Sprintf("yields[%d]", i), fmt.Sprintf("no finding %q", y), ""}
		}
	}
	for _, a := range []string{c.Access, c.Until} {
		if _, err := unitsheet.ParseAccess(a); a != "" && err != nil {
			return &CompileError{"check", c.ID, "access", err.Error(), ""}
		}
	}
	n.Checks = append(n.Checks, c)
	return nil
}

func (n *Network) addOption(o Option) error {
	if _, err := unitsheet.ParseAccess(o.Access); err != nil {
		return &CompileError{"option", o.ID, "access", err.Error(), ""}
	}
	var kept []Cure
	for _, cure := range o.Cures {
		if cure.Chance < 0 || cure.Chance > 1 {
			return &CompileError{"option", o.ID, "cures", fmt.Sprintf("chance %v", cure.Chance), "0 to 1"}
		}
		if len(n.Matching(cure.Cause)) > 0 {
			kept = append(kept, cure)
		}
	}
	o.Cures = kept
	n.Options = append(n.Options, o)
	return nil
}

// Matching returns the causes that a cure names; a name may end in an asterisk.
func (n *Network) Matching(pattern string) []int {
	var out []int
	for i, c := range n.Causes {
		if c.ID == pattern || strings.HasSuffix(pattern, "*") && strings.HasPrefix(c.ID, strings.TrimSuffix(pattern, "*")) {
			out = append(out, i)
		}
	}
	return out
}

// normalise makes the prior weights sum to one.
func (n *Network) normalise() {
	sum := 0.0
	for _, p := range n.prior {
		sum += p
	}
	for i := range n.prior {
		n.prior[i] /= sum
	}
}

// Finding returns a compiled finding by id.
func (n *Network) Finding(id string) (Finding, bool) {
	i, ok := n.finding[id]
	if !ok {
		return Finding{}, false
	}
	return n.Findings[i], true
}

// Cause returns a compiled cause by id.
func (n *Network) Cause(id string) (Cause, bool) {
	i, ok := n.cause[id]
	if !ok {
		return Cause{}, false
	}
	return n.Causes[i], true
}

// Check returns a compiled check by id.
func (n *Network) Check(id string) (Check, bool) {
	for _, c := range n.Checks {
		if c.ID == id {
			return c, true
		}
	}
	return Check{}, false
}

func (f Finding) state(id string) int {
	return slices.IndexFunc(f.States, func(s FindingState) bool { return s.ID == id })
}

func (f Finding) stateIDs() string {
	var out []string
	for _, s := range f.States {
		out = append(out, s.ID)
	}
	return strings.Join(out, ", ")
}

// StateTitle returns the words for a state, or its id if there are none.
func (f Finding) StateTitle(id string) string {
	if i := f.state(id); i >= 0 && f.States[i].Title != "" {
		return f.States[i].Title
	}
	return id
}

// given P(state | cause) for a finding.
func (n *Network) distribution(cause, finding int) []float64 {
	if d, ok := n.given[cause][finding]; ok {
		return d
	}
	return n.baseline[finding]
}

func log(p float64) float64 { return math.Log(math.Max(p, 1e-12)) }
