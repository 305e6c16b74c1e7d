package fluids

import (
	"fmt"
	"math"

	"innercompass/core/fluid"
	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Viscosity puts a fluid on its line: any temperature, its index, and where it gets too thin.
func Viscosity() instrument.Definition {
	return instrument.Definition{
		ID: "viscosity", Title: "Viscosity at a temperature, and its index", Group: "fluid", Hand: []string{"paper", "thermometer"},
		Answers: "How thick is this fluid at another temperature, and how much does it thin?",
		Source:  "ASTM D341 for the line, ASTM D2270 for the index (recalled from memory; the published examples are checked)", Limits: "two viscosities of the same sample; not near freezing",
		Inputs: []instrument.Input{
			instrument.NumberIn("v1", "Viscosity", quantity.Viscosity, "mm²/s", 0.3, 1e6).Preset("34 mm²/s").About(0.3), instrument.NumberIn("t1", "at", quantity.Temperature, "°C", -50, 200).Preset("40 °C"),
			instrument.NumberIn("v2", "Viscosity", quantity.Viscosity, "mm²/s", 0.3, 1e6).Preset("7.2 mm²/s").About(0.07), instrument.NumberIn("t2", "at", quantity.Temperature, "°C", -50, 200).Preset("100 °C"),
			instrument.NumberIn("at", "Wanted at", quantity.Temperature, "°C", -60, 220).Preset("80 °C"),
			instrument.NumberIn("least", "Thinnest that still carries", quantity.Viscosity, "mm²/s", 0.3, 1000).Preset("5 mm²/s").Explained("Common practice, no source: about 5 mm²/s for gears and pumps of the trade."),
		},
		Work: instrument.Works(func(v instrument.Values) (fluid.Line, []instrument.Output, error) {
			l, err := fluid.Through(v.N("t1"), v.N("v1"), v.N("t2"), v.N("v2"))
			if err != nil {
				return l, nil, instrument.Impossible("v2", err)
			}
			outs := []instrument.Output{instrument.Out("at", "there", l.At(v.N("at")), quantity.Viscosity, "mm²/s"), instrument.Out("thin", "too thin above", l.Temperature(v.N("least")), quantity.Temperature, "°C")}
			if vi, err := fluid.Index(l.At(40+zeroC), l.At(100+zeroC)); err == nil {
				outs = append(outs, instrument.Out("index", "viscosity index", vi, quantity.Ratio, ""))
			}
			return l, outs, nil
		}, func(v instrument.Values, l fluid.Line, o []instrument.Output, r *instrument.Result) {
			r.Headline = v.SayOutput(o[0]) + " at " + v.Say(v.N("at"), quantity.Temperature, "°C") + "."
			r.Detail = "Too thin above " + v.Say(o[1].Value, quantity.Temperature, "°C") + "."
			s := instrument.Series{Name: "this fluid", Role: "main"}
			low, high := math.Min(v.N("t1"), v.N("at")), math.Max(v.N("t2"), v.N("at"))
			for i := range 31 {
				t := low + (high-low)*float64(i)/30
				s.Points = append(s.Points, [2]float64{t, l.At(t)})
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Viscosity over temperature", X: instrument.Axis{Label: "temperature", Dimension: quantity.Temperature, Unit: "°C"}, Y: instrument.Axis{Label: "viscosity", Dimension: quantity.Viscosity, Unit: "mm²/s"}, Words: "It thins as it warms.",
				Series: []instrument.Series{s, {Name: "least", Role: "limit", Points: [][2]float64{{low, v.N("least")}, {high, v.N("least")}}}}, Marks: []instrument.Mark{{X: v.N("at"), Y: o[0].Value, Label: "wanted"}}}}
		}),
	}
}

// zeroC is 0 °C in K.
const zeroC = 273.15

// Cleanliness codes a particle count.
func Cleanliness() instrument.Definition {
	return instrument.Definition{
		ID: "cleanliness", Title: "Cleanliness code of a particle count", Group: "fluid", Hand: []string{"paper"},
		Answers: "How clean is the fluid, and is that clean enough for its valves?",
		Source:  "ISO 4406 (recalled from memory; its table is checked against itself)", Limits: "counts in a millilitre, each with all larger ones; a clean bottle and a fluid that runs",
		Inputs: []instrument.Input{
			instrument.NumberIn("over4", "Particles of 4 µm and more", quantity.Ratio, "", 0, 1e8).Preset("2500").Explained("In one millilitre."), instrument.NumberIn("over6", "of 6 µm and more", quantity.Ratio, "", 0, 1e8).Preset("320"), instrument.NumberIn("over14", "of 14 µm and more", quantity.Ratio, "", 0, 1e8).Preset("20"),
			instrument.CountIn("want4", "Wanted code, 4 µm", 0, fluid.MostCode).Preset("20"), instrument.CountIn("want6", "6 µm", 0, fluid.MostCode).Preset("18"), instrument.CountIn("want14", "14 µm", 0, fluid.MostCode).Preset("15"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			c, err := fluid.Cleanliness(v.N("over4"), v.N("over6"), v.N("over14"))
			if err != nil {
				return nil, instrument.Impossible("over6", err)
			}
			return []instrument.Output{instrument.Out("c4", "code for 4 µm", float64(c[0]), quantity.Ratio, "").Counted(), instrument.Out("c6", "code for 6 µm", float64(c[1]), quantity.Ratio, "").Counted(), instrument.Out("c14", "code for 14 µm", float64(c[2]), quantity.Ratio, "").Counted()}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			wanted := []int{v.Count("want4"), v.Count("want6"), v.Count("want14")}
			worst := 0
			bars := instrument.Chart{Kind: "bars", Title: "Codes beside those wanted", Y: instrument.Axis{Label: "code", Dimension: quantity.Ratio, Unit: ""}, Words: "Each step up is twice as many particles."}
			for i, x := range o {
				worst = max(worst, int(x.Value)-wanted[i])
				bars.Bars = append(bars.Bars, instrument.Bar{Label: []string{"4 µm", "6 µm", "14 µm"}[i], Value: x.Value, Need: float64(wanted[i]), Text: fmt.Sprintf("%s, wanted %d", v.Num(x.Value, 0), wanted[i]), Emphasised: int(x.Value) > wanted[i]})
			}
			r.Headline = fmt.Sprintf("%.0f/%.0f/%.0f: clean enough.", o[0].Value, o[1].Value, o[2].Value)
			if worst > 0 {
				r.Headline = fmt.Sprintf("%.0f/%.0f/%.0f: up to %.0f times as many particles as wanted.", o[0].Value, o[1].Value, o[2].Value, math.Pow(2, float64(worst)))
			}
			r.Figures = []instrument.Chart{bars}
		},
		Jumps: true,
	}
}

// Dilution counts drain-and-fills.
func Dilution() instrument.Definition {
	return instrument.Definition{
		ID: "dilution", Title: "Drain and fill: how often until it is new", Group: "fluid", Hand: []string{"measuring jug"},
		Answers: "How much of the fluid is new after each drain and fill, and how many does it take?",
		Source:  "what stays is multiplied each time: (1 − drained/all)ⁿ", Limits: "driven between two changes, so that it mixes; a cooler or converter that is not flushed through keeps its share",
		Cautions: []string{instrument.CautionUnder, instrument.CautionWaste},
		Inputs: []instrument.Input{
			instrument.NumberIn("whole", "Fluid in all", quantity.Volume, "L", 0.2, 60).Preset("10.4 L").About(0.2), instrument.NumberIn("drain", "Comes out at a drain", quantity.Volume, "L", 0.05, 60).Preset("4.3 L").About(0.1),
			instrument.NumberIn("wanted", "New fluid wanted", quantity.Ratio, "%", 1, 99.5).Preset("90 %"),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && u.Sheet.Fluid.Capacity != "" {
				d.In("whole").Default, d.In("drain").Default = u.Sheet.Fluid.Capacity, u.Sheet.Fluid.Refill
				if u.Sheet.Fluid.Refill == "" {
					d.In("drain").Default = u.Sheet.Fluid.Capacity
				}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if v.N("drain") > v.N("whole") {
				return nil, &instrument.InputError{Input: "drain", Reason: "more than there is in all", Accepted: "up to " + v.Say(v.N("whole"), quantity.Volume, "L")}
			}
			share := v.N("drain") / v.N("whole")
			n, err := fluid.Changes(share, v.N("wanted"))
			if err != nil {
				return nil, instrument.Impossible("wanted", err)
			}
			return []instrument.Output{instrument.Out("times", "times to drain and fill", float64(n), quantity.Ratio, "").Counted(), instrument.Out("used", "fluid that takes", float64(n)*v.N("drain"), quantity.Volume, "L"), instrument.Out("new", "new then", fluid.Renewed(share, n), quantity.Ratio, "%")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("%.0f times, %s of fluid: %s new.", o[0].Value, v.Say(o[1].Value, quantity.Volume, "L"), v.Say(o[2].Value, quantity.Ratio, "%"))
			share := v.N("drain") / v.N("whole")
			bars := instrument.Chart{Kind: "bars", Title: "New fluid after each", Y: instrument.Axis{Label: "new", Dimension: quantity.Ratio, Unit: "%"}, Words: "Each change renews the same share of what is old."}
			for n := 1; n <= min(8, max(3, int(o[0].Value))); n++ {
				bars.Bars = append(bars.Bars, instrument.Bar{Label: fmt.Sprint(n), Value: fluid.Renewed(share, n), Need: v.N("wanted"), Text: v.Say(fluid.Renewed(share, n), quantity.Ratio, "%"), Emphasised: n == int(o[0].Value)})
			}
			r.Figures = []instrument.Chart{bars}
		},
		Jumps: true,
	}
}

// Loss reads top-ups.
func Loss() instrument.Definition {
	return instrument.Definition{
		ID: "fluid-loss", Title: "How fast is fluid lost", Group: "fluid", Hand: []string{"dipstick", "measuring jug"},
		Answers: "How fast does it go, would it show on the floor, and how far until it is low?",
		Source:  "what was added over the distance and time; twenty drops to a millilitre (common practice, no source)", Limits: "level right at both ends, read the same way",
		Inputs: []instrument.Input{
			instrument.NumberIn("added", "Added", quantity.Volume, "pt", 0, 60).Like("1 pt").About(0.1), instrument.NumberIn("distance", "over", quantity.Distance, "km", 1, 500000).Maybe().Like("2000"), instrument.NumberIn("days", "in days", quantity.Ratio, "", 0.1, 5000).Maybe().Like("30"),
			instrument.NumberIn("spare", "From full to low", quantity.Volume, "pt", 0.1, 20).Preset("1 pt"),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.BetweenMarks) {
				d.In("spare").Put(u.BetweenMarks)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			l, err := fluid.LossRate(v.N("added"), v.N("distance"), v.N("days")*86400)
			if err != nil {
				return nil, instrument.Impossible("distance", err)
			}
			var outs []instrument.Output
			if l.PerMetre > 0 {
				outs = append(outs, instrument.Out("reach", "from full to low", v.N("spare")/l.PerMetre, quantity.Distance, "km"), instrument.Out("per", "lost in 1,000 km", l.PerMetre*1e6, quantity.Volume, "L"))
			}
			if l.PerSecond > 0 {
				outs = append(outs, instrument.Out("drops", "drops in a minute, were it all to drip", l.Drops, quantity.Ratio, ""), instrument.Out("night", "in one night of ten hours", l.PerSecond*36000, quantity.Volume, "cc"))
			}
			if len(outs) == 0 {
				return nil, &instrument.InputError{Input: "added", Reason: "nothing was added: nothing is lost", Accepted: "more than nothing"}
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			var say []string
			for _, x := range o {
				switch x.ID {
				case "reach":
					say = append(say, "Low after "+v.SayOutput(x)+".")
				case "night":
					if cc := x.Value * 1e6; cc < 2 {
						say = append(say, "Too little to leave a puddle overnight: look for a film, or for fluid that goes where it cannot be seen.")
					} else {
						say = append(say, "It would leave a puddle overnight. Dry below? Then it is blown off, burnt, or crosses into another case.")
					}
				}
			}
			r.Headline = say[0]
			if len(say) > 1 {
				r.Detail = say[1]
			}
		},
	}
}

// Life adds up what heat takes from the fluid, and what the cooler would have to do.
func Life() instrument.Definition {
	return instrument.Definition{
		ID: "fluid-life", Title: "Life of the fluid at its temperatures", Group: "fluid", Hand: []string{"thermometer", "scan tool"},
		Answers: "How far does the fluid last with these temperatures, and what would cooling bring?",
		Source:  "life halves with each 10 °C, added over the duties (rule of thumb for oxidation: common practice, no source; Arrhenius, Palmgren and Miner)", Limits: "clean fluid of the right kind; fluid temperature in the pan",
		Inputs: []instrument.Input{
			instrument.NumberIn("base", "Lasts, where it is cool", quantity.Distance, "km", 1000, 1e6).Preset("160000 km"), instrument.NumberIn("cool", "that is at", quantity.Temperature, "°C", 40, 150).Preset("80 °C"),
			instrument.NumberIn("halving", "Half with each", quantity.Rise, "K", 4, 30).Preset("10 K").About(0.5),
			instrument.ListIn("temperatures", "Temperatures of the duties", quantity.Temperature, "°C", 0, 220).Preset("80; 100; 120 °C"), instrument.ListIn("shares", "Share of the distance of each", quantity.Ratio, "%", 0, 100).Preset("70; 25; 5 %"),
			instrument.NumberIn("driven", "Driven with it so far", quantity.Distance, "km", 0, 3e6).Maybe(), instrument.NumberIn("cooler", "Cooler by", quantity.Rise, "K", 0, 80).Preset("10 K"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			t, s := v.List("temperatures"), v.List("shares")
			if len(t) != len(s) || len(t) == 0 {
				return nil, &instrument.InputError{Input: "shares", Reason: fmt.Sprintf("%d shares for %d temperatures", len(s), len(t)), Accepted: "one for each temperature"}
			}
			over := func(less float64) (float64, error) {
				var duties []fluid.Duty
				for i := range t {
					duties = append(duties, fluid.Duty{Share: s[i], Temperature: t[i] - less})
				}
				return fluid.LifeOver(v.N("base"), v.N("cool"), v.N("halving"), duties)
			}
			life, err := over(0)
			if err != nil {
				return nil, instrument.Impossible("shares", err)
			}
			cooled, err := over(v.N("cooler"))
			if err != nil {
				return nil, instrument.Impossible("shares", err)
			}
			outs := []instrument.Output{instrument.Out("life", "life with these duties", life, quantity.Distance, "km"), instrument.Out("cooled", "with the cooler", cooled, quantity.Distance, "km")}
			if v.Has("driven") {
				outs = append(outs, instrument.Out("used", "used up", v.N("driven")/life, quantity.Ratio, "%"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = "It lasts " + v.SayOutput(o[0]) + "."
			if len(o) > 2 && o[2].Value > 1 {
				r.Headline = "It is used up: it lasts " + v.SayOutput(o[0]) + "."
			}
			r.Detail = fmt.Sprintf("Cooler by %s: %s.", v.Say(v.N("cooler"), quantity.Rise, "K"), v.SayOutput(o[1]))
			t, s := v.List("temperatures"), v.List("shares")
			whole := 0.0
			for i := range t {
				whole += s[i] / fluid.Life(1, v.N("cool"), t[i], v.N("halving"))
			}
			bars := instrument.Chart{Kind: "bars", Title: "What uses it up", Y: instrument.Axis{Label: "share", Dimension: quantity.Ratio, Unit: "%"}, Words: "Part of the wear of the fluid that each duty brings."}
			for i := range t {
				part := s[i] / fluid.Life(1, v.N("cool"), t[i], v.N("halving")) / whole
				bars.Bars = append(bars.Bars, instrument.Bar{Label: v.Say(t[i], quantity.Temperature, "°C") + ", " + v.Say(s[i], quantity.Ratio, "%") + " of the way", Value: part, Text: v.Say(part, quantity.Ratio, "%"), Emphasised: part > 0.5})
			}
			r.Figures = []instrument.Chart{bars}
		},
	}
}

// DrainBack reads what a converter lost to the pan overnight.
func DrainBack() instrument.Definition {
	return instrument.Definition{
		ID: "drain-back", Title: "Level before the first start, and after", Group: "fluid", Hand: []string{"dipstick"},
		Answers: "Has the converter drained into the pan, and does the pump turn when it starts?",
		Source:  "between the marks in proportion; on many units the level stands high with the engine off; the wait after a night decides (common practice, no source)", Limits: "same stick, cold; before the first start after a night, and one minute after it; above the marks the proportion fails, because pan and stick are not as between them",
		Gauge: "stick, read to 1 mm", Cautions: []string{instrument.CautionRunning}, States: []string{"fluid-level-standing", "level-falls"},
		Inputs: []instrument.Input{
			instrument.NumberIn("before", "Before the start, above the upper mark", quantity.Length, "mm", -100, 300).About(1.5).Like("22"), instrument.NumberIn("after", "One minute after it, above the upper mark", quantity.Length, "mm", -200, 300).About(1.5).Like("-4"),
			instrument.NumberIn("usual", "Usual before the start on this unit, at most", quantity.Length, "mm", 1, 200).Preset("35 mm"), instrument.NumberIn("apart", "Marks apart", quantity.Length, "mm", 1, 200).Preset("14 mm"), instrument.NumberIn("between", "Oil between the marks", quantity.Volume, "pt", 0.05, 20).Preset("1 pt"),
			instrument.NumberIn("hours", "It stood for", quantity.Time, "h", 0.2, 500).Preset("10 h"),
			instrument.NumberIn("wait", "First range took up after", quantity.Time, "s", 0, 60).Maybe().About(0.3).Explained("From the selector to the first pull; more than 2 s after a night is drained."),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && unitsheet.Known(u.MarksApart) && unitsheet.Known(u.BetweenMarks) {
				d.In("apart").Put(u.MarksApart)
				d.In("between").Put(u.BetweenMarks)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			moved := (v.N("before") - v.N("after")) * v.N("between") / v.N("apart")
			return []instrument.Output{instrument.Out("moved", "taken up at the start", moved, quantity.Volume, "L"), instrument.Out("before", "before the start", v.N("before"), quantity.Length, "mm").AtMost(v.N("usual")), instrument.Out("fell", "fell by", v.N("before")-v.N("after"), quantity.Length, "mm").AtLeast(3e-3, 60e-3), instrument.Out("rate", "drained in an hour", moved/v.N("hours")*3600, quantity.Volume, "cc")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			high, fell := o[1].Likelihoods("usual", "under", "very-high"), o[2].Likelihoods("falls", "stays", "over")
			r.Stated = []instrument.DerivedReading{instrument.Derive("fluid-level-standing", []string{"usual", "very-high"}, map[string]float64{"usual": high["usual"], "very-high": high["very-high"]}, v.SayOutput(o[1])),
				instrument.Derive("level-falls", []string{"falls", "stays"}, map[string]float64{"falls": fell["falls"], "stays": fell["stays"]}, v.SayOutput(o[2]))}
			switch {
			case r.Stated[1].State == "stays":
				r.Headline = "The level stays high: the pump takes nothing up. Is it turning?"
			case v.Has("wait") && v.N("wait") <= 2:
				r.Headline = "It takes up at once: the converter keeps its oil, however high the level stood."
			case o[1].Verdict != measure.Above && v.Has("wait"):
				r.Headline = "It waits, and the level was not high: look for the delay elsewhere, at seals and valves."
			case o[1].Verdict == measure.Above && !v.Has("wait"):
				r.Headline = "High before the start: the converter may have drained, " + v.SayOutput(o[0]) + " by this stick. Time the first range after a night; a wait says that it has."
			case o[1].Verdict == measure.Above:
				r.Headline = "The converter drained: " + v.SayOutput(o[0]) + " went back into the pan. Its check valve, a bushing or seal ring lets it through; the first range engages late."
			default:
				r.Headline = "The converter keeps its oil."
			}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Above the upper mark", Y: instrument.Axis{Label: "height", Dimension: quantity.Length, Unit: "mm"}, Words: "Level before and after the start.",
				Bars: []instrument.Bar{{Label: "before", Value: math.Max(0, v.N("before")), High: v.N("usual"), Text: v.Say(v.N("before"), quantity.Length, "mm"), Emphasised: true}, {Label: "after", Value: math.Max(0, v.N("after")), Text: v.Say(v.N("after"), quantity.Length, "mm")}}}}
		},
	}
}
