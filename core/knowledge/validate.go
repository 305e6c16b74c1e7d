package knowledge

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// Problem is what is wrong with an entry of the knowledge base. List and Index are its place, Path is within it.
type Problem struct {
	List             string // findings, causes, damages, signs, checks, options, cautions, schools
	Index            int
	Path             string
	Reason, Accepted string
}

func (p Problem) Error() string {
	s := fmt.Sprintf("%s[%d].%s: %s", p.List, p.Index, p.Path, p.Reason)
	if p.Accepted != "" {
		s += "; accepted: " + p.Accepted
	}
	return s
}

// Kinds are the kinds of part that a template can be for; "solenoid#2" is the second of its kind.
var Kinds = []string{"clutch", "brake", "band", "freewheel", "selector", "dry-clutch", "solenoid", "valve", "passage", "bushing", "carrier", "gears"}

// validator collects what is wrong with a knowledge base.
type validator struct {
	k        Base
	findings map[string]Finding
	causes   map[string]Cause
	damages  map[string]Damage
	cautions map[string]Caution
	reached  map[string]bool // findings that something leads to
	asked    map[string]bool // findings that a check yields
	brought  map[string]bool // damages that something brings about
	out      []Problem
	list     string
	index    int
}

// Validate returns everything that is wrong with a knowledge base by itself, whatever the unit: sentences that
// cannot be read, names that are not there, cycles, findings and causes that nothing reaches, and checks that can
// hurt without their caution.
func (k Base) Validate() []Problem {
	s := &validator{k: k, findings: map[string]Finding{}, causes: map[string]Cause{}, damages: map[string]Damage{}, cautions: map[string]Caution{}, reached: map[string]bool{}, asked: map[string]bool{}, brought: map[string]bool{}}
	s.names()
	s.inEach("findings", len(k.Findings), func(i int) { s.finding(k.Findings[i]) })
	s.inEach("causes", len(k.Causes), func(i int) { s.cause(k.Causes[i]) })
	s.inEach("damages", len(k.Damages), func(i int) { s.damage(k.Damages[i]) })
	s.inEach("signs", len(k.Signs), func(i int) { s.sign(k.Signs[i]) })
	s.inEach("checks", len(k.Checks), func(i int) { s.check(k.Checks[i]) })
	s.inEach("options", len(k.Options), func(i int) { s.option(k.Options[i]) })
	s.inEach("schools", len(k.Schools), func(i int) { s.school(k.Schools[i]) })
	s.inEach("cautions", len(k.Cautions), func(i int) {
		s.oneOf("hazard", k.Cautions[i].Hazard, []string{"high", "plain"})
		s.text("title", k.Cautions[i].Title)
		s.text("text", k.Cautions[i].Text)
	})
	s.cycles()
	s.unreached()
	return s.out
}

func (s *validator) inEach(list string, n int, f func(i int)) {
	for i := range n {
		s.list, s.index = list, i
		f(i)
	}
}

func (s *validator) bad(path, accepted, reason string, args ...any) {
	s.out = append(s.out, Problem{s.list, s.index, path, fmt.Sprintf(reason, args...), accepted})
}

func (s *validator) text(path, text string) {
	if strings.TrimSpace(text) == "" {
		s.bad(path, "some words", "empty")
	}
}

func (s *validator) oneOf(path, value string, of []string) {
	if !slices.Contains(of, value) {
		s.bad(path, strings.Join(of, ", "), "%q", value)
	}
}

func (s *validator) access(path, name string) {
	if _, err := unitsheet.ParseAccess(name); err != nil && name != "{access}" && name != moduleAccess && name != plugAccess {
		s.bad(path, strings.Join(unitsheet.AccessNames, ", "), "%q is no access level", name)
	}
}

func (s *validator) kinds(kinds []string) {
	for i, kind := range kinds {
		base, _, _ := strings.Cut(kind, "#")
		s.oneOf(fmt.Sprintf("for[%d]", i), base, Kinds)
	}
}

func (s *validator) read(path string, t sentence) bool {
	if t.bad != "" {
		s.bad(path, t.bad, "cannot be read: %q", t.text)
	}
	return t.bad == ""
}

func (s *validator) strength(path, name string) {
	if p, ok := strength(name); !ok || p == 0 {
		s.bad(path, strings.TrimSuffix(strengthNames(), ", never"), "%q is no strength of a link", name)
	}
}

var idText = regexp.MustCompile(`^[A-Za-z0-9][A-Za-z0-9._{}-]*$`)

func (s *validator) names() {
	seen := map[string]string{}
	once := func(list string, i int, id string) {
		s.list, s.index = list, i
		switch at, ok := seen[list+id]; {
		case !idText.MatchString(id):
			s.bad("id", "letters, digits, dots and dashes; {id} in a template", "%q", id)
		case ok:
			s.bad("id", "each id once", "%q is there already, at %s", id, at)
		}
		seen[list+id] = fmt.Sprintf("%s[%d]", list, i)
	}
	for i, x := range s.k.Findings {
		once("findings", i, x.ID)
		s.findings[x.ID] = x
	}
	for i, x := range s.k.Causes {
		once("causes", i, x.ID)
		s.causes[x.ID] = x
	}
	for i, x := range s.k.Damages {
		once("damages", i, x.ID)
		if _, ok := s.causes[x.ID]; ok {
			s.bad("id", "another id", "a cause has the id %q already", x.ID)
		}
		s.damages[x.ID] = x
	}
	for i, x := range s.k.Checks {
		once("checks", i, x.ID)
	}
	for i, x := range s.k.Options {
		once("options", i, x.ID)
	}
	for i, x := range s.k.Schools {
		once("schools", i, x.ID)
	}
	for i, x := range s.k.Cautions {
		once("cautions", i, x.ID)
		s.cautions[x.ID] = x
	}
}

func (s *validator) finding(f Finding) {
	s.text("title", f.Title)
	s.oneOf("stage", f.Stage, Stages)
	s.kinds(f.For)
	if len(f.States) < 2 && f.Stage != "code" {
		s.bad("states", "two or more, the normal one first", "%d states", len(f.States))
	}
	total := 0.0
	for i, st := range f.States {
		path := fmt.Sprintf("states[%d]", i)
		if !s.read(path, st.sentence) {
			continue
		}
		total += st.Baseline
		if i == 0 && st.Baseline > 0 || i > 0 && st.Baseline <= 0 {
			s.bad(path, stateForm, "the first state takes what the others leave; each other one is met now and then whatever the cause")
		}
	}
	if total > 0.75 {
		s.bad("states", "75% at most", "abnormal states are met in %.0f%% whatever the cause", 100*total)
	}
	for i, l := range f.From {
		path := fmt.Sprintf("from[%d]", i)
		if s.read(path, l.sentence) {
			s.strength(path, l.Strength)
			if _, isCause := s.causes[l.Node]; !isCause && !s.anyNamed(l.Node) {
				s.bad(path, "the id of a cause or damage", "there is no cause or damage %q", l.Node)
			}
			s.state(path, f, l.State)
			s.reached[f.ID] = true
		}
	}
	if f.Gear != "" {
		s.reached[f.ID] = true
	}
	if f.Several && !f.History {
		s.bad("several", "history: true", "only what goes before the causes can have several states at once")
	}
	for i, id := range f.Plain {
		if stateIndex(f.States, id) < 0 {
			s.bad(fmt.Sprintf("plain[%d]", i), f.StateIDs(), "finding %s has no state %q", f.ID, id)
		}
	}
	switch asked := strings.HasSuffix(f.Ask, "?"); {
	case f.Ask != "" && (!asked || f.Stage != "complaint"):
		s.bad("ask", "a question, of a finding that a customer tells", "%q", f.Ask)
	case f.Ask == "" && f.Stage == "complaint" && f.ID != Purpose:
		s.bad("ask", "how the customer is asked: \"How did it begin?\"", "no question")
	}
	if f.Ask != "" || f.About != "" {
		s.oneOf("about", f.About, Abouts)
	}
}

// anyNamed reports whether a name, or its beginning before an asterisk, belongs to a cause or damage.
func (s *validator) anyNamed(name string) bool {
	prefix, many := strings.CutSuffix(name, "*")
	for id := range s.causes {
		if many && strings.HasPrefix(id, prefix) {
			return true
		}
	}
	for id := range s.damages {
		if id == name || many && strings.HasPrefix(id, prefix) {
			return true
		}
	}
	return false
}

func (s *validator) state(path string, f Finding, id string) {
	states := f.States
	if len(states) == 0 {
		states = codeStates
	}
	switch i := stateIndex(states, id); {
	case i < 0:
		s.bad(path, Finding{States: states}.StateIDs(), "finding %s has no state %q", f.ID, id)
	case i == 0:
		s.bad(path, "an abnormal state; what is normal needs no link", "%q is the normal state of %s", id, f.ID)
	}
}

func (s *validator) cause(c Cause) {
	s.text("title", c.Title)
	s.kinds(c.For)
	s.oneOf("system", c.System, Systems)
	if s.read("met", c.Met.sentence) {
		if _, ok := level(c.Met.Level); !ok {
			s.bad("met", metForm, "%q", c.Met.Level)
		}
	}
	if c.Ages != "" {
		s.oneOf("ages", c.Ages, Ageings)
	}
	for i, w := range c.When {
		path := fmt.Sprintf("when[%d]", i)
		if !s.read(path, w.sentence) {
			continue
		}
		f, ok := s.findings[w.Finding]
		switch {
		case !ok:
			s.bad(path, "the id of a finding", "there is no finding %q", w.Finding)
			continue
		case !f.History:
			s.bad(path, "a finding that is history", "%s is brought about, it does not go before", w.Finding)
		}
		if stateIndex(f.States, w.State) < 0 {
			s.bad(path, f.StateIDs(), "finding %s has no state %q", f.ID, w.State)
		}
		if Factors[w.Factor] == 0 {
			s.bad(path, whenForm, "%q", w.Factor)
		}
		s.reached[f.ID] = true
	}
	s.links(c.ID, c.For, c.Faults, c.Brings, c.Shows)
	s.repair(c.Repair)
}

// links checks the links of a cause or damage, and that there is at least one: what shows nothing can never be
// suspected.
func (s *validator) links(id string, kinds []string, faults []FaultLink, brings []Brings, shows []Shows) {
	s.shows(shows, len(kinds) > 0)
	s.brings(brings, len(kinds) > 0)
	s.faults(faults, len(kinds) > 0)
	fromSide := slices.ContainsFunc(s.k.Findings, func(f Finding) bool {
		return slices.ContainsFunc(f.From, func(l From) bool {
			return l.Node == id || strings.HasSuffix(l.Node, "*") && strings.HasPrefix(id, strings.TrimSuffix(l.Node, "*"))
		})
	})
	if len(shows)+len(brings)+len(faults) == 0 && !fromSide {
		s.bad("shows", "at least one of shows, brings, faults", "it shows nothing, so that nothing can lead to it")
	}
}

func (s *validator) repair(r Repair) {
	s.access("repair.access", r.Access)
	if !(r.Hours >= 0 && r.Parts >= 0) {
		s.bad("repair", "0 or more", "hours %v, parts %v", r.Hours, r.Parts)
	}
}

func (s *validator) damage(d Damage) {
	s.text("title", d.Title)
	s.kinds(d.For)
	s.oneOf("system", d.System, Systems)
	s.links(d.ID, d.For, d.Faults, d.Brings, d.Shows)
	s.repair(d.Repair)
}

func (s *validator) sign(x Sign) {
	if !slices.Contains(faultmap.Kinds, x.Fault) {
		s.bad("fault", "a kind of fault of the design", "%q", x.Fault)
	}
	s.kinds(x.For)
	s.shows(x.Shows, !x.Fault.Whole())
	s.brings(x.Brings, !x.Fault.Whole())
}

func (s *validator) check(c Check) {
	s.text("title", c.Title)
	s.text("tells", c.Tells)
	s.kinds(c.For)
	s.access("access", c.Access)
	if c.Until != "" {
		s.access("until", c.Until)
	}
	if !(c.Minutes > 0) {
		s.bad("minutes", "more than 0", "%v", c.Minutes)
	}
	if len(c.Steps) == 0 {
		s.bad("steps", "what to do, step by step", "none")
	}
	if c.Fluid != "" {
		s.oneOf("fluid", c.Fluid, []string{"hot", "cold"})
	}
	if len(c.Yields) == 0 {
		s.bad("yields", "at least one finding", "none")
	}
	for i, y := range slices.Concat(c.Yields, c.First) {
		path := fmt.Sprintf("yields[%d]", i)
		if i >= len(c.Yields) {
			path = fmt.Sprintf("first[%d]", i-len(c.Yields))
		}
		s.template(path, len(c.For) > 0, y)
		if _, ok := s.findings[y]; !ok && !slices.Contains(made, y) {
			s.bad(path, "the id of a finding", "there is no finding %q", y)
		}
		s.asked[y] = true
	}
	for i, id := range c.Caution {
		if _, ok := s.cautions[id]; !ok {
			s.bad(fmt.Sprintf("cautions[%d]", i), "the id of a caution", "there is no caution %q", id)
		}
	}
	if c.School != "" && !slices.ContainsFunc(s.k.Schools, func(x Controversy) bool { return x.ID == c.School }) {
		s.bad("school", "the id of a school", "there is no school %q", c.School)
	}
	s.hazards(c)
}

// hazards refuses a check that can hurt without its caution.
func (s *validator) hazards(c Check) {
	text := strings.ToLower(c.Title + ". " + strings.Join(c.Steps, " "))
	for _, k := range s.k.Cautions {
		if slices.Contains(c.Caution, k.ID) {
			continue
		}
		if slices.Contains(k.At, c.Access) {
			s.bad("cautions", "cautions: ["+k.ID+"]", "done at %s, it can hurt and lacks the caution %s", c.Access, k.ID)
			continue
		}
		for _, w := range k.Words {
			if strings.Contains(text, strings.ToLower(w)) {
				s.bad("cautions", "cautions: ["+k.ID+"]", "with %q in its steps it can hurt and lacks the caution %s", w, k.ID)
				break
			}
		}
	}
}

func (s *validator) option(o Option) {
	s.text("title", o.Title)
	s.kinds(o.For)
	s.access("access", o.Access)
	s.oneOf("occasion", o.Occasion, []string{"", Preventive})
	s.oneOf("school", o.Strategy, []string{"targeted", "thorough", "exchange", "watch"})
	s.oneOf("fluid", o.Fluid, []string{"none", "refill", "fill"})
	for i, q := range o.Qualities {
		s.oneOf(fmt.Sprintf("qualities[%d]", i), q, []string{"new", "rebuilt", "used", "kit"})
	}
	for field, v := range map[string]float64{"machine": o.Machine, "calibration": o.Calibration} {
		if v < 0 {
			s.bad(field, "0 or more", "%v", v)
		}
	}
	for i, x := range o.Fails {
		path := fmt.Sprintf("fails[%d]", i)
		if _, isCause := s.causes[x.Node]; s.read(path, x.sentence) && !isCause && !s.anyNamed(x.Node) {
			s.bad(path, "the id of a cause or damage", "there is no cause or damage %q", x.Node)
		}
	}
	for i, c := range o.Cures {
		path := fmt.Sprintf("cures[%d]", i)
		if s.read(path, c.sentence) && c.Cause != "*" {
			_, isCause := s.causes[c.Cause]
			if !isCause && !s.anyNamed(c.Cause) && !s.anyNamed(c.Cause[:strings.LastIndexAny(c.Cause+".", ".")]+".*") {
				s.bad(path, "the id of a cause or damage; it may end in an asterisk", "there is no cause %q", c.Cause)
			}
		}
	}
}

func (s *validator) school(x Controversy) {
	s.text("question", x.Question)
	s.text("follows", x.Follows)
	if len(x.Sides) < 2 {
		s.bad("sides", "two or more", "%d", len(x.Sides))
	}
}
