package knowledge

import (
	"cmp"
	"slices"
	"strings"
	"unicode"
)

// Offer is a finding that a complaint in plain words may mean, for somebody to confirm.
type Offer struct {
	Finding, Title, State, StateTitle string
	Said                              string // the words that were recognised
}

// Offers looks through a text for the ways of saying each finding (Finding.Words) and returns what they offer: of each
// finding the state with the longest match, the longest matches first. Nothing is taken for granted: words mislead.
func (n *Network) Offers(text string) []Offer {
	said := " " + plainWords(text) + " "
	var out []Offer
	for _, f := range n.Findings {
		best := Offer{}
		for _, w := range f.Words {
			phrase, state, ok := strings.Cut(w, ":")
			phrase = plainWords(phrase)
			if !ok || len(phrase) <= len(best.Said) || !strings.Contains(said, " "+phrase+" ") {
				continue
			}
			state = strings.TrimSpace(state)
			best = Offer{f.ID, f.Title, state, f.StateTitle(state), phrase}
		}
		if best.Said != "" {
			out = append(out, best)
		}
	}
	slices.SortStableFunc(out, func(a, b Offer) int { return cmp.Compare(len(b.Said), len(a.Said)) })
	return out
}

// plainWords keeps letters and digits of a text, in lower case, with one space between words.
func plainWords(text string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(text) {
		switch {
		case unicode.IsLetter(r) || unicode.IsDigit(r):
			b.WriteRune(r)
		case r == '\'' || r == '’': // "it's" is one word
		default:
			b.WriteByte(' ')
		}
	}
	return strings.Join(strings.Fields(b.String()), " ")
}
