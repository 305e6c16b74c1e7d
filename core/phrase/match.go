package phrase

import "slices"

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
		if i >= len(m.Tokens) {
			break
		}
		for _, seqs := range e.class.at(m.Tokens[i]) {
			for _, s := range seqs {
				if end, w, ok := m.run(s, &rest{after, next}, i, words, cross); ok {
					return end, w, true
				}
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
