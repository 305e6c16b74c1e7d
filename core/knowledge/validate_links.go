package knowledge

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"innercompass/core/faultmap"
)

// shows checks links to findings.
func (s *validator) shows(ls []Shows, part bool) {
	for i, l := range ls {
		path := fmt.Sprintf("shows[%d]", i)
		if !s.read(path, l.sentence) {
			continue
		}
		s.strength(path, l.Strength)
		s.template(path, part, l.Finding+l.State)
		name := atFeed.ReplaceAllString(l.Finding, "{id}")
		if name == PressurePattern {
			if !slices.Contains([]string{"low-all", "high-all", "erratic"}, l.State) && !strings.HasPrefix(l.State, "low-") {
				s.bad(path, "low-all, high-all, erratic, low-{id}", "%s has no state %q", PressurePattern, l.State)
			}
			continue
		}
		found := false
		for id, f := range s.findings {
			if prefix, many := strings.CutSuffix(name, "*"); id == name || many && strings.HasPrefix(id, prefix) {
				found = true
				s.reached[id] = true
				s.state(path, f, l.State)
				if f.History {
					s.bad(path, "a finding that is not history; history goes under when", "%s goes before the causes, nothing brings it about", id)
				}
			}
		}
		if !found {
			s.bad(path, "the id of a finding", "there is no finding %q", l.Finding)
		}
	}
}

var atFeed = regexp.MustCompile(`@(\{id\}|[a-z-]+)`)

// template refuses {id} where there is no part to fill in.
func (s *validator) template(path string, part bool, text string) {
	if !part && strings.Contains(text, "{") {
		s.bad(path, "a name without braces, or an entry with for", "%q asks for a part, but the entry is for none", text)
	}
}

func (s *validator) brings(ls []Brings, part bool) {
	for i, l := range ls {
		path := fmt.Sprintf("brings[%d]", i)
		if !s.read(path, l.sentence) {
			continue
		}
		s.strength(path, l.Strength)
		s.template(path, part, l.Damage)
		name := atFeed.ReplaceAllString(l.Damage, "{id}")
		found := false
		for id := range s.damages {
			if prefix, many := strings.CutSuffix(name, "*"); id == name || many && strings.HasPrefix(id, prefix) {
				found, s.brought[id] = true, true
			}
		}
		if !found {
			s.bad(path, "the id of a damage", "there is no damage %q", l.Damage)
		}
	}
}

func (s *validator) faults(ls []FaultLink, part bool) {
	for i, l := range ls {
		path := fmt.Sprintf("faults[%d]", i)
		if !s.read(path, l.sentence) {
			continue
		}
		if !slices.Contains(faultmap.Kinds, l.Kind) {
			var names []string
			for _, k := range faultmap.Kinds {
				names = append(names, string(k))
			}
			s.bad(path, strings.Join(names, ", "), "%q is no fault of a design", l.Kind)
		}
		for _, name := range []string{l.Hot, l.Cold} {
			if _, ok := strength(name); !ok {
				s.bad(path, strengthNames(), "%q is no strength", name)
			}
		}
		if !part && l.Part == "" && !l.Kind.Whole() {
			s.bad(path, `"kind of part", with an element, a feed or a kind of element`, "%s of which part?", l.Kind)
		}
	}
}

// cycles follows what brings about what, faults of the design included, by kind.
func (s *validator) cycles() {
	next := map[string][]string{}
	place := map[string]int{}
	add := func(from string, brings []Brings, faults []FaultLink) {
		for _, l := range brings {
			name := atFeed.ReplaceAllString(l.Damage, "{id}")
			for id := range s.damages {
				if prefix, many := strings.CutSuffix(name, "*"); id == name || many && strings.HasPrefix(id, prefix) {
					next[from] = append(next[from], id)
				}
			}
		}
		for _, l := range faults {
			next[from] = append(next[from], "fault "+string(l.Kind))
		}
	}
	for i, d := range s.k.Damages {
		place[d.ID] = i
		add(d.ID, d.Brings, d.Faults)
	}
	for _, x := range s.k.Signs {
		add("fault "+string(x.Fault), x.Brings, nil)
	}
	state := map[string]int{} // 1 on the way, 2 done
	var visit func(v string, way []string)
	visit = func(v string, way []string) {
		if state[v] == 1 {
			at := slices.Index(way, v)
			s.list, s.index = "damages", place[v]
			s.bad("brings", "links that lead from causes to what they bring about, never back", "a cycle: %s", strings.Join(append(way[at:], v), " → "))
			return
		}
		if state[v] == 2 {
			return
		}
		state[v] = 1
		slices.Sort(next[v])
		for _, w := range slices.Compact(next[v]) {
			visit(w, append(slices.Clone(way), v))
		}
		state[v] = 2
	}
	for _, d := range s.k.Damages {
		visit(d.ID, nil)
	}
}

// unreached refuses what the network cannot use.
func (s *validator) unreached() {
	s.inEach("findings", len(s.k.Findings), func(i int) {
		f := s.k.Findings[i]
		if f.Members != "" {
			return
		}
		if !s.reached[f.ID] {
			s.bad("id", "a cause, damage or sign that shows it", "nothing leads to %s", f.ID)
		}
		if (f.Stage == "checks" || f.Stage == "teardown") && !s.asked[f.ID] {
			s.bad("id", "a check that yields it", "no check yields %s", f.ID)
		}
	})
	s.inEach("damages", len(s.k.Damages), func(i int) {
		if d := s.k.Damages[i]; !s.brought[d.ID] {
			s.bad("id", "a cause, damage or sign that brings it about", "nothing brings %s about", d.ID)
		}
	})
}
