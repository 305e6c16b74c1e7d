package instrument

import (
	"innercompass/core/quantity"
)

// InUnits puts the inputs into the units in use, in the way in which numbers are written: bare numbers are then in them, and
// what stands beforehand is rewritten.
func (d *Definition) InUnits(units func(d quantity.Dimension, fallback string) string, style quantity.Style) {
	for i := range d.Inputs {
		in := &d.Inputs[i]
		if in.Kind != Number && in.Kind != List {
			continue
		}
		was := in.Unit
		if in.Unit = units(in.Dimension, in.Unit); in.Unit != was {
			in.Default, in.Example = in.rewrite(in.Default, was), in.rewrite(in.Example, was)
		}
		in.Default, in.Example = style.Localise(in.Default), style.Localise(in.Example)
	}
}

// rewrite says a typed text in the input's unit; what cannot be read stays.
func (in Input) rewrite(text, was string) string {
	if text == "" {
		return ""
	}
	if in.Kind == Number {
		q, err := quantity.Parse(text, in.Dimension, was)
		if err != nil {
			return text
		}
		return rounded(q, in.Unit) + withUnit(in.Unit)
	}
	list, err := quantity.ParseList(text, in.Dimension, was)
	if err != nil {
		return text
	}
	out := ""
	for i, q := range list {
		if i > 0 {
			out += "; "
		}
		out += rounded(q, in.Unit)
	}
	return out + withUnit(in.Unit)
}

// rounded writes a number with four digits: more than any gauge of the trade reads, and no more than a person types.
func rounded(q quantity.Quantity, unit string) string {
	x, err := q.In(unit)
	if err != nil {
		x = q.SI
	}
	return significant(x, 4)
}
