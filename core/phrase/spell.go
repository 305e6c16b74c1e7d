package phrase

import "strings"

// Speller puts slips of the pen right: only a word that is known nowhere, and only when exactly one known word is near.
type Speller struct {
	known map[string]bool     // every word that means something here, and plain English
	near  map[string][]string // words of the lexicon by first letter: what a slip may be put right to
}

// NewSpeller makes a speller from the words of the lexicon and plain English.
func NewSpeller(lexicon, english []string) *Speller {
	s := &Speller{known: make(map[string]bool, len(lexicon)+len(english)), near: map[string][]string{}}
	for _, w := range english {
		s.known[w] = true
	}
	for _, w := range lexicon {
		s.known[w] = true
		if len(w) >= 4 {
			s.near[w[:1]] = append(s.near[w[:1]], w)
		}
	}
	return s
}

// Mend returns the one word of the lexicon that a word was meant to be, or "". A word of eight letters and more may be two slips away.
func (s *Speller) Mend(w string) string {
	if len(w) < 4 || s.known[w] || s.known[Stem(w)] || strings.ContainsAny(w, "0123456789") {
		return ""
	}
	for _, tail := range []string{"s", "ed", "ing", "es", "ly", "er"} { // a form of a known word
		if base, ok := strings.CutSuffix(w, tail); ok && (s.known[base] || s.known[base+"e"]) {
			return ""
		}
	}
	most := 1
	if len(w) >= 8 {
		most = 2
	}
	for d := 0; d <= most; d++ { // two letters swapped come first: the commonest slip
		found, stems := "", ""
		for _, k := range s.near[w[:1]] {
			if d == 0 && !swapped(w, k) || d > 0 && !within(w, k, d) {
				continue
			}
			if st := Stem(k); found != "" && st != stems {
				return "" // two words are as near: nobody knows which
			} else {
				found, stems = k, st
			}
		}
		if found != "" {
			return found
		}
	}
	return ""
}

// swapped reports whether two neighboring letters of a make b.
func swapped(a, b string) bool {
	if len(a) != len(b) {
		return false
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	return i+1 < len(a) && a[i] == b[i+1] && a[i+1] == b[i] && a[i+2:] == b[i+2:]
}

// within reports whether b is at most most slips from a: a letter left out, put in, exchanged, or two swapped.
func within(a, b string, most int) bool {
	if d := len(a) - len(b); d > most || -d > most {
		return false
	}
	before, last, row := make([]int, len(b)+1), make([]int, len(b)+1), make([]int, len(b)+1)
	for j := range last {
		last[j] = j
	}
	for i := 1; i <= len(a); i++ {
		row[0] = i
		least := row[0]
		for j := 1; j <= len(b); j++ {
			cost := 1
			if a[i-1] == b[j-1] {
				cost = 0
			}
			row[j] = min(last[j]+1, row[j-1]+1, last[j-1]+cost)
			if i > 1 && j > 1 && a[i-1] == b[j-2] && a[i-2] == b[j-1] {
				row[j] = min(row[j], before[j-2]+1)
			}
			least = min(least, row[j])
		}
		if least > most {
			return false
		}
		before, last, row = last, row, before
	}
	return last[len(b)] <= most
}
