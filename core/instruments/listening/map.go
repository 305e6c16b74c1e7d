package listening

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/instrument"
	"innercompass/core/listen"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

var levels = []instrument.Option{{ID: "unheard", Title: "not listened"}, {ID: "none", Title: "nothing"}, {ID: "faint", Title: "faint"}, {ID: "loud", Title: "loud"}}

// noisePlace is the finding that says where it is loudest, and its state for each place.
const noisePlace = "noise-place"

var stateOfPlace = map[string]string{"engine": "engine", "bell": "bell", "front": "pump", "case": "case", "cover": "cover", "tail": "tail", "drive-left": "drive-left", "drive-right": "drive-right", "wheel-left": "wheel", "wheel-right": "wheel", "axle": "axle"}

var placeStates = []string{"none", "engine", "bell", "pump", "case", "cover", "tail", "drive-left", "drive-right", "wheel", "axle"}

// Map finds what sounds, by where it is loud and in which state.
func Map() instrument.Definition {
	return instrument.Definition{
		ID: "listening-map", Title: "Listening map", Group: "vibration", Hand: []string{"ear", "stethoscope"},
		Answers:  "Where is it loud, where faint, where not, and in which state: which bearing, gear, pump, joint or body part is it?",
		Source:   "what turns and what carries load in each state is computed from the gears; how sound fades along the driveline is judgment",
		Limits:   "needs a unit; one sound at a time; loud and faint by one pair of ears, the same rod or phone throughout",
		Cautions: []string{instrument.CautionRunning, instrument.CautionUnder, instrument.CautionDrive},
		PartsOn:  ranges,
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u == nil {
				return nil
			}
			d.On = u
			s := listen.NewScene(u, d.Part)
			d.Inputs = inputs(s)
			d.States = []string{noisePlace}
			d.Work = instrument.Works(func(v instrument.Values) (*listen.Heard, []instrument.Output, error) {
				marks := marked(s, v)
				if len(marks) == 0 {
					return nil, nil, nil
				}
				h, err := s.Hear(marks)
				if err != nil {
					return nil, nil, instrument.Impossible(d.Inputs[0].ID, err)
				}
				return &h, []instrument.Output{instrument.Out("share", h.Sources[0].Name, h.Sources[0].Share, quantity.Ratio, "%")}, nil
			}, func(_ instrument.Values, h *listen.Heard, _ []instrument.Output, r *instrument.Result) { tell(s, h, r) })
			return nil
		},
		Compute: func(instrument.Values) ([]instrument.Output, error) {
			return nil, &instrument.InputError{Input: "unit", Reason: "which unit it is decides what turns where", Accepted: "a unit"}
		},
		Jumps: true,
	}
}

// ranges that are driven, as parts.
func ranges(u *unitsheet.Unit) []instrument.Option {
	if u == nil {
		return nil
	}
	var out []instrument.Option
	for _, r := range u.Ranges {
		if r.Driving() {
			out = append(out, instrument.Option{ID: r.ID, Title: r.Name})
		}
	}
	return out
}

func inputs(s listen.Scene) []instrument.Input {
	var out []instrument.Input
	for _, st := range s.States {
		for _, p := range s.Places {
			in := instrument.ChoiceIn("at-"+st.ID+"-"+p.ID, p.Title+", "+st.Title, levels...).Preset("unheard").ShownAs(instrument.Listen, st.ID+"/"+p.ID)
			in.Help = st.Title + "|" + p.Title + "|" + st.Caution
			out = append(out, in)
		}
	}
	return out
}

func marked(s listen.Scene, v instrument.Values) []listen.Mark {
	level := map[string]listen.Level{"none": listen.None, "faint": listen.Faint, "loud": listen.Loud}
	var out []listen.Mark
	for _, st := range s.States {
		for _, p := range s.Places {
			if l, ok := level[v.Chosen("at-"+st.ID+"-"+p.ID)]; ok {
				out = append(out, listen.Mark{State: st.ID, Place: p.ID, Level: l})
			}
		}
	}
	return out
}

const (
	clear        = 0.6  // share from which one source is named alone
	worthLinking = 0.25 // and from which what it could come from is
)

func tell(s listen.Scene, h *listen.Heard, r *instrument.Result) {
	if h == nil {
		r.Headline = "Mark where it is loud, where faint, where nothing is heard: nothing says as much."
		return
	}
	title := map[string]string{}
	for _, x := range s.States {
		title[x.ID] = x.Title
	}
	for _, x := range s.Places {
		title[x.ID] = x.Title
	}
	first, second := h.Sources[0], h.Sources[1]
	switch {
	case h.Else > 0.5:
		r.Headline = "None of what turns here explains it."
	case first.Share > clear:
		r.Headline = "Most likely: " + first.Name + "."
	default:
		r.Headline = "Not clear yet: " + first.Name + ", or " + second.Name + "."
	}
	if len(h.Next) > 0 {
		n := h.Next[0]
		r.Detail = fmt.Sprintf("Listen next at the %s, %s.", strings.TrimPrefix(title[n.Place], "the "), title[n.State])
	}
	bars := instrument.Chart{Kind: "bars", Title: "What explains it", Y: instrument.Axis{Label: "share", Dimension: quantity.Ratio, Unit: "%"}, Words: "Probability of each source; the rest is none of them."}
	for i, x := range h.Sources {
		if i < 7 {
			bars.Bars = append(bars.Bars, instrument.Bar{Label: x.Name, Value: x.Share, Text: fmt.Sprintf("%.0f %%", 100*x.Share), Emphasised: i == 0})
		}
	}
	bars.Bars = append(bars.Bars, instrument.Bar{Label: "none of them", Value: h.Else, Text: fmt.Sprintf("%.0f %%", 100*h.Else)})
	r.Figures = []instrument.Chart{bars}
	if h.Else < 0.5 && first.Share > worthLinking {
		r.Causes = first.Causes
	}
	if reading, ok := placed(h); ok {
		r.Stated = append(r.Stated, reading)
	}
}

// placed says where it is made, with how well each place agrees with the marks.
func placed(h *listen.Heard) (instrument.DerivedReading, bool) {
	share, before := map[string]float64{}, map[string]float64{}
	for _, x := range h.Sources {
		// Odds before are those after by the ratio.
		odds, part := x.Share/math.Max(1-x.Share, 1e-12)/math.Max(x.Ratio, 1e-12), 1/float64(len(x.Places))
		for _, place := range x.Places {
			if state, ok := stateOfPlace[place]; ok {
				share[state] += part * x.Share
				before[state] += part * odds / (1 + odds)
			}
		}
	}
	l, top := map[string]float64{}, 0.0
	for state := range share {
		l[state] = share[state] / math.Max(before[state], 1e-9)
		top = math.Max(top, l[state])
	}
	if top < 2 {
		return instrument.DerivedReading{}, false // the marks hardly tell
	}
	for _, state := range placeStates {
		l[state] = math.Max(0.01, l[state]/top)
	}
	return instrument.Derive(noisePlace, placeStates, l, fmt.Sprintf("%s, %.0f %%", h.Sources[0].Name, 100*h.Sources[0].Share)), true
}
