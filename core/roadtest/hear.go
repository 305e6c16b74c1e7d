package roadtest

import (
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/gearing"
	"innercompass/core/phrase"
	"innercompass/core/unitsheet"
)

// Call is a cell as it was called out during a drive.
type Call struct {
	Cell  faultmap.Cell
	State string
}

// Hear reads what a passenger calls out, such as "third flares, fourth fine, reverse slow": ranges by id, name or gear, then what they do.
// A word without a range is about the cell at hand. Cells that the unit does not have are not made up. Words that say nothing about
// the grid come back in rest, in order.
func Hear(u *unitsheet.Unit, text string, at faultmap.Cell) (calls []Call, rest []string) {
	h := hearing{unit: u, at: at}
	tokens := phrase.Tokens(text)
	for i := 0; i < len(tokens); {
		if i > 0 && (tokens[i].Behind || tokens[i].Before != phrase.NoBreak) {
			h.settle()
		}
		i += h.word(tokens[i:])
	}
	h.settle()
	return h.calls, h.rest
}

type hearing struct {
	unit  *unitsheet.Unit
	at    faultmap.Cell
	calls []Call
	rest  []string

	named  []string           // ranges of the clause, none while none is named
	about  faultmap.Behaviour // of the clause, "" while none is named
	not    bool
	leads  bool // the last word leads to a range
	said   *saying
	unsaid []string // words of the clause so far, given back when it says nothing
}

// saying is what a word says: a state of the first of these behaviours that the range has.
type saying struct {
	behaviours []faultmap.Behaviour
	states     []string
}

// word takes one word, or a range of several, and says how many it took.
func (h *hearing) word(tokens []phrase.Token) int {
	if id, n := h.rangeAt(tokens); n > 0 {
		behind := len(h.named) == 0 && h.leads // "slips in third": the range of what was just said
		if h.said != nil && !behind {          // "third flares fourth bangs": the next range begins the next call
			h.settle()
		}
		h.leads = false
		h.named = append(h.named, id) // "fifth and seventh flare"
		return n
	}
	w := tokens[0]
	h.leads = slices.Contains([]string{"in", "into", "on", "of"}, w.Text)
	h.unsaid = append(h.unsaid, w.Text)
	switch {
	case slices.Contains(fillers, w.Text):
		h.unsaid = h.unsaid[:len(h.unsaid)-1]
	case slices.Contains([]string{"no", "not", "never", "without", "doesn't", "does"}, w.Text):
		h.not = h.not || w.Text != "does"
	default:
		stem := phrase.Stem(w.Text)
		if b, ok := topics[stem]; ok && h.about == "" {
			h.about = b
		}
		if s, ok := sayings[stem]; ok {
			if h.said != nil { // "reverse late and bangs": of the same range
				named := h.named
				h.settle()
				h.named = named
			}
			h.said = &s
		}
	}
	return 1
}

// settle ends a clause: what it says becomes calls.
func (h *hearing) settle() {
	defer func() { h.named, h.about, h.not, h.said, h.unsaid = nil, "", false, nil, nil }()
	ranges := h.named
	if len(ranges) == 0 {
		ranges = []string{h.at.Range}
	}
	about := h.about
	for _, id := range ranges {
		r, ok := h.unit.Range(id)
		if !ok || h.said == nil && about == "" {
			h.rest = append(h.rest, h.unsaid...)
			return
		}
		h.about = about
		for _, c := range h.meant(r) {
			h.calls = slices.DeleteFunc(h.calls, func(o Call) bool { return o.Cell == c.Cell })
			h.calls = append(h.calls, c)
		}
	}
}

// meant is what a clause says of a range; none when the range has no such cell.
func (h *hearing) meant(r unitsheet.Range) []Call {
	call := func(b faultmap.Behaviour, state string) []Call {
		if !faultmap.Has(r, b, h.unit) {
			h.rest = append(h.rest, h.unsaid...)
			return nil
		}
		return []Call{{faultmap.Cell{Range: r.ID, Behaviour: b}, state}}
	}
	if h.about == faultmap.Shift && !faultmap.Has(r, faultmap.Shift, h.unit) {
		h.about = faultmap.Engages // "reverse comes late": nothing shifts into it
	}
	fine := h.said != nil && h.said.behaviours == nil
	switch {
	case h.said == nil && h.not: // "no braking", "no lockup"
		return call(h.about, absent[h.about])
	case h.said == nil || fine && h.about != "" && !h.not:
		return call(h.about, faultmap.Info(h.about).Normal())
	case fine && len(h.named) == 0 && !h.not:
		return call(h.at.Behaviour, faultmap.Info(h.at.Behaviour).Normal())
	case fine && !h.not: // "fourth is fine": it comes, and it drives
		var out []Call
		for _, b := range []faultmap.Behaviour{faultmap.Engages, faultmap.Shift, faultmap.Drives} {
			if faultmap.Has(r, b, h.unit) {
				out = append(out, call(b, faultmap.Info(b).Normal())...)
			}
		}
		return out
	case fine: // "not right" says nothing of what
		h.rest = append(h.rest, h.unsaid...)
		return nil
	}
	// A behaviour that is named, or at hand, goes before what the word would say by itself.
	order := h.said.behaviours
	states := h.said.states
	for _, wanted := range []faultmap.Behaviour{h.about, h.asked()} {
		if i := slices.Index(order, wanted); i >= 0 && faultmap.Has(r, wanted, h.unit) {
			return call(wanted, h.negated(wanted, states[i]))
		}
	}
	for i, b := range order {
		if faultmap.Has(r, b, h.unit) {
			return call(b, h.negated(b, states[i]))
		}
	}
	h.rest = append(h.rest, h.unsaid...)
	return nil
}

// asked is the behaviour at hand when the clause is about its range.
func (h *hearing) asked() faultmap.Behaviour {
	if len(h.named) == 0 || slices.Contains(h.named, h.at.Range) {
		return h.at.Behaviour
	}
	return ""
}

// negated turns "no slip" into the healthy state; "never comes" and the like say no by themselves.
func (h *hearing) negated(b faultmap.Behaviour, state string) string {
	if !h.not || state == "missing" || state == "none" {
		return state
	}
	return faultmap.Info(b).Normal()
}

// rangeAt is the range that the words begin with, and how many words name it.
func (h *hearing) rangeAt(tokens []phrase.Token) (id string, words int) {
	for n := min(3, len(tokens)); n > 0; n-- {
		said := make([]string, n)
		for i, t := range tokens[:n] {
			said[i] = t.Text
		}
		if id := h.rangeOf(strings.Join(said, " ")); id != "" {
			return id, n
		}
	}
	return "", 0
}

// rangeOf is the range that is called so: by its id, its whole name, or the last word of its name, where the first range of that word counts.
func (h *hearing) rangeOf(said string) string {
	if gear, ok := gears[said]; ok {
		said = gear
	}
	var byWord, top string
	for _, r := range h.unit.Ranges {
		if !faultmap.Shown(r, h.unit) {
			continue
		}
		name := strings.ToLower(r.Name)
		if said == strings.ToLower(r.ID) || said == name {
			return r.ID
		}
		fields := strings.Fields(name)
		if byWord == "" && (fields[len(fields)-1] == said || fields[0] == said && len(fields) == 2 && fields[1] == "held") {
			byWord = r.ID
		}
		if r.Healthy.Outcome == gearing.Forward && (top == "" || r.From != "") {
			top = r.ID
		}
	}
	if byWord == "" && said == "top" {
		return top
	}
	return byWord
}

// gears are other ways of saying the last word of a range's name.
var gears = map[string]string{"1st": "first", "2nd": "second", "3rd": "third", "4th": "fourth", "5th": "fifth", "6th": "sixth", "7th": "seventh", "8th": "eighth", "9th": "ninth", "10th": "tenth",
	"one": "first", "two": "second", "three": "third", "four": "fourth", "five": "fifth", "six": "sixth", "seven": "seventh", "eight": "eighth", "nine": "ninth", "ten": "tenth",
	"1": "first", "2": "second", "3": "third", "4": "fourth", "5": "fifth", "6": "sixth", "7": "seventh", "8": "eighth", "9": "ninth", "10": "tenth", "overdrive": "top"}

// fillers say nothing about the grid and are no news either.
var fillers = []string{"the", "a", "it", "is", "it's", "'s", "in", "into", "and", "then", "on", "to", "gear", "at", "there", "all", "with", "but", "that", "was", "now", "up"}

// topics name a row of the grid, by the stem of the word.
var topics = stems(map[string]faultmap.Behaviour{"engages": faultmap.Engages, "engagement": faultmap.Engages, "drive": faultmap.Drives, "drives": faultmap.Drives, "pulls": faultmap.Drives, "shift": faultmap.Shift, "comes": faultmap.Shift, "upshift": faultmap.Shift, "down": faultmap.Down, "downshift": faultmap.Down,
	"slips": faultmap.Slips, "braking": faultmap.Brakes, "noise": faultmap.Noise, "lockup": faultmap.Lockup, "converter": faultmap.Lockup})

// absent is the state of a row of which there is none.
var absent = map[faultmap.Behaviour]string{faultmap.Engages: "none", faultmap.Drives: "none", faultmap.Shift: "missing", faultmap.Down: "missing", faultmap.Slips: "no", faultmap.Brakes: "missing", faultmap.Noise: "normal", faultmap.Lockup: "none"}

// sayings are the words for states, by stem (common practice, no source). A saying without behaviours is "fine".
var sayings = func() map[string]saying {
	out := map[string]saying{}
	add := func(words string, s saying) {
		for w := range strings.FieldsSeq(words) {
			out[phrase.Stem(w)] = s
		}
	}
	say := func(pairs ...string) saying {
		var s saying
		for i := 0; i < len(pairs); i += 2 {
			s.behaviours, s.states = append(s.behaviours, faultmap.Behaviour(pairs[i])), append(s.states, pairs[i+1])
		}
		return s
	}
	add("fine normal good okay ok clean right smooth quiet", saying{})
	add("flares flare revs runs", say("shift", "flare", "down", "flare"))
	add("harsh hard bangs bang jerks slams kicks clunks rough", say("shift", "harsh", "engages", "harsh", "down", "harsh"))
	add("late", say("shift", "late", "engages", "late"))
	add("early", say("shift", "early"))
	add("slow delay delays delayed waits hesitates sluggish", say("engages", "late", "shift", "delay", "down", "delay"))
	add("slips slipping", say("slips", "yes", "lockup", "slips"))
	add("nothing neutral dead", say("drives", "none", "engages", "none"))
	add("wrong", say("drives", "wrong"))
	add("binds bind binding drags", say("drives", "bind"))
	add("ties tie tied", say("shift", "tie-up", "down", "tie-up"))
	add("missing skips missed", say("shift", "missing", "brakes", "missing", "down", "missing"))
	add("whines whine growls howls noisy loud grinds", say("noise", "noisy"))
	add("coasts freewheels", say("brakes", "missing"))
	add("shudders shudder judders", say("lockup", "slips"))
	add("stalls", say("lockup", "stuck"))
	return out
}()

func stems(in map[string]faultmap.Behaviour) map[string]faultmap.Behaviour {
	out := map[string]faultmap.Behaviour{}
	for w, b := range in {
		out[phrase.Stem(w)] = b
	}
	return out
}
