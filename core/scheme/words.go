package scheme

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/teeth"
	"innercompass/core/unitsheet"
)

// FitsWords says how many sets of teeth fit.
func FitsWords(a teeth.Answer) string {
	switch {
	case len(a.Fits) == 0:
		return "no teeth fit"
	case a.AtLeast:
		return fmt.Sprintf("1 of more than %.0f that fit", a.Count)
	case a.Count == 1:
		return "the only ones that fit"
	}
	return fmt.Sprintf("1 of %.0f that fit", a.Count)
}

// EnoughWords says whether a misprint would show.
func EnoughWords(a teeth.Answer) string {
	switch spare := a.Ratios - a.Unknowns; {
	case a.Unknowns == 0:
		return ""
	case spare <= 0:
		return "As many ratios as unknown sets: a misprint would not show."
	case spare == 1:
		return "One ratio more than unknown sets: a misprint shows, but not always which."
	}
	return ""
}

// DiffersWords says what the fits disagree about, for the diagnosis.
func DiffersWords(a teeth.Answer) string {
	if len(a.Fits) < 2 {
		return ""
	}
	return fmt.Sprintf("They differ by at most %.3f in any ratio: the same symptoms, nearly the same loads. Only the pitch of gear noise differs.", a.Differs.Ratio)
}

// SuspectWords says what would stand in the place of a printed ratio.
func SuspectWords(s teeth.Suspect) string {
	if math.Abs(s.Top-s.Low) < 1e-3 {
		return fmt.Sprintf("without it teeth fit; they give %.3f here", s.Low)
	}
	return fmt.Sprintf("without it teeth fit; they give %.3f to %.3f here", s.Low, s.Top)
}

// MissWords says what the nearest teeth give in the place of a printed ratio.
func MissWords(m teeth.Miss) string {
	return fmt.Sprintf("%.3f, printed %.*f", m.Ratio, m.Decimals, m.Printed)
}

// SetCounts are the teeth of a set or of a pair of gears, part by part.
type SetCounts struct {
	Name  string
	Teeth []Count
}

// Count is one count of teeth, or of planets.
type Count struct {
	Part  string
	Teeth int
}

// Counts lists the teeth of a fit.
func Counts(s unitsheet.Sheet, f teeth.Fit) []SetCounts {
	var out []SetCounts
	for i, t := range f.Sets {
		if i >= len(s.Gearing.Sets) {
			break
		}
		c := SetCounts{Name: s.Gearing.Sets[i].Name}
		switch {
		case t.SmallSun > 0:
			c.Teeth = []Count{{"small sun", t.SmallSun}, {"large sun", t.Sun}, {"ring", t.Ring}, {"long planets", t.Planet}}
		case t.Inner > 0:
			c.Teeth = []Count{{"sun", t.Sun}, {"ring", t.Ring}, {"inner planets", t.Inner}, {"outer planets", t.Planet}}
		default:
			c.Teeth = []Count{{"sun", t.Sun}, {"ring", t.Ring}, {"planets", t.Planet}}
		}
		out = append(out, c)
	}
	if len(f.Pairs) == 0 {
		return out
	}
	t, err := train(s.Gearing, s.Elements, false)
	if err != nil {
		return out
	}
	for i, p := range f.Pairs {
		if i < len(t.train.Pairs) {
			out = append(out, SetCounts{Name: t.train.Pairs[i].Name, Teeth: []Count{{"drives", p.A}, {"driven", p.B}}})
		}
	}
	return out
}

// FitWords is a fit in a line.
func FitWords(s unitsheet.Sheet, f teeth.Fit) string {
	var sets []string
	for _, c := range Counts(s, f) {
		var n []string
		for _, t := range c.Teeth {
			n = append(n, fmt.Sprint(t.Teeth))
		}
		sets = append(sets, strings.Join(n, "/"))
	}
	return strings.Join(sets, ", ")
}
