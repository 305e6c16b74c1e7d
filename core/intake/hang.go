package intake

import (
	"slices"
	"strconv"
	"strings"

	"innercompass/core/phrase"
)

// kindSet reads kinds with | between.
func kindSet(text string) map[string]bool {
	out := map[string]bool{}
	for _, k := range strings.Split(text, "|") {
		if k != "" {
			out[k] = true
		}
	}
	return out
}

// modify finds ranges, conditions, times, places and hedges outside what others say and what was done.
func (d *draft) modify() {
	for _, role := range []Role{RangeOf, When, Since, Often, Place, Hedge} {
		for _, m := range d.find(role) {
			e := d.r.lex.entries[m.Pattern.Entry]
			if d.foreign(role, extent{m.From, m.To}) || e.Of == "history" && !d.worked(m.From) {
				continue
			}
			i := d.add(role, m)
			if role == When && !d.insideSymptom(i) && m.From > 0 && (d.tokens[m.From-1].Text == "not" || d.tokens[m.From-1].Text == "never") && d.tokens[m.From].Before < phrase.Comma {
				d.spans[i].Role = Denied // "not in bends": no symptom, and no condition of one
			}
		}
	}
	drop := make([]bool, len(d.spans))
	for i := range d.spans {
		for j := range d.spans {
			drop[i] = drop[i] || i != j && aside[d.spans[i].Role] && aside[d.spans[j].Role] && d.at[j].holds(d.at[i]) && d.at[j] != d.at[i]
		}
	}
	d.drop(drop)
}

// insideSymptom reports whether a span shares words with a symptom: "won't pull away" denies no pulling away.
func (d *draft) insideSymptom(i int) bool {
	return slices.ContainsFunc(d.spans, func(s Span) bool { return s.Symptom() && s.Start < d.spans[i].End && d.spans[i].Start < s.End })
}

// aside are the roles of which a longer one takes what lies in it: "comes and goes as it changes".
var aside = map[Role]bool{When: true, Since: true, Often: true, Hedge: true}

// foreign reports whether a modifier belongs to something else: to an opinion, to what was done, or to a way of saying a symptom that
// names no condition by it ("as if somebody lifts off").
func (d *draft) foreign(role Role, at extent) bool {
	for i := at.from; i < at.to; i++ {
		if d.opinion[i] {
			return true
		}
	}
	if role != Since && slices.ContainsFunc(d.stories, func(s extent) bool { return s.overlaps(at) }) {
		return true
	}
	if role != When && role != Hedge {
		return false
	}
	for i, s := range d.spans {
		if s.Symptom() && d.at[i].holds(at) && !d.introduced(at) {
			return true
		}
	}
	return false
}

// introduces are the words that begin a condition.
var introduces = map[string]bool{"when": true, "if": true, "on": true, "in": true, "at": true, "after": true, "under": true, "once": true, "while": true, "from": true, "off": true}

// introduced reports whether a condition is begun by its own word.
func (d *draft) introduced(at extent) bool {
	for i := max(0, at.from-2); i < at.to; i++ {
		if introduces[d.tokens[i].Text] && (i == 0 || d.tokens[i-1].Text != "as") {
			return true
		}
	}
	return false
}

// worked reports whether work was told before a token in the same sentence or the one before.
func (d *draft) worked(i int) bool {
	for j, s := range d.spans {
		if s.Role == History && d.at[j].to <= i && i-d.at[j].to < 12 {
			return true
		}
	}
	return false
}

// hang gives each condition, range, time, place and hedge the symptom that it belongs to: in the same clause before the same
// thought before the same sentence, the nearest; a symptom before it wins a tie, and behind it when it opens the sentence.
func (d *draft) hang() {
	for i := range d.spans {
		s := &d.spans[i]
		switch s.Role {
		case RangeOf, When, Since, Often, Place, Hedge:
		default:
			continue
		}
		s.Of = d.owner(i)
		if s.Of < 0 {
			continue
		}
		o := &d.spans[s.Of]
		switch s.Role {
		case RangeOf:
			if d.destination(i) < 0 { // "from first to second it grinds": into second
				o.Range = addOnce(o.Range, s.Kind)
			}
		case When:
			o.When = addOnce(o.When, s.Kind)
		case Hedge:
			o.Sure = min(o.Sure, sureHedged)
		}
	}
	for i, s := range d.spans {
		if to := d.destination(i); s.Role == RangeOf && to >= 0 && s.Of >= 0 {
			d.passed(&d.spans[s.Of], s.Kind, d.spans[to].Kind)
		}
	}
	drop := make([]bool, len(d.spans))
	for i, s := range d.spans {
		drop[i] = s.Role == ""
	}
	d.drop(drop)
	d.inVain()
	d.share()
	d.ranged()
	for i := range d.spans {
		d.spans[i].Ranges = d.r.unit.resolve(d.spans[i].Range)
	}
}

// destination returns the range span that follows a range behind "to" or "into", or -1.
func (d *draft) destination(i int) int {
	for j := range d.spans {
		if gap := d.at[j].from - d.at[i].to; d.spans[j].Role == RangeOf && gap >= 1 && gap <= 2 {
			if t := d.tokens[d.at[i].to].Text; (t == "to" || t == "into" || t == "straight") && d.tokens[d.at[i].to].Before == phrase.NoBreak {
				return j
			}
		}
	}
	return -1
}

// noCure is the kind of story that says that the work before it changed nothing.
const noCure = "no-cure"

// inVain marks the work that changed nothing: the last one told before it was said so.
func (d *draft) inVain() {
	for i, s := range d.spans {
		if s.Role != History || s.Kind != noCure {
			continue
		}
		last := -1
		for j, o := range d.spans {
			if o.Role == History && o.Kind != noCure && d.at[j].to <= d.at[i].from && (last < 0 || d.at[j].from > d.at[last].from) {
				last = j
			}
		}
		if last >= 0 {
			d.spans[last].When = addOnce(d.spans[last].When, noCure)
		}
	}
}

// passed names the gear that is left out when one is said to go from a to b over it; to the next one nothing is left out.
func (d *draft) passed(o *Span, a, b string) {
	from, to := gearOf(a), gearOf(b)
	switch {
	case o.Kind != leftOut || from == 0:
	case to == from+2:
		o.Range = []string{strconv.Itoa(from + 1)}
	case to == from+1 && strings.Contains(o.Rule, "to @fgear"):
		o.Role = "" // dropped with the next sweep
	}
}

// ranged gives a symptom the kind that it is in its range: no drive in D is no drive forward.
func (d *draft) ranged() {
	for i := range d.spans {
		s := &d.spans[i]
		if s.Role != Find || len(s.Range) != 1 || d.twoRanges(i) {
			continue
		}
		for _, rule := range strings.Split(d.r.entry(s.Role, s.Kind).Ranged, ", ") {
			if kind, ok := strings.CutPrefix(rule, s.Range[0]+" "); ok {
				s.Kind, s.Title = kind, d.r.entry(Find, kind).Title
				break
			}
		}
	}
}

// twoRanges reports whether the range of a symptom is one of two that are named together: "forwards or backwards".
func (d *draft) twoRanges(i int) bool {
	return slices.ContainsFunc(d.spans, func(s Span) bool {
		if s.Role != RangeOf || s.Of != i {
			return false
		}
		at := d.at[slices.IndexFunc(d.spans, func(o Span) bool { return o.Start == s.Start && o.Role == RangeOf })]
		return at.to < len(d.tokens) && (d.tokens[at.to].Text == "or" || d.tokens[at.to].Text == "and" || d.tokens[at.to].Text == "nor")
	})
}

// leftOut is the kind of symptom that names gears by those beside the one that is missing.
const leftOut = "missing"

func addOnce(list []string, x string) []string {
	if slices.Contains(list, x) {
		return list
	}
	return append(list, x)
}

// owner returns the symptom that a span belongs to, or -1.
func (d *draft) owner(i int) int {
	at := d.at[i]
	best, bestCost := -1, 1<<30
	for j := range d.spans {
		o := d.spans[j]
		if !o.Symptom() && (d.spans[i].Role != Since || o.Role != History) {
			continue
		}
		limit := phrase.Sentence
		if d.spans[i].Role == RangeOf && d.at[j].from < at.from {
			limit = phrase.Turn // "slow into drive, but straight into reverse"
		}
		cost, ok := d.distance(at, d.at[j], limit)
		if ok && cost < bestCost {
			best, bestCost = j, cost
		}
	}
	return best
}

// beyondAnd is what an "and" between costs: what it joins has conditions of its own.
const beyondAnd = 100

// distance orders the symptoms that a span may belong to.
func (d *draft) distance(at, o extent, limit int) (int, bool) {
	if at.overlaps(o) {
		return 0, true
	}
	first, last := min(at.to, o.to), max(at.from, o.from) // the tokens between
	worst := phrase.NoBreak
	for k := first; k <= last && k < len(d.tokens); k++ {
		worst = max(worst, d.tokens[k].Before)
	}
	if worst >= limit {
		return 0, false
	}
	cost := worst*1000 + (last-first)*10
	for k := first; k < last; k++ {
		if t := d.tokens[k].Text; t == "and" || t == "or" {
			cost += beyondAnd
		}
	}
	opens := at.from == d.around(at.from, phrase.Sentence).from
	if before := o.from < at.from; before == opens {
		cost += 5
	}
	return cost, true
}

// share gives a symptom that has no range of its own that of its neighbour in the same clause: "early and soft".
func (d *draft) share() {
	for i := range d.spans {
		a := &d.spans[i]
		if a.Role != Find || len(a.Range) > 0 {
			continue
		}
		for j := range d.spans {
			b := d.spans[j]
			if j == i || b.Role != Find || len(b.Range) == 0 || !d.joinedByAnd(d.at[i], d.at[j]) {
				continue
			}
			a.Range = slices.Clone(b.Range)
			break
		}
		if j := d.antecedent(i); len(a.Range) == 0 && j >= 0 {
			a.Range = slices.Clone(d.spans[j].Range)
		}
	}
}

// antecedent is the symptom before that "it" speaks of when a clause begins with it: "reverse takes ages, then it bangs in".
func (d *draft) antecedent(i int) int {
	k := d.at[i].from
	for k > 0 && (d.tokens[k].Text == "it" || d.tokens[k-1].Text == "it" || d.tokens[k-1].Text == "and" || d.tokens[k-1].Text == "then") {
		k--
	}
	if k == d.at[i].from || d.tokens[k].Text != "and" && d.tokens[k].Text != "then" {
		return -1
	}
	best := -1
	for j, s := range d.spans {
		if s.Role == Find && d.at[j].to <= k && d.around(k, phrase.Sentence).holds(d.at[j]) && (best < 0 || d.at[j].from > d.at[best].from) {
			best = j
		}
	}
	return best
}

// joinedByAnd reports whether only "and" stands between two spans.
func (d *draft) joinedByAnd(a, b extent) bool {
	first, last := min(a.to, b.to), max(a.from, b.from)
	if last-first > 2 {
		return false
	}
	for k := first; k < last; k++ {
		if t := d.tokens[k].Text; t != "and" && t != "then" && t != "it" {
			return false
		}
	}
	return true
}

// resolve names the unit's ranges that range words mean.
func (u Unit) resolve(words []string) []string {
	var out []string
	add := func(keep func(Range) bool) {
		for _, r := range u.Ranges {
			if keep(r) {
				out = addOnce(out, r.ID)
			}
		}
	}
	top := 0
	for _, r := range u.Ranges {
		top = max(top, r.Gear)
	}
	for _, w := range words {
		switch w {
		case "R", "N", "P":
			kind := map[string]string{"R": "reverse", "N": "neutral", "P": "park"}[w]
			add(func(r Range) bool { return r.Kind == kind })
		case "top":
			add(func(r Range) bool { return r.Gear == top && top > 0 && !r.Hand })
		case "high":
			add(func(r Range) bool { return r.Gear > (top+1)/2 && !r.Hand })
		case "low":
			add(func(r Range) bool { return r.Gear > 0 && r.Gear <= top/2 && !r.Hand })
		case "D":
			add(func(r Range) bool { return r.Gear == 1 && !r.Hand })
		case "forward":
			add(func(r Range) bool { return r.Gear > 0 && !r.Hand })
		default:
			if gear := gearOf(w); gear > 0 {
				add(func(r Range) bool { return r.Gear == gear && !r.Hand })
			}
		}
	}
	return out
}

// gearOf reads a gear word of the lexicon: 1 to 10.
func gearOf(w string) int {
	n := 0
	for _, c := range w {
		if c < '0' || c > '9' {
			return 0
		}
		n = n*10 + int(c-'0')
	}
	return n
}
