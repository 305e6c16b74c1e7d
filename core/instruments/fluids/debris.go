package fluids

import (
	"fmt"

	"innercompass/core/fluid"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
)

// heaps are how much of a kind lies there, and in what size.
var heaps = []instrument.Option{{ID: "unseen", Title: "not looked for"}, {ID: "none", Title: "none"}, {ID: "some-fine", Title: "some, fine"}, {ID: "some-pieces", Title: "some, in pieces"}, {ID: "much-fine", Title: "much, fine"}, {ID: "much-pieces", Title: "much, in pieces"}}

// DebrisTray reads what lies in the pan.
func DebrisTray() instrument.Definition {
	inputs := []instrument.Input{}
	for _, k := range fluid.DebrisKinds {
		inputs = append(inputs, instrument.ChoiceIn("kind-"+k.ID, k.Title, heaps...).Preset("unseen").ShownAs(instrument.Debris, k.ID))
	}
	inputs = append(inputs, instrument.ChoiceIn("magnet", "Magnet", instrument.Option{ID: "unknown", Title: "not looked at"}, instrument.Option{ID: "film", Title: "fine gray film"}, instrument.Option{ID: "much", Title: "thick fur after a short time"}, instrument.Option{ID: "chips", Title: "chips or slivers"}).Preset("unknown"),
		instrument.NumberIn("distance", "Distance since the pan was clean", quantity.Distance, "km", 0, 1e6).Maybe())
	return instrument.Definition{
		ID: "debris", Title: "Debris tray", Group: "fluid", Hand: []string{"paper", "eye"},
		Answers: "What lies in the pan, and which part is it from?",
		Source:  "what each part leaves when it wears, several at once (noisy maximum): shares are common practice, no source", Limits: "spread on white paper in daylight, magnet passed through; filter cut open and counted in",
		Cautions: []string{instrument.CautionUnder, instrument.CautionWaste}, States: []string{"pan-debris", "magnet"}, Inputs: inputs, Jumps: true,
		Work: instrument.Works(func(v instrument.Values) (*sorted, []instrument.Output, error) {
			tray, looked := trayOf(v)
			if !looked {
				return nil, nil, nil
			}
			suspects, normal, err := tray.Judge()
			if err != nil {
				return nil, nil, instrument.Impossible("kind-film", err)
			}
			return &sorted{tray, suspects, normal}, []instrument.Output{instrument.Out("first", suspects[0].Title, suspects[0].Share, quantity.Ratio, "%"), instrument.Out("ordinary", "ordinary wear and no more", normal, quantity.Ratio, "%")}, nil
		}, func(v instrument.Values, x *sorted, o []instrument.Output, r *instrument.Result) {
			if m := v.Chosen("magnet"); m != "unknown" {
				l := map[string]float64{"film": 0, "much": 0, "chips": 0}
				l[m] = 1
				r.Stated = append(r.Stated, instrument.Derive("magnet", []string{"film", "much", "chips"}, l, "seen on the magnet"))
			}
			if x == nil {
				r.Headline = "Mark what lies there, and what does not: none says as much."
				return
			}
			suspects, normal := x.suspects, x.normal
			if normal > suspects[0].Share {
				r.Headline = "Ordinary wear."
				r.Detail = "Fine gray paste is usual. Clean pan and magnet, note the distance, look again after a short drive if the complaint stays."
			} else {
				r.Headline = fmt.Sprintf("It is from: %s.", suspects[0].Title)
				r.Detail = suspects[0].Action
				if suspects[1].Share > 0.5 {
					r.Headline = fmt.Sprintf("It is from more than one: %s, and %s.", suspects[0].Title, suspects[1].Title)
					r.Detail += " " + suspects[1].Action
				}
			}
			bars := instrument.Chart{Kind: "bars", Title: "Where it is from", Y: instrument.Axis{Label: "share", Dimension: quantity.Ratio, Unit: "%"}, Words: "Probability of each source."}
			for i, s := range suspects[:6] {
				bars.Bars = append(bars.Bars, instrument.Bar{Label: s.Title, Value: s.Share, Text: fmt.Sprintf("%.0f %%", 100*s.Share), Emphasised: i == 0 && normal <= s.Share})
			}
			r.Figures = []instrument.Chart{bars}
			l, names := panDebris(x.tray)
			r.Stated = append(r.Stated, instrument.Derive("pan-debris", []string{"film", "needles", "metal", "brass", "friction", "plastic"}, l, names))
		}),
	}
}

// sorted is a tray with where its debris is from.
type sorted struct {
	tray     fluid.Tray
	suspects []fluid.DebrisSuspect
	normal   float64 // probability of ordinary wear and no more
}

// trayOf reads the tray; looked is false when nothing was looked for.
func trayOf(v instrument.Values) (tray fluid.Tray, looked bool) {
	tray = fluid.Tray{Found: map[string]fluid.DebrisSeen{}, Distance: v.N("distance")}
	for _, k := range fluid.DebrisKinds {
		seen, ok := map[string]fluid.DebrisSeen{"none": {}, "some-fine": {Amount: 1}, "some-pieces": {Amount: 1, Pieces: true}, "much-fine": {Amount: 2}, "much-pieces": {Amount: 2, Pieces: true}}[v.Chosen("kind-"+k.ID)]
		if ok {
			tray.Found[k.ID] = seen
		}
	}
	return tray, len(tray.Found) > 0
}

// panDebris puts a tray into the one word that the trade would use for it: what is there most, what tells most before it.
func panDebris(t fluid.Tray) (likelihood map[string]float64, value string) {
	weight := func(kinds ...string) float64 {
		w := 0.0
		for _, k := range kinds {
			w = max(w, []float64{0, 0.5, 1}[t.Found[k].Amount])
		}
		return w
	}
	l := map[string]float64{"needles": 3 * weight("needles"), "metal": 2 * weight("steel", "chunks", "aluminium"), "brass": 2 * weight("bronze"), "friction": 1.5 * weight("lining"), "plastic": 1.5 * weight("plastic", "rubber"), "film": 0.2}
	sum := 0.0
	for _, p := range l {
		sum += p
	}
	for k := range l {
		l[k] /= sum
	}
	for _, k := range fluid.DebrisKinds {
		if t.Found[k.ID].Amount > 0 {
			if value != "" {
				value += "; "
			}
			value += k.Title
		}
	}
	if value == "" {
		value = "nothing"
	}
	return l, value
}
