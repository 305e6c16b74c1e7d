package phrase

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Kinds of element.
const (
	elWord = iota
	elExact
	elClass
	elGap
	elNumber
	elStart
	elEnd
)

// element is one piece of a pattern.
type element struct {
	kind     int
	words    []string // stems, or exact words
	class    *class
	gap      int  // of a gap its longest; of a number its kind
	cross    bool // a gap that may cross commas
	optional bool
}

// class is a named set of sequences, found by the words that they can begin with.
type class struct {
	by    map[string][][]element // by stem
	exact map[string][][]element
	other [][]element // begin with a number or something optional
	all   [][]element
}

// add files a sequence.
func (c *class) add(seq []element) {
	c.all = append(c.all, seq)
	first := seq[0]
	if first.optional || first.kind != elWord && first.kind != elExact && first.kind != elClass {
		c.other = append(c.other, seq)
		return
	}
	switch first.kind {
	case elWord:
		for _, w := range first.words {
			c.by[w] = append(c.by[w], seq)
		}
	case elExact:
		for _, w := range first.words {
			c.exact[w] = append(c.exact[w], seq)
		}
	case elClass:
		if len(first.class.other) > 0 {
			c.other = append(c.other, seq)
			return
		}
		for w := range first.class.by {
			c.by[w] = append(c.by[w], seq)
		}
		for w := range first.class.exact {
			c.exact[w] = append(c.exact[w], seq)
		}
	}
}

// at returns the sequences that can begin with a token.
func (c *class) at(t Token) [3][][]element {
	return [3][][]element{c.by[t.Stem], c.exact[t.Text], c.other}
}

// Pattern is one way of saying something.
type Pattern struct {
	Text     string
	elements []element
	Entry    int    // whose way it is, for the one who made it
	Needs    string // what must be there for it to hold
	Composed bool   // made of classes or gaps: less sure than words one by one
}

// Ways divides a text of ways of saying at " / ".
func Ways(text string) []string {
	var out []string
	for _, w := range strings.Split(text, " / ") {
		if w = strings.Join(strings.Fields(w), " "); w != "" {
			out = append(out, w)
		}
	}
	return out
}

// Builder compiles patterns and classes.
type Builder struct {
	Texts   map[string]string // of the classes
	Same    map[string]string // stems that are read as another
	Words   []string          // every word that was seen, for a Speller
	classes map[string]*class
}

// class returns a class by name, compiled once; open are those being compiled, to find circles.
func (b *Builder) class(name string, open []string) (*class, error) {
	if c, ok := b.classes[name]; ok {
		return c, nil
	}
	text, ok := b.Texts[name]
	if !ok {
		return nil, fmt.Errorf("no class %q", name)
	}
	if slices.Contains(open, name) {
		return nil, fmt.Errorf("class %q contains itself", name)
	}
	var seqs [][]element
	for _, w := range Ways(text) {
		seq, err := b.sequence(w, append(open, name))
		if err != nil {
			return nil, fmt.Errorf("%q: %w", w, err)
		}
		seqs = append(seqs, seq)
	}
	slices.SortStableFunc(seqs, func(x, y []element) int { return len(y) - len(x) }) // the longest first
	c := &class{by: map[string][][]element{}, exact: map[string][][]element{}}
	for _, seq := range seqs {
		c.add(seq)
	}
	if b.classes == nil {
		b.classes = map[string]*class{}
	}
	b.classes[name] = c
	return c, nil
}

// Pattern compiles one way of saying something.
func (b *Builder) Pattern(text string) (Pattern, error) {
	p := Pattern{Text: text}
	if i := strings.Index(text, " needs:"); i >= 0 {
		p.Needs, text = text[i+len(" needs:"):], text[:i]
	}
	seq, err := b.sequence(text, nil)
	if err != nil {
		return p, err
	}
	p.elements = seq
	solid := false
	for _, e := range seq {
		p.Composed = p.Composed || e.kind == elClass || e.kind == elGap
		solid = solid || !e.optional && (e.kind == elWord || e.kind == elExact || e.kind == elClass || e.kind == elNumber)
	}
	if !solid {
		return p, errors.New("nothing that must be there")
	}
	if seq[0].kind == elGap || seq[len(seq)-1].kind == elGap {
		return p, errors.New("a gap at an end")
	}
	return p, nil
}

func (b *Builder) sequence(text string, open []string) ([]element, error) {
	var out []element
	for _, w := range strings.Fields(text) {
		e := element{}
		if e.optional = strings.HasPrefix(w, "?"); e.optional {
			w = w[1:]
		}
		switch {
		case w == "":
			return nil, errors.New("an empty element")
		case w == "^":
			e.kind = elStart
		case w == "$":
			e.kind = elEnd
		case w == "%" || w == "%%" || w == "%s":
			e.kind, e.gap = elNumber, len(w)
			if w == "%s" {
				e.gap = speedNumber
			}
		case w[0] == '~':
			e.kind = elGap
			n, cross := strings.CutSuffix(w[1:], ",")
			gap, err := strconv.Atoi(n)
			if err != nil || gap < 0 || gap > 9 {
				return nil, fmt.Errorf("the gap %q", w)
			}
			e.gap, e.cross = gap, cross
		case w[0] == '@':
			c, err := b.class(w[1:], open)
			if err != nil {
				return nil, err
			}
			e.kind, e.class = elClass, c
		case w[0] == '=':
			e.kind, e.words = elExact, strings.Split(w[1:], "|")
			b.Words = append(b.Words, e.words...)
		default:
			e.kind = elWord
			for _, x := range strings.Split(w, "|") {
				if strings.ContainsAny(x, "@~%^$?=/'") || x == "" {
					return nil, fmt.Errorf("the word %q", w)
				}
				b.Words = append(b.Words, x)
				st := Stem(x)
				if as, ok := b.Same[st]; ok {
					st = as
				}
				e.words = append(e.words, st)
			}
		}
		out = append(out, e)
	}
	if len(out) == 0 {
		return nil, errors.New("empty")
	}
	return out, nil
}

// Index finds patterns by the word that they begin with.
type Index struct {
	by     map[string][]Pattern
	exact  map[string][]Pattern
	number []Pattern
}

// NewIndex makes an empty index.
func NewIndex() *Index { return &Index{by: map[string][]Pattern{}, exact: map[string][]Pattern{}} }

// Add files a pattern.
func (x *Index) Add(p Pattern) { x.file(p, p.elements, map[string]bool{}) }

// file files a pattern under each word that it can begin with.
func (x *Index) file(p Pattern, seq []element, done map[string]bool) {
	for _, e := range seq {
		switch e.kind {
		case elWord, elExact:
			into := x.by
			if e.kind == elExact {
				into = x.exact
			}
			for _, w := range e.words {
				if key := fmt.Sprint(e.kind, w); !done[key] {
					done[key] = true
					into[w] = append(into[w], p)
				}
			}
		case elNumber:
			if !done["#"] {
				done["#"] = true
				x.number = append(x.number, p)
			}
		case elClass:
			for _, s := range e.class.all {
				x.file(p, s, done)
			}
		}
		if !e.optional && e.kind != elStart {
			return
		}
	}
}
