package gearing

import (
	"fmt"
	"slices"
	"strings"
)

// Case is the member that never turns.
const Case = "case"

// Kind says how an element holds.
type Kind string

// The kinds of element.
const (
	Clutch    Kind = "clutch"    // friction, between two turning members
	Brake     Kind = "brake"     // friction plates to the case
	Band      Kind = "band"      // friction band to the case
	Freewheel Kind = "freewheel" // one way: A may run ahead of B, never behind
	Selector  Kind = "selector"  // dogs or a synchroniser sleeve: holds without slip
)

// Kinds lists the kinds of element as files name them.
var Kinds = []Kind{Clutch, Brake, Band, Freewheel, Selector}

// Friction reports whether an element of this kind holds by friction and so can slip.
func (k Kind) Friction() bool { return k == Clutch || k == Brake || k == Band }

// Element joins member A to member B. For a freewheel the order matters.
type Element struct {
	ID   string
	Kind Kind
	A, B string
}

// Mesh is one pair of meshing gears, or two sprockets joined by a chain. With Internal, A is the ring gear.
type Mesh struct {
	A, B           string
	TeethA, TeethB int
	Carrier        string // member that carries the pinion's axis; "" or Case if it is fixed
	Internal       bool
	Chain          bool // sprockets: both turn the same way, about fixed axes
	Pinions        int  // equally spaced pinions that share the mesh; 0 means one
}

// Link makes two members turn as one always (a shaft).
type Link struct{ A, B string }

// Converter couples the engine to the turbine, for trains that take power from both. Its slip and
// multiplication belong to the State.
type Converter struct{ Engine, Turbine string }

// Train is a gear train. ForwardSign is +1 when the output turns with the input
// in forward driving, −1 when it turns against it.
type Train struct {
	Members     []string
	Input       string
	Output      string
	ForwardSign int
	Meshes      []Mesh
	Links       []Link
	Converter   *Converter // nil when the converter, if any, lies before the input
	Elements    []Element
}

// MostFreewheels is how many freewheels a train may have: twice as many as any design (common practice, no source). Which of
// them hold is found by trying sets of them, and their number doubles with each.
const MostFreewheels = 8

// State says what holds. Elements not named are open; freewheels work unless
// named as Broken (never hold) or Seized (hold both ways).
type State struct {
	Applied []string // friction elements that hold
	Broken  []string // freewheels that never hold
	Seized  []string // freewheels that hold both ways
	// Slip is one minus turbine speed over engine speed, 0 ≤ Slip < 1, and Multiplication turbine torque over
	// pump torque (0 means 1). Both matter only to a train with a Converter.
	Slip, Multiplication float64
}

// SheetError reports a train that cannot be solved, by field.
type SheetError struct {
	Field    string // path within the train, such as "meshes[2].a"
	Reason   string
	Accepted string
}

func (e *SheetError) Error() string {
	return fmt.Sprintf("gearing: %s: %s; accepted: %s", e.Field, e.Reason, e.Accepted)
}

// Validate reports every inconsistency of the train; nil means that it can be solved.
func (t Train) Validate() []*SheetError {
	var bad []*SheetError
	add := func(field, reason, accepted string) {
		bad = append(bad, &SheetError{field, reason, accepted})
	}
	members := fmt.Sprint(t.Members)
	known := func(field, m string, caseToo bool) {
		if caseToo && m == Case {
			return
		}
		if !slices.Contains(t.Members, m) {
			add(field, fmt.Sprintf("member %q is not declared", m), members)
		}
	}
	for i, m := range t.Members {
		if m == Case || m == "" || slices.Index(t.Members, m) != i {
			add(fmt.Sprintf("members[%d]", i), fmt.Sprintf("%q is empty, reserved or declared twice", m), "a name of its own")
		}
	}
	known("input", t.Input, false)
	known("output", t.Output, false)
	if t.Input == t.Output && t.Input != "" {
		add("output", fmt.Sprintf("%q is the input as well", t.Output), "another member")
	}
	if t.ForwardSign != 1 && t.ForwardSign != -1 {
		add("forward_sign", fmt.Sprint(t.ForwardSign), "1 or -1")
	}
	for i, m := range t.Meshes {
		at := fmt.Sprintf("meshes[%d]", i)
		known(at+".a", m.A, true)
		known(at+".b", m.B, true)
		if m.Carrier != "" {
			known(at+".carrier", m.Carrier, true)
		}
		if m.TeethA < 5 || m.TeethA > 400 {
			add(at+".teeth_a", fmt.Sprintf("%d teeth", m.TeethA), "5 to 400")
		}
		if m.TeethB < 5 || m.TeethB > 400 {
			add(at+".teeth_b", fmt.Sprintf("%d teeth", m.TeethB), "5 to 400")
		}
		if m.Chain && (m.Internal || m.Carrier != "") {
			add(at, "a chain with a carrier or a ring gear", "sprockets about fixed axes")
		}
		if m.A == m.B {
			add(at, "a gear meshes with itself", "two different members")
		}
		if m.Internal && m.TeethA <= m.TeethB {
			add(at, "the ring gear has no more teeth than its pinion", "the ring gear as a, with more teeth than b")
		}
	}
	for i, l := range t.Links {
		known(fmt.Sprintf("links[%d].a", i), l.A, false)
		known(fmt.Sprintf("links[%d].b", i), l.B, false)
	}
	if c := t.Converter; c != nil {
		known("converter.engine", c.Engine, false)
		known("converter.turbine", c.Turbine, false)
		if c.Engine == c.Turbine {
			add("converter.turbine", fmt.Sprintf("%q is the engine side as well", c.Turbine), "another member")
		}
	}
	seen := map[string]bool{}
	freewheels := 0
	for i, e := range t.Elements {
		if e.Kind == Freewheel {
			if freewheels++; freewheels == MostFreewheels+1 {
				add(fmt.Sprintf("elements[%d].kind", i), fmt.Sprintf("one-way clutch number %d", freewheels), fmt.Sprintf("at most %d one-way clutches", MostFreewheels))
			}
		}
		at := fmt.Sprintf("elements[%d]", i)
		if e.ID == "" || seen[e.ID] {
			add(at+".id", fmt.Sprintf("%q is empty or used twice", e.ID), "an id of its own")
		}
		seen[e.ID] = true
		known(at+".a", e.A, true)
		known(at+".b", e.B, true)
		if e.A == e.B {
			add(at, "joins a member to itself", "two different members")
		}
		if !slices.Contains(Kinds, e.Kind) {
			add(at+".kind", fmt.Sprintf("%q", e.Kind), written(Kinds))
		}
	}
	if len(bad) == 0 {
		t.attached(add)
	}
	return bad
}

// attached reports members that nothing touches: a gear left hanging in the air.
func (t Train) attached(add func(field, reason, accepted string)) {
	touched := map[string]bool{t.Input: true}
	for _, m := range t.Meshes {
		touched[m.A], touched[m.B], touched[m.Carrier] = true, true, true
	}
	for _, l := range t.Links {
		touched[l.A], touched[l.B] = true, true
	}
	for _, e := range t.Elements {
		touched[e.A], touched[e.B] = true, true
	}
	if c := t.Converter; c != nil {
		touched[c.Engine], touched[c.Turbine] = true, true
	}
	for i, m := range t.Members {
		if !touched[m] {
			add(fmt.Sprintf("members[%d]", i), fmt.Sprintf("%q is attached to nothing", m), "a gear, link or element that names it, or no such member")
		}
	}
}

// Element returns the element with this id.
func (t Train) Element(id string) (Element, bool) {
	for _, e := range t.Elements {
		if e.ID == id {
			return e, true
		}
	}
	return Element{}, false
}

// written lists kinds as a sheet writes them.
func written(kinds []Kind) string {
	out := make([]string, len(kinds))
	for i, k := range kinds {
		out[i] = string(k)
	}
	return strings.Join(out, ", ")
}
