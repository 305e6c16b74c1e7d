package intake

import (
	"fmt"
	"slices"
	"strings"
)

// saying is a reading that an entry offers, and when.
type saying struct {
	finding, state string
	when, of       []string // conditions of which the symptom must have one; kinds of which the symptom must be that it belongs to
}

// parseSaying reads FINDING STATE, behind it "when A|B" or "of A|B".
func parseSaying(text string) (saying, error) {
	f := strings.Fields(text)
	if len(f) != 2 && (len(f) != 4 || f[2] != "when" && f[2] != "of") {
		return saying{}, fmt.Errorf("%q", text)
	}
	s := saying{finding: f[0], state: f[1]}
	if len(f) == 4 && f[2] == "when" {
		s.when = strings.Split(f[3], "|")
	} else if len(f) == 4 {
		s.of = strings.Split(f[3], "|")
	}
	return s, nil
}

// holds reports whether a reading is offered for a span.
func (y saying) holds(d *draft, s *Span) bool {
	if len(y.when) > 0 && !slices.ContainsFunc(y.when, func(w string) bool { return slices.Contains(s.When, w) }) {
		return false
	}
	return len(y.of) == 0 || s.Of >= 0 && slices.Contains(y.of, base(d.spans[s.Of].Kind)) && d.spans[s.Of].Role == Find
}

// mean fills in the readings that a span offers: of each finding the first saying whose condition holds. {range} stands for the
// range that the symptom was told of, {element} for what selects it; without one the saying is passed over.
func (d *draft) mean(s *Span) {
	switch s.Role {
	case When, Since, Often, Place, Hedge, RangeOf:
		if s.Of >= 0 && d.spans[s.Of].Role != Find {
			return // "cold it behaves" does not say that it is worse cold
		}
	}
	var sayings []string
	for _, e := range d.r.lex.entries {
		switch {
		case e.ID != s.Kind:
		case e.Role == s.Role && s.Role != Gone:
			sayings = e.Says
		case s.Role == Denied && e.Role == Find:
			sayings = e.Denied
		}
	}
	done := map[string]bool{}
	for _, text := range sayings {
		y, err := parseSaying(text)
		if err != nil || done[y.finding] || !y.holds(d, s) {
			continue
		}
		for _, finding := range d.r.unit.fill(y.finding, s.Ranges) {
			if d.r.unit.Knows == nil || d.r.unit.Knows(finding, y.state) {
				done[y.finding] = true
				s.Readings = append(s.Readings, Reading{finding, y.state})
			}
		}
	}
}

// fill puts ranges into the id of a finding; three at most, since who names more names none. {only} takes a range that was named alone.
func (u Unit) fill(finding string, ranges []string) []string {
	if !strings.Contains(finding, "{") {
		return []string{finding}
	}
	if strings.Contains(finding, "{only}") {
		if len(ranges) != 1 {
			return nil
		}
		finding = strings.ReplaceAll(finding, "{only}", "{range}")
	}
	if len(ranges) > 3 {
		return nil
	}
	var out []string
	for _, id := range ranges {
		i := slices.IndexFunc(u.Ranges, func(r Range) bool { return r.ID == id })
		f := strings.ReplaceAll(finding, "{range}", id)
		if strings.Contains(f, "{element}") {
			if i < 0 || u.Ranges[i].Element == "" {
				continue
			}
			f = strings.ReplaceAll(f, "{element}", u.Ranges[i].Element)
		}
		out = append(out, f)
	}
	return out
}
