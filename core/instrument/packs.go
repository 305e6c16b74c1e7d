package instrument

import (
	"fmt"
	"math"

	"innercompass/core/friction"
	"innercompass/core/hydraulics"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

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
			if err := ordered(v, "low", "high"); err != nil {
				return nil, err
			}
			s := friction.Stack{Lined: v.Count("lined"), Steel: v.Count("steel"), LinedThick: v.N("lined-thick"), SteelThick: v.N("steel-thick"), Backing: v.N("backing") + v.N("wave"), Depth: v.N("depth")}
			c := s.Clearance()
			if c < 0 {
				return nil, &InputError{"depth", "the plates are " + v.Say(-c, quantity.Length, "mm") + " thicker than the room for them", "a deeper drum, or thinner or fewer plates"}
			}
			return []Output{out("clearance", "clearance", c, quantity.Length, "mm").within(v.N("low"), v.N("high")), out("each", "for each lined plate", c/float64(s.Lined), quantity.Length, "mm")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = verdict("The clearance, "+v.SayOutput(o[0])+",", o[0].Verdict)
			at := (o[0].Value - v.N("low")) / (v.N("high") - v.N("low"))
			r.Detail = fmt.Sprintf("%.0f %% of the way from the tight to the wide end; aim for the middle, not the ends.", 100*at)
			f := Chart{Kind: "stack", Title: "The pack in section", Words: "From the piston to the snap ring.", Y: Axis{"", quantity.Length, "mm"}}
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
			r.Figures = []Chart{f}
			l := o[0].likelihoods("ok", "below", "above")
			for _, f := range v.states {
				r.Stated = append(r.Stated, stated(f, []string{"ok", "below", "above"}, l, v.SayOutput(o[0])))
			}
		},
	}
}

// fillTime is how long a clutch takes to close.
func fillTime() Definition {
	return Definition{
		ID: "fill-time", Title: "Fill: clearance to volume to time", Group: "clutches", Hand: []string{"caliper", "paper"},
		Answers: "How much oil does the piston need before the plates touch, and how long does that take?",
		Source:  "volume = area × clearance; sharp-edged orifice (Merritt, recalled from memory); two fifths longer is clear in a recording (common practice, no source)", Limits: "no air in the circuit; the pump keeps its pressure; one orifice decides the flow",
		Inputs: []Input{
			num("piston", "Effective area of the piston", quantity.Area, "cm²", 1, 2000).preset("90 cm²").about(0.5),
			num("clearance", "Clearance of the pack", quantity.Length, "mm", 0, 20).preset("1.5 mm").about(0.05).from("window:clearance-{part}.value", "stack-clearance:{part}.clearance", "selective-fit:{part}.room"),
			num("orifice", "Orifice of the feed, diameter", quantity.Length, "mm", 0.3, 15).preset("2.2 mm").about(0.05),
			num("pressure", "Pressure before it", quantity.Pressure, "psi", 1, 500).preset("80 psi").about(1),
			num("spring", "Return springs, mean force", quantity.Force, "N", 0, 50000).preset("700 N").about(30),
			num("density", "Oil density", quantity.Density, "kg/m³", 600, 1100).preset("820"),
			num("wider", "Another clearance to compare", quantity.Length, "mm", 0, 20).optional(),
			num("read", "Fill time from a recording", quantity.Time, "ms", 0, 5000).optional().about(10).like("150 ms"),
			num("usual", "Usual there: an earlier recording, or the sheet", quantity.Time, "ms", 1, 5000).optional().about(10).help("Left out, what is computed counts, a fifth uncertain for its orifice."),
		},
		parts: elements("plates"),
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if e, ok := sheetElement(d, u); ok {
				d.Title, d.States = "Fill: "+e.Name, []string{"fill-time." + e.ID}
				d.input("piston").Default, d.input("spring").Default = e.Plates.Piston, e.Plates.Spring
				if x, ok := u.Element(e.ID); ok && unitsheet.Known(x.Clear) {
					d.input("clearance").putSI(x.Clear.SI)
				}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			volume, time, err := fillOf(v, v.N("clearance"))
			if err != nil {
				return nil, impossible("pressure", err)
			}
			outs := []Output{out("time", "fill time", time, quantity.Time, "ms"), out("volume", "oil for the stroke", volume, quantity.Volume, "cc")}
			if v.Has("wider") {
				_, other, err := fillOf(v, v.N("wider"))
				if err != nil {
					return nil, impossible("wider", err)
				}
				outs = append(outs, out("other", "fill time with the other clearance", other, quantity.Time, "ms"))
			}
			if v.Has("read") {
				usual := time
				if v.Has("usual") {
					usual = v.N("usual")
				}
				outs = append(outs, out("longer", "read over usual", v.N("read")/usual, quantity.Ratio, "%").atMost(1.4))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = "The plates touch after " + v.SayOutput(o[0]) + "."
			if v.Has("wider") {
				r.Detail = fmt.Sprintf("With the other clearance %+.0f ms: what adaptation has to make up for.", (o[2].Value-o[0].Value)*1e3)
			}
			if last := len(o) - 1; o[last].ID == "longer" {
				longer := &r.Outputs[last]
				if !v.Has("usual") {
					longer.U = math.Hypot(longer.U, 0.1*longer.Value)
				}
				if c, err := longer.compare(); err == nil {
					longer.Verdict = c.Verdict
					l := map[string]float64{"usual": 1 - c.Above, "long": c.Above}
					for _, f := range v.states {
						r.Stated = append(r.Stated, stated(f, []string{"usual", "long"}, l, v.Say(v.N("read"), quantity.Time, "ms")))
					}
					r.Headline = map[bool]string{true: "Clearly longer than usual: much clearance, a leak, or low pressure.", false: "Not clearly longer than usual."}[c.Above > 0.5] + " " + r.Headline
				}
			}
			f := Chart{Kind: "curve", Title: "Fill time against clearance", X: Axis{"clearance", quantity.Length, "mm"}, Y: Axis{"time", quantity.Time, "ms"}, Words: "Time rises in proportion to clearance."}
			s := Series{Name: "fill", Role: "main"}
			top := 1.8 * math.Max(v.N("clearance"), v.N("wider"))
			for i := range 11 {
				c := top * float64(i) / 10
				if _, t, err := fillOf(v, c); err == nil {
					s.Points = append(s.Points, [2]float64{c, t})
				}
			}
			f.Series, f.Marks = []Series{s}, []Mark{{v.N("clearance"), o[0].Value, "now"}}
			if v.Has("wider") {
				f.Marks = append(f.Marks, Mark{v.N("wider"), o[2].Value, "other"})
			}
			r.Figures = []Chart{f}
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
			num("torque", "Torque of the clutch while it slips", quantity.Torque, "N·m", 1, 20000).preset("380 N·m").about(15).from("plate-capacity:{part}.capacity"),
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
		interpret: func(v Values, o []Output, r *Result) {
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
			r.Figures = []Chart{{Kind: "curve", Title: "Surface while it slips", X: Axis{"time", quantity.Time, "s"}, Y: Axis{"steel surface", quantity.Temperature, "°C"}, Words: "The face is hottest before the slip ends; a thin plate warms through meanwhile.",
				Series: []Series{line}, Marks: []Mark{{at, o[0].Value, "hottest"}}}}
		},
	}
}

func slipOf(v Values) (friction.Slip, error) {
	if err := lining(v); err != nil {
		return friction.Slip{}, err
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
			return []Output{out("held", "held", v.N("held"), quantity.Pressure, "bar").atLeast(v.N("low"), v.N("supply")), out("lost", "lost", 1-v.N("held")/v.N("supply"), quantity.Ratio, "%")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = verdict("What it holds, "+v.SayOutput(o[0])+",", o[0].Verdict)
			bars := Chart{Kind: "bars", Title: "Beside the other circuits", Y: Axis{"held", quantity.Pressure, "bar"}, Words: "Pressure held by this circuit and the others.",
				Bars: []Bar{{Label: "this", Value: o[0].Value, Low: v.N("low"), High: v.N("supply"), Text: v.SayOutput(o[0]), Emphasised: true}}}
			for i, x := range v.List("others") {
				bars.Bars = append(bars.Bars, Bar{Label: fmt.Sprint(i + 1), Value: x, Low: v.N("low"), High: v.N("supply"), Text: v.Say(x, quantity.Pressure, "bar")})
			}
			r.Figures = []Chart{bars}
			holds := o[0].likelihoods("holds", "leaks", "over")["holds"]
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
				r.Stated = append(r.Stated, stated(f, []string{"holds", "piston", "rings", "nothing"}, l, v.SayOutput(o[0])))
			}
		},
	}
}
