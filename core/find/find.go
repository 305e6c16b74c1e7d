// Package find finds things by the words of the trade: by parts of words, by their forms, by what they are called elsewhere, and past a
// slip of the pen.
package find

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"innercompass/core/phrase"
)

// Alike are words that mean the same; the first of a list is the one that the app writes.
type Alike [][]string

// Problem is what is wrong with a list of Alike, with its place.
type Problem struct{ Path, Reason, Accepted string }

// Validate names lists that say nothing, and words that stand in two of them.
func (a Alike) Validate() []Problem {
	var out []Problem
	at := map[string]int{}
	for i, list := range a {
		if len(list) < 2 {
			out = append(out, Problem{fmt.Sprintf("alike[%d]", i), "one word is like nothing", "the word that is written, then others for it"})
		}
		for _, w := range list {
			if j, ok := at[w]; ok {
				out = append(out, Problem{fmt.Sprintf("alike[%d]", i), fmt.Sprintf("%q stands in list %d too", w, j), "each word once"})
			}
			at[w] = i
		}
	}
	return out
}

// Entry is something that can be found. Text is searched besides the title and the detail.
type Entry struct{ Kind, ID, Unit, Title, Detail, Text string }

// Index finds entries.
type Index struct {
	alike   map[string]string // a way of saying, in stems, to the word that is written
	longest int               // words of the longest way
	items   []item
	spell   *phrase.Speller
}

type item struct {
	Entry
	title, rest []string // stems
}

// New makes an index. Where entries are alike, their order is kept.
func New(alike Alike, entries []Entry) *Index {
	ix := &Index{alike: map[string]string{}, longest: 1}
	for _, list := range alike {
		for _, w := range list[1:] {
			stems := stemsOf(w)
			ix.longest = max(ix.longest, len(stems))
			ix.alike[strings.Join(stems, " ")] = strings.Join(stemsOf(list[0]), " ")
		}
	}
	words := map[string]bool{}
	for _, e := range entries {
		ix.items = append(ix.items, item{e, ix.terms(e.Title), ix.terms(e.Detail + " " + e.Text)})
		for w := range strings.FieldsFuncSeq(strings.ToLower(e.Title), apart) {
			words[w] = true
		}
	}
	for w := range ix.alike {
		for part := range strings.FieldsSeq(w) {
			words[part] = true
		}
	}
	lexicon := make([]string, 0, len(words))
	for w := range words {
		lexicon = append(lexicon, w)
	}
	slices.Sort(lexicon)
	ix.spell = phrase.NewSpeller(lexicon, nil)
	return ix
}

// Written puts a text into the words that the app writes; a word that is alike nothing stays as it is.
func (a Alike) Written(text string) string {
	out := " " + strings.ToLower(text) + " "
	for _, list := range a {
		for _, w := range list[1:] {
			out = strings.ReplaceAll(out, " "+w+" ", " "+list[0]+" ")
		}
	}
	return strings.TrimSpace(out)
}

// Search returns the entries in which every word of a query occurs, or begins a word; at most each of a kind, the best first. When a
// word occurs nowhere it is put right if one known word is near.
func (ix *Index) Search(query string, each int) []Entry {
	found := ix.search(ix.terms(query))
	if len(found) == 0 {
		fields := strings.FieldsFunc(strings.ToLower(query), apart)
		for i, w := range fields {
			if m := ix.spell.Mend(w); m != "" {
				fields[i] = m
			}
		}
		found = ix.search(ix.terms(strings.Join(fields, " ")))
	}
	count := map[string]int{}
	return slices.DeleteFunc(found, func(e Entry) bool {
		count[e.Kind]++
		return count[e.Kind] > each
	})
}

func (ix *Index) search(terms []string) []Entry {
	if len(terms) == 0 {
		return nil
	}
	type hit struct {
		at, score int
	}
	var hits []hit
	for i := range ix.items {
		if s := ix.items[i].score(terms); s > 0 {
			hits = append(hits, hit{i, s})
		}
	}
	slices.SortStableFunc(hits, func(a, b hit) int { return cmp.Compare(b.score, a.score) })
	out := make([]Entry, len(hits))
	for i, h := range hits {
		out[i] = ix.items[h.at].Entry
	}
	return out
}

// score is 0 when a term is missing; a whole word counts more than its beginning, the title more than the rest, and of two titles with
// the same words the shorter is meant.
func (x *item) score(terms []string) int {
	sum := 0
	for _, t := range terms {
		best := max(8*match(t, x.title), match(t, x.rest))
		if best == 0 {
			return 0
		}
		sum += best
	}
	if strings.HasPrefix(x.title0(), terms[0]) {
		sum += 4
	}
	return sum*16 + max(0, 15-len(x.title))
}

func (x *item) title0() string {
	if len(x.title) == 0 {
		return ""
	}
	return x.title[0]
}

// match is 2 for a word, 1 for the beginning of one.
func match(term string, words []string) int {
	out := 0
	for _, w := range words {
		switch {
		case w == term:
			return 2
		case strings.HasPrefix(w, term):
			out = 1
		}
	}
	return out
}

// terms are the stems of a text, in the words that the app writes.
func (ix *Index) terms(text string) []string {
	stems := stemsOf(text)
	var out []string
next:
	for i := 0; i < len(stems); {
		for n := min(ix.longest, len(stems)-i); n > 0; n-- {
			if w, ok := ix.alike[strings.Join(stems[i:i+n], " ")]; ok {
				out = append(out, strings.Fields(w)...)
				i += n
				continue next
			}
		}
		out = append(out, stems[i])
		i++
	}
	return out
}

func stemsOf(text string) []string {
	fields := strings.FieldsFunc(strings.ToLower(text), apart)
	for i, w := range fields {
		fields[i] = phrase.Stem(w)
	}
	return fields
}

// apart are the runes between words: whatever is no letter and no digit; dashes too, so that 2-3 finds 2–3.
func apart(r rune) bool {
	return !unicode.IsLetter(r) && !unicode.IsDigit(r)
}
