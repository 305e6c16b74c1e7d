package instrument

import (
	"strings"

	"innercompass/core/unitsheet"
)

// Catalogue is a set of instruments that go on to each other. Each is made anew, so that fitting one changes no other.
type Catalogue struct {
	makers []func() Definition
	takers []taker // the inputs that take results, in order
}

// NewCatalogue puts instruments together, in the order in which they are shown within their groups.
func NewCatalogue(makers ...func() Definition) *Catalogue {
	c := &Catalogue{makers: makers}
	for _, next := range c.make() {
		for _, in := range next.Inputs {
			for _, from := range in.From {
				source, value, _ := strings.Cut(from, ".")
				c.takers = append(c.takers, taker{source, value, next.ID, next.Title, next.PartsOn != nil, in})
			}
		}
	}
	return c
}

func (c *Catalogue) make() []Definition {
	out := make([]Definition, len(c.makers))
	for i, m := range c.makers {
		out[i] = m()
	}
	return out
}

// All lists the instruments as they are without a unit, by shelf.
func (c *Catalogue) All() []Definition {
	var out []Definition
	for _, g := range Groups {
		for _, d := range c.make() {
			if d.Group == g.ID {
				out = append(out, d)
			}
		}
	}
	return out
}

// For returns the instrument of this name, fitted to a unit when u is not nil. A name is an id, or an id and a part:
// "stall-speed", "window:clearance-DC", "plate-capacity:K1".
func (c *Catalogue) For(name string, u *unitsheet.Unit) (Definition, error) {
	id, part, _ := strings.Cut(name, ":")
	var ids []string
	for _, d := range c.make() {
		if d.ID != id {
			ids = append(ids, d.ID)
			continue
		}
		parts := d.Parts(u)
		if part == "" && len(parts) > 0 {
			part = parts[0].ID
		}
		if part != "" && !hasOption(parts, part) {
			return d, &UnknownError{name, optionIDs(parts, id+":")}
		}
		d.Part = part
		if d.Fit != nil {
			if err := d.Fit(&d, u); err != nil {
				return d, err
			}
		}
		d.leaveToMeasure()
		d.takers = c.takers
		return d, nil
	}
	return Definition{}, &UnknownError{name, strings.Join(ids, ", ")}
}
