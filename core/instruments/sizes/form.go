package sizes

import (
	"fmt"
	"math"

	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Flatness reads heights along a straight edge or an indicator's path.
func Flatness() instrument.Definition {
	return instrument.Definition{
		ID: "flatness", Title: "Flatness", Group: "measure", Hand: []string{"straight edge", "feeler gauge", "dial indicator"},
		Answers: "How far from flat is this face?", Source: "narrowest band that holds all points (minimum zone, in the sense of ISO 1101)", Limits: "points along one line at equal steps; repeat across and along",
		Gauge:   "feeler gauge, 0.02 mm",
		Inputs:  []instrument.Input{instrument.ListIn("heights", "Heights at equal steps", quantity.Length, "mm", -20, 20).Like("0; 0.02; 0.03; 0.02; 0.01").Explained("Feeler gaps under a straight edge, or readings of an indicator: five or more."), instrument.NumberIn("most", "Most that is allowed", quantity.Length, "mm", 0.001, 5).Preset("0.05 mm")},
		PartsOn: faces("flatness"),
		Fit:     fitFace,
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			h := v.List("heights")
			at := make([]float64, len(h))
			for i := range at {
				at[i] = float64(i)
			}
			f, err := measure.Flatness(at, h)
			if err != nil {
				return nil, instrument.Impossible("heights", err)
			}
			return []instrument.Output{instrument.Out("flatness", "out of flat by", f, quantity.Length, "mm").AtMost(v.N("most"))}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			good := o[0].Value <= v.N("most")
			r.Outputs[0].U = instrument.SI(0.01, quantity.Length, "mm") // a feeler's step, as a rectangular distribution and a bit
			state(r, v, []string{"flat", "warped"})
			r.Headline = map[bool]string{true: "Flat enough: ", false: "Not flat: "}[good] + v.Say(o[0].Value, quantity.Length, "mm") + "."
			s := instrument.Series{Name: "face", Role: "main"}
			for i, h := range v.List("heights") {
				s.Points = append(s.Points, [2]float64{float64(i + 1), h})
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "The face along the line", X: instrument.Axis{Label: "place", Dimension: quantity.Ratio, Unit: ""}, Y: instrument.Axis{Label: "height", Dimension: quantity.Length, Unit: "mm"}, Words: "Heights along the line.", Series: []instrument.Series{s}}}
		},
	}
}

// measuredFaces are what a form is measured on in a unit, with the findings that it states and the limit where the sheet
// gives one.
var measuredFaces = map[string][]struct{ part, title, finding, limit string }{
	"flatness": {{"body", "valve body face", "body-flat", ""}, {"pump", "pump halves", "pump-faces", ""}},
	"runout":   {{"hub", "converter hub", "hub-runout", "hub-runout"}, {"disc", "clutch disc", "disc-runout", ""}},
}

func faces(form string) func(*unitsheet.Unit) []instrument.Option {
	return func(u *unitsheet.Unit) []instrument.Option {
		var out []instrument.Option
		for _, f := range measuredFaces[form] {
			if u != nil {
				out = append(out, instrument.Option{ID: f.part, Title: f.title})
			}
		}
		return out
	}
}

func fitFace(d *instrument.Definition, u *unitsheet.Unit) error {
	for _, f := range measuredFaces[d.ID] {
		if u == nil || f.part != d.Part {
			continue
		}
		d.Title, d.States = d.Title+": "+f.title, []string{f.finding}
		if w := instrument.LimitOf(u, f.limit); w != nil {
			d.In("most").PutSI(w.High.SI)
		}
	}
	return nil
}

// state holds the first output, whose uncertainty was set by hand, against its limit, and states the first of two states
// when it is inside, the second when it is above.
func state(r *instrument.Result, v instrument.Values, states []string) {
	o := &r.Outputs[0]
	c, err := o.Compare()
	if err != nil {
		return // impossible: finite values
	}
	o.Verdict = c.Verdict
	l := map[string]float64{states[0]: 1 - c.Above, states[1]: c.Above}
	for _, f := range v.States {
		r.Stated = append(r.Stated, instrument.Derive(f, states, l, v.SayOutput(*o)))
	}
}

// Coning reads the cone of a plate by its sign.
func Coning() instrument.Definition {
	return instrument.Definition{
		ID: "coning", Title: "Coning of a plate", Group: "measure", Hand: []string{"dial indicator", "surface plate"},
		Answers: "Is the plate coned, which way, and by how much over its whole face?",
		Source:  "mean heights at two diameters; a reaction plate stands some 0.25 mm high toward the clutch when free and lies flat when loaded (common practice, no source)",
		Limits:  "plate free on three equal blocks, face to be read upward; four places at each diameter", Gauge: "dial indicator, 0.01 mm",
		Inputs: []instrument.Input{
			instrument.ListIn("inner", "Heights near the inner edge", quantity.Length, "mm", -20, 20).Like("0.21; 0.19; 0.22; 0.20"), instrument.ListIn("outer", "Heights near the outer edge", quantity.Length, "mm", -20, 20).Like("0; 0.01; 0; 0.01"),
			instrument.NumberIn("inner-at", "Read at diameter, inner", quantity.Length, "mm", 5, 500).Preset("125 mm"), instrument.NumberIn("outer-at", "and outer", quantity.Length, "mm", 6, 600).Preset("175 mm"),
			instrument.NumberIn("inner-edge", "Face from diameter", quantity.Length, "mm", 5, 500).Preset("120 mm"), instrument.NumberIn("outer-edge", "to", quantity.Length, "mm", 6, 600).Preset("180 mm"),
			instrument.NumberIn("wanted", "Wanted: inner edge higher by", quantity.Length, "mm", -5, 5).Preset("0.25 mm").Explained("Minus when it should stand lower; 0 for a flat plate."), instrument.NumberIn("give", "give or take", quantity.Length, "mm", 0.005, 2).Preset("0.08 mm"),
		},
		PartsOn: func(u *unitsheet.Unit) []instrument.Option {
			if u == nil {
				return nil
			}
			out := []instrument.Option{{ID: "reaction", Title: "reaction plate of the converter clutch"}}
			for _, l := range u.Sheet.Limits {
				if l.ID == "plate-coning" {
					out = append(out, instrument.Option{ID: l.ID, Title: l.Name})
				}
			}
			return out
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if d.Part == "reaction" {
				d.States = []string{"cut-coning"}
			}
			if w := instrument.LimitOf(u, d.Part); w != nil {
				d.In("wanted").PutSI((w.Low.SI + w.High.SI) / 2)
				d.In("give").PutSI((w.High.SI - w.Low.SI) / 2)
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			c, err := measure.Cone(v.List("inner"), v.List("outer"), v.N("inner-at")/2, v.N("outer-at")/2, v.N("inner-edge")/2, v.N("outer-edge")/2)
			if err != nil {
				return nil, instrument.Impossible("inner", err)
			}
			return []instrument.Output{instrument.Out("cone", "inner edge higher by", c.Face, quantity.Length, "mm").Within(v.N("wanted")-v.N("give"), v.N("wanted")+v.N("give")), instrument.Out("angle", "angle", c.Angle, quantity.Angle, "°")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			c, want := o[0].Value, v.N("wanted")
			switch {
			case o[0].Verdict == measure.Conforms:
				r.Headline = "As it should be: " + v.Say(c, quantity.Length, "mm") + "."
			case want != 0 && c*want < 0:
				r.Headline = "Coned the wrong way, " + v.Say(c, quantity.Length, "mm") + ": turned over, or warped by heat. It loses contact the harder it is pressed."
			case math.Abs(c) < math.Abs(want):
				r.Headline = "Flatter than it should be: " + v.Say(c, quantity.Length, "mm") + " instead of " + v.Say(want, quantity.Length, "mm") + "."
			default:
				r.Headline = "More coned than it should be: " + v.Say(c, quantity.Length, "mm") + "."
			}
			// Right is high towards the clutch; a fifth of what is wanted is as good as flat (common practice, no source).
			if held, err := measure.Compare(c, instrument.SI(0.01, quantity.Length, "mm"), 0.2*want, math.Max(c, want)+1); err == nil {
				for _, f := range v.States {
					r.Stated = append(r.Stated, instrument.Derive(f, []string{"right", "inverted"}, map[string]float64{"right": held.Inside, "inverted": held.Below}, v.Say(c, quantity.Length, "mm")))
				}
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "The face in section, height exaggerated", X: instrument.Axis{Label: "radius", Dimension: quantity.Length, Unit: "mm"}, Y: instrument.Axis{Label: "height", Dimension: quantity.Length, Unit: "mm"}, Words: "From the inner to the outer edge.",
				Series: []instrument.Series{{Name: "face", Role: "main", Points: [][2]float64{{v.N("inner-edge") / 2, c}, {v.N("outer-edge") / 2, 0}}}, {Name: "wanted", Role: "limit", Points: [][2]float64{{v.N("inner-edge") / 2, want}, {v.N("outer-edge") / 2, 0}}}}}}
		},
	}
}

// Runout splits the readings of one turn.
func Runout() instrument.Definition {
	return instrument.Definition{
		ID: "runout", Title: "Runout, split into its causes", Group: "measure", Hand: []string{"dial indicator"},
		Answers: "Does it run out, and is it off center, oval, or only dented?", Source: "Fourier analysis of one turn: once is eccentric or tilted, twice is oval or bent, the rest is the surface",
		Limits: "six or more readings at equal steps; the shaft must not move along meanwhile", Gauge: "dial indicator, 0.01 mm", Cautions: []string{instrument.CautionTurn},
		Inputs: []instrument.Input{
			instrument.ListIn("readings", "Readings at equal steps round one turn", quantity.Length, "mm", -20, 20).Like("0; 0.03; 0.08; 0.11; 0.12; 0.10; 0.05; 0.01"), instrument.NumberIn("most", "Most that is allowed, full movement", quantity.Length, "mm", 0.001, 10).Preset("0.20 mm"),
			instrument.NumberIn("radius", "Face runout: radius of reading", quantity.Length, "mm", 1, 500).Maybe().Explained("For a face: gives the tilt."),
			instrument.NumberIn("u", "Uncertainty of one reading (±)", quantity.Length, "mm", 0.001, 1).Preset("0.02 mm"),
		},
		PartsOn: faces("runout"),
		Fit:     fitFace,
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			x, err := measure.SplitRunout(v.List("readings"))
			if err != nil {
				return nil, instrument.Impossible("readings", err)
			}
			outs := []instrument.Output{instrument.Out("total", "full movement", x.Total, quantity.Length, "mm").AtMost(v.N("most")), instrument.Out("once", "once in a turn", x.Once, quantity.Length, "mm"), instrument.Out("high", "its high spot, from the first reading", x.HighAt, quantity.Angle, "°"),
				instrument.Out("twice", "twice in a turn", x.Twice, quantity.Length, "mm"), instrument.Out("rest", "the rest", x.Residual, quantity.Length, "mm")}
			if v.Has("radius") {
				outs = append(outs, instrument.Out("tilt", "tilt", math.Atan2(x.Once/2, v.N("radius")), quantity.Angle, "°"))
			}
			return outs, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			// Highest less lowest of many: its uncertainty is that of two readings.
			r.Outputs[0].U = v.N("u") / 2 * math.Sqrt2
			good := "in"
			if len(v.States) > 0 && v.States[0] == "hub-runout" {
				good = "ok"
			}
			state(r, v, []string{good, map[string]string{"ok": "above", "in": "bent"}[good]})
			kind := "eccentric or tilted"
			switch {
			case o[4].Value > o[1].Value && o[4].Value > o[3].Value:
				kind = "dents, burrs or dirt: clean it and read again"
			case o[3].Value > o[1].Value:
				kind = "oval or bent to a saddle"
			}
			r.Headline = v.SayOutput(r.Outputs[0]) + " in all, mostly " + kind + "."
			if o[1].Value >= o[3].Value {
				r.Detail = fmt.Sprintf("The center is off by %s, high spot at %s.", v.Say(o[1].Value/2, quantity.Length, "mm"), v.Say(o[2].Value, quantity.Angle, "°"))
			}
			all, once := instrument.Series{Name: "read", Role: "main"}, instrument.Series{Name: "once in a turn", Role: "other"}
			readings := v.List("readings")
			mean := 0.0
			for _, x := range readings {
				mean += x / float64(len(readings))
			}
			for i, x := range readings {
				a := 2 * math.Pi * float64(i) / float64(len(readings))
				all.Points = append(all.Points, [2]float64{a, x})
				once.Points = append(once.Points, [2]float64{a, mean + o[1].Value/2*math.Cos(a-o[2].Value)})
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Round one turn", X: instrument.Axis{Label: "angle", Dimension: quantity.Angle, Unit: "°"}, Y: instrument.Axis{Label: "indicator", Dimension: quantity.Length, Unit: "mm"}, Words: "Readings, and the part that repeats once in a turn.", Series: []instrument.Series{once, all}}}
		},
	}
}
