package knowledge

import "strings"

// Term explains a word.
type Term struct {
	Term  string `json:"term"`
	Means string `json:"means"`
}

// terms are words of the trade that a customer meets on a record.
var terms = []Term{
	{"converter", "the fluid coupling between engine and transmission"}, {"clutch", "friction plates inside the unit that pressure presses together to engage a gear"}, {"band", "a lined belt that holds a drum still to engage a gear"},
	{"freewheel", "a part that turns one way and locks the other"}, {"servo", "the piston that tightens a band"}, {"seal", "a ring that keeps fluid or pressure in"}, {"valve body", "the block of valves that steers the fluid"}, {"solenoid", "a valve worked by current"},
	{"governor", "the weights that tell the valves how fast the vehicle goes"}, {"modulator", "the capsule that tells the valves how hard the engine pulls"}, {"throttle-valve", "the valve that tells the unit how far the pedal is down"}, {"planet", "the gears that give the ratios"},
	{"flywheel", "the heavy disc at the end of the engine"}, {"synchronizer", "the ring that brings a gear to speed before it engages"}, {"pump", "what makes the pressure in the unit"}, {"cooler", "the radiator for the fluid"}, {"adaptation", "what the control has learned about its own clutches"},
	{"lining", "the friction surface of plates and bands"}, {"bushing", "a plain bearing"}, {"end play", "how far a shaft can be moved along itself"},
}

// InSentence writes a title as it stands within a sentence; an abbreviation or a number in front stays.
func InSentence(title string) string {
	if len(title) > 1 && title[1] >= 'a' && title[1] <= 'z' {
		return strings.ToLower(title[:1]) + title[1:]
	}
	return title
}

// TermsIn picks the terms that a text uses.
func TermsIn(text string) []Term {
	text = strings.ToLower(text)
	var out []Term
	for _, t := range terms {
		if strings.Contains(text, t.Term) {
			out = append(out, t)
		}
	}
	return out
}
