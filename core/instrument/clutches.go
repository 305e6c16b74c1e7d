package instrument

import (
	"fmt"
	"math"

	"innercompass/core/friction"
	"innercompass/core/hydraulics"
	"innercompass/core/measure"
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
			num("pressure", "Pressure at the piston", quantity.Pressure, "psi", 0, 500).preset("90 psi").read(1),
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
			tell := d.tell
			d.tell = func(v Values, o []Output, r *Result) {
				tell(v, o, r)
				if f, ok := byRange(v, u, e); ok {
					r.Figures = append(r.Figures, f)
				}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if v.N("inner") >= v.N("outer") {
				return nil, &InputError{"inner", "the lining's inner diameter is not under its outer one", "an inner diameter under the outer one"}
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
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = "It holds " + v.SayOutput(o[0]) + "."
			if v.N("load") > 0 {
				r.Headline += safety(o[0].Value, o[0].U, v.N("load"))
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
func safety(hold, u, load float64) string {
	switch {
	case hold-2*u > load:
		return fmt.Sprintf(" That is %.2f times what is asked: it holds.", hold/load)
	case hold+2*u < load:
		return fmt.Sprintf(" That is %.2f times what is asked: it slips.", hold/load)
	}
	return fmt.Sprintf(" That is %.2f times what is asked: within the uncertainty of the values it may slip.", hold/load)
}

// byRange compares, in every range that uses an element, what it holds with what it must hold at a throttle.
func byRange(v Values, u *unitsheet.Unit, e unitsheet.ElementSheet) (Figure, bool) {
	throttle := v.N("throttle")
	f := Figure{Kind: "bars", Title: "In each range, at the low end of its pressure window", Y: Axis{"torque", quantity.Torque, "N·m"}, Words: "Capacity beside load, range by range, at " + v.Say(throttle, quantity.Ratio, "%") + " throttle."}
	c := packOf(v)
	for _, r := range u.Ranges {
		load := u.Load(r, e.ID) * u.EngineTorque(r, throttle)
		if load <= 0 || !unitsheet.Known(r.LineFull.Low) || !unitsheet.Known(r.LineIdle.Low) {
			continue
		}
		p := r.LineIdle.Low.SI + (r.LineFull.Low.SI-r.LineIdle.Low.SI)*throttle
		hold := c.Capacity(p)
		f.Bars = append(f.Bars, Bar{Label: r.ID, Value: hold, Need: load, Text: fmt.Sprintf("%s at %s, needs %s: %.2f", v.Say(hold, quantity.Torque, "N·m"), v.Say(p, quantity.Pressure, "psi"), v.Say(load, quantity.Torque, "N·m"), hold/load)})
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
			num("pressure", "Pressure at the servo", quantity.Pressure, "psi", 0, 500).preset("90 psi").read(1),
			num("servo", "Servo piston, effective area", quantity.Area, "cm²", 1, 500).preset("40 cm²").about(0.3),
			num("spring", "Return spring with the band tight", quantity.Force, "N", 0, 20000).preset("490 N").about(20),
			num("lever", "Lever: force at the band for each newton at the servo", quantity.Ratio, "", 0.2, 10).preset("1.3").about(0.02),
			num("drum", "Drum diameter", quantity.Length, "mm", 40, 500).preset("132 mm").about(0.2),
			num("wrap", "Angle of contact", quantity.Angle, "°", 60, 900).preset("310 °").about(4).help("A double-wrap band counts both turns."),
			num("friction", "Static coefficient", quantity.Ratio, "", 0.02, 0.5).preset("0.12").about(0.008),
			choice("way", "The drum's reaction", Option{"tightens", "tightens the band"}, Option{"eases", "eases the band"}).preset("tightens"),
			num("load", "Torque that it must hold", quantity.Torque, "N·m", 0, 20000).optional(),
			num("other", "Another servo, effective area", quantity.Area, "cm²", 1, 500).optional(),
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
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = "It holds " + v.SayOutput(o[0]) + "."
			if v.N("load") > 0 {
				r.Headline += safety(o[0].Value, o[0].U, v.N("load"))
			}
			f := Figure{Kind: "bars", Title: "What it holds", Y: Axis{"torque", quantity.Torque, "N·m"}, Words: "Capacity this way, the other way, and with another servo.",
				Bars: []Bar{{Label: "this way", Value: o[0].Value, Need: v.N("load"), Text: v.SayOutput(o[0]), Emphasised: true}, {Label: "the other way", Value: o[3].Value, Text: v.SayOutput(o[3])}}}
			if len(o) > 4 {
				f.Bars = append(f.Bars, Bar{Label: "other servo", Value: o[4].Value, Need: v.N("load"), Text: v.SayOutput(o[4])})
			}
			r.Figures = []Figure{f}
		},
	}
}

// stackClearance is the room that a pack leaves.
func stackClearance() Definition {
	return Definition{
		ID: "stack-clearance", Title: "Clearance from the stack", Group: "clutches", Hand: []string{"caliper", "micrometer", "depth gauge"},
		Answers: "What clearance will these plates give, before the pack is put together?",
		Source:  "sum of the parts; uncertainties as root sum of squares (JCGM 100)", Limits: "plates dry and pressed together; a wave plate counts with its height when pressed",
		Gauge: "micrometer, 0.01 mm",
		Inputs: []Input{
			num("depth", "Piston face to snap ring", quantity.Length, "mm", 1, 300).read(0.03).preset("26.50 mm"),
			count("lined", "Lined plates", 1, 20).preset("4"),
			num("lined-thick", "Lined plate, thickness", quantity.Length, "mm", 0.3, 10).read(0.01).preset("2.00 mm"),
			count("steel", "Steel plates", 0, 20).preset("4"),
			num("steel-thick", "Steel plate, thickness", quantity.Length, "mm", 0.3, 15).read(0.01).preset("1.80 mm"),
			num("backing", "Backing plate", quantity.Length, "mm", 0, 30).read(0.01).preset("4.00 mm"),
			num("wave", "Wave or dished plate, pressed", quantity.Length, "mm", 0, 10).read(0.01).optional(),
			num("low", "Window, low end", quantity.Length, "mm", 0, 20).preset("1.2 mm"),
			num("high", "Window, high end", quantity.Length, "mm", 0, 20).preset("1.8 mm"),
		},
		parts: elements("plates"),
		fit: func(d *Definition, u *unitsheet.Unit) error {
			e, ok := sheetElement(d, u)
			if !ok {
				return nil
			}
			p := e.Plates
			d.Title = "Clearance from the stack: " + e.Name
			d.input("depth").Default, d.input("lined-thick").Default, d.input("steel-thick").Default, d.input("backing").Default = p.Depth, p.LinedThick, p.SteelThick, p.Backing
			d.input("lined").Default, d.input("steel").Default = fmt.Sprint(p.Lined), fmt.Sprint(p.Steel)
			if w := limitOf(u, "clearance-"+e.ID); w != nil {
				d.input("low").putSI(w.Low.SI)
				d.input("high").putSI(w.High.SI)
				d.States = []string{"clearance-" + e.ID}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if v.N("low") >= v.N("high") {
				return nil, &InputError{"high", "not above the low end", "a window with its high end above its low end"}
			}
			s := friction.Stack{Lined: v.Count("lined"), Steel: v.Count("steel"), LinedThick: v.N("lined-thick"), SteelThick: v.N("steel-thick"), Backing: v.N("backing") + v.N("wave"), Depth: v.N("depth")}
			c := s.Clearance()
			if c < 0 {
				return nil, &InputError{"depth", "the plates are " + v.Say(-c, quantity.Length, "mm") + " thicker than the room for them", "a deeper drum, or thinner or fewer plates"}
			}
			return []Output{out("clearance", "clearance", c, quantity.Length, "mm").within(v.N("low"), v.N("high")), out("each", "for each lined plate", c/float64(s.Lined), quantity.Length, "mm")}, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = verdict("The clearance, "+v.SayOutput(o[0])+",", o[0].Verdict)
			at := (o[0].Value - v.N("low")) / (v.N("high") - v.N("low"))
			r.Detail = fmt.Sprintf("%.0f %% of the way from the tight to the wide end; aim for the middle, not the ends.", 100*at)
			f := Figure{Kind: "stack", Title: "The pack in section", Words: "From the piston to the snap ring.", Y: Axis{"", quantity.Length, "mm"}}
			f.Layers = append(f.Layers, Layer{"room: " + v.SayOutput(o[0]), "room", o[0].Value})
			lined, steel := v.Count("lined"), v.Count("steel")
			for i := range max(lined, steel) {
				if i < steel {
					f.Layers = append(f.Layers, Layer{"", "steel", v.N("steel-thick")})
				}
				if i < lined {
					f.Layers = append(f.Layers, Layer{"", "lined", v.N("lined-thick")})
				}
			}
			if v.N("wave") > 0 {
				f.Layers = append(f.Layers, Layer{"wave plate", "plate", v.N("wave")})
			}
			f.Layers = append(f.Layers, Layer{"backing plate", "plate", v.N("backing")})
			r.Figures = []Figure{f}
			if v.typed["depth"] != "" && len(r.Outputs) > 0 {
				r.Points = []Point{{"depth", quantity.Quantity{SI: o[0].Value, Dimension: quantity.Length}, string(o[0].Verdict)}}
			}
		},
	}
}

// fillTime is how long a clutch takes to close.
func fillTime() Definition {
	return Definition{
		ID: "fill-time", Title: "Fill: clearance to volume to time", Group: "clutches", Hand: []string{"caliper", "paper"},
		Answers: "How much oil does the piston need before the plates touch, and how long does that take?",
		Source:  "volume = area × clearance; sharp-edged orifice (Merritt, recalled from memory)", Limits: "no air in the circuit; the pump keeps its pressure; one orifice decides the flow",
		Inputs: []Input{
			num("piston", "Effective area of the piston", quantity.Area, "cm²", 1, 2000).preset("90 cm²").about(0.5),
			num("clearance", "Clearance of the pack", quantity.Length, "mm", 0, 20).preset("1.5 mm").read(0.05),
			num("orifice", "Orifice of the feed, diameter", quantity.Length, "mm", 0.3, 15).preset("2.2 mm").about(0.05),
			num("pressure", "Pressure before it", quantity.Pressure, "psi", 1, 500).preset("80 psi").read(1),
			num("spring", "Return springs, mean force", quantity.Force, "N", 0, 50000).preset("700 N").about(30),
			num("density", "Oil density", quantity.Density, "kg/m³", 600, 1100).preset("820"),
			num("wider", "Another clearance to compare", quantity.Length, "mm", 0, 20).optional(),
		},
		parts: elements("plates"),
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if e, ok := sheetElement(d, u); ok {
				d.Title = "Fill: " + e.Name
				d.input("piston").Default, d.input("spring").Default = e.Plates.Piston, e.Plates.Spring
				if x, ok := u.Element(e.ID); ok && unitsheet.Known(x.Clear) {
					d.input("clearance").putSI(x.Clear.SI)
				}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			fill := func(clearance float64) (float64, float64, error) {
				return fillOf(v, clearance)
			}
			volume, time, err := fill(v.N("clearance"))
			if err != nil {
				return nil, impossible("pressure", err)
			}
			outs := []Output{out("time", "fill time", time, quantity.Time, "ms"), out("volume", "oil for the stroke", volume, quantity.Volume, "cc")}
			if v.Has("wider") {
				_, other, err := fill(v.N("wider"))
				if err != nil {
					return nil, impossible("wider", err)
				}
				outs = append(outs, out("other", "fill time with the other clearance", other, quantity.Time, "ms"))
			}
			return outs, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = "The plates touch after " + v.SayOutput(o[0]) + "."
			if len(o) > 2 {
				r.Detail = fmt.Sprintf("With the other clearance %+.0f ms: what adaptation has to make up for.", (o[2].Value-o[0].Value)*1e3)
			}
			f := Figure{Kind: "curve", Title: "Fill time against clearance", X: Axis{"clearance", quantity.Length, "mm"}, Y: Axis{"time", quantity.Time, "ms"}, Words: "Time rises in proportion to clearance."}
			s := Series{Name: "fill", Role: "main"}
			top := 1.8 * math.Max(v.N("clearance"), v.N("wider"))
			for i := range 11 {
				c := top * float64(i) / 10
				if _, t, err := fillOf(v, c); err == nil {
					s.Points = append(s.Points, [2]float64{c, t})
				}
			}
			f.Series, f.Marks = []Series{s}, []Mark{{v.N("clearance"), o[0].Value, "now"}}
			if len(o) > 2 {
				f.Marks = append(f.Marks, Mark{v.N("wider"), o[2].Value, "other"})
			}
			r.Figures = []Figure{f}
		},
	}
}

func fillOf(v Values, clearance float64) (volume, time float64, err error) {
	return hydraulics.FillTime(v.N("piston"), clearance, v.N("orifice"), v.N("pressure"), v.N("spring")/v.N("piston"), v.N("density"))
}

// engagement is the energy and heat of one shift.
func engagement() Definition {
	return Definition{
		ID: "shift-energy", Title: "Energy and plate temperature of one shift", Group: "clutches", Hand: []string{"scan tool", "paper"},
		Answers: "How hot do the plates get in one engagement, and what would a longer one do?",
		Source:  "constant clutch torque; heat into a plate (Carslaw and Jaeger, recalled from memory, checked by finite differences)",
		Limits:  "one engagement after a pause; oil takes no heat meanwhile; half of the heat goes into the steel unless said otherwise",
		Inputs: []Input{
			num("slip", "Slip at the beginning", quantity.RotationalSpeed, "rpm", 1, 9000).preset("1600 rpm").about(20),
			num("torque", "Torque of the clutch while it slips", quantity.Torque, "N·m", 1, 20000).preset("380 N·m").about(15),
			num("load", "Of which carries the load", quantity.Torque, "N·m", 0, 20000).preset("250 N·m").about(10),
			num("inertia", "Inertia that changes speed, at the clutch", quantity.Inertia, "kg·m²", 0.001, 50).preset("0.25 kg·m²").about(0.02),
			count("faces", "Faces that rub", 1, 40).preset("8"),
			num("outer", "Lining, outer diameter", quantity.Length, "mm", 20, 600).preset("140 mm"),
			num("inner", "Lining, inner diameter", quantity.Length, "mm", 10, 590).preset("112 mm"),
			num("steel", "Steel plate, thickness", quantity.Length, "mm", 0.3, 30).preset("1.8 mm"),
			num("share", "Part of the heat that goes into the steel", quantity.Ratio, "%", 10, 100).preset("50 %"),
			num("oil", "Oil temperature", quantity.Temperature, "°C", -40, 200).preset("90 °C"),
		},
		parts: elements("plates"),
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if e, ok := sheetElement(d, u); ok {
				d.Title = "Shift energy: " + e.Name
				d.input("outer").Default, d.input("inner").Default, d.input("faces").Default = e.Plates.Outer, e.Plates.Inner, fmt.Sprint(2*e.Plates.Lined)
				if e.Plates.SteelThick != "" {
					d.input("steel").Default = e.Plates.SteelThick
				}
				if x, ok := u.Element(e.ID); ok && unitsheet.Known(x.Capacity) {
					d.input("torque").putSI(math.Round(0.8 * x.Capacity.SI))
					d.input("load").putSI(math.Round(0.5 * x.Capacity.SI))
				}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			s, err := slipOf(v)
			if err != nil {
				return nil, err
			}
			surface, _ := friction.PlatePeak(s.Flux, s.Time, v.N("share"), v.N("steel")/2)
			bulk, err := friction.BulkRise(s.Energy*v.N("share"), s.Peak/s.Flux, v.N("steel")/2)
			if err != nil {
				return nil, impossible("steel", err)
			}
			return []Output{out("peak", "hottest at the surface", v.N("oil")+surface, quantity.Temperature, "°C"), out("energy", "energy turned into heat", s.Energy, quantity.Energy, "kJ"),
				out("time", "time of slip", s.Time, quantity.Time, "s"), out("bulk", "plates after it", v.N("oil")+bulk, quantity.Temperature, "°C"), out("power", "power at the beginning", s.Peak, quantity.Power, "kW")}, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = fmt.Sprintf("The face reaches %s; the plates are left at %s.", v.SayOutput(o[0]), v.Say(o[3].Value, quantity.Temperature, "°C"))
			switch hot := o[0].Value - 273.15; {
			case hot > 400:
				r.Detail = "Paper lining chars and steel spots blue at such temperatures."
			case hot > 250:
				r.Detail = "Hot for paper lining when it happens often."
			default:
				r.Detail = "Paper lining bears that."
			}
			s, err := slipOf(v)
			if err != nil {
				return // impossible: computed before
			}
			_, at := friction.PlatePeak(s.Flux, s.Time, v.N("share"), v.N("steel")/2)
			line := Series{Name: "surface", Role: "main"}
			for i := range 41 {
				t := s.Time * float64(i) / 40
				line.Points = append(line.Points, [2]float64{t, v.N("oil") + friction.PlateRise(s.Flux, s.Time, v.N("share"), v.N("steel")/2, t)})
			}
			r.Figures = []Figure{{Kind: "curve", Title: "Surface while it slips", X: Axis{"time", quantity.Time, "s"}, Y: Axis{"steel surface", quantity.Temperature, "°C"}, Words: "The face is hottest before the slip ends; a thin plate warms through meanwhile.",
				Series: []Series{line}, Marks: []Mark{{at, o[0].Value, "hottest"}}}}
		},
	}
}

func slipOf(v Values) (friction.Slip, error) {
	if v.N("inner") >= v.N("outer") {
		return friction.Slip{}, &InputError{"inner", "the lining's inner diameter is not under its outer one", "an inner diameter under the outer one"}
	}
	area := float64(v.Count("faces")) * math.Pi / 4 * (v.N("outer")*v.N("outer") - v.N("inner")*v.N("inner"))
	s, err := friction.Engage(v.N("slip"), v.N("torque"), v.N("load"), v.N("inertia"), area)
	if err != nil {
		return s, impossible("torque", err)
	}
	return s, nil
}

// airCheck reads what a clutch circuit holds when air is put to it.
func airCheck() Definition {
	return Definition{
		ID: "air-check", Title: "Air held by a clutch circuit", Group: "clutches", Hand: []string{"air regulator", "pressure gauge"},
		Answers: "Does the circuit hold, and is it better or worse than its neighbours?",
		Source:  "ISO 14253-1 for the window; flow of free air by the gas law; what is usual is common practice, no source",
		Limits:  "same supply, same gauge, same adapter for all circuits; a piston is heard to move",
		Gauge:   "pressure gauge, 0.05 bar", Cautions: []string{cautionAir},
		Inputs: []Input{
			num("supply", "Supply", quantity.Pressure, "bar", 0.5, 7).preset("3.5 bar").read(0.05),
			num("held", "Held behind the restriction", quantity.Pressure, "bar", 0, 7).read(0.05).like("3.1"),
			num("low", "Least that is good", quantity.Pressure, "bar", 0, 7).preset("2.6 bar"),
			choice("heard", "Air is heard", Option{"nowhere", "nowhere"}, Option{"piston", "at the piston"}, Option{"rings", "along the shaft"}, Option{"nothing", "nothing moves"}).preset("nowhere"),
			list("others", "Held by the other circuits", quantity.Pressure, "bar", 0, 7).optional(),
		},
		parts: func(u *unitsheet.Unit) []Option {
			return append(elements("plates")(u), elements("band")(u)...)
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if e, ok := sheetElement(d, u); ok {
				d.Title, d.States = "Air held: "+e.Name, []string{"air-check." + e.ID}
			}
			if w := limitOf(u, "leak-hold"); w != nil {
				d.input("low").putSI(w.Low.SI)
				d.input("supply").putSI(w.High.SI)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if v.N("held") > v.N("supply")*1.02 {
				return nil, &InputError{"held", "more than the supply", "up to " + v.Say(v.N("supply"), quantity.Pressure, "bar")}
			}
			if v.N("low") >= v.N("supply") {
				return nil, &InputError{"low", "not under the supply", "less than the supply"}
			}
			return []Output{out("held", "held", v.N("held"), quantity.Pressure, "bar").within(v.N("low"), v.N("supply")*1.02), out("lost", "lost", 1-v.N("held")/v.N("supply"), quantity.Ratio, "%")}, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = verdict("What it holds, "+v.SayOutput(o[0])+",", o[0].Verdict)
			bars := Figure{Kind: "bars", Title: "Beside the other circuits", Y: Axis{"held", quantity.Pressure, "bar"}, Words: "Pressure held by this circuit and the others.",
				Bars: []Bar{{Label: "this", Value: o[0].Value, Low: v.N("low"), High: v.N("supply"), Text: v.SayOutput(o[0]), Emphasised: true}}}
			for i, x := range v.List("others") {
				bars.Bars = append(bars.Bars, Bar{Label: fmt.Sprint(i + 1), Value: x, Low: v.N("low"), High: v.N("supply"), Text: v.Say(x, quantity.Pressure, "bar")})
			}
			r.Figures = []Figure{bars}
			c := o[0].likelihoods("holds", "leaks", "over")
			holds := c["holds"] + c["over"]
			// What leaks is told by ear: right four times in five, common practice, no source.
			l := map[string]float64{"holds": holds}
			for _, where := range []string{"piston", "rings", "nothing"} {
				switch v.Chosen("heard") {
				case "nowhere":
					l[where] = (1 - holds) / 3
				case where:
					l[where] = (1 - holds) * 0.8
				default:
					l[where] = (1 - holds) * 0.1
				}
			}
			for _, f := range v.states {
				r.Stated = append(r.Stated, Stated{Finding: f, State: likeliest([]string{"holds", "piston", "rings", "nothing"}, l), Likelihood: soften(l), Value: v.SayOutput(o[0])})
			}
		},
	}
}

// dryClutch is a clamped single plate with or without centrifugal weights.
func dryClutch() Definition {
	return Definition{
		ID: "dry-clutch", Title: "Dry clutch: capacity and weights", Group: "clutches", Hand: []string{"caliper", "scales"},
		Answers: "What does the clutch hold, and what is lost when the weights come off?",
		Source:  "uniform wear; centrifugal force m·r·ω² over the levers", Limits: "clamp load with this disc at this wear; static coefficient, dry and clean",
		Inputs: []Input{
			num("clamp", "Clamp load of the cover", quantity.Force, "N", 100, 60000).preset("7500 N").about(300),
			num("outer", "Lining, outer diameter", quantity.Length, "mm", 100, 500).preset("240 mm").about(0.5),
			num("inner", "Lining, inner diameter", quantity.Length, "mm", 50, 450).preset("155 mm").about(0.5),
			num("friction", "Friction coefficient", quantity.Ratio, "", 0.05, 0.6).preset("0.27").about(0.02),
			num("torque", "Engine torque that it must hold", quantity.Torque, "N·m", 1, 5000).preset("280 N·m"),
			count("weights", "Centrifugal weights", 0, 24).preset("0"),
			num("mass", "Mass of one", quantity.Mass, "g", 0, 500).preset("30 g"),
			num("at", "Diameter of the circle they sit on", quantity.Length, "mm", 10, 500).preset("200 mm"),
			num("lever", "Clamp for each newton that a weight pulls with", quantity.Ratio, "", 0, 10).preset("0.5"),
			num("speed", "Engine speed to look at", quantity.RotationalSpeed, "rpm", 0, 10000).preset("5000 rpm"),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.MaxTorque) {
				d.input("torque").put(u.MaxTorque)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if v.N("inner") >= v.N("outer") {
				return nil, &InputError{"inner", "the lining's inner diameter is not under its outer one", "an inner diameter under the outer one"}
			}
			c := dryOf(v)
			with, without := c, c
			without.Weights = 0
			lost := 1 - without.ClampAt(v.N("speed"))/with.ClampAt(v.N("speed"))
			return []Output{out("capacity", "torque that it holds standing still", c.Capacity(0), quantity.Torque, "N·m"), out("safety", "of the engine's torque", c.Capacity(0)/v.N("torque"), quantity.Ratio, ""),
				out("at-speed", "at the speed, with weights", with.Capacity(v.N("speed")), quantity.Torque, "N·m"), out("lost", "clamp lost there without them", lost, quantity.Ratio, "%")}, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			r.Headline = "It holds " + v.SayOutput(o[0]) + "." + safety(o[0].Value, o[0].U, v.N("torque"))
			if v.Count("weights") > 0 {
				r.Detail = fmt.Sprintf("At %s the weights bring %s of the clamp. Practitioners differ on taking hanging weights off: measure imbalance and what is left first.", v.Say(v.N("speed"), quantity.RotationalSpeed, "rpm"), v.Say(o[3].Value, quantity.Ratio, "%"))
			}
			c := dryOf(v)
			with, without, need := Series{Name: "with weights", Role: "main"}, Series{Name: "without", Role: "other"}, Series{Name: "engine", Role: "limit"}
			top := math.Max(v.N("speed"), si(1000, quantity.RotationalSpeed, "rpm"))
			for i := range 21 {
				w := top * float64(i) / 20
				with.Points = append(with.Points, [2]float64{w, c.Capacity(w)})
				without.Points = append(without.Points, [2]float64{w, c.Capacity(0)})
				need.Points = append(need.Points, [2]float64{w, v.N("torque")})
			}
			r.Figures = []Figure{{Kind: "curve", Title: "Capacity over engine speed", X: Axis{"engine speed", quantity.RotationalSpeed, "rpm"}, Y: Axis{"torque", quantity.Torque, "N·m"}, Words: "Weights add with the square of speed.", Series: []Series{with, without, need}}}
		},
	}
}

func dryOf(v Values) friction.DryClutch {
	return friction.DryClutch{Clamp: v.N("clamp"), Mu: v.N("friction"), Outer: v.N("outer") / 2, Inner: v.N("inner") / 2, Weights: v.Count("weights"), Mass: v.N("mass"), At: v.N("at") / 2, Lever: v.N("lever")}
}

// releaseTravel follows pedal travel to the release bearing.
func releaseTravel() Definition {
	return Definition{
		ID: "release-travel", Title: "Release travel of a hydraulic clutch", Group: "clutches", Hand: []string{"rule", "caliper"},
		Answers: "Does the pedal bring enough travel to the release bearing, and what do air or wear take?",
		Source:  "volume is kept between the cylinders; levers", Limits: "hoses stiff; loss measured or guessed",
		Gauge: "rule, 1 mm", States: []string{"release-travel"},
		Inputs: []Input{
			num("pedal", "Pedal travel", quantity.Length, "mm", 0, 400).preset("140 mm").read(1.5),
			num("free", "Free travel at the pedal", quantity.Length, "mm", 0, 100).preset("8 mm").read(1.5),
			num("pedal-lever", "Pedal lever", quantity.Ratio, "", 1, 15).preset("5.2"),
			num("master", "Master cylinder", quantity.Length, "mm", 5, 60).preset("19.05 mm"),
			num("slave", "Slave cylinder", quantity.Length, "mm", 5, 80).preset("22.2 mm"),
			num("lost", "Taken up by air, hoses, seals", quantity.Volume, "cc", 0, 20).preset("0.3 cc").about(0.1),
			num("lever", "Release lever", quantity.Ratio, "", 0.5, 5).preset("1.6"),
			num("needed", "Travel needed at the bearing", quantity.Length, "mm", 1, 40).preset("8 mm"),
			num("read", "Travel read at the slave", quantity.Length, "mm", 0, 80).optional().read(0.5),
		},
		compute: func(v Values) ([]Output, error) {
			x, err := friction.ReleaseTravel(v.N("pedal"), v.N("free"), v.N("pedal-lever"), v.N("master"), v.N("slave"), v.N("lost"), v.N("lever"))
			if err != nil {
				return nil, impossible("pedal", err)
			}
			outs := []Output{out("bearing", "travel at the bearing", x.Bearing, quantity.Length, "mm"), out("slave", "travel of the slave", x.Slave, quantity.Length, "mm"), out("spare", "to spare", x.Bearing-v.N("needed"), quantity.Length, "mm")}
			if v.Has("read") {
				area := math.Pi / 4 * v.N("slave") * v.N("slave")
				outs = append(outs, out("missing", "oil that does not arrive", (x.Slave-v.N("read"))*area, quantity.Volume, "cc"))
			}
			return outs, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			enough := o[2].Value >= 0
			r.Headline = map[bool]string{true: "Enough: ", false: "Too little: "}[enough] + v.SayOutput(o[0]) + " at the bearing, " + v.Say(v.N("needed"), quantity.Length, "mm") + " needed."
			if len(o) > 3 && o[3].Value > 0.2e-6 {
				r.Detail = "At the slave " + v.Say(o[3].Value, quantity.Volume, "cc") + " more are missing than were allowed for: air, a swelling hose or a cup that passes."
			}
			p := 0.5 * math.Erfc(-o[2].Value/math.Max(o[2].U, 1e-5)/math.Sqrt2)
			l := map[string]float64{"full": p, "short": 1 - p}
			r.Stated = []Stated{{Finding: "release-travel", State: likeliest([]string{"full", "short"}, l), Likelihood: soften(l), Value: v.SayOutput(o[0])}}
			r.Figures = []Figure{{Kind: "bars", Title: "Travel along the way", Y: Axis{"travel", quantity.Length, "mm"}, Words: "Pedal, slave and bearing.",
				Bars: []Bar{{Label: "pedal", Value: v.N("pedal"), Text: v.Say(v.N("pedal"), quantity.Length, "mm")}, {Label: "slave", Value: o[1].Value, Text: v.SayOutput(o[1])}, {Label: "bearing", Value: o[0].Value, Need: v.N("needed"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}

// flywheelPlay reads free turning of a dual-mass flywheel and compares masses for a swap.
func flywheelPlay() Definition {
	return Definition{
		ID: "flywheel", Title: "Flywheel: free turning, and another mass", Group: "clutches", Hand: []string{"angle gauge", "scales"},
		Answers: "Are the springs of a dual-mass flywheel still good, and may another flywheel take its place?",
		Source:  "common practice, no source: about 8 to 9° of free turning at most unless the sheet says otherwise; masses within some 10 % are near enough",
		Limits:  "turned by hand to the first resistance each way; inertia compared at the same diameter",
		Gauge:   "angle gauge, 0.5°", Cautions: []string{"Flywheels are heavy: two hands, never under it."}, States: []string{"flywheel-hand"},
		Inputs: []Input{
			num("left", "Free turning one way", quantity.Angle, "°", 0, 90).read(0.5).like("6"),
			num("right", "and the other way", quantity.Angle, "°", 0, 90).preset("0 °").read(0.5).help("0 when the whole was measured one way."),
			num("most", "Most that is allowed", quantity.Angle, "°", 1, 90).preset("9 °"),
			num("mass", "Mass of this flywheel", quantity.Mass, "kg", 0.5, 200).optional().about(0.05),
			num("other", "Mass of the other", quantity.Mass, "kg", 0.5, 200).optional().about(0.05),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if w := limitOf(u, "flywheel-free"); w != nil {
				d.input("most").putSI(w.High.SI)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			outs := []Output{out("free", "free turning", v.N("left")+v.N("right"), quantity.Angle, "°").within(0, v.N("most"))}
			if v.Has("mass") && v.Has("other") {
				outs = append(outs, out("mass", "the other over this one", v.N("other")/v.N("mass"), quantity.Ratio, "%"))
			}
			return outs, nil
		},
		tell: func(v Values, o []Output, r *Result) {
			switch o[0].Verdict {
			case measure.Above:
				r.Headline = v.SayOutput(o[0]) + ": more than allowed; springs broken or worn."
			case measure.CannotTell:
				r.Headline = v.SayOutput(o[0]) + ": too near the limit for this gauge to tell."
			default:
				r.Headline = v.SayOutput(o[0]) + " of free turning: in order."
			}
			if len(o) > 1 {
				near := math.Abs(o[1].Value-1) <= 0.1
				r.Detail = map[bool]string{true: "The masses are near enough to swap; balance and bolt length are another matter.", false: "The masses differ too much: idle, vibration and shift feel would change."}[near]
			}
			// A window that begins at nothing has no low end to fall under.
			c := o[0].likelihoods("firm", "under", "loose")
			l := map[string]float64{"firm": c["firm"] + c["under"], "loose": c["loose"]}
			r.Stated = []Stated{{Finding: "flywheel-hand", State: likeliest([]string{"firm", "loose"}, l), Likelihood: soften(l), Value: v.SayOutput(o[0])}}
		},
	}
}
