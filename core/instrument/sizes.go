package instrument

import (
	"fmt"
	"math"
	"slices"
	"strings"

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

// window holds one measured value against a limit, of the sheet or typed.
func window() Definition {
	return Definition{
		ID: "window", Title: "Value in its window", Group: "measure", Hand: []string{"any gauge", "feeler gauge", "dial indicator", "caliper"},
		Answers: "Is it inside its window, and can this gauge tell?",
		Source:  "ISO 14253-1 guard bands; JCGM 100 for the gauge", Limits: "one value; repeat it when it lies near a limit",
		Inputs: []Input{{ID: "value", Label: "Value", Kind: Number}, {ID: "low", Label: "Window, low end", Kind: Number}, {ID: "high", Label: "Window, high end", Kind: Number}},
		parts: func(u *unitsheet.Unit) []Option {
			if u != nil {
				var out []Option
				for _, l := range u.Sheet.Limits {
					if _, known := usual[u.Limits[l.ID].Low.Dimension]; known {
						out = append(out, Option{l.ID, l.Name})
					}
				}
				if len(out) > 0 {
					return out
				}
			}
			return []Option{{"length", "a length"}, {"pressure", "a pressure"}, {"torque", "a torque"}, {"angle", "an angle"}, {"force", "a force"}, {"flow", "a flow"}}
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			dim := quantity.Dimension(d.Part)
			w := limitOf(u, d.Part)
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
				made := num(in.ID, in.Label, dim, g.unit, -g.most, g.most)
				if i == 0 {
					made = made.read(g.u).like("1.42")
					made.Window = w
					if w != nil && w.Low.SI >= 0 {
						made.Low = 0 // a clearance, a runout, a pressure: there is no less than none
					}
				}
				d.Inputs[i] = made
			}
			d.input("low").Example, d.input("high").Example = "1.2", "1.8"
			if w != nil {
				d.fix(map[string]float64{"low": w.Low.SI, "high": w.High.SI})
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if v.N("low") > v.N("high") {
				return nil, &InputError{"high", "under the low end", "a window with its high end above its low end"}
			}
			// The dimension is that of the inputs as they were fitted.
			o := out("value", "value", v.N("value"), v.dimension("value"), v.unit("value"))
			if v.N("low") == 0 { // runout, slack: nothing at all is never too little
				return []Output{o.atMost(v.N("high"))}, nil
			}
			return []Output{o.within(v.N("low"), v.N("high"))}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			r.Headline = verdict(v.title, o[0].Verdict)
			at := "it has no width"
			if v.N("high") > v.N("low") {
				at = fmt.Sprintf("%.0f %% of the way from its low end to its high end", 100*(o[0].Value-v.N("low"))/(v.N("high")-v.N("low")))
			}
			r.Detail = fmt.Sprintf("Window %s to %s; %s.", v.Say(v.N("low"), o[0].Dimension, o[0].Unit), v.Say(v.N("high"), o[0].Dimension, o[0].Unit), at)
			r.Points = []Point{{"value", quantity.Quantity{SI: o[0].Value, Dimension: o[0].Dimension}, string(o[0].Verdict)}}
			l := o[0].likelihoods("ok", "below", "above")
			for _, f := range v.states {
				r.Stated = append(r.Stated, stated(f, []string{"ok", "below", "above"}, l, v.SayOutput(o[0])))
			}
		},
	}
}

// selectiveFit chooses from the thicknesses on hand.
func selectiveFit() Definition {
	return Definition{
		ID: "selective-fit", Title: "Selective fit: plates, rings, shims, washers", Group: "measure", Hand: []string{"micrometer", "feeler gauge", "dial indicator"},
		Answers: "Which of the thicknesses on hand bring clearance or end play nearest the middle, and if none does, what is missing?",
		Source:  "every way to fill the places is counted, so that none is proved", Limits: "thicknesses as measured; up to 14 places and three million ways",
		Gauge: "micrometer, 0.01 mm", jumps: true,
		Inputs: []Input{
			num("room", "Clearance or end play now", quantity.Length, "mm", -20, 100).read(0.015).like("1.05").from("window:clearance-{part}.value", "stack-clearance:{part}.clearance"),
			list("in", "What is in now, at the places to choose", quantity.Length, "mm", 0.05, 50).like("1.80 ×4").help("The rings, shims or steel plates that may be exchanged: 1.80 ×4."),
			list("hand", "On hand", quantity.Length, "mm", 0.05, 50).like("1.60; 1.70; 1.80; 1.90").help("Every thickness that there is; ×3 for three pieces of it. What is in now counts as on hand."),
			choice("stock", "Pieces", Option{"many", "as many of each as wanted"}, Option{"counted", "only as many as written"}).preset("many"),
			num("low", "Window, low end", quantity.Length, "mm", 0, 50).preset("1.2 mm"),
			num("high", "Window, high end", quantity.Length, "mm", 0, 50).preset("1.8 mm"),
			num("target", "Aim for", quantity.Length, "mm", 0, 50).optional().help("The middle of the window when left out."),
		},
		parts: elements("plates"),
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if e, ok := sheetElement(d, u); ok {
				d.Title = "Selective fit: " + e.Name
				if w := limitOf(u, "clearance-"+e.ID); w != nil {
					d.input("low").putSI(w.Low.SI)
					d.input("high").putSI(w.High.SI)
				}
				if e.Plates.Steel > 0 {
					d.input("in").Default = fmt.Sprintf("%s ×%d", e.Plates.SteelThick, e.Plates.Steel)
				}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			f, _, err := fitOf(v)
			if err != nil {
				return nil, err
			}
			best := f.Nearest
			if f.Within > 0 {
				best = f.Best[0]
			}
			return []Output{out("room", "clearance it gives", best.Room, quantity.Length, "mm").within(v.N("low"), v.N("high")), out("ways", "ways within the window", float64(f.Within), quantity.Ratio, "").whole()}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			f, kinds, err := fitOf(v)
			if err != nil {
				return // impossible: computed before
			}
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
			bars := Chart{Kind: "bars", Title: "The best ways", Y: Axis{"clearance", quantity.Length, "mm"}, Words: "Clearance of the best ways within the window."}
			for i, x := range f.Best[:min(6, len(f.Best))] {
				bars.Bars = append(bars.Bars, Bar{Label: say(x), Value: x.Room, Low: v.N("low"), High: v.N("high"), Text: v.Say(x.Room, quantity.Length, "mm"), Emphasised: i == 0})
			}
			r.Figures = []Chart{bars}
		},
	}
}

// fitOf counts the ways; it also returns the thicknesses in the order of the pieces.
func fitOf(v Values) (measure.Fits, []float64, error) {
	in, hand := v.List("in"), v.List("hand")
	if err := ordered(v, "low", "high"); err != nil {
		return measure.Fits{}, nil, err
	}
	target := (v.N("low") + v.N("high")) / 2
	if v.Has("target") {
		target = v.N("target")
		if target < v.N("low") || target > v.N("high") {
			return measure.Fits{}, nil, &InputError{"target", "outside the window", "a value within it"}
		}
	}
	depth := v.N("room")
	for _, t := range in {
		depth += t
	}
	if depth <= 0 {
		return measure.Fits{}, nil, &InputError{"room", "less than nothing is left even with all pieces out", "a clearance that can be"}
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
		return f, kinds, impossible("in", err)
	}
	return f, kinds, nil
}

// flatness reads heights along a straight edge or an indicator's path.
func flatness() Definition {
	return Definition{
		ID: "flatness", Title: "Flatness", Group: "measure", Hand: []string{"straight edge", "feeler gauge", "dial indicator"},
		Answers: "How far from flat is this face?", Source: "narrowest band that holds all points (minimum zone, in the sense of ISO 1101)", Limits: "points along one line at equal steps; repeat across and along",
		Gauge:  "feeler gauge, 0.02 mm",
		Inputs: []Input{list("heights", "Heights at equal steps", quantity.Length, "mm", -20, 20).like("0; 0.02; 0.03; 0.02; 0.01").help("Feeler gaps under a straight edge, or readings of an indicator: five or more."), num("most", "Most that is allowed", quantity.Length, "mm", 0.001, 5).preset("0.05 mm")},
		parts:  faces("flatness"),
		fit:    fitFace,
		compute: func(v Values) ([]Output, error) {
			h := v.List("heights")
			at := make([]float64, len(h))
			for i := range at {
				at[i] = float64(i)
			}
			f, err := measure.Flatness(at, h)
			if err != nil {
				return nil, impossible("heights", err)
			}
			return []Output{out("flatness", "out of flat by", f, quantity.Length, "mm").atMost(v.N("most"))}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			good := o[0].Value <= v.N("most")
			r.Outputs[0].U = si(0.01, quantity.Length, "mm") // a feeler's step, as a rectangular distribution and a bit
			r.state(v, []string{"flat", "warped"})
			r.Headline = map[bool]string{true: "Flat enough: ", false: "Not flat: "}[good] + v.Say(o[0].Value, quantity.Length, "mm") + "."
			s := Series{Name: "face", Role: "main"}
			for i, h := range v.List("heights") {
				s.Points = append(s.Points, [2]float64{float64(i + 1), h})
			}
			r.Figures = []Chart{{Kind: "curve", Title: "The face along the line", X: Axis{"place", quantity.Ratio, ""}, Y: Axis{"height", quantity.Length, "mm"}, Words: "Heights along the line.", Series: []Series{s}}}
		},
	}
}

// measuredFaces are what a form is measured on in a unit, with the findings that it states and the limit where the sheet
// gives one.
var measuredFaces = map[string][]struct{ part, title, finding, limit string }{
	"flatness": {{"body", "valve body face", "body-flat", ""}, {"pump", "pump halves", "pump-faces", ""}},
	"runout":   {{"hub", "converter hub", "hub-runout", "hub-runout"}, {"disc", "clutch disc", "disc-runout", ""}},
}

func faces(form string) func(*unitsheet.Unit) []Option {
	return func(u *unitsheet.Unit) []Option {
		var out []Option
		for _, f := range measuredFaces[form] {
			if u != nil {
				out = append(out, Option{f.part, f.title})
			}
		}
		return out
	}
}

func fitFace(d *Definition, u *unitsheet.Unit) error {
	for _, f := range measuredFaces[d.ID] {
		if u == nil || f.part != d.Part {
			continue
		}
		d.Title, d.States = d.Title+": "+f.title, []string{f.finding}
		if w := limitOf(u, f.limit); w != nil {
			d.input("most").putSI(w.High.SI)
		}
	}
	return nil
}

// state holds the first output, whose uncertainty was set by hand, against its limit, and states the first of two states
// when it is inside, the second when it is above.
func (r *Result) state(v Values, states []string) {
	o := &r.Outputs[0]
	c, err := o.compare()
	if err != nil {
		return // impossible: finite values
	}
	o.Verdict = c.Verdict
	l := map[string]float64{states[0]: 1 - c.Above, states[1]: c.Above}
	for _, f := range v.states {
		r.Stated = append(r.Stated, stated(f, states, l, v.SayOutput(*o)))
	}
}

// coning reads the cone of a plate by its sign.
func coning() Definition {
	return Definition{
		ID: "coning", Title: "Coning of a plate", Group: "measure", Hand: []string{"dial indicator", "surface plate"},
		Answers: "Is the plate coned, which way, and by how much over its whole face?",
		Source:  "mean heights at two diameters; a reaction plate stands some 0.25 mm high toward the clutch when free and lies flat when loaded (common practice, no source)",
		Limits:  "plate free on three equal blocks, face to be read upward; four places at each diameter", Gauge: "dial indicator, 0.01 mm",
		Inputs: []Input{
			list("inner", "Heights near the inner edge", quantity.Length, "mm", -20, 20).like("0.21; 0.19; 0.22; 0.20"), list("outer", "Heights near the outer edge", quantity.Length, "mm", -20, 20).like("0; 0.01; 0; 0.01"),
			num("inner-at", "Read at diameter, inner", quantity.Length, "mm", 5, 500).preset("125 mm"), num("outer-at", "and outer", quantity.Length, "mm", 6, 600).preset("175 mm"),
			num("inner-edge", "Face from diameter", quantity.Length, "mm", 5, 500).preset("120 mm"), num("outer-edge", "to", quantity.Length, "mm", 6, 600).preset("180 mm"),
			num("wanted", "Wanted: inner edge higher by", quantity.Length, "mm", -5, 5).preset("0.25 mm").help("Minus when it should stand lower; 0 for a flat plate."), num("give", "give or take", quantity.Length, "mm", 0.005, 2).preset("0.08 mm"),
		},
		parts: func(u *unitsheet.Unit) []Option {
			if u == nil {
				return nil
			}
			out := []Option{{"reaction", "reaction plate of the converter clutch"}}
			for _, l := range u.Sheet.Limits {
				if l.ID == "plate-coning" {
					out = append(out, Option{l.ID, l.Name})
				}
			}
			return out
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if d.Part == "reaction" {
				d.States = []string{"cut-coning"}
			}
			if w := limitOf(u, d.Part); w != nil {
				d.input("wanted").putSI((w.Low.SI + w.High.SI) / 2)
				d.input("give").putSI((w.High.SI - w.Low.SI) / 2)
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			c, err := measure.Cone(v.List("inner"), v.List("outer"), v.N("inner-at")/2, v.N("outer-at")/2, v.N("inner-edge")/2, v.N("outer-edge")/2)
			if err != nil {
				return nil, impossible("inner", err)
			}
			return []Output{out("cone", "inner edge higher by", c.Face, quantity.Length, "mm").within(v.N("wanted")-v.N("give"), v.N("wanted")+v.N("give")), out("angle", "angle", c.Angle, quantity.Angle, "°")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
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
			if held, err := measure.Compare(c, si(0.01, quantity.Length, "mm"), 0.2*want, math.Max(c, want)+1); err == nil {
				for _, f := range v.states {
					r.Stated = append(r.Stated, stated(f, []string{"right", "inverted"}, map[string]float64{"right": held.Inside, "inverted": held.Below}, v.Say(c, quantity.Length, "mm")))
				}
			}
			r.Figures = []Chart{{Kind: "curve", Title: "The face in section, height exaggerated", X: Axis{"radius", quantity.Length, "mm"}, Y: Axis{"height", quantity.Length, "mm"}, Words: "From the inner to the outer edge.",
				Series: []Series{{"face", "main", [][2]float64{{v.N("inner-edge") / 2, c}, {v.N("outer-edge") / 2, 0}}}, {"wanted", "limit", [][2]float64{{v.N("inner-edge") / 2, want}, {v.N("outer-edge") / 2, 0}}}}}}
		},
	}
}

// runout splits the readings of one turn.
func runout() Definition {
	return Definition{
		ID: "runout", Title: "Runout, split into its causes", Group: "measure", Hand: []string{"dial indicator"},
		Answers: "Does it run out, and is it off centre, oval, or only dented?", Source: "Fourier analysis of one turn: once is eccentric or tilted, twice is oval or bent, the rest is the surface",
		Limits: "six or more readings at equal steps; the shaft must not move along meanwhile", Gauge: "dial indicator, 0.01 mm", Cautions: []string{cautionTurn},
		Inputs: []Input{
			list("readings", "Readings at equal steps round one turn", quantity.Length, "mm", -20, 20).like("0; 0.03; 0.08; 0.11; 0.12; 0.10; 0.05; 0.01"), num("most", "Most that is allowed, full movement", quantity.Length, "mm", 0.001, 10).preset("0.20 mm"),
			num("radius", "Face runout: radius of reading", quantity.Length, "mm", 1, 500).optional().help("For a face: gives the tilt."),
			num("u", "Uncertainty of one reading (±)", quantity.Length, "mm", 0.001, 1).preset("0.02 mm"),
		},
		parts: faces("runout"),
		fit:   fitFace,
		compute: func(v Values) ([]Output, error) {
			x, err := measure.SplitRunout(v.List("readings"))
			if err != nil {
				return nil, impossible("readings", err)
			}
			outs := []Output{out("total", "full movement", x.Total, quantity.Length, "mm").atMost(v.N("most")), out("once", "once in a turn", x.Once, quantity.Length, "mm"), out("high", "its high spot, from the first reading", x.HighAt, quantity.Angle, "°"),
				out("twice", "twice in a turn", x.Twice, quantity.Length, "mm"), out("rest", "the rest", x.Residual, quantity.Length, "mm")}
			if v.Has("radius") {
				outs = append(outs, out("tilt", "tilt", math.Atan2(x.Once/2, v.N("radius")), quantity.Angle, "°"))
			}
			return outs, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			// Highest less lowest of many: its uncertainty is that of two readings.
			r.Outputs[0].U = v.N("u") / 2 * math.Sqrt2
			good := "in"
			if len(v.states) > 0 && v.states[0] == "hub-runout" {
				good = "ok"
			}
			r.state(v, []string{good, map[string]string{"ok": "above", "in": "bent"}[good]})
			kind := "eccentric or tilted"
			switch {
			case o[4].Value > o[1].Value && o[4].Value > o[3].Value:
				kind = "dents, burrs or dirt: clean it and read again"
			case o[3].Value > o[1].Value:
				kind = "oval or bent to a saddle"
			}
			r.Headline = v.SayOutput(r.Outputs[0]) + " in all, mostly " + kind + "."
			if o[1].Value >= o[3].Value {
				r.Detail = fmt.Sprintf("The centre is off by %s, high spot at %s.", v.Say(o[1].Value/2, quantity.Length, "mm"), v.Say(o[2].Value, quantity.Angle, "°"))
			}
			all, once := Series{Name: "read", Role: "main"}, Series{Name: "once in a turn", Role: "other"}
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
			r.Figures = []Chart{{Kind: "curve", Title: "Round one turn", X: Axis{"angle", quantity.Angle, "°"}, Y: Axis{"indicator", quantity.Length, "mm"}, Words: "Readings, and the part that repeats once in a turn.", Series: []Series{once, all}}}
		},
	}
}

// wearLeft says how long a lining lasts at the rate it wore.
func wearLeft() Definition {
	return Definition{
		ID: "wear-left", Title: "Wear, and the distance that is left", Group: "measure", Hand: []string{"caliper", "micrometer"},
		Answers: "How fast has it worn, and how far does it last?", Source: "even wear, carried on", Limits: "same driver, same use; the last tenth goes faster", Gauge: "caliper, 0.05 mm",
		Inputs: []Input{
			num("new", "Size when new", quantity.Length, "mm", 0.1, 200).preset("8.40 mm").about(0.03), num("now", "Size now", quantity.Length, "mm", 0, 200).read(0.03).like("7.60"), num("limit", "Limit", quantity.Length, "mm", 0, 200).preset("6.90 mm").help("For rivets: the size at which they are flush."),
			num("distance", "Distance so far", quantity.Distance, "km", 1, 3_000_000).preset("120000 km"),
		},
		parts: func(u *unitsheet.Unit) []Option {
			var out []Option
			if u != nil {
				for _, l := range u.Sheet.Limits {
					if l.ID == "disc-thick" || l.ID == "rivet-depth" {
						out = append(out, Option{l.ID, l.Name})
					}
				}
			}
			return out
		},
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if w := limitOf(u, d.Part); w != nil && d.Part != "" {
				d.input("new").putSI(w.High.SI)
				d.input("limit").putSI(w.Low.SI)
				d.States = []string{d.Part}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			w, err := measure.WearOut(v.N("new"), v.N("now"), v.N("limit"), v.N("distance"))
			if err != nil {
				return nil, impossible("now", err)
			}
			return []Output{out("left", "distance left", w.Left, quantity.Distance, "km"), out("used", "used up", w.Used, quantity.Ratio, "%"), out("rate", "worn in each 10,000 km", w.Rate*1e7, quantity.Length, "mm")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			switch {
			case o[0].Value == 0:
				r.Headline = "It is at its limit: replace it."
			case o[0].Value < 0.15*v.N("distance"):
				r.Headline = "Nearly done: " + v.SayOutput(o[0]) + " left at this rate. With everything apart, replace it."
			default:
				r.Headline = v.SayOutput(o[0]) + " left at this rate."
			}
			r.Figures = []Chart{{Kind: "curve", Title: "Size over distance", X: Axis{"distance", quantity.Distance, "km"}, Y: Axis{"size", quantity.Length, "mm"}, Words: "From new over now to the limit.",
				Series: []Series{{"worn so far", "main", [][2]float64{{0, v.N("new")}, {v.N("distance"), v.N("now")}}}, {"to come", "other", [][2]float64{{v.N("distance"), v.N("now")}, {v.N("distance") + o[0].Value, math.Min(v.N("now"), v.N("limit"))}}}, {"limit", "limit", [][2]float64{{0, v.N("limit")}, {v.N("distance") + o[0].Value, v.N("limit")}}}}}}
			c, err := measure.Compare(v.N("now"), v.U("now"), v.N("limit"), v.N("new"))
			for _, f := range v.states {
				if err != nil {
					break
				}
				l := map[string]float64{"ok": c.Inside + c.Above, "below": c.Below, "above": 0}
				r.Stated = append(r.Stated, stated(f, []string{"ok", "below"}, l, v.Say(v.N("now"), quantity.Length, "mm")))
			}
		},
	}
}
