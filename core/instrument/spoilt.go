package instrument

import (
	"fmt"
	"strings"

	"innercompass/core/fluid"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// fates are the words for what is done with a part.
var fates = map[fluid.Verdict]string{fluid.Renew: "renew", fluid.Clean: "clean", fluid.Look: "look"}

// fatedParts are the words for kinds of part where no unit names them.
var fatedParts = map[string]string{"lining": "lined plates and bands", "converter": "converter", "cooler": "cooler and its lines", "filter": "filter and pan gasket", "seal": "seals", "valve-body": "valve body and solenoids", "bearing": "bearings and gears"}

// fluidSpoilt decides what water or coolant leaves to be renewed, and how often to change until it is dry.
func fluidSpoilt() Definition {
	return Definition{
		ID: "fluid-spoilt", Title: "Water or coolant was in it", Group: "fluid", Hand: []string{"paper", "measuring jug"},
		Answers: "What has to be renewed, and how many changes until the fluid is dry?",
		Source:  "what stays is multiplied at each change; what glycol and water do to linings, rubber and steel: common practice, no source", Limits: "the way in is found and closed first; the maker’s word on linings goes first",
		Cautions: []string{cautionUnder, cautionWaste, "Hot fluid with water in it boils over and spits: let it cool before anything is opened."},
		Inputs: []Input{
			choice("by", "What got in", Option{string(fluid.Coolant), "coolant: glycol found, or coolant missing"}, Option{string(fluid.Water), "water, no glycol"}).preset(string(fluid.Coolant)),
			num("amount", "Of the fluid, about", quantity.Ratio, "%", 0, 60).preset("2 %").about(0.5).help("A laboratory says it; milky to the eye is from about one per cent."),
			num("driven", "Driven with it, about", quantity.Distance, "km", 0, 1e6).preset("20 km"),
			num("stood", "Stood with it", quantity.Time, "d", 0, 36500).preset("1 d"),
			choice("linings", "Linings", Option{string(fluid.Unseen), "not seen yet"}, Option{string(fluid.Sound), "seen: firm, a nail does not lift them"}, Option{string(fluid.Loose), "seen: soft, swollen or flaking"}).preset(string(fluid.Unseen)),
			num("whole", "Fluid in all", quantity.Volume, "L", 0.2, 60).preset("10.4 L").about(0.2), num("drain", "Comes out at a drain", quantity.Volume, "L", 0.05, 60).preset("4.3 L").about(0.1),
			num("limit", "Dry enough at", quantity.Ratio, "%", 0.001, 5).preset("0.1 %").help("A drop on a hot plate lies quiet from about here."),
		},
		jumps: true,
		fit: func(d *Definition, u *unitsheet.Unit) error {
			if u == nil {
				return nil
			}
			if u.Sheet.Fluid.Capacity != "" {
				d.input("whole").Default, d.input("drain").Default = u.Sheet.Fluid.Capacity, u.Sheet.Fluid.Capacity
				if u.Sheet.Fluid.Refill != "" {
					d.input("drain").Default = u.Sheet.Fluid.Refill
				}
			}
			tell := d.interpret
			d.interpret = func(v Values, o []Output, r *Result) {
				tell(v, o, r)
				r.Figures = []Chart{fateList(spoiltOf(v), partsOf(u))}
			}
			return nil
		},
		compute: func(v Values) ([]Output, error) {
			if v.N("drain") > v.N("whole") {
				return nil, &InputError{"drain", "more than there is in all", "up to " + v.Say(v.N("whole"), quantity.Volume, "L")}
			}
			if spoiltOf(v).TookUp() {
				return nil, nil // it comes apart: nothing is flushed
			}
			share := v.N("drain") / v.N("whole")
			n, err := fluid.Dry(v.N("amount"), v.N("limit"), share)
			if err != nil {
				return nil, impossible("amount", err)
			}
			return []Output{out("times", "changes until it is dry", float64(n), quantity.Ratio, "").whole(), out("used", "fluid that takes", float64(n)*v.N("drain"), quantity.Volume, "L"), out("left", "left then", fluid.Left(v.N("amount"), share, n), quantity.Ratio, "%")}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			s := spoiltOf(v)
			r.Figures = []Chart{fateList(s, nil)}
			if s.TookUp() {
				r.Headline = "The linings took it up: the unit comes apart, every lined part is renewed."
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

func spoiltOf(v Values) fluid.Spoilt {
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
func fateList(s fluid.Spoilt, names map[string]string) Chart {
	list := Chart{Kind: "list", Title: "What is done with each part", Words: "Renew, clean or look, with the reason."}
	for _, f := range s.Fates() {
		name := fatedParts[f.Part]
		if names != nil {
			name = names[f.Part]
		}
		if name != "" {
			list.Bars = append(list.Bars, Bar{Label: name, Text: fates[f.Verdict] + ": " + f.Why, Emphasised: f.Verdict == fluid.Renew})
		}
	}
	return list
}

// coolerFlush decides about the cooler after debris.
func coolerFlush() Definition {
	return Definition{
		ID: "cooler-flush", Title: "Cooler after debris: flush or renew", Group: "fluid", Hand: []string{"measuring jug", "stopwatch"},
		Answers: "Can the cooler be flushed, or does it bring the debris back into the repaired unit?",
		Source:  "common practice, no source; the flow is volume over time", Limits: "flushed backwards first, then forwards, with the means that the maker allows; flow read with the fluid warm",
		Gauge: "jug, 50 cc", Cautions: []string{cautionRunning, "Flushing throws hot fluid and solvent under pressure: eyes and skin covered, no flames, hose ends held. What comes out is waste by local rules."},
		Inputs: []Input{
			choice("cooler", "The cooler is", Option{string(fluid.Tube), "a plain tube"}, Option{string(fluid.Plates), "plates, many passages side by side"}, Option{string(fluid.Guarded), "with a thermostat or check valve"}).preset(string(fluid.Tube)),
			choice("debris", "What came down to it", Option{"film", "fine paste only"}, Option{"lining", "lining: flakes or dust"}, Option{"metal", "metal: slivers, needles, pieces"}).preset("lining"),
			num("volume", "Caught after flushing", quantity.Volume, "qt", 0, 20).optional().read(0.05).help("Empty: not flushed yet."), num("time", "in this time", quantity.Time, "s", 1, 600).preset("20 s").about(0.5),
			num("least", "Least flow that is good", quantity.Flow, "L/min", 0.1, 60).preset("2.4 L/min"),
		},
		compute: func(v Values) ([]Output, error) {
			if !v.Has("volume") {
				return nil, nil
			}
			return []Output{out("flow", "flow after flushing", v.N("volume")/v.N("time"), quantity.Flow, "L/min").atLeast(v.N("least"), 3*v.N("least"))}, nil
		},
		interpret: func(v Values, o []Output, r *Result) {
			flow := 0.0
			if len(o) > 0 {
				flow = max(o[0].Value, 1e-12) // nothing came: it was flushed all the same
			}
			f := fluid.FlushAfter(fluid.Cooler(v.Chosen("cooler")), v.Chosen("debris"), flow, v.N("least"))
			r.Headline = map[fluid.Verdict]string{fluid.Renew: "Renew it: ", fluid.Clean: "It may stay: ", fluid.Look: "Not yet: "}[f.Verdict] + f.Why + "."
			r.Detail = "Whatever is decided: blow the lines through, and read the return flow again after the first drive."
			if f.Valve {
				r.Detail = "Its thermostat or check valve is taken out, cleaned or renewed: a flake holds it open or shut. " + r.Detail
			}
			if len(o) > 0 {
				r.Figures = []Chart{{Kind: "bars", Title: "Flow", Y: Axis{"flow", quantity.Flow, "L/min"}, Words: "Flow after flushing beside the least that is good.", Bars: []Bar{{Label: "comes back", Value: o[0].Value, Need: v.N("least"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
			}
		},
	}
}
