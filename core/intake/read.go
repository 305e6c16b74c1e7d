package intake

import (
	"cmp"
	"errors"
	"slices"
	"strings"
)

// Unit is what the reader has to know of a unit: its ranges in driving order, what it has, and which readings it has words for.
type Unit struct {
	Ranges []Range
	Has    func(string) bool                // converter, pedal, pump …; nil when no unit is known: everything may be there
	Knows  func(finding, state string) bool // nil: every reading is let through
}

// Range is a range of a unit.
type Range struct {
	ID      string
	Gear    int    // 1 for first; 0 for reverse, neutral and park
	Kind    string // forward, reverse, neutral, park
	Hand    bool   // chosen by the lever: "in 2"
	Element string // that selects it alone, for units with one for each gear; may be empty
}

// Reader reads words for one unit. It is safe for concurrent use.
type Reader struct {
	lex   *compiled
	spell *speller
	parts *index // what can be named as a part or a verdict
	unit  Unit
}

// New makes a reader. The lexicon must be sound (Lexicon.Validate).
func New(l Lexicon, u Unit) (*Reader, error) {
	c, bad := compile(l)
	if len(bad) > 0 {
		return nil, bad[0]
	}
	r := &Reader{lex: c, spell: newSpeller(c.words, l.English), unit: u, parts: newIndex()}
	for _, name := range []string{"part", "verdict"} {
		if c.classes[name] == nil {
			return nil, errors.New("classes: no class " + name)
		}
		r.parts.add(pattern{elements: []element{{kind: elClass, class: c.classes[name]}}})
	}
	return r, nil
}

// For returns the same reader for another unit.
func (r *Reader) For(u Unit) *Reader {
	out := *r
	out.unit = u
	return &out
}

// Span is a stretch of the text and what it says. Start and End are bytes of the text.
type Span struct {
	Start, End int
	Role       Role
	Kind       string   // id of the entry: slip, hot, R …
	Title      string   // of the entry
	Range      []string // of a symptom: range words that belong to it, as in the lexicon
	Ranges     []string // and the unit's ranges that they name
	When       []string // of a symptom: conditions that belong to it
	Other      bool     // told by somebody else than the customer
	Sure       int      // of a hundred
	Rule       string   // the way of saying that was recognised
	Of         int      // the symptom that a condition, range, time or hedge belongs to; -1 for none
	Mended     string   // what a misspelt word was read as
	Readings   []Reading
	Against    int // another span that says the opposite, -1 for none
}

// Reading is an observation that a span offers.
type Reading struct{ Finding, State string }

// Sureness to begin with, of a hundred. Judgement, until a bench has counted.
const (
	sureExact    = 90
	sureComposed = 80
	sureMended   = 75
	sureHedged   = 70
	sureCorrect  = 60
)

// Symptom reports whether a span says something of a symptom.
func (s Span) Symptom() bool {
	return s.Role == Find || s.Role == Denied || s.Role == Gone || s.Role == Fine
}

// MaxText is the longest text that is read, in bytes.
const MaxText = 8000

// Read returns what a text says, in its order. The same text gives the same spans.
func (r *Reader) Read(text string) []Span {
	if len(text) > MaxText {
		text = text[:MaxText]
	}
	d := &draft{r: r, tokens: r.prepare(text)}
	d.mask()
	frames := d.frames()
	d.history(frames)
	d.symptoms(frames)
	d.merge()
	d.deny()
	d.vanish()
	d.modify()
	d.hang()
	out := d.spans
	for i := range out {
		d.mean(&out[i])
	}
	order(out)
	contradict(out)
	return out
}

// prepare makes the tokens of a text: spelling put right, stems found, words of one meaning made one.
func (r *Reader) prepare(text string) []token {
	in := tokens(text)
	for i := range in {
		t := &in[i]
		if mended := r.spell.mend(t.text); mended != "" {
			t.text, t.mended = mended, true
		}
		t.stem = stem(t.text)
	}
	out := in[:0]
	for i := 0; i < len(in); {
		t, n := in[i], 1
		for _, p := range r.lex.same[t.stem] {
			if samePhrase(in[i:], p.words) {
				t.stem, n = p.as, len(p.words)
				t.end = in[i+n-1].end
				break
			}
		}
		out = append(out, t)
		i += n
	}
	return out
}

func samePhrase(in []token, words []string) bool {
	if len(in) < len(words) {
		return false
	}
	for k, w := range words {
		if in[k].stem != w || k > 0 && in[k].before != noBreak {
			return false
		}
	}
	return true
}

// entry returns an entry of the lexicon.
func (r *Reader) entry(role Role, id string) Entry {
	for _, e := range r.lex.entries {
		if e.Role == role && e.ID == id {
			return e
		}
	}
	return Entry{}
}

// draft is a reading under way.
type draft struct {
	r       *Reader
	tokens  []token
	opinion []bool   // tokens inside what somebody thinks
	stories []extent // what was done
	spans   []Span
	at      []extent // of each span, in tokens
}

// extent is a stretch of tokens, to exclusive.
type extent struct{ from, to int }

func (e extent) overlaps(o extent) bool { return e.from < o.to && o.from < e.to }
func (e extent) holds(o extent) bool    { return e.from <= o.from && o.to <= e.to }

// find returns the matches of a role, best first, none overlapping.
func (d *draft) find(role ...Role) []match {
	var all []match
	for _, ro := range role {
		m := &matcher{tokens: d.tokens, symptoms: ro == Find || ro == Denied || ro == Gone || ro == Fine, ranges: ro == RangeOf, unmasked: ro == Mask || ro == Quiet || ro == NoRange}
		for _, x := range m.all(d.r.lex.by[ro], d.fits) {
			x.role = ro
			all = append(all, x)
		}
	}
	return disjoint(all)
}

// fits reports whether the unit has what a way of saying needs.
func (d *draft) fits(p pattern) bool {
	for _, need := range []string{p.needs, d.r.lex.entries[p.entry].Needs} {
		if need != "" && d.r.unit.Has != nil && !d.r.unit.Has(need) {
			return false
		}
	}
	return true
}

// weight is how much a match says: its words; of two with as many, what goes away says more than what works.
func (m match) weight() int {
	if m.role == Gone {
		return 2*m.words + 1
	}
	return 2 * m.words
}

// disjoint keeps the matches with most words, then the shortest, then the earliest, in the order of the text.
func disjoint(all []match) []match {
	slices.SortStableFunc(all, func(a, b match) int {
		return cmp.Or(b.weight()-a.weight(), (a.to-a.from)-(b.to-b.from), a.from-b.from)
	})
	var out []match
	for _, m := range all {
		if !slices.ContainsFunc(out, func(o match) bool { return o.from < m.to && m.from < o.to }) {
			out = append(out, m)
		}
	}
	slices.SortFunc(out, func(a, b match) int { return a.from - b.from })
	return out
}

// add adds a span over tokens.
func (d *draft) add(role Role, m match) int {
	e := d.r.lex.entries[m.pattern.entry]
	s := Span{Start: d.tokens[m.from].start, End: d.tokens[m.to-1].end, Role: role, Kind: e.ID, Title: e.Title, Rule: m.pattern.text, Of: -1, Against: -1, Sure: sureExact}
	if m.pattern.composed {
		s.Sure = sureComposed
	}
	for _, t := range d.tokens[m.from:m.to] {
		if t.mended {
			s.Sure = min(s.Sure, sureMended)
			s.Mended = strings.TrimSpace(s.Mended + " " + t.text)
		}
	}
	d.spans = append(d.spans, s)
	d.at = append(d.at, extent{m.from, m.to})
	return len(d.spans) - 1
}

// symptoms finds what is wrong and what works. What a frame swallows is no symptom; what somebody else tells is marked so.
func (d *draft) symptoms(frames []frame) {
	for _, m := range d.find(Find, Denied, Gone, Fine) {
		at := extent{m.from, m.to}
		if slices.ContainsFunc(d.stories, func(s extent) bool { return s.holds(at) }) {
			continue // "the radiator was boiled out"
		}
		f := slices.IndexFunc(frames, func(f frame) bool { return f.extent.holds(at) })
		if f >= 0 && frames[f].swallows {
			continue
		}
		role := d.r.lex.entries[m.pattern.entry].Role
		i := d.add(role, m)
		if f >= 0 {
			d.spans[i].Sure = min(d.spans[i].Sure, sureHedged)
			d.spans[i].Other = frames[f].role == Hearsay
		}
	}
}

// merge makes one of two neighbours of one kind in a clause ("rattles like a bicycle"), and takes "she goes like a train" for part of
// what was said of a range before it in the same thought.
func (d *draft) merge() {
	drop := make([]bool, len(d.spans))
	for i := range d.spans {
		for j := range d.spans {
			if i == j || drop[i] || d.spans[i].Role != d.spans[j].Role || d.at[j].from < d.at[i].to {
				continue
			}
			a, b := &d.spans[i], d.spans[j]
			switch {
			case a.Role == Find && a.Kind == b.Kind && d.at[j].from-d.at[i].to <= 3 && d.around(d.at[i].to-1, comma).holds(d.at[j]) && !drop[j] && !d.negatorIn(d.at[i].to, d.at[j].from):
				a.End, d.at[i].to, drop[j] = b.End, d.at[j].to, true
			case a.Role == Find && a.Kind != b.Kind && base(a.Kind) == base(b.Kind) && (a.Kind == base(a.Kind) || b.Kind == base(b.Kind)) && d.around(d.at[i].from, sentence).holds(d.at[j]):
				// "a whining noise": the one without a shade says nothing more
				if a.Kind == base(a.Kind) {
					drop[i] = true
				} else {
					drop[j] = true
				}
			case a.Role == Fine && a.Kind != "all" && b.Kind == "all" && d.around(d.at[i].from, turn).holds(d.at[j]):
				drop[j] = true
			}
		}
	}
	for i, s := range d.spans { // "I keep topping up the radiator" is the symptom, not the work
		for j, o := range d.spans {
			drop[i] = drop[i] || s.Role == History && o.Role == Find && d.at[j].holds(d.at[i])
		}
	}
	d.drop(drop)
}

// around returns the stretch around a token whose inner breaks are weaker than a given one.
func (d *draft) around(i, brk int) extent {
	e := extent{i, i + 1}
	for e.from > 0 && d.tokens[e.from].before < brk {
		e.from--
	}
	for e.to < len(d.tokens) && d.tokens[e.to].before < brk {
		e.to++
	}
	return e
}

// order puts spans in the order of the text and keeps what points at another right.
func order(spans []Span) {
	idx := make([]int, len(spans))
	for i := range idx {
		idx[i] = i
	}
	slices.SortStableFunc(idx, func(a, b int) int {
		return cmp.Or(spans[a].Start-spans[b].Start, spans[b].End-spans[a].End)
	})
	place := make([]int, len(spans))
	out := make([]Span, len(spans))
	for to, from := range idx {
		place[from], out[to] = to, spans[from]
	}
	for i := range out {
		if out[i].Of >= 0 {
			out[i].Of = place[out[i].Of]
		}
	}
	copy(spans, out)
}

// contradict names spans that say the opposite of each other for the same ranges and under the same conditions.
func contradict(spans []Span) {
	for i := range spans {
		for j := i + 1; j < len(spans); j++ {
			a, b := spans[i], spans[j]
			if a.Role == Denied {
				a, b = b, a
			}
			if a.Role == Find && b.Role == Denied && base(a.Kind) == base(b.Kind) && slices.Equal(a.Range, b.Range) && slices.Equal(a.When, b.When) {
				spans[i].Against, spans[j].Against = j, i
			}
		}
	}
}

// base is a kind without its shade: noise of noise.whine.
func base(kind string) string {
	b, _, _ := strings.Cut(kind, ".")
	return b
}
