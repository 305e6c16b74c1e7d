package intake

import "slices"

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
		for i := m.from; i < m.to; i++ {
			d.tokens[i].masked = true
		}
	}
	for _, m := range d.find(Quiet) {
		over := extent{m.from, m.to}
		switch d.r.lex.entries[m.pattern.entry].Of {
		case "clause":
			over = d.around(m.from, comma)
		case "after":
			over.to = d.around(m.to-1, comma).to
		case "thought":
			over = d.around(m.from, turn)
		case "sentence":
			over = d.around(m.from, sentence)
		}
		for i := over.from; i < over.to; i++ {
			d.tokens[i].noSymptom = true
		}
	}
	for _, m := range d.find(NoRange) {
		for i := m.from; i < m.to; i++ {
			d.tokens[i].noRange = true
		}
	}
	d.opinion = make([]bool, len(d.tokens))
}

// frames finds what others say, guesses and wishes. A frame that names a part or a verdict swallows the symptoms in it; one that
// does not ("my wife says it slips") leaves them.
func (d *draft) frames() []frame {
	var out []frame
	symptoms := (&matcher{tokens: d.tokens, symptoms: true}).all(d.r.lex.by[Find], d.fits)
	for _, m := range d.find(Hearsay, Guess, Wish) {
		e := d.r.lex.entries[m.pattern.entry]
		if slices.ContainsFunc(out, func(o frame) bool { return o.holds(extent{m.from, m.to}) }) {
			continue // an opinion within an opinion
		}
		if slices.ContainsFunc(symptoms, func(x match) bool { return x.from <= m.from && m.to <= x.to && x.words > m.words }) {
			continue // "needs a liter a month" asks for nothing
		}
		f := frame{extent{m.from, m.to}, e.Role, e.Role == Wish || e.Of == "always"}
		f.extent = d.stretch(e, m)
		if slices.ContainsFunc(out, func(o frame) bool { return o.overlaps(f.extent) }) {
			f.extent = extent{max(f.from, m.from), f.to} // told in the same sentence after another: from its own words on
			if k := len(out) - 1; out[k].to > f.from {
				out[k].to = f.from
			}
		}
		inner := &matcher{tokens: d.tokens}
		for _, p := range inner.all(d.r.parts, nil) {
			if f.holds(extent{p.from, p.to}) && (p.from >= m.to || p.to <= m.from) {
				f.swallows = true
			}
		}
		if e.Of == "own" { // the part is named in the way of saying itself
			f.swallows = true
		}
		if !f.swallows {
			holds := slices.ContainsFunc(symptoms, func(x match) bool { return f.holds(extent{x.from, x.to}) })
			if !holds && e.Role == Guess {
				continue // an opinion of nothing
			}
			f.swallows = !holds
		}
		if f.swallows {
			shown := m
			shown.from, shown.to = f.from, f.to
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
func (d *draft) stretch(e Entry, m match) extent {
	over := d.around(m.from, sentence)
	out := extent{m.from, over.to}
	limit := sentence
	if e.Role != Hearsay {
		limit = turn
	}
	for i := m.to; i < over.to; i++ {
		t := d.tokens[i]
		if t.before >= limit || t.before >= comma && (d.ownVoice(i) || e.Role != Hearsay && anew[t.text]) {
			out.to = i
			break
		}
	}
	clause := d.around(m.from, comma)
	if e.Role == Guess && d.tokens[m.from].before >= comma && e.Of != "back" {
		return out
	}
	back := d.around(m.from, turn)
	short := m.from-back.from <= 3 && m.from > back.from
	if m.from > clause.from { // said inside its clause: from the clause's beginning
		out.from = clause.from
	}
	if short && d.tokens[m.from].before >= comma || e.Of == "back" {
		out.from = back.from
	} else if m.to >= over.to && m.from > over.from && d.tokens[m.from].before >= comma {
		out.from = d.around(m.from-1, comma).from
	}
	return out
}

// anew are words that begin a statement of its own behind a comma, which ends a guess or a wish.
var anew = map[string]bool{"it": true, "she": true, "he": true, "they": true, "there": true, "that": true, "no": true, "not": true, "only": true, "my": true, "when": true, "if": true, "could": true, "can": true, "please": true}

// resumes are words behind "and" with which the customer goes on about the vehicle.
var resumes = map[string]bool{"i": true, "it": true, "now": true, "she": true, "since": true, "then": true, "there": true, "when": true, "still": true}

// ownVoice reports whether the customer begins to speak for himself at token i.
func (d *draft) ownVoice(i int) bool {
	switch d.tokens[i].text {
	case "i", "we", "but":
		return true
	case "and":
		return i+1 < len(d.tokens) && resumes[d.tokens[i+1].text]
	}
	return false
}

// history finds work and events. A thing told by somebody else stays in his opinion.
func (d *draft) history(frames []frame) {
	for _, m := range d.find(History) {
		at := extent{m.from, m.to}
		if slices.ContainsFunc(frames, func(f frame) bool { return f.swallows && f.overlaps(at) }) {
			continue
		}
		d.add(History, m)
		d.stories = append(d.stories, at)
	}
}
