package unitsheet

import (
	"slices"
	"strings"

	"innercompass/core/gearing"
)

// Commanded gives the setting of every control in a range, in the order of Controls: the declared bits for
// those of the logic table, on where its element is applied for the others.
func (u *Unit) Commanded(r Range) []int {
	out := make([]int, len(u.Controls))
	for i, c := range u.Controls {
		switch {
		case c.Place >= 0 && c.Place < len(r.Bits):
			out[i] = int(r.Bits[c.Place] - '0')
		case c.Place >= 0:
			out[i] = c.Rest
		case slices.Contains(r.Applied, c.Applies):
			out[i] = 1
		}
	}
	return out
}

// Settings gives what holds in a selector position for a setting of every control, and whether the sheet
// says: the valve body does something for each combination, but a sheet may leave out what never happens.
// Elements that no control works keep what the range has.
func (u *Unit) Settings(r Range, setting []int) (gearing.State, bool) {
	var bits strings.Builder
	for i, c := range u.Controls {
		if c.Place >= 0 {
			bits.WriteByte(byte('0' + setting[i]))
		}
	}
	var applied []string
	if bits.Len() > 0 && r.Bits != "" {
		row, ok := logicRow(u.Sheet, r.Selector, bits.String())
		if !ok {
			return gearing.State{}, false
		}
		applied = slices.Clone(row)
	} else {
		for _, id := range r.Applied {
			if !u.controlled(id) {
				applied = append(applied, id)
			}
		}
	}
	for i, c := range u.Controls {
		if c.Applies == "" {
			continue
		}
		applied = slices.DeleteFunc(applied, func(id string) bool { return id == c.Applies })
		if setting[i] == 1 && u.Fed(c.Applies, r.Selector) {
			applied = append(applied, c.Applies)
		}
	}
	return gearing.State{Applied: applied}, true
}

func (u *Unit) controlled(element string) bool {
	return slices.ContainsFunc(u.Controls, func(c Control) bool { return c.Applies == element })
}

// Fed reports whether an element can have pressure in a selector position.
func (u *Unit) Fed(element, selector string) bool {
	f, ok := u.Feed(element)
	return !ok || len(f.Selectors) == 0 || slices.Contains(f.Selectors, selector)
}

// Limp gives what holds in a selector position without electric power: as the sheet says, or from the
// controls at rest. Without controls it is nothing.
func (u *Unit) Limp(selector string) gearing.State {
	for _, l := range u.Sheet.Limp {
		if l.Selector == selector {
			return gearing.State{Applied: l.Applied}
		}
	}
	rest := make([]int, len(u.Controls))
	for i, c := range u.Controls {
		rest[i] = c.Rest
	}
	for _, r := range u.Ranges {
		if r.Selector == selector {
			if s, ok := u.Settings(r, rest); ok {
				return s
			}
		}
	}
	return gearing.State{}
}

// Electric reports whether the unit has solenoids, and so a state without power.
func (u *Unit) Electric() bool {
	return slices.ContainsFunc(u.Controls, func(c Control) bool { return c.Kind == "solenoid" })
}

// ControlRow is one setting of the controls in a selector position, and what comes of it.
type ControlRow struct {
	Selector string
	Range    string // that is commanded so; "" for settings that only a fault gives, "without power" for limp-home
	Bits     []int  // by control; nil without power
	Applied  []string
	Result   gearing.Result
}

// WithoutPower is the Range of the rows of the control table without electric power.
const WithoutPower = "without power"

// ControlTable lists every setting that a range commands, every other that the logic knows, and what holds
// without power. It is nil for a unit without controls.
func (u *Unit) ControlTable() []ControlRow {
	if len(u.Controls) == 0 {
		return nil
	}
	var out []ControlRow
	add := func(selector, name string, bits []int, s gearing.State) {
		r, err := u.Result(s)
		if err == nil {
			out = append(out, ControlRow{selector, name, bits, s.Applied, r})
		}
	}
	for _, r := range u.Ranges {
		add(r.Selector, r.ID, u.Commanded(r), gearing.State{Applied: r.Applied})
	}
	for _, l := range u.Sheet.Logic {
		if slices.ContainsFunc(u.Ranges, func(r Range) bool { return r.Selector == l.Selector && r.Bits == l.Bits }) {
			continue
		}
		bits := make([]int, len(u.Controls))
		for i, c := range u.Controls {
			if c.Place >= 0 {
				bits[i] = int(l.Bits[c.Place] - '0')
			}
		}
		add(l.Selector, "", bits, gearing.State{Applied: l.Applied})
	}
	if !u.Electric() {
		return out
	}
	var said []string
	for _, r := range u.Ranges {
		if !slices.Contains(said, r.Selector) {
			said = append(said, r.Selector)
			add(r.Selector, WithoutPower, nil, u.Limp(r.Selector))
		}
	}
	return out
}
