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

// class is a named set of sequences.
type class struct{ sequences [][]element }

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
	c := &class{}
	for _, w := range Ways(text) {
		seq, err := b.sequence(w, append(open, name))
		if err != nil {
			return nil, fmt.Errorf("%q: %w", w, err)
		}
		c.sequences = append(c.sequences, seq)
	}
	slices.SortStableFunc(c.sequences, func(x, y []element) int { return len(y) - len(x) }) // the longest first
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
			for _, s := range e.class.sequences {
				x.file(p, s, done)
			}
		}
		if !e.optional && e.kind != elStart {
			return
		}
	}
}

// Kinds of number.
const (
	smallNumber = 1 // below a thousand
	anyNumber   = 2
	speedNumber = 3 // one that can be a speed
)

// numbers are words for numbers, with about what they stand for.
var numbers = map[string]float64{"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15,
	"sixteen": 16, "seventeen": 17, "eighteen": 18, "nineteen": 19, "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80, "ninety": 90, "hundred": 100, "thousand": 1000,
	"twenties": 25, "thirties": 35, "forties": 45, "fifties": 55, "sixties": 65, "seventies": 75, "eighties": 85, "nineties": 95, "couple": 2, "few": 3, "several": 5, "half": 0.5}

func (t Token) number() bool {
	_, word := numbers[t.Text]
	return word || isDigit(t.Text[0])
}

// value is what a number stands for; of one that cannot be read a great one.
func (t Token) value() float64 {
	if v, ok := numbers[t.Text]; ok {
		return v
	}
	digits := strings.TrimRight(strings.ReplaceAll(t.Text, ",", ""), "abcdefghijklmnopqrstuvwxyz")
	v, err := strconv.ParseFloat(digits, 64)
	if err != nil {
		return 1e9
	}
	return v
}

// most is how many tokens a match may span.
const most = 18

// Matcher matches patterns on the tokens of one text.
type Matcher struct {
	Tokens   []Token
	Respects Mask // what it may not look through
	from     int
}

// rest is what is still to be matched after a sequence.
type rest struct {
	seq  []element
	next *rest
}

// Match is a place where a pattern fits: tokens from, to (exclusive), and how many words of it were named; an end of a clause counts as one.
type Match struct {
	From, To, Words int
	Pattern         Pattern
	Bonus           int // beyond its words, when matches are compared
}

// All returns every match of an index.
func (m *Matcher) All(x *Index, fits func(Pattern) bool) []Match {
	if x == nil {
		return nil
	}
	var out []Match
	try := func(i int, ps []Pattern) {
		for _, p := range ps {
			if fits != nil && !fits(p) {
				continue
			}
			m.from = i
			if end, words, ok := m.run(p.elements, nil, i, 0, false); ok && end > i {
				out = append(out, Match{From: i, To: end, Words: words, Pattern: p})
			}
		}
	}
	for i, t := range m.Tokens {
		try(i, x.by[t.Stem])
		try(i, x.exact[t.Text])
		if t.number() {
			try(i, x.number)
		}
	}
	return out
}

// run matches a sequence and what follows it at token i. cross: the gap before may have crossed a comma.
func (m *Matcher) run(seq []element, next *rest, i, words int, cross bool) (int, int, bool) {
	for len(seq) == 0 {
		if next == nil {
			return i, words, true
		}
		seq, next = next.seq, next.next
	}
	e, after := seq[0], seq[1:]
	switch e.kind {
	case elStart:
		if i < len(m.Tokens) && m.Tokens[i].Before >= Comma {
			return m.run(after, next, i, words+1, cross)
		}
		return 0, 0, false
	case elEnd:
		if i == len(m.Tokens) || m.Tokens[i].Before >= Comma {
			return m.run(after, next, i, words+1, cross)
		}
		return 0, 0, false
	case elGap:
		for skipped := 0; ; skipped++ {
			if end, w, ok := m.run(after, next, i, words, e.cross); ok {
				return end, w, true
			}
			if skipped == e.gap || i >= len(m.Tokens) || i-m.from >= most || !m.joined(i, e.cross) {
				return 0, 0, false
			}
			i++
		}
	case elClass:
		for _, s := range e.class.sequences {
			if end, w, ok := m.run(s, &rest{after, next}, i, words, cross); ok {
				return end, w, true
			}
		}
	default:
		if m.is(e, i, cross) {
			if end, w, ok := m.run(after, next, i+1, words+1, false); ok {
				return end, w, true
			}
		}
	}
	if e.optional {
		return m.run(after, next, i, words, cross)
	}
	return 0, 0, false
}

// joined reports whether token i goes on from the one before.
func (m *Matcher) joined(i int, cross bool) bool {
	b := m.Tokens[i].Before
	return i == m.from || b == NoBreak || cross && b == Comma
}

// is reports whether an element is token i.
func (m *Matcher) is(e element, i int, cross bool) bool {
	if i >= len(m.Tokens) || i-m.from >= most {
		return false
	}
	t := m.Tokens[i]
	if t.Masked&m.Respects != 0 {
		return false
	}
	// A word that turns the thought may be named: the break stands before it because of the word itself.
	if !m.joined(i, cross) && (t.Before != Turn || t.Behind || e.kind == elNumber) {
		return false
	}
	switch e.kind {
	case elNumber:
		return t.number() && (e.gap == anyNumber || e.gap == smallNumber && t.value() < 1000 || e.gap == speedNumber && t.value() >= 10 && t.value() <= 250)
	case elExact:
		return slices.Contains(e.words, t.Text)
	}
	return slices.Contains(e.words, t.Stem)
}

// Weight is how much a match says: its words, and of two with as many the one with a bonus.
func (m Match) Weight() int { return 2*m.Words + m.Bonus }
