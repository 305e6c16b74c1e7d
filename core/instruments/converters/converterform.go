package converters

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// StatorFreewheel reads the hand test of the stator's freewheel.
func StatorFreewheel() instrument.Definition {
	ways := []instrument.Option{{ID: "free", Title: "turns freely"}, {ID: "firm", Title: "is firm"}, {ID: "drags", Title: "turns, but drags"}}
	return instrument.Definition{
		ID: "stator-freewheel", Title: "Stator one-way clutch by hand", Group: "converter", Hand: []string{"hand"},
		Answers: "Does the stator hold one way and run free the other?",
		Source:  "common practice, no source; the inner race is splined to the fixed stator shaft; the stator runs free with the engine and is held against it", Limits: "converter out and drained, splined tool or two fingers in the hub",
		Cautions: []string{instrument.CautionConverter},
		States:   []string{"stator"},
		Inputs: []instrument.Input{instrument.ChoiceIn("turned", "What is turned", instrument.Option{ID: "inner", Title: "the inner race, by a tool in the hub; converter held"}, instrument.Option{ID: "stator", Title: "stator or converter; inner race held"}).Preset("inner").
			Explained("The engine's way as seen from the engine is the other way as seen into the hub: an engine that turns clockwise at its front turns counterclockwise as you look into the hub."),
			instrument.ChoiceIn("with", "Turned the way the engine turns", ways...).Preset("firm"), instrument.ChoiceIn("against", "Turned against it", ways...).Preset("free")},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			return nil, nil
		},
		Interpret: func(v instrument.Values, _ []instrument.Output, r *instrument.Result) {
			// Turning the inner race with the engine turns the stator against it, as the two see each other.
			a, b := v.Chosen("with"), v.Chosen("against")
			if v.Chosen("turned") == "inner" {
				a, b = b, a
			}
			switch {
			case a == "free" && b == "firm":
				r.Headline = "Good: the stator runs free with the engine and is held against it."
			case a == "firm" && b == "firm":
				r.Headline = "Seized: normal stall, no top speed, much heat; the front seal goes next."
			case a == b:
				r.Headline = "Slips both ways: low stall speed and no pull from rest."
			case a == "firm" && b == "free":
				r.Headline = "It holds the wrong way: turned over, or the one-way clutch is in the wrong way round."
			default:
				r.Headline = "It drags: wear or chips in the one-way clutch; do not use it again in an overhaul."
				return // neither of the three states of the finding
			}
			state := map[string]string{"free firm": "one-way", "firm firm": "seized", "free free": "slips", "drags drags": "slips"}[a+" "+b]
			if state != "" {
				l := map[string]float64{"one-way": 0, "slips": 0, "seized": 0}
				l[state] = 1
				r.Stated = []instrument.DerivedReading{{Finding: "stator", State: state, Likelihood: instrument.Soften(l), Value: "by hand"}}
			}
		},
	}
}

// SeatingDepth reads how far the converter sits behind the housing face.
func SeatingDepth() instrument.Definition {
	return instrument.Definition{
		ID: "seating-depth", Title: "Seating depth of the converter", Group: "converter", Hand: []string{"caliper", "straight edge"},
		Answers: "Have the pump's lugs engaged the hub, before the bolts draw it in and break the pump?",
		Source:  "common practice, no source: the same depth as before removal, or the sheet's", Limits: "straight edge across the housing face, three places, mean taken",
		Gauge: "depth gauge, 0.1 mm", States: []string{"seating-depth"}, Cautions: []string{"The converter can slide out and fall: unit level, a strap across. Never draw it in by its bolts."},
		Inputs: []instrument.Input{
			instrument.ListIn("depth", "Depth of the mounting pads behind the face", quantity.Length, "mm", -20, 120).Like("25.2; 25.5; 25.3").Explained("Two or three places round it."),
			instrument.NumberIn("wanted", "Depth that is wanted", quantity.Length, "mm", 1, 120).Preset("25.4 mm").Explained("As measured before removal, or of the sheet."),
			instrument.NumberIn("step", "Depth of one engagement", quantity.Length, "mm", 1, 40).Preset("6 mm").Explained("How far it drops in as lugs or splines engage."),
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u != nil && u.Sheet.Converter != nil && u.Sheet.Converter.Seating != "" {
				w, err := quantity.ParseWindow(u.Sheet.Converter.Seating, quantity.Length, "mm")
				if err == nil {
					d.In("wanted").PutSI((w.Low.SI + w.High.SI) / 2)
				} else if q, err := quantity.Parse(u.Sheet.Converter.Seating, quantity.Length, "mm"); err == nil {
					d.In("wanted").Put(q)
				}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			depths := v.List("depth")
			sum, low, high := 0.0, math.Inf(1), math.Inf(-1)
			for _, x := range depths {
				sum, low, high = sum+x, math.Min(low, x), math.Max(high, x)
			}
			mean := sum / float64(len(depths))
			return []instrument.Output{instrument.Out("missing", "missing", v.N("wanted")-mean, quantity.Length, "mm"), instrument.Out("mean", "mean depth", mean, quantity.Length, "mm"), instrument.Out("spread", "difference round it", high-low, quantity.Length, "mm")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			missing, step := o[0].Value, v.N("step")
			switch {
			case o[2].Value > step/2:
				r.Headline = "It sits crooked: the places differ by " + v.Say(o[2].Value, quantity.Length, "mm") + ". Turn it while pushing, evenly."
			case missing > 0.4*step:
				r.Headline = fmt.Sprintf("Not seated: %s short, %.0f engagement or more to go. Turn while pushing; do not bolt up.", v.Say(missing, quantity.Length, "mm"), math.Max(1, math.Round(missing/step)))
			case missing < -0.4*step:
				r.Headline = "Deeper than wanted by " + v.Say(-missing, quantity.Length, "mm") + ": wrong converter, or measured from another face."
			default:
				r.Headline = "Seated: hub, shafts and pump are engaged."
			}
			// A millimetre stands for the straight edge and the face (common practice, no source).
			if c, err := measure.Compare(missing, instrument.SI(0.5, quantity.Length, "mm"), -1, 0.4*step); err == nil {
				r.Stated = []instrument.DerivedReading{instrument.Derive("seating-depth", []string{"right", "short"}, map[string]float64{"right": c.Inside, "short": c.Above}, v.Say(o[1].Value, quantity.Length, "mm"))}
			}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Depth behind the face", Y: instrument.Axis{Label: "depth", Dimension: quantity.Length, Unit: "mm"}, Words: "Mean depth beside the depth wanted.",
				Bars: []instrument.Bar{{Label: "mean depth", Value: math.Max(0, o[1].Value), Need: v.N("wanted"), Text: v.Say(o[1].Value, quantity.Length, "mm"), Emphasised: true}}}}
		},
	}
}

// Form holds a converter's inner play and its swelling against their limits.
func Form() instrument.Definition {
	return instrument.Definition{
		ID: "converter-form", Title: "Converter: inner play and swelling", Group: "converter", Hand: []string{"dial indicator", "expanding tool", "caliper"},
		Answers: "Is the converter worn inside, or blown up like a balloon?",
		Source:  "the maker's limits; 0.5 mm of play and 0.4 mm of swelling where none are given (common practice, no source)",
		Limits:  "hub upward, turbine lifted by its splines; thickness taken from pads to hub face, at the same place as the size when new",
		Gauge:   "dial indicator, 0.01 mm", Cautions: []string{instrument.CautionConverter}, States: []string{"converter-play", "converter-body"},
		Inputs: []instrument.Input{
			instrument.NumberIn("play", "Inner end play", quantity.Length, "mm", 0, 10).ReadWithin(0.015).Like("0.30"), instrument.NumberIn("most", "Play, at most", quantity.Length, "mm", 0.05, 5).Preset("0.5 mm"),
			instrument.ListIn("thick", "Thickness, pads to hub face", quantity.Length, "mm", 20, 500).Maybe().Explained("Two or three places round it."),
			instrument.NumberIn("new", "Thickness of a sound one", quantity.Length, "mm", 20, 500).Maybe(), instrument.NumberIn("swell", "Swelling, at most", quantity.Length, "mm", 0.05, 5).Preset("0.4 mm"),
		},
		Check: func(v instrument.Values) error {
			switch {
			case v.Has("thick") && !v.Has("new"):
				return &instrument.InputError{Input: "new", Reason: "the thickness has nothing to be held against", Accepted: "the thickness of a sound converter, or no thickness"}
			case v.Has("new") && !v.Has("thick"):
				return &instrument.InputError{Input: "thick", Reason: "no thickness was read", Accepted: "two or three places round it, or no thickness of a sound one"}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			outs := []instrument.Output{instrument.Out("play", "inner end play", v.N("play"), quantity.Length, "mm").AtMost(v.N("most"))}
			if list := v.List("thick"); len(list) > 0 {
				thickest := slices.Max(list) // it swells where it is weakest
				outs = append(outs, instrument.Out("swell", "thicker than a sound one", thickest-v.N("new"), quantity.Length, "mm").AtMost(v.N("swell")), instrument.Out("spread", "difference round it", thickest-slices.Min(list), quantity.Length, "mm"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			c := o[0].Likelihoods("in", "under", "above")
			r.Stated = []instrument.DerivedReading{instrument.Derive("converter-play", []string{"in", "above"}, map[string]float64{"in": c["in"], "above": c["above"]}, v.SayOutput(o[0]))}
			r.Headline = map[string]string{"in": "Inner play inside its limit.", "above": "Too much inner play: thrust washers or bearing inside are worn; metal has been round the unit."}[r.Stated[0].State]
			if len(o) > 1 && o[1].Value > v.N("swell") {
				r.Detail = "Ballooned: line or converter pressure was far too high, or it was driven with the drain back closed. It pushes the crankshaft's thrust bearing: look at that too."
				r.Stated = append(r.Stated, instrument.Derive("converter-body", []string{"balloon", "true", "blue", "crack"}, map[string]float64{"balloon": 0.9, "true": 0.08, "blue": 0.01, "crack": 0.01}, v.SayOutput(o[1])))
			} else if len(o) > 1 {
				r.Detail = "Not swollen."
			}
			bars := instrument.Chart{Kind: "bars", Title: "Beside the limits", Y: instrument.Axis{Label: "", Dimension: quantity.Length, Unit: "mm"}, Words: "Play and swelling beside their limits.", Bars: []instrument.Bar{{Label: "inner play", Value: o[0].Value, High: v.N("most"), Text: v.SayOutput(o[0]), Emphasised: true}}}
			if len(o) > 1 {
				bars.Bars = append(bars.Bars, instrument.Bar{Label: "swelling", Value: math.Max(0, o[1].Value), High: v.N("swell"), Text: v.SayOutput(o[1])})
			}
			r.Figures = []instrument.Chart{bars}
		},
	}
}
