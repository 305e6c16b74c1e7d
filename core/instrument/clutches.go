package instrument

import (
	"fmt"
	"math"

	"innercompass/core/friction"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// plateCapacity is what a pack holds, range by range where the unit is known.
func plateCapacity() Definition {
	return Definition{
		ID: "plate-capacity", Title: "Capacity of a clutch or brake pack", Group: "clutches", Hand: []string{"caliper", "pressure gauge"},
		Answers: "What torque does it hold, in each range, and what becomes of it with another pressure, fewer plates or a new lining?",
		Source:  "uniform wear (worn in) and uniform pressure (new), Shigley; oil that turns with the piston, from its pressure",
		Limits:  "static coefficient; the return springs closed; no wave plate; load from the unit sheet at full throttle",
		Inputs: []Input{
			num("pressure", "Pressure at the piston", quantity.Pressure, "psi", 0, 500).preset("90 psi").read(1).from("pressure-rise.full"),
			num("piston", "Effective area of the piston", quantity.Area, "cm²", 1, 2000).preset("90 cm²").about(0.5),
			num("spring", "Force of the return springs, pack closed", quantity.Force, "N", 0, 50000).preset("900 N").about(30),
			count("lined", "Lined plates", 1, 20).preset("4"),
			num("outer", "Lining, outer diameter", quantity.Length, "mm", 20, 600).preset("140 mm").about(0.2),
			num("inner", "Lining, inner diameter", quantity.Length, "mm", 10, 590).preset("112 mm").about(0.2),
			num("friction", "Static coefficient", quantity.Ratio, "", 0.02, 0.5).preset("0.13").about(0.008),
			choice("lining", "Lining", Option{"worn-in", "worn in"}, Option{"new", "new"}).preset("worn-in"),
			num("load", "Torque that it must hold", quantity.Torque, "N·m", 0, 20000).optional(),
			num("speed", "Speed at which the piston turns", quantity.RotationalSpeed, "rpm", 0, 9000).optional().help("Adds the pressure of the oil that turns with it; leave it out for a brake or a balanced piston."),
			num("piston-outer", "Piston, outer diameter", quantity.Length, "mm", 10, 600).optional(),
			num("piston-inner", "Piston, inner diameter", quantity.Length, "mm", 0, 590).optional(),
			num("fed", "Diameter at which it is fed", quantity.Length, "mm", 0, 500).optional(),
		},
		parts: elements("plates"),
		fit: func(d *Definition, u *unitsheet.Unit) error {
			e, ok := sheetElement(d, u)
			if !ok {
				return nil
			}
			p := e.Plates
			d.input("piston").Default, d.input("spring").Default = p.Piston, p.Spring
			d.input("lined").Default, d.input("outer").Default, d.input("inner").Default = fmt.Sprint(p.Lined), p.Outer, p.Inner
			d.input("friction").Default = fmt.Sprint(p.Friction)
			d.Title = "Capacity: " + e.Name
			d.hardest(u, e.ID)
			d.Inputs = append(d.Inputs, num("throttle", "Throttle, for the ranges below", quantity.Ratio, "%", 0, 100).preset("100 %"))
			tell := d.interpret
			d.interpret = func(v Values, o []Output, r *Result) {
				tell(v, o, r)
				if f, ok := byRange(v, u, e); ok {
					r.Figures = append(r.Figures, f)
				}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if err := lining(v); err != nil {
				return nil, err
			}
			c := packOf(v)
			force := v.N("pressure")*c.Piston - c.Spring
			extra := 0.0
			if v.Has("speed") {
				if !v.Has("piston-outer") || !v.Has("piston-inner") || v.N("piston-inner") >= v.N("piston-outer") {
					return nil, &InputError{"piston-outer", "the diameters of the piston are needed for oil that turns with it", "an outer and a smaller inner diameter"}
				}
				extra = friction.CentrifugalForce(820, v.N("speed"), v.N("piston-outer")/2, v.N("piston-inner")/2, v.N("fed")/2)
			}
			if force+extra <= 0 {
				return nil, &InputError{"pressure", "under the return springs: the pack does not close", "above " + v.Say(c.Touch(), quantity.Pressure, "psi")}
			}
			c.Spring -= extra
			hold := c.Capacity(v.N("pressure"))
			if v.Chosen("lining") == "new" {
				hold *= friction.NewLiningRadius(c.Outer, c.Inner) / ((c.Outer + c.Inner) / 2)
			}
			outs := []Output{out("capacity", "torque that it holds", hold, quantity.Torque, "N·m"), out("force", "force on the plates", force+extra, quantity.Force, "N"), out("touch", "pressure at which it begins to hold", c.Touch(), quantity.Pressure, "psi")}
			if v.N("load") > 0 {
				outs = append(outs, out("safety", "of what it must hold", hold/v.N("load"), quantity.Ratio, ""))
			}
			if extra > 0 {
				outs = append(outs, out("turning", "force of the turning oil", extra, quantity.Force, "N"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = "It holds " + v.SayOutput(o[0]) + "."
			if v.N("load") > 0 {
				r.Headline += v.safety(o[0].Value, o[0].U, v.N("load"))
			}
			c := packOf(v)
			less := ""
			if n := v.Count("lined"); n > 1 {
				less = fmt.Sprintf("One lined plate fewer: %s. ", v.Say(o[0].Value*float64(n-1)/float64(n), quantity.Torque, "N·m"))
			}
			r.Detail = less + fmt.Sprintf("Each %s more at the piston brings %s.", v.Say(si(1, quantity.Pressure, "psi"), quantity.Pressure, "psi"),
				v.Say(c.Mu*float64(c.Faces)*c.Piston*(c.Outer+c.Inner)/2*si(1, quantity.Pressure, "psi"), quantity.Torque, "N·m"))
		},
	}
}

// hardest puts in pressure and load of the range in which an element is asked for most, full throttle at the low end of
// the pressure window.
func (d *Definition) hardest(u *unitsheet.Unit, element string) {
	load, pressure := 0.0, 0.0
	for _, r := range u.Ranges {
		x := u.Load(r, element) * u.EngineTorque(r, 1)
		if x > 0 && unitsheet.Known(r.LineFull.Low) && (pressure == 0 || x/r.LineFull.Low.SI > load/pressure) {
			load, pressure = x, r.LineFull.Low.SI
		}
	}
	if pressure > 0 {
		d.input("pressure").putSI(pressure)
		d.input("load").putSI(math.Round(load))
	}
}

func packOf(v Values) friction.Plates {
	return friction.Plates{Faces: 2 * v.Count("lined"), Outer: v.N("outer") / 2, Inner: v.N("inner") / 2, Mu: v.N("friction"), Piston: v.N("piston"), Spring: v.N("spring")}
}

// safety says whether a capacity is enough.
func (v Values) safety(hold, u, load float64) string {
	switch {
	case hold-2*u > load:
		return fmt.Sprintf(" That is %s times what is asked: it holds.", v.Num(hold/load, 2))
	case hold+2*u < load:
		return fmt.Sprintf(" That is %s times what is asked: it slips.", v.Num(hold/load, 2))
	}
	return fmt.Sprintf(" That is %s times what is asked: within the uncertainty of the values it may slip.", v.Num(hold/load, 2))
}

// byRange compares, in every range that uses an element, what it holds with what it must hold at a throttle.
func byRange(v Values, u *unitsheet.Unit, e unitsheet.ElementSheet) (Chart, bool) {
	throttle := v.N("throttle")
	f := Chart{Kind: "bars", Title: "In each range, at the low end of its pressure window", Y: Axis{"torque", quantity.Torque, "N·m"}, Words: "Capacity beside load, range by range, at " + v.Say(throttle, quantity.Ratio, "%") + " throttle."}
	c := packOf(v)
	for _, r := range u.Ranges {
		load := u.Load(r, e.ID) * u.EngineTorque(r, throttle)
		if load <= 0 || !unitsheet.Known(r.LineFull.Low) || !unitsheet.Known(r.LineIdle.Low) {
			continue
		}
		p := r.LineIdle.Low.SI + (r.LineFull.Low.SI-r.LineIdle.Low.SI)*throttle
		hold := c.Capacity(p)
		f.Bars = append(f.Bars, Bar{Label: r.ID, Value: hold, Need: load, Text: fmt.Sprintf("%s at %s, needs %s: %s", v.Say(hold, quantity.Torque, "N·m"), v.Say(p, quantity.Pressure, "psi"), v.Say(load, quantity.Torque, "N·m"), v.Num(hold/load, 2))})
	}
	return f, len(f.Bars) > 0
}

// bandCapacity is what a band holds.
func bandCapacity() Definition {
	return Definition{
		ID: "band-capacity", Title: "Capacity of a band with lever and servo", Group: "clutches", Hand: []string{"caliper", "pressure gauge"},
		Answers: "What torque does the band hold, and with another servo?",
		Source:  "rope (capstan) equation, Shigley", Limits: "static coefficient; band touches all round; the drum's reaction tightens the band unless said otherwise",
		Inputs: []Input{
			num("pressure", "Pressure at the servo", quantity.Pressure, "psi", 0, 500).preset("90 psi").read(1).from("pressure-rise.full"),
			num("servo", "Servo piston, effective area", quantity.Area, "cm²", 1, 500).preset("40 cm²").about(0.3),
			num("spring", "Return spring with the band tight", quantity.Force, "N", 0, 20000).preset("490 N").about(20),
			num("lever", "Lever: force at the band for each newton at the servo", quantity.Ratio, "", 0.2, 10).preset("1.3").about(0.02),
			num("drum", "Drum diameter", quantity.Length, "mm", 40, 500).preset("132 mm").about(0.2),
			num("wrap", "Angle of contact", quantity.Angle, "°", 60, 900).preset("310 °").about(4).help("A double-wrap band counts both turns."),
			num("friction", "Static coefficient", quantity.Ratio, "", 0.02, 0.5).preset("0.12").about(0.008),
			choice("way", "The drum's reaction", Option{"tightens", "tightens the band"}, Option{"eases", "eases the band"}).preset("tightens"),
			num("load", "Torque that it must hold", quantity.Torque, "N·m", 0, 20000).optional(),
			num("other", "Another servo, effective area", quantity.Area, "cm²", 1, 500).optional().from("servo:{part}.area"),
		},
		parts: elements("band"),
		fit: func(d *Definition, u *unitsheet.Unit) error {
			e, ok := sheetElement(d, u)
			if !ok {
				return nil
			}
			b := e.Band
			d.Title = "Capacity: " + e.Name
			d.input("servo").Default, d.input("spring").Default, d.input("drum").Default, d.input("wrap").Default = b.Servo, b.Spring, b.Drum, b.Wrap
			d.input("lever").Default, d.input("friction").Default = fmt.Sprint(b.Lever), fmt.Sprint(b.Friction)
			if b.Eases {
				d.input("way").Default = "eases"
			}
			d.hardest(u, e.ID)
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			b := friction.Band{Radius: v.N("drum") / 2, Wrap: v.N("wrap"), Mu: v.N("friction"), Servo: v.N("servo"), Lever: v.N("lever"), Spring: v.N("spring"), Eases: v.Chosen("way") == "eases"}
			if v.N("pressure") <= b.Touch() {
				return nil, &InputError{"pressure", "under the return spring: the band does not tighten", "above " + v.Say(b.Touch(), quantity.Pressure, "psi")}
			}
			outs := []Output{out("capacity", "torque that it holds", b.Capacity(v.N("pressure")), quantity.Torque, "N·m"),
				out("force", "force at the end of the band", (v.N("pressure")*b.Servo-b.Spring)*b.Lever, quantity.Force, "N"), out("touch", "pressure at which it begins to hold", b.Touch(), quantity.Pressure, "psi")}
			b.Eases = !b.Eases
			outs = append(outs, out("other-way", "turning the other way", b.Capacity(v.N("pressure")), quantity.Torque, "N·m"))
			if v.Has("other") {
				b.Eases, b.Servo = !b.Eases, v.N("other")
				outs = append(outs, out("other", "with the other servo", b.Capacity(v.N("pressure")), quantity.Torque, "N·m"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = "It holds " + v.SayOutput(o[0]) + "."
			if v.N("load") > 0 {
				r.Headline += v.safety(o[0].Value, o[0].U, v.N("load"))
			}
			f := Chart{Kind: "bars", Title: "What it holds", Y: Axis{"torque", quantity.Torque, "N·m"}, Words: "Capacity this way, the other way, and with another servo.",
				Bars: []Bar{{Label: "this way", Value: o[0].Value, Need: v.N("load"), Text: v.SayOutput(o[0]), Emphasised: true}, {Label: "the other way", Value: o[3].Value, Text: v.SayOutput(o[3])}}}
			if len(o) > 4 {
				f.Bars = append(f.Bars, Bar{Label: "other servo", Value: o[4].Value, Need: v.N("load"), Text: v.SayOutput(o[4])})
			}
			r.Figures = []Chart{f}
		},
	}
}
