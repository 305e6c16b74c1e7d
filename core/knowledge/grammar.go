package knowledge

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"innercompass/core/faultmap"
)

// Links are written as one sentence each, so that whoever knows the trade can read and write them:
//
//	fluid-look dark, often, because heat ages it
//
// A sentence that cannot be read keeps its text and says why in bad; Knowledge.Check reports it with its place.

// FindingState is one state with the probability that it is met whatever the cause: "dark 15%: dark".
type FindingState struct {
	ID, Title string
	Baseline  float64 // 0 for the first, which takes the rest
	sentence
}

// Frequency says how often a cause is met, against the others: "often, because heat hardens lip seals".
type Frequency struct {
	Level, Why string
	sentence
}

// Shows says that its owner brings a finding into a state: "pan-debris friction, usually, because …".
type Shows struct {
	Finding, State, Strength, Why string
	sentence
}

// Brings says that its owner brings a damage about: "plates-burnt.{id}, often, because …".
type Brings struct {
	Damage, Strength, Why string
	sentence
}

// FaultLink says which fault of the design its owner brings about, and how surely when hot and when cold:
// "slips of third, hot usually, cold sometimes, because …". Without "of" it is the template's own part, or the
// unit as a whole; "of" names an element, a feed or a kind of element.
type FaultLink struct {
	Kind           faultmap.Kind
	Part           string
	Hot, Cold, Why string
	sentence
}

// HistoryFactor says that a cause is more or less likely after something in the history: "prior-work opened, much
// likelier, because …".
type HistoryFactor struct {
	Finding, State, Factor, Why string
	sentence
}

// From is Shows written on the side of the finding: "supply-lost stored, often, because …".
type From struct {
	Node, State, Strength, Why string
	sentence
}

// sentence is the text of a link as it was written.
type sentence struct{ text, bad string }

// MarshalText returns the sentence as it was written.
func (s sentence) MarshalText() ([]byte, error) { return []byte(s.text), nil }

// String returns the sentence as it was written.
func (s sentence) String() string { return s.text }

// split takes "head, head, because why" apart.
func split(text string) (head []string, why string) {
	before, why, _ := strings.Cut(text, ", because ")
	for _, h := range strings.Split(before, ",") {
		head = append(head, strings.TrimSpace(h))
	}
	return head, strings.TrimSpace(why)
}

// words takes a head of exactly n words apart, and the why with it.
func (s *sentence) read(data, form string, heads int) (head []string, why string) {
	s.text = strings.TrimSpace(data)
	head, why = split(s.text)
	if len(head) != heads || why == "" {
		s.bad = form
		return make([]string, heads), why
	}
	return head, why
}

func (s *sentence) two(text, form string) (a, b string) {
	a, b, ok := strings.Cut(text, " ")
	if !ok || strings.Contains(b, " ") {
		s.bad = form
	}
	return a, b
}

// The forms of sentences, named in errors.
const (
	stateForm  = `"id 15%: words", the first state without a percentage`
	metForm    = `"often, because …", with one of: daily, often, sometimes, seldom, rarely, hardly`
	showsForm  = `"finding state, strength, because …"`
	bringsForm = `"damage, strength, because …"`
	faultForm  = `"kind of part, hot strength, cold strength, because …"; "of part" may be left out`
	whenForm   = `"finding state, much likelier, because …", with one of: much likelier, likelier, less likely, much less likely`
	fromForm   = `"cause-or-damage state, strength, because …"`
	failsForm  = `"cause-or-damage, because …"`
)

var stateText = regexp.MustCompile(`^([A-Za-z0-9_.-]+)(?: ([0-9.]+)%)?: (.+)$`)

// UnmarshalYAML reads a state.
func (s *FindingState) UnmarshalYAML(scan func(any) error) error {
	var data string
	if err := scan(&data); err != nil {
		return err
	}
	s.text = strings.TrimSpace(data)
	m := stateText.FindStringSubmatch(s.text)
	if m == nil {
		s.bad = stateForm
		return nil
	}
	s.ID, s.Title = m[1], m[3]
	if m[2] != "" {
		p, err := strconv.ParseFloat(m[2], 64)
		if err != nil || p > 60 {
			s.bad = stateForm + "; at most 60%"
		}
		s.Baseline = p / 100
	}
	return nil
}

// UnmarshalYAML reads how often a cause is met.
func (m *Frequency) UnmarshalYAML(scan func(any) error) error {
	var data string
	if err := scan(&data); err != nil {
		return err
	}
	head, why := m.read(data, metForm, 1)
	m.Level, m.Why = head[0], why
	return nil
}

// UnmarshalYAML reads a link to a finding.
func (l *Shows) UnmarshalYAML(scan func(any) error) error {
	var data string
	if err := scan(&data); err != nil {
		return err
	}
	head, why := l.read(data, showsForm, 2)
	l.Finding, l.State = l.two(head[0], showsForm)
	l.Strength, l.Why = head[1], why
	return nil
}

// UnmarshalYAML reads a link to a damage.
func (l *Brings) UnmarshalYAML(scan func(any) error) error {
	var data string
	if err := scan(&data); err != nil {
		return err
	}
	head, why := l.read(data, bringsForm, 2)
	l.Damage, l.Strength, l.Why = head[0], head[1], why
	return nil
}

// UnmarshalYAML reads a link to a fault of the design.
func (l *FaultLink) UnmarshalYAML(scan func(any) error) error {
	var data string
	if err := scan(&data); err != nil {
		return err
	}
	head, why := l.read(data, faultForm, 3)
	kind, part, _ := strings.Cut(head[0], " of ")
	hot, isHot := strings.CutPrefix(head[1], "hot ")
	cold, isCold := strings.CutPrefix(head[2], "cold ")
	if !isHot || !isCold {
		l.bad = faultForm
	}
	l.Kind, l.Part, l.Hot, l.Cold, l.Why = faultmap.Kind(kind), part, hot, cold, why
	return nil
}

// UnmarshalYAML reads a condition.
func (w *HistoryFactor) UnmarshalYAML(scan func(any) error) error {
	var data string
	if err := scan(&data); err != nil {
		return err
	}
	head, why := w.read(data, whenForm, 2)
	w.Finding, w.State = w.two(head[0], whenForm)
	w.Factor, w.Why = head[1], why
	return nil
}

// UnmarshalYAML reads a link written on the side of the finding.
func (f *From) UnmarshalYAML(scan func(any) error) error {
	var data string
	if err := scan(&data); err != nil {
		return err
	}
	head, why := f.read(data, fromForm, 2)
	f.Node, f.State = f.two(head[0], fromForm)
	f.Strength, f.Why = head[1], why
	return nil
}

// Cure is the chance that an option cures a cause: "piston-seal.* 93%". A name may end in an asterisk.
type Cure struct {
	Cause  string
	Chance float64
	sentence
}

var cureText = regexp.MustCompile(`^(\S+) ([0-9.]+)%$`)

// UnmarshalYAML reads a chance of cure.
func (c *Cure) UnmarshalYAML(scan func(any) error) error {
	var data string
	if err := scan(&data); err != nil {
		return err
	}
	c.text = strings.TrimSpace(data)
	m := cureText.FindStringSubmatch(c.text)
	if m == nil {
		c.bad = `"cause 93%", the cause may end in an asterisk`
		return nil
	}
	p, err := strconv.ParseFloat(m[2], 64)
	if err != nil || p > 100 {
		c.bad = fmt.Sprintf("%s%%, want 0 to 100", m[2])
	}
	c.Cause, c.Chance = m[1], p/100
	return nil
}

// FailsWith says that an option is known to fail while something is there: "plates-burnt.{id}, because …".
type FailsWith struct {
	Node, Why string
	sentence
}

// UnmarshalYAML reads with what an option is known to fail.
func (f *FailsWith) UnmarshalYAML(scan func(any) error) error {
	var data string
	if err := scan(&data); err != nil {
		return err
	}
	head, why := f.read(data, failsForm, 1)
	f.Node, f.Why = head[0], why
	return nil
}
