package stack

import (
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"innercompass/core/quantity"
)

// Most that a stack may hold, so that what is free is found at once.
const (
	mostParts = 200
	mostBoxes = 16
	mostText  = 400
	farthest  = 3000.0 // mm
)

// Around is what the rest of the sheet says.
type Around struct {
	Members  []string
	Elements []Element
	Limits   []Limit
	Levels   []string // of access, from the shallowest; those that the unit has
	Controls []string
}

// Element is an element of the sheet as far as its parts depend on it.
type Element struct {
	ID, Kind     string
	Lined, Steel int // of its plates; 0 when they are not given
	Hand         bool
}

// Limit is a limit of the sheet.
type Limit struct{ ID, Element string }

// Problem is one fault of a stack; Path is below the stack.
type Problem struct{ Path, Reason, Accepted string }

// Box is a rectangle in the plane of the drawing, mm.
type Box struct{ X0, X1, Y0, Y1 float64 }

// Part is a part that has been checked.
type Part struct {
	PartSheet
	Level  int   // index of its access among the levels
	Holder int   // index of the part that it sits in, −1 for the case
	Boxes  []Box // round ones above and below their axis
	Wave   float64
	Sizes  []float64 // of its family, m
	Bolts  []Bolts
	after  []int
	with   int // index of the part that it is lifted out with, −1 for none
}

// Bolts are bolts of one length with their numbers: lengths in m, torques in N·m, angle in rad.
type Bolts struct {
	BoltsSheet
	Length float64
	Torque []float64
	Turn   float64
}

// Stack is a stack that has been checked. The case is part 0.
type Stack struct {
	Sheet    Sheet
	Parts    []Part
	Levels   []string
	back     []int // building order
	children [][]int
}

type compiler struct {
	s        Sheet
	around   Around
	out      *Stack
	index    map[string]int
	problems []Problem
}

// Compile checks a stack against the rest of its sheet. Either the stack or at least one problem is returned.
func Compile(s Sheet, around Around) (*Stack, []Problem) {
	c := &compiler{s: s, around: around, out: &Stack{Sheet: s, Levels: around.Levels}, index: map[string]int{}}
	if len(s.Parts) == 0 || len(s.Parts) > mostParts {
		c.fail("parts", fmt.Sprintf("%d parts", len(s.Parts)), fmt.Sprintf("1 to %d, the case first", mostParts))
		return nil, c.problems
	}
	c.axes()
	for i, p := range s.Parts {
		c.own(fmt.Sprintf("parts[%d].id", i), p.ID, i)
	}
	for i, p := range s.Parts {
		c.part(i, p)
	}
	c.body()
	c.lists()
	if len(c.problems) > 0 {
		return nil, c.problems
	}
	c.hang()
	if c.complete(); len(c.problems) == 0 {
		c.place()
	}
	if len(c.problems) > 0 {
		return nil, c.problems
	}
	return c.out, nil
}

func (c *compiler) fail(path, reason, accepted string) {
	c.problems = append(c.problems, Problem{path, reason, accepted})
}

func (c *compiler) own(path, id string, i int) {
	if _, twice := c.index[id]; twice || id == "" || strings.ContainsAny(id, " .,/") {
		c.fail(path, fmt.Sprintf("%q is empty, used twice or has a space", id), "an id of its own, such as direct-drum")
		return
	}
	c.index[id] = i
}

func (c *compiler) oneOf(path, value string, accepted ...string) {
	if !slices.Contains(accepted, value) {
		c.fail(path, fmt.Sprintf("%q", value), strings.Join(accepted, ", "))
	}
}

func (c *compiler) texts(path string, texts ...string) {
	for _, t := range texts {
		if len(t) > mostText {
			c.fail(path, fmt.Sprintf("%d characters in one text", len(t)), fmt.Sprintf("at most %d", mostText))
		}
	}
}

func (c *compiler) quantity(path, text string, d quantity.Dimension) float64 {
	q, err := quantity.Parse(text, d, "")
	if err != nil {
		var pe *quantity.ParseError
		if errors.As(err, &pe) {
			c.fail(path, fmt.Sprintf("%q: %s", pe.Text, pe.Reason), pe.Accepted)
		} else {
			c.fail(path, err.Error(), "")
		}
		return 1
	}
	if !(q.SI > 0) {
		c.fail(path, fmt.Sprintf("%q", text), "more than zero")
	}
	return q.SI
}

func (c *compiler) axes() {
	for i, a := range c.s.Axes {
		at := fmt.Sprintf("axes[%d]", i)
		if a.ID == "" || a.Name == "" || slices.ContainsFunc(c.s.Axes[:i], func(b AxisSheet) bool { return b.ID == a.ID }) {
			c.fail(at+".id", fmt.Sprintf("%q is empty, used twice or has no name", a.ID), "an id of its own and a name")
		}
		if !(math.Abs(a.Height) <= farthest) {
			c.fail(at+".height", fmt.Sprint(a.Height), "mm above the main shaft, negative below")
		}
	}
}

func (c *compiler) height(axis string) (float64, bool) {
	for _, a := range c.s.Axes {
		if a.ID == axis {
			return a.Height, true
		}
	}
	return 0, axis == ""
}

func (c *compiler) part(i int, p PartSheet) {
	at := fmt.Sprintf("parts[%d]", i)
	out := Part{PartSheet: p, Holder: -1, with: -1, Level: slices.Index(c.around.Levels, p.Access)}
	if strings.TrimSpace(p.Name) == "" {
		c.fail(at+".name", "empty", "what people call it")
	}
	if _, known := Kinds[p.Kind]; !known {
		c.fail(at+".kind", fmt.Sprintf("%q", p.Kind), strings.Join(slices.Sorted(maps.Keys(Kinds)), ", "))
	}
	if (p.Kind == "case") != (i == 0) {
		c.fail(at+".kind", "the case is the first part, and there is one", "one part of kind case, at the head of the list")
	}
	if out.Level < 0 {
		c.fail(at+".access", fmt.Sprintf("%q", p.Access), strings.Join(c.around.Levels, ", "))
	}
	if i > 0 {
		c.oneOf(at+".out", p.Out, "front", "rear", "up", "down", "aside")
	}
	for j, e := range p.Of {
		if !slices.ContainsFunc(c.around.Elements, func(x Element) bool { return x.ID == e }) {
			c.fail(fmt.Sprintf("%s.of[%d]", at, j), fmt.Sprintf("no element %q", e), "an id from elements")
		}
	}
	if p.Turns != "" && p.Turns != "engine" && p.Turns != "wheels" && !slices.Contains(c.around.Members, p.Turns) && len(c.around.Members) > 0 {
		c.fail(at+".turns", fmt.Sprintf("no member %q", p.Turns), strings.Join(append(slices.Clone(c.around.Members), "engine", "wheels"), ", "))
	}
	if p.In != "" {
		h, ok := c.index[p.In]
		switch {
		case !ok:
			c.fail(at+".in", fmt.Sprintf("no part %q", p.In), "the id of a part further up")
		case h >= i || h == 0:
			c.fail(at+".in", "it stands before what it sits in, or names the case", "a part further up; nothing for the case")
		default:
			out.Holder = h
		}
	}
	if p.With != "" {
		if out.with = c.before(at+".with", i, p.With); out.with >= 0 && c.s.Parts[out.with].In != p.In {
			c.fail(at+".with", "it sits in another part than "+p.With, "a part that sits in the same")
		}
	}
	for j, a := range p.After {
		if k := c.before(fmt.Sprintf("%s.after[%d]", at, j), i, a); k >= 0 {
			out.after = append(out.after, k)
		}
	}
	if _, ok := c.index[p.Back]; p.Back != "" && (!ok || p.Back == p.ID) {
		c.fail(at+".back", fmt.Sprintf("no other part %q", p.Back), "the id of the part after which it goes back")
	}
	for j, l := range p.Limits {
		c.limit(fmt.Sprintf("%s.limits[%d]", at, j), l)
	}
	if p.Count < 0 || p.Count > 200 {
		c.fail(at+".count", fmt.Sprint(p.Count), "1 to 200")
	}
	c.texts(at, append([]string{p.Way, p.Mark, p.Heed, p.Joint, p.Lube, p.Tool, p.Instead}, p.Rule...)...)
	c.boxes(at, p, &out)
	c.pack(at, p, &out)
	c.fit(at, p, &out)
	for j, b := range p.Bolts {
		out.Bolts = append(out.Bolts, c.bolts(fmt.Sprintf("%s.bolts[%d]", at, j), b))
	}
	for j, b := range p.Better {
		c.better(fmt.Sprintf("%s.better[%d]", at, j), p, b)
	}
	c.out.Parts = append(c.out.Parts, out)
}

// before is the index of a part that must stand further up than i, −1 when it does not.
func (c *compiler) before(path string, i int, id string) int {
	k, ok := c.index[id]
	if !ok || k >= i {
		c.fail(path, fmt.Sprintf("no part %q before it", id), "the id of a part further up")
		return -1
	}
	return k
}

func (c *compiler) limit(path, id string) {
	if !slices.ContainsFunc(c.around.Limits, func(l Limit) bool { return l.ID == id }) {
		c.fail(path, fmt.Sprintf("no limit %q", id), "an id from limits")
	}
}

func (c *compiler) boxes(at string, p PartSheet, out *Part) {
	height, ok := c.height(p.Axis)
	if !ok {
		c.fail(at+".axis", fmt.Sprintf("no axis %q", p.Axis), "an id from axes; none for the main shaft")
	}
	if len(p.At) > mostBoxes {
		c.fail(at+".at", fmt.Sprintf("%d boxes", len(p.At)), fmt.Sprintf("at most %d", mostBoxes))
	}
	for j, b := range p.At {
		path := fmt.Sprintf("%s.at[%d]", at, j)
		if len(b) != 4 || slices.ContainsFunc(b, func(v float64) bool { return !(math.Abs(v) <= farthest) }) || !(b[0] < b[1] && b[2] < b[3]) || !p.Flat && b[2] < 0 {
			c.fail(path, fmt.Sprint(b), "four numbers in mm: x from and to, then radius from and to (of a flat part y from and to)")
			continue
		}
		if p.Flat {
			out.Boxes = append(out.Boxes, Box{b[0], b[1], b[2], b[3]})
			continue
		}
		out.Boxes = append(out.Boxes, Box{b[0], b[1], height + b[2], height + b[3]}, Box{b[0], b[1], height - b[3], height - b[2]})
	}
}

func (c *compiler) pack(at string, p PartSheet, out *Part) {
	if p.Kind != "pack" {
		if len(p.Plates) > 0 || p.Wave != "" {
			c.fail(at+".plates", "plates in a part that is no pack", "kind: pack")
		}
		return
	}
	if p.Wave != "" {
		out.Wave = c.quantity(at+".wave", p.Wave, quantity.Length)
	}
	if len(p.Of) != 1 {
		c.fail(at+".of", fmt.Sprintf("%d elements", len(p.Of)), "the one element whose plates these are")
		return
	}
	count := map[string]int{}
	for j, k := range p.Plates {
		c.oneOf(fmt.Sprintf("%s.plates[%d]", at, j), k, "lined", "steel", "wave", "dished", "backing")
		count[k]++
	}
	if count["wave"]+count["dished"] > 0 && p.Wave == "" {
		c.fail(at+".wave", "not given", "the thickness of the wave or dished plate")
	}
	e := c.around.Elements[max(0, slices.IndexFunc(c.around.Elements, func(x Element) bool { return x.ID == p.Of[0] }))]
	if e.Lined > 0 && count["lined"] != e.Lined {
		c.fail(at+".plates", fmt.Sprintf("%d friction plates, but element %s has %d", count["lined"], e.ID, e.Lined), "the same number in both places")
	}
	if steel := count["steel"] + count["wave"] + count["dished"]; e.Steel > 0 && steel != e.Steel {
		c.fail(at+".plates", fmt.Sprintf("%d steel plates, wave and dished ones counted, but element %s has %d", steel, e.ID, e.Steel), "the same number in both places")
	}
}

func (c *compiler) fit(at string, p PartSheet, out *Part) {
	if p.Fit == nil {
		return
	}
	c.limit(at+".fit.limit", p.Fit.Limit)
	if len(p.Fit.Sizes) < 2 || len(p.Fit.Sizes) > 24 {
		c.fail(at+".fit.sizes", fmt.Sprintf("%d sizes", len(p.Fit.Sizes)), "2 to 24")
	}
	for j, s := range p.Fit.Sizes {
		out.Sizes = append(out.Sizes, c.quantity(fmt.Sprintf("%s.fit.sizes[%d]", at, j), s, quantity.Length))
	}
	if !slices.IsSorted(out.Sizes) {
		c.fail(at+".fit.sizes", "not in order", "from the thinnest to the thickest")
	}
}

func (c *compiler) bolts(at string, b BoltsSheet) Bolts {
	out := Bolts{BoltsSheet: b, Length: c.quantity(at+".length", b.Length, quantity.Length)}
	if b.Count < 1 || b.Count > 60 {
		c.fail(at+".count", fmt.Sprint(b.Count), "1 to 60")
	}
	c.oneOf(at+".pattern", b.Pattern, "star", "crosswise", "middle-out", "round")
	c.oneOf(at+".lie", b.Lie, "circle", "edge", "field")
	c.oneOf(at+".with", b.With, "dry", "oil", "anti-seize", "locker", "sealant")
	if len(b.Torque) == 0 || len(b.Torque) > 4 {
		c.fail(at+".torque", fmt.Sprintf("%d stages", len(b.Torque)), "1 to 4")
	}
	for j, t := range b.Torque {
		out.Torque = append(out.Torque, c.quantity(fmt.Sprintf("%s.torque[%d]", at, j), t, quantity.Torque))
	}
	if !slices.IsSorted(out.Torque) {
		c.fail(at+".torque", "a later stage is lower", "stages from low to high")
	}
	if b.Turn != "" {
		out.Turn = c.quantity(at+".turn", b.Turn, quantity.Angle)
	}
	c.texts(at, b.Where)
	return out
}

func (c *compiler) better(at string, p PartSheet, b BetterPart) {
	if b.ID == "" || b.Name == "" || strings.TrimSpace(b.Says) == "" {
		c.fail(at+".id", "id, name or what it does is missing", "id, name and says")
	}
	plates := b.Lined != 0 || b.Steel != 0 || b.LinedThin != "" || b.SteelThin != "" || b.Friction != 0
	if plates && p.Kind != "pack" || b.Servo != "" && p.Kind != "servo" {
		c.fail(at, "it changes plates or a servo that this part does not have", "plates at a pack, servo at a servo")
	}
	if b.Lined < 0 || b.Lined > 20 || b.Steel < 0 || b.Steel > 30 || b.Friction < 0 || b.Friction > 1 {
		c.fail(at+".lined", fmt.Sprintf("%d lined, %d steel, friction %v", b.Lined, b.Steel, b.Friction), "up to 20, up to 30, up to 1")
	}
	for key, d := range map[string]struct {
		text string
		dim  quantity.Dimension
	}{"lined_thick": {b.LinedThin, quantity.Length}, "steel_thick": {b.SteelThin, quantity.Length}, "servo": {b.Servo, quantity.Area}, "spring": {b.Spring, quantity.Force}} {
		if d.text != "" {
			c.quantity(at+"."+key, d.text, d.dim)
		}
	}
}
