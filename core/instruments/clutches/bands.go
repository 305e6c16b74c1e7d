package clutches

import (
	"fmt"
	"math"

	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// BandAdjust turns turns of the adjuster into free play at the band, against the sheet's turns.
func BandAdjust() instrument.Definition {
	return instrument.Definition{
		ID: "band-adjust", Title: "Band adjuster: turns and free play", Group: "clutches", Hand: []string{"torque wrench", "wrench"},
		Answers: "Is the band adjusted as it should be, and what do the turns mean at the drum?",
		Source:  "pitch times turns over the lever; windows of the unit sheet; what is found is counted from tight (common practice, no source)",
		Limits:  "tightened first to the torque of the sheet; an anchor or strut that is broken lets it turn further",
		Gauge:   "counted to a quarter turn", Cautions: []string{"Hold the screw while the lock nut is tightened: a band that is too tight burns in a mile."},
		Inputs: []instrument.Input{
			instrument.NumberIn("turns", "Backed off from tight", quantity.Angle, "turn", 0, 20).About(0.06).Like("2 turn"),
			instrument.NumberIn("low", "Wanted, at least", quantity.Angle, "turn", 0, 20).Preset("1.9 turn"),
			instrument.NumberIn("high", "and at most", quantity.Angle, "turn", 0, 20).Preset("2.1 turn"),
			instrument.NumberIn("pitch", "Pitch of the adjuster", quantity.Length, "mm", 0.2, 5).Preset("1.25 mm"),
			instrument.NumberIn("lever", "Lever: band end for each millimeter at the screw", quantity.Ratio, "", 0.1, 10).Preset("1"),
			instrument.NumberIn("drum", "Drum diameter", quantity.Length, "mm", 40, 500).Preset("132 mm"),
			instrument.NumberIn("wrap", "Angle of contact", quantity.Angle, "°", 60, 900).Preset("310 °"),
		},
		PartsOn: instrument.Elements("band"),
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			e, ok := instrument.SheetElement(d, u)
			if !ok {
				return nil
			}
			d.Title, d.States = "Adjuster: "+e.Name, []string{"band-turns." + e.ID}
			d.In("drum").Default, d.In("wrap").Default = e.Band.Drum, e.Band.Wrap
			if w := instrument.LimitOf(u, "band-turns"); w != nil {
				d.In("low").PutSI(w.Low.SI)
				d.In("high").PutSI(w.High.SI)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if err := instrument.Ordered(v, "low", "high"); err != nil {
				return nil, err
			}
			end := v.N("turns") / (2 * math.Pi) * v.N("pitch") * v.N("lever")
			// A band that opens by this much at its end stands off the drum evenly: end = wrap · gap.
			return []instrument.Output{instrument.Out("turns", "backed off", v.N("turns"), quantity.Angle, "turn").Within(v.N("low"), v.N("high")),
				instrument.Out("end", "free play at the end of the band", end, quantity.Length, "mm"), instrument.Out("gap", "gap round the drum", end/v.N("wrap"), quantity.Length, "mm")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = map[measure.Verdict]string{
				measure.Conforms:   "Adjusted as it should be.",
				measure.Below:      "Too tight: it drags on the drum and burns.",
				measure.Above:      "Too loose: late, soft, and it may run out of servo travel.",
				measure.CannotTell: "At an end of what is wanted: count again from tight.",
			}[o[0].Verdict]
			r.Detail = fmt.Sprintf("A quarter turn moves the end by %s.", v.Say(v.N("pitch")*v.N("lever")/4, quantity.Length, "mm"))
			l := o[0].Likelihoods("right", "tight", "loose")
			for _, f := range v.States {
				r.Stated = append(r.Stated, instrument.Derive(f, []string{"right", "off"}, map[string]float64{"right": l["right"], "off": l["tight"] + l["loose"]}, v.SayOutput(o[0])))
			}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Turns from tight", Y: instrument.Axis{Label: "turns", Dimension: quantity.Angle, Unit: "turn"}, Words: "Turns found beside those wanted.",
				Bars: []instrument.Bar{{Label: "found", Value: o[0].Value, Low: v.N("low"), High: v.N("high"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}

// Servo measures a servo piston: is it the right one, and does its pin leave the right travel?
func Servo() instrument.Definition {
	return instrument.Definition{
		ID: "servo", Title: "Servo: size and travel", Group: "clutches", Hand: []string{"caliper", "depth gauge"},
		Answers: "Is this the right servo, and does its pin leave the travel that the band needs?",
		Source:  "areas of circles; window of the unit sheet for the travel; one size up is some tenth more area (common practice, no source)",
		Limits:  "apply side; measured over the piston, not over its seals", Gauge: "caliper, 0.05 mm",
		Cautions: []string{"The servo cover is under spring load: press it in before the ring comes out."},
		Inputs: []instrument.Input{
			instrument.NumberIn("piston", "Piston diameter", quantity.Length, "mm", 5, 250).ReadWithin(0.03).Like("74.0"),
			instrument.NumberIn("rod", "Rod or inner diameter on the apply side", quantity.Length, "mm", 0, 200).ReadWithin(0.03).Maybe(),
			instrument.NumberIn("wanted", "Area of the sheet", quantity.Area, "cm²", 1, 500).Preset("43 cm²").About(0.3),
			instrument.NumberIn("travel", "Travel to band tight", quantity.Length, "mm", 0, 40).ReadWithin(0.03).Maybe().Like("2.6"),
			instrument.NumberIn("low", "Travel, at least", quantity.Length, "mm", 0, 40).Preset("2.0 mm"), instrument.NumberIn("high", "and at most", quantity.Length, "mm", 0, 40).Preset("3.2 mm"),
			instrument.NumberIn("lever", "Lever: force at the band for each newton at the servo", quantity.Ratio, "", 0.2, 10).Preset("1.3"),
		},
		PartsOn: instrument.Elements("band"),
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			e, ok := instrument.SheetElement(d, u)
			if !ok {
				return nil
			}
			d.Title, d.States = "Servo: "+e.Name, []string{"servo-size." + e.ID, "servo-pin." + e.ID}
			d.In("wanted").Default, d.In("lever").Default = e.Band.Servo, fmt.Sprint(e.Band.Lever)
			if area, err := quantity.Parse(e.Band.Servo, quantity.Area, "cm²"); err == nil {
				d.In("piston").Example = fmt.Sprintf("%.1f mm", 1e3*math.Sqrt(4*area.SI/math.Pi))
			}
			if w := instrument.LimitOf(u, "servo-travel-"+e.ID); w != nil {
				d.In("low").PutSI(w.Low.SI)
				d.In("high").PutSI(w.High.SI)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if v.N("rod") >= v.N("piston") {
				return nil, &instrument.InputError{Input: "rod", Reason: "not under the piston's diameter", Accepted: "less than " + v.Say(v.N("piston"), quantity.Length, "mm")}
			}
			if err := instrument.Ordered(v, "low", "high"); err != nil {
				return nil, err
			}
			area := math.Pi / 4 * (v.N("piston")*v.N("piston") - v.N("rod")*v.N("rod"))
			outs := []instrument.Output{instrument.Out("area", "apply area", area, quantity.Area, "cm²").Within(0.96*v.N("wanted"), 1.04*v.N("wanted")), instrument.Out("force", "force against the sheet's", area/v.N("wanted"), quantity.Ratio, "%")}
			if v.Has("travel") {
				outs = append(outs, instrument.Out("travel", "travel", v.N("travel"), quantity.Length, "mm").Within(v.N("low"), v.N("high")), instrument.Out("end", "at the end of the band", v.N("travel")/v.N("lever"), quantity.Length, "mm"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			size := o[0].Likelihoods("right", "small", "large")
			r.Headline = map[measure.Verdict]string{
				measure.Conforms:   "The right size.",
				measure.Below:      "Smaller than the sheet's: less force, it slips first under load.",
				measure.Above:      "Larger than the sheet's: more force, harsher, and its pin may differ.",
				measure.CannotTell: "Between two sizes: measure again, square across.",
			}[o[0].Verdict]
			order := []string{"right", "other"}
			readings := []map[string]float64{{"right": size["right"], "other": size["small"] + size["large"]}}
			values := []string{v.SayOutput(o[0])}
			if len(o) > 2 {
				t := o[2].Likelihoods("right", "long", "short")
				readings, values = append(readings, map[string]float64{"right": t["right"] + t["long"], "short": t["short"]}), append(values, v.SayOutput(o[2]))
				r.Detail = map[measure.Verdict]string{
					measure.Conforms:   "The travel is inside its window.",
					measure.Below:      "Too little travel: the pin is long, and the band drags.",
					measure.Above:      "Too much travel: the pin is short, or the band worn; it may not tighten at all.",
					measure.CannotTell: "The travel is near an end of its window.",
				}[o[2].Verdict]
			}
			for i, f := range v.States {
				if i < len(readings) {
					r.Stated = append(r.Stated, instrument.Derive(f, order, readings[i], values[i]))
				}
				order = []string{"right", "short"}
			}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Apply area", Y: instrument.Axis{Label: "area", Dimension: quantity.Area, Unit: "cm²"}, Words: "Area measured beside the sheet's.",
				Bars: []instrument.Bar{{Label: "this servo", Value: o[0].Value, Need: v.N("wanted"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}
