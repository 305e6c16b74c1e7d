package gearing

import (
	"fmt"
	"slices"
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
)

// Element joins member A to member B. For a freewheel the order matters.
type Element struct {
	ID   string
	Kind Kind
	A, B string
}

// Mesh is one pair of meshing gears. With Internal, A is the ring gear.
type Mesh struct {
	A, B           string
	TeethA, TeethB int
	Carrier        string // member that carries the pinion's axis; "" or Case if it is fixed
	Internal       bool
}

// Link makes two members turn as one always (a shaft, a coupled converter).
type Link struct{ A, B string }

// Train is a gear train. ForwardSign is +1 when the output turns with the input
// in forward driving, −1 when it turns against it.
type Train struct {
	Members     []string
	Input       string
	Output      string
	ForwardSign int
	Meshes      []Mesh
	Links       []Link
	Elements    []Element
}

// State says what holds. Elements not named are open; freewheels work unless
// named as Broken (never hold) or Seized (hold both ways).
type State struct {
	Applied []string // friction elements that hold
	Broken  []string // freewheels that never hold
	Seized  []string // freewheels that hold both ways
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
		if m.Internal && m.TeethA <= m.TeethB {
			add(at, "the ring gear has no more teeth than its pinion", "the ring gear as a, with more teeth than b")
		}
	}
	for i, l := range t.Links {
		known(fmt.Sprintf("links[%d].a", i), l.A, false)
		known(fmt.Sprintf("links[%d].b", i), l.B, false)
	}
	seen := map[string]bool{}
	for i, e := range t.Elements {
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
		if !slices.Contains([]Kind{Clutch, Brake, Band, Freewheel}, e.Kind) {
			add(at+".kind", fmt.Sprintf("%q", e.Kind), "clutch, brake, band or freewheel")
		}
	}
	return bad
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

// AssemblyError reports a planetary set that cannot be put together.
type AssemblyError struct{ Reason string }

func (e *AssemblyError) Error() string { return "gearing: " + e.Reason }

// CheckSimpleSet reports whether a simple set with these teeth and n equally
// spaced planets meshes (ring = sun + 2·planet) and assembles ((sun + ring)/n whole).
func CheckSimpleSet(sun, planet, ring, n int) error {
	if ring != sun+2*planet {
		return &AssemblyError{fmt.Sprintf("ring %d does not mesh: sun %d + 2 × planet %d = %d", ring, sun, planet, sun+2*planet)}
	}
	if n < 1 || (sun+ring)%n != 0 {
		return &AssemblyError{fmt.Sprintf("%d equally spaced planets do not assemble: (%d + %d)/%d is not whole", n, sun, ring, n)}
	}
	return nil
}

// CheckCompoundSet reports whether a two-sun set with one ring meshes and assembles:
// the long pinion joins the large sun to the ring (a simple set with n planets); the
// short pinions between small sun and long pinion must find room, which for equal
// modules means that the small sun's pinion centre lies within reach of the long one's:
// |rLongCentre − rShortCentre| < long + short pitch radii; and (ring − small sun)/n is
// whole for the double-pinion path.
func CheckCompoundSet(largeSun, smallSun, long, short, ring, n int) error {
	if err := CheckSimpleSet(largeSun, long, ring, n); err != nil {
		return err
	}
	if (ring-smallSun)%n != 0 {
		return &AssemblyError{fmt.Sprintf("the double-pinion path does not assemble: (%d − %d)/%d is not whole", ring, smallSun, n)}
	}
	longCentre, shortCentre := largeSun+long, smallSun+short
	gap := longCentre - shortCentre
	if gap < 0 {
		gap = -gap
	}
	if gap >= long+short {
		return &AssemblyError{"long and short pinions cannot reach each other"}
	}
	return nil
}
