package instrument

import (
	"fmt"
	"math"

	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// pumpClearance holds the clearances of a gear pump against their limits and says what each leaks.
func pumpClearance() Definition {
	return Definition{
		ID: "pump-clearance", Title: "Pump clearances", Group: "hydraulics", Hand: []string{"straight edge", "feeler gauge"},
		Answers: "Has the pump worn beyond its limits, and how much more does it lose?",
		Source:  "the sheet's or the maker's limits; 0.05 mm at the side, 0.15 mm at the pocket and 0.25 mm at the crescent where none are given (common practice, no source); flow through a gap goes with its third power (Merritt, recalled from memory)",
		Limits:  "gears clean and dry in their own pocket, marked faces as they ran", Gauge: "feeler gauge, 0.02 mm", States: []string{"pump-clearance"},
		Inputs: []Input{
			num("side", "Side: straight edge over the gears", quantity.Length, "mm", 0, 2).read(0.008).like("0.04"),
			num("side-most", "Side, at most", quantity.Length, "mm", 0.005, 1).preset("0.05 mm"),
			num("pocket", "Outer gear to its pocket", quantity.Length, "mm", 0, 3).read(0.008).optional(),
			num("pocket-most", "Pocket, at most", quantity.Length, "mm", 0.005, 2).preset("0.15 mm"),
			num("tip", "Tooth tips to the crescent", quantity.Length, "mm", 0, 3).read(0.008).optional(),
			num("tip-most", "Crescent, at most", quantity.Length, "mm", 0.005, 2).preset("0.25 mm"),
		},
		compute: func(v Values) ([]Output, error) {
			var outs []Output
			for _, at := range []struct{ id, label string }{{"side", "side"}, {"pocket", "pocket"}, {"tip", "crescent"}} {
				if v.Has(at.id) {
					outs = append(outs, out(at.id, at.label, v.N(at.id), quantity.Length, "mm").atMost(v.N(at.id+"-most")))
				}
			}
			return append(outs, out("leak", "lost at the side, against a pump at its limit", math.Pow(v.N("side")/v.N("side-most"), 3), quantity.Ratio, "%")), nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			in, value := 1.0, ""
			bars := Chart{Kind: "bars", Title: "Clearances", Y: Axis{"clearance", quantity.Length, "mm"}, Words: "Each clearance beside its limit."}
			for _, x := range o[:len(o)-1] {
				in *= x.likelihoods("in", "under", "above")["in"]
				if value != "" {
					value += " · "
				}
				value += x.Label + " " + v.SayOutput(x)
				bars.Bars = append(bars.Bars, Bar{Label: x.Label, Value: x.Value, High: x.Window.High.SI, Text: v.SayOutput(x), Emphasised: x.Verdict == "above"})
			}
			r.Stated = []DerivedReading{stated("pump-clearance", []string{"in", "above"}, map[string]float64{"in": in, "above": 1 - in}, value)}
			r.Headline = map[string]string{"in": "Inside its limits.", "above": "Worn: it loses hot oil and gives up first at idle."}[r.Stated[0].State]
			if in > 0.05 && in < 0.95 {
				r.Headline = "Near a limit: the feeler cannot tell. Measure it again, or with an indicator."
			}
			r.Detail = fmt.Sprintf("At the side it loses %s of what a pump at its limit loses.", v.Say(o[len(o)-1].Value, quantity.Ratio, "%"))
			r.Figures = []Chart{bars}
		},
	}
}

// reverseBoost compares line pressure in reverse with that in drive.
func reverseBoost() Definition {
	return Definition{
		ID: "reverse-boost", Title: "Boost in reverse", Group: "hydraulics", Hand: []string{"pressure gauge"},
		Answers: "Does line pressure rise in reverse as it should?",
		Source:  "windows of the unit sheet; else a quarter more at least (common practice, no source); JCGM 100", Limits: "same engine speed, hot, gauge at the line tap",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{cautionRunning, cautionPressure}, States: []string{"pressure-reverse"},
		Inputs: []Input{
			num("drive", "Read in drive", quantity.Pressure, "psi", 1, 600).read(1.04).like("60 psi"), num("reverse", "Read in reverse", quantity.Pressure, "psi", 0, 600).read(1.04).like("76 psi"),
			num("wanted", "Reverse over drive, by the sheet", quantity.Ratio, "%", 100, 400).preset("125 %"),
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u == nil {
				return nil
			}
			drive, reverse := 0.0, 0.0
			for _, r := range u.Ranges {
				if !unitsheet.Known(r.LineIdle.Low) {
					continue
				}
				switch mid := (r.LineIdle.Low.SI + r.LineIdle.High.SI) / 2; {
				case r.Healthy.Outcome == "reverse":
					reverse = mid
				case r.Healthy.Outcome == "forward" && drive == 0:
					drive = mid
				}
			}
			if drive > 0 && reverse > drive {
				d.input("wanted").putSI(math.Round(100*reverse/drive) / 100)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			// Half of the rise that is wanted parts boosted from not boosted.
			half := 1 + (v.N("wanted")-1)/2
			return []Output{out("over", "reverse over drive", v.N("reverse")/v.N("drive"), quantity.Ratio, "%").atLeast(half, 2*v.N("wanted")-1), out("rise", "rise", v.N("reverse")-v.N("drive"), quantity.Pressure, "psi")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			c := o[0].likelihoods("boosted", "same", "over")
			r.Stated = []DerivedReading{stated("pressure-reverse", []string{"boosted", "same"}, map[string]float64{"boosted": c["boosted"], "same": c["same"]}, v.Say(v.N("drive"), quantity.Pressure, "psi")+", reverse "+v.Say(v.N("reverse"), quantity.Pressure, "psi"))}
			r.Headline = map[string]string{"boosted": "It is boosted.", "same": "It is not boosted: boost valve, its feed, or the manual valve out of step."}[r.Stated[0].State]
			r.Detail = "Wanted: " + v.Say(v.N("wanted"), quantity.Ratio, "%") + " of drive. Reverse carries the highest torque on its elements."
			r.Figures = []Chart{{Kind: "bars", Title: "Drive and reverse", Y: Axis{"line pressure", quantity.Pressure, "psi"}, Words: "Pressure in reverse beside what the boost should make of that in drive.",
				Bars: []Bar{{Label: "drive", Value: v.N("drive"), Text: v.Say(v.N("drive"), quantity.Pressure, "psi")}, {Label: "reverse", Value: v.N("reverse"), Need: v.N("drive") * v.N("wanted"), Text: v.Say(v.N("reverse"), quantity.Pressure, "psi"), Emphasised: true}}}}
		},
	}
}

// feedLimit says whether the limit valve holds solenoid feed while line pressure rises.
func feedLimit() Definition {
	return Definition{
		ID: "feed-limit", Title: "Solenoid feed: is it limited?", Group: "hydraulics", Hand: []string{"pressure gauge", "scan tool"},
		Answers: "Does the limit valve hold the solenoids' feed while line pressure rises?",
		Source:  "a limit valve passes line pressure up to its limit and holds it there; ISO 14253-1 for the window", Limits: "hot; the limit is the sheet's or the maker's: 90 to 115 psi where none is known (common practice, no source)",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{cautionRunning, cautionPressure}, States: []string{"feed-pressure"},
		Inputs: []Input{
			num("line", "Line pressure, raised", quantity.Pressure, "psi", 1, 600).read(1.04).like("160 psi"), num("feed", "Feed with it", quantity.Pressure, "psi", 0, 600).read(1.04).like("104 psi"),
			num("low", "Limit, at least", quantity.Pressure, "psi", 5, 400).preset("90 psi"), num("high", "and at most", quantity.Pressure, "psi", 5, 400).preset("115 psi"),
		},
		compute: func(v Values) ([]Output, error) {
			if err := ordered(v, "low", "high"); err != nil {
				return nil, err
			}
			switch {
			case v.N("line") <= v.N("high"):
				return nil, &InputError{"line", "not above the limit: nothing has to be held yet", "more than " + v.Say(v.N("high"), quantity.Pressure, "psi")}
			case v.N("feed") > 1.05*v.N("line"):
				return nil, &InputError{"feed", "more than the line pressure that feeds it", "up to " + v.Say(v.N("line"), quantity.Pressure, "psi")}
			}
			return []Output{out("feed", "feed", v.N("feed"), quantity.Pressure, "psi").within(v.N("low"), v.N("high")), out("part", "of line pressure", v.N("feed")/v.N("line"), quantity.Ratio, "%")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Stated = []DerivedReading{stated("feed-pressure", []string{"limited", "low", "high"}, o[0].likelihoods("limited", "low", "high"), v.SayOutput(o[0])+" at "+v.Say(v.N("line"), quantity.Pressure, "psi"))}
			r.Headline = map[string]string{"limited": "Limited as it should be.", "low": "Below its limit: worn bore of the limit valve, or a solenoid that leaks. Every solenoid behind it is weak.", "high": "It follows line pressure up: the limit valve sticks open, every shift is hard."}[r.Stated[0].State]
			r.Figures = []Chart{{Kind: "bars", Title: "Line and feed", Y: Axis{"pressure", quantity.Pressure, "psi"}, Words: "Feed beside its limits, and the line that feeds it.",
				Bars: []Bar{{Label: "line", Value: v.N("line"), Text: v.Say(v.N("line"), quantity.Pressure, "psi")}, {Label: "feed", Value: o[0].Value, Low: v.N("low"), High: v.N("high"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}
