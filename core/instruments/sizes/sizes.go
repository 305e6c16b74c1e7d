package sizes

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// usual is the usual gauge of a dimension with its standard uncertainty, from its resolution as a rectangular
// distribution (JCGM 100, 4.3.7) and its maker's tolerance; common practice, no source.
var usual = map[quantity.Dimension]struct {
	words string
	unit  string
	u     float64 // in the unit
	most  float64 // that makes sense, in the unit
}{
	quantity.Length:   {"feeler or dial gauge, 0.01 mm", "mm", 0.0153, 500},
	quantity.Pressure: {"pressure gauge, 1 psi", "psi", 1.04, 1500},
	quantity.Torque:   {"torque wrench, 2 %", "N·m", 0.5, 5000},
	quantity.Angle:    {"angle gauge, 0.5°", "°", 0.5, 720},
	quantity.Force:    {"spring scale, 0.5 N", "N", 0.5, 50000},
	quantity.Flow:     {"jug and stopwatch", "L/min", 0.1, 100},
}

// Window holds one measured value against a limit, of the sheet or typed.
func Window() instrument.Definition {
	return instrument.Definition{
		ID: "window", Title: "Value in its window", Group: "measure", Hand: []string{"any gauge", "feeler gauge", "dial indicator", "caliper"},
		Answers: "Is it inside its window, and can this gauge tell?",
		Source:  "ISO 14253-1 guard bands; JCGM 100 for the gauge", Limits: "one value; repeat it when it lies near a limit",
		Inputs: []instrument.Input{{ID: "value", Label: "Value", Kind: instrument.Number}, {ID: "low", Label: "Window, low end", Kind: instrument.Number}, {ID: "high", Label: "Window, high end", Kind: instrument.Number}},
		PartsOn: func(u *unitsheet.Unit) []instrument.Option {
			if u != nil {
				var out []instrument.Option
				for _, l := range u.Sheet.Limits {
					if _, known := usual[u.Limits[l.ID].Low.Dimension]; known {
						out = append(out, instrument.Option{ID: l.ID, Title: l.Name})
					}
				}
				if len(out) > 0 {
					return out
				}
			}
			return []instrument.Option{{ID: "length", Title: "a length"}, {ID: "pressure", Title: "a pressure"}, {ID: "torque", Title: "a torque"}, {ID: "angle", Title: "an angle"}, {ID: "force", Title: "a force"}, {ID: "flow", Title: "a flow"}}
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			dim := quantity.Dimension(d.Part)
			w := instrument.LimitOf(u, d.Part)
			if w != nil {
				dim = w.Low.Dimension
				for _, l := range u.Sheet.Limits {
					if l.ID == d.Part {
						d.Title = strings.ToUpper(l.Name[:1]) + l.Name[1:]
					}
				}
				d.States = []string{d.Part}
			}
			g := usual[dim]
			d.Gauge = g.words
			for i, in := range d.Inputs {
				made := instrument.NumberIn(in.ID, in.Label, dim, g.unit, -g.most, g.most)
				if i == 0 {
					made = made.ReadWithin(g.u).Like("1.42")
					made.Window = w
					if w != nil && w.Low.SI >= 0 {
						made.Low = 0 // a clearance, a runout, a pressure: there is no less than none
					}
				}
				d.Inputs[i] = made
			}
			d.In("low").Example, d.In("high").Example = "1.2", "1.8"
			if w != nil {
				d.Fix(map[string]float64{"low": w.Low.SI, "high": w.High.SI})
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if v.N("low") > v.N("high") {
				return nil, &instrument.InputError{Input: "high", Reason: "under the low end", Accepted: "a window with its high end above its low end"}
			}
			// The dimension is that of the inputs as they were fitted.
			o := instrument.Out("value", "value", v.N("value"), v.DimensionOf("value"), v.UnitOf("value"))
			if v.N("low") == 0 { // runout, slack: nothing at all is never too little
				return []instrument.Output{o.AtMost(v.N("high"))}, nil
			}
			return []instrument.Output{o.Within(v.N("low"), v.N("high"))}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = instrument.VerdictWords(v.Title, o[0].Verdict)
			at := "it has no width"
			if v.N("high") > v.N("low") {
				at = fmt.Sprintf("%.0f %% of the way from its low end to its high end", 100*(o[0].Value-v.N("low"))/(v.N("high")-v.N("low")))
			}
			r.Detail = fmt.Sprintf("Window %s to %s; %s.", v.Say(v.N("low"), o[0].Dimension, o[0].Unit), v.Say(v.N("high"), o[0].Dimension, o[0].Unit), at)
			r.Points = []instrument.Point{{Input: "value", Value: quantity.Quantity{SI: o[0].Value, Dimension: o[0].Dimension}, Verdict: string(o[0].Verdict)}}
			l, states := o[0].Likelihoods("ok", "below", "above"), []string{"ok", "below", "above"}
			if v.N("low") == 0 { // nothing lies below it
				l, states = map[string]float64{"ok": l["ok"] + l["below"], "above": l["above"]}, []string{"ok", "above"}
			}
			for _, f := range v.States {
				r.Stated = append(r.Stated, instrument.Derive(f, states, l, v.SayOutput(o[0])))
			}
		},
	}
}

// SelectiveFit chooses from the thicknesses on hand.
func SelectiveFit() instrument.Definition {
	return instrument.Definition{
		ID: "selective-fit", Title: "Selective fit: plates, rings, shims, washers", Group: "measure", Hand: []string{"micrometer", "feeler gauge", "dial indicator"},
		Answers: "Which of the thicknesses on hand bring clearance or end play nearest the middle? If none does, what is missing?",
		Source:  "every way to fill the places is counted, so that none is proved", Limits: "thicknesses as measured; up to 14 places and three million ways",
		Gauge: "micrometer, 0.01 mm", Jumps: true,
		Inputs: []instrument.Input{
			instrument.NumberIn("room", "Clearance or end play now", quantity.Length, "mm", -20, 100).ReadWithin(0.015).Like("1.05").Takes("window:clearance-{part}.value", "stack-clearance:{part}.clearance"),
			instrument.ListIn("in", "What is in now, at the places to choose", quantity.Length, "mm", 0.05, 50).Like("1.80 ×4").Explained("The rings, shims or steel plates that may be exchanged: 1.80 ×4."),
			instrument.ListIn("hand", "On hand", quantity.Length, "mm", 0.05, 50).Like("1.60; 1.70; 1.80; 1.90").Explained("Every thickness that there is; ×3 for three pieces of it. What is in now counts as on hand."),
			instrument.ChoiceIn("stock", "Pieces", instrument.Option{ID: "many", Title: "as many of each as wanted"}, instrument.Option{ID: "counted", Title: "only as many as written"}).Preset("many"),
			instrument.NumberIn("low", "Window, low end", quantity.Length, "mm", 0, 50).Preset("1.2 mm"),
			instrument.NumberIn("high", "Window, high end", quantity.Length, "mm", 0, 50).Preset("1.8 mm"),
			instrument.NumberIn("target", "Aim for", quantity.Length, "mm", 0, 50).Maybe().Explained("The middle of the window when left out."),
		},
		PartsOn: instrument.Elements("plates"),
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if e, ok := instrument.SheetElement(d, u); ok {
				d.Title = "Selective fit: " + e.Name
				if w := instrument.LimitOf(u, "clearance-"+e.ID); w != nil {
					d.In("low").PutSI(w.Low.SI)
					d.In("high").PutSI(w.High.SI)
				}
				if e.Plates.Steel > 0 {
					d.In("in").Default = fmt.Sprintf("%s ×%d", e.Plates.SteelThick, e.Plates.Steel)
				}
			}
			return nil
		},
		Work: instrument.Works(func(v instrument.Values) (fitted, []instrument.Output, error) {
			f, kinds, err := fitOf(v)
			if err != nil {
				return fitted{}, nil, err
			}
			best := f.Nearest
			if f.Within > 0 {
				best = f.Best[0]
			}
			return fitted{f, kinds}, []instrument.Output{instrument.Out("room", "clearance it gives", best.Room, quantity.Length, "mm").Within(v.N("low"), v.N("high")), instrument.Out("ways", "ways within the window", float64(f.Within), quantity.Ratio, "").Counted()}, nil
		}, func(v instrument.Values, x fitted, o []instrument.Output, r *instrument.Result) {
			f, kinds := x.fits, x.kinds
			r.Outputs[0].U = v.U("room")
			say := func(x measure.Fit) string {
				var parts []string
				for i, n := range x.Pieces[0] {
					if n > 0 {
						parts = append(parts, fmt.Sprintf("%d × %s", n, v.Say(kinds[i], quantity.Length, "mm")))
					}
				}
				return strings.Join(parts, ", ")
			}
			if f.Within == 0 {
				gap := v.N("low") - f.Nearest.Room
				miss := "under"
				if gap < 0 {
					gap, miss = f.Nearest.Room-v.N("high"), "over"
				}
				r.Headline = "None of the " + fmt.Sprint(f.Tried) + " ways is inside the window."
				r.Detail = fmt.Sprintf("The nearest, %s, gives %s: %s %s the window.", say(f.Nearest), v.Say(f.Nearest.Room, quantity.Length, "mm"), v.Say(gap, quantity.Length, "mm"), miss)
				return
			}
			r.Headline = "Take " + say(f.Best[0]) + ": " + v.Say(f.Best[0].Room, quantity.Length, "mm") + "."
			r.Detail = fmt.Sprintf("%d of %d ways are inside the window; this is the nearest to what is aimed for.", f.Within, f.Tried)
			bars := instrument.Chart{Kind: "bars", Title: "The best ways", Y: instrument.Axis{Label: "clearance", Dimension: quantity.Length, Unit: "mm"}, Words: "Clearance of the best ways within the window."}
			for i, x := range f.Best[:min(6, len(f.Best))] {
				bars.Bars = append(bars.Bars, instrument.Bar{Label: say(x), Value: x.Room, Low: v.N("low"), High: v.N("high"), Text: v.Say(x.Room, quantity.Length, "mm"), Emphasised: i == 0})
			}
			r.Figures = []instrument.Chart{bars}
		}),
	}
}

// fitted are the ways to fill a room, with the thicknesses in the order of their pieces.
type fitted struct {
	fits  measure.Fits
	kinds []float64
}

// fitOf counts the ways; it also returns the thicknesses in the order of the pieces.
func fitOf(v instrument.Values) (measure.Fits, []float64, error) {
	in, hand := v.List("in"), v.List("hand")
	if err := instrument.Ordered(v, "low", "high"); err != nil {
		return measure.Fits{}, nil, err
	}
	target := (v.N("low") + v.N("high")) / 2
	if v.Has("target") {
		target = v.N("target")
		if target < v.N("low") || target > v.N("high") {
			return measure.Fits{}, nil, &instrument.InputError{Input: "target", Reason: "outside the window", Accepted: "a value within it"}
		}
	}
	depth := v.N("room")
	for _, t := range in {
		depth += t
	}
	if depth <= 0 {
		return measure.Fits{}, nil, &instrument.InputError{Input: "room", Reason: "less than nothing is left even with all pieces out", Accepted: "a clearance that can be"}
	}
	var kinds []float64
	var stock []int
	for _, t := range append(slices.Clone(in), hand...) {
		i := slices.IndexFunc(kinds, func(k float64) bool { return math.Abs(k-t) < 1e-9 })
		if i < 0 {
			kinds, stock = append(kinds, t), append(stock, 0)
			i = len(kinds) - 1
		}
		stock[i]++
	}
	if v.Chosen("stock") == "many" {
		for i := range stock {
			stock[i] = -1
		}
	}
	f, err := measure.SelectiveFit(depth, []measure.Place{{Count: len(in), Thickness: kinds, Stock: stock}}, v.N("low"), v.N("high"), target)
	if err != nil {
		return f, kinds, instrument.Impossible("in", err)
	}
	return f, kinds, nil
}

// WearLeft says how long a lining lasts at the rate it wore.
func WearLeft() instrument.Definition {
	return instrument.Definition{
		ID: "wear-left", Title: "Wear, and the distance that is left", Group: "measure", Hand: []string{"caliper", "micrometer"},
		Answers: "How fast has it worn, and how far does it last?", Source: "even wear, carried on", Limits: "same driver, same use; the last tenth goes faster", Gauge: "caliper, 0.05 mm",
		Inputs: []instrument.Input{
			instrument.NumberIn("new", "Size when new", quantity.Length, "mm", 0.1, 200).Preset("8.40 mm").About(0.03), instrument.NumberIn("now", "Size now", quantity.Length, "mm", 0, 200).ReadWithin(0.03).Like("7.60"), instrument.NumberIn("limit", "Limit", quantity.Length, "mm", 0, 200).Preset("6.90 mm").Explained("For rivets: the size at which they are flush."),
			instrument.NumberIn("distance", "Distance so far", quantity.Distance, "km", 1, 3_000_000).Preset("120000 km"),
		},
		PartsOn: func(u *unitsheet.Unit) []instrument.Option {
			var out []instrument.Option
			if u != nil {
				for _, l := range u.Sheet.Limits {
					if l.ID == "disc-thick" || l.ID == "rivet-depth" {
						out = append(out, instrument.Option{ID: l.ID, Title: l.Name})
					}
				}
			}
			return out
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if w := instrument.LimitOf(u, d.Part); w != nil && d.Part != "" {
				d.In("new").PutSI(w.High.SI)
				d.In("limit").PutSI(w.Low.SI)
				d.States = []string{d.Part}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			w, err := measure.WearOut(v.N("new"), v.N("now"), v.N("limit"), v.N("distance"))
			if err != nil {
				return nil, instrument.Impossible("now", err)
			}
			return []instrument.Output{instrument.Out("left", "distance left", w.Left, quantity.Distance, "km"), instrument.Out("used", "used up", w.Used, quantity.Ratio, "%"), instrument.Out("rate", "worn in each 10,000 km", w.Rate*1e7, quantity.Length, "mm")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			switch {
			case o[0].Value == 0:
				r.Headline = "It is at its limit: replace it."
			case o[0].Value < 0.15*v.N("distance"):
				r.Headline = "Nearly done: " + v.SayOutput(o[0]) + " left at this rate. With everything apart, replace it."
			default:
				r.Headline = v.SayOutput(o[0]) + " left at this rate."
			}
			r.Figures = []instrument.Chart{{Kind: "curve", Title: "Size over distance", X: instrument.Axis{Label: "distance", Dimension: quantity.Distance, Unit: "km"}, Y: instrument.Axis{Label: "size", Dimension: quantity.Length, Unit: "mm"}, Words: "From new over now to the limit.",
				Series: []instrument.Series{{Name: "worn so far", Role: "main", Points: [][2]float64{{0, v.N("new")}, {v.N("distance"), v.N("now")}}}, {Name: "to come", Role: "other", Points: [][2]float64{{v.N("distance"), v.N("now")}, {v.N("distance") + o[0].Value, math.Min(v.N("now"), v.N("limit"))}}}, {Name: "limit", Role: "limit", Points: [][2]float64{{0, v.N("limit")}, {v.N("distance") + o[0].Value, v.N("limit")}}}}}}
			c, err := measure.Compare(v.N("now"), v.U("now"), v.N("limit"), v.N("new"))
			for _, f := range v.States {
				if err != nil {
					break
				}
				l := map[string]float64{"ok": c.Inside + c.Above, "below": c.Below, "above": 0}
				r.Stated = append(r.Stated, instrument.Derive(f, []string{"ok", "below"}, l, v.Say(v.N("now"), quantity.Length, "mm")))
			}
		},
	}
}
