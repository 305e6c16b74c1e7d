package clutches

import (
	"fmt"
	"math"

	"innercompass/core/friction"
	"innercompass/core/hydraulics"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// StackClearance is the room that a pack leaves.
func StackClearance() instrument.Definition {
	return instrument.Definition{
		ID: "stack-clearance", Title: "Clearance from the stack", Group: "clutches", Hand: []string{"caliper", "micrometer", "depth gauge"},
		Answers: "What clearance will these plates give, before the pack is put together?",
		Source:  "sum of the parts; uncertainties as root sum of squares (JCGM 100)", Limits: "plates dry and pressed together; a wave plate counts with its height when pressed",
		Gauge: "micrometer, 0.01 mm",
		Inputs: []instrument.Input{
			instrument.NumberIn("depth", "Piston face to snap ring", quantity.Length, "mm", 1, 300).ReadWithin(0.03).Preset("26.50 mm"),
			instrument.CountIn("lined", "Friction plates", 1, 20).Preset("4"),
			instrument.NumberIn("lined-thick", "Friction plate, thickness", quantity.Length, "mm", 0.3, 10).ReadWithin(0.01).Preset("2.00 mm"),
			instrument.CountIn("steel", "Steel plates", 0, 20).Preset("4"),
			instrument.NumberIn("steel-thick", "Steel plate, thickness", quantity.Length, "mm", 0.3, 15).ReadWithin(0.01).Preset("1.80 mm"),
			instrument.NumberIn("backing", "Backing plate", quantity.Length, "mm", 0, 30).ReadWithin(0.01).Preset("4.00 mm"),
			instrument.NumberIn("wave", "Wave or dished plate, pressed", quantity.Length, "mm", 0, 10).ReadWithin(0.01).Maybe(),
			instrument.NumberIn("low", "Window, low end", quantity.Length, "mm", 0, 20).Preset("1.2 mm"),
			instrument.NumberIn("high", "Window, high end", quantity.Length, "mm", 0, 20).Preset("1.8 mm"),
		},
		PartsOn: instrument.Elements("plates"),
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			e, ok := instrument.SheetElement(d, u)
			if !ok {
				return nil
			}
			p := e.Plates
			d.Title = "Clearance from the stack: " + e.Name
			d.In("depth").Default, d.In("lined-thick").Default, d.In("steel-thick").Default, d.In("backing").Default = p.Depth, p.LinedThick, p.SteelThick, p.Backing
			d.In("lined").Default, d.In("steel").Default = fmt.Sprint(p.Lined), fmt.Sprint(p.Steel)
			if w := instrument.LimitOf(u, "clearance-"+e.ID); w != nil {
				d.In("low").PutSI(w.Low.SI)
				d.In("high").PutSI(w.High.SI)
				d.States = []string{"clearance-" + e.ID}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if err := instrument.Ordered(v, "low", "high"); err != nil {
				return nil, err
			}
			s := friction.Stack{Lined: v.Count("lined"), Steel: v.Count("steel"), LinedThick: v.N("lined-thick"), SteelThick: v.N("steel-thick"), Backing: v.N("backing") + v.N("wave"), Depth: v.N("depth")}
			c := s.Clearance()
			if c < 0 {
				return nil, &instrument.InputError{Input: "depth", Reason: "the plates are " + v.Say(-c, quantity.Length, "mm") + " thicker than the room for them", Accepted: "a deeper drum, or thinner or fewer plates"}
			}
			return []instrument.Output{instrument.Out("clearance", "clearance", c, quantity.Length, "mm").Within(v.N("low"), v.N("high")), instrument.Out("each", "for each friction plate", c/float64(s.Lined), quantity.Length, "mm")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = instrument.VerdictWords("The clearance, "+v.SayOutput(o[0])+",", o[0].Verdict)
			at := (o[0].Value - v.N("low")) / (v.N("high") - v.N("low"))
			r.Detail = fmt.Sprintf("%.0f %% of the way from the tight to the wide end; aim for the middle, not the ends.", 100*at)
			f := instrument.Chart{Kind: "stack", Title: "The pack in section", Words: "From the piston to the snap ring.", Y: instrument.Axis{Label: "", Dimension: quantity.Length, Unit: "mm"}}
			f.Layers = append(f.Layers, instrument.Layer{Label: "room: " + v.SayOutput(o[0]), Kind: "room", Size: o[0].Value})
			lined, steel := v.Count("lined"), v.Count("steel")
			for i := range max(lined, steel) {
				if i < steel {
					f.Layers = append(f.Layers, instrument.Layer{Label: "", Kind: "steel", Size: v.N("steel-thick")})
				}
				if i < lined {
					f.Layers = append(f.Layers, instrument.Layer{Label: "", Kind: "lined", Size: v.N("lined-thick")})
				}
			}
			if v.N("wave") > 0 {
				f.Layers = append(f.Layers, instrument.Layer{Label: "wave plate", Kind: "plate", Size: v.N("wave")})
			}
			f.Layers = append(f.Layers, instrument.Layer{Label: "backing plate", Kind: "plate", Size: v.N("backing")})
			r.Figures = []instrument.Chart{f}
			l := o[0].Likelihoods("ok", "below", "above")
			for _, f := range v.States {
				r.Stated = append(r.Stated, instrument.Derive(f, []string{"ok", "below", "above"}, l, v.SayOutput(o[0])))
			}
		},
	}
}

// FillTime is how long a clutch takes to close.
func FillTime() instrument.Definition {
	return instrument.Definition{
		ID: "fill-time", Title: "Fill: clearance to volume to time", Group: "clutches", Hand: []string{"caliper", "paper"},
		Answers: "How much oil does the piston need before the plates touch, and how long does that take?",
		Source:  "volume = area × clearance; sharp-edged orifice (Merritt, recalled from memory); two fifths longer is clear in a recording (common practice, no source)", Limits: "no air in the circuit; the pump keeps its pressure; one orifice decides the flow",
		Inputs: []instrument.Input{
			instrument.NumberIn("piston", "Effective area of the piston", quantity.Area, "cm²", 1, 2000).Preset("90 cm²").About(0.5),
			instrument.NumberIn("clearance", "Clearance of the pack", quantity.Length, "mm", 0, 20).Preset("1.5 mm").About(0.05).Takes("window:clearance-{part}.value", "stack-clearance:{part}.clearance", "selective-fit:{part}.room"),
			instrument.NumberIn("orifice", "Orifice of the feed, diameter", quantity.Length, "mm", 0.3, 15).Preset("2.2 mm").About(0.05),
			instrument.NumberIn("pressure", "Pressure before it", quantity.Pressure, "psi", 1, 500).Preset("80 psi").About(1),
			instrument.NumberIn("spring", "Return springs, mean force", quantity.Force, "N", 0, 50000).Preset("700 N").About(30),
			instrument.NumberIn("density", "Oil density", quantity.Density, "kg/m³", 600, 1100).Preset("820"),
			instrument.NumberIn("wider", "Another clearance to compare", quantity.Length, "mm", 0, 20).Maybe(),
			instrument.NumberIn("read", "Fill time from a recording", quantity.Time, "ms", 0, 5000).Maybe().About(10).Like("150 ms"),
			instrument.NumberIn("usual", "Usual there: an earlier recording, or the sheet", quantity.Time, "ms", 1, 5000).Maybe().About(10).Explained("Left out, what is computed counts, a fifth uncertain for its orifice."),
		},
		PartsOn: instrument.Elements("plates"),
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if e, ok := instrument.SheetElement(d, u); ok {
				d.Title, d.States = "Fill: "+e.Name, []string{"fill-time." + e.ID}
				d.In("piston").Default, d.In("spring").Default = e.Plates.Piston, e.Plates.Spring
				if x, ok := u.Element(e.ID); ok && unitsheet.Known(x.Clear) {
					d.In("clearance").PutSI(x.Clear.SI)
				}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			volume, time, err := fillOf(v, v.N("clearance"))
			if err != nil {
				return nil, instrument.Impossible("pressure", err)
			}
			outs := []instrument.Output{instrument.Out("time", "fill time", time, quantity.Time, "ms"), instrument.Out("volume", "oil for the stroke", volume, quantity.Volume, "cc")}
			if v.Has("wider") {
				_, other, err := fillOf(v, v.N("wider"))
				if err != nil {
					return nil, instrument.Impossible("wider", err)
				}
				outs = append(outs, instrument.Out("other", "fill time with the other clearance", other, quantity.Time, "ms"))
			}
			if v.Has("read") {
				usual := time
				if v.Has("usual") {
					usual = v.N("usual")
				}
				outs = append(outs, instrument.Out("longer", "read over usual", v.N("read")/usual, quantity.Ratio, "%").AtMost(1.4))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = "The plates touch after " + v.SayOutput(o[0]) + "."
			if v.Has("wider") {
				r.Detail = fmt.Sprintf("With the other clearance %+.0f ms: what adaptation has to make up for.", (o[2].Value-o[0].Value)*1e3)
			}
			if last := len(o) - 1; o[last].ID == "longer" {
				longer := &r.Outputs[last]
				if !v.Has("usual") {
					longer.U = math.Hypot(longer.U, 0.1*longer.Value)
				}
				if c, err := longer.Compare(); err == nil {
					longer.Verdict = c.Verdict
					l := map[string]float64{"usual": 1 - c.Above, "long": c.Above}
					for _, f := range v.States {
						r.Stated = append(r.Stated, instrument.Derive(f, []string{"usual", "long"}, l, v.Say(v.N("read"), quantity.Time, "ms")))
					}
					r.Headline = map[bool]string{true: "Clearly longer than usual: much clearance, a leak, or low pressure.", false: "Not clearly longer than usual."}[c.Above > 0.5] + " " + r.Headline
				}
			}
			f := instrument.Chart{Kind: "curve", Title: "Fill time against clearance", X: instrument.Axis{Label: "clearance", Dimension: quantity.Length, Unit: "mm"}, Y: instrument.Axis{Label: "time", Dimension: quantity.Time, Unit: "ms"}, Words: "Time rises in proportion to clearance."}
			s := instrument.Series{Name: "fill", Role: "main"}
			top := 1.8 * math.Max(v.N("clearance"), v.N("wider"))
			for i := range 11 {
				c := top * float64(i) / 10
				if _, t, err := fillOf(v, c); err == nil {
					s.Points = append(s.Points, [2]float64{c, t})
				}
			}
			f.Series, f.Marks = []instrument.Series{s}, []instrument.Mark{{X: v.N("clearance"), Y: o[0].Value, Label: "now"}}
			if v.Has("wider") {
				f.Marks = append(f.Marks, instrument.Mark{X: v.N("wider"), Y: o[2].Value, Label: "other"})
			}
			r.Figures = []instrument.Chart{f}
		},
	}
}

func fillOf(v instrument.Values, clearance float64) (volume, time float64, err error) {
	return hydraulics.FillTime(v.N("piston"), clearance, v.N("orifice"), v.N("pressure"), v.N("spring")/v.N("piston"), v.N("density"))
}

// Engagement is the energy and heat of one shift.
func Engagement() instrument.Definition {
	return instrument.Definition{
		ID: "shift-energy", Title: "Energy and plate temperature of one shift", Group: "clutches", Hand: []string{"scan tool", "paper"},
		Answers: "How hot do the plates get in one engagement, and what would a longer one do?",
		Source:  "constant clutch torque; heat into a plate (Carslaw and Jaeger, recalled from memory, checked by finite differences)",
		Limits:  "one engagement after a pause; oil takes no heat meanwhile; half of the heat goes into the steel unless said otherwise",
		Inputs: []instrument.Input{
			instrument.NumberIn("slip", "Slip at the beginning", quantity.RotationalSpeed, "rpm", 1, 9000).Preset("1600 rpm").About(20),
			instrument.NumberIn("torque", "Torque of the clutch while it slips", quantity.Torque, "N·m", 1, 20000).Preset("380 N·m").About(15).Takes("plate-capacity:{part}.capacity"),
			instrument.NumberIn("load", "Of which carries the load", quantity.Torque, "N·m", 0, 20000).Preset("250 N·m").About(10),
			instrument.NumberIn("inertia", "Inertia that changes speed, at the clutch", quantity.Inertia, "kg·m²", 0.001, 50).Preset("0.25 kg·m²").About(0.02),
			instrument.CountIn("faces", "Faces that rub", 1, 40).Preset("8"),
			instrument.NumberIn("outer", "Lining, outer diameter", quantity.Length, "mm", 20, 600).Preset("140 mm"),
			instrument.NumberIn("inner", "Lining, inner diameter", quantity.Length, "mm", 10, 590).Preset("112 mm"),
			instrument.NumberIn("steel", "Steel plate, thickness", quantity.Length, "mm", 0.3, 30).Preset("1.8 mm"),
			instrument.NumberIn("share", "Part of the heat that goes into the steel", quantity.Ratio, "%", 10, 100).Preset("50 %"),
			instrument.NumberIn("oil", "Oil temperature", quantity.Temperature, "°C", -40, 200).Preset("90 °C"),
		},
		PartsOn: instrument.Elements("plates"),
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if e, ok := instrument.SheetElement(d, u); ok {
				d.Title = "Shift energy: " + e.Name
				d.In("outer").Default, d.In("inner").Default, d.In("faces").Default = e.Plates.Outer, e.Plates.Inner, fmt.Sprint(2*e.Plates.Lined)
				if e.Plates.SteelThick != "" {
					d.In("steel").Default = e.Plates.SteelThick
				}
				if x, ok := u.Element(e.ID); ok && unitsheet.Known(x.Capacity) {
					d.In("torque").PutSI(math.Round(0.8 * x.Capacity.SI))
					d.In("load").PutSI(math.Round(0.5 * x.Capacity.SI))
				}
			}
			return nil
		},
		Work: instrument.Works(func(v instrument.Values) (heated, []instrument.Output, error) {
			s, err := slipOf(v)
			if err != nil {
				return heated{}, nil, err
			}
			surface, at := friction.PlatePeak(s.Flux, s.Time, v.N("share"), v.N("steel")/2)
			bulk, err := friction.BulkRise(s.Energy*v.N("share"), s.Peak/s.Flux, v.N("steel")/2)
			if err != nil {
				return heated{}, nil, instrument.Impossible("steel", err)
			}
			return heated{s, at}, []instrument.Output{instrument.Out("peak", "hottest at the surface", v.N("oil")+surface, quantity.Temperature, "°C"), instrument.Out("energy", "energy turned into heat", s.Energy, quantity.Energy, "kJ"),
				instrument.Out("time", "time of slip", s.Time, quantity.Time, "s"), instrument.Out("bulk", "plates after it", v.N("oil")+bulk, quantity.Temperature, "°C"), instrument.Out("power", "power at the beginning", s.Peak, quantity.Power, "kW")}, nil
		}, func(v instrument.Values, x heated, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("The face reaches %s; the plates are left at %s.", v.SayOutput(o[0]), v.Say(o[3].Value, quantity.Temperature, "°C"))
			switch hot := o[0].Value - 273.15; {
			case hot > 400:
				r.Detail = "Paper lining chars and steel spots blue at such temperatures."
			case hot > 250:
				r.Detail = "Hot for paper lining when it happens often."
			default:
				r.Detail = "Paper lining bears that."
			}
			line := instrument.Series{Name: "surface", Role: "main"}
			for i := range 41 {
				t := x.slip.Time * float64(i) / 40
				line.Points = append(line.Points, [2]float64{t, v.N("oil") + friction.PlateRise(x.slip.Flux, x.slip.Time, v.N("share"), v.N("steel")/2, t)})
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Surface while it slips", X: instrument.Axis{Label: "time", Dimension: quantity.Time, Unit: "s"}, Y: instrument.Axis{Label: "steel surface", Dimension: quantity.Temperature, Unit: "°C"}, Words: "The face is hottest before the slip ends; a thin plate warms through meanwhile.",
				Series: []instrument.Series{line}, Marks: []instrument.Mark{{X: x.hottest, Y: o[0].Value, Label: "hottest"}}}}
		}),
	}
}

func slipOf(v instrument.Values) (friction.Slip, error) {
	if err := instrument.Lining(v); err != nil {
		return friction.Slip{}, err
	}
	area := float64(v.Count("faces")) * math.Pi / 4 * (v.N("outer")*v.N("outer") - v.N("inner")*v.N("inner"))
	s, err := friction.Engage(v.N("slip"), v.N("torque"), v.N("load"), v.N("inertia"), area)
	if err != nil {
		return s, instrument.Impossible("torque", err)
	}
	return s, nil
}

// AirCheck reads what a clutch circuit holds when air is put to it.
func AirCheck() instrument.Definition {
	return instrument.Definition{
		ID: "air-check", Title: "Air held by a clutch circuit", Group: "clutches", Hand: []string{"air regulator", "pressure gauge"},
		Answers: "Does the circuit hold, and is it better or worse than its neighbours?",
		Source:  "ISO 14253-1 for the window; flow of free air by the gas law; what is usual is common practice, no source",
		Limits:  "same supply, same gauge, same adapter for all circuits; a piston is heard to move",
		Gauge:   "pressure gauge, 0.05 bar", Cautions: []string{instrument.CautionAir},
		Inputs: []instrument.Input{
			instrument.NumberIn("supply", "Supply", quantity.Pressure, "bar", 0.5, 7).Preset("3.5 bar").ReadWithin(0.05),
			instrument.NumberIn("held", "Held behind the restriction", quantity.Pressure, "bar", 0, 7).ReadWithin(0.05).Like("3.1"),
			instrument.NumberIn("low", "Least that is good", quantity.Pressure, "bar", 0, 7).Preset("2.6 bar"),
			instrument.ChoiceIn("heard", "Air is heard", instrument.Option{ID: "nowhere", Title: "nowhere"}, instrument.Option{ID: "piston", Title: "at the piston"}, instrument.Option{ID: "rings", Title: "along the shaft"}, instrument.Option{ID: "nothing", Title: "nothing moves"}).Preset("nowhere"),
			instrument.ListIn("others", "Held by the other circuits", quantity.Pressure, "bar", 0, 7).Maybe(),
		},
		PartsOn: func(u *unitsheet.Unit) []instrument.Option {
			return append(instrument.Elements("plates")(u), instrument.Elements("band")(u)...)
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if e, ok := instrument.SheetElement(d, u); ok {
				d.Title, d.States = "Air held: "+e.Name, []string{"air-check." + e.ID}
			}
			if w := instrument.LimitOf(u, "leak-hold"); w != nil {
				d.In("low").PutSI(w.Low.SI)
				d.In("supply").PutSI(w.High.SI)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if v.N("held") > v.N("supply")*1.02 {
				return nil, &instrument.InputError{Input: "held", Reason: "more than the supply", Accepted: "up to " + v.Say(v.N("supply"), quantity.Pressure, "bar")}
			}
			if v.N("low") >= v.N("supply") {
				return nil, &instrument.InputError{Input: "low", Reason: "not under the supply", Accepted: "less than the supply"}
			}
			return []instrument.Output{instrument.Out("held", "held", v.N("held"), quantity.Pressure, "bar").AtLeast(v.N("low"), v.N("supply")), instrument.Out("lost", "lost", 1-v.N("held")/v.N("supply"), quantity.Ratio, "%")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = instrument.VerdictWords("What it holds, "+v.SayOutput(o[0])+",", o[0].Verdict)
			bars := instrument.Chart{Kind: "bars", Title: "Beside the other circuits", Y: instrument.Axis{Label: "held", Dimension: quantity.Pressure, Unit: "bar"}, Words: "Pressure held by this circuit and the others.",
				Bars: []instrument.Bar{{Label: "this", Value: o[0].Value, Low: v.N("low"), High: v.N("supply"), Text: v.SayOutput(o[0]), Emphasised: true}}}
			for i, x := range v.List("others") {
				bars.Bars = append(bars.Bars, instrument.Bar{Label: fmt.Sprint(i + 1), Value: x, Low: v.N("low"), High: v.N("supply"), Text: v.Say(x, quantity.Pressure, "bar")})
			}
			r.Figures = []instrument.Chart{bars}
			holds := o[0].Likelihoods("holds", "leaks", "over")["holds"]
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
			for _, f := range v.States {
				r.Stated = append(r.Stated, instrument.Derive(f, []string{"holds", "piston", "rings", "nothing"}, l, v.SayOutput(o[0])))
			}
		},
	}
}

// heated is one slip with the time at which the face is hottest, s.
type heated struct {
	slip    friction.Slip
	hottest float64
}
