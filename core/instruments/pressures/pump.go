package pressures

import (
	"fmt"
	"math"

	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// PumpClearance holds the clearances of a gear pump against their limits and says what each leaks.
func PumpClearance() instrument.Definition {
	return instrument.Definition{
		ID: "pump-clearance", Title: "Pump clearances", Group: "hydraulics", Hand: []string{"straight edge", "feeler gauge"},
		Answers: "Has the pump worn beyond its limits, and how much more does it lose?",
		Source:  "the sheet's or the maker's limits; 0.05 mm at the side, 0.15 mm at the pocket and 0.25 mm at the crescent where none are given (common practice, no source); flow through a gap goes with its third power (Merritt, recalled from memory)",
		Limits:  "gears clean and dry in their own pocket, marked faces as they ran", Gauge: "feeler gauge, 0.02 mm", States: []string{"pump-clearance"},
		Inputs: []instrument.Input{
			instrument.NumberIn("side", "Side: straight edge over the gears", quantity.Length, "mm", 0, 2).ReadWithin(0.008).Like("0.04"),
			instrument.NumberIn("side-most", "Side, at most", quantity.Length, "mm", 0.005, 1).Preset("0.05 mm"),
			instrument.NumberIn("pocket", "Outer gear to its pocket", quantity.Length, "mm", 0, 3).ReadWithin(0.008).Maybe(),
			instrument.NumberIn("pocket-most", "Pocket, at most", quantity.Length, "mm", 0.005, 2).Preset("0.15 mm"),
			instrument.NumberIn("tip", "Tooth tips to the crescent", quantity.Length, "mm", 0, 3).ReadWithin(0.008).Maybe(),
			instrument.NumberIn("tip-most", "Crescent, at most", quantity.Length, "mm", 0.005, 2).Preset("0.25 mm"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			var outs []instrument.Output
			for _, at := range []struct{ id, label string }{{"side", "side"}, {"pocket", "pocket"}, {"tip", "crescent"}} {
				if v.Has(at.id) {
					outs = append(outs, instrument.Out(at.id, at.label, v.N(at.id), quantity.Length, "mm").AtMost(v.N(at.id+"-most")))
				}
			}
			return append(outs, instrument.Out("leak", "lost at the side, against a pump at its limit", math.Pow(v.N("side")/v.N("side-most"), 3), quantity.Ratio, "%")), nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			in, value := 1.0, ""
			bars := instrument.Chart{Kind: "bars", Title: "Clearances", Y: instrument.Axis{Label: "clearance", Dimension: quantity.Length, Unit: "mm"}, Words: "Each clearance beside its limit."}
			for _, x := range o[:len(o)-1] {
				in *= x.Likelihoods("in", "under", "above")["in"]
				if value != "" {
					value += " · "
				}
				value += x.Label + " " + v.SayOutput(x)
				bars.Bars = append(bars.Bars, instrument.Bar{Label: x.Label, Value: x.Value, High: x.Window.High.SI, Text: v.SayOutput(x), Emphasised: x.Verdict == "above"})
			}
			r.Stated = []instrument.DerivedReading{instrument.Derive("pump-clearance", []string{"in", "above"}, map[string]float64{"in": in, "above": 1 - in}, value)}
			r.Headline = map[string]string{"in": "Inside its limits.", "above": "Worn: it loses hot oil and gives up first at idle."}[r.Stated[0].State]
			if in > 0.05 && in < 0.95 {
				r.Headline = "Near a limit: the feeler cannot tell. Measure it again, or with an indicator."
			}
			r.Detail = fmt.Sprintf("At the side it loses %s of what a pump at its limit loses.", v.Say(o[len(o)-1].Value, quantity.Ratio, "%"))
			r.Figures = []instrument.Chart{bars}
		},
	}
}

// ReverseBoost compares line pressure in reverse with that in drive.
func ReverseBoost() instrument.Definition {
	return instrument.Definition{
		ID: "reverse-boost", Title: "Boost in reverse", Group: "hydraulics", Hand: []string{"pressure gauge"},
		Answers: "Does line pressure rise in reverse as it should?",
		Source:  "windows of the unit sheet; else a quarter more at least (common practice, no source); JCGM 100", Limits: "same engine speed, hot, gauge at the line tap",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{instrument.CautionRunning, instrument.CautionPressure}, States: []string{"pressure-reverse"},
		Inputs: []instrument.Input{
			instrument.NumberIn("drive", "Read in drive", quantity.Pressure, "psi", 1, 600).ReadWithin(1.04).Like("60 psi"), instrument.NumberIn("reverse", "Read in reverse", quantity.Pressure, "psi", 0, 600).ReadWithin(1.04).Like("76 psi"),
			instrument.NumberIn("wanted", "Reverse over drive, by the sheet", quantity.Ratio, "%", 100, 400).Preset("125 %"),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
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
				d.In("wanted").PutSI(math.Round(100*reverse/drive) / 100)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			// Half of the rise that is wanted parts boosted from not boosted.
			half := 1 + (v.N("wanted")-1)/2
			return []instrument.Output{instrument.Out("over", "reverse over drive", v.N("reverse")/v.N("drive"), quantity.Ratio, "%").AtLeast(half, 2*v.N("wanted")-1), instrument.Out("rise", "rise", v.N("reverse")-v.N("drive"), quantity.Pressure, "psi")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			c := o[0].Likelihoods("boosted", "same", "over")
			r.Stated = []instrument.DerivedReading{instrument.Derive("pressure-reverse", []string{"boosted", "same"}, map[string]float64{"boosted": c["boosted"], "same": c["same"]}, v.Say(v.N("drive"), quantity.Pressure, "psi")+", reverse "+v.Say(v.N("reverse"), quantity.Pressure, "psi"))}
			r.Headline = map[string]string{"boosted": "It is boosted.", "same": "It is not boosted: boost valve, its feed, or the manual valve out of step."}[r.Stated[0].State]
			r.Detail = "Wanted: " + v.Say(v.N("wanted"), quantity.Ratio, "%") + " of drive. Reverse carries the highest torque on its elements."
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Drive and reverse", Y: instrument.Axis{Label: "line pressure", Dimension: quantity.Pressure, Unit: "psi"}, Words: "Pressure in reverse beside what the boost should make of that in drive.",
				Bars: []instrument.Bar{{Label: "drive", Value: v.N("drive"), Text: v.Say(v.N("drive"), quantity.Pressure, "psi")}, {Label: "reverse", Value: v.N("reverse"), Need: v.N("drive") * v.N("wanted"), Text: v.Say(v.N("reverse"), quantity.Pressure, "psi"), Emphasised: true}}}}
		},
	}
}

// FeedLimit says whether the limit valve holds solenoid feed while line pressure rises.
func FeedLimit() instrument.Definition {
	return instrument.Definition{
		ID: "feed-limit", Title: "Solenoid feed: is it limited?", Group: "hydraulics", Hand: []string{"pressure gauge", "scan tool"},
		Answers: "Does the limit valve hold the solenoids' feed while line pressure rises?",
		Source:  "a limit valve passes line pressure up to its limit and holds it there; ISO 14253-1 for the window", Limits: "hot; the limit is the sheet's or the maker's: 110 to 125 psi where none is known (common practice, no source)",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{instrument.CautionRunning, instrument.CautionPressure}, States: []string{"feed-pressure"},
		Inputs: []instrument.Input{
			instrument.NumberIn("line", "Line pressure, raised", quantity.Pressure, "psi", 1, 600).ReadWithin(1.04).Like("160 psi"), instrument.NumberIn("feed", "Feed with it", quantity.Pressure, "psi", 0, 600).ReadWithin(1.04).Like("118 psi"),
			instrument.NumberIn("low", "Limit, at least", quantity.Pressure, "psi", 5, 400).Preset("110 psi"), instrument.NumberIn("high", "and at most", quantity.Pressure, "psi", 5, 400).Preset("125 psi"),
			instrument.NumberIn("line2", "Line pressure, raised further", quantity.Pressure, "psi", 1, 600).Maybe().ReadWithin(1.04), instrument.NumberIn("feed2", "Feed with that", quantity.Pressure, "psi", 0, 600).Maybe().ReadWithin(1.04).Explained("Whether it follows line pressure takes two readings."),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if err := instrument.Ordered(v, "low", "high"); err != nil {
				return nil, err
			}
			switch {
			case v.N("line") <= v.N("high"):
				return nil, &instrument.InputError{Input: "line", Reason: "not above the limit: nothing has to be held yet", Accepted: "more than " + v.Say(v.N("high"), quantity.Pressure, "psi")}
			case v.N("feed") > 1.05*v.N("line"):
				return nil, &instrument.InputError{Input: "feed", Reason: "more than the line pressure that feeds it", Accepted: "up to " + v.Say(v.N("line"), quantity.Pressure, "psi")}
			case v.Has("line2") != v.Has("feed2"):
				return nil, &instrument.InputError{Input: "feed2", Reason: "the second reading is of line and feed together", Accepted: "both, or neither"}
			case v.Has("line2") && v.N("line2") < 1.1*v.N("line"):
				return nil, &instrument.InputError{Input: "line2", Reason: "too near to the first to tell whether the feed follows", Accepted: "at least a tenth above " + v.Say(v.N("line"), quantity.Pressure, "psi")}
			}
			return []instrument.Output{instrument.Out("feed", "feed", v.N("feed"), quantity.Pressure, "psi").Within(v.N("low"), v.N("high")), instrument.Out("part", "of line pressure", v.N("feed")/v.N("line"), quantity.Ratio, "%")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			l := o[0].Likelihoods("limited", "low", "high")
			follows := v.Has("line2") && v.N("feed2")-v.N("feed") > 0.5*(v.N("line2")-v.N("line"))
			switch {
			case follows:
				l = instrument.Soften(map[string]float64{"limited": 0, "low": 0, "high": 1})
			case v.Has("line2"): // it stands still: what is above the window is another limit, not a stuck valve
				l = map[string]float64{"limited": l["limited"] + l["high"], "low": l["low"], "high": 0}
			default: // one reading above the window may be this unit's own limit
				l = map[string]float64{"limited": l["limited"] + l["high"]/2, "low": l["low"], "high": l["high"] / 2}
			}
			r.Stated = []instrument.DerivedReading{instrument.Derive("feed-pressure", []string{"limited", "low", "high"}, l, v.SayOutput(o[0])+" at "+v.Say(v.N("line"), quantity.Pressure, "psi"))}
			switch {
			case follows:
				r.Headline = "It follows line pressure up: the limit valve sticks open, every shift is hard."
			case r.Stated[0].State == "low":
				r.Headline = "Below its limit: worn bore of the limit valve, or a solenoid that leaks. Every solenoid behind it is weak."
			case o[0].Verdict == measure.Above && !v.Has("line2"):
				r.Headline = "Above these limits: raise line pressure and read both again. Does the feed follow, or stand still at a limit of its own?"
			default:
				r.Headline = "Limited as it should be."
			}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Line and feed", Y: instrument.Axis{Label: "pressure", Dimension: quantity.Pressure, Unit: "psi"}, Words: "Feed beside its limits, and the line that feeds it.",
				Bars: []instrument.Bar{{Label: "line", Value: v.N("line"), Text: v.Say(v.N("line"), quantity.Pressure, "psi")}, {Label: "feed", Value: o[0].Value, Low: v.N("low"), High: v.N("high"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}
