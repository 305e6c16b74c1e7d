package intake

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"innercompass/core/phrase"
)

// Lexicon is what words mean, as data. Ways of saying are patterns, divided by " / "; docs/words.md has their grammar.
type Lexicon struct {
	Same    map[string]string `yaml:"same"`    // one word for several of one meaning: British and American, full and short
	Classes map[string]string `yaml:"classes"` // named alternatives for use in patterns
	Words   []Entry           `yaml:"words"`
	English []string          `yaml:"-"` // plain words that are never taken for a slip of the pen
}

// Entry is one thing that words can say.
type Entry struct {
	Role   Role     `yaml:"role"`
	ID     string   `yaml:"id"`
	Title  string   `yaml:"title"`
	Ways   string   `yaml:"ways"`
	Says   []string `yaml:"says"`   // readings that it offers: FINDING STATE, FINDING STATE when CONDITION|CONDITION, FINDING STATE of KIND|KIND
	Denied []string `yaml:"denied"` // readings that its denial offers
	Of     string   `yaml:"of"`     // gone: kinds of symptom that can go so, with | between, empty for any; guess: always, back; quiet: clause, after, thought, sentence; since: history
	Ranged string   `yaml:"ranged"` // what it is in a range: "R nodrive.reverse, D nodrive.forward"
	Needs  string   `yaml:"needs"`  // what the unit must have
	Parts  string   `yaml:"parts"`  // history: what was worked on; ways are made of it
}

// Role is what a span does in a sentence.
type Role string

// Roles of spans.
const (
	Find    Role = "find"    // there now, by the customer's own account
	Denied  Role = "denied"  // said not to be there
	Gone    Role = "gone"    // goes or lessens under a condition: no denial
	Fine    Role = "fine"    // said to work well
	RangeOf Role = "range"   // gear or selector position
	When    Role = "when"    // condition
	Since   Role = "since"   // how or when it began
	Often   Role = "often"   // pattern in time
	Place   Role = "place"   // where it is felt, heard or seen
	History Role = "history" // work done or an event
	Hearsay Role = "hearsay" // what somebody else says is wrong or needed
	Guess   Role = "guess"   // the customer's idea of the cause
	Wish    Role = "wish"    // what the customer asks for
	Hedge   Role = "hedge"   // weakens or sets aside
	Mask    Role = "mask"    // an idiom that means nothing here
	Quiet   Role = "quiet"   // an idiom that is no symptom
	NoRange Role = "norange" // an idiom that names no range
)

var roles = []Role{Find, Denied, Gone, Fine, RangeOf, When, Since, Often, Place, History, Hearsay, Guess, Wish, Hedge, Mask, Quiet, NoRange}

// With returns the lexicon with another's entries behind its own.
func (l Lexicon) With(o Lexicon) Lexicon {
	out := Lexicon{Same: maps.Clone(l.Same), Classes: maps.Clone(l.Classes), Words: slices.Concat(l.Words, o.Words), English: slices.Concat(l.English, o.English)}
	if out.Same == nil {
		out.Same = map[string]string{}
	}
	if out.Classes == nil {
		out.Classes = map[string]string{}
	}
	maps.Copy(out.Same, o.Same)
	maps.Copy(out.Classes, o.Classes)
	return out
}

// Problem is what is wrong with an entry. Path is its place: same.gearbox, classes.hard, words[12].ways.
type Problem struct{ Path, Reason, Accepted string }

func (p Problem) Error() string { return p.Path + ": " + p.Reason + "; accepted: " + p.Accepted }

// historyWays are the ways in which work on a part is told.
func historyWays(part string) []string {
	return []string{"@worked ~4 " + part, part + " ~2 @workdone", "?brand new ~1 " + part, part + " ~1 be ?brand new", "another ?new " + part}
}

// Validate returns everything that is wrong with a lexicon by itself.
func (l Lexicon) Validate() []Problem {
	_, bad := compile(l)
	return bad
}

// compiled is a lexicon ready to be matched.
type compiled struct {
	same    map[string][]sameAs // by the first stem
	entries []Entry
	by      map[Role]*phrase.Index
	parts   *phrase.Index // what can be named as a part or a verdict
	words   []string      // every word of the patterns, for the speller
}

// sameAs is some words that are read as one.
type sameAs struct {
	words []string
	as    string
}

func compile(l Lexicon) (*compiled, []Problem) {
	c := &compiled{same: map[string][]sameAs{}, entries: l.Words, by: map[Role]*phrase.Index{}}
	var bad []Problem
	say := func(path, reason, accepted string) { bad = append(bad, Problem{path, reason, accepted}) }
	seen, one := map[string]bool{}, map[string]string{}
	for _, as := range slices.Sorted(maps.Keys(l.Same)) {
		for _, w := range append(phrase.Ways(l.Same[as]), as) {
			var p []string
			for _, word := range strings.Fields(w) {
				c.words = append(c.words, word)
				p = append(p, phrase.Stem(word))
			}
			if len(p) == 0 {
				continue
			}
			if key := strings.Join(p, " "); w != as && seen[key] {
				say("same."+as, fmt.Sprintf("%q stands for two words", w), "each once")
			} else if seen[key] = true; w == as && len(p) == 1 {
				continue
			}
			if len(p) == 1 {
				one[p[0]] = phrase.Stem(as)
			}
			c.same[p[0]] = append(c.same[p[0]], sameAs{p, phrase.Stem(as)})
		}
	}
	for _, p := range c.same { // the longest first
		slices.SortStableFunc(p, func(a, b sameAs) int { return len(b.words) - len(a.words) })
	}
	b := &phrase.Builder{Texts: l.Classes, Same: one}
	for _, name := range slices.Sorted(maps.Keys(l.Classes)) {
		if _, err := b.Pattern("@" + name); err != nil {
			say("classes."+name, err.Error(), accepted)
		}
	}
	ids := map[string]bool{}
	for i, e := range l.Words {
		path := fmt.Sprintf("words[%d].", i)
		if !slices.Contains(roles, e.Role) {
			say(path+"role", fmt.Sprintf("%q", e.Role), "find, denied, gone, fine, range, when, since, often, place, history, hearsay, guess, wish, hedge, mask, quiet, norange")
			continue
		}
		if key := string(e.Role) + " " + e.ID; ids[key] {
			say(path+"id", fmt.Sprintf("%q stands twice", e.ID), "each id once in its role")
		} else {
			ids[key] = true
		}
		if e.ID == "" || e.Title == "" && (e.Role == Find || e.Role == When || e.Role == History) {
			say(path+"id", "no id or no title", "both")
		}
		for _, s := range slices.Concat(e.Says, e.Denied) {
			if _, err := parseSaying(s); err != nil {
				say(path+"says", err.Error(), "FINDING STATE, behind it: when CONDITION|CONDITION, or: of KIND|KIND")
			}
		}
		all := phrase.Ways(e.Ways)
		for _, part := range phrase.Ways(e.Parts) {
			all = append(all, historyWays(part)...)
		}
		if len(all) == 0 {
			say(path+"ways", "none", "at least one way of saying it")
		}
		if c.by[e.Role] == nil {
			c.by[e.Role] = phrase.NewIndex()
		}
		for _, w := range all {
			p, err := b.Pattern(w)
			if err != nil {
				say(path+"ways", fmt.Sprintf("%q: %v", w, err), accepted)
				continue
			}
			p.Entry = i
			c.by[e.Role].Add(p)
		}
	}
	c.parts = phrase.NewIndex()
	for _, name := range []string{"part", "verdict"} {
		p, err := b.Pattern("@" + name)
		if err != nil {
			say("classes."+name, err.Error(), "a class of what opinions name")
			continue
		}
		c.parts.Add(p)
	}
	c.words = append(c.words, b.Words...)
	return c, bad
}

const accepted = "words, a|b, ?optional, =exact, @class, ~3 for a gap, % for a number, ^ and $ for the ends of a clause"
