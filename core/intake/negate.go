package intake

import (
	"slices"

	"innercompass/core/phrase"
)

// negators deny what follows them in their clause.
var negators = map[string]bool{"no": true, "not": true, "never": true, "none": true, "nothing": true, "without": true, "neither": true, "nor": true, "nobody": true}

// nearer, behind a negator, make it deny something else: "not only", "not sure", "don't know".
var nearer = map[string]bool{"only": true, "just": true, "every": true, "sure": true, "always": true, "all": true, "too": true, "least": true, "because": true, "until": true,
	"know": true, "mind": true, "care": true, "understand": true, "remember": true, "help": true, "matter": true, "doubt": true, "idea": true, "wonder": true, "surprise": true, "sooner": true, "so": true, "often": true, "like": true, "such": true, "stop": true, "stopped": true, "cease": true, "ceased": true}

// reach is how many words before a symptom a denial may stand.
const reach = 4

// deny turns symptoms that are said not to be there into denials, and drops what is said not to work well.
func (d *draft) deny() {
	lastDenied := -1 // token where the last denied symptom ends
	order := make([]int, len(d.spans))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return d.at[a].from - d.at[b].from })
	drop := make([]bool, len(d.spans))
	for _, i := range order {
		s := &d.spans[i]
		if !s.Symptom() {
			continue
		}
		listed := lastDenied >= 0 && d.listed(lastDenied, d.at[i].from)
		if !d.denied(i) && !listed {
			continue
		}
		if s.Role == Denied {
			continue
		}
		if s.Role != Find {
			drop[i] = true // "not fine" and "does not go away" say nothing certain
			continue
		}
		if d.corrected(d.at[i].to) {
			s.Sure = min(s.Sure, sureCorrect)
			continue
		}
		s.Role = Denied
		lastDenied = d.at[i].to
	}
	d.drop(drop)
}

// drop takes spans away and keeps what points at another right.
func (d *draft) drop(drop []bool) {
	place, keep := make([]int, len(d.spans)), 0
	for i := range d.spans {
		place[i] = -1
		if !drop[i] {
			place[i] = keep
			d.spans[keep], d.at[keep] = d.spans[i], d.at[i]
			keep++
		}
	}
	d.spans, d.at = d.spans[:keep], d.at[:keep]
	for i := range d.spans {
		if of := d.spans[i].Of; of >= 0 {
			d.spans[i].Of = place[of]
		}
	}
}

// denied reports whether the span of a symptom is denied by a word before or behind it.
func (d *draft) denied(i int) bool {
	at := d.at[i]
	for k := at.from - 1; k >= 0 && k >= at.from-reach; k-- {
		if d.tokens[k+1].Before >= phrase.Comma {
			break
		}
		t := d.tokens[k]
		if d.within(k, i) {
			break // it belongs to what another way of saying means
		}
		if negators[t.Text] && t.Masked&phrase.FromAll == 0 && !nearer[d.tokens[k+1].Text] {
			return true
		}
		if nearer[t.Text] && k > 0 && negators[d.tokens[k-1].Text] {
			break
		}
	}
	if at.to >= len(d.tokens) {
		return false
	}
	// "Slips? No." and "noise, none"
	t := d.tokens[at.to]
	alone := at.to+1 == len(d.tokens) || d.tokens[at.to+1].Before >= phrase.Comma
	switch t.Text {
	case "no", "none", "never", "nope":
		if !alone && t.Text == "no" && t.Before >= phrase.Comma && d.tokens[at.to-1].Question {
			return d.tokens[at.to-1].Question && d.tokens[at.to+1].Before >= phrase.Comma
		}
		return alone && (t.Before >= phrase.Comma || t.Text == "never")
	}
	return false
}

// corrected reports whether what was just denied is taken back: "no smell, well, a bit of one".
func (d *draft) corrected(i int) bool {
	return i+1 < len(d.tokens) && (d.tokens[i].Text == "well" || d.tokens[i].Text == "or" && d.tokens[i+1].Text == "hardly" || d.tokens[i].Text == "apart") && d.tokens[i].Before >= phrase.Comma
}

// negatorIn reports whether a denial stands between two tokens.
func (d *draft) negatorIn(from, to int) bool {
	return slices.ContainsFunc(d.tokens[from:to], func(t phrase.Token) bool { return negators[t.Text] })
}

// within reports whether token k lies in another symptom's span than i.
func (d *draft) within(k, i int) bool {
	for j, at := range d.at {
		if j != i && d.spans[j].Symptom() && at.from <= k && k < at.to {
			return true
		}
	}
	return false
}

// listed reports whether nothing but a list's joints stand between two tokens: "no noise, smell or leak".
func (d *draft) listed(from, to int) bool {
	if to < from || to-from > 3 {
		return false
	}
	joint := to == from && to < len(d.tokens) && d.tokens[to].Before == phrase.Comma
	for k := from; k < to; k++ {
		switch d.tokens[k].Text {
		case "or", "nor":
			joint = true
		case "any", "a", "the", "of", "even":
		default:
			return false
		}
		if d.tokens[k].Before >= phrase.Turn {
			return false
		}
	}
	return joint
}

// vanish gives what goes away the kind of the symptom that it speaks of, and drops it where there is none.
func (d *draft) vanish() {
	drop := make([]bool, len(d.spans))
	for i := range d.spans {
		drop[i] = d.spans[i].Role == Gone && !d.attach(i)
	}
	d.drop(drop)
}

// attach finds the symptom that goes: the last one before it of a kind that can go so; said first, the next one in its sentence.
func (d *draft) attach(i int) bool {
	s := &d.spans[i]
	can := kindSet(d.r.entry(Gone, s.Kind).Of)
	best := -1
	for j := range d.spans {
		o := d.spans[j]
		if o.Role != Find || len(can) > 0 && !can[base(o.Kind)] {
			continue
		}
		before := d.at[j].from < d.at[i].from
		switch {
		case best < 0:
			if before || d.at[j].from < d.around(d.at[i].from, phrase.Sentence).to {
				best = j
			}
		case before && (d.at[j].from > d.at[best].from || d.at[best].from > d.at[i].from):
			best = j
		}
	}
	if best < 0 {
		return false
	}
	s.Kind, s.Of = base(d.spans[best].Kind), best
	s.Title = d.spans[best].Title
	return true
}
