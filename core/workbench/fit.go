package workbench

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/measure"
	"innercompass/core/quantity"
)

// Choice is one size of a family: what its limit would come to with it.
type Choice struct {
	Size    float64 // m
	Gives   quantity.Measured
	Off     float64 // m from the middle of the window
	Verdict measure.Verdict
}

// Choices are the sizes on the shelf from which a part is chosen, the nearest to the middle of the window first: what was measured with the piece that
// is in, less or more what the other is thicker. False when its limit, or the piece that is in, was not measured.
func (b *Bench) Choices(i int) ([]Choice, bool) {
	p := b.stack.Parts[i]
	if p.Fit == nil {
		return nil, false
	}
	w, ok := b.unit.Limits[p.Fit.Limit]
	if !ok || w.Low.Dimension != quantity.Length {
		return nil, false
	}
	now, ok := b.limitOf(p.Fit.Limit)
	in, measured := b.sizeOf(i, "height")
	if !ok || !measured {
		return nil, false
	}
	middle := (w.Low.SI + w.High.SI) / 2
	var out []Choice
	for _, size := range b.OnShelf(i) {
		thicker := size - in.SI
		if p.Fit.Grow {
			thicker = -thicker
		}
		gives := quantity.Measured{Quantity: quantity.Quantity{SI: now.SI - thicker, Dimension: quantity.Length}, U: math.Hypot(now.U, in.U)}
		c := Choice{Size: size, Gives: gives, Off: math.Abs(gives.SI - middle)}
		if held, err := measure.Compare(gives.SI, gives.U, w.Low.SI, w.High.SI); err == nil {
			c.Verdict = held.Verdict
		}
		out = append(out, c)
	}
	slices.SortStableFunc(out, func(x, y Choice) int { return cmp.Compare(x.Off, y.Off) })
	return out, true
}

// limitOf is what was measured of a limit on any part.
func (b *Bench) limitOf(id string) (quantity.Measured, bool) {
	for i := range b.stack.Parts {
		for _, l := range b.Limits(i) {
			if l.Limit == id && l.Value.Dimension != "" {
				return l.Value, true
			}
		}
	}
	return quantity.Measured{}, false
}
