package unitsheet

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/gearing"
)

// PartName says what people call a part that can fail.
func PartName(u *Unit, id string) string {
	if e, ok := u.Element(id); ok {
		return e.Name
	}
	if c, ok := u.Control(id); ok {
		return c.Name
	}
	for _, f := range u.Sheet.Feeds {
		if f.ID == id {
			return f.Name
		}
	}
	for _, s := range u.Sheet.Shared {
		if s.ID == id {
			return s.Name
		}
	}
	if name := u.GearsName(id); name != "" {
		return name
	}
	return "whole unit"
}

// MemberName says what people call a member of the gears.
func MemberName(s Sheet, id string) string {
	if name := s.Gearing.Names[id]; name != "" {
		return name
	}
	return id
}

// Teeth are the numbers of teeth, set by set.
func Teeth(s Sheet) []string {
	set := func(x SetSheet) string {
		switch {
		case x.StepTeeth > 0:
			second := fmt.Sprintf("ring %d", x.RingTeeth)
			if x.Ring == "" {
				second = fmt.Sprintf("second sun %d", x.SmallSunTeeth)
			}
			return fmt.Sprintf("%s: sun %d, %s, %d stepped planets of %d and %d", x.Name, x.SunTeeth, second, x.Count, x.PlanetTeeth, x.StepTeeth)
		case x.Ring == "":
			return fmt.Sprintf("%s: suns %d and %d, long planets %d, short %d, %d pairs", x.Name, x.SmallSunTeeth, x.SunTeeth, x.PlanetTeeth, x.ShortTeeth, x.Count)
		case x.SmallSun != "":
			return fmt.Sprintf("%s: ring %d, suns %d and %d, long planets %d, short %d, %d pairs", x.Name, x.RingTeeth, x.SmallSunTeeth, x.SunTeeth, x.PlanetTeeth, x.ShortTeeth, x.Count)
		case x.InnerTeeth > 0:
			return fmt.Sprintf("%s: ring %d, sun %d, planets %d and %d, %d pairs", x.Name, x.RingTeeth, x.SunTeeth, x.InnerTeeth, x.PlanetTeeth, x.Count)
		}
		return fmt.Sprintf("%s: ring %d, sun %d, %d planets of %d", x.Name, x.RingTeeth, x.SunTeeth, x.Count, x.PlanetTeeth)
	}
	var out []string
	for _, x := range s.Gearing.Sets {
		out = append(out, set(x))
	}
	for _, g := range s.Gearing.Gears {
		out = append(out, fmt.Sprintf("%s: %d/%d", g.Name, g.TeethA, g.TeethB))
	}
	return out
}

// PinionName is what a pinion of a set is called: "planet of the rear set".
func PinionName(id string) string {
	set, part, _ := strings.Cut(id, "#")
	_, part, _ = strings.Cut(part, " ")
	return part + " of the " + set
}

// OrderName says what passes what in an order of the gears.
func OrderName(s Sheet, o gearing.Order) string {
	clean := func(id string) string {
		if strings.Contains(id, "#") {
			return PinionName(id)
		}
		return MemberName(s, id)
	}
	switch o.Kind {
	case gearing.PlanetPass:
		if o.A == gearing.Case {
			return "planets of the " + MemberName(s, o.B) + " passing the case"
		}
		return "planets passing the " + clean(o.A)
	case gearing.PlanetSpin:
		return clean(o.A) + ", each turn on its pin"
	}
	return clean(o.A) + " on " + clean(o.B)
}

// PowerSentence says what a power flow comes to.
func PowerSentence(u *Unit, p Power) string {
	switch {
	case !p.Range.Driving():
		return "Nothing is driven: the input runs free."
	case p.Undecided:
		return "Foot off, a one-way clutch lets go: the engine brakes nothing here."
	case p.Overrun:
		return "The engine brakes: torque runs backward through the gears."
	}
	most, name := 0.0, ""
	for _, e := range p.Elements {
		if v := math.Abs(e.Torque); e.Hold > 0 && v/e.Hold > most {
			most, name = v/e.Hold, PartName(u, e.ID)
		}
	}
	if name == "" {
		return "The input carries no torque."
	}
	if _, ok := u.Assumed("capacities", ""); ok {
		return fmt.Sprintf("Hardest at work: %s, %.0f %% of what it is assumed to hold.", name, 100*most)
	}
	return fmt.Sprintf("Hardest at work: %s, %.0f %% of what it can hold.", name, 100*most)
}
