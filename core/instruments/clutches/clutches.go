package clutches

import (
	"fmt"
	"math"

	"innercompass/core/friction"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// PlateCapacity is what a pack holds, range by range where the unit is known.
func PlateCapacity() instrument.Definition {
	return instrument.Definition{
		ID: "plate-capacity", Title: "Capacity of a clutch or brake pack", Group: "clutches", Hand: []string{"caliper", "pressure gauge"},
		Answers: "What torque does it hold in each range? What with another pressure, fewer plates or a new lining?",
		Source:  "uniform wear (worn in) and uniform pressure (new), Shigley; oil that turns with the piston, from its pressure",
		Limits:  "static coefficient; the return springs closed; no wave plate; load from the unit sheet at full throttle",
		Inputs: []instrument.Input{
			instrument.NumberIn("pressure", "Pressure at the piston", quantity.Pressure, "psi", 0, 500).Preset("90 psi").ReadWithin(1).Takes("pressure-rise.full"),
			instrument.NumberIn("piston", "Effective area of the piston", quantity.Area, "cm²", 1, 2000).Preset("90 cm²").About(0.5),
			instrument.NumberIn("spring", "Force of the return springs, pack closed", quantity.Force, "N", 0, 50000).Preset("900 N").About(30),
			instrument.CountIn("lined", "Friction plates", 1, 20).Preset("4"),
			instrument.NumberIn("outer", "Lining, outer diameter", quantity.Length, "mm", 20, 600).Preset("140 mm").About(0.2),
			instrument.NumberIn("inner", "Lining, inner diameter", quantity.Length, "mm", 10, 590).Preset("112 mm").About(0.2),
			instrument.NumberIn("friction", "Static coefficient", quantity.Ratio, "", 0.02, 0.5).Preset("0.13").About(0.008),
			instrument.ChoiceIn("lining", "Lining", instrument.Option{ID: "worn-in", Title: "worn in"}, instrument.Option{ID: "new", Title: "new"}).Preset("worn-in"),
			instrument.NumberIn("load", "Torque that it must hold", quantity.Torque, "N·m", 0, 20000).Maybe(),
			instrument.NumberIn("speed", "Speed at which the piston turns", quantity.RotationalSpeed, "rpm", 0, 9000).Maybe().Explained("Adds the pressure of the oil that turns with it; leave it out for a brake or a balanced piston."),
			instrument.NumberIn("piston-outer", "Piston, outer diameter", quantity.Length, "mm", 10, 600).Maybe(),
			instrument.NumberIn("piston-inner", "Piston, inner diameter", quantity.Length, "mm", 0, 590).Maybe(),
			instrument.NumberIn("fed", "Diameter at which it is fed", quantity.Length, "mm", 0, 500).Maybe(),
		},
		PartsOn: instrument.Elements("plates"),
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			e, ok := instrument.SheetElement(d, u)
			if !ok {
				return nil
			}
			p := e.Plates
			d.In("piston").Default, d.In("spring").Default = p.Piston, p.Spring
			d.In("lined").Default, d.In("outer").Default, d.In("inner").Default = fmt.Sprint(p.Lined), p.Outer, p.Inner
			d.In("friction").Default = fmt.Sprint(p.Friction)
			d.Title = "Capacity: " + e.Name
			hardest(d, u, e.ID)
			d.Inputs = append(d.Inputs, instrument.NumberIn("throttle", "Throttle, for the ranges below", quantity.Ratio, "%", 0, 100).Preset("100 %"))
			tell := d.Interpret
			d.Interpret = func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
				tell(v, o, r)
				if f, ok := byRange(v, u, e); ok {
					r.Figures = append(r.Figures, f)
				}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if err := instrument.Lining(v); err != nil {
				return nil, err
			}
			c := packOf(v)
			force := v.N("pressure")*c.Piston - c.Spring
			extra := 0.0
			if v.Has("speed") {
				if !v.Has("piston-outer") || !v.Has("piston-inner") || v.N("piston-inner") >= v.N("piston-outer") {
					return nil, &instrument.InputError{Input: "piston-outer", Reason: "the diameters of the piston are needed for oil that turns with it", Accepted: "an outer and a smaller inner diameter"}
				}
				extra = friction.CentrifugalForce(820, v.N("speed"), v.N("piston-outer")/2, v.N("piston-inner")/2, v.N("fed")/2)
			}
			if force+extra <= 0 {
				return nil, &instrument.InputError{Input: "pressure", Reason: "under the return springs: the pack does not close", Accepted: "above " + v.Say(c.Touch(), quantity.Pressure, "psi")}
			}
			c.Spring -= extra
			hold := c.Capacity(v.N("pressure"))
			if v.Chosen("lining") == "new" {
				hold *= friction.NewLiningRadius(c.Outer, c.Inner) / ((c.Outer + c.Inner) / 2)
			}
			outs := []instrument.Output{instrument.Out("capacity", "torque that it holds", hold, quantity.Torque, "N·m"), instrument.Out("force", "force on the plates", force+extra, quantity.Force, "N"), instrument.Out("touch", "pressure at which it begins to hold", c.Touch(), quantity.Pressure, "psi")}
			if v.N("load") > 0 {
				outs = append(outs, instrument.Out("safety", "of what it must hold", hold/v.N("load"), quantity.Ratio, ""))
			}
			if extra > 0 {
				outs = append(outs, instrument.Out("turning", "force of the turning oil", extra, quantity.Force, "N"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = "It holds " + v.SayOutput(o[0]) + "."
			if v.N("load") > 0 {
				r.Headline += safety(v, o[0].Value, o[0].U, v.N("load"))
			}
			c := packOf(v)
			less := ""
			if n := v.Count("lined"); n > 1 {
				less = fmt.Sprintf("One friction plate fewer: %s. ", v.Say(o[0].Value*float64(n-1)/float64(n), quantity.Torque, "N·m"))
			}
			r.Detail = less + fmt.Sprintf("Each %s more at the piston brings %s.", v.Say(instrument.SI(1, quantity.Pressure, "psi"), quantity.Pressure, "psi"),
				v.Say(c.Mu*float64(c.Faces)*c.Piston*(c.Outer+c.Inner)/2*instrument.SI(1, quantity.Pressure, "psi"), quantity.Torque, "N·m"))
		},
	}
}

// hardest puts in pressure and load of the range in which an element is asked for most, full throttle at the low end of
// the pressure window.
func hardest(d *instrument.Definition, u *unitsheet.Unit, element string) {
	load, pressure := 0.0, 0.0
	for _, r := range u.Ranges {
		x := u.Load(r, element) * u.EngineTorque(r, 1)
		if x > 0 && unitsheet.Known(r.LineFull.Low) && (pressure == 0 || x/r.LineFull.Low.SI > load/pressure) {
			load, pressure = x, r.LineFull.Low.SI
		}
	}
	if pressure > 0 {
		d.In("pressure").PutSI(pressure)
		d.In("load").PutSI(math.Round(load))
	}
}

func packOf(v instrument.Values) friction.Plates {
	return friction.Plates{Faces: 2 * v.Count("lined"), Outer: v.N("outer") / 2, Inner: v.N("inner") / 2, Mu: v.N("friction"), Piston: v.N("piston"), Spring: v.N("spring")}
}

// safety says whether a capacity is enough.
func safety(v instrument.Values, hold, u, load float64) string {
	switch {
	case hold-2*u > load:
		return fmt.Sprintf(" That is %s times what is asked: it holds.", v.Num(hold/load, 2))
	case hold+2*u < load:
		return fmt.Sprintf(" That is %s times what is asked: it slips.", v.Num(hold/load, 2))
	}
	return fmt.Sprintf(" That is %s times what is asked: within the uncertainty of the values it may slip.", v.Num(hold/load, 2))
}

// byRange compares, in every range that uses an element, what it holds with what it must hold at a throttle.
func byRange(v instrument.Values, u *unitsheet.Unit, e unitsheet.ElementSheet) (instrument.Chart, bool) {
	throttle := v.N("throttle")
	f := instrument.Chart{Kind: "bars", Title: "In each range, at the low end of its pressure window", Y: instrument.Axis{Label: "torque", Dimension: quantity.Torque, Unit: "N·m"}, Words: "Capacity beside load, range by range, at " + v.Say(throttle, quantity.Ratio, "%") + " throttle."}
	c := packOf(v)
	for _, r := range u.Ranges {
		load := u.Load(r, e.ID) * u.EngineTorque(r, throttle)
		if load <= 0 || !unitsheet.Known(r.LineFull.Low) || !unitsheet.Known(r.LineIdle.Low) {
			continue
		}
		p := r.LineIdle.Low.SI + (r.LineFull.Low.SI-r.LineIdle.Low.SI)*throttle
		hold := c.Capacity(p)
		f.Bars = append(f.Bars, instrument.Bar{Label: r.ID, Value: hold, Need: load, Text: fmt.Sprintf("%s at %s, needs %s: %s", v.Say(hold, quantity.Torque, "N·m"), v.Say(p, quantity.Pressure, "psi"), v.Say(load, quantity.Torque, "N·m"), v.Num(hold/load, 2))})
	}
	return f, len(f.Bars) > 0
}

// BandCapacity is what a band holds.
func BandCapacity() instrument.Definition {
	return instrument.Definition{
		ID: "band-capacity", Title: "Capacity of a band with lever and servo", Group: "clutches", Hand: []string{"caliper", "pressure gauge"},
		Answers: "What torque does the band hold, and with another servo?",
		Source:  "rope (capstan) equation, Shigley", Limits: "static coefficient; band touches all round; the drum's reaction tightens the band unless said otherwise",
		Inputs: []instrument.Input{
			instrument.NumberIn("pressure", "Pressure at the servo", quantity.Pressure, "psi", 0, 500).Preset("90 psi").ReadWithin(1).Takes("pressure-rise.full"),
			instrument.NumberIn("servo", "Servo piston, effective area", quantity.Area, "cm²", 1, 500).Preset("40 cm²").About(0.3),
			instrument.NumberIn("spring", "Return spring with the band tight", quantity.Force, "N", 0, 20000).Preset("490 N").About(20),
			instrument.NumberIn("lever", "Lever: force at the band for each newton at the servo", quantity.Ratio, "", 0.2, 10).Preset("1.3").About(0.02),
			instrument.NumberIn("drum", "Drum diameter", quantity.Length, "mm", 40, 500).Preset("132 mm").About(0.2),
			instrument.NumberIn("wrap", "Angle of contact", quantity.Angle, "°", 60, 900).Preset("310 °").About(4).Explained("A double-wrap band counts both turns."),
			instrument.NumberIn("friction", "Static coefficient", quantity.Ratio, "", 0.02, 0.5).Preset("0.12").About(0.008),
			instrument.ChoiceIn("way", "The drum's reaction", instrument.Option{ID: "tightens", Title: "tightens the band"}, instrument.Option{ID: "eases", Title: "eases the band"}).Preset("tightens"),
			instrument.NumberIn("load", "Torque that it must hold", quantity.Torque, "N·m", 0, 20000).Maybe(),
			instrument.NumberIn("other", "Another servo, effective area", quantity.Area, "cm²", 1, 500).Maybe().Takes("servo:{part}.area"),
		},
		PartsOn: instrument.Elements("band"),
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			e, ok := instrument.SheetElement(d, u)
			if !ok {
				return nil
			}
			b := e.Band
			d.Title = "Capacity: " + e.Name
			d.In("servo").Default, d.In("spring").Default, d.In("drum").Default, d.In("wrap").Default = b.Servo, b.Spring, b.Drum, b.Wrap
			d.In("lever").Default, d.In("friction").Default = fmt.Sprint(b.Lever), fmt.Sprint(b.Friction)
			if b.Eases {
				d.In("way").Default = "eases"
			}
			hardest(d, u, e.ID)
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			b := friction.Band{Radius: v.N("drum") / 2, Wrap: v.N("wrap"), Mu: v.N("friction"), Servo: v.N("servo"), Lever: v.N("lever"), Spring: v.N("spring"), Eases: v.Chosen("way") == "eases"}
			if v.N("pressure") <= b.Touch() {
				return nil, &instrument.InputError{Input: "pressure", Reason: "under the return spring: the band does not tighten", Accepted: "above " + v.Say(b.Touch(), quantity.Pressure, "psi")}
			}
			outs := []instrument.Output{instrument.Out("capacity", "torque that it holds", b.Capacity(v.N("pressure")), quantity.Torque, "N·m"),
				instrument.Out("force", "force at the end of the band", (v.N("pressure")*b.Servo-b.Spring)*b.Lever, quantity.Force, "N"), instrument.Out("touch", "pressure at which it begins to hold", b.Touch(), quantity.Pressure, "psi")}
			b.Eases = !b.Eases
			outs = append(outs, instrument.Out("other-way", "turning the other way", b.Capacity(v.N("pressure")), quantity.Torque, "N·m"))
			if v.Has("other") {
				b.Eases, b.Servo = !b.Eases, v.N("other")
				outs = append(outs, instrument.Out("other", "with the other servo", b.Capacity(v.N("pressure")), quantity.Torque, "N·m"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = "It holds " + v.SayOutput(o[0]) + "."
			if v.N("load") > 0 {
				r.Headline += safety(v, o[0].Value, o[0].U, v.N("load"))
			}
			f := instrument.Chart{Kind: "bars", Title: "What it holds", Y: instrument.Axis{Label: "torque", Dimension: quantity.Torque, Unit: "N·m"}, Words: "Capacity this way, the other way, and with another servo.",
				Bars: []instrument.Bar{{Label: "this way", Value: o[0].Value, Need: v.N("load"), Text: v.SayOutput(o[0]), Emphasised: true}, {Label: "the other way", Value: o[3].Value, Text: v.SayOutput(o[3])}}}
			if len(o) > 4 {
				f.Bars = append(f.Bars, instrument.Bar{Label: "other servo", Value: o[4].Value, Need: v.N("load"), Text: v.SayOutput(o[4])})
			}
			r.Figures = []instrument.Chart{f}
		},
	}
}
