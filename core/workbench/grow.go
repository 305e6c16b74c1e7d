package workbench

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/measure"
	"innercompass/core/quantity"
)

// Shelf is the kind of a note of which sizes of a family are on the shelf: Value has them, with semicolons between.
const Shelf = "shelf"

// Grown is a play that is set by a select part, as far as its members are known: what was measured of it by a dial, else the sheet's middle
// less what each member that was measured is thicker than by the sheet.
type Grown struct {
	Limit, Name string
	Part        int   // the select part
	Members     []int // washers and shims on its axis, itself with them
	Measured    []int // those that were
	Told        bool  // the play itself was measured
	Value       quantity.Measured
	Window      quantity.Window
	Verdict     measure.Comparison
}

// Grown are the plays of the unit that a select part sets, clearances of packs left out: these follow from their plates. What was not
// measured counts as the sheet has it, 0.03 mm unsure; castings are unsure by the window itself, since a sound unit lies within it.
func (b *Bench) Grown() []Grown {
	var out []Grown
	for i, p := range b.stack.Parts {
		if p.Fit == nil || strings.HasPrefix(p.Fit.Limit, "clearance-") {
			continue
		}
		w, ok := b.unit.Limits[p.Fit.Limit]
		if !ok || w.Low.Dimension != quantity.Length {
			continue
		}
		g := Grown{Limit: p.Fit.Limit, Name: p.Fit.Limit, Part: i, Members: b.members(i), Window: w}
		for _, l := range b.unit.Sheet.Limits {
			if l.ID == g.Limit {
				g.Name = l.Name
			}
		}
		middle, wide := (w.Low.SI+w.High.SI)/2, w.High.SI-w.Low.SI
		sum, u2 := 0.0, wide*wide/12
		for _, m := range g.Members {
			h, ok := b.sizeOf(m, "height")
			if !ok {
				u2 += unmeasured * unmeasured
				continue
			}
			g.Measured = append(g.Measured, m)
			thicker := h.SI - b.thick(m)
			if m == i && p.Fit.Grow {
				thicker = -thicker
			}
			sum, u2 = sum+thicker, u2+h.U*h.U
		}
		g.Value = quantity.Measured{Quantity: quantity.Quantity{SI: middle - sum, Dimension: quantity.Length}, U: math.Sqrt(u2)}
		if m, ok := b.limitOf(g.Limit); ok {
			g.Value, g.Told = m, true
		}
		g.Verdict, _ = measure.Compare(g.Value.SI, g.Value.U, w.Low.SI, w.High.SI)
		out = append(out, g)
	}
	return out
}

// members are the washers and shims that lie on the axis of a select part, one behind the other.
func (b *Bench) members(i int) []int {
	var out []int
	for k, p := range b.stack.Parts {
		if k == i || (p.Kind == "thrust" || p.Kind == "shim") && p.Axis == b.stack.Parts[i].Axis && p.Out != "aside" && len(p.Boxes) > 0 && p.Pieces() == 1 {
			out = append(out, k)
		}
	}
	return out
}

// thick is a part's length along its axis by the sheet, m.
func (b *Bench) thick(i int) float64 {
	boxes := b.stack.Parts[i].Boxes
	if len(boxes) == 0 {
		return 0
	}
	low, high := boxes[0].X0, boxes[0].X1
	for _, x := range boxes {
		low, high = min(low, x.X0), max(high, x.X1)
	}
	return (high - low) / 1000
}

// OnShelf are the sizes of a part's family that are on the shelf; the whole family when nobody has said.
func (b *Bench) OnShelf(i int) []float64 {
	p := b.stack.Parts[i]
	if n, ok := b.Sizes[i][Shelf]; ok {
		if sizes, err := shelfOf(p.Sizes, n.Value); err == nil {
			return sizes
		}
	}
	return p.Sizes
}

// shelfOf reads sizes of a family.
func shelfOf(family []float64, text string) ([]float64, error) {
	var out []float64
	for _, one := range strings.Split(text, ";") {
		if strings.TrimSpace(one) == "" {
			continue
		}
		q, err := quantity.Parse(one, quantity.Length, "mm")
		k := -1
		if err == nil {
			k = slices.IndexFunc(family, func(s float64) bool { return math.Abs(s-q.SI) < 1e-6 })
		}
		if k < 0 {
			return nil, fmt.Errorf("%q is no size of the family", strings.TrimSpace(one))
		}
		if !slices.Contains(out, family[k]) {
			out = append(out, family[k])
		}
	}
	return out, nil
}
