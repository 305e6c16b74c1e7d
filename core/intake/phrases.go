package intake

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
)

// Phrase is what is shown and taken as one: a symptom with its range, its conditions and its time, or a story, or an opinion.
// Phrases do not overlap. Start and End are bytes of the text.
type Phrase struct {
	Ref        string // names it as long as the text stands
	Start, End int
	Leader     Span
	Details    []string // titles of what belongs to it, in the order of the text
	Readings   []Reading
	Sure       int
}

// Phrases gathers spans, as Read returned them of the text, into phrases in the order of the text.
func Phrases(text string, spans []Span) []Phrase {
	var out []Phrase
	at := map[int]int{} // place of a leader's phrase
	for i, s := range spans {
		if leads(s) {
			at[i] = len(out)
			out = append(out, Phrase{Ref: fmt.Sprintf("%s.%s.%d", s.Role, s.Kind, s.Start), Start: s.Start, End: s.End, Leader: s, Readings: slices.Clone(s.Readings), Sure: s.Sure})
		}
	}
	for i, s := range spans {
		of, ok := at[s.Of]
		if _, leader := at[i]; leader || s.Of < 0 || !ok {
			continue
		}
		p := &out[of]
		p.Details = append(p.Details, s.Title)
		for _, r := range s.Readings {
			if !slices.ContainsFunc(p.Readings, func(o Reading) bool { return o.Finding == r.Finding }) {
				p.Readings = append(p.Readings, r)
			}
		}
		if reaches(text, spans, at, *p, s) {
			p.Start, p.End = min(p.Start, s.Start), max(p.End, s.End)
		}
	}
	slices.SortStableFunc(out, func(a, b Phrase) int { return cmp.Or(a.Start-b.Start, b.End-a.End) })
	return apart(text, out)
}

// leads reports whether a span stands for itself: what it says does not wait for a symptom.
func leads(s Span) bool {
	switch s.Role {
	case Find, Denied, Gone, Fine, History, Hearsay, Guess, Wish:
		return true
	}
	return s.Of < 0 && len(s.Readings) > 0
}

// reaches reports whether a phrase may be drawn as far as a span: in the same sentence, and over no other phrase.
func reaches(text string, spans []Span, at map[int]int, p Phrase, s Span) bool {
	from, to := min(p.Start, s.Start), max(p.End, s.End)
	if strings.ContainsAny(text[from:to], ".!?;:\n") {
		return false
	}
	for j := range at {
		if o := spans[j]; o.Start != p.Leader.Start && o.Start < to && from < o.End {
			return false
		}
	}
	return true
}

// apart cuts phrases so that none overlaps; one that lies within another gives up its place and adds what it offers.
func apart(text string, in []Phrase) []Phrase {
	var out []Phrase
	for _, p := range in {
		if n := len(out); n > 0 && p.Start < out[n-1].End {
			last := &out[n-1]
			if p.End <= last.End {
				last.Details = append(last.Details, p.Leader.Title)
				last.Readings = append(last.Readings, p.Readings...)
				continue
			}
			p.Start = last.End + len(text[last.End:]) - len(strings.TrimLeft(text[last.End:], " ,"))
		}
		out = append(out, p)
	}
	return out
}
