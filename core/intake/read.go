package intake

import (
	"cmp"
	"slices"
	"strings"

	"innercompass/core/phrase"
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
	spell *phrase.Speller
	unit  Unit
}

// New makes a reader. The lexicon must be sound (Lexicon.Validate).
func New(l Lexicon, u Unit) (*Reader, error) {
	c, bad := compile(l)
	if len(bad) > 0 {
		return nil, bad[0]
	}
	return &Reader{lex: c, spell: phrase.NewSpeller(c.words, l.English), unit: u}, nil
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
func (r *Reader) prepare(text string) []phrase.Token {
	in := phrase.Tokens(text)
	for i := range in {
		t := &in[i]
		if mended := r.spell.Mend(t.Text); mended != "" {
			t.Text, t.Mended = mended, true
		}
		t.Stem = phrase.Stem(t.Text)
	}
	out := in[:0]
	for i := 0; i < len(in); {
		t, n := in[i], 1
		for _, p := range r.lex.same[t.Stem] {
			if samePhrase(in[i:], p.words) {
				t.Stem, n = p.as, len(p.words)
				t.End = in[i+n-1].End
				break
			}
		}
		out = append(out, t)
		i += n
	}
	return out
}

func samePhrase(in []phrase.Token, words []string) bool {
	if len(in) < len(words) {
		return false
	}
	for k, w := range words {
		if in[k].Stem != w || k > 0 && in[k].Before != phrase.NoBreak {
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
	tokens  []phrase.Token
	opinion []bool   // tokens inside what somebody thinks
	stories []extent // what was done
	spans   []Span
	found   []phrase.Match // where symptoms are said
	at      []extent       // of each span, in tokens
}

// extent is a stretch of tokens, to exclusive.
type extent struct{ from, to int }

func (e extent) overlaps(o extent) bool { return e.from < o.to && o.from < e.to }
func (e extent) holds(o extent) bool    { return e.from <= o.from && o.to <= e.to }

// find returns the matches of a role, best first, none overlapping.
func (d *draft) find(role ...Role) []phrase.Match {
	var all []phrase.Match
	for _, ro := range role {
		for _, x := range d.matches(ro) {
			if ro == Gone {
				x.Bonus = 1 // of two with as many words, what goes away says more than what works
			}
			all = append(all, x)
		}
	}
	return disjoint(all)
}

// matches returns every place of a role. Symptoms are looked for once: masks do not change after they are laid.
func (d *draft) matches(role Role) []phrase.Match {
	if role == Find && d.found != nil {
		return d.found
	}
	out := (&phrase.Matcher{Tokens: d.tokens, Respects: respects[role]}).All(d.r.lex.by[role], d.fits)
	if role == Find {
		d.found = out
	}
	return out
}

// fits reports whether the unit has what a way of saying needs.
func (d *draft) fits(p phrase.Pattern) bool {
	for _, need := range []string{p.Needs, d.r.lex.entries[p.Entry].Needs} {
		if need != "" && d.r.unit.Has != nil && !d.r.unit.Has(need) {
			return false
		}
	}
	return true
}

// respects is what each role may not look through; idioms are found everywhere.
var respects = map[Role]phrase.Mask{Find: phrase.FromAll | phrase.FromSymptoms, Denied: phrase.FromAll | phrase.FromSymptoms, Gone: phrase.FromAll | phrase.FromSymptoms, Fine: phrase.FromAll | phrase.FromSymptoms,
	RangeOf: phrase.FromAll | phrase.FromRanges, When: phrase.FromAll, Since: phrase.FromAll, Often: phrase.FromAll, Place: phrase.FromAll, History: phrase.FromAll, Hearsay: phrase.FromAll, Guess: phrase.FromAll, Wish: phrase.FromAll, Hedge: phrase.FromAll}

// disjoint keeps the matches with most words, then the shortest, then the earliest, in the order of the text.
func disjoint(all []phrase.Match) []phrase.Match {
	slices.SortStableFunc(all, func(a, b phrase.Match) int {
		return cmp.Or(b.Weight()-a.Weight(), (a.To-a.From)-(b.To-b.From), a.From-b.From)
	})
	var out []phrase.Match
	for _, m := range all {
		if !slices.ContainsFunc(out, func(o phrase.Match) bool { return o.From < m.To && m.From < o.To }) {
			out = append(out, m)
		}
	}
	slices.SortFunc(out, func(a, b phrase.Match) int { return a.From - b.From })
	return out
}

// add adds a span over tokens.
func (d *draft) add(role Role, m phrase.Match) int {
	e := d.r.lex.entries[m.Pattern.Entry]
	s := Span{Start: d.tokens[m.From].Start, End: d.tokens[m.To-1].End, Role: role, Kind: e.ID, Title: e.Title, Rule: m.Pattern.Text, Of: -1, Against: -1, Sure: sureExact}
	if m.Pattern.Composed {
		s.Sure = sureComposed
	}
	for _, t := range d.tokens[m.From:m.To] {
		if t.Mended {
			s.Sure = min(s.Sure, sureMended)
			s.Mended = strings.TrimSpace(s.Mended + " " + t.Text)
		}
	}
	d.spans = append(d.spans, s)
	d.at = append(d.at, extent{m.From, m.To})
	return len(d.spans) - 1
}

// symptoms finds what is wrong and what works. What a frame swallows is no symptom; what somebody else tells is marked so.
func (d *draft) symptoms(frames []frame) {
	for _, m := range d.find(Find, Denied, Gone, Fine) {
		at := extent{m.From, m.To}
		if slices.ContainsFunc(d.stories, func(s extent) bool { return s.holds(at) }) {
			continue // "the radiator was boiled out"
		}
		f := slices.IndexFunc(frames, func(f frame) bool { return f.extent.holds(at) })
		if f >= 0 && frames[f].swallows {
			continue
		}
		role := d.r.lex.entries[m.Pattern.Entry].Role
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
			case a.Role == Find && a.Kind == b.Kind && d.at[j].from-d.at[i].to <= 3 && d.around(d.at[i].to-1, phrase.Comma).holds(d.at[j]) && !drop[j] && !d.negatorIn(d.at[i].to, d.at[j].from):
				a.End, d.at[i].to, drop[j] = b.End, d.at[j].to, true
			case a.Role == Find && a.Kind != b.Kind && base(a.Kind) == base(b.Kind) && (a.Kind == base(a.Kind) || b.Kind == base(b.Kind)) && d.around(d.at[i].from, phrase.Sentence).holds(d.at[j]):
				// "a whining noise": the one without a shade says nothing more
				if a.Kind == base(a.Kind) {
					drop[i] = true
				} else {
					drop[j] = true
				}
			case a.Role == Fine && a.Kind != "all" && b.Kind == "all" && d.around(d.at[i].from, phrase.Turn).holds(d.at[j]):
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
	for e.from > 0 && d.tokens[e.from].Before < brk {
		e.from--
	}
	for e.to < len(d.tokens) && d.tokens[e.to].Before < brk {
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
