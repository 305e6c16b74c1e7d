// Package proof lists what has to be shown before a repair counts as a cure: what was wrong done again, and what the work
// leaves to be tightened, measured, set and taught. Which joint, dimension or reset some work concerns is told by names in
// the unit sheet and of the work (common practice, no source); torques, windows and procedures are the sheet's own.
package proof

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Kinds of item.
const (
	Repeat  = "repeat"  // what failed, done again under the same conditions
	Set     = "set"     // set, taught, filled, cleared
	Value   = "value"   // a value within its window
	Tighten = "tighten" // a torque, in steps
	Tell    = "tell"    // told, driven by the customer
)

// Item is one thing to be shown.
type Item struct {
	ID, Title, Kind string
	Failing         string           // what was wrong before, or how it is done
	Window          *quantity.Window // of a value
	Unit            string           // that the sheet writes the window in
}

// Passes reports whether a value lies in the window of the item.
func (i Item) Passes(v quantity.Quantity) bool {
	return i.Window != nil && v.SI >= i.Window.Low.SI && v.SI <= i.Window.High.SI
}

// List is what has to be shown for a unit after some work, given all readings of the case in their order. Without any work
// there is still what failed to be driven again, and the level.
func List(n *knowledge.Network, work []knowledge.Option, readings []diagnose.Reading) []Item {
	var out []Item
	add := func(i Item) { out = append(out, i) }
	deepest := unitsheet.Ground
	for _, o := range work {
		if level, err := unitsheet.ParseAccess(o.Access); err == nil {
			deepest = max(deepest, level)
		}
	}
	for i, t := range n.Unit.Sheet.Torques {
		if tightened(t.Joint, work, deepest) {
			add(Item{ID: fmt.Sprintf("torque.%d", i), Title: "Tightened: " + t.Joint + ", " + t.Torque, Failing: "in steps, from the middle out or crosswise", Kind: Tighten})
		}
	}
	for _, l := range n.Unit.Sheet.Limits {
		w, ok := n.Unit.Limits[l.ID]
		if ok && measuredAgain(l, work, deepest) {
			add(Item{ID: "limit." + l.ID, Title: "Measured as assembled: " + l.Name, Kind: Value, Window: &w, Unit: unitOf(l)})
		}
	}
	for i, r := range n.Unit.Sheet.Resets {
		if concerns(r.After, work) {
			add(Item{ID: fmt.Sprintf("reset.%d", i), Title: r.Text, Failing: "after: " + r.After, Kind: Set})
		}
	}
	add(Item{ID: "fluid", Title: "Fluid filled and level set by the unit's procedure", Kind: Set})
	if n.Unit.Electric() {
		add(Item{ID: "codes", Title: "Codes read, noted and cleared; none is back after the drive", Kind: Set})
	}
	shown := proving(n)
	for _, r := range lastLooks(readings) {
		f, _ := n.Finding(r.Finding)
		if r.State != f.States[0].ID && (f.Stage == "road" || shown[r.Finding]) {
			add(Item{ID: "repeat." + r.Finding, Title: "Repeat: " + f.Title, Failing: f.StateTitle(r.State), Kind: Repeat})
		}
	}
	for _, r := range told(n, readings) {
		f, _ := n.Finding(r.Finding)
		add(Item{ID: "gone." + r.Finding, Title: "Driven as the customer drives, and gone: " + f.StateTitle(r.State), Failing: f.Title, Kind: Repeat})
	}
	if deepest > unitsheet.Lifted || slices.ContainsFunc(work, func(o knowledge.Option) bool { return o.Fluid != "none" }) || len(work) == 0 {
		add(Item{ID: "dry", Title: "Dry from below after the drive", Kind: Repeat})
	}
	add(Item{ID: "customer", Title: "Customer has driven it, or been told how it now behaves", Kind: Tell})
	return out
}

// lastLooks are the readings by somebody of the trade, of each finding the last.
func lastLooks(readings []diagnose.Reading) []diagnose.Reading {
	var out []diagnose.Reading
	for i, r := range readings {
		if r.Source != "customer" && !slices.ContainsFunc(readings[i+1:], func(o diagnose.Reading) bool { return o.Finding == r.Finding && o.Source != "customer" }) {
			out = append(out, r)
		}
	}
	return out
}

// proving are the findings of checks that show, done again, that the repair worked.
func proving(n *knowledge.Network) map[string]bool {
	out := map[string]bool{}
	for _, k := range n.Checks {
		for _, y := range k.Yields {
			out[y] = out[y] || k.Proves
		}
	}
	return out
}

// told are the complaints of the customer as they stand, each finding once.
func told(n *knowledge.Network, readings []diagnose.Reading) []diagnose.Reading {
	var out []diagnose.Reading
	for i, r := range readings {
		f, _ := n.Finding(r.Finding)
		last := !slices.ContainsFunc(readings[i+1:], func(o diagnose.Reading) bool { return o.Finding == r.Finding && o.Source == r.Source })
		if r.Source == "customer" && last && strings.HasPrefix(r.Finding, knowledge.SaidPrefix) && r.State != f.States[0].ID {
			out = append(out, r)
		}
	}
	return out
}

// tightened reports whether the work loosens a joint: by how far the vehicle is opened up, as the joint's name says.
func tightened(joint string, work []knowledge.Option, deepest unitsheet.Access) bool {
	if len(work) == 0 {
		return false
	}
	for _, at := range []struct {
		word  string
		level unitsheet.Access
	}{{"pan", unitsheet.PanOff}, {"valve body", unitsheet.ValveBodyOff}, {"converter halves", unitsheet.ConverterOpen}, {"converter", unitsheet.UnitOut}, {"bell", unitsheet.UnitOut}, {"flywheel", unitsheet.UnitOut}, {"flexplate", unitsheet.UnitOut}, {"cover", unitsheet.UnitOut}, {"pump", unitsheet.UnitApart}} {
		if strings.Contains(joint, at.word) {
			return deepest >= at.level
		}
	}
	return deepest >= unitsheet.UnitApart
}

// measuredAgain reports whether the work changes a limit's dimension: the element's own, and end play of a unit that was apart.
func measuredAgain(l unitsheet.LimitSheet, work []knowledge.Option, deepest unitsheet.Access) bool {
	for _, o := range work {
		_, element, _ := strings.Cut(o.ID, ".")
		if l.Element != "" && element == l.Element {
			return true
		}
	}
	return l.ID == "end-play" && deepest >= unitsheet.UnitApart
}

// unitOf is the unit that a limit is written in.
func unitOf(l unitsheet.LimitSheet) string {
	if i := strings.LastIndexAny(l.Window, "0123456789."); i >= 0 {
		return strings.TrimSpace(l.Window[i+1:])
	}
	return ""
}

// concerns reports whether a reset comes after some of the work: they share a word that names a part.
func concerns(after string, work []knowledge.Option) bool {
	part := func(word string) bool {
		return len(word) > 3 && !slices.Contains([]string{"replaced", "renewed", "repaired", "touched", "exchanged", "with", "after", "from", "work", "done"}, word)
	}
	for _, word := range strings.FieldsFunc(strings.ToLower(after), func(r rune) bool { return r < 'a' || r > 'z' }) {
		if !part(word) {
			continue
		}
		for _, o := range work {
			if strings.Contains(strings.ToLower(o.Title), word) || word == "fluid" && o.Fluid != "none" {
				return true
			}
		}
	}
	return false
}
