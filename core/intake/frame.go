package intake

import (
	"slices"

	"innercompass/core/phrase"
)

// frame is a stretch that tells somebody's opinion or wish.
type frame struct {
	extent
	role     Role
	swallows bool // its symptoms belong to the opinion: they are none
}

// mask takes idioms away. Of an entry of the role quiet, "clause" takes its whole clause from the symptoms, "after" what follows
// in it, "sentence" the whole sentence.
func (d *draft) mask() {
	for _, m := range d.find(Mask) {
		for i := m.From; i < m.To; i++ {
			d.tokens[i].Masked |= phrase.FromAll
		}
	}
	for _, m := range d.find(Quiet) {
		over := extent{m.From, m.To}
		switch d.r.lex.entries[m.Pattern.Entry].Of {
		case "clause":
			over = d.around(m.From, phrase.Comma)
		case "after":
			over.to = d.around(m.To-1, phrase.Comma).to
		case "thought":
			over = d.around(m.From, phrase.Turn)
		case "sentence":
			over = d.around(m.From, phrase.Sentence)
		}
		for i := over.from; i < over.to; i++ {
			d.tokens[i].Masked |= phrase.FromSymptoms
		}
	}
	for _, m := range d.find(NoRange) {
		for i := m.From; i < m.To; i++ {
			d.tokens[i].Masked |= phrase.FromRanges
		}
	}
	d.opinion = make([]bool, len(d.tokens))
}

// frames finds what others say, guesses and wishes. A frame that names a part or a verdict swallows the symptoms in it; one that
// does not ("my wife says it slips") leaves them.
func (d *draft) frames() []frame {
	var out []frame
	symptoms := d.matches(Find)
	for _, m := range d.find(Hearsay, Guess, Wish) {
		e := d.r.lex.entries[m.Pattern.Entry]
		if slices.ContainsFunc(out, func(o frame) bool { return o.holds(extent{m.From, m.To}) }) {
			continue // an opinion within an opinion
		}
		if slices.ContainsFunc(symptoms, func(x phrase.Match) bool { return x.From <= m.From && m.To <= x.To && x.Words > m.Words }) {
			continue // "needs a liter a month" asks for nothing
		}
		f := frame{extent{m.From, m.To}, e.Role, e.Role == Wish || e.Of == "always"}
		f.extent = d.stretch(e, m)
		if slices.ContainsFunc(out, func(o frame) bool { return o.overlaps(f.extent) }) {
			f.extent = extent{max(f.from, m.From), f.to} // told in the same sentence after another: from its own words on
			if k := len(out) - 1; out[k].to > f.from {
				out[k].to = f.from
			}
		}
		inner := &phrase.Matcher{Tokens: d.tokens, Respects: phrase.FromAll}
		for _, p := range inner.All(d.r.lex.parts, nil) {
			if f.holds(extent{p.From, p.To}) && (p.From >= m.To || p.To <= m.From) {
				f.swallows = true
			}
		}
		if !f.swallows {
			holds := slices.ContainsFunc(symptoms, func(x phrase.Match) bool { return f.holds(extent{x.From, x.To}) })
			if !holds && e.Role == Guess {
				continue // an opinion of nothing
			}
			f.swallows = !holds
		}
		if f.swallows {
			shown := m
			shown.From, shown.To = f.from, f.to
			d.add(e.Role, shown)
			for i := f.from; i < f.to; i++ {
				d.opinion[i] = true
			}
		}
		out = append(out, f)
	}
	return out
}

// stretch is how far an opinion reaches: to the end of the sentence, or until the customer speaks for himself again; said after
// its content ("…, the garage believes"), it reaches back.
func (d *draft) stretch(e Entry, m phrase.Match) extent {
	over := d.around(m.From, phrase.Sentence)
	out := extent{m.From, over.to}
	limit := phrase.Sentence
	if e.Role != Hearsay {
		limit = phrase.Turn
	}
	for i := m.To; i < over.to; i++ {
		t := d.tokens[i]
		if t.Before >= limit || t.Before >= phrase.Comma && (d.ownVoice(i) || e.Role != Hearsay && anew[t.Text]) {
			out.to = i
			break
		}
	}
	clause := d.around(m.From, phrase.Comma)
	if e.Role == Guess && d.tokens[m.From].Before >= phrase.Comma && e.Of != "back" {
		return out
	}
	back := d.around(m.From, phrase.Turn)
	short := m.From-back.from <= 3 && m.From > back.from
	if m.From > clause.from { // said inside its clause: from the clause's beginning
		out.from = clause.from
	}
	if short && d.tokens[m.From].Before >= phrase.Comma || e.Of == "back" {
		out.from = back.from
	} else if m.To >= over.to && m.From > over.from && d.tokens[m.From].Before >= phrase.Comma {
		out.from = d.around(m.From-1, phrase.Comma).from
	}
	return out
}

// anew are words that begin a statement of its own behind a comma, which ends a guess or a wish.
var anew = map[string]bool{"it": true, "she": true, "he": true, "they": true, "there": true, "that": true, "no": true, "not": true, "only": true, "my": true, "when": true, "if": true, "could": true, "can": true, "please": true}

// resumes are words behind "and" with which the customer goes on about the vehicle.
var resumes = map[string]bool{"i": true, "it": true, "now": true, "she": true, "since": true, "then": true, "there": true, "when": true, "still": true}

// ownVoice reports whether the customer begins to speak for himself at token i.
func (d *draft) ownVoice(i int) bool {
	switch d.tokens[i].Text {
	case "i", "we", "but":
		return true
	case "and":
		return i+1 < len(d.tokens) && resumes[d.tokens[i+1].Text]
	}
	return false
}

// history finds work and events. A thing told by somebody else stays in his opinion.
func (d *draft) history(frames []frame) {
	for _, m := range d.find(History) {
		at := extent{m.From, m.To}
		if slices.ContainsFunc(frames, func(f frame) bool { return f.swallows && f.overlaps(at) }) {
			continue
		}
		d.add(History, m)
		d.stories = append(d.stories, at)
	}
}
