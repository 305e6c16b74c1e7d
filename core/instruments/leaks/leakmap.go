package leaks

import (
	"fmt"
	"strings"

	"innercompass/core/instrument"
	"innercompass/core/leak"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Wetness of a zone, as it is chosen; what is not looked at says nothing.
var wetness = []instrument.Option{{ID: "unseen", Title: "not looked at"}, {ID: "dry", Title: "dry"}, {ID: "wet", Title: "wet"}, {ID: "fresh", Title: "fresh drops"}}

var watchTitles = map[leak.Watch]string{leak.AsFound: "as it came", leak.Standing: "cleaned, then left standing overnight", leak.Running: "cleaned, then run at rest", leak.Driven: "cleaned, then driven"}

// nextLooks names what may be looked at next.
var nextLooks = map[string]string{
	"rest": "look at the places that are not marked yet", "cover": "take the inspection cover off and look inside", "paper": "a drop on white paper beside a fresh one: which oil is it",
	"vent": "blow through the vent", "plug": "open the filler plug of the transfer case", "watch": "watch when it drips: standing, running, after a drive", "dye": "dye and lamp",
	"clean-standing": "clean it, leave it overnight, look again", "clean-running": "clean it, run it at rest, look again", "clean-driven": "clean it, drive, look again",
}

// Map finds where oil comes from, by what is wet, fresh and dry.
func Map() instrument.Definition {
	return instrument.Definition{
		ID: "leak-map", Title: "Leak map", Group: "fluid", Hand: []string{"eye", "paper"},
		Answers:  "Where does the oil come from, when it has run down and been blown back?",
		Source:   "gravity and wind over the places of the unit sheet, several leaks at once (noisy maximum, exact up to three); shares are common practice, no source",
		Limits:   "needs a unit; oil thrown about by shafts is known only where the sheet gives its path",
		Cautions: []string{instrument.CautionUnder, instrument.CautionCleaner},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u == nil || u.Leaks == nil {
				return nil
			}
			if u.Sheet.Leaks == nil {
				d.Limits = "the sheet of this unit has no places of its own, so a plain unit is drawn: seals that only this design has are missing"
			}
			t := leak.NewTracer(*u.Leaks)
			d.Inputs = leakInputs(t.Map)
			for _, s := range t.Map.Sources {
				d.States = append(d.States, "leak-at-"+s.ID)
			}
			d.Work = instrument.Works(func(v instrument.Values) (*leak.Trace, []instrument.Output, error) {
				found, err := traced(t, v)
				if err != nil || found == nil {
					return nil, nil, err
				}
				first := found.Suspects[0]
				return found, []instrument.Output{instrument.Out("share", first.Name, first.Share, quantity.Ratio, "%")}, nil
			}, func(_ instrument.Values, found *leak.Trace, _ []instrument.Output, r *instrument.Result) {
				tellLeak(t.Map, found, r)
			})
			return nil
		},
		Compute: func(instrument.Values) ([]instrument.Output, error) {
			return nil, &instrument.InputError{Input: "unit", Reason: "which unit it is decides where its seals are", Accepted: "a unit whose sheet has leaks"}
		},
		Jumps: true,
	}
}

func leakInputs(m leak.Map) []instrument.Input {
	var watched []instrument.Option
	for _, w := range leak.Watches {
		watched = append(watched, instrument.Option{ID: string(w), Title: watchTitles[w]})
	}
	out := []instrument.Input{instrument.ChoiceIn("watched", "Looked at", watched...).Preset(string(leak.AsFound))}
	transfer := false
	for _, z := range m.Zones {
		out = append(out, instrument.ChoiceIn("zone-"+z.ID, z.Name, wetness...).Preset("unseen").ShownAs(instrument.Zone, z.ID))
	}
	for _, s := range m.Sources {
		transfer = transfer || s.ID == leak.Transfer
	}
	for _, x := range leak.Moments {
		out = append(out, instrument.ChoiceIn("when-"+x.ID, "It drips "+x.Title, instrument.Option{ID: "unknown", Title: "not watched"}, instrument.Option{ID: "yes", Title: "yes"}, instrument.Option{ID: "no", Title: "no"}).Preset("unknown"))
	}
	colours := []instrument.Option{{ID: "unknown", Title: "not looked at"}}
	for _, c := range leak.Colours {
		colours = append(colours, instrument.Option{ID: c, Title: c})
	}
	out = append(out, instrument.ChoiceIn("colour", "Color of a drop on white paper", colours...).Preset("unknown"),
		instrument.ChoiceIn("level", "The unit's level", instrument.Option{ID: "unknown", Title: "not followed"}, instrument.Option{ID: "steady", Title: "stays"}, instrument.Option{ID: "slow", Title: "falls slowly"}, instrument.Option{ID: "fast", Title: "falls fast"}).Preset("unknown"),
		instrument.ChoiceIn("vent", "The vent", instrument.Option{ID: "unknown", Title: "not looked at"}, instrument.Option{ID: "open", Title: "open"}, instrument.Option{ID: "blocked", Title: "blocked"}).Preset("unknown"))
	if transfer {
		out = append(out, instrument.ChoiceIn("plug", "Filler plug of the transfer case", instrument.Option{ID: "unknown", Title: "not opened"}, instrument.Option{ID: "right", Title: "level right"}, instrument.Option{ID: "over", Title: "runs over"}).Preset("unknown"))
	}
	return out
}

// traced explains what was marked; nil when nothing was.
func traced(t *leak.Tracer, v instrument.Values) (*leak.Trace, error) {
	known := func(id string) string {
		if c := v.Chosen(id); c != "unknown" {
			return c
		}
		return ""
	}
	s := leak.Scene{Watched: leak.Watch(v.Chosen("watched")), Zones: map[string]int{}, When: map[string]bool{}, Colour: known("colour"), Level: known("level"), Vent: known("vent"), Plug: known("plug")}
	if s.Watched == "" {
		s.Watched = leak.AsFound
	}
	levels := map[string]int{"dry": leak.Dry, "wet": leak.Wet, "fresh": leak.Fresh}
	for _, z := range t.Map.Zones {
		if level, ok := levels[v.Chosen("zone-"+z.ID)]; ok {
			s.Zones[z.ID] = level
		}
	}
	for _, m := range leak.Moments {
		if c := known("when-" + m.ID); c != "" {
			s.When[m.ID] = c == "yes"
		}
	}
	if len(s.Zones)+len(s.When) == 0 && s.Colour+s.Level+s.Vent+s.Plug == "" {
		return nil, nil
	}
	found, err := t.Trace(s)
	if err != nil {
		return nil, instrument.Impossible("watched", err)
	}
	return &found, nil
}

// tellLeak puts an explanation into words, bars and ways.
func tellLeak(m leak.Map, found *leak.Trace, r *instrument.Result) {
	if found == nil {
		r.Headline = "Mark what is wet, what drips fresh, and what is dry: dry says as much."
		return
	}
	name := map[string]string{}
	for _, z := range m.Zones {
		name[z.ID] = z.Name
	}
	var leads []string
	for _, s := range found.Suspects {
		if s.Share > 0.5 {
			leads = append(leads, s.Name)
		}
	}
	first := found.Suspects[0]
	switch {
	case len(leads) > 1:
		r.Headline = "More than one: " + strings.Join(leads, ", and ") + "."
	case first.Share > 0.85:
		r.Headline = "It comes from the " + first.Name + "."
	case first.Share > 0.5:
		r.Headline = "Most likely: " + first.Name + "."
	default:
		r.Headline = fmt.Sprintf("Not clear yet: %s, or %s.", first.Name, found.Suspects[1].Name)
	}
	var say []string
	if len(first.Wets) > 0 {
		if last := first.Wets[len(first.Wets)-1]; len(last.Through) > 1 {
			var way []string
			for _, id := range last.Through {
				way = append(way, name[id])
			}
			say = append(say, "Its way: "+strings.Join(way, ", then ")+".")
		}
	}
	if len(found.Unexplained) > 0 {
		var zones []string
		for _, id := range found.Unexplained {
			zones = append(zones, name[id])
		}
		say = append(say, "Not explained by it: "+strings.Join(zones, ", ")+".")
	}
	if len(found.Checks) > 0 {
		c := found.Checks[0]
		say = append(say, fmt.Sprintf("Next: %s (%.0f min).", nextLooks[c.ID], c.Minutes))
	}
	r.Detail = strings.Join(say, " ")
	bars := instrument.Chart{Kind: "bars", Title: "What explains the marks", Y: instrument.Axis{Label: "share", Dimension: quantity.Ratio, Unit: "%"}, Words: "Probability of each source."}
	ways := instrument.Chart{Kind: "ways", Title: "The ways of the oil", Words: "From each likely source to the wet places that it explains."}
	for i, s := range found.Suspects {
		if i < 6 {
			bars.Bars = append(bars.Bars, instrument.Bar{Label: s.Name, Value: s.Share, Text: fmt.Sprintf("%.0f %%", 100*s.Share), Emphasised: i == 0})
		}
		if i > 0 && s.Share <= 0.5 {
			continue // one doubtful way at a time
		}
		for _, w := range s.Wets {
			ways.Ways = append(ways.Ways, instrument.Way{Source: s.Name, Zones: w.Through})
		}
	}
	r.Figures = []instrument.Chart{bars, ways}
	for _, s := range found.Suspects {
		// What the marks hardly move is not noted, nor what they only leave open: it would fill the trail and say little.
		if leaks, not := s.Share > 0.3 && s.Ratio > 2, s.Ratio < 0.3; !leaks && !not {
			continue
		}
		p := s.Ratio / (1 + s.Ratio)
		r.Stated = append(r.Stated, instrument.Derive("leak-at-"+s.ID, []string{"no", "yes"}, map[string]float64{"yes": p, "no": 1 - p}, fmt.Sprintf("%.0f %%", 100*s.Share)))
	}
}
