package fluids

import (
	"fmt"
	"strings"

	"innercompass/core/fluid"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// fates are the words for what is done with a part.
var fates = map[fluid.Verdict]string{fluid.Renew: "renew", fluid.Clean: "clean", fluid.Look: "look"}

// fatedParts are the words for kinds of part where no unit names them.
var fatedParts = map[string]string{"lining": "friction plates and bands", "converter": "converter", "cooler": "cooler and its lines", "filter": "filter and pan gasket", "seal": "seals", "valve-body": "valve body and solenoids", "bearing": "bearings and gears"}

// Spoilt decides what water or coolant leaves to be renewed, and how often to change until it is dry.
func Spoilt() instrument.Definition {
	return instrument.Definition{
		ID: "fluid-spoilt", Title: "Water or coolant was in it", Group: "fluid", Hand: []string{"paper", "measuring jug"},
		Answers: "What has to be replaced, and how many changes until the fluid is dry?",
		Source:  "what stays is multiplied at each change; what glycol and water do to linings, rubber and steel: common practice, no source", Limits: "the way in is found and closed first; the maker’s word on linings goes first",
		Cautions: []string{instrument.CautionUnder, instrument.CautionWaste, "Hot fluid with water in it boils over and spits: let it cool before anything is opened."},
		Inputs: []instrument.Input{
			instrument.ChoiceIn("by", "What got in", instrument.Option{ID: string(fluid.Coolant), Title: "coolant: glycol found, or coolant missing"}, instrument.Option{ID: string(fluid.Water), Title: "water, no glycol"}).Preset(string(fluid.Coolant)),
			instrument.NumberIn("amount", "Of the fluid, about", quantity.Ratio, "%", 0, 60).Preset("2 %").About(0.5).Explained("A laboratory says it; milky to the eye is from about one per cent."),
			instrument.NumberIn("driven", "Driven with it, about", quantity.Distance, "km", 0, 1e6).Preset("20 km"),
			instrument.NumberIn("stood", "Stood with it", quantity.Time, "d", 0, 36500).Preset("1 d"),
			instrument.ChoiceIn("linings", "Linings", instrument.Option{ID: string(fluid.Unseen), Title: "not seen yet"}, instrument.Option{ID: string(fluid.Sound), Title: "seen: firm, a nail does not lift them"}, instrument.Option{ID: string(fluid.Loose), Title: "seen: soft, swollen or flaking"}).Preset(string(fluid.Unseen)),
			instrument.NumberIn("whole", "Fluid in all", quantity.Volume, "L", 0.2, 60).Preset("10.4 L").About(0.2), instrument.NumberIn("drain", "Comes out at a drain", quantity.Volume, "L", 0.05, 60).Preset("4.3 L").About(0.1),
			instrument.NumberIn("limit", "Dry enough at", quantity.Ratio, "%", 0.001, 5).Preset("0.1 %").Explained("A drop on a hot plate lies quiet from about here."),
		},
		Jumps: true,
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u == nil {
				return nil
			}
			if u.Sheet.Fluid.Capacity != "" {
				d.In("whole").Default, d.In("drain").Default = u.Sheet.Fluid.Capacity, u.Sheet.Fluid.Capacity
				if u.Sheet.Fluid.Refill != "" {
					d.In("drain").Default = u.Sheet.Fluid.Refill
				}
			}
			tell := d.Interpret
			d.Interpret = func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
				tell(v, o, r)
				r.Figures = []instrument.Chart{fateList(spoiltOf(v), partsOf(u))}
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if v.N("drain") > v.N("whole") {
				return nil, &instrument.InputError{Input: "drain", Reason: "more than there is in all", Accepted: "up to " + v.Say(v.N("whole"), quantity.Volume, "L")}
			}
			if spoiltOf(v).TookUp() {
				return nil, nil // it comes apart: nothing is flushed
			}
			share := v.N("drain") / v.N("whole")
			n, err := fluid.Dry(v.N("amount"), v.N("limit"), share)
			if err != nil {
				return nil, instrument.Impossible("amount", err)
			}
			return []instrument.Output{instrument.Out("times", "changes until it is dry", float64(n), quantity.Ratio, "").Counted(), instrument.Out("used", "fluid that takes", float64(n)*v.N("drain"), quantity.Volume, "L"), instrument.Out("left", "left then", fluid.Left(v.N("amount"), share, n), quantity.Ratio, "%")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			s := spoiltOf(v)
			r.Figures = []instrument.Chart{fateList(s, nil)}
			if s.TookUp() {
				r.Headline = "The linings took it up: the unit comes apart, every lined part is replaced."
				return
			}
			r.Headline = fmt.Sprintf("Change until it is dry: %.0f times, driven warm between.", o[0].Value)
			if s.By == fluid.Coolant {
				r.Headline = fmt.Sprintf("Flush at once: %.0f changes. Linings may still come loose later: tell the customer before anything is decided.", o[0].Value)
			}
			r.Detail = fmt.Sprintf("%s is left then of what got in.", v.SayOutput(o[2]))
			if s.Linings == fluid.Unseen && s.By == fluid.Coolant {
				r.Detail += " Schools differ: some renew linings after any glycol, some after a drive with it."
			}
		},
	}
}

func spoiltOf(v instrument.Values) fluid.Spoilt {
	return fluid.Spoilt{By: fluid.Foreign(v.Chosen("by")), Amount: v.N("amount"), Metres: v.N("driven"), Stood: v.N("stood"), Linings: fluid.Linings(v.Chosen("linings"))}
}

// partsOf names what a unit has of each kind of part; a kind that it lacks is empty.
func partsOf(u *unitsheet.Unit) map[string]string {
	out := map[string]string{"cooler": "", "converter": "", "valve-body": "", "lining": "", "filter": "", "seal": fatedParts["seal"], "bearing": fatedParts["bearing"]}
	var lined []string
	for _, e := range u.Elements {
		if e.Pressed() {
			lined = append(lined, e.Name)
		}
	}
	out["lining"] = strings.Join(lined, ", ")
	if len(lined) > 0 || u.Sheet.Converter != nil {
		out["cooler"], out["filter"], out["valve-body"] = fatedParts["cooler"], fatedParts["filter"], fatedParts["valve-body"]
	}
	if u.Sheet.Converter != nil {
		out["converter"] = fatedParts["converter"]
	}
	return out
}

// fateList is the list of parts with what is done with each; names are those of a unit, nil without one.
func fateList(s fluid.Spoilt, names map[string]string) instrument.Chart {
	list := instrument.Chart{Kind: "list", Title: "What is done with each part", Words: "Renew, clean or look, with the reason."}
	for _, f := range s.Fates() {
		name := fatedParts[f.Part]
		if names != nil {
			name = names[f.Part]
		}
		if name != "" {
			list.Bars = append(list.Bars, instrument.Bar{Label: name, Text: fates[f.Verdict] + ": " + f.Why, Emphasised: f.Verdict == fluid.Renew})
		}
	}
	return list
}

// CoolerFlush decides about the cooler after debris.
func CoolerFlush() instrument.Definition {
	return instrument.Definition{
		ID: "cooler-flush", Title: "Cooler after debris: flush or renew", Group: "fluid", Hand: []string{"measuring jug", "stopwatch"},
		Answers: "Can the cooler be flushed, or does it bring the debris back into the repaired unit?",
		Source:  "common practice, no source; the flow is volume over time", Limits: "flushed backwards first, then forwards, with the means that the maker allows; flow read with the fluid warm",
		Gauge: "jug, 50 cc", Cautions: []string{instrument.CautionRunning, "Flushing throws hot fluid and solvent under pressure: eyes and skin covered, no flames, hose ends held. What comes out is waste by local rules."},
		Inputs: []instrument.Input{
			instrument.ChoiceIn("cooler", "The cooler is", instrument.Option{ID: string(fluid.Tube), Title: "a plain tube"}, instrument.Option{ID: string(fluid.Plates), Title: "plates, many passages side by side"}, instrument.Option{ID: string(fluid.Guarded), Title: "with a thermostat or check valve"}).Preset(string(fluid.Tube)),
			instrument.ChoiceIn("debris", "What came down to it", instrument.Option{ID: "film", Title: "fine paste only"}, instrument.Option{ID: "lining", Title: "lining: flakes or dust"}, instrument.Option{ID: "metal", Title: "metal: slivers, needles, pieces"}).Preset("lining"),
			instrument.NumberIn("volume", "Caught after flushing", quantity.Volume, "qt", 0, 20).Maybe().ReadWithin(0.05).Explained("Empty: not flushed yet."), instrument.NumberIn("time", "in this time", quantity.Time, "s", 1, 600).Preset("20 s").About(0.5),
			instrument.NumberIn("least", "Least flow that is good", quantity.Flow, "L/min", 0.1, 60).Preset("2.4 L/min"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			if !v.Has("volume") {
				return nil, nil
			}
			return []instrument.Output{instrument.Out("flow", "flow after flushing", v.N("volume")/v.N("time"), quantity.Flow, "L/min").AtLeast(v.N("least"), 3*v.N("least"))}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			flow := 0.0
			if len(o) > 0 {
				flow = max(o[0].Value, 1e-12) // nothing came: it was flushed all the same
			}
			f := fluid.FlushAfter(fluid.Cooler(v.Chosen("cooler")), v.Chosen("debris"), flow, v.N("least"))
			r.Headline = map[fluid.Verdict]string{fluid.Renew: "Renew it: ", fluid.Clean: "It may stay: ", fluid.Look: "Not yet: "}[f.Verdict] + f.Why + "."
			r.Detail = "Whatever is decided: blow the lines through, and read the return flow again after the first drive."
			if f.Valve {
				r.Detail = "Its thermostat or check valve is taken out, cleaned or replaced: a flake holds it open or shut. " + r.Detail
			}
			if len(o) > 0 {
				r.Figures = []instrument.Chart{{Kind: "bars", Title: "Flow", Y: instrument.Axis{Label: "flow", Dimension: quantity.Flow, Unit: "L/min"}, Words: "Flow after flushing beside the least that is good.", Bars: []instrument.Bar{{Label: "comes back", Value: o[0].Value, Need: v.N("least"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
			}
		},
	}
}
