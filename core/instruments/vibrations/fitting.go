package vibrations

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/balance"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
)

// Flange finds how a shaft or a converter sits best on its flange.
func Flange() instrument.Definition {
	return instrument.Definition{
		ID: "flange-turn", Title: "Shaft or converter turned on its flange", Group: "vibration", Hand: []string{"vibration meter"},
		Answers: "Unbalances of two parts add up or cancel by how they are bolted together: which place is quietest, and how quiet?",
		Source:  "two vectors: the square of the sum swings once in a turn", Limits: "marked before it is taken off; same speed and place of the meter; three places or more, not all beside each other",
		Gauge: "vibration meter", Cautions: []string{instrument.CautionLift, instrument.CautionRunning},
		Inputs: []instrument.Input{
			instrument.CountIn("holes", "Places on the flange", 3, 12).Preset("4"), instrument.ListIn("place", "Run in place number", quantity.Ratio, "", 1, 12).Like("1; 2; 3").Explained("1 is as found; 2 is turned by one hole."), instrument.ListIn("read", "Vibration in each of these runs", quantity.Ratio, "", 0, 1e6).Like("5.2; 3.4; 2.9"),
		},
		Jumps: true,
		Work: instrument.Works(func(v instrument.Values) ([]float64, []instrument.Output, error) {
			n := v.Count("holes")
			var turned []float64
			for _, p := range v.List("place") {
				if p != math.Round(p) || int(p) > n {
					return nil, nil, &instrument.InputError{Input: "place", Reason: fmt.Sprintf("place %v", p), Accepted: fmt.Sprintf("whole numbers from 1 to %d", n)}
				}
				turned = append(turned, 2*math.Pi*(p-1)/float64(n))
			}
			if len(turned) != len(v.List("read")) {
				return nil, nil, &instrument.InputError{Input: "read", Reason: fmt.Sprintf("%d readings for %d places", len(v.List("read")), len(turned)), Accepted: "one for each place"}
			}
			f, err := balance.FromFlange(turned, v.List("read"))
			if err != nil {
				return nil, nil, instrument.Impossible("place", err)
			}
			by := make([]float64, n)
			best := 0
			for k := range by {
				if by[k] = f.At(2 * math.Pi * float64(k) / float64(n)); by[k] < by[best] {
					best = k
				}
			}
			first := math.Max(by[0], 1e-12)
			return by, []instrument.Output{instrument.Out("best", "quietest place", float64(best+1), quantity.Ratio, "").Counted(), instrument.Out("left", "expected there, of place 1", by[best]/first, quantity.Ratio, "%")}, nil
		}, func(v instrument.Values, by []float64, o []instrument.Output, r *instrument.Result) {
			best := int(o[0].Value)
			r.Headline = fmt.Sprintf("Place %d is quietest: about %s of place 1.", best, v.SayOutput(o[1]))
			if best == 1 {
				r.Headline = "As found it sits best: turning it brings nothing."
			}
			if o[1].Value > 0.6 {
				r.Detail = "Turning alone will not do: balance it there."
			}
			f := instrument.Chart{Kind: "bars", Title: "Vibration by place", Y: instrument.Axis{Label: "as read", Dimension: quantity.Ratio}, Words: "Read or expected vibration in each place."}
			for k, a := range by {
				word := "expected"
				if slices.Contains(v.List("place"), float64(k+1)) {
					word = "run"
				}
				f.Bars = append(f.Bars, instrument.Bar{Label: fmt.Sprintf("place %d, %s", k+1, word), Value: a, Text: v.Sig(a, 3), Emphasised: k+1 == best})
			}
			r.Figures = []instrument.Chart{f}
		}),
	}
}

// OffCentre is what a cover or converter does that sits off its axis.
func OffCentre() instrument.Definition {
	return instrument.Definition{
		ID: "off-center", Title: "Cover, ring or converter off center", Group: "vibration", Hand: []string{"dial indicator", "scales"},
		Answers: "It sits off its axis by this runout: how much unbalance is that, and what mass against it?", Source: "mass × half the runout",
		Limits: "a part that is balanced about its own axis; runout read on a turned face", Gauge: "dial indicator, 0.01 mm", Cautions: []string{instrument.CautionTurn},
		Inputs: []instrument.Input{
			instrument.NumberIn("part", "Mass of the part", quantity.Mass, "kg", 0.05, 200).Preset("6 kg").About(0.2), instrument.NumberIn("runout", "Runout over a turn, full movement", quantity.Length, "mm", 0, 10).Preset("0.40 mm").ReadWithin(0.01),
			instrument.NumberIn("speed", "Speed", quantity.RotationalSpeed, "rpm", 60, 20000).Preset("4500 rpm"), radiusIn("radius", "Radius for a mass against it").Preset("140 mm"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			u := balance.OffCentre(v.N("part"), v.N("runout"))
			return []instrument.Output{instrument.Out("mass", "mass against it", u/v.N("radius"), quantity.Mass, "g"), instrument.Out("force", "force at that speed", balance.Force(u, v.N("speed")), quantity.Force, "N"), instrument.Out("off", "off its axis by", v.N("runout")/2, quantity.Length, "mm")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("It pulls with %s, once in each turn, towards the high spot.", v.SayOutput(o[1]))
			r.Detail = fmt.Sprintf("Center it first: dowels, a clean pilot, bolts drawn in a star. Only what stays is balanced: %s opposite the high spot.", v.SayOutput(o[0]))
		},
	}
}

// DrillDepth takes mass off instead of putting it on.
func DrillDepth() instrument.Definition {
	materials := []struct {
		id, title string
		density   float64
	}{{"steel", "steel", balance.Steel}, {"iron", "cast iron", 7200}, {"aluminum", "aluminum", 2700}}
	options := make([]instrument.Option, len(materials))
	for i, m := range materials {
		options[i] = instrument.Option{ID: m.id, Title: m.title}
	}
	return instrument.Definition{
		ID: "drill-mass", Title: "Mass to drill away", Group: "vibration", Hand: []string{"drill gauge", "scales"},
		Answers: "How deep with this drill takes off that mass?", Source: "volume times density; densities are common practice, no source", Limits: "full diameter of the drill; its cone counts little; never into what is loaded, hollow or welded",
		Gauge: "scales, 0.1 g",
		Inputs: []instrument.Input{
			massIn("mass", "Mass to take off").Preset("3 g").ReadWithin(0.1).Takes("balance-one.mass", "balance-thirds.mass"), instrument.NumberIn("drill", "Drill", quantity.Length, "mm", 1, 40).Preset("8 mm"), instrument.ChoiceIn("of", "Material", options...).Preset("steel"),
			instrument.NumberIn("most", "Deepest that the part allows", quantity.Length, "mm", 0.5, 100).Preset("10 mm"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			density := float64(balance.Steel)
			for _, m := range materials {
				if m.id == v.Chosen("of") {
					density = m.density
				}
			}
			d := balance.Depth(v.N("mass"), v.N("drill"), density)
			return []instrument.Output{instrument.Out("depth", "depth", d, quantity.Length, "mm").AtMost(v.N("most")), instrument.Out("holes", "holes of the deepest", math.Ceil(d/v.N("most")-1e-9), quantity.Ratio, "").Counted()}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = "Drill " + v.SayOutput(o[0]) + " deep, opposite to where the mass would go on."
			if o[0].Value > v.N("most") {
				r.Headline = fmt.Sprintf("Too deep for one: %s holes side by side.", v.SayOutput(o[1]))
			}
		},
	}
}
