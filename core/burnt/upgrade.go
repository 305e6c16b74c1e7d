package burnt

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/friction"
	"innercompass/core/quantity"
	"innercompass/core/stack"
	"innercompass/core/unitsheet"
)

// Change is what another pack, servo or spring does to an element, in health: before and after. A clearance, time or rise that cannot be
// computed is NaN.
type Change struct {
	Range       string     // in which the element has least to spare
	Margin      [2]float64 // held over what must be held there
	Touch       [2]float64 // Pa at which it begins to hold
	Clear       [2]float64 // m
	Time, Bulk  [2]float64 // s and K of its full throttle shift
	NeedsNewPin bool       // a servo of another size: its travel is set anew
}

// Upgrade holds an element with an upgrade of its parts against itself as the sheet has it. It fails for an element that the unit does not
// have, or an upgrade that does not fit it.
func Upgrade(u *unitsheet.Unit, element string, b stack.BetterPart) (Change, error) {
	better, err := with(u, element, b)
	if err != nil {
		return Change{}, err
	}
	var out Change
	for i, x := range []*unitsheet.Unit{u, better} {
		a, err := Ask(x, element, Found{})
		if err != nil {
			return Change{}, err
		}
		out.Margin[i], out.Time[i], out.Bulk[i] = math.NaN(), math.NaN(), math.NaN()
		if len(a.Margins) > 0 {
			out.Range, out.Margin[i] = a.Margins[0].Range, a.Margins[0].Ratio.Is
		}
		for _, m := range a.Margins {
			if m.Shift != nil {
				out.Time[i], out.Bulk[i] = m.Shift.Healthy.Time, m.Shift.Healthy.Bulk
				break
			}
		}
		out.Touch[i], out.Clear[i] = touch(x, element), clearance(x, element)
	}
	out.NeedsNewPin = b.Servo != ""
	return out, nil
}

// with is a unit whose element has the upgrade; everything else is that of the unit.
func with(u *unitsheet.Unit, element string, b stack.BetterPart) (*unitsheet.Unit, error) {
	at := slices.IndexFunc(u.Sheet.Elements, func(e unitsheet.ElementSheet) bool { return e.ID == element })
	if at < 0 {
		return nil, fmt.Errorf("burnt: no element %q", element)
	}
	out := *u
	out.Sheet.Elements = slices.Clone(u.Sheet.Elements)
	e := &out.Sheet.Elements[at]
	set := func(to *string, text string) {
		if text != "" {
			*to = text
		}
	}
	switch {
	case e.Plates != nil && b.Servo == "":
		p := *e.Plates
		if b.Lined > 0 {
			p.Lined = b.Lined
		}
		if b.Steel > 0 {
			p.Steel = b.Steel
		}
		if b.Friction > 0 {
			p.Friction = b.Friction
		}
		set(&p.LinedThick, b.LinedThin)
		set(&p.SteelThick, b.SteelThin)
		set(&p.Spring, b.Spring)
		e.Plates = &p
	case e.Band != nil:
		p := *e.Band
		set(&p.Servo, b.Servo)
		set(&p.Spring, b.Spring)
		if b.Friction > 0 {
			p.Friction = b.Friction
		}
		e.Band = &p
	default:
		return nil, fmt.Errorf("burnt: element %q has neither plates nor a band that %q would change", element, b.ID)
	}
	return &out, nil
}

func touch(u *unitsheet.Unit, element string) float64 {
	capacity, plates, spring, ok := model(u, element)
	if !ok {
		return math.NaN()
	}
	return crossing(0, 5e6, func(p float64) float64 { return capacity(p, 1, float64(plates), spring) - 1e-9 })
}

func clearance(u *unitsheet.Unit, element string) float64 {
	for _, e := range u.Sheet.Elements {
		if e.ID != element || e.Plates == nil {
			continue
		}
		si := func(text string) float64 {
			q, err := quantity.Parse(text, quantity.Length, "")
			if err != nil {
				return math.NaN()
			}
			return q.SI
		}
		p := e.Plates
		return friction.Stack{Lined: p.Lined, Steel: p.Steel, LinedThick: si(p.LinedThick), SteelThick: si(p.SteelThick), Backing: si(p.Backing), Depth: si(p.Depth)}.Clearance()
	}
	return math.NaN()
}
