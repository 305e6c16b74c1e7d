package vibrations

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/instrument"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/core/vibration"
)

const (
	alikeSD   = 2.0 // standard deviations within which a source may be what was heard
	farSD     = 4.0 // beyond which the nearest is not it
	listed    = 10
	driving   = "drive"
	standing  = "stands"
	rolling   = "rolls"
	parts     = 0.05        // share by which a drive must part neighbors to be named
	redRange  = 6000.0 / 60 // rev/s
	sameOrder = 1e-6        // share by which what stands on one order may differ
	roadDoubt = 0.01        // of a speedometer, when nobody says better (common practice, no source)
)

// Pitch names what turns at a frequency that was heard or felt.
func Pitch() instrument.Definition {
	opt := func(id, title string) instrument.Option { return instrument.Option{ID: id, Title: title} }
	return instrument.Definition{
		ID: "pitch", Title: "What turns at this pitch", Group: "vibration", Hand: []string{"vibration meter", "scan tool"},
		Answers: "A hum, boom or shake has this many beats a second at this speed: what turns as often, and which drive tells neighbors apart?",
		Source:  "speeds of the unit's members from its gears; bearings by their geometry, sizes of the sheet assumed unless it says otherwise",
		Limits:  "a steady speed; a pitch alone names candidates, never a fault; below 10 % change of speed no order can be told from a resonance", Gauge: "vibration meter, 0.5 Hz",
		Cautions: []string{instrument.CautionDrive},
		Inputs: []instrument.Input{
			instrument.NumberIn("heard", "Beats a second", quantity.Frequency, "Hz", 0.3, 20000).ReadWithin(0.5).Like("78.6 Hz"),
			instrument.ChoiceIn("how", "The vehicle", opt(driving, "drives in this range"), opt(rolling, "rolls in neutral"), opt(standing, "stands, engine running")).Preset(driving),
			instrument.NumberIn("road", "Road speed", quantity.Speed, "km/h", 0, 250).Preset("80 km/h"), instrument.NumberIn("engine", "Engine speed", quantity.RotationalSpeed, "rpm", 0, 12000).Maybe().Explained("Needed standing and rolling. Driving it follows from the gears."),
			instrument.NumberIn("slip", "Converter slips by", quantity.Ratio, "%", 0, 60).Maybe().Explained("Left empty: its clutch is closed, or there is none."),
			instrument.NumberIn("tire", "Tire, rolling circumference", quantity.Length, "mm", 500, 6000).Preset("2000 mm"), instrument.NumberIn("axle", "Axle ratio", quantity.Ratio, "", 0.5, 20).Preset("3.70").Explained("Turns of the unit's output for one of the wheels. Of a transaxle, its final drive."), instrument.CountIn("pinion", "Teeth of the axle's pinion", 5, 60).Maybe(),
			instrument.CountIn("cylinders", "Cylinders", 1, 16).Preset("4"), instrument.ChoiceIn("shaft", "Driveshaft", opt("two", "two pieces, center bearing"), opt("one", "one piece"), opt("none", "none: axle shafts")).Preset("one"), instrument.NumberIn("belt", "Belt drive, turns for one of the crank", quantity.Ratio, "", 0.1, 10).Maybe(),
		},
		Jumps: true, Surrounded: true,
		PartsOn: func(u *unitsheet.Unit) []instrument.Option {
			if u == nil {
				return nil
			}
			var out []instrument.Option
			for _, r := range u.Ranges {
				if r.Driving() {
					out = append(out, opt(r.ID, r.Name))
				}
			}
			return out
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			d.On = u
			if u == nil {
				d.In("engine").Optional, d.In("engine").Default = false, "1600 rpm"
			}
			if u != nil && u.Sheet.Leaks != nil && u.Sheet.Leaks.Across {
				d.In("shaft").Default = "none"
			}
			if u != nil {
				if r, ok := u.Range(d.Part); ok && r.Healthy.Ratio != 0 {
					d.In("road").Default = presetRoad(r.Healthy.Ratio)
				}
			}
			return nil
		},
		Work: instrument.Works(hear, tell),
	}
}

// presetRoad is a road speed at which the engine turns some 2,000 rpm in a range, with the axle and tire that stand there beforehand.
func presetRoad(ratio float64) string {
	kmh := 2000.0 / 60 / math.Abs(ratio) / 3.7 * 2 * 3.6
	return fmt.Sprintf("%.0f km/h", math.Max(5, 5*math.Round(kmh/5)))
}

// heard is what a pitch comes to.
type heard struct {
	list    vibration.List
	matches []vibration.Match
	near    []vibration.Match
	rival   vibration.Match // the nearest beside the first; empty when there is none
	drives  []vibration.Drive
}

func vehicleOf(v instrument.Values) vibration.Vehicle {
	out := vibration.Vehicle{Cylinders: v.Count("cylinders"), Axle: v.N("axle"), Circumference: v.N("tire"), Joint: vibration.Tripod}
	if v.Has("pinion") {
		out.Pinion = v.Count("pinion")
	}
	switch v.Chosen("shaft") {
	case "one":
		out.Pieces, out.Joint = 1, vibration.Cross
	case "two":
		out.Pieces, out.Joint = 2, vibration.Cross
	}
	if v.Has("belt") {
		out.Belts = []vibration.Belt{{Name: "belt drive", Ratio: v.N("belt")}}
	}
	return out
}

func hear(v instrument.Values) (heard, []instrument.Output, error) {
	u := v.On
	s := vibration.State{Road: v.N("road"), EngineSpeed: v.N("engine") / (2 * math.Pi)}
	switch v.Chosen("how") {
	case driving:
		if s.Range = v.Part; s.Range == "" && !v.Has("engine") {
			return heard{}, nil, &instrument.InputError{Input: "engine", Reason: "without a unit the engine's speed is not known", Accepted: "the engine's speed, or a unit and its range"}
		}
		if s.Range != "" {
			s.Slip, s.EngineSpeed = v.N("slip"), 0
		}
	case standing:
		s.Road = 0
		fallthrough
	default:
		if !v.Has("engine") {
			return heard{}, nil, &instrument.InputError{Input: "engine", Reason: "empty", Accepted: "the engine's speed while it stands or rolls"}
		}
	}
	if u == nil {
		u = &unitsheet.Unit{}
	}
	veh := vehicleOf(v)
	l, err := vibration.Sources(u, veh, s)
	if err != nil {
		return heard{}, nil, instrument.Impossible("road", err)
	}
	if l.Engine > redRange {
		return heard{}, nil, &instrument.InputError{Input: "road", Reason: "in this range the engine would turn " + v.Say(l.Engine*2*math.Pi, quantity.RotationalSpeed, "rpm"), Accepted: "a lower speed, or a higher range"}
	}
	x := heard{list: l, matches: l.Matches(v.N("heard"), math.Max(v.U("heard"), 1e-3), roadDoubt)}
	if len(x.matches) == 0 {
		return heard{}, nil, &instrument.InputError{Input: "road", Reason: "nothing turns", Accepted: "a speed of the road or the engine above 0"}
	}
	for _, m := range x.matches {
		if m.Sure <= alikeSD {
			x.near = append(x.near, m)
		}
	}
	first := x.matches[0]
	if s.Range != "" && len(x.near) > 1 {
		// What stands on the very same order here may do so everywhere: the rival is the next that does not.
		for _, m := range x.near[1:] {
			if math.Abs(m.Hertz/first.Hertz-1) > sameOrder {
				x.rival, x.drives = m, vibration.Parts(u, veh, s, []vibration.Source{first.Source, m.Source})
				break
			}
		}
	}
	return x, []instrument.Output{instrument.Out("nearest", "nearest turns at", first.Hertz, quantity.Frequency, "Hz"), instrument.Out("off", "it lies off by", math.Abs(first.Off), quantity.Ratio, "%"), instrument.Out("near", "that may be it", float64(len(x.near)), quantity.Ratio, "").Counted(),
		instrument.Out("engine-at", "engine", l.Engine*2*math.Pi, quantity.RotationalSpeed, "rpm"), instrument.Out("shaft-at", "output shaft", l.Output*2*math.Pi, quantity.RotationalSpeed, "rpm")}, nil
}

func tell(v instrument.Values, x heard, o []instrument.Output, r *instrument.Result) {
	first := x.matches[0]
	switch {
	case first.Sure > farSD:
		r.Headline = fmt.Sprintf("Nothing that is known here turns so: the nearest, %s, is off by %s.", first.Name, v.SayOutput(o[1]))
		r.Detail = "A resonance, something on the body, or a part whose size is not given."
	case len(x.near) == 1:
		r.Headline = "One alone is near: " + first.Name + "."
	default:
		r.Headline = fmt.Sprintf("Nearest: %s. %d may be it.", first.Name, max(1, len(x.near)))
	}
	if len(x.near) > 1 {
		r.Detail = partings(v, x)
	}
	f := instrument.Chart{Kind: "bars", Title: "What turns near it", Y: instrument.Axis{Label: "beats", Dimension: quantity.Frequency, Unit: "Hz"}, Words: "Sources by how near they lie, with what was heard."}
	f.Bars = append(f.Bars, instrument.Bar{Label: "heard", Value: v.N("heard"), Text: v.Say(v.N("heard"), quantity.Frequency, "Hz"), Emphasised: true})
	for _, m := range x.matches[:min(listed, len(x.matches))] {
		word := m.Name
		if !m.Loaded {
			word += ", without load"
		}
		f.Bars = append(f.Bars, instrument.Bar{Label: word, Value: m.Hertz, Text: fmt.Sprintf("%s, %s", v.Say(m.Hertz, quantity.Frequency, "Hz"), v.Say(m.Off, quantity.Ratio, "%"))})
	}
	r.Figures = []instrument.Chart{f}
}

// partings says which drive tells the two nearest apart.
func partings(v instrument.Values, x heard) string {
	a, b := x.near[0], x.rival
	if len(x.drives) == 0 {
		return ""
	}
	best := x.drives[0]
	name := best.Range
	if r, ok := v.On.Range(best.Range); ok {
		name = r.Name
	}
	both := fmt.Sprintf("%s and %s", a.Name, b.Name)
	switch {
	case math.IsInf(best.Apart, 1):
		return fmt.Sprintf("The same road speed in %s: of %s one is not there any more.", name, both)
	case best.Apart >= parts:
		return fmt.Sprintf("The same road speed in %s parts %s by %s; the engine turns %s there.", name, both, v.Say(best.Apart, quantity.Ratio, "%"), v.Say(best.Engine*2*math.Pi, quantity.RotationalSpeed, "rpm"))
	}
	return strings.ToUpper(both[:1]) + both[1:] + " stand together in every range at this speed: converter open, belt off, or neutral part them."
}
