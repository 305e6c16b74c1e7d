package intake

import (
	"fmt"
	"slices"
	"strings"
	"unicode"
)

// Own is a shop's own way of saying: plain words and the reading that they mean.
type Own struct{ Say, Title, Finding, State string }

// WithOwn returns the lexicon with a shop's own ways behind its own. The ways must be sound (CheckOwn).
func (l Lexicon) WithOwn(own []Own) Lexicon {
	words := make([]Entry, len(own))
	for i, o := range own {
		words[i] = Entry{Role: Find, ID: fmt.Sprintf("own-%d", i+1), Title: o.Title, Ways: strings.Join(strings.Fields(strings.ToLower(o.Say)), " "), Says: []string{o.Finding + " " + o.State}}
	}
	return l.With(Lexicon{Words: words})
}

// CheckOwn says why words cannot be a way of saying; nil when they can. One plain word means too many things to too many people.
func (l Lexicon) CheckOwn(say string) error {
	words := strings.Fields(strings.ToLower(say))
	if len(words) == 0 || len(words) > 8 {
		return Problem{"say", fmt.Sprintf("%d words", len(words)), "1 to 8 words"}
	}
	odd := func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) && !strings.ContainsRune("'’-", r)
	}
	if i := slices.IndexFunc(words, func(w string) bool { return strings.ContainsFunc(w, odd) }); i >= 0 {
		return Problem{"say", fmt.Sprintf("%q", words[i]), "letters, digits, hyphens and apostrophes"}
	}
	telling := slices.ContainsFunc(words, func(w string) bool { return len([]rune(w)) > 3 })
	if len(words) == 1 && (!telling || slices.Contains(l.English, words[0])) || !telling {
		return Problem{"say", fmt.Sprintf("%q is too common to mean one thing", say), "two or more words that customers say together, or a word of the trade"}
	}
	return nil
}
